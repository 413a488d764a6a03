"""More of what hands do: zoom, pan, stepping pivots, menus, dropping files, schools, pictures, faults."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest
from PyQt6.QtCore import QMimeData, QPoint, QPointF, QSize, Qt, QUrl
from PyQt6.QtGui import QColor, QDropEvent, QImage, QKeySequence, QWheelEvent
from PyQt6.QtWidgets import QApplication, QMenu, QWidget
from pytestqt.qtbot import QtBot

from stoutlink.app import main as app_main
from stoutlink.app.canvas.painting import Frame
from stoutlink.app.canvas.view_geometry import LARGEST, SMALLEST, ViewGeometry
from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps import registry
from stoutlink.app.steps.donors.sheet import DonorSheet
from stoutlink.app.steps.layout.sheet import LayoutSheet
from stoutlink.app.steps.registry import BY_ID
from stoutlink.core.advice.work_list import cards
from stoutlink.core.document.paths import with_value
from stoutlink.core.document.project import Project
from stoutlink.core.drawing.shapes import VIEWS, ViewName, flatten
from stoutlink.core.editing.edits import MovePivot
from stoutlink.core.errors import FileError
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file
from tests.app.conftest import Answers


def test_pixels_and_metres_are_each_others_inverse() -> None:
    frame = Frame(QPointF(120, 340), 210.0)
    for point in ((0.0, 0.0), (1.25, -0.4), (-0.3, 2.0)):
        assert frame.back(frame.at(point)) == pytest.approx(point)
    assert frame.at((0.0, 1.0)).y() < frame.at((0.0, 0.0)).y()


@pytest.mark.parametrize("view", VIEWS)
def test_zoom_keeps_the_point_under_the_pointer(view: ViewName) -> None:
    geometry = ViewGeometry()
    geometry.large = "all"
    geometry.fit((-0.5, 1.2), 1.1, (-0.16, 1.1))
    pixel = geometry.panes()[view].center() + QPointF(31, -17)
    under = geometry.frame_of(view).back(pixel)
    before = geometry.scale
    geometry.zoom(1.7, view, pixel)
    assert geometry.scale == pytest.approx(1.7 * before)
    assert geometry.frame_of(view).back(pixel) == pytest.approx(under, abs=1e-9)
    geometry.zoom(1e9, view)
    assert geometry.scale == LARGEST
    geometry.zoom(1e-9, view)
    assert geometry.scale == SMALLEST


def test_views_share_scale_ground_and_stations() -> None:
    geometry = ViewGeometry()
    geometry.large = "all"
    geometry.fit((-0.5, 1.2), 1.1, (-0.16, 1.1))
    geometry.shift("plan", QPointF(40, 25))
    point = (0.7, 0.3, 0.6)
    at = {view: geometry.frame_of(view).at(flatten(point, view)) for view in VIEWS}
    assert at["side"].x() == pytest.approx(at["plan"].x())
    assert at["side"].y() == pytest.approx(at["rear"].y())
    assert at["rear"].x() < geometry.frame_of("rear").at((0.0, 0.0)).x()  # left stands on the left, seen from behind


def test_panning_and_zooming_change_no_number(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("layout")
    window.actions_by_id["large_all"].trigger()
    views = window.sheet(LayoutSheet).views
    before, middle = window.workspace.project, views.drawn.middle
    empty = views.panes()["side"].topLeft() + QPointF(30, 60)
    qtbot.mousePress(views, Qt.MouseButton.LeftButton, pos=empty.toPoint())
    qtbot.mouseMove(views, (empty + QPointF(30, 20)).toPoint())
    qtbot.mouseRelease(views, Qt.MouseButton.LeftButton, pos=(empty + QPointF(30, 20)).toPoint())
    assert views.drawn.middle != middle
    scale = views.drawn.scale
    centre = views.panes()["plan"].center()
    wheel = QWheelEvent(
        centre,
        views.mapToGlobal(centre),
        QPoint(),
        QPoint(0, 120),
        Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )
    QApplication.sendEvent(views, wheel)
    assert views.drawn.scale > scale
    window.actions_by_id["zoom_out"].trigger()
    window.actions_by_id["fit"].trigger()
    assert views.drawn.middle == middle
    assert window.workspace.project is before


def test_alt_drags_freely(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("layout")
    views = window.sheet(LayoutSheet).views
    qtbot.mouseClick(window.sheet(LayoutSheet).snap, Qt.MouseButton.LeftButton)
    assert not views.snapping
    start = views.handle_at(("lower_left", "frame"), "side")
    assert start is not None
    qtbot.mousePress(views, Qt.MouseButton.LeftButton, pos=start.toPoint())
    qtbot.mouseMove(views, (start + QPointF(37, 11)).toPoint())
    qtbot.mouseRelease(views, Qt.MouseButton.LeftButton, pos=(start + QPointF(37, 11)).toPoint())
    link = window.workspace.project.linkage.layouts[0].link("lower_left")
    assert link is not None
    sixteenths = link.frame_pivot_m[0] / 0.0254 * 16
    assert abs(sixteenths - round(sixteenths)) > 1e-6


def test_keys_step_through_pivots_and_the_list_follows(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("layout")
    views = window.sheet(LayoutSheet).views
    views.setFocus()
    seen = []
    for _ in range(8):
        qtbot.keyClick(views, Qt.Key.Key_Period)
        seen.append(views.selected)
        assert tuple(window.sheet(LayoutSheet).pivots.currentData()) == views.selected
    assert len(set(seen)) == 8
    qtbot.keyClick(views, Qt.Key.Key_Comma)
    assert views.selected == seen[-2]
    assert "pivot" in views.describe()
    qtbot.keyClick(views, Qt.Key.Key_Escape)
    assert views.selected is None
    assert views.describe() == "No pivot selected"


def test_axle_pivots_stay_while_the_axle_is_in_travel(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("layout")
    window.sheet(LayoutSheet).travel.step(20)
    views = window.sheet(LayoutSheet).views
    before = window.workspace.project
    start = views.handle_at(("upper_left", "axle"), "side")
    assert start is not None
    qtbot.mousePress(views, Qt.MouseButton.LeftButton, pos=start.toPoint())
    qtbot.mouseMove(views, (start + QPointF(20, 0)).toPoint())
    qtbot.mouseRelease(views, Qt.MouseButton.LeftButton, pos=start.toPoint())
    assert window.workspace.project is before


@pytest.mark.parametrize(
    ("command", "key", "value"),
    [
        ("thrust_school_shared_locked", "thrust_school", "shared_locked"),
        ("height_school_sprung_mass", "height_school", "sprung_mass"),
        ("anti_target_first_trail", "anti_target", "first_trail"),
        ("roll_centre_target_low", "roll_centre_target", "low"),
    ],
)
def test_schools_are_recorded_and_stand_beside_the_number(
    window: MainWindow, command: str, key: str, value: str
) -> None:
    before = window.workspace.study.axles["rear"].gauges
    window.actions_by_id[command].trigger()
    assert getattr(window.workspace.project.settings, key) == value
    after = window.workspace.study.axles["rear"].gauges
    assert [(g.title, g.target) for g in after] != [(g.title, g.target) for g in before]
    window.undo()
    assert window.workspace.study.axles["rear"].gauges == before


def test_every_command_has_a_sentence_and_its_own_keys(window: MainWindow) -> None:
    keys: list[str] = []
    for one in window.commands:
        assert one.help_text.endswith(".")
        assert window.actions_by_id[one.id].toolTip() == one.help_text
        keys += [k for k in one.keys.split(" or ") if k]
    assert len(keys) == len(set(keys))


def test_keys_and_about_are_shown(window: MainWindow, answers: Answers) -> None:
    window.actions_by_id["keys"].trigger()
    said = window.reading.text.toPlainText()
    assert "drag a pivot" in said
    for one in window.commands:
        for keys in one.keys.split(" or ") if one.keys else ():
            assert QKeySequence(keys).toString(QKeySequence.SequenceFormat.NativeText) in said, one.name
        assert not one.keys or one.name in said
    window.reading.close()
    window.actions_by_id["about"].trigger()
    assert "local vehicle codes" in answers.asked[0]
    assert not any("safe" in text.lower().split() for text in answers.asked)


def test_recent_files_are_listed_and_open(window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    answers.path = tmp_path / "one.stoutlink"
    assert window.files.save_as()
    menu = window.findChild(QMenu, "recent")
    assert menu is not None
    menu.aboutToShow.emit()
    assert [a.text() for a in menu.actions()] == [str(answers.path)]
    window.files.new()
    menu.actions()[0].trigger()
    assert window.workspace.project.name == "Basalt rear swap"


def _drop(window: MainWindow, path: Path) -> None:
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(str(path))])
    event = QDropEvent(
        QPointF(300, 300), Qt.DropAction.CopyAction, mime, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    )
    window.dropEvent(event)


def test_files_dropped_on_the_window(window: MainWindow) -> None:
    _drop(window, demo_file("starter.stoutlink"))
    assert window.workspace.project.name == "New project"
    assert window.workspace.project.swap.donors == ()
    _drop(window, demo_file("donors.csv"))
    assert len(window.workspace.project.swap.donors) == 26


def test_going_to_a_finding_turns_to_its_axle(window: MainWindow) -> None:
    danger = next(f for f in window.workspace.study.open if f.subject == "gs-30f" and f.code == "K101")
    window.knock_ons.go.emit(danger)
    assert (window.step, window.workspace.end) == ("donors", "front")
    looked = window.sheet(DonorSheet).list.currentItem()
    assert looked is not None
    assert "30-spline" in looked.text()


def test_accepted_knock_ons_fold_away(qtbot: QtBot, window: MainWindow, answers: Answers) -> None:
    first = window.workspace.study.open[0]
    card = cards([first])[0]
    answers.text = None
    window.knock_ons.accept(card, reopen=False)
    assert window.workspace.project.accepted == ()
    answers.text = "known"
    window.knock_ons.accept(card, reopen=False)
    assert first not in window.workspace.study.open
    assert window.workspace.study.accepted(first) is not None
    window.knock_ons._fold(window.theme)
    window.knock_ons.accept(card, reopen=True)
    assert first in window.workspace.study.open


def test_what_has_just_come_up_is_lit_for_a_moment(qtbot: QtBot, window: MainWindow, answers: Answers) -> None:
    panel, theme = window.knock_ons, window.theme
    first = next(f for f in window.workspace.study.open if f.can_be_accepted)
    card = next(key[0] for key in panel._cards if first.key in key[0].keys)
    answers.text = "known"
    panel.accept(card, reopen=False)
    window.workspace.undo()
    window.refresh()
    shown = {key[0]: one for key, one in panel._cards.items()}
    other = next(one for key, one in shown.items() if key != card)

    def ground(one: QWidget) -> tuple[QColor, QColor]:
        """Of the bar at its left, and of the card in its lower right corner."""
        picture = one.grab().toImage()
        return picture.pixelColor(1, 20), picture.pixelColor(picture.width() - 2, picture.height() - 2)

    grave = {"danger": theme.oxide, "warn": theme.torch, "note": theme.faint}[card.severity]
    assert ground(shown[card]) == (grave, theme.edge)
    assert ground(other)[1] == theme.sheet
    panel.rest()
    assert ground(shown[card]) == (grave, theme.sheet)


@pytest.mark.parametrize(
    ("changes", "step", "state"),
    [
        ({}, "donors", "open"),
        ({}, "cut", "open"),
        ({"front_layout": None}, "cut", "open"),
        ({"rear_layout": None, "welding": ()}, "cut", "work"),
        ({}, "layout", "work"),
        ({"front_donor": None, "rear_donor": None}, "donors", "untouched"),
        ({"front_layout": None, "rear_layout": None}, "layout", "untouched"),
        ({"front_layout": None, "rear_layout": None}, "cut", "untouched"),
        ({"entries": ()}, "rig", "settled"),
    ],
)
def test_the_route_says_how_each_step_stands(
    basalt: Project, changes: dict[str, object], step: str, state: str
) -> None:
    project = basalt
    for key, value in changes.items():
        project = with_value(project, key, value)
    found, word = BY_ID[step].state(Study(project))
    assert found == state
    assert word


def test_a_fault_is_one_sentence_and_work_is_kept(window: MainWindow) -> None:
    window.switch_units()
    try:
        raise RuntimeError("inner detail")
    except RuntimeError as why:
        app_main._explain(RuntimeError, why, why.__traceback__)
    said = window._said.toolTip()
    assert "your work is kept" in said
    assert "inner detail" not in said
    kept = list((Path(os.environ["XDG_STATE_HOME"]) / "stout-link" / "recovery").glob("unsaved-*.json"))
    assert len(kept) == 1
    assert json.loads(kept[0].read_text(encoding="utf-8"))["settings"]["units"] == "mm"


def test_autosave_waits_for_changes(window: MainWindow, qtbot: QtBot) -> None:
    window.workspace.autosave()
    folder = Path(os.environ["XDG_STATE_HOME"]) / "stout-link" / "recovery"
    assert not folder.exists() or not list(folder.glob("*.json"))
    window.switch_units()
    qtbot.waitUntil(lambda: folder.exists() and bool(list(folder.glob("*.json"))), timeout=5000)


def test_a_layout_that_does_not_hold_yet_is_saved_and_opens_and_says_so(
    window: MainWindow, answers: Answers, tmp_path: Path
) -> None:
    """The links are made parallel, one after the other, as happens on the way to something else."""
    path = tmp_path / "parallel.stoutlink"
    layout = window.workspace.project.layout("rear")
    assert layout is not None
    for link in layout.links:
        x, (_, y, z) = link.frame_pivot_m[0], link.axle_pivot_m
        window.workspace.do(MovePivot(layout.id, link.id, "frame", (x, y, z)))
    answers.path = path
    assert window.files.save()
    made = window.workspace.project
    window.files.new()
    window.files.open_path(path)
    assert answers.asked == []
    assert window.workspace.project == made
    window.show_step("layout")
    assert "nothing holds the axle sideways" in window.verdict._problem.text()
    assert [f.severity for f in window.workspace.study.open_so_far if f.code == "G110"] == ["danger"]
    for one in registry.STEPS:
        for key, *_ in one.looks:
            window.show_step(one.id)
            window.sheets[one.id].look(key)
            window.grab()
    with pytest.raises(FileError):
        window.workspace.open(tmp_path / "none.stoutlink")


@pytest.mark.parametrize(("view", "size"), [("rig", "1280x800"), ("cut", "900x640")])
def test_a_picture_from_the_command_line(tmp_path: Path, view: str, size: str) -> None:
    shot = tmp_path / "view.png"
    command = [
        sys.executable,
        "-m",
        "stoutlink.app.main",
        "--demo",
        "--shot",
        str(shot),
        "--view",
        view,
        "--size",
        size,
    ]
    done = subprocess.run(
        command, env={**os.environ, "QT_QPA_PLATFORM": "offscreen"}, capture_output=True, text=True, check=False
    )
    assert done.returncode == 0, done.stderr
    wide, high = (int(v) for v in size.split("x"))
    assert QImage(str(shot)).size() == QSize(wide, high)


def test_a_bad_size_or_file_is_explained(tmp_path: Path) -> None:
    for words in (["--size", "9x9"], ["--size", "big"], ["--view", "moon"]):
        with pytest.raises(SystemExit) as stop:
            app_main._arguments(words)
        assert stop.value.code == 2
    bad = tmp_path / "bad.stoutlink"
    bad.write_text("{}", encoding="utf-8")
    command = [sys.executable, "-m", "stoutlink.app.main", str(bad), "--shot", str(tmp_path / "x.png")]
    done = subprocess.run(
        command, env={**os.environ, "QT_QPA_PLATFORM": "offscreen"}, capture_output=True, text=True, check=False
    )
    assert done.returncode == 2
    assert "Traceback" not in done.stderr
    assert "not a Stout Link project" in done.stderr
