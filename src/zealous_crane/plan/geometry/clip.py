"""The stretch of a piece along the fold that is looked at, and how far away is out of reach."""

from __future__ import annotations

from .solid import Solid

Clip = tuple[float, float] | None
"""Interval of x (mm) of a piece that is looked at; None is all of it."""

AWAY = 50_000.0
"""How far (mm) a part must slide to be out: past any part."""


def narrowed(solid: Solid, clip: Clip) -> Clip:
    """None where a piece does not change along the fold and some of it is in the interval: one answer serves them all."""
    same = clip is not None and solid.uniform and solid.reaches(*clip)
    return None if same else clip
