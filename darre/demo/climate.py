"""Five weeks of shed air: days and nights, damp spells after rain. The same at every start."""

from datetime import datetime, timedelta

import numpy as np

from drying.air import RoomAir

HOURS = 35 * 24
RAIN_HOURS_AGO = (760, 610, 420, 300, 175, 60)  # when rain set in; the damp dries out over a day or two


def shed_air(now: datetime) -> list[tuple[datetime, RoomAir]]:
    """Hourly air up to `now`, oldest first: 12 to 22 °C, 55 to 85 %.

    A function of the hours before `now` alone, as if every start-up came in the evening.
    """
    rng = np.random.default_rng(35)
    ago = np.arange(HOURS, -1, -1, dtype=float)
    day = np.cos(2 * np.pi * (ago - 4.0) / 24.0)  # warmest four hours before the evening of the start-up
    weather = 1.6 * np.sin(2 * np.pi * ago / 210.0) + 0.9 * np.sin(2 * np.pi * ago / 83.0 + 1.0)
    temp = 17.4 + 2.2 * day + weather + rng.normal(0, 0.15, ago.size)
    damp = sum(np.where(ago <= at, np.exp(-(at - ago) / 42.0), 0.0) for at in RAIN_HOURS_AGO)
    humid = 61.0 - 4.0 * day + 22.0 * np.minimum(damp, 1.05) + rng.normal(0, 0.8, ago.size)
    return [
        (now - timedelta(hours=float(h)), RoomAir(round(float(t), 1), round(float(r))))
        for h, t, r in zip(ago, np.clip(temp, 12, 22), np.clip(humid, 55, 85), strict=True)
    ]
