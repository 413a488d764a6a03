"""The Tab key goes in reading order: by rows from the top, within a row from the left."""

from __future__ import annotations

import itertools
from collections.abc import Iterable

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QWidget

BAND = 14
"""Widgets whose tops differ by less than this, px, stand in one row."""


def in_reading_order(parent: QWidget, widgets: Iterable[QWidget] | None = None) -> list[QWidget]:
    """Chain the widgets of a parent that take the keys in reading order (all direct children if none are named);
    returns them so. Nothing is touched while they are chained so already.
    """
    chosen = [w for w in (parent.children() if widgets is None else widgets) if isinstance(w, QWidget)]
    takers = [w for w in chosen if w.focusPolicy() & Qt.FocusPolicy.TabFocus and not w.isHidden()]
    rows: list[tuple[int, QWidget]] = sorted(((_at(parent, w).y(), w) for w in takers), key=lambda one: one[0])
    placed: list[tuple[int, int, QWidget]] = []
    top, row = None, -1
    for y, w in rows:
        if top is None or y - top >= BAND:
            top, row = y, row + 1
        placed.append((row, _at(parent, w).x(), w))
    ordered = [w for _, _, w in sorted(placed, key=lambda one: one[:2])]
    known = parent.property("tab_order")
    now = [id(w) for w in ordered]
    if known != now:
        parent.setProperty("tab_order", now)
        for one, other in itertools.pairwise(ordered):
            QWidget.setTabOrder(one, other)
    return ordered


def _at(parent: QWidget, w: QWidget) -> QPoint:
    return w.mapTo(parent, QPoint(0, 0))
