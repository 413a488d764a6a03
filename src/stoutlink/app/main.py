"""``stout-link-app``: start the window, or take a picture of a view."""

from __future__ import annotations

import argparse
import datetime
import logging
import signal
import sys
import traceback
from collections.abc import Sequence
from pathlib import Path
from types import TracebackType

import msgspec
import platformdirs
from PyQt6.QtCore import QEventLoop, QTimer
from PyQt6.QtWidgets import QApplication, QSplashScreen

from stoutlink import __version__
from stoutlink.app.canvas.view_geometry import PANES
from stoutlink.app.desk import desktop_entry, dialogs, theme
from stoutlink.app.desk.giving_back import one_heap
from stoutlink.app.desk.memory import Drawing, Memory, recalled, remember
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.shell.window import REST_MS, MainWindow
from stoutlink.app.steps import registry
from stoutlink.app.steps.layout.sheet import LayoutSheet
from stoutlink.core.document.project import Project
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.errors import StoutError
from stoutlink.core.storage.files import read_project
from stoutlink.core.storage.lock import holder_of
from stoutlink.core.storage.own_files import append_own
from stoutlink.demo import demo_file

log = logging.getLogger("stoutlink")
DEMOS = ("basalt", "tamarack")


def main(argv: Sequence[str] | None = None, splash: QSplashScreen | None = None) -> int:
    """Run the window; returns the exit code. ``splash`` is shown meanwhile and taken away by the window."""
    args = _arguments(argv)
    if args.install_desktop or args.remove_desktop:
        return _in_the_menu(install=args.install_desktop)
    memory = recalled() if args.shot is None else Memory()
    if args.theme is not None:
        memory = msgspec.structs.replace(memory, theme=args.theme)
    shown = memory.theme if memory.theme != "system" else "dark"
    app = make_app(shown)
    trouble: StoutError | None = None
    asked = args.file is not None and args.shot is None and holder_of(args.file) is not None
    project, file = read_project(demo_file(f"{args.demo or 'starter'}.stoutlink")), None
    if not args.demo and args.file is None:
        settings = msgspec.structs.replace(project.settings, units=memory.units)
        project = msgspec.structs.replace(project, settings=settings)
    window = make_window(project, file, shown)
    window.workspace.lent = demo_file(f"{args.demo}.stoutlink") if args.demo else None
    window.memory = memory
    window.resize(*args.size)
    if args.file is not None and not asked:
        try:
            window.workspace.open(args.file, lock=args.shot is None)
        except StoutError as why:
            trouble = why
    if args.units and args.units != window.workspace.unit:
        window.workspace.do(SetChoice("settings.units", args.units, "units"))
        window.workspace.session.mark_saved()
    if args.shot is not None:
        if trouble is not None:
            print(f"stout-link-app: {trouble}", file=sys.stderr)
            return 2
        return _shoot(app, window, args)
    sys.excepthook = _explain
    for one in (signal.SIGINT, signal.SIGTERM):
        signal.signal(one, lambda *_: _asked_to_end(app, window))
    awake = QTimer()
    awake.timeout.connect(lambda: None)
    awake.start(400)
    window.put_where_it_was(*args.size)
    window.follow_system()
    hints = app.styleHints()
    if hints is not None:
        hints.colorSchemeChanged.connect(lambda _: window.follow_system())
    app.aboutToQuit.connect(lambda: remember(window.memory))
    window.show()
    if splash is not None:
        splash.finish(window)
    last = next(iter(window.workspace.recent()), None)
    if last is not None and not args.demo and args.file is None:
        window.say(f"Last open: {last.name}. Ctrl+Shift+O opens it again.")
    if trouble is not None:
        window.say(f"{trouble.sentence} {trouble.hint}", True)
        said = f"{trouble.sentence}\n\n{trouble.hint}"
        QTimer.singleShot(0, lambda: dialogs.ask(window, "Cannot open", said, ("OK",)))
    if asked:
        QTimer.singleShot(0, lambda: window.files.open_path(args.file))
    QTimer.singleShot(0, window.files.offer_recovery)
    QTimer.singleShot(REST_MS, window.sheets.make_ahead)
    return app.exec()


def _in_the_menu(*, install: bool) -> int:
    """Entry, icon and file type in the user's own folders, or out of them."""
    try:
        done = desktop_entry.install() if install else desktop_entry.remove()
    except StoutError as why:
        print(f"stout-link-app: {why}", file=sys.stderr)
        return 2
    for path in done:
        print(f"{'written' if install else 'removed'}: {path}")
    if not done:
        print("nothing to remove")
    return 0


def _asked_to_end(app: QApplication, window: MainWindow) -> None:
    """Somebody ends the program from outside: unsaved work is kept for the next start, nothing is asked."""
    window.workspace.autosave()
    QTimer.singleShot(0, lambda: app.exit(0))  # asked for before the loop of events runs, it would be forgotten


def make_app(theme_name: str) -> QApplication:
    """The application with fonts and theme in force."""
    one_heap()
    existing = QApplication.instance()
    app = existing if isinstance(existing, QApplication) else QApplication(sys.argv[:1])
    app.setApplicationName("stout-link")
    app.setDesktopFileName("stout-link")
    theme.load_fonts(app)
    theme.apply(app, theme.THEMES[theme_name])
    return app


def make_window(project: Project, file: Path | None, theme_name: str) -> MainWindow:
    """A window on a project."""
    return MainWindow(Workspace(project, file), theme_name)


def _arguments(argv: Sequence[str] | None) -> argparse.Namespace:
    parser = argparse.ArgumentParser(prog="stout-link-app", description="Plan a solid axle swap.")
    parser.add_argument("--version", action="version", version=f"stout-link-app {__version__}")
    parser.add_argument("file", nargs="?", type=Path, help="project to open")
    parser.add_argument(
        "--demo",
        nargs="?",
        const="basalt",
        choices=DEMOS,
        help="start with an invented rig: the crawler Basalt, or the pickup Tamarack",
    )
    parser.add_argument("--install-desktop", action="store_true", help="put entry, icon and file type in your own menu")
    parser.add_argument("--remove-desktop", action="store_true", help="take them out again")
    parser.add_argument("--shot", type=Path, metavar="FILE.png", help="write a picture of a view and exit")
    parser.add_argument("--view", choices=[one.id for one in registry.STEPS], default=registry.STEPS[0].id)
    parser.add_argument("--size", type=_size, default=(1280, 800), metavar="WxH")
    parser.add_argument("--theme", choices=("dark", "light", "system"))
    parser.add_argument("--units", choices=("in", "mm"))
    parser.add_argument("--end", choices=("rear", "front"), default="rear")
    parser.add_argument(
        "--look",
        choices=sorted({key for one in registry.STEPS for key, *_ in one.looks}),
        help="with --shot: which look at the step in view",
    )
    parser.add_argument("--donor", metavar="ID", help="with --shot: look at this candidate")
    parser.add_argument("--pivot", nargs=2, metavar=("LINK", "END"), help="with --shot: pick this pivot")
    parser.add_argument(
        "--travel", type=int, default=0, metavar="STATIONS", help="with --shot: stations of bump (or droop, negative)"
    )
    parser.add_argument(
        "--roll", type=int, default=0, metavar="STATIONS", help="with --shot of the travel step: stations of roll"
    )
    parser.add_argument("--large", choices=(*PANES, "all"), help="with --shot: which of the linked views is large")
    parser.add_argument(
        "--eye",
        type=float,
        nargs=2,
        metavar=("TURN", "TILT"),
        help="with --shot: degrees the round view is looked at from",
    )
    parser.add_argument("--today", type=datetime.date.fromisoformat, metavar="DAY", help="with --shot: the day it is")
    return parser.parse_args(argv)


def _size(text: str) -> tuple[int, int]:
    try:
        wide, high = (int(v) for v in text.lower().split("x"))
    except ValueError:
        raise argparse.ArgumentTypeError(f"{text} is not a size such as 1280x800") from None
    if not (400 <= wide <= 8000 and 300 <= high <= 8000):
        raise argparse.ArgumentTypeError("accepted sizes are 400x300 to 8000x8000")
    return wide, high


def _shoot(app: QApplication, window: MainWindow, args: argparse.Namespace) -> int:
    window.workspace.set_end(args.end)
    if args.today is not None:
        window.workspace.today = lambda: args.today
    if args.large is not None:
        window.workspace.drawing = Drawing(large=args.large)
    step = next(one for one in registry.STEPS if one.id == args.view)
    sheet = window.sheets[step.id]
    if args.look in [key for key, *_ in step.looks]:
        sheet.look(args.look)
    window.show_step(step.id)
    if args.donor is not None:
        sheet.pick(args.donor, "")
    window.show()
    window.refresh()
    app.processEvents()
    if args.pivot:
        sheet.pick(*args.pivot)
    if args.look == "find":
        window.sheet(LayoutSheet).find_look.search()
    while not window.workspace.cycling.known:
        window.workspace.cycling.now()
        app.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)
    sheet.pose(args.travel, args.roll)
    if args.eye is not None:
        sheet.look_from(*args.eye)
    while not sheet.ready():
        app.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)
    window.knock_ons.rest()  # what came in while it was worked out is nothing new to who sees the picture
    for _ in range(3):
        app.processEvents()
    done = window.grab().save(str(args.shot))
    if not done:
        print(f"stout-link-app: {args.shot} cannot be written", file=sys.stderr)
    window.workspace.session.mark_saved()
    window.close()
    return 0 if done else 2


def _explain(kind: type[BaseException], value: BaseException, trace: TracebackType | None) -> None:
    """A fault of ours: kept in a log file, one sentence to the user, the project stays open and autosaved."""
    text = "".join(traceback.format_exception(kind, value, trace))
    log.error(text)
    where = platformdirs.user_log_path("stout-link") / "faults.log"
    append_own(text + "\n", where)
    window = next((w for w in QApplication.topLevelWidgets() if isinstance(w, MainWindow)), None)
    if window is not None:
        window.workspace.autosave()
        if isinstance(value, StoutError):  # it can be explained after all
            window.say(f"{value.sentence} {value.hint}".strip(), True)
            return
        window.say(f"Something went wrong in the program itself; your work is kept. Details: {where}", True)


if __name__ == "__main__":
    sys.exit(main())
