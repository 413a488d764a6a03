"""Parts of plate: one large with its sizes typed on it, the others beside it; out as files at true scale."""

from __future__ import annotations

import datetime
import math
from functools import partial

from PyQt6.QtCore import QPointF, QRectF, pyqtSignal
from PyQt6.QtGui import QPainter, QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QVBoxLayout, QWidget

from stoutlink.app.canvas.painting import Frame, paint
from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.cut.own_part import own_entries
from stoutlink.app.steps.cut.steel_picture import paint_steel
from stoutlink.app.steps.look import Look
from stoutlink.app.steps.step import focus_field
from stoutlink.app.widgets.look_bar import LookBar
from stoutlink.app.widgets.path_drawer import Entry, PathDrawer
from stoutlink.app.widgets.picture import Hit, Picture, dimension, flow, scrolled, text
from stoutlink.core.analysis.linkage.part import Part, PartChanges, as_cut
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.made_part import PART_KINDS, PART_WORDS, MadePart, PartKind
from stoutlink.core.drawing.part_views import pattern_shapes
from stoutlink.core.editing.edits import PutInList, TakeFromList
from stoutlink.core.geometry.pattern import Pattern, extent
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show

LIST = 250
WAYS = (
    ("rig", "On the rig", "The axle in three views with its parts on it."),
    ("part", "One large", "The part picked, with its sizes and what there is too little of."),
)
CAUTION = (
    "Cut one from card first. Welding of axle, frame and link parts: a qualified welder, a procedure, an inspection."
)


class PartLook(Look):
    """``out`` asks for the part shown, or all, as a file of a kind."""

    out = pyqtSignal(str)

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "cut_parts", "Parts", parent)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        body = QHBoxLayout()
        body.setSpacing(0)
        self.names = Picture("part_list", "Parts of this axle", self)
        area = scrolled(self.names, self)
        area.setFixedWidth(LIST)
        body.addWidget(area)
        self.picture = Picture("part_picture", "The part at its size", self)
        body.addWidget(self.picture, 1)
        outer.addLayout(body, 1)
        self.ways = LookBar(WAYS, "parts_as", 8, self)
        self.ways.picked.connect(self.show_as)
        top = QHBoxLayout()
        top.setContentsMargins(12, 0, 12, 0)
        top.addWidget(self.ways)
        top.addStretch(1)
        outer.insertLayout(0, top)
        self.drawer = PathDrawer(workspace, "part_drawer", 4, self)
        self.drawer.setContentsMargins(12, 4, 12, 2)
        outer.addWidget(self.drawer)
        row = QHBoxLayout()
        row.setContentsMargins(12, 2, 12, 8)
        for kind, words, tip in (
            ("dxf", "This part as DXF…", "True scale, closed outlines on CUT, marks on MARK."),
            ("svg", "This part as SVG…", "True scale in millimetres."),
            (
                "pdf",
                "All 1:1 on paper…",
                "Every part of both axles on paper at true scale, with a bar to check the printer.",
            ),
        ):
            button = self.put_button(f"part_{kind}", words, tip, row)
            button.clicked.connect(partial(self._out, kind))
        self.done = self.put_button(
            "part_cut",
            "Mark as cut",
            "Keep its sizes as they are: what the layout changes later is said, not redrawn in silence.",
            row,
        )
        self.done.clicked.connect(lambda _=False: self._cut())
        self.add = self.put_button(
            "add_part", "Add part", "A gusset, mount, perch, guard or another part of plate.", row
        )
        menu = QMenu(self.add)
        for kind in PART_KINDS:
            action = menu.addAction(PART_WORDS[kind].capitalize())
            if action is not None:
                action.triggered.connect(partial(self._add, kind))
        self.add.setMenu(menu)
        self.gone = self.put_button("remove_part", "Remove", "Take this part of your own away.", row)
        self.gone.clicked.connect(lambda _=False: self._remove())
        row.addStretch(1)
        outer.addLayout(row)
        self.parts: tuple[Part, ...] = ()
        self.picked, self.way = "", "rig"

    def show_as(self, way: str) -> None:
        """On the rig, or one large."""
        self.way = way
        if self.theme is not None:
            self.refresh(self.theme)

    @property
    def own(self) -> MadePart | None:
        """The part of one's own that is shown."""
        return next((m for m in self.workspace.project.fabrication.made_parts if m.id == self.picked), None)

    def _add(self, kind: PartKind, _: bool = False) -> None:
        w = self.workspace
        new = w.study.new_part(kind, free_id("part-", (m.id for m in w.project.fabrication.made_parts)), w.end)
        if w.do(PutInList("made_parts", new, "Add a part")):
            self.way = "part"
            self.pick(new.id)

    def _remove(self) -> None:
        if self.own is not None:
            self.workspace.do(TakeFromList("made_parts", (self.picked,), "Remove a part"))

    def _large(self, name: str) -> None:
        """Show a part large."""
        self.way = "part"
        self.pick(name)

    def _out(self, kind: str, _: bool = False) -> None:
        self.out.emit(kind)

    def _cut(self) -> None:
        one = self.part
        if one is None:
            return
        if any(c.id == one.id for c in self.workspace.project.fabrication.cut_parts):
            self.workspace.do(TakeFromList("cut_parts", (one.id,), "Not cut after all"))
        else:
            self.workspace.do(
                PutInList("cut_parts", as_cut(one, datetime.date.today().isoformat()), "Mark a part as cut")
            )

    @property
    def part(self) -> Part | None:
        """The one shown."""
        return next((one for one in self.parts if one.id == self.picked), None)

    def pick(self, name: str) -> None:
        """Show a part."""
        self.picked = name
        if self.theme is not None:
            self.refresh(self.theme)

    def prepare(self) -> None:
        w = self.workspace
        self.parts = () if w.study.needed("stance", "weight") else w.study.parts(w.end)
        if self.part is None:
            self.picked = self.parts[0].id if self.parts else ""
        one = self.part
        cut = one is not None and any(c.id == one.id for c in w.project.fabrication.cut_parts)
        self.done.setText("Not cut after all" if cut else "Mark as cut")
        self.done.setEnabled(one is not None)
        self.gone.setEnabled(self.own is not None)
        sizes = [] if one is None else [Entry(s.path, s.title) for s in one.sizes if s.path is not None]
        proposed = {} if one is None else {s.path: s.value for s in one.sizes if s.path is not None}
        self.drawer.show_entries([*sizes, *own_entries(self.own)], proposed)
        self.ways.show_picked(self.way)
        assert self.theme is not None
        self.names.show_with(self.theme, self._list)
        self.picture.show_with(self.theme, self._paint)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self.picture.update()

    def _list(self, p: QPainter, t: Theme, picture: Picture) -> None:
        y, w = 6.0, float(picture.width())
        for one in self.parts:
            box = QRectF(4, y, w - 8, 62)
            if one.id == self.picked:
                p.fillRect(box, t.raised)
                p.fillRect(QRectF(4, y, 3, 62), t.dye)
            frame = fit(one.pattern, QRectF(14, y + 6, 58, 50))
            paint(p, pattern_shapes(Pattern(one.pattern.outline, one.pattern.holes)), frame, t)
            text(p, QRectF(80, y + 4, w - 88, 30), one.name, t.text, size=9, wrap=True)
            bad = [c for c in one.checks if not c.good]
            words = f"{one.count} off, {show(one.thickness, 'fine_length', self.workspace.unit)}"
            text(
                p,
                QRectF(80, y + 40, w - 88, 16),
                f"{'▲ ' if bad else ''}{words}",
                t.torch if bad else t.quiet,
                size=8.5,
            )
            picture.hits.append(Hit(box, f"{one.name}: {words}.", partial(self.pick, one.id), f"part {one.id}"))
            y += 66
        if picture.minimumHeight() != int(y):
            picture.setMinimumHeight(int(y))

    def _paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        one, unit = self.part, self.workspace.unit
        w, h = float(picture.width()), float(picture.height())
        if one is None:
            layout = self.workspace.project.layout(self.workspace.end)
            words = "No parts yet: they are made from brackets. Layout, Holes puts a row of holes to a pivot."
            if layout is not None and layout.leaf is not None:
                words = "No parts yet: U-bolt plates go by what the bolts go round. Choose the axle in Donors, its tube's size counts; or type the casting's in Layout, Leaves."
            flow(p, QRectF(24, 30, w - 48, 80), words, t.quiet, size=11)
            return
        if self.way == "rig":
            study = self.workspace.study
            paint_steel(p, t, picture, study, self.workspace.end, self.picked, self._large)
            return
        text(p, QRectF(16, 6, w - 32, 20), one.name, t.text, size=11, bold=True, elide=True)
        facts = f"{one.count} off · {show(one.thickness, 'fine_length', unit)} plate · {show(one.mass, 'mass', unit, decimals=2)} each"
        text(p, QRectF(16, 28, w - 32, 16), facts, t.quiet, size=9)
        told = part_words(one, unit, self.workspace.study.part_changes(one))
        low = 18.0 * len(told) + 24
        room = QRectF(90, 60, w - 180, max(60.0, h - 60 - low - 46))
        frame = fit(one.pattern, room)
        paint(p, pattern_shapes(one.pattern), frame, t)
        self._numbers(p, t, picture, frame, one)
        y = h - low
        for sentence, bad in told:
            text(p, QRectF(16, y, w - 32, 16), sentence, t.torch if bad else t.text, size=9, elide=True)
            picture.hits.append(Hit(QRectF(16, y, w - 32, 16), sentence))
            y += 18
        text(p, QRectF(16, y + 2, w - 32, 16), CAUTION, t.quiet, size=8.5, elide=True)

    def _numbers(self, p: QPainter, t: Theme, picture: Picture, frame: Frame, one: Part) -> None:
        """Its sizes on the part itself: over all, a hole, its edge and pitch; a click goes to the field of each."""
        unit = self.workspace.unit
        (x0, y0), (x1, y1) = extent(one.pattern.outline)

        def size(v: float) -> str:
            return show(v, "length", unit, decimals=2 if unit == "in" else 1)

        a, b = frame.at((x0, y0)) + QPointF(0, 18), frame.at((x1, y0)) + QPointF(0, 18)
        dimension(p, t, a, b, size(x1 - x0))
        self._number(picture, one, x1 - x0, QRectF(0.5 * (a.x() + b.x()) - 36, a.y() - 9, 72, 18))
        a, b = frame.at((x1, y0)) + QPointF(20, 0), frame.at((x1, y1)) + QPointF(20, 0)
        dimension(p, t, a, b)
        box = QRectF(a.x() + 6, 0.5 * (a.y() + b.y()) - 9, 70, 18)
        text(p, box, size(y1 - y0), t.text, size=9)
        self._number(picture, one, y1 - y0, box)
        holes = one.pattern.holes
        if not holes:
            return
        last = holes[-1]
        at = frame.at((last.x, last.y))
        box = QRectF(at.x() + 0.5 * last.diameter * frame.scale + 4, at.y() - 9, 66, 18)
        text(p, box, f"⌀ {size(last.diameter)}", t.text, size=9)
        self._number(picture, one, last.diameter, box)
        if len(holes) > 1:
            pitch = math.hypot(holes[1].x - holes[0].x, holes[1].y - holes[0].y)
            c, d = frame.at((holes[0].x, holes[0].y)), frame.at((holes[1].x, holes[1].y))
            dimension(p, t, c, d, faint=True)
            box = QRectF(0.5 * (c.x() + d.x()) - 74, 0.5 * (c.y() + d.y()) - 9, 60, 18)
            text(p, box, size(pitch), t.quiet, size=8.5, align="right")
            self._number(picture, one, pitch, box)

    def _number(self, picture: Picture, one: Part, value: float, box: QRectF) -> None:
        """A number on the drawing that is one of the part's sizes: a click goes to its field."""
        found = next((s for s in one.sizes if abs(s.value - value) < 1e-6), None)
        if found is None or found.path is None:
            picture.hits.append(Hit(box, "It follows from the other sizes."))
            return
        why = f", proposed: {found.why}" if found.why else ""
        tip = f"{found.title.capitalize()}{why}. Click to type it."
        picture.hits.append(Hit(box, tip, partial(focus_field, self, found.path), f"size {found.key}"))

    def as_text(self) -> str:
        unit = self.workspace.unit
        lines = []
        for one in self.parts:
            plate = show(one.thickness, "fine_length", unit)
            lines.append(f"{one.name}\t{one.count} off\t{plate}\t{show(one.mass, 'mass', unit, decimals=2)}")
            lines += [f"\t{words}" for words, _ in part_words(one, unit, self.workspace.study.part_changes(one))]
        return "\n".join(lines) or "No parts yet."


def fit(pattern: Pattern, room: QRectF) -> Frame:
    """The frame that draws a pattern as large as a room takes, in its middle."""
    (x0, y0), (x1, y1) = extent(pattern.outline)
    scale = min(room.width() / max(x1 - x0, 1e-3), room.height() / max(y1 - y0, 1e-3))
    left = room.center().x() - scale * 0.5 * (x0 + x1)
    return Frame(QPointF(left, room.center().y() + scale * 0.5 * (y0 + y1)), scale)


def part_words(one: Part, unit: UnitSystem, changes: PartChanges | None) -> list[tuple[str, bool]]:
    """Whether it is cut and what has changed since, what is proposed of it and why, what there is too little of."""

    def size(v: float) -> str:
        return show(v, "length", unit, decimals=2 if unit == "in" else 1)

    proposed = [f"{s.title} {size(s.value)} ({s.why})" for s in one.sizes if s.why]
    out = []
    if changes is not None:
        since = "; ".join(f"{title} {size(was)} then, {size(now)} now" for title, was, now in changes.sizes)
        moved = f"since then: {since}. Make it anew, or bring the layout back" if since else "nothing has changed since"
        out.append((f"Cut{f' on {changes.when}' if changes.when else ''}; {moved}.", bool(since)))
    out += [(f"Proposed: {'; '.join(proposed)}.", False)] if proposed else []
    out += [(words, False) for words in one.notes]
    out += [
        (f"{c.what.capitalize()}: {size(c.value)}, {size(c.wanted)} is wanted.", True) for c in one.checks if not c.good
    ]
    if all(c.good for c in one.checks):
        out.append(("Edges, holes and room for the socket are as wanted.", False))
    return out
