"""Where the blocks of a set-up stand: one place for all its strokes, while the part is moved along to each.

Every block must stand within its room on every stroke, and cover what it must. With block b at ``offset[b]`` from the first and
stroke s moved by ``shift[s]``, that is low ≤ shift + offset ≤ high for each pair: differences only, so the longest chains of
limits (Bellman and Ford) say whether it can be, and a few rounds of moving to the middle say where it is best.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ...measure.dataclass import dataclass
from ..stroke.sections import Block, Demand, Room

ROUNDS = 12
"""Times everything is moved to the middle of what is left to it."""

NEAR = 1e-9
"""mm; limits that cross by less are rounding."""


@dataclass(frozen=True)
class Placing:
    """Blocks and strokes of a set-up.

    Attributes:
        offsets: mm, left end of every block from that of the first.
        shifts: mm, left end of the first block along every stroke's x.
    """

    offsets: tuple[float, ...]
    shifts: tuple[float, ...]

    def left(self, stroke: int, block: int) -> float:
        """Left end of a block along a stroke's x, mm."""
        return self.shifts[stroke] + self.offsets[block]


def limits(block: Block, room: Room) -> tuple[float, float, float]:
    """Least and greatest place of a block's left end in a room, and where it is best, mm."""
    low = max(room.room[0], room.cover[1] - block.total)
    high = min(room.room[1] - block.total, room.cover[0])
    if low > high:
        low = high = (low + high) / 2
    middle = (room.cover[0] + room.cover[1]) / 2 - block.total / 2
    return low, high, min(max(middle, low), high)


def placed(blocks: Sequence[Block], lower: Sequence[Block], needs: Sequence[Demand]) -> Placing | None:
    """One place for the blocks of a set-up that serves all its strokes; None when there is none.

    Args:
        blocks: fingers or punch pieces, left to right.
        lower: the die pieces under them; empty on a leaf brake.
        needs: what every stroke asks of the blocks.
    """
    every = (*blocks, *lower)
    found = np.array(
        [[limits(block, room) for block, room in zip(every, (*need.rooms, *need.under), strict=True)] for need in needs]
    )
    low, high, best = found[..., 0], found[..., 1], found[..., 2]
    strokes, count = low.shape
    # shift = −y: offset − y between low and high. Start from the greatest values all limits allow.
    offset, y = np.zeros(count), np.zeros(strokes)
    for _ in range(strokes + count + 1):
        before = (offset.copy(), y.copy())
        offset = np.minimum(offset, (y[:, None] + high).min(axis=0))
        y = np.minimum(y, (offset[None, :] - low).min(axis=1))
        if np.allclose(before[0], offset, atol=NEAR) and np.allclose(before[1], y, atol=NEAR):
            break
    else:
        return None
    shift, offset = -y + offset[0], offset - offset[0]
    for _ in range(ROUNDS):
        shift = np.clip((best - offset).mean(axis=1), (low - offset).max(axis=1), (high - offset).min(axis=1))
        wanted = np.clip(
            (best - shift[:, None]).mean(axis=0), (low - shift[:, None]).max(axis=0), (high - shift[:, None]).min(axis=0)
        )
        offset[1:] = wanted[1:]
    return Placing(tuple(map(float, offset)), tuple(map(float, shift)))
