"""Bind: how far every joint leans against what it allows, and what redundant bars ask of their bushings."""

from __future__ import annotations

import math
from functools import partial

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QPainter, QPen
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.layout.look import LayoutLook
from stoutlink.app.steps.layout.three_views import ThreeViews
from stoutlink.app.widgets.picture import Hit, Picture, flow, scrolled, text
from stoutlink.core.quantity.shown import show

FULL = math.radians(40.0)


class OverConstraintLook(LayoutLook):
    """A bar a joint; the limit as a mark; click one to pick its pivot."""

    def __init__(self, workspace: Workspace, views: ThreeViews, parent: QWidget | None = None) -> None:
        super().__init__(workspace, views, "bind", "Joints and bushings over travel", parent)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(0, 0, 0, 0)
        self.list = Picture("bind_list", "Lean of every joint", self)
        self.area = scrolled(self.list, self)
        inside.addWidget(self.area)

    def prepare(self) -> None:
        assert self.theme is not None
        self.list.show_with(self.theme, self._paint)

    def _paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        found, w, y = self.axle.over_constraint, float(picture.width()), 2.0
        if found is None:
            why = (
                self.axle.problem.sentence
                if self.axle.problem is not None
                else "Leaf springs hold this axle; there are no link joints."
            )
            flow(p, QRectF(6, 8, w - 12, 120), why, t.quiet, size=10)
            return
        low, high = found.roll_reached
        asked = found.roll_asked
        rolled = (
            "±20° of roll"
            if low <= -asked + 1e-6 and high >= asked - 1e-6
            else f"roll of {math.degrees(low):.0f}° to {math.degrees(high):.0f}°, where the links bind".replace(
                "-", "−"
            )
        )
        y += (
            flow(
                p,
                QRectF(4, y, w - 8, 40),
                f"Lean of each joint from its bolt, over bump and droop and over {rolled}; one clocking a link, set at ride.",
                t.quiet,
                size=8.5,
            )
            + 4
        )
        for one in found.ends:
            text(
                p,
                QRectF(4, y, w * 0.42, 15),
                f"{one.link.name}, {one.end}",
                t.dye if self.views.selected == (one.link.id, one.end) else t.text,
                size=8.5,
                elide=True,
            )
            box = QRectF(w * 0.43, y + 4, w * 0.33, 8)
            p.setPen(QPen(t.edge, 1))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRect(box)
            colour = t.oxide if one.over else t.soap
            for lean, style in ((one.roll, Qt.BrushStyle.SolidPattern), (one.heave, Qt.BrushStyle.Dense5Pattern)):
                p.fillRect(
                    QRectF(box.left(), box.top(), min(1.0, lean / FULL) * box.width(), box.height()),
                    QBrush(colour if style == Qt.BrushStyle.SolidPattern else t.faint, style),
                )
            if one.allowed is not None:
                x = box.left() + min(1.0, one.allowed / FULL) * box.width()
                p.setPen(QPen(t.brass, 2))
                p.drawLine(QPointF(x, box.top() - 3), QPointF(x, box.bottom() + 3))
            limit = "limit not known" if one.allowed is None else f"of {math.degrees(one.allowed):.0f}°"
            text(
                p,
                QRectF(w * 0.77, y, w * 0.23 - 4, 15),
                f"{'▲ ' if one.over else ''}{math.degrees(one.worst):.0f}° {limit}",
                colour if one.over else t.text,
                size=8.5,
                align="right",
                elide=True,
            )
            tip = (
                f"{math.degrees(one.heave):.1f}° over bump and droop, {math.degrees(one.roll):.1f}° over roll; {limit}."
            )
            go = partial(self.views.select, (one.link.id, one.end))
            picture.hits.append(Hit(QRectF(0, y, w, 16), tip, go, f"lean {one.link.id} {one.end}"))
            y += 17
        y += 6
        unit = self.workspace.unit
        if not found.bars:
            y += (
                flow(
                    p,
                    QRectF(4, y, w - 8, 60),
                    "Four bars: they close exactly in every pose, no bushing has to give.",
                    t.quiet,
                    size=8.5,
                )
                + 6
            )
        else:
            assumed = (
                " All bars alike at 20 MN/m (estimate): enter every joint's stiffness for its own."
                if found.stiffness_assumed
                else ""
            )
            y += (
                flow(
                    p,
                    QRectF(4, y, w - 8, 60),
                    f"{len(found.bars)} bars: they cannot all keep their length. What each end's bushing must give:{assumed}",
                    t.text,
                    size=8.5,
                )
                + 4
            )
            for bar in found.bars:
                text(p, QRectF(4, y, w * 0.4, 15), bar.link.name, t.text, size=8.5, elide=True)
                give = max(*bar.heave, *bar.roll)
                words = f"{show(max(bar.heave), 'length', unit, decimals=3 if unit == 'in' else 2)} in heave, {show(max(bar.roll), 'length', unit, decimals=3 if unit == 'in' else 2)} in roll, {show(bar.force_roll, 'force', unit)}"
                text(
                    p,
                    QRectF(w * 0.38, y, w * 0.62 - 4, 15),
                    words,
                    t.torch if give > 0.001 else t.text,
                    size=8.5,
                    align="right",
                    elide=True,
                )
                picture.hits.append(Hit(QRectF(0, y, w, 16), f"{bar.link.name}: {words} at the most."))
                y += 17
        if picture.minimumHeight() != int(y + 6):
            picture.setMinimumHeight(int(y + 6))

    def as_text(self) -> str:
        found = self.axle.over_constraint
        if found is None:
            return ""
        lines = [
            f"{e.link.name}, {e.end}\t{math.degrees(e.heave):.1f}° heave\t{math.degrees(e.roll):.1f}° roll\t{'?' if e.allowed is None else f'{math.degrees(e.allowed):.0f}°'}"
            for e in found.ends
        ]
        return "\n".join(
            lines
            + [
                f"{b.link.name}\t{1000 * max(b.heave):.2f} mm heave\t{1000 * max(b.roll):.2f} mm roll"
                for b in found.bars
            ]
        )
