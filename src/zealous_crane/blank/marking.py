"""Marking out: running dimensions from one edge, and the settings a scribe is set to, in order."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..measure import Units, nearest_tick, show_length
from .blank import Blank, Notch

SAME = 0.01
"""Two settings closer than this (mm) are one; no scribe can tell them apart."""


@dataclass(frozen=True)
class RunningDimension:
    """One line across the blank, measured from the zero edge.

    Attributes:
        what: what is there.
        at: mm from the left edge (across the length) or the front edge (across the width).
        kind: ``edge``, ``fold`` or ``cut``.
    """

    what: str
    at: float
    kind: str


@dataclass(frozen=True)
class ScribeSetting:
    """One setting of the scribe and every line struck with it.

    Attributes:
        setting: mm.
        kind: ``fold`` or ``cut``.
        edges: the true edges it is struck from.
    """

    setting: float
    kind: str
    edges: tuple[str, ...]

    def shown(self, units: Units) -> str:
        """The setting to the nearest tick of the rule, marked ``≈`` when that is not exact."""
        tick = nearest_tick(self.setting, units)
        text = show_length(tick, units, pretty=True)
        return text if abs(tick - self.setting) < 5e-3 else "≈" + text.removeprefix("≈")

    @property
    def purpose(self) -> str:
        """What is struck, in shop words."""
        return {"fold": "fold lines", "cut": "notches"}[self.kind]

    @property
    def struck_from(self) -> str:
        """The edges, in shop words."""
        return "all four edges" if len(self.edges) == 4 else ", ".join(self.edges) + " edge"


@dataclass(frozen=True)
class Marking:
    """Everything a person needs to mark the blank without adding up.

    Attributes:
        along: running dimensions across the length, from the left edge.
        across: running dimensions across the width, from the front edge.
        scribe: settings, smallest first, each line from its nearest true edge.
        steps: the order of work at the bench, in sentences.
    """

    along: tuple[RunningDimension, ...]
    across: tuple[RunningDimension, ...]
    scribe: tuple[ScribeSetting, ...]
    steps: tuple[str, ...]


def mark_out(blank: Blank) -> Marking:
    """Running dimensions and scribe settings of a blank whose lines run parallel to its edges."""
    length, width = blank.size
    lines: list[list[RunningDimension]] = [[], []]
    for fold in blank.folds:
        axis = 0 if abs(fold.outward[0]) > 0.5 else 1
        lines[axis].append(RunningDimension(f"{fold.name} fold", float(fold.start[axis]), "fold"))
    for notch in blank.notches:
        for axis, at in _cut_lines(blank, notch):
            lines[axis].append(RunningDimension("notch line", at, "cut"))
    spans: list[tuple[RunningDimension, ...]] = []
    struck: dict[tuple[float, str], set[str]] = {}
    for axis, (span, names) in enumerate((((length), ("left", "right")), ((width), ("front", "back")))):
        ends = [RunningDimension("edge", 0.0, "edge"), RunningDimension("edge", span, "edge")]
        unique: list[RunningDimension] = []
        for line in sorted(lines[axis], key=lambda d: (d.at, d.kind)):
            if not any(abs(line.at - u.at) < SAME and line.kind == u.kind for u in unique):
                unique.append(line)
        spans.append((ends[0], *unique, ends[1]))
        for line in unique:
            near = line.at <= span / 2
            distance, edge = (line.at, names[0]) if near else (span - line.at, names[1])
            key = next((k for k in struck if abs(k[0] - distance) < SAME and k[1] == line.kind), (distance, line.kind))
            struck.setdefault(key, set()).add(edge)
    order = ("left", "right", "front", "back")
    scribe = tuple(
        ScribeSetting(setting, kind, tuple(e for e in order if e in edges)) for (setting, kind), edges in sorted(struck.items())
    )
    return Marking(spans[0], spans[1], scribe, _steps(blank))


def _cut_lines(blank: Blank, notch: Notch) -> list[tuple[int, float]]:
    """Straight sides of the waste that lie inside the rectangle and run with its edges: (axis, place)."""
    found: list[tuple[int, float]] = []
    points = notch.waste.points
    for i, (p, q) in enumerate(zip(points, np.roll(points, -1, axis=0), strict=True)):
        if notch.waste.bulges[i] != 0.0:
            continue
        for axis in (0, 1):
            at = float(p[axis] + q[axis]) / 2
            relieved = any(np.hypot(*((p + q) / 2 - r.centre)) < r.size * 0.75 for r in blank.reliefs)
            if abs(p[axis] - q[axis]) < 1e-6 and SAME < at < blank.size[axis] - SAME and not relieved:
                found.append((axis, at))
    return found


def _steps(blank: Blank) -> tuple[str, ...]:
    steps = [
        "Shear to size; both diagonals must measure the same.",
        "Scribe every setting below from the edges named, inside face up.",
    ]
    if blank.notches:
        steps.append("Shade the four corners that will be cut away, and check them before the first cut.")
        if blank.reliefs:
            steps.append("Drill or punch the reliefs where the fold lines cross.")
        steps.append("Cut the notches up to the line, never past it. Deburr.")
    return tuple(steps)
