"""A logger whose probe sits in the winding: the run goes by it, and back; it is no longer taken for the box's air."""

import math

from django.utils import timezone

from darre.devices.actions.devices import add_device
from darre.devices.models import Device, DeviceKind, Sample
from darre.devices.tests.logs import hang
from darre.devices.tests.test_habits import Steady
from darre.inventory.material_book import material_book
from darre.runs.selectors import run_so_far
from drying.transport import warming_h


class WindingProbe(Steady):
    def setUp(self):
        super().setUp()
        self.run_now.started_at = self.began
        self.run_now.save()
        so_far = run_so_far(self.run_now, material_book(), timezone.now())
        self.usual_h, self.air_c = warming_h(so_far.load.filament, so_far.fan), so_far.segments[-1].temp_c

    def bury(self, name, slower, minutes=240):
        """A logger whose probe follows the air slowly, as far as the box's own warm-up does not matter."""
        device, _ = add_device(name, DeviceKind.LOGGER, self.run_now.batch.dryer)
        begin, lag = round(self.began.timestamp() * 1000), 60.0 * slower * self.usual_h
        Sample.objects.bulk_create(
            Sample(device=device, own_ms=begin + 60_000 * n, at_ms=begin + 60_000 * n,
                   temp_c=self.air_c - (self.air_c - 20.0) * math.exp(-n / lag))
            for n in range(1, minutes)
        )  # fmt: skip
        return device

    def put(self, device):
        body = {"device": device and device.pk}
        path = f"/api/runs/{self.run_now.pk}/winding-probe/"
        return self.client.put(path, body, content_type="application/json")

    def heard(self):
        return self.client.get(f"/api/runs/{self.run_now.pk}/habits/").json()

    def test_a_run_goes_by_it_and_back_and_undo_brings_it_again(self):
        probe = self.bury("Deep probe", 2.0)
        self.assertIn({"id": probe.pk, "name": "Deep probe"}, self.heard()["loggers"])
        answer = self.put(probe)
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertAlmostEqual(self.heard()["warms_times"], 2.0, delta=0.4)  # the box's own warm-up lags as well
        self.run_now.refresh_from_db()
        so_far = run_so_far(self.run_now, material_book(), timezone.now())
        self.assertAlmostEqual(so_far.warming.value, math.log(self.heard()["warms_times"]))
        back = self.put(None)
        self.assertIsNone(self.heard()["warms_times"])
        self.post(f"history/{back.json()['undo']}/undo/")
        self.assertIsNotNone(self.heard()["warms_times"])

    def test_it_is_not_taken_for_the_air_beside_the_spool(self):
        hang(self.run_now, "Box logger")
        probe = self.bury("Deep probe", 2.0)
        self.put(probe)
        told = self.heard()["heard"]
        self.assertEqual((told["device_name"], told["hot_side_excess_c"]), ("Box logger", None))
        self.put(None)
        self.assertFalse(Device.objects.get(pk=probe.pk).in_winding)

    def test_what_cannot_tell_is_refused_by_name_and_nothing_is_changed(self):
        short = self.bury("Late probe", 1.0, minutes=5)
        self.assert_refused(self.put(short), "not_told", "device", "Late probe has not seen enough", 409)
        elsewhere = add_device("Room logger", DeviceKind.LOGGER)[0]
        self.assert_refused(self.put(elsewhere), "other_dryer", "device", "Room logger is not a logger in", 400)
        self.run_now.refresh_from_db()
        self.assertIsNone(self.run_now.warming_log)
