"""Questions about the plan: tasks from the choices, when they are done, how surely, what a late part moves."""

from __future__ import annotations

from collections.abc import Iterator

from stoutlink.core.analysis.bench.axle_steps import LOCKER_TEST
from stoutlink.core.analysis.linkage.stock_plan import same_tube
from stoutlink.core.analysis.plan.chance import Chance
from stoutlink.core.analysis.plan.facts import AxleWork, Bar, Piece, RigWork, WeldGroup
from stoutlink.core.analysis.plan.plan_sheet import PlanSheet, plan_chance, plan_sheet
from stoutlink.core.analysis.plan.sooner import Sooner, sooner
from stoutlink.core.analysis.plan.tasks import Task, tasks_of
from stoutlink.core.analysis.plan.what_if import WhatIf, what_if
from stoutlink.core.analysis.swap.cost_line import CostLine, common_lines, line_maker
from stoutlink.core.document.build_plan import BuildPlan
from stoutlink.core.document.layout import Link
from stoutlink.core.study import parts as on
from stoutlink.core.study.bench import BenchQuestions
from stoutlink.core.study.question import question
from stoutlink.core.study.vehicle import ENDS


class PlanQuestions(BenchQuestions):
    """What can be asked of the plan."""

    @property
    def tasks(self) -> tuple[Task, ...]:
        """Every task of the build, made from the choices."""
        return self._tasks()

    @question(
        *(on.vehicle, on.entered, on.chosen, on.plans, on.shelf, on.layouts_used, on.joints, on.notes_on_rig, on.units),
        *(on.choosing, on.money, on.survey, on.layouts_named, on.pinions, on.cut_parts, on.build, on.travels),
        *(on.gears, on.stations, on.welding, on.made_parts, on.at_the_bench, on.bolts, on.cases, on.brakes, on.stock),
    )
    def _tasks(self) -> tuple[Task, ...]:
        plan = self.project.build
        return tasks_of(self._rig_work(), plan.first, plan.bump)

    def _rig_work(self) -> RigWork:
        axles = tuple(a for end in ENDS if (a := self._axle_work(end)) is not None)
        cards = self.cards
        passed = frozenset(
            f"{name}:{line.step.key}" for name, card in cards.items() for line in card.lines if line.passed
        )
        front = self.project.layout("front")
        drive = self.drive_sheet
        return RigWork(
            axles,
            front is not None and front.steering is not None,
            any(s.points for s in self.project.tape.surveys),
            passed,
            tuple(x.key for x in self.cost_lines if x.end == "both" and x.group != "work"),
            sum(not b.passed for b in self.fasteners),
            sum(g.open for g in drive.gates),
            dict(self._held()),
            bool(self.project.bench.first_drive.released) and drive.may,
        )

    def _held(self) -> Iterator[tuple[str, str]]:
        """Tasks a gate of Cut and weld or Bench holds, and why."""
        for end in ENDS:
            weld, card = self.weld_base(end), self.bench_card(end)
            if weld is not None and weld.beads:
                if not self._straight(end, welded=False):
                    yield f"{end}:tackread", "no accepted reading at both ends while tacked (Cut, Stations)"
                if not self._straight(end, welded=True):
                    yield f"{end}:straight", "no accepted reading at both ends after the weld (Cut, Stations)"
                left = sum(weld.state(b.id) not in ("welded", "inspected") for b in weld.beads)
                if left:
                    yield f"{end}:paint", f"{left} bead{'s are' if left != 1 else ' is'} not laid (Cut, Welds)"
            lines = {} if card is None else {x.step.key: x for x in card.lines}
            tests = [lines[k] for k in LOCKER_TEST.get(self.locker_of(end), ()) if k in lines]
            final = lines.get("final")
            if any(not x.passed for x in tests):
                yield f"{end}:locker", "the locker's test is open (Bench, Card)"
                yield f"{end}:close", "the locker's test is open (Bench, Card)"
            elif final is not None and not final.passed:
                yield f"{end}:close", "the gears' final reading is open (Bench, Gears)"
        bolts, drive = sum(not b.passed for b in self.fasteners), self.drive_sheet
        if bolts:
            yield "frame:torque", f"{bolts} place{'s are' if bolts != 1 else ' is'} not torqued (Bench, Bolts)"
        gates = sum(g.open for g in drive.gates)
        if gates:
            yield "frame:sign", f"{gates} gate{'s are' if gates != 1 else ' is'} open (Bench, First drive)"
        if not (self.project.bench.first_drive.released and drive.may):
            yield "frame:drive", "it is not released for driving (Bench, First drive)"

    def _axle_work(self, end: str) -> AxleWork | None:
        p = self.project
        layout, donor, plan = p.layout(end), p.donor(end), p.plan(end)
        if layout is None and donor is None:
            return None
        mine = [line for line in self.cost_lines if line.end == end]
        cut = {c.id for c in p.fabrication.cut_parts}
        pieces = [] if self.needed("stance", "weight") else self.parts(end)
        frames = {one.id for one in p.fabrication.made_parts if one.seat == "frame"}
        weld = self.weld_base(end)
        groups: dict[str, list[str]] = {}
        names: dict[str, str] = {}
        for bead in () if weld is None else weld.beads:
            key = bead.seam.id.rpartition("-")[0] if bead.seam.kind in ("tab", "pad") else bead.seam.id
            groups.setdefault(key or bead.seam.id, []).append(bead.id)
            names.setdefault(key or bead.seam.id, bead.seam.name)
        card = self.bench_card(end)
        return AxleWork(
            end,
            f"{end} axle" if donor is None else donor.name,
            p.stays(end) or donor is None,
            plan.bought,
            layout is not None and layout.leaf is not None,
            () if layout is None else tuple(self._bar(x) for x in layout.links),
            tuple(
                Piece(x.id, x.name, x.count, x.thickness, "frame" in x.name.lower() or x.id in frames, x.id in cut)
                for x in pieces
            ),
            ()
            if weld is None
            else tuple(
                WeldGroup(
                    key,
                    names[key],
                    len(beads),
                    sum(weld.state(b) in ("welded", "inspected") for b in beads),
                    sum(weld.state(b) == "tacked" for b in beads),
                )
                for key, beads in groups.items()
            ),
            {line.id: line.hours for line in mine},
            (
                *((line.key, line.title) for line in mine if line.group in ("part", "axle", "consumable")),
                *((key, "bolts") for key in self.link_bolts(end)),
            ),
            () if card is None else tuple(line.step.key for line in card.lines),
            frozenset() if card is None else frozenset(line.step.key for line in card.lines if line.passed),
            self.gears_open(end),
            self.locker_of(end) if donor is not None else "open",
        )

    @property
    def cost_lines(self) -> tuple[CostLine, ...]:
        """Lines of the cost of the axles chosen; while the rig they need is not entered only those no axle makes."""
        p = self.project
        if self.needed("stance", "weight", "train"):
            return tuple(common_lines(p, line_maker(p)))
        return self.cost(p.donor("front"), p.donor("rear"), None).lines

    def link_bolts(self, end: str) -> dict[str, tuple[str, str, int]]:
        """Bolts of an end's links, springs and shocks by their line: size, grade, how many; an axle's own come with it."""
        out: dict[str, tuple[str, str, int]] = {}
        for one in self.fasteners if self.project.layout(end) is not None else ():
            if one.place.assembly != end or not one.place.key.endswith(
                ("-frame", "-axle", "-u-bolts", "-eyes", "-shocks")
            ):
                continue
            size = "size not known" if one.thread is None else one.thread.name
            slug = "".join(c if c.isalnum() else "-" for c in f"{size} {one.grade}".lower()).strip("-")
            key = f"bolts-{slug}"[:80]
            out[key] = size, one.grade, out.get(key, ("", "", 0))[2] + (one.count or 0)
        return out

    def _bar(self, link: Link) -> Bar:
        """A link, and which lines of the parts list it is made of."""
        joints = {j.id: j for j in self.project.linkage.joints}
        needs = [f"tube-{b.id}" for b in self.project.fabrication.stock if same_tube(link, b)]
        for fit in (link.frame_end, link.axle_end):
            needs.append(f"joint-{fit.joint}")
            if fit.joint in joints and joints[fit.joint].thread_diameter_m is not None:
                needs.append(f"insert-{fit.joint}")
        return Bar(link.id, link.name, link.role, link.in_hand_m is not None, link.stage, tuple(dict.fromkeys(needs)))

    @question(on.build)
    def plan_of(self, tasks: tuple[Task, ...], now: int) -> PlanSheet:
        """The plan of these tasks from a minute on; a plan without a first day has none."""
        return plan_sheet(tasks, self.project.build, now)

    def plan_sheet(self, now: int = 0) -> PlanSheet | None:
        """The plan as it stands, scheduled from the minute ``now`` of it on; ``None`` while no first day is said."""
        return self.plan_of(self.tasks, now) if self.project.build.begin else None

    def what_if(self, other: BuildPlan, now: int, sheet: PlanSheet | None) -> WhatIf:
        """What another plan of the same tasks moves; not remembered."""
        return what_if(self.tasks, self.project.build, other, now, sheet)

    @question(on.build)
    def sooner(self, tasks: tuple[Task, ...], sheet: PlanSheet, now: int) -> tuple[Sooner, ...]:
        """What would have it driving sooner than the plan scheduled from the minute ``now`` on."""
        return sooner(tasks, self.project.build, sheet, now)

    @property
    def plan_chance(self) -> Chance | None:
        """How surely the day wanted is met, from the plan's first minute."""
        sheet = self.plan_sheet()
        return None if sheet is None else self.plan_chance_of(sheet, 0)

    @question(on.build)
    def plan_chance_of(self, sheet: PlanSheet, now: int) -> Chance | None:
        """How surely the day wanted is met."""
        return plan_chance(sheet, now)
