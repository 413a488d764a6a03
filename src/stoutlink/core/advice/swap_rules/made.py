"""What is made of several, what stays, wheels two a side, and brakes that are put on."""

from __future__ import annotations

from collections.abc import Iterator

from stoutlink.core.advice.swap_rules.rule import PairRule, Rule, RuleCase, Said
from stoutlink.core.analysis.swap.braking import brake_share
from stoutlink.core.analysis.swap.made import made_of

SHARE_AGREES = 0.05
"""Brake shares within this of each other are one."""


def _apart(s: RuleCase) -> Iterator[Said]:
    found = made_of(s.project, s.donor)
    for mate in found.mates if found is not None else ():
        if mate.fits is False:
            yield (
                "danger",
                f"Made of several: {mate.title} do not go together: {mate.why}.",
                "Made shows where each part is from; take another there, or the part that bridges it.",
            )


def _to_measure(s: RuleCase) -> Iterator[Said]:
    found = made_of(s.project, s.donor)
    if found is not None and found.to_measure:
        yield (
            "note",
            f"Made of several: measure {', '.join(found.to_measure)} on it before they count.",
            "No record it is made of has these parts together. New in any case: "
            + "; ".join(one.what for one in found.new)
            + ".",
        )


def _two_a_side(s: RuleCase) -> Iterator[Said]:
    dual, hub = s.rig.end(s.donor.end).dual_m is not None, s.donor.dual_wheels
    if hub and not dual:
        yield (
            "warn",
            f"This {s.donor.end} axle is made for two wheels a side; the rig has one.",
            "Its faces stand far out for a usual wheel: deep-dished wheels, hubs for one wheel, or narrowing. Say in Rig, Tyres if two go on.",
        )
    elif dual and hub is False:
        yield (
            "danger",
            f"Two wheels a side are planned, and this {s.donor.end} axle is made for one.",
            "Studs, hub and bearing are not made for the second wheel; an axle for two, or one wheel a side.",
        )


def _stays(s: RuleCase) -> Iterator[Said]:
    if s.independent:
        yield (
            "note",
            "The independent front stays: gears and locker are chosen here, nothing is laid out.",
            "Its half shafts and joints bend with travel and steering at once; the ladder knows the lock alone, so take its front margins as the upper end.",
        )


def _drums_to_discs(s: RuleCase) -> Iterator[Said]:
    mine = s.project.donor(s.donor.end)
    if mine is None or mine.id != s.donor.id or mine.brake != "drum" or s.donor.brake != "disc":
        return
    yield (
        "note",
        "Drums become discs.",
        "A residual pressure valve for drums has to come out, the proportioning is another, and calipers move more fluid: look at master cylinder and pedal travel. Brakes by a qualified hand; local codes decide.",
    )


def _share(f: RuleCase, r: RuleCase) -> Iterator[Said]:
    share, said = brake_share(f.rig, f.donor, r.donor), f.rig.brake_front_share
    if share is not None and abs(share - said) > SHARE_AGREES:
        yield (
            "warn",
            f"By discs and pistons the front does {share:.0%} of the braking, the rig says {said:.0%}.",
            "Before any valve that turns the rear down, same pads at both ends. Anti-dive and dive go by what the rig says: correct it, or plan a valve.",
        )


RULES: tuple[Rule, ...] = (
    Rule("K166", "donors", _apart),
    Rule("K167", "donors", _to_measure),
    Rule("K168", "donors", _two_a_side),
    Rule("K169", "donors", _stays),
    Rule("K171", "donors", _drums_to_discs),
)
PAIR_RULES: tuple[PairRule, ...] = (PairRule("K170", "rig", _share),)
