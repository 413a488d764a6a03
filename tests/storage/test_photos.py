"""Photos beside a project: by content, once each, nothing but pictures, a missing one is told."""

from __future__ import annotations

import hashlib
from pathlib import Path

import pytest

from stoutlink.core.errors import FileError
from stoutlink.core.storage.photos import add_photo, find_photo, photo_folder

JPEG, PNG = b"\xff\xd8\xff\xe0" + b"x" * 50, b"\x89PNG\r\n\x1a\n" + b"y" * 50


def test_a_photo_is_copied_by_its_content_once(tmp_path: Path) -> None:
    project, one = tmp_path / "rig.stoutlink", tmp_path / "IMG 1.JPG"
    one.write_bytes(JPEG)
    two = tmp_path / "same again.jpeg"
    two.write_bytes(JPEG)
    name = add_photo(project, one)
    assert name == f"{hashlib.sha256(JPEG).hexdigest()}.jpg"
    assert add_photo(project, two) == name
    assert [p.name for p in photo_folder(project).iterdir()] == [name]
    there = find_photo(project, name)
    assert there is not None
    assert there.read_bytes() == JPEG
    one.unlink()
    assert find_photo(project, name) == there, "the project's own copy stays"


def test_what_is_no_picture_is_refused_and_nothing_is_made(tmp_path: Path) -> None:
    text = tmp_path / "photo.jpg"
    text.write_text("not a picture")
    with pytest.raises(FileError) as why:
        add_photo(tmp_path / "rig.stoutlink", text)
    assert why.value.code == "F150"
    assert not photo_folder(tmp_path / "rig.stoutlink").exists()
    with pytest.raises(FileError):
        add_photo(tmp_path / "rig.stoutlink", tmp_path / "gone.png")


def test_a_folder_that_cannot_be_made_is_said(tmp_path: Path) -> None:
    photo = tmp_path / "a.png"
    photo.write_bytes(PNG)
    (tmp_path / "rig.photos").write_text("in the way")
    with pytest.raises(FileError) as why:
        add_photo(tmp_path / "rig.stoutlink", photo)
    assert why.value.code == "F122"


def test_a_missing_photo_is_none(tmp_path: Path) -> None:
    assert find_photo(None, "0" * 64 + ".jpg") is None
    assert find_photo(tmp_path / "rig.stoutlink", "0" * 64 + ".jpg") is None
