"""The flat to point at: edges, corners, panels and holes light up under the pointer and answer a
click; holes are dragged."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

import numpy as np
import shapely
from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen, QPolygonF

from ...flat.handles import CornerHandle, EdgeHandle, Handles, handles
from ...flat.on_brake import on_brake
from ...i18n import tr
from ...paint.flat import FlatOptions, paint_flat
from ...paint.frame import Scale
from ...paint.theme import Theme
from ...units.length import INCH
from ..state.session import Session
from .canvas import Canvas

NEAR = 9.0
"""Painter units within which a click means an edge."""


@dataclass(frozen=True)
class PanelHandle:
    """A panel, and where on it (mm on the flat) was pointed at."""

    name: str
    at: tuple[float, float]


@dataclass(frozen=True)
class HoleHandle:
    """A hole by its place in the blank."""

    index: int


Handle = EdgeHandle | CornerHandle | PanelHandle | HoleHandle


class PickCanvas(Canvas):
    """The blank, answering the pointer.

    Signals:
        picked: what was clicked and where on the screen.
        dragged: hole index and how far it was moved on the flat, mm; −1 when it is let go.
        erased: what is to be taken away.
    """

    picked = Signal(object, object)
    dragged = Signal(int, float, float)
    erased = Signal(object)
    zooms: ClassVar[bool] = False

    def __init__(
        self, session: Session, look: Theme, name: str, options: FlatOptions, least: QSize
    ) -> None:
        super().__init__(name, self._picture, least)
        self.session, self.look, self.options = session, look, options
        self.scale: Scale | None = None
        self.over: Handle | None = None
        self._held: tuple[int, QPointF] | None = None
        self._handles: tuple[tuple[object, object], Handles] | None = None
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setToolTip(
            tr(
                "Click an edge, a corner or a panel to change it; drag a hole to move it. By "
                "keys: left and right step through "
                "everything, Return opens it, Delete takes it away, Shift and arrows move a hole."
            )
        )

    def handles(self) -> Handles:
        """What can be pointed at, worked out when first asked for."""
        job, brake = self.session.job, self.session.brake
        if self._handles is None or any(
            old is not new for old, new in zip(self._handles[0], (job, brake), strict=True)
        ):
            self._handles = ((job, brake), handles(on_brake(job, brake)))
        return self._handles[1]

    def _picture(self, p: QPainter, rect: QRectF) -> None:
        self.scale = paint_flat(
            p, rect, self.session.blank, self.session.job.units, self.look, self.options
        )
        if self.over is not None:
            self._light(p, self.over)

    def _light(self, p: QPainter, over: Handle) -> None:
        assert self.scale is not None
        p.save()
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        pen = QPen(self.look.color("waste"), 4, c=Qt.PenCapStyle.RoundCap)
        p.setPen(pen)
        p.setBrush(Qt.BrushStyle.NoBrush)
        if isinstance(over, EdgeHandle):
            p.drawLine(self.scale.point(*over.start), self.scale.point(*over.end))
        elif isinstance(over, CornerHandle):
            p.drawEllipse(self.scale.point(*over.point), 10, 10)
        elif isinstance(over, HoleHandle) and over.index < len(self.session.blank.holes):
            hole = self.session.blank.holes[over.index]
            r = max(hole.size) / 2 * self.scale.factor + 4
            p.drawEllipse(self.scale.point(*hole.centre), r, r)
        elif isinstance(over, PanelHandle):
            panel = next((x for x in self.session.blank.panels if x.name == over.name), None)
            if panel is not None:
                pen.setWidth(2)
                p.setPen(pen)
                p.drawPolygon(QPolygonF([self.scale.point(*c) for c in panel.polygon]))
        p.restore()

    # --- pointing --------------------------------------------------------------------------------

    def at(self, where: QPointF) -> Handle | None:  # noqa: C901
        """What lies under a place of the canvas."""
        if self.scale is None:
            return None
        point = np.array(self.scale.back(where))
        near = NEAR / self.scale.factor
        for i, hole in enumerate(self.session.blank.holes):
            if hole.kind not in ("relief", "fold slot") and np.hypot(*(hole.centre - point)) < max(
                max(hole.size) / 2, near / 2
            ):
                return HoleHandle(i)
        result = self.handles()
        for corner in result.corners:
            if np.hypot(*(corner.point - point)) < near:
                return corner
        best: tuple[float, EdgeHandle] | None = None
        for edge in result.edges:
            away = _away(point, edge.start, edge.end)
            if away < near and (best is None or away < best[0] - 1e-6):
                best = (away, edge)
        if best is not None:
            return best[1]
        for panel in self.session.blank.panels:
            if shapely.Polygon(panel.polygon).contains(shapely.Point(point)):
                return PanelHandle(panel.name, (float(point[0]), float(point[1])))
        return None

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._held is not None and self.scale is not None:
            index, last = self._held
            moved = event.position() - last
            self._held = (index, event.position())
            self.dragged.emit(index, moved.x() / self.scale.factor, -moved.y() / self.scale.factor)
            return
        over = self.at(event.position())
        if (
            over != self.over
            if not isinstance(over, PanelHandle)
            else getattr(self.over, "name", None) != over.name
        ):
            self.over = over
            self.setCursor(
                Qt.CursorShape.PointingHandCursor
                if over is not None
                else Qt.CursorShape.ArrowCursor
            )
            self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        over = self.at(event.position())
        self.over = over
        self.update()
        if isinstance(over, HoleHandle) and event.button() == Qt.MouseButton.LeftButton:
            self._held = (over.index, event.position())
        if over is not None:
            self.picked.emit(over, event.globalPosition().toPoint())

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._held is not None:
            self.dragged.emit(-1, 0.0, 0.0)
        self._held = None

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Left and right step through all there is to point at; Return opens what is lit, Delete
        takes it away, Shift and arrows move a hole, by finer steps with Ctrl."""
        key, over = event.key(), self.over
        move = ARROWS.get(Qt.Key(key))
        held = event.modifiers()
        if move is not None and held & Qt.KeyboardModifier.ShiftModifier:
            if isinstance(over, HoleHandle):
                inch, fine = (
                    self.session.job.units.is_inch,
                    bool(held & Qt.KeyboardModifier.ControlModifier),
                )
                step = (INCH / 64 if fine else INCH / 16) if inch else (0.1 if fine else 1.0)
                self.dragged.emit(over.index, move[0] * step, move[1] * step)
                self.dragged.emit(-1, 0.0, 0.0)
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right) and (row := self._row()):
            here = next(
                (i for i, h in enumerate(row) if _same(h, over)),
                -1 if key == Qt.Key.Key_Right else 0,
            )
            self.over = row[(here + (1 if key == Qt.Key.Key_Right else -1)) % len(row)]
            self.update()
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and over is not None:
            self.over = None
            self.erased.emit(over)
            self.update()
        elif (
            key in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space) and self.over is not None
        ):
            self.picked.emit(self.over, self.mapToGlobal(self.rect().center()))
        else:
            super().keyPressEvent(event)

    def _row(self) -> list[Handle]:
        """All there is to point at: corners, edges, holes, then panels at their middles."""
        blank, result = self.session.blank, self.handles()
        holes = [
            HoleHandle(i)
            for i, hole in enumerate(blank.holes)
            if hole.kind not in ("relief", "fold slot")
        ]
        middles = [
            (p.name, (p.polygon.min(axis=0) + p.polygon.max(axis=0)) / 2)
            for p in blank.panels
            if p.name in result.paths
        ]
        panels = [PanelHandle(name, (float(at[0]), float(at[1]))) for name, at in middles]
        return [*result.corners, *result.edges, *holes, *panels]


ARROWS = {
    Qt.Key.Key_Left: (-1.0, 0.0),
    Qt.Key.Key_Right: (1.0, 0.0),
    Qt.Key.Key_Up: (0.0, 1.0),
    Qt.Key.Key_Down: (0.0, -1.0),
}


def _same(one: Handle, other: Handle | None) -> bool:
    if isinstance(one, HoleHandle):
        return one == other
    if isinstance(one, PanelHandle):
        return isinstance(other, PanelHandle) and other.name == one.name
    return one is other


def _away(point: np.ndarray, start: np.ndarray, end: np.ndarray) -> float:
    along = end - start
    length = float(along @ along)
    t = 0.0 if length < 1e-12 else min(1.0, max(0.0, float((point - start) @ along) / length))
    return float(np.hypot(*(start + t * along - point)))
