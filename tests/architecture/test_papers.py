"""The papers name what the program reads and writes: every key, column and verb."""

from __future__ import annotations

import subprocess
from pathlib import Path
from typing import Any

import pytest

from stoutlink.core.codes import codes
from stoutlink.core.document.bench import CaseFit, CaseHole
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.reports.bench_results import bench_json
from stoutlink.core.reports.results import results
from stoutlink.core.storage.donor_table import COLUMNS
from stoutlink.core.storage.files import read_project
from stoutlink.core.storage.schema import project_schema
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file

ROOT = Path(__file__).parents[2]
DATA_NAMED = {
    "cut_list",
    "findings",
    "donors",
    "link_force_per_side_force",
    "plan_angles_deg",
    "included_angles_deg",
    "bind_m",
    "link_force_n",
    "bushing_give_m",
}
"""Objects whose keys are names from the project, or that the paper lists as a whole."""


def _paper(name: str) -> str:
    return (ROOT / name).read_text(encoding="utf-8")


def _keys(data: dict[str, Any]) -> set[str]:
    out: set[str] = set()
    for key, value in data.items():
        out.add(key)
        if isinstance(value, dict) and key not in DATA_NAMED:
            out |= _keys(value)
        if isinstance(value, list) and value and isinstance(value[0], dict):
            out |= _keys(value[0])
    return out


def test_every_key_of_the_results_is_in_the_paper(basalt: Project) -> None:
    paper = _paper("docs/command-line.md")
    wild = {"front_loaded_radius_m", "rear_loaded_radius_m", "front_rolling_radius_m", "rear_rolling_radius_m"}
    wild |= {"frame_thread_engaged_m", "axle_thread_engaged_m", "wheelbase_change_left_m", "wheelbase_change_right_m"}
    leaves = read_project(demo_file("tamarack.stoutlink"))
    for key in (
        (_keys(results(Study(basalt), ((0.05, 0.05),))) | _keys(results(Study(leaves))))
        - wild
        - {"axles", "donors", "rear", "front"}
    ):
        assert f"`{key}`" in paper or f".{key}`" in paper or f"`{key}[]`" in paper, key


def test_every_key_of_the_bench_is_in_the_paper(basalt: Project) -> None:
    paper = _paper("docs/command-line.md")
    fit = CaseFit(id="rear", left_cap_m=0.09, left_open_m=0.1, holes=(CaseHole(id="h"),))
    project = with_parts(basalt, cases=(fit,))
    assert [key for key in sorted(_keys(bench_json(Study(project)))) if f"`{key}`" not in paper and f"`{key}[]`" not in paper] == []  # fmt: skip


def test_every_field_of_the_project_file_is_in_the_paper() -> None:
    paper = _paper("docs/project-file.md")
    for name, kind in project_schema()["$defs"].items():
        if name == "DonorAxle":
            continue
        for key in kind["properties"]:
            assert f"`{key}`" in paper or f".{key}`" in paper or f"`{key}[]`" in paper, f"{name}.{key}"


def test_every_column_of_the_catalogue_is_in_the_paper() -> None:
    paper = _paper("docs/donor-catalogue.md")
    assert [c for c in COLUMNS if f"`{c}`" not in paper] == []


@pytest.mark.parametrize("verb", ["demo", "app", "test", "check", "shots", "bench", "mutate"])
def test_every_verb_of_run_is_explained(verb: str) -> None:
    assert f"`{verb}" in _paper("README.md")
    said = subprocess.run(["bash", str(ROOT / "run"), "help"], capture_output=True, text=True, check=True).stdout
    assert f"  {verb}" in said


def test_the_readme_opens_with_the_two_commands_and_links_real_pictures() -> None:
    readme = _paper("README.md")
    first = readme.split("```")[1]
    assert "./run demo" in first
    assert "./run test" in first
    pictures = [part.split(")")[0] for part in readme.split("](docs/screenshots/")[1:]]
    assert len(pictures) >= 4
    for name in pictures:
        assert (ROOT / "docs/screenshots" / name).stat().st_size > 20_000
    listed = [line.split()[0] for line in _paper("docs/screenshots/list.txt").splitlines() if line.strip()]
    assert {f"{name}.png" for name in listed} == set(pictures)


def test_every_code_is_named_in_a_test() -> None:
    """A finding or refusal that no test names could be silenced without anybody noticing."""
    tests = "".join(p.read_text(encoding="utf-8") for p in (ROOT / "tests").rglob("*.py"))
    missing = sorted(code for code in codes() if code not in tests)
    assert not missing
