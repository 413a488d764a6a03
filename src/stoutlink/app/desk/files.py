"""What every part of the window that deals with files shares: patterns of names, leaving a field, naming what is written."""

from __future__ import annotations

import os
import re
from pathlib import Path

from PyQt6.QtWidgets import QApplication, QLineEdit, QWidget

from stoutlink.app.desk import dialogs
from stoutlink.core.storage.files import SUFFIX

PROJECTS = f"Stout Link projects (*{SUFFIX} *.json)"
TABLES = "Tables (*.csv)"
PAPERS = "Papers (*.pdf)"
DRAWINGS = {"dxf": "Drawings (*.dxf)", "svg": "Drawings (*.svg)"}


def leave_field() -> None:
    """Let a field being typed in hand over its value."""
    field = QApplication.focusWidget()
    if isinstance(field, QLineEdit):
        field.clearFocus()


def with_suffix_of(path: Path, pattern: str) -> Path:
    """A chosen name with the first suffix of a file pattern, unless it ends in one of them already.

    >>> with_suffix_of(Path("rig v1.2"), "Projects (*.stoutlink *.json)").name, with_suffix_of(Path("a.JSON"), "(*.json)").name
    ('rig v1.2.stoutlink', 'a.JSON')
    """
    known = re.findall(r"\*(\.\w+)", pattern)
    return path if not known or path.suffix.lower() in known else path.with_name(path.name + known[0])


def choose_to_write(parent: QWidget, title: str, start: Path, pattern: str) -> Path | None:
    """Have a file named that is to be written: its suffix is put on before it is asked whether a file that is there
    may be replaced. ``None`` when nothing is to be written."""
    chosen = dialogs.choose_file(parent, title, str(start), pattern, True)
    if chosen is None:
        return None
    path = with_suffix_of(chosen, pattern)
    if os.path.lexists(path):
        words = f"{path.name} is already in {path.parent}."
        if dialogs.ask(parent, "Replace it?", words, ("Replace", "Cancel")) != "Replace":
            return None
    return path


def heading_of(path: Path) -> str:
    """The first line of a table that says something, in small letters; nothing for what cannot be read."""
    try:
        with path.open(encoding="utf-8-sig", errors="replace") as rows:
            lines = rows.read(100_000).splitlines()
    except (OSError, ValueError):
        return ""
    return next((x for x in lines if x.strip() and not x.lstrip('"').startswith("#")), "").casefold()
