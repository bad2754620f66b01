"""What the page says of containers, desiccant and a spool's page, over the demo world and what may stand beside it."""

import itertools
import re

from darre.demo.tests.fresh import load_demo_world
from darre.inventory.models import Spool
from darre.moisture.api.serializers import RegenerationSerializer
from drying.storage.container import PlaceKind
from drying.storage.desiccant import DesiccantKind, Indicator, Pouch, desiccant, regeneration
from e2e.parts import IMPERIAL, METRIC, PartsCase
from e2e.test_parts import BROKEN


class Keeping(PartsCase):
    @classmethod
    def setUpTestData(cls):
        load_demo_world(cls)

    def whole(self, *sentences):
        for sentence in sentences:
            self.assertNotRegex(sentence, BROKEN)
            self.assertRegex(sentence, r"^[A-Z0-9].*[.]$")

    def test_every_kind_of_place_desiccant_dye_and_pouch_has_words(self):
        for words, kinds in (
            ("PLACE_WORDS", PlaceKind), ("DESICCANT_WORDS", DesiccantKind), ("INDICATOR_WORDS", Indicator),
            ("POUCH_WORDS", Pouch),
        ):  # fmt: skip
            self.assertEqual(set(self.js(f"Object.keys(storage.{words})")), {k.value for k in kinds})

    def test_every_container_is_told_in_whole_sentences_in_either_units(self):
        holdings = self.client.get("/api/storage/").json()
        self.assertGreaterEqual(len(holdings), 3)
        for units in (METRIC, IMPERIAL):
            self.in_units(units)
            for holding in holdings:
                self.whole(
                    self.js("storage.desiccantLine(it)", it=holding), self.js("storage.ingressLine(it)", it=holding)
                )
                self.whole(*self.js("storage.regenerationLines(it)", it=holding))
                self.whole(
                    self.js("storage.ingressLine(it)", it={**holding, "usual_ingress": not holding["usual_ingress"]})
                )
            for shown in (holdings, holdings[:1], []):
                self.whole(self.js("storage.storageSentence(it)", it=shown))
            empty = [{**holding, "contents": [], "desiccant": None} for holding in holdings]
            self.assertEqual(
                self.js("storage.storageSentence(it)", it=empty), "No spool is in a container. Move one there with M."
            )

    def test_a_night_in_the_open_is_said_with_what_would_show_it(self):
        bench, neither = [{"id": 2, "name": "Bench scale"}], "neither your scale nor a print can tell. "
        late = "Bench scale shows what it has taken up after 5 d in the open; a print would not in two weeks."
        never = "Your scales would not show it in two weeks; a print shows the water after 8 d in the open."
        for scale_h, prints_h, said in (
            (130, None, neither + late),
            (None, 200, neither + never),
            (6, 30, "Bench scale shows it; a print shows the water after 30 h in the open."),
            (6, 9, "Bench scale and a print both show it."),
        ):
            night = {"adds_pct": 0.031, "scale": 2, "scale_h": scale_h, "prints_h": prints_h}
            line = self.js("spools.dampNightLine({damp_night: n}, s)", n=night, s=bench)
            self.assertEqual(line, f"A night in the open adds 0.03 %: {said}")
        self.assertEqual(self.js("spools.dampNightLine({damp_night: null}, s)", s=bench), "")
        for prints_h, said in (
            (None, "no print shows it, even after two weeks."),
            (200, "no print shows it yet; a print shows the water after 8 d in the open."),
        ):
            night = {"adds_pct": 0.031, "scale": None, "scale_h": None, "prints_h": prints_h}
            line = self.js("spools.dampNightLine({damp_night: n}, [])", n=night)
            self.assertEqual(line, f"A night in the open adds 0.03 %: {said}")

    def test_an_empty_spool_s_mass_is_said_with_how_sure_it_is_and_how_it_is_known(self):
        for grams, sd, method, said in (
            (200, 44, "unknown", "200 ± 88 g, not known"),
            (195.34, 0.2, "measured", "195.3 ± 0.4 g, weighed empty"),
            (212, 3, "twin", "212 ± 6 g, an emptied twin"),
        ):
            told = {"tare_g": grams, "tare_sd_g": sd, "tare_method": method}
            self.assertEqual(self.js("spools.tareWords(s)", s=told), said)

    def test_every_desiccant_in_every_pouch_is_dried_with_its_caution(self):
        held = next(h for h in self.client.get("/api/storage/").json() if h["place"]["name"] == "Dry bin")
        for kind, indicator, pouch in itertools.product(DesiccantKind, Indicator, Pouch):
            told = {"kind": kind.value, "indicator": indicator.value, "pouch": pouch.value}
            held["desiccant"] |= {
                "fill": {**held["desiccant"]["fill"], **told},
                "name": desiccant(kind).name,
                "regeneration": RegenerationSerializer(regeneration(kind, indicator, pouch)).data,
            }
            lines = self.js("storage.regenerationLines(it)", it=held)
            self.whole(*lines)
            told = " ".join(lines)
            self.assertEqual("cobalt" in told, indicator is Indicator.BLUE, told)
            self.assertEqual("Take the card out" in told, indicator is Indicator.CARD)
            self.assertIn("will never hold food again", told)
            self.assertEqual("too cool" in told, held["desiccant"]["regeneration"]["too_cool"])
            if "too cool" not in told:
                self.assertRegex(told, r"\d °C for \d")

    def test_every_spools_page_says_how_it_is_and_what_would_dry_it(self):
        for spool in Spool.objects.all():
            page = self.client.get(f"/api/spools/{spool.pk}/page/").json()
            for units in (METRIC, IMPERIAL):
                self.in_units(units)
                dispute = self.js("spools.disputeLine(p)", p=page)
                self.whole(self.js("spools.spoolSentence(p)", p=page), dispute)
                if page["traced"]["lane"]["run"]:
                    self.assertNotIn("none of your dryers", dispute)
                for learned in page["learned"]:
                    self.whole(self.js("spools.learnedLine(it)", it=learned))
                dries = page["traced"]["lane"]["run"] is not None
                names = [self.js("spools.outcomeWords(n, true, d)", n=o["name"], d=dries) for o in page["outcomes"]]
                self.assertEqual("left in the dryer, shut" in names, dries)
                self.assertEqual(len(set(names)), len(names))
                for name in names:
                    self.assertNotRegex(name, BROKEN)
                self.assertEqual(any(re.search(r"\d g\b", n) for n in names), units is METRIC, names)

    def test_a_span_says_hours_then_days_then_that_it_is_long(self):
        for hours, want in (
            (0.2, "10 min"),
            (5.0, "5 h"),
            (47.0, "47 h"),
            (49.0, "2 d"),
            (300.0, "13 d"),
            (None, "over 2 weeks"),
        ):
            self.assertEqual(self.js("storage.span(h)", h=hours), want)
