"""A rule: its data, and a function that looks at one axle (or the pair) in the rig and says what it forces."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import cached_property

from msgspec import Struct

from stoutlink.core.advice.finding import Finding, Severity, Step
from stoutlink.core.analysis.swap.donor_in_rig import DonorInRig, donor_in_rig
from stoutlink.core.analysis.swap.fit_up import FitUp, fit_up
from stoutlink.core.analysis.swap.gear_choice import GearChoice, gear_choice
from stoutlink.core.analysis.swap.inspection import Judgement, judge
from stoutlink.core.analysis.swap.ladder import Ladder, ladder
from stoutlink.core.analysis.swap.narrowed import Narrowing, narrowing
from stoutlink.core.catalogue.donor import DonorAxle, ToothPair
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.swap import AxlePlan, planned_gears, planned_locker
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import Kind, show


class RuleCase:
    """One axle in its rig, with what the analyses say of it, each worked out when first asked."""

    def __init__(self, project: Project, rig: Rig, donor: DonorAxle) -> None:
        self.project, self.rig, self.donor = project, rig, donor
        self.plan: AxlePlan = project.plan(donor.end)
        self.other: DonorAxle | None = project.donor("rear" if donor.end == "front" else "front")
        layout = project.layout(donor.end)
        self.linked = layout is not None and layout.leaf is None
        self.locker, self.locker_guessed = planned_locker(donor, self.plan)

    @property
    def unit(self) -> UnitSystem:
        """The project's unit."""
        return self.project.settings.units

    def show(self, value: float | None, kind: Kind) -> str:
        """A value in the project's unit."""
        return show(value, kind, self.unit)

    @cached_property
    def it(self) -> DonorInRig:
        """Gears, crawl and shaft."""
        return donor_in_rig(self.rig, self.donor, self.plan, self.project.swap.choosing)

    @cached_property
    def ladder(self) -> Ladder:
        """The ladder."""
        return ladder(self.rig, self.donor, self.plan, self.project.swap.choosing)

    @cached_property
    def fit(self) -> FitUp:
        """How it sits under the rig."""
        return fit_up(self.project, self.rig, self.donor, self.plan)

    @cached_property
    def gears(self) -> GearChoice:
        """Its gear sets in this rig."""
        return gear_choice(self.project, self.rig, self.donor, self.other)

    @cached_property
    def judged(self) -> Judgement | None:
        """The inspection, if there was one."""
        found = next((i for i in self.project.swap.inspections if i.id == self.donor.id), None)
        return None if found is None else judge(self.donor, found)

    @cached_property
    def narrowed(self) -> Narrowing | None:
        """The planned narrowing, if any."""
        wanted = self.plan.width_m
        return (
            None
            if wanted is None
            else narrowing(self.project, self.donor, wanted, centre_pinion=self.plan.centre_pinion)
        )

    @property
    def pair(self) -> ToothPair | None:
        """Gears it is judged with."""
        return planned_gears(self.donor, self.plan)

    @property
    def independent(self) -> bool:
        """Whether it is an independent front that stays."""
        return self.donor.end == "front" and self.rig.drivetrain.front_axle == "independent"

    @property
    def on_road(self) -> bool:
        """Whether the rig sees a road at all."""
        return (
            self.rig.road_legal
            or self.rig.uses.part("road") + self.rig.uses.part("tow") > 0.0
            or self.rig.uses.part("rock") < 1.0
        )


Said = tuple[Severity, str, str]
"""How bad, one sentence, and why with what to do."""


class Rule(Struct, frozen=True):
    """One knock-on: its code, where it is dealt with, and the look itself."""

    code: str
    step: Step
    look: Callable[[RuleCase], Iterator[Said]]

    def findings(self, seen: RuleCase) -> Iterator[Finding]:
        """What the rule says of an axle."""
        for severity, sentence, why in self.look(seen):
            yield Finding(self.code, severity, sentence, why, self.step, seen.donor.id)


class PairRule(Struct, frozen=True):
    """One knock-on between both axles; the front one carries the analyses."""

    code: str
    step: Step
    look: Callable[[RuleCase, RuleCase], Iterator[Said]]

    def findings(self, front: RuleCase, rear: RuleCase) -> Iterator[Finding]:
        """What the rule says of a pair."""
        for severity, sentence, why in self.look(front, rear):
            yield Finding(self.code, severity, sentence, why, self.step, f"{front.donor.id}/{rear.donor.id}")
