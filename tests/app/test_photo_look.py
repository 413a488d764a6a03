"""Photo in Tape: taken in, marked with the mouse, traced, given to pivots, tape and what is in the way; under the views."""

from __future__ import annotations

import shutil
from pathlib import Path

import numpy as np
import pytest
from PIL import ExifTags, Image
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.layout.sheet import LayoutSheet
from stoutlink.app.steps.tape.photo_canvas import Spot
from stoutlink.app.steps.tape.photo_look import PhotoLook
from stoutlink.app.steps.tape.sheet import TapeSheet
from stoutlink.core.document.project import Project
from stoutlink.core.drawing.round_view import Scene
from stoutlink.core.drawing.solids import Thing
from stoutlink.core.editing.edits import SetNumber
from stoutlink.core.geometry.mesh import capsule
from stoutlink.core.storage.photos import find_photo
from stoutlink.demo import demo_file
from tests.app.conftest import Answers
from tests.photo.camera import KnownCamera
from tests.photo.render import photograph

LEFT = Qt.MouseButton.LeftButton
CAMERA = KnownCamera((2.4, -3.2, 1.3), target=(1.3, -0.45, 0.5), focal=700.0, size=(1000, 750))
MARKS = {"a": (0.0, 0.15), "b": (2.6, 0.15), "c": (2.6, 0.85), "d": (0.0, 0.85), "e": (1.3, 0.15), "f": (1.3, 0.85)}


@pytest.fixture
def look(qtbot: QtBot, window: MainWindow, tmp_path: Path) -> PhotoLook:
    """The look on the example's photo, saved where its photos lie."""
    shutil.copytree(demo_file("basalt.photos"), tmp_path / "rig.photos")
    window.workspace.save(tmp_path / "rig.stoutlink")
    window.show_step("tape")
    sheet = window.sheet(TapeSheet)
    sheet.look("photo")
    qtbot.waitUntil(sheet.ready, timeout=20_000)
    return sheet.photo


def click(qtbot: QtBot, look: PhotoLook, pixel: tuple[float, float]) -> None:
    at = look.canvas.at(pixel).toPoint()
    qtbot.mouseClick(look.canvas, LEFT, pos=at)


def typed(qtbot: QtBot, window: MainWindow, path: str, text: str) -> None:
    window.go_to_field(path)
    field = QApplication.focusWidget()
    assert field is not None, path
    qtbot.keyClicks(field, text)
    qtbot.keyClick(field, Qt.Key.Key_Return)


def seen(point: tuple[float, float, float]) -> tuple[float, float]:
    px = CAMERA.shoot(np.array([point]))[0]
    return float(px[0]), float(px[1])


def shot(folder: Path) -> Path:
    """A photo of balls at the marks, held upright by its camera: stored on its side."""
    things = [
        Thing(name, "mark", "", capsule(np.array([x, -0.4505, z]), np.array([x, -0.4495, z]), 0.02, 24, 8))
        for name, (x, z) in MARKS.items()
    ]
    image = Image.fromarray(photograph(Scene(tuple(things)), CAMERA))
    exif = Image.Exif()
    exif[ExifTags.Base.Orientation] = 6
    exif.get_ifd(ExifTags.IFD.Exif)[ExifTags.Base.FocalLengthIn35mmFilm] = round(CAMERA.focal_35mm)
    image.transpose(Image.Transpose.ROTATE_90).save(folder / "phone.jpg", exif=exif, quality=95)
    return folder / "phone.jpg"


def test_from_a_phone_to_a_pivot(qtbot: QtBot, window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    """A photo stored on its side is shown upright; six clicks and twelve numbers settle its plane; a click is a place; a pivot goes there."""
    window.workspace.save(tmp_path / "rig.stoutlink")
    window.show_step("tape")
    sheet = window.sheet(TapeSheet)
    sheet.look("photo")
    look, w = sheet.photo, window.workspace
    before = len(w.project.tape.photos)
    answers.path = shot(tmp_path)
    look.add.click()
    qtbot.waitUntil(lambda: len(w.project.tape.photos) == before + 1, timeout=10_000)
    qtbot.waitUntil(sheet.ready, timeout=10_000)
    picture = look.picture
    assert picture is not None
    assert (picture.wide_px, picture.high_px, picture.focal_mm) == (1000, 750, round(CAMERA.focal_35mm))
    image = look.canvas.shown.image
    assert isinstance(image, QImage)
    for x, z in MARKS.values():  # the balls are where the camera saw them: it stands upright
        px = seen((x, -0.45, z))
        colour = image.pixelColor(int(px[0] * image.width() / 1000), int(px[1] * image.height() / 750))
        assert colour.red() > colour.blue() + 60
    at = f"photos.{picture.id}"
    typed(qtbot, window, f"{at}.depth_m", "-450mm")
    look.canvas.zoom(1.0)
    for k, (x, z) in enumerate(MARKS.values(), 1):
        look.take_hand("mark")
        click(qtbot, look, seen((x, -0.45, z)))
        mark = look.mark
        assert mark is not None
        assert mark.place is None
        assert look.picture is not None
        assert len(look.picture.placed) == k - 1
        typed(qtbot, window, f"{at}.marks.{mark.id}.across_m", f"{1000 * x:.0f}mm")
        typed(qtbot, window, f"{at}.marks.{mark.id}.up_m", f"{1000 * z:.0f}mm ± 2mm")
    assert "6 marks agree" in look.now.text()
    layout = w.project.layout("rear")
    assert layout is not None
    pivot = layout.link("lower_right").frame_pivot_m  # type: ignore[union-attr]
    true = (pivot[0] + 0.06, pivot[1], pivot[2] + 0.04)
    look.take_hand("point")
    click(qtbot, look, seen(true))
    assert look.traced is not None
    look.gives["to_pivot"].menu().aboutToShow.emit()  # type: ignore[union-attr]
    action = next(a for a in look.menu.actions() if a.text() == "Rear: Right lower, frame")
    action.trigger()
    after = w.project.layout("rear")
    assert after is not None
    moved = after.link("lower_right").frame_pivot_m  # type: ignore[union-attr]
    notes = {e.field: e for e in w.project.entries}
    path = f"layouts.{layout.id}.links.lower_right.frame_pivot_m"
    for axis in (0, 2):
        sigma = notes[f"{path}.{axis}"].sigma
        assert sigma is not None
        assert abs(moved[axis] - true[axis]) < 3.0 * sigma
    assert moved[1] == pivot[1]
    window.undo()
    assert w.project.layout("rear") == layout


def test_marks_are_picked_dragged_nudged_and_taken_away(qtbot: QtBot, window: MainWindow, look: PhotoLook) -> None:
    w, canvas = window.workspace, look.canvas
    start = w.project.tape.photos[0]
    at = canvas.at(start.marks[1].pixel).toPoint()
    qtbot.mousePress(canvas, LEFT, pos=at)
    for k in (4, 8, 12):
        qtbot.mouseMove(canvas, at + QPoint(k, 0))
    qtbot.mouseRelease(canvas, LEFT, pos=at + QPoint(12, 0))
    assert look.picked == Spot("mark", "m2")
    moved = w.project.tape.photos[0].marks[1].pixel
    assert moved[0] - start.marks[1].pixel[0] == pytest.approx(12.0 / canvas._scale, abs=2.0 / canvas._scale)
    assert "link bracket" in look.more.text()
    qtbot.keyClick(canvas, Qt.Key.Key_Right)
    qtbot.keyClick(canvas, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
    nudged = w.project.tape.photos[0].marks[1].pixel
    assert (nudged[0] - moved[0], nudged[1] - moved[1]) == pytest.approx((1.0, -10.0))
    qtbot.keyClick(canvas, Qt.Key.Key_Period)
    assert look.picked == Spot("mark", "m3")
    qtbot.keyClick(canvas, Qt.Key.Key_Delete)
    assert [m.id for m in w.project.tape.photos[0].marks] == ["m1", "m2", "m4", "m5", "m6"]
    window.undo()
    for _ in range(3):
        window.undo()
    assert w.project.tape.photos[0] == start  # a drag is one step


def test_a_line_and_an_outline_are_drawn(qtbot: QtBot, window: MainWindow, look: PhotoLook) -> None:
    w, canvas = window.workspace, look.canvas
    look.take_hand("line")
    for px in ((600.0, 400.0), (700.0, 410.0), (800.0, 400.0)):
        click(qtbot, look, px)
    qtbot.keyClick(canvas, Qt.Key.Key_Backspace)
    click(qtbot, look, (820.0, 420.0))
    qtbot.keyClick(canvas, Qt.Key.Key_Return)
    line = w.project.tape.photos[0].traced[-1]
    assert (line.kind, len(line.pixels)) == ("line", 3)
    assert line.pixels[-1] == pytest.approx((820.0, 420.0), abs=2.0)
    look.take_hand("outline")
    corners = ((400.0, 200.0), (500.0, 200.0), (500.0, 300.0))
    for px in (*corners, corners[0]):  # on the first corner it closes
        click(qtbot, look, px)
    outline = w.project.tape.photos[0].traced[-1]
    assert (outline.kind, len(outline.pixels)) == ("outline", 3)
    click(qtbot, look, (900.0, 300.0))
    assert canvas.pending
    qtbot.keyClick(canvas, Qt.Key.Key_Escape)
    assert not canvas.pending
    n = len(w.project.tape.photos[0].traced)
    look.take_hand("")
    click(qtbot, look, (1200.0, 900.0))
    assert len(w.project.tape.photos[0].traced) == n  # looking sets nothing


def test_a_mark_is_set_by_keys_alone(qtbot: QtBot, window: MainWindow, look: PhotoLook) -> None:
    look.take_hand("mark")
    look.canvas.setFocus()
    qtbot.keyClick(look.canvas, Qt.Key.Key_Space)
    mark = window.workspace.project.tape.photos[0].marks[-1]
    middle = look.canvas.back(QPointF(0.5 * look.canvas.width(), 0.5 * look.canvas.height()))
    assert mark.pixel == pytest.approx(middle)
    qtbot.keyClick(look.canvas, Qt.Key.Key_Left)
    assert window.workspace.project.tape.photos[0].marks[-1].pixel[0] == pytest.approx(middle[0] - 1.0)


def test_what_is_traced_goes_to_the_tape_and_in_the_way(qtbot: QtBot, window: MainWindow, look: PhotoLook) -> None:
    w, sheet = window.workspace, window.sheet(TapeSheet)
    look.pick(Spot("traced", "t3"))
    assert [b.isEnabled() for b in look.gives.values()] == [False, True, False]
    look.gives["to_tape"].click()
    assert sheet.shown == "tape"
    assert sheet.survey_id == "photo-right-rail"
    survey = w.project.survey("photo-right-rail")
    assert survey is not None
    assert len(survey.points) == len(w.project.tape.photos[0].traced[2].pixels)
    sheet.look("photo")
    look.pick(Spot("traced", "t2"))
    assert [b.isEnabled() for b in look.gives.values()] == [False, False, True]
    look.gives["to_solids"].click()
    assert sheet.drawer.solid() is w.project.tape.solids[-1]
    assert w.project.tape.solids[-1].name == "Tank, right side"


def test_a_mark_stands_on_what_is_known(window: MainWindow, look: PhotoLook) -> None:
    look.pick(Spot("mark", "m2"))
    k = look.known.findText("link bracket, right")
    look.known.setCurrentIndex(k)
    look.known.activated.emit(k)
    mark = look.mark
    assert mark is not None
    assert mark.name == "link bracket, right"
    known = next(one for one in window.workspace.study.known_places("right-rail") if one.name == mark.name)
    assert mark.place == pytest.approx(known.at, abs=1e-5)


def test_a_pivot_that_cannot_be_had_says_why(
    qtbot: QtBot, window: MainWindow, look: PhotoLook, basalt: Project
) -> None:
    """Without what the camera states, marks that are clicked poorly do not say from where it was taken."""
    w, heard = window.workspace, []
    w.do(SetNumber("photos.right-rail.focal_mm", None))
    w.do(SetNumber("photos.right-rail.click_px", 30.0))
    w.said.connect(lambda words, bad: heard.append((words, bad)))
    look.pick(Spot("traced", "t1"))
    layout = w.project.layout("rear")
    assert layout is not None
    before = w.project
    assert w.study.traced("right-rail")[0].why == "no_camera"
    look.to_pivot(layout, ("lower_right", "frame"))
    assert w.project is before
    assert heard
    assert heard[-1][1]
    assert "focal length" in heard[-1][0]
    assert not look.gives["to_pivot"].isEnabled()


def test_findings_lead_to_their_mark(window: MainWindow, look: PhotoLook) -> None:
    w = window.workspace
    w.do(SetNumber("photos.right-rail.marks.m3.up_m", 0.9))
    finding = next(f for f in w.study.findings_so_far if f.code == "S120")
    window.show_step("rig")
    window.go_to_finding(finding)
    assert window.step == "tape"
    assert look.isVisible()
    assert look.picked == Spot("mark", "m3")
    assert "times its ±" in look.more.text()
    assert "misses" in look.more.text()


def test_the_photo_lies_under_the_views(qtbot: QtBot, window: MainWindow, look: PhotoLook) -> None:
    """In Layout's side view the bob's orange spot lies where the bob hangs; switched off it is gone."""
    window.show_step("layout")
    window.actions_by_id["large_side"].trigger()
    sheet = window.sheet(LayoutSheet)
    QApplication.processEvents()
    sheet.views.grab()
    qtbot.waitUntil(lambda: not sheet.views.under.busy, timeout=20_000)
    assert sheet.views.under.stamp()

    def patch() -> float:
        image = sheet.views.grab().toImage()
        at = sheet.views.frame_of("side").at((0.35, 0.95))  # wall behind the rig: nothing is drawn there
        return float(image.pixelColor(at.toPoint()).lightness())

    with_photo = patch()
    window.workspace.do(SetNumber("photos.right-rail.click_px", 1.6))
    sheet.views.grab()
    qtbot.waitUntil(lambda: not sheet.views.under.busy, timeout=20_000)
    from stoutlink.core.editing.edits import SetChoice  # noqa: PLC0415

    window.workspace.do(SetChoice("photos.right-rail.shown", False, "shown"))
    assert sheet.views.under.stamp() == ()
    assert abs(with_photo - patch()) > 10.0


def test_a_missing_photo_is_said_and_what_was_traced_stays(
    qtbot: QtBot, window: MainWindow, look: PhotoLook, tmp_path: Path
) -> None:
    name = window.workspace.project.tape.photos[0].photo
    (tmp_path / "rig.photos" / name).unlink()
    look.refresh(window.theme)
    assert "missing" in look.canvas.shown.waiting
    assert "Lower link bolt" in look.as_text()
    assert "±" in look.as_text()


def test_saving_elsewhere_takes_photos_along(qtbot: QtBot, window: MainWindow, look: PhotoLook, tmp_path: Path) -> None:
    (tmp_path / "other").mkdir()
    there = tmp_path / "other" / "copy.stoutlink"
    window.workspace.save(there)
    name = window.workspace.project.tape.photos[0].photo
    qtbot.waitUntil(lambda: find_photo(there, name) is not None, timeout=10_000)


def test_the_canvas_is_moved_and_enlarged(qtbot: QtBot, look: PhotoLook) -> None:
    canvas = look.canvas
    at = QPointF(150.0, 320.0)
    under = canvas.back(at)
    canvas.zoom(2.0, at)
    assert canvas.back(at) == pytest.approx(under, abs=0.05)
    before = canvas.at((800.0, 900.0))
    spot = QPoint(40, canvas.height() - 40)
    qtbot.mousePress(canvas, LEFT, pos=spot)
    qtbot.mouseMove(canvas, spot + QPoint(30, -20))
    qtbot.mouseRelease(canvas, LEFT, pos=spot + QPoint(30, -20))
    moved = canvas.at((800.0, 900.0)) - before
    assert (moved.x(), moved.y()) == pytest.approx((30.0, -20.0))
    canvas.fit()
    assert canvas.at((0.0, 0.0)).x() >= 0.0
