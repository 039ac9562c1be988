"""The part in the brake for one stroke: what is clamped, what swings, and where all of it stands.

Stroke frame: the fold line is the x axis with x = 0 at its middle; y runs to the back of the brake, into the clamped
side; z up, with the bed at z = 0 and the clamped panel from 0 to the thickness. The swinging side starts at negative y.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ...allowance import Bend
from ...blank import Blank, Fold, Pose, pole_height
from ...blank.blank import IN_LINE
from ...measure.dataclass import dataclass
from ...measure.once import once
from ..geometry.contact import turned
from ..geometry.solid import Solid
from ..memory import kept
from .batch import NoseBatch
from .held import Held, behind, held_for
from .posing import panel_solids, pose, strip_solids

Array = NDArray[np.float64]

LIES_ON = 0.2
"""Thicknesses by which a tab and the wall it lies against may overlap on paper before that counts as meeting: metal gives."""


@dataclass(frozen=True, eq=False)
class Setting:
    """One way to hold the part for one fold, with the other folds as they stand.

    Attributes:
        blank: the part.
        fold: index of the fold to be made; every fold that lies on one line with it is made in the same stroke.
        clamps_parent: the panel nearer the base lies under the fingers; otherwise the other one.
        angles: signed degrees of every fold before the stroke; the fold itself is flat, or stands part way.
    """

    blank: Blank
    fold: int
    clamps_parent: bool
    angles: tuple[float, ...]

    @once
    def line(self) -> Fold:
        """The fold to be made."""
        return self.blank.folds[self.fold]

    @property
    def start(self) -> float:
        """Degrees the fold stands at before the stroke."""
        return abs(self.angles[self.fold])

    @once
    def folds(self) -> tuple[int, ...]:
        """Every fold this stroke makes, the one under the nose first: those on one line, or nearly, bent alike, whose panels
        still lie in one plane. The nose stands at the rearmost of them."""
        near = self.blank.near_line[self.fold]
        if len(near) == 1:
            return near
        mates = [i for i in near if i == self.fold or self._level(i)]
        far = {i: behind(self.blank, self.fold, self.clamps_parent, i) for i in mates}
        # Lines that differ by less than a scriber's width are one.
        return tuple(sorted(mates, key=lambda i: (-round(far[i] / IN_LINE), i)))

    def _level(self, other: int) -> bool:
        """True when another fold stands at the same angle and no standing fold lies between its panel and this one's."""
        if self.angles[other] != self.angles[self.fold]:
            return False
        between = self.blank.folds_between(self.line.parent, self.blank.folds[other].parent)
        return all(self.angles[i] == 0 or i in self.blank.near_line[self.fold] for i in between)

    @once
    def held(self) -> Held:
        """How the part is held, as far as the other folds have no say in it."""
        return held_for(self.blank, self.fold, self.clamps_parent, self.folds)

    @property
    def clamped_panels(self) -> frozenset[int]:
        """See :attr:`Held.clamped_panels`."""
        return self.held.clamped_panels

    @property
    def folding_panels(self) -> frozenset[int]:
        """See :attr:`Held.folding_panels`."""
        return self.held.folding_panels

    @once
    def beside(self) -> tuple[frozenset[int], frozenset[int]]:
        """What is clamped and what is folded at the line, as :attr:`Solid.panel` counts: the panels, and the flat strips between
        two of them. These belong together; that they meet at the fold is meant."""

        def with_strips(panels: frozenset[int]) -> frozenset[int]:
            flat = (i for i, f in enumerate(self.blank.folds) if self.angles[i] == 0 and {f.parent, f.child} <= panels)
            return panels | {-1 - i for i in flat if i not in self.folds}

        return with_strips(self.clamped_panels), with_strips(self.folding_panels)

    @once
    def flush(self) -> frozenset[int]:
        """Bent strips, as :attr:`Solid.panel` counts, that lie on the leaf with the panel they belong to: they turn away from it, so
        they never leave the panel's own plane downwards."""
        return frozenset(
            -1 - i
            for i, fold in enumerate(self.blank.folds)
            if i not in self.folds and self.angles[i] * self.line.angle > 0 and self.folding_panels & {fold.parent, fold.child}
        )

    @property
    def name(self) -> str:
        """What is folded, as the shop calls it."""
        names = [self.blank.folds[i].name for i in self.folds]
        return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"

    @property
    def clamped(self) -> int:
        """Index of the panel under the fingers."""
        return self.held.clamped

    @property
    def folding(self) -> int:
        """Index of the panel on the leaf."""
        return self.held.folding

    @property
    def swinging(self) -> frozenset[int]:
        """See :attr:`Held.swinging`."""
        return self.held.swinging

    @once
    def level(self) -> frozenset[int]:
        """Indices of everything that lies in the plane of the panels beside the fold, as :attr:`Solid.panel` counts: the panels
        that go on flat, their flat strips, and strips that turn up from them."""
        flat = [i for i in self.held.others if self.angles[i] == 0]
        group = self.blank.reached(self.folding_panels | self.clamped_panels, flat)
        strips = {
            -1 - i
            for i, fold in enumerate(self.blank.folds)
            if i not in self.folds and group & {fold.parent, fold.child} and self.angles[i] * self.line.angle >= 0
        }
        return group | strips

    @property
    def offsets(self) -> dict[int, float]:
        """See :attr:`Held.offsets`."""
        return self.held.offsets

    @property
    def pole(self) -> Array:
        """(2,) mm, the axis of the swing in (y, z)."""
        return self.held.pole

    @property
    def frame(self) -> Pose:
        """Motion from flat coordinates of the clamped panel into the stroke frame."""
        return self.held.frame

    def angles_to(self, panel: int) -> tuple[float, ...]:
        """Angles of the folds between the clamped panel and another, the fold that is made lying flat."""
        return tuple(0.0 if i in self.folds else self.angles[i] for i in self.held.ways[panel])

    @once
    def poses(self) -> list[Pose]:
        """Pose of every panel with the fold flat, from flat coordinates into the stroke frame."""
        return [pose(self.held, i, self.angles_to(i)) for i in range(len(self.blank.panels))]

    @once
    def solids(self) -> tuple[tuple[Solid, ...], tuple[Solid, ...]]:
        """Resting and swinging solids with the fold flat. The strip of the fold itself is left out: it is meant to bend."""
        resting: list[Solid] = []
        swinging: list[Solid] = []
        held, swings = self.held, self.held.swinging
        stand = list(self.angles)
        for i in self.folds:
            stand[i] = 0.0
        reached = [tuple([stand[i] for i in way]) for way in held.ways]
        for i, angles in enumerate(reached):
            (swinging if i in swings else resting).extend(panel_solids(held, i, angles))
        for i, parent in held.strips:
            (swinging if parent in swings else resting).extend(strip_solids(held, i, stand[i], reached[parent]))
        return tuple(resting), tuple(swinging)

    @once
    def batch(self) -> NoseBatch:
        """Every solid as the engine is asked about all of them, those that rest first."""
        return self.batch_of(*self.solids)

    def batch_of(self, resting: Sequence[Solid], swinging: Sequence[Solid]) -> NoseBatch:
        """The same of some solids."""
        turning = self.held.turning
        return NoseBatch.about(resting, [(solid, *turning[solid.panel]) for solid in swinging])

    @property
    def span(self) -> tuple[float, float]:
        """See :attr:`Held.span`."""
        return self.held.span

    @once
    def fold_ranges(self) -> tuple[tuple[float, float], ...]:
        """From where to where each of its folds runs along the line, mm, from the middle of what is folded."""
        turn, shift = self.frame.turn, self.frame.shift
        found = []
        for fold in (self.blank.folds[i] for i in self.folds):
            ends = [float((turn @ np.array([*end, 0.0]) + shift)[0]) for end in (fold.start, fold.end)]
            found.append((min(ends), max(ends)))
        return tuple(sorted(found))

    @once
    def x_range(self) -> tuple[float, float]:
        """Extent of the whole part along the bed, mm."""
        ranges = [solid.x_range for group in self.solids for solid in group]
        return min(r[0] for r in ranges), max(r[1] for r in ranges)

    def offset(self, solid: Solid) -> float:
        """How far (mm) the line a swinging solid turns about lies behind the one under the nose."""
        turning = self.held.turning.get(solid.panel)
        return 0.0 if turning is None else turning.pole[0]

    @property
    def front(self) -> float:
        """See :attr:`Held.front`."""
        return self.held.front

    def own_line(self, panel: int) -> float:
        """See :meth:`Held.own_line`."""
        return self.held.own_line(panel)

    def _panel(self, solid: Solid) -> int:
        """Index of the panel a solid belongs to: of a bent strip, the one that is folded there."""
        return solid.panel if solid.panel >= 0 else self.blank.folds[-1 - solid.panel].child

    def touching(self, one: Solid, other: Solid) -> float:
        """How far (mm) two pieces may overlap on paper because one is made to lie against the other; 0 when neither is."""
        a, b, lying = self._panel(one), self._panel(other), self.blank.lying
        return LIES_ON * self.blank.thickness if (a, b) in lying or (b, a) in lying else 0.0

    def guided(self, one: Solid, other: Solid) -> bool:
        """True for a tab and the hem of the wall it lies against: it is guided under the hem by hand while the wall comes up."""
        tucked = self.blank.tucked
        if not tucked:
            return False
        a, b = self._panel(one), self._panel(other)
        return (a, b) in tucked or (b, a) in tucked

    def after(self, degrees: float) -> tuple[float, ...]:
        """Angles of all folds once this one stands at ``degrees``."""
        done = math.copysign(degrees, self.line.angle)
        return tuple(done if i in self.folds else angle for i, angle in enumerate(self.angles))


@kept(8192)
def setting_for(blank: Blank, fold: int, clamps_parent: bool, angles: tuple[float, ...]) -> Setting:
    """A :class:`Setting`, one for all that is asked about it: each set-up of the machine, each angle it may be taken to."""
    return Setting(blank, fold, clamps_parent, angles)


def swung(shadow: Array, pole: Array, degrees: float) -> Array:
    """A swinging shadow (n, 2) at an angle of the swing."""
    return turned(shadow, pole, math.radians(degrees))


@kept(256)
def wander(bend: Bend, degrees: float) -> float:
    """Bound (mm) on how far the swinging part strays from its turn about the pole on the way to ``degrees``.

    The turn about the pole is exact at the start and at the bend's own angle. In between the metal may wrap from the nose
    outwards, from the free side inwards, or bend evenly; each keeps the direction of the swinging side, so it differs from
    the turn by a shift only. The largest shift of the three is taken at 1025 angles and half a step of the fastest
    possible change is added (docs/theory.md).
    """
    full = math.radians(bend.angle)
    ba, r, t = bend.allowance, bend.radius, bend.thickness
    if ba < 1e-12 or degrees <= 0:
        return 0.0
    h = pole_height(bend)
    last = max(full, math.radians(degrees))
    phi = np.linspace(0.0, last, 1025)
    c, s = np.cos(phi), np.sin(phi)
    turn = np.column_stack([-ba / 2 * c + (t - h) * s, h + ba / 2 * s + (t - h) * c])
    rest = ba * (1 - phi / full)
    from_nose = np.column_stack([ba / 2 - r * s - rest * c, t + r - r * c + rest * s])
    from_free = np.column_stack([ba / 2 - rest - r * s, t + r - r * c])
    even_r = ba / np.maximum(phi, 1e-12) - (ba / full - r)
    even = np.column_stack([ba / 2 - even_r * s, t + even_r * (1 - c)])
    even[0] = turn[0]
    largest = max(float(np.hypot(*(path - turn).T).max()) for path in (from_nose, from_free, even))
    fastest = r + ba + ba / full + ba / 2 + abs(t - h)
    return largest + fastest * last / 1024 / 2
