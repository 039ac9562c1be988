"""An exercise: a part, what is asked of it, and how each answer is marked."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property

from ..brake.brake import Brake
from ..flat.blank import Blank
from ..flat.on_brake import flat_for
from ..i18n import LabelledEnum, Message, choice_words, msg, tr
from ..job.job import Job
from ..planning.outcome import Outcome
from ..planning.plan import Plan, PlannedStroke
from ..planning.planner import make_plan
from ..schema.model import is_length, unwrapped
from ..units.length import show_length
from ..units.quantities import show_angle

CAUTIONS = (
    msg(
        "At a real machine: guards on, hands clear of clamp and leaf, nobody in the swing; the "
        "machine's own manual comes first."
    ),
    msg("Bend a test strip of the same metal before the part."),
)
"""Stand with every exercise at a machine."""


@dataclass(frozen=True)
class Assignment:
    """What an exercise is made from.

    Attributes:
        id: of the exercise.
        grade: how hard it is, from 1.
        job: the part.
        brake: the machine it is bent on.
        seed: the same gives the same exercise.
    """

    id: str
    grade: int
    job: Job
    brake: Brake
    seed: int

    @cached_property
    def blank(self) -> Blank:
        """The flat for that machine.

        Raises:
            DevelopmentError: the part has none.
        """
        return flat_for(self.job, self.brake)

    @cached_property
    def plan(self) -> Plan | None:
        """The plan; None where the part cannot be bent there, or has nothing to bend."""
        plan = make_plan(self.job, self.brake)
        return None if plan.state is Outcome.STOP or not plan.strokes else plan

    def exercise(
        self,
        skill: Skill,
        task: str,
        questions: Sequence[Question],
        *,
        at_the_machine: bool = False,
        table: Sequence[str] = (),
    ) -> Exercise:
        """The exercise that asks this of the part.

        Args:
            skill: what is practised.
            task: what is to be done, in a sentence or two.
            questions: what is asked, in the order a hand works.
            at_the_machine: it is done at the brake: the plan belongs to it, and the cautions.
            table: what is known already, a line each.
        """
        plan = self.plan if at_the_machine else None
        return Exercise(
            id=self.id,
            skill=skill,
            grade=self.grade,
            task=task,
            job=self.job,
            blank=self.blank if plan is None else plan.blank,
            brake=self.brake,
            questions=tuple(questions),
            cautions=() if plan is None else CAUTIONS,
            plan=plan,
            table=tuple(table),
        )


@dataclass(frozen=True)
class Skill:
    """What is practised.

    Attributes:
        key: its name in identifiers.
        label: its name as it is read.
        make: sets an exercise; None where the part gives nothing to ask.
    """

    key: str
    label: Message
    make: Callable[[Assignment], Exercise | None]

    @property
    def words(self) -> str:
        """As it is read."""
        return str(self.label)


class QuestionKind(StrEnum):
    """How an answer is given."""

    LENGTH = "length"
    ANGLE = "angle"
    CHOICE = "choice"
    ORDER = "order"


@dataclass(frozen=True)
class Mark:
    """What is said of an answer.

    Attributes:
        right: it does.
        says: why, or which mistake it looks like; never more than the person needs to go on.
        stroke: what to look at: where the part gets stuck.
    """

    right: bool
    says: str
    stroke: PlannedStroke | None = None


Marker = Callable[[object], Mark]


@dataclass(frozen=True)
class Question:
    """One thing asked.

    Attributes:
        key: its name in the exercise.
        says: what is asked.
        kind: how it is answered: mm, degrees, one of ``options`` by number, or their order as a
            tuple of numbers.
        mark: marks an answer of that kind.
        hint: a rule that leads to the answer.
        answer: the answer, in words.
        options: to choose from, or to put in order.
    """

    key: str
    says: str
    kind: QuestionKind
    mark: Marker
    hint: str
    answer: str
    options: tuple[str, ...] = ()


@dataclass(frozen=True, eq=False)
class Exercise:
    """One exercise.

    Attributes:
        id: says which it is, so that it can be set again: skill, grade and seed, or the name of a
            part.
        skill: what is practised.
        grade: 1 to 3.
        task: what is to be done, in a sentence or two.
        job, blank: the part.
        brake: the machine it is bent on.
        questions: what is asked, in the order a hand works.
        cautions: what to mind at the machine; none where no machine is near.
        plan: of the part, where the exercise stands at the machine.
        table: what is known already, a line each.
    """

    id: str
    skill: Skill
    grade: int
    task: str
    job: Job
    blank: Blank
    brake: Brake
    questions: tuple[Question, ...]
    cautions: tuple[Message, ...] = ()
    plan: Plan | None = None
    table: tuple[str, ...] = ()

    @property
    def given(self) -> tuple[str, ...]:
        """The sizes of the part as the drawing gives them, a line each."""
        part, units, result = self.job.part, self.job.units, []
        for name, info in type(part).model_fields.items():
            kind, metadata, _ = unwrapped(info.annotation, list(info.metadata))
            value = getattr(part, name)
            words = tr(info.title or name.replace("_", " ").capitalize())
            if kind is float and is_length(metadata) and value is not None:
                result.append(f"{words}: {show_length(value, units, pretty=True)}")
            elif isinstance(value, tuple) and value and all(isinstance(v, float) for v in value):
                lengths = name not in ("angles", "ways")
                shown = [
                    show_length(v, units, pretty=True) if lengths else show_angle(v) for v in value
                ]
                result.append(f"{words}: {', '.join(shown)}")
            elif isinstance(value, LabelledEnum):
                result.append(f"{words}: {value.words}")
            elif isinstance(value, StrEnum) or (isinstance(value, str) and name not in ("kind",)):
                result.append(f"{words}: {choice_words(value)}")
        school = self.job.chosen_school
        figures = ", ".join(
            f"{k.upper()} {v:g}" for k, v in school.model_dump().items() if isinstance(v, float)
        )
        result.append(
            tr("Bend allowance: {school}").format(school=school.label)
            + (f" ({figures})" if figures else "")
        )
        result.append(
            tr("Thickness: {thickness}").format(
                thickness=show_length(self.blank.thickness, units.fine)
            )
        )
        # The radius that is counted with is the machine's where the drawing names none.
        radii = sorted(
            {round(fold.bend.radius, 3) for fold in self.blank.folds if not fold.bend.folded_back}
        )
        if any(radii):
            radius_words = ", ".join(show_length(radius, units.fine) for radius in radii)
            result.append(tr("Inside radius: {radius}").format(radius=radius_words))
        return tuple(result)
