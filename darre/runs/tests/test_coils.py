"""Coils and doubtful readings: a coil has no tare and tells what its spool held; warm and wet readings count less."""

from uuid import uuid4

from django.utils import timezone

from darre.inventory.models import MoistureReading
from darre.moisture.lanes import lane_of
from darre.runs.models import Weighing
from darre.runs.tests.test_run_path import Shed


class Coils(Shed):
    def coil(self, gross_g, **more):
        return {
            "scale": self.pocket.id,
            "gross_g": gross_g,
            "client_key": str(uuid4()),
            "weighed_object": "coil",
            **more,
        }

    def test_a_dried_coil_tells_what_the_whole_spool_held_and_leaves_it_wet(self):
        before = lane_of(self.tyres.id, timezone.now())
        run = self.post(
            "plan/start/", spool=self.tyres.id, dryer=self.stacker.id, temp_c=55, duration_h=8, client_key=str(uuid4()),
            at=self.ago(hours=8), readings=[{**self.coil(20.0, length_m=6.9), "spool": self.tyres.id}],
        ).json()["runs"][0]  # fmt: skip
        self.assertEqual(run["form"], "loose")
        for hours, gross in ((6, 19.89), (4, 19.88), (2, 19.88)):
            self.post("weighings/", spool=self.tyres.id, at=self.ago(hours=hours), **self.coil(gross))
        refused = self.post(f"runs/{run['id']}/end/", weigh_out=self.reading(700))
        self.assert_refused(refused, "other_thing_weighed", "weigh_out", "weighing of the coil")
        self.assertEqual(self.post(f"runs/{run['id']}/end/", weigh_out=self.coil(19.87)).status_code, 200)
        mark = MoistureReading.objects.filter(spool=self.tyres).last()
        lost_pct = 100 * 0.13 / 19.87
        self.assertGreater(mark.moisture_pct, lost_pct)  # what the room's air holds back is in it as well
        self.assertLess(mark.moisture_pct, lost_pct + 0.15)
        self.assertLess(mark.sd_pct, before.moisture.uncertainty)
        after = lane_of(self.tyres.id, timezone.now())
        self.assertGreater(after.moisture.value, 0.5)
        self.assertEqual(after.net_g, before.net_g)

    def test_a_length_belongs_to_a_coil_and_a_coil_may_weigh_less_than_the_empty_spool(self):
        refused = self.post("weighings/", spool=self.tyres.id, **self.reading(700, length_m=5))
        self.assert_refused(refused, "length_of_spool", "length_m", "coil")
        kept = self.post("weighings/", spool=self.tyres.id, **self.coil(14.7))
        self.assertEqual((kept.status_code, kept.json()["weighing"]["tare_g"]), (201, 0))

    def test_a_coil_weighed_while_its_spool_dries_is_kept_beside_the_run(self):
        run = self.started(at=self.ago(hours=2))
        self.post("weighings/", spool=self.gauge.id, **self.coil(12.0))
        self.assertEqual(Weighing.objects.filter(run=run["id"]).count(), 1)

    def test_a_warm_or_wet_reading_widens_what_is_said(self):
        run = self.started(at=self.ago(hours=9))
        spreads = []
        for flags in ({}, {"warm": True}, {"surface_wet": True}):
            kept = self.post("weighings/", spool=self.gauge.id, **self.reading(798.3, **flags)).json()
            verdict = self.client.get(f"/api/runs/{run['id']}/").json()["verdict"]
            spreads.append(verdict["loss"]["mass_g"]["plus_minus"])
            self.post(f"history/{kept['undo']}/undo/")
        self.assertLess(spreads[0], spreads[1])
        self.assertLess(2 * spreads[1], spreads[2])
