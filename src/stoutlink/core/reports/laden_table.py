"""The rig under its load cases: as rows of words, and as plain data."""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from functools import partial
from typing import Any

from stoutlink.core.analysis.cycle.laden import Laden, LadenAxle
from stoutlink.core.document.project import Project
from stoutlink.core.quantity.constants import GRAVITY
from stoutlink.core.quantity.shown import Kind, show

NONE = "–"
NOUGHT = re.compile(r"^−(0(\.0*)?(?![\d.]))")
"""Nought has no sign."""
Say = Callable[[float | None, Kind, int | None], str]
Row = tuple[str, str, list[tuple[str, bool]]]
DRIVE = {"rear": "Anti-squat", "front": "Anti-lift, drive"}
BRAKE = {"rear": "Anti-lift, braking", "front": "Anti-dive"}


def laden_rows(project: Project, found: tuple[Laden, ...]) -> list[Row]:
    """Word, what it means, and for every case its cell with whether something is wrong with it."""
    unit = project.settings.units
    rows: list[Row] = []

    def say(value: float | None, kind: Kind, decimals: int | None = None) -> str:
        if value is None or not math.isfinite(value):
            return NONE
        return NOUGHT.sub(r"\1", show(value, kind, unit, decimals=decimals).replace("-", "−"))

    def row(word: str, tip: str, cell: Callable[[Laden], tuple[str, bool]]) -> None:
        rows.append((word, tip, [(NONE, False) if one.why else cell(one) for one in found]))

    def of(end: str, word: str, tip: str, cell: Callable[[LadenAxle], tuple[str, bool]]) -> None:
        def of_case(one: Laden) -> tuple[str, bool]:
            axle = one.axle(end)
            return (NONE, False) if axle is None else cell(axle)

        row(f"{end.capitalize()}: {word}", tip, of_case)

    length = 1 if unit == "in" else 0
    row("Weight", "Everything on.", lambda one: (say(one.mass, "mass"), False))
    row(
        "Left of the rating",
        "The rating is the vehicle's; springs and axles do not raise it.",
        lambda one: (say(one.rating_left, "mass"), one.rating_left is not None and one.rating_left < -0.5),
    )
    row("CG above ground", "As it then stands.", lambda one: (say(one.cg_height, "length", length), False))
    row(
        "Nose",
        "Against ride height; tyres keep their radius.",
        lambda one: (
            "level"
            if abs(one.nose_up) < 5e-4
            else f"{math.degrees(abs(one.nose_up)):.1f}° {'up' if one.nose_up > 0 else 'down'}",
            False,
        ),
    )
    row(
        "Level with rear up by",
        "A block, spacer or longer shackle's lift, or air.",
        lambda one: _level(one, say, length),
    )
    row(
        "or a rear rate of",
        "Wheel rate of one side that stands level under this load, at the same height as it stands; – where none does.",
        lambda one: (say(one.rear_rate if abs(one.raise_rear) > 1e-3 else None, "spring_rate"), False),
    )
    stands = {"front": project.rig.stance.ride_front_m, "rear": project.rig.stance.ride_rear_m}
    for end in ("front", "rear"):
        of(end, "load", "On both tyres.", lambda axle: (say(axle.load / GRAVITY, "mass"), False))
        of(
            end,
            "sags",
            "From ride height; – is up. ▲: on its stop.",
            lambda axle: (say(axle.sag, "length", length), axle.stopped),
        )
        ride = stands[end]
        if ride is not None:
            of(
                end,
                "ride height",
                "Frame over axle centre.",
                partial(_over_axle, say=say, ride=ride, places=length),
            )
        of(end, "wheel rate", "One side, there.", lambda axle: (say(axle.rate, "spring_rate"), False))
        of(
            end,
            "frequency",
            "Of what the springs carry.",
            lambda axle: (NONE if axle.frequency is None else f"{axle.frequency:.2f} Hz", False),
        )
        of(
            end,
            DRIVE[end].lower(),
            "In the schools chosen.",
            lambda axle: (f"{axle.drive:.0f} %".replace("-", "−"), False),
        )
        of(
            end,
            BRAKE[end].lower(),
            "In the schools chosen.",
            lambda axle: (f"{axle.brake:.0f} %".replace("-", "−"), False),
        )
        if any((axle := one.axle(end)) is not None and axle.pressure is not None for one in found):
            of(
                end,
                "air back to ride",
                "Gauge pressure that lifts it to ride height again.",
                lambda axle: (say(axle.pressure, "pressure"), False),
            )
    return rows


def _over_axle(axle: LadenAxle, *, say: Say, ride: float, places: int) -> tuple[str, bool]:
    return say(ride - axle.sag, "length", places), axle.stopped


def _level(one: Laden, say: Say, places: int) -> tuple[str, bool]:
    return (NONE if abs(one.raise_rear) < 1e-3 else say(one.raise_rear, "length", places)), False


def laden_results(found: tuple[Laden, ...]) -> list[dict[str, Any]]:
    """JSON-ready, a case each, as it stands first."""
    return [
        {"case": one.case.id, "name": one.case.name, "why": one.why}
        if one.why
        else {
            "case": one.case.id,
            "name": one.case.name,
            "mass_kg": one.mass,
            "filled_kg": one.filled,
            "rating_left_kg": one.rating_left,
            "cg_ahead_m": one.cg_ahead,
            "cg_height_m": one.cg_height,
            "nose_up_deg": math.degrees(one.nose_up),
            "level_with_rear_up_m": one.raise_rear,
            "level_with_rear_wheel_rate_n_per_m": one.rear_rate,
            **{end: _axle(one.axle(end)) for end in ("front", "rear")},
        }
        for one in found
    ]


def _axle(one: LadenAxle | None) -> dict[str, Any] | None:
    if one is None:
        return None
    return {
        "load_n": one.load,
        "sag_m": one.sag,
        "on_its_stop": one.stopped,
        "wheel_rate_n_per_m": one.rate,
        "frequency_hz": one.frequency,
        "drive_pct": one.drive,
        "braking_pct": one.brake,
        "air_back_to_ride_pa": one.pressure,
    }
