"""The text of a table's file, within limits."""

from __future__ import annotations

from pathlib import Path

from stoutlink.core.errors import CatalogueError, FileError
from stoutlink.core.storage.disk import read_bytes

LARGEST = 16 * 1024 * 1024


def read_table_text(path: Path) -> str:
    """The text of a table; raises :class:`CatalogueError` (C104, C105) when it cannot be opened or is not text, and
    :class:`FileError` (F101, F120) for what is too large or no file."""
    try:
        return read_bytes(path, LARGEST).decode("utf-8-sig")
    except FileError as why:
        if why.code != "F121":
            raise
        raise CatalogueError("C104", why.sentence.replace(str(path), path.name)) from None
    except UnicodeDecodeError:
        raise CatalogueError("C105", f"{path.name} is not UTF-8 text.") from None
