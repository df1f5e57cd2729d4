"""The kinds of array that the engine passes about."""

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Marks = NDArray[np.bool_]
"""Yes or no for each."""
