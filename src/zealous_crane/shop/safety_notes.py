"""Cautions, each where the danger is, the first time and every time. Common practice, no source."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from ..bending.machine import NARROW_FOLD, Doing
from ..bending.machines import machine_of
from ..i18n import Message, Phrase, msg
from ..planning.hand_finishing import HandMeans
from ..planning.plan import HandStep, Plan, PlannedStroke

FIRST = msg("The machine's own manual, local codes and licensed trades come first.")

LONG, HEAVY = 1800.0, 20.0
"""mm and kg from which a sheet is held by two. Common practice, no source."""


class CautionStep(StrEnum):
    """Where a caution belongs."""

    ALWAYS = "always"
    CUTTING = "cutting"
    SETTING_UP = "setting-up"
    BENDING = "bending"
    BY_HAND = "by-hand"


@dataclass(frozen=True)
class Caution:
    """One caution.

    Attributes:
        step: where it belongs.
        text: what to look out for, in a sentence.
        first: it is the first time in the work: it stands largest then.
    """

    step: CautionStep
    text: Phrase
    first: bool = True


def _of_stroke(plan: Plan, stroke: PlannedStroke) -> list[tuple[CautionStep, Message]]:
    """What belongs to a stroke by what is done in it: (step, text)."""
    setup, setting = plan.setups[stroke.setup], stroke.verdict.stroke.setting
    begins = stroke.number == setup.strokes[0]
    several = sum(len(block.widths) for block in (*setup.blocks, *setup.die_blocks)) > 1
    length = sum(plan.blank.folds[i].length for i in setting.folds)
    now = {
        Doing.ADJUSTING: begins,
        Doing.CHANGING_PIECES: begins and several,
        Doing.BENDING: True,
        Doing.COUNTERWEIGHT: bool(getattr(plan.brake, "counterweight", False)),
        Doing.NARROW: length < NARROW_FOLD,
    }
    setting_up = (Doing.ADJUSTING, Doing.CHANGING_PIECES)
    lines = [
        (CautionStep.SETTING_UP if doing in setting_up else CautionStep.BENDING, text)
        for doing, text in machine_of(plan.brake).cautions
        if now[doing]
    ]
    if stroke.number == 1:
        lines.append(
            (
                CautionStep.BENDING,
                msg("Bend a test strip of this sheet first: the over-bend is an estimate."),
            )
        )
    sheet = plan.blank.sheet
    weight = plan.blank.area * sheet.thickness * sheet.metal.density * 1e-9
    if max(plan.blank.size) > LONG or weight > HEAVY:
        lines.append(
            (CautionStep.BENDING, msg("Two people: a long or heavy sheet whips as it comes up."))
        )
    return lines


def _of_hand(step: HandStep) -> list[tuple[CautionStep, Message]]:
    """What belongs to work without the brake."""
    if step.by is HandMeans.OWN_TOOL:
        return [
            (
                CautionStep.BY_HAND,
                msg("Fingers clear of rolls and jaws; gloves off near anything that turns."),
            )
        ]
    return [
        (
            CautionStep.BY_HAND,
            msg("Support the wall behind the fold; strike away from the hand that holds it."),
        )
    ]


def cautions_at(plan: Plan, step: PlannedStroke | HandStep) -> tuple[Caution, ...]:
    """The cautions that belong to one step, those said the first time first."""
    seen: set[Message] = set()
    for earlier in plan.steps:
        sentence = (
            _of_stroke(plan, earlier) if isinstance(earlier, PlannedStroke) else _of_hand(earlier)
        )
        if earlier is step:
            result = [Caution(where, text, text not in seen) for where, text in sentence]
            return tuple(sorted(result, key=lambda caution: not caution.first))
        seen |= {text for _, text in sentence}
    return ()


def cautions_for(plan: Plan) -> tuple[Caution, ...]:
    """The cautions that belong on this job's sheet, in working order, each once."""
    lines = [
        Caution(CautionStep.ALWAYS, FIRST),
        Caution(
            CautionStep.CUTTING,
            msg(
                "Fingers clear of the shear's hold-down, foot clear of its treadle; never reach "
                "past the guard."
            ),
        ),
        Caution(
            CautionStep.CUTTING,
            msg(
                "Cut edges and slivers: gloves to carry sheet, none near anything that turns. Eye "
                "protection."
            ),
        ),
    ]
    for step in plan.steps:
        lines += [caution for caution in cautions_at(plan, step) if caution.first]
    return tuple(lines)
