"""One axle on its links in side, plan and rear view, at ride or at a station of its travel."""

from __future__ import annotations

import math

from msgspec import Struct

from stoutlink.core.analysis.linkage.axle_motion import AxleMotion
from stoutlink.core.analysis.vehicle.axle_place import axle_centre
from stoutlink.core.analysis.vehicle.pinion_place import pinion_drawn
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.swap import AxlePlan
from stoutlink.core.drawing.shapes import Line, Note, Oval, Role, Shape, ViewName, flatten
from stoutlink.core.geometry.rotation import rotation

_ROLE: dict[str, Role] = {"upper": "link_upper", "lower": "link_lower", "arm": "link_lower", "panhard": "link_panhard"}

AS_IT_COMES = AxlePlan()


class AxlePose(Struct, frozen=True):
    """Where the axle is drawn: centre in m and orientation matrix."""

    centre: tuple[float, float, float]
    turn: tuple[tuple[float, float, float], ...]

    def carry(self, point: tuple[float, float, float], ride: tuple[float, float, float]) -> tuple[float, float, float]:
        """An axle point given at ride height, moved with the axle."""
        x, y, z = point[0] - ride[0], point[1] - ride[1], point[2] - ride[2]
        (a, b, c), (d, e, f), (g, h, i) = self.turn
        u, v, w = self.centre
        return a * x + b * y + c * z + u, d * x + e * y + f * z + v, g * x + h * y + i * z + w


def ride_pose_of(rig: Rig, end: str) -> AxlePose:
    """The axle at ride height."""
    return AxlePose(axle_centre(rig, end), ((1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0)))


def pose_at_station(motion: AxleMotion, station: int) -> AxlePose | None:
    """The axle at a heave station; ``None`` where it is not reached."""
    p = motion.heave.poses
    if not p.reached[station]:
        return None
    turn = rotation(p.yaw[station], p.roll[station], p.pitch[station])
    rows = tuple((float(r[0]), float(r[1]), float(r[2])) for r in turn)
    return AxlePose((float(p.x[station]), float(p.y[station]), float(p.z[station])), rows)


def axle_shapes(
    rig: Rig,
    layout: Layout,
    view: ViewName,
    pose: AxlePose,
    donor: DonorAxle | None = None,
    plan: AxlePlan = AS_IT_COMES,
) -> list[Shape]:
    """Tyres and housing in one view; the pinion where the donor has it, in the middle while that is not known."""
    ride = axle_centre(rig, layout.end)
    end = rig.end(layout.end)
    half, free, tread = 0.5 * end.track_m, end.free, end.tread
    drop = 0.0 if donor is None else donor.hub_drop_m or 0.0
    out: list[Shape] = []

    def put(dx: float, dy: float, dz: float) -> tuple[float, float]:
        return flatten(pose.carry((ride[0] + dx, ride[1] + dy, ride[2] + dz), ride), view)

    if view == "side":
        c = put(0, 0, 0)
        out += [
            Oval(c, (free, free), "tyre"),
            Oval(c, (0.55 * free, 0.55 * free), "tyre"),
            Oval(c, (0.06, 0.06), "axle"),
        ]
    else:
        for side in (hand * (half + by) for hand in (1, -1) for by in end.abreast):
            corners = [(-free, -tread / 2), (free, -tread / 2), (free, tread / 2), (-free, tread / 2)]
            points = tuple(put(a, side + b, 0) if view == "plan" else put(0, side + b, a) for a, b in corners)
            out.append(Line(points, "tyre", closed=True))
        out.append(Line((put(0, half - tread / 2, drop), put(0, tread / 2 - half, drop)), "housing", width=0.09))
    place = pinion_drawn(rig, layout.end, donor, plan, layout.pinion_up)
    if view != "rear":
        ends = (flatten(pose.carry(place.start, ride), view), flatten(pose.carry(place.joint, ride), view))
        out.append(Line(ends, "housing", width=0.08))
    else:
        out.append(Oval(put(0, place.joint[1], drop), (0.14, 0.14), "housing"))
    return out


def link_shapes(layout: Layout, view: ViewName, pose: AxlePose, ride: tuple[float, float, float]) -> list[Line]:
    """The links of a layout; ``ride`` is the axle centre at ride height."""
    return [
        Line(
            (flatten(link.frame_pivot_m, view), flatten(pose.carry(link.axle_pivot_m, ride), view)),
            _ROLE[link.role],
            width=link.tube_od_m,
        )
        for link in layout.links
    ]


def construction_shapes(rig: Rig, motion: AxleMotion, view: ViewName) -> list[Shape]:
    """Live construction lines at ride: link lines to the side-view centre, force line, neutral line, roll axis,
    apexes.
    """
    out: list[Shape] = []
    ride, drawn, end = motion.ride, motion.drawn, motion.end
    contact = (motion.centre[0], 0.0)
    if view == "side":
        centre = ride.side_view_centre
        if centre is not None:
            for link in motion.layout.links:
                if link.role != "panhard" and drawn.projected_centre is not None:
                    out.append(Line((flatten(link.axle_pivot_m, view), drawn.projected_centre), "construction"))
            out.append(Line((contact, centre), "force"))
            out.append(Note(centre, "side-view centre", "force"))
            out.append(Oval(centre, (0.02, 0.02), "force"))
        else:
            slope = ride.slope if end == "rear" else -ride.slope
            out.append(Line((contact, (contact[0] + 4.0, 4.0 * slope)), "force"))
        other = rig.wheelbase_m if end == "rear" else 0.0
        out.append(Line((contact, (other, rig.cg_height_m)), "neutral"))
        along = contact[0] + 0.42 * (other - contact[0])
        out.append(
            Note(
                (along, 0.42 * rig.cg_height_m - 0.05), "no-squat line" if end == "rear" else "no-rise line", "neutral"
            )
        )
        x, z = ride.roll_axis_point[0], ride.roll_axis_point[2]
        tilt = math.tan(ride.roll_axis_inclination)
        out.append(Line(((x - 0.8, z - 0.8 * tilt), (x + 1.6, z + 1.6 * tilt)), "roll_axis"))
        out.append(Oval((x, ride.roll_centre_height), (0.018, 0.018), "roll_axis"))
    elif view == "plan":
        for apex, role in ((drawn.upper_apex, "upper"), (drawn.lower_apex, "lower")):
            if apex is not None:
                for link in motion.layout.links:
                    if link.role == role:
                        out.append(Line((flatten(link.frame_pivot_m, view), (apex[0], apex[1])), "construction"))
                out.append(Oval((apex[0], apex[1]), (0.015, 0.015), "construction"))
    else:
        y = ride.roll_axis_point[1]
        out.append(Oval((-y, ride.roll_centre_height), (0.018, 0.018), "roll_axis"))
        out.append(Note((-y, ride.roll_centre_height - 0.12), "roll centre", "roll_axis"))
    return out


def balance_shapes(rig: Rig, view: ViewName, sigma_height: float, sigma_along: float = 0.03) -> list[Shape]:
    """The centre of gravity with its ±2 σ as an ellipse."""
    at = flatten((rig.cg_ahead_of_rear_m, 0.0, rig.cg_height_m), view)
    across = 2 * sigma_along if view != "rear" else 0.03
    up = 2 * sigma_height if view != "plan" else 0.03
    return [Oval(at, (across, up), "cg_band"), Oval(at, (0.03, 0.03), "cg"), Note((at[0] + 0.05, at[1]), "CG", "cg")]
