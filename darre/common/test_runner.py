"""Django's test runner with a plain closing line that build systems can read."""

import unittest
from typing import Any

from django.test.runner import DiscoverRunner


class PlainRunner(DiscoverRunner):
    """Prints 'N passed, N failed' last."""

    def suite_result(self, suite: unittest.TestSuite, result: Any, **kwargs: Any) -> int:
        verdict = super().suite_result(suite, result, **kwargs)
        bad = [test for test, _ in (*result.failures, *result.errors)] + list(result.unexpectedSuccesses)
        failed = len({getattr(test, "test_case", test).id() for test in bad})
        skipped = len(result.skipped)
        closing = f"{result.testsRun - failed - skipped} passed, {failed} failed"
        print(f"{closing}, {skipped} skipped" if skipped else closing, flush=True)  # noqa: T201
        return verdict
