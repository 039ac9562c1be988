"""Set-ups of press and bench, and what packs a line, by hand."""

import numpy as np
import pytest

from zealous_crane.bending.hand.machine import HandFolding
from zealous_crane.bending.press.machine import PressBending
from zealous_crane.bending.tooling import NONE, Packing, Tooling, packing_text
from zealous_crane.brake.library import shipped_rack
from zealous_crane.flat.on_brake import flat_for
from zealous_crane.job.job import Job
from zealous_crane.part.kinds.strip import Strip
from zealous_crane.units.length import Units

RACK = shipped_rack()


def angle(thickness, brake):
    job = Job(
        part=Strip(length=200, legs=(40, 60), angles=(90,)), thickness=thickness, brake=brake.key,
        metal="mild-steel", units="mm",
    )  # fmt: skip
    return flat_for(job, brake)


def test_a_press_sets_up_only_dies_that_suit_the_sheet():
    brake = RACK["honey-press-2000"]
    for thickness in ("1 mm", "3 mm"):
        blank = angle(thickness, brake)
        toolings = PressBending().toolings(brake, blank, bottomed=False)
        assert toolings and all(isinstance(t, Tooling) for t in toolings)
        for tooling in toolings:
            share = tooling.die.opening / blank.thickness
            # Common practice, no source: a V of five to sixteen thicknesses.
            assert 5 <= share <= 16, (thickness, tooling.die.name)
            assert tooling.die in brake.dies and tooling.punch.name in {
                punch.name for punch in brake.punches
            }


def test_a_bench_has_one_set_up_and_refuses_what_a_hand_cannot_lift():
    brake = RACK["bench-bars-600"]
    (only,) = HandFolding().toolings(brake, angle("0.5 mm", brake), bottomed=False)
    assert only.brake == brake and only.greatest_angle == brake.greatest_angle
    assert not only.stands_beside(only)
    assert HandFolding().refused(angle("0.5 mm", brake), brake, Units.MM) is None
    assert HandFolding().refused(angle("2 mm", brake), brake, Units.MM) is not None


@pytest.mark.parametrize(
    ("under", "said"),
    [(("front hem",), "front hem lies"), (("front hem", "tab"), "front hem and the tab lie")],
)
def test_a_strip_is_said_with_what_it_makes_up_for(under, said):
    text = packing_text(Packing(1.2, False, under), Units.MM)
    assert "1.2 mm thick" in text and said in text
    assert not NONE.thickness and np.isclose(Packing(1.2).thickness, 1.2)
