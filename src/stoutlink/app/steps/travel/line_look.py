"""Looks that are lines of word and number with fields below."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray
from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter, QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QSplitter, QVBoxLayout, QWidget

from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.travel.look import WAIT, TravelLook
from stoutlink.app.widgets.path_drawer import Entry, PathDrawer
from stoutlink.app.widgets.picture import Hit, Picture, flow, scrolled, text
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.document.layout import Layout
from stoutlink.core.quantity.shown import Kind, show

MOST_FIELDS = 0.55
"""Part of a look's height that its fields may take of themselves."""


class LookLine(Struct, frozen=True):
    """A line: word, value, hover, whether it is out of what is wanted; beside it the same for what it is held
    against, and what a click does. Without a value it is a sentence."""

    word: str
    value: str = ""
    tip: str = ""
    bad: bool = False
    other: str = ""
    act: Callable[[], object] | None = None
    name: str = ""
    strong: bool = False
    left: float = 0.0
    """Part of the width for the word, where it is not the usual one."""


class LineLook(TravelLook):
    """Lines above, fields below, the border between them to be dragged."""

    caution = ""

    def __init__(self, workspace: Workspace, name: str, title: str, parent: QWidget | None = None) -> None:
        super().__init__(workspace, name, title, parent)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.setSpacing(2)
        self.list = Picture(f"{name}_lines", title, self)
        self.split = QSplitter(Qt.Orientation.Vertical, self)
        self.split.setObjectName(f"{name}_split")
        self.split.setChildrenCollapsible(False)
        self.split.addWidget(scrolled(self.list, self))
        self.drawer = PathDrawer(workspace, f"{name}_drawer", 2, self, wide=88)
        self.fields = scrolled(self.drawer, self)
        self.split.addWidget(self.fields)
        self._dragged = False
        """Whether the border stands where somebody has put it."""
        self.split.splitterMoved.connect(self._keep)
        inside.addWidget(self.split, 1)
        self._filled: tuple[object, ...] | None = None
        self.buttons = QHBoxLayout()
        self.buttons.setSpacing(4)
        inside.addLayout(self.buttons)

    def add_button(self, name: str, words: str, tip: str, act: Callable[[], object]) -> QPushButton:
        """A button below the fields."""
        out = QPushButton(words, self)
        out.setObjectName(name)
        out.setAccessibleName(words)
        out.setToolTip(tip)
        out.setFont(font(8.5))
        out.setStyleSheet("padding: 2px 6px;")
        out.clicked.connect(lambda _=False: act())
        self.buttons.addWidget(out)
        return out

    def prepare(self) -> None:
        now = (self.workspace.project, self.workspace.end, self.shown.travel, self.theme)
        if self._filled is None or any(
            a is not b for a, b in zip(now, self._filled, strict=True)
        ):  # a step of the scrub changes no field
            entries = self.entries()
            self.drawer.show_entries(entries)
            self.fields.setVisible(bool(entries))
            self._filled = now
            self._share()
        assert self.theme is not None
        self.list.show_with(self.theme, self._paint)

    def _keep(self) -> None:
        self._dragged = True

    def _share(self) -> None:
        """As much room for the fields as they need, up to a part of all there is; the rest for the lines."""
        high = self.split.height()
        if not self._dragged and high > 0:
            below = min(self.drawer.sizeHint().height() + 10, round(MOST_FIELDS * high))
            self.split.setSizes([high - below, below])

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._share()

    @property
    def layout_shown(self) -> Layout | None:
        """The layout in work."""
        return self.workspace.project.layout(self.workspace.end)

    def entries(self) -> tuple[Entry, ...]:
        """Fields below."""
        return ()

    def lines(self) -> list[LookLine]:
        """Lines above."""
        return []

    def say(self, v: float, kind: Kind, decimals: int = 2) -> str:
        """A number in the project's unit."""
        if kind != "length":
            return show(v, kind, self.workspace.unit)
        return show(
            v, kind, self.workspace.unit, decimals=decimals if self.workspace.unit == "in" else max(0, decimals - 1)
        )

    def _paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        w, y = float(picture.width()), 2.0
        if self.shown.travel is None:
            text(p, QRectF(4, y, w - 8, 16), WAIT, t.quiet, size=9)
            return
        lines = self.lines()
        beside = any(one.other for one in lines)
        for one in lines:
            if not one.value:
                high = flow(p, QRectF(4, y, w - 8, 80), one.word, t.torch if one.bad else t.quiet, size=9) + 4
                if one.act is not None:
                    picture.hits.append(Hit(QRectF(0, y, w, high), one.tip, one.act, one.name))
                y += high
                continue
            place = QRectF(0, y, w, 16)
            against = f" Compared: {one.other}." if one.other else ""
            picture.hits.append(Hit(place, f"{one.word}: {one.value}.{against} {one.tip}", one.act, one.name))
            if not place.intersects(picture.asked):
                y += 17
                continue
            left = one.left or (0.36 if beside else 0.44)
            text(p, QRectF(4, y, w * left, 16), one.word, t.text if one.strong else t.quiet, size=8.5, elide=True)
            value = f"{'▲ ' if one.bad else ''}{one.value}"
            place = QRectF(w * left, y, w * ((0.72 if beside else 1.0) - left) - 4, 16)
            text(p, place, value, t.torch if one.bad else t.text, size=8.5, align="right", elide=True, bold=one.strong)
            if beside:
                text(p, QRectF(w * 0.73, y, w * 0.27 - 4, 16), one.other, t.dye, size=8.5, align="right", elide=True)
            y += 17
        if self.caution:
            y += flow(p, QRectF(4, y + 2, w - 8, 60), self.caution, t.quiet, size=8) + 6
        if picture.minimumHeight() != int(y + 4):
            picture.setMinimumHeight(int(y + 4))

    def as_text(self) -> str:
        return "\n".join("\t".join(v for v in (one.word, one.value, one.other) if v) for one in self.lines())


def deg(v: float, d: int = 1) -> str:
    """An angle in words."""
    return f"{math.degrees(v):.{d}f}°".replace("-", "−") if math.isfinite(v) else "–"


def most(values: NDArray[np.float64], travel: AxleTravel) -> float:
    """Largest within the stops; ``nan`` where nothing is reached."""
    inside = np.where(travel.grid.within, values, np.nan)
    return float(np.nanmax(inside)) if np.isfinite(inside).any() else math.nan


def least(values: NDArray[np.float64], travel: AxleTravel) -> float:
    """Least within the stops."""
    return -most(-values, travel)
