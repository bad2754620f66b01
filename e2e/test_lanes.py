"""The geometry of lanes, as the page draws them."""

import random

from e2e.parts import PartsCase

CHANCE = random.Random(7)


class Lanes(PartsCase):
    """The geometry of a lane, by properties over many lanes."""

    def frame(self, shares, width=700, height=54):
        call = "laneTrace.laneFrame({width: w, height: h}, [0, 1000], s)"
        return f"(f => ({{high: f.y(0), low: f.y(99), of: s.map(x => f.y(x)), x: f.x(500)}}))({call})", {
            "w": width, "h": height, "s": shares,
        }  # fmt: skip

    def test_a_lane_holds_its_trouble_mark_and_all_it_ever_held_up_to_a_limit(self):
        for _ in range(60):
            shares = [CHANCE.uniform(0, CHANCE.choice([0.3, 1.2, 4.0])) for _ in range(20)]
            expression, given = self.frame([*shares, 1.0])
            told = self.js(expression, **given)
            self.assertEqual((told["high"], told["x"]), (54, 350))
            self.assertTrue(all(3 <= y <= 54 for y in told["of"]))
            self.assertLess(told["of"][-1], 54)
            ranked = sorted(zip([*shares, 1.0], told["of"], strict=True))
            self.assertEqual([y for _, y in ranked], sorted((y for _, y in ranked), reverse=True))

    def test_nothing_is_drawn_where_nothing_is_known(self):
        points = [{"at": n * 100, "share": None if n < 4 else 0.5} for n in range(11)]
        drawn = self.js(
            "laneTrace.shapes(laneTrace.laneFrame({width: 700, height: 54}, [0, 1000], [0.5]), p).edge", p=points
        )
        self.assertTrue(drawn.startswith("M280,"), drawn)
        none = self.js(
            "laneTrace.shapes(laneTrace.laneFrame({width: 9, height: 9}, [0, 1], []), [{at: 0, share: null}])"
        )
        self.assertEqual(none, {"fill": "", "edge": ""})

    def test_colours_run_along_the_lane_in_order_and_are_never_too_many(self):
        for count in (1, 7, 48, 300):
            points = [{"at": n * 1000 / max(count - 1, 1), "share": n / count} for n in range(count)]
            stops = self.js(
                "laneTrace.stops(laneTrace.laneFrame({width: 700, height: 54}, [0, 1000], [1]), p)", p=points
            )
            at = [s["at"] for s in stops]
            self.assertEqual(at, sorted(at))
            self.assertLessEqual(len(stops), 50)
            self.assertTrue(at[0] >= 0 and at[-1] <= 1)

    def test_the_axis_names_now_and_whole_spans_around_it(self):
        day = 86_400_000
        for back, ahead, names in (
            (1, 0.25, ["24 h", "18 h", "12 h", "6 h", "now", "+3 h", "+6 h"]),
            (7, 1.4, ["7 d", "6 d", "5 d", "4 d", "3 d", "2 d", "1 d", "now"]),
            (21, 4.2, ["3 wk", "2 wk", "1 wk", "now", "+3 d"]),
            (90, 18, ["12 wk", "10 wk", "8 wk", "6 wk", "4 wk", "2 wk", "now", "+9 d", "+18 d"]),
            (366, 7, ["48 wk", "40 wk", "32 wk", "24 wk", "16 wk", "8 wk", "now"]),
        ):
            ticks = self.js("laneTrace.axisTicks(0, b, t)", b=back * day, t=(back + ahead) * day)
            told = [t["name"] for t in ticks if not (back == 7 and t["name"].startswith("+"))]
            self.assertEqual(told, names)
            at = [t["at"] for t in ticks]
            self.assertEqual(at, sorted(at))
