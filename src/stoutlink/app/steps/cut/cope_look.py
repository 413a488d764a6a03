"""Copes: the end of a tube unrolled as it is cut to sit on another, to print 1:1 and wrap round."""

from __future__ import annotations

import math
from functools import partial

from PyQt6.QtCore import QPointF, QRectF, pyqtSignal
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from stoutlink.app.canvas.painting import Frame, paint
from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.look import Look
from stoutlink.app.widgets.path_drawer import Entry, PathDrawer
from stoutlink.app.widgets.picture import Hit, Picture, flow, scrolled, text
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.link_work import TubeCope
from stoutlink.core.drawing.part_views import cope_loop, cope_sheet
from stoutlink.core.editing.edits import PutInList, TakeFromList
from stoutlink.core.geometry.pattern import extent
from stoutlink.core.mechanics.cope import Cope
from stoutlink.core.quantity.constants import INCH
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show

LIST = 220


class CopeLook(Look):
    """``out`` asks for the wrap as a file of a kind."""

    out = pyqtSignal(str)

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "cut_copes", "Copes", parent)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        body = QHBoxLayout()
        body.setSpacing(0)
        self.names = Picture("cope_list", "Copes", self)
        area = scrolled(self.names, self)
        area.setFixedWidth(LIST)
        body.addWidget(area)
        self.picture = Picture("cope_picture", "The wrap", self)
        body.addWidget(self.picture, 1)
        outer.addLayout(body, 1)
        self.drawer = PathDrawer(workspace, "cope_drawer", 4, self)
        self.drawer.setContentsMargins(12, 4, 12, 2)
        outer.addWidget(self.drawer)
        row = QHBoxLayout()
        row.setContentsMargins(12, 2, 12, 8)
        self.add = self.put_button(
            "add_cope", "Add a cope", "Another end of a tube to be cut to sit on something.", row
        )
        self.add.clicked.connect(lambda _=False: self._add())
        self.gone = self.put_button("remove_cope", "Remove", "Take this cope away.", row)
        self.gone.clicked.connect(lambda _=False: self._remove())
        for kind, words in (("pdf", "Wrap 1:1 on paper…"), ("dxf", "As DXF…"), ("svg", "As SVG…")):
            button = self.put_button(f"cope_{kind}", words, "True scale: as wide as the tube is round.", row)
            button.clicked.connect(partial(self._out, kind))
        row.addStretch(1)
        outer.addLayout(row)
        self.picked = ""

    def _out(self, kind: str, _: bool = False) -> None:
        self.out.emit(kind)

    @property
    def one(self) -> TubeCope | None:
        """The one shown."""
        return next((c for c in self.workspace.project.fabrication.copes if c.id == self.picked), None)

    @property
    def found(self) -> Cope | str:
        """Its line, or why there is none."""
        return "" if self.one is None else self.workspace.study.cope(self.one)

    def pick(self, name: str) -> None:
        """Show a cope."""
        self.picked = name
        if self.theme is not None:
            self.refresh(self.theme)

    def prepare(self) -> None:
        copes = self.workspace.project.fabrication.copes
        if self.one is None:
            self.picked = copes[0].id if copes else ""
        one = self.one
        self.gone.setEnabled(one is not None)
        names = (
            ("name", "name", "text"),
            ("od_m", "outside", "number"),
            ("wall_m", "wall", "number"),
            ("other_m", "sits on a tube of", "number"),
        )
        more = (
            ("angle_rad", "angle between", "number"),
            ("offset_m", "offset to the right", "number"),
            ("length_m", "tube, heel to heel", "number"),
            ("count", "how many", "number"),
        )
        self.drawer.show_entries(
            [] if one is None else [Entry(f"copes.{one.id}.{k}", w, kind) for k, w, kind in (*names, *more)]
        )
        assert self.theme is not None
        self.names.show_with(self.theme, self._list)
        self.picture.show_with(self.theme, self._paint)

    def _add(self) -> None:
        copes = self.workspace.project.fabrication.copes
        new = free_id("cope-", (c.id for c in copes))
        like = self.one
        od, wall = (1.75 * INCH, 0.12 * INCH) if like is None else (like.od_m, like.wall_m)
        cope = TubeCope(id=new, name=f"Cope {len(copes) + 1}", od_m=od, wall_m=wall, other_m=max(od, 1.75 * INCH))
        if self.workspace.do(PutInList("copes", cope, "Add a cope")):
            self.pick(new)

    def _remove(self) -> None:
        if self.picked:
            self.workspace.do(TakeFromList("copes", (self.picked,), "Take a cope away"))

    def _list(self, p: QPainter, t: Theme, picture: Picture) -> None:
        y, w, unit = 6.0, float(picture.width()), self.workspace.unit
        for one in self.workspace.project.fabrication.copes:
            box = QRectF(4, y, w - 8, 42)
            if one.id == self.picked:
                p.fillRect(box, t.raised)
                p.fillRect(QRectF(4, y, 3, 42), t.dye)
            bad = isinstance(self.workspace.study.cope(one), str)
            text(
                p,
                QRectF(14, y + 3, w - 24, 18),
                f"{'▲ ' if bad else ''}{one.name}",
                t.torch if bad else t.text,
                size=9.5,
                elide=True,
            )
            words = cope_title(one, unit)
            text(p, QRectF(14, y + 22, w - 24, 16), words, t.quiet, size=8.5, elide=True)
            picture.hits.append(Hit(box, f"{one.name}: {words}.", partial(self.pick, one.id), f"cope {one.id}"))
            y += 46
        if picture.minimumHeight() != int(y):
            picture.setMinimumHeight(int(y))

    def _paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        one, found, unit = self.one, self.found, self.workspace.unit
        w, h = float(picture.width()), float(picture.height())
        if one is None:
            words = "Nothing to cope yet. “Add a cope”: a brace on a cross-member, a carrier tube on a rail plate; the wrap comes out 1:1."
            flow(p, QRectF(24, 30, w - 48, 80), words, t.quiet, size=11)
            return
        text(
            p, QRectF(16, 6, w - 32, 20), f"{one.name}: {cope_title(one, unit)}", t.text, size=11, bold=True, elide=True
        )
        if isinstance(found, str):
            flow(p, QRectF(16, 40, w - 32, 60), f"There is no such cut: {found}.", t.oxide, size=11)
            return
        told = cope_words(found, unit)
        loop = cope_loop(found, 0.02)
        (x0, y0), (x1, y1) = extent(loop)
        room = QRectF(40, 50, w - 80, max(60.0, h - 110 - 18 * len(told)))
        scale = min(room.width() / (x1 - x0), room.height() / (y1 - y0))
        frame = Frame(
            QPointF(room.center().x() - scale * 0.5 * (x0 + x1), room.center().y() + scale * 0.5 * (y0 + y1)), scale
        )
        shapes = cope_sheet(found, "", unit, letters=11.0 / scale)
        paint(p, shapes, frame, t)
        y = h - 18 * len(told) - 8
        for words in told:
            text(p, QRectF(16, y, w - 32, 16), words, t.text, size=9, elide=True)
            y += 18

    def as_text(self) -> str:
        unit = self.workspace.unit
        lines = []
        for one in self.workspace.project.fabrication.copes:
            found = self.workspace.study.cope(one)
            told = f"there is no such cut: {found}" if isinstance(found, str) else " ".join(cope_words(found, unit))
            lines.append(f"{one.name}\t{cope_title(one, unit)}\t{told}")
        return "\n".join(lines) or "Nothing to cope yet."


def cope_title(one: TubeCope, unit: UnitSystem) -> str:
    """What is cut to sit on what."""
    size = f"{show(one.od_m, 'length', unit)} × {show(one.wall_m, 'fine_length', unit)}"
    other = "a plate" if one.other_m is None else show(one.other_m, "length", unit)
    off = f", {show(one.offset_m, 'length', unit)} off" if abs(one.offset_m) > 1e-6 else ""
    return f"{size} on {other} at {math.degrees(one.angle_rad):.1f}°{off}"


def cope_words(found: Cope, unit: UnitSystem) -> list[str]:
    """Depth, and what a square cut leaves to be bevelled."""

    def size(v: float) -> str:
        return show(v, "length", unit, decimals=3 if unit == "in" else 1)

    out = [
        f"The line is {size(found.depth)} deep on the outside. Wrap the straight edge round the tube, quarter lines on its quarters."
    ]
    if found.proud > 1e-4:
        at = math.degrees(found.proud_at)
        out.append(
            f"Cut square to the tube, the bore's edge stands {size(found.proud)} proud {at:.0f}° from the heel: bevel it there."
        )
    else:
        out.append("A square cut leaves nothing proud.")
    return out
