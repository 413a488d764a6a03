"""Links: a card each, and the one picked at the bench: how far it has come, what was read, the bores its inserts go into."""

from __future__ import annotations

import datetime

from PyQt6.QtCore import QSignalBlocker
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from stoutlink.app.desk import dialogs
from stoutlink.app.desk.labels import Label
from stoutlink.app.desk.still_box import StillBox
from stoutlink.app.desk.theme import font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.cut.link_card import LinkCard
from stoutlink.app.steps.look import Look
from stoutlink.app.widgets.path_drawer import Entry, PathDrawer
from stoutlink.core.analysis.linkage.cut_list import LinkCut
from stoutlink.core.document.link_work import LINK_STAGES, LinkReading, LinkStage
from stoutlink.core.editing.link_edits import STAGE_WORDS, ReadLength, SetLinkStage, TakeReadingBack
from stoutlink.core.errors import StoutError
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import parse_typed, show
from stoutlink.core.reports.cut_list_csv import cut_list_text


class LinkLook(Look):
    """Cards of the axle in work above, the bench of the one picked below."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "cut_links", "Links", parent)
        self.cards: list[LinkCard] = []
        self._key: object = None
        self.picked = ""
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        self.area = QScrollArea(self)
        self.area.setObjectName("cut_area")
        self.area.setAccessibleName("Cut cards")
        self.area.setWidgetResizable(True)
        self.area.setFrameShape(QScrollArea.Shape.NoFrame)
        outer.addWidget(self.area, 1)
        self.bench = QFrame(self)
        self.bench.setObjectName("link_bench")
        self.bench.setAccessibleName("Bench of the link picked")
        column = QVBoxLayout(self.bench)
        column.setContentsMargins(14, 6, 14, 8)
        column.setSpacing(4)
        row = QHBoxLayout()
        self.title = Label("", self.bench)
        self.title.setFont(font(10.5, bold=True))
        row.addWidget(self.title)
        self.stage = StillBox(self.bench)
        self.stage.setObjectName("link_stage")
        self.stage.setAccessibleName("How far the link has come")
        self.stage.setToolTip("From the cut on its length is kept: a pivot moved later turns its ends instead.")
        for stage in LINK_STAGES:
            self.stage.addItem(STAGE_WORDS[stage], stage)
        self.stage.activated.connect(lambda i: self._to(self.stage.itemData(i)))
        row.addWidget(self.stage)
        self.read = QPushButton("Read a length…", self.bench)
        self.read.setObjectName("read_link")
        self.read.setToolTip(
            "Pin to pin: between the brackets before the cut, on the link after it. Read it more than once."
        )
        self.read.clicked.connect(lambda _=False: self._read())
        row.addWidget(self.read)
        self.back = QPushButton("Take the last one back", self.bench)
        self.back.setObjectName("read_link_back")
        self.back.setToolTip("Take the last reading of this link away.")
        self.back.clicked.connect(lambda _=False: self._back())
        row.addWidget(self.back)
        row.addStretch(1)
        column.addLayout(row)
        self.said = Label("", self.bench)
        self.said.setObjectName("link_readings")
        self.said.setFont(font(9))
        self.said.setWordWrap(True)
        column.addWidget(self.said)
        self.drawer = PathDrawer(workspace, "link_drawer", 4, self.bench)
        column.addWidget(self.drawer)
        outer.addWidget(self.bench)

    @property
    def cuts(self) -> list[LinkCut]:
        """Links of the axle in work."""
        return [c for c in self.workspace.study.cuts if c.layout.end == self.workspace.end]

    @property
    def cut(self) -> LinkCut | None:
        """The one picked."""
        return next((c for c in self.cuts if c.link.id == self.picked), None)

    def pick(self, link: str) -> None:
        """Put a link on the bench."""
        self.picked = link
        if self.theme is not None:
            self.refresh(self.theme)

    def prepare(self) -> None:
        cuts = self.cuts
        key = (self.workspace.end, tuple((c.layout.id, c.link.id) for c in cuts))
        if key != self._key:
            self._key = key
            inner = QWidget()
            inner.setObjectName("cut_cards")
            column = QVBoxLayout(inner)
            column.setContentsMargins(0, 0, 0, 0)
            column.setSpacing(0)
            self.cards = [LinkCard(self.workspace, c, inner) for c in cuts]
            for card, cut in zip(self.cards, cuts, strict=True):
                card.picked.connect(lambda name=cut.link.id: self.pick(name))
                column.addWidget(card)
            column.addStretch(1)
            self.area.setWidget(inner)
        if self.cut is None:
            self.picked = cuts[0].link.id if cuts else ""
        longest = max((c.cut.centre_to_centre for c in cuts), default=1.0)
        assert self.theme is not None
        for card, cut in zip(self.cards, cuts, strict=True):
            card.chosen = cut.link.id == self.picked
            card.show_cut(cut, longest, self.theme)
        self._show_bench()

    def _show_bench(self) -> None:
        one, unit = self.cut, self.workspace.unit
        self.bench.setVisible(one is not None and not one.at_hand)
        if one is None:
            self.drawer.show_entries(())
            return
        link, at = one.link, f"layouts.{one.layout.id}.links.{one.link.id}"
        self.title.setText(link.name)
        with QSignalBlocker(self.stage):
            self.stage.setCurrentIndex(self.stage.findData(link.stage))
        self.back.setEnabled(bool(link.readings))
        self.said.setText(reading_words(one, unit))
        entries = [Entry(f"{at}.made_m", "pin to pin as cut")] if one.made else []
        for end, word in ((link.frame_end, "frame"), (link.axle_end, "axle")):
            if end.insert_od_m is not None or end.bore_m is not None:
                entries.append(Entry(f"{at}.{word}_end.bore_m", f"bore, {word} end"))
        if link.readings:
            last = f"{at}.readings.{len(link.readings) - 1}"
            words = (("when", "last read on"), ("who", "by"), ("note", "note"))
            entries += [Entry(f"{last}.{key}", word, "text") for key, word in words]
        self.drawer.show_entries(entries)

    def _to(self, stage: LinkStage) -> None:
        one = self.cut
        if one is not None:
            self.workspace.do(SetLinkStage(one.layout.id, one.link.id, stage, one.cut.centre_to_centre))
            self._show_bench()

    def _read(self) -> None:
        one, w = self.cut, self.workspace
        if one is None:
            return
        typed = dialogs.ask_text(
            self, "Read a length", f"{one.link.name}, pin to pin; a ± may stand behind it, as 27 1/16 ± 1/32."
        )
        if typed is None or not typed.strip():
            return
        try:
            found = parse_typed(typed, "length", w.unit)
        except StoutError as why:
            w.said.emit(why.words, True)
            return
        w.do(
            ReadLength(
                one.layout.id,
                one.link.id,
                LinkReading(value_m=found.value, sigma_m=found.sigma, when=datetime.date.today().isoformat()),
            )
        )

    def _back(self) -> None:
        one = self.cut
        if one is not None:
            self.workspace.do(TakeReadingBack(one.layout.id, one.link.id))

    def as_text(self) -> str:
        study = self.workspace.study
        return "" if not study.cuts else cut_list_text(study.cuts, study.cut_waits, self.workspace.unit)


def reading_words(one: LinkCut, unit: UnitSystem) -> str:
    """What was read of a link, against what the layout asks for."""

    def size(value: float) -> str:
        return show(value, "length", unit, decimals=3 if unit == "in" else 1)

    link = one.link
    asked = f"The layout asks for {size(one.asked)} pin to pin."
    if link.read is None:
        held = f" It was cut for {size(link.made_m)}." if one.made and link.made_m is not None else ""
        return f"{asked}{held} Nothing read yet{' of it as it is' if one.made else ''}."
    mean, sigma = link.read
    stages = {s: [r.value_m for r in link.readings if r.stage == s] for s in LINK_STAGES}
    told = "; ".join(f"{STAGE_WORDS[s]} {', '.join(size(v) for v in values)}" for s, values in stages.items() if values)
    return f"{asked} Read {size(mean)} ± {size(2 * sigma)} ({told})."
