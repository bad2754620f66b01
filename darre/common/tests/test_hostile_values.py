"""Values that no person types, in every field of every act: refused in words, and never a fault of the server.

`make test` sends a part of them, `make fuzz` all.
"""

import json
import os
import random

from django.test import Client, TestCase

from darre.common.tests.slowest import MEASURED, Slowest
from darre.common.tests.test_whole_contract import CONTRACT, LEFT_OUT
from darre.demo.tests.fresh import load_demo_world
from darre.history.models import HistoryEntry

SHARE = float(os.environ.get("FUZZ_SHARE", "0.06"))
ERROR_KEYS = {"code", "message", "parts", "field", "fields"}
DEEP = "[" * 5000 + "]" * 5000
# As JSON text, since some of it is no Python value.
VALUES = (
    "9" * 400, "-" + "9" * 400, "9" * 5000, "1e400", "-1e400", "1e-400", "0.1e1", "-0", "NaN", "Infinity", "null",
    "true", "[]", "{}", "[[]]", "[null]", '[""]', '{"a": 1}', '""', '" "', '"\\u0000"', '"\\ud800"', '"\\u202e"',
    '"’; DROP TABLE"', '"1e400"', '"٣"', '"1,5,5"', '"0001-01-01T00:00:00+14:00"', '"9999-12-31T23:59:59-14:00"',
    '"2026-02-30T00:00:00Z"', '"2026-01-01T00:00:00+99:99"', '"12:00"', '"' + "9" * 400 + '"',
    '"' + "x" * 100_000 + '"', "9223372036854775808", "-1", DEEP,
)  # fmt: skip
BODIES = (
    "",
    "{",
    "[]",
    "null",
    "1",
    '"x"',
    DEEP,
    "{" * 3000,
    "\xff\xfe",
    '{"a": ' * 2000 + "1" + "}" * 2000,
    "[" * 100_000,
)


def resolved(shape):
    while "$ref" in shape:
        shape = CONTRACT["components"]["schemas"][shape["$ref"].rsplit("/", 1)[1]]
    for several in ("allOf", "oneOf", "anyOf"):
        if several in shape:
            return resolved(shape[several][0])
    return shape


def usual(shape):
    """Something that has the shape."""
    shape = resolved(shape)
    if "enum" in shape:
        return shape["enum"][0]
    made = {"object": lambda: {name: usual(part) for name, part in shape.get("properties", {}).items()},
            "array": lambda: [usual(shape["items"])], "integer": lambda: 1, "number": lambda: 1.0,
            "boolean": lambda: True}  # fmt: skip
    if shape.get("type") in made:
        return made[shape["type"]]()
    texts = {"date-time": "2026-11-01T10:00:00Z", "uuid": "8f0f7f1e-0d2b-4a43-9d7e-0a1b2c3d4e5f"}
    return texts.get(shape.get("format", ""), "petg")


def acts():
    """Method, address and the shape of the body of every act that takes one."""
    for path, methods in CONTRACT["paths"].items():
        for method, operation in methods.items():
            content = operation.get("requestBody", {}).get("content", {})
            if "application/json" in content and path not in LEFT_OUT:
                yield method, path, resolved(content["application/json"]["schema"])


def addressed(path, number):
    """The address with numbers and words in place of its parts."""
    return "/".join(
        part if "{" not in part else "petg" if part in ("{material_id}", "{name}", "{sign}", "{cause}") else str(number)
        for part in path.split("/")
    )


class Hostile(TestCase):
    @classmethod
    def setUpTestData(cls):
        load_demo_world(cls)

    def setUp(self):
        self.client = Client(raise_request_exception=False)
        self.drawn, self.slowest = random.Random(14), Slowest()
        self.addCleanup(self.tell_the_slowest)

    def tell_the_slowest(self):
        if MEASURED:
            print(self.slowest.told())  # noqa: T201
            self.assertEqual(self.slowest.over, [])

    def is_drawn(self):
        """Whether one of the few is sent this time; in the long run all are."""
        return self.drawn.random() < max(SHARE * 3, 0.2)

    def assert_answered(self, method, path, body):
        with self.slowest.answer(f"{method} {path[:200]} {body[:200]}"):
            answer = self.client.generic(method.upper(), path, body, content_type="application/json")
        told = (method, path, body[:200], answer.content[:300])
        self.assertLess(answer.status_code, 500, told)
        if answer.status_code >= 400:
            self.assertEqual(set(json.loads(answer.content)), ERROR_KEYS, told)
            self.assertLess(len(answer.content), 20_000, told)
        return answer.status_code

    def test_every_field_of_every_act_refuses_them_in_words(self):
        met, refused = 0, 0
        for method, path, shape in acts():
            body = usual(shape)
            for name in shape.get("properties", {}):
                for value in VALUES:
                    if self.drawn.random() > SHARE:
                        continue
                    marked = json.dumps({**body, name: "here it goes"}).replace('"here it goes"', value)
                    met += 1
                    refused += self.assert_answered(method, addressed(path, 1), marked) >= 400
        self.assertGreater(met, 200)
        self.assertGreater(refused, 0.5 * met)

    def test_every_act_refuses_bodies_that_are_none(self):
        lines = HistoryEntry.objects.count()
        for method, path, shape in acts():
            for body in BODIES:
                if self.is_drawn():
                    status = self.assert_answered(method, addressed(path, 1), body)
                    self.assertTrue(status >= 400 or not shape.get("required"), (path, body[:50]))
        self.assertLess(HistoryEntry.objects.count(), lines + 60)

    def test_addresses_without_an_end_are_not_there(self):
        for path in CONTRACT["paths"]:
            for number in ("9" * 30, "9" * 5000, "0", "-1", "1.5", "%00", "%ff", "..", "1e3"):
                if "{" in path and self.is_drawn():
                    self.assert_answered("get", addressed(path, number), "")
                    self.assert_answered("delete", addressed(path, number), "")

    def test_questions_that_mean_nothing_are_refused_in_words(self):
        for path, methods in CONTRACT["paths"].items():
            for asked in methods.get("get", {}).get("parameters", []):
                for value in (
                    "",
                    "9" * 400,
                    "1e400",
                    "NaN",
                    "-1",
                    "%00",
                    "null",
                    "0001-01-01T00:00:00+14:00",
                    "x" * 3000,
                ):
                    if asked["in"] == "query" and self.is_drawn():
                        self.assert_answered("get", f"{addressed(path, 4)}?{asked['name']}={value}", "")
