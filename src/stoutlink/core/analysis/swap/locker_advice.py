"""Which locker at which end: by use, road, wet, steering, shafts, carrier, spline, supply; both schools beside each."""

from __future__ import annotations

from collections.abc import Callable

import msgspec
from msgspec import Struct

from stoutlink.core.analysis.swap.capacities import spline_of
from stoutlink.core.analysis.swap.ladder import ladder
from stoutlink.core.catalogue.donor import LOCKER_WORDS, DonorAxle
from stoutlink.core.catalogue.lockers import KINDS, LockerKind
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig

SMALL_FRONT = 31
"""Below this many splines a locked front is hard on its shafts (common practice, weak)."""


class LockerAdvice(Struct, frozen=True):
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


class _Case(Struct, frozen=True):
    """One kind in one axle of one rig, with what the rules below look at."""

    kind: LockerKind
    rig: Rig
    donor: DonorAxle
    teeth: int | None
    margin: float | None
    road: float
    calm: float

    @property
    def small(self) -> bool:
        """A front that is always locked, on shafts that are small for it."""
        few = self.teeth is not None and self.teeth < SMALL_FRONT
        return self.donor.end == "front" and few and self.kind.tie == "locked" and not self.kind.selectable

    @property
    def short(self) -> bool:
        """One wheel that carries the axle asks for more than the shaft holds."""
        return self.margin is not None and self.kind.tie == "locked" and 0.0 < self.margin < 1.0


_PULL = {"open": 0.1, "slip": 0.45, "locked": 1.0}
"""What a kind is worth with a wheel in the air (estimate)."""


def _off_road(case: _Case) -> str:
    words = {"locked": "+drives with a wheel in the air", "slip": "-little help with a wheel in the air"}
    return words.get(case.kind.tie, "-a hanging wheel stops this axle")


def _on_road(case: _Case) -> str:
    if case.road <= 0.05:
        return ""
    return "+calm on a wet road" if case.calm > 0.8 else "-pushes and scrubs on wet roads; local rules decide"


def _steering(case: _Case) -> str:
    return "-fights the steering" if case.donor.end == "front" and case.kind.steering < 0.5 else ""


def _small_shafts(case: _Case) -> str:
    if not case.small:
        return ""
    return f"-{case.teeth}-spline front shafts are small for a lock that is always there (common practice)"


def _short_shafts(case: _Case) -> str:
    if not case.short or case.margin is None:
        return ""
    return f"-one wheel carrying the axle asks {1 / case.margin:.2f} times what the shaft holds"


RULES: tuple[Callable[[_Case], str], ...] = (_off_road, _on_road, _steering, _small_shafts, _short_shafts)
"""Each gives a reason for (+) or against (-) a kind here, or nothing."""


def _grade(case: _Case, wanting: int) -> float:
    """0 to 1 by use, road manners, shafts and what has yet to be got (``wanting`` things); weights are estimates."""
    hard = case.rig.uses.part("rock") + 0.5 * case.rig.uses.part("trail")
    strength = max(0.45, case.margin or 0.0) if case.short else 1.0
    worth = hard * _PULL[case.kind.tie] * strength + case.road * case.calm + 0.25 * case.calm
    worth += 0.06 if case.kind.selectable else 0.0
    return worth / (hard + case.road + 0.25) - (0.25 if case.small else 0.0) - 0.08 * wanting


def _word(grade: float, impossible: bool) -> str:
    if impossible:
        return "no"
    return "fits" if grade > 0.6 else "arguable" if grade > 0.36 else "poor here"


def locker_advice(project: Project, rig: Rig, donor: DonorAxle) -> tuple[LockerAdvice, ...]:
    """Every kind judged in this axle and rig, best first. Grades are rules of thumb (common practice), never the last
    word.
    """
    now = project.plan(donor.end).locker or donor.locker
    kinds = [kind for kind in KINDS if kind.id != "selectable" or now == "selectable"]
    judged = (_judge(project, rig, donor, kind, kind.id == now) for kind in kinds)
    return tuple(sorted(judged, key=lambda a: (a.word == "no", -a.grade, a.title)))


def _judge(project: Project, rig: Rig, donor: DonorAxle, kind: LockerKind, fitted: bool) -> LockerAdvice:
    asked = ladder(rig, donor, msgspec.structs.replace(project.plan(donor.end), locker=kind.id), project.swap.choosing)
    shaft, ring, weak = asked.rung("inner_spline"), asked.rung("ring_forward"), asked.weakest
    spline = spline_of(donor)
    case = _Case(
        kind, rig, donor, spline.teeth if spline else None, shaft.margin if shaft else None,
        road_part(rig), manners(rig, donor.end, kind),
    )  # fmt: skip
    reasons = [text for rule in RULES if (text := rule(case))]
    needs = _needs(rig, donor, kind, case.teeth)
    grade = _grade(case, sum(n.startswith("▲") for n in needs))
    ring_torque = dict(ring.asked).get("one_wheel", 0.0) if ring else 0.0
    return LockerAdvice(
        kind=kind,
        title=LOCKER_WORDS[kind.id],
        word=_word(grade, any(n.startswith("✗") for n in needs)),
        grade=grade,
        pros=tuple(text[1:] for text in reasons if text[0] == "+"),
        cons=tuple(text[1:] for text in reasons if text[0] == "-"),
        needs=tuple(needs),
        shaft_torque=dict(shaft.asked).get("one_wheel", 0.0) if shaft else 0.0,
        ring_torque=ring_torque,
        driveshaft_torque=ring_torque / asked.ratio if asked.ratio else 0.0,
        margin=case.margin,
        weakest=f"{weak.title}, {weak.margin:.2f}" if weak else "not known",
        fitted=fitted,
    )


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
