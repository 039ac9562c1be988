"""The machines the program knows."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ..brake.brake import Brake
from ..flat.blank import Blank
from ..flat.features import Finding
from ..units.length import Units
from .hand.machine import HandFolding
from .leaf.machine import LeafFolding
from .machine import Machine
from .press.machine import PressBending
from .setting import Setting
from .stroke import Stroke
from .tooling import Tooling

AnyMachine = Machine[Any, Any]
"""A machine whose brakes and set-ups are its own affair: it is only ever given those of its own
kind."""

MACHINES: Mapping[str, AnyMachine] = {
    "leaf": LeafFolding(),
    "press": PressBending(),
    "hand": HandFolding(),
}
"""Every kind of machine, by the word that stands in its file."""


def machine_of(brake: Brake) -> AnyMachine:
    """What the program knows of a brake's kind."""
    return MACHINES[brake.kind]


def toolings(
    brake: Brake, blank: Blank, bottomed: bool = False, *, every: bool = False
) -> tuple[Tooling, ...]:
    """What the brake may be set up with for a sheet, the plainest first; folds of a press are bent
    in air or ``bottomed``. ``every``: those too that only a person would ask for.

    Args:
        brake: the machine.
        blank: the flat.
        bottomed: the punch is driven home.
        every: all set-ups, not only those tried first.
    """
    result: tuple[Tooling, ...] = machine_of(brake).toolings(
        brake, blank, bottomed=bottomed, every=every
    )
    return result


def stroke_for(
    setting: Setting,
    tooling: Tooling,
    keep: float = 0.0,
    until: float | None = None,
    stop: float | None = None,
) -> Stroke:
    """The stroke of a setting on a brake as it is set up; see :class:`Stroke`.

    Args:
        setting: how the part is held.
        tooling: the machine as it is set up.
        keep: clearance to keep, mm.
        until: degrees beyond which contacts are of no interest.
        stop: degrees the machine is set to stop at.
    """
    return machine_of(tooling.brake).stroke(setting, tooling, keep, until, stop)


def narrow_flanges(blank: Blank, brake: Brake, units: Units) -> tuple[Finding, ...]:
    """What the brake cannot hold: short legs, reversed folds too near the last one, holes over a
    V.

    Args:
        blank: the flat.
        brake: the machine.
        units: what lengths are shown in.
    """
    return tuple(machine_of(brake).narrow_flanges(blank, brake, units))
