"""What a plan says: the verdict, why not, what to watch, what is done without the brake."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from ..bending.machine import Words
from ..bending.segments import fit, why_no_fit
from ..bending.stroke import HEM_LEAST, Verdict
from ..brake.force import CARE
from ..flat.blank import Blank
from ..flat.element import MadeBy
from ..i18n import JoinedText, Message, Phrase, Raised, counted_msg, msg, the
from ..units.figures import Angle, Length
from ..units.length import Units
from .hand_finishing import LIP, HandMeans, hand_limit, hand_tool, seamer_depth
from .plan import NARROW, HandStep, PlannedStroke, ToolSetup, bare_text
from .route import Failure, Moves


def listed(names: Sequence[str]) -> Phrase:
    """``a, b and c``."""
    return (
        names[0]
        if len(names) == 1
        else msg("{names} and {last}", names=", ".join(names[:-1]), last=names[-1])
    )


def why(verdict: Verdict, blank: Blank, units: Units, avoided: Collection[str] = ()) -> Message:
    """Why a stroke is of no use, without its name.

    Args:
        verdict: of the stroke.
        blank: the part.
        units: lengths are shown in.
        avoided: what the job asks to do without.
    """
    if verdict.blocked is not None:
        return verdict.blocked
    if verdict.demand is not None:
        for widths, rack in zip(verdict.demand.needs, verdict.tooling.racks, strict=True):
            if fit(widths, rack) is None:
                return why_no_fit(widths, rack, units)
    stop = JoinedText((msg("it stops at {reach}", reach=Angle(verdict.reach)),))
    if verdict.limit is not None:
        stop += msg(", where {what}", what=verdict.limit.obstacle.meeting)
    if verdict.flattens:
        return msg(
            "{stop}; a hem must stand at {least} or more before it is flattened",
            stop=stop,
            least=Angle(HEM_LEAST),
        )
    limit = hand_limit(blank, verdict.stroke.setting.fold)
    if limit <= 0:
        return msg("{stop}; metal this thick is not brought round by hand", stop=stop)
    if verdict.by_hand <= limit + 1e-9:
        text = (
            msg("{stop}, and finishing the last {by_hand} by hand is excluded in this job")
            if "hand" in avoided
            else msg("{stop}; the last {by_hand} would be finished by hand")
        )
        return text.filled(stop=stop, by_hand=Angle(verdict.by_hand))
    return msg(
        "{stop}, and {by_hand} is too much to finish by hand (limit {limit})",
        stop=stop,
        by_hand=Angle(verdict.by_hand),
        limit=Angle(limit),
    )


def no_order(
    failure: Failure,
    blank: Blank,
    words: Words,
    units: Units,
    moves: Moves,
    avoided: Collection[str] = (),
) -> tuple[Message, tuple[Message, ...]]:
    """Where no order gets past, and every reason.

    Args:
        failure: where the search got stuck.
        blank: the flat.
        words: how figures are shown.
        units: what lengths are shown in.
        moves: what may be tried beyond whole strokes.
        avoided: tools asked to be left out.
    """
    up = msg("with {made} up, ", made=the(listed(failure.made))) if failure.made else ""
    nearest = failure.verdicts[0]
    first = msg(
        "{up}{name} cannot be folded — {nearest}",
        up=up,
        name=the(nearest.stroke.setting.name),
        nearest=why(nearest, blank, units, avoided),
    )
    ways: dict[tuple[str, Message], dict[Message, list[Phrase]]] = {}
    for verdict in failure.verdicts:
        setting = verdict.stroke.setting
        side = words.held.filled(panel=blank.panels[setting.clamped].name)
        ways.setdefault((setting.name, why(verdict, blank, units, avoided)), {}).setdefault(
            side, []
        ).append(verdict.tooling.says)
    reasons = [
        msg(
            "{name}, {sides}: {reason}.",
            name=Raised(name),
            sides=JoinedText(tuple(_held(side, says) for side, says in sides.items()), "; "),
            reason=reason,
        )
        for (name, reason), sides in ways.items()
    ]
    tried: Phrase = msg("Every order of whole strokes")
    if moves.part_way or moves.over:
        tried = (
            msg("Every order, with folds left part way")
            + (msg(" or bent over") if moves.over else "")
            + msg(" too")
        )
    reasons.append(
        msg("{tried}, {tried_2}, was tried.", tried=tried, tried_2=words.tried)
        if failure.complete
        else msg("Not every order was tried; there are too many of them.")
    )
    return first, tuple(reasons)


def _held(side: Message, says: Sequence[Phrase]) -> Phrase:
    """A side clamped, and with what out of the ordinary the same comes out: ``base clamped (also
    the leaf's angle off)``."""
    special = [s for s in dict.fromkeys(says) if s]
    if not special:
        return side
    many = msg(
        "with each of {special} {which}set-ups",
        special=len(special),
        which=msg("other ") if "" in says else "",
    )
    with_what = many if len(special) > 2 else JoinedText(tuple(special), "; ")
    return JoinedText((side, " (", msg("also ") if "" in says else "", with_what, ")"))


def verdict_sentence(
    strokes: Sequence[PlannedStroke], setups: Sequence[ToolSetup], words: Words
) -> Phrase:
    """``Can be made: 7 strokes, 2 finger set-ups, last wall 5° by hand.``

    Args:
        strokes: in order.
        setups: the set-ups, in order.
        words: how figures are shown.
    """
    text: Message | JoinedText = msg(
        "Can be made: {strokes}, {set_ups}",
        strokes=counted_msg("{count} stroke", "{count} strokes", len(strokes)),
        set_ups=words.set_ups(len(setups)),
    )
    if any(s.station for s in setups):
        text += msg(" side by side on the bed")
    hand = [s for s in strokes if s.verdict.by_hand > 0]
    off = max((s.verdict.off for s in strokes), default=0.0)
    if not hand and off:
        return text + msg(
            ", every bend within ±{tolerance} of its angle.",
            tolerance=Angle(strokes[0].verdict.tolerance),
        )
    if not hand:
        return text + msg(", every bend reaches its angle.")
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
            counted_msg("{count} wall", "{count} walls", len(short))
            if not last
            else msg("the last wall")
            if len(short) == 1
            else msg("the last {short} walls", short=len(short))
        )
        text += msg(
            "; {which} up to {angle} short, to finish by hand",
            which=which,
            angle=Angle(max(s.verdict.by_hand for s in short)),
        )
    if over:
        by = Angle(max(s.verdict.by_hand for s in over))
        text += msg(
            "; {count} bent {by} too far, to open by hand",
            count=counted_msg("{count} wall", "{count} walls", len(over)),
            by=by,
        )
    return text + "."


TOUCHES = 0.005
"""mm; less room is none: a stroke that may stop within the tolerance stops where it meets
something."""


def watch(strokes: Sequence[PlannedStroke]) -> tuple[Phrase, ...]:
    """What to look out for."""
    phrases: list[Phrase] = []
    for stroke in strokes:
        if stroke.verdict.by_hand > 0:
            phrases.append(stroke.message())
        elif stroke.clearance < TOUCHES:
            phrases.append(
                msg(
                    "Bend {number} goes on until it touches; bring it up slowly and look.",
                    number=stroke.number,
                )
            )
        elif stroke.clearance < NARROW:
            phrases.append(
                msg(
                    "Bend {number} leaves only {room}; bring it up slowly and look.",
                    number=stroke.number,
                    room=stroke.clear,
                )
            )
        for where, length in stroke.bare:
            phrases.append(
                msg(
                    "Bend {number}: {bare}, more than this brake's own limit; look that it bends "
                    "straight there.",
                    number=stroke.number,
                    bare=bare_text(where, length, stroke.units),
                )
            )
        if stroke.verdict.stroke.strain >= CARE:
            share = 100 * stroke.verdict.stroke.strain
            phrases.append(
                msg(
                    "Bend {number} takes {share:.0f} % of a rating: the press maker's own chart "
                    "decides.",
                    number=stroke.number,
                    share=share,
                )
            )
    return tuple(phrases)


FLAT_BACK = 170.0
"""Degrees from which a hand fold is the far half of an ear, laid back on the near one: it goes with
it."""


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
                msg(
                    "First, while the sheet is flat, on a tool of its own: {tool}.",
                    tool=listed(tool),
                ),
                HandMeans.OWN_TOOL,
            )
        )
    for stroke in strokes:
        v = stroke.verdict
        if v.by_hand > 0:
            by = hand_tool(blank, v.stroke.setting.fold, v.by_hand)
            if by is not None:
                how = by.says.filled(fold=the(stroke.name))
                far = msg("{how}: {angle} more.") if v.short > 0 else msg("{how}: {angle} back.")
                message = far.filled(how=Raised(how), angle=Angle(v.by_hand))
                # The bends after it were judged with the fold as the brake left it.
                steps.append(HandStep(len(strokes), (stroke.name,), message, by.means))
    if blank.creases:
        # The ears go before the walls that carry them are closed.
        closing = [s.number for s in strokes if s.verdict.stroke.setting.start > 0]
        ears = tuple(
            f.name for f in blank.folds if f.made_by is MadeBy.HAND and abs(f.angle) < FLAT_BACK
        )
        message = msg(
            "Crease the ears along their 45° lines by hand and lay them against the walls, before "
            "the last walls are closed."
        )
        steps.append(
            HandStep(min(closing) - 1 if closing else len(strokes), ears, message, HandMeans.HAND)
        )
    else:
        slotted = tuple(f.name for f in blank.folds if f.made_by is MadeBy.HAND)
        if slotted:
            message = msg(
                "By hand, in a vise, along the slots: {slotted}.", slotted=listed(slotted)
            )
            steps.append(HandStep(len(strokes), slotted, message, HandMeans.VISE))
    seamed = [i for i, f in enumerate(blank.folds) if f.made_by is MadeBy.SEAMER]
    if seamed:
        deep = max(
            seamer_depth(blank, i) or max(blank.small_tools.seamers, default=LIP) for i in seamed
        )
        names = tuple(blank.folds[i].name for i in seamed)
        message = msg(
            "Last, by hand, turn {lips} with a seamer or folder {depth} deep, pressed in while it "
            "turns: the ends first, a third of"
            " the angle at a pass.",
            lips=the(listed(names)),
            depth=Length(deep, units),
        )
        steps.append(HandStep(len(strokes), names, message, HandMeans.SEAMER))
    return tuple(sorted(steps, key=lambda s: s.after))
