"""A window of its own in which a paper is read beside the work."""

from __future__ import annotations

from PyQt6.QtCore import Qt, QUrl
from PyQt6.QtGui import QKeyEvent, QKeySequence, QShortcut
from PyQt6.QtWidgets import QDialog, QLineEdit, QTextBrowser, QVBoxLayout, QWidget

from stoutlink.app.desk.theme import dress
from stoutlink.core.papers import PAPERS, paper


class Reading(QDialog):
    """One paper at a time; links between papers are followed, Ctrl+F finds words, nothing is fetched."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("reading")
        self.resize(820, 680)
        box = QVBoxLayout(self)
        self.find_line = QLineEdit(self)
        self.find_line.setObjectName("reading_find")
        self.find_line.setAccessibleName("Find in this paper")
        self.find_line.setPlaceholderText("find in this paper")
        self.find_line.returnPressed.connect(self.find_next)
        self.text = QTextBrowser(self)
        self.text.setObjectName("reading_text")
        self.text.setAccessibleName("Paper")
        self.text.setOpenLinks(False)
        self.text.anchorClicked.connect(self._follow)
        box.addWidget(self.find_line)
        box.addWidget(self.text, 1)
        finding = QShortcut(QKeySequence(QKeySequence.StandardKey.Find), self)
        finding.activated.connect(self.find_line.setFocus)
        self.name = ""

    def read(self, name: str, place: str = "") -> None:
        """Put a paper up, at a heading if one is named."""
        self.name = name
        self.show_words(PAPERS[name], paper(name), place)

    def show_words(self, title: str, words: str, place: str = "") -> None:
        """Put words up, with markdown for headings and tables; at a place in them, if one is named."""
        self.setWindowTitle(title)
        self.text.setMarkdown(words)
        if place:
            self.text.find(place)
        dress(self)
        self.show()
        self.raise_()
        self.text.setFocus()

    def find_next(self) -> bool:
        """The next place of the words typed; from the top again after the last."""
        words = self.find_line.text()
        if not words:
            return False
        found = self.text.find(words)
        if not found:
            self.text.moveCursor(self.text.textCursor().MoveOperation.Start)
            found = self.text.find(words)
        self.find_line.setProperty("wrong", not found)
        style = self.find_line.style()
        if style is not None:
            style.polish(self.find_line)
        return found

    def _follow(self, link: QUrl) -> None:
        name = link.path().rsplit("/", 1)[-1].removesuffix(".md")
        if name in PAPERS:
            self.read(name)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and self.find_line.hasFocus() and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            return  # Enter finds; it does not close
        super().keyPressEvent(event)
