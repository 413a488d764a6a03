"""As built: every reading of the finished axle against all others, the plan beside what was built, and what to read next."""

from __future__ import annotations

from functools import partial
from typing import Literal

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from stoutlink.app.desk.labels import Label
from stoutlink.app.desk.not_taken import NEW
from stoutlink.app.desk.still_box import StillBox
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.panels.instrument_desk import InstrumentDesk
from stoutlink.app.panels.reading_line import ReadingLine, Typed
from stoutlink.app.steps.log.desk import LogDesk
from stoutlink.app.steps.working_look import WorkingLook
from stoutlink.app.widgets.path_drawer import Entry
from stoutlink.app.widgets.picture import Hit, Picture, flow, text
from stoutlink.core.advice.log_words import (
    BUILT_CAUTION,
    FALSE_ALARM,
    built_lines,
    fine,
    judged_words,
    next_short,
    next_words,
    number_name,
    number_text,
    rig_lines,
)
from stoutlink.core.analysis.log.as_built import BuiltAxle, Judged
from stoutlink.core.analysis.log.built_model import BuiltPoints
from stoutlink.core.analysis.log.next_reading import NextReading
from stoutlink.core.document.log import ANGLES, BUILT_HELP, BUILT_WORDS, BuiltOf, BuiltReading
from stoutlink.core.editing.log_edits import TakeAsBuilt, TakeBuilt
from stoutlink.core.quantity.shown import Kind

GROUPS = (
    ("reading", "Reading", "The reading picked: why it is not to count, if it is not."),
    ("fit", "Taken", "What is taken where nothing was read."),
)
MARKS = {"wrong": "▲", "doubtful": "▲", "unchecked": "?", "hardly": "◔", "agrees": "✓", "aside": "–"}
LARGER = (20.0, 10.0, 5.0, 2.0, 1.0)
"""Misplacement is drawn so many times larger: the first that stays within the picture."""


class BuiltLook(WorkingLook):
    """The axle in work; a reading is taken by what, from where, to where."""

    def __init__(self, desk: LogDesk, instruments: InstrumentDesk, parent: QWidget | None = None) -> None:
        super().__init__(
            desk.workspace, "as_built", "As built", GROUPS, "Readings as built", parent, columns=3, wide=190
        )
        self.desk = desk
        row = QHBoxLayout()
        row.setContentsMargins(14, 0, 14, 2)
        self.label = Label("Read:", self)
        self.label.setFont(font(11))
        row.addWidget(self.label)
        self.of, self.a, self.b = (self._box(name, words, tip) for name, words, tip in (
            ("built_of", "What is read", "What is measured."), ("built_a", "From", "The first point, or the link."), ("built_b", "To", "The second point; none: from the floor, the centreline or the axle's centre."),
        ))  # fmt: skip
        for box in (self.of, self.a, self.b):
            row.addWidget(box)
        for key, words in BUILT_WORDS.items():
            self.of.addItem(words, key)
        self.of.activated.connect(lambda _: self._asked())
        self.a.activated.connect(lambda _: self._asked())
        self.b.activated.connect(lambda _: self._asked())
        self.line = ReadingLine(self.workspace, instruments, "built_line", self)
        self.line.setFont(font(16, bold=True))
        self.line.setMinimumHeight(38)
        self.line.setMaximumWidth(220)
        self.line.entered.connect(self.read)
        row.addWidget(self.line)
        row.addStretch(1)
        self.body.addLayout(row)
        self.take = self.small("take_as_built", "Take as a layout", "Puts the axle as built among the layouts, held against the plan.", self._take)  # fmt: skip
        self.foot.addStretch(1)
        self.key = ""
        self.found: BuiltAxle | None = None
        self.following: tuple[NextReading, ...] = ()
        self.ready = True

    def _box(self, name: str, words: str, tip: str) -> StillBox:
        box = StillBox(self)
        box.setObjectName(name)
        box.setAccessibleName(words)
        box.setToolTip(tip)
        box.setFont(font(9.5))
        box.setMinimumHeight(30)
        box.setMinimumWidth(170)
        return box

    @property
    def kind(self) -> BuiltOf:
        """What is being read."""
        found: BuiltOf = self.of.currentData() or "apart"
        return found

    def prepare(self) -> None:
        study, end = self.workspace.study, self.workspace.end
        layout = self.workspace.project.layout(end)
        self.ready, self.found, self.following = self.desk.built(end)
        for part in (self.label, self.of, self.a, self.b, self.line):
            part.setVisible(layout is not None)
        self.take.setVisible(self.found is not None)
        if layout is None:
            self.show_frame(
                f"No {end} layout yet.", "As built is held against a plan: lay it out first (Layout).", fields=False
            )
            return
        self._fill(BuiltPoints(study.true.rig, layout))
        if not self.ready:
            self.show_frame("Working out the axle as built…", "")
        elif self.found is None:
            self.show_frame(f"Nothing read of the {end} axle yet.", self.desk.why or "Pick what you read, from where to where, and type it: a height of each bolt and both diagonals say most.")  # fmt: skip
        else:
            self._say(self.found, end)

    def _say(self, found: BuiltAxle, end: str) -> None:
        wrong, lone, suspects = found.wrong, found.unchecked, found.suspects
        doubtful = len(suspects) - len(wrong)
        now = f"{end.capitalize()}: {len(found.observations)} readings, {found.found.fit.spare:.0f} to spare"
        now += f", {len(wrong)} cannot be right" if wrong else "" if doubtful else ", none against the others"
        now += f", one of {doubtful} cannot be" if doubtful else ""
        now += f", {len(lone)} unchecked." if lone else "."
        told = [j for j in suspects if j.error is not None]
        more = judged_words(told[0], self.workspace.unit) if told else ""
        self.show_frame(now, more)

    def _fill(self, points: BuiltPoints) -> None:
        """Points and links to read from, kept as they were picked."""
        of = self.kind
        if of == "slope":
            first = [(k.id, k.name) for k in points.layout.links]
        elif of == "pinion":
            first = []
        else:
            first = [(n, points.names[n]) for n in points.at if of != "to_pinion" or n.endswith(":axle")]
        second = (
            []
            if of in ("slope", "pinion")
            else [(n, w) for n, w in first if not n.startswith("hub") or of in ("apart", "up")]
        )
        if of in ("along", "across", "up"):
            second = [("", {"along": "the axle's centre", "across": "the centreline", "up": "the floor"}[of]), *second]
        for box, items in ((self.a, first), (self.b, second)):
            if [(box.itemData(i), box.itemText(i)) for i in range(box.count())] != items:
                was = box.currentData()
                box.clear()
                for key, words in items:
                    box.addItem(words, key)
                box.setCurrentIndex(max(0, box.findData(was)))
            box.setVisible(bool(items))
        self.of.setToolTip(BUILT_HELP[of])
        kind: Kind = "angle" if of in ANGLES else "length"
        a, b = self.a.currentData() or "", self.b.currentData() or ""
        self.line.ask(f"log.built.readings.{NEW}{self.workspace.end} {of} {a} {b}", f"{BUILT_WORDS[of].capitalize()}, as read", kind, 1, "A" if kind == "angle" else "")  # fmt: skip

    def _asked(self) -> None:
        if self.theme is not None:
            self.refresh(self.theme)

    def read(self, typed: object) -> None:
        """Write the reading down."""
        assert isinstance(typed, Typed)
        of = self.kind
        a = "" if of == "pinion" else self.a.currentData() or ""
        b = "" if of in ("slope", "pinion") else self.b.currentData() or ""
        end: Literal["front", "rear"] = "front" if self.workspace.end == "front" else "rear"
        one = BuiltReading(
            id="new", end=end, of=of, a=a, b=b, value=typed.values[0], sigma=typed.sigma, when=self.workspace.today().isoformat(),
        )  # fmt: skip
        if self.workspace.do(TakeBuilt(one)):
            self.pick(self.workspace.project.log.built.readings[-1].id)

    def ask(self, of: str, a: str, b: str) -> None:
        """Have a reading ready to be typed."""
        self.of.setCurrentIndex(max(0, self.of.findData(of)))
        self._asked()
        for box, key in ((self.a, a), (self.b, b)):
            box.setCurrentIndex(max(0, box.findData(key)))
        self._asked()
        self.line.setFocus()

    @property
    def picked(self) -> BuiltReading | None:
        """The reading picked."""
        return next(
            (r for r in self.workspace.project.log.built.readings if r.id == self.key and r.end == self.workspace.end),
            None,
        )

    def pick(self, key: str) -> None:
        """Work on a reading."""
        self.key = key
        self.show_group("reading")

    def entries(self) -> list[Entry]:
        """Fields of the group picked."""
        if self.group == "fit":
            return [Entry("log.built.placed_m", "bolts not read are placed to, 1 σ")]
        one = self.picked
        if one is None:
            return []
        at = f"log.built.readings.{one.id}"
        return [
            Entry(f"{at}.set_aside", "not to count, because", "text"),
            Entry(f"{at}.tool", "read with", "text"),
            Entry(f"{at}.by", "by", "text"),
        ]

    def show_path(self, path: str) -> None:
        """Have the field of a path in the drawer."""
        parts = path.split(".")
        if parts[2:3] == ["readings"] and len(parts) > 3:
            self.key = parts[3]
            self.show_group("reading")
        else:
            self.show_group("fit")

    def _take(self) -> None:
        if self.found is not None:
            self.workspace.do(TakeAsBuilt(self.found.layout))

    def paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        """Readings to the left; plan against built, where bolts went, and what to read next to the right."""
        w = float(picture.width())
        left = self._readings(p, t, picture, 0.52 * w)
        right = 4.0
        if self.found is not None:
            right = self._numbers(p, t, 0.52 * w, w)
            right = self._bolts(p, t, QRectF(0.52 * w + 14, right, 0.48 * w - 28, 190), self.found)
            right = self._next(p, t, picture, 0.52 * w, right, w)
        for line in rig_lines(*self.workspace.study.rig_built, self.workspace.unit):
            colour = t.torch if "not as stated" in line or "cannot be right" in line else t.text
            right += flow(p, QRectF(0.52 * w + 14, right, 0.48 * w - 28, 60), line, colour, size=9) + 2
        y = max(left, right) + 6
        y += flow(p, QRectF(14, y, w - 28, 60), f"{FALSE_ALARM} {BUILT_CAUTION}", t.quiet, size=8.5) + 8
        self.tall(y)

    def _readings(self, p: QPainter, t: Theme, picture: Picture, wide: float) -> float:
        unit, y = self.workspace.unit, 4.0
        judged: list[Judged] = (
            []
            if self.found is None
            else sorted(
                self.found.judged,
                key=lambda j: ("wrong", "doubtful", "unchecked", "hardly", "agrees").index(j.standing),
            )
        )
        for one in judged:
            box = QRectF(14, y, wide - 20, 20)
            key = one.one.key.rpartition(".")[2] if one.one.key.startswith("log.") else ""
            if key and key == self.key:
                p.setPen(QPen(t.dye, 2))
                p.setBrush(t.raised)
                p.drawRoundedRect(box, 3, 3)
            colour = {"wrong": t.oxide, "doubtful": t.torch, "unchecked": t.torch, "hardly": t.torch, "agrees": t.zinc}[
                one.standing
            ]
            text(p, QRectF(18, y, 18, 20), MARKS[one.standing], colour, size=10, bold=True)
            text(p, QRectF(38, y, wide - 190, 20), one.one.name, t.text, size=9, elide=True)
            text(
                p, QRectF(wide - 150, y, 70, 20), fine(one.one.value, one.one.of, unit), t.brass, size=9, align="right"
            )
            off = (
                fine(one.error, one.one.of, unit)
                if one.error is not None
                else ""
                if one.standing in ("unchecked", "doubtful")
                else fine(-one.residual, one.one.of, unit)
            )
            text(
                p,
                QRectF(wide - 78, y, 62, 20),
                f"{'' if off.startswith('−') or not off else '+'}{off}",
                colour,
                size=9,
                align="right",
                bold=one.standing == "wrong",
            )
            act = partial(self.pick, key) if key else None
            picture.hits.append(
                Hit(
                    box,
                    judged_words(one, unit) + (" Click to set it aside." if key else f" From {one.one.source}."),
                    act,
                    f"built {key or one.one.name}",
                )
            )
            y += 21
        for r in self.workspace.project.log.built.readings:
            if r.end == self.workspace.end and r.set_aside:
                box = QRectF(14, y, wide - 20, 20)
                text(
                    p,
                    QRectF(18, y, wide - 30, 20),
                    f"{MARKS['aside']}  {BUILT_WORDS[r.of]} {r.a} {r.b} {fine(r.value, r.of, unit)}: {r.set_aside}",
                    t.quiet,
                    size=9,
                    elide=True,
                )
                picture.hits.append(
                    Hit(
                        box,
                        "Set aside: it does not count. Click to change why, or to let it count.",
                        partial(self.pick, r.id),
                        f"aside {r.id}",
                    )
                )
                y += 21
        return y

    def _numbers(self, p: QPainter, t: Theme, x: float, w: float) -> float:
        assert self.found is not None
        y, unit, end = 4.0, self.workspace.unit, self.found.end
        wide = w - x - 28
        for title, at, part in (("", 0.0, 0.4), ("planned", 0.4, 0.2), ("as built", 0.6, 0.4)):
            text(
                p,
                QRectF(x + 14 + at * wide, y, part * wide, 16),
                title,
                t.quiet,
                size=8.5,
                align="left" if not title else "right",
            )
        y += 17
        for n in self.found.numbers:
            moved = abs(n.built - n.planned) > 2 * n.sigma
            text(p, QRectF(x + 14, y, 0.4 * wide, 18), number_name(n.id, end), t.text, size=9.5, elide=True)
            text(
                p,
                QRectF(x + 14 + 0.4 * wide, y, 0.2 * wide, 18),
                number_text(n.id, n.planned, unit),
                t.quiet,
                size=9.5,
                align="right",
            )
            text(
                p,
                QRectF(x + 14 + 0.6 * wide, y, 0.4 * wide, 18),
                f"{'▲ ' if moved else ''}{number_text(n.id, n.built, unit)} ± {number_text(n.id, 2 * n.sigma, unit)}",
                t.torch if moved else t.text,
                size=9.5,
                align="right",
                bold=moved,
            )
            y += 19
        return y + 4

    def _bolts(self, p: QPainter, t: Theme, box: QRectF, found: BuiltAxle) -> float:
        """Where the bolts are, from the side: planned hollow, built solid, the way between them drawn larger."""
        points = found.points
        places = [
            (n, points.at[n], points.place(n, found.found.fit.unknowns)) for n in points.at if not n.startswith("hub")
        ]
        if not places:
            return box.top()
        xs, zs = [float(a[0]) for _, a, _ in places], [float(a[2]) for _, a, _ in places]
        span = max(max(xs) - min(xs), 0.3)
        tall = max(max(zs) - min(zs), 0.2)
        scale = min((box.width() - 150) / span, (box.height() - 100) / tall)
        middle = 0.5 * (max(xs) + min(xs)), 0.5 * (max(zs) + min(zs))
        centre = box.center()
        most = max(float(np.abs(b - a)[[0, 2]].max()) for _, a, b in places)
        larger = next((k for k in LARGER if most * scale * k <= 0.32 * box.height()), LARGER[-1])
        text(p, QRectF(box.left(), box.top(), box.width(), 16), f"From the side; misplacement {larger:.0f} × larger", t.quiet, size=8.5)  # fmt: skip

        def at(x: float, z: float) -> QPointF:
            return QPointF(centre.x() + (x - middle[0]) * scale, centre.y() + 8 - (z - middle[1]) * scale)

        for link in points.layout.links:
            p.setPen(QPen(t.faint, 1, Qt.PenStyle.DashLine))
            p.drawLine(at(link.frame_pivot_m[0], link.frame_pivot_m[2]), at(link.axle_pivot_m[0], link.axle_pivot_m[2]))
        unread = {pl.point for pl in found.places if pl.sigma is None and pl.axis != 1}
        for name, planned, built in places:
            a = at(float(planned[0]), float(planned[2]))
            b = QPointF(
                a.x() + float(built[0] - planned[0]) * scale * larger,
                a.y() - float(built[2] - planned[2]) * scale * larger,
            )
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(QPen(t.quiet, 1))
            p.drawEllipse(a, 4, 4)
            if name in unread:
                continue
            p.setPen(QPen(t.brass, 1.5))
            p.drawLine(a, b)
            p.setBrush(t.brass)
            p.drawEllipse(b, 3, 3)
        return box.bottom() + 4

    def _next(self, p: QPainter, t: Theme, picture: Picture, x: float, y: float, w: float) -> float:
        assert self.found is not None
        if not self.following:
            return y
        text(p, QRectF(x + 14, y, w - x - 28, 18), "To read next", t.text, size=10, bold=True)
        y += 20
        for n in self.following[:5]:
            words = next_words(n, self.found.end, self.workspace.unit)
            box = QRectF(x + 14, y, w - x - 28, 18)
            name, gain = next_short(n, self.found.end, self.workspace.unit)
            text(p, QRectF(x + 14, y, w - x - 28, 16), name, t.dye, size=9, elide=True)
            text(p, QRectF(x + 26, y + 15, w - x - 40, 15), gain, t.quiet, size=8.5, elide=True)
            picture.hits.append(
                Hit(
                    box.adjusted(0, 0, 0, 14),
                    f"{words} Click to type it.",
                    partial(self.ask, n.one.of, n.one.a, n.one.b),
                    f"next {n.one.of} {n.one.a} {n.one.b}".strip(),
                )
            )
            y += 34
        return y

    def as_text(self) -> str:
        unit = self.workspace.unit
        rig = [*rig_lines(*self.workspace.study.rig_built, unit)]
        if self.found is None:
            return "\n".join([f"{self.now.text()} {self.more.text()}".strip(), *rig])
        return "\n".join([*built_lines(self.found, self.following, unit), *rig, BUILT_CAUTION])
