"""Every reported contact angle against manifold3d, an independent boolean kernel."""

from __future__ import annotations

import random

import pytest

from random_press import random_press_stroke
from random_work import random_job, random_kind_stroke, random_stroke, record
from shared_plans import plan_of
from solids import Rebuilt
from zealous_crane.brake.library import shipped_rack
from zealous_crane.demo import DEMOS, demo_work
from zealous_crane.flat.development import develop
from zealous_crane.flat.element import DevelopmentError
from zealous_crane.flat.folding import fold_pose
from zealous_crane.io.plan_file import plan_record
from zealous_crane.kernel.solid import BodyKind

BLOCKS, BLOCK = 16, 25
"""400 seeded cases, in blocks so that a failure names its seed quickly."""

NEAR = 0.05
"""mm to which contact is checked."""


@pytest.mark.solid
@pytest.mark.parametrize("block", range(BLOCKS))
def test_nothing_overlaps_below_and_something_does_above(block):
    touched, _, flush = compared(random_stroke, range(block * BLOCK, (block + 1) * BLOCK))
    assert touched >= BLOCK // 2 and flush


@pytest.mark.solid
@pytest.mark.parametrize("block", range(16))
def test_strokes_of_a_press(block):
    touched, _grouped, _ = compared(random_press_stroke, range(block * 25, (block + 1) * 25))
    assert touched >= 2


@pytest.mark.solid
@pytest.mark.parametrize("block", range(8))
def test_ready_kinds_with_hems_and_folds_on_one_line(block):
    touched, grouped, flush = compared(random_kind_stroke, range(block * 30, (block + 1) * 30))
    assert touched >= 10 and grouped and flush


@pytest.mark.solid
@pytest.mark.parametrize("seed", [1230, 1313, 1441, 1855, 2098, 2371])
def test_ready_kinds_on_which_engine_and_solids_once_differed(seed):
    # A strip that ends where the leaf begins; a part begun that the leaf takes along.
    compared(random_kind_stroke, [seed])


def compared(make, seeds):
    """Compare strokes with the solids; how many touched something, made several folds, had strips
    lying on the leaf."""
    touched = grouped = flush = 0
    for seed in seeds:
        blank, job, stroke, fingers = make(random.Random(seed))
        grouped += len(stroke.setting.folds) > 1
        flush += bool(stroke.setting.flush)
        rebuilt = Rebuilt(*record(blank, job, stroke, fingers))
        begun, greatest = stroke.setting.start, stroke.greatest
        if rebuilt.strikes(begun, -NEAR):
            # Stands in a tool from the start: the engine must not let it be clamped with fingers
            # there.
            blocked = stroke.barred(0) is not None or any(
                s.blocked is not None and s.low < f[1] and s.high > f[0]
                for s in stroke.slabs(0, 1.0)
                for f in fingers
            )
            contact = stroke.contact(fingers)
            assert blocked or (contact is not None and contact.angle < begun + 0.5), seed
            continue
        contact = stroke.contact(fingers)
        end = greatest if contact is None else contact.angle
        for share in (0.2, 0.5, 0.8, 0.95, 1.0):
            below = begun + (end - 0.1 - begun) * share
            assert below <= begun or not rebuilt.strikes(below, -NEAR), (seed, below, contact)
        if contact is not None and end + 0.1 < greatest:
            # A corner may graze and leave again, so a little past the angle is looked at more than
            # once. A bent strip is held in chords, which may meet what its arc only just passes.
            near = 4 * NEAR if contact.obstacle.body.kind is BodyKind.STRIP else NEAR
            assert any(rebuilt.strikes(end + past, near) for past in (0.1, 0.05, 0.02)), (
                seed,
                contact,
            )
            touched += 1
    return touched, grouped, flush


@pytest.mark.solid
@pytest.mark.parametrize("name", DEMOS)
def test_every_stroke_of_the_demonstration_plans(name):
    """The plan record alone, rebuilt in solids: sliding in, clamping, the whole swing, opening,
    taking out."""
    if name in UNJUDGED:
        assert not any(
            plan_of(part, shipped_rack()[part.brake]).feasible for part in demo_work(name).parts
        )
        return
    plans = [
        plan_record(plan_of(part, shipped_rack()[part.brake])) for part in demo_work(name).parts
    ]
    assert any(plan["strokes"] for plan in plans)
    for plan in plans:
        check_strokes(plan)


UNJUDGED = ("entrance-channel",)
"""Demonstrations without a plan on their brake: refused, or with nothing for it."""


def check_strokes(plan):
    """Every stroke of a plan record in solids."""
    for stroke in plan["strokes"]:
        rebuilt = Rebuilt(plan["blank"], stroke)
        start, reach = stroke["start"], stroke["reach"]
        for share in (0, 0.1, 0.3, 0.5, 0.7, 0.9, 1.0):
            assert not rebuilt.strikes(start + (reach - start) * share, -0.005), (
                stroke["name"],
                share,
            )
        if (
            stroke["contact"] is not None
            and stroke["contact"]["angle"] + 0.1 < stroke["greatest_angle"]
        ):
            assert any(
                rebuilt.strikes(stroke["contact"]["angle"] + past, NEAR)
                for past in (0.1, 0.05, 0.02)
            )
        if stroke["machine"] == "press":
            assert not rebuilt.press_passes(start, stroke["way"]), stroke["name"]
            assert not rebuilt.press_passes(stroke["released"], stroke["way"]), stroke["name"]
            continue
        lift = stroke["opening"]
        for share in (0.1, 0.5, 1.0):
            assert not rebuilt.opened(0.0, lift * share).strikes(start, -0.005)
        # Slid along the bed, what is in the way anywhere is in the way here: tools keep their
        # section.
        ease = stroke["drawn_forward"]
        for share in (0.1, 0.5, 1.0):
            eased = rebuilt.opened(ease, lift * share)
            assert not eased.strikes(stroke["released"], -0.005), stroke["name"]
        for away in (ease + 5, ease + 50, ease + 200, 900) if stroke["way"] == "front" else ():
            # The part slides out to the front; as the part sees it, the tools go to the back.
            slid = rebuilt.opened(away, lift)
            assert not slid.strikes(stroke["released"], -0.005), (stroke["name"], away)


def test_folding_agrees_with_the_solids_own_kinematics():
    """Two derivations of the same fold: the program's pole and the fixed point of the finished
    pose."""
    import numpy as np

    from solids import fold_motion
    from zealous_crane.io.plan_file import blank_record

    checked = 0
    for seed in range(60):
        job = random_job(random.Random(seed))
        try:
            blank = develop(job)
        except DevelopmentError:
            continue
        for fold, written in zip(blank.folds, blank_record(blank, job)["folds"], strict=True):
            for share in (0.3, 1.0):
                pose = fold_pose(fold, fold.angle * share, blank.thickness)
                other = fold_motion(written, fold.angle * share, blank.thickness)
                assert np.allclose(pose.turn, other[:, :3], atol=1e-9) and np.allclose(
                    pose.shift, other[:, 3], atol=1e-5
                )
                checked += 1
    assert checked > 100
