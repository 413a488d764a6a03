"""The looks of the layout step in the real window: a fabricator's gestures, and what comes of them."""

from __future__ import annotations

import math

import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QApplication, QCheckBox, QPushButton
from pytestqt.qtbot import QtBot

from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.layout.find_look import FindLook
from stoutlink.app.steps.layout.fit_look import FitLook
from stoutlink.app.steps.layout.hole_look import HoleLook
from stoutlink.app.steps.layout.leaf_look import LeafLook
from stoutlink.app.steps.layout.loads_look import LoadsLook
from stoutlink.app.steps.layout.over_constraint_look import OverConstraintLook
from stoutlink.app.steps.layout.sheet import LOOKS, LayoutSheet
from stoutlink.app.steps.layout.sideways_look import SidewaysLook
from stoutlink.app.steps.layout.start_look import StartLook
from stoutlink.app.widgets.picture import Picture
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.core.document.layout import Layout
from stoutlink.core.editing.edits import SetNumber
from stoutlink.core.editing.pivots import DRAG_LINK
from stoutlink.core.quantity.constants import INCH
from stoutlink.core.storage.files import read_project
from stoutlink.demo import demo_file
from tests.app.conftest import Answers


def rear(window: MainWindow) -> Layout:
    layout = window.workspace.project.layout("rear")
    assert layout is not None
    return layout


def put_up(window: MainWindow, look: str) -> None:
    window.show_step("layout")
    window.sheet(LayoutSheet).look(look)
    QApplication.processEvents()
    window.grab()


def press(qtbot: QtBot, window: MainWindow, name: str) -> None:
    button = window.findChild(QPushButton, name)
    assert button is not None
    assert button.isVisible(), name
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)


def click(qtbot: QtBot, picture: Picture, name: str) -> None:
    picture.grab()
    hit = picture.named(name)
    assert hit is not None, (name, [h.name for h in picture.hits])
    qtbot.mouseClick(picture, Qt.MouseButton.LeftButton, pos=hit.box.center().toPoint())


def drag(
    qtbot: QtBot,
    window: MainWindow,
    pivot: tuple[str, str],
    view: str,
    by: QPointF,
    modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier,
) -> None:
    views = window.sheet(LayoutSheet).views
    start = views.handle_at(pivot, view)  # type: ignore[arg-type]
    assert start is not None
    qtbot.mousePress(views, Qt.MouseButton.LeftButton, modifier, pos=start.toPoint())
    for part in (0.4, 0.8, 1.0):
        qtbot.mouseMove(views, (start + by * part).toPoint())
    QApplication.processEvents()
    qtbot.mouseRelease(views, Qt.MouseButton.LeftButton, modifier, pos=(start + by).toPoint())


def test_a_click_on_the_map_bolts_it(qtbot: QtBot, window: MainWindow) -> None:
    put_up(window, "holes")
    look = window.sheet(LayoutSheet).looks["holes"]
    assert isinstance(look, HoleLook)
    assert look.found is not None
    before = rear(window)
    dots = {
        i: dot for i in range(len(look.found.holes)) if (dot := look.map.dot(i)) is not None and i != look.found.current
    }
    row = next(i for i, dot in dots.items() if look.map.nearest(QPointF(dot.toPoint())) == i)
    spot = look.map.dot(row)
    assert spot is not None
    wanted = [int(h) for h in look.found.holes[row]]
    value = float(look.found.values["drive"][row])
    qtbot.mouseClick(look.map, Qt.MouseButton.LeftButton, pos=spot.toPoint())
    assert [b.hole for b in rear(window).brackets] == wanted
    gauge = next(g for g in window.workspace.study.axles["rear"].gauges if g.id == "drive")
    assert gauge.value == pytest.approx(value)
    assert look.found.current == row
    window.workspace.undo()
    assert rear(window) == before
    look.map.setFocus()
    qtbot.keyClick(look.map, Qt.Key.Key_Right)
    qtbot.keyClick(look.map, Qt.Key.Key_Return)
    assert rear(window) != before


def test_a_row_is_added_to_a_pivot_and_shaped(qtbot: QtBot, window: MainWindow) -> None:
    window.workspace.set_end("front")
    put_up(window, "holes")
    window.sheet(LayoutSheet).views.select(("upper", "frame"))
    press(qtbot, window, "add_row")
    front = window.workspace.project.layout("front")
    assert front is not None
    bracket = front.bracket("upper", "frame")
    assert bracket is not None
    assert (bracket.holes, bracket.hole, bracket.pitch_m) == (3, 2, 0.0254)
    field = next(f for f in window.findChildren(QuantityField) if f.path.endswith(f"{bracket.id}.holes"))
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, "5")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert window.workspace.project.layout("front").bracket("upper", "frame").holes == 5  # type: ignore[union-attr]
    press(qtbot, window, "take_bracket")
    assert window.workspace.project.layout("front").bracket("upper", "frame") is None  # type: ignore[union-attr]
    window.sheet(LayoutSheet).views.select((DRAG_LINK, "frame"))
    assert not window.findChild(QPushButton, "add_row").isVisible()


def test_fit_goes_to_the_pivot_and_mends_with_the_part(qtbot: QtBot, window: MainWindow) -> None:
    window.workspace.do(SetNumber("layouts.rear-a.brackets.lower-axle.saddle_m", 3.25 * INCH, "3 1/4"))
    put_up(window, "fit")
    look = window.sheet(LayoutSheet).looks["fit"]
    assert isinstance(look, FitLook)
    assert look.fits[0].how == "misfit"
    click(qtbot, look.list, "lower_left axle on the tube")
    assert window.sheet(LayoutSheet).views.selected == ("lower_left", "axle")
    saddle = next(f for f in look.findChildren(QuantityField) if f.path.endswith(".saddle_m"))
    saddle.setFocus()
    saddle.selectAll()
    qtbot.keyClicks(saddle, "3 1/2")
    qtbot.keyClick(saddle, Qt.Key.Key_Return)
    assert not any(f.how == "misfit" for f in look.fits)
    assert not any(f.code == "G220" and f.subject.startswith("rear-a") for f in window.workspace.study.findings)
    assert "fits\tLeft lower\taxle\ton the tube" in look.as_text()


def test_loads_show_on_the_links_and_a_tube_is_taken(qtbot: QtBot, window: MainWindow) -> None:
    put_up(window, "loads")
    look = window.sheet(LayoutSheet).looks["loads"]
    assert isinstance(look, LoadsLook)
    click(qtbot, look.list, "load lower_left")
    assert window.sheet(LayoutSheet).views.selected == ("lower_left", "frame")
    assert any("push" in getattr(s, "text", "") for s in look.overlay("plan"))
    look.case.setCurrentIndex(look.case.findData("slide"))
    look.list.grab()
    click(qtbot, look.list, "tube 1")
    one, other = rear(window).link("lower_left"), rear(window).link("lower_right")
    assert one is not None
    assert other is not None
    assert (one.tube_od_m, one.tube_wall_m) == (other.tube_od_m, other.tube_wall_m)
    assert one.tube_od_m != 0.0508 or one.tube_wall_m != 0.0079375
    assert look.as_text().startswith("link\tfull throttle")


def test_drag_link_is_dragged_taken_away_and_added(qtbot: QtBot, window: MainWindow) -> None:
    window.workspace.set_end("front")
    put_up(window, "sideways")
    look = window.sheet(LayoutSheet).looks["sideways"]
    assert isinstance(look, SidewaysLook)
    before = window.workspace.project.layout("front").steering  # type: ignore[union-attr]
    assert before is not None
    drag(qtbot, window, (DRAG_LINK, "frame"), "rear", QPointF(0, 40))
    moved = window.workspace.project.layout("front").steering  # type: ignore[union-attr]
    assert moved is not None
    assert moved.pitman_m[2] < before.pitman_m[2]
    assert moved.pitman_m[0] == before.pitman_m[0]
    assert any(f.code == "G230" for f in window.workspace.study.findings)
    window.workspace.undo()
    assert window.workspace.project.layout("front").steering == before  # type: ignore[union-attr]
    press(qtbot, window, "take_steering")
    assert window.workspace.study.axles["front"].steer is None
    press(qtbot, window, "add_steering")
    steer = window.workspace.study.axles["front"].steer
    assert steer is not None
    assert steer.match is not None
    assert steer.match.same_hand
    assert abs(steer.match.length_apart) < 1e-3
    assert look.overlay("rear")
    assert "Bump steer" in look.as_text()


def test_bind_names_every_joint(qtbot: QtBot, window: MainWindow) -> None:
    put_up(window, "bind")
    look = window.sheet(LayoutSheet).looks["bind"]
    assert isinstance(look, OverConstraintLook)
    click(qtbot, look.list, "lean upper_right axle")
    assert window.sheet(LayoutSheet).views.selected == ("upper_right", "axle")
    assert look.as_text().count("heave") == 8


def test_find_runs_beside_the_window_and_an_answer_is_taken(qtbot: QtBot, window: MainWindow) -> None:
    put_up(window, "find")
    look = window.sheet(LayoutSheet).looks["find"]
    assert isinstance(look, FindLook)
    press(qtbot, window, "find_go")
    assert look.part is not None
    qtbot.waitUntil(lambda: look.part is None, timeout=30000)
    assert look.found is not None
    assert look.found.answers
    assert window.workspace.project.search("rear") is not None
    click(qtbot, look.list, "answer 0")
    assert any(s.role == "compared" for s in look.overlay("side"))
    first = look.found.answers[0]
    count = len(window.workspace.project.linkage.layouts)
    click(qtbot, look.list, "take 0")
    project = window.workspace.project
    assert len(project.linkage.layouts) == count + 1
    assert project.linkage.rear_compare == "rear-a"
    assert rear(window).links == first.layout.links
    gauge = next(g for g in window.workspace.study.axles["rear"].gauges if g.id == "drive")
    assert gauge.value == pytest.approx(first.values["drive"])
    window.workspace.undo()
    assert rear(window).id == "rear-a"


def test_a_search_is_given_up_and_one_that_finds_nothing_says_what_to_widen(qtbot: QtBot, window: MainWindow) -> None:
    put_up(window, "find")
    look = window.sheet(LayoutSheet).looks["find"]
    assert isinstance(look, FindLook)
    press(qtbot, window, "find_anew")
    press(qtbot, window, "find_go")
    press(qtbot, window, "find_stop")
    assert look.part is None
    assert look.found is not None
    assert look.found.stopped
    hold = next(f for f in look.findChildren(QuantityField) if f.path == "searches.rear.wants.hold.high")
    hold.setFocus()
    hold.selectAll()
    qtbot.keyClicks(hold, "0.5")
    qtbot.keyClick(hold, Qt.Key.Key_Return)
    assert look.found is None  # what was found belonged to another question
    press(qtbot, window, "find_go")
    qtbot.waitUntil(lambda: look.part is None, timeout=60000)
    assert look.found is not None
    assert not look.found.answers
    assert look.found.relax
    click(qtbot, look.list, f"relax {look.found.relax[0].want.id}")
    assert look.part is not None
    look.stop()


def test_starting_from_a_kind_and_switching(qtbot: QtBot, window: MainWindow) -> None:
    put_up(window, "start")
    look = window.sheet(LayoutSheet).looks["start"]
    assert isinstance(look, StartLook)
    click(qtbot, look.picture, "start three_link_panhard")
    qtbot.waitUntil(lambda: rear(window).kind == "three_link_panhard", timeout=20000)
    assert window.workspace.project.linkage.rear_compare == "rear-a"
    assert len(rear(window).links) == 4
    window.sheet(LayoutSheet).look("start")
    switch = window.findChild(QCheckBox, "switch_kind")
    assert switch is not None
    switch.setChecked(True)
    count = len(window.workspace.project.linkage.layouts)
    lowers = [x for x in rear(window).links if x.role == "lower"]
    click(qtbot, look.picture, "start parallel_four_link_panhard")
    qtbot.waitUntil(lambda: rear(window).kind == "parallel_four_link_panhard", timeout=20000)
    assert len(window.workspace.project.linkage.layouts) == count
    assert [x for x in rear(window).links if x.role == "lower"] == lowers


def test_an_axle_without_a_layout_offers_the_kinds(qtbot: QtBot, window: MainWindow, answers: Answers) -> None:
    answers.say = "Remove"
    put_up(window, "pivots")
    press(qtbot, window, "remove_layout")
    assert window.workspace.project.layout("rear") is None
    assert window.sheet(LayoutSheet).current == "start"
    window.grab()
    look = window.sheet(LayoutSheet).looks["start"]
    assert isinstance(look, StartLook)
    click(qtbot, look.picture, "start leaf")
    qtbot.waitUntil(lambda: window.workspace.project.layout("rear") is not None, timeout=20000)
    assert rear(window).leaf is not None
    assert window.sheet(LayoutSheet).current == "leaf"
    assert [g.id for g in window.workspace.study.axles["rear"].gauges] == [
        "drive",
        "brake",
        "roll_centre",
        "steer",
        "wrap",
        "rate",
        "travel",
    ]


def test_leaves_are_typed_and_the_numbers_follow(qtbot: QtBot, window: MainWindow) -> None:
    window.workspace.take(read_project(demo_file("tamarack.stoutlink")), None)
    put_up(window, "leaf")
    look = window.sheet(LayoutSheet).looks["leaf"]
    assert isinstance(look, LeafLook)
    before = window.workspace.study.axles["rear"].leaf
    assert before is not None
    field = next(f for f in look.findChildren(QuantityField) if f.path.endswith(".seat_z_m"))
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, "23 3/4")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    after = window.workspace.study.axles["rear"].leaf
    assert after is not None
    assert after.roll_steer == pytest.approx(0.0, abs=1e-9)  # eye and seat at one height: the seat's path is upright
    press(qtbot, window, "add_leaf")
    assert len(rear(window).leaf.leaves) == 3  # type: ignore[union-attr]
    assert window.workspace.study.axles["rear"].leaf.halves.heave_rate > before.halves.heave_rate  # type: ignore[union-attr]
    press(qtbot, window, "take_leaf")
    assert look.overlay("side")
    assert "Wrap at full throttle" in look.as_text()


def test_a_dragged_pivot_falls_on_rails_and_the_axle_tube(qtbot: QtBot, window: MainWindow) -> None:
    put_up(window, "pivots")
    views = window.sheet(LayoutSheet).views
    start = views.handle_at(("upper_left", "frame"), "rear")
    assert start is not None
    rail = 0.422  # half the surveyed spread about there, the inside face an inch in
    width = window.workspace.project.rig.body.rail_width_m
    assert width is not None
    target = views.frame_of("rear").at((-(rail - 0.5 * width), 0.70))
    qtbot.mousePress(views, Qt.MouseButton.LeftButton, pos=start.toPoint())
    qtbot.mouseMove(views, target.toPoint())
    QApplication.processEvents()
    assert "rail" in views._caught
    caught = rear(window).link("upper_left").frame_pivot_m  # type: ignore[union-attr]
    qtbot.mouseRelease(views, Qt.MouseButton.LeftButton, pos=target.toPoint())
    assert min(abs(caught[1] - v) for v in (rail - width / 2, rail, rail + width / 2)) < 0.01
    tube = views.frame_of("side").at((0.0, window.workspace.rig.rear.loaded))
    hold = views.handle_at(("lower_left", "axle"), "side")
    assert hold is not None
    qtbot.mousePress(views, Qt.MouseButton.LeftButton, pos=hold.toPoint())
    qtbot.mouseMove(views, (tube + QPointF(2, 1)).toPoint())
    QApplication.processEvents()
    assert views._caught == "middle of the axle tube"
    qtbot.mouseRelease(views, Qt.MouseButton.LeftButton, pos=tube.toPoint())
    at = rear(window).link("lower_left").axle_pivot_m  # type: ignore[union-attr]
    assert (at[0], at[2]) == pytest.approx((0.0, window.workspace.rig.rear.loaded))


def test_a_link_you_already_have_keeps_its_length(qtbot: QtBot, window: MainWindow) -> None:
    put_up(window, "pivots")
    window.sheet(LayoutSheet).views.select(("lower_left", "frame"))
    lock = window.findChild(QCheckBox, "length_locked")
    assert lock is not None
    qtbot.mouseClick(lock, Qt.MouseButton.LeftButton, pos=QPointF(8, lock.height() / 2).toPoint())
    link = rear(window).link("lower_left")
    assert link is not None
    assert link.length_locked
    length = math.dist(link.frame_pivot_m, link.axle_pivot_m)
    drag(qtbot, window, ("lower_left", "frame"), "side", QPointF(30, -25))
    moved = rear(window).link("lower_left")
    assert moved is not None
    assert moved.frame_pivot_m != link.frame_pivot_m
    assert math.dist(moved.frame_pivot_m, moved.axle_pivot_m) == pytest.approx(length)


@pytest.mark.parametrize("theme", ["dark", "light"])
def test_every_look_paints_in_both_units_and_copies_as_text(window: MainWindow, theme: str) -> None:
    window.set_theme(theme)
    board = QGuiApplication.clipboard()
    assert board is not None
    for units in ("in", "mm"):
        if window.workspace.unit != units:
            window.switch_units()
        for end in ("rear", "front"):
            window.workspace.set_end(end)
            for key, *_ in LOOKS:
                put_up(window, key)
                window.actions_by_id["copy_layout_look"].trigger()
                if window.sheet(LayoutSheet).current not in ("find", "pivots"):
                    assert board.text(), key
    assert window.minimumSizeHint().width() <= 1280
