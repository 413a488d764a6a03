"""Random hands in the real window: every command, look, field, button, box, list, picture, drag, dropped file and undo, over
thousands of actions. What must hold all along: no exception, no word of complaint from Qt, no widget left behind, memory
that stays, an undo that leads back to the very start, and on the screen only what a fresh computation says too.
"""

from __future__ import annotations

import contextlib
import ctypes
import gc
import json
import os
import random
import re
import sys
import threading
import time
import traceback
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from types import TracebackType
from typing import Any

from PyQt6 import sip
from PyQt6.QtCore import QEvent, QMimeData, QPoint, QPointF, Qt, QtMsgType, QUrl, qInstallMessageHandler
from PyQt6.QtGui import QDropEvent, QWheelEvent
from PyQt6.QtTest import QTest as _QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QApplication,
    QComboBox,
    QLabel,
    QLineEdit,
    QMenu,
    QPlainTextEdit,
    QSlider,
    QTextEdit,
    QWidget,
)

from stoutlink.app.desk import dialogs
from stoutlink.app.main import make_app, make_window
from stoutlink.app.steps import registry
from stoutlink.app.steps.travel.sheet import TravelSheet
from stoutlink.app.widgets.kept_line import KeptLine
from stoutlink.app.widgets.picture import Picture
from stoutlink.app.widgets.places import Place
from stoutlink.core.document.project import Project
from stoutlink.core.drawing.assembly import Assembly, at_ride
from stoutlink.core.reports.model_files import model_bytes
from stoutlink.core.reports.packet import packet_pdf
from stoutlink.core.reports.results import results
from stoutlink.core.storage.decode import decode_project, encode_project
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file

QTest: Any = _QTest  # its declarations take none of its functions for static ones
BUTTON, KEYS = Qt.MouseButton.LeftButton, Qt.Key
TEXTS = (
    "", "0", "1", "2 1/2", "-3", "12", "28 5/8", "104", "0.25", "1/0", "1e9", "-1e9", "1e400", "NaN", "~40", "3 ± 0.1", "12 mm", "3 ft", "90 deg", "50%",
    "wide", "=1+1", "'", "a\tb", "ünïcode 车", "\u202eabc", "x" * 300, "1 | 2", "2026-12-01", "2026-02-30", "07:30", "34 + 35", "1,5", "½", "\ud83d",
)  # fmt: skip
"""What hands type: numbers, odd numbers, words, nonsense."""
KEYS_PRESSED = (
    KEYS.Key_Tab, KEYS.Key_Backtab, KEYS.Key_Return, KEYS.Key_Escape, KEYS.Key_Space, KEYS.Key_Up, KEYS.Key_Down, KEYS.Key_Left, KEYS.Key_Right,
    KEYS.Key_PageUp, KEYS.Key_PageDown, KEYS.Key_Home, KEYS.Key_End, KEYS.Key_Delete, KEYS.Key_Insert, KEYS.Key_Backspace, KEYS.Key_Period, KEYS.Key_Comma,
    KEYS.Key_Menu, KEYS.Key_F1,
)  # fmt: skip
OF_THE_PLATFORM = ("propagateSizeHints", "This plugin does not support")
"""What Qt says of the platform without a screen."""
NOT_PRESSED = ("quit", "larger", "smaller", "new", "open_demo", "open_tamarack", "reopen", "open")
"""Commands that end the day or begin another project; the latter come seldom, by :meth:`Hands.another`."""
MOST_GROWTH = 5.0
"""MB per 1,000 actions, after the first 2,000."""
WARMED = 2000
"""A day of so many actions is begun warm, so that its memory can be judged."""
NO_NUMBER = re.compile(r"(?<![a-z])[+−-]?(?:nan|inf)(?![a-z])|\bNone\b")
OF_THE_MOMENT = ("message", "file_state", "plan_more")
"""What speaks of the last change, not of the project."""
OWN_KIND = (QComboBox, QLineEdit, QSlider, QAbstractItemView, QPlainTextEdit, QTextEdit)


@dataclass
class Day:
    """What came of it."""

    seed: int
    actions: int = 0
    faults: list[str] = field(default_factory=list)
    memory: list[tuple[int, float]] = field(default_factory=list)
    """After so many actions, MB."""
    held: list[tuple[int, float]] = field(default_factory=list)
    """After so many actions, MB with the same example rig open in the same look and no other answer remembered: what has been left behind."""
    compared: int = 0
    """Words on the screen held against a fresh computation."""
    undone: int = 0
    seconds: float = 0.0
    kinds: Counter[str] = field(default_factory=Counter)
    slow: list[tuple[float, str]] = field(default_factory=list)

    @property
    def growth(self) -> float:
        """MB per 1,000 actions after the first 2,000, a straight line through what was held in like states; 0 for a short day.

        What is in use at a moment says nothing of it: an empty rig has no travel to remember, an example has megabytes of it.
        """
        late = [(n, mb) for n, mb in self.held if n >= 2000]
        if len(late) < 3:
            return 0.0
        mean_n, mean = sum(n for n, _ in late) / len(late), sum(mb for _, mb in late) / len(late)
        up = sum((n - mean_n) * (mb - mean) for n, mb in late)
        return 1000.0 * up / sum((n - mean_n) ** 2 for n, _ in late)


def resident_mb() -> float:
    """What this process holds in memory."""
    with open("/proc/self/statm", encoding="ascii") as statm:
        return int(statm.read().split()[1]) * os.sysconf("SC_PAGE_SIZE") / 1e6


class Hands:
    """Random hands on one window, in a folder of their own."""

    def __init__(self, seed: int, folder: Path, *, tell: bool = False) -> None:
        self.rng = random.Random(seed)
        self.folder, self.tell = folder, tell
        self.day = Day(seed)
        self.doing: list[str] = []
        """The last things done, for whoever looks for a fault."""
        self.app = make_app("dark")
        self._listen()
        project = read_project(demo_file(self.rng.choice(("basalt", "tamarack", "starter")) + ".stoutlink"))
        self.window = make_window(project, None, "dark")
        self.window.resize(1280, 800)
        self.window.show()
        self._start: tuple[object, Project] = (self.window.workspace.session, project)
        self._files = self._make_files()
        self._watch_poses()

    def _watch_poses(self) -> None:
        """Remember who last moved the axle in Travel: a pose that moves by itself is told with it."""
        sheet = self.window.sheet(TravelSheet)
        move = sheet.go_to
        self.moved_by = ""

        def go_to(row: int, column: int) -> None:
            self.moved_by = " < ".join(f.name for f in reversed(traceback.extract_stack(limit=7)[:-1]))
            move(row, column)

        sheet.go_to = go_to  # type: ignore[method-assign]

    # What is listened to

    def _listen(self) -> None:
        def broken(kind: type[BaseException], value: BaseException, trace: TracebackType | None) -> None:
            self.fault("".join(traceback.format_exception(kind, value, trace)[-12:]))

        def warned(kind: QtMsgType, context: object, words: str | None) -> None:
            if kind != QtMsgType.QtDebugMsg and not any(x in (words or "") for x in OF_THE_PLATFORM):
                self.fault(f"Qt says: {words}")

        sys.excepthook = broken
        threading.excepthook = lambda args: self.fault(f"a thread: {args.exc_type.__name__}: {args.exc_value}")
        qInstallMessageHandler(warned)
        hands = self

        def ask(_: QWidget, title: str, text: str, choices: tuple[str, ...]) -> str:
            return hands.rng.choice(choices)

        def menu(self: QMenu, *_: Any) -> Any:
            able = [a for a in self.actions() if a.isEnabled() and not a.isSeparator()]
            if able and hands.rng.random() < 0.8:
                chosen = hands.rng.choice(able)
                chosen.trigger()
                return chosen
            return None

        dialogs.ask = ask
        dialogs.ask_text = lambda *_: hands.rng.choice((None, *TEXTS))
        dialogs.choose_file = lambda parent, title, start, pattern, save: hands._file(start, save)
        dialogs.preview = lambda *_: None
        QMenu.exec = menu  # type: ignore[method-assign, assignment]

    def note(self, words: object) -> None:
        """What is about to be done."""
        self.doing[-1] = f"{self.doing[-1]} {words}"[:160]

    def fault(self, words: str) -> None:
        """Something that must not be."""
        self.day.faults.append(f"after {self.day.actions} actions ({'; '.join(self.doing[-3:])}): {words}")
        if self.tell:
            print(self.day.faults[-1], file=sys.stderr, flush=True)

    def _make_files(self) -> list[Path]:
        """What lies about on the bench: tables, a drawing, projects, and what is none of them."""
        there = [demo_file(n) for n in ("donors.csv", "springs.csv") if demo_file(n).is_file()]
        junk = self.folder / "junk.csv"
        junk.write_bytes(b"name,station_in\n=1,\x00\xff\n")
        torn = self.folder / "torn.stoutlink"
        torn.write_bytes(b'{"format": "stout')
        picture = self.folder / "photo.png"
        self.window.grab(self.window.rect()).scaled(64, 40).save(str(picture))
        return [*there, junk, torn, picture, self.folder / "missing.stoutlink"]

    def _file(self, start: str, save: bool) -> Path | None:
        if self.rng.random() < 0.2:
            return None
        if save:
            name = Path(start).name or "out.json"
            return self.folder / self.rng.choice((name, f"{self.rng.randrange(5)} {name}"))
        return self.rng.choice(self._files)

    # Hands

    def act(self) -> None:
        """Do one thing."""
        kinds: tuple[tuple[Callable[[], None], int], ...] = (
            (self.command, 12), (self.type_in, 26), (self.click_place, 22), (self.press_button, 14), (self.choose, 10), (self.key, 12),
            (self.mouse, 14), (self.list_row, 5), (self.back, 7), (self.forward, 4), (self.turn, 14), (self.drop, 1), (self.another, 1), (self.size, 1),
            (self.finding, 3), (self.menu_of_place, 3),
        )  # fmt: skip
        (kind,) = self.rng.choices([k for k, _ in kinds], [n for _, n in kinds])
        began = time.perf_counter()
        self.doing.append(kind.__name__)
        kind()
        del self.doing[:-20]
        QApplication.processEvents()
        for popup in [w for w in QApplication.topLevelWidgets() if isinstance(w, QMenu) and w.isVisible()]:
            popup.close()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        took = time.perf_counter() - began
        self.day.slow = sorted([*self.day.slow, (took, self.doing[-1])], reverse=True)[:8]
        self.day.actions += 1
        self.day.kinds[kind.__name__] += 1
        session = self.window.workspace.session
        if session is not self._start[0]:
            first = session._past[0].before if session._past else session.project
            self._start = (session, first)

    def _seen(self, kind: type[Any]) -> list[Any]:
        """What is in view of a kind: mostly on the sheet, else beside it."""
        sheet = self.window.sheets[self.window.step]
        over = sheet if self.rng.random() < 0.85 else self.window.body
        return [w for w in over.findChildren(kind) if w.isVisible() and w.isEnabled() and not w.size().isEmpty()]

    def command(self) -> None:
        """Anything from the menus."""
        names = [n for n, a in self.window.actions_by_id.items() if n not in NOT_PRESSED and a.isEnabled()]
        name = self.rng.choice(names)
        self.note(name)
        self.window.actions_by_id[name].trigger()

    def turn(self) -> None:
        """Another step, look or axle."""
        step = self.rng.choice(registry.STEPS)
        self.note(step.id)
        self.window.show_step(step.id)
        if step.looks:
            self.window.sheets[step.id].look(self.rng.choice(step.looks)[0])
        if self.rng.random() < 0.2:
            self.window.workspace.set_end(self.rng.choice(("front", "rear")))

    def type_in(self) -> None:
        """Something into a field, and Enter, Tab or Esc after it."""
        lines = self._seen(QLineEdit)
        if not lines:
            return
        line: QLineEdit = self.rng.choice(lines)
        now = line.text()
        text = self.rng.choice((*TEXTS, *[self._near(now)] * 25))
        self.note(f"{line.objectName()} {text!r}")
        line.setFocus()
        if self.rng.random() < 0.9:
            line.selectAll()
        if text.isascii() and text.isprintable() and len(text) < 40:
            QTest.keyClicks(line, text)
        elif text:
            clipboard = QApplication.clipboard()
            assert clipboard is not None
            clipboard.setText(text)
            line.paste()
        else:
            QTest.keyClick(line, KEYS.Key_Delete)
        QApplication.processEvents()
        if not sip.isdeleted(line):
            QTest.keyClick(line, self.rng.choice((KEYS.Key_Return, KEYS.Key_Return, KEYS.Key_Tab, KEYS.Key_Escape)))

    def _near(self, now: str) -> str:
        """A number much like the one that is there."""
        digits = "".join(c for c in now.split("±", maxsplit=1)[0] if c in "0123456789.-")
        try:
            return f"{float(digits) * self.rng.uniform(0.7, 1.3):.3f}"
        except ValueError:
            return f"{self.rng.uniform(0, 60):.2f}"

    def click_place(self) -> None:
        """A place on a picture that does something: clicked, or dragged where it can be."""
        pictures = [p for p in self._seen(Picture) if p.hits]
        if not pictures:
            return
        picture: Picture = self.rng.choice(pictures)
        hit = self.rng.choice(picture.hits)
        at = hit.box.center().toPoint()
        self.note(f"{picture.objectName()} {hit.name or hit.tip}")
        if hit.drag is not None and self.rng.random() < 0.5:
            self._drag(picture, at, at + QPoint(self.rng.randint(-200, 200), self.rng.randint(-60, 60)))
        else:
            QTest.mouseClick(picture, BUTTON, pos=at)

    def _drag(self, over: QWidget, start: QPoint, end: QPoint) -> None:
        QTest.mousePress(over, BUTTON, pos=start)
        for part in (0.2, 0.5, 0.8, 1.0):
            if sip.isdeleted(over):
                return
            QTest.mouseMove(over, start + QPoint(int((end - start).x() * part), int((end - start).y() * part)))
            QApplication.processEvents()
        if not sip.isdeleted(over):
            QTest.mouseRelease(over, BUTTON, pos=end)

    def press_button(self) -> None:
        """A button or box; of one with a menu, something in it."""
        buttons = self._seen(QAbstractButton)
        if not buttons:
            return
        button: QAbstractButton = self.rng.choice(buttons)
        menu = button.menu() if hasattr(button, "menu") else None
        if menu is not None:
            menu.aboutToShow.emit()
            able = [a for a in menu.actions() if a.isEnabled() and not a.isSeparator() and a.menu() is None]
            if able:
                chosen = self.rng.choice(able)
                self.note(f"{button.objectName()} {chosen.text()}")
                chosen.trigger()
            return
        self.note(button.objectName())
        QTest.mouseClick(button, BUTTON)

    def choose(self) -> None:
        """Something else in a box of choices, by keys as Qt has them."""
        boxes = [b for b in self._seen(QComboBox) if b.count() > 1]
        if not boxes:
            return
        box: QComboBox = self.rng.choice(boxes)
        self.note(box.objectName())
        box.setFocus()
        QTest.keyClick(box, self.rng.choice((KEYS.Key_Down, KEYS.Key_Up, KEYS.Key_Home, KEYS.Key_End)))

    def key(self) -> None:
        """A key, to whoever has them."""
        over = QApplication.focusWidget()
        if over is None or over.window() is not self.window:
            over = self.window
        key = self.rng.choice(KEYS_PRESSED)
        self.note(f"{key.name} on {over.objectName()}")
        QTest.keyClick(over, key, self.rng.choice((Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ShiftModifier, Qt.KeyboardModifier.ControlModifier)))  # fmt: skip

    def mouse(self) -> None:
        """A click, double-click, drag, right click or turn of the wheel anywhere."""
        parts = [
            w for w in self._seen(QWidget) if not isinstance(w, (*OWN_KIND, QAbstractButton)) and not w.findChildren(QWidget)
        ]  # fmt: skip
        over: QWidget = self.rng.choice(parts or [self.window])
        at = QPoint(self.rng.randrange(over.width()), self.rng.randrange(over.height()))
        kind = self.rng.choice(("click", "double", "drag", "drag", "right", "wheel", "move"))
        self.note(f"{kind} {over.objectName() or type(over).__name__}")
        if kind == "click":
            QTest.mouseClick(over, BUTTON, pos=at)
        elif kind == "double":
            QTest.mouseDClick(over, BUTTON, pos=at)
        elif kind == "drag":
            self._drag(over, at, at + QPoint(self.rng.randint(-120, 120), self.rng.randint(-120, 120)))
        elif kind == "right":
            QTest.mouseClick(over, Qt.MouseButton.RightButton, pos=at)
        elif kind == "wheel":
            turned = QWheelEvent(
                QPointF(at), QPointF(over.mapToGlobal(at)), QPoint(), QPoint(0, self.rng.choice((-120, 120))), Qt.MouseButton.NoButton,
                Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False,
            )  # fmt: skip
            QApplication.sendEvent(over, turned)
        else:
            QTest.mouseMove(over, at)

    def list_row(self) -> None:
        """A row of a list or table."""
        views = [v for v in self._seen(QAbstractItemView) if v.model() is not None and v.model().rowCount() > 0]
        if not views:
            return
        view: QAbstractItemView = self.rng.choice(views)
        model = view.model()
        assert model is not None
        index = model.index(self.rng.randrange(model.rowCount()), 0)
        self.note(f"{view.objectName()} {index.row()}")
        view.scrollTo(index)
        spot = view.visualRect(index).center()
        viewport = view.viewport()
        if viewport is not None:
            QTest.mouseClick(viewport, BUTTON, pos=spot)

    def menu_of_place(self) -> None:
        """The menu of whatever has the keys."""
        over = QApplication.focusWidget()
        if over is None or over.window() is not self.window:
            return
        self.note(over.objectName())
        QTest.keyClick(over, KEYS.Key_Menu)
        QApplication.processEvents()
        popup = QApplication.activePopupWidget()
        if isinstance(popup, QMenu):
            able = [a for a in popup.actions() if a.isEnabled() and not a.isSeparator()]
            if able:
                chosen = self.rng.choice(able)
                self.note(chosen.text())
                chosen.trigger()
                popup.close()

    def finding(self) -> None:
        """Where a knock-on leads."""
        found = self.window.workspace.study.open_so_far
        if not found:
            return
        one = self.rng.choice(list(found))
        self.note(one.code)
        self.window.go_to_finding(one)

    def back(self) -> None:
        """One to six steps back."""
        for _ in range(self.rng.choice((1, 1, 2))):
            self.window.undo()

    def forward(self) -> None:
        """Some steps forward."""
        for _ in range(self.rng.choice((1, 3))):
            self.window.redo()

    def drop(self) -> None:
        """A file dropped on the window."""
        path = self.rng.choice(self._files)
        self.note(path.name)
        mime = QMimeData()
        mime.setUrls([QUrl.fromLocalFile(str(path))])
        self.window.dropEvent(
            QDropEvent(QPointF(300, 300), Qt.DropAction.CopyAction, mime, BUTTON, Qt.KeyboardModifier.NoModifier)
        )

    def another(self) -> None:
        """Another project, seldom."""
        if self.rng.random() > 0.1:
            return
        self.undo_all()
        name = self.rng.choice(("new", "open_demo", "open_tamarack", "reopen"))
        self.note(name)
        self.window.actions_by_id[name].trigger()

    def size(self) -> None:
        """Another size of the window, or another theme."""
        wide, high = self.rng.choice(((1280, 800), (1024, 700), (1600, 1000), (900, 640)))
        self.window.resize(wide, high)

    # What is held against a fresh computation

    def settle(self, seconds: float = 240.0) -> bool:
        """Wait until everything beside the window has been worked out."""
        w, until = self.window.workspace, time.monotonic() + seconds
        while time.monotonic() < until:
            w.cycling.now()
            QTest.qWait(20)
            if w.cycling.known and self.window.sheets[self.window.step].ready() and not self._busy():
                if self.window.knock_ons._more.isActive() or w.cycling._rest.isActive():
                    continue
                QApplication.processEvents()
                return True
        step = self.window.step
        state = (
            f"travel known {w.cycling.known}, sheet ready {self.window.sheets[step].ready()}, queue busy {self._busy()}"
        )
        self.fault(f"{step} is not done after {seconds:.0f} s: {state}")
        return False

    def _busy(self) -> bool:
        from stoutlink.app.desk.background import QUEUE  # noqa: PLC0415

        return bool(QUEUE._known)

    def words(self) -> list[str]:
        """All that stands on the screen, in words."""
        QApplication.processEvents()
        self.window.grab()
        out = []
        for one in self.window.findChildren(QWidget):
            name = one.objectName()
            if not one.isVisible() or name in OF_THE_MOMENT or name.startswith("live_"):
                continue
            if isinstance(one, Picture):
                out += [f"{name}: {h.tip}" for h in one.hits]
            elif isinstance(one, QLabel) or (isinstance(one, KeptLine) and not one.isModified()):
                out.append(f"{name}: {one.text().replace('–', '')}")  # an empty one is a dash until it is gone into
            elif isinstance(one, QComboBox):
                out.append(f"{name}: {one.currentText()}")
        out += self.window.sheets[self.window.step].as_text().splitlines()
        return out

    def typed(self) -> set[str]:
        """Names of the fields that show what somebody is typing or has typed, not what the project has."""
        return {
            one.objectName()
            for one in self.window.findChildren(KeptLine)
            if one.isModified() or one.hasFocus() or one.property("wrong")
        }

    def compare(self, looks: int) -> None:
        """Some looks as they are, then with the same project read anew and nothing remembered: the same words."""
        self.window.sheets["travel"].play.setChecked(False)  # type: ignore[attr-defined]
        leave = QApplication.focusWidget()
        if leave is not None:
            leave.clearFocus()
        places = [(s, key) for s in registry.STEPS for key in ([k for k, *_ in s.looks] or [""])]
        chosen = [
            (self.window.step, None),
            *((s.id, key) for s, key in self.rng.sample(places, min(looks, len(places)))),
        ]
        for step, key in chosen:
            if key is not None:
                self.window.show_step(step)
                if key:
                    self.window.sheets[step].look(key)
            if not self.settle():
                return
            before, typed = self.words(), self.typed()
            self.forget()
            if not self.settle():
                return
            typed |= self.typed()
            after = [x for x in self.words() if x.partition(":")[0] not in typed]
            before = [x for x in before if x.partition(":")[0] not in typed]
            self.day.compared += len(before)
            if odd := [x for x in before if NO_NUMBER.search(x)]:
                self.fault(f"{step} {key}: says {odd[:3]}")
            gone, new = Counter(before) - Counter(after), Counter(after) - Counter(before)
            if gone or new:
                who = f"; posed last by {self.moved_by}" if step == "travel" else ""
                self.fault(
                    f"{step} {key}: shown {list(gone)[:12]}, a fresh computation says {list(new)[:12]}{who}; typed {sorted(typed)}, "
                    f"focus {QApplication.focusWidget()}, {self.window.size()}"
                )

    def forget(self) -> None:
        """The project as its file has it, with no answer remembered."""
        w = self.window.workspace
        fresh = decode_project(encode_project(w.project))
        if fresh != w.project:
            self.fault("the file does not hold the project")
        past, future, saved = w.session._past, w.session._future, w.session.saved
        w.session.project = fresh
        if w._study is not None:
            w._study.answers.forget()  # whoever still holds it shall not hold what it knew
        w._study = Study(fresh)
        assert (past, future, saved) == (w.session._past, w.session._future, w.session.saved)
        w.changed.emit()

    def undo_all(self) -> None:
        """Back to where it began, then forward and back again: the same values."""
        w = self.window.workspace
        end = w.project
        steps = 0
        while w.session.undo_label is not None:
            w.session.undo()
            steps += 1
        if w.project != self._start[1]:
            self.fault("undoing everything does not lead to the start")
        for _ in range(steps):
            w.session.redo()
        if w.project != end:
            self.fault("doing everything again does not lead to the end")
        self.day.undone += steps

    def left_behind(self) -> None:
        """No window, box or menu is left, and sheets hold no more widgets than a window of its own on the same project."""
        for one in QApplication.topLevelWidgets():
            if one is not self.window and one.isVisible() and not one.objectName().startswith("reading"):
                self.fault(f"left behind: {type(one).__name__} {one.objectName()}")

    def count_widgets(self) -> int:
        """Widgets there are, when those that are to go have gone."""
        QApplication.processEvents()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        return len(QApplication.allWidgets())

    def warm(self) -> None:
        """All looks of both example rigs once, with their travel, and the files whose writers are loaded late: what is loaded and held for the largest
        project is there before memory is watched, whatever project the day begins with and whenever something is written first."""
        w = self.window.workspace
        begun = w.project
        for name in ("basalt", "tamarack"):
            path = demo_file(f"{name}.stoutlink")
            self.window.take(read_project(path), None, path)
            for step in registry.STEPS:
                self.window.show_step(step.id)
                for key, *_ in step.looks:
                    self.window.sheets[step.id].look(key)
                    self.settle()
                    self.window.grab()
            study = w.study
            posed = at_ride(study)
            groups = Assembly().groups(study, posed)
            for suffix in (".stl", ".glb", ".dxf"):
                model_bytes(suffix, groups, posed, name)
            packet_pdf(study, name, "2026-01-01", "A4")
        self.window.take(begun, None)
        self._start = (w.session, begun)

    def hold(self) -> float:
        """MB held in a state that is the same each time; the work under way, with all its undo, is put aside for it and goes on after."""
        w = self.window.workspace
        session, end = w.session, w.end
        path = demo_file("basalt.stoutlink")
        self.window.take(read_project(path), None, path)
        w.set_end("rear")
        self.forget()
        self.window.resize(1280, 800)
        for step, look in (("travel", "touching"), ("rig", "")):
            self.window.show_step(step)
            if look:
                self.window.sheets[step].look(look)
            self.settle()
            self.window.grab()
        gc.collect()
        with contextlib.suppress(AttributeError):  # another C library than GNU's has none
            ctypes.CDLL(None).malloc_trim(0)
        held = resident_mb()
        self.window.take(session.project, None)
        w.session = session
        w.set_end(end)
        w.changed.emit()
        return held

    def live(self, actions: int, every: int, looks: int) -> Day:
        """A day of so many actions; every so many, some looks are held against a fresh computation."""
        if actions >= WARMED:
            self.warm()
        began = time.perf_counter()
        for n in range(1, actions + 1):
            try:
                self.act()
            except Exception:
                self.fault(traceback.format_exc(limit=-12))
            if n % every == 0:
                self.left_behind()
                self.compare(looks)
                self.save_and_look()
                if actions >= WARMED:
                    self.day.held.append((n, self.hold()))
            if n % 250 == 0 or n == actions:
                gc.collect()
                self.day.memory.append((n, resident_mb()))
            if self.tell and n % 500 == 0:
                print(f"seed {self.day.seed}: {n} actions, {resident_mb():.0f} MB, {self.count_widgets()} widgets, {len(self.day.faults)} faults", file=sys.stderr, flush=True)  # fmt: skip
        self.undo_all()
        self.widgets_stay()
        self.day.seconds = time.perf_counter() - began
        self.close()
        return self.day

    def save_and_look(self) -> None:
        """What is saved opens as what is here, and its results are numbers."""
        w, path = self.window.workspace, self.folder / "kept.stoutlink"
        try:
            path.write_bytes(encode_project(w.project))
            if read_project(path) != w.project:
                self.fault("what was saved is not what is here")
            json.dumps(results(Study(w.project)), allow_nan=False)
        except Exception:
            self.fault(traceback.format_exc(limit=-12))

    def widgets_stay(self) -> None:
        """Going through all looks again and again makes no more widgets each time; a field that a look has only now is none."""
        seen: list[Counter[str]] = []
        for _ in range(4):
            for step in registry.STEPS:
                self.window.show_step(step.id)
                for key, *_ in step.looks:
                    self.window.sheets[step.id].look(key)
                    QApplication.processEvents()
            self.settle()
            self.count_widgets()
            every = (
                w for w in QApplication.allWidgets() if not isinstance(w, Place)
            )  # a picture keeps as many as it ever had
            seen.append(Counter(f"{type(w).__name__} {w.objectName()}" for w in every))
        if more := (seen[3] - seen[2]) & (seen[2] - seen[1]):
            self.fault(f"widgets left behind: {more}")

    def close(self) -> None:
        """Close the window, whatever it asks."""
        dialogs.ask = lambda _, title, text, choices: "Throw away" if "Throw away" in choices else choices[0]
        self.window.close()
        if self.window.isVisible():
            self.fault("the window does not close")
        self.window.deleteLater()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
