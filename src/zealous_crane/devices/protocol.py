"""Lines of the protocol, read and written."""

from __future__ import annotations

import math
import re
from enum import StrEnum

from ..measure.dataclass import dataclass

LONGEST = 200
"""Characters; a longer line is noise."""


class Word(StrEnum):
    """What a line begins with."""

    ANGLE = "ANGLE"
    SIZE = "SIZE"
    AT = "AT"
    REFUSED = "REFUSED"


@dataclass(frozen=True)
class Told:
    """What a device said.

    Attributes:
        word: what kind of line.
        value: degrees or mm; 0 for a refusal.
        why: of a refusal.
    """

    word: Word
    value: float = 0.0
    why: str = ""


_FIGURE = re.compile(r"[+-]?\d{1,9}(\.\d{1,9})?")


def read_line(line: str) -> Told | None:
    """A line as it came; None where it is not of the protocol.

    >>> read_line("ANGLE 88.5")
    Told(word=<Word.ANGLE: 'ANGLE'>, value=88.5, why='')
    """
    word, _, rest = line.strip().partition(" ")
    if len(line) > LONGEST or word not in tuple(Word):
        return None
    if word == Word.REFUSED:
        return Told(Word.REFUSED, why=rest.strip())
    if not _FIGURE.fullmatch(rest.strip()):
        return None
    value = float(rest)
    return Told(Word(word), value) if math.isfinite(value) else None


def go_line(distance: float) -> str:
    """The line that drives a stop to a distance, mm."""
    return f"GO {distance:.3f}\n"


STOP_LINE = "STOP\n"
"""The line that halts a stop."""


def reading_line(word: Word, value: float) -> str:
    """The line of a reading: ``ANGLE 88.50``, ``SIZE 25.12``, ``AT 68.257``."""
    return f"{word} {value:.3f}\n"
