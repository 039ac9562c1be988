"""The press brake, as the program knows it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any, ClassVar

from ....blank import Blank, Finding, MadeBy
from ....brake import Bottoming, PressBrake, PunchStyle
from ....brake.air import NARROWEST, WIDEST
from ....brake.force import BOTTOM_FACTOR, least_leg
from ....brake.section import marked_in
from ....measure import Units, show_length
from ....measure.words import counted, tr
from ....metal import Sheet
from ....metal.springback import overbend
from ....tool_wishes import ToolChoice
from ..drawn import Drawn
from ..machine import Doing, Least, Machine, Words
from ..record import profile_record
from ..setting import Setting
from ..stroke import Stroke
from ..verdict import Verdict
from .drawn import press_drawn
from .flange import narrow_flanges
from .set_up import Pressed
from .stroke import PressStroke
from .tooling import PressTooling

MOST_DIES = 3
"""Dies tried for one sheet, the best first."""

OTHER_TOOLS = 0.5
"""What is to be said against another die, or a sharper punch and die."""


class PressBending(Machine[PressBrake, PressTooling]):
    """A press brake with punches and dies. See :class:`Machine`."""

    front_in_hand: ClassVar[bool] = True
    words: ClassVar[Words] = Words(
        set_ups=lambda count: counted("{count} set-up", "{count} set-ups", count),
        held=tr("{panel} at the back"),
        tried=tr("with either side at the back and every punch and die"),
        other_side=tr("Turn it end for end"),
        line_under=tr("punch"),
        line_over=tr("die"),
    )
    cautions: ClassVar[tuple[tuple[Doing, str], ...]] = (
        (Doing.ADJUSTING, tr("Support the tools while you loosen them, and block the ram before hands go between them.")),
        (
            Doing.ADJUSTING,
            tr("Heavy punches and dies take two to lift. Never pass the force the press or a tool is rated for."),
        ),
        (
            Doing.BENDING,
            tr("Hands off the sheet near the tools: its sides swing up fast. Foot off the treadle until you are clear."),
        ),
        (
            Doing.NARROW,
            tr("A narrow piece under the force of a long one cracks, and takes the tool with it: set the force anew."),
        ),
    )
    bottoms: ClassVar[bool] = True

    def toolings(self, brake: PressBrake, blank: Blank, *, bottomed: bool, every: bool = False) -> tuple[PressTooling, ...]:
        """See :meth:`Machine.toolings`."""
        found: list[PressTooling] = []
        for punch, die in brake.pairs(blank.sheet, None if every else MOST_DIES):
            found.append(PressTooling(brake, punch, die, bottomed=bottomed))
            if not punch.even:
                found.append(PressTooling(brake, punch.turned, die, True, bottomed))
        return tuple(found)

    def plain(self, toolings: Sequence[PressTooling]) -> list[PressTooling]:
        """See :meth:`Machine.plain`: every punch over the die a hand reaches for."""
        return [t for t in toolings if t.die == toolings[0].die and t.punch.style is not PunchStyle.ACUTE]

    def instead(
        self, now: PressTooling, verdict: Verdict, toolings: Sequence[PressTooling], *, plain: bool, turned: bool
    ) -> list[tuple[PressTooling, float]]:
        """See :meth:`Machine.instead`: another die, or a sharper punch and die, where this one does not carry the leg, stand the
        force or reach the angle."""
        sharper = verdict.reach >= now.greatest_angle - 1e-6
        if not plain or not (sharper or verdict.refused):
            return []
        return [
            (other, OTHER_TOOLS)
            for other in toolings
            if other != now
            and ((verdict.refused and other.punch == now.punch) or (sharper and other.greatest_angle > now.greatest_angle + 1))
        ]

    def stroke(
        self, setting: Setting, tooling: PressTooling, keep: float = 0.0, until: float | None = None, stop: float | None = None
    ) -> PressStroke:
        """See :meth:`Machine.stroke`."""
        return PressStroke(setting, tooling, keep, until, stop)

    def refused(self, blank: Blank, brake: PressBrake, units: Units) -> tuple[str, tuple[str, ...]] | None:
        """See :meth:`Machine.refused`."""
        if not brake.bending_punches:
            return tr("the press has no punch that bends"), ()
        if not brake.dies:
            return tr("the press has no die"), ()
        if not brake.dies_for(blank.sheet):
            # Tools keep the units they are marked in.
            marked = marked_in(d.opening for d in brake.dies)
            openings = ", ".join(show_length(d.opening, marked) for d in sorted(brake.dies, key=lambda d: d.opening))
            t = blank.thickness
            return tr("no die suits this thickness"), (
                tr("{t} wants a V between {length} and {length_2}; the dies open {openings}.").format(
                    t=show_length(t, units.fine),
                    length=show_length(NARROWEST * t, marked),
                    length_2=show_length(WIDEST * t, marked),
                    openings=openings,
                ),
            )
        if any(f.made_by is MadeBy.HEM for f in blank.folds) and not brake.closes_hems:
            return tr("the part has hems and the press has no flat punch to close them"), ()
        return None

    def drawn(self, brake: PressBrake) -> Drawn:
        """See :meth:`Machine.drawn`."""
        return press_drawn(brake)

    def least_sizes(self, brake: PressBrake, sheet: Sheet) -> tuple[Least, ...]:
        """See :meth:`Machine.least_sizes`: over every V that suits the sheet, the one the plan begins with first."""
        plain, acute = brake.die_order(sheet)
        why = tr("half the V over cos 45°, and a margin")
        return tuple(
            Least(tr("flange over {die}").format(die=die.name), least_leg(die.opening, 90.0), why) for die in (*plain, *acute)
        )

    def narrow_flanges(self, blank: Blank, brake: PressBrake, units: Units) -> list[Finding]:
        """See :meth:`Machine.narrow_flanges`."""
        return narrow_flanges(blank, brake, units)

    def handbook(self, sheet: Sheet) -> float:
        """See :meth:`Machine.handbook`: in air, where the metal alone decides."""
        return overbend(sheet, 90.0, sheet.thickness, closing=False, press=True).angle

    def made_radius(self, stroke: Stroke) -> float:
        """See :meth:`Machine.made_radius`: the share of the V in air, the punch tip's when bottomed."""
        assert isinstance(stroke, PressStroke)
        return stroke.made_radius

    def asked_tools(self, tooling: PressTooling) -> dict[ToolChoice, str]:
        """See :meth:`Machine.asked_tools`."""
        return {"punch": tooling.punch.name, "die": tooling.die.name}

    def drawn_off(self, stroke: Stroke, released: float, way: str) -> float | None:
        """See :meth:`Machine.drawn_off`: with the ram up, before it is tipped."""
        assert isinstance(stroke, PressStroke)
        return stroke.forward(math.radians(released)) if way == "drawn" else None

    def set_up(self, stroke: Stroke, reach: float) -> Pressed:
        """See :meth:`Machine.set_up`."""
        assert isinstance(stroke, PressStroke)
        bottomed, force = stroke.bottoming is Bottoming.BOTTOMED, stroke.force
        return Pressed(
            punch_travel=stroke.travel(reach),
            force=force,
            bottomed=bottomed,
            force_bottomed=force.total if bottomed else force.total * BOTTOM_FACTOR,
            least_leg=stroke.least_leg,
            inside_radius=stroke.made_radius,
        )

    def record(self, stroke: Stroke, under: Sequence[tuple[float, float]]) -> dict[str, Any]:
        """See :meth:`Machine.record`."""
        assert isinstance(stroke, PressStroke)
        press, tooling = stroke.tools, stroke.tooling
        return {
            "die_sections": [list(section) for section in under],
            "punch": tooling.punch.name,
            "turned": tooling.turned,
            "die": tooling.die.name,
            "opening": press.opening,
            "shoulder": press.shoulder,
            "tip_radius": tooling.punch.radius,
            "tools": {p.name: profile_record(p) for p in (press.punch, press.ram, press.die, press.table)},
        }
