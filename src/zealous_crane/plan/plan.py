"""The plan: strokes in order with their fingers, or a no with its reason and cures that were tried."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from enum import StrEnum

from ..blank import Blank, MadeBy, develop
from ..blank.blank import IN_LINE
from ..brake import LeafBrake
from ..job import Job
from ..measure import Units, show_angle, show_length
from .fingers import Block, demand, fit, place, why_no_fit
from .obstacle import Contact
from .order import HAND_LIMIT, Cancelled, Failure, Route, Search, Verdict, hand_thickness
from .slab import free_intervals
from .stroke import Stroke

__all__ = ["Cancelled", "Plan", "PlannedStroke", "Setup", "State", "make_plan"]


class State(StrEnum):
    """The three signs every verdict carries."""

    WORKS = "works"
    CARE = "care"
    STOP = "stop"


@dataclass(frozen=True)
class Setup:
    """One block of fingers in the beam.

    Attributes:
        block: the fingers.
        strokes: numbers (from 1) of the strokes it serves.
    """

    block: Block
    strokes: tuple[int, ...]


@dataclass(frozen=True, eq=False)
class PlannedStroke:
    """One closing of the brake.

    Attributes:
        number: place in the order, from 1.
        verdict: what the engine said.
        sections: interval (mm along the stroke's x) of every finger, left to right.
        setup: index of its block of fingers.
        clearance: least distance between what swings and what rests up to the reach, mm.
        contact: what would be touched first if the leaf went on, fingers as placed; None when nothing is.
        units: of the job, for what is said.
    """

    number: int
    verdict: Verdict
    sections: tuple[tuple[float, float], ...]
    setup: int
    clearance: float
    contact: Contact | None
    units: Units

    @property
    def name(self) -> str:
        return self.verdict.stroke.setting.name

    @property
    def state(self) -> State:
        if self.verdict.by_hand > 1e-6 or self.clearance < NARROW:
            return State.CARE
        return State.WORKS

    @property
    def room(self) -> str:
        """The clearance in the job's units."""
        inch = Units.DECIMAL if self.units.is_inch else Units.MM
        return show_length(round(self.clearance, 2), inch)

    def sentence(self) -> str:
        """What this stroke comes to: ``Bend 4 stops at 92.6° — the back wall meets the finger clamp. Needs 95°.``"""
        v = self.verdict
        if v.limit is not None and v.by_hand > 1e-6:
            o = v.limit.obstacle
            return (
                f"Bend {self.number} stops at {show_angle(v.reach)}: the {o.body} meets the {o.tool}. "
                f"It needs {show_angle(v.wanted)}; finish the last {show_angle(v.by_hand)} by hand."
            )
        beyond = self.contact
        room = f"{self.room} clear" if self.clearance < 1e6 else "clear all round"
        touch = f"; would touch the {beyond.obstacle.tool} at {show_angle(beyond.angle)}" if beyond is not None else ""
        hem = ", then flatten the hem" if v.flattens else ""
        return f"Bend {self.number}: stop at {show_angle(v.wanted)}{hem}, {room}{touch}."


NARROW = 0.5
"""Clearance (mm) under which a stroke is marked to be watched: what a hand-cut sheet may be off by."""


@dataclass(frozen=True, eq=False)
class Plan:
    """What the program has to say about a job on a brake.

    Attributes:
        job, blank, brake: what was planned.
        strokes: in order; empty when the part cannot be made.
        setups: blocks of fingers in the order they are set.
        sentence: the verdict, always true.
        reasons: why not, or what to watch, each a sentence.
        advice: cures that the engine tried and found to work, each a sentence.
        judged: strokes the engine looked at.
        stuck: where no order gets past, nearest to working; None when there is a plan or nothing to show.
        open: neither a yes nor a no: the part has work in it that is not judged, or nothing for the brake.
    """

    job: Job
    blank: Blank
    brake: LeafBrake
    strokes: tuple[PlannedStroke, ...]
    setups: tuple[Setup, ...]
    sentence: str
    reasons: tuple[str, ...]
    advice: tuple[str, ...]
    judged: int
    stuck: PlannedStroke | None = None
    open: bool = False

    @property
    def feasible(self) -> bool:
        return bool(self.strokes)

    @property
    def complete(self) -> bool:
        """True when every stroke reaches its angle in the brake, with nothing left for the hand."""
        return self.feasible and all(s.verdict.by_hand <= 1e-6 for s in self.strokes)

    @property
    def state(self) -> State:
        if self.open:
            return State.CARE
        if not self.feasible:
            return State.STOP
        return State.WORKS if all(s.state is State.WORKS for s in self.strokes) else State.CARE


def make_plan(job: Job, brake: LeafBrake, *, blank: Blank | None = None, cancelled: Callable[[], bool] = lambda: False) -> Plan:
    """Plan a job on a brake. No advice yet; see :func:`zealous_crane.plan.advise`.

    Raises:
        DevelopmentError: the part cannot be laid flat.
        Cancelled: ``cancelled`` said so.
    """
    blank = blank or develop(job)
    unjudged = _unjudged(blank)
    if unjudged is not None:
        return Plan(job, blank, brake, (), (), unjudged, _aside(blank), (), 0, open=True)
    allowed = blank.sheet.allowed_by(brake.rated)
    if blank.thickness > allowed + 1e-6:
        thick = show_length(blank.thickness, Units.MM)
        why = (
            f"{blank.sheet.name} is {thick} thick; this brake is rated for {show_length(brake.rated, Units.MM)} of mild steel, "
            f"which is {show_length(allowed, Units.MM)} of {blank.sheet.metal.name.lower()}."
        )
        return _no(job, blank, brake, "the metal is too thick for this brake", (why,), 0)
    if not brake.fingers:
        return _no(job, blank, brake, "there are no fingers in the rack", (), 0)
    search = Search(blank, brake, job.springback, cancelled=cancelled)
    found = search.best()
    if isinstance(found, Failure):
        failed = _failed(job, blank, brake, found, search.judged)
        beyond = _beyond(blank)
        if beyond is None:
            return failed
        # A no is a proof only within the moves that are tried.
        why = failed.sentence.removeprefix("Cannot be made on this brake: ")
        return replace(
            failed, sentence=f"No order found, and that is no proof: {beyond}. As far as was tried, {why}", open=True
        )
    return _planned(job, blank, brake, found, search.judged)


def _unjudged(blank: Blank) -> str | None:
    """Why a part gets neither a yes nor a no; None when its strokes can be judged."""
    if blank.creases:
        return (
            "Not judged: the ears of its corners are creased by hand between two strokes of the brake, which is not planned. "
            "Two walls to about 30°, the other two to 90°, the ears, then the first two."
        )
    if not any(f.made_by in (MadeBy.BRAKE, MadeBy.HEM) for f in blank.folds):
        return "Nothing for the brake: " + (" ".join(_aside(blank)) or "the part is flat.")
    return None


NEARLY = 3.0
"""Thicknesses; folds nearer than this to one line are often made in one stroke, as a tab with the wall it lies on."""


def _beyond(blank: Blank) -> str | None:
    """Work in a part that may go in ways the search does not try; None when its no can stand."""
    if any(f.made_by is MadeBy.HEM for f in blank.folds):
        return "hems may also be made on another tool"
    brake = [f for f in blank.folds if f.made_by is MadeBy.BRAKE]
    for i, one in enumerate(brake):
        for other in brake[:i]:
            apart = abs(float((one.start - other.start) @ one.outward))
            alike = float(one.outward @ other.outward) > 0.999 and one.angle * other.angle > 0
            if alike and IN_LINE < apart < NEARLY * blank.thickness:
                return (
                    f"the {other.name} and the {one.name} lie nearly on one line and may be folded together, which is not tried"
                )
    return None


def _aside(blank: Blank) -> tuple[str, ...]:
    """What is made without the brake, in sentences."""
    said: list[str] = []
    tool = [f.name for f in blank.folds if f.made_by is MadeBy.TOOL]
    if tool:
        said.append(f"First, while the sheet is flat, on a tool of its own: {_listed(tuple(tool))}.")
    slotted = [f.name for f in blank.folds if f.made_by is MadeBy.HAND and not blank.creases]
    if slotted:
        said.append(f"By hand, in a vise, along the slots: {_listed(tuple(slotted))}.")
    return tuple(said)


def _no(job: Job, blank: Blank, brake: LeafBrake, why: str, reasons: tuple[str, ...], judged: int) -> Plan:
    return Plan(job, blank, brake, (), (), f"Cannot be made on this brake: {why}.", reasons, (), judged)


def _why(verdict: Verdict, blank: Blank, brake: LeafBrake, units: Units) -> str:
    """Why a stroke is of no use, without its name."""
    if verdict.blocked is not None:
        return verdict.blocked
    if verdict.demand is not None and fit(verdict.demand.width, brake) is None:
        return why_no_fit(verdict.demand.width, brake, units)
    stop = f"it stops at {show_angle(verdict.reach)}"
    if verdict.limit is not None:
        stop += f", where the {verdict.limit.obstacle.body} meets the {verdict.limit.obstacle.tool}"
    if blank.thickness > hand_thickness(blank):
        return f"{stop}; metal this thick is not brought round by hand"
    return f"{stop}, and {show_angle(verdict.by_hand)} is more than the {show_angle(HAND_LIMIT)} a hand can finish"


def _failed(job: Job, blank: Blank, brake: LeafBrake, failure: Failure, judged: int) -> Plan:
    up = f"with the {_listed(failure.made)} up, " if failure.made else ""
    nearest = failure.verdicts[0]
    why = f"{up}the {nearest.stroke.setting.name} cannot be folded — {_why(nearest, blank, brake, job.units)}"
    reasons: list[str] = []
    for verdict in failure.verdicts:
        setting = verdict.stroke.setting
        held = blank.panels[setting.clamped].name
        text = f"{setting.name[:1].upper()}{setting.name[1:]}, {held} clamped: {_why(verdict, blank, brake, job.units)}."
        if text not in reasons:
            reasons.append(text)
    reasons.append("Every order of whole strokes, with either side clamped, was tried.")
    stuck = PlannedStroke(len(failure.made) + 1, nearest, (), 0, 0.0, nearest.limit, job.units)
    return replace(_no(job, blank, brake, why, tuple(reasons), judged), stuck=stuck)


def _listed(names: tuple[str, ...]) -> str:
    return names[0] if len(names) == 1 else ", ".join(names[:-1]) + " and " + names[-1]


def _planned(job: Job, blank: Blank, brake: LeafBrake, route: Route, judged: int) -> Plan:
    blocks: list[Block] = []
    for width in route.widths:
        block = fit(width, brake)
        assert block is not None, "the search only shares blocks the rack can make"
        blocks.append(block)
    strokes: list[PlannedStroke] = []
    for number, (verdict, setup) in enumerate(zip(route.verdicts, route.setup, strict=True), start=1):
        setting = verdict.stroke.setting
        need = demand(setting.span, free_intervals(verdict.slabs, verdict.reach), brake)
        assert not isinstance(need, str), "the search only takes strokes the fingers can hold"
        sections = place(blocks[setup], need)
        clearance = verdict.stroke.clearance(verdict.reach, sections)
        exact = Stroke(setting, brake)
        strokes.append(PlannedStroke(number, verdict, sections, setup, clearance, exact.contact(sections), job.units))
    setups = tuple(Setup(block, tuple(s.number for s in strokes if s.setup == i)) for i, block in enumerate(blocks))
    said = _sentence(strokes, setups) + "".join(f" {aside}" for aside in _aside(blank))
    return Plan(job, blank, brake, tuple(strokes), setups, said, _watch(strokes), (), judged)


def _plural(count: int, one: str) -> str:
    return f"{count} {one}" + ("" if count == 1 else "s")


def _sentence(strokes: list[PlannedStroke], setups: tuple[Setup, ...]) -> str:
    text = f"Can be made: {_plural(len(strokes), 'stroke')}, {_plural(len(setups), 'finger set-up')}"
    hand = [s for s in strokes if s.verdict.by_hand > 1e-6]
    if not hand:
        return text + ", every bend reaches its angle."
    most = show_angle(max(s.verdict.by_hand for s in hand))
    last = hand[-1].number == len(strokes) and len(hand) == hand[-1].number - hand[0].number + 1
    which = f"{'the last' if last else ''} {_plural(len(hand), 'wall')}".strip()
    return f"{text}, {which} stopping short and finished by hand (up to {most})."


def _watch(strokes: list[PlannedStroke]) -> tuple[str, ...]:
    said: list[str] = []
    for stroke in strokes:
        if stroke.verdict.by_hand > 1e-6:
            said.append(stroke.sentence())
        elif stroke.clearance < NARROW:
            said.append(f"Bend {stroke.number} leaves only {stroke.room}; bring the leaf up slowly and look.")
    return tuple(said)
