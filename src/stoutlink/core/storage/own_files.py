"""Files the program keeps for one user: what was unsaved, what was open, how the window stood. Nobody else's eyes, no links
followed, read within limits; what cannot be read is as none.
"""

from __future__ import annotations

import contextlib
import os
import stat
from pathlib import Path

from stoutlink.core.errors import FileError, StoutError
from stoutlink.core.storage.disk import read_bytes, refused, write_bytes

MOST_OWN = 1_000_000
"""Bytes of a small file of the program's own."""


def own_folder(folder: Path) -> None:
    """Have a folder for this user alone; raises :class:`FileError`: F124 for what somebody else may have put in its
    place, F122 when the disk refuses.
    """
    try:
        folder.parent.mkdir(parents=True, exist_ok=True)
        with contextlib.suppress(FileExistsError):
            folder.mkdir(mode=0o700)
        found = os.lstat(folder)
        if not stat.S_ISDIR(found.st_mode) or found.st_uid != os.getuid():
            raise FileError("F124", f"{folder} is not this user's own folder, so nothing is kept there.")
        if found.st_mode & 0o077:
            os.chmod(folder, 0o700)
    except OSError as why:
        raise refused(folder, why) from None


def read_own(path: Path, most: int = MOST_OWN) -> bytes | None:
    """What is kept at a path; ``None`` where there is nothing, no ordinary file of one's own, or too much."""
    try:
        if os.lstat(path).st_uid != os.getuid() or path.is_symlink():
            return None
        return read_bytes(path, most)
    except (OSError, ValueError, StoutError):
        return None


def write_own(data: bytes, path: Path) -> bool:
    """Keep it, in one step, for this user alone; ``False`` where that cannot be."""
    try:
        own_folder(path.parent)
        write_bytes(data, path, private=True)
    except StoutError:
        return False
    return True


def append_own(text: str, path: Path, most: int = MOST_OWN) -> bool:
    """Add to a file of one's own; one that has become too long is put aside (``.previous``) and begun anew."""
    try:
        own_folder(path.parent)
        with contextlib.suppress(FileNotFoundError):
            if os.lstat(path).st_size > most:
                os.replace(path, path.with_name(path.name + ".previous"))
        flags = os.O_WRONLY | os.O_APPEND | os.O_CREAT | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC
        handle = os.open(path, flags, 0o600)
        with os.fdopen(handle, "a", encoding="utf-8", errors="backslashreplace") as out:
            os.fchmod(out.fileno(), 0o600)
            out.write(text)
    except (OSError, ValueError, StoutError):
        return False
    return True
