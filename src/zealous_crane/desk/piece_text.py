"""Pieces and corners of a tool as a person writes them on one line."""

from __future__ import annotations

import re

from ..brake import Section
from ..measure import Units, parse_length, show_length
from ..measure.input_error import InputError
from ..measure.words import tr

NARROWEST = 6.0
"""mm; no piece is narrower, so that a smaller figure is how many there are."""

MOST = 40
"""Pieces of one width; no rack has more, so that a larger figure is a width."""

UNIT = re.compile(r"""["'″′]|mm|cm|in""")


def read_pieces(text: str, units: Units) -> tuple[Section, ...]:
    """``4" × 5, 3" × 2, 1 1/2`` as pieces: a width, and how many after × or x; or first how many, where the unit stands behind.

    Raises:
        InputError: a width or a count that cannot be read, or two figures of which either may be the width; the message names it.
    """
    found: list[Section] = []
    for part in filter(None, (p.strip() for p in text.split(","))):
        width, _, count = (piece.strip() for piece in (part.partition("×") if "×" in part else part.partition("x")))
        if UNIT.search(count) and not UNIT.search(width):
            width, count = count, width
        number = count or "1"
        if not number.isdigit():
            raise InputError(tr("{part!r}: write a width, or a width × how many").format(part=part))
        if count and not UNIT.search(width) and _either_way(width, count, units):
            one, other = (show_length(parse_length(figure, units), units) for figure in (width, count))
            said = tr(
                "{part!r} may be {count} of {one} or {width} of {other}: put the unit behind the width, as {one} × {count}."
            )
            raise InputError(said.format(part=part, count=count, one=one, width=width, other=other))
        found.append(Section(width=parse_length(width, units), count=int(number)))
    return tuple(found)


def _either_way(width: str, count: str, units: Units) -> bool:
    """True where two bare figures may be a width and a count as well as a count and a width."""
    if not width.isdigit() or width == count:
        return False
    return int(width) <= MOST and parse_length(count, units) >= NARROWEST


def show_pieces(pieces: tuple[Section, ...], units: Units) -> str:
    """The pieces as :func:`read_pieces` reads them."""
    return ", ".join(show_length(p.width, units, mark=units.is_inch) + (f" × {p.count}" if p.count > 1 else "") for p in pieces)


def read_corners(text: str, units: Units) -> tuple[tuple[float, float], ...]:
    """``0, 0; 8, 10; …`` as corners (y, z), mm.

    Raises:
        InputError: a corner that is not two lengths.
    """
    found: list[tuple[float, float]] = []
    for corner in filter(None, (c.strip() for c in re.split(r"[;\n]", text))):
        parts = [p.strip() for p in corner.split(",")]
        if len(parts) != 2:
            raise InputError(
                tr("{corner!r}: a corner is two lengths, across and up, with a comma between").format(corner=corner)
            )
        found.append((parse_length(parts[0], units), parse_length(parts[1], units)))
    return tuple(found)
