"""The record as a picture of the axle: every number stands where it is measured, type over it and the picture
follows.
"""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QResizeEvent
from PyQt6.QtWidgets import QLabel, QScrollArea, QVBoxLayout, QWidget

from stoutlink.app.canvas.painting import Frame, paint
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.donors.look import DonorLook
from stoutlink.app.steps.donors.teeth_field import TeethField
from stoutlink.app.widgets.choice_box import ChoiceBox
from stoutlink.app.widgets.picture import Picture, dimension, quiet_label, text
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.app.widgets.word_field import WordField, read_pairs
from stoutlink.core.catalogue.donor import LOCKER_WORDS, LOCKERS
from stoutlink.core.document.paths import get_value
from stoutlink.core.drawing.donor_view import axle_front, gear_face, shaft_side, wheel_face

UNKNOWN = (None, "not known")
YES_NO = (UNKNOWN, (True, "yes"), (False, "no"))
W, H = 82, 22
SPOTS: dict[str, tuple[tuple[str, str, float, float], ...]] = {
    "front": (
        ("weight_kg", "weight", 0.07, 18), ("tube_od_m", "tube outside", 0.205, 18), ("tube_wall_m", "tube wall", 0.335, 18), ("tube_yield_pa", "tube yield", 0.465, 18),
        ("ring_diameter_m", "ring gear", 0.60, 18), ("housing_below_m", "metal below ring", 0.735, 18), ("shave_m", "can be shaved", 0.93, 18),
        ("price", "price", 0.07, 62), ("hub_ratio", "hub ratio", 0.93, 62), ("jig_length_m", "jig takes", 0.07, 106), ("hub_drop_m", "portal drop", 0.93, 106),
        ("seat_spacing_m", "seat spacing", 0.27, 148), ("width_m", "over wheel faces", 0.50, 164), ("pinion_offset_m", "pinion offset, left +", 0.735, 148),
        ("kingpin_inset_m", "kingpin inset", 0.07, 148), ("wheel_overhang_m", "bearing overhang", 0.93, 148),
    ),
    "shaft": (
        ("spline_teeth", "inner teeth", 0.07, 16), ("spline_pitch_per_in", "pitch", 0.195, 16), ("spline_major_diameter_m", "over the teeth", 0.32, 16),
        ("neck_diameter_m", "neck", 0.445, 16), ("body_diameter_m", "body", 0.57, 16), ("shaft_bore_m", "bore", 0.695, 16), ("shaft_yield_pa", "core yield", 0.82, 16),
        ("stub_neck_diameter_m", "stub neck", 0.94, 16),
        ("spline_length_m", "spline length", 0.07, 100), ("spline_engaged_m", "engaged", 0.195, 100), ("neck_length_m", "necked length", 0.32, 100),
        ("shaft_left_m", "left shaft", 0.445, 100), ("shaft_right_m", "right shaft", 0.57, 100), ("outer_joint_rating_nm", "outer joint rating", 0.695, 100),
        ("steer_lock_rad", "lock", 0.82, 100), ("lockout_rating_nm", "lock-out rating", 0.94, 100),
        ("outer_spline_teeth", "outer teeth", 0.07, 144), ("outer_spline_pitch_per_in", "outer pitch", 0.195, 144), ("outer_spline_major_diameter_m", "over outer teeth", 0.32, 144),
        ("stub_spline_teeth", "stub teeth", 0.445, 144), ("stub_spline_pitch_per_in", "stub pitch", 0.57, 144), ("stub_spline_major_diameter_m", "over stub teeth", 0.695, 144),
        ("stub_yield_pa", "stub yield", 0.82, 144), ("knuckle_rating_nm", "knuckle rating", 0.94, 144),
    ),
    "gears": (
        ("ring_teeth", "ring teeth", 0.24, 16), ("pinion_teeth", "pinion teeth", 0.385, 16), ("pinion_spline_teeth", "pinion spline", 0.53, 16),
        ("carrier_break_ratio", "carrier break", 0.24, 60), ("locker_rating_nm", "carrier rating", 0.385, 60), ("pinion_spline_major_diameter_m", "over its teeth", 0.53, 60),
        ("ring_rating_nm", "ring rating", 0.24, 104), ("snout_length_m", "centre to joint", 0.385, 104), ("pinion_joint_rating_nm", "shaft joint rating", 0.53, 104),
        ("pinion_rise_m", "above centre", 0.24, 148), ("pinion_joint_cap_m", "joint caps", 0.385, 148), ("pinion_joint_span_m", "joint span", 0.53, 148),
        ("bolt_count", "wheel bolts", 0.80, 16), ("bolt_circle_m", "bolt circle", 0.94, 16), ("pilot_m", "pilot", 0.80, 60), ("flange_bolt_count", "flange bolts", 0.94, 60),
        ("flange_bolt_diameter_m", "flange bolt", 0.80, 104), ("flange_bolt_circle_m", "flange circle", 0.94, 104),
        ("rotor_m", "brake disc", 0.24, 192), ("piston_m", "caliper piston", 0.385, 192), ("piston_count", "pistons a side", 0.53, 192), ("brakes_kg", "brakes weigh", 0.665, 192),
        ("flange_dowel_count", "dowels", 0.665, 148), ("flange_dowel_diameter_m", "dowel", 0.80, 148), ("flange_rating_nm", "flange rating", 0.94, 148),
    ),
}  # fmt: skip
HEIGHTS = {"front": 190, "shaft": 176, "gears": 240}
ROOTS: tuple[tuple[object, str], ...] = (
    UNKNOWN,
    ("45_flat", "45° flat root"),
    ("30_flat", "30° flat root"),
    ("30_fillet", "30° fillet root"),
    ("37_fillet", "37.5° fillet"),
)
CHOICES: tuple[tuple[str, str, tuple[tuple[object, str], ...]], ...] = (
    ("end", "End", (("front", "front"), ("rear", "rear"))),
    ("basis", "Record", (("measured", "measured"), ("sheet", "from a sheet"), ("claim", "seller's claim"), ("estimated", "estimated"))),
    ("weight_class", "Class", (UNKNOWN, ("light", "light"), ("middle", "middle"), ("heavy", "heavy"))),
    ("locker", "Locker", (UNKNOWN, *((one, LOCKER_WORDS[one]) for one in LOCKERS))),
    ("spline_root", "Inner spline", ROOTS),
    ("spline_form", "Inner teeth", (UNKNOWN, ("cut", "cut into the bar"), ("formed", "formed, above the bar"))),
    ("tube_form", "Tubes", (UNKNOWN, ("constant", "one diameter"), ("stepped", "change diameter"))),
    ("jig_pucks", "Jig pucks", (UNKNOWN, (True, "to be had"), (False, "none yet"))),
    ("outer_spline_root", "Outer spline", ROOTS),
    ("stub_spline_root", "Stub spline", ROOTS),
    ("pinion_height", "Pinion", (UNKNOWN, ("high", "high"), ("low", "low"))),
    ("cut", "Gear cut", (UNKNOWN, ("standard", "standard cut"), ("reverse", "reverse cut"))),
    ("floating", "Float", (UNKNOWN, ("semi", "semi-float"), ("full", "full float"))),
    ("c_clips", "C-clips", YES_NO),
    ("outer_joint", "Outer joint", (UNKNOWN, ("cross", "cross joint"), ("constant_velocity", "constant velocity"), ("none", "none"))),
    ("knuckle", "Knuckle", (UNKNOWN, ("kingpin", "kingpin"), ("ball_joint", "ball joint"), ("none", "none"))),
    ("wheel_bearing", "Bearing", (UNKNOWN, ("unit", "unit bearing"), ("spindle", "spindle"))),
    ("lockouts", "Lock-outs", (UNKNOWN, ("manual", "manual"), ("automatic", "automatic"), ("drive_flange", "drive flange"), ("none", "none"))),
    ("third_member", "Third member", YES_NO),
    ("dual_wheels", "Wheels", (UNKNOWN, (False, "one a side"), (True, "two a side"))),
    ("brake", "Brakes", (UNKNOWN, ("disc", "disc"), ("drum", "drum"), ("none", "none"))),
    ("flange_bolt_class", "Flange bolts", (UNKNOWN, ("8.8", "class 8.8"), ("10.9", "class 10.9"), ("12.9", "class 12.9"))),
    ("parking_brake", "Parking brake", (UNKNOWN, ("drum_cable", "cable to drums"), ("caliper_cable", "cable to calipers"), ("in_hat_cable", "drum in the disc"), ("none", "none"))),
    ("abs_sensor", "Anti-lock", (UNKNOWN, ("wheel", "wheel sensors"), ("housing", "in the housing"), ("none", "none"))),
    ("spring_pads", "Spring pads", (UNKNOWN, ("over", "over the tube"), ("under", "under the tube"), ("none", "none"))),
    ("link_brackets", "Link brackets", YES_NO),
    ("steering_arms", "Steering arms", (UNKNOWN, ("none", "none"), ("one", "one side"), ("both", "both sides"))),
    ("ratings_are", "Ratings are", (UNKNOWN, ("yield", "yield figures"), ("break", "breaking figures"))),
)  # fmt: skip
TEXTS = (
    ("name", "Name"), ("maker", "Maker"), ("ratios", "Gear sets that exist"), ("pinion_joint_series", "Joint series"), ("outer_joint_class", "Outer joint class"),
    ("brake_thread", "Brake thread"), ("parking_cable_end", "Cable end"), ("stud_thread", "Studs"), ("shaft_material", "Shaft material"), ("missing", "Missing"), ("notes", "Notes"),
)  # fmt: skip
FRONT_ONLY = {
    "stub_spline_teeth", "stub_spline_pitch_per_in", "stub_spline_major_diameter_m", "stub_neck_diameter_m", "stub_yield_pa", "outer_joint_rating_nm", "steer_lock_rad",
    "lockout_rating_nm", "knuckle_rating_nm", "kingpin_inset_m", "stub_spline_root", "outer_joint", "knuckle", "lockouts", "steering_arms", "outer_joint_class",
}  # fmt: skip


class AxleLook(DonorLook):
    """Picture of the axle in three bands, with a drawer of words below."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "axle", "Axle record", parent)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        area = QScrollArea(self)
        area.setObjectName("axle_area")
        area.setAccessibleName("The record on its picture")
        area.setObjectName("axle_area")
        area.setWidgetResizable(True)
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._inner = QWidget()
        area.setWidget(self._inner)
        whole.addWidget(area)
        outer = QVBoxLayout(self._inner)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(1)
        self.bands: dict[str, Picture] = {}
        self.fields: dict[str, QuantityField] = {}
        for band, title in (("front", "Axle from the front"), ("shaft", "Shaft"), ("gears", "Gears and wheel face")):
            picture = Picture(f"axle_band_{band}", title, self)
            picture.setFixedHeight(HEIGHTS[band])
            self.bands[band] = picture
            outer.addWidget(picture)
        self._drawer = QWidget(self._inner)
        outer.addWidget(self._drawer)
        outer.addStretch(1)
        self.boxes: dict[str, ChoiceBox] = {}
        for name, title, choices in CHOICES:
            box = ChoiceBox(
                workspace,
                f"donor_{name}",
                title,
                [(value, f"{title}: {words}") for value, words in choices],
                self._drawer,
            )
            box.path = lambda n=name: None if self.donor is None else f"donors.{self.donor.id}.{n}"  # type: ignore[misc]
            self.boxes[name] = box
        self.texts: dict[str, WordField] = {}
        self._labels: dict[str, QLabel] = {}
        for name, title in TEXTS:
            sets = name == "ratios"
            self.texts[name] = WordField(
                workspace,
                None,
                title,
                self._drawer,
                read=read_pairs if sets else str,
                example="41/10 43/10 47/10" if sets else "",
                name=f"donor_{name}",
            )
            self._labels[name] = quiet_label(title, self._drawer)

    def prepare(self) -> None:
        donor, t = self.donor, self.theme
        for name, widget in (*self.boxes.items(), *self.texts.items(), *self._labels.items()):
            widget.setVisible(donor is not None and (donor.end == "front" or name not in FRONT_ONLY))
        if donor is None or t is None:
            for field in self.fields.values():
                field.hide()
            if t is not None:
                for band in self.bands.values():
                    band.show_with(t, _empty)
            return
        for part, spots in SPOTS.items():
            for name, caption, *_ in spots:
                path = f"donors.{donor.id}.{name}"
                if name not in self.fields:
                    kind = TeethField if name in ("ring_teeth", "pinion_teeth") else QuantityField
                    field = kind(self.workspace, path, self.bands[part], title=caption[:1].upper() + caption[1:])
                    field.setFixedSize(W, H)
                    field.setFont(font(9))
                    self.fields[name] = field
                elif self.fields[name].path != path:
                    self.fields[name].set_path(path)
                self.fields[name].refresh()
                self.fields[name].setVisible(donor.end == "front" or name not in FRONT_ONLY)
        for box in self.boxes.values():
            box.refresh()
        self.boxes["end"].setEnabled(self.workspace.project.donor(donor.end) is not donor)
        for name, line in self.texts.items():
            line.path = f"donors.{donor.id}.{name}"
            line.refresh()
        self.bands["front"].show_with(t, self._front)
        self.bands["shaft"].show_with(t, self._shaft)
        self.bands["gears"].show_with(t, self._gears)
        self._arrange()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._arrange()

    def _arrange(self) -> None:
        wide = self.width() - 14
        for spots in SPOTS.values():
            for name, _, x, y in spots:
                if name in self.fields:
                    left = max(4, min(wide - W - 4, int(x * wide - W / 2)))
                    self.fields[name].move(left, int(y))
        columns = 3
        each = max(120, (wide - 24) // columns)
        place = 0
        rear = self.donor is not None and self.donor.end == "rear"
        for name, _, _ in CHOICES:
            if rear and name in FRONT_ONLY:
                continue
            self.boxes[name].setGeometry(10 + (place % columns) * each, 6 + (place // columns) * 30, each - 8, 26)
            place += 1
        y = 6 + (-(-place // columns)) * 30 + 16
        half = (wide - 24) // 2
        for i, name in enumerate(n for n, _ in TEXTS if not (rear and n in FRONT_ONLY)):
            self._labels[name].setGeometry(12 + (i % 2) * half, y + (i // 2) * 29, 116, 25)
            self.texts[name].setGeometry(10 + 120 + (i % 2) * half, y + (i // 2) * 29, half - 130, 25)
        self._drawer.setFixedHeight(y + 5 * 29 + 8)

    def _captions(self, p: QPainter, t: Theme, band: str) -> None:
        for name, caption, *_ in SPOTS[band]:
            field = self.fields.get(name)
            if field is not None and field.isVisible():
                text(p, QRectF(field.x() - 30, field.y() - 14, W + 60, 13), caption, t.quiet, size=8, align="centre")

    def _front(self, p: QPainter, t: Theme, picture: Picture) -> None:
        donor = self.donor
        if donor is None:
            return
        half = (donor.width_m or 1.6) / 2
        frame = Frame(QPointF(picture.width() / 2, 98), (picture.width() - 270) / (2 * half))
        paint(p, axle_front(donor), frame, t)
        dimension(p, t, frame.at((-half, 0)) + QPointF(0, 36), frame.at((half, 0)) + QPointF(0, 36))
        if donor.seat_spacing_m is not None:
            s = donor.seat_spacing_m / 2
            dimension(p, t, frame.at((-s, 0)) - QPointF(0, 24), frame.at((s, 0)) - QPointF(0, 24), faint=True)
        text(
            p,
            QRectF(picture.width() - 250, picture.height() - 20, 244, 16),
            f"to scale, from {'behind' if donor.end == 'rear' else 'the front'}",
            t.quiet,
            size=8,
            align="right",
        )
        self._captions(p, t, "front")

    def _legend(self, p: QPainter, t: Theme, picture: Picture) -> None:
        words = "brass: measured   plain: from a sheet   dotted italic: seller's claim   dashed italic: estimate. Right-click a number to change it."
        text(p, QRectF(10, picture.height() - 18, picture.width() - 20, 15), words, t.quiet, size=7.5)

    def _shaft(self, p: QPainter, t: Theme, picture: Picture) -> None:
        if self.donor is None:
            return
        p.setPen(QPen(t.edge, 1))
        p.drawLine(QPointF(0, 0), QPointF(picture.width(), 0))
        frame = Frame(QPointF(24, 64), (picture.width() - 48) / 1.0)
        paint(p, shaft_side(self.donor), frame, t)
        self._captions(p, t, "shaft")

    def _gears(self, p: QPainter, t: Theme, picture: Picture) -> None:
        if self.donor is None:
            return
        p.setPen(QPen(t.edge, 1))
        p.drawLine(QPointF(0, 0), QPointF(picture.width(), 0))
        paint(p, gear_face(self.donor), Frame(QPointF(62, 66), 96 / (self.donor.ring_diameter_m or 0.25)), t)
        wheel = max(self.donor.bolt_circle_m or 0.15, self.donor.flange_bolt_circle_m or 0.0) * 1.35
        paint(p, wheel_face(self.donor), Frame(QPointF(picture.width() * 0.665, 66), 92 / wheel), t)
        self._captions(p, t, "gears")
        self._legend(p, t, picture)

    def as_text(self) -> str:
        if self.donor is None:
            return "No axle looked at."
        out = [self.donor.name]
        for name, field in self.fields.items():
            if get_value(self.workspace.project, f"donors.{self.donor.id}.{name}") is not None:
                out.append(field.accessibleName())
        return "\n".join(out)


def _empty(p: QPainter, t: Theme, picture: Picture) -> None:
    if picture.objectName() == "axle_band_front":
        words = "No axle here yet. “New axle” starts a record to measure into; File ▸ Import donor catalogue… or a CSV dropped on the window brings many."
        p.setFont(font(11))
        p.setPen(t.quiet)
        p.drawText(
            QRectF(40, 20, picture.width() - 80, 120),
            int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap),
            words,
        )
