"""What every part of the window that deals with files shares: patterns of names, leaving a field, writing."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QApplication, QLineEdit

from stoutlink.core.storage.disk import write_bytes
from stoutlink.core.storage.files import SUFFIX

PROJECTS = f"Stout Link projects (*{SUFFIX} *.json)"
TABLES = "Tables (*.csv)"


def leave_field() -> None:
    """Let a field being typed in hand over its value."""
    field = QApplication.focusWidget()
    if isinstance(field, QLineEdit):
        field.clearFocus()


def write_beside(data: bytes, path: Path, suffix: str) -> Path:
    """Write a file under a chosen name, which gets ``suffix`` when it has none; raises
    :class:`~stoutlink.core.errors.FileError`. Returns where it was written."""
    there = path if path.suffix else path.with_suffix(suffix)
    write_bytes(data, there)
    return there


def heading_of(path: Path) -> str:
    """The first line of a table that says something, in small letters; nothing for what cannot be read."""
    try:
        lines = path.read_text(encoding="utf-8-sig", errors="replace").splitlines()
    except OSError:
        return ""
    return next((x for x in lines if x.strip() and not x.lstrip('"').startswith("#")), "").casefold()
