"""A second opinion in solids: the stroke rebuilt from the plan record with a general boolean kernel.

Nothing of the program's geometry is used here. Folding, bent strips and tools are built again from the record that
docs/plan-format.md describes, and manifold3d says whether two solids share volume.
"""

from __future__ import annotations

import math
from typing import Any

import manifold3d as m3
import numpy as np
import shapely

NOTHING = 1e-6
"""mm³; less shared volume than this is none."""


def extruded(outline: np.ndarray, low: float, high: float) -> m3.Manifold:
    """An outline in (y, z) stretched from x = low to x = high."""
    flat = m3.Manifold.extrude(m3.CrossSection([np.asarray(outline, float)]), high - low)
    # extrude works in (x, y) along z; here (y, z) along x.
    return flat.transform(np.array([[0.0, 0, 1, low], [1, 0, 0, 0], [0, 1, 0, 0]]))


def resized(outline: Any, by: float) -> np.ndarray:
    """An outline grown (or drawn in) by ``by`` mm with square corners."""
    polygon = shapely.Polygon(outline).buffer(by, join_style="mitre", mitre_limit=20)
    return np.array(shapely.geometry.polygon.orient(polygon).exterior.coords)[:-1]


def motion(turn: np.ndarray, shift: np.ndarray) -> np.ndarray:
    return np.column_stack([turn, shift])


def after(second: np.ndarray, first: np.ndarray) -> np.ndarray:
    """(3, 4) motion ``first`` and then ``second``."""
    return motion(second[:, :3] @ first[:, :3], second[:, :3] @ first[:, 3] + second[:, 3])


def inverse(m: np.ndarray) -> np.ndarray:
    return motion(m[:, :3].T, -m[:, :3].T @ m[:, 3])


def turn_about(point: np.ndarray, axis: np.ndarray, degrees: float) -> np.ndarray:
    """(3, 4) turn by the right hand about an axis through a point."""
    a = math.radians(degrees)
    k = np.array([[0, -axis[2], axis[1]], [axis[2], 0, -axis[0]], [-axis[1], axis[0], 0]])
    turn = np.eye(3) + math.sin(a) * k + (1 - math.cos(a)) * k @ k
    return motion(turn, point - turn @ point)


def pole_above_outside(fold: dict[str, Any], thickness: float) -> float:
    """The fixed point of the finished fold, found from the finished pose alone.

    In the plane across the fold the far tangent point moves from (−BA/2, T) to the end of the arc; the centre of the turn
    that does both is where the perpendicular bisectors of that chord and of a second carried point cross.
    """
    theta = math.radians(abs(fold["angle"]))
    ba, r = fold["allowance"], fold["inside_radius"]
    before = np.array([[-ba / 2, thickness], [-ba / 2 - 7.0, thickness - 10.0]])
    tangent = np.array([ba / 2 - r * math.sin(theta), thickness + r - r * math.cos(theta)])
    along, up = np.array([-math.cos(theta), math.sin(theta)]), np.array([math.sin(theta), math.cos(theta)])
    done = np.array([tangent, tangent + 7.0 * along - 10.0 * up])
    chords, middles = done - before, (done + before) / 2
    if np.hypot(*chords[0]) < 1e-9:  # a sharp fold on the line turns about the inside face itself
        return thickness
    return float(np.linalg.solve(chords, np.einsum("ij,ij->i", chords, middles))[1])


def fold_motion(fold: dict[str, Any], degrees: float, thickness: float) -> np.ndarray:
    """Motion of the child panel in the parent's flat frame."""
    height = pole_above_outside(fold, thickness)
    if fold["angle"] < 0:
        height = thickness - height
    out = np.array([*fold["outward"], 0.0])
    axis = np.cross(out, [0, 0, 1.0])
    return turn_about(np.array([*fold["start"], height]), axis, degrees)


def placed(blank: dict[str, Any], angles: list[float], root: int) -> list[np.ndarray]:
    """Motion of every panel with ``root`` at rest."""
    found: dict[int, np.ndarray] = {root: motion(np.eye(3), np.zeros(3))}
    while len(found) < len(blank["panels"]):
        for fold, degrees in zip(blank["folds"], angles, strict=True):
            m = fold_motion(fold, degrees, blank["thickness"])
            if fold["parent"] in found and fold["child"] not in found:
                found[fold["child"]] = after(found[fold["parent"]], m)
            elif fold["child"] in found and fold["parent"] not in found:
                found[fold["parent"]] = after(found[fold["child"]], inverse(m))
    return [found[i] for i in range(len(found))]


def strip(fold: dict[str, Any], degrees: float, thickness: float, facets: int = 24) -> m3.Manifold | None:
    """The bent strip in the parent's flat frame: a true arc between both tangent lines."""
    a = math.radians(abs(degrees))
    start = -fold["allowance"] / 2
    if a < 1e-3:
        if fold["allowance"] < 1e-9:
            return None
        flat = np.array([(start, 0.0), (-start, 0.0), (-start, thickness), (start, thickness)])
        return along_fold(flat, fold)
    # Far tangent point by a turn about the pole; the arc's radius follows from the two tangent lines.
    h = pole_above_outside(fold, thickness)
    arm = np.array([-start, thickness - h])
    far = np.array([arm[0] * math.cos(a) - arm[1] * math.sin(a), h + arm[0] * math.sin(a) + arm[1] * math.cos(a)])
    apex = far[0] - (far[1] - thickness) / math.tan(a)
    radius = max(0.0, (apex - start) / math.tan(a / 2))
    phi = np.linspace(0, a, facets + 1)
    outer = np.column_stack(
        [start + (radius + thickness) * np.sin(phi), thickness + radius - (radius + thickness) * np.cos(phi)]
    )
    inner = np.column_stack([start + radius * np.sin(phi), thickness + radius - radius * np.cos(phi)])
    ring = np.concatenate([outer, inner[::-1] if radius > 1e-9 else inner[:1]])
    if fold["angle"] < 0:
        ring = np.column_stack([ring[:, 0], thickness - ring[:, 1]])[::-1]
    return along_fold(ring, fold)


def along_fold(ring: np.ndarray, fold: dict[str, Any]) -> m3.Manifold:
    """A section across the fold, (outwards, up), stretched from the fold's start to its end."""
    s, e, out = np.array(fold["start"]), np.array(fold["end"]), np.array(fold["outward"])
    along = (e - s) / np.hypot(*(e - s))
    body = m3.Manifold.extrude(m3.CrossSection([ring]), float(np.hypot(*(e - s))))
    m = np.column_stack([[*out, 0.0], [0, 0, 1.0], [*along, 0.0], [*s, 0.0]])
    return body.transform(m)


class Rebuilt:
    """One stroke of a plan record, in solids.

    Args:
        blank: the record's blank.
        stroke: one record of its strokes (only geometry is read).
    """

    def __init__(self, blank: dict[str, Any], stroke: dict[str, Any]) -> None:
        self.blank, self.stroke = blank, stroke
        t = blank["thickness"]
        angles = list(stroke["angles_before"])
        for fold in stroke["folds"]:
            angles[fold] = 0.0
        frame = motion(np.array(stroke["frame"]["turn"]), np.array(stroke["frame"]["shift"]))
        poses = [after(frame, m) for m in placed(blank, angles, stroke["clamped"])]
        swinging = set(stroke["swinging"])
        self.bodies: list[tuple[int, bool, m3.Manifold]] = []
        # A strip that turns away from the leaf beside the panel that lies on it lies in that panel's plane and above.
        way = blank["folds"][stroke["fold"]]["angle"]
        self.flush: list[m3.Manifold] = []
        for i, panel in enumerate(blank["panels"]):
            plate = m3.Manifold.extrude(m3.CrossSection([np.array(panel["polygon"])]), t)
            self.bodies.append((i, i in swinging, plate.transform(poses[i])))
        for i, fold in enumerate(blank["folds"]):
            bent = None if i in stroke["folds"] else strip(fold, angles[i], t)
            if bent is not None:
                self.bodies.append((-1, fold["parent"] in swinging, bent.transform(poses[fold["parent"]])))
                if angles[i] * way > 0 and {fold["parent"], fold["child"]} & set(stroke["folding_panels"]):
                    self.flush.append(self.bodies[-1][2])
        x = [b.bounding_box() for _, _, b in self.bodies]
        self.low, self.high = min(b[0] for b in x) - 50, max(b[3] for b in x) + 50

    def turned(self, body: m3.Manifold, degrees: float, about: Any) -> m3.Manifold:
        """Swung up by the leaf: −y goes towards +z."""
        point = np.array([0.0, *about])
        return body.transform(turn_about(point, np.array([-1.0, 0, 0]), degrees))

    def tool(self, name: str, grown: float, *, bare: bool = False) -> m3.Manifold:
        record = self.stroke["tools"][name]
        outline = np.array(record["outline"])
        if bare:
            # The folded panel is meant to lie on the nose: without it, only what lies beyond the nose's zone is left.
            outline = np.array([p for i, p in enumerate(outline) if i not in record["nose_corners"]])
        outline = resized(outline, grown)
        if name != "finger":
            return extruded(outline, self.low, self.high)
        return m3.Manifold.compose([extruded(outline, a, b) for a, b in self.stroke["fingers"]])

    def strikes(self, degrees: float, grown: float) -> list[tuple[int, str]]:
        """Everything that shares volume with the part at an angle of the swing, tools grown by ``grown`` mm."""
        s = self.stroke
        found: list[tuple[int, str]] = []
        leaf = self.turned(self.tool("leaf", grown), degrees, s["hinge"])
        finger, bare = self.tool("finger", grown), self.tool("finger", grown, bare=True)
        beam, bed = self.tool("beam", grown), self.tool("bed", grown)
        still = [(p, b) for p, swings, b in self.bodies if not swings]
        flush = [any(b is f for f in self.flush) for _, swings, b in self.bodies if swings]
        moved = [(p, self.turned(b, degrees, s["pole"])) for p, swings, b in self.bodies if swings]
        for (panel, body), flat in zip(moved, flush, strict=True):
            folded = panel in s["folding_panels"]
            against = [(bare if folded else finger, "finger"), (beam, "beam")]
            if not folded:
                against += [(bed, "bed")] if flat else [(bed, "bed"), (leaf, "leaf")]
            found += [(panel, name) for tool, name in against if shared(body, tool)]
            for other, rest in still:
                if not (folded and other in s["clamped_panels"]) and shared(body, rest, grown):
                    found.append((panel, f"part {other}"))
        found += [(panel, "leaf") for panel, body in still if panel not in s["clamped_panels"] and shared(body, leaf)]
        return found


def shared(one: m3.Manifold, other: m3.Manifold, grown: float = 0.0) -> bool:
    """True when two solids share volume (or, when ``grown`` > 0, come nearer than that)."""
    if grown > 0:
        return bool(one.min_gap(other, grown) < grown)
    return bool((one ^ other).volume() > (NOTHING if grown == 0 else 1.0))
