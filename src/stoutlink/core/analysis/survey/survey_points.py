"""The survey in vehicle axes: every reading averaged, edges turned into centres, one transform applied."""

from __future__ import annotations

import math
from functools import lru_cache

from msgspec import Struct

from stoutlink.core.document.default_sigma import PLUMB, TAPE
from stoutlink.core.document.project import Project
from stoutlink.core.document.survey import Datum, Readings, Survey, SurveyPoint
from stoutlink.core.mechanics.tape import hidden_centre, mean_reading, tape_to_vehicle
from stoutlink.core.numerics.remembering import remember_by_identity


class Averaged(Struct, frozen=True):
    """One kind of reading at one point, m: the centre it means, its 1 σ, the range of repeats, how many were read,
    and 1 σ of a single one.
    """

    centre: float
    sigma: float
    spread: float
    count: int
    single: float


class ReadPoint(Struct, frozen=True):
    """A point's readings averaged, still along the tape; ``None`` where nothing was read. ``half`` is the offset of
    one side from the centreline.
    """

    station: Averaged | None
    height: Averaged | None
    half: Averaged | None
    edge_without_width: bool


class Placed(Struct, frozen=True):
    """A point in vehicle axes, m. ``sides`` are the y of each side it stands for; ``sigma`` of x, y, z."""

    survey: str
    point: SurveyPoint
    read: ReadPoint
    x: float
    z: float | None
    sides: tuple[float, ...]
    sigma: tuple[float, float, float]


@lru_cache(maxsize=16384)
def read_point(point: SurveyPoint) -> ReadPoint:
    """Average a point's readings and turn edge readings into the hidden centre."""
    width = point.diameter_m or 0.0
    missing = False

    def one(readings: Readings, sigma: float, edge: str, full: bool) -> Averaged | None:
        nonlocal missing
        if not readings:
            return None
        mean, mean_sigma, spread = mean_reading(tuple(r.value_m for r in readings), sigma)
        try:
            mean = hidden_centre(mean, edge, width, full=full)  # type: ignore[arg-type]
        except ValueError:
            missing = True
        return Averaged(mean, mean_sigma, spread, len(readings), sigma)

    station = one(point.station, _known(point.station_sigma_m, PLUMB), point.station_edge, False)
    height = one(point.height, _known(point.height_sigma_m, TAPE), point.height_edge, False)
    full = point.across == "full"
    side = (
        one(point.side, _known(point.side_sigma_m, TAPE), point.side_edge, full) if point.across != "middle" else None
    )
    if side is not None and full:
        side = Averaged(0.5 * side.centre, 0.5 * side.sigma, side.spread, side.count, side.single)
    return ReadPoint(station, height, side, missing)


def _known(value: float | None, default: float) -> float:
    return default if value is None else value


def place_point(point: SurveyPoint, datum: Datum, wheelbase: float, survey_id: str = "") -> Placed | None:
    """Put one point into vehicle axes; ``None`` while it has no station."""
    read = read_point(point)
    if read.station is None:
        return None
    on_axle = point.kind == "axle"
    front, rear = (0.0, 0.0) if on_axle else (datum.front_rise_m, datum.rear_rise_m)
    height = read.height.centre if read.height is not None else None
    x_at, z_at = tape_to_vehicle(
        read.station.centre, height or 0.0, datum.zero_x_m, datum.direction == "forward", front, rear, wheelbase
    )
    x, z = float(x_at), None if height is None else float(z_at)
    sides: tuple[float, ...] = ()
    if point.across == "middle":
        sides = (datum.centre_offset_m,)
    elif read.half is not None:
        half = abs(read.half.centre)
        sides = {"full": (half, -half), "left": (half,), "right": (-half,)}[point.across]
        sides = tuple(y + datum.centre_offset_m for y in sides)
    sigma = (
        math.hypot(read.station.sigma, datum.zero_sigma_m),
        read.half.sigma if read.half is not None else math.inf,
        read.height.sigma if read.height is not None else math.inf,
    )
    return Placed(survey_id, point, read, x, z, sides, sigma)


def place_survey(survey: Survey, wheelbase: float) -> tuple[Placed, ...]:
    """All points of a survey that have a station, in the order they were taken."""
    return _place(survey.points, survey.datum, wheelbase, survey.id)


@remember_by_identity(16)
def _place(points: tuple[SurveyPoint, ...], datum: Datum, wheelbase: float, survey_id: str) -> tuple[Placed, ...]:
    placed = (place_point(p, datum, wheelbase, survey_id) for p in points)
    return tuple(p for p in placed if p is not None)


def placed_points(project: Project) -> tuple[Placed, ...]:
    """All points of all surveys in vehicle axes."""
    return tuple(p for survey in project.tape.surveys for p in place_survey(survey, project.rig.wheelbase_m))


def rail_run(points: tuple[Placed, ...], side: float) -> tuple[Placed, ...]:
    """The frame rail of one side (``side`` +1 left, −1 right): its points with heights, by rising x."""
    run = [
        p
        for p in points
        if p.point.kind == "rail"
        and p.z is not None
        and (p.point.across in ("full", "middle") or (p.point.across == "left") == (side > 0))
    ]
    return tuple(sorted(run, key=lambda p: p.x))
