"""A shared list of what empty spools weigh: read as people write it, counted from at once, undone as one."""

from django.test import TestCase

from darre.demo.tests.fresh import load_demo_world
from darre.history.models import HistoryEntry
from darre.inventory.models import EmptySpool, Spool
from darre.runs.empty_table import read_empty_spools
from darre.runs.models import Run, Weighing

SHARED = "name,kind,empty_g,plus_minus_g,weighed,outer_diameter_mm,width_mm,hub_diameter_mm"
"""The heads of the table that the page saves."""


def said(row):
    return "".join(part["text"] for part in row["problem"])


class EmptySpools(TestCase):
    @classmethod
    def setUpTestData(cls):
        load_demo_world(cls)
        cls.make = EmptySpool.objects.create(name="Grey ring", kind="polystyrene")

    def post(self, text, look=False, **more):
        path = f"/api/empty-spools/table/{'look/' if look else ''}"
        return self.client.post(path, {"text": text, **more}, content_type="application/json")

    def new_spool(self, **more):
        body = {"name": "Ring one", "material": "petg", "empty_spool": self.make.pk, "place": 1} | more
        return Spool.objects.get(
            pk=self.client.post("/api/spools/", body, content_type="application/json").json()["id"]
        )

    def state(self):
        return [sorted(map(repr, m.objects.values_list())) for m in (EmptySpool, Spool, Weighing, Run)]

    def test_heads_are_taken_as_people_write_them_and_as_the_page_saves_them(self):
        for text in (
            f"{SHARED}\nBlue ring,petg,212.4,25.5,1,198,65,92",
            "Make\tWeight (g)\tMaterial\tDiameter\tWidth\tHub\nBlue ring\t0,2124 kg\tPETG\t198\t65\t92",
        ):
            [row] = read_empty_spools(text).rows
            self.assertEqual(
                (row.problem, row.name, row.kind, round(row.listed_g, 6)), ("", "Blue ring", "petg", 212.4)
            )
            self.assertEqual(row.sizes, {"outer_diameter_mm": 198.0, "width_mm": 65.0, "hub_diameter_mm": 92.0})

    def test_each_thing_that_is_wrong_with_a_row_has_its_sentence(self):
        for row, words in (
            (",card,200", "It has no name"),
            ("Blue ring,card,", "Its mass is missing"),
            ("Blue ring,card,heavy", "“heavy” is no number"),
            ("Blue ring,card,2", "is out of range"),
            ("Blue ring,glass,200", "nothing that spools are made of. Known: "),
            ("Blue ring,card,200,90,,120", "Its hub must be smaller than its flanges"),
        ):
            with self.subTest(row=row):
                text = f"name,kind,empty_g,outer_diameter_mm,width_mm,hub_diameter_mm\n{row}"
                self.assertIn(words, said(self.post(text, look=True).json()["rows"][0]))
        twice = self.post("name,empty_g\nBlue ring,200\nblue ring,210", look=True).json()
        self.assertEqual([said(row) for row in twice["rows"]], ["", "Its name stands above already."])

    def test_spools_of_unknown_empty_mass_count_from_the_list_and_measured_ones_do_not(self):
        unknown = self.new_spool(tare_method="unknown", nominal_g=1000)
        measured = self.new_spool(name="Ring two", tare_method="measured", tare_g=219.0)
        self.assertEqual(unknown.tare_method, "unknown")
        done = self.post("name,empty_g\nGrey ring,212.4\nBlue ring,180")
        self.assertEqual((done.status_code, done.json()["makes"], done.json()["spools"]), (201, 2, 1))
        for spool in (unknown, measured):
            spool.refresh_from_db()
        self.assertEqual((measured.tare_g, measured.tare_method), (219.0, "measured"))
        # One was weighed here: it tells more of this workshop's rings than a list does.
        self.assertEqual((unknown.tare_g, unknown.tare_method), (219.0, "twin"))
        self.assertEqual(
            self.new_spool(name="Blue one", empty_spool=self.blue().pk, tare_method="unknown").tare_g, 180.0
        )

    def blue(self):
        return EmptySpool.objects.get(name="Blue ring")

    def test_what_is_known_of_each_make_is_told_with_how_it_is_known(self):
        self.post("name,empty_g\nBlue ring,180")
        self.new_spool(tare_method="measured", tare_g=219.0)
        with self.assertNumQueries(2):
            told = {row["name"]: row for row in self.client.get("/api/empty-spools/").json()}
        self.assertEqual((told["Blue ring"]["mass_g"]["value"], told["Blue ring"]["weighed"]), (180.0, 0))
        self.assertEqual((told["Grey ring"]["mass_g"]["value"], told["Grey ring"]["weighed"]), (219.0, 1))

    def test_it_is_one_act_that_is_undone_whole_and_a_list_taken_over_twice_changes_nothing(self):
        spool = self.new_spool(tare_method="unknown", nominal_g=1000)
        reading = {
            "spool": spool.pk,
            "scale": 2,
            "gross_g": 700.0,
            "client_key": "00000000-0000-4000-8000-00000000000a",
        }
        self.client.post("/api/weighings/", reading, content_type="application/json")
        before, entries = self.state(), HistoryEntry.objects.count()
        undo = self.post("name,empty_g\nGrey ring,212.4\nBlue ring,180").json()["undo"]
        self.assertEqual(HistoryEntry.objects.count(), entries + 1)
        self.assertEqual(Weighing.objects.get(spool=spool).tare_g, 212.4)
        again = self.post("name,empty_g\nGrey ring,212.4\nBlue ring,180")
        self.assertEqual((again.status_code, again.json()["code"]), (400, "nothing_to_add"))
        self.assertEqual(self.client.post(f"/api/history/{undo}/undo/").status_code, 200)
        self.assertEqual(self.state(), before)
