"""Load cases: the rig as it stands beside the same rig loaded, with what each axle then does on the springs it has."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QRectF, QSignalBlocker, Qt
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QHBoxLayout, QListWidget, QVBoxLayout, QWidget

from stoutlink.app.desk.labels import Label
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.look import Look
from stoutlink.app.widgets.path_drawer import Entry, PathDrawer
from stoutlink.app.widgets.picture import Hit, Picture, flow, scrolled, text
from stoutlink.core.analysis.cycle.laden import Laden
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.weight import LoadCase, LoadItem
from stoutlink.core.editing.edits import PutInList, TakeFromList
from stoutlink.core.errors import StoutError
from stoutlink.core.quantity.shown import show
from stoutlink.core.reports.laden_table import laden_rows

DRAWER, WORD, COLUMN, ROW = 236, 150.0, 104.0, 18.0
CASES = "load_cases"
CARRIED = (("frame", "on the frame"), ("front_axle", "on front axle"), ("rear_axle", "on rear axle"))
TO_RATING = ((False, "as listed"), (True, "up to the rating"))
NOTE = "Springs stay what they are: they carry the rig as it stands at ride height, and more load sags them. Tyres keep their radius. The rating stays the vehicle's."


class CaseBoard(Look):
    """A column for every case; a click on its head picks it, the drawer changes it."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "board_cases", "Load cases", parent)
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 4, 8, 4)
        row.setSpacing(8)
        self.table = Picture("case_table", "The rig under every load case", self)
        area = scrolled(self.table, self)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        row.addWidget(area, 1)
        side = QWidget(self)
        side.setFixedWidth(DRAWER)
        inside = QVBoxLayout(side)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.setSpacing(4)
        buttons = QHBoxLayout()
        self.add = self.put_button(
            "add_case", "Add a case", "People, gear, a trailer's tongue: the rig at another time.", buttons
        )
        self.add.clicked.connect(self._add)
        self.take = self.put_button("take_case", "Take it away", "The case picked leaves.", buttons)
        self.take.clicked.connect(self._take)
        inside.addLayout(buttons)
        self.drawer = PathDrawer(workspace, "case_drawer", 1, side, wide=130)
        inside.addWidget(self.drawer)
        self.list = QListWidget(side)
        self.list.setObjectName("case_items")
        self.list.setAccessibleName("What this case puts on or takes off")
        self.list.setFont(font(9))
        self.list.currentRowChanged.connect(self._item_picked)
        inside.addWidget(self.list, 1)
        buttons = QHBoxLayout()
        self.add_item = self.put_button(
            "add_case_item", "Add an item", "Its weight and place; off with a minus.", buttons
        )
        self.add_item.clicked.connect(self._add_item)
        self.take_item = self.put_button("take_case_item", "Remove it", "The item picked leaves.", buttons)
        self.take_item.clicked.connect(self._take_item)
        inside.addLayout(buttons)
        self.item_drawer = PathDrawer(workspace, "case_item_drawer", 1, side, wide=130)
        inside.addWidget(self.item_drawer)
        self.note = Label(NOTE, side)
        self.note.setWordWrap(True)
        self.note.setProperty("quiet", True)
        self.note.setFont(font(8.5))
        inside.addWidget(self.note)
        inside.addStretch(1)
        row.addWidget(side)
        self.picked = self.item = ""
        self.found: tuple[Laden, ...] = ()
        self.trouble = ""
        workspace.cycling.done.connect(self._cycled)

    def _cycled(self) -> None:
        if self.isVisible() and self.theme is not None:
            self.refresh(self.theme)

    @property
    def cases(self) -> tuple[LoadCase, ...]:
        """Cases of the project."""
        return self.workspace.project.linkage.load_cases

    def case(self) -> LoadCase | None:
        """The case in the drawer."""
        return next((one for one in self.cases if one.id == self.picked), None)

    # Hands

    def pick(self, name: str) -> None:
        """Put a case into the drawer."""
        self.picked, self.item = name, ""
        if self.theme is not None:
            self.refresh(self.theme)

    def _add(self) -> None:
        name = free_id("case-", (one.id for one in self.cases))
        used = {one.name for one in self.cases}
        words = next(w for n in range(1, 99) if (w := "Laden" if n == 1 else f"Laden {n}") not in used)
        self.picked, self.item = name, ""
        self.workspace.do(PutInList(CASES, LoadCase(id=name, name=words), "Add a load case"))

    def _take(self) -> None:
        if self.case() is not None:
            self.workspace.do(TakeFromList(CASES, (self.picked,), "Take a load case away"))

    def _add_item(self) -> None:
        case = self.case()
        if case is None:
            return
        name = free_id("item-", (one.id for one in case.items))
        at = f"{CASES}.{case.id}.items"
        self.item = name
        new = LoadItem(id=name, name="Load", mass_kg=50.0)
        self.workspace.do(PutInList(at, new, "Add an item", guessed=("mass_kg", "x_m", "z_m")))

    def _take_item(self) -> None:
        case = self.case()
        if case is not None and any(one.id == self.item for one in case.items):
            self.workspace.do(TakeFromList(f"{CASES}.{case.id}.items", (self.item,), "Remove an item"))

    def _item_picked(self, row: int) -> None:
        case = self.case()
        if case is not None and 0 <= row < len(case.items) and self.theme is not None:
            self.item = case.items[row].id
            self.refresh(self.theme)

    # What is shown

    def prepare(self) -> None:
        if self.case() is None:
            self.picked = self.cases[0].id if self.cases else ""
        case = self.case()
        items = () if case is None else case.items
        if all(one.id != self.item for one in items):
            self.item = items[0].id if items else ""
        self.take.setEnabled(case is not None)
        self.add_item.setVisible(case is not None)
        self.take_item.setVisible(bool(items))
        self.list.setVisible(bool(items))
        with QSignalBlocker(self.list):
            self.list.clear()
            for one in items:
                self.list.addItem(f"{show(one.mass_kg, 'mass', self.workspace.unit, signed=True)}  {one.name}")
            self.list.setCurrentRow(next((i for i, one in enumerate(items) if one.id == self.item), -1))
        self.drawer.show_entries(self._entries(case))
        at = f"{CASES}.{self.picked}.items.{self.item}"
        self.item_drawer.show_entries(
            (
                Entry(f"{at}.name", "item", "text"),
                Entry(f"{at}.mass_kg", "weight"),
                Entry(f"{at}.on", "carried", "choice", CARRIED),
                *(
                    (Entry(f"{at}.x_m", "ahead of rear axle"), Entry(f"{at}.z_m", "above ground"))
                    if any(one.id == self.item and one.on == "frame" for one in items)
                    else ()
                ),
            )
            if self.item
            else ()
        )
        self._work_out()
        assert self.theme is not None
        self.table.show_with(self.theme, self._paint)

    @staticmethod
    def _entries(case: LoadCase | None) -> tuple[Entry, ...]:
        if case is None:
            return ()
        at = f"{CASES}.{case.id}"
        fill = (Entry(f"{at}.fill_x_m", "rest ahead of rear axle"), Entry(f"{at}.fill_z_m", "rest above ground"))
        return (
            Entry(f"{at}.name", "case", "text"),
            Entry(f"{at}.to_rating", "loaded", "choice", TO_RATING),
            *(fill if case.to_rating else ()),
        )

    def _work_out(self) -> None:
        w = self.workspace
        self.found, self.trouble = (), ""
        if not w.cycling.known:
            self.trouble = "Both axles are being cycled…"
            if self.isVisible():
                w.cycling.now()
            return
        try:
            self.found = w.study.laden({end: w.study.travel_known(end) for end in ("front", "rear")})
        except StoutError as why:
            self.trouble = why.words

    def _paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        y = 4.0
        if self.trouble:
            flow(p, QRectF(4, y, max(240.0, picture.width() - 12.0), 60), self.trouble, t.quiet, size=9.5)
            picture.setMinimumSize(240, 70)
            return
        for k, one in enumerate(self.found):
            x = WORD + k * COLUMN
            box = QRectF(x + 4, y - 2, COLUMN - 6, 36)
            if one.case.id == self.picked:
                p.setPen(QPen(t.dye, 1.5))
                p.drawRoundedRect(box, 3, 3)
            text(
                p, QRectF(x + 8, y, COLUMN - 14, 32), one.case.name, t.text, size=9, bold=True, align="right", wrap=True
            )
            act = partial(self.pick, one.case.id) if k else None
            picture.hits.append(Hit(box, one.why or one.case.name, act, f"case {one.case.id}"))
        y += 40
        for word, tip, cells in laden_rows(self.workspace.project, self.found):
            text(p, QRectF(4, y, WORD - 6, ROW), word, t.quiet, size=9, elide=True)
            for k, (cell, bad) in enumerate(cells):
                place = QRectF(WORD + k * COLUMN + 4, y, COLUMN - 12, ROW)
                text(p, place, f"{'▲ ' if bad else ''}{cell}", t.torch if bad else t.text, size=9, align="right")
                picture.hits.append(Hit(place, f"{self.found[k].case.name}: {word} {cell}. {tip}"))
            y += ROW
        y += 6
        wide = WORD + COLUMN * len(self.found)
        for words in dict.fromkeys(one.why for one in self.found if one.why):
            who = ", ".join(one.case.name for one in self.found if one.why == words)
            y += flow(p, QRectF(4, y, max(300.0, wide - 12), 60), f"{who}: {words}", t.torch, size=9) + 4
        if not self.cases:
            words = "Add a case to see the rig empty, laden, or loaded up to its rating beside this."
            y += flow(p, QRectF(4, y, max(300.0, wide - 12), 40), words, t.quiet, size=9)
        picture.setMinimumSize(int(wide), int(y + 8))

    def as_text(self) -> str:
        if not self.found:
            return self.trouble
        head = "\t".join(["", *(one.case.name for one in self.found)])
        rows = laden_rows(self.workspace.project, self.found)
        return "\n".join([head, *("\t".join([word, *(c for c, _ in cells)]) for word, _, cells in rows)])
