"""A broker on this machine, and a device that tells it what it sees: `python -m standins.broker WORLD.json PORT`."""

from __future__ import annotations

import asyncio
import contextlib
import json
import logging
import sys
from collections.abc import Callable, Mapping
from datetime import UTC, datetime
from pathlib import Path

from amqtt.broker import Broker
from amqtt.client import MQTTClient

from standins.sending import World, readings

EVERY_S, TOPIC = 2.0, "cellar/stacker/air"


def message(values: Mapping[str, float]) -> bytes:
    """What the device tells: with more in it than anyone asked for."""
    air = {"temperature": round(values["temp_c"] * 1.8 + 32.0, 2), "humidity": values["rh_pct"]}
    return json.dumps({"air": air, "battery": 87, "name": "stacker"}).encode()


def broker_on(port: int) -> Broker:
    """A broker that lets everyone on this machine in."""
    logging.getLogger("amqtt").setLevel(logging.CRITICAL)  # clients that leave are no fault here
    listener = {"type": "tcp", "bind": f"127.0.0.1:{port}"}
    plugins = {"amqtt.plugins.authentication.AnonymousAuthPlugin": {"allow_anonymous": True}}
    return Broker({"listeners": {"default": listener}, "plugins": plugins})


async def publish(port: int, read: Callable[[], bytes], topic: str = TOPIC) -> None:
    """Tell the broker on that port what is read, every few seconds, until cancelled."""
    client = MQTTClient()
    await client.connect(f"mqtt://127.0.0.1:{port}/")
    while True:
        await client.publish(topic, read())
        await asyncio.sleep(EVERY_S)


async def run(world: World, port: int) -> None:
    """Be the broker and the device until stopped."""
    start = datetime.fromisoformat(world.started_at)

    def now() -> bytes:
        hour = (datetime.now(UTC) - start).total_seconds() / 3600.0
        return message(readings(world, "logger", [hour], seed=int(hour * 3600))[0])

    broker = broker_on(port)
    await broker.start()
    try:
        await publish(port, now)
    finally:
        await broker.shutdown()


if __name__ == "__main__":
    told = json.loads(Path(sys.argv[1]).read_text("utf-8"))
    with contextlib.suppress(KeyboardInterrupt):
        asyncio.run(run(World(**told["world"]), int(sys.argv[2])))
