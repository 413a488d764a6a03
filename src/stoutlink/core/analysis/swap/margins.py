"""The ladder's headline for many axles and gear sets at once: the worst known margin of each."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from stoutlink.core.analysis.swap.ladder import (
    HEADLINE,
    TIES,
    bending_moment,
    case_torques,
    part_asks,
    part_carries,
    rig_capacities,
)
from stoutlink.core.analysis.vehicle.axle_place import track_with
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.catalogue.lockers import BY_ID as LOCKER_KINDS
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.swap import AxlePlan, Choosing, planned_gears, planned_locker

Array = NDArray[np.float64]


def worst_margins(
    rig: Rig, axles: Sequence[DonorAxle | None], ratio: Array, plan: AxlePlan, choosing: Choosing, end: str
) -> Array:
    """Worst known margin of each axle (row) with each gear ratio (column, NaN where there is none or it is not known).

    Infinite when nothing known is asked for anything (and for ``None``, an end left alone); NaN when nothing is known
    at all. Agrees with :func:`~stoutlink.core.analysis.swap.ladder.ladder` one by one.
    """
    wheel = rig.end(end)
    n, wide = ratio.shape
    full = np.zeros((n, wide))
    kinds = [LOCKER_KINDS[planned_locker(a, plan)[0]] if a else LOCKER_KINDS["open"] for a in axles]
    tie = np.array([TIES[k.tie] for k in kinds])[:, None] + full.astype(int)
    bias, preload = (np.array([getattr(k, key) for k in kinds])[:, None] + full for key in ("bias", "preload_nm"))
    hubs = np.array([a.hub_ratio if a else 1.0 for a in axles])[:, None] + full
    tracks = [track_with(wheel, a, plan) for a in axles]
    with np.errstate(invalid="ignore"):
        cases = case_torques(rig, end, choosing, ratio, hubs, tie, bias, preload, np.array(tracks)[:, None] + full)
    carries: dict[str, Array] = {}
    for i, axle in enumerate(axles):
        if axle is None:
            continue
        for part, capacity in rig_capacities(rig, axle, plan, choosing).items():
            if capacity.value is not None or capacity.turned:
                carries.setdefault(part, np.full((n, wide), np.nan))[i] = part_carries(axle, capacity, part, ratio[i])
    worst = np.full((n, wide), np.inf)
    for part, amount in carries.items():
        for case in HEADLINE:
            asked = cases[case]
            bending = full + np.nan
            if part in ("tube", "knuckle"):
                loads = asked.wheel_load[:, 0]
                moments = [
                    math.nan
                    if a is None
                    else bending_moment(part, a, track, float(w), choosing.side_force_share, wheel.loaded)
                    for a, w, track in zip(axles, loads, tracks, strict=True)
                ]
                bending = np.array(moments)[:, None] + full
            wants = part_asks(part, asked, case, ratio, hubs, bending)
            if wants is not None:
                with np.errstate(divide="ignore", invalid="ignore"):
                    worst = np.fmin(worst, np.where(wants > 0, amount / wants, np.inf))
    nothing = [
        a is not None and not any(np.isfinite(c[i]).any() for c in carries.values()) for i, a in enumerate(axles)
    ]
    worst[np.array(nothing, dtype=bool)] = np.nan
    return worst


def fitted_margins(rig: Rig, axles: Sequence[DonorAxle], plan: AxlePlan, choosing: Choosing, end: str) -> Array:
    """Worst known margin of each axle with the gears it is judged by."""
    pairs = [planned_gears(a, plan) for a in axles]
    ratio = np.array([[math.nan if p is None else p.ratio] for p in pairs]).reshape(len(axles), 1)
    found: Array = worst_margins(rig, axles, ratio, plan, choosing, end)[:, 0]
    return found
