"""A figure learnt in many places at once: what is known in one helps the next, few records lean on
the rule, many stand alone.

Any record's figure is the rule's for its place, and a part of its metal, of that in its thickness,
of its machine and tool, of sheet and machine together, of its delivery, and chance. Each part is
normal about nothing with a spread of its own; chance is Student's, so that one slip does not move
the rest. The parts follow by linear algebra, the weights by repeating it. See docs/theory.md for
how it was checked.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from .._typing import Array
from .book.record import BendRecord, StripRecord

NOISE_WEIGHT = 0.01
"""How many records the usual chance counts for against the book's own."""

FREEDOM = 4.0
"""Degrees of freedom of Student's t: the smaller, the less a slip counts."""

LEAST_FREEDOM = 2.0
"""Degrees of freedom with which chance is taken as known where there are only one or two records:
the usual chance stands behind them."""

ROUNDS = 60
"""Rounds of weighting; it stands still long before."""

NINETY = 1.645
"""Standard deviations to either side that hold 90 % of a normal distribution."""

ONE = 0.8413
"""Share of a distribution below its mean and one standard deviation of a normal one."""

TOLD = (FREEDOM + 1) / (FREEDOM + 3)
"""What one record tells where chance is Student's, against one with normal chance of that scale
(Fisher's information)."""

SAME_SHEET = 0.04
"""Share by which two sheets of one gauge may differ: half a gauge apart they do by more."""


@dataclass(frozen=True)
class BendContext:
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
    def of(cls, record: BendRecord | StripRecord) -> BendContext:
        """Where a record was made."""
        return cls(record.metal, record.thickness, record.machine, record.tool, record.lot)

    @property
    def groups(self) -> tuple[tuple[str, ...], ...]:
        """What it has in common with others: sheet and machine together first, then each by itself,
        the metal, and the delivery."""
        sheet, on = (self.metal, f"{self.thickness:.3f}"), (self.machine, self.tool)
        result: list[tuple[str, ...]] = [
            ("both", *sheet, *on),
            ("sheet", *sheet),
            ("machine", *on),
            ("metal", self.metal),
        ]
        if self.lot:
            result.append(("lot", *sheet, self.lot))
        return tuple(result)


Rule = Callable[[BendContext], float]
"""What is said of a place before there are records."""


@dataclass(frozen=True)
class Scales:
    """How far a figure commonly strays, in its own unit: by metal, by its thickness, by machine,
    both, delivery, and from one record to the next: commonly, and at the least, however alike the
    readings are."""

    metal: float
    sheet: float
    machine: float
    both: float
    lot: float
    noise: float
    least: float

    def spread(self, group: str) -> float:
        """Of one of the parts a figure is made of."""
        return float(getattr(self, group))


@dataclass(frozen=True)
class Sample:
    """One figure measured: the record it comes from, where, what, and how much it weighs against a
    plain one (0 to 1)."""

    id: str
    place: BendContext
    value: float
    weight: float = 1.0


@dataclass(frozen=True)
class Pooled:
    """What is known of a figure in one place.

    Attributes:
        mean: the figure.
        sd: to either side of the mean, holds the truth 68 times of 100.
        spread: the same of one more record, the mean's own included.
        rule: what is said without records.
        here: records of this very place; near: others that share its metal, its machine or its
            tool.
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
        """The interval that holds nine records of ten."""
        return self.mean - NINETY * self.spread, self.mean + NINETY * self.spread


def _alike(other: BendContext, place: BendContext) -> BendContext:
    """A place with sheet that is as thick as makes no difference counts as of the same
    thickness."""
    near = abs(other.thickness - place.thickness) <= SAME_SHEET * place.thickness
    return replace(other, thickness=place.thickness) if near else other


def pooled(
    samples: Sequence[Sample], place: BendContext, rule: Rule, scales: Scales, weight: float = 1.0
) -> Pooled:
    """What the records say of a figure in a place.

    Args:
        samples: figures measured, anywhere.
        place: what is asked about.
        rule: what is said without records.
        scales: how far the figure commonly strays.
        weight: what one more record in the place would weigh.
    """
    known: dict[BendContext, BendContext] = {}
    for sample in samples:
        if sample.place not in known:
            known[sample.place] = _alike(sample.place, place)
    places = [known[sample.place] for sample in samples]
    # Records of one place share their parts: groups and rule are looked up once for each.
    groups = {other: other.groups for other in set(places)}
    rules = {other: rule(other) for other in groups}
    mine, same = set(place.groups), place.groups[0]
    at_hand = {other: same in result for other, result in groups.items()}
    beside = {
        other: not at_hand[other] and bool(mine & set(result)) for other, result in groups.items()
    }
    here = [s.id for s, other in zip(samples, places, strict=True) if at_hand[other]]
    near = [s.id for s, other in zip(samples, places, strict=True) if beside[other]]
    base = rule(place)
    keys = list(dict.fromkeys([*place.groups, *(g for result in groups.values() for g in result)]))
    at = {key: i for i, key in enumerate(keys)}
    asked = np.zeros(len(keys))
    asked[[at[g] for g in place.groups]] = 1.0
    prior = np.array([1.0 / scales.spread(key[0]) ** 2 for key in keys])
    ids = (*here, *near)
    if not samples:
        sd = math.sqrt(float(asked @ (asked / prior)))
        return Pooled(base, sd, math.hypot(sd, scales.noise / math.sqrt(weight)), base, 0, 0, ids)
    rows = {other: [at[g] for g in result] for other, result in groups.items()}
    # Records of one place have the same parts: there are as many rows as places, and each record
    # says which is its.
    number = {other: i for i, other in enumerate(rows)}
    x = np.zeros((len(rows), len(keys)))
    for other, i in number.items():
        x[i, rows[other]] = 1.0
    which = np.array([number[other] for other in places])
    y = np.array([s.value - rules[other] for s, other in zip(samples, places, strict=True)])
    from scipy.special import stdtrit  # loaded when something is learnt: the window opens sooner

    given = np.array([s.weight for s in samples])
    mean, covariance, noise, freedom = _posterior(x, which, y, given, prior, scales)
    # What is asked of no delivery in particular may be of one that was never bent.
    strange = scales.lot**2 if not place.lot and any(other.lot for other in known.values()) else 0.0
    sd = math.sqrt(float(asked @ covariance @ asked) + strange)
    # One more record is as far off as Student's chance is, and chance itself is known from few
    # records only.
    one, nine = stdtrit(freedom, ONE), stdtrit(freedom, 0.95) / NINETY
    spread = nine * math.hypot(sd, noise * stdtrit(FREEDOM, 0.95) / NINETY / math.sqrt(weight))
    # A first record never makes anybody less sure than the rule alone.
    alone = math.sqrt(float(asked @ (asked / prior)) + strange)
    return Pooled(
        base + float(asked @ mean),
        min(float(one * sd), alone),
        float(spread),
        base,
        len(here),
        len(near),
        ids,
    )


def _posterior(
    x: Array, which: NDArray[np.intp], y: Array, given: Array, prior: Array, scales: Scales
) -> tuple[Array, Array, float, float]:
    """Mean (k,), covariance (k, k) of the parts, the scale of chance and its degrees of freedom, by
    weighting anew until it stands still.

    Args:
        x: (p, k) which parts the records of each place have.
        which: (n,) the place of each record.
        y: (n,) beyond the rule.
        given: (n,) how much each record tells: its chance has a variance that many times smaller.
        prior: (k,) one over the square of each part's spread.
        scales: how far chance commonly strays.
    """
    noise, weights = scales.noise, np.ones(len(y))
    mean, covariance = np.zeros(x.shape[1]), np.diag(1.0 / prior)
    known: Array = np.zeros(len(x))
    for _ in range(ROUNDS):
        each = weights * given / noise**2
        known, summed = (np.bincount(which, by, len(x)).astype(float) for by in (each, each * y))
        covariance = np.linalg.inv((x * known[:, None]).T @ x + np.diag(prior)).astype(float)
        mean = covariance @ (x.T @ summed)
        off = y - (x @ mean)[which]
        # Each record's own part in its mean is uncertain too; without it few would seem to have no
        # chance in them.
        unsure = ((x @ covariance) * x).sum(axis=1)
        squares = (off**2 + unsure[which]) * given
        weights = (FREEDOM + 1) / (FREEDOM + squares / noise**2)
        variance = (NOISE_WEIGHT * scales.noise**2 + float(weights @ squares)) / (
            NOISE_WEIGHT + len(y)
        )
        variance = max(variance, scales.least**2)
        if abs(math.sqrt(variance) - noise) < 1e-6:
            break
        noise = math.sqrt(variance)
    # What the parts took up of the records says nothing of chance any more.
    taken = float((((x @ covariance) * x).sum(axis=1) * known).sum())
    told = np.linalg.inv(TOLD * (x * known[:, None]).T @ x + np.diag(prior)).astype(float)
    return mean, told, noise, max(LEAST_FREEDOM, NOISE_WEIGHT + len(y) - taken)
