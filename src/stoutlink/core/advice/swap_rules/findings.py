"""All rules over a project's chosen axles, strongest first; and over one candidate for the sheet."""

from __future__ import annotations

from stoutlink.core.advice.finding import RANK, Finding
from stoutlink.core.advice.swap_rules import fitting, gears, pair, strength
from stoutlink.core.advice.swap_rules.rule import Rule, RuleCase
from stoutlink.core.analysis.swap.fitted import FittedSet, as_fitted, fitted_set
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig

AXLE_RULES: tuple[Rule, ...] = (*strength.RULES, *gears.RULES, *fitting.RULES)
PAIR_RULES = pair.RULES


def donor_findings(project: Project, rig: Rig, donor: DonorAxle) -> tuple[Finding, ...]:
    """Everything a donor forces on its own, strongest first."""
    seen = RuleCase(project, rig, as_fitted(project, donor))
    found = [one for rule in AXLE_RULES for one in rule.findings(seen)]
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
    found = [one for seen in chosen.values() for rule in AXLE_RULES for one in rule.findings(seen)]
    for end, far in (("front", "rear"), ("rear", "front")):
        axle = project.donor(end)
        if axle is not None and project.plan(end).fitted:
            found += set_findings(fitted_set(project, rig, axle, project.donor(far)))
    if len(chosen) == 2:
        found += [one for rule in PAIR_RULES for one in rule.findings(chosen["front"], chosen["rear"])]
    return tuple(sorted(found, key=lambda f: RANK[f.severity]))
