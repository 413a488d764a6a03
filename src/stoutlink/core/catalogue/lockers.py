"""Kinds of differential and locker: how they tie the sides, what they need, how they behave, and what each school
says of them.
"""

from __future__ import annotations

from typing import Literal

from msgspec import Struct

Tie = Literal["open", "slip", "locked"]


class LockerKind(Struct, frozen=True):
    """One kind. ``bias`` and ``preload_nm`` for those that slip; ``road``, ``wet``, ``steering`` from 0 (poor) to 1
    (as an open one).

    The three grades and prices are estimates; the rest common practice. ``selectable`` ones can be open on the road.
    """

    id: str
    tie: Tie
    bias: float
    preload_nm: float
    needs: Literal["nothing", "air", "electric", "open carrier", "new carrier"]
    selectable: bool
    road: float
    wet: float
    steering: float
    school_for: str
    school_against: str
    note: str = ""


KINDS: tuple[LockerKind, ...] = (
    LockerKind("open", "open", 1.0, 0.0, "nothing", False, 1.0, 1.0, 1.0,
               "Spares the shafts: a wheel in the air takes the torque off the whole axle. Best manners on ice and road.",
               "Stops the moment one tyre hangs; throttle and brake tricks break parts instead."),
    LockerKind("limited_slip", "slip", 2.0, 120.0, "new carrier", False, 0.9, 0.75, 0.9,
               "Mild help with road manners kept; enough for mild use.",
               "Gives little with a wheel in the air, wears, and wants its own oil."),
    LockerKind("torque_sensing", "slip", 3.0, 30.0, "new carrier", False, 0.95, 0.85, 0.9,
               "Works without clatter, no wear parts, good in a front that is steered.",
               "Three times nothing is nothing: with a wheel in the air it needs the brake."),
    LockerKind("drop_in", "locked", 1.0, 0.0, "open carrier", False, 0.45, 0.3, 0.4,
               "Cheap, goes into the open carrier at the bench, always there.",
               "Clicks, bangs in corners, wet-road manners argued; as strong as the carrier it sits in."),
    LockerKind("automatic", "locked", 1.0, 0.0, "new carrier", False, 0.5, 0.35, 0.4,
               "Always there, stronger than a drop-in, lets the outer wheel run ahead in a turn.",
               "Clicks and changes lanes on lift-off; wet-road manners argued."),
    LockerKind("selectable", "locked", 1.0, 0.0, "new carrier", True, 1.0, 0.95, 0.95,
               "Open until you ask: control where it counts, full strength when locked.",
               "Dear, and one more system to go wrong; air or wiring must be found out."),
    LockerKind("air", "locked", 1.0, 0.0, "air", True, 1.0, 0.95, 0.95,
               "Open until you ask: control where it counts, full strength when locked.",
               "Needs a compressor, a line and dry seals; bench test it before the axle is closed.", "Bench test with air before closing."),
    LockerKind("electric", "locked", 1.0, 0.0, "electric", True, 1.0, 0.95, 0.95,
               "As the air one, without air: a wire and a switch.",
               "The actuator needs room and stroke in the housing; may not fit a third member.", "Check actuator room in this housing."),
    LockerKind("spool", "locked", 1.0, 0.0, "new carrier", False, 0.15, 0.1, 0.1,
               "Predictable, light, cheap and the strongest carrier there is.",
               "Scrubs in every turn, hard on shafts and tyres, poor on a road; not for small fronts. Its flange bolts loosen: lock them."),
)  # fmt: skip
BY_ID = {one.id: one for one in KINDS}
