"""Whatever can be entered can be saved and opened again: every number field with every value and ± it takes, texts of
any length and kind, lists as long as they come."""

from __future__ import annotations

import os
import random
from collections.abc import Iterator
from typing import Any

import msgspec
import pytest

from stoutlink.core.document.paths import field_info, get_value, parts_of
from stoutlink.core.document.project import Project
from stoutlink.core.editing.edits import AcceptKnockOn, Edit, MovePivot, PutInList, SetChoice, SetNumber, SetSource
from stoutlink.core.editing.layout_edits import CopyLayout
from stoutlink.core.errors import StoutError, TextError
from stoutlink.core.quantity.constants import INCH, POUND_FORCE
from stoutlink.core.quantity.shown import edit_text, parse_typed
from stoutlink.core.storage.decode import decode_project, encode_project
from stoutlink.core.storage.files import read_project
from stoutlink.demo import demo_file

KSI = 1000 * POUND_FORCE / INCH**2


def number_fields(value: Any, path: str = "") -> Iterator[str]:
    """Paths of all numbers of a project, empty ones too."""
    if isinstance(value, msgspec.Struct):
        for name, here in parts_of(value):
            yield from number_fields(here, f"{path}.{name}" if path else name)
    elif isinstance(value, tuple):
        for i, one in enumerate(value[:4]):
            yield from number_fields(one, f"{path}.{getattr(one, 'id', i)}")
    elif value is None or (isinstance(value, int | float) and not isinstance(value, bool)):
        yield path


def opens_again(project: Project, edit: Edit) -> bool:
    """Do an edit; when it is taken, what comes of it must be the same after a file."""
    try:
        after = edit.apply(project)
    except StoutError:
        return False
    assert decode_project(encode_project(after)) == after, edit
    return True


@pytest.mark.parametrize("name", ["basalt", "tamarack"])
def test_every_number_with_every_value_and_doubt_it_takes(name: str) -> None:
    project, rng = read_project(demo_file(f"{name}.stoutlink")), random.Random(5)
    taken = fields = 0
    every = 1 if os.environ.get("EVERY_ENTRY") else 6
    for path in list(number_fields(project))[name == "basalt" :: every]:
        if path.startswith(("entries", "version")):
            continue
        try:
            info = field_info(project, path)
        except KeyError:
            continue
        fields += 1
        value = rng.choice([info.low, info.high, rng.uniform(info.low, info.high), get_value(project, path)])
        value = round(value) if info.whole and value is not None else value
        sigma = rng.choice([None, 0.0, (info.high - info.low) / 2, (info.high - info.low) * rng.random()])
        text = "" if value is None else edit_text(value, info.kind, rng.choice(["in", "mm"]))
        taken += opens_again(project, SetNumber(path, value, rng.choice(["", text, "1" * 90]), "measured", "", sigma))
        opens_again(project, SetSource(path, "estimated", sigma))
    assert fields > 400 / every
    assert taken > 0.4 * fields  # the others go against the rest of the rig, and are refused


def test_a_strength_and_its_doubt(basalt: Project) -> None:
    """150 ± 10 ksi: half of the ± is 34 MPa, far more in the number's own unit than any length could be."""
    path = f"donors.{basalt.swap.donors[0].id}.shaft_yield_pa"
    typed = parse_typed("150 ± 10", "stress", "in")
    assert typed.sigma == pytest.approx(5 * KSI)
    after = SetNumber(path, typed.value, typed.text, "measured", "", typed.sigma).apply(basalt)
    assert decode_project(encode_project(after)) == after
    entry = after.entry(path)
    assert entry is not None
    assert entry.sigma == pytest.approx(34.47e6, rel=1e-3)
    with pytest.raises(StoutError, match="cannot be ± 10000 ksi; accepted is from 0 to"):
        SetNumber(path, typed.value, typed.text, "measured", "", 5000 * KSI).apply(basalt)
    with pytest.raises(StoutError, match="cannot be ±"):
        SetSource(path, "measured", float("nan")).apply(basalt)


@pytest.mark.parametrize(
    "text",
    ["", " ", "x" * 119, "x" * 121, "x" * 5000, "a\nb", "\ud83d", "\x00", "\u202eabc", "=1+1", "“”", "🛻" * 60, "a\tb"],
)
def test_any_text(basalt: Project, text: str) -> None:
    layout = basalt.linkage.layouts[0]
    for path in ("name", "notes", "rig.name", "rig.front.tyre_text", f"layouts.{layout.id}.name", "choosing.currency"):
        try:
            after = SetChoice(path, text).apply(basalt)
        except StoutError:
            continue
        assert get_value(decode_project(encode_project(after)), path) == text.replace("\ud83d", "\ufffd")
    for edit in (
        AcceptKnockOn(("A101 x",), "today", text),
        AcceptKnockOn(("A101 " + text,), text[:40], "because"),
        CopyLayout(layout.id, "again", text),
        MovePivot(layout.id, layout.links[0].id, "frame", (0.9, 0.4, 0.8), texts=(text, "", "")),
        PutInList("rig.weight.items", msgspec.structs.replace(basalt.rig.weight.items[0], name=text), "x"),
    ):
        try:
            after = edit.apply(basalt)
        except StoutError:
            continue
        assert encode_project(decode_project(encode_project(after))) == encode_project(after)


def test_what_is_too_long_is_said_by_its_place(basalt: Project) -> None:
    item = msgspec.structs.replace(basalt.rig.weight.items[0], name="x" * 121)
    words = r"Name cannot be “x{18,20}…x{18,20}”; accepted is text of at most 120 characters"
    with pytest.raises(StoutError, match=words):
        PutInList("rig.weight.items", item, "x").apply(basalt)
    with pytest.raises(StoutError, match=r"[Ww]hy cannot be “.*”; accepted is text of at most 4000 characters"):
        AcceptKnockOn(("A101 x",), "today", "x" * 4001).apply(basalt)


@pytest.mark.parametrize(
    ("text", "where"), [("34 ±", "after"), ("± 1/2", "before"), ("~ ±", "before"), ("34 +/- ", "after")]
)
def test_half_a_doubt(text: str, where: str) -> None:
    """Q106: what is missing is named, not that nothing was typed."""
    with pytest.raises(TextError, match=f"has no number {where} the ±") as caught:
        parse_typed(text, "length", "in")
    assert caught.value.code == "Q106"


def test_half_a_character_never_gets_into_a_project(basalt: Project) -> None:
    """A paste or a dialog may bring one; no file can hold it."""
    one = msgspec.structs.replace(basalt.rig.weight.items[0], id="odd", name="Winch \ud83d")
    for edit in (
        SetChoice("name", "Rig \udfff"),
        SetChoice("notes", "a\ud83db"),
        PutInList("rig.weight.items", one, "Add \ud83d"),
    ):
        after = edit.apply(basalt)
        assert decode_project(encode_project(after)) == after
        assert "\ufffd" in (after.name + after.notes + after.rig.weight.items[-1].name)
