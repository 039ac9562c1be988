"""The command line for parts of every kind, works of several and drawings."""

import json

import pytest
from typer.testing import CliRunner

from zealous_crane.cli.commands import app
from zealous_crane.demo import demo_job, demo_work
from zealous_crane.io.dxf_entities import DrawingError
from zealous_crane.io.job_file import JobFileError, read_job, write_work

RUN = CliRunner()


@pytest.fixture
def work_file(tmp_path):
    write_work(demo_work("hive-scale"), tmp_path / "work.json")
    return str(tmp_path / "work.json")


def run(*words):
    return RUN.invoke(app, [str(w) for w in words])


def test_a_part_of_a_work_is_named(work_file):
    lid = json.loads(run("blank", work_file, "--part", "2", "--json").stdout)
    assert lid["panels"][1]["name"] == "front wall" and len(lid["holes"]) == 4
    named = json.loads(run("blank", work_file, "--part", "Scale housing, lid", "--json").stdout)
    assert named == lid
    wrong = run("blank", work_file, "--part", "7")
    assert isinstance(wrong.exception, JobFileError) and "It has: 1 Scale housing, base" in str(
        wrong.exception
    )


def test_a_part_with_nothing_for_the_brake_is_done(tmp_path):
    write_work(demo_work("entrance-channel"), tmp_path / "channel.json")
    found = run("plan", tmp_path / "channel.json")
    assert found.exit_code == 0 and found.stdout.startswith("Nothing for the brake")


def test_hand_work_stands_in_its_place(tmp_path):
    write_work(demo_work("hive-roof"), tmp_path / "roof.json")
    lines = run("plan", tmp_path / "roof.json").stdout.splitlines()
    at = next(i for i, line in enumerate(lines) if line.startswith("  Then: Crease the ears"))
    assert lines[at - 2].startswith("  Bend 4") and lines[at + 1].startswith("  Bend 5")
    assert run("sheet", tmp_path / "roof.json", "-o", tmp_path / "roof.pdf").exit_code == 0


def test_marking_template_and_drawings_are_written(work_file, tmp_path):
    for command, name in (("marking", "m.pdf"), ("template", "t.pdf")):
        asked = run(command, work_file, "-o", tmp_path / name)
        assert (
            asked.exit_code == 1
            and "1 Scale housing, base; 2 Scale housing, lid. Say which with --part."
            in str(asked.exception)
        )
        assert run(command, work_file, "-o", tmp_path / name, "--part", "2").exit_code == 0
        assert (tmp_path / name).read_bytes().startswith(b"%PDF")
    assert run("export", work_file, "-o", tmp_path / "a.svg", "--part", "1").exit_code == 0
    assert (tmp_path / "a.svg").read_text().startswith("<svg")
    refused = run("export", work_file, "-o", tmp_path / "a.step", "--part", "1")
    assert refused.exit_code == 1 and ".dxf or .svg" in refused.output


def test_a_drawing_becomes_a_job(tmp_path):
    write_work(demo_work("syrup-tray"), tmp_path / "tray.json")
    assert run("export", tmp_path / "tray.json", "-o", tmp_path / "tray.dxf", "--mm").exit_code == 0
    made = run(
        "from-drawing",
        tmp_path / "tray.dxf",
        "-o",
        tmp_path / "drawn.json",
        "--metal",
        "aluminium-soft",
        "--thickness",
        "20 ga",
    )
    assert made.exit_code == 0 and made.stdout == ""
    job = read_job(tmp_path / "drawn.json")
    assert job.name == "tray" and len(job.part.flat.folds) == 4
    plan = run("plan", tmp_path / "drawn.json")
    assert "Can be made: 4 strokes" in plan.stdout
    record = json.loads(run("plan", tmp_path / "drawn.json", "--json").stdout)
    assert record["blank"]["size"] == pytest.approx(
        json.loads(run("blank", tmp_path / "tray.json", "--json").stdout)["size"]
    )
    (tmp_path / "no.dxf").write_text("no drawing")
    assert isinstance(
        run("from-drawing", tmp_path / "no.dxf", "-o", tmp_path / "x.json").exception, DrawingError
    )
    assert not (tmp_path / "x.json").exists()


@pytest.mark.parametrize(
    "name", ["inspection-tray", "chimney-reducer", "wax-melter-chimney", "entrance-channel"]
)
def test_the_record_of_every_kind_is_whole(name, tmp_path):
    write_work(demo_work(name), tmp_path / "job.json")
    record = json.loads(run("blank", tmp_path / "job.json", "--json", "--part", "1").stdout)
    job = demo_job(name)
    assert record["metal"] == job.metal and len(record["folds"]) == len(record["panels"]) - 1
    assert {f["made_by"] for f in record["folds"]} <= {"brake", "hem", "tool", "hand"}
    for span, axis in (("Blank length", 0), ("Blank width", 1)):
        total = next(s["total"] for s in record["sums"] if s["what"] == span)
        assert total == pytest.approx(record["size"][axis], abs=1e-6), "the sum is the size"
    assert all({"setting", "for", "from", "face"} == set(s) for s in record["settings"])
