"""The travel at a glance: at every heave and roll the worst of what happens there."""

from __future__ import annotations

import math

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.cycle.travel import AxleTravel

UNREACHED, BEYOND, TOUCHES, RUNS_OUT, NEAR, FREE = range(6)
WORDS = {
    UNREACHED: "links or springs end before this", BEYOND: "past the stops of one side", TOUCHES: "touches", RUNS_OUT: "runs out of length or angle", NEAR: "nearer than wanted",
    FREE: "free",
}  # fmt: skip


class TravelMap(Struct, frozen=True, eq=False):
    """State of every pose ``(rolls, heaves)``, one of the numbers above."""

    states: NDArray[np.intp]
    runs_out: tuple[tuple[str, NDArray[np.bool_]], ...]


def travel_map(travel: AxleTravel) -> TravelMap:
    """Judge every pose: not reached, past the stops, touching, out of shock, slip or joint angle, nearer than wanted,
    free.
    """
    grid = travel.grid
    states = np.full(grid.reached.shape, FREE)
    gap = np.full(grid.reached.shape, np.inf)
    for contact in travel.interference.contacts:
        gap = np.fmin(gap, contact.room + contact.wanted)
    short = _runs_out(travel)
    states[np.nan_to_num(travel.interference.room, nan=1.0) < 0] = NEAR
    for _, where in short:
        states[where] = RUNS_OUT
    states[gap < 0] = TOUCHES
    states[~grid.within] = BEYOND
    states[~grid.reached] = UNREACHED
    return TravelMap(states, short)


def _runs_out(travel: AxleTravel) -> tuple[tuple[str, NDArray[np.bool_]], ...]:
    """What has a limit of its own, and where it is past it."""
    out: list[tuple[str, NDArray[np.bool_]]] = []
    layout, springs, shaft = travel.layout, travel.springs, travel.shaft
    with np.errstate(invalid="ignore"):
        if springs.shock is not None and layout.shock is not None:
            out.append(("a shock is shut", np.any(springs.shock < layout.shock.collapsed_m, axis=0)))
            out.append(("a shock is pulled out", np.any(springs.shock > layout.shock.extended_m, axis=0)))
        if springs.spring is not None and layout.spring is not None and layout.spring.solid_m is not None:
            out.append(("a coil binds", np.any(springs.spring < layout.spring.solid_m, axis=0)))
        if springs.spring is not None and layout.air is not None:
            air = layout.air
            if air.shortest_m is not None:
                out.append(("an air spring is shut", np.any(springs.spring < air.shortest_m, axis=0)))
            if air.longest_m is not None:
                word = (
                    "an air spring is pulled past its longest" if air.fixed_below else "an air spring leaves its seat"
                )
                out.append((word, np.any(springs.spring > air.longest_m, axis=0)))
        if shaft is not None:
            limit = shaft.shaft.joint_limit_rad
            if limit is not None:
                out.append(("the joint at the case bends too far", shaft.first > limit))
                out.append(("the joint at the axle bends too far", shaft.second > limit))
                if shaft.middle is not None:
                    out.append(("the joint at the carrier bends too far", shaft.middle > limit))
            ride = shaft.at_ride[3]
            engaged, inward = shaft.engaged_at_ride, shaft.inward_at_ride
            if engaged is not None:
                least = shaft.shaft.spline_diameter_m or 0.0
                out.append(
                    (
                        "the slip spline has less than its diameter engaged",
                        engaged - (shaft.length - ride) < least,
                    )
                )
            if inward is not None:
                out.append(("the slip joint bottoms", ride - shaft.length > inward))
    return tuple((word, where & travel.grid.within) for word, where in out if (where & travel.grid.within).any())


def said_at(travel: AxleTravel, found: TravelMap, row: int, column: int) -> tuple[str, ...]:
    """What happens at one pose, in words, the worst first: (sentence) with distances left to the caller to show."""
    state = int(found.states[row, column])
    if state in (UNREACHED, BEYOND):
        return (WORDS[state],)
    out = [word for word, where in found.runs_out if where[row, column]]
    near = sorted(
        (c for c in travel.interference.contacts if c.room_at(row, column) < 0), key=lambda c: c.room_at(row, column)
    )
    out = [
        f"{c.one} {'touches' if c.room_at(row, column) + c.wanted < 0 else 'comes near'} {c.other}" for c in near
    ] + out
    return tuple(out) or (WORDS[FREE],)


def clear_part(found: TravelMap) -> float:
    """Part of the poses within the stops that is free; ``nan`` without any."""
    inside = np.isin(found.states, (TOUCHES, RUNS_OUT, NEAR, FREE))
    return float((found.states[inside] == FREE).mean()) if inside.any() else math.nan
