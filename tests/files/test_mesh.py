"""The folded part as a mesh: closed, as heavy as the part, and where the other kernel has it."""

import numpy as np
import pytest

from zealous_crane.blank import develop
from zealous_crane.demo import demo_job
from zealous_crane.files.mesh import folded_meshes, write_mesh


@pytest.mark.parametrize("name", ["syrup-tray", "frame-rail", "hive-roof", "extractor-guard"])
def test_every_piece_is_closed_and_the_metal_is_all_there(name):
    job = demo_job(name)
    blank = develop(job)
    meshes = folded_meshes(blank)
    assert {p.name for p in blank.panels} <= set(meshes)
    volume = 0.0
    for mesh in meshes.values():
        for body in mesh.split(only_watertight=False):
            assert body.is_watertight
            volume += abs(body.volume)
    # A bend keeps its neutral length: what is folded has the volume of the flat, but for holes and what overlaps at bends.
    flat = blank.outline.area * blank.thickness
    assert volume == pytest.approx(flat, rel=0.06)


def test_files_are_read_back_by_a_general_library(tmp_path):
    # It takes seconds to bring in: not by whoever only looks what tests there are.
    import trimesh

    blank = develop(demo_job("syrup-tray"))
    write_mesh(blank, tmp_path / "tray.stl")
    write_mesh(blank, tmp_path / "tray.glb")
    stl, scene = trimesh.load_mesh(tmp_path / "tray.stl"), trimesh.load_scene(tmp_path / "tray.glb")
    size = np.ptp(stl.bounds, axis=0)
    job = demo_job("syrup-tray")
    assert size[2] == pytest.approx(job.part.depth, abs=2.5) and size[0] < blank.size[0]
    assert np.ptp(scene.bounds, axis=0)[[0, 2, 1]] * 1000 == pytest.approx(size, rel=1e-4)
    assert {"base", "front wall"} <= set(scene.geometry)
