import json
from importlib import resources

import ezdxf
import pytest

import paper
from command_line import crane
from zealous_crane.demo import demo_work
from zealous_crane.io.job_file import write_work

DEMO = resources.files("zealous_crane.demo")


@pytest.fixture
def job(tmp_path):
    path = tmp_path / "tray.json"
    path.write_text((DEMO / "syrup-tray.json").read_text())
    return path


def test_blank_and_plan_as_json(job, tmp_path):
    blank = json.loads(crane("blank", job, "--json", home=tmp_path).stdout)
    assert blank["size"] == pytest.approx([19.5 * 25.4, 15.25 * 25.4])
    plan = crane("plan", job, "--json", home=tmp_path)
    assert plan.returncode == 0 and json.loads(plan.stdout)["verdict"]["feasible"]


def test_in_words(job, tmp_path):
    assert '14 1/2 + 2 × 2 1/2 = 19 1/2"' in crane("blank", job, home=tmp_path).stdout
    assert "Can be made: 4 strokes" in crane("plan", job, home=tmp_path).stdout


def test_the_first_order_or_what_is_found_in_time(job, tmp_path):
    whole, quick, late = (
        json.loads(crane("plan", job, "--json", *more, home=tmp_path).stdout)
        for more in ((), ("--quick",), ("--until", "60"))
    )
    assert (
        quick["verdict"]["feasible"]
        and quick["verdict"]["strokes_judged"] <= whole["verdict"]["strokes_judged"]
    )
    assert len(quick["strokes"]) == len(whole["strokes"]) and not quick["verdict"]["advice"]
    assert late["strokes"] == whole["strokes"]
    assert crane("plan", job, "--until", "0", home=tmp_path).returncode == 2


def test_every_part_of_a_work_in_one_document(tmp_path):
    write_work(demo_work("hive-scale"), tmp_path / "w.json")
    assert (
        crane(
            "sheet", tmp_path / "w.json", "--every-part", "-o", tmp_path / "w.pdf", home=tmp_path
        ).returncode
        == 0
    )
    text = paper.text_of(tmp_path / "w.pdf")
    assert "Housing for the hive scale: cutting" in text and text.count("Bend 1") >= 2


def test_sheet_and_drawing(job, tmp_path):
    assert crane("sheet", job, "-o", tmp_path / "s.pdf", home=tmp_path).returncode == 0
    data = (tmp_path / "s.pdf").read_bytes()
    assert data.startswith(b"%PDF") and len(data) > 10_000
    # Vector: no page is a picture.
    assert b"/Subtype /Image" not in data and b"/Subtype/Image" not in data
    assert crane("export", job, "-o", tmp_path / "b.dxf", home=tmp_path).returncode == 0
    assert not ezdxf.readfile(tmp_path / "b.dxf").audit().errors


def test_the_schema(tmp_path):
    assert json.loads(crane("schema", home=tmp_path).stdout)["title"] == "Job"


def test_another_brake_by_key_and_by_file(job, tmp_path, brake):
    assert crane("plan", job, "--brake", "bench-finger-1000", home=tmp_path).returncode == 0
    own = tmp_path / "own.json"
    own.write_text(brake.model_copy(update={"key": "own", "fingers": ()}).model_dump_json())
    refused = crane("plan", job, "--brake", own, home=tmp_path)
    assert refused.returncode == 3 and "no fingers in the rack" in refused.stderr


@pytest.mark.parametrize(
    ("change", "said", "code"),
    [
        ({"depth": "4 in"}, "Walls up to 3", 3),
        ({"depth": "-4"}, "not more than zero", 1),
        ({"depth": "deep"}, "could not be read", 1),
        ({"length": "70 in"}, "along the bed", 3),
    ],
)
def test_bad_work_is_one_sentence_on_stderr(job, tmp_path, change, said, code):
    data = json.loads(job.read_text())
    data["part"].update(change)
    job.write_text(json.dumps(data))
    refused = crane("plan", job, home=tmp_path)
    assert (
        refused.returncode == code and said in refused.stderr and "Traceback" not in refused.stderr
    )


def test_missing_files_and_places(job, tmp_path):
    assert "could not be read" in crane("plan", tmp_path / "none.json", home=tmp_path).stderr
    refused = crane("export", job, "-o", tmp_path / "no" / "b.dxf", home=tmp_path)
    assert refused.returncode == 1 and "could not be written" in refused.stderr
    assert crane("export", job, "-o", tmp_path / "b.dwg", home=tmp_path).returncode == 1
    assert "not in this shop" in crane("plan", job, "--brake", "none", home=tmp_path).stderr


def test_no_display_is_said(tmp_path):
    refused = crane(
        home=tmp_path, env={"QT_QPA_PLATFORM": "", "DISPLAY": "", "WAYLAND_DISPLAY": ""}
    )
    assert refused.returncode == 1 and "no display" in refused.stderr
