"""An empty catalogue: the three ways to fill it."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from stoutlink.app.desk.labels import Label
from stoutlink.app.desk.theme import font


class DonorStart(QWidget):
    """Shown while there is no axle for the end in work."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("donor_start")
        column = QVBoxLayout(self)
        column.setContentsMargins(40, 60, 40, 40)
        column.setSpacing(6)
        self.title = Label("", self)
        self.title.setFont(font(13, bold=True))
        column.addWidget(self.title)
        self.own, self.table, self.examples = (
            self._way(column, *way)
            for way in (
                ("start_own", "Record an axle", "One you have in front of you: measured and typed on its picture."),
                (
                    "start_table",
                    "Read a catalogue…",
                    "A CSV table, such as a spreadsheet of axles you have seen offered.",
                ),
                (
                    "start_examples",
                    "Bring in the examples",
                    "Invented axles from light to heavy, to see how choosing works. Each stays marked as an example, "
                    "and File, Take the example axles out, clears them.",
                ),
            )
        )
        column.addStretch(1)

    def _way(self, column: QVBoxLayout, name: str, words: str, why: str) -> QPushButton:
        column.addSpacing(10)
        button = QPushButton(words, self)
        button.setObjectName(name)
        button.setToolTip(why)
        button.setMinimumWidth(230)
        column.addWidget(button, 0, Qt.AlignmentFlag.AlignLeft)
        label = Label(why, self)
        label.setWordWrap(True)
        label.setFont(font(9))
        label.setProperty("quiet", True)
        column.addWidget(label)
        return button
