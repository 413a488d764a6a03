"""Every modal question goes through :data:`ask`, every file choice through :data:`choose_file`: tests replace both."""

from __future__ import annotations

import re
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Protocol

from PyQt6.QtCore import QEventLoop, Qt, QTimer
from PyQt6.QtWidgets import QFileDialog, QInputDialog, QMessageBox, QProgressDialog, QWidget

from stoutlink.app.desk.theme import dress

if TYPE_CHECKING:
    from PyQt6.QtPrintSupport import QPrinter

Ask = Callable[[QWidget, str, str, tuple[str, ...]], str]


class AskText(Protocol):
    """Ask for a line of text, which may begin with ``start``; ``None`` when it was given up."""

    def __call__(self, parent: QWidget, title: str, prompt: str, start: str = "") -> str | None: ...


RISKY = ("Replace", "Save over it", "Save all the same", "Open it all the same", "Go on without it", "Take it")
"""Answers that Enter alone does not give: with one of these first, the last is what it gives."""


def _ask(parent: QWidget, title: str, text: str, answers: tuple[str, ...]) -> str:
    """Ask and return the chosen answer; closing the box is the last answer."""
    box = QMessageBox(parent)
    box.setObjectName("question")
    box.setWindowTitle(title)
    box.setTextFormat(Qt.TextFormat.PlainText)  # names are the user's: nothing in them is markup
    box.setText(text)
    buttons = {}
    for answer in answers:
        role = (
            QMessageBox.ButtonRole.RejectRole
            if answer == answers[-1] and len(answers) > 1
            else QMessageBox.ButtonRole.AcceptRole
        )
        button = box.addButton(answer, role)
        buttons[button] = answer
        if answers[0] in RISKY and answer == answers[-1]:
            box.setDefaultButton(button)
    dress(box)
    box.exec()
    clicked = box.clickedButton()
    return next((name for button, name in buttons.items() if button is clicked), answers[-1])


def _choose_file(parent: QWidget, title: str, start: str, pattern: str, save: bool) -> Path | None:
    """Whether a file that is there may be replaced is asked by who writes it, once its whole name is known."""
    if not save:
        name, _ = QFileDialog.getOpenFileName(parent, title, start, pattern)
        return Path(name) if name else None
    keep_quiet = QFileDialog.Option.DontConfirmOverwrite
    name, chosen = QFileDialog.getSaveFileName(parent, title, start, pattern, options=keep_quiet)
    path = Path(name)
    known = re.findall(r"\*(\.\w+)", pattern)
    if name and chosen and path.suffix.lower() not in known:  # the kind that was picked from several
        path = path.with_name(path.name + next(iter(re.findall(r"\*(\.\w+)", chosen)), ""))
    return path if name else None


def _ask_text(parent: QWidget, title: str, prompt: str, start: str = "") -> str | None:
    box = QInputDialog(parent)
    box.setObjectName("text_question")
    box.setWindowTitle(title)
    box.setLabelText(prompt)
    box.setTextValue(start)
    dress(box)
    return box.textValue() if box.exec() else None


def _wait(parent: QWidget, words: str, done: Callable[[], bool], stop: Callable[[], None]) -> bool:
    """Wait beside the window until ``done``, saying so after a moment; ``False`` when it was given up."""
    box = QProgressDialog(words, "Give up", 0, 0, parent)
    box.setObjectName("waiting")
    box.setWindowModality(Qt.WindowModality.WindowModal)
    box.setMinimumDuration(400)
    dress(box)
    loop, look = QEventLoop(), QTimer()
    look.timeout.connect(lambda: loop.quit() if done() else None)
    box.canceled.connect(loop.quit)
    look.start(15)
    loop.exec()
    look.stop()
    ended = done()
    if not ended:
        stop()
    box.reset()
    box.deleteLater()
    return ended


def _preview(parent: QWidget, printer: QPrinter, paint: Callable[[QPrinter], object]) -> None:
    """Show how it prints; paper, printer or PDF file are chosen there."""
    from PyQt6.QtPrintSupport import QPrintPreviewDialog  # noqa: PLC0415 - loaded when somebody prints

    box = QPrintPreviewDialog(printer, parent)
    box.setObjectName("print_preview")
    box.setWindowTitle("Print preview")
    box.resize(1000, 720)
    dress(box)
    box.paintRequested.connect(paint)
    box.exec()


ask: Ask = _ask
preview: Callable[[QWidget, QPrinter, Callable[[QPrinter], object]], None] = _preview
wait: Callable[[QWidget, str, Callable[[], bool], Callable[[], None]], bool] = _wait
choose_file: Callable[[QWidget, str, str, str, bool], Path | None] = _choose_file
ask_text: AskText = _ask_text
