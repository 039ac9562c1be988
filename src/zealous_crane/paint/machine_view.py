"""A job in three dimensions: bed, fingers or punch and die, leaf or ram, and the part as it
stands, from wherever one looks."""

from __future__ import annotations

import dataclasses
import itertools
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPen

from .._typing import Array
from ..bending.drawing import OutlineKind
from ..cache import cached
from ..flat.folding import IDENTITY, strip_section
from ..flat.ring import area, convex_pieces
from ..kernel.obstacle import Phase
from ..kernel.plane import turned
from ..kernel.solid import Body, Solid
from ..planning.motion import Handling, JobMotion, Moment, bed_shown, corners_of, solids_at
from ..planning.plan import PlannedStroke
from .depth import Face
from .folded import (
    FoldedPicture,
    Prism,
    apart,
    fitted,
    prism_faces,
    rims_of,
    shaded,
    shades_of,
    view_axes,
)
from .theme import Theme

EYE = (-28.0, 24.0)
"""Turn and tilt at which the brake is first looked at: from its front, a little to the left and
above."""

STRIP = -1
"""Number of the faces of bends: they have no edges of their own."""

COLOURS = {"section": "tool", "edge": "metal_edge"}
"""Colours of the kinds of faces whose own name is none."""

GLASS = 55
"""Of 255: how much of what is seen through is drawn."""

ABOVE = 2.0
"""mm above the bed from which a leaf on its way is seen through, as what rises with the clamp
always is: either would hide the part."""


def _extruded(outline: Array, low: float, high: float, kind: str, *, glass: bool) -> list[Prism]:
    """An outline (n, 2), (y, z), drawn out along x, in convex pieces."""
    pieces = convex_pieces(outline if area(outline) > 0 else outline[::-1])
    prisms = []
    for piece, rims in zip(pieces, rims_of(pieces), strict=True):
        near, far = (np.column_stack([np.full(len(piece), x), piece]) for x in (low, high))
        prisms.append(Prism(near, far, IDENTITY, (kind, kind), 0, rims, kind, glass))
    return prisms


Extent = tuple[float, float]
"""What of the machine is shown, from and to (mm along the bed)."""


def moment_faces(moment: Moment, shown: Extent | None = None) -> list[Face]:
    """Faces of machine and part in the frame of the stroke, mm: x along the fold, y to the back, z
    up.

    Args:
        moment: where everything stands.
        shown: what of the machine is shown; None shows it beside the part.
    """
    return prism_faces([*_part(moment), *_machine(moment, shown or bed_shown([moment.stroke]))])


def _part(moment: Moment) -> Iterator[Prism]:
    stroke, degrees = moment.stroke, moment.degrees
    engine = stroke.verdict.stroke
    setting = engine.setting
    pole = setting.pole
    back = -math.radians(degrees) * (1.0 - engine.in_front)
    in_place = moment.at is IDENTITY and not moment.raised
    hit = touched(stroke, degrees) if in_place else None
    pieces = list(solids_at(stroke, degrees))
    rims = [seen for solids in setting.solids for seen in _sides_seen(solids)]
    for (swings, solid, corners), seen in zip(pieces, rims, strict=True):
        half = len(corners) // 2
        if solid.body == hit:
            kinds, side = ("stop", "stop"), "stop"
        elif swings and solid.panel in setting.folding_panels:
            kinds, side = ("moving", "moving"), "moving"
        else:
            kinds, side = ("outside", "inside"), "edge"
        number = STRIP if solid.panel < 0 else 0
        yield Prism(corners[:half], corners[half:], moment.at, kinds, number, seen, side)
    low, high = setting.span
    for piece in strip_section(setting.line.bend, max(degrees, 0.0)):
        outline = turned(np.column_stack([-piece[:, 0], piece[:, 1]]), pole, back)
        for prism in _extruded(outline, low, high, "moving", glass=False):
            yield dataclasses.replace(prism, pose=moment.at)


def _sides_seen(solids: Sequence[Solid]) -> list[Sequence[bool]]:
    """For every side of each solid, whether it is seen: between two chords of one bend is metal."""
    seen: list[Sequence[bool]] = [(True,) * (len(solid.corners) // 2) for solid in solids]
    strips: dict[int, list[int]] = {}
    for k, solid in enumerate(solids):
        if solid.panel < 0:
            strips.setdefault(solid.panel, []).append(k)
    for numbers in strips.values():
        rings = [solids[k].corners[: len(solids[k].corners) // 2] for k in numbers]
        for k, sides in zip(numbers, apart(rings), strict=True):
            seen[k] = sides
    return seen


def _machine(moment: Moment, shown: Extent) -> Iterator[Prism]:
    engine = moment.stroke.verdict.stroke
    if engine.over is not None:
        # What is bent at the end of the brake hangs past it.
        shown = max(shown[0], engine.over[0]), min(shown[1], engine.over[1])
    for drawn in engine.tools_at(moment.machine):
        outline = drawn.outline + np.array([0.0, moment.raised if drawn.rises else 0.0])
        if drawn.kind is OutlineKind.SECTION:
            for a, b in moment.sections or (engine.setting.span,):
                yield from _extruded(outline, a, b, "section", glass=False)
        else:
            swings_up = engine.in_front == 1.0 and float(drawn.outline[:, 1].max()) > ABOVE
            low, high = drawn.along or shown
            yield from _extruded(outline, low, high, "tool", glass=drawn.rises or swings_up)


def touched(stroke: PlannedStroke, degrees: float) -> Body | None:
    """What of the part touches the machine, or the part, at an angle; None where nothing does."""
    contact, limit = stroke.contact, stroke.verdict.limit
    if limit is not None and limit.obstacle.phase is not Phase.SWING:
        return limit.obstacle.body._replace(across=False)
    if contact is None or degrees < contact.angle - 1e-6:
        return None
    return contact.obstacle.body


@dataclass(frozen=True, eq=False)
class Shot:
    """From where a movement is looked at.

    Attributes:
        view: turn and tilt of the eye, degrees.
        frame: (n, 3) mm, what is to be in the picture; None takes the part and the tools.
        shown: what of the machine is shown; None shows it beside the part.
    """

    view: tuple[float, float] = EYE
    frame: Array | None = None
    shown: Extent | None = None


def paint_moment(p: QPainter, rect: QRectF, moment: Moment, look: Theme, shot: Shot) -> int:
    """Draw machine and part; what hangs over the part is seen through. Returns the faces drawn.

    Args:
        p: the painter.
        rect: where it is drawn.
        moment: where everything stands.
        look: the colours.
        shot: from where it is looked at.
    """
    p.save()
    p.setClipRect(rect)
    axes = view_axes(*shot.view)
    scale = fitted(rect, _frame(moment.stroke) if shot.frame is None else shot.frame, axes)
    faces = moment_faces(moment, shot.shown)
    facing = np.array([face.normal for face in faces]) @ axes[2] > 1e-9
    picture = FoldedPicture(
        [
            face
            for face, seen in zip(faces, facing.tolist(), strict=True)
            if seen or face.seen_through
        ]
    )
    at = picture.points @ axes[:2].T * (scale.factor, -scale.factor) + (scale.left, scale.bottom)
    places = at.tolist()
    shades = shades_of(picture.tree.normals)
    order = picture.tree.ordered(axes[2], turned_away=True)
    for number in order:
        face, (begin, end) = picture.tree.faces[number], picture.spans[number]
        ring = [QPointF(x, y) for x, y in places[begin:end]]
        name = COLOURS.get(face.kind, face.kind)
        brush, pen = _drawn_with(
            look.color(name).rgba(),
            look.color("tool_edge" if name == "tool" else "metal_edge").rgba(),
            shades[number],
            glass=face.seen_through,
        )
        # Filling with smooth borders takes ten times as long, and the rim is smooth in any case.
        p.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        p.setBrush(brush)
        p.setPen(Qt.PenStyle.NoPen)
        p.drawPolygon(ring)
        if face.panel == STRIP:
            continue
        p.setRenderHint(QPainter.RenderHint.Antialiasing, True)
        p.setPen(pen)
        if all(face.outlines):
            p.drawPolyline([*ring, ring[0]])
        else:
            p.drawLines(
                [
                    QLineF(ring[k], ring[k + 1 - len(ring)])
                    for k, seen in enumerate(face.outlines)
                    if seen
                ]
            )
    p.restore()
    return len(order)


@cached(512, lasts=True)
def _drawn_with(rgba: int, edge: int, shade: int, *, glass: bool) -> tuple[QBrush, QPen]:
    """What a face of a colour is filled and rimmed with at so much light."""
    color, rim = shaded(QColor.fromRgba(rgba), shade), QColor.fromRgba(edge)
    if glass:
        color.setAlpha(GLASS)
        rim.setAlpha(2 * GLASS)
    return QBrush(color), QPen(rim, 1.0)


def film_shot(motion: JobMotion, view: tuple[float, float]) -> Shot:
    """How a whole job is looked at: the same machine from the same place, near enough that the part
    is never out of the picture.

    Args:
        motion: of the job.
        view: turn and tilt of the eye, degrees.
    """
    strokes = list(dict.fromkeys(span.end.stroke for span in motion.spans))
    frames = [_frame(stroke) for stroke in strokes]
    frames += [
        moment.at.apply(corners_of(moment.stroke, moment.degrees))
        for span in motion.spans
        for moment in (span.begin, span.moment(0.5), span.end)
        if span.kind in (Handling.TURN, Handling.TAKE_OUT, Handling.BRING_IN)
    ]
    boxes = [
        list(itertools.product(*zip(corners.min(axis=0), corners.max(axis=0), strict=True)))
        for corners in frames
    ]
    return Shot(view, np.concatenate(boxes), bed_shown(strokes))


def _frame(stroke: PlannedStroke) -> Array:
    """Corners (n, 3) by which the picture is fitted: the part before the stroke and the sections,
    so that nothing changes its size while it swings."""
    setting = stroke.verdict.stroke.setting
    corners = [solid.corners for group in setting.solids for solid in group]
    for drawn in stroke.verdict.stroke.tools_at(0.0):
        if drawn.kind is OutlineKind.SECTION:
            low, high = setting.span
            corners += [
                np.column_stack([np.full(len(drawn.outline), x), drawn.outline])
                for x in (low, high)
            ]
    return np.concatenate(corners)
