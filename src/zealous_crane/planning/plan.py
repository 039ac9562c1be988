"""The three signs every verdict carries."""

from __future__ import annotations

import itertools
import math
from collections import defaultdict
from collections.abc import Callable, Hashable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, TypeVar

import numpy as np

from ..bending.machines import machine_of
from ..bending.segments import Block, Widths, fits
from ..bending.stroke import Verdict
from ..bending.tooling import Tooling
from ..brake.brake import Brake
from ..brake.force import CARE
from ..errors import INPUT_ERRORS
from ..flat.blank import Blank
from ..flat.element import MadeBy
from ..flat.on_brake import tool_radius
from ..i18n import JoinedText, Message, Phrase, counted_msg, msg, to_text
from ..job.job import Job
from ..kernel.obstacle import Contact, tool_words
from ..metal.allowance import is_pressed_flat
from ..units.figures import Angle, Length
from ..units.length import Units
from .hand_finishing import HandMeans
from .outcome import Outcome
from .route import MINUTES

SAME = 0.005
"""mm; two inside radii nearer than this are one."""

WRITTEN = 0.3
"""Share, and mm, by which a radius that a person wrote may differ from what the tools are reckoned
to make: the share of a V that a bend takes is a rule, and they may have measured it."""

LEAST = 0.02
"""mm a part may be off before it is told: less than a caliper reads."""

ALIKE = 0.99
"""Cosine from which two folds count as across one size."""


@dataclass(frozen=True)
class OtherRadius:
    """A bend that its tools make with another inside radius than the flat is for.

    Attributes:
        fold: index into the blank's folds.
        planned, made: inside radius of the flat, and what the tools make, mm.
        off: by how much its two outside legs together come out too long (less than 0: too short),
            mm.
    """

    fold: int
    planned: float
    made: float
    off: float


@dataclass(frozen=True)
class RadiusError:
    """What other radii come to over a whole part.

    Attributes:
        bends: every bend that is made with another radius.
        off: most that a size across bends in one direction comes out too long (less than 0: too
            short), mm.
        across: bends that size runs over.
        allowed: how far that size may be off, mm.
    """

    bends: tuple[OtherRadius, ...]
    off: float
    across: int
    allowed: float

    @property
    def matters(self) -> bool:
        """True where the size is off by more than the job allows."""
        return abs(self.off) > self.allowed

    def message(self, units: Units) -> Message:
        """What it comes to, a sentence or two."""
        first = self.bends[0]
        template = (
            msg(
                "The flat is for an inside radius of {planned}, these tools make {made}: over "
                "{bends} the part comes out {off} too {way}."
            )
            if abs(self.off) >= LEAST
            else msg(
                "The flat is for an inside radius of {planned}, these tools make {made}; the "
                "sizes stay what they are."
            )
        )
        return template.filled(
            planned=Length(first.planned, units, fine=True),
            made=Length(first.made, units, fine=True),
            bends=counted_msg("{count} bend", "{count} bends", self.across),
            off=Length(abs(self.off), units, fine=True),
            way=msg("long") if self.off > 0 else msg("short"),
        )


def radius_error(
    job: Job, brake: Brake, blank: Blank, verdicts: Sequence[Verdict]
) -> RadiusError | None:
    """What the tools of some strokes make otherwise than the flat is for; None where they make the
    same.

    Args:
        job: whose allowance method and tolerances count.
        brake: the machine.
        blank: the flat of the job on it.
        verdicts: of every stroke, in order; the last of a fold is the one that gives it its radius.
    """
    if job.chosen_school.own_radius(blank.thickness) is not None:
        # What a test strip measured is believed before any rule.
        return None
    derived = tool_radius(job, brake)
    by_tools = () if derived is None else (derived.radius, *(radius for _, radius in derived.at))

    def differs(planned: float, made: float) -> bool:
        written = all(abs(planned - radius) > SAME for radius in by_tools)
        return abs(made - planned) > (max(WRITTEN, WRITTEN * made) if written else SAME)

    made: dict[int, float] = {}
    for verdict in verdicts:
        radius = machine_of(verdict.tooling.brake).made_radius(verdict.stroke)
        for fold in verdict.stroke.setting.folds if radius is not None else ():
            assert radius is not None
            made[fold] = radius
    bends = tuple(
        OtherRadius(i, fold.bend.radius, made[i], _off(job, blank, i, made[i]))
        for i, fold in enumerate(blank.folds)
        if i in made and fold.made_by is MadeBy.BRAKE and differs(fold.bend.radius, made[i])
    )
    if not bends:
        return None
    off, across, size = _worst(blank, {bend.fold: bend.off for bend in bends})
    return RadiusError(bends, off, across, job.size_tolerance(size))


def _off(job: Job, blank: Blank, fold: int, radius: float) -> float:
    """Outside legs less flat, made against planned: by how much the legs come out too long, mm."""
    bend = blank.folds[fold].bend
    try:
        return job.chosen_school.bend(bend.angle, radius, bend.thickness).deduction - bend.deduction
    except INPUT_ERRORS:
        return 0.0


def _worst(blank: Blank, off: Mapping[int, float]) -> tuple[float, int, float]:
    """The size that is farthest off: by how much (mm), over how many bends, and how large it is on
    the flat (mm).

    A size runs from panel to panel over folds that lie in one direction.
    """
    beside: dict[int, list[tuple[int, int]]] = defaultdict(list)
    for i, fold in enumerate(blank.folds):
        beside[fold.parent].append((i, fold.child))
        beside[fold.child].append((i, fold.parent))
    best, bends, axis = 0.0, 0, 0
    for start, outward in (
        (p, blank.folds[i].outward) for p, pairs in beside.items() for i, _ in pairs
    ):
        open_ = [(start, -1, 0.0, 0)]
        while open_:
            panel, came, total, count = open_.pop()
            if abs(total) > abs(best) + 1e-9:
                best, bends, axis = total, count, int(np.argmax(np.abs(outward)))
            for i, other in beside[panel]:
                if i != came and abs(float(outward @ blank.folds[i].outward)) > ALIKE:
                    open_.append((other, i, total + off.get(i, 0.0), count + (i in off)))
    return best, bends, blank.size[axis] if bends else math.hypot(*blank.size)


T = TypeVar("T")

Intervals = tuple[tuple[float, float], ...]
"""Intervals along a stroke's x, mm."""


@dataclass(frozen=True)
class ToolSetup:
    """What stands in the brake for some strokes.

    Attributes:
        tooling: leaf, or punch and die.
        blocks: the fingers or punch pieces, left to right.
        die_blocks: the die pieces under them; empty on a leaf brake.
        strokes: numbers (from 1) of the strokes it serves.
        widths: what each block must serve.
        offsets: mm, left end of every block, and then of every die block, from that of the first.
        setback: nose behind the bed's edge on a leaf brake, mm; 0 on a press.
        station: middle of the blocks along the bed from its middle, mm; not 0 where two set-ups
            stand side by side.
    """

    tooling: Tooling
    blocks: tuple[Block, ...]
    die_blocks: tuple[Block, ...]
    strokes: tuple[int, ...]
    widths: Widths
    offsets: tuple[float, ...] = ()
    setback: float = 0.0
    station: float = 0.0

    @cached_property
    def others(self) -> tuple[Block, ...]:
        """Other ways to make up the block, the best first; none where there are several blocks,
        which share one rack."""
        if len(self.widths) != 1:
            return ()
        return tuple(
            block
            for block in fits(self.widths[0], self.tooling.sections, 4)
            if block != self.blocks[0]
        )[:3]


@dataclass(frozen=True)
class HandStep:
    """Work without the brake.

    Attributes:
        after: number of the stroke it follows; 0 before all of them.
        folds: names of what is folded.
        message: what is done, a sentence.
        by: with what.
    """

    after: int
    folds: tuple[str, ...]
    message: Phrase
    by: HandMeans

    @property
    def says(self) -> str:
        """What is done, in words."""
        return str(self.message)


@dataclass(frozen=True, eq=False)
class PlannedStroke:
    """One closing of the brake.

    Attributes:
        number: place in the order, from 1.
        verdict: what the engine said.
        sections: interval (mm along the stroke's x) of every finger or punch piece, left to right.
        die_sections: interval of every die piece under them; empty on a leaf brake.
        setup: index of its set-up.
        clearance: least distance between what swings and what rests up to the reach, mm.
        units: of the job, for what is said.
    """

    number: int
    verdict: Verdict
    sections: Intervals
    die_sections: Intervals
    setup: int
    clearance: float
    units: Units

    @cached_property
    def contact(self) -> Contact | None:
        """What would be touched first if the brake went on, sections as placed; None when nothing
        is. Worked out when first asked for: while cures are tried nobody asks."""
        if not self.sections:
            return self.verdict.limit
        return self.verdict.stroke.plain().contact(self.sections, self.die_sections)

    @property
    def name(self) -> str:
        return self.verdict.stroke.setting.name

    @cached_property
    def bare(self) -> tuple[tuple[str, float], ...]:
        """Stretches of the fold (mm) with no piece over them that are longer than the machine's own
        limits allow: at its ``left`` or ``right`` end, or as a ``gap`` between two pieces. The
        engine lets them be where a hem holds the fold straight, or where no piece finds room."""
        stroke = self.verdict.stroke
        brake, (low, high) = stroke.tooling.brake, stroke.setting.span
        over = [(a, b) for a, b in self.sections if b > low and a < high]
        if not over:
            return ()
        result = [("left", over[0][0] - low), ("right", high - over[-1][1])]
        bare = [
            (where, length) for where, length in result if length > brake.unsupported_end + HAIR
        ]
        # Between two folds of one line there is no metal: a gap is measured within each of them.
        for first, last in stroke.setting.fold_ranges:
            gaps = (min(b[0], last) - max(a[1], first) for a, b in itertools.pairwise(over))
            bare += [("gap", gap) for gap in gaps if gap > brake.largest_gap + HAIR]
        return tuple(bare)

    @property
    def machine_stop(self) -> float:
        """Degrees the machine is stopped at: the leaf's own angle, which goes ahead of the sheet's;
        a press is set by the sheet's."""
        return self.verdict.stroke.set_for(self.verdict.reach)

    @property
    def state(self) -> Outcome:
        strained = self.verdict.stroke.strain >= CARE
        return (
            Outcome.CARE
            if self.verdict.by_hand > 0 or strained or self.clearance < NARROW
            else Outcome.WORKS
        )

    @property
    def clear(self) -> Length:
        """The clearance as it is said."""
        return Length(round(self.clearance, 2), self.units, fine=True)

    @property
    def room(self) -> str:
        """The clearance in the job's units."""
        return self.clear.shown(None)

    def sentence(self, *, beyond: bool = True) -> str:
        """What this stroke comes to, in words; see :meth:`message`."""
        return to_text(self.message(beyond=beyond), self.units)

    def message(self, *, beyond: bool = True) -> Phrase:
        """What this stroke comes to: ``Bend 4 stops at 92.6°: the back wall meets the finger clamp.
        Needs 95°.``

        Args:
            beyond: what would be touched past its stop is said too; that takes a while to work out.
        """
        v = self.verdict
        start = v.stroke.setting.start
        begun = msg(" (from the {start} it stands at)", start=Angle(start)) if start else ""
        stopped = v.limit is not None and v.reach < v.wanted - 1e-9
        what = v.limit.obstacle.meeting if v.limit is not None else ""
        if stopped and v.by_hand > 0:
            return msg(
                "Bend {number} stops at {reach}{begun}: {what}. It needs {wanted}; finish the "
                "last {by_hand} by hand.",
                number=self.number,
                reach=Angle(self.machine_stop),
                begun=begun,
                what=what,
                wanted=Angle(v.wanted),
                by_hand=Angle(v.by_hand),
            )
        more = JoinedText((msg(", where {what}", what=what),) if stopped else ())
        if v.flattens:
            close = closing_text(self)
            more += (
                msg("; then {close}", close=close)
                if stopped
                else msg(", then {close}", close=close)
            )
        elif v.part_way:
            more += msg("; no farther yet, it is closed to {final} later", final=Angle(v.final))
        elif v.by_hand > 0:
            more += msg(", {by_hand} too far; opened by hand at the end", by_hand=Angle(v.by_hand))
        elif v.off:
            more += msg(
                "; it comes out {off} short, within ±{tolerance}",
                off=Angle(v.off),
                tolerance=Angle(v.tolerance),
            )
        past = self.contact if beyond and not stopped else None
        room = (
            msg("{room} clear", room=self.clear) if self.clearance < 1e6 else msg("clear all round")
        )
        touching = (
            msg(
                "; would touch {tool} at {angle}",
                tool=tool_words(past.obstacle.tool),
                angle=Angle(past.angle),
            )
            if past is not None
            else ""
        )
        return msg(
            "Bend {number}: stop at {reach}{begun}{more}, {room}{touching}.",
            number=self.number,
            reach=Angle(self.machine_stop),
            begun=begun,
            more=more,
            room=room,
            touching=touching,
        )


def closing_text(stroke: PlannedStroke) -> Message:
    """How a hem is closed once it is folded far over: flat, which for a double hem is onto its
    inner layer, or onto a strip as thick as its gap."""
    setting = stroke.verdict.stroke.setting
    folds, bend = setting.blank.folds, setting.line.bend
    doubled = any(
        fold.made_by is MadeBy.HEM and fold.parent == setting.line.child for fold in folds
    )
    if doubled or is_pressed_flat(bend.angle, bend.radius, bend.thickness):
        return msg("flatten the hem")
    return msg(
        "close the hem onto a strip {gap} thick",
        gap=Length(2 * bend.radius, stroke.units, fine=True),
    )


HAIR = 0.05
"""mm by which a stretch without a piece may pass a limit before it is told."""


def bare_text(where: str, length: float, units: Units) -> Message:
    """A stretch of a fold with no piece over it, in words.

    Args:
        where: (low, high) mm along the bend.
        length: of the bend, mm.
        units: what lengths are shown in.
    """
    return {
        "left": msg("{length} at the left end of the fold have nothing over them"),
        "right": msg("{length} at the right end of the fold have nothing over them"),
        "gap": msg("a gap of {length} between two pieces"),
    }[where].filled(length=Length(length, units, pretty=True))


NARROW = 0.5
"""Clearance (mm) under which a stroke is marked to be watched: what a hand-cut sheet may be off
by."""


@dataclass(frozen=True)
class Remedy:
    """A change that the engine tried and found to work.

    Attributes:
        message: what to change and what is gained, a sentence.
        job: the job so changed.
        brake: the brake it was tried on; None is the plan's own.
        also: a second piece, where one is made in two.
    """

    message: Phrase
    job: Job
    brake: Brake | None = None
    also: Job | None = None

    @property
    def says(self) -> str:
        """What to change and what is gained, in words."""
        return to_text(self.message, self.job.units)


@dataclass(frozen=True, eq=False)
class Plan:
    """What the program has to say about a job on a brake.

    Attributes:
        job, blank, brake: what was planned.
        strokes: in order; empty when the part cannot be made.
        setups: what stands in the brake, in the order it is set.
        hand: work without the brake, in order.
        message: the verdict, always true.
        messages: why not, or what to watch, each a sentence.
        cures: changes that the engine tried and found to work.
        judged: strokes the engine looked at.
        cost: of the order, by the search's costs.
        least_cost: of the best order there is, where the person's own order was planned; None
            otherwise.
        stuck: where no order gets past, nearest to working; None when there is a plan or nothing to
            show.
        open: neither a yes nor a no: the part has work in it that is not judged, or nothing for the
            brake.
        nothing_found: the search gave up before every order was looked at.
        unheld: flanges shorter than the brake holds well, each a sentence.
        radius_error: what the tools make otherwise than the flat is for; None where they agree.
        looking: an order that works, found at once; a cheaper one is still looked for.
    """

    job: Job
    blank: Blank
    brake: Brake
    strokes: tuple[PlannedStroke, ...]
    setups: tuple[ToolSetup, ...]
    message: Phrase
    messages: tuple[Phrase, ...]
    judged: int
    hand: tuple[HandStep, ...] = ()
    cures: tuple[Remedy, ...] = ()
    cost: float = 0.0
    least_cost: float | None = None
    stuck: PlannedStroke | None = None
    open: bool = False
    nothing_found: bool = False
    looking: bool = False
    unheld: tuple[Phrase, ...] = ()
    radius_error: RadiusError | None = None
    _kept: dict[Hashable, Any] = field(default_factory=dict, repr=False)

    def keep(self, what: Hashable, work: Callable[[], T]) -> T:
        """A figure that follows from the plan, worked out when first asked for; it goes where the
        plan goes."""
        if what not in self._kept:
            self._kept[what] = work()
        result: T = self._kept[what]
        return result

    @cached_property
    def steps(self) -> tuple[PlannedStroke | HandStep, ...]:
        """Strokes and work without the brake, in the order they are done."""
        result: list[PlannedStroke | HandStep] = [h for h in self.hand if h.after == 0]
        for stroke in self.strokes:
            result += [stroke, *(h for h in self.hand if h.after == stroke.number)]
        return tuple(result)

    @property
    def sentence(self) -> str:
        """The verdict in words."""
        return to_text(self.message, self.job.units)

    @property
    def reasons(self) -> tuple[str, ...]:
        """Why not, or what to watch, in words."""
        return tuple(to_text(message, self.job.units) for message in self.messages)

    @property
    def minutes(self) -> float:
        """Minutes of work a part takes at the brake; a guess."""
        return self.cost * MINUTES

    @property
    def minutes_more(self) -> float | None:
        """Minutes by which the person's own order takes longer a part than the best; None where
        that is not known."""
        return None if self.least_cost is None else (self.cost - self.least_cost) * MINUTES

    @property
    def advice(self) -> tuple[str, ...]:
        """What the cures say."""
        return tuple(cure.says for cure in self.cures)

    @property
    def feasible(self) -> bool:
        return bool(self.strokes)

    @property
    def folding(self) -> tuple[tuple[str, tuple[float, ...]], ...]:
        """What each stroke bends, in order, and the angles (degrees, signed) all folds stand at
        before it."""
        return tuple((stroke.name, stroke.verdict.stroke.setting.angles) for stroke in self.strokes)

    @property
    def by_seamer(self) -> bool:
        """True when lips are left to a hand seamer."""
        return any(fold.made_by is MadeBy.SEAMER for fold in self.blank.folds)

    @property
    def complete(self) -> bool:
        """True when every stroke reaches its angle in the brake, with nothing left for the hand."""
        return (
            self.feasible
            and not self.by_seamer
            and all(s.verdict.by_hand == 0 for s in self.strokes)
        )

    @property
    def state(self) -> Outcome:
        if self.open:
            return Outcome.CARE
        if not self.feasible:
            return Outcome.STOP
        return (
            Outcome.WORKS
            if all(s.state is Outcome.WORKS for s in self.strokes)
            and not (self.is_off or self.unheld)
            else Outcome.CARE
        )

    @property
    def is_off(self) -> bool:
        """True when the part comes out off by more than its tolerance, because its tools make
        another inside radius."""
        return self.radius_error is not None and self.radius_error.matters

    @property
    def wants_cures(self) -> bool:
        """True when something is left to be cured: it cannot be made, the hand finishes it, or it
        comes out off."""
        return not self.open and (not self.complete or self.radius_error is not None)
