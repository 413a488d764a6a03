"""Everything there is to say about a project: motions, gauges, cuts and findings. The one call a front end makes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from stoutlink.core.advice.comparison import differences
from stoutlink.core.advice.finding import RANK, Finding
from stoutlink.core.advice.layout_rules import cut_findings, motion_findings
from stoutlink.core.advice.rig_rules import rig_findings
from stoutlink.core.advice.survey_rules import survey_findings
from stoutlink.core.advice.swap_rules.findings import swap_findings
from stoutlink.core.advice.verdict import Gauge, gauge_values, verdict
from stoutlink.core.analysis.axle_motion import AxleMotion, axle_motion
from stoutlink.core.analysis.cut_list import LinkCut, layout_cuts
from stoutlink.core.analysis.true_rig import TrueRig, true_rig
from stoutlink.core.analysis.uncertainty import zero_sigma
from stoutlink.core.document.project import Accepted, Project
from stoutlink.core.document.survey import Survey
from stoutlink.core.errors import StoutError
from stoutlink.core.numerics.remembering import remember_by_identity
from stoutlink.core.quantity.length_text import UnitSystem

End = Literal["rear", "front"]
ENDS: tuple[End, End] = ("rear", "front")


@dataclass(frozen=True)
class Compared:
    """The layout held against the one in use: its motion and headline numbers by gauge, or why there are none; the differences in words."""

    name: str
    motion: AxleMotion | None
    values: dict[str, float]
    words: tuple[str, ...]


@dataclass(frozen=True)
class AxleReview:
    """One end: its motion and gauges, or why there are none."""

    end: End
    motion: AxleMotion | None
    gauges: tuple[Gauge, ...]
    problem: StoutError | None
    compared: Compared | None = None


@dataclass(frozen=True)
class Review:
    """The whole project judged."""

    project: Project
    true: TrueRig
    axles: dict[str, AxleReview]
    cuts: tuple[LinkCut, ...]
    findings: tuple[Finding, ...]

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
    unit = project.settings.units
    true = true_rig(project)
    axles: dict[str, AxleReview] = {}
    cuts: tuple[LinkCut, ...] = ()
    found: list[Finding] = []
    found += swap_findings(project, true.rig)
    found += rig_findings(project, true)
    found += _survey_findings(project)
    for one in ENDS:
        axles[one] = before.axles[one] if before is not None and _same_inputs(before.project, project, one) else _axle(project, true, one)
        layout, motion, problem = project.layout(one), axles[one].motion, axles[one].problem
        if motion is not None:
            found += motion_findings(motion, unit)
        if problem is not None and layout is not None:
            found.append(Finding(problem.code, "danger", problem.sentence, problem.hint, "layout", layout.id))
        elif layout is not None:
            one_cut = layout_cuts(true.rig, layout, project.joints)
            cuts += one_cut
            found += cut_findings(one_cut, unit)
    return Review(project, true, axles, cuts, tuple(sorted(found, key=lambda f: RANK[f.severity])))


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
    )


def _axle(project: Project, true: TrueRig, end: End) -> AxleReview:
    layout = project.layout(end)
    if layout is None:
        return AxleReview(end, None, (), None)
    s = project.settings
    try:
        motion = axle_motion(true.rig, layout, project.joints, s.droop_m, s.bump_m)
    except StoutError as why:
        return AxleReview(end, None, (), why)
    return AxleReview(end, motion, verdict(project, motion), None, _compared(project, true, motion, end))


def _compared(project: Project, true: TrueRig, shown: AxleMotion, end: End) -> Compared | None:
    other = project.compared(end)
    if other is None or other.id == shown.layout.id:
        return None
    s = project.settings
    try:
        motion = axle_motion(true.rig, other, project.joints, s.droop_m, s.bump_m)
    except StoutError as why:
        return Compared(other.name, None, {}, (f"{other.name} cannot be compared: {why.sentence}",))
    return Compared(other.name, motion, gauge_values(s, motion), differences(s, shown, motion))
