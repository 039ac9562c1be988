"""The folded part as a mesh: STL for whoever only wants its shape, glTF with a name for every panel."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np

from ..blank import Blank, strip_prisms
from ..blank.convex import convex_pieces
from ..plan.geometry.solid import plate
from .atomic import write_atomically


def folded_meshes(blank: Blank) -> dict[str, Any]:
    """Meshes of the finished part by name: every panel and every bent strip, mm, watertight each, the base as it lies on the flat.

    Bent strips are the prisms the engine uses: their arcs are chords that contain the true ones.
    """
    # Fetched when a mesh is asked for, not while the program starts.
    import trimesh

    poses, t = blank.stood, blank.thickness
    found: dict[str, list[Any]] = {}
    for i, panel in enumerate(blank.panels):
        for piece in convex_pieces(np.array(panel.polygon)):
            found.setdefault(panel.name, []).append(trimesh.convex.convex_hull(poses[i].apply(plate(piece, t))))
    for fold in blank.folds:
        for prism in strip_prisms(fold, fold.angle, t):
            if np.ptp(prism, axis=0).min() > 1e-9 or len(prism) > 4:
                found.setdefault(f"{fold.name} bend", []).append(trimesh.convex.convex_hull(poses[fold.parent].apply(prism)))
    return {name: trimesh.util.concatenate(parts) for name, parts in found.items()}


def write_mesh(blank: Blank, path: Path) -> None:
    """Write the folded part; what kind of file goes by its ending, ``.stl`` or ``.glb``.

    STL is in millimetres, as is usual; glTF in metres with y up, as it asks for.

    Raises:
        FileError: it could not be written; what stood there is untouched.
    """
    import trimesh

    meshes = folded_meshes(blank)
    if Path(path).suffix.lower() == ".glb":
        turn = np.array([[1, 0, 0, 0], [0, 0, 1, 0], [0, -1, 0, 0], [0, 0, 0, 1]], float)
        scene = trimesh.Scene()
        for name, mesh in meshes.items():
            scene.add_geometry(mesh.copy().apply_transform(turn).apply_scale(0.001), node_name=name, geom_name=name)
        data: Any = scene.export(file_type="glb")  # type: ignore[no-untyped-call]
    else:
        whole: Any = trimesh.util.concatenate(list(meshes.values()))
        data = whole.export(file_type="stl")
    write_atomically(Path(path), bytes(data))
