"""What a machine is rated for, as its plate says it: mild steel of a gauge or a thickness."""

from __future__ import annotations

import re
from typing import Annotated, Any

from pydantic import BeforeValidator

from ..measure import PositiveLength, Units, parse_length
from .gauge import gauge_table

GAUGE = re.compile(r"^\s*(?:#\s*(\d+)|(\d+)\s*(?:ga|gauge|g)\.?)\s*$", re.IGNORECASE)
"""A gauge as it is written: ``22 ga``, ``#22``."""


def read_rating(text: str, units: Units = Units.FRACTIONS) -> float:
    """Thickness of mild steel in mm, from ``16 ga`` by the steel gauge, or from a length.

    Args:
        text: as typed.
        units: those of a bare number.

    Raises:
        InputError: it is neither.
    """
    gauge = GAUGE.match(text[:80])
    return gauge_table("steel").thickness(int(gauge[1] or gauge[2])) if gauge else parse_length(text, units)


SAME_GAUGE = 0.002
"""Share by which a rating may differ from a gauge of steel and still be that gauge."""


def gauge_of(rated: float) -> int | None:
    """Gauge of steel that a rating (mm) is, as the machine's plate says it; None where it is a thickness of its own."""
    table = gauge_table("steel")
    nearest = table.nearest(rated)
    return nearest if abs(table.thickness(nearest) - rated) <= SAME_GAUGE * rated else None


def _read(value: Any) -> Any:
    return read_rating(value) if isinstance(value, str) else value


SteelRating = Annotated[PositiveLength, BeforeValidator(_read)]
"""Thickest mild steel a machine takes: mm, a gauge of steel or a length as text."""


def is_rating(metadata: list[Any]) -> bool:
    """True for the metadata of a :data:`SteelRating` field."""
    return any(getattr(item, "func", None) is _read for item in metadata)
