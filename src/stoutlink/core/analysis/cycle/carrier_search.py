"""A place for the carrier bearing of a two-piece shaft at which no joint is past its limit and the wave is least."""

from __future__ import annotations

import math

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.analysis.vehicle.pinion_place import pinion_place
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.quantities import Point
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.swap import AxlePlan
from stoutlink.core.mechanics.driveline import equivalent_of_three, joint_angle, plane_angle

Array = NDArray[np.float64]
ALONG = (0.2, 0.8)
"""Looked at between these parts of the way from output to pinion."""
ASIDE, UPWARD = 0.10, 0.12
"""And this far to each side of the straight way, and above and below it, m (estimates: what a bracket bridges)."""
TRIES, ROUNDS, SHRINK = (9, 5, 7), 5, 0.4
EVERY = 4
"""Every so many-th pose is looked at while searching; what is told of the answer is over all of them."""
USUAL_LIMIT = math.radians(20.0)
"""Joint limit while none is typed, rad (estimate)."""


class CarrierPlace(Struct, frozen=True):
    """Where the joint behind the carrier goes, m; largest joint angles over the travel, case to axle, and equivalent
    angle at ride, rad; whether every joint is within its limit."""

    at: Point
    worst: tuple[float, float, float]
    equivalent: float
    within: bool


def carrier_search(rig: Rig, travel: AxleTravel, donor: DonorAxle | None, plan: AxlePlan) -> CarrierPlace | None:
    """The best place in a corridor along the straight way at ride; ``None`` for a shaft of one piece.

    Least equivalent angle at ride among the places that keep every joint within its limit at every pose within the
    stops; with none, the place whose worst joint is least.
    """
    shaft, grid = travel.shaft, travel.grid
    place = None if donor is None else pinion_place(rig, donor, plan, grid.layout.pinion_up)
    if shaft is None or place is None or shaft.shaft.kind != "two_piece" or not grid.within.any():
        return None
    end = grid.layout.end
    down, back = rig.drivetrain.output_down(end), -1.0 if end == "rear" else 1.0
    output, out = np.array([back * math.cos(down), 0.0, -math.sin(down)]), np.array(shaft.output)
    limit = shaft.shaft.joint_limit_rad or USUAL_LIMIT
    yoke, (i, j) = shaft.shaft.yoke_rad, grid.ride
    pinions = grid.turn @ np.array(place.axis)
    few = np.zeros_like(grid.within)
    few[::EVERY, ::EVERY] = True
    few[[0, -1]] = few[:, [0, -1]] = True
    seen = few & grid.within
    ends = np.concatenate([shaft.joint[i, j][None], shaft.joint[seen]])
    ways = np.concatenate([pinions[i, j][None], pinions[seen]])
    straight = shaft.joint[i, j] - out
    middle, half = out + 0.5 * straight, np.array([0.5 * (ALONG[1] - ALONG[0]), ASIDE, UPWARD])
    best: Array = middle
    for _ in range(ROUNDS):
        u, v, w = (g.ravel() for g in np.meshgrid(*(np.linspace(-1.0, 1.0, n) for n in TRIES), indexing="ij"))
        tries = best + half[0] * u[:, None] * straight + np.stack([0 * u, half[1] * v, half[2] * w], axis=-1)
        part = (tries - out) @ straight / (straight @ straight)
        off = np.abs(tries - out - part[:, None] * straight)
        tries = tries[(part >= ALONG[0]) & (part <= ALONG[1]) & (off[:, 1] <= ASIDE + 1e-9) & (off[:, 2] <= 2 * UPWARD)]
        worst, wave = _judged(out, output, tries, ends, ways, yoke)
        over = worst.max(axis=1) > limit
        # those within first, by the wave at ride; else by the worst joint
        key = np.where(over, 1e3 + worst.max(axis=1), wave)
        best = tries[int(np.argmin(key))]
        half = half * SHRINK
    at = (round(float(best[0]), 4), round(float(best[1]), 4), round(float(best[2]), 4))
    everywhere = grid.within
    worst, wave = _judged(
        out,
        output,
        np.array([at]),
        np.concatenate([shaft.joint[i, j][None], shaft.joint[everywhere]]),
        np.concatenate([pinions[i, j][None], pinions[everywhere]]),
        yoke,
    )
    first, second, third = (float(v) for v in worst[0])
    return CarrierPlace(at, (first, second, third), float(wave[0]), max(first, second, third) <= limit)


def _judged(out: Array, output: Array, tries: Array, ends: Array, ways: Array, yoke: float) -> tuple[Array, Array]:
    """Largest angle of the three joints over poses ``(tries, 3)`` and the equivalent angle at the first, ``(tries,)``,
    of carriers at ``tries`` with the axle's joint at ``ends`` and its pinion along ``ways``."""
    front = tries - out
    front = front / np.maximum(np.linalg.norm(front, axis=-1), 1e-9)[:, None]
    along = ends[None] - tries[:, None]
    axis = along / np.maximum(np.linalg.norm(along, axis=-1), 1e-9)[..., None]
    ahead = np.broadcast_to(front[:, None], axis.shape)
    pinion = np.broadcast_to(ways[None], axis.shape)
    first = joint_angle(np.broadcast_to(output, front.shape), front)
    second, third = joint_angle(ahead, axis), joint_angle(axis, pinion)
    turns = (
        plane_angle(np.broadcast_to(output, front.shape), front, axis[:, 0]),
        plane_angle(front, axis[:, 0], pinion[:, 0]),
    )
    wave = equivalent_of_three(first, second[:, 0], third[:, 0], turns, yoke)
    return np.stack([first, second.max(axis=1), third.max(axis=1)], axis=-1), np.asarray(wave)
