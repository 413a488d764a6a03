"""How far every joint leans over travel against what it allows, and what redundant bars ask of their bushings: bind."""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.linkage.axle_motion import AxleMotion, Travel
from stoutlink.core.analysis.linkage.bar_set import stiffness_of
from stoutlink.core.document.layout import Joint, Link, LinkEnd, PivotEnd
from stoutlink.core.geometry.rotation import rotation
from stoutlink.core.mechanics.linkage.misalignment import best_clock, joint_misalignment, set_joint_misalignment

Array = NDArray[np.float64]
LINES = ("heave", "roll")


class EndMisalignment(Struct, frozen=True):
    """One joint: the largest lean over heave and over roll (rad), what it allows (None: not known), and where the
    largest is, in words.
    """

    link: Link
    end: PivotEnd
    joint: Joint | None
    heave: float
    roll: float
    allowed: float | None

    @property
    def worst(self) -> float:
        """The larger of both."""
        return max(self.heave, self.roll)

    @property
    def over(self) -> bool:
        """Whether it leans further than it allows."""
        return self.allowed is not None and self.worst > self.allowed


class BushingGive(Struct, frozen=True):
    """What one bar of a redundant set must give at its frame and axle end, m, over heave and over roll (the larger of
    shorter and longer).
    """

    link: Link
    heave: tuple[float, float]
    roll: tuple[float, float]
    force_roll: float
    """Force it takes at the most over roll, N, with the stiffness in use."""


class OverConstraint(Struct, frozen=True):
    """Joints and bushings of one layout. ``stiffness_assumed`` when the give rests on the equal default."""

    ends: tuple[EndMisalignment, ...]
    bars: tuple[BushingGive, ...]
    stiffness_assumed: bool
    roll_asked: float
    roll_reached: tuple[float, float]


@lru_cache(maxsize=16)
def over_constraint(motion: AxleMotion, joints: tuple[Joint, ...]) -> OverConstraint:
    """Lean of every joint and give of every bushing over the heave and roll sweeps (roll to ±20° or where the links
    bind).
    """
    known = {j.id: j for j in joints}
    angles = [
        np.nanmax(misalignment_over(motion, joints, travel), axis=-1, initial=0.0)
        for travel in (motion.heave, motion.roll)
    ]
    ends: list[EndMisalignment] = []
    for i, link in enumerate(motion.layout.links):
        for k, (which, at) in enumerate(_ends(link)):
            joint = known.get(at.joint)
            heave, roll = float(angles[0][k, i]), float(angles[1][k, i])
            ends.append(
                EndMisalignment(link, which, joint, heave, roll, joint.misalignment_rad if joint is not None else None)
            )
    stiff, shares, assumed = stiffness_of(motion.layout, joints)
    bars = []
    if len(motion.layout.links) > 4:
        for i, link in enumerate(motion.layout.links):
            give = [float(np.nanmax(np.abs(t.bar_error[..., i]), initial=0.0)) for t in (motion.heave, motion.roll)]
            a, b = shares[i]
            bars.append(BushingGive(link, (give[0] * a, give[0] * b), (give[1] * a, give[1] * b), stiff[i] * give[1]))
    low, high = motion.roll_reach
    return OverConstraint(tuple(ends), tuple(bars), assumed, math.radians(20.0), (low, high))


def _ends(link: Link) -> tuple[tuple[PivotEnd, LinkEnd], ...]:
    return ("frame", link.frame_end), ("axle", link.axle_end)


def misalignment_over(motion: AxleMotion, joints: tuple[Joint, ...], travel: Travel) -> Array:
    """Lean of every joint over one sweep, ``(2, links, stations)``: frame and axle end, rad; ``nan`` where it is not
    reached.
    """
    known = {j.id: j for j in joints}
    p, links, bars = travel.poses, motion.layout.links, motion.bars
    good = p.reached
    out = np.full((2, len(links), len(good)), np.nan)
    if not good.any():
        return out
    turn = rotation(p.yaw[good], p.roll[good], p.pitch[good])
    at = np.stack([p.x[good], p.y[good], p.z[good]], axis=-1)
    along = at + np.swapaxes(bars.local @ np.swapaxes(turn, -1, -2), 0, 1) - bars.frame[:, None]
    ride = bars.axle - bars.frame
    frame_bolt = np.array([_bolt(link.frame_end, ride[i]) for i, link in enumerate(links)])
    axle_bolt = np.array([_bolt(link.axle_end, ride[i]) for i, link in enumerate(links)])
    clock = best_clock(ride, frame_bolt, axle_bolt)
    soft = np.array(
        [
            [(j := known.get(end.joint)) is not None and j.kind == "bushing" for end in (x.frame_end, x.axle_end)]
            for x in links
        ]
    )
    turned = np.swapaxes(axle_bolt @ np.swapaxes(turn, -1, -2), 0, 1)
    found = joint_misalignment(
        along, np.broadcast_to(frame_bolt[:, None], along.shape), turned, clock[:, None], soft[:, :1], soft[:, 1:]
    )
    out[0][:, good], out[1][:, good] = found.frame, found.axle
    for i, link in enumerate(links):
        built = link.frame_end.joint_set_rad, link.axle_end.joint_set_rad
        if built != (0.0, 0.0):
            held = bool(soft[i, 0]), bool(soft[i, 1])
            bolts = np.broadcast_to(frame_bolt[i], along[i].shape), turned[i]
            one = set_joint_misalignment(along[i], *bolts, float(clock[i]), built, held)
            out[0, i, good], out[1, i, good] = one.frame, one.axle
    return out


def _bolt(end: LinkEnd, along: Array) -> Array:
    """Unit vector of a bolt, its bracket turned in plan as it is said."""
    x, y, z = _square_bolt(end.bolt_lies, along)
    c, s = math.cos(end.bolt_turned_rad), math.sin(end.bolt_turned_rad)
    return np.array([c * x - s * y, s * x + c * y, z])


def _square_bolt(lies: str, along: Array) -> Array:
    """A bolt level and square to the link, or straight across or along the vehicle."""
    if lies == "across_vehicle":
        return np.array([0.0, 1.0, 0.0])
    if lies == "along_vehicle":
        return np.array([1.0, 0.0, 0.0])
    level = np.array([-along[1], along[0], 0.0])
    size = float(np.linalg.norm(level))
    return level / size if size > 1e-9 else np.array([0.0, 1.0, 0.0])
