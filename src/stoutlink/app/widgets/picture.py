"""A painted picture with places that tell, and do, something; and the small parts every look is painted with."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from msgspec import Struct
from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, QTimer
from PyQt6.QtGui import QBrush, QColor, QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QScrollArea, QToolTip, QWidget

from stoutlink.app.desk.labels import Label
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.widgets.places import Places, Told
from stoutlink.app.widgets.quantity_field import QuantityField

FAR = 4
"""Pixels that make a press a drag."""
TELL_MS = 120
"""What is painted rests this long before it is told."""


class Hit(Struct, frozen=True):
    """A place on the picture: what it says on hover and what a click or Enter does there; what dragging it does (where it is,
    and whether it was let go there)."""

    box: QRectF
    tip: str
    act: Callable[[], object] | None = None
    name: str = ""
    drag: Callable[[QPointF, bool], object] | None = None

    def down(self, by: float) -> Hit:
        """The place so much further down; what drags it is still told from its own top."""
        drag = self.drag

        def moved(at: QPointF, dropped: bool) -> object:
            return None if drag is None else drag(QPointF(at.x(), at.y() - by), dropped)

        return Hit(self.box.translated(0, by), self.tip, self.act, self.name, None if drag is None else moved)


class Picture(QWidget):
    """A painted part of a look: hover tells, click and keyboard act."""

    def __init__(self, name: str, title: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName(name)
        self.setAccessibleName(title)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.theme: Theme | None = None
        self.draw: Callable[[QPainter, Theme, Picture], None] | None = None
        self.hits: list[Hit] = []
        self.current = -1
        self._told: list[tuple[QRectF, str]] = []
        self._places = Places(self)
        self._telling = QTimer(self)
        self._telling.setSingleShot(True)
        self._telling.setInterval(TELL_MS)
        self._telling.timeout.connect(self._tell)
        self._held: tuple[Hit, QPointF] | None = None
        self._dragged = False
        self.asked = QRectF()
        """What is being painted again; a long list may leave out what lies outside."""

    def show_with(self, theme: Theme, draw: Callable[[QPainter, Theme, Picture], None]) -> None:
        """Paint with this function from now on."""
        self.theme, self.draw = theme, draw
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        t = self.theme
        if t is None or self.draw is None:
            return
        with QPainter(self) as p:
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            p.fillRect(self.rect(), t.sheet)
            self.hits = []
            self.asked = QRectF(self.rect()) if event is None else QRectF(event.rect())
            self.draw(p, t, self)
            acting = [h for h in self.hits if h.act is not None]
            if self.hasFocus() and 0 <= self.current < len(acting):
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.setPen(QPen(t.dye, 2))
                p.drawRect(acting[self.current].box)
        if [(h.box, h.tip) for h in self.hits] != self._told:
            self._telling.start()

    def _tell(self) -> None:
        """Tell a screen reader what is painted, once it has come to rest."""
        self._told = [(h.box, h.tip) for h in self.hits]
        self._places.tell([Told(h.box, h.name or h.tip, h.tip, h.act) for h in self.hits])

    def at(self, place: QPointF) -> Hit | None:
        """The topmost place under a point."""
        return next((h for h in reversed(self.hits) if h.box.contains(place)), None)

    def acting_at(self, place: QPointF) -> Hit | None:
        """The topmost place under a point that does something."""
        return next((h for h in reversed(self.hits) if h.act is not None and h.box.contains(place)), None)

    def named(self, name: str) -> Hit | None:
        """A place by its name."""
        return next((h for h in self.hits if h.name == name), None)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        held = next((h for h in reversed(self.hits) if h.drag is not None and h.box.contains(event.position())), None)
        if held is not None:
            self._held, self._dragged = (held, event.position()), False
            return
        hit = self.acting_at(event.position())
        if hit is not None and hit.act is not None:
            hit.act()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._held is not None:
            held, start = self._held
            far = (event.position() - start).manhattanLength() >= FAR
            if held.drag is not None and (self._dragged or far):
                self._dragged = True
                held.drag(event.position(), False)
            return
        hit = None if event is None else self.acting_at(event.position())
        drags = hit is not None and hit.drag is not None
        shape = Qt.CursorShape.SizeHorCursor if drags else Qt.CursorShape.PointingHandCursor
        self.setCursor(shape if hit is not None else Qt.CursorShape.ArrowCursor)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._held is None:
            return
        held, self._held = self._held[0], None
        if self._dragged and held.drag is not None:
            held.drag(event.position(), True)
        elif held.act is not None:
            held.act()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        acting = [h for h in self.hits if h.act is not None]
        if event is None or not acting:
            super().keyPressEvent(event)
            return
        if event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Right):
            self.current = min(len(acting) - 1, self.current + 1)
        elif event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Left):
            self.current = max(0, self.current - 1)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space) and 0 <= self.current < len(acting):
            act = acting[self.current].act
            if act is not None:
                act()
        else:
            super().keyPressEvent(event)
            return
        self.update()

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent):
            hit = self.at(QPointF(event.pos()))
            QToolTip.showText(event.globalPos(), hit.tip if hit is not None else "", self)
            return True
        return super().event(event)


_SIDES = {
    "left": Qt.AlignmentFlag.AlignLeft,
    "right": Qt.AlignmentFlag.AlignRight,
    "centre": Qt.AlignmentFlag.AlignHCenter,
}
_ON_A_LINE = {name: (side | Qt.AlignmentFlag.AlignVCenter).value for name, side in _SIDES.items()}
_WRAPPED = {
    name: (side | Qt.AlignmentFlag.AlignTop).value | Qt.TextFlag.TextWordWrap.value for name, side in _SIDES.items()
}
LEFT, RIGHT = _ON_A_LINE["left"], _ON_A_LINE["right"]
"""Words at the left and at the right of a box, half-way up; flags put together anew for each text take as long as the text."""


def text(
    p: QPainter,
    box: QRectF,
    words: str,
    colour: QColor,
    *,
    size: float = 9.0,
    bold: bool = False,
    align: str = "left",
    wrap: bool = False,
    elide: bool = False,
) -> None:
    """Words in a box."""
    p.setFont(font(size, bold=bold))
    p.setPen(colour)
    if elide:
        words = p.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, int(box.width()))
    p.drawText(box, (_WRAPPED if wrap else _ON_A_LINE)[align], words)


def button(p: QPainter, t: Theme, box: QRectF, words: str = "", *, size: float = 9.0) -> None:
    """A raised plate to click on."""
    plate(p, t, box, raised=True)
    text(p, box, words, t.text, size=size, align="centre")


def plate(p: QPainter, t: Theme, box: QRectF, *, raised: bool = False, picked: bool = False) -> None:
    """A rounded plate; one that is picked has a thicker live edge."""
    p.setPen(QPen(t.dye if picked else t.edge, 2 if picked else 1))
    p.setBrush(t.raised if raised or picked else Qt.BrushStyle.NoBrush)
    p.drawRoundedRect(box, 3, 3)


def scrolled(inside: QWidget, parent: QWidget) -> QScrollArea:
    """An area that scrolls up and down what may be taller than its place, on the sheet's own ground."""
    area = QScrollArea(parent)
    area.setObjectName(f"{inside.objectName()}_area")
    area.setAccessibleName(f"{inside.accessibleName() or inside.objectName()}, scrolling")
    area.setWidgetResizable(True)
    area.setFrameShape(QScrollArea.Shape.NoFrame)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setWidget(inside)
    inside.setAutoFillBackground(False)
    viewport = area.viewport()
    if viewport is not None:
        viewport.setAutoFillBackground(False)
    return area


def quiet_label(words: str, parent: QWidget) -> QLabel:
    """The word before a field."""
    label = Label(words, parent)
    label.setFont(font(8.5))
    label.setProperty("quiet", True)
    return label


def number_fields(
    workspace: Workspace, row: QHBoxLayout, parent: QWidget, wide: int, named: Iterable[tuple[str, str]]
) -> list[QuantityField]:
    """Numbers of the project in a row, each with its word: (path, word)."""
    out = []
    for path, words in named:
        field = QuantityField(workspace, path, parent)
        field.setFixedSize(wide, 23)
        row.addWidget(quiet_label(words, parent))
        row.addWidget(field)
        out.append(field)
    return out


def flow(p: QPainter, box: QRectF, words: str, colour: QColor, *, size: float = 9.0) -> float:
    """Words wrapped into a box; returns how high they came, so that the next can stand below."""
    p.setFont(font(size))
    p.setPen(colour)
    flags = int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop) | int(Qt.TextFlag.TextWordWrap)
    high = p.boundingRect(box, flags, words).height()
    p.drawText(box, flags, words)
    return float(high)


def bar(p: QPainter, t: Theme, box: QRectF, part: float, colour: QColor, *, hatched: bool = False) -> None:
    """A bar filled to a part of its box."""
    p.setPen(QPen(t.edge, 1))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawRect(box)
    filled = QRectF(box.left(), box.top(), max(0.0, min(1.0, part)) * box.width(), box.height())
    p.fillRect(filled, QBrush(colour, Qt.BrushStyle.BDiagPattern) if hatched else QBrush(colour))


def dimension(p: QPainter, t: Theme, a: QPointF, b: QPointF, words: str = "", *, faint: bool = False) -> None:
    """A dimension line with slashes, and its words in the middle."""
    p.setPen(QPen(t.faint if faint else t.quiet, 1, Qt.PenStyle.DashLine if faint else Qt.PenStyle.SolidLine))
    p.drawLine(a, b)
    for end in (a, b):
        p.drawLine(end + QPointF(-4, 4), end + QPointF(4, -4))
    if not words:
        return
    p.setFont(font(8.5))
    wide = p.fontMetrics().horizontalAdvance(words) + 10
    middle = (a + b) / 2
    upright = abs(a.x() - b.x()) < abs(a.y() - b.y())
    box = (
        QRectF(middle.x() + 6, middle.y() - 8, wide, 16)
        if upright
        else QRectF(middle.x() - wide / 2, middle.y() - 8, wide, 16)
    )
    p.fillRect(box, t.sheet)
    p.setPen(t.quiet if faint else t.text)
    p.drawText(box, Qt.AlignmentFlag.AlignCenter, words)
