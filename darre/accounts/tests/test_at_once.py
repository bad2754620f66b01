"""Several at the same moment: one first owner, one use of an invitation, and never a workshop without an owner."""

from django.core.cache import cache
from django.test import Client, TransactionTestCase

from darre.accounts.models import Account
from darre.accounts.selectors import owners
from darre.accounts.tests.opened import account, ask, let_in, phone, signed_in
from darre.common.tests.at_once import at_once

CLIENTS = 8


class AtOnce(TransactionTestCase):
    def test_there_is_one_first_account(self):
        def make():
            body = {"name": "Olive", "password": "three wet spools"}
            return Client().post("/api/accounts/first/", body, content_type="application/json")

        told = sorted(answer.status_code for answer in at_once(make, CLIENTS))
        self.assertEqual(told, [201] + [409] * (CLIENTS - 1))
        self.assertEqual(Account.objects.count(), 1)

    @let_in
    def test_an_invitation_is_used_once_and_a_name_is_given_once(self):
        account("Olive", "owner")
        olive = signed_in("Olive")
        cookies = olive.cookies

        def invite():
            client = phone()
            client.cookies = cookies
            return ask(client, "post", "/api/accounts/", {"name": "Nell", "role": "member"})

        answers = at_once(invite, CLIENTS)
        self.assertEqual(sorted(a.status_code for a in answers), [201] + [409] * (CLIENTS - 1))
        secret = next(a.json()["secret"] for a in answers if a.status_code == 201)
        cache.clear()

        def join():
            return ask(phone(), "post", "/api/accounts/join/", {"secret": secret, "password": "a dry winter night"})

        told = sorted(answer.status_code for answer in at_once(join, CLIENTS))
        self.assertEqual(told, [200] + [409] * (CLIENTS - 1))

    @let_in
    def test_two_owners_who_take_the_right_from_each_other_leave_one(self):
        ids = {name: account(name, "owner").pk for name in ("Olive", "Ada")}
        clients = {name: signed_in(name) for name in ids}
        others = iter([("Olive", ids["Ada"]), ("Ada", ids["Olive"])] * 3)

        def demote():
            name, other = next(others)
            client = phone()
            client.cookies = clients[name].cookies
            return ask(client, "put", f"/api/accounts/{other}/", {"role": "member"})

        at_once(demote, 6)
        self.assertEqual(owners().count(), 1)
