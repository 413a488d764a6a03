"""How the rig behaves on both axles, as plain data for JSON."""

from __future__ import annotations

import math
from typing import Any

from stoutlink.core.analysis.cycle.behaviour import Behaviour


def behaviour_results(found: Behaviour) -> dict[str, Any]:
    """JSON-ready, keys with units; ``None`` where an input is not known or no grip is enough."""
    c, d, s, one = found.climb, found.dive, found.across, found.ledge
    return {
        "grade_deg": math.degrees(found.grade),
        "rigid_front_n": found.loads[0],
        "rigid_rear_n": found.loads[1],
        "grip_all": _finite(found.needed),
        "grip_rear": _finite(found.needed_rear),
        "back_over_deg": math.degrees(found.back_over),
        "back_over_sprung_deg": _deg(found.back_over_sprung),
        "back_over_without_links_deg": _deg(found.back_over_flat),
        "nose_over_deg": math.degrees(found.nose_over),
        "rigid_tip_left_deg": math.degrees(found.tip[0]),
        "rigid_tip_right_deg": math.degrees(found.tip[1]),
        "ramp_index": None if found.ramp is None else _finite(found.ramp),
        "ramp_stopped_by": found.ramp_stopped_by,
        "climb": None
        if c is None
        else {
            "front_n": c.front,
            "rear_n": c.rear,
            "rear_share_of_thrust": c.share_rear,
            "front_travel_m": c.travel_front,
            "rear_travel_m": c.travel_rear,
            "nose_up_deg": math.degrees(c.nose_up),
        },
        "ledge": {
            "height_m": found.ledge_height,
            "front_grip_all": one.front_all,
            "front_grip_rear_drive": one.front_rear_drive,
            "rear_grip_all": one.rear_all,
            "rear_grip_rear_drive": one.rear_rear_drive,
        },
        "braking": None
        if d is None
        else {
            "deceleration_g": d.deceleration,
            "locks_first": d.locks,
            "front_drops_m": d.drop,
            "rear_rises_m": d.rise,
            "nose_down_deg": math.degrees(d.nose_down),
        },
        "side_slope": None
        if s is None
        else {
            "slope_deg": math.degrees(s.asked.slope),
            "lean_deg": _deg(s.asked.lean),
            "no_rest": s.no_rest,
            "first_lift_deg": _deg(s.lift),
            "lifts": s.lifts,
            "tip_deg": _deg(s.tip),
            "front_uphill_n": _finite(s.asked.uphill[0]),
            "front_downhill_n": _finite(s.asked.downhill[0]),
            "rear_uphill_n": _finite(s.asked.uphill[1]),
            "rear_downhill_n": _finite(s.asked.downhill[1]),
        },
    }


def _finite(value: float) -> float | None:
    return value if math.isfinite(value) else None


def _deg(value: float | None) -> float | None:
    return None if value is None else _finite(math.degrees(value))
