"""Project files on disk: read whole or not at all, written only when they open again, the previous one kept."""

from __future__ import annotations

import hashlib
import os
from pathlib import Path

from msgspec import Struct

from stoutlink.core.document.project import Project
from stoutlink.core.errors import FileError, StoutError
from stoutlink.core.storage.decode import decode_project, encode_project
from stoutlink.core.storage.disk import LARGEST, read_bytes, write_bytes

SUFFIX = ".stoutlink"


class Stamp(Struct, frozen=True):
    """What a file on disk held when it was read or written, and when it was last changed (s since the epoch)."""

    digest: str
    changed: float


def read_project(path: Path) -> Project:
    """Open a project file. Raises :class:`FileError` with one sentence for whatever is wrong."""
    return read_stamped(path)[0]


def read_stamped(path: Path) -> tuple[Project, Stamp]:
    """A project file and its stamp, of one and the same moment; raises as :func:`read_project`."""
    data = read_bytes(path)
    return decode_project(data, path.name), _stamp(data, path)


def stamp_of(path: Path) -> Stamp | None:
    """The stamp of what is at a path now; ``None`` when nothing that can be read is there."""
    try:
        return _stamp(read_bytes(path), path)
    except FileError:
        return None


def write_project(project: Project, path: Path) -> Stamp:
    """Save: prove that it opens again, write beside, flush, keep the old file, take its name.

    Raises :class:`FileError` when it would not open again or the disk refuses; the file that was there is then still
    there, whole. Returns the stamp of what was written.
    """
    data = encode_project(project)
    try:
        same = encode_project(decode_project(data, path.name)) == data
        words = "a value changes on the way"
    except StoutError as why:
        same, words = False, why.sentence.rstrip(".")
    if len(data) > LARGEST:
        same, words = False, f"it would be larger than the {LARGEST // 1024 // 1024} MiB that are read"
    if not same:
        raise FileError(
            "F123",
            f"{path.name} was not written, because it could not be opened again: {words}.",
            "The file on disk is as it was. Change that, then save.",
        )
    write_bytes(data, path, keep_previous=True)
    return _stamp(data, path)


def _stamp(data: bytes, path: Path) -> Stamp:
    try:
        changed = os.stat(path).st_mtime
    except OSError:
        changed = 0.0
    return Stamp(hashlib.sha256(data).hexdigest(), changed)
