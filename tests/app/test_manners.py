"""Manners of a desktop program: what is remembered, found, pasted, shown where the keys are, and fits the screen."""

from __future__ import annotations

import itertools
import json
from collections.abc import Callable
from pathlib import Path

import msgspec
import pytest
from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PyQt6.QtGui import QContextMenuEvent, QDropEvent, QGuiApplication
from PyQt6.QtWidgets import QAbstractScrollArea, QApplication, QMenu, QPushButton, QWidget
from pytestqt.qtbot import QtBot

from stoutlink.app.desk.memory import Memory, recalled, remember
from stoutlink.app.shell.body import NARROW
from stoutlink.app.shell.window import MainWindow, system_theme
from stoutlink.app.steps import registry
from stoutlink.app.steps.donors.sheet import DonorSheet
from stoutlink.app.steps.layout.sheet import LayoutSheet
from stoutlink.app.steps.rig.sheet import RigSheet
from stoutlink.app.steps.tape.sheet import TapeSheet
from stoutlink.app.widgets.kept_line import KeptLine
from stoutlink.app.widgets.picture import Picture
from stoutlink.app.widgets.places import Place
from stoutlink.core.document.paths import first_difference, with_value
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.survey import Reading, SurveyPoint
from stoutlink.core.editing.edits import ChooseDonor, PutInList, ReplaceList, SetChoice, SetNumber
from stoutlink.core.quantity.constants import INCH
from stoutlink.core.storage.files import write_project
from stoutlink.demo import demo_file
from tests.app.conftest import Answers
from tests.app.test_by_keyboard import focus, tab_to


@pytest.fixture
def window(whole_window: MainWindow) -> MainWindow:
    """Nothing is known yet, and every sheet is there."""
    return whole_window


CONTROL = Qt.KeyboardModifier.ControlModifier


# What is remembered


def test_what_is_remembered_comes_back_and_a_torn_file_is_as_none(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path))
    assert recalled() == Memory()
    kept = Memory(theme="light", units="mm", folder="/tmp", place=(10, 20, 900, 700), side=(300, 200), scale=1.15)
    remember(kept)
    assert recalled() == kept
    file = tmp_path / "stout-link" / "window.json"
    file.write_bytes(file.read_bytes()[:40])
    assert recalled() == Memory()
    file.write_text(json.dumps({"theme": "purple"}))
    assert recalled() == Memory()


def test_place_folder_units_and_theme_are_noted_when_the_window_goes(
    window: MainWindow, answers: Answers, tmp_path: Path
) -> None:
    window.resize(1210, 730)
    answers.path = tmp_path / "a"
    assert window.files.save_as()
    window.switch_units()
    window.actions_by_id["theme"].trigger()
    window.workspace.session.mark_saved()
    assert window.close()
    note = window.memory
    assert (note.units, note.theme, note.folder) == ("mm", "light", str(tmp_path))
    assert note.place is not None
    assert note.place[2:] == (1210, 730)


def test_a_new_project_is_in_the_units_used_last(window: MainWindow) -> None:
    window.switch_units()
    window.workspace.session.mark_saved()
    window.files.new()
    assert window.workspace.unit == "mm"


def test_light_or_dark_follows_the_system_until_somebody_chooses(
    window: MainWindow, monkeypatch: pytest.MonkeyPatch
) -> None:
    window.choose_theme("system")
    assert window.theme.name == system_theme()
    monkeypatch.setattr("stoutlink.app.shell.window.system_theme", lambda: "light")
    window.follow_system()
    assert window.theme.name == "light"
    window.actions_by_id["theme"].trigger()
    assert (window.theme.name, window.memory.theme) == ("dark", "dark")
    window.follow_system()
    assert window.theme.name == "dark"


def test_the_window_comes_back_where_it_was_within_the_screen(window: MainWindow) -> None:
    screen = window.screen()
    assert screen is not None
    room = screen.availableGeometry()
    window.memory = msgspec.structs.replace(window.memory, place=(room.x() + 5, room.y() + 5, 5000, 4000))
    window.put_where_it_was(1280, 800)
    assert window.width() <= room.width()
    assert window.height() <= room.height()


def test_the_last_project_is_offered(window: MainWindow, answers: Answers, basalt: Project, tmp_path: Path) -> None:
    window.files.reopen()
    assert "No project was open" in window._said.text()
    answers.path = tmp_path / "mine"
    window.files.save_as()
    window.files.open_demo("tamarack")
    window.actions_by_id["reopen"].trigger()
    assert window.workspace.file == tmp_path / "mine.stoutlink"


# A small screen


@pytest.mark.parametrize("step", [one.id for one in registry.STEPS])
def test_every_look_fits_a_small_screen(window: MainWindow, step: str) -> None:
    """At 1024 x 700 no button's words are cut, and the verdict is a click away."""
    window.resize(1024, 700)
    QApplication.processEvents()
    assert (window.width(), window.height()) == (1024, 700)
    assert window.body.narrow
    window.show_step(step)
    for key, *_ in registry.BY_ID[step].looks or (("",),):
        if key:
            window.sheets[step].look(key)
        QApplication.processEvents()
        for button in window.sheets[step].findChildren(QPushButton):
            if button.isVisible() and button.text():
                assert button.width() >= button.minimumSizeHint().width() - 1, (key, button.text())
                right = button.mapTo(window.sheets[step], QPoint(button.width(), 0)).x()
                assert right <= window.sheets[step].width() + 1, (key, button.text())


def test_verdict_and_knock_ons_fold_behind_a_handle(qtbot: QtBot, window: MainWindow) -> None:
    assert window._side.isVisible()
    assert not window.body.handle.isVisible()
    window.resize(NARROW - 100, 700)
    QApplication.processEvents()
    handle = window.body.handle
    assert not window._side.isVisible()
    assert handle.isVisible()
    assert "out of band" in handle.accessibleName()
    assert "dangers" in handle.accessibleName()
    qtbot.mouseClick(handle, Qt.MouseButton.LeftButton)
    assert window._side.isVisible()
    window.knock_ons.go.emit(window.workspace.study.open[0])
    assert not window._side.isVisible()
    window.resize(1280, 800)
    QApplication.processEvents()
    assert window._side.isVisible()


# Finding


@pytest.mark.parametrize(
    ("typed", "step", "check"),
    [
        ("wheelbase", "rig", lambda w: focus(w).place == "rig.wheelbase_m"),  # type: ignore[attr-defined]
        ("30-spline middle front", "donors", lambda w: w.sheet(DonorSheet)._looked().id == "gs-30f"),
        ("panhard link of", "layout", lambda w: w.sheet(LayoutSheet).views.selected == ("panhard", "frame")),
        ("kick-up station", "tape", lambda w: w.sheet(TapeSheet).drawer.point_id is not None),
        ("fuel tank in the way", "tape", lambda w: w.sheet(TapeSheet).drawer.solid_id is not None),
        ("joints of series", "donors", lambda w: w.sheet(DonorSheet).shown == "match"),
    ],
)
def test_fields_parts_and_knock_ons_are_found_by_typing(
    qtbot: QtBot, window: MainWindow, typed: str, step: str, check: Callable[[MainWindow], bool]
) -> None:
    window.show_step("cut")
    qtbot.keyClick(window, Qt.Key.Key_K, CONTROL)
    qtbot.keyClicks(window.box.line, typed)
    qtbot.keyClick(window.box.line, Qt.Key.Key_Return)
    assert window.step == step
    assert check(window)


def test_undo_takes_the_view_to_the_change(window: MainWindow) -> None:
    window.show_step("rig")
    window.sheet(RigSheet).look("stance")
    window.workspace.do(SetNumber("rig.weight.gvwr_kg", 2100.0, "2100 kg"))
    window.workspace.do(ChooseDonor("front", None))
    window.show_step("layout")
    window.undo()
    assert (window.step, window.workspace.end) == ("donors", "rear")
    window.undo()
    assert (window.step, window.sheet(RigSheet).shown) == ("rig", "weight")
    field = focus(window)
    assert isinstance(field, KeptLine)
    assert field.place == "rig.weight.gvwr_kg"
    window.sheet(RigSheet).look("stance")
    window.workspace.do(SetNumber("rig.wheelbase_m", 2.6, "2.6 m"))
    window.undo()
    assert window.sheet(RigSheet).shown == "stance"
    window.show_step("cut")
    window.switch_units()
    window.undo()
    assert window.step == "cut"  # units are in view everywhere


def test_the_first_difference_is_the_change_itself(basalt: Project) -> None:
    assert first_difference(basalt, basalt) is None
    typed = SetNumber("rig.front.track_m", 1.7, "1.7 m").apply(basalt)
    assert first_difference(basalt, typed) == "rig.front.track_m"  # not the note beside it
    point = SurveyPoint(id="new", station=(Reading(value_m=1.0),))
    more = PutInList("surveys.as-built.points", point, "Add").apply(basalt)
    assert first_difference(basalt, more) == "surveys.as-built.points.new"
    assert first_difference(more, basalt) == "surveys.as-built.points"
    assert first_difference(basalt, SetChoice("settings.units", "mm").apply(basalt)) == "settings.units"
    assert first_difference(basalt, with_value(basalt, "entries", ())) == "entries"


def test_a_click_on_what_is_not_taken_goes_there(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("rig")
    field = tab_to(qtbot, window, lambda one: getattr(one, "place", "") == "rig.wheelbase_m")
    qtbot.keyClicks(field, "wide")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    window.show_step("cut")
    assert "<a href='rig.wheelbase_m'>▲ 1 not taken</a>" in window._state.text()
    window._state.linkActivated.emit("rig.wheelbase_m")
    assert (window.step, focus(window)) == ("rig", field)


# Hands


def test_rows_of_a_spreadsheet_are_pasted_into_the_tape(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("tape")
    strip = window.sheet(TapeSheet).strip
    before = window.workspace.project
    strip.go(len(strip.points()), 0)
    board = QGuiApplication.clipboard()
    assert board is not None
    board.setText("Station\tHeight\tWidth\tName\n100\t22 1/2\t34\tone\n104\t22 1/4\t34\ttwo\n")
    qtbot.keyClick(strip.editor, Qt.Key.Key_V, CONTROL)
    new = strip.points()[-2:]
    assert [p.name for p in new] == ["one", "two"]
    assert new[1].height[0].value_m == pytest.approx(22.25 * INCH)
    assert window.workspace.session.undo_label == "Paste 3 rows"
    window.undo()
    assert window.workspace.project == before
    board.setText("100\tvery high\n101\t22\n")
    strip.go(len(strip.points()), 0)
    qtbot.keyClick(strip.editor, Qt.Key.Key_V, CONTROL)
    assert window.workspace.project == before
    assert "Row 1, height: “very high” is no length" in window._said.text()
    board.setText("33")
    qtbot.keyClick(strip.editor, Qt.Key.Key_V, CONTROL)
    assert strip.editor.text() == "33"  # one cell is typed as ever
    qtbot.keyClick(strip.editor, Qt.Key.Key_Escape)


def test_pasting_keeps_the_notes_on_the_stations_that_stay(basalt: Project) -> None:
    path = "surveys.as-built.points"
    points = next(s for s in basalt.tape.surveys if s.id == "as-built").points
    noted = SetNumber(f"{path}.{points[0].id}.diameter_m", 0.05, "2 in").apply(basalt)
    points = next(s for s in noted.tape.surveys if s.id == "as-built").points
    more = ReplaceList(path, (*points, SurveyPoint(id="new")), "Paste").apply(noted)
    assert more.entry(f"{path}.{points[0].id}.diameter_m") is not None
    fewer = ReplaceList(path, points[1:], "Take").apply(noted)
    assert fewer.entry(f"{path}.{points[0].id}.diameter_m") is None


def test_the_whole_survey_is_in_view_of_the_tape(window: MainWindow) -> None:
    window.show_step("tape")
    view = window.sheet(TapeSheet).view
    far = SurveyPoint(id="far", station=(Reading(value_m=5.2),), height=(Reading(value_m=1.7),), across="middle")
    window.workspace.do(PutInList("surveys.as-built.points", far, "Far"))
    window.actions_by_id["fit"].trigger()
    for one in view.placed():
        at = view.frames()["side"].at((one.x, one.z or 0.0))
        assert 0 <= at.x() <= view.width()
        assert 0 <= at.y() <= view.height()


def test_page_keys_act_where_the_keys_are(qtbot: QtBot, window: MainWindow) -> None:
    qtbot.waitUntil(lambda: window.workspace.cycling.known, timeout=30000)
    window.show_step("layout")
    sheet = window.sheet(LayoutSheet)
    sheet.views.setFocus()
    qtbot.keyClick(sheet.views, Qt.Key.Key_PageUp)
    assert sheet.views.station is not None
    qtbot.keyClick(sheet.views, Qt.Key.Key_Home)
    assert sheet.views.station is None
    QApplication.processEvents()
    bar = window.knock_ons._area.verticalScrollBar()
    assert bar is not None
    card = next(iter(window.knock_ons._cards.values()))
    card.go.setFocus()
    qtbot.keyClick(card.go, Qt.Key.Key_PageDown)
    assert bar.value() > 0
    assert sheet.views.station is None
    qtbot.keyClick(card.go, Qt.Key.Key_Home)
    assert bar.value() == 0
    window.show_step("donors")
    listed = window.sheet(DonorSheet).list
    listed.setCurrentRow(0)
    listed.setFocus()
    qtbot.keyClick(listed, Qt.Key.Key_PageDown)
    assert listed.currentRow() > 3
    qtbot.keyClick(listed, Qt.Key.Key_Home)
    assert listed.currentRow() == 0


@pytest.mark.parametrize("step", [one.id for one in registry.STEPS])
def test_tab_goes_in_reading_order_on_every_board_and_look(qtbot: QtBot, window: MainWindow, step: str) -> None:
    """Down the sheet: what Tab comes to next in one look never stands a whole row higher."""
    window.show_step(step)
    window.switch_units()
    for key, *_ in registry.BY_ID[step].looks or (("",),):
        if key:
            window.sheets[step].look(key)
        for look in window.sheets[step].findChildren(QWidget):
            chained = look.property("tab_order")
            if not chained or not look.isVisible():
                continue
            inside = [w for w in look.children() if isinstance(w, QWidget) and id(w) in chained and w.isVisible()]
            if len(inside) < 2:
                continue
            first = next(w for w in inside if id(w) == next(i for i in chained if i in map(id, inside)))
            first.setFocus()
            seen = [first]
            for _ in range(3 * len(inside)):
                qtbot.keyClick(focus(window), Qt.Key.Key_Tab)
                if focus(window) in inside and focus(window) not in seen:
                    seen.append(focus(window))
            ys = [w.mapTo(look, QPoint(0, 0)).y() for w in seen]
            assert all(b >= a - 14 for a, b in itertools.pairwise(ys)), (key, look.objectName(), ys)


def test_every_area_that_scrolls_has_a_name(window: MainWindow) -> None:
    for step in registry.STEPS:
        window.show_step(step.id)
        for key, *_ in step.looks:
            window.sheets[step.id].look(key)
    for area in window.findChildren(QAbstractScrollArea):
        if area.window() is window and area.isVisible():
            assert area.accessibleName(), area.objectName()


def test_a_screen_reader_finds_the_places_of_a_picture(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("layout")
    window.sheet(LayoutSheet).look("start")
    picture = window.sheet(LayoutSheet).looks["start"].picture  # type: ignore[attr-defined]
    assert isinstance(picture, Picture)
    picture.repaint()
    qtbot.waitUntil(lambda: bool(picture.findChildren(Place)), timeout=3000)
    shown = [p for p in picture.findChildren(Place) if p.isVisibleTo(picture)]
    assert [p.accessibleName() for p in shown] == [h.name for h in picture.hits]
    assert all(p.accessibleDescription() for p in shown)
    before = len(window.workspace.project.linkage.layouts)
    next(p for p in shown if p.accessibleName() == "start three_link_panhard").click()
    qtbot.waitUntil(lambda: len(window.workspace.project.linkage.layouts) == before + 1, timeout=20000)


# Menus where the mouse is


def entries(window: MainWindow) -> dict[str, Callable[[], None]]:
    """What stands in the menu that has just opened."""
    menu = [m for m in window.findChildren(QMenu, "context_menu") if m.isVisible()][-1]
    found = {a.text(): a.trigger for a in menu.actions() if not a.isSeparator()}
    menu.close()
    return found


def ask_for_menu(widget: QWidget, at: QPoint | None = None) -> None:
    at = at or widget.rect().center()
    QApplication.sendEvent(widget, QContextMenuEvent(QContextMenuEvent.Reason.Mouse, at, widget.mapToGlobal(at)))


def test_cards_gauges_candidates_and_drawings_have_menus(qtbot: QtBot, window: MainWindow, answers: Answers) -> None:
    board = QGuiApplication.clipboard()
    assert board is not None
    key, card = next(iter(window.knock_ons._cards.items()))
    ask_for_menu(card)
    offered = entries(window)
    assert list(offered)[:2] == [card.go.text(), "Accept…"]
    offered["Copy as text"]()
    assert key[0].sentence in board.text()
    offered[f"What {key[0].first.code} means"]()
    assert window.reading.isVisible()
    window.reading.close()
    bar = window.verdict._bars[0][0]
    ask_for_menu(bar)
    assert bar.gauge is not None
    entries(window)["Copy the number"]()
    assert board.text() == bar.gauge.text
    window.show_step("donors")
    sheet = window.sheet(DonorSheet)
    other = next(i for i in range(sheet.list.count()) if sheet._item(i).donor.id != "vh-36r")
    sheet.list.customContextMenuRequested.emit(sheet.list.visualItemRect(sheet.list.item(other)).center())
    entries(window)["Put it under the rear"]()
    assert window.workspace.project.swap.rear_donor == sheet._item(other).donor.id
    window.show_step("layout")
    ask_for_menu(window.sheet(LayoutSheet).views)
    assert {"Fit the drawing", "Print…", "Copy the layout look as text"} <= set(entries(window))


def test_several_files_dropped_are_taken_and_what_cannot_be_is_named(
    window: MainWindow, basalt: Project, tmp_path: Path
) -> None:
    for name in ("one", "two"):
        write_project(
            with_parts(basalt, name=name, donors=(), front_donor=None, rear_donor=None),
            tmp_path / f"{name}.stoutlink",
        )
    (tmp_path / "notes.txt").write_text("hello")
    mime = QMimeData()
    paths = [tmp_path / "notes.txt", tmp_path / "one.stoutlink", demo_file("donors.csv"), tmp_path / "two.stoutlink"]
    mime.setUrls([QUrl.fromLocalFile(str(p)) for p in paths])
    window.dropEvent(
        QDropEvent(
            QPointF(10, 10), Qt.DropAction.CopyAction, mime, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
        )
    )
    assert window.workspace.project.name == "one"
    assert len(window.workspace.project.swap.donors) >= 26
    said = window._said.text()
    assert "2 of 4 files taken" in said
    assert "notes.txt" in said
    assert "two.stoutlink" in said
