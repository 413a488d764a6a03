"""The weight look: scales under the tyres, things that come on and off where they sit, the balance point with its
uncertainty.
"""

from __future__ import annotations

import math
from collections.abc import Callable

import msgspec
from PyQt6.QtCore import QPointF, QRectF, QSignalBlocker, Qt
from PyQt6.QtGui import QMouseEvent, QPainter, QPen
from PyQt6.QtWidgets import QCheckBox, QComboBox, QLabel, QListWidget, QPushButton, QVBoxLayout, QWidget

from stoutlink.app.canvas.lettering import words
from stoutlink.app.canvas.painting import Frame, paint
from stoutlink.app.desk.labels import Label
from stoutlink.app.desk.still_box import StillBox
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.rig.board import Board, Spot
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.app.widgets.word_field import WordField
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.weight import WeightItem
from stoutlink.core.drawing.axle_views import balance_shapes
from stoutlink.core.drawing.rig_views import rig_plan, rig_side
from stoutlink.core.drawing.shapes import Shape, ViewName
from stoutlink.core.editing.edits import PutInList, SetChoice, TakeFromList
from stoutlink.core.quantity.shown import show

DRAWER = 226
SOURCES = {
    "mass_from": ("Weight", (("stated", "as stated"), ("scales", "scales"), ("items", "curb and items"))),
    "along_from": ("CG along", (("stated", "as stated"), ("scales", "scales"), ("items", "curb and items"))),
    "height_from": (
        "CG height",
        (
            ("stated", "as stated"),
            ("bell_housing", "bell housing bolt"),
            ("tilt", "tilting"),
            ("items", "curb and items"),
        ),
    ),
}
CARRIED = (("frame", "carried by the frame"), ("front_axle", "on the front axle"), ("rear_axle", "on the rear axle"))
CAUTION = "Tilting: wheels free to roll, one axle braked, suspension chained, nobody near or under it. Raise it with gear rated for the load."


def _spots() -> list[Spot]:
    s = "rig.weight.scales."

    def corner(end: str, left: bool) -> Spot:
        sign = 1.0 if left else -1.0
        name = f"{end}_{'left' if left else 'right'}"
        channel = f"{end[0].upper()}{'L' if left else 'R'}"
        return Spot(
            f"{s}{name}_kg",
            f"scale {end} {'left' if left else 'right'}",
            "plan",
            lambda r: (0.0 if end == "rear" else r.wheelbase_m, sign * r.end(end).track_m / 2),
            (0, 4),
            None,
            (channel,),
        )

    return [
        *(corner(end, left) for end in ("rear", "front") for left in (True, False)),
        Spot("rig.mass_kg", "weight as stated", "side", lambda r: (-r.rear.free, 1.58), (30, 0)),
        Spot("rig.weight.gvwr_kg", "weight rating (GVWR)", "side", lambda r: (-r.rear.free, 1.58), (150, 0)),
        Spot("rig.weight.curb_mass_kg", "curb weight", "side", lambda r: (-r.rear.free, 1.58), (270, 0)),
        Spot("rig.weight.curb_cg_ahead_m", "curb CG ahead of rear", "side", lambda r: (-r.rear.free, 1.58), (392, 0)),
        Spot("rig.weight.curb_cg_height_m", "curb CG height", "side", lambda r: (-r.rear.free, 1.58), (512, 0)),
        Spot("rig.cg_ahead_of_rear_m", "CG ahead, stated", "side", lambda r: (0.0, 1.22), (78, 0)),
        Spot("rig.cg_height_m", "CG height, stated", "side", lambda r: (r.wheelbase_m, 1.22), (-60, 0)),
        Spot("rig.weight.bell_housing_m", "top bell housing bolt", "side", lambda r: (r.wheelbase_m, 1.22), (66, 0)),
        Spot(
            "rig.front.unsprung_mass_kg",
            "front unsprung",
            "plan",
            lambda r: (r.wheelbase_m, 0.0),
            (-64, 0),
            None,
            (),
            lambda r: r.front.unsprung,
        ),
        Spot(
            "rig.rear.unsprung_mass_kg",
            "rear unsprung",
            "plan",
            lambda r: (0.0, 0.0),
            (64, 0),
            None,
            (),
            lambda r: r.rear.unsprung,
        ),
        Spot("rig.front.old_axle_mass_kg", "axle that comes out", "plan", lambda r: (r.wheelbase_m, 0.0), (-64, 44)),
        Spot("rig.rear.old_axle_mass_kg", "axle that comes out", "plan", lambda r: (0.0, 0.0), (64, 44)),
        Spot(
            "rig.weight.scales.rear_kg",
            "or scales, rear axle",
            "plan",
            lambda r: (0.0, 0.0),
            (64, -46),
            None,
            ("RL", "RR"),
        ),
        Spot(
            "rig.weight.scales.front_kg",
            "or scales, front axle",
            "plan",
            lambda r: (r.wheelbase_m, 0.0),
            (-64, -46),
            None,
            ("FL", "FR"),
        ),
        Spot("rig.weight.tilt.angle_rad", "tilted by", "tilt", lambda r: (0.0, 0.0), (0, 0), None, ("A",)),
        Spot(
            "rig.weight.tilt.front_kg", "front axle, tilted", "tilt", lambda r: (0.0, 0.0), (108, 0), None, ("FL", "FR")
        ),
        Spot(
            "rig.weight.tilt.rear_kg", "rear axle, tilted", "tilt", lambda r: (0.0, 0.0), (216, 0), None, ("RL", "RR")
        ),
    ]


class WeightBoard(Board):
    """Side view and plan with a drawer of items at the right."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "weight", _spots(), parent)
        for spot, field in zip(self.spots, self.fields, strict=True):
            if spot.path.endswith("unsprung_mass_kg"):
                field.use_fallback(self._unsprung("front" if ".front." in spot.path else "rear"), "estimated")
        self.selected: str | None = None
        self._boxes: dict[str, QComboBox] = {}
        for key, (title, choices) in SOURCES.items():
            box = StillBox(self)
            box.setObjectName(f"choice_{key}")
            box.setAccessibleName(f"{title} comes from")
            box.setToolTip(f"{title}: which of the numbers counts.")
            box.setFont(font(9))
            for value, word in choices:
                box.addItem(f"{title}: {word}", value)
            box.activated.connect(
                lambda i, k=key, b=box, n=title: workspace.do(
                    SetChoice(f"rig.weight.{k}", b.itemData(i), f"source of {n}")
                )
            )
            self._boxes[key] = box
        self._raised = StillBox(self)
        self._raised.setObjectName("choice_raised")
        self._raised.setAccessibleName("Which end was raised")
        self._raised.setFont(font(9))
        for value, word in (("front", "front raised"), ("rear", "rear raised")):
            self._raised.addItem(word, value)
        self._raised.activated.connect(
            lambda i: workspace.do(SetChoice("rig.weight.tilt.raised", self._raised.itemData(i), "raised end"))
        )
        self._drawer = _Drawer(workspace, self)

    def _unsprung(self, end: str) -> Callable[[], float]:
        return lambda: self.workspace.rig.end(end).unsprung

    def frames(self) -> dict[str, Frame]:
        rig, w, h = self.rig, self.width() - DRAWER, self.height()
        scale = min(
            (w - 130) / (rig.wheelbase_m + rig.front.free + rig.rear.free),
            (h - 176) / (1.45 + max(rig.front.track_m, rig.rear.track_m) + 0.35),
        )
        left = w / 2 - (rig.wheelbase_m + rig.front.free - rig.rear.free) * scale / 2
        ground = 60 + 1.42 * scale
        return {
            "side": Frame(QPointF(left, ground), scale),
            "plan": Frame(
                QPointF(left, ground + 20 + (max(rig.front.track_m, rig.rear.track_m) / 2 + 0.17) * scale), scale
            ),
            "tilt": Frame(QPointF(190, h - 24), 1.0),
        }

    def arrange(self) -> None:
        super().arrange()
        if self.width() < 50:
            return
        frames = self.frames()
        for i, field in enumerate(f for s, f in zip(self.spots, self.fields, strict=True) if s.path in TOP_ROW):
            field.move(16 + i * 122, 26)
        for i, box in enumerate(self._boxes.values()):
            box.setGeometry(self.width() - DRAWER + 8, 8 + i * 30, DRAWER - 16, 26)
        self._raised.setGeometry(16, int(frames["tilt"].origin.y()) - 13, 118, 26)
        self._drawer.setGeometry(self.width() - DRAWER, 200, DRAWER, self.height() - 200)

    def refresh(self, theme: Theme) -> None:
        super().refresh(theme)
        book = self.rig.weight
        for key, box in self._boxes.items():
            with QSignalBlocker(box):
                box.setCurrentIndex(box.findData(getattr(book, key)))
        with QSignalBlocker(self._raised):
            self._raised.setCurrentIndex(self._raised.findData(book.tilt.raised))
        if self.selected is not None and all(i.id != self.selected for i in book.items):
            self.selected = None
        self._drawer.refresh(theme)

    def select(self, item_id: str | None) -> None:
        """Show an item in the drawer."""
        self.selected = item_id
        if self.theme is not None:
            self._drawer.refresh(self.theme)
        self.update()

    def paint_board(self, p: QPainter, t: Theme) -> None:
        rig, true, frames = self.rig, self.workspace.rig, self.frames()
        numbers = self.workspace.study.rig_numbers()
        up, along = numbers["cg_height"], numbers["cg_ahead"]
        known = {"side": up.value is not None and along.value is not None, "plan": along.value is not None}
        views: tuple[tuple[ViewName, list[Shape]], ...] = (("side", rig_side(rig)), ("plan", rig_plan(rig)))
        for view, shapes in views:
            balance = balance_shapes(true, view, up.sigma, along.sigma) if known[view] else []
            paint(p, [*shapes, *balance], frames[view], t)
        for item in rig.weight.items:
            for view in ("side", "plan"):
                c = frames[view].at((item.x_m, item.z_m if view == "side" else item.y_m))
                r = 3.0 + 1.1 * math.sqrt(abs(item.mass_kg))
                chosen = item.id == self.selected
                p.setPen(
                    QPen(
                        t.dye if chosen else t.soap,
                        2 if chosen else 1.2,
                        Qt.PenStyle.SolidLine if item.mass_kg >= 0 else Qt.PenStyle.DashLine,
                    )
                )
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawEllipse(c, r, r)
                words(
                    p,
                    t,
                    QRectF(c.x() - 8, c.y() - 8, 16, 16),
                    "+" if item.mass_kg >= 0 else "−",
                    size=9,
                    bold=True,
                    centre=True,
                )
        p.fillRect(QRectF(self.width() - DRAWER, 0, DRAWER, self.height()), t.plate)
        y = 104
        unit = self.workspace.unit
        for key, title in (
            ("mass", "Weight"),
            ("cg_ahead", "CG ahead"),
            ("cg_height", "CG height"),
            ("sprung_cg_height", "Sprung CG"),
        ):
            n = numbers[key]
            places = 1 if n.kind == "length" and unit == "in" else 0
            words(p, t, QRectF(self.width() - DRAWER + 12, y, DRAWER - 20, 16), title, size=8.5, quiet=True)
            value = (
                f"{show(n.value, n.kind, unit, decimals=places)} ± {show(2 * n.sigma, n.kind, unit, decimals=places)}"
                if n.value is not None
                else "not known yet"
            )
            p.setFont(font(9, bold=n.value is not None))
            p.setPen(t.text if n.value is not None else t.quiet)
            p.drawText(
                QRectF(self.width() - DRAWER + 12, y, DRAWER - 24, 16),
                int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter),
                value,
            )
            y += 22
        words(
            p,
            t,
            QRectF(16, frames["tilt"].origin.y() - 56, self.width() - DRAWER - 30, 24),
            CAUTION,
            size=8,
            quiet=True,
        )

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        here = event.position()
        frames = self.frames()
        near = [
            (math.hypot(c.x() - here.x(), c.y() - here.y()), item.id)
            for item in self.rig.weight.items
            for view in ("side", "plan")
            for c in (frames[view].at((item.x_m, item.z_m if view == "side" else item.y_m)),)
        ]
        best = min(near, default=(99.0, ""))
        self.select(best[1] if best[0] < 22 else None)


TOP_ROW = (
    "rig.mass_kg",
    "rig.weight.gvwr_kg",
    "rig.weight.curb_mass_kg",
    "rig.weight.curb_cg_ahead_m",
    "rig.weight.curb_cg_height_m",
)


class _Drawer(QWidget):
    """The items: a list, and the one selected with its numbers."""

    def __init__(self, workspace: Workspace, board: WeightBoard) -> None:
        super().__init__(board)
        self.setObjectName("item_drawer")
        self.workspace, self._board = workspace, board
        layout = QVBoxLayout(self)
        layout.setContentsMargins(10, 4, 10, 6)
        layout.setSpacing(4)
        title = Label("Comes on, comes off", self)
        title.setFont(font(10, bold=True))
        layout.addWidget(title)
        self.list = QListWidget(self)
        self.list.setObjectName("items")
        self.list.setAccessibleName("Things that come on or off")
        self.list.setFont(font(9))
        self.list.currentRowChanged.connect(self._picked)
        layout.addWidget(self.list, 1)
        self._empty = Label(
            "Armour, people, fuel, a camper: add each with its weight and place. Take off with a minus.", self
        )
        self._empty.setWordWrap(True)
        self._empty.setProperty("quiet", True)
        self._empty.setFont(font(8.5))
        layout.addWidget(self._empty)
        self.add = QPushButton("Add an item", self)
        self.add.setObjectName("add_item")
        self.add.clicked.connect(self._add)
        layout.addWidget(self.add)
        self._detail = QWidget(self)
        inner = QVBoxLayout(self._detail)
        inner.setContentsMargins(0, 4, 0, 0)
        inner.setSpacing(3)
        self.name = WordField(workspace, None, "Name of the item", self._detail, name="item_name")
        inner.addWidget(self.name)
        self._fields: list[tuple[str, QuantityField, QLabel]] = []
        self._inner = inner
        self.carried = StillBox(self._detail)
        self.carried.setObjectName("item_on")
        self.carried.setAccessibleName("What carries it")
        for value, word in CARRIED:
            self.carried.addItem(word, value)
        self.carried.activated.connect(lambda i: self._change(on=self.carried.itemData(i)))
        self.weighed = QCheckBox("was on when weighed", self._detail)
        self.weighed.setObjectName("item_weighed")
        self.weighed.setToolTip("On the vehicle when the scales were read, so it is not added to them.")
        self.weighed.clicked.connect(lambda on: self._change(weighed=on))
        self.remove = QPushButton("Remove it", self._detail)
        self.remove.setObjectName("remove_item")
        self.remove.clicked.connect(self._remove)
        for one in (self.carried, self.weighed, self.remove):
            inner.addWidget(one)
        layout.addWidget(self._detail)

    def _item(self) -> WeightItem | None:
        return next((i for i in self.workspace.project.rig.weight.items if i.id == self._board.selected), None)

    def refresh(self, theme: Theme) -> None:
        """Show the items and the one selected."""
        items, unit = self.workspace.project.rig.weight.items, self.workspace.unit
        with QSignalBlocker(self.list):
            self.list.clear()
            for item in items:
                self.list.addItem(f"{show(item.mass_kg, 'mass', unit, signed=True)}  {item.name}")
            chosen = next((i for i, one in enumerate(items) if one.id == self._board.selected), -1)
            self.list.setCurrentRow(chosen)
        self._empty.setVisible(not items)
        self.list.setVisible(bool(items))
        chosen_item = self._item()
        self._detail.setVisible(chosen_item is not None)
        if chosen_item is None:
            return
        self.name.path = f"rig.weight.items.{chosen_item.id}.name"
        self.name.refresh()
        here = f"rig.weight.items.{chosen_item.id}"
        if not self._fields:
            for key, caption in (
                ("mass_kg", "weight"),
                ("x_m", "ahead of rear axle"),
                ("y_m", "left of middle"),
                ("z_m", "above ground"),
            ):
                label = Label(caption, self._detail)
                label.setFont(font(8.5))
                label.setProperty("quiet", True)
                field = QuantityField(
                    self.workspace, f"{here}.{key}", self._detail, title=caption.capitalize(), dim=False
                )
                at = self._inner.count() - 3
                self._inner.insertWidget(at, label)
                self._inner.insertWidget(at + 1, field)
                self._fields.append((key, field, label))
        for key, field, _ in self._fields:
            if field.path != f"{here}.{key}":
                field.set_path(f"{here}.{key}")
            field.setObjectName(f"item_{key}")
            field.refresh()
        with QSignalBlocker(self.carried):
            self.carried.setCurrentIndex(self.carried.findData(chosen_item.on))
        self.weighed.setChecked(chosen_item.weighed)

    def _picked(self, row: int) -> None:
        items = self.workspace.project.rig.weight.items
        if 0 <= row < len(items):
            self._board.select(items[row].id)

    def _add(self) -> None:
        rig: Rig = self.workspace.project.rig
        new = free_id("item-", (i.id for i in rig.weight.items))
        item = WeightItem(id=new, name="New item", mass_kg=20.0, x_m=round(0.5 * rig.wheelbase_m, 3), z_m=0.8)
        if self.workspace.do(PutInList("rig.weight.items", item, "Add an item", guessed=("mass_kg",))):
            self._board.select(new)
            self.name.setFocus()
            self.name.selectAll()

    def _change(self, **changes: object) -> None:
        item = self._item()
        if item is not None:
            self.workspace.do(
                PutInList("rig.weight.items", msgspec.structs.replace(item, **changes), f"Change {item.name}")
            )

    def _remove(self) -> None:
        item = self._item()
        if item is not None:
            self.workspace.do(TakeFromList("rig.weight.items", (item.id,), f"Remove {item.name}"))
