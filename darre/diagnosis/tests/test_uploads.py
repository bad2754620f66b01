"""Files that are sent: what is wrong with one is said, nothing is kept of it, and memory stays flat."""

import hashlib
import io
import itertools
import struct
import zlib
from concurrent.futures import ThreadPoolExecutor
from dataclasses import asdict, replace
from pathlib import Path

from django.conf import settings
from django.test import RequestFactory, SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from darre.common.errors import Refusal
from darre.common.upload import plain_name
from darre.demo.cases import FUNNEL, gcode_of
from darre.diagnosis.models import Photo, PrintFile
from darre.diagnosis.photo_store import photo_path, store_photo
from darre.diagnosis.tests.test_cases import Cases
from darre.diagnosis.upload import MOST_GCODE_BYTES, MOST_PHOTO_BYTES, READ_HERE_BYTES, read_gcode
from gcode.reader import GcodeReader

BINARY = "application/octet-stream"


def jpeg(size=(640, 480), **more):
    out = io.BytesIO()
    Image.effect_noise(size, 40).convert("RGB").save(out, "JPEG", **more)
    return out.getvalue()


def bomb():
    """A PNG of 60,000 by 60,000 pixels in a few hundred bytes."""

    def chunk(kind, data):
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    head = chunk(b"IHDR", struct.pack(">IIBBBBB", 60000, 60000, 1, 0, 0, 0, 0))
    return b"\x89PNG\r\n\x1a\n" + head + chunk(b"IDAT", zlib.compress(b"\0" * 1000)) + chunk(b"IEND", b"")


class Files(Cases):
    def send(self, path, content, **more):
        return self.client.put(f"/api/{path}", content, content_type=BINARY, **more)

    def stored(self):
        return sorted(p.name for p in Path(settings.PHOTO_DIR).rglob("*"))


class Gcode(Files):
    def test_a_print_file_is_read_once_for_the_same_bytes_whatever_its_name(self):
        blob = b"".join(gcode_of(FUNNEL)) + b"; another end\n"
        first = self.send("print-files/?name=..%2F..%2Fetc%2Fpass%00wd%0A.gcode", blob)
        self.assertEqual((first.status_code, first.json()["known"]), (201, False))
        self.assertEqual(first.json()["file"]["name"], "passwd.gcode")
        self.assertAlmostEqual(first.json()["file"]["summary"]["extruded_mm"], 13400, delta=1)
        again = self.send("print-files/?name=b.gcode", blob).json()
        self.assertEqual((again["known"], again["file"]["id"]), (True, first.json()["file"]["id"]))

    def test_what_is_no_print_file_too_large_empty_or_cut_short_is_refused_and_not_kept(self):
        count = PrintFile.objects.count()
        for name, content, code, status, more in (
            ("a photo", jpeg(), "not_gcode", 400, {}),
            ("text", b"Dear printer,\n" * 100, "not_gcode", 400, {}),
            ("one endless line", b"G1 X" + b"1" * 300_000, "not_gcode", 400, {}),
            ("nothing", b"", "empty", 400, {}),
            ("too large", b"G1 X1 E1\n", "too_large", 413, {"CONTENT_LENGTH": MOST_GCODE_BYTES + 1}),
            ("no number of bytes", b"G1 X1 E1\n", "empty", 400, {"CONTENT_LENGTH": "many"}),
        ):
            with self.subTest(name):
                answer = self.send("print-files/?name=x.gcode", content, **more)
                self.assertEqual((answer.status_code, answer.json()["code"]), (status, code), answer.json())
                self.assertRegex(answer.json()["message"], r"[.]$")
        self.assertEqual(PrintFile.objects.count(), count)

    def test_a_long_file_is_read_by_a_process_of_its_own_to_the_same_end(self):
        long = replace(FUNNEL, layers=400)
        blob = b"".join(gcode_of(long))
        self.assertGreater(len(blob), READ_HERE_BYTES)
        told = self.send("print-files/?name=long.gcode", blob).json()["file"]
        reader = GcodeReader()
        reader.feed(blob)
        self.assertEqual(told["summary"], asdict(reader.finish().summary))
        self.assertEqual(told["sha256"], hashlib.sha256(blob).hexdigest())
        refused = self.send("print-files/?name=x.gcode", b"\0" * 2_000_000)
        self.assertEqual((refused.status_code, refused.json()["code"]), (400, "not_gcode"))


class Names(SimpleTestCase):
    @given(st.text(max_size=300))
    def test_a_name_is_only_ever_shown_and_holds_no_path_and_no_control(self, name):
        plain = plain_name(name, "file")
        self.assertTrue(0 < len(plain) <= 120)
        self.assertFalse(set(plain) & set("/\\\0\n\r\t\u202e\u200b"))
        self.assertNotIn(plain, (".", ".."))


class Photos(Files):
    def photo(self, content, side="before", name="a.jpg"):
        return self.send(f"cases/{self.funnel.pk}/photos/?side={side}&name={name}", content)

    def test_place_and_device_are_taken_out_the_picture_is_turned_upright_and_kept_under_a_name_of_the_store(self):
        exif = Image.Exif()
        exif[0x0112], exif[0x010F] = 6, "camera of somebody"  # turned by a quarter
        exif.get_ifd(0x8825)[2] = (51.0, 30.0, 0.0)
        answer = self.photo(jpeg((640, 480), exif=exif), name="..%2Fa%2Fhome.jpg")
        kept = answer.json()["photo"]
        self.assertEqual((kept["name"], kept["width"], kept["height"]), ("home.jpg", 480, 640))
        whole = self.client.get(f"/api/photos/{kept['id']}/whole.jpg")
        content = b"".join(whole.streaming_content)
        self.assertEqual((whole["Content-Type"], whole["X-Content-Type-Options"]), ("image/jpeg", "nosniff"))
        self.assertNotIn(b"somebody", content)
        self.assertEqual(len(Image.open(io.BytesIO(content)).getexif()), 0)
        small = b"".join(self.client.get(f"/api/photos/{kept['id']}/small.jpg").streaming_content)
        self.assertLessEqual(max(Image.open(io.BytesIO(small)).size), 480)
        self.assertRegex(Photo.objects.get(pk=kept["id"]).file, "^[0-9a-f]{40}$")

    def test_what_is_no_photo_a_bomb_damaged_or_too_large_is_refused_and_nothing_is_kept(self):
        before, whole = self.stored(), jpeg()
        svg = b"<svg xmlns='http://www.w3.org/2000/svg'><script>alert(1)</script></svg>"
        gif = io.BytesIO()
        Image.new("RGB", (9, 9)).save(gif, "GIF")
        for name, content, code, status in (
            ("text", b"not a photo", "not_a_photo", 400),
            ("a page with a script", svg, "not_a_photo", 400),
            ("another format", gif.getvalue(), "not_a_photo", 400),
            ("a bomb", bomb(), "too_many_pixels", 400),
            ("broken off", whole[: len(whole) // 3], "broken_photo", 400),
            ("nothing", b"", "empty", 400),
            ("too large", b"\xff" * (MOST_PHOTO_BYTES + 1), "too_large", 413),
        ):
            with self.subTest(name):
                answer = self.photo(content)
                self.assertEqual((answer.status_code, answer.json()["code"]), (status, code), answer.json())
        self.assertEqual(self.stored(), before)
        self.assertEqual(self.photo(jpeg(), side="middle").json()["code"], "no_side")
        self.assertEqual(self.send("cases/999/photos/?side=before", jpeg()).status_code, 404)

    def test_the_same_photo_stored_by_many_at_once_is_stored_once_and_whole(self):
        content = jpeg((200, 150))
        with ThreadPoolExecutor(8) as many:
            stored = set(many.map(lambda _: store_photo(content), range(24)))
        self.assertEqual(len(stored), 1)
        self.assertEqual(Image.open(photo_path(stored.pop().file)).size, (200, 150))
        self.assertEqual([name for name in self.stored() if name.endswith(".part")], [])

    def test_formats_with_transparency_and_wide_ones_are_taken_and_a_removed_photo_comes_back(self):
        for kind in ("PNG", "WEBP"):
            out = io.BytesIO()
            Image.new("RGBA", (3000, 40), (10, 200, 30, 90)).save(out, kind)
            self.assertEqual(self.photo(out.getvalue()).json()["photo"]["width"], 2400)
        kept = self.photo(jpeg(), side="after").json()["photo"]["id"]
        gone = self.client.delete(f"/api/photos/{kept}/").json()["undo"]
        self.assertEqual(self.client.get(f"/api/photos/{kept}/whole.jpg").status_code, 404)
        self.post(f"history/{gone}/undo/")
        self.assertEqual(self.client.get(f"/api/photos/{kept}/whole.jpg").status_code, 200)

    def test_a_file_that_breaks_off_on_the_way_is_told_so(self):
        class Broken(io.RawIOBase):
            def read(self, size=-1):
                raise OSError("gone")

        for stream, length in itertools.product((Broken(), io.BytesIO(b"G1 X1 E1\n" * 9)), (1000, 2 * READ_HERE_BYTES)):
            request = RequestFactory().generic("PUT", "/", b"", content_type=BINARY)
            request.META["CONTENT_LENGTH"], request._stream = length, stream
            with self.assertRaises(Refusal) as refused:
                read_gcode(request)
            self.assertEqual(refused.exception.code, "cut_short")
