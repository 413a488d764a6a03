"""One project file of every released version still opens; the newest is written back byte for byte."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from stoutlink.core.document.project import VERSION
from stoutlink.core.storage.decode import decode_project, encode_project
from stoutlink.core.storage.migrations import STEPS, migrate
from stoutlink.demo import demo_file

FILES = Path(__file__).parent / "files"


@pytest.mark.parametrize("name", ["basalt.stoutlink", "starter.stoutlink"])
def test_the_newest_version_is_stable(name: str) -> None:
    data = demo_file(name).read_bytes()
    assert encode_project(decode_project(data)) == data


@pytest.mark.parametrize("name", ["basalt-v1.stoutlink", "starter-v1.stoutlink"])
def test_version_1_opens_and_keeps_its_numbers(name: str) -> None:
    data = (FILES / name).read_bytes()
    old, new = json.loads(data), decode_project(data)
    assert new.version == VERSION
    assert new.rig.uses.part(old["rig"]["use"]) == 1.0
    train = old["rig"]["drivetrain"]
    assert (new.rig.drivetrain.first_ratio, new.rig.drivetrain.top_ratio) == (train["first_ratio"], train["top_ratio"])
    assert new.rig.drivetrain.stall == train["converter_stall_ratio"]
    written: dict[str, Any] = json.loads(encode_project(new))
    for key in ("mass_kg", "cg_height_m", "cg_ahead_of_rear_m", "wheelbase_m", "name"):
        assert written["rig"][key] == old["rig"][key]
    _still_there(written["layouts"], old["layouts"])
    _same_donors(written["donors"], old["donors"])


@pytest.mark.parametrize("name", ["basalt-v2.stoutlink", "starter-v2.stoutlink"])
def test_version_2_opens_and_keeps_what_it_said(name: str) -> None:
    data = (FILES / name).read_bytes()
    old, new = json.loads(data), decode_project(data)
    assert new.version == VERSION
    written: dict[str, Any] = json.loads(encode_project(new))
    _travel_went_to_layouts(written, old)
    for key in ("layouts", "surveys", "solids", "entries", "joints", "settings", "rear_donor", "front_donor"):
        _still_there(written[key], old[key])
    for key, value in old["rig"].items():
        if key not in ("front", "rear"):
            _still_there(written["rig"][key], value)
    _same_donors(written["donors"], old["donors"])


@pytest.mark.parametrize("name", ["basalt-v3.stoutlink", "starter-v3.stoutlink"])
def test_version_3_opens_and_keeps_what_it_said(name: str) -> None:
    data = (FILES / name).read_bytes()
    old, new = json.loads(data), decode_project(data)
    assert new.version == VERSION
    written = json.loads(encode_project(new))
    _travel_went_to_layouts(written, old)
    _still_there({k: v for k, v in written.items() if k != "version"}, {k: v for k, v in old.items() if k != "version"})
    assert all(not one.brackets and one.leaf is None and one.steering is None for one in new.linkage.layouts)


@pytest.mark.parametrize("version", [5, 6])
@pytest.mark.parametrize("name", ["basalt", "starter", "tamarack"])
def test_versions_5_and_6_open_and_keep_what_they_said(name: str, version: int) -> None:
    data = (FILES / f"{name}-v{version}.stoutlink").read_bytes()
    old, new = json.loads(data), decode_project(data)
    assert (old["version"], new.version) == (version, VERSION)
    written = json.loads(encode_project(new))
    _travel_went_to_layouts(written, old)
    _still_there({k: v for k, v in written.items() if k != "version"}, {k: v for k, v in old.items() if k != "version"})


def test_what_was_typed_for_the_travel_of_both_ends_stands_at_each() -> None:
    old = json.loads((FILES / "tamarack-v6.stoutlink").read_bytes())
    old["entries"].append({"field": "settings.bump_m", "text": "4 3/8"})
    new = decode_project(json.dumps(old).encode())
    texts = {one.field: one.text for one in new.entries if one.field.endswith("bump_m")}
    assert texts == {f"layouts.{one.id}.bump_m": "4 3/8" for one in new.linkage.layouts}


@pytest.mark.parametrize("name", ["basalt-v4.stoutlink", "starter-v4.stoutlink", "tamarack-v4.stoutlink"])
def test_version_4_opens_and_keeps_what_it_said(name: str) -> None:
    data = (FILES / name).read_bytes()
    old, new = json.loads(data), decode_project(data)
    assert new.version == VERSION
    assert old["version"] == 4
    written = json.loads(encode_project(new))
    _travel_went_to_layouts(written, old)
    _still_there({k: v for k, v in written.items() if k != "version"}, {k: v for k, v in old.items() if k != "version"})
    assert all(one.anchors == () for one in new.linkage.layouts)


RENAMED = {"shut_m": "collapsed_m", "open_m": "extended_m"}


def _travel_went_to_layouts(new: Any, old: Any) -> None:
    """What version 6 and before asked of both ends is asked of every layout; taken out of ``old``."""
    travel = {key: old["settings"].pop(key) for key in ("bump_m", "droop_m")}
    assert all(one | travel == one for one in new["layouts"])


def _still_there(new: Any, old: Any) -> None:
    """Everything an old file said stands in the new one, at its place or under the name version 5 gave it."""
    if isinstance(old, dict):
        names = {**RENAMED, "block_m": "solid_m"} if "rate_n_per_m" in old else RENAMED
        for key, value in old.items():
            _still_there(new[names.get(key, key)], value)
    elif isinstance(old, list):
        assert len(new) == len(old)
        for a, b in zip(new, old, strict=True):
            _still_there(a, b)
    else:
        assert new == old


def _same_donors(new: list[dict[str, Any]], old: list[dict[str, Any]]) -> None:
    """Every old number is there; a price in words became a number."""
    assert len(new) == len(old)
    for one, was in zip(new, old, strict=True):
        assert {key: one[key] for key in was if key != "price"} == {
            key: value for key, value in was.items() if key != "price"
        }
        assert one["price"] == (float(was["price"]) if was["price"] else None)


def test_a_version_2_record_keeps_what_was_understood_and_words_for_a_price() -> None:
    raw = json.loads((FILES / "basalt-v2.stoutlink").read_bytes())
    for key in ("c_clips", "floating", "locker", "cut", "pinion_height", "shaft_yield_pa"):
        raw["donors"][0].pop(key, None)
    raw["donors"][0]["price"] = "about 300, brakes extra"
    donor = decode_project(json.dumps(raw).encode()).swap.donors[0]
    assert (donor.c_clips, donor.floating, donor.locker, donor.shaft_yield_pa) == (False, "full", "open", 900e6)
    assert donor.price is None
    assert "Price: about 300, brakes extra" in donor.notes


def test_steps_are_taken_in_order() -> None:
    steps = {1: lambda raw: raw | {"version": 2, "a": 1}, 2: lambda raw: raw | {"version": 3, "b": raw["a"] + 1}}
    assert migrate({"version": 1}, 1, steps, 3) == {"version": 3, "a": 1, "b": 2}
    assert set(STEPS) == set(range(1, VERSION))


def test_what_was_typed_for_a_renamed_length_comes_along() -> None:
    """Typed text and doubt stand beside the numbers, by path: those of shock and coil follow into version 5."""
    old = json.loads((FILES / "basalt-v4.stoutlink").read_bytes())
    fields = {
        "layouts.rear-a.shock.shut_m": "layouts.rear-a.shock.collapsed_m",
        "layouts.rear-a.shock.open_m": "layouts.rear-a.shock.extended_m",
        "layouts.rear-a.spring.block_m": "layouts.rear-a.spring.solid_m",
        f"springs.{old['springs'][0]['id']}.block_m": f"springs.{old['springs'][0]['id']}.solid_m",
    }
    old["entries"] += [{"field": field, "text": "18 1/4 in"} for field in fields]
    new = decode_project(json.dumps(old).encode())
    texts = {one.field: one.text for one in new.entries}
    for before, after in fields.items():
        assert texts[after] == "18 1/4 in"
        assert before not in texts
