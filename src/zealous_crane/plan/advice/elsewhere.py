"""Another brake of the shop: what goes there at all mostly goes in an order a hand would try first."""

from __future__ import annotations

from ...blank import DevelopmentError
from ...brake import Rack
from ...measure.words import tr
from ..make import possible
from ..result.plan import Cure
from .trial import FEW, Cures, Trial


def other_brakes(trial: Trial, rack: Rack) -> Cures:
    """The same part on another brake; what is finished by hand here is not there, and the job then asks for that."""
    for brake in rack.in_use:
        if brake.key == trial.plan.brake.key:
            continue
        job = trial.job.model_copy(update={"brake": brake.key})
        if trial.whole:
            # An order with some work by hand may cost less there too; it is not what is offered.
            job = job.without_hand
        try:
            goes = possible(job, brake, by_hand=not trial.whole, thorough=False, limit=FEW, cancelled=trial.cancelled)
        except DevelopmentError:
            continue
        if goes:
            text = tr("On the {name}, with nothing finished by hand: {gain}.") if trial.whole else tr("On the {name}: {gain}.")
            yield Cure(text.format(name=brake.name, gain=trial.gain), job, brake)
