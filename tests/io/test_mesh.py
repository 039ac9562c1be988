"""The folded part as a mesh: closed, as heavy as the part, and where the other kernel has it."""

import random

import numpy as np
import pytest
import shapely

from random_work import likely_job, random_brake
from zealous_crane.demo import DEMOS, demo_job, demo_work
from zealous_crane.flat.development import develop
from zealous_crane.io.mesh import folded_mesh, folded_meshes, write_mesh
from zealous_crane.job.job import Job
from zealous_crane.part.design import Base, Design, Flange
from zealous_crane.part.edge import FoldSlots
from zealous_crane.part.hole import Cutout, HolePlace


@pytest.mark.parametrize("name", DEMOS)
def test_the_part_is_one_closed_solid_as_heavy_as_its_flat(name):
    for job in demo_work(name).parts:
        blank = develop(job)
        mesh = folded_mesh(blank)
        assert mesh.is_watertight and mesh.is_winding_consistent and mesh.body_count == 1
        # A bend keeps its neutral length; where that lies below the middle, what is folded holds a
        # little more than the flat.
        assert mesh.volume == pytest.approx(blank.area * blank.thickness, rel=0.025)


@pytest.mark.parametrize("name", DEMOS)
def test_it_is_still_closed_when_a_general_library_reads_the_file(name, tmp_path):
    import trimesh

    for job in demo_work(name).parts:
        write_mesh(develop(job), tmp_path / "part.stl")
        read = trimesh.load_mesh(tmp_path / "part.stl")
        assert read.is_watertight and read.body_count == 1


def test_sixty_random_parts_are_one_closed_solid():
    for seed in range(60):
        rng = random.Random(seed)
        blank = develop(likely_job(rng, random_brake(rng)))
        mesh = folded_mesh(blank)
        assert mesh.is_watertight and mesh.body_count == 1, seed
        assert mesh.volume == pytest.approx(blank.area * blank.thickness, rel=0.06), seed


@pytest.mark.parametrize("name", ["syrup-tray", "frame-rail", "hive-roof", "extractor-guard"])
def test_every_panel_and_bend_is_closed_and_all_the_metal_is_there(name):
    blank = develop(demo_job(name))
    meshes = folded_meshes(blank)
    assert {p.name for p in blank.panels} <= set(meshes)
    assert all(mesh.is_watertight for mesh in meshes.values())
    assert sum(mesh.volume for mesh in meshes.values()) == pytest.approx(
        folded_mesh(blank).volume, rel=2e-4
    )


def test_holes_and_slots_go_through():
    slots = FoldSlots(count=3, bridge=10)
    cutouts = (
        Cutout(length=10, name="hole"),
        Cutout(
            length=16,
            width=6,
            shape="slot",
            panel="wall",
            x=HolePlace(edge="left", value=40),
            after_bending=True,
        ),
    )

    def mesh_of(slots, cutouts):
        wall = Flange(edge="front", height=40, name="wall", slots=slots)
        tree = Design(base=Base(length=200, width=120), flanges=(wall,), cutouts=cutouts)
        return folded_mesh(
            develop(
                Job(
                    part={"kind": "design", "tree": tree},
                    metal="mild-steel",
                    thickness="1 mm",
                    units="mm",
                )
            )
        )

    whole, cut = mesh_of(None, ()), mesh_of(slots, cutouts)
    assert cut.is_watertight and cut.body_count == 1
    # A closed surface with five holes through it.
    assert whole.euler_number == 2 and cut.euler_number == 2 - 2 * 5
    # Chords of five degrees lose 0.13 % of a circle, nothing a gauge would see.
    hole, slot = 25 * np.pi, 10 * 6 + 9 * np.pi
    flat = mesh_of(None, cutouts)
    assert whole.volume - flat.volume == pytest.approx(hole + slot, rel=2e-3)


def test_the_solid_lies_where_the_sizes_say():
    wall = Flange(edge="front", height=40, name="wall", measured="outside")
    tree = Design(base=Base(length=200, width=120, measured="outside"), flanges=(wall,))
    mesh = folded_mesh(
        develop(
            Job(
                part={"kind": "design", "tree": tree},
                metal="mild-steel",
                thickness="1 mm",
                units="mm",
            )
        )
    )
    assert np.ptp(mesh.bounds, axis=0) == pytest.approx([200, 120, 40], abs=1e-3)
    # Cut across the middle it shows the section of an angle: two legs one thickness wide.
    from trimesh.intersections import mesh_plane

    cut = mesh_plane(mesh, plane_normal=[1, 0, 0], plane_origin=[mesh.centroid[0], 0, 0])[:, :, 1:]
    (polygon,) = shapely.get_parts(
        shapely.polygonize([shapely.LineString(line) for line in cut.round(6)])
    )
    low_y, low_z, high_y, high_z = polygon.bounds
    legs = (high_y - low_y) + (high_z - low_z) - 1
    assert polygon.area == pytest.approx(legs, rel=0.02)


def test_files_are_read_back_by_a_general_library(tmp_path):
    # It takes seconds to bring in: not by whoever only looks what tests there are.
    import trimesh

    blank = develop(demo_job("syrup-tray"))
    write_mesh(blank, tmp_path / "tray.stl")
    write_mesh(blank, tmp_path / "tray.glb")
    stl, scene = trimesh.load_mesh(tmp_path / "tray.stl"), trimesh.load_scene(tmp_path / "tray.glb")
    assert stl.is_watertight and stl.body_count == 1
    size = np.ptp(stl.bounds, axis=0)
    job = demo_job("syrup-tray")
    assert size[2] == pytest.approx(job.part.depth, abs=2.5) and size[0] < blank.size[0]
    assert np.ptp(scene.bounds, axis=0)[[0, 2, 1]] * 1000 == pytest.approx(size, rel=1e-4)
    assert {"base", "front wall"} <= set(scene.geometry)
