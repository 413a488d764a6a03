"""The parts of a project in their groups, and the flat words of paths and files."""

import json

import pytest

from stoutlink.core.document.checking import check_project
from stoutlink.core.document.paths import (
    Gone,
    declared,
    field_info,
    first_difference,
    get_value,
    longest_list,
    parts_of,
    with_value,
)
from stoutlink.core.document.project import GROUP_OF, PARTS, Project, part_of, with_parts
from stoutlink.core.errors import FileError, ValueOutOfRange
from stoutlink.core.storage.decode import decode_project, encode_project

GROUPS = set(GROUP_OF.values())


def test_every_part_stands_in_one_place(basalt: Project) -> None:
    """No part is left out of the words of paths, none is there twice, and no group is a word of its own."""
    own = [name for name in Project.__struct_fields__ if name not in GROUPS]
    inside = [name for group in sorted(GROUPS) for name in type(getattr(basalt, group)).__struct_fields__]
    assert sorted(PARTS) == sorted([*own, *inside])
    assert len(set(PARTS)) == len(PARTS)
    assert not GROUPS & set(PARTS)
    assert {"tape", "swap", "linkage", "fabrication", "bench"} == GROUPS
    for group in GROUPS:
        with pytest.raises(Gone):
            get_value(basalt, group)


def test_a_file_names_no_group_and_holds_the_parts_in_their_order(basalt: Project) -> None:
    raw = json.loads(encode_project(basalt))
    assert tuple(raw) == PARTS
    raw["bench"] = {"gears": []}
    with pytest.raises(FileError, match="key “bench” that is not known") as found:
        decode_project(json.dumps(raw).encode())
    assert found.value.code == "F114"


@pytest.mark.parametrize("name", [n for n in PARTS if n not in ("format", "version")])
def test_another_part_leaves_every_other_the_very_same(basalt: Project, tamarack: Project, name: str) -> None:
    """By words and by :func:`with_parts`; told apart by the part's own word, and no group but its own is another."""
    other = part_of(tamarack, name)
    after = with_parts(basalt, **{name: other})
    assert after == with_value(basalt, name, other)
    assert part_of(after, name) is other
    assert get_value(after, name) is other
    for part, value in parts_of(after):
        assert part == name or value is part_of(basalt, part)
    for group in GROUPS - {GROUP_OF.get(name, "")}:
        assert getattr(after, group) is getattr(basalt, group)
    if other != part_of(basalt, name):
        assert (first_difference(basalt, after) or "").split(".")[0] == name


def test_a_name_twice_in_any_list_is_refused_after_an_edit_too(basalt: Project) -> None:
    """Photos were looked at when a file was opened, and no more after a change."""
    photo = basalt.tape.photos[0]
    twice = with_parts(basalt, photos=(photo, photo))
    for before in (None, basalt):
        with pytest.raises(ValueOutOfRange, match="twice") as found:
            check_project(twice, before)
        assert found.value.code == "D112"


def test_what_is_declared_is_found_without_the_group(basalt: Project) -> None:
    assert tuple(declared(Project)) == PARTS
    assert longest_list(basalt, "layouts") == 100
    assert field_info(basalt, "loads.ledge_m").title == "Ledge"
    with pytest.raises(TypeError):
        with_parts(basalt, nothing=1)
