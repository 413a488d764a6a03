"""Plate: every plate as it will be cut, one thickness after the other, true shapes in their places."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, pyqtSignal
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from stoutlink.app.canvas.painting import Frame, paint
from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.look import Look
from stoutlink.app.widgets.path_drawer import Entry, PathDrawer
from stoutlink.app.widgets.picture import Hit, Picture, flow, scrolled
from stoutlink.core.analysis.linkage.plate_plan import PlatePlan
from stoutlink.core.drawing.part_views import pattern_shapes
from stoutlink.core.geometry.pattern import Pattern, extent
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show


class PlateLook(Look):
    """``out`` asks for every plate as DXF."""

    out = pyqtSignal()

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "cut_plate", "Plate", parent)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        self.picture = Picture("plate_picture", "Plates as they will be cut", self)
        outer.addWidget(scrolled(self.picture, self), 1)
        self.drawer = PathDrawer(workspace, "plate_drawer", 4, self)
        self.drawer.setContentsMargins(12, 4, 12, 2)
        outer.addWidget(self.drawer)
        row = QHBoxLayout()
        row.setContentsMargins(12, 2, 12, 8)
        button = self.put_button(
            "plate_dxf", "All plates as DXF…", "One drawing, plate beside plate, at true scale.", row
        )
        button.clicked.connect(lambda _=False: self.out.emit())
        row.addStretch(1)
        outer.addLayout(row)
        self.plans: tuple[PlatePlan, ...] = ()

    def prepare(self) -> None:
        w = self.workspace
        self.plans = () if w.study.needed("stance", "weight") else w.study.plate_plan()
        words = (
            ("length_m", "plate length"),
            ("width_m", "plate width"),
            ("spacing_m", "between parts"),
            ("border_m", "off the edge"),
        )
        self.drawer.show_entries([Entry(f"plate.{key}", word) for key, word in words])
        assert self.theme is not None
        self.picture.show_with(self.theme, self._paint)

    def _paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        w, y = float(picture.width()), 8.0
        plate, unit = self.workspace.project.plate, self.workspace.unit
        if not self.plans:
            words = "Nothing to cut from plate: no parts yet, or all of them are cut."
            y += flow(p, QRectF(16, y, w - 32, 40), words, t.quiet, size=11)
        scale = (w - 40) / plate.length_m
        for plan in self.plans:
            for sentence, bad in plate_words(plan, unit):
                y += (
                    flow(p, QRectF(16, y, w - 32, 36), sentence, t.torch if bad else t.text, size=10 if not bad else 9)
                    + 3
                )
            for number in range(plan.nested.plates):
                box = QRectF(16, y + 2, plate.length_m * scale, plate.width_m * scale)
                p.fillRect(box, t.raised)
                p.setPen(QPen(t.edge, 1))
                p.drawRect(box)
                frame = Frame(box.bottomLeft(), scale)
                for part, pattern in plan.on(number):
                    paint(p, pattern_shapes(Pattern(pattern.outline, pattern.holes)), frame, t)
                    (x0, y0), (x1, y1) = extent(pattern.outline)
                    place = QRectF(frame.at((x0, y1)), frame.at((x1, y0)))
                    picture.hits.append(Hit(place, f"{part.name}, {show(part.thickness, 'fine_length', unit)}"))
                y += box.height() + 12
            y += 6
        if picture.minimumHeight() != int(y):
            picture.setMinimumHeight(int(y))

    def as_text(self) -> str:
        lines = []
        for plan in self.plans:
            lines += [words for words, _ in plate_words(plan, self.workspace.unit)]
            for number in range(plan.nested.plates):
                names = [part.name for part, _ in plan.on(number)]
                lines.append(
                    "\t".join([f"plate {number + 1}", *(f"{names.count(n)} × {n}" for n in dict.fromkeys(names))])
                )
        return "\n".join(lines) or "Nothing to cut from plate yet."


def plate_words(plan: PlatePlan, unit: UnitSystem) -> list[tuple[str, bool]]:
    """What is cut from plate of one thickness; what no plate is large enough for."""
    plates = plan.nested.plates
    many = f"{plates} plate{'s' if plates != 1 else ''}"
    out = [
        (
            f"{show(plan.thickness, 'fine_length', unit)} plate: {len(plan.nested.laid)} parts on {many}, {plan.used:.0%} used",
            False,
        )
    ]
    if plan.nested.too_large:
        names = dict.fromkeys(plan.pieces[i].name for i in plan.nested.too_large)
        out.append((f"No plate is large enough for {', '.join(names)}.", True))
    return out
