"""Thin sheet sprung past the bar: checked with a beam bent step by step, which knows nothing of the
program's hull."""

import math

import numpy as np
import pytest
import shapely

from solids import Rebuilt, resized
from zealous_crane.bending.leaf.stroke import give
from zealous_crane.bending.machine import FactKey
from zealous_crane.flat.development import develop
from zealous_crane.io.plan_file import plan_record
from zealous_crane.job.job import Job
from zealous_crane.metal.material import MATERIALS
from zealous_crane.metal.sheet import Sheet
from zealous_crane.part.kinds.strip import Strip
from zealous_crane.planning.outcome import Outcome
from zealous_crane.planning.planner import make_plan
from zealous_crane.planning.setup import set_up_facts


def channel(angle, thickness="0.4 mm", web=30, leg=80, **order):
    return Job(
        part=Strip(length=200, legs=(leg, web, leg), angles=(angle, 90)),
        metal="galvanized",
        thickness=thickness,
        units="mm",
        brake="bench-finger-1000",
        order={"avoid": ["hand"], "sequence": ["leg 3"], **order},
    )


def bent(root, out, lag, length, thickness, load_at, by):
    """A cantilever pushed ``by`` mm aside at ``load_at`` mm from its root: the elastic line of a
    beam with one load, in 200 pieces."""
    s = np.linspace(0.0, length, 201)
    u = np.minimum(s, load_at) / load_at
    w = by * (1.5 * u**2 - 0.5 * u**3) + np.maximum(s - load_at, 0.0) * by * 1.5 / load_at
    line = root + s[:, None] * out + w[:, None] * lag
    return shapely.LineString(line).buffer(thickness / 2, cap_style="flat")


@pytest.mark.parametrize(("angle", "web", "leg"), [(37, 30, 80), (40, 30, 80), (53, 40, 60)])
def test_what_is_sprung_clears_the_bar_within_what_the_metal_stands(rack, angle, web, leg):
    brake = rack["bench-finger-1000"]
    job = channel(angle, web=web, leg=leg)
    avoided = job.model_copy(
        update={"order": job.order.model_copy(update={"avoid": ("hand", "sprung")})}
    )
    assert make_plan(avoided, brake).state is Outcome.STOP
    plan = make_plan(job, brake)
    assert plan.state is not Outcome.STOP and len(plan.setups) == 1
    stroke = plan.strokes[-1]
    assert stroke.verdict.tooling.sprung and "sprung past the bar" in str(
        stroke.verdict.tooling.says
    )
    facts = {fact.key: fact.value for fact in set_up_facts(plan, stroke)}
    assert "leg 3" in facts[FactKey.SPRUNG] and "springs back" in facts[FactKey.SPRUNG]
    told = plan_record(plan)
    record = told["strokes"][-1]
    ((panel, by),) = record["sprung"].items()
    rebuilt = Rebuilt(told["blank"], record)
    reach = stroke.verdict.reach
    # Stiff, it would run into the finger or the beam, and into nothing else.
    struck = rebuilt.strikes(reach, -0.02)
    assert (
        struck
        and {p for p, _ in struck} == {int(panel)}
        and {t for _, t in struck} <= {"finger", "beam"}
    )
    body = next(b for b in rebuilt.bodies if b.panel == int(panel))
    points = np.unique(
        np.round(rebuilt.posed(body, reach).to_mesh().vert_properties[:, 1:3], 4), axis=0
    )
    web_body = next(b for b in rebuilt.bodies if b.panel == 1)
    web_points = rebuilt.posed(web_body, reach).to_mesh().vert_properties[:, 1:3]
    order = np.argsort([np.hypot(*(web_points - p).T).min() for p in points])
    root, edge = points[order[:2]].mean(axis=0), points[order[2:]].mean(axis=0)
    length = float(np.hypot(*(edge - root)))
    out = (edge - root) / length
    tools = shapely.union_all(
        [shapely.Polygon(resized(record["tools"][n]["outline"], -0.02)) for n in ("finger", "beam")]
    )
    sheet = Sheet.read(MATERIALS["galvanized"], "0.4 mm")
    least = math.inf
    for side in (1.0, -1.0):
        lag = side * np.array([-out[1], out[0]])
        for load_at in np.linspace(0.3, 1.0, 15) * length:
            for push in np.arange(0.0, by + 0.1, 0.1):
                if not bent(root, out, lag, length, 0.4, load_at, push).intersects(tools):
                    # w = F s³ / 3EI and σ = F s T / 2I.
                    least = min(least, 1.5 * sheet.metal.modulus * 0.4 * push / load_at**2)
                    break
    assert least < 0.85 * sheet.metal.yield_strength, "an elastic line clears it"


def test_thicker_sheet_and_what_is_too_far_is_not_sprung(rack):
    brake = rack["bench-finger-1000"]
    assert make_plan(channel(39, "0.6 mm"), brake).state is Outcome.STOP
    assert make_plan(channel(60), brake).state is Outcome.STOP
    assert not any(s.verdict.tooling.sprung for s in make_plan(channel(30), brake).strokes), (
        "where it is not needed"
    )


def test_how_far_a_flange_gives():
    # A steel cantilever of 50 mm, 0.4 mm thick: σ = 3·E·T·w / (2·s²), so that 240 MPa are reached
    # at 4.9 mm; a fifth is left unused.
    sheet = Sheet.read(MATERIALS["mild-steel"], "0.4 mm")
    assert give(sheet, 50.0) == pytest.approx(0.8 * 240 * 2 * 50**2 / (3 * 205_000 * 0.4))
    assert give(sheet, 100.0) == pytest.approx(4 * give(sheet, 50.0))
    assert develop(channel(40)).thickness == 0.4
