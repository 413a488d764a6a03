"""The cut step: links on their way from plan to steel, parts of plate, and the bars links are cut from."""

from __future__ import annotations

import datetime

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from stoutlink.app.desk.background import ASKED, Background
from stoutlink.app.desk.labels import Label
from stoutlink.app.desk.not_taken import NEW
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.panels.instrument_desk import InstrumentDesk
from stoutlink.app.steps.cut.cope_look import CopeLook
from stoutlink.app.steps.cut.link_look import LinkLook
from stoutlink.app.steps.cut.part_look import PartLook
from stoutlink.app.steps.cut.plate_look import PlateLook
from stoutlink.app.steps.cut.station_look import StationLook
from stoutlink.app.steps.cut.stock_look import StockLook
from stoutlink.app.steps.cut.weld_look import WeldLook
from stoutlink.app.steps.look import Look
from stoutlink.app.steps.sheet_head import head_buttons
from stoutlink.app.steps.step import Sheet, focus_field
from stoutlink.app.widgets.look_bar import LookBar
from stoutlink.core.advice.finding import Finding
from stoutlink.core.errors import StoutError
from stoutlink.core.reports.packet import packet_pdf
from stoutlink.core.reports.pdf_writer import PAPERS, Paper

LOOKS = (
    ("links", "Links", "Each link to scale: what to cut, how much thread is in, how far it has come."),
    ("parts", "Parts", "Tabs and plates the layout asks for, as flat patterns with their sizes on them."),
    ("plate", "Plate", "How the parts lie on plates, thickness by thickness."),
    ("stations", "Stations", "Where pads go on the housing, what was read at each stage, whether it closes."),
    (
        "welds",
        "Welds",
        "Which bead is laid next, how warm and how bent the housing is by then, ticked off as it is done.",
    ),
    ("copes", "Copes", "The end of a tube unrolled as it is cut to sit on another."),
    ("stock", "Stock", "Which link comes from which bar, what is bought, what is left over."),
)


class CutSheet(Sheet):
    """``export`` and ``copy`` ask the window to do it."""

    export = pyqtSignal()
    copy = pyqtSignal()
    packet = pyqtSignal(bytes, str)
    """A shop packet that is ready to be written, and on which paper."""

    def __init__(self, workspace: Workspace, desk: InstrumentDesk, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("sheet_cut")
        self._workspace = workspace
        self._theme: Theme | None = None
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        head = QHBoxLayout()
        head.setContentsMargins(14, 8, 14, 4)
        self.bar = LookBar(LOOKS, "cut", 8, self)
        self.bar.picked.connect(self.look)
        head.addWidget(self.bar)
        head.addStretch(1)
        head_buttons(
            self,
            head,
            "cuts",
            self.copy,
            self.export,
            "Writes the cut list of both axles as a CSV table.",
            "Export cut list…",
        )
        self.packing = QPushButton("Shop packet…", self)
        self.packing.setObjectName("shop_packet")
        self.packing.setAccessibleName("Shop packet")
        self.packing.setToolTip("Everything the bench needs as one file of paper.")
        menu = QMenu(self.packing)
        for paper in PAPERS:
            action = menu.addAction(f"On {paper}")
            if action is not None:
                action.triggered.connect(lambda _=False, paper=paper: self.pack(paper))
        self.packing.setMenu(menu)
        head.addWidget(self.packing)
        self.halt = QPushButton("Stop", self)
        self.halt.setObjectName("stop_packet")
        self.halt.setToolTip("Leave off making the packet.")
        self.halt.clicked.connect(lambda _=False: self._halt())
        self.halt.hide()
        head.addWidget(self.halt)
        self.work: Background[bytes] = Background(self, ASKED)
        outer.addLayout(head)
        self._title = Label("", self)
        self._title.setFont(font(12, bold=True))
        self._title.setWordWrap(True)
        self._title.setIndent(14)
        outer.addWidget(self._title)
        note = Label(
            "Cut once the pivots are final. Welding on links is work for a qualified welder; have it inspected.", self
        )
        note.setFont(font(9))
        note.setIndent(14)
        note.setWordWrap(True)
        outer.addWidget(note)
        self.links, self.parts, self.stock = (
            LinkLook(workspace, self),
            PartLook(workspace, self),
            StockLook(workspace, self),
        )
        self.plate, self.copes = PlateLook(workspace, self), CopeLook(workspace, self)
        self.stations, self.welds = StationLook(workspace, desk, self), WeldLook(workspace, self)
        self.looks: dict[str, Look] = {
            "links": self.links,
            "parts": self.parts,
            "plate": self.plate,
            "stations": self.stations,
            "welds": self.welds,
            "copes": self.copes,
            "stock": self.stock,
        }
        self._stack = QStackedWidget(self)
        for one in self.looks.values():
            self._stack.addWidget(one)
        outer.addWidget(self._stack, 1)
        self.shown = "links"
        workspace.cycling.done.connect(self._cycled)

    def _cycled(self) -> None:
        """The travel is known now, and with it whether the cut list is settled."""
        if self._theme is not None and self.isVisible():
            self.refresh(self._theme)

    def look(self, key: str) -> None:
        """Put a look up."""
        self.shown = key
        if self._theme is not None:
            self.refresh(self._theme)

    def go(self, finding: Finding) -> None:
        """Bring the part, or the card of the link, that a finding is about into view, its take-up ready to be typed."""
        if finding.subject.endswith(" stations"):
            self.look("stations")
            return
        if finding.subject.endswith(" welding"):
            self.look("welds")
            if finding.code == "C235":
                self.welds.show_group("steel")
            return
        if finding.code.startswith("C22") or finding.subject.split(" ")[1:2] == ["part"]:
            self.look("parts")
            self.parts.way = "part"
            self.parts.pick(finding.subject.split(" ")[-1])
            return
        self.look("links")
        name = finding.subject.partition(".")[2].split(" ")[0]
        cards = self.links.cards
        card = next((c for c in cards if c.cut.link.id == name), None) or next(iter(cards), None)
        if card is not None:
            self.links.pick(card.cut.link.id)
            self.links.area.ensureWidgetVisible(card)
            card.ready(at_axle=finding.subject.endswith(" axle"))

    def show_field(self, path: str) -> bool:
        """Put up the look that has the field of a path."""
        parts = path.split(".")
        if parts[0] in ("plate", "stations"):
            self.look(parts[0])
        if parts[0] == "stations" and NEW in path:
            of, stage = path.partition(NEW)[2].split(".")
            self.stations.pick(of.replace("-", " "), stage)
        if parts[0] == "made_parts" and len(parts) > 1:
            self.look("parts")
            self.parts.pick(parts[1])
        if parts[0] == "welding":
            self.look("welds")
            self.welds.show_path(path)
        if parts[0] == "copes":
            self.look("copes")
            if len(parts) > 1:
                self.copes.pick(parts[1])
        if len(parts) > 3 and parts[2] == "brackets":
            self.look("parts")
            self.parts.pick(f"{parts[1]}-{parts[3]}-tab")
        if parts[0] in ("stock", "sawing"):
            self.look("stock")
            if parts[0] == "stock" and len(parts) > 1:
                self.stock.pick(parts[1])
        return focus_field(self, path)

    def ready(self) -> bool:
        """Whether what is shown is worked out."""
        return self.shown != "welds" or not self.welds.work.busy

    def pack(self, paper: Paper) -> None:
        """Make the shop packet beside the window."""
        w = self._workspace
        study, file = w.study, w.file.name if w.file is not None else w.project.name
        today = datetime.date.today().isoformat()

        def done(data: bytes) -> None:
            self._packed()
            self.packet.emit(data, paper)

        def failed(why: StoutError) -> None:
            self._packed()
            w.said.emit(f"The packet cannot be made: {why.words}", True)

        self.packing.hide()
        self.halt.show()
        self.work.start(
            lambda tell: packet_pdf(study, file, today, paper, tell),
            done,
            lambda part: self.halt.setText(f"Stop ({part:.0%})"),
            failed,
        )

    def _packed(self) -> None:
        self.halt.hide()
        self.packing.show()

    def _halt(self) -> None:
        self.work.drop()
        self._packed()

    def stop(self) -> None:
        """Leave off what is worked out beside the window."""
        self.work.stop()
        for one in self.looks.values():
            one.stop()

    def as_text(self) -> str:
        """What the look shows, in words: the cut list of both axles, or the bars."""
        if self._theme is not None:
            self.looks[self.shown].refresh(self._theme)
        return self.looks[self.shown].as_text()

    def refresh(self, theme: Theme) -> None:
        """Show the current project."""
        self._theme = theme
        end = self._workspace.end
        layout = self._workspace.project.layout(end)
        cuts = [c for c in self._workspace.study.cuts if c.layout.end == end]
        problem = self._workspace.study.axles[end].problem
        if layout is None:
            self._title.setText(f"No {end} layout yet, so nothing to cut.")
        elif problem is not None:
            self._title.setText(f"Nothing to cut while the layout does not work: {problem.sentence}")
        else:
            waits = self._workspace.study.cut_waits
            settled = f"; not settled: {', '.join(waits)}" if waits else ""
            self._title.setText(f"{layout.name}: {sum(not c.there for c in cuts)} links to cut{settled}")
        self.bar.show_picked(self.shown)
        self._stack.setCurrentWidget(self.looks[self.shown])
        self.looks[self.shown].refresh(theme)
