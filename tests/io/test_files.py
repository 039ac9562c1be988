import json
import math
import os

import ezdxf
import ezdxf.fonts.fonts
import pytest
import shapely
import shapely.affinity
from hypothesis import given, settings
from hypothesis import strategies as st

from zealous_crane.demo import DEMOS, demo_job, demo_work
from zealous_crane.flat.development import develop
from zealous_crane.io.atomic import FileError, write_atomically
from zealous_crane.io.dxf_write import write_dxf
from zealous_crane.io.formats import schema_of
from zealous_crane.io.job_file import JobFileError, read_job, write_job
from zealous_crane.io.plan_file import plan_record, write_plan
from zealous_crane.job.job import Job
from zealous_crane.part.corner import ReliefRule
from zealous_crane.planning.planner import make_plan
from zealous_crane.units.length import INCH

PART = '{"format": "zealous-crane-job", "part": {"kind": "open-box", "length": %s, "width": %s, "depth": 5}%s}'  # noqa: E501


def test_a_job_comes_back_as_it_was_written(tmp_path, box):
    for job in (
        demo_job(),
        box(school={"school": "neutral-line", "k": 0.4}, springback=3.5, quantity=7, units="mm"),
    ):
        write_job(job, tmp_path / "job.json")
        assert read_job(tmp_path / "job.json") == job


def test_lengths_may_be_written_as_the_hand_writes_them(tmp_path):
    path = tmp_path / "job.json"
    path.write_text(PART % ('"8 1/2"', '"152 mm"', ""))
    part = read_job(path).part
    assert (part.length, part.width, part.depth) == (215.9, 152.0, 5.0)


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "damaged"),
        ("{", "damaged"),
        ("[]", "not a job file"),
        ('{"format": "something-else"}', "not a job file"),
        ('{"format": "zealous-crane-job", "version": 9}', "newer version"),
        ('{"format": "zealous-crane-job"}', "part: is missing"),
        ('{"format": "zealous-crane-job", "part": {"kind": "teapot"}}', "kind"),
        (
            '{"format": "zealous-crane-job", "part": {"kind": "open-box", "length": "-3", "width": "x", "depth": 0}}',  # noqa: E501
            "not more than zero",
        ),
        (PART % ("1e9", "5", ""), "20,000"),
        (PART % ("9", "5", ', "metal": "cheese"'), "cheese"),
        ("[" * 100_000, "damaged"),
    ],
)
def test_a_damaged_or_foreign_file_is_answered_in_a_sentence(tmp_path, text, said):
    path = tmp_path / "job.json"
    path.write_text(text)
    with pytest.raises(JobFileError, match=said):
        read_job(path)


def test_what_is_no_text_or_not_there_is_answered(tmp_path):
    (tmp_path / "picture.json").write_bytes(b"\x89PNG\xff\xfe\x00")
    with pytest.raises(JobFileError, match="not text"):
        read_job(tmp_path / "picture.json")
    with pytest.raises(JobFileError, match="could not be read"):
        read_job(tmp_path / "none.json")
    with pytest.raises(JobFileError, match="could not be read"):
        read_job(tmp_path)


NAMES = ["kind", "length", "width", "depth", "corner", "relief", "size", "gap", "measured", "tree"]
LEAVES = st.none() | st.booleans() | st.floats() | st.text(max_size=8)


@settings(max_examples=60)
@given(
    st.recursive(
        LEAVES,
        lambda c: st.lists(c, max_size=3) | st.dictionaries(st.sampled_from(NAMES), c, max_size=5),
    )
)
def test_any_part_is_read_or_answered(tmp_path_factory, part):
    path = tmp_path_factory.mktemp("any") / "job.json"
    path.write_text(json.dumps({"format": "zealous-crane-job", "part": part}))
    try:
        read_job(path)
    except JobFileError as error:
        assert str(error)


def test_a_full_disk_leaves_the_old_file(tmp_path, monkeypatch):
    path = tmp_path / "job.json"
    path.write_text("old")

    def full(_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(FileError, match="No space left"):
        write_atomically(path, b"new")
    assert path.read_text() == "old" and list(tmp_path.iterdir()) == [path]


def test_a_missing_or_read_only_place_is_answered(tmp_path, monkeypatch):
    with pytest.raises(FileError, match="could not be written"):
        write_atomically(tmp_path / "none" / "x.json", b"x")

    def refused(*_, **__):
        raise PermissionError(13, "Permission denied")

    monkeypatch.setattr("tempfile.mkstemp", refused)
    with pytest.raises(FileError, match="Permission denied"):
        write_atomically(tmp_path / "x.json", b"x")


def test_the_schema_names_what_a_file_may_hold():
    schema = schema_of("job")
    assert schema["properties"]["format"]["const"] == "zealous-crane-job"
    assert {"part", "format"} <= set(schema["required"])
    assert "OpenBox" in schema["$defs"]
    json.dumps(schema)


@pytest.mark.parametrize("shape", ["round", "square", "none"])
@pytest.mark.parametrize("inches", [True, False])
def test_the_drawing_opens_clean_and_is_true_to_size(tmp_path, box, shape, inches):
    blank = develop(box(relief=ReliefRule(shape=shape)))
    write_dxf(blank, tmp_path / "blank.dxf", inches=inches)
    drawing = ezdxf.readfile(tmp_path / "blank.dxf")
    audit = drawing.audit()
    assert not audit.errors and not audit.fixes
    assert drawing.units == (ezdxf.units.IN if inches else ezdxf.units.MM)
    scale = INCH if inches else 1.0
    outline = drawing.modelspace().query('LWPOLYLINE[layer=="CUT"]').first
    # The drawing library's own flattening is the second opinion on the arcs.
    from ezdxf.path import make_path

    polygon = shapely.Polygon(
        [(v.x * scale, v.y * scale) for v in make_path(outline).flattening(0.0005)]
    )
    assert polygon.is_valid
    assert polygon.area == pytest.approx(blank.area, rel=2e-5)
    assert polygon.bounds == pytest.approx((0, 0, *blank.size), abs=1e-6)
    folds = drawing.modelspace().query('LINE[layer=="FOLD"]')
    lengths = sorted(math.dist(f.dxf.start, f.dxf.end) * scale for f in folds)
    assert lengths == pytest.approx(sorted(f.length for f in blank.folds))
    notes = [t.dxf.text for t in drawing.modelspace().query('TEXT[layer=="MARK"]')]
    assert "FRONT WALL UP 90%%d" in notes
    assert len(drawing.modelspace().query("POINT")) == (0 if shape == "none" else 4)


def test_the_plan_file_holds_what_its_page_promises(tmp_path, rack):
    job = demo_job()
    plan = make_plan(job, rack[job.brake])
    write_plan(plan, tmp_path / "plan.json")
    record = json.loads((tmp_path / "plan.json").read_text())
    assert record == json.loads(json.dumps(plan_record(plan)))
    assert record["verdict"]["feasible"] and len(record["strokes"]) == 4
    from pathlib import Path

    page = (Path(__file__).parents[2] / "docs" / "plan-format.md").read_text()
    for name in {*record, *record["strokes"][0], *record["blank"], *record["blank"]["folds"][0]}:
        assert f"`{name}`" in page, name


@pytest.mark.parametrize("name", DEMOS)
def test_notes_of_a_drawing_lie_on_the_metal(name, tmp_path):
    for job in demo_work(name).parts:
        blank = develop(job)
        write_dxf(blank, tmp_path / "part.dxf")
        metal = shapely.Polygon(blank.outline.flattened()).buffer(0.01)
        for note in ezdxf.readfile(tmp_path / "part.dxf").modelspace().query("TEXT"):
            assert note.dxf.height >= 0.4 - 1e-9
            if note.dxf.height > 0.401:
                middle = shapely.Point(note.get_placement()[1].x, note.get_placement()[1].y)
                assert metal.contains(middle) and metal.contains(turned_box(note))


def turned_box(note):
    """The text's own rectangle: its length by the drawing library's own measure of the font, laid
    along the text."""
    width = ezdxf.fonts.fonts.make_font("txt.shx", note.dxf.height).text_width(note.plain_text())
    x, y = note.get_placement()[1].x, note.get_placement()[1].y
    flat = shapely.box(
        x - width / 2, y - note.dxf.height / 2, x + width / 2, y + note.dxf.height / 2
    )
    return shapely.affinity.rotate(flat, note.dxf.rotation, origin=(x, y))


@pytest.mark.parametrize(
    ("written", "mm"), [(0.8, 0.8), (2, 2.0), ("0.8 mm", 0.8), ('1/8"', 3.175)]
)
def test_a_thickness_is_a_length_as_the_others_are(written, mm):
    """A number is mm whatever the units of the job; and the schema says so."""
    job = Job.model_validate(
        {
            "part": {"kind": "plate", "length": 100, "width": 50},
            "metal": "mild-steel",
            "thickness": written,
            "units": "in",
        }
    )
    assert job.sheet.thickness == pytest.approx(mm)
    assert [one["type"] for one in schema_of("job")["properties"]["thickness"]["anyOf"]] == [
        "number",
        "string",
    ]


@pytest.mark.parametrize("written", [True, None, [], float("nan"), -1])
def test_a_thickness_that_is_none_is_refused(written):
    with pytest.raises(ValueError, match="thickness"):
        Job.model_validate(
            {"part": {"kind": "plate", "length": 100, "width": 50}, "thickness": written}
        )
