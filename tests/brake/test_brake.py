import json

import pytest
import shapely
from pydantic import ValidationError

from zealous_crane.brake.cross_section import tools_for
from zealous_crane.brake.leaf_brake import LeafBrake
from zealous_crane.brake.library import NEW, BrakeError, read_brake, shipped_rack, shop_rack
from zealous_crane.brake.tools import Segment
from zealous_crane.job.job import Job
from zealous_crane.metal.allowance import NeutralLine, OnTheLine
from zealous_crane.part.design import Base, Design, Flange
from zealous_crane.planning.planner import make_plan
from zealous_crane.schema.model import is_length, unwrapped
from zealous_crane.units.length import INCH, Units, show_length


def test_shipped_brakes_stand_up(rack):
    assert sorted(brake.kind for brake in rack.brakes) == ["hand", "leaf", "leaf", "press", "press"]
    for brake in (brake for brake in rack.brakes if brake.kind == "leaf"):
        for bend in (OnTheLine().bend(90, 0, 0.8), NeutralLine().bend(90, 1.2, 1.2)):
            tools = tools_for(brake, bend)
            for profile in (tools.finger, tools.beam, tools.bed, tools.leaf):
                polygon = shapely.Polygon(profile.outline)
                assert (
                    polygon.is_valid
                    and polygon.exterior.is_ccw
                    and len(profile.parts) == len(profile.outline)
                )
            finger = tools.finger.outline
            assert finger[:, 1].max() - finger[:, 1].min() == pytest.approx(brake.finger_height)
            assert (
                not shapely.Polygon(finger)
                .buffer(-1e-6)
                .intersects(shapely.Polygon(tools.bed.outline))
            )


def test_the_nose_is_set_back_by_the_thickness(brake):
    # Nose set back from the bed edge by the metal's thickness, more for a bigger radius. Common
    # practice, no source.
    assert brake.setback(0.8, 0.0) == pytest.approx(0.8)
    assert brake.setback(0.8, brake.nose_radius) == pytest.approx(0.8)
    assert brake.setback(0.8, 3.0) == pytest.approx(0.8 + 3.0 - brake.nose_radius)


def test_the_finished_wall_lies_on_leaf_and_beside_the_nose(brake):
    for school, radius in ((OnTheLine(), 0.0), (NeutralLine(), 1.0), (NeutralLine(), 3.0)):
        bend = school.bend(90, radius, 1.0)
        tools = tools_for(brake, bend)
        outside_face = bend.allowance / 2 - radius - 1.0
        assert tools.hinge[0] == pytest.approx(outside_face)
        assert tools.nose[0] >= outside_face + 1.0 - 1e-9


@pytest.mark.parametrize(
    ("fields", "said"),
    [
        ({"finger_height": -3}, "more than zero"),
        ({"throat": 200}, "throat|raked face"),
        ({"rake": 80}, "75"),
        ({"fingers": [{"width": 9000}]}, "wider than the bed"),
        ({"colour": "green"}, "Extra inputs"),
        ({"leaf_bar": float("nan")}, "finite|not a length"),
    ],
)
def test_a_brake_that_cannot_be_is_refused(brake, fields, said):
    with pytest.raises(ValidationError, match=said):
        LeafBrake.model_validate({**brake.model_dump(), **fields})


def test_a_brake_file_is_read_or_answered(tmp_path, brake):
    good = tmp_path / "own.json"
    good.write_text(brake.model_copy(update={"key": "own", "name": "Own"}).model_dump_json())
    assert read_brake(good).key == "own"
    bad = tmp_path / "bad.json"
    bad.write_text(json.dumps({"format": "zealous-crane-brake", "key": "x"}))
    with pytest.raises(BrakeError, match="is missing"):
        read_brake(bad)
    bad.write_text("{")
    with pytest.raises(BrakeError, match="could not be read"):
        read_brake(bad)


def test_the_shops_own_folder_joins_the_rack(tmp_path, brake):
    (tmp_path / "a.json").write_text(
        brake.model_copy(update={"key": "own", "fingers": (Segment(width=INCH),)}).model_dump_json()
    )
    (tmp_path / "b.json").write_text("nonsense")
    rack, complaints = shop_rack(tmp_path)
    assert rack["own"].fingers[0].width == INCH
    assert len(complaints) == 1 and "b.json" in complaints[0]
    with pytest.raises(BrakeError, match="apiary-finger-50"):
        rack["no-such"]


@pytest.mark.parametrize("kind", NEW, ids=[str(kind.label) for kind in NEW])
@pytest.mark.parametrize("part_of_bed", [0.05, 0.3, 0.7, 0.95, 1.0])
@pytest.mark.parametrize("units", [Units.FRACTIONS, Units.MM])
def test_a_machine_that_is_begun_folds_over_its_whole_bed(kind, part_of_bed, units):
    brake = kind.begin(shipped_rack(), units)
    tree = Design(
        base=Base(length=brake.bed_length * part_of_bed, width=150),
        flanges=(Flange(edge="front", height=25),),
    )
    job = Job(
        part={"kind": "design", "tree": tree},
        metal="mild-steel",
        thickness="0.7 mm",
        units="mm",
        brake=brake.key,
    )
    plan = make_plan(job, brake)
    assert plan.feasible, plan.sentence


@pytest.mark.parametrize("kind", NEW, ids=[str(kind.label) for kind in NEW])
@pytest.mark.parametrize("units", [Units.FRACTIONS, Units.MM])
def test_a_machine_is_begun_in_figures_a_person_would_read_off_a_rule(kind, units):
    brake = kind.begin(shipped_rack(), units)
    for name, info in type(brake).model_fields.items():
        _, metadata, _ = unwrapped(info.annotation, list(info.metadata))
        value = getattr(brake, name)
        if is_length(metadata) and isinstance(value, float) and abs(value) >= 2 and name != "rated":
            assert "≈" not in show_length(value, units), name
            assert units.is_inch or round(value * 2) == pytest.approx(value * 2), name
