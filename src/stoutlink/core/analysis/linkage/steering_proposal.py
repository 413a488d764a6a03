"""Where steering parts usually lie on a rig whose own are not measured yet: a start to be moved."""

from __future__ import annotations

from stoutlink.core.analysis.linkage.wheels import INSET_GUESS
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.steering import Steering, TieRod


def drag_link_beside(rig: Rig, layout: Layout) -> Steering:
    """A drag link parallel to the panhard, toward the bumper; without one, across the axle at a usual height."""
    x, r, half = rig.wheelbase_m, rig.front.loaded, 0.5 * rig.front.track_m
    bar = next((one for one in layout.links if one.role == "panhard"), None)
    a, b = (
        (bar.frame_pivot_m, bar.axle_pivot_m)
        if bar is not None
        else ((x + 0.15, 0.45, r + 0.22), (x + 0.15, -0.45, r + 0.16))
    )
    hand = 1.0 if a[1] >= b[1] else -1.0
    shift = -hand * 0.08
    at = max(a[0], x) + 0.08
    return Steering(
        pitman_m=(round(at, 4), round(a[1] + shift, 4), round(a[2], 4)),
        knuckle_m=(round(at, 4), round(b[1] + shift, 4), round(b[2], 4)),
        kingpin_m=(round(x, 4), round(-hand * (half - INSET_GUESS), 4), round(r, 4)),
    )


def tie_rod_behind(rig: Rig, steering: Steering) -> TieRod:
    """A tie rod behind the axle, its arms pointing at the middle of the rear axle as usual for wheels that roll
    freely in a bend (common practice).
    """
    x, y, z = steering.kingpin_m
    back = 0.16
    inward = back * abs(y) / rig.wheelbase_m
    return TieRod(end_m=(round(x - back, 4), round(y - inward if y > 0 else y + inward, 4), round(z - 0.02, 4)))
