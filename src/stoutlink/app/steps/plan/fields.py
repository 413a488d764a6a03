"""Fields of the plan's groups: which there are for what is picked."""

from __future__ import annotations

from stoutlink.app.widgets.path_drawer import Entry
from stoutlink.core.document.build_plan import LANE_WORDS, SOURCE_WORDS, BuildPlan

WEEK = (("weekdays", "weekdays"), ("saturday", "Saturdays"), ("sunday", "Sundays"), ("every_day", "every day"))
KINDS = ((None, "as proposed"), ("shop", "working hours"), ("quiet", "not in quiet hours"), ("outdoors", "outdoors"), ("always", "runs on"))  # fmt: skip
STEPS = (("", "nowhere"), *((s, s.capitalize()) for s in ("rig", "donors", "tape", "layout", "travel", "cut", "bench")))
YES = ((False, "no"), (True, "yes"))


def day_entries() -> list[Entry]:
    """Of the plan as a whole."""
    return [
        Entry("build.begin", "first day", "text"), Entry("build.wanted", "should drive", "text"), Entry("build.access_ends", "place until", "text"),
        Entry("build.places", "tasks at the vehicle"), Entry("build.quiet_from_h", "quiet from"), Entry("build.quiet_to_h", "quiet to"),
        Entry("build.first", "which end first", "choice", (("rear", "rear first"), ("front", "front first"))),
        Entry("build.bump", "tacked at", "choice", (("bump", "full bump"), ("ride", "ride height"))),
    ]  # fmt: skip


def list_entries(name: str, one: str) -> list[Entry]:
    """Of one of a list: hours, closed days, people."""
    here = f"build.{name}.{one}"
    if name == "hours":
        return [
            Entry(f"{here}.days", "on", "choice", WEEK),
            Entry(f"{here}.from_h", "from"),
            Entry(f"{here}.to_h", "to"),
        ]
    if name == "closed":
        return [Entry(f"{here}.first", "first day", "text"), Entry(f"{here}.last", "last day", "text"), Entry(f"{here}.what", "closed for", "choice", (("shop", "everything"), ("outdoors", "work outdoors"))), Entry(f"{here}.why", "why", "text")]  # fmt: skip
    return [
        Entry(f"{here}.name", "name", "text"),
        Entry(f"{here}.away_from", "away from", "text"),
        Entry(f"{here}.away_to", "to", "text"),
    ]


def task_entries(plan: BuildPlan, key: str, base: str) -> list[Entry]:
    """Of a task; hours of a later sitting are the whole task's (``base``)."""
    if not key:
        return []
    at, whole, own = f"build.changes.{key}", f"build.changes.{base or key}", f"build.own.{base or key}"
    mine = [
        Entry(f"{own}.title", "task", "text"), Entry(f"{own}.lane", "belongs to", "choice", tuple(LANE_WORDS.items())),
        Entry(f"{own}.at_vehicle", "at the vehicle", "choice", ((True, "yes"), (False, "on the bench"))), Entry(f"{own}.needs", "needs parts", "words"),
        Entry(f"{own}.step", "done in", "choice", STEPS),
    ] if any(o.id == (base or key) for o in plan.own) else []  # fmt: skip
    return [
        *mine, Entry(f"{whole}.least_h", "at least"), Entry(f"{whole}.likely_h", "likely"), Entry(f"{whole}.most_h", "at most"), Entry(f"{at}.spent_h", "spent"),
        Entry(f"{whole}.people", "people"), Entry(f"{whole}.sittings", "sittings"), Entry(f"{whole}.hours", "when", "choice", KINDS), Entry(f"{at}.not_before", "not before", "text"),
        Entry(f"{whole}.after", "also after", "words"), Entry(f"{at}.not_after", "not after", "words"), Entry(f"{at}.why", "note", "text"),
    ]  # fmt: skip


def coming_entries(key: str) -> list[Entry]:
    """When a part comes."""
    if not key:
        return []
    at = f"build.arrivals.{key}"
    return [Entry(f"{at}.ordered", "ordered on", "text"), Entry(f"{at}.lead_days", "lead time, days"), Entry(f"{at}.earliest", "earliest", "text"), Entry(f"{at}.likely", "likely", "text"), Entry(f"{at}.latest", "latest", "text")]  # fmt: skip


def order_entries(key: str) -> list[Entry]:
    """What was ordered and what came."""
    at = f"build.arrivals.{key}"
    return [
        Entry(f"{at}.ordered_as", "ordered as", "text"), Entry(f"{at}.came_as", "came as", "text"), Entry(f"{at}.seller", "seller", "text"),
        Entry(f"{at}.source", "source", "choice", tuple(SOURCE_WORDS.items())), *coming_entries(key), Entry(f"{at}.note", "note", "text"),
    ] if key else []  # fmt: skip


def money_entries(key: str, price: str) -> list[Entry]:
    """What it costs: ``price`` the path of its price where that is not the one of the list."""
    if not key:
        return []
    at, record = f"prices.{key}", f"build.arrivals.{key}"
    each = [Entry(price or f"{at}.amount", "price each")]
    return [
        *each, Entry(f"{at}.paid", "paid"), Entry(f"{at}.settled", "paid in full", "choice", YES), Entry(f"{at}.paid_on", "paid on", "text"),
        Entry(f"{record}.ask", "for sale at"), Entry(f"{record}.sold_for", "sold for"), Entry(f"{record}.sold_on", "sold on", "text"),
    ]  # fmt: skip
