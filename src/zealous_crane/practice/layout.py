"""Laying out: the blank's sizes, the scribe settings, the relief. A wrong figure is traced to the
mistake it comes of."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from ..flat.blank import Blank
from ..flat.element import MadeBy
from ..flat.marking import ScribeSetting, mark_out
from ..flat.ruler import Striking
from ..i18n import msg, tr
from ..units.length import Units, show_length
from ..units.sums import Sum, SumKind
from .exercise import Assignment, Exercise, Mark, Question, QuestionKind, Skill

MOST_SETTINGS = 4
"""Scribe settings asked for at most."""

TOLD = 0.02
"""mm; lines nearer than this are one."""


def tick(units: Units) -> float:
    """How near (mm) an answer must come: half a sixty-fourth, or a quarter of a millimetre."""
    return 25.4 / 64 * 0.51 if units.is_inch else 0.26


def mistakes(total: Sum, thickness: float, other: float | None) -> Iterator[tuple[float, str]]:
    """Wrong totals (mm) of a sum, each with the mistake it comes of.

    Args:
        total: the sum as it is right.
        thickness: of the sheet, mm.
        other: the size across, mm; None where there is none.
    """
    for term in total.terms:
        if abs(term.value) < 1e-6 or not term.count:
            continue
        step = term.value if term.count > 0 else -term.value
        sides = abs(term.count)
        yield total.total - step * sides, tr("The {what} was forgotten.").format(what=term.what)
        if sides > 1:
            yield (
                total.total - step * (sides - 1),
                tr("The {what} was counted on one side only.").format(what=term.what),
            )
        yield total.total + step * sides, tr("The {what} was taken twice.").format(what=term.what)
        yield (
            total.total - 2 * step * sides,
            tr("The {what} was taken away where it is added, or the other way.").format(
                what=term.what
            ),
        )
    for count in (1, 2):
        for sign in (1, -1):
            yield (
                total.total + sign * count * thickness,
                tr(
                    "That is off by the thickness of the sheet: an inside size was taken for an "
                    "outside one, or the other way."
                ),
            )
    if other is not None:
        yield other, tr("That is the size across: length and width were exchanged.")


def _length(  # noqa: PLR0913
    key: str,
    says: str,
    right: float,
    sum_: Sum | None,
    wrong: list[tuple[float, str]],
    units: Units,
    hint: str,
) -> Question:
    shown = show_length(right, units, pretty=True)

    def mark(answer: object) -> Mark:
        assert isinstance(answer, (int, float))
        if abs(float(answer) - right) <= tick(units):
            return Mark(
                True,
                tr("Right: {sum}.").format(
                    sum=sum_.text(units, pretty=True) if sum_ is not None else shown
                ),
            )
        for value, why in wrong:
            if abs(value - right) > tick(units) and abs(float(answer) - value) <= tick(units):
                return Mark(False, why)
        # How much would be the answer itself.
        return Mark(False, tr("Too much.") if float(answer) > right else tr("Too little."))

    return Question(
        key,
        says,
        QuestionKind.LENGTH,
        mark,
        hint,
        shown if sum_ is None else sum_.text(units, pretty=True),
    )


def _told(
    blank: Blank, asked: Sequence[ScribeSetting], spans: dict[str, float], units: Units
) -> Iterator[str]:
    """What no size of the part gives: how far lines of tabs and of notches lie beside the fold
    lines of what stands on the base.

    Args:
        blank: the flat.
        asked: settings that are asked for.
        spans: the blank's size across each edge it is struck from, mm.
        units: of the job.
    """
    plain = []
    for fold in blank.folds:
        axis = 0 if abs(fold.outward[0]) > abs(fold.outward[1]) else 1
        if not blank.panels[fold.child].lies_on and fold.made_by in (MadeBy.BRAKE, MadeBy.HEM):
            plain += [float(fold.start[axis]), blank.size[axis] - float(fold.start[axis])]
    for number, setting in enumerate(asked, start=1):
        nearest = min(plain, key=lambda at: abs(at - setting.setting), default=None)
        if nearest is None or (abs(nearest - setting.setting) < TOLD and setting.kind == "fold"):
            continue
        by = setting.setting - nearest
        words = (
            tr("Scribe setting {number} lies {by} farther in than the fold line nearest to it.")
            if by > 0
            else tr(
                "Scribe setting {number} lies {by} farther out than the fold line nearest to it."
            )
        )
        if abs(by) < TOLD:
            words = tr("Scribe setting {number} lies on a fold line.")
        yield words.format(number=number, by=show_length(abs(by), units, pretty=True))


def lay_out(assignment: Assignment) -> Exercise | None:
    """The exercise of laying out a part."""
    job, blank = assignment.job, assignment.blank
    units, questions = job.units, []
    sizes = [s for s in blank.sums if s.kind is SumKind.BLANK][:2]
    for axis, (name, total) in enumerate(zip((tr("length"), tr("width")), sizes, strict=False)):
        wrong = list(mistakes(total, blank.thickness, blank.size[1 - axis]))
        hint = tr("Add every flat along the line from edge to edge: {terms}.").format(
            terms=", ".join(str(t.what) for t in total.terms)
        )
        questions.append(
            _length(
                f"blank-{axis}",
                tr("Blank, {name} (left to right first)").format(name=name)
                if not axis
                else tr("Blank, {name}").format(name=name),
                total.total,
                total,
                wrong,
                units,
                hint,
            )
        )
    marking = mark_out(blank, units, Striking.of(job))
    spans = {
        "left": blank.size[0],
        "right": blank.size[0],
        "front": blank.size[1],
        "back": blank.size[1],
    }
    for number, setting in enumerate(marking.scribe[:MOST_SETTINGS], start=1):
        wrong = [
            (spans[e] - setting.setting, tr("That is measured from the far edge."))
            for e in setting.edges
        ]
        wrong += [
            (s.setting, tr("That is another setting: the scribe is set to the smallest first."))
            for s in marking.scribe
            if s != setting
        ]
        for by, why in (
            (
                blank.thickness,
                tr("That is off by one thickness: inside and outside were exchanged."),
            ),
            (
                blank.folds[0].bend.allowance if blank.folds else 0.0,
                tr("That is off by a whole bend allowance: it was taken twice, or forgotten."),
            ),
            (
                blank.folds[0].bend.allowance / 2 if blank.folds else 0.0,
                tr(
                    "That is off by half a bend allowance: the line lies in the middle of the bend."
                ),
            ),
        ):
            if by > 1e-6:
                wrong += [(setting.setting + by, why), (setting.setting - by, why)]
        says = tr("Scribe setting {number}, {purpose}, from {edges}").format(
            number=number, purpose=setting.purpose, edges=setting.struck_from
        )
        hint = tr("Begin at the edge named and add what lies between it and the line.")
        questions.append(
            _length(f"scribe-{number}", says, setting.setting, None, wrong, units, hint)
        )
    table = tuple(_told(blank, marking.scribe[:MOST_SETTINGS], spans, units))
    if blank.reliefs:
        relief = blank.reliefs[0]
        asks = tr("The rule asks for a relief of at least {least}.").format(
            least=show_length(relief.least, units.fine)
        )
        table = (*table, asks, job.small_tools.wall_words(units))
        wrong = [
            (
                relief.least,
                tr("So much is needed; take the next punch or drill on the wall above it."),
            )
        ]
        questions.append(
            _length(
                "relief",
                tr("Relief at the corner, diameter of the punch or drill"),
                relief.size,
                None,
                wrong,
                units,
                tr("What the rule asks, rounded up to the next tool on the wall."),
            )
        )
    task = tr(
        "Lay out {quantity} × {name}, {sheet}: type what you would set rule and scribe to."
    ).format(quantity=job.quantity, name=job.name, sheet=blank.sheet.name)
    return assignment.exercise(LAY_OUT, task, questions, table=table)


LAY_OUT = Skill("lay-out", msg("Lay out"), lay_out)
