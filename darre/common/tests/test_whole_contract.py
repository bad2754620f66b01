"""Every address of the API against its own contract: what is sent by the schema, or nearly so, gets an answer that the
schema promises, of the shape that it promises, and never a crash.
"""

import json
import math
from functools import cache
from typing import Any

import yaml
from django.conf import settings as django
from django.test import Client, SimpleTestCase, TestCase
from django.utils.dateparse import parse_datetime
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from darre.demo.tests.fresh import load_demo_world

odd: Any = (
    st.none()
    | st.booleans()
    | st.integers(-3, 10**12)
    | st.floats()
    | st.text(max_size=6)
    | st.just([{}])
    | st.just({})
)
# Taking back lines at random would empty the world under the other requests.
LEFT_OUT = ("/api/schema/", "/api/ingest/", "/api/history/{line_id}/undo/")


@cache
def contract():
    return yaml.safe_load((django.BASE_DIR / "docs/openapi.yaml").read_text("utf-8"))


def resolved(schema):
    while "$ref" in schema:
        schema = contract()["components"]["schemas"][schema["$ref"].rsplit("/", 1)[1]]
    return schema


def operations(*methods):
    """Every operation of some kinds: its way, path and description."""
    for path, found in contract()["paths"].items():
        for method, operation in found.items():
            if method in methods and path not in LEFT_OUT:
                yield method, path, operation


def named(parameter):
    """How a parameter stands in a path."""
    return "{" + parameter["name"] + "}"


def json_of(content):
    return content.get("application/json", {}).get("schema")


def values(schema, depth=0):
    """What a schema allows; one value in eight is something else."""
    schema = resolved(schema)
    good = _values(schema, depth)
    return st.one_of(*[good] * 7, odd)


def _values(schema, depth):
    if "enum" in schema:
        return st.sampled_from(schema["enum"])
    for joined in ("oneOf", "anyOf", "allOf"):
        if joined in schema:
            return st.one_of(*[values(it, depth + 1) for it in schema[joined]])
    if schema.get("type") == "object":
        required = schema.get("required", ())
        parts = {name: values(it, depth + 1) for name, it in schema.get("properties", {}).items()}
        must = {name: part for name, part in parts.items() if name in required}
        return st.fixed_dictionaries(must, optional={n: part for n, part in parts.items() if n not in must})
    if schema.get("type") == "array":
        return st.lists(values(schema["items"], depth + 1), max_size=2)
    return PLAIN.get(schema.get("format"), PLAIN.get(schema.get("type"), odd))


PLAIN = {
    "boolean": st.booleans(),
    "integer": st.integers(0, 13),
    "number": st.floats(0, 120).map(lambda x: round(x, 2)) | st.integers(0, 300),
    "double": st.floats(0, 120).map(lambda x: round(x, 2)),
    "date-time": st.datetimes().map(lambda at: at.isoformat() + "Z"),
    "uuid": st.uuids().map(str),
    "string": st.text(max_size=8) | st.sampled_from(["10", "2,5", "petg", "Shelf"]),
}


def wrong(value, schema, at="answer"):
    """What of a value its schema does not allow; "" where it does."""
    schema = resolved(schema)
    if value is None:
        return "" if schema.get("nullable") or _allows_null(schema) else f"{at} is null"
    for joined in ("oneOf", "anyOf"):
        if joined in schema:
            found = [wrong(value, it, at) for it in schema[joined]]
            return "" if "" in found else found[0]
    if "allOf" in schema:
        return next((w for it in schema["allOf"] if (w := wrong(value, it, at))), "")
    if "enum" in schema and value not in schema["enum"]:
        return f"{at} is {value!r}, not one of {schema['enum']}"
    return _WRONG.get(schema.get("type"), lambda *_: "")(value, schema, at)


def _allows_null(schema):
    parts = [schema, *map(resolved, (*schema.get("oneOf", ()), *schema.get("anyOf", ())))]
    return any(part.get("nullable") or None in part.get("enum", ()) for part in parts)


def _object(value, schema, at):
    if not isinstance(value, dict):
        return f"{at} is no object"
    known = schema.get("properties", {})
    for name in schema.get("required", ()):
        if name not in value:
            return f"{at}.{name} is missing"
    if known and not schema.get("additionalProperties") and set(value) - set(known):
        return f"{at} has {set(value) - set(known)}, of which the contract does not tell"
    return next((w for n, v in value.items() if n in known and (w := wrong(v, known[n], f"{at}.{n}"))), "")


def _array(value, schema, at):
    if not isinstance(value, list):
        return f"{at} is no list"
    return next((w for n, v in enumerate(value) if (w := wrong(v, schema["items"], f"{at}[{n}]"))), "")


def _number(value, schema, at):
    good = isinstance(value, int | float) and not isinstance(value, bool) and math.isfinite(value)
    return "" if good and (schema["type"] == "number" or isinstance(value, int)) else f"{at} is {value!r}"


def _string(value, schema, at):
    if not isinstance(value, str):
        return f"{at} is {value!r}"
    if schema.get("format") == "date-time" and parse_datetime(value) is None:
        return f"{at} is no moment: {value}"
    return ""


_WRONG = {
    "object": _object,
    "array": _array,
    "number": _number,
    "integer": _number,
    "string": _string,
    "boolean": lambda value, schema, at: "" if isinstance(value, bool) else f"{at} is {value!r}",
}


class Judge(SimpleTestCase):
    """The judge of answers finds what is wrong with one: else the tests below could not fail."""

    SHAPE = {
        "type": "object",
        "required": ["at", "n"],
        "properties": {
            "at": {"type": "string", "format": "date-time"},
            "n": {"type": "integer", "nullable": True},
            "kind": {"enum": ["a", "b"]},
            "rows": {"type": "array", "items": {"type": "number"}},
        },
    }

    def test_it_tells_right_answers_from_wrong_ones(self):
        right = {"at": "2026-11-24T05:00:00Z", "n": 3, "kind": "a", "rows": [1, 2.5]}
        self.assertEqual(wrong(right, self.SHAPE), "")
        self.assertEqual(wrong({**right, "n": None}, self.SHAPE), "")
        for change, named_in in (
            ({"at": "soon"}, "no moment"), ({"at": None}, "at is null"), ({"n": 1.5}, "1.5"), ({"n": True}, "True"),
            ({"kind": "c"}, "not one of"), ({"rows": [1, "x"]}, r"rows\[1\]"), ({"rows": {}}, "no list"),
            ({"more": 1}, "does not tell"), ({"rows": [float("nan")]}, "nan"),
        ):  # fmt: skip
            self.assertRegex(wrong({**right, **change}, self.SHAPE), named_in)
        self.assertIn("n is missing", wrong({"at": right["at"]}, self.SHAPE))


class WholeContract(TestCase):
    @classmethod
    def setUpTestData(cls):
        load_demo_world()

    def check(self, answer, method, path, operation, sent=None):
        told = f"{method} {path} {sent!r} -> {answer.status_code}"
        self.assertIn(str(answer.status_code), {*operation["responses"], "404"}, f"{told} {answer.content[:300]!r}")
        shape = json_of(operation["responses"].get(str(answer.status_code), {}).get("content", {}))
        if shape:
            self.assertEqual(wrong(answer.json(), shape), "", told)

    def test_every_read_of_the_demo_world_has_the_shape_that_is_promised(self):
        seen = 0
        for method, path, operation in operations("get"):
            for number in (1, 3, 4, 999):
                address = path
                for it in operation.get("parameters", ()):
                    if it["in"] == "path":
                        value = number if it["schema"]["type"] == "integer" else "petg"
                        address = address.replace(named(it), str(value))
                query = {
                    it["name"]: 4 if it["schema"].get("type") in ("integer", "number") else "usual"
                    for it in operation.get("parameters", ())
                    if it["in"] == "query" and it.get("required")
                }
                answer = self.client.get(address, query)
                self.check(answer, method, address, operation)
                seen += answer.status_code == 200
                if address == path:
                    break
        self.assertGreater(seen, 40)

    def test_whatever_is_sent_is_answered_as_promised(self):
        acts = list(operations("post", "put", "patch"))
        client = Client(raise_request_exception=True)
        met = set()

        @settings(max_examples=400, deadline=None, suppress_health_check=list(HealthCheck))
        @given(st.data(), st.sampled_from(range(len(acts))))
        def send(data, which):
            method, path, operation = acts[which]
            shape = json_of(operation.get("requestBody", {}).get("content", {}))
            if operation.get("requestBody") and shape is None:
                return  # a file's bytes: its own tests
            for it in operation.get("parameters", ()):
                if it["in"] == "path":
                    numbers = it["schema"]["type"] == "integer"
                    words = st.sampled_from(["petg", "pa6", "trouble", "usual"])
                    value = data.draw(st.integers(1, 12) if numbers else words)
                    path = path.replace(named(it), str(value))
            body = data.draw(values(shape)) if shape else {}
            answer = getattr(client, method)(path, json.dumps(body), content_type="application/json")
            self.check(answer, method, path, operation, body)
            met.add((path, answer.status_code))

        send()
        self.assertGreater(len(met), 60)
