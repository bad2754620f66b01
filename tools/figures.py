"""Draw the figures of docs/ from the core itself."""

from __future__ import annotations

import matplotlib as mpl
import numpy as np

from drying.air import RoomAir
from drying.materials import material
from drying.transport import DEFAULT_WINDING, Filament, Segment, course, even_state
from tools.install import ROOT

mpl.use("svg")
from matplotlib import pyplot as plt

CASES = (("pla", 45, 0.48), ("petg", 63, 0.24), ("pa6", 72, 2.7))


def coil_against_spool() -> None:
    """Moisture left over 48 h for a loose coil, a spool in free air, and a spool in a small vented box."""
    mpl.rcParams["svg.hashsalt"] = "darre"  # the same file at every run
    figure, axes = plt.subplots(1, len(CASES), figsize=(11, 3.4), layout="constrained")
    hours = 48.0 * np.linspace(0.0, 1.0, 200) ** 2
    for ax, (name, temp, start) in zip(axes, CASES, strict=True):
        kinds = (("loose coil", None, None, ":"), ("wound, free air", DEFAULT_WINDING, None, "-"),
                 ("wound, box with 0.08 m³/h", DEFAULT_WINDING, 0.08, "--"))  # fmt: skip
        for label, winding, vent, style in kinds:
            body = Filament(material(name), 1.75, winding)
            segment = Segment(48.0, temp, RoomAir(21, 60), vent)
            ax.plot(hours, course(body, even_state(body, start), [segment], hours), style, color="#14201f", label=label)
        ax.set_title(f"{material(name).name}, {temp} °C, from {start} %")
        ax.set_xlabel("hours")
        ax.set_ylim(bottom=0)
    axes[0].set_ylabel("water, % of dry mass")
    axes[0].legend(frameon=False)
    folder = ROOT / "docs" / "figures"
    folder.mkdir(exist_ok=True)
    figure.savefig(folder / "coil-against-spool.svg", metadata={"Date": None})


if __name__ == "__main__":
    coil_against_spool()
