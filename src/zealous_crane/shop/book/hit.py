"""The hits of one bend: stop, let go, measure, go on. Written into the book as one short text a person can read."""

from __future__ import annotations

import re
from collections.abc import Iterable
from enum import StrEnum

from ...measure.dataclass import dataclass
from ...measure.input_error import InputError
from ...measure.words import tr

LEAST_READ = 3.0
"""Degrees; a reading of less than this tells nothing of springback."""


PART = 0.5
"""Share of the variance between bends at 90° that is the sheet's own and not the reading's: it does not grow where a bend is shallow.
Common practice, no source."""


class Reading(StrEnum):
    """How a bend stood when it was read, as it is written behind a hit."""

    RELEASED = ""
    HELD = "~"
    """The leaf or the ram had not let go yet."""
    BY_HAND = "h"
    """The hand had gone on where the brake stopped."""


@dataclass(frozen=True)
class Hit:
    """One hit of a bend and what came of it.

    Attributes:
        stop: degrees the brake was stopped at, from flat.
        left, right: degrees read at the two ends, from flat; the same where one reading was taken.
        reading: how the bend stood when it was read.
    """

    stop: float
    left: float
    right: float
    reading: Reading = Reading.RELEASED

    @property
    def got(self) -> float:
        """Mean of both ends, degrees."""
        return (self.left + self.right) / 2

    @property
    def teaches(self) -> bool:
        """True when it says something of springback: let go, by the brake alone, and bent far enough to be read."""
        return self.reading is Reading.RELEASED and self.got >= LEAST_READ

    @property
    def text(self) -> str:
        """``92>88.4`` or ``92>88/89``, with the mark of its reading."""
        ends = f"{self.left:.6g}" if self.left == self.right else f"{self.left:.6g}/{self.right:.6g}"
        return f"{self.stop:.6g}>{ends}{self.reading.value}"


_HIT = re.compile(r"([\d.]+)>([\d.]+)(?:/([\d.]+))?([~h]?)")


def hits_text(hits: Iterable[Hit]) -> str:
    """Hits in order, as the book has them."""
    return " ".join(hit.text for hit in hits)


def read_hits(text: str) -> tuple[Hit, ...]:
    """Hits of a text of :func:`hits_text`.

    Raises:
        InputError: a hit that is none.
    """
    found = []
    for word in text.split():
        match = _HIT.fullmatch(word)
        if match is None:
            raise InputError(tr("{word!r} is no hit; write stop>angle, such as 92>88.4").format(word=word))
        left = float(match[2])
        found.append(Hit(float(match[1]), left, left if match[3] is None else float(match[3]), Reading(match[4])))
    return tuple(found)


def springback_at_90(hits: Iterable[Hit]) -> tuple[float, float] | None:
    """Springback that the hits of one bend show, degrees at 90°, and how much it weighs against a reading at 90°.

    Springback is taken in proportion to the angle: least squares of what each hit came back by against the angle it stands at. A
    reading is as uncertain at any angle, so a shallow bend tells less.

    Returns:
        None where no hit teaches anything.
    """
    taught = [(hit.stop, hit.got) for hit in hits if hit.teaches]
    if not taught:
        return None
    squares = sum(got * got for _, got in taught)
    weight = 1 / (PART + (1 - PART) * 90.0**2 / squares)
    return 90.0 * sum((stop - got) * got for stop, got in taught) / squares, min(1.0, weight)
