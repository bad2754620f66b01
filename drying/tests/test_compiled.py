"""Loops in machine code: what is kept of them never stands in the way, and nobody loads the compiler for nothing."""

import ast
import importlib
import os
import subprocess
import sys
import tempfile
from pathlib import Path
from unittest import TestCase, mock

from drying import compiled as module

SOURCE = """
from drying.compiled import Number, compiled

@compiled(Number(Number))
def twice(x):
    return {factor} * x
"""

CALLER = """
from drying.compiled import Number, compiled
from some_loop import twice

@compiled(Number(Number))
def and_one(x):
    return twice(x) + 1.0

@compiled(Number(Number))
def and_two(x):
    return and_one(x) + 1.0
"""


class Kept(TestCase):
    def setUp(self):
        self.place = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.enterContext(mock.patch.object(sys, "path", [str(self.place), *sys.path]))
        self.addCleanup(sys.modules.pop, "some_loop", None)

    def imported(self, factor=2.0):
        (self.place / "some_loop.py").write_text(SOURCE.format(factor=factor))
        importlib.invalidate_caches()
        sys.modules.pop("some_loop", None)
        return importlib.import_module("some_loop").twice

    def kept(self):
        return sorted((self.place / "__pycache__").glob("some_loop.twice-*.nb?"))

    def test_a_loop_is_kept_beside_its_source(self):
        self.assertEqual(self.imported()(4.0), 8.0)
        self.assertEqual([file.suffix for file in self.kept()], [".nbc", ".nbi"])

    def test_what_is_damaged_is_made_anew(self):
        self.imported()
        for file in self.kept():
            with self.subTest(file=file.suffix):
                size = len(file.read_bytes())
                file.write_bytes(b"no such thing")
                self.assertEqual(self.imported()(4.0), 8.0)
                self.assertGreater(len(file.read_bytes()), size // 2)

    def test_one_that_calls_a_loop_of_another_module_is_made_anew_with_it(self):
        """By way of one of its own too; and is kept where nothing has changed."""
        (self.place / "some_caller.py").write_text(CALLER)
        self.addCleanup(sys.modules.pop, "some_caller", None)

        def called():
            sys.modules.pop("some_caller", None)
            return importlib.import_module("some_caller").and_two(1.0)

        self.imported(2.0)
        self.assertEqual(called(), 4.0)
        kept = sorted((self.place / "__pycache__").glob("some_caller.*.nb?"))
        self.assertEqual(len(kept), 4)
        for file in kept:  # made a while before the edit
            os.utime(file, (file.stat().st_atime, file.stat().st_mtime - 60.0))
        self.imported(3.25)  # of another length, so that Python's own cache sees it within the same second
        self.assertEqual(called(), 5.25)
        since = [file.stat().st_mtime_ns for file in kept]
        self.assertEqual(called(), 5.25)
        self.assertEqual([file.stat().st_mtime_ns for file in kept], since)

    def test_how_it_is_compiled_makes_all_anew_where_it_changes(self):
        self.imported()
        since = [file.stat().st_mtime_ns for file in self.kept()]
        self.imported()
        self.assertEqual([file.stat().st_mtime_ns for file in self.kept()], since)
        with mock.patch.object(module, "__file__", str(self.place / "compiled.py")):
            Path(module.__file__).touch()
            for file in self.kept():  # made a while before the edit
                os.utime(file, (file.stat().st_atime, file.stat().st_mtime - 60.0))
            self.assertEqual(self.imported()(4.0), 8.0)
        self.assertTrue(all(file.stat().st_mtime_ns >= before for file, before in zip(self.kept(), since, strict=True)))

    def test_where_nothing_may_be_written_it_runs_all_the_same(self):
        real, asked = module.njit, []

        def refuses_to_keep(*args, **how):
            asked.append(how.get("cache", False))
            if asked[-1]:
                raise RuntimeError("no locator available")
            return real(*args, **how)

        with mock.patch.object(module, "njit", refuses_to_keep):
            self.assertEqual(self.imported()(4.0), 8.0)
        self.assertEqual(asked, [True, True, False])
        self.assertEqual(self.kept(), [])

    def test_what_python_refuses_to_divide_is_infinite_or_no_number(self):
        (self.place / "some_loop.py").write_text(SOURCE.replace("{factor} * x", "1.0 / x"))
        self.assertEqual(importlib.import_module("some_loop").twice(0.0), float("inf"))


def called_from_python(source):
    """The inner loops of a module, by underscore, that something other than a loop calls."""
    tree = ast.parse(source)
    loops = {
        each
        for each in tree.body
        if isinstance(each, ast.FunctionDef) and any("compiled(" in ast.unparse(one) for one in each.decorator_list)
    }
    inner = {loop.name for loop in loops if loop.name.startswith("_")}
    calls = [call for part in tree.body if part not in loops for call in ast.walk(part) if isinstance(call, ast.Call)]
    return inner.intersection(ast.unparse(call.func) for call in calls)


class Inner(TestCase):
    def test_only_loops_call_an_inner_loop(self):
        """There is no way into one from Python: to try ends the process."""
        core = Path(module.__file__).parent
        sources = [file.read_text() for file in core.rglob("*.py")]
        self.assertGreater(sum("\n@compiled(" in source for source in sources), 8)
        self.assertEqual({name for source in sources for name in called_from_python(source)}, set())

    def test_one_that_is_called_from_python_is_found(self):
        inner = SOURCE.replace("twice", "_twice")
        self.assertEqual(called_from_python(inner + "\ndef four():\n    return _twice(2.0)\n"), {"_twice"})
        self.assertEqual(called_from_python(inner), set())


class Loaded(TestCase):
    def test_the_core_loads_the_compiler_only_to_follow_water(self):
        """Nor does another package for its own ends."""
        told = subprocess.run(
            [sys.executable, "-c", "import sys, drying.planning, drying.runs, drying.trials, drying.diagnosis\n"
             "from drying.air import dew_point_c; dew_point_c(20.0, 50.0); print('numba' in sys.modules)"],
            check=True, capture_output=True, text=True,
        )  # fmt: skip
        self.assertEqual(told.stdout.strip(), "False")
