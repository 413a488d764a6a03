"""A mesh dropped on the window: asked for its unit, read beside it, placed by three points, said where these do not fit."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
import trimesh
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtWidgets import QApplication, QLabel, QPushButton
from pytestqt.qtbot import QtBot

from stoutlink.app.desk import dialogs
from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.tape.sheet import TapeSheet
from stoutlink.app.steps.tape.step import import_mesh, take_mesh
from stoutlink.core.analysis.survey.clearances import extent
from stoutlink.core.document.placed_solids import placed_solids
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
    assert sheet.pointing.isVisible()
    label = sheet.drawer.findChild(QLabel, "mesh_summary")
    assert label is not None
    assert label.text() == "made of one convex piece; not placed yet"
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
    assert label.text().startswith("made of one convex piece; its points miss by")
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


CORNERS = ((0.0, 0.0, 0.2), (0.5, 0.0, 0.2), (0.5, 0.3, 0.2))


def pointed(
    qtbot: QtBot, sheet: TapeSheet, place: tuple[float, float, float], by: tuple[float, float] = (0.0, 0.0)
) -> None:
    """A click where a place is seen, off ``by`` some pixels."""
    pane = sheet.pointing.pane
    x, y, _ = pane.eye.onto(np.array(place), pane.width(), pane.height())
    at = QPointF(float(x) + by[0], float(y) + by[1]).toPoint()
    qtbot.mouseMove(pane, at)
    qtbot.mouseClick(pane, Qt.MouseButton.LeftButton, pos=at)


def test_places_of_it_are_pointed_at(qtbot: QtBot, window: MainWindow, answers: Answers, tank: Path) -> None:
    """Clicks near its corners give the corners, one after the other; a click on a face gives the place on the face."""
    answers.say = "mm"
    take_mesh(window, tank)
    sheet = window.sheet(TapeSheet)
    QApplication.processEvents()
    assert not sheet.view.isVisible()
    assert sheet.pointing.asks.text() == "Click on point 1 of tank"
    for n, corner in enumerate(CORNERS, 1):
        assert sheet.pointing.asks.text() == f"Click on point {n} of tank"
        pointed(qtbot, sheet, corner, (3.0, -2.0))
        assert taken(window).anchors[n - 1].own_m == pytest.approx(corner, abs=1e-4)
    assert not sheet.pointing.isVisible()  # after the last one the frame is back
    assert sheet.view.isVisible()
    window.undo()
    assert taken(window).anchors[2].own_m == (0.0, 1.0, 0.0)
    point_at = sheet.drawer.findChild(QPushButton, "point_at_3")
    assert point_at is not None
    qtbot.mouseClick(point_at, Qt.MouseButton.LeftButton)
    assert sheet.pointing.asks.text() == "Click on point 3 of tank"
    pointed(qtbot, sheet, (0.31, 0.12, 0.2))
    x, y, z = taken(window).anchors[2].own_m
    assert z == pytest.approx(0.2, abs=1e-5)  # on its top
    assert (x, y) == pytest.approx((0.31, 0.12), abs=1.5 / sheet.pointing.pane.eye.scale)


def test_pointing_is_left_and_taken_up_again(qtbot: QtBot, window: MainWindow, answers: Answers, tank: Path) -> None:
    answers.say = "mm"
    take_mesh(window, tank)
    sheet = window.sheet(TapeSheet)
    QApplication.processEvents()
    pane, before = sheet.pointing.pane, taken(window)
    qtbot.mouseClick(pane, Qt.MouseButton.LeftButton, pos=QPoint(3, pane.height() - 3))  # beside it
    middle = QPoint(pane.width() // 2, pane.height() // 2)
    eye = pane.eye
    qtbot.mousePress(pane, Qt.MouseButton.LeftButton, pos=middle)
    qtbot.mouseMove(pane, middle + QPoint(40, 10))
    qtbot.mouseMove(pane, middle + QPoint(60, 10))
    qtbot.mouseRelease(pane, Qt.MouseButton.LeftButton, pos=middle + QPoint(60, 10))
    assert pane.eye != eye  # that was a turn, and no click
    assert taken(window) is before
    second = sheet.pointing.findChild(QPushButton, "pointing_2")
    assert second is not None
    qtbot.mouseClick(second, Qt.MouseButton.LeftButton)
    assert sheet.pointing.asks.text() == "Click on point 2 of tank"
    qtbot.keyClick(pane, Qt.Key.Key_Escape)
    assert not sheet.pointing.isVisible()
    sheet.point_at("p2")
    assert sheet.pointing.isVisible()
    sheet.pick_solid(window.workspace.project.tape.solids[0].id)
    assert not sheet.pointing.isVisible()
    sheet.pick_solid(before.id)
    assert not sheet.pointing.isVisible()  # nobody asked for it again


def test_more_points_and_as_in_its_file(qtbot: QtBot, window: MainWindow, answers: Answers, tank: Path) -> None:
    answers.say = "mm"
    take_mesh(window, tank)
    sheet = window.sheet(TapeSheet)
    QApplication.processEvents()

    def press(name: str) -> None:
        button = sheet.drawer.findChild(QPushButton, name)
        assert button is not None, name
        qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
        QApplication.processEvents()

    assert sheet.drawer.findChild(QPushButton, "remove_anchor") is None
    press("as_in_file")
    assert placed_solids(window.workspace.project)[-1] == taken(window)
    assert extent(taken(window))[1] == pytest.approx((0.5, 0.3, 0.2), abs=1e-5)
    assert "S115" not in [f.code for f in window.workspace.study.findings_so_far]
    press("add_anchor")
    assert len(taken(window).anchors) == 4
    said = next(f for f in window.workspace.study.findings_so_far if f.code == "S115")
    assert "its point 4 is on the rig; the others place it" in said.sentence
    assert len(placed_solids(window.workspace.project)[-1].anchors) == 3  # type: ignore[union-attr]
    press("remove_anchor")
    assert len(taken(window).anchors) == 3
    window.undo()
    window.undo()
    window.undo()
    assert [a.id for a in taken(window).anchors] == ["p1", "p2", "p3"]
    assert "nothing is held against it" in next(
        f.sentence for f in window.workspace.study.findings_so_far if f.code == "S115"
    )


def test_a_file_whose_zero_is_far_off_is_pointed_at_all_the_same(
    qtbot: QtBot, window: MainWindow, answers: Answers, tmp_path: Path
) -> None:
    """As a scan of a whole site has it: with the zero 60 m away the first place would stand in line with what was there before."""
    off = (60.0, -45.0, 3.0)
    trimesh.creation.box((0.5, 0.3, 0.2)).apply_translation(off).export(tmp_path / "scan.stl")
    answers.say = "m"
    take_mesh(window, tmp_path / "scan.stl")
    QApplication.processEvents()
    for n, (dx, dy) in enumerate(((-0.25, -0.15), (0.25, -0.15), (0.25, 0.15))):
        corner = (off[0] + dx, off[1] + dy, off[2] + 0.1)
        pointed(qtbot, window.sheet(TapeSheet), corner)
        assert taken(window).anchors[n].own_m == pytest.approx(corner, abs=1e-3)
