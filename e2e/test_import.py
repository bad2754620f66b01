"""A list of sixty spools is pasted, looked at, put right and added in the browser."""

import re

from playwright.sync_api import expect

from darre.inventory.models import Spool
from e2e.browser import BrowserCase


class ManyAtOnce(BrowserCase):
    def test_sixty_spools_go_from_a_pasted_table_to_the_rack(self):
        rows = "".join(f"Batch {n:02},{'PETG' if n % 2 else 'PLA'},{950 + n}\n" for n in range(60))
        self.open("/")
        self.page.get_by_role("link", name="many at once").click()
        self.heading(re.compile("^Paste your list"))
        self.scan()
        table = self.page.get_by_label("A table with a head row")
        table.fill("Spool,Polymer,Weight\n" + rows + "Batch 07,PLA,1000\nOdd one,granite,1000\n")
        self.heading("60 spools can be added; two cannot yet.")
        expect(self.page.get_by_text("There is a spool named Batch 07 already.")).to_be_visible()
        expect(self.page.get_by_text("“granite” is no material that is known here.")).to_be_visible()
        self.scan()
        self.page.get_by_role("button", name="Add 60 spools").click()
        expect(self.page.get_by_text("Added 60 spools.")).to_be_visible()
        self.page.get_by_label("Find a spool").fill("Batch 0")
        expect(self.page.get_by_role("link", name="Batch 05", exact=True)).to_be_visible()
        self.assertEqual(Spool.objects.filter(name__startswith="Batch").count(), 60)
        self.open("/history")
        self.page.get_by_role("button", name="Undo: Added 60 spools").click()
        expect(self.page.get_by_text("Undone: Added 60 spools")).to_be_visible()
        self.assertEqual(Spool.objects.filter(name__startswith="Batch").count(), 0)

    def test_a_column_that_was_guessed_wrong_is_put_right(self):
        self.open("/spools/import")
        self.page.get_by_label("A table with a head row").fill("Polymer,Where\nPLA,North lamp\n")
        self.heading(re.compile("cannot yet"))
        self.page.get_by_role("button", name=re.compile("^Where")).click()
        self.page.get_by_role("option", name="name", exact=True).click()
        self.heading("One spool can be added.")
