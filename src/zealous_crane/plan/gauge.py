"""Gauging: from which edge each fold is set, where the stop stands, and what the errors of the bends add up to.

A fold set from an edge that earlier bends have moved takes over their error. With independent errors of one size per bend the
errors of a finished size add as the square root of the sum of their squares. That and the choices below are common practice,
no source.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from ..blank import Blank, Fold
from ..measure import Units, show_length
from .plan import Plan, PlannedStroke
from .pose import Setting

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
        edge: name of the panel whose edge goes against the stop; empty when the line is sighted.
        distance: fold line to stop along the sheet as it then stands, mm.
        true: the edge is where the shear left it.
        moved_by: names of the folds between the edge and the line, already bent.
        square: the edge runs along the fold.
    """

    number: int
    name: str
    edge: str
    distance: float
    true: bool
    moved_by: tuple[str, ...]
    square: bool


def gauge_stops(plan: Plan, by: GaugeBy) -> tuple[GaugeStop, ...]:
    """Where the stop stands for every stroke, for one way of gauging."""
    return tuple(_stop(plan, stroke, by) for stroke in plan.strokes)


def _stop(plan: Plan, stroke: PlannedStroke, by: GaugeBy) -> GaugeStop:
    setting = stroke.verdict.stroke.setting
    blank = plan.blank
    sighted = GaugeStop(stroke.number, stroke.name, "", 0.0, True, (), True)
    reach = plan.brake.gauge_reach
    if by is GaugeBy.LINES or reach is None:
        return sighted
    found: list[tuple[tuple[float, ...], GaugeStop]] = []
    for i, panel in enumerate(blank.panels):
        if i in setting.swinging:
            continue
        corners = setting.poses[i].apply(np.column_stack([panel.polygon, np.zeros(len(panel.polygon))]))
        behind = float(corners[:, 1].max())
        rear = corners[corners[:, 1] > behind - 0.05]
        span = float(np.ptp(rear[:, 0])) if len(rear) > 1 else 0.0
        if behind < 1.0 or behind > reach or span < max(10.0, SQUARE * (setting.span[1] - setting.span[0])):
            continue
        # What looks like an edge may be a fold: flat, the sheet goes on there; bent, the stop meets the standing panel.
        at_edge = [k for k, fold in enumerate(blank.folds) if i in (fold.parent, fold.child) and k not in setting.folds
                   and _lies_at(setting, i, fold, behind)]  # fmt: skip
        if any(setting.angles[k] == 0 for k in at_edge):
            continue
        between = sorted({*blank.folds_between(setting.clamped, i), *at_edge})
        bent = tuple(blank.folds[k].name for k in between if abs(setting.angles[k]) > 0)
        stop = GaugeStop(stroke.number, stroke.name, panel.name, behind, not bent, bent, True)
        found.append(((len(bent) if by is GaugeBy.TRUE else 0.0, behind), stop))
    return min(found, key=lambda f: f[0])[1] if found else sighted


def _lies_at(setting: Setting, panel: int, fold: Fold, behind: float) -> bool:
    """True when a fold runs along the rear of a panel that lies in the brake."""
    ends = np.array([[*fold.start, 0.0], [*fold.end, 0.0]])
    y = setting.poses[panel].apply(ends)[:, 1]
    return bool(np.abs(y - behind).max() <= fold.bend.allowance / 2 + 0.1)


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
    GaugeBy.LINES: "lines sighted under the {tool}",
    GaugeBy.NEAR: "stop, nearest edge",
    GaugeBy.TRUE: "stop, edges no bend has moved",
}


def gauging_lines(plan: Plan, per_bend: float = PER_BEND) -> tuple[str, ...]:
    """The ways of gauging compared, the best first, and the worst size of each."""
    fine = Units.DECIMAL if plan.job.units.is_inch else Units.MM
    ways = [GaugeBy.LINES] if plan.brake.gauge_reach is None else [GaugeBy.TRUE, GaugeBy.NEAR, GaugeBy.LINES]
    tool = "nose" if plan.brake.kind == "leaf" else "punch"
    said: list[tuple[float, str]] = []
    for way in ways:
        worst = max(size_errors(plan, way, per_bend), key=lambda e: e.error, default=None)
        if worst is not None:
            text = (
                f"{WORDS[way].format(tool=tool)}: worst ± {show_length(round(worst.error, 2), fine)}, across the {worst.panel}"
            )
            said.append((worst.error, f"·  {text[:1].upper()}{text[1:]}."))
    lines = [text for _, text in sorted(said, key=lambda s: s[0])]
    return (f"For ± {show_length(per_bend, fine)} a bend:", *lines) if lines else ()


def best_gauging(plan: Plan, per_bend: float = PER_BEND) -> GaugeBy:
    """The way of gauging with the least error in its worst size; sighting lines where the brake has no stop."""
    if plan.brake.gauge_reach is None:
        return GaugeBy.LINES
    ways = (GaugeBy.TRUE, GaugeBy.NEAR, GaugeBy.LINES)
    return min(ways, key=lambda way: max((e.error for e in size_errors(plan, way, per_bend)), default=0.0))
