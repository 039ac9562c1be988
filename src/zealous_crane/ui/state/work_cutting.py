"""How the work on the bench is cut, worked out beside the window, once for every page that shows
it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from ...cutting.piece import CutFrom
from ...cutting.summary import MetalSummary, worked_out
from ...flat.on_brake import on_brake
from ...flat.panel_tree import flat_key
from .background_call import Beside

if TYPE_CHECKING:
    from .session import Session

ANSWERS = 2
"""A good answer at once, then a better one."""


class WorkCutting(QObject):
    """The cutting of a work.

    Args:
        session: whose work it is.

    Signals:
        told: another answer is there; ``answers`` of them so far.
        failed: it could not be worked out: a sentence.

    Attributes:
        answer: the newest, lot by lot; empty until there is one.
        answers: how many there were of what was asked last.
    """

    told = Signal()
    failed = Signal(str)

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._session = session
        self.answer: tuple[MetalSummary, ...] = ()
        self.answers = 0
        self._asked: object = None
        self._known: object = None
        self._beside = Beside(self, session.crew)

    @property
    def cut_from(self) -> CutFrom:
        """What the work is cut from."""
        session = self._session
        return (session.work.cut_from or session.settings.cut_from).told_in(session.job.units)

    @property
    def waiting(self) -> tuple[int, ...]:
        """Numbers of the parts that are not cut yet."""
        return tuple(sorted({*self._session.work.waiting(), *self._session.parts.unsaid()}))

    @property
    def _key(self) -> object:
        work, rack = self._session.work, self._session.rack
        parts = tuple(
            (flat_key(on_brake(j, rack.find(j.brake))), j.quantity, j.name, j.grain, j.film)
            for j in work.parts
        )
        return parts, self.cut_from, self.waiting

    @property
    def busy(self) -> bool:
        """True while the answer is not the last one of the work as it is."""
        return self._known != self._key

    @property
    def asked(self) -> bool:
        """True when the work as it is was asked about."""
        return self._asked == self._key

    def ask(self) -> None:
        """Work it out, unless that is under way or done."""
        if self.asked:
            return
        self._asked, waiting = self._key, self.waiting
        work, rack, units = self._session.work, self._session.rack, self._session.job.units
        jobs = tuple(job for k, job in enumerate(work.parts) if k not in waiting)
        self.answers = 0
        self._beside.ask(
            self._after,
            (worked_out, (jobs, rack, self.cut_from, units, 0.0)),
            (worked_out, (jobs, rack, self.cut_from, units)),
        )

    def _after(self, told: object) -> None:
        self.answers += 1
        if not isinstance(told, tuple):
            self.failed.emit(str(told))
            return
        self.answer = told
        if self.answers == ANSWERS:
            self._known = self._asked
        self.told.emit()
