"""Memory given back to the system: what large passing arrays of many threads leave in the heap stays the program's for good
otherwise, a few megabytes an hour's work.
"""

from __future__ import annotations

import ctypes
from collections.abc import Callable

from PyQt6.QtCore import QObject, QTimer

from stoutlink.app.desk.background import AHEAD, Background, Progress

EVERY_MS = 20_000
ARENA_MAX = -8
"""``M_ARENA_MAX`` of the GNU C library."""


def _trimmer() -> Callable[[int], int] | None:
    """The C library's function that gives free memory back; other libraries than GNU's have none."""
    try:
        return ctypes.CDLL(None).malloc_trim
    except (OSError, AttributeError):
        return None


def one_heap() -> None:
    """Have all threads take their memory from one heap: each of a heap of its own keeps what its largest work took."""
    try:
        ctypes.CDLL(None).mallopt(ARENA_MAX, 1)
    except (OSError, AttributeError):
        return  # another C library


class GivingBack(QObject):
    """Gives back every so often, beside the window, a little each time so that nobody waits."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._trim = _trimmer()
        self._work: Background[bool] = Background(self, AHEAD)
        self._timer = QTimer(self)
        self._timer.setInterval(EVERY_MS)
        self._timer.timeout.connect(self.now)
        if self._trim is not None:
            self._timer.start()

    def now(self) -> None:
        """Give back what is free, unless that is under way."""
        trim = self._trim
        if trim is None or self._work.busy:
            return

        def work(tell: Progress) -> bool:
            return bool(trim(0))

        self._work.start(work, lambda gave: None, lambda part: None)

    def stop(self) -> None:
        """Leave off, before the window goes."""
        self._timer.stop()
        self._work.stop()
