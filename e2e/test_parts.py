"""Rules of the page's own functions, over many values and over all that the server answers for the demo world."""

import itertools
import json
import random
import re
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np
from django.utils import timezone

from darre.common.test_runner import forget
from darre.demo.tests.fresh import load_demo_world
from darre.equipment.models import Dryer
from darre.inventory.models import Spool
from darre.runs.models import Run
from drying.planning.choose import METHODS
from e2e.parts import IMPERIAL, METRIC, PartsCase

CHANCE = random.Random(7)
BROKEN = re.compile(r"undefined|NaN|null|Infinity|\[object|  |\.\.|^\s|\s$| ,")


def said(value, unit, *, difference=False):
    """The page's call for an amount that the server puts into a sentence."""
    part = {"text": "in English", "value": value, "unit": unit, "difference": difference, "at": None}
    return f"inWords([{json.dumps(part)}])"


class Numbers(PartsCase):
    def test_numbers_show_no_more_than_they_are_worth(self):
        for expression, want in (
            ("numbers.percent(0.0583)", "0.06"), ("numbers.percent(3.24)", "3.2"), ("numbers.percent(12.6)", "13"),
            ("numbers.percent(0.996)", "1.0"), ("numbers.fixed(-0.04, 1)", "0.0"), ("numbers.fixed(-2.5, 1)", "−2.5"),
            ("numbers.plusMinus(0.2631, 0.131)", "0.26 ± 0.13"), ("numbers.plusMinus(17.46, 0.24)", "17.5 ± 0.2"),
            ("numbers.plusMinus(1, 0)", "1.000 ± 0.001"), ("numbers.span(-0.01, 0.1)", "0.00 to 0.10"),
            ("numbers.chance(0.004)", "under 1 in 100"), ("numbers.chance(0.5)", "50 in 100"),
            ("numbers.chance(0.996)", "over 99 in 100"), ("numbers.hours(7.5)", "7 h 30 min"),
            ("numbers.hours(0.34)", "20 min"), ("numbers.hours(24)", "24 h"),
            ("numbers.aboutHours(0.01)", "about 5 min"),
            ("numbers.countWord(2)", "Two"), ("numbers.countWord(13)", "13"), ("numbers.scaleDecimals(0.01)", "2"),
            ("materials.scientific(3e-12)", "3 × 10⁻¹²"), ("materials.scientific(0.8)", "0.8"),
        ):  # fmt: skip
            self.assertEqual(str(self.js(expression)), want, expression)

    def test_typed_text_means_a_number_with_point_or_comma_and_else_none(self):
        for text, want in (
            ("800,3", 800.3), (" 3.5 ", 3.5), (",5", 0.5), ("−2", -2), ("+4", 4), ("7.", 7),
            ("800;3", None), ("eight", None), ("", None), ("1,2,3", None), ("1e3", None), ("0x10", None),
            ("12 g", None),
        ):  # fmt: skip
            self.assertEqual(self.js("typed.parseTyped(x)", x=text), want, text)

    def test_units_turn_there_and_back_and_what_is_typed_lands_as_the_server_means_it(self):
        values = [CHANCE.uniform(-20, 400) for _ in range(200)]
        for units in (METRIC, IMPERIAL):
            self.in_units(units)
            for kind in ("Temp", "TempStep", "Mass", "Size"):
                back = self.js(f"xs.map(x => units.from{kind}(units.to{kind}(x)))", xs=values)
                np.testing.assert_allclose(back, values, atol=1e-9, err_msg=kind)
        for call, want in (
            ("typedTemp('140')", "60"), ("typedTemp('140,0')", "60"), ("typedTemp('warm')", "warm"),
            ("typedTempStep('9')", "5"), ("typedMass('1')", "28.3495"), ("typedSize('2,5')", "63.5"),
            ("temp(60)", "140 °F"), ("tempStep(5)", "9 °F"), ("mass(640, 0)", "22.6 oz"), ("size(205)", "8.1 in"),
            (said(60, "°C"), "140 °F"), (said(5, "°C", difference=True), "9 °F"), (said(100, "g"), "3.527 oz"),
            (said(200, "mm"), "7.9 in"), (said(5, "kWh"), "in English"),
        ):  # fmt: skip
            self.assertEqual(self.js(f"quantities.{call}"), want, call)
        self.in_units(METRIC)
        for call, want in (
            ("temp(62.5)", "62.5 °C"),
            ("typedTemp(' 60,5 ')", "60,5"),
            ("massAsRead(798.8)", "798.8 g"),
        ):
            self.assertEqual(self.js(f"quantities.{call}"), want, call)

    def test_a_moment_in_a_sentence_of_the_server_is_told_by_the_persons_own_clock(self):
        at = datetime.now(UTC).replace(second=0, microsecond=0)
        part = {"text": f"{at:%H:%M} UTC", "value": None, "unit": "", "difference": False, "at": at.isoformat()}
        told = self.js("quantities.inWords([{...p, text: 'from ', at: null}, p])", p=part)
        local = at.astimezone(ZoneInfo(self.zone))
        self.assertEqual(told, f"from {local:%H:%M}")

    def test_a_moment_is_told_by_the_persons_own_clock(self):
        now = int(datetime(2026, 11, 24, 21, 0, tzinfo=UTC).timestamp() * 1000)
        for hours, metric, imperial in (
            (1, "23:00", "11:00 pm"), (4, "Wed 02:00", "Wed 2:00 am"), (240, "4 Dec 22:00", "4 Dec 10:00 pm"),
        ):  # fmt: skip
            for units, want in ((METRIC, metric), (IMPERIAL, imperial)):
                self.in_units(units)
                got = self.js("times.when(times.later(new Date(now), h), new Date(now))", now=now, h=hours)
                self.assertEqual(got, want)
        self.assertEqual(self.js("times.withOffset(new Date(now))", now=now), "2026-11-24T22:00:00+01:00")
        self.assertEqual(self.js("times.fromLocalField('2026-07-01T09:30')"), "2026-07-01T07:30:00.000Z")
        self.assertIsNone(self.js("times.fromLocalField('2026-')"))
        for minute in (0, 30, 330, 1439):
            self.assertEqual(self.js("times.fieldToMinute(times.minuteToField(m))", m=minute), minute)


class Sentences(PartsCase):
    """Over every answer of the demo world: whole sentences, in the units that were chosen."""

    @classmethod
    def setUpTestData(cls):
        load_demo_world(cls)

    def get(self, path, **asked):
        answer = self.client.get(f"/api/{path}/", asked)
        self.assertEqual(answer.status_code, 200, answer.content)
        return answer.json()

    def assert_said(self, told, where, ends=""):
        for text in told:
            self.assertNotRegex(text, BROKEN, where)
            self.assertNotIn("°C" if self.js("units.units().temp") == "F" else "°F", text)
            self.assertTrue(text[0].isupper() or text[0].isdigit() or text[0] in "“−", (where, text))
            if ends:
                self.assertIn(text[-1], ends, (where, text))

    def assert_alternatives_are_said(self, plan, query):
        could = self.get("plan/alternatives", **{k: v for k, v in query.items() if k in ("spool", "dryer", "co_dried")})
        told = self.js("could.flatMap(x => plan.alternativeWords(x, p, () => 'Loft box'))", p=plan, could=could)
        self.assertFalse([t for t in told if BROKEN.search(t)], query)

    def test_every_plan_is_said_in_whole_sentences_in_either_units(self):
        dryers = list(Dryer.objects.values_list("id", flat=True))
        asked = [{"spool": s.id, "dryer": d} for s in Spool.objects.all() for d in dryers[s.id % 4 :: 4]]
        asked += [
            {"spool": 4, "dryer": 2, "method": method, "co_dried": c}
            for method in METHODS
            for c in ("", "7")
            if method != "own"
        ]
        asked += [{"spool": 4, "dryer": d, "temp_c": t, "duration_h": 30} for d in (1, 4) for t in (64, 70, 95)]
        kiln = Dryer.objects.get(name="Old oven")
        kiln.pk, kiln.name, kiln.min_c, kiln.max_c = None, "Kiln", 120.0, 200.0
        kiln.save()
        asked.append({"spool": 7, "dryer": kiln.pk})
        outcomes, kinds = set(), set()
        for n, (units, query) in enumerate(zip(itertools.cycle((METRIC, IMPERIAL)), asked, strict=False)):
            self.in_units(units)
            plan = self.get("plan", **query)
            outcomes.add(plan["outcome"])
            self.assert_said([self.js("plan.planSentence(p)", p=plan)], query, ".")
            if n % 3 == 0:  # they take longer than all the rest, and hang on neither method nor hours
                self.assert_alternatives_are_said(plan, query)
            self.assert_said(self.js("p.misfits.map(m => plan.misfitWords(m, p))", p=plan), query, ".")
            if plan["ticket"] is None:
                continue
            kinds |= {c["kind"] for c in plan["ticket"]["cautions"]}
            self.assert_said(self.js("p.ticket.cautions.map(c => cautions.cautionText(c, p))", p=plan), query, ".")
            self.assert_said(self.js("[plan.turnWords(p.ticket), plan.energyWords(p.ticket)]", p=plan), query)
            ready = self.js("p.ticket.members.map(m => plan.readyWords(m, new Date(0)))", p=plan)
            self.assertFalse([r for r in ready if BROKEN.search(r["at"] + r["band"])], query)
            self.assertFalse([r for r in ready if r["at"] != "already" and "end of this run" not in r["band"]], query)
            for member, words in zip(
                plan["ticket"]["members"], self.js("p.ticket.members.map(plan.turnsRows)", p=plan), strict=True
            ):
                self.assertEqual(len(words), 0 if member["turns"] is None else 2, query)
                self.assertFalse(BROKEN.search(str(words)), query)
        self.assertGreaterEqual(outcomes, {"reaches", "not_needed", "cannot", "harms", "ends_above"})
        self.assertGreater(len(kinds), 12)

    def test_desiccant_in_a_shut_box_is_said_with_its_grams_and_a_box_without_says_how_many_it_needs(self):
        shut = Dryer.objects.get(name="Cellar box")
        shut.vent_m3_h = 0.0
        fresh, names = "30 g of fresh", ("Silica gel", "Its own water", "Enough, if fresh", "Too damp for clean")
        for grams, load, rows, caution, elsewhere in (
            (None, None, [], "put in 25 g of fresh silica gel", f"{fresh} silica gel in the box"),
            (150.0, 3.0, ["takes up 1.1 g", "3.0 → 3.7 %", "25 g"], "a plastic pouch softens above 50 °C", ""),
            (
                8.0,
                2.0,
                ["takes up 0.8 g", "2.0 → 12.6 %", "25 g", "from "],
                "The 8 g of desiccant in it fill up",
                fresh,
            ),
            (200.0, 36.0, ["gives off 0", "36.0 → 35", "25 g", "from the start"], "Put in 25 g, fresh out of the ", ""),
        ):
            shut.desiccant_kind = "" if grams is None else "silica_gel"
            shut.desiccant_g, shut.desiccant_load_pct = grams, load
            shut.save()
            forget()
            plan = self.get("plan", spool=4, dryer=shut.pk, method="usual")
            told = dict(self.js("ticketRows.ticketRows(p, p.ticket, new Date(0))", p=plan))
            said = [told[name] for name in names if name in told]
            self.assertEqual(len(said), len(rows), told)
            for text, begins in zip(said, rows, strict=True):
                self.assertTrue(text.startswith(begins), (text, begins))
            cautions = self.js("p.ticket.cautions.map(c => cautions.cautionText(c, p))", p=plan)
            self.assertTrue([text for text in cautions if caution in text], cautions)
            if elsewhere:
                self.assert_alternatives_are_said(plan, {"spool": 4, "dryer": shut.pk})
                could = self.get("plan/alternatives", spool=4, dryer=shut.pk)
                ways = self.js("could.map(x => plan.alternativeWords(x, p, () => 'Loft box')[0])", p=plan, could=could)
                self.assertTrue([way for way in ways if elsewhere in way], ways)

    def test_what_the_desiccant_of_a_run_holds_is_said_while_it_goes_and_after_it(self):
        run, of = {"ended_at": None}, {"kind": "sieve", "dry_g": 120, "now_pct": 5.24, "changed": False}
        sieve = "120 g of molecular sieve in the box"
        for ended, more, said in (
            (None, {"takes_g": 2.7}, f"{sieve} hold 5.2 % water by now: 2.7 g taken up in this run."),
            ("x", {"takes_g": -1.2}, f"{sieve} held 5.2 % water at the end: 1.2 g given off in this run."),
            (None, {"takes_g": 1, "changed": True}, f"{sieve} hold 5.2 % water by now, fresh since it was changed."),
        ):
            sheet = {"run": run | {"ended_at": ended}, "desiccant": of | more}
            self.assertEqual(self.js("runs.desiccantWords(s)", s=sheet), said)
        self.assertIsNone(self.js("runs.desiccantWords(s)", s={"run": run, "desiccant": None}))

    def test_hours_that_are_a_lower_bound_say_at_the_earliest_and_name_no_chance(self):
        pump = Dryer.objects.create(name="Pump", kind="heated_vacuum", min_c=30, max_c=90)
        for dryer, is_bound in ((pump.pk, True), (2, False)):
            plan = self.get("plan", spool=7, dryer=dryer, method="usual")
            [ready] = self.js("p.ticket.members.map(m => plan.readyWords(m, new Date(0), p.ticket))", p=plan)
            self.assertEqual(ready["at"].endswith(" at the earliest"), is_bound, ready)
            self.assertEqual(ready["band"] == "", is_bound, ready)
            told = self.js("p.ticket.cautions.map(c => cautions.cautionText(c, p))", p=plan)
            self.assertEqual(any("lower bound" in text for text in told), is_bound, told)

    def test_a_run_whose_hours_are_a_lower_bound_names_no_chance_until_it_was_weighed_again(self):
        sheet = self.get(f"runs/{Run.objects.get(ended_at__isnull=True).pk}")
        sheet["verdict"] |= {"to_aim": {"p05": 2.0, "p50": 3.0, "p95": 5.0}}
        unweighed = sheet | {"is_bound": True, "verdict": sheet["verdict"] | {"loss": None}}
        self.assertFalse(sheet["is_bound"])
        self.assertRegex(self.js("runs.stopLine(s)", s=unweighed), r"^prints clean from .*\d\d:\d\d at the earliest$")
        for weighed in (sheet, sheet | {"is_bound": True}):
            self.assertIn("9 in 10", self.js("runs.stopLine(s)", s=weighed))

    def test_what_went_out_is_counted_from_the_first_weighing_that_counts(self):
        sheet = self.get(f"runs/{Run.objects.get(ended_at__isnull=True).pk}")
        first, *others = sheet["seen"]
        lost = sheet["verdict"]["loss"]["mass_g"]["value"]
        late = {**first, "at": f"{datetime.fromisoformat(first['at']) + timedelta(minutes=40):%Y-%m-%dT%H:%M:%S%z}"}
        once = {"verdict": sheet["verdict"] | {"loss": None}}
        for seen, told, name, value in (
            ([first, *others], {}, "Out since start", f"{lost:.1f}"),
            ([late, *others], {}, r"Out since .*\d\d:\d\d", f"{lost:.1f}"),
            ([first | {"doubtful": True}, late, *others], {}, r"Out since .*\d\d:\d\d", f"{lost:.1f}"),
            ([first], once, "Out since start", "weigh again to see"),
            ([], once, "Out since start", "not weighed yet"),
            ([first], once | {"run": sheet["run"] | {"ended_at": first["at"]}}, "Out since start", "weighed once only"),
            ([], once | {"run": sheet["run"] | {"ended_at": first["at"]}}, "Out since start", "never weighed"),
        ):
            found = self.js("runs.outSince(s, 1)", s=sheet | told | {"seen": seen})
            self.assertRegex(found[0], f"^{name}$")
            self.assertIn(value, found[1])

    def test_every_lane_run_dryer_and_material_is_said_in_whole_sentences(self):
        lanes = self.get("rack")["lanes"]
        self.assert_said([self.js("lanes.rackSentence(ls)", ls=lanes)], "rack", ".")
        far = [lane | {"heat": lane["heat"] and lane["heat"] | {"reaches": False}} for lane in lanes]
        self.assert_said([self.js("lanes.rackSentence(ls)", ls=far)], "rack", ".")
        for traced in self.get("rack")["lanes"]:
            for wanted in ("null", "new Date(2026, 11, 24)"):
                words = f"Object.values(lanes.nextActWords(t, new Date(now), {wanted})).slice(0, 1)"
                told = self.js(words, t=traced, now=timezone.now().isoformat())
                self.assert_said(told, "lane")
        for within in (None, 7.0):
            damp = lanes[0] | {"next": {"act": "outer_damp", "within_h": within, "over_trouble": False}}
            damp["lane"] = damp["lane"] | {"next": {"mass_g": 50, "pct": 0.31}, "run": None}
            told = self.js("lanes.nextActWords(t, new Date(now), null)", t=damp, now=timezone.now().isoformat())
            self.assert_said([told["act"]], "outer turns")
            self.assertRegex(told["why"], r"next (50 g|1\.8 oz) are damp, 0\.31 %")
            page = self.get("spools/1/page")
            page["traced"] = damp
            self.assertRegex(
                self.js("spools.spoolSentence(p)", p=page), r"0\.31 % of water in the next .*over all of it"
            )
        holdings = self.get("storage")
        self.assert_said([self.js("storage.storageSentence(h)", h=holdings)], "keep", ".")
        for holding in holdings:
            lines = self.js(
                "[storage.desiccantLine(h), storage.ingressLine(h), ...storage.regenerationLines(h)]", h=holding
            )
            self.assert_said(lines, holding["place"]["name"], ".")
        for spool in (1, 4, 9):
            page = self.get(f"spools/{spool}/page")
            lines = self.js(
                "[spools.spoolSentence(p), spools.disputeLine(p), ...p.learned.map(spools.learnedLine)]", p=page
            )
            self.assert_said(lines, page["traced"]["lane"]["spool"]["name"], ".")

    def test_what_a_run_wants_is_told_once_when_its_time_comes(self):
        rows = self.get("runs")
        began = datetime.fromisoformat(next(r for r in rows if not r["run"]["ended_at"])["run"]["started_at"])

        def due(low, high):
            """What the run that goes on asks for between two hours after its start."""
            a, b = ((began + timedelta(hours=hour)).timestamp() * 1000 for hour in (low, high))
            return [reminder["text"] for reminder in self.js("reminders.due(rows, [], a, b)", rows=rows, a=a, b=b)]

        self.assertEqual(due(7.9, 8.1), ["Vent louvre: the planned time in Cellar box is over. Weigh it now."])
        self.assertEqual(due(8.1, 300), [])
        self.assertEqual(len(due(0, 300)), 2)  # the weigh-in that tells most, and the end

    def test_what_a_log_tells_of_its_dryer_is_said_and_what_it_does_not_is_left_out(self):
        told = {"air_c": 57.6, "set_c": 60, "warm_up_h": 0.4, "swing_c": 1.5, "period_h": 0.2, "hot_side_excess_c": 7}
        self.assertEqual(
            self.js("air.habitsWords(t, 'Cellar box')", t=told),
            "By this log Cellar box, set to 60 °C, holds 58 °C beside the spool, swinging by ± 1.5 °C every 12 min. "
            "It takes 24 min to warm up. A second logger was 7 °C hotter: the hot side.",
        )
        nothing = {**dict.fromkeys(told), "air_c": 57.6}
        self.assertEqual(
            self.js("air.habitsWords(t, 'Cellar box')", t=nothing),
            "By this log Cellar box holds 58 °C beside the spool.",
        )

    def test_what_the_schedule_has_loaded_is_told_when_it_is_time_and_not_before(self):
        start = {
            "id": 1,
            "spool_name": "Hinge stock",
            "dryer_name": "Tall stacker",
            "starts_at": "2027-03-06T09:00:00Z",
        }
        at = datetime(2027, 3, 6, 9, tzinfo=UTC).timestamp() * 1000
        for low, high, told in (
            (-2, -1, []),
            (-1, 1, ["Load Hinge stock into Tall stacker now, as the schedule says."]),
            (1, 9, []),
        ):
            found = self.js(
                "reminders.due([], starts, a, b)", starts=[start], a=at + 60_000 * low, b=at + 60_000 * high
            )
            self.assertEqual([reminder["text"] for reminder in found], told)

    def test_runs_are_found_by_any_word_of_them(self):
        rows = self.get("runs")
        for typed, which, names in (
            ("nylon stacker", "all", {"Hinge stock", "Gear stock"}), ("", "drying", {"Vent louvre"}),
            ("stalled", "ended", {"Star chart"}), ("zebra", "all", set()),
        ):  # fmt: skip
            found = self.js("rows.filter(r => filter.isWanted(r, text, which))", rows=rows, text=typed, which=which)
            self.assertEqual({r["run"]["spool"]["name"] for r in found}, names)

    def test_lanes_are_found_and_put_in_order(self):
        lanes = self.get("rack")["lanes"]
        names = lambda rows: [r["lane"]["spool"]["name"] for r in rows]  # noqa: E731
        self.assertEqual(names(self.js("lanes.inOrder(l, 'wettest')", l=lanes)), names(lanes))
        self.assertEqual(names(self.js("lanes.inOrder(l, 'name')", l=lanes)), sorted(names(lanes)))
        acts = [r["next"]["act"] for r in self.js("lanes.inOrder(l, 'next')", l=lanes)]
        self.assertEqual(
            acts, sorted(acts, key=["dry", "put_away", "dries_here", "drying", "ready", "no_matter"].index)
        )
        found = self.js("l.filter(t => lanes.answersTo(t, 'lidded pla'))", l=lanes)
        self.assertEqual(names(found), ["Star chart"])
        for run in Run.objects.all():
            self.assert_said([self.js("runs.runSentence(s)", s=self.get(f"runs/{run.id}"))], run.id, ".")
        for units in (METRIC, IMPERIAL):
            self.in_units(units)
            self.assert_said(self.js("ds.map(d => kit.kitSentence(d))", ds=self.get("dryers")), "kit", ".")
            told = self.js("ms.map(m => materials.materialSentence(m))", ms=self.get("materials"))
            self.assert_said(told, "materials", ".")
            self.assertEqual(len(told), 15)

    def test_box_air_has_a_sentence_in_every_state_and_never_speaks_of_humidity_first(self):
        heard = {
            "inside_g_m3": [12.0, 17.13], "room_g_m3": [11.2, 11.04], "carried": {"value": 1.04, "plus_minus": 0.4},
            "rh_first_pct": 50.2, "rh_now_pct": 9.4, "rh_unchanged_pct": 7.2,
        }  # fmt: skip
        for state in ("leaving", "level", "no_way_out", "drier"):
            told = self.js("[air.airSentence(h), air.humidityLine(h)]", h=heard | {"air_state": state})
            self.assert_said(told, state, ".")
            self.assertNotIn("humidity", told[0])
        leaves = self.js("air.airSentence(h)", h=heard | {"air_state": "leaving"})
        self.assertEqual(
            leaves,
            "Water is leaving: the box air holds 17.1 g/m³, the room 11.0 g/m³."
            " 1.0 ± 0.4 g of water carried out so far.",
        )

    def test_a_verdict_has_a_sentence_in_every_state_running_and_ended(self):
        sheet = self.get("runs/1")
        for state in self.js("Object.keys(runs.STATE_WORDS)"):
            for ended in (None, "2026-11-24T10:00:00Z"):
                verdict = sheet["verdict"] | {"state": state}
                told = {"verdict": verdict, "run": sheet["run"] | {"ended_at": ended}, "now_h": 3}
                self.assert_said([self.js("runs.runSentence(t)", t=told)], state, ".")
