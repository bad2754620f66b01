"""The app's own state: what lots of coils told, kept by what it was computed from."""

from typing import cast

from django.apps import AppConfig, apps

from drying.cache import Cache
from drying.trials import LotFit


class TrialsConfig(AppConfig):
    """Owns the fits. Nothing in it is a record: it may be lost at any time."""

    name = "darre.trials"

    def ready(self) -> None:
        self.fits: Cache[LotFit] = Cache(128)


def fits() -> Cache[LotFit]:
    """The process's fits of lots, by the lot."""
    return cast(TrialsConfig, apps.get_app_config("trials")).fits
