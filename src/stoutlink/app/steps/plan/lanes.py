"""The build as lanes: each assembly from strip to first drive, along working hours; the chain strong, parts on their way as gaps."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import partial
from types import MappingProxyType

import numpy as np
from msgspec import Struct
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QPainter, QPen, QPolygonF

from stoutlink.app.desk.theme import Theme
from stoutlink.app.widgets.picture import Hit, Picture, text
from stoutlink.core.advice.plan_words import row_words
from stoutlink.core.analysis.plan.calendars import DAY
from stoutlink.core.analysis.plan.jobs import Shop
from stoutlink.core.analysis.plan.plan_sheet import PlanSheet, Row
from stoutlink.core.analysis.plan.shop_hours import moment
from stoutlink.core.document.build_plan import LANE_WORDS, LANES

TALL, HEAD, LEFT = 17.0, 26.0, 92.0
LONG, NAMED = 1.5, 92.0
"""From so many hours on a task's name is written beside it, in so much room."""


class Axis(Struct, frozen=True):
    """Working hours of the shop along the picture: a closed hour takes no room."""

    shop: Shop
    left: float
    wide: float
    first: int
    hours: int

    def at(self, minute: int) -> float:
        """Where a minute is drawn."""
        worked = int(self.shop.calendars.worked(np.array([0]), np.array([minute]))[0]) - self.first
        return self.left + self.wide * worked / max(1, self.hours)

    def minute(self, x: float) -> int:
        """The minute drawn at a place."""
        work = round((x - self.left) / self.wide * self.hours) + self.first
        return int(self.shop.calendars.finish(np.array([0]), np.array([0]), np.array([max(1, work)]))[0])


def axis_of(sheet: PlanSheet, left: float, wide: float, now: int) -> Axis:
    """From now to the last task, or the day wanted where that is later."""
    shop = sheet.shop
    ends = [r.end for r in sheet.rows if r.end is not None]
    last = max([*ends, now + DAY, *([sheet.wanted] if sheet.wanted is not None else [])])
    first, upto = (int(shop.calendars.worked(np.array([0]), np.array([m]))[0]) for m in (now, last))
    return Axis(shop, left, wide, first, max(60, upto - first))


def _named(row: Row) -> float:
    """Room for a task's name: long ones have it, short ones only a place."""
    return NAMED if row.hours[1] >= LONG and row.task.people > 0 else 0.0


def stacked(rows: list[Row], axis: Axis) -> list[tuple[Row, int]]:
    """Rows of a lane with the track each is drawn on, so that none lies over another."""
    ends: list[float] = []
    out = []
    for row in sorted(rows, key=lambda r: (r.begin or 0, r.end or 0)):
        assert row.begin is not None
        x = axis.at(row.begin)
        track = next((k for k, e in enumerate(ends) if e <= x + 0.5), len(ends))
        if track == len(ends):
            ends.append(0.0)
        assert row.end is not None
        ends[track] = max(axis.at(row.end), x + 5.0, x + _named(row))
        out.append((row, track))
    return out


def draw_lanes(
    p: QPainter,
    t: Theme,
    picture: Picture,
    sheet: PlanSheet,
    now: int,
    picked: str,
    pick: Callable[[str], object],
    other: Mapping[str, Row] = MappingProxyType({}),
) -> tuple[float, Axis]:
    """Draw all lanes over the width of the picture, and where tasks would go by an ``other`` plan, by key; returns how far down it
    came, and the axis."""
    axis = axis_of(sheet, LEFT, picture.width() - LEFT - 16.0, now)
    y = HEAD
    for lane in LANES:
        rows = [r for r in sheet.rows if r.task.lane == lane and r.begin is not None]
        placed = stacked(rows, axis)
        tracks = 1 + max((k for _, k in placed), default=0)
        text(p, QRectF(6, y, LEFT - 10, 20), LANE_WORDS[lane], t.text, size=9, bold=True)
        over = [r for r in sheet.rows if r.task.lane == lane and r.over]
        left = sum(r.task.lane == lane and not r.over for r in sheet.rows)
        text(p, QRectF(6, y + 17, LEFT - 10, 16), f"{len(over)} done, {left} left", t.quiet, size=8)
        p.setPen(QPen(t.edge, 1))
        p.drawLine(QPointF(6, y - 3), QPointF(picture.width() - 6.0, y - 3))
        for row, track in placed:
            _bar(p, t, picture, sheet, row, axis, y + track * TALL, picked, pick)
            _ghost(p, t, axis, row, other.get(row.task.key), y + track * TALL)
        y += max(2, tracks) * TALL + 8
    y = _reached(p, t, picture, sheet, axis, now, y)
    _marks(p, t, sheet, axis, now, y)
    return y + 6, axis


def _ghost(p: QPainter, t: Theme, axis: Axis, row: Row, then: Row | None, y: float) -> None:
    """Where a task would go."""
    if then is None or then.begin is None or then.end is None or then.begin == row.begin:
        return
    x = axis.at(then.begin)
    p.setPen(QPen(t.torch, 1.6, Qt.PenStyle.DashLine))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawRoundedRect(QRectF(x, y + 2, max(axis.at(then.end) - x, 4.0), TALL - 8), 3, 3)


def _reached(p: QPainter, t: Theme, picture: Picture, sheet: PlanSheet, axis: Axis, now: int, y: float) -> float:
    """How far the rig is when: a flag for each thing it can do then."""
    p.setPen(QPen(t.edge, 1))
    p.drawLine(QPointF(6, y - 3), QPointF(picture.width() - 6.0, y - 3))
    text(p, QRectF(6, y, LEFT - 10, 20), "It is", t.text, size=9, bold=True)
    ends: list[float] = []
    tracks = 1
    for name, minute in sheet.milestones:
        if minute is None:
            continue
        x = axis.at(max(now, minute))
        track = next((k for k, e in enumerate(ends) if e <= x), len(ends))
        if track == len(ends):
            ends.append(0.0)
        wide = 7.0 * len(name) + 16
        left = x + wide > axis.left + axis.wide + 14
        ends[track] = x + 6 if left else x + wide
        tracks = max(tracks, track + 1)
        at = y + track * 16
        p.setPen(QPen(t.soap, 1.4))
        p.setBrush(t.soap if minute == 0 else Qt.BrushStyle.NoBrush)
        p.drawPolygon(QPolygonF([QPointF(x, at + 2), QPointF(x + 8, at + 6), QPointF(x, at + 10)]))
        p.drawLine(QPointF(x, at + 2), QPointF(x, at + 15))
        box = QRectF(x - wide, at, wide - 4, 15) if left else QRectF(x + 11, at, wide, 15)
        text(p, box, name, t.quiet, size=8.5, align="right" if left else "left")
        day = "already" if minute == 0 else f"{moment(sheet.plan, minute - 1):%a %d %b}"
        picture.hits.append(Hit(QRectF(x - 4, at, 14, 15), f"{name.capitalize()}: {day}.", None, f"milestone {name}"))
    p.setBrush(Qt.BrushStyle.NoBrush)
    return y + tracks * 16 + 10


def _bar(
    p: QPainter,
    t: Theme,
    picture: Picture,
    sheet: PlanSheet,
    row: Row,
    axis: Axis,
    y: float,
    picked: str,
    pick: Callable[[str], object],
) -> None:
    assert row.begin is not None
    assert row.end is not None
    x = axis.at(row.begin)
    box = QRectF(x, y, max(axis.at(row.end) - x, 4.0), TALL - 4)
    if row.why is not None and row.why.wait == "part":
        gap = QRectF(x - 26, y + 3, 24, TALL - 10)
        p.setPen(QPen(t.torch, 1, Qt.PenStyle.DashLine))
        p.setBrush(QBrush(t.torch, Qt.BrushStyle.BDiagPattern))
        p.drawRect(gap)
    chosen = row.task.key == picked
    edge = t.dye if chosen else t.soap if row.on_chain else t.faint
    p.setPen(QPen(edge, 2.6 if row.on_chain or chosen else 1))
    if row.task.people == 0:
        p.setBrush(QBrush(t.faint, Qt.BrushStyle.Dense6Pattern))
    elif row.state in ("tacked", "mocked"):
        p.setBrush(QBrush(t.brass, Qt.BrushStyle.BDiagPattern))
    else:
        p.setBrush(t.raised)
    p.drawRoundedRect(box, 3, 3)
    p.setBrush(Qt.BrushStyle.NoBrush)
    room = min(max(box.width(), _named(row)), picture.width() - x - 4)
    if room > 34:
        text(p, QRectF(x + 4, y - 1, room - 6, TALL - 3), row.task.title, t.text, size=7.5, elide=True)
    says = f"{row_words(row, sheet)}. Click to work on it."
    picture.hits.append(Hit(box.adjusted(-2, -1, 2, 1), says, partial(pick, row.task.key), f"task {row.task.key}"))


def _marks(p: QPainter, t: Theme, sheet: PlanSheet, axis: Axis, now: int, bottom: float) -> None:
    """Weeks, the now-line, the day wanted, the day it drives."""
    last = axis.left + axis.wide
    week = now - now % DAY
    seen = -100.0
    while axis.at(week) < last - 1 and week < now + 800 * DAY:
        at = moment(sheet.plan, week)
        if at.weekday() == 0 or week <= now:
            x = axis.at(week)
            p.setPen(QPen(t.edge, 1, Qt.PenStyle.DotLine))
            p.drawLine(QPointF(x, HEAD - 6), QPointF(x, bottom))
            if x > seen + 44:
                text(p, QRectF(x + 2, 4, 60, 16), f"{at:%d %b}".lstrip("0"), t.quiet, size=8)
                seen = x
        week += DAY
    for minute, words, colour, style in (
        (sheet.wanted, "wanted", t.zinc, Qt.PenStyle.DashLine),
        (sheet.end, "drives", t.oxide if (sheet.late_days or 0) > 0 else t.dye, Qt.PenStyle.SolidLine),
    ):
        if minute is None:
            continue
        x = axis.at(minute)
        p.setPen(QPen(colour, 2, style))
        p.drawLine(QPointF(x, HEAD - 8), QPointF(x, bottom))
        text(p, QRectF(x - 64, bottom - 14, 60, 14), words, colour, size=8.5, bold=True, align="right")
    x = axis.at(now)
    p.setPen(QPen(t.brass, 2))
    p.drawLine(QPointF(x, HEAD - 8), QPointF(x, bottom))
    p.setBrush(t.brass)
    p.drawPolygon(QPolygonF([QPointF(x - 4, HEAD - 12), QPointF(x + 4, HEAD - 12), QPointF(x, HEAD - 5)]))
    p.setBrush(Qt.BrushStyle.NoBrush)
