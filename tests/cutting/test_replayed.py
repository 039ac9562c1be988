"""The list of cuts replayed on rectangles, as a hand would that has nothing but the list: what
comes off is what was wanted."""

import itertools
import random

import pytest

from zealous_crane.cutting.guillotine import Nested
from zealous_crane.cutting.layout import lay_out, running_order
from zealous_crane.cutting.piece import CutError, Shear, Stock, WantedBlank
from zealous_crane.cutting.solve import plan_cutting

NEAR = 1e-3
"""mm."""


def random_cutting(seed, shears=(900, 1320, 1600, 3050), kinds=4, seconds=0.2):
    """A small work cut from sheets and now and then an off-cut, on some shear; None where the shear
    leaves none."""
    rng = random.Random(seed)
    stock = [Stock("sheet", 2440, 1220)]
    if rng.random() < 0.4:
        stock.append(
            Stock("piece", rng.randint(300, 2400), rng.randint(200, 1200), rng.randint(1, 2), True)
        )
    blanks = [
        WantedBlank(
            f"b{i}",
            rng.randint(60, 1500),
            rng.randint(60, 900),
            rng.randint(1, 6),
            rng.random() < 0.8,
        )
        for i in range(rng.randint(1, kinds))
    ]
    shear = Shear(rng.choice(shears), rng.choice([0.0, 0.0, 2.5]), 3.0)
    try:
        return plan_cutting(blanks, stock, shear, seconds=seconds)
    except CutError:
        return None


def replayed(sheet, kerf, tries=300):
    """What is left of a sheet after its cuts in order: sizes in mm. Each cut is made on a piece
    that a cut before it freed, that has an edge as long as the cut says and is wide enough. Which
    one, the list leaves to the eye: what was cut off for something else is rather left alone, and
    several are tried. None where none does."""
    rng = random.Random(0)
    for attempt in range(tries):
        pieces, good = [(sheet.stock.length, sheet.stock.width, -1, "")], True
        for number, cut in enumerate(sheet.cuts):
            for _ in range(cut.times):
                can = [
                    (k, across)
                    for k, (a, b, by, _) in enumerate(pieces)
                    if by == -1 or by in cut.after or sheet.cuts[by].what == cut.what
                    for along, across in ((a, b), (b, a))
                    if abs(along - cut.length) < NEAR and across > cut.gauge + NEAR
                ]
                if not can:
                    good = False
                    break
                likely = [pieces[k][3] == (cut.gives if cut.what == "trim" else "") for k, _ in can]
                if attempt == 0:
                    k, across = min(
                        zip(likely, can, strict=True),
                        key=lambda c: (not c[0], pieces[c[1][0]][0] * pieces[c[1][0]][1]),
                    )[1]
                else:
                    ((k, across),) = rng.choices(can, [9 if one else 1 for one in likely])
                pieces.pop(k)
                # What is trimmed off to make an edge true is waste; everything else stays on the
                # table.
                rest = across - cut.gauge - (0.0 if cut.what == "square" else kerf)
                if cut.what != "square":
                    pieces.append((cut.length, cut.gauge, number, cut.gives))
                if rest > NEAR:
                    pieces.append((cut.length, rest, number, ""))
            if not good:
                break
        if good and holds(pieces, sheet):
            return pieces
    return None


def holds(pieces, sheet):
    """True when every blank of a sheet is among the pieces."""
    left = [tuple(sorted(p[:2])) for p in pieces]
    for blank in sheet.placed:
        size = sorted((blank.length, blank.width))
        match = next(
            (p for p in left if abs(p[0] - size[0]) < NEAR and abs(p[1] - size[1]) < NEAR), None
        )
        if match is None:
            return False
        left.remove(match)
    return True


@pytest.mark.parametrize("block", range(4))
def test_the_list_of_cuts_gives_the_blanks(block):
    """Seeds 0 to 159: every sheet's cuts, replayed, give the pieces that are to lie on it, and all
    of them the work."""
    made = 0
    for seed in range(block, 160, 4):
        cutting = random_cutting(seed)
        if cutting is None:
            continue
        sheets = lay_out(cutting)
        for sheet in sheets:
            assert replayed(sheet, cutting.shear.kerf) is not None, (
                seed,
                sheet.stock.name,
                sheet.cuts,
            )
            made += 1
        for number, blank in enumerate(cutting.blanks):
            assert (
                sum(s.alike for s in sheets for p in s.placed if p.blank == number) >= blank.count
            ), seed
    assert made > 30


def test_nested_lists_give_the_blanks_too():
    """Works that rips and crosscuts cannot bring onto as few sheets."""
    nested = 0
    for seed in (8, 83, 122, 126, 132, 169, 171, 189):
        cutting = random_cutting(seed, shears=(3050,), kinds=6)
        if cutting is not None and any(isinstance(p, Nested) for p in cutting.sheets):
            assert all(
                replayed(sheet, cutting.shear.kerf, 2000) is not None for sheet in lay_out(cutting)
            ), seed
            nested += 1
    assert nested >= 2


@pytest.mark.parametrize("block", range(2))
def test_no_cut_is_longer_than_the_shear(block):
    """Seeds 0 to 199, shears shorter than the sheet and shorter than a strip is high."""
    made = 0
    for seed in range(100 * block, 100 * block + 100):
        cutting = random_cutting(seed, shears=(600, 1000, 1300, 1320))
        for sheet in lay_out(cutting) if cutting is not None else ():
            assert (
                max(cut.length for cut in sheet.cuts) <= cutting.shear.length + NEAR
                if sheet.cuts
                else True
            ), seed
            made += 1
    assert made > 60


def test_one_setting_serves_every_sheet_and_comes_after_what_frees_its_pieces():
    fewer = 0
    for seed in range(80):
        cutting = random_cutting(seed)
        if cutting is None:
            continue
        sheets = lay_out(cutting)
        order = running_order(sheets)
        made = set()
        for setting in order:
            for at in setting.cuts:
                number = sheets[at.sheet].cuts.index(at.cut)
                assert all((at.sheet, before) in made for before in at.cut.after), seed
                made.add((at.sheet, number))
                assert abs(at.cut.gauge - setting.gauge) < NEAR and at.cut.what == setting.what
        assert sum(one.times for one in order) == sum(
            cut.times * s.alike for s in sheets for cut in s.cuts
        )
        every = list(itertools.chain.from_iterable(s.cuts for s in sheets))
        # Never more than one after the other; and never fewer than there are different ones.
        assert len({(c.what, round(c.gauge, 4)) for c in every}) <= len(order) <= len(every)
        fewer += len(order) < len(every)
        if not any(isinstance(p, Nested) for p in cutting.sheets):
            assert len(order) == len({(c.what, round(c.gauge, 4), c.marked) for c in every}), seed
    assert fewer > 15


def test_among_as_few_sheets_the_fewest_settings():
    """Four pieces of one size on one sheet: one rip, one cut across, however prices would have them
    lie."""
    cutting = plan_cutting(
        [WantedBlank("tray", 500, 300, 4)], [Stock("sheet", 2000, 1000)], Shear(2500, 0.0, 0.0)
    )
    order = running_order(lay_out(cutting))
    assert cutting.bought == 1 and len(order) == 2
    largest = max(o.length * o.width for s in lay_out(cutting) for o in s.offcuts)
    assert largest >= 2000 * 1000 - 4 * 500 * 300 - 500 * 400, "and the rest in one piece"
