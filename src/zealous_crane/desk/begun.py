"""New work begun like a demonstration: its shape, and nothing of its story."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from ..blank import check_flat
from ..brake import Rack
from ..job import Job
from ..measure import Units
from ..measure.input_error import INPUT_ERRORS
from ..measure.words import tr
from ..shop.settings import ShopSettings
from ..work import Work


def begun(work: Work, settings: ShopSettings, rack: Rack, last: Mapping[str, str]) -> Work:
    """Work of the same kinds and sizes, one of each, called after its kind, in the metal and on the brake used last, as the shop
    measures.

    Args:
        work: the demonstration.
        settings: of the shop.
        rack: its machines.
        last: metal, thickness, brake and units of the last new part, as far as they are known.
    """
    several = len(work.parts) > 1
    parts = []
    for part in work.parts:
        name = part.name if several else tr(part.part.label)
        parts.append(_in_the_shop(part.model_copy(update={"name": name, "quantity": 1, "note": ""}), settings, rack, last))
    return work.model_copy(update={"name": work.name if several else parts[0].name, "parts": tuple(parts)})


def as_begun(job: Job) -> dict[str, str]:
    """Metal, thickness, brake and units of a job, as the next new part takes them."""
    return {"metal": job.metal, "thickness": job.thickness, "brake": job.brake, "units": job.units.value}


def _in_the_shop(job: Job, settings: ShopSettings, rack: Rack, last: Mapping[str, str]) -> Job:
    job = settings.taken_by(job)
    fields: dict[str, object] = {}
    offered = [brake.key for brake in rack.in_use]
    if last.get("brake") in offered:
        fields["brake"] = last["brake"]
    elif job.brake not in offered:
        # The examples give way to the shop's own machines.
        fields["brake"] = offered[0]
    if last.get("units") in {unit.value for unit in Units}:
        fields["units"] = last["units"]
    if last.get("metal") in settings.every_metal and last.get("thickness"):
        fields |= {"metal": last["metal"], "own_metal": settings.own_metal(last["metal"]), "thickness": last["thickness"], "radius": None,
                   "school": None, "springback": None, "springback_from": ""}  # fmt: skip
    try:
        made = Job.model_validate({**job.model_dump(), **fields})
        check_flat(made, rack.find(made.brake))
        return made
    except INPUT_ERRORS:
        # The demonstration's sizes are not to be had in that metal: it begins in its own.
        return job


def told_apart(name: str, taken: Iterable[str]) -> str:
    """A name nobody has yet: itself, or with a number behind it."""
    known = set(taken)
    return next(n for n in (name, *(f"{name} {i}" for i in range(2, 10_000))) if n not in known)
