"""Results as plain data for JSON: keys carry their unit; what was not reached is ``null``, never a guess."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray

from stoutlink.core.analysis.linkage.axle_motion import AxleMotion, Travel, pose_at
from stoutlink.core.analysis.linkage.bar_set import stiffness_of
from stoutlink.core.analysis.linkage.uncertainty import HowSure
from stoutlink.core.analysis.vehicle.anti_numbers import (
    BRAKE,
    DRIVE,
    brake_percent,
    drive_percent,
    load_share,
)
from stoutlink.core.document.placed_solids import placed_solids
from stoutlink.core.document.project import Project
from stoutlink.core.document.survey import Survey
from stoutlink.core.reports.layout_results import hanging, leaf_results
from stoutlink.core.reports.part_results import bench_results, made_results, set_results
from stoutlink.core.reports.picture_results import picture_results
from stoutlink.core.reports.seen_table import seen_results
from stoutlink.core.study.axle import AxleStudy
from stoutlink.core.study.study import Study

SCHEMA = 1
_UNIT = {"mass": "kg", "length": "m", "angle": "deg"}


def results(study: Study, poses: tuple[tuple[float, float], ...] = ()) -> dict[str, Any]:
    """All numbers of a reviewed project. ``poses`` are pairs of heave (m) and roll (rad) to solve on every axle."""
    project = study.project
    rig, numbers = study.true.rig, study.rig_numbers()
    lacking = {n.path for n in study.needs}
    placed = {one.id for one in placed_solids(project)}
    weighed = numbers["front_load"].value is not None

    def entered(path: str, value: float) -> float | None:
        """A number of the rig, once somebody has entered what it rests on."""
        return None if path in lacking else value

    return {
        "results_version": SCHEMA,
        "project": project.name,
        "schools": {"thrust": project.settings.thrust_school, "height": project.settings.height_school},
        "rig": {
            "wheelbase_m": entered("rig.wheelbase_m", rig.wheelbase_m),
            "cg_height_m": numbers["cg_height"].value,
            "cg_height_sprung_m": numbers["sprung_cg_height"].value,
            "front_load_share": load_share(rig, "front") if weighed else None,
            "rear_load_share": load_share(rig, "rear") if weighed else None,
            **{
                f"{end}_{which}_radius_m": entered(f"rig.{end}.tyre_free_radius_m", getattr(rig.end(end), which))
                for which in ("loaded", "rolling")
                for end in ("front", "rear")
            },
            "mass_from": study.true.mass_from,
            "cg_ahead_from": study.true.along_from,
            "cg_height_from": study.true.height_from,
            "cg_left_of_middle_m": study.true.side_offset,
            "numbers": {
                f"{n.id}_{_UNIT[n.kind]}": {
                    "value": _deg(n.value) if n.kind == "angle" else n.value,
                    "sigma": None if n.value is None else _deg(n.sigma) if n.kind == "angle" else n.sigma,
                    "from": [{"what": what, "share": share} for what, share in n.parts[:3]],
                }
                for n in numbers.values()
            },
        },
        "surveys": [_survey(study, one) for one in project.tape.surveys],
        "photos": picture_results(study),
        "solids": [
            {
                "id": s.id,
                "name": s.name,
                "kind": s.kind,
                "shape": type(s).__struct_config__.tag,
                "clearance_wanted_m": s.clearance_m,
                "placed": s.id in placed,
            }
            for s in project.tape.solids
        ],
        "sets": [] if study.needs else [set_results(one) for one in study.fitted_sets()],
        "made_of": [made_results(study, row.id) for row in project.swap.made],
        "road_keeps": []
        if study.needs
        else [{"what": k.what, "state": k.state, "why": k.why} for k in study.road_keeps()],
        "brake_front_share": None if study.needs else study.brake_share(),
        "seen": seen_results(project),
        "not_entered": [{"field": n.path, "what": n.words, "for": n.group} for n in study.needs],
        "donors": {end: _donor(study, end) for end in ("rear", "front") if project.donor(end) and not study.needs},
        "cost_to_ready": None if study.needs else _cost(study),
        "axles": {end: found for end, one in study.axles.items() if (found := _end(study, one, poses)) is not None},
        "cut_list": [
            {
                "axle": c.layout.end,
                "link": c.link.id,
                "name": c.link.name,
                "centre_to_centre_m": c.cut.centre_to_centre,
                "tube_cut_m": c.cut.tube,
                "tube_bore_m": c.cut.bore,
                "frame_thread_engaged_m": c.cut.ends[0].engaged if c.cut.ends[0] else None,
                "axle_thread_engaged_m": c.cut.ends[1].engaged if c.cut.ends[1] else None,
                "adjust_longer_m": c.cut.longer,
                "adjust_shorter_m": c.cut.shorter,
                "length_per_turn_m": c.cut.per_turn,
                "pinion_per_turn_deg": _deg(c.pinion_per_turn),
            }
            for c in study.cuts
            if not c.there
        ],
        **bench_results(study),
        "links_at_hand": [
            {
                "axle": c.layout.end,
                "link": c.link.id,
                "stage": c.link.stage,
                "at_hand_m": c.cut.centre_to_centre,
                "sigma_m": None if c.link.read is None else c.link.read[1],
                "wanted_m": c.cut.centre_to_centre + c.turns.change,
                "turns": c.turns.turns,
                "left_m": c.turns.left,
                "reaches": c.turns.reaches,
                "frame_thread_then_m": c.now.ends[0].engaged if c.now.ends[0] else None,
                "axle_thread_then_m": c.now.ends[1].engaged if c.now.ends[1] else None,
                "longer_then_m": c.now.longer,
                "shorter_then_m": c.now.shorter,
            }
            for c in study.cuts
            if c.there
        ],
        "findings": [
            {
                "code": f.code,
                "severity": f.severity,
                "sentence": f.sentence,
                "why": f.why,
                "subject": f.subject,
                "accepted": study.accepted(f) is not None,
            }
            for f in study.findings
        ],
    }


def _survey(study: Study, survey: Survey) -> dict[str, Any]:
    """A survey in vehicle axes: what could be placed, with 1 σ."""
    return {
        "id": survey.id,
        "name": survey.name,
        "points": [
            {
                "id": p.point.id,
                "name": p.point.name,
                "kind": p.point.kind,
                "x_m": p.x,
                "y_m": list(p.sides),
                "z_m": p.z,
                "x_sigma_m": p.sigma[0],
                "y_sigma_m": p.sigma[1] if math.isfinite(p.sigma[1]) else None,
                "z_sigma_m": p.sigma[2] if math.isfinite(p.sigma[2]) else None,
            }
            for p in study.placed(survey.id)
        ],
    }


def _donor(study: Study, end: str) -> dict[str, Any]:
    project, _rig = study.project, study.true.rig
    donor = project.donor(end)
    assert donor is not None
    project.plan(end)
    it, sure = study.in_rig_planned(donor), study.donor_sure(donor)
    rungs = study.ladder_sure(donor)
    gears = study.gears(donor)
    fit = study.fit_up(donor)
    return {
        "id": donor.id,
        "name": donor.name,
        "spline_teeth": donor.spline_teeth,
        "spline_pitch_per_in": it.spline_pitch,
        "spline_major_diameter_m": it.major,
        "spline_root_diameter_m": it.root,
        "shaft_yield_torque_nm": it.shaft_yield,
        "axle_ratio": it.ratio,
        "engine_rpm_at_road_speed": it.rpm_at_road_speed,
        "crawl_ratio": it.crawl_ratio,
        "crawl_speed_m_per_s": it.crawl_speed,
        "shaft_demand_level_nm": it.demand_level,
        "shaft_demand_one_wheel_nm": it.demand_one_wheel,
        "housing_clearance_m": it.ground_clearance,
        "uncertainty_1_sigma": {
            "engine_rpm_at_road_speed": sure["rpm_at_road_speed"],
            "crawl_speed_m_per_s": sure["crawl_speed"],
            "shaft_demand_level_nm": sure["demand_level"],
            "shaft_demand_one_wheel_nm": sure["demand_one_wheel"],
            "housing_clearance_m": sure["ground_clearance"],
        },
        "locker": rungs.locker if rungs.locker_known else None,
        "ladder": [
            {
                "part": r.part,
                "capacity_nm": r.carries,
                "capacity_basis": r.capacity.basis,
                "demand_nm": r.demand,
                "worst_case": r.case,
                "margin": _finite(r.margin),
                "margin_sigma": r.sigma,
                "margin_wedged": _finite(r.wedged),
                "demand_by_case_nm": {case: value for case, value in r.asked if math.isfinite(value)},
            }
            for r in rungs.rungs
        ],
        "ladder_unknown": [{"part": u.part, "why": u.why} for u in rungs.unknown],
        "ladder_assumed": list(rungs.assumed),
        "upgrades": [
            {
                "id": u.id,
                "what": u.title,
                "planned": u.planned,
                "price": u.price,
                "parts": [
                    {"part": x.title, "margin_without": _finite(x.without), "margin_with": _finite(x.with_it)}
                    for x in u.parts
                ],
                "weakest_without": None if u.weakest is None else _finite(u.weakest[0]),
                "weakest_with": None if u.weakest is None else _finite(u.weakest[1]),
                "words": u.words,
            }
            for u in study.upgrade_effects(donor)
        ],
        "same_feel_ratio": gears.same_feel,
        "same_feel_neighbours": [str(p) for p in gears.neighbours],
        "same_feel_off_list": gears.off_list,
        "gears": [
            {
                "teeth": str(o.pair),
                "ratio": o.pair.ratio,
                "rpm": o.rpm,
                "crawl_ratio": o.crawl,
                "partner": None if o.partner is None else str(o.partner),
                "apart": o.apart,
                "speedometer": o.indicated,
            }
            for o in gears.offers
        ],
        "fit_up": {
            "width_m": fit.width,
            "tyre_outside_m": fit.tyre_outside,
            "backspacing_m": fit.backspacing,
            "poke_m": fit.poke,
            "room_straight_m": fit.room_straight,
            "room_at_lock_m": fit.room_at_lock,
            "under_housing_m": fit.under_housing,
            "driveshaft_length_m": fit.shaft_length,
            "driveshaft_angle_deg": _deg(fit.shaft_angle),
        },
    }


def _compared(project: Project, axle: AxleStudy) -> dict[str, Any]:
    """The layout held against the one in use: its headline numbers and the differences in words."""
    held, layout = axle.compared, project.compared(axle.end)
    if held is None or layout is None:
        return {"compared": None}
    values = {name: _finite(value) for name, value in held.values.items()}
    return {"compared": {"layout": layout.id, "headline": values or None, "words": list(held.words)}}


def _finite(value: float) -> float | None:
    return value if math.isfinite(value) else None


def _cost(study: Study) -> dict[str, Any] | None:
    project = study.project
    front, rear = project.donor("front"), project.donor("rear")
    if front is None and rear is None:
        return None
    cost = study.cost(front, rear, None)
    return {
        "currency": project.swap.choosing.currency,
        "total": cost.total,
        "tools": cost.tools,
        "hours": cost.hours,
        "left_of_budget": cost.left,
        "paid": cost.paid,
        "to_pay": cost.to_pay,
        "not_known": list(cost.unknown),
        "lines": [
            {
                "id": x.id,
                "end": x.end,
                "title": x.title,
                "why": x.why,
                "group": x.group,
                "count": x.count,
                "amount": x.amount,
                "basis": x.basis,
                "paid": x.paid,
                "hours": x.hours,
            }
            for x in cost.lines
        ],
    }


def _end(study: Study, axle: AxleStudy, poses: tuple[tuple[float, float], ...]) -> dict[str, Any] | None:
    """One end: links with all that hangs on them, or leaf springs."""
    project, layout = study.project, study.project.layout(axle.end)
    if layout is None:
        return None
    if axle.leaf is not None:
        return {"layout": layout.id, "kind": layout.kind, "leaf": leaf_results(study, axle.leaf)} | hanging(
            study, axle, layout
        )
    if axle.motion is None:
        why = axle.problem
        return None if why is None else {"layout": layout.id, "kind": layout.kind, "problem": why.sentence}
    return _axle(study, axle.motion, poses) | _compared(project, axle) | hanging(study, axle, layout)


def _axle(study: Study, motion: AxleMotion, poses: tuple[tuple[float, float], ...]) -> dict[str, Any]:
    rig, ride, drawn, layout = motion.rig, motion.ride, motion.drawn, motion.layout
    project, sure = study.project, study.sure(motion)
    low, high = motion.reach
    roll_low, roll_high = motion.roll_reach
    pinion = motion.heave.pinion
    centre = ride.side_view_centre
    projected = drawn.projected_centre
    out: dict[str, Any] = {
        "layout": layout.id,
        "kind": layout.kind,
        "axle_centre_m": list(motion.centre),
        "side_view_centre": {
            "parallel": ride.parallel,
            "x_m": centre[0] if centre else None,
            "z_m": centre[1] if centre else None,
        },
        "side_view_centre_projected": {
            "x_m": projected[0] if projected else None,
            "z_m": projected[1] if projected else None,
        },
        "support_slope": ride.slope,
        "support_slope_left": ride.slope_left,
        "support_slope_right": ride.slope_right,
        f"{DRIVE[motion.end]}_pct": ride.drive_percent,
        f"{BRAKE[motion.end]}_pct": ride.brake_percent,
        "roll_centre_height_m": ride.roll_centre_height,
        "roll_centre_part_of_cg_height": ride.roll_centre_height / rig.cg_height_m,
        "roll_axis": {
            "point_m": list(ride.roll_axis_point),
            "direction": list(ride.roll_axis_direction),
            "inclination_deg": _deg(ride.roll_axis_inclination),
        },
        "roll_axis_drawn": None
        if drawn.roll_axis is None
        else {"point_m": list(drawn.roll_axis[0]), "inclination_deg": _deg(drawn.roll_axis[1])},
        "roll_steer_deg_per_deg": ride.roll_steer,
        "lateral_hold": ride.lateral_hold,
        "lateral_give_m_per_n": ride.side_give,
        "lateral_give_basis": "equal default stiffness (estimate)"
        if ride.equal_stiffness
        else "stiffness of the joints and tubes",
        "link_force_per_side_force": {link.id: f for link, f in zip(layout.links, ride.link_forces, strict=True)},
        "plan_angles_deg": {k: _deg(v) for k, v in drawn.plan_angles.items()},
        "included_angles_deg": {p.role: _deg(p.included) for p in drawn.pairs},
        "included_angles_sum_deg": _deg(drawn.triangulation),
        "smallest_singular_value": ride.singular,
        "pinion_elevation_deg": _deg(layout.pinion_up),
        "pinion_change_deg_per_m": _deg(ride.pinion_per_metre),
        "pinion_change_over_heave_deg": _deg(float(np.nanmax(pinion) - np.nanmin(pinion))),
        "reached_heave_m": {"droop": low, "bump": high},
        "reached_roll_deg": {"low": _deg(roll_low), "high": _deg(roll_high)},
        "uncertainty_1_sigma": {
            f"{DRIVE[motion.end]}_pct": sure["drive"].sigma,
            f"{BRAKE[motion.end]}_pct": sure["brake"].sigma,
            "roll_centre_height_m": sure["roll_centre_height"].sigma,
            "roll_axis_inclination_deg": _deg(sure["inclination"].sigma),
            "roll_steer_deg_per_deg": sure["steer"].sigma,
            "lateral_hold": sure["hold"].sigma,
            "pinion_change_over_heave_deg": _deg(sure["pinion"].sigma),
        },
        "uncertainty_from": {
            name: _parts(sure[key])
            for name, key in (
                (f"{DRIVE[motion.end]}_pct", "drive"),
                (f"{BRAKE[motion.end]}_pct", "brake"),
                ("roll_centre_height_m", "roll_centre_height"),
                ("roll_steer_deg_per_deg", "steer"),
                ("lateral_hold", "hold"),
                ("pinion_change_over_heave_deg", "pinion"),
            )
        },
        "heave_sweep": _sweep(project, motion, motion.heave),
        "roll_sweep": _sweep(project, motion, motion.roll),
    }
    if poses:
        out["poses"] = [_pose(project, motion, heave, roll) for heave, roll in poses]
    return out


def _parts(one: HowSure) -> dict[str, Any]:
    """How a σ was found and the three readings that make most of it; ``if_halved`` is the part of σ left when that
    reading's ± is halved.
    """
    parts = [
        {"what": p.what, "share": p.share, "if_halved": p.if_halved / one.sigma, "better": p.better}
        for p in one.parts[:3]
    ]
    return {"method": one.method, "mean_shift_in_sigma": one.shift / one.sigma if one.sigma else 0.0, "parts": parts}


def _sweep(project: Project, motion: AxleMotion, travel: Travel) -> dict[str, Any]:
    rig, s, end = motion.rig, project.settings, motion.end
    heave = motion.centre[2]
    shares, _ = stiffness_of(motion.layout, project.linkage.joints)[1:]
    data: dict[str, Any] = {
        "reached": [bool(v) for v in travel.poses.reached],
        "heave_m": _list(travel.poses.z - heave),
        "roll_deg": _list(np.degrees(travel.poses.roll)),
        "yaw_deg": _list(np.degrees(travel.poses.yaw)),
        "pitch_deg": _list(np.degrees(travel.poses.pitch)),
        "axle_centre_x_m": _list(travel.poses.x),
        "axle_centre_y_m": _list(travel.poses.y),
        "side_view_centre_x_m": _list(travel.side.centre_x),
        "side_view_centre_z_m": _list(travel.side.centre_z),
        "support_slope": _list(travel.side.slope),
        f"{DRIVE[end]}_pct": _list(drive_percent(rig, end, travel.side.slope, s.thrust_school, s.height_school)),
        f"{BRAKE[end]}_pct": _list(brake_percent(rig, end, travel.side.slope, s.height_school)),
        "roll_centre_height_m": _list(travel.roll.centre_height),
        "roll_axis_inclination_deg": _list(np.degrees(travel.roll.inclination)),
        "roll_steer_deg_per_deg": _list(travel.roll.steer),
        "pinion_elevation_deg": _list(np.degrees(travel.pinion)),
        "wheelbase_change_m": _list(travel.wheelbase_change),
        "lateral_shift_m": _list(travel.lateral),
        "smallest_singular_value": _list(travel.singular),
    }
    if travel.caster is not None:
        data["caster_deg"] = _list(np.degrees(travel.caster[0]))
        data["caster_right_deg"] = _list(np.degrees(travel.caster[1]))
    if len(motion.layout.links) > 4:
        data["bind_m"] = {
            link.id: {"frame": _list(travel.bar_error[:, i] * f), "axle": _list(travel.bar_error[:, i] * a)}
            for i, (link, (f, a)) in enumerate(zip(motion.layout.links, shares, strict=True))
        }
    return data


def _pose(project: Project, motion: AxleMotion, heave: float, roll: float) -> dict[str, Any]:
    t = pose_at(motion.rig, motion.layout, project.linkage.joints, heave, roll)
    asked = {"heave_m": heave, "roll_deg": _deg(roll), "reached": bool(t.poses.reached[0])}
    if not t.poses.reached[0]:
        return asked | {"why": "the links bind before this pose"}
    return asked | {
        "axle_centre_m": [float(t.poses.x[0]), float(t.poses.y[0]), float(t.poses.z[0])],
        "yaw_deg": _deg(float(t.poses.yaw[0])),
        "pitch_deg": _deg(float(t.poses.pitch[0])),
        "pinion_elevation_deg": _deg(float(t.pinion[0])),
        "wheelbase_change_m": float(t.wheelbase_change[0]),
        "wheelbase_change_left_m": float(t.wheelbase_change_left[0]),
        "wheelbase_change_right_m": float(t.wheelbase_change_right[0]),
        "lateral_shift_m": float(t.lateral[0]),
        "roll_centre_height_m": float(t.roll.centre_height[0]),
        "roll_steer_deg_per_deg": float(t.roll.steer[0]),
        "support_slope": float(t.side.slope[0]),
        "bar_length_error_m": float(np.abs(t.bar_error[0]).max()),
    }


def _deg(value: float | None) -> float | None:
    return None if value is None or not math.isfinite(value) else math.degrees(value)


def _list(values: NDArray[np.float64]) -> list[float | None]:
    return [float(v) if math.isfinite(v) else None for v in values]
