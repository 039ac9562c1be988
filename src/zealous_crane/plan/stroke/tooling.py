"""What a brake may be set up with for a stroke: the choices beyond which pieces stand where."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from ...blank import Blank
from ...brake import Brake, Die, LeafBrake, PressBrake, Punch, PunchStyle, Sections, usable_dies
from ...measure import Units


@dataclass(frozen=True)
class LeafTooling:
    """A leaf brake as it is, or with the leaf's angle off, the fold anywhere on the bed or at one of its ends.

    Attributes:
        brake: the machine as set up.
        bare: the leaf's removable angle is off.
        end: −1 or 1 when the fold begins at the left or right end of the bed, so that what lies beyond it hangs free.
    """

    brake: LeafBrake
    bare: bool = False
    end: int = 0

    @property
    def sections(self) -> Sections:
        """The fingers."""
        return self.brake.sections

    @property
    def marked_in(self) -> Units:
        """Units the fingers are marked in."""
        return self.brake.marked_in

    @property
    def says(self) -> str:
        """What is out of the ordinary about it; empty when nothing is."""
        said = ["the leaf's angle off"] if self.bare else []
        if self.end:
            said.append(f"the fold at the {'left' if self.end < 0 else 'right'} end of the bed")
        return ", ".join(said)

    @property
    def greatest_angle(self) -> float:
        """Farthest a fold can be taken, degrees."""
        return self.brake.greatest_angle

    @property
    def stop(self) -> tuple[str, str]:
        """What ends a stroke that meets nothing: (what, whose)."""
        return "leaf", "its stop"


@dataclass(frozen=True)
class PressTooling:
    """One punch over one die.

    Attributes:
        brake: the machine.
        punch: as it hangs, turned or not.
        die: under it.
        turned: the punch hangs the other way round.
        bottomed: the sheet is pressed against the die's sides, which takes more force and leaves less springback.
    """

    brake: PressBrake
    punch: Punch
    die: Die
    turned: bool = False
    bottomed: bool = False

    @property
    def sections(self) -> Sections:
        """Pieces of the punch."""
        return self.brake.sections(self.punch.pieces, "punch piece")

    @property
    def die_sections(self) -> Sections:
        """Pieces of the die."""
        return self.brake.sections(self.die.pieces, "die piece")

    @property
    def marked_in(self) -> Units:
        """Units the pieces are marked in."""
        return self.brake.marked_in

    @property
    def says(self) -> str:
        """``Gooseneck 86 turned round, on V 10``."""
        turned, bottomed = " turned round" if self.turned else "", ", bottomed" if self.bottomed else ""
        return f"{self.punch.name}{turned} on {self.die.name}{bottomed}"

    @property
    def greatest_angle(self) -> float:
        """Farthest a fold can be taken, degrees: until the metal lies in the V or against the punch's flanks."""
        return 180.0 - max(self.die.angle, self.punch.angle)

    @property
    def stop(self) -> tuple[str, str]:
        """What ends a stroke that meets nothing: (what, whose)."""
        return (
            ("V", f"{self.die.name}'s sides") if self.die.angle >= self.punch.angle else ("punch", f"{self.punch.name}'s tip")
        )


Tooling = LeafTooling | PressTooling


@lru_cache(maxsize=256)
def _leaf(brake: LeafBrake) -> tuple[LeafTooling, ...]:
    ends = (0, -1, 1) if brake.open_ends else (0,)
    found = [LeafTooling(brake, end=end) for end in ends]
    if brake.bare is not None:
        found += [LeafTooling(brake.bare, True, end) for end in ends]
    return tuple(found)


MOST_DIES = 3
"""Dies tried for one sheet, the best first."""


def toolings(brake: Brake, blank: Blank, bottomed: bool = False) -> tuple[Tooling, ...]:
    """What the brake may be set up with for a sheet, the plainest first; a press bends in air or is ``bottomed``."""
    if isinstance(brake, LeafBrake):
        allowed = blank.sheet.allowed_by
        return tuple(t for t in _leaf(brake) if blank.thickness <= allowed(t.brake.rated) + 1e-6)
    order = [PunchStyle.STRAIGHT, PunchStyle.GOOSENECK, PunchStyle.ACUTE]
    found: list[Tooling] = []
    dies = usable_dies(brake, blank.sheet)
    sharp = max((180.0 - d.angle for d in dies), default=0.0)
    plain = [d for d in dies if 180.0 - d.angle < sharp - 30][:MOST_DIES]
    acute = [d for d in dies if d not in plain][:MOST_DIES]
    for punch in sorted(brake.bending_punches, key=lambda p: order.index(p.style)):
        for die in (*plain, *acute) if punch.style is not PunchStyle.ACUTE else (*acute, *plain):
            if not brake.closes(punch, die, blank.thickness):
                continue
            found.append(PressTooling(brake, punch, die, bottomed=bottomed))
            if not punch.even:
                found.append(PressTooling(brake, punch.turned, die, True, bottomed))
    return tuple(found)
