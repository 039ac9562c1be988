"""One stroke of a hand folder: bars are clamped on the sheet, a board lifts the other side about their front edge.

Nothing hangs above the bars and nothing but the board moves, so a fold is met by the bars, the bench and the part itself. The bars
are loose: they are set on the sheet from above and lifted off again, or drawn out along the fold.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import ClassVar

import numpy as np
from numpy.typing import NDArray

from ....allowance import Bend
from ....brake import HandFolder
from ....brake.hand_profile import HandTools, hand_tools_for
from ....measure import Long, Said
from ....measure.once import once
from ....measure.words import tr
from ...geometry.outline import ToolOutline
from ...memory import kept
from ..packing import Packing
from ..piece import Piece, PieceKind
from ..turning import TurningStroke
from .tooling import HandTooling


class HandStroke(TurningStroke):
    """One stroke of a hand folder. See :class:`TurningStroke`."""

    tooling: HandTooling
    section: ClassVar[str] = "bar"

    @once
    def tools(self) -> HandTools:
        """Bar and bench as set up."""
        return _outlines(self.tooling.brake, self.setting.line.bend, 0.0, self.packing.thickness, self.doubled)[0]

    def _outlines(self, keep: float, packing: Packing) -> dict[str, ToolOutline]:
        return _outlines(self.tooling.brake, self.setting.line.bend, keep, packing.thickness, self.doubled)[1]

    @property
    def nose(self) -> NDArray[np.float64]:
        """See :attr:`TurningStroke.nose`."""
        return self.tools.nose

    @property
    def opening(self) -> float:
        """See :attr:`TurningStroke.opening`."""
        return self.tooling.brake.lifted

    def refused(self, wanted: float) -> Said | None:
        """See :meth:`Stroke.refused`."""
        low, high = self.setting.span
        length = self.tooling.brake.bed_length
        if high - low > length:
            return Said.of(tr("the fold is {fold} long and the edge is {edge} long"), fold=Long(high - low), edge=Long(length))
        return None

    def tools_at(self, degrees: float) -> Iterator[Piece]:
        """See :meth:`Stroke.tools_at`."""
        yield Piece(PieceKind.TOOL, self.tools.bed.outline)
        yield from self._strip()
        yield Piece(PieceKind.SECTION, self.tools.bar.outline)


@kept(128, lasts=True)
def _outlines(
    folder: HandFolder, bend: Bend, keep: float, lowered: float, doubled: float
) -> tuple[HandTools, dict[str, ToolOutline]]:
    tools = hand_tools_for(folder, bend, lowered, doubled)
    return tools, {p.name: ToolOutline.of(p, keep) for p in (tools.bar, tools.bed)}
