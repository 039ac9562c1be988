"""What is typed in millimetres and its twin in inches are the same part, the same strip and the
same cut."""

import pytest

from zealous_crane.brake.library import shipped_rack
from zealous_crane.cutting.piece import CutFrom
from zealous_crane.demo import DEMOS, demo_job, demo_work
from zealous_crane.flat.development import develop
from zealous_crane.flat.marking import mark_out
from zealous_crane.job.job import Job
from zealous_crane.part.kinds import KINDS
from zealous_crane.schema.model import is_length, unwrapped
from zealous_crane.shop.test_strip import coupon_job
from zealous_crane.units.length import INCH, Units

LENGTHS = {
    kind: tuple(
        name
        for name, info in kind.model_fields.items()
        if is_length(unwrapped(info.annotation, list(info.metadata))[1])
    )
    for kind in KINDS
}


def in_inches(job):
    """The same job with every length of its part typed in inches."""
    data = job.model_dump(mode="json")
    kind = type(job.part)
    for name in LENGTHS.get(kind, ()):
        value = data["part"][name]
        if isinstance(value, float):
            data["part"][name] = f"{value / INCH!r} in"
    return Job.model_validate(data)


@pytest.mark.parametrize("name", DEMOS)
def test_a_part_typed_in_inches_is_the_part_typed_in_millimetres(name):
    for job in demo_work(name).parts:
        # Gaps and reliefs are round in the job's units, so both are laid out in the same ones.
        one, other = develop(job), develop(in_inches(job))
        assert other.size == pytest.approx(one.size, abs=1e-6) and other.area == pytest.approx(
            one.area, abs=1e-3
        )
        settings = [
            [s.setting for s in mark_out(blank, job.units).scribe] for blank in (one, other)
        ]
        assert settings[1] == pytest.approx(settings[0], abs=1e-6)


@pytest.mark.parametrize(
    "name", ["syrup-tray", "frame-rail", "hive-stand-angle", "entrance-channel"]
)
def test_a_test_strip_is_as_large_in_either_unit(name):
    """Round in its units, and so within a sixteenth or two millimetres of its twin: never twice as
    wide."""
    job = demo_job(name)
    brake = shipped_rack()[job.brake]
    strips = [
        coupon_job(job.model_copy(update={"units": units}), brake).part
        for units in (Units.MM, Units.FRACTIONS)
    ]
    for size in ("first", "second", "length"):
        metric, inch = (getattr(strip, size) for strip in strips)
        assert inch == pytest.approx(metric, rel=0.1), size


def test_squaring_is_a_round_size_of_either_unit():
    usual = CutFrom()
    assert usual.told_in(Units.MM).squaring == 3.0 and usual.told_in(
        Units.FRACTIONS
    ).squaring == pytest.approx(INCH / 8)
    own = CutFrom(squaring=5.0)
    assert own.told_in(Units.MM).squaring == own.told_in(Units.FRACTIONS).squaring == 5.0
