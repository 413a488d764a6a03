"""Questions about donor axles."""

from __future__ import annotations

from stoutlink.core.advice.finding import Finding
from stoutlink.core.advice.swap_rules.findings import donor_findings
from stoutlink.core.analysis.swap.braking import Keeps, brake_share, road_keeps
from stoutlink.core.analysis.swap.cost_to_ready import Cost, cost_to_ready
from stoutlink.core.analysis.swap.donor_in_rig import DonorInRig, donor_in_rig
from stoutlink.core.analysis.swap.donor_sure import donor_sure
from stoutlink.core.analysis.swap.fit_up import FitUp, fit_up
from stoutlink.core.analysis.swap.fitted import FittedSet, fitted_set
from stoutlink.core.analysis.swap.gear_choice import GearChoice, gear_choice
from stoutlink.core.analysis.swap.inspection import Judgement, judge
from stoutlink.core.analysis.swap.ladder import Ladder, ladder
from stoutlink.core.analysis.swap.locker_advice import LockerAdvice, locker_advice
from stoutlink.core.analysis.swap.made import MadeOf, made_of
from stoutlink.core.analysis.swap.match_matrix import Matrix, match_matrix
from stoutlink.core.analysis.swap.narrowed import Narrowing, narrowing
from stoutlink.core.analysis.swap.pick import Ranking, Stopped, rank_pairs
from stoutlink.core.analysis.swap.upgrade_effects import UpgradeEffect, upgrade_effects
from stoutlink.core.analysis.swap.upgrade_path import Path, stronger_axles, upgrade_path
from stoutlink.core.catalogue.donor import DonorAxle, ToothPair
from stoutlink.core.document.fitted_axle import as_fitted
from stoutlink.core.study import parts as on
from stoutlink.core.study.question import GivenUp, question
from stoutlink.core.study.vehicle import Going, VehicleQuestions, go_on

Gears = tuple[ToothPair | None, ToothPair | None]


class SwapQuestions(VehicleQuestions):
    """What can be asked of donor axles, chosen or not."""

    @question(on.vehicle, on.record)
    def in_rig(self, axle_id: str) -> DonorInRig:
        """A candidate as it comes, in this rig."""
        return donor_in_rig(self.true.rig, self._axle(axle_id))

    @question(on.vehicle, on.plan_of, on.choosing, on.chosen, on.money)
    def in_rig_planned(self, axle: DonorAxle) -> DonorInRig:
        """An axle with what is planned on it, in this rig."""
        return donor_in_rig(self.true.rig, self._planned(axle), self.project.plan(axle.end), self.project.swap.choosing)

    @question(on.vehicle, on.plan_of, on.choosing, on.chosen, on.money)
    def ladder(self, axle: DonorAxle) -> Ladder:
        """The weak-link ladder of an axle."""
        self.require("stance", "weight", "train")
        return ladder(self.true.rig, self._planned(axle), self.project.plan(axle.end), self.project.swap.choosing)

    @question(on.entered, on.chosen, on.notes_on_rig, on.plan_of, on.choosing, on.money)
    def ladder_sure(self, axle: DonorAxle) -> Ladder:
        """The ladder with the ± of every margin."""
        self.require("stance", "weight", "train")
        plan = self.project.plan(axle.end)
        return ladder(self.true.rig, self._planned(axle), plan, self.project.swap.choosing, sure=self.project)

    @question(on.vehicle, on.plan_of, on.choosing, on.chosen, on.money)
    def upgrade_path(self, axle: DonorAxle) -> Path:
        """What becomes the weakest once the weakest is dealt with."""
        self.require("stance", "weight", "train")
        p = self.project
        return upgrade_path(self.true.rig, self._planned(axle), p.plan(axle.end), p.swap.choosing, p.swap.prices)

    @question(on.vehicle, on.plan_of, on.choosing, on.chosen, on.money)
    def upgrade_effects(self, axle: DonorAxle) -> tuple[UpgradeEffect, ...]:
        """What every upgrade does to an axle, whatever is weakest."""
        self.require("stance", "weight", "train")
        p = self.project
        return upgrade_effects(self.true.rig, self._planned(axle), p.plan(axle.end), p.swap.choosing, p.swap.prices)

    @question(on.vehicle, on.plans, on.choosing, on.catalogue)
    def stronger_axles(self, axle: DonorAxle) -> tuple[tuple[DonorAxle, float], ...]:
        """Axles of the catalogue whose weakest part holds more."""
        self.require("stance", "weight", "train")
        return stronger_axles(self.project, self.true.rig, self.ladder(axle))

    @question(on.vehicle, on.plan_of, on.choosing)
    def lockers(self, axle: DonorAxle) -> tuple[LockerAdvice, ...]:
        """Which locker here, both schools on each."""
        self.require("stance", "weight", "train")
        return locker_advice(self.project, self.true.rig, axle)

    @question(on.vehicle, on.plans, on.chosen)
    def gears(self, axle: DonorAxle) -> GearChoice:
        """Its gear sets in this rig, against the axle chosen for the other end."""
        self.require("stance", "weight", "train")
        other = self.project.donor("rear" if axle.end == "front" else "front")
        return gear_choice(self.project, self.true.rig, axle, other)

    @question(on.entered, on.vehicle, on.plans, on.chosen, on.catalogue, on.survey, on.pinions)
    def fit_up(self, axle: DonorAxle) -> FitUp:
        """How it sits under the rig."""
        self.require("stance")
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
        return judge(axle, next((i for i in self.project.swap.inspections if i.id == axle.id), None))

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
        on.pinions,
        on.cases,
        on.units,
    )
    def donor_findings(self, axle: DonorAxle) -> tuple[Finding, ...]:
        """What an axle forces on its own, strongest first; nothing while the rig it is judged in is not entered."""
        if self.needs:
            return ()
        return donor_findings(self.project, self.true.rig, axle)

    @question(on.vehicle, on.plans, on.choosing, on.money, on.layouts_named, on.units)
    def cost(self, front: DonorAxle | None, rear: DonorAxle | None, gears: Gears | None) -> Cost:
        """Everything a pair drags in until it drives."""
        self.require("stance", "weight", "train")
        sets = None if gears is None else {"front": gears[0], "rear": gears[1]}
        return cost_to_ready(self.project, self.true.rig, front, rear, sets)

    @question(on.vehicle, on.chosen, on.plans, on.money)
    def fitted_sets(self) -> tuple[FittedSet, ...]:
        """Parts of the shelf planned into the chosen axles, with what they meet and free; ends with none left out."""
        out = []
        for end, far in (("front", "rear"), ("rear", "front")):
            axle = self.project.donor(end)
            if axle is not None and self.project.plan(end).fitted:
                out.append(fitted_set(self.project, self.true.rig, axle, self.project.donor(far)))
        return tuple(out)

    @question(on.made, on.layouts_named)
    def made_of(self, axle: DonorAxle) -> MadeOf | None:
        """What an axle is made of, whether its parts meet, and what is new in any case."""
        return made_of(self.project, axle)

    @question(on.entered, on.vehicle, on.chosen, on.plans, on.shelf, on.survey, on.pinions)
    def road_keeps(self) -> tuple[Keeps, ...]:
        """What the rig must keep on the road, and how it stands."""
        return road_keeps(self.project, self.true.rig)

    @question(on.vehicle, on.chosen, on.plans, on.shelf)
    def brake_share(self) -> float | None:
        """Part of the braking that the front does by discs and pistons."""
        front, rear = self.project.donor("front"), self.project.donor("rear")
        if front is None or rear is None:
            return None
        return brake_share(self.true.rig, self._planned(front), self._planned(rear))

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
        going: Going = go_on,
    ) -> Ranking:
        """Pairs of axles by the user's weights, the best ``most``."""
        self.require("stance", "weight", "train")
        try:
            return rank_pairs(self.project, self.true.rig, list(fronts), list(rears), most=most, progress=going)
        except Stopped:
            raise GivenUp from None

    def _planned(self, axle: DonorAxle) -> DonorAxle:
        """An axle with the parts of the shelf that go into it."""
        return as_fitted(self.project, axle)

    def _axle(self, axle_id: str) -> DonorAxle:
        return next(d for d in self.project.swap.donors if d.id == axle_id)
