"""Project files on disk: never overwritten in place, the previous one kept."""

from __future__ import annotations

import contextlib
import os
import tempfile
from pathlib import Path

from stoutlink.core.document.project import Project
from stoutlink.core.errors import FileError
from stoutlink.core.storage.decode import decode_project, encode_project

SUFFIX = ".stoutlink"


def read_project(path: Path) -> Project:
    """Open a project file. Raises :class:`FileError` with one sentence for whatever is wrong."""
    try:
        data = path.read_bytes()
    except IsADirectoryError:
        raise FileError("F120", f"{path} is a folder, not a project file.") from None
    except OSError as why:
        raise FileError("F121", f"{path} cannot be opened: {(why.strerror or 'unknown reason').lower()}.") from None
    return decode_project(data, path.name)


def write_project(project: Project, path: Path) -> None:
    """Save: write beside, flush to disk, keep the old file as ``NAME.previous``, rename.

    Raises :class:`FileError` when the disk refuses; the file that was there is then still there, whole.
    """
    write_bytes(encode_project(project), path, keep_previous=True)


def write_bytes(data: bytes, path: Path, *, keep_previous: bool = False) -> None:
    """Put ``data`` at ``path`` atomically; see :func:`write_project`."""
    path = path.resolve() if path.is_symlink() else path
    temporary: str | None = None
    try:
        handle, temporary = tempfile.mkstemp(dir=path.parent, prefix=f".{path.name}.", suffix=".part")
        with os.fdopen(handle, "wb") as out:
            out.write(data)
            out.flush()
            os.fsync(out.fileno())
        os.chmod(temporary, path.stat().st_mode & 0o777 if path.exists() else 0o666 & ~_umask())
        if keep_previous and path.exists():
            previous = path.with_name(path.name + ".previous")
            with contextlib.suppress(FileNotFoundError):
                previous.unlink()
            os.link(path, previous)
        os.replace(temporary, path)
        _sync_folder(path.parent)
    except OSError as why:
        if temporary is not None:
            with contextlib.suppress(OSError):
                os.unlink(temporary)
        reason = (why.strerror or "unknown reason").lower()
        raise FileError(
            "F122", f"{path} cannot be written: {reason}.", "Nothing is lost: save under another name or make room."
        ) from None


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask


def _sync_folder(folder: Path) -> None:
    with contextlib.suppress(OSError):
        handle = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)
