"""Does a common box reach what each material asks for? Every usual method at 21 °C and 50 % in a box with the habits of
its kind, from what the strand holds in such a room or its trouble threshold, whichever is more.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from drying.air import RoomAir
from drying.dryers import Dryer, Load, Setup
from drying.materials import Material, all_materials, empty_spool_kind, equilibrium_moisture_pct
from drying.planning.choose import Choice, choose
from drying.quantity import Quantity

ROOM, BOX = RoomAir(21.0, 50.0), Dryer(35.0, 70.0)


@dataclass(frozen=True)
class Accepted:
    """A material, where it began, what was chosen, and where this air stops it, % of dry mass."""

    material: Material
    start_pct: float
    choice: Choice
    floor_pct: float


def acceptance() -> Iterator[Accepted]:
    """Every material that needs drying and has a usual method in the range of the box."""
    for polymer in all_materials().values():
        if polymer.trouble is None or polymer.programmes["usual"].temp_c > BOX.max_c:
            continue
        start = max(equilibrium_moisture_pct(polymer, ROOM.rh_pct / 100.0), polymer.trouble.value)
        load = Load(polymer, empty_spool_kind("abs"), 1.75, Quantity(start, 0.1 * start), 1000.0)
        setup = Setup((load,), BOX, ROOM)
        chosen = choose("usual", setup)
        yield Accepted(polymer, start, chosen, setup.floor_pct(load, chosen.temp_c))


def main() -> None:
    print("\nUsual methods in a common box, 1 kg at 21 °C and 50 % (goal: the air's floor lies under clean for each)")
    for one in acceptance():
        clean = one.material.aim_pct
        hours = f"{one.choice.duration_h:5.1f} h" if one.choice.reaches else "over 96 h"
        print(
            f"  {one.material.short:12} from {one.start_pct:5.2f} %: {one.choice.temp_c:3.0f} °C {hours:>9}, floor "
            f"{one.floor_pct:.3f} % {'<' if one.floor_pct < clean else 'NOT UNDER'} clean {clean:.2f} %"
        )


if __name__ == "__main__":
    main()
