"""How the rig stands: low points on the chosen tyres, belly clearance, approach, departure and breakover."""

from __future__ import annotations

from dataclasses import dataclass

from stoutlink.core.document.rig import Rig
from stoutlink.core.mechanics.ground_angles import approach_angle, breakover_angle

Flat = tuple[float, float]


@dataclass(frozen=True)
class Standing:
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


def standing(rig: Rig) -> Standing:
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
    return Standing(
        front=front,
        belly=belly,
        rear=rear,
        approach=approach_angle(wheelbase, radii[0], known, 1.0),
        departure=approach_angle(0.0, radii[1], known, -1.0),
        breakover=breakover_angle(wheelbase, radii, known),
    )
