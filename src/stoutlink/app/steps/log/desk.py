"""What the log's looks show that takes a moment, worked out beside the window: as built, advice, the hill."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from stoutlink.app.desk.background import SHOWN, Background, Progress
from stoutlink.app.desk.workspace import Workspace
from stoutlink.core.analysis.log.as_built import BuiltAxle
from stoutlink.core.analysis.log.hill import HillFound
from stoutlink.core.analysis.log.next_reading import NextReading
from stoutlink.core.analysis.log.runs import then
from stoutlink.core.analysis.log.tuning import Tuning, schools_of
from stoutlink.core.document.log import FeltWord, Run
from stoutlink.core.errors import StoutError
from stoutlink.core.study.question import GivenUp, known
from stoutlink.core.study.study import Study


class LogDesk(QObject):
    """``worked_out`` when something new is there to be shown; ``why`` is why there is nothing."""

    worked_out = pyqtSignal()

    def __init__(self, workspace: Workspace, parent: QObject) -> None:
        super().__init__(parent)
        self.workspace = workspace
        self.work: Background[bool] = Background(self, SHOWN)
        self.why = ""
        self._then: tuple[Study, Run, Study | str] | None = None
        self._tried: tuple[Study, str] | None = None

    # As built

    def built(self, end: str) -> tuple[bool, BuiltAxle | None, tuple[NextReading, ...]]:
        """An axle as built and what to read next; false while it is being worked out."""
        study = self.workspace.study
        if not any(r.end == end for r in study.project.log.built.readings) and study.project.layout(end) is None:
            return True, None, ()
        got, found = known(study.as_built, end)
        more, following = known(study.next_readings, end)
        if got and more:
            self.why = ""
            return True, found, following or ()
        if self._failed("built", end):
            return True, None, ()
        self._start("built", end)
        return False, None, ()

    # Advice

    def advice(self, felt: FeltWord, end: str, school: str) -> tuple[bool, Tuning | None]:
        """What can be done at an end about what was felt; false while it is being worked out."""
        study = self.workspace.study
        if not schools_of(felt, end) or study.project.layout(end) is None:
            return True, None
        got, found = known(study.tuning, end, felt, school)
        if got:
            self.why = ""
            return True, found
        if self._failed("advice", f"{felt} {end} {school}"):
            return True, None
        self._start("advice", f"{felt} {end} {school}")
        return False, None

    # The hill

    def hill(self) -> tuple[bool, HillFound | str | None, HillFound | str | None]:
        """The rig over the hill as it is set, and as it was in the run it is held against; false while they are being worked out."""
        study = self.workspace.study
        mine = self._hill_known(study, study.locked)
        against = self._run()
        other = None if against is None else self._other(study, against)
        theirs: HillFound | str | None = None
        if isinstance(other, str):
            theirs = other
        elif other is not None and against is not None:
            theirs = self._hill_known(other, (against.front_locked, against.rear_locked))
        if mine is not None and (against is None or theirs is not None):
            return True, mine, theirs
        if self._failed("hill", ""):
            return True, self.why or None, None
        self._start("hill", "")
        return False, mine, theirs

    def _run(self) -> Run | None:
        log = self.workspace.project.log
        return next((r for r in log.runs if r.id == log.hill.against), None)

    def _other(self, study: Study, run: Run) -> Study | str:
        if self._then is None or self._then[0] is not study or self._then[1] is not run:
            try:
                made: Study | str = Study(then(study.project, run), study)
            except LookupError as why:
                made = f"{why.args[0]}."
            self._then = study, run, made
        return self._then[2]

    @staticmethod
    def _hill_known(study: Study, locked: tuple[bool, bool]) -> HillFound | str | None:
        ends = [known(study.travel, end) for end in ("front", "rear")]
        layouts = [study.project.layout(end) for end in ("front", "rear")]
        if any(layout is not None and not got for (got, _), layout in zip(ends, layouts, strict=True)):
            return None
        got, found = known(study.hill_of, ends[0][1], ends[1][1], locked)
        return found if got else None

    # Beside the window

    def _failed(self, what: str, which: str) -> bool:
        """Whether this was tried of the project as it is and cannot be."""
        return (
            self._tried is not None
            and self._tried[0] is self.workspace.study
            and self._tried[1] == f"{what} {which}"
            and bool(self.why)
        )

    def _start(self, what: str, which: str) -> None:
        study, run = self.workspace.study, self._run()
        other = self._other(study, run) if what == "hill" and run is not None else None
        self._tried, self.why = (study, f"{what} {which}"), ""

        def work(tell: Progress) -> bool:
            try:
                if what == "built":
                    study.as_built(which)
                    study.next_readings(which)
                elif what == "advice":
                    felt, end, school = which.split(" ", 2)
                    study.tuning(end, felt, school)  # type: ignore[arg-type]
                else:
                    study.hill()
                    if isinstance(other, Study) and run is not None:
                        other.hill((run.front_locked, run.rear_locked))
            except GivenUp:
                return False
            except StoutError as why:
                self.why = why.words
            return True

        self.work.start(work, lambda _: self.worked_out.emit(), lambda _: None)

    def stop(self) -> None:
        """Leave off."""
        self.work.stop()
