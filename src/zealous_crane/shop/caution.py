"""Cautions, each at the step where the danger is. Common practice, no source."""

from __future__ import annotations

from ..measure.dataclass import dataclass
from ..measure.words import tr
from ..plan.result.plan import Plan
from ..plan.stroke.machines import machine_of

FIRST = tr("The machine's own manual, local codes and licensed trades come first.")


@dataclass(frozen=True)
class Caution:
    """One caution.

    Attributes:
        step: ``always``, ``cutting``, ``setting up``, ``bending`` or ``by hand``.
        text: what to look out for, in a sentence.
    """

    step: str
    text: str


def cautions_for(plan: Plan) -> tuple[Caution, ...]:
    """The cautions that belong on this job's sheet, in working order."""
    said = [
        Caution("always", FIRST),
        Caution(
            "cutting", tr("Fingers clear of the shear's hold-down, foot clear of its treadle; never reach past the guard.")
        ),
        Caution("cutting", tr("Cut edges and slivers: gloves to carry sheet, none near anything that turns. Eye protection.")),
        *(Caution(step, text) for step, text in machine_of(plan.brake).cautions),
        Caution(
            "bending",
            tr(
                "Bend a test strip of this sheet first. Stop at the angle on the card, look, then go on: the "
                "over-bend is an estimate ({name})."
            ).format(name=plan.job.sheet.name),
        ),
    ]
    if any(s.verdict.by_hand > 0 for s in plan.strokes):
        said.append(
            Caution("by hand", tr("Finish with seamer tongs or a mallet over a block; support the wall behind the fold."))
        )
    if plan.job.metal == "galvanized":
        said.append(Caution("by hand", tr("Galvanized metal gives off zinc fume when welded: ventilate, or rivet instead.")))
    return tuple(said)
