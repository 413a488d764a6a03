"""The rig step: the vehicle drawn from its numbers, every number standing where it belongs."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from PyQt6.QtCore import QPointF, QRectF, QSignalBlocker, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QLineEdit, QWidget

from stoutlink.app.painting import Frame, paint
from stoutlink.app.quantity_field import QuantityField
from stoutlink.app.theme import Theme, font
from stoutlink.app.workspace import Workspace
from stoutlink.core.analysis.anti_numbers import load_share, school_height
from stoutlink.core.analysis.default_sigma import CG_HEIGHT
from stoutlink.core.document.rig import Rig
from stoutlink.core.drawing.axle_views import balance_shapes
from stoutlink.core.drawing.rig_views import rig_plan, rig_side
from stoutlink.core.drawing.shapes import Flat
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.quantity.shown import show

USES = (("rock", "Rock"), ("trail", "Trail"), ("road", "Road"), ("tow", "Tow"))
CASES = (("locked", "Transfer case locks"), ("open", "Open centre case"))
FIELD = (98, 23)


@dataclass(frozen=True)
class _Spot:
    """A number on the drawing: where it stands, its caption, and the dimension line it belongs to."""

    path: str
    caption: str
    view: Literal["side", "plan"]
    at: Callable[[Rig], Flat]
    shift: tuple[float, float] = (0.0, 0.0)
    line: Callable[[Rig], tuple[Flat, Flat]] | None = None


def _spots() -> list[_Spot]:
    out = [
        _Spot("rig.wheelbase_m", "wheelbase", "side", lambda r: (0.30 * r.wheelbase_m, 0.0), (0, 34), lambda r: ((0.0, -0.16), (r.wheelbase_m, -0.16))),
        _Spot("rig.cg_height_m", "CG height", "side", lambda r: (r.cg_ahead_of_rear_m, 0.27 * r.cg_height_m), (0, 0), lambda r: ((r.cg_ahead_of_rear_m, 0.0), (r.cg_ahead_of_rear_m, r.cg_height_m))),
        _Spot("rig.cg_ahead_of_rear_m", "CG ahead of rear axle", "side", lambda r: (0.46 * r.cg_ahead_of_rear_m, r.cg_height_m + 0.20), (0, 0), lambda r: ((0.0, r.cg_height_m + 0.20), (r.cg_ahead_of_rear_m, r.cg_height_m + 0.20))),
        _Spot("rig.mass_kg", "weight, all up", "side", lambda r: (0.0, 1.66), (0, 0)),
        _block("transfer_high_ratio", "transfer high", 0.40, 1.66, 0.48),
        _block("transfer_low_ratio", "transfer low", 0.40, 1.36, 0.48),
        _block("top_ratio", "top gear", 0.66, 1.66, 0.63),
        _block("first_ratio", "first gear", 0.66, 1.36, 0.63),
        _block("idle_rpm", "idle", 0.92, 1.96, 0.84),
        _block("engine_torque_nm", "engine torque", 0.92, 1.66, 0.84),
        _block("converter_stall_ratio", "converter stall", 0.92, 1.36, 0.84),
        _Spot("rig.road_speed_m_per_s", "road speed to hold", "plan", lambda r: (0.5 * r.wheelbase_m, 0.0), (0, -66)),
        _Spot("rig.brake_front_share", "brakes, front share", "plan", lambda r: (0.5 * r.wheelbase_m, 0.0), (0, 66)),
    ]  # fmt: skip
    for end in ("rear", "front"):
        out += _end_spots(end)
    return out


def _block(key: str, caption: str, along: float, height: float, block: float) -> _Spot:
    """A number of the drivetrain, above its block, with a leader down to it."""
    return _Spot(
        f"rig.drivetrain.{key}", caption, "side", lambda r: (along * r.wheelbase_m, height), (0, 0),
        (lambda r: ((along * r.wheelbase_m, height - 0.08), (block * r.wheelbase_m, max(r.front.loaded, r.rear.loaded) + 0.30))) if height < 1.5 else None,
    )  # fmt: skip


def _end_spots(end: str) -> list[_Spot]:
    side = -1.0 if end == "rear" else 1.0

    def x(r: Rig) -> float:
        return 0.0 if end == "rear" else r.wheelbase_m

    def edge(r: Rig) -> float:
        return x(r) + side * (r.end(end).tyre_free_radius_m + 0.05)

    return [
        _Spot(f"rig.{end}.tyre_free_radius_m", "tyre free radius", "side", lambda r: (edge(r), 0.78), (side * 58, 0)),
        _Spot(f"rig.{end}.loaded_radius_m", "loaded radius", "side", lambda r: (edge(r), 0.40), (side * 58, 0), lambda r: ((edge(r), 0.0), (edge(r), r.end(end).loaded))),
        _Spot(f"rig.{end}.rolling_radius_m", "rolling radius", "side", lambda r: (edge(r), 0.04), (side * 58, 0)),
        _Spot(f"rig.{end}.track_m", f"{end} track", "plan", lambda r: (x(r) - side * 0.12, 0.0), (-side * 66, 0), lambda r: ((x(r) - side * 0.12, -r.end(end).track_m / 2), (x(r) - side * 0.12, r.end(end).track_m / 2))),
        _Spot(f"rig.{end}.unsprung_mass_kg", f"{end} unsprung weight", "plan", lambda r: (edge(r), 0.0), (side * 58, 0)),
    ]  # fmt: skip


class RigSheet(QWidget):
    """Side view over plan, numbers on them."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("sheet_rig")
        self._workspace = workspace
        self._theme: Theme | None = None
        self._spots = _spots()
        self._fields = []
        for spot in self._spots:
            fallback = self._fallback(spot.path)
            field = QuantityField(workspace, spot.path, self, title=spot.caption.capitalize(), fallback=fallback)
            field.setFixedSize(*FIELD)
            self._fields.append(field)
        top = QWidget(self)
        row = QHBoxLayout(top)
        row.setContentsMargins(14, 8, 14, 0)
        self.name = QLineEdit(top)
        self.name.setObjectName("rig_name")
        self.name.setAccessibleName("Name of the rig")
        self.name.setFont(font(12, bold=True))
        self.name.setFixedWidth(170)
        self.name.editingFinished.connect(self._rename)
        row.addWidget(self.name, 1)
        self.use = self._choice("use", "What it is for", USES, top)
        self.case = self._choice("drivetrain.transfer_case", "Transfer case", CASES, top)
        for label, box in (("Used for", self.use), ("", self.case)):
            if label:
                row.addWidget(QLabel(label, top))
            row.addWidget(box)
        row.addStretch(1)
        self._facts = QLabel(top)
        self._facts.setObjectName("rig_facts")
        self._facts.setFont(font(9))
        row.addWidget(self._facts)
        self._top = top

    def _choice(self, key: str, title: str, words: tuple[tuple[str, str], ...], parent: QWidget) -> QComboBox:
        box = QComboBox(parent)
        box.setObjectName(f"choice_{key}")
        box.setAccessibleName(title)
        box.setToolTip(f"{title}.")
        for value, word in words:
            box.addItem(word, value)
        box.activated.connect(lambda i: self._workspace.do(SetChoice(f"rig.{key}", box.itemData(i), title)))
        return box

    def _fallback(self, path: str) -> Callable[[], float] | None:
        parts = path.split(".")
        if parts[-1] == "loaded_radius_m":
            return lambda: self._workspace.project.rig.end(parts[1]).loaded
        if parts[-1] == "rolling_radius_m":
            return lambda: self._workspace.project.rig.end(parts[1]).rolling
        return None

    def _rename(self) -> None:
        name = self.name.text().strip()
        if name != self._workspace.project.rig.name and not self._workspace.do(SetChoice("rig.name", name, "name of the rig")):
            self.name.setText(self._workspace.project.rig.name)

    def refresh(self, theme: Theme) -> None:
        """Show the current project."""
        self._theme = theme
        project = self._workspace.project
        rig, unit = project.rig, self._workspace.unit
        if not self.name.hasFocus():
            self.name.setText(rig.name)
            self.name.setCursorPosition(0)
            self.name.setToolTip(rig.name)
        for box, value in ((self.use, rig.use), (self.case, rig.drivetrain.transfer_case)):
            with QSignalBlocker(box):
                box.setCurrentIndex(box.findData(value))
        for field in self._fields:
            field.refresh()
        front, rear = load_share(rig, "front"), load_share(rig, "rear")
        self._facts.setText(
            f"Front {show(front * rig.mass_kg, 'mass', unit)} ({front:.0%})   rear {show(rear * rig.mass_kg, 'mass', unit)} ({rear:.0%})   "
            f"sprung CG {show(school_height(rig, 'sprung_mass'), 'length', unit, decimals=1)}"
        )
        self._arrange()
        self.update()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._top.setGeometry(0, 0, self.width(), 46)
        self._arrange()

    def _frames(self) -> dict[str, Frame]:
        rig = self._workspace.project.rig
        w, h = self.width(), self.height()
        margin = 128.0
        reach = max(rig.front.tyre_free_radius_m, rig.rear.tyre_free_radius_m)
        scale = min((w - 2 * margin) / (rig.wheelbase_m + 2 * reach), (h - 140) / (2.10 + 2.0))
        left = (w - rig.wheelbase_m * scale) / 2
        ground = 62 + 2.04 * scale
        return {"side": Frame(QPointF(left, ground), scale), "plan": Frame(QPointF(left, (h + ground + 60) / 2), scale)}

    def _arrange(self) -> None:
        rig, frames = self._workspace.project.rig, self._frames()
        for spot, field in zip(self._spots, self._fields, strict=True):
            at = frames[spot.view].at(spot.at(rig)) + QPointF(*spot.shift)
            x = max(4.0, min(self.width() - FIELD[0] - 4.0, at.x() - FIELD[0] / 2))
            field.move(int(x), int(at.y() - FIELD[1] / 2))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        t = self._theme
        if t is None:
            return
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.fillRect(self.rect(), t.sheet)
        project = self._workspace.project
        rig, frames = project.rig, self._frames()
        entry = project.entry("rig.cg_height_m")
        sigma = entry.sigma if entry and entry.sigma else CG_HEIGHT
        paint(p, [*rig_side(rig), *balance_shapes(rig, "side", sigma)], frames["side"], t)
        paint(p, [*rig_plan(rig), *balance_shapes(rig, "plan", sigma)], frames["plan"], t)
        for spot, field in zip(self._spots, self._fields, strict=True):
            if spot.line is not None:
                a, b = (frames[spot.view].at(v) for v in spot.line(rig))
                p.setPen(QPen(t.quiet, 1))
                p.drawLine(a, b)
                for end in (a, b):
                    p.drawLine(end + QPointF(-4, 4), end + QPointF(4, -4))
            box = QRectF(field.x() - 30, field.y() - 15, field.width() + 60, 14)
            p.setFont(font(8))
            p.setPen(t.quiet)
            p.drawText(box, Qt.AlignmentFlag.AlignCenter, spot.caption)
