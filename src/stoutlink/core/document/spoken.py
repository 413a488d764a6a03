"""Places of the project as they are called: titles of fields and the names that things were given, in place of paths."""

from __future__ import annotations

import re

from stoutlink.core.document.called import place_words, plain_key
from stoutlink.core.document.paths import get_value
from stoutlink.core.document.project import PARTS, Project

_PATH = re.compile(rf"\b(?:{'|'.join(PARTS)})(?:\.[A-Za-z0-9_-]+)+")
_KEY = re.compile(r"\b[a-z]+(?:_[a-z]+)*_(?:m|pa|rad|kg|nm|mm|m3|n_per_m)\b")
_ENDS = re.compile(r"\b(front|rear)_(donor|layout|compare)\b")
_ROLES = {"donor": "axle", "layout": "layout", "compare": "layout to compare"}


def spoken(project: Project, sentence: str) -> str:
    """``sentence`` with every path of the project in it said as a person would.

    >>> from stoutlink.demo import demo_file; from stoutlink.core.storage.files import read_project
    >>> p = read_project(demo_file("basalt.stoutlink"))
    >>> spoken(p, "rig.rear.loaded_radius_m is 9″; layouts.rear-a.links.upper_left: frame_pivot_m is off.")
    'Loaded radius (rear) is 9″; Left upper of Rear four-link, first cut: frame pivot is off.'
    """
    said = _PATH.sub(lambda m: _place(project, m[0]), sentence)
    said = _ENDS.sub(lambda m: f"{m[1]} {_ROLES[m[2]]}", said)
    said = _KEY.sub(lambda m: plain_key(m[0]), said)
    return said[:1].upper() + said[1:]


def _place(project: Project, path: str) -> str:
    """One path: what the field is called, what it is a part of, and whose it is."""

    def name_of(parts: tuple[str, ...]) -> str:
        try:
            name = getattr(get_value(project, ".".join(parts)), "name", "")
        except KeyError:
            return ""
        return name if isinstance(name, str) else ""

    return place_words(tuple(path.split(".")), name_of)
