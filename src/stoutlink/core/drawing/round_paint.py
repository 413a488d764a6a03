"""What is seen in the round as colours, for the screen and for a film alike."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from stoutlink.core.drawing.round_view import Look

Colour = tuple[int, int, int]
DARKEST = 0.42
"""How bright a face is that the lamp does not reach."""
ON_PAPER: dict[str, Colour] = {
    "tyre": (92, 88, 80), "housing": (142, 134, 118), "link_upper": (58, 54, 48), "link_lower": (110, 104, 94), "link_panhard": (150, 112, 30),
    "rail": (176, 138, 60), "solid": (168, 160, 142), "room": (206, 197, 176), "shaft": (128, 122, 110), "drag_link": (150, 128, 74), "leaf": (70, 124, 98),
    "cut": (74, 112, 176), "mark": (196, 96, 24), "lit": (190, 48, 32), "ink": (36, 34, 30), "sheet": (241, 234, 217),
}  # fmt: skip
"""Colours on butcher paper, where no screen lends its own."""


def pixels(look: Look, lit: frozenset[str], colours: Mapping[str, Colour]) -> NDArray[np.uint32]:
    """A look as ``0xAARRGGBB`` ``(high, wide)``: things by their role, those ``lit`` as ``"lit"``, edges as ``"ink"``; clear
    where nothing is seen.
    """
    scene = look.scene
    base = np.array([colours["lit" if t.name in lit else t.role] for t in scene.things], dtype=float).reshape(-1, 3)
    shade = (DARKEST + (1.0 - DARKEST) * look.light)[:, None]
    rgb = (base[scene.owner] * shade).astype(np.uint32)
    table = np.append(0xFF000000 | (rgb[:, 0] << 16) | (rgb[:, 1] << 8) | rgb[:, 2], 0).astype(np.uint32)
    out = table[look.seen.which]
    r, g, b = colours["ink"]
    out[look.edges] = 0xFF000000 | (r << 16) | (g << 8) | b
    return np.asarray(out)
