"""The door to the innermost questions of the contact search, and the two that answer them.

They are compiled where the program is set up, if a compiler is there (``native``); where none is,
or ``CRANE_ENGINE=numpy`` says so, NumPy answers them (``plain``). Both give the same answers, to
rounding: tests/kernel/test_native.py asks them side by side. Nobody but this module knows which one
answers.
"""

from __future__ import annotations

import os

from .geometry import Geometry


def _taken() -> tuple[Geometry, bool]:
    if os.environ.get("CRANE_ENGINE") != "numpy":
        try:
            from .native import questions as compiled
        except ImportError:
            pass
        else:
            return compiled, True
    from .plain import questions as plain

    return plain, False


geometry, COMPILED = _taken()
"""What answers, and whether it is compiled."""
