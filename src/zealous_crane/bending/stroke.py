"""What one stroke comes to: how far it goes, what stops it, what it asks of the sections."""

from __future__ import annotations

import math
from abc import ABC, abstractmethod
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from .._typing import Array
from ..flat.element import MadeBy
from ..i18n import Message
from ..kernel.interval import Slab, free_intervals, laid_over
from ..kernel.obstacle import Contact, Obstacle, Way, earliest, may_meet, ring_of
from ..kernel.self_contact import Meeting
from ..kernel.solid import Solid
from ..metal.springback import Springback
from .drawing import SceneOutline
from .passage import NOT_TIPPED, PartMove, TippedExit
from .segments import Demand
from .setting import Setting
from .tooling import NONE, Packing, Tooling

READ = 0.05
"""Degrees by which an angle past its tolerance cannot be told from one within it: they are said to
a tenth."""

HEM_LEAST = 105.0
"""Degrees from which a hem still goes over when it is pressed rather than buckling: an
assumption."""


def released_at(angle: float, target: float, springback: float) -> float:
    """Degrees a fold stands at once let go at ``angle`` degrees, where ``springback`` degrees are
    lost from a stop that leaves it at ``target``: in proportion, as the elastic law has it.

    Args:
        angle: degrees it was bent to.
        target: degrees it is meant to stand at.
        springback: degrees at the target.
    """
    return max(0.0, angle * target / (target + springback)) if target + springback > 0 else 0.0


@dataclass(frozen=True, eq=False)
class Verdict:
    """What one stroke comes to.

    Attributes:
        stroke: the stroke judged.
        springback: the estimate for it.
        target: degrees wanted after release.
        wanted: degrees at the stop: target and springback.
        reach: degrees it gets to, at most ``wanted``; 0 when it cannot be made.
        limit: what keeps it below ``wanted``.
        blocked: why it cannot be made at all.
        demand: what it asks of the sections.
        slabs: where the sections over the fold may stand.
        under: where those under it may; empty where none stand there.
        way: how the part gets in and out.
        refused: the set-up as such was refused, before anything was posed.
        tolerance: degrees by which the angle may be off and still counts as reached.
    """

    stroke: Stroke
    springback: Springback
    target: float
    wanted: float
    reach: float
    limit: Contact | None
    blocked: Message | None
    demand: Demand | None
    slabs: tuple[Slab, ...]
    under: tuple[Slab, ...] = ()
    way: Way = Way.FRONT
    refused: bool = False
    tolerance: float = 0.0

    @property
    def tooling(self) -> Tooling:
        """What the brake is set up with."""
        return self.stroke.tooling

    @cached_property
    def final(self) -> float:
        """Degrees the fold stands at when the part is done; a hem is folded over first and
        flattened then."""
        return self.target if self.flattens else abs(self.stroke.setting.line.angle)

    @cached_property
    def part_way(self) -> bool:
        """True when the fold is meant to stop short for now, and is closed by a later stroke."""
        return not self.flattens and self.target < self.final - 1e-9

    @cached_property
    def released(self) -> float:
        """Degrees the fold stands at after release."""
        return min(self.target, self.released_from(self.reach))

    def released_from(self, angle: float) -> float:
        """Degrees the fold stands at once let go at ``angle`` degrees: it springs back in
        proportion to how far it was bent."""
        return released_at(angle, self.target, self.springback.angle)

    @cached_property
    def flattens(self) -> bool:
        """True for a hem: folded far over, then flattened."""
        return self.stroke.setting.line.made_by is MadeBy.HEM

    @cached_property
    def stands(self) -> float:
        """Degrees the fold stands at when the next stroke begins: a hem is flattened at once."""
        return abs(self.stroke.setting.line.angle) if self.flattens else self.released

    @cached_property
    def by_hand(self) -> float:
        """Degrees left to bring round by hand, closing or, where it was bent over, opening; 0
        within the tolerance."""
        if self.flattens or self.part_way:
            return 0.0
        left = abs(self.final - self.released)
        return left if left > self.tolerance + READ else 0.0

    @cached_property
    def short(self) -> float:
        """Degrees the stroke stays below what it was meant to reach; below zero where it was bent
        over to be opened."""
        if self.flattens:
            return 0.0
        short = self.target - self.released
        if short > self.tolerance + READ:
            return short
        return self.final - self.released if self.by_hand else 0.0

    @property
    def off(self) -> float:
        """Degrees short of the wanted angle, within the tolerance and so not put right; 0 where it
        reaches it."""
        if self.flattens:
            return 0.0
        short = self.target - self.released
        return short if 1e-6 < short <= self.tolerance + READ else 0.0

    @property
    def free(self) -> tuple[tuple[float, float], ...]:
        """Intervals (mm) where sections may stand over the fold at the reach."""
        return free_intervals(self.slabs, self.reach)

    @property
    def free_under(self) -> tuple[tuple[float, float], ...]:
        """The same under it."""
        return free_intervals(self.under, self.reach)


HEM_HOLDS = 25.4
"""mm from the end of a fold that need no section over them where a closed hem runs up to it: the
hem holds both sides straight. Common practice, no source."""

HEM_STROKE = 135.0
"""Degrees a hem is folded to before it is flattened. Common practice, no source."""


class Stroke(ABC):
    """One setting on one brake, with everything the engine can say about it.

    Args:
        setting: how the part is held.
        tooling: the machine as it is set up.
        keep: clearance (mm) the swing must keep, for its departure from a plain turn; 0 asks for
            plain contact.
        until: degrees beyond which contacts are of no interest; None looks as far as the machine
            goes.
        stop: degrees the machine is set up to be taken to; None takes the fold's own angle, or that
            of a hem's first stroke.

    Answers are worked out when first asked for and kept. Angles are degrees the fold stands at.
    """

    @property
    def tip(self) -> TippedExit:
        """How the part is tipped where it goes in and out so."""
        return NOT_TIPPED

    @property
    def over(self) -> tuple[float, float] | None:
        """Interval of x (mm) in which bed and overhead are; None when they go on past the part."""
        return None

    packing: Packing = NONE
    """The strip under the line, where something lies closed flat under the sheet."""

    def __init__(
        self,
        setting: Setting,
        tooling: Tooling,
        keep: float = 0.0,
        until: float | None = None,
        stop: float | None = None,
    ) -> None:
        self.setting, self.tooling, self.keep = setting, tooling, keep
        own = HEM_STROKE if setting.line.made_by is MadeBy.HEM else abs(setting.line.angle)
        self.stop = min(own if stop is None else stop, tooling.greatest_angle)
        self.until = (
            tooling.greatest_angle
            if until is None
            else max(setting.start, min(until, tooling.greatest_angle))
        )
        self._resting, self._swinging = setting.solids
        self._known_spans: dict[tuple[float, str], tuple[Slab, ...]] = {}
        self._known_met: dict[float, tuple[Slab, ...]] = {}

    @property
    def setback(self) -> float:
        """What the machine itself is adjusted to for this stroke, mm: on a leaf brake the nose
        behind the bed's edge."""
        return 0.0

    @property
    def nose_place(self) -> float | None:
        """Where the nose stands over the sheet, y in mm; None where a machine has none."""
        return None

    @property
    def strain(self) -> float:
        """Largest share of a force's rating that the stroke takes; 0 where nothing of the kind is
        known."""
        return 0.0

    def lag(self, degrees: float) -> float:
        """Degrees by which what is set on the machine goes ahead of the sheet when that stands at
        ``degrees``."""
        return 0.0

    def set_for(self, degrees: float) -> float:
        """What is set on the machine (degrees) for the sheet to stand at an angle, not yet let
        go."""
        return degrees + self.lag(degrees)

    def sheet_at(self, stop: float) -> float:
        """Angle of the sheet (degrees) with the machine at a stop; the inverse of
        :meth:`set_for`."""
        angle = stop
        for _ in range(20):
            angle = stop - self.lag(angle)
        return angle

    def plain(self) -> Stroke:
        """The same stroke, asked for plain contact as far as the machine goes."""
        return type(self)(self.setting, self.tooling, stop=self.stop)

    @property
    def greatest(self) -> float:
        """Farthest the machine takes a fold, degrees."""
        return self.tooling.greatest_angle

    @property
    def in_front(self) -> float:
        """Share of the fold's angle by which the side in front comes up; the rest comes up
        behind."""
        return 1.0

    @cached_property
    def ends(self) -> tuple[float, float]:
        """How much of the fold (mm) may stand without a section at its low and high end: the
        machine's own, or a hem that runs up to the fold there."""
        pieces, (low, high) = self.tooling.sections, self.setting.span
        result = [pieces.unsupported_end, pieces.unsupported_end]
        blank = self.setting.blank
        closed = [
            k
            for k, f in enumerate(blank.folds)
            if f.made_by is MadeBy.HEM and abs(self.setting.angles[k]) >= 179.0
        ]
        # A bent strip is numbered from below.
        hems = {blank.folds[k].child for k in closed} | {-1 - k for k in closed}
        for solid in (*self._resting, *self._swinging):
            if solid.panel not in hems or float(np.abs(solid.corners[:, 1]).min()) > HEM_HOLDS:
                continue
            a, b = solid.x_range
            for end, deep in ((0, b - low), (1, high - a)):
                if 0.0 < deep <= HEM_HOLDS:
                    result[end] = max(
                        result[end], min(deep + pieces.side_clearance, HEM_HOLDS) + 1e-6
                    )
        return result[0], result[1]

    @property
    def tall_tools(self) -> bool:
        """True where the tools are tall beside the metal, so that pictures show the part and what
        of them comes near it."""
        return False

    @abstractmethod
    def tools_at(self, degrees: float) -> Iterator[SceneOutline]:
        """The tools as they stand with the fold at an angle, in the order they are drawn."""

    @property
    @abstractmethod
    def beyond(self) -> tuple[Solid, ...]:
        """Metal that reaches across the bend line, on the wrong side of it."""

    @property
    @abstractmethod
    def ways(self) -> tuple[Way, ...]:
        """Ways to get the part in and out, the plainest first."""

    @abstractmethod
    def way_out(self, after: float, way: Way) -> tuple[PartMove, ...]:
        """How the part is taken out at ``after`` degrees, move by move; of 0, the way it goes in,
        backwards.

        Args:
            after: degrees the fold stands at.
            way: how it gets in and out.
        """

    @abstractmethod
    def refused(self, wanted: float) -> Message | None:
        """Why the machine does not take this stroke to ``wanted`` degrees at all, before anything
        is posed; None when it does."""

    @property
    @abstractmethod
    def fixed_contact(self) -> Contact | None:
        """First contact with what is there whichever sections are used, the part itself
        included."""

    @abstractmethod
    def barred(self, after: float, way: Way = Way.FRONT) -> Obstacle | None:
        """What keeps the part from going in, being clamped, or coming out at ``after`` degrees,
        sections aside.

        ``after`` of 0 leaves the way out unasked.
        """

    def entry(self, way: Way = Way.FRONT, *, under: bool | None = None) -> tuple[Slab, ...]:
        """The bed cut into intervals, each with what keeps a section from standing there as the
        part goes in and is clamped; of those over the fold (False), ``under`` it (True), or both
        alike (None)."""
        return self._laid_over(self._of(self._spans(0.0, way), under))

    def slabs(
        self, after: float, wanted: float, way: Way = Way.FRONT, *, under: bool | None = None
    ) -> tuple[Slab, ...]:
        """The bed cut into intervals, each with what a section meets there; of those over the fold
        (False), ``under`` it (True), or both alike (None).

        Args:
            after: degrees the fold stands at when the part is taken out; 0 leaves the way out
                unasked.
            wanted: degrees the swing is to reach; contacts before it are traced to the interval
                they belong to.
            way: how the part gets in and out.
        """
        if wanted not in self._known_met:
            self._known_met[wanted] = tuple(self._met(wanted))
        out = self._spans(after, way) if after > 0 else ()
        return self._laid_over(
            self._of((*self._spans(0.0, way), *out, *self._known_met[wanted]), under)
        )

    def _of(self, spans: Sequence[Slab], under: bool | None) -> Sequence[Slab]:
        """What of the findings is of the sections over the fold, of those under it, or of both."""
        return spans

    def _spans(self, after: float, way: Way) -> tuple[Slab, ...]:
        if (after, way) not in self._known_spans:
            self._known_spans[after, way] = tuple(self._barring(after, way))
        return self._known_spans[after, way]

    @abstractmethod
    def _barring(self, after: float, way: Way) -> Iterable[Slab]:
        """Where sections are in the way as the part goes in (``after`` of 0) or out."""

    @abstractmethod
    def _met(self, wanted: float) -> Iterable[Slab]:
        """Where sections are met in the swing, whatever the way in and out; traced to their
        intervals where that is before ``wanted`` degrees."""

    def _laid_over(self, spans: Sequence[Slab]) -> tuple[Slab, ...]:
        """The bed cut into intervals by what is in the way."""
        return laid_over(spans, self.tooling.brake.bed_length)

    @abstractmethod
    def contact(
        self, intervals: Iterable[tuple[float, float]], under: Iterable[tuple[float, float]] = ()
    ) -> Contact | None:
        """First contact of the swing with anything at all, with sections in ``intervals`` (mm along
        the fold), and die pieces in ``under`` on a press; none given are taken to stand where the
        punch's do."""

    @abstractmethod
    def clearance(
        self,
        degrees: float,
        intervals: Iterable[tuple[float, float]],
        under: Iterable[tuple[float, float]] = (),
    ) -> float:
        """Least distance (mm) between what moves and what may not be touched, up to ``degrees``.

        Args:
            degrees: the angle the bend stands at.
            intervals: where segments stand, intervals of x in mm.
            under: what the die's segments leave free, intervals of x in mm.
        """

    @property
    def pieces(self) -> tuple[Solid, ...]:
        """Every piece of the part that may be met, metal across the line by itself."""
        return (*self._resting, *self._swinging, *self.beyond)

    @cached_property
    def guided(self) -> tuple[tuple[int, int], ...]:
        """Tabs a hand guides under a hem while this stroke brings their wall up, each with the
        panel that carries the hem; by index of the panel."""
        result: dict[tuple[int, int], None] = {}
        for one in self._swinging:
            for other in self._resting:
                if self.setting.guided(one, other) and one.panel >= 0 and other.panel >= 0:
                    a, b = one.panel, other.panel
                    result[(a, b) if (a, b) in self.setting.blank.tucked else (b, a)] = None
        return tuple(result)

    # --- the part against itself -----------------------------------------------------------------

    def pole(self, solid: Solid) -> Array:
        """(2,) mm, what a swinging solid turns about."""
        offset = self.setting.offset(solid)
        return self.setting.pole + np.array([offset, 0.0]) if offset else self.setting.pole

    @property
    def _past_itself(self) -> tuple[Solid, ...]:
        """What swings, as the part itself meets it."""
        return self._swinging

    @cached_property
    def _meeting(self) -> Meeting:
        return Meeting(self.keep, math.radians(self.setting.start), math.radians(self.until))

    def _meets_itself(self, best: Contact | None) -> Contact | None:
        """First contact, or ``best`` when that is earlier, of what swings with what rests, and of
        two lines' panels with each other."""
        setting, limit = self.setting, math.radians(self.until)
        middle = self.setting.pole.tolist()
        clamped, folding = setting.beside
        far = [(other, ring_of(other, *middle)) for other in self._resting]
        spans = [(*other.x_range, k) for k, other in enumerate(self._resting)]
        for one in self._past_itself:
            folded = one.panel in folding
            offset, (low, high) = setting.offset(one), one.x_range
            pole, near = (middle[0] + offset, middle[1]), ring_of(one, *middle)
            slack = self.keep + 0.01 + 2 * abs(offset)
            # What lies farther along the fold is never met.
            for other, ring in [far[k] for begin, end, k in spans if low < end and high > begin]:
                if not may_meet(near, ring, slack, limit):
                    continue
                if (folded and other.panel in clamped) or setting.guided(one, other):
                    continue
                best = earliest(
                    best, self._meeting.of(one, other, pole, setting.touching(one, other))
                )
        return best
