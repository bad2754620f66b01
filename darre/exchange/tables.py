"""Which records go along, table by table, and what each column is. A record's own fields say it: a new one goes along
by itself, and what does not is named here with its reason.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cache
from typing import Any

from django.apps import apps
from django.db import models

LEFT_OUT: Mapping[str, str] = {
    "accounts.Account": "passwords stay with the workshop that they open",
    "accounts.ScriptToken": "what programs sign in with stays with the workshop that it opens",
    "history.HistoryEntry": "what was done before stays with the workshop that it was done in",
    "inventory.Workshop": "every workshop has its own identity",
    "schedule.Answer": "a schedule is worked out anew",
    "schedule.PlannedStart": "a schedule is worked out anew",
}
HIDDEN: Mapping[str, frozenset[str]] = {
    "devices.Device": frozenset({"token_hash"}),  # a device that came along is given a new token
    "devices.Sample": frozenset({"import_key"}),
    "places.RoomReading": frozenset({"import_key"}),
}
UNITS = (
    ("_m3_day", "m³/day"),
    ("_m3_h", "m³/h"),
    ("_kwh", "kWh"),
    ("_pct", "%"),
    ("_mm", "mm"),
    ("_ms", "ms"),
    ("_min", "min"),
    ("minutes", "min"),
    ("hours", "h"),
    ("_days", "d"),
    ("grams", "g"),
    ("_c", "°C"),
    ("_g", "g"),
    ("_h", "h"),
    ("_l", "L"),
    ("_m", "m"),
    ("_w", "W"),
)
# Numbers without a unit: shares, factors, chances, prices, digests of settings, and what a field beside them says.
PURE = frozenset(
    {
        "value", "spread", "day_rate", "night_rate", "rate_median", "rate_sigma", "body_activity", "warming_log",
        "warming_log_sd", "learned_log_rate",
        "learned_log_rate_sd", "times", "p", "stated", "table_said", "showed",
    }
)  # fmt: skip


@dataclass(frozen=True)
class Table:
    """A kind of record and its columns."""

    model: type[models.Model]

    @property
    def file(self) -> str:
        """Its name in the archive."""
        return f"{self.model._meta.app_label}-{self.model._meta.model_name}.csv"

    @property
    def about(self) -> str:
        """What is in it, as its records say."""
        return " ".join((self.model.__doc__ or "").split())

    @property
    def fields(self) -> list[models.Field[Any, Any]]:
        """Its columns in order."""
        hidden = HIDDEN.get(self.model._meta.label, frozenset())
        return [field for field in self.model._meta.concrete_fields if field.attname not in hidden]

    @property
    def owners(self) -> set[type[models.Model]]:
        """The kinds of records that its own point to."""
        return {field.related_model for field in self.fields if isinstance(field, models.ForeignKey)} - {self.model}


def unit_of(field: models.Field[Any, Any]) -> str | None:
    """The unit of a column of numbers; None where it has none."""
    if not isinstance(field, models.FloatField | models.IntegerField) or field.attname in PURE:
        return None
    return next((unit for end, unit in UNITS if field.attname.endswith(end)), None)


@cache
def tables() -> tuple[Table, ...]:
    """All that go along, each after those that it points to."""
    left = [
        Table(model)
        for model in apps.get_models()
        if model.__module__.startswith("darre.") and model._meta.label not in LEFT_OUT
    ]
    return tuple(_in_order(sorted(left, key=lambda table: table.file)))


def _in_order(left: list[Table]) -> Iterator[Table]:
    placed: set[type[models.Model]] = set()
    while left:
        following = next(table for table in left if table.owners <= placed)
        left.remove(following)
        placed.add(following.model)
        yield following
