"""A finished part as it is measured: the sizes asked for, what was got, and what explains it."""

from __future__ import annotations

from ...inspection.explain import Explained
from ...inspection.inspection import USUAL_COUNT, Inspection, drifts
from ...inspection.measures import InspectedSize
from ...job.job import Job
from ...shop.book.record import DoneRecord, SizeRecord
from .bookkeeper import BookKeeper


class MeasuredPart:
    """The part of a lot that is being measured, and those measured before it.

    Args:
        book: every figure is written into it at once.

    Attributes:
        part: its number in the lot, from 1.
        count: sizes on show.
        got: measured sizes by their key, mm or degrees.
        before: the same of the parts before it.
        inspection: what is to be measured; None until that is known.
        found: what explains the sizes; None while nothing is measured.
        next_text: what is to be changed next time.
    """

    def __init__(self, book: BookKeeper) -> None:
        self._book = book
        self._of: object = None
        self._noted: object = None
        self._written: dict[str, float] = {}
        self.part, self.count = 1, USUAL_COUNT
        self.got: dict[str, float] = {}
        self.before: list[dict[str, float]] = []
        self.inspection: Inspection | None = None
        self.found: Explained | None = None
        self.next_text = ""

    def begin(self, of: object, called: object) -> tuple[bool, bool]:
        """Look at a part; what was measured of another one is let go.

        Args:
            of: tells one flat of the work from another.
            called: tells one part from another, whatever its sizes.

        Returns:
            whether it is another flat, and whether it is another part.
        """
        other_flat, other_part = of != self._of, called != self._noted
        if other_part:
            # What was noted of one part is not written down for another.
            self._noted, self.next_text = called, ""
        if other_flat:
            self._of = of
            self.got, self._written, self.part, self.count = {}, {}, 1, USUAL_COUNT
            self.before.clear()
        return other_flat, other_part

    def next_part(self) -> None:
        """Go on to the next part of the lot."""
        self.part += 1
        self.before.append(self.got)
        self.got, self._written = {}, {}

    @property
    def lines(self) -> tuple[InspectedSize, ...]:
        """The sizes on show."""
        return self.inspection.lines[: self.count] if self.inspection is not None else ()

    @property
    def more(self) -> bool:
        """True while there are sizes that are not on show."""
        return self.inspection is not None and self.count < len(self.inspection.lines)

    @property
    def out(self) -> int:
        """How many sizes are out of tolerance."""
        return len(self.inspection.out(self.got)) if self.inspection is not None else 0

    def take(self, line: InspectedSize, value: float, job: Job) -> bool:
        """A size was measured; False where it is what it was. One typed over is a record of its own
        that takes the other's place in reading.

        Args:
            line: the size.
            value: mm or degrees.
            job: the part it belongs to.
        """
        key = line.measure.key
        if self.got.get(key) == value:
            return False
        self.got[key] = value
        if self._written.get(key) != value:
            self._written[key] = value
            self._book.note(
                SizeRecord(
                    job=job.name,
                    part=self.part,
                    what=line.measure.says,
                    wanted=round(line.wanted, 4),
                    got=value,
                )
            )
        return True

    def explain(self) -> None:
        """Find out what explains the sizes."""
        self.found = self.inspection.explained(self.got) if self.inspection is not None else None

    def drifting(self, job: Job) -> list[str]:
        """What drifts from part to part, in sentences."""
        return [each.says(job) for each in drifts(self.lines, [*self.before, self.got])[:2]]

    def done(self, job: Job, order: str, note: str) -> None:
        """Write into the book that the part was made.

        Args:
            job: of the part.
            order: its bends, in order.
            note: what else is to be known.
        """
        self._book.note(
            DoneRecord(
                job=job.name,
                quantity=job.quantity,
                machine=job.brake,
                order=order[:4000],
                next_time=self.next_text[:4000],
                note=note,
            )
        )
