"""Names are the user's: none is ever drawn as markup, in a label, on hover or in a question."""

from __future__ import annotations

from typing import Any

import msgspec
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QMessageBox, QPushButton, QWidget
from pytestqt.qtbot import QtBot

from stoutlink.app.desk import dialogs
from stoutlink.app.main import make_app, make_window
from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps import registry
from stoutlink.core.document.project import Project


@pytest.fixture
def window(whole_window: MainWindow) -> MainWindow:
    """Nothing is known yet, and every sheet is there."""
    return whole_window


NAME = "a<b>c</b>&lt;d<img src=x>"
KEPT = ("unit", "id", "text")


def renamed(value: Any) -> Any:
    """The same with every name, note and size that a user types turned into markup."""
    if isinstance(value, msgspec.Struct):
        changes = {
            key: NAME if key in ("name", "maker", "who", "note", "currency") and isinstance(old, str) else renamed(old)
            for key in value.__struct_fields__
            for old in [getattr(value, key)]
        }
        return msgspec.structs.replace(value, **{k: v for k, v in changes.items() if k not in ("format", "version")})
    if isinstance(value, tuple):
        return tuple(renamed(one) for one in value)
    return value


def drawn_as_markup(text: str, form: Qt.TextFormat) -> bool:
    """Whether Qt would take the name in a text for markup."""
    if NAME.split("<", 1)[1] not in text and "c</b>" not in text:
        return False
    return form in (Qt.TextFormat.RichText, Qt.TextFormat.MarkdownText) or (
        form == Qt.TextFormat.AutoText and Qt.mightBeRichText(text)  # type: ignore[attr-defined]
    )


def test_no_name_is_drawn_as_markup(qtbot: QtBot, basalt: Project) -> None:
    make_app("dark")
    window: MainWindow = make_window(renamed(basalt), None, "dark")
    qtbot.addWidget(window)
    window.show()
    found = set()
    for step in registry.STEPS:
        for key in [look[0] for look in step.looks] or [""]:
            window.show_step(step.id)
            if key:
                window.sheets[step.id].look(key)
            window.refresh()
            for end in ("front", "rear"):
                window.workspace.set_end(end)
                for one in window.findChildren(QWidget):
                    where = f"{step.id} {key} {type(one).__name__} {one.objectName()}"
                    if isinstance(one, QLabel) and drawn_as_markup(one.text(), one.textFormat()):
                        found.add(f"{where}: {one.text()[:80]}")
                    if drawn_as_markup(one.toolTip(), Qt.TextFormat.AutoText):
                        found.add(f"{where} on hover: {one.toolTip()[:80]}")
    window.workspace.session.mark_saved()
    assert Qt.mightBeRichText(NAME)  # type: ignore[attr-defined]
    assert not found, "\n".join(sorted(found))


def test_nor_in_a_question(qtbot: QtBot, basalt: Project, monkeypatch: Any) -> None:
    make_app("dark")
    parent = QWidget()
    qtbot.addWidget(parent)
    seen: list[tuple[str, Qt.TextFormat]] = []

    def shown(box: QMessageBox) -> int:
        seen.append((box.text(), box.textFormat()))
        return 0

    monkeypatch.setattr(QMessageBox, "exec", shown)
    assert dialogs._ask(parent, "Title", f"{NAME} has unsaved changes.", ("Save", "Cancel")) == "Cancel"
    assert seen == [(f"{NAME} has unsaved changes.", Qt.TextFormat.PlainText)]


@pytest.mark.parametrize(
    ("answers", "default"),
    [
        (("Save", "Throw away", "Cancel"), "Save"),
        (("Replace", "Cancel"), "Cancel"),
        (("Save over it", "Save mine under another name", "Open theirs", "Cancel"), "Cancel"),
        (("OK",), "OK"),
    ],
)
def test_enter_alone_gives_nothing_away(
    qtbot: QtBot, monkeypatch: pytest.MonkeyPatch, answers: tuple[str, ...], default: str
) -> None:
    make_app("dark")
    parent = QWidget()
    qtbot.addWidget(parent)
    seen: list[str] = []

    def shown(box: QMessageBox) -> int:
        box.show()
        pushed = [b for b in box.buttons() if isinstance(b, QPushButton)]
        one = box.defaultButton() or next((b for b in pushed if b.isDefault()), None)
        seen.append(one.text() if one is not None else "")
        return 0

    monkeypatch.setattr(QMessageBox, "exec", shown)
    dialogs._ask(parent, "Title", "What?", answers)
    assert seen == [default]
