"""From the parts of a work to rectangles on sheets, metal by metal."""

from __future__ import annotations

from collections.abc import Sequence

import shapely
import shapely.affinity

from ..blank import Blank as Flat
from ..blank import flat_for
from ..brake import Rack
from ..job import Job
from ..measure.dataclass import dataclass
from ..measure.words import tr
from ..metal import Sheet
from .piece import Blank

ODD = 0.8
"""Share of its rectangle below which a part is odd enough to be laid head to foot with another."""

PAIRED = 0.97
"""Of two rectangles' length: more than this and nothing is gained."""

LEAST_GAIN = 1e-3
"""Of a part's length; two that come nearer by less gain nothing."""

SNIPS = 1.0
"""mm between two parts that are cut apart with snips."""


@dataclass(frozen=True)
class Lot:
    """The blanks of one metal at one thickness.

    Attributes:
        metal, thickness: key; mm.
        name: as the sheet is called.
        blanks: what is wanted of it.
        weight: of all of them, kg.
        sheet: the metal and its thickness.
    """

    metal: str
    thickness: float
    name: str
    blanks: tuple[Blank, ...]
    weight: float
    sheet: Sheet

    @property
    def longest(self) -> float:
        """Longest side of any blank, mm."""
        return max(max(b.length, b.width) for b in self.blanks)

    def mass_of(self, area: float) -> float:
        """What so much of the sheet (mm²) weighs, kg."""
        return area * self.thickness * self.sheet.metal.density * 1e-9


def lots(jobs: Sequence[Job], rack: Rack) -> tuple[Lot, ...]:
    """The blanks of a work's parts, by metal and thickness, each as often as its part is made.

    A part whose grain is given lies so that it runs as asked; film, paint or engraving keep their face, since nothing is turned over.

    Args:
        jobs: the parts.
        rack: the brakes of the shop; each part's flat is that of its own brake.

    Raises:
        DevelopmentError: a part cannot be laid flat.
    """
    found: dict[tuple[str, float], list[Blank]] = {}
    sheets: dict[tuple[str, float], Sheet] = {}
    weights: dict[tuple[str, float], float] = {}
    for job in jobs:
        blank = flat_for(job, rack.find(job.brake))
        key = job.metal, round(job.sheet.thickness, 4)
        length, width = blank.sheared
        # The grain of a sheet runs along its length: a part that asks for it lies one way and is not turned.
        if job.grain == "across":
            length, width = width, length
        found.setdefault(key, []).extend(_blanks(job, blank, length, width))
        sheets.setdefault(key, job.sheet)
        weights[key] = (
            weights.get(key, 0.0) + job.quantity * length * width * job.sheet.thickness * job.sheet.metal.density * 1e-9
        )
    return tuple(
        Lot(metal, thickness, sheets[metal, thickness].name, tuple(blanks), weights[metal, thickness], sheets[metal, thickness])
        for (metal, thickness), blanks in found.items()
    )


def _blanks(job: Job, flat: Flat, length: float, width: float) -> list[Blank]:
    """The rectangles a part is cut from: one each, or two slanted ones head to foot in one where that takes less."""
    turns = job.grain is None
    single = Blank(job.name, length, width, job.quantity, turns)
    if job.quantity < 2 or flat.trim or job.film is not None or flat.outline.area > ODD * length * width:
        return [single]
    both = paired_length(flat)
    if both is None or both > PAIRED * 2 * flat.size[0]:
        return [single]
    sides = (both, flat.size[1]) if job.grain != "across" else (flat.size[1], both)
    found = [Blank(tr("{name}, two head to foot").format(name=job.name), *sides, job.quantity // 2, turns)]
    return [*found, Blank(job.name, length, width, 1, turns)] if job.quantity % 2 else found


def paired_length(flat: Flat) -> float | None:
    """How long (mm) a rectangle as wide as a part is that holds two of them, one turned half round; None when that gains nothing.

    Both are cut from it with snips, half the room a cut needs between them.
    """
    shape = shapely.Polygon(flat.outline.flattened())
    length, width = flat.size
    other = shapely.affinity.rotate(shape, 180, origin=(length / 2, width / 2))
    low, high = 0.0, length
    for _ in range(40):
        middle = (low + high) / 2
        clear = shape.intersection(shapely.affinity.translate(other, middle, 0)).area < 1e-3
        low, high = (low, middle) if clear else (middle, high)
    # Nearer than where they first touch they may be apart again; what counts is that nothing meets from there on.
    return None if high >= length * (1 - LEAST_GAIN) else length + high + SNIPS
