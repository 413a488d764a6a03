"""Questions about the parts list: every line from the place that makes it, its price, its day, the task that needs it."""

from __future__ import annotations

import datetime
from collections import Counter
from collections.abc import Iterable, Iterator

from stoutlink.core.analysis.plan.calendars import DAY
from stoutlink.core.analysis.plan.day import DaySheet, day_sheet
from stoutlink.core.analysis.plan.facts import plate_key
from stoutlink.core.analysis.plan.parts_list import PartsList, Wanted, parts_list, system_of
from stoutlink.core.analysis.plan.plan_sheet import PlanSheet
from stoutlink.core.analysis.plan.shop_hours import day_of, moment
from stoutlink.core.analysis.swap.cost_line import CostLine
from stoutlink.core.document.build_plan import Lane, PartState
from stoutlink.core.mechanics.fillet import wire_mass
from stoutlink.core.quantity.shown import show
from stoutlink.core.study import parts as on
from stoutlink.core.study.plan import PlanQuestions
from stoutlink.core.study.question import question
from stoutlink.core.study.vehicle import ENDS

GAS_L_MIN = 12.0
"""Shielding gas, litres a minute of arc (common practice 10 to 15 for short-arc wire)."""
DISC_H = 1.5
"""Hours of grinding a disc lasts (ours)."""


class PartsListQuestions(PlanQuestions):
    """What can be asked of the parts list."""

    def parts_list(self, today: datetime.date) -> PartsList:
        """Everything the build takes, as it stands on a day."""
        first = day_of(self.project.build.begin)
        now = 0 if first is None else max(0, (today - first).days) * DAY
        return self.parts_list_of(self.plan_sheet(now), today)

    @property
    def part_states(self) -> dict[str, PartState]:
        """Every line there is, with or without a plan, and how far it is."""
        found = self.parts_list_of(None, datetime.date(2000, 1, 1))
        return {r.id: r.state for r in self.project.build.arrivals} | {x.key: x.state for x in found.lines}

    def day_sheet(self, today: datetime.date) -> DaySheet | None:
        """The day; ``None`` while no first day is said."""
        first = day_of(self.project.build.begin)
        if first is None:
            return None
        now = max(0, (today - first).days) * DAY
        sheet, after = self.plan_sheet(now), self.plan_sheet(now + DAY)
        assert sheet is not None
        assert after is not None
        return self.day_of(sheet, after, self.parts_list_of(sheet, today), today)

    def day_of(self, sheet: PlanSheet, after: PlanSheet, parts: PartsList, today: datetime.date) -> DaySheet:
        """The day from its plan, the plan from the next day on, and the parts."""
        return day_sheet(sheet, after, parts, today)

    @question(
        *(on.vehicle, on.entered, on.chosen, on.plans, on.shelf, on.layouts_used, on.joints, on.notes_on_rig, on.units),
        *(on.choosing, on.money, on.survey, on.layouts_named, on.pinions, on.cut_parts, on.build, on.stock, on.plate),
        *(on.gears, on.stations, on.welding, on.made_parts, on.at_the_bench, on.bolts, on.cases, on.brakes),
    )
    def parts_list_of(self, sheet: PlanSheet | None, today: datetime.date) -> PartsList:
        """The list with the days the tasks of a plan begin on."""
        p = self.project
        begins: dict[str, tuple[str, datetime.date]] = {}
        for row in () if sheet is None else sheet.rows:
            if row.begin is None:
                continue
            day = moment(p.build, row.begin).date()
            for need in row.task.needs:
                if need not in begins or day < begins[need][1]:
                    begins[need] = row.task.key, day
        waits = tuple(self.needed("stance", "weight", "train"))
        axles = (self._of_cost(x) for x in self.cost_lines if x.group != "work" or x.amount)
        made = (*self._tubes(), *self._plates(), *self._joints(), *self._link_bolts()) if not self.needs else ()
        return parts_list(axles, made, p.build, p.swap.prices, today, begins, tuple(str(w) for w in waits))

    def _of_cost(self, x: CostLine) -> Wanted:
        """A line of the axles' cost."""
        known: PartState = "needed"
        if x.id == "axle" and x.end in ENDS:
            known = "fitted" if self.project.stays(x.end) else "here" if self.project.plan(x.end).bought else "needed"
        elif (x.basis == "free" and x.id != "link_brackets") or x.id.startswith("sold-"):
            known = "here"
        detail = self._used_up(x.end) if x.id == "discs" else ""
        return Wanted(
            x.key, x.title, x.end, x.group, system_of(x.id, x.end), x.why, x.count, x.amount, x.basis, x.paid, x.pay_day, detail=detail, state=known
        )  # fmt: skip

    def _used_up(self, end: str) -> str:
        """Wire, gas and discs by the seams and the hours of grinding."""
        weld = self.weld_base(end)
        grinding = sum(t.hours for t in self.tasks if t.key == f"{end}:clean")
        discs = f"{max(1, round(grinding / DISC_H))} discs by the hours of grinding" if grinding else ""
        if weld is None or not weld.beads:
            return discs
        metres = sum(s.length for s in weld.seams)
        wire = sum(wire_mass(s.leg, s.length) for s in weld.seams)
        gas = GAS_L_MIN * metres / weld.plan.travel_m_s / 60.0
        words = (
            f"{show(metres, 'length', self.project.settings.units)} of weld: {wire:.2f} kg of wire, {gas:.0f} l of gas"
        )
        return f"{words}, {discs}" if discs else words

    def _tubes(self) -> Iterator[Wanted]:
        """Bars by the cutting plan; offcuts on the shelf come first and cost nothing."""
        unit = self.project.settings.units
        for plan in self.stock_plan():
            size = f"{show(plan.od, 'length', unit)} × {show(plan.wall, 'length', unit)}"
            whole = sum(piece.length for piece in plan.pieces)
            pieces = (
                f"{len(plan.pieces)} piece{'s' if len(plan.pieces) != 1 else ''}, {show(whole, 'length', unit)} in all"
            )
            known = {b.id: b for b in plan.bars}
            lane = _lane(piece.axle for piece in plan.pieces)
            for name, count in plan.to_buy.items():
                bar = known[name]
                amount = None if bar.price is None else bar.price * count
                each = f"bar of {show(bar.length_m, 'length', unit)}"
                yield Wanted(f"tube-{name}", f"Tube {size}: {bar.name}", "both", "part", lane, pieces, count, amount, "unknown" if amount is None else "asked", unit=each, detail=pieces, of_axles=False)  # fmt: skip
            used = Counter(plan.bar_of(b).id for b in plan.plan.bars if b.offcut)
            for one in {b.id: b for b in plan.offcuts}.values():
                if used[one.id]:
                    yield Wanted(f"tube-{one.id}", f"Tube {size}: {one.name}", "both", "part", lane, "an offcut on the shelf, used first", used[one.id], 0.0, "free", unit=f"offcut of {show(one.length_m, 'length', unit)}", detail=pieces, of_axles=False, state="here")  # fmt: skip
            if plan.plan.too_long:
                short = sum(plan.pieces[k].length for k in plan.plan.too_long)
                many = f"{len(plan.plan.too_long)} piece{'s' if len(plan.plan.too_long) != 1 else ''}"
                why = f"{many}, {show(short, 'length', unit)}, and no bar on the list is long enough"
                name = f"tube-none-{round(plan.od * 1e5)}-{round(plan.wall * 1e5)}-{plan.material.replace('_', '-')}"
                yield Wanted(name, f"Tube {size}", "both", "part", lane, why, 1, None, "unknown", detail=why, of_axles=False)  # fmt: skip

    def _plates(self) -> Iterator[Wanted]:
        """Plate by how the parts still to be cut lie on it."""
        unit, plate = self.project.settings.units, self.project.fabrication.plate
        size = f"{show(plate.length_m, 'length', unit)} × {show(plate.width_m, 'length', unit)}"
        for one in self.plate_plan():
            pieces = f"{len(one.pieces)} part{'s' if len(one.pieces) != 1 else ''}, {one.used:.0%} of it used"
            yield Wanted(plate_key(one.thickness), f"Plate {show(one.thickness, 'fine_length', unit)}", "both", "part", "frame", pieces, one.nested.plates, None, "unknown", unit=f"plate of {size}", detail=pieces, of_axles=False)  # fmt: skip

    def _joints(self) -> Iterator[Wanted]:
        """A joint for each end of a link that is not at hand, and a thread insert for each that is screwed in."""
        counts: Counter[str] = Counter()
        lanes: dict[str, list[str]] = {}
        for end in ENDS:
            layout = self.project.layout(end)
            for link in () if layout is None else layout.links:
                if link.in_hand_m is None:
                    for fit in (link.frame_end, link.axle_end):
                        counts[fit.joint] += 1
                        lanes.setdefault(fit.joint, []).append(end)
        for joint in self.project.linkage.joints:
            n = counts[joint.id]
            if not n:
                continue
            lane = _lane(lanes[joint.id])
            yield Wanted(f"joint-{joint.id}", joint.name, "both", "part", lane, f"{n} ends of links", n, None, "unknown", unit="joint", of_axles=False)  # fmt: skip
            if joint.thread_diameter_m is not None:
                why = f"welded into the tube, {joint.hand}-hand"
                yield Wanted(f"insert-{joint.id}", f"Thread insert and jam nut for {joint.name}", "both", "part", lane, why, n, None, "unknown", unit="insert with its nut", of_axles=False)  # fmt: skip

    def _link_bolts(self) -> Iterator[Wanted]:
        """Bolts of links, springs and shocks, by thread and grade."""
        both = {end: self.link_bolts(end) for end in ENDS}
        for key in dict.fromkeys(k for found in both.values() for k in found):
            ends = [end for end in ENDS if key in both[end]]
            size, grade, _ = both[ends[0]][key]
            count = sum(both[end][key][2] for end in ends)
            if count:
                title = f"Bolts {size}" + (f", {grade}" if grade else "")
                yield Wanted(key, title, "both", "part", _lane(ends), "links, springs and shocks", count, None, "unknown", unit="bolt with nut and washers", of_axles=False)  # fmt: skip


def _lane(ends: Iterable[str]) -> Lane:
    """The lane of a thing used at these ends."""
    found = set(ends)
    return "front" if found == {"front"} else "rear" if found == {"rear"} else "frame"
