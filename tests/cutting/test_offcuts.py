"""Off-cuts belong to the proof: what is said to be impossible is set against every way to share the
pieces among off-cuts and sheets."""

from __future__ import annotations

import random
from functools import cache

import pytest

from zealous_crane.cutting.piece import CutError, Shear, Stock, WantedBlank
from zealous_crane.cutting.piece_in_hand import in_hand
from zealous_crane.cutting.solve import plan_cutting
from zealous_crane.job.job import Job
from zealous_crane.part.kinds.strip import Plate


def boxes(pieces):
    """For every group of pieces, as a bit mask, the rectangles it can be cut from by cuts from edge
    to edge, turned either way."""
    found = {}
    for group in range(1, 1 << len(pieces)):
        if group & (group - 1) == 0:
            a, b = pieces[group.bit_length() - 1]
            found[group] = {(a, b), (b, a)}
            continue
        sizes = set()
        part = (group - 1) & group
        while part:
            for a, b in found[part]:
                for c, d in found[group ^ part]:
                    sizes.add((a + c, max(b, d)))
                    sizes.add((max(a, c), b + d))
            part = (part - 1) & group
        found[group] = {
            s for s in sizes if not any(o != s and o[0] <= s[0] and o[1] <= s[1] for o in sizes)
        }
    return found


def fewest_sheets(pieces, sheet, offcuts):
    """Fewest whole sheets over every way to share the pieces out; by trying all of them."""
    every = boxes(pieces)

    def holds(room, group):
        return group == 0 or any(
            a <= room[0] + 1e-9 and b <= room[1] + 1e-9 for a, b in every[group]
        )

    def parts(group):
        part = group
        while True:
            yield part
            if not part:
                return
            part = (part - 1) & group

    @cache
    def sheets(group):
        if not group:
            return 0
        lowest = group & -group
        return 1 + min(
            (sheets(group ^ p) for p in parts(group) if p & lowest and holds(sheet, p)), default=99
        )

    @cache
    def rest(group, number):
        if number == len(offcuts):
            return sheets(group)
        return min(rest(group ^ p, number + 1) for p in parts(group) if holds(offcuts[number], p))

    return rest((1 << len(pieces)) - 1, 0)


@pytest.mark.parametrize("block", range(6))
def test_no_claim_is_false_where_there_are_off_cuts(block):
    """Fifty small works a block: sheets are never fewer than can be, a claim that fewer is
    impossible holds, and most are the fewest."""
    best = claims = 0
    for seed in range(50):
        rng = random.Random(1_000 * block + seed)
        sheet = (1000, 1000) if rng.random() < 0.5 else (1200, 700)
        pieces = []
        for _ in range(rng.randint(1, 3)):
            size = rng.randint(15, 65) * 10, rng.randint(15, 65) * 10
            pieces += [size] * rng.randint(1, 3)
        pieces = pieces[:6]
        offcuts = [
            (rng.randint(25, 70) * 10, rng.randint(25, 70) * 10) for _ in range(rng.randint(1, 2))
        ]
        blanks = [
            WantedBlank(f"{i}", *map(float, size), pieces.count(size))
            for i, size in enumerate(dict.fromkeys(pieces))
        ]
        stock = [Stock("sheet", *map(float, sheet))]
        stock += [
            Stock(f"off-cut {i}", *map(float, size), 1, True) for i, size in enumerate(offcuts)
        ]
        found = plan_cutting(blanks, stock, Shear(length=3000, squaring=0, keep=50), seconds=0.05)
        truth = fewest_sheets(tuple(pieces), sheet, tuple(offcuts))
        assert found.bought >= truth, (seed, pieces, offcuts)
        said = str(found.message())
        if "the minimum" in said:
            claims += 1
            assert found.bought == truth, (seed, said, pieces, offcuts)
        best += found.bought == truth
    assert best >= 47 and claims >= 15, (best, claims)


def test_the_off_cut_takes_the_large_piece_where_that_saves_a_sheet():
    blanks = [WantedBlank("A", 600.0, 600.0, 2), WantedBlank("B", 305.0, 305.0, 4)]
    stock = [Stock("sheet", 1000.0, 1000.0), Stock("off-cut", 620.0, 620.0, 1, True)]
    found = plan_cutting(blanks, stock, Shear(length=2000, squaring=0))
    assert found.bought == 1 and "the minimum" in str(found.message())


@pytest.mark.parametrize("seed", range(20))
def test_a_piece_in_hand_gives_as_many_as_a_work_is_cut_from_it(seed):
    """The count told of a piece is the greatest a cutting plan of that piece holds."""
    rng = random.Random(seed)
    a, b, length, width = (
        rng.randint(4, 14) * 25,
        rng.randint(4, 14) * 25,
        rng.randint(20, 60) * 40,
        rng.randint(20, 40) * 40,
    )
    plate = Job(part=Plate(length=a, width=b), metal="mild-steel", thickness="1 mm", units="mm")
    count = in_hand(plate, None, length, width, Shear()).count

    def goes(number):
        try:
            plan_cutting(
                [WantedBlank("x", a, b, number)],
                [Stock("s", length, width, 1)],
                Shear(squaring=0),
                seconds=0.2,
            )
        except CutError:
            return False
        return True

    assert not count or goes(count)
    assert not goes(count + 1)
