"""What is set on the brake for one stroke, as data: cards, sheets, files and the page at the brake all show these figures."""

from __future__ import annotations

from ...measure.dataclass import dataclass
from ..stroke.machine import OwnSetUp
from ..stroke.machines import machine_of
from .gauging import GaugeStop, gauge_stops
from .plan import Intervals, Plan, PlannedStroke


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
    machine: OwnSetUp


def set_up_of(plan: Plan, stroke: PlannedStroke) -> SetUp:
    """Everything that is set for one stroke of a plan."""
    return plan.keep(("set-up", stroke.number), lambda: _set_up(plan, stroke))


def _set_up(plan: Plan, stroke: PlannedStroke) -> SetUp:
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
        machine=machine_of(plan.brake).set_up(engine, verdict.reach),
    )


def record(set_up: SetUp) -> dict[str, object]:
    """The figures as JSON: lengths mm, angles degrees, forces kN."""
    gauge = set_up.gauge
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
    return found | set_up.machine.record()
