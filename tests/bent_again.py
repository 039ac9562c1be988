"""Plans bent again in solids."""

from __future__ import annotations

import random

from random_across import random_across
from rebuilt import StrokeAgain
from zealous_crane.io.plan_file import plan_record
from zealous_crane.planning.planner import make_plan

SHARES = (0.02, 0.2, 0.4, 0.6, 0.8, 0.95, 1.0)


def bent_again(plan):
    """Strokes of a plan in solids: how many, and a sentence for each that crushes something or
    whose figures are off."""
    written, wrong = plan_record(plan), []
    for stroke in written["strokes"]:
        again = StrokeAgain(written["blank"], written["brake"], stroke)
        begin, reach, figures = stroke["start"], stroke["reach"], stroke["set_up"]
        for share in SHARES:
            found = again.crushed(begin + (reach - begin) * share)
            if found:
                wrong.append(f"{stroke['name']} at {share:g} of {reach:.1f}°: {found[0]}")
                break
        gauge = figures["gauge"]
        # An edge counts as level within 0.02 mm; a bent strip is held in chords that leave its arc
        # by 0.03 mm at most.
        part_way = (
            0.1 * stroke["kept_clearance"] if stands_part_way(written["blank"], stroke) else 0.0
        )
        if (
            gauge is not None
            and abs(gauge["distance"] - again.stop_distance())
            > (0.032 if gauge["bent"] else 0.021) + part_way
        ):
            wrong.append(
                f"{stroke['name']}: stop {gauge['distance']:.3f}, measured "
                f"{again.stop_distance():.3f}"
            )
        # On the way to its angle a bend may be a little sharper or rounder than either account of
        # it; at its angle both agree.
        part_way = (
            0.1 * stroke["kept_clearance"]
            if reach < abs(written["blank"]["folds"][stroke["fold"]]["angle"])
            else 0.0
        )
        if (
            again.press
            and abs(figures["punch_travel"] - again.travel_until_touch(reach)) > 0.02 + part_way
        ):
            wrong.append(
                f"{stroke['name']}: travel {figures['punch_travel']:.3f}, lowered "
                f"{again.travel_until_touch(reach):.3f}"
            )
    return len(written["strokes"]), wrong


def stands_part_way(blank, stroke):
    """True when a fold stands at an angle that is not its own: there both accounts of it differ a
    little."""
    folds = zip(blank["folds"], stroke["angles_before"], strict=True)
    return any(0 < abs(angle) < abs(fold["angle"]) - 1e-6 for fold, angle in folds)


def random_plans(seeds, kind):
    strokes, wrong, refused = 0, [], 0
    for seed in seeds:
        job, brake = random_across(random.Random(seed), kind)
        plan = make_plan(job, brake, limit=60)
        count, found = bent_again(plan)
        strokes, refused = strokes + count, refused + (count == 0)
        wrong += [f"seed {seed}: {line}" for line in found]
    return strokes, refused, wrong
