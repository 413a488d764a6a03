"""What the window remembers from one run to the next: its place, light or dark, units for new projects, the last folder.

A file that cannot be read is as none; a disk that refuses is no reason to complain.
"""

from __future__ import annotations

import contextlib
from pathlib import Path
from typing import Literal

import msgspec
import platformdirs

from stoutlink.core.errors import StoutError
from stoutlink.core.storage.disk import write_bytes

LightOrDark = Literal["system", "dark", "light"]


class Memory(msgspec.Struct, frozen=True, kw_only=True):
    """``place`` is x, y, width and height of the window, ``side`` the heights of verdict and knock-ons; ``scale`` the
    size of everything, ``None`` as the system's text is.
    """

    theme: LightOrDark = "system"
    units: Literal["in", "mm"] = "in"
    folder: str = ""
    place: tuple[int, int, int, int] | None = None
    maximised: bool = False
    side: tuple[int, int] | None = None
    scale: float | None = None


def _file() -> Path:
    return platformdirs.user_config_path("stout-link") / "window.json"


def recalled() -> Memory:
    """What was remembered, else the defaults."""
    try:
        return msgspec.json.decode(_file().read_bytes(), type=Memory)
    except (OSError, msgspec.MsgspecError, ValueError):
        return Memory()


def remember(memory: Memory) -> None:
    """Keep it for the next run."""
    with contextlib.suppress(OSError, StoutError):
        _file().parent.mkdir(parents=True, exist_ok=True)
        write_bytes(msgspec.json.format(msgspec.json.encode(memory), indent=1), _file())
