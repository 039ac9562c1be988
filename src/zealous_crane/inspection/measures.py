"""One size of a finished part: what is wanted, what is allowed, how it came out."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from .._typing import Array
from ..flat.blank import Blank
from ..flat.element import MadeBy
from ..flat.features import Fold
from ..i18n import Phrase, msg, the
from ..part.edge import EDGE_WORDS
from .model import Anchor, Measure, What
from .probe import TANGENT, Metal, along_leg, between_bends, diagonal, leg, opening

NEAR_EDGE = 0.75
"""Of what is allowed: from here on a size is near the edge of it."""


class Stands(StrEnum):
    """How a size came out."""

    OPEN = "open"
    GOOD = "good"
    NEAR = "near"
    OUT = "out"


@dataclass(frozen=True)
class InspectedSize:
    """One size.

    Attributes:
        measure: what is measured.
        wanted: mm or degrees.
        allowed: how far it may be off either way.
        standard: the standard that says so; empty where it is the job, or the general tolerance.
        promised: within how much of what is wanted nine parts in ten come out, when all goes as
            usual.
    """

    measure: Measure
    wanted: float
    allowed: float
    promised: float
    standard: str = ""

    def stands(self, got: float | None) -> Stands:
        """How it came out."""
        if got is None:
            return Stands.OPEN
        off = abs(got - self.wanted)
        return (
            Stands.OUT
            if off > self.allowed + 1e-9
            else Stands.NEAR
            if off > NEAR_EDGE * self.allowed
            else Stands.GOOD
        )


LONG = 150.0
"""mm; a fold longer than this is measured at both ends. Common practice, no source."""

SQUARE = 3.0
"""Degrees off a right angle up to which a leg is measured square to what carries it."""

FLAT = 150.0
"""Degrees from which a fold is a hem, which has no angle to be read."""


def measures_of(blank: Blank, datum: str = TANGENT, within: bool = False) -> tuple[Measure, ...]:
    """Everything a hand can measure with rule, caliper and protractor, each once.

    Args:
        blank: the part as it is wanted.
        datum: to where sizes are read over a bend of more than 90°, as the job says.
        within: the job's sizes are inside sizes; walls are then measured from the inside face of
            what carries them.
    """
    metal = Metal(blank)
    result = [
        Measure("sheet", msg("thickness of the sheet, with a micrometer"), What.SHEET),
        *_angles(blank),
        *_legs(metal, datum, within),
        *_between_bends(blank, datum),
        *_openings(metal),
        *_diagonals(metal),
        *_flat(blank),
        *_holes(blank),
    ]
    return tuple(result)


def _formed(blank: Blank) -> Iterator[tuple[int, Fold]]:
    """Folds that make a leg: of the brake, hems left out."""
    for i, fold in enumerate(blank.folds):
        if fold.made_by is MadeBy.BRAKE and abs(fold.angle) < FLAT:
            yield i, fold


def _ends(fold: Fold) -> tuple[int, ...]:
    return (-1, 1) if fold.length > LONG else (0,)


def _at_end(end: int) -> Phrase:
    return {-1: msg(", left end"), 1: msg(", right end")}.get(end, "")


def _angles(blank: Blank) -> Iterator[Measure]:
    for i, fold in _formed(blank):
        for end in _ends(fold):
            says = msg("angle of {name}{end}", name=the(fold.name), end=_at_end(end))
            yield Measure(f"angle:{i}:{end}", says, What.ANGLE, i, end)


def _frame(fold: Fold) -> tuple[Array, Array]:
    v = fold.outward
    return np.array([v[1], -v[0]]), v


def outer_edge(blank: Blank, fold: Fold) -> tuple[Array, int]:
    """Ends (2, 2) of the outermost line of the panel a fold carries, what it carries counted: over
    a hem's bend, to the outside of a lip; and the index of that hem or lip, −1 where the edge is
    cut."""
    u, v = _frame(fold)
    ring = blank.panels[fold.child].polygon
    reach, ends_in = float((ring @ v).max()), -1
    for i, other in enumerate(blank.folds):
        if (
            blank.panels[other.parent] is blank.panels[fold.child]
            and float(other.outward @ v) > 0.97
        ):
            bend = other.bend
            over = bend.radius + bend.thickness if bend.angle > 90 else bend.outside_setback
            at = float(other.start @ v) - bend.allowance / 2 + over
            if at > reach:
                reach, ends_in = at, i
    # The free edge may be shorter than the fold: its own ends are measured at.
    far = ring[ring @ v > (ring @ v).max() - 0.5]
    along = (float((far @ u).min()), float((far @ u).max()))
    return np.array([along[0] * u + reach * v, along[1] * u + reach * v]), ends_in


def _legs(metal: Metal, datum: str, within: bool) -> Iterator[Measure]:
    blank = metal.blank
    for i, fold in _formed(blank):
        edge, ends_in = outer_edge(blank, fold)
        up = 1.0 if fold.angle > 0 else -1.0
        square = abs(abs(fold.angle) - 90.0) <= SQUARE
        for end in _ends(fold):
            # Seen from the fold looking out, u runs from left to right.
            point = edge[0] if end < 0 else edge[1] if end > 0 else edge.mean(axis=0)
            tips = tuple(
                Anchor(fold.child, (float(point[0]), float(point[1])), face, ends_in)
                for face in (0, 1)
            )
            says = msg("{name}, outside{end}", name=fold.name, end=_at_end(end))
            if _goes_on(blank, fold) if square else _bent_beyond(blank, fold):
                continue  # it is measured from bend to bend
            if not square:
                yield Measure(
                    f"leg:{i}:{end}",
                    says,
                    What.APEX,
                    i,
                    end,
                    one=tips,
                    reads=along_leg(metal, i, end, datum),
                )
                continue
            foot = fold.start if end < 0 else fold.end if end > 0 else (fold.start + fold.end) / 2
            foot = foot - fold.outward * (fold.bend.allowance / 2 + 1.0)
            # A gauge stands on the face the leg rises from, where nothing turned in lies over it.
            inner = within and not _lip(blank, ends_in)
            under = Anchor(fold.parent, (float(foot[0]), float(foot[1])), int((up > 0) is inner))
            key, reads = f"leg:{i}:{end}", leg(metal, i, end)
            if inner:
                says, key, reads = (
                    msg("{name}, inside{end}", name=fold.name, end=_at_end(end)),
                    f"depth:{i}:{end}",
                    reads - metal.t,
                )
            yield Measure(
                key,
                says,
                What.LEG,
                i,
                end,
                one=(under,),
                other=tips,
                along=(fold.parent, (0.0, 0.0, up)),
                reads=reads,
                within=inner,
            )


def _lip(blank: Blank, ends_in: int) -> bool:
    """True where an edge ends in a lip, not in a hem that lies flat, or plain."""
    return ends_in >= 0 and abs(blank.folds[ends_in].angle) < FLAT


def _bent_beyond(blank: Blank, fold: Fold) -> bool:
    """True where the panel a fold carries ends in another bend straight ahead."""
    return any(
        f.parent == fold.child and float(f.outward @ fold.outward) > 0.999
        for _, f in _formed(blank)
    )


def _goes_on(blank: Blank, fold: Fold) -> bool:
    """True where the panel a fold carries goes on past its next bend, so that no jaw finds its
    end."""
    return any(
        f.parent == fold.child
        and float(f.outward @ fold.outward) > 0.999
        and abs(f.angle) < 90.0 - SQUARE
        for _, f in _formed(blank)
    )


def _between_bends(blank: Blank, datum: str) -> Iterator[Measure]:
    """Legs of a strip between two bends that are not both square, or go opposite ways: along the
    outside of one of them."""
    formed = list(_formed(blank))
    for k, (i, one) in enumerate(formed):
        for j, other in formed[:k]:
            shared = {one.parent, one.child} & {other.parent, other.child}
            if len(shared) != 1:
                continue
            panel = next(iter(shared))
            opposite = float(_away(one, panel) @ _away(other, panel)) < -0.999
            square = (
                all(abs(abs(f.angle) - 90.0) <= SQUARE for f in (one, other))
                and one.angle * other.angle > 0
            )
            if opposite and not square:
                says = msg("{name}, outside, bend to bend", name=blank.panels[panel].name)
                yield Measure(
                    f"between:{j}:{i}",
                    says,
                    What.APEX,
                    i,
                    0,
                    j,
                    reads=between_bends(blank, i, j, datum),
                )


def _pairs(blank: Blank) -> Iterator[tuple[int, int]]:
    """Pairs of folds on opposite sides of one panel that turn the same way by about a right
    angle."""
    standing = [(i, f) for i, f in _formed(blank) if abs(abs(f.angle) - 90.0) <= SQUARE]
    sides = [(i, f.parent, f.outward, f) for i, f in standing] + [
        (i, f.child, -f.outward, f) for i, f in standing
    ]
    for k, (i, panel, out, fold) in enumerate(sides):
        for j, other, away, mate in sides[:k]:
            if (
                other == panel
                and i != j
                and float(out @ away) < -0.999
                and fold.angle * mate.angle > 0
            ):
                yield j, i


def _openings(metal: Metal) -> Iterator[Measure]:
    blank = metal.blank
    for i, j in _pairs(blank):
        one, other = blank.folds[i], blank.folds[j]
        shared = {one.parent, one.child} & {other.parent, other.child}
        panel = shared.pop()
        out = _away(other, panel)
        walls = [fold.child if fold.parent == panel else fold.parent for fold in (one, other)]
        up = one.angle > 0
        inner, outer = (1, 0) if up else (0, 1)
        name = msg(
            "{one} to {other}", one=blank.panels[walls[0]].name, other=blank.panels[walls[1]].name
        )
        direction = (panel, (float(out[0]), float(out[1]), 0.0))
        low = [
            _on(blank, fold, panel, wall, outer, high=False)
            for fold, wall in zip((one, other), walls, strict=True)
        ]
        rim = [
            _on(blank, fold, panel, wall, inner, high=True)
            for fold, wall in zip((one, other), walls, strict=True)
        ]
        yield Measure(
            f"over:{i}:{j}",
            msg("{name}, over the outsides at the foot", name=name),
            What.OUTSIDE,
            one=(low[0],),
            other=(low[1],),
            along=direction,
        )
        level = blank.stood[panel].turn @ np.array([*out, 0.0])
        yield Measure(
            f"opening:{i}:{j}",
            msg("{name}, opening inside at the rim", name=name),
            What.INSIDE,
            one=(rim[0],),
            other=(rim[1],),
            along=direction,
            reads=opening(metal, (i, j), panel, level),
        )


def _away(fold: Fold, panel: int) -> Array:
    """From a panel out over one of its folds."""
    return fold.outward if fold.parent == panel else -fold.outward


def _on(blank: Blank, fold: Fold, panel: int, wall: int, face: int, *, high: bool) -> Anchor:
    """A point of a wall near its foot, or just below its rim."""
    out = _away(fold, panel)
    ring = blank.panels[wall].polygon
    start, reach = float(fold.start @ out), float((ring @ out).max())
    foot = start + fold.bend.allowance / 2
    at = foot + 0.92 * (reach - foot) if high else foot + min(3.0, 0.1 * (reach - foot))
    middle = (fold.start + fold.end) / 2
    point = middle + (at - float(middle @ out)) * out
    return Anchor(wall, (float(point[0]), float(point[1])), face)


def _diagonals(metal: Metal) -> Iterator[Measure]:
    """Both diagonals of a box over the outermost points of its corners at the foot, where four
    walls stand on one panel."""
    blank = metal.blank
    base = 0
    walls = {
        k: f for k, f in _formed(blank) if f.parent == base and abs(abs(f.angle) - 90.0) <= SQUARE
    }
    ends = sorted(
        (f for f in walls.values() if abs(f.outward[0]) > 0.999), key=lambda f: float(f.outward[0])
    )
    if len(ends) != 2 or sum(abs(f.outward[1]) > 0.999 for f in walls.values()) != 2:
        return
    for k, (a, b) in enumerate((("front", "back"), ("back", "front"))):
        corners = []
        for fold, side in zip(ends, (a, b), strict=True):
            end = min(
                (fold.start, fold.end), key=lambda p: float(p[1]) * (1 if side == "front" else -1)
            )
            point = end + fold.outward * (fold.bend.allowance / 2 + 1.0)
            corners.append(
                Anchor(fold.child, (float(point[0]), float(point[1])), 0 if fold.angle > 0 else 1)
            )
        says = msg("diagonal, left {a} to right {b}", a=EDGE_WORDS[a], b=EDGE_WORDS[b])
        standing = [i for i in walls if walls[i].parent == base]
        at_corner = [i for i, f in _formed(blank) if f.parent in {walls[i].child for i in standing}]
        wide = [
            float(
                np.ptp(
                    [float(f.start[axis]) for f in walls.values() if abs(f.outward[axis]) > 0.999]
                )
            )
            for axis in (0, 1)
        ]
        way = np.array([wide[0], wide[1] if a == "front" else -wide[1], 0.0]) / math.hypot(*wide)
        read = diagonal(metal, [*standing, *at_corner], base, way)
        yield Measure(
            f"diagonal:{k}", says, What.DIAGONAL, one=(corners[0],), other=(corners[1],), reads=read
        )


def _flat(blank: Blank) -> Iterator[Measure]:
    """Length and width of what is left flat from edge to edge: the base, where nothing stands on
    one of its sides."""
    ring = blank.panels[0].polygon
    for axis, name in ((0, msg("length")), (1, msg("width"))):
        edges = [p for p in (ring[:, axis].min(), ring[:, axis].max())]
        folded = {
            round(float(f.outward[axis]))
            for f in blank.folds
            if f.parent == 0 and abs(f.outward[axis]) > 0.999
        }
        if folded == {1, -1}:
            continue
        middle = ring.mean(axis=0)
        ends = []
        for sign, at in zip((-1, 1), edges, strict=True):
            fold = next(
                (f for f in blank.folds if f.parent == 0 and float(f.outward[axis]) * sign > 0.999),
                None,
            )
            point = middle.copy()
            point[axis] = (
                at
                if fold is None
                else float(fold.start[axis]) + sign * (fold.bend.allowance / 2 + 2.0)
            )
            panel = 0 if fold is None else fold.child
            face = 0 if fold is None or fold.angle > 0 else 1
            ends.append(Anchor(panel, (float(point[0]), float(point[1])), face))
        direction = tuple(float(x) for x in np.eye(3)[axis])
        yield Measure(
            f"flat:{axis}",
            msg("{name} of the base", name=name),
            What.FLAT,
            one=(ends[0],),
            other=(ends[1],),
            along=(0, (direction[0], direction[1], direction[2])),
        )


def _holes(blank: Blank) -> Iterator[Measure]:
    """Every hole's middle from the nearest finished outside, along both directions of its panel."""
    for k, hole in enumerate(blank.holes):
        if hole.panel < 0 or hole.kind in ("relief", "fold slot") or hole.edge:
            continue
        u, v = _frame(next((f for f in blank.folds if f.child == hole.panel), _BASE))
        for axis, way in (("u", u), ("v", v)):
            result = _nearest_outside(blank, hole.panel, hole.centre, way)
            if result is None:
                continue
            anchor, name = result
            middle = Anchor(hole.panel, (float(hole.centre[0]), float(hole.centre[1])), anchor.face)
            sign = 1.0 if float((np.array(anchor.at) - hole.centre) @ way) < 0 else -1.0
            yield Measure(
                f"hole:{k}:{axis}",
                msg("{hole}, from {name}", hole=hole.name, name=the(name)),
                What.HOLE,
                one=(anchor,),
                other=(middle,),
                along=(hole.panel, (sign * float(way[0]), sign * float(way[1]), 0.0)),
            )


class _Base:
    """The frame of a panel nothing carries."""

    outward = np.array([0.0, 1.0])


_BASE: Fold = _Base()  # type: ignore[assignment]


def _nearest_outside(
    blank: Blank, panel: int, centre: Array, way: Array
) -> tuple[Anchor, Phrase] | None:
    """The outside a hole is measured from along a direction of its panel: of a wall that stands
    there, or the panel's edge."""
    ring = blank.panels[panel].polygon
    best: tuple[float, Anchor, Phrase] | None = None
    for sign in (-1.0, 1.0):
        out = way * sign
        fold = next(
            (
                f
                for f in blank.folds
                if panel in (f.parent, f.child)
                and float(_away(f, panel) @ out) > 0.999
                and abs(f.angle) < FLAT
            ),
            None,
        )
        if fold is not None:
            other = fold.child if fold.parent == panel else fold.parent
            at = float(fold.start @ out) + fold.bend.allowance / 2 + 1.0
            anchor_face, where = (0 if fold.angle > 0 else 1), other
            name: Phrase = blank.panels[other].name
        else:
            at, anchor_face, where, name = (
                float((ring @ out).max()),
                0,
                panel,
                msg("edge of {panel}", panel=the(blank.panels[panel].name)),
            )
        point = centre + (at - float(centre @ out)) * out
        away = abs(at - float(centre @ out))
        if best is None or away < best[0] - 1e-6:
            best = away, Anchor(where, (float(point[0]), float(point[1])), anchor_face), name
    return None if best is None or not math.isfinite(best[0]) else (best[1], best[2])
