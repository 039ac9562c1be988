"""How far past the angle a fold must go so that it springs back to it."""

from __future__ import annotations

from dataclasses import dataclass

from ..i18n import Phrase, msg, within
from .sheet import Sheet

LEAF_PLAY = 1.0
"""Degrees past a 90° flange that hinge, nose and clamp of a leaf brake take, whatever the metal.
With what mild steel opens by itself, 1°, it makes the 2° that is the low end of the 2–5° of common
practice for thin sheet folded sharp, no source. The low end, because adding bend is easy and taking
it out is not."""

CLOSING = 3.0
"""Degrees more for a wall that closes a box between standing neighbours: common practice has 5–10°
there, no source."""

RANGE, CLOSING_RANGE = 3.0, 5.0
"""Degrees by which practice goes beyond the low end for a plain flange, and for a wall that closes
a box. Common practice, no source."""


BOTTOMED = 0.25
"""Share of the springback that is left when a bend is bottomed in its die. Common practice, no
source."""


@dataclass(frozen=True)
class Springback:
    """An estimate of how far one fold springs back.

    Attributes:
        angle: degrees the fold opens when the leaf comes down.
        why: how it was arrived at, in a sentence.
    """

    angle: float
    why: Phrase

    @property
    def bottomed(self) -> Springback:
        """What is left of it when the bend is bottomed."""
        return Springback(
            self.angle * BOTTOMED, msg("{why}; a quarter of it, bottomed", why=self.why)
        )


def elastic_springback(sheet: Sheet, angle: float, radius: float) -> float:
    """Degrees an elastic–ideally plastic fold of ``angle`` opens on release.

    Ri/Rf = 4x³ − 3x + 1 with x = Ri·Y/(E·T) (handbook form, from memory), and the neutral arc keeps
    its length: θi/θf = (2Rf/T + 1)/(2Ri/T + 1).

    Args:
        sheet: the metal and its thickness.
        angle: angle after release, degrees from flat.
        radius: inside radius while bent, mm.
    """
    if radius <= 0:
        return 0.0
    thickness = sheet.thickness
    # Past x = 0.5 the form gives Ri/Rf = 0: the sheet never yields and opens all the way.
    x = min(radius * sheet.metal.yield_strength / (sheet.metal.modulus * thickness), 0.499)
    released = radius / (4 * x**3 - 3 * x + 1)
    ratio = (2 * released / thickness + 1) / (2 * radius / thickness + 1)
    return abs(angle) * (ratio - 1)


def overbend(
    sheet: Sheet,
    angle: float,
    radius: float,
    *,
    closing: bool,
    measured: float | None = None,
    press: bool = False,
) -> Springback:
    """Degrees to go past ``angle`` before release.

    A measured value wins. Otherwise the larger of the elastic estimate and what shops commonly
    need: the elastic form knows nothing of a sharp nose, play in the hinge, or standing neighbours
    that hold a wall.

    Args:
        sheet: the metal and its thickness.
        angle: wanted angle from flat, degrees.
        radius: inside radius, mm.
        closing: the wall closes between neighbours that already stand.
        measured: springback measured on a test strip, degrees at 90°.
        press: bent in air on a press brake, where punch and die hold the bend and the metal alone
            decides; else on a leaf brake.
    """
    share = abs(angle) / 90.0
    if measured is not None:
        return Springback(
            measured * share, msg("measured: {measured:g}° at 90°", measured=measured)
        )
    elastic = elastic_springback(sheet, angle, radius)
    if press:
        # The metal's figure is for a radius of one thickness; what is rounder opens more, by the
        # elastic law.
        more = max(0.0, elastic - elastic_springback(sheet, angle, sheet.thickness))
        usual = sheet.metal.air_springback
        why = msg(
            "in air on a press {lower} opens about {usual:g}° at 90° (typical, not checked)",
            lower=within(sheet.metal.name),
            usual=usual,
        )
        return Springback(
            usual * share + more,
            why + (msg(", and {more:.1f}° more for its radius", more=more) if more >= 0.05 else ""),
        )
    low = LEAF_PLAY + sheet.metal.air_springback + (CLOSING if closing else 0.0)
    if elastic > low * share:
        return Springback(
            elastic, msg("elastic estimate for {name} at its inside radius", name=sheet.name)
        )
    kind = msg("a wall closing between standing neighbours") if closing else msg("a plain flange")
    return Springback(
        low * share,
        msg(
            "common practice for {kind} in {metal}: {low:g}–{high:g}° at 90°, the low end taken",
            kind=kind,
            metal=sheet.metal.name,
            low=low,
            high=low + (CLOSING_RANGE if closing else RANGE),
        ),
    )
