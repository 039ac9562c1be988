"""The innermost questions of the contact search once more, in C: a question there costs microseconds instead of a hundred.

They are compiled where the program is set up, if a compiler is there; where none is, the same questions are answered with NumPy
by the modules that ask here. Both give the same answers, to rounding (tests/plan/test_native.py).
"""

from __future__ import annotations

import os
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from . import _exact as exact
elif os.environ.get("CRANE_ENGINE") == "numpy":
    exact = None
else:
    try:
        from . import _exact as exact
    except ImportError:
        exact = None

COMPILED: bool = exact is not None
"""True where the compiled questions are at hand."""
