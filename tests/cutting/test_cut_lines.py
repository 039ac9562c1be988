"""Where the cuts run on the sheet: through no blank, and along every side of every blank that is
not a side of the sheet."""

import random

import pytest
import shapely

from zealous_crane.cutting.layout import lay_out, running_order
from zealous_crane.cutting.piece import Shear, Stock, WantedBlank
from zealous_crane.cutting.solve import plan_cutting
from zealous_crane.cutting.summary import MetalSummary, lines_on


def cut_at_random(seed):
    rng = random.Random(seed)
    blanks = tuple(
        WantedBlank(f"part {k}", rng.randint(80, 700), rng.randint(60, 400), rng.randint(1, 9))
        for k in range(rng.randint(1, 5))
    )
    stock = [Stock("sheet", 2440.0, 1220.0)]
    shear = Shear(length=3000, squaring=rng.choice((0.0, 3.0)), kerf=rng.choice((0.0, 2.0)))
    return plan_cutting(blanks, stock, shear, seconds=0.05), shear


@pytest.mark.parametrize("seed", range(40))
def test_cuts_run_round_every_blank_and_through_none(seed):
    cutting, shear = cut_at_random(seed)
    for sheet in lay_out(cutting):
        lines = [
            shapely.LineString([(a, b), (c, d)]) for cut in sheet.cuts for a, b, c, d in cut.lines
        ]
        assert [len(cut.lines) for cut in sheet.cuts] == [cut.times for cut in sheet.cuts]
        along = shapely.union_all(lines).buffer(shear.kerf + 0.01, cap_style="square")
        frame = shapely.box(0, 0, sheet.stock.length, sheet.stock.width).exterior.buffer(
            2 * shear.squaring + 0.01
        )
        for place in sheet.placed:
            blank = shapely.box(place.x, place.y, place.x + place.length, place.y + place.width)
            inner = blank.buffer(-0.05)
            assert not any(line.intersects(inner) for line in lines), (seed, place)
            bare = blank.exterior.difference(along.union(frame))
            assert bare.length < 0.1, (seed, place, bare.wkt)


@pytest.mark.parametrize("seed", range(10))
def test_every_cut_of_a_setting_is_on_the_sheet_it_names(seed):
    cutting, _ = cut_at_random(seed)
    sheets = lay_out(cutting)
    for setting in running_order(sheets):
        for at in setting.cuts:
            assert at.times == len(at.cut.lines) * sheets[at.sheet].alike
            for a, b, c, d in at.cut.lines:
                assert abs((c - a) + (d - b) - at.cut.length) < 10 or setting.what == "square"


@pytest.mark.parametrize("seed", range(12))
def test_a_sheet_shows_its_own_cuts_and_no_others(seed):
    cutting, _ = cut_at_random(seed)
    one = MetalSummary(None, "", lay_out(cutting))
    for number, sheet in enumerate(one.sheets):
        shown = sorted(line for lines in lines_on(one, number).values() for line in lines)
        assert shown == sorted(line for cut in sheet.cuts for line in cut.lines)
        for setting, lines in lines_on(one, number).items():
            own = [at for at in one.settings[setting - 1].cuts if at.sheet == number]
            assert len(lines) == sum(at.cut.times for at in own)
