"""Own materials, and own values beside the built-in ones. Each can be gone back from."""

from django.db.models import Q, QuerySet
from django.utils.text import slugify

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.history.recorder import OpenEntry, history_entry
from darre.inventory.material_book import material_book
from darre.inventory.models import OwnMaterial, OwnProgramme, OwnValue, Spool
from drying.diagnosis import Thresholds
from drying.materials import BOUNDS, JOIN, PROGRAMME_NAMES, all_materials


def _known_name(names: tuple[str, ...], name: str) -> None:
    if name not in names:
        raise Refusal("unknown_name", f"There is no '{name}' here. Known: {', '.join(names)}.", "name", 400)


THRESHOLDS = ("clean", "trouble")


def thresholds_are_typed(material_id: str) -> bool:
    """Whether the person has typed a threshold of this material: cases then leave both alone."""
    return _thresholds(material_id, OwnValue.Origin.TYPED).exists()


def _thresholds(material_id: str, origin: OwnValue.Origin) -> QuerySet[OwnValue]:
    return OwnValue.objects.filter(material=material_id, name__in=THRESHOLDS, origin=origin)


def write_learned_thresholds(entry: OpenEntry, material_id: str, learned: Thresholds | None, cases: int) -> None:
    """Put the thresholds that closed cases have taught over the built-in ones (None: go back to those).

    Written in the open entry of whatever closed or changed a case.
    """
    for own in _thresholds(material_id, OwnValue.Origin.CASES):
        entry.delete(own)
    if learned is not None:
        shared = {
            "material": material_id,
            "origin": OwnValue.Origin.CASES,
            "note": f"From your closed cases ({cases}).",
        }
        entry.create(OwnValue(name="clean", value=round(learned.clean_pct, 4), **shared))
        trouble, spread = round(learned.trouble_pct, 4), round(learned.spread, 4)
        entry.create(OwnValue(name="trouble", value=trouble, spread=spread, **shared))
    material_book()  # raises where this makes no sense, and nothing is stored


def set_own_value(
    material_id: str, name: str, value: float, spread: float | None = None, note: str = ""
) -> Saved[None]:
    """Put an own value over the built-in one.

    Raises UnknownMaterialError, Refusal for an unknown property, OutOfRangeError for a value that no filament has and
    where thresholds or temperatures would be out of order.
    """
    _known_name(tuple(BOUNDS), name)
    polymer = material_book()[material_id]
    present = OwnValue.objects.filter(material=material_id, name=name).first()
    with history_entry("material.value_set", f"Set {name} of {polymer.name} to {value:g}") as entry:
        if present:
            entry.update(present, value=value, spread=spread, note=note, origin=OwnValue.Origin.TYPED)
        else:
            entry.create(OwnValue(material=material_id, name=name, value=value, spread=spread, note=note))
        material_book()  # computes every material anew: raises where this one makes no sense, and nothing is kept
    return entry.done()


def drop_own_value(material_id: str, name: str) -> Saved[None]:
    """Go back to the built-in value. Nothing to do where there is none over it."""
    present = OwnValue.objects.filter(material=material_id, name=name).first()
    if present is None:
        return Saved(None)
    with history_entry(
        "material.value_dropped", f"Went back to the built-in {name} of {material_book()[material_id].name}"
    ) as entry:
        entry.delete(present)
        material_book()
    return entry.done()


def set_own_programme(material_id: str, name: str, temp_c: float, duration_h: float) -> Saved[None]:
    """Put an own temperature and hours for a method, or the person's own programme ("own")."""
    _known_name(PROGRAMME_NAMES, name)
    polymer = material_book()[material_id]
    present = OwnProgramme.objects.filter(material=material_id, name=name).first()
    with history_entry(
        "material.school_set", f"Set {name} of {polymer.name} to {temp_c:g} °C, {duration_h:g} h"
    ) as entry:
        if present:
            entry.update(present, temp_c=temp_c, duration_h=duration_h)
        else:
            entry.create(OwnProgramme(material=material_id, name=name, temp_c=temp_c, duration_h=duration_h))
        material_book()
    return entry.done()


def drop_own_programme(material_id: str, name: str) -> Saved[None]:
    """Go back to the built-in run of a method; an own programme is gone."""
    present = OwnProgramme.objects.filter(material=material_id, name=name).first()
    if present is None:
        return Saved(None)
    with history_entry(
        "material.school_dropped", f"Went back to the built-in {name} of {material_book()[material_id].name}"
    ) as entry:
        entry.delete(present)
    return entry.done()


def add_material(name: str, short: str, base: str) -> Saved[str]:
    """Add an own material, begun from a built-in one. Returns its id and the history entry.

    Refused where the name is taken or gives no id.
    """
    name, slug = name.strip(), f"own-{slugify(name)}"[:40]
    if base not in all_materials():
        raise Refusal("unknown_base", "Begin from one of the built-in materials.", "base", 400)
    known = material_book().entries
    if slug in ("own-", *known) or name.lower() in {e.now.name.lower() for e in known.values()}:
        raise Refusal("name_taken", f"“{name}” cannot be used, or there is one already. Choose another name.", "name")
    with history_entry("material.added", f"Added the material {name}") as entry:
        entry.create(OwnMaterial(slug=slug, name=name, short=short.strip() or name[:30], base=base))
    return entry.saved(slug)


def remove_material(material_id: str) -> Saved[None]:
    """Remove an own material with its values. Refused while a spool is of it."""
    mine = OwnMaterial.objects.filter(slug=material_id).first()
    if mine is None:
        raise Refusal("built_in", "Only materials of your own can be removed; built-in rows stay.", status=400)
    spool = Spool.objects.filter(Q(material=material_id) | Q(material__startswith=material_id + JOIN)).first()
    if spool:
        raise Refusal("in_use", f"{spool.name} is of {mine.name}. Give that spool another material first.")
    with history_entry("material.removed", f"Removed the material {mine.name}") as entry:
        for own in (*OwnValue.objects.filter(material=material_id), *OwnProgramme.objects.filter(material=material_id)):
            entry.delete(own)
        entry.delete(mine)
    return entry.done()
