"""The computation of drying plastic strand for 3D printing.

Plain Python with numpy and scipy. Knows nothing of web frameworks, databases or files other than its own data.
The list of modules is the index of the subject; `docs/science.md` has the equations with their sources.

Units at the edges stand in the names: `temp_c` (degrees Celsius), `rh_pct` (relative humidity in percent over
liquid water), `mass_g`, `duration_h`, `moisture_pct` (water in percent of the dry mass, unless a name says `wet`).
`activity` is water activity, a number from 0 to 1.
"""

import os

# Arrays are small here: several threads would only wait for one another, on a busy machine a hundred times as long as
# the sum takes. Read when numpy is first imported, so it must be said before.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
