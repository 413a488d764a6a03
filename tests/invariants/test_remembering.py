"""Remembered answers asked for by several threads at once."""

from __future__ import annotations

import sys
import threading

from stoutlink.core.numerics.remembering import LastAnswers


class Slow(str):
    """A text that takes its time to be compared, as a long key does, so that other threads come in between."""

    __hash__ = str.__hash__

    def __eq__(self, other: object) -> bool:
        return sum(range(3)) == 3 and str.__eq__(self, other)


def test_seven_threads_share_the_last_answers_without_harm() -> None:
    kept = LastAnswers(3)
    failed: list[str] = []
    before = sys.getswitchinterval()
    sys.setswitchinterval(1e-7)

    def ask(seed: int) -> None:
        try:
            for i in range(8000):
                name = f"{(i * seed + seed) % 6}"
                if kept.get((Slow(name),), lambda name=name: name) != name:  # type: ignore[misc]
                    failed.append("another's answer")
        except Exception as why:
            failed.append(repr(why))

    threads = [threading.Thread(target=ask, args=(n,)) for n in (1, 2, 3, 5, 7, 11, 13)]
    for one in threads:
        one.start()
    for one in threads:
        one.join()
    sys.setswitchinterval(before)
    assert failed == []
