"""The large line a reading is typed into, or an instrument writes into: Enter takes it, Space on an empty line reads."""

from __future__ import annotations

from msgspec import Struct
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk.theme import font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.panels.instrument_desk import InstrumentDesk
from stoutlink.app.widgets.kept_line import KeptLine
from stoutlink.core.errors import StoutError
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import Kind, edit_text, parse_quantity, parse_typed

CHANNEL_OF = {
    "dial indicator": "D", "feeler gauges": "F", "caliper": "C", "torque wrench": "T", "beam wrench, small": "T", "spring scale": "T",
    "pressure gauge": "P", "angle finder": "A",
}  # fmt: skip
"""Which instrument's channel a tool's readings come on."""


class Typed(Struct, frozen=True):
    """What was typed: values SI, and 1 σ where a ± stood behind a single one."""

    values: tuple[float, ...]
    sigma: float | None


def read_values(text: str, kind: Kind, unit: UnitSystem, places: int) -> Typed:
    """Values of a reading, apart by blanks where several places are read; raises
    :class:`~stoutlink.core.errors.StoutError`.

    >>> [round(v * 1e3, 2) for v in read_values("0.15 0.16", "fine_length", "mm", 4).values]
    [0.15, 0.16]
    """
    if places == 1:
        one = parse_typed(text, kind, unit)
        return Typed((one.value,), one.sigma)
    words = text.replace(";", " ").split()
    return Typed(tuple(parse_quantity(w, kind, unit) for w in words), None)


class ReadingLine(KeptLine):
    """``entered`` carries a :class:`Typed`; what cannot be read stays, marked."""

    entered = pyqtSignal(object)

    def __init__(self, workspace: Workspace, desk: InstrumentDesk, name: str, parent: QWidget) -> None:
        super().__init__(workspace, parent)
        self.setObjectName(name)
        self.setFont(font(22, bold=True))
        self.setMinimumHeight(48)
        self.kind: Kind = "number"
        self.places = 1
        self.channel = ""
        desk.measured.connect(self._measured)

    def ask(self, place: str, title: str, kind: Kind, places: int, channel: str) -> None:
        """Be for one reading: where it goes, what it is called, of which kind, at how many places, by which channel."""
        self.kind, self.places, self.channel, self.title = kind, places, channel, title
        self.setAccessibleName(title)
        self.setPlaceholderText(f"reading, {places} places" if places > 1 else "reading")
        many = f"{places} places or more, apart by blanks. " if places > 1 else ""
        space = "Space takes the instrument's steady reading. " if channel else ""
        self.offer(place, "")
        if self._workspace.not_taken.at(place) is None:
            self.setToolTip(f"{title}. {many}{space}Enter writes it down.")

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        text = self.text()
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.enter()
            return
        if event.key() == Qt.Key.Key_Escape:
            self._workspace.stop_reading.emit()
            self.release()
            self.clear()
            return
        if event.key() == Qt.Key.Key_Space and self.channel and (not text.strip() or text.endswith(" ")):
            self._workspace.take_reading.emit(self.place, (self.channel,))
            return
        super().keyPressEvent(event)

    def enter(self) -> None:
        """Take what is typed."""
        text = self.text().strip()
        if not text:
            return
        try:
            typed = read_values(text, self.kind, self._workspace.unit, self.places)
        except StoutError as why:
            self.refuse(text, why.words)
            return
        self.release()
        self.clear()
        self.entered.emit(typed)

    def _measured(self, place: str, value: float, spread: float) -> None:
        """The instrument's reading has come: it stands in the line, to be written down."""
        if place != self.place or not place:
            return
        unit = self._workspace.unit
        if self.places > 1:
            before = f"{self.text().strip()} " if self.text().strip() else ""
            text = f"{before}{edit_text(value, self.kind, unit)} "
        else:
            pm = edit_text(2 * spread, self.kind, unit)
            text = edit_text(value, self.kind, unit)
            if any(c in pm for c in "123456789"):
                text += f" ± {pm}"
        self.setText(text)
        self.setModified(True)
        self.setFocus()
