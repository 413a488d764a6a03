"""One axle's whole travel in one answer: grid, driveline, springs, what touches, and every number as a curve."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.cycle.grid import HEAVES, ROLLS, Grid, axle_grid, leaf_grid
from stoutlink.core.analysis.cycle.interference import Interference, interference
from stoutlink.core.analysis.cycle.reach import LineReach, line_reaches, placed_lines
from stoutlink.core.analysis.cycle.shaft import ShaftTravel, shaft_travel
from stoutlink.core.analysis.cycle.springs import SpringTravel, spring_travel
from stoutlink.core.analysis.cycle.steer import SteerTravel, steer_travel
from stoutlink.core.analysis.linkage.axle_motion import AxleMotion, Travel, axle_motion, travel_of
from stoutlink.core.analysis.linkage.joint_misalignment import misalignment_over
from stoutlink.core.analysis.linkage.leaf_axle import LeafAxle, leaf_axle
from stoutlink.core.analysis.vehicle.anti_numbers import brake_percent, drive_percent
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.project import Project, Settings
from stoutlink.core.document.rig import Rig
from stoutlink.core.mechanics.leaf_spring import SeatMotion, support_slope

Array = NDArray[np.float64]


class Curve(Struct, frozen=True, eq=False):
    """One number over heave at no roll ``(heaves,)`` and over roll at ride height ``(rolls,)``, in SI (percent as
    such); ``kind`` as shown.
    """

    id: str
    title: str
    kind: str
    heave: Array
    roll: Array


class AxleTravel(Struct, frozen=True, eq=False):
    """The answer for one axle. ``motion`` is there for links only."""

    layout: Layout
    grid: Grid
    motion: AxleMotion | None
    shaft: ShaftTravel | None
    springs: SpringTravel
    steer: SteerTravel | None
    interference: Interference
    curves: tuple[Curve, ...]
    leaf: LeafAxle | None = None
    lines: tuple[LineReach, ...] = ()

    def curve(self, name: str) -> Curve | None:
        """A curve by its id."""
        return next((c for c in self.curves if c.id == name), None)


def axle_travel(
    project: Project,
    rig: Rig,
    end: str,
    going: Callable[[float], bool] = lambda part: True,
    *,
    touch: bool = True,
    stations: tuple[int, int] = (HEAVES, ROLLS),
) -> AxleTravel | None:
    """Cycle one axle of a project on the rig in force; ``None`` without a layout, or when given up (``going`` says no).
    Without ``touch`` only poses and curves are worked out. ``stations`` of heave and roll: fewer for a first look.

    Raises :class:`~stoutlink.core.errors.GeometryError` for a layout that does not hold its axle.
    """
    layout = project.layout(end)
    if layout is None:
        return None
    grid, motion, found = _posed(project, rig, layout, *stations)
    if not going(0.2):
        return None
    donor = project.donor(end)
    shaft, springs, steer = (
        shaft_travel(rig, grid, donor, project.plan(end)),
        spring_travel(grid),
        steer_travel(rig, grid, donor),
    )
    nothing = Interference((), np.full(grid.reached.shape, np.nan), np.full(grid.reached.shape, -1))
    touched = interference(project, rig, grid, shaft, steer, found, donor, lambda: going(0.5)) if touch else nothing
    if not going(0.95):
        return None
    return AxleTravel(
        layout,
        grid,
        motion,
        shaft,
        springs,
        steer,
        touched,
        tuple(_curves(project, rig, grid, motion, found, shaft, springs, steer)),
        found,
        line_reaches(rig, grid, steer, donor, placed_lines(project, layout)),
    )


def _posed(
    project: Project, rig: Rig, layout: Layout, heaves: int = HEAVES, rolls: int = ROLLS
) -> tuple[Grid, AxleMotion | None, LeafAxle | None]:
    if layout.leaf is not None:
        found = leaf_axle(project, rig, layout)
        assert found is not None
        return leaf_grid(found, layout.droop_m, layout.bump_m, heaves, rolls), None, found
    motion = axle_motion(rig, layout, project.linkage.joints, layout.droop_m, layout.bump_m)
    return axle_grid(rig, layout, project.linkage.joints, layout.droop_m, layout.bump_m, heaves, rolls), motion, None


def curves_of(project: Project, rig: Rig, layout: Layout, heaves: int, rolls: int) -> tuple[Grid, tuple[Curve, ...]]:
    """The curves of a layout at fewer stations, and the grid they stand on. Raises
    :class:`~stoutlink.core.errors.GeometryError` as the travel does.
    """
    grid, motion, leaf = _posed(project, rig, layout, heaves, rolls)
    donor = project.donor(layout.end)
    shaft, steer = shaft_travel(rig, grid, donor, project.plan(layout.end)), steer_travel(rig, grid, donor)
    return grid, tuple(_curves(project, rig, grid, motion, leaf, shaft, spring_travel(grid), steer))


def _curves(
    project: Project,
    rig: Rig,
    grid: Grid,
    motion: AxleMotion | None,
    leaf: LeafAxle | None,
    shaft: ShaftTravel | None,
    springs: SpringTravel,
    steer: SteerTravel | None,
) -> list[Curve]:
    i, j = grid.ride
    out: list[Curve] = []

    def put(name: str, title: str, kind: str, values: Array) -> None:
        out.append(Curve(name, title, kind, values[i], values[:, j]))

    if motion is not None:
        level = np.zeros_like(grid.heave)
        lines = [
            travel_of(rig, grid.layout, motion.bars, grid.heave, level),
            travel_of(rig, grid.layout, motion.bars, np.zeros_like(grid.roll), grid.roll),
        ]
        for (name, title, kind, heave), (_, _, _, roll) in zip(
            _of(rig, grid, project.settings, lines[0]), _of(rig, grid, project.settings, lines[1]), strict=True
        ):
            out.append(Curve(name, title, kind, heave, roll))
        leans = [misalignment_over(motion, project.linkage.joints, t) for t in lines]
        for k, link in enumerate(grid.layout.links):
            for e, which in enumerate(("frame", "axle")):
                out.append(
                    Curve(
                        f"lean_{link.id}_{which}",
                        f"Lean, {link.name.lower()} {which}",
                        "angle",
                        leans[0][e, k],
                        leans[1][e, k],
                    )
                )
    elif leaf is not None:
        out += _leaf_curves(rig, grid, leaf, project.settings)
        put(
            "pinion_up",
            "Pinion up",
            "angle",
            np.where(
                grid.reached,
                grid.layout.pinion_up - (1.0 if grid.layout.end == "rear" else -1.0) * grid.pitch,
                np.nan,
            ),
        )
        put(
            "wheelbase",
            "Wheelbase change",
            "length",
            (-1.0 if grid.layout.end == "rear" else 1.0) * (grid.x - grid.centre[0]),
        )
        put("yaw", "Axle steer", "angle", grid.yaw)
    if steer is not None:
        put("left_wheel", "Left wheel heading", "angle", steer.left)
        put("right_wheel", "Right wheel heading", "angle", steer.right)
        put("hands", "Steering wheel to keep straight", "angle", steer.hands)
    if shaft is not None:
        put("joint_case", "Joint at the case", "angle", shaft.first)
        if shaft.middle is not None:
            put("joint_carrier", "Joint at the carrier", "angle", shaft.middle)
        put("joint_axle", "Joint at the axle", "angle", shaft.second)
        put("equivalent", "Equivalent angle", "angle", shaft.equivalent)
        put("shaft_length", "Driveshaft length", "length", shaft.length)
    if springs.shock is not None:
        put("shock", "Left shock length", "length", springs.shock[0])
    if springs.spring is not None and springs.wheel_rate is not None and springs.ratio is not None:
        put("spring", "Left spring length", "length", springs.spring[0])
        empty = np.full_like(grid.roll, np.nan)
        out.append(Curve("motion_ratio", "Motion ratio", "number", springs.ratio, empty))
        out.append(Curve("wheel_rate", "Wheel rate", "spring_rate", springs.wheel_rate, empty))
    return out


def _leaf_curves(rig: Rig, grid: Grid, leaf: LeafAxle, s: Settings) -> list[Curve]:
    """Anti-numbers of the beam school over heave, from the hubs' own path and tilt there, and roll steer over both.
    The support slope does not depend on roll in this picture, so there is no curve over roll."""
    end, (i, j) = grid.layout.end, grid.ride
    rear = end == "rear"
    forward = np.gradient(grid.x[i], grid.heave)
    down = leaf.halves.nose_down_per_bump
    slope = np.array([support_slope(SeatMotion(float(f), down), rig.end(end).loaded, end) for f in forward])
    empty = np.full_like(grid.roll, np.nan)
    steer = np.gradient(grid.yaw, grid.roll, axis=0)
    return [
        Curve(
            "drive",
            "Anti-squat" if rear else "Anti-lift, drive",
            "percent",
            drive_percent(rig, end, slope, s.thrust_school, s.height_school),
            empty,
        ),
        Curve(
            "brake",
            "Anti-lift, braking" if rear else "Anti-dive",
            "percent",
            brake_percent(rig, end, slope, s.height_school),
            empty,
        ),
        Curve("roll_steer", "Roll steer", "number", steer[i], steer[:, j]),
    ]


def _of(rig: Rig, grid: Grid, s: Settings, t: Travel) -> list[tuple[str, str, str, Array]]:
    """The numbers of a sweep that come from the links alone."""
    end = grid.layout.end
    rear = end == "rear"
    out = [
        (
            "drive",
            "Anti-squat" if rear else "Anti-lift, drive",
            "percent",
            drive_percent(rig, end, t.side.slope, s.thrust_school, s.height_school),
        ),
        (
            "brake",
            "Anti-lift, braking" if rear else "Anti-dive",
            "percent",
            brake_percent(rig, end, t.side.slope, s.height_school),
        ),
        ("roll_centre", "Roll centre height", "length", t.roll.centre_height),
        ("roll_steer", "Roll steer", "number", t.roll.steer),
        ("pinion_up", "Pinion up", "angle", t.pinion),
        ("wheelbase", "Wheelbase change", "length", t.wheelbase_change),
        ("side_shift", "Side shift", "length", t.lateral),
        ("yaw", "Axle steer", "angle", t.poses.yaw),
    ]
    if t.caster is not None:
        out[5:5] = [
            ("caster", "Caster, left", "angle", t.caster[0]),
            ("caster_right", "Caster, right", "angle", t.caster[1]),
        ]
    return out
