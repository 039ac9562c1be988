"""From the parts of a work to rectangles on sheets, metal by metal."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..blank import develop
from ..job import Job
from .piece import Blank


@dataclass(frozen=True)
class Lot:
    """The blanks of one metal at one thickness.

    Attributes:
        metal, thickness: key; mm.
        name: as the sheet is called.
        blanks: what is wanted of it.
        weight: of all of them, kg.
    """

    metal: str
    thickness: float
    name: str
    blanks: tuple[Blank, ...]
    weight: float


def lots(jobs: Sequence[Job]) -> tuple[Lot, ...]:
    """The blanks of a work's parts, by metal and thickness, each as often as its part is made.

    A part with film, paint or engraving on one face keeps its way on the sheet: what is turned over would show the other.

    Raises:
        DevelopmentError: a part cannot be laid flat.
    """
    found: dict[tuple[str, float], list[Blank]] = {}
    names: dict[tuple[str, float], str] = {}
    weights: dict[tuple[str, float], float] = {}
    for job in jobs:
        blank = develop(job)
        key = job.metal, round(job.sheet.thickness, 4)
        length, width = blank.size
        found.setdefault(key, []).append(Blank(job.name, length, width, job.quantity))
        names.setdefault(key, job.sheet.name)
        weights[key] = (
            weights.get(key, 0.0) + job.quantity * length * width * job.sheet.thickness * job.sheet.metal.density * 1e-9
        )
    return tuple(
        Lot(metal, thickness, names[metal, thickness], tuple(blanks), weights[metal, thickness])
        for (metal, thickness), blanks in found.items()
    )
