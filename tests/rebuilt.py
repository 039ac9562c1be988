"""A stroke of a plan bent again from the fold tree, by other means than the program's.

Read are the panels and folds of the blank, the brake's own file, and what the plan tells a person
to set: nothing of the engine's poles, hinges, outlines or frames. The metal bends evenly, its
neutral line keeping its length; the tools are drawn again from the measures in the brake's file;
whether two things share room, a general boolean kernel says.
"""

from __future__ import annotations

import atexit
import math
from functools import lru_cache
from typing import Any

import manifold3d as m3
import numpy as np
import shapely

from solids import apart

FINELY = 1e-5
"""mm; how finely a first touch is looked for: a thousandth of what is asserted of it."""

SKIN = 0.05
"""mm by which tools are drawn in: lying against a face is not crushing it."""

GIVES = 0.2
"""Thicknesses by which leaf and metal may overlap above 90°, as docs/plan-format.md states."""

NOTHING = 0.02
"""mm³; less shared room than this is none."""

FAR = 6000.0
"""mm from the middle of a stroke to either end of a tool that is as long as it need be."""

Record = dict[str, Any]


class EvenBend:
    """One fold whose metal bends evenly between its two tangent lines.

    The neutral line keeps its length: at an angle a the inside radius is BA/a less what the
    finished bend's own development puts between inside and neutral line.
    """

    def __init__(self, fold: Record, thickness: float) -> None:
        self.fold, self.t = fold, thickness
        self.up = fold["angle"] > 0
        self.ba, final = fold["allowance"], math.radians(abs(fold["angle"]))
        self.neutral = self.ba / final - fold["inside_radius"]

    def radius(self, a: float) -> float:
        return self.ba / a - self.neutral if self.ba > 1e-9 else 0.0

    def child(self, degrees: float) -> np.ndarray:
        """(3, 4) motion of the child in (along, outwards, up) coordinates of the fold, the parent
        flat at negative outwards."""
        a = math.radians(abs(degrees))
        if a < 1e-9:
            return np.column_stack([np.eye(3), np.zeros(3)])
        r, half = self.radius(a), self.ba / 2
        turn = np.array([[1, 0, 0], [0, math.cos(a), -math.sin(a)], [0, math.sin(a), math.cos(a)]])
        end = np.array([0, -half + r * math.sin(a), self.t + r - r * math.cos(a)])
        found = np.column_stack([turn, end - turn @ np.array([0, half, self.t])])
        return found if self.up else mirrored(found, self.t)

    def arc(self, degrees: float, facets: int = 16) -> np.ndarray | None:
        """(n, 2) section of the bent strip, (outwards, up); None when there is none."""
        a = math.radians(abs(degrees))
        if self.ba < 1e-9 and a < 1e-9:
            return None
        half = self.ba / 2
        if a < 1e-6:
            ring = np.array([(-half, 0.0), (half, 0.0), (half, self.t), (-half, self.t)])
        else:
            r = max(self.radius(a), 0.0)
            phi = np.linspace(0, a, facets + 1)
            out = np.column_stack(
                [-half + (r + self.t) * np.sin(phi), self.t + r - (r + self.t) * np.cos(phi)]
            )
            inner = np.column_stack([-half + r * np.sin(phi), self.t + r - r * np.cos(phi)])
            ring = np.concatenate([out, inner[::-1] if r > 1e-9 else inner[:1]])
        return ring if self.up else np.column_stack([ring[:, 0], self.t - ring[:, 1]])[::-1]


def mirrored(m: np.ndarray, t: float) -> np.ndarray:
    """A motion seen in a mirror lying in the middle of the sheet."""
    flip, shift = np.diag([1.0, 1.0, -1.0]), np.array([0, 0, t])
    turn = flip @ m[:, :3] @ flip
    return np.column_stack([turn, flip @ (m[:, :3] @ shift + m[:, 3]) + shift - 0 * turn @ shift])


def after(second: np.ndarray, first: np.ndarray) -> np.ndarray:
    return np.column_stack(
        [second[:, :3] @ first[:, :3], second[:, :3] @ first[:, 3] + second[:, 3]]
    )


def inverse(m: np.ndarray) -> np.ndarray:
    return np.column_stack([m[:, :3].T, -m[:, :3].T @ m[:, 3]])


def turn_x(degrees: float, about: tuple[float, float] = (0.0, 0.0)) -> np.ndarray:
    """(3, 4) turn about a line along x that lifts what lies at negative y."""
    a = math.radians(degrees)
    turn = np.array([[1, 0, 0], [0, math.cos(a), math.sin(a)], [0, -math.sin(a), math.cos(a)]])
    point = np.array([0.0, *about])
    return np.column_stack([turn, point - turn @ point])


def shifted(y: float, z: float) -> np.ndarray:
    return np.column_stack([np.eye(3), np.array([0.0, y, z])])


def local(fold: Record) -> np.ndarray:
    """(3, 4) from (along, outwards, up) coordinates of a fold into the flat."""
    out = np.array([*fold["outward"], 0.0])
    along = np.cross(out, [0, 0, 1.0])
    return np.column_stack([along, out, [0, 0, 1.0], [*fold["start"], 0.0]])


@lru_cache(maxsize=500)
def plate(
    rings: tuple[tuple[tuple[float, float], ...], ...], thickness: float, inset: float
) -> m3.Manifold | None:
    """Sheet of some outlines lying flat, its skin taken off all round; None where nothing is
    left."""
    pieces = []
    for ring in rings:
        shape = (
            shapely.Polygon(ring).buffer(-inset, join_style="mitre")
            if inset
            else shapely.Polygon(ring)
        )
        for part in getattr(shape, "geoms", [shape]):
            if not part.is_empty and part.area > 1e-3:
                ring_ = np.array(shapely.geometry.polygon.orient(part).exterior.coords)[:-1]
                flat = m3.Manifold.extrude(m3.CrossSection([ring_]), thickness - 2 * inset)
                pieces.append(flat.translate((0, 0, inset)))
    return m3.Manifold.batch_boolean(pieces, m3.OpType.Add) if pieces else None


atexit.register(plate.cache_clear)  # the kernel is gone before the modules are


class Part:
    """The part with its folds at some angles, one panel lying where it lies on the flat."""

    def __init__(self, blank: Record, angles: list[float], root: int) -> None:
        self.blank, self.angles, self.t = blank, angles, blank["thickness"]
        self.bends = [EvenBend(f, self.t) for f in blank["folds"]]
        moved: dict[int, np.ndarray] = {root: np.column_stack([np.eye(3), np.zeros(3)])}
        while len(moved) < len(blank["panels"]):
            for fold, bend, degrees in zip(blank["folds"], self.bends, angles, strict=True):
                frame = local(fold)
                m = after(after(frame, bend.child(degrees)), inverse(frame))
                if fold["parent"] in moved and fold["child"] not in moved:
                    moved[fold["child"]] = after(moved[fold["parent"]], m)
                elif fold["child"] in moved and fold["parent"] not in moved:
                    moved[fold["parent"]] = after(moved[fold["child"]], inverse(m))
        self.moved = moved

    def panel(self, i: int, inset: float = 0.0) -> m3.Manifold | None:
        panel = self.blank["panels"][i]
        rings = panel.get("rigid", [panel["polygon"]])
        flat = plate(tuple(tuple(map(tuple, ring)) for ring in rings), self.t, inset)
        return None if flat is None else flat.transform(self.moved[i])

    def strip(self, i: int) -> m3.Manifold | None:
        fold = self.blank["folds"][i]
        ring = self.bends[i].arc(self.angles[i])
        if ring is None or self.blank["panels"][fold["child"]].get("rigid") == []:
            return None
        start, end = np.array(fold["start"]), np.array(fold["end"])
        length = float(np.hypot(*(end - start)))
        frame = local(fold)
        ahead = float((end - start) @ frame[:2, 0]) > 0
        # extrude: section (outwards, up), along the third axis.
        body = m3.Manifold.extrude(m3.CrossSection([ring]), length)
        body = body.transform(
            np.array([[0.0, 0, 1, 0 if ahead else -length], [1, 0, 0, 0], [0, 1, 0, 0]])
        )
        return body.transform(after(self.moved[fold["parent"]], frame))


def along_x(outline: Any, low: float, high: float) -> m3.Manifold:
    """A section (y, z) stretched from x = low to x = high."""
    ring = np.array(shapely.geometry.polygon.orient(shapely.Polygon(outline)).exterior.coords)[:-1]
    flat = m3.Manifold.extrude(m3.CrossSection([ring]), high - low)
    return flat.transform(np.array([[0.0, 0, 1, low], [1, 0, 0, 0], [0, 1, 0, 0]]))


def joined(sections: list[list[float]]) -> list[tuple[float, float]]:
    """Sections of a tool along the fold, those that stand against each other as one."""
    found: list[tuple[float, float]] = []
    for low, high in sorted((a, b) for a, b in sections):
        if found and low <= found[-1][1] + 1e-6:
            found[-1] = found[-1][0], max(high, found[-1][1])
        else:
            found.append((low, high))
    return found


def share(one: m3.Manifold, other: m3.Manifold) -> float:
    """Room two solids share, mm³."""
    return 0.0 if apart(one, other) else float((one ^ other).volume())


def drawn_in(outline: Any, by: float) -> Any:
    return _drawn_in(np.asarray(outline, float).tobytes(), by)


@lru_cache(maxsize=500)
def _drawn_in(points: bytes, by: float) -> Any:
    # Tools are the same at every angle.
    outline = np.frombuffer(points).reshape(-1, 2)
    shape = shapely.Polygon(outline).buffer(-by, join_style="mitre", mitre_limit=20)
    return max(getattr(shape, "geoms", [shape]), key=lambda g: g.area).exterior.coords


def finger_section(brake: Record) -> np.ndarray:
    """The finger from its measures: nose at y = 0 over z = 0, a true arc, the raked face, the
    throat, the clamp."""
    r, rake, top = brake["nose_radius"], math.radians(brake["rake"]), brake["finger_height"]
    arc = [
        (r - r * math.sin(a), r - r * math.cos(a)) for a in np.linspace(0, math.pi / 2 + rake, 13)
    ]
    y, z = arc[-1]
    corners = [(brake["foot"], 0.0), *arc]
    if brake["throat"] > y + 1e-6 and rake > 1e-6:
        corners.append((brake["throat"], z + (brake["throat"] - y) / math.tan(rake)))
        y = brake["throat"]
    under = top - brake["head_drop"]
    corners += (
        [(y, under), (brake["head_front"], under), (brake["head_front"], top)]
        if brake["head_drop"]
        else [(y, top)]
    )
    return np.array([*corners, (brake["foot"], top)])


class StrokeAgain:
    """One stroke of a plan file, set up from what it tells a person to set."""

    def __init__(self, blank: Record, brake: Record, stroke: Record) -> None:
        self.blank, self.brake, self.stroke, self.t = blank, brake, stroke, blank["thickness"]
        # Looked at from angle to angle, the tools stay as they are; only leaf, punch and ram move.
        self._tools: dict[str, m3.Manifold] = {}
        self.set = stroke["set_up"]
        self.line = blank["folds"][stroke["folds"][0]]
        self.clamped = stroke["clamped"]
        # x along the fold, y into the clamped side, z towards the side it folds to; the clamped
        # panel lies from 0 to T.
        out, up = np.array([*self.line["outward"], 0.0]), 1.0 if self.line["angle"] > 0 else -1.0
        y = -out if self.clamped == self.line["parent"] else out
        z = np.array([0, 0, up])
        turn = np.vstack([np.cross(y, z), y, z])
        ends = np.array(
            [
                p
                for i in stroke["folds"]
                for p in (blank["folds"][i]["start"], blank["folds"][i]["end"])
            ]
        )
        # Sections are told from the middle of everything that is folded.
        along = (ends - np.array(self.line["start"])) @ turn[0, :2]
        middle = np.array(self.line["start"]) + turn[0, :2] * (along.min() + along.max()) / 2
        point = np.array([*middle, 0.0 if up > 0 else self.t])
        self.frame = np.column_stack([turn, -turn @ point])
        sides = {i: self._swinging(i) for i in range(len(blank["panels"]))}
        self.swings = {i for i, s in sides.items() if s}

    def _swinging(self, panel: int) -> bool:
        """True when the way from the clamped panel crosses a fold of this stroke."""
        folds, seen, queue = self.blank["folds"], {self.clamped: False}, [self.clamped]
        while queue:
            at = queue.pop()
            for i, f in enumerate(folds):
                for a, b in ((f["parent"], f["child"]), (f["child"], f["parent"])):
                    if a == at and b not in seen:
                        seen[b] = seen[a] != (i in self.stroke["folds"])
                        queue.append(b)
        return seen[panel]

    @property
    def press(self) -> bool:
        return self.brake["kind"] == "press"

    def angles(self, degrees: float) -> list[float]:
        found = list(self.stroke["angles_before"])
        for i in self.stroke["folds"]:
            found[i] = math.copysign(degrees, self.line["angle"])
        return found

    def bodies(
        self, degrees: float, move: np.ndarray | None = None
    ) -> list[tuple[str, int, bool, m3.Manifold, m3.Manifold]]:
        """(kind, index, swings, solid, solid without its skin) of everything, the fold at an
        angle."""
        part = Part(self.blank, self.angles(degrees), self.clamped)
        at = self.frame if move is None else after(move, self.frame)
        found = []
        for i in range(len(self.blank["panels"])):
            solid, core = part.panel(i), part.panel(i, min(0.3 * self.t, 0.3))
            if solid is not None:
                core = solid if core is None else core
                found.append(
                    ("panel", i, i in self.swings, solid.transform(at), core.transform(at))
                )
        for i, fold in enumerate(self.blank["folds"]):
            solid = part.strip(i)
            if solid is not None:
                body = solid.transform(at)
                found.append(("strip", i, fold["parent"] in self.swings, body, body))
        return found

    # --- a leaf brake ----------------------------------------------------------------------------

    def leaf_tools(self, degrees: float) -> dict[str, m3.Manifold]:
        """Bed, beam and fingers, and the leaf at an angle."""
        if not self._tools:
            self._tools = self._drawn_leaf_tools()
        edge = -self.set["line_behind_nose"] - self.set["setback"]
        leaf = (
            self._tools["leaf"]
            .transform(turn_x(degrees, (edge, 0.0)))
            .translate((0, 0, -self.set.get("packing", 0.0)))
        )
        return {**self._tools, "leaf": leaf}

    def _drawn_leaf_tools(self) -> dict[str, m3.Manifold]:
        b, t = self.brake, self.t
        if "angle off" in self.stroke.get("tooling", "") or self.stroke.get("bare"):
            b = {**b, "leaf_bar": b["bare_bar"]}
        nose = -self.set["line_behind_nose"]
        edge = nose - self.set["setback"]
        down = self.set.get("packing", 0.0)  # the sheet lies that much higher, on a strip
        x0, x1 = self.stroke.get("bed") or (-FAR, FAR)
        lean = b["bed_depth"] * math.tan(math.radians(b["bed_lean"]))
        bed = [
            (edge, 0),
            (edge + lean, -b["bed_depth"]),
            (edge + lean + b["bed_depth"], -b["bed_depth"]),
            (edge + b["bed_depth"], 0),
        ]
        leaf = [
            (edge - b["leaf_bar"], -b["leaf_depth"]),
            (edge, -b["leaf_depth"]),
            (edge, 0),
            (edge - b["leaf_bar"], 0),
        ]
        beam_low = t + b["finger_height"]
        front = nose + b["beam_front"]
        beam = [
            (front, beam_low),
            (front + b["beam_depth"], beam_low),
            (front + b["beam_depth"], beam_low + b["beam_height"]),
            (front, beam_low + b["beam_height"]),
        ]
        finger = finger_section(b) + np.array([nose, t])
        zone = t + 3 * (b["nose_radius"] + t)
        above = shapely.Polygon(finger).intersection(shapely.box(-1e4, zone, 1e4, 1e4))
        bound = GIVES * t + 0.2 * self.line["allowance"] + SKIN

        def fingers(outline: Any) -> m3.Manifold:
            return self._sections(drawn_in(outline, SKIN), "sections")

        tools = {
            "bed": along_x(drawn_in(bed, SKIN), x0, x1).translate((0, 0, -down)),
            "beam": along_x(drawn_in(beam, SKIN), x0, x1),
            "leaf": along_x(drawn_in(leaf, bound), x0, x1),
            "finger": fingers(finger),
        }
        upper = (
            max(getattr(above, "geoms", [above]), key=lambda g: g.area)
            if not above.is_empty
            else None
        )
        if upper is not None and upper.area > 1:
            tools["finger above the nose"] = fingers(upper.exterior.coords)
        return tools

    def _sections(self, outline: Any, which: str) -> m3.Manifold:
        """An outline stretched over the sections a person is told to set."""
        return m3.Manifold.compose([along_x(outline, a, b) for a, b in joined(self.set[which])])

    def bench_tools(self) -> dict[str, m3.Manifold]:
        """Bench and bars of a hand folder, from its measures and what is set."""
        if not self._tools:
            self._tools = self._drawn_bench_tools()
        return self._tools

    def _drawn_bench_tools(self) -> dict[str, m3.Manifold]:
        b, t = self.brake, self.t
        nose = -self.set["line_behind_nose"]
        edge = nose - self.set["edge"]
        lean = b["bed_depth"] * math.tan(math.radians(b["bed_lean"]))
        bed = [
            (edge, 0),
            (edge + lean, -b["bed_depth"]),
            (edge + lean + b["bed_depth"], -b["bed_depth"]),
            (edge + b["bed_depth"], 0),
        ]
        r, rake = b["nose_radius"], math.radians(b["rake"])
        arc = [
            (r - r * math.sin(a), r - r * math.cos(a))
            for a in np.linspace(0, math.pi / 2 + rake, 13)
        ]
        top = (arc[-1][0] + (b["bar_height"] - arc[-1][1]) * math.tan(rake), b["bar_height"])
        section = np.array(
            [(b["bar_depth"], 0.0), *arc, top, (b["bar_depth"], b["bar_height"])]
        ) + np.array([nose, t])
        above = shapely.Polygon(section).intersection(shapely.box(-1e4, t + 3 * (r + t), 1e4, 1e4))
        tools = {
            "bed": along_x(drawn_in(bed, SKIN), -FAR, FAR).translate(
                (0, 0, -self.set.get("packing", 0.0))
            )
        }
        for name, outline in (
            ("bar", section),
            ("bar above the nose", above.exterior.coords if above.area > 1 else None),
        ):
            if outline is not None:
                tools[name] = self._sections(drawn_in(outline, SKIN), "sections")
        return tools

    def crushed(self, degrees: float) -> list[str]:
        """Everything that shares room with a tool, or with itself, at an angle of the stroke."""
        return self._pressed(degrees) if self.press else self._folded(degrees)

    def _folded(self, degrees: float) -> list[str]:
        bodies = self.bodies(degrees)
        tools = self.bench_tools() if self.brake["kind"] == "hand" else self.leaf_tools(degrees)
        over = "bar" if "bar" in tools else "finger"
        folding = {
            self.blank["folds"][i]["child" if self.clamped_parent(i) else "parent"]
            for i in self.stroke["folds"]
        }
        found = []
        for kind, i, _swings, solid, core in bodies:
            if kind == "strip" and i in self.stroke["folds"]:
                continue  # it wraps the nose
            for name, tool in tools.items():
                on_nose = kind == "panel" and i in folding
                if name == (over if on_nose else f"{over} above the nose"):
                    continue
                body = core if name in (over, "bed") and not on_nose else solid
                if share(body, tool) > NOTHING:
                    found.append(f"{self._name(kind, i)} in the {name}")
        return found + self._itself(bodies)

    def clamped_parent(self, i: int) -> bool:
        return self.blank["folds"][i]["parent"] not in self.swings

    def _name(self, kind: str, i: int) -> str:
        return (
            self.blank["panels"][i]["name"]
            if kind == "panel"
            else f"fold of {self.blank['folds'][i]['name']}"
        )

    def _itself(self, bodies: list[tuple[str, int, bool, m3.Manifold, m3.Manifold]]) -> list[str]:
        found, panels, folds = [], self.blank["panels"], self.blank["folds"]
        hems = {f["child"] for f in folds if f["made_by"] == "hem"}
        for kind, i, _, _, core in (b for b in bodies if b[2]):
            for kind2, k, _, _, other in (b for b in bodies if not b[2]):
                mine = {i} if kind == "panel" else {folds[i]["child"]}
                theirs = {k} if kind2 == "panel" else {folds[k]["child"]}
                if kind == "strip" and i in self.stroke["folds"]:
                    continue
                if kind2 == "strip" and k in self.stroke["folds"]:
                    continue
                lies = any(
                    panels[a]["lies_on"] or panels[b]["lies_on"] for a in mine for b in theirs
                )
                if lies or (mine | theirs) & hems:
                    continue  # made to lie against each other; compared elsewhere
                if share(core, other) > NOTHING:
                    found.append(f"{self._name(kind, i)} in the {self._name(kind2, k)}")
        return found

    # --- a press ---------------------------------------------------------------------------------

    def _raised(self, degrees: float) -> np.ndarray:
        """How the part lies in the V: symmetrical about the punch, both outside faces on the
        shoulders, the die's top at z = 0."""
        a = math.radians(degrees)
        die = self._tool("dies", self.stroke["die"])
        half = opening(die["outline"]) / 2
        bend = EvenBend({**self.line, "angle": abs(self.line["angle"])}, self.t)
        if degrees < 1e-6:
            return shifted(0.0, 0.0)
        # With the clamped side level, the middle of the arc stands here; the whole is tipped back
        # by half the angle.
        r, ba = bend.radius(a), bend.ba
        centre = np.array([ba / 2, self.t + r])
        tip = turn_x(-degrees / 2)
        c = tip[1:, 1:3] @ centre
        # The outside face of the side at the back keeps r + T from the arc's centre; it passes the
        # shoulder at V/2. Face: normal (sin(a/2), -cos(a/2)) at distance r + T below the centre.
        level = -c[1] + (r + self.t) / math.cos(a / 2) - half * math.tan(a / 2)
        return after(shifted(-float(c[0]), float(level)), tip)

    def _tool(self, kind: str, name: str) -> Record:
        return next(tool for tool in self.brake[kind] if tool["name"] == name)

    def inside_bottom(self, degrees: float) -> float:
        """Height of the inside of the bend over the die's top, in the middle of the V, mm: where a
        sharp punch's tip is."""
        a = math.radians(degrees)
        bend = EvenBend({**self.line, "angle": abs(self.line["angle"])}, self.t)
        move = self._raised(degrees)
        r = bend.radius(a) if a > 1e-9 else 0.0
        centre = move[1:, 1:3] @ np.array([bend.ba / 2, self.t + r]) + move[1:, 3]
        return float(centre[1] - r)

    def press_tools(self, travel: float) -> dict[str, m3.Manifold]:
        """Die and table, and punch and ram so far down."""
        if not self._tools:
            self._tools = self._drawn_press_tools()
        down = (0, 0, self.t - travel)
        return {
            name: tool.translate(down) if name in ("punch", "ram") else tool
            for name, tool in self._tools.items()
        }

    def _drawn_press_tools(self) -> dict[str, m3.Manifold]:
        b, s = self.brake, self.stroke
        more = SKIN + 0.25 * self.line["allowance"] / 10
        punch, die = self._tool("punches", s["punch"]), self._tool("dies", s["die"])
        outline = np.array(punch["outline"], float)
        # An outline ends flat under its tip; the steel there is round.
        y, z = np.array(tip_of(punch)[:17]).T
        below = shapely.Polygon(
            [
                *zip(y, z, strict=True),
                (y[-1], -1.0),
                (-y[-1], -1.0),
                *zip(-y[::-1], z[::-1], strict=True),
            ]
        )
        rounded = shapely.Polygon(outline).difference(below)
        outline = np.array(
            max(getattr(rounded, "geoms", [rounded]), key=lambda g: g.area).exterior.coords
        )
        if s["turned"]:
            outline[:, 0] *= -1
        height = max(z for _, z in punch["outline"])
        ram = shapely.box(b["ram_front"], height, b["ram_back"], height + b["ram_height"])
        down = -min(z for _, z in die["outline"])
        table = shapely.box(b["table_front"], -down - b["table_height"], b["table_back"], -down)
        return {
            "punch": self._sections(drawn_in(outline, more), "sections"),
            "die": self._sections(drawn_in(die["outline"], more), "die_sections"),
            "ram": along_x(ram.exterior.coords, -FAR, FAR),
            "table": along_x(table.exterior.coords, -FAR, FAR),
        }

    def _pressed(self, degrees: float) -> list[str]:
        bodies = self.bodies(degrees, self._raised(degrees))
        travel = self.t - self.inside_bottom(degrees)
        punch = self._tool("punches", self.stroke["punch"])
        bend = EvenBend({**self.line, "angle": abs(self.line["angle"])}, self.t)
        r, half = (
            (bend.radius(math.radians(degrees)), math.radians(degrees) / 2)
            if degrees > 1e-6
            else (1e9, 0.0)
        )
        if punch["radius"] > r > -1e8:
            # A tip rounder than the bend rides between both inside faces.
            travel -= (punch["radius"] - r) * (1 / math.cos(half) - 1)
        tools = self.press_tools(travel)
        found = []
        for kind, i, _swings, solid, core in bodies:
            if kind == "strip" and i in self.stroke["folds"]:
                continue
            for name, tool in tools.items():
                body = core if name in ("punch", "die") and kind == "panel" else solid
                if share(body, tool) > NOTHING:
                    found.append(f"{self._name(kind, i)} in the {name}")
        return found + self._itself(bodies)

    # --- what a person measures ------------------------------------------------------------------

    def travel_until_touch(self, degrees: float) -> float:
        """How far the punch goes down from touching the flat sheet until it touches the inside of
        the bend, mm: its own outline with a true round tip, lowered towards the bent strip and both
        sides."""
        punch = self._tool("punches", self.stroke["punch"])
        tool = self._sections(tip_of(punch), "sections").translate((0, 0, self.t))
        near: list[Any] = []
        part = Part(self.blank, self.angles(degrees), self.clamped)
        for solid in (part.panel(self.clamped), *(part.strip(i) for i in self.stroke["folds"])):
            if solid is not None:
                near.append(solid.transform(after(self._raised(degrees), self.frame)))
        folding = {
            self.blank["folds"][i]["child" if self.clamped_parent(i) else "parent"]
            for i in self.stroke["folds"]
        }
        near += [part.panel(i).transform(after(self._raised(degrees), self.frame)) for i in folding]
        low, high = -5.0, 40.0
        while high - low > FINELY:
            middle = (low + high) / 2
            lowered = tool.translate((0, 0, -middle))
            low, high = (
                (low, middle)
                if any(share(lowered, body) > 1e-5 for body in near)
                else (middle, high)
            )
        return low

    def stop_distance(self) -> float:
        """Fold line to a stop block pushed up from behind against the part before the stroke, where
        the plan says it touches, mm, measured in solids."""
        start = self.stroke["start"]
        g, foot = self.brake.get("gauge_height", 10.0), -self.set.get("packing", 0.0)
        rest = [
            b[3]
            for b in self.bodies(start)
            if not b[2] and not (b[0] == "strip" and b[1] in self.stroke["folds"])
        ]
        return max(
            (
                part.bounding_box()[4]
                for body in rest
                for a, b in self.set["gauge"]["at"]
                for part in [
                    body
                    ^ along_x(
                        shapely.box(0.5, foot, 5000, foot + g).exterior.coords, a + 0.01, b - 0.01
                    )
                ]
                if part.volume() > 1e-3
            ),
            default=0.0,
        )


def tip_of(punch: Record) -> list[tuple[float, float]]:
    """The foot of a punch by its angle and tip radius: a true arc between two flanks, straight up
    from 8 mm."""
    lean, r = math.radians(punch["angle"]) / 2, punch["radius"]
    arc = [(r * math.sin(a), r - r * math.cos(a)) for a in np.linspace(0, math.pi / 2 - lean, 17)]
    y, z = arc[-1]
    right = [*arc, (y + (8.0 - z) * math.tan(lean), 8.0), (y + (8.0 - z) * math.tan(lean), 90.0)]
    return [*right, *((-y, z) for y, z in reversed(right[1:]))]


def opening(outline: Any) -> float:
    """V of a die's outline: shoulder to shoulder."""
    level = [y for y, z in outline if z > -0.05]
    return min(y for y in level if y > 0.05) - max(y for y in level if y < -0.05)
