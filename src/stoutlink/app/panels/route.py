"""The route: a slim strip with the steps as they stand. Never a wizard: any step, any time."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QAbstractButton, QVBoxLayout, QWidget

from stoutlink.app.desk.theme import Theme, font
from stoutlink.core.study.study import Study

STEPS = (
    ("rig", "Rig"),
    ("donors", "Donors"),
    ("tape", "Tape"),
    ("layout", "Layout"),
    ("travel", "Travel"),
    ("cut", "Cut"),
)
HELP = {
    "rig": "The vehicle as it really is: weight, tyres, gears, balance point.",
    "donors": "Which axle goes under it, and what that tips over.",
    "tape": "The frame as the tape finds it, and the reading that cannot be right.",
    "layout": "Where the links go, in three views, with live numbers.",
    "travel": "Cycled before it is welded: what touches, binds or runs out, and every number over the way.",
    "cut": "How long to cut each tube and how much thread is left.",
}


def step_state(step: str, study: Study) -> tuple[str, str]:
    """State of a step and the word for it: ``untouched``, ``work``, ``open``, ``settled``."""
    project = study.project
    count = sum(1 for f in study.open_so_far if f.step == step and f.severity != "note")
    if step == "donors" and project.donor("rear") is None and project.donor("front") is None:
        return "untouched", "none chosen"
    if step in ("layout", "travel", "cut") and project.layout("rear") is None and project.layout("front") is None:
        return "untouched", "no layout"
    if step == "cut" and not study.cuts:
        hung = any(axle.gauges for axle in study.axles.values())
        return ("settled", "nothing to cut") if hung else ("untouched", "waits for layout")
    if step == "travel" and not count:
        return "work", "cycle it"
    if step == "tape" and not any(s.points for s in project.surveys):
        return "untouched", "not measured"
    if count:
        return "open", f"{count} open"
    if step == "layout":
        out = sum(g.standing == "out" for axle in study.axles.values() for g in axle.gauges)
        if out:
            return "work", f"{out} out of band"
    if step == "rig":
        guesses = sum(1 for e in project.entries if e.field.startswith("rig.") and e.basis == "estimated")
        return ("work", f"{guesses} estimate{'s' if guesses != 1 else ''}") if guesses else ("settled", "settled")
    return "settled", "settled"


class _Station(QAbstractButton):
    def __init__(self, step: str, title: str, first: bool, last: bool, parent: QWidget) -> None:
        super().__init__(parent)
        self.step, self._first, self._last = step, first, last
        self.state, self.word = "untouched", ""
        self.theme: Theme | None = None
        self.setText(title)
        self.setObjectName(f"route_{step}")
        self.setCheckable(True)
        self.setAutoExclusive(True)
        self.setToolTip(HELP[step])
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def sizeHint(self) -> QSize:
        return QSize(92, 88)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        t = self.theme
        if t is None:
            return
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        w, middle = self.width(), QPointF(self.width() / 2, 30.0)
        if self.isChecked():
            p.fillRect(QRectF(0, 0, w, self.height()), t.sheet)
            p.fillRect(QRectF(0, 0, 4, self.height()), t.dye)
        elif self.underMouse() or self.hasFocus():
            p.fillRect(QRectF(0, 0, w, self.height()), t.raised)
        p.setPen(QPen(t.faint, 2))
        if not self._first:
            p.drawLine(QPointF(middle.x(), 0), QPointF(middle.x(), 18))
        if not self._last:
            p.drawLine(QPointF(middle.x(), 84), QPointF(middle.x(), self.height()))
        self._mark(p, t, middle)
        p.setPen(t.text if self.isChecked() else t.quiet)
        p.setFont(font(11, bold=self.isChecked()))
        p.drawText(QRectF(0, 46, w, 20), Qt.AlignmentFlag.AlignCenter, self.text())
        p.setPen(t.torch if self.state == "open" else t.quiet)
        p.setFont(font(8.5))
        p.drawText(QRectF(0, 65, w, 18), Qt.AlignmentFlag.AlignCenter, self.word)

    def _mark(self, p: QPainter, t: Theme, c: QPointF) -> None:
        colour = {"open": t.torch, "settled": t.soap}.get(self.state, t.quiet)
        p.setPen(QPen(colour, 2))
        p.setBrush(QBrush(QColor(0, 0, 0, 0)))
        if self.state == "open":
            p.setBrush(QBrush(colour))
            p.drawPolygon(QPolygonF([c + QPointF(0, -9), c + QPointF(10, 8), c + QPointF(-10, 8)]))
        elif self.state == "settled":
            p.setBrush(QBrush(colour))
            p.drawRect(QRectF(c.x() - 7, c.y() - 7, 14, 14))
        elif self.state == "work":
            p.drawRect(QRectF(c.x() - 7, c.y() - 7, 14, 14))
            p.fillRect(QRectF(c.x() - 7, c.y(), 14, 7), colour)
        else:
            p.drawRect(QRectF(c.x() - 7, c.y() - 7, 14, 14))


class Route(QWidget):
    """The strip on the left; ``picked`` names the step."""

    picked = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("route")
        self.setAccessibleName("Route")
        self.setFixedWidth(92)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 8, 0, 0)
        layout.setSpacing(0)
        self._stations = {}
        for i, (step, title) in enumerate(STEPS):
            one = _Station(step, title, i == 0, i == len(STEPS) - 1, self)
            one.clicked.connect(lambda _=False, s=step: self.picked.emit(s))
            self._stations[step] = one
            layout.addWidget(one)
        layout.addStretch(1)

    def show_step(self, step: str) -> None:
        """Mark the step that is on the sheet."""
        self._stations[step].setChecked(True)

    def refresh(self, study: Study, theme: Theme) -> None:
        """Show the state of each step."""
        for step, one in self._stations.items():
            now = (theme, *step_state(step, study))
            if now != (one.theme, one.state, one.word):
                one.theme, one.state, one.word = now
                one.setAccessibleName(f"{one.text()}, {one.word}")
                one.update()
