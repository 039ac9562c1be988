"""What the book teaches of springback: known from one brake helps the next, few bends lean on the handbook, many stand alone.

The model, and how it was checked, is written down in docs/theory.md.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ..measure.words import tr
from .book import BendRecord

Array = NDArray[np.floating]

METAL, MACHINE, BOTH, LOT = 1.5, 1.0, 0.6, 0.4
"""Degrees at 90° by which a metal of one thickness, a machine with its tool, the two together, and a delivery commonly differ from what
the handbook says. Common practice, no source."""

NOISE = 0.5
"""Degrees one bend differs from the next when nothing is changed. Common practice, no source; the book's own bends move it."""

NOISE_WEIGHT = 6.0
"""How many bends :data:`NOISE` counts for against the book's own."""

FREEDOM = 4.0
"""Degrees of freedom of Student's t: the smaller, the less a slip counts."""

ROUNDS = 25
"""Rounds of weighting; it stands still long before."""

NINETY = 1.645
"""Standard deviations to either side that hold 90 % of a normal distribution."""

SAME_SHEET = 0.04
"""Share by which two sheets of one gauge may differ: half a gauge apart they do by more."""

FAR = 45.0
"""Degrees at 90°; a record that says more was typed wrong."""


@dataclass(frozen=True)
class Place:
    """Where a bend is made: the metal and its thickness, the machine and its tool, the delivery.

    Attributes:
        metal, thickness: key; mm.
        machine, tool: key of the brake; punch and die, or what is out of the ordinary.
        lot: which delivery; empty when nobody said.
    """

    metal: str
    thickness: float
    machine: str
    tool: str = ""
    lot: str = ""

    @classmethod
    def of(cls, record: BendRecord) -> Place:
        """Where a bend in the book was made."""
        return cls(record.metal, record.thickness, record.machine, record.tool, record.lot)

    @property
    def groups(self) -> tuple[tuple[str, ...], ...]:
        """What it has in common with others: metal and thickness, machine and tool, both, and the delivery."""
        sheet, on = (self.metal, f"{self.thickness:.3f}"), (self.machine, self.tool)
        found: list[tuple[str, ...]] = [("metal", *sheet), ("machine", *on), ("both", *sheet, *on)]
        if self.lot:
            found.append(("lot", *sheet, self.lot))
        return tuple(found)


SPREADS = {"metal": METAL, "machine": MACHINE, "both": BOTH, "lot": LOT}

Rule = Callable[[Place], float]
"""What the handbook says of a place, degrees at 90°."""


@dataclass(frozen=True)
class Learnt:
    """What is known of the springback in one place.

    Attributes:
        mean: degrees at 90°.
        sd: standard deviation of the mean.
        spread: standard deviation of one bend from the next, the mean's own included.
        rule: what the handbook says.
        here: bends measured in this very place; near: others that share its metal, its machine or its tool.
        ids: the records behind it, those of the place first.
    """

    mean: float
    sd: float
    spread: float
    rule: float
    here: int
    near: int
    ids: tuple[str, ...]

    @property
    def within(self) -> tuple[float, float]:
        """The interval that holds nine bends of ten, degrees at 90°."""
        return self.mean - NINETY * self.spread, self.mean + NINETY * self.spread

    def text(self) -> str:
        """Mean, spread, count and where it comes from: ``2.8° ± 0.5, 9 bends here, 4 nearby``."""
        if not self.here and not self.near:
            return tr("{mean:.1f}° by the handbook, no bends yet").format(mean=self.mean)
        return tr("{mean:.1f}° ± {sd:.1f}, {here} bends here, {near} nearby").format(
            mean=self.mean, sd=self.sd, here=self.here, near=self.near
        )

    def stop(self, angle: float) -> float:
        """Where to stop for an angle wanted after release, degrees."""
        return angle + self.mean * angle / 90.0


def _alike(other: Place, place: Place) -> Place:
    """A place with sheet that is as thick as makes no difference counts as of the same thickness."""
    near = abs(other.thickness - place.thickness) <= SAME_SHEET * place.thickness
    return replace(other, thickness=place.thickness) if near else other


def learn(records: Sequence[BendRecord], place: Place, rule: Rule) -> Learnt:
    """What the bends of the book say of a place.

    A bend's springback at 90° is the handbook's for its place, and a part of its metal and thickness, of its machine and tool, of the two
    together, of its delivery, and chance. Each part is normal about nothing with a spread of its own; chance is Student's, so that one
    slip does not move the rest. The parts follow by linear algebra, the weights by repeating it.

    Args:
        records: bends with an angle measured; others are passed over.
        place: what is asked about.
        rule: the handbook.
    """
    used = [r for r in records if r.got is not None and abs(r.springback or 0.0) <= FAR]
    at_place: dict[tuple[object, ...], Place] = {}
    places: list[Place] = []
    for r in used:
        key = (r.metal, r.thickness, r.machine, r.tool, r.lot)
        if key not in at_place:
            at_place[key] = _alike(Place.of(r), place)
        places.append(at_place[key])
    # Bends of one place share their parts: groups and rule are looked up once for each.
    groups = {other: other.groups for other in set(places)}
    rules = {other: rule(other) for other in groups}
    mine, same = set(place.groups), place.groups[2]
    at_hand = {other: same in found for other, found in groups.items()}
    beside = {other: not at_hand[other] and bool(mine & set(found)) for other, found in groups.items()}
    here = [r for r, other in zip(used, places, strict=True) if at_hand[other]]
    near = [r for r, other in zip(used, places, strict=True) if beside[other]]
    base = rule(place)
    keys = list(dict.fromkeys([*place.groups, *(g for found in groups.values() for g in found)]))
    at = {key: i for i, key in enumerate(keys)}
    asked = np.zeros(len(keys))
    asked[[at[g] for g in place.groups]] = 1.0
    prior = np.array([1.0 / SPREADS[key[0]] ** 2 for key in keys])
    ids = tuple(r.id for r in (*here, *near))
    if not used:
        sd = math.sqrt(float(asked @ (asked / prior)))
        return Learnt(base, sd, math.hypot(sd, NOISE), base, 0, 0, ids)
    rows = {other: [at[g] for g in found] for other, found in groups.items()}
    x = np.zeros((len(used), len(keys)))
    for i, other in enumerate(places):
        x[i, rows[other]] = 1.0
    y = np.array([(r.springback or 0.0) - rules[other] for r, other in zip(used, places, strict=True)])
    mean, covariance, noise = _posterior(x, y, prior)
    sd = math.sqrt(float(asked @ covariance @ asked))
    return Learnt(base + float(asked @ mean), sd, math.hypot(sd, noise), base, len(here), len(near), ids)


def _posterior(x: Array, y: Array, prior: Array) -> tuple[Array, Array, float]:
    """Mean (k,), covariance (k, k) of the parts, and the spread of chance, by weighting anew until it stands still.

    Args:
        x: (n, k) which parts each bend has.
        y: (n,) degrees beyond the handbook.
        prior: (k,) one over the square of each part's spread.
    """
    noise, weights = NOISE, np.ones(len(y))
    mean, covariance = np.zeros(x.shape[1]), np.diag(1.0 / prior)
    for _ in range(ROUNDS):
        weighted = x * (weights / noise**2)[:, None]
        covariance = np.linalg.inv(weighted.T @ x + np.diag(prior))
        mean = covariance @ (weighted.T @ y)
        off = y - x @ mean
        # Each bend's own part in its mean is uncertain too; without it few bends would seem to have no chance in them.
        unsure = np.einsum("ij,jk,ik->i", x, covariance, x)
        squares = off**2 + unsure
        weights = (FREEDOM + 1) / (FREEDOM + squares / noise**2)
        variance = (NOISE_WEIGHT * NOISE**2 + float(weights @ squares)) / (NOISE_WEIGHT + len(y))
        if abs(math.sqrt(variance) - noise) < 1e-6:
            break
        noise = math.sqrt(variance)
    # Weighted so, chance is wider than its scale: by the ratio of Student's spread to it.
    return mean, covariance, noise * math.sqrt(FREEDOM / (FREEDOM - 2)) if FREEDOM > 2 else noise
