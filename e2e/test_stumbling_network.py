"""A network that fails for a moment: a page is fetched once more, and what was not answered can be asked again."""

from playwright.sync_api import expect

from e2e.browser import BrowserCase


class StumblingNetwork(BrowserCase):
    def test_a_page_whose_part_fails_once_opens_all_the_same(self):
        self.expected_errors = "ERR_"
        cut = []
        self.page.route("**/assets/rest-*.js", lambda route: (cut.append(route.request.url), route.abort()), times=1)
        self.page.goto(f"{self.live_server_url}/people")
        expect(self.page.get_by_label("Your name")).to_be_visible()
        self.assertEqual(len(cut), 1)

    def test_who_is_there_is_asked_again_where_nobody_answered(self):
        self.expected_errors = "ERR_"
        self.page.route("**/api/session/", lambda route: route.abort())
        self.page.goto(f"{self.live_server_url}/people")
        again = self.page.get_by_role("button", name="Try again")
        expect(again).to_be_visible()
        self.page.unroute("**/api/session/")
        again.click()
        expect(self.page.get_by_label("Your name")).to_be_visible()
