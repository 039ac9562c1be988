"""One stroke judged: how far it goes, what stops it, what it asks of the sections."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property
from typing import NamedTuple

from ..brake.tools import SegmentSet
from ..cache import cached
from ..flat.blank import Blank
from ..flat.element import MadeBy
from ..i18n import Message, msg, the
from ..kernel.interval import Slab, free_intervals
from ..kernel.obstacle import Contact, Phase, Way, earliest
from .machines import machine_of
from .segments import Demand, demand, fit
from .setting import Setting, wander
from .stroke import HEM_STROKE, Stroke, Verdict, released_at
from .tooling import Tooling

STANDING = 45.0
"""Degrees from which a neighbour stands in the way of a wall that closes beside it."""


def closes(blank: Blank, fold: int, angles: tuple[float, ...]) -> bool:
    """True when a neighbour of this fold on the same panel already stands; what is folded back flat
    does not stand in its way.

    Args:
        blank: the flat.
        fold: index of the bend.
        angles: degrees every bend stands at.
    """
    return any(
        abs(angles[i]) > STANDING and not blank.folds[i].bend.folded_back
        for i in _neighbours(blank)[fold]
    )


# Saves 2 % of planning.
@cached(16)
def _neighbours(blank: Blank) -> list[list[int]]:
    """For every fold, those on the same panel that turn about another line."""
    folds = list(enumerate(blank.folds))
    return [
        [
            k
            for k, other in folds
            if k != i and other.parent == line.parent and abs(other.outward @ line.outward) < 0.5
        ]
        for i, line in folds
    ]


def judge(  # noqa: C901
    blank: Blank,
    tooling: Tooling,
    setting: Setting,
    measured: float | None = None,
    target: float | None = None,
    tolerance: float = 0.0,
) -> Verdict:
    """Judge one stroke: reach, limit, free intervals, demand on the sections.

    Args:
        blank: the part.
        tooling: the brake as it is set up.
        setting: how the part is held.
        measured: springback measured on a test strip, degrees at 90°.
        target: degrees wanted after release; None takes the fold's own angle.
        tolerance: degrees by which an angle may be off and still counts as reached.
    """
    line = setting.line
    hem = line.made_by is MadeBy.HEM
    greatest = tooling.greatest_angle
    target = min(HEM_STROKE, greatest) if hem else abs(line.angle) if target is None else target
    closing = any(closes(blank, fold, setting.angles) for fold in setting.folds)
    whole = not hem and target >= abs(line.angle)
    back = tooling.springback(
        blank.sheet, target, line.bend.radius, closing=closing, measured=measured, whole=whole
    )
    wanted = min(target + back.angle, greatest) if hem else target + back.angle
    stroke = machine_of(tooling.brake).stroke(
        setting, tooling, wander(line.bend, wanted), wanted + 1e-6, wanted
    )

    def no(why: Message, limit: Contact | None = None, slabs: tuple[Slab, ...] = ()) -> Verdict:
        return Verdict(
            stroke, back, target, wanted, 0.0, limit, why, None, slabs, tolerance=tolerance
        )

    if hem:
        standing = [
            f
            for f, a in zip(blank.folds, setting.angles, strict=True)
            if a and f.made_by is MadeBy.BRAKE
        ]
        if standing:
            return no(
                msg(
                    "a hem is flattened while the sheet is flat, and {name} stands",
                    name=the(standing[0].name),
                )
            )
    refused = stroke.refused(wanted)
    if refused is not None:
        return replace(no(refused), refused=True)
    swing: tuple[float, Contact | None] | None = None
    settled: tuple[_Settled | _Refusal, Way] | None = None
    for way in stroke.ways:
        result: _Settled | _Refusal | None = _entry(stroke, way)
        if result is None:
            # Most of what cannot be made does not even go in: only what does is swung.
            swing = swing or _swung(stroke, wanted)
            reach, limit = swing
            if reach <= setting.start + 1e-9:
                assert limit is not None
                return no(
                    msg(
                        "it stands at its greatest angle already: {sentence}",
                        sentence=limit.obstacle.sentence(),
                    ),
                    limit,
                )
            result = _settle(
                stroke,
                reach,
                lambda angle: min(target, released_at(angle, target, back.angle)),
                way,
            )
        if settled is None or _reached(result) > _reached(settled[0]):
            settled = result, way
        if swing is not None and not isinstance(result, _Refusal) and result[1] >= swing[0]:
            break
    assert settled is not None, "there is always a way to try"
    answer, way = settled
    if isinstance(answer, _Refusal):
        return no(answer.why, answer.limit, answer.slabs)
    assert swing is not None
    need, at, met, slabs = answer
    reach, limit = (at, met) if at < swing[0] else swing
    return Verdict(
        stroke, back, target, wanted, reach, limit, None, need, *slabs, way, tolerance=tolerance
    )


def _swung(stroke: Stroke, wanted: float) -> tuple[float, Contact | None]:
    """How far the stroke goes whatever sections are used, and what ends it before ``wanted``
    degrees."""
    stop = Contact(stroke.tooling.greatest_angle, stroke.tooling.stop)
    first = earliest(
        *(c for c in (stroke.fixed_contact, stop) if c is not None and c.angle < wanted)
    )
    return (wanted, None) if first is None else (first.angle, first)


WAY_IN = (Phase.SLIDING_IN, Phase.CLAMPING)
"""Phases before the swing: what fails there fails whatever the angle."""


@dataclass(frozen=True)
class _Refusal:
    """Why no sections and no reach go together; ``final`` when no smaller angle could help: it does
    not even go in."""

    why: Message
    limit: Contact | None = None
    slabs: tuple[Slab, ...] = ()
    final: bool = False


def _entry(stroke: Stroke, way: Way) -> _Refusal | None:
    """Why the part does not go in one way, or cannot be clamped there; None when it does."""
    barred = stroke.barred(0.0, way)
    if barred is not None:
        return _Refusal(barred.sentence(), Contact(0.0, barred), final=True)
    places = _Places(stroke, lambda under: stroke.entry(way, under=under))
    asked = places.ask(0.0)
    return None if isinstance(asked, _Asked) else _nowhere(stroke, asked)


_Slabs = tuple[tuple[Slab, ...], tuple[Slab, ...]]
"""Where sections may stand over the fold, and under it."""


class _Asked(NamedTuple):
    """What the sections must be, and where they may stand."""

    need: Demand
    slabs: _Slabs


class _NoRoom(NamedTuple):
    """Why sections cannot stand where they are wanted, and what takes the room."""

    why: Message
    slabs: tuple[Slab, ...]


class _Places:
    """Where the sections of a stroke may stand: alike over the fold and under it where the racks
    make that; else each by itself, so that what only the punch meets limits only the punch.

    Args:
        stroke: the stroke.
        of: the bed cut into intervals, for the sections over the fold (False), under it (True), or
            both alike (None).
    """

    def __init__(self, stroke: Stroke, of: Callable[[bool | None], tuple[Slab, ...]]) -> None:
        self._stroke, self._of = stroke, of

    @cached_property
    def alike(self) -> tuple[Slab, ...]:
        return self._of(None)

    @cached_property
    def apart(self) -> _Slabs:
        return self._of(False), self._of(True)

    def ask(self, degrees: float) -> _Asked | _NoRoom:
        """What a swing to so many degrees asks of the sections."""
        over, under = self._stroke.tooling.sections, self._stroke.tooling.under
        need = self._demand(self.alike, degrees, over)
        if isinstance(need, Demand) and (
            under is None or all(fit(need.widths, rack) is not None for rack in (over, under))
        ):
            return _Asked(
                Demand(need.rooms, () if under is None else need.rooms), (self.alike, self.alike)
            )
        if under is None:
            assert isinstance(need, Message)
            return _NoRoom(need, self.alike)
        upper = self._demand(self.apart[0], degrees, over)
        if isinstance(upper, Message):
            return _NoRoom(upper, self.apart[0])
        lower = self._demand(self.apart[1], degrees, under)
        return (
            _NoRoom(lower, self.apart[1])
            if isinstance(lower, Message)
            else _Asked(Demand(upper.rooms, lower.rooms), self.apart)
        )

    def _demand(
        self, slabs: tuple[Slab, ...], degrees: float, pieces: SegmentSet
    ) -> Demand | Message:
        return demand(
            self._stroke.setting.span, free_intervals(slabs, degrees), pieces, self._stroke.ends
        )

    def early(self, reach: float) -> dict[float, Contact]:
        """What sections meet before an angle, by the angle it is met at."""
        every = (
            self.alike
            if self._stroke.tooling.under is None
            else (*self.alike, *self.apart[0], *self.apart[1])
        )
        return {
            s.contact.angle: s.contact
            for s in every
            if s.contact is not None and s.contact.angle < reach
        }


def _nowhere(stroke: Stroke, none: _NoRoom) -> _Refusal:
    """No room for the sections, and what takes it."""
    why, slabs = none
    low, high = stroke.setting.span
    over = [s.blocked for s in slabs if s.blocked and min(s.high, high) - max(s.low, low) > 1e-6]
    text = msg("{why}: {sentence}", why=why, sentence=over[0].sentence()) if over else why
    return _Refusal(text, None, slabs, all(o.phase in WAY_IN for o in over))


def _reached(found: _Settled | _Refusal) -> float:
    return -1.0 if isinstance(found, _Refusal) else found[1]


_Settled = tuple[Demand, float, Contact | None, _Slabs]


def _settle(
    stroke: Stroke, reach: float, released: Callable[[float], float], way: Way
) -> _Settled | _Refusal:
    """The farthest angle that the sections allow, with the part going in, and out again as it then
    stands.

    Sections may stop the swing, a swing that stops earlier leaves the part at another angle, and
    that changes how it comes out: so the angle is lowered until all three agree.
    """
    first = _held(stroke, reach, released(reach), way)
    if first.final if isinstance(first, _Refusal) else first[1] >= reach:
        return first
    if not isinstance(first, _Refusal) and all(
        s.blocked is None or s.blocked.phase in WAY_IN for s in itertools.chain(*first[3])
    ):
        at, limit = first[1], first[2]
    else:
        # The way out at an angle it may never stand at is in the way: find the reach by the way in
        # and the swing alone.
        swung = _held(stroke, reach, 0.0, way)
        if isinstance(swung, _Refusal):
            return swung
        at, limit = swung[1], swung[2]
    for _ in range(8):
        result = _held(stroke, at, released(at), way)
        if isinstance(result, _Refusal):
            return result
        if result[1] >= at:
            return result[0], at, limit, result[3]
        at, limit = result[1], result[2]
    return _Refusal(msg("no angle was found at which the part can be bent and taken out"))


def _held(stroke: Stroke, reach: float, after: float, way: Way) -> _Settled | _Refusal:
    """Sections for a swing to ``reach``, the part being taken out at ``after`` degrees (0: not
    asked)."""
    barred = stroke.barred(after, way)
    if barred is not None:
        return _Refusal(barred.sentence(), Contact(0.0, barred), final=barred.phase in WAY_IN)
    places = _Places(stroke, lambda under: stroke.slabs(after, reach, way, under=under))
    result = _supported(places, reach)
    return _nowhere(stroke, result) if isinstance(result, _NoRoom) else result


def _supported(places: _Places, reach: float) -> _Settled | _NoRoom:
    """The farthest angle at which sections can stand over the fold, and what they then must be."""
    asked = places.ask(reach)
    if isinstance(asked, _Asked):
        return asked.need, reach, None, asked.slabs
    early = places.early(reach)
    for angle in sorted(early, reverse=True):
        again = places.ask(angle)
        if isinstance(again, _Asked):
            return again.need, angle, early[angle], again.slabs
        asked = again
    return asked
