"""A card spool's own water: what it brings along from its container into a run, and from a run into a container."""

from datetime import timedelta

from django.utils import timezone

from darre.common.test_runner import forget
from darre.inventory.models import Spool
from darre.moisture.lanes import lane_of
from darre.runs.models import Run
from darre.runs.records import ClosedAir, body_activity_at
from darre.runs.tests.test_run_path import Shed
from drying.air import RoomAir
from drying.materials import as_cool

ROOM = RoomAir(20.0, 60.0)


class CardBody(Shed):
    def setUp(self):
        self.rail = Spool.objects.get(name="Dome rail")
        self.now = timezone.now()

    def closed(self, activity, hours):
        return ClosedAir(activity, self.now - timedelta(hours=hours))

    def test_it_comes_to_its_containers_air_in_hours_and_plastic_has_none(self):
        outside = as_cool(0.60, 20.0)
        long_in, just_in = (body_activity_at(self.rail, self.now, ROOM, self.closed(0.1, h)) for h in (48.0, 0.1))
        self.assertAlmostEqual(long_in, 0.1, delta=0.005)
        self.assertTrue(0.9 * outside < just_in < outside)
        self.assertIsNone(body_activity_at(self.rail, self.now, ROOM))
        self.assertIsNone(body_activity_at(self.gauge, self.now, ROOM, self.closed(0.1, 48.0)))

    def test_a_run_begins_at_the_air_of_the_bin_that_the_spool_stood_in(self):
        lane = lane_of(self.rail.pk, self.now)
        self.assertLess(lane.closed.activity, 0.15)
        run = Run.objects.get(pk=self.started(self.rail, self.stacker, 75, "1110")["id"])
        self.assertAlmostEqual(run.body_activity, lane.closed.activity, delta=0.01)

    def test_what_a_run_has_dried_goes_into_a_bag_dry(self):
        before = self.bin_air()
        run = self.started(self.rail, self.stacker, 75, "1110", at=self.ago(hours=9))["id"]
        self.post(f"runs/{run}/end/", weigh_out=self.reading("1101"), at=self.ago(hours=3))
        forget()
        self.assertLess(self.bin_air(), before)

    def bin_air(self):
        """Activity of the air in the bin that it stands in."""
        return lane_of(self.rail.pk, timezone.now()).closed.activity
