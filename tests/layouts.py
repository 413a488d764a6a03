"""Layouts made for checking: mirrored, lopsided, redundant, degenerate. Metres, vehicle axes at ride."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from stoutlink.core.document.layout import Joint, Layout, Link, LinkEnd
from stoutlink.core.document.rig import Drivetrain, Rig, WheelEnd
from stoutlink.core.mechanics.linkage.bars import Bars

Array = NDArray[np.float64]
Triple = tuple[float, float, float]
CENTRE = (0.0, 0.0, 0.44)
JOINT = Joint(
    id="j",
    name="Joint",
    thread_diameter_m=0.0254,
    thread_pitch_m=0.0254 / 14,
    shank_m=0.13,
    neck_m=0.03,
    jam_nut_m=0.014,
)


def mirrored(frame: Triple, axle: Triple) -> list[tuple[Triple, Triple]]:
    """A left bar and its mirror image."""
    flip = [(p[0], -p[1], p[2]) for p in (frame, axle)]
    return [(frame, axle), (flip[0], flip[1])]


DOUBLE = [*mirrored((0.86, 0.41, 0.79), (0.04, 0.10, 0.71)), *mirrored((1.02, 0.21, 0.58), (0.02, 0.52, 0.40))]
SINGLE = [*mirrored((0.84, 0.40, 0.80), (0.05, 0.11, 0.70)), *mirrored((1.05, 0.46, 0.57), (0.01, 0.46, 0.39))]
THREE = [
    *mirrored((0.98, 0.42, 0.55), (0.03, 0.47, 0.40)),
    ((0.80, -0.22, 0.78), (0.02, -0.30, 0.68)),
    ((-0.10, 0.48, 0.70), (-0.11, -0.45, 0.60)),
]
PARALLEL = [*mirrored((0.95, 0.45, 0.80), (0.0, 0.45, 0.70)), *mirrored((1.0, 0.45, 0.55), (0.0, 0.45, 0.40))]
REDUNDANT = [*PARALLEL, ((-0.10, 0.48, 0.70), (-0.11, -0.45, 0.60))]
RADIUS = [
    *mirrored((1.0, 0.45, 0.55), (0.10, 0.45, 0.50)), *mirrored((1.0, 0.45, 0.55), (-0.05, 0.45, 0.36)), ((-0.10, 0.48, 0.70), (-0.11, -0.45, 0.60)),
]  # fmt: skip
HELD = {"double": DOUBLE, "single": SINGLE, "three": THREE}


def bars(which: list[tuple[Triple, Triple]], centre: Triple = CENTRE) -> Bars:
    """Bars of one of the lists."""
    return Bars.of(centre, [b[0] for b in which], [b[1] for b in which])


def rig(**changes: object) -> Rig:
    """A rig with round numbers; the rear loaded radius is the height of CENTRE."""
    values: dict[str, object] = {
        "name": "Test rig",
        "wheelbase_m": 2.8,
        "mass_kg": 2000.0,
        "cg_height_m": 0.84,
        "cg_ahead_of_rear_m": 1.4,
        "front": WheelEnd(track_m=1.6, tyre_free_radius_m=0.47, loaded_radius_m=0.44, unsprung_mass_kg=240.0),
        "rear": WheelEnd(track_m=1.6, tyre_free_radius_m=0.47, loaded_radius_m=0.44, unsprung_mass_kg=230.0),
        "drivetrain": Drivetrain(engine_torque_nm=400.0, gear_ratios=(4.0, 0.75), transfer_low_ratio=2.5),
    }
    return Rig(**(values | changes))  # type: ignore[arg-type]


def layout(which: list[tuple[Triple, Triple]], end: str = "rear", shift: float = 0.0, **changes: object) -> Layout:
    """The bars as a layout of the project; roles by order (uppers first), ``shift`` moves it forward."""
    names = {4: ("upper", "upper", "lower", "lower"), 5: ("upper", "upper", "lower", "lower", "panhard")}[len(which)]
    if which is THREE:
        names = ("lower", "lower", "upper", "panhard")
    links = []
    for i, ((f, a), role) in enumerate(zip(which, names, strict=True)):
        single = names.count(role) == 1
        side = "centre" if single else ("left" if f[1] + a[1] > 0 else "right")
        links.append(
            Link(
                id=f"{role}_{side}_{i}",
                name=f"{side} {role}",
                role=role,  # type: ignore[arg-type]
                side=side,  # type: ignore[arg-type]
                frame_pivot_m=(f[0] + shift, f[1], f[2]),
                axle_pivot_m=(a[0] + shift, a[1], a[2]),
                tube_od_m=0.05,
                tube_wall_m=0.006,
                frame_end=LinkEnd(joint="j", take_up_m=0.07),
                axle_end=LinkEnd(joint="j", take_up_m=0.07),
            )
        )
    values: dict[str, object] = {"id": "test", "name": "Test layout", "end": end, "links": tuple(links)}
    return Layout(**(values | changes))  # type: ignore[arg-type]
