"""Straight and round pieces of a drawing, and joining them end to end."""

from __future__ import annotations

import itertools
import logging
import math
import re
import stat
from collections import Counter
from collections.abc import Callable, Hashable, Iterable, Iterator
from dataclasses import dataclass, field
from pathlib import Path as FilePath
from typing import Any, TypeVar

from ..errors import InputError
from ..i18n import tr
from ..units.length import INCH, cut
from .dxf_write import APP

Thing = TypeVar("Thing")

JOIN = 0.05
"""mm; ends nearer than this are one point."""


@dataclass(frozen=True)
class DrawnSide:
    """One straight or round piece: start, end, bulge."""

    start: tuple[float, float]
    end: tuple[float, float]
    bulge: float = 0.0

    def key(self) -> tuple[object, ...]:
        """The same for two pieces that lie on each other, whichever way they are drawn."""
        a, b = (tuple(round(v / JOIN) for v in p) for p in (self.start, self.end))
        bulge = round(self.bulge, 4)
        return (a, b, bulge) if a <= b else (b, a, -bulge)

    @property
    def turned(self) -> DrawnSide:
        """The same piece from its end to its start."""
        return DrawnSide(self.end, self.start, -self.bulge)


def first_of_each(things: list[Thing], key: Callable[[Thing], Hashable]) -> list[Thing]:
    """The first of all things with one key, in their order."""
    return list({key(thing): thing for thing in reversed(things)}.values())[::-1]


MOST_BRANCHES = 60
"""Runs between the points where more than two sides meet, beyond which no loop is sought among
them: there are too many ways."""

PATIENCE = 1.0
"""Seconds for which loops are sought there."""


def chain(sides: list[DrawnSide]) -> tuple[list[list[DrawnSide]], list[list[DrawnSide]]]:
    """Join sides end to end; returns closed loops, and the runs that stay open.

    Where more than two sides meet, as where a stray line touches an edge, the longest loops are
    taken.
    """
    if not sides:
        return [], []
    from ezdxf import edgeminer  # takes a while, and nobody but who reads a drawing needs it

    deposit = edgeminer.Deposit(
        [
            edgeminer.make_edge(side.start, side.end, payload=number)
            for number, side in enumerate(sides)
        ],
        gap_tol=JOIN,
    )
    runs = [_numbered(run) for run in edgeminer.find_all_simple_chains(deposit)]
    loops = [run for run in runs if _closes(run, sides)]
    through, rest = _through_branches([run for run in runs if not _closes(run, sides)], sides)
    begun = sorted((_begun(run) for run in (*loops, *through)), key=lambda run: run[0][0])
    left = [[_drawn(step, sides) for step in run] for run in sorted(rest, key=min)]
    return [[_drawn(step, sides) for step in run] for run in begun], left


Step = tuple[int, bool]
"""Number of a side, and whether it is gone along as drawn."""


def _numbered(edges: Iterable[Any]) -> list[Step]:
    return [(edge.payload, not edge.is_reverse) for edge in edges]


def _drawn(step: Step, sides: list[DrawnSide]) -> DrawnSide:
    return sides[step[0]] if step[1] else sides[step[0]].turned


def _closes(run: list[Step], sides: list[DrawnSide]) -> bool:
    """True for a run that ends where it begins and encloses something."""
    first, last = _drawn(run[0], sides), _drawn(run[-1], sides)
    return math.dist(first.start, last.end) <= JOIN and (
        len(run) > 2 or any(sides[number].bulge for number, _ in run)
    )


def _begun(loop: list[Step]) -> list[Step]:
    """A loop from its first side on, in the direction in which that is drawn."""
    if not min(loop)[1]:
        loop = [(number, not ahead) for number, ahead in reversed(loop)]
    k = loop.index(min(loop))
    return loop[k:] + loop[:k]


def _through_branches(
    runs: list[list[Step]], sides: list[DrawnSide]
) -> tuple[list[list[Step]], list[list[Step]]]:
    """The longest loops that runs make where more than two of them meet, and the runs that are
    left."""
    if not 1 < len(runs) <= MOST_BRANCHES:
        return [], runs
    from ezdxf import edgeminer

    joined = [
        edgeminer.make_edge(
            _drawn(run[0], sides).start,
            _drawn(run[-1], sides).end,
            sum(math.dist(sides[number].start, sides[number].end) for number, _ in run),
            payload=k,
        )
        for k, run in enumerate(runs)
    ]
    try:
        ways = edgeminer.find_all_loops(edgeminer.Deposit(joined, gap_tol=JOIN), timeout=PATIENCE)
    except edgeminer.TimeoutError:
        return [], runs
    used: set[int] = set()
    loops: list[list[Step]] = []
    for way in sorted(ways, key=lambda way: -edgeminer.length(way)):
        if used.isdisjoint(edge.payload for edge in way):
            loop: list[Step] = []
            for edge in way:
                run = runs[edge.payload]
                loop += (
                    [(number, not ahead) for number, ahead in reversed(run)]
                    if edge.is_reverse
                    else run
                )
            if _closes(loop, sides):
                used |= {edge.payload for edge in way}
                loops.append(loop)
    return loops, [run for k, run in enumerate(runs) if k not in used]


LARGEST = 20_000_000
"""Bytes."""

MOST = 20_000
"""Entities, blocks opened up; a flat has some hundred."""

MOST_WRITTEN = 60_000
"""Entities and table entries written in a file, counted before it is read."""

_BEGINS = re.compile(rb"(?m)^[ \t]*0[ \t]*\r?$")

MOST_CHORDS = 2000
"""Straight pieces a curve is cut into."""

_UNITS = {
    1: INCH,
    2: 304.8,
    4: 1.0,
    5: 10.0,
    6: 1000.0,
    8: INCH * 1e-6,
    9: INCH * 1e-3,
    13: 1e-3,
    14: 100.0,
}
_FOLD_WORDS = re.compile(r"fold|bend|crease|brake|kant|biege|pli", re.IGNORECASE)
_MARK_WORDS = re.compile(r"mark|scribe|engrav|etch|text|note|dim|defpoints", re.IGNORECASE)
_SPOT_WORDS = re.compile(r"spot|weld|punkt", re.IGNORECASE)
_LATER_WORDS = re.compile(r"later|after|nachher|après", re.IGNORECASE)
_FOLD_LINES = re.compile(r"dash|hidden|center|centre|phantom|dot", re.IGNORECASE)

FARTHEST = 1e7
"""mm; what lies farther from the origin is no part of a flat."""

LEVEL = 1e-6
"""Part of an extrusion's direction that may lie along the sheet."""

# What the reader mends by itself is no news to a person at a bench.
logging.getLogger("ezdxf").setLevel(logging.CRITICAL)


class DrawingError(InputError):
    """A drawing that could not be used; the message says why."""


@dataclass
class Gathered:
    """What was found in a drawing, mm.

    Attributes:
        cut: sides that are cut, not closed by themselves.
        closed: closed lines, each its sides.
        later: what is cut when the part is bent: closed lines, and sides not closed by themselves,
            each alone.
        folds: fold lines: side, name of the layer, what this program wrote beside it.
        marks: lines that are marked, not cut.
        texts: where words stand, and the words.
        strange: kinds of what was not understood, and how many.
        chorded: curves taken as short straight pieces.
        unseen: how many lie on layers that are off or frozen, or are hidden by themselves.
        round_folds: fold lines that are no straight lines; they are left out.
    """

    cut: list[DrawnSide] = field(default_factory=list)
    closed: list[list[DrawnSide]] = field(default_factory=list)
    later: list[list[DrawnSide]] = field(default_factory=list)
    folds: list[tuple[DrawnSide, str, dict[str, str]]] = field(default_factory=list)
    marks: list[DrawnSide] = field(default_factory=list)
    texts: list[tuple[tuple[float, float], str]] = field(default_factory=list)
    strange: Counter[str] = field(default_factory=Counter)
    chorded: int = 0
    unseen: int = 0
    round_folds: int = 0


def open_drawing(path: FilePath) -> tuple[Any, float | None]:
    """The document of a DXF file, and mm per unit of it; None where it does not name its unit.

    Raises:
        DrawingError: it cannot be read, is far too large, or is no drawing.
    """
    # A large library: fetched when a drawing is asked for, not while the program starts.
    from ezdxf import recover
    from ezdxf.filemanagement import readfile
    from ezdxf.lldxf.const import DXFError

    try:
        standing = path.stat()
        if not stat.S_ISREG(standing.st_mode):
            raise DrawingError(tr("{name} is not a file.").format(name=cut(path.name)))
        if standing.st_size > LARGEST:
            raise DrawingError(
                tr("{name} is far too large for the drawing of a flat.").format(name=cut(path.name))
            )
        text = path.read_bytes()
        entities = len(_BEGINS.findall(text))
        if entities > MOST_WRITTEN:
            raise DrawingError(
                tr("{name} holds {entities} entities: too many for the flat of one part.").format(
                    name=cut(path.name), entities=entities
                )
            )
        try:
            document = readfile(path)
        except (
            DXFError,
            ValueError,
            KeyError,
            IndexError,
            TypeError,
            AttributeError,
            RecursionError,
        ):
            # What is damaged is read again by the reader that mends, which is slower.
            document, _ = recover.readfile(path)
    except DrawingError:
        raise
    except OSError as error:
        raise DrawingError(
            tr("{path} could not be read: {value}.").format(
                path=cut(path), value=error.strerror or cut(error)
            )
        ) from None
    except Exception:
        # The reader of drawings fails in many ways on a damaged file.
        raise DrawingError(
            tr("{name} is damaged, or not a DXF drawing.").format(name=cut(path.name))
        ) from None
    named = _whole(document.header.get("$INSUNITS", 0))
    # Where a file has no such line the library supposes metres.
    return document, (_UNITS.get(named) if b"$INSUNITS" in text else None) or _own_unit(document)


def _own_unit(document: Any) -> float | None:
    """mm per unit as this program has written it where the version has no word for it; None where
    it has not."""
    for entity in document.modelspace().query("POLYLINE"):
        if entity.has_xdata(APP):
            pairs = dict(
                str(value).split("=", 1)
                for code, value in entity.get_xdata(APP)
                if code == 1000 and "=" in str(value)
            )
            if "unit" in pairs:
                return figure(pairs["unit"])
    return None


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
                tr(
                    "The drawing has more than {MOST} lines, blocks opened up: too many for the "
                    "flat of one part."
                ).format(MOST=MOST)
            )
        if entity.dxftype() == "INSERT" and depth < 6:
            try:
                # An array of a block is taken apart into its single ones first.
                inside = entity.multi_insert() if entity.mcount > 1 else entity.virtual_entities()
                waiting.append((iter(list(itertools.islice(inside, MOST))), depth + 1))
            except Exception:
                yield entity
        else:
            yield entity


def _said(entity: Any, name: str, otherwise: Any) -> Any:
    """What an entity says of itself; not every kind can be asked everything."""
    return entity.dxf.get(name) if entity.dxf.hasattr(name) else otherwise


def _kind(entity: Any, document: Any) -> str:
    """``cut``, ``later``, ``fold`` or ``mark``, from what we wrote, the layer's name, or the line
    type."""
    if "angle" in _written(entity, 1.0):
        return "fold"
    layer = str(_said(entity, "layer", "0"))
    if _LATER_WORDS.search(layer):
        return "later"
    if _FOLD_WORDS.search(layer):
        return "fold"
    if _MARK_WORDS.search(layer):
        return "mark"
    line_type = str(entity.dxf.get("linetype", "BYLAYER"))
    if line_type.upper() == "BYLAYER" and document.layers.has_entry(layer):
        line_type = str(document.layers.get(layer).dxf.get("linetype", ""))
    return "fold" if _FOLD_LINES.search(line_type) else "cut"


def _without_lines(entity: Any, kind: str, scale: float, gathered: Gathered) -> bool:
    """Take in what has no lines to cut or fold along: texts, and the points of spot welds. True
    where the entity is such."""
    if kind in ("TEXT", "MTEXT"):
        at = _said(entity, "insert", None)
        if kind == "TEXT" and (_said(entity, "halign", 0) or _said(entity, "valign", 0)):
            # Where a text is aligned, that point counts; the other is for whoever draws it first.
            at = _said(entity, "align_point", at)
        if at is not None and kind == "TEXT" and _said(entity, "extrusion", (0.0, 0.0, 1.0))[2] < 0:
            at = (-at[0], at[1])
        text = cut(entity.plain_text() if kind == "MTEXT" else entity.dxf.get("text", ""))
        if at is not None:
            gathered.texts.append(((at[0] * scale, at[1] * scale), text))
    elif kind == "POINT" and _SPOT_WORDS.search(str(_said(entity, "layer", "0"))):
        place = _said(entity, "location", (math.nan, math.nan))
        x, y = (float(place[0]) * scale, float(place[1]) * scale)
        if abs(x) < FARTHEST and abs(y) < FARTHEST:
            gathered.marks.append(DrawnSide((x, y), (x, y)))
    elif kind in {"DIMENSION", "LEADER"}:
        gathered.strange[kind.lower()] += 1
    return kind in ("TEXT", "MTEXT", "POINT", "DIMENSION", "LEADER", "VIEWPORT", "ATTDEF")


def gather(document: Any, scale: float) -> Gathered:  # noqa: C901, PLR0912
    """Everything that is drawn, sorted.

    Args:
        document: the drawing.
        scale: mm per unit.

    Raises:
        DrawingError: there is too much of it.
    """
    gathered = Gathered()
    unseen = {
        layer.dxf.name.lower() for layer in document.layers if layer.is_off() or layer.is_frozen()
    }
    for entity in _entities(document.modelspace()):
        kind = entity.dxftype()
        if _said(entity, "invisible", 0) or str(_said(entity, "layer", "0")).lower() in unseen:
            gathered.unseen += 1
            continue
        if _without_lines(entity, kind, scale, gathered):
            continue
        try:
            sides, closed, chords = _sides(entity, scale)
        except Exception:
            # A damaged entity fails anywhere in the reader; it is said and left out.
            sides, closed, chords = [], False, False
            gathered.strange[tr("damaged {kind}").format(kind=kind.lower())] += 1
            continue
        if not sides:
            gathered.strange[kind.lower()] += 1
            continue
        if not all(
            math.isfinite(v) and abs(v) < FARTHEST
            for s in sides
            for v in (*s.start, *s.end, s.bulge)
        ):
            gathered.strange[
                tr("{kind} far away or without a place").format(kind=kind.lower())
            ] += 1
            continue
        gathered.chorded += chords
        what = _kind(entity, document)
        if what == "mark":
            gathered.marks += [
                s for s in sides if s.bulge == 0.0 and math.dist(s.start, s.end) > 1e-6
            ]
        elif what == "fold":
            written = _written(entity, scale)
            for side in sides:
                if side.bulge:
                    gathered.round_folds += 1
                elif math.dist(side.start, side.end) > JOIN:
                    gathered.folds.append((side, str(entity.dxf.get("layer", "")), written))
        elif what == "later":
            kept = [s for s in sides if math.dist(s.start, s.end) > 1e-9]
            gathered.later += [kept] if closed else [[side] for side in kept]
        elif closed:
            gathered.closed.append([s for s in sides if math.dist(s.start, s.end) > 1e-9])
        else:
            gathered.cut += [s for s in sides if math.dist(s.start, s.end) > 1e-9]
    return gathered


def _written(entity: Any, scale: float) -> dict[str, str]:
    from ezdxf.lldxf.encoding import decode_dxf_unicode

    if not entity.has_xdata(APP):
        return {}
    # Old versions write what is not in their character set as its number.
    texts = [
        decode_dxf_unicode(str(value)) for code, value in entity.get_xdata(APP) if code == 1000
    ]
    pairs = dict(text.split("=", 1) for text in texts if "=" in text)
    if "radius" in pairs:
        pairs["radius"] = repr(figure(pairs["radius"]) * scale)
    return pairs


def figure(text: str) -> float:
    """A number as it was written; 0 where it is none."""
    try:
        value = float(text)
    except ValueError:
        return 0.0
    return value if math.isfinite(value) else 0.0


def _sides(entity: Any, scale: float) -> tuple[list[DrawnSide], bool, bool]:  # noqa: C901, PLR0911, PLR0912
    """An entity as sides in world coordinates; whether it is closed in itself; whether curves were
    cut into chords.

    Lines of two dimensions are written in the plane of their own extrusion: a mirrored block turns
    it over, and their arcs with it. What stands in a plane askew to the sheet has no true size on
    it and gives no sides.
    """
    kind = entity.dxftype()
    turned = 1.0
    if kind in ("ARC", "CIRCLE", "LWPOLYLINE") or (kind == "POLYLINE" and entity.is_2d_polyline):
        up = _said(entity, "extrusion", (0.0, 0.0, 1.0))
        if max(abs(up[0]), abs(up[1])) > LEVEL:
            return [], False, False
        turned = math.copysign(1.0, up[2])

    def at(p: Any) -> tuple[float, float]:
        return float(p[0]) * scale, float(p[1]) * scale

    def own(p: Any) -> tuple[float, float]:
        # With the extrusion turned over, the plane's x runs the other way.
        return float(p[0]) * scale * turned, float(p[1]) * scale

    if kind == "LINE":
        return [DrawnSide(at(entity.dxf.start), at(entity.dxf.end))], False, False
    if kind == "ARC":
        sweep = (entity.dxf.end_angle - entity.dxf.start_angle) % 360 or 360
        return (
            [
                DrawnSide(
                    at(entity.start_point),
                    at(entity.end_point),
                    turned * math.tan(math.radians(sweep) / 4),
                )
            ],
            False,
            False,
        )
    if kind == "CIRCLE":
        (x, y), r = own(entity.dxf.center), float(entity.dxf.radius) * scale
        if r <= 0:
            return [], False, False
        return (
            [DrawnSide((x + r, y), (x - r, y), 1.0), DrawnSide((x - r, y), (x + r, y), 1.0)],
            True,
            False,
        )
    if kind in ("LWPOLYLINE", "POLYLINE"):
        if kind == "LWPOLYLINE":
            rows = [(own((x, y)), turned * float(b)) for x, y, b in entity.get_points("xyb")]
            closed = bool(entity.closed)
        elif entity.is_2d_polyline:
            rows = [
                (own(v.dxf.location), turned * float(v.dxf.get("bulge", 0.0)))
                for v in entity.vertices
            ]
            closed = bool(entity.is_closed)
        elif (
            entity.is_3d_polyline
            and len({round(v.dxf.location.z, 6) for v in entity.vertices}) == 1
        ):
            rows = [(at(v.dxf.location), 0.0) for v in entity.vertices]
            closed = bool(entity.is_closed)
        else:
            return [], False, False
        if len(rows) > 1 and math.dist(rows[0][0], rows[-1][0]) < JOIN and len(rows) > 2:
            rows, closed = rows[:-1], True
        count = len(rows) if closed else len(rows) - 1
        made = [
            DrawnSide(rows[i][0], rows[(i + 1) % len(rows)][0], rows[i][1]) for i in range(count)
        ]
        return made, closed and count > 1, False
    if kind in ("SPLINE", "ELLIPSE"):
        points = [at(p) for p in itertools.islice(entity.flattening(0.02 / scale), MOST_CHORDS)]
        closed = len(points) > 3 and math.dist(points[0], points[-1]) < JOIN
        if closed:
            points[-1] = points[0]
        return [DrawnSide(a, b) for a, b in itertools.pairwise(points)], closed, True
    return [], False, False
