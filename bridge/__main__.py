"""`python -m bridge bridge.toml`: bridge until stopped; `--look` shows what arrives and sends nothing."""

from __future__ import annotations

import argparse
import contextlib
import signal
import sys
import threading
from collections.abc import Mapping
from pathlib import Path

from bridge.delivery import Outbox
from bridge.run import listen
from bridge.settings import EXAMPLE, Settings, SettingsError, read_settings


def say(text: str) -> None:
    """A line for the person, at once."""
    print(f"bridge: {text}", flush=True)  # noqa: T201


def told(values: Mapping[str, float]) -> str:
    """A reading in words."""
    units = {"temp_c": "°C", "rh_pct": "%", "mass_g": "g", "energy_kwh": "kWh"}
    return ", ".join(f"{value:g} {units[name]}" for name, value in values.items())


def look(settings: Settings, stop: threading.Event) -> None:
    """Show what arrives and how it is understood; nothing is sent."""
    say("Looking only: nothing is sent. Start without --look to switch it on.")
    listen(settings, lambda source, _, values: say(f"{source}: {told(values)}"), say, stop)


def bridge(settings: Settings, stop: threading.Event) -> None:
    """Send what arrives to Darre."""
    outbox = Outbox(settings.darre)
    sender = threading.Thread(target=outbox.keep_sending, args=(stop,))
    sender.start()
    say(f"On: what arrives goes to {settings.darre}. Ctrl+C stops it.")
    listen(settings, lambda _, token, values: outbox.put(token, values), say, stop)
    sender.join()
    if outbox.unknown:
        say(f"Darre does not know {len(outbox.unknown)} of the tokens. Make new ones in Kit.")


def main(words: list[str] | None = None) -> None:
    """Read the command line and bridge. Raises SystemExit where the settings cannot be followed."""
    parser = argparse.ArgumentParser(prog="darre bridge")
    parser.add_argument("file", type=Path, nargs="?", default=Path("bridge.toml"))
    parser.add_argument("--look", action="store_true", help="show what arrives, and send nothing")
    parser.add_argument("--example", action="store_true", help="print a file to begin with")
    given = parser.parse_args(words)
    if given.example:
        print(EXAMPLE, end="")  # noqa: T201
        return
    try:
        settings = read_settings(given.file)
    except SettingsError as error:
        sys.exit(f"bridge: {error}")
    stop = threading.Event()
    signal.signal(signal.SIGTERM, lambda *_: stop.set())
    with contextlib.suppress(KeyboardInterrupt):
        try:
            (look if given.look else bridge)(settings, stop)
        finally:
            stop.set()


if __name__ == "__main__":
    main()
