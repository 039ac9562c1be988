"""A question for a process: it must be a function of a module, and one that brings no window in."""

from __future__ import annotations

import os

from zealous_crane.errors import InputError


def halves(number: int) -> tuple[int, int]:
    """Half of an even number, and the process that worked it out."""
    if number % 2:
        raise InputError(f"{number} is odd")
    return number // 2, os.getpid()
