"""Outlines of tools as a shop writes them down: corners across the brake, in order, closing on
themselves."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum
from typing import Annotated, Self

import numpy as np
import shapely
from pydantic import Field, model_validator

from ..errors import InputError
from ..i18n import LabelledEnum, Message, msg, tr
from ..schema.model import (
    ONE_LINE,
    Angle,
    Checked,
    InputModel,
    Length,
    LengthOrZero,
    PositiveLength,
)
from ..units.length import INCH, Units

LEAST_SIDE = 0.01
"""mm; corners nearer together than this are one."""


def _sound(corners: tuple[tuple[float, float], ...]) -> tuple[tuple[float, float], ...]:
    """The corners counter-clockwise, doubles left out.

    Raises:
        InputError: there are too few, they cut across each other, or they enclose nothing.
    """
    kept: list[tuple[float, float]] = []
    for corner in corners:
        if not kept or np.hypot(corner[0] - kept[-1][0], corner[1] - kept[-1][1]) > LEAST_SIDE:
            kept.append(corner)
    if len(kept) > 1 and np.hypot(kept[0][0] - kept[-1][0], kept[0][1] - kept[-1][1]) <= LEAST_SIDE:
        kept.pop()
    if len(kept) < 3:
        raise InputError(tr("an outline needs at least three corners"))
    polygon = shapely.Polygon(kept)
    if not polygon.is_valid:
        where = shapely.is_valid_reason(polygon)
        raise InputError(
            tr(
                "the outline cuts across itself ({lower}); its corners must run round the tool in "
                "order"
            ).format(lower=where.lower())
        )
    if polygon.area < 1.0:
        raise InputError(tr("the outline encloses no metal"))
    return tuple(kept) if polygon.exterior.is_ccw else tuple(kept[::-1])


Outline = Annotated[tuple[tuple[Length, Length], ...], Field(max_length=400), Checked((_sound,))]
"""Corners (y, z), mm; y to the back of the brake, z up. Kept counter-clockwise."""


def mirrored(corners: tuple[tuple[float, float], ...]) -> tuple[tuple[float, float], ...]:
    """The outline of the tool turned end for end: front and back change places."""
    return tuple((-y, z) for y, z in reversed(corners))


def shifted(
    corners: tuple[tuple[float, float], ...], y: float, z: float
) -> tuple[tuple[float, float], ...]:
    """The outline moved by (y, z) mm.

    Args:
        corners: (n, 2) mm.
        y: mm.
        z: mm.
    """
    return tuple((a + y, b + z) for a, b in corners)


class Segment(InputModel):
    """Pieces of one width.

    Attributes:
        width: along the bed, mm.
        count: how many there are.
    """

    width: PositiveLength
    count: Annotated[int, Field(ge=1, le=200)] = 1


def marked_in(widths: Iterable[float]) -> Units:
    """What pieces are marked in, by their widths (mm): inches where most are whole sixteenths and
    no whole millimetres."""
    inch = mm = 0
    for width in widths:
        sixteenths = width / INCH * 16
        inch += abs(sixteenths - round(sixteenths)) < 0.02
        mm += abs(width - round(width)) < 0.005
    return Units.FRACTIONS if inch > mm else Units.MM


class SegmentKind(StrEnum):
    """Kind of tool a segment belongs to."""

    FINGER = "finger"
    BAR = "bar"
    PUNCH = "punch"
    DIE = "die"

    @property
    def one(self) -> Message:
        """What one piece is called."""
        return PIECE_WORDS[self][0]

    @property
    def many(self) -> Message:
        """What several are called."""
        return PIECE_WORDS[self][1]


PIECE_WORDS = {
    SegmentKind.FINGER: (msg("finger"), msg("fingers")),
    SegmentKind.BAR: (msg("bar"), msg("bars")),
    SegmentKind.PUNCH: (msg("punch piece"), msg("punch pieces")),
    SegmentKind.DIE: (msg("die piece"), msg("die pieces")),
}


@dataclass(frozen=True)
class SegmentSet:
    """What there is to make up a block of pieces from, and how it may be made up.

    Attributes:
        pieces: what stands in the rack.
        longest: length of the bed, mm.
        side_clearance: room between a piece and a wall beside it, mm.
        largest_gap: largest gap left between two pieces, mm.
        unsupported_end: longest end of a fold with no piece over it, mm.
        kind: what the pieces are.
    """

    pieces: tuple[Segment, ...]
    longest: float
    side_clearance: float
    largest_gap: float
    unsupported_end: float
    kind: SegmentKind = SegmentKind.FINGER


class PressTool(InputModel):
    """A punch or a die in all its lengths.

    Attributes:
        name: as the shop calls it.
        angle: included angle of the tip or the V, degrees; the sharpest bend it makes.
        radius: of the tip or the shoulders, mm.
        outline: its section, mm.
        limit: force it stands, kN per metre of bend.
        pieces: lengths it comes in.
    """

    name: Annotated[str, Field(min_length=1, max_length=80), ONE_LINE]
    angle: Annotated[Angle, Field(ge=10, le=180)] = 85.0
    radius: LengthOrZero
    outline: Outline
    limit: Annotated[float, Field(gt=0, le=20_000)] = 1000.0
    pieces: tuple[Segment, ...] = ()

    def __hash__(self) -> int:
        return hash((self.name, self.angle, self.radius))

    @property
    def height(self) -> float:
        """Lowest corner to highest, mm: tip to the underside of the ram, or table to the top of the
        die."""
        levels = [z for _, z in self.outline]
        return max(levels) - min(levels)


AT_TIP = 0.05
"""mm; how far the lowest corner may lie from the tip's place."""


class PunchStyle(LabelledEnum):
    """What a punch is for."""

    STRAIGHT = "straight"
    ACUTE = "acute"
    GOOSENECK = "gooseneck"
    HEMMING = "hemming"


class Punch(PressTool):
    """A punch: its tip at (0, 0), the rest above; y to the back.

    Attributes:
        style: what it is for; a hemming punch is flat and closes hems.
    """

    style: PunchStyle = PunchStyle.STRAIGHT
    radius: LengthOrZero = 0.8

    @model_validator(mode="after")
    def _tip_in_place(self) -> Self:
        low = min(z for _, z in self.outline)
        if abs(low) > AT_TIP:
            raise InputError(
                tr(
                    "{name}: the tip must be the lowest point of the outline, at height 0 (read "
                    "{low:g})"
                ).format(name=self.name, low=low)
            )
        ys = [y for y, z in self.outline if z < low + AT_TIP]
        if min(ys) > AT_TIP or max(ys) < -AT_TIP:
            raise InputError(
                tr("{name}: the tip must stand at y = 0, on the fold").format(name=self.name)
            )
        return self

    @property
    def turned(self) -> Self:
        """The punch turned end for end in the ram."""
        return self.model_copy(update={"outline": mirrored(self.outline)})

    @property
    def even(self) -> bool:
        """True when turning it changes nothing."""
        one, other = sorted(self.outline), sorted(mirrored(self.outline))
        return all(
            abs(a[0] - b[0]) + abs(a[1] - b[1]) < 1e-6 for a, b in zip(one, other, strict=True)
        )


LEVEL = 0.05
"""mm; corners this near the top of a die are at its top."""


class Die(PressTool):
    """A die: its top at z = 0, the V over y = 0."""

    radius: LengthOrZero = 1.0

    @model_validator(mode="after")
    def _has_a_v(self) -> Self:
        top = max(z for _, z in self.outline)
        if abs(top) > LEVEL:
            raise InputError(
                tr("{name}: the top of the die must be at height 0 (read {top:g})").format(
                    name=self.name, top=top
                )
            )
        level = [y for y, z in self.outline if z > -LEVEL]
        if not any(y > LEVEL for y in level) or not any(y < -LEVEL for y in level):
            raise InputError(
                tr(
                    "{name}: the die needs a shoulder on either side of the fold, at height 0"
                ).format(name=self.name)
            )
        if not any(abs(y) < self.opening / 2 and z < -LEVEL for y, z in self.outline):
            raise InputError(
                tr("{name}: there is no V between its shoulders").format(name=self.name)
            )
        return self

    @property
    def opening(self) -> float:
        """V, mm: shoulder to shoulder."""
        level = [y for y, z in self.outline if z > -LEVEL]
        return min(y for y in level if y > LEVEL) - max(y for y in level if y < -LEVEL)

    @property
    def depth(self) -> float:
        """Depth of the V, mm."""
        return -min(z for y, z in self.outline if abs(y) < self.opening / 2)
