"""What is bridged: a file that the person writes, `bridge.toml`."""

from __future__ import annotations

import tomllib
from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from bridge.fields import FieldMap, MappingError, convert

EXAMPLE = """\
# Readings from elsewhere to Darre. Add a device in Kit; its token is shown once and stands here.
darre = "http://127.0.0.1:8642"

# [mqtt]
# host = "127.0.0.1"
# port = 1883
# user = "darre"
# password = "…"
# tls = true

# [[mqtt.topic]]
# topic = "cellar/+/air"                   # + stands for one step, # for all that follow
# token = "…"                              # or, by what stands at the +: tokens = { left = "…", right = "…" }
# fields = { temp_c = "air.t", rh_pct = "air.h" }   # left out: guessed by the names
# units = { temp_c = "F" }                 # left out: °C, %, g, kWh

# [[serial]]
# port = "/dev/ttyUSB0"
# baud = 9600
# token = "…"
# unit = "g"                               # only where its lines do not say
"""


class SettingsError(ValueError):
    """The file cannot be followed; the message says where and why."""


@dataclass(frozen=True)
class Topic:
    """Messages of a broker that are readings of a device, or of several by what stands at the first `+`."""

    topic: str
    token: str = ""
    tokens: Mapping[str, str] = field(default_factory=dict)
    fields: FieldMap = field(default_factory=FieldMap)

    def token_of(self, topic: str) -> str | None:
        """The token of the device that a message's topic belongs to; None where it is none of these."""
        asked, given = self.topic.split("/"), topic.split("/")
        steps = []
        for n, step in enumerate(asked):
            if step == "#":
                break
            if n >= len(given) or step not in ("+", given[n]):
                return None
            if step == "+":
                steps.append(given[n])
        else:
            if len(given) != len(asked):
                return None
        return self.token or (self.tokens.get(steps[0]) if steps else None)


@dataclass(frozen=True)
class Broker:
    """Where messages come from."""

    host: str
    topics: tuple[Topic, ...]
    port: int = 1883
    user: str = ""
    password: str = ""
    tls: bool = False


@dataclass(frozen=True)
class Port:
    """A scale on a serial port."""

    port: str
    token: str
    baud: int = 9600
    unit: str | None = None


@dataclass(frozen=True)
class Settings:
    """All that is bridged."""

    darre: str
    broker: Broker | None
    ports: tuple[Port, ...]


_KINDS = {str: "a text", int: "a whole number", bool: "true or false", dict: "a table", list: "a list"}


def _take(
    table: Mapping[str, Any], where: str, kinds: Mapping[str, type], needed: tuple[str, ...] = ()
) -> dict[str, Any]:
    for name, value in table.items():
        if name not in kinds:
            raise SettingsError(f"{where}: “{name}” is not known here; known are {', '.join(kinds)}.")
        if type(value) is not kinds[name]:
            raise SettingsError(f"{where}: {name} is to be {_KINDS[kinds[name]]}.")
    for name in needed:
        if not table.get(name):
            raise SettingsError(f"{where}: {name} is missing.")
    return dict(table)


def _topic(table: Mapping[str, Any], where: str) -> Topic:
    kinds = {"topic": str, "token": str, "tokens": dict, "fields": dict, "units": dict}
    given = _take(table, where, kinds, ("topic",))
    if bool(given.get("token")) == bool(given.get("tokens")):
        raise SettingsError(f"{where}: give a token, or tokens by what stands at the +.")
    try:
        fields = FieldMap(given.pop("fields", {}), given.pop("units", {}))
    except MappingError as error:
        raise SettingsError(f"{where}: {error}") from None
    return Topic(**given, fields=fields)


def _port(table: Mapping[str, Any], where: str) -> Port:
    kinds = {"port": str, "token": str, "baud": int, "unit": str}
    port = Port(**_take(table, where, kinds, ("port", "token")))
    try:
        convert("mass_g", 0.0, port.unit)
    except MappingError as error:
        raise SettingsError(f"{where}: {error}") from None
    return port


def read_settings(file: Path) -> Settings:
    """Read the file. Raises SettingsError where it is not there, no TOML, or says what cannot be followed."""
    try:
        told = tomllib.loads(file.read_text("utf-8"))
    except FileNotFoundError:
        raise SettingsError(f"{file} is not there. `darre bridge --example` prints one to begin with.") from None
    except (tomllib.TOMLDecodeError, UnicodeDecodeError, OSError) as error:
        raise SettingsError(f"{file}: {error}") from None
    _take(told, file.name, {"darre": str, "mqtt": dict, "serial": list})
    broker = None
    if mqtt := told.get("mqtt"):
        kinds = {"host": str, "port": int, "user": str, "password": str, "tls": bool, "topic": list}
        given = _take(mqtt, "[mqtt]", kinds, ("host", "topic"))
        topics = tuple(_topic(t, f"[[mqtt.topic]] {n}") for n, t in enumerate(given.pop("topic"), 1))
        broker = Broker(**given, topics=topics)
    ports = tuple(_port(table, f"[[serial]] {n}") for n, table in enumerate(told.get("serial", []), 1))
    if broker is None and not ports:
        raise SettingsError(f"{file}: nothing is bridged yet. Give it [mqtt] or [[serial]].")
    return Settings(told.get("darre", "http://127.0.0.1:8642").rstrip("/"), broker, ports)
