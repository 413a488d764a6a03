"""The closed outlines of a DXF drawing, read in a process of its own."""

from __future__ import annotations

from pathlib import Path

from stoutlink.core.storage.read_apart import ReadApart

Flat = tuple[float, float]
SECONDS = 15


class DrawingReader(ReadApart):
    """Reads the closed outlines of a DXF drawing (see :func:`.dxf_outline.read_outlines`) beside whoever asks."""

    def __init__(self, path: Path, unit: str) -> None:
        super().__init__("stoutlink.core.storage.dxf_outline", path, unit, seconds=SECONDS)

    def outlines(self) -> list[tuple[Flat, ...]]:
        """The outlines, m, once it is done; raises :class:`FileError` for what cannot be read."""
        found = self.answer("Save the outline alone in a drawing of its own.")
        return [tuple((x, y) for x, y in one) for one in found["outlines"]]
