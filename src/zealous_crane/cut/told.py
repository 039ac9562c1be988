"""The cutting of a whole work, metal by metal: what is cut, what it weighs and costs, or why it cannot be cut."""

from __future__ import annotations

from collections.abc import Sequence

from ..brake import Rack
from ..job import Job
from ..measure import Units, show_length
from ..measure.dataclass import dataclass
from ..measure.input_error import INPUT_ERRORS
from ..measure.once import once
from ..measure.words import tr
from ..metal import Sheet
from .cut_from import CutFrom
from .layout import SheetCut, lay_out
from .piece import CutError
from .settings import Setting, running_order
from .work import Lot, lots


@dataclass(frozen=True)
class Told:
    """What was worked out of one metal and thickness, or why it cannot be cut.

    Attributes:
        lot: the blanks.
        says: the sentence.
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
    says: str
    sheets: tuple[SheetCut, ...] = ()
    cannot: bool = False
    bought: int = 0
    least: int = 0
    proved: bool = False
    yielded: float = 0.0
    at_most: float = 1.0
    sheet_mass: float = 0.0
    cost: float | None = None
    care: tuple[str, ...] = ()

    @once
    def settings(self) -> tuple[Setting, ...]:
        """The settings of the stop over all sheets, in order."""
        return running_order(self.sheets)


def worked_out(
    jobs: Sequence[Job], rack: Rack, cut_from: CutFrom, units: Units, seconds: float | None = None
) -> tuple[Told, ...]:
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

    found, cut_from = [], cut_from.told_in(units)
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
            found.append(Told(lot, str(error), cannot=True))
            continue
        mass = lot.mass_of(sum(cutting.stock[p.stock].area for p in cutting.sheets))
        found.append(
            Told(
                lot, cutting.sentence(), lay_out(cutting), False, cutting.bought, cutting.least, cutting.proved or cutting.deep,
                cutting.yielded, cutting.at_most, mass, _cost(lot, cut_from, mass), _care(lot, cut_from, units),
            )
        )  # fmt: skip
    return tuple(found)


def _cost(lot: Lot, cut_from: CutFrom, mass: float) -> float | None:
    """What metal of a mass (kg) costs: at the price of that metal, else at that of whatever is cut; None where neither is known."""
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
        tr("{gauge} ga goes").format(gauge=min(gauges))
        if gauges
        else tr("{most} is the most").format(most=show_length(most, units.fine))
    )
    raise CutError(
        tr("{sheet} is more than this shear cuts, rated {rated} in mild steel: {thinner}.").format(
            sheet=sheet.name, rated=show_length(cut_from.rated, units.fine), thinner=thinner
        )
    )


def _gauge(sheet: Sheet, gauge: int) -> float:
    try:
        return sheet.metal.gauge.thickness(gauge)
    except INPUT_ERRORS:
        return float("inf")


def _care(lot: Lot, cut_from: CutFrom, units: Units) -> tuple[str, ...]:
    """Cautions of this lot. Common practice, no source."""
    said = []
    if max(cut_from.sheet_length, lot.longest) >= cut_from.helper:
        said.append(
            tr("Sheets and pieces from {helper} on: two to carry, and the far end held up until the cut is through.").format(
                helper=show_length(cut_from.helper, units)
            )
        )
    if any(min(b.length, b.width) < 2 * cut_from.least_strip for b in lot.blanks):
        said.append(tr("Narrow strips twist under a shear: hold-down full on, cut them last, straighten by hand."))
    return tuple(said)
