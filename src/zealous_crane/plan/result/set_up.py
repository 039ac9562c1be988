"""What is set on the brake for one stroke, as data: cards, sheets, files and the page at the brake all show these figures."""

from __future__ import annotations

from ...measure.dataclass import dataclass
from ..stroke.machine import OwnSetUp
from ..stroke.machines import machine_of
from ..stroke.passage import CLEAR
from .gauging import GaugeStop, gauge_stops
from .plan import Intervals, Plan, PlannedStroke

TOLD = 1.0
"""mm a part is drawn to the front before that is told."""


@dataclass(frozen=True)
class HandWork:
    """What a hand does with the part at the brake for one stroke, besides holding it.

    Attributes:
        draw: how far the part is drawn to the front before what holds it is raised, mm; 0 where it need not be.
        draw_most: how far it may be drawn then, mm, for what stands behind the tool; None where any distance does.
        tipped_after: how far it is drawn to the front as it stands, the ram up, before it is tipped, mm; 0 where it is not.
        open_most: how far that may be raised then, mm; None for as far as it goes.
        lift: how far the part is lifted over what it lies on, on the way in and out, mm; 0 where it is not.
        guided: a tab and the hem under which it is guided while the wall comes up, by name.
    """

    draw: float = 0.0
    draw_most: float | None = None
    tipped_after: float = 0.0
    open_most: float | None = None
    lift: float = 0.0
    guided: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True)
class SetUp:
    """What is set for one stroke.

    Attributes:
        stop_angle: degrees the sheet stands at when the stroke is stopped.
        machine_stop: degrees the machine is set to for that: the leaf's own angle goes ahead of the sheet's.
        target: degrees wanted after release.
        released: degrees it is expected to stand at after release, with what the stroke reaches.
        over_bend: degrees gone past what it comes back to.
        limit: the stroke is stopped before its wanted angle by something that is met.
        greatest: degrees beyond which the stroke never goes: what is touched, or the machine's own end.
        sections, die_sections: interval of every piece along the stroke's x, mm.
        gauge: where the stop stands.
        hand_work: what a hand does with the part.
        machine: what belongs to this kind of machine.
    """

    stop_angle: float
    machine_stop: float
    target: float
    released: float
    over_bend: float
    limit: bool
    greatest: float
    sections: Intervals
    die_sections: Intervals
    gauge: GaugeStop
    hand_work: HandWork
    machine: OwnSetUp


def set_up_of(plan: Plan, stroke: PlannedStroke) -> SetUp:
    """Everything that is set for one stroke of a plan."""
    return plan.keep(("set-up", stroke.number), lambda: _set_up(plan, stroke))


def _set_up(plan: Plan, stroke: PlannedStroke) -> SetUp:
    verdict, engine = stroke.verdict, stroke.verdict.stroke
    touched = [c.angle for c in (stroke.contact, verdict.limit) if c is not None]
    return SetUp(
        stop_angle=verdict.reach,
        machine_stop=stroke.machine_stop,
        target=verdict.target,
        released=verdict.released,
        over_bend=verdict.springback.angle,
        limit=verdict.limit is not None and verdict.reach < verdict.wanted - 1e-9,
        greatest=min([engine.greatest, *touched]),
        sections=stroke.sections,
        die_sections=stroke.die_sections,
        gauge=gauge_stops(plan)[stroke.number - 1],
        hand_work=_hand_work(plan, stroke),
        machine=machine_of(plan.brake).set_up(engine, verdict.reach),
    )


def _hand_work(plan: Plan, stroke: PlannedStroke) -> HandWork:
    verdict, engine = stroke.verdict, stroke.verdict.stroke
    machine = machine_of(plan.brake)
    drawn = machine.drawn_off(engine, verdict.released, verdict.way) or 0.0
    lifted = verdict.way == "lifted"
    lift = machine.lifted(engine) if lifted else 0.0
    names = [panel.name for panel in plan.blank.panels]
    guided = tuple((names[tab], names[wall]) for tab, wall in engine.guided)
    # A hair off the nose is nothing to be told.
    most = machine.most_drawn(engine, verdict.released, verdict.way) if verdict.reach else None
    told = drawn if drawn > TOLD or most is not None else 0.0
    if verdict.way == "drawn":
        return HandWork(tipped_after=drawn, guided=guided)
    return HandWork(told, most, 0.0, lift + CLEAR if lift else None, lift, guided)


def record(set_up: SetUp) -> dict[str, object]:
    """The figures as JSON: lengths mm, angles degrees, forces kN."""
    gauge = set_up.gauge
    found: dict[str, object] = {
        "stop_angle": set_up.stop_angle,
        "machine_stop": set_up.machine_stop,
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
        "hand": {
            "draw_forward": set_up.hand_work.draw,
            "draw_most": set_up.hand_work.draw_most,
            "tipped_after": set_up.hand_work.tipped_after,
            "open_most": set_up.hand_work.open_most,
            "lift": set_up.hand_work.lift,
            "guided": [list(pair) for pair in set_up.hand_work.guided],
        },
        "sections": [list(s) for s in set_up.sections],
        "die_sections": [list(s) for s in set_up.die_sections],
    }
    return found | set_up.machine.record()
