"""What every slip over the page keeps to: the focus, how it is left, and the page behind it."""

from playwright.sync_api import expect

from e2e.browser import BrowserCase


class OverThePage(BrowserCase):
    def slip(self):
        return self.page.get_by_role("dialog")

    def focus_is_within(self):
        return self.page.evaluate("document.querySelector('[role=dialog]').contains(document.activeElement)")

    def moving(self):
        """The slip that asks where Rain gauge went, opened by its key from its lane."""
        self.open("/")
        lane = self.page.get_by_role("list", name="Spools").get_by_role("link", name="Rain gauge")
        lane.focus()
        self.page.keyboard.press("m")
        expect(self.page.get_by_role("dialog", name="Where did Rain gauge go?")).to_have_attribute("aria-modal", "true")
        expect(self.slip().get_by_role("button", name="Shelf")).to_be_visible()
        return lane

    def test_tab_goes_round_within_it_and_esc_gives_the_focus_back(self):
        lane = self.moving()
        fields = self.slip().get_by_role("button").count()
        self.assertGreater(fields, 3)
        seen = set()
        for _ in range(2 * fields):
            self.page.keyboard.press("Tab")
            self.assertTrue(self.focus_is_within())
            seen.add(self.page.evaluate("document.activeElement.textContent"))
        self.assertIn("Cancel", seen)
        self.page.keyboard.press("Shift+Tab")
        self.assertTrue(self.focus_is_within())
        self.page.keyboard.press("Escape")
        expect(self.slip()).to_have_count(0)
        expect(lane).to_be_focused()

    def test_nothing_but_esc_and_a_click_beside_it_leaves_it(self):
        self.moving()
        self.page.evaluate("document.querySelector('main a').focus()")
        self.assertTrue(self.focus_is_within())
        self.page.keyboard.press("p")
        self.page.keyboard.press("PageDown")
        self.assertEqual(self.page.evaluate("[location.pathname, scrollY]"), ["/", 0])
        heading = self.page.get_by_role("heading", name="Where did Rain gauge go?").bounding_box()
        self.page.mouse.move(heading["x"] + 5, heading["y"] + 5)
        self.page.mouse.down()
        self.page.mouse.move(5, 400)
        self.page.mouse.up()
        expect(self.slip()).to_have_count(1)
        self.page.mouse.click(5, 400)
        expect(self.slip()).to_have_count(0)
        self.page.keyboard.press("m")
        expect(self.slip()).to_have_count(1)
        self.page.evaluate("document.activeElement.blur()")
        self.page.keyboard.press("Escape")
        expect(self.slip()).to_have_count(0)

    def test_esc_in_an_open_list_closes_the_list_alone_and_what_is_chosen_there_counts(self):
        self.open("/")
        self.page.keyboard.press("w")
        spools = self.page.get_by_role("listbox")
        field = self.slip().get_by_label("Spool", exact=True)
        self.slip().get_by_role("button", name="All spools").click()
        expect(spools).to_be_visible()
        field.press("Escape")
        expect(spools).to_have_count(0)
        expect(self.slip()).to_have_count(1)
        self.slip().get_by_role("button", name="All spools").click()
        spools.get_by_role("option", name="Gear stock").click()
        expect(field).to_have_value("Gear stock")
        self.page.keyboard.press("Escape")
        expect(self.slip()).to_have_count(0)

    def test_signing_in_again_comes_over_it_takes_the_focus_and_leaves_what_was_typed(self):
        self.expected_errors = "401 (Unauthorized)"
        gone = {"open": True, "signed_in": False, "name": None, "role": None}
        self.open("/")
        self.page.keyboard.press("w")
        reading = self.page.get_by_label("The scale reads")
        reading.fill("796")
        self.page.route("**/api/session/", lambda route: route.fulfill(json=gone))
        self.page.route("**/api/lanes/", lambda route: route.fulfill(status=401, json={"detail": "Sign in."}))
        self.page.evaluate("dispatchEvent(new Event('visibilitychange'))")  # coming back, the page asks anew
        sign_in = self.page.get_by_role("dialog", name="Sign in")
        expect(sign_in.get_by_role("heading", level=1)).to_be_visible()
        expect(sign_in.get_by_label("Name")).to_be_focused()
        self.page.keyboard.type("Nell")
        self.page.keyboard.press("Tab")
        self.page.keyboard.type("a dry night")
        self.page.keyboard.press("Escape")
        expect(sign_in.get_by_label("Name")).to_have_value("Nell")
        expect(sign_in.get_by_label("Password")).to_have_value("a dry night")
        expect(reading).to_have_value("796")
