"""A work step by step, from the shear to the caliper: what is done, the one figure it takes, and
what is to be seen."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from ..cutting.summary import MetalSummary, lines_on, setting_words
from ..flat.blank import Blank
from ..flat.corner_instructions import CornerRecipe, EdgeRecipe
from ..flat.marking import BenchWork, Marking, ScribeSetting, mark_out
from ..flat.openings import hole_groups, opening_words
from ..flat.ruler import Striking
from ..i18n import LabelledEnum, counted, msg, tr
from ..inspection.finishing import finishing
from ..inspection.inspection import Inspection
from ..inspection.measures import InspectedSize
from ..inspection.wording import show_measure, show_spread
from ..job.job import Job
from ..units.length import Units, show_length
from ..work.work import Work
from .sheets import CAUTIONS

MOST_PLACES = 6
"""Places of holes that are said with a step; more stand in the picture and on the marking sheet."""


class Station(LabelledEnum):
    """Where in the shop a step is done."""

    SHEAR = "at the shear"
    BENCH = "at the bench"
    BRAKE = "at the brake"
    JOINING = "joining"
    MEASURING = "measuring"


STATIONS = {
    Station.SHEAR: msg("At the shear"),
    Station.BENCH: msg("At the bench"),
    Station.BRAKE: msg("At the brake"),
    Station.JOINING: msg("Joining"),
    Station.MEASURING: msg("Measuring"),
}
"""The stations in the order in which a work goes through them."""

ORDER = tuple(STATIONS)


@dataclass(frozen=True)
class CutShown:
    """A sheet with the cuts of one setting standing out: index of the lot, of the sheet, and number
    of the setting."""

    lot: int
    sheet: int
    setting: int


@dataclass(frozen=True)
class WorkStep:
    """One thing to do.

    Attributes:
        title: what is done, in two or three words.
        figure: the one figure it takes; empty where it takes none.
        how: the rest, a sentence or two.
        after: what comes after it; empty where that need not be known.
        caution: what to look out for.
        shows: what stands out in the picture; None shows the whole.
    """

    title: str
    figure: str = ""
    how: str = ""
    after: str = ""
    caution: str = ""
    shows: ScribeSetting | CornerRecipe | CutShown | InspectedSize | None = None


def shear_steps(told: Sequence[MetalSummary], units: Units) -> tuple[WorkStep, ...]:
    """Every setting of the stop, lot by lot.

    Args:
        told: how every lot is cut.
        units: what lengths are shown in.
    """
    steps = []
    for lot, one in enumerate(told):
        words = setting_words(one, units)
        for k, setting in enumerate(words):
            on = (n for n in range(len(one.sheets)) if setting.number in lines_on(one, n))
            following = words[k + 1] if k + 1 < len(words) else None
            steps.append(
                WorkStep(
                    title=f"{setting.number}  {setting.what[:1].upper()}{setting.what[1:]}",
                    figure=setting.gauge,
                    how=tr("{times} × {gives}; {against}.").format(
                        times=setting.times, gives=setting.gives, against=setting.against
                    ),
                    after=""
                    if following is None
                    else tr("Then {what} at {gauge}.").format(
                        what=following.what[:1].lower() + following.what[1:], gauge=following.gauge
                    ),
                    caution=str(CAUTIONS[0]),
                    shows=CutShown(lot, next(on, 0), setting.number),
                )
            )
    return tuple(steps)


def bench_steps(job: Job, blank: Blank) -> tuple[WorkStep, ...]:
    """The blank checked, scribed setting by setting, punched tool by tool, shaded, and cut corner
    by corner.

    Args:
        job: the part.
        blank: its flat.
    """
    return tuple(_bench(job, blank, mark_out(blank, job.units, Striking.of(job))))


_TITLES = {
    BenchWork.STIFFEN: msg("Cross-breaks and beads"),
    BenchWork.DATUM: msg("Mark the datum corner"),
    BenchWork.SHADE: msg("Shade the waste"),
    BenchWork.NOTCHES: msg("Cut the notches"),
    BenchWork.SLOTS: msg("Cut the slots"),
}


def _bench(job: Job, blank: Blank, marking: Marking) -> Iterator[WorkStep]:
    units = job.units
    for what, text in marking.work:
        if what is BenchWork.BLANK:
            length, width = (show_length(side, units, pretty=True) for side in blank.sheared)
            yield WorkStep(tr("Check the blank"), f"{length} × {width}", text)
        elif what is BenchWork.SCRIBE:
            yield from _scribed(job, marking)
        elif what is BenchWork.OPENINGS:
            yield from _opened(job, blank, marking)
        elif what is BenchWork.NOTCHES and marking.recipes:
            for recipe in marking.recipes:
                yield _cut_out(recipe, job, text)
        elif what is BenchWork.RELIEFS:
            sizes = {round(hole.size[0], 3) for hole in blank.holes if hole.kind == "relief"}
            size = next(iter(sizes)) if len(sizes) == 1 else None
            figure = "" if size is None else opening_words("relief", (size, size), 0.0, units)
            yield WorkStep(tr("Punch the reliefs"), figure, text)
        elif what in _TITLES:
            yield WorkStep(str(_TITLES[what]), how=text)


def _scribed(job: Job, marking: Marking) -> Iterator[WorkStep]:
    for k, setting in enumerate(marking.scribe):
        following = marking.scribe[k + 1] if k + 1 < len(marking.scribe) else None
        outside = setting.face == "outside"
        before = marking.scribe[k - 1] if k else None
        over = outside and (before is None or before.face != "outside")
        how = tr("from {edges}, {face} face up").format(
            edges=setting.struck_from, face=tr("outside") if outside else tr("inside")
        )
        yield WorkStep(
            title=tr("Scribe the {lines}").format(lines=setting.purpose),
            figure=setting.shown(job.units),
            how=how,
            after=""
            if following is None
            else tr("Then {setting} for the {lines}.").format(
                setting=following.shown(job.units), lines=following.purpose
            ),
            caution=tr("Turn the sheet over first.") if over else "",
            shows=setting,
        )


def _opened(job: Job, blank: Blank, marking: Marking) -> Iterator[WorkStep]:
    """Holes and cut-outs, tool by tool."""
    flat = [
        hole
        for hole in blank.holes
        if not hole.after_bending and hole.kind not in ("relief", "fold slot")
    ]
    striking = Striking.of(job)
    for group in hole_groups(flat):
        places = [
            point.place(blank, job.units, striking)
            for point in marking.points
            if point.what in group.names
        ]
        where = "\n".join(places[:MOST_PLACES]) + ("\n…" if len(places) > MOST_PLACES else "")
        yield WorkStep(
            title=counted("Make {count} hole", "Make {count} holes", len(group.names)),
            figure=opening_words(group.kind, group.size, group.turn, job.units),
            how=tr("Centre-punch, then: {how}. Deburr.\n{where}").format(
                how=group.how(blank.small_tools, job.units), where=where
            ),
        )


def _cut_out(recipe: CornerRecipe | EdgeRecipe, job: Job, text: str) -> WorkStep:
    """A kind of corner, or of notch within an edge."""
    corner = isinstance(recipe, CornerRecipe)
    count = len(recipe.notches)
    return WorkStep(
        title=counted("Cut {count} corner", "Cut {count} corners", count)
        if corner
        else counted("Cut {count} notch", "Cut {count} notches", count),
        how=recipe.says(job.units, Striking.of(job)),
        caution=text,
        shows=recipe if isinstance(recipe, CornerRecipe) else None,
    )


def joining_steps(work: Work, job: Job, blank: Blank) -> tuple[WorkStep, ...]:
    """What is left to do once the part is bent; of a duct fitting, how it goes together.

    Args:
        work: the work.
        job: the part on the bench.
        blank: its flat.
    """
    steps = [
        WorkStep(tr("Finish the part"), how=step.says, caution=step.caution)
        for step in finishing(job, blank)
        if step.key != "deburr"
    ]
    if work.fitting is not None:
        steps += [WorkStep(tr("Put it together"), how=text) for text in work.fitting.assembly()]
    return tuple(steps)


def measuring_steps(inspection: Inspection, count: int) -> tuple[WorkStep, ...]:
    """The sizes to measure, one at a time, the most telling first.

    Args:
        inspection: of the part.
        count: how many of them.
    """
    job = inspection.job
    return tuple(
        WorkStep(
            title=line.measure.says[:1].upper() + line.measure.says[1:],
            figure=show_measure(line.measure, line.wanted, job),
            how=f"± {show_spread(line.measure, line.allowed, job.units)}",
            shows=line,
        )
        for line in inspection.lines[:count]
    )
