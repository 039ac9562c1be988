"""What a form says: how the fields of a model are called, what is told of each, what an empty one
stands for."""

from __future__ import annotations

import inspect
import re
from collections.abc import Callable
from typing import Any, Literal, get_args, get_origin

from pydantic import BaseModel
from pydantic.fields import FieldInfo
from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QCheckBox, QFormLayout, QHBoxLayout, QToolButton, QVBoxLayout, QWidget

from ...cache import cached
from ...errors import INPUT_ERRORS, InputError
from ...i18n import LabelledEnum, choice_words, tr
from ...metal.sheet import is_rating, read_rating
from ...paint.theme import font
from ...part.corner import Corner, ReliefRule, Tab
from ...part.edge import End, FoldSlots
from ...part.hole import HolePlace
from ...schema.model import InputModel, is_angle, is_length, unwrapped
from ...schema.reading import plain
from ...units.length import Units, parse_length, show_length
from ...units.quantities import AngleReading, parse_angle
from .field import LengthField, ParsedField, TextField
from .widget import Choice, Count, Wrapped


@cached(256, lasts=True)
def attribute_docs(kind: type[BaseModel]) -> dict[str, str]:
    """What the docstrings of a model, and of those it is made from, say of each of its fields."""
    result: dict[str, str] = {}
    for model in reversed(kind.__mro__):
        if issubclass(model, BaseModel) and model.__doc__:
            result.update(_attributes(model.__doc__))
    hints = {name: hint(text) for name, text in result.items() if name in kind.model_fields}
    return {name: tr(sentence) for name, sentence in hints.items() if sentence}


def hint(text: str) -> str:
    """What a docstring says of a field, for whoever fills it in: a field is empty where a program
    says None, and its unit is the job's, or what is typed behind the figure. Where figures stand in
    it their unit stays."""
    sentence = re.sub(r"\bNone\b", "empty", text.replace("``", ""))
    unit = r"(?<!\d )\bmm\b(?! \(common| or )"
    sentence = re.sub(rf"[,;]? ?\(?{unit}\)?(?=[.,;:)]|$)", "", sentence)
    sentence = re.sub(rf"{unit} ", "", sentence)
    return sentence.lstrip(" ,;") if re.search("[a-z]", sentence) else ""


def _attributes(doc: str) -> dict[str, str]:
    """The attributes a docstring tells of."""
    result: dict[str, str] = {}
    names: list[str] = []
    for line in inspect.cleandoc(doc).partition("Attributes:")[2].splitlines():
        begins = re.match(r"^    (\w[\w, ]*?): (.*)$", line)
        if begins:
            names = [name.strip() for name in begins[1].split(",")]
            for name in names:
                result[name] = begins[2]
        elif line.startswith("     "):
            for name in names:
                result[name] += " " + line.strip()
    return result


def title(name: str, info: FieldInfo) -> str:
    """How a field is called on the form."""
    return tr(info.title or name.replace("_", " ").capitalize())


def blank_word(info: FieldInfo, otherwise: str = "") -> str:
    """What an empty field says: by what its model names, else what is given, else that the rule
    decides."""
    extra = info.json_schema_extra
    text = extra.get("empty") if isinstance(extra, dict) else None
    return tr(str(text)) if text else otherwise or tr("by the rule")


def split_list(text: str) -> list[str]:
    """The figures of a list: parted by semicolons, else by commas with a space after them, else by
    commas. Any other comma is a decimal sign.

    >>> split_list("2,5; 3"), split_list("2,5, 3"), split_list("90,60,45")
    (['2,5', '3'], ['2,5', '3'], ['90', '60', '45'])
    """
    parts = (
        text.split(";")
        if ";" in text
        else re.split(r",\s+", text)
        if re.search(r",\s", text)
        else text.split(",")
    )
    return [part.strip() for part in parts if part.strip()]


def as_usual(model: BaseModel | None) -> bool:
    """True where nothing of a model was chosen otherwise than it begins."""
    try:
        return model is not None and model == type(model)()
    except INPUT_ERRORS:
        return False


def in_short(model: BaseModel, units: Units) -> str:
    """What a group says while it is folded away: its choices and lengths, and that the rest is by
    the rule."""
    lines: list[str] = []
    by_rule = False
    for name, info in type(model).model_fields.items():
        value = getattr(model, name)
        kind, metadata, _ = unwrapped(info.annotation, list(info.metadata))
        if value is None:
            by_rule = True
        elif isinstance(value, LabelledEnum):
            lines.append(value.words)
        elif kind is float and is_length(metadata) and value:
            lines.append(show_length(value, units, pretty=True))
    return ", ".join([*lines, *([tr("by the rule")] if by_rule or not lines else [])])


STARTS: dict[type[BaseModel], BaseModel] = {
    Tab: Tab(length=15.0),
    End: End(),
    FoldSlots: FoldSlots(count=4, bridge=8.0),
    ReliefRule: ReliefRule(),
    Corner: Corner(),
    HolePlace: HolePlace(),
}
"""What a part of a model that may be left out begins as when it is wanted."""

FOLD = "angle"
"""The field of a model that is the angle of a fold, and read as the person reads them; other angles
are what they are."""

WIDEST = 158
"""Painter units a label takes before it wraps."""

Change = Callable[[BaseModel], str | None]


class ModelForm(QWidget):
    """A form for one model.

    Args:
        model: what is shown.
        change: given the changed model, takes it and returns None, or a sentence saying why not.
        units: asked for the units in force.
        skip: names of fields that are not shown.
        reading: asked how angles of folds are read.
        first: names of fields that come first, in this order.
    """

    refused = Signal(str)

    def __init__(
        self,
        model: BaseModel,
        change: Change,
        units: Callable[[], Units],
        skip: frozenset[str] = frozenset(),
        reading: Callable[[], AngleReading] = lambda: AngleReading.BEND,
        first: tuple[str, ...] = (),
    ) -> None:
        super().__init__()
        self.model, self._change, self._units, self._reading = model, change, units, reading
        self.fields: dict[str, QWidget] = {}
        self._shows: dict[str, Callable[[Any], None]] = {}
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        form = QFormLayout()
        form.setLabelAlignment(Qt.AlignmentFlag.AlignLeft)
        form.setFieldGrowthPolicy(QFormLayout.FieldGrowthPolicy.ExpandingFieldsGrow)
        form.setHorizontalSpacing(12)
        form.setVerticalSpacing(6)
        form.setRowWrapPolicy(QFormLayout.RowWrapPolicy.DontWrapRows)
        box.addLayout(form)
        docs = attribute_docs(type(model))
        places = {name: i for i, name in enumerate(first)}
        for name, info in sorted(
            type(model).model_fields.items(), key=lambda f: places.get(f[0], len(places))
        ):
            plain_type, metadata, optional = unwrapped(info.annotation, list(info.metadata))
            literal = get_args(plain_type) if get_origin(plain_type) is Literal else ()
            if name in skip or (len(literal) == 1 and not optional):
                continue
            made = self._field(name, info, plain_type, metadata, optional)
            if made is None:
                continue
            self.fields[name] = made
            made.setToolTip(docs.get(name, ""))
            made.setWhatsThis(docs.get(name, ""))
            if isinstance(made, Group):
                if not optional:
                    form.addRow(made.head)
                form.addRow(made)
            elif isinstance(made, QCheckBox):
                form.addRow(made)
            else:
                label = Wrapped(title(name, info))
                # As wide as its words, so that most stand on one line; long ones wrap.
                label.setMinimumWidth(
                    min(WIDEST, max(120, label.fontMetrics().horizontalAdvance(label.text()) + 4))
                )
                label.setToolTip(docs.get(name, ""))
                label.setBuddy(made.edit if isinstance(made, TextField) else made)
                form.addRow(
                    label,
                    self._growing(name, made)
                    if name in getattr(type(model), "grows", ())
                    else made,
                )
        self.show_model(model)

    # --- making fields ---------------------------------------------------------------------------

    def _field(  # noqa: PLR0911
        self, name: str, info: FieldInfo, kind: Any, metadata: list[Any], optional: bool
    ) -> QWidget | None:
        words = title(name, info)
        if isinstance(kind, type) and issubclass(kind, BaseModel):
            return self._nested(name, words, kind, optional)
        if get_origin(kind) is tuple:
            return self._row(name, words, kind, info)
        if isinstance(kind, type) and issubclass(kind, LabelledEnum):
            return self._choice(
                name, words, [(m.words, m) for m in kind], optional, blank_word(info)
            )
        if get_origin(kind) is Literal:
            return self._choice(
                name,
                words,
                [(choice_words(v), v) for v in get_args(kind)],
                optional,
                blank_word(info),
            )
        if kind is bool:
            return self._switch(name, words)
        if kind is int:
            return self._count(name, words)
        if kind is float and is_length(metadata):
            empty = blank_word(info) if optional else None
            parse = read_rating if is_rating(metadata) else parse_length
            made = LengthField(
                words, lambda v: self._set(name, v), self._units, empty=empty, parse=parse
            )
            self._shows[name] = made.show_value
            return made
        if kind is float:
            return self._number(
                name,
                words,
                blank_word(info) if optional else None,
                angle=is_angle(metadata),
                fold=name == FOLD,
            )
        if kind is str:
            made_text = TextField(
                words,
                lambda text: self._set(name, text.strip() or None if optional else text),
                blank_word(info) if optional else "",
            )
            self._shows[name] = lambda v: made_text.show_text(v or "")
            return made_text
        return None

    def _nested(self, name: str, words: str, kind: type[BaseModel], optional: bool) -> QWidget:
        made = Group(
            words,
            kind,
            optional,
            lambda m: self._set(name, None if m is None else m.model_dump()),
            self._units,
            self._reading,
        )
        self._shows[name] = made.show_value
        return made

    def _row(self, name: str, words: str, kind: Any, info: FieldInfo) -> QWidget | None:
        inner, metadata, _ = unwrapped(get_args(kind)[0], [])
        if inner is not float:
            return None
        angles = is_angle(metadata)

        def read(text: str) -> list[float]:
            parts = split_list(text)
            return [
                self._reading().read(parse_angle(p)) if angles else parse_length(p, self._units())
                for p in parts
            ]

        def take(text: str) -> str | None:
            try:
                return self._set(name, read(text))
            except INPUT_ERRORS as error:
                return str(error)

        made = ParsedField(words, take, read, blank_word(info, tr("separate with semicolons")))

        def show(values: Any) -> None:
            shown = [
                f"{self._reading().read(v):g}°"
                if angles
                else show_length(v, self._units()).removeprefix("≈")
                for v in values
            ]
            made.show_text("; ".join(shown))

        self._shows[name] = show
        return made

    def _growing(self, name: str, field: QWidget) -> QWidget:
        """A row with buttons that take its last value off or put one more on; what goes with it
        follows."""
        holder = QWidget()
        row = QHBoxLayout(holder)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(field, 1)
        for sign, words, grown in (
            ("−", tr("One less"), lambda values: values[:-1]),
            ("+", tr("One more"), lambda values: (*values, values[-1])),
        ):
            button = QToolButton()
            button.setText(sign)
            button.setFixedWidth(30)
            button.setAccessibleName(words)
            button.setToolTip(words)
            button.clicked.connect(
                lambda _=False, grown=grown: self._tell(
                    field, self._set(name, grown(tuple(getattr(self.model, name))))
                )
            )
            row.addWidget(button, 0, Qt.AlignmentFlag.AlignTop)
        return holder

    def _choice(
        self, name: str, words: str, options: list[tuple[str, Any]], optional: bool, empty: str
    ) -> QWidget:
        made = Choice()
        made.setAccessibleName(words)
        if optional:
            made.addItem(empty, None)
        for text, value in options:
            made.addItem(text, value)
        made.activated.connect(lambda _: self._tell(made, self._set(name, made.currentData())))
        self._shows[name] = lambda v: made.setCurrentIndex(max(0, made.findData(v)))
        return made

    def _switch(self, name: str, words: str) -> QWidget:
        made = QCheckBox(words)
        made.setAccessibleName(words)
        made.clicked.connect(lambda on: self._tell(made, self._set(name, on)))
        self._shows[name] = made.setChecked
        return made

    def _count(self, name: str, words: str) -> QWidget:
        made = Count()
        made.setAccessibleName(words)
        made.setRange(1, 1000)
        made.valueChanged.connect(lambda n: self._tell(made, self._set(name, n)))

        def show(value: int) -> None:
            made.blockSignals(True)
            made.setValue(value)
            made.blockSignals(False)

        self._shows[name] = show
        return made

    def _number(
        self, name: str, words: str, empty: str | None, *, angle: bool, fold: bool
    ) -> QWidget:
        def turned(value: float) -> float:
            return self._reading().read(value) if fold else value

        def read(text: str) -> float | None:
            if not text.strip() and empty is not None:
                return None
            if angle:
                return turned(parse_angle(text))
            try:
                return float(text.replace(",", "."))
            except ValueError:
                raise InputError(
                    tr("{strip!r} is not a number.").format(strip=text.strip())
                ) from None

        def take(text: str) -> str | None:
            try:
                return self._set(name, read(text))
            except INPUT_ERRORS as error:
                return str(error)

        made = ParsedField(words, take, read, empty or "")
        made.as_wide_as_a_figure()
        self._shows[name] = lambda v: made.show_text(
            "" if v is None else f"{turned(v):g}" + ("°" if angle else "")
        )
        return made

    # --- values ----------------------------------------------------------------------------------

    def _set(self, name: str, value: Any) -> str | None:
        record = {**self.model.model_dump(), name: value}
        if isinstance(self.model, InputModel):
            record = self.model.together(record, name)
        try:
            model = type(self.model).model_validate(record)
        except INPUT_ERRORS as error:
            return plain(error)
        text = self._change(model)
        if (
            text is None
            and type(self.model) is type(model)
            and getattr(self.model, name) != getattr(model, name)
        ):
            # Nobody has shown the form what came of it: the next size is changed in this model, not
            # in the one before.
            self.model = model
            for other, show in self._shows.items():
                show(getattr(model, other))
        return text

    def _tell(self, widget: QWidget, sentence: str | None) -> None:
        """Say what is wrong with a choice where it was made, and show what is still in force."""
        widget.setToolTip(sentence or widget.whatsThis())
        if sentence:
            self.refused.emit(sentence)
            self.show_model(self.model)

    def show_model(self, model: BaseModel) -> None:
        """Show another state of the same kind of model."""
        self.model = model
        for name, show in self._shows.items():
            show(getattr(model, name))


def drop(widget: QWidget | None) -> None:
    """Take a widget out of sight at once, and let it go when the window gets round to it."""
    if widget is not None:
        widget.hide()
        widget.setParent(None)
        widget.deleteLater()


class Group(QWidget):
    """A model within a model, with a switch when it may be left out; folded away behind its head
    while it is as the rule has it."""

    def __init__(
        self,
        words: str,
        kind: type[BaseModel],
        optional: bool,
        take: Callable[[BaseModel | None], str | None],
        units: Callable[[], Units],
        reading: Callable[[], AngleReading],
    ) -> None:
        super().__init__()
        self._kind, self._take, self._units, self._optional, self._reading = (
            kind,
            take,
            units,
            optional,
            reading,
        )
        self._words, self._fresh = words, True
        self.form: ModelForm | None = None
        self.head = QToolButton()
        self.head.setCheckable(True)
        self.head.setAutoRaise(True)
        self.head.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextBesideIcon)
        self.head.setFont(font(10, bold=True))
        self.head.setObjectName("head")
        self.head.setToolTip(tr("Open or fold away"))
        self.head.setAccessibleName(words)
        self.head.toggled.connect(lambda _: self._fold())
        self._box = QVBoxLayout(self)
        self._box.setContentsMargins(0 if optional else 10, 0, 0, 0)
        # What may be left out is switched on by its name, and then stands open; the rest has a head
        # to fold it away behind.
        self.switch = QCheckBox(words)
        self.switch.setFont(font(10, bold=True))
        # One of them is hidden; nothing is shown here that lies in no window yet: it would be one
        # of its own.
        (self.head if optional else self.switch).hide()
        self.switch.clicked.connect(self._switched)
        self.complaint = Wrapped()
        self.complaint.setObjectName("complaint")
        self.complaint.hide()
        self._box.addWidget(self.switch)
        self._box.addWidget(self.complaint)

    def _switched(self, on: bool) -> None:
        refusal = self._take(STARTS[self._kind] if on else None)
        self.complaint.setText(refusal or "")
        self.complaint.setVisible(bool(refusal))
        if refusal:
            self.switch.setChecked(not on)

    def open(self, on: bool = True) -> None:
        """Unfold it, or fold it away."""
        self.head.setChecked(on)
        self._fold()

    def _fold(self) -> None:
        shown = self.head.isChecked()
        self.setVisible(shown)
        self.head.setArrowType(Qt.ArrowType.DownArrow if shown else Qt.ArrowType.RightArrow)
        model = None if self.form is None else self.form.model
        short = "" if shown or model is None else in_short(model, self._units())
        self.head.setText(f"{self._words}:  {short}" if short else self._words)

    def show_value(self, model: BaseModel | None) -> None:
        """Show the inner model, or that it is left to the rule."""
        first = self._fresh
        self._fresh = False
        self._show(model)
        # What may be left out is one switch, and stands open; the rest is folded away as long as
        # nothing was chosen in it.
        self.open((self._optional or not as_usual(model)) if first else self.head.isChecked())

    def _show(self, model: BaseModel | None) -> None:
        self.switch.setChecked(model is not None)
        if model is None:
            drop(self.form)
            self.form = None
        elif self.form is None:
            self.form = ModelForm(model, self._take, self._units, reading=self._reading)
            self._box.addWidget(self.form)
        else:
            self.form.show_model(model)
