"""*Go* lands on the thing: the look that deals with it, the part picked, the pose set, the field with the keys."""

from __future__ import annotations

import itertools

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QPushButton, QWidget
from pytestqt.qtbot import QtBot

from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.cut.sheet import CutSheet
from stoutlink.app.steps.donors.sheet import DonorSheet
from stoutlink.app.steps.layout.sheet import LayoutSheet
from stoutlink.app.steps.rig.sheet import FIELD_OF, RigSheet
from stoutlink.app.steps.travel.sheet import TravelSheet
from stoutlink.app.widgets.kept_line import KeptLine
from stoutlink.core.advice.finding import Finding
from stoutlink.core.codes import codes
from stoutlink.core.document.paths import with_value
from stoutlink.core.document.project import with_parts
from tests.app.conftest import Answers
from tests.app.test_by_keyboard import focus
from tests.app.test_window import child


def finding(code: str, step: str, subject: str) -> Finding:
    return Finding(code, "warn", "Said.", "", step, subject)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("code", "subject", "look", "place"),
    [
        ("W101", "gvwr", "weight", "rig.weight.gvwr_kg"),
        ("W104", "front", "weight", "rig.front.unsprung_mass_kg"),
        ("T101", "rear", "tyres", "rig.rear.tyre_free_radius_m"),
        ("R101", "belly", "stance", "rig.stance.belly_z_m"),
        ("R102", "rear", "stance", "rig.stance.ride_rear_m"),
        ("R120", "rig.drivetrain.idle_rpm", "drivetrain", "rig.drivetrain.idle_rpm"),
        ("R130", "rig.front.tyre_text", "tyres", "rig.front.tyre_text"),
    ],
)
def test_a_finding_of_the_rig_leads_to_its_field(
    window: MainWindow, code: str, subject: str, look: str, place: str
) -> None:
    window.show_step("cut")
    window.knock_ons.go.emit(finding(code, "rig", subject))
    assert window.step == "rig"
    assert window.sheet(RigSheet).shown == look
    field = focus(window)
    assert isinstance(field, KeptLine)
    assert field.place == place


def test_every_field_a_finding_of_the_rig_names_is_there(window: MainWindow) -> None:
    for code, path in FIELD_OF.items():
        assert code in codes()
        assert window.sheet(RigSheet).show_field(path.format(about="front")), path


@pytest.mark.parametrize(
    ("code", "subject", "end", "look"),
    [
        ("K101", "gs-30f", "front", "ladder"),
        ("K121", "gs-30f/vh-36r", "front", "gears"),
        ("K103", "vh-36r", "rear", "lockers"),
        ("K136", "vh-36r", "rear", "fit"),
        ("K117", "gs-30f", "front", "inspect"),
        ("K126", "gs-30f/vh-36r", "front", "match"),
        ("K106", "vh-36r", "rear", "axle"),
    ],
)
def test_a_finding_of_an_axle_leads_to_the_look_that_deals_with_it(
    window: MainWindow, code: str, subject: str, end: str, look: str
) -> None:
    window.knock_ons.go.emit(finding(code, "donors", subject))
    assert (window.step, window.workspace.end, window.sheet(DonorSheet).shown) == ("donors", end, look)


@pytest.mark.parametrize(
    ("code", "subject", "look", "picked"),
    [
        ("G220", "front-a.panhard frame foot on rail", "fit", ("panhard", "frame")),
        ("G205", "rear-a.lower_left axle", "bind", ("lower_left", "axle")),
        ("G210", "rear-a.upper_right", "loads", ("upper_right", "frame")),
        ("K203", "front-a panhard", "sideways", None),
        ("G202", "rear-a", "pivots", None),
    ],
)
def test_a_finding_of_a_layout_picks_the_part(
    window: MainWindow, code: str, subject: str, look: str, picked: tuple[str, str] | None
) -> None:
    window.knock_ons.go.emit(finding(code, "layout", subject))
    sheet = window.sheet(LayoutSheet)
    assert (window.step, window.workspace.end) == ("layout", subject.split("-", maxsplit=1)[0])
    assert sheet.current == look
    if picked is not None:
        assert sheet.views.selected == picked


def test_what_touches_is_shown_at_the_pose_where_it_does(qtbot: QtBot, window: MainWindow) -> None:
    qtbot.waitUntil(lambda: window.workspace.study.cycled, timeout=30000)
    travel = window.workspace.study.travel_known("front")
    window.show_step("travel")
    assert travel is not None
    pair = next(c for c in travel.interference.contacts if c.spare < 0 and c.steer)
    window.knock_ons.go.emit(finding("T302", "travel", f"front-a {pair.one} {pair.other}"))
    sheet = window.sheet(TravelSheet)
    grid = travel.grid
    qtbot.waitUntil(lambda: window.workspace.cycling.known, timeout=30000)
    assert (window.step, window.workspace.end, sheet.current) == ("travel", "front", "touching")
    assert grid.heave[sheet.column] == pytest.approx(pair.heave)
    assert grid.roll[sheet.row] == pytest.approx(pair.roll)
    assert (sheet.steer.value() > 0) == ((pair.steer or 0.0) > 0)
    window.knock_ons.go.emit(finding("T311", "travel", "rear-a wave"))
    assert (window.workspace.end, sheet.current) == ("rear", "driveline")


def test_a_finding_of_a_cut_leads_to_the_take_up(window: MainWindow) -> None:
    window.knock_ons.go.emit(finding("C202", "cut", "front-a.upper axle"))
    field = focus(window)
    assert isinstance(field, KeptLine)
    assert field.place == "layouts.front-a.links.upper.axle_end.take_up_m"
    assert window.step == "cut"
    assert window.sheet(CutSheet).isVisible()


def test_accepting_a_card_accepts_all_it_stands_for_and_undo_opens_it_again(
    qtbot: QtBot, window: MainWindow, answers: Answers
) -> None:
    qtbot.waitUntil(lambda: window.workspace.study.cycled, timeout=30000)
    window.refresh()
    card = next(key[0] for key in window.knock_ons._cards if len(key[0].findings) > 1)
    before = {f.key for f in window.workspace.study.open}
    shown = child(window.knock_ons, QWidget, f"finding_{card.first.key}")
    child(shown, QPushButton, "accept").click()  # type: ignore[attr-defined]
    assert before - {f.key for f in window.workspace.study.open} == set(card.keys)
    child(window.knock_ons, QPushButton, "fold_accepted").click()  # type: ignore[attr-defined]
    unfolded = next(key[0] for key in window.knock_ons._cards if key[2] is not None)
    assert unfolded.keys == card.keys
    window.knock_ons.accept(unfolded, reopen=True)
    assert {f.key for f in window.workspace.study.open} == before
    window.undo()
    window.undo()
    assert window.workspace.project.accepted == ()


def test_the_line_of_counts_filters(qtbot: QtBot, window: MainWindow) -> None:
    panel = window.knock_ons
    qtbot.waitUntil(lambda: window.workspace.study.cycled, timeout=30000)
    window.refresh()
    listed = {key[0] for key in panel._cards}
    for severity, button in panel.filters.items():
        mine = {card for card in listed if card.severity == severity}
        assert button.text().split()[1] == str(len(mine))
        button.click()
        assert {key[0] for key in panel._cards} == mine
        button.click()
        assert {key[0] for key in panel._cards} == listed
    panel.show_only("danger")
    quiet = with_value(window.workspace.project, "rear_layout", None)
    quiet = with_parts(quiet, front_layout=None, front_donor=None, rear_donor=None)
    window.take(quiet, None)
    assert panel.only is None  # nothing of it is left: everything is shown again
    assert not panel.filters["danger"].isEnabled()


def test_no_card_or_heading_stands_where_it_was_not_put(qtbot: QtBot, window: MainWindow) -> None:
    """Whatever is in view in the list has a place of its own, while it fills and after it has changed."""
    panel = window.knock_ons

    def apart() -> bool:
        shown = [
            w
            for w in panel._inner.findChildren(QWidget, options=Qt.FindChildOption.FindDirectChildrenOnly)
            if w.isVisible()
        ]
        boxes = sorted((w.geometry() for w in shown), key=lambda box: box.top())
        return len(shown) > 3 and all(a.bottom() < b.top() for a, b in itertools.pairwise(boxes))

    for step in ("donors", "layout", "tape", "rig"):
        window.show_step(step)
        assert apart(), step
    qtbot.waitUntil(lambda: window.workspace.study.cycled and not panel._left, timeout=30000)
    window.refresh()
    assert apart()
    panel.show_only("note")
    assert apart()
