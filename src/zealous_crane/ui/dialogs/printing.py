"""Printing: the pages as they will be on paper, on the paper and the printer chosen last."""

from __future__ import annotations

from PySide6.QtGui import QPageLayout
from PySide6.QtPrintSupport import QPrinter, QPrintPreviewDialog
from PySide6.QtWidgets import QWidget

from ...i18n import tr
from ...paper.page import Fill, usual_layout
from ..state.session import Session
from ..state.user_settings import Remembered


class Preview(QPrintPreviewDialog):
    """The pages before they are printed; prints them.

    Args:
        fill: draws them.
        session: whose job it is, for the usual paper.
        remembered: where printer, paper and sides are kept from one time to the next; None keeps
            none.
        parent: the window.
    """

    def __init__(
        self,
        fill: Fill,
        session: Session,
        remembered: Remembered | None,
        parent: QWidget | None = None,
    ) -> None:
        self.device = QPrinter(QPrinter.PrinterMode.HighResolution)
        self.device.setPageLayout(usual_layout(session.job))
        self.device.setDocName(session.job.name)
        if remembered is not None:
            restore(self.device, remembered)
        super().__init__(self.device, parent)
        self.setWindowTitle(tr("Print"))
        self.resize(1000, 700)
        self.paintRequested.connect(fill)
        self._remembered = remembered

    def done(self, result: int) -> None:
        """Keep what was chosen."""
        if self._remembered is not None:
            keep(self.device, self._remembered)
        super().done(result)


def keep(printer: QPrinter, remembered: Remembered) -> None:
    """Remember printer, paper and sides."""
    layout = printer.pageLayout()
    remembered.paper = {
        "printer": printer.printerName(),
        "size": layout.pageSize().id().value,
        "landscape": int(layout.orientation().value),
        "duplex": printer.duplex().value,
    }


def restore(printer: QPrinter, remembered: Remembered) -> None:
    """Set a printer to what was chosen last; what is not there any more is left."""
    paper = remembered.paper
    try:
        if paper.get("printer"):
            printer.setPrinterName(str(paper["printer"]))
        if "size" in paper:
            layout = printer.pageLayout()
            size = type(layout.pageSize())(
                type(layout.pageSize()).PageSizeId(int(str(paper["size"])))
            )
            layout.setPageSize(size)
            layout.setOrientation(QPageLayout.Orientation(int(str(paper.get("landscape", 0)))))
            printer.setPageLayout(layout)
            printer.setDuplex(QPrinter.DuplexMode(int(str(paper.get("duplex", 0)))))
    except ValueError:
        return  # a damaged setting is none
