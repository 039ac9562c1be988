"""What was off, in the words of the shop: what it is, what to do with this part, what to do with
the next."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from ..flat.blank import Blank
from ..i18n import the, the_first, tr
from ..job.job import Job
from ..metal.allowance import NeutralLine
from ..units.length import FINEST_FRACTION, INCH, Units, show_length
from ..units.quantities import show_angle, signed_angle
from .explain import LEAST_LENGTH, LEAST_TURN, Explained, Explanation, FurtherMeasure
from .model import Cause, Measure, Off, What

NEAR = 0.3
"""mm; a line that is off by a figure of the sum to within this was very likely struck so."""

MOST_K = 0.6
"""Largest K the school of the neutral line takes."""


@dataclass(frozen=True)
class Advice:
    """What to do about a cause.

    Attributes:
        what: what was off.
        this_part: what can still be done with the part; empty where nothing can.
        next_part: what to change.
        change: fields of the job that do it, empty where it is done at the machine.
    """

    what: str
    this_part: str
    next_part: str
    change: dict[str, Any]


def _size(value: float, units: Units) -> str:
    return show_length(abs(value), units.fine, pretty=True)


def cause_words(cause: Cause, blank: Blank, job: Job) -> str:
    """A cause by name, without how much: ``the angle of the front wall``.

    Args:
        cause: what was off.
        blank: the flat.
        job: the job.
    """
    name = blank.folds[cause.fold].name if cause.fold >= 0 else ""
    along = (tr("length"), tr("width"))[cause.axis]
    return {
        Off.ANGLE: tr("the angle of {name}").format(name=the(name)),
        Off.STOPS: tr("every bend's angle alike"),
        Off.ENDS: tr("the two ends of the leaf at {name}").format(name=the(name)),
        Off.LINE: tr("the line of {name}").format(name=the(name)),
        Off.ALLOWANCE: tr("the metal every bend takes"),
        Off.CUT: tr("the {along} the blank was cut to").format(along=along),
        Off.SQUARE: tr("the squareness of the blank"),
        Off.SHEET: tr("the thickness of the sheet"),
        Off.READ: tr("the reading of {measure}").format(
            measure=cause.measure.says if cause.measure is not None else ""
        ),
        Off.SIDE: tr("the face all lengths were read to"),
    }[cause.off]


def advice(explanation: Explanation, blank: Blank, job: Job) -> Advice:
    """What a cause means for this part and for the next; with what most likely was off beside
    it.

    Args:
        explanation: the explanation.
        blank: the flat.
        job: the job.
    """
    told = _ADVICE[explanation.cause.off](explanation, blank, job)
    more = [
        _ADVICE[cause.off](Explanation(cause, by, explanation.odds), blank, job)
        for cause, by in explanation.also
    ]
    if not more:
        return told
    every = (told, *more)
    return Advice(
        " ".join(one.what for one in every),
        " ".join(dict.fromkeys(one.this_part for one in every if one.this_part)),
        " ".join(dict.fromkeys(one.next_part for one in every if one.next_part)),
        {name: value for one in every for name, value in one.change.items()},
    )


def _angle(explanation: Explanation, blank: Blank, job: Job) -> Advice:
    fold, by = blank.folds[explanation.cause.fold], explanation.by
    turn = show_angle(round(abs(by), 1))
    more = by > 0
    return Advice(
        tr("{name} is bent {turn} {way}.").format(
            name=the_first(fold.name), turn=turn, way=tr("too far") if more else tr("too little")
        ),
        tr("Open it {turn} by hand.").format(turn=turn)
        if more
        else tr("Bend it again and stop {turn} later than before.").format(turn=turn),
        tr("Stop {name} {turn} {way}.").format(
            name=the(fold.name), turn=turn, way=tr("earlier") if more else tr("later")
        ),
        {},
    )


def _stops(explanation: Explanation, blank: Blank, job: Job) -> Advice:
    by, turn = explanation.by, show_angle(round(abs(explanation.by), 1))
    more = by > 0
    now = job.springback
    change: dict[str, Any] = {}
    if now is not None:
        change = {
            "springback": round(min(45.0, max(0.0, now - by)), 1),
            "springback_from": tr("from a measured part"),
        }
    return Advice(
        tr("Every bend came out {turn} {way} (at 90°).").format(
            turn=turn, way=tr("too far") if more else tr("short")
        ),
        tr("Open them by hand.") if more else tr("Bend them again, the last one first."),
        tr("This sheet springs back {turn} {way} than planned: stop every bend {when}.").format(
            turn=turn,
            way=tr("less") if more else tr("more"),
            when=tr("earlier") if more else tr("later"),
        ),
        change,
    )


def _ends(explanation: Explanation, blank: Blank, job: Job) -> Advice:
    fold, by = blank.folds[explanation.cause.fold], explanation.by
    end = tr("right") if by > 0 else tr("left")
    return Advice(
        tr(
            "{name} is bent {turn} more at its {end} end than in its middle (seen from the fold "
            "looking out)."
        ).format(name=the_first(fold.name), turn=show_angle(round(abs(by), 1)), end=end),
        tr("Dress the other end by hand."),
        tr(
            "The nose stands closer, or the clamp tighter, there: set that end back, both ends "
            "alike, and try a scrap."
        ),
        {},
    )


def _line(explanation: Explanation, blank: Blank, job: Job) -> Advice:
    fold, by = blank.folds[explanation.cause.fold], explanation.by
    parent, child = blank.panels[fold.parent].name, blank.panels[fold.child].name
    why = _likely(by, blank, explanation.cause.fold, job)
    way = tr("nearer to {parent}") if by > 0 else tr("farther from {parent}")
    return Advice(
        tr(
            "{name} was bent {by} off its line: {longer} is that much longer, {shorter} "
            "shorter.{why}"
        ).format(
            name=the_first(fold.name),
            by=_size(by, job.units),
            longer=the(parent if by > 0 else child),
            shorter=the(child if by > 0 else parent),
            why=" " + why if why else "",
        ),
        tr(
            "In soft metal it can be flattened and bent again once; marks stay, and the fold "
            "is harder then."
        ),
        tr("Strike the line, or set it at the nose, {by} {way}.").format(
            by=_size(by, job.units), way=way.format(parent=the(parent))
        ),
        {},
    )


def _likely(by: float, blank: Blank, fold: int, job: Job) -> str:
    """The usual mistake a line that is off by so much came of; empty where the figure is that of
    none."""
    bend = blank.folds[fold].bend
    usual = [
        (
            tr(
                "That is just one thickness of the sheet: an inside size laid out as an outside "
                "one, or the other way."
            ),
            blank.thickness,
        ),
        (tr("That is just the allowance of one bend: taken twice, or forgotten."), bend.allowance),
        (tr("That is just the deduction of one bend: taken twice, or forgotten."), bend.deduction),
        (
            tr(
                "That is just the part of the gain that belongs to this line, half of what the "
                "bend gains: taken twice, or forgotten."
            ),
            abs(bend.gain) / 2,
        ),
    ]
    near = [
        (abs(abs(by) - size), text)
        for text, size in usual
        if size > NEAR and abs(abs(by) - size) < NEAR
    ]
    if near:
        return min(near)[1]
    axis = 0 if abs(blank.folds[fold].outward[0]) > 0.5 else 1
    at, span = float(blank.folds[fold].start[axis]), blank.size[axis]
    out = float(blank.folds[fold].outward[axis])
    if (
        abs(span - 2 * at) > NEAR
        and abs(abs(span - 2 * at) - abs(by)) < NEAR
        and (span - 2 * at) * by * out > 0
    ):
        return tr("That is just where it would be, struck from the other edge.")
    return ""


def _allowance(explanation: Explanation, blank: Blank, job: Job) -> Advice:
    by = explanation.by
    square = next((f.bend for f in blank.folds if 60 <= abs(f.angle) <= 120), None)
    change: dict[str, Any] = {}
    text = ""
    if square is not None and square.allowance + by > 0:
        k = replace(square, allowance=square.allowance + by).k_factor
        if 0 < k <= MOST_K:
            change = {"school": NeutralLine(k=round(k, 3)).model_dump()}
            text = tr(" That is K {k:.2f}.").format(k=k)
    way = tr("more") if by > 0 else tr("less")
    return Advice(
        tr("Every square bend takes {by} {way} metal than was counted.").format(
            by=_size(by, job.units), way=way
        ),
        "",
        tr("Count {by} {way} for every square bend.{said} A test strip tells it for sure.").format(
            by=_size(by, job.units), way=way, said=text
        ),
        change,
    )


def _cut(explanation: Explanation, blank: Blank, job: Job) -> Advice:
    by = explanation.by
    which = (tr("long"), tr("wide")) if by > 0 else (tr("short"), tr("narrow"))
    return Advice(
        tr("The blank was cut {by} too {along}.").format(
            by=_size(by, job.units), along=which[explanation.cause.axis]
        ),
        tr("Trim it off where an edge is free.") if by > 0 else "",
        tr("Check the gauge of the shear with a rule, and measure both ends of what falls off."),
        {},
    )


def _square(explanation: Explanation, blank: Blank, job: Job) -> Advice:
    return Advice(
        tr("The blank was cut {by} out of square over its width.").format(
            by=_size(explanation.by, job.units)
        ),
        "",
        tr(
            "Square the sheet first: both diagonals of the blank must measure the same before it "
            "is marked."
        ),
        {},
    )


def _sheet(explanation: Explanation, blank: Blank, job: Job) -> Advice:
    real = blank.thickness + explanation.by
    return Advice(
        tr("The sheet is {real} thick, not {thickness}.").format(
            real=_size(real, job.units), thickness=_size(blank.thickness, job.units)
        ),
        "",
        tr("Measure the sheet, and lay out with what it is."),
        {"thickness": f"{real:.2f} mm"} if real > 0.05 else {},
    )


def _read(explanation: Explanation, blank: Blank, job: Job) -> Advice:
    measure = explanation.cause.measure
    assert measure is not None
    angle = measure.what is What.ANGLE
    by = (
        show_angle(round(abs(explanation.by), 1))
        if angle
        else _size(_round_slip(explanation.by, job.units), job.units)
    )
    more = tr("too large") if explanation.by > 0 else tr("too small")
    return Advice(
        tr("{measure} reads {by} {more}, and nothing else is off with it: misread?").format(
            measure=measure.says[:1].upper() + measure.says[1:], by=by, more=more
        ),
        tr("Measure it again before anything is done to the part."),
        "",
        {},
    )


ROUND_MM, ROUND_INCH = (
    (10.0, 20.0, 30.0, 50.0, 100.0, 200.0, 500.0),
    (0.25, 0.5, 1.0, 2.0, 4.0, 6.0, 12.0),
)
"""By how much a rule or tape is misread: a figure of its scale. Common practice, no source."""


def _round_slip(by: float, units: Units) -> float:
    """The round figure (mm) a reading is off by, where it is off by about one; else as it is."""
    scale = [INCH * one for one in ROUND_INCH] if units.is_inch else ROUND_MM
    near = min(scale, key=lambda one: abs(abs(by) - one))
    return near if abs(abs(by) - near) < NEAR + 0.01 * near else abs(by)


def _side(explanation: Explanation, blank: Blank, job: Job) -> Advice:
    t = _size(blank.thickness, job.units)
    return Advice(
        tr(
            "Every length is one thickness, {t}, otherwise: read to the other face of the sheet."
        ).format(t=t),
        tr("Legs are asked for over their outsides: measure them so."),
        "",
        {},
    )


_ADVICE = {
    Off.ANGLE: _angle,
    Off.STOPS: _stops,
    Off.ENDS: _ends,
    Off.LINE: _line,
    Off.ALLOWANCE: _allowance,
    Off.CUT: _cut,
    Off.SQUARE: _square,
    Off.SHEET: _sheet,
    Off.READ: _read,
    Off.SIDE: _side,
}


def verdict(explained: Explained, blank: Blank, job: Job, out: int) -> str:
    """What the figures say in a sentence.

    Args:
        explained: what explains them.
        blank, job: the part.
        out: how many of the measured sizes are out of tolerance.
    """
    if not explained.causes or explained.fine > explained.causes[0].odds:
        if out:
            return tr("No single cause: normal small errors add up.")
        return tr("All within normal variation.")
    first = explained.causes[0]
    what = advice(first, blank, job).what
    if explained.certain is not None:
        return what
    others = [cause_words(c, blank, job) for c in explained.alike] or [
        cause_words(e.cause, blank, job) for e in explained.causes[1:3]
    ]
    odds = tr("{odds} in 10").format(odds=max(1, min(9, round(first.odds * 10))))
    if others:
        return tr("Likely ({odds}): {what} It may also be {others}.").format(
            odds=odds, what=what, others=tr(" or ").join(others)
        )
    return tr("Likely ({odds}): {what}").format(odds=odds, what=what)


def question_text(question: FurtherMeasure, blank: Blank, job: Job) -> str:
    """What to measure next, and what it would tell.

    Args:
        question: what to measure next.
        blank: the flat.
        job: the job.
    """
    told = ", ".join(
        tr("{off} if it is {cause}").format(
            off=_off(question.measure, off, job), cause=cause_words(cause, blank, job)
        )
        for cause, off in zip(question.between, question.expected, strict=True)
    )
    return tr("Measure next: {measure}. It is then off by {told}.").format(
        measure=question.measure.says, told=told
    )


def _off(measure: Measure, off: float, job: Job) -> str:
    if measure.what is What.ANGLE:
        return signed_angle(off) if abs(off) >= LEAST_TURN else tr("nothing")
    return (
        ("+" if off > 0 else "−") + _size(off, job.units)
        if abs(off) > LEAST_LENGTH
        else tr("nothing")
    )


def wrong_way(angle: float) -> str:
    """What an angle on the other side of flat (degrees, below 0) means."""
    return tr(
        "{angle}: bent the wrong way. Nothing was recorded. Opened metal may crack at the "
        "bend: bend a scrap first."
    ).format(angle=show_angle(angle))


def figure(value: float, units: Units) -> str:
    """A length in decimals, without its unit: it stands in a column that names it."""
    return show_length(value, units.fine, mark=False).removeprefix("≈")


def unit_of(units: Units) -> str:
    """The unit of a column of lengths."""
    return tr("in") if units.is_inch else "mm"


def show_spread(measure: Measure, by: float, units: Units) -> str:
    """How far a value may be off either way (mm or degrees), as it stands beside it.

    Args:
        measure: the size.
        by: mm or degrees.
        units: what lengths are shown in.
    """
    if measure.what is What.ANGLE:
        return show_angle(round(by, 1))
    if units is not Units.FRACTIONS:
        return figure(by, units)
    tick = INCH / FINEST_FRACTION
    return _on_the_rule(by) if by > LEAST_SHARE * tick else f"< {_on_the_rule(tick)}"


def show_measure(measure: Measure, value: float, job: Job) -> str:
    """A measured or wanted value as the person reads it.

    Args:
        measure: the size.
        value: mm or degrees.
        job: the job.
    """
    if measure.what is What.ANGLE:
        return show_angle(round(job.angles.read(value), 2))
    return _on_the_rule(value) if job.units is Units.FRACTIONS else figure(value, job.units)


def show_reading(measure: Measure, value: float, job: Job) -> str:
    """A measured value as it was read: in decimals of an inch where it lies between the marks of a
    rule.

    Args:
        measure: the size.
        value: mm or degrees.
        job: the job.
    """
    shown = show_measure(measure, value, job)
    if measure.what is What.ANGLE or job.units is not Units.FRACTIONS:
        return shown
    on_a_mark = not show_length(value, Units.FRACTIONS).startswith("≈")
    return shown if on_a_mark else figure(value, job.units)


LEAST_SHARE = 0.75
"""Share of a sixty-fourth below which a spread is less than one."""


def _on_the_rule(value: float) -> str:
    """A length to the nearest sixty-fourth, without its mark."""
    return show_length(value, Units.FRACTIONS, mark=False).removeprefix("≈")
