"""The travel of one axle as plain data: what stops it, what touches, driveline and springs at ride and at their
worst.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray

from stoutlink.core.advice.travel_rules import travel_findings
from stoutlink.core.analysis.cycle.reach import Reached
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.analysis.cycle.travel_map import (
    BEYOND,
    FREE,
    NEAR,
    RUNS_OUT,
    TOUCHES,
    UNREACHED,
    clear_part,
    travel_map,
)

_STATES = {
    FREE: "free",
    NEAR: "near",
    RUNS_OUT: "runs_out",
    TOUCHES: "touches",
    BEYOND: "beyond_stops",
    UNREACHED: "not_reached",
}


def travel_results(travel: AxleTravel) -> dict[str, Any]:
    """JSON-ready, keys with units; ``None`` where a number is not known or not reached. Least and largest are over
    the poses within the stops.
    """
    g, found = travel.grid, travel_map(travel)
    inside = g.within
    shaft, springs, steer = travel.shaft, travel.springs, travel.steer
    lock = None if steer is None else steer.lock
    j = g.ride[1]
    return {
        "travel_version": 1,
        "end": travel.layout.end,
        "layout": travel.layout.id,
        "stations": {"heave": len(g.heave), "roll": len(g.roll)},
        "side_droop_m": -g.limits[0],
        "side_bump_m": g.limits[1],
        "roll_at_ride_deg": math.degrees(float(g.roll[inside[:, j]].max())) if inside[:, j].any() else None,
        "free_part": _finite(clear_part(found)),
        "poses": {name: int((found.states == state).sum()) for state, name in _STATES.items()},
        "runs_out": [word for word, _ in found.runs_out],
        "touching": [
            {
                "one": c.one,
                "other": c.other,
                "least_m": c.least,
                "wanted_m": c.wanted,
                "heave_m": None if c.apart else c.heave,
                "roll_deg": None if c.apart else math.degrees(c.roll),
                "steer_deg": None if c.steer is None else math.degrees(c.steer),
                "exact": c.least <= c.near,
            }
            for c in travel.interference.contacts
        ],
        "driveshaft": None
        if shaft is None
        else {
            "kind": shaft.shaft.kind,
            "joint_case_deg": math.degrees(shaft.at_ride[0]),
            "joint_axle_deg": math.degrees(shaft.at_ride[1]),
            "equivalent_deg": math.degrees(shaft.at_ride[2]),
            "length_m": shaft.at_ride[3],
            "largest_joint_case_deg": _degrees(_most(shaft.first, inside)),
            "largest_joint_axle_deg": _degrees(_most(shaft.second, inside)),
            "shortest_m": _least(shaft.length, inside),
            "longest_m": _most(shaft.length, inside),
            "pinion_wanted_deg": math.degrees(shaft.pinion_wanted),
            "pinion_now_deg": math.degrees(shaft.pinion_now),
            "closed_at_hand_m": shaft.closed,
            "engaged_at_ride_m": shaft.engaged_at_ride,
            "slip_left_at_ride_m": shaft.inward_at_ride,
            "carrier_assumed": shaft.carrier_assumed,
            "front_length_m": shaft.front_length if shaft.carrier is not None else None,
            "torsional_rad_per_s2": shaft.torsional,
            "whirl_part": shaft.whirl_part,
            "snout_assumed": shaft.snout_assumed,
        },
        "lines": [
            {
                "id": x.line.id,
                "name": x.line.name,
                "at_ride_m": x.ride,
                "longest_m": x.longest.length,
                "longest_at": _pose(x.longest),
                "shortest_m": x.shortest.length,
                "shortest_at": _pose(x.shortest),
                "needed_m": x.needed,
                "at_hand_spare_m": x.spare,
            }
            for x in travel.lines
        ],
        "springs": {
            "load_a_side_n": springs.seat_load,
            "wheel_rate_n_per_m": None if springs.wheel_rate is None else _finite(float(springs.wheel_rate[j])),
            "motion_ratio": None if springs.ratio is None else _finite(float(springs.ratio[j])),
            "frequency_hz": springs.frequency,
            "free_length_m": springs.free,
            "pressure_pa": springs.pressure,
            "anti_roll_bar_nm_per_rad": None if springs.bar is None else springs.bar[0],
            "shock_shortest_m": None if springs.shock is None else _least(springs.shock, inside),
            "shock_longest_m": None if springs.shock is None else _most(springs.shock, inside),
        },
        "steering": None
        if steer is None
        else {
            "kind": steer.words,
            "serves": steer.near,
            "heading_per_25mm_deg": _degrees(_finite(steer.per_step)),
            "roll_steer": _finite(steer.roll_steer),
            "reaches": steer.reaches,
            "largest_heading_deg": _degrees(
                max(
                    (
                        v
                        for v in (
                            _most(np.abs(steer.left), inside & np.isfinite(steer.left)),
                            _most(np.abs(steer.right), inside & np.isfinite(steer.right)),
                        )
                        if v is not None
                    ),
                    default=None,
                )
            ),
            "ratio": None if lock is None else lock.ratio,
            "turns": None if lock is None else lock.turns,
            "inner_deg": None if lock is None else math.degrees(lock.inner),
            "outer_deg": None if lock is None else math.degrees(lock.outer),
            "free_outer_deg": None if lock is None else math.degrees(lock.ideal_outer),
        },
        "findings": [
            {"code": f.code, "severity": f.severity, "sentence": f.sentence}
            for f in travel_findings(travel, found, "mm")
        ],
    }


def travel_text(data: dict[str, Any]) -> str:
    """The same in a few lines: millimetres and degrees, what comes near first."""
    out = [
        f"{data['end']} axle, {data['layout']}: one side {data['side_bump_m'] * 1000:.0f} mm up, {data['side_droop_m'] * 1000:.0f} mm down",
        "free part of the travel " + ("–" if data["free_part"] is None else f"{data['free_part']:.0%}"),
    ]
    out += [f"runs out: {word}" for word in data["runs_out"]]
    for c in data["touching"]:
        state = "touches" if c["least_m"] < 0 else "near" if c["least_m"] < c["wanted_m"] else "clears"
        steer = "" if c["steer_deg"] is None else f", steer {c['steer_deg']:+.0f}°"
        over = "" if c["exact"] else "over "
        where = (
            ""
            if c["heave_m"] is None
            else f" at heave {c['heave_m'] * 1000:+.0f} mm, roll {c['roll_deg']:+.0f}°{steer}"
        )
        out.append(f"{state}: {c['one']} – {c['other']} {over}{c['least_m'] * 1000:.0f} mm{where}")
    for x in data["lines"]:
        spare = x["at_hand_spare_m"]
        hand = "" if spare is None else f", the one at hand {spare * 1000:+.0f} mm over the longest"
        out.append(
            f"line {x['name']}: {x['shortest_m'] * 1000:.0f} to {x['longest_m'] * 1000:.0f} mm, {x['needed_m'] * 1000:.0f} mm needed{hand}"
        )
    return "\n".join(out)


def _pose(found: Reached) -> dict[str, float]:
    return {
        "heave_m": found.heave,
        "roll_deg": math.degrees(found.roll),
        "steer_deg": math.degrees(found.steer),
    }


def _finite(value: float) -> float | None:
    return value if math.isfinite(value) else None


def _degrees(value: float | None) -> float | None:
    return None if value is None else math.degrees(value)


def _most(values: NDArray[np.float64], inside: NDArray[np.bool_]) -> float | None:
    return float(values[..., inside].max()) if inside.any() else None


def _least(values: NDArray[np.float64], inside: NDArray[np.bool_]) -> float | None:
    return float(values[..., inside].min()) if inside.any() else None
