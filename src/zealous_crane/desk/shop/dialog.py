"""The shop: everything that is the shop's and not one job's."""

from __future__ import annotations

from PySide6.QtWidgets import QDialog, QDialogButtonBox, QTabWidget, QVBoxLayout, QWidget

from ...measure.words import tr
from ..session import Session
from ..theme import Look
from .machines import MachinesPage, ShopDoors
from .metals import MetalsPage
from .stock import StockPage
from .ways import tools_page, ways_page


class ShopDialog(QDialog):
    """Machines, metals, tools, ways and stock.

    Args:
        session: whose shop it is.
        look: colours.
        parent: the window.
        doors: what the window does.
    """

    def __init__(self, session: Session, look: Look, parent: QWidget, doors: ShopDoors) -> None:
        super().__init__(parent)
        self.session = session
        self.setWindowTitle(tr("The shop"))
        self.resize(1000, 640)
        self.machines, self.metals = MachinesPage(session, look, doors), MetalsPage(session)
        self.tools, self.ways, self.stock = tools_page(session), ways_page(session), StockPage(session)
        self.tabs = QTabWidget()
        for page, words in (
            (self.machines, tr("&Machines")), (self.metals, tr("M&etals")), (self.tools, tr("&Small tools and shear")),
            (self.ways, tr("Mar&king and measuring")), (self.stock, tr("St&ock")),
        ):  # fmt: skip
            self.tabs.addTab(page, words)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        # Return in a field takes what is typed there; it does not close the shop.
        close = buttons.button(QDialogButtonBox.StandardButton.Close)
        close.setAutoDefault(False)
        close.setDefault(False)
        box = QVBoxLayout(self)
        box.addWidget(self.tabs, 1)
        box.addWidget(buttons)
