"""What the log has to say: readings that cannot be right, built away from the plan, care that is over, a part that broke."""

from __future__ import annotations

from collections.abc import Iterator

from stoutlink.core.advice.finding import Finding
from stoutlink.core.advice.log_words import judged_words, number_name, number_text
from stoutlink.core.analysis.log.as_built import BuiltAxle
from stoutlink.core.document.headline import HEADLINES
from stoutlink.core.document.project import Project
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show


def built_findings(found: BuiltAxle, unit: UnitSystem) -> Iterator[Finding]:
    """Findings of an axle as built."""
    for one in (*found.wrong, *(j for j in found.suspects if j.standing == "doubtful" and j.error is not None)):
        yield Finding(
            "V101",
            "warn",
            judged_words(one, unit),
            "Read it again and set the wrong one aside.",
            "log",
            f"{found.end} {one.one.key}",
        )
    if found.unchecked:
        count = len(found.unchecked)
        yield Finding(
            "V102", "note", f"{count} reading{'s' if count != 1 else ''} of the {found.end} axle as built {'are' if count != 1 else 'is'} unchecked: an error in {'them' if count != 1 else 'it'} would not show.",
            "As built says which reading would check most of them.", "log", f"{found.end} unchecked",
        )  # fmt: skip
    for number in found.numbers:
        headline = HEADLINES.get(number.id)
        worth = 0.5 if headline is None else headline.worth or headline.usual
        moved = number.built - number.planned
        if abs(moved) > max(worth, 2.0 * number.sigma):
            yield Finding(
                "V103", "note", f"{number_name(number.id, found.end)} of the {found.end} axle is {number_text(number.id, number.built, unit)} ± {number_text(number.id, 2 * number.sigma, unit)} as built, planned {number_text(number.id, number.planned, unit)}.",
                "Take the layout as built into Layout and judge it there.", "log", f"{found.end} {number.id}",
            )  # fmt: skip


def log_findings(project: Project) -> Iterator[Finding]:
    """Findings of care and of readings whose bolt is gone."""
    unit, driven = project.settings.units, project.bench.first_drive.driven_m
    for item in project.log.care:
        if item.every_m is None:
            continue
        last = max((d.driven_m for d in item.done), default=0.0)
        over = driven - last - item.every_m
        if over >= 0:
            yield Finding(
                "V104",
                "warn",
                f"{item.name} is due: {show(over, 'distance', unit)} over.",
                "Do it and write it down in Log, Care.",
                "log",
                f"care {item.id}",
            )
    for reading in project.log.built.readings:
        layout = project.layout(reading.end)
        ids = set() if layout is None else {k.id for k in layout.links}
        if reading.set_aside or layout is None or layout.leaf is not None:
            continue
        gone = [
            p.partition(":")[0]
            for p in (reading.a, reading.b)
            if p and not p.startswith("hub") and p.partition(":")[0] not in ids
        ]
        if gone:
            yield Finding(
                "V105", "warn", f"A reading as built names {gone[0]}, which the layout in use does not have: it does not count.", "Use the layout it was read on, or set it aside.", "log", f"{reading.end} log.built.readings.{reading.id}",
            )  # fmt: skip
