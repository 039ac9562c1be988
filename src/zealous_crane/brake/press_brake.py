"""Bending in air over a V: which opening suits a sheet, and the inside radius the metal takes in
it. Common practice unless a source stands beside the figure."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from .._typing import Array
from ..cache import cached
from ..errors import InputError
from ..i18n import Message, Phrase, msg, tr
from ..job.tools import ToolChoice
from ..metal.bend import ToolRadius
from ..metal.sheet import Sheet
from ..schema.model import Length, LengthOrZero, PositiveLength
from .brake import NONE_ASKED, Brake
from .cross_section import Profile
from .tools import Die, Punch, PunchStyle, Segment, SegmentKind, SegmentSet

WIDEST, NARROWEST = 16.0, 5.0
"""Die opening in thicknesses beyond which a V is not used."""


def wanted_opening(thickness: float) -> float:
    """Die opening (mm) a hand reaches for: 6 T on thin sheet, 8 T usually, 10 T on plate."""
    return thickness * (6 if thickness < 2.5 else 8 if thickness <= 8 else 10)


def air_radius(sheet: Sheet, opening: float) -> float:
    """Inside radius (mm) an air bend takes: 16 % of V in mild steel, 21 % in stainless, 13.5 % in
    soft aluminium."""
    return sheet.metal.air_share * opening


Points = list[tuple[float, float]]

DOUBLING = tuple(Segment(width=w) for w in (20.0, 40.0, 80.0, 160.0, 320.0))


def _tip(angle: float, radius: float, width: float) -> Points:
    """Front half of a tip up to half the width: corners (y, z) from the flat under the tip up the
    flank; z up, y negative."""
    lean = math.radians(angle) / 2
    flat = radius * math.tan((math.pi / 2 - lean) / 2)
    reach = width / 2
    return [(-flat, 0.0), (-reach, (reach - flat) / math.tan(lean))]


def straight_punch(  # noqa: PLR0913
    name: str,
    *,
    angle: float = 85.0,
    radius: float = 0.8,
    width: float = 14.0,
    height: float = 100.0,
    style: PunchStyle = PunchStyle.STRAIGHT,
    limit: float = 1000.0,
    pieces: tuple[Segment, ...] = DOUBLING,
) -> Punch:
    """A punch that goes straight up from its tip.

    Args:
        name: as it is called.
        angle: of the tip, degrees.
        radius: of the tip, mm.
        width: of one piece, mm.
        height: mm.
        style: straight or cut back.
        limit: greatest force, kN/m.
        pieces: lengths it comes in.
    """
    front = _tip(angle, radius, width)
    side = [*front, (-width / 2, height)]
    outline = (*((-y, z) for y, z in side), *reversed(side))
    return Punch(
        name=name,
        style=style,
        angle=angle,
        radius=radius,
        outline=outline,
        limit=limit,
        pieces=pieces,
    )


def gooseneck_punch(  # noqa: PLR0913
    name: str,
    *,
    angle: float = 85.0,
    radius: float = 0.8,
    throat: float = 30.0,
    height: float = 120.0,
    neck: float = 20.0,
    limit: float = 500.0,
    pieces: tuple[Segment, ...] = DOUBLING,
) -> Punch:
    """A punch cut back in front so that an earlier flange can come up.

    Args:
        throat: how far the hollow goes behind the tip, mm.
        neck: thickness of metal behind the hollow, mm.
    """
    lip, back = 5.0, throat + neck
    (flat_y, _), (lip_y, lip_z) = _tip(angle, radius, 2 * lip)
    # The floor of the hollow runs along the back flank with the neck's metal between them.
    rise = 1 / math.tan(math.radians(angle) / 2)
    low = throat * rise + 0.6 * neck
    high = max(low + 5.0, back * rise + 5.0, height - throat - 12.0)
    if high > height - 12.0:
        raise InputError(
            tr(
                "{name}: a throat of {throat:g} mm with a neck of {neck:g} mm needs a punch "
                "{high:.0f} mm high"
            ).format(name=name, throat=throat, neck=neck, high=high + 12)
        )
    outline = [
        (-flat_y, 0.0),
        (back, (back + flat_y) * rise),
        (back, high),
        (lip + 5, height - 8.0),
        (lip + 5, height),
        (-lip - 5, height),
        (-lip - 5, height - 10.0),
        (throat, high),
        (throat, low),
        (lip_y, lip_z + 4.0),
        (lip_y, lip_z),
        (flat_y, 0.0),
    ]
    return Punch(
        name=name,
        style=PunchStyle.GOOSENECK,
        angle=angle,
        radius=radius,
        outline=tuple(outline),
        limit=limit,
        pieces=pieces,
    )


def hemming_punch(
    name: str,
    *,
    width: float = 30.0,
    height: float = 90.0,
    limit: float = 1500.0,
    pieces: tuple[Segment, ...] = DOUBLING,
) -> Punch:
    """A flat punch that closes hems.

    Args:
        name: as it is called.
        width: of one piece, mm.
        height: mm.
        limit: greatest force, kN/m.
        pieces: lengths it comes in.
    """
    half = width / 2
    outline = (
        (-half, 0.0),
        (half, 0.0),
        (half, 25.0),
        (8.0, 35.0),
        (8.0, height),
        (-8.0, height),
        (-8.0, 35.0),
        (-half, 25.0),
    )
    return Punch(
        name=name,
        style=PunchStyle.HEMMING,
        angle=180,
        radius=0,
        outline=outline,
        limit=limit,
        pieces=pieces,
    )


def v_die(  # noqa: PLR0913
    name: str,
    opening: float,
    *,
    angle: float = 85.0,
    radius: float = 0.8,
    land: float = 6.0,
    height: float = 60.0,
    limit: float = 1000.0,
    pieces: tuple[Segment, ...] = DOUBLING,
) -> Die:
    """A block with one V.

    Args:
        land: flat top beside each shoulder, mm.
    """
    half, edge = opening / 2, opening / 2 + land
    depth = half / math.tan(math.radians(angle) / 2)
    height = max(height, depth + 12.0)
    outline = (
        (-edge, -height),
        (edge, -height),
        (edge, 0.0),
        (half, 0.0),
        (0.0, -depth),
        (-half, 0.0),
        (-edge, 0.0),
    )
    return Die(name=name, angle=angle, radius=radius, outline=outline, limit=limit, pieces=pieces)


SHARPER = 30.0
"""Degrees a die must be sharper by than the others to count as one for acute folds."""


def bend_radius(sheet: Sheet, punch: Punch, die: Die, *, bottomed: bool) -> float:
    """Inside radius (mm) a bend takes between a punch and a die: the share of the V in air, the
    tip's when bottomed.

    Args:
        sheet: metal and thickness.
        punch: the punch.
        die: the die.
        bottomed: the punch is driven home.
    """
    return punch.radius if bottomed else air_radius(sheet, die.opening)


def _radius_text(sheet: Sheet, punch: Punch, die: Die, bottomed: bool) -> Phrase:
    """Where the inside radius of a bend comes from."""
    if bottomed:
        return msg("Bottomed with {name}: the radius of its tip.", name=punch.name)
    share = 100 * air_radius(sheet, die.opening) / die.opening
    return msg("Bent in air over {name}: {share:.3g} % of its opening.", name=die.name, share=share)


class PressBrake(Brake):
    """A press brake. All lengths mm; ``y`` runs from the operator to the back, 0 under the ram's
    middle; ``z`` up.

    Attributes:
        key: word that stands in job files.
        name: as the shop calls it.
        bed_length: length of ram and table, which is also the longest fold.
        force: greatest force of the ram, kN.
        open_height: ram to table with the ram up and no tools in.
        shut_height: ram to table at the bottom of the stroke.
        ram_front, ram_back: the ram's faces before and behind the punch.
        ram_height: how far up the ram's section goes.
        table_front, table_back: the table's faces before and behind the die.
        table_height: how far down the table's section goes.
        punches, dies: the tools.
        side_clearance: room between a piece of tool and a wall beside it.
        largest_gap: largest gap left between two pieces.
        unsupported_end: longest end of a fold with no tool over it.
        open_ends: no side frames in the way: a part may reach past the ends, and be slid in and out
            there.
        gauge_reach: how far behind the fold the back gauge goes; None when lines are sighted.
        gauge_height: how high the stop's face stands above the sheet's underside.
        tool_units: what its pieces are marked in; None finds out from their widths.
    """

    tools: ClassVar[Mapping[str, Message]] = {"punches": msg("Punch"), "dies": msg("Die")}
    plain_tools: ClassVar[Mapping[Message, tuple[str, Callable[[str], Punch | Die]]]] = {
        msg("Straight punch"): ("punches", straight_punch),
        msg("Acute punch"): (
            "punches",
            lambda name: straight_punch(name, angle=30, width=14, height=110),
        ),
        msg("Gooseneck punch"): ("punches", gooseneck_punch),
        msg("Flat punch for hems"): ("punches", hemming_punch),
        msg("V die"): ("dies", lambda name: v_die(name, 12.0)),
    }

    kind: Literal["press"] = "press"
    force: Annotated[float, Field(gt=0, le=100_000)]
    open_height: PositiveLength
    shut_height: PositiveLength
    ram_front: Length = -30.0
    ram_back: Length = 30.0
    ram_height: PositiveLength = 300.0
    table_front: Length = -60.0
    table_back: Length = 60.0
    table_height: PositiveLength = 300.0
    punches: Annotated[tuple[Punch, ...], Field(max_length=60)] = ()
    dies: Annotated[tuple[Die, ...], Field(max_length=60)] = ()
    largest_gap: LengthOrZero = 6.0
    unsupported_end: LengthOrZero = 10.0
    gauge_reach: PositiveLength | None = Field(
        default=500.0, json_schema_extra={"empty": "lines are sighted"}
    )

    @model_validator(mode="after")
    def _stands_up(self) -> Self:
        if self.ram_front >= self.ram_back:
            raise InputError(tr("the ram's front must lie before its back"))
        if self.table_front >= self.table_back:
            raise InputError(tr("the table's front must lie before its back"))
        if self.shut_height >= self.open_height:
            raise InputError(tr("the press is shut higher than it is open"))
        tools: tuple[Punch | Die, ...] = (*self.punches, *self.dies)
        for tool in tools:
            for piece in tool.pieces:
                if piece.width > self.bed_length:
                    raise InputError(
                        tr(
                            "{name}: a piece of {width:g} mm is longer than the bed of "
                            "{bed_length:g} mm"
                        ).format(name=tool.name, width=piece.width, bed_length=self.bed_length)
                    )
        for noun, names in (
            (tr("punch"), [p.name for p in self.punches]),
            (tr("die"), [d.name for d in self.dies]),
        ):
            for name in names:
                if names.count(name) > 1:
                    raise InputError(
                        tr("two are called {name!r}; every {noun} needs its own name").format(
                            name=name, noun=noun
                        )
                    )
        return self

    @property
    def bending_punches(self) -> tuple[Punch, ...]:
        """The punches that make bends."""
        return tuple(p for p in self.punches if p.style is not PunchStyle.HEMMING)

    @property
    def closes_hems(self) -> bool:
        """True when a flat punch to close hems is there."""
        return any(p.style is PunchStyle.HEMMING for p in self.punches)

    @property
    def racks(self) -> tuple[SegmentSet, ...]:
        """See :attr:`Brake.racks`."""
        return (
            *(self.sections(punch.pieces, SegmentKind.PUNCH) for punch in self.punches),
            *(self.sections(die.pieces, SegmentKind.DIE) for die in self.dies),
        )

    def dies_for(self, sheet: Sheet) -> tuple[Die, ...]:
        """Dies whose V suits the thickness, the best first: nearest to what a hand reaches for."""
        t = sheet.thickness
        wanted = wanted_opening(t)
        fit = [d for d in self.dies if NARROWEST * t <= d.opening <= WIDEST * t]
        return tuple(sorted(fit, key=lambda d: abs(math.log(d.opening / wanted))))

    def die_order(self, sheet: Sheet) -> tuple[tuple[Die, ...], tuple[Die, ...]]:
        """Dies that suit the thickness, the plain ones and those for acute folds, each the best
        first."""
        dies = self.dies_for(sheet)
        sharpest = max((180.0 - d.angle for d in dies), default=0.0)
        plain = tuple(d for d in dies if 180.0 - d.angle < sharpest - SHARPER)
        return plain, tuple(d for d in dies if d not in plain)

    @property
    def punch_order(self) -> tuple[Punch, ...]:
        """The punches that make bends, in the order a hand reaches for them."""
        order = [PunchStyle.STRAIGHT, PunchStyle.GOOSENECK, PunchStyle.ACUTE]
        return tuple(sorted(self.bending_punches, key=lambda p: order.index(p.style)))

    def pairs(self, sheet: Sheet, most: int | None = None) -> Iterator[tuple[Punch, Die]]:
        """Punches over dies that reach the metal, in the order a hand reaches for them.

        Args:
            sheet: the metal.
            most: plain dies, and dies for acute folds, at most; None for all.
        """
        plain, acute = (dies[:most] for dies in self.die_order(sheet))
        for punch in self.punch_order:
            for die in (
                (*plain, *acute) if punch.style is not PunchStyle.ACUTE else (*acute, *plain)
            ):
                if self.closes(punch, die, sheet.thickness):
                    yield punch, die

    def radius(
        self, sheet: Sheet, asked: Mapping[ToolChoice, str] = NONE_ASKED, *, bottomed: bool = False
    ) -> ToolRadius | None:
        """See :meth:`Brake.radius`: what the metal takes in air over the V, or the tip's where it
        is bottomed."""
        for punch, die in self.pairs(sheet):
            if (
                asked.get("punch", punch.name) == punch.name
                and asked.get("die", die.name) == die.name
            ):
                return ToolRadius(
                    bend_radius(sheet, punch, die, bottomed=bottomed),
                    True,
                    _radius_text(sheet, punch, die, bottomed),
                )
        # Asked for tools that do not serve: the plan says so, and the flat is that of the others.
        return self.radius(sheet, bottomed=bottomed) if asked else None

    def sections(self, pieces: tuple[Segment, ...], kind: SegmentKind) -> SegmentSet:
        """The pieces of one tool and how they may be set."""
        return SegmentSet(
            pieces,
            self.bed_length,
            self.side_clearance,
            self.largest_gap,
            self.unsupported_end,
            kind,
        )

    def daylight(self, punch: Punch, die: Die) -> float:
        """Punch tip above the die's top with the ram up, mm."""
        return self.open_height - punch.height - die.height

    def closes(self, punch: Punch, die: Die, thickness: float) -> bool:
        """True when ram and tools reach the metal: the shut height lies below the stack of tools
        and metal.

        Args:
            punch: the punch.
            die: the die.
            thickness: of the sheet, mm.
        """
        return self.shut_height <= punch.height + die.height + thickness - die.depth / 2


@dataclass(frozen=True)
class PressTools:
    """Ram, punch, die and table in the stroke's frame: fold line on x, the flat sheet from z = 0 to
    the thickness, the punch's tip on it and the die's top under it.

    Attributes:
        punch, ram, die, table: cross-sections with the press just touching the flat sheet.
        shoulder: half of the V, mm.
        depth: of the V, mm.
        opening: how far ram and punch rise, mm.
    """

    punch: Profile
    ram: Profile
    die: Profile
    table: Profile
    shoulder: float
    depth: float
    opening: float


def tip_zone(punch: Punch, thickness: float) -> float:
    """Height (mm) above the tip up to which the wings are meant to lie near the punch: 3·(tip
    radius + T)."""
    return 3 * (punch.radius + thickness)


@cached(256, lasts=True)
def press_tools_for(brake: PressBrake, punch: Punch, die: Die, thickness: float) -> PressTools:
    """Set the press's cross-sections up for a sheet.

    Args:
        brake: the machine.
        punch: the punch.
        die: the die.
        thickness: of the sheet, mm.
    """
    t = thickness
    tip = np.array([0.0, t])
    zone = tip_zone(punch, t)
    corners: list[tuple[float, float]] = []
    parts: list[str] = []
    nose: list[int] = []
    ring = punch.outline
    for (y0, z0), (y1, z1) in zip(ring, (*ring[1:], ring[0]), strict=True):
        if z0 < zone:
            nose.append(len(corners))
        corners.append((y0, z0))
        low, high = min(z0, z1), max(z0, z1)
        if low < zone < high:
            share = (zone - z0) / (z1 - z0)
            parts.append("nose" if z0 < zone else "side")
            corners.append((y0 + (y1 - y0) * share, zone))
            parts.append("side" if z0 < zone else "nose")
        else:
            parts.append("nose" if high <= zone else "side")
    height, drop = punch.height, die.height
    ram = _box(brake.ram_front, brake.ram_back, t + height, t + height + brake.ram_height)
    table = _box(brake.table_front, brake.table_back, -drop - brake.table_height, -drop)
    return PressTools(
        punch=Profile("punch", np.array(corners) + tip, tuple(parts), tuple(nose)),
        ram=Profile("ram", ram, ("underside", "back", "top", "front")),
        die=Profile("die", np.array(die.outline), ("side",) * len(die.outline)),
        table=Profile("table", table, ("underside", "back", "top", "front")),
        shoulder=die.opening / 2,
        depth=die.depth,
        opening=brake.daylight(punch, die) - t,
    )


def _box(front: float, back: float, low: float, high: float) -> Array:
    return np.array([(front, low), (back, low), (back, high), (front, high)])
