"""The program in the user's menu and out again, by the published specifications of freedesktop.org."""

from __future__ import annotations

import configparser
import os
import re
import shlex
import shutil
import subprocess
import xml.etree.ElementTree as ET
from pathlib import Path

import pytest

from stoutlink.app import main as app_main
from stoutlink.app.desk import desktop_entry
from stoutlink.core.errors import FileError

NAMESPACE = "{http://www.freedesktop.org/standards/shared-mime-info}"


def test_in_and_out(tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]) -> None:
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    others = tmp_path / "data" / "applications" / "other.desktop"
    others.parent.mkdir(parents=True)
    others.write_text("theirs", encoding="utf-8")
    assert app_main.main(["--install-desktop"]) == 0
    assert app_main.main(["--install-desktop"]) == 0  # again is no trouble
    assert capsys.readouterr().out.count("written:") == 6
    entry, icon, kind = desktop_entry.places()
    read = configparser.ConfigParser(interpolation=None)
    read.optionxform = str  # type: ignore[assignment, method-assign]
    read.read(entry, encoding="utf-8")
    keys = read["Desktop Entry"]
    assert {"Type", "Name", "Exec", "Icon"} <= set(keys)  # what the specification asks of an application
    command = shlex.split(keys["Exec"])
    assert command[-1] == "%f"
    assert os.access(command[0], os.X_OK)
    assert keys["MimeType"] == f"{desktop_entry.MIME};"
    assert keys["Icon"] == icon.stem
    assert ET.parse(icon).getroot().tag.endswith("svg")
    mime = ET.parse(kind).getroot().find(f"{NAMESPACE}mime-type")
    assert mime is not None
    assert mime.get("type") == desktop_entry.MIME
    glob = mime.find(f"{NAMESPACE}glob")
    assert glob is not None
    assert glob.get("pattern") == "*.stoutlink"
    if shutil.which("desktop-file-validate"):
        subprocess.run(["desktop-file-validate", str(entry)], check=True)
    assert app_main.main(["--remove-desktop"]) == 0
    assert not any(path.exists() for path in (entry, icon, kind))
    assert others.read_text(encoding="utf-8") == "theirs"
    assert app_main.main(["--remove-desktop"]) == 0
    assert capsys.readouterr().out.endswith("nothing to remove\n")


def test_what_it_starts_is_this_program(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    entry = desktop_entry.install()[0]
    line = next(x for x in entry.read_text(encoding="utf-8").splitlines() if x.startswith("Exec="))
    command = shlex.split(line.removeprefix("Exec="))[:-1]
    done = subprocess.run([*command, "--version"], capture_output=True, text=True, check=True)
    assert done.stdout.startswith("stout-link-app ")


def test_a_folder_that_cannot_be_written(monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]) -> None:
    """F122; and F125 for what cannot be taken out."""
    monkeypatch.setenv("XDG_DATA_HOME", "/proc/none")
    assert app_main.main(["--install-desktop"]) == 2
    assert "cannot be written" in capsys.readouterr().err


def test_what_cannot_be_removed_is_named(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    entry = desktop_entry.install()[0]
    entry.unlink()
    entry.mkdir()
    with pytest.raises(FileError, match="cannot be removed") as told:
        desktop_entry.remove()
    assert told.value.code == "F125"


def test_quoting() -> None:
    """Reserved characters of an Exec line stand in double quotes behind a backslash, which the rule for all strings of
    an entry doubles; a percent sign is doubled."""
    word = desktop_entry._quoted('/opt/my tools/a"b$c`d%')
    assert word == '"/opt/my tools/a\\\\"b\\\\$c\\\\`d%%"'
    string = word.replace("\\\\", "\\")  # the rule for all strings comes first
    assert re.sub(r"\\(.)", r"\1", string[1:-1]).replace("%%", "%") == '/opt/my tools/a"b$c`d%'
