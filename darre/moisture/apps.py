"""The app's own state: one simulator of moisture histories for the whole process."""

from typing import cast

from django.apps import AppConfig, apps

from drying.moisture import MoistureSimulator


class MoistureConfig(AppConfig):
    """Owns the simulator, which remembers what it computed. Nothing in it is a record: it may be lost at any time."""

    name = "darre.moisture"

    def ready(self) -> None:
        self.simulator = MoistureSimulator()


def simulator() -> MoistureSimulator:
    """The process's simulator of moisture histories."""
    return cast(MoistureConfig, apps.get_app_config("moisture")).simulator
