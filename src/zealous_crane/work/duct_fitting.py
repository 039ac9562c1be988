"""A duct fitting as a set: from two openings, every piece it is made of, its cleats, and how it
goes together."""

from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..i18n import tr
from ..job.job import Job
from ..metal.material import Material
from ..metal.sheet import Sheet
from ..part.kinds.duct import Cap
from ..part.kinds.duct_side import DuctEnd, DuctShape, DuctSide, DuctSideName, plane
from ..schema.model import ONE_LINE, LengthOrZero, TextLine
from ..units.length import Units, show_length

TAIL = 12.7
"""mm of a drive cleat that is hammered over at each of its ends. Common practice, no source."""


@dataclass(frozen=True)
class Cleat:
    """A cleat that joins the fitting to what comes next.

    Attributes:
        form: ``s`` or ``drive``.
        length: mm.
        count: how many of them.
        end: which end of the fitting they are for, 1 or 2.
    """

    form: str
    length: float
    count: int
    end: int

    def text(self, units: Units) -> str:
        """As it is cut."""
        name = tr("S cleat") if self.form == "s" else tr("drive cleat")
        end = tr("first") if self.end == 1 else tr("second")
        return tr("{count} × {name} {length} long, {end} end").format(
            count=self.count, name=name, length=show_length(self.length, units), end=end
        )


class DuctFitting(DuctShape):
    """A four-sided fitting between two openings, given once for all its pieces.

    What it shares with every side is said by :class:`DuctShape`.

    Attributes:
        name: what the shop calls it.
        cap: a cap that closes one of its ends.
        cap_clearance: the cap is smaller than the opening in all, mm.
        metal, thickness: of all pieces.
        brake: on which they are bent.
        quantity: how many fittings.
        units: lengths are read and shown in them.
    """

    name: Annotated[str, Field(min_length=1, max_length=80), ONE_LINE] = Field(
        default_factory=lambda: tr("Duct fitting")
    )
    cap: Literal["none", "first", "second"] = Field(default="none", title="Cap on")
    cap_clearance: LengthOrZero = Field(default=6.35, title="Cap smaller by")
    metal: TextLine = "galvanized"
    own_metal: Material | None = None
    thickness: TextLine = "26 ga"
    brake: TextLine = "apiary-finger-50"
    quantity: Annotated[int, Field(ge=1, le=10_000)] = 1
    units: Units = Units.FRACTIONS

    def side(self, side: DuctSideName = DuctSideName.FRONT) -> DuctSide:
        """One of its four sides."""
        shape = {name: getattr(self, name) for name in DuctShape.model_fields}
        return DuctSide.model_validate({**shape, "side": side})

    @property
    def sheet(self) -> Sheet:
        """The sheet it is made of."""
        return Job(
            part=self.side(),
            metal=self.metal,
            own_metal=self.own_metal,
            thickness=self.thickness,
            units=self.units,
        ).sheet

    def sides(self) -> list[tuple[tuple[DuctSideName, ...], DuctSide]]:
        """Every different side, with the names of those that are alike, opposite ones only."""
        result: list[tuple[tuple[DuctSideName, ...], DuctSide]] = []
        for side in DuctSideName:
            made = self.side(side)
            quad = np.array(plane(self.quad(side)))
            for i, (names, other) in enumerate(result):
                if (
                    len(names) == 1
                    and _opposite(names[0], side)
                    and np.allclose(plane(self.quad(other.side)), quad, atol=1e-6)
                ):
                    result[i] = ((*names, side), other)
                    break
            else:
                result.append(((side,), made))
        return result

    def pieces(self) -> tuple[Job, ...]:
        """A job for every different piece.

        Raises:
            InputError: sizes that cannot be made.
        """
        jobs = [
            self._job(
                tr("{sides} {noun}, {name}").format(
                    name=self.name,
                    sides=tr(" and ").join(n.words for n in names).capitalize(),
                    noun=tr("sides") if len(names) > 1 else tr("side"),
                ),
                part,
                len(names),
            )
            for names, part in self.sides()
        ]
        if self.cap != "none":
            first = self.cap == "first"
            _, hem = self.side().hem_flat(self.sheet.thickness)
            cap = Cap(
                length=self.length if first else self.small_length,
                width=self.width if first else self.small_width,
                clearance=self.cap_clearance,
                depth=19.05,
                edge=12.7,
                hem=min(hem, 9.525),
            )
            jobs.append(self._job(tr("Cap, {name}").format(name=self.name), cap, 1))
        return tuple(jobs)

    def _job(self, name: str, part: DuctSide | Cap, each: int) -> Job:
        return Job(
            name=name,
            part=part,
            metal=self.metal,
            own_metal=self.own_metal,
            thickness=self.thickness,
            brake=self.brake,
            units=self.units,
            quantity=each * self.quantity,
        )

    def cleats(self) -> tuple[Cleat, ...]:
        """The cleats its ends are joined with: S on the long sides, drives on the short ones with a
        tail at each end."""
        result: list[Cleat] = []
        for end, form, (length, width) in (
            (1, self.first_end, (self.length, self.width)),
            (2, self.second_end, (self.small_length, self.small_width)),
        ):
            if form is not DuctEnd.SLIPS:
                continue
            along = self.wide(DuctSideName.FRONT)
            long, short = (length, width) if along else (width, length)
            result.append(Cleat("s", long, 2 * self.quantity, end))
            result.append(Cleat("drive", short + 2 * TAIL, 2 * self.quantity, end))
        return tuple(result)

    def assembly(self) -> tuple[str, ...]:
        """How it goes together, step by step. Common practice, no source."""
        wide = [s.words for s in DuctSideName if self.wide(s)]
        narrow = [s.words for s in DuctSideName if not self.wide(s)]
        steps: list[str] = []
        if self.cross_break:
            steps.append(
                tr(
                    "Cross-break every side from corner to corner inside its allowances, bulging "
                    "outwards, lifted 10° to 15°,"
                    " before anything is bent."
                )
            )
        steps.append(
            tr(
                "Form the pockets on the {wide} sides; turn the edges of the {narrow} sides square."
            ).format(wide=tr(" and ").join(wide), narrow=tr(" and ").join(narrow))
        )
        steps.append(
            tr(
                "Kick and turn the ends of all sides, and check that the two ends of each lie "
                "parallel."
            )
        )
        steps.append(
            tr(
                "Drive the plain edges of the {narrow} sides into the pockets of the {wide} "
                "sides, end by end, and hammer the"
                " pocket lips over with the side of the hammer."
            ).format(narrow=tr(" and ").join(narrow), wide=tr(" and ").join(wide))
        )
        steps.append(tr("Check both openings across their diagonals."))
        if self.cap != "none":
            steps.append(
                tr(
                    "Measure the opening at both ends of each side before the cap is cut, and "
                    "take the less."
                )
            )
        if DuctEnd.SLIPS in (self.first_end, self.second_end):
            steps.append(
                tr(
                    "Join with S cleats on the long sides first, then drive the drives on the "
                    "short ones; hammer their tails over."
                )
            )
        steps.append(
            tr(
                "Sealant in every seam that must hold air. Local codes and the licensed trade "
                "come first."
            )
        )
        return tuple(steps)


def _opposite(one: DuctSideName, other: DuctSideName) -> bool:
    names = list(DuctSideName)
    return (names.index(one) - names.index(other)) % 4 == 2
