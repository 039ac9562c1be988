"""What the work was and is: every state of it, in steps of undo."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass, field

from ...brake.library import MachineLibrary
from ...shop.settings import ShopSettings
from ...work.work import Work

SAME_EDIT = 2.0
"""Seconds within which further typing in one field belongs to the same step of undo."""

MOST_STEPS = 400
"""Steps of undo kept; the oldest go first."""


@dataclass(frozen=True)
class HistoryStep:
    """One state of the work.

    Attributes:
        work: what is being made.
        at: number of the part on the bench, from 0.
        rack: the brakes of the shop.
        settings: what the shop says of itself besides.
    """

    work: Work
    at: int
    rack: MachineLibrary
    settings: ShopSettings = field(default_factory=ShopSettings)


class History:
    """The states of the work, and which of them is the present one."""

    def __init__(self, step: HistoryStep) -> None:
        self._steps = [step]
        self._at = 0
        self._last_edit: tuple[str, float] = ("", 0.0)

    @property
    def step(self) -> HistoryStep:
        """Where the work stands."""
        return self._steps[self._at]

    @property
    def steps_back(self) -> int:
        """How often undo takes something back."""
        return self._at

    @property
    def can_undo(self) -> bool:
        """True when there is a step before this one."""
        return self._at > 0

    @property
    def can_redo(self) -> bool:
        """True when there is a step after this one."""
        return self._at + 1 < len(self._steps)

    def take(self, step: HistoryStep, what: str) -> None:
        """Make this the present state.

        Args:
            step: the state.
            what: the field that is typed in; further typing there soon after belongs to the same
                step. Empty stands for itself.
        """
        now = time.monotonic()
        joins = (
            what
            and self._last_edit[0] == what
            and now - self._last_edit[1] < SAME_EDIT
            and self._at > 0
        )
        del self._steps[self._at + 1 :]
        if joins and step == self._steps[self._at - 1]:
            # Typed and taken back: as if nothing had been.
            self._steps.pop()
            self._at -= 1
        elif joins:
            self._steps[self._at] = step
        else:
            self._steps.append(step)
            del self._steps[: max(0, len(self._steps) - MOST_STEPS)]
            self._at = len(self._steps) - 1
        self._last_edit = (what, now)

    def rebase(self, changed: Callable[[HistoryStep], HistoryStep]) -> None:
        """Bring every state in line with what happened elsewhere."""
        self._steps = [changed(step) for step in self._steps]

    def settle(self) -> None:
        """What is typed from now on is a step of its own: another field is being edited."""
        self._last_edit = ("", 0.0)

    def move(self, by: int) -> None:
        """Go back or forth; the steps must be there."""
        self._at += by
        self.settle()
