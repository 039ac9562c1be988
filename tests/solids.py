"""A second opinion in solids: the stroke rebuilt from the plan record with a general boolean
kernel.

Nothing of the program's geometry is used here. Folding, bent strips and tools are built again from
the record that docs/plan-format.md describes, and manifold3d says whether two solids share volume.
"""

from __future__ import annotations

import atexit
import copy
import math
from dataclasses import dataclass, field
from functools import lru_cache
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
    return _resized(np.asarray(outline, float).tobytes(), by)


@lru_cache(maxsize=2000)
def _resized(points: bytes, by: float) -> np.ndarray:
    # Tools stay the same from stroke to stroke.
    outline = np.frombuffer(points).reshape(-1, 2)
    polygon = shapely.Polygon(outline).buffer(by, join_style="mitre", mitre_limit=20)
    if polygon.geom_type != "Polygon":
        polygon = max(polygon.geoms, key=lambda g: g.area)
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

    In the plane across the fold the far tangent point moves from (−BA/2, T) to the end of the arc;
    the centre of the turn that does both is where the perpendicular bisectors of that chord and of
    a second carried point cross.
    """
    theta = math.radians(abs(fold["angle"]))
    ba, r = fold["allowance"], fold["inside_radius"]
    before = np.array([[-ba / 2, thickness], [-ba / 2 - 7.0, thickness - 10.0]])
    tangent = np.array([ba / 2 - r * math.sin(theta), thickness + r - r * math.cos(theta)])
    along, up = (
        np.array([-math.cos(theta), math.sin(theta)]),
        np.array([math.sin(theta), math.cos(theta)]),
    )
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


def strip(
    fold: dict[str, Any], degrees: float, thickness: float, facets: int = 24
) -> m3.Manifold | None:
    """The bent strip in the parent's flat frame: a true arc between both tangent lines."""
    a = math.radians(abs(degrees))
    start = -fold["allowance"] / 2
    if a < 1e-3:
        if fold["allowance"] < 1e-9:
            return None
        flat = np.array([(start, 0.0), (-start, 0.0), (-start, thickness), (start, thickness)])
        return along_fold(flat, fold)
    # Far tangent point by a turn about the pole; the arc's radius follows from the two tangent
    # lines.
    h = pole_above_outside(fold, thickness)
    arm = np.array([-start, thickness - h])
    far = np.array(
        [
            arm[0] * math.cos(a) - arm[1] * math.sin(a),
            h + arm[0] * math.sin(a) + arm[1] * math.cos(a),
        ]
    )
    apex = far[0] - (far[1] - thickness) / math.tan(a)
    radius = max(0.0, (apex - start) / math.tan(a / 2))
    phi = np.linspace(0, a, facets + 1)
    outer = np.column_stack(
        [
            start + (radius + thickness) * np.sin(phi),
            thickness + radius - (radius + thickness) * np.cos(phi),
        ]
    )
    inner = np.column_stack(
        [start + radius * np.sin(phi), thickness + radius - radius * np.cos(phi)]
    )
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


@dataclass(eq=False)
class Pieces:
    """What the strokes of one blank have in common, built once: panels, strips at an angle, where
    panels stand in a state.

    Attributes:
        blank: the record's blank.
    """

    blank: dict[str, Any]
    panels: dict[int, tuple[m3.Manifold, m3.Manifold] | None] = field(default_factory=dict)
    strips: dict[tuple[int, float], m3.Manifold | None] = field(default_factory=dict)
    states: dict[tuple[tuple[float, ...], int], list[np.ndarray]] = field(default_factory=dict)

    def panel(self, i: int) -> tuple[m3.Manifold, m3.Manifold] | None:
        """A panel lying flat, and without its skin; None where all of it gives way."""
        if i not in self.panels:
            self.panels[i] = self._panel(self.blank["panels"][i], self.blank["thickness"])
        return self.panels[i]

    @staticmethod
    def _panel(panel: dict[str, Any], t: float) -> tuple[m3.Manifold, m3.Manifold] | None:
        pieces = panel.get("rigid", [panel["polygon"]])
        if not pieces:
            return None
        whole = m3.Manifold.batch_boolean(
            [m3.Manifold.extrude(m3.CrossSection([np.array(p)]), t) for p in pieces], m3.OpType.Add
        )
        thin = not shapely.Polygon(panel["polygon"]).buffer(-0.3 * t).is_empty
        inner = resized(panel["polygon"], -0.2 * t) if thin else np.array(panel["polygon"])
        return whole, m3.Manifold.extrude(m3.CrossSection([inner]), t * 0.6).translate(
            (0, 0, t / 5)
        )

    def strip(self, i: int, degrees: float) -> m3.Manifold | None:
        """A bent strip, see :func:`strip`."""
        if (i, degrees) not in self.strips:
            self.strips[i, degrees] = strip(
                self.blank["folds"][i], degrees, self.blank["thickness"]
            )
        return self.strips[i, degrees]

    def standing(self, angles: list[float], root: int) -> list[np.ndarray]:
        """Where every panel stands, see :func:`placed`."""
        key = tuple(angles), root
        if key not in self.states:
            self.states[key] = placed(self.blank, angles, root)
        return self.states[key]


_latest: list[Pieces] = []
atexit.register(_latest.clear)  # the kernel is gone before the modules are


def pieces_of(blank: dict[str, Any]) -> Pieces:
    """Those of a blank; the latest are kept, for its strokes come one after the other."""
    if not _latest or _latest[0].blank is not blank:
        _latest[:] = [Pieces(blank)]
    return _latest[0]


class Rebuilt:
    """One stroke of a plan record, in solids.

    Args:
        blank: the record's blank.
        stroke: one record of its strokes (only geometry is read).
    """

    def __init__(self, blank: dict[str, Any], stroke: dict[str, Any]) -> None:
        self.blank, self.stroke = blank, stroke
        # A stroke is looked at at many angles: what stays the same is built once.
        self._tools: dict[tuple[str, float, bool], m3.Manifold] = {}
        self._levels: dict[int, bool] = {}
        self._degrees, self._posed = 0.0, {}
        self._open = (0.0, 0.0)
        angles = list(stroke["angles_before"])
        for fold in stroke["folds"]:
            angles[fold] = 0.0
        frame = motion(np.array(stroke["frame"]["turn"]), np.array(stroke["frame"]["shift"]))
        pieces = pieces_of(blank)
        poses = [after(frame, m) for m in pieces.standing(angles, stroke["clamped"])]
        swinging = set(stroke["swinging"])
        # (panel, the panels a piece belongs to, swings, how far behind its axis lies, solid, the
        # solid without its skin)
        self.bodies: list[Body] = []
        # A strip that turns away from the leaf beside the panel that lies on it lies in that
        # panel's plane and above.
        way = blank["folds"][stroke["fold"]]["angle"]
        self.flush: list[Body] = []
        behind = {int(k): off for k, off in stroke["behind"].items()}
        for i in range(len(blank["panels"])):
            flat = pieces.panel(i)
            if flat is not None:
                (whole, core), off = flat, behind.get(i, 0.0)
                self.bodies.append(
                    Body(
                        i,
                        {i},
                        i in swinging,
                        off,
                        whole.transform(poses[i]),
                        core.transform(poses[i]),
                    )
                )
        for i, fold in enumerate(blank["folds"]):
            gives = blank["panels"][fold["child"]].get("rigid") == []
            bent = None if i in stroke["folds"] or gives else pieces.strip(i, angles[i])
            if bent is not None:
                placed_ = bent.transform(poses[fold["parent"]])
                off = behind.get(fold["parent"], 0.0)
                self.bodies.append(
                    Body(-1, {fold["child"]}, fold["parent"] in swinging, off, placed_, placed_, i)
                )
                if angles[i] * way > 0 and {fold["parent"], fold["child"]} & set(
                    stroke["folding_panels"]
                ):
                    self.flush.append(self.bodies[-1])
        for b in self.bodies:
            b.across = self._across(b, poses)
        x = [b.solid.bounding_box() for b in self.bodies]
        self.low, self.high = min(b[0] for b in x) - 50, max(b[3] for b in x) + 50
        if stroke.get("bed") is not None:
            self.low, self.high = max(self.low, stroke["bed"][0]), min(self.high, stroke["bed"][1])

    def _across(self, body: Body, poses: list[np.ndarray]) -> m3.Manifold | None:
        """What of a piece that is meant to lie in the tools lies across its own bend line, where it
        is not meant to."""
        s, folds = self.stroke, self.blank["folds"]
        beside = {*s["folding_panels"], *s["clamped_panels"]}
        if not (self.level(body) if self.press else body.panel in beside):
            return None
        if body.swings:
            trimmed = body.solid.trim_by_plane((0, 1, 0), body.behind + 0.05)
        else:
            line = 0.0
            for i in s["folds"]:
                if body.panel in s["clamped_panels"] and body.panel in (
                    folds[i]["parent"],
                    folds[i]["child"],
                ):
                    line = min(
                        line,
                        float((poses[body.panel] @ np.array([*folds[i]["start"], 0.0, 1.0]))[1]),
                    )
            trimmed = body.solid.trim_by_plane((0, -1, 0), -(line - 0.05))
        return trimmed if trimmed.volume() > 1e-6 else None

    def opened(self, y: float, z: float) -> Rebuilt:
        """The same with finger and beam shifted, as where the clamp stands open or the part is
        drawn out of it."""
        again = copy.copy(self)
        again._open = (y, z)
        return again

    def forget(self) -> None:
        """Build everything but the part anew when it is next asked for."""
        self._tools.clear()
        self._levels.clear()
        self._degrees, self._posed = 0.0, {}
        _resized.cache_clear()

    @property
    def press(self) -> bool:
        return self.stroke["machine"] == "press"

    def turned(self, body: m3.Manifold, degrees: float, about: Any) -> m3.Manifold:
        """Swung up from the front: −y goes towards +z."""
        (y, z), c, s = about, math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
        return body.transform(
            np.array([[1.0, 0, 0, 0], [0, c, s, y - c * y - s * z], [0, -s, c, z + s * y - c * z]])
        )

    def posed(
        self, body: Body, degrees: float, *, core: bool = False, across: bool = False
    ) -> m3.Manifold:
        """A piece with the fold at an angle: on a press both sides then turn back by half of it."""
        if degrees != self._degrees:
            self._degrees, self._posed = degrees, {}
        key = id(body), core, across
        if key not in self._posed:
            self._posed[key] = self._posing(body, degrees, core, across)
        return self._posed[key]

    def _posing(self, body: Body, degrees: float, core: bool, across: bool) -> m3.Manifold:
        pole = self.stroke["pole"]
        solid = body.across if across else body.core if core else body.solid
        if body.swings:
            solid = self.turned(solid, degrees, (pole[0] + body.behind, pole[1]))
        return self.turned(solid, -degrees / 2, pole) if self.press else solid

    def shifts(self, degrees: float) -> tuple[float, float]:
        """How far punch and die stand higher, seen from the pole, found from the metal itself."""
        s, t = self.stroke, self.blank["thickness"]
        fold = self.blank["folds"][s["fold"]]
        pole = np.array(s["pole"])
        a, half = math.radians(degrees), math.radians(degrees) / 2
        ba = fold["allowance"]
        back = np.array([[math.cos(half), -math.sin(half)], [math.sin(half), math.cos(half)]])
        # The punch stands on the middle of the inside arc between both tangent lines.
        near = np.array([ba / 2, t])
        if degrees < 1e-6:
            inside = t
        else:
            far = pole + np.array([[math.cos(a), math.sin(a)], [-math.sin(a), math.cos(a)]]) @ (
                np.array([-ba / 2, t]) - pole
            )
            # Bent past its own radius the two tangent points change places.
            across = math.copysign(np.hypot(*(far - near)), near[0] - far[0])
            radius = across / 2 / math.sin(half) if ba > 1e-9 else 0.0
            centre = near + np.array([0.0, radius])
            assert abs(np.hypot(*(far - centre)) - abs(radius)) < 1e-6 * max(1.0, radius), (
                near,
                far,
                centre,
                radius,
                degrees,
                fold,
            )
            middle = centre + radius * np.array([-math.sin(half), -math.cos(half)])
            inside = float((pole + back @ (middle - pole))[1])
            # A tip rounder than the arc touches both faces instead; they meet where their lines
            # cross.
            corner = near + np.array([-max(radius, 0.0) * math.tan(half), 0.0])
            cross = float((pole + back @ (corner - pole))[1])
            inside = max(inside, cross + s["tip_radius"] * (1 / math.cos(half) - 1))
        # The die's shoulder stands under the outside face of the side at the back.
        one, two = (pole + back @ (np.array([y, 0.0]) - pole) for y in (10.0, 1000.0))
        shoulder = float(one[1] + (s["shoulder"] - one[0]) * (two[1] - one[1]) / (two[0] - one[0]))
        return inside - t, shoulder

    def tool(self, name: str, grown: float, *, bare: bool = False, up: float = 0.0) -> m3.Manifold:
        """A tool as the record draws it, grown by so much, standing higher by ``up``."""
        key = name, grown, bare
        if key not in self._tools:
            self._tools[key] = self._drawn(name, grown, bare)
        y, z = self._open if name in ("finger", "beam") else (0.0, 0.0)
        return self._tools[key].translate((0, y, z + up)) if y or z or up else self._tools[key]

    def _drawn(self, name: str, grown: float, bare: bool) -> m3.Manifold:
        record = self.stroke["tools"][name]
        outline = np.array(record["outline"])
        if bare:
            # The folded panel is meant to lie on the nose: without it, only what lies beyond the
            # nose's zone is left.
            outline = np.array(
                [p for i, p in enumerate(outline) if i not in record["nose_corners"]]
            )
        outline = resized(outline, grown)
        if name not in ("finger", "punch", "die"):
            return extruded(outline, self.low, self.high)
        return m3.Manifold.compose(
            [
                extruded(outline, a, b)
                for a, b in self.stroke["die_sections" if name == "die" else "sections"]
            ]
        )

    def strikes(self, degrees: float, grown: float) -> list[tuple[int, str]]:
        """Everything that shares volume with the part at an angle of the swing, tools grown by
        ``grown`` mm."""
        return (
            self._press_strikes(degrees, grown)
            if self.press
            else self._leaf_strikes(degrees, grown)
        )

    def _leaf_strikes(self, degrees: float, grown: float) -> list[tuple[int, str]]:
        s = self.stroke
        found: list[tuple[int, str]] = []
        leaf = self.turned(self.tool("leaf", grown), degrees, s["hinge"])
        finger, bare = self.tool("finger", grown), self.tool("finger", grown, bare=True)
        beam, bed = self.tool("beam", grown), self.tool("bed", grown)
        for b in self.bodies:
            if not b.swings:
                part = b.across if b.panel in s["clamped_panels"] else b.solid
                if part is not None and shared(part, leaf):
                    found.append((b.panel, "leaf"))
                continue
            if b.across is not None:
                part = self.posed(b, degrees, across=True)
                found += [
                    (b.panel, name)
                    for tool, name in ((bed, "bed"), (finger, "finger"))
                    if shared(part, tool)
                ]
            folded, body = b.panel in s["folding_panels"], self.posed(b, degrees)
            against = [(bare if folded else finger, "finger"), (beam, "beam")]
            if not folded:
                against += [(bed, "bed")] if b in self.flush else [(bed, "bed"), (leaf, "leaf")]
            found += [(b.panel, name) for tool, name in against if shared(body, tool)]
        return found + self._itself(degrees, grown)

    def _press_strikes(self, degrees: float, grown: float) -> list[tuple[int, str]]:
        up, rise = self.shifts(degrees)
        bare = self.tool("punch", grown, bare=True, up=up)
        tools = {
            "punch": self.tool("punch", grown, up=up),
            "ram": self.tool("ram", grown, up=up),
            "die": self.tool("die", grown, up=rise),
            "table": self.tool("table", grown, up=rise),
        }
        found: list[tuple[int, str]] = []
        for b in self.bodies:
            body = self.posed(b, degrees)
            folded = self.level(b)
            if b.across is not None:
                part = self.posed(b, degrees, across=True)
                found += [(b.panel, name) for name, tool in tools.items() if shared(part, tool)]
            bent = b.panel < 0 and self.stroke["angles_before"][b.fold] != 0
            for name, tool in tools.items():
                if folded and name == "die":
                    continue
                # What turns up from the panels beside the fold lies on the die with them; the punch
                # it must clear.
                if shared(body, bare if folded and not bent and name == "punch" else tool):
                    found.append((b.panel, name))
        return found + self._itself(degrees, grown)

    def _itself(self, degrees: float, grown: float) -> list[tuple[int, str]]:
        s, panels, found = self.stroke, self.blank["panels"], []
        hems = {
            f["child"]: panels[f["parent"]]["name"]
            for f in self.blank["folds"]
            if f["made_by"] == "hem"
        }
        for one in (b for b in self.bodies if b.swings):
            for other in (b for b in self.bodies if not b.swings):
                if self.beside(one, s["folding_panels"]) and self.beside(
                    other, s["clamped_panels"]
                ):
                    continue
                on = (
                    {panels[a]["lies_on"] for a in one.of},
                    {panels[a]["lies_on"] for a in other.of},
                )
                names = {panels[a]["name"] for a in one.of}, {panels[a]["name"] for a in other.of}
                if any(hems.get(a) in on[1] for a in one.of) or any(
                    hems.get(a) in on[0] for a in other.of
                ):
                    continue  # a tab is guided under the hem of its wall
                lies = bool(on[0] & names[1] or on[1] & names[0])
                # A tab may press on the wall it is made to lie against, but never go through it.
                if shared(
                    self.posed(one, degrees),
                    self.posed(other, degrees, core=lies and grown <= 0),
                    grown,
                ):
                    found.append((one.panel, f"part {other.panel}"))
        return found

    def beside(self, body: Body, panels: list[int]) -> bool:
        """True for one of the panels beside the fold, and for a flat strip between two of them."""
        if body.panel >= 0:
            return body.panel in panels
        fold = self.blank["folds"][body.fold]
        return self.stroke["angles_before"][body.fold] == 0 and {
            fold["parent"],
            fold["child"],
        } <= set(panels)

    def level(self, body: Body) -> bool:
        """True for what lies in the plane of the panels beside the fold, flat strips and strips
        that turn up included."""
        if id(body) not in self._levels:
            self._levels[id(body)] = self._level(body)
        return self._levels[id(body)]

    def _level(self, body: Body) -> bool:
        s, folds = self.stroke, self.blank["folds"]
        group = {*s["folding_panels"], *s["clamped_panels"]}
        for _ in folds:
            for i, fold in enumerate(folds):
                if (
                    i not in s["folds"]
                    and s["angles_before"][i] == 0
                    and {fold["parent"], fold["child"]} & group
                ):
                    group |= {fold["parent"], fold["child"]}
        if body.panel >= 0:
            return body.panel in group
        fold = folds[body.fold]
        up = s["angles_before"][body.fold] * folds[s["fold"]]["angle"] >= 0
        return up and bool(group & {fold["parent"], fold["child"]})

    def tipped_passes(self, degrees: float) -> list[tuple[float, float, int, str]]:
        """What strikes finger, beam or bed on the way out of a part that is tipped, the fold at an
        angle, in small steps."""
        s = self.stroke
        tip, opening, ease = s["tip"], s["opening"], s["drawn_forward"] if degrees else 0.0
        about, forward = np.array([0.0, *tip["about"]]), tip["forward"]
        found = []
        stages = [(y, 0.0) for y in np.linspace(0.0, forward, 6)]
        stages += [(forward, a) for a in np.linspace(0.0, tip["angle"], 12)]
        stages += [(forward + y, tip["angle"]) for y in (3, 10, 25, 50, 80, 120, 200, 400)]
        tools = {
            n: self.tool(n, -0.05, up=0.0 if n == "bed" else opening)
            for n in ("finger", "beam", "bed")
        }
        for y, a in stages:
            turn = turn_about(about, np.array([-1.0, 0, 0]), a)
            for b in self.bodies:
                stood = self.posed(b, degrees).transform(turn).translate((0, -ease - y, 0))
                found += [
                    (y, a, b.panel, name) for name, tool in tools.items() if shared(stood, tool)
                ]
        return found

    def press_passes(self, degrees: float, way: str) -> list[tuple[str, tuple[int, str]]]:
        """What strikes while the press opens about the part standing at an angle and the part is
        moved out, or in backwards."""
        s = self.stroke
        up, rise = self.shifts(degrees)
        pole, opening = s["pole"], s["opening"]
        found: list[tuple[str, tuple[int, str]]] = []

        def look(what: str, ram: float, die: float, move: Any) -> None:
            tools = {n: self.tool(n, -0.005, up=ram) for n in ("punch", "ram")}
            tools |= {n: self.tool(n, -0.005, up=die) for n in ("die", "table")}
            for b in self.bodies:
                folded = self.level(b)
                for name, tool in tools.items():
                    if not (
                        folded and name in ("die", "punch" if what in ("open", "let go") else "die")
                    ) and shared(move(b), tool):
                        found.append((what, (b.panel, name)))

        if way == "along":
            look("let go", up + 1.0, rise, lambda b: self.posed(b, degrees))
            return found
        for share in (0.02, 0.1, 0.3, 0.6, 1.0):
            look("open", up + (opening + rise) * share, rise, lambda b: self.posed(b, degrees))
        for share in (0.0, 0.5, 1.0):
            look(
                "lift",
                opening + rise * (1 - share),
                rise * (1 - share),
                lambda b: self.posed(b, degrees),
            )
        if way == "side":
            return found
        drawn = s["drawn_forward"] if way == "drawn" and degrees else 0.0
        for share in (0.25, 0.5, 0.75, 1.0):
            if drawn:
                look(
                    "draw",
                    opening,
                    0.0,
                    lambda b, a=share: self.posed(b, degrees).translate((0, -a * drawn, 0)),
                )
        for share in (0.2, 0.5, 0.8, 1.0):
            look(
                "tip",
                opening,
                0.0,
                lambda b, a=share: self.turned(
                    self.posed(b, degrees), a * degrees / 2, pole
                ).translate((0, -drawn, 0)),
            )
        level = {
            id(b): self.turned(self.posed(b, degrees), degrees / 2, pole).translate((0, -drawn, 0))
            for b in self.bodies
        }
        low = min(m.bounding_box()[2] for m in level.values())
        lift = (1.0 - low if low < -1e-6 else 0.0) if way == "lifted" else 0.0
        for away in (0, 5, 50, 150, 400, 900):
            look("slide", opening, 0.0, lambda b, a=away: level[id(b)].translate((0, -a, lift)))
        return found


@dataclass(eq=False)
class Body:
    """One piece of the part with the fold flat."""

    panel: int
    of: set[int]
    swings: bool
    behind: float
    solid: m3.Manifold
    core: m3.Manifold
    fold: int = -1
    across: m3.Manifold | None = None


def apart(one: m3.Manifold, other: m3.Manifold, by: float = 0.0) -> bool:
    """True when the boxes about two solids are farther apart than this, mm: then the solids are."""
    a, b = one.bounding_box(), other.bounding_box()
    return (
        a[0] > b[3] + by
        or b[0] > a[3] + by
        or a[1] > b[4] + by
        or b[1] > a[4] + by
        or a[2] > b[5] + by
        or b[2] > a[5] + by
    )


def shared(one: m3.Manifold, other: m3.Manifold, grown: float = 0.0) -> bool:
    """True when two solids share volume (or, when ``grown`` > 0, come nearer than that)."""
    if apart(one, other, max(grown, 0.0)):
        return False
    if grown > 0:
        return bool(one.min_gap(other, grown) < grown)
    return bool((one ^ other).volume() > (NOTHING if grown == 0 else 1.0))
