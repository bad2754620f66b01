"""The schedule over the API: what is wanted, who is there, what is worked out and kept, and how it says no."""

from datetime import UTC, datetime, timedelta
from unittest import mock
from urllib.parse import urlsplit

from django.utils import timezone
from icalendar import Calendar

from darre.equipment.models import Dryer
from darre.inventory.models import Spool
from darre.runs.tests.test_run_path import Shed
from darre.schedule.jobs import scene
from darre.schedule.models import PlannedStart, Wish

ZONE = {"zone": "Europe/London"}


class Scheduled(Shed):
    """The demo's wishes, with nothing else wanted than a test asks for."""

    def spool(self, name):
        return Spool.objects.get(name=name)

    def want(self, name, **more):
        answer = self.post("schedule/wishes/", spool=self.spool(name).pk, **more)
        self.assertEqual(answer.status_code, 201, answer.content[:300])
        return answer.json()["wish"]

    def work_out(self):
        answer = self.post("schedule/", **ZONE)
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        return self.seen()

    def seen(self, **asked):
        answer = self.client.get("/api/schedule/", ZONE | asked)
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        return answer.json()

    def ahead(self, **time):
        return (timezone.now() + timedelta(**time)).isoformat()

    def start_of(self, found, name):
        return next(start for start in found["starts"] if start["spool_name"] == name)


class Answers(Scheduled):
    def test_nothing_is_worked_out_before_somebody_asks(self):
        self.want("Roller tyres", ready_by=self.ahead(days=2), grams="120", note="rollers")
        found = self.seen()
        self.assertEqual((found["worked_out"], found["stale"], found["starts"]), (False, True, []))
        self.assertEqual([(w["spool_name"], w["grams"]) for w in found["wishes"]], [("Roller tyres", 120.0)])

    def test_a_run_of_the_schedule_ends_when_the_plan_of_the_same_says(self):
        for name in ("Roller tyres", "Window panel", "Hinge stock"):
            self.want(name, ready_by=self.ahead(days=6))
        compared = 0
        for start in self.work_out()["starts"]:
            if start["run"] is not None:
                continue
            others = [self.spool(name) for name in start["beside"]]
            plan = self.client.get("/api/plan/", {
                "spool": start["spool"], "dryer": start["dryer"], "temp_c": start["temp_c"],
                "duration_h": start["hours"], "co_dried": ",".join(str(other.pk) for other in others),
            }).json()  # fmt: skip
            member = plan["ticket"]["members"][0]
            self.assertIsNotNone(member["ready_h"], start)
            self.assertLessEqual(member["ready_h"], start["hours"] + 1e-6, start)
            self.assertLess(start["hours"] - member["ready_h"], 0.51, start)  # hours are set in halves
            self.assertAlmostEqual(start["course_pct"][-1], member["end_pct"], delta=0.02 * start["course_pct"][0])
            compared += 1
        self.assertEqual(compared, 3)

    def test_a_run_that_goes_already_keeps_its_place(self):
        found = self.work_out()
        [running] = [start for start in found["starts"] if start["run"] is not None]
        self.assertEqual(running["spool_name"], "Vent louvre")
        self.assertGreater(running["hours"], 0)
        self.assertEqual((running["late_h"], running["pinned"]), (0, False))
        self.assertEqual([v["load"] for v in found["visits"]], [[]])

    def test_a_run_that_overran_is_taken_out_at_the_next_visit_and_the_rest_is_planned_around_it(self):
        self.want("Window panel")
        later = timezone.now() + timedelta(hours=14)  # it was to take eight
        with mock.patch.object(timezone, "now", return_value=later):
            found = self.work_out()
        [running] = [start for start in found["starts"] if start["run"] is not None]
        self.assertEqual(datetime.fromisoformat(running["ends_at"]) - datetime.fromisoformat(running["starts_at"]),
                         timedelta(minutes=15))  # fmt: skip
        self.assertEqual(found["visits"][0]["take_out"], ["Vent louvre"])
        self.assertEqual({start["spool_name"] for start in found["starts"]}, {"Vent louvre", "Window panel"})

    def test_what_is_dry_already_needs_no_run(self):
        wish = self.want("Dome rail", ready_by=self.ahead(hours=2))
        found = self.work_out()
        self.assertEqual((found["ready"], [s["wish"] for s in found["starts"]]), ([wish["id"]], [None]))

    def test_a_wish_that_cannot_be_met_is_late_with_its_reason_and_what_would_help(self):
        self.want("Hinge stock", ready_by=self.ahead(hours=3))
        found = self.work_out()
        [late] = found["late"]
        self.assertEqual((late["spool_name"], late["why"]), ("Hinge stock", "too_long"))
        start = self.start_of(found, "Hinge stock")
        self.assertAlmostEqual(late["late_h"], start["late_h"])
        behind = datetime.fromisoformat(start["ends_at"]) - datetime.fromisoformat(start["ready_by"])
        self.assertAlmostEqual(start["late_h"], behind.total_seconds() / 3600, delta=0.02)
        self.assertEqual({change["kind"] for change in found["what_ifs"]}, {"coils", "later"})
        later = self.client.get("/api/schedule/what-if/", ZONE | {"kind": "later"}).json()
        self.assertEqual(later["as_is"]["jobs_late"], 1)
        self.assertLess(later["changed"]["hours_late"], later["as_is"]["hours_late"])
        loose = scene(timezone.now(), ZONE["zone"], "loose")
        job = next(job.id for job in loose.jobs if not job.running)
        self.assertEqual(loose.setup([job], str(self.stacker.pk)).lead.form, "loose")
        coils = self.client.get("/api/schedule/what-if/", ZONE | {"kind": "coils"}).json()
        self.assertLess(coils["changed"]["hours_late"], coils["as_is"]["hours_late"])

    def test_it_is_stale_when_another_answer_might_be_right_and_not_before(self):
        self.want("Roller tyres", ready_by=self.ahead(days=2))
        self.assertFalse(self.work_out()["stale"])
        self.assertFalse(self.seen()["stale"])
        self.want("Window panel", ready_by=self.ahead(days=3))
        found = self.seen()
        self.assertEqual((found["stale"], found["worked_out"]), (True, False))
        self.assertFalse(self.work_out()["stale"])
        self.post("schedule/changes/", since=self.ahead(hours=1), until=self.ahead(hours=9), at_home=False)
        self.assertTrue(self.seen()["stale"])

    def test_a_start_that_was_missed_holds_no_longer(self):
        self.want("Roller tyres", ready_by=self.ahead(days=2))
        self.assertTrue(self.work_out()["worked_out"])
        row = PlannedStart.objects.get()
        row.starts_at = timezone.now() - timedelta(hours=1)
        row.save()
        found = self.seen()
        self.assertEqual((found["worked_out"], found["stale"]), (False, True))
        found = self.work_out()
        self.assertEqual([one["spool"] for one in found["moved"]], ["Roller tyres"])

    def test_a_started_run_takes_the_place_of_its_start(self):
        self.want("Roller tyres", ready_by=self.ahead(days=2))
        self.work_out()
        self.assertEqual(self.start(self.tyres, self.stacker, 60, None).status_code, 201)
        found = self.work_out()
        self.assertIsNotNone(self.start_of(found, "Roller tyres")["run"])
        self.assertEqual(PlannedStart.objects.count(), 0)

    def test_working_it_out_can_be_undone(self):
        self.want("Roller tyres", ready_by=self.ahead(days=2))
        undo = self.post("schedule/", **ZONE).json()["undo"]
        self.assertEqual(PlannedStart.objects.count(), 1)
        self.assertEqual(self.post(f"history/{undo}/undo/").status_code, 200)
        self.assertEqual(PlannedStart.objects.count(), 0)
        self.assertFalse(self.seen()["worked_out"])


class People(Scheduled):
    def at_home(self, *spans):
        self.client.put(
            "/api/preferences/", {"home_weekdays": spans[0], "home_weekends": spans[0]}, content_type="application/json"
        )

    def test_every_visit_is_while_somebody_is_at_home(self):
        self.at_home("6:30-9, 17-23")
        for name in ("Roller tyres", "Window panel"):
            self.want(name, ready_by=self.ahead(days=3))
        found = self.work_out()
        spans = [(s["since"], s["until"]) for s in found["at_home"]]
        self.assertTrue(found["visits"])
        for visit in found["visits"]:
            self.assertTrue(any(since <= visit["at"] <= until for since, until in spans), visit)

    def test_somebody_elses_hours_and_a_day_at_home_count(self):
        self.at_home("7-8")
        before = self.seen()["at_home"]
        self.post("schedule/helpers/", name="Nell", weekdays="11-14", weekends="11-14")
        self.assertGreater(len(self.seen()["at_home"]), len(before))
        helper = self.seen()["helpers"][0]
        self.assertEqual(helper["weekdays"], "11:00–14:00")
        self.assertEqual(self.client.delete(f"/api/schedule/helpers/{helper['id']}/").status_code, 200)
        self.assertEqual(len(self.seen()["at_home"]), len(before))

    def test_the_plans_timers_count_the_same_hours(self):
        self.at_home("7-7:30")
        plan = {"spool": self.tyres.pk, "dryer": self.box.pk, "temp_c": 60, "duration_h": 40,
                "start": "2026-11-30T07:00:00+00:00"}  # fmt: skip

        def off_h():
            return sum(x["to_h"] - x["from_h"] for x in self.client.get("/api/plan/", plan).json()["ticket"]["off"])

        alone = off_h()
        self.post("schedule/helpers/", name="Nell", weekdays="14-23", weekends="14-23")
        self.assertGreater(alone, 0)
        self.assertLess(off_h(), alone)

    def test_an_oven_is_only_used_while_somebody_is_there_throughout(self):
        self.at_home("7-11, 17-23")
        Dryer.objects.exclude(kind="oven").update(in_service=False)
        self.want("Lens caps", ready_by=self.ahead(days=4))
        answer = self.post("schedule/", **ZONE)
        if answer.status_code == 200:
            found = self.seen()
            for start in (s for s in found["starts"] if s["run"] is None):
                self.assertTrue(any(
                    span["since"] <= start["starts_at"] and start["ends_at"] <= span["until"]
                    for span in found["at_home"]
                ), start)  # fmt: skip
        else:
            self.assert_refused(answer, "fits_nowhere", "wishes", "Lens caps")

    def test_how_long_a_first_run_is_watched_is_a_setting_and_an_oven_is_never_left(self):
        self.want("Window panel", ready_by=self.ahead(days=4))
        for hours in (0.0, 5.0):
            self.client.put("/api/preferences/", {"watch_first_h": hours}, content_type="application/json")
            [job] = [job for job in scene(timezone.now(), ZONE["zone"]).jobs if not job.running]
            for option in job.options:
                kind = Dryer.objects.get(pk=option.dryer).kind
                whole = kind in ("oven", "lamp")
                tried = Dryer.objects.filter(pk=option.dryer, batches__runs__spool__material="pc").exists()
                expected = option.hours if whole else 0.0 if tried else min(hours, option.hours)
                self.assertEqual(option.watch_h, expected, kind)
        refused = self.client.put("/api/preferences/", {"watch_first_h": 25}, content_type="application/json")
        self.assertEqual((refused.status_code, refused.json()["field"]), (400, "watch_first_h"))


class Held(Scheduled):
    def test_a_pinned_run_stays_and_the_rest_goes_around_it(self):
        wish = self.want("Roller tyres", ready_by=self.ahead(days=4))
        at = (timezone.now() + timedelta(hours=30)).replace(minute=0, second=0, microsecond=0)
        path = f"/api/schedule/wishes/{wish['id']}/pin/"
        pinned = {"dryer": self.stacker.pk, "at": at.isoformat()}
        self.assertEqual(self.client.put(path, pinned, content_type="application/json").status_code, 200)
        start = self.start_of(self.work_out(), "Roller tyres")
        self.assertEqual((start["dryer"], start["pinned"]), (self.stacker.pk, True))
        self.assertEqual(datetime.fromisoformat(start["starts_at"]), at)
        self.client.put(path, {"dryer": None, "at": None}, content_type="application/json")
        self.assertFalse(self.start_of(self.work_out(), "Roller tyres")["pinned"])

    def test_what_makes_no_sense_is_named(self):
        wish = self.want("Roller tyres")
        pin = f"/api/schedule/wishes/{wish['id']}/pin/"
        oven = Dryer.objects.get(name="Old oven")
        Dryer.objects.filter(pk=oven.pk).update(in_service=False)

        def put(dryer, at):
            body = {"dryer": dryer and dryer.pk, "at": at}
            return self.client.put(pin, body, content_type="application/json")

        def wished(name, **more):
            return self.post("schedule/wishes/", spool=self.spool(name).pk, **more)

        for answer, code, field, named in (
            (wished("Window panel", ready_by=self.ahead(hours=-3)), "in_past", "ready_by", "has passed"),
            (wished("Window panel", ready_by=self.ahead(days=90)), "too_far", "ready_by", "60 days"),
            (wished("Roller tyres"), "wanted_already", "spool", "on the list"),
            (wished("Window panel", grams="-3"), "invalid", "grams", "more than"),
            (put(self.box, None), "invalid", "at", "a dryer and a time"),
            (put(oven, self.ahead(hours=5)), "out_of_service", "dryer", "Old oven"),
            (put(self.box, self.ahead(hours=-5)), "in_past", "at", "has passed"),
            (self.post("schedule/", zone="Mars/Olympus"), "invalid", "zone", "no zone"),
            (self.post("schedule/helpers/", name="Nell", weekdays="7-99"), "invalid", "weekdays", "7-99"),
            (self.post("schedule/changes/", since=self.ahead(hours=5), until=self.ahead(hours=2), at_home=True),
             "ends_first", "until", "later end"),
            (self.post("schedule/changes/", since=self.ahead(hours=-5), until=self.ahead(hours=-2), at_home=True),
             "in_past", "until", "has passed"),
        ):  # fmt: skip
            with self.subTest(named):
                self.assert_refused(answer, code, field, named)

    def test_nobody_at_home_at_all_is_said_and_the_last_schedule_stays(self):
        self.want("Roller tyres", ready_by=self.ahead(days=2))
        self.work_out()
        kept = PlannedStart.objects.get()
        self.post("schedule/changes/", since=self.ahead(hours=-1), until=self.ahead(days=40), at_home=False)
        self.assert_refused(self.post("schedule/", **ZONE), "fits_nowhere", "wishes", "nobody is at home")
        self.assertEqual(PlannedStart.objects.get(), kept)

    def test_a_wish_is_changed_and_taken_off_with_its_start(self):
        wish = self.want("Roller tyres", ready_by=self.ahead(days=2))
        self.work_out()
        path = f"/api/schedule/wishes/{wish['id']}/"
        changed = self.client.patch(path, {"grams": "0,5", "note": "a strap"}, content_type="application/json")
        self.assertEqual(changed.status_code, 200)
        self.assertEqual((self.seen()["wishes"][0]["grams"], self.seen()["wishes"][0]["note"]), (0.5, "a strap"))
        undo = self.client.delete(path).json()["undo"]
        self.assertEqual((Wish.objects.count(), PlannedStart.objects.count()), (0, 0))
        self.assertEqual(self.post(f"history/{undo}/undo/").status_code, 200)
        self.assertEqual((Wish.objects.count(), PlannedStart.objects.count()), (1, 1))


class TakenAlong(Scheduled):
    def test_being_at_home_at_the_right_time_is_named_where_that_is_all_it_takes(self):
        morning = datetime(2027, 3, 10, 9, 30, tzinfo=UTC)
        with mock.patch.object(timezone, "now", return_value=morning):
            self.client.put(
                "/api/preferences/",
                {"home_weekdays": "7-8:30, 21-22", "home_weekends": "7-22"},
                content_type="application/json",
            )
            self.want("Roller tyres", ready_by=(morning + timedelta(hours=20)).isoformat())
            found = self.work_out()
            [change] = [one for one in found["what_ifs"] if one["kind"] == "home"]
            told = self.client.get("/api/schedule/what-if/", ZONE | {"kind": "home", "day": change["day"]}).json()
        self.assertEqual((told["as_is"]["jobs_late"], told["changed"]["jobs_late"]), (1, 0))
        self.assertGreater(len(told["home"]), 0)
        for stretch in told["home"]:
            since, until = (datetime.fromisoformat(stretch[name]) for name in ("since", "until"))
            self.assertLess(until - since, timedelta(hours=4))
            self.assertTrue(morning <= since < until)

    def test_the_calendar_has_every_visit_at_its_moment_across_a_change_of_the_clocks(self):
        before = datetime(2027, 3, 26, 20, tzinfo=UTC)  # clocks go forward in London on the 28th
        with mock.patch.object(timezone, "now", return_value=before):
            for name in ("Roller tyres", "Hinge stock"):
                self.want(name, ready_by=(before + timedelta(days=4)).isoformat())
            self.client.put(
                "/api/preferences/",
                {"home_weekdays": "7-9:30", "home_weekends": "7-9:30"},
                content_type="application/json",
            )
            found = self.work_out()
            answer = self.client.get(urlsplit(found["feed_url"]).path)
        self.assertEqual(urlsplit(found["feed_url"]).netloc, "testserver")
        self.assertEqual(answer["Content-Type"], "text/calendar; charset=utf-8")
        events = Calendar.from_ical(answer.content).walk("VEVENT")
        told = sorted(datetime.fromisoformat(visit["at"]) for visit in found["visits"])
        self.assertEqual(sorted(event.decoded("dtstart") for event in events), told)
        self.assertEqual(len({event["uid"] for event in events}), len(told))
        self.assertTrue(all(event.decoded("dtstart").utcoffset() == timedelta(0) for event in events))
        # Seven in the morning in London is 7:00 UTC in winter and 6:00 once the clocks went forward.
        for at in told:
            first = 6 if at > datetime(2027, 3, 28, 1, tzinfo=UTC) else 7
            self.assertTrue(first <= at.hour + at.minute / 60 <= first + 2.5, at)
        self.assertIn("Load", " ".join(str(event["summary"]) for event in events))

    def test_only_the_address_that_was_given_leads_to_it(self):
        self.want("Roller tyres")
        self.work_out()
        wrong = "/api/schedule/calendar/00000000-0000-4000-8000-000000000000.ics"
        self.assertEqual(self.client.get(wrong).status_code, 404)
