"""The wheel: installed where nothing but it and its requirements are, it is a Darre with its page and its commands."""

import json
import signal
import subprocess
import sys
import tempfile
import urllib.request
import venv
from pathlib import Path
from unittest import TestCase

from darre.network.tests.test_server import two_free_ports
from tools.house import build_wheel


class Wheel(TestCase):
    begins_first = True

    @classmethod
    def setUpClass(cls):
        cls.folder = Path(cls.enterClassContext(tempfile.TemporaryDirectory()))
        wheel = build_wheel(cls.folder)
        cls.env = cls.folder / "env"
        venv.create(cls.env, with_pip=False)
        python = cls.env / "bin/python"
        pip = [sys.executable, "-m", "pip", "--python", str(python), "--quiet", "--disable-pip-version-check"]
        subprocess.run([*pip, "install", "--no-index", "--no-deps", str(wheel)], check=True)
        # What it requires is there already, in the environment of these tests; its own files are not taken from there.
        (site,) = (cls.env / "lib").glob("python*/site-packages")
        here = next(path for path in sys.path if path.endswith("site-packages"))
        (site / "required.pth").write_text(here + "\n")

    def darre(self, *words, **more):
        env = {"PATH": "/usr/bin:/bin", "DARRE_FOLDER": str(self.folder / "records"), "HOME": str(self.folder), **more}
        return subprocess.Popen(
            [self.env / "bin/darre", *words],
            env=env,
            cwd=self.folder,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
        )

    def read(self, path):
        with urllib.request.urlopen(f"http://127.0.0.1:{self.port}{path}") as answer:
            return answer.read().decode()

    def test_it_serves_the_page_and_the_demo_stops_whole_and_its_records_go_out_and_in(self):
        self.port = two_free_ports()
        server, said = self.darre("demo", "--port", str(self.port)), ""
        try:
            while "in your browser" not in (line := server.stdout.readline()):
                self.assertTrue(line, "it stopped")
                said += line
            self.assertIn("making the core's loops ready", said)
            self.assertIn('<div id="root">', self.read("/"))
            self.assertEqual(len(json.loads(self.read("/api/lanes/"))), 11)
            self.assertIn("is taken", self.darre("serve", "--port", str(self.port)).communicate()[0])
        finally:
            server.send_signal(signal.SIGTERM)
            rest = server.communicate()[0]  # ends once every process that was begun has let go of it
        self.assertNotIn("Traceback", rest)
        self.assertTrue((self.folder / "records/demo.sqlite3").exists())
        said, _ = self.darre("export", "out.zip", DARRE_DB=str(self.folder / "records/demo.sqlite3")).communicate()
        self.assertRegex(said, "^Wrote .*out.zip")
        said, _ = self.darre("import", "out.zip").communicate()
        self.assertRegex(said, "^Brought in [0-9]+ records and 4 photos")

    def test_a_file_that_is_not_there_is_said_in_words(self):
        said, _ = self.darre("restore", "nothing.zip").communicate()
        self.assertRegex(said, "^darre: .*nothing.zip")
        self.assertNotIn("Traceback", said)
