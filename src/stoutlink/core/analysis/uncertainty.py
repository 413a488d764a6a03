"""How sure the headline numbers of a layout are: first-order propagation of the readings.

A reading, not a coordinate, is what varies: in a mirrored layout one spread moves both pivots. Defaults, 1 σ:
tape heights 3 mm, spreads 3 mm, plumb-bob stations 5 mm, centre of gravity height 40 mm (common practice); an entry in
the project may say otherwise. The loaded radius does not count here: pivot heights are measured from the floor.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import msgspec
import numpy as np
from numpy.typing import NDArray

from stoutlink.core.analysis.anti_numbers import brake_percent, drive_percent, school_height
from stoutlink.core.analysis.bar_set import axle_centre, stiffness_of
from stoutlink.core.document.layout import Joint, Layout
from stoutlink.core.document.project import Entry, HeightSchool, ThrustSchool
from stoutlink.core.document.rig import Rig
from stoutlink.core.mechanics.linkage.bars import Bars
from stoutlink.core.mechanics.linkage.hold import side_force
from stoutlink.core.mechanics.linkage.motion import motion
from stoutlink.core.mechanics.linkage.position import ride_pose
from stoutlink.core.mechanics.linkage.roll_motion import roll_motion
from stoutlink.core.mechanics.linkage.side_view import side_view

Array = NDArray[np.float64]

STATION, HEIGHT, SPREAD, CG_HEIGHT = 0.005, 0.003, 0.003, 0.040
"""Default 1 σ of readings, m (common practice)."""
_STEP = 1e-4


@dataclass(frozen=True)
class HowSure:
    """1 σ of one number, with the readings that make it up: (what, part of the variance), largest first."""

    sigma: float
    parts: tuple[tuple[str, float], ...]


@dataclass(frozen=True)
class _Reading:
    what: str
    sigma: float
    moves: tuple[tuple[str, int, int, float], ...]
    """(frame or axle, bar index, axis, factor) that one unit of the reading moves."""


@lru_cache(maxsize=16)
def how_sure(
    rig: Rig, layout: Layout, joints: tuple[Joint, ...], entries: tuple[Entry, ...], thrust: ThrustSchool, height: HeightSchool
) -> dict[str, HowSure]:
    """1 σ of ``drive_pct``, ``brake_pct``, ``roll_centre_m``, ``roll_centre_part``, ``inclination_rad``, ``roll_steer`` and ``hold``."""
    noted = {e.field: e.sigma for e in entries if e.sigma is not None}
    readings = _readings(layout, noted)
    frame = np.array([link.frame_pivot_m for link in layout.links])
    axle = np.array([link.axle_pivot_m for link in layout.links])
    k = len(readings)
    frames, axles = np.tile(frame, (2 * k, 1, 1)), np.tile(axle, (2 * k, 1, 1))
    for i, reading in enumerate(readings):
        for which, bar, axis, factor in reading.moves:
            points = frames if which == "frame" else axles
            points[2 * i, bar, axis] += factor * _STEP
            points[2 * i + 1, bar, axis] -= factor * _STEP
    values = headlines(rig, layout, joints, np.concatenate([frames, frame[None]]), np.concatenate([axles, axle[None]]), thrust, height)
    cg = noted.get("rig.cg_height_m", CG_HEIGHT)
    taller = msgspec.structs.replace(rig, cg_height_m=rig.cg_height_m + _STEP)
    shrinks = {"drive_pct": school_height(rig, height) / school_height(taller, height)}  # these go as 1/height
    shrinks |= {"brake_pct": shrinks["drive_pct"], "roll_centre_part": rig.cg_height_m / taller.cg_height_m}
    out = {}
    for name, v in values.items():
        slopes = (v[0:-1:2] - v[1:-1:2]) / (2 * _STEP)
        parts = {r.what: (float(s) * r.sigma) ** 2 for r, s in zip(readings, slopes, strict=True)}
        parts["centre of gravity height"] = (float(v[-1]) * (shrinks.get(name, 1.0) - 1.0) / _STEP * cg) ** 2
        total = sum(parts.values())
        ranked = sorted(((what, part / total) for what, part in parts.items()), key=lambda p: -p[1]) if total > 0 else []
        out[name] = HowSure(total**0.5, tuple(ranked[:5]))
    return out


def headlines(
    rig: Rig, layout: Layout, joints: tuple[Joint, ...], frame: Array, axle: Array, thrust: ThrustSchool, height: HeightSchool
) -> dict[str, Array]:
    """Headline numbers at ride of candidate pivots, ``(..., n, 3)`` each in m: arrays ``(...)`` by name."""
    bars = Bars.of(axle_centre(rig, layout.end), frame, axle, stiffness_of(layout, joints)[0])
    poses = ride_pose(bars)
    twist = motion(bars, poses)
    slope = side_view(poses, twist, layout.end, rig.end(layout.end).loaded, rig.end(layout.end).track_m).slope[..., 0]
    roll = roll_motion(poses, twist)
    rc = roll.centre_height[..., 0]
    return {
        "drive_pct": drive_percent(rig, layout.end, slope, thrust, height),
        "brake_pct": brake_percent(rig, layout.end, slope, height),
        "roll_centre_m": rc,
        "roll_centre_part": rc / school_height(rig, "whole_vehicle"),
        "inclination_rad": roll.inclination[..., 0],
        "roll_steer": roll.steer[..., 0],
        "hold": np.abs(side_force(twist.rows[..., 0, :, :], bars.stiffness)[0]).max(axis=-1),
    }


def _readings(layout: Layout, noted: dict[str, float]) -> list[_Reading]:
    index = {link.id: i for i, link in enumerate(layout.links)}
    out = []
    for link in layout.links:
        partner = layout.partner(link) if layout.mirrored else None
        if partner is not None and link.side == "right":
            continue
        for which in ("frame", "axle"):
            for axis, (word, default) in enumerate((("station", STATION), ("spread", SPREAD), ("height", HEIGHT))):
                path = f"layouts.{layout.id}.links.{link.id}.{which}_pivot_m.{axis}"
                sigma = noted.get(path) or default
                if partner is None:
                    moves: tuple[tuple[str, int, int, float], ...] = ((which, index[link.id], axis, 1.0),)
                    word = "offset" if word == "spread" else word
                    name = link.name
                else:
                    name = f"{link.role} pair"
                    left, right = (0.5, -0.5) if axis == 1 else (1.0, 1.0)
                    moves = ((which, index[link.id], axis, left), (which, index[partner.id], axis, right))
                out.append(_Reading(f"{name}, {which} {word}", sigma, moves))
    return out
