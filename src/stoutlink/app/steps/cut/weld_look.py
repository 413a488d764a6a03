"""Welds: the beads of a housing in their order, played back with warmth and bow, ticked off one by one at the bench."""

from __future__ import annotations

import datetime
import math
from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import QRectF, Qt, QTimer
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QSlider, QVBoxLayout, QWidget

from stoutlink.app.desk.background import Background, Progress
from stoutlink.app.desk.labels import Label
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.cut.weld_fields import GROUPS, group_entries, group_of, stands_for
from stoutlink.app.steps.cut.weld_picture import paint_bow, paint_heat, paint_skin
from stoutlink.app.steps.look import Look
from stoutlink.app.widgets.look_bar import LookBar
from stoutlink.app.widgets.path_drawer import PathDrawer
from stoutlink.app.widgets.picture import Picture, flow, scrolled
from stoutlink.core.advice.weld_rules import AFTER_LAST_BEAD, CAUTION, before_first_bead, paint_words
from stoutlink.core.advice.weld_words import (
    base_words,
    bead_words,
    clock_words,
    ends_words,
    plan_lines,
    readings_words,
    run_words,
)
from stoutlink.core.analysis.linkage.weld_plan import MOST_BEADS, OTHER, WeldBase, WeldSheet, moment
from stoutlink.core.analysis.linkage.weld_seams import Housing
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.welding import SEAM_WORDS, BeadState, OwnSeam, Runs, SeamKind, WeldPlan
from stoutlink.core.editing.edits import PutInList, SetChoice, SetNumber, TakeFromList
from stoutlink.core.editing.weld_edits import LeaveSeamOut, TakeTickBack, TickBeads
from stoutlink.core.quantity.constants import INCH
from stoutlink.core.study.question import known

PLAY_MS = 450
NEW: tuple[SeamKind, ...] = ("truss", "casting", "gusset", "guard", "end")


class WeldLook(Look):
    """The unrolled housing above, what is next and how to tick it off below."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "cut_welds", "Welds", parent)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(2)
        self.now = Label("", self)
        self.now.setObjectName("weld_now")
        self.now.setFont(font(15, bold=True))
        self.now.setWordWrap(True)
        self.now.setIndent(14)
        outer.addWidget(self.now)
        outer.addLayout(self._bench_row())
        self.picture = Picture("weld_picture", "The housing unrolled with its beads", self)
        outer.addWidget(scrolled(self.picture, self), 1)
        row = QHBoxLayout()
        row.setContentsMargins(12, 0, 12, 0)
        self.groups = LookBar(GROUPS, "weld_fields", 8, self)
        self.groups.picked.connect(self.show_group)
        row.addWidget(self.groups)
        row.addStretch(1)
        outer.addLayout(row)
        self.drawer = PathDrawer(workspace, "weld_drawer", 4, self)
        self.drawer.setContentsMargins(12, 2, 12, 2)
        outer.addWidget(self.drawer)
        outer.addLayout(self._buttons())
        self.base: WeldBase | None = None
        self.sheet: WeldSheet | None = None
        self.shown = 0
        self.following = True
        """Playback stands at what is laid, until somebody moves it."""
        self.picked, self.group = "", "arc"
        self.clock: Callable[[], datetime.datetime] = datetime.datetime.now
        self.work: Background[bool] = Background(self)
        self.second = QTimer(self)
        self.second.setInterval(1000)
        self.second.timeout.connect(self._tell_now)
        self.player = QTimer(self)
        self.player.setInterval(PLAY_MS)
        self.player.timeout.connect(self._play_on)

    def _bench_row(self) -> QHBoxLayout:
        """Playback, and the large targets for gloved hands."""
        row = QHBoxLayout()
        row.setContentsMargins(12, 0, 12, 2)
        self.laid = self._large("bead_welded", "This bead is laid", "Tick the next bead off as welded, now.", row)
        self.laid.clicked.connect(lambda _=False: self.tick("welded"))
        self.undo_tick = self._large("tick_back", "Take the last back", "Take the last tick away.", row)
        self.undo_tick.clicked.connect(lambda _=False: self._back())
        self.play = self.put_button("weld_play", "Play", "Play the order from the first bead to the last.", row)
        self.play.clicked.connect(lambda _=False: self._play())
        self.slider = QSlider(Qt.Orientation.Horizontal, self)
        self.slider.setObjectName("weld_slider")
        self.slider.setAccessibleName("Beads laid")
        self.slider.setToolTip("Play the order by hand: how warm and how bent after each bead.")
        self.slider.valueChanged.connect(self._slid)
        row.addWidget(self.slider, 1)
        return row

    def _large(self, name: str, words: str, tip: str, row: QHBoxLayout) -> QPushButton:
        button = self.put_button(name, words, tip, row)
        button.setFont(font(12, bold=True))
        button.setMinimumHeight(42)
        return button

    def _buttons(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setContentsMargins(12, 2, 12, 8)
        self.begin = self.put_button("begin_welds", "Begin with this housing", "A weld plan for this housing.", row)
        self.begin.clicked.connect(lambda _=False: self._begin())
        self.add = self.put_button("add_seam", "Add seam", "A truss, gusset, guard or another seam of your own.", row)
        menu = QMenu(self.add)
        for kind in NEW:
            action = menu.addAction(SEAM_WORDS[kind].capitalize())
            if action is not None:
                action.triggered.connect(partial(self._add, kind))
        self.add.setMenu(menu)
        self.leave = self.put_button("leave_seam", "Leave seam out", "This bead's seam is not welded here.", row)
        self.leave.clicked.connect(lambda _=False: self._leave())
        self.again = self.put_button("seams_again", "All seams again", "Weld every seam the layout makes.", row)
        self.again.clicked.connect(lambda _=False: self._again())
        self.every = self.put_button("tick_every", "Tick every bead", "What holds for all of them at once.", row)
        ticks = QMenu(self.every)
        for state in ("fitted", "tacked", "inspected"):
            action = ticks.addAction(f"All {state}")
            if action is not None:
                action.triggered.connect(partial(self.tick_all, state))
        self.every.setMenu(ticks)
        self.take = self.put_button(
            "take_factor", "Take the readings' shrinkage", "What the bar said before and after becomes the factor.", row
        )
        self.take.clicked.connect(lambda _=False: self._take())
        row.addStretch(1)
        return row

    @property
    def end(self) -> str:
        """The housing's end."""
        return self.workspace.end

    def prepare(self) -> None:
        w = self.workspace
        self.base = w.study.weld_base(self.end)
        found, sheet = known(w.study.weld_sheet, self.end)
        self.sheet = sheet if found else None
        if self.base is not None and self.base.field is not None and not found and not w.dragging:
            study, end = w.study, self.end

            def work(tell: Progress) -> bool:
                study.weld_sheet(end)
                return True

            self.work.start(work, lambda _: self._worked_out(), lambda _: None)
        n = 0 if self.sheet is None else len(self.sheet.run.steps)
        if self.sheet is not None and (self.following or self.shown > n):
            self.shown = self.sheet.laid
        self._fill_slider(n)
        self._enable()
        self.groups.show_picked(self.group)
        self.groups.setVisible(self.base is not None)
        self.drawer.show_entries(group_entries(self.base, self.group, self._seam()), stands_for(self.base))
        self._tell_now()
        assert self.theme is not None
        self.picture.show_with(self.theme, self._paint)

    def _worked_out(self) -> None:
        if self.theme is not None:
            self.refresh(self.theme)

    def _fill_slider(self, n: int) -> None:
        self.slider.blockSignals(True)
        self.slider.setRange(0, n)
        self.slider.setValue(self.shown)
        self.slider.blockSignals(False)

    def _enable(self) -> None:
        base, sheet = self.base, self.sheet
        there = base is not None
        ready = sheet is not None and sheet.next is not None
        self.begin.setVisible(not there)
        for one in (self.add, self.leave, self.again, self.every, self.take, self.laid, self.undo_tick):
            one.setVisible(there)
        self.play.setVisible(there)
        self.slider.setVisible(there)
        self.play.setEnabled(sheet is not None)
        self.slider.setEnabled(sheet is not None)
        self.laid.setEnabled(ready)
        self.undo_tick.setEnabled(base is not None and bool(base.plan.ticks))
        seam = self._seam()
        self.leave.setEnabled(seam != "")
        self.leave.setText("Remove seam" if seam.startswith("own-") else "Leave seam out")
        self.again.setEnabled(base is not None and bool(base.plan.left_out))
        self.every.setEnabled(base is not None and bool(base.beads))
        self.take.setEnabled(there and self.workspace.study.weld_readings(self.end) is not None)

    def _seam(self) -> str:
        """The seam of the bead picked."""
        beads = () if self.base is None else self.base.beads
        return next((b.seam.id for b in beads if b.id == self.picked), "")

    def show_group(self, key: str) -> None:
        """Show other fields in the drawer."""
        self.group = key
        if self.theme is not None:
            self.refresh(self.theme)

    def show_path(self, path: str) -> None:
        """Have the field of a path in the drawer."""
        parts = path.split(".")
        if len(parts) > 3 and parts[2] == "seams" and self.base is not None:
            beads = [b.id for b in self.base.beads if b.seam.id == f"own-{parts[3]}"]
            self.picked = beads[0] if beads else self.picked
        self.show_group(group_of(path))

    def pick(self, bead: str) -> None:
        """Show a bead's seam."""
        self.picked, self.group = bead, "seam"
        if self.theme is not None:
            self.refresh(self.theme)

    def tick(self, state: BeadState) -> None:
        """The next bead has come to a state."""
        step = None if self.sheet is None else self.sheet.next
        if step is None or self.base is None:
            return
        self.following = True
        when = self.clock().isoformat(timespec="seconds")
        self.workspace.do(TickBeads(self.base.plan.id, (step.bead.id,), state, when, self.base.plan.by))

    def tick_all(self, state: BeadState, _: bool = False) -> None:
        """Tick every bead that can be: fitted and tacked those not so far, inspected those that are laid."""
        base = self.base
        if base is None:
            return
        wanted = {"fitted": (None,), "tacked": (None, "fitted")}.get(state, ("welded",))
        beads = tuple(b.id for b in base.beads if base.state(b.id) in wanted)
        if not beads:
            self.workspace.said.emit(f"There is no bead to tick as {state}.", True)
            return
        when = self.clock().isoformat(timespec="seconds")
        self.workspace.do(TickBeads(base.plan.id, beads, state, when, base.plan.by))

    def _back(self) -> None:
        if self.base is not None and self.base.plan.ticks:
            self.following = True
            self.workspace.do(TakeTickBack(self.base.plan.id, self.base.plan.ticks[-1].bead))

    def _begin(self) -> None:
        plan = WeldPlan(id="front" if self.end == "front" else "rear")
        self.workspace.do(PutInList("welding", plan, "Begin a weld plan"))

    def _add(self, kind: SeamKind, _: bool = False) -> None:
        base = self.base
        if base is None:
            return
        taken = [s.id for s in base.plan.seams]
        path = f"welding.{base.plan.id}.seams"
        seam = new_seam(kind, free_id("seam-", taken), len(taken) + 1, base.housing)
        if self.workspace.do(PutInList(path, seam, "Add a seam")) and self.base is not None:
            self.picked = next((b.id for b in self.base.beads if b.seam.id == f"own-{seam.id}"), "")
            self.show_group("seam")

    def _leave(self) -> None:
        seam, base = self._seam(), self.base
        if base is None or not seam:
            return
        if seam.startswith("own-"):
            own = seam.removeprefix("own-")
            self.workspace.do(TakeFromList(f"welding.{base.plan.id}.seams", (own,), "Remove a seam"))
        else:
            self.workspace.do(LeaveSeamOut(base.plan.id, seam, True))

    def _again(self) -> None:
        base = self.base
        if base is not None:
            self.workspace.do(SetChoice(f"welding.{base.plan.id}.left_out", (), "All seams again"))

    def _take(self) -> None:
        found = self.workspace.study.weld_readings(self.end)
        if found is None or self.base is None:
            return
        path = f"welding.{self.base.plan.id}.factor"
        value = min(max(found.factor, 0.0), 0.5)
        self.workspace.do(SetNumber(path, value, "", "measured", "Shrinkage", 0.5 * found.two_sigma))

    def _slid(self, value: int) -> None:
        self.shown, self.following = value, self.sheet is not None and value == self.sheet.laid
        self._tell_now()
        self.picture.update()

    def _play(self) -> None:
        if self.player.isActive():
            self.player.stop()
        else:
            if self.shown >= self.slider.maximum():
                self.slider.setValue(0)
            self.player.start()
        self.play.setText("Pause" if self.player.isActive() else "Play")

    def _play_on(self) -> None:
        self.slider.setValue(self.shown + 1)
        if self.shown >= self.slider.maximum():
            self.player.stop()
            self.play.setText("Play")

    def cooling(self) -> float:
        """Seconds until the next bead may be begun by the clock; 0 when it may, or nothing is known."""
        sheet = self.sheet
        if sheet is None or sheet.next is None or sheet.laid == 0 or sheet.next.waited < 1:
            return 0.0
        last = next((moment(t.when) for t in reversed(sheet.base.plan.ticks) if t.state == "welded"), None)
        if last is None:
            return 0.0
        before = sheet.run.steps[sheet.laid - 1]
        return max(0.0, sheet.next.begins - before.ends_at - (self.clock().timestamp() - last))

    def _tell_now(self) -> None:
        """The line that is read from the bench: what is next, and whether the tube is cool enough."""
        sheet, base = self.sheet, self.base
        self.second.stop()
        if base is None:
            words = "No weld plan of this housing yet."
        elif base.missing:
            words = f"Type {base.missing} under Housing: without it there is no plan."
        elif base.too_many:
            words = f"{len(base.beads)} beads: more than {MOST_BEADS} are not put in order. Shorten a seam, or leave one out."
        elif not base.beads:
            words = "No seams on this housing yet: the layout makes none on its tube. Add a seam."
        elif sheet is None:
            words = "Working out the order…"
        elif sheet.next is None:
            words = f"All {sheet.laid} beads are laid."
        else:
            assert base.housing is not None
            words = f"Next, {sheet.laid + 1} of {len(sheet.run.steps)}: {bead_words(sheet.next.bead, base.housing, self.workspace.unit)}"
            left = self.cooling()
            if left > 0:
                words += f" – cooling, {clock_words(left)}"
                self.second.start()
            elif sheet.laid and sheet.next.waited >= 1:
                words += " – cool enough"
            if sheet.next.turned:
                words += " – turn the housing"
        self.now.setText(words)

    def _paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        w, unit, base = float(picture.width()), self.workspace.unit, self.base
        y = 6.0
        if base is None:
            words = "“Begin with this housing”: the seams its layout makes become beads, put in an order that keeps the ends where they are and the tube cool, beside the trade's diagonal order; each is ticked off here as it is laid."
            flow(p, QRectF(24, y + 10, w - 48, 80), words, t.quiet, size=11)
            return
        sheet = self.sheet
        if sheet is not None:
            shown = min(self.shown, len(sheet.run.steps))
            paint_skin(p, t, picture, QRectF(0, y + 8, w, 150), sheet, sheet.run, shown, self.picked, self.pick, unit)
            y += 172
            paint_heat(p, t, picture, QRectF(0, y, w, 62), sheet, shown, unit)
            y += 70
            paint_bow(p, t, picture, QRectF(0, y, w, 66), sheet, shown, unit)
            y += 74
            plan = base.plan
            y += flow(p, QRectF(16, y, w - 32, 40), run_words(plan.order, sheet.run, unit), t.text, size=9.5) + 4
            y += (
                flow(p, QRectF(16, y, w - 32, 40), run_words(OTHER[plan.order], sheet.other, unit), t.quiet, size=9.5)
                + 2
            )
            paint_skin(p, t, picture, QRectF(0, y + 14, w, 88), sheet, sheet.other, 0, "", None, unit)
            y += 112
            words = f"All together, whatever the order: {ends_words(base.pull, unit, base.pull_sure)}."
            y += flow(p, QRectF(16, y, w - 32, 40), words, t.text, size=9.5) + 3
        for line in self._notes(base):
            y += flow(p, QRectF(16, y, w - 32, 60), line, t.quiet, size=9) + 3
        y += flow(p, QRectF(16, y, w - 32, 40), CAUTION, t.torch, size=9) + 10
        if picture.minimumHeight() != int(y):
            picture.setMinimumHeight(int(y))

    def _notes(self, base: WeldBase) -> list[str]:
        """What is taken for granted, what readings say, what goes before and after."""
        lines = base_words(base, self.workspace.unit)
        found = self.workspace.study.weld_readings(self.end)
        if found is not None:
            lines.append(readings_words(found))
        if base.left_out:
            lines.append(f"Not welded here: {', '.join(s.name for s in base.left_out)}.")
        if base.beads:
            lines += [f"{k}. {one}" for k, one in enumerate(before_first_bead(base), 1)]
            lines.append(AFTER_LAST_BEAD)
            lines.append(paint_words(base))
        return lines

    def as_text(self) -> str:
        unit, base = self.workspace.unit, self.base
        if base is None:
            return "No weld plan of this housing yet."
        lines = [] if self.sheet is None else plan_lines(self.sheet, unit)
        return "\n".join([*(lines or [self.now.text()]), *self._notes(base), CAUTION])

    def stop(self) -> None:
        self.second.stop()
        self.player.stop()
        self.work.stop()


def new_seam(kind: SeamKind, name: str, number: int, housing: Housing | None) -> OwnSeam:
    """A seam to begin with, where such a one usually lies; every number of it is a field."""
    wide = 1.2 if housing is None else housing.left - housing.right
    od = 0.08 if housing is None else housing.od
    inner = 0.13 if housing is None else housing.inner_left
    runs: Runs = "across" if kind in ("casting", "end") else "along"
    at, length, around = {
        "truss": (0.0, 0.7 * wide, math.radians(35.0)),
        "casting": (inner + 0.005, math.pi * od, 0.0),
        "gusset": (inner + 0.1, 3.0 * INCH, math.radians(45.0)),
        "guard": (0.0, 0.4 * wide, math.radians(200.0)),
        "end": (0.5 * wide - 0.02, math.pi * od, 0.0),
    }.get(kind, (0.0, 0.1, 0.0))
    return OwnSeam(
        id=name,
        name=f"{SEAM_WORDS[kind].capitalize()} {number}",
        kind=kind,
        runs=runs,
        at_m=at,
        around_rad=around,
        length_m=length,
    )
