"""What the page says of cases, prints and practice, and the geometry of the lean, over all that the server answers."""

import itertools
import math
import random

from darre.demo.tests.fresh import load_demo_world
from darre.diagnosis.models import Case
from drying.diagnosis.bayes import VerdictKind
from drying.diagnosis.evidence_table import WET, evidence_table
from e2e.parts import IMPERIAL, METRIC, PartsCase
from e2e.test_parts import BROKEN
from gcode.reader import PrintFileSummary

CHANCE = random.Random(11)
TABLE = evidence_table()


class Chances(PartsCase):
    def test_a_chance_is_told_in_tens_and_near_the_ends_in_hundreds_and_never_as_certain(self):
        for p, want in (
            (0.0, "under 1 chance in 100"), (0.004, "under 1 chance in 100"), (0.01, "1 chance in 100"),
            (0.03, "3 chances in 100"), (0.06, "1 chance in 10"), (0.14, "1 chance in 10"), (0.5, "5 chances in 10"),
            (0.86, "9 chances in 10"), (0.949, "9 chances in 10"), (0.97, "97 chances in 100"),
            (0.994, "99 chances in 100"), (0.996, "over 99 chances in 100"), (1.0, "over 99 chances in 100"),
        ):  # fmt: skip
            self.assertEqual(self.js("cases.chances(p)", p=p), want, p)
            self.assertEqual(self.js("cases.inTen(p)", p=p), want.replace(" chances", "").replace(" chance", ""))

    def test_a_higher_chance_is_never_told_as_a_lower_one(self):
        def worth(told):
            share = [int(word) for word in told.split() if word.isdigit()]
            over = 0.001 if told.startswith("over") else -0.001 if told.startswith("under") else 0.0
            return share[0] / share[1] + over

        told = [worth(self.js("cases.inTen(p)", p=n / 500)) for n in range(501)]
        self.assertEqual(told, sorted(told))
        for n, value in enumerate(told):
            self.assertLess(abs(value - n / 500), 0.051, n / 500)

    def test_bits_carry_their_sign_and_one_place(self):
        for bits, want in ((4.139, "+4.1"), (-1.66, "−1.7"), (0.0, "+0.0"), (-0.004, "0.0"), (19.6, "+20")):
            self.assertEqual(self.js("cases.bitsWords(x)", x=bits), want)


class Words(PartsCase):
    @classmethod
    def setUpTestData(cls):
        load_demo_world(cls)

    def whole(self, *sentences):
        for sentence in sentences:
            self.assertNotRegex(sentence, BROKEN)
            self.assertTrue(sentence[:1].isupper() or sentence[:1].isdigit() or sentence == "", sentence)

    def read(self, case):
        return self.client.get(f"/api/cases/{case.pk}/").json()

    def test_every_sign_check_cause_and_verdict_of_the_core_has_words_and_no_other_has(self):
        self.assertEqual(set(self.js("Object.keys(cases.SIGN_WORDS)")), set(TABLE.signs))
        self.assertEqual(set(self.js("Object.keys(cases.CAUSE_WORDS)")), set(TABLE.causes))
        self.assertEqual(set(self.js("Object.keys(cases.CAUSE_STEPS)")), set(TABLE.causes))
        self.assertEqual(set(self.js("Object.keys(cases.CHECK_WORDS)")), set(TABLE.checks))
        self.assertEqual(set(self.js("Object.keys(cases.VERDICT_WORDS)")), {k.value for k in VerdictKind})
        for words in self.js("Object.values(cases.SIGN_WORDS)"):
            self.assertEqual(set(words), {"name", "look", "seen", "unseen"})
            self.whole(words["name"], words["look"])

    def test_the_walk_shows_each_check_once_with_the_signs_that_the_core_gives_it(self):
        page = self.read(Case.objects.first())
        signs = {kept["check"]: kept["signs"] for kept in page["checks"]}
        self.assertEqual({check: [s for s in kept.signs if s != WET] for check, kept in TABLE.checks.items()}, signs)
        walk = self.js("cases.WALK")
        self.assertEqual(sorted([*walk, "weigh"]), sorted(TABLE.checks))
        self.assertEqual(sorted(s for c in walk for s in signs[c]), sorted(TABLE.signs))

    def test_every_case_is_told_in_whole_sentences_open_and_closed_in_either_units(self):
        pages = [self.read(case) for case in Case.objects.all()]
        bare = self.client.post(
            "/api/cases/", {"spool": Case.objects.first().spool_id}, content_type="application/json"
        ).json()["case"]["id"]
        pages.append(self.client.get(f"/api/cases/{bare}/").json())
        for units, page in itertools.product((METRIC, IMPERIAL), pages):
            self.in_units(units)
            self.whole(
                self.js("cases.caseSentence(p.evidence, p.verdict)", p=page),
                self.js("cases.tableRange(p.evidence)", p=page),
                self.js("cases.restsOn(p.evidence) ?? ''", p=page),
                self.js("prints.sameFileWords(p)", p=page),
            )
            started = self.js("cases.startWords(p.evidence, p.material_short)", p=page)
            self.assertNotRegex(started, BROKEN)
            self.assertIn(page["material_short"], started)
            if page["verdict"]:
                self.whole(self.js("thresholdWords.thresholdLine(p.material_short, p.verdict)", p=page))
        rows = self.client.get("/api/cases/").json()
        for shown in (rows, rows[:1], rows[1:], [r for r in rows if r["verdict"]], []):
            self.whole(self.js("cases.casesSentence(r)", r=shown))

    def test_every_verdict_and_cause_makes_a_sentence_and_only_some_name_a_cause(self):
        for kind, cause in itertools.product([k.value for k in VerdictKind], ["", *TABLE.base_rates]):
            told = self.js("cases.verdictSentence({kind, cause})", kind=kind, cause=cause)
            if cause or kind not in ("other", "water_and_other"):
                self.whole(told)
            named = self.js("cases.CAUSE_WORDS")[cause] if cause else None
            self.assertEqual(bool(named) and named in told, bool(named) and kind in ("other", "water_and_other"), told)

    def test_most_is_said_to_rest_on_the_sign_whose_absence_moves_the_chance_most(self):
        evidence = self.read(Case.objects.get(title="Rain funnel with strings"))["evidence"]
        most = max(evidence["weights"], key=lambda w: abs(w["p_without"] - evidence["p_water"]))
        told = self.js("cases.restsOn(e)", e=evidence)
        self.assertIn(self.js("cases.SIGN_WORDS")[most["sign"]]["name"].lower(), told)
        self.assertIsNone(self.js("cases.restsOn(e)", e={**evidence, "weights": []}))

    def test_a_mark_that_does_not_move_at_the_places_shown_is_said_to_stay(self):
        def marks(trouble):
            return {"clean_pct": trouble / 4, "trouble_pct": trouble, "spread": 1.5}

        for before, after, want in (
            (0.45, 0.53, "0.45 → 0.53 %"),
            (0.45, 0.4504, "stays at 0.45 %"),
            (4.0, 3.9, "4.0 → 3.9 %"),
        ):
            self.assertEqual(self.js("thresholdWords.thresholdMove(a, b)", a=marks(before), b=marks(after)), want)

    def test_every_fact_of_a_file_that_can_differ_is_told_by_its_name_and_unit(self):
        for name in PrintFileSummary.__dataclass_fields__:
            told = self.js("prints.differenceWords(d)", d={"name": name, "one": 1.0, "other": None})
            self.assertNotRegex(told, BROKEN)
            self.assertNotIn("_", told)
            self.assertIn("→ not said", told)

    def test_a_change_is_told_with_its_range_and_no_finding_as_such(self):
        base = {"before": 400, "after": 600, "change_pct": 50.2, "low_pct": 41.0, "high_pct": 60.1, "finding": True}
        for change, want in (
            (base, "+50 % (41 to 60)"),
            (
                {**base, "change_pct": -12, "low_pct": -30, "high_pct": 6, "finding": False},
                "−12 % (−30 to 6): no finding",
            ),
            ({**base, "low_pct": None, "high_pct": None, "finding": False}, "+50 %, one bar each: no finding"),
        ):
            self.assertEqual(self.js("prints.changeWords(c)", c=change), want)

    def test_every_material_that_can_be_practised_on_has_parts_of_the_shed(self):
        from drying.diagnosis.practice import MATERIALS

        for material, number in itertools.product(MATERIALS, range(3)):
            self.assertNotEqual(self.js("practice.practicePart(m, n)", m=material, n=number), "part", material)
        self.assertEqual(self.js("practice.practicePart('unknown', 3)"), "part")


class ChanceInWords(PartsCase):
    def evidence(self):
        weights = [
            {"sign": s, "text": "", "bits": CHANCE.uniform(-6, 6), "p_after": 0.5, "p_without": 0.5}
            for s in CHANCE.sample(list(TABLE.signs), CHANCE.randint(0, 9))
        ]
        return {"start_bits": CHANCE.uniform(-5, 4), "weights": weights}

    def test_each_bar_begins_where_the_last_one_ended_and_the_last_ends_at_the_sum(self):
        for _ in range(60):
            evidence = self.evidence()
            bars = self.js("evidenceBars.barsOf(e)", e=evidence)
            self.assertEqual([b["key"] for b in bars], ["start", *[w["sign"] for w in evidence["weights"]]])
            self.assertEqual(bars[0]["from"], 0)
            for one, other in itertools.pairwise(bars):
                self.assertEqual(one["to"], other["from"])
            total = evidence["start_bits"] + sum(w["bits"] for w in evidence["weights"])
            self.assertAlmostEqual(bars[-1]["to"], total)

    def test_the_scale_holds_every_bar_and_its_names_do_not_run_into_each_other(self):
        for _ in range(60):
            bars, width = self.js("evidenceBars.barsOf(e)", e=self.evidence()), CHANCE.choice([240, 350, 600, 900])
            ends, named = self.js(
                "(() => { const s = evidenceBars.barScale(b, w, 14);"
                " return [b.flatMap(it => [s.x(it.from), s.x(it.to)]),"
                " s.named.map(it => [s.x(it.at), it.p, it.at])] })()",
                b=bars, w=width,
            )  # fmt: skip
            self.assertGreaterEqual(min(ends), 14 - 1e-6)
            self.assertLessEqual(max(ends), width - 14 + 1e-6)
            self.assertIn(0.5, [p for _, p, _ in named])
            places = sorted(x for x, _, _ in named)
            self.assertTrue(all(b - a > 74 for a, b in itertools.pairwise(places)), places)
            for _, p, at in named:
                self.assertAlmostEqual(at, math.log2(p / (1 - p)))

    def test_a_bar_to_the_right_is_for_the_water(self):
        x = self.js(
            "(() => { const s = evidenceBars.barScale([{key: '', from: 0, to: 2}], 400, 10);"
            " return [s.x(0), s.x(2)] })()"
        )
        self.assertLess(x[0], x[1])
