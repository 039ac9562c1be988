"""What a plan says: the verdict, why not, what to watch, what is done without the brake."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from ..bending.machine import Words
from ..bending.segments import fit, why_no_fit
from ..bending.stroke import HEM_LEAST, Verdict
from ..brake.force import CARE
from ..flat.blank import Blank
from ..flat.element import MadeBy
from ..i18n import counted, the, tr
from ..units.length import Units, show_length
from ..units.quantities import show_angle
from .hand_finishing import LIP, hand_limit, hand_tool, seamer_depth
from .plan import NARROW, HandStep, PlannedStroke, ToolSetup, bare_text
from .route import Failure, Moves


def listed(names: Sequence[str]) -> str:
    """``a, b and c``."""
    return (
        names[0]
        if len(names) == 1
        else tr("{names} and {last}").format(names=", ".join(names[:-1]), last=names[-1])
    )


def why(verdict: Verdict, blank: Blank, units: Units, avoided: Collection[str] = ()) -> str:
    """Why a stroke is of no use, without its name.

    Args:
        verdict: of the stroke.
        blank: the part.
        units: lengths are shown in.
        avoided: what the job asks to do without.
    """
    if verdict.blocked is not None:
        return verdict.blocked.text(units)
    if verdict.demand is not None:
        for widths, rack in zip(verdict.demand.needs, verdict.tooling.racks, strict=True):
            if fit(widths, rack) is None:
                return why_no_fit(widths, rack, units)
    stop = tr("it stops at {reach}").format(reach=show_angle(verdict.reach))
    if verdict.limit is not None:
        stop += tr(", where {what}").format(what=verdict.limit.obstacle.meeting)
    if verdict.flattens:
        return tr("{stop}; a hem must stand at {least} or more before it is flattened").format(
            stop=stop, least=show_angle(HEM_LEAST)
        )
    limit = hand_limit(blank, verdict.stroke.setting.fold)
    if limit <= 0:
        return tr("{stop}; metal this thick is not brought round by hand").format(stop=stop)
    if verdict.by_hand <= limit + 1e-9:
        said = (
            tr("{stop}, and finishing the last {by_hand} by hand is excluded in this job")
            if "hand" in avoided
            else tr("{stop}; the last {by_hand} would be finished by hand")
        )
        return said.format(stop=stop, by_hand=show_angle(verdict.by_hand))
    return tr("{stop}, and {by_hand} is too much to finish by hand (limit {limit})").format(
        stop=stop, by_hand=show_angle(verdict.by_hand), limit=show_angle(limit)
    )


def no_order(
    failure: Failure,
    blank: Blank,
    words: Words,
    units: Units,
    moves: Moves,
    avoided: Collection[str] = (),
) -> tuple[str, tuple[str, ...]]:
    """Where no order gets past, and every reason.

    Args:
        failure: where the search got stuck.
        blank: the flat.
        words: how figures are shown.
        units: what lengths are shown in.
        moves: what may be tried beyond whole strokes.
        avoided: tools asked to be left out.
    """
    up = tr("with {made} up, ").format(made=the(listed(failure.made))) if failure.made else ""
    nearest = failure.verdicts[0]
    first = tr("{up}{name} cannot be folded — {nearest}").format(
        up=up, name=the(nearest.stroke.setting.name), nearest=why(nearest, blank, units, avoided)
    )
    ways: dict[tuple[str, str], dict[str, list[str]]] = {}
    for verdict in failure.verdicts:
        setting = verdict.stroke.setting
        side = words.held.format(panel=blank.panels[setting.clamped].name)
        ways.setdefault((setting.name, why(verdict, blank, units, avoided)), {}).setdefault(
            side, []
        ).append(verdict.tooling.says)
    reasons = [
        tr("{name}, {sides}: {reason}.").format(
            name=name[:1].upper() + name[1:],
            sides="; ".join(_held(side, says) for side, says in sides.items()),
            reason=reason,
        )
        for (name, reason), sides in ways.items()
    ]
    tried = tr("Every order of whole strokes")
    if moves.part_way or moves.over:
        tried = (
            tr("Every order, with folds left part way")
            + (tr(" or bent over") if moves.over else "")
            + tr(" too")
        )
    reasons.append(
        tr("{tried}, {tried_2}, was tried.").format(tried=tried, tried_2=words.tried)
        if failure.complete
        else tr("Not every order was tried; there are too many of them.")
    )
    return first, tuple(reasons)


def _held(side: str, says: Sequence[str]) -> str:
    """A side clamped, and with what out of the ordinary the same comes out: ``base clamped (also
    the leaf's angle off)``."""
    special = [s for s in dict.fromkeys(says) if s]
    if not special:
        return side
    many = tr("with each of {special} {which}set-ups").format(
        special=len(special), which=tr("other ") if "" in says else ""
    )
    return f"{side} ({tr('also ') if '' in says else ''}{many if len(special) > 2 else '; '.join(special)})"  # noqa: E501


def verdict_sentence(
    strokes: Sequence[PlannedStroke], setups: Sequence[ToolSetup], words: Words
) -> str:
    """``Can be made: 7 strokes, 2 finger set-ups, last wall 5° by hand.``

    Args:
        strokes: in order.
        setups: the set-ups, in order.
        words: how figures are shown.
    """
    text = tr("Can be made: {strokes}, {set_ups}").format(
        strokes=counted("{count} stroke", "{count} strokes", len(strokes)),
        set_ups=words.set_ups(len(setups)),
    )
    if any(s.station for s in setups):
        text += tr(" side by side on the bed")
    hand = [s for s in strokes if s.verdict.by_hand > 0]
    off = max((s.verdict.off for s in strokes), default=0.0)
    if not hand and off:
        return text + tr(", every bend within ±{tolerance} of its angle.").format(
            tolerance=show_angle(strokes[0].verdict.tolerance)
        )
    if not hand:
        return text + tr(", every bend reaches its angle.")
    short, over = (
        [s for s in hand if s.verdict.short > 0],
        [s for s in hand if s.verdict.short <= 0],
    )
    if short:
        last = (
            short[-1].number == len(strokes)
            and len(short) == short[-1].number - short[0].number + 1
        )
        which = (
            counted("{count} wall", "{count} walls", len(short))
            if not last
            else tr("the last wall")
            if len(short) == 1
            else tr("the last {short} walls").format(short=len(short))
        )
        text += tr(", {which} stopping short and finished by hand (up to {angle})").format(
            which=which, angle=show_angle(max(s.verdict.by_hand for s in short))
        )
    if over:
        by = show_angle(max(s.verdict.by_hand for s in over))
        text += tr(", {count} bent over and opened by hand (by {by})").format(
            count=counted("{count} wall", "{count} walls", len(over)), by=by
        )
    return text + "."


TOUCHES = 0.005
"""mm; less room is none: a stroke that may stop within the tolerance stops where it meets
something."""


def watch(strokes: Sequence[PlannedStroke]) -> tuple[str, ...]:
    """What to look out for."""
    said: list[str] = []
    for stroke in strokes:
        if stroke.verdict.by_hand > 0:
            said.append(stroke.sentence())
        elif stroke.clearance < TOUCHES:
            said.append(
                tr("Bend {number} goes on until it touches; bring it up slowly and look.").format(
                    number=stroke.number
                )
            )
        elif stroke.clearance < NARROW:
            said.append(
                tr("Bend {number} leaves only {room}; bring it up slowly and look.").format(
                    number=stroke.number, room=stroke.room
                )
            )
        for where, length in stroke.bare:
            said.append(
                tr(
                    "Bend {number}: {bare}, more than this brake's own limit; look that it bends "
                    "straight there."
                ).format(number=stroke.number, bare=bare_text(where, length, stroke.units))
            )
        if stroke.verdict.stroke.strain >= CARE:
            share = 100 * stroke.verdict.stroke.strain
            said.append(
                tr(
                    "Bend {number} takes {share:.0f} % of a rating: the press maker's own chart "
                    "decides."
                ).format(number=stroke.number, share=share)
            )
    return tuple(said)


FLAT_BACK = 170.0
"""Degrees from which a hand fold is the far half of an ear, laid back on the near one: it goes with
it."""


SEAMER = "hand seamer"
"""The tool of lips that are turned last."""


def aside(blank: Blank, strokes: Sequence[PlannedStroke], units: Units) -> tuple[HandStep, ...]:
    """What is made without the brake, in its place in the order.

    Args:
        blank: the flat.
        strokes: in order.
        units: what lengths are shown in.
    """
    steps: list[HandStep] = []
    tool = tuple(f.name for f in blank.folds if f.made_by is MadeBy.TOOL)
    if tool:
        steps.append(
            HandStep(
                0,
                tool,
                tr("First, while the sheet is flat, on a tool of its own: {tool}.").format(
                    tool=listed(tool)
                ),
                "own tool",
            )
        )
    for stroke in strokes:
        v = stroke.verdict
        if v.by_hand > 0:
            found = hand_tool(blank, v.stroke.setting.fold, v.by_hand)
            if found is not None:
                how = found.says.format(fold=the(stroke.name))
                far = tr("{how}: {angle} more.") if v.short > 0 else tr("{how}: {angle} back.")
                said = far.format(how=how[:1].upper() + how[1:], angle=show_angle(v.by_hand))
                # The bends after it were judged with the fold as the brake left it.
                steps.append(HandStep(len(strokes), (stroke.name,), said, found.name))
    if blank.creases:
        # The ears go before the walls that carry them are closed.
        closing = [s.number for s in strokes if s.verdict.stroke.setting.start > 0]
        ears = tuple(
            f.name for f in blank.folds if f.made_by is MadeBy.HAND and abs(f.angle) < FLAT_BACK
        )
        said = tr(
            "Crease the ears along their 45° lines by hand and lay them against the walls, before "
            "the last walls are closed."
        )
        steps.append(HandStep(min(closing) - 1 if closing else len(strokes), ears, said, "hand"))
    else:
        slotted = tuple(f.name for f in blank.folds if f.made_by is MadeBy.HAND)
        if slotted:
            said = tr("By hand, in a vise, along the slots: {slotted}.").format(
                slotted=listed(slotted)
            )
            steps.append(HandStep(len(strokes), slotted, said, "vise"))
    seamed = [i for i, f in enumerate(blank.folds) if f.made_by is MadeBy.SEAMER]
    if seamed:
        deep = max(
            seamer_depth(blank, i) or max(blank.small_tools.seamers, default=LIP) for i in seamed
        )
        names = tuple(blank.folds[i].name for i in seamed)
        said = tr(
            "Last, by hand, turn {lips} with a seamer or folder {depth} deep, pressed in while it "
            "turns: the ends first, a third of"
            " the angle at a pass."
        ).format(lips=the(listed(names)), depth=show_length(deep, units))
        steps.append(HandStep(len(strokes), names, said, SEAMER))
    return tuple(sorted(steps, key=lambda s: s.after))
