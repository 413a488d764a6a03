"""`find` on the command line: the window's search, its words, its exit codes, and what it writes."""

from __future__ import annotations

import json
from pathlib import Path

import msgspec
import pytest

from stoutlink.cli.main import main
from stoutlink.core.analysis.search.defaults import default_search
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.storage.files import read_project, write_project
from stoutlink.core.study.study import Study


@pytest.fixture
def wide(tmp_path: Path, basalt: Project) -> Path:
    """The demo with a search whose bands any layout meets: it is over soon."""
    layout = basalt.layout("rear")
    assert layout is not None
    search = default_search(basalt, layout)
    bands = tuple(msgspec.structs.replace(one, low=-1e3, high=1e3) for one in search.wants)
    search = msgspec.structs.replace(search, wants=bands)
    project = with_parts(basalt, searches=(search,))
    path = tmp_path / "wide.stoutlink"
    write_project(project, path)
    return path


def test_find_says_what_the_study_finds(capsys: pytest.CaptureFixture[str], wide: Path) -> None:
    project = read_project(wide)
    search = project.search("rear")
    assert search is not None
    expected = Study(project).find("rear", search)
    assert main(["find", str(wide), "--json"]) == 0
    data = json.loads(capsys.readouterr().out)
    assert len(data["answers"]) == len(expected.answers) > 0
    assert main(["find", str(wide)]) == 0
    lines = capsys.readouterr().out.splitlines()
    assert [line.split()[0] for line in lines[: len(expected.answers)]] == [
        str(i + 1) for i in range(len(expected.answers))
    ]
    assert read_project(wide) == project, "looking changes nothing"


def test_find_takes_its_answers_in_as_layouts_of_their_own(capsys: pytest.CaptureFixture[str], wide: Path) -> None:
    before = read_project(wide)
    assert main(["find", str(wide), "--take"]) == 0
    after = read_project(wide)
    new = after.linkage.layouts[len(before.linkage.layouts) :]
    assert f"{len(new)} layouts taken in" in capsys.readouterr().err
    assert len(new) > 0
    assert len({one.id for one in after.linkage.layouts}) == len(after.linkage.layouts)
    assert after.linkage.rear_layout == before.linkage.rear_layout
    for i, one in enumerate(new):
        assert one.name.endswith(f"found {i + 1}")
        assert one.end == "rear"


def test_find_without_links_names_the_file(capsys: pytest.CaptureFixture[str], tmp_path: Path, basalt: Project) -> None:
    path = tmp_path / "bare.stoutlink"
    write_project(with_parts(basalt, layouts=(), rear_layout=None, front_layout=None), path)
    assert main(["find", str(path)]) == 2
    said = capsys.readouterr().err
    assert "F134" in said
    assert "bare.stoutlink has no rear layout of links in use" in said
    assert "Traceback" not in said
    assert main(["travel", str(path)]) == 2
    assert "F135" in capsys.readouterr().err
