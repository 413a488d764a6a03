"""What is written down once it is built: readings of it as it stands, runs with what was felt, care, what broke, hand-over.
Nothing read is written over: a reading that is not to count is set aside with its reason, and stays."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from stoutlink.core.document.bench import PhotoName, Said, When, Who
from stoutlink.core.document.quantities import Date, Deviation, Frozen, Identifier, Name, Point, Pressure, Text

BuiltOf = Literal["apart", "along", "across", "up", "slope", "pinion", "to_pinion"]
BUILT_WORDS: dict[BuiltOf, str] = {
    "apart": "pin to pin", "along": "fore and aft", "across": "side to side", "up": "height",
    "slope": "link's slope", "pinion": "pinion's angle", "to_pinion": "brackets to pinion",
}  # fmt: skip
BUILT_HELP: dict[BuiltOf, str] = {
    "apart": "Straight from one bolt's centre to another's, diagonals too.",
    "along": "Fore and aft between two plumb marks; with one point, from the axle's centre.",
    "across": "Side to side between two points; with one point, from the centreline.",
    "up": "Height of one point over another; with one point, over the floor.",
    "slope": "Side view, up toward the frame is +.",
    "pinion": "Pinion over level, nose up is +.",
    "to_pinion": "Side view, from the pinion's line up to the line from the first to the second axle bolt.",
}
TWO_POINTS: frozenset[BuiltOf] = frozenset(("apart", "to_pinion"))
ANGLES: frozenset[BuiltOf] = frozenset(("slope", "pinion", "to_pinion"))
PointName = Annotated[str, Meta(pattern="^$|^[a-z0-9][a-z0-9_-]{0,47}(:(frame|axle|left|right))?$")]
"""A bolt as ``upper_left:axle``, a hub as ``hub:left``; a link by its id."""


def _n(title: str, kind: str, low: float, high: float, text: str) -> Meta:
    return Meta(title=title, description=text, ge=low, le=high, extra={"kind": kind})


class BuiltReading(Frozen, frozen=True, kw_only=True):
    """One reading of an axle as it hangs, the rig at ride height on its wheels: m or rad by what is read."""

    id: Identifier
    end: Literal["front", "rear"]
    of: BuiltOf
    a: PointName = ""
    b: PointName = ""
    value: Annotated[float, _n("As read", "length", -12.0, 12.0, "As the tape or the angle finder said.")]
    sigma: Deviation | None = None
    tool: Said = ""
    when: When = ""
    by: Who = ""
    set_aside: Said = ""
    """Why it is not to count; empty while it does."""

    def kind_of(self, key: str) -> str | None:
        """A reading is a length or an angle by what is read."""
        return ("angle" if self.of in ANGLES else "length") if key == "value" else None


class AsBuilt(Frozen, frozen=True, kw_only=True):
    """The readings of both axles, and how well brackets are placed where nothing was read."""

    readings: Annotated[tuple[BuiltReading, ...], Meta(max_length=400)] = ()
    placed_m: Annotated[
        float,
        _n(
            "Brackets placed to",
            "fine_length",
            0.0005,
            0.03,
            "1 σ of a bolt's place where nothing was read: an estimate.",
        ),
    ] = 0.004


FeltWord = Literal[
    "hops",
    "unloads",
    "dives",
    "wanders",
    "leans",
    "steers_itself",
    "vibrates",
    "rubs",
    "squats",
    "lifts",
    "front_rises",
]
FELT: tuple[FeltWord, ...] = ("hops", "unloads", "dives", "wanders", "leans", "steers_itself", "vibrates", "rubs", "squats", "lifts", "front_rises")  # fmt: skip
FELT_WORDS: dict[FeltWord, str] = {
    "hops": "hops", "unloads": "front unloads", "dives": "dives under braking", "wanders": "wanders", "leans": "leans",
    "steers_itself": "steers itself", "vibrates": "vibrates at a speed", "rubs": "rubs at lock", "squats": "rear squats",
    "lifts": "rear lifts", "front_rises": "front rises",
}  # fmt: skip
SEEN: frozenset[FeltWord] = frozenset(("squats", "lifts", "front_rises"))
"""Seen from outside; the others are felt."""
Range = Literal["low", "high"]
RunVerdict = Literal["", "good", "bad"]
TrialVerdict = Literal["", "better", "same", "worse"]


class Felt(Frozen, frozen=True, kw_only=True):
    """One thing felt or seen, by how much: 1 a little, 2 plainly, 3 badly; at which speed, where it has one."""

    id: FeltWord
    much: Annotated[int, _n("How much", "count", 1, 3, "1 a little, 2 plainly, 3 badly.")] = 2
    speed_m_per_s: Annotated[float, _n("At", "speed", 0.0, 80.0, "The speed it comes at.")] | None = None


class RunBar(Frozen, frozen=True, kw_only=True):
    """Where a bar's bolts were."""

    id: Identifier
    frame_pivot_m: Point
    axle_pivot_m: Point


class RunHole(Frozen, frozen=True, kw_only=True):
    """Which hole of a bracket was in use."""

    id: Identifier
    hole: Annotated[int, Meta(ge=1, le=12)]


class RunEnd(Frozen, frozen=True, kw_only=True):
    """How an axle hung in a run; ``id`` is its end."""

    id: Literal["front", "rear"]
    layout: Identifier
    name: Name
    bars: Annotated[tuple[RunBar, ...], Meta(max_length=24)] = ()
    holes: Annotated[tuple[RunHole, ...], Meta(max_length=48)] = ()


class RunNumber(Frozen, frozen=True, kw_only=True):
    """A headline number as it was worked out for a run, in its own unit: ``id`` is the end and the number, ``rear-drive``."""

    id: Identifier
    value: Annotated[float, Meta(ge=-1e6, le=1e6)]
    sigma: Annotated[float, Meta(ge=0.0, le=1e6)] | None = None


class Trial(Frozen, frozen=True, kw_only=True):
    """What a run was to try: after which run, against what was felt, what it promised, and what came of it."""

    after: Identifier
    felt: FeltWord
    change: Said
    promise: Said = ""
    verdict: TrialVerdict = ""


def _clicks(what: str) -> Meta:
    return _n(what, "count", 0, 60, "Clicks from fully closed.")


class Run(Frozen, frozen=True, kw_only=True):
    """One run: where, over what, how it was set, what the numbers were then, what was felt and seen."""

    id: Identifier
    name: Name
    when: Date = ""
    place: Said = ""
    obstacle: Said = ""
    load: Annotated[str, Meta(max_length=48)] = ""
    """A load case by its id; empty: as the rig is entered."""
    front_pressure_pa: Pressure | None = None
    rear_pressure_pa: Pressure | None = None
    range: Range = "low"
    gear: Annotated[int, _n("Gear", "count", 1, 18, "Gear it was driven in.")] = 1
    front_locked: bool = False
    rear_locked: bool = False
    front_bump_clicks: Annotated[int, _clicks("Front shocks, bump")] | None = None
    front_rebound_clicks: Annotated[int, _clicks("Front shocks, rebound")] | None = None
    rear_bump_clicks: Annotated[int, _clicks("Rear shocks, bump")] | None = None
    rear_rebound_clicks: Annotated[int, _clicks("Rear shocks, rebound")] | None = None
    ends: Annotated[tuple[RunEnd, ...], Meta(max_length=2)] = ()
    numbers: Annotated[tuple[RunNumber, ...], Meta(max_length=40)] = ()
    felt: Annotated[tuple[Felt, ...], Meta(max_length=11)] = ()
    verdict: RunVerdict = ""
    note: Text = ""
    photos: Annotated[tuple[PhotoName, ...], Meta(max_length=20)] = ()
    trial: Trial | None = None

    def number(self, key: str) -> RunNumber | None:
        """One of its numbers."""
        return next((n for n in self.numbers if n.id == key), None)


CareKind = Literal["torque", "oil", "joint", "bearing", "brake", "other"]
CARE_WORDS: dict[CareKind, str] = {
    "torque": "torque again", "oil": "oil", "joint": "joints", "bearing": "bearings", "brake": "brakes", "other": "other",
}  # fmt: skip


class CareDone(Frozen, frozen=True, kw_only=True):
    """When something was looked after, and how far it had been driven by then."""

    when: Date
    driven_m: Annotated[float, Meta(ge=0.0, le=1e9)]
    by: Who = ""


class CareItem(Frozen, frozen=True, kw_only=True):
    """Something to look after by distance, by date, or both: whichever comes first."""

    id: Identifier
    name: Name
    kind: CareKind = "other"
    every_m: Annotated[float, _n("Every", "distance", 1000.0, 1e9, "Driven distance between two times.")] | None = None
    every_days: Annotated[int, _n("Or every", "count", 1, 4000, "Days between two times.")] | None = None
    source: Said = ""
    since: Date = ""
    """From when its days count until it is first done."""
    done: Annotated[tuple[CareDone, ...], Meta(max_length=200)] = ()


class Broken(Frozen, frozen=True, kw_only=True):
    """A part that broke, beside what the ladder said of it then: capacity over demand."""

    id: Identifier
    name: Name
    end: Literal["front", "rear"] = "rear"
    part: Annotated[str, Meta(max_length=80)] = ""
    """Its rung of the ladder; empty: it has none."""
    when: Date = ""
    driven_m: Annotated[float, _n("Driven then", "distance", 0.0, 1e9, "How far it had been driven.")] = 0.0
    how: Said = ""
    margin: Annotated[float, Meta(ge=0.0, le=1e6)] | None = None


class Spare(Frozen, frozen=True, kw_only=True):
    """A part to have along."""

    id: Identifier
    name: Name
    count: Annotated[int, _n("How many", "count", 0, 200, "That are there.")] = 1
    wanted: Annotated[int, _n("Wanted", "count", 0, 200, "That should be.")] = 1
    place: Said = ""


HillKind = Literal["ledge", "steps", "grade", "side", "ditch", "own"]
HILL_WORDS: dict[HillKind, str] = {
    "ledge": "ledge", "steps": "steps", "grade": "grade", "side": "off-camber", "ditch": "V-ditch", "own": "your own",
}  # fmt: skip


class HillPoint(Frozen, frozen=True, kw_only=True):
    """One point of a profile of one's own: how far along, and how high under the left and the right wheels."""

    id: Identifier
    along_m: Annotated[float, _n("Along", "length", 0.0, 200.0, "Along the ground, from where it begins.")]
    left_m: Annotated[float, _n("Left", "length", -20.0, 60.0, "Height under the left wheels.")] = 0.0
    right_m: Annotated[float, _n("Right", "length", -20.0, 60.0, "Height under the right wheels.")] = 0.0


class Hill(Frozen, frozen=True, kw_only=True):
    """A profile to be driven over, slowly."""

    kind: HillKind = "ledge"
    high_m: Annotated[float, _n("Height", "length", 0.0, 3.0, "Of the ledge, of each step, depth of the ditch.")] = 0.4
    slope_rad: Annotated[float, _n("Slope", "angle", 0.0, 1.2, "Of the grade, the side slope, the ditch's sides.")] = (
        0.35
    )
    long_m: Annotated[
        float, _n("Length", "length", 0.2, 20.0, "Of the grade, of each step's tread, of the ditch along its edge.")
    ] = 4.0
    count: Annotated[int, _n("Steps", "count", 1, 8, "How many, one after another.")] = 3
    skew_m: Annotated[
        float, _n("Skewed by", "length", -4.0, 4.0, "How far the right wheels come to it behind the left ones.")
    ] = 0.0
    points: Annotated[tuple[HillPoint, ...], Meta(max_length=200)] = ()
    against: Annotated[str, Meta(max_length=48)] = ""
    """A run whose settings are driven beside those of now; empty: alone."""


class HandOver(Frozen, frozen=True, kw_only=True):
    """What the owner's file says besides what the project knows."""

    owner: Who = ""
    builder: Who = ""
    when: Date = ""
    changed: Text = ""
    approval: Text = ""
    untested: Text = ""
    alignment: Text = ""


class Log(Frozen, frozen=True, kw_only=True):
    """Everything from the day it stands on its wheels."""

    built: AsBuilt = AsBuilt()
    runs: Annotated[tuple[Run, ...], Meta(max_length=400)] = ()
    care: Annotated[tuple[CareItem, ...], Meta(max_length=200)] = ()
    broken: Annotated[tuple[Broken, ...], Meta(max_length=100)] = ()
    spares: Annotated[tuple[Spare, ...], Meta(max_length=200)] = ()
    hill: Hill = Hill()
    hand_over: HandOver = HandOver()
