"""The real server: closed it answers this machine alone; opened it starts anew with a second door that speaks TLS."""

import http.client
import itertools
import json
import logging
import os
import socket
import ssl
import subprocess
import sys
import tempfile
from datetime import timedelta
from pathlib import Path
from unittest.mock import patch

from cryptography import x509
from django.conf import settings
from django.test import SimpleTestCase, TransactionTestCase
from django.utils import timezone

from darre.demo.tests.fresh import copy_database
from darre.network import addresses, server
from darre.network.certificate import made_here
from darre.network.kept import Kept, file_of, keep, read_kept

PAIRS_EACH = 20
_turn = itertools.count()


def two_free_ports():
    """A port whose next one is free too, and stays so until a server takes it a minute later: below those that the
    system hands out to whoever asks, and of this process alone.
    """
    while True:
        port = 12_000 + os.getpid() % 500 * 2 * PAIRS_EACH + next(_turn) % PAIRS_EACH * 2
        with socket.socket() as probe, socket.socket() as following:
            try:
                probe.bind(("127.0.0.1", port))
                following.bind(("0.0.0.0", port + 1))
            except OSError:
                continue
            return port


class Doors(TransactionTestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        # Without records, but ready: that is half of a server's first start.
        copy_database(self.folder / "mine.sqlite3")
        self.port = two_free_ports()
        self.jar = {}

    def ask(self, method, path, body=None, *, door=None):
        """Over the machine's own door, or by TLS with the certificate that the server made as the only one trusted."""
        if door is None:
            connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=60)
        else:
            trusted = ssl.create_default_context(cafile=str(self.folder / "tls/certificate.pem"))
            connection = http.client.HTTPSConnection(door, self.port + 1, timeout=60, context=trusted)
        headers = {"Cookie": "; ".join(f"{name}={value}" for name, value in self.jar.items())}
        if body is not None:
            headers["Content-Type"] = "application/json"
        if "darre_token" in self.jar:
            headers["X-CSRFToken"] = self.jar["darre_token"]
            headers["Referer"] = f"{'http' if door is None else 'https'}://{connection.host}:{connection.port}/"
        connection.request(method, path, None if body is None else json.dumps(body), headers)
        answer = connection.getresponse()
        for header in answer.headers.get_all("Set-Cookie") or []:
            name, _, value = header.partition(";")[0].partition("=")
            self.jar[name] = value
        content = answer.read()
        connection.close()
        return answer.status, json.loads(content)

    def start(self):
        env = {**os.environ, "DARRE_DB": str(self.folder / "mine.sqlite3"), "DARRE_PHOTOS": str(self.folder / "photos")}
        words = [sys.executable, "-m", "darre.serve", "--port", str(self.port)]
        served = subprocess.Popen(words, cwd=settings.BASE_DIR, env=env, stdout=subprocess.PIPE, text=True)

        def stop():
            if served.poll() is None:
                served.terminate()
                served.communicate()

        self.stop = stop
        self.addCleanup(stop)
        self.said = served.stdout
        self.assertIn("in your browser", self.said.readline())

    def test_a_taken_port_for_others_is_named_and_the_machine_itself_is_served_all_the_same(self):
        self.start()
        owner = {"name": "Olive", "password": "three wet spools"}
        self.assertEqual(self.ask("POST", "/api/accounts/first/", owner)[0], 201)
        with socket.socket() as other:
            other.bind(("0.0.0.0", self.port + 1))
            other.listen()
            status, told = self.ask("PUT", "/api/network/", {"open": True})
            self.assertEqual((status, told["code"]), (409, "port_taken"))
            self.assertIn(f"port {self.port + 1}", told["message"])
            keep(self.folder / "mine.sqlite3", Kept(True, ()))  # as it was let out before the other program came
            self.stop()
            self.start()
            self.assertIn(f"port {self.port + 1} is taken", self.said.readline())
            told = self.ask("GET", "/api/network/")[1]
            self.assertEqual((told["open"], told["addresses"], told["taken_port"]), (True, [], self.port + 1))

    def test_it_is_opened_and_closed_from_the_page_and_speaks_tls_to_others_alone(self):
        self.start()
        with socket.socket() as probe:
            self.assertNotEqual(probe.connect_ex(("127.0.0.1", self.port + 1)), 0)
        owner = {"name": "Olive", "password": "three wet spools"}
        self.assertEqual(self.ask("POST", "/api/accounts/first/", owner)[0], 201)
        self.jar.clear()
        self.assertEqual(self.ask("PUT", "/api/network/", {"open": True}), (200, {"starts_again": True}))
        self.assertIn("in your browser", self.said.readline())
        self.assertIn(f":{self.port + 1}/", self.said.readline())
        for door in (None, "localhost"):
            status, told = self.ask("GET", "/api/rack/", door=door)
            self.assertEqual((status, told["code"]), (401, "sign_in"))
        plain = http.client.HTTPConnection("127.0.0.1", self.port + 1, timeout=60)
        plain.request("GET", "/api/health/")
        with self.assertRaises((http.client.HTTPException, OSError)):
            plain.getresponse()
        for private in ("tls/key.pem", "mine.sqlite3.network.json"):
            self.assertEqual((self.folder / private).stat().st_mode & 0o077, 0)
        self.ask("GET", "/api/session/", door="localhost")
        self.assertEqual(self.ask("POST", "/api/session/", owner, door="localhost")[1]["role"], "owner")
        self.assertEqual(self.ask("GET", "/api/rack/", door="localhost")[0], 200)
        self.assertEqual(self.ask("PUT", "/api/network/", {"open": False}, door="localhost")[0], 200)
        self.assertIn("in your browser", self.said.readline())
        self.jar.clear()
        self.assertEqual(self.ask("GET", "/api/rack/")[0], 200)


class Log(SimpleTestCase):
    def test_a_browser_that_does_not_trust_the_certificate_yet_is_no_fault(self):
        said = [
            server.tells_no_refusal(logging.makeLogRecord({"msg": text}))
            for text in (
                "Invalid request: [SSL: SSLV3_ALERT_CERTIFICATE_UNKNOWN]",
                "Invalid request: [SSL: BAD_LENGTH]",
            )
        ]
        self.assertEqual(said, [False, True])


class WhatIsKept(SimpleTestCase):
    def setUp(self):
        self.database = Path(self.enterContext(tempfile.TemporaryDirectory())) / "mine.sqlite3"

    def test_it_comes_back_as_it_was_and_is_private(self):
        keep(self.database, Kept(True, ("bench.example",)))
        self.assertEqual(read_kept(self.database), Kept(True, ("bench.example",)))
        self.assertEqual(file_of(self.database).stat().st_mode & 0o077, 0)

    def test_what_cannot_be_read_is_closed(self):
        for torn in ("", "{", "[]", '{"open": "yes", "names": []}', '{"open": 1}', "null"):
            file_of(self.database).write_text(torn)
            self.assertEqual(read_kept(self.database), Kept(False, ()), torn)

    def test_a_server_that_is_not_ours_is_left_as_it_is(self):
        with self.settings(DATABASE=self.database), patch.dict(os.environ, {"DARRE_SERVING_AGAIN": "1"}):
            self.assertFalse(server.set_open(to_others=True))
        self.assertTrue(read_kept(self.database).open)


class Addresses(SimpleTestCase):
    def test_the_loopback_is_no_address_for_others_and_no_network_gives_none(self):
        with patch("socket.socket") as made:
            found = made.return_value.__enter__.return_value
            for told, expected in (("127.0.0.1", None), ("192.0.2.44", "192.0.2.44")):
                found.getsockname.return_value = (told, 1)
                self.assertEqual(addresses._sends_from(), expected)
            found.connect.side_effect = OSError
            self.assertIsNone(addresses._sends_from())

    def test_what_is_taken_along_leads_phones_to_the_door_for_them_where_it_is_open(self):
        own = "http://127.0.0.1:8642/"
        there = patch("darre.network.server.own_addresses", lambda: ("192.0.2.44",))
        with there, patch.dict(os.environ, {server.PORT: "8642"}):
            for opened, base in ((False, own), (True, "https://192.0.2.44:8643/")):
                with self.settings(NETWORK_OPEN=opened):
                    self.assertEqual(server.base_address(own), base)

    def test_another_network_is_noticed_without_a_new_start(self):
        asked = self.client.get
        with (
            self.settings(NETWORK_OPEN=True, ALLOWED_HOSTS=["localhost"]),
            patch("darre.common.front_door.own_addresses", lambda: ("192.0.2.44",)),
            patch("darre.accounts.gate.is_open", lambda: True),
            patch("darre.accounts.gate.get_user", lambda request: None),
        ):
            self.assertEqual(asked("/api/rack/", HTTP_HOST="192.0.2.44:8643").status_code, 401)
            self.assertEqual(asked("/api/rack/", HTTP_HOST="192.0.2.45:8643").json()["code"], "unknown_host")


class Certificates(SimpleTestCase):
    def setUp(self):
        self.now = timezone.now()
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory())) / "tls"

    def made(self, *names, days=0):
        return made_here(self.folder, names, self.now + timedelta(days=days)).fingerprint

    def test_it_stays_as_long_as_it_serves(self):
        first = self.made("192.0.2.4", "bench.local")
        self.assertEqual(self.made("192.0.2.4"), first)
        self.assertEqual(self.made("192.0.2.4", days=300), first)
        self.assertNotEqual(self.made("192.0.2.4", days=390), first)

    def test_another_address_takes_a_new_one(self):
        first = self.made("192.0.2.4")
        self.assertNotEqual(self.made("192.0.2.5"), first)

    def test_a_torn_file_or_a_lost_key_is_made_again(self):
        first = self.made("192.0.2.4")
        (self.folder / "key.pem").unlink()
        second = self.made("192.0.2.4")
        self.assertNotEqual(second, first)
        (self.folder / "certificate.pem").write_text("torn")
        self.assertNotEqual(self.made("192.0.2.4"), second)

    def test_it_cannot_vouch_for_others_and_browsers_take_its_days(self):
        self.made("192.0.2.4")
        found = x509.load_pem_x509_certificate((self.folder / "certificate.pem").read_bytes())
        self.assertFalse(found.extensions.get_extension_for_class(x509.BasicConstraints).value.ca)
        self.assertLessEqual((found.not_valid_after_utc - found.not_valid_before_utc).days, 398)
        self.assertEqual((self.folder / "key.pem").stat().st_mode & 0o077, 0)
