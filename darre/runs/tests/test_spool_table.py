"""A table of spools: columns are guessed, rows are read, what is wrong is named, and all of it is one act."""

from django.utils import timezone

from darre.history.models import HistoryEntry
from darre.inventory.material_book import material_book
from darre.inventory.models import Spool
from darre.places.models import Place
from darre.runs.models import Weighing
from darre.runs.spool_table import guessed, read_table
from darre.runs.tests.test_run_path import Shed

TABLE = """Spool\tPolymer\tColour\tScale reads (g)\tEmpty\tWhere\tNotes
North hinge\tPETG\tgreen\t1 012,5\t\tShelf\tgutters
South hinge\tpetg\tgreen\t1012,5 g\t212\tShelf\tgutters
Lamp shade\tPLA\twhite\t0.95 kg\t205\t\tlamp
"""


class Columns(Shed):
    def test_heads_are_guessed_as_people_write_them(self):
        for heads, expected in (
            (("Name", "Material", "Brand", "Color", "Weight"), ("name", "material", "maker", "colour", "gross_g")),
            (("Filament", "Type", "Location", "Tare", "Water %"),
             ("name", "material", "place", "tare_g", "moisture_pct")),
            (("No.", "Polymer", "Manufacturer", "Diameter mm", "Comment"),
             ("name", "material", "maker", "diameter_mm", "purpose")),
            (("Spool", "Material", "bought"), ("name", "material", "nothing")),
        ):  # fmt: skip
            self.assertEqual(guessed(heads), expected, heads)

    def test_separators_and_a_byte_order_mark_do_not_matter(self):
        rows = [["Name", "Material", "Weight"], ["A", "pla", "1000"], ["B", "petg", "990"]]
        for delimiter in ("\t", ";", ",", "|"):
            text = "\ufeff" + "\r\n".join(delimiter.join(row) for row in rows) + "\r\n\r\n"
            found = read_table(text, material_book())
            self.assertEqual(
                [(r.line, r.name, r.numbers["gross_g"]) for r in found.good], [(2, "A", 1000), (3, "B", 990)]
            )

    def test_quoted_cells_may_hold_separators(self):
        found = read_table('Name,Material,Note\n"Grey, left",pla,"a, b"\n', material_book())
        self.assertEqual([(r.name, r.purpose) for r in found.good], [("Grey, left", "a, b")])


class Rows(Shed):
    def look(self, text, **more):
        answer = self.post("spools/table/look/", text=text, **more)
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        return answer.json()

    def test_units_and_commas_are_read_and_what_is_no_number_is_named(self):
        found = self.look(TABLE)
        self.assertEqual(found["columns"], ["name", "material", "colour", "gross_g", "tare_g", "place", "purpose"])
        self.assertEqual([r["gross_g"] for r in found["rows"]], [None, 1012.5, 950.0])
        self.assertIn("no number", found["rows"][0]["problem"])
        self.assertEqual((found["good"], found["rows"][1]["place_name"]), (2, "Shelf"))

    def test_each_thing_that_is_wrong_with_a_row_has_its_sentence(self):
        head = "Name,Material,Weight,Empty,Moisture,Where,Diameter\n"
        for row, named in (
            (",pla,1000,200,,,", "no name"),
            ("Rain gauge,pla,1000,200,,,", "named Rain gauge already"),
            ("A,unobtainium,1000,200,,,", "“unobtainium” is no material"),
            ("A,,1000,200,,,", "material is missing"),
            ("A,pla,heavy,200,,,", "“heavy” is no number"),
            ("A,pla,1000,-3,,,", "out of range"),
            ("A,pla,150,200,,,", "less than it does empty"),
            ("A,pla,1000,200,30,,", "can hold at most"),
            ("A,pla,1000,200,,Moon,", "no place named Moon"),
            ("A,pla,1000,200,,,9", "out of range"),
        ):
            with self.subTest(named):
                self.assertIn(named, self.look(head + row)["rows"][0]["problem"])

    def test_the_same_name_twice_is_added_once(self):
        rows = self.look("Name,Material\nA,pla\nA,petg\n")["rows"]
        self.assertEqual(rows[0]["problem"], "")
        self.assertIn("named A already", rows[1]["problem"])

    def test_a_guess_is_put_right(self):
        text = "First,Second\nA,pla\n"
        self.assertEqual([r["problem"] for r in self.look(text)["rows"]], ["Its material is missing."])
        self.assertEqual(self.look(text, columns=["name", "material"])["good"], 1)

    def test_what_is_no_table_is_said(self):
        for text, code, named in (
            ("", "invalid", "blank"),
            ("Name,Material", "no_table", "head row"),
            ("Name,Material\n" + "A,pla\n" * 2001, "too_long", "2000"),
        ):
            answer = self.post("spools/table/look/", text=text)
            self.assert_refused(answer, code, "text", named)


class Added(Shed):
    def add(self, text, **more):
        body = {"text": text, "place": Place.objects.get(name="Shelf").pk, "scale": self.bench.pk} | more
        return self.client.post("/api/spools/table/", body, content_type="application/json")

    def test_good_rows_are_added_as_one_act_that_is_undone_whole(self):
        before, entries = Spool.objects.count(), HistoryEntry.objects.count()
        answer = self.add(TABLE).json()
        self.assertEqual((answer["added"], Spool.objects.count() - before), (2, 2))
        self.assertEqual(HistoryEntry.objects.count() - entries, 1)
        south = Spool.objects.get(name="South hinge")
        self.assertEqual((south.tare_g, south.purpose), (212.0, "gutters"))
        self.assertEqual(Weighing.objects.get(spool=south).gross_g, 1012.5)
        rack = self.client.get("/api/lanes/").json()
        self.assertIn("South hinge", [x["spool"]["name"] for x in rack])
        self.assertEqual(self.post(f"history/{answer['undo']}/undo/").status_code, 200)
        self.assertEqual((Spool.objects.count(), Weighing.objects.filter(spool=south.pk).count()), (before, 0))

    def test_a_table_without_a_good_row_adds_nothing(self):
        before = HistoryEntry.objects.count()
        self.assert_refused(self.add("Name,Material\nA,stone\n"), "nothing_to_add", "text", "beside each")
        self.assertEqual(HistoryEntry.objects.count(), before)

    def test_a_formula_in_a_cell_is_but_text(self):
        self.assertEqual(self.add('Name,Material\n"=HYPERLINK(""x"")",pla\n').json()["added"], 1)
        self.assertTrue(Spool.objects.filter(name='=HYPERLINK("x")').exists())

    def test_five_hundred_are_added_in_one_go_and_read_back(self):
        text = "Name,Material,Weight,Empty\n" + "".join(f"Spare {n},petg,{900 + n % 90},210\n" for n in range(500))
        began = timezone.now()
        self.assertEqual(self.add(text).json()["added"], 500)
        self.assertEqual(Weighing.objects.filter(at__gte=began, spool__name__startswith="Spare").count(), 500)
