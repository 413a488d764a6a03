"""The locker advisor: every kind in this axle and rig, what the parts see under each, and both schools side by side."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.donors.look import DonorLook
from stoutlink.app.widgets.choice_box import ChoiceBox
from stoutlink.app.widgets.picture import Hit, Picture, bar, button, plate, text
from stoutlink.core.analysis.swap.locker_advice import LockerAdvice
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.quantity.shown import show

ROW = 40
SIGNS = {"fits": "✓", "arguable": "◐", "poor here": "▲", "no": "✗"}
CAUTION = "Rules of thumb, not law: locked axles on wet or public roads, local codes. An air or electric locker is bench tested before the axle is closed."


class LockerLook(DonorLook):
    """Rows of kinds, best first; the one looked at with its reasons below."""

    takes = ("stance", "weight", "train")

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "lockers", "Locker advisor", parent)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        row.setContentsMargins(12, 6, 12, 2)
        yes = ((None, "not known"), (True, "yes"), (False, "no"))
        self.boxes = []
        for path, title in (
            ("rig.fittings.air_supply", "Air on board"),
            ("rig.fittings.spare_circuit", "Spare circuit"),
        ):
            box = ChoiceBox(
                workspace, f"choice_{path.rsplit('.', 1)[-1]}", title, [(v, f"{title}: {w}") for v, w in yes], self
            )
            box.path = lambda at=path: at  # type: ignore[misc]
            row.addWidget(box)
            self.boxes.append(box)
        row.addStretch(1)
        outer.addLayout(row)
        self.picture = Picture("locker_picture", "Lockers", self)
        outer.addWidget(self.picture, 1)
        self.found: tuple[LockerAdvice, ...] = ()
        self.shown: str | None = None

    def prepare(self) -> None:
        w = self.workspace
        for box in self.boxes:
            box.refresh()
        self.found = () if self.donor is None else w.study.lockers(self.donor)
        if self.theme is not None:
            self.picture.show_with(self.theme, self._draw)

    def look_at(self, kind: str) -> None:
        """Show the reasons of one kind."""
        self.shown = kind
        self.picture.update()

    def _draw(self, p: QPainter, t: Theme, picture: Picture) -> None:
        if not self.found or self.donor is None:
            text(
                p,
                QRectF(30, 30, picture.width() - 60, 40),
                "Pick a candidate at the left.",
                t.quiet,
                size=11,
                align="centre",
            )
            return
        unit = self.workspace.unit
        wide = picture.width()
        heads = ((44, "kind"), (222, "here"), (300, "shaft torque, one wheel carrying"), (wide - 92, "shaft margin"))
        for x, words in heads:
            text(p, QRectF(x, 2, 300, 16), words, t.quiet, size=8.5)
        most = max(a.shaft_torque for a in self.found) or 1.0
        shown = next((a for a in self.found if a.kind.id == self.shown), self.found[0])
        for i, a in enumerate(self.found):
            y = 20 + i * ROW
            box = QRectF(8, y, wide - 16, ROW - 4)
            plate(p, t, box, picked=a is shown)
            poor = a.word in ("poor here", "no")
            text(p, QRectF(16, y, 24, ROW - 4), SIGNS[a.word], t.torch if poor else t.text, size=12)
            text(
                p,
                QRectF(44, y, 176, ROW - 4),
                a.title + ("  · planned" if a.fitted else ""),
                t.text,
                size=10,
                bold=a.fitted,
                elide=True,
            )
            text(p, QRectF(222, y, 76, ROW - 4), a.word, t.torch if poor else t.text, size=9.5)
            bar(
                p,
                t,
                QRectF(300, y + 11, wide - 300 - 202, 13),
                a.shaft_torque / most,
                t.soap if (a.margin or 1) >= 1 else t.torch,
                hatched=(a.margin or 1) < 1,
            )
            words = show(a.shaft_torque, "torque", unit) if a.shaft_torque > 0 else "none: it stops"
            text(p, QRectF(wide - 192, y, 96, ROW - 4), words, t.text, size=9)
            margin = "–" if a.margin is None else "not asked" if a.margin > 99 else f"{a.margin:.2f}"
            text(
                p,
                QRectF(wide - 92, y, 80, ROW - 4),
                margin,
                t.text if (a.margin or 1) >= 1 else t.torch,
                size=9.5,
                bold=True,
            )
            picture.hits.append(
                Hit(
                    box,
                    f"{a.title}: {a.word}. Click for its reasons.",
                    partial(self.look_at, a.kind.id),
                    f"locker_{a.kind.id}",
                )
            )
        self._reasons(p, t, picture, shown, 26 + len(self.found) * ROW)

    def _reasons(self, p: QPainter, t: Theme, picture: Picture, a: LockerAdvice, y: float) -> None:
        wide = picture.width()
        text(p, QRectF(14, y, 400, 20), f"{a.title[:1].upper() + a.title[1:]} in this axle", t.text, size=11, bold=True)
        assert self.donor is not None
        donor = self.donor
        box = QRectF(wide - 180, y, 166, 24)
        button(p, t, box, "Take out of the plan" if a.fitted else f"Plan it for the {donor.end}")
        value = None if a.fitted or a.kind.id == donor.locker else a.kind.id
        picture.hits.append(
            Hit(
                box,
                "Put this locker into the plan of this end; cost and ladder follow.",
                lambda: self.workspace.do(SetChoice(f"{donor.end}_plan.locker", value, "locker")),
                "plan_locker",
            )
        )
        half = (wide - 42) / 2
        school = y + 28
        for k, (head, words) in enumerate((("One school", a.kind.school_for), ("The other", a.kind.school_against))):
            x = 14 + k * (half + 14)
            p.setPen(QPen(t.brass, 2, Qt.PenStyle.SolidLine if k == 0 else Qt.PenStyle.DashLine))
            p.drawLine(QPointF(x, school), QPointF(x, school + 50))
            text(p, QRectF(x + 8, school - 2, half, 16), head, t.quiet, size=8.5)
            text(p, QRectF(x + 8, school + 13, half - 10, 40), words, t.text, size=9, wrap=True)
        here = [*(f"+ {w}" for w in a.pros), *(f"− {w}" for w in a.cons)]
        text(p, QRectF(14, school + 56, half, 90), "\n".join(here), t.text, size=9, wrap=True)
        text(
            p,
            QRectF(28 + half, school + 56, half, 90),
            "\n".join([*a.needs, self._torques(a), f"weakest part then: {a.weakest}"]),
            t.text,
            size=9,
            wrap=True,
        )
        text(p, QRectF(14, picture.height() - 34, wide - 28, 32), CAUTION, t.quiet, size=8.5, wrap=True)

    def _torques(self, a: LockerAdvice) -> str:
        """What each part sees with one wheel carrying the axle."""
        unit = self.workspace.unit
        return f"one wheel carrying: shaft {show(a.shaft_torque, 'torque', unit)}, ring gear {show(a.ring_torque, 'torque', unit)}, driveshaft {show(a.driveshaft_torque, 'torque', unit)}"

    def as_text(self) -> str:
        return (
            "\n".join(f"{a.title}\t{a.word}\t{'; '.join((*a.pros, *a.cons))}\t{'; '.join(a.needs)}" for a in self.found)
            or "No axle looked at."
        )
