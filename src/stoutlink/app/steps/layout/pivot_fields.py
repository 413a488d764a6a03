"""The fields of a picked pivot: on their dimensions in the drawing, or in a row at its top where no large view shows them."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtCore import QRectF
from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk.labels import Label
from stoutlink.app.desk.theme import font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.layout.marks import dimension_lines
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.core.document.layout import Layout
from stoutlink.core.editing.edits import Edit
from stoutlink.core.editing.pivots import Pivot, move, of_leaf, of_link, path_of
from stoutlink.core.quantity.shown import Typed

if TYPE_CHECKING:
    from stoutlink.app.steps.layout.three_views import ThreeViews

WIDE, HIGH = 92, 24


class PivotFields:
    """Station, side and height of one pivot, in fields that lie over the views."""

    def __init__(self, workspace: Workspace, views: ThreeViews) -> None:
        self._workspace, self._views = workspace, views
        self.every: list[QuantityField] = []
        self._names: list[Label] = []

    def are_of(self, layout: Layout, pivot: Pivot) -> bool:
        """Whether they stand for this pivot of this layout, or there are none."""
        return not self.every or self.every[0].path == f"{path_of(layout, pivot)}.0"

    def pick(self, pivot: Pivot | None) -> None:
        """Make the fields of a pivot; points of leaves have none here."""
        for one in (*self.every, *self._names):
            one.hide()
            one.deleteLater()
        self.every, self._names = [], []
        layout = self._views.layout_shown
        if pivot is None or layout is None or of_leaf(pivot) is not None:
            return
        for axis, title in enumerate(("Station", "Side", "Height")):
            own = self._typed(pivot, axis) if of_link(pivot) else None
            field = QuantityField(
                self._workspace, f"{path_of(layout, pivot)}.{axis}", self._views, title=title, make_edit=own
            )
            field.setObjectName(f"pivot_{('station', 'side', 'height')[axis]}")
            field.setFixedSize(WIDE, HIGH)
            field.show()
            name = Label(title, self._views)
            name.setFont(font(8.5))
            self.every.append(field)
            self._names.append(name)

    def refresh(self) -> None:
        """Show the current numbers."""
        for one in self.every:
            one.refresh()

    def boxes(self) -> list[QRectF]:
        """Where they lie over the views."""
        seen: list[QWidget] = [*self.every, *self._names]
        return [QRectF(one.geometry()) for one in seen if one.isVisible()]

    def place(self) -> None:
        """Each on its dimension; those of a coordinate that no large view shows, in a row at the top of the large one."""
        drawn, beside = self._views.drawn, 0
        for field, name, (view, _, _, at) in zip(self.every, self._names, dimension_lines(self._views), strict=False):
            small = drawn.is_small(view)
            name.setVisible(small)
            if small:
                pane = drawn.every_pane()[drawn.large]
                x, y = pane.left() + 10 + beside * (WIDE + 12), pane.top() + HIGH
                beside += 1
            else:
                pane = self._views.panes()[view]
                x = max(pane.left() + 4, min(pane.right() - WIDE - 4, at.x() - WIDE / 2))
                y = max(pane.top() + 24, min(pane.bottom() - HIGH - 2, at.y() - HIGH / 2))
            field.move(int(x), int(y))
            name.move(int(x) + 4, int(y) - 18)
            field.raise_()
            name.raise_()

    def _typed(self, pivot: Pivot, axis: int) -> Callable[[Typed], Edit]:
        def make(typed: Typed) -> Edit:
            layout = self._views.layout_shown
            assert layout is not None
            at = self._views.place_in(layout, pivot)
            assert at is not None
            to = list(at)
            to[axis] = typed.value
            texts = ["", "", ""]
            texts[axis] = typed.text
            basis = "estimated" if typed.estimated else "measured"
            return move(layout, pivot, (to[0], to[1], to[2]), "", (texts[0], texts[1], texts[2]), basis, typed.sigma)  # type: ignore[arg-type]

        return make
