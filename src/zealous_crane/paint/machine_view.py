"""A stroke in three dimensions: bed, fingers or punch and die, leaf or ram, and the part as it
stands, from wherever one looks."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

import numpy as np
from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPen

from .._typing import Array
from ..bending.drawing import OutlineKind
from ..cache import cached
from ..flat.folding import Pose, strip_section
from ..flat.ring import area, convex_pieces
from ..kernel.obstacle import Phase
from ..kernel.plane import turned
from ..kernel.solid import Body, Solid
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

STILL = Pose(np.eye(3), np.zeros(3))
"""Where what is given in the frame of the stroke stands."""

BESIDE = 40.0
"""mm of the machine shown beside the part at either end."""

STRIP = -1
"""Number of the faces of bends: they have no edges of their own."""

COLOURS = {"section": "tool", "edge": "metal_edge"}
"""Colours of the kinds of faces whose own name is none."""

GLASS = 55
"""Of 255: how much of what is seen through is drawn."""

ABOVE = 2.0
"""mm above the bed from which a tool is seen through: a beam, or a leaf on its way, would hide the
part."""


def _extruded(outline: Array, low: float, high: float, kind: str, *, glass: bool) -> list[Prism]:
    """An outline (n, 2), (y, z), drawn out along x, in convex pieces."""
    pieces = convex_pieces(outline if area(outline) > 0 else outline[::-1])
    prisms = []
    for piece, rims in zip(pieces, rims_of(pieces), strict=True):
        near, far = (np.column_stack([np.full(len(piece), x), piece]) for x in (low, high))
        prisms.append(Prism(near, far, STILL, (kind, kind), 0, rims, kind, glass))
    return prisms


def _turned_in_space(points: Array, pole: Array, angle: float) -> Array:
    """Points (n, 3) turned about a line along x."""
    if not angle:
        return points
    return np.column_stack([points[:, 0], turned(points[:, 1:], pole, angle)])


def stroke_faces(stroke: PlannedStroke, degrees: float) -> list[Face]:
    """Faces of machine and part in the frame of the stroke, mm: x along the fold, y to the back, z
    up.

    Args:
        stroke: the stroke.
        degrees: the angle its fold stands at.
    """
    return prism_faces([*_part(stroke, degrees), *_machine(stroke, degrees)])


def _part(stroke: PlannedStroke, degrees: float) -> Iterator[Prism]:
    engine = stroke.verdict.stroke
    setting = engine.setting
    pole = setting.pole
    back = -math.radians(degrees) * (1.0 - engine.in_front)
    hit = touched(stroke, degrees)
    for group, solids in enumerate(setting.solids):
        swing = math.radians(degrees) if group else 0.0
        rims = _sides_seen(solids)
        for solid, seen in zip(solids, rims, strict=True):
            corners = _turned_in_space(solid.corners, pole, swing)
            corners = _turned_in_space(corners, pole, back)
            half = len(corners) // 2
            if solid.body == hit:
                kinds, side = ("stop", "stop"), "stop"
            elif group and solid.panel in setting.folding_panels:
                kinds, side = ("moving", "moving"), "moving"
            else:
                kinds, side = ("outside", "inside"), "edge"
            number = STRIP if solid.panel < 0 else 0
            yield Prism(corners[:half], corners[half:], STILL, kinds, number, seen, side)
    low, high = setting.span
    for piece in strip_section(setting.line.bend, max(degrees, 0.0)):
        outline = turned(np.column_stack([-piece[:, 0], piece[:, 1]]), pole, back)
        yield from _extruded(outline, low, high, "moving", glass=False)


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


def _machine(stroke: PlannedStroke, degrees: float) -> Iterator[Prism]:
    engine = stroke.verdict.stroke
    solids = [solid for group in engine.setting.solids for solid in group]
    low = min(solid.x_range[0] for solid in solids) - BESIDE
    high = max(solid.x_range[1] for solid in solids) + BESIDE
    for drawn in engine.tools_at(degrees):
        if drawn.kind is OutlineKind.SECTION:
            for a, b in stroke.sections or (engine.setting.span,):
                yield from _extruded(drawn.outline, a, b, "section", glass=False)
        else:
            above = float(drawn.outline[:, 1].max()) > ABOVE
            yield from _extruded(drawn.outline, low, high, "tool", glass=above)


def touched(stroke: PlannedStroke, degrees: float) -> Body | None:
    """What of the part touches the machine, or the part, at an angle; None where nothing does."""
    contact, limit = stroke.contact, stroke.verdict.limit
    if limit is not None and limit.obstacle.phase is not Phase.SWING:
        return limit.obstacle.body._replace(across=False)
    if contact is None or degrees < contact.angle - 1e-6:
        return None
    return contact.obstacle.body


def paint_stroke(
    p: QPainter,
    rect: QRectF,
    stroke: PlannedStroke,
    degrees: float,
    look: Theme,
    view: tuple[float, float],
) -> int:
    """Draw a stroke at an angle; what hangs over the part is seen through. Returns the faces drawn.

    Args:
        p: the painter.
        rect: where it is drawn.
        stroke: the stroke.
        degrees: the angle its fold stands at.
        look: the colours.
        view: turn and tilt of the eye, degrees.
    """
    p.save()
    p.setClipRect(rect)
    axes = view_axes(*view)
    scale = fitted(rect, _frame(stroke), axes)
    faces = stroke_faces(stroke, degrees)
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
