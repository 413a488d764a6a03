"""The sheets of the steps, each made when it is first wanted: a start waits for the one in view alone."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping

from stoutlink.app.steps import registry
from stoutlink.app.steps.step import S, Sheet, Step


class Sheets(Mapping[str, Sheet]):
    """By the id of their step, in the order of the route. ``make`` makes one, and is asked once for each."""

    def __init__(self, make: Callable[[Step], Sheet]) -> None:
        self._make = make
        self._steps = {one.id: one for one in registry.STEPS}
        self._made: dict[str, Sheet] = {}

    def __getitem__(self, step: str) -> Sheet:
        if step not in self._made:
            self._made[step] = self._make(self._steps[step])
        return self._made[step]

    def __iter__(self) -> Iterator[str]:
        return iter(self._steps)

    def __len__(self) -> int:
        return len(self._steps)

    def made(self) -> tuple[Sheet, ...]:
        """Those that are there: one that is made later knows nothing of what was before it."""
        return tuple(self._made.values())

    def of(self, kind: type[S]) -> S:
        """The sheet of a class."""
        found = next(self[one.id] for one in self._steps.values() if issubclass(one.kind, kind))
        assert isinstance(found, kind)
        return found

    def make_one(self) -> bool:
        """Make one that nobody has wanted yet; ``False`` when all are there."""
        missing = [step for step in self if step not in self._made]
        return bool(missing) and self[missing[0]] is not None
