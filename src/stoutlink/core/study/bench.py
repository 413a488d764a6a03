"""Questions about the bench: gears, cards, bolts, a third member's fit, brakes, what is undone, the first drive."""

from __future__ import annotations

from msgspec import Struct

from stoutlink.core.advice.bench_rules import BenchState, bench_findings
from stoutlink.core.advice.finding import Finding
from stoutlink.core.analysis.bench.axle_steps import AxleFacts, axle_steps
from stoutlink.core.analysis.bench.brake_sheet import BrakeSheet, brake_sheet
from stoutlink.core.analysis.bench.card import Card, make_card
from stoutlink.core.analysis.bench.case_fit import CaseSheet, case_sheet
from stoutlink.core.analysis.bench.due import Due, due
from stoutlink.core.analysis.bench.fasteners import BoltLine, bolt_lines, places_of
from stoutlink.core.analysis.bench.first_drive import DriveSheet, drive_sheet
from stoutlink.core.analysis.bench.gear_sheet import GearSheet, gear_sheet
from stoutlink.core.analysis.bench.other_steps import RigFacts, brake_steps, shaft_steps, steering_steps
from stoutlink.core.analysis.bench.undone import Undone, undone
from stoutlink.core.analysis.cycle.reach import LineReach
from stoutlink.core.analysis.vehicle.effective_vehicle import chosen_axles
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.bench import ASSEMBLIES, Assembly
from stoutlink.core.document.layout import Layout
from stoutlink.core.study import parts as on
from stoutlink.core.study.housing import HousingQuestions
from stoutlink.core.study.question import FEW, question
from stoutlink.core.study.swap import SwapQuestions
from stoutlink.core.study.travel import TravelQuestions
from stoutlink.core.study.vehicle import ENDS

NEW_CARRIER = ("automatic", "selectable", "air", "electric", "spool", "limited_slip", "torque_sensing")
"""Lockers that come as a carrier of their own: the gears are set up with them."""


class Bench(Struct, frozen=True):
    """What follows from all of the bench together."""

    cards: dict[str, Card]
    undone: tuple[Undone, ...]
    drive: DriveSheet
    findings: tuple[Finding, ...]


class BenchQuestions(SwapQuestions, HousingQuestions, TravelQuestions):
    """What can be asked of the bench; hoses are judged by the travel once that is known."""

    @question(on.gears)
    def gear_sheet(self, end: str) -> GearSheet | None:
        """Where the gear set of an axle stands, and what to try next."""
        one = next((g for g in self.project.bench.gears if g.id == end), None)
        return None if one is None else gear_sheet(one)

    @property
    def axles_there(self) -> dict[str, DonorAxle | None]:
        """The axles chosen, with the parts planned into them, by end."""
        front, rear = chosen_axles(self.project)
        return {"front": front, "rear": rear}

    def locker_of(self, end: str) -> str:
        """The locker an axle will have: planned, or the one in it; nothing known counts as open."""
        axle = self.axles_there[end]
        return self.project.plan(end).locker or (None if axle is None else axle.locker) or "open"

    def gears_open(self, end: str) -> bool:
        """Whether gears are set up at this end: begun, or charged in the cost (a planned set, ends that must match, a carrier
        of its own); while the rig is not entered, by the plan alone."""
        there = self.axles_there
        axle, plan = there[end], self.project.plan(end)
        if axle is None:
            return False
        setup = next((g for g in self.project.bench.gears if g.id == end), None)
        if setup is not None and setup.trainer is None:
            return True
        if not self.needed("stance", "weight", "train"):
            lines = self.cost(self.project.donor("front"), self.project.donor("rear"), None).lines
            return any(line.id == "gear_setup" and line.end == end for line in lines)
        gears = plan.gears_for(axle)
        return (gears is not None and not plan.keep_gears and gears != axle.pair) or (
            plan.locker in NEW_CARRIER and plan.locker != axle.locker
        )

    @property
    def assemblies(self) -> tuple[Assembly, ...]:
        """Assemblies this build has a card of."""
        there = self.axles_there
        any_ = any(there.values())
        front = self.project.layout("front")
        return tuple(
            one
            for one in ASSEMBLIES
            if (one in there and there[one] is not None)
            or (one == "steering" and front is not None)
            or (one in ("brakes", "driveline") and any_)
        )

    def bench_card(self, assembly: str) -> Card | None:
        """The card of an assembly; ``None`` where this build has none."""
        return self.cards.get(assembly)

    @property
    def cards(self) -> dict[str, Card]:
        """Every card this build has."""
        return self._bench().cards

    def _cards(self) -> dict[str, Card]:
        return {one: card for one in self.assemblies if (card := self._card(one)) is not None}

    def _card(self, assembly: str) -> Card:
        work = self.project.card(assembly)
        if assembly in ENDS:
            facts = self._axle_facts(assembly)
            setup = None if facts.setup is None or facts.setup.trainer is not None else facts.setup
            return make_card(assembly, axle_steps(facts), work, setup)
        steps = {"steering": steering_steps, "brakes": brake_steps, "driveline": shaft_steps}[assembly]
        return make_card(assembly, steps(self._rig_facts()), work)  # type: ignore[arg-type]

    def _axle_facts(self, end: str) -> AxleFacts:
        axle = self.axles_there[end]
        assert axle is not None
        setup = next((g for g in self.project.bench.gears if g.id == end), None)
        gears = self.gear_sheet(end)
        weld = self.weld_base(end)
        welds = None if weld is None else sum(weld.state(b.id) not in ("welded", "inspected") for b in weld.beads)
        card, case = self.project.card(end), self.case_sheet(end)
        caps = [] if card is None else [p for p in card.parts if p.id.startswith("cap-")]
        real = setup is not None and setup.trainer is None
        return AxleFacts(
            end,
            axle,
            self.locker_of(end),
            self.gears_open(end),
            setup if real else None,
            real and gears is not None and gears.verdict == "right",
            self._straight(end, weld is not None),
            welds,
            len(caps) >= 2 and all(c.mark is not None for c in caps),
            None if case is None else case.goes,
            self._loose_bolts(end),
            end == "front",
            any(p.kind == "adapter" and p.id in self.project.plan(end).fitted for p in self.project.swap.shelf),
        )

    def _straight(self, end: str, welded: bool) -> bool:
        """Read at both ends after the last weld, and in."""
        sheet = self.station_sheet(end)
        if sheet is None:
            return False
        last = {side: [e for e in sheet.ends if e.side == side] for side in ("left", "right")}
        if not all(last.values()):
            return False
        ends = [mine[-1] for mine in last.values()]
        return all(not e.out for e in ends) and (not welded or all(e.stage == "welded" for e in ends))

    def _loose_bolts(self, assembly: str) -> int:
        return sum(not b.passed for b in self.fasteners if b.place.assembly == assembly)

    def _rig_facts(self) -> RigFacts:
        front = self.project.layout("front")
        steering = None if front is None else front.steering
        brakes = self.brake_sheet
        fittings = brakes.fittings
        short = sum(
            1
            for end in ENDS
            if (travel := self.travel_known(end)) is not None
            for one in travel.lines
            if one.spare is None or one.spare < one.line.slack_m
        )
        known_lines = any(self.project.layout(end) is not None and self.project.layout(end).lines for end in ENDS)  # type: ignore[union-attr]
        settled = known_lines and all(
            self.travel_known(end) is not None for end in ENDS if self.project.layout(end) is not None
        )
        there = self.axles_there
        lines = None if not known_lines else short if settled else -1
        return RigFacts(
            steering is not None and steering.kind == "drag_link",
            steering is not None and steering.kind == "hydraulic",
            front is not None and any(link.role == "panhard" for link in front.links),
            sum(not f.goes for f in fittings),
            bool(fittings),
            lines,
            any(one.kind == "drum" for one in (brakes.front, brakes.rear)),
            tuple(end for end in ("front", "rear") if there[end] is not None),
            {one: self._loose_bolts(one) for one in ("steering", "brakes", "driveline")},
        )

    @property
    def fasteners(self) -> tuple[BoltLine, ...]:
        """Every bolt that matters, place by place."""
        return self._fasteners()

    @question(on.chosen, on.plans, on.shelf, on.layouts_used, on.joints, on.bolts)
    def _fasteners(self) -> tuple[BoltLine, ...]:
        p = self.project
        layouts: dict[str, Layout | None] = {end: p.layout(end) for end in ENDS}
        return bolt_lines(
            places_of(self.axles_there, layouts, p.linkage.joints), p.bench.fasteners, p.bench.first_drive
        )

    @question(on.cases)
    def case_sheet(self, end: str) -> CaseSheet | None:
        """Whether the third member of an axle goes into its housing; ``None``: nothing is measured."""
        one = next((c for c in self.project.bench.cases if c.id == end), None)
        return None if one is None else case_sheet(one)

    @property
    def hoses(self) -> dict[str, LineReach]:
        """What the hoses that end at line joints must reach, by joint, as far as the travel is known."""
        out: dict[str, LineReach] = {}
        for one in self.project.bench.brakes.fittings:
            layout_id, _, line_id = one.line.partition(".")
            for end in ENDS:
                layout, travel = self.project.layout(end), self.travel_known(end)
                if layout is None or layout.id != layout_id or travel is None:
                    continue
                reach = next((r for r in travel.lines if r.line.id == line_id), None)
                if reach is not None:
                    out[one.id] = reach
        return out

    @property
    def brake_sheet(self) -> BrakeSheet:
        """Balance of the brakes, pedal, slope, joints of the lines."""
        return self._brake_sheet()

    @question(on.vehicle, on.chosen, on.plans, on.shelf, on.entered, on.notes_on_rig, on.brakes)
    def _brake_sheet(self) -> BrakeSheet:
        numbers = {} if self.needs else self.rig_numbers()
        sigma = tuple(0.0 if key not in numbers else numbers[key].sigma for key in ("cg_ahead", "cg_height"))
        rig = None if self.needed("stance", "weight") else self.true.rig
        return brake_sheet(self.project.bench.brakes, rig, self.axles_there, sigma)  # type: ignore[arg-type]

    @property
    def undone(self) -> tuple[Undone, ...]:
        """What is left undone."""
        return self._bench().undone

    @property
    def due(self) -> tuple[Due, ...]:
        """What is due at the bench now."""
        return due(self.cards.values(), self.fasteners, self.undone)

    @property
    def drive_sheet(self) -> DriveSheet:
        """The first-drive sheet."""
        return self._bench().drive

    @question(
        *(on.vehicle, on.entered, on.chosen, on.plans, on.shelf, on.layouts_used, on.joints, on.notes_on_rig, on.units),
        *(on.choosing, on.money, on.survey, on.layouts_named, on.pinions),
        *(on.gears, on.stations, on.welding, on.made_parts, on.at_the_bench, on.bolts, on.cases, on.brakes, on.travels),
        keep=FEW,
    )
    def _bench(self) -> Bench:
        """Cards and what follows from all of them together; asked for many times while nothing changes."""
        p, cards, tacked = self.project, self._cards(), {}
        for end in ENDS:
            weld = self.weld_base(end)
            if weld is not None:
                tacked[end] = sum(weld.state(b.id) == "tacked" for b in weld.beads)
        open_ = undone(p.bench.loose_ends, cards.values(), self.fasteners, tacked)  # type: ignore[arg-type]
        lockers = {end: self.locker_of(end) for end, axle in self.axles_there.items() if axle is not None}
        drive = drive_sheet(p.bench.first_drive, cards, self.fasteners, open_, lockers)
        cases = tuple(c for end in ENDS if (c := self.case_sheet(end)) is not None)
        state = BenchState(
            cards, self.fasteners, cases, self.brake_sheet, drive, open_, p.rig.road_legal, p.settings.units
        )
        return Bench(cards, open_, drive, tuple(bench_findings(state)))

    def _bench_findings(self) -> tuple[Finding, ...]:
        return self._bench().findings
