"""The app's own state: the room's air by the hour, kept by the readings that it was made of."""

from typing import cast

from django.apps import AppConfig, apps

from drying.air import HourlyRoomAir
from drying.cache import Cache


class PlacesConfig(AppConfig):
    """Owns the cache of hourly room air."""

    name = "darre.places"

    def ready(self) -> None:
        self.hourly_room_air: Cache[HourlyRoomAir] = Cache(8)


def room_hours_cache() -> Cache[HourlyRoomAir]:
    """The process's cache of hourly room air."""
    return cast(PlacesConfig, apps.get_app_config("places")).hourly_room_air
