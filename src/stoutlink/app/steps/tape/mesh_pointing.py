"""Something taken in from a mesh, alone in the round: places of it are pointed at, one after the other, to say which they are."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from stoutlink.app.canvas.pointing_pane import POINTING, PointingPane
from stoutlink.app.canvas.round_pane import RoundShown
from stoutlink.app.desk.labels import Label
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.core.analysis.survey.mesh_place import as_drawn, sharp_points
from stoutlink.core.document.quantities import Point
from stoutlink.core.document.survey import MeshSolid
from stoutlink.core.drawing.round_view import Scene
from stoutlink.core.drawing.solids import Thing, solid_mesh
from stoutlink.core.editing.layout_edits import MovePoint

SAID = "Take places that a tape finds too: corners, and ends of tubes. Shown are the pieces that hold the mesh, in its file's own axes."


class MeshPointing(QWidget):
    """Shows the thing in its own axes; ``done`` when the hand has pointed at enough, or wants to go."""

    done = pyqtSignal()

    def __init__(self, workspace: Workspace, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("mesh_pointing")
        self._workspace = workspace
        self.solid_id, self.anchor_id = "", ""
        self._seen: tuple[object, Scene] | None = None
        outer = QVBoxLayout(self)
        outer.setContentsMargins(14, 4, 8, 6)
        outer.setSpacing(4)
        row = QHBoxLayout()
        self.asks = Label("", self)
        self.asks.setObjectName("pointing_asks")
        self.asks.setFont(font(10, bold=True))
        row.addWidget(self.asks)
        row.addStretch(1)
        self._points = QButtonGroup(self)
        self._row = QHBoxLayout()
        row.addLayout(self._row)
        end = QPushButton("Done", self)
        end.setObjectName("pointing_done")
        end.setToolTip("Back to the frame as the tape finds it. Esc does the same.")
        end.setFont(font(9))
        end.clicked.connect(lambda _=False: self.leave())
        row.addWidget(end)
        outer.addLayout(row)
        said = Label(SAID, self)
        said.setFont(font(8.5))
        said.setProperty("quiet", True)
        said.setWordWrap(True)
        outer.addWidget(said)
        self.pane = PointingPane(self)
        self.pane.setToolTip(POINTING)
        self.pane.pointed.connect(self.take)
        outer.addWidget(self.pane, 1)

    def solid(self) -> MeshSolid | None:
        """What is pointed at, while it is there."""
        found = next((s for s in self._workspace.project.tape.solids if s.id == self.solid_id), None)
        return found if isinstance(found, MeshSolid) else None

    def begin(self, solid_id: str, anchor_id: str) -> None:
        """Ask for a point of a solid."""
        self.solid_id, self.anchor_id = solid_id, anchor_id

    def leave(self) -> None:
        """Point at nothing any more."""
        self.solid_id = self.anchor_id = ""
        self.pane.stop()
        self.done.emit()

    def refresh(self, theme: Theme) -> None:
        """Show the current project."""
        solid = self.solid()
        if solid is None:
            return
        names = [a.id for a in solid.anchors]
        if self.anchor_id not in names:
            self.anchor_id = names[-1]
        new = self._seen is None or self._seen[0] is not solid.pieces
        if self._seen is None or new:
            thing = Thing(solid.name, "solid", "", solid_mesh(as_drawn(solid)), f"solids.{solid.id}")
            self._seen = (solid.pieces, Scene((thing,)))
            self.pane.catches = sharp_points(as_drawn(solid))
        self._make_buttons(len(names))
        for i, button in enumerate(self._points.buttons()):
            button.setChecked(names[i] == self.anchor_id)
        number = names.index(self.anchor_id) + 1
        self.asks.setText(f"Click on point {number} of {solid.name[:40]}")
        self.pane.marks = tuple((a.own_m, f"point {i}", a.id == self.anchor_id) for i, a in enumerate(solid.anchors, 1))
        self.pane.show_round(theme, RoundShown(self._seen[1]))
        if new:
            self.pane.fit()

    def _make_buttons(self, count: int) -> None:
        while len(self._points.buttons()) > count:
            last = self._points.buttons()[-1]
            self._points.removeButton(last)
            last.hide()
            last.deleteLater()
        for i in range(len(self._points.buttons()), count):
            button = QPushButton(str(i + 1), self)
            button.setObjectName(f"pointing_{i + 1}")
            button.setAccessibleName(f"Point {i + 1}")
            button.setToolTip(f"Click on point {i + 1} next.")
            button.setCheckable(True)
            button.setFont(font(9))
            button.clicked.connect(lambda _=False, k=i: self._ask_for(k))
            self._points.addButton(button)
            self._row.addWidget(button)

    def _ask_for(self, number: int) -> None:
        solid = self.solid()
        if solid is not None and self.pane.theme is not None:
            self.anchor_id = solid.anchors[number].id
            self.refresh(self.pane.theme)

    def take(self, place: Point) -> None:
        """The point in hand is there; the next is asked for, and after the last it is done."""
        solid = self.solid()
        if solid is None:
            return
        names = [a.id for a in solid.anchors]
        number = names.index(self.anchor_id)
        x, y, z = (round(v, 5) for v in place)
        path, after = f"solids.{solid.id}.anchors.{self.anchor_id}.own_m", number + 1
        self.anchor_id = names[after] if after < len(names) else self.anchor_id
        if not self._workspace.do(MovePoint(path, (x, y, z), f"point {number + 1} of {solid.name}")):
            self.anchor_id = names[number]
        elif after == len(names):
            self.leave()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.leave()
            return
        super().keyPressEvent(event)
