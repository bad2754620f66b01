"""The file that says what is bridged: each slip is named with its place."""

import tempfile
from pathlib import Path
from unittest import TestCase

from bridge.settings import EXAMPLE, SettingsError, Topic, read_settings

MQTT = '[mqtt]\nhost = "127.0.0.1"\n[[mqtt.topic]]\ntopic = "a/b"\n'


class Reading(TestCase):
    def read(self, text):
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "bridge.toml"
            file.write_text(text)
            return read_settings(file)

    def test_the_example_is_one_once_its_marks_are_taken_away(self):
        with self.assertRaisesRegex(SettingsError, "nothing is bridged yet"):
            self.read(EXAMPLE)
        lines = (
            line[2:] if line.startswith("# ") and ("=" in line or "[" in line) else line for line in EXAMPLE.split("\n")
        )
        found = self.read("\n".join(lines))
        self.assertEqual(
            (found.broker.port, found.broker.tls, found.broker.topics[0].topic), (1883, True, "cellar/+/air")
        )
        self.assertEqual((found.ports[0].port, found.ports[0].unit), ("/dev/ttyUSB0", "g"))

    def test_the_example_in_the_docs_is_one(self):
        told = (Path(__file__).parents[2] / "docs/bridge.md").read_text("utf-8")
        found = self.read(told.split("```toml\n")[1].split("```")[0])
        topic = found.broker.topics[0]
        self.assertEqual((topic.token_of("cellar/right/air"), dict(topic.fields.units)), ("…", {"temp_c": "F"}))
        self.assertEqual(found.ports[0].baud, 9600)

    def test_each_slip_is_named(self):
        for text, words in (
            ("darre = 7\n" + MQTT, "darre is to be a text"),
            ("[mqtt]\nport = 1883", "host is missing"),
            (MQTT, "topic\\]\\] 1: give a token"),
            (MQTT + 'token = "x"\ntokens = { a = "x" }', "give a token"),
            (MQTT + 'token = "x"\nfeilds = {}', "“feilds” is not known"),
            (MQTT + 'token = "x"\nfields = { temp = "t" }', "temp is no value"),
            (MQTT + 'token = "x"\nunits = { temp_c = "R" }', "given in R"),
            ('[[serial]]\nport = "x"', "serial\\]\\] 1: token is missing"),
            ('[[serial]]\nport = "x"\ntoken = "y"\nunit = "stone"', "serial\\]\\] 1: mass_g is given in stone"),
            ("[[serial]]\nbaud = true", "baud is to be a whole number"),
            ("x = [", "bridge.toml"),
        ):
            with self.subTest(text=text), self.assertRaisesRegex(SettingsError, words):
                self.read(text)
        with self.assertRaisesRegex(SettingsError, "--example"):
            read_settings(Path("/nowhere/bridge.toml"))


class Topics(TestCase):
    def test_a_message_belongs_to_a_device_by_its_topic(self):
        each = {"left": "L", "right": "R"}
        for asked, topic, token in (
            (Topic("a/b", "T"), "a/b", "T"),
            (Topic("a/b", "T"), "a/b/c", None),
            (Topic("a/b", "T"), "a", None),
            (Topic("a/+/c", "T"), "a/b/c", "T"),
            (Topic("a/+/c", "T"), "a/b/d", None),
            (Topic("a/#", "T"), "a/b/c/d", "T"),
            (Topic("#", "T"), "anything", "T"),
            (Topic("a/+/c", tokens=each), "a/left/c", "L"),
            (Topic("a/+/c", tokens=each), "a/middle/c", None),
        ):
            with self.subTest(asked=asked.topic, topic=topic):
                self.assertEqual(asked.token_of(topic), token)
