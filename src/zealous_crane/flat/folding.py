"""Folding the flat up: where each panel stands when each fold has a given angle.

A fold turns about its *pole*: the one axis about which a single turn carries the flat into the pose
the development gives, allowance and radius included. See docs/theory.md.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import NamedTuple, Protocol

import numpy as np

from .._typing import Array
from ..metal.bend import Bend
from .features import Fold, Panel


class Pose(NamedTuple):
    """A rigid motion x ↦ turn · x + shift.

    Attributes:
        turn: (3, 3) float, rotation.
        shift: (3,) float, mm.
    """

    turn: Array
    shift: Array

    def __matmul__(self, first: Pose) -> Pose:
        """This motion after ``first``."""
        return Pose(self.turn @ first.turn, self.turn @ first.shift + self.shift)

    def apply(self, points: Array) -> Array:
        """Move (n, 3) points."""
        moved: Array = points @ self.turn.T + self.shift
        return moved

    @property
    def inverse(self) -> Pose:
        return Pose(self.turn.T, -self.turn.T @ self.shift)


IDENTITY = Pose(np.eye(3), np.zeros(3))


def pole_height(bend: Bend) -> float:
    """Height of the pole above the outside face of the flat, over the bend line, mm.

    h = T + r − (BA/2)·cot(θ/2). It tends to the neutral line T·(1 − K) as the angle goes to zero
    and is the inside corner itself for a sharp fold on the line. Derived in docs/theory.md.
    """
    return (
        bend.thickness + bend.radius - bend.allowance / 2 / math.tan(math.radians(bend.angle) / 2)
    )


def fold_pose(fold: Fold, angle: float, thickness: float) -> Pose:
    """Motion of the child panel when the fold stands at ``angle`` degrees (signed), in flat
    coordinates.

    The flat lies in x, y with its outside face at z = 0 and its inside face at z = thickness.

    Args:
        fold: the bend line.
        angle: degrees.
        thickness: of the sheet, mm.
    """
    height = pole_height(fold.bend)
    if fold.angle < 0:
        height = thickness - height
    x, y = fold.outward.tolist()
    a = math.radians(angle)
    s, c = math.sin(a), 1 - math.cos(a)
    # About the axis outward × z, which turns the outward direction towards z: 1 + sin·K + (1 −
    # cos)·K².
    turn = np.array(
        [
            [1 - c * x * x, -c * x * y, -s * x],
            [-c * x * y, 1 - c * y * y, -s * y],
            [s * x, s * y, 1 - c],
        ]
    )
    pivot = np.array([*fold.start.tolist(), height])
    return Pose(turn, pivot - turn @ pivot)


class Hinged(Protocol):
    """Panels on their folds: a blank, or a part before it is cut."""

    @property
    def panels(self) -> tuple[Panel, ...]: ...

    @property
    def folds(self) -> tuple[Fold, ...]: ...

    @property
    def thickness(self) -> float: ...

    @property
    def stood(self) -> tuple[Pose, ...]: ...


def panel_poses(
    blank: Hinged, angles: Mapping[int, float] | Sequence[float], root: int = 0
) -> list[Pose]:
    """Pose of every panel when fold i stands at ``angles[i]`` degrees (signed), ``root`` staying in
    place.

    Args:
        blank: the flat.
        angles: degrees every bend stands at.
        root: index of the panel that stays.
    """
    poses: list[Pose | None] = [None] * len(blank.panels)
    poses[root] = IDENTITY
    beside: list[list[tuple[int, Fold]]] = [[] for _ in blank.panels]
    for i, fold in enumerate(blank.folds):
        beside[fold.parent].append((i, fold))
        beside[fold.child].append((i, fold))
    open_ = [root]
    while open_:
        at = open_.pop()
        here = poses[at]
        assert here is not None
        for i, fold in beside[at]:
            if at == fold.parent and poses[fold.child] is None:
                poses[fold.child] = here @ fold_pose(fold, angles[i], blank.thickness)
                open_.append(fold.child)
            elif at == fold.child and poses[fold.parent] is None:
                poses[fold.parent] = here @ fold_pose(fold, angles[i], blank.thickness).inverse
                open_.append(fold.parent)
    return [pose for pose in poses if pose is not None]


def arc_radius(bend: Bend, angle: float) -> float:
    """Inside radius (mm) of the arc that joins both tangent lines while the fold stands at
    ``angle`` degrees.

    It is the bend's own radius at the full angle, larger before it.
    """
    if angle < 1e-6:
        return math.inf
    half = math.radians(angle) / 2
    return max(0.0, bend.allowance / 2 / math.tan(half) + pole_height(bend) - bend.thickness)


CHAIN = 0.03
"""Farthest (mm) that the chain of chords round a bent strip leaves the true arc."""


def strip_prisms(fold: Fold, angle: float, thickness: float, chain: float = CHAIN) -> list[Array]:
    """The pieces of a fold's bent strip, each as a prism: its section at the fold's start, then at
    its end.

    Args:
        fold: the fold.
        angle: degrees it stands at, signed as the fold's own.
        thickness: of the sheet, mm.
        chain: mm beyond it at most.

    Returns:
        corners (2k, 3) float, mm, in flat coordinates of the panel it is folded from.
    """
    result = []
    for piece in strip_section(fold.bend, abs(angle), chain):
        m, z = piece[:, 0], piece[:, 1] if fold.angle > 0 else thickness - piece[:, 1]
        ends = [
            np.column_stack([e[0] + m * fold.outward[0], e[1] + m * fold.outward[1], z])
            for e in (fold.start, fold.end)
        ]
        result.append(np.concatenate(ends))
    return result


def strip_section(bend: Bend, angle: float, chain: float = CHAIN) -> list[Array]:
    """Section of the bent strip as convex pieces that contain it, nowhere more than ``chain``
    beyond it.

    Args:
        bend: the bend.
        angle: degrees it stands at, 0 or more.
        chain: mm; a picture does with less than what is reckoned with.

    Returns:
        polygons (n, 2) float, mm, in (m, z): m outwards from the bend line, z up from the outside
        face, with the parent panel lying flat at negative m. Inner corners are on the arc, outer
        ones where its tangents cross, so the pieces hold all the metal.
    """
    t = bend.thickness
    start = -bend.allowance / 2
    if angle < 0.5:
        if bend.allowance < 1e-9:
            return []
        return [np.array([(start, 0.0), (-start, 0.0), (-start, t), (start, t)])]
    radius = arc_radius(bend, angle)
    centre_z = t + radius
    turn = math.radians(angle)
    # The hollow inner side needs a piece for every chord; the outer side only corners.
    pieces = (
        max(1, math.ceil(turn / 2 / math.acos(max(0.0, 1 - chain / radius))))
        if radius > chain
        else 1
    )
    step = turn / pieces
    corners = max(1, math.ceil(step / 2 / math.acos(1 / (1 + chain / (radius + t)))))
    fine = step / corners
    outer = (radius + t) / math.cos(fine / 2)
    result: list[Array] = []
    for i in range(pieces):
        a = i * step
        ring = [(radius, a + step), (radius, a)] if radius > 1e-9 else [(0.0, a)]
        ring += [
            (radius + t, a),
            *((outer, a + (k + 0.5) * fine) for k in range(corners)),
            (radius + t, a + step),
        ]
        result.append(
            np.array(
                [(start + rho * math.sin(phi), centre_z - rho * math.cos(phi)) for rho, phi in ring]
            )
        )
    return result
