"""A board: a drawing of the rig with number fields standing on it."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from msgspec import Struct
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QWidget

from stoutlink.app.canvas.lettering import dimension
from stoutlink.app.canvas.painting import Frame
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.look import Look
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.core.document.placeholders import is_placeholder
from stoutlink.core.document.rig import Rig
from stoutlink.core.drawing.shapes import Flat

T = TypeVar("T")
FIELD = (94, 23)
Place = Callable[[Rig], Flat]


class Spot(Struct, frozen=True):
    """A number on the drawing: its path, caption, view, place in metres, shift in pixels, and the dimension line it
    belongs to.
    """

    path: str
    caption: str
    view: str
    at: Place
    shift: tuple[float, float] = (0.0, 0.0)
    line: Callable[[Rig], tuple[Flat, Flat] | None] | None = None
    channels: tuple[str, ...] = ()
    fallback: Callable[[Rig], float] | None = None
    fallback_basis: Callable[[Rig], str] | None = None


class Board(Look):
    """Base of the four looks; subclasses give spots, frames and what to paint."""

    def __init__(self, workspace: Workspace, name: str, spots: list[Spot], parent: QWidget | None = None) -> None:
        super().__init__(workspace, f"board_{name}", name.capitalize(), parent)
        self.spots = spots
        self.fields: list[QuantityField] = []
        for spot in spots:
            title = spot.caption[:1].upper() + spot.caption[1:]
            field = QuantityField(
                workspace, spot.path, self, title=title, fallback=self._stands_in(spot), channels=spot.channels
            )
            basis = self._bound(spot.fallback_basis)
            if basis is not None:
                field.fallback_basis = basis
            field.setFixedSize(*FIELD)
            self.fields.append(field)

    def _stands_in(self, spot: Spot) -> Callable[[], float | None] | None:
        """What an empty field stands for; nothing while it would be made from a tyre that nobody has entered."""
        value = self._bound(spot.fallback)
        if value is None:
            return None
        tyre = next((f"rig.{e}.tyre_free_radius_m" for e in ("front", "rear") if e in spot.path), "")
        sized = "radius" in spot.path or "measured_on" in spot.path
        return lambda: None if sized and is_placeholder(self.workspace.project, tyre) else value()

    def _bound(self, of_rig: Callable[[Rig], T] | None) -> Callable[[], T] | None:
        """A function of the rig as one of nothing."""
        return None if of_rig is None else lambda: of_rig(self.rig)

    @property
    def rig(self) -> Rig:
        """The rig as entered, its tyres and stance; weight numbers in force come from the workspace."""
        return self.workspace.project.rig

    def frames(self) -> dict[str, Frame]:
        """Where each view lies."""
        raise NotImplementedError

    def paint_board(self, p: QPainter, t: Theme) -> None:
        """Paint everything but the fields."""
        raise NotImplementedError

    def prepare(self) -> None:
        for field in self.fields:
            field.refresh()
        self.arrange()

    def arrange(self) -> None:
        """Put the fields where they belong."""
        if self.width() < 50:
            return
        rig, frames = self.rig, self.frames()
        for spot, field in zip(self.spots, self.fields, strict=True):
            at = frames[spot.view].at(spot.at(rig)) + QPointF(*spot.shift)
            x = max(4.0, min(self.width() - FIELD[0] - 4.0, at.x() - FIELD[0] / 2))
            y = max(16.0, min(self.height() - FIELD[1] - 2.0, at.y() - FIELD[1] / 2))
            field.move(int(x), int(y))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self.arrange()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        t = self.theme
        if t is None:
            return
        with QPainter(self) as p:
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            p.fillRect(self.rect(), t.sheet)
            self.paint_board(p, t)
            rig, frames = self.rig, self.frames()
            for spot, field in zip(self.spots, self.fields, strict=True):
                line = spot.line(rig) if spot.line is not None else None
                if line is not None:
                    dimension(p, t, frames[spot.view].at(line[0]), frames[spot.view].at(line[1]))
                box = QRectF(field.x() - 34, field.y() - 15, field.width() + 68, 14)
                p.setFont(font(8))
                p.setPen(t.quiet)
                p.drawText(box, Qt.AlignmentFlag.AlignCenter, spot.caption)
            if self.workspace.study.needed("stance"):
                p.setPen(t.quiet)
                p.setFont(font(8.5))
                said = "Sizes not entered yet are drawn with stand-ins."
                p.drawText(QRectF(14, self.height() - 20, 400, 16), Qt.AlignmentFlag.AlignLeft, said)
