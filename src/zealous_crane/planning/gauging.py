"""Gauging: from which edge each fold is set, where the stop stands, and what the errors of the
bends add up to.

A fold set from an edge that earlier bends have moved takes over their error. With independent
errors of one size per bend the errors of a finished size add as the square root of the sum of their
squares. That and the choices below are common practice, no source.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from ..bending.machines import machine_of
from ..bending.setting import Setting
from ..flat.blank import Blank
from ..i18n import counted, msg, the, tr
from ..kernel.contact import hull
from ..kernel.plane import following
from ..kernel.solid import Solid
from ..units.length import show_length
from .plan import Intervals, Plan, PlannedStroke

SQUARE = 0.3
"""Share of the fold's length that an edge must have to hold the sheet square against the stop.
Common practice, no source."""


FINGER = 10.0
"""mm along the fold that a finger of the stop needs. Common practice, no source."""

ONE_SETTING = 0.05
"""mm; two places of the stop nearer than this are one setting."""

MOST_SETTINGS = 4
"""Settings of the stop up to which the fewest are looked for; a part that takes more is gauged by
its nearest edges."""


class GaugeBy(StrEnum):
    """How folds are set.

    Attributes:
        LINES: every fold line sighted at the nose: its error is that of scribing.
        NEAR: against the stop with the nearest edge behind the fold.
        TRUE: against the stop, but only with an edge no earlier bend has moved, where there is one.
        FEW: against the stop, with as few settings of it for the whole part as there are.
    """

    LINES = "lines"
    NEAR = "near"
    TRUE = "true"
    FEW = "few"


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
        at: where fingers of the stop may stand, along the stroke's x, mm: behind the fold, over its
            middle or on both sides of it.
        fold: from where to where the fold runs, along the stroke's x, mm.
    """

    number: int
    name: str
    against: str
    leg: bool
    distance: float
    true: bool
    moved_by: tuple[str, ...]
    at: Intervals = ()
    fold: tuple[float, float] = (0.0, 0.0)

    @property
    def anywhere(self) -> bool:
        """True when fingers of the stop may stand anywhere behind the fold."""
        (low, high), result = self.fold, self.at
        return len(result) == 1 and result[0][0] <= low + LEVEL and result[0][1] >= high - LEVEL

    @property
    def sighted(self) -> bool:
        """True when nothing goes against the stop: the line is sighted."""
        return not self.against


def gauge_stops(plan: Plan, by: GaugeBy | None = None) -> tuple[GaugeStop, ...]:
    """Where the stop stands for every stroke.

    Args:
        plan: strokes in order.
        by: one way of gauging for all; None takes what the job asks for, stroke by stroke, and else
            the best with a stop.
    """
    return plan.keep(("gauge stops", by), lambda: _stops(plan, by))


def _stops(plan: Plan, by: GaugeBy | None) -> tuple[GaugeStop, ...]:
    usual = by or (GaugeBy(plan.job.gauging) if plan.job.gauging else best_stop(plan))
    ways = [
        GaugeBy(usual if by else plan.job.gauge_at.get(s.verdict.stroke.setting.line.name, usual))
        for s in plan.strokes
    ]
    few = _fewest(plan) if GaugeBy.FEW in ways else ()
    return tuple(
        _stop(plan, stroke, way, few) for stroke, way in zip(plan.strokes, ways, strict=True)
    )


def _stop(plan: Plan, stroke: PlannedStroke, by: GaugeBy, few: Sequence[float] = ()) -> GaugeStop:
    sighted = GaugeStop(stroke.number, stroke.name, "", False, 0.0, True, ())
    if by is GaugeBy.LINES:
        return sighted

    def preferred(stop: GaugeStop) -> tuple[float, ...]:
        if by is GaugeBy.FEW:
            return next(
                (i for i, setting in enumerate(few) if abs(setting - stop.distance) < ONE_SETTING),
                len(few),
            ), stop.distance
        return len(stop.moved_by) if by is GaugeBy.TRUE else 0.0, stop.distance

    return min(possible_stops(plan, stroke), key=preferred, default=sighted)


def possible_stops(plan: Plan, stroke: PlannedStroke) -> tuple[GaugeStop, ...]:
    """Every stop that holds the sheet square for a stroke: against something behind the fold, over
    its middle or on both sides of it."""
    return plan.keep(("possible stops", stroke.number), lambda: _possible(plan, stroke))


def _possible(plan: Plan, stroke: PlannedStroke) -> tuple[GaugeStop, ...]:
    setting, low = stroke.verdict.stroke.setting, -stroke.verdict.stroke.packing.thickness
    blank, reach = plan.blank, plan.brake.gauge_reach
    if reach is None:
        return ()
    needed = max(FINGER, SQUARE * (setting.span[1] - setting.span[0]))
    result: list[GaugeStop] = []
    for rear in rears(setting, low, plan.brake.gauge_height):
        at = behind(rear.at, setting.span)
        if sum(b - a for a, b in at) < needed or not 1.0 <= rear.distance <= reach:
            continue
        # Of edges at one height the one that fewest bends have moved is named, where it is there.
        bent, name = min(
            (_moved(blank, setting, solid) for solid in rear.solids),
            key=lambda moved: len(moved[0]),
        )
        result.append(
            GaugeStop(
                stroke.number,
                stroke.name,
                name,
                bool(bent),
                rear.distance,
                not bent,
                bent,
                at,
                setting.span,
            )
        )
    return tuple(result)


def _moved(blank: Blank, setting: Setting, solid: Solid) -> tuple[tuple[str, ...], str]:
    """Names of the bends between what is clamped and a piece, and of the panel it belongs to."""
    panel = solid.panel if solid.panel >= 0 else blank.folds[-1 - solid.panel].child
    between = sorted(blank.folds_between(setting.clamped, panel))
    return tuple(blank.folds[k].name for k in between if abs(setting.angles[k]) > 0), blank.panels[
        panel
    ].name


def behind(at: Intervals, span: tuple[float, float]) -> Intervals:
    """What of some intervals (mm) lies behind a fold and holds it square: over its middle, or on
    both sides of it; else nothing."""
    low, high = span
    clipped = tuple(
        (max(a, low), min(b, high)) for a, b in at if min(b, high) - max(a, low) >= FINGER
    )
    middle = (low + high) / 2
    over = any(a < middle < b for a, b in clipped)
    both = any(b <= middle for _, b in clipped) and any(a >= middle for a, _ in clipped)
    return clipped if over or both else ()


def _fewest(plan: Plan) -> tuple[float, ...]:
    """The fewest settings of the stop (mm) that serve every stroke that can be gauged, tried from
    one on."""
    asked = [
        tuple(stop.distance for stop in possible_stops(plan, stroke)) for stroke in plan.strokes
    ]
    asked = [distances for distances in asked if distances]
    every: list[float] = []
    for distance in sorted(d for distances in asked for d in distances):
        if not every or distance - every[-1] >= ONE_SETTING:
            every.append(distance)
    for count in range(1, min(len(asked), MOST_SETTINGS) + 1):
        for settings in itertools.combinations(every, count):
            if all(
                any(abs(d - s) < ONE_SETTING for d in distances for s in settings)
                for distances in asked
            ):
                return settings
    return ()


def settings_of(stops: Sequence[GaugeStop]) -> int:
    """How many times the stop is set for these strokes."""
    result: list[float] = []
    for stop in stops:
        if not stop.sighted and all(abs(stop.distance - other) >= ONE_SETTING for other in result):
            result.append(stop.distance)
    return len(result)


@dataclass(frozen=True)
class Rear:
    """What of the part at rest comes against a stop pushed up from behind, over some of the fold's
    length.

    Attributes:
        distance: behind the fold line, mm.
        at: where along the fold it does, mm.
        solids: the pieces that touch.
    """

    distance: float
    at: Intervals
    solids: tuple[Solid, ...]

    @property
    def span(self) -> float:
        """Length along the fold over which it touches, mm."""
        return sum(b - a for a, b in self.at)


LEVEL = 0.02
"""mm within which the rear runs level with the fold."""


def rears(setting: Setting, foot: float, height: float) -> tuple[Rear, ...]:
    """What a straight stop would meet behind the part, the sheet lying on bed or die, or on a
    strip.

    Everything that rests is looked at where the stop is, from the bed up to ``height``: the outside
    of a leg that stands there counts, what hangs over the stop or below the bed does not.

    Args:
        setting: how the part is held.
        foot: the bed's level under the sheet's underside, mm; below zero on a strip.
        height: of the stop's face above bed or die, mm.
    """
    band = (foot, foot + height)
    solids = setting.solids[0]
    # Between two corners every edge is straight: where it is level it is so from one to the other.
    cuts = sorted({round(float(x), 6) for solid in solids for x in solid.corners[:, 0]} | {0.0})
    runs: dict[float, list[tuple[float, float, Solid]]] = {}
    for low, high in itertools.pairwise(cuts):
        if high - low < 0.01:
            continue
        best: tuple[float, bool, Solid] | None = None
        for solid in solids:
            if solid.x_range[1] < low or solid.x_range[0] > high:
                continue
            back = _rear(solid, low, high, band)
            if back is not None and (best is None or back > best[0]):
                ends = [
                    _rear(solid, a, b, band) for a, b in ((low, low + LEVEL), (high - LEVEL, high))
                ]
                best = (back, all(end is not None and back - end < LEVEL for end in ends), solid)
        if best is not None and best[1]:
            # Edges at one height are one to the stop, whoever they belong to.
            key = next((k for k in runs if abs(k - best[0]) < LEVEL), best[0])
            runs.setdefault(key, []).append((low, high, best[2]))
    return tuple(
        Rear(
            distance,
            _joined([(low, high) for low, high, _ in run]),
            tuple(dict.fromkeys(solid for _, _, solid in run)),
        )
        for distance, run in runs.items()
    )


def _joined(at: Sequence[tuple[float, float]]) -> Intervals:
    """Intervals in order, those that touch made one."""
    result: list[tuple[float, float]] = []
    for low, high in sorted(at):
        if result and low - result[-1][1] < LEVEL:
            result[-1] = (result[-1][0], max(result[-1][1], high))
        else:
            result.append((low, high))
    return tuple(result)


def _rear(solid: Solid, low: float, high: float, stop: tuple[float, float]) -> float | None:
    """How far back (mm) a piece reaches between x = low and high at the height of a stop from z to
    z; None when it is not there."""
    points = solid.within(low, high)
    # What ends level with the stop's foot or top slips past it.
    if (
        len(points) == 0
        or points[:, 1].max() < stop[0] + LEVEL
        or points[:, 1].min() > stop[1] - LEVEL
    ):
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
    """Error of every panel's finished size across its folds, for a stated error of setting one
    fold.

    A line sighted, or set from a true edge, lies wrong by ``per_bend``. One set from an edge that
    folds have moved also carries the errors of all of them. A panel between two folds carries both,
    but what both share (the same true edge) not twice: only the setting itself differs.

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
    result: list[SizeError] = []
    for i, panel in enumerate(blank.panels):
        for across in _directions(blank, i):
            low, high = _bounds(blank, i, across)
            sides = [
                k
                for k in place
                if i in (blank.folds[k].parent, blank.folds[k].child)
                and abs(float(blank.folds[k].outward @ across)) > 0.999
            ]
            terms: dict[int, float] = {}
            for k in sides:
                middle = float(blank.folds[k].start @ across)
                sign = 1.0 if middle > (low + high) / 2 else -1.0
                for source, share in place[k].items():
                    terms[source] = terms.get(source, 0.0) + sign * share
            if terms:
                error = per_bend * math.sqrt(sum(v * v for v in terms.values()))
                names = tuple(blank.folds[k].name for k, v in terms.items() if abs(v) > 1e-9)
                result.append(SizeError(panel.name, high - low, error, names))
    return tuple(result)


def _directions(blank: Blank, panel: int) -> list[np.ndarray]:
    result: list[np.ndarray] = []
    for fold in blank.folds:
        if panel in (fold.parent, fold.child) and not any(
            abs(float(fold.outward @ d)) > 0.999 for d in result
        ):
            result.append(fold.outward)
    return result


def _bounds(blank: Blank, panel: int, across: np.ndarray) -> tuple[float, float]:
    at = blank.panels[panel].polygon @ across
    return float(at.min()), float(at.max())


PER_BEND = 0.25
"""± mm a fold is set by hand to a line or stop, when nothing is measured. Common practice, no
source."""

WORDS = {
    GaugeBy.LINES: msg("lines sighted under the {tool}"),
    GaugeBy.NEAR: msg("stop, nearest edge"),
    GaugeBy.TRUE: msg("stop, edges no bend has moved"),
    GaugeBy.FEW: msg("stop, fewest settings"),
}


def gauging_lines(plan: Plan, per_bend: float = PER_BEND) -> tuple[str, ...]:
    """The ways of gauging compared, the best first, and the worst size of each."""
    fine = plan.job.units.fine
    ways = (
        [GaugeBy.LINES]
        if plan.brake.gauge_reach is None
        else [GaugeBy.TRUE, GaugeBy.NEAR, GaugeBy.FEW, GaugeBy.LINES]
    )
    tool = machine_of(plan.brake).words.line_under
    said: list[tuple[float, str]] = []
    for way in ways:
        worst = max(size_errors(plan, way, per_bend), key=lambda e: e.error, default=None)
        if worst is not None:
            text = tr("{format}: worst ± {length}, across {panel}").format(
                format=WORDS[way].format(tool=tool),
                length=show_length(round(worst.error, 2), fine),
                panel=the(worst.panel),
            )
            settings = settings_of(gauge_stops(plan, way))
            if settings:
                text += ", " + counted("{count} setting", "{count} settings", settings)
            said.append((worst.error, f"·  {text[:1].upper()}{text[1:]}."))
    lines = [text for _, text in sorted(said, key=lambda s: s[0])]
    return (
        (tr("For ± {per_bend} a bend:").format(per_bend=show_length(per_bend, fine)), *lines)
        if lines
        else ()
    )


def best_stop(plan: Plan) -> GaugeBy:
    """The better way with a stop, where the brake has one: a stop is set the same for every part, a
    line is sighted anew each time, so a hair of arithmetic does not speak for sighting."""
    if plan.brake.gauge_reach is None:
        return GaugeBy.LINES
    ways = (GaugeBy.TRUE, GaugeBy.NEAR)
    return min(
        ways, key=lambda way: max((e.error for e in size_errors(plan, way, PER_BEND)), default=0.0)
    )
