"""The front axle's steering: box and pitman arm, drag link, tie rod, and the axis the knuckles turn about."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from stoutlink.core.document.quantities import Frozen, Point


def _n(title: str, kind: str, low: float, high: float, text: str) -> Meta:
    return Meta(title=title, description=text, ge=low, le=high, extra={"kind": kind})


class TieRod(Frozen, frozen=True, kw_only=True):
    """The rod between both knuckles: its ball joint on the knuckle whose kingpin is given, the other is its mirror
    image.
    """

    end_m: Point
    od_m: Annotated[float, _n("Tie rod outside", "length", 0.01, 0.1, "Of the tie rod's tube.")] = 0.038


class Holes(Frozen, frozen=True, kw_only=True):
    """A row of holes for a steering ball joint: ``holes`` of them ``pitch_m`` apart upward, the one in use counted
    from the lowest.
    """

    holes: Annotated[int, _n("Holes", "count", 1, 8, "How many holes the arm has.")] = 3
    hole: Annotated[int, _n("Hole in use", "count", 1, 8, "Counted from the lowest.")] = 1
    pitch_m: Annotated[float, _n("Hole pitch", "length", 0.005, 0.1, "From one hole's centre to the next.")] = 0.025


class Steering(Frozen, frozen=True, kw_only=True):
    """Drag link from the pitman arm to one knuckle, or to the tie rod, wheels straight ahead at ride height; the
    kingpin is that knuckle's.

    ``kingpin_m`` is any point on the steering axis; it leans in at the top by ``kingpin_in_rad`` and back by the
    layout's caster. The sector shaft of the box stands ``upright`` (the arm swings sideways: crossover) or lies
    ``across`` (the arm hangs and swings fore and aft: push-pull); ``sector_m`` is the arm's middle of turning, empty:
    behind or above the drag link's end by the arm's length.
    """

    kind: Literal["drag_link", "hydraulic"] = "drag_link"
    pitman_m: Point
    knuckle_m: Point
    kingpin_m: Point
    kingpin_in_rad: Annotated[
        float, _n("Kingpin inclination", "angle", -0.1, 0.5, "How far the steering axis leans in at its top.")
    ] = 0.12
    box_ratio: Annotated[
        float, _n("Steering box ratio", "ratio", 4.0, 40.0, "Turns of the steering wheel for one turn of the sector.")
    ] = 16.0
    pitman_arm_m: Annotated[float, _n("Pitman arm", "length", 0.05, 0.4, "Sector to drag link, centre to centre.")] = (
        0.15
    )
    drag_on: Literal["knuckle", "tie_rod"] = "knuckle"
    sector: Literal["upright", "across"] = "upright"
    sector_m: Point | None = None
    sector_turn_rad: Annotated[float, _n("Sector turns", "angle", 0.2, 1.4, "From the middle to one end.")] | None = (
        None
    )
    tie_rod: TieRod | None = None
    pitman_holes: Holes | None = None
    knuckle_holes: Holes | None = None
