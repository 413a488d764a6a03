"""The middle of the window: route, sheet, and beside it verdict and knock-ons.

On a narrow screen the sheet keeps the room it needs: verdict and knock-ons fold behind a handle that still says how
many are out of band, danger and open; a click lays them over the sheet.
"""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QAbstractButton, QSplitter, QStackedWidget, QWidget

from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.panels.route import Route

NARROW = 1180
"""Windows less wide than this, px, fold the side."""
SIDE, HANDLE = 304, 34


class Handle(QAbstractButton):
    """A strip with words that run upward; checked while the side is laid over the sheet."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("side_handle")
        self.setCheckable(True)
        self.setToolTip("Verdict and knock-ons.")
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.theme: Theme | None = None
        self.words = ""

    def show_state(self, words: str, theme: Theme) -> None:
        """What it says."""
        self.words, self.theme = words, theme
        self.setAccessibleName(f"Verdict and knock-ons: {words}")
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(HANDLE, 200)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        t = self.theme
        if t is None:
            return
        with QPainter(self) as p:
            p.fillRect(self.rect(), t.raised if self.isChecked() or self.underMouse() else t.plate)
            p.setPen(QPen(t.dye if self.hasFocus() else t.edge, 2 if self.hasFocus() else 1))
            p.drawLine(QPointF(0, 0), QPointF(0, self.height()))
            p.setPen(t.text)
            p.setFont(font(10, bold=True))
            p.translate(0, self.height())
            p.rotate(-90)
            flags = int(Qt.AlignmentFlag.AlignCenter)
            arrow = "▾" if self.isChecked() else "▴"
            p.drawText(QRectF(0, 0, self.height(), self.width()), flags, f"{arrow}  Verdict  ·  {self.words}")


class Body(QWidget):
    """Lays out route, sheet and side by the width there is."""

    def __init__(self, route: Route, stack: QStackedWidget, side: QSplitter, parent: QWidget) -> None:
        super().__init__(parent)
        self._route, self._stack, self._side = route, stack, side
        self.handle = Handle(self)
        for one in (route, stack, self.handle, side):
            one.setParent(self)
        self.handle.toggled.connect(lambda _: self.arrange())

    @property
    def narrow(self) -> bool:
        """Whether the side is folded away."""
        return self.width() < NARROW

    def minimumSizeHint(self) -> QSize:
        """What the sheet needs at least."""
        return QSize(620, 480)

    def fold(self) -> None:
        """Put the side away again, where it lies over the sheet."""
        self.handle.setChecked(False)

    def arrange(self) -> None:
        """Give each its place."""
        w, h = self.width(), self.height()
        left = self._route.minimumWidth()
        right = HANDLE if self.narrow else SIDE
        self._route.setGeometry(0, 0, left, h)
        self._stack.setGeometry(left, 0, max(0, w - left - right), h)
        self.handle.setVisible(self.narrow)
        self.handle.setGeometry(w - HANDLE, 0, HANDLE, h)
        self._side.setVisible(not self.narrow or self.handle.isChecked())
        self._side.setAutoFillBackground(self.narrow)
        self._side.setGeometry(w - right - (SIDE if self.narrow else 0), 0, SIDE, h)
        self._side.raise_()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self.arrange()
