"""The one kind of array in the core: real numbers in double precision, any shape."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

Array = npt.NDArray[np.float64]
