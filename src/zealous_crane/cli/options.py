"""What commands are asked with, and what they begin from: jobs, brakes, the shop."""

from __future__ import annotations

import dataclasses
import json
import time
from pathlib import Path
from typing import Annotated, Any

import typer

from .. import api
from ..brake.brake import Brake
from ..brake.library import MachineLibrary, read_brake, shop_rack
from ..flat.blank import Blank
from ..flat.on_brake import OnBrake, on_brakes
from ..i18n import JoinedText, Message, Raised, tr
from ..io.job_file import read_job, read_work
from ..job.job import Job
from ..metal.material import Material
from ..planning.plan import Plan
from ..planning.route import Cancelled
from ..shop.settings import ShopSettings, brakes_place, read_settings, shop_home
from ..units.quantities import say_forces_in

CANNOT = 3
"""Exit code when everything was read but the part cannot be made."""

JobFile = Annotated[
    Path, typer.Argument(metavar="JOB", help="A job or work file; - reads standard input.")
]
PartChoice = Annotated[
    str | None, typer.Option("--part", metavar="N|NAME", help="Which part of a work of several.")
]
AsJson = Annotated[bool, typer.Option("--json", help="Print as JSON.")]
PdfFile = Annotated[
    Path, typer.Option("-o", "--output", metavar="FILE.pdf", help="The PDF to write.")
]
DxfVersion = Annotated[
    str | None,
    typer.Option(
        "--dxf",
        metavar="r12|r2010|r2018",
        help="Version of a DXF drawing; the shop's when not said.",
    ),
]

BrakeChoice = Annotated[
    str | None,
    typer.Option("--brake", metavar="KEY|FILE", help="Another brake of the shop, or a brake file."),
]


def stop(sentence: object, code: int = 1) -> typer.Exit:
    """What is raised to end with a sentence on stderr."""
    typer.echo(str(sentence), err=True)
    return typer.Exit(code)


def settings_of_shop() -> ShopSettings:
    """What the shop says of itself; what is wrong with it is said on stderr."""
    settings, complaint = read_settings(shop_home())
    if complaint:
        typer.echo(complaint, err=True)
    return settings


def metals_with(key: str) -> dict[str, Material]:
    """The metals of the shop, among which one of that key must be; else it ends with a sentence
    that lists them."""
    known = dict(settings_of_shop().every_metal)
    if key not in known:
        raise stop(
            tr("The metal {key!r} is not known. Known: {known}.").format(
                key=key, known=", ".join(known)
            )
        )
    return known


def rack_of_shop() -> MachineLibrary:
    """The brakes of the shop; forces are said as it says them, and what is left out on stderr."""
    say_forces_in(read_settings(shop_home())[0].ways.tonnage)
    rack, complaints = shop_rack(brakes_place())
    for complaint in complaints:
        typer.echo(tr("Left out: {complaint}").format(complaint=complaint), err=True)
    return rack


def rack_with(brake: str | None) -> tuple[MachineLibrary, str | None]:
    """The brakes of the shop, and the key of the one asked for; a brake file named on the command
    line joins the rack.

    Raises:
        BrakeError: the file is no brake, or the shop has none of that key.
    """
    rack = rack_of_shop()
    if brake is None:
        return rack, None
    if brake.endswith(".json"):
        own = read_brake(Path(brake))
        return rack.with_brakes([own]), own.key
    return rack, rack[brake].key


def on_asked_brake(job: Job, key: str | None) -> Job:
    """The job on the brake asked for on the command line; on its own where none is."""
    return job if key is None else job.model_copy(update={"brake": key})


def on_rack(rack: MachineLibrary, key: str | None) -> OnBrake:
    """Parts as they are bent on the brake asked for, or each on its own."""
    on = on_brakes(rack.find)
    return lambda job: on(on_asked_brake(job, key))


def load(path: Path, brake: str | None, part: str | None) -> tuple[Job, Brake, MachineLibrary]:
    """The job, its brake and the rack; a brake file named on the command line joins the rack."""
    rack, key = rack_with(brake)
    job = on_asked_brake(read_job(path, part, on_rack(rack, key)), key)
    return job, rack[job.brake], rack


def planned(path: Path, brake: str | None, part: str | None) -> Plan:
    """The plan of a job file, with its cures."""
    job, machine, rack = load(path, brake, part)
    return api.plan(job, machine, rack=rack)


def planned_within(path: Path, brake: str | None, part: str | None, seconds: float) -> Plan:
    """The best plan that is there after so many seconds; without end, that of the first order that
    works."""
    job, machine, rack = load(path, brake, part)
    begun, first = time.monotonic(), list[Plan]()
    done: Plan | None = None

    def late() -> bool:
        return time.monotonic() - begun > seconds if seconds else bool(first)

    try:
        done = api.plan(
            job, machine, remedies=False, cancelled=late, on_first_feasible=first.append
        )
        return api.with_remedies(done, rack, cancelled=late) if seconds else done
    except Cancelled:
        result = done or (first[0] if first else None)
        if result is None:
            raise stop(
                tr(
                    "No order was found within {seconds:g} s, and that is no proof that there is "
                    "none."
                ).format(seconds=seconds),
                CANNOT,
            ) from None
        return dataclasses.replace(result, looking=False)


def load_job(path: Path, brake: str | None, part: str | None) -> tuple[Job, MachineLibrary]:
    """A job on the brake asked for, and the machines to look it up in."""
    rack, key = rack_with(brake)
    return on_asked_brake(read_job(path, part, on_rack(rack, key)), key), rack


def load_flat(path: Path, brake: str | None, part: str | None) -> tuple[Job, Blank]:
    """A job and its flat; a job on a brake this shop does not have is laid flat by its school
    alone."""
    job, rack = load_job(path, brake, part)
    return job, api.develop(job, rack=rack)


def asked_of(path: Path, brake: str | None, part: str | None) -> tuple[str, ...]:
    """What has to be said of a part before it is cut, in sentences."""
    rack, key = rack_with(brake)
    on = on_rack(rack, key)
    work, name = read_work(path, on), read_job(path, part, on).name
    return tuple(
        question for number, question in work.unsaid(on).items() if work.parts[number].name == name
    )


def refused(plan: Plan) -> bool:
    """True when the part cannot be made, or no order was found; a part with nothing for the brake
    is not refused."""
    return not plan.feasible and not (plan.open and not plan.nothing_found)


def print_json(record: object) -> None:
    """On standard output, as it is told elsewhere."""
    typer.echo(json.dumps(plain(record), indent=1, ensure_ascii=False))


def plain(value: object) -> Any:
    """What JSON knows: records as dictionaries by their attributes, messages in words."""
    if isinstance(value, Message | JoinedText | Raised):
        return str(value)
    if dataclasses.is_dataclass(value) and not isinstance(value, type):
        return {f.name: plain(getattr(value, f.name)) for f in dataclasses.fields(value)}
    if isinstance(value, dict):
        return {key: plain(each) for key, each in value.items()}
    if isinstance(value, list | tuple):
        return [plain(each) for each in value]
    return value
