"""A card for each stroke, in a row that can be put in another order."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QMimeData, QPointF, QRectF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QDrag, QDragEnterEvent, QDropEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import (
    QButtonGroup,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from ...bending.machines import machine_of
from ...i18n import counted, the, tr
from ...kernel.obstacle import tool_words
from ...paint.brake import angle_at, end_scale, paint_end, paint_front
from ...paint.frame import paint_state, paint_tag
from ...paint.theme import Theme, crowded, fitting, pixels
from ...paper.stroke_words import cautions_text
from ...planning.outcome import Outcome
from ...planning.plan import Plan, PlannedStroke
from ...planning.setup import LEAST_AHEAD
from ...units.quantities import show_angle
from ..dialogs.order import OrderDialog
from ..state.session import Session
from ..widgets.canvas import AngleCanvas, Canvas, KeptButton
from ..widgets.film import Film
from ..widgets.widget import Column, LazyView, as_text, emptied, heading, prose, run_dialog
from ..widgets.working import PATIENCE, WorkingPage
from ..window.header import Sign


def paint_card(
    p: QPainter, rect: QRectF, stroke: PlannedStroke, look: Theme, *, chosen: bool = False
) -> None:
    """A bend card: tag, name, a little end view at the stop, where to stop.

    Args:
        p: the painter.
        rect: where it is drawn.
        stroke: the stroke.
        look: the colours.
        chosen: it is the one on show.
    """
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    p.setPen(QPen(look.color("accent" if chosen else "line"), 2.5 if chosen else 1))
    p.setBrush(look.color("field"))
    p.drawRoundedRect(rect.adjusted(2, 2, -2, -2), 6, 6)
    text = rect.height() / 10.5
    setting = stroke.verdict.stroke.setting
    inner = rect.adjusted(text * 0.8, text * 0.7, -text * 0.8, -text * 0.6)
    tag = paint_tag(
        p,
        QPointF(inner.left() + text * 1.5, inner.top() + text * 0.9),
        text * 1.7,
        str(stroke.number),
        setting.line.angle,
        look,
    )
    p.setFont(pixels(text * 1.08, strong=True))
    p.setPen(look.color("ink"))
    room = inner.right() - tag.right() - text * 2.2
    name = p.fontMetrics().elidedText(stroke.name, Qt.TextElideMode.ElideRight, int(room))
    p.drawText(
        QRectF(tag.right() + text * 0.6, inner.top(), room, text * 1.8),
        Qt.AlignmentFlag.AlignVCenter,
        name,
    )
    paint_state(
        p,
        QPointF(inner.right() - text * 0.6, inner.top() + text * 0.9),
        text * 1.15,
        stroke.state,
        look,
    )
    paint_end(
        p,
        QRectF(inner.left(), inner.top() + text * 2.1, inner.width(), inner.height() - text * 4.0),
        stroke,
        stroke.verdict.reach,
        look,
        plain=True,
    )
    p.setPen(look.color("ink"))
    sentence = tr("stop at {reach}").format(reach=show_angle(stroke.machine_stop))
    if stroke.verdict.by_hand > 0:
        sentence += tr(", {by_hand} by hand").format(by_hand=show_angle(stroke.verdict.by_hand))
    p.setFont(fitting(sentence, inner.width(), text * 1.05))
    p.drawText(
        QRectF(inner.left(), inner.bottom() - text * 1.5, inner.width(), text * 1.6),
        Qt.AlignmentFlag.AlignVCenter,
        sentence,
    )
    p.restore()


LEAST_MORE = 0.05
"""Minutes by which an order may be slower and still counts as good as the best."""


def _minutes(minutes: float) -> str:
    """A time as it is guessed: in whole minutes, or in quarters of a minute below two."""
    if minutes < 2:
        return counted("{count} second", "{count} seconds", max(15, 15 * round(minutes * 4)))
    return counted("{count} minute", "{count} minutes", round(minutes))


class BendCard(KeptButton):
    """One card of the strip; it can be dragged to another place.

    Args:
        stroke: what it shows.
        look: colours.
        beyond: what would be touched past its stop is said too.
    """

    def __init__(self, stroke: PlannedStroke, look: Theme, *, beyond: bool = True) -> None:
        super().__init__(look, "bench", in_turn=True)
        self.stroke = stroke
        self.setCheckable(True)
        self.setFixedSize(QSize(232, 158))
        text = stroke.sentence(beyond=beyond)
        self.setAccessibleName(text)
        self.setToolTip(as_text(text))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if event.buttons() & Qt.MouseButton.LeftButton and not self.rect().adjusted(
            -4, -4, 4, 4
        ).contains(event.position().toPoint()):
            drag = QDrag(self)
            drag.setMimeData(QMimeData())
            drag.setPixmap(
                self.grab().scaledToWidth(140, Qt.TransformationMode.SmoothTransformation)
            )
            self.setDown(False)
            drag.exec(Qt.DropAction.MoveAction)
        else:
            super().mouseMoveEvent(event)

    def paint(self, p: QPainter) -> None:
        paint_card(p, QRectF(self.rect()), self.stroke, self.look, chosen=self.isChecked())
        if self.hasFocus():
            p.setPen(QPen(self.look.color("accent"), 1, Qt.PenStyle.DotLine))
            p.drawRoundedRect(QRectF(self.rect()).adjusted(5, 5, -5, -5), 5, 5)


class CardStrip(QWidget):
    """The row of cards; a card dropped elsewhere is asked for there.

    Args:
        move: told from where to where a card was dragged.
    """

    def __init__(self, move: Callable[[int, int], None]) -> None:
        super().__init__()
        self._move = move
        self.setAcceptDrops(True)

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if isinstance(event.source(), BendCard):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        card = event.source()
        if isinstance(card, BendCard):
            cards = [w for w in self.findChildren(BendCard) if w is not card]
            to = sum(w.geometry().center().x() < event.position().x() for w in cards)
            event.acceptProposedAction()
            self._move(card.stroke.number - 1, to)


class BendStage(LazyView):
    """The bends in order, and the chosen one in the brake.

    Signals:
        touched: the angle shown by the handle, degrees.
    """

    touched = Signal(float)

    def __init__(self, session: Session, look: Theme) -> None:
        super().__init__()
        self.session, self.look = session, look
        self.setObjectName("bench")
        self.chosen = 0
        self.end = AngleCanvas(
            tr("The brake from its end"),
            self._paint_end,
            QSize(380, 230 if crowded() else 260),
            self._angle_at,
        )
        self.end.swung.connect(self.swing)
        self.film = Film(look, QSize(380, 160))
        self.film.hide()
        self.film.shown.connect(self._film_at)
        self.film.stopped.connect(self._film_stopped)
        self.front = Canvas(tr("The brake from the front"), self._paint_front, QSize(300, 130))
        self.strip = CardStrip(self.move_bend)
        self._cards = QButtonGroup(self)
        self._cards.idClicked.connect(self.choose)
        self.body = QWidget()
        column = QVBoxLayout(self.body)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(self._views(), 1)
        column.addWidget(self._order_row())
        column.addWidget(self._card_row())
        self.empty = prose(size=12)
        self.stale = QLabel(tr("Before your change; recalculating …"))
        self.stale.setObjectName("stale")
        self.working = WorkingPage(session, look)
        self._patience = QTimer(self)
        self._patience.setSingleShot(True)
        self._patience.setInterval(PATIENCE)
        self._patience.timeout.connect(self.refresh)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(16, 12, 16, 8)
        outer.addWidget(self.stale)
        outer.addWidget(self.working, 1)
        outer.addWidget(self.empty)
        outer.addWidget(self.body, 1)
        session.planned.connect(self.soon)
        session.changed.connect(self._changed)
        # Until somebody looks, what is on a page asks for no room.
        for widget in (self.empty, self.body):
            widget.hide()

    # --- what it is made of ----------------------------------------------------------------------

    def _views(self) -> QHBoxLayout:
        """The view from the end, and beside it what is said and the view from the front."""
        self.sign = Sign(self.look)
        self.says = prose(size=11.5, strong=True)
        self.says.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        self.now, self.caution = prose(), prose("faint")
        qhbox_layout = QHBoxLayout()
        qhbox_layout.addWidget(self.sign, 0, Qt.AlignmentFlag.AlignTop)
        qhbox_layout.addWidget(self.says, 1)
        self.front_heading = heading(tr("From the front"))
        column = Column()
        side = QVBoxLayout(column)
        side.setContentsMargins(0, 0, 0, 0)
        side.addLayout(qhbox_layout)
        side.addWidget(self.now)
        side.addLayout(self._angle_row())
        side.addWidget(self.front_heading)
        side.addWidget(self.front, 1)
        side.addWidget(self.caution)
        side.addStretch(0)
        top = QHBoxLayout()
        top.setSpacing(16)
        top.addWidget(self.end, 5)
        top.addWidget(self.film, 5)
        # Where large letters leave too little room what is said is scrolled, never squeezed.
        beside = QScrollArea()
        beside.setWidgetResizable(True)
        beside.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        beside.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        beside.setMinimumWidth(380)
        beside.setWidget(column)
        top.addWidget(beside, 4)
        return top

    def _angle_row(self) -> QVBoxLayout:
        """The angles a person wants to see at once."""
        self.flat_button = QPushButton(tr("Flat"))
        self.stop_button = QPushButton(tr("At the stop"))
        self.touch_button = QPushButton(tr("To first contact"))
        self.flat_button.clicked.connect(lambda: self.swing(0.0))
        self.stop_button.clicked.connect(
            lambda: self.swing(self.stroke.verdict.reach if self.stroke else 0.0)
        )
        self.touch_button.clicked.connect(lambda: self.swing(180.0))
        self.in_round = QPushButton(tr("&3D view"))
        self.in_round.setCheckable(True)
        self.in_round.toggled.connect(self._show_round)
        self.play, self.play_all = QPushButton(tr("▸ Pla&y")), QPushButton(tr("▸▸ Play a&ll"))
        self.play.setToolTip(tr("This bend: brought in, clamped, bent, let go, taken out."))
        self.play_all.setToolTip(tr("Every bend from here on, one after the other."))
        self.play.clicked.connect(lambda: self.start_playing(every=False))
        self.play_all.clicked.connect(lambda: self.start_playing(every=True))
        buttons, shown = QHBoxLayout(), QHBoxLayout()
        for button in (self.flat_button, self.stop_button, self.touch_button):
            buttons.addWidget(button)
        for button in (self.in_round, self.play, self.play_all):
            shown.addWidget(button)
        buttons.addStretch(1)
        shown.addStretch(1)
        rows = QVBoxLayout()
        rows.addLayout(buttons)
        rows.addLayout(shown)
        return rows

    # --- in three dimensions ---------------------------------------------------------------------

    def _show_round(self, on: bool) -> None:
        # One goes before the other comes: side by side they would widen the window.
        gone, shown = (self.end, self.film) if on else (self.film, self.end)
        gone.hide()
        shown.show()
        self.swing(self.end.angle)

    def start_playing(self, *, every: bool) -> None:
        """Play the bend on show, or every bend from here on; a second time stops it."""
        stroke = self.stroke
        if self.film.playing:
            self.film.stop()
        elif stroke is not None:
            if not self.in_round.isChecked():
                self.in_round.setChecked(True)
            self.film.play(stroke.number, every=every)
            self.play.setText(tr("■ Stop"))

    def _film_stopped(self) -> None:
        self.play.setText(tr("▸ Pla&y"))

    def _film_at(self, number: int, degrees: float) -> None:
        """The film is at another place: its bend is the one on show."""
        if number - 1 != self.chosen:
            self._show_stroke(number - 1)
        self.end.angle = degrees
        self.now.setText(tr("Bent to {angle}.").format(angle=show_angle(degrees)))
        self.end.update()
        self.touched.emit(degrees)

    def _order_row(self) -> QWidget:
        """What a person may ask of the order."""
        self.earlier, self.later = QPushButton(tr("◂ Earlier")), QPushButton(tr("Later ▸"))
        self.pin, self.other_side = (
            QPushButton(tr("Lock bends up to here")),
            QPushButton(tr("Clamp the other side")),
        )
        self.wish, self.free = (
            QPushButton(tr("Ask for …")),
            QPushButton(tr("Use the program's order")),
        )
        self.wish.clicked.connect(self.ask_order)
        self.wish.setToolTip(tr("One bend before another, and what is to be avoided."))
        self.earlier.clicked.connect(lambda: self.shift(-1))
        self.later.clicked.connect(lambda: self.shift(1))
        self.pin.clicked.connect(self.pin_up_to_here)
        self.pin.setToolTip(
            tr("Keep the bends up to the chosen one as they are; the program orders the rest.")
        )
        self.other_side.clicked.connect(self.turn_round)
        self.free.clicked.connect(lambda: self._tell(self.session.orders.free()))
        self.order_says = QLabel()
        self.order_says.setObjectName("faint")
        # Where there is no room for it the buttons go first.
        self.order_says.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.orders = QWidget()
        row = QHBoxLayout(self.orders)
        row.setContentsMargins(0, 0, 0, 0)
        for button in (self.earlier, self.later, self.pin, self.other_side, self.wish, self.free):
            row.addWidget(button)
        row.addWidget(self.order_says, 1)
        return self.orders

    def _card_row(self) -> QScrollArea:
        """The cards, side by side."""
        self.strip_box = QHBoxLayout(self.strip)
        self.strip_box.setContentsMargins(0, 0, 0, 0)
        self.strip_box.setSpacing(8)
        self.strip_scroll = QScrollArea()
        self.strip_scroll.setWidgetResizable(True)
        self.strip_scroll.setWidget(self.strip)
        self.strip_scroll.setFixedHeight(176)
        self.strip_scroll.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        return self.strip_scroll

    def _changed(self) -> None:
        """Another job, or the same one changed: what is on show is marked at once, and soon gives
        way."""
        if self.session.plan is not None or self.session.bench_plan.before is None:
            self._patience.stop()
            self.soon()
            return
        self.stale.setVisible(not self.working.isVisible())
        self.body.setEnabled(False)
        self._patience.start()

    @property
    def stroke(self) -> PlannedStroke | None:
        """The stroke on show."""
        plan = self.session.plan
        if plan is None:
            return None
        return plan.strokes[self.chosen] if self.chosen < len(plan.strokes) else plan.stuck

    @property
    def cards(self) -> list[BendCard]:
        """The cards in order."""
        return [card for card in self._cards.buttons() if isinstance(card, BendCard)]

    def refresh(self) -> None:
        """Show the plan; while nobody looks, only that it is another one is kept in mind."""
        plan = self.session.plan
        self._patience.stop()
        if self.waits():
            return
        self.stale.hide()
        self.body.setEnabled(True)
        if self.working.stands_in_for(self.empty, self.body) or plan is None:
            return
        feasible = plan.feasible
        self.strip_scroll.setVisible(feasible)
        wished = self.session.job.order.any
        self.orders.setVisible(feasible or wished)
        for button in (self.earlier, self.later, self.pin, self.other_side):
            button.setVisible(feasible)
        self.other_side.setText(str(machine_of(plan.brake).words.other_side))
        self.free.setVisible(wished)
        self.order_says.setText(self._order_text())
        for widget in (
            self.flat_button,
            self.stop_button,
            self.touch_button,
            self.play,
            self.play_all,
            self.front,
            self.front_heading,
        ):
            widget.setVisible(feasible)
        self.body.setVisible(self.stroke is not None)
        self.empty.setVisible(self.stroke is None)
        for card in self.cards:
            self._cards.removeButton(card)
        emptied(self.strip_box)
        if not feasible:
            self.chosen = 0
            self._show_no()
            return
        self.chosen = min(self.chosen, len(plan.strokes) - 1)
        for i, stroke in enumerate(plan.strokes):
            # Of an order that is only the first, what lies past each stop is not worked out.
            card = BendCard(stroke, self.look, beyond=not plan.looking)
            self._cards.addButton(card, i)
            self.strip_box.addWidget(card)
        self.strip_box.addStretch(1)
        self.choose(self.chosen)

    def _show_no(self) -> None:
        """Show where no order gets past, and what would."""
        plan, stuck = self.session.plan, self.stroke
        if plan is None:
            return
        # Why not, and what would work, stands above the stages already.
        self.empty.setText(tr("When the part can be made, its bends stand here."))
        if stuck is not None:
            self.sign.show_state(Outcome.STOP)
            self.says.setText(
                tr("Bend {number}, {name}: no order gets past this bend.").format(
                    number=stuck.number, name=the(stuck.name)
                )
            )
            self.now.setText("")
            self.caution.setText("")
            self.end.angle = stuck.verdict.reach
            self.end.update()
            self.film.show_still(plan, stuck, stuck.verdict.reach)

    def choose(self, index: int) -> None:
        """Show the stroke at this place in the order, at its stop."""
        self._show_stroke(index)
        if self.stroke is not None:
            self.swing(self.stroke.verdict.reach)

    def _show_stroke(self, index: int) -> None:
        """What is said of a stroke, its card, and the brake from the front."""
        self.chosen = index
        stroke, plan = self.stroke, self.session.plan
        if stroke is None or plan is None:
            return
        self._cards.button(index).setChecked(True)
        # A card just made has no place yet.
        QTimer.singleShot(0, self, self.show_card)
        self.sign.show_state(stroke.state)
        self.says.setText(stroke.sentence())
        self.caution.setText(cautions_text(plan, stroke))
        self.front.update()

    def show_card(self) -> None:
        """Bring the chosen card into view."""
        card = self._cards.button(self.chosen)
        if card is not None:
            self.strip_scroll.ensureWidgetVisible(card, 16, 0)

    def _order_text(self) -> str:
        """What the person's own order costs beside the best one."""
        plan = self.session.plan
        if plan is None or not self.session.job.order.any:
            return tr("Drag a card to bend in another order.")
        if not plan.feasible:
            return tr("It cannot be bent in this order.")
        more = plan.minutes_more
        if more is None:
            return tr("Your order takes about {minutes} a part (a guess).").format(
                minutes=_minutes(plan.minutes)
            )
        if more < LEAST_MORE:
            return tr("Your order is as good as the program's.")
        return tr("Your order takes about {minutes} more a part (a guess).").format(
            minutes=_minutes(more)
        )

    def _tell(self, text: str | None) -> None:
        if text:
            self.session.complained.emit(text)

    def shift(self, by: int) -> None:
        """Ask for the chosen bend one place earlier or later."""
        self.move_bend(self.chosen, self.chosen + by)

    def move_bend(self, from_: int, to: int) -> None:
        """Ask for a bend at another place in the order."""
        plan = self.session.plan
        if (
            plan is None
            or not 0 <= from_ < len(plan.strokes)
            or not 0 <= to < len(plan.strokes)
            or from_ == to
        ):
            return
        strokes = list(plan.strokes)
        strokes.insert(to, strokes.pop(from_))
        self.chosen = to
        self._ask_for(plan, strokes)

    def pin_up_to_here(self) -> None:
        """Keep the bends up to the chosen one where they are, and leave the rest to the program."""
        plan = self.session.plan
        if plan is not None and plan.strokes:
            self._ask_for(plan, list(plan.strokes[: self.chosen + 1]))

    def _ask_for(self, plan: Plan, strokes: list[PlannedStroke]) -> None:
        names = [plan.blank.folds[i].name for s in strokes for i in s.verdict.stroke.setting.folds]
        self._tell(self.session.orders.put(tuple(dict.fromkeys(names))))

    def ask_order(self) -> None:
        """Let the person say what is wanted of the order."""
        plan = self.session.plan
        if plan is None:
            return
        dialog = OrderDialog(
            self.session.job.order,
            plan.blank,
            avoidable=machine_of(plan.brake).avoidable,
            parent=self,
        )
        if run_dialog(dialog) and dialog.wishes != self.session.job.order:
            self._tell(self.session.orders.wish(dialog.wishes))

    def turn_round(self) -> None:
        """Ask for the other side of the chosen fold to be clamped."""
        stroke = self.stroke
        if stroke is not None:
            setting = stroke.verdict.stroke.setting
            self._tell(
                self.session.orders.hold(
                    setting.line.name, "far" if setting.clamps_parent else "base"
                )
            )

    def swing(self, degrees: float) -> None:
        """Move the leaf to an angle; it goes no farther than where the part touches, nor than its
        own stop."""
        stroke, plan = self.stroke, self.session.plan
        if stroke is None or plan is None:
            return
        limit = stroke.verdict.stroke.greatest
        touching = stroke.contact is not None and degrees >= stroke.contact.angle
        if stroke.contact is not None:
            limit = min(limit, stroke.contact.angle)
        self.end.angle = max(stroke.verdict.stroke.setting.start, min(degrees, limit))
        if touching and stroke.contact is not None:
            o = stroke.contact.obstacle
            self.now.setText(
                tr("At {angle} {body} touches {tool}.").format(
                    angle=show_angle(self.end.angle), body=o.body.label, tool=tool_words(o.tool)
                )
            )
        else:
            leaf = stroke.verdict.stroke.set_for(self.end.angle)
            bent = tr("Bent to {angle}.").format(angle=show_angle(self.end.angle))
            if leaf - self.end.angle >= LEAST_AHEAD:
                bent = tr("Sheet at {angle}, leaf at {leaf}.").format(
                    angle=show_angle(self.end.angle), leaf=show_angle(leaf)
                )
            how = "" if self.in_round.isChecked() else tr("Drag the handle until it touches.")
            self.now.setText(f"{bent} {how}".strip())
        self.end.update()
        self.film.show_still(plan, stroke, self.end.angle)
        self.touched.emit(self.end.angle)

    def _angle_at(self, place: QPointF) -> float:
        stroke = self.stroke
        if stroke is None:
            return 0.0
        angle = angle_at(stroke, place, end_scale(stroke, QRectF(self.end.rect())))
        # Below the bed the handle rests flat; past straight back it stays at its end.
        return angle + 360 if angle < -90 else angle

    def _paint_end(self, p: QPainter, rect: QRectF) -> None:
        stroke = self.stroke
        if stroke is not None:
            paint_end(p, rect, stroke, self.end.angle, self.look)

    def _paint_front(self, p: QPainter, rect: QRectF) -> None:
        stroke = self.stroke
        if stroke is not None and stroke.sections:
            paint_front(p, rect, stroke, self.session.job.units, self.look, text=12)
