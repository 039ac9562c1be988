"""What hangs on the wall decides reliefs, notches and lips."""

import pytest

from zealous_crane.demo import demo_job
from zealous_crane.flat.development import develop
from zealous_crane.flat.marking import mark_out
from zealous_crane.job.job import Job
from zealous_crane.job.tools import SmallTools
from zealous_crane.metal.material import MATERIALS
from zealous_crane.metal.sheet import Sheet
from zealous_crane.part.kinds.box import OpenBox
from zealous_crane.planning.hand_finishing import hand_limit, lips, seamer_depth
from zealous_crane.units.length import INCH, Units


@pytest.mark.parametrize(
    ("size", "up", "down"),
    [(2.0, 3.0, 0.0), (3.0, 3.0, 3.0), (4.4, 8.0, 3.0), (8.5, 9.0, 8.0), (11.2, 12.0, 11.0)],
)
def test_the_wall_as_the_shop_has_it(size, up, down):
    wall = SmallTools(punches=(8.0, 3.0))
    assert wall.next_round(size, Units.MM) == up and wall.last_round(size, Units.MM) == down


def test_named_drills_are_the_only_ones():
    wall = SmallTools(punches=(3.0,), drills=(5.0, 10.0))
    assert (
        wall.next_round(3.2, Units.MM) == 5.0
        and wall.last_round(9.0, Units.MM) == 5.0
        and wall.last_round(40.0, Units.MM) == 10.0
    )
    assert (
        wall.has(5.0, Units.MM)
        and not wall.has(6.0, Units.MM)
        and wall.punched(3.0, Units.MM)
        and not wall.punched(5.0, Units.MM)
    )


def test_reliefs_take_what_is_on_the_wall():
    job = Job(
        part=OpenBox(length=200, width=120, depth=40),
        metal="mild-steel",
        thickness="1 mm",
        units="mm",
        radius=1.0,
    )
    usual = {r.size for r in develop(job).reliefs}
    mine = {
        r.size
        for r in develop(job.model_copy(update={"small_tools": SmallTools(punches=(9.5,))})).reliefs
    }
    assert mine == {9.5} and usual != mine


def test_a_notch_is_cut_with_what_cuts_it():
    thin, thick = (Sheet.read(MATERIALS["mild-steel"], t) for t in ("1 mm", "2 mm"))
    tools = SmallTools(snips=1.2, notcher=150.0, notcher_rated=1.6)
    assert "notcher" in tools.cuts_notches_with(thin, 60.0) and "snips" in tools.cuts_notches_with(
        thin, 160.0
    )
    assert "snips" in tools.cuts_notches_with(thin, None) and "nibbler" in tools.cuts_notches_with(
        thick, 60.0
    )
    stainless = Sheet.read(MATERIALS["stainless"], "1 mm")
    assert "nibbler" in tools.cuts_notches_with(stainless, None), (
        "1.2 mm of mild steel are 0.94 mm of stainless"
    )
    job = Job(
        part=OpenBox(length=200, width=120, depth=40),
        metal="mild-steel",
        thickness="1 mm",
        units="mm",
        small_tools=tools,
    )
    assert any("with the notcher" in step for step in mark_out(develop(job), Units.MM).steps)


def test_a_shop_without_a_seamer_turns_no_lip_with_one():
    job = demo_job("wax-melter-chimney")
    blank = develop(job)
    with_one = [i for i in range(len(blank.folds)) if seamer_depth(blank, i)]
    none = develop(job.model_copy(update={"small_tools": SmallTools(seamers=(), vise=0.0)}))
    assert (
        with_one
        and not any(seamer_depth(none, i) for i in range(len(none.folds)))
        and not lips(none)
    )


def test_the_vise_is_as_long_as_the_shop_says():
    job = Job(
        part=OpenBox(length=300, width=300, depth=40),
        metal="mild-steel",
        thickness="1.8 mm",
        units="mm",
    )
    short, long = (
        develop(job.model_copy(update={"small_tools": SmallTools(vise=v)})) for v in (200.0, 400.0)
    )
    assert hand_limit(short, 0) == 0.0 and hand_limit(long, 0) == 30.0


def test_sizes_are_kept_rising_and_once():
    assert SmallTools(punches=("1/4", "1/8", "1/8")).punches == pytest.approx(
        (0.125 * INCH, 0.25 * INCH)
    )
