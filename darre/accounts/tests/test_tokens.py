"""Programs ask with a token, as the account that made it, and as nobody once it is gone."""

from django.test import TestCase

from darre.accounts.actions.tokens import MOST
from darre.accounts.models import Account, ScriptToken
from darre.accounts.tests.opened import account, ask, let_in, phone, signed_in
from darre.history.models import HistoryEntry


@let_in
class Tokens(TestCase):
    @classmethod
    def setUpTestData(cls):
        account("Olive", "owner")
        cls.ada = account("Ada", "member")
        account("Guy", "guest")

    def made(self, name, client=None):
        return ask(client or signed_in(name), "post", "/api/tokens/", {"name": "nightly"}).json()

    def program(self, secret, method="get", path="/api/preferences/", body=None):
        """Without a session, a page's token or an origin."""
        return getattr(phone(), method)(
            path, {} if body is None else body, content_type="application/json", secure=True,
            HTTP_AUTHORIZATION=f"Bearer {secret}",
        )  # fmt: skip

    def test_it_does_what_its_account_may_and_the_history_bears_the_account(self):
        rim = {"name": "Rim", "kind": "card"}
        secret = self.made("Ada")["secret"]
        self.assertEqual(self.program(secret).status_code, 200)
        self.assertEqual(self.program(secret, "post", "/api/empty-spools/", rim).status_code, 201)
        self.assertEqual(HistoryEntry.objects.latest("pk").by, "Ada")
        self.assertEqual(self.program(secret, path="/api/accounts/").json()["code"], "owners_only")
        guest = self.made("Guy")["secret"]
        self.assertEqual(self.program(guest).status_code, 200)
        self.assertEqual(self.program(guest, "post", "/api/empty-spools/", rim).json()["code"], "guests_look")

    def test_a_wrong_one_is_nobody_and_so_is_a_session_key_or_a_devices_token(self):
        for wrong in ("", "x", self.made("Ada")["secret"] + "x", "\u00fc" * 40):
            self.assertEqual(self.program(wrong).status_code, 401, wrong)

    def test_it_is_told_once_and_stored_as_a_hash(self):
        made = self.made("Ada")
        self.assertFalse(ScriptToken.objects.filter(token_hash__contains=made["secret"][:8]).exists())
        told = signed_in("Ada").get("/api/tokens/", secure=True).json()
        self.assertEqual([set(row) for row in told], [{"id", "name", "made_at"}])

    def test_once_removed_or_its_account_gone_it_opens_nothing(self):
        ada = signed_in("Ada")
        first, second = self.made("Ada", ada), self.made("Ada", ada)
        self.assertEqual(ask(ada, "delete", f"/api/tokens/{first['token']['id']}/").status_code, 204)
        self.assertEqual(self.program(first["secret"]).status_code, 401)
        self.assertEqual(self.program(second["secret"]).status_code, 200)
        Account.objects.filter(pk=self.ada.pk).delete()
        self.assertEqual(self.program(second["secret"]).status_code, 401)

    def test_nobody_sees_or_removes_those_of_others(self):
        made = self.made("Ada")
        olive = signed_in("Olive")
        self.assertEqual(olive.get("/api/tokens/", secure=True).json(), [])
        self.assertEqual(ask(olive, "delete", f"/api/tokens/{made['token']['id']}/").status_code, 404)

    def test_a_program_makes_no_tokens_and_there_is_an_end_to_them(self):
        ada = signed_in("Ada")
        secret = self.made("Ada", ada)["secret"]
        self.assertEqual(self.program(secret, "post", "/api/tokens/", {"name": "more"}).status_code, 403)
        for _ in range(MOST - 1):
            self.made("Ada", ada)
        self.assertEqual(self.made("Ada", ada)["code"], "too_many")


class Alone(TestCase):
    def test_on_the_machine_alone_none_is_needed(self):
        told = self.client.post("/api/tokens/", {"name": "nightly"}, content_type="application/json")
        self.assertEqual((told.status_code, told.json()["code"]), (409, "not_signed_in"))
        self.assertEqual(self.client.get("/api/tokens/").json(), [])
