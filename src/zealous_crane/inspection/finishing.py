"""What is left to do once a part is bent: joining, deburring, sealing; each a step that can be
ticked. Common practice, no source."""

from __future__ import annotations

from dataclasses import dataclass

from ..flat.blank import Blank
from ..flat.element import MadeBy
from ..flat.joining import join_steps
from ..i18n import tr
from ..job.job import Job
from ..part.edge import SeamForm
from ..part.hole import Joined


@dataclass(frozen=True)
class FinishingStep:
    """One thing to do.

    Attributes:
        key: what it is known by, the same for the same step of the same part.
        says: the sentence.
        caution: what to look out for; empty where nothing is special.
    """

    key: str
    says: str
    caution: str = ""


SEAMED = tuple(form.stem for form in SeamForm)
"""How the folds of seams are named: data, the same in every language."""


def finishing(job: Job, blank: Blank) -> tuple[FinishingStep, ...]:
    """What is left to do besides bending, in order: what comes before it first."""
    kinds = {row.by for row in blank.rows}
    formed = any(mark.kind == "formed" for mark in blank.marks)
    every = tr("Deburr every cut edge and hole, inside too; break the corners.")
    steps = [
        FinishingStep(
            "deburr",
            tr("Before it is bent: {deburr}").format(deburr=every[:1].lower() + every[1:])
            if blank.folds
            else every,
            tr("File with a handle; gloves off near anything that turns."),
        )
    ]
    if not blank.folds and not formed:
        steps.append(
            FinishingStep(
                "corners",
                tr("Trim its corners, so that it goes past the rounding of the bends it lies in."),
            )
        )
    if job.film is not None and kinds & {Joined.SPOT, Joined.TACK}:
        steps.append(
            FinishingStep(
                "film-off", tr("Film off where it is welded, a hand wide, on both faces.")
            )
        )
    if blank.tucks:
        steps.append(
            FinishingStep(
                "tuck",
                tr("Tabs under the hems: press each hem down on its tab, from the middle out."),
            )
        )
    if any(f.made_by is MadeBy.HAND for f in blank.folds) and blank.creases:
        steps.append(
            FinishingStep("ears", tr("Ears laid flat against their walls, evenly, over a block."))
        )
    for i, says in enumerate(join_steps(blank, job.units)):
        steps.append(FinishingStep(f"join:{i}", says, _joining_caution(job, kinds)))
    seams = formed or any(f.name.endswith(SEAMED) for f in blank.folds)
    if seams:
        steps.append(
            FinishingStep(
                "seam",
                tr(
                    "Set the seams together: the plain edge to the bottom of its pocket, then the "
                    "pocket's lip hammered over, from one end to "
                    "the other."
                ),
                tr("Eye protection; the hammer's face flat, or it marks."),
            )
        )
    if blank.creases:
        steps.append(
            FinishingStep(
                "water",
                tr(
                    "Fill it with water, or hold it against the light: a folded corner holds "
                    "without sealant."
                ),
            )
        )
    elif seams or kinds & {Joined.RIVET, Joined.SPOT}:
        steps.append(
            FinishingStep(
                "seal",
                tr(
                    "Where it must hold water or air: sealant into every seam, pressed through, "
                    "wiped off."
                ),
            )
        )
    if job.film is not None:
        marks = {
            "inside": tr(
                "Film off last of all, but before anything is painted; look for marks of the nose "
                "on the inside face."
            ),
            "outside": tr(
                "Film off last of all, but before anything is painted; look for marks of the nose "
                "on the outside face."
            ),
        }
        steps.append(FinishingStep("film", marks[job.film]))
    steps.append(
        FinishingStep("edges", tr("Edges that hands will touch: hemmed, or covered with a strip."))
    )
    return tuple(steps)


def _joining_caution(job: Job, kinds: set[Joined]) -> str:
    hot = kinds & {Joined.SPOT, Joined.TACK}
    if hot and job.material.gauge_name == "galvanized":
        return tr("Zinc fume: ventilate, or rivet instead. Hot after welding.")
    return (
        tr("Hot after welding; eye protection.")
        if hot
        else tr("Eye protection; slivers behind the hole.")
    )
