"""What the log must satisfy: names used once, days there are, and nothing read as built written over."""

from __future__ import annotations

from stoutlink.core.document.lists import unique
from stoutlink.core.document.log import BuiltReading
from stoutlink.core.document.plan_checks import check_day
from stoutlink.core.document.project import Project
from stoutlink.core.errors import ValueOutOfRange


def check_log(project: Project, before: Project | None) -> None:
    """The log."""
    log = project.log
    unique("log.built.readings", (r.id for r in log.built.readings))
    for name in ("runs", "care", "broken", "spares"):
        unique(f"log.{name}", (one.id for one in getattr(log, name)))
    unique("log.hill.points", (p.id for p in log.hill.points))
    for run in log.runs:
        unique(f"log.runs.{run.id}.felt", (f.id for f in run.felt))
        _said(f"log.runs.{run.id}.when", run.when)
    for item in log.care:
        _said(f"log.care.{item.id}.since", item.since)
        for done in item.done:
            _said(f"log.care.{item.id}.done", done.when)
    for broken in log.broken:
        _said(f"log.broken.{broken.id}.when", broken.when)
    _said("log.hand_over.when", log.hand_over.when)
    if before is None:
        return
    known = {r.id: r for r in before.log.built.readings}
    for reading in log.built.readings:
        old = known.get(reading.id)
        if old is not None and _read(old) != _read(reading):
            raise ValueOutOfRange(
                "V111",
                "A reading as built that is written down stays as it was read.",
                "Set it aside with its reason and take another.",
            )


def _read(one: BuiltReading) -> tuple[object, ...]:
    return one.end, one.of, one.a, one.b, one.value, one.sigma, one.when


def _said(where: str, date: str) -> None:
    if date:
        check_day(where, date)
