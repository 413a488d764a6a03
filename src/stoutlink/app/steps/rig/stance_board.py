"""How it stands: wheelbase, track, what hangs lowest, and the ground angles that follow."""

from __future__ import annotations

import math
from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QWidget

from stoutlink.app.canvas.lettering import words
from stoutlink.app.canvas.painting import Frame, paint
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.rig.board import Board, Spot
from stoutlink.core.analysis.vehicle.rig_numbers import SureNumber
from stoutlink.core.analysis.vehicle.stance import low_points
from stoutlink.core.document.rig import Rig
from stoutlink.core.drawing.rig_views import rig_plan, rig_side
from stoutlink.core.drawing.shapes import Flat
from stoutlink.core.mechanics.ground_angles import tangent_angle
from stoutlink.core.quantity.shown import show


def _low(place: str, rig: Rig) -> Flat | None:
    at = low_points(rig)
    return {"front_low": at.front, "belly": at.belly, "rear_low": at.rear}[place]


def _upright(place: str, rig: Rig) -> tuple[Flat, Flat] | None:
    point = _low(place, rig)
    return None if point is None else ((point[0], 0.0), point)


def _spots() -> list[Spot]:
    out = [
        Spot(
            "rig.wheelbase_m",
            "wheelbase",
            "side",
            lambda r: (0.5 * r.wheelbase_m, 0.0),
            (0, 84),
            lambda r: ((0.0, -0.42), (r.wheelbase_m, -0.42)),
        ),
        Spot(
            "rig.stance.front_low_z_m",
            "front low point",
            "side",
            lambda r: (r.wheelbase_m + r.front.free + 0.05, 0.0),
            (62, -96),
            lambda r: _upright("front_low", r),
        ),
        Spot(
            "rig.stance.front_low_x_m",
            "… station",
            "side",
            lambda r: (r.wheelbase_m + r.front.free + 0.05, 0.0),
            (62, -50),
        ),
        Spot(
            "rig.stance.belly_z_m",
            "belly",
            "side",
            lambda r: (0.5 * r.wheelbase_m, 0.0),
            (-52, 30),
            lambda r: _upright("belly", r),
        ),
        Spot("rig.stance.belly_x_m", "… station", "side", lambda r: (0.5 * r.wheelbase_m, 0.0), (52, 30)),
        Spot(
            "rig.stance.rear_low_z_m",
            "rear low point",
            "side",
            lambda r: (-r.rear.free - 0.05, 0.0),
            (-62, -96),
            lambda r: _upright("rear_low", r),
        ),
        Spot("rig.stance.rear_low_x_m", "… station", "side", lambda r: (-r.rear.free - 0.05, 0.0), (-62, -50)),
        Spot("rig.stance.belly_wanted_m", "belly wanted", "plan", lambda r: (0.5 * r.wheelbase_m, 0.0), (0, -78)),
        Spot("rig.road_speed_m_per_s", "road speed to hold", "plan", lambda r: (0.5 * r.wheelbase_m, 0.0), (0, -22)),
        Spot("rig.brake_front_share", "brakes, front share", "plan", lambda r: (0.5 * r.wheelbase_m, 0.0), (0, 34)),
    ]
    return [*out, *_end_spots("rear", -1.0), *_end_spots("front", 1.0)]


def _end_spots(end: str, side: float) -> list[Spot]:
    def x(r: Rig) -> float:
        return 0.0 if end == "rear" else r.wheelbase_m

    def track(r: Rig) -> tuple[Flat, Flat]:
        half = r.end(end).track_m / 2
        return (x(r) - side * 0.12, -half), (x(r) - side * 0.12, half)

    def ride(r: Rig) -> tuple[Flat, Flat] | None:
        over = r.stance.ride_front_m if end == "front" else r.stance.ride_rear_m
        return None if over is None else ((x(r), r.end(end).loaded), (x(r), r.end(end).loaded + over))

    return [
        Spot(f"rig.stance.ride_{end}_m", f"frame over {end} axle", "side", lambda r: (x(r), 1.30), (0, 0), ride),
        Spot(f"rig.{end}.track_m", f"{end} track", "plan", lambda r: (x(r) - side * 0.12, 0.0), (-side * 62, 0), track),
        Spot(
            f"rig.stance.measured_on_{end}_m",
            "measured on loaded radius",
            "plan",
            lambda r: (x(r) + side * (r.end(end).free + 0.05), 0.0),
            (side * 62, 0),
            None,
            (),
            lambda r: r.end(end).loaded,
        ),
    ]


class StanceBoard(Board):
    """Side view over plan."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "stance", _spots(), parent)
        for spot, field in zip(self.spots, self.fields, strict=True):
            if spot.path.startswith("rig.stance.ride_"):
                field.use_fallback(self._ride("front" if "front" in spot.path else "rear"), "measured")

    def _ride(self, end: str) -> Callable[[], float | None]:
        return lambda: self.workspace.study.surveyed_ride(end)

    def frames(self) -> dict[str, Frame]:
        rig, w, h = self.rig, self.width(), self.height()
        reach = rig.front.free + rig.rear.free
        scale = min(
            (w - 300) / (rig.wheelbase_m + reach), (h - 172) / (1.75 + max(rig.front.track_m, rig.rear.track_m) + 0.4)
        )
        left = w / 2 - (rig.wheelbase_m + rig.front.free - rig.rear.free) * scale / 2
        ground = 14 + 1.62 * scale
        below = ground + 104
        return {"side": Frame(QPointF(left, ground), scale), "plan": Frame(QPointF(left, (h + below) / 2), scale)}

    def paint_board(self, p: QPainter, t: Theme) -> None:
        rig, frames = self.rig, self.frames()
        side = frames["side"]
        paint(p, rig_side(rig), side, t)
        paint(p, rig_plan(rig), frames["plan"], t)
        at, numbers = self.workspace.study.low_points(), self.workspace.study.rig_numbers()
        self._ground_angles(p, t, side, rig, numbers)
        for point in (at.front, at.belly, at.rear):
            if point is not None:
                p.setPen(QPen(t.brass, 2))
                c = side.at(point)
                p.drawLine(c + QPointF(-9, 0), c + QPointF(9, 0))
        wanted = rig.stance.belly_wanted_m
        if wanted is not None:
            p.setPen(QPen(t.quiet, 1, Qt.PenStyle.DashLine))
            p.drawLine(side.at((0.55, wanted)), side.at((rig.wheelbase_m - 0.55, wanted)))
            words(
                p,
                t,
                QRectF(side.at((0.55, 0.0)).x(), side.at((0.0, wanted)).y() + 1, 46, 13),
                "wanted",
                size=8,
                quiet=True,
            )
        if at.belly is None and at.front is None and at.rear is None:
            box = QRectF(
                side.at((rig.rear.free, 0.0)).x(),
                side.origin.y() - 0.34 * side.scale,
                (rig.wheelbase_m - rig.rear.free - rig.front.free) * side.scale,
                46,
            )
            words(
                p,
                t,
                box,
                "Measure what hangs lowest: front, belly, rear. The ground angles follow.",
                quiet=True,
                centre=True,
            )

    def _ground_angles(self, p: QPainter, t: Theme, f: Frame, rig: Rig, numbers: dict[str, SureNumber]) -> None:
        """Planes tangent to the tyres with their angles."""
        at = low_points(rig)
        for name, angle, axle, radius, way in (
            ("approach", at.approach, rig.wheelbase_m, rig.front.loaded, 1.0),
            ("departure", at.departure, 0.0, rig.rear.loaded, -1.0),
        ):
            if angle is None:
                continue
            touch = (axle + way * radius * math.sin(angle), radius * (1 - math.cos(angle)))
            far = 0.95
            p.setPen(QPen(t.dye, 1.2, Qt.PenStyle.DashDotLine))
            p.drawLine(f.at(touch), f.at((touch[0] + way * far * math.cos(angle), touch[1] + far * math.sin(angle))))
            n = numbers[name]
            box = QRectF(
                f.at((axle, 0)).x()
                + (way * (rig.front.free + 0.1) * f.scale if way > 0 else -(rig.rear.free + 0.1) * f.scale - 150),
                f.origin.y() + 6,
                150,
                32,
            )
            self._angle_words(p, t, box, n, way)
        if at.breakover is not None and at.belly is not None:
            p.setPen(QPen(t.dye, 1.2, Qt.PenStyle.DashDotLine))
            for axle, radius in ((0.0, rig.rear.loaded), (rig.wheelbase_m, rig.front.loaded)):
                way = 1.0 if axle == 0.0 else -1.0
                angle = tangent_angle(axle, radius, at.belly)
                touch = (axle + way * radius * math.sin(angle), radius * (1 - math.cos(angle)))
                p.drawLine(f.at(touch), f.at(at.belly))
            where = f.at(at.belly)
            self._angle_words(p, t, QRectF(where.x() + 6, where.y() + 12, 170, 18), numbers["breakover"], 1.0)

    @staticmethod
    def _angle_words(p: QPainter, t: Theme, box: QRectF, n: SureNumber, way: float) -> None:
        p.setFont(font(9, bold=True))
        p.setPen(t.dye)
        flag = (
            Qt.AlignmentFlag.AlignLeft
            if way > 0
            else Qt.AlignmentFlag.AlignRight
            if way < 0
            else Qt.AlignmentFlag.AlignHCenter
        )
        p.drawText(
            box,
            int(flag | Qt.AlignmentFlag.AlignTop),
            f"{n.title.split()[0].lower()} {show(n.value, 'angle', 'in')} ± {show(2 * n.sigma, 'angle', 'in')}"
            if n.value is not None
            else f"{n.title.split()[0].lower()} needs {n.lacks[0][0].lower()}{n.lacks[0][1:]}"
            if n.lacks
            else "",
        )
