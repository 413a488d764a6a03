"""A wanted band of one's own for a gauge: from, to, why; or back to the school's."""

from __future__ import annotations

from PyQt6.QtWidgets import QGridLayout, QPushButton, QWidget

from stoutlink.app.desk.labels import Label
from stoutlink.app.desk.not_taken import NEW
from stoutlink.app.desk.theme import font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.widgets.kept_line import KeptLine
from stoutlink.core.advice.verdict import Gauge, target_id
from stoutlink.core.document.groups import OwnTarget
from stoutlink.core.editing.edits import PutInList, TakeFromList
from stoutlink.core.errors import StoutError
from stoutlink.core.quantity.shown import parse_quantity
from stoutlink.core.text import whole


class TargetRow(QWidget):
    """Two numbers in the gauge's own unit and a reason; taken with Enter."""

    def __init__(self, workspace: Workspace, parent: QWidget) -> None:
        super().__init__(parent)
        self._workspace = workspace
        self._gauge: Gauge | None = None
        self._end, self._typing = "", ""
        grid = QGridLayout(self)
        grid.setContentsMargins(12, 0, 12, 8)
        grid.setSpacing(4)
        self.low, self.high, self.why = (KeptLine(workspace, self) for _ in range(3))
        for line, name, tip in (
            (self.low, "from", "Lower end of the band you want, in the gauge's own unit."),
            (self.high, "to", "Upper end of the band you want."),
            (self.why, "why", "Why this band: kept in the project beside it."),
        ):
            line.setAccessibleName(f"Wanted {name}")
            line.title = f"Wanted {name}"
            line.textEdited.connect(self._begun)
            line.setPlaceholderText(name)
            line.setToolTip(tip)
            line.setFont(font(9))
            line.returnPressed.connect(self._take)
        self.low.setFixedWidth(56)
        self.high.setFixedWidth(56)
        self._label = Label("wanted", self)
        self._label.setFont(font(8.5))
        self._back = QPushButton("Use the school's", self)
        self._back.setProperty("flat", True)
        self._back.setFont(font(8.5))
        self._back.setToolTip("Forget the band of your own.")
        self._back.clicked.connect(self._forget)
        self._set = QPushButton("Set", self)
        self._set.setProperty("flat", True)
        self._set.setFont(font(8.5))
        self._set.setToolTip("Want this band instead of the school's.")
        self._set.clicked.connect(self._take)
        for column, widget in enumerate((self._label, self.low, self.high, self._set)):
            grid.addWidget(widget, 0, column)
        grid.addWidget(self.why, 1, 0, 1, 3)
        grid.addWidget(self._back, 1, 3)

    def show_gauge(self, end: str, gauge: Gauge) -> None:
        """Show the band in force for a gauge, unless it is being typed over."""
        self._end, self._gauge = end, gauge
        for line, name in ((self.low, "low"), (self.high, "high"), (self.why, "why")):
            line.setObjectName(f"target_{gauge.id}_{name}")
        self._set.setObjectName(f"target_{gauge.id}_set")
        self._back.setObjectName(f"target_{gauge.id}_back")
        own = next((t for t in self._workspace.project.linkage.targets if t.id == target_id(end, gauge.id)), None)
        self._back.setEnabled(own is not None)
        here = f"targets.{NEW}.{target_id(end, gauge.id)}"
        if self._typing == here:  # the three are taken together
            return
        self._typing = ""
        for line, name, text in (
            (self.low, "from", "" if gauge.target is None else f"{gauge.target.low:g}"),
            (self.high, "to", "" if gauge.target is None else f"{gauge.target.high:g}"),
            (self.why, "why", "" if own is None else own.why),
        ):
            line.offer(f"{here}.{name}", text)

    def _begun(self) -> None:
        if self._gauge is not None:
            self._typing = f"targets.{NEW}.{target_id(self._end, self._gauge.id)}"

    def _take(self) -> None:
        gauge = self._gauge
        if gauge is None:
            return
        ends = []
        for line in (self.low, self.high):
            text = line.text().strip()
            try:
                ends.append(parse_quantity(text, "number", self._workspace.unit))
            except StoutError as why:
                line.refuse(text, f"{gauge.title}: {why.words}".strip())
                return
            line.release()
        own = OwnTarget(
            id=target_id(self._end, gauge.id), low=ends[0], high=ends[1], why=whole(self.why.text().strip())
        )
        before, self._typing = self._typing, ""
        try:
            self._workspace.attempt(PutInList("targets", own, f"Want another {gauge.title.split(' · ')[0].lower()}"))
        except StoutError as why:
            self._typing = before
            self.high.refuse(self.high.text().strip(), f"{gauge.title}: {why.words}".strip())
            return
        for line in (self.low, self.high, self.why):
            line.release()

    def _forget(self) -> None:
        if self._gauge is not None:
            self._typing = ""
            for line in (self.low, self.high, self.why):
                line.release()
            self._workspace.do(
                TakeFromList("targets", (target_id(self._end, self._gauge.id),), "Use the school's band")
            )
