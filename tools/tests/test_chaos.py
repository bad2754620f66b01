"""A short run of what `make chaos` does at length, and that its counting finds what it is to find."""

import io
import sqlite3
import tempfile
from contextlib import closing, redirect_stdout
from pathlib import Path
from unittest import TestCase, mock

from django.contrib.auth.hashers import make_password
from django.test import override_settings

from tools import chaos, chaos_doors


class Chaos(TestCase):
    begins_first = True

    def test_after_kills_nothing_is_lost_double_or_half_and_what_is_missing_would_be_counted(self):
        told = chaos.Told()
        with mock.patch.object(chaos, "Told", return_value=told):
            found = chaos.chaos(kills=2)
        self.assertEqual({name: found[name] for name, _ in chaos.WRONG if found[name]}, {})
        self.assertGreater(found["acts"], 20)
        self.assertGreater(found["kinds"], 5)
        sure = told.stands - set(told.perhaps.elements())
        coils = {mark for mark in sure if mark.kind == "coil"}
        told.gone.add(next(iter(sure - coils)))
        told.stands.update(chaos.Mark(kind, "never stored") for kind in chaos.FOUND_BY)
        with closing(sqlite3.connect(chaos.VAR / chaos.NAME)) as db, db:
            db.execute("UPDATE runs_weighing SET gross_g = gross_g + 1 WHERE id = 1")
            db.execute("DELETE FROM inventory_coil")
        with redirect_stdout(io.StringIO()) as said:
            again = chaos.counted(told)
        self.assertIn("never stored", said.getvalue())
        self.assertEqual((again["lost"], again["there"]), (len(chaos.FOUND_BY) + len(coils), 1))
        self.assertGreater(again["half"], 1)


class Doors(TestCase):
    """What is counted of people who sign in: each fault on its own."""

    def setUp(self):
        self.enterContext(
            override_settings(PASSWORD_HASHERS=["django.contrib.auth.hashers.MD5PasswordHasher"])
        )  # quick

    def counted(self, told, alive=()):
        folder = self.enterContext(tempfile.TemporaryDirectory())
        database = Path(folder) / "own.sqlite3"
        with closing(sqlite3.connect(database)) as db, db:
            db.execute("CREATE TABLE accounts_account (name, password)")
            db.execute("CREATE TABLE places_place (name)")
            db.execute("CREATE TABLE history_historyentry (kind, summary, by)")
            db.execute("INSERT INTO accounts_account VALUES ('Ann', ?)", [make_password("a dry night")])
            db.execute("INSERT INTO places_place VALUES ('Bench')")
            db.execute("INSERT INTO history_historyentry VALUES ('place.added', 'Added Bench', 'Ann')")

        def ask(browser, method, path):
            return 200, {"signed_in": browser.cookies["is"] in alive}

        with mock.patch.object(chaos_doors.Browser, "ask", ask):
            found = chaos_doors.counted(told, database)
        return {name: found[name] for name in chaos_doors.WRONG if found[name]}

    def test_each_fault_is_counted_and_nothing_where_all_is_well(self):
        ann = chaos_doors.Browser({"is": "ann"})
        for told, alive, faults in (
            ({"passwords": {"Ann": {"a dry night"}}, "wrote": {"Bench": "Ann"}, "inside": {"Ann": ann}}, ("ann",), {}),
            ({"passwords": {"Ann": {"a wet night", ""}}}, (), {"lost": 1}),
            ({"passwords": {"Bob": {"a dry night"}}}, (), {"lost": 1}),
            ({"inside": {"Ann": ann}}, (), {"lost": 1}),
            ({"outside": {"Ann": ann}}, ("ann",), {"alive": 1}),
            ({"wrote": {"Bench": "Bob"}}, (), {"half": 1}),
            ({"wrote": {"Shelf": "Ann"}}, (), {"lost": 1, "half": 1}),
        ):
            with self.subTest(told=told):
                self.assertEqual(self.counted(chaos_doors.Told(**told), alive), faults)
