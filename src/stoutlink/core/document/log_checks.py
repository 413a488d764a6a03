"""What the log must satisfy: names used once, days there are, and nothing read as built written over."""

from __future__ import annotations

import datetime

import msgspec

from stoutlink.core.document.lists import unique
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
        _day(f"log.runs.{run.id}.when", run.when)
    for item in log.care:
        _day(f"log.care.{item.id}.since", item.since)
        for done in item.done:
            _day(f"log.care.{item.id}.done", done.when)
    for broken in log.broken:
        _day(f"log.broken.{broken.id}.when", broken.when)
    _day("log.hand_over.when", log.hand_over.when)
    if before is None:
        return
    known = {r.id: r for r in before.log.built.readings}
    for reading in log.built.readings:
        old = known.get(reading.id)
        if old is not None and msgspec.structs.replace(old, set_aside=reading.set_aside) != reading:
            raise ValueOutOfRange(
                "V111",
                "A reading as built that is written down stays as it was read.",
                "Set it aside with its reason and take another.",
            )


def _day(where: str, text: str) -> None:
    if not text:
        return
    try:
        datetime.date.fromisoformat(text)
    except ValueError:
        raise ValueOutOfRange(
            "D181", f"{where}: {text} is no day of the calendar; year-month-day, as 2026-05-04."
        ) from None
