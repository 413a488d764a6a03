"""The line a station is read into: typed, or from the caliper with Space; Enter writes it down and goes on."""

from __future__ import annotations

import datetime
import re

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QWidget

from stoutlink.app.desk.labels import Label
from stoutlink.app.desk.not_taken import NEW
from stoutlink.app.desk.theme import font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.widgets.kept_line import KeptLine
from stoutlink.core.document.stations import (
    STATION_STAGES,
    STATION_WORDS,
    StationOf,
    StationReading,
    StationStage,
    StraightReading,
)
from stoutlink.core.editing.edits import Edit
from stoutlink.core.editing.link_edits import ReadStation, ReadStraight
from stoutlink.core.errors import StoutError, TextError
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import edit_text, parse_typed

Cell = tuple[str, StationStage]
"""What is read (a length along the housing, or ``left end``, ``right end`` against the bar) and at which stage."""
ROWS: tuple[StationOf, ...] = ("span", "left", "spacing", "right")
ENDS = ("left end", "right end")
CALIPER = ("C",)


class StationLine(QWidget):
    """``went_on`` carries the cell that is read next."""

    went_on = pyqtSignal(str, str)

    def __init__(self, workspace: Workspace, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("station_reading")
        self._workspace = workspace
        self.cell: Cell | None = None
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 2, 12, 2)
        self.words: QLabel = Label("", self)
        self.words.setFont(font(10))
        row.addWidget(self.words)
        self.line = _Line(workspace, self)
        self.line.setObjectName("station_line")
        self.line.setFont(font(12))
        self.line.setFixedWidth(190)
        self.line.entered.connect(self.enter)
        row.addWidget(self.line)
        hint = Label("Enter writes it down; Space takes the caliper.", self)
        hint.setFont(font(8.5))
        hint.setProperty("quiet", True)
        row.addWidget(hint)
        row.addStretch(1)

    def show_cell(self, cell: Cell | None) -> None:
        """Be for a cell; nothing is read without one."""
        self.cell = cell
        self.setVisible(cell is not None)
        if cell is None:
            self.line.offer("", "")
            return
        of, stage = cell
        words = f"{of} against the bar" if of in ENDS else STATION_WORDS[of]  # type: ignore[index]
        self.words.setText(f"{words.capitalize()}, {stage}:")
        self.line.title = f"{words.capitalize()}, {stage}"
        self.line.setAccessibleName(self.line.title)
        tip = (
            "How far the bar misses the middle, and which way the tube is off seen from that end, as 1/16 at 4:30."
            if of in ENDS
            else "As read along the housing; a ± may stand behind it."
        )
        self.line.setToolTip(tip)
        what = "straight" if of in ENDS else "readings"
        self.line.offer(f"stations.{self._workspace.end}.{what}.{NEW}{of.replace(' ', '-')}.{stage}", "")

    def enter(self) -> None:
        """Write what is typed down, and go on to the next of this stage."""
        text, cell = self.line.text().strip(), self.cell
        if cell is None or not text:
            return
        try:
            edit = reading_edit(text, cell, "front" if self._workspace.end == "front" else "rear", self._workspace.unit)
        except StoutError as why:
            self.line.refuse(text, why.words)
            return
        self.line.release()
        self.line.clear()
        if self._workspace.do(edit):
            following = next_cell(cell)
            if following is not None:
                self.went_on.emit(*following)

    def measured(self, value: float, spread: float) -> None:
        """The caliper's reading has come: it stands in the line, to be written down."""
        unit = self._workspace.unit
        text = f"{edit_text(value, 'fine_length', unit)} ± {edit_text(2 * max(spread, 1e-5), 'fine_length', unit)}"
        self.line.setText(text)
        self.line.setModified(True)
        self.line.setFocus()


class _Line(KeptLine):
    """``entered`` when Enter is pressed; Space on an empty line takes the caliper."""

    entered = pyqtSignal()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.entered.emit()
            return
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self._workspace.stop_reading.emit()
            self.release()
            self.clear()
            return
        if event is not None and event.key() == Qt.Key.Key_Space and not self.text():
            self._workspace.take_reading.emit(self.place, CALIPER)
            return
        super().keyPressEvent(event)


def next_cell(cell: Cell) -> Cell | None:
    """What is read after a cell: the next down its stage."""
    order = (*ROWS, *ENDS)
    at = order.index(cell[0]) + 1
    return (order[at], cell[1]) if at < len(order) else None


def reading_edit(text: str, cell: Cell, end: str, unit: UnitSystem) -> Edit:
    """The edit that writes a reading down; raises :class:`TextError` for what is none."""
    of, stage = cell
    assert stage in STATION_STAGES
    today = datetime.date.today().isoformat()
    which = "front" if end == "front" else "rear"
    if of in ENDS:
        miss, clock = miss_and_clock(text, unit)
        side = "left" if of == "left end" else "right"
        return ReadStraight(
            which,  # type: ignore[arg-type]
            StraightReading(side=side, stage=stage, miss_m=abs(miss), clock=clock, when=today),  # type: ignore[arg-type]
        )
    found = parse_typed(text, "length", unit)
    return ReadStation(
        which,  # type: ignore[arg-type]
        StationReading(of=of, stage=stage, value_m=found.value, sigma_m=found.sigma, when=today),  # type: ignore[arg-type]
    )


def miss_and_clock(typed: str, unit: UnitSystem) -> tuple[float, float | None]:
    """A length, m, and a clock position in hours, where one stands behind it: ``1/16 at 4:30``, ``1.5 at 9``."""
    found = re.fullmatch(r"(.+?)\s+(?:at|@)\s*(\d{1,2})(?:[:.](\d{2}))?", typed.strip())
    if found is None:
        return parse_typed(typed, "fine_length", unit).value, None
    hours = int(found[2]) + int(found[3] or 0) / 60
    if not 0 <= hours <= 12 or int(found[3] or 0) > 59:
        raise TextError(
            "Q160",
            f"“{found[2]}{':' + found[3] if found[3] else ''}” is not a place on a clock.",
            "Use 12 for up, 3 for right, as in 1/16 at 4:30.",
        )
    return parse_typed(found[1], "fine_length", unit).value, hours
