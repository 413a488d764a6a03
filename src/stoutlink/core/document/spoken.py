"""Places of the project as they are called: titles of fields and the names that things were given, in place of paths."""

from __future__ import annotations

import re

from stoutlink.core.document.paths import field_info, get_value
from stoutlink.core.document.project import Project

_PATH = re.compile(
    r"\b(?:rig|layouts|joints|solids|donors|targets|surveys|springs|prices|shelf|inspections)(?:\.[A-Za-z0-9_-]+)+"
)
_KEY = re.compile(r"\b[a-z]+(?:_[a-z]+)*_(?:m|pa|rad|kg|nm|mm|m3|n_per_m)\b")
_ENDS = re.compile(r"\b(front|rear)_(donor|layout|compare)\b")
_ROLES = {"donor": "axle", "layout": "layout", "compare": "layout to compare"}
_UNIT = re.compile(r"_(?:m|pa|rad|kg|nm|mm|m3|n_per_m)$")


def spoken(project: Project, sentence: str) -> str:
    """``sentence`` with every path of the project in it said as a person would.

    >>> from stoutlink.demo import demo_file; from stoutlink.core.storage.files import read_project
    >>> p = read_project(demo_file("basalt.stoutlink"))
    >>> spoken(p, "rig.rear.loaded_radius_m is 9″; layouts.rear-a.links.upper_left: frame_pivot_m is off.")
    'Loaded radius (rear) is 9″; Left upper of Rear four-link, first cut: frame pivot is off.'
    """
    said = _PATH.sub(lambda m: _place(project, m[0]), sentence)
    said = _ENDS.sub(lambda m: f"{m[1]} {_ROLES[m[2]]}", said)
    said = _KEY.sub(lambda m: _UNIT.sub("", m[0]).replace("_", " "), said)
    return said[:1].upper() + said[1:]


def _place(project: Project, path: str) -> str:
    """One path: what the field is called, what it is a part of, and whose it is."""
    parts = path.split(".")
    owners: list[str] = []
    rest: list[str] = []
    here = ""
    for i, part in enumerate(parts):
        here = f"{here}.{part}" if here else part
        try:
            name = getattr(get_value(project, here), "name", "")
        except KeyError:
            name = ""
        if isinstance(name, str) and name and part != "rig":
            owners.insert(0, name)
            rest = []
        elif i:
            rest.append(_UNIT.sub("", part).replace("_", " "))
    if not rest or (owners and rest == ["links"]):
        return " of ".join(owners) or parts[0]
    try:
        title = field_info(project, path).title
    except (KeyError, ValueError, TypeError):
        title = ""
    if title in ("", "Coordinate") or rest[-1].isdigit():
        field = " ".join(rest)
    else:
        field = title + (f" ({' '.join(rest[:-1])})" if rest[:-1] else "")
    return f"{field} of {' of '.join(owners)}" if owners else field
