"""Cards, parts, bolts, fit, brakes and the first drive in the window, by mouse and keys."""

from __future__ import annotations

from pathlib import Path

import pytest
from PIL import Image
from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent, QImage
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from stoutlink.app.desk import dialogs
from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.bench.sheet import BenchSheet
from stoutlink.app.widgets.kept_line import KeptLine
from stoutlink.app.widgets.picture import Picture
from stoutlink.core.document.bench import BenchCard, StepWork
from stoutlink.core.editing.edits import ReplaceList, SetChoice
from stoutlink.core.storage.photos import photo_folder
from tests.app.conftest import Answers
from tests.app.test_parts_and_copes import press
from tests.bench.places import IN


def bench(window: MainWindow, look: str, *, empty: bool = True) -> BenchSheet:
    w = window.workspace
    if empty:
        for path in ("cards", "fasteners", "loose_ends", "gears", "welding"):
            w.do(ReplaceList(path, (), "none"))
    w.set_end("rear")
    window.show_step("bench")
    sheet = window.sheet(BenchSheet)
    sheet.look(look)
    QApplication.processEvents()
    return sheet


def said(window: MainWindow) -> list[str]:
    out: list[str] = []
    window.workspace.said.connect(lambda words, problem: out.append(words))
    return out


def click(qtbot: QtBot, picture: Picture, name: str) -> None:
    picture.repaint()
    hit = picture.named(name)
    assert hit is not None, name
    qtbot.mouseClick(picture, Qt.MouseButton.LeftButton, pos=hit.box.center().toPoint())


def typed(qtbot: QtBot, sheet: BenchSheet, path: str, words: str) -> None:
    assert sheet.show_field(path), path
    line = next(x for x in sheet.findChildren(KeptLine) if x.place == path and x.isVisibleTo(sheet))
    line.selectAll()
    qtbot.keyClicks(line, words)
    qtbot.keyClick(line, Qt.Key.Key_Return)
    line.clearFocus()


def work(window: MainWindow, key: str, assembly: str = "rear") -> StepWork:
    card = window.workspace.project.card(assembly)
    assert card is not None
    found = card.step(key)
    assert found is not None
    return found


def test_a_card_is_worked_through_by_buttons_and_keys(qtbot: QtBot, window: MainWindow) -> None:
    sheet = bench(window, "card")
    card = sheet.card
    press(qtbot, window, "begin_card")
    typed(qtbot, sheet, "cards.rear.who", "Ida")
    click(qtbot, card.picture, "step drained")
    assert card.now.text().endswith("Drain it and look at what comes out")
    press(qtbot, window, "step_done")
    assert (work(window, "drained").state, work(window, "drained").by) == ("done", "Ida")
    assert not card.now.text().endswith("what comes out"), "the next step stands there"
    click(qtbot, card.picture, "step weighed")
    qtbot.keyClicks(card.line, "612")
    qtbot.keyClick(card.line, Qt.Key.Key_Return)
    reading = work(window, "weighed").readings[-1]
    assert reading.values[0] == pytest.approx(612 * 0.45359237)
    assert reading.by == "Ida"
    donor = window.workspace.project.donor("rear")
    assert donor is not None
    assert donor.weight_kg == reading.values[0], "what was weighed is what the axle weighs"
    window.workspace.undo()
    assert window.workspace.project.bench.cards[0].step("weighed") is None
    donor = window.workspace.project.donor("rear")
    assert donor is not None
    assert donor.weight_kg != reading.values[0]


def test_what_must_come_first_is_named_and_the_reading_stays_in_the_line(qtbot: QtBot, window: MainWindow) -> None:
    sheet = bench(window, "card")
    window.workspace.do(SetChoice("rear_plan.locker", "drop_in", "locker"))
    card, heard = sheet.card, said(window)
    press(qtbot, window, "begin_card")
    card.pick("sealed")
    press(qtbot, window, "step_done")
    assert "“Cover sealed” waits for: " in heard[-1]
    assert "Gap between the halves" in heard[-1]
    assert window.workspace.project.card("rear") is not None
    assert all(s.state == "open" for s in window.workspace.project.card("rear").steps)  # type: ignore[union-attr]
    card.pick("gap")
    qtbot.keyClicks(card.line, "0.164")
    qtbot.keyClick(card.line, Qt.Key.Key_Return)
    assert "Teeth engaged" in heard[-1]
    assert not work(window, "gap").readings
    assert "0.164" in card.line.text(), "nothing typed is lost"
    for key in ("paper", "sides", "engaged"):
        card.pick(key)
        press(qtbot, window, "step_done")
    typed(qtbot, sheet, "cards.rear.steps.gap.low", "0.145")
    typed(qtbot, sheet, "cards.rear.steps.gap.high", "0.175")
    card.pick("gap")
    card.line.setFocus()
    qtbot.keyClick(card.line, Qt.Key.Key_Return)
    assert work(window, "gap").readings[-1].values[0] == pytest.approx(0.164 * IN)
    line = card.card.line("gap") if card.card is not None else None
    assert line is not None
    assert line.standing == "done"


def test_words_that_are_no_number_are_refused_in_a_sentence(qtbot: QtBot, window: MainWindow) -> None:
    sheet = bench(window, "card")
    heard = said(window)
    sheet.card.pick("weighed")
    qtbot.keyClicks(sheet.card.line, "heavy")
    qtbot.keyClick(sheet.card.line, Qt.Key.Key_Return)
    assert heard[-1].startswith("Weigh it: ")
    assert sheet.card.line.text() == "heavy"
    qtbot.keyClick(sheet.card.line, Qt.Key.Key_Escape)
    assert sheet.card.line.text() == ""
    assert window.workspace.project.card("rear") is None


def test_stop_here_and_go_on(qtbot: QtBot, window: MainWindow) -> None:
    sheet = bench(window, "card")
    sheet.card.pick("shafts_out")
    press(qtbot, window, "stop_here")
    stop = window.workspace.project.bench.cards[0].stops[0]
    assert stop.step == "shafts_out"
    typed(qtbot, sheet, f"cards.rear.stops.{stop.id}.exposed", "left tube")
    window.show_step("rig")
    window.show_step("bench")
    assert "open or exposed: left tube" in sheet.card.more.text()
    sheet.card.key = ""
    sheet.refresh(window.theme)
    assert sheet.card.now.text().endswith("Shafts out"), "it opens where it was left"
    press(qtbot, window, "go_on")
    assert window.workspace.project.bench.cards[0].stop is None
    assert "left tube" not in sheet.card.more.text()


def test_space_takes_the_instruments_reading_place_by_place(qtbot: QtBot, window: MainWindow) -> None:
    sheet = bench(window, "card")
    window.workspace.do(SetChoice("rear_plan.locker", "air", "locker"))
    desk, card = window.instruments, sheet.card
    assert desk.connect_to("gauge", "simulated")
    desk.lines["gauge"].stand_in.put({"P": 14.0})  # type: ignore[union-attr]
    press(qtbot, window, "begin_card")
    for key in ("paper", "air_line"):
        card.pick(key)
        press(qtbot, window, "step_done")
    card.pick("air_hold")
    card.line.setFocus()
    qtbot.keyClick(card.line, Qt.Key.Key_Space)
    qtbot.waitUntil(lambda: card.line.text() != "", timeout=20_000)
    assert not work(window, "air_hold").readings, "nothing is written down before Enter"
    qtbot.keyClick(card.line, Qt.Key.Key_Return)
    reading = work(window, "air_hold").readings[-1]
    assert reading.values[0] == pytest.approx(14e3, rel=0.1)
    assert reading.tool == "pressure gauge"
    desk.disconnect_from("gauge")
    qtbot.keyClick(card.line, Qt.Key.Key_Space)
    assert card.line.text() == ""
    assert len(work(window, "air_hold").readings) == 1, "an unplugged gauge writes nothing"


def test_a_photo_lies_beside_the_project_and_a_missing_one_is_said(qtbot: QtBot, window: MainWindow, tmp_path: Path) -> None:  # fmt: skip
    sheet = bench(window, "card")
    heard = said(window)
    photo = tmp_path / "IMG.png"
    image = QImage(320, 200, QImage.Format.Format_RGB32)
    image.fill(Qt.GlobalColor.darkGreen)
    image.save(str(photo))
    sheet.card.pick("drained")
    sheet.card.photos.add(photo)
    assert "Save the project first" in heard[-1]
    window.workspace.save(tmp_path / "rig.stoutlink")
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(str(photo))])
    event = QDropEvent(QPointF(20, 20), Qt.DropAction.CopyAction, mime, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier)  # fmt: skip
    sheet.card.dropEvent(event)
    qtbot.waitUntil(lambda: "lies beside the project" in heard[-1], timeout=10_000)
    assert len(work(window, "drained").photos) == 1
    kept = next(photo_folder(tmp_path / "rig.stoutlink").iterdir())
    sheet.card.pick("drained")

    def tips() -> list[str]:
        sheet.card.big.repaint()
        return [h.tip for h in sheet.card.big.hits if h.name.startswith("photo ")]

    qtbot.waitUntil(lambda: tips() == ["A photo, turned as the camera was held."], timeout=10_000)
    window.workspace.save(tmp_path / "rig.stoutlink")
    assert kept.name.encode() in (tmp_path / "rig.stoutlink").read_bytes()
    kept.unlink()
    assert tips() == ["Picture missing: it is not beside the project any more."]
    Image.new("L", (25_000, 20_000)).save(photo, compress_level=9)  # 500 million dots in half a megabyte
    sheet.card.photos.add(photo)
    qtbot.waitUntil(lambda: len(tips()) == 2 and "far too large" in tips()[1], timeout=20_000)


def test_parts_are_listed_marked_taken_out_and_put_back(qtbot: QtBot, window: MainWindow) -> None:
    sheet = bench(window, "parts")
    heard = said(window)
    press(qtbot, window, "propose_parts")
    parts = window.workspace.project.bench.cards[0].parts
    assert any(p.id == "cap-left" for p in parts)
    for name in ("cap-left", "cap-right"):
        click(qtbot, sheet.parts.picture, f"part {name}")
        press(qtbot, window, "part_mark")
        press(qtbot, window, "part_out")
    left, right = (next(p for p in window.workspace.project.bench.cards[0].parts if p.id == f"cap-{s}") for s in ("left", "right"))  # fmt: skip
    assert (left.order, right.order, left.state) == (1, 2, "out")
    assert left.mark != right.mark
    typed(qtbot, sheet, "cards.rear.parts.cap-right.mark.count", "1")
    assert "stands on “Left bearing cap” already" in heard[-1]
    assert next(p for p in window.workspace.project.bench.cards[0].parts if p.id == "cap-right").mark == right.mark
    click(qtbot, sheet.parts.picture, "part cap-left")
    press(qtbot, window, "part_back")
    assert any("Right bearing cap came out after it" in words for words in heard)
    assert sheet.parts.as_text().endswith("Way back: Right bearing cap.")


def test_bolts_are_torqued_one_by_one_and_all_at_once(qtbot: QtBot, window: MainWindow) -> None:
    sheet = bench(window, "bolts")
    key = next(b.place.key for b in sheet.bolts.bolts if b.target is not None and b.count == 1)
    click(qtbot, sheet.bolts.picture, f"bolt {key}")
    press(qtbot, window, "bolts_tight")
    assert next(b for b in sheet.bolts.bolts if b.place.key == key).standing == "done"
    press(qtbot, window, "bolts_loose")
    assert next(b for b in sheet.bolts.bolts if b.place.key == key).standing == "undone"
    qtbot.keyClicks(sheet.bolts.line, "40")
    qtbot.keyClick(sheet.bolts.line, Qt.Key.Key_Return)
    one = next(b for b in sheet.bolts.bolts if b.place.key == key)
    assert one.standing == "out"
    assert one.read == pytest.approx(40 * 1.3558179483)
    assert one.work is not None
    assert len(one.work.tight) == 2, "what was put down first stays"
    press(qtbot, window, "add_bolts")
    typed(qtbot, sheet, "fasteners.own-1.target_nm", "60")
    assert next(b for b in sheet.bolts.bolts if b.place.key == "own-1").target == pytest.approx(60 * 1.3558179483)


def test_a_third_member_is_measured_until_it_goes(qtbot: QtBot, window: MainWindow) -> None:
    sheet = bench(window, "fit")
    press(qtbot, window, "begin_fit")
    assert sheet.fit_.now.text() == "Not everything is measured yet."
    for side, cap in (("left", "3.5"), ("right", "3.8")):
        typed(qtbot, sheet, f"cases.rear.{side}_cap_m", cap)
        typed(qtbot, sheet, f"cases.rear.{side}_open_m", "4")
    assert sheet.fit_.now.text() == "It goes in."
    typed(qtbot, sheet, "cases.rear.right_cap_m", "4.1")
    assert sheet.fit_.now.text() == "It does not go in as it is."
    assert "touches" in sheet.fit_.as_text()


def test_brakes_say_which_end_locks_and_give_the_rig_its_share(qtbot: QtBot, window: MainWindow) -> None:
    sheet = bench(window, "brakes")
    first = sheet.brakes.now.text()
    assert "lock first" in first
    typed(qtbot, sheet, "brakes.grip", "0.4")
    assert "at a grip of 0.4" in sheet.brakes.now.text()
    press(qtbot, window, "take_share")
    share = sheet.brakes.sheet.share
    assert share is not None
    assert window.workspace.project.rig.brake_front_share == pytest.approx(share)


def test_a_gate_is_signed_or_let_through_only_with_a_name_and_a_reason(qtbot: QtBot, window: MainWindow, answers: Answers, monkeypatch: pytest.MonkeyPatch) -> None:  # fmt: skip
    sheet = bench(window, "drive")
    heard = said(window)
    click(qtbot, sheet.drive.picture, "gate again")
    press(qtbot, window, "let_through") if not window.workspace.project.bench.first_drive.again_m else None
    typed(qtbot, sheet, "first_drive.again_m", "50")
    click(qtbot, sheet.drive.picture, "gate again")
    monkeypatch.setattr(dialogs, "ask_text", lambda *_: None)
    press(qtbot, window, "sign_gate")
    assert "wants a name" in heard[-1]
    assert not window.workspace.project.bench.first_drive.gates
    monkeypatch.setattr(dialogs, "ask_text", lambda *_: "Ida")
    press(qtbot, window, "sign_gate")
    assert window.workspace.project.bench.first_drive.gates[0].by == "Ida"
    click(qtbot, sheet.drive.picture, "gate bled")
    monkeypatch.setattr(dialogs, "ask_text", lambda *_: "  ")
    press(qtbot, window, "let_through")
    assert "by a reason only" in heard[-1]
    monkeypatch.setattr(dialogs, "ask_text", lambda *_: "pushed onto the trailer")
    press(qtbot, window, "let_through")
    gate = sheet.drive.sheet.gate("bled")
    assert gate is not None
    assert gate.standing == "let through"
    press(qtbot, window, "take_signature")
    gate = sheet.drive.sheet.gate("bled")
    assert gate is not None
    assert gate.standing == "shut"


def test_what_is_left_undone_is_added_and_finished(qtbot: QtBot, window: MainWindow) -> None:
    sheet = bench(window, "drive")
    before = len(window.workspace.study.undone)
    press(qtbot, window, "add_loose")
    typed(qtbot, sheet, "loose_ends.loose-1.name", "Breather")
    assert len(window.workspace.study.undone) == before + 1
    press(qtbot, window, "close_loose")
    assert len(window.workspace.study.undone) == before
    assert window.workspace.project.bench.loose_ends[0].closed, "it stays in the list"


def test_nothing_chosen_says_what_to_do(qtbot: QtBot, window: MainWindow) -> None:
    sheet = bench(window, "card")
    for path in ("front_donor", "rear_donor", "front_layout", "rear_layout"):
        window.workspace.do(SetChoice(path, None, path))
    for look, words in (
        ("card", "No axle is chosen"),
        ("parts", "No axle is chosen"),
        ("bolts", "No axle and no layout"),
    ):
        sheet.look(look)
        assert sheet.looks[look].now.text().startswith(words), look
    assert BenchCard(id="rear").stop is None
