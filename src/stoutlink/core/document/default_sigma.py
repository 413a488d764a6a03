"""1 σ of every input: what the project notes beside it, else the default of the instrument it is read with.

Defaults (common practice unless said otherwise): tape 3 mm, plumb-bob station 5 mm, centre of gravity height 40 mm,
bell-housing estimate 50 mm, scales 1 %, angle finder 0.1°; from estimates: curb weight 2 %, an item 5 %, its place 50
mm, brake share 3 %.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Iterable

from stoutlink.core.document.project import Entry, Project
from stoutlink.core.document.rig import LOADED_SIGMA, PRINTED_SIGMA, ROLLING_SIGMA

TAPE, PLUMB, CG_HEIGHT, BELL_HOUSING, CG_ALONG = 0.003, 0.005, 0.040, 0.050, 0.030
SCALES, STATED_MASS, CURB, ITEM, ITEM_PLACE, BRAKES = 0.01, 0.03, 0.02, 0.05, 0.05, 0.03
ANGLE = math.radians(0.1)

Rule = Callable[[float, str], float]
_RULES: tuple[tuple[str, Rule], ...] = (
    (r"rig\.wheelbase_m", lambda v, b: PLUMB),
    (r"rig\.cg_height_m", lambda v, b: CG_HEIGHT),
    (r"rig\.weight\.bell_housing_m", lambda v, b: BELL_HOUSING),
    (r"rig\.weight\.curb_cg_height_m", lambda v, b: CG_HEIGHT),
    (r"rig\.(cg_ahead_of_rear_m|weight\.curb_cg_ahead_m)", lambda v, b: CG_ALONG),
    (r"rig\.mass_kg", lambda v, b: (SCALES if b == "measured" else STATED_MASS) * v),
    (r"rig\.weight\.(scales|tilt)\..*_kg", lambda v, b: SCALES * v),
    (r"rig\.weight\.tilt\.angle_rad", lambda v, b: ANGLE),
    (r"rig\.weight\.curb_mass_kg", lambda v, b: CURB * v),
    (r"rig\.weight\.items\..*\.mass_kg", lambda v, b: max(1.0, ITEM * abs(v))),
    (r"rig\.weight\.items\..*\.[xyz]_m", lambda v, b: ITEM_PLACE),
    (r"rig\.(front|rear)\.(unsprung_mass_kg|wheel_mass_kg|old_axle_mass_kg)", lambda v, b: ITEM * v),
    (r"donors\..*\.weight_kg", lambda v, b: ITEM * v),
    (r"rig\.(front|rear)\.roll_out_m", lambda v, b: PLUMB),
    (r"rig\.brake_front_share", lambda v, b: BRAKES),
    (r".*_rad", lambda v, b: ANGLE),
    (r".*_m", lambda v, b: TAPE),
)
_COMPILED = tuple((re.compile(pattern), rule) for pattern, rule in _RULES)


def default_sigma(path: str, value: float, basis: str = "typed") -> float:
    """Default 1 σ of an input at a dotted path, in its own SI unit; 0 for numbers that are counted, not measured.

    >>> default_sigma("rig.weight.scales.front_left_kg", 500.0), default_sigma("rig.wheelbase_m", 2.6)
    (5.0, 0.005)
    """
    for pattern, rule in _COMPILED:
        if pattern.fullmatch(path):
            return rule(value, basis)
    return 0.0


def sigma_of(path: str, value: float, entries: Iterable[Entry]) -> float:
    """1 σ of an input: the entry's own when it has one, else the default."""
    entry = next((e for e in entries if e.field == path), None)
    if entry is not None and entry.sigma is not None:
        return entry.sigma
    return default_sigma(path, value, entry.basis if entry else "typed")


def radius_sigma(project: Project, end: str, which: str) -> tuple[str, float]:
    """Where a tyre radius (``free``, ``loaded``, ``rolling``) comes from and its 1 σ, m."""
    wheels, at = project.rig.end(end), f"rig.{end}"
    free_measured = wheels.tyre_free_radius_m is not None
    free = sigma_of(f"{at}.tyre_free_radius_m", wheels.free, project.entries) if free_measured else PRINTED_SIGMA
    noted = {"estimated": "an estimate", "memory": "from memory"}

    def said(key: str) -> str:
        entry = project.entry(f"{at}.{key}")
        return noted.get(entry.basis, "measured") if entry is not None else "measured"

    if which == "free":
        return (said("tyre_free_radius_m") if free_measured else "printed size"), free
    if which == "loaded":
        if wheels.loaded_radius_m is not None:
            return said("loaded_radius_m"), sigma_of(f"{at}.loaded_radius_m", wheels.loaded_radius_m, project.entries)
        return "estimated from the free radius", math.hypot(LOADED_SIGMA * wheels.free, 0.95 * free)
    if wheels.rolled is not None and wheels.roll_out_m is not None:
        return "roll-out", sigma_of(f"{at}.roll_out_m", wheels.roll_out_m, project.entries) / (
            2 * math.pi * wheels.roll_out_turns
        )
    if wheels.rolling_radius_m is not None:
        return said("rolling_radius_m"), sigma_of(f"{at}.rolling_radius_m", wheels.rolling_radius_m, project.entries)
    return "estimated from the free radius", math.hypot(ROLLING_SIGMA * wheels.free, 0.97 * free)
