"""Two rigs held beside each other on all headline numbers: this one and another file, or this one before the swap."""

from __future__ import annotations

import math

from msgspec import Struct

from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.errors import StoutError
from stoutlink.core.mechanics.gearing import crawl_ratio, engine_rpm
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import Kind, show
from stoutlink.core.study.study import Study

ENDS = ("front", "rear")


class Held(Struct, frozen=True):
    """One headline number, SI; ``None`` where it is not known. ``form`` is how it is said where that is not its kind
    alone (a gauge's own words)."""

    id: str
    title: str
    kind: Kind
    value: float | None
    form: str = ""


def before_swap(project: Project) -> Project:
    """The project without what is planned: no axle but those already under it, nothing hung anew."""
    gone = {f"{end}_donor": None for end in ENDS if not project.stays(end)}
    none = {f"{end}_{what}": None for end in ENDS for what in ("layout", "compare")}
    return with_parts(project, layouts=(), searches=(), **gone, **none)


def headlines(study: Study) -> tuple[Held, ...]:
    """Weight, stance, tyres, both axles, gearing, what it tips and climbs at, and the numbers of both layouts. What
    nobody has entered is not worked out."""
    out = [Held(n.id, n.title, n.kind, n.value) for n in study.rig_numbers().values()]
    groups = {n.group for n in study.needs}
    rig = study.true.rig
    stands = "stance" not in groups
    out.append(Held("wheelbase", "Wheelbase", "length", rig.wheelbase_m if stands else None))
    for end in ENDS:
        wheel = rig.end(end)
        out += [
            Held(f"{end}_track", f"{end.capitalize()} track", "length", wheel.track_m if stands else None),
            Held(f"{end}_tyre", f"{end.capitalize()} tyre, diameter", "length", 2 * wheel.free if stands else None),
        ]
    whole = not groups
    if whole:
        found = study.behaviour({"front": None, "rear": None})
        out += [
            Held("tip_left", "Tips to the left at, rigid", "angle", found.tip[0]),
            Held("tip_right", "Tips to the right at, rigid", "angle", found.tip[1]),
            Held("back_over", "Goes over backward at, rigid", "angle", found.back_over),
            Held("ledge_front", "Ledge, front tyres: grip, all driven", "number", found.ledge.front_all),
            Held("ledge_rear", "Ledge, rear tyres: grip, all driven", "number", found.ledge.rear_all),
        ]
    for end in ENDS:
        out += _axle(study, end, whole=whole)
    for end in ENDS:
        try:
            gauges = study.gauges(end) if whole and study.project.layout(end) is not None else ()
        except StoutError:
            gauges = ()
        out += [Held(f"{end}_{g.id}", f"{end.capitalize()}: {g.title}", "number", g.value, g.text) for g in gauges]
    if whole:
        cost = study.cost(study.project.donor("front"), study.project.donor("rear"), None)
        out.append(Held("cost", "Cost to ready", "money", cost.total if cost.lines else None))
    return tuple(out)


def _axle(study: Study, end: str, *, whole: bool) -> list[Held]:
    """The axle chosen for an end, or the old one as far as it is known."""
    project, rig = study.project, study.true.rig
    word, train, fit = end.capitalize(), study.true.rig.drivetrain, rig.fittings
    axle = project.donor(end)
    ratio = rpm = crawl = under = margin = counts = None
    if axle is not None and whole:
        there = study.in_rig_planned(axle)
        ratio = None if there.ratio is None else there.ratio * axle.hub_ratio
        rpm, crawl = there.rpm_at_road_speed, there.crawl_ratio
        under = study.fit_up(axle).under_housing
        weakest = study.ladder(axle).weakest
        margin = None if weakest is None else weakest.margin
        offers = {str(o.pair): o.indicated for o in study.gears(axle).offers}
        plan = project.plan(end)
        pair = plan.gears_for(axle) or axle.pair
        counts = None if end == "front" or pair is None else offers.get(str(pair))
    elif axle is None and whole and fit.old_ratio is not None:
        ratio = fit.old_ratio
        radius = fit.old_rolling_radius_m if fit.old_rolling_radius_m is not None else rig.end(end).rolling
        rpm = engine_rpm(rig.road_speed_m_per_s, radius, train.top_ratio * train.transfer_high_ratio * ratio)
        crawl = crawl_ratio(train.first_ratio, train.transfer_low_ratio, ratio, 1.0)
        counts = 1.0 if end == "rear" else None
    out = [
        Held(f"{end}_ratio", f"{word} axle ratio", "ratio", ratio),
        Held(f"{end}_rpm", f"{word}: engine at road speed", "rpm", rpm),
        Held(f"{end}_crawl", f"{word}: crawl ratio", "ratio", crawl),
        Held(f"{end}_under", f"{word}: under the housing", "length", under),
        Held(f"{end}_margin", f"{word}: weakest part holds", "number", margin),
    ]
    if end == "rear":
        out.append(Held("speedometer", "Speedometer shows, of true", "share", counts))
    return out


def say(one: Held, unit: UnitSystem) -> str:
    """The number in a project's unit; a dash where it is not known."""
    if one.form:
        return one.form
    if one.value is None or not math.isfinite(one.value):
        return "–"
    return show(one.value, one.kind, unit, decimals=1 if one.kind in ("length", "angle") and unit == "in" else None)


def beside(one: tuple[Held, ...], other: tuple[Held, ...], unit: UnitSystem) -> list[tuple[str, str, str, str]]:
    """Title, both as said, and the difference (other less one) where both are numbers of one kind; what neither knows
    is left out."""
    theirs = {h.id: h for h in other}
    mine = {h.id for h in one}
    rows = []
    for a in (*one, *(h for h in other if h.id not in mine)):
        b = theirs.get(a.id, Held(a.id, a.title, a.kind, None)) if a.id in mine else a
        a = a if a.id in mine else Held(a.id, a.title, a.kind, None)
        if a.value is None and b.value is None:
            continue
        apart = ""
        if a.value is not None and b.value is not None and not (a.form or b.form):
            gap = b.value - a.value
            apart = "same" if abs(gap) < 1e-9 else say(Held("", "", a.kind, gap), unit)
            if apart != "same" and not any(c in "123456789" for c in apart):
                apart = "≈ 0"
            apart = apart if apart.startswith(("-", "−", "same", "≈")) else f"+{apart}"
        rows.append((a.title, say(a, unit), say(b, unit), apart.replace("-", "−")))
    return rows
