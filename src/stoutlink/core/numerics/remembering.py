"""Remembering answers for large values that never change: by identity, without reading them through.

Source: memoisation by identity.
"""

from __future__ import annotations

import threading
from collections.abc import Callable
from datetime import date
from functools import wraps
from typing import ParamSpec, TypeVar, cast

P = ParamSpec("P")
R = TypeVar("R")


class LastAnswers:
    """The last few answers by a key of immutable values, told apart by identity (numbers and texts by value), for
    functions whose other arguments only carry what the key already says. Any number of threads may ask at once; what
    two of them ask for at the same time may be made twice.

    >>> kept = LastAnswers(); kept.get(("a", 1), lambda: "made"), kept.get(("a", 1), lambda: "not made again")
    ('made', 'made')
    """

    def __init__(self, most: int = 4, same: Callable[[object, object], bool] | None = None) -> None:
        self._most = most
        self._same = same_value if same is None else same
        self._kept: list[tuple[tuple[object, ...], object]] = []
        self._lock = threading.Lock()

    def get(self, key: tuple[object, ...], make: Callable[[], R]) -> R:
        """The answer kept for ``key``, else the one ``make`` gives."""
        found = self.peek(key)
        if found is not None:
            return cast(R, found[0])
        made = make()
        with self._lock:
            self._kept.insert(0, (key, made))
            del self._kept[self._most :]
        return made

    def peek(self, key: tuple[object, ...]) -> tuple[object] | None:
        """The answer kept for ``key``, alone in a tuple; ``None`` when there is none."""
        with self._lock:
            for i, (known, answer) in enumerate(self._kept):
                if len(known) != len(key):
                    continue
                for one, other in zip(known, key):  # noqa: B905 - as long as one another, and asked often
                    if one is not other and not self._same(one, other):
                        break
                else:
                    if i:
                        self._kept.insert(0, self._kept.pop(i))
                    return (answer,)
        return None


def same_value(one: object, two: object) -> bool:
    """Whether two parts of a key are the very same value; numbers, texts and days by value.

    ``one`` and ``other`` are whatever a key was made of.

    >>> a = (1, 2); same_value(a, a), same_value(a, tuple([1, 2])), same_value("in", "".join(["i", "n"]))
    (True, False, True)
    """
    return one is two or (isinstance(one, int | float | str | date) and one == two)


def remember_by_identity(most: int = 8) -> Callable[[Callable[P, R]], Callable[P, R]]:
    """Keep the last ``most`` answers of a pure function of immutable positional arguments.

    Large arguments (tuples and frozen values) are told apart by identity, which costs nothing however long they are;
    numbers and texts by value. An equal but other tuple is worked out again: right, only slower. Not for functions
    with keyword arguments.

    >>> calls = []
    >>> @remember_by_identity()
    ... def total(values): calls.append(1); return sum(values)
    >>> a = (1, 2, 3)
    >>> total(a), total(a), len(calls)
    (6, 6, 1)
    """

    def wrap(function: Callable[P, R]) -> Callable[P, R]:
        kept = LastAnswers(most)

        @wraps(function)
        def remembered(*args: P.args, **kwargs: P.kwargs) -> R:
            return kept.get(args, lambda: function(*args, **kwargs))

        return remembered

    return wrap
