"""Where the linked views lie on a sheet: one of them large and the others small beside it, or four alike in third-angle
arrangement, with the round view in the free corner.
"""

from __future__ import annotations

from functools import lru_cache
from typing import Literal

from msgspec import Struct
from PyQt6.QtCore import QPointF, QRectF

from stoutlink.app.canvas.painting import Frame
from stoutlink.core.document.quantities import Point
from stoutlink.core.drawing.shapes import AXES, SIGN, VIEWS, ViewName, flatten

SMALLEST, LARGEST = 30.0, 3000.0
"""Pixels per metre."""
Large = Literal["side", "plan", "rear", "round", "all"]
"""Which view is large; ``all``: four alike."""
PANES: tuple[Large, ...] = ("side", "plan", "rear", "round")
STRIP = (0.24, 120.0, 250.0)
"""Part of the sheet the small views take, and least and most pixels of it."""
ROOM = 0.94
"""Part of a small view that what is drawn may fill."""


class Fitted(Struct, frozen=True):
    """The box (m) that is to be seen: x range, half width, z range."""

    along: tuple[float, float] = (-0.6, 1.4)
    half: float = 1.0
    up: tuple[float, float] = (-0.1, 1.1)

    @property
    def middle(self) -> Point:
        """Its middle."""
        return (self.along[0] + self.along[1]) / 2, 0.0, (self.up[0] + self.up[1]) / 2

    def size(self, view: ViewName) -> tuple[float, float]:
        """How wide and high it is in a view."""
        x, y, z = self.along[1] - self.along[0], 2 * self.half, self.up[1] - self.up[0]
        return {"side": (x, z), "plan": (x, y), "rear": (y, z)}[view]


@lru_cache(maxsize=16)
def _panes(size: tuple[float, float], large: Large) -> dict[Large, QRectF]:
    """Where the views lie on a sheet of a size (pixels)."""
    w, h = size
    if large == "all":
        x, y = round(w * 0.45), round(h * 0.56)
        return {
            "side": QRectF(x, y, w - x, h - y),
            "plan": QRectF(x, 0, w - x, y),
            "rear": QRectF(0, y, x, h - y),
            "round": QRectF(0, 0, x, y),
        }
    part, least, most = STRIP
    beside = w > 1.2 * h
    strip = round(min(most, max(least, part * (w if beside else h))))
    small = [one for one in PANES if one != large]
    out: dict[Large, QRectF] = {}
    for k, one in enumerate(small):
        a, b = round((h if beside else w) * k / 3), round((h if beside else w) * (k + 1) / 3)
        out[one] = QRectF(w - strip, a, strip, b - a) if beside else QRectF(a, h - strip, b - a, strip)
    out[large] = QRectF(0, 0, w - strip, h) if beside else QRectF(0, 0, w, h - strip)
    return out


class ViewGeometry:
    """Panes, scale and middle of the views; knows no widget. ``carried`` is how far the axle that is followed has gone."""

    def __init__(self) -> None:
        self.size = (880.0, 750.0)
        self.scale = 200.0
        self.middle: Point = (0.4, 0.0, 0.5)
        self.large: Large = "side"
        self.carried: Point = (0.0, 0.0, 0.0)
        self.fitted = Fitted()
        self._frames: tuple[tuple[object, ...], dict[ViewName, Frame]] = ((), {})

    def every_pane(self) -> dict[Large, QRectF]:
        """All four."""
        return {one: QRectF(pane) for one, pane in _panes(self.size, self.large).items()}

    def panes(self) -> dict[ViewName, QRectF]:
        """The three flat ones."""
        every = _panes(self.size, self.large)
        return {view: QRectF(every[view]) for view in VIEWS}

    def is_small(self, view: Large) -> bool:
        """Whether a view stands small beside the large one."""
        return self.large not in ("all", view)

    def frame_of(self, view: ViewName) -> Frame:
        """Metres to pixels in a view."""
        place = self.place
        if self._frames[0] != place:
            self._frames = (place, {one: self._frame(one) for one in VIEWS})
        return self._frames[1][view]

    def _frame(self, view: ViewName) -> Frame:
        pane = _panes(self.size, self.large)[view]
        if self.is_small(view):
            wide, high = self.fitted.size(view)
            scale, middle = ROOM * min(pane.width() / wide, pane.height() / high), self.fitted.middle
        else:
            x, y, z = self.middle
            scale, middle = self.scale, (x + self.carried[0], y + self.carried[1], z + self.carried[2])
        at, (h, v) = pane.center(), flatten(middle, view)
        return Frame(QPointF(at.x() - h * scale, at.y() + v * scale), scale)

    def fit(self, along: tuple[float, float], half: float, up: tuple[float, float]) -> None:
        """Bring a box (m) into all views: x range, half width, z range."""
        self.fitted = Fitted(along, half, up)
        panes = self.panes()
        shown = [view for view in VIEWS if not self.is_small(view)] or ["side"]
        sizes = {view: self.fitted.size(view) for view in VIEWS}
        self.scale = min(min(panes[v].width() / sizes[v][0], panes[v].height() / sizes[v][1]) for v in shown)
        self.scale = max(SMALLEST, min(LARGEST, self.scale))
        self.middle = self.fitted.middle

    def zoom(self, factor: float, view: ViewName, about: QPointF | None = None) -> None:
        """Change the scale, keeping the point under a pixel in place; small views stay whole."""
        if self.is_small(view):
            return
        pixel = about or self.panes()[view].center()
        h, v = self.frame_of(view).back(pixel)
        self.scale = max(SMALLEST, min(LARGEST, self.scale * factor))
        self.shift(view, pixel - self.frame_of(view).at((h, v)))

    def shift(self, view: ViewName, step: QPointF) -> None:
        """Move all views together by a step in pixels made in one of them; a small one stays."""
        if self.is_small(view):
            return
        a, b = AXES[view]
        middle = list(self.middle)
        middle[a] -= SIGN[view] * step.x() / self.scale
        middle[b] += step.y() / self.scale
        self.middle = (middle[0], middle[1], middle[2])

    @property
    def place(self) -> tuple[object, ...]:
        """All that says where a point is drawn, to tell whether it changed."""
        return (self.size, self.scale, self.middle, self.large, self.carried, self.fitted)
