"""A phone in the network: invited, signed in, a label read, weighed, away and back; over TLS, on a real server."""

import re

import segno
from playwright.sync_api import expect

from e2e.browser import violations
from e2e.real_server import RealServer


class Phone(RealServer):
    def assert_no_violation(self, page):
        self.assertEqual(violations(page), [], page.url)

    def open_to_the_network(self):
        """As the owner, on the machine itself; the link that invites Nell."""
        page = self.page()
        page.goto(f"http://127.0.0.1:{self.port}/people")
        page.get_by_label("Your name").fill("Olive")
        page.get_by_label("Password").fill("too short")
        page.keyboard.press("Enter")
        expect(page.get_by_role("alert")).to_have_text("Needed: a password of at least 10 characters.")
        page.get_by_label("Password").fill("three wet spools")
        page.keyboard.press("Enter")
        heading = page.get_by_role("heading", level=1)
        expect(heading).to_contain_text(
            re.compile("On a phone, open https://|Other devices are let in"), timeout=90_000
        )
        self.assert_no_violation(page)
        page.get_by_label("Invite").fill("Nell")
        page.get_by_role("button", name="Invite", exact=True).click()
        invitation = page.get_by_role("link", name="/join#")
        expect(invitation).to_be_visible()
        return page, invitation.get_attribute("href")

    def weigh(self, phone, gross_g):
        """Weigh the spool whose label was read; the slip stays where the reading is typed only."""
        phone.get_by_role("button", name=f"Weigh {self.name}").tap()
        phone.get_by_label("The scale reads").fill(f"{gross_g:.1f}")

    def weighings(self):
        return self.rows("SELECT COUNT(*) FROM runs_weighing")[0][0]

    def joined(self, base, secret):
        phone = self.page(
            viewport={"width": 390, "height": 844}, has_touch=True, is_mobile=True, ignore_https_errors=True
        )
        phone.goto(base)
        expect(phone.get_by_role("heading", level=1)).to_have_text("Sign in to this workshop.")
        self.assert_no_violation(phone)
        phone.goto(f"{base}/join#{secret}")
        phone.get_by_label("Your new password").fill("a dry winter night")
        phone.get_by_role("button", name="Join").tap()
        expect(phone.get_by_role("heading", level=1)).to_contain_text("print clean now")
        return phone

    def read_label(self, phone, base):
        picture = self.folder / "label.png"
        segno.make(f"{base}/spools/1", error="m", micro=False).save(str(picture), scale=6, border=4)
        phone.get_by_role("button", name="More").tap()
        phone.get_by_role("menuitem", name="Scan labels").tap()
        expect(phone.get_by_role("heading", level=1)).to_have_text("Take a picture of a label.")
        phone.get_by_label("A picture of a label").set_input_files(picture)
        expect(phone.get_by_role("heading", level=1)).to_have_text("One label read.")
        self.assert_no_violation(phone)

    def test_it_is_invited_reads_a_label_weighs_and_loses_nothing_while_it_is_away(self):
        owner, link = self.open_to_the_network()
        # A machine without a network reaches its own second door by its own name.
        found = re.match(r"https://[^/]+", link)
        base = found.group() if found else f"https://localhost:{self.port + 1}"
        phone = self.joined(base, link.partition("#")[2])
        self.name = self.rows("SELECT name FROM inventory_spool WHERE id = 1")[0][0]
        last = self.rows("SELECT gross_g FROM runs_weighing WHERE spool_id = 1 ORDER BY at DESC LIMIT 1")[0][0]
        before = self.weighings()
        self.read_label(phone, base)
        self.weigh(phone, last)
        phone.get_by_role("button", name="Save").tap()
        expect(phone.get_by_text(f"Saved {last:.1f} g for {self.name}.")).to_be_visible()
        self.weighed_while_away(phone, last, before)
        self.signed_out_in_the_middle(phone, owner, base, last + 0.3)
        self.assertEqual(self.weighings(), before + 4)

    def weighed_while_away(self, phone, last, before):
        waits = phone.get_by_role("status", name="Saved in this browser")
        phone.context.set_offline(True)
        for more in (0.1, 0.2):
            self.weigh(phone, last + more)
            phone.get_by_role("button", name="Save").tap()
            expect(waits).to_contain_text(f"{last + more:.1f} g")
        self.assertEqual(self.weighings(), before + 1)
        phone.context.set_offline(False)
        expect(waits).to_have_count(0)
        stored = self.rows(f"SELECT gross_g FROM runs_weighing ORDER BY id LIMIT -1 OFFSET {before}")
        self.assertEqual([round(row[0] - last, 1) for row in stored], [0.0, 0.1, 0.2])
        by = self.rows('SELECT "by" FROM history_historyentry ORDER BY id DESC LIMIT 3')
        self.assertEqual(by, [("Nell",)] * 3)

    def signed_out_in_the_middle(self, phone, owner, base, gross_g):
        """By the owner's act: what was typed stays, waits, and is sent once she is back."""
        self.weigh(phone, gross_g)
        # What the page asks for by itself meanwhile would notice first; here it is the weighing that does.
        phone.route("**/api/**", lambda route: route.abort())
        ((nell,),) = self.rows("SELECT id FROM accounts_account WHERE name = 'Nell'")
        again = owner.evaluate(
            """async (id) => (await (await fetch(`/api/accounts/${id}/invitation/`, { method: "POST", headers: {
                "X-CSRFToken": /darre_token=([^;]+)/.exec(document.cookie)[1] } })).json()).secret""",
            nell,
        )
        other = self.page(ignore_https_errors=True)
        other.goto(f"{base}/join#{again}")
        other.get_by_label("Your new password").fill("another dry night")
        other.get_by_role("button", name="Join").click()
        expect(other.get_by_role("heading", level=1)).to_contain_text("print clean now")
        phone.route("**/live/", lambda route: route.abort())  # asked for every second
        phone.unroute("**/api/**")
        phone.get_by_role("button", name="Save").tap()
        sign_in = phone.get_by_role("heading", name="Sign in to this workshop.")
        expect(sign_in).to_be_visible()
        phone.unroute_all(behavior="ignoreErrors")
        expect(phone.get_by_text("One entry waits in this browser")).to_be_visible()
        phone.get_by_label("Name").fill("Nell")
        phone.get_by_label("Password").fill("another dry night")
        phone.get_by_role("button", name="Sign in").tap()
        expect(sign_in).to_have_count(0)
        expect(phone.get_by_text(f"saved {self.name}, {gross_g:.1f} g")).to_be_visible()
