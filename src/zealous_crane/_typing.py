"""Types that every package of the core uses."""

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
"""An array of floats; the docstring of whoever takes or returns it gives its shape and unit."""
