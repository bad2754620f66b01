"""Listening to a broker and to serial ports, until told to stop."""

from __future__ import annotations

import threading
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any, Protocol

import paho.mqtt.client as mqtt
import serial

from bridge.fields import values_in
from bridge.lines import LineReader
from bridge.settings import Broker, Port, Settings, Topic

AGAIN_S, READ_S, MOST_LINE_BYTES = 5.0, 0.5, 512


class Take(Protocol):
    """What is done with a reading: from where it came, of which device, and its values."""

    def __call__(self, source: str, token: str, values: Mapping[str, float]) -> None: ...


Say = Callable[[str], None]


def listen(settings: Settings, take: Take, say: Say, stop: threading.Event) -> None:
    """Hand every reading that arrives to `take`, and say in words what is not as it should be. Ends once told to."""
    threads = [threading.Thread(target=read_port, args=(port, take, say, stop), daemon=True) for port in settings.ports]
    client = subscribed(settings.broker, take, say) if settings.broker else None
    for thread in threads:
        thread.start()
    stop.wait()
    if client:
        client.disconnect()
        client.loop_stop()
    for thread in threads:
        thread.join()


def take_message(topics: tuple[Topic, ...], topic: str, payload: bytes, take: Take, say: Say) -> None:
    """A message of a broker: a reading of the first topic that it fits and whose device is known."""
    for known in topics:
        if token := known.token_of(topic):
            values = known.fields.reading(payload)
            if values:
                take(topic, token, values)
            else:
                seen = ", ".join(path or "a bare number" for path in values_in(payload)) or "no number at all"
                say(f"{topic}: none of its values is known. It holds {seen}.")
            return


@dataclass
class _Listener:
    """What is done as a broker's client tells of it. `told`: that the broker is not reached; once is enough."""

    broker: Broker
    take: Take
    say: Say
    told: bool = False

    def connected(self, client: mqtt.Client, data: Any, flags: Any, reason: Any, properties: Any) -> None:
        if reason.is_failure:
            self.say(f"The broker at {self.broker.host} refuses: {reason}.")
            return
        self.told = False
        self.say(f"Connected to the broker at {self.broker.host}.")
        client.subscribe([(topic.topic, 0) for topic in self.broker.topics])

    def not_reached(self, client: mqtt.Client, data: Any) -> None:
        if not self.told:
            self.say(f"The broker at {self.broker.host}, port {self.broker.port}, is not reached; trying again.")
        self.told = True

    def arrived(self, client: mqtt.Client, data: Any, message: mqtt.MQTTMessage) -> None:
        take_message(self.broker.topics, message.topic, bytes(message.payload), self.take, self.say)

    def gone(self, client: mqtt.Client, data: Any, flags: Any, reason: Any, properties: Any) -> None:
        if reason.is_failure:
            self.say(f"The broker at {self.broker.host} is away ({reason}); trying again.")


def subscribed(broker: Broker, take: Take, say: Say) -> mqtt.Client:
    """A client that goes on connecting by itself, whatever becomes of the broker."""
    client, listener = mqtt.Client(mqtt.CallbackAPIVersion.VERSION2), _Listener(broker, take, say)
    if broker.user:
        client.username_pw_set(broker.user, broker.password)
    if broker.tls:
        client.tls_set()
    client.reconnect_delay_set(1, 30)
    client.on_connect, client.on_connect_fail = listener.connected, listener.not_reached
    client.on_message, client.on_disconnect = listener.arrived, listener.gone
    client.connect_async(broker.host, broker.port)
    client.loop_start()
    return client


def read_port(port: Port, take: Take, say: Say, stop: threading.Event) -> None:
    """A scale's lines, as long as its port is there; then try again."""
    told = False
    while not stop.is_set():
        try:
            with serial.Serial(port.port, port.baud, timeout=READ_S) as line:
                say(f"Listening to the scale on {port.port}.")
                told = False
                _read_lines(line, LineReader(port.unit), port, take, stop)
        except (serial.SerialException, OSError) as error:
            if not told:
                say(f"The scale on {port.port} cannot be read ({error}); trying again every {AGAIN_S:g} s.")
            told = True
            stop.wait(AGAIN_S)


def _read_lines(line: serial.Serial, reader: LineReader, port: Port, take: Take, stop: threading.Event) -> None:
    waiting = b""
    while not stop.is_set():
        waiting += line.read(max(1, line.in_waiting))
        *whole, waiting = waiting.replace(b"\r", b"\n").split(b"\n")
        waiting = waiting[-MOST_LINE_BYTES:]
        for each in whole:
            seen = reader.read(each)
            if seen and seen.steady:
                take(port.port, port.token, {"mass_g": seen.mass_g})
