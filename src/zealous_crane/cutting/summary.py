"""From the parts of a work to rectangles on sheets, metal by metal."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import shapely
import shapely.affinity

from ..brake.library import MachineLibrary
from ..errors import INPUT_ERRORS
from ..flat.blank import Blank as Flat
from ..flat.on_brake import flat_for
from ..i18n import Phrase, msg, tr
from ..job.job import Job
from ..metal.sheet import Sheet
from ..units.figures import Length
from ..units.length import Units, show_length
from .layout import CutLine, SheetCut, StopSetting, lay_out, running_order
from .piece import CutError, CutFrom, WantedBlank

ODD = 0.8
"""Share of its rectangle below which a part is odd enough to be laid head to foot with another."""

PAIRED = 0.97
"""Of two rectangles' length: more than this and nothing is gained."""

LEAST_GAIN = 1e-3
"""Of a part's length; two that come nearer by less gain nothing."""

SNIPS = 1.0
"""mm between two parts that are cut apart with snips."""


@dataclass(frozen=True)
class Lot:
    """The blanks of one metal at one thickness.

    Attributes:
        metal, thickness: key; mm.
        name: as the sheet is called.
        blanks: what is wanted of it.
        weight: of all of them, kg.
        sheet: the metal and its thickness.
    """

    metal: str
    thickness: float
    name: str
    blanks: tuple[WantedBlank, ...]
    weight: float
    sheet: Sheet

    @property
    def longest(self) -> float:
        """Longest side of any blank, mm."""
        return max(max(b.length, b.width) for b in self.blanks)

    def mass_of(self, area: float) -> float:
        """What so much of the sheet (mm²) weighs, kg."""
        return area * self.thickness * self.sheet.metal.density * 1e-9


def lots(jobs: Sequence[Job], rack: MachineLibrary) -> tuple[Lot, ...]:
    """The blanks of a work's parts, by metal and thickness, each as often as its part is made.

    A part whose grain is given lies so that it runs as asked; film, paint or engraving keep their
    face, since nothing is turned over.

    Args:
        jobs: the parts.
        rack: the brakes of the shop; each part's flat is that of its own brake.

    Raises:
        DevelopmentError: a part cannot be laid flat.
    """
    result: dict[tuple[str, float], list[WantedBlank]] = {}
    sheets: dict[tuple[str, float], Sheet] = {}
    weights: dict[tuple[str, float], float] = {}
    for job in jobs:
        blank = flat_for(job, rack.find(job.brake))
        key = job.metal, round(job.sheet.thickness, 4)
        length, width = blank.sheared
        # The grain of a sheet runs along its length: a part that asks for it lies one way and is
        # not turned.
        if job.grain == "across":
            length, width = width, length
        result.setdefault(key, []).extend(_blanks(job, blank, length, width))
        sheets.setdefault(key, job.sheet)
        weights[key] = (
            weights.get(key, 0.0)
            + job.quantity * length * width * job.sheet.thickness * job.sheet.metal.density * 1e-9
        )
    return tuple(
        Lot(
            metal,
            thickness,
            sheets[metal, thickness].name,
            tuple(blanks),
            weights[metal, thickness],
            sheets[metal, thickness],
        )
        for (metal, thickness), blanks in result.items()
    )


def _blanks(job: Job, flat: Flat, length: float, width: float) -> list[WantedBlank]:
    """The rectangles a part is cut from: one each, or two slanted ones head to foot in one where
    that takes less."""
    turns = job.grain is None
    single = WantedBlank(job.name, length, width, job.quantity, turns)
    if (
        job.quantity < 2
        or flat.trim
        or job.film is not None
        or flat.outline.area > ODD * length * width
    ):
        return [single]
    both = paired_length(flat)
    if both is None or both > PAIRED * 2 * flat.size[0]:
        return [single]
    sides = (both, flat.size[1]) if job.grain != "across" else (flat.size[1], both)
    result = [
        WantedBlank(
            tr("{name}, two head to foot").format(name=job.name), *sides, job.quantity // 2, turns
        )
    ]
    return [*result, WantedBlank(job.name, length, width, 1, turns)] if job.quantity % 2 else result


def paired_length(flat: Flat) -> float | None:
    """How long (mm) a rectangle as wide as a part is that holds two of them, one turned half round;
    None when that gains nothing.

    Both are cut from it with snips, half the room a cut needs between them.
    """
    shape = shapely.Polygon(flat.outline.flattened())
    length, width = flat.size
    other = shapely.affinity.rotate(shape, 180, origin=(length / 2, width / 2))
    low, high = 0.0, length
    for _ in range(40):
        middle = (low + high) / 2
        clear = shape.intersection(shapely.affinity.translate(other, middle, 0)).area < 1e-3
        low, high = (low, middle) if clear else (middle, high)
    # Nearer than where they first touch they may be apart again; what counts is that nothing meets
    # from there on.
    return None if high >= length * (1 - LEAST_GAIN) else length + high + SNIPS


@dataclass(frozen=True)
class MetalSummary:
    """What was worked out of one metal and thickness, or why it cannot be cut.

    Attributes:
        lot: the blanks.
        message: the sentence.
        sheets: how every sheet is cut; empty where it cannot be.
        cannot: it cannot be cut.
        bought, least: sheets that are bought, and below which nothing gets.
        proved: fewer are not possible, with rips and crosscuts or any cuts from edge to edge.
        yielded, at_most: share of the metal that ends in blanks, and that can.
        sheet_mass: of the sheets cut up, kg.
        cost: of the metal cut up; None where no price is given.
        care: what to look out for with this lot.
    """

    lot: Lot
    message: Phrase
    sheets: tuple[SheetCut, ...] = ()
    cannot: bool = False
    bought: int = 0
    least: int = 0
    proved: bool = False
    yielded: float = 0.0
    at_most: float = 1.0
    sheet_mass: float = 0.0
    cost: float | None = None
    care: tuple[Phrase, ...] = ()

    @property
    def says(self) -> str:
        """The sentence in words."""
        return str(self.message)

    @cached_property
    def settings(self) -> tuple[StopSetting, ...]:
        """The settings of the stop over all sheets, in order."""
        return running_order(self.sheets)


def worked_out(
    jobs: Sequence[Job],
    rack: MachineLibrary,
    cut_from: CutFrom,
    units: Units,
    seconds: float | None = None,
) -> tuple[MetalSummary, ...]:
    """Every metal's cutting.

    Args:
        jobs: the parts that are cut.
        rack: the brakes of the shop, on which they are bent.
        cut_from: sheets, off-cuts, shear.
        units: for what is said.
        seconds: most that looking for better takes; 0 is the first answer, None the usual time.

    Raises:
        DevelopmentError: a part cannot be laid flat.
    """
    # What solves it is loaded when it is first asked.
    from .solve import SECONDS, plan_cutting

    result, cut_from = [], cut_from.told_in(units)
    for lot in lots(jobs, rack):
        try:
            _thin_enough(lot.sheet, cut_from, units)
            cutting = plan_cutting(
                lot.blanks,
                cut_from.stock_of(lot.metal, lot.thickness),
                cut_from.shear,
                units,
                SECONDS if seconds is None else seconds,
            )
        except CutError as error:
            result.append(MetalSummary(lot, error.message, cannot=True))
            continue
        mass = lot.mass_of(sum(cutting.stock[p.stock].area for p in cutting.sheets))
        result.append(
            MetalSummary(
                lot,
                cutting.message(),
                lay_out(cutting),
                False,
                cutting.bought,
                cutting.least,
                cutting.proved or cutting.deep,
                cutting.yielded,
                cutting.at_most,
                mass,
                _cost(lot, cut_from, mass),
                _care(lot, cut_from, units),
            )
        )
    return tuple(result)


def _cost(lot: Lot, cut_from: CutFrom, mass: float) -> float | None:
    """What metal of a mass (kg) costs: at the price of that metal, else at that of whatever is cut;
    None where neither is known."""
    price = cut_from.price if lot.sheet.metal.price is None else lot.sheet.metal.price
    return None if price is None else mass * price


def _thin_enough(sheet: Sheet, cut_from: CutFrom, units: Units) -> None:
    """Refuse sheet the shear is not rated for; the nearest gauge that it cuts is named.

    Raises:
        CutError: it is too thick.
    """
    if cut_from.rated is None:
        return
    most = sheet.allowed_by(cut_from.rated)
    if sheet.thickness <= most + 1e-9:
        return
    gauges = [g for g in range(3, 31) if _gauge(sheet, g) <= most]
    thinner = (
        msg("{gauge} ga goes", gauge=min(gauges))
        if gauges
        else msg("{most} is the most", most=Length(most, units, fine=True))
    )
    raise CutError(
        msg(
            "{sheet} is more than this shear cuts, rated {rated} in mild steel: {thinner}.",
            sheet=sheet.name,
            rated=Length(cut_from.rated, units, fine=True),
            thinner=thinner,
        )
    )


def _gauge(sheet: Sheet, gauge: int) -> float:
    try:
        return sheet.metal.gauge.thickness(gauge)
    except INPUT_ERRORS:
        return float("inf")


def _care(lot: Lot, cut_from: CutFrom, units: Units) -> tuple[Phrase, ...]:
    """Cautions of this lot. Common practice, no source."""
    lines = []
    if max(cut_from.sheet_length, lot.longest) >= cut_from.helper:
        lines.append(
            msg(
                "Pieces of {helper} and more: two people to carry, the far end held up until "
                "the cut is through.",
                helper=Length(cut_from.helper, units),
            )
        )
    if any(min(b.length, b.width) < 2 * cut_from.least_strip for b in lot.blanks):
        lines.append(
            msg(
                "Narrow strips twist under a shear: hold-down full on, cut them last, straighten "
                "by hand."
            )
        )
    return tuple(lines)


WORDS = {
    "square": msg("Square"),
    "rip": msg("Rip"),
    "across": msg("Cut across"),
    "trim": msg("Trim"),
}
"""What each kind of cut is called."""


@dataclass(frozen=True)
class SettingWords:
    """One setting of the stop as it is read.

    Attributes:
        number: in order, from 1.
        what: the kind of cut.
        gauge: what the stop is set to.
        times: cuts in all.
        gives: what each gives, and of which sheets where there are several.
        against: how the sheet lies.
    """

    number: int
    what: str
    gauge: str
    times: int
    gives: str
    against: str

    @property
    def line(self) -> str:
        """All of it in one line."""
        return tr("{number}. {what} at {gauge}, {times} ×: {gives}; {against}").format(
            number=self.number,
            what=self.what,
            gauge=self.gauge,
            times=self.times,
            gives=self.gives,
            against=self.against,
        )


def setting_words(one: MetalSummary, units: Units) -> list[SettingWords]:
    """The settings of the stop for all sheets of a lot, in order."""
    return [
        SettingWords(
            number,
            str(WORDS[setting.what]),
            show_length(setting.gauge, units, pretty=True),
            setting.times,
            _gives(one, setting),
            setting.against,
        )
        for number, setting in enumerate(one.settings, start=1)
    ]


def setting_lines(one: MetalSummary, units: Units) -> list[str]:
    """The settings of the stop for all sheets of a lot, in order, each with what is cut at it."""
    return [words.line for words in setting_words(one, units)]


def lines_on(one: MetalSummary, sheet: int) -> dict[int, tuple[CutLine, ...]]:
    """Where the cuts run on one sheet of a lot, by the number of their setting.

    Args:
        one: the cutting of one metal.
        sheet: number of the sheet, from 0.
    """
    result: dict[int, tuple[CutLine, ...]] = {}
    for number, setting in enumerate(one.settings, start=1):
        lines = tuple(line for at in setting.cuts if at.sheet == sheet for line in at.cut.lines)
        if lines:
            result[number] = lines
    return result


def _gives(one: MetalSummary, setting: StopSetting) -> str:
    """What is cut at a setting, and of which sheets where there are several."""
    gives: dict[Phrase, dict[int, int]] = {}
    for at in setting.cuts:
        on = gives.setdefault(at.cut.gives, {})
        on[at.sheet] = on.get(at.sheet, 0) + at.times
    if len(one.sheets) == 1:
        several = len(gives) > 1
        return ", ".join(
            f"{sum(on.values())} {what}" if several else str(what) for what, on in gives.items()
        )
    counted_on = tr("{count} of sheet {number}")
    return ", ".join(
        tr("{what} ({sheets})").format(
            what=what,
            sheets=", ".join(
                counted_on.format(count=count, number=number + 1)
                for number, count in sorted(on.items())
            ),
        )
        for what, on in gives.items()
    )


def sheet_title(one: MetalSummary, number: int, units: Units) -> str:
    """A sheet of a lot: its number where there are several, how many are cut so, and its size.

    Args:
        one: the cutting of one metal.
        number: of the sheet, from 0.
        units: what lengths are shown in.
    """
    sheet = one.sheets[number]
    size = tr("{length} × {width}").format(
        length=show_length(sheet.stock.length, units, pretty=True),
        width=show_length(sheet.stock.width, units, pretty=True),
    )
    text = (
        f"{sheet.alike} × {sheet.stock.name}, {size}"
        if sheet.alike > 1
        else f"{sheet.stock.name}, {size}"
    )
    return (
        tr("Sheet {number}: {said}").format(number=number + 1, said=text)
        if len(one.sheets) > 1
        else text
    )


def kept_lines(sheet: SheetCut, units: Units) -> list[str]:
    """What is worth keeping of a sheet, alike pieces together."""
    result = []
    for count, length, width in sheet.kept:
        size = tr("{length} × {width}").format(
            length=show_length(length, units, pretty=True),
            width=show_length(width, units, pretty=True),
        )
        result.append(
            tr("Keep {count} of {size}").format(count=count, size=size)
            if count > 1
            else tr("Keep {size}").format(size=size)
        )
    return result


def facts(one: MetalSummary) -> str:
    """Weights and cost of a lot."""
    text = tr("{blanks:.1f} kg of blanks from {sheets:.1f} kg").format(
        blanks=one.lot.weight, sheets=one.sheet_mass
    )
    return (
        text
        if one.cost is None
        else tr("{said}, {cost:.2f} in metal").format(said=text, cost=one.cost)
    )
