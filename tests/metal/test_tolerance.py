"""Tolerances where a drawing says nothing. ISO 2768-1 class m and EN 10143, from memory."""

import pytest

from zealous_crane.metal.material import MATERIALS
from zealous_crane.metal.sheet import Sheet
from zealous_crane.metal.tolerance import (
    COPPER,
    LEAST_FOLDED,
    SIXTY_FOURTH,
    Rolled,
    general_tolerance,
    rolled,
    sheet_tolerance,
)


@pytest.mark.parametrize(
    ("size", "off"), [(30.0, 0.25), (30.1, 0.3), (120.0, 0.3), (400.0, 0.5), (401.0, 0.8)]
)
def test_a_size_takes_the_step_it_falls_in(size, off):
    assert general_tolerance(size, "m", inch=False) == off
    assert general_tolerance(-size, "m", inch=False) == off


def test_no_fold_is_held_to_less_than_a_rule_reads():
    assert general_tolerance(5.0, "f", inch=False) == LEAST_FOLDED
    assert general_tolerance(5.0, "f", inch=True) == SIXTY_FOURTH
    assert general_tolerance(9000.0, "v", inch=False) == 8.0


def test_a_thickness_takes_its_own_standard_and_beyond_the_table_a_share():
    galvanized = Sheet(MATERIALS["galvanized"], 0.7, "0.7 mm")
    assert sheet_tolerance(galvanized) == (0.05, "EN 10143")
    assert rolled(Sheet(MATERIALS["copper"], 0.7, "0.7 mm")) is COPPER
    table = Rolled("own", (1.0, 2.0), (0.1, 0.2))
    assert [table.of(t) for t in (1.0, 1.5, 2.0, 4.0)] == [0.1, 0.2, 0.2, pytest.approx(0.4)]
