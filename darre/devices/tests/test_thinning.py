"""Old readings are thinned by one rule, and never in a run."""

from datetime import UTC, datetime, timedelta

from django.utils import timezone

from darre.devices.actions.devices import add_device
from darre.devices.models import DeviceKind, Sample
from darre.devices.thinning import STEP_MS, thin
from darre.inventory.models import Preferences
from darre.runs.models import Run
from darre.runs.tests.test_run_path import Shed

MINUTE = 60_000


class Thinning(Shed):
    def setUp(self):
        self.now = timezone.now()
        self.logger, _ = add_device("Shed logger", DeviceKind.LOGGER)

    def ms(self, days):
        at = round((self.now - timedelta(days=days)).timestamp() * 1000.0)
        return at - at % STEP_MS

    def fill(self, days, minutes=60, every_ms=10_000):
        begin = self.ms(days)
        moments = range(begin, begin + minutes * MINUTE, every_ms)
        Sample.objects.bulk_create(
            Sample(device=self.logger, own_ms=at, at_ms=at, temp_c=20.0, rh_pct=50.0) for at in moments
        )
        return begin

    def left(self):
        return list(Sample.objects.filter(device=self.logger).order_by("at_ms").values_list("at_ms", flat=True))

    def test_the_first_of_each_ten_minutes_stays_and_what_is_young_stays_whole(self):
        old, young = self.fill(200), self.fill(89)
        self.assertEqual(thin(self.now), 360 - 6)
        self.assertEqual(self.left()[:6], [old + n * STEP_MS for n in range(6)])
        self.assertEqual(len(self.left()), 6 + 360)
        self.assertEqual(self.left()[6], young)

    def test_thinned_again_it_is_the_same(self):
        self.fill(200)
        thin(self.now)
        before = self.left()
        self.assertEqual((thin(self.now), self.left()), (0, before))

    def test_a_slow_device_loses_nothing(self):
        self.fill(200, minutes=600, every_ms=STEP_MS)
        self.assertEqual(thin(self.now), 0)

    def test_in_a_run_and_an_hour_around_it_all_stay(self):
        begin = self.fill(200, minutes=600)
        started, ended = (datetime.fromtimestamp((begin + n * MINUTE) / 1000.0, UTC) for n in (200, 320))
        run = Run.objects.filter(ended_at__isnull=False).first()
        Run.objects.filter(pk=run.pk).update(started_at=started, ended_at=ended)
        thin(self.now)
        first, last = begin + 140 * MINUTE, begin + 380 * MINUTE
        inside = [at for at in self.left() if first <= at <= last]
        self.assertEqual(len(inside), 240 * 6 + 1)
        self.assertEqual(len(self.left()) - len(inside), 14 + 22)

    def test_never_and_other_ages_are_a_setting(self):
        self.fill(200)
        Preferences.objects.update_or_create(pk=1, defaults={"thin_after_days": 0})
        self.assertEqual(thin(self.now), 0)
        Preferences.objects.filter(pk=1).update(thin_after_days=365)
        self.assertEqual(thin(self.now), 0)
        Preferences.objects.filter(pk=1).update(thin_after_days=30)
        self.assertEqual(thin(self.now), 354)
