"""The main window: route, sheet, verdict, knock-ons; menus and command box from one list of commands."""

from __future__ import annotations

import html
import os
import re
from collections.abc import Callable
from pathlib import Path

import msgspec
from PyQt6.QtCore import QPoint, QRect, Qt, QTimer
from PyQt6.QtGui import (
    QCloseEvent,
    QContextMenuEvent,
    QDragEnterEvent,
    QDropEvent,
    QGuiApplication,
    QIcon,
    QKeySequence,
)
from PyQt6.QtWidgets import (
    QApplication,
    QLineEdit,
    QMainWindow,
    QMenu,
    QSplitter,
    QStackedWidget,
    QWidget,
)

from stoutlink import __version__
from stoutlink.app.desk import dialogs, theme
from stoutlink.app.desk.actions import make_actions
from stoutlink.app.desk.files import leave_field
from stoutlink.app.desk.labels import MarkedLabel
from stoutlink.app.desk.memory import LightOrDark, Memory
from stoutlink.app.desk.menus import Entry, pop_up
from stoutlink.app.desk.not_taken import not_taken_words
from stoutlink.app.desk.resources import ICONS
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.panels.command_box import CommandBox
from stoutlink.app.panels.instrument_desk import InstrumentDesk
from stoutlink.app.panels.knock_ons import KnockOns
from stoutlink.app.panels.reading import Reading
from stoutlink.app.panels.route import Route, Station
from stoutlink.app.panels.verdict_panel import VerdictPanel
from stoutlink.app.shell.body import Body
from stoutlink.app.shell.commands import command_list
from stoutlink.app.shell.file_desk import FileDesk
from stoutlink.app.shell.finder import things
from stoutlink.app.shell.gestures import GESTURES
from stoutlink.app.shell.sheets import Sheets
from stoutlink.app.steps import registry
from stoutlink.app.steps.step import S
from stoutlink.app.widgets.kept_line import KeptLine
from stoutlink.core.advice.finding import Finding
from stoutlink.core.document.project import Project
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.papers import font_licences
from stoutlink.core.reports.analysis_text import analysis_text
from stoutlink.core.reports.results import results

REST_MS = 160
"""A hand that holds still this long while dragging is resting; a window just put up has been painted once."""


def system_theme() -> str:
    """Light or dark as the system has it; dark where it does not say."""
    hints = QGuiApplication.styleHints()
    light = hints is not None and hints.colorScheme() == Qt.ColorScheme.Light
    return "light" if light else "dark"


def _keys(keys: str) -> str:
    return " or ".join(QKeySequence(one).toString(QKeySequence.SequenceFormat.NativeText) for one in keys.split(" or "))


class MainWindow(QMainWindow):
    """One project in one window."""

    def __init__(self, workspace: Workspace, theme_name: str = "dark") -> None:
        super().__init__()
        self.setObjectName("main_window")
        self.setAcceptDrops(True)
        self.setWindowIcon(QIcon(str(ICONS / "stout-link.svg")))
        self.workspace = workspace
        self.theme = theme.THEMES[theme_name]
        self.memory = Memory(theme="dark" if theme_name == "dark" else "light")
        """What is remembered for the next run; kept by who runs the window."""
        self.step = registry.STEPS[0].id
        self.route = Route(tuple(Station(s.id, s.title, s.help_text, s.state) for s in registry.STEPS), self)
        self.instruments = InstrumentDesk(workspace, self)
        self.stack = QStackedWidget(self)
        self.stack.setObjectName("sheet")
        self.sheets = Sheets(self, self.stack)
        self.verdict, self.knock_ons = (
            VerdictPanel(workspace, self),
            KnockOns(workspace, {s.id: s.title for s in registry.STEPS}, self),
        )
        side = QSplitter(Qt.Orientation.Vertical, self)
        side.setObjectName("side")
        self._side = side
        side.addWidget(self.verdict)
        side.addWidget(self.knock_ons)
        side.setFixedWidth(304)
        side.setStretchFactor(0, 3)
        side.setStretchFactor(1, 2)
        side.setSizes([440, 290])
        self.body = Body(self.route, self.stack, side, self)
        self.setCentralWidget(self.body)
        self._said = MarkedLabel("", self)
        self._said.setObjectName("message")
        self._refused = False
        self._said.setAccessibleName("Message")
        self._said.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self._state = MarkedLabel("", self)
        self._state.setObjectName("file_state")
        self._state.linkActivated.connect(self.go_to_field)
        bar = self.statusBar()
        assert bar is not None
        bar.setSizeGripEnabled(False)
        bar.addWidget(self._said, 1)
        bar.addPermanentWidget(self._state)
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.setInterval(REST_MS)
        self._rest.timeout.connect(self._refresh_rest)
        self.files = FileDesk(self)
        self.commands = command_list(self)
        self.actions_by_id = make_actions(self.commands, self)
        self.box = CommandBox(self.commands, self, lambda: things(self))
        self.box.chosen.connect(lambda name: self.actions_by_id[name].trigger())
        self.reading = Reading(self)
        self._menus()
        self.route.picked.connect(self.show_step)
        self.knock_ons.go.connect(self.go_to_finding)
        self.knock_ons.copied.connect(self.to_clipboard)
        self.knock_ons.explained.connect(lambda code: self.reading.read("findings", code))
        self.verdict.copied.connect(self.to_clipboard)
        workspace.cycling.done.connect(self._refresh_rest)
        workspace.changed.connect(self._quiet_down)
        workspace.changed.connect(self.refresh)
        workspace.said.connect(self.say)
        workspace.texts_changed.connect(self._texts_changed)
        workspace.stepped.connect(self._show_change)
        workspace.go_to.connect(self.go_to_field)
        workspace.end_changed.connect(self._end_changed)
        self.show_step(self.step)

    # What is shown

    def show_step(self, step: str) -> None:
        """Put a step's sheet up."""
        self.step = step
        self.route.show_step(step)
        self.knock_ons.step = step
        self.stack.setCurrentWidget(self.sheets[step])
        self.refresh()

    def open_at(self, step: str, look: str, subject: str) -> None:
        """Put a step's sheet up with one of its looks, at an end or an assembly."""
        if subject in ("front", "rear"):
            self.workspace.set_end(subject)
        self.show_step(step)
        if look:
            self.sheets[step].look(look)
        self.sheets[step].open(subject)

    def refresh(self) -> None:
        """Show the current project everywhere it is in view."""
        w = self.workspace
        w.setProperty("quiet", self.theme.quiet.name())
        for part in (self.menuBar(), self.statusBar(), self.route, self._side, self.sheets[self.step]):
            if part is not None:
                theme.dress(part)
        self.sheets[self.step].refresh(self.theme)
        self.verdict.refresh(self.theme)
        w.cycling.soon()
        if w.dragging or not self.isVisible():
            self._rest.start()
        else:
            self._refresh_rest()
        self._file_state()
        self.setWindowTitle(f"{'*' if w.session.changed else ''}{w.project.name} – Stout Link")
        undo, redo = w.session.undo_label, w.session.redo_label
        for key, word, label in (("undo", "Undo", undo), ("redo", "Redo", redo)):
            self.actions_by_id[key].setText(f"{word} {label[0].lower() + label[1:]}" if label else word)
            self.actions_by_id[key].setEnabled(label is not None)

    def _refresh_rest(self) -> None:
        """What stands beside the drawing: knock-ons and route. While a pivot is dragged they follow when the hand
        rests.
        """
        self._rest.stop()
        self.knock_ons.refresh(self.theme)
        self.route.refresh(self.workspace.study, self.theme)
        self.body.handle.show_state(self._side_words(), self.theme)

    def _side_words(self) -> str:
        """Verdict and knock-ons in a few words, for when there is no room for them."""
        study = self.workspace.study
        gauges = study.axles[self.workspace.end].gauges
        out = sum(g.standing == "out" for g in gauges)
        found = self.knock_ons.counted
        first = f"{out} out of band" if gauges else "nothing to judge yet"
        return f"{first}  ·  {found['danger']} dangers, {sum(found.values())} open"

    def _file_state(self) -> None:
        """What is in the window, where it is kept, and how much of what was typed is not taken."""
        w = self.workspace
        name = w.file.name if w.file else "not saved yet"
        left = w.not_taken.of(w.project)
        more = f" · <a href='{html.escape(left[0].place)}'>▲ {len(left)} not taken</a>" if left else ""
        words = f"{w.project.name}, {name}{' · unsaved changes' if w.session.changed else ''}"
        self._state.setText(f"{html.escape(words)}{more}   ")
        self._state.setToolTip(not_taken_words(left))

    def say(self, text: str, problem: bool = False) -> None:
        """One sentence in the status line."""
        colour = self.theme.torch.name() if problem else self.theme.quiet.name()
        self._said.setText(f"<span style='color:{colour}'>{'▲ ' if problem else ''}{html.escape(text)}</span>")
        self._said.setToolTip(text)
        self._refused = problem

    def _quiet_down(self) -> None:
        """A refusal goes with the next thing that goes well; what is not taken stays marked in its field."""
        if self._refused:
            self.say("")

    def _texts_changed(self) -> None:
        self._file_state()
        if not self.workspace.not_taken.of(self.workspace.project):
            self._quiet_down()

    def choose_theme(self, name: LightOrDark) -> None:
        """Light or dark from now on, or as the system has it."""
        self.memory = msgspec.structs.replace(self.memory, theme=name)
        self.set_theme(system_theme() if name == "system" else name)

    def follow_system(self) -> None:
        """The system has changed to light or dark."""
        if self.memory.theme == "system":
            self.set_theme(system_theme())

    def set_theme(self, name: str) -> None:
        """Change the theme."""
        self.theme = theme.THEMES[name]
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        theme.apply(app, self.theme)
        self.refresh()

    def sheet(self, kind: type[S]) -> S:
        """The sheet of this class."""
        return self.sheets.of(kind)

    def _end_changed(self) -> None:
        for one in self.sheets.made():
            one.end_changed()
        self.refresh()

    def take(self, project: Project, file: Path | None, lent: Path | None = None) -> None:
        """Put another project into the window; ``lent``: it is an example from there."""
        self.workspace.take(project, file, lent=lent)
        self.project_taken()

    def project_taken(self) -> None:
        """Another project has come in: every sheet begins anew."""
        for one in self.sheets.made():
            one.project_taken()
        self.refresh()

    def _show_change(self, path: str) -> None:
        """Take the view to what was undone or redone, unless it is in view."""
        head = path.split(".", maxsplit=1)[0]
        if any(line.place == path and line.isVisible() for line in self.sheets[self.step].findChildren(KeptLine)):
            return  # its field is before the eyes, whichever step it stands in
        step = next((one.id for one in registry.STEPS if head in one.owns), None)
        if step is None or head in ("settings", "choosing", "targets", "searches"):
            return
        self._turn_to(path.split(".")[1] if "." in path else "")
        if step == self.step and self.sheets[step].in_view(path):
            return
        self.show_step(step)
        self.sheets[step].show_field(path)

    def go_to_finding(self, finding: Finding) -> None:
        """To the step, the axle and the thing a finding is about."""
        self.body.fold()
        self._turn_to(re.split(r"[ ./]", finding.subject, maxsplit=1)[0])
        self.show_step(finding.step)
        self.sheets[finding.step].go(finding)

    def _turn_to(self, name: str) -> None:
        """Work on the axle that a record or layout is for."""
        project = self.workspace.project
        ends = {one.id: one.end for one in project.swap.donors} | {one.id: one.end for one in project.linkage.layouts}
        self.workspace.set_end(ends.get(name, self.workspace.end))

    def go_to_field(self, path: str) -> None:
        """To the step that has the field of a path, the axle it is about, and the field itself."""
        step = next((one.id for one in registry.STEPS if path.split(".", maxsplit=1)[0] in one.owns), self.step)
        self.body.fold()
        self._turn_to(path.split(".")[1] if "." in path else "")
        self.show_step(step)
        self.sheets[step].show_field(path)

    def _menus(self) -> None:
        bar = self.menuBar()
        assert bar is not None
        menus: dict[str, QMenu] = {}
        for one in self.commands:
            if one.menu not in menus:
                menu = bar.addMenu(f"&{one.menu}")
                assert menu is not None
                menus[one.menu] = menu
            menus[one.menu].addAction(self.actions_by_id[one.id])
            if one.id == "open":
                recent = menus["File"].addMenu("Open recent")
                assert recent is not None
                recent.setObjectName("recent")
                recent.aboutToShow.connect(lambda menu=recent: self._fill_recent(menu))

    def _fill_recent(self, menu: QMenu) -> None:
        menu.clear()
        for path in self.workspace.recent():
            action = menu.addAction(str(path))
            if action is not None:
                action.triggered.connect(lambda _=False, p=path: self.files.open_path(p))
        if menu.isEmpty():
            nothing = menu.addAction("Nothing opened yet")
            if nothing is not None:
                nothing.setEnabled(False)

    # Edit

    def undo(self) -> None:
        """Undo: first in a field being typed, else in the project."""
        field = QApplication.focusWidget()
        if isinstance(field, QLineEdit) and field.isUndoAvailable() and field.isModified():
            field.undo()
            return
        self.workspace.undo()

    def redo(self) -> None:
        """Redo, likewise."""
        field = QApplication.focusWidget()
        if isinstance(field, QLineEdit) and field.isRedoAvailable() and field.isModified():
            field.redo()
            return
        self.workspace.redo()

    def rescale(self, factor: float) -> None:
        """Everything larger or smaller from the next start on."""
        now = self.memory.scale or float(os.environ.get("QT_SCALE_FACTOR", "1"))
        scale = round(min(2.5, max(0.75, now * factor)), 2)
        self.memory = msgspec.structs.replace(self.memory, scale=scale)
        self.say(f"From the next start on everything is drawn at {scale:.0%}")

    def switch_units(self) -> None:
        """Inches or millimetres."""
        leave_field()
        self.workspace.do(SetChoice("settings.units", "mm" if self.workspace.unit == "in" else "in", "units"))
        self.memory = msgspec.structs.replace(self.memory, units=self.workspace.unit)

    def copy_numbers(self) -> None:
        """The analysis as text."""

        def copy() -> None:
            study = self.workspace.study
            self.to_clipboard(analysis_text(study, results(study)), "All numbers")

        self.workspace.cycling.then(copy)

    def to_clipboard(self, text: str, what: str) -> None:
        """Copy text, saying what it is."""
        board = QGuiApplication.clipboard()
        if board is not None:
            board.setText(text)
            self.say(f"{what} copied as text")

    def sheet_title(self) -> str:
        """What the sheet in view is called on paper: the step and the axle in work."""
        title = next(one.title for one in registry.STEPS if one.id == self.step)
        return title if self.step in ("rig", "tape") else f"{title}, {self.workspace.end} axle"

    # What the steps are lent

    @property
    def widget(self) -> QWidget:
        """What questions stand over."""
        return self

    def ask(self, title: str, text: str, answers: tuple[str, ...]) -> str:
        """Ask; closing the box is the last answer."""
        return dialogs.ask(self, title, text, answers)

    def choose(self, title: str, pattern: str) -> Path | None:
        """Have a file chosen to be read."""
        return self.files.choose(title, pattern)

    def write(self, title: str, name: str, pattern: str, data: bytes) -> None:
        """Have a file named and write it, saying so or why not."""
        self.files.write(title, name, pattern, lambda suffix: data)

    def write_as(self, title: str, name: str, pattern: str, make: Callable[[str], bytes]) -> None:
        """The same, with what is written made for the suffix that was chosen."""
        self.files.write(title, name, pattern, make)

    # Help

    def show_box(self) -> None:
        """The command box."""
        self.box.popup()

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        """On a drawing or beside it: what can be done with the sheet in view."""
        if event is None or not self.stack.rect().contains(self.stack.mapFromGlobal(event.globalPos())):
            return
        own = [c.id for c in registry.BY_ID[self.step].commands(self) if c.id.startswith("copy_")]
        names = ("undo", "redo", "", "fit", "zoom_in", "zoom_out", "", *own, "copy_numbers", "print", "", "command_box")
        entries: list[Entry | None] = []
        for name in names:
            action = self.actions_by_id.get(name)
            if action is not None and action.isEnabled():
                entries.append((action.text(), action.trigger))
            elif not name and entries and entries[-1] is not None:
                entries.append(None)
        pop_up(self, event.globalPos(), entries)

    def show_keys(self) -> None:
        """Keys and gestures."""
        rows = [f"| {c.menu} | {c.name} | {_keys(c.keys)} |" for c in self.commands if c.keys]
        hands = "\n".join(f"- **{where}**: {what}" for where, what in GESTURES)
        table = "\n".join(("| | What | Keys |", "|---|---|---|", *rows))
        self.reading.show_words("Keys and gestures", f"# Keys and gestures\n\n{hands}\n\n{table}")

    def read_paper(self, name: str) -> None:
        """Read one of the papers that ship with the program, in a window of its own."""
        self.reading.read(name)

    def about(self) -> None:
        """What this is."""
        fonts = "\n".join(f"{font}: {name}" for font, name in font_licences().items())
        text = (
            f"Stout Link {__version__}\n\nPlans a solid axle swap: arithmetic, records and a first judgement. It does not replace local vehicle codes, "
            "inspection, or licensed and certified people; welds on steering, suspension and axles are work for a qualified welder."
            f"\n\nLicence: MIT; the text ships with the program. Fonts that ship with it:\n{fonts}"
        )
        dialogs.ask(self, "About", text, ("OK",))

    # Window

    def put_where_it_was(self, wide: int, high: int) -> None:
        """Take the place of the last run, or this size, within the screen there is."""
        screen = self.screen()
        room = screen.availableGeometry() if screen is not None else QRect(0, 0, wide, high)
        x, y, w, h = self.memory.place or (room.x(), room.y(), wide, high)
        self.resize(min(w, room.width()), min(h, room.height()))
        if self.memory.place is not None and room.contains(QPoint(x + 40, y + 10)):
            self.move(x, y)
        self._side.setSizes(list(self.memory.side or self._side.sizes()))
        self.workspace.drawing = self.memory.drawing
        self.sheets.arrange()
        if self.memory.maximised:
            self.setWindowState(Qt.WindowState.WindowMaximized)

    def _note_place(self) -> None:
        here, sizes = self.normalGeometry(), self._side.sizes()
        self.memory = msgspec.structs.replace(
            self.memory,
            place=(here.x(), here.y(), here.width(), here.height()),
            maximised=self.isMaximized(),
            side=(sizes[0], sizes[1]),
            folder=self.files.folder,
            drawing=self.workspace.drawing,
        )

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        if event is not None and self._dropped(event.mimeData()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        paths = self._dropped(event.mimeData()) if event is not None else []
        if paths:
            self.files.take_all(paths)

    @staticmethod
    def _dropped(mime: object) -> list[Path]:
        urls = mime.urls() if mime is not None else []  # type: ignore[attr-defined]
        return [Path(url.toLocalFile()) for url in urls if url.isLocalFile()]

    def closeEvent(self, event: QCloseEvent | None) -> None:
        leave_field()
        if event is None:
            return
        if self.files.may_drop():
            self._note_place()
            self.hide()  # what is worked out beside it may take a moment to notice
            self.workspace.close()
            self.instruments.close()
            for one in self.sheets.made():
                one.stop()
            self.workspace.cycling.stop()
            event.accept()
        else:
            event.ignore()
