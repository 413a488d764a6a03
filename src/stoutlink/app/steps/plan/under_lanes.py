"""Under the lanes, on the same axis of time: parts on their way, to be dragged; and what each month costs."""

from __future__ import annotations

import datetime
from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QPainter, QPen, QPolygonF

from stoutlink.app.desk.theme import Theme
from stoutlink.app.steps.plan.lanes import LEFT, Axis
from stoutlink.app.widgets.picture import Hit, Picture, text
from stoutlink.core.advice.parts_words import line_words
from stoutlink.core.analysis.plan.parts_list import Month, PartLine, PartsList
from stoutlink.core.analysis.plan.shop_hours import minute_of
from stoutlink.core.document.build_plan import BuildPlan
from stoutlink.core.document.price_text import money_words

ROW, MONEY = 17.0, 54.0


def coming(found: PartsList) -> list[PartLine]:
    """Parts that come on a day, the first first."""
    return sorted(
        (x for x in found.lines if x.due is not None),
        key=lambda x: (x.due.likely if x.due else datetime.date.max, x.key),
    )


def draw_parts(
    p: QPainter,
    t: Theme,
    picture: Picture,
    plan: BuildPlan,
    axis: Axis,
    y: float,
    found: PartsList,
    picked: str,
    held: tuple[str, datetime.date] | None,
    pick: Callable[[str], object],
    drag: Callable[[str, QPointF, bool], object],
) -> float:
    """Parts on their way, each a diamond on its day with the days it may come; returns how far down it came."""
    lines = coming(found)
    _head(p, t, picture, y, "Parts come", f"{len(lines)} on the way" if lines else "no day said")
    tracks: list[float] = []
    for x in lines:
        assert x.due is not None
        day = held[1] if held is not None and held[0] == x.key else x.due.likely
        by = day - x.due.likely
        at, first, last = (_x(plan, axis, d) for d in (day, x.due.earliest + by, x.due.latest + by))
        wide = min(150.0, 6.2 * len(x.wanted.title) + 12)
        left = max(at, last) + wide > axis.left + axis.wide + 12
        track = next((k for k, e in enumerate(tracks) if e <= min(at, first) - (wide + 10 if left else 8)), len(tracks))
        if track == len(tracks):
            tracks.append(0.0)
        tracks[track] = max(at + 8, last + 6) + (0.0 if left else wide)
        mid = y + track * ROW + 8
        late = x.late or (x.needed is not None and day > x.needed)
        colour = t.dye if x.key == picked else t.torch if late else t.zinc
        p.setPen(QPen(colour, 1.4))
        if last - first > 3:
            p.drawLine(QPointF(first, mid), QPointF(last, mid))
        p.setBrush(colour)
        p.drawPolygon(
            QPolygonF([QPointF(at, mid - 6), QPointF(at + 6, mid), QPointF(at, mid + 6), QPointF(at - 6, mid)])
        )
        p.setBrush(Qt.BrushStyle.NoBrush)
        box = (
            QRectF(min(at - 8, first - 2) - wide, mid - 8, wide - 2, 16)
            if left
            else QRectF(max(at + 6, last) + 4, mid - 8, wide, 16)
        )
        text(p, box, x.wanted.title, t.text, size=8, elide=True, align="right" if left else "left")
        says = f"{line_words(x)}. Drag it to another day to see what that moves; click to pick it."
        picture.hits.append(
            Hit(QRectF(at - 8, mid - 8, 16, 16), says, partial(pick, x.key), f"arrival {x.key}", partial(drag, x.key))
        )
    return y + max(2, len(tracks)) * ROW + 8


def draw_money(
    p: QPainter,
    t: Theme,
    picture: Picture,
    plan: BuildPlan,
    axis: Axis,
    now: int,
    y: float,
    found: PartsList,
    currency: str,
) -> float:
    """What each month costs, under its days; what was paid before today stands at the left."""
    most = max([m.whole for m in found.months] + ([plan.month_ceiling] if plan.month_ceiling else []), default=0.0)
    _head(p, t, picture, y, "Money", currency)
    if most <= 0:
        text(p, QRectF(LEFT, y, picture.width() - LEFT - 20, 16), "No price with a day yet.", t.quiet, size=8.5)
        return y + 30
    before = 0.0
    for m in found.months:
        a, b = _ends(plan, axis, m)
        if b <= axis.left + 2:
            before += m.whole
            continue
        _month(p, t, picture, m, QRectF(max(a, axis.left), y + 4, b - max(a, axis.left) - 2, MONEY), most)
    if plan.month_ceiling:
        level = y + 4 + MONEY * (1.0 - plan.month_ceiling / most)
        p.setPen(QPen(t.oxide, 1, Qt.PenStyle.DashLine))
        p.drawLine(QPointF(axis.left, level), QPointF(axis.left + axis.wide, level))
    if before:
        text(p, QRectF(6, y + 34, LEFT - 10, 14), f"before {money_words(before)}", t.quiet, size=8)
    if found.undated:
        text(p, QRectF(6, y + 48, LEFT - 10, 14), f"no day {money_words(found.undated)}", t.quiet, size=8)
    return y + MONEY + 14


def _month(p: QPainter, t: Theme, picture: Picture, m: Month, box: QRectF, most: float) -> None:
    paid, due = box.height() * max(0.0, m.paid) / most, box.height() * max(0.0, m.to_pay) / most
    p.setPen(QPen(t.edge, 1))
    p.setBrush(t.zinc)
    p.drawRect(QRectF(box.x(), box.bottom() - paid, box.width(), paid))
    p.setBrush(QBrush(t.oxide if m.over else t.brass, Qt.BrushStyle.BDiagPattern))
    p.drawRect(QRectF(box.x(), box.bottom() - paid - due, box.width(), due))
    p.setBrush(Qt.BrushStyle.NoBrush)
    words = f"{money_words(m.whole)}" + (" ▲" if m.over else "")
    if box.width() > 26:
        text(
            p,
            QRectF(box.x() + 3, box.bottom() - 16, box.width() - 4, 16),
            words,
            t.text,
            size=8.5,
            bold=True,
            elide=True,
        )
    says = f"{m.name}: paid {money_words(m.paid)}, to pay {money_words(m.to_pay)}" + (
        f", over the ceiling by {money_words(m.over)}" if m.over else ""
    )
    picture.hits.append(Hit(box, f"{says}.", None, f"month {m.name}"))


def _ends(plan: BuildPlan, axis: Axis, m: Month) -> tuple[float, float]:
    """Where a month begins and ends on the axis."""
    year, month = (int(x) for x in m.name.split("-"))
    next_ = datetime.date(year + month // 12, month % 12 + 1, 1)
    return _x(plan, axis, datetime.date(year, month, 1), end=False), _x(plan, axis, next_, end=False)


def _x(plan: BuildPlan, axis: Axis, day: datetime.date, *, end: bool = True) -> float:
    """Where a day's end (or its begin) is drawn, kept within the axis."""
    minute = minute_of(plan, day.isoformat(), end=end) or 0
    return min(max(axis.at(max(0, minute)), axis.left), axis.left + axis.wide)


def _head(p: QPainter, t: Theme, picture: Picture, y: float, name: str, words: str) -> None:
    p.setPen(QPen(t.edge, 1))
    p.drawLine(QPointF(6, y - 3), QPointF(picture.width() - 6.0, y - 3))
    text(p, QRectF(6, y, LEFT - 10, 18), name, t.text, size=9, bold=True)
    text(p, QRectF(6, y + 16, LEFT - 10, 16), words, t.quiet, size=8, elide=True)
