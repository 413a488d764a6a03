"""The fields of a run, by group."""

from __future__ import annotations

from stoutlink.app.widgets.path_drawer import Entry
from stoutlink.core.document.log import FELT_WORDS, Run
from stoutlink.core.document.project import Project

GROUPS = (
    ("run", "Run", "Where, when, over what, and what you say of it."),
    ("set", "Set as", "Pressures, range, gear, lockers, load."),
    ("shocks", "Shocks", "Clicks from fully closed."),
    ("felt", "How fast", "At what speed a thing comes that was felt."),
    ("trial", "Tried", "What the run was to try, and what came of it."),
)
YES = ((False, "open"), (True, "locked"))
RANGES = (("low", "low"), ("high", "high"))
VERDICTS = (("", "not said"), ("good", "good"), ("bad", "bad"))
CAME = (("", "not judged"), ("better", "better"), ("same", "the same"), ("worse", "worse"))
SET = ("load", "front_pressure_pa", "rear_pressure_pa", "range", "gear", "front_locked", "rear_locked")


def run_entries(project: Project, one: Run, group: str) -> list[Entry]:
    """What stands in the drawer of a group."""
    at = f"log.runs.{one.id}"
    if group == "run":
        return [
            Entry(f"{at}.name", "name", "text"),
            Entry(f"{at}.when", "day", "text"),
            Entry(f"{at}.place", "place", "text"),
            Entry(f"{at}.obstacle", "over what", "text"),
            Entry(f"{at}.note", "note", "text"),
            Entry(f"{at}.verdict", "called", "choice", VERDICTS),
        ]
    if group == "set":
        loads = (("", "as entered"), *((c.id, c.name) for c in project.linkage.load_cases))
        if one.load and all(one.load != key for key, _ in loads):
            loads = (*loads, (one.load, f"{one.load} (gone)"))
        return [
            Entry(f"{at}.load", "load", "choice", loads),
            Entry(f"{at}.front_pressure_pa", "front tyres"),
            Entry(f"{at}.rear_pressure_pa", "rear tyres"),
            Entry(f"{at}.range", "range", "choice", RANGES),
            Entry(f"{at}.gear", "gear"),
            Entry(f"{at}.front_locked", "front", "choice", YES),
            Entry(f"{at}.rear_locked", "rear", "choice", YES),
        ]
    if group == "shocks":
        return [
            Entry(f"{at}.{end}_{way}_clicks", f"{end} {way}")
            for end in ("front", "rear")
            for way in ("bump", "rebound")
        ]
    if group == "felt":
        return [Entry(f"{at}.felt.{f.id}.speed_m_per_s", FELT_WORDS[f.id]) for f in one.felt]
    return [] if one.trial is None else [Entry(f"{at}.trial.verdict", "it was", "choice", CAME)]


def group_of(parts: list[str]) -> str:
    """The group a path of a run, ``log.runs.ID.…``, is in."""
    last = parts[-1]
    if last in SET:
        return "set"
    if last.endswith("_clicks"):
        return "shocks"
    return parts[3] if parts[3] in ("felt", "trial") else "run"
