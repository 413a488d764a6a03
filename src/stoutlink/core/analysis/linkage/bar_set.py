"""The layout in the project as bars for the mechanics."""

from __future__ import annotations

import math

import numpy as np

from stoutlink.core.analysis.vehicle.axle_place import axle_centre
from stoutlink.core.document.layout import Joint, Layout, Link
from stoutlink.core.document.rig import Rig
from stoutlink.core.mechanics.linkage.bars import EQUAL_STIFFNESS, Bars, bar_stiffness

STEEL, ALUMINIUM = 207e9, 71.7e9
"""Elastic moduli, Pa (from memory)."""


def bars_of(rig: Rig, layout: Layout, joints: tuple[Joint, ...] = ()) -> Bars:
    """Bars of one layout, in the order of its links."""
    return Bars.of(
        axle_centre(rig, layout.end),
        [link.frame_pivot_m for link in layout.links],
        [link.axle_pivot_m for link in layout.links],
        stiffness_of(layout, joints)[0],
    )


def stiffness_of(layout: Layout, joints: tuple[Joint, ...]) -> tuple[list[float], list[tuple[float, float]], bool]:
    """Axial stiffness of each bar (N/m), the share of its misfit at the frame and axle end, and whether it is the
    default.

    When every joint in use has a stiffness the bars are springs in series; otherwise all are equal (estimate) and
    the misfit is halved between the ends.
    """
    known = {j.id: j.stiffness_n_per_m for j in joints}
    ends = [(known.get(link.frame_end.joint), known.get(link.axle_end.joint)) for link in layout.links]
    if any(k is None for pair in ends for k in pair):
        return [EQUAL_STIFFNESS] * len(layout.links), [(0.5, 0.5)] * len(layout.links), True
    total, shares = [], []
    for link, (k1, k2) in zip(layout.links, ends, strict=True):
        assert k1 is not None
        assert k2 is not None
        k = bar_stiffness(k1, k2, link_length(link), _section(link), STEEL if link.material == "steel" else ALUMINIUM)
        total.append(k)
        shares.append((k / k1, k / k2))
    return total, shares, False


def link_length(link: Link) -> float:
    """Pivot to pivot, m."""
    return float(np.linalg.norm(np.subtract(link.frame_pivot_m, link.axle_pivot_m)))


def _section(link: Link) -> float:
    inner = max(0.0, link.tube_od_m - 2 * link.tube_wall_m)
    return math.pi / 4 * (link.tube_od_m**2 - inner**2)
