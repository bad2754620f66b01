"""Spools as the core's plain values."""

from darre.inventory.models import Spool
from drying.dryers.setup import Load, MakersSheet
from drying.materials.properties import Material
from drying.materials.spool_bodies import body_kind
from drying.quantity import Quantity
from drying.transport.uncertainty import UNKNOWN_RATE, Rate


def core_load(
    spool: Spool,
    polymer: Material,
    start: Quantity,
    net_g: float | None,
    form: str = "",
    rate: Rate = UNKNOWN_RATE,
) -> Load:
    """A spool as the core takes it for a run, in its own form or another."""
    sheet = None
    if spool.sheet_temp_c is not None and spool.sheet_hours is not None:
        sheet = MakersSheet(spool.sheet_temp_c, spool.sheet_hours, spool.sheet_only_if_opened)
    return Load(
        material=polymer,
        body=body_kind(spool.body.kind),
        strand_diameter_mm=spool.strand_diameter_mm,
        start=start,
        net_g=net_g,
        form=form or spool.form,
        hub_radius_mm=spool.body.hub_diameter_mm / 2.0,
        width_mm=spool.body.width_mm,
        diameter_mm=spool.body.outer_diameter_mm,
        sheet=sheet,
        rate=rate,
    )
