"""The app's own state: the room's air by the hour, kept by the readings that it was made of."""

from typing import cast

from django.apps import AppConfig, apps

from drying.air.room_series import RoomHours
from drying.cache import Cache


class PlacesConfig(AppConfig):
    """Owns the cache of hourly room air."""

    name = "darre.places"

    def ready(self) -> None:
        self.room_hours: Cache[RoomHours] = Cache(8)


def room_hours_cache() -> Cache[RoomHours]:
    """The process's cache of hourly room air."""
    return cast(PlacesConfig, apps.get_app_config("places")).room_hours
