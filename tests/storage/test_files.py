"""Project files: nothing lost on the way, every kind of bad file explained in one sentence, a failing disk survived."""

from __future__ import annotations

import errno
import json
import os
from pathlib import Path
from typing import Any

import jsonschema
import msgspec
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from stoutlink.core.document.project import Project
from stoutlink.core.editing.edits import MovePivot, SetNumber
from stoutlink.core.errors import FileError, StoutError
from stoutlink.core.storage.decode import decode_project, encode_project
from stoutlink.core.storage.files import read_project, write_project
from stoutlink.core.storage.schema import project_schema
from stoutlink.demo import demo_file


def _plain() -> dict[str, Any]:
    raw: dict[str, Any] = json.loads(demo_file("basalt.stoutlink").read_text(encoding="utf-8"))
    return raw


def _with(path: str, value: Any) -> bytes:
    raw = _plain()
    here: Any = raw
    parts = path.split(".")
    for part in parts[:-1]:
        here = here[int(part)] if part.isdigit() else here[part]
    last: Any = int(parts[-1]) if parts[-1].isdigit() else parts[-1]
    if value is ...:
        del here[last]
    else:
        here[last] = value
    return json.dumps(raw).encode()


coordinate = st.floats(-1.9, 1.9, allow_nan=False)


@settings(max_examples=40)
@given(st.tuples(coordinate, coordinate, coordinate), st.floats(0.3, 2.9), st.text(min_size=1, max_size=30))
def test_round_trip_loses_nothing(point: tuple[float, float, float], height: float, name: str) -> None:
    project = read_project(demo_file("basalt.stoutlink"))
    project = MovePivot("rear-a", "upper_left", "frame", point, texts=("1 1/2", "", "")).apply(project)
    project = SetNumber("rig.cg_height_m", height, "33 1/2", "measured").apply(project)
    project = msgspec.structs.replace(project, name=name)
    assert decode_project(encode_project(project)) == project


def test_the_schema_accepts_what_is_written_and_refuses_what_is_not() -> None:
    schema = project_schema()
    jsonschema.Draft202012Validator.check_schema(schema)
    jsonschema.validate(_plain(), schema)
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate(json.loads(_with("rig.wheelbase_m", -1)), schema)


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", ["empty"]),
        (b"   ", ["empty"]),
        (b"\xff\xfe\x00", ["UTF-8"]),
        (b"hello", ["not JSON"]),
        (b"[1, 2]", ["list"]),
        (b"5", ["number"]),
        *((demo_file("basalt.stoutlink").read_bytes()[: 800 + n], ["cut off"]) for n in range(0, 220, 11)),
        (b'{"format": nul', ["cut off"]),
        (b'{"format": t', ["cut off"]),
        (b'{"format": -', ["cut off"]),
        (b'{"format": nil}', ["not JSON"]),
        (b"[" * 200_000, ["nested"]),
        (b'{"format": "stout-link-project", "format": "x"}', ["format", "twice"]),
        (_with("format", "other"), ["format", "other"]),
        (_with("format", ...), ["format", "missing"]),
        (_with("version", 99), ["newer", "99"]),
        (_with("version", 0), ["version is 0"]),
        (_with("version", "1"), ["version", "“1”"]),
        (_with("rig.wheelbase_m", float("nan")), ["Wheelbase is NaN"]),
        (
            _with("layouts.0.links.1.axle_pivot_m.2", float("inf")),
            ["Axle pivot height of Right upper of Rear four-link, first cut is infinite"],
        ),
        (_with("rig.cg_height_m", 1e5).replace(b"100000.0", b"1e999"), ["Centre of gravity height is infinite"]),
        (_with("rig.mass_kg", -3), ["Weight is −7 lb; accepted is 220 lb"]),
        (_with("rig.mass_kg", "heavy"), ["Weight is “heavy”; accepted is a number"]),
        (_with("rig.mass_kg", None), ["Weight is null; accepted is a number"]),
        (_with("rig.mass_kg", True), ["Weight is true"]),
        (_with("rig.wheelbase_m", 40.0), ["Wheelbase is 1574.80″; accepted is 39.37″ to 314.96″"]),
        (_with("rig.rear.loaded_radius_m", 0.9), ["Loaded radius (rear) is 35.43″"]),
        (_with("rig.cg_ahead_of_rear_m", 4.0), ["Centre of gravity ahead of rear axle is 157.48″"]),
        (_with("rig.wheelbase_m", ...), ["Rig", "wheelbase_m"]),
        (_with("rig.wheels", 3), ["wheels", "not known"]),
        (_with("rig.drivetrain.coupling", "racing"), ["Drivetrain coupling is “racing”; accepted is "]),
        (_with("rear_donor", "nobody"), ["Rear axle", "nobody"]),
        (_with("rear_donor", "gs-30f"), ["Rear axle", "front"]),
        (_with("rear_layout", "gone"), ["Rear layout", "gone"]),
        (
            _with("layouts.0.links.0.frame_end.joint", "nope"),
            ["Frame end joint of Left upper of Rear four-link", "nope"],
        ),
        (_with("layouts.0.links.1.id", "upper_left"), ["upper_left", "twice"]),
        (
            _with("layouts.0.links.0.axle_pivot_m", _plain()["layouts"][0]["links"][0]["frame_pivot_m"]),
            ["Left upper", "same point"],
        ),
        (
            _with("layouts.0.links.0.tube_wall_m", 0.05),
            ["Tube wall of Left upper of Rear four-link, first cut is 1.97″"],
        ),
        (
            _with("layouts.0.links.0.frame_pivot_m", [1.0, 2.0]),
            ["Frame pivot of Left upper of Rear four-link, first cut"],
        ),
        (_with("joints.0.thread_pitch_m", None), ["1 1/8-12 rod end, right"]),
    ],
)
def test_every_bad_file_gets_one_sentence(data: bytes, words: list[str]) -> None:
    with pytest.raises(StoutError) as caught:
        decode_project(data, "bad.stoutlink")
    for word in words:
        assert word in caught.value.sentence
    assert caught.value.sentence.rstrip().endswith(".")
    assert "\n" not in caught.value.sentence


def test_missing_and_folder_are_explained(tmp_path: Path) -> None:
    with pytest.raises(FileError, match="no such file"):
        read_project(tmp_path / "nothing.stoutlink")
    with pytest.raises(FileError, match="folder"):
        read_project(tmp_path)


def test_a_byte_order_mark_is_no_matter() -> None:
    assert decode_project(b"\xef\xbb\xbf" + demo_file("basalt.stoutlink").read_bytes()).name == "Basalt rear swap"


def test_saving_keeps_the_previous_file(basalt: Project, tmp_path: Path) -> None:
    path = tmp_path / "rig.stoutlink"
    write_project(basalt, path)
    first = path.read_bytes()
    changed = msgspec.structs.replace(basalt, name="Second")
    write_project(changed, path)
    assert read_project(path) == changed
    assert (tmp_path / "rig.stoutlink.previous").read_bytes() == first
    assert sorted(p.name for p in tmp_path.glob("*rig*")) == ["rig.stoutlink", "rig.stoutlink.previous"]


@pytest.mark.parametrize("failing", ["fsync", "replace"])
def test_a_full_disk_leaves_the_old_file_whole(
    basalt: Project, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, failing: str
) -> None:
    path = tmp_path / "rig.stoutlink"
    write_project(basalt, path)
    before = path.read_bytes()

    def full(*_: object) -> None:
        raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))

    with monkeypatch.context() as patched:
        patched.setattr(os, failing, full)
        with pytest.raises(FileError, match="no space left"):
            write_project(msgspec.structs.replace(basalt, name="x"), path)
    assert path.read_bytes() == before
    assert not list(tmp_path.glob("*.part"))


def test_a_folder_that_cannot_be_written(basalt: Project) -> None:
    with pytest.raises(FileError, match="cannot be written"):
        write_project(basalt, Path("/proc/rig.stoutlink"))
