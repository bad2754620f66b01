"""Django's test runner with a plain closing line that build systems can read."""

import os
import tempfile
import time
import unittest
from pathlib import Path
from typing import Any

import hypothesis
from django.apps import apps
from django.conf import settings
from django.db import connection
from django.test import SimpleTestCase
from django.test.runner import DiscoverRunner, ParallelTestSuite

from darre.common.memory import collect_rarely

# Examples are drawn from the code of each test, so a build is the same twice, and none is timed: a busy machine is no
# fault. `make test explore=1` draws new ones, and twice as many.
SLOW = [hypothesis.HealthCheck.too_slow]
hypothesis.settings.register_profile(
    "build", deadline=None, derandomize=True, database=None, max_examples=50, suppress_health_check=SLOW
)
hypothesis.settings.register_profile("explore", deadline=None, suppress_health_check=SLOW)
hypothesis.settings.load_profile("explore" if os.environ.get("EXPLORE") else "build")


def _is_running(process: int) -> bool:
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except PermissionError:
        return True
    return True


def forget() -> None:
    """Have every app drop what it kept by the state of the records: tests write them without their actions, and take
    back what they wrote.
    """
    for config in apps.get_app_configs():
        getattr(config, "forget", lambda: None)()


def forget_before_each_test() -> None:
    """A test begins with nothing that another one left."""
    cases: Any = SimpleTestCase
    call = cases._setup_and_call

    def fresh(case: SimpleTestCase, *args: Any, **more: Any) -> None:
        forget()
        call(case, *args, **more)

    cases._setup_and_call = fresh  # the one place that every test with a database goes through


def note_how_long_each_takes(times: Path) -> None:
    """One line a test in `times`: seconds by the clock, seconds of this processor, name."""
    run = unittest.TestCase.run

    def timed(case: unittest.TestCase, *args: Any, **more: Any) -> Any:
        wall, busy = time.monotonic(), time.process_time()
        result = run(case, *args, **more)
        with times.open("a") as notes:  # a line is short enough to be written whole by any of the workers
            notes.write(f"{time.monotonic() - wall:.2f} {time.process_time() - busy:.2f} {case.id()}\n")
        return result

    unittest.TestCase.run = timed  # type: ignore[method-assign, assignment]  # the one place


def _work_in(folder: Path) -> None:
    folder.mkdir(exist_ok=True)
    settings.PHOTO_DIR = folder
    settings.DATABASE = folder / "darre.sqlite3"


def _with_a_folder_of_its_own(*given: Any, **more: Any) -> None:
    """Photos that one worker takes away, and what it keeps beside its database, are none of another's."""
    ParallelTestSuite.init_worker(*given, **more)
    _work_in(settings.PHOTO_DIR / f"worker-{os.getpid()}")


class Apart(ParallelTestSuite):
    """Classes with `begins_first` come first: what takes a minute must not be left to one process at the end."""

    init_worker = _with_a_folder_of_its_own

    def __init__(self, subsuites: list[unittest.TestSuite], *given: Any, **more: Any) -> None:
        first = sorted(subsuites, key=lambda tests: not getattr(next(iter(tests)), "begins_first", False))
        super().__init__(first, *given, **more)


class PlainRunner(DiscoverRunner):
    """Prints 'N passed, N failed' last."""

    parallel_test_suite = Apart

    def setup_test_environment(self, **kwargs: Any) -> None:
        """Photos of tests, and what is kept beside a database, go to a folder that is gone afterwards."""
        self._photos = tempfile.TemporaryDirectory()
        _work_in(Path(self._photos.name))
        settings.VAR_DIR.mkdir(exist_ok=True)
        times = settings.VAR_DIR / "test-times.txt"
        times.unlink(missing_ok=True)
        forget_before_each_test()
        note_how_long_each_takes(times)
        super().setup_test_environment(**kwargs)
        settings.OWN_NAMES = [*settings.OWN_NAMES, "testserver"]  # as the framework adds it to those it answers to

    def run_suite(self, suite: unittest.TestSuite, **kwargs: Any) -> Any:
        """All tests are loaded by now, and stay to the end: looking through them again and again for dead reference
        cycles took a twentieth of the time.
        """
        collect_rarely(old_after=10)
        return super().run_suite(suite, **kwargs)

    def teardown_test_environment(self, **kwargs: Any) -> None:
        super().teardown_test_environment(**kwargs)
        self._photos.cleanup()

    def setup_databases(self, **kwargs: Any) -> Any:
        """A clone is a copied file: what still stands in the write-ahead log must be in it, and the log of an earlier
        clone of the same name must not be taken for its own. Two runs at once have files of their own.
        """
        for left in settings.VAR_DIR.glob("test-*.sqlite3*"):
            if not _is_running(int(left.name.split("-")[1].split("_")[0].split(".")[0])):
                left.unlink(missing_ok=True)
        connection.settings_dict["TEST"]["NAME"] = str(settings.VAR_DIR / f"test-{os.getpid()}.sqlite3")
        creation = connection.creation
        clone = creation.clone_test_db

        def whole(*args: Any, **more: Any) -> None:
            with connection.cursor() as cursor:
                cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")
            clone(*args, **more)

        creation.clone_test_db = whole  # type: ignore[method-assign]  # the one place where clones are made
        return super().setup_databases(**kwargs)

    def suite_result(self, suite: unittest.TestSuite, result: Any, **kwargs: Any) -> int:
        verdict = super().suite_result(suite, result, **kwargs)
        bad = [test for test, _ in (*result.failures, *result.errors)] + list(result.unexpectedSuccesses)
        failed = len({getattr(test, "test_case", test).id() for test in bad})
        skipped = len(result.skipped)
        closing = f"{result.testsRun - failed - skipped} passed, {failed} failed"
        print(f"{closing}, {skipped} skipped" if skipped else closing, flush=True)  # noqa: T201
        return verdict
