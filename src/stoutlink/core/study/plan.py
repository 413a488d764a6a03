"""Questions about the plan: tasks from the choices, when they are done, how surely, what a late part moves."""

from __future__ import annotations

from stoutlink.core.analysis.plan.chance import Chance
from stoutlink.core.analysis.plan.facts import AxleWork, Bar, Piece, RigWork, WeldGroup
from stoutlink.core.analysis.plan.plan_sheet import PlanSheet, plan_chance, plan_sheet
from stoutlink.core.analysis.plan.tasks import Task, tasks_of
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
        *(on.gears, on.stations, on.welding, on.made_parts, on.at_the_bench, on.bolts, on.cases, on.brakes),
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
            any(s.points for s in self.project.surveys),
            passed,
            sum(not b.passed for b in self.fasteners),
            sum(g.open for g in drive.gates),
            bool(self.project.first_drive.released) and drive.may,
        )

    def _axle_work(self, end: str) -> AxleWork | None:
        p = self.project
        layout, donor, plan = p.layout(end), p.donor(end), p.plan(end)
        if layout is None and donor is None:
            return None
        known = not self.needed("stance", "weight", "train")
        lines = self.cost(p.donor("front"), p.donor("rear"), None).lines if known else ()
        mine = [line for line in lines if line.end == end]
        cut = {c.id for c in p.cut_parts}
        pieces = [] if self.needed("stance", "weight") else self.parts(end)
        frames = {one.id for one in p.made_parts if one.seat == "frame"}
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
            ()
            if layout is None
            else tuple(Bar(x.id, x.name, x.role, x.in_hand_m is not None, x.stage) for x in layout.links),
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
            tuple((f"{line.id}-{end}", line.title) for line in mine if line.group in ("part", "axle", "consumable")),
            () if card is None else tuple(line.step.key for line in card.lines),
            frozenset() if card is None else frozenset(line.step.key for line in card.lines if line.passed),
            self.gears_open(end),
            self.locker_of(end) if donor is not None else "open",
        )

    @question(on.build)
    def plan_of(self, tasks: tuple[Task, ...], now: int) -> PlanSheet:
        """The plan of these tasks from a minute on; a plan without a first day has none."""
        return plan_sheet(tasks, self.project.build, now)

    def plan_sheet(self, now: int = 0) -> PlanSheet | None:
        """The plan as it stands, scheduled from the minute ``now`` of it on; ``None`` while no first day is said."""
        return self.plan_of(self.tasks, now) if self.project.build.begin else None

    @property
    def plan_chance(self) -> Chance | None:
        """How surely the day wanted is met, from the plan's first minute."""
        sheet = self.plan_sheet()
        return None if sheet is None else self.plan_chance_of(sheet, 0)

    @question(on.build)
    def plan_chance_of(self, sheet: PlanSheet, now: int) -> Chance | None:
        """How surely the day wanted is met."""
        return plan_chance(sheet, now)
