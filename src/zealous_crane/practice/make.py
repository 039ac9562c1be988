"""Exercises made at random by grade, and from any part: always the same for the same id, always
solvable."""

from __future__ import annotations

import random

from ..bending.machines import machine_of
from ..brake.brake import Brake
from ..brake.library import MachineLibrary
from ..errors import InputError
from ..flat.element import DevelopmentError
from ..flat.on_brake import flat_for
from ..i18n import tr
from ..job.job import Job
from ..part.kinds.box import HemmedTray, OpenBox
from ..part.kinds.strip import Strip
from ..planning.outcome import Outcome
from ..planning.planner import make_plan
from ..units.length import INCH, Units
from .bending import order, set_up
from .exercise import Exercise, Skill
from .fault import fault
from .layout import lay_out

MOST_TRIES = 60


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
    rng = random.Random(f"{skill.value}-{grade}-{seed}")
    for attempt in range(1 if own is not None else MOST_TRIES):
        job = own or _random(rng, grade, rack, units)
        name = own.name if own is not None else f"{seed}"
        found = _of(
            f"{skill.value}:{grade}:{name}", skill, grade, job, rack[job.brake], seed + attempt
        )
        if found is not None and found.questions:
            return found
    raise InputError(tr("Nothing of this kind can be asked of this part."))


def _of(id_: str, skill: Skill, grade: int, job: Job, brake: Brake, seed: int) -> Exercise | None:
    try:
        blank = flat_for(job, brake)
    except DevelopmentError:
        return None
    if skill is Skill.LAY_OUT:
        return lay_out(id_, grade, job, blank, brake)
    if skill is Skill.FAULT:
        return fault(id_, grade, job, blank, brake, seed)
    plan = make_plan(job, brake)
    if plan.state is Outcome.STOP or not plan.strokes:
        return None
    if skill is Skill.ORDER:
        return (
            order(id_, grade, job, plan.blank, brake, plan, seed) if len(plan.strokes) > 1 else None
        )
    return set_up(id_, grade, job, plan.blank, brake, plan)


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
    common = {"brake": brake, "units": units, "quantity": rng.randint(1, 12)}
    if grade == 1:
        part = OpenBox(length=size(150, 400), width=size(100, 250), depth=size(25, 65))
        return Job(
            name=tr("Box to practise on"),
            part=part,
            metal="galvanized",
            thickness="22 ga",
            **common,
        )
    if grade == 2:
        tray = HemmedTray(
            length=size(200, 400),
            width=size(150, 300),
            depth=size(30, 60),
            hem=size(10, 15),
            tab=size(12, 20),
        )
        return Job(
            name=tr("Tray to practise on"),
            part=tray,
            metal="galvanized",
            thickness="24 ga",
            **common,
        )
    legs = tuple(size(25, 60) for _ in range(rng.randint(3, 4)))
    angles = tuple(rng.choice((90.0, 90.0, -90.0, 45.0, -60.0)) for _ in legs[1:])
    strip = Strip(length=size(100, 400), legs=legs, angles=angles)
    thickness = rng.choice(("16 ga", "14 ga", "18 ga"))
    return Job(
        name=tr("Strip to practise on"),
        part=strip,
        metal="mild-steel",
        thickness=thickness,
        school={"school": "neutral-line", "k": 0.42},
        **common,
    )
