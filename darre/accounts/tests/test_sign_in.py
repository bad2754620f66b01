"""Signing in and out, invitations, and passwords."""

from datetime import timedelta
from unittest.mock import patch

from django.contrib.auth.tokens import default_token_generator
from django.core.cache import cache
from django.test import Client, TestCase
from django.utils import timezone

from darre.accounts.models import Account
from darre.accounts.tests.opened import NAME, PASSWORD, account, ask, let_in, phone, sign_in, signed_in
from darre.history.models import HistoryEntry


class Opened(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = account("Olive", "owner")
        cls.member = account("Ada", "member")

    def is_in(self, client):
        return client.get("/api/preferences/", secure=True).status_code == 200


@let_in
class SigningIn(Opened):
    def test_name_and_password_let_in_and_signing_out_puts_out(self):
        client = phone()
        self.assertFalse(self.is_in(client))
        told = sign_in(client, "ada").json()
        self.assertEqual(told, {"open": True, "signed_in": True, "name": "Ada", "role": "member"})
        self.assertTrue(self.is_in(client))
        self.assertFalse(ask(client, "delete", "/api/session/").json()["signed_in"])
        self.assertFalse(self.is_in(client))

    def test_a_wrong_password_and_an_unknown_name_are_told_alike(self):
        first = sign_in(phone(), "Ada", "not this one").json()
        second = sign_in(phone(), "Nobody", "not this one").json()
        self.assertEqual(first, second)
        self.assertEqual((first["code"], first["field"]), ("not_known", "password"))

    def test_the_session_begins_under_a_new_key(self):
        # Somebody who put a session of theirs into this browser is not in by it afterwards.
        client = phone()
        session = client.session
        session["put"] = "there"
        session.save()
        client.cookies["darre_session"] = session.session_key
        self.assertEqual(sign_in(client, "Ada").status_code, 200)
        self.assertNotEqual(client.cookies["darre_session"].value, session.session_key)
        other = phone()
        other.cookies["darre_session"] = session.session_key
        self.assertFalse(self.is_in(other))

    def test_the_cookies_go_over_tls_alone_and_no_script_reads_the_session(self):
        client = signed_in("Ada")
        session, token = client.cookies["darre_session"], client.cookies["darre_token"]
        self.assertTrue(session["secure"] and session["httponly"] and token["secure"])
        self.assertEqual((session["samesite"], token["samesite"]), ("Lax", "Lax"))

    def test_guessing_is_stopped_by_name_for_that_device_and_whoever_tries_many_names(self):
        guesser, other = phone(), phone(REMOTE_ADDR="203.0.113.8")
        tried = [sign_in(guesser, "Ada", f"guess number {n}").status_code for n in range(12)]
        self.assertEqual(tried, [400] * 10 + [429] * 2)
        told = sign_in(guesser, "Ada").json()
        self.assertEqual(told["code"], "too_often")
        self.assertIn("15 minutes", told["message"])
        self.assertEqual(sign_in(other, "Ada").status_code, 200)  # she is not shut out herself
        tried = [sign_in(guesser, f"name {n}", "guess").status_code for n in range(30)]
        self.assertEqual(tried[-1], 429)
        self.assertLessEqual(tried.count(400), 20)

    def test_a_header_that_names_another_address_starts_no_new_count(self):
        guesser = phone()
        for n in range(10):
            sign_in(guesser, "Ada", f"guess {n}")
        guesser.get("/api/session/", secure=True)
        told = ask(guesser, "post", "/api/session/", {"name": "Ada", "password": "guess"},
                   HTTP_X_FORWARDED_FOR="198.51.100.1")  # fmt: skip
        self.assertEqual(told.status_code, 429)

    def test_who_is_removed_or_loses_a_role_is_so_at_once(self):
        ada, olive = signed_in("Ada"), signed_in("Olive")
        self.assertEqual(ask(olive, "put", f"/api/accounts/{self.member.pk}/", {"role": "guest"}).status_code, 200)
        self.assertEqual(ask(ada, "post", "/api/empty-spools/", {"name": "Rim", "kind": "card"}).status_code, 403)
        self.assertEqual(ask(olive, "delete", f"/api/accounts/{self.member.pk}/").status_code, 204)
        self.assertFalse(self.is_in(ada))
        self.assertEqual(sign_in(phone(), "Ada").status_code, 400)


@let_in
class Passwords(Opened):
    def test_changing_it_signs_the_other_devices_out_and_this_one_stays(self):
        here, there = signed_in("Ada"), signed_in("Ada")
        body = {"old": PASSWORD, "password": "a dry winter night"}
        self.assertEqual(ask(here, "post", "/api/session/password/", body).status_code, 200)
        self.assertTrue(self.is_in(here))
        self.assertFalse(self.is_in(there))
        self.assertEqual(sign_in(phone(), "Ada").status_code, 400)
        self.assertEqual(sign_in(phone(), "Ada", "a dry winter night").status_code, 200)

    def test_the_old_one_must_be_right(self):
        body = {"old": "not this one", "password": "a dry winter night"}
        told = ask(signed_in("Ada"), "post", "/api/session/password/", body)
        self.assertEqual((told.status_code, told.json()["field"]), (400, "old"))

    def test_weak_ones_are_refused_in_words(self):
        client = signed_in("Ada")
        for weak in ("short", "1234567890123", "password1234", ""):
            told = ask(client, "post", "/api/session/password/", {"old": PASSWORD, "password": weak})
            self.assertEqual((told.status_code, told.json()["field"]), (400, "password"), weak)

    def test_what_is_stored_is_no_password(self):
        for each in Account.objects.all():
            self.assertNotIn(PASSWORD, each.password)
        self.assertFalse([e for e in HistoryEntry.objects.all() if "password" in str(e.changes)])


@let_in
class Invited(Opened):
    def invite(self, name="Nell", role="member", client=None):
        return ask(client or signed_in("Olive"), "post", "/api/accounts/", {"name": name, "role": role})

    def join(self, secret, password="a dry winter night"):
        return ask(phone(), "post", "/api/accounts/join/", {"secret": secret, "password": password})

    def test_they_choose_a_password_once_and_are_in_with_their_role(self):
        secret = self.invite().json()["secret"]
        self.assertEqual(self.join(secret, "short").status_code, 400)
        self.assertEqual(self.join(secret).json()["role"], "member")
        self.assertEqual(self.join(secret, "somebody else's").json()["code"], "no_invitation")
        self.assertEqual(sign_in(phone(), "Nell", "a dry winter night").status_code, 200)

    def test_it_holds_two_days(self):
        secret = self.invite().json()["secret"]
        later = timezone.now().replace(tzinfo=None) + timedelta(days=2, minutes=5)
        with patch.object(default_token_generator, "_now", lambda: later):
            self.assertEqual(self.join(secret).json()["code"], "no_invitation")

    def test_made_up_ones_and_those_of_others_let_nobody_in(self):
        secret = self.invite().json()["secret"]
        token = secret.partition(".")[2]
        for wrong in ("", "1", f"{self.member.pk}.{token}", f"9999999999999.{token}", f"x.{token}", secret + "a"):
            self.assertGreaterEqual(self.join(wrong).status_code, 400, wrong)
            cache.clear()

    def test_the_address_to_scan_keeps_the_secret_behind_the_hash(self):
        # A browser sends nothing of that to a server, so it stands in no log.
        with self.settings(NETWORK_NAMES=["bench.local"]), patch.dict("os.environ", DARRE_SERVING_PORT="8642"):
            told = self.invite().json()
        base, _, end = told["address"].partition("#")
        self.assertEqual(end, told["secret"])
        self.assertTrue(base.startswith("https://") and base.endswith(":8643/join"))

    def test_a_new_invitation_voids_the_password_and_signs_out(self):
        ada = signed_in("Ada")
        told = ask(signed_in("Olive"), "post", f"/api/accounts/{self.member.pk}/invitation/")
        self.assertFalse(self.is_in(ada))
        self.assertEqual(sign_in(phone(), "Ada").status_code, 400)
        self.assertEqual(self.join(told.json()["secret"]).json()["name"], "Ada")

    def test_a_name_is_there_once_however_it_is_written(self):
        told = self.invite("OLIVE")
        self.assertEqual((told.status_code, told.json()["field"]), (409, "name"))

    def test_the_last_owner_stays_one(self):
        olive = signed_in("Olive")
        path = f"/api/accounts/{self.owner.pk}/"
        for answer in (
            ask(olive, "put", path, {"role": "member"}),
            ask(olive, "delete", path),
            ask(olive, "post", path + "invitation/"),
        ):
            self.assertEqual((answer.status_code, answer.json()["code"]), (409, "last_owner"))
        self.invite("Second", "owner", olive)  # who has not come in yet is no help
        self.assertEqual(ask(olive, "delete", path).status_code, 409)
        account("Third", "owner")
        self.assertEqual(ask(olive, "put", path, {"role": "guest"}).status_code, 200)


class First(TestCase):
    body = {"name": "Olive", "password": "three wet spools"}

    def make(self, client=None, **more):
        return (client or Client()).post("/api/accounts/first/", self.body, content_type="application/json", **more)

    def test_it_is_made_on_the_machine_itself_and_is_an_owner(self):
        told = self.make(HTTP_HOST="localhost")
        self.assertEqual((told.status_code, told.json()["role"]), (201, "owner"))

    def test_there_is_one_first(self):
        self.make()
        self.assertEqual(self.make().json()["code"], "not_first")
        self.assertEqual(Account.objects.count(), 1)

    def test_from_elsewhere_it_is_not_made(self):
        with self.settings(NETWORK_OPEN=True, ALLOWED_HOSTS=[NAME, "localhost"]):
            told = self.make(HTTP_HOST=NAME, REMOTE_ADDR="203.0.113.7")
        self.assertEqual(told.status_code, 403)
        self.assertFalse(Account.objects.exists())

    def test_nobody_is_let_in_before_there_is_an_owner(self):
        told = Client().put("/api/network/", {"open": True}, content_type="application/json")
        self.assertEqual((told.status_code, told.json()["code"]), (409, "no_owner"))

    def test_on_the_machine_alone_the_last_owner_may_go(self):
        self.make()
        owner = Account.objects.get()
        self.assertEqual(Client().delete(f"/api/accounts/{owner.pk}/").status_code, 204)
