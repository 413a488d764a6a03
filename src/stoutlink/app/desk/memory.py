"""What the window remembers from one run to the next: its place, light or dark, units for new projects, the last folder.

A file that cannot be read is as none; a disk that refuses is no reason to complain.
"""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Literal

import msgspec
import platformdirs
from msgspec import Meta

from stoutlink.core.storage.own_files import read_own, write_own

LightOrDark = Literal["system", "dark", "light"]

_Where = Annotated[int, Meta(ge=-100_000, le=100_000)]
_Size = Annotated[int, Meta(ge=1, le=20_000)]
_Share = Annotated[int, Meta(ge=0, le=20_000)]


class Drawing(msgspec.Struct, frozen=True, kw_only=True):
    """How drawings stand: which view is ``large``, how wide the ``column`` of results is and whether it is ``folded``, whether
    the axle is followed, and in the round the ``plane`` a pivot is dragged in and from where it is looked at, rad."""

    large: Literal["side", "plan", "rear", "round", "all"] = "side"
    column: Annotated[int, Meta(ge=100, le=4000)] = 400
    folded: bool = False
    follow: bool = False
    plane: Literal["look", "side", "plan", "rear"] = "look"
    turn: Annotated[float, Meta(ge=-3.2, le=3.2)] = -0.610865
    tilt: Annotated[float, Meta(ge=-1.6, le=1.6)] = 0.383972


class Memory(msgspec.Struct, frozen=True, kw_only=True):
    """``place`` is x, y, width and height of the window, ``side`` the heights of verdict and knock-ons; ``scale`` the
    size of everything, ``None`` as the system's text is.
    """

    theme: LightOrDark = "system"
    units: Literal["in", "mm"] = "in"
    folder: str = ""
    place: tuple[_Where, _Where, _Size, _Size] | None = None
    maximised: bool = False
    side: tuple[_Share, _Share] | None = None
    scale: Annotated[float, Meta(ge=0.5, le=4.0)] | None = None
    drawing: Drawing = Drawing()


def _file() -> Path:
    return platformdirs.user_config_path("stout-link") / "window.json"


def recalled() -> Memory:
    """What was remembered, else the defaults."""
    try:
        return msgspec.json.decode(read_own(_file()) or b"{}", type=Memory)
    except (msgspec.MsgspecError, ValueError, RecursionError):
        return Memory()


def remember(memory: Memory) -> None:
    """Keep it for the next run."""
    write_own(msgspec.json.format(msgspec.json.encode(memory), indent=1), _file())
