"""The donors step in the real window: looking, measuring, planning, choosing, inspecting."""

from __future__ import annotations

import gc
import random
from pathlib import Path

import msgspec
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QCheckBox, QComboBox, QLineEdit, QPushButton, QWidget
from pytestqt.qtbot import QtBot

from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.donors import axle_look
from stoutlink.app.steps.donors.axle_look import AxleLook
from stoutlink.app.steps.donors.cost_look import CostLook
from stoutlink.app.steps.donors.match_look import MatchLook
from stoutlink.app.steps.donors.pick_look import AT_ONCE, PickLook
from stoutlink.app.steps.donors.sheet import LOOKS, DonorSheet
from stoutlink.app.widgets.picture import Picture
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.editing.swap_edits import ImportDonors
from tests.app.conftest import Answers
from tests.swap.test_random_records import random_axle


def up(window: MainWindow, look: str, donor: str | None = None) -> None:
    window.show_step("donors")
    window.sheet(DonorSheet).look(look)
    if donor is not None:
        window.sheet(DonorSheet).look_at(donor)
    window.grab()


def picture(window: MainWindow, name: str) -> Picture:
    found = window.findChild(Picture, name)
    assert found is not None
    found.grab()
    return found


def click(qtbot: QtBot, window: MainWindow, name: str, place: str) -> None:
    """Click a place of a picture by its name."""
    shown = picture(window, name)
    hit = shown.named(place)
    assert hit is not None, [h.name for h in shown.hits]
    qtbot.mouseClick(shown, Qt.MouseButton.LeftButton, pos=QPoint(int(hit.box.center().x()), int(hit.box.center().y())))


def field(window: MainWindow, path: str) -> QuantityField:
    found = window.sheet(DonorSheet).findChild(QuantityField, f"field_{path}")
    assert isinstance(found, QuantityField)
    return found


def type_into(qtbot: QtBot, line: QLineEdit, text: str) -> None:
    line.setFocus()
    line.selectAll()
    qtbot.keyClick(line, Qt.Key.Key_Delete)
    qtbot.keyClicks(line, text)
    qtbot.keyClick(line, Qt.Key.Key_Return)


def test_every_field_of_a_record_can_be_said_on_the_picture() -> None:
    numbers = {name for band in axle_look.SPOTS.values() for name, *_ in band}
    said = numbers | {name for name, *_ in axle_look.CHOICES} | {name for name, _ in axle_look.TEXTS}
    assert {f.name for f in msgspec.structs.fields(DonorAxle)} - said == {
        "id",
        "example",
    }  # an example is made one's own with a button
    assert said <= {f.name for f in msgspec.structs.fields(DonorAxle)}


def test_every_look_of_both_ends_paints_in_both_themes_and_units_and_can_be_copied(window: MainWindow) -> None:
    for theme, units in (("dark", "in"), ("light", "mm")):
        window.set_theme(theme)
        if window.workspace.unit != units:
            window.switch_units()
        for end in ("rear", "front"):
            window.workspace.set_end(end)
            for look, *_ in LOOKS:
                up(window, look)
                said = window.sheet(DonorSheet).as_text()
                assert len(said) > (20 if look == "made" else 60), look
                assert "nan" not in said.casefold().split(), look
    window.actions_by_id["copy_donors"].trigger()


def test_every_look_of_nothing_says_what_to_do(window: MainWindow, basalt: Project) -> None:
    empty = with_parts(basalt, donors=(), front_donor=None, rear_donor=None, inspections=(), shelf=(), entries=())
    window.workspace.take(empty, None)
    window.sheet(DonorSheet).end_changed()
    for look, *_ in LOOKS:
        up(window, look)
        assert window.sheet(DonorSheet).list.count() == 0
        assert window.sheet(DonorSheet).as_text(), look


def test_measuring_a_new_axle_on_its_picture(qtbot: QtBot, window: MainWindow) -> None:
    up(window, "ladder")
    new = window.findChild(QPushButton, "new_donor")
    assert new is not None
    qtbot.mouseClick(new, Qt.MouseButton.LeftButton)
    assert window.sheet(DonorSheet).shown == "axle"
    donor = window.workspace.project.swap.donors[-1]
    assert (donor.end, donor.width_m, donor.basis) == ("rear", None, "measured")
    for name, text in (("spline_teeth", "33"), ("neck_diameter_m", "1 5/16"), ("ring_teeth", "41")):
        type_into(qtbot, field(window, f"donors.{donor.id}.{name}"), text)
    now = window.workspace.project.swap.donors[-1]
    assert now.spline_teeth == 33
    assert now.neck_diameter_m == pytest.approx(1.3125 * 0.0254)
    type_into(qtbot, field(window, f"donors.{donor.id}.spline_teeth"), "33.5")
    assert "whole number" in window._said.text()
    assert window.workspace.project.swap.donors[-1].spline_teeth == 33
    box = window.findChild(QComboBox, "donor_locker")
    assert box is not None
    box.setCurrentIndex(box.findData("air"))
    box.activated.emit(box.currentIndex())
    assert window.workspace.project.swap.donors[-1].locker == "air"
    window.sheet(DonorSheet).look("ladder")
    assert "Inner shaft" in window.sheet(DonorSheet).as_text()
    assert window.workspace.project.swap.donors[-1].ring_teeth == 41
    for _ in range(5):
        window.undo()
    assert all(d.id != donor.id for d in window.workspace.project.swap.donors)


def test_gear_teeth_are_typed_as_a_pair(qtbot: QtBot, window: MainWindow) -> None:
    up(window, "axle", "gs-31r")
    look = window.sheet(DonorSheet).looks["axle"]
    assert isinstance(look, AxleLook)
    type_into(qtbot, look.texts["ratios"], "41/10 47/10 49/9")
    donor = next(d for d in window.workspace.project.swap.donors if d.id == "gs-31r")
    assert [str(p) for p in donor.ratios] == ["41/10", "47/10", "49/9"]
    type_into(qtbot, look.texts["ratios"], "4.10")
    assert "41/10 43/10" in window._said.text()
    assert next(d for d in window.workspace.project.swap.donors if d.id == "gs-31r").ratios == donor.ratios


def test_where_a_number_is_from_is_seen_and_said(qtbot: QtBot, window: MainWindow) -> None:
    window.workspace.set_end("front")
    up(window, "axle", "gs-30f")
    assert field(window, "donors.gs-30f.price").property("basis") == "claim"
    assert field(window, "donors.gs-30f.width_m").property("basis") == "measured"
    assert "from a sheet" in field(window, "donors.gs-30f.outer_joint_rating_nm").accessibleName()
    type_into(qtbot, field(window, "donors.gs-30f.price"), "850")
    entry = window.workspace.project.entry("donors.gs-30f.price")
    assert entry is not None
    assert entry.basis == "measured"


def test_an_upgrade_is_planned_from_the_ladder(qtbot: QtBot, window: MainWindow) -> None:
    up(window, "ladder", "gs-32r")
    qtbot.mouseClick(window.sheet(DonorSheet).choose, Qt.MouseButton.LeftButton)
    click(qtbot, window, "ladder_picture", "step_1")
    assert window.workspace.project.swap.rear_plan.upgrades == ("shafts",)
    assert any(x.id == "shafts" for x in _cost(window).columns[0].cost.lines)
    window.sheet(DonorSheet).look("ladder")
    click(qtbot, window, "ladder_picture", "no_upgrades")
    assert not window.workspace.project.swap.rear_plan.upgrades


def _cost(window: MainWindow) -> CostLook:
    up(window, "cost")
    look = window.sheet(DonorSheet).looks["cost"]
    assert isinstance(look, CostLook)
    return look


def test_gears_are_planned_from_the_fan_and_both_ends_follow(qtbot: QtBot, window: MainWindow) -> None:
    up(window, "gears", "vh-36r")
    assert any(f.code == "K121" for f in window.workspace.study.open)
    click(qtbot, window, "gear_picture", "set_47/10")
    assert str(window.workspace.project.swap.rear_plan.gears) == "47/10"
    assert not any(f.code == "K121" for f in window.workspace.study.open)
    click(qtbot, window, "gear_picture", "set_49/9")
    assert window.workspace.project.swap.rear_plan.gears is None


def test_a_locker_is_looked_at_and_planned_by_keyboard(qtbot: QtBot, window: MainWindow) -> None:
    window.workspace.set_end("front")
    up(window, "lockers", "gs-30f")
    shown = picture(window, "locker_picture")
    click(qtbot, window, "locker_picture", "locker_air")
    shown.grab()
    acting = [h for h in shown.hits if h.act is not None]
    shown.setFocus()
    for _ in range(1 + next(i for i, h in enumerate(acting) if h.name == "plan_locker")):
        qtbot.keyClick(shown, Qt.Key.Key_Down)
    qtbot.keyClick(shown, Qt.Key.Key_Return)
    assert window.workspace.project.swap.front_plan.locker == "air"
    assert any(f.code == "K152" for f in window.workspace.study.open)


def test_narrowing_is_typed_on_the_drawing(qtbot: QtBot, window: MainWindow) -> None:
    up(window, "fit", "vh-36r")
    type_into(qtbot, field(window, "rear_plan.width_m"), "64 1/2")
    assert window.workspace.project.swap.rear_plan.width_m == pytest.approx(64.5 * 0.0254)
    assert any(f.code == "K119" and "welded" in f.why for f in window.workspace.study.open)
    window.grab()


def test_the_matrix_tells_and_the_shelf_is_changed(qtbot: QtBot, window: MainWindow) -> None:
    up(window, "match")
    look = window.sheet(DonorSheet).looks["match"]
    assert isinstance(look, MatchLook)
    click(qtbot, window, "match_picture", "front inner rear axle")
    assert look.cell is not None
    assert look.cell.state == "bridged"
    add = window.findChild(QPushButton, "add_shelf_part")
    assert add is not None
    qtbot.mouseClick(add, Qt.MouseButton.LeftButton)
    part = window.workspace.project.swap.shelf[-1]
    window.grab()
    type_into(qtbot, field(window, f"shelf.{part.id}.spline_teeth"), "36")
    assert look.found is not None
    cells = {c.place.end: c.state for c in look.found.cells if c.part == f"shelf {part.id}"}
    assert cells == {"front": "bridged", "rear": "fits"}
    kind = window.findChild(QComboBox, f"choice_shelf.{part.id}.kind")
    assert kind is not None
    kind.activated.emit(kind.findData("gear_set"))
    teeth = window.findChild(QLineEdit, f"words_shelf.{part.id}.gears")
    assert teeth is not None
    type_into(qtbot, teeth, "4.10")
    assert "41/10" in window._said.text()
    type_into(qtbot, teeth, "49/9")
    assert str(window.workspace.project.swap.shelf[-1].gears) == "49/9"
    for _ in range(4):
        window.undo()
    assert part.id not in [s.id for s in window.workspace.project.swap.shelf]


def test_what_the_vehicle_brings_is_typed_in_the_matrix(qtbot: QtBot, window: MainWindow) -> None:
    up(window, "match")
    click(qtbot, window, "match_picture", "vehicle")
    thread = window.findChild(QLineEdit, "words_rig.fittings.brake_thread")
    assert thread is not None
    assert any(f.code == "K143" for f in window.workspace.study.open)
    type_into(qtbot, thread, "M12x1.0")
    assert {f.subject for f in window.workspace.study.open if f.code == "K143"} == {"gs-30f"}
    type_into(qtbot, field(window, "rig.fittings.wheel_bolt_count"), "8")
    type_into(qtbot, field(window, "rig.fittings.wheel_bolt_circle_m"), "7")  # no adapter on the shelf for these
    assert {f.subject for f in window.workspace.study.open if f.code == "K149"} == {
        "gs-30f",
        "vh-36r",
    }  # no adapter for them


def test_a_price_of_ones_own(qtbot: QtBot, window: MainWindow, answers: Answers) -> None:
    look = _cost(window)
    before = look.columns[0].cost.total
    answers.text = "500"
    click(qtbot, window, "cost_lines", "line_driveshaft_front")
    after = _cost(window).columns[0].cost.total
    assert after == pytest.approx(before + 500 - 380)  # this end's
    answers.text = "500 both"
    click(qtbot, window, "cost_lines", "line_driveshaft_rear")
    assert _cost(window).columns[0].cost.total == pytest.approx(before + 2 * (500 - 380))
    answers.text = "dear"
    look.ask_price("driveshaft")
    assert "dear" in window._said.text()
    answers.text = "440.25, 3 h"
    look.ask_price("driveshaft", "front")
    line = next(x for x in _cost(window).columns[0].cost.lines if (x.id, x.end) == ("driveshaft", "front"))
    assert (line.amount, line.hours) == (440.25, 3.0)
    assert "440.25" in look.as_text()
    answers.text = ""
    for end in ("front", "both"):
        look.ask_price("driveshaft", end)
    assert _cost(window).columns[0].cost.total == pytest.approx(before)


def _own_line(window: MainWindow) -> None:
    hand = window.findChild(QPushButton, "own_cost")
    assert hand is not None
    hand.click()


def test_a_line_of_ones_own_and_a_credit(qtbot: QtBot, window: MainWindow, answers: Answers) -> None:
    look = _cost(window)
    before = look.columns[0].cost
    answers.text = "Old axle sold: -350.50"
    _own_line(window)
    assert _cost(window).columns[0].cost.total == pytest.approx(before.total - 350.50)
    answers.text = "Trailer: 60, 2 h"
    _own_line(window)
    after = _cost(window).columns[0].cost
    assert after.hours == pytest.approx(before.hours + 2)
    answers.text = "no colon 60"
    _own_line(window)
    assert [one.title for one in window.workspace.project.swap.own_costs] == [
        "Freight for the axle",
        "Old axle sold",
        "Trailer",
    ]
    assert "no colon 60" in window._said.text()
    answers.text = ""
    click(qtbot, window, "cost_lines", "line_own-2_both")
    assert [one.title for one in window.workspace.project.swap.own_costs] == ["Freight for the axle", "Trailer"]


def test_what_is_planned_counts_into_the_cost(qtbot: QtBot, window: MainWindow) -> None:
    look = _cost(window)

    def ids() -> set[tuple[str, str]]:
        return {(x.id, x.end) for x in _cost(window).columns[0].cost.lines}

    def choose(button: str, action: str) -> None:
        hand = window.findChild(QPushButton, button)
        assert hand is not None
        menu = hand.menu()
        assert menu is not None
        next(a for a in menu.actions() if a.objectName() == action).trigger()

    assert ("swap", "rear") in ids()
    choose("plan_rear", "rear_in_place")
    assert not {name for name, end in ids() if end == "rear"} & {"swap", "driveshaft", "brakes", "link_brackets"}
    assert look.columns[0].cost.lines[0].amount is not None
    choose("plan_rear", "rear_disc_conversion")
    choose("also_buy", "buy_tyres")
    assert {("disc_conversion", "rear"), ("tyres", "both")} <= ids()
    choose("plan_front", "front_keep_gears")
    assert ("gear_set", "front") not in ids()
    assert window.workspace.project.swap.front_plan.keep_gears
    choose("also_buy", "buy_tyres")
    assert ("tyres", "both") not in ids()


def test_the_measured_track_can_count(qtbot: QtBot, window: MainWindow) -> None:
    up(window, "fit")
    type_into(qtbot, field(window, "rig.rear.adapter_m"), "1")
    rig = window.workspace.project.rig
    assert window.workspace.rig.rear.track_m == pytest.approx(rig.rear.track_m + 2 * 0.0254, abs=1e-6)
    box = window.findChild(QCheckBox, "track_measured")
    assert box is not None
    box.click()
    assert window.workspace.rig.rear.track_m == rig.rear.track_m


def test_a_pair_is_picked_and_taken(qtbot: QtBot, window: MainWindow) -> None:
    up(window, "pick")
    look = window.sheet(DonorSheet).looks["pick"]
    assert isinstance(look, PickLook)
    assert look.found is not None
    click(qtbot, window, "pick_picture", "pair_1")
    chosen = look.found.best[1]
    click(qtbot, window, "pick_picture", "choose_pair")
    project = window.workspace.project
    assert chosen.front is not None
    assert chosen.rear is not None
    assert (project.swap.front_donor, project.swap.rear_donor) == (chosen.front.id, chosen.rear.id)
    assert not any(f.code == "K121" for f in window.workspace.study.open)
    assert chosen.numbers["strength"] < 0.9
    type_into(qtbot, field(window, "choosing.least_margin"), "0.9")
    assert look.found.best[0].numbers["strength"] >= 0.9
    window.undo()
    window.undo()
    assert window.workspace.project.swap.front_donor == "gs-30f"


def test_many_axles_are_ranked_beside_the_window(qtbot: QtBot, window: MainWindow, basalt: Project) -> None:
    many = [
        msgspec.structs.replace(d, id=f"{d.id}-{n}", name=f"{d.name} {n}")
        for n in range(14)
        for d in basalt.swap.donors
    ]
    window.workspace.do(ImportDonors(tuple(many)))
    fronts = sum(d.end == "front" for d in window.workspace.project.swap.donors)
    assert fronts * (len(window.workspace.project.swap.donors) - fronts) > AT_ONCE
    up(window, "pick")
    look = window.sheet(DonorSheet).looks["pick"]
    assert isinstance(look, PickLook)
    with qtbot.waitSignal(look.ranked, timeout=30_000):
        assert look.part is not None
        assert look.found is None
    assert look.found is not None
    assert len(look.found.best) == 40
    look._asked = None
    look.prepare()
    look.cancel()
    assert look.found is None
    click(qtbot, window, "pick_picture", "again")
    with qtbot.waitSignal(look.ranked, timeout=30_000):
        pass
    look._asked = None
    look.prepare()
    assert not gc.isenabled()
    window.sheet(DonorSheet).stop()
    qtbot.waitUntil(gc.isenabled, timeout=10_000)  # the autosave may still be under way


def test_an_inspection_leads_to_a_word_and_into_the_cost(qtbot: QtBot, window: MainWindow) -> None:
    up(window, "inspect", "vh-36r")
    start = window.findChild(QPushButton, "start_inspection")
    assert start is not None
    qtbot.mouseClick(start, Qt.MouseButton.LeftButton)
    for look, state in (("oil", "good"), ("seals", "worn"), ("tubes", "good")):
        button = window.findChild(QPushButton, f"look_{look}_{state}")
        assert button is not None
        button.click()
    sheet = next(i for i in window.workspace.project.swap.inspections if i.id == "vh-36r")
    assert {c.id: c.state for c in sheet.checks} == {"oil": "good", "seals": "worn", "tubes": "good"}
    assert any(x.id == "repair" and x.end == "rear" for x in _cost(window).columns[0].cost.lines)
    window.sheet(DonorSheet).look("inspect")
    bad = window.findChild(QPushButton, "look_tubes_bad")
    assert bad is not None
    bad.click()
    verdict = window.findChild(QWidget, "inspection_verdict")
    assert verdict is not None
    assert "Walk away" in verdict.property("text")
    assert any(f.code == "K117" and f.severity == "danger" for f in window.workspace.study.open)
    cost = window.findChild(QLineEdit, "look_seals_cost")
    assert cost is not None
    type_into(qtbot, cost, "77")
    assert next(i for i in window.workspace.project.swap.inspections if i.id == "vh-36r").check("seals").cost == 77.0  # type: ignore[union-attr]
    type_into(qtbot, cost, "much")
    assert "much" in window._said.text()
    type_into(qtbot, field(window, "inspections.vh-36r.pinion_turns"), "60")
    type_into(qtbot, field(window, "inspections.vh-36r.wheel_turns"), "10")
    assert "Counted 6.00" in verdict.property("text")


def test_a_record_is_found_removed_and_brought_back(window: MainWindow, answers: Answers) -> None:
    up(window, "axle")
    window.sheet(DonorSheet).filter.setText("full float tallow")
    assert window.sheet(DonorSheet).list.count() == 1
    window.sheet(DonorSheet).filter.setText("")
    window.sheet(DonorSheet).look_at("vh-36r")
    answers.say = "Remove"
    window.sheet(DonorSheet)._remove()
    assert window.workspace.project.swap.rear_donor is None
    assert all(d.id != "vh-36r" for d in window.workspace.project.swap.donors)
    window.undo()
    assert window.workspace.project.swap.rear_donor == "vh-36r"


@pytest.mark.parametrize(
    ("say", "width", "price"), [("Merge", 1.60, 99.0), ("Replace", 1.70, 99.0), ("Keep mine", 1.60, 480.0)]
)
def test_a_table_with_known_axles_asks_what_to_do(
    window: MainWindow, answers: Answers, tmp_path: Path, say: str, width: float, price: float
) -> None:
    known = tmp_path / "mine.csv"
    known.write_text(
        "id,name,end,width_m,price,basis,marks\ngs-31r,Mine,rear,1.60,,measured,width_m=measured\n", encoding="utf-8"
    )
    answers.say = "Merge"
    window.files.take(known)
    claim = tmp_path / "claim.csv"
    claim.write_text("id,name,end,width_m,price,basis\ngs-31r,Theirs,rear,1.70,99,claim\n", encoding="utf-8")
    answers.say = say
    window.files.take(claim)
    donor = next(d for d in window.workspace.project.swap.donors if d.id == "gs-31r")
    assert donor.width_m == pytest.approx(width)
    assert donor.price == pytest.approx(price)
    assert "already" in answers.asked[-1]


def test_any_record_can_be_looked_at(window: MainWindow, basalt: Project) -> None:
    for seed in range(2):
        rng = random.Random(100 + seed)
        donors = tuple(random_axle(rng, n, end) for end in ("front", "rear") for n in range(3))
        project = with_parts(
            basalt, donors=donors, front_donor="front-0", rear_donor="rear-0", entries=(), inspections=()
        )
        window.workspace.take(project, None)
        window.sheet(DonorSheet).end_changed()
        for end in ("rear", "front"):
            window.workspace.set_end(end)
            for look, *_ in LOOKS:
                for n in range(3):
                    up(window, look, f"{end}-{n}")
                    assert window.sheet(DonorSheet).as_text()


def test_the_cost_list_prints_whole(window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    up(window, "cost")
    answers.path = tmp_path / "cost.pdf"
    window.files.print_sheet()
    data = (tmp_path / "cost.pdf").read_bytes()
    assert data.count(b"/Type /Page") - data.count(b"/Type /Pages") >= 2
    assert window.theme.name == "dark"
