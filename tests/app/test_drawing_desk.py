"""How drawings stand beside their results: which view is large, the column folded and widened, the axle followed; words that
never lie over one another; the round view under the hand."""

from __future__ import annotations

import io
import math
from pathlib import Path

import msgspec
import numpy as np
import pytest
from ezdxf.filemanagement import readfile
from pypdf import PdfReader
from PyQt6.QtCore import QPoint, QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QApplication, QPushButton
from pytestqt.qtbot import QtBot

from stoutlink.app.canvas.tags import FAR, Tag, lay_out
from stoutlink.app.canvas.view_geometry import PANES, ViewGeometry
from stoutlink.app.desk.memory import Drawing, recalled, remember
from stoutlink.app.shell.print_out import paper_here, sheet_as_pdf
from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.layout.sheet import LayoutSheet
from stoutlink.app.steps.travel.sheet import TravelSheet
from stoutlink.core.drawing.shapes import VIEWS, flatten
from stoutlink.core.drawing.snapping import snap
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.editing.pivots import Pivot, move, pivots_of, place_of
from tests.app.conftest import Answers

LEFT = Qt.MouseButton.LeftButton
GREY = QColor("grey")


def words(tag: Tag) -> QSizeF:
    return QSizeF(7.0 * len(tag.text), 14.0)


def large_in(window: MainWindow) -> str:
    return window.sheet(LayoutSheet).views.drawn.large


def test_words_never_lie_over_one_another() -> None:
    pane, taken = QRectF(0, 0, 300, 200), [QRectF(100, 80, 60, 40)]
    tags = [Tag(QPointF(20 + 13 * k % 270, 10 + 37 * k % 185), f"number {k}", GREY, k % 3) for k in range(40)]
    laid = lay_out(tags, pane, taken, words)
    boxes = [one.box for one in laid] + taken
    assert 8 < len(laid) < 40  # as many as there is room for
    assert all(pane.contains(one.box) for one in laid)
    assert not any(a.intersects(b) for k, a in enumerate(boxes) for b in boxes[:k])
    weights = [one.tag.weight for one in laid]
    assert weights == sorted(weights, reverse=True)
    assert sum(w == 2 for w in weights) >= sum(w == 0 for w in weights)


def test_words_stand_by_their_place_and_say_a_thing_once() -> None:
    pane = QRectF(0, 0, 300, 200)
    twice = [
        Tag(QPointF(150, 100), "0.35″", GREY),
        Tag(QPointF(154, 103), "0.35″", GREY),
        Tag(QPointF(30, 30), "0.35″", GREY),
    ]
    laid = lay_out(twice, pane, [], words)
    assert [one.tag for one in laid] == [twice[0], twice[2]]
    for one in laid:
        near = QPointF(
            max(one.box.left(), min(one.box.right(), one.tag.at.x())),
            max(one.box.top(), min(one.box.bottom(), one.tag.at.y())),
        )
        assert (near - one.tag.at).manhattanLength() <= 2 * FAR
    assert lay_out([Tag(QPointF(-5, 20), "outside", GREY)], pane, [], words) == ()
    assert lay_out([Tag(QPointF(150, 100), "no room" * 30, GREY)], pane, [], words) == ()


@pytest.mark.parametrize("size", [(500.0, 700.0), (1100.0, 560.0), (300.0, 320.0)])
@pytest.mark.parametrize("large", [*PANES, "all"])
def test_panes_cover_the_sheet_once(size: tuple[float, float], large: str) -> None:
    geometry = ViewGeometry()
    geometry.size, geometry.large = size, large  # type: ignore[assignment]
    panes = list(geometry.every_pane().values())
    assert sum(p.width() * p.height() for p in panes) == pytest.approx(size[0] * size[1])
    assert not any(a.intersects(b) for k, a in enumerate(panes) for b in panes[:k])
    if large != "all":
        biggest = geometry.every_pane()[large]  # type: ignore[index]
        assert biggest.width() * biggest.height() >= 0.5 * size[0] * size[1]


@pytest.mark.parametrize("large", [*PANES, "all"])
def test_everything_fits_into_large_and_small_views(large: str) -> None:
    geometry = ViewGeometry()
    geometry.size, geometry.large = (520.0, 720.0), large  # type: ignore[assignment]
    box = (-0.5, 1.2), 1.1, (-0.16, 1.1)
    geometry.fit(*box)
    for view in VIEWS:
        pane = geometry.panes()[view].adjusted(-1, -1, 1, 1)
        for x in box[0]:
            for y in (-box[1], box[1]):
                for z in box[2]:
                    assert pane.contains(geometry.frame_of(view).at(flatten((x, y, z), view))), view


def test_small_views_stay_whole_while_the_large_one_is_moved() -> None:
    geometry = ViewGeometry()
    geometry.size = (520.0, 720.0)
    geometry.fit((-0.5, 1.2), 1.1, (-0.16, 1.1))
    small, large = geometry.frame_of("plan"), geometry.frame_of("side")
    geometry.zoom(2.0, "side")
    geometry.shift("side", QPointF(30, 10))
    geometry.zoom(2.0, "plan")
    geometry.shift("plan", QPointF(30, 10))
    assert geometry.frame_of("plan") == small
    assert geometry.frame_of("side").scale == pytest.approx(2 * large.scale)


def test_which_view_is_large_by_click_key_and_double_click(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("layout")
    sheet = window.sheet(LayoutSheet)
    button = window.findChild(QPushButton, "layout_large_plan")
    assert button is not None
    qtbot.mouseClick(button, LEFT)
    panes = sheet.views.drawn.every_pane()
    assert panes["plan"].height() > 2 * panes["side"].height()
    assert button.isChecked()
    window.actions_by_id["large_rear"].trigger()
    assert large_in(window) == "rear"
    assert not button.isChecked()
    small = sheet.views.panes()["side"].bottomLeft() + QPointF(6, -6)
    qtbot.mouseDClick(sheet.views, LEFT, pos=small.toPoint())
    assert large_in(window) == "side"
    qtbot.mouseDClick(sheet.views.round, LEFT, pos=QPoint(20, 20))
    assert large_in(window) == "round"
    window.show_step("travel")  # every drawing stands alike
    assert window.sheet(TravelSheet).views.drawn.large == "round"
    qtbot.keyClick(window, Qt.Key.Key_F9)
    assert window.sheet(TravelSheet).views.drawn.large == "all"


def test_results_fold_away_and_are_as_wide_as_they_are_drawn(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("layout")
    sheet = window.sheet(LayoutSheet)
    before = sheet.views.width()
    assert sheet._corner.height() > 0.9 * sheet.height()  # full height
    window.actions_by_id["fold_results"].trigger()
    QApplication.processEvents()
    assert not sheet._corner.isVisible()
    assert sheet.views.width() > before + 300
    window.show_step("travel")
    assert not window.sheet(TravelSheet)._corner.isVisible()
    button = window.findChild(QPushButton, "travel_results")
    assert button is not None
    qtbot.mouseClick(button, LEFT)
    assert window.sheet(TravelSheet)._corner.isVisible()
    window.show_step("layout")
    QApplication.processEvents()
    handle = sheet.desk._split.handle(1)
    assert handle is not None
    middle = handle.rect().center()
    qtbot.mousePress(handle, LEFT, pos=middle)
    qtbot.mouseMove(handle, middle + QPoint(-70, 0))
    qtbot.mouseRelease(handle, LEFT, pos=middle + QPoint(-70, 0))
    assert window.workspace.drawing.column == sheet._corner.width()
    assert sheet._corner.width() < 395


def test_it_is_remembered(window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("stoutlink.app.desk.memory._file", lambda: tmp_path / "window.json")
    window.workspace.drawing = Drawing(
        large="round", column=333, folded=True, follow=True, plane="plan", turn=0.5, tilt=-0.25
    )
    window._note_place()
    remember(window.memory)
    assert recalled().drawing == window.workspace.drawing
    window.memory = msgspec.structs.replace(recalled(), drawing=Drawing(large="plan", column=350))
    window.put_where_it_was(1280, 800)
    assert window.sheet(LayoutSheet).views.drawn.large == "plan"
    (tmp_path / "window.json").write_text('{"drawing": {"large": "inside", "column": -4}}')
    assert recalled().drawing == Drawing()


def test_the_axle_is_followed(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("travel")
    sheet = window.sheet(TravelSheet)
    qtbot.waitUntil(lambda: sheet.travel is not None, timeout=60_000)
    at = []
    for follow in (False, True):
        sheet.desk.follow.setChecked(follow)
        for stations in (0, 25):
            sheet.pose(stations, 0)
            spot = sheet.views.spot("side", 0.0)
            assert spot is not None
            at.append(spot.y())
    assert at[0] - at[1] > 10.0  # it goes up
    assert at[2] == pytest.approx(at[3], abs=1.0)  # it stays, and the rig goes down


def test_what_was_moved_by_hand_stays_when_one_comes_back(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("layout")
    views = window.sheet(LayoutSheet).views
    views.zoom(1.6)
    views.drawn.shift("side", QPointF(40, -25))
    scale, middle = views.drawn.scale, views.drawn.middle
    window.show_step("tape")
    window.show_step("layout")
    QApplication.processEvents()
    assert (views.drawn.scale, views.drawn.middle) == (scale, middle)
    window.actions_by_id["large_plan"].trigger()  # other panes: all of it is brought into view
    assert views.drawn.scale != scale
    views.round.eye = views.round.eye.turned(0.4, 0.1)
    views.round.moved.emit()
    window.show_step("travel")
    QApplication.processEvents()
    there = window.sheet(TravelSheet).views.round.eye
    assert (there.turn, there.tilt) == (views.round.eye.turn, views.round.eye.tilt)
    assert window.workspace.drawing.turn == there.turn


# The round view


@pytest.fixture
def round_sheet(qtbot: QtBot, window: MainWindow) -> LayoutSheet:
    window.show_step("layout")
    window.actions_by_id["large_round"].trigger()
    QApplication.processEvents()
    sheet = window.sheet(LayoutSheet)
    assert sheet.views.round.shown.scene.things
    return sheet


def test_the_rig_is_turned_moved_and_enlarged_by_hand(
    qtbot: QtBot, window: MainWindow, round_sheet: LayoutSheet
) -> None:
    pane = round_sheet.views.round
    project, eye = window.workspace.project, pane.eye
    empty = QPoint(12, pane.height() // 2)
    qtbot.mousePress(pane, LEFT, pos=empty)
    qtbot.mouseMove(pane, empty + QPoint(50, 20))
    qtbot.mouseRelease(pane, LEFT, pos=empty + QPoint(50, 20))
    assert pane.eye.turn == pytest.approx(eye.turn - 0.4)
    assert pane.eye.tilt == pytest.approx(eye.tilt + 0.16)
    turned = pane.eye
    qtbot.mousePress(pane, LEFT, Qt.KeyboardModifier.ShiftModifier, empty)
    qtbot.mouseMove(pane, empty + QPoint(30, 10))
    qtbot.mouseRelease(pane, LEFT, pos=empty + QPoint(30, 10))
    assert pane.eye.middle != turned.middle
    assert pane.eye.turn == turned.turn
    pane.setFocus()
    qtbot.keyClick(pane, Qt.Key.Key_Right)
    assert pane.eye.turn == pytest.approx(turned.turn - math.radians(5))
    scale = pane.eye.scale
    window.actions_by_id["zoom_in"].trigger()
    assert pane.eye.scale == pytest.approx(1.25 * scale)
    window.actions_by_id["fit"].trigger()
    assert pane.eye.scale != pytest.approx(1.25 * scale)
    assert window.workspace.project is project


def test_zoom_in_the_round_keeps_what_is_under_the_pointer(round_sheet: LayoutSheet) -> None:
    pane = round_sheet.views.round
    at = QPointF(80, 120)
    before = pane.eye.back((at.x(), at.y()), pane.width(), pane.height(), (0.0, 0.0, 0.0), None)
    pane.zoom(2.0, at)
    x, y, _ = pane.eye.onto(np.array(before), pane.width(), pane.height())
    assert (x, y) == pytest.approx((at.x(), at.y()), abs=1e-6)


def test_looking_from_a_side(qtbot: QtBot, round_sheet: LayoutSheet) -> None:
    box, pane = round_sheet.desk.look_from, round_sheet.views.round
    box.setCurrentIndex(box.findText("from above"))
    box.activated.emit(box.currentIndex())
    assert (pane.eye.turn, pane.eye.tilt) == pytest.approx((0.0, math.pi / 2))
    assert box.currentText() == "from above"
    pane.eye = pane.eye.turned(0.3, 0.0)
    pane.moved.emit()
    assert box.currentText() == "as turned"


@pytest.mark.parametrize(("plane", "kept"), [("side", 1), ("plan", 2), ("rear", 0)])
def test_a_pivot_is_dragged_in_the_plane_of_ones_choosing(
    qtbot: QtBot, window: MainWindow, round_sheet: LayoutSheet, plane: str, kept: int
) -> None:
    pane, box = round_sheet.views.round, round_sheet.desk.plane
    box.setCurrentIndex(box.findData(plane))
    box.activated.emit(box.currentIndex())
    layout = round_sheet.views.layout_shown
    assert layout is not None
    link = layout.links[0]
    before = link.frame_pivot_m
    start = pane._at(before)
    qtbot.mousePress(pane, LEFT, pos=start.toPoint())
    assert round_sheet.views.selected == (link.id, "frame")
    for k in (1, 2, 3):
        qtbot.mouseMove(pane, (start + QPointF(9 * k, -6 * k)).toPoint())
    qtbot.mouseRelease(pane, LEFT, pos=(start + QPointF(27, -18)).toPoint())
    after = window.workspace.project.layout("rear").link(link.id).frame_pivot_m  # type: ignore[union-attr]
    assert after[kept] == pytest.approx(before[kept], abs=1e-5)
    assert after != before
    now = pane._at(after)
    assert (now.x(), now.y()) == pytest.approx((start.x() + 27, start.y() - 18), abs=1.5)  # under the hand
    assert not window.workspace.dragging
    window.undo()  # all of it is one step
    assert window.workspace.project.layout("rear").link(link.id).frame_pivot_m == before  # type: ignore[union-attr]


def test_what_touches_is_lit_and_its_distance_stands_there(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("travel")
    sheet = window.sheet(TravelSheet)
    qtbot.waitUntil(lambda: sheet.travel is not None, timeout=60_000)
    window.actions_by_id["large_round"].trigger()
    finding = next(f for f in window.workspace.study.open_so_far if f.code == "T301" and f.subject)
    window.go_to_finding(finding)
    pane, travel = sheet.views.round, sheet.travel
    assert travel is not None
    worst = travel.interference.contacts[travel.interference.which[sheet.row, sheet.column]]
    (first, said), *_ = pane.shown.nearest
    assert {first.one, first.other} == {worst.one, worst.other} <= pane.shown.lit
    assert first.gap == pytest.approx(worst.room_at(sheet.row, sheet.column) + worst.wanted, abs=6e-4)
    assert said.startswith("runs in ")
    at = (pane._at(first.a) + pane._at(first.b)) / 2  # it flew there
    assert abs(at.x() - pane.width() / 2) < 1 > abs(at.y() - pane.height() / 2)
    assert {t.name for t in pane.shown.scene.things} >= pane.shown.lit


def test_both_axles_and_what_stands_still_are_there(qtbot: QtBot, window: MainWindow, round_sheet: LayoutSheet) -> None:
    things = round_sheet.views.round.shown.scene.things
    assert {t.end for t in things} == {"", "rear", "front"}
    assert sum(t.role == "tyre" for t in things) == 4
    project = window.workspace.project
    for solid in project.tape.solids:
        assert any(t.subject == f"solids.{solid.id}" for t in things)
    for end in ("rear", "front"):
        layout = project.layout(end)
        assert layout is not None
        assert {t.subject for t in things if t.end == end and t.subject.startswith("links.")} == {
            f"links.{x.id}" for x in layout.links
        }
    parts = {p.id for end in ("rear", "front") for p in window.workspace.study.parts(end) if p.places}
    assert {t.subject.removeprefix("parts.") for t in things if t.subject.startswith("parts.")} == parts
    layout = project.layout("rear")
    assert layout is not None
    placed = {pivot for pivot in pivots_of(layout) if place_of(layout, pivot, project.rig.wheelbase_m) is not None}
    assert set(round_sheet.views.round.shown.pivots) == placed


def test_it_is_ready_also_while_a_hand_is_on_it(qtbot: QtBot, round_sheet: LayoutSheet) -> None:
    pane = round_sheet.views.round
    qtbot.waitUntil(pane.ready, timeout=20_000)
    assert pane._fine is not None
    assert pane._fine[0] == pane._key()
    qtbot.mousePress(pane, LEFT, pos=QPoint(10, 60))
    qtbot.mouseMove(pane, QPoint(30, 60))
    assert not pane.ready()
    qtbot.waitUntil(pane.ready, timeout=20_000)  # there is no finer one as long as it is held
    assert pane._fine[0] != pane._key()
    qtbot.mouseRelease(pane, LEFT, pos=QPoint(30, 60))
    qtbot.waitUntil(lambda: pane._fine is not None and pane._fine[0] == pane._key(), timeout=20_000)


def test_on_a_slow_machine_a_coarser_picture_is_turned(qtbot: QtBot, round_sheet: LayoutSheet) -> None:
    pane = round_sheet.views.round
    for slow, fine in ((1.0, 0.5), (0.001, 1.0)):
        pane._slow = slow
        qtbot.mousePress(pane, LEFT, pos=QPoint(10, 60))
        qtbot.mouseMove(pane, QPoint(30, 66))
        assert pane.look().fine == fine
        held = pane.look()
        seen = (held.seen.which >= 0).mean()
        qtbot.mouseRelease(pane, LEFT, pos=QPoint(30, 66))
        assert pane.look().fine == 1.0
        assert (pane.look().seen.which >= 0).mean() == pytest.approx(seen, rel=0.02)  # the same, in smaller steps


def test_the_picture_is_where_the_things_are(qtbot: QtBot, round_sheet: LayoutSheet) -> None:
    pane = round_sheet.views.round
    qtbot.waitUntil(pane.ready, timeout=20_000)
    picture = pane.grab().toImage()
    look, theme = pane.look(), pane.theme
    assert theme is not None
    ratio = picture.width() / pane.width()
    seen = 0
    for x in range(4, pane.width() - 4, 23):
        for y in range(30, pane.height() - 60, 19):
            near = {look.at(x + i, y + j) for i in (-2, 0, 2) for j in (-2, 0, 2)}
            if len(near) == 1 and (thing := near.pop()) is not None and thing.role == "tyre":
                at = picture.pixelColor(int(x * ratio), int(y * ratio))
                assert at != theme.sheet
                seen += 1
    assert seen > 20


def test_pointing_at_a_thing_says_what_it_is(qtbot: QtBot, round_sheet: LayoutSheet) -> None:
    pane = round_sheet.views.round
    look = pane.look()
    spot = next(
        QPoint(x, y)
        for x in range(10, pane.width(), 7)
        for y in range(10, pane.height() - 60, 7)
        if (t := look.at(x, y)) is not None and t.role == "tyre" and pane.pivot_near(QPointF(x, y)) is None
    )
    qtbot.mouseMove(pane, spot)
    assert pane.toolTip().endswith("tyre")
    qtbot.mouseMove(pane, QPoint(2, 2))
    assert pane.toolTip().startswith("Drag turns the rig")


def test_an_empty_project_says_what_to_do(qtbot: QtBot, window: MainWindow) -> None:
    window.files.new()
    window.show_step("layout")
    window.actions_by_id["large_round"].trigger()
    pane = window.sheet(LayoutSheet).views.round
    assert not pane.shown.scene.things
    assert pane.shown.empty.startswith("Measure the frame")


def test_while_a_pivot_is_dragged_elsewhere_the_small_round_view_waits(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("layout")
    views = window.sheet(LayoutSheet).views
    scene = views.round.shown.scene
    start = views.handle_at(("lower_left", "frame"), "side")
    assert start is not None
    qtbot.mousePress(views, LEFT, pos=start.toPoint())
    qtbot.mouseMove(views, (start + QPointF(20, 5)).toPoint())
    assert views.round.behind
    assert views.round.shown.scene is scene
    qtbot.mouseRelease(views, LEFT, pos=(start + QPointF(20, 5)).toPoint())
    assert not views.round.behind
    assert views.round.shown.scene is not scene


# Files made of it


def test_a_model_is_made_beside_the_window(qtbot: QtBot, window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    window.show_step("travel")
    sheet = window.sheet(TravelSheet)
    qtbot.waitUntil(lambda: sheet.travel is not None, timeout=60_000)
    sheet.pose(20, 0)
    answers.say, answers.path = "STL", tmp_path / "rig.stl"
    window.actions_by_id["export_model"].trigger()
    assert "of bump" in answers.asked[-1]  # the pose is said
    assert sheet.desk.halt.isVisible()
    qtbot.waitUntil(lambda: (tmp_path / "rig.stl").exists(), timeout=60_000)
    text = (tmp_path / "rig.stl").read_text("ascii")
    assert text.count("endsolid ") > 40
    assert not sheet.desk.halt.isVisible()
    answers.say = "Cancel"
    window.actions_by_id["export_model"].trigger()
    assert not sheet.desk.halt.isVisible()


def test_a_film_is_made_and_can_be_stopped(
    qtbot: QtBot, whole_window: MainWindow, answers: Answers, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = whole_window  # whose travel is not known yet
    monkeypatch.setattr("stoutlink.app.steps.travel.round_files.SIZE", (160, 100))
    window.show_step("travel")
    sheet = window.sheet(TravelSheet)
    answers.say, answers.path = "Heave", tmp_path / "film.gif"
    window.actions_by_id["export_film"].trigger()
    assert "no travel to film" in window._said.text()
    qtbot.waitUntil(lambda: sheet.travel is not None, timeout=60_000)
    window.actions_by_id["export_film"].trigger()
    assert "Steer" not in answers.asked[-1]  # the rear axle
    qtbot.mouseClick(sheet.desk.halt, LEFT)
    assert not sheet.desk.halt.isVisible()
    assert "was not made" in window._said.text()
    window.actions_by_id["export_film"].trigger()
    qtbot.waitUntil(lambda: "(0%)" not in sheet.desk.halt.text(), timeout=60_000)
    qtbot.waitUntil(lambda: (tmp_path / "film.gif").exists(), timeout=120_000)
    assert (tmp_path / "film.gif").read_bytes()[:6] == b"GIF89a"
    assert not sheet.desk.halt.isVisible()
    window.workspace.do(SetChoice("log.hill.kind", "own", "kind of hill"))  # without a point of its own
    qtbot.waitUntil(lambda: sheet.travel is not None, timeout=60_000)
    answers.say = "Test hill"
    window.actions_by_id["export_film"].trigger()
    qtbot.waitUntil(lambda: "cannot be made" in window._said.text(), timeout=60_000)
    assert "two points" in window._said.text()


def test_hands_of_the_screen_are_not_printed(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("layout")
    window.actions_by_id["large_round"].trigger()
    text = PdfReader(io.BytesIO(sheet_as_pdf(window, paper_here()))).pages[0].extract_text()
    assert "four-link" in text  # the column
    for words in ("Follow", "from a corner", "square to the look"):
        assert words not in text


def test_a_model_is_of_the_project_as_it_is_now_not_as_travel_last_showed_it(
    qtbot: QtBot, window: MainWindow, answers: Answers, tmp_path: Path
) -> None:
    window.show_step("travel")
    sheet = window.sheet(TravelSheet)
    qtbot.waitUntil(lambda: sheet.travel is not None, timeout=60_000)
    window.show_step("layout")
    link = window.workspace.project.layout("rear").links[0]  # type: ignore[union-attr]
    x, y, z = link.frame_pivot_m
    layout = window.workspace.project.layout("rear")
    assert layout is not None
    window.workspace.do(move(layout, (link.id, "frame"), (x, y, z + 0.05), ""))
    qtbot.waitUntil(lambda: sheet.travel is not None, timeout=60_000)  # worked out, while Travel is not in view
    posed = sheet.posed()
    assert posed is not None
    assert posed.grid.layout.links[0].frame_pivot_m == pytest.approx((x, y, z + 0.05))
    answers.say, answers.path = "DXF", tmp_path / "rig.dxf"
    window.actions_by_id["export_model"].trigger()
    qtbot.waitUntil(lambda: (tmp_path / "rig.dxf").exists(), timeout=60_000)
    doc = readfile(tmp_path / "rig.dxf")
    points = [tuple(p.dxf.location) for p in doc.modelspace().query("POINT")]
    assert any(p == pytest.approx((1000 * x, 1000 * y, 1000 * z + 50.0), abs=0.01) for p in points)


def test_a_picture_is_kept_for_its_very_scene(qtbot: QtBot, round_sheet: LayoutSheet) -> None:
    """A scene made later may lie at the same place in memory as one that is gone."""
    pane = round_sheet.views.round
    qtbot.waitUntil(pane.ready, timeout=20_000)
    for key in (pane._fine and pane._fine[0], pane._look and pane._look[0]):
        assert key
        assert any(part is pane.shown.scene for part in key)


def test_a_pivot_dragged_in_a_plane_catches_on_what_it_does_in_the_flat_view(
    qtbot: QtBot, window: MainWindow, round_sheet: LayoutSheet
) -> None:
    """Let go near a surveyed rail it lies on it and remembers it, as dragging in the plan does; without Snap it does not."""
    pane, box = round_sheet.views.round, round_sheet.desk.plane
    round_sheet.look_from(0.0, 90.0)
    box.setCurrentIndex(box.findData("plan"))
    box.activated.emit(box.currentIndex())
    pivot: Pivot = ("lower_left", "frame")
    anchored: dict[bool, tuple[bool, bool]] = {}
    layout = window.workspace.project.layout("rear")
    assert layout is not None
    before = layout.link("lower_left").frame_pivot_m  # type: ignore[union-attr]
    rail = next(y for y in (0.3 + 0.0005 * k for k in range(900)) if _caught(window, pivot, (before[0], y)))
    for snaps in (True, False):
        round_sheet.views.snapping = snaps
        start, to = pane._at(before), pane._at((before[0], rail, before[2]))
        qtbot.mousePress(pane, LEFT, pos=start.toPoint())
        qtbot.mouseMove(pane, to.toPoint())
        said = pane.caught
        qtbot.mouseRelease(pane, LEFT, pos=to.toPoint())
        after = window.workspace.project.layout("rear")
        assert after is not None
        anchored[snaps] = (bool(said), after.anchors != layout.anchors)
        window.undo()
    assert anchored[True][0]
    assert not anchored[False][0]
    assert anchored[True][1] >= anchored[False][1]
    assert pane.caught == ""


def _caught(window: MainWindow, pivot: Pivot, flat: tuple[float, float]) -> str:
    w = window.workspace
    layout = w.project.layout("rear")
    assert layout is not None
    return snap(w.project, w.rig, layout, pivot, "plan", flat, 150.0).word
