"""Work that takes longer than a blink, beside the window: started, told how far it is, given up when nobody waits for
it.

Python's collector is held while a worker runs: what belongs to a window must not be collected in another thread.
"""

from __future__ import annotations

import gc
import threading
from collections.abc import Callable
from typing import Any, Generic, TypeVar

from PyQt6.QtCore import QObject, QTimer

from stoutlink.core.errors import StoutError

T = TypeVar("T")
Progress = Callable[[float], bool]
LOOK_MS = 40


_running: set[_Run[Any]] = set()
"""Workers of every window part; the collector is held while there is one."""


def _hold(run: _Run[Any]) -> None:
    if gc.isenabled():
        gc.collect(0)
        gc.disable()
    _running.add(run)


def _release(run: _Run[Any]) -> None:
    _running.discard(run)
    if not _running:
        gc.enable()


class Background(QObject, Generic[T]):
    """One piece of work at a time; a new one gives up the one before, and starts once that has noticed: the window
    does not wait for it.
    """

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._timer = QTimer(self)
        self._timer.setInterval(LOOK_MS)
        self._timer.timeout.connect(self._look)
        self._run: _Run[T] | None = None
        self._next: Callable[[Progress], T] | None = None
        self._done: Callable[[T], None] | None = None
        self._moved: Callable[[float], None] | None = None
        self._failed: Callable[[Exception], None] | None = None

    def start(
        self,
        work: Callable[[Progress], T],
        done: Callable[[T], None],
        moved: Callable[[float], None],
        failed: Callable[[Exception], None] | None = None,
    ) -> None:
        """Do ``work`` beside the window; ``done`` gets its answer and ``moved`` how far it is, both in the window's
        own thread. ``failed`` gets a failure that can be explained to the user (any other is raised).

        ``work`` is given a function to call with its progress; when that answers False it should give up.
        """
        self._done, self._moved, self._failed = done, moved, failed
        self._next = work
        if self._run is None:
            self._begin()
        else:
            self._run.wanted = False

    def _begin(self) -> None:
        work, self._next = self._next, None
        assert work is not None
        self._run = _Run(work)
        _hold(self._run)
        self._run.thread.start()
        self._timer.start()

    def stop(self) -> None:
        """Give up what is under way and wait until it has; its answer is never shown."""
        self._next = None
        if self._run is not None:
            self._run.wanted = False
            self._run.thread.join()
            self._over()

    def _over(self) -> None:
        self._timer.stop()
        if self._run is not None:
            _release(self._run)
        self._run = None

    def _look(self) -> None:
        run = self._run
        if run is None:
            return
        if run.thread.is_alive():
            if self._moved is not None and run.wanted:
                self._moved(run.part)
            return
        self._over()
        if self._next is not None:
            self._begin()
            return
        if isinstance(run.failed, StoutError) and self._failed is not None:
            self._failed(run.failed)
            return
        if run.failed is not None:
            raise run.failed
        if run.wanted and run.answer is not None and self._done is not None:
            self._done(run.answer)


class _Run(Generic[T]):
    """The worker's side: no widget is touched here."""

    def __init__(self, work: Callable[[Progress], T]) -> None:
        self.wanted, self.part = True, 0.0
        self.answer: T | None = None
        self.failed: Exception | None = None
        self._work = work
        self.thread = threading.Thread(target=self._go, daemon=True)

    def _go(self) -> None:
        try:
            self.answer = self._work(self._tell)
        except Exception as why:
            if self.wanted:
                self.failed = why

    def _tell(self, part: float) -> bool:
        self.part = part
        return self.wanted
