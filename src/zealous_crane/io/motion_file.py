"""The film of a job as glTF: machine and part as nodes, the strokes as one animation that any
viewer plays.

The file follows glTF 2.0 (ISO/IEC 12113:2022): metres, y up, binary container.
"""

from __future__ import annotations

import json
import math
import struct
from collections.abc import Generator, Iterable, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.spatial.transform import Rotation

from .._typing import Array
from ..bending.drawing import OutlineKind, SceneOutline
from ..flat.folding import IDENTITY, Pose
from ..flat.ring import area, convex_pieces
from ..i18n import tr
from ..planning.motion import Handling, JobMotion, MotionSpan, bed_shown, panel_at
from ..planning.plan import Plan
from .atomic import FileError, write_atomically
from .mesh import folded_meshes, strip_meshes

STEPS = {Handling.BEND: 12, Handling.TURN: 10}
"""Places at which a piece of the movement is written down; between them it runs evenly."""

FEW = 4
"""The same for everything else."""

FLOAT, COUNT = 5126, 5125
"""Component types of glTF: float, and unsigned int."""

COLOURS = {"part": (0.78, 0.8, 0.82), "strip": (0.55, 0.62, 0.72), "tool": (0.5, 0.48, 0.44)}
"""Of the materials, 0 to 1."""


@dataclass
class _Node:
    """Something that moves as one.

    Attributes:
        name: of the node.
        colour: name of its material.
        points, corners: (n, 3) mm and (m, 3) int, its triangles.
        poses: where it is at every written moment; None where it is not there.
    """

    name: str
    colour: str
    points: Array
    corners: NDArray[np.int64]
    poses: list[Pose | None] = field(default_factory=list)


def motion_steps(plan: Plan, path: Path) -> Generator[float]:
    """Write the film of a plan as binary glTF, a piece of the movement at a time.

    Args:
        plan: the plan.
        path: the file.

    Yields:
        the share that is done.

    Raises:
        FileError: the part cannot be made, so that there is nothing to show, or the file could not
            be written; what stood there is untouched.
    """
    motion = film_of(plan)
    part = _part_nodes(plan)
    tools: dict[tuple[object, ...], _Node] = {}
    shown = bed_shown(plan.strokes)
    times: list[float] = []
    begin = 0.0
    for span in motion.spans:
        yield begin / motion.seconds
        count = STEPS.get(span.kind, FEW)
        # The last moment of a piece is a hair before the first of the next: what changes its frame
        # changes at once.
        for share in np.linspace(0.0, 1.0, count + 1).tolist():
            times.append(begin + span.seconds * share - (1e-4 if share == 1.0 else 0.0))
            for node in tools.values():
                node.poses.append(None)
            _stand_tools(span, share, shown, tools, len(times))
            _stand_part(plan, span, share, part)
        begin += span.seconds
    every = [*(node for nodes in part.values() for node in nodes), *tools.values()]
    # What a hand bends in the end is never seen bent.
    seen = [node for node in every if any(node.poses)]
    write_atomically(Path(path), _container(plan.job.name, times, seen))
    yield 1.0


def film_of(plan: Plan) -> JobMotion:
    """The movement of a plan.

    Raises:
        FileError: the part cannot be made: there is nothing to show.
    """
    if not plan.strokes:
        raise FileError(
            tr("There is no film of a part that cannot be made: {sentence}").format(
                sentence=plan.sentence
            )
        )
    return JobMotion(plan)


def _part_nodes(plan: Plan) -> dict[int, list[_Node]]:
    """The panels by index, and by −1 − index of a fold its strip as it is bent, and as it is
    flat."""
    blank, meshes, strips = plan.blank, folded_meshes(plan.blank), strip_meshes(plan.blank)

    def made(name: str, colour: str, mesh: Any, back: Pose) -> _Node:
        points = back.apply(np.asarray(mesh.vertices, float))
        return _Node(name, colour, points, np.asarray(mesh.faces))

    nodes = {
        i: [made(panel.name, "part", meshes[panel.name], blank.stood[i].inverse)]
        for i, panel in enumerate(blank.panels)
        if panel.name in meshes
    }
    for i, fold in enumerate(blank.folds):
        name = f"{fold.name} bend"
        nodes[-1 - i] = []
        if name in meshes:
            back = blank.stood[fold.parent].inverse
            nodes[-1 - i].append(made(name, "strip", meshes[name], back))
        if name in strips:
            nodes[-1 - i].append(made(f"{name}, flat", "part", strips[name], IDENTITY))
    return nodes


def _stand_part(plan: Plan, span: MotionSpan, share: float, part: dict[int, list[_Node]]) -> None:
    """Write down where the pieces of the part are."""
    moment = span.moment(share)
    setting = moment.stroke.verdict.stroke.setting
    for k, nodes in part.items():
        fold = plan.blank.folds[-1 - k] if k < 0 else None
        panel = k if fold is None else fold.parent
        at = moment.at @ panel_at(moment.stroke, panel, moment.degrees)
        angle = 0.0
        if fold is not None:
            made = -1 - k in setting.folds
            angle = moment.degrees if made else abs(setting.angles[-1 - k])
        for node in nodes:
            # Bent more than half, a strip is drawn as it is in the end.
            flat = node.name.endswith(", flat")
            bent = fold is not None and angle > abs(fold.angle) / 2
            node.poses.append(at if fold is None or flat is not bent else None)


def _stand_tools(
    span: MotionSpan,
    share: float,
    shown: tuple[float, float],
    tools: dict[tuple[object, ...], _Node],
    count: int,
) -> None:
    """Write down where the tools are; those not seen before are new nodes."""
    moment = span.moment(share)
    engine = moment.stroke.verdict.stroke
    low, high = shown
    if engine.over is not None:
        low, high = max(low, engine.over[0]), min(high, engine.over[1])
    rest = engine.tools_at(0.0)
    for number, (still, now) in enumerate(zip(rest, engine.tools_at(moment.machine), strict=True)):
        pieces = moment.sections or (engine.setting.span,)
        if still.kind is not OutlineKind.SECTION:
            pieces = (still.along or (low, high),)
        key = number, still.outline.round(3).tobytes(), np.round(pieces, 3).tobytes()
        if key not in tools:
            tools[key] = _tool_node(f"{still.kind.value} {len(tools) + 1}", still, pieces)
            tools[key].poses = [None] * count
        up = moment.raised if still.rises else 0.0
        tools[key].poses[-1] = _carried(still.outline, now.outline + np.array([0.0, up]))


def _tool_node(name: str, still: SceneOutline, pieces: Sequence[tuple[float, float]]) -> _Node:
    """A tool drawn out along the bed, piece by piece."""
    points: list[Array] = []
    corners: list[NDArray[np.int64]] = []
    ring = still.outline if area(still.outline) > 0 else still.outline[::-1]
    for a, b in pieces:
        for piece in convex_pieces(ring):
            n, first = len(piece), sum(map(len, points))
            ends = [np.column_stack([np.full(n, x), piece]) for x in (a, b)]
            k, on = np.arange(n), np.arange(1, n + 1) % n
            fan = np.column_stack([np.zeros(n - 2, int), np.arange(1, n - 1), np.arange(2, n)])
            points += ends
            corners += [
                first + fan[:, ::-1],
                first + n + fan,
                first + np.column_stack([k, on, on + n]),
                first + np.column_stack([k, on + n, k + n]),
            ]
    return _Node(name, "tool", np.concatenate(points), np.concatenate(corners))


def _carried(still: Array, now: Array) -> Pose:
    """The motion in the plane across the brake that carries an outline (n, 2) to where it is
    now."""
    middle, to = still.mean(axis=0), now.mean(axis=0)
    a, b = still - middle, now - to
    angle = math.atan2(float((a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]).sum()), float((a * b).sum()))
    c, s = math.cos(angle), math.sin(angle)
    turn = np.array([[1.0, 0.0, 0.0], [0.0, c, -s], [0.0, s, c]])
    place = np.array([0.0, *to]) - turn @ np.array([0.0, *middle])
    return Pose(turn, place)


# --- the container -------------------------------------------------------------------------------


class _Buffer:
    """The numbers of a file, and what they are."""

    def __init__(self) -> None:
        self.data = bytearray()
        self.views: list[dict[str, Any]] = []
        self.accessors: list[dict[str, Any]] = []

    def add(
        self,
        values: Array | NDArray[np.int64],
        kind: str,
        component: int = FLOAT,
        *,
        ends: bool = False,
    ) -> int:
        """Put numbers in; their index. ``ends`` says their least and greatest, which a reader needs
        of places and times."""
        whole = np.ascontiguousarray(values, "<f4" if component == FLOAT else "<u4")
        self.views.append({"buffer": 0, "byteOffset": len(self.data), "byteLength": whole.nbytes})
        self.data += whole.tobytes()
        accessor: dict[str, Any] = {
            "bufferView": len(self.views) - 1,
            "componentType": component,
            "count": len(whole),
            "type": kind,
        }
        if ends:
            by_row = whole.reshape(len(whole), -1)
            accessor["min"] = by_row.min(axis=0).tolist()
            accessor["max"] = by_row.max(axis=0).tolist()
        self.accessors.append(accessor)
        return len(self.accessors) - 1


def _container(name: str, times: Sequence[float], nodes: Sequence[_Node]) -> bytes:
    """A binary glTF."""
    buffer = _Buffer()
    at = buffer.add(np.array(times)[:, None], "SCALAR", ends=True)
    # Whole from the first moment: a viewer that does not play shows the flat in the brake.
    up = Rotation.from_euler("x", -90, degrees=True).as_quat().tolist()
    below: list[int] = []
    root = {"name": name, "rotation": up, "scale": [0.001] * 3, "children": below}
    written: list[dict[str, Any]] = [root]
    meshes: list[dict[str, Any]] = []
    samplers: list[dict[str, Any]] = []
    channels: list[dict[str, Any]] = []
    colours = list(COLOURS)
    for node in nodes:
        primitive = {
            "attributes": {"POSITION": buffer.add(node.points, "VEC3", ends=True)},
            "indices": buffer.add(node.corners.reshape(-1, 1), "SCALAR", COUNT),
            "material": colours.index(node.colour),
        }
        meshes.append({"name": node.name, "primitives": [primitive]})
        turns, places, sizes = _tracks(node.poses)
        written.append(
            {
                "name": node.name,
                "mesh": len(meshes) - 1,
                "rotation": turns[0].tolist(),
                "translation": places[0].tolist(),
                "scale": sizes[0].tolist(),
            }
        )
        below.append(len(written) - 1)
        for path, values, how in (
            ("rotation", turns, "LINEAR"),
            ("translation", places, "LINEAR"),
            ("scale", sizes, "STEP"),
        ):
            if np.ptp(values, axis=0).max() < 1e-9:
                continue
            kind = "VEC4" if path == "rotation" else "VEC3"
            samplers.append({"input": at, "output": buffer.add(values, kind), "interpolation": how})
            channels.append(
                {
                    "sampler": len(samplers) - 1,
                    "target": {"node": len(written) - 1, "path": path},
                }
            )
    document = {
        "asset": {"version": "2.0", "generator": "Zealous Crane"},
        "scene": 0,
        "scenes": [{"nodes": [0]}],
        "nodes": written,
        "meshes": meshes,
        "materials": [_material(colour, rgb) for colour, rgb in COLOURS.items()],
        "animations": [{"name": name, "samplers": samplers, "channels": channels}],
        "accessors": buffer.accessors,
        "bufferViews": buffer.views,
        "buffers": [{"byteLength": len(buffer.data)}],
    }
    text = json.dumps(document, separators=(",", ":")).encode()
    chunks = b"".join(
        struct.pack("<I4s", len(chunk), kind) + chunk
        for kind, chunk in (
            (b"JSON", text + b" " * (-len(text) % 4)),
            (b"BIN\0", bytes(buffer.data)),
        )
    )
    return struct.pack("<4sII", b"glTF", 2, 12 + len(chunks)) + chunks


def _material(name: str, rgb: Iterable[float]) -> dict[str, Any]:
    return {
        "name": name,
        "doubleSided": True,
        "pbrMetallicRoughness": {
            "baseColorFactor": [*rgb, 1.0],
            "metallicFactor": 0.3,
            "roughnessFactor": 0.6,
        },
    }


def _tracks(poses: Sequence[Pose | None]) -> tuple[Array, Array, Array]:
    """Turns as quaternions (n, 4), places (n, 3) mm and sizes (n, 3) of a node; it has no size
    where it is not there."""
    known = next(pose for pose in poses if pose is not None)
    whole: list[Pose] = []
    for pose in poses:
        known = known if pose is None else pose
        whole.append(known)
    turns = Rotation.from_matrix(np.array([pose.turn for pose in whole])).as_quat()
    for k in range(1, len(turns)):
        # The shorter way round, as a viewer takes it.
        if turns[k] @ turns[k - 1] < 0:
            turns[k] = -turns[k]
    sizes = np.array([[float(pose is not None)] * 3 for pose in poses])
    return turns, np.array([pose.shift for pose in whole]), sizes
