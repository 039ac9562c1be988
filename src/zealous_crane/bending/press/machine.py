"""A press brake's section with its sizes."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np
import shapely

from ..._typing import Array
from ...brake.force import BOTTOM_FACTOR, PRESS, Bottoming, Load, least_leg
from ...brake.press_brake import NARROWEST, WIDEST, PressBrake
from ...brake.tools import Die, PunchStyle, marked_in
from ...flat.blank import Blank
from ...flat.checks import MOST_SAID
from ...flat.element import MadeBy
from ...flat.features import Finding
from ...i18n import Message, Phrase, counted_msg, msg, the, the_first, tr
from ...job.tools import ToolChoice
from ...kernel.obstacle import Way
from ...metal.sheet import Sheet
from ...metal.springback import overbend
from ...units.length import Units, show_length
from ...units.quantities import show_force
from ..drawing import Drawn, profile_record
from ..legs import outside_leg, reach_of
from ..machine import CardFields, Doing, Fact, FactKey, Least, Machine, MachineSettings, Words
from ..setting import Setting
from ..stroke import Stroke, Verdict
from .stroke import PressStroke, PressTooling

FIRST = (
    "name",
    "bed_length",
    "force",
    "open_height",
    "shut_height",
    "ram_front",
    "ram_back",
    "table_front",
    "table_back",
    "gauge_reach",
)
"""Force and the heights decide what is bent at all; ram and table what may stand beside the
tools."""

TOOLS = 60.0
"""mm between ram and table where the press has no tools yet."""


def press_drawn(brake: PressBrake) -> Drawn:
    """Ram and table as far apart as the first punch and die put them, these between them."""
    outlines: list[tuple[str, Array]] = []
    punch = np.array(brake.punches[0].outline, dtype=float) if brake.punches else None
    die = np.array(brake.dies[0].outline, dtype=float) if brake.dies else None
    low = float(die[:, 1].min()) if die is not None else -TOOLS / 2
    high = float(punch[:, 1].max()) if punch is not None else TOOLS / 2
    ram = _box(brake.ram_front, high, brake.ram_back, high + brake.ram_height)
    table = _box(brake.table_front, low - brake.table_height, brake.table_back, low)
    outlines += [("table", table), ("ram", ram)]
    outlines += [("die", die)] if die is not None else []
    outlines += [("punch", punch)] if punch is not None else []
    left = min(brake.ram_front, brake.table_front)
    sizes = {
        "ram_front": ((0.0, high + 12.0), (brake.ram_front, high + 12.0)),
        "ram_back": ((0.0, high + 26.0), (brake.ram_back, high + 26.0)),
        "ram_height": (
            (brake.ram_back + 10.0, high),
            (brake.ram_back + 10.0, high + brake.ram_height),
        ),
        "table_front": ((0.0, low - 12.0), (brake.table_front, low - 12.0)),
        "table_back": ((0.0, low - 26.0), (brake.table_back, low - 26.0)),
        "table_height": (
            (brake.table_back + 10.0, low - brake.table_height),
            (brake.table_back + 10.0, low),
        ),
        "open_height": ((left - 14.0, low), (left - 14.0, low + brake.open_height)),
        "shut_height": ((left - 30.0, low), (left - 30.0, low + brake.shut_height)),
    }
    return Drawn(tuple(outlines), sizes, FIRST)


def _box(y0: float, z0: float, y1: float, z1: float) -> Array:
    return np.array([(y0, z0), (y1, z0), (y1, z1), (y0, z1)])


def narrow_flanges(blank: Blank, brake: PressBrake, units: Units) -> list[Finding]:
    """Legs too short for the narrowest V that suits the sheet: (V/2)/cos(θ/2) and a margin,
    outside.

    Args:
        blank: the flat.
        brake: the machine.
        units: what lengths are shown in.
    """
    dies = brake.dies_for(blank.sheet)
    if not dies:
        return []
    die = min(dies, key=lambda d: d.opening)
    findings: list[Finding] = []
    for fold in blank.folds:
        if fold.made_by is not MadeBy.BRAKE:
            continue
        leg = outside_leg(fold.bend, reach_of(blank, fold, fold.child))
        least = least_leg(die.opening, abs(fold.angle))
        if leg < least - 1e-6:
            findings.append(
                Finding(
                    msg(
                        "{name} is {leg} outside; the narrowest V of {name_2} that suits this "
                        "sheet, {name_3}, "
                        "needs {least} to carry it.",
                        name=the_first(fold.name),
                        leg=show_length(leg, units),
                        name_2=the(brake.name),
                        name_3=die.name,
                        least=show_length(least, units),
                    ),
                    (fold.start + fold.end) / 2,
                    "flange",
                )
            )
    return [*findings, *_holes_in_the_v(blank, die, units)]


def _holes_in_the_v(blank: Blank, die: Die, units: Units) -> list[Finding]:
    """Holes that come to lie over the V, where the metal between its shoulders is drawn out. Common
    practice, no source."""
    findings: list[Finding] = []
    for hole in blank.holes:
        if hole.kind in ("relief", "fold slot") or hole.after_bending:
            continue
        shape = shapely.Polygon(hole.path.flattened())
        for fold in blank.folds:
            away = shape.distance(shapely.LineString([fold.start, fold.end]))
            if fold.made_by is MadeBy.BRAKE and away < die.opening / 2 - 1e-9:
                findings.append(
                    Finding(
                        msg(
                            "{name} is {away} from the line of {name_2} and lies over the V of "
                            "{name_3}, {length} to either side: it will distort. Move it, or "
                            "cut it after bending.",
                            name=the_first(hole.name),
                            away=show_length(away, units),
                            name_2=the(fold.name),
                            name_3=die.name,
                            length=show_length(die.opening / 2, units),
                        ),
                        hole.centre,
                        "hole",
                    )
                )
                break
        if len(findings) > MOST_SAID:
            break
    return findings


@dataclass(frozen=True)
class PressSettings(MachineSettings):
    """What is set on a press. See :class:`MachineSettings`.

    Attributes:
        punch_travel: from where the punch touches the flat sheet down to the stop angle, mm.
        force: against what press, punch and die stand.
        bottomed: the bend is bottomed, not bent in air.
        force_bottomed: kN, were it bottomed.
        least_leg: least outside leg the die carries to this angle, mm.
        inside_radius: mm, what the bend takes by itself in this V, or the tip's when bottomed.
    """

    punch_travel: float
    force: Load
    bottomed: bool
    force_bottomed: float
    least_leg: float
    inside_radius: float

    def record(self) -> dict[str, Any]:
        """See :meth:`MachineSettings.record`."""
        force = self.force
        return {
            "punch_travel": self.punch_travel,
            "force": {
                "total_kn": force.total,
                "per_metre_kn": force.per_length,
                "rating_share": force.share,
                "rating_of": force.whose,
            },
            "bottomed": self.bottomed,
            "least_leg": self.least_leg,
            "inside_radius": self.inside_radius,
        }

    def facts(self, card: CardFields) -> list[Fact]:
        """See :meth:`MachineSettings.facts`."""
        units, force = card.units, self.force
        strain = tr("{value:.0f} % of what the {whose} stands").format(
            value=100 * force.share, whose=tr("press") if force.whose == PRESS else force.whose
        )
        bottomed = (
            ""
            if self.bottomed
            else tr("; bottomed about {force_bottomed}").format(
                force_bottomed=show_force(self.force_bottomed, units)
            )
        )
        return [
            Fact(FactKey.HELD, tr("To the back"), card.held),
            Fact(FactKey.TOOLS, tr("Punch on die"), card.tooling),
            Fact(FactKey.PIECES, tr("Punch pieces, left to right"), card.pieces),
            Fact(FactKey.UNDER, tr("Die pieces"), card.under),
            Fact(FactKey.STOP, tr("Bend to"), card.stop),
            Fact(
                FactKey.TRAVEL,
                tr("Punch down from touching"),
                tr("about {punch_travel}; sneak up on it").format(
                    punch_travel=show_length(self.punch_travel, units.fine)
                ),
            ),
            Fact(
                FactKey.FORCE,
                tr("Force"),
                f"{show_force(force.total, units)} "
                f"{tr('bottomed') if self.bottomed else tr('in air')}, {strain}{bottomed}",
            ),
        ]

    def more(self, card: CardFields) -> list[Fact]:
        """See :meth:`MachineSettings.more`."""
        fine = card.units.fine
        radius = show_length(self.inside_radius, fine)
        return [
            Fact(FactKey.LEAST_LEG, tr("Least outside leg"), show_length(self.least_leg, fine)),
            Fact(
                FactKey.RADIUS, tr("Inside radius"), tr("the tip's, {radius}").format(radius=radius)
            )
            if self.bottomed
            else Fact(
                FactKey.RADIUS,
                tr("Inside radius in air"),
                tr("about {radius}").format(radius=radius),
            ),
        ]

    def hold(self, held: str, units: Units) -> str:
        """See :meth:`MachineSettings.hold`."""
        text = tr("{held} to the back.").format(held=held)
        return text[:1].upper() + text[1:]


MOST_DIES = 3
"""Dies tried for one sheet, the best first."""

OTHER_TOOLS = 0.5
"""What is to be said against another die, or a sharper punch and die."""


class PressBending(Machine[PressBrake, PressTooling]):
    """A press brake with punches and dies. See :class:`Machine`."""

    front_in_hand: ClassVar[bool] = True
    words: ClassVar[Words] = Words(
        set_ups=lambda count: counted_msg("{count} set-up", "{count} set-ups", count),
        held=msg("{panel} at the back"),
        tried=msg("with either side at the back and every punch and die"),
        other_side=msg("Turn it end for end"),
        line_under=msg("punch"),
        line_over=msg("die"),
    )
    cautions: ClassVar[tuple[tuple[Doing, Message], ...]] = (
        (
            Doing.ADJUSTING,
            msg(
                "Support the tools while you loosen them, and block the ram before hands go "
                "between them."
            ),
        ),
        (
            Doing.ADJUSTING,
            msg(
                "Heavy punches and dies take two to lift. Never pass the force the press or a "
                "tool is rated for."
            ),
        ),
        (
            Doing.BENDING,
            msg(
                "Hands off the sheet near the tools: its sides swing up fast. Foot off the "
                "treadle until you are clear."
            ),
        ),
        (
            Doing.NARROW,
            msg(
                "A narrow piece under the force of a long one cracks, and takes the tool with it: "
                "set the force anew."
            ),
        ),
    )
    bottoms: ClassVar[bool] = True

    def toolings(
        self, brake: PressBrake, blank: Blank, *, bottomed: bool, every: bool = False
    ) -> tuple[PressTooling, ...]:
        """See :meth:`Machine.toolings`."""
        press_toolings: list[PressTooling] = []
        for punch, die in brake.pairs(blank.sheet, None if every else MOST_DIES):
            press_toolings.append(PressTooling(brake, punch, die, bottomed=bottomed))
            if not punch.even:
                press_toolings.append(PressTooling(brake, punch.turned, die, True, bottomed))
        return tuple(press_toolings)

    def plain(self, toolings: Sequence[PressTooling]) -> list[PressTooling]:
        """See :meth:`Machine.plain`: every punch over the die a hand reaches for."""
        return [
            t
            for t in toolings
            if t.die == toolings[0].die and t.punch.style is not PunchStyle.ACUTE
        ]

    def instead(
        self,
        now: PressTooling,
        verdict: Verdict,
        toolings: Sequence[PressTooling],
        *,
        plain: bool,
        turned: bool,
    ) -> list[tuple[PressTooling, float]]:
        """See :meth:`Machine.instead`: another die, or a sharper punch and die, where this one does
        not carry the leg, stand the force or reach the angle."""
        sharper = verdict.reach >= now.greatest_angle - 1e-6
        if not plain or not (sharper or verdict.refused):
            return []
        return [
            (other, OTHER_TOOLS)
            for other in toolings
            if other != now
            and (
                (verdict.refused and other.punch == now.punch)
                or (sharper and other.greatest_angle > now.greatest_angle + 1)
            )
        ]

    def stroke(
        self,
        setting: Setting,
        tooling: PressTooling,
        keep: float = 0.0,
        until: float | None = None,
        stop: float | None = None,
    ) -> PressStroke:
        """See :meth:`Machine.stroke`."""
        return PressStroke(setting, tooling, keep, until, stop)

    def refused(
        self, blank: Blank, brake: PressBrake, units: Units
    ) -> tuple[Phrase, tuple[Phrase, ...]] | None:
        """See :meth:`Machine.refused`."""
        if not brake.bending_punches:
            return msg("the press has no punch that bends"), ()
        if not brake.dies:
            return msg("the press has no die"), ()
        if not brake.dies_for(blank.sheet):
            # Tools keep the units they are marked in.
            marked = marked_in(d.opening for d in brake.dies)
            openings = ", ".join(
                show_length(d.opening, marked) for d in sorted(brake.dies, key=lambda d: d.opening)
            )
            t = blank.thickness
            return msg("no die suits this thickness"), (
                msg(
                    "{t} needs a V between {length} and {length_2}; the dies open {openings}.",
                    t=show_length(t, units.fine),
                    length=show_length(NARROWEST * t, marked),
                    length_2=show_length(WIDEST * t, marked),
                    openings=openings,
                ),
            )
        if any(f.made_by is MadeBy.HEM for f in blank.folds) and not brake.closes_hems:
            return msg("the part has hems and the press has no flat punch to close them"), ()
        return None

    def drawn(self, brake: PressBrake) -> Drawn:
        """See :meth:`Machine.drawn`."""
        return press_drawn(brake)

    def least_sizes(self, brake: PressBrake, sheet: Sheet) -> tuple[Least, ...]:
        """See :meth:`Machine.least_sizes`: over every V that suits the sheet, the one the plan
        begins with first."""
        plain, acute = brake.die_order(sheet)
        why = msg("half the V over cos 45°, and a margin")
        return tuple(
            Least(msg("flange over {die}", die=die.name), least_leg(die.opening, 90.0), why)
            for die in (*plain, *acute)
        )

    def narrow_flanges(self, blank: Blank, brake: PressBrake, units: Units) -> list[Finding]:
        """See :meth:`Machine.narrow_flanges`."""
        return narrow_flanges(blank, brake, units)

    def handbook(self, sheet: Sheet) -> float:
        """See :meth:`Machine.handbook`: in air, where the metal alone decides."""
        return overbend(sheet, 90.0, sheet.thickness, closing=False, press=True).angle

    def made_radius(self, stroke: Stroke) -> float:
        """See :meth:`Machine.made_radius`: the share of the V in air, the punch tip's when
        bottomed."""
        assert isinstance(stroke, PressStroke)
        return stroke.made_radius

    def asked_tools(self, tooling: PressTooling) -> dict[ToolChoice, str]:
        """See :meth:`Machine.asked_tools`."""
        return {"punch": tooling.punch.name, "die": tooling.die.name}

    def drawn_off(self, stroke: Stroke, released: float, way: Way) -> float | None:
        """See :meth:`Machine.drawn_off`: with the ram up, before it is tipped."""
        assert isinstance(stroke, PressStroke)
        return stroke.forward(math.radians(released)) if way is Way.DRAWN else None

    def set_up(self, stroke: Stroke, reach: float) -> PressSettings:
        """See :meth:`Machine.set_up`."""
        assert isinstance(stroke, PressStroke)
        bottomed, force = stroke.bottoming is Bottoming.BOTTOMED, stroke.force
        return PressSettings(
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
            "tools": {
                p.name: profile_record(p) for p in (press.punch, press.ram, press.die, press.table)
            },
        }
