"""Everything there is to say about a project: motions, gauges, cuts and findings. The one call a front end makes."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

from stoutlink.core.advice.comparison import differences
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
from stoutlink.core.advice.swap_rules.findings import swap_findings
from stoutlink.core.advice.verdict import Gauge, gauge_values, verdict
from stoutlink.core.analysis.linkage.axle_motion import AxleMotion, axle_motion
from stoutlink.core.analysis.linkage.cut_list import LinkCut, layout_cuts
from stoutlink.core.analysis.linkage.joint_misalignment import Bind, bind
from stoutlink.core.analysis.linkage.leaf_axle import LeafAxle, leaf_axle
from stoutlink.core.analysis.linkage.link_loads import LinkLoads, link_loads
from stoutlink.core.analysis.linkage.steering_geometry import BumpSteer, bump_steer
from stoutlink.core.analysis.linkage.uncertainty import zero_sigma
from stoutlink.core.analysis.linkage.will_it_fit import will_it_fit
from stoutlink.core.analysis.vehicle.effective_vehicle import TrueRig, true_rig
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.project import Accepted, Project
from stoutlink.core.document.survey import Survey
from stoutlink.core.errors import StoutError
from stoutlink.core.numerics.remembering import remember_by_identity
from stoutlink.core.quantity.length_text import UnitSystem

End = Literal["rear", "front"]
ENDS: tuple[End, End] = ("rear", "front")


@dataclass(frozen=True)
class Compared:
    """The layout held against the one in use: its motion and headline numbers by gauge, or why there are none; the
    differences in words.
    """

    name: str
    motion: AxleMotion | None
    values: dict[str, float]
    words: tuple[str, ...]


@dataclass(frozen=True, eq=False)
class AxleReview:
    """One end: its motion on links or its leaf springs, with gauges; or why there are none. What costs more is worked
    out when it is asked for.
    """

    project: Project
    true: TrueRig
    end: End
    motion: AxleMotion | None = None
    gauges: tuple[Gauge, ...] = ()
    problem: StoutError | None = None
    compared: Compared | None = None
    leaf: LeafAxle | None = None

    @property
    def layout(self) -> Layout | None:
        """The layout in use."""
        return self.project.layout(self.end)

    @cached_property
    def loads(self) -> LinkLoads | None:
        """Forces in the links for hard cases; ``None`` for leaves, and for what cannot be analysed."""
        return None if self.motion is None else link_loads(self.project, self.true.rig, self.motion.layout)

    @cached_property
    def bind(self) -> Bind | None:
        """Lean of the joints and give of the bushings."""
        return None if self.motion is None else bind(self.motion, self.project.joints)

    @cached_property
    def steer(self) -> BumpSteer | None:
        """Bump steer, where there is a drag link."""
        return None if self.motion is None else bump_steer(self.motion)

    @cached_property
    def cuts(self) -> tuple[LinkCut, ...]:
        """Cut cards of the layout in use."""
        return (
            ()
            if self.layout is None or self.problem is not None
            else layout_cuts(self.true.rig, self.layout, self.project.joints)
        )

    @cached_property
    def findings(self) -> tuple[Finding, ...]:
        """What motion, joints, tubes, parts and leaves of this end have to say."""
        return () if self.layout is None else _said(self.project, self, self.layout)


@dataclass(frozen=True, eq=False)
class Review:
    """The whole project judged."""

    project: Project
    true: TrueRig
    axles: dict[str, AxleReview]
    travelled: tuple[Finding, ...] = ()
    """What cycling the axles has to say, once somebody has (see :meth:`with_travel`)."""

    def with_travel(self, found: tuple[Finding, ...]) -> Review:
        """The same with what cycling the axles has to say."""
        return replace(self, travelled=found)

    @cached_property
    def cuts(self) -> tuple[LinkCut, ...]:
        """Cut cards of the layouts in use, rear first."""
        return tuple(c for one in ENDS for c in self.axles[one].cuts)

    @cached_property
    def findings(self) -> tuple[Finding, ...]:
        """Everything there is to say, the worst first."""
        found: list[Finding] = []
        found += swap_findings(self.project, self.true.rig)
        found += rig_findings(self.project, self.true)
        found += _survey_findings(self.project)
        found += (f for one in ENDS for f in self.axles[one].findings)
        found += self.travelled
        return tuple(sorted(found, key=lambda f: RANK[f.severity]))

    def accepted(self, finding: Finding) -> Accepted | None:
        """The acceptance of a finding, if the user gave one."""
        return next((a for a in self.project.accepted if a.code == finding.key), None)

    @property
    def open(self) -> tuple[Finding, ...]:
        """Findings not accepted."""
        return tuple(f for f in self.findings if self.accepted(f) is None)


def review(project: Project, before: Review | None = None) -> Review:
    """Judge a project. A layout that cannot be analysed becomes a finding; nothing raises.

    ``before`` is an earlier review: an end whose inputs are the very same values keeps its answer.
    """
    true = true_rig(project)
    axles: dict[str, AxleReview] = {
        one: before.axles[one]
        if before is not None and _same_inputs(before.project, project, one)
        else _axle(project, true, one)
        for one in ENDS
    }
    return Review(project, true, axles)


def _said(project: Project, axle: AxleReview, layout: Layout) -> tuple[Finding, ...]:
    """What motion, joints, tubes, parts and leaves of one end have to say."""
    unit = project.settings.units
    out: list[Finding] = []
    if axle.motion is not None:
        out += motion_findings(axle.motion, unit)
        out += panhard_findings(axle.motion, unit)
        out += steering_findings(axle.motion, axle.steer, unit)
    if axle.bind is not None:
        out += bind_findings(layout, axle.bind)
    if axle.loads is not None:
        out += load_findings(layout, axle.loads, project.loads.wanted_margin, unit)
    if axle.leaf is not None:
        out += leaf_findings(axle.leaf, project.settings.bump_m, project.settings.droop_m, unit)
    if axle.problem is not None:
        out.append(Finding(axle.problem.code, "danger", axle.problem.sentence, axle.problem.hint, "layout", layout.id))
    return (*out, *fit_findings(layout, will_it_fit(project, layout)), *cut_findings(axle.cuts, unit))


@remember_by_identity(4)
def _findings_of(surveys: tuple[Survey, ...], wheelbase: float, units: UnitSystem) -> tuple[Finding, ...]:
    return survey_findings(surveys, wheelbase, units)


def _survey_findings(project: Project) -> tuple[Finding, ...]:
    return _findings_of(project.surveys, project.rig.wheelbase_m, project.settings.units)


def _same_inputs(old: Project, new: Project, end: End) -> bool:
    return (
        old.rig is new.rig
        and old.donors is new.donors
        and old.front_donor == new.front_donor
        and old.rear_donor == new.rear_donor
        and zero_sigma(old) == zero_sigma(new)
        and old.layout(end) is new.layout(end)
        and old.compared(end) is new.compared(end)
        and old.joints is new.joints
        and old.settings is new.settings
        and old.targets is new.targets
        and old.entries is new.entries
        and old.choosing is new.choosing
        and old.loads is new.loads
        and old.solids is new.solids
        and old.plan(end) is new.plan(end)
    )


def _axle(project: Project, true: TrueRig, end: End) -> AxleReview:
    layout, s = project.layout(end), project.settings
    if layout is None:
        return AxleReview(project, true, end)
    if layout.leaf is not None:
        found = leaf_axle(project, true.rig, layout)
        assert found is not None
        return AxleReview(project, true, end, None, leaf_verdict(project, found), leaf=found)
    try:
        motion = axle_motion(true.rig, layout, project.joints, s.droop_m, s.bump_m)
    except StoutError as why:
        return AxleReview(project, true, end, problem=why)
    return AxleReview(project, true, end, motion, verdict(project, motion), None, _compared(project, true, motion, end))


def _compared(project: Project, true: TrueRig, shown: AxleMotion, end: End) -> Compared | None:
    other = project.compared(end)
    if other is None or other.id == shown.layout.id:
        return None
    if other.leaf is not None:
        return Compared(other.name, None, {}, (f"{other.name} has leaf springs; only links are held against links.",))
    s = project.settings
    try:
        motion = axle_motion(true.rig, other, project.joints, s.droop_m, s.bump_m)
    except StoutError as why:
        return Compared(other.name, None, {}, (f"{other.name} cannot be compared: {why.sentence}",))
    return Compared(other.name, motion, gauge_values(s, motion), differences(s, shown, motion))
