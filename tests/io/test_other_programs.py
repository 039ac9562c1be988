"""Drawings and shapes as other programs take them: versions of DXF, the unit asked for, a view that
shows the part, spot welds."""

import math
import subprocess
import sys
import xml.etree.ElementTree as ET

import ezdxf
import numpy as np
import pytest
import shapely
import trimesh
from ezdxf import bbox

from zealous_crane.demo import DEMOS, demo_job, demo_work
from zealous_crane.flat.development import develop
from zealous_crane.io.dxf_read import read_drawing
from zealous_crane.io.dxf_write import VERSIONS, svg_text, write_dxf
from zealous_crane.io.job_file import write_job
from zealous_crane.job.job import FlatPart, Job
from zealous_crane.units.length import INCH

SVG = "{http://www.w3.org/2000/svg}"


def export(job, tmp_path, name, *more):
    """The command, as a shop runs it."""
    write_job(job, tmp_path / "job.json")
    return subprocess.run(
        [
            sys.executable,
            "-m",
            "zealous_crane.cli",
            "export",
            str(tmp_path / "job.json"),
            "-o",
            str(tmp_path / name),
            *more,
        ],
        capture_output=True,
        text=True,
        check=False,
    )


@pytest.mark.parametrize("inches", [False, True])
@pytest.mark.parametrize("version", VERSIONS)
@pytest.mark.parametrize("name", DEMOS[::3])
def test_every_version_is_read_back_the_same(name, version, inches, tmp_path):
    job = demo_job(name)
    blank = develop(job)
    write_dxf(blank, tmp_path / "flat.dxf", inches=inches, version=version)
    document = ezdxf.readfile(tmp_path / "flat.dxf")
    assert document.dxfversion == {"r12": "AC1009", "r2010": "AC1024", "r2018": "AC1032"}[version]
    assert not document.audit().errors
    # The unit is known without a question, in the version that has no word for one too.
    reading = read_drawing(tmp_path / "flat.dxf")
    again = develop(job.model_copy(update={"part": FlatPart(flat=reading.flat)}))
    assert again.area == pytest.approx(blank.area, abs=1e-3) and len(again.folds) == len(
        blank.folds
    )
    assert reading.inches is inches


@pytest.mark.parametrize("version", VERSIONS)
@pytest.mark.parametrize("name", DEMOS[::4])
def test_a_drawing_opens_on_the_whole_part(name, version, tmp_path):
    blank = develop(demo_job(name))
    write_dxf(blank, tmp_path / "flat.dxf", inches=True, version=version)
    document = ezdxf.readfile(tmp_path / "flat.dxf")
    # The drawing library's own box round everything that is cut is the second opinion.
    cut = bbox.extents(document.modelspace().query('*[layer=="CUT"]'))
    low, high = document.header["$EXTMIN"], document.header["$EXTMAX"]
    assert low[:2] == pytest.approx(cut.extmin.vec2, abs=1e-3) and high[:2] == pytest.approx(
        cut.extmax.vec2, abs=1e-3
    )
    view = document.viewports.get("*Active")[0].dxf
    assert tuple(view.center)[:2] == pytest.approx(
        ((low[0] + high[0]) / 2, (low[1] + high[1]) / 2), abs=1e-6
    )
    assert view.height > high[1] - low[1] and view.height * 1.6 > high[0] - low[0]
    # Dashes are seen as dashes: at least four of them on the part's shorter side, and none shorter
    # than 2 mm.
    pattern = document.linetypes.get("DASHED").pattern_tags.tags
    total = next(tag.value for tag in pattern if tag.code == 40)
    assert total >= 3 / INCH - 1e-9 and (
        total <= min(blank.size) / INCH / 4 or total == pytest.approx(3 / INCH)
    )
    assert document.header["$LTSCALE"] == 1.0


def test_names_outside_the_old_character_set_survive_in_the_oldest_version(tmp_path):
    job = demo_job("syrup-tray")
    blank = develop(job)
    from dataclasses import replace

    named = replace(
        blank, folds=tuple(replace(fold, name=f"стенка {i}") for i, fold in enumerate(blank.folds))
    )
    write_dxf(named, tmp_path / "flat.dxf", version="r12")
    assert {fold.name for fold in read_drawing(tmp_path / "flat.dxf").flat.folds} == {
        fold.name for fold in named.folds
    }


def test_spot_welds_come_back(tmp_path):
    found = 0
    for name in DEMOS:
        for job in demo_work(name).parts:
            spots = [mark for mark in develop(job).marks if mark.kind == "spot"]
            if not spots:
                continue
            write_dxf(develop(job), tmp_path / "flat.dxf", inches=True)
            again = develop(
                job.model_copy(
                    update={
                        "part": FlatPart(flat=read_drawing(tmp_path / "flat.dxf").flat),
                        "rows": (),
                    }
                )
            )
            places = sorted(tuple(mark.start.round(4).tolist()) for mark in spots)
            assert (
                sorted(tuple(m.start.round(4).tolist()) for m in again.marks if m.kind == "spot")
                == places
            )
            found += len(places)
    assert found >= 4


@pytest.mark.parametrize("unit", ["--inches", "--mm"])
def test_the_unit_asked_for_counts_for_every_format(unit, tmp_path):
    job = Job.model_validate(
        {**demo_job("hive-stand-angle").model_dump(), "units": "mm" if unit == "--inches" else "in"}
    )
    size = [side / (INCH if unit == "--inches" else 1.0) for side in develop(job).size]
    assert not export(job, tmp_path, "flat.dxf", unit).returncode
    outline = (
        ezdxf.readfile(tmp_path / "flat.dxf").modelspace().query('LWPOLYLINE[layer=="CUT"]').first
    )
    box = bbox.extents([outline])
    assert list(box.size)[:2] == pytest.approx(size, abs=0.1)
    assert not export(job, tmp_path, "flat.svg", unit).returncode
    root = ET.parse(tmp_path / "flat.svg").getroot()
    wide, high = (root.get(side) for side in ("width", "height"))
    ending = "in" if unit == "--inches" else "mm"
    assert wide.endswith(ending) and high.endswith(ending)
    drawn = [float(v) for v in root.get("viewBox").split()][2:]
    assert drawn == pytest.approx(
        [float(wide.removesuffix(ending)), float(high.removesuffix(ending))]
    )
    assert drawn == pytest.approx(list(box.size)[:2], abs=1e-3)
    path = root.find(f".//{SVG}path").get("d")
    figures = [
        float(v)
        for v in path.replace("A", " ")
        .replace("L", " ")
        .replace("M", " ")
        .replace("Z", " ")
        .split()
    ]
    assert max(figures) == pytest.approx(max(drawn), abs=1e-3)
    assert not export(job, tmp_path, "part.stl", unit).returncode
    volume = trimesh.load(tmp_path / "part.stl").volume * (INCH**3 if unit == "--inches" else 1.0)
    assert volume == pytest.approx(develop(job).area * job.sheet.thickness, rel=0.03)
    gltf = export(job, tmp_path, "part.glb", unit)
    if unit == "--inches":
        assert gltf.returncode and "metres" in gltf.stderr and not (tmp_path / "part.glb").exists()
    else:
        assert not gltf.returncode


def test_lines_of_a_picture_lie_where_they_are_on_the_flat():
    """y runs down in SVG: every fold, mark and spot against the flat."""
    for name in ("syrup-tray", "safety-edge-tray", "warm-air-duct"):
        blank = develop(demo_job(name))
        root = ET.fromstring(svg_text(blank))
        _, high = blank.size
        lines = [
            [float(line.get(key)) for key in ("x1", "y1", "x2", "y2")]
            for line in root.iter(f"{SVG}line")
        ]
        folds = [[*f.start, *f.end] for f in blank.folds]
        marks = [[*m.start, *m.end] for m in blank.marks if m.kind != "spot"]
        wanted = [[x1, high - y1, x2, high - y2] for x1, y1, x2, y2 in folds + marks]
        assert np.array(lines) == pytest.approx(np.array(wanted), abs=1e-4)
        spots = [
            [float(spot.get(key)) for key in ("cx", "cy")] for spot in root.iter(f"{SVG}circle")
        ]
        assert spots == [
            pytest.approx([m.start[0], high - m.start[1]], abs=1e-4)
            for m in blank.marks
            if m.kind == "spot"
        ]


def test_a_version_nobody_writes_is_refused(tmp_path):
    said = export(demo_job("syrup-tray"), tmp_path, "flat.dxf", "--dxf", "r14")
    assert (
        said.returncode
        and "r14" in said.stderr
        and "r2018" in said.stderr
        and "Traceback" not in said.stderr
    )
    assert not export(demo_job("syrup-tray"), tmp_path, "flat.dxf", "--dxf", "r12").returncode
    assert ezdxf.readfile(tmp_path / "flat.dxf").dxfversion == "AC1009"


def test_a_nest_is_drawn_in_the_unit_and_version_asked_for(tmp_path):
    write_job(demo_job("syrup-tray").model_copy(update={"quantity": 20}), tmp_path / "job.json")
    for ending in ("dxf", "svg"):
        ran = subprocess.run(
            [
                sys.executable,
                "-m",
                "zealous_crane.cli",
                "cut",
                str(tmp_path / "job.json"),
                "-o",
                str(tmp_path / f"nest.{ending}"),
                "--mm",
                "--dxf",
                "r12",
            ],
            capture_output=True,
            text=True,
            check=False,
        )
        assert not ran.returncode, ran.stderr
    document = ezdxf.readfile(tmp_path / "nest.dxf")
    assert document.dxfversion == "AC1009"
    found = [bbox.extents([line]) for line in document.modelspace().query('POLYLINE[layer=="CUT"]')]
    boxes = [shapely.box(*box.extmin.vec2, *box.extmax.vec2) for box in found]
    blank = develop(demo_job("syrup-tray")).size
    assert len(boxes) == 20
    # None lies on another, and each on one of the sheets.
    assert all(a.intersection(b).area < 1e-3 for i, a in enumerate(boxes) for b in boxes[:i])
    marks = [
        bbox.extents([line]) for line in document.modelspace().query('POLYLINE[layer=="MARK"]')
    ]
    sheets = [shapely.box(*box.extmin.vec2, *box.extmax.vec2).buffer(0.01) for box in marks]
    assert all(any(sheet.contains(box) for sheet in sheets) for box in boxes)
    # Names are written within their piece.
    for note in document.modelspace().query("TEXT"):
        assert 0 < note.dxf.height <= 25.0
        assert any(
            sheet.contains(shapely.Point(note.dxf.insert.x, note.dxf.insert.y)) for sheet in sheets
        )
    assert all(math.isclose(box.area, blank[0] * blank[1], rel_tol=2e-3) for box in boxes)
    rects = [
        r
        for r in ET.parse(tmp_path / "nest.svg").getroot().iter(f"{SVG}rect")
        if r.get("class") == "blank"
    ]
    drawn = [float(r.get("width")) * float(r.get("height")) for r in rects]
    assert len(drawn) == len(boxes) and drawn == pytest.approx(
        [box.area for box in boxes], rel=1e-4
    )
