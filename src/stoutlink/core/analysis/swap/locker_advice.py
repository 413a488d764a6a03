"""Which locker at which end: by use, road, wet, steering, shafts, carrier, spline, supply; both schools beside each."""

from __future__ import annotations

from dataclasses import dataclass

import msgspec

from stoutlink.core.analysis.swap.capacities import spline_of
from stoutlink.core.analysis.swap.ladder import ladder
from stoutlink.core.catalogue.donor import LOCKER_WORDS, DonorAxle
from stoutlink.core.catalogue.lockers import KINDS, LockerKind
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig

SMALL_FRONT = 31
"""Below this many splines a locked front is hard on its shafts (common practice, weak)."""


@dataclass(frozen=True)
class LockerAdvice:
    """One kind at one end: ``word`` (fits, arguable, no), grade 0 to 1 for ordering, reasons for and against here,
    what it needs, torque at the most loaded shaft, the ring gear and the driveshaft with one wheel carrying the axle
    (N·m, shock in), and the shaft's margin."""

    kind: LockerKind
    title: str
    word: str
    grade: float
    pros: tuple[str, ...]
    cons: tuple[str, ...]
    needs: tuple[str, ...]
    shaft_torque: float
    ring_torque: float
    driveshaft_torque: float
    margin: float | None
    weakest: str
    fitted: bool


def road_part(rig: Rig) -> float:
    """Share of use on roads, towing included, and never nothing for a rig that must stay road legal."""
    share = rig.uses.part("road") + rig.uses.part("tow")
    return max(share, 0.3) if rig.road_legal else share


def manners(rig: Rig, end: str, kind: LockerKind) -> float:
    """Road manners of a locker kind at an end of this rig, 0 to 1: dry and wet road, steering counted at the front
    (estimate).
    """
    grades = (kind.road, kind.wet, kind.steering) if end == "front" else (kind.road, kind.wet)
    return sum(grades) / len(grades)


def locker_advice(project: Project, rig: Rig, donor: DonorAxle) -> tuple[LockerAdvice, ...]:
    """Every kind judged in this axle and rig, best first. Grades are rules of thumb (common practice), never the last
    word.
    """
    plan, road = project.plan(donor.end), road_part(rig)
    hard = rig.uses.part("rock") + 0.5 * rig.uses.part("trail")
    out = []
    spline = spline_of(donor)
    now = plan.locker or donor.locker
    for kind in KINDS:
        if kind.id == "selectable" and now != "selectable":
            continue
        asked = ladder(rig, donor, msgspec.structs.replace(plan, locker=kind.id), project.choosing)
        shaft = asked.rung("inner_spline")
        one = dict(shaft.asked).get("one_wheel", 0.0) if shaft else 0.0
        ring = asked.rung("ring_forward")
        ring_torque = dict(ring.asked).get("one_wheel", 0.0) if ring else 0.0
        pros, cons, needs = [], [], _needs(rig, donor, kind, spline.teeth if spline else None)
        calm = manners(rig, donor.end, kind)
        pull = {"open": 0.1, "slip": 0.45, "locked": 1.0}[kind.tie]
        margin = shaft.margin if shaft else None
        if kind.tie == "locked":
            pros.append("drives with a wheel in the air")
        elif kind.tie == "slip":
            cons.append("little help with a wheel in the air")
        else:
            cons.append("a hanging wheel stops this axle")
        if road > 0.05:
            (pros if calm > 0.8 else cons).append(
                "calm on a wet road" if calm > 0.8 else "pushes and scrubs on wet roads; local rules decide"
            )
        if donor.end == "front" and kind.steering < 0.5:
            cons.append("fights the steering")
        if (
            donor.end == "front"
            and kind.id in ("spool", "automatic", "drop_in")
            and spline is not None
            and spline.teeth < SMALL_FRONT
        ):
            cons.append(
                f"{spline.teeth}-spline front shafts are small for a lock that is always there (common practice)"
            )
        strength = 1.0
        if margin is not None and kind.tie == "locked" and 0.0 < margin < 1.0:
            cons.append(f"one wheel carrying the axle asks {1 / margin:.2f} times what the shaft holds")
            strength = max(0.45, margin)
        small = (
            donor.end == "front"
            and spline is not None
            and spline.teeth < SMALL_FRONT
            and not kind.selectable
            and kind.tie == "locked"
        )
        grade = (
            (hard * pull * strength + road * calm + 0.25 * calm + (0.06 if kind.selectable else 0.0))
            / (hard + road + 0.25)
            - (0.25 if small else 0.0)
            - 0.08 * sum(n.startswith("▲") for n in needs)
        )
        word = (
            "no"
            if any(n.startswith("✗") for n in needs)
            else "fits"
            if grade > 0.6
            else "arguable"
            if grade > 0.36
            else "poor here"
        )
        weak = asked.weakest
        out.append(
            LockerAdvice(
                kind,
                LOCKER_WORDS[kind.id],
                word,
                grade,
                tuple(pros),
                tuple(cons),
                tuple(needs),
                one,
                ring_torque,
                ring_torque / asked.ratio if asked.ratio else 0.0,
                margin,
                f"{weak.title}, {weak.margin:.2f}" if weak else "not known",
                now == kind.id,
            )
        )
    return tuple(sorted(out, key=lambda a: (a.word == "no", -a.grade, a.title)))


def _needs(rig: Rig, donor: DonorAxle, kind: LockerKind, teeth: int | None) -> list[str]:
    """What it needs here: ✗ cannot, ▲ has to be got or checked, · is there."""
    out = []
    fit = rig.fittings
    if kind.needs == "air":
        out.append(
            "· air is there"
            if fit.air_supply
            else "▲ compressor and lines"
            if fit.air_supply is False
            else "▲ say whether there is air"
        )
    if kind.needs == "electric":
        out.append("· a spare circuit is there" if fit.spare_circuit else "▲ wiring and a fused circuit")
        if donor.third_member:
            out.append("▲ check actuator room and stroke in this third member")
    if kind.needs == "open carrier":
        out.append(
            "✗ a spool has no open carrier to drop it into"
            if donor.locker == "spool"
            else "· goes into the open carrier"
            if donor.locker == "open"
            else "▲ needs an open carrier"
        )
    if kind.id != (donor.locker or "") and kind.id != "open":
        out.append(f"▲ order it for {teeth} splines" if teeth else "▲ count the splines before ordering")
        if donor.carrier_break_ratio is not None and kind.needs != "open carrier" and donor.ratio is not None:
            side = "above" if donor.ratio > donor.carrier_break_ratio else "up to"
            out.append(f"▲ for gears {side} {donor.carrier_break_ratio:.2f}, the carrier break")
    if donor.c_clips and kind.id == "spool":
        out.append("▲ with C-clips: only one made for them")
    return out
