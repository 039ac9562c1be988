"""What the book has learnt of a metal, and the test strip it learns from."""

from __future__ import annotations

import dataclasses
from collections.abc import Mapping
from typing import Annotated, Any

import typer

from ..brake import Rack
from ..measure import show_length
from ..measure.words import tr
from ..metal import Material, Sheet
from ..plan.advice.least import least_sizes
from ..plan.make import make_plan
from ..shop.learnt import Place, learn
from .asked import (
    CANNOT,
    AsJson,
    BrakeChoice,
    JobFile,
    PartChoice,
    load,
    metals_with,
    print_json,
    rack_of_shop,
    rack_with,
    refused,
    stop,
)
from .book import BookAt, open_book


def learnt(
    metal: Annotated[str, typer.Option(help="Key of the metal.")],
    thickness: Annotated[str, typer.Option(help="Gauge or thickness.")],
    brake: Annotated[str, typer.Option(help="Key of the brake.")],
    tool: Annotated[str, typer.Option(help="Punch and die, or what is out of the ordinary.")] = "",
    book: BookAt = None,
    as_json: AsJson = False,
) -> None:
    """What the book says of the springback of a metal on a brake, and where it comes from."""
    known = metals_with(metal)
    sheet = Sheet.read(known[metal], thickness)
    found = _record(Place(metal, sheet.thickness, brake, tool), known, rack_of_shop(), book)
    if as_json:
        print_json(found)
    else:
        typer.echo(found["says"])
        typer.echo(found["neutral_line"]["says"])


def coupon(job: JobFile, brake: BrakeChoice = None, part: PartChoice = None, as_json: AsJson = False) -> None:
    """The test strip for a job: size, mark, set-up and force; measure it and write it into the book as a strip."""
    from ..plan.result.facts import set_up_facts
    from ..plan.result.set_up import record as set_up_record
    from ..plan.result.set_up import set_up_of
    from ..shop.coupon import care_of, coupon_job

    work, on, _ = load(job, brake, part)
    strip = coupon_job(work, on)
    found = make_plan(strip, on)
    line = found.blank.folds[0]
    told: dict[str, Any] = {
        "name": strip.name,
        "flat": found.blank.size[0],
        "width": found.blank.size[1],
        "line": float(line.start[0]),
        "angle": 90.0,
        "says": found.sentence,
        "caution": care_of(on),
        "set_up": [set_up_record(set_up_of(found, stroke)) for stroke in found.strokes],
    }
    if as_json:
        print_json(told)
    else:
        flat, width, at = (show_length(v, strip.units) for v in (told["flat"], told["width"], told["line"]))
        typer.echo(tr("{name}: cut {flat} × {width}, mark the line {line} from one end.").format(
            name=strip.name, flat=flat, width=width, line=at))  # fmt: skip
        for stroke in found.strokes:
            typer.echo("  " + stroke.sentence())
            for fact in set_up_facts(found, stroke):
                if fact.value:
                    typer.echo(f"      {fact.label}: {fact.value}")
        if care_of(on):
            typer.echo("  " + care_of(on))
    if refused(found):
        raise stop(found.sentence, CANNOT)


def least(
    metal: Annotated[str, typer.Option(help="Key of the metal.")],
    thickness: Annotated[str, typer.Option(help="Gauge or thickness.")],
    brake: Annotated[str, typer.Option(metavar="KEY|FILE", help="A brake of the shop, or a brake file.")],
    as_json: AsJson = False,
) -> None:
    """The least flange, return, hem and distance between two bends on a brake in a sheet, outside, and why."""
    known = metals_with(metal)
    rack, key = rack_with(brake)
    machine, sheet = rack[key or brake], Sheet.read(known[metal], thickness)
    found = least_sizes(machine, sheet)
    if as_json:
        print_json([dataclasses.asdict(one) for one in found])
        return
    for one in found:
        typer.echo(f"{one.what}: {show_length(one.size, machine.marked_in.fine)} ({one.why})")
    if not found:
        typer.echo(tr("Nothing is known of the least sizes on this machine in this sheet."))


def _record(place: Place, metals: Mapping[str, Material], rack: Rack, where: str | None) -> dict[str, Any]:
    """What the book says of the springback in one place, with the records behind it.

    Raises:
        BrakeError: neither this shop nor its book knows the machine.
    """
    from ..shop.deduction import learn_k, usual_k
    from ..shop.handbook import handbook

    with open_book(where) as opened:
        bends, strips = opened.find("bend"), opened.find("strip")
    if place.machine not in {record.machine for record in (*bends, *strips)}:
        rack[place.machine]  # a slip of the pen is no brake nobody has bent on yet
    found = learn((*bends, *strips), place, handbook(rack, metals))
    k = learn_k(strips, place, usual_k(metals))
    line = {**dataclasses.asdict(k), "within": list(k.within), "says": k.text(), "k": k.k}
    return {
        **dataclasses.asdict(found),
        "neutral_line": line,
        "within": list(found.within),
        "says": found.text(),
        "stop_at_90": found.stop(90.0),
    }
