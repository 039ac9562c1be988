"""A stroke of any brake: what the judgement asks of it."""

from __future__ import annotations

import math
from abc import ABC, abstractmethod
from collections.abc import Iterable, Sequence
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from .meeting import Meeting
from .obstacle import Contact, Obstacle, earliest
from .outline import nearest
from .pose import Setting
from .slab import Slab
from .solid import Solid
from .tooling import Tooling

Array = NDArray[np.float64]


class Stroke(ABC):
    """One setting on one brake, with everything the engine can say about it.

    Args:
        setting: how the part is held.
        tooling: the machine as it is set up.
        keep: clearance (mm) the swing must keep, for its departure from a plain turn; 0 asks for plain contact.
        until: degrees beyond which contacts are of no interest; None looks as far as the machine goes.

    Answers are worked out when first asked for and kept. Angles are degrees the fold stands at.
    """

    def __init__(self, setting: Setting, tooling: Tooling, keep: float = 0.0, until: float | None = None) -> None:
        self.setting, self.tooling, self.keep = setting, tooling, keep
        self.until = tooling.greatest_angle if until is None else max(setting.start, min(until, tooling.greatest_angle))
        self._resting, self._swinging = setting.solids

    @property
    def greatest(self) -> float:
        """Farthest the machine takes a fold, degrees."""
        return self.tooling.greatest_angle

    @property
    @abstractmethod
    def ways(self) -> tuple[str, ...]:
        """Ways to get the part in and out, the plainest first."""

    @abstractmethod
    def refused(self, wanted: float) -> str | None:
        """Why the machine does not take this stroke to ``wanted`` degrees at all, before anything is posed; None when it does."""

    @property
    @abstractmethod
    def fixed_contact(self) -> Contact | None:
        """First contact with what is there whichever sections are used, the part itself included."""

    @abstractmethod
    def barred(self, after: float, way: str = "front") -> Obstacle | None:
        """What keeps the part from going in, being clamped, or coming out at ``after`` degrees, sections aside.

        ``after`` of 0 leaves the way out unasked.
        """

    @abstractmethod
    def slabs(self, after: float, wanted: float, way: str = "front") -> tuple[Slab, ...]:
        """The bed cut into intervals, each with what a section meets there on the way to ``wanted`` degrees."""

    @abstractmethod
    def contact(self, intervals: Iterable[tuple[float, float]]) -> Contact | None:
        """First contact of the swing with anything at all, with sections in ``intervals`` (mm along the fold)."""

    @abstractmethod
    def clearance(self, degrees: float, intervals: Iterable[tuple[float, float]]) -> float:
        """Least distance (mm) between what moves and what may not be touched, up to ``degrees``."""

    # --- the part against itself -----------------------------------------------------------------------------------

    def pole(self, solid: Solid) -> Array:
        """(2,) mm, what a swinging solid turns about."""
        offset = self.setting.offset(solid)
        return self.setting.pole + np.array([offset, 0.0]) if offset else self.setting.pole

    @cached_property
    def _meeting(self) -> Meeting:
        return Meeting(self.keep, math.radians(self.setting.start), math.radians(self.until))

    def _meets_itself(self, best: Contact | None) -> Contact | None:
        """First contact, before ``best``, of what swings with what rests, and of two lines' panels with each other."""
        setting = self.setting
        far = [_around(solid, setting.pole) for solid in self._resting]
        for one in self._swinging:
            folded = one.panel in setting.folding_panels
            pole, near = self.pole(one), _around(one, setting.pole)
            slack = self.keep + 0.01 + 2 * abs(setting.offset(one))
            limit = math.radians(self.until)
            for other, ring in zip(self._resting, far, strict=True):
                if (
                    not _may_meet(near, ring, slack, limit)
                    or one.x_range[0] >= other.x_range[1]
                    or one.x_range[1] <= other.x_range[0]
                ):
                    continue
                if (folded and other.panel in setting.clamped_panels) or setting.guided(one, other):
                    continue
                before = limit if best is None else math.radians(best.angle)
                best = earliest(best, self._meeting.of(one, other, pole, before, setting.touching(one, other)))
        return best

    def poled(self, solids: Sequence[Solid]) -> list[tuple[Array, list[int]]]:
        """The solids' indices by what they turn about."""
        groups: dict[float, list[int]] = {}
        for k, solid in enumerate(solids):
            groups.setdefault(self.setting.offset(solid), []).append(k)
        return [(self.setting.pole + np.array([offset, 0.0]), members) for offset, members in groups.items()]


Ring = tuple[float, float, float, float]
"""Where a solid lies about the pole: least and greatest distance, mm, and first and last direction, radians; directions grow with
the swing from a little below the front, and go all the way round where the pole is near."""

BELOW_FRONT = 1.2
"""Radians below the front at which directions begin to be counted."""


def _around(solid: Solid, pole: Array) -> Ring:
    return _ring(solid, float(pole[0]), float(pole[1]))


@lru_cache(maxsize=8192)
def _ring(solid: Solid, y: float, z: float) -> Ring:
    pole = np.array([y, z])
    arm = solid.shadow - pole
    radius = np.hypot(arm[:, 0], arm[:, 1])
    least = nearest(solid.shadow, pole)
    turn = (np.arctan2(arm[:, 1], -arm[:, 0]) + BELOW_FRONT) % (2 * math.pi)
    low, high = float(turn.min()), float(turn.max())
    if high - low > math.pi or least < 1e-6:
        return 0.0 if least < 1e-6 or _holds(solid.shadow, pole) else least, float(radius.max()), 0.0, 2 * math.pi
    return least, float(radius.max()), low, high


def _holds(outline: Array, point: Array) -> bool:
    """True when a convex outline holds a point."""
    side = np.roll(outline, -1, axis=0) - outline
    away = point - outline
    return bool((side[:, 0] * away[:, 1] - side[:, 1] * away[:, 0] >= 0).all())


def _may_meet(one: Ring, other: Ring, slack: float, limit: float) -> bool:
    """False when a solid that turns cannot meet one that rests: their rings or their directions never overlap."""
    if one[1] < other[0] - slack or other[1] < one[0] - slack:
        return False
    least = max(min(one[0], other[0]), 1e-9)
    spare = math.asin(min(1.0, slack / least)) if least > slack else math.pi
    return any(
        one[2] - spare <= other[3] + turn and one[3] + limit + spare >= other[2] + turn
        for turn in (-2 * math.pi, 0.0, 2 * math.pi)
    )
