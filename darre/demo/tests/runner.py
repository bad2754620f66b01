"""The test runner with the demo world: loaded once, before the workers part from one another."""

from typing import Any

from django.db import connection
from django.test import Client, TransactionTestCase

from darre.common.test_runner import PlainRunner, forget
from darre.demo.tests import fresh

MANY = 300  # tests: for fewer than that a world that most of them do not ask for does not pay
LOOKED_AT = (
    "rack/?span=week", "storage/", "runs/", "cases/1/", "dryers/compared/",
    *(f"runs/{run}/" for run in (1, 2, 3)), *(f"spools/{spool}/page/" for spool in range(1, 12)),
)  # fmt: skip


class RunnerWithWorld(PlainRunner):
    """Has what every worker would load and compute first by itself done once, and handed on to all of them."""

    def setup_test_environment(self, **kwargs: Any) -> None:
        super().setup_test_environment(**kwargs)
        cases: Any = TransactionTestCase
        cases._fixture_teardown = lambda _: fresh.empty()  # the one place where Django empties the database

    def build_suite(self, *args: Any, **kwargs: Any) -> Any:
        suite = super().build_suite(*args, **kwargs)
        self._many = suite.countTestCases() >= MANY
        return suite

    def setup_databases(self, **kwargs: Any) -> Any:
        found = super().setup_databases(**kwargs)
        if self._many and self.parallel > 1:
            with fresh.world_at_hand():
                for path in LOOKED_AT:
                    answer = Client(headers={"host": "127.0.0.1"}).get(f"/api/{path}")
                    assert answer.status_code == 200, path
            forget()
            connection.close()
        return found
