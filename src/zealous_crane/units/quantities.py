"""Angles in degrees, as written and as shown."""

from __future__ import annotations

import math
import re
import unicodedata

from ..errors import InputError
from ..i18n import LabelledEnum, tr
from .length import Units, cut


class AngleError(InputError):
    """An angle that could not be read; the message says what would do."""


class AngleReading(LabelledEnum):
    """How the angle of a fold is read: as far as the metal was bent from flat, between the two
    inside faces, or with the protractor on the back, which reads 180° less the inside angle and so
    the same as the bend."""

    BEND = "bend"
    INSIDE = "inside"
    BACK = "back"

    def read(self, angle: float) -> float:
        """The reading of a bend angle, or the bend angle of a reading, degrees; the sign says to
        which face it is bent.

        >>> AngleReading.INSIDE.read(70.0), AngleReading.INSIDE.read(-110.0), AngleReading.BACK.read(70.0)
        (110.0, -70.0, 70.0)
        """  # noqa: E501
        return math.copysign(180.0 - abs(angle), angle) if self is AngleReading.INSIDE else angle

    @property
    def words(self) -> str:
        """What is read."""
        return {
            "bend": tr("bent from flat"),
            "inside": tr("inside, between the faces"),
            "back": tr("protractor on the back: 180° less the inside"),
        }[self.value]

    @property
    def short(self) -> str:
        """What is read, where there is no room for more."""
        return {"bend": tr("from flat"), "inside": tr("inside"), "back": tr("on the back")}[
            self.value
        ]


def parse_angle(text: str) -> float:
    """Read an angle in degrees (``90``, ``92.5°``, ``92,5 deg``, ``88 1/2``).

    Raises:
        AngleError: not a number, or beyond a half turn either way.
    """
    read = (
        text.strip().lower().removesuffix("°").removesuffix("degrees").removesuffix("deg").strip()
    )
    whole = re.fullmatch(r"([-−]?)(\d+)\s*(?:(\d+)/([1-9]\d*)|([½¼¾⅛⅜⅝⅞]))", read)
    try:
        if whole is not None and (whole[5] or " " in read):
            part = unicodedata.numeric(whole[5]) if whole[5] else int(whole[3]) / int(whole[4])
            value = (int(whole[2]) + part) * (-1 if whole[1] else 1)
        else:
            value = float(read.replace(",", ".").replace("−", "-"))
    except ValueError:
        raise AngleError(
            tr("{what!r} could not be read. Write an angle such as 90 or 92.5°.").format(
                what=cut(text.strip())
            )
        ) from None
    if not math.isfinite(value) or abs(value) > 180:
        raise AngleError(tr("{what} is not between −180° and 180°.").format(what=cut(text.strip())))
    return value


def show_angle(degrees: float, places: int = 1) -> str:
    """Show an angle: ``90°``, ``92.6°``.

    >>> show_angle(90.0)
    '90°'
    """
    text = f"{degrees:.{places}f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    return ("0" if text == "-0" else text) + "°"


def signed_angle(degrees: float, places: int = 1) -> str:
    """Show how far an angle is off, to either side.

    >>> signed_angle(2.04), signed_angle(-3.7)
    ('+2.0°', '−3.7°')
    """
    return f"{degrees:+.{places}f}°".replace("-", "−")


SHORT_TON, METRIC_TON = 8.896443, 9.80665
"""kN in a short ton of 2000 lbf and in a metric ton: by definition of the pound, the kilogram and
standard gravity."""


class Tonnage(LabelledEnum):
    """What a shop says the force of its press in."""

    BY_UNITS = "by-units"
    """Short tons in an inch job, kilonewtons otherwise."""
    SHORT = "short-tons"
    METRIC = "metric-tons"
    KILONEWTONS = "kilonewtons"

    @property
    def words(self) -> str:
        """As it is read."""
        return {
            Tonnage.BY_UNITS: tr("as lengths: tons or kN"),
            Tonnage.SHORT: tr("tons of 2000 lb"),
            Tonnage.METRIC: tr("metric tons"),
            Tonnage.KILONEWTONS: tr("kilonewtons"),
        }[self]


_said_in = [Tonnage.BY_UNITS]


def say_forces_in(tonnage: Tonnage) -> None:
    """From now on forces are said so, on every screen and paper of this process: like the language,
    it changes no figure."""
    _said_in[0] = tonnage


def forces_said_in() -> Tonnage:
    """What forces are said in, in this process."""
    return _said_in[0]


def show_force(kilonewtons: float, units: Units) -> str:
    """A force as the shop says it, and in the other unit its plates may have: ``18.5 kN (1.9 t)``,
    ``2.1 tons (18.5 kN)``.

    >>> show_force(88.96443, Units.FRACTIONS)
    '10 tons (89 kN)'
    """
    said_in = _said_in[0]
    if said_in is Tonnage.BY_UNITS:
        said_in = Tonnage.SHORT if units.is_inch else Tonnage.KILONEWTONS
    kn = f"{kilonewtons:.0f} kN" if kilonewtons >= 30 else f"{kilonewtons:.1f} kN"
    short, metric = (
        f"{_short(kilonewtons / SHORT_TON)} tons",
        f"{_short(kilonewtons / METRIC_TON)} t",
    )
    if said_in is Tonnage.KILONEWTONS:
        return f"{kn} ({short if units.is_inch else metric})"
    return f"{short if said_in is Tonnage.SHORT else metric} ({kn})"


def _short(value: float) -> str:
    text = f"{value:.0f}" if value >= 100 else f"{value:.1f}"
    return text.removesuffix(".0") if value >= 10 else text


POUND = 0.45359237
"""kg in a pound, by definition."""


def show_mass(kilograms: float, units: Units) -> str:
    """A mass: ``1.25 kg``, or ``2.76 lb`` in an inch job.

    >>> show_mass(1.0, Units.FRACTIONS)
    '2.20 lb'
    """
    return f"{kilograms / POUND:.2f} lb" if units.is_inch else f"{kilograms:.2f} kg"
