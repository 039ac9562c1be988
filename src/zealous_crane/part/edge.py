"""Edges of a panel and how sizes are read."""

from __future__ import annotations

import re
from functools import cache
from typing import Annotated

from ..measure.checked import Checked
from ..measure.input_error import InputError
from ..measure.worded import Worded
from ..measure.words import tr


class Measured(Worded):
    """Which faces a size is read between; ``flat`` is from line to line, or to the edge, as a hand scribes them."""

    INSIDE = "inside"
    OUTSIDE = "outside"
    FLAT = "flat"


class Edge(Worded):
    """An edge of a four-sided panel, as it lies on the bench: length left to right, width away from you.

    On a flange's own panel, seen from its fold looking out, ``front`` is the fold, ``back`` the free edge, ``left`` and
    ``right`` its two ends.
    """

    FRONT = "front"
    RIGHT = "right"
    BACK = "back"
    LEFT = "left"

    @property
    def turn(self) -> int:
        """Quarter turns counter-clockwise from the front edge."""
        return _TURNS[self]


_TURNS = {edge: turn for turn, edge in enumerate(Edge)}


MIDDLE = "middle"
"""Between two edges."""

EDGE_WORDS = {**{edge.value: edge.words for edge in Edge}, MIDDLE: tr("middle")}
"""Edges of a four-sided panel, and the middle between two, in words."""


def edge_words(name: str) -> str:
    """An edge of any panel, in words."""
    return EDGE_WORDS.get(name) or tr("edge {number}").format(number=name.removeprefix("edge-"))


@cache
def edge_names(count: int) -> tuple[str, ...]:
    """Names of the edges of a panel with ``count`` corners, counter-clockwise from corner 0."""
    if count == 4:
        return tuple(e.value for e in Edge)
    return tuple(f"edge-{i + 1}" for i in range(count))


def _known(value: str) -> str:
    text = str(value)
    if text in tuple(Edge):
        return text
    if not re.fullmatch(r"edge-[1-9]\d{0,2}", text):
        raise InputError(
            tr("an edge is front, right, back or left, or edge-1, edge-2 … of a panel with other corners, not {text}").format(
                text=text
            )
        )
    return text


EdgeName = Annotated[str, Checked((_known,))]
"""An edge of any panel."""
