"""Simulated shops: metals, machines and hands whose truth is known."""

from __future__ import annotations

import math
import random
from dataclasses import dataclass, field

from zealous_crane.shop.book.record import BendRecord
from zealous_crane.shop.hierarchical_fit import BendContext

METALS = (("galvanized", 0.55), ("aluminium-5052", 0.8), ("stainless", 0.9))
MACHINES = ("apiary-finger-50", "bench-finger-1000")


def handbook(place: BendContext) -> float:
    """What the book's rule would say: 2° for anything."""
    return 2.0


@dataclass
class Shop:
    """A shop whose springback differs from the handbook by metal, machine and both; bends scatter,
    and some are slips."""

    seed: int
    noise: float = 0.5
    slips: float = 0.03
    parts: dict = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.rng = random.Random(self.seed)

    def part(self, key, spread):
        return self.parts.setdefault(key, self.rng.gauss(0, spread))

    def truth(self, place: BendContext) -> float:
        sheet, on = (place.metal, place.thickness), (place.machine, place.tool)
        return (
            handbook(place)
            + self.part(("m", *sheet), 1.5)
            + self.part(("t", *on), 1.0)
            + self.part(("b", *sheet, *on), 0.6)
        )

    def bend(self, place: BendContext, angle=90.0, stop=None) -> BendRecord:
        stop = angle + handbook(place) * angle / 90 if stop is None else stop
        # The sheet scatters in proportion to the angle, the reading does not; together they make
        # the noise.
        own, read = (self.rng.gauss(0, self.noise * math.sqrt(0.5)) for _ in range(2))
        back = stop - stop / (1 + (self.truth(place) + own) / 90) + read
        if self.rng.random() < self.slips:
            back += self.rng.choice([-1, 1]) * self.rng.uniform(4, 10)
        return BendRecord(
            metal=place.metal,
            thickness=place.thickness,
            machine=place.machine,
            tool=place.tool,
            angle=angle,
            stop=stop,
            got=max(0.5, stop - back),
        )
