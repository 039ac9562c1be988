"""A part that was measured and is wrong: which bend was it?"""

from __future__ import annotations

import random

import numpy as np

from ..flat.blank import Blank
from ..flat.ruler import Striking
from ..i18n import msg, the, tr
from ..inspection.explain import SHARE, Explanation, causes_of, explain, worth_measuring
from ..inspection.measures import measures_of
from ..inspection.model import Cause, Measure, Model, Off, What
from ..inspection.wording import advice
from ..units.length import show_length
from ..units.quantities import show_angle
from .exercise import Assignment, Exercise, Mark, Question, QuestionKind, Skill

WRONG = {Off.ANGLE: 4.0, Off.LINE: 2.0, Off.ALLOWANCE: 0.5, Off.CUT: 2.5}
"""By how much a planted fault is off, degrees or mm, at most; from six tenths of it on."""

TRIES = 40


def fault(assignment: Assignment) -> Exercise | None:
    """The exercise of finding a planted fault that the figures tell from every other; None where no
    try gives one."""
    job, blank = assignment.job, assignment.blank
    rng = random.Random(assignment.seed)
    measures, striking = measures_of(blank, job.datum, job.measured_inside), Striking.of(job)
    model = Model(blank, striking)
    asked = worth_measuring(blank, measures, 6 if assignment.grade == 1 else 8, striking)
    wanted = model.values(asked, {})
    causes = [c for c in causes_of(blank) if c.off in WRONG and c.off in SHARE]
    for _ in range(TRIES):
        cause = rng.choice(causes)
        by = rng.choice((-1, 1)) * WRONG[cause.off] * rng.uniform(0.6, 1.0)
        got = model.values(asked, {cause: by})
        got = np.array(
            [
                round(v * 10) / 10 if m.what is What.ANGLE else round(v / 0.05) * 0.05
                for v, m in zip(got, asked, strict=True)
            ]
        )
        explanation = explain(
            blank, measures, dict(zip((m.key for m in asked), got.tolist(), strict=True)), striking
        )
        certain = explanation.certain
        if certain is not None and certain.cause == cause:
            return _set(
                assignment,
                (cause, by),
                causes,
                rng,
                [(m, w, g) for m, w, g in zip(asked, wanted, got, strict=True)],
            )
    return None


FAULT = Skill("fault", msg("Find the fault"), fault)


def _name(cause: Cause, blank: Blank) -> str:
    fold = blank.folds[cause.fold].name if cause.fold >= 0 else ""
    return {
        Off.ANGLE: tr("the angle of {fold}"),
        Off.LINE: tr("the line of {fold}"),
        Off.ALLOWANCE: tr("the allowance of every bend"),
        Off.CUT: tr("the blank cut too long or short")
        if cause.axis == 0
        else tr("the blank cut too wide or narrow"),
    }[cause.off].format(fold=the(fold))


def _set(
    assignment: Assignment,
    planted: tuple[Cause, float],
    causes: list[Cause],
    rng: random.Random,
    figures: list[tuple[Measure, float, float]],
) -> Exercise:
    """The exercise of one planted fault, with what would be measured: (measure, wanted, got)."""
    job, blank = assignment.job, assignment.blank
    cause, by = planted
    others = [c for c in causes if c != cause]
    options = tuple(
        sorted(
            {
                _name(cause, blank),
                *(
                    _name(c, blank)
                    for c in rng.sample(others, min(4 + assignment.grade, len(others)))
                ),
            }
        )
    )
    right = options.index(_name(cause, blank))
    units = job.units

    def shown(measure: Measure, value: float) -> str:
        return (
            show_angle(round(value, 1))
            if measure.what is What.ANGLE
            else show_length(value, units.fine)
        )

    table = tuple(
        tr("{what}: wanted {wanted}, measured {got}").format(
            what=m.says, wanted=shown(m, w), got=shown(m, g)
        )
        for m, w, g in figures
    )
    told = advice(Explanation(cause, by, 1.0), blank, job)

    def mark(answer: object) -> Mark:
        number = int(answer)  # type: ignore[call-overload]
        if number == right:
            return Mark(True, f"{told.what} {told.next_part}")
        return Mark(
            False,
            tr("If it were {name}, other sizes would be off. Which ones are right?").format(
                name=options[number]
            ),
        )

    question = Question(
        "cause",
        tr("What went wrong?"),
        QuestionKind.CHOICE,
        mark,
        tr(
            "Look for a size that is right: whatever it crosses was right too. Angles first, then "
            "legs, then what crosses several bends."
        ),
        options[right],
        options,
    )
    task = tr("{name} was measured. Which one thing explains the figures?").format(name=job.name)
    return assignment.exercise(FAULT, task, (question,), table=table)
