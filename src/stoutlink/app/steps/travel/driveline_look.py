"""Driveline: joint angles, wave, slip, whirl, length to order, and the sheet for the shop that makes the shaft."""

from __future__ import annotations

import math

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.travel.line_look import LineLook, LookLine, deg, least, most
from stoutlink.app.widgets.path_drawer import Entry
from stoutlink.core.analysis.cycle.carrier_search import CarrierPlace, carrier_search
from stoutlink.core.analysis.cycle.shaft import ShaftTravel
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.document.springing import Driveshaft, SlipShaft
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.mechanics.driveline import LIMIT_DRIVE, LIMIT_INERTIA, WHIRL_PART


class DrivelineLook(LineLook):
    """Angles, wave, slip and whirl of the driveshaft; ``sheet`` asks for the data sheet as a file."""

    sheet = pyqtSignal()
    caution = "A driveshaft that lets go is thrown with force: loops and guards as your local code asks, and nobody under a rig in gear."

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "driveline", "Driveline", parent)
        self.describe = self.add_button(
            "describe_shaft",
            "Describe the driveshaft",
            "Tube, joints and slip; a usual one is taken until then.",
            self._describe,
        )
        self.place = self.add_button(
            "place_carrier",
            "Place the carrier",
            "The joint behind the carrier bearing, half way at ride; then type where yours is.",
            self._place,
        )
        self.hand = self.add_button(
            "shaft_in_hand",
            "One at hand",
            "A shaft you have: its spline and closed length, and what it then has at ride, bump and droop.",
            self._hand,
        )
        self.search = self.add_button(
            "search_carrier",
            "Find its place",
            "Look along the shaft for a carrier bearing's place where no joint is past its limit and the wave is least.",
            self._search,
        )
        self.order = self.add_button(
            "shaft_sheet",
            "Sheet for the shaft shop…",
            "Everything to order the shaft by, with room for what is measured at ride.",
            self.sheet.emit,
        )
        self.buttons.addStretch(1)
        self.found: CarrierPlace | None = None
        """The place found last, to be told while it is the one in use."""

    def _describe(self) -> None:
        layout = self.layout_shown
        if layout is not None:
            self.workspace.do(SetChoice(f"layouts.{layout.id}.driveshaft", Driveshaft(), "driveshaft"))

    def _hand(self) -> None:
        layout = self.layout_shown
        if layout is None or layout.driveshaft is None:
            return
        there = layout.driveshaft.in_hand is not None
        value = None if there else SlipShaft(spline_m=layout.driveshaft.spline_m or 0.1)
        estimates = () if there or layout.driveshaft.spline_m else ("spline_m",)
        self.workspace.do(SetChoice(f"layouts.{layout.id}.driveshaft.in_hand", value, "shaft at hand", estimates))

    def _search(self) -> None:
        layout, travel, w = self.layout_shown, self.shown.travel, self.workspace
        if layout is None or travel is None:
            return
        found = carrier_search(w.rig, travel, w.project.donor(layout.end), w.project.plan(layout.end))
        if found is not None:
            self.found = found
            self.workspace.do(SetChoice(f"layouts.{layout.id}.driveshaft.carrier_m", found.at, "carrier bearing"))

    def _place(self) -> None:
        layout, travel = self.layout_shown, self.shown.travel
        if layout is not None and travel is not None and travel.shaft is not None and travel.shaft.carrier is not None:
            at = tuple(round(v, 4) for v in travel.shaft.carrier)
            self.workspace.do(SetChoice(f"layouts.{layout.id}.driveshaft.carrier_m", at, "carrier bearing"))

    def entries(self) -> tuple[Entry, ...]:
        layout, travel = self.layout_shown, self.shown.travel
        shaft = None if layout is None else layout.driveshaft
        self.describe.setVisible(layout is not None and shaft is None)
        self.place.setVisible(shaft is not None and shaft.kind == "two_piece" and shaft.carrier_m is None)
        two = shaft is not None and shaft.kind == "two_piece"
        self.search.setVisible(two and travel is not None and travel.shaft is not None)
        self.hand.setVisible(shaft is not None)
        self.hand.setText("None at hand" if shaft is not None and shaft.in_hand is not None else "One at hand")
        self.order.setVisible(travel is not None and travel.shaft is not None)
        if layout is None or shaft is None:
            return ()
        at = f"layouts.{layout.id}.driveshaft"
        kinds = (("single", "single"), ("double_cardan", "double"), ("two_piece", "two-piece"))
        out = [
            Entry(f"{at}.kind", "joints", "choice", kinds),
            Entry(f"layouts.{layout.id}.pinion_up_rad", "pinion up"),
            Entry(f"{at}.tube_od_m", "tube outside"),
            Entry(f"{at}.tube_wall_m", "tube wall"),
            Entry(f"{at}.joint_limit_rad", "joint limit"),
            Entry(
                f"layouts.{layout.id}.leaf.pinion_allowance_rad" if layout.leaf is not None else f"{at}.wrap_rad",
                "wrap allowed",
            ),
            Entry(f"{at}.spline_diameter_m", "spline dia."),
            Entry(f"{at}.yoke_rad", "out of phase"),
            *self._slip_entries(at, shaft),
        ]
        if shaft.carrier_m is not None:
            out += [
                Entry(f"{at}.carrier_m.{i}", f"carrier {axis}") for i, axis in enumerate(("station", "side", "height"))
            ]
        return tuple(out)

    @staticmethod
    def _slip_entries(at: str, shaft: Driveshaft) -> list[Entry]:
        """What the slip shall have, or what the shaft at hand has."""
        hand = shaft.in_hand
        if hand is None:
            return [Entry(f"{at}.spline_m", "slip engaged"), Entry(f"{at}.slip_in_m", "slip inward")]
        here = f"{at}.in_hand"
        poses = (("taped", "a length taped"), ("ride", "ride"), ("bump", "full bump"), ("droop", "full droop"))
        out = [Entry(f"{here}.spline_m", "spline length"), Entry(f"{here}.closed_m", "closed length")]
        if hand.closed_m is None:
            out += [Entry(f"{here}.showing_m", "spline showing"), Entry(f"{here}.shown_at", "at", "choice", poses)]
            if hand.shown_at == "taped":
                out.append(Entry(f"{here}.taped_m", "length taped"))
        return out

    def _in_hand(self, travel: AxleTravel, shaft: ShaftTravel) -> list[LookLine]:
        """The shaft at hand at ride, level bump and level droop."""
        hand, closed = shaft.shaft.in_hand, shaft.closed
        if hand is None or closed is None:
            return [LookLine("At hand: type its closed length, or the spline that shows at a pose.")]
        level = shaft.length[shaft.ride[0]]
        inside = level[travel.grid.within[shaft.ride[0]]]
        out = []
        for word, at in (("ride", shaft.at_ride[3]), ("full bump", inside[-1]), ("full droop", inside[0])):
            showing, left = float(at) - closed, hand.spline_m - (float(at) - closed)
            out.append(
                LookLine(
                    f"At hand, {word}",
                    f"{self.say(left, 'length')} in mesh, {self.say(showing, 'length')} showing",
                    "Spline in mesh is its length less what shows; level, both sides alike.",
                    left < (shaft.shaft.spline_diameter_m or 0.0) or showing < 0.003,
                )
            )
        return out

    def lines(self) -> list[LookLine]:
        travel = self.shown.travel
        shaft = travel.shaft if travel is not None else None
        if travel is None or shaft is None:
            return [
                LookLine(
                    "The driveshaft needs the transfer case output's place (Rig, drivetrain) and the chosen axle's pinion offset (Donors)."
                )
            ]
        out = [*self._angles(travel, shaft), *self._speeds(shaft), *self._lengths(travel, shaft)]
        if shaft.snout_assumed:
            out.append(LookLine("The axle's snout length is not known; 300 mm is taken."))
        if self.found is not None and shaft.carrier == self.found.at:
            worst = ", ".join(deg(v) for v in self.found.worst)
            words = (
                "every joint within its limit"
                if self.found.within
                else "no place keeps every joint within its limit; this is the least bad"
            )
            out.append(LookLine(f"Carrier found: {words}; largest over the travel {worst}.", bad=not self.found.within))
        if shaft.carrier_assumed:
            out.append(LookLine("The carrier bearing is taken half way along at ride: place it where it is."))
        return out

    def _angles(self, travel: AxleTravel, shaft: ShaftTravel) -> list[LookLine]:
        eq = shaft.at_ride[2]
        row, column = self.shown.row, self.shown.column
        here = travel.grid.reached[row, column]
        middle = shaft.middle
        limit = shaft.shaft.joint_limit_rad
        half = " a half" if shaft.shaft.kind == "double_cardan" else ""
        names = "case, carrier, axle" if middle is not None else "case and axle"
        each = [shaft.first, *([middle] if middle is not None else []), shaft.second]
        i, j = shaft.ride
        worst = [most(v, travel) for v in each]
        ride = ", ".join(deg(float(v[i, j])) + (half if k == 0 else "") for k, v in enumerate(each))
        return [
            LookLine(
                "Joints at ride",
                ride,
                f"In the order {names}. Between the axes in space, plan offset included. One to three degrees at cruise (common practice).",
            ),
            LookLine(
                "Joints here",
                ", ".join(deg(float(v[row, column])) for v in each) if here else "not reached",
                "At the pose picked.",
            ),
            LookLine(
                "Largest over the travel",
                ", ".join(deg(v) for v in worst),
                "Within the stops.",
                limit is not None and max(worst) > limit,
            ),
            LookLine(
                "Equivalent angle at ride",
                deg(eq, 2),
                "One joint that would make the same wave; equal angles mean little where the planes differ.",
            ),
            LookLine(
                "Pinion wanted",
                f"{deg(shaft.pinion_wanted)} up, now {deg(shaft.pinion_now)}",
                "Parallel to the output with one joint each end, to the front piece with two pieces, at the case with a double joint there; set for wrap.",
                abs(shaft.pinion_wanted - shaft.pinion_now) > math.radians(1.0),
            ),
        ]

    def _speeds(self, shaft: ShaftTravel) -> list[LookLine]:
        if shaft.torsional is None or shaft.inertia is None or shaft.speed is None or shaft.whirl_part is None:
            return [LookLine("Speeds", "need a gear ratio in Donors", "Shaft speed at road speed follows from it.")]
        return [
            LookLine(
                "Torsional excitation",
                f"{shaft.torsional:.0f} rad/s² of {LIMIT_DRIVE:.0f}",
                f"ω²·β² at the road speed the rig holds, {shaft.speed * 30 / math.pi:.0f} rpm; limit from SAE AE-7, from memory.",
                shaft.torsional > LIMIT_DRIVE,
            ),
            LookLine(
                "Inertia, drive and coast",
                f"{shaft.inertia[0]:.0f}, {shaft.inertia[1]:.0f} rad/s² of {LIMIT_INERTIA:.0f}",
                "Of the shaft itself; limit from SAE AE-7, from memory.",
                max(shaft.inertia) > LIMIT_INERTIA,
            ),
            LookLine(
                "First bending speed",
                f"{shaft.whirl * 30 / math.pi:.0f} rpm, used {shaft.whirl_part:.0%}",
                "Keep below 75 %; beyond it two pieces and a carrier bearing.",
                shaft.whirl_part > WHIRL_PART,
            ),
        ]

    def _lengths(self, travel: AxleTravel, shaft: ShaftTravel) -> list[LookLine]:
        length = shaft.at_ride[3]
        longest, shortest = most(shaft.length, travel), least(shaft.length, travel)
        out = []
        if shaft.carrier is not None:
            out.append(
                LookLine(
                    "Front piece, joint to joint",
                    self.say(shaft.front_length, "length"),
                    "Output to the joint behind the carrier bearing; it does not move.",
                )
            )
        out += [
            LookLine(
                "Length, joint to joint, to order",
                self.say(length, "length"),
                "At ride height, measured on the ground with the weight on; of two pieces the rear one.",
            ),
            LookLine(
                "Shortest and longest",
                f"{self.say(shortest, 'length')}, {self.say(longest, 'length')}",
                "Within the stops; the longest is not always full droop.",
            ),
            LookLine("Slip used", self.say(longest - shortest, "length"), "Longest less shortest."),
        ]
        engaged, inward = shaft.engaged_at_ride, shaft.inward_at_ride
        if shaft.shaft.in_hand is not None:
            out += self._in_hand(travel, shaft)
        if engaged is not None:
            left = engaged - (longest - length)
            wanted = shaft.shaft.spline_diameter_m or 0.0
            out.append(
                LookLine(
                    "Spline left at the longest",
                    self.say(left, "length"),
                    "One spline diameter at the least (common practice).",
                    left < wanted,
                )
            )
        if inward is not None:
            left = inward - (length - shortest)
            out.append(
                LookLine(
                    "Slip left at the shortest",
                    self.say(left, "length"),
                    "Nothing left pushes on the bearings.",
                    left < 0.003,
                )
            )
        return out
