"""The sheet to order a driveshaft by: what was worked out, what is described, and room for what is measured with the
rig at ride height.
"""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from stoutlink.core.analysis.cycle.shaft import ShaftTravel
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.document.project import Project
from stoutlink.core.quantity.shown import Kind, show

KINDS = {
    "single": "one piece, a cardan joint each end",
    "double_cardan": "one piece, double cardan at the transfer case",
    "two_piece": "two pieces with a carrier bearing",
}
BLANK = "____________________"
TO_MEASURE = (
    "Joint to joint, weight on its wheels, level ground, mm or in", "Output flange or yoke: kind, bolt circle, pilot", "Pinion flange or yoke: kind, bolt circle, pilot",
    "Cross joints: series or cap diameter and span", "Angle of output, shaft and pinion with the angle finder", "Room around the shaft at full bump", "Measured by, date",
)  # fmt: skip


def shaft_rows(project: Project, travel: AxleTravel) -> list[tuple[str, str]]:
    """Word and value of every line, in the project's unit; empty without a driveshaft."""
    shaft = travel.shaft
    if shaft is None:
        return []
    unit = project.settings.units

    def say(v: float, kind: Kind = "length") -> str:
        return show(v, kind, unit, decimals=(3 if unit == "in" else 1) if kind == "length" else None)

    def angle(v: float) -> str:
        return f"{math.degrees(v):.1f}°".replace("-", "−")

    inside = travel.grid.within
    first, second, _, length = shaft.at_ride
    largest = [float(np.nanmax(np.where(inside, v, np.nan))) for v in _joints(shaft)]
    longest, shortest = float(np.nanmax(shaft.length[inside])), float(np.nanmin(shaft.length[inside]))
    d = shaft.shaft
    out = [
        ("Project", project.name),
        ("Axle", f"{travel.layout.end}, layout {travel.layout.name}"),
        ("Shaft", KINDS[d.kind]),
        (
            "Length at ride, joint centre to joint centre" + (", rear piece" if shaft.carrier is not None else ""),
            say(length),
        ),
    ]
    if shaft.carrier is not None:
        out.append(("Front piece, output to the joint behind the carrier", say(shaft.front_length)))
    out += [
        ("Shortest over the travel", f"{say(shortest)} ({say(length - shortest)} shorter than at ride)"),
        ("Longest over the travel", f"{say(longest)} ({say(longest - length)} longer than at ride)"),
        ("Slip it must have, without reserve", say(longest - shortest)),
        ("Spline engaged at ride", "–" if shaft.engaged_at_ride is None else say(shaft.engaged_at_ride)),
        *_in_hand(shaft, longest, shortest, say),
        ("Slip spline diameter", "–" if d.spline_diameter_m is None else say(d.spline_diameter_m)),
        ("Tube", f"{say(d.tube_od_m)} outside, {say(d.tube_wall_m)} wall"),
        ("Yokes", "in phase" if abs(d.yoke_rad) < 1e-6 else f"{angle(d.yoke_rad)} out of phase"),
        ("Joint angles at ride, case to axle", ", ".join(angle(v) for v in _ride(shaft, first, second))),
        ("Largest joint angles over the travel", ", ".join(angle(v) for v in largest)),
        ("Joint limit asked for", "–" if d.joint_limit_rad is None else angle(d.joint_limit_rad)),
        (
            "Turns at road speed",
            "–"
            if shaft.speed is None
            else f"{shaft.speed * 30 / math.pi:.0f} rpm at {show(travel.grid.rig.road_speed_m_per_s, 'speed', unit)}",
        ),
        (
            "First bending speed of that tube",
            f"{shaft.whirl * 30 / math.pi:.0f} rpm"
            + ("" if shaft.whirl_part is None else f", {shaft.whirl_part:.0%} used"),
        ),
    ]
    if shaft.snout_assumed:
        out.append(("Take care", "the axle's snout length is not known; 300 mm was taken, so measure the length"))
    if shaft.carrier_assumed:
        out.append(("Take care", "the carrier bearing's place was taken half way; measure it"))
    return out


def _in_hand(shaft: ShaftTravel, longest: float, shortest: float, say: Callable[[float], str]) -> list[tuple[str, str]]:
    """What the shaft at hand has left, where there is one."""
    hand, closed = shaft.shaft.in_hand, shaft.closed
    if hand is None or closed is None:
        return []
    return [
        ("At hand, closed length", say(closed)),
        ("At hand, spline in mesh at the longest", say(hand.spline_m - (longest - closed))),
        ("At hand, slip left at the shortest", say(shortest - closed)),
    ]


def _joints(shaft: ShaftTravel) -> list[np.ndarray]:
    return [shaft.first, *([shaft.middle] if shaft.middle is not None else []), shaft.second]


def _ride(shaft: ShaftTravel, first: float, second: float) -> list[float]:
    i, j = shaft.ride
    return [first, *([float(shaft.middle[i, j])] if shaft.middle is not None else []), second]


def shaft_sheet(project: Project, travel: AxleTravel) -> str:
    """The sheet as plain text: a line each, then what is to be measured with room to write."""
    rows = shaft_rows(project, travel)
    if not rows:
        return ""
    wide = max(len(word) for word, _ in rows)
    worked = [f"{word.ljust(wide)}  {value}" for word, value in rows]
    measured = [f"{word}: {BLANK}" for word in TO_MEASURE]
    return (
        "\n".join(
            [
                "Driveshaft data sheet",
                "",
                "Worked out",
                *worked,
                "",
                "Measured at ride height, before ordering (what is measured counts)",
                *measured,
                "",
                "Lengths between joint centres. Worked out from tape readings: measure again with the weight on before anything is cut.",
            ]
        )
        + "\n"
    )
