"""Spools as the core's plain values."""

from darre.inventory.models import Spool
from drying.dryers import Load, MakersSheet
from drying.materials import Material, empty_spool_kind
from drying.quantity import Quantity
from drying.transport import UNKNOWN_RATE, Rate
from drying.weighing import Tare


def tare_columns(tare: Tare) -> dict[str, float | str]:
    """A tare as spools and weighings store it."""
    return {"tare_g": tare.mass_g, "tare_sd_g": tare.uncertainty_g, "tare_method": tare.method.value}


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
        empty_spool=empty_spool_kind(spool.empty_spool.kind),
        strand_diameter_mm=spool.strand_diameter_mm,
        start=start,
        net_g=net_g,
        form=form or spool.form,
        hub_radius_mm=spool.empty_spool.hub_diameter_mm / 2.0,
        width_mm=spool.empty_spool.width_mm,
        diameter_mm=spool.empty_spool.outer_diameter_mm,
        sheet=sheet,
        rate=rate,
    )
