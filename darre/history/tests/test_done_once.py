"""An act that is sent again, because no answer was heard, is done once."""

from uuid import uuid4

from django.test import Client, TestCase, TransactionTestCase

from darre.common.tests.at_once import at_once
from darre.demo.tests.fresh import load_demo_world
from darre.history.models import HistoryEntry
from darre.inventory.models import Spool
from darre.places.models import Place, Stay
from darre.runs.models import Run


def one_server():
    """A client that several threads may use at once, as they use one server: its first request lays the way."""
    found = Client(raise_request_exception=False)
    found.get("/api/health/")
    return found


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
        server = one_server()
        answers = at_once(lambda: move(key, client=server), 6)
        self.assertEqual(Stay.objects.count(), before + 1)
        entry = HistoryEntry.objects.get(act_key=key).pk
        self.assertEqual([answer.json()["undo"] for answer in answers], [entry] * 6)

    def test_a_table_that_is_stored_in_parts_is_of_one_of_them_and_undone_nothing_of_it_is_left(self):
        load_demo_world(self)
        key, before, server = uuid4(), set(Run.objects.values_list("pk", flat=True)), one_server()
        text = "Spool\tStart\tTemp\tHours\nGear stock\t2026-03-02 12:00\t60\t5\nGear stock\t2026-04-02 12:00\t60\t6\n"
        body = {"text": text, "zone": "UTC", "scale": 2, "dryer": 2}

        def add():
            headers = {"X-Darre-Act": str(key)}
            return server.post("/api/runs/table/", body, content_type="application/json", headers=headers)

        [undo] = {answer.json()["undo"] for answer in at_once(add, 3)}
        self.assertEqual(Run.objects.count(), len(before) + 2)
        self.assertEqual(server.post(f"/api/history/{undo}/undo/").status_code, 200)
        self.assertEqual(set(Run.objects.values_list("pk", flat=True)), before)
