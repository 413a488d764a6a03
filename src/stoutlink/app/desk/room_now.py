"""Clearances that follow the hand: the travel of the axle in work, worked out beside the window as fast as it goes."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from stoutlink.app.desk.background import SHOWN, Background, Progress
from stoutlink.core.study.question import GivenUp
from stoutlink.core.study.room import Room, room_of

if TYPE_CHECKING:
    from stoutlink.app.desk.workspace import Workspace
    from stoutlink.core.study.study import Study


class RoomNow(QObject):
    """``told`` when the room has been worked out anew. ``room`` is the last answer, ``behind`` whether the project has
    moved on since."""

    told = pyqtSignal()

    def __init__(self, workspace: Workspace, parent: QObject) -> None:
        super().__init__(parent)
        self._workspace = workspace
        self._work: Background[tuple[Study, str, Room]] = Background(self, SHOWN)
        self._of: tuple[Study, str] | None = None
        self.room: Room | None = None

    @property
    def behind(self) -> bool:
        """Whether what is known is of another project than the one in the window."""
        of = self._of
        if of is None or of[1] != self._workspace.end:
            return True
        return not of[0].cycles_like(self._workspace.study)

    def follow(self) -> None:
        """Work it out for the project as it is, once what is under way is done."""
        if self.behind and not self._work.busy:
            self._begin()

    def _begin(self) -> None:
        study, end = self._workspace.study, self._workspace.end

        def work(tell: Progress) -> tuple[Study, str, Room] | None:
            try:
                return study, end, room_of(study, end, going=tell)
            except GivenUp:
                return None

        self._work.start(work, self._done, lambda part: None)

    def _done(self, answer: tuple[Study, str, Room]) -> None:
        self._of, self.room = (answer[0], answer[1]), answer[2]
        self.told.emit()
        self.follow()

    def stop(self) -> None:
        """Leave off, before the window goes."""
        self._work.stop()
