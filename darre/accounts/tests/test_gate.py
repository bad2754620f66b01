"""Who may ask for what: without an account nobody but this machine, with one by the role."""

import os
import re
from unittest.mock import patch

from django.core.management import call_command
from django.test import Client, SimpleTestCase, TestCase
from django.urls import get_resolver

from darre.accounts.models import Account
from darre.accounts.tests.opened import NAME, PHONE, account, ask, let_in, phone, signed_in
from darre.common.test_runner import forget
from darre.demo.tests.fresh import load_demo_world
from darre.history.models import HistoryEntry
from darre.inventory.models import Spool

ANYONE = {
    ("get", "api/health/"),
    ("get", "api/session/"),
    ("post", "api/session/"),
    ("delete", "api/session/"),
    ("post", "api/accounts/join/"),
    ("post", "api/ingest/"),  # by its own token
    ("get", "api/schedule/calendar/<uuid:feed_key>.ics"),  # by the secret in the address
}
OWNERS = ("api/accounts/", "api/backups/", "api/network/", "api/restore/")
GUESTS_WRITE = {
    ("post", "api/session/password/"),
    ("post", "api/tokens/"),
    ("delete", "api/tokens/<int:token_id>/"),
}


def every_address():
    """Each address of the API with each method that its view takes."""

    def walk(patterns, before):
        for pattern in patterns:
            route = before + str(pattern.pattern)
            if hasattr(pattern, "url_patterns"):
                yield from walk(pattern.url_patterns, route)
            elif route.startswith("api/"):
                view = getattr(pattern.callback, "view_class", None)
                for method in ("get", "post", "put", "patch", "delete"):
                    if hasattr(view, method) if view else (method == "post"):
                        yield method, route

    return list(walk(get_resolver().url_patterns, ""))


def path_of(route):
    """An address of this pattern that no record has."""
    numbered = re.sub(r"<int:\w+>", "987654", route)
    keyed = re.sub(r"<uuid:\w+>", "00000000-0000-4000-8000-000000000000", numbered)
    return "/" + re.sub(r"<(str|slug):\w+>", "nothing", keyed)


def code_of(answer):
    told = answer.json() if "json" in answer.get("Content-Type", "") else None
    return told.get("code") if isinstance(told, dict) else None


def least(method, route):
    if (method, route) in ANYONE:
        return 0
    if route.startswith(OWNERS) or (method, route) == ("put", "api/data-package/"):
        return 3
    return 1 if method == "get" or (method, route) in GUESTS_WRITE else 2


@let_in
class EveryAddress(TestCase):
    @classmethod
    def setUpTestData(cls):
        for role in ("guest", "member", "owner"):
            account(role.title(), role)
        account("Second", "owner")  # so that no act is refused for being on the last owner

    def test_each_asks_for_the_role_it_must(self):
        addresses = every_address()
        self.assertGreater(len(addresses), 120)
        people = [phone()] + [signed_in(name) for name in ("Guest", "Member", "Owner")]
        for method, route in addresses:
            needed = least(method, route)
            if (method, route) in {("delete", "api/session/"), ("post", "api/backups/"), ("put", "api/network/")}:
                people_asked = people[:needed]  # it would sign out, write a file or start the server again
            else:
                people_asked = people
            for rank, client in enumerate(people_asked):
                with self.subTest(method=method, route=route, rank=rank):
                    answer = ask(client, method, path_of(route))
                    stopped = code_of(answer) in ("sign_in", "guests_look", "owners_only")
                    self.assertEqual(stopped, rank < needed, code_of(answer))
                    if stopped:
                        self.assertEqual(answer.status_code, 401 if rank == 0 else 403)

    def test_what_anybody_gets_without_an_account_holds_no_record(self):
        load_demo_world(self)
        forget()
        names = list(Spool.objects.values_list("name", flat=True))
        for path in ("/", "/spools/1", "/api/", "/api/nowhere/", "/api/session/", "/api/health/", "/api/schema/"):
            told = phone().get(path, secure=True).content.decode()
            self.assertFalse([name for name in names if name in told], path)


class BeforeThereIsAnOwner(TestCase):
    """However it is served."""

    def ask(self, **more):
        return Client(raise_request_exception=False).get("/api/rack/", **more)

    def test_this_machine_is_answered_by_its_own_names_and_asked_for_nothing(self):
        for host in ("127.0.0.1:8642", "localhost", "[::1]:8642"):
            self.assertEqual(self.ask(HTTP_HOST=host).status_code, 200, host)

    def test_another_device_is_not_whatever_name_it_gives(self):
        for opened in (False, True):
            with self.settings(NETWORK_OPEN=opened, ALLOWED_HOSTS=["localhost", NAME]):
                for host in ("localhost", NAME):
                    answer = self.ask(HTTP_HOST=host, REMOTE_ADDR=PHONE)
                    self.assertEqual(answer.status_code, 403)
                    self.assertEqual(answer.json()["code"], "not_open")

    def test_nor_is_this_machine_by_a_name_that_others_know(self):
        with self.settings(NETWORK_OPEN=True, ALLOWED_HOSTS=["localhost", NAME]):
            self.assertEqual(self.ask(HTTP_HOST=NAME).status_code, 403)

    def test_somebody_who_is_invited_only_is_no_owner_yet(self):
        invited = Account(name="Ada", role="owner")
        invited.set_unusable_password()
        invited.save()
        with let_in:
            self.assertEqual(self.ask(HTTP_HOST="localhost").status_code, 200)
            self.assertEqual(self.ask(HTTP_HOST=NAME, REMOTE_ADDR=PHONE).json()["code"], "not_open")

    def test_the_machine_alone_asks_nobody_even_where_there_are_accounts(self):
        account("Ada", "owner")
        self.assertEqual(self.ask(HTTP_HOST="localhost").status_code, 200)

    def test_once_it_is_open_everyone_signs_in_here_too(self):
        account("Ada", "owner")
        with let_in:
            self.assertEqual(self.ask(HTTP_HOST="localhost").json()["code"], "sign_in")


@let_in
class Forged(TestCase):
    """A write needs the token that only our own page can read, and our own origin."""

    @classmethod
    def setUpTestData(cls):
        account("Ada", "owner")

    def test_without_the_token_nothing_is_written(self):
        client = signed_in("Ada")
        body = {"name": "Rim", "kind": "card"}
        for token in ("", "a" * 32):
            answer = ask(client, "post", "/api/empty-spools/", body, HTTP_X_CSRFTOKEN=token)
            self.assertEqual((answer.status_code, answer.json()["code"]), (403, "forged"))
        self.assertEqual(ask(client, "post", "/api/empty-spools/", body).status_code, 201)

    def test_another_site_is_refused_with_every_kind_of_body_even_with_the_token(self):
        client = signed_in("Ada")
        token = client.cookies["darre_token"].value
        for kind in ("application/json", "text/plain", "application/x-www-form-urlencoded", "multipart/form-data"):
            answer = client.post(
                "/api/empty-spools/",
                b'{"name": "Rim", "kind": "card"}',
                content_type=kind,
                secure=True,
                HTTP_ORIGIN="https://elsewhere.example",
                HTTP_X_CSRFTOKEN=token,
            )
            self.assertEqual((answer.status_code, answer.json()["code"]), (403, "other_origin"), kind)

    def test_a_plain_page_of_the_same_name_may_not_write_to_the_safe_one(self):
        answer = ask(signed_in("Ada"), "post", "/api/empty-spools/", {"name": "Rim", "kind": "card"},
                     HTTP_ORIGIN=f"http://{NAME}")  # fmt: skip
        self.assertEqual(answer.status_code, 403)


@let_in
class WhoDidWhat(TestCase):
    def test_the_history_bears_the_account_whatever_name_is_sent_along(self):
        account("Ada", "member")
        account("Olive", "owner")
        answer = ask(signed_in("Ada"), "post", "/api/empty-spools/", {"name": "Rim", "kind": "card"},
                     HTTP_X_DARRE_BY="Olive")  # fmt: skip
        self.assertEqual(answer.status_code, 201)
        self.assertEqual(HistoryEntry.objects.latest("pk").by, "Ada")


class Deployed(SimpleTestCase):
    @let_in
    def test_the_frameworks_own_look_at_a_deployment_finds_nothing(self):
        with patch.dict(os.environ):
            os.environ.pop("DJANGO_ALLOW_ASYNC_UNSAFE", None)  # the browser tests' own
            call_command("check", deploy=True, fail_level="WARNING")
