"""The line backlash is typed into: places round the ring apart by blanks, Enter takes them."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QWidget

from stoutlink.app.desk.labels import Label
from stoutlink.app.desk.not_taken import NEW
from stoutlink.app.desk.theme import font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.widgets.kept_line import KeptLine
from stoutlink.core.document.gear_setup import GearAttempt, GearSetup
from stoutlink.core.errors import StoutError
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import edit_text, parse_quantity


class BacklashLine(QWidget):
    """``entered`` carries the values, m."""

    entered = pyqtSignal(object)

    def __init__(self, workspace: Workspace, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("backlash_row")
        self._workspace = workspace
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 2, 12, 2)
        words: QLabel = Label("Backlash round the ring:", self)
        words.setFont(font(11))
        row.addWidget(words)
        self.line = _Line(workspace, self)
        self.line.setObjectName("backlash_line")
        self.line.setAccessibleName("Backlash round the ring")
        self.line.title = "Backlash"
        self.line.setFont(font(14))
        self.line.setMinimumWidth(300)
        self.line.setToolTip("Four places or more, apart by blanks, as 0.007 0.0075 0.0065 0.007; Enter takes them.")
        self.line.entered.connect(self._enter)
        row.addWidget(self.line, 1)
        row.addStretch(1)

    def offer(self, setup: GearSetup | None, attempt: GearAttempt | None) -> None:
        """Show what was read of an attempt last."""
        if setup is None or attempt is None:
            self.line.offer("", "")
            return
        reading = attempt.readings[-1] if attempt.readings else None
        unit = self._workspace.unit
        text = "" if reading is None else "  ".join(edit_text(v, "fine_length", unit) for v in reading.backlash_m)
        self.line.offer(f"gears.{setup.id}.attempts.{attempt.id}.{NEW}backlash.{len(attempt.readings)}", text)

    def _enter(self) -> None:
        text = self.line.text().strip()
        if not text:
            return
        try:
            values = read_backlash(text, self._workspace.unit)
        except StoutError as why:
            self.line.refuse(text, why.words)
            return
        self.line.release()
        self.entered.emit(values)


class _Line(KeptLine):
    """``entered`` when Enter is pressed."""

    entered = pyqtSignal()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.entered.emit()
            return
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.release()
            self.clear()
            return
        super().keyPressEvent(event)


def read_backlash(text: str, unit: UnitSystem) -> tuple[float, ...]:
    """Values apart by blanks, m. Raises :class:`~stoutlink.core.errors.StoutError` for anything else.

    >>> [round(v * 1e3, 3) for v in read_backlash("0.15 0.16 0.14", "mm")]
    [0.15, 0.16, 0.14]
    """
    return tuple(parse_quantity(word, "fine_length", unit) for word in text.replace(",", " ").replace(";", " ").split())
