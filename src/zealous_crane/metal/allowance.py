"""The schools of bend allowance a job can follow.

Each is a small frozen model with one method; a further school is one more class in the union below.
"""

import itertools
import math
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from ..i18n import Message, msg, tr
from ..schema.model import Length, PositiveLength
from ..units.length import Units, show_length
from .bend import FOLDED_BACK, BaseAllowanceMethod, Bend
from .shop_table import ShopTable

HEM_CLOSED = 0.2
"""Inside radius in thicknesses below which a hem counts as pressed flat."""

SHARP = 1.01
"""mm up to which sheet is folded sharp on the line: 20 gauge galvanized is 1.006 mm, 20 gauge steel
0.91."""


THUMB_K = 0.44
"""K of the neutral line that rules of thumb give way to: the middle of the range handbooks give for
90° bends. Common practice, no source."""


def closed_hem(radius: float, thickness: float) -> float:
    """BA of a hem pressed flat, mm: 0.43 T is taken off what is laid out to its folded edge. Common
    practice, no source."""
    return max(0.0, 2 * (radius + thickness) - 0.43 * thickness)


def is_pressed_flat(angle: float, radius: float, thickness: float) -> bool:
    """True for a hem whose two layers touch: 180° and next to no radius. Open, teardrop and rolled
    hems keep an arc.

    Args:
        angle: degrees.
        radius: inside radius, mm.
        thickness: of the sheet, mm.
    """
    return FOLDED_BACK < angle <= 180 and radius < HEM_CLOSED * thickness


def arc(angle: float, radius: float, thickness: float, k: float = THUMB_K) -> float:
    """Length of the neutral line of a bend, mm: θ·(r + K·T). Definition of K.

    Args:
        angle: degrees turned from flat.
        radius, thickness: mm.
        k: place of the neutral line from the inside, share of the thickness.
    """
    return math.radians(angle) * (radius + k * thickness)


def _on_the_line(angle: float, radius: float) -> float:
    """Flat between the tangent lines that the sharp inside corner would have needed, mm:
    2·r·tan(θ/2)."""
    return 2 * radius * math.tan(math.radians(angle) / 2)


class OnTheLine(BaseAllowanceMethod):
    """Inside lengths are laid out as they are and folded on the line: the bend itself uses nothing.

    BA = 2·r·tan(θ/2): the flat between the tangents is just what the inside corner would have
    needed, so no length is gained or lost on the inside. A hem pressed flat is laid out the same
    way, to its folded edge: BA = 2·(r + T). The rule holds near a sharp fold. Where it asks for
    more metal than the neutral line is long, and in open, teardrop and rolled hems, the neutral
    line is taken. Thin sheet folded sharp on a leaf brake. Common practice, no source.
    """

    label: ClassVar[Message] = msg("Fold on the line")
    source: ClassVar[Message] = msg(
        "Common practice for thin sheet folded sharp on a leaf brake; no published source."
    )
    school: Literal["on-the-line"] = "on-the-line"

    def allowance(self, angle: float, radius: float, thickness: float) -> float:
        if is_pressed_flat(angle, radius, thickness):
            return 2 * (radius + thickness)
        neutral = arc(angle, radius, thickness)
        return neutral if angle > FOLDED_BACK else min(_on_the_line(angle, radius), neutral)

    def default_radius(self, thickness: float) -> float:
        return 0.0

    def doubt(
        self, angle: float, radius: float, thickness: float, units: Units = Units.MM
    ) -> str | None:
        if angle <= FOLDED_BACK and _on_the_line(angle, radius) > arc(angle, radius, thickness):
            return tr(
                "An inside radius of {radius} is too round to be folded on the line, which is for "
                "sharp folds: the neutral "
                "line (K {k:g}) is used for this bend."
            ).format(radius=show_length(radius, units.fine), k=THUMB_K)
        if thickness > SHARP:
            return tr(
                "Fold on the line is for sheet of about 20 gauge and thinner; in metal as thick "
                "as this the part "
                "comes out smaller inside than laid out, because the bend itself uses metal. The "
                "neutral line is "
                "nearer."
            )
        return None


class InsideGain(BaseAllowanceMethod):
    """Inside sizes plus a gain measured on the shop's own press: BA = 2·r·tan(θ/2) + gain · θ/90°.

    The bend line lies at the inside size plus half the gain of each bend. Common practice, no
    source. The rule holds near a sharp fold of 90°. Where it asks for more metal than the neutral
    line that gives the same gain there, that line is taken; open, teardrop and rolled hems take
    their own arc.
    """

    label: ClassVar[Message] = msg("Inside size plus a gain")
    source: ClassVar[Message] = msg(
        "Common practice for plate bottomed in a press, the gain measured; no published source."
    )
    school: Literal["inside-gain"] = "inside-gain"
    gain: Annotated[
        Length | None, Field(description="grows per 90° bend, mm; none takes half the thickness")
    ] = None

    def allowance(self, angle: float, radius: float, thickness: float) -> float:
        if is_pressed_flat(angle, radius, thickness):
            return closed_hem(radius, thickness)
        if angle > FOLDED_BACK:
            return arc(angle, radius, thickness)
        return min(self._by_rule(angle, radius, thickness), self._neutral(angle, radius, thickness))

    def _gain(self, thickness: float) -> float:
        return thickness / 2 if self.gain is None else self.gain

    def _by_rule(self, angle: float, radius: float, thickness: float) -> float:
        return _on_the_line(angle, radius) + self._gain(thickness) * angle / 90

    def _neutral(self, angle: float, radius: float, thickness: float) -> float:
        """BA (mm) by the neutral line that gives the gain in a sharp fold of 90°: one of up to a
        thickness inside radius."""
        sharp = min(radius, thickness)
        k = ((2 * sharp + self._gain(thickness)) / (math.pi / 2) - sharp) / thickness
        return arc(angle, radius, thickness, k)

    def doubt(
        self, angle: float, radius: float, thickness: float, units: Units = Units.MM
    ) -> str | None:
        if (
            angle <= FOLDED_BACK
            and self._by_rule(angle, radius, thickness)
            > self._neutral(angle, radius, thickness) + 1e-9
        ):
            return tr(
                "The gain holds for a sharp fold of 90°. At {angle:g}° and an inside radius of "
                "{times:.2g} thicknesses the neutral line "
                "that gives the same gain there is used."
            ).format(angle=angle, times=radius / thickness)
        if thickness < 1.2:
            return tr(
                "A gain per bend is meant for plate bottomed in a press; fold sheet as thin as "
                "this on the line."
            )
        if self.gain is not None and not 0 <= self.gain <= thickness:
            return tr(
                "The gain written for a bend lies outside 0 to one thickness; measure a test "
                "strip again."
            )
        return None


USUAL_K = ((0.0, 0.33), (1.0, 0.40), (3.0, 0.45), (10.0, 0.50))
"""Usual K by inside radius in thicknesses, in air: nearer the inside where the bend is sharp, the
middle where it is rolled. From memory."""


def usual_k(ratio: float) -> float:
    """Usual K for r/T, between the points of :data:`USUAL_K`."""
    for (a, low), (b, high) in itertools.pairwise(USUAL_K):
        if ratio <= b:
            return low + (high - low) * (max(ratio, a) - a) / (b - a)
    return USUAL_K[-1][1]


class NeutralLine(BaseAllowanceMethod):
    """BA = θ·(r + K·T): the fibre at K of the thickness from the inside keeps its length."""

    label: ClassVar[Message] = msg("Neutral line (K)")
    source: ClassVar[Message] = msg("Definition of the K-factor; Machinery's Handbook and others.")
    school: Literal["neutral-line"] = "neutral-line"
    k: Annotated[
        float | None,
        Field(
            ge=0.0,
            le=0.6,
            description="place of the neutral line, fraction of thickness; none takes the usual "
            "one for r/T",
        ),
    ] = THUMB_K
    measured_radius: Annotated[
        PositiveLength | None,
        Field(
            title="Inside radius measured",
            description="with this K, on test strips; none takes that of the tools",
        ),
    ] = None

    def own_radius(self, thickness: float) -> float | None:
        """That of the strips K was measured on: the two go together."""
        return self.measured_radius

    def allowance(self, angle: float, radius: float, thickness: float) -> float:
        return math.radians(angle) * (radius + self.place(radius, thickness) * thickness)

    def place(self, radius: float, thickness: float) -> float:
        """K in force: the one given, or the usual one for r/T."""
        return usual_k(radius / thickness) if self.k is None else self.k

    def doubt(
        self, angle: float, radius: float, thickness: float, units: Units = Units.MM
    ) -> str | None:
        if self.k is not None and self.k > 0.5:
            return tr(
                "K {k:g} puts the neutral line outside the middle of the sheet; only pure rolling "
                "comes near 0.5."
            ).format(k=self.k)
        return None


class Din6935(BaseAllowanceMethod):
    """The standard's correction factor and its piecewise compensation value.

    With the opening angle β = 180° − θ and the flat L = a + b + v:

    - 0° ≤ β ≤ 90°: v = π·(180° − β)/180°·(r + s·k/2) − 2·(r + s)
    - 90° < β ≤ 165°: v = π·(180° − β)/180°·(r + s·k/2) − 2·(r + s)·tan((180° − β)/2)
    - 165° < β ≤ 180°: v = 0

    For a hem pressed flat the standard has no factor: it takes the rule of :func:`closed_hem`.

    where k = 0.65 + ½·lg(r/s), at most 1 (from r/s = 5 on). The first two are one arc, BA = θ·(r +
    s·k/2); they differ only in where the legs a, b are measured to. Within 15° of flat the standard
    takes nothing off the outside legs.
    """

    label: ClassVar[Message] = msg("DIN 6935")
    source: ClassVar[Message] = msg(
        "DIN 6935:2011-10, cold bending of flat steel products; not checked against the standard."
    )
    school: Literal["din-6935"] = "din-6935"

    @staticmethod
    def factor(radius: float, thickness: float) -> float:
        """Correction factor k, 0 to 1, for r/s."""
        ratio = radius / thickness
        if ratio <= 0:
            return 0.0
        return min(1.0, max(0.0, 0.65 + 0.5 * math.log10(ratio)))

    def allowance(self, angle: float, radius: float, thickness: float) -> float:
        if angle > FOLDED_BACK and radius < HEM_CLOSED * thickness:
            return closed_hem(radius, thickness)
        if angle < 15:
            return 2 * (radius + thickness) * math.tan(math.radians(angle) / 2)
        return math.radians(angle) * (radius + thickness * self.factor(radius, thickness) / 2)

    def doubt(
        self, angle: float, radius: float, thickness: float, units: Units = Units.MM
    ) -> str | None:
        if radius < 0.1 * thickness:
            return tr(
                "DIN 6935 has no correction factor for an inside radius as small as this; its k "
                "falls to nothing below 0.05 s."
            )
        if thickness < 0.5:
            return tr(
                "DIN 6935 is written for steel of about 1 mm and more; on foil-thin sheet fold on "
                "the line."
            )
        return None


class Handbook90(BaseAllowanceMethod):
    """The handbook's 90° forms, BA = 1.57·r + c·T with c by the metal, taken in proportion to the
    angle.

    c = 0.55 for soft brass and copper, 0.64 for half-hard copper and brass, soft steel and
    aluminium, 0.71 for bronze, hard copper, cold-rolled and spring steel.
    """

    label: ClassVar[Message] = msg("Handbook, 90° forms")
    source: ClassVar[Message] = msg(
        "Machinery's Handbook, formulas for 90° bends: 1.57 R + 0.55/0.64/0.71 T by metal; from "
        "memory."
    )
    school: Literal["handbook-90"] = "handbook-90"
    form: Literal["soft", "medium", "hard"] = "medium"

    @property
    def share(self) -> float:
        """c: thickness counted per 90°."""
        return {"soft": 0.55, "medium": 0.64, "hard": 0.71}[self.form]

    def allowance(self, angle: float, radius: float, thickness: float) -> float:
        return (1.57 * radius + self.share * thickness) * angle / 90

    def doubt(
        self, angle: float, radius: float, thickness: float, units: Units = Units.MM
    ) -> str | None:
        if abs(angle - 90) > 0.5:
            return tr(
                "The handbook's form is given for 90°; at {angle:g}° it is taken in proportion."
            ).format(angle=angle)
        return None


class FaaHandbook(BaseAllowanceMethod):
    """BA = (0.01743·R + 0.0078·T)·N for N degrees."""

    label: ClassVar[Message] = msg("Handbook, per degree")
    source: ClassVar[Message] = msg(
        "FAA-H-8083-31 and AC 43.13-1B: (0.01743 R + 0.0078 T) per degree; "
        "not checked against the source."
    )
    school: Literal["faa-handbook"] = "faa-handbook"

    def allowance(self, angle: float, radius: float, thickness: float) -> float:
        return (0.01743 * radius + 0.0078 * thickness) * angle

    def doubt(
        self, angle: float, radius: float, thickness: float, units: Units = Units.MM
    ) -> str | None:
        if angle > 180:
            return tr("The handbook's form runs to 180°; this bend turns {angle:g}°.").format(
                angle=angle
            )
        return None


AllowanceMethod = Annotated[
    OnTheLine | InsideGain | ShopTable | NeutralLine | Din6935 | Handbook90 | FaaHandbook,
    Field(discriminator="school"),
]
"""Any school, told apart by its ``school`` word."""

SCHOOLS: tuple[type[BaseAllowanceMethod], ...] = (
    OnTheLine,
    InsideGain,
    ShopTable,
    NeutralLine,
    Din6935,
    Handbook90,
    FaaHandbook,
)


def default_school(thickness: float) -> OnTheLine | NeutralLine:
    """Thin sheet is folded on the line; thicker metal by its neutral line."""
    return OnTheLine() if thickness <= SHARP else NeutralLine()


def side_by_side(
    angle: float, radius: float, thickness: float, chosen: AllowanceMethod, units: Units = Units.MM
) -> tuple[tuple[BaseAllowanceMethod, Bend, str | None], ...]:
    """One bend by every school, the chosen one with its own figures, each with its doubt.

    Args:
        angle: degrees turned from flat.
        radius, thickness: mm.
        chosen: the school in force.
        units: of the job, for what is said.

    Returns:
        (school, bend, sentence or None) in the order of :data:`SCHOOLS`; a shop table without
        strips is left out.
    """
    rows: list[tuple[BaseAllowanceMethod, Bend, str | None]] = []
    for kind in SCHOOLS:
        school: BaseAllowanceMethod = chosen if isinstance(chosen, kind) else kind()
        if isinstance(school, ShopTable) and not school.strips:
            continue
        rows.append(
            (
                school,
                school.bend(angle, radius, thickness),
                school.doubt(angle, radius, thickness, units),
            )
        )
    return tuple(rows)
