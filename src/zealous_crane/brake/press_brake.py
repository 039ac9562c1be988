"""A press brake: ram, table, and the punches and dies of the shop."""

import math
from collections.abc import Callable, Iterator, Mapping
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field, model_validator

from ..allowance import ToolRadius
from ..measure import Length, LengthOrZero, PositiveLength
from ..measure.input_error import InputError
from ..measure.words import tr
from ..metal import Sheet
from ..tool_wishes import ToolChoice
from .air import NARROWEST, WIDEST, air_radius, wanted_opening
from .brake import NONE_ASKED, Brake
from .die import Die
from .plain import gooseneck_punch, hemming_punch, straight_punch, v_die
from .punch import Punch, PunchStyle
from .section import PieceKind, Section, Sections

SHARPER = 30.0
"""Degrees a die must be sharper by than the others to count as one for acute folds."""


def bend_radius(sheet: Sheet, punch: Punch, die: Die, *, bottomed: bool) -> float:
    """Inside radius (mm) a bend takes between a punch and a die: the share of the V in air, the tip's when bottomed."""
    return punch.radius if bottomed else air_radius(sheet, die.opening)


def _radius_text(sheet: Sheet, punch: Punch, die: Die, bottomed: bool) -> str:
    """Where the inside radius of a bend comes from."""
    if bottomed:
        return tr("Bottomed with {name}: the radius of its tip.").format(name=punch.name)
    share = 100 * air_radius(sheet, die.opening) / die.opening
    return tr("Bent in air over {name}: {share:.3g} % of its opening.").format(name=die.name, share=share)


class PressBrake(Brake):
    """A press brake. All lengths mm; ``y`` runs from the operator to the back, 0 under the ram's middle; ``z`` up.

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
        open_ends: no side frames in the way: a part may reach past the ends, and be slid in and out there.
        gauge_reach: how far behind the fold the back gauge goes; None when lines are sighted.
        gauge_height: how high the stop's face stands above the sheet's underside.
        tool_units: what its pieces are marked in; None finds out from their widths.
    """

    tools: ClassVar[Mapping[str, str]] = {"punches": tr("Punch"), "dies": tr("Die")}
    plain_tools: ClassVar[Mapping[str, tuple[str, Callable[[str], Punch | Die]]]] = {
        tr("Straight punch"): ("punches", straight_punch),
        tr("Acute punch"): ("punches", lambda name: straight_punch(name, angle=30, width=14, height=110)),
        tr("Gooseneck punch"): ("punches", gooseneck_punch),
        tr("Flat punch for hems"): ("punches", hemming_punch),
        tr("V die"): ("dies", lambda name: v_die(name, 12.0)),
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
    gauge_reach: PositiveLength | None = Field(default=500.0, json_schema_extra={"empty": "lines are sighted"})

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
                        tr("{name}: a piece of {width:g} mm is longer than the bed of {bed_length:g} mm").format(
                            name=tool.name, width=piece.width, bed_length=self.bed_length
                        )
                    )
        for noun, names in ((tr("punch"), [p.name for p in self.punches]), (tr("die"), [d.name for d in self.dies])):
            for name in names:
                if names.count(name) > 1:
                    raise InputError(
                        tr("two are called {name!r}; every {noun} needs its own name").format(name=name, noun=noun)
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
    def racks(self) -> tuple[Sections, ...]:
        """See :attr:`Brake.racks`."""
        return (
            *(self.sections(punch.pieces, PieceKind.PUNCH) for punch in self.punches),
            *(self.sections(die.pieces, PieceKind.DIE) for die in self.dies),
        )

    def dies_for(self, sheet: Sheet) -> tuple[Die, ...]:
        """Dies whose V suits the thickness, the best first: nearest to what a hand reaches for."""
        t = sheet.thickness
        wanted = wanted_opening(t)
        fit = [d for d in self.dies if NARROWEST * t <= d.opening <= WIDEST * t]
        return tuple(sorted(fit, key=lambda d: abs(math.log(d.opening / wanted))))

    def die_order(self, sheet: Sheet) -> tuple[tuple[Die, ...], tuple[Die, ...]]:
        """Dies that suit the thickness, the plain ones and those for acute folds, each the best first."""
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
            for die in (*plain, *acute) if punch.style is not PunchStyle.ACUTE else (*acute, *plain):
                if self.closes(punch, die, sheet.thickness):
                    yield punch, die

    def radius(
        self, sheet: Sheet, asked: Mapping[ToolChoice, str] = NONE_ASKED, *, bottomed: bool = False
    ) -> ToolRadius | None:
        """See :meth:`Brake.radius`: what the metal takes in air over the V, or the tip's where it is bottomed."""
        for punch, die in self.pairs(sheet):
            if asked.get("punch", punch.name) == punch.name and asked.get("die", die.name) == die.name:
                return ToolRadius(
                    bend_radius(sheet, punch, die, bottomed=bottomed), True, _radius_text(sheet, punch, die, bottomed)
                )
        # Asked for tools that do not serve: the plan says so, and the flat is that of the others.
        return self.radius(sheet, bottomed=bottomed) if asked else None

    def sections(self, pieces: tuple[Section, ...], kind: PieceKind) -> Sections:
        """The pieces of one tool and how they may be set."""
        return Sections(pieces, self.bed_length, self.side_clearance, self.largest_gap, self.unsupported_end, kind)

    def daylight(self, punch: Punch, die: Die) -> float:
        """Punch tip above the die's top with the ram up, mm."""
        return self.open_height - punch.height - die.height

    def closes(self, punch: Punch, die: Die, thickness: float) -> bool:
        """True when ram and tools reach the metal: the shut height lies below the stack of tools and metal."""
        return self.shut_height <= punch.height + die.height + thickness - die.depth / 2
