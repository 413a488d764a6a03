"""The sheets of the steps, each made when it is first wanted: a start waits for the one in view alone."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QStackedWidget

from stoutlink.app.steps import registry
from stoutlink.app.steps.step import S, Sheet, Shell

AHEAD_MS = 60
"""Between one sheet and the next that is made before anybody wants it."""


class Sheets(Mapping[str, Sheet]):
    """By the id of their step, in the order of the route; each stands on ``stack`` once it is made."""

    def __init__(self, shell: Shell, stack: QStackedWidget) -> None:
        self._shell, self._stack = shell, stack
        self._arranged = False
        self._steps = {one.id: one for one in registry.STEPS}
        self._made: dict[str, Sheet] = {}

    def __getitem__(self, step: str) -> Sheet:
        return self._made[step] if step in self._made else self._make(step)

    def __iter__(self) -> Iterator[str]:
        return iter(self._steps)

    def __len__(self) -> int:
        return len(self._steps)

    def _make(self, step: str) -> Sheet:
        sheet = self._made[step] = self._steps[step].make(self._shell)
        self._stack.addWidget(sheet)
        if self._arranged:
            sheet.arrange()
        return sheet

    def made(self) -> tuple[Sheet, ...]:
        """Those that are there: one that is made later knows nothing of what was before it."""
        return tuple(self._made.values())

    def of(self, kind: type[S]) -> S:
        """The sheet of a class."""
        found = next(self[one.id] for one in self._steps.values() if issubclass(one.kind, kind))
        assert isinstance(found, kind)
        return found

    def arrange(self) -> None:
        """Have their views stand as the window remembers them, those that come later too."""
        self._arranged = True
        for one in self.made():
            one.arrange()

    def make_ahead(self) -> None:
        """Make those nobody has wanted yet, one at a time, whenever the hand leaves a moment for it."""
        missing = [step for step in self if step not in self._made]
        if missing and self._stack.isVisible():
            self._make(missing[0])
            QTimer.singleShot(AHEAD_MS, self.make_ahead)
