"""The same springs at the other end of the rig, and what brings the frame level on them."""

from __future__ import annotations

import math

from msgspec import Struct

from stoutlink.core.analysis.linkage.leaf_axle import LeafAxle
from stoutlink.core.analysis.vehicle.anti_numbers import load_share
from stoutlink.core.document.rig import Rig
from stoutlink.core.mechanics.springing import frequency
from stoutlink.core.quantity.constants import GRAVITY

LEVEL = 0.003
"""A frame within this of level, m, is level."""


class Elsewhere(Struct, frozen=True):
    """A pair of springs under the other axle: load of one N, how much lower it lets the frame come than here m (below
    0: higher), frequency Hz, and the frequency here."""

    load: float
    lower: float
    frequency: float
    frequency_here: float


class Levelled(Struct, frozen=True):
    """What brings this end of the frame up to the other's height: by how much m (below 0: down), the block that makes
    m (``None``: more than is there would have to come out), and the rate of one spring N/m that stands there without
    (``None``: no rate does)."""

    raise_by: float
    block: float | None
    rate: float | None


def seat_load(rig: Rig, end: str) -> float:
    """What one of two springs of an end carries at ride, N: half of the end's load without the axle itself."""
    return 0.5 * max(0.0, rig.mass_kg * GRAVITY * load_share(rig, end) - rig.end(end).unsprung * GRAVITY)


def reused(found: LeafAxle) -> Elsewhere | None:
    """The springs at the other end of the rig; ``None`` where that or this end carries nothing."""
    other = "rear" if found.layout.end == "front" else "front"
    load, rate = seat_load(found.rig, other), found.halves.heave_rate
    if load <= 0 or found.load <= 0:
        return None
    there, here = (frequency(rate, one / GRAVITY) for one in (load, found.load))
    return Elsewhere(load, (load - found.load) / rate, there, here)


def levelled(found: LeafAxle) -> Levelled | None:
    """By block or by rate to the height the frame has over the other axle; ``None`` while a ride height is not entered.

    A block lifts as it is thick with the spring over the tube and lowers so under it. Another rate stands under the
    same load by its own sag, from the same free arch: F/k' = F/k − rise.
    """
    rig, end = found.rig, found.layout.end
    rides = {"front": rig.stance.ride_front_m, "rear": rig.stance.ride_rear_m}
    if rides["front"] is None or rides["rear"] is None:
        return None
    tall = {name: ride + rig.end(name).loaded for name, ride in rides.items() if ride is not None}
    rise = tall["rear" if end == "front" else "front"] - tall[end]
    more = rise if found.leaf.seat == "over" else -rise
    block = found.leaf.block_m + more
    sag = found.load / found.halves.heave_rate - rise
    return Levelled(
        rise,
        block if block >= -1e-9 else None,
        found.load / sag if sag > 0 and math.isfinite(sag) and found.load > 0 else None,
    )
