"""What is finished by hand: with which tool, and within which limits.

All limits are common practice, no source; they are what a careful hand does without marking the
work.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from ..flat.blank import Blank
from ..flat.element import MadeBy
from ..i18n import Message, msg


class HandMeans(StrEnum):
    """With what a step is done that needs no brake."""

    OWN_TOOL = "own-tool"
    """A tool that forms it in the flat sheet: for beads, joggles, locks."""
    HAND = "hand"
    """Nothing but the hand: the ears of a folded corner."""
    TONGS = "tongs"
    BAR_AND_MALLET = "bar-and-mallet"
    VISE = "vise"
    """Its length is the shop's."""
    BAR_INSIDE = "bar-inside"
    LATH = "lath"
    SEAMER = "hand-seamer"
    """For lips that are turned last."""


@dataclass(frozen=True)
class HandTool:
    """One way to bring a fold round without a brake.

    Attributes:
        means: what it is.
        thickness: thickest mild steel, mm; other metals by √ of strength.
        length: longest fold, mm.
        angle: most it brings a fold round, degrees.
        sharp: only for a fold past 120°, which is closed by pressing down on it.
        wraps: only for the fold that closes a strip on itself, where the hand has two long sides to
            pull on.
        says: how it is done, the fold's name put in.
    """

    means: HandMeans
    thickness: float
    length: float
    angle: float
    says: Message
    wraps: bool = False
    sharp: bool = False


HAND_TOOLS = (
    HandTool(
        HandMeans.TONGS,
        0.9,
        3000.0,
        15.0,
        msg("work along {fold} with hand seamer tongs, a little at each bite"),
    ),
    HandTool(
        HandMeans.BAR_AND_MALLET,
        1.3,
        1500.0,
        15.0,
        msg("clamp a straight bar along {fold} and dress it round with a mallet"),
    ),
    HandTool(
        HandMeans.VISE, 2.0, 200.0, 30.0, msg("close {fold} in a vise between two straight bars")
    ),
    HandTool(
        HandMeans.BAR_INSIDE,
        0.8,
        1000.0,
        50.0,
        msg("pull {fold} round over a straight bar held inside it"),
        wraps=True,
    ),
    HandTool(
        HandMeans.LATH,
        0.5,
        3000.0,
        75.0,
        msg(
            "lay {fold} over a lath on the table and press it closed with a board, evenly, end by "
            "end"
        ),
        sharp=True,
    ),
)
"""The plainest first."""

SHARP = 120.0
"""Degrees past which a fold of thin sheet is pressed closed rather than pulled round."""


def hand_tool(blank: Blank, fold: int, degrees: float) -> HandTool | None:
    """The plainest way to bring a fold ``degrees`` farther round, or back, by hand; None when it is
    too much for a hand.

    Args:
        blank: the flat.
        fold: the bend line.
        degrees: the angle the bend stands at.
    """
    return next((tool for tool in _tools(blank, fold) if degrees <= tool.angle + 1e-9), None)


def hand_limit(blank: Blank, fold: int) -> float:
    """Most (degrees) a hand brings this fold round; 0 when the metal is too thick for any tool."""
    return max((tool.angle for tool in _tools(blank, fold)), default=0.0)


def _tools(blank: Blank, fold: int) -> list[HandTool]:
    """What the metal and the length of a fold allow."""
    return [
        tool
        for tool in HAND_TOOLS
        if blank.thickness <= blank.sheet.allowed_by(tool.thickness) + 1e-9
        and blank.folds[fold].length
        <= (blank.small_tools.vise if tool.means is HandMeans.VISE else tool.length)
        and (not tool.wraps or wraps(blank, fold))
        and (not tool.sharp or abs(blank.folds[fold].angle) > SHARP)
    ]


LIP = 25.4
"""mm up to which a flange that stands on the base is a lip and not a wall. Common practice, no
source."""

SEAMER_THICKNESS = 0.75
"""mm of mild steel that is still turned square with them. Common practice, no source."""


def seamer_depth(blank: Blank, fold: int) -> float | None:
    """Depth (mm) of the shallowest hand seamer that takes the flange of a fold; None where no one
    does."""
    line = blank.folds[fold]
    if blank.thickness > blank.sheet.allowed_by(SEAMER_THICKNESS) + 1e-9 or abs(line.angle) > 120.0:
        return None
    corners = np.array(blank.panels[line.child].polygon)
    deep = float(((corners - line.start) @ line.outward).max())
    return next((depth for depth in blank.small_tools.seamers if deep <= depth + 0.5), None)


def lips(blank: Blank) -> list[tuple[int, ...]]:
    """Groups of outermost flanges that a hand seamer can turn when all else is bent: those alike
    together, the smallest first, then all of them."""
    carries = {f.parent for f in blank.folds if f.made_by is not MadeBy.HEM}
    groups: dict[tuple[float, float], list[int]] = {}
    for i, fold in enumerate(blank.folds):
        depth = (
            seamer_depth(blank, i)
            if fold.made_by is MadeBy.BRAKE and fold.child not in carries
            else None
        )
        # What stands on the base is a wall, unless it is as narrow as a lip.
        if depth is not None and (fold.parent != 0 or depth <= LIP):
            groups.setdefault((depth, fold.angle), []).append(i)
    result = [tuple(groups[key]) for key in sorted(groups)]
    every = tuple(sorted(i for group in result for i in group))
    result = [*result, every] if len(result) > 1 else result
    bent = sum(f.made_by is MadeBy.BRAKE for f in blank.folds)
    return [group for group in result if len(group) < bent]


def wraps(blank: Blank, fold: int) -> bool:
    """True for a fold of a strip that closes on itself: parallel folds the same way that turn it by
    270° or more in all."""
    line = blank.folds[fold]
    turn = sum(
        other.angle
        for other in blank.folds
        if other.made_by is MadeBy.BRAKE
        and abs(float(other.outward @ line.outward)) > 0.999
        and other.angle * line.angle > 0
    )
    return abs(turn) >= 270.0 - 1e-6
