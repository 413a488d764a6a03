"""The front axle's steering as far as a layout needs it: the drag link beside the panhard, and the axis it turns the knuckle about."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from stoutlink.core.document.quantities import Frozen, Point


def _n(title: str, kind: str, low: float, high: float, text: str) -> Meta:
    return Meta(title=title, description=text, ge=low, le=high, extra={"kind": kind})


class Steering(Frozen, frozen=True, kw_only=True):
    """Drag link from the pitman arm to one knuckle, wheels straight ahead at ride height; the kingpin is that knuckle's.

    ``kingpin_m`` is any point on the steering axis; it leans in at the top by ``kingpin_in_rad`` and back by the layout's caster.
    """

    kind: Literal["drag_link", "hydraulic"] = "drag_link"
    pitman_m: Point
    knuckle_m: Point
    kingpin_m: Point
    kingpin_in_rad: Annotated[float, _n("Kingpin inclination", "angle", -0.1, 0.5, "How far the steering axis leans in at its top.")] = 0.12
    box_ratio: Annotated[float, _n("Steering box ratio", "ratio", 4.0, 40.0, "Turns of the steering wheel for one turn of the sector.")] = 16.0
    pitman_arm_m: Annotated[float, _n("Pitman arm", "length", 0.05, 0.4, "Sector to drag link, centre to centre.")] = 0.15
