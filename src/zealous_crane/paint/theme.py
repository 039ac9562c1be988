"""Colours and type: warm galvanised grey, ink blue, layout blue; vermilion only for stop and the
crane's crown."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import cached_property
from importlib import resources
from pathlib import Path
from typing import NamedTuple

from PySide6.QtCore import Qt
from PySide6.QtGui import (
    QColor,
    QFont,
    QFontDatabase,
    QFontMetrics,
    QFontMetricsF,
    QPalette,
    QStaticText,
    QTransform,
)

from ..cache import cached

FAMILY = "Inter"


@dataclass(frozen=True)
class Theme:
    """Every colour that is painted with.

    Attributes are named by what they colour, not by hue.
    """

    chrome: str
    bench: str
    field: str
    line: str
    edge: str
    ink: str
    faint: str
    stop: str
    care: str
    works: str
    accent: str
    metal: str
    metal_edge: str
    inside: str
    outside: str
    layout: str
    scribe: str
    waste: str
    tool: str
    tool_edge: str
    moving: str
    dark: bool = False

    def color(self, name: str, alpha: int = 255) -> QColor:
        """The colour of that name; one object for all who ask, not to be changed."""
        color = self._made.get((name, alpha))
        if color is None:
            color = self._made[name, alpha] = QColor(getattr(self, name))
            color.setAlpha(alpha)
        return color

    @cached_property
    def _made(self) -> dict[tuple[str, int], QColor]:
        return {}


LIGHT = Theme(
    chrome="#d8d5ce",
    bench="#eceae4",
    field="#fbfaf7",
    line="#b3afa5",
    edge="#76726a",
    ink="#1b2b44",
    faint="#525a68",
    stop="#bf321d",
    care="#8a5a00",
    works="#21603c",
    accent="#27507f",
    metal="#c3c7ca",
    metal_edge="#4b5563",
    inside="#d7dadb",
    outside="#9fa8af",
    layout="#2b4d78",
    scribe="#eaf3ff",
    waste="#d59a2c",
    tool="#a9a59b",
    tool_edge="#57544c",
    moving="#4f7fb5",
)
DARK = Theme(
    chrome="#2a2f36",
    bench="#22262c",
    field="#1a1d22",
    line="#4b535e",
    edge="#75808f",
    ink="#e6eaf0",
    faint="#a2adbb",
    stop="#ff6a52",
    care="#f0b64a",
    works="#6fcf97",
    accent="#8db9ea",
    metal="#8d959c",
    metal_edge="#d5dbe2",
    inside="#a9b1b8",
    outside="#6c757e",
    layout="#244468",
    scribe="#eaf3ff",
    waste="#d59a2c",
    tool="#5c6068",
    tool_edge="#b7bcc4",
    moving="#6fa3dd",
    dark=True,
)
PAPER = Theme(
    chrome="#ffffff",
    bench="#ffffff",
    field="#ffffff",
    line="#999999",
    edge="#8a8a8a",
    ink="#101820",
    faint="#444c58",
    stop="#c22f1a",
    care="#7a5000",
    works="#1c5234",
    accent="#1f4068",
    metal="#dfe3e6",
    metal_edge="#222a33",
    inside="#f1f3f4",
    outside="#c9cfd4",
    layout="#ffffff",
    scribe="#16324f",
    waste="#b57a10",
    tool="#d2d0ca",
    tool_edge="#3b3a36",
    moving="#7aa0c9",
)


@cached(1, lasts=True)
def load_fonts() -> None:
    """Make the shipped typeface known."""
    folder = resources.files(__package__) / "fonts"
    for entry in folder.iterdir():
        if entry.name.endswith(".otf"):
            QFontDatabase.addApplicationFontFromData(entry.read_bytes())


_SCALE = [1.0]
"""How much larger text is shown than it is drawn."""


_PAPER = [False]
"""True while pages are filled."""


@contextmanager
def paper_text() -> Iterator[None]:
    """Fonts made meanwhile are for paper: of the plain letters, and as large as they are drawn."""
    before, scale = _PAPER[0], _SCALE[0]
    _PAPER[0], _SCALE[0] = True, 1.0
    try:
        yield
    finally:
        _PAPER[0], _SCALE[0] = before, scale


def scale_text(percent: int) -> None:
    """Show all text of the window at a size, per cent; for what is made from then on."""
    _SCALE[0] = percent / 100


def text_scale() -> float:
    """How much larger than usual all text is shown."""
    return _SCALE[0]


SMALLEST = 0.7
"""How much smaller letters may become to have room."""


CROWDED = 1.25
"""Size of the letters from which on what stands side by side has no room."""


SPARED = 1.2
"""How much wider a column beside a picture may become."""


def crowded() -> bool:
    """Letters so large that a page gives some of its columns up."""
    return _SCALE[0] > CROWDED


def side_width(usual: int) -> int:
    """Width of a column beside a picture, painter units: larger where letters are, as far as the
    picture can spare it."""
    return round(usual * min(_SCALE[0], SPARED))


def font(points: float, *, bold: bool = False, strong: bool = False) -> QFont:
    """The shipped typeface with figures of one width.

    Args:
        points: size, points.
        bold: in the bold weight.
        strong: in the stronger weight.
    """
    return QFont(_made(points * _SCALE[0], bold, strong, _PAPER[0]))


@cached(256, lasts=True)
def _made(points: float, bold: bool, strong: bool, paper: bool) -> QFont:
    load_fonts()
    made = QFont(FAMILY)
    made.setPointSizeF(points)
    made.setWeight(
        QFont.Weight.Bold if bold else QFont.Weight.DemiBold if strong else QFont.Weight.Normal
    )
    if paper:
        # Figures and signs that a feature puts in place of the plain ones have no letters behind
        # them in a PDF: they could not be searched.
        made.setFeature(QFont.Tag("calt"), 0)
    else:
        made.setFeature(QFont.Tag("tnum"), 1)
    return made


def pixels(size: float, *, bold: bool = False, strong: bool = False) -> QFont:
    """The same sized in units of the painter, so that screen and paper share their painting; one
    object, not to be changed.

    Args:
        size: of letters, points.
        bold: in the bold weight.
        strong: in the stronger weight.
    """
    return _sized(max(1, round(size)), bold, strong, _PAPER[0])


@cached(256, lasts=True)
def _sized(size: int, bold: bool, strong: bool, paper: bool) -> QFont:
    made = QFont(_made(10.0, bold, strong, paper))
    made.setPixelSize(size)
    return made


class Shaped(NamedTuple):
    """Words whose letters are laid out once for however often they are painted.

    Attributes:
        words: to be painted in the font they were shaped for.
        wide, high: what they take up, painter units.
    """

    words: QStaticText
    wide: float
    high: float


def shaped(text: str, size: float, *, strong: bool = False) -> Shaped:
    """Words in the font of :func:`pixels`, for those that are painted again and again: the names of
    panels.

    Args:
        text: the words.
        size: of letters, points.
        strong: in the stronger weight.
    """
    return _shaped(text, max(1, round(size)), strong, _PAPER[0])


@cached(512, lasts=True)
def _shaped(text: str, size: int, strong: bool, paper: bool) -> Shaped:
    letters, words = _sized(size, False, strong, paper), QStaticText(text)
    words.setTextFormat(Qt.TextFormat.PlainText)
    words.prepare(QTransform(), letters)
    return Shaped(words, QFontMetrics(letters).horizontalAdvance(text), words.size().height())


def fitting(
    text: str, room: float, size: float, *, bold: bool = False, strong: bool = False
) -> QFont:
    """The same, smaller where words would not have room at that size; never so small that they are
    hard to read.

    Args:
        text: the words.
        room: the width there is.
        size: of letters, points.
        bold: in the bold weight.
        strong: in the stronger weight.
    """
    made = pixels(size, bold=bold, strong=strong)
    least = size * SMALLEST
    while size > least and QFontMetricsF(made).horizontalAdvance(text) > room:
        size = max(least, size * 0.95)
        made = pixels(size, bold=bold, strong=strong)
    return made


def palette(look: Theme) -> QPalette:
    """The window's palette, for the parts the style sheet leaves to the style."""
    made = QPalette()
    roles = {
        QPalette.ColorRole.Window: "bench",
        QPalette.ColorRole.WindowText: "ink",
        QPalette.ColorRole.Base: "field",
        QPalette.ColorRole.AlternateBase: "bench",
        QPalette.ColorRole.Text: "ink",
        QPalette.ColorRole.Button: "field",
        QPalette.ColorRole.ButtonText: "ink",
        QPalette.ColorRole.Highlight: "accent",
        QPalette.ColorRole.Link: "accent",
        QPalette.ColorRole.LinkVisited: "accent",
        QPalette.ColorRole.HighlightedText: "field",
        QPalette.ColorRole.PlaceholderText: "faint",
        QPalette.ColorRole.ToolTipBase: "field",
        QPalette.ColorRole.ToolTipText: "ink",
        QPalette.ColorRole.Accent: "accent",
    }
    for role, name in roles.items():
        made.setColor(role, look.color(name))
    for role in (
        QPalette.ColorRole.Text,
        QPalette.ColorRole.ButtonText,
        QPalette.ColorRole.WindowText,
    ):
        made.setColor(QPalette.ColorGroup.Disabled, role, look.color("faint"))
    return made


BAR = 12
"""Pixels of a scroll bar's width, at the usual size of the text."""


def style_sheet(look: Theme) -> str:
    """The window's style."""
    ticked, down, up = (
        (
            Path(__file__).parent / "icons" / f"{name}-{'dark' if look.dark else 'light'}.svg"
        ).as_posix()
        for name in ("ticked", "down", "up")
    )
    side, bar = round(14 * _SCALE[0]), round(BAR * _SCALE[0])
    return f"""
    QWidget {{ color: {look.ink}; }}
    QMainWindow, QWidget#bench {{ background: {look.bench}; }}
    QWidget#chrome, QMenuBar, QStatusBar {{ background: {look.chrome}; }}
    QMenuBar::item:selected, QMenu::item:selected {{ background: {look.accent}; color: {look.field}; }}
    QMenu {{ background: {look.field}; border: 1px solid {look.line}; }}
    QLineEdit, QPlainTextEdit, QListWidget {{
        background: {look.field}; border: 1px solid {look.edge}; border-radius: 3px; padding: 3px 6px;
        selection-background-color: {look.accent}; selection-color: {look.field}; }}
    QLineEdit {{ min-height: {round(18 * _SCALE[0])}px; }}
    QTabWidget::pane {{ background: {look.bench}; border: 1px solid {look.line}; }}
    QTabWidget > QStackedWidget > QWidget {{ background: {look.bench}; }}
    QLineEdit:focus, QListWidget:focus {{ border: 2px solid {look.accent}; padding: 2px 5px; }}
    QSpinBox, QDoubleSpinBox, QComboBox {{ min-height: {round(22 * _SCALE[0])}px; }}
    QLabel#stale {{ background: {look.field}; color: {look.care}; border: 2px solid {look.care}; padding: 4px 10px; }}
    QLineEdit[wrong="true"] {{ border: 2px solid {look.stop}; padding: 2px 5px; }}
    QLabel#complaint {{ color: {look.stop}; }}
    QLabel#faint {{ color: {look.faint}; }}
    QToolButton, QPushButton {{
        background: {look.field}; border: 1px solid {look.edge}; border-radius: 3px; padding: 4px 10px; }}
    QToolButton:hover, QPushButton:hover {{ border-color: {look.accent}; }}
    QPushButton#primary {{ background: {look.accent}; border-color: {look.accent};
        color: {look.field}; }}
    QPushButton#primary:hover, QPushButton#primary:focus {{ border-color: {look.ink}; }}
    QPushButton#primary:disabled {{ background: {look.field}; color: {look.faint};
        border-color: {look.edge}; }}
    QPushButton:checked {{ background: {look.accent}; border-color: {look.accent};
        color: {look.field}; }}
    QToolButton:focus, QPushButton:focus {{ border: 2px solid {look.accent}; padding: 3px 9px; }}
    QToolButton#sum {{ border: none; border-bottom: 1px dashed {look.faint}; border-radius: 0; padding: 1px 2px;
        background: transparent; text-align: left; }}
    QToolButton#sum:focus {{ border-bottom: 2px solid {look.accent}; }}
    QToolButton#head {{ border: none; border-bottom: 1px solid {look.line}; border-radius: 0; padding: 3px 4px 3px 0;
        background: transparent; text-align: left; }}
    QToolButton#head:focus {{ border-bottom: 2px solid {look.accent}; padding-bottom: 2px; }}
    QComboBox, QSpinBox, QDoubleSpinBox {{ background: {look.field}; border: 1px solid {look.edge}; border-radius: 3px;
        padding: 0 6px; selection-background-color: {look.accent}; selection-color: {look.field}; }}
    QComboBox:focus, QSpinBox:focus, QDoubleSpinBox:focus {{ border: 2px solid {look.accent}; padding: 0 5px; }}
    QComboBox::drop-down, QSpinBox::up-button, QSpinBox::down-button, QDoubleSpinBox::up-button, QDoubleSpinBox::down-button {{
        border: none; background: transparent; width: {side + 4}px; }}
    QComboBox::down-arrow, QSpinBox::down-arrow, QDoubleSpinBox::down-arrow {{ image: url("{down}"); width: {side}px; height: {side}px; }}
    QSpinBox::up-arrow, QDoubleSpinBox::up-arrow {{ image: url("{up}"); width: {side}px; height: {side}px; }}
    QSlider::groove:horizontal {{ height: 4px; border-radius: 2px; background: {look.edge}; }}
    QSlider::sub-page:horizontal {{ border-radius: 2px; background: {look.accent}; }}
    QSlider::handle:horizontal {{ width: {side - 4}px; margin: -{side // 2 - 2}px 0; border-radius: 4px; background: {look.field};
        border: 2px solid {look.accent}; }}
    QSlider::handle:horizontal:focus {{ background: {look.accent}; }}
    QCheckBox::indicator {{ width: {side}px; height: {side}px; border: 1px solid {look.edge}; border-radius: 2px;
        background: {look.field}; }}
    QCheckBox::indicator:checked {{ background: {look.accent}; border-color: {look.accent}; image: url("{ticked}"); }}
    QCheckBox:focus {{ color: {look.accent}; }}
    QTableWidget {{ background: {look.field}; border: 1px solid {look.edge}; gridline-color: {look.line}; }}
    QHeaderView::section {{
        background: {look.chrome}; border: none; border-bottom: 1px solid {look.line}; padding: 3px 6px; }}
    QScrollBar {{ background: transparent; border: none; margin: 0; }}
    QScrollBar:vertical {{ width: {bar}px; }}
    QScrollBar:horizontal {{ height: {bar}px; }}
    QScrollBar::handle {{ background: {look.edge}; border-radius: {bar // 2 - 2}px; margin: 2px; }}
    QScrollBar::handle:vertical {{ min-height: {3 * bar}px; }}
    QScrollBar::handle:horizontal {{ min-width: {3 * bar}px; }}
    QScrollBar::handle:hover, QScrollBar::handle:pressed {{ background: {look.accent}; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; border: none; background: none; }}
    QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
    QScrollArea {{ border: none; background: transparent; }}
    QScrollArea > QWidget > QWidget {{ background: {look.bench}; }}
    QToolTip {{ background: {look.field}; color: {look.ink}; border: 1px solid {look.line}; }}
    """
