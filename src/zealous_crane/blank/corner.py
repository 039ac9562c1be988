"""What a corner adds to a wall: the tab that lies on its neighbour, the ear of a folded corner; and where two walls meet."""

from __future__ import annotations

import math

from ..allowance import Bend
from ..job import Job
from ..measure import show_length
from ..measure.words import the, tr
from ..part import Corner, Edge, End, Tab
from .element import Bends, DevelopmentError, Element, MadeBy


def stem(wall: Element) -> str:
    """A wall's name without the word wall."""
    return wall.name.removesuffix(" wall")


def spread_angle(a: float, b: float, exterior: float) -> float:
    """Degrees between two walls standing at ``a`` and ``b`` degrees on edges that turn by ``exterior``: what a tab folds.

    From the walls' inside normals: cos = cos a·cos b + sin a·sin b·cos ε.
    """
    a, b, e = (math.radians(x) for x in (a, b, exterior))
    return math.degrees(math.acos(max(-1.0, min(1.0, math.cos(a) * math.cos(b) + math.sin(a) * math.sin(b) * math.cos(e)))))


def meeting_slope(a: float, b: float, exterior: float) -> float:
    """How fast the inside faces of two walls meet farther out, mm per mm up the first, positive when it grows wider.

    Wall a leans at ``a`` degrees, its neighbour at ``b``, on edges that turn by ``exterior``. A point u along and v up wall a lies
    u·sin ε + v·cos a·cos ε out from the neighbour's edge, at height v·sin a, where the neighbour has come v·sin a·cot b.
    """
    a, b, e = (math.radians(x) for x in (a, b, exterior))
    if abs(a - b) < 1e-12:
        return math.cos(a) * math.tan(e / 2)
    return (math.sin(a) / math.tan(b) - math.cos(a) * math.cos(e)) / math.sin(e)


def corner_tab(
    job: Job, bends: Bends, wall: Element, neighbour: Element, side: str, tab: Tab, between: float, gap: float, along: float
) -> Element:
    """The tab on one end of a wall.

    Args:
        job: for units.
        bends: its bends.
        wall: carries it, on its ``side`` (left or right).
        neighbour: the wall it lies on.
        tab: its sizes.
        between: degrees it is folded.
        gap: of the corner, mm.
        along: length of the neighbour, mm.

    Raises:
        DevelopmentError: it is longer than the neighbour, no longer than its own bend, or tapers away.
    """
    assert wall.bend is not None and neighbour.bend is not None
    bend = bends.of(between)
    if tab.length > along:
        raise DevelopmentError(
            tr("The tab of {length} on {name} is longer than {name_2} it lies on, {along}.").format(
                length=show_length(tab.length, job.units),
                name=the(wall.name),
                name_2=the(neighbour.name),
                along=show_length(along, job.units),
            )
        )
    if tab.length <= bend.inside_setback:
        raise DevelopmentError(
            tr("The tab of {length} on {name} is no longer than its own bend.").format(
                length=show_length(tab.length, job.units), name=the(wall.name)
            )
        )
    foot = tab.foot if tab.foot is not None else max(wall.bend.inside_setback, neighbour.bend.inside_setback) + gap
    bottom, top = End(trim=foot, taper=tab.taper), End(trim=tab.top, taper=tab.taper)
    if foot + tab.top + 2 * tab.length * math.tan(math.radians(tab.taper)) >= wall.height:
        raise DevelopmentError(
            tr(
                "The tab of {length} on {name} tapers away to nothing: make it shorter, its taper less, or the wall higher."
            ).format(length=show_length(tab.length, job.units), name=the(wall.name))
        )
    edge, ends = (Edge.LEFT, (bottom, top)) if side == "left" else (Edge.RIGHT, (top, bottom))
    return Element(
        edge.turn, f"{stem(wall)} {stem(neighbour)} tab", tr("tab"), bend, wall.sign, tab.length, ends, tab=tab, lies_on=neighbour.name
    )  # fmt: skip


def corner_ear(
    job: Job, wall: Element, neighbour: Element, side: str, carries: bool, corner: Corner
) -> tuple[float, tuple[Element, ...]]:
    """A folded corner: the wall that takes the ear ends where it is; the other one carries the ear's two halves.

    Returns:
        how far the wall's end stays back (negative: runs on), mm, and what it carries.

    Raises:
        DevelopmentError: walls of unequal height, not square, or too low.
    """
    assert wall.bend is not None and neighbour.bend is not None
    units, t = job.units, job.sheet.thickness
    if abs(wall.height - neighbour.height) > 1e-6:
        raise DevelopmentError(
            tr("A folded corner needs two walls of one height; {name} is {height} and {name_2} {height_2} high inside.").format(
                name=the(wall.name),
                height=show_length(wall.height, units),
                name_2=the(neighbour.name),
                height_2=show_length(neighbour.height, units),
            )
        )
    if abs(wall.bend.angle - 90) > 1e-6 or abs(neighbour.bend.angle - 90) > 1e-6 or wall.sign < 0:
        raise DevelopmentError(tr("A folded corner is for walls that stand at 90°; choose another corner."))
    if carries:
        return 0.0, ()
    # Two thicknesses lie between wall and ear, so its crease moves out by them; inside, in.
    shift = 2 * t if corner.ear_outside else -2 * t
    high = wall.height
    if high <= 4 * t:
        raise DevelopmentError(tr("A wall of {high} is too low for a folded corner.").format(high=show_length(high, units)))
    # Along the crease from the bottom: the diagonal starts where the walls' inside corners meet on the flat.
    off = shift - wall.bend.gain
    low = max(off, 0.0)
    shape = (
        [(low, 0.0), (high, 0.0), (high, high - off)] if off > 0 else [(0.0, 0.0), (high, 0.0), (high, high - off), (0.0, -off)]
    )
    diagonal = 2
    if side == "right":
        mirrored = [(high - u, v) for u, v in shape]
        shape = [mirrored[1], mirrored[0], *mirrored[:1:-1]]
        diagonal = 1 if off > 0 else 2
    long = math.sqrt(2) * (high - low)
    other = Element(
        diagonal, f"{stem(wall)} {stem(neighbour)} ear, far half", tr("ear"), Bend(180.0, 0.0, t, 2 * t), 1,
        long / 2, made_by=MadeBy.HAND, corners=((0.0, 0.0), (long, 0.0), (long / 2, long / 2)),
        ear=True,
    )  # fmt: skip
    ear = Element(
        (Edge.LEFT if side == "left" else Edge.RIGHT).turn, f"{stem(wall)} {stem(neighbour)} ear", tr("ear"),
        Bend(90.0, 0.0, t, 0.0), 1, high, made_by=MadeBy.HAND, corners=tuple(shape), standing=(other,), ear=True,
    )  # fmt: skip
    return -shift, (ear,)
