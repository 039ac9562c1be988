"""What is measured of the part on the bench, worked out beside the window, once for every page that
shows it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from ...flat.blank import Blank
from ...flat.panel_tree import flat_key
from ...flat.ruler import Striking
from ...inspection.inspection import Inspection, Survey, survey
from ...inspection.model import Off
from .background_call import Beside
from .measured_part import MeasuredPart

if TYPE_CHECKING:
    from .session import Session

LookedOver = tuple[Blank, Striking, tuple[tuple[Off, float], ...], str, bool]
"""What a flat is looked over by: what its lines are struck from, the shop's spreads, the datum of
sizes over acute bends."""


class PartSurvey(QObject):
    """The part on the bench as it is measured.

    Args:
        session: whose part it is.

    Signals:
        ready: it is known what to measure.

    Attributes:
        measured: what was measured of it.
    """

    ready = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._session = session
        self.measured = MeasuredPart(session.book)
        self._surveyor = Beside(self, session.crew)
        # The flat that was looked over and what was found; the one that is being looked over.
        self._known: tuple[LookedOver, Survey] | None = None
        self._asked_for: LookedOver | None = None

    def begin(self) -> tuple[bool, bool]:
        """Take the part that is on the bench now; what was measured of another is let go.

        Returns:
            whether it is another flat, and whether it is another part.
        """
        job = self._session.job
        called = self._session.at, job.name
        changed = self.measured.begin((flat_key(job), *called), called)
        of = self._session.blank, Striking.of(job), (), job.datum, job.measured_inside
        if self._known is not None and self._known[0] == of:
            self.measured.inspection = Inspection(job, self._session.blank, known=self._known[1])
        else:
            # How every size answers every fault takes a while.
            self.measured.inspection = None
            if self._asked_for != of or not self._surveyor.running:
                self._asked_for = of
                self._surveyor.ask(self._looked_over, (survey, of))
        return changed

    def _looked_over(self, found: object) -> None:
        assert isinstance(found, Survey) and self._asked_for is not None
        self._known = self._asked_for, found
        self.ready.emit()
