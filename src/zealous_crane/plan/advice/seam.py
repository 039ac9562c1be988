"""Two pieces and a seam."""

from __future__ import annotations

from ...job import DrawnPart, OrderWishes
from ...measure import show_length
from ...measure.words import tr
from ...part import SeamForm
from ..result.plan import Cure
from .halves import halves
from .trial import Cures, Trial


def seam(trial: Trial) -> Cures:
    """Two pieces, lapped and joined, where one cannot be made."""
    if trial.plan.feasible or trial.job.part.drawing() is not None:
        return
    name = trial.job.name
    for size, *pieces in halves(trial.job.part.design(trial.job.sheet.thickness)):
        jobs = [
            trial.job.model_copy(
                update={"part": DrawnPart(tree=piece), "name": which.format(name=name[:100]), "order": OrderWishes()}
            )
            for which, piece in zip((tr("{name}, first half"), tr("{name}, second half")), pieces, strict=True)
        ]
        if all(trial.cures(job) for job in jobs):
            lap = show_length(SeamForm.LAP.usual, trial.job.units)
            text = tr(
                "In two pieces, cut across {size} and lapped {lap}, then riveted, spotted or seam-welded: both can be made."
            ).format(size=tr("the length") if size == "length" else tr("the width"), lap=lap)
            yield Cure(text, jobs[0], also=jobs[1])
            return
