"""The travel of both axles, kept worked out beside the window: at once while somebody looks at it, else when the hand rests."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from stoutlink.app.desk.background import AHEAD, SHOWN, Background, Progress
from stoutlink.core.study.question import GivenUp
from stoutlink.core.study.study import Study

if TYPE_CHECKING:
    from stoutlink.app.desk.workspace import Workspace

REST_MS = 700
"""Nothing is cycled ahead before the project has stood still for this long."""


class Cycling(QObject):
    """``moved`` says how far it is, ``done`` that the travel of the project as it is now is known."""

    moved = pyqtSignal(float)
    done = pyqtSignal()

    def __init__(self, workspace: Workspace) -> None:
        super().__init__(workspace)
        self._workspace = workspace
        self.work: Background[Study] = Background(self, AHEAD)
        self._study: Study | None = None
        """What is being cycled."""
        self._owed = False
        """Work was begun of whose end nobody has been told."""
        self._act: Callable[[], None] | None = None
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.setInterval(REST_MS)
        self._rest.timeout.connect(self.start)

    @property
    def known(self) -> bool:
        """Whether the travel of the project as it is now is known, and the window has been told."""
        return self._workspace.study.cycled and not self.working

    @property
    def working(self) -> bool:
        """Whether the travel of the project as it is now is being worked out."""
        return self.work.busy and self._study is not None and self._workspace.study.cycles_like(self._study)

    def soon(self) -> None:
        """The project has changed: cycle it when it has rested for a moment."""
        if self.known:
            self._tell()
        elif not self.working:
            self._rest.start()

    def now(self) -> None:
        """Somebody looks at the travel."""
        self._rest.stop()
        if self.known:
            self._tell()
        elif not (self.working and self.work.priority == SHOWN):
            self.start(SHOWN)

    def then(self, act: Callable[[], None]) -> None:
        """Do something that needs the travel: at once where it is known, else when it is; only the last one waits."""
        if self.known:
            act()
        else:
            self._act = act
            self.now()

    def _do_waiting(self) -> None:
        """Do what waited for the travel, also where it is known again without having been worked out, by an undo."""
        act, self._act = self._act, None
        if act is not None:
            act()

    def start(self, priority: int = AHEAD) -> None:
        """Cycle the project as it is now."""
        study = self._study = self._workspace.study
        self._owed = True

        def work(tell: Progress) -> Study | None:
            try:
                study.cycle(tell)
            except GivenUp:
                return None
            return study

        self.work.priority = priority
        self.work.start(work, self._done, self.moved.emit)

    def stop(self) -> None:
        """Leave off, before the window goes."""
        self._rest.stop()
        self.work.stop()

    def _done(self, study: Study) -> None:
        if self.known:
            self._tell()
        else:
            self.soon()

    def _tell(self) -> None:
        """It is known: whoever was told that it is being worked out hears of it, by whatever way it came to be known."""
        if self._owed:
            self._owed = False
            self.done.emit()
        self._do_waiting()
