"""What the drawings of layout and travel have in common: the round view in its pane, and when it follows."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PyQt6.QtCore import QPointF, QRectF, QTimer, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPen, QRegion, QResizeEvent, QWheelEvent
from PyQt6.QtWidgets import QWidget

from stoutlink.app.canvas.painting import Frame
from stoutlink.app.canvas.round_pane import RoundPane, RoundShown
from stoutlink.app.canvas.view_geometry import Large, ViewGeometry
from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.widgets.photo_under import PhotoUnder
from stoutlink.core.analysis.cycle.posed import Nearest, Posed
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.document.quantities import Point
from stoutlink.core.drawing.assembly import Assembly, at_ride
from stoutlink.core.drawing.axle_views import AxlePose
from stoutlink.core.drawing.round_view import Scene
from stoutlink.core.drawing.shapes import VIEWS, ViewName
from stoutlink.core.editing.pivots import Pivot
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show
from stoutlink.core.study.question import same_parts

REST_MS = 90
TITLES: dict[Large, str] = {
    "side": "Side, from the right",
    "plan": "Plan",
    "rear": "Rear, from behind",
    "round": "Round",
}
SMALL_TITLES: dict[Large, str] = TITLES | {"side": "Side", "rear": "Rear"}

NearWords = tuple[tuple[Nearest, str], ...]
"""Least distances, with words."""


class LinkedViews(QWidget):
    """Panes on one sheet, and the round view over one of them. A drawing says where its axle stands (:meth:`pose`, against
    :meth:`ride_centre`), what is to be seen (:meth:`fit`), and what is in the round (:meth:`round_now`). ``enlarge`` carries
    a view that is to be large.
    """

    enlarge = pyqtSignal(str)
    EMPTY = ""
    """What the round view says while nothing is in it."""

    def __init__(self, workspace: Workspace, parent: QWidget | None) -> None:
        super().__init__(parent)
        self._workspace = workspace
        self.theme: Theme | None = None
        self.drawn = ViewGeometry()
        self.round = RoundPane(self)
        self.under = PhotoUnder(workspace, self)
        """Photos under the flat views."""
        self.under.ready.connect(self.redraw)
        self._assembly = Assembly()
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(REST_MS)
        self._later.timeout.connect(self._round_later)
        self._panes: tuple[tuple[float, float], Large] | None = None
        """The panes as they were when all was brought into view."""
        self._in_round: tuple[tuple[object, ...], Scene, NearWords] | None = None

    def pose(self) -> AxlePose | None:
        """Where the axle stands; ``None`` where it does not get to."""
        raise NotImplementedError

    def ride_centre(self) -> Point | None:
        """The middle of the axle at ride."""
        raise NotImplementedError

    def fit(self) -> None:
        """Bring everything into the views."""
        raise NotImplementedError

    def panes(self) -> dict[ViewName, QRectF]:
        """Where the flat views lie in the widget."""
        return self.drawn.panes()

    def frame_of(self, view: ViewName) -> Frame:
        """Metres to pixels in a view."""
        return self.drawn.frame_of(view)

    def view_at(self, pixel: QPointF) -> ViewName | None:
        """The flat view under a pixel."""
        return next((view for view, pane in self.panes().items() if pane.contains(pixel)), None)

    def title_of(self, view: ViewName) -> str:
        """What a view is called in its pane."""
        return (SMALL_TITLES if self.drawn.is_small(view) else TITLES)[view]

    def rearrange(self) -> None:
        """Another view is large, or the axle is followed or not, or the sheet has another size; what was moved and enlarged by
        hand stays so in the same panes."""
        self.drawn.size = (float(self.width()), float(self.height()))
        self._place_round()
        self.follow_axle()
        panes = (self.drawn.size, self.drawn.large)
        if panes != self._panes:
            self._panes = panes
            self.fit()
        if self.theme is not None:
            self.refresh_round(self.theme)
        self.redraw()

    def follow_axle(self) -> None:
        """Have the views go with the axle, where that is wanted."""
        pose, ride = self.pose(), self.ride_centre()
        self.drawn.carried = (0.0, 0.0, 0.0)
        if self._workspace.drawing.follow and pose is not None and ride is not None:
            x, y, z = (a - b for a, b in zip(pose.centre, ride, strict=True))
            self.drawn.carried = (x, y, z)

    def zoom(self, factor: float, about: QPointF | None = None) -> None:
        """Draw larger or smaller, what is under a pixel kept in place."""
        if about is None and self.drawn.large == "round":
            self.round.zoom(factor)
            return
        large = next(v for v in VIEWS if self.drawn.large in ("all", "round", v))
        view = self.view_at(about) if about is not None else large
        if view is not None:
            self.drawn.zoom(factor, view, about)
        self.placed()
        self.redraw()

    def placed(self) -> None:
        """The views were moved: what lies over them follows."""

    def pivot_near(self, pixel: QPointF) -> tuple[Pivot, ViewName] | None:
        """The pivot under a pixel, and in which view."""
        raise NotImplementedError

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self.pivot_near(event.position()) is not None:
            return
        view = self.view_at(event.position())
        if view is not None and self.drawn.is_small(view):
            self.enlarge.emit(view)
        else:
            self.fit()
            self.redraw()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None:
            self.zoom(1.0015 ** event.angleDelta().y(), event.position())

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self.rearrange()

    def redraw(self) -> None:
        """Draw the flat views again; the round one says for itself when it changed."""
        self.update(QRegion(self.rect()).subtracted(QRegion(self.round.geometry())))

    def _place_round(self) -> None:
        """Put the round view where it belongs."""
        self.round.small = self.drawn.is_small("round")
        self.round.setGeometry(self.drawn.every_pane()["round"].toRect().adjusted(1, 1, -1, -1))

    def paint_borders(self, p: QPainter, t: Theme) -> None:
        """Lines between the panes."""
        p.setPen(QPen(t.edge, 1))
        p.setBrush(t.sheet)
        for pane in self.drawn.every_pane().values():
            p.drawLine(pane.topLeft(), pane.topRight())
            p.drawLine(pane.topLeft(), pane.bottomLeft())

    def ready(self) -> bool:
        """Whether the round view is drawn as fine as it will be."""
        return not self._later.isActive() and self.round.ready() and not self.under.busy

    def stop(self) -> None:
        """Leave off work beside the window."""
        self._later.stop()
        self.under.stop()
        self.round.stop()

    # Round

    def round_key(self) -> tuple[object, ...]:
        """What the round view's bodies rest on: the same as long as these are the very same things and equal numbers."""
        raise NotImplementedError

    def round_bodies(self) -> tuple[Sequence[Posed], NearWords]:
        """The axles where they stand, and what is nearest there."""
        raise NotImplementedError

    def round_pivots(self) -> tuple[Mapping[Pivot, Point], Pivot | None]:
        """Pivots that can be had in the round, and the one picked."""
        raise NotImplementedError

    def refresh_round(self, theme: Theme) -> None:
        """Show the round view as things are now; while a hand drags, a small one follows once it rests."""
        if not self.round.isVisibleTo(self) or not self.isVisible():
            return
        if self._workspace.dragging and self.drawn.large != "round":
            if not self.round.behind:
                self.round.behind = True
                self.round.update()
            self._later.start()
            return
        key = self.round_key()
        if self._in_round is None or not same_parts(key, self._in_round[0]):
            posed, near = self.round_bodies()
            self._in_round = (key, self._assembly.scene(self._workspace.study, posed), near)
        _, scene, near = self._in_round
        pivots, selected = self.round_pivots()
        self.round.show_round(theme, RoundShown(scene, lit_of(near), near, pivots, selected, self.EMPTY))

    def _round_later(self) -> None:
        if self._workspace.dragging:
            self._later.start()
        elif self.round.theme is not None:
            self.refresh_round(self.round.theme)

    def others_at_ride(self, end: str) -> tuple[Posed, ...]:
        """The axle that is not in work, at ride height."""
        return tuple(one for one in at_ride(self._workspace.study) if one.grid.layout.end != end)

    def near_at(self, posed: Posed | None, travel: AxleTravel | None, row: int, column: int) -> NearWords:
        """What is nearest at a pose of a travel, measured as it stands, with words."""
        unit = self._workspace.unit
        return tuple((one, gap_words(one.gap, unit)) for one in self._workspace.study.near(posed, travel, row, column))


def gap_words(gap: float, unit: UnitSystem) -> str:
    """A distance between two things in words."""
    shown = show(abs(gap), "length", unit, decimals=2 if unit == "in" else 0)
    return f"runs in {shown}" if gap < 0 else shown


def lit_of(near: NearWords) -> frozenset[str]:
    """Names of what touches."""
    return frozenset(name for one, _ in near if one.gap < 0 for name in (one.one, one.other))
