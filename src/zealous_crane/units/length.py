"""What was read, as it may stand in a sentence."""

from __future__ import annotations

import math
import re
from fractions import Fraction

from ..errors import InputError
from ..i18n import LabelledEnum, tr

LONGEST_ECHO = 80
"""Characters of what was read that are said back."""


def cut(text: object) -> str:
    """What was read, printable and of a bearable length."""
    sentence = "".join(c if c.isprintable() else "?" for c in str(text))
    return sentence if len(sentence) <= LONGEST_ECHO else sentence[: LONGEST_ECHO - 1] + "…"


INCH = 25.4
"""Millimetres in an inch (exact by definition since 1959)."""

LONGEST = 20_000.0
"""Longest length read, mm. Twenty metres is past every hand-fed brake; more is a slip of the
pen."""

LONGEST_TEXT = 200
"""Characters; no length takes as many to write."""

FINEST_FRACTION = 64


class Units(LabelledEnum):
    """How lengths are shown, and what a bare number means when one is typed."""

    FRACTIONS = "in"
    """Inches in sixty-fourths, as on a steel rule."""
    DECIMAL = "in-decimal"
    """Inches to three places, as on a caliper."""
    MM = "mm"

    @property
    def words(self) -> str:
        """As it is read."""
        return {
            Units.FRACTIONS: tr("inches, fractions"),
            Units.DECIMAL: tr("inches, decimals"),
            Units.MM: "mm",
        }[self]

    @property
    def is_inch(self) -> bool:
        return self is not Units.MM

    @property
    def fine(self) -> Units:
        """Units for figures finer than a rule's: decimals of an inch, or mm."""
        return Units.DECIMAL if self.is_inch else Units.MM


class LengthError(InputError):
    """A length that could not be read; the message says what was read and what would do."""


_VULGAR = {
    "½": "1/2",
    "¼": "1/4",
    "¾": "3/4",
    "⅛": "1/8",
    "⅜": "3/8",
    "⅝": "5/8",
    "⅞": "7/8",
    "⅓": "1/3",
    "⅔": "2/3",
    "⅕": "1/5",
    "⅖": "2/5",
    "⅗": "3/5",
    "⅘": "4/5",
    "⅙": "1/6",
    "⅚": "5/6",
}
_SUPER = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹₀₁₂₃₄₅₆₇₈₉⁄", "01234567890123456789/")
METRIC = frozenset({"mm", "cm", "m"})

_UNIT = {
    "": None,
    "mm": 1.0,
    "cm": 10.0,
    "m": 1000.0,
    '"': INCH,
    "in": INCH,
    "inch": INCH,
    "inches": INCH,
    "''": INCH,
    "'": 12 * INCH,
    "ft": 12 * INCH,
    "foot": 12 * INCH,
    "feet": 12 * INCH,
}
_NUMBER = r"(?:\d+(?:\.\d*)?|\.\d+)"
_PIECE = re.compile(
    rf"(?:(?P<whole>\d+)\s*[ -]\s*)?(?P<top>\d+)\s*/\s*(?P<bottom>\d+)\s*(?P<unit_f>[a-z]+|['\"]+)?"
    rf"|(?P<number>{_NUMBER})\s*(?P<unit_d>[a-z]+|['\"]+)?"
)


_THOUSANDS = re.compile(r"(?<![\d.,])[1-9]\d{0,2}(?:,\d{3})+(?![\d.,])")
"""A comma before three figures: a decimal to some, thousands to others."""


def _plain(text: str) -> str:
    """Bring typographic variants down to the ASCII a pattern can match."""
    # A raised figure after a plain one begins a fraction: 8³⁄₈ is 8 3/8.
    read = re.sub(
        r"(?<=[0-9])(?=[⁰¹²³⁴-⁹])", " ", text.strip().removeprefix("≈").lower()
    ).translate(_SUPER)
    for glyph, plain in _VULGAR.items():
        read = read.replace(glyph, f" {plain}")
    for quote in "″”“":
        read = read.replace(quote, '"')
    for quote in "′’‘":
        read = read.replace(quote, "'")
    read = read.replace("−", "-").replace("–", "-")
    if _THOUSANDS.search(read):
        first = _THOUSANDS.search(read)
        sentence = first[0] if first else ""
        raise LengthError(
            tr(
                "{said} could be {replace} or {replace_2}. Write one of them, without the comma."
            ).format(
                said=sentence,
                replace=sentence.replace(",", "."),
                replace_2=sentence.replace(",", ""),
            )
        )
    read = re.sub(r"(?<=\d),(?=\d)", ".", read)
    return re.sub(r"\s+", " ", read).strip()


def parse_length(text: str, units: Units = Units.FRACTIONS) -> float:
    """Read a length as written in a shop and return it in mm.

    Accepts ``8 1/2``, ``8-1/2"``, ``3/8"``, ``8½``, ``.75 in``, ``1' 6 1/2"``, ``216 mm``, ``21,6
    cm``.

    Args:
        text: what was written.
        units: what a number without a unit means.

    Raises:
        LengthError: unreadable, not a number, or longer than any brake.

    >>> parse_length("8 1/2")
    215.9
    >>> parse_length("216 mm")
    216.0
    """
    if len(text) > LONGEST_TEXT:
        raise LengthError(
            tr('{text!r} is too long for a length. Write one such as 8 1/2" or 216 mm.').format(
                text=cut(text)
            )
        )
    read = _plain(text)
    if not read:
        raise LengthError(tr('Nothing was typed. Type a length such as 8 1/2" or 216 mm.'))
    sign = 1.0
    if read[0] in "+-":
        sign, read = (-1.0 if read[0] == "-" else 1.0), read[1:].strip()
    total, at, before, sentence = 0.0, 0, math.inf, ""
    while at < len(read):
        piece = _PIECE.match(read, at)
        if piece is None:
            raise _unreadable(text)
        value, unit = _piece_value(piece, text)
        rest = read[piece.end() :].strip()
        scale = _unit_scale(unit, units, text)
        if sentence and not unit and (sentence in METRIC) is not (units is Units.MM):
            raise LengthError(
                tr("{what}: {last} of what? Write {what} in, or {what} mm.").format(
                    what=cut(text.strip()), last=piece[0].strip()
                )
            )
        sentence = unit
        # Several pieces are only read from larger to smaller units: 1' 6 1/2", never 6" 1'.
        if scale >= before:
            raise _unreadable(text)
        before = scale
        total += value * scale
        at = len(read) - len(rest)
        # A fraction written as its own piece after a whole number was caught by the pattern;
        # anything further needs an explicit unit on the piece before it.
        if rest and not unit:
            raise _unreadable(text)
    if total > LONGEST:
        raise LengthError(
            tr("{what} is {total:,.0f} mm. Lengths up to {LONGEST:,.0f} mm can be planned.").format(
                what=cut(text.strip()), total=total, LONGEST=LONGEST
            )
        )
    # A picometre is noise from the inch factor; dropping it keeps 8 1/2 at 215.9 exactly.
    return sign * round(total, 9)


def _piece_value(piece: re.Match[str], text: str) -> tuple[float, str]:
    if piece["top"] is None:
        return float(piece["number"]), piece["unit_d"] or ""
    if len(piece["top"]) > 9 or len(piece["bottom"]) > 9:
        raise _unreadable(text)
    top, bottom = int(piece["top"]), int(piece["bottom"])
    if bottom == 0:
        raise LengthError(
            tr('{what} has a fraction over zero. Write a length such as 3/8".').format(
                what=cut(text.strip())
            )
        )
    return float(Fraction(int(piece["whole"] or 0)) + Fraction(top, bottom)), piece["unit_f"] or ""


def _unit_scale(unit: str, units: Units, text: str) -> float:
    if unit not in _UNIT:
        raise LengthError(
            tr("{what}: the unit {unit!r} is not known. Use \", in, ', ft, mm, cm or m.").format(
                what=cut(text.strip()), unit=cut(unit)
            )
        )
    scale = _UNIT[unit]
    return scale if scale is not None else (INCH if units.is_inch else 1.0)


def _unreadable(text: str) -> LengthError:
    return LengthError(
        tr('{text} could not be read. Write a length such as 8 1/2", 3/8" or 216 mm.').format(
            text=repr(cut(text.strip()))
        )
    )


def nearest_tick(length: float, units: Units) -> float:
    """The nearest length (mm) a person can set on a rule in these units: 1/64", 0.001" or 0.1
    mm."""
    tick = {Units.FRACTIONS: INCH / FINEST_FRACTION, Units.DECIMAL: INCH / 1000, Units.MM: 0.1}[
        units
    ]
    return round(length / tick) * tick


SHOWN_EXACT = 0.005
"""mm; a rounding larger than this is marked."""


STEPS_IN, STEPS_MM = (0.25, 0.125, 0.0625, 0.03125, 0.015625), (5.0, 1.0, 0.5, 0.1, 0.05)
"""Inches and millimetres: steps of round figures, the coarsest first."""

COARSE = 0.15
"""Share of a length that its step may be."""


def round_figure(length: float, units: Units) -> float:
    """A length (mm) as a person would choose it: itself where it is round in these units already,
    else the nearest figure on the coarsest step that is no more than a seventh of it.

    >>> show_length(round_figure(15.0, Units.FRACTIONS), Units.FRACTIONS)
    '9/16"'
    >>> round_figure(12.7, Units.MM), round_figure(216.0, Units.MM)
    (13.0, 216.0)
    """
    one, steps = (INCH, STEPS_IN) if units.is_inch else (1.0, STEPS_MM)
    size = abs(length) / one
    step = next((step for step in steps if step <= COARSE * size), steps[-1])
    # What is on a finer mark, as 1/16" where 1/4" is the step, was chosen by somebody.
    finer = steps.index(step) + (2 if units.is_inch else 1)
    fine = steps[min(finer, len(steps) - 1)]
    if abs(size / fine - round(size / fine)) * fine * one < SHOWN_EXACT:
        return length
    return math.copysign(round(size / step) * step * one, length)


def show_length(length: float, units: Units, *, mark: bool = True, pretty: bool = False) -> str:
    """Show a length (mm) as a person would write it.

    Args:
        length: mm.
        units: how to show it.
        mark: append the inch mark or ``mm``.
        pretty: set fractions with raised and lowered figures; plain ASCII otherwise.

    A leading ``≈`` says that what is shown is a rounding of more than 0.005 mm; the two places of a
    millimetre never are. What is less than half a tick of a fraction is shown in thousandths.

    >>> show_length(215.9, Units.FRACTIONS)
    '8 1/2"'
    """
    if units is Units.MM:
        # Two places hold what a caliper reads; trailing zeros only cost the eye.
        text = f"{length:.2f}".rstrip("0").rstrip(".")
        text = "0" if text in ("-0", "") else text
        return f"{text} mm" if mark else text
    if units is Units.DECIMAL:
        text = f"{length / INCH:.3f}"
        inexact = abs(float(text) * INCH - length) > SHOWN_EXACT
        text = "0.000" if text == "-0.000" else text
        return ("≈" if inexact else "") + (f'{text}"' if mark else text)
    ticks = round(abs(length) / INCH * FINEST_FRACTION)
    inexact = abs(abs(length) - ticks * INCH / FINEST_FRACTION) > SHOWN_EXACT
    whole, rest = divmod(ticks, FINEST_FRACTION)
    text = _fraction_text(whole, Fraction(rest, FINEST_FRACTION), pretty)
    if inexact and not ticks:
        # Less than half a tick is no fraction, and still something: a gain, a clearance.
        text = f"{abs(length) / INCH:.3f}"
        inexact = abs(float(text) * INCH - abs(length)) > SHOWN_EXACT
        text = text if float(text) else "0"
    if length < 0 and text != "0":
        text = "−" + text if pretty else "-" + text
    return ("≈" if inexact else "") + text + ('"' if mark else "")


_RAISED = str.maketrans("0123456789", "⁰¹²³⁴⁵⁶⁷⁸⁹")
_LOWERED = str.maketrans("0123456789", "₀₁₂₃₄₅₆₇₈₉")


def _fraction_text(whole: int, part: Fraction, pretty: bool) -> str:
    if not part:
        return str(whole)
    top, bottom = str(part.numerator), str(part.denominator)
    fraction = (
        f"{top.translate(_RAISED)}⁄{bottom.translate(_LOWERED)}" if pretty else f"{top}/{bottom}"
    )
    return f"{whole} {fraction}" if whole else fraction
