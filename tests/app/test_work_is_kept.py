"""Work that stays: autosave in time, recovery that never takes the only copy, nothing written over unasked."""

from __future__ import annotations

import os
import re
import signal
import subprocess
import sys
import time
from pathlib import Path

import msgspec
import pytest
from pypdf import PdfReader
from PyQt6.QtWidgets import QFileDialog, QWidget
from pytestqt.qtbot import QtBot

from stoutlink.app.desk import dialogs
from stoutlink.app.desk.files import choose_to_write, with_suffix_of
from stoutlink.app.desk.workspace import AUTOSAVE_MS
from stoutlink.app.shell.window import MainWindow
from stoutlink.core.document.project import Project
from stoutlink.core.editing.edits import SetChoice, SetNumber
from stoutlink.core.errors import FileError
from stoutlink.core.storage.disk import previous_of
from stoutlink.core.storage.files import read_project, stamp_of, write_project
from stoutlink.core.storage.lock import holder_of, lock_of
from stoutlink.core.storage.recovery import Recovery
from tests.app.conftest import Answers
from tests.storage.test_recovery_and_lock import gone, held_elsewhere, note

PROJECTS = "Stout Link projects (*.stoutlink *.json)"


def kept(window: MainWindow) -> list[Path]:
    """What is kept of unsaved work."""
    return sorted(window.workspace.recovery.slot.parent.glob("unsaved-*.json"))


def left_behind(window: MainWindow, project: Project, file: Path | None = None) -> Recovery:
    """Unsaved work of a run that is gone."""
    left = Recovery(window.workspace.recovery.slot.parent)
    left.keep(project, file)
    gone(left.slot)
    return left


def said(window: MainWindow) -> str:
    """The message."""
    return window._said.toolTip()


def open_file(window: MainWindow, project: Project, path: Path) -> Path:
    """A project of its own open in the window."""
    write_project(project, path)
    window.workspace.session.mark_saved()
    window.files.open_path(path)
    assert window.workspace.file == path
    return path


# Autosave


def test_steady_work_is_kept_in_time(qtbot: QtBot, window: MainWindow) -> None:
    """An edit every tenth of a second: at no moment is more than about two seconds of it not kept."""
    began = time.monotonic()
    newest, n = began, 0
    longest = 0.0
    while time.monotonic() - began < 5.0:
        window.workspace.do(SetNumber("rig.cg_height_m", 0.8 + 0.0001 * (n := n + 1)))
        qtbot.wait(100)
        slot = window.workspace.recovery.slot
        if slot.exists():
            newest = max(newest, time.monotonic() - (time.time() - slot.stat().st_mtime))
        longest = max(longest, time.monotonic() - newest)
    assert n > 8  # fifty on an idle machine; enough of them to be steady work on a busy one
    assert AUTOSAVE_MS <= 2000
    assert longest < 3.5  # 2 s are promised; this machine may be busy with other tests


def test_a_kill_under_steady_work_loses_two_seconds(tmp_path: Path) -> None:
    """The real program in a process of its own, killed; the next start finds all but the last moments."""
    code = (
        "import sys; from PyQt6.QtCore import QTimer\n"
        "from stoutlink.app.main import make_app, make_window\n"
        "from stoutlink.core.editing.edits import SetNumber\n"
        "from stoutlink.core.storage.files import read_project\n"
        "from stoutlink.demo import demo_file\n"
        "app = make_app('dark'); window = make_window(read_project(demo_file('starter.stoutlink')), None, 'dark')\n"
        "n = [0]\n"
        "def work():\n"
        "    n[0] += 1; window.workspace.do(SetNumber('rig.cg_height_m', 0.7 + n[0] * 1e-4)); print(n[0], flush=True)\n"
        "timer = QTimer(); timer.timeout.connect(work); timer.start(200); app.exec()\n"
    )
    env = {**os.environ, "XDG_STATE_HOME": str(tmp_path / "state"), "QT_QPA_PLATFORM": "offscreen"}
    with subprocess.Popen([sys.executable, "-c", code], env=env, stdout=subprocess.PIPE, text=True) as run:
        assert run.stdout is not None
        last = 0
        for line in run.stdout:
            last = int(line)
            if last == 30:
                break
        run.send_signal(signal.SIGKILL)
        run.wait()
    (found,) = Recovery(tmp_path / "state" / "stout-link" / "recovery").leftovers()
    done = round((found.project.rig.cg_height_m - 0.7) / 1e-4)
    assert 30 - 15 <= done <= 30  # five edits a second


def test_work_undone_to_what_is_saved_leaves_no_offer(qtbot: QtBot, window: MainWindow) -> None:
    window.switch_units()
    assert window.workspace.autosave()
    assert len(kept(window)) == 1
    window.undo()
    qtbot.waitUntil(lambda: kept(window) == [], timeout=5000)


# Recovery


def test_on_a_full_disk_the_only_copy_stays(
    window: MainWindow, answers: Answers, basalt: Project, monkeypatch: pytest.MonkeyPatch
) -> None:
    work = msgspec.structs.replace(basalt, name="The only copy")
    left = left_behind(window, work)
    answers.say = "Bring it back"
    with monkeypatch.context() as patched:
        patched.setattr(os, "fsync", lambda *_: (_ for _ in ()).throw(OSError(28, os.strerror(28))))
        window.files.offer_recovery()
    assert window.workspace.project == work
    assert "no space left" in said(window)
    assert [one.project for one in Recovery(left.slot.parent).leftovers()] == [work]
    window.workspace.session.mark_saved()
    window.files.offer_recovery()
    assert not left.slot.exists()
    assert read_project(window.workspace.recovery.slot) == work


def test_the_question_says_when_and_whether_the_file_is_newer(
    window: MainWindow, answers: Answers, basalt: Project, tmp_path: Path
) -> None:
    file = tmp_path / "shop.stoutlink"
    write_project(basalt, file)
    left = left_behind(window, basalt, file)
    os.utime(file, (left.slot.stat().st_mtime + 60,) * 2)
    answers.say = "Later"
    window.files.offer_recovery()
    (asked,) = answers.asked
    assert re.search(r"of shop\.stoutlink: Basalt rear swap, kept today at \d\d:\d\d:\d\d\.", asked)
    assert re.search(r"shop\.stoutlink was saved after that, (today|on)", asked)
    assert left.slot.exists()


def test_what_cannot_be_read_is_named(window: MainWindow, basalt: Project) -> None:
    left = left_behind(window, basalt)
    left.slot.write_bytes(left.slot.read_bytes()[:500])
    window.files.offer_recovery()
    assert "cannot be read" in said(window)
    assert str(left.slot) in said(window)
    assert left.slot.exists()


def test_a_note_that_cannot_be_does_not_end_the_start(window: MainWindow, answers: Answers, basalt: Project) -> None:
    left = left_behind(window, basalt)
    note(left.slot, lambda raw: raw["owner"].update(number=10**40))
    answers.say = "Later"
    window.files.offer_recovery()
    assert len(answers.asked) == 1


def test_what_was_thrown_away_for_a_file_that_does_not_open_is_still_kept(
    window: MainWindow, answers: Answers, tmp_path: Path
) -> None:
    window.switch_units()
    window.workspace.autosave()
    answers.say = "Throw away"
    window.files.open_path(tmp_path / "none.stoutlink")
    assert window.workspace.session.changed
    assert len(kept(window)) == 1


# Others


def test_a_file_that_was_changed_elsewhere_is_asked_about(
    window: MainWindow, answers: Answers, basalt: Project, tmp_path: Path
) -> None:
    path = open_file(window, basalt, tmp_path / "shop.stoutlink")
    theirs = msgspec.structs.replace(basalt, name="Theirs")
    window.workspace.do(SetChoice("name", "Mine"))
    write_project(theirs, path)
    assert not window.files.save()  # cancelled
    assert re.search(r"Changed on disk: shop\.stoutlink was changed by another .* today at", answers.asked[-1])
    assert read_project(path) == theirs
    answers.say, answers.path = "Save mine under another name", tmp_path / "mine.stoutlink"
    assert window.files.save()
    assert read_project(path) == theirs
    assert read_project(tmp_path / "mine.stoutlink").name == "Mine"


def test_saving_over_theirs_keeps_theirs(window: MainWindow, answers: Answers, basalt: Project, tmp_path: Path) -> None:
    path = open_file(window, basalt, tmp_path / "shop.stoutlink")
    theirs = msgspec.structs.replace(basalt, name="Theirs")
    window.workspace.do(SetChoice("name", "Mine"))
    write_project(theirs, path)
    answers.say = "Save over it"
    assert window.files.save()
    assert read_project(path).name == "Mine"
    assert read_project(previous_of(path)) == theirs
    window.workspace.do(SetChoice("name", "Mine again"))
    asked = len(answers.asked)
    assert window.files.save()  # nobody else has been at it since
    assert len(answers.asked) == asked


def test_opening_theirs_puts_mine_aside(window: MainWindow, answers: Answers, basalt: Project, tmp_path: Path) -> None:
    path = open_file(window, basalt, tmp_path / "shop.stoutlink")
    theirs = msgspec.structs.replace(basalt, name="Theirs")
    window.workspace.do(SetChoice("name", "Mine"))
    write_project(theirs, path)
    answers.say = "Open theirs"
    assert not window.files.save()
    assert window.workspace.project == theirs
    assert read_project(tmp_path / "shop.stoutlink.mine.stoutlink").name == "Mine"


def test_a_file_open_in_another_window(window: MainWindow, answers: Answers, basalt: Project, tmp_path: Path) -> None:
    """A second real process has it open: who and since when is said, and both ways are offered."""
    path = tmp_path / "shop.stoutlink"
    write_project(basalt, path)
    with held_elsewhere(path):
        before = window.workspace.project
        window.files.open_path(path)
        assert window.workspace.project is before
        assert re.search(r"is open in another window, by \S+ since today at", answers.asked[-1])
        answers.say = "Open a copy"
        window.files.open_path(path)
        assert window.workspace.project == basalt
        assert window.workspace.file is None
        answers.say, answers.path = "Throw away", path
        window.workspace.session.mark_saved()
        answers.say = "Open it all the same"
        window.files.open_path(path)
        assert window.workspace.file == path
        assert holder_of(path) is None  # it is this window now
    window.close()
    assert not lock_of(path).exists()


def test_what_is_brought_back_takes_no_file_from_another_window(
    window: MainWindow, answers: Answers, basalt: Project, tmp_path: Path
) -> None:
    path = tmp_path / "shop.stoutlink"
    write_project(basalt, path)
    with held_elsewhere(path) as other:
        left = Recovery(window.workspace.recovery.slot.parent)
        left.keep(msgspec.structs.replace(basalt, name="Left"), path, stamp_of(path))
        gone(left.slot)
        answers.say = "Bring it back"
        window.files.offer_recovery()
        assert window.workspace.project.name == "Left"
        holder = holder_of(path)
        assert holder is not None
        assert holder.owner.number == other.pid
        assert not window.files.save()  # it is asked, and cancelled
        assert "is open in another window" in answers.asked[-1]
        assert read_project(path) == basalt


def test_the_lock_goes_with_the_file(window: MainWindow, basalt: Project, answers: Answers, tmp_path: Path) -> None:
    one = open_file(window, basalt, tmp_path / "one.stoutlink")
    assert lock_of(one).exists()
    two = open_file(window, basalt, tmp_path / "two.stoutlink")
    assert not lock_of(one).exists()
    assert lock_of(two).exists()
    window.files.new()
    assert not lock_of(two).exists()


# Names


@pytest.mark.parametrize(
    ("typed", "name"),
    [
        ("shop", "shop.stoutlink"),
        ("rig v1.2", "rig v1.2.stoutlink"),
        ("a.JSON", "a.JSON"),
        ("a.stoutlink", "a.stoutlink"),
        (".hidden", ".hidden.stoutlink"),
    ],
)
def test_suffixes(typed: str, name: str) -> None:
    assert with_suffix_of(Path(typed), PROJECTS).name == name


@pytest.mark.parametrize("name", ["x" * 300, "a\0b", "loop"])
def test_a_name_that_cannot_be_is_one_sentence(window: MainWindow, answers: Answers, tmp_path: Path, name: str) -> None:
    (tmp_path / "loop.stoutlink").symlink_to(tmp_path / "loop.stoutlink")
    answers.say, answers.path = "Replace", tmp_path / name
    assert not window.files.save_as()
    assert answers.asked[-1].startswith("Not saved: ")
    assert "cannot be written" in answers.asked[-1]
    window.files.open_path(tmp_path / f"{name}.stoutlink")
    assert answers.asked[-1].startswith("Cannot open: ")


@pytest.mark.parametrize(("say", "replaced"), [("Replace", True), ("Cancel", False)])
def test_a_name_without_suffix_does_not_write_over_the_one_with_it(
    window: MainWindow, answers: Answers, basalt: Project, tmp_path: Path, say: str, replaced: bool
) -> None:
    there = tmp_path / "shop.stoutlink"
    other = msgspec.structs.replace(basalt, name="Somebody's")
    write_project(other, there)
    answers.say, answers.path = say, tmp_path / "shop"
    assert window.files.save_as() is replaced
    assert answers.asked == [f"Replace it?: shop.stoutlink is already in {tmp_path}."]
    assert (read_project(there) == other) is not replaced
    (tmp_path / "cuts.csv").write_text("mine", encoding="utf-8")
    answers.path = tmp_path / "cuts"
    window.files.write("Export cut list", "cuts.csv", "Tables (*.csv)", lambda suffix: b"new")
    assert ((tmp_path / "cuts.csv").read_text(encoding="utf-8") == "mine") is not replaced
    assert not (tmp_path / "cuts").exists()


def test_the_kind_picked_in_the_dialog_gives_the_suffix(
    qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    parent = QWidget()
    qtbot.addWidget(parent)
    kinds = "PDF (*.pdf);;Drawings (*.dxf)"
    seen: list[object] = []

    def picked(*args: object, **more: object) -> tuple[str, str]:
        seen.append(more.get("options"))
        return str(tmp_path / "side v1.2"), "Drawings (*.dxf)"

    monkeypatch.setattr(QFileDialog, "getSaveFileName", picked)
    monkeypatch.setattr(dialogs, "choose_file", dialogs._choose_file)
    assert choose_to_write(parent, "Export", tmp_path / "a.pdf", kinds) == tmp_path / "side v1.2.dxf"
    assert seen == [QFileDialog.Option.DontConfirmOverwrite]  # it is asked once the whole name is known


# Papers


def test_a_full_disk_is_never_called_written(
    window: MainWindow, answers: Answers, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    answers.path = tmp_path / "sheet"
    with monkeypatch.context() as patched:
        patched.setattr(os, "fsync", lambda *_: (_ for _ in ()).throw(OSError(28, os.strerror(28))))
        window.files.print_sheet()
        assert "no space left" in said(window)
    assert list(tmp_path.glob("sheet*")) == []
    window.files.print_sheet()
    assert said(window) == f"Written: {tmp_path / 'sheet.pdf'}"
    data = (tmp_path / "sheet.pdf").read_bytes()
    assert data.rstrip().endswith(b"%%EOF")
    assert len(PdfReader(tmp_path / "sheet.pdf").pages) >= 1


def test_what_would_not_open_again_does_not_replace_what_is_there(
    window: MainWindow, answers: Answers, basalt: Project, tmp_path: Path
) -> None:
    path = open_file(window, basalt, tmp_path / "shop.stoutlink")
    window.workspace.session.project = msgspec.structs.replace(basalt, name="x" * 500)  # past every check
    assert not window.files.save()
    assert "could not be opened again" in answers.asked[-1]
    assert read_project(path) == basalt
    with pytest.raises(FileError):
        window.workspace.save(path)


def test_undo_goes_back_to_the_beginning_however_long_the_day(window: MainWindow) -> None:
    before = window.workspace.project
    for n in range(700):
        window.workspace.session.do(SetNumber("rig.cg_height_m", 0.6 + n * 1e-4))
    for _ in range(700):
        window.workspace.session.undo()
    assert window.workspace.project is before
    assert window.workspace.session.undo_label is None
