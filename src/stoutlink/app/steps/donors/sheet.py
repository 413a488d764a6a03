"""The donors step: candidates at the left, eleven looks at them, or at both axles, at the right."""

from __future__ import annotations

from collections.abc import Callable
from html import escape

from PyQt6.QtCore import QPoint, QSize, Qt
from PyQt6.QtWidgets import (
    QButtonGroup,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from stoutlink.app.desk import dialogs
from stoutlink.app.desk.labels import Label, MarkedLabel, plain_tip
from stoutlink.app.desk.menus import Entry, pop_up
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.panels.needs import Needs
from stoutlink.app.steps.donors.axle_look import AxleLook
from stoutlink.app.steps.donors.candidate_row import CandidateRow
from stoutlink.app.steps.donors.cost_look import CostLook
from stoutlink.app.steps.donors.fit_look import FitLook
from stoutlink.app.steps.donors.gear_look import GearLook
from stoutlink.app.steps.donors.inspect_look import InspectLook
from stoutlink.app.steps.donors.ladder_look import LadderLook
from stoutlink.app.steps.donors.locker_look import LockerLook
from stoutlink.app.steps.donors.look import DonorLook
from stoutlink.app.steps.donors.made_look import MadeLook
from stoutlink.app.steps.donors.match_look import MatchLook
from stoutlink.app.steps.donors.pick_look import PickLook
from stoutlink.app.steps.donors.seen_look import SeenLook
from stoutlink.app.steps.donors.start import DonorStart
from stoutlink.app.steps.step import Sheet, focus_field
from stoutlink.core.advice.finding import Finding
from stoutlink.core.analysis.swap.donor_in_rig import DonorInRig
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.ids import free_id
from stoutlink.core.editing.edits import ChooseDonor, PutInList, SetChoice
from stoutlink.core.editing.swap_edits import TakeDonor

LOOKS = (
    ("axle", "Axle", "The record, drawn and typed on a picture of the axle."),
    ("ladder", "Ladder", "What breaks first with this tyre, weight and gearing, and what an upgrade gains."),
    ("gears", "Gears", "Which gears: old feel, engine speed, crawl, both ends matched."),
    ("lockers", "Lockers", "Which locker here, and both schools on each."),
    ("fit", "Fit-up", "Under this rig to scale: widths, poke, lock, clearance, driveshaft, narrowing."),
    ("inspect", "Inspect", "Look by look on delivery: keep, repair or walk away."),
    ("made", "Made", "One axle of several: where each part is from, what meets, what is new."),
    ("match", "Match", "What fits what between both axles, vehicle and shelf."),
    ("seen", "Seen", "What was looked at before the choice: where, when, how much, for and against."),
    ("cost", "Cost", "Everything a pair drags in until it drives, against the budget."),
    ("pick", "Pick", "Every pair ranked by what you weigh."),
)


DEALS_WITH: dict[str, tuple[str, ...]] = {
    "ladder": ("K101", "K109", "K112", "K128"),
    "gears": ("K104", "K118", "K121", "K124", "K130", "K131", "K132", "K133"),
    "lockers": ("K103", "K110", "K113", "K123", "K151", "K152", "K153", "K154", "K155", "K156", "K157"),
    "fit": ("K119", "K122", "K135", "K136", "K137", "K138", "K139", "K141", "K142", "K150", "K162"),
    "inspect": ("K117", "K127"),
    "made": ("K166", "K167"),
    "match": ("K120", "K125", "K126", "K140", "K143", "K144", "K145", "K149", "K161", "K164", "K165", "K170", "K171"),
    "cost": ("K129",),
}
"""Which look deals with a finding, by its code; the record itself with the others."""
MAKE: dict[str, Callable[[Workspace, QWidget], DonorLook]] = {
    "axle": AxleLook, "ladder": LadderLook, "gears": GearLook, "lockers": LockerLook, "fit": FitLook, "inspect": InspectLook, "made": MadeLook, "match": MatchLook, "seen": SeenLook, "cost": CostLook,
    "pick": PickLook,
}  # fmt: skip


class DonorSheet(Sheet):
    """Candidates, looks, and the strongest caution on the one looked at."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("sheet_donors")
        self._workspace = workspace
        self._theme: Theme | None = None
        self._listed: object = None
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        head = QHBoxLayout()
        head.setContentsMargins(10, 6, 10, 6)
        head.setSpacing(4)
        self._buttons = QButtonGroup(self)
        self.looks: dict[str, DonorLook] = {}
        """The looks that have been put up so far; each is made when first asked for."""
        self._stack = QStackedWidget(self)
        for key, title, tip in LOOKS:
            button = QPushButton(title, self)
            button.setObjectName(f"donors_{key}")
            button.setCheckable(True)
            button.setToolTip(tip)
            button.setProperty("flat", True)
            button.clicked.connect(lambda _=False, k=key: self.look(k))
            self._buttons.addButton(button)
            if key == "match":
                head.addSpacing(14)
            head.addWidget(button)
        head.addStretch(1)
        outer.addLayout(head)
        body = QHBoxLayout()
        body.setSpacing(0)
        self._side = self._candidates()
        body.addWidget(self._side)
        right = QVBoxLayout()
        right.setSpacing(0)
        right.addWidget(self._titles())
        right.addWidget(self._stack, 1)
        self.caution = MarkedLabel("", self)
        self.caution.setObjectName("donor_caution")
        self.caution.setWordWrap(True)
        self.caution.setFont(font(9))
        self.caution.setContentsMargins(12, 5, 12, 5)
        right.addWidget(self.caution)
        body.addLayout(right, 1)
        outer.addLayout(body, 1)
        self.shown = "axle"
        self.start = DonorStart(self)
        self.start.own.clicked.connect(self._new)
        self.needs = Needs(workspace, "donor_needs", self)
        self._stack.addWidget(self.start)
        self._stack.addWidget(self.needs)

    def _candidates(self) -> QWidget:
        side = QWidget(self)
        side.setFixedWidth(222)
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 0, 0, 4)
        column.setSpacing(4)
        self.filter = QLineEdit(side)
        self.filter.setObjectName("donor_filter")
        self.filter.setAccessibleName("Find an axle")
        self.filter.setPlaceholderText("find: name, maker, class …")
        self.filter.textChanged.connect(lambda _: None if self._theme is None else self._fill())
        column.addWidget(self.filter)
        self.list = QListWidget(side)
        self.list.setObjectName("donor_list")
        self.list.setAccessibleName("Candidate axles")
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._delegate = CandidateRow(self.list)
        self.list.setItemDelegate(self._delegate)
        self.list.currentRowChanged.connect(self._looked_at)
        self.list.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.list.customContextMenuRequested.connect(self._menu)
        self.list.itemDoubleClicked.connect(lambda _: self._choose())
        column.addWidget(self.list, 1)
        row = QHBoxLayout()
        row.setContentsMargins(6, 0, 6, 0)
        self.new = QPushButton("New axle", side)
        self.new.setObjectName("new_donor")
        self.new.setToolTip("Start a record to measure into.")
        self.new.clicked.connect(self._new)
        self.remove = QPushButton("Remove", side)
        self.remove.setObjectName("remove_donor")
        self.remove.setToolTip("Take the record looked at out of the project.")
        self.remove.clicked.connect(self._remove)
        row.addWidget(self.new)
        row.addWidget(self.remove)
        column.addLayout(row)
        return side

    def _titles(self) -> QWidget:
        bar = QWidget(self)
        row = QHBoxLayout(bar)
        row.setContentsMargins(12, 2, 10, 4)
        self._name = Label("", bar)
        self._name.setObjectName("donor_name")
        self._name.setFont(font(12, bold=True))
        row.addWidget(self._name, 1)
        self.example = QPushButton("An example: make it my record", bar)
        self.example.setObjectName("own_donor")
        self.example.setProperty("flat", True)
        self.example.setToolTip(
            "It came with the program and is invented. Click once its numbers are those of an axle you have found."
        )
        self.example.clicked.connect(self._own)
        row.addWidget(self.example)
        self.choose = QPushButton("Put it under", bar)
        self.choose.setObjectName("choose_donor")
        self.choose.setToolTip("Choose this axle for its end, or take it out again.")
        self.choose.clicked.connect(self._choose)
        row.addWidget(self.choose)
        self._title_bar = bar
        return bar

    def look(self, key: str) -> None:
        """Put one look up."""
        self.shown = key
        if key not in self.looks:
            self.looks[key] = MAKE[key](self._workspace, self)
            self._stack.addWidget(self.looks[key])
            made = self.looks[key]
            if isinstance(made, MadeLook):
                made.begun.connect(self.look_at)
        for button in self._buttons.buttons():
            button.setChecked(button.objectName() == f"donors_{key}")
        pair = self.looks[key].pair
        self._side.setVisible(not pair)
        self._title_bar.setVisible(not pair)
        self.caution.setVisible(not pair)
        if self._theme is not None:
            self.refresh(self._theme)

    def minimumSizeHint(self) -> QSize:
        """Small enough for a small screen."""
        return QSize(480, 360)

    def refresh(self, theme: Theme) -> None:
        """Show the current project."""
        self._theme = self._delegate.theme = theme
        project, end = self._workspace.project, self._workspace.end
        self._delegate.unit = project.settings.units
        key = (self._workspace.rig, project.swap.donors, end, project.plan(end))
        if key != self._listed:
            self._listed = key
            self._fill()
            return
        self._mark()
        self._show()

    def _fill(self) -> None:
        """List the candidates that the filter lets through, keeping the one looked at."""
        project, end = self._workspace.project, self._workspace.end
        chosen = project.donor(end)
        before = self._looked()
        wanted = before.id if before is not None else chosen.id if chosen is not None else None
        words = self.filter.text().casefold().split()
        self.list.blockSignals(True)
        row = self.list.currentRow()
        self.list.clear()
        for donor in project.swap.donors:
            if donor.end != end or not all(
                w in f"{donor.name} {donor.maker} {donor.weight_class or ''} {donor.notes}".casefold() for w in words
            ):
                continue
            item = QListWidgetItem(donor.name)
            item.setData(Qt.ItemDataRole.UserRole, self._workspace.study.in_rig(donor.id))
            item.setToolTip(plain_tip(f"{donor.name}. {donor.notes}".strip()))
            self.list.addItem(item)
            if donor.id == wanted:
                row = self.list.count() - 1
        if not 0 <= row < self.list.count():
            row = 0
        self.list.setCurrentRow(row if self.list.count() else -1)
        self.list.blockSignals(False)
        self._mark()
        self._show()

    def _mark(self) -> None:
        chosen = self._workspace.project.donor(self._workspace.end)
        for i in range(self.list.count()):
            shown = self.list.item(i)
            if shown is not None:
                shown.setData(Qt.ItemDataRole.UserRole + 1, chosen is not None and self._item(i).donor.id == chosen.id)

    def end_changed(self) -> None:
        """Another end: begin with its chosen axle."""
        self.list.blockSignals(True)
        self.list.clear()
        self.list.blockSignals(False)
        self._listed = None

    def show_field(self, path: str) -> bool:
        """Look at the axle a path is about, on its picture; the fields of plans and choosing are where they are."""
        parts = path.split(".")
        if parts[0] == "donors" and len(parts) > 1:
            self.filter.clear()
            self.look("axle")
            self.look_at(parts[1])
        elif parts[0] == "shelf" and len(parts) > 1:
            self.look("match")
            match = self.looks["match"]
            assert isinstance(match, MatchLook)
            match.pick(parts[1])
        return focus_field(self, path)

    def pick(self, subject: str, part: str) -> None:
        """Put a candidate on the sheet by its id."""
        self.look_at(subject)

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

    def _looked(self) -> DonorAxle | None:
        """The record of the candidate looked at, as it now stands in the project."""
        item = self.list.currentItem()
        if item is None:
            return None
        wanted = item.data(Qt.ItemDataRole.UserRole).donor.id
        return next((d for d in self._workspace.project.swap.donors if d.id == wanted), None)

    def _looked_at(self, _: int) -> None:
        if self._theme is not None:
            self._show()

    def _choose(self) -> None:
        it = self._looked()
        if it is None:
            return
        chosen = self._workspace.project.donor(it.end)
        self._workspace.do(ChooseDonor(it.end, None if chosen and chosen.id == it.id else it))

    def _menu(self, at: QPoint) -> None:
        """What can be done with the candidate under the mouse."""
        item = self.list.itemAt(at)
        if item is not None:
            self.list.setCurrentItem(item)
        it = self._looked()
        if it is None:
            return
        entries: list[Entry | None] = [(self.choose.text(), self._choose)]
        if it.example:
            entries.append(("Make it my record", self._own))
        entries.append(("Hold its ladder beside", lambda: self._hold_ladder(it.id)))
        entries += [None, ("Remove…", self._remove)]
        pop_up(self.list, self.list.mapToGlobal(at), entries)

    def _hold_ladder(self, name: str) -> None:
        """Draw an axle's ladder into the one looked at next."""
        self.look("ladder")
        ladder = self.looks["ladder"]
        assert isinstance(ladder, LadderLook)
        ladder.hold(name)
        self._workspace.said.emit("Its ladder stands in every other axle's now, as ◇: pick one at the left.", False)

    def _own(self) -> None:
        it = self._looked()
        if it is not None:
            self._workspace.do(SetChoice(f"donors.{it.id}.example", False, "example to a record of mine"))

    def _new(self) -> None:
        project, end = self._workspace.project, self._workspace.end
        new = free_id("axle-", (d.id for d in project.swap.donors))
        record = DonorAxle(id=new, name=f"New {end} axle", end="front" if end == "front" else "rear", basis="measured")
        self.filter.clear()
        if self._workspace.do(PutInList("donors", record, f"New {end} axle")):
            self.look_at(new)
            self.look("axle")

    def _remove(self) -> None:
        it = self._looked()
        if it is None:
            return
        answer = dialogs.ask(
            self,
            "Remove",
            f"Take {it.name} out of this project, with its inspection? Undo brings it back.",
            ("Remove", "Cancel"),
        )
        if answer == "Remove":
            self._workspace.do(TakeDonor(it.id))

    def go(self, finding: Finding) -> None:
        """Look at the axle a finding is about (the front one of a pair), in the look that deals with it."""
        self.look(next((look for look, codes in DEALS_WITH.items() if finding.code in codes), "axle"))
        self.look_at(finding.subject.split("/", maxsplit=1)[0])

    def project_taken(self) -> None:
        """Another project: begin with its chosen axle."""
        self.end_changed()

    def stop(self) -> None:
        """Leave off work beside the window, before it goes."""
        for look in self.looks.values():
            look.stop()

    def as_text(self) -> str:
        """The look shown, in words."""
        if self._theme is not None:
            self.refresh(self._theme)  # it may not have been in view since the project changed
        shown = self._stack.currentWidget()
        if shown is self.start:
            return self.start.title.text()
        if shown is self.needs:
            return "Not entered yet: " + ", ".join(n.words for n in self._workspace.study.needs)
        return self.looks[self.shown].as_text() if self.shown in self.looks else ""

    def _show(self) -> None:
        t, donor = self._theme, self._looked()
        assert t is not None
        if self.shown not in self.looks:
            self.look(self.shown)
            return
        look = self.looks[self.shown]
        needs = self._workspace.study.needed(*look.takes)
        self._title_bar.setVisible(not look.pair)
        look.donor = donor
        if donor is None and not look.pair and not self.filter.text().strip():
            self.start.title.setText(f"No {self._workspace.end} axle in the catalogue yet")
            self._stack.setCurrentWidget(self.start)
            self._title_bar.hide()
        elif needs:
            title = next(title for key, title, _ in LOOKS if key == self.shown)
            self.needs.show_needs(f"{title} is judged by your rig, and this is not entered yet:", needs)
            self._stack.setCurrentWidget(self.needs)
        else:
            look.refresh(t)
            self._stack.setCurrentWidget(look)
        self.choose.setVisible(donor is not None)
        self.example.setVisible(donor is not None and donor.example)
        self.remove.setEnabled(donor is not None)
        pair = look.pair
        self.caution.setVisible(donor is not None and not pair)
        if donor is None:
            self._name.setText(f"No {self._workspace.end} axles here")
            return
        chosen = self._workspace.project.donor(donor.end)
        here = chosen is not None and chosen.id == donor.id
        self.choose.setText("Take it out again" if here else f"Put it under the {donor.end}")
        metrics = self._name.fontMetrics()
        self._name.setText(
            metrics.elidedText(donor.name, Qt.TextElideMode.ElideRight, 330) + ("  ✓ chosen" if here else "")
        )
        self._name.setToolTip(donor.name)
        if pair:
            return
        found = self._workspace.study.donor_findings(donor)
        if found:
            worst = found[0]
            colour = {"danger": t.oxide, "warn": t.torch, "note": t.quiet}[worst.severity]
            more = (
                f" <span style='color:{t.quiet.name()}'>(+{len(found) - 1} more{'' if here else ' once chosen'})</span>"
                if len(found) > 1
                else ""
            )
            sign = {"danger": "⚠", "warn": "▲", "note": "·"}[worst.severity]
            self.caution.setText(f"<b>{sign} {escape(worst.sentence)}</b>{more}")
            self.caution.setToolTip(plain_tip("\n".join(f.sentence for f in found)))
        elif self._workspace.study.needs:
            colour = t.edge
            self.caution.setText("Not judged yet: weight, tyres and drivetrain of the rig are wanted first.")
            self.caution.setToolTip("")
        else:
            colour = t.edge
            self.caution.setText(
                "No caution from the numbers known. Inspect the housing, tubes and splines on delivery; the weight rating stays the vehicle's."
            )
        self.caution.setStyleSheet(f"border-left: 4px solid {colour.name()}; background: {t.raised.name()};")
