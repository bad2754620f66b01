"""A real server on a copy of the demo world, with its restarts, doors and files: what a test's own server has not."""

import os
import sqlite3
import subprocess
import sys
import tempfile
import urllib.request
from contextlib import closing
from pathlib import Path

from django.conf import settings

from darre.demo.tests.fresh import WorldInEveryTest, copy_database
from darre.network.tests.test_server import two_free_ports
from e2e.chromium import shared_browser
from e2e.witness import Watched


class RealServer(Watched, WorldInEveryTest):
    """Served on `port`, from `file`."""

    @classmethod
    def setUpClass(cls):
        cls.browser = shared_browser()
        super().setUpClass()

    def setUp(self):
        super().setUp()
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.file = self.folder / "demo.sqlite3"
        copy_database(self.file)
        self.port = two_free_ports()
        self.start()
        self.addCleanup(self.stop)

    def start(self):
        env = {**os.environ, "DARRE_DB": str(self.file), "DARRE_PHOTOS": str(self.folder / "photos")}
        words = [sys.executable, "-m", "darre.serve", "--port", str(self.port)]
        self.server = subprocess.Popen(words, cwd=settings.BASE_DIR, env=env, stdout=subprocess.PIPE, text=True)
        self.assertIn("in your browser", self.server.stdout.readline())
        with urllib.request.urlopen(f"http://127.0.0.1:{self.port}/api/rack/?span=weeks") as rack:
            rack.read()  # a busy machine takes its time to compute the first one, and a page is not to wait for it

    def stop(self):
        if self.server.poll() is None:
            self.server.terminate()
            self.server.communicate()

    def page(self, **options):
        context = self.browser.new_context(**({"service_workers": "block"} | options))
        self.addCleanup(context.close)
        return self.watched(context.new_page())

    def rows(self, query):
        with closing(sqlite3.connect(self.file)) as db:
            return db.execute(query).fetchall()
