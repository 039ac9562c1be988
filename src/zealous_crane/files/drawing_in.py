"""Reading a flat from a DXF drawing: outline, holes and fold lines; whatever is not understood is listed, not dropped."""

from __future__ import annotations

import itertools
import logging
import math
import re
import stat
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path as FilePath
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from pydantic import ValidationError

from ..blank import Path
from ..measure import INCH
from ..measure.report import plain
from ..measure.text import cut
from ..measure.words import tr
from ..part import DrawnFlat, DrawnFold
from ..part.drawn_flat import MOST_CORNERS
from .drawing import APP
from .drawing_tolerance import GeneralTolerance, general_tolerance
from .sides import JOIN, Side, chain, first_of_each

Array = NDArray[np.float64]

LARGEST = 20_000_000
"""Bytes."""

MOST = 20_000
"""Entities, blocks opened up; a flat has some hundred."""

MOST_WRITTEN = 60_000
"""Entities and table entries written in a file, counted before it is read."""

_BEGINS = re.compile(rb"(?m)^[ \t]*0[ \t]*\r?$")

MOST_CHORDS = 2000
"""Straight pieces a curve is cut into."""

_UNITS = {1: INCH, 2: 304.8, 4: 1.0, 5: 10.0, 6: 1000.0, 8: INCH * 1e-6, 9: INCH * 1e-3, 13: 1e-3, 14: 100.0}
_FOLD_WORDS = re.compile(r"fold|bend|crease|brake|kant|biege|pli", re.IGNORECASE)
_MARK_WORDS = re.compile(r"mark|scribe|engrav|etch|text|note|dim|defpoints", re.IGNORECASE)
_FOLD_LINES = re.compile(r"dash|hidden|center|centre|phantom|dot", re.IGNORECASE)
_NUMBER = re.compile(r"([+-]?)\s*(\d{1,3}(?:[.,]\d+)?)")
_DOWN = re.compile(r"down|\bdn\b|back|reverse|unten|(?<![a-z])d(?=[\s_-]*\d)", re.IGNORECASE)


# What the reader mends by itself is no news to a person at a bench.
logging.getLogger("ezdxf").setLevel(logging.CRITICAL)


class DrawingError(ValueError):
    """A drawing that could not be used; the message says why."""


@dataclass(frozen=True)
class Reading:
    """What came of a drawing.

    Attributes:
        flat: outline, holes, folds.
        said: what was assumed, mended, or not understood, in sentences.
        tolerance: what its text asks of every size.
        asked: numbers (from 1) of the fold lines whose angle was not written.
    """

    flat: DrawnFlat
    said: tuple[str, ...]
    asked: tuple[int, ...]
    tolerance: GeneralTolerance = field(default_factory=GeneralTolerance)


@dataclass
class _Gathered:
    cut: list[Side] = field(default_factory=list)
    closed: list[list[Side]] = field(default_factory=list)
    folds: list[tuple[Side, str, dict[str, str]]] = field(default_factory=list)
    marks: list[Side] = field(default_factory=list)
    texts: list[tuple[tuple[float, float], str]] = field(default_factory=list)
    strange: Counter[str] = field(default_factory=Counter)
    chorded: int = 0
    round_folds: int = 0


def read_drawing(path: FilePath, *, unit: float | None = None, angle: float = 90.0) -> Reading:
    """Read a flat from a DXF file.

    Lines on a layer (or of a line type) that says fold, bend or dashes are fold lines; layers that say mark, text or engrave are
    marks; everything else is cut. A fold's angle and direction come from what this program wrote, from the layer's name
    ("BEND UP 90", "FOLD -45"), from the text beside it, or else are taken as ``angle`` and listed in ``asked``.

    Args:
        path: the file.
        unit: mm per drawing unit; None takes what the drawing says.
        angle: degrees for folds that say nothing.

    Raises:
        DrawingError: not a drawing, no closed outline, or nothing that could be a part.
    """
    path = FilePath(path)
    document = _open(path)
    said: list[str] = []
    scale = _scale(document, unit, said)
    gathered = _gather(document, scale)
    loops = [loop for loop in gathered.closed if loop]
    double = _without_doubles(gathered)
    if double:
        said.append(
            tr("{double} doubled {which} left out.").format(
                double=double, which=tr("line was") if double == 1 else tr("lines were")
            )
        )
    chained, open_ends = chain(gathered.cut)
    loops += chained
    for ends in open_ends[:5]:
        said.append(
            tr("A line from {ends:.2f}, {ends_2:.2f} to {ends_3:.2f}, {ends_4:.2f} mm does not close; it was left out.").format(
                ends=ends[0][0], ends_2=ends[0][1], ends_3=ends[1][0], ends_4=ends[1][1]
            )
        )
    if len(open_ends) > 5:
        said.append(tr("{open_ends} more lines do not close and were left out.").format(open_ends=len(open_ends) - 5))
    if not loops:
        raise DrawingError(
            tr("{name} has no closed outline.").format(name=cut(path.name))
            + (f" {said[-1]}" if open_ends else tr(" Draw the edge of the part as one closed line."))
        )
    outline, holes = _sorted_loops(loops, said)
    if gathered.chorded:
        said.append(
            tr("{chorded} {which} taken as short straight pieces.").format(
                chorded=gathered.chorded, which=tr("curve was") if gathered.chorded == 1 else tr("curves were")
            )
        )
    if gathered.round_folds:
        said.append(
            tr("{round_folds} round fold lines were left out: a brake folds along straight lines.").format(
                round_folds=gathered.round_folds
            )
        )
    for kind, count in sorted(gathered.strange.items()):
        said.append(tr("{count} × {kind} was not understood and left out.").format(count=count, kind=kind))
    folds, asked = _folds(gathered, angle, _spread(outline))
    if asked:
        numbers = ", ".join(str(i) for i in asked[:8]) + (" …" if len(asked) > 8 else "")
        said.append(
            tr("The angle of fold {numbers} is not written; {angle:g}° was taken. Set it in Shape.").format(
                numbers=numbers, angle=angle
            )
        )
    most = max(len(outline), *(len(hole) for hole in holes), 0)
    if most > MOST_CORNERS:
        raise DrawingError(
            tr("{name} has a line of {most} corners; up to {MOST_CORNERS} can be worked out. Draw it with arcs.").format(
                name=cut(path.name), most=most, MOST_CORNERS=MOST_CORNERS
            )
        )
    size = _spread(outline)
    if max(size) < 8 or max(size) > 8000:
        said.append(
            tr("The part is {size:.4g} × {size_2:.4g} mm. If that is wrong, the drawing's units are.").format(
                size=size[0], size_2=size[1]
            )
        )
    marks = tuple((m.start[0], m.start[1], m.end[0], m.end[1]) for m in gathered.marks)
    try:
        flat = DrawnFlat(outline=outline, holes=tuple(holes), folds=tuple(folds), marks=marks)
    except ValidationError as error:
        raise DrawingError(f"{cut(path.name)}: {plain(error)}") from None
    tolerance = general_tolerance((text for _, text in gathered.texts), inches=abs(scale - INCH) < 1e-6)
    if tolerance.fields:
        said.append(tolerance.says())
    return Reading(flat, tuple(said), tuple(asked), tolerance)


def _open(path: FilePath) -> Any:
    # A large library: fetched when a drawing is asked for, not while the program starts.
    import ezdxf
    from ezdxf import recover

    try:
        standing = path.stat()
        if not stat.S_ISREG(standing.st_mode):
            raise DrawingError(tr("{name} is not a file.").format(name=cut(path.name)))
        if standing.st_size > LARGEST:
            raise DrawingError(tr("{name} is far too large for the drawing of a flat.").format(name=cut(path.name)))
        text = path.read_bytes()
        entities = len(_BEGINS.findall(text))
        if entities > MOST_WRITTEN:
            raise DrawingError(
                tr("{name} holds {entities} entities: too many for the flat of one part.").format(
                    name=cut(path.name), entities=entities
                )
            )
        try:
            document = ezdxf.readfile(path)
        except (ezdxf.DXFError, ValueError, KeyError, IndexError, TypeError, AttributeError, RecursionError):
            # What is damaged is read again by the reader that mends, which is slower.
            document, _ = recover.readfile(path)
    except DrawingError:
        raise
    except OSError as error:
        raise DrawingError(
            tr("{path} could not be read: {value}.").format(path=cut(path), value=error.strerror or cut(error))
        ) from None
    except Exception:
        # The reader of drawings fails in many ways on a damaged file.
        raise DrawingError(tr("{name} is damaged, or not a DXF drawing.").format(name=cut(path.name))) from None
    return document


def _scale(document: Any, unit: float | None, said: list[str]) -> float:
    if unit is not None:
        return unit
    named = _whole(document.header.get("$INSUNITS", 0))
    if named in _UNITS:
        return _UNITS[named]
    inches = _whole(document.header.get("$MEASUREMENT", 1)) == 0
    said.append(
        tr("The drawing names no unit; it was read in {which}.").format(which=tr("inches") if inches else tr("millimetres"))
    )
    return INCH if inches else 1.0


def _whole(value: Any) -> int:
    try:
        return int(value or 0)
    except (TypeError, ValueError, OverflowError):
        return 0


def _entities(container: Any) -> Iterator[Any]:
    """Everything drawn, blocks opened up; at most :data:`MOST` of them, whatever inserts itself.

    Raises:
        DrawingError: there are more.
    """
    waiting: list[tuple[Any, int]] = [(iter(container), 0)]
    seen = 0
    while waiting:
        entities, depth = waiting[-1]
        entity = next(entities, None)
        if entity is None:
            waiting.pop()
            continue
        seen += 1
        if seen > MOST:
            raise DrawingError(
                tr("The drawing has more than {MOST} lines, blocks opened up: too many for the flat of one part.").format(
                    MOST=MOST
                )
            )
        if entity.dxftype() == "INSERT" and depth < 6:
            try:
                waiting.append((iter(list(itertools.islice(entity.virtual_entities(), MOST))), depth + 1))
            except Exception:
                yield entity
        else:
            yield entity


def _kind(entity: Any, document: Any) -> str:
    """``cut``, ``fold`` or ``mark``, from what we wrote, the layer's name, or the line type."""
    if entity.has_xdata(APP):
        return "fold"
    layer = str(entity.dxf.get("layer", "0"))
    if _FOLD_WORDS.search(layer):
        return "fold"
    if _MARK_WORDS.search(layer):
        return "mark"
    line_type = str(entity.dxf.get("linetype", "BYLAYER"))
    if line_type.upper() == "BYLAYER" and document.layers.has_entry(layer):
        line_type = str(document.layers.get(layer).dxf.get("linetype", ""))
    return "fold" if _FOLD_LINES.search(line_type) else "cut"


def _gather(document: Any, scale: float) -> _Gathered:
    found = _Gathered()
    for entity in _entities(document.modelspace()):
        kind = entity.dxftype()
        if kind in ("TEXT", "MTEXT"):
            at = entity.dxf.get("insert", None)
            text = cut(entity.plain_text() if kind == "MTEXT" else entity.dxf.get("text", ""))
            if at is not None:
                found.texts.append(((at[0] * scale, at[1] * scale), text))
            continue
        if kind in ("POINT", "DIMENSION", "LEADER", "VIEWPORT", "ATTDEF"):
            if kind in {"DIMENSION", "LEADER"}:
                found.strange[kind.lower()] += 1
            continue
        try:
            sides, closed, chords = _sides(entity, scale)
        except Exception:
            # A damaged entity fails anywhere in the reader; it is said and left out.
            sides, closed, chords = [], False, False
            found.strange[f"damaged {kind.lower()}"] += 1
            continue
        if not sides:
            found.strange[kind.lower()] += 1
            continue
        if not all(math.isfinite(v) and abs(v) < 1e7 for s in sides for v in (*s.start, *s.end, s.bulge)):
            found.strange[f"{kind.lower()} far away or without a place"] += 1
            continue
        found.chorded += chords
        what = _kind(entity, document)
        if what == "mark":
            found.marks += [s for s in sides if s.bulge == 0.0 and math.dist(s.start, s.end) > 1e-6]
        elif what == "fold":
            written = _written(entity, scale)
            for side in sides:
                if side.bulge:
                    found.round_folds += 1
                elif math.dist(side.start, side.end) > JOIN:
                    found.folds.append((side, str(entity.dxf.get("layer", "")), written))
        elif closed:
            found.closed.append([s for s in sides if math.dist(s.start, s.end) > 1e-9])
        else:
            found.cut += [s for s in sides if math.dist(s.start, s.end) > 1e-9]
    return found


def _written(entity: Any, scale: float) -> dict[str, str]:
    if not entity.has_xdata(APP):
        return {}
    pairs = dict(str(value).split("=", 1) for code, value in entity.get_xdata(APP) if code == 1000 and "=" in str(value))
    if "radius" in pairs:
        pairs["radius"] = repr(_figure(pairs["radius"]) * scale)
    return pairs


def _figure(text: str) -> float:
    try:
        value = float(text)
    except ValueError:
        return 0.0
    return value if math.isfinite(value) else 0.0


def _sides(entity: Any, scale: float) -> tuple[list[Side], bool, bool]:
    """An entity as sides; whether it is closed in itself; whether curves were cut into chords."""
    kind = entity.dxftype()

    def at(p: Any) -> tuple[float, float]:
        return float(p[0]) * scale, float(p[1]) * scale

    if kind == "LINE":
        return [Side(at(entity.dxf.start), at(entity.dxf.end))], False, False
    if kind == "ARC":
        sweep = (entity.dxf.end_angle - entity.dxf.start_angle) % 360 or 360
        return [Side(at(entity.start_point), at(entity.end_point), math.tan(math.radians(sweep) / 4))], False, False
    if kind == "CIRCLE":
        (x, y), r = at(entity.dxf.center), float(entity.dxf.radius) * scale
        if r <= 0:
            return [], False, False
        return [Side((x + r, y), (x - r, y), 1.0), Side((x - r, y), (x + r, y), 1.0)], True, False
    if kind in ("LWPOLYLINE", "POLYLINE"):
        if kind == "LWPOLYLINE":
            rows = [((float(x) * scale, float(y) * scale), float(b)) for x, y, b in entity.get_points("xyb")]
            closed = bool(entity.closed)
        else:
            if not entity.is_2d_polyline:
                return [], False, False
            rows = [(at(v.dxf.location), float(v.dxf.get("bulge", 0.0))) for v in entity.vertices]
            closed = bool(entity.is_closed)
        if len(rows) > 1 and math.dist(rows[0][0], rows[-1][0]) < JOIN and len(rows) > 2:
            rows, closed = rows[:-1], True
        count = len(rows) if closed else len(rows) - 1
        made = [Side(rows[i][0], rows[(i + 1) % len(rows)][0], rows[i][1]) for i in range(count)]
        return made, closed and count > 1, False
    if kind in ("SPLINE", "ELLIPSE"):
        points = [at(p) for p in itertools.islice(entity.flattening(0.02 / scale), MOST_CHORDS)]
        closed = len(points) > 3 and math.dist(points[0], points[-1]) < JOIN
        if closed:
            points[-1] = points[0]
        return [Side(a, b) for a, b in itertools.pairwise(points)], closed, True
    return [], False, False


def _without_doubles(gathered: _Gathered) -> int:
    """Drop sides, folds and closed lines that are drawn twice; returns how many."""
    before = len(gathered.cut) + len(gathered.folds) + len(gathered.closed)
    gathered.cut = first_of_each(gathered.cut, Side.key)
    gathered.folds = first_of_each(gathered.folds, lambda fold: fold[0].key())
    gathered.closed = first_of_each(gathered.closed, lambda loop: frozenset(side.key() for side in loop))
    return before - len(gathered.cut) - len(gathered.folds) - len(gathered.closed)


Corners = tuple[tuple[float, float, float], ...]


def _corners(loop: list[Side]) -> Corners:
    return tuple((s.start[0], s.start[1], s.bulge) for s in loop)


def _path(corners: Corners) -> Path:
    array = np.array(corners)
    return Path(array[:, :2], array[:, 2])


def _spread(corners: Corners) -> tuple[float, float]:
    points = _path(corners).flattened()
    wide, high = (points.max(axis=0) - points.min(axis=0)).tolist()
    return wide, high


def _sorted_loops(loops: list[list[Side]], said: list[str]) -> tuple[Corners, list[Corners]]:
    """The largest loop is the part's edge; loops inside it are holes; the rest is said."""
    paths = [_path(_corners(loop)) for loop in loops]
    order = sorted(range(len(loops)), key=lambda i: -abs(paths[i].area))
    outline = _corners(loops[order[0]])
    edge = shapely.Polygon(paths[order[0]].flattened()).buffer(1e-6)
    shapely.prepare(edge)
    inner = [i for i in order[1:] if abs(paths[i].area) >= 1e-6]
    shapes = np.array([shapely.Polygon(paths[i].flattened()) for i in inner], dtype=object)
    inside = edge.contains(shapes) if len(shapes) else np.zeros(0, dtype=bool)
    outside = int((~inside).sum())
    inner, shapes = [i for i, here in zip(inner, inside.tolist(), strict=True) if here], shapes[inside]
    # Larger ones come first: what lies in one of them is no hole of its own.
    tree = shapely.STRtree(shapes)
    points = shapely.point_on_surface(shapes) if len(shapes) else shapes
    within = [set(tree.query(point, predicate="within").tolist()) for point in points]
    holes: list[Corners] = []
    kept: set[int] = set()
    nested = 0
    for k, i in enumerate(inner):
        if within[k] & kept:
            nested += 1
        else:
            kept.add(k)
            holes.append(_corners(loops[i]))
    if outside:
        said.append(
            tr("{outside} closed {which} outside the largest outline or across it left out: other parts?").format(
                outside=outside, which=tr("line") if outside == 1 else tr("lines")
            )
        )
    if nested:
        said.append(
            tr("{nested} closed {which} inside holes left out.").format(
                nested=nested, which=tr("line") if nested == 1 else tr("lines")
            )
        )
    return outline, holes


def _folds(gathered: _Gathered, angle: float, size: tuple[float, float]) -> tuple[list[DrawnFold], list[int]]:
    folds: list[DrawnFold] = []
    asked: list[int] = []
    reach = max(6.0, min(size) * 0.08)
    names: Counter[str] = Counter()
    for number, (side, layer, written) in enumerate(gathered.folds, start=1):
        found = _figure(written["angle"]) if "angle" in written else _angle(layer)
        if found is None:
            found = next((a for _, a in sorted(_near(gathered, side, reach))), None)
        if found is None:
            asked.append(number)
            found = angle
        name = cut(written["name"]) if written.get("name") else None
        if name:
            names[name] += 1
            name = name if names[name] == 1 else f"{name} {names[name]}"
        try:
            folds.append(DrawnFold(
                start=side.start, end=side.end, angle=found, radius=float(written["radius"]) if "radius" in written else None,
                name=name, crease=written.get("crease") == "1", ear=written.get("ear") == "1",
            ))  # fmt: skip
        except ValidationError as error:
            raise DrawingError(
                tr("Fold line {number} of the drawing: {error}").format(number=number, error=plain(error))
            ) from None
    return folds, asked


def _angle(text: str) -> float | None:
    """Degrees from words such as ``BEND UP 90``, ``fold -45`` or ``90° down``; None where no angle stands."""
    for sign, digits in _NUMBER.findall(text):
        value = float(digits.replace(",", "."))
        if 1 <= value <= 300:
            return -value if (sign == "-" and not re.search(r"up", text, re.IGNORECASE)) or _DOWN.search(text) else value
    return None


def _near(gathered: _Gathered, side: Side, reach: float) -> list[tuple[float, float]]:
    """(distance, angle) of texts beside a line that name an angle."""
    p, q = np.array(side.start), np.array(side.end)
    length = float(np.hypot(*(q - p)))
    along = (q - p) / length
    found = []
    for place, text in gathered.texts:
        off = np.array(place) - p
        t = float(off @ along)
        away = abs(float(off[0] * along[1] - off[1] * along[0]))
        if -reach <= t <= length + reach and away <= reach:
            value = _angle(text.replace("%%d", "°").replace("%%D", "°"))
            if value is not None:
                found.append((away, value))
    return found
