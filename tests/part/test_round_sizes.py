"""New parts begin in sizes somebody with that rule would choose."""

import pytest

from zealous_crane.brake.library import shipped_rack
from zealous_crane.demo import DEMOS, demo_work
from zealous_crane.part.kinds.box import HemmedTray, OpenBox
from zealous_crane.part.size import in_round_figures, sizes
from zealous_crane.part.template import PartTemplate
from zealous_crane.shop.settings import ShopSettings
from zealous_crane.ui.window.filing import begun
from zealous_crane.units.length import INCH, Units, round_figure, show_length


@pytest.mark.parametrize(
    ("length", "units", "round_"),
    [
        (15.0, Units.FRACTIONS, 9 / 16 * INCH),
        (40.0, Units.FRACTIONS, 1.625 * INCH),
        (8.5 * INCH, Units.FRACTIONS, 8.5 * INCH),
        (10.3125 * INCH, Units.FRACTIONS, 10.3125 * INCH),
        (12.7, Units.MM, 13.0),
        (3.175, Units.MM, 3.2),
        (216.0, Units.MM, 216.0),
        (215.9, Units.MM, 215.0),
        (0.0, Units.MM, 0.0),
        (-12.7, Units.MM, -13.0),
    ],
)
def test_a_length_in_round_figures(length, units, round_):
    assert round_figure(length, units) == pytest.approx(round_)
    # What is round already stays.
    assert round_figure(round_figure(length, units), units) == round_figure(length, units)


def test_the_defaults_of_a_metric_kind_are_no_metric_disguise_in_inches():
    tray = in_round_figures(HemmedTray(length=400, width=300, depth=40), Units.FRACTIONS)
    assert all("≈" not in show_length(size.value, Units.FRACTIONS) for size in sizes(tray))
    assert tray.tab == pytest.approx(9 / 16 * INCH) and tray.pitch == pytest.approx(1.625 * INCH)


def test_every_size_is_rounded_by_itself():
    box = in_round_figures(OpenBox(length=215.9, width=101.6, depth=25.4), Units.MM)
    assert (box.length, box.width, box.depth) == (215.0, 100.0, 25.0)


@pytest.mark.parametrize("units", ["in", "mm"])
@pytest.mark.parametrize("name", list(DEMOS))
def test_work_like_a_demonstration_begins_in_the_units_of_the_shop(name, units):
    work = begun(demo_work(name), ShopSettings(), shipped_rack(), {"units": units})
    followers = {fit.follower for fit in work.fits}
    for number, job in enumerate(work.parts):
        assert job.units.value == units
        if number in followers or work.fitting or not isinstance(job.part, PartTemplate):
            continue  # a size that follows is whatever its master leaves
        for size in sizes(job.part):
            shown = show_length(size.value, job.units)
            assert "≈" not in shown and len(shown.partition(".")[2]) <= 4, (size.title, shown)
