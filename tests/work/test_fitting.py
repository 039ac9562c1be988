"""A duct fitting as a set: its pieces folded by other code, and set against the openings they were
asked for."""

import itertools
import json
import random

import numpy as np
import pytest
from typer.testing import CliRunner

import solids
from zealous_crane.cli.commands import app
from zealous_crane.demo import demo_work
from zealous_crane.flat.development import develop
from zealous_crane.io.job_file import read_work
from zealous_crane.io.plan_file import blank_record
from zealous_crane.part.edge import HemForm
from zealous_crane.part.kinds.box import OpenBox
from zealous_crane.part.kinds.duct_side import DuctSide, DuctSideName
from zealous_crane.work.duct_fitting import DuctFitting
from zealous_crane.work.work import Work

IN = 25.4


def random_fitting(seed, **fields):
    rng = random.Random(seed)
    return DuctFitting(
        length=rng.uniform(200, 500),
        width=rng.uniform(200, 500),
        small_length=rng.uniform(150, 400),
        small_width=rng.uniform(150, 400),
        height=rng.uniform(250, 500),
        offset_length=rng.uniform(-60, 60),
        offset_width=rng.uniform(-60, 60),
        units="mm",
        **fields,
    )


def poses(job):
    """Normal (3,) of every panel of the finished part, the base at rest, by the tests' own
    kinematics."""
    record = blank_record(develop(job), job)
    found = solids.placed(record, [f["angle"] for f in record["folds"]], 0)
    return {panel["name"]: m[:, 2] for panel, m in zip(record["panels"], found, strict=True)}


@pytest.mark.parametrize("seed", range(12))
def test_both_ends_of_a_slanted_side_lie_parallel(seed):
    fitting = random_fitting(seed, second_end="s-and-drive")
    for _, side in fitting.sides():
        slant = side.slant(side.side)
        normals = poses(fitting.model_copy(update={}).pieces()[list(DuctSideName).index(side.side)])
        ends = [n for name, n in normals.items() if name.startswith(("first end", "second end"))]
        if abs(slant) < 1:
            assert not ends
            continue
        assert len(ends) == 2 and ends[0] == pytest.approx(ends[1], abs=1e-9)
        # The kick is the angle between the side and the way straight up: its set-over against its
        # height.
        low, high = fitting.corners()
        i = list(DuctSideName).index(side.side)
        axis = 1 if side.side.value in ("front", "back") else 0
        assert np.degrees(np.arccos(ends[0][2])) == pytest.approx(
            np.degrees(np.arctan(abs(high[i][axis] - low[i][axis]) / fitting.height)), abs=1e-6
        )


@pytest.mark.parametrize("seed", range(6))
def test_a_flange_turned_out_lies_in_the_plane_of_its_opening(seed):
    fitting = random_fitting(seed, first_end="flange", second_end="s-and-drive")
    for piece in fitting.pieces():
        normals = poses(piece)
        flange = next(n for name, n in normals.items() if name.startswith("first end"))
        kicked = next((n for name, n in normals.items() if name.startswith("second end")), None)
        if kicked is not None:
            assert abs(flange @ kicked) < 1e-6, "square to the kicked end, which stands straight up"
        else:
            slant = np.radians(piece.part.slant(piece.part.side))
            assert abs(slant) < np.radians(1) and abs(flange @ normals["base"]) == pytest.approx(
                abs(np.sin(slant))
            )


@pytest.mark.parametrize("seed", range(6))
def test_the_sides_meet_along_their_seams_and_are_as_long_as_pythagoras_says(seed):
    fitting = random_fitting(seed)
    quads = [fitting.quad(side) for side in DuctSideName]
    for one, other in itertools.pairwise([*quads, quads[0]]):
        # The far seam of one side is the near seam of the next, corner for corner in space.
        assert one[[0, 3]] == pytest.approx(other[[1, 2]])
    for side, piece in zip(DuctSideName, fitting.pieces(), strict=True):
        axis = 1 if side.value in ("front", "back") else 0
        low, high = fitting.corners()
        over = abs(
            high[list(DuctSideName).index(side)][axis] - low[list(DuctSideName).index(side)][axis]
        )
        assert fitting.true_length(side) == pytest.approx(np.hypot(fitting.height, over))
        blank = develop(piece)
        ends = [
            np.array(f.start) for f in blank.folds if f.name.startswith(("first end", "second end"))
        ]
        if len(ends) == 2:
            # Thin sheet is folded on the line: the two kicks are as far apart as the side is long.
            outward = next(f.outward for f in blank.folds if f.name.startswith("first end"))
            assert abs((ends[0] - ends[1]) @ outward) == pytest.approx(
                fitting.true_length(side), abs=0.01
            )


def test_hems_go_by_gauge_and_cleats_by_the_sides():
    heavy, light = (
        DuctSide(length=300, width=200, small_length=300, small_width=200, height=300)
        for _ in range(2)
    )
    assert heavy.hem_flat(0.701) == (HemForm.CLOSED, 12.7) and light.hem_flat(0.475) == (
        HemForm.DOUBLE,
        25.4,
    )
    fitting = DuctFitting(
        length=14 * IN,
        width=10 * IN,
        small_length=10 * IN,
        small_width=8 * IN,
        height=16 * IN,
        quantity=3,
    )
    assert [(c.form, c.length / IN, c.count, c.end) for c in fitting.cleats()] == [
        ("s", 14, 6, 1),
        ("drive", pytest.approx(11), 6, 1),
        ("s", 10, 6, 2),
        ("drive", pytest.approx(9), 6, 2),
    ]
    # Nothing is offset: opposite sides are alike and cut together.
    assert [job.quantity for job in fitting.pieces()] == [6, 6]
    assert [job.part.wide(job.part.side) for job in fitting.pieces()] == [True, False]
    assert any("S cleats on the long sides first" in step for step in fitting.assembly())


def test_only_the_slanted_side_is_kicked():
    fitting = DuctFitting(
        length=300,
        width=200,
        small_length=250,
        small_width=200,
        height=300,
        offset_length=25,
        units="mm",
    )
    slants = [round(fitting.slant(side), 3) for side in DuctSideName]
    assert slants[0] == slants[1] == slants[2] == 0.0 and slants[3] == pytest.approx(
        np.degrees(np.arctan(50 / 300)), abs=1e-3
    )
    kicked = [[f.name for f in develop(job).folds if "end" in f.name] for job in fitting.pieces()]
    assert [len(k) for k in kicked] == [0, 0, 0, 2]


def test_pieces_are_made_anew_and_what_else_there_is_stays():
    work = demo_work("warm-air-duct")
    more = work.model_copy(
        update={
            "parts": (
                *work.parts,
                work.parts[0].model_copy(
                    update={"name": "Box", "part": OpenBox(length=100, width=80, depth=20)}
                ),
            )
        }
    )
    wider = work.fitting.model_copy(update={"length": 400.0, "cap": "first"})
    again = Work.of_fitting(wider, more)
    assert [job.name.split(", ")[0] for job in again.parts] == [
        "Front side",
        "Right side",
        "Back side",
        "Left side",
        "Cap",
        "Box",
    ]
    assert again.parts[0].part.length == 400.0 and again.parts[4].part.length == 400.0


def test_sizes_that_cannot_be_are_answered():
    with pytest.raises(ValueError, match="leans by"):
        DuctFitting(length=900, width=300, small_length=100, small_width=300, height=100).pieces()


def test_without_a_window(tmp_path):
    sizes = tmp_path / "sizes.json"
    sizes.write_text(
        json.dumps(
            {
                "length": "14 in",
                "width": "10 in",
                "small_length": "10 in",
                "small_width": "8 in",
                "height": "16 in",
                "second_end": "hem",
                "cap": "second",
            }
        )
    )
    done = CliRunner().invoke(app, ["fitting", str(sizes), "-o", str(tmp_path / "work.json")])
    told = json.loads(done.stdout)
    assert done.exit_code == 0 and len(told["pieces"]) == 3 and len(told["cleats"]) == 2
    assert len(read_work(tmp_path / "work.json").parts) == 3
    sizes.write_text('{"length": "-3 in"}')
    assert CliRunner().invoke(app, ["fitting", str(sizes)]).exit_code != 0
