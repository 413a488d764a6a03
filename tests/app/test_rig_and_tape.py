"""Rig and Tape driven as a hand would: ± typed in a field, the strip by keyboard alone, instruments over a real line."""

from __future__ import annotations

import math
from collections.abc import Iterator
from pathlib import Path

import msgspec
import pytest
from ezdxf.filemanagement import new as new_drawing
from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QPointF, Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QComboBox, QLabel, QLineEdit, QMenu, QPushButton, QWidget
from pytestqt.qtbot import QtBot

from stoutlink.app.panels.instrument_desk import InstrumentDesk, parse_device
from stoutlink.app.panels.verdict_panel import GaugeBar
from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.layout.sheet import LayoutSheet
from stoutlink.app.steps.rig.sheet import RigSheet
from stoutlink.app.steps.rig.train_board import TrainBoard
from stoutlink.app.steps.rig.weight_board import WeightBoard
from stoutlink.app.steps.tape.sheet import TapeSheet
from stoutlink.core.document.project import with_parts
from stoutlink.core.document.survey import OutlineSolid, Reading, SurveyPoint
from stoutlink.core.editing.edits import PutInList, SetNumber
from stoutlink.core.storage.files import read_project
from stoutlink.demo import demo_file
from tests.app.conftest import Answers
from tests.app.test_window import child, field, type_into

INCH = 0.0254


def said(window: MainWindow) -> str:
    return child(window, QLabel, "message").toolTip()


def press(window: MainWindow, name: str) -> None:
    button = child(window, QPushButton, name)
    assert isinstance(button, QPushButton)
    button.click()


def keys(qtbot: QtBot, window: MainWindow, text: str) -> None:
    """Type into the strip with what a numeric keypad has: digits . / - + * and Enter (↵)."""
    for char in text:
        if char == "↵":
            qtbot.keyClick(window.sheet(TapeSheet).strip.editor, Qt.Key.Key_Enter, Qt.KeyboardModifier.KeypadModifier)
        elif char == "*":
            qtbot.keyClick(
                window.sheet(TapeSheet).strip.editor, Qt.Key.Key_Asterisk, Qt.KeyboardModifier.KeypadModifier
            )
        else:
            qtbot.keyClicks(window.sheet(TapeSheet).strip.editor, char)


@pytest.fixture
def tape(window: MainWindow) -> MainWindow:
    """A window on an empty new survey."""
    window.show_step("tape")
    press(window, "new_survey")
    return window


def points(window: MainWindow) -> tuple[SurveyPoint, ...]:
    survey = window.sheet(TapeSheet).strip.survey()
    assert survey is not None
    return survey.points


def _pixels(widget: QWidget) -> bytes:
    data = QByteArray()
    buffer = QBuffer(data)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    widget.grab().save(buffer, "PNG")
    return data.data()


# Fields


def test_how_sure_is_typed_beside_the_number(qtbot: QtBot, window: MainWindow) -> None:
    window.sheet(RigSheet).look("weight")
    one = field(window, "field_rig.cg_height_m")
    type_into(qtbot, one, "35 1/2 ± 1")
    entry = window.workspace.project.entry("rig.cg_height_m")
    assert entry is not None
    assert window.workspace.project.rig.cg_height_m == pytest.approx(35.5 * INCH)
    assert entry.sigma == pytest.approx(0.5 * INCH)
    assert (entry.basis, entry.text) == ("measured", "35 1/2")
    type_into(qtbot, one, "~36")
    entry = window.workspace.project.entry("rig.cg_height_m")
    assert entry is not None
    assert (entry.basis, entry.sigma) == ("estimated", None)
    assert one.property("basis") == "estimated"
    type_into(qtbot, one, "36 ± x")
    assert "not understood" in said(window)
    assert window.workspace.project.rig.cg_height_m == pytest.approx(36 * INCH)


def test_a_pivots_coordinate_carries_its_own_doubt(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("layout")
    window.sheet(LayoutSheet).views.select(("lower_left", "frame"))
    before = window.workspace.study.axles["rear"].gauges[0].sigma
    type_into(qtbot, field(window, "pivot_height"), "24 ± 1 1/2")
    entry = window.workspace.project.entry("layouts.rear-a.links.lower_left.frame_pivot_m.2")
    assert entry is not None
    assert entry.sigma == pytest.approx(0.75 * INCH)
    gauge = window.workspace.study.axles["rear"].gauges[0]
    assert gauge.sigma > 1.5 * before
    assert gauge.parts[0].what == "lower pair, frame height"


def test_measured_estimated_and_remembered_look_different(window: MainWindow) -> None:
    window.sheet(RigSheet).look("weight")
    one = field(window, "field_rig.cg_height_m")
    looks = set()
    for basis in ("measured", "estimated", "memory", "typed"):
        menu = QMenu()
        one.source_menu(menu)
        next(a for a in menu.actions() if a.objectName() == f"basis_{basis}").trigger()
        assert one.property("basis") == basis
        looks.add(_pixels(one))
    assert len(looks) == 4


def test_the_verdict_names_three_inputs_and_what_measuring_them_gains(qtbot: QtBot, window: MainWindow) -> None:
    bar = child(window.verdict, GaugeBar, "gauge_drive")
    qtbot.mouseClick(bar, Qt.MouseButton.LeftButton)
    text = next(note.text() for gauge, note, _ in window.verdict._bars if gauge is bar)
    assert text.count("half its ±") == 3
    assert "centre of gravity height" in text
    assert "tilted" in text


def test_sources_and_items_change_the_weight_in_force(qtbot: QtBot, window: MainWindow) -> None:
    window.sheet(RigSheet).look("weight")
    board = window.sheet(RigSheet).boards["weight"]
    assert isinstance(board, WeightBoard)
    before = window.workspace.rig.mass_kg
    press(window, "add_item")
    type_into(qtbot, field(window, "item_mass_kg"), "100 kg")
    assert window.workspace.rig.mass_kg == pytest.approx(before + 100)
    name = child(window, QLineEdit, "item_name")
    assert isinstance(name, QLineEdit)
    type_into(qtbot, name, "Winch")
    assert window.workspace.project.rig.weight.items[-1].name == "Winch"
    press(window, "remove_item")
    assert window.workspace.rig.mass_kg == pytest.approx(before)
    box = child(window, QComboBox, "choice_mass_from")
    assert isinstance(box, QComboBox)
    box.setCurrentIndex(box.findData("stated"))
    box.activated.emit(box.currentIndex())
    assert window.workspace.rig.mass_kg == window.workspace.project.rig.mass_kg
    window.workspace.undo()
    assert window.workspace.rig.mass_kg == pytest.approx(before)


def test_tyres_gears_and_curve(qtbot: QtBot, window: MainWindow) -> None:
    window.sheet(RigSheet).look("tyres")
    size = child(window, QLineEdit, "tyre_text_front")
    assert isinstance(size, QLineEdit)
    type_into(qtbot, size, "315/70R17")
    printed = window.workspace.project.rig.front.printed
    assert printed is not None
    assert printed.diameter == pytest.approx(0.8728)
    type_into(qtbot, field(window, "field_rig.front.roll_out_m"), "29 ft 7")
    assert window.workspace.project.rig.front.rolling == pytest.approx((29 * 12 + 7) * INCH / (6 * math.pi))
    window.sheet(RigSheet).look("drivetrain")
    board = window.sheet(RigSheet).boards["drivetrain"]
    assert isinstance(board, TrainBoard)
    press(window, "add_gear")
    type_into(qtbot, field(window, "field_rig.drivetrain.gear_ratios.4"), "0.55")
    assert window.workspace.project.rig.drivetrain.top_ratio == 0.55
    press(window, "drop_gear")
    assert window.workspace.project.rig.drivetrain.top_ratio == 0.7
    type_into(qtbot, field(window, "field_rig.drivetrain.torque_curve.0.rpm"), "3500")
    assert "do not rise" in said(window)
    type_into(qtbot, field(window, "field_rig.uses.road"), "20")
    assert window.workspace.project.rig.uses.part("road") == pytest.approx(0.2 / 1.2)


@pytest.mark.parametrize("theme", ["dark", "light"])
def test_every_look_paints_in_both_units_and_themes(window: MainWindow, theme: str) -> None:
    window.set_theme(theme)
    seen = set()
    for _ in range(2):
        window.switch_units()
        for look in window.sheet(RigSheet).boards:
            window.show_step("rig")
            window.sheet(RigSheet).look(look)
            seen.add(window.sheet(RigSheet).grab().toImage().cacheKey())
        window.show_step("tape")
        window.sheet(TapeSheet).grab()
    assert len(seen) == 2 * len(window.sheet(RigSheet).boards)


# Tape


def test_a_survey_is_typed_with_a_numeric_keypad_alone(qtbot: QtBot, tape: MainWindow) -> None:
    keys(qtbot, tape, "12-1/2↵22-3/4↵34↵")
    keys(qtbot, tape, "24↵22.5+22-9/16↵17*↵")
    one, two = points(tape)
    assert one.station[0].value_m == pytest.approx(12.5 * INCH)
    assert one.height[0].text == "22-3/4"
    assert one.side[0].value_m == pytest.approx(34 * INCH)
    assert one.across == "full"
    assert [r.value_m / INCH for r in two.height] == pytest.approx([22.5, 22.5625])
    assert two.across == "left"
    assert tape.sheet(TapeSheet).strip.column == 2
    assert tape.sheet(TapeSheet).strip.row == 0
    keys(qtbot, tape, "↵")
    assert tape.sheet(TapeSheet).strip.column == 2  # nothing typed: nothing to go on to


def test_the_view_draws_what_is_being_typed_before_it_is_taken(qtbot: QtBot, tape: MainWindow) -> None:
    keys(qtbot, tape, "12↵22↵34↵40↵23↵34↵26↵")
    before = points(tape)
    keys(qtbot, tape, "25")
    live = tape.sheet(TapeSheet).view._preview
    assert live is not None
    assert live.height[0].value_m == pytest.approx(25 * INCH)
    assert points(tape) == before
    with_line = tape.sheet(TapeSheet).view.grab().toImage()
    tape.sheet(TapeSheet).view.preview(None)
    assert tape.sheet(TapeSheet).view.grab().toImage() != with_line
    keys(qtbot, tape, "↵")
    assert points(tape)[2].height[0].value_m == pytest.approx(25 * INCH)


def test_wrong_text_stays_and_nothing_is_lost(qtbot: QtBot, tape: MainWindow) -> None:
    keys(qtbot, tape, "12↵22↵34↵")
    before = tape.workspace.project
    keys(qtbot, tape, "41-1/↵")
    editor = tape.sheet(TapeSheet).strip.editor
    assert editor.text() == "41-1/"
    assert editor.property("wrong") is True
    assert "41-1/" in said(tape)
    assert tape.workspace.project is before
    qtbot.keyClick(editor, Qt.Key.Key_Escape)
    assert editor.property("wrong") is False
    keys(qtbot, tape, "9999999↵")
    assert "Reading cannot be 9999999″; accepted is" in said(tape)
    assert tape.workspace.project is before


def test_untouched_cells_are_never_rewritten_and_undo_takes_one_reading(qtbot: QtBot, tape: MainWindow) -> None:
    keys(qtbot, tape, "12 1/2↵22↵34↵")
    before = tape.workspace.project
    tape.sheet(TapeSheet).strip.go(0, 0)
    keys(qtbot, tape, "↵↵↵")
    assert tape.workspace.project is before
    tape.workspace.undo()
    assert points(tape)[0].side == ()
    assert points(tape)[0].height != ()


def test_moving_inserting_and_removing(qtbot: QtBot, tape: MainWindow) -> None:
    keys(qtbot, tape, "10↵20↵30↵20↵20↵30↵")
    strip = tape.sheet(TapeSheet).strip
    strip.go(0, 0)
    qtbot.keyClick(strip.editor, Qt.Key.Key_Insert)
    keys(qtbot, tape, "15↵")
    assert [round(p.station[0].value_m / INCH) for p in points(tape)] == [10, 15, 20]
    qtbot.keyClick(strip.editor, Qt.Key.Key_Delete, Qt.KeyboardModifier.ControlModifier)
    assert [round(p.station[0].value_m / INCH) for p in points(tape)] == [10, 20]
    qtbot.keyClick(strip.editor, Qt.Key.Key_Enter, Qt.KeyboardModifier.ShiftModifier)
    strip.go(1, 3)
    qtbot.keyClicks(strip.editor, "frame dips")
    keys(qtbot, tape, "↵")
    assert points(tape)[1].name == "frame dips"
    assert (strip.column, strip.row) == (2, 0)


def test_a_bad_reading_is_marked_and_can_be_gone_to(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("tape")
    finding = next(f for f in window.workspace.study.open if f.code == "S103")
    assert window.sheet(TapeSheet).view.suspects() == {("as-built", "p8")}
    window.show_step("rig")
    window.go_to_finding(finding)
    assert window.step == "tape"
    assert window.sheet(TapeSheet).drawer.point_id == "p8"
    assert window.sheet(TapeSheet).strip.column == 7
    window.sheet(TapeSheet).strip.go(7, 1)
    keys(qtbot, window, "23-5/8↵")
    assert window.sheet(TapeSheet).view.suspects() == set()


def test_edges_and_datum_move_what_is_drawn(window: MainWindow) -> None:
    window.show_step("tape")
    window.sheet(TapeSheet)._picked("p15")
    drawer = window.sheet(TapeSheet).drawer
    x = window.sheet(TapeSheet).view.placed()[14].x
    drawer.change(height_edge="top", diameter_m=0.05)
    assert window.sheet(TapeSheet).view.placed()[14].z == pytest.approx(43.25 * INCH - 0.025)
    box = child(window, QComboBox, "datum_stood")
    assert isinstance(box, QComboBox)
    box.setCurrentIndex(box.findData("bump"))
    box.activated.emit(box.currentIndex())
    assert window.sheet(TapeSheet).view.placed()[14].z == pytest.approx(
        43.25 * INCH - 0.025 + window.workspace.project.layout("rear").bump_m  # type: ignore[union-attr]
    )
    assert window.sheet(TapeSheet).view.placed()[15].z == pytest.approx(18.625 * INCH)  # the axle stays
    way = child(window, QComboBox, "datum_direction")
    assert isinstance(way, QComboBox)
    way.activated.emit(way.findData("rearward"))
    assert window.sheet(TapeSheet).view.placed()[14].x == pytest.approx(-2 * 24 * INCH - x)


def test_a_second_survey_joins_and_reports(window: MainWindow) -> None:
    window.show_step("tape")
    window.sheet(TapeSheet).show_survey("stripped")
    press(window, "join_survey")
    survey = window.workspace.project.survey("stripped")
    assert survey is not None
    assert survey.datum.zero_x_m == pytest.approx(3.0994, abs=1e-3)
    report = child(window, QLabel, "merge_report")
    assert isinstance(report, QLabel)
    assert "5 shared points" in report.text()
    window.workspace.undo()
    again = window.workspace.project.survey("stripped")
    assert again is not None
    assert again.datum.zero_x_m == pytest.approx(122 * INCH)
    assert window.sheet(TapeSheet).drawer.report == ""  # what was left over belonged to the fit that was taken back


def test_solids_are_added_placed_checked_and_removed(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("tape")
    window.sheet(TapeSheet).add_solid("exhaust")
    new = window.sheet(TapeSheet).drawer.solid()
    assert new is not None
    link = window.workspace.project.linkage.layouts[0].links[0]
    for i in range(3):
        type_into(qtbot, field(window, f"solid_path_0_{i}"), f"{link.frame_pivot_m[i] * 1000} mm")
        type_into(qtbot, field(window, f"solid_path_1_{i}"), f"{link.axle_pivot_m[i] * 1000 + 1} mm")
    assert any(f.code == "K210" and "Left upper" in f.sentence for f in window.workspace.study.findings)
    press(window, "remove_solid")
    assert all(s.id != new.id for s in window.workspace.project.tape.solids)
    tank = window.sheet(TapeSheet).view.frames()["plan"].at((-9 * INCH, 0.0))
    qtbot.mouseClick(window.sheet(TapeSheet).view, Qt.MouseButton.LeftButton, pos=tank.toPoint())
    assert window.sheet(TapeSheet).drawer.solid_id == "tank"


def test_tables_and_drawings_go_in_and_out(window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    answers.path = tmp_path / "out.csv"
    window.show_step("tape")
    window.actions_by_id["export_survey"].trigger()
    text = (tmp_path / "out.csv").read_text()
    (tmp_path / "in.csv").write_text(text + "broken,1,2\n")
    answers.say = "Take the others"
    window.files.take(tmp_path / "in.csv")
    assert "Line" in answers.asked[-1]
    surveys = window.workspace.project.tape.surveys
    assert surveys[-1].points == surveys[0].points
    assert surveys[-1].datum == surveys[0].datum
    answers.say = "Cancel"
    window.files.take(tmp_path / "in.csv")
    assert window.workspace.project.tape.surveys == surveys
    drawing = new_drawing()
    drawing.header["$INSUNITS"] = 4
    drawing.modelspace().add_lwpolyline([(0, 600), (400, 600), (400, 700)], close=True)
    drawing.saveas(tmp_path / "plate.dxf")
    answers.say = "Side"
    window.files.take(tmp_path / "plate.dxf")
    solid = window.workspace.project.tape.solids[-1]
    assert isinstance(solid, OutlineSolid)
    assert solid.outline_m[1] == pytest.approx((0.4, 0.6))
    window.files.take(tmp_path / "none.dxf")
    assert "cannot be opened" in said(window)


def test_outlines_that_do_not_fit_are_counted(window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    drawing = new_drawing()
    drawing.header["$INSUNITS"] = 4
    for i in range(43):
        at = 99000 if i == 5 else 200 * i  # one lies far outside of what a vehicle has
        drawing.modelspace().add_lwpolyline([(at, 0), (at + 150, 0), (at, 90 + i)], close=True)
    drawing.saveas(tmp_path / "many.dxf")
    before, answers.say = len(window.workspace.project.tape.solids), "Rear"
    window.files.take(tmp_path / "many.dxf")
    assert len(window.workspace.project.tape.solids) - before == 40
    assert "40 outlines taken" in said(window)
    assert "3 left out" in said(window)


def test_a_stand_in_value_claims_no_doubt_of_a_tape(window: MainWindow) -> None:
    """A loaded radius worked out from the free one is far less sure than a tape reading: its hover text must not say
    3 mm.
    """
    window.workspace.do(SetNumber("rig.rear.loaded_radius_m", None))
    window.sheet(RigSheet).look("tyres")
    hover = field(window, "field_rig.rear.loaded_radius_m").toolTip()
    assert "estimate" in hover
    assert "±" not in hover


def test_typing_in_the_tape_leaves_the_axles_answers_alone(window: MainWindow) -> None:
    before = window.workspace.study.axles["rear"].gauges
    point = SurveyPoint(id="new", station=(Reading(value_m=1.0),))
    assert window.workspace.do(PutInList("surveys.as-built.points", point, "Set station"))
    assert window.workspace.study.axles["rear"].gauges is before
    assert window.workspace.do(SetNumber("surveys.as-built.datum.zero_x_m", 0.1, sigma=0.02))
    assert window.workspace.study.axles["rear"].gauges is not before


def test_five_hundred_stations_are_taken_and_only_what_is_seen_is_painted(qtbot: QtBot, tape: MainWindow) -> None:
    survey = tape.sheet(TapeSheet).strip.survey()
    assert survey is not None
    base = tape.workspace.project
    reading = msgspec.convert({"value_m": 0.6}, type(base.tape.surveys[0].points[0].height[0]))
    many = tuple(
        SurveyPoint(
            id=f"q{i}",
            station=(msgspec.structs.replace(reading, value_m=i * 0.005),),
            height=(reading,),
            side=(reading,),
        )
        for i in range(500)
    )
    surveys = (*base.tape.surveys[:-1], msgspec.structs.replace(survey, points=many))
    tape.workspace.take(with_parts(base, surveys=surveys), None)
    tape.sheet(TapeSheet).show_survey(survey.id)
    tape.sheet(TapeSheet).strip.go(500, 0)
    keys(qtbot, tape, "99↵24↵")
    assert len(points(tape)) == 501
    assert points(tape)[-1].height[0].value_m == pytest.approx(24 * INCH)
    bar = tape.sheet(TapeSheet).strip.horizontalScrollBar()
    assert bar is not None
    assert bar.maximum() > 40000


def test_the_empty_state_says_what_to_do(qtbot: QtBot, window: MainWindow) -> None:
    window.workspace.take(read_project(demo_file("starter.stoutlink")), None)
    window.show_step("tape")
    assert window.route._stations["tape"].word == "not measured"
    window.sheet(TapeSheet).grab()
    window.actions_by_id["export_survey"].trigger()
    assert "no survey yet" in said(window)
    window.sheet(TapeSheet).strip.editor.setFocus()
    keys(qtbot, window, "12↵22↵")  # typing starts the survey
    assert [s.name for s in window.workspace.project.tape.surveys] == ["Survey 1"]
    assert points(window)[0].height[0].value_m == pytest.approx(22 * INCH)


# Instruments


@pytest.fixture
def desk(window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[InstrumentDesk]:
    """The window's instruments, stand-ins plugged in."""
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path))
    window.show_step("rig")
    window.sheet(RigSheet).look("weight")
    assert window.instruments.connect_to("scales", "simulated")
    assert window.instruments.connect_to("angle", "simulated")
    yield window.instruments
    window.instruments.close()


def test_space_takes_a_reading_and_keeps_mean_spread_and_count(
    qtbot: QtBot, window: MainWindow, desk: InstrumentDesk
) -> None:
    stand_in = desk.lines["scales"].stand_in
    assert stand_in is not None
    stand_in.rate = 100.0
    stand_in.put({"FL": 540.0})
    one = field(window, "field_rig.weight.scales.front_left_kg")
    one.setFocus()
    with qtbot.waitSignal(desk.taken, timeout=15000):
        qtbot.keyClick(one, Qt.Key.Key_Space)
    value = window.workspace.project.rig.weight.scales.front_left_kg
    entry = window.workspace.project.entry("rig.weight.scales.front_left_kg")
    assert value == pytest.approx(540.0, rel=0.008)
    assert entry is not None
    assert entry.basis == "measured"
    assert entry.readings == 16
    assert entry.spread is not None
    assert 0 < entry.spread < 2.0
    assert "mean of 16 readings" in said(window)
    window.workspace.undo()
    assert window.workspace.project.rig.weight.scales.front_left_kg == 524.0


def test_an_angle_goes_into_the_tilt_and_both_scales_into_an_axle(
    qtbot: QtBot, window: MainWindow, desk: InstrumentDesk
) -> None:
    for kind, values in (("angle", {"A": 14.5}), ("scales", {"FL": 480.0, "FR": 470.0})):
        stand_in = desk.lines[kind].stand_in
        assert stand_in is not None
        stand_in.rate = 100.0
        stand_in.put(values)
    for name in ("angle_rad", "front_kg"):
        with qtbot.waitSignal(desk.taken, timeout=15000):
            qtbot.keyClick(field(window, f"field_rig.weight.tilt.{name}"), Qt.Key.Key_Space)
    tilt = window.workspace.project.rig.weight.tilt
    assert tilt.angle_rad == pytest.approx(math.radians(14.5), abs=math.radians(0.2))
    assert tilt.front_kg == pytest.approx(950.0, rel=0.008)


def test_a_lost_instrument_keeps_what_was_typed_and_says_so(
    qtbot: QtBot, window: MainWindow, desk: InstrumentDesk
) -> None:
    before = window.workspace.project
    qtbot.keyClick(field(window, "field_rig.weight.scales.rear_left_kg"), Qt.Key.Key_Space)
    assert desk.taking is not None
    stand_in = desk.lines["scales"].stand_in
    assert stand_in is not None
    with qtbot.waitSignal(desk.lost, timeout=15000):
        stand_in.unplug()
    assert window.workspace.project is before
    assert desk.taking is None
    assert "lost" in said(window)
    assert "keeps what it had" in said(window)
    assert "scales" not in desk.lines
    qtbot.keyClick(field(window, "field_rig.weight.scales.rear_left_kg"), Qt.Key.Key_Space)
    assert "No scales connected" in said(window)


def test_an_instrument_that_goes_silent_is_said_so_and_nothing_is_taken(
    qtbot: QtBot, window: MainWindow, desk: InstrumentDesk
) -> None:
    """I112: plugged in, but nothing comes any more."""
    before = window.workspace.project
    stand_in = desk.lines["scales"].stand_in
    assert stand_in is not None
    stand_in.rate = 1e-9
    desk.patience_ms = 50
    with qtbot.waitSignal(desk.lost, timeout=5000):
        qtbot.keyClick(field(window, "field_rig.weight.scales.rear_left_kg"), Qt.Key.Key_Space)
    assert window.workspace.project is before
    assert "went silent" in said(window)
    assert "keeps what it had" in said(window)


def test_zero_escape_and_devices(qtbot: QtBot, window: MainWindow, desk: InstrumentDesk, answers: Answers) -> None:
    with qtbot.waitSignal(desk.changed, timeout=5000):
        pass
    desk.zero("scales")
    one = field(window, "field_rig.weight.scales.rear_left_kg")
    qtbot.keyClick(one, Qt.Key.Key_Space)
    qtbot.keyClick(one, Qt.Key.Key_Escape)
    assert desk.taking is None
    answers.text = "/dev/none 9600"
    window.sheet(RigSheet).bar.ask_device("scales")
    assert "no such device" in said(window)
    answers.text = "/dev/none fast"
    window.sheet(RigSheet).bar.ask_device("scales")
    assert "accepted baud" in said(window)
    assert parse_device("/dev/ttyUSB0 19200") == ("/dev/ttyUSB0", 19200)
    assert parse_device("/dev/ttyUSB0 7") is None
    menu = QMenu()
    window.sheet(RigSheet).bar.fill_menu(menu, "angle")
    assert [a.text() for a in menu.actions()] == ["Simulated angle finder", "A device…"]


def test_clicking_the_drawing_picks_a_station(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("tape")
    place = window.sheet(TapeSheet).view.placed()[6]
    assert place.z is not None
    at = window.sheet(TapeSheet).view.frames()["side"].at((place.x, place.z))
    qtbot.mouseClick(window.sheet(TapeSheet).view, Qt.MouseButton.LeftButton, pos=at.toPoint())
    assert window.sheet(TapeSheet).drawer.point_id == "p7"
    before = window.sheet(TapeSheet).view.frames()["side"].scale
    window.sheet(TapeSheet).view._zoom = 2.0
    assert window.sheet(TapeSheet).view.frames()["side"].scale == pytest.approx(2 * before)
    qtbot.mouseDClick(window.sheet(TapeSheet).view, Qt.MouseButton.LeftButton, pos=QPointF(5, 5).toPoint())
    assert window.sheet(TapeSheet).view.frames()["side"].scale == pytest.approx(before)


def test_a_survey_is_named_and_copied(window: MainWindow, answers: Answers) -> None:
    window.show_step("tape")
    answers.text = "Before stripping"
    press(window, "name_survey")
    assert window.workspace.project.tape.surveys[0].name == "Before stripping"
    window.actions_by_id["copy_survey"].trigger()
    board = QGuiApplication.clipboard()
    assert board is not None
    assert "frame dips" in board.text()
