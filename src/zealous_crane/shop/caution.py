"""Cautions, each at the step where the danger is. Common practice, no source."""

from __future__ import annotations

from dataclasses import dataclass

from ..plan import Plan

FIRST = "The machine's own manual, local codes and licensed trades come first."


@dataclass(frozen=True)
class Caution:
    """One caution.

    Attributes:
        step: ``always``, ``cutting``, ``setting up``, ``bending`` or ``by hand``.
        text: what to look out for, in a sentence.
    """

    step: str
    text: str


LEAF = (
    Caution("setting up", "Hold each finger while you loosen it; it drops."),
    Caution("setting up", "Set both ends of the leaf alike, or one end bends farther than the other."),
    Caution("bending", "Pinch points at clamp and leaf: hands off the sheet's edge before the clamp comes down."),
    Caution("bending", "Keep helpers clear of the leaf and its counterweight."),
)
"""What belongs to a leaf brake."""

PRESS = (
    Caution("setting up", "Support the tools while you loosen them, and block the ram before hands go between them."),
    Caution("setting up", "Heavy punches and dies take two to lift. Never pass the force the press or a tool is rated for."),
    Caution(
        "bending", "Hands off the sheet near the tools: its sides swing up fast. Foot off the treadle until you are clear."
    ),
    Caution("bending", "A narrow piece under the force of a long one cracks, and takes the tool with it: set the force anew."),
)
"""What belongs to a press brake."""


def cautions_for(plan: Plan) -> tuple[Caution, ...]:
    """The cautions that belong on this job's sheet, in working order."""
    said = [
        Caution("always", FIRST),
        Caution("cutting", "Fingers clear of the shear's hold-down, foot clear of its treadle; never reach past the guard."),
        Caution("cutting", "Cut edges and slivers: gloves to carry sheet, none near anything that turns. Eye protection."),
        *(LEAF if plan.brake.kind == "leaf" else PRESS),
        Caution(
            "bending",
            f"Bend a test strip of this sheet first. Stop at the angle on the card, look, then go on: the over-bend is an "
            f"estimate ({plan.job.sheet.name}).",
        ),
    ]
    if any(s.verdict.by_hand > 0 for s in plan.strokes):
        said.append(Caution("by hand", "Finish with seamer tongs or a mallet over a block; support the wall behind the fold."))
    if plan.job.metal == "galvanized":
        said.append(Caution("by hand", "Galvanized metal gives off zinc fume when welded: ventilate, or rivet instead."))
    return tuple(said)
