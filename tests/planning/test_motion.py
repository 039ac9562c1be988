"""The film of a job: nothing jumps, nothing is crushed on the way in and out, and what is done is
what the cards say."""

import itertools
import math

import manifold3d as m3
import numpy as np
import pytest

from shared_plans import plan_of
from solids import extruded, resized
from zealous_crane.bending.drawing import OutlineKind
from zealous_crane.brake.library import shipped_rack
from zealous_crane.demo import demo_work
from zealous_crane.kernel.obstacle import Way
from zealous_crane.kernel.plane import turned
from zealous_crane.planning.motion import Handling, JobMotion, clamped, corners_of

JOBS = [
    ("syrup-tray", 0),
    ("nucleus-roof", 0),
    ("comb-box", 0),
    ("frame-rail", 0),
    ("wax-melter-chimney", 0),
    ("extractor-guard", 0),
    ("hive-scale", 0),
]
"""Hems, a press, what is lifted over the bed, what is slid out at the end, changes of tools."""


@pytest.fixture(scope="module", params=JOBS, ids=lambda job: job[0])
def plan(request):
    key, part = request.param
    job = demo_work(key).parts[part]
    return plan_of(job, shipped_rack()[job.brake])


def part_at(moment):
    """Corners of the panels where they are, panel by panel."""
    setting = moment.stroke.verdict.stroke.setting
    numbers = [
        np.repeat(solid.panel, len(solid.corners)) for group in setting.solids for solid in group
    ]
    corners = moment.at.apply(corners_of(moment.stroke, moment.degrees))
    every = np.column_stack([np.concatenate(numbers), corners])
    every = every[every[:, 0] >= 0]
    return every[np.argsort(every[:, 0], kind="stable")][:, 1:]


def test_nothing_jumps(plan):
    spans = JobMotion(plan).spans
    for before, after in itertools.pairwise(spans):
        one, other = before.end, after.begin
        if one.stroke is other.stroke:
            assert part_at(one) == pytest.approx(part_at(other), abs=0.01)
            assert one.raised == pytest.approx(other.raised)
        else:
            # In the next frame the same part lies elsewhere along the brake, or turned to it.
            assert part_at(one) == pytest.approx(part_at(other), abs=0.05)
        for share in (0.0, 1.0):
            end = after.begin if share == 0.0 else after.end
            assert after.moment(share).at.turn == pytest.approx(end.at.turn, abs=1e-9)
            assert after.moment(share).at.shift == pytest.approx(end.at.shift, abs=1e-6)


def bodies(moment):
    """The pieces of the part as solids, turned about the fold by hand."""
    engine = moment.stroke.verdict.stroke
    setting, angle = engine.setting, math.radians(moment.degrees)
    for swings, solids in enumerate(setting.solids):
        for solid in solids:
            pole = setting.pole + np.array([setting.offset(solid) if swings else 0.0, 0.0])
            section = turned(solid.corners[:, 1:], pole, angle if swings else 0.0)
            section = turned(section, setting.pole, -angle * (1 - engine.in_front))
            corners = np.column_stack([solid.corners[:, 0], section])
            corners = corners @ moment.at.turn.T + moment.at.shift
            yield solid.name, m3.Manifold.hull_points(corners)


def tools(moment):
    """The tools as solids, a tenth of a millimetre slimmer: what lies against them is not
    crushed."""
    engine = moment.stroke.verdict.stroke
    low, high = engine.over or tuple(1.5 * end for end in engine.setting.x_range)
    for drawn in engine.tools_at(moment.machine):
        outline = drawn.outline + (np.array([0.0, moment.raised]) if drawn.rises else 0.0)
        slim = resized(outline, -0.1)
        if drawn.kind is OutlineKind.SECTION:
            for a, b in moment.sections:
                yield "section", extruded(slim, a, b)
        else:
            yield "tool", extruded(slim, *(drawn.along or (low, high)))


MOVES = (Handling.BRING_IN, Handling.CLAMP, Handling.LET_GO, Handling.TAKE_OUT)


def test_nothing_is_crushed_on_the_way_in_and_out(plan):
    looked = 0
    for span in JobMotion(plan).spans:
        if span.kind not in MOVES:
            continue
        for share in (0.0, 0.35, 0.7, 1.0):
            moment = span.moment(share)
            if moment.machine > 90:
                # Above 90° leaf and metal may overlap a little (docs/plan-format.md).
                continue
            stood = list(tools(moment))
            for name, body in bodies(moment):
                for tool, solid in stood:
                    shared = (body ^ solid).volume()
                    where = (moment.stroke.number, span.kind.value, share, name, tool)
                    assert shared < 0.5, (*where, shared)
                    looked += 1
    assert looked > 500


def test_a_part_is_out_where_it_is_turned(plan):
    for span in JobMotion(plan).spans:
        if span.kind is Handling.TURN:
            for moment in (span.begin, span.end):
                corners = part_at(moment)
                side = moment.stroke.verdict.way is Way.SIDE
                ends = [b for _, b in moment.sections]
                assert corners[:, 1].max() < 0 or corners[:, 0].min() > max(ends) or side


def test_every_stroke_is_brought_in_clamped_bent_and_taken_out(plan):
    motion = JobMotion(plan)
    for stroke in plan.strokes:
        kinds = [kind for kind, _, _ in motion.phases(stroke.number)]
        assert kinds.count(Handling.BEND) == 1
        let_go = kinds.index(Handling.LET_GO)
        order = [Handling.BRING_IN, Handling.CLAMP, Handling.BEND]
        first = kinds.index(Handling.BRING_IN)
        assert kinds[first : first + 3] == order and kinds[let_go + 1] is Handling.TAKE_OUT
        assert (Handling.FLATTEN in kinds) is stroke.verdict.flattens
        begin, stop = motion.begin_of(stroke.number), motion.stop_of(stroke.number)
        at = motion.moment(stop)
        assert begin < stop and at.stroke is stroke and at.at.turn == pytest.approx(np.eye(3))
        assert at.degrees == pytest.approx(stroke.verdict.reach)
        assert part_at(at) == pytest.approx(part_at(clamped(stroke, stroke.verdict.reach)))
    changes = [s for s in motion.spans if s.kind is Handling.CHANGE]
    assert len(changes) == len(plan.setups) - 1
    for change in changes:
        before = next(s for s in plan.strokes if s.number == change.end.stroke.number - 1)
        assert change.moment(0.2).sections == before.sections
        assert change.moment(0.8).sections == change.end.stroke.sections
    assert [s.hand for s in motion.spans if s.hand] == sorted(plan.hand, key=lambda h: h.after)
