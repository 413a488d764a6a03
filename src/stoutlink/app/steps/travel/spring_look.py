"""Springs: shocks, coilovers, coils, air springs, anti-roll bar, stops, and springs on offer ranked."""

from __future__ import annotations

import math

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.travel.line_look import LineLook, LookLine, least, most
from stoutlink.app.widgets.path_drawer import Entry
from stoutlink.core.analysis.cycle.behaviour import roll_stiffness
from stoutlink.core.analysis.cycle.spring_choice import Offered, rank_springs
from stoutlink.core.analysis.cycle.spring_proposal import air_for, bar_for, coil_for, coilover_for, shock_for
from stoutlink.core.analysis.cycle.springs import bag_radius
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.springing import BagOutside, Shock
from stoutlink.core.editing.edits import PutInList, SetChoice
from stoutlink.core.editing.spring_edits import TakeOffer
from stoutlink.core.quantity.constants import GRAVITY

BELOW = ((True, "fixed"), (False, "on its seat"))
AXES = ("station", "side", "height")
MOST_SHOWN = 30


class SpringLook(LineLook):
    """Place shocks, springs, bar and stops, see what is left of them; ``offers`` asks for a list of springs."""

    offers = pyqtSignal()
    caution = "Springs and shocks under load: chain the axle, stand clear; an air spring is let down before it is touched. Stops and straps end the travel, never the shock."

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "springs", "Shocks, springs, bars, stops", parent)
        self.shock = self.add_button(
            "add_shock",
            "Shocks",
            "Leaning in over the axle, at a usual place; type where yours are, or drag them in Layout.",
            self._add_shock,
        )
        self.spring = self.add_button("add_spring", "Coilovers", "A spring on the shock.", self._add_spring)
        self.coil = self.add_button(
            "add_coil", "Coils", "Coils between seats of their own, over the axle tube.", self._add_coil
        )
        self.air = self.add_button("add_air", "Air springs", "Air springs between seats of their own.", self._add_air)
        self.wide = self.add_button(
            "add_bag_width",
            "+ width",
            "The bag's outside diameter at one more height, from its record.",
            self._add_width,
        )
        self.bar = self.add_button("add_bar", "Anti-roll bar", "A bar of a usual size; type yours.", self._add_bar)
        self.take = self.add_button("take_spring", "Take springs off", "The springs leave; shocks stay.", self._take)
        self.no_bar = self.add_button(
            "take_bar",
            "Take bar off",
            "The anti-roll bar leaves.",
            lambda: self._set("anti_roll_bar", None, "anti-roll bar"),
        )
        self.list_in = self.add_button(
            "import_springs",
            "List…",
            "Read springs on offer from a CSV table: name, rate, free length, coil bind.",
            self.offers.emit,
        )
        self.buttons.addStretch(1)

    # Hands

    def _set(self, key: str, value: object, words: str) -> None:
        layout = self.layout_shown
        if layout is not None:
            self.workspace.do(SetChoice(f"layouts.{layout.id}.{key}", value, words))

    def _add_shock(self) -> None:
        layout, w = self.layout_shown, self.workspace
        if layout is not None:
            self._set("shock", shock_for(w.rig, layout), "shocks")

    def _add_spring(self) -> None:
        self._set("spring", coilover_for(self.shown.travel), "coilovers")

    def _add_coil(self) -> None:
        layout = self.layout_shown
        if layout is not None:
            self._set("spring", coil_for(self.workspace.rig, layout, self.shown.travel), "coils")

    def _add_air(self) -> None:
        layout = self.layout_shown
        if layout is not None:
            self._set("air", air_for(self.workspace.rig, layout), "air springs")

    def _add_width(self) -> None:
        """One more height at which the bag's width is known."""
        layout = self.layout_shown
        if layout is None or layout.air is None:
            return
        name = free_id("h", (one.id for one in layout.air.outside))
        at = f"layouts.{layout.id}.air.outside"
        self.workspace.do(PutInList(at, BagOutside(id=name), "Width of the air springs"))

    def _add_bar(self) -> None:
        layout = self.layout_shown
        if layout is not None:
            self._set("anti_roll_bar", bar_for(self.workspace.rig, layout), "anti-roll bar")

    def _take(self) -> None:
        layout = self.layout_shown
        if layout is not None:
            self._set("spring" if layout.spring is not None else "air", None, "springs")

    # What is shown

    def entries(self) -> tuple[Entry, ...]:
        layout = self.layout_shown
        bare = layout is not None and layout.spring is None and layout.air is None and layout.leaf is None
        self.shock.setVisible(layout is not None and layout.shock is None)
        self.spring.setVisible(bare and layout is not None and layout.shock is not None)
        for one in (self.coil, self.air):
            one.setVisible(bare)
        self.bar.setVisible(layout is not None and layout.anti_roll_bar is None)
        self.no_bar.setVisible(layout is not None and layout.anti_roll_bar is not None)
        self.take.setVisible(layout is not None and (layout.spring is not None or layout.air is not None))
        self.list_in.setVisible(layout is not None and layout.spring is not None)
        self.wide.setVisible(layout is not None and layout.air is not None)
        if layout is None:
            return ()
        at = f"layouts.{layout.id}"
        out: list[Entry] = []
        if layout.spring is not None:
            names = (
                ("rate_n_per_m", "spring rate"),
                ("second_n_per_m", "tender rate"),
                ("slider_m", "slider stop"),
                ("solid_m", "coil bind"),
            )
            out += [Entry(f"{at}.spring.{key}", word) for key, word in names]
            out.append(Entry(f"{at}.wanted_hz", "Hz wanted"))
            if layout.spring.kind == "coil":
                out += _seat_entries(f"{at}.spring")
        if layout.air is not None:
            air_names = (
                ("diameter_m", "effective dia."),
                ("volume_m3", "air volume"),
                ("growth", "dia. grows"),
                ("most_pa", "most pressure"),
                ("shortest_m", "shortest"),
                ("longest_m", "longest"),
            )
            out += [Entry(f"{at}.air.{key}", word) for key, word in air_names]
            out.append(Entry(f"{at}.air.fixed_below", "below", "choice", BELOW))
            for row in layout.air.outside:
                here = f"{at}.air.outside.{row.id}"
                out += [Entry(f"{here}.height_m", "at height"), Entry(f"{here}.outside_m", "outside dia.")]
            out += _seat_entries(f"{at}.air")
        if layout.leaf is None:
            out.append(Entry(f"{at}.spring_spacing_m", "springs apart"))
        out += [
            Entry(f"{at}.stops.bump_gap_m", "free bump"),
            Entry(f"{at}.stops.bump_give_m", "stop gives"),
            Entry(f"{at}.stops.strap_m", "strap tight at"),
        ]
        if layout.shock is not None:
            out += [Entry(f"{at}.shock.collapsed_m", "shock shut"), Entry(f"{at}.shock.extended_m", "pulled out")]
            out += [
                Entry(f"{at}.shock.{end}_m.{i}", f"{word} {axis}")
                for end, word in (("frame", "top"), ("axle", "foot"))
                for i, axis in enumerate(AXES)
            ]
        if layout.anti_roll_bar is not None:
            sizes = (
                ("od_m", "bar outside"),
                ("bore_m", "bar bore"),
                ("length_m", "bar length"),
                ("arm_m", "arm length"),
                ("spread_m", "links apart"),
                ("arm_high_m", "arm height"),
                ("arm_thick_m", "arm thickness"),
                ("station_m", "bar stands at"),
                ("height_m", "bar stands up"),
            )
            out += [Entry(f"{at}.anti_roll_bar.{key}", word) for key, word in sizes]
        return tuple(out)

    def lines(self) -> list[LookLine]:
        travel = self.shown.travel
        if travel is None:
            return []
        low, high = travel.grid.limits
        ends = f"{self.say(high, 'length', 1)} up, {self.say(-low, 'length', 1)} down"
        out = [
            LookLine(
                "Travel of one side", ends, "Between bump stop and strap where they are known, else what was asked."
            )
        ]
        return [*out, *self._shock(travel), *self._spring(travel), *self._roll(travel), *self._offered(travel)]

    def _shock(self, travel: AxleTravel) -> list[LookLine]:
        springs, shock, row, column = travel.springs, travel.layout.shock, self.shown.row, self.shown.column
        if springs.shock is None or shock is None:
            return [LookLine("No shocks placed yet: their length budget, and coilovers on them, follow once they are.")]
        g = travel.grid
        i, j = g.ride
        low, high = g.limits

        def at(heave: float) -> str:
            return (
                self.say(float(springs.shock[0, i, int(abs(g.heave - heave).argmin())]), "length")
                if springs.shock is not None
                else "–"
            )

        level = [float(v) for v in springs.shock[:, row, column]]
        shortest, longest = least(springs.shock, travel), most(springs.shock, travel)
        ride = float(springs.shock[0, i, j])
        stroke = shock.extended_m - shock.collapsed_m
        cross = g.within[:, j]
        crossed = springs.shock[:, cross, j]
        both = (
            f"{self.say(float(crossed.min()), 'length')}, {self.say(float(crossed.max()), 'length')}"
            if cross.any()
            else "–"
        )
        return [
            LookLine(
                "Shock at ride",
                f"{self.say(ride, 'length')}, {(shock.extended_m - ride) / stroke:.0%} in",
                "How much of its stroke is used standing: 40 to 60 % is usual (common practice).",
            ),
            LookLine(
                "Shock leans",
                _lean_words(shock),
                "From upright at ride, seen from the side and from behind; a leaning shock works less and rolls less stiffly.",
            ),
            LookLine("At bump, at droop", f"{at(high)}, {at(low)}", "Left shock, both sides together at their stops."),
            LookLine(
                "Cross-axled, short and long", both, "At ride height with one side at bump and the other at droop."
            ),
            LookLine(
                "Stroke used over the travel",
                f"{(longest - shortest) / stroke:.0%}",
                "Longest less shortest over what it has.",
                longest - shortest > stroke,
            ),
            LookLine(
                "Here, left and right",
                f"{self.say(level[0], 'length')}, {self.say(level[1], 'length')}"
                if g.reached[row, column]
                else "not reached",
                "At the pose picked.",
            ),
            LookLine(
                "Left when shortest",
                self.say(shortest - shock.collapsed_m, "length").replace("-", "−"),
                "Bump stop first, shock last: leave some.",
                shortest < shock.collapsed_m + 0.003,
            ),
            LookLine(
                "Left when longest",
                self.say(shock.extended_m - longest, "length").replace("-", "−"),
                "A strap, or the links, end droop before the shock does.",
                longest > shock.extended_m - 0.003,
            ),
        ]

    def _spring(self, travel: AxleTravel) -> list[LookLine]:
        s = travel.springs
        if travel.leaf is not None:
            leaf = travel.leaf
            return [
                LookLine(
                    "Leaves, one spring",
                    f"{self.say(leaf.halves.heave_rate, 'spring_rate')} in heave",
                    "The pack itself stands in Layout, Leaves.",
                ),
                LookLine(
                    "Frequency",
                    f"{math.sqrt(leaf.halves.heave_rate / (s.seat_load / GRAVITY)) / (2 * math.pi):.2f} Hz"
                    if s.seat_load > 0
                    else "–",
                    "Of the sprung weight of this end; 1 to 1.5 is supple, 2 is stiff (common practice).",
                ),
            ]
        if s.ratio is None or s.wheel_rate is None or s.rate is None:
            return [
                LookLine(
                    "No springs yet: coilovers on the shocks, coils or air springs; wheel rate, frequency and roll stiffness follow."
                )
            ]
        j = travel.grid.ride[1]
        out = [
            LookLine(
                "Motion ratio at ride",
                f"{float(s.ratio[j]):.3f}",
                "Spring shortens by this for each unit the wheel goes up, lean included.",
            ),
            LookLine(
                "Wheel rate at ride",
                f"{self.say(float(s.wheel_rate[j]), 'spring_rate')} a side",
                "k·MR², and what the ratio's own change does to the load.",
            ),
            LookLine(
                "Frequency",
                f"{s.frequency:.2f} Hz" if s.frequency is not None else "–",
                "Of the sprung weight of this end; 1 to 1.5 is supple, 2 is stiff (common practice).",
            ),
            LookLine(
                "Load on the spring side",
                self.say(s.seat_load, "force"),
                "Half of what this end carries, without the axle.",
            ),
        ]
        if s.free is not None:
            out.append(
                LookLine(
                    "Free length that carries it",
                    self.say(s.free, "length"),
                    "Both springs together, at ride height with the weight as it is.",
                )
            )
        air = travel.layout.air
        if air is not None and s.pressure is not None and s.pressures is not None:
            high = air.most_pa is not None and s.pressures[1] > air.most_pa
            out += [
                LookLine(
                    "Pressure at ride",
                    self.say(s.pressure, "pressure"),
                    "Gauge, from the load it carries and its effective area.",
                ),
                LookLine(
                    "Pressure over the travel",
                    f"{self.say(s.pressures[0], 'pressure')} to {self.say(s.pressures[1], 'pressure')}",
                    "Heave alone, squeezed fast (n = 1.4); slowly it changes less.",
                    high,
                ),
            ]
            if s.spring is not None:
                low, tall = least(s.spring, travel), most(s.spring, travel)
                short = air.shortest_m is not None and low < air.shortest_m
                long = air.longest_m is not None and tall > air.longest_m
                out.append(
                    LookLine(
                        "Height over the travel",
                        f"{self.say(low, 'length')} to {self.say(tall, 'length')}",
                        "Between its seats, level and crossed, against its shortest and longest.",
                        short or long,
                    )
                )
                wide = bag_radius(air, s.spring[:, travel.grid.within])
                if wide is not None:
                    out.append(
                        LookLine(
                            "Widest outside", self.say(2 * wide, "length"), "Over those heights; clearances count it."
                        )
                    )
        return out

    def _roll(self, travel: AxleTravel) -> list[LookLine]:
        s, out = travel.springs, []
        springs = travel.leaf.roll_stiffness if travel.leaf is not None else s.roll_stiffness
        if springs is not None and math.isfinite(springs):
            out.append(
                LookLine(
                    "Roll stiffness of the springs",
                    f"{self.say(springs * math.pi / 180, 'torque')} per degree",
                    "Of both springs as they lean: k·(change of length for each turn)², at ride; leaves with the housing held.",
                )
            )
        if s.bar is not None:
            out += [
                LookLine(
                    "Anti-roll bar adds",
                    f"{self.say(s.bar[0] * math.pi / 180, 'torque')} per degree",
                    "Bar and arms in series: G·J/L·(links apart over arm)², less what the arms bend.",
                ),
                LookLine(
                    "Bar, at its ends",
                    self.say(s.bar[1], "spring_rate"),
                    "For each unit one end goes up against the other.",
                ),
            ]
            whole = roll_stiffness(travel)
            if whole is not None:
                out.append(
                    LookLine(
                        "Both together",
                        f"{self.say(whole * math.pi / 180, 'torque')} per degree",
                        "What this axle holds the body up with in roll.",
                    )
                )
        return out

    def _offered(self, travel: AxleTravel) -> list[LookLine]:
        layout, offers = travel.layout, self.workspace.project.linkage.springs
        if layout.spring is None:
            return []
        if not offers:
            return [
                LookLine(
                    "Springs on offer: List… reads a CSV table with name, rate and free length; they are ranked here."
                )
            ]
        ranked = rank_springs(travel.springs, offers, travel.grid.limits)
        out = [LookLine(f"On offer, nearest to {layout.wanted_hz:.2f} Hz first; a click fits one as a single spring:")]
        for n, one in enumerate(ranked[:MOST_SHOWN]):
            out.append(self._offer(layout, one, n))
        return out

    def _offer(self, layout: Layout, one: Offered, n: int) -> LookLine:
        fitted = (
            layout.spring is not None
            and layout.spring.second_n_per_m is None
            and math.isclose(layout.spring.rate_n_per_m, one.offer.rate_n_per_m, rel_tol=1e-9)
        )
        bind = (
            "coil bind not listed"
            if one.to_bind is None
            else f"{self.say(one.to_bind, 'length', 1)} to coil bind at bump"
        )
        tip = f"{self.say(one.at_ride, 'length')} at ride, {bind}, {self.say(max(0.0, one.at_droop), 'length', 1)} of it still pressed at full droop."
        value = f"{self.say(one.offer.rate_n_per_m, 'spring_rate')}, {one.frequency:.2f} Hz{', ' + one.trouble if one.trouble else ''}"
        return LookLine(
            one.offer.name,
            value,
            tip.replace("-", "−"),
            bool(one.trouble),
            act=lambda: self.workspace.do(TakeOffer(layout.id, one.offer.id)),
            name=f"offer_{n}",
            left=0.28,
            strong=fitted,
        )


def _seat_entries(at: str) -> list[Entry]:
    return [
        Entry(f"{at}.{end}_m.{i}", f"{word} {axis}")
        for end, word in (("frame", "seat"), ("axle", "foot"))
        for i, axis in enumerate(AXES)
    ]


def _lean_words(shock: Shock) -> str:
    """How a shock leans: top forward or back, top in or out, from upright."""
    along, across, up = (a - b for a, b in zip(shock.frame_m, shock.axle_m, strict=True))
    side, behind = math.degrees(math.atan2(abs(along), up)), math.degrees(math.atan2(abs(across), up))
    inward = across * shock.axle_m[1] < 0
    return f"{side:.0f}° {'forward' if along > 0 else 'back'}, {behind:.0f}° {'in' if inward else 'out'}"
