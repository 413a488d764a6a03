"""Stations: the housing from its datum, where the pads go, what was read at each stage, whether it closes."""

from __future__ import annotations

import math
from functools import partial

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.panels.instrument_bar import InstrumentBar
from stoutlink.app.panels.instrument_desk import InstrumentDesk
from stoutlink.app.steps.cut.station_line import ROWS, Cell, StationLine
from stoutlink.app.steps.look import Look
from stoutlink.app.widgets.path_drawer import Entry, PathDrawer
from stoutlink.app.widgets.picture import Hit, Picture, dimension, flow, scrolled, text
from stoutlink.core.advice.station_words import set_out_words, size, station_words
from stoutlink.core.analysis.linkage.station_sheet import StationSheet
from stoutlink.core.document.stations import (
    DATUM_WORDS,
    STATION_STAGES,
    STATION_WORDS,
    Stations,
)
from stoutlink.core.editing.edits import PutInList
from stoutlink.core.editing.link_edits import TakeStationBack

SET_OUT = "Set out from the datum, middle of each plate; round the tube from the top over the front:"
CAUTION = (
    "Pads and brackets on an axle: a qualified welder, a procedure, an inspection. Measure again after it has cooled."
)


class StationLook(Look):
    """The housing with its stations above, readings in a table below: a click on a cell reads."""

    def __init__(self, workspace: Workspace, desk: InstrumentDesk, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "cut_stations", "Stations", parent)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        self.picture = Picture("station_picture", "The housing and its stations", self)
        outer.addWidget(scrolled(self.picture, self), 1)
        self.reading = StationLine(workspace, self)
        self.reading.went_on.connect(self.pick)
        outer.addWidget(self.reading)
        self.drawer = PathDrawer(workspace, "station_drawer", 4, self)
        self.drawer.setContentsMargins(12, 4, 12, 2)
        outer.addWidget(self.drawer)
        row = QHBoxLayout()
        row.setContentsMargins(12, 2, 12, 8)
        self.begin = self.put_button(
            "begin_stations", "Begin with this housing", "A sheet for the stations of this axle's housing.", row
        )
        self.begin.clicked.connect(lambda _=False: self._begin())
        self.back = self.put_button(
            "station_back", "Take the last of it back", "Take the last reading of the cell picked away.", row
        )
        self.back.clicked.connect(lambda _=False: self._back())
        row.addStretch(1)
        outer.addLayout(row)
        self.bar = InstrumentBar(workspace, desk, self, ("caliper", "angle"))
        outer.addWidget(self.bar)
        desk.measured.connect(self._measured)
        self.sheet: StationSheet | None = None
        self.cell: Cell | None = None

    def prepare(self) -> None:
        w = self.workspace
        self.sheet = w.study.station_sheet(w.end)
        self.begin.setVisible(self.sheet is None)
        self.back.setVisible(self.sheet is not None)
        self.back.setEnabled(self.sheet is not None and self.cell in self.sheet.read)
        self.reading.show_cell(None if self.sheet is None else self.cell)
        at = f"stations.{w.end}"
        datums = tuple((key, words) for key, words in DATUM_WORDS.items())
        entries = [
            Entry(f"{at}.datum", "datum", "choice", datums),
            Entry(f"{at}.wanted_m", "spacing wanted"),
            Entry(f"{at}.puck_m", "last puck to end"),
            Entry(f"{at}.relation_rad", "pinion to pads", channels=("A",)),
            Entry(f"{at}.pad_rad", "pads at ride", channels=("A",)),
            Entry(f"{at}.shim_rad", "shim", channels=("A",)),
        ]
        self.drawer.show_entries(entries if self.sheet is not None else [])
        assert self.theme is not None
        self.bar.refresh(self.theme)
        self.picture.show_with(self.theme, self._paint)

    def _begin(self) -> None:
        end = self.workspace.end
        self.workspace.do(
            PutInList("stations", Stations(id="front" if end == "front" else "rear"), "Begin with a housing's stations")
        )

    def pick(self, of: str, stage: str) -> None:
        """A cell to read: the line is for it, and has the keys."""
        self.cell = of, stage  # type: ignore[assignment]
        self.refresh_now()
        self.reading.line.setFocus()

    def _measured(self, path: str, value: float, spread: float) -> None:
        if path == self.reading.line.place:
            self.reading.measured(value, spread)

    def refresh_now(self) -> None:
        """Show what is picked."""
        if self.theme is not None:
            self.refresh(self.theme)

    def _back(self) -> None:
        if self.cell is not None:
            end = "front" if self.workspace.end == "front" else "rear"
            self.workspace.do(TakeStationBack(end, *self.cell))  # type: ignore[arg-type]

    def _paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        w, unit = float(picture.width()), self.workspace.unit
        if self.sheet is None:
            words = "No stations of this housing yet. “Begin with this housing”: pads go by offsets from a datum that will still be there, read before, marked, tacked and welded."
            flow(p, QRectF(24, 30, w - 48, 80), words, t.quiet, size=11)
            return
        self._housing(p, t, w, picture)
        y = 168.0
        left, each = 210.0, (w - 226) / len(STATION_STAGES)
        for k, stage in enumerate(STATION_STAGES):
            text(p, QRectF(left + k * each, y, each, 16), stage, t.quiet, size=9, align="centre")
        y += 20
        for of in ROWS:
            text(p, QRectF(16, y, left - 20, 24), STATION_WORDS[of], t.text, size=9.5)
            for k, stage in enumerate(STATION_STAGES):
                box = QRectF(left + k * each + 2, y, each - 4, 24)
                known = self.sheet.read.get((of, stage))
                picked = (of, stage) == self.cell
                p.setPen(QPen(t.dye if picked else t.edge, 2 if picked else 1))
                p.setBrush(t.raised if known is not None else t.sheet)
                p.drawRoundedRect(box, 3, 3)
                words = "" if known is None else f"{size(known.value, unit)} ± {size(2 * known.sigma, unit)}"
                text(p, box, words, t.text, size=8.5, align="centre", elide=True)
                many = "" if known is None else f" Mean of {known.count}."
                tip = f"{STATION_WORDS[of].capitalize()}, {stage}: {words or 'not read'}.{many} Click to read it."
                picture.hits.append(Hit(box, tip, partial(self.pick, of, stage), f"{of} {stage}"))
            y += 28
        y += 4
        for side in ("left", "right"):
            text(p, QRectF(16, y, left - 20, 24), f"{side} end misses the bar", t.text, size=9.5)
            for k, stage in enumerate(STATION_STAGES):
                box = QRectF(left + k * each + 2, y, each - 4, 24)
                end = next((e for e in self.sheet.ends if (e.side, e.stage) == (side, stage)), None)
                picked = self.cell == (f"{side} end", stage)
                p.setPen(
                    QPen(t.dye if picked else t.oxide if end is not None and end.out else t.edge, 2 if picked else 1)
                )
                p.setBrush(t.raised if end is not None else t.sheet)
                p.drawRoundedRect(box, 3, 3)
                words = "" if end is None else size(end.miss, unit)
                text(p, box, words, t.text, size=8.5, align="centre", elide=True)
                tip = f"{side.capitalize()} end, {stage}: {words or 'not read'}. Click to read it."
                picture.hits.append(Hit(box, tip, partial(self.pick, f"{side} end", stage), f"{side} end {stage}"))
            y += 28
        y += 6
        for words, bad in station_words(self.sheet, unit):
            y += flow(p, QRectF(16, y, w - 32, 36), words, t.torch if bad else t.text, size=9.5) + 4
        places = self.workspace.study.set_out(self.workspace.end)
        if places:
            y += flow(p, QRectF(16, y + 4, w - 32, 36), SET_OUT, t.text, size=10) + 8
        for one in places:
            y += flow(p, QRectF(28, y, w - 44, 36), set_out_words(one, unit), t.text, size=9.5) + 2
        y += flow(p, QRectF(16, y + 4, w - 32, 36), CAUTION, t.quiet, size=8.5) + 12
        if picture.minimumHeight() != int(y):
            picture.setMinimumHeight(int(y))

    def _housing(self, p: QPainter, t: Theme, w: float, picture: Picture) -> None:
        """Tube, casting, flanges as the datum, pads where they go."""
        sheet, unit = self.sheet, self.workspace.unit
        assert sheet is not None
        x0, x1, y = 60.0, w - 60.0, 70.0
        span = sheet.span
        offset = sheet.offset if sheet.offset is not None else 0.2
        scale = (x1 - x0) / (span or 1.2)
        p.setPen(QPen(t.soap, 1.4))
        p.setBrush(t.raised)
        p.drawRect(QRectF(x0, y - 13, x1 - x0, 26))
        p.drawEllipse(QPointF(0.5 * (x0 + x1) + 30, y), 44, 40)
        for x in (x0, x1):
            p.setPen(QPen(t.brass, 3))
            p.drawLine(QPointF(x, y - 30), QPointF(x, y + 30))
        for x in (x0 + offset * scale, x1 - offset * scale):
            p.setPen(QPen(t.dye, 1.6))
            p.setBrush(t.sheet)
            p.drawRect(QRectF(x - 22, y - 22, 44, 9))
            p.drawLine(QPointF(x, y - 32), QPointF(x, y + 22))
        for one in self.workspace.study.set_out(self.workspace.end):
            x = 0.5 * (x0 + x1) - one.at * scale
            up = math.cos(one.around) >= 0
            p.setPen(QPen(t.brass, 2))
            p.drawLine(QPointF(x, y - 13 if up else y + 13), QPointF(x, y - 26 if up else y + 26))
            picture.hits.append(Hit(QRectF(x - 4, y - 28, 8, 56), set_out_words(one, unit)))
        text(
            p,
            QRectF(16, 8, w - 32, 16),
            f"From the {DATUM_WORDS[sheet.stations.datum]}, seen from behind",
            t.quiet,
            size=9,
        )
        if sheet.mark is None or sheet.wanted is None or sheet.right_then is None:
            return
        left, right = x0 + offset * scale, x1 - offset * scale
        for a, b, value in ((x0, left, sheet.mark), (left, right, sheet.wanted), (right, x1, sheet.right_then)):
            dimension(p, t, QPointF(a, y + 44), QPointF(b, y + 44), size(value, unit))
        if span is not None:
            dimension(p, t, QPointF(x0, y + 74), QPointF(x1, y + 74), size(span, unit))

    def as_text(self) -> str:
        if self.sheet is None:
            return "No stations of this housing yet."
        unit = self.workspace.unit
        lines = []
        for of in ROWS:
            cells = [self.sheet.read.get((of, s)) for s in STATION_STAGES]
            words = ["" if c is None else f"{size(c.value, unit)} ± {size(2 * c.sigma, unit)}" for c in cells]
            lines.append("\t".join([STATION_WORDS[of], *words]))
        ends = [f"{e.side} end, {e.stage}\t{size(e.miss, unit)}" for e in self.sheet.ends]
        return "\n".join(
            [
                "\t".join(["", *STATION_STAGES]),
                *lines,
                *ends,
                *(w for w, _ in station_words(self.sheet, unit)),
                *(set_out_words(one, unit) for one in self.workspace.study.set_out(self.workspace.end)),
            ]
        )
