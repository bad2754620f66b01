"""The materials as this workshop knows them: the built-in rows, own values over them, and own materials."""

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass

from darre.inventory.models import OwnMaterial, OwnProgramme, OwnValue, Spool
from drying.errors import UnknownMaterialError
from drying.materials import JOIN, Material, all_materials, new_material, own_values, parts_of, with_mixed_in, with_own


@dataclass(frozen=True)
class Entry:
    """A material as it counts now, the row it is laid over, and whether it is the person's own; `family`: the built-in
    material that it is, or was begun from; `mixed_in`: what is mixed into it, None where nothing is.
    """

    now: Material
    base: Material
    own: bool
    family: str
    mixed_in: str | None = None


@dataclass(frozen=True)
class MaterialBook:
    """Every material by id, with those of spools that have something mixed in. Read once for a request and handed
    down: four queries.
    """

    entries: Mapping[str, Entry]

    def __getitem__(self, material_id: str) -> Material:
        """The material as it counts now. Raises UnknownMaterialError, which lists the known ids."""
        if material_id in self.entries:
            return self.entries[material_id].now
        base, mixed = parts_of(material_id)
        if mixed is not None and base in self.entries:
            return with_mixed_in(self.entries[base].now, mixed)
        known = ", ".join(self.entries)
        raise UnknownMaterialError("material", f"There is no material '{material_id}'. Known: {known}.")


def material_book() -> MaterialBook:
    """The materials as they stand in the database now."""
    values: dict[str, list[own_values.OwnValue]] = defaultdict(list)
    for value in OwnValue.objects.all():
        values[value.material].append(own_values.OwnValue(value.name, value.value, value.spread, value.note))
    programmes: dict[str, list[own_values.OwnProgramme]] = defaultdict(list)
    for method in OwnProgramme.objects.all():
        programmes[method.material].append(own_values.OwnProgramme(method.name, method.temp_c, method.duration_h))
    built_in = all_materials()
    bases = {key: (row, False, key) for key, row in built_in.items()}
    for mine in OwnMaterial.objects.all():
        bases[mine.slug] = (new_material(mine.slug, mine.name, mine.short, built_in[mine.base]), True, mine.base)
    entries = {
        key: Entry(with_own(base, values[key], programmes[key]), base, own, family)
        for key, (base, own, family) in bases.items()
    }
    used = Spool.objects.filter(material__contains=JOIN).values_list("material", flat=True).distinct()
    for key in sorted({*used, *(key for key in (*values, *programmes) if JOIN in key)}):
        of, mixed = parts_of(key)
        if of in entries and mixed is not None:
            base = with_mixed_in(entries[of].now, mixed)
            found = with_own(base, values[key], programmes[key])
            entries[key] = Entry(found, base, own=False, family=entries[of].family, mixed_in=mixed)
    return MaterialBook(entries)
