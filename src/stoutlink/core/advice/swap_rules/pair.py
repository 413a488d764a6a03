"""What the chosen front and rear axle force on each other."""

from __future__ import annotations

from collections.abc import Iterator

from stoutlink.core.advice.swap_rules.rule import PairRule, RuleCase, Said
from stoutlink.core.analysis.swap.bolt_circles import circles_differ, shelf_adapter
from stoutlink.core.analysis.swap.capacities import spline_of
from stoutlink.core.analysis.swap.cost_to_ready import cost_to_ready
from stoutlink.core.analysis.swap.gear_choice import MOST_APART
from stoutlink.core.catalogue.joint_size import same_joint
from stoutlink.core.mechanics.gearing import mismatch
from stoutlink.core.mechanics.spline import same_spline

PILOT = 0.0005
"""Pilots within this of each other, m, are one."""
APART = 0.05


def _bolt_circles(f: RuleCase, r: RuleCase) -> Iterator[Said]:
    a, b = f.donor, r.donor
    if (
        circles_differ(a, b)
        and shelf_adapter(f.project, a, (b.bolt_count, b.bolt_circle_m)) is None
        and shelf_adapter(f.project, b, (a.bolt_count, a.bolt_circle_m)) is None
    ):
        words = [f"{d.bolt_count} on {f.show(d.bolt_circle_m, 'length')}" for d in (a, b)]
        yield (
            "warn",
            f"Wheel bolt circles differ: front {words[0]}, rear {words[1]}.",
            "One adapter pair (loads studs and bearings, widens that end) or hubs of the other pattern; a spare fits one end only until then.",
        )


def _gearing(f: RuleCase, r: RuleCase) -> Iterator[Said]:
    one, two = f.pair, r.pair
    if one is None or two is None:
        return
    off = mismatch(
        one.ratio * f.donor.hub_ratio, f.rig.front.rolling, two.ratio * r.donor.hub_ratio, f.rig.rear.rolling
    )
    if abs(off) > MOST_APART:
        match = next((o for o in f.gears.offers if o.partner is not None), None)
        cure = (
            f"{match.pair} in front with {match.partner} in the rear go together"
            if match is not None
            else "no sets known for the two go together"
        )
        yield (
            "danger",
            f"Front and rear are geared {abs(off):.1%} apart (front {one.ratio:.2f}, rear {two.ratio:.2f}, tyres included).",
            f"In four-wheel drive the shafts and the transfer case wind up. Never drive it locked on a hard surface; regear one end: {cure}.",
        )


def _ruled_out(f: RuleCase, r: RuleCase) -> Iterator[Said]:
    if f.gears.ruled_out:
        yield (
            "danger",
            f.gears.ruled_out,
            "Another ring gear size at one end, or hub gears, or tyres of two sizes: none of them is usual.",
        )


def _widths(f: RuleCase, r: RuleCase) -> Iterator[Said]:
    wider = f.fit.wider_than_other
    if wider is not None and abs(wider) > APART:
        which, other = ("front", "rear") if wider > 0 else ("rear", "front")
        yield (
            "note",
            f"The {which} axle is {f.show(abs(wider), 'length')} wider than the {other} over the wheel faces.",
            f"Wheels of another offset, a spacer of {f.show(abs(wider) / 2, 'length')} a side, narrowing, or another axle. Check fender cover and local rules.",
        )


def _both_locked(f: RuleCase, r: RuleCase) -> Iterator[Said]:
    always = ("spool", "automatic", "drop_in")
    if f.locker in always and r.locker in always and f.on_road and not f.locker_guessed and not r.locker_guessed:
        yield (
            "warn",
            "Both axles are always locked: it will not turn willingly, least of all on ice.",
            "One school runs it so on rock only; the other keeps at least one end selectable. Local rules before road use.",
        )


def _hub_ratios(f: RuleCase, r: RuleCase) -> Iterator[Said]:
    if abs(f.donor.hub_ratio - r.donor.hub_ratio) > 0.01:
        yield (
            "warn",
            f"Hub gears at one end only: front {f.donor.hub_ratio:.2f}, rear {r.donor.hub_ratio:.2f}.",
            "Gears, clearance and widths no longer match by themselves; every number has to be made for the pair.",
        )


def _brakes(f: RuleCase, r: RuleCase) -> Iterator[Said]:
    a, b = f.donor.brake, r.donor.brake
    if a is not None and b is not None and "none" not in (a, b) and a != b:
        yield (
            "note",
            f"Brakes: {a} in front, {b} in the rear.",
            "The balance between the ends is for this pair to be found again: proportioning, a test on a quiet surface, inspection by licensed people.",
        )


def _spares(f: RuleCase, r: RuleCase) -> Iterator[Said]:
    one, two = spline_of(f.donor), spline_of(r.donor)
    if one is None or two is None:
        return
    why = same_spline((one.teeth, one.pitch, one.root), (two.teeth, two.pitch, two.root))
    if why is not None:
        yield (
            "note",
            f"Front and rear shafts share no splines ({why}).",
            "Lockers and side gears do not cross over, and spares are carried for both ends.",
        )


def _uneven(f: RuleCase, r: RuleCase) -> Iterator[Said]:
    a, b = f.ladder.weakest, r.ladder.weakest
    if a is None or b is None or max(a.margin, b.margin) == float("inf"):
        return
    low, high, end = (a, b, "front") if a.margin < b.margin else (b, a, "rear")
    if low.margin < 0.6 * high.margin and low.margin < 1.2:
        yield (
            "note",
            f"The {end} axle is the weak one: {low.title.lower()} at {low.margin:.2f} against {high.margin:.2f} at the other end.",
            "Money in the strong end is not used. Bring the weak end up, or take a lighter strong end.",
        )


def _budget(f: RuleCase, r: RuleCase) -> Iterator[Said]:
    cost = cost_to_ready(f.project, f.rig, f.donor, r.donor)
    if cost.left is not None and cost.left < 0:
        unit = f.project.swap.choosing.currency
        yield (
            "warn",
            f"Ready to drive the pair costs {cost.total + cost.tools:.0f} {unit}".rstrip()
            + f", {-cost.left:.0f} over the budget.",
            "The cost list shows what drags it up; the bare axles are seldom the larger half.",
        )


def _axle_joints(f: RuleCase, r: RuleCase) -> Iterator[Said]:
    a, b = f.donor.pinion_joint, r.donor.pinion_joint
    if same_joint(a, b) is False:
        yield (
            "note",
            f"Driveshaft joints differ: series {a.words} in front, {b.words} in the rear.",
            "Two kinds of spares. One series at both ends is handy on the trail.",
        )


def _studs(f: RuleCase, r: RuleCase) -> Iterator[Said]:
    a, b = f.donor, r.donor
    threads = a.stud_thread and b.stud_thread and a.stud_thread.casefold() != b.stud_thread.casefold()
    pilots = a.pilot_m is not None and b.pilot_m is not None and abs(a.pilot_m - b.pilot_m) > PILOT
    if threads:
        yield (
            "note",
            f"Wheel studs differ: {a.stud_thread} in front, {b.stud_thread} in the rear.",
            "Two kinds of nut on board, and never one on the other's stud; or studs of one thread pressed in.",
        )
    if pilots:
        yield (
            "note",
            f"Wheel pilots differ: {f.show(a.pilot_m, 'length')} in front, {f.show(b.pilot_m, 'length')} in the rear.",
            "A wheel bored for the larger is not centred on the smaller without a ring.",
        )


RULES: tuple[PairRule, ...] = (
    PairRule("K120", "donors", _bolt_circles),
    PairRule("K121", "donors", _gearing),
    PairRule("K122", "donors", _widths),
    PairRule("K123", "donors", _both_locked),
    PairRule("K124", "donors", _hub_ratios),
    PairRule("K125", "donors", _brakes),
    PairRule("K126", "donors", _spares),
    PairRule("K127", "donors", _ruled_out),
    PairRule("K128", "donors", _uneven),
    PairRule("K129", "donors", _budget),
    PairRule("K161", "donors", _axle_joints),
    PairRule("K164", "donors", _studs),
)
