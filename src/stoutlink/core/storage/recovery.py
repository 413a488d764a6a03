"""Autosave: unsaved work is kept in a folder of its own until it is saved or thrown away on purpose."""

from __future__ import annotations

import contextlib
import os
from dataclasses import dataclass
from pathlib import Path

import msgspec

from stoutlink.core.document.project import Project
from stoutlink.core.errors import StoutError
from stoutlink.core.storage.decode import decode_project, encode_project
from stoutlink.core.storage.disk import write_bytes


class _Note(msgspec.Struct, frozen=True):
    """Beside each kept project: which file it belongs to and which process holds it."""

    file: str | None
    process: int


@dataclass(frozen=True)
class Leftover:
    """Unsaved work of a run that ended without saving."""

    kept: Path
    file: Path | None
    project: Project


class Recovery:
    """Keeps the unsaved project of this run in ``folder``; one slot a process."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._slot = folder / f"unsaved-{os.getpid()}.json"

    def keep(self, project: Project, file: Path | None) -> None:
        """Write the unsaved state. Raises :class:`~stoutlink.core.errors.FileError` when the disk refuses."""
        with contextlib.suppress(OSError):
            self._folder.mkdir(parents=True, exist_ok=True)
        write_bytes(encode_project(project), self._slot)
        note = _Note(str(file) if file else None, os.getpid())
        write_bytes(msgspec.json.encode(note), self._slot.with_suffix(".note"))

    def clear(self) -> None:
        """Forget this run's unsaved state: it was saved, or given up on purpose."""
        self.forget(self._slot)

    def forget(self, kept: Path) -> None:
        """Remove one kept state."""
        for path in (kept, kept.with_suffix(".note")):
            with contextlib.suppress(OSError):
                path.unlink()

    def leftovers(self) -> list[Leftover]:
        """Kept states whose process is gone, newest first; unreadable ones are left alone."""
        found = []
        with contextlib.suppress(OSError):
            paths = [p for p in self._folder.glob("unsaved-*.json") if p != self._slot]
            for path in sorted(paths, key=lambda p: p.stat().st_mtime, reverse=True):
                note = self._note(path)
                if note is not None and _runs(note.process):
                    continue
                with contextlib.suppress(StoutError, OSError):
                    found.append(
                        Leftover(
                            path,
                            Path(note.file) if note and note.file else None,
                            decode_project(path.read_bytes(), path.name),
                        )
                    )
        return found

    @staticmethod
    def _note(path: Path) -> _Note | None:
        try:
            return msgspec.json.decode(path.with_suffix(".note").read_bytes(), type=_Note)
        except (OSError, msgspec.MsgspecError):
            return None


def _runs(process: int) -> bool:
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except PermissionError:
        return True
    return True
