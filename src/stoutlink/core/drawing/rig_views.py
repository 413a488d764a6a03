"""The whole rig from the side and from above, as far as its numbers define it."""

from __future__ import annotations

from stoutlink.core.document.rig import Rig
from stoutlink.core.drawing.shapes import Line, Oval, Shape, box


def rig_side(rig: Rig) -> list[Shape]:
    """Side view: ground, tyres at their loaded height, frame and driveline blocks (outline by convention, not
    measured).
    """
    wheelbase = rig.wheelbase_m
    out: list[Shape] = [Line(((-1.2, 0.0), (wheelbase + 1.2, 0.0)), "ground")]
    for x, end in ((0.0, rig.rear), (wheelbase, rig.front)):
        out += [Oval((x, end.loaded), (r, r), "tyre") for r in (end.free, 0.55 * end.free)]
        out.append(Oval((x, end.loaded), (0.06, 0.06), "axle"))
    high = max(rig.front.loaded, rig.rear.loaded)
    floor = high + 0.16
    out.append(Line(((-0.65, floor), (wheelbase + 0.6, floor)), "body", width=0.10))
    cab = [(-0.6, 0.1), (-0.5, 0.40), (0.20, 0.52), (0.62, 0.52), (0.78, 0.38), (1.16, 0.34), (1.2, 0.1)]
    out.append(Line(tuple((a * wheelbase if a > 0 else a, floor + b) for a, b in cab), "body"))
    for low, wide, name in ((0.74, 0.20, "engine"), (0.55, 0.17, "gearbox"), (0.43, 0.10, "transfer")):
        tall = 0.42 if name == "engine" else 0.26
        out.append(box((low * wheelbase, floor - 0.12), ((low + wide) * wheelbase, floor - 0.12 + tall), "housing"))
    for x, end in ((0.0, rig.rear), (wheelbase, rig.front)):
        start = 0.43 if x == 0.0 else 0.53
        out.append(
            Line(((start * wheelbase, floor - 0.04), (x + (0.3 if x == 0.0 else -0.3), end.loaded + 0.04)), "shaft")
        )
    return out


def rig_plan(rig: Rig) -> list[Shape]:
    """Plan view: tracks, tyres, axle tubes and the centreline."""
    wheelbase = rig.wheelbase_m
    out: list[Shape] = [Line(((-0.9, 0.0), (wheelbase + 0.9, 0.0)), "centreline")]
    for x, end in ((0.0, rig.rear), (wheelbase, rig.front)):
        half, free, tread = end.track_m / 2, end.free, end.tread
        for side in (hand * (half + by) for hand in (1, -1) for by in end.abreast):
            out.append(box((x - free, side - tread / 2), (x + free, side + tread / 2), "tyre"))
        out.append(Line(((x, half - tread / 2), (x, tread / 2 - half)), "housing", width=0.09))
    return out
