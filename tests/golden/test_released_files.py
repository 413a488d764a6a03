"""One project file of every released version still opens and is written back byte for byte by its own version."""

from __future__ import annotations

import pytest

from stoutlink.core.storage.decode import decode_project, encode_project
from stoutlink.core.storage.migrations import STEPS, migrate
from stoutlink.demo import demo_file


@pytest.mark.parametrize("name", ["basalt.stoutlink", "starter.stoutlink"])
def test_version_1_is_stable(name: str) -> None:
    data = demo_file(name).read_bytes()
    assert encode_project(decode_project(data)) == data


def test_steps_are_taken_in_order() -> None:
    steps = {1: lambda raw: raw | {"version": 2, "a": 1}, 2: lambda raw: raw | {"version": 3, "b": raw["a"] + 1}}
    assert migrate({"version": 1}, 1, steps, 3) == {"version": 3, "a": 1, "b": 2}
    assert STEPS == {}
