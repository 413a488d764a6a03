"""What a field accepts is said in plain words, whatever its declaration is."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any, get_args

import msgspec
import pytest

from stoutlink.core.document.called import field_at, place_words, words_at
from stoutlink.core.document.paths import declared
from stoutlink.core.document.plain_words import accepted_plainly
from stoutlink.core.document.project import Project


def patterns() -> set[str]:
    """Every pattern that a text of a project must have."""
    found: set[str] = set()
    seen: set[Any] = set()

    def look(hint: Any) -> Iterator[Any]:
        for meta in getattr(hint, "__metadata__", ()):
            if isinstance(meta, msgspec.Meta) and meta.pattern is not None:
                found.add(str(meta.pattern))
        if isinstance(hint, type) and issubclass(hint, msgspec.Struct) and hint not in seen:
            seen.add(hint)
            yield from declared(hint).values()
        yield from get_args(hint)

    waiting = [Project]
    while waiting:
        waiting += list(look(waiting.pop()))
    return found


def test_every_pattern_has_words() -> None:
    every = patterns()
    assert len(every) > 5
    said = [accepted_plainly(f"str matching regex '{one}'") for one in sorted(every)]
    for words in said:
        assert not re.search(r"regex|\^|\[|another form", words), words
    assert len(set(said)) >= len(said) - 1  # two lists name things alike


@pytest.mark.parametrize(
    ("parts", "words"),
    [
        (("rig", "wheelbase_m"), "Wheelbase"),
        (("layouts", "a", "links", "b", "axle_pivot_m", "2"), "links b axle pivot height"),
        (("nothing", "here_m"), "here"),
        (("settings",), "settings"),
    ],
)
def test_a_place_without_names(parts: tuple[str, ...], words: str) -> None:
    said = place_words(parts, lambda _: "")
    assert said.endswith(words) or words in said, said
    assert "_m" not in said


def test_what_is_declared_where() -> None:
    info = field_at(("surveys", "any", "datum", "zero_sigma_m"))
    assert info is not None
    assert (info.low, info.high) == (0.0, 1.0)
    assert field_at(("rig",)) is None
    assert field_at(("rig", "name")) is None
    assert field_at(("layouts", "x", "links", "y", "frame_pivot_m")) is None
    assert words_at(("settings", "units")) == ("in", "mm")
    assert words_at(("rig", "wheelbase_m")) == ()
    assert set(words_at(("rig", "weight", "height_from"))) >= {"stated", "tilt"}
