"""The project in the window: session, review, file, autosave. Widgets show it and send it edits."""

from __future__ import annotations

import datetime
import json
import os
from collections.abc import Callable
from pathlib import Path

import platformdirs
from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from stoutlink.app.desk.background import ASKED, Background, Progress
from stoutlink.app.desk.cycling import Cycling
from stoutlink.app.desk.giving_back import GivingBack
from stoutlink.app.desk.memory import Drawing
from stoutlink.app.desk.not_taken import NotTakenTexts
from stoutlink.core.document.paths import first_difference
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.editing.edits import Edit
from stoutlink.core.editing.history import Session
from stoutlink.core.errors import StoutError
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.storage.files import Stamp, read_stamped, stamp_of, write_project
from stoutlink.core.storage.lock import holder_of, release, take_lock
from stoutlink.core.storage.own_files import read_own, write_own
from stoutlink.core.storage.photos import copy_photos
from stoutlink.core.storage.recovery import Leftover, Recovery
from stoutlink.core.study.study import Study

AUTOSAVE_MS = 1500
"""Unsaved work is kept at most this long after it was done, however steadily more of it comes."""
MOST_RECENT = 8


class Workspace(QObject):
    """Holds the session; ``changed`` after every new project, ``said`` for one sentence to the user."""

    changed = pyqtSignal()
    said = pyqtSignal(str, bool)
    end_changed = pyqtSignal()
    texts_changed = pyqtSignal()
    stepped = pyqtSignal(str)
    """A step was undone or redone; the path of what changed by it."""
    go_to = pyqtSignal(str)
    """Somebody wants to be taken to the field of a path."""
    take_reading = pyqtSignal(str, tuple)
    stop_reading = pyqtSignal()

    def __init__(self, project: Project, file: Path | None = None, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.today: Callable[[], datetime.date] = datetime.date.today
        """The day it is; a picture may say another."""
        self.session = Session(project, project)
        self.file = file
        self.stamp: Stamp | None = None
        """What the file held when it was opened or saved here."""
        self.lent: Path | None = None
        """The file of an example that was opened without being its file: its photos lie there."""
        self.not_taken = NotTakenTexts()
        self.end = "rear"
        self.drawing = Drawing()
        """How drawings stand in every step; the window remembers it."""
        self.dragging = False
        """A gesture is under way: what is beside the drawing may wait until the hand rests for a moment."""
        self._study: Study | None = None
        self._held: Path | None = None
        self._recovery = Recovery(platformdirs.user_state_path("stout-link") / "recovery")
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(AUTOSAVE_MS)
        self._timer.timeout.connect(self._keep_beside)
        self._keeping: Background[bool] = Background(self, ASKED)
        self._copying: Background[tuple[str, ...]] = Background(self, ASKED)
        self._giving = GivingBack(self)
        self.cycling = Cycling(self)
        """Works the travel out beside the window."""

    @property
    def photo_home(self) -> Path | None:
        """The file beside which photos of the project lie."""
        return self.file if self.file is not None else self.lent

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
        try:
            self.attempt(edit)
        except StoutError as why:
            self.said.emit(why.words, True)
            return False
        return True

    def attempt(self, edit: Edit) -> None:
        """Apply an edit; raises what it raises and then nothing has changed."""
        before = self.project
        self.session.do(edit)
        if self.project is not before:
            self._take_waiting()
            self._moved()

    def _take_waiting(self) -> None:
        """Take what was typed before and did not go with another value, if it does now: each a step of its own."""
        for one in self.not_taken.of(self.project):
            if one.edit is None:
                continue
            try:
                self.session.do(one.edit)
            except StoutError:
                continue
            self.not_taken.remove(one.place)
            self.said.emit(f"{one.title}: “{one.text}” goes with it now and is taken", False)
            self.texts_changed.emit()

    def undo(self) -> None:
        """One step back."""
        label = self.session.undo_label
        if label:
            before = self.project
            self.session.undo()
            self._moved()
            self.stepped.emit(first_difference(before, self.project) or "")
            self.said.emit(f"Undone: {label}", False)

    def redo(self) -> None:
        """One step forward."""
        label = self.session.redo_label
        if label:
            before = self.project
            self.session.redo()
            self._moved()
            self.stepped.emit(first_difference(before, self.project) or "")
            self.said.emit(f"Redone: {label}", False)

    def set_end(self, end: str) -> None:
        """Work on the rear or the front axle."""
        if end != self.end:
            self.end = end
            self.end_changed.emit()

    def open(self, path: Path, *, lock: bool = True, over: bool = False) -> None:
        """Replace the project by a file's, and note that it is open here (``over`` another's note only when the user
        said so); raises and leaves everything untouched when it cannot be read. A layout that cannot be worked out yet
        opens like any other and says so where it is used.
        """
        project, stamp = read_stamped(path)
        self.take(project, path, stamp=stamp, lock=lock)
        if over:
            self._hold(path, over=True)
        self.remember(path)

    def take(
        self,
        project: Project,
        file: Path | None,
        *,
        saved: bool = True,
        stamp: Stamp | None = None,
        lock: bool = True,
        lent: Path | None = None,
    ) -> None:
        """Start a new session on a project."""
        self.stop_reading.emit()
        self.discard()
        self.not_taken.clear()
        self._hold(file if lock else None)
        self.session = Session(project, project if saved else None)
        self.file, self.stamp, self.lent = file, stamp, lent
        self.changed.emit()

    def _hold(self, file: Path | None, *, over: bool = False) -> None:
        """Have this file open, and no other."""
        if self._held is not None and self._held != file:
            release(self._held)
        if file is not None:
            take_lock(file, over=over)
        self._held = file

    def save(self, path: Path) -> None:
        """Write the project; raises when the disk refuses and nothing is lost."""
        home = self.photo_home
        self.stamp = write_project(self.project, path)
        self._hold(path, over=True)  # who had it was asked about
        self.file = path
        self.session.mark_saved()
        self.discard()
        self.remember(path)
        self._photos_along(home, path)
        self.changed.emit()

    def _photos_along(self, source: Path | None, target: Path) -> None:
        """Copy photos to where the project is now, beside the window."""
        names = self.project.photo_names()
        if source is None or source == target or not names:
            return

        def done(lost: tuple[str, ...]) -> None:
            if lost:
                self.said.emit(f"{len(lost)} photos were not beside {source.name}, so they are not copied", True)

        self._copying.start(
            lambda _: copy_photos(names, source, target),
            done,
            lambda _: None,
            lambda why: self.said.emit(why.words, True),
        )

    def changed_on_disk(self) -> float | None:
        """When the project's file was changed by somebody else since it was opened or saved here (s since the epoch);
        ``None`` when it was not, or is gone."""
        if self.file is None:
            return None
        now = stamp_of(self.file)
        if now is None or (self.stamp is not None and now.digest == self.stamp.digest):
            return None
        return now.changed

    def gone_from_disk(self) -> bool:
        """Whether the project's file was there when it was opened or saved here, and is no longer."""
        return self.file is not None and self.stamp is not None and not os.path.exists(self.file)

    def autosave(self) -> bool:
        """Keep unsaved work for recovery, now; what was kept of work that is saved or undone goes. Says why not."""
        self._keeping.stop()
        if not self.session.changed:
            self._recovery.clear()
            return True
        try:
            self._recovery.keep(self.project, self.file, self.stamp)
        except StoutError as why:
            self._not_kept(why)
            return False
        return True

    def _keep_beside(self) -> None:
        """Autosave without making the window wait for the disk."""
        if not self.session.changed:
            self.autosave()
            return
        project, file, stamp = self.project, self.file, self.stamp

        def work(tell: Progress) -> bool:
            self._recovery.keep(project, file, stamp)
            return True

        self._keeping.start(work, lambda _: None, lambda _: None, self._not_kept)

    def _not_kept(self, why: StoutError) -> None:
        self.said.emit(f"Autosave: {why.sentence} Save the project under a name where there is room.", True)

    def bring_back(self, left: Leftover) -> bool:
        """Go on with what an earlier run left unsaved. It is kept anew first; only then the old copy goes."""
        free = left.file is None or holder_of(left.file) is None  # else saving asks
        self.take(left.project, left.file, saved=False, stamp=Stamp(left.digest or "", left.when), lock=free)
        if not self.autosave():
            return False
        self._recovery.forget(left.kept)
        return True

    @property
    def recovery(self) -> Recovery:
        """Kept states of earlier runs."""
        return self._recovery

    def discard(self) -> None:
        """Unsaved work is saved, or given up on purpose."""
        self._timer.stop()
        self._keeping.stop()
        self._recovery.clear()

    def close(self) -> None:
        """The window goes: what is unsaved was given up, and the file is free for others."""
        self.discard()
        self._copying.stop()
        self._giving.stop()
        self._hold(None)

    def _moved(self) -> None:
        if not self._timer.isActive():
            self._timer.start()
        self.changed.emit()

    # Recent files

    @property
    def _recent_file(self) -> Path:
        return platformdirs.user_state_path("stout-link") / "recent.json"

    def recent(self) -> list[Path]:
        """Files opened or saved before, newest first, those that still exist."""
        try:
            names = json.loads(read_own(self._recent_file) or b"[]")
            return [Path(n) for n in names if isinstance(n, str) and os.path.exists(n)][:MOST_RECENT]
        except (ValueError, TypeError, RecursionError):
            return []

    def remember(self, path: Path) -> None:
        """Put a file at the head of the recent ones; a disk that refuses is no reason to complain."""
        path = Path(os.path.realpath(path))
        names = [str(path), *(str(p) for p in self.recent() if p != path)][:MOST_RECENT]
        write_own(json.dumps(names).encode(), self._recent_file)
