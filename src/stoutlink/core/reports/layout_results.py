"""What a layout's joints, loads, parts, steering and leaves have to say, and the answers of a search, as plain data
for JSON.
"""

from __future__ import annotations

import math
from typing import Any

from stoutlink.core.analysis.linkage.hole_map import combinations
from stoutlink.core.analysis.linkage.leaf_axle import LeafAxle
from stoutlink.core.analysis.linkage.leaf_elsewhere import levelled, reused
from stoutlink.core.analysis.search.find import Answer, Found
from stoutlink.core.document.layout import Layout
from stoutlink.core.study.axle import AxleStudy
from stoutlink.core.study.study import Study

MOST_HOLES = 5000
"""Combinations written out; more are only counted."""


def hanging(study: Study, axle: AxleStudy, layout: Layout) -> dict[str, Any]:
    """Loads, lean, lateral location, fit and holes of a layout in use."""
    return {
        "loads": _loads(axle),
        "joint_lean": _lean(axle),
        "sideways": _sideways(axle),
        "fit": [
            {
                "link": f.link.id,
                "end": f.end,
                "what": f.what,
                "standing": f.how,
                "sentence": f.sentence,
                "off_by_m": f.by,
            }
            for f in study.fit(axle.end)
        ],
        "holes": _holes(study, layout),
    }


def _loads(axle: AxleStudy) -> dict[str, Any] | None:
    found = axle.loads
    if found is None:
        return None
    return {
        "spring_spacing_assumed": found.spacing_assumed,
        "shared_by_stiffness": found.shared,
        "cases": [
            {
                "case": one.case.id,
                "way": one.case.note,
                "axle_load_n": one.case.carried,
                "along_n": one.case.along,
                "driveshaft_twist_nm": one.case.twist,
                "acting": [
                    {"force_n": list(x.force), "at_m": list(x.at), "moment_nm": list(x.moment)} for x in one.case.loads
                ],
                "link_force_n": {
                    link.link.id: float(f) for link, f in zip(found.links, one.reactions.bars, strict=True)
                },
                "spring_force_n": [float(v) for v in one.reactions.springs],
            }
            for one in found.cases
        ],
        "links": [
            {
                "link": one.link.id,
                "checks": [
                    {
                        "what": c.what,
                        "carries_n": c.carries,
                        "asked_n": c.asked,
                        "margin": _finite(c.margin),
                        "case": c.case,
                        "why": c.why,
                    }
                    for c in one.checks
                ],
            }
            for one in found.links
        ],
    }


def _lean(axle: AxleStudy) -> dict[str, Any] | None:
    found = axle.over_constraint
    if found is None:
        return None
    return {
        "ends": [
            {
                "link": e.link.id,
                "end": e.end,
                "heave_deg": math.degrees(e.heave),
                "roll_deg": math.degrees(e.roll),
                "allowed_deg": _deg(e.allowed),
            }
            for e in found.ends
        ],
        "bushing_give_m": {
            b.link.id: {
                "heave": {"frame": b.heave[0], "axle": b.heave[1]},
                "roll": {"frame": b.roll[0], "axle": b.roll[1]},
            }
            for b in found.bars
        },
    }


def _sideways(axle: AxleStudy) -> dict[str, Any]:
    _motion, steer = axle.motion, axle.steer
    bar = axle.panhard
    out: dict[str, Any] = {"panhard": None, "bump_steer": None}
    if bar is not None:
        out["panhard"] = {
            "centreline_height_m": bar.centre_height,
            "centreline_station_m": bar.centre_station,
            "slope_deg": math.degrees(bar.slope),
            "length_m": bar.length,
            "side_shift_over_heave_m": _finite(bar.side_shift),
        }
    if steer is not None:
        match = steer.match
        out["bump_steer"] = {
            "reaches": steer.reaches,
            "heading_per_25mm_deg": _deg(steer.heading_per_step),
            "knuckle_per_25mm_deg": _deg(steer.delta_per_step),
            "largest_heading_deg": _deg(steer.largest),
            "largest_at_m": steer.largest_at,
            "steering_wheel_per_25mm_deg": _deg(steer.twitch),
            "heading_deg": [_deg(float(v)) for v in steer.turn.heading],
            "knuckle_deg": [_deg(float(v)) for v in steer.turn.delta],
            "against_panhard": None
            if match is None
            else {
                "longer_m": match.length_apart,
                "slope_apart_deg": math.degrees(match.slope_apart),
                "same_hand": match.same_hand,
            },
        }
    return out


def _holes(study: Study, layout: Layout) -> dict[str, Any] | None:
    if not layout.brackets:
        return None
    count = combinations(layout)
    out: dict[str, Any] = {"brackets": [b.id for b in layout.brackets], "combinations": count, "rows": None}
    if count <= MOST_HOLES:
        found = study.hole_map(layout.end)
        assert found is not None
        out["rows"] = [
            {
                "holes": [int(h) for h in found.holes[i]],
                **{name: _finite(float(v[i])) for name, v in found.values.items()},
            }
            for i in range(len(found.holes))
        ]
    return out


def leaf_results(study: Study, found: LeafAxle) -> dict[str, Any]:
    """Everything about a leaf axle in use."""
    sure = study.leaf_sure(found)
    poses = [
        (name, found.pose(h))
        for name, h in (("droop", -found.layout.droop_m), ("ride", 0.0), ("bump", found.layout.bump_m))
    ]
    return {
        "rate_n_per_m": found.halves.heave_rate,
        "rate_measured": found.rate_measured,
        "roll_rate_n_per_m": found.halves.roll_rate,
        "wind_up_rate_nm_per_rad": found.halves.wind_up_rate,
        "seat_load_n": found.load,
        "stress_ride_pa": found.stress,
        "stress_bump_pa": found.stress_bump,
        "thrust_n": found.thrust,
        "wrap_nose_up_deg": math.degrees(found.wrap),
        "support_slope_beam": found.slope_beam,
        "support_slope_front_eye": found.slope_eye,
        "drive_pct": found.drive_percent,
        "drive_front_eye_pct": found.eye_percent,
        "braking_pct": found.brake_percent,
        "roll_steer_deg_per_deg": found.roll_steer,
        "roll_centre_by_shackle_m": found.roll_centre_line,
        "roll_centre_by_leaf_m": found.roll_centre_leaf,
        "tilt_nose_down_deg_per_m": math.degrees(found.halves.nose_down_per_bump),
        "shackle": {
            name: {
                "heave_m": p.heave,
                "lean_deg": _deg(p.shackle),
                "forward_m": _finite(p.forward),
                "nose_down_deg": math.degrees(p.nose_down),
            }
            for name, p in poses
        },
        "pinion_elevation_deg": math.degrees(found.layout.pinion_up),
        "flip_turns_pinion_up_deg": math.degrees(found.perch.flipped.turn),
        "perch": _perch(found),
        "at_the_other_end": _elsewhere(found),
        "to_level_the_frame": _levelled(found),
        "u_bolt_m": None if found.u_bolt is None else {"inside": found.u_bolt[0], "leg": found.u_bolt[1]},
        "u_bolt_casting_m": None
        if found.u_bolt_casting is None
        else {"inside": found.u_bolt_casting[0], "leg": found.u_bolt_casting[1]},
        "pads_wider_m": found.perch_apart,
        "panhard_pull_m": found.panhard_pull,
        "uncertainty_1_sigma": {
            "drive_pct": sure["drive"].sigma,
            "wrap_nose_up_deg": math.degrees(sure["wrap"].sigma),
            "rate_n_per_m": sure["rate"].sigma,
            "roll_steer_deg_per_deg": sure["steer"].sigma,
            "roll_centre_by_shackle_m": sure["roll_centre"].sigma * found.rig.cg_height_m,
        },
    }


def _elsewhere(found: LeafAxle) -> dict[str, Any] | None:
    one = reused(found)
    if one is None:
        return None
    return {"load_n": one.load, "lower_m": one.lower, "frequency_hz": one.frequency}


def _levelled(found: LeafAxle) -> dict[str, Any] | None:
    one = levelled(found)
    return None if one is None else {"raise_m": one.raise_by, "block_m": one.block, "rate_n_per_m": one.rate}


def _perch(found: LeafAxle) -> dict[str, Any]:
    """Stack, shackles and hangers."""
    p = found.perch
    return {
        "main_leaf_by_stack_m": p.seat,
        "flipped_shackle_hanger_m": list(p.flipped_pivot),
        "stack_lifts_m": p.lift,
        "other_side_of_the_tube_lifts_m": p.other_lift,
        "flipped_shackle_lifts_m": p.flipped.lift,
        "other_shackle": None
        if p.longer is None
        else {"lifts_m": p.longer.lift, "turns_pinion_up_deg": math.degrees(p.longer.turn)},
        "fixed_eye_m": list(p.fixed),
        "shackle_pivot_m": list(p.pivot),
        "existing_hanger_moves_axle_forward_m": p.axle_off,
        "existing_hanger_lengthens_wheelbase_m": p.longer_wheelbase,
    }


def found_results(found: Found) -> dict[str, Any]:
    """Answers of a search, best first, with their pivots; and what to relax when there is none."""
    return {
        "find_version": 1,
        "answers": [_answer(one) for one in found.answers],
        "relax": [{"number": r.want.id, "by": r.by, "low": r.low, "high": r.high} for r in found.relax],
        "nearest": None if found.nearest is None else _answer(found.nearest),
    }


def _answer(one: Answer) -> dict[str, Any]:
    return {
        "gives": {name: _finite(v) for name, v in one.values.items()},
        "missed_by": {name: _finite(v) for name, v in one.missed.items()},
        "pivots": {
            link.id: {"frame_pivot_m": list(link.frame_pivot_m), "axle_pivot_m": list(link.axle_pivot_m)}
            for link in one.layout.links
        },
        "free_part": _finite(one.free),
        "nearest_m": None if one.nearest is None else one.nearest[2],
        "nearest_pair": None if one.nearest is None else list(one.nearest[:2]),
    }


def _deg(value: float | None) -> float | None:
    return None if value is None or not math.isfinite(value) else math.degrees(value)


def _finite(value: float | None) -> float | None:
    return None if value is None or not math.isfinite(value) else value
