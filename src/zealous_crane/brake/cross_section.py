"""Cross-sections of a leaf brake, set for one thickness and fold."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from .._typing import Array
from ..metal.bend import Bend
from .leaf_brake import LeafBrake


@dataclass(frozen=True)
class Profile:
    """A tool's outline in the (y, z) plane.

    Attributes:
        name: ``finger``, ``beam``, ``bed`` or ``leaf``.
        outline: (n, 2) float, mm, counter-clockwise, simple.
        parts: name of the side from corner i to corner i+1, for saying what was met.
        nose: corners that lie on the rounded nose, which is meant to touch the fold. Sides named
            ``nose`` reach up to the end of the zone in which the folded panel may lie on the finger
            (:func:`nose_zone`).
    """

    name: str
    outline: Array
    parts: tuple[str, ...]
    nose: tuple[int, ...] = ()


@dataclass(frozen=True)
class Tools:
    """The brake set up for one fold, in the stroke's frame: fold line on x, bed top at z = 0.

    Attributes:
        finger, beam, bed, leaf: cross-sections with the clamp closed and the leaf down.
        hinge: (2,) mm, axis of the leaf.
        nose: (2,) mm, foremost point of the nose's level: where the nose stands over the sheet.
        setback: nose behind the bed's front edge, mm.
        opening: how far finger and beam rise, mm.
    """

    finger: Profile
    beam: Profile
    bed: Profile
    leaf: Profile
    hinge: Array
    nose: Array
    setback: float
    opening: float


NOSE_CHORDS = 3


def nose_chain(radius: float, rake: float) -> list[tuple[float, float]]:
    """Corners (y, z) of a chain that contains the rounded nose, from the underside to the raked
    face, mm."""
    start, end = math.radians(-90), math.radians(-180) - math.radians(rake)
    step = (end - start) / NOSE_CHORDS
    outer = radius / math.cos(step / 2)
    corners = [(radius, 0.0)]
    corners += [
        (
            radius + outer * math.cos(start + (i + 0.5) * step),
            radius + outer * math.sin(start + (i + 0.5) * step),
        )
        for i in range(NOSE_CHORDS)
    ]
    corners.append((radius + radius * math.cos(end), radius + radius * math.sin(end)))
    return corners


def nose_zone(brake: LeafBrake, thickness: float) -> float:
    """Height (mm) above the sheet up to which the folded panel is meant to lie on nose and face:
    3·(nose radius + T).

    It ends with the raked face where that is lower.
    Metal wraps round the nose there, so the folded panel is not asked to keep clear of it; above,
    it is.
    """
    return 3 * (brake.nose_radius + thickness)


def finger_profile(
    brake: LeafBrake, thickness: float
) -> tuple[Array, tuple[str, ...], tuple[int, ...]]:
    """Outline of a finger with its nose at y = 0 and its underside at z = 0, mm, its sides and its
    nose corners."""
    nose = nose_chain(brake.nose_radius, brake.rake)
    top = brake.finger_height
    # Walked clockwise, nose first and up the front; turned round at the end.
    corners: list[tuple[float, float]] = [(brake.foot, 0.0), *nose]
    named = ["foot", *["nose"] * (len(nose) - 1)]
    in_zone = set(range(1, 1 + len(nose)))
    zone = nose_zone(brake, thickness)
    # A shallow throat ends below the tangent point of the nose; the face is then simply upright.
    face = [(brake.throat, brake.face_height)] if brake.face_height > nose[-1][1] + 1e-9 else []
    if not face:
        # Where the front rises straight from the nose, the zone ends with the nose: that corner
        # counts.
        in_zone.discard(len(nose))
    under = top - brake.head_drop
    back = face[-1][0] if face else nose[-1][0]
    if brake.head_drop > 0:
        front = [
            ("throat", (back, under)),
            ("clamp", (brake.head_front, under)),
            ("clamp", (brake.head_front, top)),
        ]
    else:
        front = [("throat", (back, top))]
    rising = [*(("face", corner) for corner in face), *front, ("top", (brake.foot, top))]
    for part, corner in rising:
        (y0, z0), (y1, z1) = corners[-1], corner
        if part == "face" and z0 < zone < z1:
            # The face is cut where the zone ends: below it counts as nose, above as face.
            share = (zone - z0) / (z1 - z0)
            corners.append((y0 + (y1 - y0) * share, zone))
            named.append("nose")
        elif part == "face" and z1 <= zone:
            named.append("nose")
            corners.append(corner)
            continue
        corners.append(corner)
        named.append(part)
    named.append("heel")
    outline = np.array(corners)[::-1]
    # Side i of the reversed outline runs from corner i to i+1, which was side n-2-i before.
    n = len(corners)
    parts = tuple(named[(n - 2 - i) % n] for i in range(n))
    return outline, parts, tuple(sorted(n - 1 - i for i in in_zone))


LEAF_GIVES = 0.2
"""Thicknesses by which leaf and sheet may overlap on paper above 90°: metal, clamp and leaf give by
that. Common practice, no source; beyond it the nose is set back farther."""


def leaf_edge(
    brake: LeafBrake,
    bend: Bend,
    stop: float,
    front: float = 0.0,
    lowered: float = 0.0,
    loaded: bool = False,
) -> float:
    """Where (y, mm) the bed's edge stands, and with it the leaf's hinge, for a fold that is taken
    to ``stop`` degrees.

    At an angle φ the leaf's face passes its hinge at (e, 0), and the outside of the folded panel
    keeps the distance h of the pole from the sheet's outside. They do not overlap when −e·sin φ ≥
    h·(1 − cos φ) (docs/theory.md). The brake's own rule reaches up to about 100°; for what goes
    farther, a hem's first stroke, the nose is set back more; so it is where a fold made in the same
    stroke lies ``front`` mm before the line under the nose. With bed and hinge ``lowered`` mm under
    the sheet the condition is −e·sin φ + lowered·cos φ ≥ h·(1 − cos φ); where something as deep as
    that lies between the panel and the leaf (``loaded``), it is −e·sin φ ≥ (h + lowered)·(1 − cos
    φ), and nothing may give.

    Args:
        brake: the machine.
        bend: the bend.
        stop: degrees the machine is set to stop at.
        front: how far the foremost line of the stroke lies before the one under the nose, mm.
        lowered: how far the bed is lowered, mm.
        loaded: the bed carries the leaf's bar.
    """
    nose_y = bend.allowance / 2 - min(bend.radius, brake.nose_radius)
    plain = nose_y - brake.setback(bend.thickness, bend.radius)
    turn = math.radians(min(stop, 170.0))
    height = (
        bend.thickness + bend.radius - bend.allowance / 2 / math.tan(math.radians(bend.angle) / 2)
    )
    if loaded:
        plain, needed = (
            plain - lowered,
            (height + lowered) * (1 - math.cos(turn)) / max(math.sin(turn), 1e-6),
        )
    else:
        room = LEAF_GIVES * bend.thickness + lowered * math.cos(turn)
        needed = (height * (1 - math.cos(turn)) - room) / max(math.sin(turn), 1e-6)
    return min(plain, -needed) - front


def tools_for(  # noqa: PLR0913
    brake: LeafBrake,
    bend: Bend,
    stop: float = 90.0,
    front: float = 0.0,
    lowered: float = 0.0,
    loaded: bool = False,
    doubled: float = 0.0,
) -> Tools:
    """Set the brake's cross-sections up for a fold that is taken to ``stop`` degrees.

    Args:
        brake: the machine.
        bend: the fold.
        stop: degrees it is taken to.
        front: mm by which another line of the same stroke lies before the one under the nose.
        lowered: mm by which bed and leaf lie below the sheet, which lies on a strip.
        loaded: something of that depth lies between the folded panel and the leaf.
        doubled: mm of metal lying on the folded panel beside the line, which goes round the nose
            with it: the nose stands back by it.

    Frame: fold line on the x axis, y to the back, z up from the bed; the clamped panel lies at z
    from 0 to the thickness. The nose stands where the rounder of nose and fold begins to curve.
    """
    t = bend.thickness
    nose_y = bend.allowance / 2 - min(bend.radius, brake.nose_radius) + doubled
    edge = leaf_edge(brake, bend, stop, front, lowered, loaded)
    setback = nose_y - edge
    outline, parts, nose = finger_profile(brake, t)
    finger = Profile("finger", outline + np.array([nose_y, t]), parts, nose)

    low, high = t + brake.finger_height, t + brake.finger_height + brake.beam_height
    front = nose_y + brake.beam_front
    beam = Profile(
        "beam",
        np.array(
            [
                (front, low),
                (front + brake.beam_depth, low),
                (front + brake.beam_depth, high),
                (front, high),
            ]
        ),
        ("underside", "back", "top", "front"),
    )
    drop, down = brake.bed_depth, np.array([0.0, lowered])
    lean = drop * math.tan(math.radians(brake.bed_lean))
    back = edge + brake.bed_depth + lean
    bed = Profile(
        "bed",
        np.array([(edge, 0.0), (edge + lean, -drop), (back, -drop), (back, 0.0)]) - down,
        ("front", "underside", "back", "top"),
    )
    leaf = Profile(
        "leaf",
        np.array(
            [
                (edge - brake.leaf_bar, -brake.leaf_depth),
                (edge, -brake.leaf_depth),
                (edge, 0.0),
                (edge - brake.leaf_bar, 0.0),
            ]
        )
        - down,
        ("underside", "hinge side", "working face", "front"),
    )
    return Tools(
        finger=finger,
        beam=beam,
        bed=bed,
        leaf=leaf,
        hinge=np.array([edge, 0.0]) - down,
        nose=np.array([nose_y, t]),
        setback=setback,
        opening=brake.opening,
    )
