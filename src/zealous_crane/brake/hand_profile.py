"""Cross-sections of a hand folder, set for one thickness and fold."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from ..allowance import Bend
from ..measure.dataclass import dataclass
from .hand_folder import HandFolder
from .profile import Profile, nose_chain


@dataclass(frozen=True)
class HandTools:
    """Bar and bench set for one fold, in the stroke's frame: fold line on x, bench top at z = 0.

    Attributes:
        bar, bed: cross-sections with the bar clamped.
        nose: (2,) mm, foremost point of the nose's level: where the nose stands over the sheet.
    """

    bar: Profile
    bed: Profile
    nose: NDArray[np.float64]


def hand_tools_for(folder: HandFolder, bend: Bend, lowered: float = 0.0, doubled: float = 0.0) -> HandTools:
    """Set bar and bench up for a fold.

    The bar's nose stands where the rounder of nose and fold begins to curve, as on a leaf brake; the bench's edge stands in the
    plane of the folded side's outside at 90°, so that a board lies against both. The bench lies ``lowered`` mm below a sheet that lies on
    a strip; the bar stands back by ``doubled`` mm where what is folded is doubled beside the line.
    """
    t = bend.thickness
    nose_y = bend.allowance / 2 - min(bend.radius, folder.nose_radius) + doubled
    outline, parts, nose = _bar(folder, t)
    edge, drop = bend.allowance / 2 - t - bend.radius, folder.bed_depth
    lean = drop * math.tan(math.radians(folder.bed_lean))
    bed = Profile(
        "bed",
        np.array([(edge, 0.0), (edge + lean, -drop), (edge + lean + drop, -drop), (edge + lean + drop, 0.0)])
        - np.array([0.0, lowered]),
        ("front", "underside", "back", "top"),
    )
    return HandTools(Profile("bar", outline + np.array([nose_y, t]), parts, nose), bed, np.array([nose_y, t]))


def _bar(folder: HandFolder, thickness: float) -> tuple[NDArray[np.float64], tuple[str, ...], tuple[int, ...]]:
    """Outline of a bar with its nose at y = 0 and its underside at z = 0, mm, its sides and its nose corners."""
    chain = nose_chain(folder.nose_radius, folder.rake)
    (y, z), lean = chain[-1], math.tan(math.radians(folder.rake))
    top = (y + (folder.bar_height - z) * lean, folder.bar_height)
    zone = min(3 * (folder.nose_radius + thickness), folder.bar_height)
    # Walked clockwise from the back of the foot, nose first and up the front; turned round at the end.
    corners, named = [(folder.bar_depth, 0.0), *chain], ["foot", *["nose"] * (len(chain) - 1)]
    on_nose = set(range(1, 1 + len(chain)))
    if z < zone < folder.bar_height and folder.rake > 0:
        corners.append((y + (zone - z) * lean, zone))
        named.append("nose")
    elif folder.rake <= 0:
        # Where the front rises straight from the nose, the zone ends with the nose: that corner counts.
        on_nose.discard(len(chain))
    corners += [top, (folder.bar_depth, folder.bar_height)]
    named += ["face", "top", "heel"]
    n = len(corners)
    # Side i of the reversed outline runs from corner i to i+1, which was side n-2-i before.
    parts = tuple(named[(n - 2 - i) % n] for i in range(n))
    return np.array(corners)[::-1], parts, tuple(sorted(n - 1 - i for i in on_nose))
