"""A short run of what `make chaos` does at length, and that its counting finds what it is to find."""

import io
import sqlite3
from contextlib import closing, redirect_stdout
from unittest import TestCase, mock

from tools import chaos


class Chaos(TestCase):
    def test_after_kills_nothing_is_lost_double_or_half_and_what_is_missing_would_be_counted(self):
        told = chaos.Told()
        with mock.patch.object(chaos, "Told", return_value=told):
            found = chaos.chaos(kills=3)
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
