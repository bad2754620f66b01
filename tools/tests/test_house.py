"""Set-up that can be repeated, and that fails with a sentence that helps."""

import os
import socket
import subprocess
import sys
import tempfile
from contextlib import suppress
from pathlib import Path
from unittest import TestCase
from unittest.mock import patch

from tools import house


class Sentences(TestCase):
    def stopped(self, act, named):
        with self.assertRaisesRegex(house.Stop, named):
            act()

    def test_a_taken_port_is_named_with_the_way_out(self):
        with socket.socket() as taken:
            taken.bind(("127.0.0.1", 0))
            taken.listen()
            port = taken.getsockname()[1]
            self.stopped(lambda: house.free_port(port), f"Port {port} is taken.*DARRE_PORT={port + 1} make demo")

    def test_a_node_that_is_too_old_or_missing_is_named_with_what_is_needed(self):
        with tempfile.TemporaryDirectory() as folder:
            for name, says in (("node", "echo v18.19.1"), ("npm", "true")):
                file = Path(folder) / name
                file.write_text(f"#!/bin/sh\n{says}\n")
                file.chmod(0o755)
            with patch.dict(os.environ, {"PATH": f"{folder}:/usr/bin:/bin"}):
                self.stopped(house.check_node, r"Node 20.19 or newer is needed; this machine has v18.19.1")
            with patch.dict(os.environ, {"PATH": tempfile.gettempdir()}):
                self.stopped(house.check_node, "Node and npm are needed.*20.19")

    def test_an_old_python_is_named_with_what_is_needed(self):
        with patch.object(sys, "version_info", (3, 9, 2, "final", 0)):
            self.stopped(house.make_venv, r"Python 3\.11 or newer is needed")

    def test_an_unknown_command_lists_the_known_ones(self):
        said = subprocess.run([sys.executable, house.__file__, "fly"], capture_output=True, text=True, check=False)
        self.assertEqual(said.returncode, 2)
        self.assertIn("demo,serve,test", said.stdout)

    def test_a_failing_step_stops_the_command_with_its_own_words_above(self):
        self.stopped(
            lambda: house.run(sys.executable, "-c", "raise SystemExit(3)"), "failed; what it said stands above"
        )


class Stamps(TestCase):
    def test_a_step_is_done_once_again_after_a_change_and_again_after_a_failure(self):
        with tempfile.TemporaryDirectory(dir=house.VAR) as folder:
            source, made = Path(folder) / "lock", Path(folder) / "made"
            source.write_text("one")
            done = []

            def step():
                done.append(source.read_text())
                if source.read_text() == "bad":
                    raise house.Stop("no")
                made.touch()

            with patch.object(house, "VAR", Path(folder)), patch.object(house, "say"):
                for text in ("one", "one", "two", "bad", "bad", "two"):
                    source.write_text(text)
                    with suppress(house.Stop):
                        house.once("step", [source], "working", step, made)
                made.unlink()
                house.once("step", [source], "working", step, made)
            self.assertEqual(done, ["one", "two", "bad", "bad", "two", "two"])
