"""What is set on the brake for one stroke, as data: cards, sheets, files and the page at the brake all show these figures."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from ...brake import Bottoming, Load
from ...brake.force import BOTTOM_FACTOR
from ..stroke.leaf.stroke import LeafStroke
from ..stroke.press.stroke import PressStroke
from .gauging import GaugeStop, gauge_stops
from .plan import Intervals, Plan, PlannedStroke


@dataclass(frozen=True)
class Pressed:
    """What belongs to a press.

    Attributes:
        punch_travel: from where the punch touches the flat sheet down to the stop angle, mm.
        force: against what press, punch and die stand.
        bottomed: the bend is bottomed, not bent in air.
        force_bottomed: kN, were it bottomed.
        least_leg: least outside leg the die carries to this angle, mm.
        inside_radius: mm, what the bend takes by itself in this V, or the tip's when bottomed.
    """

    punch_travel: float
    force: Load
    bottomed: bool
    force_bottomed: float
    least_leg: float
    inside_radius: float


@dataclass(frozen=True)
class Folded:
    """What belongs to a leaf brake.

    Attributes:
        setback: nose behind the bed's edge, mm, both ends alike.
        line_behind_nose: fold line behind the nose, mm; below zero in front of it.
        allowed: thickest sheet of this metal the brake may fold, mm.
    """

    setback: float
    line_behind_nose: float
    allowed: float


@dataclass(frozen=True)
class SetUp:
    """What is set for one stroke.

    Attributes:
        stop_angle: degrees to stop at.
        target: degrees wanted after release.
        released: degrees it is expected to stand at after release, with what the stroke reaches.
        over_bend: degrees gone past what it comes back to.
        limit: the stroke is stopped before its wanted angle by something that is met.
        greatest: degrees beyond which the stroke never goes: what is touched, or the machine's own end.
        sections, die_sections: interval of every piece along the stroke's x, mm.
        gauge: where the stop stands.
        machine: what belongs to this kind of machine.
    """

    stop_angle: float
    target: float
    released: float
    over_bend: float
    limit: bool
    greatest: float
    sections: Intervals
    die_sections: Intervals
    gauge: GaugeStop
    machine: Pressed | Folded


@lru_cache(maxsize=512)
def set_up_of(plan: Plan, stroke: PlannedStroke) -> SetUp:
    """Everything that is set for one stroke of a plan."""
    verdict, engine = stroke.verdict, stroke.verdict.stroke
    touched = [c.angle for c in (stroke.contact, verdict.limit) if c is not None]
    return SetUp(
        stop_angle=verdict.reach,
        target=verdict.target,
        released=verdict.released,
        over_bend=verdict.springback.angle,
        limit=verdict.limit is not None and verdict.reach < verdict.wanted - 1e-9,
        greatest=min([engine.greatest, *touched]),
        sections=stroke.sections,
        die_sections=stroke.die_sections,
        gauge=gauge_stops(plan)[stroke.number - 1],
        machine=_machine(plan, stroke),
    )


def _machine(plan: Plan, stroke: PlannedStroke) -> Pressed | Folded:
    engine, sheet = stroke.verdict.stroke, plan.blank.sheet
    if isinstance(engine, LeafStroke):
        return Folded(engine.setback, -float(engine.tools.nose[0]), sheet.allowed_by(engine.brake.rated))
    assert isinstance(engine, PressStroke)
    bottomed, force = engine.bottoming is Bottoming.BOTTOMED, engine.force
    return Pressed(
        punch_travel=engine.travel(stroke.verdict.reach),
        force=force,
        bottomed=bottomed,
        force_bottomed=force.total if bottomed else force.total * BOTTOM_FACTOR,
        least_leg=engine.least_leg,
        inside_radius=engine.tooling.punch.radius if bottomed else engine.air_radius,
    )


def record(set_up: SetUp) -> dict[str, object]:
    """The figures as JSON: lengths mm, angles degrees, forces kN."""
    gauge, machine = set_up.gauge, set_up.machine
    found: dict[str, object] = {
        "stop_angle": set_up.stop_angle,
        "target": set_up.target,
        "released": set_up.released,
        "over_bend": set_up.over_bend,
        "greatest_angle": set_up.greatest,
        "gauge": None
        if gauge.sighted
        else {
            "distance": gauge.distance,
            "against": gauge.against,
            "bent": gauge.leg,
            "true": gauge.true,
            "moved_by": list(gauge.moved_by),
            "at": [list(interval) for interval in gauge.at],
        },
        "sections": [list(s) for s in set_up.sections],
        "die_sections": [list(s) for s in set_up.die_sections],
    }
    if isinstance(machine, Folded):
        return found | {
            "setback": machine.setback,
            "line_behind_nose": machine.line_behind_nose,
            "allowed_thickness": machine.allowed,
        }
    force = machine.force
    return found | {
        "punch_travel": machine.punch_travel,
        "force": {
            "total_kn": force.total,
            "per_metre_kn": force.per_length,
            "rating_share": force.share,
            "rating_of": force.whose,
        },
        "bottomed": machine.bottomed,
        "least_leg": machine.least_leg,
        "inside_radius": machine.inside_radius,
    }
