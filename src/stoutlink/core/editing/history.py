"""Undo and redo over whole projects, which restores exactly, back to where the session began: steps share all that they
did not change, so that thousands cost little."""

from __future__ import annotations

from dataclasses import dataclass, field

from msgspec import Struct

from stoutlink.core.document.project import Project
from stoutlink.core.editing.edits import Edit


class Change(Struct, frozen=True):
    """One undoable step: what it was called and the project before it."""

    label: str
    before: Project
    merge_key: str | None


@dataclass
class Session:
    """The project being worked on, with its past and future. Knows nothing of files or windows."""

    project: Project
    saved: Project | None = None
    _past: list[Change] = field(default_factory=list)
    _future: list[Change] = field(default_factory=list)
    _open_key: str | None = None

    def do(self, edit: Edit) -> Project:
        """Apply an edit; raises what the edit raises and then changes nothing."""
        after = edit.apply(self.project)
        if after == self.project:
            return after
        key = edit.merge_key
        if key is None or key != self._open_key or not self._past:
            self._past.append(Change(edit.label, self.project, key))
        self._open_key = key
        self._future.clear()
        self.project = after
        return after

    def end_gesture(self) -> None:
        """The next edit starts a step of its own."""
        self._open_key = None

    def undo(self) -> Project:
        """Back one step; nothing happens at the beginning."""
        if self._past:
            step = self._past.pop()
            self._future.append(Change(step.label, self.project, step.merge_key))
            self.project = step.before
        self._open_key = None
        return self.project

    def redo(self) -> Project:
        """Forward one step; nothing happens at the end."""
        if self._future:
            step = self._future.pop()
            self._past.append(Change(step.label, self.project, step.merge_key))
            self.project = step.before
        self._open_key = None
        return self.project

    @property
    def undo_label(self) -> str | None:
        """Name of the step that undo takes back."""
        return self._past[-1].label if self._past else None

    @property
    def redo_label(self) -> str | None:
        """Name of the step that redo brings again."""
        return self._future[-1].label if self._future else None

    @property
    def changed(self) -> bool:
        """Whether the project differs from what was last saved or opened."""
        return self.project != self.saved

    def mark_saved(self) -> None:
        """What is here now is on disk."""
        self.saved = self.project
