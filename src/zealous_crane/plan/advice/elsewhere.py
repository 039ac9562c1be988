"""Another brake of the shop: what goes there at all mostly goes in an order a hand would try first."""

from __future__ import annotations

from ...brake import Rack
from ..result.plan import Cure
from .trial import Cures, Trial


def other_brakes(trial: Trial, rack: Rack) -> Cures:
    for brake in rack.brakes:
        job = trial.job.model_copy(update={"brake": brake.key})
        if brake.key != trial.plan.brake.key and trial.cures(job, brake, thorough=False):
            yield Cure(f"On the {brake.name}: {trial.gain}.", job, brake)
