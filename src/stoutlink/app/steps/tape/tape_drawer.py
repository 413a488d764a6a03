"""The narrow drawer of the tape step: only what is selected, a point or a solid; else what there is."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

import msgspec
from PyQt6.QtCore import QSignalBlocker, pyqtSignal
from PyQt6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from stoutlink.app.desk.labels import Label
from stoutlink.app.desk.still_box import StillBox
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.widgets.picture import scrolled
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.app.widgets.word_field import WordField
from stoutlink.core.advice.survey_rules import mesh_words
from stoutlink.core.analysis.survey.mesh_place import AS_IN_FILE, MOST_ANCHORS, next_anchor
from stoutlink.core.analysis.survey.survey_points import read_point
from stoutlink.core.document.placeholders import placeholder_paths
from stoutlink.core.document.survey import KIND_NAMES, SOLID_NAMES, BoxSolid, MeshSolid, Solid, SurveyPoint, TubeSolid
from stoutlink.core.editing.edits import PutInList, ReplaceList, TakeFromList
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show

EDGES = {
    "station_edge": (
        "Station read at",
        (("centre", "centre"), ("near", "edge toward zero"), ("far", "edge away from zero")),
    ),
    "height_edge": ("Height read at", (("centre", "centre"), ("top", "top edge"), ("bottom", "bottom edge"))),
    "side_edge": ("Width read at", (("centre", "centre"), ("outside", "outside"), ("inside", "inside"))),
    "across": (
        "Width is",
        (
            ("full", "full width"),
            ("left", "left of the middle"),
            ("right", "right of the middle"),
            ("middle", "on the middle"),
        ),
    ),
    "kind": ("It is", tuple(KIND_NAMES.items())),
}
SIGMAS = (
    ("station_sigma_m", "station ± (1 σ)"),
    ("height_sigma_m", "height ± (1 σ)"),
    ("side_sigma_m", "width ± (1 σ)"),
)


class TapeDrawer(QWidget):
    """Shows one point, one solid, or the list of solids; ``picked_solid`` when a solid of the list is chosen."""

    picked_solid = pyqtSignal(str)
    point_at = pyqtSignal(str)
    """A point of the mesh shown is to be pointed at."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("tape_drawer")
        self.setFixedWidth(240)
        self._workspace = workspace
        self.survey_id: str | None = None
        self.point_id: str | None = None
        self.solid_id: str | None = None
        self.report = ""
        self._shape: tuple[object, ...] = ()
        self._outer = QVBoxLayout(self)
        self._outer.setContentsMargins(10, 6, 10, 6)
        self._outer.setSpacing(3)
        self._body: QWidget | None = None
        self._fields: list[QuantityField] = []
        self._boxes: dict[str, QComboBox] = {}
        self.name: WordField | None = None
        self.list: QListWidget | None = None
        self._summary: QLabel | None = None

    def point(self) -> SurveyPoint | None:
        """The point shown."""
        survey = self._workspace.project.survey(self.survey_id) if self.survey_id else None
        return survey.point(self.point_id) if survey is not None and self.point_id else None

    def solid(self) -> Solid | None:
        """The solid shown."""
        return next((s for s in self._workspace.project.tape.solids if s.id == self.solid_id), None)

    def refresh(self, theme: Theme) -> None:
        """Show what is selected; the widgets are only made again when something else is."""
        point, solid = self.point(), self.solid()
        length = len(solid.path_m) if isinstance(solid, TubeSolid) else 0
        anchors = tuple(a.id for a in solid.anchors) if isinstance(solid, MeshSolid) else ()
        shape = (
            ("solid", solid.id, type(solid), length, anchors)
            if solid is not None
            else ("point", self.survey_id, point.id)
            if point is not None
            else (
                "all",
                tuple(s.id for s in self._workspace.project.tape.solids),
                tuple(s.name for s in self._workspace.project.tape.solids),
                self.report,
            )
        )
        if shape != self._shape:
            self._shape = shape
            self._make(point, solid)
        self._fill(point, solid)

    def _make(self, point: SurveyPoint | None, solid: Solid | None) -> None:
        if self._body is not None:
            self._body.hide()
            self._body.deleteLater()
        self._fields, self._boxes, self.name, self.list, self._summary = [], {}, None, None, None
        body = QWidget()
        body.setMinimumWidth(150)  # never wider than the drawer
        body.setObjectName("tape_drawer_form")
        self._body = scrolled(body, self)
        grid = QGridLayout(body)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setVerticalSpacing(2)
        grid.setHorizontalSpacing(6)
        if solid is not None:
            self._solid_form(grid, solid)
        elif point is not None:
            self._point_form(grid, point)
        else:
            self._overview(grid)
        grid.setRowStretch(grid.rowCount(), 1)
        self._outer.addWidget(self._body)
        self._body.show()

    # Forms

    def _caption(
        self, grid: QGridLayout, text: str, row: int, column: int = 0, span: int = 1, *, big: bool = False
    ) -> QLabel:
        label = Label(text, self)
        label.setFont(font(10, bold=True) if big else font(8.5))
        label.setProperty("quiet", not big)
        label.setWordWrap(span > 1)
        grid.addWidget(label, row, column, 1, span)
        return label

    def _field(
        self, grid: QGridLayout, path: str, name: str, title: str, row: int, column: int, channels: tuple[str, ...] = ()
    ) -> None:
        field = QuantityField(self._workspace, path, self, title=title, dim=False, channels=channels)
        field.setObjectName(name)
        field.setFont(font(9))
        grid.addWidget(field, row, column)
        self._fields.append(field)

    def _choice(self, grid: QGridLayout, key: str, choices: tuple[tuple[str, str], ...], row: int) -> None:
        box = StillBox(self)
        box.setObjectName(f"tape_{key}")
        box.setFont(font(9))
        for value, word in choices:
            box.addItem(word, value)
        box.activated.connect(lambda i, k=key, b=box: self.change(**{k: b.itemData(i)}))
        grid.addWidget(box, row, 1)
        self._boxes[key] = box

    def _name_line(self, grid: QGridLayout, row: int) -> None:
        self.name = WordField(self._workspace, None, "Name", self, name="tape_name")
        self.name.setPlaceholderText("name")
        grid.addWidget(self.name, row, 0, 1, 2)

    def _point_form(self, grid: QGridLayout, point: SurveyPoint) -> None:
        at = f"surveys.{self.survey_id}.points.{point.id}"
        self._caption(grid, "Station in hand", 0, span=2, big=True)
        self._name_line(grid, 1)
        row = 2
        for key, (title, choices) in EDGES.items():
            self._caption(grid, title, row)
            self._choice(grid, key, choices, row)
            self._boxes[key].setAccessibleName(title)
            row += 1
        self._caption(grid, "its diameter", row)
        self._field(grid, f"{at}.diameter_m", "tape_diameter", "Diameter", row, 1)
        self._caption(grid, "slope there", row + 1)
        self._field(grid, f"{at}.angle_rad", "tape_angle", "Slope of the part", row + 1, 1, ("A",))
        row += 2
        for key, title in SIGMAS:
            self._caption(grid, title, row)
            self._field(grid, f"{at}.{key}", f"tape_{key}", title, row, 1)
            row += 1
        self._summary = self._caption(grid, "", row, span=2)
        self._summary.setObjectName("tape_summary")
        self._button(grid, "Remove station", "remove_point", row + 1, self.remove)

    def _solid_form(self, grid: QGridLayout, solid: Solid) -> None:
        at = f"solids.{solid.id}"
        self._caption(grid, "In the way", 0, span=2, big=True)
        self._name_line(grid, 1)
        self._caption(grid, "It is", 2)
        self._choice(grid, "kind", tuple(SOLID_NAMES.items()), 2)
        self._caption(grid, "clearance wanted", 3)
        self._field(grid, f"{at}.clearance_m", "solid_clearance", "Clearance wanted", 3, 1)
        row = 4
        if isinstance(solid, BoxSolid):
            for axis, (first, second) in enumerate(
                (("rear end", "front end"), ("right side", "left side"), ("underside", "top"))
            ):
                for which, caption in (("low_m", first), ("high_m", second)):
                    self._caption(grid, caption, row)
                    self._field(grid, f"{at}.{which}.{axis}", f"solid_{which}_{axis}", caption.capitalize(), row, 1)
                    row += 1
        elif isinstance(solid, TubeSolid):
            self._caption(grid, "diameter", row)
            self._field(grid, f"{at}.diameter_m", "solid_diameter", "Diameter", row, 1)
            row += 1
            for i in range(min(len(solid.path_m), 4)):
                for axis, word in enumerate(("ahead", "left", "up")):
                    self._caption(grid, f"point {i + 1}, {word}", row)
                    self._field(
                        grid, f"{at}.path_m.{i}.{axis}", f"solid_path_{i}_{axis}", f"Point {i + 1} {word}", row, 1
                    )
                    row += 1
            self._button(grid, "One more point", "add_path_point", row, self._add_path_point)
            row += 1
        elif isinstance(solid, MeshSolid):
            row = self._mesh_form(grid, solid, at, row)
        else:
            across = {
                "side": ("right face", "left face"),
                "plan": ("underside", "top"),
                "rear": ("rear face", "front face"),
            }[solid.view]
            for which, caption in (("low_m", across[0]), ("high_m", across[1])):
                self._caption(grid, caption, row)
                self._field(grid, f"{at}.{which}", f"solid_{which}", caption.capitalize(), row, 1)
                row += 1
            self._caption(
                grid, f"outline of {len(solid.outline_m)} corners, drawn in the {solid.view} view", row, span=2
            )
            row += 1
        self._button(grid, "Remove it", "remove_solid", row, self.remove)

    def _mesh_form(self, grid: QGridLayout, solid: MeshSolid, at: str, row: int) -> int:
        """Points it is placed by: in its file, and on the rig."""
        for i, anchor in enumerate(solid.anchors):
            self._caption(grid, f"point {i + 1}", row)
            self._button(grid, "Point at it", f"point_at_{i + 1}", row, partial(self.point_at.emit, anchor.id), 1)
            row += 1
            for key, short, titles in (
                ("own_m", "file", ("x in its file", "y in its file", "z in its file")),
                ("at_m", "rig", ("ahead on the rig", "left on the rig", "up on the rig")),
            ):
                line = QHBoxLayout()
                line.setSpacing(3)
                head = Label(short, self)
                head.setFont(font(8.5))
                head.setProperty("quiet", True)
                head.setFixedWidth(22)
                line.addWidget(head)
                for axis, title in enumerate(titles):
                    path = f"{at}.anchors.{anchor.id}.{key}.{axis}"
                    field = QuantityField(self._workspace, path, self, title=f"Point {i + 1} {title}", dim=False)
                    field.setObjectName(f"solid_{anchor.id}_{key}_{axis}")
                    field.setFont(font(8.5))
                    field.setMinimumWidth(40)
                    line.addWidget(field)
                    self._fields.append(field)
                grid.addLayout(line, row, 0, 1, 2)
                row += 1
        self._summary = self._caption(grid, "", row, span=2)
        self._summary.setObjectName("mesh_summary")
        more = self._button(grid, "One more point", "add_anchor", row + 1, self._add_anchor)
        more.setEnabled(len(solid.anchors) < MOST_ANCHORS)
        more.setToolTip("More points than three tell how well they were measured.")
        if len(solid.anchors) > 3:
            self._button(grid, "Take the last point out", "remove_anchor", row + 2, self._remove_anchor)
        as_drawn = self._button(grid, "It stands as in its file", "as_in_file", row + 3, self._as_in_file)
        as_drawn.setToolTip(
            "Its file has the rig's own axes: zero on the ground under the rear axle, ahead, left and up."
        )
        return row + 4

    def _overview(self, grid: QGridLayout) -> None:
        self._caption(grid, "In the way", 0, span=2, big=True)
        solids = self._workspace.project.tape.solids
        if solids:
            self.list = QListWidget(self)
            self.list.setObjectName("solids")
            self.list.setAccessibleName("What is in the way")
            self.list.setFont(font(9))
            self.list.setMaximumHeight(22 * len(solids) + 8)
            for solid in solids:
                self.list.addItem(solid.name)
            self.list.itemClicked.connect(lambda _: self._chosen())
            grid.addWidget(self.list, 1, 0, 1, 2)
        else:
            self._caption(
                grid,
                "Add the transfer case, exhaust, tank, and the room kept for what is not fitted yet. Links are checked against them.",
                1,
                span=2,
            )
        if self.report:
            self._caption(grid, "Joined", 2, span=2, big=True)
            label = self._caption(grid, self.report, 3, span=2)
            label.setObjectName("merge_report")

    def _button(
        self, grid: QGridLayout, text: str, name: str, row: int, slot: Callable[[], object], column: int = 0
    ) -> QPushButton:
        button = QPushButton(text, self)
        button.setObjectName(name)
        button.setFont(font(9))
        button.clicked.connect(lambda _=False: slot())
        grid.addWidget(button, row, column, 1, 2 - column)
        return button

    def focus_open(self) -> None:
        """Have the first number in hand that nobody has entered."""
        paths = placeholder_paths(self._workspace.project.entries)
        field = next((one for one in self._fields if one.path in paths), None)
        if field is not None:
            field.setFocus()

    # Values

    def _fill(self, point: SurveyPoint | None, solid: Solid | None) -> None:
        shown = solid if solid is not None else point
        if shown is None:
            return
        if self.name is not None:
            owner = "solids" if solid is not None else f"surveys.{self.survey_id}.points"
            self.name.path = f"{owner}.{shown.id}.name"
            self.name.refresh()
        for key, box in self._boxes.items():
            with QSignalBlocker(box):
                box.setCurrentIndex(box.findData(getattr(shown, key)))
        if isinstance(solid, MeshSolid) and self._summary is not None:
            self._summary.setText(mesh_words(self._workspace.project, solid))
        if solid is None and point is not None and self._summary is not None:
            self._summary.setText(summary_of(point, self._workspace.unit))
        for field in self._fields:
            field.refresh()

    def _chosen(self) -> None:
        if self.list is not None:
            self.picked_solid.emit(self._workspace.project.tape.solids[self.list.currentRow()].id)

    def change(self, **changes: object) -> None:
        """Change the point or solid shown."""
        solid, point = self.solid(), self.point()
        if solid is not None:
            self._workspace.do(PutInList("solids", msgspec.structs.replace(solid, **changes), f"Change {solid.name}"))
        elif point is not None:
            self._workspace.do(
                PutInList(
                    f"surveys.{self.survey_id}.points", msgspec.structs.replace(point, **changes), "Change a station"
                )
            )

    def _add_path_point(self) -> None:
        solid = self.solid()
        if isinstance(solid, TubeSolid):
            a, b = solid.path_m[-2:]
            new = tuple(min(11.0, max(-11.0, 2 * v - u)) for u, v in zip(a, b, strict=True))
            self.change(path_m=(*solid.path_m, new))

    def _add_anchor(self) -> None:
        """One more point a mesh is placed by, where the others put it until somebody says."""
        solid = self.solid()
        if isinstance(solid, MeshSolid):
            new = next_anchor(solid)
            guessed = tuple(f"at_m.{i}" for i in range(3))
            self._workspace.do(
                PutInList(f"solids.{solid.id}.anchors", new, f"Add a point of {solid.name}", guessed=guessed)
            )

    def _as_in_file(self) -> None:
        solid = self.solid()
        if isinstance(solid, MeshSolid):
            self._workspace.do(
                ReplaceList(f"solids.{solid.id}.anchors", AS_IN_FILE, f"Have {solid.name} as in its file")
            )

    def _remove_anchor(self) -> None:
        solid = self.solid()
        if isinstance(solid, MeshSolid):
            last = solid.anchors[-1].id
            self._workspace.do(TakeFromList(f"solids.{solid.id}.anchors", (last,), f"Take a point of {solid.name} out"))

    def remove(self) -> None:
        """Take the point or solid out."""
        solid, point = self.solid(), self.point()
        if solid is not None:
            self._workspace.do(TakeFromList("solids", (solid.id,), f"Remove {solid.name}"))
        elif point is not None:
            self._workspace.do(TakeFromList(f"surveys.{self.survey_id}.points", (point.id,), "Remove a station"))


def summary_of(point: SurveyPoint, unit: UnitSystem) -> str:
    """What the readings of a point come to: centre and ±, how often read and how far the repeats spread."""
    read = read_point(point)
    places = 2 if unit == "in" else 0
    lines = []
    for title, one in (("station", read.station), ("height", read.height), ("from the middle", read.half)):
        if one is None:
            continue
        times = (
            f", {one.count} readings spread {show(one.spread, 'length', unit, decimals=places)}"
            if one.count > 1
            else ""
        )
        lines.append(
            f"{title} {show(one.centre, 'length', unit, decimals=places)} ± {show(2 * one.sigma, 'length', unit, decimals=places)}{times}"
        )
    return "\n".join(lines)
