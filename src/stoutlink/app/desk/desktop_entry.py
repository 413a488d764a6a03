"""The program in the user's own menu: desktop entry, icon and file type, put in and taken out again.

Source: Desktop Entry Specification 1.5, Shared MIME-info Specification 0.21, XDG Base Directory Specification
(freedesktop.org).
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

from stoutlink.app.desk.resources import ICONS
from stoutlink.core.errors import FileError
from stoutlink.core.storage.disk import refused, write_bytes

MIME = "application/x-stout-link-project"
_ENTRY = """[Desktop Entry]
Type=Application
Name=Stout Link
GenericName=Solid axle swap planner
Comment=Plan a solid axle swap from the tape to the cut list
Exec={command} %f
Icon=stout-link
Terminal=false
Categories=Engineering;Science;
Keywords=axle;four-link;anti-squat;suspension;fabrication;
MimeType={mime};
StartupWMClass=stout-link
"""
_TYPE = f"""<?xml version="1.0" encoding="UTF-8"?>
<mime-info xmlns="http://www.freedesktop.org/standards/shared-mime-info">
  <mime-type type="{MIME}">
    <comment>Stout Link project</comment>
    <sub-class-of type="application/json"/>
    <glob pattern="*.stoutlink"/>
    <icon name="stout-link"/>
  </mime-type>
</mime-info>
"""


def data_home() -> Path:
    """Where the user's own entries live."""
    return Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share")


def places() -> tuple[Path, Path, Path]:
    """Entry, icon and file type."""
    home = data_home()
    return (
        home / "applications" / "stout-link.desktop",
        home / "icons" / "hicolor" / "scalable" / "apps" / "stout-link.svg",
        home / "mime" / "packages" / "stout-link.xml",
    )


def install() -> tuple[Path, ...]:
    """Put all three in, in place of those that are there; raises :class:`FileError`."""
    entry, icon, kind = places()
    for path in (entry, icon, kind):
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
        except OSError as why:
            raise refused(path.parent, why) from None
    write_bytes(_ENTRY.format(command=_command(), mime=MIME).encode(), entry)
    write_bytes((ICONS / "stout-link.svg").read_bytes(), icon)
    write_bytes(_TYPE.encode(), kind)
    _tell_the_desktop()
    return entry, icon, kind


def remove() -> tuple[Path, ...]:
    """Take out what is there of the three; raises :class:`FileError`."""
    gone = []
    for path in places():
        try:
            path.unlink()
            gone.append(path)
        except FileNotFoundError:
            continue
        except OSError as why:
            raise FileError(
                "F125", f"{path} cannot be removed: {(why.strerror or 'no reason given').lower()}."
            ) from None
    _tell_the_desktop()
    return tuple(gone)


def _command() -> str:
    """What starts this very program, quoted as a desktop entry wants it."""
    script = Path(sys.executable).with_name("stout-link-app")
    words = [str(script)] if script.exists() else [sys.executable, "-m", "stoutlink.app.main"]
    return " ".join(_quoted(word) for word in words)


def _quoted(word: str) -> str:
    """A word of an Exec line: in double quotes, with what a shell would read escaped, and % doubled.

    >>> _quoted("/opt/my tools/a$b%")
    '"/opt/my tools/a\\\\\\\\$b%%"'
    """
    escaped = "".join(f"\\\\{c}" if c in '"`$\\' else c for c in word)
    return f'"{escaped.replace("%", "%%")}"'


def _tell_the_desktop() -> None:
    """Have menus and file types read again, where there is somebody to do it."""
    home = data_home()
    for name, folder in (("update-desktop-database", "applications"), ("update-mime-database", "mime")):
        if shutil.which(name) and (home / folder).is_dir():
            subprocess.run(
                [name, str(home / folder)], stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, check=False
            )
