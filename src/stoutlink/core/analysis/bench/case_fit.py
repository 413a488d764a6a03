"""Whether a third member with its locker goes into a housing: room at both caps and for the actuator's way, holes."""

from __future__ import annotations

import math
from typing import Literal

from msgspec import Struct

from stoutlink.core.document.bench import CaseFit

EDGE = 1.5
"""Middle of a hole to the edge, in hole diameters (common practice)."""
Verdict = Literal["goes", "tight", "touches"]


class Room(Struct, frozen=True):
    """Room left at one place, m, with its 1 σ; ``relieve``: what has to come off for the room that is wanted."""

    where: str
    room: float
    sigma: float
    wanted: float

    @property
    def verdict(self) -> Verdict:
        """Touches where nothing is left; tight where the wanted room is not left for certain (2 σ)."""
        if self.room <= 0.0:
            return "touches"
        return "goes" if self.room - 2.0 * self.sigma >= self.wanted else "tight"

    @property
    def relieve(self) -> float:
        """How much has to come off there, its ± counted, m; 0 where it goes."""
        return 0.0 if self.verdict == "goes" else self.wanted + 2.0 * self.sigma - self.room


class HoleFound(Struct, frozen=True):
    """A hole with what is wrong with it: nothing, at the edge, or its thread in a weld."""

    id: str
    kind: str
    edges: float | None
    """Middle to the edge in diameters; ``None``: not measured."""
    wrong: Literal["", "edge", "weld", "unread"]


class CaseSheet(Struct, frozen=True):
    """The fit: every room that could be read, holes, and what is still to be measured."""

    fit: CaseFit
    rooms: tuple[Room, ...]
    holes: tuple[HoleFound, ...]
    missing: tuple[str, ...]

    @property
    def goes(self) -> bool | None:
        """Whether it goes in; ``None`` while something is not measured and nothing forbids it."""
        if any(r.verdict != "goes" for r in self.rooms) or any(h.wrong in ("edge", "weld") for h in self.holes):
            return False
        return None if self.missing or any(h.wrong == "unread" for h in self.holes) else True


def case_sheet(fit: CaseFit) -> CaseSheet:
    """Rooms are opening less what reaches into it; both readings carry their ±."""
    rooms, missing = [], []
    sigma = math.hypot(fit.sigma_m, fit.sigma_m)
    for side, cap, opening in (
        ("left", fit.left_cap_m, fit.left_open_m),
        ("right", fit.right_cap_m, fit.right_open_m),
    ):
        missing += [f"{side} {what}" for what, v in (("cap", cap), ("opening", opening)) if v is None]
        if cap is not None and opening is not None:
            rooms.append(Room(f"{side} cap", opening - cap, sigma, fit.wanted_m))
    if fit.actuator != "none":
        if fit.space_m is None:
            missing.append("room for the actuator")
        for name, reach in (("actuator released", fit.reach_in_m), ("actuator engaged", fit.reach_out_m)):
            if reach is None:
                missing.append(name)
            elif fit.space_m is not None:
                rooms.append(Room(name, fit.space_m - reach, sigma, fit.wanted_m))
    holes = []
    for one in fit.holes:
        if one.diameter_m is None or one.edge_m is None:
            holes.append(HoleFound(one.id, one.kind, None, "unread"))
            continue
        edges = one.edge_m / one.diameter_m
        wrong: Literal["", "edge", "weld", "unread"] = "edge" if edges < EDGE - 1e-9 else ""
        if one.kind == "thread" and not wrong:
            if one.puddle_m is None:
                wrong = "unread"
            elif one.puddle_m <= 0.5 * one.diameter_m + 1e-9:
                wrong = "weld"
        holes.append(HoleFound(one.id, one.kind, edges, wrong))
    return CaseSheet(fit, tuple(rooms), tuple(holes), tuple(missing))
