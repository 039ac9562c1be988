"""What a plan says: the verdict, why not, what to watch, what is done without the brake."""

from __future__ import annotations

from collections.abc import Sequence

from ...blank import Blank, MadeBy
from ...brake import Brake
from ...brake.force import CARE
from ...measure import Units, show_angle
from ..order.hand import hand_limit, hand_tool
from ..order.route import Failure, Moves
from ..stroke.machine import Words
from ..stroke.machines import machine_of
from ..stroke.sections import fit, why_no_fit
from ..stroke.verdict import Verdict
from .plan import NARROW, HandStep, PlannedStroke, Setup


def listed(names: Sequence[str]) -> str:
    """``a, b and c``."""
    return names[0] if len(names) == 1 else ", ".join(names[:-1]) + " and " + names[-1]


def plural(count: int, one: str) -> str:
    """``1 stroke``, ``2 strokes``."""
    return f"{count} {one}" + ("" if count == 1 else "s")


def why(verdict: Verdict, blank: Blank, units: Units) -> str:
    """Why a stroke is of no use, without its name."""
    if verdict.blocked is not None:
        return verdict.blocked.text(units)
    if verdict.demand is not None:
        widths, tooling = verdict.demand.widths, verdict.tooling
        for rack in tooling.racks:
            said = why_no_fit(widths, rack, units)
            if fit(widths, rack) is None:
                return said
    stop = f"it stops at {show_angle(verdict.reach)}"
    if verdict.limit is not None:
        stop += f", where the {verdict.limit.obstacle.body} meets the {verdict.limit.obstacle.tool}"
    limit = hand_limit(blank, verdict.stroke.setting.fold)
    if limit <= 0:
        return f"{stop}; metal this thick is not brought round by hand"
    return f"{stop}, and {show_angle(verdict.by_hand)} is more than the {show_angle(limit)} a hand can finish"


def no_order(failure: Failure, blank: Blank, words: Words, units: Units, moves: Moves) -> tuple[str, tuple[str, ...]]:
    """Where no order gets past, and every reason."""
    up = f"with the {listed(failure.made)} up, " if failure.made else ""
    nearest = failure.verdicts[0]
    first = f"{up}the {nearest.stroke.setting.name} cannot be folded — {why(nearest, blank, units)}"
    ways: dict[tuple[str, str], dict[str, list[str]]] = {}
    for verdict in failure.verdicts:
        setting = verdict.stroke.setting
        side = f"{blank.panels[setting.clamped].name} {words.held}"
        ways.setdefault((setting.name, why(verdict, blank, units)), {}).setdefault(side, []).append(verdict.tooling.says)
    reasons = [
        f"{name[:1].upper()}{name[1:]}, {'; '.join(_held(side, says) for side, says in sides.items())}: {reason}."
        for (name, reason), sides in ways.items()
    ]
    tried = "Every order of whole strokes"
    if moves.part_way or moves.over:
        tried = "Every order, with folds left part way" + (" or bent over" if moves.over else "") + " too"
    reasons.append(
        f"{tried}, {words.tried}, was tried." if failure.complete else "Not every order was tried; there are too many of them."
    )
    return first, tuple(reasons)


def _held(side: str, says: Sequence[str]) -> str:
    """A side clamped, and with what out of the ordinary the same comes out: ``base clamped (also the leaf's angle off)``."""
    special = [s for s in dict.fromkeys(says) if s]
    if not special:
        return side
    many = f"with each of {len(special)} {'other ' if '' in says else ''}set-ups"
    return f"{side} ({'also ' if '' in says else ''}{many if len(special) > 2 else '; '.join(special)})"


def verdict_sentence(strokes: Sequence[PlannedStroke], setups: Sequence[Setup], words: Words) -> str:
    """``Can be made: 7 strokes, 2 finger set-ups, last wall 5° by hand.``"""
    text = f"Can be made: {plural(len(strokes), 'stroke')}, {plural(len(setups), words.set_up)}"
    if any(s.station for s in setups):
        text += " side by side on the bed"
    hand = [s for s in strokes if s.verdict.by_hand > 0]
    off = max((s.verdict.off for s in strokes), default=0.0)
    if not hand and off:
        return text + f", every bend within ±{show_angle(strokes[0].verdict.tolerance)} of its angle."
    if not hand:
        return text + ", every bend reaches its angle."
    short, over = [s for s in hand if s.verdict.short > 0], [s for s in hand if s.verdict.short <= 0]
    if short:
        last = short[-1].number == len(strokes) and len(short) == short[-1].number - short[0].number + 1
        which = (
            plural(len(short), "wall") if not last else "the last wall" if len(short) == 1 else f"the last {len(short)} walls"
        )
        text += f", {which} stopping short and finished by hand (up to {show_angle(max(s.verdict.by_hand for s in short))})"
    if over:
        by = show_angle(max(s.verdict.by_hand for s in over))
        text += f", {plural(len(over), 'wall')} bent over and opened by hand (by {by})"
    return text + "."


def watch(strokes: Sequence[PlannedStroke]) -> tuple[str, ...]:
    """What to look out for."""
    said: list[str] = []
    for stroke in strokes:
        if stroke.verdict.by_hand > 0:
            said.append(stroke.sentence())
        elif stroke.clearance < NARROW:
            said.append(f"Bend {stroke.number} leaves only {stroke.room}; bring it up slowly and look.")
        if stroke.verdict.stroke.strain >= CARE:
            share = 100 * stroke.verdict.stroke.strain
            said.append(f"Bend {stroke.number} takes {share:.0f} % of a rating: the press maker's own chart decides.")
    return tuple(said)


def own_watch(strokes: Sequence[PlannedStroke], brake: Brake, units: Units) -> tuple[str, ...]:
    """What the machine itself has to say about its strokes, each thing once."""
    said = (machine_of(brake).watch(stroke.verdict.stroke, units) for stroke in strokes)
    return tuple(dict.fromkeys(text for text in said if text is not None))


FLAT_BACK = 170.0
"""Degrees from which a hand fold is the far half of an ear, laid back on the near one: it goes with it."""


def aside(blank: Blank, strokes: Sequence[PlannedStroke]) -> tuple[HandStep, ...]:
    """What is made without the brake, in its place in the order."""
    steps: list[HandStep] = []
    tool = tuple(f.name for f in blank.folds if f.made_by is MadeBy.TOOL)
    if tool:
        steps.append(HandStep(0, tool, f"First, while the sheet is flat, on a tool of its own: {listed(tool)}.", "own tool"))
    for stroke in strokes:
        v = stroke.verdict
        if v.by_hand > 0:
            found = hand_tool(blank, v.stroke.setting.fold, v.by_hand)
            if found is not None:
                how = found.says.format(fold=stroke.name)
                said = f"{how[:1].upper()}{how[1:]}: {show_angle(v.by_hand)} {'more' if v.short > 0 else 'back'}."
                # The bends after it were judged with the fold as the brake left it.
                steps.append(HandStep(len(strokes), (stroke.name,), said, found.name))
    if blank.creases:
        # The ears go before the walls that carry them are closed.
        closing = [s.number for s in strokes if s.verdict.stroke.setting.start > 0]
        ears = tuple(f.name for f in blank.folds if f.made_by is MadeBy.HAND and abs(f.angle) < FLAT_BACK)
        said = "Crease the ears along their 45° lines by hand and lay them against the walls, before the last walls are closed."
        steps.append(HandStep(min(closing) - 1 if closing else len(strokes), ears, said, "hand"))
    else:
        slotted = tuple(f.name for f in blank.folds if f.made_by is MadeBy.HAND)
        if slotted:
            said = f"By hand, in a vise, along the slots: {listed(slotted)}."
            steps.append(HandStep(len(strokes), slotted, said, "vise"))
    return tuple(sorted(steps, key=lambda s: s.after))
