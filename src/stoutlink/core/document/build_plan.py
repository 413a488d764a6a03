"""The plan: when there is time, who works, what of the tasks was changed, done or added, when parts come."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from stoutlink.core.document.quantities import Frozen, Identifier, Name


def _n(title: str, kind: str, low: float, high: float, text: str) -> Meta:
    return Meta(title=title, description=text, ge=low, le=high, extra={"kind": kind})


Date = Annotated[str, Meta(pattern="^$|^[0-9]{4}-[0-9]{2}-[0-9]{2}$", description="Year, month, day; empty: not said.")]
Clock = Annotated[float, _n("Hour", "hours", 0.0, 24.0, "Of the day, 17.5 is half past five.")]
Lane = Literal["front", "rear", "frame", "brakes", "driveline"]
LANES: tuple[Lane, ...] = ("front", "rear", "frame", "brakes", "driveline")
LANE_WORDS: dict[Lane, str] = {
    "front": "Front axle", "rear": "Rear axle", "frame": "Frame", "brakes": "Brakes", "driveline": "Driveline",
}  # fmt: skip
TaskState = Literal["open", "mocked", "tacked", "done", "dropped"]
TASK_STATES: tuple[TaskState, ...] = ("open", "mocked", "tacked", "done", "dropped")
HoursKind = Literal["shop", "quiet", "outdoors", "always"]
TaskName = Annotated[str, Meta(pattern="^[a-z0-9][a-z0-9_:-]{0,119}$")]
"""A task by its key: of the program's own, or ``own-`` for one of the user's."""


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
    after: Annotated[tuple[TaskName, ...], Meta(max_length=20)] = ()
    """Further tasks it waits for."""
    not_after: Annotated[tuple[TaskName, ...], Meta(max_length=40)] = ()
    """Tasks it does not wait for although the program says so."""


class OwnTask(Frozen, frozen=True, kw_only=True):
    """A task of one's own; hours and what it waits for stand in its change."""

    id: TaskName
    title: Name
    lane: Lane = "frame"
    people: Annotated[int, _n("People", "count", 0, 3, "At once.")] = 1
    likely_h: Annotated[float, _n("Likely", "hours", 0.0, 2000.0, "As it mostly goes.")] = 1.0
    at_vehicle: bool = True
    needs: Annotated[tuple[TaskName, ...], Meta(max_length=10)] = ()


class PartArrival(Frozen, frozen=True, kw_only=True):
    """When a bought part comes: by the end of that working day; ``id`` is its line's."""

    id: TaskName
    name: Annotated[str, Meta(max_length=120)] = ""
    state: Literal["needed", "ordered", "late", "here", "wrong"] = "needed"
    earliest: Date = ""
    likely: Date = ""
    latest: Date = ""


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
    arrivals: Annotated[tuple[PartArrival, ...], Meta(max_length=200)] = ()
    seen: Annotated[tuple[TaskName, ...], Meta(max_length=400)] = ()
    """Tasks there were when the plan was looked at last: what came and went since is told."""

    def change(self, task: str) -> TaskChange | None:
        """What was said of a task."""
        return next((c for c in self.changes if c.id == task), None)
