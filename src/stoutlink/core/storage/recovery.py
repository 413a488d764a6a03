"""Autosave: unsaved work is kept in a folder of its own until it is saved or thrown away on purpose.

Each run has a slot of its own, named by chance, with a note beside it: which file the work belongs to, what that file
held then, and which process keeps it. What an earlier run left is offered; it goes only when another copy is kept.
"""

from __future__ import annotations

import contextlib
import json
import os
import secrets
import threading
from pathlib import Path

import msgspec
from msgspec import Struct

from stoutlink.core.document.project import Project
from stoutlink.core.errors import StoutError
from stoutlink.core.storage.decode import decode_project, encode_project
from stoutlink.core.storage.disk import read_bytes, write_bytes
from stoutlink.core.storage.files import Stamp, stamp_of
from stoutlink.core.storage.own_files import own_folder
from stoutlink.core.storage.process import Owner, this_process


class _Note(msgspec.Struct, frozen=True):
    """Beside each kept project. ``digest`` is of the file as it was when this work began from it."""

    owner: Owner
    file: str | None = None
    digest: str | None = None


class Leftover(Struct, frozen=True):
    """Unsaved work of a run that ended without saving: when it was kept (s since the epoch), and whether the file it
    belongs to has been written since."""

    kept: Path
    file: Path | None
    project: Project
    when: float
    file_newer: float | None
    """When the file was written, if that was after; ``None`` when it was not."""
    digest: str | None = None


class Recovery:
    """Keeps the unsaved project of this run in ``folder``. May be called from any thread."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self.slot = folder / f"unsaved-{secrets.token_hex(6)}.json"
        self._owner = this_process()
        self._turn = threading.Lock()

    def keep(self, project: Project, file: Path | None, stamp: Stamp | None = None) -> None:
        """Write the unsaved state. Raises :class:`FileError` when the disk refuses; what was kept before stays."""
        data = encode_project(project)
        note = _Note(self._owner, str(file) if file else None, stamp.digest if stamp else None)
        with self._turn:
            own_folder(self._folder.parent)
            own_folder(self._folder)
            plain = json.dumps(msgspec.to_builtins(note))  # ASCII, so that any file name goes through
            write_bytes(plain.encode("ascii"), self.slot.with_suffix(".note"), private=True)
            write_bytes(data, self.slot, private=True)

    def clear(self) -> None:
        """Forget this run's unsaved state: it was saved, or given up on purpose."""
        self.forget(self.slot)

    def forget(self, kept: Path) -> None:
        """Remove one kept state."""
        with self._turn:
            for path in (kept, kept.with_suffix(".note")):
                with contextlib.suppress(OSError):
                    path.unlink()

    def leftovers(self) -> list[Leftover]:
        """Kept states whose process is gone, newest first; those that cannot be read are in :meth:`unreadable`."""
        self._tidy()
        found = []
        for path in self._left():
            with contextlib.suppress(StoutError, OSError):
                project = decode_project(read_bytes(path), path.name)
                note, when = _note_of(path), os.stat(path).st_mtime
                file = Path(note.file) if note and note.file else None
                now = stamp_of(file) if file is not None else None
                newer = now.changed if now is not None and now.changed > when else None
                found.append(Leftover(path, file, project, when, newer, note.digest if note else None))
        return found

    def _tidy(self) -> None:
        """Take away notes whose run was ended before the work they belong to was written."""
        with contextlib.suppress(OSError):
            for path in list(self._folder.glob("unsaved-*.note")):
                note = _note_of(path.with_suffix(".json"))
                if not path.with_suffix(".json").exists() and (note is None or not note.owner.runs):
                    path.unlink()

    def unreadable(self) -> list[tuple[Path, StoutError]]:
        """Kept states of gone processes that do not open, and why; they are left alone."""
        found = []
        for path in self._left():
            try:
                decode_project(read_bytes(path), path.name)
            except StoutError as why:
                found.append((path, why))
        return found

    def _left(self) -> list[Path]:
        def age(path: Path) -> float:
            try:
                return os.stat(path).st_mtime
            except OSError:
                return 0.0

        try:
            there = [p for p in self._folder.glob("unsaved-*.json") if p != self.slot]
        except OSError:
            return []
        gone = [p for p in there if (note := _note_of(p)) is None or not note.owner.runs]
        return sorted(gone, key=age, reverse=True)


def _note_of(path: Path) -> _Note | None:
    try:
        plain = json.loads(read_bytes(path.with_suffix(".note"), 1_000_000).decode("utf-8"))
        return msgspec.convert(plain, _Note)
    except (StoutError, ValueError, RecursionError):  # ValidationError is a ValueError
        return None
