"""How far every joint leans over travel against what it allows, and what redundant bars ask of their bushings: bind."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from stoutlink.core.analysis.axle_motion import AxleMotion, Travel
from stoutlink.core.analysis.bar_set import stiffness_of
from stoutlink.core.document.layout import Joint, Link
from stoutlink.core.geometry.rotation import rotation
from stoutlink.core.mechanics.linkage.lean import best_clock, lean

Array = NDArray[np.float64]
LINES = ("heave", "roll")


@dataclass(frozen=True)
class EndLean:
    """One joint: the largest lean over heave and over roll (rad), what it allows (None: not known), and where the largest is, in words."""

    link: Link
    end: str
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


@dataclass(frozen=True)
class LinkBind:
    """What one bar of a redundant set must give at its frame and axle end, m, over heave and over roll (the larger of shorter and longer)."""

    link: Link
    heave: tuple[float, float]
    roll: tuple[float, float]
    force_roll: float
    """Force it takes at the most over roll, N, with the stiffness in use."""


@dataclass(frozen=True)
class Bind:
    """Joints and bushings of one layout. ``stiffness_assumed`` when the give rests on the equal default."""

    ends: tuple[EndLean, ...]
    bars: tuple[LinkBind, ...]
    stiffness_assumed: bool
    roll_asked: float
    roll_reached: tuple[float, float]


@lru_cache(maxsize=16)
def bind(motion: AxleMotion, joints: tuple[Joint, ...]) -> Bind:
    """Lean of every joint and give of every bushing over the heave and roll sweeps (roll to ±20° or where the links bind)."""
    known = {j.id: j for j in joints}
    ends: list[EndLean] = []
    for i, link in enumerate(motion.layout.links):
        leans = {line: _leans(motion, i, link, known, motion.heave if line == "heave" else motion.roll) for line in LINES}
        for k, (which, at) in enumerate((("frame", link.frame_end), ("axle", link.axle_end))):
            joint = known.get(at.joint)
            ends.append(EndLean(link, which, joint, leans["heave"][k], leans["roll"][k], joint.misalignment_rad if joint is not None else None))
    stiff, shares, assumed = stiffness_of(motion.layout, joints)
    bars = []
    if len(motion.layout.links) > 4:
        for i, link in enumerate(motion.layout.links):
            give = [float(np.nanmax(np.abs(t.bar_error[..., i]), initial=0.0)) for t in (motion.heave, motion.roll)]
            a, b = shares[i]
            bars.append(LinkBind(link, (give[0] * a, give[0] * b), (give[1] * a, give[1] * b), stiff[i] * give[1]))
    low, high = motion.roll_reach
    return Bind(tuple(ends), tuple(bars), assumed, math.radians(20.0), (low, high))


def _leans(motion: AxleMotion, i: int, link: Link, known: dict[str, Joint], travel: Travel) -> tuple[float, float]:
    """Largest lean at the frame and the axle end over one sweep, rad."""
    p = travel.poses
    turn = rotation(p.yaw, p.roll, p.pitch)
    at = np.stack([p.x, p.y, p.z], axis=-1) + np.einsum("sij,j->si", turn, motion.bars.local[i])
    along = at - motion.bars.frame[i]
    good = np.isfinite(along).all(axis=-1)
    if not good.any():
        return 0.0, 0.0
    ride = motion.bars.axle[i] - motion.bars.frame[i]
    bolts = [_bolt(end.bolt_lies, ride) for end in (link.frame_end, link.axle_end)]
    frame_bolt = np.broadcast_to(bolts[0], (int(good.sum()), 3))
    axle_bolt = np.einsum("sij,j->si", turn[good], bolts[1])
    soft = [(j := known.get(end.joint)) is not None and j.kind == "bushing" for end in (link.frame_end, link.axle_end)]
    found = lean(along[good], frame_bolt, axle_bolt, best_clock(ride, bolts[0], bolts[1]), frame_bushing=soft[0], axle_bushing=soft[1])
    return float(found.frame.max()), float(found.axle.max())


def _bolt(lies: str, along: Array) -> Array:
    """Unit vector of a bolt: level and square to the link, or straight across or along the vehicle."""
    if lies == "across_vehicle":
        return np.array([0.0, 1.0, 0.0])
    if lies == "along_vehicle":
        return np.array([1.0, 0.0, 0.0])
    level = np.array([-along[1], along[0], 0.0])
    size = float(np.linalg.norm(level))
    return level / size if size > 1e-9 else np.array([0.0, 1.0, 0.0])
