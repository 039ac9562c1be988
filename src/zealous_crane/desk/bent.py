"""What was bent of a plan at this brake: the angles that came out, what a first part taught, and what the book makes of it."""

from __future__ import annotations

from typing import Literal

from ..measure import AngleError, parse_angle, show_angle
from ..measure.words import tr
from ..plan.result.approach import ends_text, first_stop, stopped_at, went_on, went_on_text
from ..plan.result.got import Came, answer, answer_text
from ..plan.result.plan import Plan, PlannedStroke
from ..plan.result.set_up import SetUp, set_up_of
from ..shop.book.record import BendRecord
from ..shop.learnt import Learnt, Place
from .session import Session


class Bent:
    """Counts for one plan, from the first step on.

    Attributes:
        got: degrees that came out, by the number of the stroke.
        first_part: a part is crept up to: stopped early, let go, measured, gone on with.
    """

    def __init__(self, session: Session) -> None:
        self._session = session
        self.first_part = False
        self.got: dict[int, float] = {}
        self._taught: dict[int, float] = {}
        self._parts: dict[str, int] = {}

    def forget(self) -> None:
        """Another plan: what came out of the one before means nothing for it."""
        self.got.clear()
        self._taught.clear()

    def begin(self) -> None:
        """The first step of the first part."""
        self.forget()
        self._parts.clear()
        self._session.book.load()

    def read(self, plan: Plan, text: str) -> list[float]:
        """The angle as typed, bent from flat, degrees; two where both ends were measured, left and right.

        Raises:
            AngleError: it is no angle, or none that a bend can have.
        """
        read = [plan.job.angles.read(parse_angle(each)) for each in text.split("/")]
        if not all(0 < angle <= 180 for angle in read):
            raise AngleError(tr("An angle between 0° and 180°, {how}.").format(how=plan.job.angles.words))
        if len(read) > 2:
            raise AngleError(tr("One angle, or that of the left and of the right end: 89/91."))
        return read

    def take(self, plan: Plan, stroke: PlannedStroke, read: list[float]) -> str | None:
        """Write into the book what came out, and what a first part teaches; what that was, or None where it was no first part."""
        found = set_up_of(plan, stroke)
        first, mean = self.first_stop(stroke, found), sum(read) / len(read)
        self._note(plan, stroke, read, first)
        if first is None:
            self.got[stroke.number] = mean
            return None
        learnt = went_on(found, first, mean)
        self._taught[stroke.number] = learnt.stop
        return went_on_text(learnt, mean, plan.job.angles)

    def ends(self, read: list[float]) -> str:
        """What two ends say of the machine; nothing where one angle was read."""
        return ends_text(*read) if len(read) == 2 else ""

    def first_stop(self, stroke: PlannedStroke, found: SetUp) -> float | None:
        """Degrees to stop a first part at before it is measured; None when it was, or no first part is made."""
        if not self.first_part or stroke.number in self._taught:
            return None
        return first_stop(stroke, found)

    def set_up(self, plan: Plan, stroke: PlannedStroke) -> SetUp:
        """What is set for a stroke, with the stop its first part taught."""
        found = set_up_of(plan, stroke)
        return stopped_at(found, self._taught[stroke.number]) if stroke.number in self._taught else found

    def answer(self, plan: Plan, stroke: PlannedStroke) -> tuple[str, str | None]:
        """What the angle that came out means, and what the book says to it, where that is more than it expects; the next part's
        stop has one source, and is said once."""
        known = self._learnt(plan, stroke)
        found = answer(stroke, self.set_up(plan, stroke), self.got[stroke.number], known[1] if known else None)
        said = None
        if known is not None and found.came is Came.FAR:
            said = tr("The book: springs back {learnt}.").format(learnt=known[0].text())
        return answer_text(stroke, found, plan.job.angles), said

    def expected(self, plan: Plan, stroke: PlannedStroke) -> str:
        """What the book expects of a stroke; empty where it knows nothing."""
        known = self._learnt(plan, stroke)
        said = tr("The book: springs back {learnt}. Stop the next part at {stop}.")
        return "" if known is None else said.format(learnt=known[0].text(), stop=show_angle(known[1]))

    def _note(self, plan: Plan, stroke: PlannedStroke, read: list[float], first: float | None) -> None:
        """Write the bend into the book, both ends by themselves where they were read."""
        job, found = plan.job, self.set_up(plan, stroke)
        if stroke.verdict.flattens:
            return  # a hem's first stroke is flattened: how far it sprang back is of no use
        part = self._parts[stroke.name] = self._parts.get(stroke.name, 0) + 1
        ends: tuple[Literal["", "left", "right"], ...] = ("left", "right") if len(read) == 2 else ("",)
        for got, end in zip(read, ends, strict=True):
            self._session.book.note(
                BendRecord(
                    job=job.name, part=part, stroke=stroke.name, machine=plan.brake.key, tool=stroke.verdict.tooling.key,
                    metal=job.metal, thickness=plan.blank.thickness, angle=found.target,
                    stop=found.stop_angle if first is None else first, got=got, end=end,
                )
            )  # fmt: skip

    def _learnt(self, plan: Plan, stroke: PlannedStroke) -> tuple[Learnt, float] | None:
        """What the book knows of a stroke, and where it says to stop; None where it was never bent here."""
        place = Place(plan.job.metal, plan.blank.thickness, plan.brake.key, stroke.verdict.tooling.key)
        learnt = self._session.book.learnt(place, self._session.rack, self._session.settings.every_metal)
        if stroke.verdict.flattens or not learnt.here:
            return None
        found = set_up_of(plan, stroke)
        return learnt, min(learnt.stop(found.target), found.greatest)
