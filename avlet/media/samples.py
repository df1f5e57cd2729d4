"""Sound as numbers."""

import numpy as np
from numpy.typing import NDArray

HERTZ = 48_000
"""Samples a second of all sound here."""
Samples = NDArray[np.float32]
"""Shape (samples, 2), left and right, -1 … 1."""
