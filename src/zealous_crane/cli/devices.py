"""Stand-ins for an instrument and a back gauge, to try the program with."""

from __future__ import annotations

import sys
from typing import Annotated

import typer

from ..measure.words import tr


def simulate(
    device: Annotated[str, typer.Argument(help="instrument | gauge")],
    bias: Annotated[float, typer.Option("--bias", help="Of a gauge: mm it stands off what it was told.")] = 0.0,
) -> None:
    """A device that is not there: prints the line it hangs on. An instrument sends every figure typed (88.5, or 25.1 mm)."""
    from ..devices.simulated import SimulatedGauge, SimulatedInstrument

    if device not in ("instrument", "gauge"):
        raise typer.BadParameter(tr("write instrument or gauge"))
    made = SimulatedInstrument() if device == "instrument" else SimulatedGauge(bias=bias)
    typer.echo(made.name)
    try:
        for line in sys.stdin:
            figure, _, unit = line.strip().partition(" ")
            if isinstance(made, SimulatedInstrument) and figure:
                try:
                    (made.size if unit == "mm" else made.angle)(float(figure))
                except ValueError:
                    typer.echo(tr("{line!r} is no figure").format(line=line.strip()), err=True)
            elif isinstance(made, SimulatedGauge):
                typer.echo(tr("stands at {stands:.3f} mm").format(stands=made.stands))
    finally:
        made.close()
