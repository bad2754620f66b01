"""The app's own start."""

from django.apps import AppConfig
from django.core.cache import cache


class AccountsConfig(AppConfig):
    """Accounts and the gate."""

    name = "darre.accounts"

    def forget(self) -> None:
        """Drop the counts of tries to sign in."""
        cache.clear()
