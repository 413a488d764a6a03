"""Made: one axle of several, each part with where it is from, whether they meet, and what is new in any case."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QPointF, QRectF, QSignalBlocker, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPen
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from stoutlink.app.desk.still_box import StillBox
from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.donors.look import DonorLook
from stoutlink.app.widgets.picture import Hit, Picture, flow, quiet_label, scrolled, text
from stoutlink.core.analysis.swap.made import MadeOf
from stoutlink.core.catalogue.parts_of_axle import AXLE_PARTS, PART_WORDS, AxlePart
from stoutlink.core.document.ids import free_id
from stoutlink.core.editing.swap_edits import MakeOf, StartMade

SIGNS = {True: "✓", False: "✗", None: "?"}
CAUTION = "Ends go onto tubes in a jig, by a qualified welder; straightness is checked before and after. Steering parts are not welded at home."


class MadeLook(DonorLook):
    """The axle drawn in its four parts, one colour for each axle they are from."""

    begun = pyqtSignal(str)
    """A record of several was begun: its id."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "made", "Axle made of several", parent)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        row.setContentsMargins(12, 6, 12, 0)
        self.begin = QPushButton("Make one of it and others", self)
        self.begin.setObjectName("begin_made")
        self.begin.setToolTip(
            "A record of its own, at first as this axle is; then pick another axle for any of its parts."
        )
        self.begin.clicked.connect(self._begin)
        row.addWidget(self.begin)
        self.boxes: dict[AxlePart, StillBox] = {}
        self._labels: list[QWidget] = []
        for part in AXLE_PARTS:
            short = PART_WORDS[part].partition(":")[0].partition(" and")[0]
            label = quiet_label(short, self)
            box = StillBox(self)
            box.setObjectName(f"made_{part}")
            box.setAccessibleName(f"Axle the {PART_WORDS[part]} are from")
            box.setToolTip(f"Which axle the {PART_WORDS[part]} are from; its numbers come along.")
            box.setMinimumContentsLength(12)
            box.setSizeAdjustPolicy(StillBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            box.activated.connect(partial(self._take, part))
            self.boxes[part] = box
            self._labels.append(label)
            row.addWidget(label)
            row.addWidget(box, 1)
        row.addStretch(0)
        outer.addLayout(row)
        self.picture = Picture("made_picture", "The axle by where its parts are from", self)
        outer.addWidget(scrolled(self.picture, self), 1)
        self.found: MadeOf | None = None

    def prepare(self) -> None:
        donor, project = self.donor, self.workspace.project
        self.found = None if donor is None else self.workspace.study.made_of(donor)
        self.begin.setVisible(donor is not None and self.found is None)
        for widget in (*self._labels, *self.boxes.values()):
            widget.setVisible(self.found is not None)
        if donor is not None and self.found is not None:
            made = {row.id for row in project.swap.made}
            others = [d for d in project.swap.donors if d.end == donor.end and d.id not in made]
            row = next(r for r in project.swap.made if r.id == donor.id)
            for part, box in self.boxes.items():
                with QSignalBlocker(box):
                    box.clear()
                    for one in others:
                        box.addItem(one.name, one.id)
                    box.setCurrentIndex(box.findData(getattr(row, part)))
        if self.theme is not None:
            self.picture.show_with(self.theme, self._draw)

    def _begin(self) -> None:
        if self.donor is None:
            return
        new = free_id("made-", (d.id for d in self.workspace.project.swap.donors))
        if self.workspace.do(StartMade(new, self.donor.id)):
            self.workspace.said.emit(
                "A record of its own, at the end of the list: pick where its parts are from.", False
            )
            self.begun.emit(new)

    def _take(self, part: AxlePart, row: int) -> None:
        source = self.boxes[part].itemData(row)
        if self.donor is not None and source is not None:
            self.workspace.do(MakeOf(self.donor.id, part, source))

    def _colours(self, t: Theme) -> dict[str, QColor]:
        """One for each axle parts are from, in their order."""
        names = (
            list(dict.fromkeys("" if one is None else one.id for _, one in self.found.origins)) if self.found else []
        )
        return dict(zip(names, (t.dye, t.brass, t.soap, t.torch), strict=False))

    def _draw(self, p: QPainter, t: Theme, picture: Picture) -> None:
        w = float(picture.width())
        if self.donor is None or self.found is None:
            words = (
                "No axle looked at."
                if self.donor is None
                else "This axle is as it came. Two are often made into one: the housing of the wide one, the gears of the strong one, the ends of the one whose wheels fit. “Make one of it and others” begins a record for that; both stay as they are."
            )
            flow(p, QRectF(30, 30, w - 60, 80), words, t.quiet, size=11)
            return
        colours = self._colours(t)
        of = {part: colours["" if one is None else one.id] for part, one in self.found.origins}
        self._axle(p, t, picture, of, w)
        y = 178.0
        for part, one in self.found.origins:
            name = "no longer in the catalogue" if one is None else one.name
            p.fillRect(QRectF(16, y + 3, 10, 10), of[part])
            text(p, QRectF(34, y, 190, 16), PART_WORDS[part].capitalize(), t.quiet, size=9)
            text(p, QRectF(228, y, w - 244, 16), name, t.text, size=9, elide=True)
            y += 18
        y += 8
        for m in self.found.mates:
            colour = t.oxide if m.fits is False else t.text
            y += (
                flow(p, QRectF(16, y, w - 32, 40), f"{SIGNS[m.fits]} {m.title.capitalize()}: {m.why}.", colour, size=9)
                + 3
            )
        if not self.found.mates:
            y += flow(p, QRectF(16, y, w - 32, 20), "All its parts are from one axle yet.", t.quiet, size=9) + 3
        if self.found.to_measure:
            words = f"To be measured on it: {', '.join(self.found.to_measure)}. Type them in Axle."
            y += flow(p, QRectF(16, y + 4, w - 32, 40), words, t.torch, size=9) + 8
        text(p, QRectF(16, y + 6, w - 32, 16), "New, whatever the parts are from", t.text, size=9.5, bold=True)
        y += 26
        for new in self.found.new:
            y += (
                flow(p, QRectF(16, y, w - 32, 34), f"{new.what[:1].upper()}{new.what[1:]}: {new.why}.", t.text, size=9)
                + 2
            )
        y += flow(p, QRectF(16, y + 8, w - 32, 40), CAUTION, t.quiet, size=8.5) + 16
        if picture.minimumHeight() != int(y):
            picture.setMinimumHeight(int(y))

    def _axle(self, p: QPainter, t: Theme, picture: Picture, of: dict[AxlePart, QColor], w: float) -> None:
        """Tubes, shafts in them, the centre, the ends; each place says what it is and where it is from."""
        middle, y, half = w / 2, 92.0, min(330.0, w / 2 - 70)
        names = {
            part: "no longer in the catalogue" if one is None else one.name
            for part, one in (self.found.origins if self.found else ())
        }

        def place(part: AxlePart, box: QRectF) -> None:
            picture.hits.append(Hit(box, f"{PART_WORDS[part].capitalize()}: {names[part]}."))

        for side in (-1, 1):
            tube = QRectF(min(middle, middle + side * half), y - 15, half, 30)
            p.setPen(QPen(of["housing"], 2))
            p.setBrush(t.raised)
            p.drawRect(tube)
            place("housing", tube)
            p.setPen(QPen(of["shafts"], 6))
            p.drawLine(QPointF(middle + side * 44, y), QPointF(middle + side * (half + 26), y))
            place("shafts", QRectF(min(middle + side * 60, middle + side * half), y - 4, half - 60, 8))
            end = QRectF(middle + side * half - 10, y - 44, 20, 88)
            p.setPen(QPen(of["outers"], 2))
            p.drawRoundedRect(end, 4, 4)
            disc = QRectF(middle + side * (half + 22) - 5, y - 36, 10, 72)
            p.setBrush(of["outers"])
            p.drawRect(disc)
            place("outers", end.united(disc))
        p.setPen(QPen(of["housing"], 2))
        p.setBrush(t.raised)
        p.drawEllipse(QPointF(middle, y), 64, 58)
        p.setPen(QPen(of["gears"], 5))
        p.setBrush(t.sheet)
        p.drawEllipse(QPointF(middle, y), 40, 40)
        place("gears", QRectF(middle - 42, y - 42, 84, 84))

    def as_text(self) -> str:
        if self.found is None:
            return "The axle is as it came."
        parts = [f"{PART_WORDS[part]}\t{'-' if one is None else one.name}" for part, one in self.found.origins]
        mates = [f"{SIGNS[m.fits]}\t{m.title}\t{m.why}" for m in self.found.mates]
        new = [f"new\t{n.what}\t{n.why}" for n in self.found.new]
        return "\n".join((*parts, *mates, *new, *(f"measure\t{words}" for words in self.found.to_measure)))
