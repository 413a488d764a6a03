"""All rules over a project's chosen axles, strongest first; and over one candidate for the sheet."""

from __future__ import annotations

from stoutlink.core.advice.finding import RANK, Finding
from stoutlink.core.advice.swap_rules import fitting, gears, pair, strength
from stoutlink.core.advice.swap_rules.rule import Rule, Seen
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.numerics.remembering import LastAnswers

AXLE_RULES: tuple[Rule, ...] = (*strength.RULES, *gears.RULES, *fitting.RULES)
PAIR_RULES = pair.RULES
_kept = LastAnswers(6)


def donor_findings(project: Project, rig: Rig, donor: DonorAxle) -> tuple[Finding, ...]:
    """Everything a donor forces on its own, strongest first."""
    seen = Seen(project, rig, donor)
    found = [one for rule in AXLE_RULES for one in rule.findings(seen)]
    return tuple(sorted(found, key=lambda f: RANK[f.severity]))


def swap_findings(project: Project, rig: Rig) -> tuple[Finding, ...]:
    """Everything the chosen axles force; worked out again only when something it rests on has changed."""
    layouts = tuple("" if (one := project.layout(end)) is None else f"{one.id} {one.name}" for end in ("front", "rear"))
    p = project
    key = (
        rig,
        p.donors,
        p.front_donor or "",
        p.rear_donor or "",
        p.front_plan,
        p.rear_plan,
        p.choosing,
        p.prices,
        p.shelf,
        p.inspections,
        p.surveys,
        p.settings.units,
        *layouts,
    )
    return _kept.get(key, lambda: _swap_findings(project, rig))


def _swap_findings(project: Project, rig: Rig) -> tuple[Finding, ...]:
    chosen = {end: Seen(project, rig, donor) for end in ("rear", "front") if (donor := project.donor(end)) is not None}
    found = [one for seen in chosen.values() for rule in AXLE_RULES for one in rule.findings(seen)]
    if len(chosen) == 2:
        found += [one for rule in PAIR_RULES for one in rule.findings(chosen["front"], chosen["rear"])]
    return tuple(sorted(found, key=lambda f: RANK[f.severity]))
