"""Set-up that can be repeated, and that fails with a sentence that helps."""

import os
import socket
import subprocess
import sys
import tempfile
import threading
from contextlib import suppress
from pathlib import Path
from unittest import TestCase
from unittest.mock import patch

from tools import house, install


class Sentences(TestCase):
    def stopped(self, act, named):
        with self.assertRaisesRegex(install.Stop, named):
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
                self.stopped(install.check_node, r"Node 20.19 or newer is needed; this machine has v18.19.1")
            with patch.dict(os.environ, {"PATH": tempfile.gettempdir()}):
                self.stopped(install.check_node, "Node and npm are needed.*20.19")

    def test_an_old_python_is_named_with_what_is_needed(self):
        with patch.object(sys, "version_info", (3, 9, 2, "final", 0)):
            self.stopped(install.make_venv, r"Python 3\.11 or newer is needed")

    def test_an_unknown_command_lists_the_known_ones(self):
        said = subprocess.run(
            [sys.executable, "-m", "tools.house", "fly"], cwd=install.ROOT, capture_output=True, text=True, check=False
        )
        self.assertEqual(said.returncode, 2)
        self.assertIn("demo,serve,wheel,bridge,backup,restore,export,import,test", said.stdout)

    def test_a_failing_step_stops_the_command_with_its_own_words_above(self):
        self.stopped(
            lambda: install.run(sys.executable, "-c", "raise SystemExit(3)"), "failed; what it said stands above"
        )

    def test_of_steps_at_the_same_time_all_are_done_and_the_first_that_fails_stops_the_command(self):
        done = []

        def fails(text):
            done.append(text)
            raise install.Stop(text)

        install.together(lambda: done.append("a"), lambda: done.append("b"))
        self.stopped(lambda: install.together(lambda: done.append("c"), lambda: fails("d"), lambda: fails("e")), "^d$")
        self.assertEqual(sorted(done), ["a", "b", "c", "d", "e"])

    def test_only_one_at_a_time_installs_with_the_system(self):
        alone = []

        def runs(*command, **how):
            alone.append(not install.IN_HAND["apt"].acquire(blocking=False))

        with patch.object(install, "run", runs), patch.object(install.shutil, "which", return_value="/bin/apt-get"):
            install.apt_install("one", "two")
        self.assertEqual(alone, [True, True])


class TwoProcesses(TestCase):
    def test_modules_that_take_from_one_another_are_compiled_by_one_process(self):
        """Also by way of a third; the heaps are as even as that allows."""
        sources = {"low": "1234", "high": "from middle import it", "middle": "from low import it", "a": "12", "b": "1"}
        self.assertEqual(install.apart(sources), [["high", "low", "middle"], ["a", "b"]])
        self.assertEqual(install.apart({"a": "123", "b": "12", "c": "12"}), [["a"], ["b", "c"]])
        self.assertEqual(install.apart({"a": "123"}), [["a"]])

    def test_the_core_s_loops_are_two_heaps_of_which_neither_is_most_of_it(self):
        """Else one process has nothing to do while the other compiles."""
        sources = install.loop_sources()
        one, other = (install.size(names, sources) for names in install.apart(sources))
        self.assertGreater(min(one, other), (one + other) / 4)


class Stamps(TestCase):
    def test_a_step_is_done_once_again_after_a_change_and_again_after_a_failure(self):
        with tempfile.TemporaryDirectory(dir=install.VAR) as folder:
            source, made = Path(folder) / "lock", Path(folder) / "made"
            source.write_text("one")
            done = []

            def step():
                done.append(source.read_text())
                if source.read_text() == "bad":
                    raise install.Stop("no")
                made.touch()

            with patch.object(install, "VAR", Path(folder)), patch.object(install, "say"):
                for text in ("one", "one", "two", "bad", "bad", "two"):
                    source.write_text(text)
                    with suppress(install.Stop):
                        install.once("step", [source], "working", step, made)
                made.unlink()
                install.once("step", [source], "working", step, made)
            self.assertEqual(done, ["one", "two", "bad", "bad", "two", "two"])

    def test_two_that_need_a_step_at_the_same_time_do_it_once_and_both_wait_for_it(self):
        with tempfile.TemporaryDirectory(dir=install.VAR) as folder:
            source, made = Path(folder) / "lock", Path(folder) / "made"
            source.write_text("one")
            done, begun, go_on = [], threading.Event(), threading.Event()

            def step():
                begun.set()
                go_on.wait()
                done.append("step")
                made.touch()

            def need():
                install.once("slow", [source], "working", step, made)
                done.append("went on")

            with patch.object(install, "VAR", Path(folder)), patch.object(install, "say"):
                both = [threading.Thread(target=need) for _ in range(2)]
                for one in both:
                    one.start()
                begun.wait()
                go_on.set()
                for one in both:
                    one.join()
            self.assertEqual(done, ["step", "went on", "went on"])
