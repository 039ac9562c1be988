"""General tolerances as a drawing's text gives them: a class of ISO 2768-1, or plus and minus so
much."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from pathlib import Path as FilePath

import numpy as np
import shapely
from pydantic import ValidationError

from ..flat.path import ClosedPath
from ..i18n import counted, tr
from ..job.job import SizesClass
from ..part.drawn_flat import MOST_CORNERS, DrawnFlat, DrawnFold
from ..schema.reading import plain
from ..units.length import INCH, LengthError, Units, cut, parse_length, show_length
from .dxf_entities import (
    JOIN,
    DrawingError,
    DrawnSide,
    Gathered,
    chain,
    figure,
    first_of_each,
    gather,
    open_drawing,
)

_CLASS = re.compile(r"ISO\s*2768(?:\s*[-–]\s*1)?\s*[-–\s]\s*([fmcv])(?:[HKL])?\b", re.IGNORECASE)
_GENERAL = re.compile(r"toleran|\btol\b|unless|general|all\s+dim|otherwise", re.IGNORECASE)
_EITHER_WAY = re.compile(
    r"(?:±|%%p|\+\s*/?\s*-)\s*([0-9]+(?:\s+[0-9]+/[0-9]+|/[0-9]+|[.,][0-9]+)?)\s*(°|%%d|deg|mm|in\b|\")?",
    re.IGNORECASE,
)

LARGEST, MOST_DEGREES = 20.0, 10.0
"""mm and degrees; a general tolerance wider than that was read wrong."""


@dataclass(frozen=True)
class GeneralTolerance:
    """What a drawing asks of all sizes that say nothing of their own.

    Attributes:
        within: mm either way; None where it does not say.
        degrees: either way; None where it does not say.
        sizes_class: of ISO 2768-1; None where it names none.
    """

    within: float | None = None
    degrees: float | None = None
    sizes_class: SizesClass | None = None

    @property
    def fields(self) -> dict[str, object]:
        """Fields of a job that ask the same."""
        result = {
            "sizes_within": self.within,
            "tolerance": self.degrees,
            "sizes_class": self.sizes_class,
        }
        return {name: value for name, value in result.items() if value is not None}

    def says(self) -> str:
        """What was read, in a sentence; empty where nothing was."""
        parts = [
            *(
                [tr("ISO 2768-1 class {name}").format(name=self.sizes_class)]
                if self.sizes_class
                else []
            ),
            *(
                [tr("sizes ± {within}").format(within=show_length(self.within, Units.MM))]
                if self.within
                else []
            ),
            *([tr("angles ± {degrees:g}°").format(degrees=self.degrees)] if self.degrees else []),
        ]
        return (
            tr("General tolerance, from the drawing's text: {parts}.").format(
                parts=", ".join(parts)
            )
            if parts
            else ""
        )


def general_tolerance(texts: Iterable[str], *, inches: bool) -> GeneralTolerance:
    """The general tolerance among a drawing's texts. A figure that stands by some size says nothing
    of the others: only what speaks of tolerance is taken.

    Args:
        texts: every text of the drawing.
        inches: what a bare figure means there.
    """
    within = degrees = named = None
    for text in texts:
        result = _CLASS.search(text)
        if result:
            named = result[1].lower()
        if not (result or _GENERAL.search(text)):
            continue
        for amount, unit in _EITHER_WAY.findall(text):
            kind = unit.lower()
            try:
                value = parse_length(amount, Units.DECIMAL) / INCH
            except LengthError:
                continue
            if kind in ("°", "%%d", "deg"):
                degrees = value if 0 < value <= MOST_DEGREES else degrees
            else:
                size = value * (INCH if kind in ("in", '"') or (not kind and inches) else 1.0)
                within = size if 0 < size <= LARGEST else within
    return GeneralTolerance(within, degrees, named)  # type: ignore[arg-type]


_FIGURE = r"([+-]?)\s*(\d{1,3}(?:[.,]\d+)?)"
_UP_WORDS = "up|u|hoch|oben|auf|haut|arriba|su|omhoog|op|upp"
_DOWN_WORDS = "down|dn|d|unten|runter|ab|bas|abajo|giù|giu|omlaag|neer|ned|reverse|reversed"
# A layer's name joins its words with underscores or hyphens: these end a word too. A degree sign,
# or the way it goes, makes a number an angle; a bend's number, a radius, a thickness, a screw or a
# count has neither.
_DEGREES = re.compile(
    rf"(?<![\d.,]){_FIGURE}\s*(?:°|º|deg(?:rees?)?(?![a-z])|grad(?![a-z]))", re.IGNORECASE
)
_AFTER_WAY = re.compile(
    rf"(?<![^\W_])(?:{_UP_WORDS}|{_DOWN_WORDS})[\s_:=]*{_FIGURE}(?![\d.,]|[^\W_])", re.IGNORECASE
)
_BEFORE_WAY = re.compile(
    rf"(?<![\d.,\w]){_FIGURE}[\s_-]*(?:{_UP_WORDS}|{_DOWN_WORDS})(?![^\W_])", re.IGNORECASE
)
_SIGNED = re.compile(
    r"(?:fold|bend|crease)[\s_:=]*([+-])\s*(\d{1,3}(?:[.,]\d+)?)(?![\d.,]|[^\W_])", re.IGNORECASE
)
_UP = re.compile(rf"(?<![^\W_])(?:{_UP_WORDS})(?![^\W\d_])", re.IGNORECASE)
_DOWN = re.compile(rf"(?<![^\W_])(?:{_DOWN_WORDS})(?![^\W\d_])", re.IGNORECASE)


class Taken(StrEnum):
    """What something of a drawing is taken for."""

    NOTHING = "nothing"
    FOLD = "fold"
    MARK = "mark"
    CUT = "cut"


@dataclass(frozen=True)
class LeftOut:
    """Something of a drawing that is not understood by itself: a person may say what it is.

    Attributes:
        sides: its lines, mm, as they are drawn.
        why: it is left out, in a sentence.
        may: what it can be taken for.
        taken: what it is taken for.
    """

    sides: tuple[DrawnSide, ...]
    why: str
    may: tuple[Taken, ...]
    taken: Taken = Taken.NOTHING


@dataclass(frozen=True)
class DrawingResult:
    """What came of a drawing.

    Attributes:
        flat: outline, holes, folds.
        notes: what was assumed, mended, or not understood, in sentences.
        tolerance: what its text asks of every size.
        asked: numbers (from 1) of the fold lines whose angle was not written.
        inches: it is drawn in inches or feet.
        left_out: what was left out, or what somebody has said it is, in the order in which it is
            numbered.
    """

    flat: DrawnFlat
    notes: tuple[str, ...]
    asked: tuple[int, ...]
    tolerance: GeneralTolerance = field(default_factory=GeneralTolerance)
    inches: bool = False
    left_out: tuple[LeftOut, ...] = ()

    def units(self, shop: Units) -> Units:
        """Units for a job made of it: the drawing's, as the shop reads them."""
        if self.inches == shop.is_inch:
            return shop
        return Units.FRACTIONS if self.inches else Units.MM


class UnitNotNamedError(DrawingError):
    """A drawing does not say in which unit it is drawn: a person is asked, both sizes before them.

    Attributes:
        size: length and width of the part in the drawing's units.
    """

    def __init__(self, name: str, size: tuple[float, float]) -> None:
        self.size = size
        a, b = size
        super().__init__(
            tr(
                "{name} has no units. In millimetres the part is {mm}, in inches {inch}, which "
                "is {as_mm}. Say which."
            ).format(
                name=cut(name),
                mm=f"{a:.5g} × {b:.5g} mm",
                inch=f"{a:.5g} × {b:.5g} in",
                as_mm=f"{a * INCH:.5g} × {b * INCH:.5g} mm",
            )
        )


def read_drawing(
    path: FilePath,
    *,
    unit: float | None = None,
    angle: float = 90.0,
    taken: Mapping[int, Taken] | None = None,
) -> DrawingResult:
    """Read a flat from a DXF file.

    Lines on a layer (or of a line type) that says fold, bend or dashes are fold lines; layers that
    say mark, text or engrave are marks; everything else is cut. A fold's angle and direction come
    from what this program wrote, from the layer's name ("BEND UP 90", "FOLD -45"), from the text
    beside it, or else are taken as ``angle`` and listed in ``asked``.

    Args:
        path: the file.
        unit: mm per drawing unit; None takes what the drawing says.
        angle: degrees for folds that say nothing.
        taken: what lines are that would be left out, by their number in
            :attr:`DrawingResult.left_out`, from 0.

    Raises:
        UnitNotNamedError: ``unit`` is None, and the drawing names none either.
        DrawingError: not a drawing, no closed outline, or nothing that could be a part.
    """
    path = FilePath(path)
    document, named = open_drawing(path)
    lines: list[str] = []
    scale = unit or named or 1.0
    gathered = gather(document, scale)
    left = _Left(taken or {})
    units = Units.DECIMAL if _in_inches(scale) else Units.MM
    loops = _loops(gathered, path.name, lines, left, units)
    chained, _ = chain([loop[0] for loop in gathered.later if len(loop) == 1])
    later = [loop for loop in gathered.later if len(loop) > 1] + chained
    loops, frames = _edge_first(loops, [side for side, _, _ in gathered.folds])
    outline, holes, holes_later, outside, nested = _sorted_loops([*loops, *later], len(loops))
    _leave_loops(left, gathered, lines, (frames, outside, nested))
    lines += _left_out(gathered)
    size = _spread(outline)
    if unit is None and named is None:
        raise UnitNotNamedError(path.name, size)
    folds, asked = _folds(gathered, angle, size)
    if asked:
        numbers = ", ".join(str(i) for i in asked[:8]) + (" …" if len(asked) > 8 else "")
        lines.append(
            tr(
                "The angle of fold {numbers} is not written; {angle:g}° was taken. Set it in Shape."
            ).format(numbers=numbers, angle=angle)
        )
    if max(size) < 8 or max(size) > 8000:
        lines.append(
            tr("The part is {size} × {size_2}. If that is wrong, the drawing's units are.").format(
                size=show_length(size[0], units), size_2=show_length(size[1], units)
            )
        )
    flat = _flat(path.name, outline, holes, holes_later, folds, gathered.marks)
    tolerance = general_tolerance((text for _, text in gathered.texts), inches=_in_inches(scale))
    if tolerance.fields:
        lines.append(tolerance.says())
    return DrawingResult(
        flat, tuple(lines), tuple(asked), tolerance, _in_inches(scale), tuple(left.found)
    )


def _in_inches(scale: float) -> bool:
    """True for inches and feet, mm per unit given."""
    return any(abs(scale - unit) < 1e-6 for unit in (INCH, 12 * INCH))


def _flat(
    name: str,
    outline: Corners,
    holes: list[Corners],
    later: list[Corners],
    folds: list[DrawnFold],
    marked: list[DrawnSide],
) -> DrawnFlat:
    """The flat, checked as one that is written would be.

    Raises:
        DrawingError: it cannot be a part.
    """
    most = max(len(outline), *(len(hole) for hole in [*holes, *later]), 0)
    if most > MOST_CORNERS:
        raise DrawingError(
            tr(
                "{name} has a line of {most} corners; up to {MOST_CORNERS} can be worked out. "
                "Draw it with arcs."
            ).format(name=cut(name), most=most, MOST_CORNERS=MOST_CORNERS)
        )
    marks = tuple((m.start[0], m.start[1], m.end[0], m.end[1]) for m in marked)
    try:
        return DrawnFlat(
            outline=outline,
            holes=tuple(holes),
            holes_later=tuple(later),
            folds=tuple(folds),
            marks=marks,
        )
    except ValidationError as error:
        raise DrawingError(f"{cut(name)}: {plain(error)}") from None


class _Left:
    """What is left out as a drawing is read, each with its number, and what somebody has said it
    is."""

    def __init__(self, taken: Mapping[int, Taken]) -> None:
        self._taken = taken
        self.found: list[LeftOut] = []

    def out(self, sides: list[DrawnSide], why: str, may: tuple[Taken, ...]) -> Taken:
        """Leave lines out; what they are taken for.

        Raises:
            DrawingError: they are said to be what they cannot be.
        """
        taken = self._taken.get(len(self.found), Taken.NOTHING)
        if taken is not Taken.NOTHING and taken not in may:
            words = ", ".join(may)
            raise DrawingError(
                tr("Line {number} cannot be a {taken}; it can be: {may}.").format(
                    number=len(self.found) + 1, taken=taken, may=words
                )
            )
        self.found.append(LeftOut(tuple(sides), why, may, taken))
        return taken


def _leave_loops(
    left: _Left, gathered: Gathered, text: list[str], kinds: tuple[list[list[DrawnSide]], ...]
) -> None:
    """Leave out closed lines: those round the part, those beside it, those within holes. Each may
    be a mark."""
    for loops, why in zip(kinds, (_round_it, _beside_it, _within_holes), strict=True):
        kept = [loop for loop in loops if left.out(loop, why(1), (Taken.MARK,)) is Taken.NOTHING]
        gathered.marks += [
            side for loop in loops if loop not in kept for side in loop if not side.bulge
        ]
        if kept:
            text.append(why(len(kept)))


def _round_it(count: int) -> str:
    return counted(
        "{count} closed line round the part was left out: a frame, or the sheet it is cut from?",
        "{count} closed lines round the part were left out: a frame, or the sheet it is cut from?",
        count,
    )


def _beside_it(count: int) -> str:
    return counted(
        "{count} closed line outside the largest outline or across it was left out: other parts?",
        "{count} closed lines outside the largest outline or across it were left out: other parts?",
        count,
    )


def _within_holes(count: int) -> str:
    return counted(
        "{count} closed line inside holes was left out.",
        "{count} closed lines inside holes were left out.",
        count,
    )


def _loops(
    gathered: Gathered, name: str, text: list[str], left: _Left, units: Units
) -> list[list[DrawnSide]]:
    """Every closed line, those put together from single sides among them; what does not close is
    left out, or what it is said to be.

    Raises:
        DrawingError: there is none.
    """
    loops = [loop for loop in gathered.closed if loop]
    double = _without_doubles(gathered)
    if double:
        text.append(
            tr("{double} doubled {which} left out.").format(
                double=double, which=tr("line was") if double == 1 else tr("lines were")
            )
        )
    chained, runs = chain(gathered.cut)
    loops += chained
    open_runs = []
    for run in runs:
        straight = not any(side.bulge for side in run)
        may = (
            ((Taken.FOLD,) if straight else ())
            + ((Taken.MARK,) if straight else ())
            + ((Taken.CUT,) if len(run) > 1 else ())
        )
        ends = run[0].start, run[-1].end
        begin, end = (f"{show_length(x, units)}, {show_length(y, units)}" for x, y in ends)
        why = tr("A line from {begin} to {end} is open and was ignored.").format(
            begin=begin, end=end
        )
        match left.out(run, why, may):
            case Taken.FOLD:
                gathered.folds += [(side, "", {}) for side in run]
            case Taken.MARK:
                gathered.marks += run
            case Taken.CUT:
                loops.append([*run, DrawnSide(*ends[::-1])])
            case _:
                open_runs.append(why)
    text += open_runs[:5]
    if len(open_runs) > 5:
        text.append(
            tr("{open_ends} more open lines were ignored.").format(open_ends=len(open_runs) - 5)
        )
    if not loops:
        raise DrawingError(
            tr("{name} has no closed outline.").format(name=cut(name))
            + (
                f" {text[-1]}"
                if open_runs
                else tr(" Draw the edge of the part as one closed line.")
            )
        )
    return loops


def _left_out(gathered: Gathered) -> Iterator[str]:
    """What was taken for something simpler, or not at all, in sentences."""
    if gathered.chorded:
        yield tr("{chorded} {which} taken as short straight pieces.").format(
            chorded=gathered.chorded,
            which=tr("curve was") if gathered.chorded == 1 else tr("curves were"),
        )
    if gathered.unseen:
        yield tr("{which} left out.").format(
            which=counted(
                "{count} line or text that is hidden or on a layer turned off was",
                "{count} lines or texts that are hidden or on a layer turned off were",
                gathered.unseen,
            )
        )
    if gathered.round_folds:
        yield tr(
            "{round_folds} round fold lines were left out: a brake folds along straight lines."
        ).format(round_folds=gathered.round_folds)
    for kind, count in sorted(gathered.strange.items()):
        yield tr("{count} × {kind} was not understood and left out.").format(count=count, kind=kind)


def _without_doubles(gathered: Gathered) -> int:
    """Drop sides, folds and closed lines that are drawn twice; returns how many."""
    before = len(gathered.cut) + len(gathered.folds) + len(gathered.closed)
    gathered.cut = first_of_each(gathered.cut, DrawnSide.key)
    gathered.folds = first_of_each(gathered.folds, lambda fold: fold[0].key())
    gathered.closed = first_of_each(
        gathered.closed, lambda loop: frozenset(side.key() for side in loop)
    )
    return before - len(gathered.cut) - len(gathered.folds) - len(gathered.closed)


Corners = tuple[tuple[float, float, float], ...]


def _corners(loop: list[DrawnSide]) -> Corners:
    return tuple((s.start[0], s.start[1], s.bulge) for s in loop)


def _path(corners: Corners) -> ClosedPath:
    array = np.array(corners)
    return ClosedPath(array[:, :2], array[:, 2])


def _spread(corners: Corners) -> tuple[float, float]:
    points = _path(corners).flattened()
    wide, high = (points.max(axis=0) - points.min(axis=0)).tolist()
    return wide, high


def _edge_first(
    loops: list[list[DrawnSide]], folds: list[DrawnSide]
) -> tuple[list[list[DrawnSide]], list[list[DrawnSide]]]:
    """The loops, the part's edge first: the largest, or where every fold line lies in smaller ones,
    the smallest of these; and what is drawn round that one, a frame or the sheet it is cut from.
    """
    shapes = [shapely.Polygon(_path(_corners(loop)).flattened()) for loop in loops]
    lines = shapely.MultiLineString([(side.start, side.end) for side in folds])
    around = [i for i, shape in enumerate(shapes) if folds and shape.buffer(JOIN).contains(lines)]
    edge = (
        min(around, key=lambda i: shapes[i].area)
        if around
        else max(range(len(loops)), key=lambda i: shapes[i].area)
    )
    kept = [loops[edge], *(loop for i, loop in enumerate(loops) if i != edge and i not in around)]
    return kept, [loops[i] for i in around if i != edge]


Loops = list[list[DrawnSide]]


def _sorted_loops(
    loops: Loops, later: int
) -> tuple[Corners, list[Corners], list[Corners], Loops, Loops]:
    """The first loop is the part's edge; loops inside it are holes, those from ``later`` on cut
    after bending; then those outside it, and those within holes.
    """
    paths = [_path(_corners(loop)) for loop in loops]
    order = [0, *sorted(range(1, len(loops)), key=lambda i: -abs(paths[i].area))]
    outline = _corners(loops[order[0]])
    edge = shapely.Polygon(paths[order[0]].flattened()).buffer(1e-6)
    shapely.prepare(edge)
    inner = [i for i in order[1:] if abs(paths[i].area) >= 1e-6]
    shapes = np.array([shapely.Polygon(paths[i].flattened()) for i in inner], dtype=object)
    inside = edge.contains(shapes) if len(shapes) else np.zeros(0, dtype=bool)
    outside = [loops[i] for i, here in zip(inner, inside.tolist(), strict=True) if not here]
    inner, shapes = (
        [i for i, here in zip(inner, inside.tolist(), strict=True) if here],
        shapes[inside],
    )
    # Larger ones come first: what lies in one of them is no hole of its own.
    tree = shapely.STRtree(shapes)
    points = shapely.point_on_surface(shapes) if len(shapes) else shapes
    within = [set(tree.query(point, predicate="within").tolist()) for point in points]
    holes: list[Corners] = []
    holes_later: list[Corners] = []
    kept: set[int] = set()
    nested: Loops = []
    for k, i in enumerate(inner):
        if within[k] & kept:
            nested.append(loops[i])
        else:
            kept.add(k)
            (holes if i < later else holes_later).append(_corners(loops[i]))
    return outline, holes, holes_later, outside, nested


def _folds(
    gathered: Gathered, angle: float, size: tuple[float, float]
) -> tuple[list[DrawnFold], list[int]]:
    folds: list[DrawnFold] = []
    asked: list[int] = []
    reach = max(6.0, min(size) * 0.08)
    names: Counter[str] = Counter()
    for number, (side, layer, written) in enumerate(gathered.folds, start=1):
        match = figure(written["angle"]) if "angle" in written else _angle(layer)
        if match is None:
            match = next((a for _, a in sorted(_near(gathered, side, reach))), None)
        if match is None:
            asked.append(number)
            match = angle
        name = cut(written["name"]) if written.get("name") else None
        if name:
            names[name] += 1
            name = name if names[name] == 1 else f"{name} {names[name]}"
        try:
            folds.append(
                DrawnFold(
                    start=side.start,
                    end=side.end,
                    angle=match,
                    radius=float(written["radius"]) if "radius" in written else None,
                    name=name,
                    crease=written.get("crease") == "1",
                    ear=written.get("ear") == "1",
                )
            )
        except ValidationError as error:
            raise DrawingError(
                tr("Fold line {number} of the drawing: {error}").format(
                    number=number, error=plain(error)
                )
            ) from None
    return folds, asked


def _angle(text: str) -> float | None:
    """Degrees from words such as ``BEND UP 90``, ``fold -45`` or ``90° down``; None where no angle
    stands.

    An angle is the number beside a degree sign or beside the word for up or down, or a signed one
    after the word for a fold.
    """
    text = re.sub("%%d", "°", text, flags=re.IGNORECASE)
    for sentence in (_DEGREES, _AFTER_WAY, _BEFORE_WAY, _SIGNED):
        for sign, digits in sentence.findall(text):
            value = float(digits.replace(",", "."))
            if 1 <= value <= 300:
                if _DOWN.search(text) and not _UP.search(text):
                    return -value
                return -value if sign == "-" and not _UP.search(text) else value
    return None


def _near(gathered: Gathered, side: DrawnSide, reach: float) -> list[tuple[float, float]]:
    """(distance, angle) of texts beside a line that name an angle."""
    p, q = np.array(side.start), np.array(side.end)
    length = float(np.hypot(*(q - p)))
    along = (q - p) / length
    result = []
    for place, text in gathered.texts:
        off = np.array(place) - p
        t = float(off @ along)
        away = abs(float(off[0] * along[1] - off[1] * along[0]))
        if -reach <= t <= length + reach and away <= reach:
            value = _angle(text)
            if value is not None:
                result.append((away, value))
    return result
