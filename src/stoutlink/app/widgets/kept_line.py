"""A line to type in that never loses what was typed: what cannot be taken stays, marked, whatever else changes."""

from __future__ import annotations

from PyQt6.QtWidgets import QLineEdit, QWidget

from stoutlink.app.desk.labels import plain_tip
from stoutlink.app.desk.not_taken import NotTaken
from stoutlink.app.desk.workspace import Workspace
from stoutlink.core.editing.edits import Edit


class KeptLine(QLineEdit):
    """``place`` is the path of the project it is for, ``title`` what it is called. Who owns it calls :meth:`refuse`
    with the sentence why a text is not taken, :meth:`release` once it is or was taken away, and asks :meth:`kept`
    before it shows the project's value.
    """

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._workspace = workspace
        self.place = ""
        self.title = ""

    def kept(self) -> bool:
        """Whether a text that was not taken stands at this place; it is then in view, marked, and says why on hover."""
        kept = self._workspace.not_taken.at(self.place)
        if kept is None:
            self.mark(wrong=False)
            return False
        if not (self.hasFocus() and self.isModified()):
            self.setText(kept.text)
            self.setModified(True)
        self.mark(wrong=True)
        self.setToolTip(f"Not taken: {kept.why} The project keeps what it had; Esc brings that back.")
        return True

    def held(self) -> bool:
        """Whether what is typed here stays in view: it was not taken, or somebody is typing it, though the keys may be with a
        menu or another window just now. What was left without being entered is kept as not taken: nothing typed is written
        over.
        """
        was = bool(self.property("wrong"))
        if self.kept():
            return True
        if was:  # what stood here has been taken away, or went with another project
            self.setModified(False)
        if not self.isModified():
            return False
        if self.place and not self.in_hand():
            self._leave()
            self.kept()
            self._workspace.texts_changed.emit()
        return True

    def in_hand(self) -> bool:
        """Whether the keys are here, or come back here with the window."""
        top = self.window()
        return self.hasFocus() or (top is not None and top.focusWidget() is self)

    def _leave(self) -> None:
        self._workspace.not_taken.keep(NotTaken(self.place, self.title, self.text(), "It was typed, but not entered."))

    def setToolTip(self, text: str | None) -> None:
        super().setToolTip(plain_tip(text or ""))

    def move_to(self, place: str) -> None:
        """Be for another place; what is being typed stays with the one it was typed for."""
        if place == self.place:
            return
        texts = self._workspace.not_taken
        if self.place and self.isModified() and texts.at(self.place) is None:
            self._leave()
        self.setModified(False)
        self.place = place

    def offer(self, place: str, text: str) -> None:
        """Show what the project has at a place, unless the user is typing here or typed what could not be taken."""
        self.move_to(place)
        if not self.held() and self.text() != text:
            self.setText(text)
            self.setModified(False)

    def refuse(self, text: str, why: str, edit: Edit | None = None) -> None:
        """Keep a text that was not taken, and say so. ``edit`` waits for the value it does not go with yet."""
        self._workspace.not_taken.keep(NotTaken(self.place, self.title, text, why, edit))
        self.setText(text)
        self.setModified(True)
        self.kept()
        self._workspace.said.emit(f"{self.title}: {why}", True)
        self._workspace.texts_changed.emit()

    def release(self) -> None:
        """There is nothing here that is not taken."""
        if self._workspace.not_taken.at(self.place) is not None:
            self._workspace.not_taken.remove(self.place)
            self._workspace.texts_changed.emit()
        self.setModified(False)
        self.mark(wrong=False)

    def mark(self, *, wrong: bool) -> None:
        """Mark its text as not taken."""
        if bool(self.property("wrong")) != wrong:
            self.setProperty("wrong", wrong)
            self.restyle()

    def restyle(self) -> None:
        """Have the style look at its properties again."""
        style = self.style()
        if style is not None:
            style.unpolish(self)
            style.polish(self)
