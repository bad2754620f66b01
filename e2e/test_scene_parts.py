"""What the page draws: its geometry, and that all the server told is in it."""

import itertools
import random

import numpy as np

from darre.demo.tests.fresh import load_demo_world
from darre.inventory.models import Spool
from e2e.parts import PartsCase

CHANCE = random.Random(7)


def shared(a, b):
    """The area that two boxes have in common, px²."""
    width = min(a["x"] + a["width"], b["x"] + b["width"]) - max(a["x"], b["x"])
    height = min(a["y"] + a["height"], b["y"] + b["height"]) - max(a["y"], b["y"])
    return max(width, 0.0) * max(height, 0.0)


class Geometry(PartsCase):
    def field(self):
        temps, hours = np.linspace(30, 80, 11), np.linspace(0, 24, 25)
        falls = 0.02 + 0.5 * np.exp(-np.outer(2.0 ** ((temps - 60) / 8), hours) / 6) + (80 - temps)[:, None] * 0.002
        return temps, hours, falls, {"temps": temps.tolist(), "hours": hours.tolist(), "moisture": falls.tolist()}

    def test_the_value_under_the_pin_is_the_maps_own_between_its_points(self):
        temps, hours, falls, field = self.field()
        points = [{"temp": CHANCE.uniform(20, 90), "hours": CHANCE.uniform(-1, 30)} for _ in range(300)]
        got = self.js("ps.map(p => dryingMap.moistureAt(field, p))", field=field, ps=points)
        rows = [[np.interp(p["hours"], hours, row) for row in falls] for p in points]
        want = [np.interp(p["temp"], temps, row) for p, row in zip(points, rows, strict=True)]
        np.testing.assert_allclose(got, want, atol=1e-12)

    def test_contours_cross_where_the_field_has_the_mark(self):
        temps, hours, falls, field = self.field()
        for mark in (0.05, 0.1, 0.3, 0.9):
            got = self.js("dryingMap.crossings(field, mark)", field=field, mark=mark)
            for at, row in zip(got, falls, strict=True):
                if at is None:
                    self.assertGreater(row.min(), mark)
                elif at > 0:
                    self.assertAlmostEqual(float(np.interp(at, hours, row)), mark, places=9)
        floor = falls[:, -1].tolist()
        for mark, want in ((1, 30), (0, None)):
            got = self.js("dryingMap.coolestThatGetsTo(mark, t, f)", mark=mark, t=temps.tolist(), f=floor)
            self.assertEqual(got, want)
        middle = self.js("dryingMap.coolestThatGetsTo(0.06, t, f)", t=temps.tolist(), f=floor)
        self.assertAlmostEqual(float(np.interp(middle, temps, floor)), 0.06, places=9)

    def test_a_name_settles_where_nothing_is_and_else_where_it_covers_least(self):
        inside = {"x": 0, "y": 0, "width": 300, "height": 200}
        box = {"width": 60, "height": 20}
        places = [{"x": x, "y": y, **box} for x, y in itertools.product((0, 70, 140), (0, 30))]
        taken: list = []
        for nth in range(6):
            got = self.js("(() => { labels.settle(ps, taken, i); return taken; })()", ps=places, taken=taken, i=inside)
            self.assertEqual(len(got), nth + 1)
            taken = got
        self.assertEqual(sorted(map(str, taken)), sorted(map(str, places)))
        outside = [{"x": 280, "y": 0, **box}, {"x": 235, "y": 100, **box}]
        self.assertEqual(self.js("labels.settle(ps, [], i)", ps=outside, i=inside), outside[1])

    def test_a_name_takes_the_first_place_that_is_free_whatever_fractions_of_a_pixel_it_lies_at(self):
        inside = {"x": 0.1, "y": 0.2, "width": 300, "height": 200}
        for _ in range(50):
            xs = [CHANCE.uniform(1, 230) for _ in range(4)]
            places = [{"x": x, "y": CHANCE.uniform(1, 170), "width": 67.7, "height": 15.1} for x in xs]
            self.assertEqual(self.js("labels.settle(ps, [], i)", ps=places, i=inside), places[0])

    def test_no_name_of_a_course_lies_on_a_point_an_error_bar_a_line_or_another_name(self):
        for _ in range(60):
            hours, start, rate = CHANCE.uniform(4, 60), CHANCE.uniform(0.3, 2.0), CHANCE.uniform(0.03, 0.6)
            clean, floor = start * CHANCE.uniform(0.08, 0.12), start * CHANCE.uniform(0.25, 0.4)
            times = np.linspace(0, hours, 60)
            means = floor + (start - floor) * np.exp(-rate * times)
            course = [
                {"time": t, "mean": m, "low": 0.7 * m, "high": 1.3 * m} for t, m in zip(times, means, strict=True)
            ]
            beside = {"name": "forecast", "course": [{**p, "mean": 1.15 * p["mean"]} for p in course]}
            seen = [{"time": t, "moisture": CHANCE.uniform(0.05, start), "plusMinus": 0.05} for t in (0, hours / 3)]
            marks = [
                {"at": clean, "name": "prints clean", "kind": "clean"},
                {"at": floor, "name": "this air stops here", "kind": "floor"},
                {"at": 0.6 * start, "name": "trouble threshold", "kind": "trouble"},
            ]
            moments = [{"at": hours * 0.6, "name": "now", "strong": True}, {"at": hours * 0.8, "name": "planned end"}]
            drawn = {"curves": [course, beside["course"]], "beside": beside, "seen": seen, "marks": marks}
            names, boxes = self.js(
                """(() => {
                    const frame = course.frameOf(860, 380, { course: c, beside: b, seen: d.seen, marks: d.marks });
                    return [courseNames.namesOf(frame, d), courseNames.obstacles(frame, d)];
                })()""",
                d={**drawn, "moments": moments}, c=course, b=beside["course"],
            )  # fmt: skip
            self.assertEqual(len(names), 6)
            placed = [name["box"] for name in names]
            for box, other in itertools.chain(itertools.product(placed, boxes), itertools.combinations(placed, 2)):
                self.assertLessEqual(shared(box, other), 3.0, (names, other))


class Scenes(PartsCase):
    """What a chart draws is all that the server told."""

    @classmethod
    def setUpTestData(cls):
        load_demo_world(cls)

    def test_no_visit_s_words_cover_another_s_also_where_four_come_close_together(self):
        visits = [(182, 60), (220, 68), (222, 68), (234, 68), (306, 68), (536, 94)]
        boxes = self.js(
            "(() => { const taken = [], places = scheduleScene.visitPlaces;"
            " for (const [at, wide] of vs) labels.settle(places(at, wide, 333), taken, i); return taken; })()",
            vs=visits,
            i={"x": 172, "y": 293, "width": 700, "height": 126},
        )
        self.assertEqual(len(boxes), len(visits))
        self.assertEqual([shared(a, b) for a, b in itertools.combinations(boxes, 2)], [0.0] * 15)

    def test_the_maps_scene_holds_every_limit_ring_and_mark_that_the_server_told(self):
        for spool, dryer, co_dried in ((4, 1, ""), (1, 3, ""), (4, 2, "10"), (7, 2, "")):
            told = self.client.get("/api/plan/map/", {"spool": spool, "dryer": dryer, "co_dried": co_dried}).json()
            names = [Spool.objects.get(pk=p).name for p in (spool, *(int(c) for c in co_dried.split(",") if c))]
            scene = self.js("scene.sceneOf(m, n, 'Box')", m=told, n=names)
            harms = [limit for limit in told["limits"] if limit["kind"] not in ("dryer_max", "dryer_min")]
            shown = [zone["from"] for zone in scene["zones"] if zone["harm"]]
            self.assertEqual(shown, [limit["temp_c"] for limit in harms][:3])
            self.assertEqual(len(scene["rings"]), len(told["rings"]))
            kinds = [contour["kind"] for contour in scene["contours"]]
            self.assertEqual(kinds.count("clean"), 1)
            self.assertEqual(kinds.count("co_dried"), len(names) - 1)
            self.assertEqual("trouble" in kinds, told["start_pct"] > told["trouble_pct"])

    def test_a_courses_frame_holds_all_that_is_drawn_in_it(self):
        line = [{"time": t, "mean": 0.3 / (1 + t), "low": 0.2 / (1 + t), "high": 0.4 / (1 + t)} for t in range(9)]
        seen = [{"time": 0, "moisture": 0.31, "plusMinus": 0.2}]
        marks = [{"at": 0.06, "name": "clean", "kind": "clean"}]
        ends = self.js(
            "(f => [f.x(0), f.x(8), f.y(0.51), f.y(0)])"
            "(course.frameOf(700, 400, { course: line, beside: [], seen, marks }))",
            line=line, seen=seen, marks=marks,
        )  # fmt: skip
        left, right, top, bottom = ends
        self.assertTrue(0 < left < right <= 700)
        self.assertTrue(0 <= top < bottom <= 400)
