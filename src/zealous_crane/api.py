"""The door for other programs: a few functions over the packages, with one family of errors.

>>> import zealous_crane as zc
>>> part = {"kind": "open-box", "length": "8 in", "width": "5 in", "depth": "1 1/2 in"}
>>> box = zc.new_job(part, thickness="20 ga")
>>> blank = zc.develop(box)
>>> [round(side / 25.4, 2) for side in blank.size]
[11.0, 8.0]
>>> plan = zc.plan(box)
>>> plan.feasible, len(plan.strokes)
(True, 4)

Lengths are millimetres and angles degrees; text is read as a person writes it, inches when no unit
is given. The command line stands on the same functions.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from .brake.brake import Brake
from .brake.library import MachineLibrary, shipped_rack
from .cutting.piece import CutFrom
from .cutting.summary import MetalSummary, worked_out
from .errors import CraneError, InputError
from .flat.blank import Blank
from .flat.on_brake import flat_for
from .i18n import tr
from .inspection.explain import Explained
from .inspection.inspection import Inspection
from .inspection.measures import InspectedSize
from .io.dxf_read import read_drawing
from .io.formats import WRITERS, Subject
from .io.job_file import read_work, write_job, write_work
from .job.job import FlatPart, Job
from .planning.plan import Plan
from .planning.planner import make_plan
from .planning.remedies.registry import advise
from .schema.reading import field_of, readable
from .units.length import Units
from .work.work import Work

BrakeLike = Brake | str | None
"""A brake, the key of one that ships, or None for the job's own."""


class FieldError(CraneError):
    """A field of a job or work cannot be used; ``field`` names it."""


@dataclass(frozen=True)
class Inspected:
    """A finished part set against what was wanted.

    Attributes:
        sizes: every size with its tolerance, those first that tell most.
        out: the measured sizes that are out of tolerance.
        explained: the causes that explain the measured sizes, most likely first; None while nothing
            is measured.
    """

    sizes: tuple[InspectedSize, ...]
    out: tuple[InspectedSize, ...]
    explained: Explained | None


def brakes() -> MachineLibrary:
    """Return the machines that ship with the program.

    >>> brakes()["apiary-finger-50"].kind
    'leaf'
    """
    return shipped_rack()


def new_job(part: Mapping[str, Any], **fields: Any) -> Job:
    """Return a job checked as a job file is.

    Args:
        part: a ready kind and its sizes (``kind``, ``length`` …), or a design tree, as in
            docs/job.schema.json.
        fields: the job's other fields: ``metal``, ``thickness``, ``brake``, ``units``, ``quantity``
            …

    Raises:
        FieldError: a field cannot be used; ``field`` says which.

    >>> new_job({"kind": "open-box", "length": "-3", "width": 100, "depth": 30})
    Traceback (most recent call last):
        ...
    zealous_crane.api.FieldError: part.open-box.length: -76.2 mm is not more than zero (read: '-3').
    """
    try:
        return Job.model_validate({"part": part, **fields})
    except ValidationError as error:
        raise FieldError(readable(error), field=field_of(error)) from None


def read(path: str | Path, *, unit: float | None = None) -> Work:
    """Return the work of a job file, a work file or a DXF drawing of a flat.

    Args:
        path: the file; its ending says which kind it is.
        unit: mm per unit of a drawing; None takes what the drawing says.

    Raises:
        CraneError: it cannot be read, or holds no job.
    """
    path = Path(path)
    if path.suffix.lower() != ".dxf":
        return read_work(path)
    reading = read_drawing(path, unit=unit)
    units = Units.FRACTIONS if reading.inches else Units.MM
    return Work(parts=(Job(name=path.stem, part=FlatPart(flat=reading.flat), units=units),))


def write(what: Job | Work | Plan, path: str | Path) -> None:
    """Write a job or work as a job file, or what belongs to a job or plan as the ending says.

    Args:
        what: a job or work for ``.json``; a job for ``.dxf``, ``.svg``, ``.stl``, ``.glb``; a plan
            for these and ``.json``.
        path: where to; an existing file is replaced in one step.

    Raises:
        CraneError: the ending is not known for this, or the file cannot be written.
    """
    path = Path(path)
    ending = path.suffix.lower().removeprefix(".")
    if isinstance(what, Work):
        if ending != "json":
            raise InputError(
                tr("A work of several parts is written as .json; write its parts one by one."),
                field="path",
            )
        write_work(what, path)
        return
    if isinstance(what, Job) and ending == "json":
        write_job(what, path)
        return
    one, plan_of = (what, None) if isinstance(what, Job) else (what.job, what)
    blank = develop(one) if plan_of is None else plan_of.blank
    writer = next((each for each in WRITERS if each.ending == ending), None)
    if writer is None:
        known = ", ".join(f".{each.ending}" for each in WRITERS)
        raise InputError(
            tr("{name} cannot be written: use {known}.").format(name=path.name, known=known),
            field="path",
        )
    writer.write(Subject(one, blank, plan_of), path)


def machine(one: Job, brake: BrakeLike = None) -> Brake:
    """Return the brake a job is bent on.

    Raises:
        CraneError: no machine of that key ships.
    """
    if isinstance(brake, Brake):
        return brake
    return shipped_rack()[brake or one.brake]


def develop(one: Job, brake: BrakeLike = None, *, rack: MachineLibrary | None = None) -> Blank:
    """Return the flat of a job on its brake, which has a say in it through the inside radius its
    tools give.

    Args:
        one: the job.
        brake: another machine than the job's own.
        rack: the machines among which the job's own is looked for; where it is not among them the
            allowance method alone decides. None takes those that ship, and asks for it there.

    Raises:
        CraneError: the part cannot be laid flat; the message says why.
    """
    if rack is not None and brake is None:
        return flat_for(one, rack.find(one.brake))
    return flat_for(one, machine(one, brake))


def plan(
    one: Job,
    brake: BrakeLike = None,
    *,
    rack: MachineLibrary | None = None,
    remedies: bool = True,
    cancelled: Callable[[], bool] = lambda: False,
    on_first_feasible: Callable[[Plan], None] | None = None,
) -> Plan:
    """Return the cheapest plan, or one that says why there is none.

    Args:
        one: the job.
        brake: another machine than the job's own.
        rack: the machines remedies may move the part to; None takes those that ship.
        remedies: a part that cannot be made, or is finished by hand, gets the changes that were
            tried and work.
        cancelled: asked now and then; True stops with
            :class:`~zealous_crane.planning.route.Cancelled`.
        on_first_feasible: told the first order that works, while a cheaper one is looked for.

    Raises:
        CraneError: the part cannot be laid flat.
    """
    on = machine(one, brake)
    made = make_plan(one, on, cancelled=cancelled, on_first_feasible=on_first_feasible)
    return with_remedies(made, rack, cancelled=cancelled) if remedies else made


def with_remedies(
    made: Plan,
    rack: MachineLibrary | None = None,
    *,
    cancelled: Callable[[], bool] = lambda: False,
) -> Plan:
    """Return a plan with the changes that were tried and work, where something is left to mend.

    Args:
        made: the plan.
        rack: the machines the part may be moved to; None takes those that ship.
        cancelled: asked now and then; True stops with
            :class:`~zealous_crane.planning.route.Cancelled`.
    """
    return advise(made, rack or shipped_rack(), cancelled=cancelled)


def cut(
    what: Work | Sequence[Job],
    cut_from: CutFrom | None = None,
    *,
    rack: MachineLibrary | None = None,
    seconds: float | None = None,
) -> tuple[MetalSummary, ...]:
    """Return how the blanks are cut from sheets and off-cuts, one summary for each metal and
    thickness.

    Args:
        what: a work, or jobs with their quantities.
        cut_from: sheet, off-cuts and shear; None takes the work's own, or else whole sheets of the
            usual size.
        rack: the machines the parts are bent on; None takes those that ship.
        seconds: most that looking for a better cutting takes; None the usual time.

    Raises:
        CraneError: a part cannot be laid flat.
    """
    jobs = what.parts if isinstance(what, Work) else tuple(what)
    own = what.cut_from if isinstance(what, Work) else None
    return worked_out(
        jobs, rack or shipped_rack(), cut_from or own or CutFrom(), jobs[0].units, seconds
    )


def inspection_of(
    one: Job, brake: BrakeLike = None, *, rack: MachineLibrary | None = None
) -> Inspection:
    """Return what is to be measured on a finished part, ready to be asked about measured sizes.

    Args:
        one: the job.
        brake: another machine than the job's own.
        rack: machines the job's own is looked up in; None takes those that ship.

    Raises:
        DevelopmentError: the part has no flat.
    """
    return Inspection(one, develop(one, brake, rack=rack))


def inspect(
    one: Job, measured: Mapping[str, float | str] | None = None, brake: BrakeLike = None
) -> Inspected:
    """Return what to measure on a finished part, and what explains what was measured.

    Args:
        one: the job.
        measured: sizes by their keys (those of ``Inspected.sizes``), mm and degrees, or text as a
            person writes it.
        brake: another machine than the job's own.

    Raises:
        CraneError: a key this part does not have, or a figure far from any it may have.
    """
    asked = inspection_of(one, brake)
    got = {}
    for key, value in (measured or {}).items():
        line = asked.line(key)
        got[key] = (
            asked.read(line, value) if isinstance(value, str) else asked.likely(line, float(value))
        )
    return Inspected(asked.lines, asked.out(got), asked.explained(got))
