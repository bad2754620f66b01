"""Django's test runner with a plain closing line that build systems can read."""

import unittest
from typing import Any

from django.test.runner import DiscoverRunner


class PlainRunner(DiscoverRunner):
    """Prints 'N passed, N failed' last."""

    def suite_result(self, suite: unittest.TestSuite, result: Any, **kwargs: Any) -> int:
        failed = super().suite_result(suite, result, **kwargs)
        skipped = len(result.skipped)
        self.closing = f"{result.testsRun - failed - skipped} passed, {failed} failed"
        if skipped:
            self.closing += f", {skipped} skipped"
        return failed

    def teardown_test_environment(self, **kwargs: Any) -> None:
        super().teardown_test_environment(**kwargs)
        print(self.closing if hasattr(self, "closing") else "0 passed, 1 failed", flush=True)  # noqa: T201
