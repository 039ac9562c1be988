"""What a plan says is true of it, in so many words; and what is said of a job that cannot be
read."""

from __future__ import annotations

import json
import random

import pytest
from pydantic import ValidationError
from typer.testing import CliRunner

from random_work import random_part
from shared_plans import plan_of
from zealous_crane.brake.leaf_brake import LeafBrake
from zealous_crane.brake.press_brake import PressBrake
from zealous_crane.cli.commands import app
from zealous_crane.demo import demo_job
from zealous_crane.flat.element import DevelopmentError
from zealous_crane.i18n import counted, the
from zealous_crane.io.job_file import JobFileError
from zealous_crane.io.plan_file import plan_record
from zealous_crane.job.job import Job, OrderWishes
from zealous_crane.kernel.solid import BodyKind
from zealous_crane.part.kinds.box import OpenBox
from zealous_crane.part.kinds.strip import Strip
from zealous_crane.planning.planner import make_plan
from zealous_crane.planning.remedies.registry import advise
from zealous_crane.planning.wording import listed
from zealous_crane.units.length import INCH


def too_deep(depth=3.5 * INCH) -> Job:
    return Job(
        name="deep",
        part=OpenBox(length=300, width=220, depth=depth),
        thickness="22 ga",
        brake="apiary-finger-50",
    )


def test_lists_and_counts_are_plain_english():
    assert (
        str(listed(["a"])) == "a"
        and str(listed(["a", "b"])) == "a and b"
        and str(listed(["a", "b", "c"])) == "a, b and c"
    )
    strokes = [counted("{count} stroke", "{count} strokes", n) for n in (1, 4)]
    assert strokes == ["1 stroke", "4 strokes"]


def test_a_corner_gap_left_to_the_rule_does_not_stop_the_advice(rack):
    job = too_deep()
    assert job.part.corner.gap is None
    plan = advise(make_plan(job, rack[job.brake]), rack)
    assert not plan.feasible and plan.cures
    for cure in plan.cures:
        brake = cure.brake or rack[cure.job.brake]
        assert make_plan(cure.job, brake).feasible, cure.says


def test_reasons_for_a_no_are_gathered_by_fold(rack):
    plan = plan_of(too_deep(5 * INCH), rack["apiary-finger-50"])
    *reasons, last = plan.reasons
    assert len(set(reasons)) == len(reasons) and last.endswith("was tried.")
    for reason in reasons:
        held, _, why = reason.partition(": ")
        assert why.endswith(".") and ("clamped" in held)
    # The same fold is not said twice to meet the same thing.
    said = [(reason.split(",")[0], reason.partition(": ")[2]) for reason in reasons]
    assert len(set(said)) == len(said)


@pytest.mark.parametrize("seed", [0, 2, 3, 4, 7, 8, 9, 10, 11, 12, 13])
def test_the_panels_that_are_named_are_where_they_are_said_to_be(seed, rack):
    """A mirrored stroke serves the search; what is said is said of the stroke itself."""
    rng = random.Random(7_000 + seed)
    job = random_part(rng)
    try:
        plan = make_plan(job, rack["bench-finger-1000"])
    except DevelopmentError:
        pytest.skip("this one does not develop")
    angles = None
    for stroke in plan.strokes:
        setting = stroke.verdict.stroke.setting
        if angles is not None:
            assert setting.angles == pytest.approx(angles), (
                "each stroke is judged with the part as the one before left it"
            )
        angles = setting.after(stroke.verdict.stands)
    if plan.stuck is not None:
        setting, limit = plan.stuck.verdict.stroke.setting, plan.stuck.verdict.limit
        assert f"{the(setting.name)} cannot be folded" in plan.sentence
        bodies = {solid.body for group in setting.solids for solid in group}
        own = (BodyKind.FOLD, BodyKind.PART, BodyKind.LEAF, BodyKind.PUNCH, BodyKind.V)
        assert limit is None or limit.obstacle.body in bodies or limit.obstacle.body.kind in own
    for step in plan.hand:
        assert step.after in range(len(plan.strokes) + 1)
    record = json.loads(json.dumps(plan_record(plan)))
    assert (
        len(record["strokes"]) == len(plan.strokes) and record["verdict"]["says"] == plan.sentence
    )


def test_hand_work_comes_after_the_last_bend(rack):
    job = demo_job("inspection-tray")
    plan = plan_of(job, rack[job.brake])
    finished = [step for step in plan.hand if "more" in step.says]
    assert len(finished) == 2 and all(step.after == len(plan.strokes) for step in finished)
    assert "the last 2 walls up to" in plan.sentence


def test_the_command_line_says_what_is_bent_over_and_what_contradicts_itself(tmp_path):
    strip = Strip(legs=(39, 26, 32, 24), angles=(-90, -90, 45), length=100, measured="inside")
    job = Job(
        name="strip",
        part=strip,
        metal="mild-steel",
        thickness="0.8 mm",
        units="mm",
        brake="bench-finger-1000",
    )
    path, run = tmp_path / "strip.json", CliRunner()
    path.write_text(job.model_dump_json())
    result = run.invoke(app, ["plan", str(path)])
    assert result.exit_code == 0 and "1 wall bent 10° too far, to open by hand" in result.output
    assert result.output.index("Bend 3") < result.output.index("10° back")
    before = OrderWishes(before=(("leg 4", "leg 2"), ("leg 2", "leg 4")))
    path.write_text(job.model_copy(update={"order": before}).model_dump_json())
    result = run.invoke(app, ["plan", str(path)])
    assert "contradict each other: leg 4 before leg 2" in result.output
    path.write_text(job.model_dump_json().replace('"avoid":[]', '"avoid":["rain"]'))
    result = run.invoke(app, ["plan", str(path)])
    assert result.exit_code != 0 and isinstance(result.exception, JobFileError)
    assert "order.avoid.0" in str(result.exception) and "'bed-end'" in str(result.exception)


@pytest.mark.parametrize(
    ("kind", "field"),
    [
        (LeafBrake, "throat"),
        (LeafBrake, "side_clearance"),
        (LeafBrake, "extra_setback"),
        (PressBrake, "largest_gap"),
        (PressBrake, "unsupported_end"),
    ],
)
def test_what_must_not_be_negative_is_refused_and_nothing_is_allowed(kind, field, rack):
    brake = next(b for b in rack.brakes if isinstance(b, kind))
    with pytest.raises(ValidationError, match="must not be negative"):
        kind.model_validate({**brake.model_dump(), field: -0.1})
    assert getattr(kind.model_validate({**brake.model_dump(), field: 0.0}), field) == 0.0
