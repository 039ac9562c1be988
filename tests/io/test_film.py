"""The film of a job as files, read back by other programs: glTF by a library for it, animated
pictures by a library for those."""

import json
import math
import xml.etree.ElementTree as ET

import numpy as np
import pygltflib
import pytest
from PIL import Image
from scipy.spatial.transform import Rotation
from typer.testing import CliRunner

from shared_plans import plan_of
from zealous_crane.brake.library import shipped_rack
from zealous_crane.cli import app
from zealous_crane.demo import demo_job, demo_work
from zealous_crane.io.atomic import FileError
from zealous_crane.io.formats import Subject
from zealous_crane.io.job_file import write_job
from zealous_crane.paper.film import A_SECOND, SIZE, film_frames, write_drawings
from zealous_crane.paper.writers import writer_of
from zealous_crane.planning.motion import JobMotion
from zealous_crane.planning.planner import make_plan


def planned(key):
    job = demo_work(key).parts[0]
    return plan_of(job, shipped_rack()[job.brake])


class Scene:
    """A glTF as a viewer has it at a time."""

    def __init__(self, path):
        self.gltf = pygltflib.GLTF2().load(str(path))
        self.blob = self.gltf.binary_blob()
        self.channels = {
            (c.target.node, c.target.path): self.gltf.animations[0].samplers[c.sampler]
            for c in self.gltf.animations[0].channels
        }

    def numbers(self, index):
        accessor = self.gltf.accessors[index]
        view = self.gltf.bufferViews[accessor.bufferView]
        kind = {pygltflib.FLOAT: "<f4", pygltflib.UNSIGNED_INT: "<u4"}[accessor.componentType]
        wide = {"SCALAR": 1, "VEC3": 3, "VEC4": 4}[accessor.type]
        data = np.frombuffer(self.blob, kind, accessor.count * wide, view.byteOffset)
        return data.reshape(accessor.count, wide)

    def value(self, node, path, seconds):
        sampler = self.channels.get((node, path))
        if sampler is None:
            return np.array(getattr(self.gltf.nodes[node], path))
        times, values = self.numbers(sampler.input)[:, 0], self.numbers(sampler.output)
        k = int(np.clip(np.searchsorted(times, seconds, "right") - 1, 0, len(times) - 2))
        if sampler.interpolation == "STEP":
            return values[k]
        share = float(np.clip((seconds - times[k]) / (times[k + 1] - times[k]), 0, 1))
        value = values[k] + (values[k + 1] - values[k]) * share
        return value / np.linalg.norm(value) if path == "rotation" else value

    def corners(self, name, seconds):
        """Corners of a node, metres, y up; None where it has no size."""
        root, at = (
            self.gltf.nodes[0],
            next(k for k, node in enumerate(self.gltf.nodes) if node.name == name),
        )
        size = self.value(at, "scale", seconds)
        if size[0] == 0:
            return None
        mesh = self.gltf.meshes[self.gltf.nodes[at].mesh].primitives[0]
        points = self.numbers(mesh.attributes.POSITION)
        points = Rotation.from_quat(self.value(at, "rotation", seconds)).apply(points)
        points = points + self.value(at, "translation", seconds)
        return Rotation.from_quat(root.rotation).apply(points * root.scale)


def in_the_brake(points):
    """Metres, y up, as the stroke has them: mm, z up."""
    return np.column_stack([points[:, 0], -points[:, 2], points[:, 1]]) * 1000


def middle_and_size(box):
    return (box[0] + box[1]) / 2, box[1] - box[0]


@pytest.mark.parametrize("key", ["syrup-tray", "frame-rail", "nucleus-roof"])
def test_a_viewer_sees_every_panel_where_the_engine_has_it(key, tmp_path):
    plan, path = planned(key), tmp_path / "film.glb"
    writer_of("motion").write(Subject(plan.job, plan.blank, plan), path)
    scene, motion = Scene(path), JobMotion(plan)
    looked = 0
    for stroke in plan.strokes:
        engine, seconds = stroke.verdict.stroke, motion.stop_of(stroke.number)
        pole = engine.setting.pole
        for swings, solids in enumerate(engine.setting.solids):
            of_panel = {}
            for solid in solids:
                of_panel.setdefault(solid.panel, []).append(solid.corners)
            for panel, corners in of_panel.items():
                if panel < 0:
                    continue
                wanted = np.concatenate(corners)
                angle = math.radians(stroke.verdict.reach)
                turn = (angle if swings else 0.0) - angle * (1 - engine.in_front)
                y, z = (wanted[:, 1:] - pole).T
                wanted = np.column_stack(
                    [
                        wanted[:, 0],
                        pole[0] + y * math.cos(turn) + z * math.sin(turn),
                        pole[1] - y * math.sin(turn) + z * math.cos(turn),
                    ]
                )
                seen = in_the_brake(scene.corners(plan.blank.panels[panel].name, seconds))
                ends = [np.array([p.min(axis=0), p.max(axis=0)]) for p in (seen, wanted)]
                middle, size = (
                    np.subtract(*f) for f in zip(*map(middle_and_size, ends), strict=True)
                )
                # Ears that give way and rounded corners stand inside what is reckoned with, at both
                # ends alike.
                where = stroke.name, plan.blank.panels[panel].name
                assert abs(middle).max() < 0.3 and abs(size).max() < 5.0, (*where, middle, size)
                looked += 1
    assert looked >= 12


def test_it_is_sound_gltf_and_shows_one_state_of_a_bend_at_a_time(tmp_path):
    plan, path = planned("frame-rail"), tmp_path / "film.glb"
    writer_of("motion").write(Subject(plan.job, plan.blank, plan), path)
    scene, motion = Scene(path), JobMotion(plan)
    times = scene.numbers(scene.gltf.animations[0].samplers[0].input)[:, 0]
    assert (np.diff(times) > 0).all() and times[0] == 0
    assert times[-1] == pytest.approx(motion.seconds, abs=0.01)
    for mesh in scene.gltf.meshes:
        corners = scene.numbers(mesh.primitives[0].indices)
        assert corners.max() < len(scene.numbers(mesh.primitives[0].attributes.POSITION))
    bends = [fold.name for fold in plan.blank.folds if f"{fold.name} bend, flat" in names(scene)]
    assert bends
    for name in bends:
        for seconds in np.linspace(0, motion.seconds - 0.01, 40):
            flat = scene.corners(f"{name} bend, flat", seconds)
            bent = scene.corners(f"{name} bend", seconds)
            assert (flat is None) is not (bent is None)


def names(scene):
    return [node.name for node in scene.gltf.nodes]


def test_the_animated_picture_plays_elsewhere(tmp_path):
    plan, path = planned("hive-stand-angle"), tmp_path / "film.png"
    shares = list(film_frames(plan, path))
    assert shares == sorted(shares) and shares[-1] == 1.0
    with Image.open(path) as film:
        assert film.n_frames == len(shares) and film.size == (SIZE.width(), SIZE.height())
        assert film.n_frames / A_SECOND == pytest.approx(JobMotion(plan).seconds, abs=0.2)
        seen = set()
        for k in range(film.n_frames):
            film.seek(k)
            assert film.info["duration"] == pytest.approx(1000 / A_SECOND)
            seen.add(film.convert("RGB").tobytes())
    # It rests at the stop; else hardly two pictures are the same.
    assert len(seen) > film.n_frames * 0.6


def test_a_folder_of_drawings_has_one_for_every_piece_of_work(tmp_path):
    plan = planned("syrup-tray")
    count = write_drawings(plan, tmp_path / "film")
    phases = sum(len(JobMotion(plan).phases(stroke.number)) for stroke in plan.strokes)
    files = sorted((tmp_path / "film").iterdir())
    assert count == phases == len(files)
    titles = [ET.parse(file).getroot().find("{*}title").text for file in files]
    assert titles[0].startswith("Bend 1") and titles[-1].startswith(f"Bend {len(plan.strokes)}")


def test_a_part_that_cannot_be_made_has_no_film(tmp_path):
    job = demo_job("syrup-tray").model_copy(update={"thickness": "10 ga"})
    plan = make_plan(job, shipped_rack()[job.brake])
    assert not plan.strokes
    with pytest.raises(FileError, match="no film"):
        next(film_frames(plan, tmp_path / "x.png"))
    with pytest.raises(FileError, match="no film"):
        writer_of("motion").write(Subject(job, plan.blank, plan), tmp_path / "x.glb")
    assert not list(tmp_path.iterdir())


def test_the_command_writes_films(tmp_path):
    job = tmp_path / "job.crane"
    write_job(demo_work("hive-stand-angle").parts[0], job)
    for name in ("film.png", "film.glb", "film"):
        done = CliRunner().invoke(app, ["film", str(job), "-o", str(tmp_path / name)])
        assert done.exit_code == 0, done.output
        assert (tmp_path / name).exists()
    no = CliRunner().invoke(app, ["film", str(job), "-o", str(tmp_path / "film.avi")])
    assert no.exit_code == 1 and "film.avi" in no.output and not (tmp_path / "film.avi").exists()
    assert json.loads(Scene(tmp_path / "film.glb").gltf.to_json())["asset"]["version"] == "2.0"
