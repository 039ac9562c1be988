"""What the handbook says of springback in one place, before the book knows better."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime

from ..brake import BrakeError, Rack
from ..measure.words import tr
from ..metal import Sheet, material
from ..metal.springback import overbend
from .learnt import Learnt, Place


def handbook(rack: Rack) -> Callable[[Place], float]:
    """The rule for any place: by the metal and its thickness, in air on a press, or as folded over a nose."""

    def rule(place: Place) -> float:
        try:
            metal = material(place.metal)
        except ValueError:
            return 2.0
        try:
            press = rack[place.machine].kind == "press"
        except (BrakeError, KeyError):
            press = False
        sheet = Sheet(metal, place.thickness, f"{place.thickness:g} mm")
        return overbend(sheet, 90.0, place.thickness, closing=False, press=press).angle

    return rule


def from_the_book(found: Learnt) -> str:
    """Where a figure comes from, as a job keeps it."""
    return tr("from the book, {day}: {said}").format(day=f"{datetime.now(UTC):%d %b %Y}".lstrip("0"), said=found.text())
