"""General tolerances read from the text of a drawing."""

import ezdxf
import pytest

from zealous_crane.inspection.inspection import allowed
from zealous_crane.inspection.model import What
from zealous_crane.io.dxf_read import general_tolerance, read_drawing
from zealous_crane.job.job import FlatPart, Job
from zealous_crane.units.length import Units


@pytest.mark.parametrize(
    ("texts", "inches", "fields"),
    [
        (["General tolerances ISO 2768-mK"], False, {"sizes_class": "m"}),
        (["ISO 2768-1 f"], False, {"sizes_class": "f"}),
        (
            ["Unless otherwise stated: sizes ±0,3, angles ±0.5°"],
            False,
            {"sizes_within": 0.3, "tolerance": 0.5},
        ),
        (["TOL. %%p1/64", "4 x 90"], True, {"sizes_within": 25.4 / 64}),
        (["TOLERANCE +/- 0.010 in"], False, {"sizes_within": 0.254}),
        (["40 ±0.1", "BEND UP 90"], False, {}),
        (["tolerance ± 400"], False, {}),
    ],
)
def test_what_speaks_of_tolerance_is_taken_and_nothing_else(texts, inches, fields):
    found = general_tolerance(texts, inches=inches).fields
    assert found == {k: pytest.approx(v) if isinstance(v, float) else v for k, v in fields.items()}


def test_a_drawing_tells_its_job(tmp_path):
    drawing = ezdxf.new()
    drawing.units = ezdxf.units.MM
    space = drawing.modelspace()
    space.add_lwpolyline([(0, 0), (100, 0), (100, 60), (0, 60)], close=True)
    space.add_text("General tolerance ISO 2768-c, angles ±2°", dxfattribs={"insert": (0, -20)})
    drawing.saveas(tmp_path / "plate.dxf")
    reading = read_drawing(tmp_path / "plate.dxf")
    assert any("class c" in said and "± 2°" in said for said in reading.notes)
    job = Job(
        part=FlatPart(flat=reading.flat),
        metal="mild-steel",
        thickness="1 mm",
        units="mm",
        **reading.tolerance.fields,
    )
    assert job.sizes_class == "c" and job.tolerance == 2.0


def test_classes_of_the_standard():
    """ISO 2768-1, from memory: 100 mm is ± 0.15 fine, 0.3 medium, 0.8 coarse, 1.5 very coarse."""
    from zealous_crane.demo import demo_job
    from zealous_crane.flat.development import develop
    from zealous_crane.inspection.measures import measures_of

    job = demo_job("hive-scale")
    measure = next(m for m in measures_of(develop(job)) if m.what is What.LEG)
    got = [
        allowed(job.model_copy(update={"sizes_class": c, "units": Units.MM}), measure, 100.0)[0]
        for c in "fmcv"
    ]
    assert got == [0.25, 0.3, 0.8, 1.5], "a size across a bend is not asked for less than a quarter"
