"""Parts and copes in the window: picked, typed on, marked as cut, written out; fonts that stay what they are."""

from __future__ import annotations

import math
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtWidgets import QPushButton
from pytestqt.qtbot import QtBot

from stoutlink.app.canvas.painting import Frame, paint
from stoutlink.app.desk.theme import THEMES, font
from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.cut.sheet import CutSheet
from stoutlink.app.steps.cut.station_line import miss_and_clock
from stoutlink.app.steps.cut.station_look import StationLook
from stoutlink.app.widgets.kept_line import KeptLine
from stoutlink.core.advice.finding import Finding
from stoutlink.core.drawing.shapes import Text
from stoutlink.core.editing.edits import ReplaceList, SetNumber
from stoutlink.core.errors import StoutError
from tests.app.conftest import Answers
from tests.app.test_by_keyboard import focus


def up(window: MainWindow, look: str) -> CutSheet:
    window.workspace.set_end("rear")
    window.show_step("cut")
    out = window.sheet(CutSheet)
    out.look(look)
    return out


def press(qtbot: QtBot, window: MainWindow, name: str) -> None:
    button = window.findChild(QPushButton, name)
    assert button is not None
    assert button.isVisible(), name
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)


def test_a_part_is_picked_typed_on_and_marked_as_cut(qtbot: QtBot, window: MainWindow) -> None:
    look = up(window, "parts").parts
    look.names.grab()
    hit = look.names.named("part rear-a-lower-frame-tab")
    assert hit is not None
    qtbot.mouseClick(look.names, Qt.MouseButton.LeftButton, pos=hit.box.center().toPoint())
    assert look.part is not None
    assert look.part.id == "rear-a-lower-frame-tab"
    edge = next(s for s in look.part.sizes if s.key == "edge")
    line = next(x for x in look.drawer.findChildren(KeptLine) if x.place == edge.path)
    line.setFocus()
    line.selectAll()
    qtbot.keyClicks(line, "1/2")
    qtbot.keyClick(line, Qt.Key.Key_Return)
    assert look.part.size("edge") == pytest.approx(0.0127)
    assert "Hole to edge: 0.50″" in look.as_text()
    finding = next(f for f in window.workspace.study.open_so_far if f.code == "C221")
    assert isinstance(finding, Finding)
    up(window, "stock")
    window.sheet(CutSheet).go(finding)
    assert look.isVisible()
    assert look.part.id == "rear-a-lower-frame-tab"
    window.undo()
    press(qtbot, window, "part_cut")
    assert "rear-a-lower-frame-tab" in {c.id for c in window.workspace.project.fabrication.cut_parts}
    assert "nothing has changed since" in look.as_text()
    assert edge.path is not None
    window.workspace.do(SetNumber(edge.path, 0.04))
    assert "1.57″ now. Make it anew" in look.as_text()
    assert any(f.code == "C226" and "Lower, frame" in f.sentence for f in window.workspace.study.open_so_far)
    press(qtbot, window, "part_cut")
    assert "rear-a-lower-frame-tab" not in {c.id for c in window.workspace.project.fabrication.cut_parts}
    assert not look.grab().isNull()
    window.workspace.session.mark_saved()


def test_parts_and_wraps_are_written(qtbot: QtBot, window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    up(window, "parts")
    for kind, start in (("dxf", b"  0"), ("svg", b"<?xml"), ("pdf", b"%PDF")):
        answers.path = tmp_path / f"part.{kind}"
        press(qtbot, window, f"part_{kind}")
        assert (tmp_path / f"part.{kind}").read_bytes().startswith(start)
    up(window, "copes")
    for kind, start in (("dxf", b"  0"), ("svg", b"<?xml"), ("pdf", b"%PDF")):
        answers.path = tmp_path / f"wrap.{kind}"
        press(qtbot, window, f"cope_{kind}")
        assert (tmp_path / f"wrap.{kind}").read_bytes().startswith(start)


def test_a_cope_is_added_and_one_that_cannot_be_says_so(
    qtbot: QtBot, window: MainWindow, answers: Answers, tmp_path: Path
) -> None:
    look = up(window, "copes").copes
    press(qtbot, window, "add_cope")
    one = look.one
    assert one is not None
    window.workspace.go_to.emit(f"copes.{one.id}.other_m")
    line = focus(window)
    assert isinstance(line, KeptLine)
    line.selectAll()
    qtbot.keyClicks(line, "1")
    qtbot.keyClick(line, Qt.Key.Key_Return)
    assert isinstance(look.found, str)
    assert "there is no such cut: it stands past the side of the other tube" in look.as_text()
    answers.path = tmp_path / "none.pdf"
    press(qtbot, window, "cope_pdf")
    assert not (tmp_path / "none.pdf").exists()
    assert "There is no such cut" in window._said.text()
    assert not look.grab().isNull()
    press(qtbot, window, "remove_cope")
    assert one.id not in {c.id for c in window.workspace.project.fabrication.copes}
    window.workspace.session.mark_saved()


@pytest.mark.parametrize("look", ["parts", "copes", "plate", "stations"])
def test_both_themes_and_units_and_nothing_there(window: MainWindow, look: str) -> None:
    for theme in ("dark", "light"):
        window.set_theme(theme)
        sheet = up(window, look)
        window.switch_units()
        assert sheet.as_text()
        assert not sheet.grab().isNull()
    window.files.new()
    sheet = up(window, look)
    assert "yet" in sheet.as_text()
    assert not sheet.grab().isNull()


def test_words_drawn_at_a_size_leave_the_fonts_of_the_house_alone() -> None:
    before = font(9).pointSizeF()
    image = QImage(100, 100, QImage.Format.Format_ARGB32)
    p = QPainter(image)
    paint(p, [Text((0.0, 0.0), "large", 0.05, "mark")], Frame(image.rect().center().toPointF(), 1000.0), THEMES["dark"])
    p.end()
    assert font(9).pointSizeF() == before


def read(qtbot: QtBot, look: StationLook, words: str) -> None:
    """Type a reading of the cell picked."""
    line = look.reading.line
    assert line.isVisible()
    line.setFocus()
    line.clear()
    qtbot.keyClicks(line, words)
    qtbot.keyClick(line, Qt.Key.Key_Return)


def test_stations_are_begun_read_in_their_cells_and_close(qtbot: QtBot, window: MainWindow, answers: Answers) -> None:
    window.workspace.do(ReplaceList("stations", (), "none"))
    look = up(window, "stations").stations
    press(qtbot, window, "begin_stations")
    for cell, typed in (
        ("span before", "54"),
        ("left marked", "7 3/4 ± 0.02"),
        ("spacing marked", "38.5 ± 0.02"),
        ("right marked", "7.6 ± 0.02"),
    ):
        look.picture.grab()
        hit = look.picture.named(cell)
        assert hit is not None
        qtbot.mouseClick(look.picture, Qt.MouseButton.LeftButton, pos=hit.box.center().toPoint())
        read(qtbot, look, typed)
    assert look.sheet is not None
    assert len(look.sheet.stations.readings) == 4
    assert "One of them is wrong; no bead before it closes" in look.as_text()
    finding = next(f for f in window.workspace.study.open_so_far if f.code == "C227")
    up(window, "stock")
    window.sheet(CutSheet).go(finding)
    assert look.isVisible()
    look.pick("right", "marked")
    press(qtbot, window, "station_back")
    read(qtbot, look, "7.75 ± 0.02")
    assert not any(f.code == "C227" for f in window.workspace.study.open_so_far)
    for side, typed in (("left", "1/16 at 4:30"), ("right", "0.05")):
        look.picture.grab()
        hit = look.picture.named(f"{side} end tacked")
        assert hit is not None
        qtbot.mouseClick(look.picture, Qt.MouseButton.LeftButton, pos=hit.box.center().toPoint())
        read(qtbot, look, typed)
    ends = look.sheet.stations.straight
    assert [(e.side, round(e.miss_m / 0.0254, 4), e.clock) for e in ends] == [
        ("left", 0.0625, 4.5),
        ("right", 0.05, None),
    ]
    assert "Right end, tacked: misses the bar by 0.050″" in look.as_text()
    look.pick("left end", "tacked")
    read(qtbot, look, "1/16 at 13")
    assert "“13” is not a place on a clock" in window._said.text()
    assert look.reading.line.text() == "1/16 at 13"  # nothing typed is lost, and saving says so
    look.pick("right", "marked")
    assert look.reading.line.text() == ""
    look.pick("left end", "tacked")
    assert look.reading.line.text() == "1/16 at 13"
    qtbot.keyClick(look.reading.line, Qt.Key.Key_Escape)
    look.pick("right", "marked")
    read(qtbot, look, "seven")
    assert "seven" in window._said.text()
    qtbot.keyClick(look.reading.line, Qt.Key.Key_Escape)
    window.workspace.session.mark_saved()


def test_stations_are_read_by_keyboard_and_caliper(qtbot: QtBot, window: MainWindow, answers: Answers) -> None:
    """Enter goes down the stage; Space on the empty line takes the caliper's mean with its scatter, Enter writes it down.
    The angle finder's reading lands in the field of the relation."""
    window.workspace.do(ReplaceList("stations", (), "none"))
    look = up(window, "stations").stations
    press(qtbot, window, "begin_stations")
    look.pick("span", "tacked")
    for typed in ("54", "7.75", "38.5", "7.75"):
        read(qtbot, look, typed)
    assert look.cell == ("left end", "tacked")
    assert look.sheet is not None
    assert [r.of for r in look.sheet.stations.readings] == ["span", "left", "spacing", "right"]
    desk = window.instruments
    qtbot.keyClick(look.reading.line, Qt.Key.Key_Space)
    assert "No caliper connected" in window._said.text()
    assert desk.connect_to("caliper", "simulated")
    line = desk.lines["caliper"]
    assert line.stand_in is not None
    line.stand_in.put({"C": 1.234})
    line.stand_in.rate = 200.0
    with qtbot.waitSignal(desk.measured, timeout=20_000):
        qtbot.keyClick(look.reading.line, Qt.Key.Key_Space)
    assert "±" in look.reading.line.text()
    look.reading.line.end(False)
    qtbot.keyClick(look.reading.line, Qt.Key.Key_Return)
    (one,) = look.sheet.stations.straight
    assert one.miss_m == pytest.approx(0.001234, abs=1e-4)
    assert "Caliper, simulated" in look.bar._labels["caliper"].text()
    assert desk.connect_to("angle", "simulated")
    path = "stations.rear.relation_rad"
    field = next(x for x in look.drawer.findChildren(KeptLine) if x.place == path)
    field.setFocus()
    with qtbot.waitSignal(desk.taken, timeout=20_000):
        qtbot.keyClick(field, Qt.Key.Key_Space)
    found = look.sheet.stations.relation_rad
    assert found == pytest.approx(math.radians(2.4), abs=2e-3)
    desk.close()


@pytest.mark.parametrize(
    ("typed", "miss", "clock"),
    [
        ("1/16", 0.0015875, None),
        ("1/16 at 4:30", 0.0015875, 4.5),
        ("1.5 mm @ 9", 0.0015, 9.0),
        ("0.05 at 12", 0.00127, 12.0),
    ],
)
def test_a_miss_and_a_place_on_the_clock(typed: str, miss: float, clock: float | None) -> None:
    found = miss_and_clock(typed, "in")
    assert found[0] == pytest.approx(miss)
    assert found[1] == clock


def test_no_such_place_on_a_clock() -> None:
    with pytest.raises(StoutError, match="Q160 “4:75” is not a place on a clock"):
        miss_and_clock("1/16 at 4:75", "in")


def test_a_plasma_table_is_asked_beside_the_window(qtbot: QtBot, window: MainWindow, answers: Answers) -> None:
    look = up(window, "plate").plate
    assert look.plans
    look.ask_table("")
    assert look.halt.isVisible()
    qtbot.waitUntil(lambda: not look.work.busy, timeout=20_000)
    assert not look.halt.isVisible()
    every = sum(plan.nested.plates for plan in look.plans)
    assert len(look.answers) == every
    words = look.as_text()
    assert words.count("on the table") == every
    assert "pierces" in words
    assert "refused: Lower, tube, tab" in words  # its hole breaks into the notch
    window.workspace.do(SetNumber("plate.amps", 60.0))  # other numbers: what was said before is no answer to them
    assert "on the table" not in look.as_text()
    look.ask_table("/dev/no-such-table")
    qtbot.waitUntil(lambda: not look.work.busy and look.ask.isEnabled(), timeout=20_000)
    assert look.answers == {}
    answers.text = "nonsense at all"
    look._ask_device()
    assert not look.work.busy
    look.ask_table("")
    look._halt()
    assert look.ask.isEnabled()
    assert look.answers == {}


def test_the_shop_packet_is_made_beside_the_window(
    qtbot: QtBot, window: MainWindow, answers: Answers, tmp_path: Path
) -> None:
    sheet = up(window, "links")
    answers.path = tmp_path / "packet.pdf"
    menu = sheet.packing.menu()
    assert menu is not None
    assert [a.text() for a in menu.actions()] == ["On A4", "On Letter"]
    menu.actions()[1].trigger()
    assert sheet.halt.isVisible()
    assert not sheet.packing.isVisible()
    qtbot.waitUntil(lambda: not sheet.work.busy, timeout=60_000)
    assert (tmp_path / "packet.pdf").read_bytes().startswith(b"%PDF")
    assert sheet.packing.isVisible()
    answers.path = tmp_path / "never.pdf"
    sheet.pack("A4")
    press(qtbot, window, "stop_packet")
    qtbot.waitUntil(lambda: not sheet.work.busy, timeout=60_000)
    assert not (tmp_path / "never.pdf").exists()
    assert sheet.packing.isVisible()


def test_parts_are_picked_on_the_rig_and_typed_by_their_own_numbers(
    qtbot: QtBot, window: MainWindow, answers: Answers
) -> None:
    look = up(window, "parts").parts
    look.show_as("rig")
    look.picture.grab()
    for view in ("side", "plan", "rear"):
        assert look.picture.named(f"steel {view} rear-a-lower-axle-tab 1") is not None
    hit = look.picture.named("steel side rear-a-lower-frame-tab 1")
    assert hit is not None
    qtbot.mouseClick(look.picture, Qt.MouseButton.LeftButton, pos=hit.box.center().toPoint())
    assert look.way == "part"
    assert look.part is not None
    look.pick("rear-a-lower-frame-tab")
    look.picture.grab()
    hole = look.picture.named("size hole")
    assert hit is not None
    assert hole is not None
    qtbot.mouseClick(look.picture, Qt.MouseButton.LeftButton, pos=hole.box.center().toPoint())
    focused = window.focusWidget()
    assert isinstance(focused, KeptLine)
    assert focused.place == "layouts.rear-a.brackets.lower-frame.bolt_hole_m"
    focused.selectAll()
    qtbot.keyClicks(focused, "0.8")
    qtbot.keyClick(focused, Qt.Key.Key_Return)
    assert look.part.size("hole") == pytest.approx(0.02032)


def test_a_part_of_ones_own_is_added_typed_moved_and_removed(
    qtbot: QtBot, window: MainWindow, answers: Answers
) -> None:
    look = up(window, "parts").parts
    before = len(window.workspace.project.fabrication.made_parts)
    menu = look.add.menu()
    assert menu is not None
    assert len(menu.actions()) == 13
    next(a for a in menu.actions() if a.text() == "Gusset").trigger()
    assert look.own is not None
    assert look.part is not None
    path = f"made_parts.{look.own.id}"
    assert "as long as it is" in look.as_text()

    def type_in(key: str, words: str) -> None:
        line = next(x for x in look.drawer.findChildren(KeptLine) if x.place == f"{path}.{key}")
        line.setFocus()
        line.selectAll()
        qtbot.keyClicks(line, words)
        qtbot.keyClick(line, Qt.Key.Key_Return)

    field = next(x for x in look.drawer.findChildren(KeptLine) if x.place == f"{path}.height_m")
    assert field.text() == "3″"  # what it stands for while nobody types it
    type_in("length_m", "5")
    assert look.part.size("length") == pytest.approx(0.127)
    assert look.part.size("height") == pytest.approx(0.127)
    type_in("at_m.1", "12")
    assert look.part.places[0].origin[1] == pytest.approx(0.3048)
    assert look.part.places[1].origin[1] == pytest.approx(-0.3048)
    type_in("clip_m", "4.9")
    finding = next(f for f in window.workspace.study.open_so_far if f.code == "C241")
    up(window, "stock")
    window.sheet(CutSheet).go(finding)
    assert look.isVisible()
    assert look.own is not None
    assert window.sheet(CutSheet).show_field(f"{path}.thick_m")
    press(qtbot, window, "remove_part")
    assert len(window.workspace.project.fabrication.made_parts) == before
