"""The window driven as a hand would: drag, type, nudge, undo, save, reopen, bad files, a failing disk."""

from __future__ import annotations

import errno
import os
from pathlib import Path

import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QLabel, QLineEdit, QPushButton, QWidget
from pytestqt.qtbot import QtBot

from stoutlink.app.panels.verdict_panel import GaugeBar
from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.donors.sheet import DonorSheet
from stoutlink.app.steps.layout.sheet import LayoutSheet
from stoutlink.app.steps.rig.sheet import RigSheet
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.core.document.paths import get_value
from stoutlink.core.drawing.shapes import ViewName
from stoutlink.core.editing.pivots import Pivot
from stoutlink.core.reports.analysis_text import analysis_text
from stoutlink.core.reports.results import results
from stoutlink.core.storage.files import read_project
from stoutlink.demo import demo_file
from tests.app.conftest import Answers

PATH = "layouts.rear-a.links.upper_left.frame_pivot_m"


def child(window: QWidget, kind: type[QWidget], name: str) -> QWidget:
    found = window.findChild(kind, name)
    assert found is not None, name
    return found


def field(window: MainWindow, name: str) -> QuantityField:
    found = child(window, QuantityField, name)
    assert isinstance(found, QuantityField)
    return found


def value(window: MainWindow, path: str) -> float:
    return float(get_value(window.workspace.project, path))


def type_into(qtbot: QtBot, line: QLineEdit, text: str) -> None:
    line.setFocus()
    line.selectAll()
    qtbot.keyClick(line, Qt.Key.Key_Delete)
    qtbot.keyClicks(line, text)
    qtbot.keyClick(line, Qt.Key.Key_Return)


def gauge(window: MainWindow, name: str) -> str:
    bar = child(window.verdict, GaugeBar, f"gauge_{name}")
    return bar.accessibleName()


def drag(qtbot: QtBot, window: MainWindow, pivot: Pivot, view: ViewName, by: QPointF) -> None:
    views = window.sheet(LayoutSheet).views
    start = views.handle_at(pivot, view)
    assert start is not None
    qtbot.mousePress(views, Qt.MouseButton.LeftButton, pos=start.toPoint())
    for part in (0.3, 0.6, 1.0):
        qtbot.mouseMove(views, (start + by * part).toPoint())
    qtbot.mouseRelease(views, Qt.MouseButton.LeftButton, pos=(start + by).toPoint())


@pytest.mark.parametrize(
    ("view", "by", "moved"), [("side", (30, -12), (0, 2)), ("plan", (20, -25), (0, 1)), ("rear", (-18, -14), (1, 2))]
)
def test_drag_moves_the_pivot_its_mirror_and_the_numbers_in_one_step(
    qtbot: QtBot, window: MainWindow, view: ViewName, by: tuple[int, int], moved: tuple[int, int]
) -> None:
    window.show_step("layout")
    before, squat, centre = (
        get_value(window.workspace.project, PATH),
        gauge(window, "drive"),
        gauge(window, "roll_centre"),
    )
    drag(qtbot, window, ("upper_left", "frame"), view, QPointF(*by))
    after = get_value(window.workspace.project, PATH)
    assert {i for i in range(3) if after[i] != before[i]} == set(moved)
    other = get_value(window.workspace.project, PATH.replace("left", "right"))
    assert other == (after[0], -after[1], after[2])
    assert (gauge(window, "drive"), gauge(window, "roll_centre")) != (squat, centre)
    sixteenths = after[moved[1]] / 0.0254 * 16
    other_pivots = [
        p[moved[1]]
        for link in window.workspace.project.linkage.layouts[0].links
        for p in (link.frame_pivot_m, link.axle_pivot_m)
    ]
    assert abs(sixteenths - round(sixteenths)) < 1e-6 or after[moved[1]] in other_pivots
    qtbot.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert get_value(window.workspace.project, PATH) == before
    assert gauge(window, "drive") == squat
    qtbot.keyClick(window, Qt.Key.Key_Y, Qt.KeyboardModifier.ControlModifier)
    assert get_value(window.workspace.project, PATH) == after


def test_arrow_keys_nudge_a_sixteenth_and_shift_eight_times(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("layout")
    views = window.sheet(LayoutSheet).views
    drag(qtbot, window, ("upper_left", "frame"), "side", QPointF(0, 0))
    before = get_value(window.workspace.project, PATH)
    qtbot.keyClick(views, Qt.Key.Key_Right)
    assert value(window, f"{PATH}.0") == pytest.approx(before[0] + 0.0254 / 16)
    qtbot.keyClick(views, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
    assert value(window, f"{PATH}.2") == pytest.approx(before[2] + 0.0254 / 2)
    window.switch_units()
    x = value(window, f"{PATH}.0")
    qtbot.keyClick(views, Qt.Key.Key_Left)
    assert value(window, f"{PATH}.0") == pytest.approx(x - 0.001)


def test_typed_fractions_move_the_pivot_and_wrong_text_keeps_the_value(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("layout")
    window.sheet(LayoutSheet).views.select(("lower_left", "axle"))
    station = field(window, "pivot_station")
    type_into(qtbot, station, "2 5/16")
    assert value(window, "layouts.rear-a.links.lower_right.axle_pivot_m.0") == pytest.approx(2.3125 * 0.0254)
    noted = window.workspace.project.entry("layouts.rear-a.links.lower_left.axle_pivot_m.0")
    assert noted is not None
    assert noted.text == "2 5/16"
    type_into(qtbot, station, "41 1/")
    assert station.text() == "41 1/"
    assert station.property("wrong") is True
    assert "41 1/" in child(window, QLabel, "message").toolTip()
    assert value(window, "layouts.rear-a.links.lower_left.axle_pivot_m.0") == pytest.approx(2.3125 * 0.0254)
    qtbot.keyClick(station, Qt.Key.Key_Escape)
    assert station.property("wrong") is False
    type_into(qtbot, station, "90 ft")
    assert "cannot be" in child(window, QLabel, "message").toolTip()


def test_an_untouched_field_is_never_rewritten(qtbot: QtBot, window: MainWindow) -> None:
    before = window.workspace.project
    for one in window.sheet(RigSheet).findChildren(QuantityField):
        one.setFocus()
        qtbot.keyClick(one, Qt.Key.Key_Return)
    assert window.workspace.project is before
    window.switch_units()
    flipped = window.workspace.project
    for one in window.sheet(RigSheet).findChildren(QuantityField):
        one.setFocus()
        one.clearFocus()
    assert window.workspace.project is flipped


def test_unmirrored_pivots_move_alone(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("layout")
    qtbot.mouseClick(window.sheet(LayoutSheet).mirrored, Qt.MouseButton.LeftButton)
    assert not window.workspace.project.linkage.layouts[0].mirrored
    right = get_value(window.workspace.project, PATH.replace("left", "right"))
    drag(qtbot, window, ("upper_left", "frame"), "plan", QPointF(15, -20))
    assert get_value(window.workspace.project, PATH.replace("left", "right")) == right


def test_rig_numbers_flow_into_the_verdict(qtbot: QtBot, window: MainWindow) -> None:
    squat = gauge(window, "drive")
    type_into(qtbot, field(window, "field_rig.cg_height_m"), "38 1/2")
    assert window.workspace.project.rig.cg_height_m == pytest.approx(38.5 * 0.0254)
    assert gauge(window, "drive") != squat
    type_into(qtbot, field(window, "field_rig.rear.loaded_radius_m"), "")
    assert window.workspace.project.rig.rear.loaded_radius_m is None
    assert "estimate" in field(window, "field_rig.rear.loaded_radius_m").accessibleName()


def test_choosing_a_donor_changes_knock_ons(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("donors")
    keys = {f.key for f in window.workspace.study.open}
    window.sheet(DonorSheet).look_at("gs-32r")
    window.sheet(DonorSheet).look("ladder")
    assert "32-spline" in window.sheet(DonorSheet).as_text()
    qtbot.mouseClick(window.sheet(DonorSheet).choose, Qt.MouseButton.LeftButton)
    assert window.workspace.project.swap.rear_donor == "gs-32r"
    assert {f.key for f in window.workspace.study.open} != keys
    assert not any(f.code == "K121" for f in window.workspace.study.open)
    assert "▲" in window.sheet(DonorSheet).caution.text() or "⚠" in window.sheet(DonorSheet).caution.text()
    window.undo()
    assert window.workspace.project.swap.rear_donor == "vh-36r"


def test_accepting_a_knock_on_is_kept_and_undone(qtbot: QtBot, window: MainWindow) -> None:
    count = len(window.workspace.study.open)
    card = child(window.knock_ons, QWidget, "finding_K121 gs-30f/vh-36r")
    qtbot.mouseClick(child(card, QPushButton, "accept"), Qt.MouseButton.LeftButton)
    assert len(window.workspace.study.open) == count - 1
    assert window.workspace.project.accepted[0].why == "because"
    window.undo()
    assert len(window.workspace.study.open) == count


def test_stepping_through_travel(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("layout")
    panel = window.sheet(LayoutSheet).travel
    assert panel.isVisible()
    assert panel.up.visibleRegion().boundingRect().width() > 60
    ride = window.sheet(LayoutSheet).views.pivot_point(("upper_left", "axle"))
    qtbot.mouseClick(window.sheet(LayoutSheet).travel.up, Qt.MouseButton.LeftButton)
    qtbot.mouseClick(window.sheet(LayoutSheet).travel.up, Qt.MouseButton.LeftButton)
    up = window.sheet(LayoutSheet).views.pivot_point(("upper_left", "axle"))
    assert ride is not None
    assert up is not None
    assert up[2] - ride[2] == pytest.approx(0.025, abs=0.003)
    assert "bump" in window.sheet(LayoutSheet).travel.where.text()
    window.actions_by_id["ride"].trigger()
    assert window.sheet(LayoutSheet).views.station is None


def test_links_that_hold_nothing_say_so_and_the_way_back_is_open(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("layout")
    for link in ("upper_left", "lower_left"):
        window.sheet(LayoutSheet).views.select((link, "frame"))
        axle = get_value(window.workspace.project, f"layouts.rear-a.links.{link}.axle_pivot_m")
        type_into(qtbot, field(window, "pivot_side"), f"{axle[1] / 0.0254:.10f}")
    problem = child(window.verdict, QLabel, "verdict_problem")
    assert problem.isVisible()
    assert isinstance(problem, QLabel)
    assert "sideways" in problem.text()
    window.show_step("cut")
    window.undo()
    assert window.workspace.study.axles["rear"].motion is not None


def test_save_close_reopen_loses_nothing(qtbot: QtBot, window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    drag_to = tmp_path / "rig one.stoutlink"
    answers.path = drag_to
    window.show_step("layout")
    drag(qtbot, window, ("upper_left", "frame"), "side", QPointF(22, -9))
    before = window.workspace.project
    qtbot.keyClick(window, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    assert not window.workspace.session.changed
    assert read_project(drag_to) == before
    window.files.open_demo()
    assert window.workspace.project != before
    window.files.open()
    assert window.workspace.project == before
    assert window.workspace.recent()[0] == drag_to


def test_unsaved_changes_are_asked_about(window: MainWindow, answers: Answers) -> None:
    window.switch_units()
    answers.say = "Cancel"
    window.files.new()
    assert window.workspace.project.name == "Basalt rear swap"
    assert not window.close()
    answers.say = "Throw away"
    window.files.new()
    assert window.workspace.project.name == "New project"


def test_a_bad_file_leaves_the_open_project(window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    bad = tmp_path / "bad.stoutlink"
    bad.write_bytes(demo_file("basalt.stoutlink").read_bytes()[:700])
    before = window.workspace.project
    window.files.open_path(bad)
    assert window.workspace.project is before
    assert "cut off" in answers.asked[-1]


def test_a_full_disk_is_said_and_nothing_is_lost(
    window: MainWindow, answers: Answers, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    answers.path = tmp_path / "x.stoutlink"
    window.switch_units()

    def full(*_: object) -> None:
        raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))

    with monkeypatch.context() as patched:
        patched.setattr(os, "fsync", full)
        assert not window.files.save()
    assert "no space left" in answers.asked[-1]
    assert window.workspace.session.changed
    assert window.files.save()


def test_export_copy_and_print(qtbot: QtBot, window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    answers.path = tmp_path / "cuts.csv"
    window.show_step("cut")
    window.actions_by_id["export_cuts"].trigger()
    assert (tmp_path / "cuts.csv").read_text(encoding="utf-8").count("\n") == 9
    window.actions_by_id["copy_cuts"].trigger()
    board = QGuiApplication.clipboard()
    assert board is not None
    assert "Left upper" in board.text()
    window.copy_numbers()
    qtbot.waitUntil(lambda: "Anti-squat" in board.text(), timeout=20_000)
    assert board.text() == analysis_text(window.workspace.study, results(window.workspace.study))
    answers.path = tmp_path / "cut.pdf"
    window.files.print_sheet()
    assert (tmp_path / "cut.pdf").read_bytes().startswith(b"%PDF")
    assert window.theme.name == "dark"


def test_donor_catalogue_in_and_out(window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    answers.path = tmp_path / "d.csv"
    window.actions_by_id["export_donors"].trigger()
    text = (
        (tmp_path / "d.csv")
        .read_text(encoding="utf-8")
        .replace("kb-27r", "new-one")
        .replace("middle,31,", "middle,three,")
    )
    (tmp_path / "d.csv").write_text(text, encoding="utf-8")
    answers.say = "Merge"
    window.actions_by_id["import_donors"].trigger()
    assert any(d.id == "new-one" for d in window.workspace.project.swap.donors)
    assert "spline_teeth" in answers.asked[-1]


def test_the_command_box_runs_what_is_typed(qtbot: QtBot, window: MainWindow) -> None:
    qtbot.keyClick(window, Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier)
    assert window.box.isVisible()
    qtbot.keyClicks(window.box.line, "go to cut")
    qtbot.keyClick(window.box.line, Qt.Key.Key_Return)
    assert window.step == "cut"
    assert not window.box.isVisible()


def test_both_themes_units_and_ends_paint_every_sheet(window: MainWindow) -> None:
    for theme in ("light", "dark"):
        window.set_theme(theme)
        for end in ("front", "rear"):
            window.workspace.set_end(end)
            for step in ("rig", "donors", "layout", "cut"):
                window.show_step(step)
                image = window.grab().toImage()
                colours = {image.pixelColor(x, y).name() for x in range(100, 960, 9) for y in range(60, 760, 9)}
                assert len(colours) > 4, (theme, end, step)


def test_recovery_is_offered_and_brings_work_back(qtbot: QtBot, window: MainWindow, answers: Answers) -> None:
    window.switch_units()
    window.workspace.autosave()
    folder = Path(os.environ["XDG_STATE_HOME"]) / "stout-link" / "recovery"
    for path in list(folder.iterdir()):  # as a process that is gone left it
        path.write_bytes(path.read_bytes().replace(f'"number": {os.getpid()}'.encode(), b'"number": 999999999'))
        path.rename(folder / f"unsaved-999999999{path.suffix}")
    window.undo()
    assert window.workspace.project.settings.units == "in"
    answers.say = "Bring it back"
    window.workspace.session.mark_saved()
    window.files.offer_recovery()
    assert window.workspace.project.settings.units.startswith("mm")
    assert window.workspace.session.changed
    assert [p.name for p in folder.glob("unsaved-999999999*")] == []


def test_named_widgets(whole_window: MainWindow) -> None:
    window = whole_window
    for name in (
        "route_rig",
        "route_layout",
        "three_views",
        "travel",
        "pivot_choice",
        "mirrored",
        "donor_list",
        "end_front",
        "command_line",
    ):
        found = window.findChild(QWidget, name)
        assert found is not None, name
        assert found.accessibleName() or getattr(found, "text", lambda: "")(), name
