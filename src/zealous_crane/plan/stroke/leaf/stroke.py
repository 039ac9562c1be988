"""One stroke of a leaf brake: a nose rests on the sheet, the leaf takes the other side up."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence
from typing import ClassVar

import numpy as np
from numpy.typing import NDArray

from ....brake import Tools
from ....measure import Long, Said
from ....measure.once import once
from ....measure.words import tr
from ...geometry.apart import apart, boxes_apart
from ...geometry.contact import least_distance, turned
from ...geometry.obstacle import Contact
from ...geometry.outline import ToolOutline
from ...geometry.solid import Solid
from ..batch import NoseBatch
from ..leg import outside_leg, reach_of
from ..packing import LOW, Packing
from ..piece import Piece, PieceKind
from ..setting import Setting
from ..turning import TurningStroke
from .sprung import given_way, sprung_flanges
from .swing import leaf_met, taken_along
from .tooling import LeafTooling
from .tools import outlines_for

Array = NDArray[np.float64]


SAMPLES = 49
"""Angles at which the room to what hangs beside the leaf is measured."""


LAYERS = 4
"""Thicknesses up to which metal lies flat: a double hem on its panel."""


class LeafStroke(TurningStroke):
    """One stroke of a leaf brake. See :class:`TurningStroke`."""

    tooling: LeafTooling
    section: ClassVar[str] = "finger"
    overhead: ClassVar[tuple[str, ...]] = ("beam",)
    before: ClassVar[tuple[str, ...]] = ("leaf",)

    def __init__(
        self, setting: Setting, tooling: LeafTooling, keep: float = 0.0, until: float | None = None, stop: float | None = None
    ) -> None:
        super().__init__(setting, tooling, keep, until, stop)
        self._rigid = self._swept = self._swinging
        self.sprung = sprung_flanges(setting) if tooling.sprung else {}
        if self.sprung:
            self._swept = given_way(setting, self._rigid, swept=True)
            self._swinging = given_way(setting, self._rigid, swept=False)
        self._let_out = setting.batch_of(self._resting, self._swinging) if self.sprung else self._batch

    @property
    def _past_itself(self) -> tuple[Solid, ...]:
        return self._swept

    @property
    def _leaving(self) -> NoseBatch:
        return self._let_out

    @once
    def tools(self) -> Tools:
        """The brake's sections as set up."""
        return self._set(0.0, self.packing)[0]

    def _outlines(self, keep: float, packing: Packing) -> dict[str, ToolOutline]:
        return self._set(keep, packing)[1]

    def _set(self, keep: float, packing: Packing) -> tuple[Tools, dict[str, ToolOutline]]:
        # A strip is as thick as what it makes up for: what it is called is no matter of the tools.
        plain = Packing(packing.thickness, packing.loaded)
        line = self.setting.line.bend
        return outlines_for(self.tooling.brake, line, keep, self.stop, self.setting.front, plain, self.doubled)

    @property
    def nose(self) -> Array:
        """See :attr:`TurningStroke.nose`."""
        return self.tools.nose

    @property
    def opening(self) -> float:
        """See :attr:`TurningStroke.opening`."""
        return self.tools.opening

    @property
    def setback(self) -> float:
        """Nose behind the bed's edge, mm."""
        return self.tools.setback

    @once
    def _rest(self) -> float:
        """How far (mm) from the hinge, along the leaf's face, the sheet rests on it: at the bar's outer edge, or at its own end where it
        is shorter."""
        setting = self.setting
        legs = [
            outside_leg(setting.line.bend, reach_of(setting.blank, setting.line, panel, setting.angles))
            for panel in setting.folding_panels
        ]
        return max(1.0, min(self.tooling.brake.leaf_bar, min(legs, default=math.inf)))

    def lag(self, degrees: float) -> float:
        """Degrees the leaf stands ahead of the sheet: hinge and setback leave a gap between its face and the sheet's outside, and the sheet
        rests on the outer edge of its bar.

        With n the outward normal of the sheet's outside at an angle ψ, the leaf's hinge H lies the gap g = (H − P)·n − h beyond that face,
        P the pole and h its height over the face. The bar's edge, t from the hinge along the leaf, is on the face where t·sin δ = g.
        By rigid geometry (docs/theory.md).
        """
        angle, (y, z) = math.radians(degrees), self.setting.pole.tolist()
        hinge_y, hinge_z = self.tools.hinge.tolist()
        gap = -(hinge_y - y) * math.sin(angle) - (hinge_z - z) * math.cos(angle) - z
        return math.degrees(math.asin(min(1.0, max(0.0, gap) / self._rest)))

    def refused(self, wanted: float) -> Said | None:
        """See :meth:`Stroke.refused`."""
        brake = self.tooling.brake
        low, high = self.setting.span if brake.open_ends else self.setting.x_range
        if high - low > brake.bed_length:
            fold = tr("the fold is {length} along the bed and the bed is {bed} long")
            part = tr("the part is {length} along the bed and the bed is {bed} long")
            return Said.of(fold if brake.open_ends else part, length=Long(high - low), bed=Long(brake.bed_length))
        return None

    @once
    def over(self) -> tuple[float, float] | None:
        """Interval of x (mm) in which bed, beam and leaf are; None when they go on past the part."""
        (low, high), past = self.setting.span, self.tooling.past
        low, high = low + past, high - past
        if self.tooling.end < 0:
            return low, low + self.tooling.brake.bed_length
        return (high - self.tooling.brake.bed_length, high) if self.tooling.end > 0 else None

    def tools_at(self, degrees: float) -> Iterator[Piece]:
        """See :meth:`Stroke.tools_at`."""
        tools = self.tools
        yield Piece(PieceKind.TOOL, tools.bed.outline)
        yield from self._strip()
        yield Piece(PieceKind.TOOL, tools.beam.outline)
        yield Piece(PieceKind.SECTION, tools.finger.outline)
        yield Piece(PieceKind.TOOL, turned(tools.leaf.outline, tools.hinge, np.radians(degrees)))

    # --- the leaf -------------------------------------------------------------------------------------------------

    def _leaf_meets_resting(self) -> list[Contact | None]:
        """First contact of the rising leaf with what rests, and with what stands part way and waits for the leaf."""
        leaf, (y, z) = self._still["leaf"], self.tools.hinge.tolist()
        rest = [s for s in self._resting if s.panel not in self.setting.clamped_panels]
        rest += self._clamped_across
        found = leaf_met([(s, self.over, None) for s in rest], leaf, (y, z), self._limit)
        if self._begin:
            # What stands part way waits for the leaf, which takes it along from there.
            waits = [s for s in self._swinging if s.panel not in self.setting.folding_panels]
            found += leaf_met([(s, self.over, self._swing(s)) for s in waits], leaf, (y, z), self._begin)
        return found

    def _leaf_meets_swinging(self, solids: Sequence[Solid]) -> list[Contact | None]:
        """First contact of the leaf with what swings with it."""
        y, z = self.tools.hinge.tolist()
        found: list[Contact | None] = []
        # What lies on the leaf to begin with keeps no margin, nor does what lies on the panel that lies on it.
        for lies, tool in ((True, self._still["leaf"]), (False, self._tool["leaf"])):
            asked = [(s, self.over, self._swing(s)) for s in solids if (self._hangs(s) or self._rides(s)) is lies]
            found += taken_along(asked, tool, (y, z))
        return found

    # --- room left ----------------------------------------------------------------------------------------------

    def clearance(
        self, degrees: float, intervals: Iterable[tuple[float, float]], under: Iterable[tuple[float, float]] = ()
    ) -> float:
        """See :meth:`TurningStroke.clearance`; and between the leaf and what rests, and what hangs down beside it as it goes up."""
        return min(super().clearance(degrees, intervals, under), self._leaf_to_resting(degrees), self._leaf_to_hanging(degrees))

    def _leaf_to_resting(self, degrees: float) -> float:
        """Least distance (mm) of the rising leaf to what stands beside or before it; the clamped panel lies against it by intention."""
        leaf, hinge, turn = self._still["leaf"].outline, self.tools.hinge, math.radians(self.set_for(degrees))
        least = math.inf
        for solid in self._resting:
            shadow = self._shadow(solid)
            # What lies flat on the bed, in a layer or in a closed hem, is as near to the hinge as the sheet itself.
            flat = solid.box[1][2] <= LAYERS * self.setting.blank.thickness + LOW and solid.box[0][2] >= -LOW
            if solid.panel in self.setting.clamped_panels or solid.panel < 0 or flat or len(shadow) < 3:
                continue
            least = min(
                least,
                least_distance(leaf, hinge, shadow, turn),
                least_distance(shadow, hinge, leaf, turn, backwards=True),
            )
        return least

    def _leaf_to_hanging(self, degrees: float) -> float:
        """Least distance (mm) of the leaf to what hangs below the folded panel, at ``SAMPLES`` angles; what lies on the leaf, or on the
        panel that lies on it, is not measured."""
        hanging = [
            solid
            for solid in self._swept
            if solid.panel not in self.setting.folding_panels
            and solid.panel not in self.setting.flush
            and not (self._hangs(solid) or self._rides(solid))
            and len(self._shadow(solid)) >= 3
        ]
        if not hanging:
            return math.inf
        leaf, hinge = self._still["leaf"], self.tools.hinge
        angles = np.linspace(self._begin, max(self._begin, math.radians(degrees)), SAMPLES)
        least = math.inf
        for solid in hanging:
            shadow, pole = self._shadow(solid), self.pole(solid)
            # Seen from the leaf, which goes ahead of the sheet.
            places = np.array(
                [
                    turned(turned(shadow, pole, angle), hinge, -math.radians(self.set_for(math.degrees(angle))))
                    for angle in angles.tolist()
                ]
            )
            if boxes_apart(places, leaf.box) < least:
                least = min(least, apart(places, leaf.outlines))
        return least

    def _fixed(self) -> list[Contact | None]:
        """Besides what any nose has: the leaf."""
        others = [s for s in self._swept if s.panel not in self.setting.folding_panels]
        return [
            *super()._fixed(),
            *self._leaf_meets_swinging([s for s in others if s.panel not in self.setting.flush]),
            *self._leaf_meets_resting(),
        ]
