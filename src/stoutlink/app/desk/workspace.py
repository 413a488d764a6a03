"""The project in the window: session, review, file, autosave. Widgets show it and send it edits."""

from __future__ import annotations

import json
from pathlib import Path

import platformdirs
from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from stoutlink.app.desk.cycling import Cycling
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.editing.edits import Edit
from stoutlink.core.editing.history import Session
from stoutlink.core.errors import StoutError
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.storage.disk import write_bytes
from stoutlink.core.storage.files import read_project, write_project
from stoutlink.core.storage.recovery import Recovery
from stoutlink.core.study.study import Study

AUTOSAVE_MS = 1500
MOST_RECENT = 8


class Workspace(QObject):
    """Holds the session; ``changed`` after every new project, ``said`` for one sentence to the user."""

    changed = pyqtSignal()
    said = pyqtSignal(str, bool)
    end_changed = pyqtSignal()
    take_reading = pyqtSignal(str, tuple)
    stop_reading = pyqtSignal()

    def __init__(self, project: Project, file: Path | None = None, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.session = Session(project, project)
        self.file = file
        self.end = "rear"
        self.dragging = False
        """A gesture is under way: what is beside the drawing may wait until the hand rests for a moment."""
        self._study: Study | None = None
        self._recovery = Recovery(platformdirs.user_state_path("stout-link") / "recovery")
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(AUTOSAVE_MS)
        self._timer.timeout.connect(self.autosave)
        self.cycling = Cycling(self)
        """Works the travel out beside the window."""

    @property
    def project(self) -> Project:
        """The current project."""
        return self.session.project

    @property
    def unit(self) -> UnitSystem:
        """The project's unit."""
        return self.project.settings.units

    @property
    def study(self) -> Study:
        """Everything that can be asked of the current project."""
        if self._study is None or self._study.project is not self.project:
            self._study = Study(self.project, self._study)
        return self._study

    @property
    def rig(self) -> Rig:
        """The effective vehicle: weight and balance point from their sources, the chosen axles in it."""
        return self.study.true.rig

    def do(self, edit: Edit) -> bool:
        """Apply an edit; a refusal is said and changes nothing."""
        before = self.project
        try:
            self.session.do(edit)
        except StoutError as why:
            self.said.emit(f"{why.sentence} {why.hint}".strip(), True)
            return False
        if self.project is not before:
            self._moved()
        return True

    def undo(self) -> None:
        """One step back."""
        label = self.session.undo_label
        if label:
            self.session.undo()
            self._moved()
            self.said.emit(f"Undone: {label}", False)

    def redo(self) -> None:
        """One step forward."""
        label = self.session.redo_label
        if label:
            self.session.redo()
            self._moved()
            self.said.emit(f"Redone: {label}", False)

    def set_end(self, end: str) -> None:
        """Work on the rear or the front axle."""
        if end != self.end:
            self.end = end
            self.end_changed.emit()

    def open(self, path: Path) -> None:
        """Replace the project by a file's; raises and leaves everything untouched when it cannot be read or analysed."""
        project = read_project(path)
        for axle in Study(project).axles.values():
            if axle.problem is not None:
                raise axle.problem
        self.take(project, path)
        self.remember(path)

    def take(self, project: Project, file: Path | None, *, saved: bool = True) -> None:
        """Start a new session on a project."""
        self.stop_reading.emit()
        self.session = Session(project, project if saved else None)
        self.file = file
        self.changed.emit()

    def save(self, path: Path) -> None:
        """Write the project; raises when the disk refuses and nothing is lost."""
        write_project(self.project, path)
        self.file = path
        self.session.mark_saved()
        self._timer.stop()
        self._recovery.clear()
        self.remember(path)
        self.changed.emit()

    def autosave(self) -> None:
        """Keep unsaved work for recovery."""
        if self.session.changed:
            try:
                self._recovery.keep(self.project, self.file)
            except StoutError as why:
                self.said.emit(f"Autosave: {why.sentence}", True)

    @property
    def recovery(self) -> Recovery:
        """Kept states of earlier runs."""
        return self._recovery

    def discard(self) -> None:
        """Unsaved work is given up on purpose."""
        self._timer.stop()
        self._recovery.clear()

    def _moved(self) -> None:
        self._timer.start()
        self.changed.emit()

    # Recent files

    @property
    def _recent_file(self) -> Path:
        return platformdirs.user_state_path("stout-link") / "recent.json"

    def recent(self) -> list[Path]:
        """Files opened or saved before, newest first, those that still exist."""
        try:
            names = json.loads(self._recent_file.read_text(encoding="utf-8"))
            return [Path(n) for n in names if isinstance(n, str) and Path(n).exists()][:MOST_RECENT]
        except (OSError, ValueError, TypeError):
            return []

    def remember(self, path: Path) -> None:
        """Put a file at the head of the recent ones; a disk that refuses is no reason to complain."""
        path = path.resolve()
        names = [str(path), *(str(p) for p in self.recent() if p != path)][:MOST_RECENT]
        try:
            self._recent_file.parent.mkdir(parents=True, exist_ok=True)
            write_bytes(json.dumps(names).encode(), self._recent_file)
        except (OSError, StoutError):
            return
