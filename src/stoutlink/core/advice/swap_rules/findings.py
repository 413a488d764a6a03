"""All rules over a project's chosen axles, strongest first; and over one candidate for the sheet."""

from __future__ import annotations

from stoutlink.core.advice.finding import RANK, Finding
from stoutlink.core.advice.swap_rules import fitting, gears, pair, strength
from stoutlink.core.advice.swap_rules.rule import Rule, RuleCase
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig

AXLE_RULES: tuple[Rule, ...] = (*strength.RULES, *gears.RULES, *fitting.RULES)
PAIR_RULES = pair.RULES


def donor_findings(project: Project, rig: Rig, donor: DonorAxle) -> tuple[Finding, ...]:
    """Everything a donor forces on its own, strongest first."""
    seen = RuleCase(project, rig, donor)
    found = [one for rule in AXLE_RULES for one in rule.findings(seen)]
    return tuple(sorted(found, key=lambda f: RANK[f.severity]))


def swap_findings(project: Project, rig: Rig) -> tuple[Finding, ...]:
    """Everything the chosen axles force."""
    chosen = {
        end: RuleCase(project, rig, donor) for end in ("rear", "front") if (donor := project.donor(end)) is not None
    }
    found = [one for seen in chosen.values() for rule in AXLE_RULES for one in rule.findings(seen)]
    if len(chosen) == 2:
        found += [one for rule in PAIR_RULES for one in rule.findings(chosen["front"], chosen["rear"])]
    return tuple(sorted(found, key=lambda f: RANK[f.severity]))
