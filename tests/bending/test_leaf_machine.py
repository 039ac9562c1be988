"""What a leaf brake is set up with and asks of a sheet, by hand."""

import pytest

from zealous_crane.bending.leaf.machine import LeafFolding
from zealous_crane.brake.library import shipped_rack
from zealous_crane.flat.on_brake import flat_for
from zealous_crane.job.job import Job
from zealous_crane.metal.material import MATERIALS
from zealous_crane.metal.sheet import Sheet
from zealous_crane.part.kinds.box import OpenBox
from zealous_crane.units.length import Units

MACHINE, BRAKE = LeafFolding(), shipped_rack()["apiary-finger-50"]


def blank(thickness):
    job = Job(part=OpenBox(length=200, width=120, depth=40), thickness=thickness)
    return flat_for(job, BRAKE)


def test_set_ups_are_those_that_bear_the_sheet_the_plainest_first():
    thin, thick = (MACHINE.toolings(BRAKE, blank(t), bottomed=False) for t in ("28 ga", "18 ga"))
    assert not thin[0].unusual and thin[0].brake == BRAKE
    assert any(t.sprung for t in thin) and not any(t.sprung for t in thick)
    assert MACHINE.plain(thin) == [t for t in thin if not t.bare and not t.end and not t.sprung]


def test_the_least_flange_is_three_thicknesses_beyond_the_bend():
    sheet = Sheet(MATERIALS["galvanized"], 0.8, "0.8 mm")
    flange, *_ = MACHINE.least_sizes(BRAKE, sheet)
    # Folded sharp on the line: the outside setback is the thickness.
    assert flange.size == pytest.approx(0.8 + 3 * 0.8)


def test_too_thick_a_sheet_is_refused_and_an_empty_rack_too():
    assert MACHINE.refused(blank("22 ga"), BRAKE, Units.MM) is None
    assert MACHINE.refused(blank("10 ga"), BRAKE, Units.MM) is not None
    empty = BRAKE.model_copy(update={"fingers": ()})
    assert MACHINE.refused(blank("22 ga"), empty, Units.MM) is not None
