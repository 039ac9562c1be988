"""The innermost questions of the contact search once more, in C: a question there costs
microseconds instead of a hundred.

They are compiled where the program is set up, if a compiler is there; where none is, the same
questions are answered with NumPy by the modules that ask here. Both give the same answers, to
rounding (tests/kernel/test_native.py).
"""

from __future__ import annotations

import os

try:
    if os.environ.get("CRANE_ENGINE") == "numpy":
        raise ImportError
    from . import _exact as exact
except ImportError:
    exact = None  # type: ignore[assignment]

COMPILED: bool = exact is not None
"""True where the compiled questions are at hand."""
