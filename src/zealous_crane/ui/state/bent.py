"""What was bent of a plan at this brake: the hits of every bend, the stop of the next one, and what
the book makes of it."""

from __future__ import annotations

import re
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime, timedelta

from ...i18n import tr
from ...inspection.wording import wrong_way
from ...planning.angle_feedback import (
    Answer,
    answer,
    answer_text,
    ends_text,
    first_stop,
    hand_limit_of,
    within,
)
from ...planning.plan import Plan, PlannedStroke
from ...planning.setup import StrokeSettings, set_up_of
from ...shop.book.record import BendRecord, Hit, ReadingCondition
from ...shop.hierarchical_fit import BendContext
from ...shop.springback import Expected, Learnt, after_hits, expected_springback
from ...units.quantities import AngleError, parse_angle, show_angle
from .session import Session

UNLIKELY, UNLIKELY_SHARE = 10.0, 0.15
"""Degrees, and share of the angle expected, from which a reading is asked about before it is
booked: a slip of a key or of the protractor, or another way of reading. Common practice, no
source."""

STEADY = 0.3
"""Degrees within which an instrument that goes on sending sends the same reading."""


SAME_LOT = timedelta(hours=12)
"""A bend of the same job on the same tools booked within this time belongs to the lot that is on: a
shift."""


class UnlikelyReadingError(AngleError):
    """A reading far from what was expected; typed once more it is taken."""


class WrongWayError(AngleError):
    """A reading on the other side of flat."""


@dataclass(eq=False)
class BendProgress:
    """One bend, as the parts of a lot go through it.

    Attributes:
        part: number of the part that is bent, from 1.
        record: its hits so far; None before the first.
        answer: what the last of them means.
        is_done: the brake is done with this part.
        stop: degrees the person stopped the brake at for the next hit; None where it is the one
            advised.
        reading: how the bend stands when it is read next.
    """

    part: int = 1
    record: BendRecord | None = None
    answer: Answer | None = None
    is_done: bool = False
    stop: float | None = None
    reading: ReadingCondition = field(default=ReadingCondition.RELEASED)

    @property
    def is_new(self) -> bool:
        """True while nothing was done at this bend."""
        return self.part == 1 and self.record is None and self.stop is None


class Bent:
    """Counts for one plan, from the first step on.

    Attributes:
        first_part: a part is crept up to: stopped early, let go, measured, gone on with.
    """

    def __init__(self, session: Session) -> None:
        self._session = session
        self.first_part = False
        self._turns: dict[int, BendProgress] = {}
        self._doubted: tuple[int, str] | None = None

    def forget(self) -> None:
        """Another plan: what came out of the one before means nothing for it."""
        self._turns.clear()
        self._doubted = None

    def begin(self) -> None:
        """Somebody steps up to the brake: what was bent of this plan still counts."""
        self._session.book.read_again()

    def recall(self, plan: Plan) -> bool:
        """Go on with the lot the book holds, after the window was closed: number of the part, and a
        bend that was left short.

        Returns:
            True when something was found that was not known here.
        """
        since, job, result = datetime.now(UTC) - SAME_LOT, plan.job, False
        lot = [
            record
            for record in self._session.book.bends
            if (record.job, record.machine, record.metal) == (job.name, plan.brake.key, job.metal)
            and abs(record.thickness - plan.blank.thickness) < 1e-6
            and datetime.fromisoformat(record.made) > since
        ]
        for stroke in plan.strokes if lot else ():
            if stroke.number in self._turns and not self._turns[stroke.number].is_new:
                continue
            tool, target = stroke.verdict.tooling.key, set_up_of(plan, stroke).target
            ours = [
                r
                for r in lot
                if (r.stroke, r.tool) == (stroke.name, tool)
                and abs(r.angle - target) < 1e-6
                and r.every_hit
            ]
            if not ours:
                continue
            record = max(ours, key=lambda r: (r.part, r.made))
            turn = self._turns[stroke.number] = BendProgress(record.part, record)
            self._meaning(plan, stroke, self._expected(plan, stroke), record.every_hit[-1])
            if turn.is_done and record.part >= job.quantity:
                self._turns[stroke.number] = (
                    BendProgress()
                )  # that lot is through; what comes now is another
            else:
                result = True
        return result

    def turn(self, stroke: PlannedStroke) -> BendProgress:
        """The bend of a stroke as it stands."""
        return self._turns.setdefault(stroke.number, BendProgress())

    # --- what is typed ---------------------------------------------------------------------------

    def read(self, plan: Plan, text: str) -> list[float]:
        """The angle as typed, bent from flat, degrees; two where both ends were measured, left and
        right.

        Raises:
            WrongWayError: it is bent the other way.
            AngleError: it is no angle, or none that a bend can have.
        """
        result = [plan.job.angles.read(angle) for angle in read_ends(text)]
        if any(angle < 0 for angle in result):
            raise WrongWayError(wrong_way(min(result)))
        if not all(0 < angle <= 180 for angle in result):
            raise AngleError(
                tr("An angle between 0° and 180°, {how}.").format(how=plan.job.angles.words)
            )
        return result

    def stopped_at(self, plan: Plan, stroke: PlannedStroke, text: str) -> None:
        """The stop the next hit is made with, as typed, bent from flat; empty takes the one
        advised.

        Args:
            plan: the plan.
            stroke: the stroke.
            text: as typed.

        Raises:
            AngleError: it is no angle, or more than the stroke may be taken to.
        """
        turn = self.turn(stroke)
        if not text.strip():
            turn.stop = None
            return
        typed, most, engine = (
            parse_angle(text),
            set_up_of(plan, stroke).greatest,
            stroke.verdict.stroke,
        )
        if not 0 < typed <= 190:
            raise AngleError(tr("A stop between 0° and 190°, bent from flat."))
        stop = engine.sheet_at(typed)
        if stop > most + 0.05:
            raise AngleError(
                tr("This bend may go to {most} and no farther; something is met beyond.").format(
                    most=show_angle(engine.set_for(most))
                )
            )
        turn.stop = stop

    def take(
        self, plan: Plan, stroke: PlannedStroke, read: list[float], typed: str | None = None
    ) -> str:
        """Book a reading, and say what it means for the stop.

        Args:
            plan, stroke: what was bent.
            read: degrees from flat, one or both ends.
            typed: as it was typed; the same text once more is taken even where it is unlikely.
                None: nobody typed it.

        Raises:
            UnlikelyReadingError: it is far from what was expected; nothing was booked.
        """
        turn, result = self.turn(stroke), set_up_of(plan, stroke)
        if turn.is_done:
            turn.part, turn.record, turn.answer, turn.is_done = turn.part + 1, None, None, False
        made, prior = self.next_stop(plan, stroke), self._expected(plan, stroke)
        hit = Hit(made, read[0], read[-1], turn.reading)
        self._ask_about(stroke, hit, prior, typed)
        before = turn.record
        if before is None:
            job = plan.job
            turn.record = BendRecord(
                job=job.name,
                part=turn.part,
                stroke=stroke.name,
                machine=plan.brake.key,
                tool=stroke.verdict.tooling.key,
                metal=job.metal,
                thickness=plan.blank.thickness,
                angle=result.target,
                stop=made,
                got=hit.got,
                hits=hit.text,
            )
        else:
            turn.record = before.with_hit(hit)
        self._write(stroke, turn.record)
        turn.stop, turn.reading = None, ReadingCondition.RELEASED
        return self._meaning(plan, stroke, prior, hit)

    def _ask_about(
        self, stroke: PlannedStroke, hit: Hit, prior: Expected, typed: str | None
    ) -> None:
        """A reading far from what was expected is asked about once.

        Raises:
            UnlikelyReadingError: nothing was booked.
        """
        expected = hit.stop / (1 + prior.mean / 90.0)
        unlikely = abs(hit.got - expected) > max(UNLIKELY, UNLIKELY_SHARE * expected)
        confirmed = typed is not None and self._doubted == (stroke.number, typed)
        if hit.reading is ReadingCondition.BY_HAND or not unlikely or confirmed:
            self._doubted = None
            return
        self._doubted = None if typed is None else (stroke.number, typed)
        raise UnlikelyReadingError(
            tr(
                "{got} is far from the {expected} expected. Enter once more records it; else "
                "type it again."
            ).format(got=show_angle(hit.got), expected=show_angle(expected))
        )

    def _meaning(self, plan: Plan, stroke: PlannedStroke, prior: Expected, hit: Hit) -> str:
        """What the newest reading means."""
        turn, result = self.turn(stroke), set_up_of(plan, stroke)
        assert turn.record is not None
        if hit.reading is ReadingCondition.HELD:
            turn.answer, turn.is_done = None, False
            return tr(
                "{got}, still clamped: not used for springback. Let go and measure again."
            ).format(got=show_angle(hit.got))
        if hit.reading is ReadingCondition.BY_HAND:
            turn.is_done = True
            return tr("{got}, finished by hand: not used for springback. Next.").format(
                got=show_angle(hit.got)
            )
        now = after_hits(prior, turn.record.every_hit)
        turn.answer = answer(
            stroke, result, hit.stop, hit.got, now.stop(result.target), hand_limit_of(plan, stroke)
        )
        turn.is_done = turn.answer.is_done
        if turn.answer.next_stop is not None and turn.is_done:
            # For the next part everything counts, this one among the rest.
            turn.answer = replace(turn.answer, next_stop=self.next_stop(plan, stroke))
        return answer_text(stroke, turn.answer, plan.job.angles)

    def answer(self, plan: Plan, stroke: PlannedStroke) -> str:
        """What the last reading of the bend that is on means; empty before there is one."""
        turn = self.turn(stroke)
        return "" if turn.answer is None else answer_text(stroke, turn.answer, plan.job.angles)

    def take_back(self, plan: Plan, stroke: PlannedStroke) -> str:
        """Take the last reading back; what that was."""
        turn = self.turn(stroke)
        if turn.record is None or not turn.record.every_hit:
            return tr("There is no reading of this part to take back.")
        last, record = turn.record.every_hit[-1], turn.record.without_last_hit()
        self._write(stroke, record)
        turn.record, turn.answer, turn.is_done = None if record.struck else record, None, False
        text = tr("{got} taken back.").format(got=show_angle(last.got))
        if turn.record is None:
            return text
        hit = turn.record.every_hit[-1]
        return f"{text} {self._meaning(plan, stroke, self._expected(plan, stroke), hit)}"

    def next_part(self, stroke: PlannedStroke) -> str:
        """Leave this part as it stands and go on with the next."""
        turn = self.turn(stroke)
        if turn.record is None:
            return tr("This part was not read yet.")
        part = turn.part + 1
        self._turns[stroke.number] = BendProgress(part)
        return tr("Part {part}.").format(part=part)

    def counts_reading(self, stroke: PlannedStroke, angle: float) -> bool:
        """True when a reading that an instrument sends by itself is a new one: the first of a part,
        or of its next hit."""
        turn = self.turn(stroke)
        if turn.record is None:
            return True
        return not turn.is_done and abs(turn.record.every_hit[-1].got - angle) > STEADY

    def ends(self, read: list[float]) -> str:
        """What two ends say of the machine; nothing where one angle was read."""
        return ends_text(*read) if len(read) == 2 else ""

    # --- the next stop ---------------------------------------------------------------------------

    def first_stop(self, stroke: PlannedStroke, stroke_settings: StrokeSettings) -> float | None:
        """Degrees to stop a first part at before it is measured; None when it was, or no first part
        is made."""
        turn = self.turn(stroke)
        begun = turn.record is not None or turn.part > 1
        return None if not self.first_part or begun else first_stop(stroke, stroke_settings)

    def machine_stop(self, plan: Plan, stroke: PlannedStroke) -> float:
        """What is set on the machine (degrees) for the next hit: the leaf's own angle."""
        return stroke.verdict.stroke.set_for(self.next_stop(plan, stroke))

    def next_stop(self, plan: Plan, stroke: PlannedStroke) -> float:
        """Degrees the sheet is to stand at when the next hit is stopped: of this part while it is
        short, else of the next."""
        turn, result = self.turn(stroke), set_up_of(plan, stroke)
        if turn.stop is not None:
            return turn.stop
        if turn.record is not None and not turn.is_done:
            again = turn.answer.again if turn.answer is not None else None
            return turn.record.stop if again is None else again
        first = self.first_stop(stroke, result)
        if first is not None:
            return first
        expected = self._expected(plan, stroke, every=True)
        if not expected.known or result.limit or stroke.verdict.flattens:
            return result.stop_angle
        return within(result, expected.stop(result.target))

    def expected(self, plan: Plan, stroke: PlannedStroke) -> str:
        """What the book expects of a stroke; empty where it knows nothing."""
        learnt = self._learnt(plan, stroke)
        if stroke.verdict.flattens or not learnt.here:
            return ""
        return tr("The book: springs back {learnt}. Planned: stop at {planned}.").format(
            learnt=learnt.text(), planned=show_angle(stroke.machine_stop)
        )

    def _expected(self, plan: Plan, stroke: PlannedStroke, *, every: bool = False) -> Expected:
        """What a bend is expected to come back by; without the part that is on, unless ``every``
        record counts."""
        result, record = set_up_of(plan, stroke), self.turn(stroke).record
        learnt = self._learnt(plan, stroke, None if every or record is None else record.id)
        return expected_springback(learnt, result.over_bend, result.target)

    def _learnt(self, plan: Plan, stroke: PlannedStroke, without: str | None = None) -> Learnt:
        """What the book knows of the springback of a stroke."""
        place = BendContext(
            plan.job.metal, plan.blank.thickness, plan.brake.key, stroke.verdict.tooling.key
        )
        return self._session.book.learnt(
            place, self._session.rack, self._session.settings.every_metal, without, whole=False
        )

    def _write(self, stroke: PlannedStroke, record: BendRecord) -> None:
        if (
            not stroke.verdict.flattens
        ):  # a hem's first stroke is flattened: how far it sprang back is of no use
            self._session.book.note(record)


_NUMBER = r"[-−]?\d+(?:[.,]\d+)?(?:\s+\d+/\d+|[½¼¾⅛⅜⅝⅞])?\s*°?"


def read_ends(text: str) -> list[float]:
    """One angle, or those of the left and of the right end: ``88 1/2``, ``85/87``, ``85 left 87
    right``, ``left 85 right 87``.

    Raises:
        AngleError: it is neither.
    """
    words = text.strip().lower().replace(tr("left"), "left").replace(tr("right"), "right")
    match = re.fullmatch(rf"({_NUMBER})\s*/\s*({_NUMBER})", words)
    sides = re.findall(rf"({_NUMBER})\s*(left|right|l|r)\b", words) or [
        (number, side) for side, number in re.findall(rf"\b(left|right|l|r)\s*({_NUMBER})", words)
    ]
    if len(sides) == 2 and {side[0] for _, side in sides} == {"l", "r"}:
        ends = {side[0]: number for number, side in sides}
        return [parse_angle(ends["l"]), parse_angle(ends["r"])]
    if match is not None and re.fullmatch(_NUMBER, words) is None:
        return [parse_angle(match[1]), parse_angle(match[2])]
    if words.count("/") > 1 or any(word in words for word in ("left", "right")):
        raise AngleError(
            tr("One angle, or that of the left and of the right end: 89/91, or 89 left 91 right.")
        )
    return [parse_angle(text)]
