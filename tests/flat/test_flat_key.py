"""One flat for all jobs that are alike in what it depends on."""

import pytest

from zealous_crane.demo import DEMOS, demo_work
from zealous_crane.flat.development import develop
from zealous_crane.flat.panel_tree import TOLD_APART, flat_key
from zealous_crane.job.job import Job


@pytest.mark.parametrize("name", DEMOS)
def test_no_flat_asks_for_what_its_key_leaves_out(name, monkeypatch):
    jobs = [
        job.model_copy(update={"radius": job.inside_radius + 1e-7}) for job in demo_work(name).parts
    ]
    plainly = Job.__getattribute__
    asked = set()

    def told(self, field):
        asked.add(field)
        return plainly(self, field)

    monkeypatch.setattr(Job, "__getattribute__", told)
    for job in jobs:
        assert develop(job).findings is not None
    assert {"part", "metal", "units", "radius"} <= asked
    assert not asked & TOLD_APART


def test_what_lies_on_the_metal_and_where_lines_are_struck_from_leave_the_flat_alone():
    job = demo_work("syrup-tray").parts[0]
    assert {"film", "strike_from", "grain", "bottomed"} <= TOLD_APART
    other = job.model_copy(
        update={"film": "inside", "strike_from": "left front", "grain": "along", "bottomed": True}
    )
    assert flat_key(other) == flat_key(job)
    assert flat_key(job.model_copy(update={"ruler": "1/16 in"})) != flat_key(job), (
        "notch lines are put on the ticks of a rule"
    )
