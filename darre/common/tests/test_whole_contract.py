"""Every address of the API against its own contract: what is sent by the schema, or just beside it, gets an answer that
the schema promises, of the shape that it promises, and never a crash.
"""

import copy
import os

import schemathesis
import yaml
from django.conf import settings as django
from django.core.handlers.wsgi import WSGIHandler
from django.core.signals import request_finished, request_started
from django.db import close_old_connections
from django.test import TestCase
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from schemathesis import GenerationMode
from schemathesis.checks import load_all_checks, not_a_server_error
from schemathesis.core.failures import FailureGroup
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from darre.common.tests.slowest import MEASURED, Slowest
from darre.demo.tests.fresh import load_demo_world

load_all_checks()
KEPT = [not_a_server_error, status_code_conformance, content_type_conformance, response_schema_conformance]
# Taking back entries at random would empty the world under the other requests.
LEFT_OUT = ("/api/schema/", "/api/ingest/", "/api/history/{entry_id}/undo/")
CONTRACT = yaml.load((django.BASE_DIR / "docs/openapi.yaml").read_text("utf-8"), yaml.CSafeLoader)
for name, shape in CONTRACT["components"]["schemas"].items():
    # A refusal may tell more than every error does: what would be possible, or when to ask again.
    if "properties" in shape and not name.endswith("Request") and name != "Error":
        shape.setdefault("additionalProperties", False)  # what is answered beyond the contract breaks it too
WORDS = st.sampled_from(["petg", "pa6", "trouble", "usual"])


def operations(*methods, contract=CONTRACT):
    """Every operation of some kinds, to be sent to the app in this process."""
    schema = schemathesis.openapi.from_dict(copy.deepcopy(contract))
    schema.app = WSGIHandler()
    schema.base_url = "http://localhost"
    found = [one.ok() for one in schema.get_all_operations()]
    return [operation for operation in found if operation.method in methods and operation.path not in LEFT_OUT]


def addressed(case, number, word="petg"):
    """A request with the path to records that there are."""
    case.path_parameters = {
        path_parameter.name: number if path_parameter.definition["schema"]["type"] == "integer" else word
        for path_parameter in case.operation.path_parameters
    }
    return case


def near(sent):
    """What is sent, with the whole numbers small: else nearly every act would end at "there is no such spool"."""
    if isinstance(sent, dict):
        return {name: near(value) for name, value in sent.items()}
    if isinstance(sent, list):
        return [near(value) for value in sent]
    return sent % 14 if type(sent) is int else sent


class WholeContract(TestCase):
    @classmethod
    def setUpTestData(cls):
        load_demo_world(cls)
        cls.slowest = Slowest()

    def assert_none_was_slow(self):
        if MEASURED:
            print(self.slowest.told())  # noqa: T201
            self.assertEqual(self.slowest.over, [])

    def setUp(self):
        # As the framework's own test client does: the end of a request is not the end of the test's transaction.
        for signal in (request_started, request_finished):
            signal.disconnect(close_old_connections)
            self.addCleanup(signal.connect, close_old_connections)

    def send(self, case):
        with self.slowest.answer(f"{case.method} {case.path} {str(case.body)[:200]}"):
            answer = case.call()
        case.validate_response(answer, checks=KEPT)
        return answer

    def test_an_answer_that_breaks_the_contract_is_noticed(self):
        for change in (
            lambda shape: shape["properties"].update(min_c={"type": "string"}),
            lambda shape: shape["required"].append("colour"),
            lambda shape: (shape["properties"].pop("min_c"), shape["required"].remove("min_c")),
        ):
            other = copy.deepcopy(CONTRACT)
            change(other["components"]["schemas"]["Dryer"])
            (dryers,) = (
                operation for operation in operations("get", contract=other) if operation.path == "/api/dryers/"
            )
            with self.assertRaises(FailureGroup):
                self.send(dryers.Case())

    def test_every_read_of_the_demo_world_has_the_shape_that_is_promised(self):
        seen = 0
        for operation in operations("get"):
            for number in (1, 3, 4, 999):
                query = {
                    parameter.name: 4
                    if parameter.definition["schema"].get("type") in ("integer", "number")
                    else "usual"
                    for parameter in operation.query
                    if parameter.is_required
                }
                case = addressed(operation.Case(query=query), number)
                seen += self.send(case).status_code == 200
                if not case.path_parameters:
                    break
        self.assertGreater(seen, 40)

    def test_whatever_is_sent_is_answered_as_promised(self):
        acts = [
            operation
            for operation in operations("post", "put", "patch")
            if not operation.body or operation.body[0].media_type.endswith("json")
        ]
        met = set()

        @settings(
            max_examples=int(os.environ.get("FUZZ_CASES", "250")),
            deadline=None,
            suppress_health_check=list(HealthCheck),
        )
        @given(st.data(), st.sampled_from(range(len(acts))), st.sampled_from(list(GenerationMode)))
        def send(data, which, mode):
            act = acts[which]
            if not act.body:
                mode = GenerationMode.POSITIVE
            case = addressed(data.draw(act.as_strategy(mode)), data.draw(st.integers(1, 12)), data.draw(WORDS))
            case.body = near(case.body)
            met.add((act.path, self.send(case).status_code))

        send()
        self.assertGreater(len(met), 60)
        self.assert_none_was_slow()
