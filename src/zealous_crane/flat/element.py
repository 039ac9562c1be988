"""What stands on an edge, brought to one form: a fold, a height beyond it, and what stands on that
in turn.

Hems, joggles and seams are folds like any other once their radius, angle and height are worked out;
this is where it is done.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum

from ..errors import INPUT_ERRORS, InputError
from ..i18n import Phrase, msg, tr
from ..job.job import Job
from ..metal.bend import Bend
from ..part.corner import Tab
from ..part.design import Facet, Flange, Path, Standing
from ..part.edge import (
    HEM_WORDS,
    Edge,
    End,
    FoldSlots,
    Hem,
    HemForm,
    Joggle,
    Measured,
    Seam,
    SeamForm,
    edge_names,
)
from ..units.length import show_length


class DevelopmentError(InputError):
    """The part cannot be laid flat as written; the message says which size and what would do."""


class MadeBy(StrEnum):
    """What makes a fold."""

    BRAKE = "brake"
    HEM = "hem"
    TOOL = "tool"
    HAND = "hand"
    SEAMER = "hand seamer"


@dataclass(frozen=True)
class Element:
    """One thing on one edge.

    Attributes:
        edge: index of the edge of the carrying panel.
        name: as the shop calls it.
        word: what its height is called in a sum.
        bend: its fold; None where metal simply runs on.
        sign: +1 folds towards the inside face, −1 away.
        height: mm from its inside corner (folded edge of a hem) to the free edge or the next
            corner.
        ends: left and right, how they are cut; None leaves it to the corner.
        notch: degrees both ends are cut back where ``ends`` says nothing.
        made_by: what makes the fold.
        corners: corners of a facet, else empty.
        standing: elements on its own edges.
        flat: metal it uses beyond the folded edge in all, where the trade names that and not the
            height, mm.
        slots: slots along the fold.
        formed: words for metal that is formed later on a tool of its own, else empty.
        tab: its sizes, where it is a corner's tab.
        lies_on: name of the panel it is made to lie against, else empty.
        path: where it is written in the design: its place on every level; None for what a rule
            added.
        ear: it is one half of a folded corner's ear.
    """

    edge: int
    name: str
    word: Phrase
    bend: Bend | None
    sign: int
    height: float
    ends: tuple[End | None, End | None] = (None, None)
    notch: float = 0.0
    made_by: MadeBy = MadeBy.BRAKE
    corners: tuple[tuple[float, float], ...] = ()
    standing: tuple[Element, ...] = field(default=())
    flat: float | None = None
    slots: FoldSlots | None = None
    formed: str = ""
    tab: Tab | None = None
    lies_on: str = ""
    path: tuple[int, ...] | None = None
    ear: bool = False

    @property
    def stands(self) -> bool:
        """True for a flange that stands up or down, as against a hem or plain metal."""
        return self.bend is not None and not self.bend.folded_back

    @property
    def angle(self) -> float:
        """Signed degrees from flat; 0 for plain metal."""
        return 0.0 if self.bend is None else self.sign * self.bend.angle


def to_inside(measured: Measured, bend: Bend, datum: str = "corner") -> float:
    """What is added to a written size, per bend it runs to, to bring it between inside corners, mm.

    Args:
        measured: how the size is read.
        bend: the bend.
        datum: over a bend of more than 90°, ``tangent`` reads to its outermost line (r + T outside,
            r inside, as calipers and DIN 6935 do), ``corner`` to where the faces would meet.
    """
    tangent = datum == "tangent" and bend.angle > 90 + 1e-9 and not bend.folded_back
    if measured is Measured.OUTSIDE:
        return bend.inside_setback - (
            bend.radius + bend.thickness if tangent else bend.outside_setback
        )
    if measured is Measured.INSIDE and tangent:
        return bend.inside_setback - bend.radius
    # Flat is from line to line, as they are scribed; hems too.
    return -bend.line_to_inside if measured is Measured.FLAT else 0.0


class Bends:
    """The bends of a job: its school, its inside radius and its thickness looked up once, each bend
    worked out once.

    Args:
        job: what is wanted.
    """

    def __init__(self, job: Job) -> None:
        self._school, self._radius, self._thickness = (
            job.chosen_school,
            job.inside_radius,
            job.sheet.thickness,
        )
        self._at = job.radius_at
        self._made: dict[tuple[float, float | None], Bend] = {}

    def of(self, angle: float, radius: float | None = None, name: str = "") -> Bend:
        """The bend of an angle, degrees, up or down; ``radius`` None takes the job's for the fold
        of that name.

        Args:
            angle: degrees.
            radius: inside radius, mm.
            name: as it is called.

        Raises:
            DevelopmentError: the school cannot make it.
        """
        turned = abs(angle)
        if radius is None and self._at:
            radius = self._at.get(name)
        made = self._made.get((turned, radius))
        if made is None:
            try:
                made = self._school.bend(
                    turned, self._radius if radius is None else radius, self._thickness
                )
            except INPUT_ERRORS as error:
                raise DevelopmentError(str(error)) from None
            self._made[turned, radius] = made
        return made


def elements(
    job: Job,
    bends: Bends,
    standing: tuple[Standing, ...],
    edges: int,
    names: Mapping[Path, str],
    path: Path = (),
) -> tuple[Element, ...]:
    """Everything on one panel's edges, in the order of its edges.

    Args:
        job: for thickness and units.
        bends: its bends.
        standing: what was written.
        edges: how many edges the panel has.
        names: of everything that stands on the part, by where it is written.
        path: where the panel is written; empty for the base.

    Raises:
        DevelopmentError: a size that leaves no metal.
    """
    known = edge_names(edges)
    result = [
        _element(job, bends, one, known.index(one.edge), names, (*path, i))
        for i, one in enumerate(standing)
    ]
    return tuple(sorted(result, key=lambda e: e.edge))


def _element(
    job: Job, bends: Bends, one: Standing, edge: int, names: Mapping[Path, str], path: Path
) -> Element:
    level, name = len(path), names[path]
    if isinstance(one, Hem):
        return replace(_hem(job, bends, one, edge, name), path=path)
    if isinstance(one, Joggle):
        return replace(_joggle(job, bends, one, edge, name), path=path)
    if isinstance(one, Seam):
        return replace(_seam(job, bends, one, edge, name), path=path)
    bend = bends.of(one.angle, one.radius, name)
    sign = 1 if one.angle > 0 else -1
    if isinstance(one, Facet):
        children = elements(job, bends, one.flanges, len(one.corners), names, path)
        top = max(v for _, v in one.corners)
        return Element(
            edge,
            name,
            msg("panel, true length"),
            bend,
            sign,
            top,
            corners=one.corners,
            standing=children,
            path=path,
        )
    children = elements(job, bends, one.flanges, 4, names, path)
    above = next((c for c in children if c.edge == Edge.BACK.turn), None)
    return Element(
        edge,
        name,
        msg("wall, inside height") if level == 1 else msg("flange, inside height"),
        bend,
        sign,
        _height(job, one, name, bend, above),
        (one.left, one.right),
        standing=children,
        slots=one.slots,
        made_by=MadeBy.HAND if one.slots else MadeBy.BRAKE,
        path=path,
    )


def _height(job: Job, flange: Flange, name: str, bend: Bend, above: Element | None) -> float:
    """Height between inside corners of a flange written in any of the three ways."""
    shift = to_inside(flange.measured, bend, job.datum)
    beyond = above.bend if above is not None else None
    if beyond is not None:
        shift += to_inside(flange.measured, beyond, job.datum)
    height = flange.height + shift
    needed = bend.inside_setback + (beyond.inside_setback if beyond is not None else 0.0)
    if height - needed <= 1e-9:
        where = msg("between its two bends") if beyond is not None else msg("beyond the bend")
        raise DevelopmentError(
            tr(
                "{name}: {height} {measured} leaves no flat {where}. It needs more than {length}."
            ).format(
                name=name,
                height=show_length(flange.height, job.units),
                measured=flange.measured.words,
                where=where,
                length=show_length(needed - shift, job.units),
            )
        )
    return height


def _too_short(job: Job, name: str, length: float, needed: float) -> DevelopmentError:
    return DevelopmentError(
        tr("{name}: {length} is too short to fold; it needs more than {needed}.").format(
            name=name, length=show_length(length, job.units), needed=show_length(needed, job.units)
        )
    )


def _hem(job: Job, bends: Bends, hem: Hem, edge: int, name: str) -> Element:  # noqa: C901
    t, sign = job.sheet.thickness, 1 if hem.inwards else -1
    length, ends = hem.length, (None, None)

    def made(angle: float, radius: float, height: float, by: MadeBy, **more: object) -> Element:
        return Element(
            edge,
            name,
            HEM_WORDS[hem.form],
            bends.of(angle, radius),
            sign,
            height,
            ends,
            hem.notch,
            by,
            **more,  # type: ignore[arg-type]
        )

    match hem.form:
        case HemForm.CLOSED | HemForm.OPEN:
            opening = 0.0 if hem.form is HemForm.CLOSED else (hem.gap if hem.gap is not None else t)
            needed = opening / 2 + t
            if length <= needed:
                raise _too_short(job, name, length, needed)
            return made(180, opening / 2, length, MadeBy.HEM)
        case HemForm.TEARDROP:
            r = (hem.gap if hem.gap is not None else 3 * t) / 2
            straight = length - r - t
            if straight <= 0:
                raise _too_short(job, name, length, r + t)
            # The raw edge just touches the sheet: two equal tangents from the point where it does.
            return made(180 + 2 * math.degrees(math.atan2(r, straight)), r, length, MadeBy.TOOL)
        case HemForm.DOUBLE:
            outer, inner = bends.of(180, t / 2), bends.of(180, 0)
            # The inner fold ends short of the outer one by its bend and a thickness of room.
            first = (length - outer.gain - inner.gain + t / 2 + 2 * t) / 2
            second = first - t / 2 - 2 * t
            if second <= t:
                raise _too_short(
                    job, name, length, 2 * (1.5 * t + t / 2 + 2 * t) + outer.gain + inner.gain
                )
            folded = Element(
                Edge.BACK.turn,
                f"{name}, inner fold",
                msg("hem"),
                inner,
                sign,
                second,
                ends,
                0.0,
                MadeBy.HEM,
            )
            return made(180, t / 2, first, MadeBy.HEM, standing=(folded,), flat=length)
        case HemForm.ROLLED:
            # Rolled three quarters round. The inside radius follows from the metal given, or from
            # the wire.
            r = (
                hem.gap / 2
                if hem.gap is not None
                else (length - (1.5 * math.pi * 0.44 - 1) * t - t) / (1.5 * math.pi - 1)
            )
            if r <= 0:
                raise _too_short(job, name, length, 1.5 * math.pi * 0.44 * t)
            bend = bends.of(270, r)
            tail = length - (bend.allowance - bend.inside_setback)
            if tail <= 0:
                raise _too_short(job, name, length, bend.allowance - bend.inside_setback)
            return made(270, r, bend.inside_setback + tail, MadeBy.TOOL, flat=length)


def _joggle(job: Job, bends: Bends, joggle: Joggle, edge: int, name: str) -> Element:
    t = job.sheet.thickness
    step = t if joggle.step is None else joggle.step
    sign = 1 if joggle.inwards else -1
    bend = bends.of(joggle.slope, 0.0)
    # Along one face of the sheet the slope runs from a corner's outside to the other's inside.
    half = math.tan(math.radians(joggle.slope) / 2)
    slope = step / math.sin(math.radians(joggle.slope)) - t * half
    if slope <= 1e-6:
        raise _too_short(job, name, step, t * half * math.sin(math.radians(joggle.slope)))
    lap = Element(
        Edge.BACK.turn, f"{name} lap", msg("lap"), bend, -sign, joggle.lap, made_by=MadeBy.TOOL
    )
    return Element(
        edge, name, msg("joggle, slope"), bend, sign, slope, made_by=MadeBy.TOOL, standing=(lap,)
    )


def _seam(job: Job, bends: Bends, seam: Seam, edge: int, name: str) -> Element:
    width, sign = seam.width, 1 if seam.inwards else -1
    end = End(taper=seam.notch)
    if seam.form in (SeamForm.PLAIN, SeamForm.STANDING):
        # The allowance is flat metal beyond the finished edge, so the fold stands on the line.
        bend = bends.of(90, name=name)
        height = width - bend.gain
        if height <= bend.inside_setback:
            raise _too_short(job, name, width, bend.inside_setback + bend.gain)
        return Element(edge, name, seam.form.message, bend, sign, height, (end, end), flat=width)
    formed = {
        SeamForm.POCKET: "formed as the lock pocket",
        SeamForm.DRIVE: "folded back as a drive edge",
    }.get(seam.form, "")
    return Element(
        edge, name, seam.form.message, None, sign, width, (end, end), flat=width, formed=formed
    )
