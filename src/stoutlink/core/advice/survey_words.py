"""How findings about a survey name a point and a reading, and how the fit of two surveys is told."""

from __future__ import annotations

from msgspec import Struct

from stoutlink.core.advice.finding import Finding, Severity
from stoutlink.core.analysis.survey.survey_merge import Merge
from stoutlink.core.document.survey import Survey, SurveyPoint
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show


class Found(Struct, frozen=True):
    """A finding and how much it weighs beside others on the same reading (in σ, or far beyond)."""

    weight: float
    finding: Finding


def label(point: SurveyPoint, unit: UnitSystem) -> str:
    """A point as it is called in a sentence: its name, else its station."""
    if point.name.strip():
        return f"“{point.name.strip()}”"
    if point.station:
        return f"the point at station {as_read(point.station[0].value_m, unit)}"
    return "a point without station"


def as_read(value: float, unit: UnitSystem) -> str:
    """A reading, m, as the tape shows it."""
    return show(value, "length", unit)


def by_much(value: float, unit: UnitSystem) -> str:
    """How far two readings are apart, m, without a sign."""
    return show(abs(value), "length", unit, decimals=2 if unit == "in" else 0)


def make(
    code: str,
    severity: Severity,
    sentence: str,
    why: str,
    survey: Survey,
    points: tuple[str, ...],
    what: str,
    weight: float,
) -> Found:
    """A finding about readings of a survey: ``points`` are their ids, ``what`` the reading, ``weight`` see
    :class:`Found`."""
    return Found(weight, Finding(code, severity, sentence, why, "tape", f"{survey.id}/{'+'.join(points)}/{what}"))


def merge_words(found: Merge, unit: UnitSystem) -> str:
    """The fit of one survey onto another in words: how many points, what is left over at each, the worst first."""
    places = 2 if unit == "in" else 0

    def length(v: float) -> str:
        return show(v, "length", unit, decimals=places, signed=True)

    lines = [
        f"{len(found.residuals)} shared points, left over {show(found.rms, 'length', unit, decimals=places)} (root mean square)."
    ]
    if not found.rake_fixed:
        lines.append("One shared point cannot fix the rake: share a second one.")
    for one in sorted(found.residuals, key=lambda r: -r.worth)[:8]:
        mark = "▲ " if one.worth > 4 else ""
        lines.append(f"{mark}{one.name}: {length(one.along)} along, {length(one.up)} up")
    if found.worst.worth > 4:
        lines.append(f"Measure “{found.worst.name}” again first.")
    return "\n".join(lines)
