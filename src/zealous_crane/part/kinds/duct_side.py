"""Flat four-sided panels in space, and in their own plane."""

from __future__ import annotations

import math
from typing import Annotated, ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from ..._typing import Array
from ...errors import InputError
from ...i18n import LabelledEnum, msg, tr
from ...schema.model import InputModel, Length, PositiveLength
from ...units.length import Units, show_length
from ...units.quantities import show_angle
from ...units.sums import Sum, SumKind, Term
from ..corner import Corner, ReliefRule
from ..design import Design, Flange, PolygonBase, Standing
from ..edge import End, Hem, HemForm, Measured, Seam, SeamForm
from ..hole import MarkForm, Stiffener
from ..template import PartTemplate


def normal(quad: Array) -> Array:
    """Unit normal (3,) of a flat quadrilateral (4, 3)."""
    across = np.cross(quad[1] - quad[0], quad[3] - quad[0])
    unit: Array = across / np.linalg.norm(across)
    return unit


def plane(quad: Array) -> list[tuple[float, float]]:
    """A flat quadrilateral (4, 3) in its own plane, first edge along x."""
    u = (quad[1] - quad[0]) / np.linalg.norm(quad[1] - quad[0])
    rest = quad[3] - quad[0]
    v = rest - (rest @ u) * u
    v = v / np.linalg.norm(v)
    return [(float((p - quad[0]) @ u), float((p - quad[0]) @ v)) for p in quad]


def in_frame(quad: Array, origin: Array, u: Array) -> Array:
    """A side (4, 3) in the frame of its fold: from the large end to the small one, then its far
    corners.

    Args:
        quad: (4, 3) mm, the corners.
        origin: (3,) mm, a corner of the frame.
        u: mm along the panel from its middle.
    """
    # quad: shared large, far large, far small, shared small.
    rest = quad[1] - origin
    v = rest - (rest @ u) * u
    v = v / np.linalg.norm(v)
    ring = np.array([((p - origin) @ u, (p - origin) @ v) for p in quad[[0, 3, 2, 1]]])
    ring[:2, 1] = 0.0
    ring[0, 0] = 0.0
    return ring


LEVEL = 1.0
"""Degrees of slant below which a side's edges need no kick: a fold turns by at least so much."""

THIN = 0.5
"""mm; the heaviest sheet that is hemmed double: 28 gauge. Common practice, no source."""

END_TAPER = 15.0
"""Degrees off square at which an end's edge is notched. Common practice, no source."""


class DuctEnd(LabelledEnum):
    """How a fitting ends: in slips and drives, in a flange turned out, in a hem, or raw."""

    SLIPS = "s-and-drive"
    FLANGE = "flange"
    HEM = "hem"
    RAW = "raw"


class DuctSideName(LabelledEnum):
    """Which side, seen from above with the large opening below."""

    FRONT = "front"
    RIGHT = "right"
    BACK = "back"
    LEFT = "left"


class DuctShape(InputModel):
    """What all sides of one fitting share.

    Attributes:
        length, width: of the opening it begins with, inside, mm.
        small_length, small_width: of the opening it ends with, inside, mm.
        height: between the two openings, mm; slips, flanges and hems come on top of it.
        offset_length, offset_width: how far the middle of the second opening lies off that of the
            first, mm.
        first_end, second_end: how it ends at either opening: in slips and drives, a flange turned
            out, a hem, or raw.
        pocket, plain: allowances of the long seams, mm.
        slip: edge for S and drive cleats, mm.
        flange: flange turned out, mm, from its line to its edge.
        hem: flat a hem uses, mm; None takes 1/2 in, and 1 in where the sheet is so light that it is
            hemmed double.
        cross_break: every side is broken from corner to corner, so that it does not drum.
    """

    length: PositiveLength = Field(title="First opening, length")
    width: PositiveLength = Field(title="First opening, width")
    small_length: PositiveLength = Field(title="Second opening, length")
    small_width: PositiveLength = Field(title="Second opening, width")
    height: PositiveLength = Field(title="Between the openings")
    offset_length: Length = Field(default=0.0, title="Offset along the length")
    offset_width: Length = Field(default=0.0, title="Offset along the width")
    first_end: DuctEnd = Field(default=DuctEnd.SLIPS, title="First opening ends in")
    second_end: DuctEnd = Field(default=DuctEnd.SLIPS, title="Second opening ends in")
    pocket: PositiveLength = Field(default=25.4, title="Lock pocket")
    plain: PositiveLength = Field(default=6.35, title="Lock edge")
    slip: PositiveLength = Field(default=25.4, title="Edge for cleats")
    flange: PositiveLength = Field(default=12.7, title="Flange turned out")
    hem: PositiveLength | None = Field(default=None, title="Flat a hem uses")
    cross_break: bool = Field(default=True, title="Cross-break every side")

    def corners(self) -> tuple[Array, Array]:
        """Inside corners (4, 3) of the first opening (z = 0) and the second, front left first,
        counter-clockwise, mm."""
        ring = np.array([(-1, -1), (1, -1), (1, 1), (-1, 1)], dtype=float)
        low = np.column_stack([ring * (self.length / 2, self.width / 2), np.zeros(4)])
        high = ring * (self.small_length / 2, self.small_width / 2) + (
            self.offset_length,
            self.offset_width,
        )
        return low, np.column_stack([high, np.full(4, self.height)])

    def quad(self, side: DuctSideName) -> Array:
        """A side's inside corners (4, 3), seen from inside: along the first opening, then back
        along the second."""
        low, high = self.corners()
        i = list(DuctSideName).index(side)
        j = (i + 1) % 4
        return np.array([low[j], low[i], high[i], high[j]])

    def wide(self, side: DuctSideName) -> bool:
        """True for the two wider sides, which carry the pockets of the long seams and S edges."""
        along = side in (DuctSideName.FRONT, DuctSideName.BACK)
        return along == (self.length >= self.width)

    def slant(self, side: DuctSideName) -> float:
        """Degrees a side leans inwards on the way from the first opening to the second; below zero
        outwards."""
        quad = self.quad(side)
        edge = (quad[0] - quad[1]) / np.linalg.norm(quad[0] - quad[1])
        inwards = np.array([-edge[1], edge[0], 0.0])
        return math.degrees(math.atan2(float((quad[2] - quad[1]) @ inwards), self.height))

    def true_length(self, side: DuctSideName) -> float:
        """Between a side's two ends, in its own plane and square to them, mm."""
        return self.height / math.cos(math.radians(self.slant(side)))

    def hem_flat(self, thickness: float) -> tuple[HemForm, float]:
        """How an end is hemmed, and the flat that takes, mm."""
        form = HemForm.DOUBLE if thickness <= THIN else HemForm.CLOSED
        return form, self.hem or (25.4 if form is HemForm.DOUBLE else 12.7)


class DuctSide(DuctShape, PartTemplate):
    """One of the four sides of a duct fitting.

    What it shares with every side is said by :class:`DuctShape`.

    Attributes:
        side: which of the four sides.
    """

    label: ClassVar[str] = "Side of a duct fitting"
    about: ClassVar[str] = (
        "Tapered and offset as the openings ask; its ends are kicked by its own slant, so that "
        "they lie parallel."
    )

    kind: Literal["duct-side"] = "duct-side"
    side: Annotated[DuctSideName, Field(title="Which side")] = DuctSideName.FRONT

    @model_validator(mode="after")
    def _can_be_bent(self) -> Self:
        if abs(self.slant(self.side)) > 60:
            raise InputError(
                tr(
                    "this side leans by {angle}; up to 60° can be kicked: make the fitting longer"
                ).format(angle=show_angle(abs(self.slant(self.side))))
            )
        return self

    def design(self, thickness: float) -> Design:
        quad, slant = plane(self.quad(self.side)), self.slant(self.side)
        seam = SeamForm.POCKET if self.wide(self.side) else SeamForm.PLAIN
        width = self.pocket if self.wide(self.side) else self.plain
        made: list[Standing] = [
            Seam(edge=edge, form=seam, allowance=width, notch=END_TAPER)
            for edge in ("left", "right")
        ]
        for edge, end, lean in (
            ("front", self.first_end, slant),
            ("back", self.second_end, -slant),
        ):
            made += self._end(edge, end, lean, thickness)
        return Design(
            base=PolygonBase(corners=tuple((float(a), float(b)) for a, b in quad)),
            flanges=tuple(made),
            corner=Corner(relief=ReliefRule()),
            marks=(Stiffener(form=MarkForm.CROSS_BREAK, inset=12.7),) if self.cross_break else (),
        )

    def _end(self, edge: str, end: DuctEnd, lean: float, thickness: float) -> list[Standing]:
        """What stands on an edge, where the panel runs on ``lean`` degrees outwards of straight
        there."""
        # Names are data: the same in every language.
        where = "first end" if edge == "front" else "second end"
        cut = End(taper=END_TAPER)
        if end is DuctEnd.FLANGE:
            angle = -(90.0 - lean)
            return [
                Flange(
                    edge=edge,
                    height=self.flange,
                    angle=angle,
                    name=f"{where} flange",
                    measured=Measured.FLAT,
                    left=cut,
                    right=cut,
                )
            ]
        if end is DuctEnd.HEM:
            form, flat = self.hem_flat(thickness)
            return [Hem(edge=edge, form=form, length=flat, inwards=False, name=f"{where} hem")]
        if end is DuctEnd.RAW:
            return []
        form_ = SeamForm.S if self.wide(self.side) else SeamForm.DRIVE
        if abs(lean) < LEVEL:
            return [Seam(edge=edge, form=form_, allowance=self.slip, notch=END_TAPER)]
        name = f"{where} {form_.stem}"
        return [
            Flange(
                edge=edge,
                height=self.slip,
                angle=lean,
                name=name,
                measured=Measured.FLAT,
                left=cut,
                right=cut,
            )
        ]

    def sums(self, units: Units = Units.MM) -> tuple[Sum, ...]:
        """The true length of a slanted side, and its kick."""
        slant = self.slant(self.side)
        if abs(slant) < LEVEL:
            return ()
        across = self.height * math.tan(math.radians(abs(slant)))
        return (
            Sum(
                msg("True length of the {side} side", side=self.side.words),
                (Term(msg("√(height² + set-over²)"), self.true_length(self.side)),),
                msg(
                    "Up {height}, set over {across}: the rule of squares. The side leans by "
                    "{slant}, and each end is kicked"
                    " by the same angle, so that the ends lie parallel.",
                    height=show_length(self.height, units),
                    across=show_length(across, units),
                    slant=show_angle(abs(slant)),
                ),
                SumKind.SHAPE,
            ),
        )
