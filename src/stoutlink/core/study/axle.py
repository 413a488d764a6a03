"""One end of a study by names: what is asked of its axle, a layout that cannot be analysed being a problem, not a failure."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

from msgspec import Struct

from stoutlink.core.advice.comparison import differences
from stoutlink.core.advice.finding import Finding
from stoutlink.core.advice.verdict import Gauge, gauge_values
from stoutlink.core.analysis.linkage.axle_motion import AxleMotion, axle_motion
from stoutlink.core.analysis.linkage.cut_list import LinkCut
from stoutlink.core.analysis.linkage.joint_misalignment import OverConstraint
from stoutlink.core.analysis.linkage.leaf_axle import LeafAxle
from stoutlink.core.analysis.linkage.link_loads import LinkLoads
from stoutlink.core.analysis.linkage.steering_geometry import BumpSteer, Panhard
from stoutlink.core.analysis.vehicle.effective_vehicle import EffectiveVehicle
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.errors import StoutError

if TYPE_CHECKING:
    from stoutlink.core.study.study import Study


class Compared(Struct, frozen=True):
    """The layout held against the one in use: its motion and headline numbers by gauge, or why there are none; the
    differences in words."""

    name: str
    motion: AxleMotion | None
    values: dict[str, float]
    words: tuple[str, ...]

    @staticmethod
    def of(project: Project, rig: Rig, shown: AxleMotion, other: Layout) -> Compared | None:
        """Hold ``other`` against what is shown; ``None`` when it is the same layout."""
        if other.id == shown.layout.id:
            return None
        if other.leaf is not None:
            said = f"{other.name} has leaf springs; only links are held against links."
            return Compared(other.name, None, {}, (said,))
        s = project.settings
        try:
            motion = axle_motion(rig, other, project.linkage.joints, other.droop_m, other.bump_m)
        except StoutError as why:
            return Compared(other.name, None, {}, (f"{other.name} cannot be compared: {why.sentence}",))
        return Compared(other.name, motion, gauge_values(s, motion), differences(s, shown, motion))


class AxleStudy:
    """Everything about one end; what costs more is worked out when it is asked for."""

    def __init__(self, study: Study, end: str) -> None:
        self._study, self.end = study, end

    @property
    def project(self) -> Project:
        """The project."""
        return self._study.project

    @property
    def true(self) -> EffectiveVehicle:
        """The effective vehicle."""
        return self._study.true

    @property
    def layout(self) -> Layout | None:
        """The layout in use."""
        return self.project.layout(self.end)

    @cached_property
    def _motion(self) -> tuple[AxleMotion | None, StoutError | None]:
        try:
            self._study.leaf(self.end)
            return self._study.motion(self.end), None
        except StoutError as why:
            return None, why

    @property
    def motion(self) -> AxleMotion | None:
        """Its motion on links; ``None`` for leaves and for what cannot be analysed."""
        return self._motion[0]

    @property
    def problem(self) -> StoutError | None:
        """Why it cannot be analysed."""
        return self._motion[1]

    @cached_property
    def leaf(self) -> LeafAxle | None:
        """Its leaf springs."""
        return None if self.problem is not None else self._study.leaf(self.end)

    @cached_property
    def gauges(self) -> tuple[Gauge, ...]:
        """The headline gauges."""
        return () if self.problem is not None else self._study.gauges(self.end)

    @cached_property
    def compared(self) -> Compared | None:
        """The layout it is held against."""
        return None if self.motion is None else self._study.compared(self.end)

    @cached_property
    def loads(self) -> LinkLoads | None:
        """Forces in the links for hard cases."""
        return None if self.motion is None else self._study.loads(self.end)

    @cached_property
    def over_constraint(self) -> OverConstraint | None:
        """Misalignment of the joints and give of the bushings."""
        return None if self.motion is None else self._study.over_constraint(self.end)

    @cached_property
    def steer(self) -> BumpSteer | None:
        """Bump steer, where there is a drag link."""
        return None if self.motion is None else self._study.steer(self.end)

    @property
    def panhard(self) -> Panhard | None:
        """The bar that locates it sideways, if one does."""
        return None if self.motion is None else self._study.panhard(self.motion)

    @cached_property
    def cuts(self) -> tuple[LinkCut, ...]:
        """Cut cards."""
        return () if self.problem is not None else self._study.cuts_of(self.end)

    @property
    def findings(self) -> tuple[Finding, ...]:
        """What it has to say at ride and over the links' way."""
        return self._study.axle_findings(self.end)
