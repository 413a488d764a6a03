"""The headline numbers of many versions of one layout at once: hole combinations, and candidates of a search."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.linkage.bar_set import stiffness_of
from stoutlink.core.analysis.survey.clearances import extent
from stoutlink.core.analysis.survey.mesh_place import placed_pieces
from stoutlink.core.analysis.vehicle.anti_numbers import brake_percent, drive_percent
from stoutlink.core.analysis.vehicle.axle_place import axle_centre
from stoutlink.core.document.layout import Joint, Layout
from stoutlink.core.document.placed_solids import placed_solids
from stoutlink.core.document.project import Project, Settings
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.survey import MeshSolid, Solid, TubeSolid
from stoutlink.core.geometry.many_distances import segments_apart, segments_to_box
from stoutlink.core.geometry.rotation import rotation
from stoutlink.core.mechanics.linkage.bars import Bars
from stoutlink.core.mechanics.linkage.hold import FREE, smallest_singular
from stoutlink.core.mechanics.linkage.motion import motion
from stoutlink.core.mechanics.linkage.poses import Poses
from stoutlink.core.mechanics.linkage.position import sweep
from stoutlink.core.mechanics.linkage.ride_shape import ride_shape

Array = NDArray[np.float64]
BIND_ROLL = np.radians(20.0)
"""Roll either way over which what bushings must give is asked."""
RIDE_NUMBERS = ("drive", "brake", "roll_centre", "inclination", "steer", "hold", "longest", "shortest")
"""Numbers that need ride height alone; the others need the travel solved."""


class Setting(Struct, frozen=True):
    """What stays the same for all versions: the rig in force, the layout they are versions of, its joints, the
    schools and travel, and what is in the way.
    """

    rig: Rig
    layout: Layout
    joints: tuple[Joint, ...]
    settings: Settings
    solids: tuple[Solid, ...] = ()

    @classmethod
    def of(cls, project: Project, rig: Rig, layout: Layout) -> Setting:
        """From a project, on its rig in force."""
        return cls(rig, layout, project.linkage.joints, project.settings, placed_solids(project))


def numbers_of(
    setting: Setting,
    frame: Array,
    axle: Array,
    wanted: Sequence[str],
    stations: int = 9,
    near: float = np.inf,
    *,
    rough: bool = False,
) -> dict[str, Array]:
    """Numbers of versions with pivots ``(m, n, 3)``, ``(m,)`` each, in the gauges' own units; ``nan`` where a version
    does not hold the axle.

    drive, brake %; roll_centre part of CG height; inclination degrees; steer °/°; hold ×; longest and shortest link
    m; pinion degrees over the travel at ``stations`` heights; travel reached as a part; bind m, the most a bushing
    gives over heave and ±20° of roll; clearance m, the least room at droop, ride and bump beyond what each solid
    wants (boxes around flat outlines), at least ``near`` where it is more.
    """
    out: dict[str, Array] = {}
    lengths = np.linalg.norm(axle - frame, axis=-1)
    out["longest"], out["shortest"] = lengths.max(axis=-1), lengths.min(axis=-1)
    ok = lengths.min(axis=-1) > 5e-3
    spread = np.where(ok[:, None, None], axle, axle + np.array([0.1, 0.05, 0.02]))
    bars = Bars.of(
        axle_centre(setting.rig, setting.layout.end), frame, spread, stiffness_of(setting.layout, setting.joints)[0]
    )
    held = ok & (smallest_singular(bars.rows_at_ride) > FREE)
    if (
        not held.all()
    ):  # a version that leaves a motion free is worked out as if it were the first that holds, and then struck out
        if not held.any():
            return {name: np.full(len(frame), np.nan) for name in wanted}
        good = np.flatnonzero(held)
        pick = np.where(held, np.arange(len(frame)), good[0])
        bars = Bars.of(bars.centre[pick], bars.frame[pick], bars.axle[pick], bars.stiffness[pick])
    out |= _at_ride(setting, bars)
    if any(name in wanted for name in ("pinion", "travel", "clearance")):
        droop, bump = setting.layout.droop_m, setting.layout.bump_m
        heave = np.linspace(-droop, bump, stations)
        poses = sweep(bars, heave, np.zeros(stations), patient=not rough)
        if "pinion" in wanted:
            out["pinion"] = _pinion_spread(setting.layout, poses)
        reach = np.clip(poses.limit_high, 0, bump) - np.clip(poses.limit_low, -droop, 0)
        out["travel"] = reach / (droop + bump)
        if "clearance" in wanted:
            out["clearance"] = _clearance(setting, bars, poses, near)
    if "bind" in wanted:
        out["bind"] = over_constraint_of(bars, setting.layout, rough=rough)
    return {name: np.where(held, out[name], np.nan) for name in wanted}


def _at_ride(setting: Setting, bars: Bars) -> dict[str, Array]:
    rig, end, s = setting.rig, setting.layout.end, setting.settings
    shape = ride_shape(end, bars)
    return {
        "drive": drive_percent(rig, end, shape["slope"], s.thrust_school, s.height_school),
        "brake": brake_percent(rig, end, shape["slope"], s.height_school),
        "roll_centre": shape["roll_centre_m"] / rig.cg_height_m,
        "inclination": np.degrees(shape["inclination_rad"]),
        "steer": shape["roll_steer"],
        "hold": shape["hold"],
    }


def _pinion_spread(layout: Layout, poses: Poses) -> Array:
    """Largest less smallest elevation of the pinion over what is reached, degrees."""
    turned = rotation(poses.yaw, poses.roll, poses.pitch)
    forward = 1.0 if layout.end == "rear" else -1.0
    axis = np.array([forward * np.cos(layout.pinion_up), 0.0, np.sin(layout.pinion_up)])
    up = np.degrees(np.arcsin(np.clip((turned @ axis)[..., 2], -1.0, 1.0)))
    return np.asarray(np.nanmax(up, axis=-1) - np.nanmin(up, axis=-1))


def over_constraint_of(bars: Bars, layout: Layout, *, rough: bool = False) -> Array:
    """The most one bar must change its length over heave and ±20° of roll, m; 0 for four bars, which close exactly."""
    if bars.count == 4:
        return np.zeros(bars.lead)
    steps = 5 if rough else 41
    heave = np.linspace(-layout.droop_m, layout.bump_m, steps)
    turns = np.linspace(-BIND_ROLL, BIND_ROLL, steps)
    worst = np.zeros(bars.lead)
    for h, r in ((heave, np.zeros(steps)), (np.zeros(steps), turns)):
        poses = sweep(bars, h, r, patient=not rough)
        worst = np.maximum(worst, np.nanmax(np.abs(motion(bars, poses).bar_error), axis=(-1, -2)))
    return worst


def _clearance(setting: Setting, bars: Bars, poses: Poses, near: float) -> Array:
    """Least room between tubes and solids at droop, ride and bump, beyond what each solid wants, m; infinite with
    nothing in the way.

    Beyond ``near`` the distance of the upright boxes around both stands for it, which is never more than the true one.
    """
    tubes = np.broadcast_to(0.5 * np.array([link.tube_od_m for link in setting.layout.links]), bars.frame.shape[:-1])
    out = np.full(len(bars.frame), np.inf)
    for i in sorted({0, poses.x.shape[-1] // 2, poses.x.shape[-1] - 1}):
        turn = rotation(poses.yaw[:, i], poses.roll[:, i], poses.pitch[:, i])
        at = np.stack([poses.x[:, i], poses.y[:, i], poses.z[:, i]], axis=-1)
        axle = at[:, None] + bars.local @ np.swapaxes(turn, -1, -2)
        least, most = np.minimum(bars.frame, axle), np.maximum(bars.frame, axle)
        for solid in setting.solids:
            low, high = (np.array(v) for v in extent(solid))
            apart = np.maximum(0.0, np.maximum(low - most, least - high))
            gap = np.sqrt((apart * apart).sum(axis=-1)) - tubes - solid.clearance_m
            close = gap < near
            if close.any():
                gap[close] = (
                    _solid_gap(solid, bars.frame[close], axle[close], 40 if near == np.inf else 16)
                    - tubes[close]
                    - solid.clearance_m
                )
            out = np.fmin(out, gap.min(axis=-1))
    return out


def _solid_gap(solid: Solid, p: Array, q: Array, steps: int) -> Array:
    if isinstance(solid, TubeSolid):
        runs = [
            segments_apart(p, q, np.array(a), np.array(b)) for a, b in zip(solid.path_m, solid.path_m[1:], strict=False)
        ]
        return np.asarray(np.minimum.reduce(runs) - 0.5 * solid.diameter_m)
    if isinstance(solid, MeshSolid):
        near = [segments_to_box(p, q, low[:, 0], high[:, 0], steps) for _, low, high in placed_pieces(solid)]
        return np.asarray(np.minimum.reduce(near))
    low, high = extent(solid)
    return segments_to_box(p, q, np.array(low), np.array(high), steps)
