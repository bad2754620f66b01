"""What was computed is shared by all who ask, until a record or the minute moves."""

import threading
from datetime import timedelta
from unittest import mock
from uuid import uuid4

from django.utils import timezone

from darre.diagnosis.models import Case
from darre.equipment.models import Scale
from darre.history.models import HistoryEntry
from darre.inventory.models import Spool
from darre.moisture import lanes as lanes_module
from darre.moisture import storage as storage_module
from darre.moisture import what_ifs as what_ifs_module
from darre.moisture.apps import moisture_state
from darre.moisture.best import workshop
from darre.moisture.lanes import moistures_at, shelf_now
from darre.moisture.state import WITHOUT_WATER, shared_answer, state_of_records
from darre.moisture.storage import storage
from darre.moisture.warm import warm_up
from darre.places.models import Place, Stay
from darre.runs.models import Run, Weighing
from darre.runs.tests.test_run_path import Shed
from darre.trials.models import Trial
from drying.cache import Cache

PAGES = ("/api/rack/?span=week", "/api/lanes/", "/api/storage/", "/api/spools/3/page/")


class Kept(Shed):
    def setUp(self):
        moisture_state().forget()

    def simulated(self, act):
        """How many shelves were simulated while something was done."""
        real, count = lanes_module.simulate_shelf, []
        with mock.patch.object(lanes_module, "simulate_shelf", lambda *a, **k: count.append(1) or real(*a, **k)):
            act()
        return len(count)

    def stand_still(self):
        """Within one minute, however long this takes: the next one is another state."""
        self.enterContext(mock.patch.object(timezone, "now", return_value=timezone.now()))


class Shared(Kept):
    def test_the_same_question_costs_two_queries_and_no_simulation(self):
        self.stand_still()
        for path in PAGES:
            first = self.client.get(path).content
            with self.assertNumQueries(2):
                again = self.client.get(path).content
            self.assertEqual(again, first, path)

    def test_an_act_moves_every_page_at_once(self):
        for path in PAGES:
            self.client.get(path)
        bin_ = Place.objects.get(name="Lidded bin B")
        self.assertEqual(self.post("stays/", spools=[3], place=bin_.pk).status_code, 201)
        rack = self.client.get(PAGES[0]).json()
        [lane] = [x for x in rack["lanes"] if x["lane"]["spool"]["id"] == 3]
        self.assertEqual(lane["stays"][-1]["place_name"], "Lidded bin B")
        inside = [h for h in self.client.get(PAGES[2]).json() if h["place"]["name"] == "Lidded bin B"]
        self.assertIn(3, [c["lane"]["spool"]["id"] for c in inside[0]["contents"]])

    def test_the_state_moves_with_an_act_its_undo_a_reading_and_the_minute(self):
        now = timezone.now().replace(second=5, microsecond=0)
        seen = [state_of_records(now)]
        undo = self.post("stays/", spools=[3], place=Place.objects.first().pk).json()["undo"]
        seen.append(state_of_records(now))
        self.post(f"history/{undo}/undo/")
        seen.append(state_of_records(now))
        self.post("room/readings/", temp_c=21, rh_pct=50)
        seen.append(state_of_records(now))
        seen.append(state_of_records(now + timedelta(minutes=1)))
        self.assertEqual(len(set(seen)), len(seen))
        self.assertEqual(state_of_records(now), state_of_records(now + timedelta(seconds=30)))

    def test_all_spool_pages_stand_on_one_simulation(self):
        self.stand_still()
        self.assertEqual(self.simulated(lambda: [self.client.get(f"/api/spools/{n}/page/") for n in (1, 2, 3, 4)]), 1)

    def test_moments_of_one_year_stand_on_one_simulation(self):
        self.stand_still()
        now = timezone.now()

        def ask(*days_ago):
            for days in days_ago:
                moistures_at([(3, now - timedelta(days=days))], now)

        self.assertEqual(self.simulated(lambda: ask(1, 200, 360)), 1)
        self.assertEqual(self.simulated(lambda: ask(380, 500, 700)), 1)


class OfThisMinute(Kept):
    """Lanes that nothing touched are taken as they were drawn before in the same minute."""

    def drawn(self, act):
        """The spools whose lanes were drawn while something was done."""
        real, found = lanes_module._lane, set()
        spy = lambda simulated, n, spool, run: found.add(spool.pk) or real(simulated, n, spool, run)  # noqa: E731
        with mock.patch.object(lanes_module, "_lane", spy):
            act()
        return found

    def test_a_move_draws_what_shares_its_containers_and_the_next_minute_everything(self):
        self.stand_still()
        rack = lambda: self.client.get(PAGES[0])  # noqa: E731
        everyone = set(Spool.objects.filter(archived_at=None).values_list("pk", flat=True))
        running = set(Run.objects.filter(ended_at=None, coil=None).values_list("spool", flat=True))
        self.assertEqual(self.drawn(rack), everyone)
        moved, bin_ = 3, Place.objects.get(name="Lidded bin B")
        left = Stay.objects.get(spool=moved, until=None).place
        inside = set(Stay.objects.filter(place__in=[bin_, left], until=None).values_list("spool", flat=True))
        closed = set(Stay.objects.filter(place=bin_, until=None).values_list("spool", flat=True))
        self.assertGreater(len(closed), 1)
        self.post("stays/", spools=[moved], place=bin_.pk)
        drawn = self.drawn(rack)
        self.assertLessEqual({moved, *closed, *running}, drawn)
        self.assertLessEqual(drawn, {*inside, *running})
        for page, expected in zip(PAGES[1:], (running, running, set()), strict=True):
            self.assertEqual(self.drawn(lambda page=page: self.client.get(page)), expected, page)
        later = timezone.now() + timedelta(minutes=1)
        with mock.patch.object(timezone, "now", return_value=later):
            self.assertEqual(self.drawn(rack), everyone)

    def test_after_whatever_act_pages_are_those_of_a_shelf_of_which_nothing_was_kept(self):
        self.stand_still()
        place = Place.objects.get(name="Lidded bin B")
        bench = Scale.objects.get(name__contains="ench").pk
        key = {"spool": 7, "scale": bench, "client_key": str(uuid4())}
        last = Weighing.objects.filter(spool=7).latest("at")
        used_g = sum(use.mass_g for use in last.spool.uses.filter(at__gt=last.at))
        acts = (
            ("weighings/", {"gross_g": round(last.gross_g - used_g + 0.3, 1), **key}),
            ("stays/", {"spools": [3, 7], "place": place.pk}),
            ("spools/7/uses/", {"mass_g": 20}),
            ("spools/3/moisture/", {"moisture_pct": 0.2, "plus_minus_pct": 0.05}),
            ("room/readings/", {"temp_c": 21, "rh_pct": 70}),
            (f"places/{place.pk}/fills/", {"kind": "silica_gel", "dry_g": 200}),
            ("stays/", {"spools": [3], "place": Place.objects.get(name="Shelf").pk}),
            ("stays/", {"spools": [3], "place": Place.objects.get(name="On the printer").pk}),  # as open as before
        )
        undone = "history/%d/undo/"
        for path, body in (*acts, (undone, {}), (undone, {})):
            path = path % HistoryEntry.objects.latest("pk").pk if "%" in path else path
            answer = self.post(path, **body)
            self.assertIn(answer.status_code, (200, 201, 204), (path, answer.content[:300]))
            shown = [self.client.get(page).json() for page in PAGES]
            moisture_state().forget()
            for page, kept in zip(PAGES, shown, strict=True):
                self.assertEqual(kept, self.client.get(page).json(), (path, page))


class WhatMayCome(Kept):
    def at(self, now):
        return mock.patch.object(timezone, "now", return_value=now)

    def put(self, path, **body):
        return self.client.put(f"/api/{path}", body, content_type="application/json")

    def page(self, spool=3):
        return self.client.get(f"/api/spools/{spool}/page/").json()

    def test_it_is_worked_out_once_an_hour(self):
        hour = timezone.now().replace(minute=0, second=5, microsecond=0) + timedelta(hours=1)
        with self.at(hour):
            first, storage = self.page(5), self.client.get("/api/storage/").json()
        never = mock.Mock(side_effect=AssertionError("worked out again"))
        with (
            self.at(hour + timedelta(minutes=50)),
            mock.patch.object(what_ifs_module, "_elsewhere", never),
            mock.patch.object(storage_module, "hours_to_dry_beside_desiccant", never),
        ):
            later, storage_later = self.page(5), self.client.get("/api/storage/").json()
        self.assertNotEqual(first["traced"]["lane"]["moisture"], later["traced"]["lane"]["moisture"])
        for name in ("outcomes", "dries_h"):
            self.assertEqual(first[name], later[name])
        dries = [[c["dries_h"] for h in each for c in h["contents"]] for each in (storage, storage_later)]
        self.assertEqual(*dries)
        with self.at(hour + timedelta(hours=1)):
            self.assertNotEqual(self.page(5)["outcomes"], first["outcomes"])

    def test_whatever_it_stands_on_moves_it(self):
        self.stand_still()
        bin_ = Place.objects.get(name="Dry bin")
        acts = (
            lambda: self.post("spools/3/moisture/", moisture_pct=0.3, plus_minus_pct=0.05),
            lambda: self.post("stays/", spools=[3], place=bin_.pk),
            lambda: self.post("room/readings/", temp_c=29, rh_pct=81),
            lambda: self.put("materials/tpu/values/k1/", value=1.9, spread=1.2),
            lambda: self.put("spools/3/sheet/", temp_c=50, duration_h=9),
        )
        for n, act in enumerate(acts):
            before = self.page()
            answer = act()
            self.assertLess(answer.status_code, 300, answer.content)
            kept = self.page()
            self.assertEqual(kept["outcomes"] != before["outcomes"], n < 4, n)
            state = moisture_state()
            with mock.patch.multiple(state, outcomes=Cache(9), hours_to_dry=Cache(9)):
                state.forget()
                self.assertEqual(kept, self.page(), n)


class Warm(Shed):
    def test_what_is_worked_out_before_the_first_page_is_what_the_page_shows(self):
        moisture_state().forget()
        self.enterContext(mock.patch.object(timezone, "now", return_value=timezone.now()))
        # The test's own connection stays open.
        with mock.patch("darre.moisture.warm.connection"), mock.patch.object(threading, "Thread", Now):
            warm_up(known=True)
        simulated = []
        real = lanes_module.simulate_shelf
        with mock.patch.object(lanes_module, "simulate_shelf", lambda *a, **k: simulated.append(1) or real(*a, **k)):
            self.assertEqual(len(self.client.get("/api/rack/?span=weeks").json()["lanes"]), 11)
        self.assertEqual(simulated, [])


class Now:
    """A thread that does its work at once."""

    def __init__(self, target, **_):
        self.start = target


class OneAtATime(Shed):
    def test_who_asks_meanwhile_waits_for_the_one_that_is_at_it(self):
        cache, made, begun, go_on = Cache(4), [], threading.Event(), threading.Event()

        def make():
            begun.set()
            go_on.wait(10)
            made.append(1)
            return "made"

        found = []
        threads = [threading.Thread(target=lambda: found.append(cache.once("key", make))) for _ in range(6)]
        threads[0].start()
        begun.wait(10)
        for thread in threads[1:]:
            thread.start()
        go_on.set()
        for thread in threads:
            thread.join()
        self.assertEqual((found, made), (["made"] * 6, [1]))

    def test_one_that_fails_leaves_the_next_its_turn(self):
        cache = Cache(4)
        with self.assertRaises(ZeroDivisionError):
            cache.once("key", lambda: 1 // 0)
        self.assertEqual(cache.once("key", lambda: 7), 7)


class AtTheDesk(Kept):
    def test_answers_are_worked_out_one_after_the_other_and_what_is_known_waits_for_none(self):
        now, at_it, begun, go_on = timezone.now(), [], threading.Event(), threading.Event()

        def shape(name):
            at_it.append(name)
            self.assertEqual(len(at_it), 1)
            begun.set()
            go_on.wait(10)
            at_it.pop()
            return name

        with mock.patch("darre.moisture.state.state_of_records", return_value="a state"):
            go_on.set()
            self.assertEqual(shared_answer(("known",), now, lambda: shape("known")), b'"known"')
            go_on.clear(), begun.clear()
            found = {}
            asking = [
                threading.Thread(target=lambda n=n: found.update({n: shared_answer((n,), now, lambda: shape(n))}))
                for n in range(4)
            ]
            for thread in asking:
                thread.start()
            begun.wait(10)
            self.assertEqual(shared_answer(("known",), now, lambda: shape("never")), b'"known"')
            go_on.set()
            for thread in asking:
                thread.join()
        self.assertEqual(found, {n: str(n).encode() for n in range(4)})

    def test_what_everyone_looks_at_goes_before_what_one_asks(self):
        desk, now, done, asking = moisture_state().desk, timezone.now(), [], []
        asked = (("spool page", 2), ("storage",), ("spool page", 3), ("rack", 24, None))
        with mock.patch("darre.moisture.state.state_of_records", return_value="another state"):
            with desk.turn(0):
                for name in asked:
                    thread = threading.Thread(target=shared_answer, args=(name, now, lambda n=name: done.append(n)))
                    thread.start()
                    asking.append(thread)
                    while desk.waiting < len(asking):
                        thread.join(0.001)
            for thread in asking:
                thread.join()
        self.assertEqual(done, [("rack", 24, None), ("storage",), ("spool page", 2), ("spool page", 3)])

    def test_who_asked_before_an_act_and_is_answered_after_it_leaves_nothing_old_to_the_next(self):
        bin_, early = Place.objects.get(name="Lidded bin B"), timezone.now().replace(second=5) + timedelta(minutes=1)
        self.enterContext(mock.patch.object(timezone, "now", return_value=early + timedelta(seconds=1)))
        self.assertEqual(self.post("stays/", spools=[3], place=bin_.pk).status_code, 201)
        self.assertEqual(self.post("room/readings/", temp_c=31, rh_pct=77).status_code, 201)
        for answered in (
            [c.lane.spool.pk for h in storage(early) if h.place.pk == bin_.pk for c in h.contents],
            [
                c["lane"]["spool"]["id"]
                for h in self.client.get("/api/storage/").json()
                if h["place"]["id"] == bin_.pk
                for c in h["contents"]
            ],
        ):
            self.assertIn(3, answered)
        self.assertEqual(workshop(early).room.temp_c, 31.0)
        past = early - timedelta(hours=1)  # what a run needs that was begun then
        self.assertEqual((shelf_now(past).shelf.now, workshop(past).room.temp_c < 31.0), (past, True))


class WithoutWater(Kept):
    def test_signs_wishes_and_weighed_samples_leave_the_shelf_as_it_is_and_the_pages_right(self):
        self.stand_still()
        lot = Trial.objects.get(kind="drying")
        Trial.objects.update(closed_at=None)
        case = self.post("cases/", spool=3, title="Strings").json()["case"]["id"]
        before = {path: self.client.get(path).content for path in PAGES}
        acts = (
            lambda: self.post(f"cases/{case}/signs/", signs=[{"sign": "steam", "seen": True}], note=""),
            lambda: self.post("schedule/wishes/", spool=3, grams="20", purpose="a ring"),
            lambda: self.post(f"samples/{lot.samples.first().pk}/readings/", gross_g="21.1", client_key=str(uuid4())),
        )
        for act in acts:
            self.assertIn(act().status_code, (200, 201))
            kind = HistoryEntry.objects.latest("pk").kind
            with self.subTest(kind):
                self.assertIn(kind, WITHOUT_WATER)
                self.assertEqual(self.simulated(lambda: [self.client.get(path) for path in PAGES]), 0)
        moisture_state().forget()
        for path, content in before.items():
            self.assertEqual(self.client.get(path).content, content, path)

    def test_a_sign_of_a_closed_case_moves_the_state_as_thresholds_may_move_with_it(self):
        case = Case.objects.filter(is_open=False).first()
        now = timezone.now()
        state = state_of_records(now)
        self.assertEqual(
            self.post(f"cases/{case.pk}/signs/", signs=[{"sign": "steam", "seen": True}], note="").status_code, 200
        )
        self.assertNotEqual(state_of_records(now), state)
        self.assertTrue(Case.objects.get(pk=case.pk).is_open)
