"""Questions about one axle at ride height and near it."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from stoutlink.core.advice.leaf_verdict import leaf_verdict
from stoutlink.core.advice.verdict import Gauge, verdict
from stoutlink.core.analysis.linkage.axle_motion import AxleMotion, axle_motion
from stoutlink.core.analysis.linkage.cut_list import LinkCut, layout_cuts
from stoutlink.core.analysis.linkage.from_bump import AtRide, from_bump
from stoutlink.core.analysis.linkage.hole_map import HoleMap, HoleReach, hole_map, hole_reach
from stoutlink.core.analysis.linkage.joint_misalignment import OverConstraint, over_constraint
from stoutlink.core.analysis.linkage.leaf_axle import LeafAxle, LeafSure, leaf_axle, leaf_sure
from stoutlink.core.analysis.linkage.link_loads import LinkLoads, link_loads
from stoutlink.core.analysis.linkage.made_parts import made_parts
from stoutlink.core.analysis.linkage.many_layouts import Setting
from stoutlink.core.analysis.linkage.new_part import new_part
from stoutlink.core.analysis.linkage.other_end import at_other_end
from stoutlink.core.analysis.linkage.part import Part
from stoutlink.core.analysis.linkage.parts import layout_parts
from stoutlink.core.analysis.linkage.steering_geometry import BumpSteer, Panhard, bump_steer, panhard
from stoutlink.core.analysis.linkage.uncertainty import HowSure, how_sure
from stoutlink.core.analysis.linkage.will_it_fit import Fit, will_it_fit
from stoutlink.core.analysis.search.find import Found, find_layouts
from stoutlink.core.analysis.search.proposals import Proposal, propose, switched, with_panhard
from stoutlink.core.analysis.survey.rail_anchors import Anchored, left_behind
from stoutlink.core.analysis.vehicle.anti_numbers import drive_percent
from stoutlink.core.document.layout import Kind, Layout
from stoutlink.core.document.made_part import MadePart, PartKind
from stoutlink.core.document.search import Search
from stoutlink.core.study import parts as on
from stoutlink.core.study.axle import Compared
from stoutlink.core.study.question import question
from stoutlink.core.study.vehicle import End, VehicleQuestions


class LinkageQuestions(VehicleQuestions):
    """What can be asked of a layout in use. Questions take its end."""

    @question(on.vehicle, on.layout, on.joints, on.schools)
    def drive_over_heave(self, end: str) -> NDArray[np.float64]:
        """Anti-squat (anti-lift in front) over heave in the school in force, % by station of the motion's sweep."""
        motion, s = self.motion(end), self.project.settings
        if motion is None:
            return np.empty(0)
        return drive_percent(self.true.rig, end, motion.heave.side.slope, s.thrust_school, s.height_school)

    @question(on.vehicle, on.layout, on.joints)
    def motion(self, end: str) -> AxleMotion | None:
        """The axle on its links; ``None`` without links. Raises for links that do not hold it."""
        layout = self.project.layout(end)
        if layout is None or layout.leaf is not None:
            return None
        self.require("stance", "weight")
        return axle_motion(self.true.rig, layout, self.project.linkage.joints, layout.droop_m, layout.bump_m)

    @question(on.vehicle, on.layout, on.chosen, on.plans, on.grip, on.loads, on.schools)
    def leaf(self, end: str) -> LeafAxle | None:
        """The axle on its leaf springs; ``None`` without."""
        layout = self.project.layout(end)
        if layout is None or layout.leaf is None:
            return None
        self.require("stance", "weight", "train")
        return leaf_axle(self.project, self.true.rig, layout)

    @question(
        *(on.entered, on.chosen, on.plans, on.grip, on.loads, on.layout, on.joints),
        *(on.schools, on.bands, on.units, on.notes_on_rig, on.notes_on_layout),
    )
    def gauges(self, end: str) -> tuple[Gauge, ...]:
        """The headline gauges; none without a layout, raises where :meth:`motion` does."""
        leaf = self.leaf(end)
        if leaf is not None:
            return leaf_verdict(self.project, leaf)
        motion = self.motion(end)
        return () if motion is None else verdict(self.project, motion)

    @question(on.entered, on.chosen, on.plans, on.grip, on.loads, on.schools, on.notes)
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

    @question(on.vehicle, on.layout, on.compared, on.joints, on.schools, on.units)
    def compared(self, end: str) -> Compared | None:
        """The layout held against the one in use."""
        shown, other = self.motion(end), self.project.compared(end)
        return None if shown is None or other is None else Compared.of(self.project, self.true.rig, shown, other)

    @question(on.vehicle, on.layout, on.joints, on.chosen, on.plans, on.grip, on.loads)
    def loads(self, end: str) -> LinkLoads | None:
        """Forces in the links for hard cases; ``None`` for leaves, and while the torque they take is not entered."""
        motion = self.motion(end)
        return (
            None if motion is None or self.needed("train") else link_loads(self.project, self.true.rig, motion.layout)
        )

    @question(on.vehicle, on.layout, on.joints)
    def over_constraint(self, end: str) -> OverConstraint | None:
        """Misalignment of the joints and give of the bushings."""
        motion = self.motion(end)
        return None if motion is None else over_constraint(motion, self.project.linkage.joints)

    @question(on.vehicle, on.layout, on.joints)
    def steer(self, end: str) -> BumpSteer | None:
        """Bump steer, where there is a drag link."""
        motion = self.motion(end)
        return None if motion is None else bump_steer(motion)

    @question(on.vehicle, on.layout, on.joints)
    def cuts_of(self, end: str) -> tuple[LinkCut, ...]:
        """Cut cards of the layout in use."""
        layout = self.project.layout(end)
        if layout is not None:
            self.require("stance", "weight")
        return () if layout is None else layout_cuts(self.true.rig, layout, self.project.linkage.joints)

    @question(on.vehicle, on.layout, on.joints, on.chosen, on.welding, on.made_parts)
    def parts(self, end: str) -> tuple[Part, ...]:
        """Parts of plate that the layout in use asks for, then those of one's own."""
        layout, rig = self.project.layout(end), self.true.rig
        asked = () if layout is None else layout_parts(self.project, rig, layout)
        return (*asked, *made_parts(self.project, rig, layout, end))

    def new_part(self, kind: PartKind, name: str, end: str) -> MadePart:
        """A part of one's own to begin with; not kept: it is taken into the project."""
        return new_part(self.project, self.true.rig, kind, name, end)

    @question(on.entered, on.layout, on.joints, on.chosen, on.solids, on.units)
    def fit(self, end: str) -> tuple[Fit, ...]:
        """What of the layout does not go together, by how much."""
        layout = self.project.layout(end)
        return () if layout is None else will_it_fit(self.project, layout)

    @question(on.entered, on.layout, on.survey)
    def left_behind(self, end: str) -> tuple[Anchored, ...]:
        """Pivots whose rail has moved since they were put on it."""
        layout = self.project.layout(end)
        return () if layout is None else left_behind(layout, self.project.tape.surveys, self.project.rig)

    @question(on.vehicle, on.layout, on.joints, on.schools)
    def hole_map(self, end: str) -> HoleMap | None:
        """Every way to bolt the layout; raises for more ways than can be mapped."""
        layout = self.project.layout(end)
        if layout is None:
            return None
        self.require("stance", "weight")
        return hole_map(self.true.rig, layout, self.project.linkage.joints, self.project.settings)

    @question(on.vehicle, on.layout, on.joints, on.schools)
    def hole_reach(self, end: str, bracket_id: str) -> tuple[HoleReach, ...]:
        """What the holes of one bracket do to the mapped numbers, and two holes more."""
        layout = self.project.layout(end)
        bracket = None if layout is None else next((b for b in layout.brackets if b.id == bracket_id), None)
        if layout is None or bracket is None:
            return ()
        self.require("stance", "weight")
        return hole_reach(self.true.rig, layout, self.project.linkage.joints, self.project.settings, bracket)

    def find(self, end: str, search: Search, told: Callable[..., bool] | None = None) -> Found:
        """Search for layouts that meet bands; not kept: the answers are taken into the project."""
        layout = self.project.layout(end)
        assert layout is not None
        self.require("stance", "weight")
        setting = Setting.of(self.project, self.true.rig, layout)
        return find_layouts(setting, search) if told is None else find_layouts(setting, search, told)

    def propose(self, end: End, kind: Kind, layout_id: str, name: str = "") -> Proposal:
        """A layout of a kind on the surveyed rails; not kept: it is taken into the project."""
        self.require("stance", "weight")
        return propose(self.project, self.true.rig, end, kind, layout_id, name)

    def from_bump(self, layout: Layout, up: float) -> AtRide:
        """A layout whose pivots were measured with the axle ``up`` m above ride, at ride; not kept."""
        self.require("stance")
        return from_bump(self.true.rig, layout, up)

    def at_other_end(self, layout: Layout, new_id: str, name: str) -> Layout:
        """A layout taken to the other axle; not kept."""
        self.require("stance")
        return at_other_end(self.true.rig, layout, new_id, name)

    def with_panhard(self, layout: Layout) -> Proposal:
        """A layout with a panhard beside what hangs it; not kept."""
        self.require("stance", "weight")
        return with_panhard(self.project, self.true.rig, layout)

    def switched(self, old: Layout, kind: Kind) -> Proposal:
        """A layout turned into another kind; not kept."""
        self.require("stance", "weight")
        return switched(self.project, self.true.rig, old, kind)
