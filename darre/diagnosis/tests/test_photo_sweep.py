"""A photo that nothing names any more goes after a while; one that an act may still bring back stays."""

import os
import tempfile
import threading
from datetime import timedelta
from pathlib import Path
from unittest import mock

from django.conf import settings
from django.utils import timezone

from darre.backup import daily
from darre.diagnosis.models import Case
from darre.diagnosis.photo_store import photo_path, store_photo
from darre.diagnosis.photo_sweep import KEPT_DAYS, sweep_photos
from darre.diagnosis.tests.test_uploads import Files, jpeg
from darre.history.models import HistoryEntry


class Swept(Files):
    def setUp(self):
        super().setUp()
        folder = self.enterContext(tempfile.TemporaryDirectory())
        self.enterContext(self.settings(PHOTO_DIR=Path(folder)))
        self.content = jpeg((320, 200))
        self.now = timezone.now()
        self.late = self.now + timedelta(days=KEPT_DAYS + 1)
        self.client.post("/api/cases/", {"spool": 1, "title": "Loft"}, content_type="application/json")
        case = Case.objects.get(title="Loft")
        self.send(f"cases/{case.pk}/photos/?side=before&name=a.jpg", self.content)
        self.photo = case.photos.get()
        self.paths = [photo_path(self.photo.file), photo_path(self.photo.file, small=True)]

    def remove(self):
        self.undo = self.client.delete(f"/api/photos/{self.photo.pk}/").json()["undo"]

    def there(self):
        return [path.exists() for path in self.paths]

    def test_a_photo_of_a_record_stays_for_ever(self):
        self.assertEqual(sweep_photos(self.now + timedelta(days=4000)), 0)
        self.assertEqual(self.there(), [True, True])

    def test_one_that_was_removed_stays_while_that_is_fresh_and_goes_after_both_pictures(self):
        self.remove()
        self.assertEqual(sweep_photos(self.now + timedelta(days=KEPT_DAYS - 1)), 0)
        self.assertEqual(self.there(), [True, True])
        self.assertEqual(sweep_photos(self.late), 1)
        self.assertEqual(self.there(), [False, False])
        self.assertEqual(self.stored(), [])

    def test_removed_long_ago_and_stored_again_it_stays(self):
        self.remove()
        HistoryEntry.objects.update(at=self.now - timedelta(days=2 * KEPT_DAYS))
        for path in self.paths:
            os.utime(path, (0, 0))
        store_photo(self.content)  # its record is not written yet
        self.assertEqual(sweep_photos(self.now), 0)
        self.assertEqual(self.there(), [True, True])

    def test_undone_after_that_the_record_comes_back_without_its_picture(self):
        self.remove()
        sweep_photos(self.late)
        self.assertEqual(self.client.post(f"/api/history/{self.undo}/undo/").status_code, 200)
        self.assertEqual(self.client.get(f"/api/photos/{self.photo.file}/").status_code, 404)

    def test_the_half_of_one_that_a_power_cut_left_goes_too(self):
        half = Path(settings.PHOTO_DIR) / "tmp123.part"
        half.write_bytes(b"half")
        sweep_photos(self.now)
        self.assertTrue(half.exists())
        sweep_photos(self.late)
        self.assertFalse(half.exists())

    def test_it_is_done_after_each_daily_backup(self):
        stop, swept = threading.Event(), []
        with mock.patch.object(daily, "back_up"), mock.patch.object(daily, "is_due", return_value=True):
            thread = daily.keep_daily(Path("x"), stop, then=lambda now: (swept.append(now), stop.set()))
            thread.join(10)
        self.assertEqual(len(swept), 1)
