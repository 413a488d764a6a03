"""Notes on numbers (text as typed, source, ±) when the numbers move, go, or come: what is not touched stays the very same value."""

from __future__ import annotations

from collections.abc import Callable, Iterable

import msgspec

from stoutlink.core.document.project import Entry, Project

LONGEST_TEXT = 60
"""What a note on a number takes as its text."""


def without_notes(project: Project, gone: Callable[[str], bool]) -> Project:
    """The project without the notes on the paths that are ``gone``; the same one when there are none.

    >>> from stoutlink.demo import demo_file; from stoutlink.core.storage.files import read_project
    >>> p = read_project(demo_file("basalt.stoutlink")); without_notes(p, lambda path: path == "rig.nothing") is p
    True
    """
    entries = tuple(e for e in project.entries if not gone(e.field))
    return project if len(entries) == len(project.entries) else msgspec.structs.replace(project, entries=entries)


def noted(project: Project, paths: Iterable[str], entry: Entry | None) -> Project:
    """Drop the notes at ``paths`` and add ``entry`` if it says anything."""
    gone = set(paths)
    after = without_notes(project, gone.__contains__)
    if entry is None or not (entry.text or entry.basis != "typed" or entry.sigma is not None):
        return after
    if len(entry.text) > LONGEST_TEXT:
        entry = msgspec.structs.replace(entry, text="")  # the number says as much
    return msgspec.structs.replace(after, entries=(*after.entries, entry))
