"""Plans that were worked out to the end, so that undo finds its own again."""

from __future__ import annotations

from collections import deque
from typing import TYPE_CHECKING

from ..brake import Rack
from ..job import Job
from ..measure import Tonnage, forces_said_in

if TYPE_CHECKING:  # whoever only hands plans on brings no engine in
    from ..plan.result.plan import Plan

MOST = 24
"""Plans kept; the oldest go first."""


class KnownPlans:
    """Plans with their cures, by the job and the brakes they were made for."""

    def __init__(self) -> None:
        self._plans: deque[tuple[Rack, Tonnage, Plan]] = deque(maxlen=MOST)

    def keep(self, plan: Plan, rack: Rack) -> None:
        """Keep a plan that was worked out to the end."""
        if self.find(plan.job, rack) is None:
            self._plans.append((rack, forces_said_in(), plan))

    def find(self, job: Job, rack: Rack) -> Plan | None:
        """The plan of a job among these brakes; None when none is kept."""
        # What a plan says of forces is said as it was when it was made.
        said_in = forces_said_in()
        return next((plan for known, told, plan in self._plans if plan.job == job and known == rack and told is said_in), None)
