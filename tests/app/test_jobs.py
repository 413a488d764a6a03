"""Whole jobs, each from New in the real window with numbers of its own, held against a calculation beside the program."""

from __future__ import annotations

import math

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QCheckBox, QComboBox, QLabel, QLineEdit, QPushButton
from pytestqt.qtbot import QtBot

from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.donors.cost_look import CostLook
from stoutlink.app.steps.donors.made_look import MadeLook
from stoutlink.app.steps.donors.match_look import MatchLook
from stoutlink.app.steps.donors.sheet import DonorSheet
from stoutlink.app.steps.layout.option_look import OptionLook
from stoutlink.app.steps.layout.sheet import LayoutSheet
from stoutlink.app.widgets.kept_line import KeptLine
from stoutlink.core.analysis.swap.braking import disc_pull
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.fitted_axle import as_fitted
from tests.app.test_by_keyboard import focus

INCH = 0.0254
RIG = {
    "rig.wheelbase_m": "101", "rig.front.tyre_text": "37x12.50R17", "rig.rear.tyre_text": "37x12.50R17", "rig.front.track_m": "63", "rig.rear.track_m": "63",
    "rig.front.tyre_free_radius_m": "18.3", "rig.rear.tyre_free_radius_m": "18.3", "rig.front.loaded_radius_m": "17", "rig.rear.loaded_radius_m": "17",
    "rig.mass_kg": "4100 lb", "rig.cg_ahead_of_rear_m": "52", "rig.cg_height_m": "32", "rig.front.unsprung_mass_kg": "650 lb", "rig.rear.unsprung_mass_kg": "600 lb",
    "rig.drivetrain.engine_torque_nm": "280", "rig.drivetrain.gear_ratios.0": "3.4", "rig.drivetrain.gear_ratios.1": "1", "rig.drivetrain.transfer_low_ratio": "2.72",
}  # fmt: skip


class Hand:
    """One who types, picks and presses in the window."""

    def __init__(self, qtbot: QtBot, window: MainWindow) -> None:
        self.qtbot, self.window, self.w = qtbot, window, window.workspace
        window.files.new()

    def type(self, path: str, text: str) -> None:
        """Go to a field as a click on a card does, and type over it."""
        self.w.go_to.emit(path)
        line = focus(self.window)
        assert isinstance(line, KeptLine), path
        assert line.place == path
        line.selectAll()
        self.qtbot.keyClicks(line, text)
        self.qtbot.keyClick(line, Qt.Key.Key_Return)
        assert line.property("wrong") is not True, (path, text, self.window._said.text())

    def rig(self) -> None:
        for path, text in RIG.items():
            self.type(path, text)
        assert self.w.study.needs == ()

    def press(self, name: str) -> None:
        button = self.window.findChild(QPushButton, name)
        assert button is not None, name
        assert button.isVisible(), name
        self.qtbot.mouseClick(button, Qt.MouseButton.LeftButton)

    def choose(self, name: str, value: object) -> None:
        box = next(b for b in self.window.findChildren(QComboBox) if b.objectName() == name and b.isVisible())
        assert box.findData(value) >= 0, (name, value)
        box.setCurrentIndex(box.findData(value))
        box.activated.emit(box.currentIndex())

    def donors(self, look: str) -> DonorSheet:
        self.window.show_step("donors")
        sheet = self.window.sheet(DonorSheet)
        sheet.look(look)
        return sheet

    def axle(self, end: str, **texts: str) -> str:
        """Measure an axle onto its picture."""
        self.w.set_end(end)
        self.donors("axle")
        self.press("new_donor")
        name = self.w.project.swap.donors[-1].id
        for key, text in texts.items():
            self.type(f"donors.{name}.{key}", text)
        return name

    def record(self, name: str) -> DonorAxle:
        return next(d for d in self.w.project.swap.donors if d.id == name)

    def under(self, name: str) -> None:
        self.w.set_end(self.record(name).end)
        self.donors("axle").look_at(name)
        self.press("choose_donor")

    def layout(self, kind: str) -> LayoutSheet:
        self.window.show_step("layout")
        sheet = self.window.sheet(LayoutSheet)
        before = len(self.w.project.linkage.layouts)
        sheet.look("start")
        sheet.looks["start"].start(kind)  # type: ignore[attr-defined]
        self.qtbot.waitUntil(lambda: len(self.w.project.linkage.layouts) > before, timeout=20000)
        return sheet

    def codes(self) -> set[str]:
        return {f.code for f in self.w.study.open_so_far}

    def done(self) -> None:
        self.w.session.mark_saved()


@pytest.fixture
def hand(qtbot: QtBot, window: MainWindow) -> Hand:
    return Hand(qtbot, window)


def test_from_leaves_to_triangulated_links_on_a_narrow_frame(hand: Hand) -> None:
    """Pivots typed on the drawing; anti-squat by two lines in side view crossed on paper, the convergence in plan."""
    hand.rig()
    hand.layout("leaf")
    hand.layout("double_triangulated_four_link")
    assert [x.kind for x in hand.w.project.linkage.layouts] == ["leaf", "double_triangulated_four_link"]
    layout = hand.w.project.layout("rear")
    assert layout is not None
    typed = {  # inches: station, side, height; the left ones, the right ones follow
        ("upper_left", "frame"): (22.0, 15.0, 25.5), ("upper_left", "axle"): (1.0, 4.0, 26.0),
        ("lower_left", "frame"): (31.0, 9.0, 17.5), ("lower_left", "axle"): (0.5, 24.0, 15.5),
    }  # fmt: skip
    sheet = hand.window.sheet(LayoutSheet)
    sheet.look("pivots")
    for (link, end), place in typed.items():
        sheet.views.select((link, end))  # type: ignore[arg-type]
        for name, inches in zip(("station", "side", "height"), place, strict=True):
            line = next(x for x in hand.window.findChildren(QLineEdit, f"pivot_{name}") if x.isVisible())
            line.setFocus()
            line.selectAll()
            hand.qtbot.keyClicks(line, f"{inches}")
            hand.qtbot.keyClick(line, Qt.Key.Key_Return)
    layout = hand.w.project.layout("rear")
    assert layout is not None
    for side, sign in (("left", 1.0), ("right", -1.0)):
        one = layout.link(f"upper_{side}")
        assert one is not None
        assert one.frame_pivot_m == pytest.approx((22.0 * INCH, sign * 15.0 * INCH, 25.5 * INCH))
    (xa, _, za), (xb, _, zb) = typed["upper_left", "frame"], typed["upper_left", "axle"]
    (xc, _, zc), (xd, _, zd) = typed["lower_left", "frame"], typed["lower_left", "axle"]
    meet = np.linalg.solve([[za - zb, -(xa - xb)], [zc - zd, -(xc - xd)]], [(za - zb) * xa - (xa - xb) * za, (zc - zd) * xc - (xc - xd) * zc])  # fmt: skip
    percent = (
        100.0 * (meet[1] / meet[0]) * 101.0 / 32.0
    )  # IC height over its distance ahead of the tyre print, against h/L
    gauge = next(g for g in hand.w.study.axles["rear"].gauges if g.id == "drive")
    assert gauge.value == pytest.approx(percent, rel=2e-3)
    bar = next(b for b, _, _ in hand.window.verdict._bars if b.gauge is not None and b.gauge.id == "drive")
    assert f"{percent:.0f} %" in bar.accessibleName() + bar.gauge.text  # type: ignore[union-attr]
    hand.done()


def test_three_link_options_and_why_two_are_rejected(hand: Hand) -> None:
    hand.rig()
    for kind in ("double_triangulated_four_link", "three_link_panhard", "leaf"):
        hand.layout(kind)
    sheet = hand.window.sheet(LayoutSheet)
    sheet.look("options")
    look = sheet.looks["options"]
    assert isinstance(look, OptionLook)
    hand.qtbot.waitUntil(lambda: hand.w.project.linkage.layouts[0].name in look.as_text(), timeout=60000)
    text = look.as_text()
    for layout in hand.w.project.linkage.layouts:
        assert layout.name in text
    for layout in hand.w.project.linkage.layouts[:2]:
        look.pick(layout.id)
        line = hand.window.findChild(QLineEdit, "option_rejected")
        assert line is not None
        line.setFocus()
        hand.qtbot.keyClicks(line, f"no room for {layout.id}")
        hand.qtbot.keyClick(line, Qt.Key.Key_Return)
    assert [x.rejected for x in hand.w.project.linkage.layouts] == ["no room for rear-1", "no room for rear-2", ""]
    hand.qtbot.waitUntil(lambda: look.as_text().count("no room for rear-") == 2, timeout=60000)
    hand.done()


def test_a_budget_rear_axle_with_discs(hand: Hand) -> None:
    """A drum axle and a set of discs from the shelf: what meets, what comes off, what it costs to the cent."""
    hand.rig()
    name = hand.axle(
        "rear",
        price="450",
        bolt_count="6",
        bolt_circle_m="5 1/2",
        weight_kg="330 lb",
        brakes_kg="90 lb",
        ring_teeth="41/8",
        width_m="64",
    )
    hand.choose("donor_brake", "drum")
    hand.choose("donor_parking_brake", "drum_cable")
    hand.under(name)
    sheet = hand.donors("match")
    look = sheet.looks["match"]
    assert isinstance(look, MatchLook)
    hand.press("add_shelf_part")
    part = hand.w.project.swap.shelf[-1].id
    hand.choose(f"choice_shelf.{part}.kind", "brakes")
    texts = {"rotor_m": "12", "piston_m": "2", "piston_count": "1", "bolt_count": "6", "bolt_circle_m": "5 1/2", "weight_kg": "70 lb", "price": "210"}  # fmt: skip
    for key, text in texts.items():
        hand.type(f"shelf.{part}.{key}", text)
    hand.choose(f"choice_shelf.{part}.brake", "disc")
    hand.choose(f"choice_shelf.{part}.parking_brake", "in_hat_cable")
    hand.choose("shelf_part_goes", "rear")
    assert hand.w.project.swap.rear_plan.fitted == (part,)
    assert "✓ Part from the shelf over the studs" in look.as_text()
    assert "K171" in hand.codes()
    hand.press("freed_to_shelf")
    assert hand.w.project.swap.shelf[-1].brake == "drum"
    cost = hand.donors("cost").looks["cost"]
    assert isinstance(cost, CostLook)
    lines = {x.id: x for x in cost.columns[0].cost.lines}
    assert lines["axle"].amount == 450.0
    assert "brakes" not in lines
    assert "parking_brake" not in lines  # the discs bring one
    assert cost.columns[0].cost.total == pytest.approx(
        sum(x.amount or 0.0 for x in lines.values() if x.group != "tool")
    )
    # 2 in piston at (12 − 2)/2 in, both faces of both discs, on a 17 in radius
    pull = disc_pull(as_fitted(hand.w.project, hand.record(name)), 17 * INCH)
    assert pull == pytest.approx(4 * math.pi / 4 * (2 * INCH) ** 2 * (5 * INCH) / (17 * INCH))
    hand.done()


def test_a_regear_at_both_ends_with_an_independent_front_that_stays(hand: Hand) -> None:
    """Nothing is laid out in front; both ends get one ratio; crawl by hand."""
    hand.rig()
    hand.window.show_step("rig")
    hand.window.sheets["rig"].look("drivetrain")
    hand.choose("choice_front_axle", "independent")
    front = hand.axle("front", ring_teeth="37/10", weight_kg="250 lb", ratios="37/10 41/8")
    rear = hand.axle("rear", ring_teeth="41/11", weight_kg="300 lb", ratios="41/11 41/8")
    for name in (front, rear):
        hand.under(name)
    assert "K169" in hand.codes()
    wide = 37 / 10 / (41 / 11) - 1  # 3.70 against 3.73: within what a transfer case forgives
    assert abs(wide) < 0.01
    hand.type(f"donors.{rear}.ring_teeth", "41/8")
    assert "K121" in hand.codes()  # 3.70 against 5.13
    for end, name in (("front", front),):
        hand.w.set_end(end)
        sheet = hand.donors("gears")
        sheet.look_at(name)
        picture = sheet.looks["gears"].findChild(type(sheet.looks["gears"].picture))  # type: ignore[attr-defined]
        picture.grab()
        hit = picture.named("set_41/8")
        assert hit is not None
        hand.qtbot.mouseClick(picture, Qt.MouseButton.LeftButton, pos=hit.box.center().toPoint())
    assert "K121" not in hand.codes()
    assert f"41/8\t5.125\t2670 rpm\t{3.4 * 2.72 * 41 / 8:.0f}:1" in hand.window.sheet(DonorSheet).as_text()
    hand.window.show_step("layout")
    hand.w.set_end("front")
    look = hand.window.sheet(LayoutSheet).looks["start"]
    look.picture.grab()  # type: ignore[attr-defined]
    assert look.picture.named("start leaf") is None  # type: ignore[attr-defined]
    labels = [x.text() for x in hand.window.verdict.needs.findChildren(QLabel)]
    assert any("independent front stays" in words for words in labels)
    lines = {(x.id, x.end) for x in hand.w.study.cost(hand.record(front), hand.record(rear), None).lines}
    assert ("gear_set", "front") in lines
    assert ("swap", "front") not in lines
    hand.done()


def test_narrowing_an_axle_whose_pinion_is_off_the_middle(hand: Hand) -> None:
    """66 in over the faces to 60, pinion 2 in to the right and wanted in the middle: 5 in off the right, 1 off the left."""
    hand.rig()
    name = hand.axle(
        "rear", width_m="66", pinion_offset_m="-2", shaft_left_m="33", shaft_right_m="29", ring_teeth="41/8"
    )
    hand.under(name)
    hand.donors("fit")
    hand.type("rear_plan.width_m", "60")
    found = hand.w.study.narrowed(hand.record(name))
    assert found is not None
    assert (found.left, found.right) == pytest.approx((3 * INCH, 3 * INCH))
    box = hand.window.findChild(QCheckBox, "centre_pinion")
    assert box is not None
    box.click()
    found = hand.w.study.narrowed(hand.record(name))
    assert found is not None
    # the pinion stands 33 + 2 from the left face and 33 − 2 from the right; both become 30
    assert (found.left, found.right) == pytest.approx((5 * INCH, 1 * INCH))
    assert "K119" in hand.codes()
    hand.done()


def test_a_donor_off_a_work_truck_made_into_one_with_another(hand: Hand) -> None:
    """Its housing and gears, the ends of a narrower one: the wheels fit then, and what is left to measure is said."""
    hand.rig()
    truck = hand.axle("rear", price="300", bolt_count="8", bolt_circle_m="6 1/2", tube_od_m="3 1/2", ring_teeth="41/8", spline_teeth="35", outer_spline_teeth="35", width_m="72", shaft_left_m="35", shaft_right_m="35", weight_kg="560 lb")  # fmt: skip
    hand.choose("donor_dual_wheels", True)
    hand.choose("donor_floating", "full")
    other = hand.axle("rear", price="180", bolt_count="6", bolt_circle_m="5 1/2", tube_od_m="3", ring_teeth="41/11", spline_teeth="30", outer_spline_teeth="30", width_m="61")  # fmt: skip
    hand.choose("donor_dual_wheels", False)
    hand.choose("donor_floating", "full")
    hand.under(truck)
    assert "K168" in hand.codes()  # made for two wheels a side
    sheet = hand.donors("made")
    sheet.look_at(truck)
    hand.press("begin_made")
    look = sheet.looks["made"]
    assert isinstance(look, MadeLook)
    new = hand.w.project.swap.made[0].id
    assert look.donor is not None
    assert look.donor.id == new
    hand.choose("made_outers", other)
    made = hand.record(new)
    assert (made.bolt_count, made.dual_wheels, made.spline_teeth, made.ring_teeth, made.price) == (
        6,
        False,
        35,
        41,
        480.0,
    )
    assert (made.width_m, made.weight_kg, made.shaft_left_m) == (None, None, None)
    said = look.as_text()
    assert "✗\tends on the tubes" in said
    assert "✗\tshafts in the drive plates\t35 teeth against 30" in said
    assert "measure\twidth over the wheel faces" in said
    hand.under(new)
    assert "K168" not in hand.codes()
    assert {"K166", "K167"} <= hand.codes()
    hand.type(f"donors.{new}.width_m", "64")
    assert "measure\twidth" not in hand.donors("made").as_text()
    for _ in range(3):
        hand.w.undo()
    assert hand.record(new).bolt_count == 8 or hand.w.project.swap.rear_donor == truck
    hand.done()


def test_a_perch_transfer_with_eyes_dragged_to_the_hangers(hand: Hand) -> None:
    """Leaves from nothing; the front eye is dragged, the half follows; the stack's height by hand."""
    hand.rig()
    name = hand.axle("rear", tube_od_m="3", ring_teeth="41/8", width_m="62")
    hand.under(name)
    sheet = hand.layout("leaf")
    at = f"layouts.{hand.w.project.linkage.layouts[0].id}.leaf"
    sheet.look("leaf")
    for key, text in {"leaves.0.count": "4", "leaves.0.thickness_m": "0.25", "pad_m": "0.375", "block_m": "1", "front_m": "25", "rear_m": "27", "clamp_m": "0"}.items():  # fmt: skip
        hand.type(f"{at}.{key}", text)
    hand.choose(f"choice_{at}.seat", "over")
    layout = hand.w.project.layout("rear")
    assert layout is not None
    found = hand.w.study.axles["rear"].leaf
    assert found is not None
    # hub 17, half the tube 1.5, pad 0.375, block 1, pack of 4 × 0.25 less half the main leaf
    if len(layout.leaf.leaves) == 1:  # type: ignore[union-attr]
        assert found.perch.seat == pytest.approx((17 + 1.5 + 0.375 + 1 + 1.0 - 0.125) * INCH)
    views = sheet.views
    start = views.handle_at(("@front_eye", "frame"), "side")
    assert start is not None
    old = layout.leaf
    to = start + QPoint(24, -8).toPointF()
    hand.qtbot.mousePress(views, Qt.MouseButton.LeftButton, pos=start.toPoint())
    hand.qtbot.mouseMove(views, (start + QPoint(10, -3).toPointF()).toPoint())
    hand.qtbot.mouseMove(views, to.toPoint())
    hand.qtbot.mouseRelease(views, Qt.MouseButton.LeftButton, pos=to.toPoint())
    now = hand.w.project.layout("rear")
    assert now is not None
    assert now.leaf is not None
    assert old is not None
    assert now.leaf.front_m > old.front_m
    assert now.leaf.rear_m == old.rear_m
    point = views.pivot_point(("@front_eye", "frame"))
    assert point is not None
    where = views.frame_of("side").back(to)
    assert math.dist((point[0], point[2]), where) < 0.004  # on the grid beside the hand
    assert "Front eye pivot: station" in views.describe()
    assert hand.w.session.undo_label == "Move front eye"
    hand.w.undo()
    assert hand.w.project.layout("rear") == layout
    hand.done()
