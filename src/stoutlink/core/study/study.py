"""The study of a project: everything that can be asked of it. Window, command line, reports and tests all ask here."""

from __future__ import annotations

import contextlib
from collections.abc import Callable
from functools import cached_property
from typing import Literal

import msgspec

from stoutlink.core.advice.finding import RANK, Finding
from stoutlink.core.advice.hanging_rules import (
    bind_findings,
    fit_findings,
    leaf_findings,
    load_findings,
    panhard_findings,
    steering_findings,
)
from stoutlink.core.advice.layout_rules import cut_findings, motion_findings
from stoutlink.core.advice.leaf_verdict import leaf_verdict
from stoutlink.core.advice.rig_rules import rig_findings
from stoutlink.core.advice.survey_rules import survey_findings
from stoutlink.core.advice.swap_rules.findings import donor_findings, swap_findings
from stoutlink.core.advice.travel_rules import travel_findings
from stoutlink.core.advice.verdict import Gauge, verdict
from stoutlink.core.analysis.cycle.behaviour import Axles, Behaviour, behaviour
from stoutlink.core.analysis.cycle.curve_sure import Bands, curve_sure
from stoutlink.core.analysis.cycle.steer_holes import HoleChoice, best_holes
from stoutlink.core.analysis.cycle.travel import AxleTravel, axle_travel
from stoutlink.core.analysis.cycle.travel_map import Ribbon, ribbon
from stoutlink.core.analysis.linkage.axle_motion import AxleMotion, axle_motion
from stoutlink.core.analysis.linkage.cut_list import LinkCut, layout_cuts
from stoutlink.core.analysis.linkage.hole_map import HoleMap, hole_map
from stoutlink.core.analysis.linkage.joint_misalignment import Bind, bind
from stoutlink.core.analysis.linkage.leaf_axle import LeafAxle, LeafSure, leaf_axle, leaf_sure
from stoutlink.core.analysis.linkage.link_loads import LinkLoads, link_loads
from stoutlink.core.analysis.linkage.many_layouts import Setting
from stoutlink.core.analysis.linkage.steering_geometry import BumpSteer, Panhard, bump_steer, panhard
from stoutlink.core.analysis.linkage.uncertainty import HowSure, how_sure
from stoutlink.core.analysis.linkage.will_it_fit import Fit, will_it_fit
from stoutlink.core.analysis.search.find import Found, find_layouts
from stoutlink.core.analysis.search.proposals import Proposal, propose, switched
from stoutlink.core.analysis.survey.survey_merge import Merge, merge_survey
from stoutlink.core.analysis.survey.survey_points import Placed, place_survey
from stoutlink.core.analysis.swap.cost_to_ready import Cost, cost_to_ready
from stoutlink.core.analysis.swap.donor_in_rig import DonorInRig, donor_in_rig
from stoutlink.core.analysis.swap.donor_sure import donor_sure
from stoutlink.core.analysis.swap.fit_up import FitUp, Narrowing, fit_up, narrowing
from stoutlink.core.analysis.swap.gear_choice import GearChoice, gear_choice
from stoutlink.core.analysis.swap.inspection import Judgement, judge
from stoutlink.core.analysis.swap.ladder import Ladder, ladder
from stoutlink.core.analysis.swap.locker_advice import LockerAdvice, locker_advice
from stoutlink.core.analysis.swap.match_matrix import Matrix, match_matrix
from stoutlink.core.analysis.swap.pick import Ranking, Stopped, rank_pairs
from stoutlink.core.analysis.swap.upgrade_path import Path, stronger_axles, upgrade_path
from stoutlink.core.analysis.vehicle.effective_vehicle import TrueRig, true_rig
from stoutlink.core.analysis.vehicle.rig_numbers import SureNumber, rig_numbers, tyre_numbers
from stoutlink.core.analysis.vehicle.stance import Standing, standing, surveyed_ride
from stoutlink.core.analysis.vehicle.tyre_effects import Effect, tyre_effects
from stoutlink.core.catalogue.donor import DonorAxle, ToothPair
from stoutlink.core.document.layout import Kind, Layout
from stoutlink.core.document.project import Accepted, Project
from stoutlink.core.document.search import Search
from stoutlink.core.errors import StoutError
from stoutlink.core.study import parts as on
from stoutlink.core.study.axle import AxleStudy, Compared
from stoutlink.core.study.question import Asked, GivenUp, known, question, rests_on_the_same

End = Literal["rear", "front"]
ENDS: tuple[End, End] = ("rear", "front")
Going = Callable[[float], bool]
Gears = tuple[ToothPair | None, ToothPair | None]


def _on(part: float) -> bool:
    return True


class Study(Asked):
    """What can be asked of one project. ``before`` is an earlier study: what rests on the very same parts is taken over.

    Questions about an axle take its end; ``axles`` gives them by name. Nothing is worked out before it is asked for,
    and a layout that cannot be analysed becomes a finding: only :meth:`motion` and what needs it raise.
    """

    def __init__(self, project: Project, before: Study | None = None) -> None:
        super().__init__(None if before is None else before.answers)
        self.project = project
        self.axles: dict[str, AxleStudy] = {end: AxleStudy(self, end) for end in ENDS}

    # The vehicle

    @cached_property
    def true(self) -> TrueRig:
        """The effective vehicle and where its numbers are from."""
        return self._true()

    @question(on.entered, on.chosen)
    def _true(self) -> TrueRig:
        return true_rig(self.project)

    @question(on.entered, on.chosen, on.notes_on_rig)
    def rig_numbers(self) -> dict[str, SureNumber]:
        """Every number of the effective vehicle with its ±."""
        return rig_numbers(self.project)

    @question(on.entered, on.notes_on_rig)
    def tyre_numbers(self, end: str) -> dict[str, tuple[float, str, float]]:
        """The three radii of one end: value m, source, 1 σ m."""
        return tyre_numbers(self.project, end)

    @question(on.vehicle, on.chosen, on.plans, on.choosing)
    def tyre_effects(self, end: str) -> tuple[Effect, ...]:
        """Which radius serves which number at one end."""
        return tyre_effects(self.project, self.true.rig, end)

    @question(on.entered)
    def standing(self) -> Standing:
        """How the rig stands: low points and ground angles."""
        return standing(self.project.rig)

    @question(on.entered, on.survey)
    def surveyed_ride(self, end: str) -> float | None:
        """Frame over axle as the survey has it, m."""
        return surveyed_ride(self.project, end)

    # The survey

    @question(on.entered, on.survey)
    def placed(self, survey_id: str) -> tuple[Placed, ...]:
        """The stations of a survey placed in the vehicle; none for one that is not there."""
        survey = self.project.survey(survey_id)
        return () if survey is None else place_survey(survey, self.project.rig.wheelbase_m)

    @question(on.entered, on.survey)
    def merged(self, survey_id: str) -> Merge:
        """A survey joined to the first by the points they share; raises where that cannot be."""
        survey = self.project.survey(survey_id)
        assert survey is not None
        return merge_survey(self.placed(self.project.surveys[0].id), survey, self.project.rig.wheelbase_m)

    # Donor axles

    @question(on.vehicle, on.record)
    def in_rig(self, axle_id: str) -> DonorInRig:
        """A candidate as it comes, in this rig."""
        return donor_in_rig(self.true.rig, self._axle(axle_id))

    @question(on.vehicle, on.plan_of, on.choosing)
    def in_rig_planned(self, axle: DonorAxle) -> DonorInRig:
        """An axle with what is planned on it, in this rig."""
        return donor_in_rig(self.true.rig, axle, self.project.plan(axle.end), self.project.choosing)

    @question(on.vehicle, on.plan_of, on.choosing)
    def ladder(self, axle: DonorAxle) -> Ladder:
        """The weak-link ladder of an axle."""
        return ladder(self.true.rig, axle, self.project.plan(axle.end), self.project.choosing)

    @question(on.entered, on.chosen, on.notes_on_rig, on.plan_of, on.choosing)
    def ladder_sure(self, axle: DonorAxle) -> Ladder:
        """The ladder with the ± of every margin."""
        plan = self.project.plan(axle.end)
        return ladder(self.true.rig, axle, plan, self.project.choosing, sure=self.project)

    @question(on.vehicle, on.plan_of, on.choosing, on.money)
    def upgrade_path(self, axle: DonorAxle) -> Path:
        """What becomes the weakest once the weakest is dealt with."""
        p = self.project
        return upgrade_path(self.true.rig, axle, p.plan(axle.end), p.choosing, p.prices)

    @question(on.vehicle, on.plans, on.choosing, on.catalogue)
    def stronger_axles(self, axle: DonorAxle) -> tuple[tuple[DonorAxle, float], ...]:
        """Axles of the catalogue whose weakest part holds more."""
        return stronger_axles(self.project, self.true.rig, self.ladder(axle))

    @question(on.vehicle, on.plan_of, on.choosing)
    def lockers(self, axle: DonorAxle) -> tuple[LockerAdvice, ...]:
        """Which locker here, both schools on each."""
        return locker_advice(self.project, self.true.rig, axle)

    @question(on.vehicle, on.plans, on.chosen)
    def gears(self, axle: DonorAxle) -> GearChoice:
        """Its gear sets in this rig, against the axle chosen for the other end."""
        other = self.project.donor("rear" if axle.end == "front" else "front")
        return gear_choice(self.project, self.true.rig, axle, other)

    @question(on.entered, on.vehicle, on.plans, on.chosen, on.catalogue, on.survey)
    def fit_up(self, axle: DonorAxle) -> FitUp:
        """How it sits under the rig."""
        return fit_up(self.project, self.true.rig, axle, self.project.plan(axle.end))

    @question(on.plan_of, on.catalogue)
    def narrowed(self, axle: DonorAxle) -> Narrowing | None:
        """The planned narrowing, if any."""
        plan = self.project.plan(axle.end)
        if plan.width_m is None:
            return None
        return narrowing(self.project, axle, plan.width_m, centre_pinion=plan.centre_pinion)

    @question(on.entered, on.chosen, on.notes_on_rig, on.plan_of, on.choosing)
    def donor_sure(self, axle: DonorAxle) -> dict[str, float]:
        """1 σ of an axle's numbers in this rig."""
        return donor_sure(self.project, axle)

    @question(on.money)
    def judged(self, axle: DonorAxle) -> Judgement:
        """Its inspection judged, or what there is to look at."""
        return judge(axle, next((i for i in self.project.inspections if i.id == axle.id), None))

    @question(
        on.entered,
        on.vehicle,
        on.catalogue,
        on.chosen,
        on.plans,
        on.choosing,
        on.money,
        on.survey,
        on.layouts_named,
        on.units,
    )
    def donor_findings(self, axle: DonorAxle) -> tuple[Finding, ...]:
        """What an axle forces on its own, strongest first."""
        return donor_findings(self.project, self.true.rig, axle)

    @question(on.vehicle, on.plans, on.choosing, on.money, on.layouts_named)
    def cost(self, front: DonorAxle | None, rear: DonorAxle | None, gears: Gears | None) -> Cost:
        """Everything a pair drags in until it drives."""
        sets = None if gears is None else {"front": gears[0], "rear": gears[1]}
        return cost_to_ready(self.project, self.true.rig, front, rear, sets)

    @question(on.vehicle, on.chosen, on.plans, on.money)
    def matrix(self) -> Matrix:
        """What fits what between both axles, vehicle and shelf."""
        return match_matrix(self.project, self.true.rig, self.project.donor("front"), self.project.donor("rear"))

    @question(on.entered, on.vehicle, on.catalogue, on.chosen, on.plans, on.choosing, on.money, on.layouts_named)
    def ranking(
        self,
        fronts: tuple[DonorAxle | None, ...],
        rears: tuple[DonorAxle | None, ...],
        most: int,
        *,
        going: Going = _on,
    ) -> Ranking:
        """Pairs of axles by the user's weights, the best ``most``."""
        try:
            return rank_pairs(self.project, self.true.rig, list(fronts), list(rears), most=most, progress=going)
        except Stopped:
            raise GivenUp from None

    # One axle at ride

    @question(on.vehicle, on.layout, on.joints, on.way)
    def motion(self, end: str) -> AxleMotion | None:
        """The axle on its links; ``None`` without links. Raises for links that do not hold it."""
        layout, s = self.project.layout(end), self.project.settings
        if layout is None or layout.leaf is not None:
            return None
        return axle_motion(self.true.rig, layout, self.project.joints, s.droop_m, s.bump_m)

    @question(on.vehicle, on.layout, on.chosen, on.plans, on.grip, on.loads, on.way, on.schools)
    def leaf(self, end: str) -> LeafAxle | None:
        """The axle on its leaf springs; ``None`` without."""
        layout = self.project.layout(end)
        return None if layout is None else leaf_axle(self.project, self.true.rig, layout)

    @question(
        *(on.entered, on.chosen, on.plans, on.grip, on.loads, on.layout, on.joints),
        *(on.way, on.schools, on.bands, on.units, on.notes_on_rig, on.notes_on_layout),
    )
    def gauges(self, end: str) -> tuple[Gauge, ...]:
        """The headline gauges; none without a layout, raises where :meth:`motion` does."""
        leaf = self.leaf(end)
        if leaf is not None:
            return leaf_verdict(self.project, leaf)
        motion = self.motion(end)
        return () if motion is None else verdict(self.project, motion)

    @question(on.entered, on.chosen, on.plans, on.grip, on.loads, on.way, on.schools, on.notes)
    def leaf_sure(self, found: LeafAxle) -> dict[str, LeafSure]:
        """How sure the headline numbers of leaf springs are."""
        return leaf_sure(self.project, found)

    @question()
    def panhard(self, motion: AxleMotion) -> Panhard | None:
        """The bar that locates a motion's axle sideways, if one does."""
        return panhard(motion)

    @question(on.entered, on.chosen, on.joints, on.schools, on.notes, on.survey)
    def sure(self, motion: AxleMotion) -> dict[str, HowSure]:
        """How sure the headline numbers of a motion are."""
        return how_sure(self.project, motion)

    @question(on.vehicle, on.layout, on.compared, on.joints, on.way, on.schools, on.units)
    def compared(self, end: str) -> Compared | None:
        """The layout held against the one in use."""
        shown, other = self.motion(end), self.project.compared(end)
        return None if shown is None or other is None else Compared.of(self.project, self.true.rig, shown, other)

    @question(on.vehicle, on.layout, on.joints, on.chosen, on.plans, on.grip, on.loads, on.way)
    def loads(self, end: str) -> LinkLoads | None:
        """Forces in the links for hard cases; ``None`` for leaves."""
        motion = self.motion(end)
        return None if motion is None else link_loads(self.project, self.true.rig, motion.layout)

    @question(on.vehicle, on.layout, on.joints, on.way)
    def bind(self, end: str) -> Bind | None:
        """Misalignment of the joints and give of the bushings."""
        motion = self.motion(end)
        return None if motion is None else bind(motion, self.project.joints)

    @question(on.vehicle, on.layout, on.joints, on.way)
    def steer(self, end: str) -> BumpSteer | None:
        """Bump steer, where there is a drag link."""
        motion = self.motion(end)
        return None if motion is None else bump_steer(motion)

    @question(on.vehicle, on.layout, on.joints)
    def cuts_of(self, end: str) -> tuple[LinkCut, ...]:
        """Cut cards of the layout in use."""
        layout = self.project.layout(end)
        return () if layout is None else layout_cuts(self.true.rig, layout, self.project.joints)

    @question(on.entered, on.layout, on.joints, on.chosen, on.solids, on.units)
    def fit(self, end: str) -> tuple[Fit, ...]:
        """What of the layout does not go together, by how much."""
        layout = self.project.layout(end)
        return () if layout is None else will_it_fit(self.project, layout)

    @question(on.vehicle, on.layout, on.joints, on.way, on.schools)
    def hole_map(self, end: str) -> HoleMap | None:
        """Every way to bolt the layout; raises for more ways than can be mapped."""
        layout = self.project.layout(end)
        if layout is None:
            return None
        return hole_map(self.true.rig, layout, self.project.joints, self.project.settings)

    def find(self, end: str, search: Search, told: Callable[..., bool] | None = None) -> Found:
        """Search for layouts that meet bands; not kept: the answers are taken into the project."""
        layout = self.project.layout(end)
        assert layout is not None
        setting = Setting.of(self.project, self.true.rig, layout)
        return find_layouts(setting, search) if told is None else find_layouts(setting, search, told)

    def propose(self, end: End, kind: Kind, layout_id: str, name: str = "") -> Proposal:
        """A layout of a kind on the surveyed rails; not kept: it is taken into the project."""
        return propose(self.project, self.true.rig, end, kind, layout_id, name)

    def switched(self, old: Layout, kind: Kind) -> Proposal:
        """A layout turned into another kind; not kept."""
        return switched(self.project, self.true.rig, old, kind)

    # One axle over its travel

    @question(on.vehicle, on.layout, on.joints, on.way)
    def best_steering_holes(self, end: str, travel: AxleTravel, *, going: Going = _on) -> tuple[HoleChoice, ...]:
        """Every combination of holes of both arms and the panhard's brackets, the best first."""
        layout, s = self.project.layout(end), self.project.settings
        assert layout is not None
        grid = travel.grid if layout.leaf is not None else None
        stopped = False

        def tell(part: float) -> bool:
            nonlocal stopped
            stopped = not going(part)
            return not stopped

        found = best_holes(self.true.rig, layout, self.project.joints, s.droop_m, s.bump_m, tell, grid)
        if stopped and not found:
            raise GivenUp
        return found

    @question(
        *(on.entered, on.vehicle, on.layout, on.joints, on.way, on.schools, on.chosen, on.plans, on.grip),
        *(on.loads, on.solids, on.survey),
    )
    def travel(self, end: str, *, going: Going = _on) -> AxleTravel | None:
        """The axle cycled; ``None`` without a layout. Raises where :meth:`motion` does, and :class:`GivenUp`."""
        if self.project.layout(end) is None:
            return None
        found = axle_travel(self.project, self.true.rig, end, going)
        if found is None:
            raise GivenUp
        return found

    @question(
        *(on.entered, on.vehicle, on.compared, on.joints, on.way, on.schools, on.chosen, on.plans, on.grip),
        on.loads,
    )
    def travel_compared(self, end: str, *, going: Going = _on) -> AxleTravel | None:
        """The compared layout cycled, without what it comes near."""
        other = self.project.compared(end)
        if other is None:
            return None
        held = msgspec.structs.replace(self.project, **{f"{end}_layout": other.id, f"{end}_compare": None})
        found = axle_travel(held, self.true.rig, end, going, touch=False)
        if found is None:
            raise GivenUp
        return found

    @question()
    def map_of(self, travel: AxleTravel) -> Ribbon:
        """Every pose of a travel judged."""
        return ribbon(travel)

    @question(on.units)
    def _travel_findings(self, travel: AxleTravel) -> tuple[Finding, ...]:
        return tuple(travel_findings(travel, self.map_of(travel), self.project.settings.units))

    @question(
        *(on.entered, on.chosen, on.plans, on.way, on.schools, on.joints, on.grip, on.loads, on.survey, on.notes),
    )
    def curve_sure(self, travel: AxleTravel, *, going: Going = _on) -> Bands:
        """1 σ of every curve of a travel."""
        found = curve_sure(self.project, self.true.rig, travel, going)
        if not found and travel.curves:
            raise GivenUp
        return found

    def behaviour(self, axles: Axles | None = None) -> Behaviour:
        """Grade, ledge, braking, side slope and ramp; of other axles than the project's where given."""
        if axles is None:
            axles = {}
            for end in ENDS:
                try:
                    axles[end] = self.travel(end)
                except StoutError:
                    axles[end] = None
        return self._behaviour(axles.get("front"), axles.get("rear"))

    @question(on.vehicle, on.choosing, on.loads, on.schools)
    def _behaviour(self, front: AxleTravel | None, rear: AxleTravel | None) -> Behaviour:
        return behaviour(self.project, self.true.rig, {"front": front, "rear": rear})

    # Judgement

    @property
    def cuts(self) -> tuple[LinkCut, ...]:
        """Cut cards of the layouts in use, rear first."""
        return tuple(c for one in ENDS for c in self.axles[one].cuts)

    @question(on.entered, on.chosen, on.solids, on.survey, on.units, on.notes_on_rig, on.layouts_used)
    def _rig_findings(self) -> tuple[Finding, ...]:
        return rig_findings(self.project, self.true)

    @question(on.survey, on.units, on.wheelbase)
    def _survey_findings(self) -> tuple[Finding, ...]:
        p = self.project
        return survey_findings(p.surveys, p.rig.wheelbase_m, p.settings.units)

    @question(
        *(on.entered, on.vehicle, on.catalogue, on.chosen, on.plans, on.choosing, on.money, on.survey),
        *(on.layouts_named, on.units),
    )
    def _swap_findings(self) -> tuple[Finding, ...]:
        return swap_findings(self.project, self.true.rig)

    @question(
        *(on.entered, on.vehicle, on.chosen, on.plans, on.grip, on.loads, on.layout, on.joints, on.way),
        *(on.schools, on.solids, on.units),
    )
    def axle_findings(self, end: str) -> tuple[Finding, ...]:
        """What motion, joints, tubes, parts and leaves of this end have to say."""
        layout = self.project.layout(end)
        return () if layout is None else tuple(self._said(self.axles[end], layout))

    def _said(self, axle: AxleStudy, layout: Layout) -> list[Finding]:
        s, unit = self.project.settings, self.project.settings.units
        out: list[Finding] = []
        if axle.motion is not None:
            out += motion_findings(axle.motion, unit)
            out += panhard_findings(axle.motion, unit)
            out += steering_findings(axle.motion, axle.steer, unit)
        if axle.bind is not None:
            out += bind_findings(layout, axle.bind)
        if axle.loads is not None:
            out += load_findings(layout, axle.loads, self.project.loads.wanted_margin, unit)
        if axle.leaf is not None:
            out += leaf_findings(axle.leaf, s.bump_m, s.droop_m, unit)
        if axle.problem is not None:
            out.append(
                Finding(axle.problem.code, "danger", axle.problem.sentence, axle.problem.hint, "layout", layout.id)
            )
        return [*out, *fit_findings(layout, self.fit(axle.end)), *cut_findings(axle.cuts, unit)]

    def cycle(self, going: Going = _on) -> None:
        """Work out the travel of both ends and of what they are held against, so that what is known is everything.
        Raises :class:`GivenUp`."""
        for n, (ask, end) in enumerate(self._travels):
            with contextlib.suppress(StoutError):
                ask(end, going=lambda part, n=n: going((n + part) / len(self._travels)))

    @property
    def _travels(self) -> tuple[tuple[Callable[..., AxleTravel | None], End], ...]:
        return tuple((ask, end) for ask in (self.travel, self.travel_compared) for end in ENDS)

    @property
    def cycled(self) -> bool:
        """Whether :meth:`cycle` has nothing left to do."""
        return all(known(ask, end)[0] for ask, end in self._travels)

    def cycles_like(self, other: Study) -> bool:
        """Whether the travel of another study is this one's too."""
        return all(rests_on_the_same(ask, end, of=other) for ask, end in self._travels)

    def travel_known(self, end: str) -> AxleTravel | None:
        """The travel of an end if it has been worked out; nothing is worked out here."""
        found: AxleTravel | None = known(self.travel, end)[1]
        return found

    def travel_compared_known(self, end: str) -> AxleTravel | None:
        """The travel of the compared layout if it has been worked out."""
        found: AxleTravel | None = known(self.travel_compared, end)[1]
        return found

    @property
    def findings(self) -> tuple[Finding, ...]:
        """Everything there is to say, the worst first; works the travel out where it is not known."""
        self.cycle()
        return self.findings_so_far

    @property
    def findings_so_far(self) -> tuple[Finding, ...]:
        """Everything there is to say without waiting for the travel (see :attr:`cycled`), the worst first."""
        found = [*self._swap_findings(), *self._rig_findings(), *self._survey_findings()]
        for end in ENDS:
            found += self.axle_findings(end)
        for end in ENDS:
            travel = self.travel_known(end)
            if travel is not None:
                found += self._travel_findings(travel)
        return tuple(sorted(found, key=lambda f: RANK[f.severity]))

    def accepted(self, finding: Finding) -> Accepted | None:
        """The acceptance of a finding, if the user gave one."""
        return next((a for a in self.project.accepted if a.code == finding.key), None)

    @property
    def open(self) -> tuple[Finding, ...]:
        """Findings not accepted, the travel's among them."""
        return tuple(f for f in self.findings if self.accepted(f) is None)

    @property
    def open_so_far(self) -> tuple[Finding, ...]:
        """Findings not accepted, without waiting for the travel."""
        return tuple(f for f in self.findings_so_far if self.accepted(f) is None)

    def _axle(self, axle_id: str) -> DonorAxle:
        return next(d for d in self.project.donors if d.id == axle_id)
