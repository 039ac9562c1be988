"""The metals of the shop: those that ship, and its own, which begin as a copy."""

from __future__ import annotations

from pathlib import Path

from pydantic import BaseModel
from PySide6.QtWidgets import (
    QFileDialog,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ....errors import INPUT_ERRORS, InputError
from ....i18n import tr
from ....metal.material import MATERIALS, Material
from ....schema.reading import plain, read_json
from ....units.length import Units, show_length
from ...state.session import Session
from ...state.shop_files import hand_out
from ...widgets.form import ModelForm, drop
from ...widgets.save_as import ask_where
from ...widgets.widget import prose
from .library_page import LibraryPage

GAUGES = (14, 16, 18, 20, 22, 24, 26)
"""Shown of a metal's gauge table."""

LARGEST = 100_000
"""Bytes; no metal says more."""


class MetalsPage(LibraryPage):
    """The metals of the shop.

    Args:
        session: whose shop it is.
    """

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Metals of the shop"))
        self.use, self.copy = (
            QPushButton(tr("&Use for this job")),
            QPushButton(tr("Co&py to edit")),
        )
        self.bring, self.hand = QPushButton(tr("&Import …")), QPushButton(tr("E&xport …"))
        self.remove = QPushButton(tr("&Take out"))
        row = self.row_with(
            (
                (self.use, self._use),
                (self.copy, self._copy),
                (self.bring, self._bring),
                (self.hand, self._hand),
                (self.remove, self._remove),
            )
        )
        self.about = prose()
        self.form: ModelForm | None = None
        self._box = QVBoxLayout()
        self._box.addWidget(self.about)
        self._box.addStretch(1)
        inner = QWidget()
        inner.setLayout(self._box)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(inner)
        row.addWidget(scroll, 1)
        session.changed.connect(self.refresh)
        self.refresh()

    @property
    def metal(self) -> Material | None:
        """The metal chosen in the list."""
        return self.session.settings.every_metal.get(self.chosen_key or "")

    def refresh(self) -> None:
        """Show the metals as they are."""
        job = self.session.job
        entries = []
        for metal in self.session.settings.every_metal.values():
            notes = [tr("shipped") if metal.key in MATERIALS else tr("our own")]
            notes += [tr("in use for this job")] if metal.key == job.metal else []
            entries.append((metal.key, metal.name, notes))
        self.fill(entries, self.chosen_key or job.metal)

    def show_chosen(self) -> None:
        """See :meth:`LibraryPage.show_chosen`."""
        metal = self.metal
        if metal is None:
            return
        own = metal.key not in MATERIALS
        self.remove.setEnabled(own)
        self.about.setText(
            _about(metal, self.session.job.units)
            if not own
            else _own(metal, self.session.job.units)
        )
        if self.form is not None and (not own or self.form.model.key != metal.key):  # type: ignore[attr-defined]
            drop(self.form)
            self.form = None
        if not own:
            return
        if self.form is None:
            self.form = ModelForm(
                metal, self._take, lambda: self.session.job.units, frozenset({"key"})
            )
            self.form.refused.connect(self.complain)
            self._box.insertWidget(1, self.form)
        else:
            self.form.show_model(metal)

    def _take(self, model: BaseModel, *, typed: bool = True) -> str | None:
        assert isinstance(model, Material)
        try:
            what = f"metal {model.key}" if typed else ""
            refusal = self.session.shop_edits.keep_settings(
                self.session.settings.with_metal(model), what
            )
        except INPUT_ERRORS as error:
            refusal = plain(error)
        if refusal is None:
            self.complain(None)
        return refusal

    def _use(self) -> None:
        if self.metal is not None:
            self.complain(self.session.edit("", metal=self.metal.key))

    def _copy(self) -> None:
        if self.metal is not None:
            made = self.session.settings.copied(self.metal.key)
            self.complain(self._take(made, typed=False))
            self.choose(made.key)

    def _remove(self) -> None:
        metal = self.metal
        if metal is None:
            return
        if any(part.metal == metal.key for part in self.session.work.parts):
            self.complain(
                tr(
                    "A part of this work is made of {name}; choose another metal for it first."
                ).format(name=metal.name)
            )
            return
        left = tuple(m for m in self.session.settings.metals if m.key != metal.key)
        self.complain(
            self.session.shop_edits.keep_settings(
                self.session.settings.model_copy(update={"metals": left})
            )
        )

    def _bring(self) -> None:
        path, _ = QFileDialog.getOpenFileName(
            self, tr("Import a metal"), "", tr("Metal files (*.json)")
        )
        if path:
            self.bring_in(Path(path))

    def bring_in(self, path: Path) -> None:
        """Take a metal file into the shop, in place of its own of that key where there is one."""
        try:
            metal = Material.model_validate(read_json(path, LARGEST))
            if metal.key in MATERIALS:
                raise InputError(
                    tr("{key} is the key of a metal that ships; give this one another.").format(
                        key=metal.key
                    )
                )
            self.complain(self._take(metal, typed=False))
            self.choose(metal.key)
        except OSError as error:
            self.complain(str(error))
        except INPUT_ERRORS as error:
            self.complain(
                tr("{name} is no metal: {said}").format(name=path.name, said=plain(error))
            )

    def _hand(self) -> None:
        if self.metal is None:
            return
        path = ask_where(
            self,
            tr("Export a metal"),
            f"{self.metal.key}.json",
            tr("Metal files (*.json)"),
            "json",
        )
        if path:
            self.hand_out(path)

    def hand_out(self, path: Path) -> None:
        """Write the metal chosen as a file for another shop."""
        if self.metal is not None:
            self.complain(hand_out(path, self.metal))


def _gauges(metal: Material, units: Units) -> str:
    table = metal.gauge
    shown = [
        f"{gauge} ga {show_length(table.thickness(gauge), units.fine)}"
        for gauge in GAUGES
        if gauge in table.inches
    ]
    return tr("Gauges, {table}: {gauges}.").format(table=table.name, gauges=" · ".join(shown))


def _own(metal: Material, units: Units) -> str:
    return (
        tr("The shop's own. A mill certificate or its own test strips say what stands here.")
        + "\n"
        + _gauges(metal, units)
    )


def _about(metal: Material, units: Units) -> str:
    """A metal that ships, in lines."""
    along = f"{metal.along:g}" if metal.along is not None else f"{1.5 * metal.least_radius:g}"
    lines = [
        tr("Typical values, not checked; copy it to edit them."),
        tr(
            "Tensile strength {tensile:g} MPa, yield strength {yields:g} MPa, elastic modulus "
            "{modulus:g} MPa"
        ).format(tensile=metal.tensile, yields=metal.yield_strength, modulus=metal.modulus),
        tr("Density {density:g} kg/m³").format(density=metal.density),
        tr("Least inside radius: {across:g} × T across the grain, {along} × T along it").format(
            across=metal.least_radius, along=along
        ),
        *(
            tr("  from {thickness} on: {radius:g} × T").format(
                thickness=show_length(start, units), radius=radius
            )
            for start, radius in metal.thicker
        ),
        tr(
            "K-factor {k:g}; bent in air the radius is {share:.1%} of the V and a 90° bend opens "
            "by {opens:g}°"
        ).format(k=metal.k_factor, share=metal.air_share, opens=metal.air_springback),
        _gauges(metal, units),
    ]
    return "\n".join(lines)
