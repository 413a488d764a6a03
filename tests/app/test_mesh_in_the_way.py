"""A mesh dropped on the window: asked for its unit, read beside it, placed by three points, said where these do not fit."""

from __future__ import annotations

from pathlib import Path

import pytest
import trimesh
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QLabel
from pytestqt.qtbot import QtBot

from stoutlink.app.desk import dialogs
from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.tape.sheet import TapeSheet
from stoutlink.app.steps.tape.step import import_mesh, take_mesh
from stoutlink.core.analysis.survey.clearances import extent
from stoutlink.core.document.survey import BoxSolid, MeshSolid
from stoutlink.core.editing.edits import PutInList
from tests.app.conftest import Answers


@pytest.fixture
def tank(tmp_path: Path) -> Path:
    """A tank drawn in millimetres, its lower rear right corner at the drawing's zero."""
    trimesh.creation.box((500.0, 300.0, 200.0)).apply_translation((250.0, 150.0, 100.0)).export(tmp_path / "tank.stl")
    return tmp_path / "tank.stl"


def taken(window: MainWindow) -> MeshSolid:
    solid = window.workspace.project.tape.solids[-1]
    assert isinstance(solid, MeshSolid)
    return solid


def typed(qtbot: QtBot, window: MainWindow, path: str, text: str) -> None:
    window.go_to_field(path)
    field = QApplication.focusWidget()
    assert field is not None, path
    qtbot.keyClicks(field, text)
    qtbot.keyClick(field, Qt.Key.Key_Return)


def test_a_tank_is_taken_in_and_placed(qtbot: QtBot, window: MainWindow, answers: Answers, tank: Path) -> None:
    answers.say = "mm"
    take_mesh(window, tank)
    assert "In what unit is tank.stl drawn?" in answers.asked[-1]
    window.activateWindow()  # no window manager here does it once the box is gone
    QApplication.processEvents()
    sheet = window.sheet(TapeSheet)
    solid = taken(window)
    assert sheet.drawer.solid() is solid
    assert (solid.name, len(solid.pieces)) == ("tank", 1)
    assert extent(solid)[1] == pytest.approx((0.5, 0.3, 0.2), abs=1e-5)
    assert "S115" in [f.code for f in window.workspace.study.findings_so_far]  # nobody has placed it yet
    # its corner stands at −300, −150, 800 mm; it lies along the rig, turned by a quarter
    places = {"p1": (-300, -150, 800), "p2": (-300, 850, 800), "p3": (-1300, -150, 800)}
    head = f"solids.{solid.id}.anchors"
    for key, at in places.items():
        for axis, value in enumerate(at):
            typed(qtbot, window, f"{head}.{key}.at_m.{axis}", f"{value}mm")
    low, high = extent(taken(window))
    assert low == pytest.approx((-0.6, -0.15, 0.8), abs=1e-5)
    assert high == pytest.approx((-0.3, 0.35, 1.0), abs=1e-5)
    assert "S115" not in [f.code for f in window.workspace.study.findings_so_far]
    label = sheet.drawer.findChild(QLabel, "mesh_summary")
    assert label is not None
    assert "1 convex pieces" in label.text()
    typed(qtbot, window, f"{head}.p2.at_m.1", "870mm")
    finding = next(f for f in window.workspace.study.findings_so_far if f.code == "S114")
    window.show_step("rig")
    window.go_to_finding(finding)
    assert window.step == "tape"
    assert sheet.drawer.solid_id == solid.id


def test_another_unit_or_no_mesh_is_one_sentence(
    window: MainWindow, answers: Answers, tank: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    heard: list[tuple[str, bool]] = []
    monkeypatch.setattr(window, "say", lambda words, problem=False: heard.append((words, problem)))
    before = window.workspace.project
    answers.say = "m"
    take_mesh(window, tank)
    assert heard[-1][1]
    assert "Say another unit." in heard[-1][0]
    (tmp_path / "bad.glb").write_bytes(b"nothing")
    answers.path = tmp_path / "bad.glb"
    import_mesh(window)  # glTF is in metres: nothing is asked
    assert "no mesh" in heard[-1][0]
    answers.say = "Cancel"
    take_mesh(window, tank)
    monkeypatch.setattr(dialogs, "wait", lambda owner, words, done, stop: stop())  # given up at once
    answers.say = "mm"
    take_mesh(window, tank)
    assert "given up" in heard[-1][0]
    assert window.workspace.project is before


def test_what_stands_above_the_frame_is_in_view(window: MainWindow) -> None:
    """A cage or an engine is brought into the picture with the frame; what was put down a long way off is not."""
    window.show_step("tape")
    view = window.sheet(TapeSheet).view
    flat = view.frames()["side"].scale
    rig = window.workspace.project.rig
    tall = BoxSolid(id="cage", name="Cage", kind="other", low_m=(0.2, -0.6, 0.9), high_m=(1.8, 0.6, 2.1))
    window.workspace.do(PutInList("solids", tall, "Cage"))
    frame = view.frames()["side"]
    assert frame.scale < flat
    assert 0 < frame.at((1.0, 2.1)).y() < view.height()
    assert (
        0 < frame.at((-rig.rear.free, 0.0)).x() < frame.at((rig.wheelbase_m + rig.front.free, 0.0)).x() < view.width()
    )
    off = BoxSolid(id="off", name="Off", kind="other", low_m=(90.0, 0.0, 0.0), high_m=(91.0, 1.0, 80.0))
    window.workspace.do(PutInList("solids", off, "Off"))
    assert view.frames()["side"].scale > 0.4 * flat
    assert view.frames()["side"].scale == frame.scale
    ahead = BoxSolid(id="bumper", name="Bumper", kind="other", low_m=(-2.0, -0.5, 0.4), high_m=(-1.8, 0.5, 0.6))
    window.workspace.undo()
    window.workspace.do(PutInList("solids", ahead, "Bumper"))
    assert view.frames()["side"].at((-2.0, 0.5)).x() > 0
