"""Pieces and corners of a tool as a person writes them on one line."""

from __future__ import annotations

import re

from ..brake import Section
from ..measure import Units, parse_length, show_length
from ..measure.input_error import InputError
from ..measure.words import tr


def read_pieces(text: str, units: Units) -> tuple[Section, ...]:
    """``4 × 5, 3 × 2, 1`` as pieces: a width, and how many after × or x.

    Raises:
        InputError: a width or a count that cannot be read; the message names it.
    """
    found: list[Section] = []
    for part in filter(None, (p.strip() for p in text.split(","))):
        width, _, count = part.partition("×") if "×" in part else part.partition("x")
        number = count.strip() or "1"
        if not number.isdigit():
            raise InputError(tr("{part!r}: write a width, or a width × how many").format(part=part))
        found.append(Section(width=parse_length(width.strip(), units), count=int(number)))
    return tuple(found)


def show_pieces(pieces: tuple[Section, ...], units: Units) -> str:
    """The pieces as :func:`read_pieces` reads them."""
    return ", ".join(show_length(p.width, units, mark=False) + (f" × {p.count}" if p.count > 1 else "") for p in pieces)


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
