"""What those who act for the window may use of it."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import QWidget

from ..measure.dataclass import dataclass
from .remembered import Remembered
from .theme import Look


@dataclass
class Front:
    """The window as whoever opens, saves or asks for something sees it.

    Attributes:
        window: what dialogs stand before.
        look: its colours.
        remembered: where recent files, its place and its look are kept; None keeps none.
        say: shows a sentence at its foot.
        refuse: shows why something was not done.
        open_bench: opens the work on the bench.
        brakes_changed: the shop has other brakes.
        set_dark: takes the dark look, or the light one; None follows the desktop.
    """

    window: QWidget
    look: Look
    remembered: Remembered | None
    say: Callable[[str], None]
    refuse: Callable[[str], None]
    open_bench: Callable[[], None]
    brakes_changed: Callable[[], None]
    set_dark: Callable[[bool | None], None]
