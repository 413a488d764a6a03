"""Pivots: pick one, mirror, snap, lock a length; step through travel; differences to the compared layout."""

from __future__ import annotations

import html
import math

from PyQt6.QtCore import QSignalBlocker, Qt, pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QComboBox, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from stoutlink.app.desk import dialogs
from stoutlink.app.desk.labels import Label
from stoutlink.app.desk.room_now import RoomNow
from stoutlink.app.desk.still_box import StillBox
from stoutlink.app.desk.theme import font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.layout.look import LayoutLook
from stoutlink.app.steps.layout.three_views import ThreeViews
from stoutlink.app.steps.layout.travel_panel import TravelPanel
from stoutlink.core.advice.pose_words import pose_words
from stoutlink.core.editing.edits import SetMirrored
from stoutlink.core.editing.layout_edits import FollowRails, LockLength, PutLayout
from stoutlink.core.editing.pivots import name_of, of_link, pivots_of
from stoutlink.core.errors import StoutError
from stoutlink.core.quantity.length_text import parse_length
from stoutlink.core.quantity.shown import show

MOST_WORDS = 6


class PivotLook(LayoutLook):
    """``travelled`` carries the station, or −1 at ride height."""

    travelled = pyqtSignal(int)

    def __init__(self, workspace: Workspace, views: ThreeViews, parent: QWidget | None = None) -> None:
        super().__init__(workspace, views, "pivots", "Pivots and travel", parent)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.setSpacing(6)
        row = QHBoxLayout()
        self.pivots = StillBox(self)
        self.pivots.setObjectName("pivot_choice")
        self.pivots.setAccessibleName("Pivot to edit")
        self.pivots.setToolTip(
            "The pivot whose dimensions stand on the drawing; drag it, nudge it with the arrow keys, or type."
        )
        self.pivots.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.pivots.activated.connect(self._picked)
        self.mirrored = _tick(
            "mirrored", "Mirrored", "Left and right pivots of a pair move together; untick to let them differ.", self
        )
        self.mirrored.clicked.connect(self._mirror)
        self.snap = _tick(
            "snap",
            "Snap",
            "Dragged pivots fall on rail faces, tubes, holes, the axle tube, in line with others, or on 1/16 in or 1 mm; Alt drags freely.",
            self,
        )
        self.snap.setChecked(True)
        self.snap.toggled.connect(lambda on: setattr(views, "snapping", on))
        self.locked = _tick(
            "length_locked",
            "Keep length",
            "For links you already have: the pivots of this link only go where its length allows.",
            self,
        )
        self.locked.clicked.connect(self._lock)
        row.addWidget(self.pivots, 1)
        for one in (self.mirrored, self.snap, self.locked):
            row.addWidget(one)
        inside.addLayout(row)
        self.follow = QPushButton("Follow the rails", self)
        self.follow.setObjectName("follow_rails")
        self.follow.setAccessibleName("Follow the rails")
        self.follow.setFont(font(8.5))
        self.follow.setToolTip("Put pivots that were put on a rail where that rail is surveyed now.")
        self.follow.clicked.connect(self._follow)
        inside.addWidget(self.follow)
        self.bump = QPushButton("Measured at bump…", self)
        self.bump.setObjectName("measured_at_bump")
        self.bump.setToolTip(
            "The pivots as they stand here were measured with the axle tacked above ride height: take them to ride along the links."
        )
        self.bump.setFont(font(8.5))
        self.bump.clicked.connect(self.ask_bump)
        inside.addWidget(self.bump, 0, Qt.AlignmentFlag.AlignLeft)
        self.length = Label("", self)
        self.length.setObjectName("link_length")
        self.length.setFont(font(8.5))
        self.length.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        inside.addWidget(self.length)
        self.room = Label("", self)
        self.room.setObjectName("room_now")
        self.room.setAccessibleName("Nearest pair over the travel, and how much of it is free")
        self.room.setToolTip(
            "The nearest pair over heave, roll and steer, and how much of the travel within the stops is free; follows the hand."
        )
        self.room.setFont(font(8.5))
        self.room.setWordWrap(True)
        self.room.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        inside.addWidget(self.room)
        self.near = RoomNow(workspace, self)
        self.near.told.connect(self._show_room)
        self.travel = TravelPanel(workspace, self)
        self.travel.moved.connect(self.travelled)
        inside.addWidget(self.travel, 1)
        self.differences = Label("", self)
        self.differences.setObjectName("differences")
        self.differences.setAccessibleName("Differences to the compared layout")
        self.differences.setWordWrap(True)
        self.differences.setFont(font(8.5))
        self.differences.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        inside.addWidget(self.differences)
        self._problem = Label("", self)
        self._problem.setWordWrap(True)
        inside.addWidget(self._problem)
        views.selected_changed.connect(self._selected)
        self._listed: object = None

    def prepare(self) -> None:
        layout, axle = self.layout_shown, self.axle
        if layout is None:
            return
        self.mirrored.setVisible(any(layout.partner(one) for one in layout.links))
        with QSignalBlocker(self.mirrored):
            self.mirrored.setChecked(layout.mirrored)
        listed = (
            layout.id,
            tuple(one.name for one in layout.links),
            layout.steering is None,
            layout.shock is None,
            layout.spring is None,
            layout.air is None,
        )
        if listed != self._listed:
            self._listed = listed
            with QSignalBlocker(self.pivots):
                self.pivots.clear()
                self.pivots.addItem("Pick a pivot…", None)
                for pivot in pivots_of(layout):
                    self.pivots.addItem(name_of(layout, pivot), pivot)
        self.follow.setVisible(any(x.wanted is not None for x in self.workspace.study.left_behind(layout.end)))
        self._selected()
        self._problem.setText(f"{axle.problem.sentence} {axle.problem.hint}" if axle.problem else "")
        self._problem.setVisible(axle.problem is not None)
        self.differences.setVisible(axle.compared is not None)
        if axle.compared is not None:
            words = axle.compared.words
            more = f" (+{len(words) - MOST_WORDS} more)" if len(words) > MOST_WORDS else ""
            lines = "<br>".join(f"· {html.escape(w)}" for w in words[:MOST_WORDS])
            self.differences.setText(
                f"<b>Against {html.escape(axle.compared.name)}</b>, dash-dot in the views:{more}<br>{lines}"
            )
            self.differences.setToolTip("\n".join(words))
        self.bump.setVisible(layout.leaf is None)
        self.near.follow()
        self._show_room()
        assert self.theme is not None
        self.travel.setVisible(layout.leaf is None)
        self.travel.refresh(self.theme, axle.motion)

    def ask_bump(self) -> None:
        """Ask how far the axle stood above ride when the pivots were measured, and take them to ride."""
        layout, w = self.layout_shown, self.workspace
        if layout is None or layout.leaf is not None:
            return
        typed = dialogs.ask_text(
            self, "Measured at bump", "How far above ride height did the axle stand? Less than 0 for droop."
        )
        if typed is None or not typed.strip():
            return
        try:
            found = w.study.from_bump(layout, parse_length(typed, w.unit))
        except StoutError as why:
            w.said.emit(why.words, True)
            return
        if w.do(PutLayout(found.layout, (), "Take pivots from bump to ride")):
            far = show(abs(found.ahead_at_bump), "length", w.unit)
            turned = f"{math.degrees(found.turned):+.1f}°".replace("-", "−")
            way = "ahead of" if found.ahead_at_bump > 0 else "behind"
            most = max(found.changes.values(), key=abs, default=0.0)
            more = f" A link differs by {show(most, 'length', w.unit)} from bump." if abs(most) > 5e-4 else ""
            w.said.emit(f"Taken to ride: the axle stood {far} {way} there, the pinion turns {turned}.{more}", False)

    def stop(self) -> None:
        """Leave off work beside the window."""
        self.near.stop()

    def _show_room(self) -> None:
        """The nearest pair and the free share, quiet while they are of a moment ago."""
        room, unit = self.near.room, self.workspace.unit
        if room is None or (self.near.behind and room.why):
            self.room.setText("Working out what comes near…")
        elif room.why:
            self.room.setText(room.why)
        else:
            free = f"{room.free:.0%} of the travel free" if math.isfinite(room.free) else "no travel"
            c = room.nearest
            if c is None:
                words = f"Nothing comes near anything; {free}"
            else:
                inside = 2 if unit == "in" else 0
                gap = show(abs(c.least), "length", unit, decimals=inside)
                near = f"runs {gap} in" if c.least < 0 else f"{gap} apart"
                where = "" if c.apart else f" {pose_words(c.heave, c.roll, c.steer, unit)}"
                words = f"Nearest: {c.one} – {c.other} {near}{where}; {free}"
            self.room.setText(f"{words}{' …' if self.near.behind else ''}")
        self.room.setEnabled(not self.near.behind)

    def _picked(self, row: int) -> None:
        pivot = self.pivots.itemData(row)
        self.views.select(tuple(pivot) if pivot else None)
        self.views.setFocus()

    def _selected(self) -> None:
        for i in range(self.pivots.count()):
            data = self.pivots.itemData(i)
            if (tuple(data) if data else None) == self.views.selected:
                self.pivots.setCurrentIndex(i)
        layout, chosen = self.layout_shown, self.views.selected
        link = layout.link(chosen[0]) if layout is not None and chosen is not None and of_link(chosen) else None
        self.locked.setEnabled(link is not None)
        self.locked.setChecked(link is not None and link.length_locked)
        if link is None:
            self.length.setText("Pick a pivot: drag it, nudge it with the arrow keys, or type it.")
        else:
            size = show(math.dist(link.frame_pivot_m, link.axle_pivot_m), "length", self.workspace.unit)
            hand = "" if link.in_hand_m is None else f", {show(link.in_hand_m, 'length', self.workspace.unit)} at hand"
            self.length.setText(f"{link.name}: {size} between pivots{hand}{', kept' if link.length_locked else ''}")

    def _follow(self) -> None:
        layout = self.layout_shown
        if layout is not None:
            left = self.workspace.study.left_behind(layout.end)
            places = tuple((one.link.id, one.wanted) for one in left if one.wanted is not None)
            self.workspace.do(FollowRails(layout.id, places))

    def _mirror(self, on: bool) -> None:
        layout = self.layout_shown
        if layout is not None:
            self.workspace.do(SetMirrored(layout.id, on))

    def _lock(self, on: bool) -> None:
        layout, chosen = self.layout_shown, self.views.selected
        if layout is not None and chosen is not None:
            self.workspace.do(LockLength(layout.id, chosen[0], on))

    def as_text(self) -> str:
        return self.views.describe()


def _tick(name: str, words: str, tip: str, parent: QWidget) -> QCheckBox:
    out = QCheckBox(words, parent)
    out.setObjectName(name)
    out.setToolTip(tip)
    out.setFont(font(9))
    return out
