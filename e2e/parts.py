"""The page's plain functions, called from Python in a blank page: sentences, numbers, units, and the map's geometry."""

from typing import Any

from django.conf import settings
from django.test import TestCase
from playwright.sync_api import Page

from e2e.chromium import shared_browser

METRIC = {"temp": "C", "mass": "g", "length": "m", "clock": "24"}
IMPERIAL = {"temp": "F", "mass": "oz", "length": "ft", "clock": "12"}


class PartsCase(TestCase):
    """`js("numbers.percent(x)", x=0.5)` gives what the page would show."""

    zone = "Europe/Berlin"
    page: Page

    @classmethod
    def setUpClass(cls):
        # Before the transaction opens: Django holds a connection for each event loop, and this may start one.
        browser = shared_browser()
        super().setUpClass()
        cls.page = browser.new_page(timezone_id=cls.zone)
        cls.addClassCleanup(cls.page.close)
        cls.page.add_script_tag(path=settings.BASE_DIR / "web/dist-parts/parts.js")

    def setUp(self):
        self.in_units(METRIC)

    def in_units(self, units: dict[str, str]) -> None:
        self.js("units.setUnits(x)", x=units)

    def js(self, expression: str, **given: Any) -> Any:
        """The value of an expression over the parts and what is given."""
        names = ", ".join(given)
        return self.page.evaluate(f"({{ {names} }}) => {{ with (window.parts) {{ return {expression}; }} }}", given)
