"""What the handbook says of springback in one place, before the book knows better."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import UTC, datetime

from ..brake import Rack
from ..measure.input_error import INPUT_ERRORS
from ..measure.words import tr
from ..metal import MATERIALS, Material, Sheet
from .deduction import LearntK
from .learnt import Learnt, Place

PLAIN = 2.0
"""Degrees at 90° where metal or machine are not known here: the low end of common practice, no source."""


def handbook(rack: Rack, metals: Mapping[str, Material] = MATERIALS) -> Callable[[Place], float]:
    """The rule for any place: by the metal and its thickness, in air on a press, or as folded over a nose.

    Args:
        rack: the shop's machines.
        metals: what the shop bends, by key.
    """

    def rule(place: Place) -> float:
        # The machines stand on the engine, which nobody needs who only reads or shows.
        from ..plan.stroke.machines import machine_of

        try:
            sheet = Sheet(metals[place.metal], place.thickness, f"{place.thickness:g} mm")
            return machine_of(rack[place.machine]).handbook(sheet)
        except (*INPUT_ERRORS, KeyError):
            return PLAIN

    return rule


def from_the_book(found: Learnt | LearntK) -> str:
    """Where a figure comes from, as a job keeps it."""
    return tr("from the book, {day}: {said}").format(day=f"{datetime.now(UTC):%d %b %Y}".lstrip("0"), said=found.text())
