"""Files that are too much: each ends soon, in a sentence."""

from __future__ import annotations

import json
import math
from pathlib import Path

import ezdxf
import pytest
from typer.testing import CliRunner

from zealous_crane.brake.library import BrakeError, read_brake
from zealous_crane.cli.commands import app
from zealous_crane.demo import demo_job
from zealous_crane.flat.development import develop
from zealous_crane.io.dxf_entities import DrawingError
from zealous_crane.io.dxf_read import read_drawing
from zealous_crane.io.job_file import JobFileError, read_work, write_job
from zealous_crane.job.job import FlatPart, Job


def test_thousands_of_holes_are_read_and_laid_flat(tmp_path):
    drawing = ezdxf.new()
    drawing.units = 4
    space = drawing.modelspace()
    space.add_lwpolyline([(0, 0), (1000, 0), (1000, 800), (0, 800)], close=True)
    for i in range(1500):
        space.add_circle((20 + i % 50 * 19.5, 20 + i // 50 * 25), 4)
    space.add_circle((20, 20), 2)
    drawing.saveas(tmp_path / "holes.dxf")
    reading = read_drawing(tmp_path / "holes.dxf")
    assert len(reading.flat.holes) == 1500 and any("inside holes" in said for said in reading.notes)
    blank = develop(
        Job(part=FlatPart(flat=reading.flat), metal="mild-steel", thickness="1 mm", units="mm")
    )
    assert len(blank.holes) == 1500 and all(hole.kind == "round" for hole in blank.holes)


def test_blocks_that_insert_themselves_end_in_a_sentence(tmp_path):
    drawing = ezdxf.new()
    block = drawing.blocks.new("A")
    for i in range(40):
        block.add_line((i, 0), (i, 9))
    for i in range(6):
        block.add_blockref("A", (i, 0))
    drawing.modelspace().add_blockref("A", (0, 0))
    drawing.saveas(tmp_path / "self.dxf")
    with pytest.raises(DrawingError, match="too many"):
        read_drawing(tmp_path / "self.dxf")


def test_a_drawing_of_very_many_lines_is_not_even_read(tmp_path):
    (tmp_path / "many.dxf").write_text("  0\nLINE\n" * 70_000)
    with pytest.raises(DrawingError, match="70000 entities"):
        read_drawing(tmp_path / "many.dxf")


def test_outlines_and_cut_outs_are_bounded():
    ring = [
        [400 * math.cos(i), 400 * math.sin(i), 0.0]
        for i in (2 * math.pi * k / 20_000 for k in range(20_000))
    ]
    part = {"kind": "flat", "flat": {"outline": ring}}
    with pytest.raises(ValueError, match="3000"):
        Job.model_validate({"part": part, "thickness": "1 mm", "units": "mm"})
    hole = {
        "panel": "base",
        "length": 1.0,
        "x": {"edge": "left", "value": 5},
        "y": {"edge": "front", "value": 5},
    }
    tree = {"base": {"length": 90, "width": 90}, "cutouts": [hole] * 9000}
    with pytest.raises(ValueError, match="2000"):
        Job.model_validate(
            {"part": {"kind": "design", "tree": tree}, "thickness": "1 mm", "units": "mm"}
        )


@pytest.mark.parametrize("read", [read_work, read_brake, read_drawing])
@pytest.mark.parametrize("what", ["/dev/zero", "deep", "folder"])
def test_what_is_no_such_file_ends_in_a_sentence(tmp_path, read, what):
    path = Path(what) if what == "/dev/zero" else tmp_path / what
    if what == "deep":
        path.write_text('{"a":' * 100_000)
    if what == "folder":
        path.mkdir()
    with pytest.raises((JobFileError, BrakeError, DrawingError)) as said:
        read(path)
    assert (
        str(said.value).endswith(".")
        and "recursion" not in str(said.value)
        and len(str(said.value)) < 300
    )


def test_the_command_line_says_which_it_is_and_reads_standard_input(tmp_path):
    runner = CliRunner()
    found = runner.invoke(app, ["--version"])
    assert found.exit_code == 0 and found.stdout.startswith("Zealous Crane ")
    assert runner.invoke(app, ["-h"]).exit_code == 0
    write_job(demo_job(), tmp_path / "job.json")
    found = runner.invoke(app, ["plan", "-"], input=(tmp_path / "job.json").read_text())
    assert found.exit_code == 0 and found.stdout.startswith("Can be made")
    flat = json.loads((tmp_path / "job.json").read_text())
    flat["part"] = {"kind": "design", "tree": {"base": {"length": 100, "width": 50}}}
    assert runner.invoke(app, ["plan", "-"], input=json.dumps(flat)).exit_code == 0, (
        "a flat piece is no failure"
    )
