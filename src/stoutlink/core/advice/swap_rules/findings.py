"""All rules over a project's chosen axles, strongest first; and over one candidate for the sheet."""

from __future__ import annotations

from stoutlink.core.advice.finding import RANK, Finding
from stoutlink.core.advice.swap_rules import fitting, gears, made, pair, strength
from stoutlink.core.advice.swap_rules.rule import Rule, RuleCase
from stoutlink.core.analysis.swap.fitted import FittedSet, fitted_set
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.fitted_axle import as_fitted
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig

AXLE_RULES: tuple[Rule, ...] = (*made.RULES, *strength.RULES, *gears.RULES, *fitting.RULES)
PAIR_RULES = (*pair.RULES, *made.PAIR_RULES)


OF_SOLID = frozenset(
    {"K119", "K134", "K135", "K136", "K137", "K139", "K141", "K142", "K146", "K147", "K148", "K160", "K162"}
)
"""What is asked of a solid axle that is hung anew, not of an independent front that stays."""


def _rules(seen: RuleCase) -> tuple[Rule, ...]:
    return tuple(r for r in AXLE_RULES if r.code not in OF_SOLID) if seen.independent else AXLE_RULES


def donor_findings(project: Project, rig: Rig, donor: DonorAxle) -> tuple[Finding, ...]:
    """Everything a donor forces on its own, strongest first."""
    seen = RuleCase(project, rig, as_fitted(project, donor))
    found = [one for rule in _rules(seen) for one in rule.findings(seen)]
    return tuple(sorted(found, key=lambda f: RANK[f.severity]))


def set_findings(one: FittedSet) -> tuple[Finding, ...]:
    """Parts planned into an axle that do not go together."""
    return tuple(
        Finding(
            "K165",
            "danger",
            f"{one.end.capitalize()} axle: {mate.title} does not go together: {mate.why}.",
            "Match shows what each part meets; plan another, or leave it on the shelf.",
            "donors",
            f"{one.end} set {mate.title}"[:120],
        )
        for mate in one.mates
        if mate.fits is False
    )


def swap_findings(project: Project, rig: Rig) -> tuple[Finding, ...]:
    """Everything the chosen axles force."""
    chosen = {
        end: RuleCase(project, rig, as_fitted(project, donor))
        for end in ("rear", "front")
        if (donor := project.donor(end)) is not None
    }
    found = [one for seen in chosen.values() for rule in _rules(seen) for one in rule.findings(seen)]
    for end, far in (("front", "rear"), ("rear", "front")):
        axle = project.donor(end)
        if axle is not None and project.plan(end).fitted:
            found += set_findings(fitted_set(project, rig, axle, project.donor(far)))
    if len(chosen) == 2:
        found += [one for rule in PAIR_RULES for one in rule.findings(chosen["front"], chosen["rear"])]
    return tuple(sorted(found, key=lambda f: RANK[f.severity]))
