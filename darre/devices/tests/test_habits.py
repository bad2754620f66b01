"""What a log tells of a dryer: told on the run, taken into the dryer's record, and back."""

from datetime import timedelta

from django.utils import timezone

from darre.devices.tests.logs import HELD_C, PERIOD_H, SWING_C, WARM_H, hang
from darre.equipment.models import Dryer, ProbePair
from darre.runs.models import EventKind, Run, RunEvent
from darre.runs.tests.test_run_path import Shed


class Steady(Shed):
    """The demo's run as one that nothing has disturbed for five hours."""

    def setUp(self):
        self.run_now = Run.objects.get(ended_at__isnull=True)
        batch = self.run_now.batch
        batch.started_at = self.began = timezone.now() - timedelta(hours=5)
        batch.ticket = {**batch.ticket, "setting": {"set_c": 60.0}}
        batch.save()
        batch.events.all().delete()
        self.run_now.refresh_from_db()


class Habits(Steady):
    def hang(self, name, **seen):
        hang(self.run_now, name, **seen)

    def told(self):
        return self.client.get(f"/api/runs/{self.run_now.pk}/habits/").json()["heard"]

    def use(self):
        return self.post(f"runs/{self.run_now.pk}/habits/")

    def test_warm_up_swing_period_and_air_are_told_against_what_was_set(self):
        self.assertIsNone(self.told())
        self.hang("Box logger")
        told = self.told()
        self.assertEqual((told["device_name"], told["set_c"], told["hot_side_excess_c"]), ("Box logger", 60.0, None))
        for name, really in (("warm_up_h", WARM_H), ("swing_c", SWING_C), ("period_h", PERIOD_H), ("air_c", HELD_C)):
            self.assertAlmostEqual(told[name], really, delta=0.06 * really, msg=name)

    def test_they_are_taken_into_the_dryers_record_once_and_back(self):
        self.hang("Box logger")
        dryer = Dryer.objects.get(pk=self.run_now.batch.dryer_id)
        before, pairs = dryer.swing_c, dryer.probes.count()
        answer = self.use()
        self.assertEqual(answer.status_code, 200, answer.content)
        dryer.refresh_from_db()
        self.assertAlmostEqual(dryer.swing_c, SWING_C, delta=0.1)
        self.assertAlmostEqual(dryer.warm_up_h, WARM_H, delta=0.05)
        pair = dryer.probes.get(set_c=60.0, at=self.began)
        self.assertAlmostEqual(pair.air_c, HELD_C, delta=0.3)
        self.use()
        self.assertEqual(dryer.probes.count(), pairs + 1)
        self.post(f"history/{answer.json()['undo']}/undo/")
        dryer.refresh_from_db()
        self.assertEqual((dryer.swing_c, dryer.probes.count()), (before, pairs))

    def test_what_disturbed_the_heat_ends_the_stretch_that_tells(self):
        self.hang("Box logger")
        at = self.began + timedelta(hours=2)
        RunEvent.objects.create(batch=self.run_now.batch, kind=EventKind.LID, at=at, minutes=5)
        self.assertAlmostEqual(self.told()["hours"], 2.0, delta=0.02)

    def test_a_second_logger_tells_how_much_hotter_the_hot_side_is(self):
        self.hang("Hot logger", held_c=HELD_C + 7.0)
        self.hang("Box logger")
        self.assertAlmostEqual(self.told()["hot_side_excess_c"], 7.0, delta=0.2)
        self.assertEqual(self.told()["device_name"], "Box logger")

    def test_where_no_log_tells_nothing_is_taken(self):
        pairs = ProbePair.objects.count()
        self.hang("Box logger", hours=0.6)
        answer = self.use()
        self.assertEqual((answer.status_code, answer.json()["code"]), (409, "not_told"))
        self.assertEqual(ProbePair.objects.count(), pairs)
