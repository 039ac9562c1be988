"""What explains the sizes that were measured: which bend, line or cut was off, with odds, and what
to measure next.

Near the wanted part sizes and angles are linear in small faults: measured − wanted = J · off +
noise. Every hypothesis is one fault, or two, that went wrong by more than the shop's usual spread;
all others are off by no more than usual. Its odds are its prior times the probability of the
figures under it, a normal density (docs/theory.md).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from .._typing import Array
from ..cache import cached
from ..errors import InputError
from ..flat.blank import Blank
from ..flat.element import MadeBy
from ..flat.ruler import NEAREST, Striking
from .measures import FLAT, LONG
from .model import Cause, Measure, Model, Off, What

USUAL = {
    Off.ANGLE: 0.5,
    Off.STOPS: 0.4,
    Off.ENDS: 0.25,
    Off.LINE: 0.15,
    Off.ALLOWANCE: 0.06,
    Off.CUT: 0.2,
    Off.SQUARE: 0.3,
    Off.SHEET: 0.02,
    Off.READ: 0.0,
    Off.SIDE: 0.0,
}
"""Spread (standard deviation, degrees or mm) of work that went well; allowance and sheet in
thicknesses. Common practice, no source."""

WRONG = {
    Off.ANGLE: 4.0,
    Off.STOPS: 4.0,
    Off.ENDS: 2.0,
    Off.LINE: 2.5,
    Off.ALLOWANCE: 0.6,
    Off.CUT: 2.5,
    Off.SQUARE: 3.0,
    Off.SHEET: 0.25,
    Off.READ: 60.0,
    Off.SIDE: 1.0,
}
"""Spread of work that went wrong, in the same units."""

SHARE = {
    Off.ANGLE: 0.25,
    Off.STOPS: 0.2,
    Off.ENDS: 0.1,
    Off.LINE: 0.2,
    Off.ALLOWANCE: 0.12,
    Off.CUT: 0.1,
    Off.SQUARE: 0.05,
    Off.SHEET: 0.03,
    Off.READ: 0.06,
    Off.SIDE: 0.03,
}
"""How often each kind of fault is the one when something is wrong; shared among the folds, the
axes. Common practice, no source."""

SOMETHING_WRONG = 0.4
"""How often a part that is measured has anything wrong."""

TWO = 0.08
"""How often a second thing is wrong when one is."""

READ = {What.ANGLE: 0.35, What.SHEET: 0.01}
READ_LENGTH = 0.15
"""What a measure is read to: degrees with a protractor, mm with caliper or rule. Common practice,
no source."""

SLIPS = (Off.READ, Off.SIDE)
"""What is wrong with figures, not with the part."""

LEAST_ODDS = 0.05
"""Odds below which a cause is not named."""

LEAST_TURN, LEAST_LENGTH = 0.1, 0.05
"""Degrees and mm below which nothing is worth saying."""

CERTAIN = 0.9
"""Odds from which a cause is said to be the one."""

PARALLEL = 0.985
"""Cosine from which two causes look the same in what was measured."""

TOP = 24
"""Single causes that are tried in pairs: those the figures speak for most."""

HOLE_OF_ITS_OWN = 0.3
"""mm; a hole's own place is off by this much without anything being wrong."""


@dataclass(frozen=True)
class Explanation:
    """One cause and how likely it is.

    Attributes:
        cause: what was off.
        by: by how much, best guess, mm or degrees.
        odds: 0 to 1: that it was more than usually off. Of all that is listed, and of nothing being
            wrong, they add up to no more than 1: what is explained by a cause that stands before it
                is not counted again.
        also: what most likely was off with it, and by how much.
    """

    cause: Cause
    by: float
    odds: float
    also: tuple[tuple[Cause, float], ...] = ()


@dataclass(frozen=True)
class FurtherMeasure:
    """A measure that would tell causes apart that look the same so far.

    Attributes:
        measure: what to measure.
        between: the causes.
        expected: what it would then be off by under each, mm or degrees.
    """

    measure: Measure
    between: tuple[Cause, ...]
    expected: tuple[float, ...]


@dataclass(frozen=True)
class Explained:
    """What the figures say.

    Attributes:
        fine: odds that nothing is wrong beyond the usual.
        causes: likely causes, most likely first; none below one in twenty.
        question: what to measure next; None where one cause stands out, or nothing would tell more.
        alike: causes nothing measured so far can tell from the first.
        left: what the best explanation leaves of each measure, mm or degrees, in their order.
    """

    fine: float
    causes: tuple[Explanation, ...]
    question: FurtherMeasure | None
    alike: tuple[Cause, ...]
    left: tuple[float, ...]

    @property
    def certain(self) -> Explanation | None:
        """The one cause, where there is no doubt."""
        first = self.causes[0] if self.causes else None
        return first if first is not None and first.odds >= CERTAIN and not self.alike else None


def causes_of(blank: Blank) -> tuple[Cause, ...]:
    """Everything that may have been off with a part."""
    formed = [
        i for i, f in enumerate(blank.folds) if f.made_by is MadeBy.BRAKE and abs(f.angle) < FLAT
    ]
    result = [Cause(Off.ANGLE, i) for i in formed]
    result += [Cause(Off.LINE, i) for i in formed]
    # A hem that was caught short, or too deep, makes its wall longer or shorter.
    walls = {blank.folds[i].child for i in formed}
    result += [
        Cause(Off.LINE, i)
        for i, f in enumerate(blank.folds)
        if f.made_by is MadeBy.HEM and f.parent in walls
    ]
    result += [Cause(Off.ENDS, i) for i in formed if blank.folds[i].length > LONG]
    if len(formed) > 1:
        result.append(Cause(Off.STOPS))
    if formed:
        result.append(Cause(Off.ALLOWANCE))
        result.append(Cause(Off.SHEET))
    return (*result, Cause(Off.CUT, axis=0), Cause(Off.CUT, axis=1), Cause(Off.SQUARE))


@cached(8, lasts=True)
def slopes_of(blank: Blank, measures: tuple[Measure, ...], striking: Striking = NEAREST) -> Array:
    """(n, m) how much every measure changes for one mm or degree of every cause of
    :func:`causes_of`.

    Kept for the last few parts: they are asked for at every figure that is typed.

    Args:
        blank: the flat.
        measures: what can be measured.
        striking: what lines are struck from.
    """
    return Model(blank, striking).slopes(measures, causes_of(blank))


def explain(
    blank: Blank,
    measures: tuple[Measure, ...],
    measured: dict[str, float],
    striking: Striking = NEAREST,
    usual: dict[Off, float] | None = None,
    slopes: Array | None = None,
) -> Explained:
    """What most likely made a part come out as it was measured.

    Args:
        blank: the part as it is wanted.
        measures: everything that could be measured on it.
        measured: what was, by key, mm or degrees.
        striking: what its lines were struck from.
        usual: the shop's own spreads, degrees or mm, where they are known.
        slopes: those of :func:`slopes_of`, where they are known.

    Raises:
        InputError: a key that is no measure of this part, or nothing measured.
    """
    by_key = {measure.key: measure for measure in measures}
    unknown = sorted(set(measured) - set(by_key))
    if unknown or not measured:
        raise InputError(unknown[0] if unknown else "")
    taken = tuple(measure for measure in measures if measure.key in measured)
    model, causes = Model(blank, striking), causes_of(blank)
    every = slopes_of(blank, measures, striking) if slopes is None else slopes
    rows = [measures.index(measure) for measure in taken]
    wanted = model.values(taken, {})
    off = np.array([measured[m.key] for m in taken]) - wanted
    slips, more = _slips(measures, rows, blank.thickness)
    causes, every = (*causes, *slips), np.hstack([every, more])
    t = blank.thickness
    spread, wrong = _spreads(causes, t, usual or {}), _wrong(causes, t)
    noise = np.array([_read(m) for m in taken])
    return _Weighed(causes, every, rows, off, spread, wrong, noise, measures).explained()


FACES = {What.LEG: -1.0, What.APEX: -1.0, What.OUTSIDE: -2.0, What.INSIDE: 2.0}
"""Thicknesses by which a size comes out otherwise when it is read to the other face of the
sheet."""


def _slips(
    measures: tuple[Measure, ...], rows: list[int], thickness: float
) -> tuple[tuple[Cause, ...], Array]:
    """What may be wrong with the figures alone: each misread by itself, all lengths read to the
    wrong face; and how each of all measures changes by it, (n, k)."""
    slips = [Cause(Off.READ, measure=measures[row]) for row in rows]
    columns = np.zeros((len(measures), len(slips)))
    columns[rows, range(len(rows))] = 1.0
    faced = [row for row in rows if measures[row].what in FACES]
    if len(faced) < 2:
        return tuple(slips), columns
    side = np.zeros((len(measures), 1))
    side[faced, 0] = [
        FACES[measures[row].what] * thickness * (-1 if measures[row].within else 1) for row in faced
    ]
    return (*slips, Cause(Off.SIDE)), np.hstack([columns, side])


def _nothing(cause: Cause, by: float) -> bool:
    """True where a cause is off by no more than anybody would say."""
    return abs(by) < (LEAST_TURN if cause.in_degrees else LEAST_LENGTH)


def read_to(measure: Measure) -> float:
    """What a measure is read to, mm or degrees."""
    return READ.get(measure.what, READ_LENGTH)


def _read(measure: Measure) -> float:
    own = HOLE_OF_ITS_OWN if measure.what is What.HOLE else 0.0
    return math.hypot(read_to(measure), own)


def _spreads(causes: tuple[Cause, ...], t: float, usual: dict[Off, float]) -> Array:
    return np.array([_scaled(USUAL | usual, cause, t) for cause in causes])


def _wrong(causes: tuple[Cause, ...], t: float) -> Array:
    return np.array([_scaled(WRONG, cause, t) for cause in causes])


def _scaled(table: dict[Off, float], cause: Cause, t: float) -> float:
    return table[cause.off] * (t if cause.off in (Off.ALLOWANCE, Off.SHEET) else 1.0)


def promised(
    blank: Blank,
    measures: tuple[Measure, ...],
    striking: Striking = NEAREST,
    usual: dict[Off, float] | None = None,
) -> Array:
    """(n,) half width of the range nine parts in ten come out in, mm or degrees, when all goes as
    usual in this shop.

    Args:
        blank: the flat.
        measures: what can be measured.
        striking: what lines are struck from.
        usual: the shop's own spreads, degrees or mm.
    """
    causes, slopes = causes_of(blank), slopes_of(blank, measures, striking)
    spread = _spreads(causes, blank.thickness, usual or {})
    own = np.array([HOLE_OF_ITS_OWN if m.what is What.HOLE else 0.0 for m in measures])
    result: Array = 1.645 * np.sqrt(((slopes * spread) ** 2).sum(axis=1) + own**2)
    return result


@dataclass(frozen=True, eq=False)
class _Weighed:
    """The figures, and every hypothesis weighed against them."""

    causes: tuple[Cause, ...]
    every: Array
    rows: list[int]
    off: Array
    spread: Array
    wrong: Array
    noise: Array
    measures: tuple[Measure, ...]

    def explained(self) -> Explained:
        slopes = self.every[self.rows]
        usual = (slopes * self.spread**2) @ slopes.T + np.diag(self.noise**2)
        prior = self._priors()
        seen = np.abs(slopes).max(axis=0) > 1e-6
        sets: list[tuple[int, ...]] = [()]
        logs = [math.log(1 - SOMETHING_WRONG) + self._log(usual)]
        singles = []
        for k in np.nonzero(seen)[0].tolist():
            log = math.log(SOMETHING_WRONG * (1 - TWO) * prior[k]) + self._log(
                self._with(usual, slopes, (k,))
            )
            sets.append((k,))
            logs.append(log)
            singles.append((log, k))
        best = [k for _, k in sorted(singles, reverse=True)[:TOP]]
        total = sum(prior[i] * prior[j] for i, j in combinations(best, 2)) or 1.0
        for i, j in combinations(best, 2):
            share = prior[i] * prior[j] / total
            sets.append((i, j))
            logs.append(
                math.log(SOMETHING_WRONG * TWO * share)
                + self._log(self._with(usual, slopes, (i, j)))
            )
        odds = np.exp(np.array(logs) - max(logs))
        odds /= odds.sum()
        return self._gathered(sets, odds, slopes, usual)

    def _priors(self) -> dict[int, float]:
        count = {off: sum(c.off is off for c in self.causes) for off in Off}
        weights = {k: SHARE[cause.off] / count[cause.off] for k, cause in enumerate(self.causes)}
        total = sum(weights.values())
        return {k: w / total for k, w in weights.items()}

    def _with(self, usual: Array, slopes: Array, wrong: tuple[int, ...]) -> Array:
        more = usual
        for k in wrong:
            more = more + np.outer(slopes[:, k], slopes[:, k]) * (self.wrong[k] ** 2)
        return more

    def _log(self, cover: Array) -> float:
        sign, size = np.linalg.slogdet(cover)
        return (
            float(-0.5 * (size + self.off @ np.linalg.solve(cover, self.off)))
            if sign > 0
            else -math.inf
        )

    def _gathered(
        self, sets: list[tuple[int, ...]], odds: Array, slopes: Array, usual: Array
    ) -> Explained:
        each = {k: 0.0 for k in range(len(self.causes))}
        for hypothesis, odd in zip(sets, odds.tolist(), strict=True):
            for k in hypothesis:
                each[k] += odd
        order = sorted((k for k in each if each[k] >= LEAST_ODDS), key=lambda k: -each[k])
        top = max(range(len(sets)), key=lambda i: odds[i])
        result = self._shared_out(sets, odds, slopes, usual)
        left = self.off - sum(
            (slopes[:, k] * self._amount(k, sets[top], slopes, usual) for k in sets[top]),
            np.zeros(len(self.off)),
        )
        alike = self._alike(order, slopes)
        question = (
            self._question(order, sets, odds, slopes, usual)
            if order and each[order[0]] < CERTAIN
            else None
        )
        return Explained(
            float(odds[0]),
            tuple(result),
            question,
            tuple(self.causes[k] for k in alike),
            tuple(float(x) for x in left),
        )

    def _shared_out(
        self, sets: list[tuple[int, ...]], odds: Array, slopes: Array, usual: Array
    ) -> list[Explanation]:
        """The likely causes, each once: the likeliest with all the hypotheses it is in, then the
        likeliest of what is left."""
        left, named, result = set(range(1, len(sets))), set[int](), list[Explanation]()
        while left:
            mass: dict[int, float] = {}
            for i in left:
                for k in sets[i]:
                    mass[k] = mass.get(k, 0.0) + float(odds[i])
            k = max((k for k in mass if k not in named), key=mass.__getitem__, default=-1)
            if k < 0 or mass[k] < LEAST_ODDS:
                break
            mine = [i for i in left if k in sets[i]]
            best = sets[max(mine, key=lambda i: odds[i])]
            others = [j for j in best if j != k and j not in named]
            often = {j: sum(float(odds[i]) for i in mine if j in sets[i]) / mass[k] for j in others}
            also = tuple(
                (self.causes[j], by)
                for j in others
                if often[j] >= 0.5
                and not _nothing(self.causes[j], by := self._amount(j, best, slopes, usual))
            )
            named |= {k, *(j for j in others if often[j] >= 0.5)}
            left -= set(mine)
            by = self._amount(k, best, slopes, usual)
            if not _nothing(self.causes[k], by):
                result.append(Explanation(self.causes[k], by, mass[k], also))
        return result

    def _amount(self, k: int, hypothesis: tuple[int, ...], slopes: Array, usual: Array) -> float:
        """How far off a cause most likely was, with the others of its hypothesis."""
        columns = slopes[:, hypothesis]
        inner = columns.T @ np.linalg.solve(usual, columns) + np.diag(
            1.0 / self.wrong[list(hypothesis)] ** 2
        )
        amounts = np.linalg.solve(inner, columns.T @ np.linalg.solve(usual, self.off))
        return float(amounts[hypothesis.index(k)])

    def _alike(self, order: list[int], slopes: Array) -> list[int]:
        """Likely causes whose effect on what was measured cannot be told from the first's."""
        if not order:
            return []
        scaled = slopes / self.noise[:, None]
        first = scaled[:, order[0]]
        size = np.linalg.norm(scaled, axis=0)
        result = []
        for k in range(len(self.causes)):
            if (
                k != order[0]
                and self.causes[k].off not in SLIPS
                and size[k] > 0.5
                and abs(float(scaled[:, k] @ first)) >= PARALLEL * size[k] * np.linalg.norm(first)
            ):
                result.append(k)
        return result

    def _question(
        self,
        order: list[int],
        sets: list[tuple[int, ...]],
        odds: Array,
        slopes: Array,
        usual: Array,
    ) -> FurtherMeasure | None:
        """The measure not taken yet whose expected values differ most between the likely
        hypotheses, against what it is read to."""
        likely = sorted(range(len(sets)), key=lambda i: -odds[i])[:4]
        likely = [i for i in likely if odds[i] >= 0.05]
        if len(likely) < 2:
            return None
        amounts = [{k: self._amount(k, sets[i], slopes, usual) for k in sets[i]} for i in likely]
        best: tuple[float, int] | None = None
        spare = [n for n in range(len(self.measures)) if n not in self.rows]
        weights = odds[likely] / odds[likely].sum()
        for n in spare:
            expected = np.array(
                [sum(self.every[n, k] * a for k, a in amount.items()) for amount in amounts]
            )
            middle = float(weights @ expected)
            told = math.sqrt(float(weights @ (expected - middle) ** 2)) / math.hypot(
                _read(self.measures[n]), float(np.sqrt(((self.every[n] * self.spread) ** 2).sum()))
            )
            if best is None or told > best[0]:
                best = told, n
        if best is None or best[0] < 0.3:
            return None
        n = best[1]
        singles = [(i, a) for i, a in zip(likely, amounts, strict=True) if sets[i]]
        return FurtherMeasure(
            self.measures[n],
            tuple(self.causes[sets[i][0]] for i, _ in singles),
            tuple(float(sum(self.every[n, k] * v for k, v in a.items())) for _, a in singles),
        )


def worth_measuring(
    blank: Blank, measures: tuple[Measure, ...], most: int = 10, striking: Striking = NEAREST
) -> tuple[Measure, ...]:
    """What to measure first: chosen one by one, each the one that leaves least doubt about what may
    have gone wrong.

    The sheet itself is measured before it is laid out; it is asked for again only where it is
    doubted.

    Args:
        blank: the flat.
        measures: what can be measured.
        most: sizes asked for at most.
        striking: what lines are struck from.
    """
    causes, slopes = causes_of(blank), slopes_of(blank, measures, striking)
    doubt = np.diag(_wrong(causes, blank.thickness) ** 2)
    scale = 1.0 / _wrong(causes, blank.thickness)
    chosen: list[int] = []
    for _ in range(min(most, len(measures))):
        gains = []
        for n, measure in enumerate(measures):
            row = slopes[n]
            seen = doubt @ row
            gains.append(
                -1.0
                if n in chosen or measure.what is What.SHEET
                else float(((seen * scale) ** 2).sum() / (row @ seen + _read(measure) ** 2))
            )
        best = int(np.argmax(gains))
        if gains[best] <= 1e-6:
            break
        chosen.append(best)
        seen = doubt @ slopes[best]
        doubt = doubt - np.outer(seen, seen) / (slopes[best] @ seen + _read(measures[best]) ** 2)
    return tuple(measures[n] for n in chosen)
