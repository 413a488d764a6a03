"""Looks that are lines of word and number with fields below: driveline, springs, behaviour."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from stoutlink.app.sheets.path_drawer import Entry, PathDrawer
from stoutlink.app.sheets.picture import Hit, Picture, flow, scrolled, text
from stoutlink.app.sheets.travel.look import WAIT, TravelLook
from stoutlink.app.theme import Theme, font
from stoutlink.app.workspace import Workspace
from stoutlink.core.analysis.cycle.behaviour import behaviour
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.springing import CarrySpring, Driveshaft, Shock
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.mechanics.driveline import LIMIT_DRIVE, LIMIT_INERTIA, WHIRL_PART
from stoutlink.core.quantity.shown import Kind, show


@dataclass(frozen=True)
class Said:
    """A line: word, value, hover, whether it is out of what is wanted."""

    word: str
    value: str
    tip: str
    bad: bool = False


class LineLook(TravelLook):
    """Lines above, fields below."""

    caution = ""

    def __init__(self, workspace: Workspace, name: str, title: str, parent: QWidget | None = None) -> None:
        super().__init__(workspace, name, title, parent)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.setSpacing(4)
        self.list = Picture(f"{name}_lines", title, self)
        inside.addWidget(scrolled(self.list, self), 3)
        self.buttons = QHBoxLayout()
        inside.addLayout(self.buttons)
        self.drawer = PathDrawer(workspace, f"{name}_drawer", 2, self, wide=88)
        self.fields = scrolled(self.drawer, self)
        inside.addWidget(self.fields, 2)

    def add_button(self, name: str, words: str, tip: str) -> QPushButton:
        """A button between lines and fields."""
        out = QPushButton(words, self)
        out.setObjectName(name)
        out.setToolTip(tip)
        out.setFont(font(9))
        self.buttons.addWidget(out)
        return out

    def prepare(self) -> None:
        entries = self.entries()
        self.drawer.show_entries(entries)
        self.fields.setVisible(bool(entries))
        assert self.theme is not None
        self.list.show_with(self.theme, self._paint)

    @property
    def layout_shown(self) -> Layout | None:
        """The layout in work."""
        return self.workspace.project.layout(self.workspace.end)

    def entries(self) -> tuple[Entry, ...]:
        """Fields below."""
        return ()

    def lines(self) -> list[Said]:
        """Lines above."""
        return []

    def say(self, v: float, kind: Kind, decimals: int = 2) -> str:
        """A number in the project's unit."""
        if kind != "length":
            return show(v, kind, self.workspace.unit)
        return show(v, kind, self.workspace.unit, decimals=decimals if self.workspace.unit == "in" else max(0, decimals - 1))

    def _paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        w, y = float(picture.width()), 2.0
        if self.shown.travel is None:
            text(p, QRectF(4, y, w - 8, 16), WAIT, t.quiet, size=9)
            return
        for one in self.lines():
            if not one.value:
                y += flow(p, QRectF(4, y, w - 8, 80), one.word, t.torch if one.bad else t.quiet, size=9) + 4
                continue
            text(p, QRectF(4, y, w * 0.44, 16), one.word, t.quiet, size=8.5, elide=True)
            text(
                p,
                QRectF(w * 0.44, y, w * 0.56 - 4, 16),
                f"{'▲ ' if one.bad else ''}{one.value}",
                t.torch if one.bad else t.text,
                size=8.5,
                align="right",
                elide=True,
            )
            picture.hits.append(Hit(QRectF(0, y, w, 16), f"{one.word}: {one.value}. {one.tip}"))
            y += 17
        if self.caution:
            y += flow(p, QRectF(4, y + 2, w - 8, 60), self.caution, t.quiet, size=8) + 6
        if picture.minimumHeight() != int(y + 4):
            picture.setMinimumHeight(int(y + 4))

    def as_text(self) -> str:
        return "\n".join(f"{one.word}\t{one.value}" for one in self.lines())


def _deg(v: float, d: int = 1) -> str:
    return f"{math.degrees(v):.{d}f}°".replace("-", "−")


class DrivelineLook(LineLook):
    """Angles, wave, slip and whirl of the driveshaft."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "driveline", "Driveline", parent)
        self.describe = self.add_button("describe_shaft", "Describe the driveshaft", "Tube, joints and slip; a usual one is taken until then.")
        self.describe.clicked.connect(self._describe)
        self.buttons.addStretch(1)

    def _describe(self) -> None:
        layout = self.layout_shown
        if layout is not None:
            self.workspace.do(SetChoice(f"layouts.{layout.id}.driveshaft", Driveshaft(), "driveshaft"))

    def entries(self) -> tuple[Entry, ...]:
        layout = self.layout_shown
        self.describe.setVisible(layout is not None and layout.driveshaft is None)
        if layout is None or layout.driveshaft is None:
            return ()
        at = f"layouts.{layout.id}.driveshaft"
        return (
            Entry(f"{at}.kind", "joints", "choice", (("single", "single"), ("double_cardan", "double"))), Entry(f"layouts.{layout.id}.pinion_up_rad", "pinion up"),
            Entry(f"{at}.tube_od_m", "tube"), Entry(f"{at}.tube_wall_m", "wall"), Entry(f"{at}.joint_limit_rad", "joint limit"), Entry(f"{at}.wrap_rad", "wrap allowed"),
            Entry(f"{at}.spline_m", "slip engaged"), Entry(f"{at}.spline_diameter_m", "spline dia."), Entry(f"{at}.slip_in_m", "slip inward"), Entry(f"{at}.yoke_rad", "out of phase"),
        )  # fmt: skip

    def lines(self) -> list[Said]:
        travel = self.shown.travel
        shaft = travel.shaft if travel is not None else None
        if travel is None or shaft is None:
            return [
                Said("The driveshaft needs the transfer case output's place (Rig, drivetrain) and the chosen axle's pinion offset (Donors).", "", "")
            ]
        a, b, eq, length = shaft.at_ride
        row, column = self.shown.row, self.shown.column
        double = shaft.shaft.kind == "double_cardan"
        out = [
            Said("Joints at ride, case and axle", f"{_deg(a)}{' a half' if double else ''}, {_deg(b)}", "Between the axes in space, plan offset included."),
            Said("Joints here", f"{_deg(float(shaft.first[row, column]))}, {_deg(float(shaft.second[row, column]))}" if travel.grid.reached[row, column] else "not reached", "At the pose picked."),
            Said("Largest over the travel", f"{_deg(_most(shaft.first, travel))}, {_deg(_most(shaft.second, travel))}", "Within the stops.",
                 shaft.shaft.joint_limit_rad is not None and max(_most(shaft.first, travel), _most(shaft.second, travel)) > shaft.shaft.joint_limit_rad),
            Said("Equivalent angle at ride", _deg(eq, 2), "One joint that would make the same wave; equal angles mean little where the planes differ."),
            Said("Pinion wanted", f"{_deg(shaft.pinion_wanted)} up, now {_deg(shaft.pinion_now)}", "Parallel to the output with one joint each end, at it with a double one at the case; set for wrap.", abs(shaft.pinion_wanted - shaft.pinion_now) > math.radians(1.0)),
        ]  # fmt: skip
        if shaft.torsional is not None and shaft.inertia is not None and shaft.speed is not None and shaft.whirl_part is not None:
            out += [
                Said("Torsional excitation", f"{shaft.torsional:.0f} rad/s² of {LIMIT_DRIVE:.0f}", f"ω²·β² at the road speed the rig holds, {shaft.speed * 30 / math.pi:.0f} rpm; limit from SAE AE-7, from memory.", shaft.torsional > LIMIT_DRIVE),
                Said("Inertia, drive and coast", f"{shaft.inertia[0]:.0f}, {shaft.inertia[1]:.0f} rad/s² of {LIMIT_INERTIA:.0f}", "Of the shaft itself; limit from SAE AE-7, from memory.", max(shaft.inertia) > LIMIT_INERTIA),
                Said("First bending speed", f"{shaft.whirl * 30 / math.pi:.0f} rpm, used {shaft.whirl_part:.0%}", "Keep below 75 %; beyond it two pieces and a carrier bearing.", shaft.whirl_part > WHIRL_PART),
            ]  # fmt: skip
        else:
            out.append(Said("Speeds", "need a gear ratio in Donors", "Shaft speed at road speed follows from it."))
        out += [
            Said("Length, joint to joint, to order", self.say(length, "length"), "At ride height, measured on the ground with the weight on."),
            Said("Shortest and longest", f"{self.say(_least(shaft.length, travel), 'length')}, {self.say(_most(shaft.length, travel), 'length')}", "Within the stops; the longest is not always full droop."),
            Said("Slip used", self.say(_most(shaft.length, travel) - _least(shaft.length, travel), "length"), "Longest less shortest."),
        ]  # fmt: skip
        if shaft.shaft.spline_m is not None:
            left = shaft.shaft.spline_m - (_most(shaft.length, travel) - length)
            least = shaft.shaft.spline_diameter_m or 0.0
            out.append(
                Said("Spline left at the longest", self.say(left, "length"), "One spline diameter at the least (common practice).", left < least)
            )
        if shaft.shaft.slip_in_m is not None:
            left = shaft.shaft.slip_in_m - (length - _least(shaft.length, travel))
            out.append(Said("Slip left at the shortest", self.say(left, "length"), "Nothing left pushes on the bearings.", left < 0.003))
        if shaft.snout_assumed:
            out.append(Said("The axle's snout length is not known; 300 mm is taken.", "", ""))
        return out


def _most(values: NDArray[np.float64], travel: AxleTravel) -> float:
    inside = travel.grid.within
    return float(np.nanmax(np.where(inside, values, np.nan))) if inside.any() else math.nan


def _least(values: NDArray[np.float64], travel: AxleTravel) -> float:
    return -_most(-values, travel)


class SpringLook(LineLook):
    """Shocks, springs and stops: place them, see what is left of them."""

    caution = "Springs and shocks under load: chain the axle, stand clear. Stops and straps end the travel, never the shock."

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "springs", "Shocks, springs, stops", parent)
        self.shock = self.add_button("add_shock", "Add shocks", "Leaning in over the axle, at a usual place; type where yours are.")
        self.shock.clicked.connect(self._add_shock)
        self.spring = self.add_button("add_spring", "Add coilovers", "A spring on the shock.")
        self.spring.clicked.connect(self._add_spring)
        self.buttons.addStretch(1)

    def _add_shock(self) -> None:
        layout = self.layout_shown
        if layout is None:
            return
        rig = self.workspace.rig
        x, r, half = (rig.wheelbase_m if layout.end == "front" else 0.0), rig.end(layout.end).loaded, 0.5 * rig.end(layout.end).track_m
        toward = -1.0 if layout.end == "front" else 1.0
        low, high = (x - toward * 0.10, 0.55 * half, r + 0.04), (x - toward * 0.04, 0.45 * half, r + 0.60)
        length = math.dist(low, high)
        s = self.workspace.project.settings
        shock = Shock(frame_m=_round(high), axle_m=_round(low), shut_m=round(length - s.bump_m - 0.03, 3), open_m=round(length + s.droop_m + 0.03, 3))
        self.workspace.do(SetChoice(f"layouts.{layout.id}.shock", shock, "shocks"))

    def _add_spring(self) -> None:
        layout, travel = self.layout_shown, self.shown.travel
        if layout is None or travel is None:
            return
        rate = max(5000.0, travel.springs.seat_load / 0.18)
        self.workspace.do(SetChoice(f"layouts.{layout.id}.spring", CarrySpring(rate_n_per_m=round(rate, -2)), "coilovers"))

    def entries(self) -> tuple[Entry, ...]:
        layout = self.layout_shown
        self.shock.setVisible(layout is not None and layout.shock is None)
        self.spring.setVisible(layout is not None and layout.shock is not None and layout.spring is None and layout.leaf is None)
        if layout is None:
            return ()
        at = f"layouts.{layout.id}"
        out = [
            Entry(f"{at}.stops.bump_gap_m", "free bump"),
            Entry(f"{at}.stops.bump_give_m", "stop gives"),
            Entry(f"{at}.stops.strap_m", "strap tight at"),
        ]
        if layout.shock is not None:
            out += [Entry(f"{at}.shock.shut_m", "shock shut"), Entry(f"{at}.shock.open_m", "pulled out")]
            out += [
                Entry(f"{at}.shock.{end}_m.{i}", f"{word} {axis}")
                for end, word in (("frame", "top"), ("axle", "foot"))
                for i, axis in enumerate(("station", "side", "height"))
            ]
        if layout.spring is not None:
            out += [
                Entry(f"{at}.spring.rate_n_per_m", "spring rate"),
                Entry(f"{at}.spring.second_n_per_m", "tender rate"),
                Entry(f"{at}.spring.slider_m", "slider stop"),
                Entry(f"{at}.spring.block_m", "coil bind"),
            ]
        return tuple(out)

    def lines(self) -> list[Said]:
        travel = self.shown.travel
        if travel is None:
            return []
        springs, layout, row, column = travel.springs, travel.layout, self.shown.row, self.shown.column
        low, high = travel.grid.limits
        out = [
            Said(
                "Travel of one side",
                f"{self.say(high, 'length', 1)} up, {self.say(-low, 'length', 1)} down",
                "Between bump stop and strap where they are known, else what was asked.",
            )
        ]
        if springs.shock is None:
            out.append(Said("No shocks placed yet: their length budget, and coilovers on them, follow once they are.", "", ""))
        elif layout.shock is not None:
            here = springs.shock[:, row, column]
            shortest, longest = _least(springs.shock, travel), _most(springs.shock, travel)
            ride = float(springs.shock[0][travel.grid.ride])
            used = (
                (layout.shock.open_m - ride) / (layout.shock.open_m - layout.shock.shut_m) if layout.shock.open_m > layout.shock.shut_m else math.nan
            )
            out += [
                Said("Shock at ride", f"{self.say(ride, 'length')}, {used:.0%} in", "How much of its stroke is used standing."),
                Said("Here, left and right", f"{self.say(float(here[0]), 'length')}, {self.say(float(here[1]), 'length')}" if travel.grid.reached[row, column] else "not reached", "At the pose picked."),
                Said("Left when shortest", self.say(shortest - layout.shock.shut_m, "length"), "Bump stop first, shock last: leave some.", shortest < layout.shock.shut_m + 0.003),
                Said("Left when longest", self.say(layout.shock.open_m - longest, "length"), "A strap, or the links, end droop before the shock does.", longest > layout.shock.open_m - 0.003),
            ]  # fmt: skip
        if springs.ratio is not None and springs.wheel_rate is not None and springs.rate is not None:
            j = travel.grid.ride[1]
            out += [
                Said("Motion ratio at ride", f"{float(springs.ratio[j]):.3f}", "Spring shortens by this for each unit the wheel goes up, lean included."),
                Said("Wheel rate at ride", f"{self.say(float(springs.wheel_rate[j]), 'spring_rate')} a side", "k·MR², and what the ratio's own change does to the load."),
                Said("Frequency", f"{springs.frequency:.2f} Hz" if springs.frequency is not None else "–", "Of the sprung weight of this end; 1 to 1.5 is supple, 2 is stiff (common practice)."),
                Said("Free length that carries it", self.say(springs.free, "length") if springs.free is not None else "–", "Both springs together, at ride height with the weight as it is."),
                Said("Load on the spring side", self.say(springs.seat_load, "force"), "Half of what this end carries, without the axle."),
            ]  # fmt: skip
            if springs.roll_stiffness is not None:
                out.append(
                    Said(
                        "Roll stiffness of the springs",
                        f"{springs.roll_stiffness * math.pi / 180:.0f} N·m per degree",
                        "½·k·b², b between the springs, never the track.",
                    )
                )
        return out


def _round(p: tuple[float, float, float]) -> tuple[float, float, float]:
    return round(p[0], 4), round(p[1], 4), round(p[2], 4)


class ClimbLook(LineLook):
    """Grade, side slope and ramp."""

    caution = "First estimates on even ground at a steady pace; bumps, speed and a shifting load take their part. Local conditions and your judgement decide."

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "climb", "Climb, side slope, ramp", parent)
        self.buttons.addStretch(1)

    def entries(self) -> tuple[Entry, ...]:
        return (Entry("choosing.grade_rad", "grade"), Entry("loads.side_slope_rad", "side slope"), Entry("choosing.friction", "tyre grip"))

    def lines(self) -> list[Said]:
        both = self.shown.both
        rig = self.workspace.rig
        found = behaviour(self.workspace.project, rig, {"front": both.get("front"), "rear": both.get("rear")})
        grip = self.workspace.project.choosing.friction
        front, rear = found.loads
        out = [
            Said(f"On a {_deg(found.grade, 0)} grade, front and rear", f"{self.say(front, 'force')}, {self.say(rear, 'force')}", "Moments about the contacts; whatever drives.", front < 0),
            Said("Grip it takes, both driven", f"{found.needed:.2f}, tyres hold {grip:.2f}", "Thrust over the load on driven wheels; less than the tyres hold, or it slides first.", found.needed > grip),
            Said("Goes over backward at", _deg(found.back_over), "Rigid: the balance point over the rear print."),
            Said("Goes over its nose at", _deg(found.nose_over), "Downhill, rigid."),
            Said("Tips sideways at", f"{_deg(min(found.tip))} (front {_deg(found.tip[0])}, rear {_deg(found.tip[1])})", "Rigid, each track alone; the lean of the body brings it sooner."),
        ]  # fmt: skip
        if found.climb is not None:
            c = found.climb
            out += [
                Said("Rear squats, front rises", f"{self.say(c.squat, 'length', 1)}, {self.say(c.rise, 'length', 1)}".replace("-", "−"), "First order, springs and support slopes of both axles; more anti-squat lifts the rear and costs back-over angle."),
                Said("Nose up by that", _deg(c.nose_up), "Squat and rise over the wheelbase."),
            ]  # fmt: skip
            d = found.dive
            if d is not None:
                out += [
                    Said(f"Braking, {d.locks} locks first", f"{d.deceleration:.2f} g", "On the level with the rig's brake split, until the first axle slides.", d.locks == "rear"),
                    Said("Front drops, rear rises", f"{self.say(d.drop, 'length', 1)}, {self.say(d.rise, 'length', 1)}".replace("-", "−"), "First order; the brakes' torque stays in the housing."),
                    Said("Nose down by that", _deg(d.nose_down), "Drop and rise over the wheelbase."),
                ]  # fmt: skip
        else:
            out.append(Said("Squat and rise need springs at both axles: place coilovers in Springs, or leaves in Layout.", "", ""))
        if found.lean is not None:
            out.append(Said(f"Leans on a {_deg(found.lean_slope, 0)} side slope", _deg(found.lean), "Body against axles; no anti-roll bars counted."))
        elif found.no_rest:
            out.append(
                Said(
                    f"On a {_deg(found.lean_slope, 0)} side slope",
                    "finds no rest",
                    "Its springs are softer in roll than its weight pulls: anti-roll bar or stiffer springs.",
                    bad=True,
                )
            )
        if found.ramp is not None:
            out.append(
                Said(
                    "Ramp index, 20°",
                    f"{found.ramp:.0f}",
                    f"1000 × distance up the ramp over the wheelbase; stopped by {found.ramp_stopped_by}; springs taken as soft enough to let it.",
                )
            )
        return out
