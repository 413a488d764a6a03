"""Which gears: the ratio that keeps the old feel, what exists for this ring gear, engine speed, crawl, match of both
ends, speedometer.
"""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
from msgspec import Struct
from numpy.typing import ArrayLike, NDArray

from stoutlink.core.catalogue.donor import DonorAxle, ToothPair
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Drivetrain, Rig
from stoutlink.core.mechanics.gearing import crawl_ratio, engine_rpm, mismatch, road_speed, same_feel_ratio, speedometer

Array = NDArray[np.float64]
MOST_APART = 0.01
"""Front against rear, tyres included; more winds the transfer case up on a hard surface (common practice)."""
USABLE = 0.80
"""The band of engine speeds that give at least this part of peak torque is called usable (convention)."""
SAME = 0.0005
FAR_OFF = 1e9
DEEPEST = 99.0
"""Behind every sum of money."""
NEAR = 0.08
"""Gears within this of the ratio that keeps the old feel are near enough not to be changed for it."""


class GearOffer(Struct, frozen=True):
    """One gear set in this rig: engine speed at the road speed in top, crawl ratio and speed at idle, ``partner`` the
    other axle's set that goes with it (or None) and how far the two are apart."""

    pair: ToothPair
    fitted: bool
    rpm: float
    in_band: str
    crawl: float
    crawl_speed: float
    change: float | None
    partner: ToothPair | None
    apart: float | None
    indicated: float | None


class GearChoice(Struct, frozen=True):
    """All offers of one axle. ``same_feel`` is the ratio that keeps the old feel, ``neighbours`` the offers either
    side of it (one when exact or off the list, then ``off_list`` says so)."""

    donor: DonorAxle
    offers: tuple[GearOffer, ...]
    same_feel: float | None
    neighbours: tuple[ToothPair, ...]
    off_list: bool
    band: tuple[float, float] | None
    planned: ToothPair | None
    other: DonorAxle | None
    ruled_out: str


def usable_band(train: Drivetrain) -> tuple[float, float] | None:
    """Engine speeds between which the torque curve gives 80 % of its peak or more, straight between its points; None
    without a curve.

    The band around the peak; a curve that never falls below runs to its last point.
    """
    points = train.torque_curve
    if len(points) < 2:
        return None
    wanted = USABLE * max(p.torque_nm for p in points)
    top = max(range(len(points)), key=lambda i: points[i].torque_nm)

    def walk(step: int) -> float:
        i = top
        while 0 <= i + step < len(points):
            a, b = points[i], points[i + step]
            if b.torque_nm < wanted:
                return a.rpm + (b.rpm - a.rpm) * (a.torque_nm - wanted) / (a.torque_nm - b.torque_nm)
            i += step
        return points[i].rpm

    return walk(-1), walk(1)


def neighbours(offers: tuple[ToothPair, ...], wanted: float) -> tuple[tuple[ToothPair, ...], bool]:
    """The sets either side of a wanted ratio; one when it matches or lies off the list (then True).

    >>> sets = tuple(ToothPair(ring=r, pinion=p) for r, p in ((41, 10), (41, 9), (39, 8)))
    >>> [str(s) for s in neighbours(sets, 4.33)[0]], neighbours(sets, 6.0)[1]
    (['41/10', '41/9'], True)
    """
    ordered = sorted(offers, key=lambda p: p.ratio)
    exact = [p for p in ordered if abs(p.ratio / wanted - 1.0) <= SAME]
    if exact:
        return (exact[0],), False
    below, above = [p for p in ordered if p.ratio < wanted], [p for p in ordered if p.ratio > wanted]
    if below and above:
        return (below[-1], above[0]), False
    return ((below[-1],) if below else (above[0],) if above else ()), True


def best_partner(rig: Rig, donor: DonorAxle, pair: ToothPair, other: DonorAxle) -> tuple[ToothPair, float] | None:
    """The other axle's set nearest in speed to this one, tyres and hub gears included, and how far apart; None when
    its gears are unknown.
    """
    mine, theirs = rig.end(donor.end).rolling, rig.end(other.end).rolling
    found = [(p, mismatch(pair.ratio * donor.hub_ratio, mine, p.ratio * other.hub_ratio, theirs)) for p in other.offers]
    return min(found, key=lambda one: abs(one[1]), default=None)


def wanted_ratio(rig: Rig, end: str) -> float | None:
    """The ratio, hub gears in, that keeps the old feel on the tyres of an end; None until the old ratio and tyre are
    known.
    """
    fit = rig.fittings
    if fit.old_ratio is None or fit.old_rolling_radius_m is None:
        return None
    return same_feel_ratio(fit.old_ratio, fit.old_rolling_radius_m, rig.end(end).rolling)


def least_ratio(project: Project, rig: Rig) -> float:
    """Axle ratio, hub gears in, from which on the rig crawls at least as deep as asked for; 0 where nothing is asked."""
    train, crawl = rig.drivetrain, project.swap.choosing.least_crawl
    return 0.0 if crawl is None else crawl / (train.first_ratio * train.transfer_low_ratio)


def asked_ratio(project: Project, rig: Rig) -> float:
    """What :func:`gear_key` is asked for at least: out of reach where the deepest sets are wanted, so that the deepest
    of it comes first; else the least crawl's ratio."""
    return DEEPEST if project.swap.choosing.gearing == "deepest" else least_ratio(project, rig)


def gear_key(spend: ArrayLike, ratio: ArrayLike, wanted: float | None, least: float = 0.0) -> Array:
    """What gear sets of a pair are chosen by, least first; arguments may be arrays.

    Sets near the wanted ratio (hub gears in) go by what they cost at both ends, gears, setting up and all that hangs
    on them, then by nearness; those that are not near come after, by nearness. Without a wanted ratio only what they
    cost counts. What is less than ``least`` (see :func:`asked_ratio`) comes last, the deepest of it first.
    """
    asked = np.asarray(ratio, dtype=float)
    short = np.where(asked < least * (1.0 - 1e-9), 4.0 * FAR_OFF + FAR_OFF * (least - asked) / max(least, 1e-9), 0.0)
    money = np.asarray(spend, dtype=float) + short
    if wanted is None:
        return money + 0.0 * np.asarray(ratio)
    near = np.abs(np.log(np.asarray(ratio) / wanted))
    key: Array = np.where(near <= NEAR, money + near, FAR_OFF + near + short)
    return key


Spend = Callable[[DonorAxle, ToothPair], float]


def matching_sets(
    rig: Rig,
    least: float,
    front: DonorAxle,
    rear: DonorAxle,
    front_sets: tuple[ToothPair, ...],
    rear_sets: tuple[ToothPair, ...],
    spend: Spend,
) -> tuple[ToothPair | None, ToothPair | None]:
    """The gear sets a pair is made ready with: of those within 1 % of each other the ones near the old feel that cost
    least at both ends (``spend`` says what a set costs an axle), then the nearest.

    Without two that go together (or with unknown gears) each end keeps what is fitted.
    """
    wanted = wanted_ratio(rig, "rear")
    best: tuple[float, ToothPair | None, ToothPair | None] = (math.inf, front.pair, rear.pair)
    for one in front_sets:
        for two in rear_sets:
            if (
                abs(
                    mismatch(
                        one.ratio * front.hub_ratio, rig.front.rolling, two.ratio * rear.hub_ratio, rig.rear.rolling
                    )
                )
                > MOST_APART
            ):
                continue
            key = float(gear_key(spend(front, one) + spend(rear, two), two.ratio * rear.hub_ratio, wanted, least))
            if key < best[0] - 1e-12:
                best = (key, one, two)
    return best[1], best[2]


def gear_choice(project: Project, rig: Rig, donor: DonorAxle, other: DonorAxle | None) -> GearChoice:
    """Judge every gear set of an axle; ``other`` is the axle at the other end, if one is chosen."""
    train, end, plan = rig.drivetrain, rig.end(donor.end), project.plan(donor.end)
    band = usable_band(train)
    old_ratio, old_radius = rig.fittings.old_ratio, rig.fittings.old_rolling_radius_m
    wanted = wanted_ratio(rig, donor.end)
    feel = None if wanted is None else wanted / donor.hub_ratio
    sets = donor.offers
    near, off = neighbours(sets, feel) if feel is not None and sets else ((), False)
    offers = []
    for pair in sets:
        total = pair.ratio * donor.hub_ratio
        rpm = engine_rpm(rig.road_speed_m_per_s, end.rolling, train.top_ratio, train.transfer_high_ratio, total)
        crawl = crawl_ratio(train.first_ratio, train.transfer_low_ratio, pair.ratio, donor.hub_ratio)
        partner = best_partner(rig, donor, pair, other) if other is not None else None
        good = partner is not None and abs(partner[1]) <= MOST_APART
        indicated = None
        if old_ratio is not None and old_radius is not None and rig.fittings.speed_pickup is not None:
            indicated = speedometer(old_ratio, total, old_radius, end.rolling, rig.fittings.speed_pickup)
        offers.append(
            GearOffer(
                pair,
                pair == donor.pair,
                rpm,
                _band_word(rpm, band, train.idle_rpm),
                crawl,
                road_speed(train.idle_rpm, end.rolling, crawl),
                None if feel is None else pair.ratio / feel - 1.0,
                partner[0] if partner and good else None,
                partner[1] if partner else None,
                indicated,
            )
        )
    ruled = ""
    if other is not None and offers and other.offers and all(o.partner is None for o in offers):
        closest = min((o for o in offers if o.apart is not None), key=lambda o: abs(o.apart or 0.0), default=None)
        gap = f"; the nearest, {closest.pair.ratio:.2f}, is {abs(closest.apart or 0.0):.1%} off" if closest else ""
        ruled = f"No gears of this axle go with any of {other.name}{gap}: as a pair the two are ruled out."
    return GearChoice(donor, tuple(offers), feel, near, off, band, plan.gears_for(donor) or donor.pair, other, ruled)


def _band_word(rpm: float, band: tuple[float, float] | None, idle: float) -> str:
    if band is None:
        return "no torque curve to judge by"
    if rpm < idle:
        return "below idle"
    if rpm < band[0]:
        return "below the usable band: it will hunt for a lower gear"
    return "above the usable band" if rpm > band[1] else "in the usable band"
