"""What fits what: places of both axles down, parts of both axles, vehicle and shelf across."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from stoutlink.app.quantity_field import QuantityField
from stoutlink.app.sheets.donors.choice_box import ChoiceBox
from stoutlink.app.sheets.donors.look import DonorLook, Hit, Picture, text
from stoutlink.app.theme import Theme, font
from stoutlink.app.workspace import Workspace
from stoutlink.core.analysis.match_matrix import Cell, Matrix, match_matrix
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.swap import ShelfPart
from stoutlink.core.editing.edits import PutInList, SetChoice, TakeFromList

SIGNS = {"fits": "✓", "bridged": "⇄", "no": "✗", "unknown": "?"}
WORDS = {"fits": "fits", "bridged": "does not fit; can be bridged", "no": "does not fit", "unknown": "not known"}
KINDS = (
    ("side_gears", "side gears"), ("inner_shaft", "inner shaft"), ("stub", "stub"), ("hub", "hub"), ("locker", "locker"), ("gear_set", "gear set"),
    ("joint", "joint"), ("driveshaft", "driveshaft"), ("adapter", "wheel adapter"), ("brake_line", "brake line"), ("other", "other"),
)  # fmt: skip


class MatchLook(DonorLook):
    """The matrix, the cell looked at in words, and the shelf part picked as fields."""

    pair = True

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "match", "Match matrix", parent)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        self.picture = Picture("match_picture", "Match matrix", self)
        outer.addWidget(self.picture, 1)
        row = QHBoxLayout()
        row.setContentsMargins(12, 2, 12, 6)
        add = QPushButton("Add a part from the shelf", self)
        add.setObjectName("add_shelf_part")
        add.setToolTip("Put a part you have into the matrix.")
        add.clicked.connect(self._add)
        row.addWidget(add)
        self.name = QLineEdit(self)
        self.name.setObjectName("shelf_name")
        self.name.setAccessibleName("Name of the part")
        self.name.setFixedWidth(190)
        self.name.editingFinished.connect(self._rename)
        self.kind = ChoiceBox(workspace, "shelf_kind", "Kind of part", KINDS, self)
        self.kind.path = lambda: None if self.part is None else f"shelf.{self.part}.kind"
        self.fields: list[QuantityField] = []
        self.labels: list[QLabel] = []
        row.addWidget(self.name)
        row.addWidget(self.kind)
        self._row = row
        self.words: dict[str, QLineEdit] = {}
        for key, tip in (("series", "Joint series"), ("thread", "Brake thread")):
            line = QLineEdit(self)
            line.setObjectName(f"shelf_{key}")
            line.setAccessibleName(tip)
            line.setToolTip(f"{tip}.")
            line.setPlaceholderText(tip)
            line.setFixedWidth(96)
            line.editingFinished.connect(lambda k=key: self._say(k))
            self.words[key] = line
            row.addWidget(line)
        row.addStretch(1)
        self.gone = QPushButton("Remove", self)
        self.gone.setObjectName("remove_shelf_part")
        self.gone.setToolTip("Take this part off the shelf.")
        self.gone.clicked.connect(self._remove)
        row.addWidget(self.gone)
        outer.addLayout(row)
        self.found: Matrix | None = None
        self.cell: Cell | None = None
        self.part: str | None = None

    def prepare(self) -> None:
        w = self.workspace
        project = w.project
        self.found = match_matrix(project, w.rig, project.donor("front"), project.donor("rear"))
        if self.cell is not None:
            self.cell = self.found.cell(self.cell.place, self.cell.part)
        if self.part is not None and all(s.id != self.part for s in project.shelf):
            self.part = None
        part = next((s for s in project.shelf if s.id == self.part), None)
        for widget in (self.name, self.kind, self.gone, *self.words.values()):
            widget.setVisible(part is not None)
        paths = (
            []
            if part is None
            else [
                (f"shelf.{part.id}.{k}", t)
                for k, t in (("spline_teeth", "teeth"), ("spline_pitch_per_in", "pitch"), ("bolt_count", "bolts"), ("bolt_circle_m", "circle"))
            ]
        )
        while len(self.fields) < len(paths):
            label, field = QLabel(self), QuantityField(w, paths[len(self.fields)][0], self)
            label.setFont(font(8.5))
            label.setProperty("quiet", True)
            field.setFixedSize(70, 23)
            self._row.insertWidget(self._row.count() - 4, label)
            self._row.insertWidget(self._row.count() - 4, field)
            self.labels.append(label)
            self.fields.append(field)
        for i, field in enumerate(self.fields):
            shown = i < len(paths)
            field.setVisible(shown)
            self.labels[i].setVisible(shown)
            if shown:
                field.set_path(paths[i][0])
                self.labels[i].setText(paths[i][1])
        if part is not None:
            self.kind.refresh()
            if not self.name.hasFocus():
                self.name.setText(part.name)
            for key, line in self.words.items():
                if not line.hasFocus():
                    line.setText(getattr(part, key))
        if self.theme is not None:
            self.picture.show_with(self.theme, self._draw)

    def _add(self) -> None:
        new = free_id("part-", (s.id for s in self.workspace.project.shelf))
        if self.workspace.do(PutInList("shelf", ShelfPart(id=new, name="Part from the shelf", kind="inner_shaft"), "Add a part from the shelf")):
            self.pick(new)

    def pick(self, part: str) -> None:
        """Show a shelf part's fields."""
        self.part = part
        if self.theme is not None:
            self.refresh(self.theme, self.donor)

    def _remove(self) -> None:
        if self.part is not None:
            self.workspace.do(TakeFromList("shelf", (self.part,), "Take a part off the shelf"))

    def _rename(self) -> None:
        name = self.name.text().strip()
        part = next((s for s in self.workspace.project.shelf if s.id == self.part), None)
        if part is not None and name and name != part.name:
            self.workspace.do(SetChoice(f"shelf.{part.id}.name", name, "name of the part"))

    def _say(self, key: str) -> None:
        part = next((s for s in self.workspace.project.shelf if s.id == self.part), None)
        if part is not None and self.words[key].text().strip() != getattr(part, key):
            self.workspace.do(SetChoice(f"shelf.{part.id}.{key}", self.words[key].text().strip(), key))

    def _look(self, cell: Cell) -> None:
        self.cell = cell
        if cell.part.startswith("shelf "):
            self.pick(cell.part.removeprefix("shelf "))
        self.picture.update()

    def _draw(self, p: QPainter, t: Theme, picture: Picture) -> None:
        found = self.found
        if found is None or not found.places:
            text(
                p,
                QRectF(30, 30, picture.width() - 60, 60),
                "Choose an axle at one end or both: their splines, circles and threads are then held against each other and against the shelf.",
                t.quiet,
                size=11,
                align="centre",
                wrap=True,
            )
            return
        left, top = 242.0, 58.0
        each = min(120.0, (picture.width() - left - 14) / max(1, len(found.parts)))
        row = min(30.0, (picture.height() - top - 110) / len(found.places))
        for j, (key, title) in enumerate(found.parts):
            box = QRectF(left + j * each, 4, each, 50)
            text(
                p,
                box.adjusted(4, 0, -4, 0),
                title if len(title) <= 30 else f"{title[:29]}…",
                t.text if self.part != key.removeprefix("shelf ") else t.dye,
                size=8.5,
                align="centre",
                wrap=True,
            )
            if key.startswith("shelf "):
                picture.hits.append(Hit(box, f"{title}: click to change it.", partial(self.pick, key.removeprefix("shelf ")), key))
        for i, place in enumerate(found.places):
            y = top + i * row
            p.setPen(QPen(t.edge, 2 if i and found.places[i - 1].end != place.end else 1))
            p.drawLine(QPointF(10, y), QPointF(left + each * len(found.parts), y))
            text(p, QRectF(12, y, left - 20, row), place.title, t.text, size=9.5)
            for j, (key, _) in enumerate(found.parts):
                cell = found.cell(place, key)
                box = QRectF(left + j * each + 2, y + 2, each - 4, row - 4)
                if cell is None:
                    continue
                colour = {"fits": t.soap, "bridged": t.torch, "no": t.oxide, "unknown": t.quiet}[cell.state]
                if cell == self.cell:
                    p.setPen(QPen(t.dye, 2))
                    p.setBrush(t.raised)
                    p.drawRoundedRect(box, 3, 3)
                elif cell.state in ("bridged", "no"):
                    p.setPen(QPen(colour, 1, Qt.PenStyle.DashLine if cell.state == "bridged" else Qt.PenStyle.SolidLine))
                    p.setBrush(Qt.BrushStyle.NoBrush)
                    p.drawRoundedRect(box, 3, 3)
                text(p, box, SIGNS[cell.state], colour, size=12, bold=True, align="centre")
                picture.hits.append(
                    Hit(box, f"{place.title}, {key}: {WORDS[cell.state]}. {cell.why}", partial(self._look, cell), f"{place.end} {place.kind} {key}")
                )
        y = top + len(found.places) * row + 8
        said = self.cell or next((c for c in found.cells if c.state in ("no", "bridged")), None)
        if said is not None:
            title = dict(found.parts)[said.part]
            lines = [f"{said.place.title}, from {title}: {WORDS[said.state]}. {said.why[:1].upper() + said.why[1:]}."]
            if said.bridge:
                lines.append(f"What bridges it: {said.bridge}.")
            text(p, QRectF(14, y, picture.width() - 28, 44), "\n".join(lines), t.text, size=10, wrap=True)
        counts = {s: sum(c.state == s for c in found.cells) for s in SIGNS}
        key = "   ".join(f"{SIGNS[s]} {WORDS[s]} ({n})" for s, n in counts.items())
        text(p, QRectF(14, picture.height() - 22, picture.width() - 28, 18), key, t.quiet, size=8.5)

    def as_text(self) -> str:
        if self.found is None or not self.found.places:
            return "No axles chosen."
        names = dict(self.found.parts)
        return "\n".join(f"{c.place.title}\t{names[c.part]}\t{WORDS[c.state]}\t{c.why}\t{c.bridge}" for c in self.found.cells)
