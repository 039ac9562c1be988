"""The program's icon in the sizes a desktop looks for, drawn from its one drawing:
packaging/icons/SIZE.png."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QByteArray, QRectF
from PySide6.QtGui import QGuiApplication, QImage, QPainter
from PySide6.QtSvg import QSvgRenderer

ROOT = Path(__file__).resolve().parent.parent
SIZES = (16, 24, 32, 48, 64, 128, 256)


def drawn(size: int) -> QImage:
    """The icon, so many pixels wide and high."""
    data = (ROOT / "src" / "zealous_crane" / "paint" / "icons" / "zealous-crane.svg").read_bytes()
    image = QImage(size, size, QImage.Format.Format_ARGB32)
    image.fill(0)
    painter = QPainter(image)
    QSvgRenderer(QByteArray(data)).render(painter, QRectF(0, 0, size, size))
    painter.end()
    return image


if __name__ == "__main__":
    app = QGuiApplication(["icons", "-platform", "offscreen"])
    for size in SIZES:
        drawn(size).save(str(ROOT / "packaging" / "icons" / f"{size}" / "zealous-crane.png"))
