"""An act that is sent again, because no answer was heard, is done once."""

from uuid import uuid4

from django.test import Client, TestCase, TransactionTestCase

from darre.common.tests.at_once import at_once
from darre.demo.tests.fresh import load_demo_world
from darre.history.models import HistoryEntry
from darre.inventory.models import Spool
from darre.places.models import Place, Stay


def move(key, place=None, client=None):
    spool, to = Spool.objects.get(name="Rain gauge"), place or Place.objects.filter(kind="shelf").first().pk
    headers = {} if key is None else {"X-Darre-Act": str(key)}
    body = {"spools": [spool.pk], "place": to}
    return (client or Client()).post("/api/stays/", body, content_type="application/json", headers=headers)


class Once(TestCase):
    @classmethod
    def setUpTestData(cls):
        load_demo_world(cls)

    def test_the_same_key_is_done_once_and_answered_with_its_entry(self):
        key, before = uuid4(), Stay.objects.count()
        first, second = move(key), move(key)
        self.assertEqual((first.status_code, second.status_code), (201, 200))
        self.assertEqual(second.json(), {"undo": first.json()["undo"], "repeated": True})
        self.assertEqual(Stay.objects.count(), before + 1)

    def test_another_key_or_none_is_another_act(self):
        before = Stay.objects.count()
        for key in (uuid4(), uuid4(), None, None):
            self.assertEqual(move(key).status_code, 201)
        self.assertEqual(Stay.objects.count(), before + 4)

    def test_what_was_refused_may_be_sent_again(self):
        key = uuid4()
        self.assertEqual(move(key, place=9999).status_code, 400)
        self.assertEqual(move(key).status_code, 201)

    def test_an_act_that_was_undone_is_not_done_again(self):
        key = uuid4()
        undo = move(key).json()["undo"]
        before = Stay.objects.count() - 1
        self.client.post(f"/api/history/{undo}/undo/")
        self.assertEqual(move(key).json()["undo"], undo)
        self.assertEqual(Stay.objects.count(), before)

    def test_a_key_that_is_none_is_said(self):
        answer = move("seven")
        self.assertEqual((answer.status_code, answer.json()["code"]), (400, "bad_key"))

    def test_reading_bears_no_key(self):
        key = uuid4()
        move(key)
        told = self.client.get("/api/places/", headers={"X-Darre-Act": str(key)}).json()
        self.assertEqual(len(told), Place.objects.count())


class AtOnce(TransactionTestCase):
    def test_sent_by_several_tabs_at_one_moment_it_is_done_once_and_acknowledged_to_all(self):
        load_demo_world(self)
        key, before = uuid4(), Stay.objects.count()
        answers = at_once(lambda: move(key, client=Client(raise_request_exception=False)), 6)
        self.assertEqual(Stay.objects.count(), before + 1)
        entry = HistoryEntry.objects.get(act_key=key).pk
        self.assertEqual([answer.json()["undo"] for answer in answers], [entry] * 6)
