"""The data package from the command line, as `make export` and `make import` do it."""

import io
import tempfile
from pathlib import Path
from unittest.mock import patch

from django.core.management import call_command
from django.core.management.base import CommandError
from django.test import TestCase

from darre.demo.tests.fresh import load_demo_world
from darre.exchange.tables import tables
from darre.inventory.models import Spool


class Commands(TestCase):
    @classmethod
    def setUpTestData(cls):
        load_demo_world(cls)

    def setUp(self):
        self.file = Path(self.enterContext(tempfile.TemporaryDirectory())) / "darre.zip"
        # The tables of a test are made from the models: there is nothing to migrate.
        self.enterContext(patch("darre.exchange.management.commands.import_package.call_command"))

    def run_it(self, *words):
        out = io.StringIO()
        call_command(*words, stdout=out)
        return out.getvalue()

    def test_written_and_brought_in_again(self):
        self.assertIn("Wrote", self.run_it("export_package", str(self.file)))
        with self.assertRaisesMessage(CommandError, "comes into an empty workshop"):
            self.run_it("import_package", str(self.file))
        for table in reversed(tables()):
            table.model._base_manager.all().delete()
        self.assertRegex(self.run_it("import_package", str(self.file)), r"Brought in \d{4} records")
        self.assertEqual(Spool.objects.count(), 11)

    def test_an_older_database_is_not_written_half(self):
        behind = patch("darre.exchange.management.commands.export_package.is_behind", lambda: True)
        with behind, self.assertRaisesMessage(CommandError, "of an older version"):
            self.run_it("export_package", str(self.file))
        self.assertFalse(self.file.exists())

    def test_a_file_that_is_not_there_is_said(self):
        for table in reversed(tables()):
            table.model._base_manager.all().delete()
        with self.assertRaisesMessage(CommandError, "no data package"):
            self.run_it("import_package", str(self.file))
