"""What the choice of axles is made with: plans for each end, how strict to be, prices, the shelf, inspections."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from msgspec import Meta

from stoutlink.core.catalogue.donor import Cap, DonorAxle, Locker, ParkingBrake, RootForm, Span, ToothPair
from stoutlink.core.catalogue.joint_size import JointSize
from stoutlink.core.document.quantities import Date, Frozen, Identifier, Name, Text


def _n(title: str, kind: str, low: float, high: float, text: str) -> Meta:
    return Meta(title=title, description=text, ge=low, le=high, extra={"kind": kind})


Upgrade = Literal["shafts", "joints", "stubs", "lockouts", "flange_bolts", "truss", "cover"]
UPGRADES: tuple[Upgrade, ...] = ("shafts", "joints", "stubs", "lockouts", "flange_bolts", "truss", "cover")
Word = Annotated[str, Meta(max_length=24)]
Money = Annotated[float, _n("Price", "money", 0.0, 1e7, "In the project's currency.")]
Hours = Annotated[float, _n("Hours", "hours", 0.0, 2000.0, "Your own time at the bench.")]


Extra = Literal["disc_conversion", "housing_work", "cleaning"]
EXTRAS: tuple[Extra, ...] = ("disc_conversion", "housing_work", "cleaning")
Buy = Literal["wheels", "tyres"]
BUYS: tuple[Buy, ...] = ("wheels", "tyres")


class AxlePlan(Frozen, frozen=True, kw_only=True):
    """What is to be changed on the axle of one end; nothing said means as it comes."""

    locker: Locker | None = None
    gears: ToothPair | None = None
    width_m: (
        Annotated[float, _n("Wanted width", "length", 0.8, 3.5, "Over the wheel faces, after narrowing.")] | None
    ) = None
    centre_pinion: bool = False
    keep_gears: bool = False
    in_place: bool = False
    bought: bool = False
    """In the shop and paid for, not under it yet."""
    extras: Annotated[tuple[Extra, ...], Meta(max_length=3)] = ()
    shaved: bool = False
    upgrades: Annotated[tuple[Upgrade, ...], Meta(max_length=7)] = ()
    fitted: Annotated[tuple[Identifier, ...], Meta(max_length=24)] = ()
    """Parts of the shelf that go into it, by id."""

    def gears_for(self, donor: DonorAxle) -> ToothPair | None:
        """The planned gear set where it is made for an axle, or the one in it where that is kept; None: nothing planned,
        or not to be had for this one.
        """
        if self.keep_gears:
            return donor.pair
        return self.gears if self.gears is not None and donor.takes(self.gears) else None


def planned_locker(donor: DonorAxle, plan: AxlePlan) -> tuple[str, bool]:
    """The locker to judge by, and whether it had to be assumed: planned, fitted, else locked up as the cautious side."""
    if plan.locker is not None:
        return plan.locker, False
    return (donor.locker, False) if donor.locker is not None else ("spool", True)


def planned_gears(donor: DonorAxle, plan: AxlePlan) -> ToothPair | None:
    """The gear set to judge by: planned, else fitted, else the only one known."""
    planned = plan.gears_for(donor)
    if planned is not None:
        return planned
    return donor.pair or (donor.offers[0] if len(donor.offers) == 1 else None)


class Choosing(Frozen, frozen=True, kw_only=True):
    """How the ladder is asked and what the user's pick weighs. Friction, shock and grade are estimates to set."""

    friction: Annotated[
        float, _n("Tyre grip", "number", 0.2, 1.5, "Friction of the tyre on what it climbs; dry rock about 0.9.")
    ] = 0.9
    shock: Annotated[
        float,
        _n(
            "Shock factor",
            "number",
            1.0,
            4.0,
            "How much a wheel that grabs again multiplies the torque; 1 is the static ladder.",
        ),
    ] = 1.5
    grade_rad: Annotated[float, _n("Grade", "angle", 0.0, 1.0, "The climb the ladder's grade row stands on.")] = (
        0.5235987755982988
    )
    side_force_share: Annotated[
        float,
        _n(
            "Side force",
            "number",
            0.0,
            1.5,
            "Sideways push at the tyre as a part of its load, for tubes and semi-float shafts.",
        ),
    ] = 0.0
    buys: Annotated[tuple[Buy, ...], Meta(max_length=2)] = ()
    currency: Annotated[str, Meta(max_length=12)] = ""
    budget: Annotated[float, _n("Budget", "money", 0.0, 1e8, "For both axles, ready to drive.")] | None = None
    hour_price: Annotated[
        float, _n("An hour of yours", "money", 0.0, 1e5, "Counts your own hours into the cost; 0 leaves them out.")
    ] = 0.0
    least_margin: Annotated[
        float,
        _n(
            "Least margin",
            "number",
            0.0,
            5.0,
            "Pairs whose weakest part holds less come behind all that hold; 0.67 at a shock factor of 1.5 is 1 without shock.",
        ),
    ] = 0.67
    least_crawl: (
        Annotated[
            float,
            _n(
                "Least crawl ratio",
                "ratio",
                1.0,
                1000.0,
                "First × low × axle × hub; gears that crawl faster come behind all that reach it.",
            ),
        ]
        | None
    ) = None
    gearing: Literal["old_feel", "deepest"] = "old_feel"
    strength: Annotated[
        float, _n("Strength margin", "number", 0.0, 10.0, "What a stronger weakest part is worth to you.")
    ] = 3.0
    weight: Annotated[float, _n("Weight", "number", 0.0, 10.0, "What a lighter pair is worth to you.")] = 1.0
    clearance: Annotated[
        float, _n("Clearance", "number", 0.0, 10.0, "What clearance under the housing is worth to you.")
    ] = 1.0
    cost: Annotated[float, _n("Cost to ready", "number", 0.0, 10.0, "What a cheaper pair is worth to you.")] = 2.0
    hours: Annotated[float, _n("Work hours", "number", 0.0, 10.0, "What less work is worth to you.")] = 1.0
    manners: Annotated[
        float, _n("Road manners", "number", 0.0, 10.0, "What calm manners on a wet road are worth to you.")
    ] = 1.0


class Seen(Frozen, frozen=True, kw_only=True):
    """Something that was looked at before it was decided: an axle or a part, where and when, for how much, what its
    seller says of it, what speaks for it and against it, and what became of it. ``axle`` is the record it would be, or
    empty."""

    id: Identifier
    name: Name
    axle: Annotated[str, Meta(max_length=64)] = ""
    source: Annotated[str, Meta(title="Where", max_length=160)] = ""
    when: Annotated[str, Meta(title="When", max_length=40)] = ""
    price: Money | None = None
    claim: Annotated[str, Meta(title="Seller says", max_length=400)] = ""
    reason: Annotated[str, Meta(title="For it", max_length=400)] = ""
    doubt: Annotated[str, Meta(title="Against it", max_length=400)] = ""
    outcome: Literal["open", "bought", "passed", "gone"] = "open"


class OwnCost(Frozen, frozen=True, kw_only=True):
    """A line of your own in the cost list; a negative amount is a credit, as for parts sold."""

    id: Identifier
    title: Name
    end: Literal["front", "rear", "both"] = "both"
    group: Literal["axle", "part", "work", "consumable", "tool"] = "part"
    amount: Annotated[float, _n("Amount", "money", -1e7, 1e7, "In the project's currency; below 0 it is a credit.")] = (
        0.0
    )
    hours: Hours = 0.0


PriceName = Annotated[str, Meta(pattern="^[a-z0-9][a-z0-9_-]{0,79}$", description="A line, with its end behind it.")]


class Price(Frozen, frozen=True, kw_only=True):
    """Your price and hours for a line, in place of the estimate that ships, and what of it is paid. ``id`` is the line's,
    for both ends, or the line's with the end behind it (``gear_set-front``). Paid and nothing asked: what is paid is its
    price; paid and ``settled``: likewise, whatever was asked."""

    said_of: ClassVar[bool] = True

    id: PriceName
    amount: Money | None = None
    hours: Hours | None = None
    paid: Money | None = None
    settled: bool = False
    paid_on: Date = ""
    """The day it was paid, or is to be."""

    def whole(self, asked: float | None = None, count: int = 1) -> tuple[float | None, bool]:
        """What ``count`` of it cost together, and whether that is what was paid for all of them. ``asked`` is what something else
        asks for one where the price says nothing (a record, a line of one's own). Who paid more than was asked paid all of it.
        ``None``: the estimate counts."""
        each = asked if self.amount is None else self.amount
        together = None if each is None else each * count
        if self.paid is not None and (self.settled or together is None or self.paid > together):
            return self.paid, True
        return together, False


PartKind = Literal[
    "side_gears",
    "inner_shaft",
    "stub",
    "hub",
    "locker",
    "gear_set",
    "joint",
    "driveshaft",
    "adapter",
    "brake_line",
    "brakes",
    "other",
]


class ShelfPart(Frozen, frozen=True, kw_only=True):
    """A part at hand: what it has to match the axles by."""

    id: Identifier
    name: Name
    kind: PartKind
    spline_teeth: Annotated[int, _n("Spline teeth", "count", 6, 80, "Count them.")] | None = None
    spline_pitch_per_in: (
        Annotated[float, _n("Spline pitch", "number", 2.5, 128.0, "Teeth per inch of pitch diameter.")] | None
    ) = None
    spline_root: RootForm | None = None
    series: Word = ""
    other_series: Word = ""
    """Of a conversion joint: the other pair of caps."""
    cap_m: Cap | None = None
    span_m: Span | None = None
    other_cap_m: Cap | None = None
    other_span_m: Span | None = None
    thread: Word = ""
    brake: Literal["drum", "disc"] | None = None
    rotor_m: (
        Annotated[float, _n("Disc diameter", "length", 0.1, 0.6, "Outside of the disc; of a drum its inside.")] | None
    ) = None
    piston_m: Annotated[float, _n("Caliper piston", "length", 0.01, 0.15, "Diameter of one piston.")] | None = None
    piston_count: (
        Annotated[
            int,
            _n("Pistons a side", "count", 1, 8, "On one side of a caliper; a floating one has them on one side only."),
        ]
        | None
    ) = None
    parking_brake: ParkingBrake | None = None
    parking_cable_end: Word = ""
    least_wheel_m: (
        Annotated[
            float,
            _n(
                "Least wheel", "length", 0.2, 0.8, "Smallest wheel, by its bead diameter, that clears disc and caliper."
            ),
        ]
        | None
    ) = None
    weight_kg: Annotated[float, _n("Weight", "mass", 0.1, 400.0, "The whole set, both sides.")] | None = None
    bolt_count: Annotated[int, _n("Bolts", "count", 3, 12, "Studs or holes.")] | None = None
    bolt_circle_m: Annotated[float, _n("Bolt circle", "length", 0.06, 0.5, "Through the bolts' centres.")] | None = None
    other_bolt_count: (
        Annotated[int, _n("Other side's bolts", "count", 3, 12, "Of an adapter: the wheel's side.")] | None
    ) = None
    other_bolt_circle_m: (
        Annotated[float, _n("Other side's bolt circle", "length", 0.06, 0.5, "Of an adapter: the wheel's side.")] | None
    ) = None
    gears: ToothPair | None = None
    lowest_ratio: (
        Annotated[float, _n("From ratio", "ratio", 1.0, 12.0, "A carrier takes gears from this ratio.")] | None
    ) = None
    highest_ratio: (
        Annotated[float, _n("To ratio", "ratio", 1.0, 12.0, "A carrier takes gears to this ratio.")] | None
    ) = None
    price: Money | None = None

    @property
    def joint(self) -> JointSize:
        """The joint it is, or takes."""
        return JointSize(self.series, self.cap_m, self.span_m)

    @property
    def other_joint(self) -> JointSize:
        """Of a conversion joint, its other pair of caps."""
        return JointSize(self.other_series, self.other_cap_m, self.other_span_m)


class MadeAxle(Frozen, frozen=True, kw_only=True):
    """An axle made into one from several: ids of the records its parts are from. ``id`` is its own record's, which holds
    the numbers."""

    id: Identifier
    housing: Identifier
    gears: Identifier
    shafts: Identifier
    outers: Identifier


CheckState = Literal["good", "worn", "bad", "unknown"]


class InspectionCheck(Frozen, frozen=True, kw_only=True):
    """One look at a delivered axle: what was found, and what mending it costs if it is not the estimate."""

    id: Identifier
    state: CheckState = "unknown"
    note: Annotated[str, Meta(max_length=200)] = ""
    cost: Money | None = None


class Inspection(Frozen, frozen=True, kw_only=True):
    """A donor looked over on delivery; ``id`` is the axle's. Counted turns say the real ratio."""

    id: Identifier
    when: Annotated[str, Meta(max_length=40)] = ""
    who: Annotated[str, Meta(max_length=60)] = ""
    tag_ratio: Annotated[float, _n("Ratio on the tag", "ratio", 0.5, 15.0, "As stamped; 0.5 to 15.")] | None = None
    pinion_turns: (
        Annotated[
            float,
            _n(
                "Pinion turns counted",
                "number",
                0.5,
                300.0,
                "Turns of the pinion while the wheels turn as said beside it.",
            ),
        ]
        | None
    ) = None
    wheel_turns: Annotated[
        float,
        _n(
            "Wheel turns",
            "number",
            0.5,
            60.0,
            "Turns of both wheels together, locked to each other; of one wheel with the other held, say half.",
        ),
    ] = 1.0
    checks: Annotated[tuple[InspectionCheck, ...], Meta(max_length=40)] = ()
    notes: Text = ""

    def check(self, check_id: str) -> InspectionCheck | None:
        """One look by its id."""
        return next((c for c in self.checks if c.id == check_id), None)
