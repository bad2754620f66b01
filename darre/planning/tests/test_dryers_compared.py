"""Dryers side by side over the API: as the plan says it, and what another dryer would save."""

from datetime import timedelta

from django.utils import timezone

from darre.common.test_runner import forget
from darre.equipment.models import Dryer
from darre.runs.models import Run
from darre.runs.tests.test_run_path import Shed


class SideBySide(Shed):
    def table(self, **another):
        answer = self.client.get("/api/dryers/compared/", another)
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        return answer.json()

    def test_each_cell_of_a_spool_that_is_to_be_dried_is_what_its_plan_says(self):
        found = self.table()
        wet = [row for row in found["rows"] if row["spool"] is not None]
        self.assertGreater(len(wet), 1)
        for row in wet[:2]:
            for dryer, cell in zip(found["dryers"], row["cells"], strict=True):
                plan = self.client.get(f"/api/plan/?spool={row['spool']}&dryer={dryer['id']}").json()
                with self.subTest(row["name"], dryer=dryer["name"]):
                    self.assertEqual(cell["fits"], not plan["misfits"])
                    if cell["temp_c"] is None:
                        self.assertTrue(plan["ticket"] is None or plan["broken"])
                        continue
                    ticket = plan["ticket"]
                    self.assertEqual((cell["temp_c"], cell["duration_h"]), (ticket["air_c"], ticket["duration_h"]))
                    self.assertAlmostEqual(cell["energy_kwh"], ticket["energy_kwh"]["value"], places=6)
                    self.assertEqual(cell["reaches"], plan["outcome"] == "reaches")

    def test_spools_that_are_clean_stand_by_material_at_the_moisture_where_water_shows(self):
        found = self.table()
        groups = [row for row in found["rows"] if row["spool"] is None]
        self.assertTrue(groups)
        self.assertEqual(len({row["material_name"] for row in groups}), len(groups))
        self.assertTrue(all(row["from_pct"] > row["aim_pct"] for row in groups))
        shown = sum(row["spools"] for row in found["rows"])
        lanes = self.client.get("/api/lanes/").json()
        self.assertEqual(shown, sum(1 for lane in lanes if lane["usual"] and not lane["run"]))

    def test_one_as_the_best_there_is_saves_nothing_and_a_hotter_one_gains_spools(self):
        Dryer.objects.exclude(pk=self.box.pk).update(in_service=False)
        forget()
        same = self.table(max_c="60")["gain"]
        hotter = self.table(max_c="90", vent_m3_h="1,0", slots="4")
        gain = hotter["gain"]
        self.assertGreater(len(gain["gained"]), len(same["gained"]))
        for place in gain["gained"]:
            row = hotter["rows"][place]
            self.assertTrue(row["another"]["reaches"])
            self.assertFalse(any(cell["reaches"] and cell["fits"] for cell in row["cells"]))
        self.assertGreaterEqual(gain["hours"], 0.0)

    def test_how_often_a_spool_is_dried_comes_from_last_years_runs_once_there_are_enough(self):
        ended, now = Run.objects.filter(ended_at__isnull=False).order_by("pk"), timezone.now()
        long_ago = now - timedelta(days=800)
        ended.update(started_at=long_ago, ended_at=long_ago + timedelta(hours=6))
        forget()
        found = self.table()
        self.assertTrue(found["assumed"])
        self.assertEqual({row["runs_a_year"] for row in found["rows"]}, {4.0 * row["spools"] for row in found["rows"]})
        days = (10, 40, 80, 146)
        for run, ago in zip(list(ended), days, strict=False):
            began = now - timedelta(days=ago)
            Run.objects.filter(pk=run.pk).update(started_at=began, ended_at=began + timedelta(hours=6))
        forget()
        found = self.table()
        self.assertFalse(found["assumed"])
        # Four in 146 days are ten in a year.
        self.assertAlmostEqual(sum(row["runs_a_year"] for row in found["rows"]), 10.0, delta=0.05)

    def test_what_no_dryer_can_be_is_refused_by_its_field(self):
        for field, text in (("max_c", "900"), ("slots", "0"), ("timer_max_h", "x")):
            answer = self.client.get("/api/dryers/compared/", {"max_c": "70", field: text})
            self.assertEqual((answer.status_code, answer.json()["field"]), (400, field))


class HomeBuilt(Shed):
    TUB = {
        "heater_w": 60, "length_mm": 400, "width_mm": 300, "height_mm": 300, "wall": "plastic", "heater": "lamp",
        "away_cm": 15,
    }  # fmt: skip

    def ask(self, **changed):
        return self.client.get("/api/dryers/home-built/", {**self.TUB, **changed})

    def test_a_box_is_as_much_warmer_than_the_room_as_its_heater_makes_it(self):
        found = self.ask().json()
        self.assertAlmostEqual(found["air_c"] - found["room_c"], 60 / 2.661, delta=0.05)  # by hand, in the core's test
        self.assertAlmostEqual(found["air_c"] - found["low_c"], found["high_c"] - found["air_c"])
        self.assertGreater(self.ask(fan="false", wall="foam").json()["air_c"], found["air_c"] + 20.0)
        self.assertTrue(self.ask(wall="foam").json()["harms_wall"])

    def test_what_is_missing_or_cannot_be_is_named(self):
        for field, value in (("heater_w", 0), ("length_mm", 50), ("wall", "glass"), ("away_cm", "near")):
            answer = self.ask(**{field: value})
            self.assertEqual((answer.status_code, answer.json()["field"]), (400, field))
