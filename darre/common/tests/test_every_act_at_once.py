"""Every address that writes, asked the same by several clients at one moment: no fault of the server, words for those
that came too late, and whatever came of it can be taken back to the state before.

`CLIENTS` of them, three in `make test`; sixteen in `make fuzz`.
"""

import hashlib
import os
from datetime import timedelta
from uuid import uuid4

from django.apps import apps
from django.test import Client, TransactionTestCase
from django.utils import timezone

from darre.common.tests.at_once import at_once
from darre.common.tests.test_whole_contract import CONTRACT
from darre.demo.tests.fresh import load_demo_world
from darre.devices.models import Device, Sample
from darre.devices.tests.logs import hang
from darre.diagnosis.models import Case, PracticeRound, Print
from darre.equipment.models import Dryer, Scale
from darre.history.models import HistoryEntry
from darre.inventory.models import EmptySpool, Helper, HomeChange, Spool
from darre.places.models import Place
from darre.runs.models import Run, RunEvent
from darre.schedule.models import Wish
from darre.trials.models import Trial

CLIENTS = int(os.environ.get("CLIENTS", "3"))
ELSEWHERE = {
    ("post", "/api/history/{entry_id}/undo/"): "every act below is undone by it",
    ("post", "/api/backups/"): "writes a file, no record",
    ("post", "/api/spools/table/look/"): "only looks",
    ("post", "/api/weighings/table/look/"): "only looks",
    ("post", "/api/runs/table/look/"): "only looks",
    ("post", "/api/empty-spools/table/look/"): "only looks",
    ("put", "/api/logger-files/look/"): "only looks",
    ("put", "/api/logger-files/"): "in test_sixteen_clients, as bytes",
    ("put", "/api/print-files/"): "in test_sixteen_clients, as bytes",
    ("put", "/api/cases/{case_id}/photos/"): "in test_sixteen_clients, as bytes",
    ("post", "/api/schedule/stop/"): "nothing is stored",
    ("post", "/api/schedule/"): "in test_sixteen_clients: an answer, no act",
    ("post", "/api/first-workshop/"): "for an empty workshop alone",
    ("delete", "/api/photos/{photo_id}/"): "takes a photo's bytes; in the tests of cases",
    # Accounts are no part of the history, so nothing of them can be taken back: in the tests of accounts, at once too.
    ("post", "/api/session/"): "begins a session",
    ("delete", "/api/session/"): "ends one",
    ("post", "/api/session/password/"): "accounts",
    ("post", "/api/accounts/"): "accounts",
    ("post", "/api/accounts/first/"): "accounts",
    ("post", "/api/accounts/join/"): "accounts",
    ("put", "/api/accounts/{account_id}/"): "accounts",
    ("delete", "/api/accounts/{account_id}/"): "accounts",
    ("post", "/api/accounts/{account_id}/invitation/"): "accounts",
    ("put", "/api/restore/"): "puts another database in place at the next start",
    ("post", "/api/backups/{name}/restore/"): "the same",
    ("post", "/api/tokens/"): "accounts",
    ("delete", "/api/tokens/{token_id}/"): "accounts",
    ("put", "/api/network/"): "begins the server anew",
    ("put", "/api/data-package/"): "for an empty workshop alone, as bytes",
}
# Worked out, a game, or noted by the server itself: no act of a person.
NOT_ACTS = {
    "PracticeRound",
    "Workshop",
    "HistoryEntry",
    "Answer",
    "PlannedStart",
    "Session",
    "ContentType",
    "Migration",
}


def state():
    """A digest of each kind of record; what is only worked out, and the history itself, aside."""
    found = {}
    for model in apps.get_models():
        if model.__name__ not in NOT_ACTS:
            rows = sorted(map(repr, model.objects.values_list()))
            found[model.__name__] = len(rows), hashlib.sha256("".join(rows).encode()).hexdigest()
    return found


class Everyone(TransactionTestCase):
    def setUp(self):
        load_demo_world(self)
        running = Run.objects.select_related("batch__dryer").get(ended_at=None, coil=None)
        RunEvent.objects.filter(batch=running.batch).delete()
        hang(running, "Box logger")
        self.done = set()
        self.now = timezone.now().isoformat()

    def send(self, method, path, body):
        client = Client(raise_request_exception=False)
        return getattr(client, method)(path, {} if body is None else body, content_type="application/json")

    def act(self, method, template, body=None, **ids):
        """All clients at once; afterwards the records made, or None where nobody was let."""
        path = template.format(**ids)
        self.done.add((method, template))
        if isinstance(body, dict) and "client_key" in body:
            body = body | {"client_key": str(uuid4())}
        answers = at_once(lambda: self.send(method, path, body), CLIENTS)
        with self.subTest(method=method, path=path):
            for answer in answers:
                self.assertLess(answer.status_code, 500, answer.content[:400])
                if answer.status_code >= 400:
                    told = answer.json()
                    self.assertTrue(told["code"] and told["message"], told)
            good = [a for a in answers if a.status_code < 300]
            self.assertTrue(good, [a.content[:200] for a in answers])
        return good[0].json() if good and good[0].content else {}

    def assert_taken_back(self, before, since):
        for entry in HistoryEntry.objects.filter(pk__gt=since, undone_at=None).exclude(kind="undone").order_by("-pk"):
            answer = self.client.post(f"/api/history/{entry.pk}/undo/")
            self.assertEqual(answer.status_code, 200, (entry.summary, answer.content[:300]))
        after = state()
        self.assertEqual({k: v for k, v in after.items() if before[k] != v}, {})

    def acts_on_spools(self):
        gauge, caps = Spool.objects.get(name="Rain gauge"), Spool.objects.get(name="Lens caps")
        scale, place = Scale.objects.get(name="Bench scale").pk, Place.objects.filter(kind="shelf").first().pk
        on = {"spool_id": gauge.pk}
        fields = {
            "name": "Loft",
            "material": "pla",
            "empty_spool": EmptySpool.objects.first().pk,
            "tare_method": "unknown",
        }
        self.act("post", "/api/empty-spools/", {"name": "Loft rim", "kind": "card"})
        self.act("post", "/api/spools/", fields | {"place": place})
        self.act("put", "/api/spools/{spool_id}/", fields, spool_id=Spool.objects.get(name="Loft").pk)
        self.act("put", "/api/spools/{spool_id}/sheet/", {"temp_c": 50, "duration_h": 6}, **on)
        self.act("delete", "/api/spools/{spool_id}/sheet/", **on)
        self.act("post", "/api/spools/{spool_id}/moisture/", {"moisture_pct": 0.1, "plus_minus_pct": 0.02}, **on)
        self.act("post", "/api/spools/{spool_id}/uses/", {"mass_g": 0.2}, **on)
        reading, use = gauge.moisture_readings.last().pk, gauge.uses.last().pk
        body = {"moisture_pct": 0.2, "plus_minus_pct": 0.1}
        self.act("put", "/api/moisture-readings/{reading_id}/", body, reading_id=reading)
        self.act("delete", "/api/moisture-readings/{reading_id}/", reading_id=reading)
        self.act("put", "/api/uses/{use_id}/", {"mass_g": 0.3}, use_id=use)
        self.act("delete", "/api/uses/{use_id}/", use_id=use)
        self.act("post", "/api/spools/{spool_id}/coils/", {"name": "Loft coil", "length_m": 5}, **on)
        coil = gauge.coils.last().pk
        self.act("put", "/api/coils/{coil_id}/", {"name": "Attic coil", "length_m": 6}, coil_id=coil)
        self.act("delete", "/api/coils/{coil_id}/", coil_id=coil)
        weighed = {"scale": scale, "gross_g": 801.5, "client_key": ""}
        self.act("post", "/api/weighings/", weighed | {"spool": gauge.pk})
        last = gauge.weighings.order_by("pk").last().pk
        self.act("put", "/api/weighings/{weighing_id}/", weighed | {"gross_g": 801.9, "at": self.now}, weighing_id=last)
        self.act("delete", "/api/weighings/{weighing_id}/", weighing_id=last)
        self.act("post", "/api/spools/{spool_id}/archive/", {}, spool_id=caps.pk)
        self.act("delete", "/api/spools/{spool_id}/archive/", spool_id=caps.pk)
        text = f"Spool,Date,Weight\nLens caps,{timezone.now() - timedelta(days=20):%Y-%m-%d},905\n"
        self.act("post", "/api/weighings/table/", {"text": text, "zone": "UTC", "scale": scale})
        day = f"{timezone.now() - timedelta(days=15):%Y-%m-%d}"
        text = f"Spool,Start,Temp,Hours,Before,After\nLens caps,{day},45,4,904,903"
        self.act("post", "/api/empty-spools/table/", {"text": "Make,Weight\nLoft ring,203.5"})
        self.act("post", "/api/runs/table/", {"text": text, "zone": "UTC", "scale": scale})
        self.act("post", "/api/spools/table/", {"text": "Name,Material\nLoft two,pla\n", "place": place})

    def acts_on_places(self):
        gauge = Spool.objects.get(name="Rain gauge")
        self.act("post", "/api/places/", {"name": "Loft bin", "kind": "gasket_bin"})
        bin_ = Place.objects.get(name="Loft bin").pk
        self.act("put", "/api/places/{place_id}/", {"name": "Attic bin", "kind": "gasket_bin"}, place_id=bin_)
        self.act("post", "/api/stays/", {"spools": [gauge.pk], "place": bin_})
        stay = gauge.stays.order_by("pk").last()
        body = {"place": bin_, "since": stay.since.isoformat()}
        self.act("put", "/api/stays/{stay_id}/", body, stay_id=stay.pk)
        self.act("delete", "/api/stays/{stay_id}/", stay_id=stay.pk)
        self.act("post", "/api/places/{place_id}/fills/", {"kind": "silica_gel", "dry_g": 90}, place_id=bin_)
        fill = Place.objects.get(pk=bin_).fills.last().pk
        self.act("post", "/api/fills/{fill_id}/weighings/", {"mass_g": 92}, fill_id=fill)
        empty = self.act("post", "/api/places/", {"name": "Loft shelf", "kind": "shelf"})
        self.assertTrue(empty)
        self.act("delete", "/api/places/{place_id}/", place_id=Place.objects.get(name="Loft shelf").pk)
        self.act("post", "/api/room/readings/", {"temp_c": 20, "rh_pct": 50})
        months = [{"month": m, "temp_c": 20, "rh_pct": 50} for m in range(1, 13)]
        self.act("put", "/api/room/months/", {"months": months})

    def acts_on_equipment(self):
        dryer = {"name": "Loft box", "kind": "heated_box", "min_c": 35, "max_c": 60}
        self.act("post", "/api/dryers/", dryer)
        box = Dryer.objects.get(name="Loft box")
        self.act("put", "/api/dryers/{dryer_id}/", dryer | {"note": "attic"}, dryer_id=box.pk)
        self.act("post", "/api/dryers/{dryer_id}/probes/", {"set_c": 50, "air_c": 47}, dryer_id=box.pk)
        self.act("delete", "/api/probes/{probe_id}/", probe_id=box.probes.last().pk)
        self.act("put", "/api/dryers/{dryer_id}/service/", {"in_service": False}, dryer_id=box.pk)
        self.act("delete", "/api/dryers/{dryer_id}/", dryer_id=box.pk)
        self.act("post", "/api/scales/", {"name": "Loft scale", "max_g": 500, "resolution_g": 0.1})
        self.act("delete", "/api/scales/{scale_id}/", scale_id=Scale.objects.get(name="Loft scale").pk)
        self.act("post", "/api/devices/", {"name": "Loft logger", "kind": "logger"})
        logger = Device.objects.get(name="Loft logger").pk
        self.act("post", "/api/devices/{device_id}/token/", device_id=logger)
        self.act("put", "/api/devices/{device_id}/humidity/", {"offset_pct": 1.5}, device_id=logger)
        self.act("delete", "/api/devices/{device_id}/", device_id=logger)
        self.act("post", "/api/materials/", {"name": "Loft blend", "base": "pla"})
        mine = next(m["id"] for m in self.client.get("/api/materials/").json() if m["name"] == "Loft blend")
        of = {"material_id": mine, "name": "clean"}
        self.act("put", "/api/materials/{material_id}/values/{name}/", {"value": 0.3}, **of)
        self.act("delete", "/api/materials/{material_id}/values/{name}/", **of)
        of = {"material_id": mine, "name": "own"}
        self.act("put", "/api/materials/{material_id}/programmes/{name}/", {"temp_c": 45, "duration_h": 8}, **of)
        self.act("delete", "/api/materials/{material_id}/programmes/{name}/", **of)
        self.act("delete", "/api/materials/{material_id}/", material_id=mine)
        self.act("put", "/api/preferences/", {"currency": "€"})

    def acts_on_runs(self):
        run = Run.objects.get(ended_at=None, coil=None)
        at = {"run_id": run.pk}
        self.act("post", "/api/runs/{run_id}/events/", {"kind": "power_cut", "minutes": 5}, **at)
        self.act("delete", "/api/run-events/{event_id}/", event_id=run.batch.events.last().pk)
        self.act("put", "/api/runs/{run_id}/energy/", {"start_kwh": 1, "end_kwh": 2}, **at)
        self.act("post", "/api/runs/{run_id}/habits/", **at)
        self.act("put", "/api/runs/{run_id}/winding-probe/", {"device": None}, **at)
        self.act("post", "/api/runs/{run_id}/air/", {"temp_c": 61.5, "rh_pct": 9, "at": self.now}, **at)
        typed = Sample.objects.get(device__by_hand=True).pk
        self.act("delete", "/api/air-readings/{reading_id}/", reading_id=typed)
        self.act("post", "/api/runs/{run_id}/change/", {"duration_h": run.duration_h + 2}, **at)
        self.act("post", "/api/runs/{run_id}/end/", {}, **at)
        free = next(d for d in Dryer.objects.all() if not Run.objects.filter(batch__dryer=d, ended_at=None).exists())
        gauge = Spool.objects.get(name="Rain gauge").pk
        plan = self.client.get(f"/api/plan/?spool={gauge}&dryer={free.pk}").json()["ticket"]
        body = {"spool": gauge, "dryer": free.pk, "temp_c": plan["air_c"], "duration_h": 4, "client_key": "",
                "override_reason": "all at once, to see"}  # fmt: skip
        self.act("post", "/api/plan/start/", body)

    def acts_on_cases(self):
        spool = Spool.objects.get(name="Rain gauge").pk
        self.act("post", "/api/prints/", {"spool": spool, "name": "Loft hook", "mass_g": 5})
        self.act("post", "/api/cases/", {"spool": spool, "title": "Loft strings"})
        case = Case.objects.filter(title="Loft strings").first()
        of = {"case_id": case.pk}
        self.act("patch", "/api/cases/{case_id}/", {"note": "attic"}, **of)
        self.act(
            "put",
            "/api/cases/{case_id}/caliper/",
            {"suspect_mm": [1.75, 1.71, 1.8, 1.7], "dry_mm": [1.74, 1.75, 1.74, 1.75]},
            **of,
        )
        self.act("post", "/api/cases/{case_id}/own/", {"text": "hums", "times": 2}, **of)
        self.act("delete", "/api/own-observations/{own_id}/", own_id=case.own_observations.last().pk)
        score = {"side": "before", "feature": "strings", "score": 3}
        self.act("put", "/api/cases/{case_id}/ratings/", {"scores": [score], "blind": True}, **of)
        sign = self.client.get("/api/evidence/").json()["signs"][0]["id"]
        self.act("post", "/api/cases/{case_id}/signs/", {"signs": [{"sign": sign, "seen": True}]}, **of)
        pulled = {"method": "flex", "pose": "lying", "unit": "N", "before": [10, 11], "after": [12, 13]}
        self.act("put", "/api/cases/{case_id}/strength/", pulled, **of)
        self.act("post", "/api/cases/{case_id}/verdict/", {"kind": "no_finding"}, **of)
        self.act("delete", "/api/cases/{case_id}/verdict/", **of)
        self.act("delete", "/api/cases/{case_id}/", **of)
        self.act("delete", "/api/prints/{print_id}/", print_id=Print.objects.filter(name="Loft hook").first().pk)
        self.act("put", "/api/evidence/", {"sign": sign, "cause": "water", "p_pct": 60})
        self.act("post", "/api/practice/", {"budget_min": 30})
        opened = PracticeRound.objects.filter(ended_at=None).first()
        self.act("post", "/api/practice/{round_id}/checks/", {"check": "push"}, round_id=opened.pk)
        self.act("post", "/api/practice/{round_id}/answer/", {"chance_pct": 40}, round_id=opened.pk)

    def acts_on_schedule_and_trials(self):
        spool = Spool.objects.get(name="Rain gauge").pk
        self.act("post", "/api/schedule/helpers/", {"name": "Robin", "weekdays": "9-12"})
        self.act("post", "/api/schedule/wishes/", {"spool": spool})
        helper, wish = Helper.objects.get(name="Robin").pk, Wish.objects.get(spool=spool).pk
        self.act("put", "/api/schedule/helpers/{helper_id}/", {"name": "Robin", "weekdays": "8-12"}, helper_id=helper)
        self.act("delete", "/api/schedule/helpers/{helper_id}/", helper_id=helper)
        day = {"since": "2030-01-01T09:00:00Z", "until": "2030-01-01T18:00:00Z", "at_home": True}
        self.act("post", "/api/schedule/changes/", day)
        self.act("delete", "/api/schedule/changes/{change_id}/", change_id=HomeChange.objects.last().pk)
        self.act("patch", "/api/schedule/wishes/{wish_id}/", {"note": "attic"}, wish_id=wish)
        soon = (timezone.now() + timedelta(hours=20)).isoformat()
        body = {"dryer": Dryer.objects.first().pk, "at": soon}
        self.act("put", "/api/schedule/wishes/{wish_id}/pin/", body, wish_id=wish)
        self.act("delete", "/api/schedule/wishes/{wish_id}/", wish_id=wish)
        begun = {"kind": "twin", "spool": spool, "scale": Scale.objects.first().pk, "temp_c": 60,
                 "samples": [{"start_g": 20}]}  # fmt: skip
        self.act("post", "/api/trials/", begun)
        trial = Trial.objects.order_by("pk").last()
        self.act("post", "/api/trials/{trial_id}/samples/", {"start_g": 21}, trial_id=trial.pk)
        sample = trial.samples.first()
        body = {"gross_g": 19.9, "client_key": ""}
        self.act("post", "/api/samples/{sample_id}/readings/", body, sample_id=sample.pk)
        reading = sample.readings.last().pk
        self.act("put", "/api/sample-readings/{reading_id}/", {"gross_g": 19.92}, reading_id=reading)
        air = {"temp_c": 58, "rh_pct": 12, "hours": 0, "client_key": ""}
        self.act("post", "/api/trials/{trial_id}/air/", air, trial_id=trial.pk)
        self.act("delete", "/api/trial-air/{note_id}/", note_id=trial.air_notes.last().pk)
        self.act("post", "/api/trials/{trial_id}/take-over/", trial_id=trial.pk)
        self.act("delete", "/api/sample-readings/{reading_id}/", reading_id=reading)
        self.act("post", "/api/trials/{trial_id}/end/", trial_id=trial.pk)
        self.act("delete", "/api/trials/{trial_id}/", trial_id=trial.pk)
        rungs = [{"moisture_pct": 0.1}, {"moisture_pct": 0.3}]
        self.act("post", "/api/ladders/", {"spool": spool, "rungs": rungs})
        rung = Trial.objects.filter(kind="ladder").last().rungs.first()
        self.act("post", "/api/rungs/{rung_id}/prints/", {"showed": True, "client_key": ""}, rung_id=rung.pk)
        self.act("delete", "/api/rung-prints/{print_id}/", print_id=rung.prints.last().pk)

    def test_every_act_is_whole_and_can_be_taken_back(self):
        for acts in (self.acts_on_spools, self.acts_on_places, self.acts_on_equipment, self.acts_on_runs,
                     self.acts_on_cases, self.acts_on_schedule_and_trials):  # fmt: skip
            before, since = state(), HistoryEntry.objects.latest("pk").pk
            acts()
            with self.subTest(acts.__name__):
                self.assert_taken_back(before, since)
        writes = {
            (method, path)
            for path, ways in CONTRACT["paths"].items()
            for method in ways
            if method not in ("get", "parameters")
        }
        self.assertEqual(writes - self.done, set(ELSEWHERE))
