"""What was measured on the mates of a part: the next part's sizes follow from it."""

from __future__ import annotations

from functools import partial

from PySide6.QtWidgets import QVBoxLayout, QWidget

from ...fit import Fit, FitRule, Pairing
from ...measure import parse_length, show_length
from ...measure.input_error import INPUT_ERRORS
from ...measure.words import tr
from ...part.size import size_title
from ..field import ParsedField
from ..session import Session
from ..widget import emptied, heading, worded


class MateMeasures(QWidget):
    """Openings measured in the part that is followed: the next part's size follows from the less of two.

    Attributes:
        fields: where they are typed, in the order of the fits.
    """

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.fields: list[ParsedField] = []
        self._asked: list[tuple[int, int, str]] = []
        self._rows = QVBoxLayout()
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(heading(tr("Its mate, as measured")))
        box.addLayout(self._rows)
        self.hide()

    def refresh(self) -> None:
        """Show what is to be measured for the part on the bench."""
        work, at, units = self.session.work, self.session.at, self.session.job.units
        asked: list[tuple[int, int, str]] = []
        measured: list[float | None] = []
        for number, fit in enumerate(work.fits):
            if at not in (fit.follower, fit.master):
                continue
            master, follower = work.parts[fit.master], work.parts[fit.follower]
            for k, pair in enumerate(fit.sizes):
                size = size_title(follower.part, pair.follower).lower()
                what = tr("{master}, for the {size} of {follower}")
                asked.append((number, k, what.format(master=master.name, size=size, follower=follower.name)))
                measured.append(pair.measured)
        if asked != self._asked:
            # Only then: whoever types in one of them goes on typing.
            self._asked = asked
            emptied(self._rows)
            self.fields = [self._field(number, k, what) for number, k, what in asked]
        for field, value in zip(self.fields, measured, strict=True):
            field.show_text("" if value is None else show_length(value, units))
        self.setVisible(bool(asked))

    def _field(self, number: int, k: int, what: str) -> ParsedField:
        hint = tr("measured; twice: 10 1/2 / 10 7/16")
        field = ParsedField(what, partial(self._typed, number, k), partial(self._measured, number), hint)
        self._rows.addWidget(worded(what))
        self._rows.addWidget(field)
        return field

    def _measured(self, number: int, text: str) -> float | None:
        """What was measured of a mate, mm: of two figures the one that binds; None where nothing is typed.

        Raises:
            InputError: it is no length.
        """
        values = [parse_length(each, self.session.job.units) for each in text.split(" / ") if each.strip()]
        binds = min if self.session.work.fits[number].rule is FitRule.INSIDE else max
        return binds(values) if values else None

    def _typed(self, number: int, k: int, text: str) -> str | None:
        fits = list(self.session.work.fits)
        fit = fits[number]
        try:
            measured = self._measured(number, text)
        except INPUT_ERRORS as error:
            return str(error)
        if measured is not None and measured <= 0:
            return tr("A size that was measured is more than nought.")
        pairs = list(fit.sizes)
        pairs[k] = Pairing.model_validate({**pairs[k].model_dump(), "measured": measured})
        fits[number] = Fit.model_validate({**fit.model_dump(), "sizes": [p.model_dump() for p in pairs]})
        return self.session.set_fits(tuple(fits), "measured")
