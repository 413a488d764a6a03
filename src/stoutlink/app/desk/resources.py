"""Where the shipped files of the window are."""

from __future__ import annotations

from pathlib import Path

HERE = Path(__file__).parents[1]
FONTS = HERE.parent / "fonts"
ICONS = HERE / "icons"
