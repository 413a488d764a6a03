"""The study of a project: everything that can be asked of it. Window, command line, reports and tests all ask here."""

from __future__ import annotations

from stoutlink.core.advice.finding import RANK, Finding
from stoutlink.core.advice.hanging_rules import (
    fit_findings,
    leaf_findings,
    load_findings,
    over_constraint_findings,
    panhard_findings,
    shock_findings,
    steering_findings,
)
from stoutlink.core.advice.layout_rules import anchor_findings, cut_findings, default_findings, motion_findings
from stoutlink.core.advice.part_rules import part_findings
from stoutlink.core.advice.picture_rules import picture_findings
from stoutlink.core.advice.plausible import plausible_findings
from stoutlink.core.advice.rig_rules import rig_findings
from stoutlink.core.advice.station_rules import station_findings
from stoutlink.core.advice.survey_rules import mesh_findings, survey_findings
from stoutlink.core.advice.swap_rules.findings import swap_findings
from stoutlink.core.advice.travel_rules import overlap_findings
from stoutlink.core.advice.weld_rules import weld_findings
from stoutlink.core.analysis.cycle.solids_apart import overlaps
from stoutlink.core.analysis.linkage.part import Part, PartChanges, part_changes
from stoutlink.core.analysis.vehicle.lacking import NotEntered
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.link_work import TubeCope
from stoutlink.core.document.project import Accepted, Project
from stoutlink.core.mechanics.cope import Cope, cope
from stoutlink.core.study import parts as on
from stoutlink.core.study.axle import AxleStudy
from stoutlink.core.study.log import LogQuestions
from stoutlink.core.study.question import question
from stoutlink.core.study.vehicle import ENDS

RESTS_ON = ("rig", "tape", "layout", "travel")
"""Steps a cut list rests on."""


class Study(LogQuestions):
    """What can be asked of one project. ``before`` is an earlier study: what rests on the very same parts is taken over.

    Questions about an axle take its end; ``axles`` gives them by name. Nothing is worked out before it is asked for,
    and a layout that cannot be analysed becomes a finding: only :meth:`motion` and what needs it raise.
    """

    def __init__(self, project: Project, before: Study | None = None) -> None:
        super().__init__(project, None if before is None else before.answers)
        self.axles: dict[str, AxleStudy] = {end: AxleStudy(self, end) for end in ENDS}
        self._list: tuple[tuple[object, ...], tuple[Finding, ...], tuple[Finding, ...]] | None = None
        """What was known late when the findings were put together, all of them, and those not accepted."""

    @question(on.entered, on.chosen, on.solids, on.survey, on.units, on.notes_on_rig, on.layouts_used)
    def _rig_findings(self) -> tuple[Finding, ...]:
        return rig_findings(self.project, self.true)

    @question(on.entered, on.vehicle, on.units, on.layouts_used)
    def _plausible(self) -> tuple[Finding, ...]:
        return plausible_findings(self.project, self.true)

    @question(on.survey, on.units, on.wheelbase)
    def _survey_findings(self) -> tuple[Finding, ...]:
        p = self.project
        return survey_findings(p.tape.surveys, p.rig.wheelbase_m, p.settings.units)

    @question(on.pictures, on.units)
    def _picture_findings(self) -> tuple[Finding, ...]:
        out: list[Finding] = []
        for one in self.project.tape.photos:
            found = self.picture(one.id)
            if found is not None:
                out += picture_findings(found, self.traced(one.id), self.project.settings.units)
        return tuple(out)

    @question(on.solids, on.units)
    def _overlap_findings(self) -> tuple[Finding, ...]:
        return tuple(overlap_findings(overlaps(self.project), self.project.settings.units))

    @question(on.solids, on.notes, on.units)
    def _mesh_findings(self) -> tuple[Finding, ...]:
        return mesh_findings(self.project)

    @question(
        *(on.entered, on.vehicle, on.catalogue, on.chosen, on.plans, on.choosing, on.money, on.survey),
        *(on.layouts_named, on.units, on.pinions, on.cases),
    )
    def _swap_findings(self) -> tuple[Finding, ...]:
        return () if self.needs else swap_findings(self.project, self.true.rig)

    @question(
        *(on.entered, on.vehicle, on.chosen, on.plans, on.grip, on.loads, on.layout, on.joints),
        *(on.schools, on.solids, on.survey, on.units, on.cut_parts, on.stations, on.welding, on.made_parts),
    )
    def axle_findings(self, end: str) -> tuple[Finding, ...]:
        """What motion, joints, tubes, parts and leaves of this end have to say."""
        layout = self.project.layout(end)
        said = [] if layout is None else self._said(self.axles[end], layout)
        unit = self.project.settings.units
        parts = [] if self.needed("stance", "weight") else self._part_findings(end)
        return (*said, *parts, *station_findings(self.station_sheet(end), unit), *self._weld_findings(end))

    def _said(self, axle: AxleStudy, layout: Layout) -> list[Finding]:
        unit = self.project.settings.units
        out: list[Finding] = []
        if axle.motion is not None:
            out += motion_findings(axle.motion, unit)
            out += panhard_findings(axle.motion, unit)
            out += steering_findings(axle.motion, axle.steer, unit)
        if axle.over_constraint is not None:
            out += over_constraint_findings(layout, axle.over_constraint)
        if axle.loads is not None:
            out += load_findings(layout, axle.loads, self.project.linkage.loads.wanted_margin, unit)
        if axle.leaf is not None:
            out += leaf_findings(axle.leaf, axle.leaf.layout.bump_m, axle.leaf.layout.droop_m, unit)
        out += shock_findings(layout, unit)
        if axle.problem is not None and not isinstance(axle.problem, NotEntered):
            out.append(
                Finding(axle.problem.code, "danger", axle.problem.sentence, axle.problem.hint, "layout", layout.id)
            )
        out += anchor_findings(layout, self.left_behind(axle.end), unit)
        return [
            *out,
            *fit_findings(layout, self.fit(axle.end)),
            *cut_findings(axle.cuts, unit),
        ]

    @question(on.layout, on.joints, on.notes)
    def _default_findings(self, end: str) -> tuple[Finding, ...]:
        layout = self.project.layout(end)
        return () if layout is None else default_findings(self.project, layout)

    @property
    def findings(self) -> tuple[Finding, ...]:
        """Everything there is to say, the worst first; works the travel out where it is not known."""
        self.cycle()
        return self.findings_so_far

    @property
    def findings_so_far(self) -> tuple[Finding, ...]:
        """Everything there is to say without waiting for the travel (see :attr:`cycled`), the worst first."""
        return self._listed()[0]

    def _listed(self) -> tuple[tuple[Finding, ...], tuple[Finding, ...]]:
        """All findings, and those not accepted: put together again only when the travel or what was built is known anew."""
        late = (*(ask(end) for ask in (self.travel_known, self.as_built_known) for end in ENDS), self.cycled)
        if self._list is None or any(a is not b for a, b in zip(self._list[0], late, strict=True)):
            found = self._put_together()
            self._list = late, found, tuple(f for f in found if self.accepted(f) is None)
        return self._list[1:]

    def _put_together(self) -> tuple[Finding, ...]:
        found = [*self._swap_findings(), *self._rig_findings(), *self._plausible(), *self._survey_findings()]
        found += (*self._overlap_findings(), *self._mesh_findings(), *self._picture_findings())
        for end in ENDS:
            found += (*self.axle_findings(end), *self._default_findings(end))
        found += (*self._bench_findings(), *self._log_findings())
        for end in ENDS:
            travel = self.travel_known(end)
            if travel is not None:
                found += self._travel_findings(travel)
            built = self.as_built_known(end)
            if built is not None:
                found += self._built_findings(built)
        return tuple(sorted(found, key=lambda f: RANK[f.severity]))

    def accepted(self, finding: Finding) -> Accepted | None:
        """The acceptance of a finding, if the user gave one."""
        if not finding.can_be_accepted:
            return None
        return next((a for a in self.project.accepted if a.code == finding.key), None)

    @property
    def open(self) -> tuple[Finding, ...]:
        """Findings not accepted, the travel's among them."""
        return tuple(f for f in self.findings if self.accepted(f) is None)

    @property
    def open_so_far(self) -> tuple[Finding, ...]:
        """Findings not accepted, without waiting for the travel."""
        return self._listed()[1]

    @question()
    def cope(self, one: TubeCope) -> Cope | str:
        """The line a tube's end is cut along, or why there is none."""
        big = None if one.other_m is None else 0.5 * one.other_m
        try:
            return cope(0.5 * one.od_m, one.wall_m, big, one.angle_rad, one.offset_m)
        except ValueError as why:
            return str(why)

    @question(on.cut_parts)
    def part_changes(self, part: Part) -> PartChanges | None:
        """What has changed of a part since it was cut."""
        return part_changes(part, self.project.fabrication.cut_parts)

    def _part_findings(self, end: str) -> list[Finding]:
        parts = self.parts(end)
        return list(part_findings(parts, {p.id: self.part_changes(p) for p in parts}, self.project.settings.units))

    def _weld_findings(self, end: str) -> list[Finding]:
        unit = self.project.settings.units
        return list(weld_findings(self.weld_base(end), self._stations(end), unit))

    @property
    def cut_waits(self) -> tuple[str, ...]:
        """Why the cut list is not settled, in words; nothing once it is. Only what is known is looked at."""
        steps = [f.step for f in self.open_so_far if f.step == "cut" and f.severity != "note"]
        dangers = [f for f in self.open_so_far if f.severity == "danger" and f.step in RESTS_ON]
        where = ", ".join(step.capitalize() for step in RESTS_ON if any(f.step == step for f in dangers))
        out = [f"{len(steps)} open in Cut"] if steps else []
        if dangers:
            out.append(f"{len(dangers)} danger{'s' if len(dangers) > 1 else ''} open in {where}")
        if self.needs:
            out.append(f"{len(self.needs)} of the rig's numbers not entered")
        elif not self.cycled:
            out.append("not cycled yet")
        return tuple(out)
