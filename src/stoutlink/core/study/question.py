"""Questions to a project: each declares once the parts it rests on; its answer is kept for as long as those are the very same.

A part is a small function of the study that gives immutable values. They are told apart by identity (numbers and texts by
value, tuples item by item), so asking costs next to nothing however large the project is. What a question raises is kept like
an answer; work that was given up is not.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Any, Concatenate, ParamSpec, TypeVar, cast

from stoutlink.core.errors import StoutError
from stoutlink.core.numerics.remembering import LastAnswers, same_value

P = ParamSpec("P")
R = TypeVar("R")
S = TypeVar("S", bound="Asked")
Part = Callable[..., object]
"""``(study, *arguments of the question) -> value``; further arguments are left out where a part does not want them."""
KEPT = 6
"""Answers kept of one question about one end: undo and redo find theirs again."""
FEW = 3
"""Of questions whose answers, or what they are asked of, are megabytes: a whole travel."""


class GivenUp(Exception):
    """Nobody waits for the answer any more; what was begun is not kept."""


class Answers:
    """What has been answered so far, handed on from study to study of one project."""

    def __init__(self) -> None:
        self._kept: dict[tuple[str, ...], LastAnswers] = {}

    def of(self, name: tuple[str, ...], most: int) -> LastAnswers:
        """The last answers to one question."""
        found = self._kept.get(name)
        return found if found is not None else self._kept.setdefault(name, LastAnswers(most, same_parts))

    def forget(self) -> None:
        """Keep nothing of what was answered so far: nobody asks these studies any more."""
        self._kept = {}


class Asked:
    """Base of what can be asked: holds the answers."""

    def __init__(self, answers: Answers | None = None) -> None:
        self.answers = answers if answers is not None else Answers()


def same_parts(one: object, two: object) -> bool:
    """Whether two values a question rests on are the very same; tuples by their items.

    >>> a, b = object(), object(); same_parts((a, "in"), (a, "in")), same_parts((a,), (b,))
    (True, False)
    """
    if one is two:
        return True
    if isinstance(one, tuple):
        if type(one) is not type(two) or len(one) != len(two):
            return False
        for a, b in zip(one, two):  # noqa: B905, SIM110 - as long as one another, and asked often
            if a is not b and not same_parts(a, b):
                return False
        return True
    return same_value(one, two)


class Refusal:
    """A question's explained failure, kept like an answer."""

    def __init__(self, why: StoutError) -> None:
        self.why = why


def question(
    *parts: Part, keep: int = KEPT
) -> Callable[[Callable[Concatenate[S, P], R]], Callable[Concatenate[S, P], R]]:
    """Make a method of a study a question that rests on ``parts`` and on its arguments.

    A keyword argument ``going`` (progress and giving up) is not part of the question.
    """

    def wrap(work: Callable[Concatenate[S, P], R]) -> Callable[Concatenate[S, P], R]:
        name = work.__name__
        wants = [part.__code__.co_argcount - 1 for part in parts]

        def key(study: S, args: tuple[object, ...]) -> tuple[object, ...]:
            return (*args, *(part(study, *args[:n]) for part, n in zip(parts, wants, strict=True)))

        def kept(study: S, args: tuple[object, ...]) -> LastAnswers:
            return study.answers.of((name, *(a for a in args if isinstance(a, str))), keep)

        @wraps(work)
        def ask(study: S, *args: P.args, **kwargs: P.kwargs) -> R:
            def make() -> object:
                try:
                    return work(study, *args, **kwargs)
                except StoutError as why:
                    return Refusal(why)

            answer = kept(study, args).get(key(study, args), make)
            if isinstance(answer, Refusal):
                raise answer.why
            return cast(R, answer)

        def known(study: S, *args: object) -> tuple[bool, object]:
            found = kept(study, args).peek(key(study, args))
            return found is not None, None if found is None or isinstance(found[0], Refusal) else found[0]

        ask.known = known  # type: ignore[attr-defined]
        ask.key = key  # type: ignore[attr-defined]
        ask.parts = parts  # type: ignore[attr-defined]
        return cast(Callable[Concatenate[S, P], R], ask)

    return wrap


def known(bound: Any, *args: object) -> tuple[bool, Any]:
    """Whether a question has been answered for the project as it is, and the answer (``None`` for a refusal): nothing
    is worked out."""
    found: tuple[bool, Any] = bound.__func__.known(bound.__self__, *args)
    return found


def rests_on_the_same(bound: Any, *args: object, of: Asked) -> bool:
    """Whether the answer of another study to the same question is this one's too."""
    key = bound.__func__.key
    return same_parts(key(bound.__self__, args), key(of, args))
