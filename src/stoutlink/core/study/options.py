"""Several layouts of one end beside each other, leaves and links alike: numbers, room, cost and hours of each."""

from __future__ import annotations

from msgspec import Struct

from stoutlink.core.advice.verdict import Gauge
from stoutlink.core.analysis.cycle.interference import Contact
from stoutlink.core.analysis.cycle.travel_map import clear_part
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.project import with_parts
from stoutlink.core.errors import StoutError
from stoutlink.core.study.question import GivenUp
from stoutlink.core.study.study import Study
from stoutlink.core.study.vehicle import Going, go_on


class Option(Struct, frozen=True):
    """One layout as if it were in use at its end: gauges by id, links to cut, dangers and warnings of this end, cost
    to ready and hours of the whole rig with it, the part of its travel that is free and the nearest pair; ``why``
    where it cannot be worked out.
    """

    layout: Layout
    used: bool
    gauges: dict[str, Gauge]
    links: int
    dangers: int
    warnings: int
    cost: float | None
    hours: float | None
    free: float | None
    nearest: Contact | None
    why: str


def options(study: Study, end: str, going: Going = go_on) -> tuple[Option, ...]:
    """Every layout of an end, those not rejected first, else in the project's order. Raises
    :class:`~stoutlink.core.study.question.GivenUp`."""
    project = study.project
    same = sorted((one for one in project.linkage.layouts if one.end == end), key=lambda one: bool(one.rejected))
    out = []
    for n, layout in enumerate(same):
        if not going(n / max(1, len(same))):
            raise GivenUp
        used = project.layout(end)
        it = used is not None and used.id == layout.id
        with_it = (
            study if it else Study(with_parts(project, **{f"{end}_layout": layout.id, f"{end}_compare": None}), study)
        )
        out.append(_option(with_it, layout, going, used=it))
    return tuple(out)


def _option(study: Study, layout: Layout, going: Going, *, used: bool) -> Option:
    axle = study.axles[layout.end]
    why, gauges, free, nearest, cost, hours = "", {}, None, None, None, None
    try:
        gauges = {g.id: g for g in study.gauges(layout.end)}
        travel = study.travel(layout.end, going=going)
        if travel is not None:
            free = clear_part(study.map_of(travel))
            contacts = travel.interference.contacts
            nearest = contacts[0] if contacts else None
    except StoutError as wrong:
        why = wrong.sentence
    try:
        found = study.cost(study.project.donor("front"), study.project.donor("rear"), None)
        cost, hours = found.total, found.hours
    except StoutError:
        pass
    said = [*axle.findings, *study.travel_findings_of(layout.end)]
    return Option(
        layout,
        used,
        gauges,
        sum(not c.there for c in axle.cuts),
        sum(f.severity == "danger" for f in said),
        sum(f.severity == "warn" for f in said),
        cost,
        hours,
        free,
        nearest,
        why,
    )
