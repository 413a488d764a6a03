"""Fixtures: the demo project, hand-made layouts, and folders of their own for everything that is written."""

from __future__ import annotations

import os
from functools import cache
from pathlib import Path

import hypothesis
import pytest

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from stoutlink.core.document.project import Project
from stoutlink.core.storage.files import read_project
from stoutlink.demo import demo_file

hypothesis.settings.register_profile("house", deadline=None)  # a busy machine is no fault of an example
hypothesis.settings.load_profile("house")


@pytest.fixture(autouse=True)
def own_folders(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Recovery, recent files and logs go to the test's own folder."""
    for name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_CACHE_HOME", "XDG_DATA_HOME"):
        monkeypatch.setenv(name, str(tmp_path / name.lower()))
    monkeypatch.setenv("HOME", str(tmp_path))


@cache
def _demo(name: str) -> Project:
    return read_project(demo_file(f"{name}.stoutlink"))


@pytest.fixture
def basalt() -> Project:
    """The demo project."""
    return _demo("basalt")


@pytest.fixture
def tamarack() -> Project:
    """The other demo project, on leaves behind."""
    return _demo("tamarack")
