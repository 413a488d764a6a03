"""Remembered answers asked for by several threads at once."""

from __future__ import annotations

import threading
import time

from stoutlink.core.numerics.remembering import LastAnswers


class Slow(str):
    """A text that lets other threads in while it is compared."""

    __hash__ = str.__hash__

    def __eq__(self, other: object) -> bool:
        time.sleep(0)
        return str.__eq__(self, other)


def test_seven_threads_share_the_last_answers_without_harm() -> None:
    kept, failed = LastAnswers(3), []
    keys = [(Slow(n), n) for n in range(6)]

    def ask(seed: int) -> None:
        try:
            for i in range(600):
                key = keys[(i * seed + seed) % len(keys)]
                if kept.get(key, lambda key=key: key[1]) != key[1]:  # type: ignore[misc]
                    failed.append("another's answer")
        except Exception as why:
            failed.append(repr(why))

    threads = [threading.Thread(target=ask, args=(n,)) for n in (1, 2, 3, 5, 7, 11, 13)]
    for one in threads:
        one.start()
    for one in threads:
        one.join()
    assert failed == []
