"""Photos beside a project: copied by content into a folder of their own, named by what is in them, never inside the file."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable
from pathlib import Path

from msgspec import Struct

from stoutlink.core.errors import FileError
from stoutlink.core.storage.disk import read_bytes, refused, write_bytes

LARGEST_PHOTO = 40_000_000
"""Bytes of one photo; a phone's are 2 to 12 million."""
SHORTEST, LONGEST = 5.0, 1000.0
"""A focal length outside of this, mm, is none that a camera states."""
SUFFIXES = (".jpg", ".jpeg", ".png")
_STARTS = ((b"\xff\xd8\xff", "jpg"), (b"\x89PNG\r\n\x1a\n", "png"))


def photo_folder(project_file: Path) -> Path:
    """Where the photos of a project lie.

    >>> photo_folder(Path("/tmp/rig.stoutlink")).name
    'rig.photos'
    """
    return project_file.with_name(f"{project_file.stem}.photos")


def add_photo(project_file: Path, photo: Path) -> str:
    """Copy a photo beside the project; returns its name there. The same picture twice is kept once. Raises
    :class:`FileError`: F150 for what is neither JPEG nor PNG, F101, F120, F121 for what cannot be read, F122 for what cannot be
    written."""
    data = read_bytes(photo, LARGEST_PHOTO)
    kind = next((name for start, name in _STARTS if data.startswith(start)), None)
    if kind is None:
        raise FileError("F150", f"{photo.name} is neither a JPEG nor a PNG picture.", "Save it as one of these first.")
    name = f"{hashlib.sha256(data).hexdigest()}.{kind}"
    folder = photo_folder(project_file)
    try:
        folder.mkdir(mode=0o755, exist_ok=True)
    except OSError as why:
        raise refused(folder, why) from None
    there = folder / name
    if not is_whole(there):
        write_bytes(data, there)
    return name


class PhotoFacts(Struct, frozen=True):
    """Of a picture held upright, as the camera says it was held: its size in pixels, and the focal length it states for the
    24 × 36 mm frame, mm."""

    wide: int
    high: int
    focal_mm: float | None


def photo_facts(photo: Path) -> PhotoFacts:
    """What a picture says of itself, without unpacking it. Raises :class:`FileError` F156 for what no picture can be made of."""
    from PIL import ExifTags, Image  # noqa: PLC0415 - slow to load

    try:
        with Image.open(photo) as image:
            wide, high = image.size
            exif = image.getexif()
            turned = exif.get(ExifTags.Base.Orientation) in (5, 6, 7, 8)
            told = exif.get_ifd(ExifTags.IFD.Exif).get(ExifTags.Base.FocalLengthIn35mmFilm)
    except Exception as why:
        raise FileError(
            "F156", f"{photo.name} cannot be read as a picture.", "Open it and save it anew first."
        ) from why
    focal = float(told) if isinstance(told, int | float) and SHORTEST <= float(told) <= LONGEST else None
    return PhotoFacts(high, wide, focal) if turned else PhotoFacts(wide, high, focal)


def copy_photos(names: Iterable[str], source: Path, target: Path) -> tuple[str, ...]:
    """Copy photos of a project that is kept under another name along with it: ``source`` and ``target`` are the project files. Returns what was
    not there to be copied. Raises :class:`FileError` F122 for what cannot be written."""
    lost = []
    for name in names:
        there, here = find_photo(source, name), photo_folder(target) / name
        if here.is_file() and is_whole(here):
            continue
        if there is None or not is_whole(there):
            lost.append(name)
            continue
        add_photo(target, there)
    return tuple(lost)


def is_whole(photo: Path) -> bool:
    """Whether a photo is there and is what its name says it is; one that was cut or changed is not."""
    try:
        return hashlib.sha256(read_bytes(photo, LARGEST_PHOTO)).hexdigest() == photo.stem
    except FileError:
        return False


def find_photo(project_file: Path | None, name: str) -> Path | None:
    """Where a photo lies; ``None`` where it is missing or the project has no file."""
    if project_file is None:
        return None
    there = photo_folder(project_file) / name
    return there if there.is_file() else None
