"""What a project must satisfy beyond the shape of its values: references, unique names, possible tubes.

Each problem is one :class:`~stoutlink.core.errors.ValueOutOfRange` that names the field and the value.
"""

from __future__ import annotations

import math
from collections.abc import Iterable

from stoutlink.core.document.layout import Layout, Link
from stoutlink.core.document.project import Project
from stoutlink.core.errors import ValueOutOfRange


SHORTEST_LINK = 1e-3
"""Pivots nearer than this, m, are the same place."""


def check_project(project: Project) -> None:
    """Raise for the first thing in the project that cannot be meant."""
    _unique("donors", (d.id for d in project.donors))
    _unique("joints", (j.id for j in project.joints))
    _unique("layouts", (one.id for one in project.layouts))
    for field, wanted, known, end in (
        ("front_donor", project.front_donor, {d.id: d.end for d in project.donors}, "front"),
        ("rear_donor", project.rear_donor, {d.id: d.end for d in project.donors}, "rear"),
        ("front_layout", project.front_layout, {one.id: one.end for one in project.layouts}, "front"),
        ("rear_layout", project.rear_layout, {one.id: one.end for one in project.layouts}, "rear"),
    ):
        if wanted is None:
            continue
        if wanted not in known:
            raise ValueOutOfRange("D101", f"{field} names “{wanted}”, which is not in the file.", f"Known: {', '.join(known) or 'none'}.")
        if known[wanted] != end:
            raise ValueOutOfRange("D102", f"{field} names “{wanted}”, which is a {known[wanted]} one.")
    rig = project.rig
    if rig.cg_ahead_of_rear_m >= rig.wheelbase_m:
        raise ValueOutOfRange(
            "D103", f"rig.cg_ahead_of_rear_m is {rig.cg_ahead_of_rear_m:g} m, not less than the wheelbase of {rig.wheelbase_m:g} m."
        )
    if rig.front.unsprung_mass_kg + rig.rear.unsprung_mass_kg >= rig.mass_kg:
        raise ValueOutOfRange("D104", f"rig.mass_kg is {rig.mass_kg:g} kg, not more than its unsprung masses together.")
    sprung = rig.mass_kg - rig.front.unsprung_mass_kg - rig.rear.unsprung_mass_kg
    moment = rig.mass_kg * rig.cg_height_m - sum(w.unsprung_mass_kg * w.loaded for w in (rig.front, rig.rear))
    if moment <= 0.05 * sprung:
        raise ValueOutOfRange("D105", f"rig.cg_height_m is {rig.cg_height_m:g} m, which would put the sprung mass on the ground.")
    for name in ("front", "rear"):
        wheels = rig.end(name)
        for key, value in (("loaded_radius_m", wheels.loaded_radius_m), ("rolling_radius_m", wheels.rolling_radius_m)):
            if value is not None and not 0.6 * wheels.tyre_free_radius_m <= value <= 1.02 * wheels.tyre_free_radius_m:
                raise ValueOutOfRange(
                    "D106", f"rig.{name}.{key} is {value:g} m, which does not go with a free radius of {wheels.tyre_free_radius_m:g} m."
                )
    known_joints = {j.id for j in project.joints}
    for joint in project.joints:
        if (joint.thread_diameter_m is None) != (joint.thread_pitch_m is None):
            raise ValueOutOfRange("D107", f"joints.{joint.id} has a thread diameter or a thread pitch, but not both.")
        if joint.thread_diameter_m is not None and not joint.neck_m < joint.shank_m:
            raise ValueOutOfRange("D108", f"joints.{joint.id}.shank_m is {joint.shank_m:g} m, not more than its neck of {joint.neck_m:g} m.")
    for layout in project.layouts:
        _check_layout(layout, known_joints)


def _check_layout(layout: Layout, joints: set[str]) -> None:
    _unique(f"layouts.{layout.id}.links", (one.id for one in layout.links))
    for link in layout.links:
        here = f"layouts.{layout.id}.links.{link.id}"
        if 2 * link.tube_wall_m > link.tube_od_m + 1e-9:
            raise ValueOutOfRange(
                "D109", f"{here}.tube_wall_m is {link.tube_wall_m:g} m, more than half the tube's {link.tube_od_m:g} m outside diameter."
            )
        for end, name in ((link.frame_end, "frame_end"), (link.axle_end, "axle_end")):
            if end.joint not in joints:
                raise ValueOutOfRange("D110", f"{here}.{name}.joint names “{end.joint}”, which is not among the joints.")
        if math.dist(link.frame_pivot_m, link.axle_pivot_m) < SHORTEST_LINK:
            x, y, z = link.frame_pivot_m
            raise ValueOutOfRange("D111", f"{here}: frame_pivot_m and axle_pivot_m are the same point ({x:g}, {y:g}, {z:g}).")

    for i, one in enumerate(layout.links):
        for other in layout.links[i + 1 :]:
            if _on_one_line(one, other):
                raise ValueOutOfRange(
                    "D113",
                    f"layouts.{layout.id}.links: {one.id} and {other.id} lie on one line, so the second holds nothing.",
                    "Move a pivot of one.",
                )


def _on_one_line(one: Link, other: Link) -> bool:
    """Whether two links run along the same straight line in space (to a micrometre over a metre)."""
    a, b = one.frame_pivot_m, one.axle_pivot_m
    along = tuple(q - p for p, q in zip(a, b, strict=True))
    size = math.hypot(*along)
    for point in (other.frame_pivot_m, other.axle_pivot_m):
        x, y, z = (p - q for p, q in zip(point, a, strict=True))
        off = math.hypot(y * along[2] - z * along[1], z * along[0] - x * along[2], x * along[1] - y * along[0]) / size
        if off > 1e-6:
            return False
    return True


def _unique(where: str, names: Iterable[str]) -> None:
    seen: set[str] = set()
    for name in names:
        if name in seen:
            raise ValueOutOfRange("D112", f"{where} holds “{name}” twice.")
        seen.add(name)
