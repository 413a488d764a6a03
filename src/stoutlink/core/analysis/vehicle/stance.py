"""How the rig stands: low points on the chosen tyres, belly clearance, approach, departure and breakover."""

from __future__ import annotations

from msgspec import Struct

from stoutlink.core.analysis.survey.survey_points import placed_points, rail_run
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.mechanics.ground_angles import approach_angle, breakover_angle

Flat = tuple[float, float]
FRAME_NEAR = 0.6
"""A surveyed rail point must lie this near the axle on both sides, m, to say how high the frame stands over it."""


class LowPoints(Struct, frozen=True):
    """Low points (x, z) m as they stand now, and what follows: angles in rad, ``None`` where the point is not known."""

    front: Flat | None
    belly: Flat | None
    rear: Flat | None
    approach: float | None
    departure: float | None
    breakover: float | None

    @property
    def belly_clearance(self) -> float | None:
        """Height of the belly's low point, m."""
        return self.belly[1] if self.belly is not None else None


def surveyed_ride(project: Project, end: str) -> float | None:
    """Frame over axle centre as the survey has it, m: the rail's height straight over the axle less the loaded radius.

    Interpolated between the nearest rail points on both sides; ``None`` without them.
    """
    at = project.rig.wheelbase_m if end == "front" else 0.0
    run = rail_run(placed_points(project), 1.0)
    before = next((p for p in reversed(run) if p.x <= at), None)
    after = next((p for p in run if p.x >= at), None)
    if (
        before is None
        or after is None
        or before.z is None
        or after.z is None
        or max(at - before.x, after.x - at) > FRAME_NEAR
    ):
        return None
    part = 0.0 if after.x == before.x else (at - before.x) / (after.x - before.x)
    return before.z + part * (after.z - before.z) - project.rig.end(end).loaded


def low_points(rig: Rig) -> LowPoints:
    """Stand the rig on its chosen tyres; the tyre is the circle of its loaded radius (see ground_angles)."""
    s, wheelbase = rig.stance, rig.wheelbase_m
    front_up = rig.front.loaded - (s.measured_on_front_m if s.measured_on_front_m is not None else rig.front.loaded)
    rear_up = rig.rear.loaded - (s.measured_on_rear_m if s.measured_on_rear_m is not None else rig.rear.loaded)

    def lifted(place: str) -> Flat | None:
        point = s.low_point(place)
        if point is None:
            return None
        return point[0], point[1] + rear_up + (front_up - rear_up) * point[0] / wheelbase

    front, belly, rear = lifted("front_low"), lifted("belly"), lifted("rear_low")
    known = [p for p in (front, belly, rear) if p is not None]
    radii = (rig.front.loaded, rig.rear.loaded)
    return LowPoints(
        front=front,
        belly=belly,
        rear=rear,
        approach=approach_angle(wheelbase, radii[0], known, 1.0),
        departure=approach_angle(0.0, radii[1], known, -1.0),
        breakover=breakover_angle(wheelbase, radii, known),
    )
