"""The plan: when there is time, who works, what of the tasks was changed, done or added, when parts come."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from msgspec import Meta

from stoutlink.core.document.quantities import Date, Frozen, Identifier, Name
from stoutlink.core.document.swap import Money


def _n(title: str, kind: str, low: float, high: float, text: str) -> Meta:
    return Meta(title=title, description=text, ge=low, le=high, extra={"kind": kind})


Clock = Annotated[float, _n("Hour", "hours", 0.0, 24.0, "Of the day, 17.5 is half past five.")]
Lane = Literal["front", "rear", "frame", "brakes", "driveline"]
LANES: tuple[Lane, ...] = ("front", "rear", "frame", "brakes", "driveline")
LANE_WORDS: dict[Lane, str] = {
    "front": "Front axle", "rear": "Rear axle", "frame": "Frame", "brakes": "Brakes", "driveline": "Driveline",
}  # fmt: skip
TaskState = Literal["open", "mocked", "tacked", "blocked", "done", "inspected", "dropped"]
TASK_STATES: tuple[TaskState, ...] = ("open", "mocked", "tacked", "blocked", "done", "inspected", "dropped")
OVER: tuple[TaskState, ...] = ("done", "inspected", "dropped")
"""States in which nothing is left to do."""
HoursKind = Literal["shop", "quiet", "outdoors", "always"]
TaskName = Annotated[str, Meta(pattern="^[a-z0-9][a-z0-9_:-]{0,119}$")]
"""A task by its key: of the program's own, or ``own-`` for one of the user's."""
MOST_SETTLED = 60
"""Knock-ons one task settles."""


class OpenHours(Frozen, frozen=True, kw_only=True):
    """Working hours of the days of a week; ``id`` says which."""

    id: Identifier
    days: Literal["weekdays", "saturday", "sunday", "every_day"] = "weekdays"
    from_h: Clock = 17.0
    to_h: Clock = 21.0


class Closed(Frozen, frozen=True, kw_only=True):
    """Days on which nothing is done, or nothing outdoors; both days count."""

    id: Identifier
    first: Date = ""
    last: Date = ""
    why: Annotated[str, Meta(max_length=80)] = ""
    what: Literal["shop", "outdoors"] = "shop"


class Worker(Frozen, frozen=True, kw_only=True):
    """Somebody who works on it, and the days away."""

    id: Identifier
    name: Name
    away_from: Date = ""
    away_to: Date = ""


class TaskChange(Frozen, frozen=True, kw_only=True):
    """What was said of a task: other hours, what else it waits for, how far it is; ``id`` is the task's."""

    said_of: ClassVar[bool] = True

    id: TaskName
    least_h: Annotated[float, _n("At least", "hours", 0.0, 2000.0, "If all goes well.")] | None = None
    likely_h: Annotated[float, _n("Likely", "hours", 0.0, 2000.0, "As it mostly goes.")] | None = None
    most_h: Annotated[float, _n("At most", "hours", 0.0, 2000.0, "If it fights.")] | None = None
    spent_h: Annotated[float, _n("Spent", "hours", 0.0, 2000.0, "So far.")] | None = None
    people: Annotated[int, _n("People", "count", 0, 3, "At once.")] | None = None
    state: TaskState = "open"
    when: Date = ""
    why: Annotated[str, Meta(max_length=200)] = ""
    """Why it is blocked or dropped; empty for neither."""
    not_before: Date = ""
    hours: HoursKind | None = None
    sittings: Annotated[int, _n("Sittings", "count", 1, 6, "Done in so many goes, one after the other.")] = 1
    after: Annotated[tuple[TaskName, ...], Meta(max_length=20)] = ()
    """Further tasks it waits for."""
    not_after: Annotated[tuple[TaskName, ...], Meta(max_length=40)] = ()
    """Tasks it does not wait for although the program says so."""


class OwnTask(Frozen, frozen=True, kw_only=True):
    """A task of one's own; hours and what it waits for stand in its change. ``knock_ons``: keys of the findings it deals with."""

    id: TaskName
    title: Name
    lane: Lane = "frame"
    people: Annotated[int, _n("People", "count", 0, 3, "At once.")] = 1
    likely_h: Annotated[float, _n("Likely", "hours", 0.0, 2000.0, "As it mostly goes.")] = 1.0
    at_vehicle: bool = True
    needs: Annotated[tuple[TaskName, ...], Meta(max_length=10)] = ()
    step: Literal["", "rig", "donors", "tape", "layout", "travel", "cut", "bench"] = ""
    """Where it is done."""
    knock_ons: Annotated[
        tuple[Annotated[str, Meta(min_length=1, max_length=120)], ...], Meta(max_length=MOST_SETTLED)
    ] = ()


PartState = Literal["needed", "ordered", "late", "here", "wrong", "fitted", "sold"]
PART_STATES: tuple[PartState, ...] = ("needed", "ordered", "late", "here", "wrong", "fitted", "sold")
HERE: tuple[PartState, ...] = ("here", "fitted", "sold")
"""States of a part that holds nothing up."""
PartSource = Literal["", "new", "used", "shelf", "made", "freed"]
SOURCE_WORDS: dict[PartSource, str] = {
    "": "not said", "new": "new", "used": "used", "shelf": "from the shelf", "made": "made here", "freed": "freed by another choice",
}  # fmt: skip
FREE: tuple[PartSource, ...] = ("shelf", "made", "freed")
"""Sources of a part that costs nothing unless a price is typed."""
Spec = Annotated[str, Meta(max_length=160)]


class PartRecord(Frozen, frozen=True, kw_only=True):
    """One line of the parts list as it was ordered and as it came; ``id`` is the line's. It comes by the end of the working
    day typed; where only an order's day and a lead time are, by them. Its price stands in ``prices``."""

    said_of: ClassVar[bool] = True

    id: TaskName
    name: Annotated[str, Meta(max_length=120)] = ""
    state: PartState = "needed"
    source: PartSource = ""
    ordered_as: Spec = ""
    came_as: Spec = ""
    seller: Spec = ""
    note: Annotated[str, Meta(max_length=200)] = ""
    ordered: Date = ""
    lead_days: Annotated[int, _n("Lead time", "count", 0, 400, "Days from order to door.")] | None = None
    earliest: Date = ""
    likely: Date = ""
    latest: Date = ""
    ask: Money | None = None
    """What it is for sale for afterwards; empty: it is not."""
    sold_for: Money | None = None
    sold_on: Date = ""


class TripItem(Frozen, frozen=True, kw_only=True):
    """A thing that goes along for work elsewhere, ticked off out and back."""

    id: Identifier
    name: Name
    kind: Literal["part", "tool", "jig"] = "tool"
    out: bool = False
    back: bool = False
    used: bool = False
    """Used up or left there: it does not come back."""


class Trip(Frozen, frozen=True, kw_only=True):
    """A day of work elsewhere: which tasks are done there, and what goes along besides their parts."""

    id: Identifier
    where: Name
    day: Date = ""
    tasks: Annotated[tuple[TaskName, ...], Meta(max_length=60)] = ()
    items: Annotated[tuple[TripItem, ...], Meta(max_length=200)] = ()


class DayClose(Frozen, frozen=True, kw_only=True):
    """How a day ended: where it was left, by whom; ``id`` is ``day-`` and the date."""

    id: Identifier
    day: Date = ""
    left: Annotated[str, Meta(max_length=400)] = ""
    who: Annotated[str, Meta(max_length=60)] = ""


class BuildPlan(Frozen, frozen=True, kw_only=True):
    """The whole plan. ``begin`` empty: nothing is planned yet."""

    begin: Date = ""
    wanted: Date = ""
    hours: Annotated[tuple[OpenHours, ...], Meta(max_length=20)] = ()
    closed: Annotated[tuple[Closed, ...], Meta(max_length=60)] = ()
    people: Annotated[tuple[Worker, ...], Meta(max_length=4)] = ()
    places: Annotated[int, _n("At the vehicle", "count", 1, 4, "Tasks that go on at the vehicle at once.")] = 2
    quiet_from_h: Clock | None = None
    quiet_to_h: Clock | None = None
    access_ends: Date = ""
    """After this day the place is not to be had."""
    first: Literal["rear", "front"] = "rear"
    bump: Literal["ride", "bump"] = "bump"
    changes: Annotated[tuple[TaskChange, ...], Meta(max_length=400)] = ()
    own: Annotated[tuple[OwnTask, ...], Meta(max_length=200)] = ()
    arrivals: Annotated[tuple[PartRecord, ...], Meta(max_length=400)] = ()
    """Lines of the parts list something was said of."""
    trips: Annotated[tuple[Trip, ...], Meta(max_length=40)] = ()
    closes: Annotated[tuple[DayClose, ...], Meta(max_length=1000)] = ()
    ceiling: Annotated[float, _n("Ceiling", "money", 0.0, 1e8, "For the whole parts list.")] | None = None
    month_ceiling: Annotated[float, _n("A month", "money", 0.0, 1e8, "What a month may cost.")] | None = None
    seen: Annotated[tuple[TaskName, ...], Meta(max_length=400)] = ()
    """Tasks there were when the plan was looked at last: what came and went since is told."""

    def change(self, task: str) -> TaskChange | None:
        """What was said of a task."""
        return next((c for c in self.changes if c.id == task), None)

    def part(self, key: str) -> PartRecord | None:
        """What was said of a line of the parts list."""
        return next((a for a in self.arrivals if a.id == key), None)
