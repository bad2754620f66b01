"""A list of thirty spools is pasted, looked at, put right and added in the browser."""

import re
from datetime import timedelta

from django.utils import timezone
from playwright.sync_api import expect

from darre.inventory.models import EmptySpool, Spool
from darre.runs.models import Run, Weighing
from e2e.browser import BrowserCase


class ManyAtOnce(BrowserCase):
    def test_thirty_spools_go_from_a_pasted_table_to_the_rack(self):
        rows = "".join(f"Batch {n:02},{'PETG' if n % 2 else 'PLA'},{950 + n}\n" for n in range(30))
        self.open("/")
        self.page.get_by_role("link", name="many at once").click()
        self.heading(re.compile("^Paste your list"))
        self.scan()
        table = self.page.get_by_label("A table with a head row")
        table.fill("Spool,Polymer,Weight\n" + rows + "Batch 07,PLA,1000\nOdd one,granite,1000\n")
        self.heading("30 spools can be added; two cannot yet.")
        expect(self.page.get_by_text("There is a spool named Batch 07 already.")).to_be_visible()
        expect(self.page.get_by_text("“granite” is no material that is known here.")).to_be_visible()
        self.scan()
        self.page.get_by_role("button", name="Add 30 spools").click()
        expect(self.page.get_by_text("Added 30 spools.")).to_be_visible()
        self.page.get_by_label("Find a spool").fill("Batch 0")
        expect(self.page.get_by_role("link", name="Batch 05", exact=True)).to_be_visible()
        self.assertEqual(Spool.objects.filter(name__startswith="Batch").count(), 30)
        self.open("/history")
        self.page.get_by_role("button", name="Undo: Added 30 spools").click()
        expect(self.page.get_by_text("Undone: Added 30 spools")).to_be_visible()
        self.assertEqual(Spool.objects.filter(name__startswith="Batch").count(), 0)

    def test_a_column_that_was_guessed_wrong_is_put_right(self):
        self.open("/spools/import")
        self.page.get_by_label("A table with a head row").fill("Polymer,Where\nPLA,North lamp\n")
        self.heading(re.compile("cannot yet"))
        self.page.get_by_role("button", name=re.compile("^Where")).click()
        self.page.get_by_role("option", name="name", exact=True).click()
        self.heading("One spool can be added.")

    def test_a_list_of_weighings_goes_from_a_pasted_table_to_the_spool_and_back_out(self):
        before = Weighing.objects.count()
        self.open("/spools/import")
        self.page.get_by_role("link", name="weighings", exact=True).click()
        self.heading(re.compile("^Paste what you have weighed so far"))
        first = timezone.now() - timedelta(days=60)
        days = [f"{first + timedelta(days=9 * n):%d/%m/%Y}" for n in range(4)]
        masses = ("1190,0", "1011,4", "1100", "1010,9")
        rows = "".join(f"{day}\tRain gauge\t{mass}\n" for day, mass in zip(days, masses, strict=True))
        self.page.get_by_label("A table with a head row").fill("Date\tSpool\tWeight\n" + rows)
        self.heading("Three weighings of one spool can be added; one cannot yet.")
        expect(
            self.page.get_by_text(re.compile("It gained 88.6 g since .*; water can explain at most"))
        ).to_be_visible()
        expect(self.page.get_by_role("button", name=re.compile("Weighed on.*Bench scale"))).to_be_visible()
        expect(self.page.get_by_role("cell", name="178.6 g")).to_be_visible()
        self.scan()
        self.page.get_by_role("button", name="Add 3 weighings").click()
        expect(self.page.get_by_text("Added 3 weighings.")).to_be_visible()
        self.assertEqual(Weighing.objects.count(), before + 3)
        self.page.get_by_role("button", name="Undo", exact=True).click()
        expect(self.page.get_by_text("Taken back.")).to_be_visible()
        self.assertEqual(Weighing.objects.count(), before)

    def test_past_runs_go_from_a_pasted_table_to_the_list_of_runs_and_back_out(self):
        before = Run.objects.count()
        self.open("/runs")
        self.page.get_by_role("link", name="Add past runs from a table").click()
        self.heading(re.compile("^Paste what you have dried so far"))
        first = timezone.now() - timedelta(days=60)
        days = [f"{first + timedelta(days=9 * n):%d.%m.%Y} 18:30" for n in range(3)]
        dryers = ("Cellar box", "Blue box", "Cellar box")
        rows = "".join(
            f"{day}\tHinge stock\t{dryer}\t70\t8\t1090,4\t1088,1\n" for day, dryer in zip(days, dryers, strict=True)
        )
        self.page.get_by_label("A table with a head row").fill(
            "Date\tSpool\tDryer\tTemp\tHours\tBefore\tAfter\n" + rows
        )
        self.heading("Two runs can be added; one cannot yet.")
        expect(self.page.get_by_text("There is no dryer named Blue box.")).to_be_visible()
        self.scan()
        self.page.get_by_role("button", name="Add 2 runs").click()
        expect(self.page.get_by_text("Added 2 past runs.")).to_be_visible()
        self.assertEqual(Run.objects.count(), before + 2)
        self.page.get_by_role("button", name="Undo", exact=True).click()
        expect(self.page.get_by_text("Taken back.")).to_be_visible()
        self.assertEqual(Run.objects.count(), before)

    def test_a_shared_list_of_empty_spools_is_taken_over_and_the_own_one_comes_in_elsewhere(self):
        self.open("/kit")
        self.page.get_by_role("link", name="What empty spools weigh").click()
        self.heading("The mass of three of seven empty spools is known.")
        pasted = self.page.get_by_label("A table with a head row")
        pasted.fill("Make\tWeight\tMaterial\nGrey ring, 1 kg\t212,4\tpolystyrene\nOdd one\t180\tglass\n")
        self.heading("One empty mass can be taken over; one cannot yet.")
        expect(self.page.get_by_text("“glass” is nothing that spools are made of.")).to_be_visible()
        self.scan()
        self.page.get_by_role("button", name="Take over 1").click()
        expect(self.page.get_by_text("Took over 1 empty mass.")).to_be_visible()
        row = self.page.get_by_role("list", name="Empty spools").get_by_role("listitem").filter(has_text="Grey ring")
        expect(row).to_contain_text("by a list")
        self.scan()
        with self.page.expect_download() as shared:
            self.page.get_by_role("button", name="CSV").click()
        EmptySpool.objects.filter(name="Grey ring, 1 kg").delete()  # as in another workshop
        pasted.fill(shared.value.path().read_text("utf-8"))
        self.page.get_by_role("button", name="Take over 4").click()
        expect(row).to_contain_text("by a list")
        self.assertEqual(EmptySpool.objects.get(name="Grey ring, 1 kg").listed_g, 212.4)

    def test_another_spool_like_one_is_added_in_three_keystrokes(self):
        gears = Spool.objects.get(name="Gear stock")
        self.open(f"/spools/{gears.pk}")
        self.page.get_by_role("button", name="add another like this").click()
        slip = self.page.get_by_role("dialog", name="Another like Gear stock")
        expect(slip.get_by_label("Name")).to_have_value("Gear stock 2")
        self.scan()
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_text("Added Gear stock 2.")).to_be_visible()
        added = Spool.objects.get(name="Gear stock 2")
        for fact in ("material", "colour", "maker", "purpose", "empty_spool_id", "strand_diameter_mm"):
            self.assertEqual(getattr(added, fact), getattr(gears, fact), fact)
        self.assertEqual(added.tare_method, "twin")  # as the empty spool of its make was weighed
