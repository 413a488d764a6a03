"""What a plan must satisfy: days there are, hours that end after they begin, least not above most."""

from __future__ import annotations

import datetime

from stoutlink.core.document.build_plan import BuildPlan
from stoutlink.core.document.lists import unique
from stoutlink.core.document.project import Project
from stoutlink.core.errors import ValueOutOfRange


def check_plan(project: Project, _: Project | None) -> None:
    """The plan."""
    plan = project.build
    for name in ("hours", "closed", "people", "changes", "own", "arrivals", "trips", "closes"):
        unique(f"build.{name}", (one.id for one in getattr(plan, name)))
    for price in project.swap.prices:
        if price.paid_on:
            check_day(f"prices.{price.id}.paid_on", price.paid_on)
    for where, date in _dates(plan):
        if date:
            check_day(where, date)
    _turned("build.wanted", "the day wanted", plan.begin, plan.wanted)
    for one in plan.closed:
        _turned(f"build.closed.{one.id}.last", "the last day closed", one.first, one.last)
    for who in plan.people:
        _turned(f"build.people.{who.id}.away_to", "the last day away", who.away_from, who.away_to)
    for part in plan.arrivals:
        _turned(f"build.arrivals.{part.id}.likely", "the day it comes", part.ordered, part.likely or part.latest)
        _turned(f"build.arrivals.{part.id}.likely", "the likely day", part.earliest, part.likely)
        _turned(f"build.arrivals.{part.id}.latest", "the latest day", part.likely or part.earliest, part.latest)
    for trip in plan.trips:
        unique(f"build.trips.{trip.id}.items", (one.id for one in trip.items))
    for hours in plan.hours:
        if hours.to_h <= hours.from_h:
            raise ValueOutOfRange(
                "D182",
                f"build.hours.{hours.id}.to_h: from {hours.from_h:g} to {hours.to_h:g} h is no time; the second must be more.",
            )
    for change in plan.changes:
        if change.least_h is not None and change.most_h is not None and change.least_h > change.most_h:
            raise ValueOutOfRange(
                "D183",
                f"build.changes.{change.id}.most_h: at least {change.least_h:g} h and at most {change.most_h:g} h cannot be; the second must be more.",
            )
        if change.id in change.after:
            raise ValueOutOfRange("D184", f"build.changes.{change.id}.after: a task cannot wait for itself.")


def _dates(plan: BuildPlan) -> list[tuple[str, str]]:
    out = [(f"build.{n}", getattr(plan, n)) for n in ("begin", "wanted", "access_ends")]
    for one in plan.closed:
        out += [(f"build.closed.{one.id}.{n}", getattr(one, n)) for n in ("first", "last")]
    for who in plan.people:
        out += [(f"build.people.{who.id}.{n}", getattr(who, n)) for n in ("away_from", "away_to")]
    for change in plan.changes:
        out += [(f"build.changes.{change.id}.{n}", getattr(change, n)) for n in ("when", "not_before")]
    for part in plan.arrivals:
        out += [
            (f"build.arrivals.{part.id}.{n}", getattr(part, n))
            for n in ("ordered", "earliest", "likely", "latest", "sold_on")
        ]
    out += [(f"build.trips.{one.id}.day", one.day) for one in plan.trips]
    out += [(f"build.closes.{one.id}.day", one.day) for one in plan.closes]
    return out


FIRST_YEAR, LAST_YEAR = 2000, 2200
"""Years that can be meant."""


def check_day(where: str, date: str) -> None:
    """A date that is on a calendar, in a year that can be meant."""
    try:
        year = datetime.date.fromisoformat(date).year
    except ValueError:
        raise ValueOutOfRange(
            "D181", f"{where}: “{date}” is on no calendar.", "Use year-month-day, as 2026-05-04."
        ) from None
    if not FIRST_YEAR <= year <= LAST_YEAR:
        raise ValueOutOfRange(
            "D186", f"{where}: the year {year} cannot be meant.", f"Use a year from {FIRST_YEAR} to {LAST_YEAR}."
        )


def _turned(where: str, what: str, first: str, last: str) -> None:
    if first and last and last < first:
        raise ValueOutOfRange("D185", f"{where}: {what}, {last}, lies before {first}.", "Type the later day.")
