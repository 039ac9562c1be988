"""Gauging: from which edge each fold is set, where the stop stands, and what the errors of the bends add up to.

A fold set from an edge that earlier bends have moved takes over their error. With independent errors of one size per bend the
errors of a finished size add as the square root of the sum of their squares. That and the choices below are common practice,
no source.
"""

from __future__ import annotations

import itertools
import math
from enum import StrEnum

import numpy as np

from ...blank import Blank
from ...measure import show_length
from ...measure.dataclass import dataclass
from ...measure.words import the, tr
from ..geometry.contact import following, hull
from ..geometry.solid import Solid
from ..stroke.machines import machine_of
from ..stroke.setting import Setting
from .plan import Intervals, Plan, PlannedStroke

SQUARE = 0.3
"""Share of the fold's length that an edge must have to hold the sheet square against the stop. Common practice, no source."""


class GaugeBy(StrEnum):
    """How folds are set.

    Attributes:
        LINES: every fold line sighted at the nose: its error is that of scribing.
        NEAR: against the stop with the nearest edge behind the fold.
        TRUE: against the stop, but only with an edge no earlier bend has moved, where there is one.
    """

    LINES = "lines"
    NEAR = "near"
    TRUE = "true"


@dataclass(frozen=True)
class GaugeStop:
    """Where the stop stands for one stroke.

    Attributes:
        number: of the stroke.
        name: what is folded.
        against: name of the panel that goes against the stop; empty when the line is sighted.
        leg: what touches is the outside of a bent leg, not an edge of the sheet.
        distance: fold line to stop, mm, level.
        true: the edge is where the shear left it.
        moved_by: names of the folds between the edge and the line, already bent.
        at: where along the stroke's x it comes against the stop, mm.
    """

    number: int
    name: str
    against: str
    leg: bool
    distance: float
    true: bool
    moved_by: tuple[str, ...]
    at: Intervals = ()

    @property
    def sighted(self) -> bool:
        """True when nothing goes against the stop: the line is sighted."""
        return not self.against


def gauge_stops(plan: Plan, by: GaugeBy | None = None) -> tuple[GaugeStop, ...]:
    """Where the stop stands for every stroke.

    Args:
        plan: strokes in order.
        by: one way of gauging for all; None takes what the job asks for, stroke by stroke, and else the best with a stop.
    """
    return plan.keep(("gauge stops", by), lambda: _stops(plan, by))


def _stops(plan: Plan, by: GaugeBy | None) -> tuple[GaugeStop, ...]:
    usual = by or (GaugeBy(plan.job.gauging) if plan.job.gauging else best_stop(plan))
    ways = [usual if by else plan.job.gauge_at.get(s.verdict.stroke.setting.line.name, usual) for s in plan.strokes]
    return tuple(_stop(plan, stroke, GaugeBy(way)) for stroke, way in zip(plan.strokes, ways, strict=True))


def _stop(plan: Plan, stroke: PlannedStroke, by: GaugeBy) -> GaugeStop:
    setting, number, low = stroke.verdict.stroke.setting, stroke.number, -stroke.verdict.stroke.packing.thickness
    blank, reach = plan.blank, plan.brake.gauge_reach
    sighted = GaugeStop(stroke.number, stroke.name, "", False, 0.0, True, ())
    if by is GaugeBy.LINES or reach is None:
        return sighted
    needed = max(10.0, SQUARE * (setting.span[1] - setting.span[0]))
    found: list[tuple[tuple[float, ...], GaugeStop]] = []
    for rear in plan.keep(("rears", number), lambda: rears(setting, low, plan.brake.gauge_height)):
        if rear.span < needed or not 1.0 <= rear.distance <= reach:
            continue
        panel = rear.solid.panel
        between = list(blank.folds_between(setting.clamped, panel if panel >= 0 else blank.folds[-1 - panel].child))
        bent = tuple(blank.folds[k].name for k in sorted(between) if abs(setting.angles[k]) > 0)
        name = blank.panels[panel if panel >= 0 else blank.folds[-1 - panel].child].name
        stop = GaugeStop(stroke.number, stroke.name, name, bool(bent), rear.distance, not bent, bent, rear.at)
        found.append(((len(bent) if by is GaugeBy.TRUE else 0.0, rear.distance), stop))
    return min(found, key=lambda f: f[0])[1] if found else sighted


@dataclass(frozen=True)
class Rear:
    """What of the part at rest comes against a stop pushed up from behind, over some of the fold's length.

    Attributes:
        distance: behind the fold line, mm.
        at: where along the fold it does, mm.
        solid: the piece that touches.
    """

    distance: float
    at: Intervals
    solid: Solid

    @property
    def span(self) -> float:
        """Length along the fold over which it touches, mm."""
        return sum(b - a for a, b in self.at)


LEVEL = 0.02
"""mm within which the rear runs level with the fold."""


def rears(setting: Setting, foot: float, height: float) -> tuple[Rear, ...]:
    """What a straight stop would meet behind the part, the sheet lying on bed or die, or on a strip.

    Everything that rests is looked at where the stop is, from the bed up to ``height``: the outside of a leg that
    stands there counts, what hangs over the stop or below the bed does not.

    Args:
        setting: how the part is held.
        foot: the bed's level under the sheet's underside, mm; below zero on a strip.
        height: of the stop's face above bed or die, mm.
    """
    band = (foot, foot + height)
    solids = setting.solids[0]
    cuts = sorted({x for solid in solids for x in solid.x_range} | {0.0})
    runs: dict[tuple[float, Solid], list[tuple[float, float]]] = {}
    for low, high in itertools.pairwise(cuts):
        if high - low < 0.01:
            continue
        best: tuple[float, bool, Solid] | None = None
        for solid in solids:
            if solid.x_range[1] < low or solid.x_range[0] > high:
                continue
            back = _rear(solid, low, high, band)
            if back is not None and (best is None or back > best[0]):
                ends = [_rear(solid, a, b, band) for a, b in ((low, low + LEVEL), (high - LEVEL, high))]
                best = (back, all(end is not None and back - end < LEVEL for end in ends), solid)
        if best is not None and best[1]:
            key = next((k for k in runs if abs(k[0] - best[0]) < LEVEL and k[1].panel == best[2].panel), (best[0], best[2]))
            runs.setdefault(key, []).append((low, high))
    return tuple(Rear(distance, tuple(at), solid) for (distance, solid), at in runs.items())


def _rear(solid: Solid, low: float, high: float, stop: tuple[float, float]) -> float | None:
    """How far back (mm) a piece reaches between x = low and high at the height of a stop from z to z; None when it is not there."""
    points = solid.within(low, high)
    # What ends level with the stop's foot or top slips past it.
    if len(points) == 0 or points[:, 1].max() < stop[0] + LEVEL or points[:, 1].min() > stop[1] - LEVEL:
        return None
    band = [(y, z) for y, z in points if stop[0] <= z <= stop[1]]
    shape = hull(points)
    for (y0, z0), (y1, z1) in zip(shape, following(shape), strict=True):
        for level in stop:
            if (z0 - level) * (z1 - level) < 0:
                band.append((y0 + (level - z0) / (z1 - z0) * (y1 - y0), level))
    return max((y for y, _ in band), default=None)


@dataclass(frozen=True)
class SizeError:
    """What may be wrong with one finished size.

    Attributes:
        panel: the panel between two folds, or a fold and an edge.
        size: mm.
        error: ± mm, one standard error when ``per_bend`` is one.
        from_: names of the folds whose errors are in it.
    """

    panel: str
    size: float
    error: float
    from_: tuple[str, ...]


def size_errors(plan: Plan, by: GaugeBy, per_bend: float) -> tuple[SizeError, ...]:
    """Error of every panel's finished size across its folds, for a stated error of setting one fold.

    A line sighted, or set from a true edge, lies wrong by ``per_bend``. One set from an edge that folds have moved also carries
    the errors of all of them. A panel between two folds carries both, but what both share (the same true edge) not twice: only
    the setting itself differs.

    Args:
        plan: strokes in order.
        by: the way of gauging.
        per_bend: ± mm of setting one fold.
    """
    blank = plan.blank
    index = {fold.name: i for i, fold in enumerate(blank.folds)}
    place: dict[int, dict[int, float]] = {}
    for stroke, stop in zip(plan.strokes, gauge_stops(plan, by), strict=True):
        carried: dict[int, float] = {}
        for name in stop.moved_by:
            for k, share in place.get(index[name], {index[name]: 1.0}).items():
                carried[k] = carried.get(k, 0.0) + share
        for fold in stroke.verdict.stroke.setting.folds:
            place[fold] = {**carried, fold: 1.0}
    found: list[SizeError] = []
    for i, panel in enumerate(blank.panels):
        for across in _directions(blank, i):
            low, high = _bounds(blank, i, across)
            sides = [k for k in place if i in (blank.folds[k].parent, blank.folds[k].child)
                     and abs(float(blank.folds[k].outward @ across)) > 0.999]  # fmt: skip
            terms: dict[int, float] = {}
            for k in sides:
                middle = float(blank.folds[k].start @ across)
                sign = 1.0 if middle > (low + high) / 2 else -1.0
                for source, share in place[k].items():
                    terms[source] = terms.get(source, 0.0) + sign * share
            if terms:
                error = per_bend * math.sqrt(sum(v * v for v in terms.values()))
                names = tuple(blank.folds[k].name for k, v in terms.items() if abs(v) > 1e-9)
                found.append(SizeError(panel.name, high - low, error, names))
    return tuple(found)


def _directions(blank: Blank, panel: int) -> list[np.ndarray]:
    found: list[np.ndarray] = []
    for fold in blank.folds:
        if panel in (fold.parent, fold.child) and not any(abs(float(fold.outward @ d)) > 0.999 for d in found):
            found.append(fold.outward)
    return found


def _bounds(blank: Blank, panel: int, across: np.ndarray) -> tuple[float, float]:
    at = blank.panels[panel].polygon @ across
    return float(at.min()), float(at.max())


PER_BEND = 0.25
"""± mm a fold is set by hand to a line or stop, when nothing is measured. Common practice, no source."""

WORDS = {
    GaugeBy.LINES: tr("lines sighted under the {tool}"),
    GaugeBy.NEAR: tr("stop, nearest edge"),
    GaugeBy.TRUE: tr("stop, edges no bend has moved"),
}


def gauging_lines(plan: Plan, per_bend: float = PER_BEND) -> tuple[str, ...]:
    """The ways of gauging compared, the best first, and the worst size of each."""
    fine = plan.job.units.fine
    ways = [GaugeBy.LINES] if plan.brake.gauge_reach is None else [GaugeBy.TRUE, GaugeBy.NEAR, GaugeBy.LINES]
    tool = machine_of(plan.brake).words.line_under
    said: list[tuple[float, str]] = []
    for way in ways:
        worst = max(size_errors(plan, way, per_bend), key=lambda e: e.error, default=None)
        if worst is not None:
            text = tr("{format}: worst ± {length}, across {panel}").format(
                format=WORDS[way].format(tool=tool), length=show_length(round(worst.error, 2), fine), panel=the(worst.panel)
            )
            said.append((worst.error, f"·  {text[:1].upper()}{text[1:]}."))
    lines = [text for _, text in sorted(said, key=lambda s: s[0])]
    return (tr("For ± {per_bend} a bend:").format(per_bend=show_length(per_bend, fine)), *lines) if lines else ()


def best_stop(plan: Plan) -> GaugeBy:
    """The better way with a stop, where the brake has one: a stop is set the same for every part, a line is sighted anew each
    time, so a hair of arithmetic does not speak for sighting."""
    if plan.brake.gauge_reach is None:
        return GaugeBy.LINES
    ways = (GaugeBy.TRUE, GaugeBy.NEAR)
    return min(ways, key=lambda way: max((e.error for e in size_errors(plan, way, PER_BEND)), default=0.0))
