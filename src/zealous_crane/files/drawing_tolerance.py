"""General tolerances as a drawing's text gives them: a class of ISO 2768-1, or plus and minus so much."""

from __future__ import annotations

import re
from collections.abc import Iterable

from ..job import SizesClass
from ..measure import INCH, LengthError, Units, parse_length, show_length
from ..measure.dataclass import dataclass
from ..measure.words import tr

_CLASS = re.compile(r"ISO\s*2768(?:\s*[-–]\s*1)?\s*[-–\s]\s*([fmcv])(?:[HKL])?\b", re.IGNORECASE)
_GENERAL = re.compile(r"toleran|\btol\b|unless|general|all\s+dim|otherwise", re.IGNORECASE)
_EITHER_WAY = re.compile(
    r"(?:±|%%p|\+\s*/?\s*-)\s*([0-9]+(?:\s+[0-9]+/[0-9]+|/[0-9]+|[.,][0-9]+)?)\s*(°|%%d|deg|mm|in\b|\")?", re.IGNORECASE
)

LARGEST, MOST_DEGREES = 20.0, 10.0
"""mm and degrees; a general tolerance wider than that was read wrong."""


@dataclass(frozen=True)
class GeneralTolerance:
    """What a drawing asks of all sizes that say nothing of their own.

    Attributes:
        within: mm either way; None where it does not say.
        degrees: either way; None where it does not say.
        sizes_class: of ISO 2768-1; None where it names none.
    """

    within: float | None = None
    degrees: float | None = None
    sizes_class: SizesClass | None = None

    @property
    def fields(self) -> dict[str, object]:
        """Fields of a job that ask the same."""
        found = {"sizes_within": self.within, "tolerance": self.degrees, "sizes_class": self.sizes_class}
        return {name: value for name, value in found.items() if value is not None}

    def says(self) -> str:
        """What was read, in a sentence; empty where nothing was."""
        parts = [
            *([tr("ISO 2768-1 class {name}").format(name=self.sizes_class)] if self.sizes_class else []),
            *([tr("sizes ± {within}").format(within=show_length(self.within, Units.MM))] if self.within else []),
            *([tr("angles ± {degrees:g}°").format(degrees=self.degrees)] if self.degrees else []),
        ]
        return tr("General tolerance, from the drawing's text: {parts}.").format(parts=", ".join(parts)) if parts else ""


def general_tolerance(texts: Iterable[str], *, inches: bool) -> GeneralTolerance:
    """The general tolerance among a drawing's texts. A figure that stands by some size says nothing of the others: only what speaks of
    tolerance is taken.

    Args:
        texts: every text of the drawing.
        inches: what a bare figure means there.
    """
    within = degrees = named = None
    for text in texts:
        found = _CLASS.search(text)
        if found:
            named = found[1].lower()
        if not (found or _GENERAL.search(text)):
            continue
        for figure, unit in _EITHER_WAY.findall(text):
            kind = unit.lower()
            try:
                value = parse_length(figure, Units.DECIMAL) / INCH
            except LengthError:
                continue
            if kind in ("°", "%%d", "deg"):
                degrees = value if 0 < value <= MOST_DEGREES else degrees
            else:
                size = value * (INCH if kind in ("in", '"') or (not kind and inches) else 1.0)
                within = size if 0 < size <= LARGEST else within
    return GeneralTolerance(within, degrees, named)  # type: ignore[arg-type]
