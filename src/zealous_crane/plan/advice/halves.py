"""Two pieces and a seam: a part that does not go in one, cut across its base and lapped."""

from __future__ import annotations

from collections.abc import Iterator

from ...part import Base, Design, SeamForm
from ...part.corner import CornerAt

CUTS = (("length", "left", "right"), ("width", "front", "back"))
"""Across which size of the base, and the edges on either side of the cut."""

LEAST = 2.0
"""Laps that half a base must be long to be worth cutting. Common practice, no source."""


def halves(design: Design) -> Iterator[tuple[str, Design, Design]]:
    """Ways to cut a part in two: what is cut across, and both pieces, the first longer by the lap.

    Only a rectangular base without holes is cut, and only where something stands on both sides of the cut. The walls that run
    across it are cut with it, so that one piece slips into the other by the lap (:attr:`SeamForm.usual`).
    """
    base = design.base
    if not isinstance(base, Base) or design.cutouts or design.marks:
        return
    lap = SeamForm.LAP.usual
    standing = {flange.edge for flange in design.flanges}
    for size, near, far in CUTS:
        half = getattr(base, size) / 2
        if half < LEAST * lap or not {near, far} <= standing:
            continue
        yield size, _without(design, far, size, half + lap), _without(design, near, size, half)


def _without(design: Design, edge: str, size: str, length: float) -> Design:
    """The part without what stands on one edge, its base so long."""
    base = design.base.model_copy(update={size: length})
    flanges = tuple(flange for flange in design.flanges if flange.edge != edge)
    corners: tuple[CornerAt, ...] = tuple(corner for corner in design.corners if edge not in corner.at.split("-"))
    return Design.model_validate({**dict(design), "base": base, "flanges": flanges, "corners": corners})
