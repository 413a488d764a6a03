"""A photograph's plane drawn: the net of its places over the photo, and the photo laid true under a view."""

from __future__ import annotations

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.survey.traced import PictureFit
from stoutlink.core.document.plane_picture import PlanePicture
from stoutlink.core.mechanics.photo_plane import pixel_of

Array = NDArray[np.float64]
Bytes = NDArray[np.uint8]
AROUND = 0.35
"""So far beyond the marks, as a part of their spread, the plane is drawn."""
UNDER = -0.05
"""Nothing below this height, m, is drawn: it is under the floor."""
PIECES = 24
MOST_ACROSS = 1400
"""Pixels of a photo laid true, at most."""


class LaidTrue(Struct, frozen=True, eq=False):
    """A photo as it would look square to its plane: pixels ``(high, wide, 4)`` RGBA, clear where the photo shows nothing, between
    ``low`` and ``high`` of the plane, m; its first row is the uppermost, its first column at ``low``."""

    picture: PlanePicture
    rgba: Bytes
    low: tuple[float, float]
    high: tuple[float, float]


def plane_box(found: PictureFit) -> tuple[Array, Array]:
    """Low and high corner of the part of the plane that is drawn, m."""
    marks = np.array([m.place for m in found.marks], dtype=float)
    low, high = marks.min(axis=0), marks.max(axis=0)
    spread = AROUND * max(float((high - low).max()), 0.1)
    low, high = low - spread, high + spread
    if found.picture.view != "plan":
        low[1] = max(low[1], min(UNDER, marks[:, 1].min()))
    return low, high


def net_lines(found: PictureFit, step: float) -> tuple[tuple[tuple[float, float], ...], ...]:
    """Lines of a net of ``step`` m over the plane, as pixels of the photo; none without a fit."""
    if found.fit is None:
        return ()
    low, high = plane_box(found)
    out = []
    for axis in (0, 1):
        for value in np.arange(np.ceil(low[axis] / step), np.floor(high[axis] / step) + 1) * step:
            line = np.empty((PIECES + 1, 2))
            line[:, axis] = value
            line[:, 1 - axis] = np.linspace(low[1 - axis], high[1 - axis], PIECES + 1)
            pixels = pixel_of(found.fit, line)
            seen = pixels[_within(found.picture, pixels)]
            if len(seen) > 1:
                out.append(tuple((float(x), float(y)) for x, y in seen))
    return tuple(out)


def _within(picture: PlanePicture, pixels: Array) -> NDArray[np.bool_]:
    size = np.array([picture.wide_px, picture.high_px])
    return np.asarray(((pixels >= 0.0) & (pixels <= size)).all(axis=-1) & np.isfinite(pixels).all(axis=-1))


def laid_true(found: PictureFit, photo: Bytes) -> LaidTrue | None:
    """The photo (``photo`` ``(high, wide, 4)`` RGBA, held upright, of whatever size it was unpacked to) laid true; ``None`` without a fit."""
    if found.fit is None:
        return None
    low, high = plane_box(found)
    span = high - low
    across = MOST_ACROSS if span[0] >= span[1] else max(2, round(MOST_ACROSS * span[0] / span[1]))
    down = max(2, round(across * span[1] / span[0]))
    x = low[0] + (np.arange(across) + 0.5) / across * span[0]
    out = np.zeros((down, across, 4), dtype=np.uint8)
    tall, wide = photo.shape[:2]
    scale = np.array([wide / found.picture.wide_px, tall / found.picture.high_px])
    for row in range(down):
        y = high[1] - (row + 0.5) / down * span[1]
        pixels = pixel_of(found.fit, np.column_stack([x, np.full(across, y)]))
        seen = _within(found.picture, pixels)
        at = np.clip((pixels[seen] * scale).astype(int), 0, [wide - 1, tall - 1])
        out[row, seen] = photo[at[:, 1], at[:, 0]]
    return LaidTrue(found.picture, out, (float(low[0]), float(low[1])), (float(high[0]), float(high[1])))
