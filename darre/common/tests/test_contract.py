"""The API against its own contract: whatever is sent, the answer is one that the schema promises, and never a crash."""

import json

from django.test import Client, TestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from darre.demo.tests.fresh import load_demo_world

anything = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=8),
    lambda inner: st.lists(inner, max_size=2) | st.dictionaries(st.text(max_size=5), inner, max_size=2),
    max_leaves=5,
)
some_id = st.integers(-1, 6) | anything
moment = st.datetimes().map(lambda at: at.isoformat() + "Z") | anything
reading = {"scale": some_id, "gross_g": st.floats(-10, 5000) | anything, "client_key": st.uuids().map(str) | anything}
hours = st.floats(0, 500) | anything
ACTS = {
    "/api/weighings/": st.fixed_dictionaries({**reading, "spool": some_id}, optional={"at": moment, "note": anything}),
    "/api/plan/start/": st.fixed_dictionaries(
        {"spool": some_id, "dryer": some_id, "client_key": st.uuids().map(str), "duration_h": hours},
        optional={
            "temp_c": st.floats(-50, 300) | anything, "override_reason": anything, "at": moment,
            "readings": st.lists(st.fixed_dictionaries(reading), max_size=2) | anything,
        },
    ),
    "/api/runs/3/end/": st.fixed_dictionaries(
        {}, optional={"weigh_out": st.fixed_dictionaries(reading) | anything, "at": moment}
    ),
}  # fmt: skip


class Contract(TestCase):
    @classmethod
    def setUpTestData(cls):
        load_demo_world(cls)

    def test_whatever_is_posted_is_answered_in_the_promised_shape(self):
        client = Client(raise_request_exception=True)
        seen = set()

        @settings(max_examples=100, deadline=None)
        @given(st.data(), st.sampled_from(list(ACTS)))
        def post(data, path):
            body = data.draw(ACTS[path] | anything)
            answer = client.post(path, json.dumps(body), content_type="application/json")
            seen.add((path, answer.status_code))
            told = answer.json()
            if answer.status_code >= 400:
                self.assertIn(answer.status_code, (400, 409), told)
                self.assertEqual(set(told) - {"limits", "run"}, {"code", "message", "parts", "field", "fields"})
                self.assertTrue(told["message"])
            else:
                self.assertIn("undo", told)

        post()
        self.assertIn(("/api/weighings/", 400), seen)

    def test_whatever_is_asked_of_the_plan_is_answered_in_the_promised_shape(self):
        @settings(max_examples=40, deadline=None)
        @given(
            st.fixed_dictionaries(
                {"spool": st.integers(1, 11), "dryer": st.integers(1, 4)},
                optional={
                    "method": st.sampled_from(
                        ["gentle", "usual", "brisk", "sheet", "least_energy", "ready_by", "wild", ""]
                    ),
                    "co_dried": st.sampled_from(["", "4", "5,8", "99", "a,b", "1,,2"]),
                    "aim_pct": st.floats(-1, 5).map(str),
                    "temp_c": st.floats(-300, 500).map(str) | st.text(max_size=5),
                    "duration_h": st.floats(-1, 1000).map(str) | st.text(max_size=5),
                },
            )
        )
        def ask(query):
            answer = self.client.get("/api/plan/", query)
            told = answer.json()
            if answer.status_code == 200:
                ticket = told["ticket"]
                self.assertEqual(ticket is None, bool(told["why_not"]))
                for member in ticket["members"] if ticket else ():
                    self.assertLessEqual(member["end_low_pct"], member["end_pct"])
                    self.assertLessEqual(member["end_pct"], member["end_high_pct"])
                if ticket:
                    self.assertAlmostEqual(sum(t["runs_h"] for t in ticket["turns"]), ticket["duration_h"])
            else:
                self.assertIn(answer.status_code, (400, 404))
                self.assertTrue(told["message"])

        ask()
