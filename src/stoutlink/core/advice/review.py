"""Everything there is to say about a project: motions, gauges, cuts and findings. The one call a front end makes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from stoutlink.core.advice.donor_rules import donor_findings, pair_findings
from stoutlink.core.advice.finding import RANK, Finding
from stoutlink.core.advice.layout_rules import cut_findings, motion_findings
from stoutlink.core.advice.verdict import Gauge, verdict
from stoutlink.core.analysis.axle_motion import AxleMotion, axle_motion
from stoutlink.core.analysis.cut_list import LinkCut, layout_cuts
from stoutlink.core.document.project import Accepted, Project
from stoutlink.core.errors import StoutError

End = Literal["rear", "front"]
ENDS: tuple[End, End] = ("rear", "front")


@dataclass(frozen=True)
class AxleReview:
    """One end: its motion and gauges, or why there are none."""

    end: End
    motion: AxleMotion | None
    gauges: tuple[Gauge, ...]
    problem: StoutError | None


@dataclass(frozen=True)
class Review:
    """The whole project judged."""

    project: Project
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
    axles: dict[str, AxleReview] = {}
    cuts: tuple[LinkCut, ...] = ()
    found: list[Finding] = []
    for end in ("rear", "front"):
        donor = project.donor(end)
        if donor is not None:
            found += donor_findings(project.rig, donor, unit)
    found += pair_findings(project)
    for one in ENDS:
        axles[one] = before.axles[one] if before is not None and _same_inputs(before.project, project, one) else _axle(project, one)
        layout, motion, problem = project.layout(one), axles[one].motion, axles[one].problem
        if motion is not None:
            found += motion_findings(motion, unit)
        if problem is not None and layout is not None:
            found.append(Finding(problem.code, "danger", problem.sentence, problem.hint, "layout", layout.id))
        elif layout is not None:
            one_cut = layout_cuts(project.rig, layout, project.joints)
            cuts += one_cut
            found += cut_findings(one_cut, unit)
    return Review(project, axles, cuts, tuple(sorted(found, key=lambda f: RANK[f.severity])))


def _same_inputs(old: Project, new: Project, end: End) -> bool:
    return (
        old.rig is new.rig
        and old.layout(end) is new.layout(end)
        and old.joints is new.joints
        and old.settings is new.settings
        and old.entries is new.entries
    )


def _axle(project: Project, end: End) -> AxleReview:
    layout = project.layout(end)
    if layout is None:
        return AxleReview(end, None, (), None)
    s = project.settings
    try:
        motion = axle_motion(project.rig, layout, project.joints, s.droop_m, s.bump_m)
        return AxleReview(end, motion, verdict(project, motion), None)
    except StoutError as why:
        return AxleReview(end, None, (), why)
