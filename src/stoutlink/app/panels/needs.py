"""What is still to be entered before something can be said: one button a number, which leads to its field."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from stoutlink.app.desk.labels import Label
from stoutlink.app.desk.theme import font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.core.analysis.vehicle.lacking import FOR, GROUPS, Need


class Needs(QWidget):
    """A heading and the numbers that are wanted, grouped by what they are for. ``extra`` puts further things to do
    below them: their words and what a click does.
    """

    def __init__(self, workspace: Workspace, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName(name)
        self.setAccessibleName("Still to be entered")
        self._workspace = workspace
        self._shown: object = None
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(12, 8, 12, 8)
        self._column.setSpacing(3)
        self._rows: list[QWidget] = []

    def show_needs(
        self, heading: str, needs: tuple[Need, ...], extra: tuple[tuple[str, Callable[[], object]], ...] = ()
    ) -> None:
        """Show what is wanted; nothing is rebuilt when it is the same."""
        key = (heading, needs, tuple(words for words, _ in extra))
        if key == self._shown:
            return
        self._shown = key
        while (item := self._column.takeAt(0)) is not None:
            gone = item.widget()
            if gone is not None:
                gone.hide()
                gone.deleteLater()
        self._words(heading, bold=True)
        for group in GROUPS:
            rows = [n for n in needs if n.group == group]
            if rows:
                self._words(f"for {FOR[group]}:")
            for need in rows:
                self._button(f"need_{need.path}", need.words, partial(self._workspace.go_to.emit, need.field))
        for words, act in extra:
            self._button(f"need_{words}", words, act)
        self._column.addStretch(1)

    def _words(self, text: str, *, bold: bool = False) -> None:
        label = Label(text, self)
        label.setWordWrap(True)
        label.setFont(font(10 if bold else 8.5, bold=bold))
        if not bold:
            label.setProperty("quiet", True)
        self._column.addWidget(label)
        label.show()

    def _button(self, name: str, words: str, act: Callable[[], object]) -> None:
        button = QPushButton(f"○  {words}", self)
        button.setObjectName(name)
        button.setAccessibleName(words)
        button.setToolTip(f"Go to where it is entered: {words[:1].lower()}{words[1:]}.")
        button.setProperty("flat", True)
        button.setProperty("row", True)
        button.setFont(font(9.5))
        button.clicked.connect(lambda _=False: act())
        self._column.addWidget(button)
        button.show()
