"""What people type, at the edge: numbers and moments read rightly or refused by name; the page and its headers."""

import re
from datetime import UTC, datetime

from django.conf import settings
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st
from rest_framework.serializers import ValidationError

from darre.common.fields import Moment, ScientificNumber, TypedNumber

GRAMS = TypedNumber(unit="g", low=0, high=20000)


class Numbers(SimpleTestCase):
    @given(st.floats(0, 20000), st.sampled_from([",", "."]), st.integers(0, 6), st.sampled_from(["", " ", " g"]))
    def test_point_or_comma_the_number_is_the_same(self, value, mark, places, behind):
        text = f"{value:.{places}f}"
        self.assertEqual(GRAMS.to_internal_value(text.replace(".", mark) + behind), float(text))

    @given(st.text(max_size=12))
    def test_any_other_text_is_refused_in_words_and_never_read_as_some_number(self, text):
        plain = re.fullmatch(r"\s*[+\-−]?(\d+([.,]\d*)?|[.,]\d+)\s*g?\s*", text)
        try:
            value = GRAMS.to_internal_value(text)
        except ValidationError as refused:
            self.assertRegex(str(refused.detail[0]), "is not a number|is out of range|Needed: a number")
        else:
            self.assertIsNotNone(plain, text)
            self.assertTrue(0 <= value <= 20000)

    def test_only_a_field_for_very_small_numbers_takes_a_power_of_ten(self):
        diffusivity = ScientificNumber(unit="m²/s", low=0, high=1)
        for text, value in (("3e-12", 3e-12), ("3,5E-12 m²/s", 3.5e-12), ("0.25", 0.25)):
            self.assertEqual(diffusivity.to_internal_value(text), value)
        for field, text in ((GRAMS, "1e3"), (diffusivity, "e-12"), (diffusivity, "3e"), (diffusivity, "1e999")):
            with self.assertRaises(ValidationError, msg=text):
                field.to_internal_value(text)


class Moments(SimpleTestCase):
    def test_the_same_instant_by_any_offset_is_the_same(self):
        field, want = Moment(), datetime(2026, 3, 29, 0, 30, tzinfo=UTC)
        for text in ("2026-03-29T00:30:00Z", "2026-03-29T01:30:00+01:00", "2026-03-28T21:00:00-03:30"):
            self.assertEqual(field.to_internal_value(text), want)

    def test_a_bare_clock_time_an_impossible_day_and_a_number_are_refused(self):
        for data, named in (
            ("2026-10-25T01:30:00", "no zone offset"),
            ("2026-02-30T01:30:00Z", "Give the date and time"),
            (1700000000, "Give the date and time"),
        ):
            with self.assertRaisesRegex(ValidationError, named):
                Moment().to_internal_value(data)


class Page(SimpleTestCase):
    databases = {"default"}

    def test_every_room_address_is_the_page_and_no_other_host_may_be_asked(self):
        for path in ("/", "/plan?spool=1", "/runs/3", "/no/such/room"):
            answer = self.client.get(path)
            self.assertEqual(answer.status_code, 200)
            self.assertIn("default-src 'self'", answer["Content-Security-Policy"])
            self.assertNotRegex(answer["Content-Security-Policy"], r"https?:")
            self.assertEqual(answer["Cache-Control"], "no-cache")

    def test_the_built_page_names_no_address_outside_this_machine(self):
        for file in (settings.PAGE_DIR / "assets").glob("*.css"):
            self.assertNotRegex(file.read_text("utf-8"), r"url\(['\"]?https?:|@import")
        self.assertNotRegex((settings.PAGE_DIR / "index.html").read_text("utf-8"), "https?://")

    def test_other_host_names_are_not_answered(self):
        self.assertEqual(self.client.get("/api/health/", headers={"host": "elsewhere.example"}).status_code, 400)
        self.assertEqual(self.client.get("/api/health/", headers={"host": "localhost"}).json()["status"], "ok")
