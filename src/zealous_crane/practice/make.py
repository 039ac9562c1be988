"""Exercises made at random by grade, and from any part: always the same for the same id, always
solvable."""

from __future__ import annotations

import random
from typing import cast

from ..bending.machines import machine_of
from ..brake.library import MachineLibrary
from ..errors import InputError
from ..flat.element import DevelopmentError
from ..i18n import tr
from ..job.job import Job, Part
from ..metal.allowance import NeutralLine
from ..part.kinds.box import HemmedTray, OpenBox
from ..part.kinds.strip import Strip
from ..part.size import in_round_figures
from ..units.length import INCH, Units
from .bending import ORDER, SET_UP
from .exercise import Assignment, Exercise, Skill
from .fault import FAULT
from .layout import LAY_OUT

MOST_TRIES = 60

SKILLS: tuple[Skill, ...] = (LAY_OUT, ORDER, SET_UP, FAULT)
"""Everything that is practised, in the order it is offered."""


def grades() -> tuple[tuple[int, str], ...]:
    """What each grade asks."""
    return (
        (1, tr("Plain boxes, folded on the line")),
        (2, tr("Hems and tabs")),
        (3, tr("Strips with reversed bends, allowance counted")),
    )


def exercise(
    skill: Skill,
    grade: int,
    seed: int,
    rack: MachineLibrary,
    *,
    own: Job | None = None,
    units: Units = Units.FRACTIONS,
) -> Exercise:
    """An exercise.

    Args:
        skill: what is practised.
        grade: 1 to 3; with a part of one's own it is only kept.
        seed: which of its kind.
        rack: machines of the shop.
        own: a part to practise on; None makes one at random.
        units: in which random parts are measured.

    Raises:
        InputError: nothing of this kind can be asked of that part.
    """
    rng = random.Random(f"{skill.key}-{grade}-{seed}")
    for attempt in range(1 if own is not None else MOST_TRIES):
        job = own or _random(rng, grade, rack, units)
        name = own.name if own is not None else f"{seed}"
        assignment = Assignment(
            f"{skill.key}:{grade}:{name}", grade, job, rack[job.brake], seed + attempt
        )
        try:
            result = skill.make(assignment)
        except DevelopmentError:
            continue
        if result is not None and result.questions:
            return result
    raise InputError(tr("Nothing of this kind can be asked of this part."))


def _random(rng: random.Random, grade: int, rack: MachineLibrary, units: Units) -> Job:
    """A part of a grade, in sizes a hand would choose."""
    step = INCH / 4 if units.is_inch else 5.0

    def size(low: float, high: float) -> float:
        return rng.randint(round(low / step), round(high / step)) * step

    # A machine that makes boxes for boxes, any for a strip.
    boxes = [b for b in rack.in_use if machine_of(b).folds_boxes]
    brake = (
        rng.choice(boxes or list(rack.in_use)).key
        if grade < 3
        else rng.choice(list(rack.in_use)).key
    )
    quantity = rng.randint(1, 12)

    def made(name: str, part: Part, metal: str, thickness: str) -> Job:
        return Job(
            name=name,
            part=cast(Part, in_round_figures(part, units)),
            metal=metal,
            thickness=thickness,
            brake=brake,
            units=units,
            quantity=quantity,
        )

    if grade == 1:
        part = OpenBox(length=size(150, 400), width=size(100, 250), depth=size(25, 65))
        return made(tr("Box to practise on"), part, "galvanized", "22 ga")
    if grade == 2:
        tray = HemmedTray(
            length=size(200, 400),
            width=size(150, 300),
            depth=size(30, 60),
            hem=size(10, 15),
            tab=size(12, 20),
        )
        return made(tr("Tray to practise on"), tray, "galvanized", "24 ga")
    legs = tuple(size(25, 60) for _ in range(rng.randint(3, 4)))
    angles = tuple(rng.choice((90.0, 90.0, -90.0, 45.0, -60.0)) for _ in legs[1:])
    strip = Strip(length=size(100, 400), legs=legs, angles=angles)
    thickness = rng.choice(("16 ga", "14 ga", "18 ga"))
    job = made(tr("Strip to practise on"), strip, "mild-steel", thickness)
    return job.model_copy(update={"school": NeutralLine(school="neutral-line", k=0.42)})
