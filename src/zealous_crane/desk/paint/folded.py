"""The part folded up, turned to be looked at; inside and outside face told apart."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Sequence
from functools import lru_cache

import numpy as np
from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPen

from ...blank import Blank, Pose, panel_poses, strip_prisms
from ...blank.convex import convex_pieces
from ...blank.folding import CHAIN
from ...measure.dataclass import dataclass
from ...part import HoleShape
from ..theme import Look
from .depth import DepthTree, Face
from .frame import Scale
from .section import Section, cut_away

BEFORE = 0.01
"""mm an opening is drawn before its face."""

LIGHT = np.array([-0.35, -0.5, 0.79])
"""Where the light comes from."""

FILLS = {"inside": "inside", "outside": "outside", "hole": "metal_edge", "cut": "care"}
"""Colours of the kinds of faces; the rest is metal."""

SPREAD = 1200.0
"""Parts of a blank's diagonal: bends are drawn round to one of them."""

SMOOTH, COARSE = math.radians(7.5), math.radians(30)
"""The most that one chord of a hole goes round; in a thin part they are a few units wide."""

FINE = 1.4
"""Painter units; bends and edges smaller than this are left to the outlines."""


@dataclass(frozen=True)
class _Prism:
    """A convex prism between two copies of a ring.

    Attributes:
        ring, other: (n, 3) float, mm, where the panel it belongs to lies flat.
        pose: where that panel stands.
        kinds: of its two ends.
        panel: its number, −1 for a bent strip.
        rims: for every side, whether it is one of the metal and no seam between pieces; seams are left out.
    """

    ring: np.ndarray
    other: np.ndarray
    pose: Pose
    kinds: tuple[str, str]
    panel: int
    rims: Sequence[bool]


def _faces_of(prisms: Sequence[_Prism]) -> list[Face]:
    """Faces of prisms, each a body of its own; those with as many corners are worked out together."""
    alike: dict[int, list[int]] = {}
    for number, prism in enumerate(prisms):
        alike.setdefault(len(prism.ring), []).append(number)
    found: list[list[Face]] = [[] for _ in prisms]
    for n, numbers in alike.items():
        turns = np.array([prisms[k].pose.turn for k in numbers])
        shifts = np.array([prisms[k].pose.shift for k in numbers])[:, None]
        a, b = (
            np.array([getattr(prisms[k], which) for k in numbers]) @ turns.transpose(0, 2, 1) + shifts
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
        middles = np.concatenate([a.mean(axis=1)[:, None], b.mean(axis=1)[:, None], sides.mean(axis=2)], axis=1)
        lengths = np.linalg.norm(normals, axis=2)
        outward = np.einsum("ijk,ijk->ij", normals, middles - middle)
        units = normals * (np.where(outward < 0, -1.0, 1.0) / np.maximum(lengths, 1e-300))[:, :, None]
        real = (lengths > 1e-9).tolist()
        for at, number in enumerate(numbers):
            prism = prisms[number]
            whole = tuple(prism.rims)
            # Turned round, edge i runs from corner n - 1 - i to the one before it.
            back = tuple(whole[(n - 2 - i) % n] for i in range(n))
            faces = found[number]
            for i, (points, kind, outlined) in enumerate(((a[at], prism.kinds[0], whole), (b[at, ::-1], prism.kinds[1], back))):
                if real[at][i]:
                    faces.append(Face(points, kind, prism.panel, units[at, i], outlined, number))
            faces += [
                Face(sides[at, i], "edge", prism.panel, units[at, i + 2], None, number)
                for i in range(n)
                if whole[i] and real[at][i + 2]
            ]
    return [face for faces in found for face in faces]


def _rims(pieces: Sequence[np.ndarray]) -> list[list[bool]]:
    """For every edge of each convex piece (n, 2) of a panel, whether it is the panel's own and no seam between two pieces: pieces share
    whole sides, which the one runs along from end to start of the other's."""
    rings = [list(map(tuple, piece.tolist())) for piece in pieces]
    along = [list(zip(ring, (*ring[1:], ring[0]), strict=True)) for ring in rings]
    sides = {side for ring in along for side in ring}
    return [[(end, start) not in sides for start, end in ring] for ring in along]


def _apart(rings: Sequence[np.ndarray]) -> list[list[bool]]:
    """For every edge of each ring (n, 3), whether no other ring has the same one: between those that do is metal, and nothing is seen."""
    corners = [list(map(tuple, ring.round(6).tolist())) for ring in rings]
    sides = [[frozenset(side) for side in zip(ring, (*ring[1:], ring[0]), strict=True)] for ring in corners]
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
        # A row of rivets has hundreds: what is round need not be looked at for corners that turn in.
        pieces = (ring,) if hole.kind == HoleShape.ROUND.value else convex_pieces(ring if hole.path.area > 0 else ring[::-1])
        for piece in pieces:
            low, high = piece @ turn[:, :2].T + shift + (lifts[:, None] * up)[:, None]
            faces += [
                Face(corners, "hole", hole.panel, out, (False,) * len(piece)) for corners, out in ((low, -up), (high, up))
            ]
    return faces


def faces_at(blank: Blank, angles: tuple[float, ...], *, thin: bool = False) -> tuple[Face, ...]:
    """Faces of the part with its folds at these angles (degrees, signed as theirs); kept for the last few.

    With ``thin`` only the two faces of every panel: their edges and the bent strips would be finer than a line.
    """
    return _faces_at(blank, angles, thin)


@lru_cache(maxsize=16)
def _faces_at(blank: Blank, angles: tuple[float, ...], thin: bool) -> tuple[Face, ...]:
    poses = panel_poses(blank, list(angles))
    t = blank.thickness
    faces: list[Face] = []
    prisms: list[_Prism] = []
    for i, panel in enumerate(blank.panels):
        for flat, rims in zip(panel.pieces, _rims(panel.pieces), strict=True):
            if thin:
                turn, shift = poses[i]
                up, outside = turn[:, 2], flat @ turn[:, :2].T + shift
                faces.append(Face(outside, "outside", i, -up, tuple(rims)))
                faces.append(Face(outside + t * up, "inside", i, up, tuple(rims)))
            else:
                low, high = (np.column_stack([flat, np.full(len(flat), z)]) for z in (0.0, t))
                prisms.append(_Prism(low, high, poses[i], ("outside", "inside"), i, rims))
    faces += _openings(blank, poses, COARSE if thin else SMOOTH)
    if thin:
        return tuple(faces)
    span = float(np.hypot(*blank.size))
    for fold, angle in zip(blank.folds, angles, strict=True):
        sections = [np.split(prism, 2) for prism in strip_prisms(fold, angle, t, max(CHAIN, span / SPREAD))]
        for (start, end), rims in zip(sections, _apart([start for start, _ in sections]), strict=True):
            prisms.append(_Prism(start, end, poses[fold.parent], ("edge", "edge"), -1, rims))
    return (*faces, *_faces_of(prisms))


def folded_faces(blank: Blank, share: float = 1.0, *, thin: bool = False) -> tuple[Face, ...]:
    """Faces of the part with every fold at ``share`` (0 to 1) of its angle."""
    return faces_at(blank, stand_at(blank, share), thin=thin)


class Folded:
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


@lru_cache(maxsize=16)
def folded_at(blank: Blank, angles: tuple[float, ...], *, thin: bool = False, section: Section | None = None) -> Folded:
    """The part with its folds at these angles, parted once and kept for the last few: turning it only orders it anew."""
    faces = faces_at(blank, angles, thin=thin)
    return Folded(faces if section is None else cut_away(faces, section))


def shape_in(rect: QRectF, blank: Blank, angles: tuple[float, ...], section: Section | None = None) -> Folded:
    """The part as :func:`paint_folded` draws it in a rectangle; whoever asks for it before has the picture sooner."""
    return folded_at(blank, angles, thin=section is None and _is_thin(rect, blank), section=section)


def _is_thin(rect: QRectF, blank: Blank) -> bool:
    """Whether its bends and edges are finer than a line there."""
    reach = blank.thickness + max((fold.bend.radius for fold in blank.folds), default=0.0)
    return reach * min(rect.width(), rect.height()) < FINE * float(np.hypot(*blank.size))


def stand_at(blank: Blank, share: float = 1.0) -> tuple[float, ...]:
    """Every fold at ``share`` (0 to 1) of its angle, degrees."""
    return tuple(fold.angle * share for fold in blank.folds)


def view_axes(turn: float, tilt: float) -> np.ndarray:
    """(3, 3) rows: right, up and towards the eye, for a turn about the upright and a tilt, degrees."""
    a, b = math.radians(turn), math.radians(tilt)
    right = np.array([math.cos(a), math.sin(a), 0.0])
    eye = np.array([math.sin(a) * math.cos(b), -math.cos(a) * math.cos(b), math.sin(b)])
    return np.array([right, np.cross(eye, right), eye])


def fitted(rect: QRectF, corners: np.ndarray, axes: np.ndarray) -> Scale:
    """The scale at which a part with these corners (n, 3) is shown whole, whichever way it is turned.

    The frame is a ball round the part, so that turning it never changes its size.
    """
    seen = corners @ axes.T
    centre = (corners.min(axis=0) + corners.max(axis=0)) / 2
    half = float(np.linalg.norm(corners - centre, axis=1).max()) * 0.86
    middle = (axes @ centre)[:2]
    # What sticks out of a slightly smaller ball may need a little more room.
    out = np.abs(seen[:, :2] - middle).max(axis=0) * 1.02
    room = rect.adjusted(8, 8, -8, -8)
    wide, tall = max(half, float(out[0])), max(half * 0.8, float(out[1]))
    return Scale.fitting((middle[0] - wide, middle[1] - tall), (middle[0] + wide, middle[1] + tall), room)


def paint_folded(
    p: QPainter, rect: QRectF, blank: Blank, look: Look, *, share: float = 1.0, turn: float = 28.0, tilt: float = 35.0,
    marked: int | None = None, angles: Sequence[float] | None = None, section: Section | None = None,
) -> Scale:  # fmt: skip
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


def draw(p: QPainter, shape: Folded, scale: Scale, axes: np.ndarray, look: Look, marked: int | None = None) -> None:
    """Draw faces, the farthest first: filled, then those of their edges that are edges of the metal."""
    at = (shape.points @ axes[:2].T * (scale.factor, -scale.factor) + (scale.left, scale.bottom)).tolist()
    shades = (0.72 + 0.34 * np.abs(shape.tree.normals @ LIGHT)).tolist()
    edge, cut = _pen(look.color("metal_edge")), _pen(look.color("care"), 2.5)
    smooth, bare = QPainter.RenderHint.Antialiasing, QPen(Qt.PenStyle.NoPen)
    for i in shape.tree.ordered(axes[2]):
        face, (begin, end) = shape.tree.faces[i], shape.spans[i]
        kind = "moving" if marked is not None and face.panel == marked else FILLS.get(face.kind, "metal")
        ink = _ink(look.color(kind).rgba(), 100 if face.kind in ("hole", "cut") else round(100 * shades[i]))
        ring, drawn = [QPointF(x, y) for x, y in at[begin:end]], cut if face.kind == "cut" else edge
        outlines = face.outlines if face.panel >= 0 else ()
        whole = bool(outlines) and all(outlines)
        # Filling with smooth borders takes ten times as long as without, and its rim is smooth in any case.
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
            p.drawLines([
                QLineF(ring[k], ring[k + 1 - len(ring)]) for k, outlined in enumerate(outlines) if outlined
            ])  # fmt: skip


@lru_cache(maxsize=2048)
def _ink(rgba: int, shade: int) -> tuple[QBrush, QPen]:
    """A colour to fill with and to draw lines in, at this many hundredths of its light."""
    color = QColor.fromRgba(rgba)
    color = color.lighter(shade) if shade >= 100 else color.darker(round(10_000 / shade))
    return QBrush(color), _pen(color)


def _pen(color: QColor, width: float = 1.0) -> QPen:
    """A line as wide at any nearness; one unit wide is the quickest there is."""
    pen = QPen(color, width)
    pen.setCosmetic(True)
    return pen
