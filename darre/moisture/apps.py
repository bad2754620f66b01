"""The app's own state: one simulator of moisture histories for the whole process."""

from typing import cast

from django.apps import AppConfig, apps

from drying.cache import Cache
from drying.moisture import MoistureSimulator
from drying.planning import BestRun


class MoistureConfig(AppConfig):
    """Owns the simulator, which remembers what it computed, and the best runs by what they were found for. Nothing in
    it is a record: it may be lost at any time.
    """

    name = "darre.moisture"

    def ready(self) -> None:
        self.simulator = MoistureSimulator()
        self.best_runs: Cache[list[BestRun | None]] = Cache(2000)


def simulator() -> MoistureSimulator:
    """The process's simulator of moisture histories."""
    return cast(MoistureConfig, apps.get_app_config("moisture")).simulator


def best_runs() -> Cache[list[BestRun | None]]:
    """The process's best runs, each in a list, by the set-ups that it was chosen from."""
    return cast(MoistureConfig, apps.get_app_config("moisture")).best_runs
