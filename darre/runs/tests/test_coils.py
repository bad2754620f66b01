"""Coils and doubtful readings: a coil has no tare and tells what its spool held; warm and wet readings count less."""

import math
from uuid import uuid4

from django.utils import timezone

from darre.common.test_runner import forget
from darre.inventory.models import MoistureReading
from darre.moisture.lanes import lane_of
from darre.runs.models import Run, Weighing
from darre.runs.selectors import share_of_strand
from darre.runs.tests.test_run_path import Shed
from drying.materials import material


class Coils(Shed):
    def coil(self, gross_g, **more):
        return {
            "scale": self.pocket.id,
            "gross_g": gross_g,
            "client_key": str(uuid4()),
            "weighed_object": "coil",
            **more,
        }

    def test_a_dried_coil_tells_what_the_whole_spool_held_and_leaves_it_wet(self):
        before = lane_of(self.tyres.id, timezone.now())
        run = self.post(
            "plan/start/", spool=self.tyres.id, dryer=self.stacker.id, temp_c=55, duration_h=8, client_key=str(uuid4()),
            at=self.ago(hours=8), readings=[{**self.coil(20.0, length_m=6.9), "spool": self.tyres.id}],
        ).json()["runs"][0]  # fmt: skip
        self.assertEqual(run["form"], "loose")
        for hours, gross in ((6, 19.89), (4, 19.88), (2, 19.88)):
            self.post("weighings/", spool=self.tyres.id, at=self.ago(hours=hours), **self.coil(gross))
        refused = self.post(f"runs/{run['id']}/end/", weigh_out=self.reading(700))
        self.assert_refused(refused, "other_thing_weighed", "weigh_out", "weighing of the coil")
        self.assertEqual(self.post(f"runs/{run['id']}/end/", weigh_out=self.coil(19.87)).status_code, 200)
        mark = MoistureReading.objects.filter(spool=self.tyres).last()
        lost_pct = 100 * 0.13 / 19.87
        self.assertGreater(mark.moisture_pct, lost_pct)  # what the room's air holds back is in it as well
        self.assertLess(mark.moisture_pct, lost_pct + 0.15)
        self.assertLess(mark.sd_pct, before.moisture.uncertainty)
        after = lane_of(self.tyres.id, timezone.now())
        self.assertGreater(after.moisture.value, 0.5)
        self.assertEqual(after.net_g, before.net_g)

    def test_a_length_belongs_to_a_coil_and_a_coil_may_weigh_less_than_the_empty_spool(self):
        refused = self.post("weighings/", spool=self.tyres.id, **self.reading(700, length_m=5))
        self.assert_refused(refused, "length_of_spool", "length_m", "coil")
        kept = self.post("weighings/", spool=self.tyres.id, **self.coil(14.7))
        self.assertEqual((kept.status_code, kept.json()["weighing"]["tare_g"]), (201, 0))

    def test_a_coil_weighed_while_its_spool_dries_is_kept_beside_the_run(self):
        run = self.started(at=self.ago(hours=2))
        self.post("weighings/", spool=self.gauge.id, **self.coil(12.0))
        self.assertEqual(Weighing.objects.filter(run=run["id"]).count(), 1)

    def test_a_warm_or_wet_reading_widens_what_is_said(self):
        run = self.started(at=self.ago(hours=9))
        spreads = []
        for flags in ({}, {"warm": True}, {"surface_wet": True}):
            kept = self.post("weighings/", spool=self.gauge.id, **self.reading(798.3, **flags)).json()
            verdict = self.client.get(f"/api/runs/{run['id']}/").json()["verdict"]
            spreads.append(verdict["loss"]["mass_g"]["plus_minus"])
            self.post(f"history/{kept['undo']}/undo/")
        self.assertLess(spreads[0], spreads[1])
        self.assertLess(2 * spreads[1], spreads[2])


class Named(Shed):
    """Coils are things: several of one spool go in together, each with its own weighings and end."""

    def coil(self, gross_g, **more):
        return {
            "scale": self.pocket.id,
            "gross_g": gross_g,
            "client_key": str(uuid4()),
            "weighed_object": "coil",
            **more,
        }

    def put_in(self, gross_g, hours_ago=6, **more):
        body = {"temp_c": 55, "duration_h": 8, "client_key": str(uuid4()), "at": self.ago(hours=hours_ago)}
        reading = {**self.coil(gross_g, **more), "spool": self.tyres.id}
        return self.post("plan/start/", spool=self.tyres.id, dryer=self.stacker.id, readings=[reading], **body)

    def coils(self):
        return self.client.get(f"/api/spools/{self.tyres.id}/coils/").json()

    def test_several_coils_of_one_spool_dry_together_each_by_itself(self):
        first, second = (self.put_in(g).json()["runs"][0] for g in (20.0, 18.5))
        self.assertEqual((first["coil"], second["coil"]), ("coil 1", "coil 2"))
        self.assertEqual(first["batch"], second["batch"])
        one, two = self.coils()
        for coil, gross in ((one, 19.9), (two, 18.42)):
            kept = self.post(
                "weighings/", spool=self.tyres.id, at=self.ago(hours=3), **self.coil(gross, coil=coil["id"])
            )
            self.assertEqual(kept.status_code, 201)
        sheets = [self.client.get(f"/api/runs/{run['id']}/").json() for run in (first, second)]
        self.assertEqual([[s["gross_g"] for s in sheet["seen"]] for sheet in sheets], [[20.0, 19.9], [18.5, 18.42]])
        ended = self.post(f"runs/{first['id']}/end/", weigh_out=self.coil(19.88))
        self.assertEqual(ended.status_code, 200)
        after = {coil["name"]: (coil["run"], coil["last_g"]) for coil in self.coils()}
        self.assertEqual(after, {"coil 1": (None, 19.88), "coil 2": (second["id"], 18.42)})

    def test_a_coil_that_dries_leaves_its_spool_on_the_shelf_and_to_be_dried(self):
        def on_the_rack():
            rack = self.client.get("/api/rack/?span=week").json()["lanes"]
            return next(row for row in rack if row["lane"]["spool"]["id"] == self.tyres.id)

        before = on_the_rack()
        self.put_in(20.0)
        after = on_the_rack()
        self.assertIsNone(after["lane"]["run"])
        self.assertEqual((after["next"]["act"], after["heat"]), (before["next"]["act"], before["heat"]))

    def test_the_spool_itself_can_dry_beside_its_coil(self):
        coil = self.put_in(20.0).json()["runs"][0]
        wound = self.started(self.tyres, self.stacker, 55, "752", at=self.ago(hours=5))
        self.assertEqual((wound["coil"], wound["batch"]), (None, coil["batch"]))

    def test_where_two_are_in_which_one_was_weighed_is_asked(self):
        self.put_in(20.0), self.put_in(18.5)
        asked = self.post("weighings/", spool=self.tyres.id, **self.coil(19.9))
        self.assert_refused(asked, "which_coil", "coil", "coil 1, coil 2", 400)

    def test_a_coil_goes_in_once_and_belongs_to_its_spool(self):
        self.put_in(20.0)
        [coil] = self.coils()
        self.assert_refused(self.put_in(20.0, coil=coil["id"]), "already_running", "spool", "coil 1 of Roller tyres")
        wrong = self.post("weighings/", spool=self.gauge.id, **self.coil(12.0, coil=coil["id"]))
        self.assert_refused(wrong, "other_spool", "coil", "was not cut off Rain gauge", 400)

    def test_a_coil_is_cut_named_used_up_and_removed(self):
        def put(coil, **body):
            return self.client.put(f"/api/coils/{coil}/", body, content_type="application/json")

        path = f"spools/{self.tyres.id}/coils/"
        cut = self.post(path, name="wet lot A", length_m="8,5", soaked=True).json()["id"]
        other = self.post(path).json()["id"]
        self.assertEqual([c["name"] for c in self.coils()], ["wet lot A", "coil 1"])
        self.assert_refused(put(other, name="wet lot A"), "name_taken", "name", "Choose another name")
        undo = put(cut, name="wet lot A", length_m="8", soaked=True, used_up=True).json()["undo"]
        self.assertIsNotNone(self.coils()[0]["used_up_at"])
        self.assertEqual(self.post(f"history/{undo}/undo/").status_code, 200)
        self.assertIsNone(self.coils()[0]["used_up_at"])
        self.assertEqual(self.client.delete(f"/api/coils/{other}/").status_code, 200)
        self.put_in(20.0, coil=cut)
        self.assert_refused(self.client.delete(f"/api/coils/{cut}/"), "in_use", None, "was weighed or dried", 409)
        self.assert_refused(put(cut, name="wet lot A", used_up=True), "in_dryer", "used_up_at", "End its run")

    def test_a_soaked_coil_that_dried_fast_leaves_the_plan_of_its_spool_as_long_as_its_strand_allows(self):
        def hours():
            forget()  # the records were changed without an act
            asked = {"spool": self.tyres.id, "dryer": self.stacker.id, "method": "least_heat", "form": "wound"}
            return self.client.get("/api/plan/", asked).json()["ticket"]["duration_h"]

        run = Run.objects.get(pk=self.put_in(20.0).json()["runs"][0]["id"])
        Run.objects.filter(pk=run.pk).update(ended_at=timezone.now())
        before = hours()
        taught = {"learned_log_rate": math.log(2.67), "learned_log_rate_sd": 0.1}
        Run.objects.filter(pk=run.pk).update(**taught)
        share = share_of_strand(self.tyres, material(self.tyres.material), "wound", 550.0)
        by_coil = hours()
        self.assertGreater(by_coil, before / 2.67**share * 0.93)
        Run.objects.filter(pk=run.pk).update(form="wound")  # as if the spool itself had dried that fast
        self.assertLess(hours(), by_coil)
