"""What a donor axle says about itself and forces elsewhere. Trade facts are common practice."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from stoutlink.core.advice.finding import RANK, Finding
from stoutlink.core.analysis.drive import DonorInRig, donor_in_rig
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.mechanics.gearing import mismatch
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show

Rule = Callable[[Rig, DonorInRig, UnitSystem], Iterator[Finding]]
HIGH_RPM = 3200.0
"""Steady engine speed above which road use gets loud and thirsty (common practice)."""


def shaft_margin(rig: Rig, it: DonorInRig, unit: UnitSystem) -> Iterator[Finding]:
    """Inner shaft yield against one wheel carrying the axle on a locked axle."""
    if it.margin_one_wheel >= 1.0:
        return
    worse = it.shaft_yield < it.demand_level
    case = "even standing level on all tyres" if worse else "with one wheel carrying the axle"
    yield Finding(
        "K101",
        "danger" if worse else "warn",
        f"The {it.donor.spline_teeth}-spline shaft stays twisted at {show(it.shaft_yield, 'torque', unit)}; "
        f"locked, {case}, it can see {show(it.demand_level if worse else it.demand_one_wheel, 'torque', unit)}.",
        "The tyre's grip and the low gears reach the shaft before anything slips (shock factor 1.5, estimate). A bigger shaft, less tyre or an open differential.",
        "donors",
        it.donor.id,
    )


def c_clips(_: Rig, it: DonorInRig, unit: UnitSystem) -> Iterator[Finding]:
    """Shafts held by C-clips."""
    if it.donor.c_clips:
        yield Finding(
            "K102", "warn", "The shafts are held by C-clips: a broken shaft can leave the housing with its wheel.",
            "Retention at the bearing or a full-floating axle keeps the wheel on. Have the conversion done and inspected by a qualified shop.",
            "donors", it.donor.id,
        )  # fmt: skip


def spool_on_road(rig: Rig, it: DonorInRig, unit: UnitSystem) -> Iterator[Finding]:
    """A spool or automatic locker in a rig that sees the road."""
    if it.donor.locker in ("spool", "automatic") and (rig.road_legal or rig.uses.part("rock") < 1.0):
        kind = "spool" if it.donor.locker == "spool" else "automatic locker"
        yield Finding(
            "K103", "warn", f"A {kind} scrubs and pushes on wet or public roads.",
            "One school accepts it for its predictability and price, the other fits a selectable locker for road manners. Check local rules before road use.",
            "donors", it.donor.id,
        )  # fmt: skip


def engine_speed(rig: Rig, it: DonorInRig, unit: UnitSystem) -> Iterator[Finding]:
    """Engine speed at the road speed the rig must hold."""
    if it.rpm_at_road_speed > HIGH_RPM:
        yield Finding(
            "K104", "note",
            f"{it.ratio:.2f} gears turn the engine {it.rpm_at_road_speed:.0f} rpm at {show(rig.road_speed_m_per_s, 'speed', unit)} in top gear.",
            "A taller ratio or a taller tyre brings it down; either costs crawl ratio.",
            "donors", it.donor.id,
        )  # fmt: skip


def reverse_cut(_: Rig, it: DonorInRig, unit: UnitSystem) -> Iterator[Finding]:
    """Which flank of the ring gear drives forward."""
    front, standard = it.donor.end == "front", it.donor.cut == "standard"
    if front == standard:
        yield Finding(
            "K105", "note", f"Going forward this {it.donor.end} axle drives on the coast flank of its ring gear.",
            "The coast flank carries about three quarters of the drive flank (0.65–0.85, common practice). "
            + ("A reverse-cut high-pinion front drives on the strong flank." if front else "Reverse-cut gears belong in a front axle."),
            "donors", it.donor.id,
        )  # fmt: skip


def pitch_unclear(_: Rig, it: DonorInRig, unit: UnitSystem) -> Iterator[Finding]:
    """Spline count and measured diameter that match no standard pitch."""
    if it.pitch_asked and it.donor.spline_major_diameter_m is not None:
        yield Finding(
            "K106", "warn",
            f"{it.donor.spline_teeth} teeth on {show(it.donor.spline_major_diameter_m, 'length', unit)} match no standard pitch within 1 %.",
            "Count the teeth again, measure over the spline with a caliper, or ask the seller for the pitch.",
            "donors", it.donor.id,
        )  # fmt: skip


RULES: tuple[Rule, ...] = (shaft_margin, c_clips, spool_on_road, engine_speed, reverse_cut, pitch_unclear)


def donor_findings(rig: Rig, donor: DonorAxle, unit: UnitSystem) -> tuple[Finding, ...]:
    """Everything a donor forces on its own, strongest first."""
    it = donor_in_rig(rig, donor)
    found = [one for rule in RULES for one in rule(rig, it, unit)]
    return tuple(sorted(found, key=lambda f: RANK[f.severity]))


def pair_findings(project: Project) -> tuple[Finding, ...]:
    """What the chosen front and rear axle force on each other."""
    front, rear = project.donor("front"), project.donor("rear")
    if front is None or rear is None:
        return ()
    unit = project.settings.units
    out = []
    if (front.bolt_count, front.bolt_circle_m) != (rear.bolt_count, rear.bolt_circle_m):
        wording = [f"{d.bolt_count} on {show(d.bolt_circle_m, 'length', unit)}" for d in (front, rear)]
        out.append(Finding(
            "K120", "warn", f"Wheel bolt circles differ: front {wording[0]}, rear {wording[1]}.",
            "One adapter pair (loads studs and bearings, widens that end) or hubs of the other pattern; a spare fits one end only until then.",
            "donors", f"{front.id}/{rear.id}",
        ))  # fmt: skip
    off = mismatch(front.ratio * front.hub_ratio, project.rig.front.rolling, rear.ratio * rear.hub_ratio, project.rig.rear.rolling)
    if abs(off) > 0.01:
        out.append(Finding(
            "K121", "danger", f"Front and rear are geared {abs(off):.1%} apart (front {front.ratio:.2f}, rear {rear.ratio:.2f}, tyres included).",
            "In four-wheel drive the shafts and the transfer case wind up. Never drive it locked on a hard surface; regear one end.",
            "donors", f"{front.id}/{rear.id}",
        ))  # fmt: skip
    wider = front.width_m - rear.width_m
    if abs(wider) > 0.05:
        which, other = ("front", "rear") if wider > 0 else ("rear", "front")
        out.append(Finding(
            "K122", "note", f"The {which} axle is {show(abs(wider), 'length', unit)} wider than the {other} over the wheel faces.",
            "Wheels of another offset, a spacer of half the difference a side, or another axle. Check fender cover and local rules.",
            "donors", f"{front.id}/{rear.id}",
        ))  # fmt: skip
    return tuple(out)
