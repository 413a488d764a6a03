"""Numbers at the ends of their ranges: the window paints, the results are numbers, the file round trips."""

from __future__ import annotations

import json
import random

import msgspec
import pytest

from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.rig.sheet import RigSheet
from stoutlink.core.document.paths import field_info
from stoutlink.core.document.project import Project
from stoutlink.core.editing.edits import PutInList, SetChoice, SetNumber
from stoutlink.core.reports.results import results
from stoutlink.core.storage.decode import decode_project, encode_project
from tests.walking import number_paths


def numbers(project: Project) -> list[str]:
    out = []
    for path in number_paths(project, empty=True):
        try:
            field_info(project, path)
        except KeyError:
            continue
        out.append(path)
    return out


@pytest.mark.parametrize("seed", range(6))
def test_whatever_is_typed_nothing_falls_over(window: MainWindow, seed: int) -> None:
    """Edits that are refused change nothing; those that are taken leave every sheet paintable and every result finite
    or null.
    """
    rng = random.Random(seed)
    w = window.workspace
    paths = numbers(w.project)
    assert len(paths) > 500
    for _ in range(25):
        path = rng.choice(paths)
        info = field_info(w.project, path)
        value = rng.choice([info.low, info.high, rng.uniform(info.low, info.high), None])
        before = w.project
        if not w.do(SetNumber(path, value)):
            assert w.project is before
    for key, words in (
        ("mass_from", ("stated", "scales", "items")),
        ("height_from", ("tilt", "items", "bell_housing", "stated")),
    ):
        w.do(SetChoice(f"rig.weight.{key}", rng.choice(words)))
    w.do(SetChoice("settings.units", rng.choice(("in", "mm"))))
    for step in window.sheets:
        window.show_step(step)
        window.grab()
    for look in window.sheet(RigSheet).boards:
        window.sheet(RigSheet).look(look)
        window.sheet(RigSheet).grab()
    json.dumps(results(w.study, ((0.05, 0.05),)), allow_nan=False)
    assert decode_project(encode_project(w.project)) == w.project
    while w.session.undo_label:
        w.session.undo()
    assert w.project == decode_project(encode_project(w.project))


def test_long_names_everywhere(window: MainWindow) -> None:
    long = "Wide-track heavy duty something with a name nobody would ever type in full " * 2
    w = window.workspace
    w.do(SetChoice("rig.name", long[:120]))
    point = msgspec.structs.replace(w.project.tape.surveys[0].points[6], name=long[:80])
    w.do(PutInList("surveys.as-built.points", point, "Name it"))
    w.do(PutInList("solids", msgspec.structs.replace(w.project.tape.solids[0], name=long[:120]), "Name it"))
    w.do(
        PutInList(
            "rig.weight.items", msgspec.structs.replace(w.project.rig.weight.items[0], name=long[:120]), "Name it"
        )
    )
    for step in window.sheets:
        window.show_step(step)
        assert window.grab().width() == window.width()
    assert window.minimumSizeHint().width() < 1280
