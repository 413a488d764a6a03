"""Brakes: share front to rear over deceleration against the ideal, which end locks first, pedal, slope, line joints."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.working_look import WorkingLook
from stoutlink.app.widgets.path_drawer import Entry
from stoutlink.app.widgets.picture import Hit, Picture, flow, text
from stoutlink.core.advice.bench_words import brake_words, fitting_words
from stoutlink.core.analysis.bench.brake_sheet import BrakeSheet
from stoutlink.core.document.brakes import FLARE_WORDS, Fitting
from stoutlink.core.document.ids import free_id
from stoutlink.core.editing.edits import PutInList, SetNumber, TakeFromList

GROUPS = (
    ("pedal", "Pedal", "Pedal, booster and master cylinder."),
    ("front", "Front", "What brakes the front."),
    ("rear", "Rear", "What brakes the rear, and the valve before it."),
    ("park", "Parking", "Parking brake, and what was taken out."),
    ("joints", "Line joints", "Every joint from the frame's line to a wheel."),
)
CAUTION = "A model of one stop on a level road, linings cold and dry. Brakes are tried at walking pace in an empty place, and judged by a licensed hand where local rules ask for it."
KINDS = (("disc", "discs"), ("drum", "drums"))
YES = ((False, "no"), (True, "yes"))


class BrakesLook(WorkingLook):
    """The brakes of the whole rig."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "bench_brakes", "Brakes", GROUPS, "Share of braking over deceleration", parent)
        self.take = self.small("take_share", "Use this share for the rig", "The front share where the first end locks goes into the rig, where anti-dive reads it.", self._take)  # fmt: skip
        self.add = self.small("add_fitting", "Add joint", "A joint of the brake lines.", self._add)
        self.gone = self.small("remove_fitting", "Remove joint", "Take the joint picked away.", self._remove)
        self.foot.addStretch(1)
        self.joint = ""

    @property
    def sheet(self) -> BrakeSheet:
        """The brakes as they stand."""
        return self.workspace.study.brake_sheet

    def prepare(self) -> None:
        sheet = self.sheet
        joints = sheet.system.fittings
        if all(f.id != self.joint for f in joints):
            self.joint = joints[-1].id if joints else ""
        words = list(brake_words(sheet, self.workspace.unit))
        lock = next((w for w in words if w.startswith(("The front wheels", "The rear wheels", "Both ends"))), "")
        self.take.setVisible(sheet.share is not None)
        self.add.setVisible(self.group == "joints")
        self.gone.setVisible(self.group == "joints" and bool(self.joint))
        first = lock or "No balance yet."
        rest = "" if lock else next(iter(words), "")
        proposed = {
            f"brakes.{end}.{key}": value
            for end, one in (("front", sheet.front), ("rear", sheet.rear))
            for key, value in (("piston_m", one.piston_m), ("effective_m", one.effective_m))
            if value is not None
        }
        self.show_frame(first, rest, proposed=proposed)

    def entries(self) -> list[Entry]:
        """Fields of the group picked."""
        at, s = "brakes", self.sheet.system
        if self.group == "pedal":
            return [
                Entry(f"{at}.pedal_ratio", "pedal ratio"), Entry(f"{at}.foot_n", "foot"), Entry(f"{at}.boost", "booster"),
                Entry(f"{at}.master_m", "master cylinder"), Entry(f"{at}.stroke_front_m", "stroke, front"),
                Entry(f"{at}.stroke_rear_m", "stroke, rear"), Entry(f"{at}.grip", "grip of the road"),
            ]  # fmt: skip
        if self.group in ("front", "rear"):
            here, one = f"{at}.{self.group}", s.front if self.group == "front" else s.rear
            out = [Entry(f"{here}.kind", "kind", "choice", KINDS), Entry(f"{here}.piston_m", "piston" if one.kind == "disc" else "wheel cylinder"), Entry(f"{here}.effective_m", "radius"), Entry(f"{here}.gap_m", "running gap")]  # fmt: skip
            if one.kind == "disc":
                out += [Entry(f"{here}.pistons", "pistons a side"), Entry(f"{here}.both_sides", "on both sides", "choice", YES), Entry(f"{here}.friction", "friction")]  # fmt: skip
            else:
                out.append(Entry(f"{here}.factor", "brake factor"))
            if self.group == "rear":
                out.append(Entry(f"{at}.knee_pa", "valve's knee"))
                out += [Entry(f"{at}.slope", "valve's slope")] if s.knee_pa is not None else []
            return out
        if self.group == "park":
            out = [Entry(f"{at}.parking_end", "parking brake at", "choice", (("front", "front"), ("rear", "rear"), ("shaft", "driveshaft"))), Entry(f"{at}.parking_nm", "it holds"), Entry(f"{at}.grade", "slope"), Entry(f"{at}.anti_lock_gone", "anti-lock out", "choice", YES)]  # fmt: skip
            return [*out, Entry(f"{at}.valve_kept", "old valve stays", "choice", YES)]
        if not self.joint:
            return []
        here = f"{at}.fittings.{self.joint}"
        flares = tuple(FLARE_WORDS.items())
        return [
            Entry(f"{here}.name", "joint", "text"),
            Entry(f"{here}.place", "on", "choice", (("master", "master"), ("frame", "frame"), ("axle", "axle"), ("wheel", "wheel"))),
            Entry(f"{here}.tube_m", "tube"),
            Entry(f"{here}.gender", "it is", "choice", ((None, "not known"), ("male", "male"), ("female", "female"))),
            Entry(f"{here}.thread", "thread", "text"),
            Entry(f"{here}.other_thread", "other's thread", "text"),
            Entry(f"{here}.flare", "flare", "choice", flares),
            Entry(f"{here}.other_flare", "other's flare", "choice", flares),
            Entry(f"{here}.condition", "condition", "choice", (("unknown", "not known"), ("good", "good"), ("renew", "to be renewed"), ("renewed", "renewed"))),
            Entry(f"{here}.bridge", "bridged by", "text"),
            Entry(f"{here}.line", "hose of the layout", "choice", self._hoses()),
        ]  # fmt: skip

    def _hoses(self) -> tuple[tuple[str, str], ...]:
        layouts = [self.workspace.project.layout(end) for end in ("front", "rear")]
        lines = [(f"{one.id}.{x.id}", f"{one.end}: {x.name}") for one in layouts if one is not None for x in one.lines]  # fmt: skip
        return (("", "none"), *lines)

    def show_path(self, path: str) -> None:
        """Have the field of a path in the drawer."""
        parts = path.split(".")
        tail = parts[1] if len(parts) > 1 else ""
        if tail in ("front", "rear"):
            self.group = tail
        elif tail == "fittings":
            self.group, self.joint = "joints", parts[2] if len(parts) > 2 else self.joint
        elif tail in ("knee_pa", "slope"):
            self.group = "rear"
        elif tail in ("parking_end", "parking_nm", "grade", "anti_lock_gone", "valve_kept"):
            self.group = "park"
        else:
            self.group = "pedal"
        self.show_group(self.group)

    def pick(self, joint: str) -> None:
        """Show a joint's fields."""
        self.joint = joint
        self.show_group("joints")

    def _take(self) -> None:
        share = self.sheet.share
        if share is not None:
            self.workspace.do(SetNumber("rig.brake_front_share", share, "", "estimated", "Front share of braking"))

    def _add(self) -> None:
        new = free_id("joint-", (f.id for f in self.sheet.system.fittings))
        if self.workspace.do(PutInList("brakes.fittings", Fitting(id=new, name="Joint"), "Add a line joint")):
            self.pick(new)

    def _remove(self) -> None:
        if self.joint:
            self.workspace.do(TakeFromList("brakes.fittings", (self.joint,), "Remove a line joint"))

    def paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        """The curve of shares at the left, what is said at the right, joints below."""
        sheet, w, unit = self.sheet, float(picture.width()), self.workspace.unit
        y, hoses = 6.0, self.workspace.study.hoses
        if self.group != "joints":
            if sheet.real:
                self._curve(p, t, QRectF(56, 14, 0.5 * w - 80, 210), sheet)
            left = 0.5 * w if sheet.real else 20.0
            for words in brake_words(sheet, unit, hoses):
                y += flow(p, QRectF(left, y, w - left - 16, 80), words, t.text, size=10) + 5
            y = max(y, 262.0 if sheet.real else 0.0)
        else:
            if not sheet.fittings:
                y += flow(p, QRectF(20, y, w - 40, 60), "No joint is listed. One a place: frame to hose, hose to axle, axle to wheel; what is on both sides of it decides which hose is bought.", t.quiet, size=10.5) + 4  # fmt: skip
            for found in sheet.fittings:
                words = fitting_words(found, unit, hoses.get(found.fitting.id))
                box = QRectF(16, y, w - 32, 36)
                if found.fitting.id == self.joint:
                    p.setPen(QPen(t.dye, 2))
                    p.drawRoundedRect(box, 3, 3)
                high = flow(p, QRectF(24, y + 3, w - 48, 36), words, t.text if found.goes else t.torch, size=10)
                picture.hits.append(Hit(box, f"{words}. Click to change it.", partial(self.pick, found.fitting.id), f"joint {found.fitting.id}"))  # fmt: skip
                y += max(high + 8, 38)
        y += flow(p, QRectF(20, y + 4, w - 40, 50), CAUTION, t.quiet, size=8.5) + 12
        self.tall(y)

    def _curve(self, p: QPainter, t: Theme, box: QRectF, sheet: BrakeSheet) -> None:
        def at(z: float, share: float) -> QPointF:
            low, high = 0.3, 1.0
            return QPointF(box.left() + z * box.width(), box.bottom() - (min(max(share, low), high) - low) / (high - low) * box.height())  # fmt: skip

        p.setPen(QPen(t.edge, 1))
        p.drawRect(box)
        for z in (0.0, 0.2, 0.4, 0.6, 0.8, 1.0):
            text(p, QRectF(at(z, 0.3).x() - 20, box.bottom() + 2, 40, 16), f"{z:g} g", t.quiet, size=8.5, align="centre")  # fmt: skip
        for share in (0.4, 0.6, 0.8, 1.0):
            spot = at(0.0, share)
            p.setPen(QPen(t.edge, 1, Qt.PenStyle.DotLine))
            p.drawLine(spot, QPointF(box.right(), spot.y()))
            text(p, QRectF(box.left() - 50, spot.y() - 8, 44, 16), f"{share:.0%}", t.quiet, size=8.5, align="right")
        p.setPen(QPen(t.brass, 2, Qt.PenStyle.DashLine))
        p.drawPolyline(QPolygonF([at(z, s) for z, s in zip(sheet.z, sheet.ideal, strict=True)]))
        p.setPen(QPen(t.dye, 2.4))
        p.drawPolyline(QPolygonF([at(z, s) for z, s in zip(sheet.z, sheet.real, strict=True)]))
        text(p, QRectF(box.left() + 8, box.bottom() - 36, box.width(), 16), "front share: full line as built, dashed the ideal", t.text, size=8.5)  # fmt: skip
        text(p, QRectF(box.left() + 8, box.bottom() - 20, box.width(), 16), "full line below the dashed: the rear locks first", t.quiet, size=8.5)  # fmt: skip
        if sheet.lock is not None and sheet.share is not None:
            spot = at(min(sheet.lock.deceleration, 1.0), sheet.share)
            p.setPen(QPen(t.oxide if sheet.lock.end == "rear" else t.zinc, 2))
            p.drawEllipse(spot, 6.0, 6.0)

    def as_text(self) -> str:
        return "\n".join([*brake_words(self.sheet, self.workspace.unit, self.workspace.study.hoses), CAUTION])
