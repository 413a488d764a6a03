"""Gears, lockers, speed."""

from __future__ import annotations

from collections.abc import Iterator

from stoutlink.core.advice.swap_rules.rule import Rule, RuleCase, Said
from stoutlink.core.analysis.bench.case_fit import case_sheet
from stoutlink.core.analysis.swap.cost_to_ready import new_locker
from stoutlink.core.catalogue.donor import LOCKER_WORDS

HIGH_RPM = 3200.0
"""Steady engine speed above which road use gets loud and thirsty (common practice)."""


def _spool_on_road(s: RuleCase) -> Iterator[Said]:
    if s.locker in ("spool", "automatic", "drop_in") and not s.locker_guessed and s.on_road:
        yield (
            "warn",
            f"A {LOCKER_WORDS[s.locker]} scrubs and pushes on wet or public roads.",
            "One school accepts it for its predictability and price, the other fits a selectable locker for road manners. Check local rules before road use.",
        )


def _engine_speed(s: RuleCase) -> Iterator[Said]:
    rpm = s.it.rpm_at_road_speed
    if rpm is not None and rpm > HIGH_RPM:
        yield (
            "note",
            f"{s.it.ratio:.2f} gears turn the engine {rpm:.0f} rpm at {s.show(s.rig.road_speed_m_per_s, 'speed')} in top gear.",
            "A taller ratio or a taller tyre brings it down; either costs crawl ratio.",
        )


def _lugging(s: RuleCase) -> Iterator[Said]:
    rpm, band = s.it.rpm_at_road_speed, s.gears.band
    if rpm is not None and band is not None and rpm < band[0] and s.on_road:
        yield (
            "note",
            f"At {s.show(s.rig.road_speed_m_per_s, 'speed')} in top the engine turns {rpm:.0f} rpm, below its usable band from {band[0]:.0f}.",
            "It will hunt for a lower gear on every hill. The next lower gears (higher number) put it back.",
        )


def _gears_not_made(s: RuleCase) -> Iterator[Said]:
    wanted = s.plan.gears
    if wanted is not None and not s.donor.takes(wanted):
        have = ", ".join(f"{p.ratio:.2f} ({p})" for p in s.donor.offers)
        yield (
            "danger",
            f"{wanted.ratio:.2f} ({wanted}) is not made for {s.donor.name}; there are {have}.",
            "Pick one that is, or another ring gear size.",
        )


def _carrier_break(s: RuleCase) -> Iterator[Said]:
    line, wanted, now = s.donor.carrier_break_ratio, s.plan.gears_for(s.donor), s.donor.ratio
    if line is not None and wanted is not None and now is not None and (wanted.ratio > line) != (now > line):
        yield (
            "warn",
            f"Going from {now:.2f} to {wanted.ratio:.2f} crosses the carrier break at {line:.2f}.",
            "The carrier, and any locker ordered for it, has to be the one for that side.",
        )


def _speedometer_off(s: RuleCase) -> Iterator[Said]:
    offer = next((o for o in s.gears.offers if o.pair == s.pair), None)
    if (
        s.donor.end == "rear"
        and offer is not None
        and offer.indicated is not None
        and abs(offer.indicated - 1.0) > 0.02
    ):
        more = "too much" if offer.indicated > 1 else "too little"
        yield (
            "note",
            f"The speedometer will show {abs(offer.indicated - 1):.0%} {more} with {s.pair}.",
            "Correct it at the pick-up; local rules may ask for it before road use.",
        )


def _one_opening(s: RuleCase) -> Iterator[Said]:
    gears = s.plan.gears_for(s.donor) not in (None, s.donor.pair)
    locker = s.plan.locker is not None and s.plan.locker != s.donor.locker
    if gears and locker:
        yield (
            "note",
            "Gears and locker both change: one opening, one setting-up.",
            "Order both before the cover comes off. Paint after the last weld.",
        )


def _air_supply(s: RuleCase) -> Iterator[Said]:
    if new_locker(s.project, s.donor) == "air" and s.rig.fittings.air_supply is not True:
        yield (
            "warn",
            "An air locker needs air, and none is on board."
            if s.rig.fittings.air_supply is False
            else "An air locker needs air: is there any on board?",
            "Compressor, tank, line through the housing. Bench test it with air before the axle is closed.",
        )


def _actuator_room(s: RuleCase) -> Iterator[Said]:
    tried = next(
        (case_sheet(c) for c in s.project.bench.cases if c.id == s.donor.end and s.project.donor(c.id) == s.donor), None
    )
    if tried is not None and tried.goes and tried.fit.actuator != "none":
        return  # measured at the bench, and it goes
    if s.locker == "electric" and s.donor.third_member:
        yield (
            "warn",
            "An electric locker's actuator needs room and stroke beside this third member.",
            "Hold it in the housing before buying; bench test the lock before closing.",
        )


def _locker_wiring(s: RuleCase) -> Iterator[Said]:
    if new_locker(s.project, s.donor) == "electric" and s.rig.fittings.spare_circuit is not True:
        yield (
            "note",
            "An electric locker needs a fused circuit of its own.",
            "Plan switch, relay and a wire that travels with the axle. Battery off before welding.",
        )


def _locker_spline(s: RuleCase) -> Iterator[Said]:
    fits = [
        p
        for p in s.project.swap.shelf
        if p.kind == "locker" and p.spline_teeth is not None and s.donor.spline_teeth is not None
    ]
    for part in fits:
        if s.plan.locker is not None and s.plan.locker != s.donor.locker and part.spline_teeth != s.donor.spline_teeth:
            yield (
                "note",
                f"{part.name} on the shelf has {part.spline_teeth} splines, this axle's shafts {s.donor.spline_teeth}.",
                "It does not go in with these shafts; the match matrix shows what bridges it.",
            )


def _drop_in_carrier(s: RuleCase) -> Iterator[Said]:
    if s.plan.locker == "drop_in" and s.donor.locker not in (None, "open", "drop_in"):
        yield (
            "danger",
            f"A drop-in locker needs an open carrier; this axle has a {LOCKER_WORDS[s.donor.locker or 'open']}.",
            "Find an open carrier of the right side of the break, or fit a full one.",
        )


def _half_counted(s: RuleCase) -> Iterator[Said]:
    ring, pinion = s.donor.ring_teeth, s.donor.pinion_teeth
    if (ring is None) != (pinion is None):
        known, missing = (f"{ring} ring", "pinion") if pinion is None else (f"{pinion} pinion", "ring")
        yield (
            "note",
            f"Of its gear set only the {known} teeth are counted, so its ratio is not known.",
            f"Count the {missing} teeth too; 41/8 in either field puts both in.",
        )


RULES: tuple[Rule, ...] = (
    Rule("K103", "donors", _spool_on_road),
    Rule("K104", "donors", _engine_speed),
    Rule("K130", "donors", _gears_not_made),
    Rule("K131", "donors", _carrier_break),
    Rule("K132", "donors", _lugging),
    Rule("K133", "donors", _speedometer_off),
    Rule("K152", "donors", _air_supply),
    Rule("K153", "donors", _actuator_room),
    Rule("K154", "donors", _one_opening),
    Rule("K155", "donors", _locker_wiring),
    Rule("K156", "donors", _locker_spline),
    Rule("K157", "donors", _drop_in_carrier),
    Rule("K163", "donors", _half_counted),
)
