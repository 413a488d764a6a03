"""Finding every number of a project by its dotted path."""

from __future__ import annotations

from collections.abc import Iterator

import msgspec

from stoutlink.core.document.paths import parts_of


def number_paths(value: object, path: str = "", *, empty: bool = False) -> Iterator[str]:
    """Dotted paths of every number in a value; with ``empty`` also of what is not filled in and could be one."""
    if isinstance(value, msgspec.Struct):
        for name, here in parts_of(value):
            yield from number_paths(here, f"{path}.{name}" if path else name, empty=empty)
    elif isinstance(value, tuple):
        for i, one in enumerate(value):
            yield from number_paths(one, f"{path}.{getattr(one, 'id', i)}", empty=empty)
    elif isinstance(value, float) or (empty and value is None):
        yield path
