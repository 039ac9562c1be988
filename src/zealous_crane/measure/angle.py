"""Angles in degrees, as written and as shown."""

from __future__ import annotations

import math
import re
import unicodedata

from .input_error import InputError
from .text import cut
from .worded import Worded
from .words import tr


class AngleError(InputError):
    """An angle that could not be read; the message says what would do."""


class AngleReading(Worded):
    """How the angle of a fold is read: as far as the metal was bent from flat, between the two inside faces, or with the protractor
    on the back, which reads 180° less the inside angle and so the same as the bend."""

    BEND = "bend"
    INSIDE = "inside"
    BACK = "back"

    def read(self, angle: float) -> float:
        """The reading of a bend angle, or the bend angle of a reading, degrees; the sign says to which face it is bent.

        >>> AngleReading.INSIDE.read(70.0), AngleReading.INSIDE.read(-110.0), AngleReading.BACK.read(70.0)
        (110.0, -70.0, 70.0)
        """
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
        return {"bend": tr("from flat"), "inside": tr("inside"), "back": tr("on the back")}[self.value]


def parse_angle(text: str) -> float:
    """Read an angle in degrees (``90``, ``92.5°``, ``92,5 deg``, ``88 1/2``).

    Raises:
        AngleError: not a number, or beyond a half turn either way.
    """
    read = text.strip().lower().removesuffix("°").removesuffix("degrees").removesuffix("deg").strip()
    whole = re.fullmatch(r"([-−]?)(\d+)\s*(?:(\d+)/([1-9]\d*)|([½¼¾⅛⅜⅝⅞]))", read)
    try:
        if whole is not None and (whole[5] or " " in read):
            part = unicodedata.numeric(whole[5]) if whole[5] else int(whole[3]) / int(whole[4])
            value = (int(whole[2]) + part) * (-1 if whole[1] else 1)
        else:
            value = float(read.replace(",", ".").replace("−", "-"))
    except ValueError:
        raise AngleError(
            tr("{what!r} could not be read. Write an angle such as 90 or 92.5°.").format(what=cut(text.strip()))
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
