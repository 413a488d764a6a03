"""Whether an entry changes any answer: every field of the document, changed in a project that has it, against every
question a study answers, as plain numbers and words.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, get_args, get_origin

import msgspec
import numpy as np

from stoutlink.core.document.checking import check_project
from stoutlink.core.document.project import GROUP_OF, Project
from stoutlink.core.document.quantities import Frozen
from stoutlink.core.errors import StoutError
from stoutlink.core.study.study import Study
from tests.study_questions import answer, asked_of_answers, gathered, questions

Field = tuple[str, str]
SLOW = (
    "travel",
    "hole_map",
    "ranking",
    "best_steering_holes",
    "plan_sheet",
    "plan_chance",
    "day_words",
    "log_words",
    "hill_of",
    "tuning",
    "next_readings",
)
NEVER = ("curve_sure", "travel_compared", "compared", "ladder_sure")
"""Questions that say again, slower, what others say."""


def plain(value: Any) -> Any:
    """An answer as numbers and words: what it was made from (project, rig, layout, record) left out."""
    if isinstance(value, Frozen):
        return getattr(value, "id", type(value).__name__)
    if isinstance(value, msgspec.Struct):
        own = {name: plain(getattr(value, name)) for name in value.__struct_fields__}
        return own | {
            name: plain(getattr(value, name))
            for name in ("torsional", "inertia", "whirl_part", "closed", "needed")
            if isinstance(getattr(type(value), name, None), property)
        }
    if isinstance(value, np.ndarray):
        return np.asarray(value).tobytes()
    if isinstance(value, dict):
        return {str(k): plain(v) for k, v in value.items()}
    if isinstance(value, list | tuple):
        return [plain(v) for v in value]
    return repr(value) if callable(value) is False else None


def asked(study: Study) -> Iterator[tuple[str, tuple[Any, ...]]]:
    """Every question with its arguments, quick ones first."""
    both: list[tuple[str, tuple[Any, ...]]] = [*questions(study.project), *gathered(), *asked_of_answers(study)]
    yield from sorted((q for q in both if q[0] not in NEVER), key=lambda q: q[0] in SLOW)


def places(value: Any, path: str = "") -> Iterator[tuple[Field, str, Any, Any]]:
    """Every field of every struct in a value: (struct, field), path, value and annotation."""
    if isinstance(value, msgspec.Struct):
        kinds = msgspec.structs.fields(type(value))
        for field in kinds:
            here = getattr(value, field.name)
            if isinstance(value, Project) and field.name in GROUP_OF.values():
                yield from places(here)  # a path does not name groups
                continue
            at = f"{path}.{field.name}" if path else field.name
            if isinstance(here, msgspec.Struct) or (
                isinstance(here, tuple) and here and isinstance(here[0], msgspec.Struct)
            ):
                yield from places(here, at)
            elif isinstance(here, tuple) and field.name.endswith("_m") and here and isinstance(here[0], float | tuple):
                yield (type(value).__name__, field.name), at, here, field.type
            else:
                yield (type(value).__name__, field.name), at, here, field.type
    elif isinstance(value, tuple):
        for i, one in enumerate(value):
            yield from places(one, f"{path}.{getattr(one, 'id', i)}")


def others(here: Any, kind: Any) -> Iterator[Any]:
    """Other values a field could have."""
    kinds, low, high = _taken(kind)
    if isinstance(here, bool):
        yield not here
    elif isinstance(here, int) and not isinstance(here, bool):
        yield from (here + 1, here - 1)
    elif isinstance(here, float):
        near = (0.5 * here, 1.6 * here + 0.02, here * 1.05 + 0.004, here * 0.95 - 0.004)
        for moved in (*near, low + 0.01 * (high - low), low + 0.5 * (high - low)):
            if low <= moved <= high:
                yield moved
    elif isinstance(here, tuple) and here and isinstance(here[0], float):
        yield tuple(v + 0.02 for v in here)
    elif here is None and float in kinds:
        for part in (0.02, 0.1, 0.3):
            yield low + part * (high - low)
    elif here is None and int in kinds:
        yield int(low + 0.2 * (high - low))
    if isinstance(here, tuple) and not here and tuple in kinds:
        yield from ((value,) for value in sorted(k for k in kinds if isinstance(k, str)))
    for value in sorted((k for k in kinds if isinstance(k, str)), key=str):
        if value != here and not isinstance(here, tuple):
            yield value
    for value in kinds:
        if isinstance(value, str):
            continue
        if value is bool and here is None:
            yield from (True, False)
    if isinstance(here, str) and str in kinds:
        yield "another"
    if here is not None and type(None) in kinds:
        yield None


def _taken(kind: Any) -> tuple[set[Any], float, float]:
    """Types and words that an annotation takes, and its range."""
    kinds: set[Any] = set()
    low, high = 0.0, 1.0
    if hasattr(kind, "__metadata__"):
        for meta in kind.__metadata__:
            if isinstance(meta, msgspec.Meta):
                low, high = (meta.ge if meta.ge is not None else low), (meta.le if meta.le is not None else high)
        inner, a, b = _taken(kind.__origin__)
        return inner, (low if (low, high) != (0.0, 1.0) else a), (high if (low, high) != (0.0, 1.0) else b)
    args = get_args(kind)
    if not args:
        return {kind}, low, high
    if all(isinstance(a, str | int | bool) for a in args):
        return set(args), low, high
    for arg in args:
        if arg is Ellipsis:
            continue
        inner, a, b = _taken(arg)
        kinds |= inner
        if (a, b) != (0.0, 1.0):
            low, high = a, b
    if get_origin(kind) is tuple:
        kinds |= {tuple}
    return kinds, low, high


class Baseline:
    """A project with all its answers."""

    def __init__(self, project: Project) -> None:
        self.study = Study(project)
        self.asked = list(asked(self.study))
        self.answers = [answer(self.study, *one) for one in self.asked]

    def differs(self, project: Project) -> str | None:
        """The first question that a changed project answers otherwise; ``None`` where all stay the same."""
        after = Study(project, self.study)
        for (name, args), before in zip(self.asked, self.answers, strict=True):
            now_args = tuple(self._now(a, after) for a in args)
            now = answer(after, name, now_args)
            if now is not before and plain(now) != plain(before):
                return name
        return None

    def _now(self, arg: Any, after: Study) -> Any:
        """The argument of a question as the changed project has it."""
        if isinstance(arg, msgspec.Struct) and hasattr(arg, "id"):
            return next((d for d in after.project.swap.donors if d.id == arg.id), arg)
        if isinstance(arg, tuple):
            return tuple(self._now(a, after) for a in arg)
        if type(arg).__name__ == "AxleTravel":
            return after.travel(arg.layout.end)
        if type(arg).__name__ == "AxleMotion":
            return after.motion(arg.end)
        if type(arg).__name__ == "LeafAxle":
            return after.leaf(arg.layout.end)
        return arg


def taken(project: Project, path: str, value: Any) -> Project | None:
    """The project with a value at a path, where that is allowed."""
    from stoutlink.core.document.paths import with_value  # noqa: PLC0415 - the one use

    try:
        after = with_value(project, path, value)
        check_project(after)
        return msgspec.convert(msgspec.to_builtins(after), Project)
    except (StoutError, msgspec.ValidationError, KeyError, TypeError):
        return None
