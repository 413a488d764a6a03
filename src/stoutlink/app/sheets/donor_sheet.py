"""The donors step: candidates with their shafts to scale, the chosen one under this rig, and what it tips over."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QBrush, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QLabel,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QVBoxLayout,
    QWidget,
)

from stoutlink.app.painting import Frame, paint
from stoutlink.app.theme import Theme, font
from stoutlink.app.workspace import Workspace
from stoutlink.core.advice.donor_rules import donor_findings
from stoutlink.core.analysis.donor_sure import donor_sure
from stoutlink.core.analysis.drive import FRICTION, SHOCK, DonorInRig, donor_in_rig
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.drawing.donor_view import donor_front, spline_section
from stoutlink.core.editing.edits import ChooseDonor
from stoutlink.core.quantity.shown import show

LOCKER_WORDS = {
    "open": "open differential", "limited_slip": "limited slip", "automatic": "automatic locker", "selectable": "selectable locker", "spool": "spool",
}  # fmt: skip
BASIS_WORDS = {"measured": "measured", "sheet": "from a sheet", "claim": "seller's claim", "estimated": "estimated"}


class _Row(QStyledItemDelegate):
    """A candidate: shaft section to scale, name, ratio and price."""

    theme: Theme | None = None
    unit: str = "in"

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(260, 58)

    def paint(self, p: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        t = self.theme
        it: DonorInRig | None = index.data(Qt.ItemDataRole.UserRole)
        if p is None or t is None or it is None:
            return
        p.save()
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        r = QRectF(option.rect)
        if option.state & QStyle.StateFlag.State_Selected:
            p.fillRect(r, t.raised)
            p.fillRect(QRectF(r.left(), r.top(), 4, r.height()), t.dye)
        chosen = bool(index.data(Qt.ItemDataRole.UserRole + 1))
        paint(p, spline_section(it), Frame(QPointF(r.left() + 34, r.center().y()), 1000), t)
        p.setPen(t.text)
        p.setFont(font(10.5, bold=chosen))
        name = p.fontMetrics().elidedText(("✓ " if chosen else "") + it.donor.name, Qt.TextElideMode.ElideRight, int(r.width()) - 78)
        p.drawText(QRectF(r.left() + 66, r.top() + 7, r.width() - 74, 20), Qt.AlignmentFlag.AlignVCenter, name)
        p.setPen(t.quiet)
        p.setFont(font(9))
        line = f"{it.ratio:.2f} gears, {show(it.donor.weight_kg, 'mass', 'in' if self.unit == 'in' else 'mm')}"
        p.drawText(QRectF(r.left() + 66, r.top() + 29, r.width() - 74, 18), Qt.AlignmentFlag.AlignVCenter, line)
        p.drawText(
            QRectF(r.left() + 66, r.top() + 29, r.width() - 80, 18), Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, it.donor.price
        )
        p.setPen(QPen(t.edge, 1))
        p.drawLine(r.bottomLeft(), r.bottomRight())
        p.restore()


class _Elevation(QWidget):
    """The candidate from the front, the other end's axle as a ghost behind it, and the margin bar of its shaft."""

    def __init__(self, workspace: Workspace, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("donor_drawing")
        self.setMinimumHeight(250)
        self._workspace = workspace
        self.theme: Theme | None = None
        self.it: DonorInRig | None = None

    def paintEvent(self, event: QPaintEvent | None) -> None:
        t, it = self.theme, self.it
        if t is None:
            return
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.fillRect(self.rect(), t.sheet)
        if it is None:
            return
        project, unit = self._workspace.project, self._workspace.unit
        end = self._workspace.rig.end(it.donor.end)
        scale = min((self.width() - 60) / (it.donor.width_m + 1.0), (self.height() - 84) / (end.loaded + end.free))
        frame = Frame(QPointF(self.width() / 2, self.height() - 62), scale)
        other = project.donor("front" if it.donor.end == "rear" else "rear")
        shapes = donor_front(it.donor, end)
        paint(p, shapes, frame, t)
        half = it.donor.width_m / 2
        z = end.loaded
        _dim(
            p,
            t,
            frame.at((-half, -0.0)) + QPointF(0, 22),
            frame.at((half, 0.0)) + QPointF(0, 22),
            f"{show(it.donor.width_m, 'length', unit)} over wheel faces",
        )
        if other is not None:
            words = f"{other.end} axle {show(other.width_m, 'length', unit)}"
            a, b = frame.at((-other.width_m / 2, 0)) + QPointF(0, 44), frame.at((other.width_m / 2, 0)) + QPointF(0, 44)
            _dim(p, t, a, b, words, ghost=True)
        low = z - 0.5 * it.donor.ring_diameter_m - 0.032
        middle = -it.donor.pinion_offset_m if it.donor.end == "rear" else it.donor.pinion_offset_m
        _dim(
            p,
            t,
            frame.at((middle, 0.0)),
            frame.at((middle, low)),
            f"≈ {show(it.ground_clearance, 'length', unit, decimals=1)} under the housing",
            upright=True,
        )
        p.setPen(t.quiet)
        p.setFont(font(9))
        seen = "from behind" if it.donor.end == "rear" else "from the front"
        p.drawText(
            QRectF(12, 8, self.width() - 24, 16), Qt.AlignmentFlag.AlignLeft, f"To scale, {seen}, on this rig's tyres (wheel offset not known)"
        )


def _dim(p: QPainter, t: Theme, a: QPointF, b: QPointF, words: str, *, ghost: bool = False, upright: bool = False) -> None:
    p.setPen(QPen(t.faint if ghost else t.quiet, 1, Qt.PenStyle.DashLine if ghost else Qt.PenStyle.SolidLine))
    p.drawLine(a, b)
    for end in (a, b):
        p.drawLine(end + QPointF(-4, 4), end + QPointF(4, -4))
    p.setFont(font(9))
    wide = p.fontMetrics().horizontalAdvance(words) + 12
    middle = (a + b) / 2
    box = QRectF(middle.x() + 8, middle.y() - 9, wide, 18) if upright else QRectF(middle.x() - wide / 2, middle.y() - 9, wide, 18)
    p.fillRect(box, QBrush(t.sheet))
    p.setPen(t.quiet if ghost else t.text)
    p.drawText(box, Qt.AlignmentFlag.AlignCenter, words)


class DonorSheet(QWidget):
    """List on the left, the axle drawn on the right, its facts and strongest caution below."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("sheet_donors")
        self._workspace = workspace
        self._theme: Theme | None = None
        self._listed: object = None
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        self.list = QListWidget(self)
        self.list.setObjectName("donor_list")
        self.list.setAccessibleName("Candidate axles")
        self.list.setFixedWidth(290)
        self._delegate = _Row(self.list)
        self.list.setItemDelegate(self._delegate)
        self.list.currentRowChanged.connect(self._looked_at)
        self.list.itemDoubleClicked.connect(lambda _: self._choose())
        row.addWidget(self.list)
        right = QVBoxLayout()
        right.setContentsMargins(16, 10, 16, 12)
        right.setSpacing(8)
        head = QHBoxLayout()
        self._name = QLabel(self)
        self._name.setFont(font(14, bold=True))
        self._name.setWordWrap(True)
        head.addWidget(self._name, 1)
        self.choose = QPushButton("Put it under", self)
        self.choose.setObjectName("choose_donor")
        self.choose.clicked.connect(self._choose)
        head.addWidget(self.choose)
        right.addLayout(head)
        self._plate = QLabel(self)
        self._plate.setFont(font(9))
        self._plate.setWordWrap(True)
        right.addWidget(self._plate)
        self._drawing = _Elevation(workspace, self)
        right.addWidget(self._drawing, 1)
        self.facts = QLabel(self)
        self.facts.setObjectName("donor_facts")
        self.facts.setWordWrap(True)
        self.facts.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        right.addWidget(self.facts)
        self.caution = QLabel(self)
        self.caution.setObjectName("donor_caution")
        self.caution.setWordWrap(True)
        self.caution.setContentsMargins(12, 8, 12, 8)
        right.addWidget(self.caution)
        row.addLayout(right, 1)

    def refresh(self, theme: Theme) -> None:
        """Show the current project."""
        self._theme = self._delegate.theme = self._drawing.theme = theme
        project, end = self._workspace.project, self._workspace.end
        self._delegate.unit = project.settings.units
        key = (self._workspace.rig, project.donors, end)
        chosen = project.donor(end)
        if key != self._listed:
            self._listed = key
            row = self.list.currentRow()
            before = self._looked().donor.id if self._looked() is not None else (chosen.id if chosen else None)  # type: ignore[union-attr]
            self.list.blockSignals(True)
            self.list.clear()
            for donor in project.donors:
                if donor.end == end:
                    item = QListWidgetItem(donor.name)
                    item.setData(Qt.ItemDataRole.UserRole, donor_in_rig(self._workspace.rig, donor))
                    item.setToolTip(donor.notes)
                    self.list.addItem(item)
                    if donor.id == before:
                        row = self.list.count() - 1
            if not 0 <= row < self.list.count():
                row = next((i for i in range(self.list.count()) if chosen and self._item(i).donor.id == chosen.id), 0)
            self.list.setCurrentRow(row)
            self.list.blockSignals(False)
        for i in range(self.list.count()):
            shown = self.list.item(i)
            if shown is not None:
                shown.setData(Qt.ItemDataRole.UserRole + 1, chosen is not None and self._item(i).donor.id == chosen.id)
        self._show()

    def end_changed(self) -> None:
        """Another end: begin with its chosen axle."""
        self.list.blockSignals(True)
        self.list.clear()
        self.list.blockSignals(False)
        self._listed = None

    def look_at(self, donor_id: str) -> None:
        """Put a candidate on the sheet by its id."""
        for i in range(self.list.count()):
            if self._item(i).donor.id == donor_id:
                self.list.setCurrentRow(i)

    def _item(self, i: int) -> DonorInRig:
        item = self.list.item(i)
        assert item is not None
        data: DonorInRig = item.data(Qt.ItemDataRole.UserRole)
        return data

    def _looked(self) -> DonorInRig | None:
        item = self.list.currentItem()
        return item.data(Qt.ItemDataRole.UserRole) if item is not None else None

    def _looked_at(self, _: int) -> None:
        if self._theme is not None:
            self._show()

    def _choose(self) -> None:
        it = self._looked()
        if it is None:
            return
        chosen = self._workspace.project.donor(it.donor.end)
        self._workspace.do(ChooseDonor(it.donor.end, None if chosen and chosen.id == it.donor.id else it.donor))

    def _show(self) -> None:
        t, it, unit = self._theme, self._looked(), self._workspace.unit
        assert t is not None
        self._drawing.it = it
        self._drawing.update()
        for widget in (self._drawing, self.choose, self.facts, self.caution, self._plate):
            widget.setVisible(it is not None)
        if it is None:
            self._name.setText(f"No {self._workspace.end} axles here. File ▸ Import donor catalogue… brings some in, or drop a CSV on the window.")
            return
        d = it.donor
        chosen = self._workspace.project.donor(d.end)
        here = chosen is not None and chosen.id == d.id
        self.choose.setText("Take it out again" if here else f"Put it under the {d.end}")
        self._name.setText(d.name + ("  ✓ chosen" if here else ""))
        self._plate.setText(f"{d.maker}. {d.notes} Record {BASIS_WORDS[d.basis]}.")
        self.facts.setText(_facts(d, it, self._workspace))
        found = donor_findings(self._workspace.rig, d, unit)
        if found:
            worst = found[0]
            colour = {"danger": t.oxide, "warn": t.torch, "note": t.quiet}[worst.severity]
            more = f"<br><span style='color:{t.quiet.name()}'>and {len(found) - 1} more once chosen</span>" if len(found) > 1 else ""
            sign = {"danger": "⚠", "warn": "▲", "note": "·"}[worst.severity]
            self.caution.setText(f"<b>{sign} {worst.sentence}</b><br>{worst.why}{more}")
        else:
            colour = t.edge
            self.caution.setText(
                "No caution from the numbers known. Inspect the housing, tubes and splines on delivery; the weight rating stays the vehicle's."
            )
        self.caution.setStyleSheet(f"border-left: 4px solid {colour.name()}; background: {t.raised.name()};")


def _facts(d: DonorAxle, it: DonorInRig, w: Workspace) -> str:
    unit, rig = w.unit, w.rig
    decimals = 3 if unit == "in" else 2
    size = f"{d.spline_teeth} splines, {it.spline_pitch:g} pitch"
    margin, sure = it.margin_one_wheel, donor_sure(w.project, d)
    cells = [
        ("Shaft over the spline", show(it.major, "length", unit, decimals=decimals), f"{size}, root {show(it.root, 'length', unit, decimals=decimals)}"),
        ("Shaft stays twisted at", show(it.shaft_yield, "torque", unit), f"one wheel carrying the axle asks {show(it.demand_one_wheel, 'torque', unit)} ± {show(2 * sure['demand_one_wheel'], 'torque', unit)}: margin {margin:.2f}"),
        (f"At {show(rig.road_speed_m_per_s, 'speed', unit)} in top", f"{it.rpm_at_road_speed:.0f} ± {2 * sure['rpm_at_road_speed']:.0f} rpm", f"{d.ring_teeth}/{d.pinion_teeth} = {it.ratio:.2f} gears"),
        ("Crawl ratio", f"{it.crawl_ratio:.0f} : 1", f"{show(it.crawl_speed, 'speed', unit, decimals=2)} at idle in first, low"),
        ("Wheel bolts", f"{d.bolt_count} on {show(d.bolt_circle_m, 'length', unit)}", f"{LOCKER_WORDS[d.locker]}, {d.floating} float{', C-clips' if d.c_clips else ''}"),
        ("Tube", f"{show(d.tube_od_m, 'length', unit)} × {show(d.tube_wall_m, 'length', unit)}", f"ring gear {show(d.ring_diameter_m, 'length', unit)}, {d.pinion_height} pinion"),
    ]  # fmt: skip
    quiet = w.property("quiet") or "#888888"
    html = "".join(
        f"<td width='33%' style='padding:4px 14px 6px 0'><span style='color:{quiet}'>{a}</span><br><b style='font-size:13pt'>{b}</b><br><span style='color:{quiet}'>{c}</span></td>"
        + ("</tr><tr>" if i == 2 else "")
        for i, (a, b, c) in enumerate(cells)
    )
    note = f"<span style='color:{quiet}'>Demand: locked axle, tyre grip {FRICTION:g} (estimate), shock factor {SHOCK:g} (estimate).</span>"
    return f"<table width='100%'><tr>{html}</tr></table>{note}"
