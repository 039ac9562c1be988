"""One outline of the picture of a stroke, seen from the end of the brake."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .._typing import Array
from ..brake.cross_section import Profile
from ..i18n import tr
from ..kernel.solid import Body
from ..units.length import Units, show_length


class OutlineKind(StrEnum):
    """What an outline is; ``section`` is what stands over the fold: a finger, a bar, a piece of the
    punch."""

    TOOL = "tool"
    SECTION = "section"
    CLAMPED = "clamped"
    FOLDING = "folding"
    RESTING = "resting"
    SWINGING = "swinging"
    BEND = "bend"


@dataclass(frozen=True, eq=False)
class SceneOutline:
    """One outline.

    Attributes:
        kind: what it is.
        outline: (n, 2) float, (y, z) mm.
        body: what of the part it is; None for a tool and the bend itself.
        rises: it goes up when the brake is opened.
        along: interval of x (mm) in which it lies; None for what goes along the whole bed, or
            stands in pieces.
    """

    kind: OutlineKind
    outline: NDArray[np.float64]
    body: Body | None = None
    rises: bool = False
    along: tuple[float, float] | None = None


Place = tuple[float, float]


@dataclass(frozen=True)
class Drawn:
    """A machine's section.

    Attributes:
        outlines: (n, 2) float, mm, in the stroke's frame: y to the back, z up; by name, in the
            order they are drawn.
        sizes: by the field of the brake, the two ends between which it is measured, mm.
        first: fields that matter most, in the order a person takes them with a rule.
    """

    outlines: tuple[tuple[str, Array], ...]
    sizes: Mapping[str, tuple[Place, Place]]
    first: tuple[str, ...]

    @property
    def box(self) -> tuple[Place, Place]:
        """Least and greatest (y, z) of everything drawn, mm."""
        points = np.concatenate(
            [outline for _, outline in self.outlines]
            + [np.array(ends) for ends in self.sizes.values()]
        )
        low, high = points.min(axis=0), points.max(axis=0)
        return (float(low[0]), float(low[1])), (float(high[0]), float(high[1]))


def profile_record(profile: Profile) -> dict[str, Any]:
    """Outline (n, 2) in mm, to nine places, the name of each side, and the corners on the nose."""
    outline = [[round(float(v), 9) for v in corner] for corner in profile.outline]
    return {"outline": outline, "sides": list(profile.parts), "nose_corners": list(profile.nose)}


def line_place(line: float, units: Units) -> str:
    """Where the fold line lies that is ``line`` mm behind the nose; below zero in front of it."""
    if abs(line) < 0.02:
        return tr("at the nose")
    return tr("{length} {which} the nose").format(
        length=show_length(abs(line), units.fine),
        which=tr("behind") if line > 0 else tr("in front of"),
    )
