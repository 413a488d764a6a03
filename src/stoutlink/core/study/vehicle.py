"""Questions about the vehicle and its survey."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import cached_property
from typing import Literal

from stoutlink.core.analysis.survey.clearances import extent
from stoutlink.core.analysis.survey.survey_merge import Merge, merge_survey
from stoutlink.core.analysis.survey.survey_points import Placed, place_survey
from stoutlink.core.analysis.survey.traced import (
    ACROSS,
    Known,
    PictureFit,
    Place,
    TracedPlaces,
    fit_picture,
    known_places,
    picture_notes,
    places_at,
    trace,
)
from stoutlink.core.analysis.vehicle.effective_vehicle import EffectiveVehicle, effective_vehicle
from stoutlink.core.analysis.vehicle.lacking import Group, Need, NotEntered, lacking
from stoutlink.core.analysis.vehicle.rig_numbers import SureNumber, rig_numbers, tyre_numbers
from stoutlink.core.analysis.vehicle.stance import LowPoints, low_points, surveyed_ride
from stoutlink.core.analysis.vehicle.tyre_effects import Effect, tyre_effects
from stoutlink.core.document.default_sigma import sigma_of
from stoutlink.core.document.placed_solids import placed_solids
from stoutlink.core.document.project import Project
from stoutlink.core.document.quantities import Point
from stoutlink.core.study import parts as on
from stoutlink.core.study.question import Answers, Asked, question

End = Literal["rear", "front"]
ENDS: tuple[End, End] = ("rear", "front")
Going = Callable[[float], bool]


def go_on(part: float) -> bool:
    """Nobody gives it up."""
    return True


class VehicleQuestions(Asked):
    """What can be asked of the rig, and what every other question stands on: the project and the effective vehicle."""

    def __init__(self, project: Project, answers: Answers | None = None) -> None:
        super().__init__(answers)
        self.project = project

    @cached_property
    def true(self) -> EffectiveVehicle:
        """The effective vehicle and where its numbers are from."""
        return self._true()

    @question(on.entered, on.chosen, on.plans, on.shelf)
    def _true(self) -> EffectiveVehicle:
        return effective_vehicle(self.project)

    @cached_property
    def needs(self) -> tuple[Need, ...]:
        """Numbers of the rig that nobody has entered and results would rest on."""
        return self._needs()

    @question(on.entered, on.chosen, on.notes_on_rig)
    def _needs(self) -> tuple[Need, ...]:
        return lacking(self.project, self.true)

    def needed(self, *groups: Group) -> tuple[Need, ...]:
        """What is lacking of these groups of numbers."""
        return tuple(n for n in self.needs if n.group in groups)

    def require(self, *groups: Group) -> None:
        """Raise :class:`NotEntered` when something of these groups is lacking."""
        found = self.needed(*groups)
        if found:
            raise NotEntered(found)

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
        """Which radius serves which number at one end; raises while the numbers it takes are not entered."""
        self.require("stance", "train")
        return tyre_effects(self.project, self.true.rig, end)

    @question(on.entered)
    def low_points(self) -> LowPoints:
        """How the rig stands: low points and ground angles."""
        return low_points(self.project.rig)

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

    @question(on.solids)
    def solid_boxes(self) -> tuple[tuple[Point, Point], ...]:
        """The upright box around each thing in the way, m: low and high corner."""
        return tuple(extent(one) for one in placed_solids(self.project))

    @question(on.picture)
    def picture(self, picture_id: str) -> PictureFit | None:
        """How a photograph of a plane fits its marks; ``None`` for one that is not there."""
        one = self.project.photo(picture_id)
        return None if one is None else fit_picture(one, picture_notes(self.project.entries, picture_id))

    @question(on.picture)
    def traced(self, picture_id: str) -> tuple[TracedPlaces, ...]:
        """Places of what is traced from it."""
        found = self.picture(picture_id)
        return () if found is None else trace(found, picture_notes(self.project.entries, picture_id))

    @question(on.entered, on.vehicle, on.survey, on.pictures, on.units)
    def known_places(self, picture_id: str) -> tuple[Known, ...]:
        """Places near a picture's plane that a mark may stand on."""
        one = self.project.photo(picture_id)
        placed = [p for survey in self.project.tape.surveys for p in self.placed(survey.id)]
        return () if one is None else known_places(self.project, one, placed, wheels=not self.needed("stance"))

    def seen_at(self, picture_id: str, pixel: tuple[float, float], at: Point, path: str, *, mirrored: bool) -> Place:
        """Where in its plane a pixel of a picture lies when what is seen there is as far across the view as the point ``at`` of ``path``, m; of a
        ``mirrored`` pair the one nearer to the plane."""
        found = self.picture(picture_id)
        if found is None:
            return Place((0.0, 0.0), (0.0, 0.0), "few")
        axis, depth = ACROSS[found.picture.view], found.picture.depth_m
        if depth is None:
            return Place((0.0, 0.0), (0.0, 0.0), "no_depth")
        across = at[axis]
        if mirrored and axis == 1 and abs(-across - depth) < abs(across - depth):
            across = -across
        entries = self.project.entries
        own = sigma_of(f"{path}.{axis}", at[axis], entries)
        plane = sigma_of(f"photos.{picture_id}.depth_m", depth, entries)
        return places_at(found, (pixel,), across - depth, math.hypot(own, plane))[0]

    @question(on.entered, on.survey)
    def merged(self, survey_id: str) -> Merge:
        """A survey joined to the first by the points they share; raises where that cannot be."""
        survey = self.project.survey(survey_id)
        assert survey is not None
        return merge_survey(self.placed(self.project.tape.surveys[0].id), survey, self.project.rig.wheelbase_m)
