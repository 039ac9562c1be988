"""Beginning with a brake of one's own: what is usual of its kind, until a rule says otherwise."""

from __future__ import annotations

from collections.abc import Callable

from ..measure import INCH
from ..measure.dataclass import dataclass
from ..measure.words import tr
from .brake import Brake
from .hand_folder import HandFolder
from .leaf_brake import LeafBrake
from .plain import gooseneck_punch, straight_punch, v_die
from .press_brake import PressBrake
from .rack import Rack
from .section import Section


@dataclass(frozen=True)
class NewBrake:
    """A kind of machine to begin with.

    Attributes:
        label: as the shop calls it.
        make: makes one from a key and a name.
    """

    label: str
    make: Callable[[str, str], Brake]

    def begin(self, rack: Rack) -> Brake:
        """One with a name and a key the rack does not have yet."""
        names, keys = {b.name for b in rack.brakes}, {b.key for b in rack.brakes}
        number = next(n for n in range(1, 1000) if self._name(n) not in names and f"own-{n}" not in keys)
        return self.make(f"own-{number}", self._name(number))

    def _name(self, number: int) -> str:
        return self.label if number == 1 else f"{self.label} {number}"


def _fingers(key: str, name: str) -> Brake:
    widths = (1, 2, 3, 4)
    return LeafBrake(
        key=key, name=name, bed_length=48 * INCH, rated=0.0598 * INCH, finger_height=4 * INCH, open_ends=True,
        fingers=tuple(Section(width=w * INCH, count=c) for w, c in zip(widths, (4, 4, 4, 6), strict=True)),
        leaf_bar=0.5 * INCH, bare_bar=0.25 * INCH,
    )  # fmt: skip


def _straight(key: str, name: str) -> Brake:
    # One bar over the whole bed instead of fingers; nothing stands between it and the beam, so it is low.
    return LeafBrake(
        key=key, name=name, bed_length=96 * INCH, rated=0.0478 * INCH, finger_height=1.5 * INCH, throat=10.0,
        fingers=(Section(width=96 * INCH),), leaf_bar=0.625 * INCH, bare_bar=0.25 * INCH, nose_radius=0.8,
    )  # fmt: skip


def _press(key: str, name: str) -> Brake:
    # A cut set that reaches over the whole bed, and every 5 mm below it.
    pieces = tuple(Section(width=float(w)) for w in (10, 15, 20, 40, 50, 100, 200, 300, 500))
    return PressBrake(
        key=key, name=name, bed_length=1200.0, force=400.0, open_height=350.0, shut_height=150.0,
        punches=(straight_punch(tr("Straight punch"), pieces=pieces), gooseneck_punch(tr("Gooseneck punch"), pieces=pieces)),
        dies=tuple(v_die(f"V {v}", float(v), pieces=pieces) for v in (8, 12, 16, 24)),
    )  # fmt: skip


def _hand(key: str, name: str) -> Brake:
    return HandFolder(
        key=key, name=name, bed_length=600.0, rated=0.8, bars=tuple(Section(width=float(w)) for w in (100, 200, 300, 600))
    )


NEW: tuple[NewBrake, ...] = (
    NewBrake(tr("Finger brake"), _fingers),
    NewBrake(tr("Straight leaf brake"), _straight),
    NewBrake(tr("Press brake"), _press),
    NewBrake(tr("Bench edge and bars"), _hand),
)
"""Every kind of machine that can be begun with. What is usual of each is common practice, no source."""
