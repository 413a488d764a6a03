"""Work that takes longer than a blink, beside the window: one queue for all of it, with priorities, progress and giving up.

Two workers take the most wanted piece of work first; where both are busy, what is wanted more makes what is wanted less
stand back and start again later. Python's collector is held while anything is queued: what belongs to a window must not be collected in another
thread.
"""

from __future__ import annotations

import gc
import itertools
import threading
from collections.abc import Callable
from typing import Any, Generic, TypeVar

from PyQt6.QtCore import QObject, QTimer

from stoutlink.core.errors import StoutError

T = TypeVar("T")
Progress = Callable[[float], bool]
LOOK_MS = 40
WORKERS = 2
ASKED, SHOWN, AHEAD = 0, 1, 2
"""Priorities: somebody pressed a button for it; it is in view; it will be wanted when the hand rests."""


class _Job(Generic[T]):
    """A piece of work on its way through the queue."""

    def __init__(self, work: Callable[[Progress], T | None], priority: int, order: int) -> None:
        self.work, self.priority, self.order = work, priority, order
        self.wanted, self.part = True, 0.0
        self.again = False
        """Asked to stand back: it starts anew when its turn comes."""
        self.answer: T | None = None
        self.failed: Exception | None = None
        self.over = threading.Event()

    def tell(self, part: float) -> bool:
        """What the work calls with its progress; False: give up."""
        self.part = part
        return self.wanted


class WorkQueue:
    """The queue and its workers. Jobs come and are given up from the window's thread alone."""

    def __init__(self) -> None:
        self._waiting: list[_Job[Any]] = []
        self._running: list[_Job[Any]] = []
        self._known: set[_Job[Any]] = set()
        self._order = itertools.count()
        self._turn = threading.Condition()
        self._threads: list[threading.Thread] = []

    def put(self, work: Callable[[Progress], T | None], priority: int) -> _Job[T]:
        """Queue a piece of work."""
        job: _Job[T] = _Job(work, priority, next(self._order))
        if gc.isenabled():
            gc.collect(0)
            gc.disable()
        self._known.add(job)
        with self._turn:
            self._waiting.append(job)
            least = max(self._running, key=lambda one: (one.priority, one.order), default=job)
            if len(self._running) == WORKERS and least.priority > priority and least.wanted:
                least.wanted, least.again = False, True
            if len(self._threads) < min(WORKERS, len(self._waiting) + len(self._running)):
                self._threads.append(threading.Thread(target=self._serve, daemon=True, name="beside the window"))
                self._threads[-1].start()
            self._turn.notify()
        return job

    def give_up(self, job: _Job[Any]) -> None:
        """Nobody waits for it any more: at once when it has not begun, else as soon as it notices."""
        with self._turn:
            job.wanted, job.again = False, False
            if job in self._waiting:
                self._waiting.remove(job)
                job.over.set()

    def settle(self, job: _Job[Any]) -> None:
        """The window has seen the end of a job; with the last one the collector may run again."""
        self._known.discard(job)
        if not self._known:
            gc.enable()

    def _serve(self) -> None:
        while True:
            with self._turn:
                while not self._waiting:
                    self._turn.wait()
                job = min(self._waiting, key=lambda one: (one.priority, one.order))
                self._waiting.remove(job)
                self._running.append(job)
            answer, failed = None, None
            try:
                answer = job.work(job.tell)
            except Exception as why:
                failed = why
            with self._turn:
                self._running.remove(job)
                if job.again:
                    job.again, job.wanted = False, True
                    self._waiting.append(job)
                    continue
                if job.wanted:
                    job.answer, job.failed = answer, failed
                job.over.set()
            del job, answer, failed  # while nothing is waiting, nothing is held


QUEUE = WorkQueue()
"""The one queue of the process."""


class Background(QObject, Generic[T]):
    """A part of the window's place in the queue: one piece of work at a time; a new one gives up the one before, and
    starts once that has noticed: the window does not wait for it."""

    def __init__(self, parent: QObject, priority: int = SHOWN) -> None:
        super().__init__(parent)
        self.priority = priority
        self._timer = QTimer(self)
        self._timer.setInterval(LOOK_MS)
        self._timer.timeout.connect(self._look)
        self._job: _Job[T] | None = None
        self._next: Callable[[Progress], T | None] | None = None
        self._done: Callable[[T], None] | None = None
        self._moved: Callable[[float], None] | None = None
        self._failed: Callable[[StoutError], None] | None = None

    def start(
        self,
        work: Callable[[Progress], T | None],
        done: Callable[[T], None],
        moved: Callable[[float], None],
        failed: Callable[[StoutError], None] | None = None,
    ) -> None:
        """Do ``work`` beside the window; ``done`` gets its answer and ``moved`` how far it is, both in the window's
        own thread. ``failed`` gets a failure that can be explained to the user (any other is raised).

        ``work`` is given a function to call with its progress; when that answers False it should give up and return None. It may be
        asked to give up and be called again, when something more wanted has come in between.
        """
        self._done, self._moved, self._failed = done, moved, failed
        self._next = work
        if self._job is None:
            self._begin()
        else:
            QUEUE.give_up(self._job)

    @property
    def busy(self) -> bool:
        """Whether anything is queued or under way here."""
        return self._job is not None

    def _begin(self) -> None:
        work, self._next = self._next, None
        assert work is not None
        self._job = QUEUE.put(work, self.priority)
        self._timer.start()

    def stop(self) -> None:
        """Give up what is under way and wait until it has; its answer is never shown."""
        self._next = None
        if self._job is not None:
            QUEUE.give_up(self._job)
            self._job.over.wait()
            self._over()

    def drop(self) -> None:
        """Give up what is under way without waiting for it; its answer is never shown."""
        self._next = None
        if self._job is not None:
            QUEUE.give_up(self._job)

    def _over(self) -> None:
        self._timer.stop()
        if self._job is not None:
            QUEUE.settle(self._job)
        self._job = None

    def _look(self) -> None:
        job = self._job
        if job is None:
            return
        if not job.over.is_set():
            if self._moved is not None and job.wanted:
                self._moved(job.part)
            return
        self._over()
        if self._next is not None:
            self._begin()
            return
        done, failed = self._done, self._failed
        self._done = self._moved = self._failed = None  # what they were made from is held no longer
        if isinstance(job.failed, StoutError) and failed is not None:
            failed(job.failed)
            return
        if job.failed is not None:
            raise job.failed
        if job.wanted and job.answer is not None and done is not None:
            done(job.answer)
