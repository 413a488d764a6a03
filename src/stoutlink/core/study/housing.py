"""Questions about the housings: stations, welds, what is set out on them."""

from __future__ import annotations

from typing import TYPE_CHECKING

from stoutlink.core.analysis.linkage.cut_list import LinkCut
from stoutlink.core.analysis.linkage.plate_plan import PlatePlan, plate_plan
from stoutlink.core.analysis.linkage.set_out import SetOut, set_out
from stoutlink.core.analysis.linkage.station_sheet import StationSheet, station_sheet
from stoutlink.core.analysis.linkage.stock_plan import TubePlan, stock_plan
from stoutlink.core.analysis.linkage.weld_plan import (
    FromReadings,
    WeldBase,
    WeldSheet,
    from_readings,
    weld_base,
    weld_sheet,
)
from stoutlink.core.analysis.vehicle.axle_place import axle_centre
from stoutlink.core.document.stations import Stations
from stoutlink.core.study import parts as on
from stoutlink.core.study.linkage import LinkageQuestions
from stoutlink.core.study.question import question
from stoutlink.core.study.vehicle import ENDS

if TYPE_CHECKING:
    from stoutlink.core.study.axle import AxleStudy


class HousingQuestions(LinkageQuestions):
    """What can be asked of the housing of an axle. Questions take its end."""

    axles: dict[str, AxleStudy]
    """Both axles, as the study has them."""

    @question(on.stations, on.layouts_used, on.units)
    def station_sheet(self, end: str) -> StationSheet | None:
        """Where the pads go on a housing, and whether what was read closes."""
        one = self._stations(end)
        return None if one is None else station_sheet(one, self.project.layout(end), self.project.settings.units)

    @question(on.vehicle, on.layout, on.joints, on.chosen, on.stations, on.welding, on.made_parts)
    def weld_base(self, end: str) -> WeldBase | None:
        """What is welded on a housing: seams and beads, heat and pull of all; ``None`` without a plan."""
        plan = next((one for one in self.project.fabrication.welding if one.id == end), None)
        layout = None if self.needed("stance", "weight") else self.project.layout(end)
        return None if plan is None else weld_base(self.project, self.true.rig, layout, plan)

    @question(on.vehicle, on.layout, on.joints, on.chosen, on.stations, on.welding, on.made_parts)
    def weld_sheet(self, end: str) -> WeldSheet | None:
        """The beads of a housing in their order; takes a moment."""
        base = self.weld_base(end)
        return None if base is None else weld_sheet(base)

    @question(on.vehicle, on.layout, on.joints, on.chosen, on.stations, on.welding, on.made_parts)
    def weld_readings(self, end: str) -> FromReadings | None:
        """The shrinkage that readings ask for."""
        base = self.weld_base(end)
        return None if base is None else from_readings(base, self._stations(end))

    @question(on.vehicle, on.layout, on.joints, on.chosen, on.stations, on.welding, on.made_parts)
    def set_out(self, end: str) -> tuple[SetOut, ...]:
        """Where everything that is welded to a housing goes on it; nothing while the rig is not entered."""
        if self.needed("stance", "weight"):
            return ()
        sheet = self.station_sheet(end)
        centre = axle_centre(self.true.rig, end)
        return set_out(self.project, self.parts(end), centre, end, None if sheet is None else sheet.span)

    def _stations(self, end: str) -> Stations | None:
        return next((s for s in self.project.fabrication.stations if s.id == end), None)

    @property
    def cuts(self) -> tuple[LinkCut, ...]:
        """Cut cards of the layouts in use, rear first."""
        return tuple(c for one in ENDS for c in self.axles[one].cuts)

    @question(on.vehicle, on.layouts_used, on.joints, on.chosen, on.welding, on.made_parts, on.cut_parts, on.plate)
    def plate_plan(self) -> tuple[PlatePlan, ...]:
        """How the parts of both axles that are not cut yet lie on plates."""
        parts = tuple(one for end in ("rear", "front") for one in self.parts(end))
        return plate_plan(
            parts, frozenset(c.id for c in self.project.fabrication.cut_parts), self.project.fabrication.plate
        )

    @question(on.vehicle, on.layouts_used, on.joints, on.stock)
    def stock_plan(self) -> tuple[TubePlan, ...]:
        """Which link or brace still to be cut comes from which bar."""
        return stock_plan(
            self.cuts, self.project.fabrication.stock, self.project.fabrication.sawing, self.project.fabrication.copes
        )
