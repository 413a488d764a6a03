"""The plan in words: when it is done, why then, what a task waits for, what came and went."""

from __future__ import annotations

from collections.abc import Iterator

from stoutlink.core.analysis.plan.chance import Chance
from stoutlink.core.analysis.plan.plan_sheet import Moved, PlanSheet, Row, afters
from stoutlink.core.analysis.plan.shop_hours import moment
from stoutlink.core.document.build_plan import BuildPlan, TaskState

CAUTION = "Hours are estimates, most of them the program's: a day is promised to nobody by them. Work that can hurt waits for a clear head, not for a date."
STATE_WORDS: dict[TaskState, str] = {
    "open": "open", "mocked": "mocked up", "tacked": "tacked only", "blocked": "held up", "done": "done", "inspected": "done and looked over",
    "dropped": "left out",
}  # fmt: skip
DAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")


def day_words(plan: BuildPlan, minute: int) -> str:
    """The day of a minute, as Fri 2026-10-09."""
    day = moment(plan, minute).date()
    return f"{DAYS[day.weekday()]} {day.isoformat()}"


def time_words(plan: BuildPlan, minute: int) -> str:
    """Day and hour of a minute."""
    at = moment(plan, minute)
    return f"{DAYS[at.weekday()]} {at.date().isoformat()} {at:%H:%M}"


def end_words(sheet: PlanSheet, chance: Chance | None = None) -> str:
    """When the rig drives, held against the day wanted."""
    if sheet.circle:
        return f"No plan: {circle_words(sheet)}"
    if sheet.no_day:
        return "There is no working day left for all of it: more hours, more people, or access for longer."
    if sheet.end is None:
        return "Nothing is left to do: every task is done or left out."
    words = f"Drives on {day_words(sheet.plan, max(0, sheet.end - 1))}"
    late = sheet.late_days
    if late is not None:
        words += f", {late} day{'s' if late != 1 else ''} after the day wanted" if late > 0 else f", {-late} day{'s' if late != -1 else ''} before the day wanted is over"  # fmt: skip
    if chance is not None:
        words += f"; {chance.met:.0%} ± {2 * chance.sigma:.0%} sure of that day"
    return words + "."


def circle_words(sheet: PlanSheet) -> str:
    """Tasks that wait for one another, and the link to cut."""
    names = {r.task.key: r.task.title for r in sheet.rows}
    titles = " → ".join(f"“{names.get(k, k)}”" for k in sheet.circle)
    own = weakest(sheet)
    cut = (
        "" if own is None else f" Take “{names.get(own[1], own[1])}” off what “{names.get(own[0], own[0])}” waits for."
    )
    return f"{titles} wait for one another.{cut}"


def weakest(sheet: PlanSheet) -> tuple[str, str] | None:
    """Of a circle the link one said oneself, as (task, what it waits for); of several the last; none: the program's last."""
    links = [(b, a) for a, b in zip(sheet.circle, sheet.circle[1:], strict=False)]
    for task, before in reversed(links):
        change = sheet.plan.change(task)
        if change is not None and before in change.after:
            return task, before
    return links[-1] if links else None


def because_words(row: Row, sheet: PlanSheet) -> str:
    """Why a task begins when it does."""
    one = row.why
    if one is None or row.begin is None:
        return ""
    names = {r.task.key: r.task.title for r in sheet.rows}
    who = " and ".join(row.who)
    words = {
        "begin": "it can begin at once",
        "job": f"waits for “{names.get(one.key, one.key)}”",
        "person": f"{who or 'nobody'} {'are' if len(row.who) > 1 else 'is'} free after “{names.get(one.key, one.key)}”",
        "place": f"the place is free after “{names.get(one.key, one.key)}”",
        "part": f"waits for a part: {part_words(sheet.plan, one.key)}",
        "date": "not before the day typed",
    }[one.wait]
    return words + (", and for the next open hour" if one.closed else "")


def part_words(plan: BuildPlan, key: str) -> str:
    """A part by its name."""
    one = next((a for a in plan.arrivals if a.id == key), None)
    return key.replace("_", " ") if one is None or not one.name else one.name


def row_words(row: Row, sheet: PlanSheet) -> str:
    """One task in a line."""
    least, likely, most = row.hours
    words = f"{row.task.title}: {STATE_WORDS[row.state]}, {likely:.1f} h ({least:.1f} to {most:.1f})"
    if row.begin is not None and row.end is not None:
        words += f", {time_words(sheet.plan, row.begin)} to {time_words(sheet.plan, row.end)}"
        words += ", sets the date" if row.on_chain else f", may be {row.spare / 60:.1f} h late" if row.spare is not None else ""  # fmt: skip
        why = because_words(row, sheet)
        words += f"; {why}" if why else ""
    if row.task.held and not row.over:
        words += f"; held: {row.task.held}"
    if row.change is not None and row.change.why:
        words += f"; {row.change.why}"
    return words


def waits_words(row: Row, sheet: PlanSheet) -> Iterator[str]:
    """What a task waits for, each with its reason."""
    names = {r.task.key: r for r in sheet.rows}
    for one in afters(row.task, row.change):
        other = names.get(one.key)
        if other is not None:
            yield f"after “{other.task.title}” ({STATE_WORDS[other.state]}): {one.why}"
    for need in row.task.needs:
        part = next((a for a in sheet.plan.arrivals if a.id == need), None)
        if part is not None:
            when = part.likely or part.latest or part.earliest
            yield f"needs {part_words(sheet.plan, need)}: {part.state}" + (
                f", {when}" if when and part.state != "here" else ""
            )


def sheet_words(sheet: PlanSheet, chance: Chance | None) -> Iterator[str]:
    """The plan line by line."""
    yield end_words(sheet, chance)
    yield progress_words(sheet)
    if sheet.came:
        names = {r.task.key: r.task.title for r in sheet.rows}
        yield f"New since the plan was looked at: {', '.join(names.get(k, k) for k in sheet.came)}."
    if sheet.went:
        yield f"Gone since then: {', '.join(sheet.went)}."
    for name, minute in sheet.milestones:
        yield f"{name.capitalize()}: {'already' if minute == 0 else 'no day' if minute is None else day_words(sheet.plan, minute - 1)}."
    for row in sorted(sheet.rows, key=lambda r: (r.begin is None, r.begin or 0)):
        yield row_words(row, sheet)


def progress_words(sheet: PlanSheet) -> str:
    """How far it looks, beside how far it is."""
    low, high = sheet.done_range
    return f"Looks {sheet.looks:.0%}, done {sheet.done:.0%} by hours ({low:.0%} to {high:.0%})."


def moved_words(found: Moved, sheet: PlanSheet) -> str:
    """What a late part moves."""
    if not found.tasks:
        return "nothing moves."
    names = {r.task.key: r.task.title for r in sheet.rows}
    end = "the last day stays" if abs(found.days) < 0.5 else f"the last day moves by {found.days:+.0f} days"
    far = sorted(found.tasks, key=lambda one: -abs(one[1]))
    some = ", ".join(f"{names.get(k, k)} {by_words(d)}" for k, d in far[:3])
    more = f" and {len(far) - 3} more" if len(far) > 3 else ""
    return f"{len(found.tasks)} tasks move, {end}: {some}{more}."


def changed_words(found: Moved) -> str:
    """What the last change did, the plan laid out anew."""
    n = len(found.tasks)
    end = "The last day stays" if abs(found.days) < 0.5 else f"The last day moves by {found.days:+.0f} days"
    return f"{end}; {n} task{'s begin' if n != 1 else ' begins'} at another time."


def news_words(sheet: PlanSheet) -> str:
    """How many tasks came and went since the plan was looked at."""
    came, went = len(sheet.came), len(sheet.went)
    return f"Since it was looked at {came} task{'s' if came != 1 else ''} came, {went} went." if came or went else ""


def by_words(days: float) -> str:
    """By how much a task moves: days, or hours where it is less than one.

    >>> by_words(2.6), by_words(-0.25)
    ('+3 d', '-6 h')
    """
    return f"{days:+.0f} d" if abs(days) >= 0.95 else f"{days * 24:+.0f} h"


def anew_words(days: float | None) -> str:
    """Where the last day comes to be if the plan is laid out anew."""
    if days is None:
        return "Laid out anew there is no day."
    stays = abs(days) < 0.5
    return "Laid out anew the last day stays." if stays else f"Laid out anew the last day moves by {days:+.0f} days."
