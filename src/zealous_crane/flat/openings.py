"""Holes and cut-outs in words: what each is, what makes it, and the steps in which they are cut."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from .._typing import Array
from ..i18n import counted, the, tr
from ..job.tools import SmallTools
from ..part.edge import Edge
from ..units.length import INCH, Units
from ..units.quantities import show_angle
from .blank import Blank
from .features import Hole, Panel
from .notch import SAME
from .ruler import shown

LEVEL = 0.05
"""Degrees within which a cut-out lies along the blank."""

SQUARE = 90.0 + 1e-6
"""Degrees up to which a bend has an outside face a rule is held to."""

DRILLED, STEPPED = INCH / 2, INCH * 1.25
"""mm; the largest holes a twist drill and a step drill make in sheet by hand. Common practice, from
memory."""


def opening_words(kind: str, size: tuple[float, float], turn: float, units: Units) -> str:
    """What a hole or cut-out is, for whoever marks it: ``⌀ 1/8``, ``3 × 3 square, turned 45°``,
    ``slot 3 × 2, turned 30°``.

    Args:
        kind: as of :class:`Hole`.
        size: diameter twice, or length and width, mm.
        turn: degrees its length is turned from the blank's length.
        units: lengths are shown in.
    """
    a, b = size
    if kind in ("round", "relief"):
        return f"⌀ {shown(a, units)}"
    same = abs(a - b) < SAME
    text = tr("{a} × {b} square") if same and kind == "rectangle" else "{a} × {b}"
    if kind in ("slot", "fold slot"):
        text = tr("slot {a} × {b}")
    text = text.format(a=shown(a, units), b=shown(b, units))
    # A square looks the same every quarter turn, anything else every half.
    left = turn % (90.0 if same else 180.0)
    if min(left, (90.0 if same else 180.0) - left) < LEVEL:
        return text
    if not same and abs(left - 90.0) < LEVEL:
        return tr("{said}, along the width").format(said=text)
    return tr("{said}, turned {turn}").format(said=text, turn=show_angle(round(left, 1)))


@dataclass(frozen=True)
class HoleGroup:
    """Holes one tool makes.

    Attributes:
        size: diameter twice, or length and width, mm.
        kind: ``round``, ``slot``, ``rectangle`` or ``other``.
        names: of the holes, in the order they are marked.
        turn: degrees their length is turned from the blank's.
    """

    size: tuple[float, float]
    kind: str
    names: tuple[str, ...]
    turn: float = 0.0

    def says(self, units: Units) -> str:
        """``4 of ⌀ 1/8"``."""
        figure = opening_words(self.kind, self.size, self.turn, units)
        return tr("{count} of {figure}").format(count=len(self.names), figure=figure)

    def how(self, tools: SmallTools, units: Units) -> str:  # noqa: PLR0911
        """What makes it, in a phrase, by what hangs on the wall."""
        if self.kind == "round":
            across = self.size[0]
            if tools.punched(across, units):
                return tr("punch")
            if across <= DRILLED + SAME:
                return tr("drill")
            if across <= STEPPED + SAME:
                return tr("step drill")
            return tr("pilot hole inside the line, then saw or nibble to it")
        if self.kind == "slot":
            width = min(self.size)
            if tools.punched(width, units):
                return tr("punch both ends, cut out between them")
            if width <= STEPPED + SAME:
                return tr("drill both ends, cut out between them")
        if self.kind == "rectangle":
            return tr("pilot hole inside each corner, then saw or nibble to the lines")
        return tr("pilot hole inside the line, then saw or nibble to it")


def hole_groups(holes: Sequence[Hole]) -> tuple[HoleGroup, ...]:
    """Holes by the tool that makes them, the smallest first, so that each tool is taken up once."""
    result: dict[tuple[str, float, float, float], list[str]] = {}
    for hole in holes:
        key = (hole.kind, round(hole.size[0], 2), round(hole.size[1], 2), round(hole.turn, 1))
        result.setdefault(key, []).append(hole.name)
    groups = [
        HoleGroup((a, b), kind, tuple(names), turn) for (kind, a, b, turn), names in result.items()
    ]
    return tuple(sorted(groups, key=lambda group: (group.size, group.kind)))


def opening_steps(blank: Blank, units: Units) -> list[str]:
    """How what is cut out while the sheet is flat is made, the small holes first; then the slots
    along folds."""
    flat = [
        hole
        for hole in blank.holes
        if not hole.after_bending and hole.kind not in ("relief", "fold slot")
    ]
    steps: list[str] = []
    if flat:
        tools = "; ".join(
            tr("{count} ({how})").format(
                count=group.says(units), how=group.how(blank.small_tools, units)
            )
            for group in hole_groups(flat)
        )
        steps.append(
            tr("Centre-punch {which} and cut while flat: {tools}. Deburr.").format(
                which=tr("the hole")
                if len(flat) == 1
                else tr("all {first} holes").format(first=len(flat)),
                tools=tools,
            )
        )
    return steps


def slot_steps(blank: Blank, units: Units) -> list[str]:
    """The slots along every fold: how many, their size, and the bridges between them."""
    steps: list[str] = []
    for fold in blank.folds:
        slots = [
            hole
            for hole in blank.holes
            if hole.kind == "fold slot" and hole.name.startswith(f"{fold.name} ")
        ]
        if not slots:
            continue
        length, width = slots[0].size
        bridge = (fold.length - len(slots) * length) / (len(slots) + 1)
        if len(slots) > 1:
            bridge = float(np.hypot(*(slots[1].centre - slots[0].centre))) - length
        steps.append(
            tr(
                "Cut {slots} {length} × {width} along the {fold} line, bridges of {bridge} "
                "between them and at its ends."
            ).format(
                slots=counted("{count} slot", "{count} slots", len(slots)),
                length=shown(length, units),
                width=shown(width, units),
                fold=fold.name,
                bridge=shown(bridge, units),
            )
        )
    return steps


def late_steps(blank: Blank, units: Units) -> list[str]:
    """What is cut only when the part is bent, with its size; where it lies is told from faces of
    the bent part."""
    late = [hole for hole in blank.holes if hole.after_bending]
    if not late:
        return []
    return [
        tr("After bending: {late}.").format(
            late="; ".join(late_words(blank, hole, units) for hole in late)
        )
    ]


def late_words(blank: Blank, hole: Hole, units: Units) -> str:
    """A hole made after bending: its name, its size, and where its centre lies on the bent part.

    Args:
        blank: the flat.
        hole: the hole.
        units: what lengths are shown in.
    """
    text = f"{hole.name}, {opening_words(hole.kind, hole.size, hole.turn, units)}"
    places = [place.says(units) for place in finished_places(blank, hole)]
    return (
        tr("{said}, its centre {places}").format(said=text, places=tr(" and ").join(places))
        if places
        else text
    )


@dataclass(frozen=True)
class FinishedPlace:
    """How far the centre of a hole lies from something a rule reaches on the bent part.

    Attributes:
        distance: mm, along the panel.
        panel: name of the panel measured from: the neighbour whose outside face it is, or its own,
            whose end it is.
        end: which edge of its own panel, as it lies looking out from its fold; None for an outside
            face.
    """

    distance: float
    panel: str
    end: Edge | None

    def says(self, units: Units) -> str:
        """``1 1/2" from the outside face of the base``."""
        length, panel = shown(self.distance, units), the(self.panel)
        if self.end is None:
            return tr("{length} from the outside face of {panel}").format(
                length=length, panel=panel
            )
        return tr("{length} from the {side} edge of {panel}").format(
            length=length, side=self.end.words, panel=panel
        )


def finished_places(blank: Blank, hole: Hole) -> list[FinishedPlace]:
    """Two distances that place a hole on the bent part, one along each direction of its panel.

    Taken from the nearest outside face or true end; never from the apex of a bend past 90° or a
    hem, which no rule finds. Empty for a hole across a fold.
    """
    if hole.panel < 0:
        return []
    panel = blank.panels[hole.panel]
    own = next((fold for fold in blank.folds if fold.child == hole.panel), None)
    out = np.array([0.0, 1.0]) if own is None else own.outward
    result: list[FinishedPlace] = []
    across = np.array([out[1], -out[0]])
    for ends in (
        ((across, Edge.RIGHT), (-across, Edge.LEFT)),
        ((out, Edge.BACK), (-out, Edge.FRONT)),
    ):
        ways = [
            place
            for way, end in ends
            if (place := _place(blank, hole, panel, way, end)) is not None
        ]
        if ways:
            result.append(min(ways, key=lambda place: place.distance))
    return result


def _place(blank: Blank, hole: Hole, panel: Panel, way: Array, end: Edge) -> FinishedPlace | None:
    """What lies in one direction from the centre of a hole; None where no rule reaches it."""
    shape = shapely.Polygon(panel.polygon)
    ray = shapely.LineString([hole.centre, hole.centre + way * float(np.hypot(*blank.size)) * 2])
    hits = shapely.get_coordinates(shape.exterior.intersection(ray))
    if not len(hits):
        return None
    along = (hits - hole.centre) @ way
    met = hits[int(along.argmin())]
    distance = float(along.min())
    for fold in blank.folds:
        if hole.panel not in (fold.parent, fold.child):
            continue
        line = shapely.LineString([fold.start, fold.end])
        if (
            line.distance(shapely.Point(met)) > fold.bend.allowance / 2 + SAME
            or abs(abs(float(fold.outward @ way)) - 1) > SAME
        ):
            continue
        if abs(fold.angle) > SQUARE:
            return None
        other = blank.panels[fold.child if fold.parent == hole.panel else fold.parent]
        return FinishedPlace(distance + fold.bend.outside_setback, other.name, None)
    return FinishedPlace(distance, panel.name, end)
