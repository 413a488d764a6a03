"""Fit: a third member with its locker against its housing: room at the caps and for the actuator's way, holes, tries."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen
from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.working_look import WorkingLook
from stoutlink.app.widgets.path_drawer import Entry
from stoutlink.app.widgets.picture import Hit, Picture, dimension, flow, text
from stoutlink.core.advice.bench_words import case_words
from stoutlink.core.analysis.bench.case_fit import CaseSheet
from stoutlink.core.document.bench import CaseFit, CaseHole
from stoutlink.core.document.ids import free_id
from stoutlink.core.editing.edits import PutInList, TakeFromList
from stoutlink.core.quantity.shown import show

GROUPS = (
    ("caps", "Caps", "How far each cap reaches, how wide the opening is there."),
    ("actuator", "Actuator", "Where it reaches at both ends of its way."),
    ("holes", "Holes", "Holes of the flange: shared, new, threaded."),
    ("tries", "Tries", "What touched when it was tried in."),
)
CAUTION = "A third member is heavy and round: two people or a hoist, and no fingers between flange and housing."


class FitLook(WorkingLook):
    """The fit of one axle."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "bench_fit", "Fit", GROUPS, "Third member in its housing", parent, wide=110)
        self.begin = self.small("begin_fit", "Measure this one", "Have fields for case and housing.", self._begin)
        self.add = self.small("add_hole", "Add hole", "A hole of the flange.", self._add)
        self.gone = self.small("remove_hole", "Remove hole", "Take the hole picked away.", self._remove)
        self.end_ = self.small("end_fit", "Put away", "Take these readings away; undo brings them back.", self._end)
        self.foot.addStretch(1)
        self.hole = ""

    @property
    def sheet(self) -> CaseSheet | None:
        """The fit as it stands."""
        return self.workspace.study.case_sheet(self.workspace.end)

    def prepare(self) -> None:
        sheet = self.sheet
        axle = self.workspace.study.axles_there[self.workspace.end]
        fit = None if sheet is None else sheet.fit
        self.begin.setVisible(fit is None and axle is not None)
        self.add.setVisible(fit is not None)
        self.gone.setVisible(fit is not None and self.group == "holes" and bool(self.hole))
        self.end_.setVisible(fit is not None)
        if fit is not None and all(h.id != self.hole for h in fit.holes):
            self.hole = fit.holes[-1].id if fit.holes else ""
        if sheet is None:
            more = (
                "An axle is chosen in Donors first."
                if axle is None
                else "A carrier or locker that is new to this housing is measured before it is bought: caps, opening, and the actuator at both ends of its way."
                if axle.third_member
                else "This axle has no third member; its carrier goes in from behind. Measure all the same if a locker's actuator has to find room."
            )
            self.show_frame("Nothing is measured yet.", more, fields=False)
            return
        says = {True: "It goes in.", False: "It does not go in as it is.", None: "Not everything is measured yet."}[
            sheet.goes
        ]
        self.show_frame(says, f"Still to be measured: {', '.join(sheet.missing)}." if sheet.missing else "")

    def entries(self) -> list[Entry]:
        """Fields of the group picked."""
        sheet = self.sheet
        if sheet is None:
            return []
        fit, at = sheet.fit, f"cases.{sheet.fit.id}"
        if self.group == "caps":
            caps = [
                Entry(f"{at}.{side}_{what}_m", f"{side} {word}")
                for side in ("left", "right")
                for what, word in (("cap", "cap"), ("open", "opening"))
            ]
            return [*caps, Entry(f"{at}.wanted_m", "room wanted"), Entry(f"{at}.sigma_m", "a reading's ± (1 σ)")]
        if self.group == "actuator":
            where = Entry(f"{at}.actuator", "actuator", "choice", (("none", "none"), ("left", "left"), ("right", "right")))  # fmt: skip
            if fit.actuator == "none":
                return [where]
            return [where, Entry(f"{at}.reach_in_m", "drawn in"), Entry(f"{at}.reach_out_m", "out"), Entry(f"{at}.space_m", "room for it")]  # fmt: skip
        if self.group == "tries":
            return [Entry(f"{at}.contacts", "touched, by commas", "words")]
        if not self.hole:
            return []
        here = f"{at}.holes.{self.hole}"
        hole = next(h for h in fit.holes if h.id == self.hole)
        weld = [Entry(f"{here}.puddle_m", "to the weld")] if hole.kind == "thread" else []
        kinds = (("shared", "shared"), ("new", "new"), ("thread", "threaded"))
        return [Entry(f"{here}.kind", "kind", "choice", kinds), Entry(f"{here}.diameter_m", "hole"), Entry(f"{here}.edge_m", "to the edge"), *weld]  # fmt: skip

    def show_path(self, path: str) -> None:
        """Have the field of a path in the drawer."""
        parts = path.split(".")
        tail = parts[2] if len(parts) > 2 else ""
        if tail == "holes":
            self.group, self.hole = "holes", parts[3] if len(parts) > 3 else self.hole
        elif tail == "contacts":
            self.group = "tries"
        else:
            self.group = "actuator" if tail in ("actuator", "reach_in_m", "reach_out_m", "space_m") else "caps"
        self.show_group(self.group)

    def pick(self, hole: str) -> None:
        """Show a hole's fields."""
        self.hole = hole
        self.show_group("holes")

    def _do(self, fit: CaseFit, words: str) -> None:
        self.workspace.do(PutInList("cases", fit, words))

    def _begin(self) -> None:
        end = "front" if self.workspace.end == "front" else "rear"
        self._do(CaseFit(id=end), "Measure a third member")  # type: ignore[arg-type]

    def _add(self) -> None:
        sheet = self.sheet
        if sheet is not None:
            new = free_id("h", (h.id for h in sheet.fit.holes))
            if self.workspace.do(PutInList(f"cases.{sheet.fit.id}.holes", CaseHole(id=new), "Add a hole")):
                self.pick(new)

    def _remove(self) -> None:
        sheet = self.sheet
        if sheet is not None and self.hole:
            self.workspace.do(TakeFromList(f"cases.{sheet.fit.id}.holes", (self.hole,), "Remove a hole"))

    def _end(self) -> None:
        sheet = self.sheet
        if sheet is not None:
            self.workspace.do(TakeFromList("cases", (sheet.fit.id,), "Put a fit away"))

    def paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        """Case and opening to scale from above, the actuator at both ends of its way; words below."""
        sheet, w, y = self.sheet, float(picture.width()), 6.0
        if sheet is None:
            return
        fit = sheet.fit
        spans = [v or 0.0 for v in (fit.left_open_m, fit.right_open_m, fit.space_m, fit.reach_out_m)]
        if max(spans, default=0.0) > 0.0:
            self._draw(p, t, QRectF(20, y, w - 40, 170), fit, 0.42 * (w - 40) / max(spans))
            y += 178
        for words in case_words(sheet, self.workspace.unit):
            bad = any(v in words for v in ("touches", "too tight", "too near", "in the weld"))
            hole = next((h.id for h in fit.holes if words.startswith(f"Hole {h.id},")), "")
            colour = t.dye if hole and hole == self.hole and self.group == "holes" else t.torch if bad else t.text
            high = flow(p, QRectF(20, y, w - 40, 60), words, colour, size=10.5)
            if hole:
                box = QRectF(18, y, w - 36, high)
                picture.hits.append(Hit(box, f"{words} Click to change it.", partial(self.pick, hole), f"hole {hole}"))
            y += high + 3
        y += flow(p, QRectF(20, y + 4, w - 40, 40), CAUTION, t.quiet, size=8.5) + 10
        self.tall(y)

    def _draw(self, p: QPainter, t: Theme, box: QRectF, fit: CaseFit, scale: float) -> None:
        middle, unit = box.center(), self.workspace.unit
        p.setPen(QPen(t.faint, 1, Qt.PenStyle.DashLine))
        p.drawLine(QPointF(middle.x(), box.top()), QPointF(middle.x(), box.bottom()))
        for sign, reach, wide in ((-1.0, fit.left_cap_m, fit.left_open_m), (1.0, fit.right_cap_m, fit.right_open_m)):
            if reach is None or wide is None:
                continue
            edge, cap = middle.x() + sign * wide * scale, middle.x() + sign * reach * scale
            p.setPen(QPen(t.soap, 2))
            p.drawLine(QPointF(edge, middle.y() - 46), QPointF(edge, middle.y() + 46))
            self._body(p, t, QRectF(min(middle.x(), cap), middle.y() - 30, abs(cap - middle.x()), 60), t.lower)
            room = show(wide - reach, "fine_length", unit)
            dimension(p, t, QPointF(cap, middle.y() + 62), QPointF(edge, middle.y() + 62), "")
            text(p, QRectF(0.5 * (cap + edge) - 50, middle.y() + 66, 100, 16), room, t.text, size=9.5, align="centre")
        if fit.actuator != "none" and fit.space_m is not None:
            sign = -1.0 if fit.actuator == "left" else 1.0
            wall = middle.x() + sign * fit.space_m * scale
            p.setPen(QPen(t.soap, 2, Qt.PenStyle.DashDotLine))
            p.drawLine(QPointF(wall, middle.y() - 70), QPointF(wall, middle.y() - 46))
            for reach, dash in ((fit.reach_in_m, Qt.PenStyle.SolidLine), (fit.reach_out_m, Qt.PenStyle.DashLine)):
                if reach is not None:
                    p.setPen(QPen(t.brass, 1.6, dash))
                    p.drawRect(QRectF(min(middle.x(), middle.x() + sign * reach * scale), middle.y() - 66, reach * scale, 16))  # fmt: skip
        text(p, QRectF(box.left(), box.top(), 60, 16), "left", t.quiet, size=8.5)
        text(p, QRectF(box.right() - 60, box.top(), 60, 16), "right", t.quiet, size=8.5, align="right")

    def _body(self, p: QPainter, t: Theme, box: QRectF, colour: QColor) -> None:
        p.setPen(QPen(colour, 1.5))
        p.setBrush(t.raised)
        p.drawRoundedRect(box, 4, 4)
        p.setBrush(Qt.BrushStyle.NoBrush)

    def as_text(self) -> str:
        return "\n".join([*case_words(self.sheet, self.workspace.unit), CAUTION])
