"""From a real broker and a real port to Darre's ingest address: each reading once, and nothing while it only looks."""

import asyncio
import os
import threading
import time
from unittest import mock

import paho.mqtt.client as mqtt
from django.test import LiveServerTestCase

from bridge import __main__ as command
from bridge.fields import FieldMap
from bridge.settings import Broker, Port, Settings, Topic
from darre.devices.actions.devices import add_device
from darre.devices.models import DeviceKind, Sample
from standins.bridged import free_port
from standins.broker import broker_on
from standins.port import lines, opened

PATIENCE_S = 30.0


class OwnBroker:
    """The stand-in's broker in a thread of its own."""

    def __init__(self):
        self.port, self.loop, self.up = free_port(), asyncio.new_event_loop(), threading.Event()
        self.thread = threading.Thread(target=self.loop.run_until_complete, args=(self.run(),))

    async def run(self):
        self.done = asyncio.Event()
        broker = broker_on(self.port)
        await broker.start()
        self.up.set()
        await self.done.wait()
        await broker.shutdown()

    def __enter__(self):
        self.thread.start()
        assert self.up.wait(PATIENCE_S)
        return self

    def __exit__(self, *raised):
        self.loop.call_soon_threadsafe(self.done.set)
        self.thread.join()
        self.loop.close()


class Bridged(LiveServerTestCase):
    def setUp(self):
        _, self.logger = add_device("Cellar air", DeviceKind.LOGGER)
        _, self.scale = add_device("Cellar scale", DeviceKind.SCALE)
        self.said, self.heard = [], threading.Condition()
        self.broker = self.enterContext(OwnBroker())
        self.own, path = opened()
        self.addCleanup(os.close, self.own)
        topic = Topic("cellar/+/air", self.logger, fields=FieldMap(units={"temp_c": "F"}))
        self.settings = Settings(
            self.live_server_url, Broker("127.0.0.1", (topic,), self.broker.port), (Port(path, self.scale),)
        )

    def say(self, text):
        with self.heard:
            self.said.append(text)
            self.heard.notify_all()

    def wait_for(self, *parts):
        with self.heard:
            there = self.heard.wait_for(
                lambda: all(any(part in said for said in self.said) for part in parts), PATIENCE_S
            )
        self.assertTrue(there, (parts, self.said))

    def run_beside(self, what):
        """Run the bridge until told to stop, with what it says at hand."""
        stop = threading.Event()
        self.enterContext(mock.patch.object(command, "say", self.say))
        beside = threading.Thread(target=what, args=(self.settings, stop))
        beside.start()

        def end():
            stop.set()
            beside.join()

        self.addCleanup(end)
        self.wait_for("Connected to the broker", "Listening to the scale")
        return end

    def tell(self):
        """What the devices say, and some more that is none of it. Kept by the broker for whoever asks later."""
        teller = mqtt.Client(mqtt.CallbackAPIVersion.VERSION2)
        teller.connect("127.0.0.1", self.broker.port)
        teller.loop_start()
        for topic, message in (
            ("cellar/left/air", b'{"air": {"temperature": 68, "humidity": 45.5}, "battery": 80}'),
            ("cellar/attic/air", b"hello"),
            ("cellar/deep/air", b'{"a":' * 3000),
            ("attic/left/air", b'{"t": 99}'),
        ):
            teller.publish(topic, message, qos=1, retain=True).wait_for_publish(PATIENCE_S)
        teller.disconnect()
        teller.loop_stop()

    def weigh(self):
        """A port that is opened begins with nothing in it, so the scale writes once somebody listens."""
        for line in (b"\x00\xffgarbage\r\n", *lines([812.4])):
            os.write(self.own, line)

    def stored(self, count):
        end = time.monotonic() + PATIENCE_S
        while Sample.objects.count() < count:
            self.assertLess(time.monotonic(), end, self.said)

    def test_readings_of_both_arrive_once_and_what_is_none_is_said(self):
        self.tell()
        end = self.run_beside(command.bridge)
        self.wait_for("cellar/attic/air: none of its values is known. It holds no number at all.", "cellar/deep/air")
        self.weigh()
        self.stored(2)
        end()
        air, mass = Sample.objects.get(device__name="Cellar air"), Sample.objects.get(device__name="Cellar scale")
        self.assertEqual((air.temp_c, air.rh_pct, air.mass_g), (20.0, 45.5, None))
        self.assertEqual((mass.mass_g, mass.temp_c), (812.4, None))

    def test_a_broker_and_a_port_that_are_not_there_are_said_once_and_the_other_goes_on(self):
        stop, nowhere = threading.Event(), Port("/dev/none-such", "T")
        topics = (Topic("a", "T"),)
        self.enterContext(mock.patch.object(command, "say", self.say))
        settings = Settings(
            self.live_server_url, Broker("127.0.0.1", topics, free_port()), (nowhere, *self.settings.ports)
        )
        beside = threading.Thread(target=command.look, args=(settings, stop))
        beside.start()
        self.wait_for("is not reached; trying again", "/dev/none-such cannot be read", "Listening to the scale")
        self.weigh()
        self.wait_for(": 812.4 g")
        stop.set()
        beside.join()
        self.assertEqual(sum("not reached" in said for said in self.said), 1)

    def test_while_it_only_looks_it_shows_what_arrives_and_sends_nothing(self):
        self.tell()
        end = self.run_beside(command.look)
        self.weigh()
        self.wait_for("cellar/left/air: 20 °C, 45.5 %", ": 812.4 g", "nothing is sent")
        end()
        self.assertEqual(Sample.objects.count(), 0)
        self.assertFalse(any(self.logger in said or self.scale in said for said in self.said))
