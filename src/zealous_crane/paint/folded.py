"""A part cut through: what lies before a plane is taken away, and the metal in the plane is
shown."""

from __future__ import annotations

import math
from collections import Counter, defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPen, QPolygonF

from .._typing import Array
from ..cache import cached
from ..flat.blank import Blank
from ..flat.folding import CHAIN, Pose, panel_poses, strip_prisms
from ..flat.ring import convex_pieces
from ..part.hole import HoleShape
from ..units.quantities import AngleReading, show_angle
from .depth import DepthTree, Face
from .frame import Scale
from .theme import Theme, pixels

ON = 1e-6
"""mm within which a corner lies in the plane."""


@dataclass(frozen=True)
class CutPlane:
    """A plane across the folded part.

    Attributes:
        axis: 0 where it stands across the part's length, 1 where across its width.
        at: where along that axis, mm.
        keeps: 1 where what is beyond is kept, −1 where what is before.
    """

    axis: int
    at: float
    keeps: int


def cut_away(faces: Sequence[Face], section: CutPlane) -> list[Face]:
    """The faces of convex bodies on one side of a plane, and the metal that the plane cuts as faces
    of the kind ``cut``.

    Args:
        faces: of bodies, each of which is told apart by ``body``; others are cut off, and show no
            metal.
        section: the plane.
    """
    kept: list[Face] = []
    cuts: dict[int, list[np.ndarray]] = defaultdict(list)
    normal = np.zeros(3)
    normal[section.axis] = -float(section.keeps)
    for face in faces:
        side = (face.points[:, section.axis] - section.at) * section.keeps
        if side.max() <= ON:
            continue
        if side.min() >= -ON:
            kept.append(face)
            continue
        points, outlined, on = _beyond(face, side.tolist())
        kept.append(
            Face(points, face.kind, face.panel, face.normal, outlined, face.body, face.seen_through)
        )
        if face.body >= 0:
            cuts[face.body] += on
    for body, on in cuts.items():
        ring = _ring(np.array(on), section.axis)
        if len(ring) >= 3:
            panel = next(face.panel for face in faces if face.body == body)
            kept.append(Face(ring, "cut", max(panel, 0), normal, (True,) * len(ring), body))
    return kept


def _beyond(face: Face, side: list[float]) -> tuple[np.ndarray, tuple[bool, ...], list[np.ndarray]]:
    """The part of a face beyond the plane, which of its edges are the metal's, and where its rim
    meets the plane."""
    points: list[np.ndarray] = []
    outlined: list[bool] = []
    on: list[np.ndarray] = []
    n = len(face.points)
    for i, real in enumerate(face.outlines):
        p, q, a, b = face.points[i], face.points[(i + 1) % n], side[i], side[(i + 1) % n]
        if a >= 0:
            points.append(p)
            outlined.append(real)
        if a * b < 0:
            cut = p + (q - p) * (a / (a - b))
            points.append(cut)
            outlined.append(real and b > 0)
            on.append(cut)
        elif abs(a) <= ON:
            on.append(p)
    return np.array(points), tuple(outlined), on


def _ring(points: np.ndarray, axis: int) -> np.ndarray:
    """Points (n, 3) of a convex polygon in a plane across an axis, in order and each once."""
    flat = np.delete(points, axis, axis=1)
    _, first = np.unique(np.round(flat, 6), axis=0, return_index=True)
    points, flat = points[first], flat[first]
    out = flat - flat.mean(axis=0)
    return points[np.argsort(np.arctan2(out[:, 1], out[:, 0]))]


BEFORE = 0.01
"""mm an opening is drawn before its face."""

LIGHT = np.array([-0.35, -0.5, 0.79])
"""Where the light comes from."""


def shades_of(normals: Array) -> list[int]:
    """Hundredths of its own colour in which a face is seen in the light from the upper left.

    Args:
        normals: (n, 3) unit normals of the faces.
    """
    return [round(shade) for shade in (72 + 34 * np.abs(normals @ LIGHT)).tolist()]


def shaded(color: QColor, shade: int) -> QColor:
    """A colour in so many hundredths of its light."""
    return color.lighter(shade) if shade >= 100 else color.darker(round(10_000 / shade))


FILLS = {"inside": "inside", "outside": "outside", "hole": "metal_edge", "cut": "care"}
"""Colours of the kinds of faces; the rest is metal."""

SPREAD = 1200.0
"""Parts of a blank's diagonal: bends are drawn round to one of them."""

SMOOTH, COARSE = math.radians(7.5), math.radians(30)
"""The most that one chord of a hole goes round; in a thin part they are a few units wide."""

FINE = 1.4
"""Painter units; bends and edges smaller than this are left to the outlines."""


@dataclass(frozen=True)
class Prism:
    """A convex prism between two copies of a ring.

    Attributes:
        ring, other: (n, 3) float, mm, where the panel it belongs to lies flat.
        pose: where that panel stands.
        kinds: of its two ends.
        panel: its number, −1 for a bent strip.
        rims: for every side, whether it is one of the metal and no seam between pieces; seams are
            left out.
        side: kind of its sides.
        glass: it is seen through.
    """

    ring: np.ndarray
    other: np.ndarray
    pose: Pose
    kinds: tuple[str, str]
    panel: int
    rims: Sequence[bool]
    side: str = "edge"
    glass: bool = False


def prism_faces(prisms: Sequence[Prism]) -> list[Face]:
    """Faces of prisms, each a body of its own; those with as many corners are worked out together.

    Args:
        prisms: the bodies.
    """
    alike: dict[int, list[int]] = {}
    for number, prism in enumerate(prisms):
        alike.setdefault(len(prism.ring), []).append(number)
    result: list[list[Face]] = [[] for _ in prisms]
    for n, numbers in alike.items():
        turns = np.array([prisms[k].pose.turn for k in numbers])
        shifts = np.array([prisms[k].pose.shift for k in numbers])[:, None]
        a, b = (
            np.array([getattr(prisms[k], which) for k in numbers]) @ turns.transpose(0, 2, 1)
            + shifts
            for which in ("ring", "other")
        )
        on = np.arange(1, n + 1) % n
        sides = np.stack([a, b, b[:, on], a[:, on]], axis=2)
        normals = np.cross(sides[:, :, 1] - sides[:, :, 0], sides[:, :, 2] - sides[:, :, 0])
        ends = np.cross(a[:, 1:2] - a[:, :1], a[:, 2:] - a[:, :1])
        # The first three corners may lie on a line; the widest spread gives the plane.
        widest = np.argmax((ends**2).sum(axis=2), axis=1)
        end = ends[np.arange(len(numbers)), widest][:, None]
        normals = np.concatenate([end, end, normals], axis=1)
        middle = (a.mean(axis=1) + b.mean(axis=1))[:, None] / 2
        middles = np.concatenate(
            [a.mean(axis=1)[:, None], b.mean(axis=1)[:, None], sides.mean(axis=2)], axis=1
        )
        lengths = np.linalg.norm(normals, axis=2)
        outward = np.einsum("ijk,ijk->ij", normals, middles - middle)
        units = (
            normals * (np.where(outward < 0, -1.0, 1.0) / np.maximum(lengths, 1e-300))[:, :, None]
        )
        real = (lengths > 1e-9).tolist()
        for at, number in enumerate(numbers):
            prism = prisms[number]
            whole = tuple(prism.rims)
            # Turned round, edge i runs from corner n - 1 - i to the one before it.
            back = tuple(whole[(n - 2 - i) % n] for i in range(n))
            faces = result[number]
            for i, (points, kind, outlined) in enumerate(
                ((a[at], prism.kinds[0], whole), (b[at, ::-1], prism.kinds[1], back))
            ):
                if real[at][i]:
                    faces.append(
                        Face(
                            points,
                            kind,
                            prism.panel,
                            units[at, i],
                            outlined,
                            number,
                            prism.glass,
                        )
                    )
            faces += [
                Face(
                    sides[at, i],
                    prism.side,
                    prism.panel,
                    units[at, i + 2],
                    None,
                    number,
                    prism.glass,
                )
                for i in range(n)
                if whole[i] and real[at][i + 2]
            ]
    return [face for faces in result for face in faces]


def rims_of(pieces: Sequence[np.ndarray]) -> list[list[bool]]:
    """For every edge of each convex piece (n, 2) of a panel, whether it is the panel's own and no
    seam between two pieces: pieces share whole sides, which the one runs along from end to start of
    the other's."""
    rings = [list(map(tuple, piece.tolist())) for piece in pieces]
    along = [list(zip(ring, (*ring[1:], ring[0]), strict=True)) for ring in rings]
    sides = {side for ring in along for side in ring}
    return [[(end, start) not in sides for start, end in ring] for ring in along]


def apart(rings: Sequence[np.ndarray]) -> list[list[bool]]:
    """For every edge of each ring (n, 3), whether no other ring has the same one: between those
    that do is metal, and nothing is seen."""
    corners = [list(map(tuple, ring.round(6).tolist())) for ring in rings]
    sides = [
        [frozenset(side) for side in zip(ring, (*ring[1:], ring[0]), strict=True)]
        for ring in corners
    ]
    shared = Counter(side for ring in sides for side in ring)
    return [[shared[side] == 1 for side in ring] for ring in sides]


def _openings(blank: Blank, poses: Sequence[Pose], step: float) -> list[Face]:
    """What is cut out of the panels, as faces a little before both of each panel's own.

    Args:
        blank: the part.
        poses: where each of its panels stands.
        step: the most that one chord of an arc goes round, radians.
    """
    faces = []
    lifts = np.array([-BEFORE, blank.thickness + BEFORE])
    for hole in blank.holes:
        if hole.panel < 0:
            continue
        (turn, shift), ring = poses[hole.panel], hole.path.flattened(step)
        up = turn[:, 2]
        # A row of rivets has hundreds: what is round need not be looked at for corners that turn
        # in.
        pieces = (
            (ring,)
            if hole.kind == HoleShape.ROUND.value
            else convex_pieces(ring if hole.path.area > 0 else ring[::-1])
        )
        for piece in pieces:
            low, high = piece @ turn[:, :2].T + shift + (lifts[:, None] * up)[:, None]
            faces += [
                Face(corners, "hole", hole.panel, out, (False,) * len(piece))
                for corners, out in ((low, -up), (high, up))
            ]
    return faces


def faces_at(blank: Blank, angles: tuple[float, ...], *, thin: bool = False) -> tuple[Face, ...]:
    """Faces of the part with its folds at these angles (degrees, signed as theirs); kept for the
    last few.

    With ``thin`` only the two faces of every panel: their edges and the bent strips would be finer
    than a line.

    Args:
        blank: the flat.
        angles: degrees every bend stands at.
        thin: the sheet is drawn without its thickness.
    """
    return _faces_at(blank, angles, thin)


@cached(16, lasts=True)
def _faces_at(blank: Blank, angles: tuple[float, ...], thin: bool) -> tuple[Face, ...]:
    poses = panel_poses(blank, list(angles))
    t = blank.thickness
    faces: list[Face] = []
    prisms: list[Prism] = []
    for i, panel in enumerate(blank.panels):
        for flat, rims in zip(panel.pieces, rims_of(panel.pieces), strict=True):
            if thin:
                turn, shift = poses[i]
                up, outside = turn[:, 2], flat @ turn[:, :2].T + shift
                faces.append(Face(outside, "outside", i, -up, tuple(rims)))
                faces.append(Face(outside + t * up, "inside", i, up, tuple(rims)))
            else:
                low, high = (np.column_stack([flat, np.full(len(flat), z)]) for z in (0.0, t))
                prisms.append(Prism(low, high, poses[i], ("outside", "inside"), i, rims))
    faces += _openings(blank, poses, COARSE if thin else SMOOTH)
    if thin:
        return tuple(faces)
    span = float(np.hypot(*blank.size))
    for fold, angle in zip(blank.folds, angles, strict=True):
        sections = [
            np.split(prism, 2) for prism in strip_prisms(fold, angle, t, max(CHAIN, span / SPREAD))
        ]
        for (start, end), rims in zip(
            sections, apart([start for start, _ in sections]), strict=True
        ):
            prisms.append(Prism(start, end, poses[fold.parent], ("edge", "edge"), -1, rims))
    return (*faces, *prism_faces(prisms))


def folded_faces(blank: Blank, share: float = 1.0, *, thin: bool = False) -> tuple[Face, ...]:
    """Faces of the part with every fold at ``share`` (0 to 1) of its angle.

    Args:
        blank: the flat.
        share: 0 flat to 1 bent.
        thin: the sheet is drawn without its thickness.
    """
    return faces_at(blank, stand_at(blank, share), thin=thin)


class FoldedPicture:
    """Faces ready to be looked at from anywhere.

    Attributes:
        tree: the faces, parted.
        points: (n, 3) float, mm: corners of all faces, one after the other.
        spans: where each face's corners begin and end.
    """

    def __init__(self, faces: Sequence[Face]) -> None:
        self.tree = DepthTree(faces)
        self.points = np.concatenate([face.points for face in self.tree.faces])
        ends = np.cumsum([len(face.points) for face in self.tree.faces]).tolist()
        self.spans = list(zip([0, *ends[:-1]], ends, strict=True))


@cached(16, lasts=True)
def folded_at(
    blank: Blank, angles: tuple[float, ...], *, thin: bool = False, section: CutPlane | None = None
) -> FoldedPicture:
    """The part with its folds at these angles, parted once and kept for the last few: turning it
    only orders it anew.

    Args:
        blank: the flat.
        angles: degrees every bend stands at.
        thin: the sheet is drawn without its thickness.
        section: where it is cut through; None shows all of it.
    """
    faces = faces_at(blank, angles, thin=thin)
    return FoldedPicture(faces if section is None else cut_away(faces, section))


def shape_in(
    rect: QRectF, blank: Blank, angles: tuple[float, ...], section: CutPlane | None = None
) -> FoldedPicture:
    """The part as :func:`paint_folded` draws it in a rectangle; whoever asks for it before has the
    picture sooner.

    Args:
        rect: where it is drawn.
        blank: the flat.
        angles: degrees every bend stands at.
        section: where it is cut through; None shows all of it.
    """
    return folded_at(blank, angles, thin=section is None and _is_thin(rect, blank), section=section)


def _is_thin(rect: QRectF, blank: Blank) -> bool:
    """Whether its bends and edges are finer than a line there."""
    reach = blank.thickness + max((fold.bend.radius for fold in blank.folds), default=0.0)
    return reach * min(rect.width(), rect.height()) < FINE * float(np.hypot(*blank.size))


def stand_at(blank: Blank, share: float = 1.0) -> tuple[float, ...]:
    """Every fold at ``share`` (0 to 1) of its angle, degrees."""
    return tuple(fold.angle * share for fold in blank.folds)


def view_axes(turn: float, tilt: float) -> np.ndarray:
    """(3, 3) rows: right, up and towards the eye, for a turn about the upright and a tilt,
    degrees."""
    a, b = math.radians(turn), math.radians(tilt)
    right = np.array([math.cos(a), math.sin(a), 0.0])
    eye = np.array([math.sin(a) * math.cos(b), -math.cos(a) * math.cos(b), math.sin(b)])
    return np.array([right, np.cross(eye, right), eye])


def fitted(rect: QRectF, corners: np.ndarray, axes: np.ndarray) -> Scale:
    """The scale at which a part with these corners (n, 3) is shown whole, whichever way it is
    turned.

    The frame is a ball round the part, so that turning it never changes its size.

    Args:
        rect: where it is drawn.
        corners: (n, 3) mm.
        axes: (3, 3) rows: right, up, towards the eye.
    """
    seen = corners @ axes.T
    centre = (corners.min(axis=0) + corners.max(axis=0)) / 2
    half = float(np.linalg.norm(corners - centre, axis=1).max()) * 0.86
    middle = (axes @ centre)[:2]
    # What sticks out of a slightly smaller ball may need a little more room.
    out = np.abs(seen[:, :2] - middle).max(axis=0) * 1.02
    room = rect.adjusted(8, 8, -8, -8)
    wide, tall = max(half, float(out[0])), max(half * 0.8, float(out[1]))
    return Scale.fitting(
        (middle[0] - wide, middle[1] - tall), (middle[0] + wide, middle[1] + tall), room
    )


def paint_folded(  # noqa: PLR0913
    p: QPainter,
    rect: QRectF,
    blank: Blank,
    look: Theme,
    *,
    share: float = 1.0,
    turn: float = 28.0,
    tilt: float = 35.0,
    marked: int | None = None,
    angles: Sequence[float] | None = None,
    section: CutPlane | None = None,
) -> Scale:
    """Draw the folded part.

    Args:
        p, rect, blank, look: what is painted where and how.
        share: of its angle that every fold stands at, where ``angles`` says nothing else.
        turn, tilt: how it is looked at, degrees.
        marked: a panel that stands out.
        angles: of every fold, degrees, signed as theirs.
        section: a plane; what lies before it is taken away and the metal that is cut shown.
    """
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    axes = view_axes(turn, tilt)
    stand = stand_at(blank, share) if angles is None else tuple(angles)
    # Cut through, it is shown as large as whole.
    whole = faces_at(blank, stand, thin=section is None and _is_thin(rect, blank))
    scale = fitted(rect, np.concatenate([face.points for face in whole]), axes)
    draw(p, shape_in(rect, blank, stand, section), scale, axes, look, marked)
    p.restore()
    return scale


def draw(
    p: QPainter,
    shape: FoldedPicture,
    scale: Scale,
    axes: np.ndarray,
    look: Theme,
    marked: int | None = None,
) -> None:
    """Draw faces, the farthest first: filled, then those of their edges that are edges of the
    metal.

    Args:
        p: the painter.
        shape: the faces, in depth order.
        scale: millimetres to units of the painter.
        axes: (3, 3) rows: right, up, towards the eye.
        look: the colours.
        marked: names of what is lit.
    """
    at = (
        shape.points @ axes[:2].T * (scale.factor, -scale.factor) + (scale.left, scale.bottom)
    ).tolist()
    shades = shades_of(shape.tree.normals)
    edge, cut = _pen(look.color("metal_edge")), _pen(look.color("care"), 2.5)
    smooth, bare = QPainter.RenderHint.Antialiasing, QPen(Qt.PenStyle.NoPen)
    for i in shape.tree.ordered(axes[2]):
        face, (begin, end) = shape.tree.faces[i], shape.spans[i]
        kind = (
            "moving"
            if marked is not None and face.panel == marked
            else FILLS.get(face.kind, "metal")
        )
        ink = _ink(look.color(kind).rgba(), 100 if face.kind in ("hole", "cut") else shades[i])
        ring, drawn = [QPointF(x, y) for x, y in at[begin:end]], cut if face.kind == "cut" else edge
        outlines = face.outlines if face.panel >= 0 else ()
        whole = bool(outlines) and all(outlines)
        # Filling with smooth borders takes ten times as long as without, and its rim is smooth in
        # any case.
        p.setRenderHint(smooth, False)
        p.setPen(bare)
        p.setBrush(ink[0])
        p.drawPolygon(ring)
        p.setRenderHint(smooth, True)
        # A rim of its own colour closes the hair's breadth between two pieces of one face.
        p.setPen(drawn if whole else ink[1])
        p.drawPolyline([*ring, ring[0]])
        if not whole and any(outlines):
            p.setPen(drawn)
            p.drawLines(
                [
                    QLineF(ring[k], ring[k + 1 - len(ring)])
                    for k, outlined in enumerate(outlines)
                    if outlined
                ]
            )


@cached(2048, lasts=True)
def _ink(rgba: int, shade: int) -> tuple[QBrush, QPen]:
    """A colour to fill with and to draw lines in, at this many hundredths of its light."""
    color = shaded(QColor.fromRgba(rgba), shade)
    return QBrush(color), _pen(color)


def _pen(color: QColor, width: float = 1.0) -> QPen:
    """A line as wide at any nearness; one unit wide is the quickest there is."""
    pen = QPen(color, width)
    pen.setCosmetic(True)
    return pen


@dataclass(frozen=True, eq=False)
class Pair:
    """Two blanks and where the second stands in the frame of the first.

    Attributes:
        master, follower: the blanks.
        pose: of the follower.
        marked: names of panels of follower and master that meet.
    """

    master: Blank
    follower: Blank
    pose: Pose
    marked: tuple[tuple[str, str], ...] = ()


def pair_faces(pair: Pair) -> list[Face]:
    """Faces of both parts in the frame of the master, which is seen through."""
    meets = {name for name, _ in pair.marked}, {name for _, name in pair.marked}
    faces = []
    for face in folded_faces(pair.follower, 1.0):
        points, normal = pair.pose.apply(face.points), pair.pose.turn @ face.normal
        hit = face.panel >= 0 and pair.follower.panels[face.panel].name in meets[0]
        faces.append(Face(points, "stop" if hit else "moving", face.panel, normal))
    for face in folded_faces(pair.master, 1.0):
        hit = face.panel >= 0 and pair.master.panels[face.panel].name in meets[1]
        faces.append(
            Face(
                face.points,
                "stop" if hit else face.kind,
                face.panel,
                face.normal,
                seen_through=True,
            )
        )
    return faces


def paint_pair(  # noqa: PLR0913
    p: QPainter, rect: QRectF, pair: Pair, look: Theme, *, turn: float, tilt: float, reach: float
) -> None:
    """Draw both parts; the master is seen through.

    Args:
        p, rect, pair, look: what is painted where and how.
        turn, tilt: how it is looked at, degrees.
        reach: mm about the master's middle that the picture shows, so that it stays the same size
            while a part moves.
    """
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    axes = view_axes(turn, tilt)
    corners = np.concatenate([face.points for face in folded_faces(pair.master, 1.0)])
    middle = (axes @ ((corners.min(axis=0) + corners.max(axis=0)) / 2))[:2]
    scale = Scale.fitting(
        (middle[0] - reach, middle[1] - reach),
        (middle[0] + reach, middle[1] + reach),
        rect.adjusted(8, 8, -8, -8),
    )
    tree = DepthTree(
        [face for face in pair_faces(pair) if face.normal @ axes[2] > 1e-9 or face.seen_through]
    )
    shades = shades_of(tree.normals)
    for number in tree.ordered(axes[2], turned_away=True):
        face = tree.faces[number]
        color = shaded(
            look.color(
                face.kind if face.kind in ("stop", "moving", "inside", "outside") else "metal"
            ),
            shades[number],
        )
        if face.seen_through:
            color.setAlpha(70)
        p.setBrush(color)
        p.setPen(Qt.PenStyle.NoPen if face.panel == -1 else QPen(look.color("metal_edge"), 1.0))
        flat = face.points @ axes.T
        p.drawPolygon(QPolygonF([scale.point(x, y) for x, y, _ in flat]))
    p.restore()


SHOWN = 70.0
"""Degrees bent from flat in the picture: the three readings differ, or lie elsewhere."""


def paint_protractor(p: QPainter, rect: QRectF, reading: AngleReading, look: Theme) -> None:
    """A leg bent up by 70°, with the arc that is read and what it reads.

    Args:
        p: the painter.
        rect: where it is drawn.
        reading: how angles are read.
        look: the colours.
    """
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    length = min(rect.height() * 0.82, rect.width() * 0.3)
    corner = QPointF(rect.left() + length * 1.25, rect.bottom() - rect.height() * 0.14)
    # Angles from the level to the right, turning up; the standing leg leans over the lying one's
    # far side.
    up = math.radians(SHOWN)
    free = corner + QPointF(length * math.cos(up), -length * math.sin(up))
    p.setPen(QPen(look.color("metal_edge"), 4, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
    p.drawPolyline(QPolygonF([corner - QPointF(length, 0), corner, free]))
    start, span = {
        AngleReading.BEND: (0.0, SHOWN),
        AngleReading.INSIDE: (SHOWN, 180.0 - SHOWN),
        AngleReading.BACK: (180.0, SHOWN),
    }[reading]
    p.setPen(QPen(look.color("faint"), 1.2, Qt.PenStyle.DashLine))
    if reading is AngleReading.BEND:
        p.drawLine(corner, corner + QPointF(length, 0))
    if reading is AngleReading.BACK:
        p.drawLine(corner, corner - QPointF(length * math.cos(up), -length * math.sin(up)) * 0.6)
    radius = length * 0.5
    p.setPen(QPen(look.color("accent"), 2))
    box = QRectF(corner.x() - radius, corner.y() - radius, 2 * radius, 2 * radius)
    p.drawArc(box, round(start * 16), round(span * 16))
    p.setPen(look.color("ink"))
    p.setFont(pixels(13, strong=True))
    left = corner.x() + length * 1.2
    where = QRectF(left, rect.top(), rect.right() - left, rect.height())
    p.drawText(
        where,
        Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft,
        show_angle(reading.read(SHOWN)),
    )
