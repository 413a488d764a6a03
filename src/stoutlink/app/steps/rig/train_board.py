"""The drivetrain look: torque curve, gears, transfer case and its output, and what the rig is for."""

from __future__ import annotations

from itertools import pairwise

from PyQt6.QtCore import QPointF, QRectF, QSignalBlocker, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QCheckBox, QComboBox, QPushButton, QWidget

from stoutlink.app.canvas.lettering import words
from stoutlink.app.canvas.painting import Frame
from stoutlink.app.desk.still_box import StillBox
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.rig.board import Board, Spot
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.core.analysis.vehicle.train_proposal import front_output_for, next_gear, next_torque_point, output_for
from stoutlink.core.document.rig import USES
from stoutlink.core.document.swap import planned_gears
from stoutlink.core.editing.edits import Edit, ReplaceList, SetChoice
from stoutlink.core.mechanics.gearing import engine_rpm
from stoutlink.core.quantity.shown import show

CHOICES = {
    "transfer_case": ("Transfer case", (("locked", "locks both axles"), ("open", "open centre"))),
    "coupling": ("Behind the engine", (("converter", "torque converter"), ("clutch", "clutch"))),
    "front_axle": ("Front axle", (("solid", "solid"), ("independent", "independent, stays"))),
    "output_side": ("Output side", (("left", "left"), ("right", "right"), ("centre", "centre"))),
}
USE_WORDS = {"rock": "rock", "trail": "trail", "road": "road", "tow": "towing"}


def _spots() -> list[Spot]:
    at = "rig.drivetrain."
    here = (0.0, 0.0)
    return [
        Spot(f"{at}engine_torque_nm", "peak torque, stated", "chain", lambda r: here, (76, 0)),
        Spot(f"{at}idle_rpm", "idle", "chain", lambda r: here, (76, 46)),
        Spot(f"{at}converter_stall_ratio", "stall ratio", "chain", lambda r: here, (244, 46)),
        Spot(f"{at}reverse_ratio", "reverse", "chain", lambda r: here, (412, 0)),
        Spot(f"{at}transfer_high_ratio", "high range", "chain", lambda r: here, (580, 0)),
        Spot(f"{at}transfer_low_ratio", "low range", "chain", lambda r: here, (580, 46)),
        *(
            Spot(f"rig.uses.{use}", f"share of {USE_WORDS[use]}", "use", lambda r: here, (64 + 118 * i, 0))
            for i, use in enumerate(USES)
        ),
        Spot("rig.road_speed_m_per_s", "road speed to hold", "use", lambda r: here, (64 + 118 * 4, 0)),
    ]


class TrainBoard(Board):
    """Torque curve above, the chain of gears in the middle, use below."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "drivetrain", _spots(), parent)
        self._boxes: dict[str, QComboBox] = {}
        for key, (title, choices) in CHOICES.items():
            box = StillBox(self)
            box.setObjectName(f"choice_{key}")
            box.setAccessibleName(title)
            box.setToolTip(f"{title}.")
            box.setFont(font(9))
            for value, word in choices:
                box.addItem(word, value)
            box.activated.connect(
                lambda i, k=key, b=box, n=title: workspace.do(SetChoice(f"rig.drivetrain.{k}", b.itemData(i), n))
            )
            self._boxes[key] = box
        self.legal = QCheckBox("must stay road legal", self)
        self.legal.setObjectName("road_legal")
        self.legal.setToolTip("Brakes, height, track, steering and lockers are then judged with local codes in mind.")
        self.legal.clicked.connect(lambda on: workspace.do(SetChoice("rig.road_legal", on, "road legal")))
        self._gears: list[QuantityField] = []
        self._points: list[tuple[QuantityField, QuantityField]] = []
        self._buttons: dict[str, QPushButton] = {}
        for name, text, tip, slot in (
            ("add_gear", "+ gear", "Add a gear above the top one.", self._add_gear),
            ("drop_gear", "− gear", "Take the top gear off.", self._drop_gear),
            ("add_point", "+ point", "Add a point to the torque curve.", self._add_point),
            ("drop_point", "− point", "Take the last point off.", self._drop_point),
            ("set_output", "Place the output", "Say where the transfer case output is.", self._place_output),
            ("set_front_output", "front…", "The output to the front lies elsewhere: say where.", self._place_front),
            ("drop_front_output", "as rear", "One place stands for both outputs again.", self._drop_front),
        ):
            button = QPushButton(text, self)
            button.setObjectName(name)
            button.setProperty("flat", True)
            button.setFont(font(8.5))
            button.setToolTip(tip)
            button.clicked.connect(slot)
            self._buttons[name] = button
        at = "rig.drivetrain."
        self.down = [
            QuantityField(workspace, f"{at}output_angle_rad", self, title="Output points down", channels=("A",)),
            QuantityField(
                workspace,
                f"{at}front_output_angle_rad",
                self,
                title="Front output points down",
                fallback=lambda: self.rig.drivetrain.output_down("front"),
                channels=("A",),
            ),
        ]
        self.down[1].fallback_basis = lambda: "the rear's line carried through"
        for field in self.down:
            field.setFont(font(9))
        self._output: list[QuantityField] = []
        self._front: list[QuantityField] = []

    def frames(self) -> dict[str, Frame]:
        h = self.height()
        return {"chain": Frame(QPointF(20, 0.50 * h + 24), 1.0), "use": Frame(QPointF(20, h - 44), 1.0)}

    # Lists of numbers

    def refresh(self, theme: Theme) -> None:
        train = self.rig.drivetrain
        self._keep(self._gears, [f"rig.drivetrain.gear_ratios.{i}" for i in range(len(train.gear_ratios))], "Gear")
        flat = [f for pair in self._points for f in pair]
        paths = [
            f"rig.drivetrain.torque_curve.{i}.{key}"
            for i in range(len(train.torque_curve))
            for key in ("rpm", "torque_nm")
        ]
        self._keep(flat, paths, "Curve point")
        self._points = list(zip(flat[0::2], flat[1::2], strict=True))
        self._keep(
            self._output,
            [f"rig.drivetrain.output_m.{i}" for i in range(3)] if train.output_m is not None else [],
            "Output",
        )
        self._keep(
            self._front,
            [f"rig.drivetrain.front_output_m.{i}" for i in range(3)] if train.front_output_m is not None else [],
            "Front output",
        )
        self._buttons["set_front_output"].setVisible(train.output_m is not None and train.front_output_m is None)
        self._buttons["drop_front_output"].setVisible(train.front_output_m is not None)
        for key, box in self._boxes.items():
            with QSignalBlocker(box):
                box.setCurrentIndex(box.findData(getattr(train, key)))
        self.legal.setChecked(self.rig.road_legal)
        self._buttons["drop_gear"].setEnabled(len(train.gear_ratios) > 1)
        self._buttons["drop_point"].setEnabled(bool(train.torque_curve))
        self._buttons["set_output"].setVisible(train.output_m is None)
        for field in self.down:
            field.refresh()
        super().refresh(theme)

    def _keep(self, fields: list[QuantityField], paths: list[str], title: str) -> None:
        """As many fields as there are numbers."""
        while len(fields) > len(paths):
            fields.pop().deleteLater()
        for i, path in enumerate(paths):
            if i >= len(fields):
                field = QuantityField(self.workspace, path, self, title=f"{title} {i + 1}")
                field.setFont(font(9))
                field.show()
                fields.append(field)
            elif fields[i].path != path:
                fields[i].set_path(path)
            fields[i].refresh()

    def _do(self, edit: Edit) -> None:
        self.workspace.do(edit)

    def _add_gear(self) -> None:
        gears = self.rig.drivetrain.gear_ratios
        at = "rig.drivetrain.gear_ratios"
        self._do(ReplaceList(at, (*gears, next_gear(gears)), "Add a gear", (str(len(gears)),)))
        self._gears[-1].setFocus()

    def _drop_gear(self) -> None:
        self._do(
            ReplaceList("rig.drivetrain.gear_ratios", self.rig.drivetrain.gear_ratios[:-1], "Take the top gear off")
        )

    def _add_point(self) -> None:
        train = self.rig.drivetrain
        new = next_torque_point(train)
        at, n = "rig.drivetrain.torque_curve", len(train.torque_curve)
        guessed = (f"{n}.rpm", f"{n}.torque_nm")
        self._do(ReplaceList(at, (*train.torque_curve, new), "Add a point to the torque curve", guessed))

    def _drop_point(self) -> None:
        self._do(
            ReplaceList(
                "rig.drivetrain.torque_curve",
                self.rig.drivetrain.torque_curve[:-1],
                "Take a point off the torque curve",
            )
        )

    def _place_output(self) -> None:
        at = "rig.drivetrain.output_m"
        self._do(SetChoice(at, output_for(self.rig), "place of the output", ("0", "1", "2")))

    def _place_front(self) -> None:
        at = "rig.drivetrain.front_output_m"
        self._do(SetChoice(at, front_output_for(self.rig), "place of the front output", ("0", "1", "2")))

    def _drop_front(self) -> None:
        self._do(SetChoice("rig.drivetrain.front_output_m", None, "place of the front output"))

    # Places

    def arrange(self) -> None:
        super().arrange()
        if self.width() < 50:
            return
        chain, use = self.frames()["chain"].origin, self.frames()["use"].origin
        x, y = int(chain.x()), int(chain.y())
        for i, field in enumerate(self._gears):
            field.setGeometry(x + 350 + (i % 2) * 64, y + 34 + (i // 2) * 26, 58, 22)
        rows = (len(self._gears) + 1) // 2
        self._buttons["add_gear"].setGeometry(x + 346, y + 40 + rows * 26, 64, 24)
        self._buttons["drop_gear"].setGeometry(x + 414, y + 40 + rows * 26, 64, 24)
        self._boxes["coupling"].setGeometry(x + 176, y - 13, 136, 26)
        self._boxes["transfer_case"].setGeometry(x + 512, y + 76, 136, 26)
        self._boxes["output_side"].setGeometry(x + 698, y - 13, 100, 26)
        self._buttons["set_output"].setGeometry(x + 684, y + 80, 128, 24)
        for column, fields in enumerate((self._output, self._front)):
            self.down[column].setGeometry(x + 712 + column * 57, y + 40, 55, 22)
            for i, field in enumerate(fields):
                field.setGeometry(x + 712 + column * 57, y + 74 + i * 24, 55, 22)
        self._buttons["set_front_output"].setGeometry(x + 768, y + 74, 54, 22)
        self._buttons["drop_front_output"].setGeometry(x + 768, y + 146, 54, 22)
        plot = self._plot()
        right = int(plot.right()) + 26
        for i, (rpm, torque) in enumerate(self._points):
            rpm.setGeometry(right, 40 + i * 27, 84, 22)
            torque.setGeometry(right + 92, 40 + i * 27, 84, 22)
        below = 46 + len(self._points) * 27
        self._buttons["add_point"].setGeometry(right, below, 84, 24)
        self._buttons["drop_point"].setGeometry(right + 92, below, 84, 24)
        self.legal.setGeometry(int(use.x()) + 64 + 118 * 5 - 40, int(use.y()) - 12, 190, 24)

    def _plot(self) -> QRectF:
        return QRectF(84, 40, self.width() - 84 - 250, 0.50 * self.height() - 130)

    def paint_board(self, p: QPainter, t: Theme) -> None:
        train, unit = self.rig.drivetrain, self.workspace.unit
        chain, use = self.frames()["chain"].origin, self.frames()["use"].origin
        self._curve(p, t)
        plot = self._plot()
        words(p, t, QRectF(plot.right() + 26, 18, 180, 18), "Torque curve, full throttle", size=9, quiet=True)
        titles = (("Engine", 76), ("Coupling", 244), ("Gearbox", 412), ("Transfer case", 580), ("Output", 748))
        for title, dx in titles:
            box = QRectF(chain.x() + dx - 76, chain.y() - 44, 152, 216)
            p.setPen(QPen(t.edge, 1))
            p.setBrush(t.plate)
            p.drawRoundedRect(box, 4, 4)
            words(p, t, QRectF(box.left(), box.top() - 20, box.width(), 18), title, size=9.5, bold=True, centre=True)
        for (_, a), (_, b) in pairwise(titles):
            p.setPen(QPen(t.soap, 3))
            p.drawLine(QPointF(chain.x() + a + 76, chain.y() + 20), QPointF(chain.x() + b - 76, chain.y() + 20))
        if train.torque_curve:
            words(
                p,
                t,
                QRectF(chain.x() + 4, chain.y() + 66, 144, 34),
                f"the curve counts: {show(train.peak_torque, 'torque', unit)} at most",
                size=8.5,
                quiet=True,
                centre=True,
            )
        if train.coupling == "clutch":
            words(
                p,
                t,
                QRectF(chain.x() + 172, chain.y() + 66, 144, 34),
                "a clutch multiplies by 1",
                size=8.5,
                quiet=True,
                centre=True,
            )
        for i, word in enumerate(("to rear", "to front")):
            box = QRectF(chain.x() + 712 + i * 57, chain.y() + 24, 55, 13)
            words(p, t, box, word, size=8, quiet=True, centre=True)
        words(p, t, QRectF(chain.x() + 678, chain.y() + 43, 34, 16), "down", size=8, quiet=True)
        if train.output_m is not None:
            for i, word in enumerate(("ahead", "left", "up")):
                words(p, t, QRectF(chain.x() + 678, chain.y() + 77 + i * 24, 34, 16), word, size=8, quiet=True)
        p.setPen(QPen(t.edge, 1))
        p.drawLine(QPointF(12, use.y() - 40), QPointF(self.width() - 12, use.y() - 40))
        total = self.rig.uses.total
        if abs(total - 1.0) > 1e-6:
            words(
                p,
                t,
                QRectF(use.x() + 4, use.y() + 14, 460, 16),
                f"The shares add up to {total:.0%}; they count as parts of that.",
                size=8.5,
                quiet=True,
            )

    def _curve(self, p: QPainter, t: Theme) -> None:
        train, unit, plot = self.rig.drivetrain, self.workspace.unit, self._plot()
        points = train.torque_curve
        p.setPen(QPen(t.edge, 1))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(plot)
        if not points:
            words(
                p,
                t,
                plot,
                "No curve yet. Add its points at the right, lowest speed first; until then the stated peak torque counts.",
                quiet=True,
                centre=True,
            )
            return
        top_rpm, top = max(4000.0, points[-1].rpm * 1.08), max(q.torque_nm for q in points) * 1.18

        def at(rpm: float, torque: float) -> QPointF:
            return QPointF(plot.left() + rpm / top_rpm * plot.width(), plot.bottom() - torque / top * plot.height())

        p.setFont(font(8))
        for rpm in range(1000, int(top_rpm) + 1, 1000):
            x = at(rpm, 0).x()
            p.setPen(QPen(t.edge, 1, Qt.PenStyle.DotLine))
            p.drawLine(QPointF(x, plot.top()), QPointF(x, plot.bottom()))
            p.setPen(t.quiet)
            p.drawText(QRectF(x - 30, plot.bottom() + 2, 60, 14), Qt.AlignmentFlag.AlignCenter, f"{rpm}")
        p.setPen(t.quiet)
        p.drawText(
            QRectF(plot.left(), plot.bottom() + 16, plot.width(), 14), Qt.AlignmentFlag.AlignCenter, "engine speed, rpm"
        )
        for part in (0.25, 0.5, 0.75, 1.0):
            torque = part * top / 1.18
            p.drawText(
                QRectF(2, at(0, torque).y() - 8, 76, 16),
                int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter),
                show(torque, "torque", unit),
            )
        p.setPen(QPen(t.soap, 2))
        p.drawPolyline(QPolygonF([at(q.rpm, q.torque_nm) for q in points]))
        p.setBrush(t.brass)
        for q in points:
            p.drawEllipse(at(q.rpm, q.torque_nm), 4, 4)
        self._road(p, t, plot, top_rpm)

    def _road(self, p: QPainter, t: Theme, plot: QRectF, top_rpm: float) -> None:
        """Where the engine turns at the road speed to hold, with the chosen axle."""
        rig, project = self.workspace.rig, self.workspace.project
        for end in ("rear", "front"):
            donor = project.donor(end)
            pair = None if donor is None else planned_gears(donor, project.plan(end))
            if donor is None or pair is None:
                continue
            train = rig.drivetrain
            rpm = engine_rpm(
                rig.road_speed_m_per_s,
                rig.end(end).rolling,
                train.top_ratio,
                train.transfer_high_ratio,
                pair.ratio,
                donor.hub_ratio,
            )
            x = plot.left() + min(1.0, rpm / top_rpm) * plot.width()
            p.setPen(QPen(t.dye, 1.2, Qt.PenStyle.DashLine))
            p.drawLine(QPointF(x, plot.top()), QPointF(x, plot.bottom()))
            words(
                p,
                t,
                QRectF(x + 4, plot.top() + 4, 200, 30),
                f"{rpm:.0f} rpm at {show(rig.road_speed_m_per_s, 'speed', self.workspace.unit)} in top",
                size=8.5,
            )
            return
