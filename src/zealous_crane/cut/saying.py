"""A cutting in words: settings in running order, sheets, what is kept, weights and cost. Window, paper and command line say the same."""

from __future__ import annotations

from ..measure import Units, show_length
from ..measure.words import tr
from .layout import SheetCut
from .settings import Setting
from .told import Told

WORDS = {"square": tr("Square"), "rip": tr("Rip"), "across": tr("Cut across"), "trim": tr("Trim")}
"""What each kind of cut is called."""


def setting_lines(one: Told, units: Units) -> list[str]:
    """The settings of the stop for all sheets of a lot, in order, each with what is cut at it."""
    return [
        tr("{number}. {what} at {gauge}, {times} ×: {gives}; {against}").format(
            number=number,
            what=WORDS[setting.what],
            gauge=show_length(setting.gauge, units, pretty=True),
            times=setting.times,
            gives=_gives(one, setting),
            against=setting.against,
        )
        for number, setting in enumerate(one.settings, start=1)
    ]


def _gives(one: Told, setting: Setting) -> str:
    """What is cut at a setting, and of which sheets where there are several."""
    gives: dict[str, dict[int, int]] = {}
    for at in setting.cuts:
        on = gives.setdefault(at.cut.gives, {})
        on[at.sheet] = on.get(at.sheet, 0) + at.times
    if len(one.sheets) == 1:
        several = len(gives) > 1
        return ", ".join(f"{sum(on.values())} {what}" if several else what for what, on in gives.items())
    counted_on = tr("{count} of sheet {number}")
    return ", ".join(
        tr("{what} ({sheets})").format(
            what=what,
            sheets=", ".join(counted_on.format(count=count, number=number + 1) for number, count in sorted(on.items())),
        )
        for what, on in gives.items()
    )


def sheet_title(one: Told, number: int, units: Units) -> str:
    """A sheet of a lot: its number where there are several, how many are cut so, and its size."""
    sheet = one.sheets[number]
    size = tr("{length} × {width}").format(
        length=show_length(sheet.stock.length, units, pretty=True), width=show_length(sheet.stock.width, units, pretty=True)
    )
    said = f"{sheet.alike} × {sheet.stock.name}, {size}" if sheet.alike > 1 else f"{sheet.stock.name}, {size}"
    return tr("Sheet {number}: {said}").format(number=number + 1, said=said) if len(one.sheets) > 1 else said


def kept_lines(sheet: SheetCut, units: Units) -> list[str]:
    """What is worth keeping of a sheet, alike pieces together."""
    found = []
    for count, length, width in sheet.kept:
        size = tr("{length} × {width}").format(
            length=show_length(length, units, pretty=True), width=show_length(width, units, pretty=True)
        )
        found.append(
            tr("Keep {count} of {size}").format(count=count, size=size) if count > 1 else tr("Keep {size}").format(size=size)
        )
    return found


def facts(one: Told) -> str:
    """Weights and cost of a lot."""
    said = tr("{blanks:.1f} kg of blanks from {sheets:.1f} kg").format(blanks=one.lot.weight, sheets=one.sheet_mass)
    return said if one.cost is None else tr("{said}, {cost:.2f} in metal").format(said=said, cost=one.cost)
