"""Touching: what comes near what, the nearest first; a click goes to the pose where it is nearest."""

from __future__ import annotations

from functools import partial

import numpy as np
from PyQt6.QtCore import QRectF, pyqtSignal
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.linked_views import gap_words
from stoutlink.app.steps.travel.look import WAIT, TravelLook
from stoutlink.app.widgets.picture import Hit, Picture, flow, scrolled, text
from stoutlink.core.advice.pose_words import pose_words
from stoutlink.core.analysis.cycle.interference import Contact
from stoutlink.core.analysis.cycle.travel_map import clear_part, said_at
from stoutlink.core.quantity.shown import show

MOST = 60


class InterferenceLook(TravelLook):
    """``go`` carries row, column and steer (rad)."""

    go = pyqtSignal(int, int, float)

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "touching", "What touches", parent)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(0, 0, 0, 0)
        self.list = Picture("touch_list", "What comes near what", self)
        inside.addWidget(scrolled(self.list, self))

    def prepare(self) -> None:
        assert self.theme is not None
        self.list.show_with(self.theme, self._paint)

    def words(self, c: Contact) -> str:
        """Where a pair is nearest."""
        return "over the whole travel" if c.apart else pose_words(c.heave, c.roll, c.steer, self.workspace.unit)

    def gap(self, c: Contact) -> str:
        """The least distance in words."""
        over = "over " if c.least > c.near - 1e-9 else ""
        return f"{over}{gap_words(c.least, self.workspace.unit)}"

    def _paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        shown, w, y = self.shown, float(picture.width()), 2.0
        travel, found = shown.travel, shown.found
        if travel is None or found is None:
            text(p, QRectF(4, y, w - 8, 16), WAIT, t.quiet, size=9)
            return
        here = said_at(travel, found, shown.row, shown.column)
        y += flow(p, QRectF(4, y, w - 8, 60), f"Here: {'; '.join(here[:3])}.", t.text, size=9.5) + 2
        free = clear_part(found)
        y += (
            flow(
                p,
                QRectF(4, y, w - 8, 60),
                f"{free:.0%} of the travel within the stops is free. Distances to surfaces; rails as bars of their width and height (round where the frame is of tube), shocks and springs at usual sizes.",
                t.quiet,
                size=8.5,
            )
            + 4
        )
        for c in travel.interference.contacts[:MOST]:
            place = QRectF(0, y, w, 29)
            picture.hits.append(
                Hit(
                    place,
                    f"{c.one} – {c.other}: {self.gap(c)} {self.words(c)}.",
                    partial(self._go, c),
                    f"{c.one}|{c.other}",
                )
            )
            if not place.intersects(picture.asked):
                y += 30
                continue
            bad = c.least < 0
            colour = t.oxide if bad else t.brass if c.spare < 0 else t.text
            text(p, QRectF(4, y, 14, 15), "▲" if bad else "◊" if c.spare < 0 else "✓", colour, size=9, bold=True)
            text(
                p,
                QRectF(20, y, w * 0.66 - 20, 15),
                f"{c.one} – {c.other}",
                t.text,
                size=8.5,
                bold=c.spare < 0,
                elide=True,
            )
            text(p, QRectF(w * 0.66, y, w * 0.34 - 6, 15), self.gap(c), colour, size=8.5, align="right")
            y += 14
            wanted = show(c.wanted, "length", self.workspace.unit, decimals=2 if self.workspace.unit == "in" else 0)
            text(p, QRectF(20, y, w - 26, 13), f"{self.words(c)}; {wanted} wanted", t.quiet, size=8, elide=True)
            y += 16
        if picture.minimumHeight() != int(y + 4):
            picture.setMinimumHeight(int(y + 4))

    def show_pair(self, subject: str) -> bool:
        """Go to the pose at which the pair of a finding is nearest; ``False`` for no such pair."""
        travel = self.shown.travel
        pairs = () if travel is None else travel.interference.contacts
        found = next((c for c in pairs if subject.endswith(f" {c.one} {c.other}")), None)
        if found is not None:
            self._go(found)
        return found is not None

    def _go(self, c: Contact) -> None:
        travel = self.shown.travel
        if travel is None or c.apart:
            return
        g = travel.grid
        self.go.emit(int(np.argmin(np.abs(g.roll - c.roll))), int(np.argmin(np.abs(g.heave - c.heave))), c.steer or 0.0)

    def as_text(self) -> str:
        travel = self.shown.travel
        if travel is None:
            return ""
        return "\n".join(f"{c.one}\t{c.other}\t{self.gap(c)}\t{self.words(c)}" for c in travel.interference.contacts)
