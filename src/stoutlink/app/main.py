"""``stout-link-app``: start the window, or take a picture of a view."""

from __future__ import annotations

import argparse
import logging
import signal
import sys
import traceback
from collections.abc import Callable, Sequence
from pathlib import Path
from types import TracebackType

import platformdirs
from PyQt6.QtCore import QEventLoop, QTimer
from PyQt6.QtWidgets import QApplication

from stoutlink.app.desk import dialogs, theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.donors.sheet import LOOKS as DONOR_LOOKS
from stoutlink.app.steps.layout.sheet import LOOKS as LAYOUT_LOOKS
from stoutlink.app.steps.rig.sheet import LOOKS as RIG_LOOKS
from stoutlink.app.steps.travel.sheet import LOOKS as TRAVEL_LOOKS
from stoutlink.core.document.project import Project
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.errors import StoutError
from stoutlink.core.storage.files import read_project
from stoutlink.demo import demo_file

log = logging.getLogger("stoutlink")
DEMOS = ("basalt", "tamarack")


def main(argv: Sequence[str] | None = None) -> int:
    """Run the window; returns the exit code."""
    args = _arguments(argv)
    app = make_app(args.theme)
    trouble: StoutError | None = None
    project, file = read_project(demo_file(f"{args.demo or 'starter'}.stoutlink")), None
    window = make_window(project, file, args.theme)
    wide, high = args.size
    window.resize(wide, high)
    if args.file is not None:
        try:
            window.workspace.open(args.file)
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
        signal.signal(one, lambda *_: app.quit())
    awake = QTimer()
    awake.timeout.connect(lambda: None)
    awake.start(400)
    window.show()
    if trouble is not None:
        window.say(f"{trouble.sentence} {trouble.hint}", True)
        said = f"{trouble.sentence}\n\n{trouble.hint}"
        QTimer.singleShot(0, lambda: dialogs.ask(window, "Cannot open", said, ("OK",)))
    QTimer.singleShot(0, window.files.offer_recovery)
    return app.exec()


def make_app(theme_name: str) -> QApplication:
    """The application with fonts and theme in force."""
    existing = QApplication.instance()
    app = existing if isinstance(existing, QApplication) else QApplication(sys.argv[:1])
    app.setApplicationName("stout-link")
    app.setDesktopFileName("stout-link")
    theme.load_fonts()
    theme.apply(app, theme.THEMES[theme_name])
    return app


def make_window(project: Project, file: Path | None, theme_name: str) -> MainWindow:
    """A window on a project."""
    return MainWindow(Workspace(project, file), theme_name)


def _arguments(argv: Sequence[str] | None) -> argparse.Namespace:
    parser = argparse.ArgumentParser(prog="stout-link-app", description="Plan a solid axle swap.")
    parser.add_argument("file", nargs="?", type=Path, help="project to open")
    parser.add_argument(
        "--demo",
        nargs="?",
        const="basalt",
        choices=DEMOS,
        help="start with an invented rig: the crawler Basalt, or the pickup Tamarack",
    )
    parser.add_argument("--shot", type=Path, metavar="FILE.png", help="write a picture of a view and exit")
    parser.add_argument("--view", choices=("rig", "donors", "tape", "layout", "travel", "cut"), default="rig")
    parser.add_argument("--size", type=_size, default=(1280, 800), metavar="WxH")
    parser.add_argument("--theme", choices=("dark", "light"), default="dark")
    parser.add_argument("--units", choices=("in", "mm"))
    parser.add_argument("--end", choices=("rear", "front"), default="rear")
    parser.add_argument(
        "--look",
        choices=[key for key, *_ in (*RIG_LOOKS, *DONOR_LOOKS, *LAYOUT_LOOKS, *TRAVEL_LOOKS)],
        help="with --shot: which look at the rig, the donors, the layout or the travel",
    )
    parser.add_argument("--donor", metavar="ID", help="with --shot: look at this candidate")
    parser.add_argument("--pivot", nargs=2, metavar=("LINK", "END"), help="with --shot: pick this pivot")
    parser.add_argument(
        "--travel", type=int, default=0, metavar="STATIONS", help="with --shot: stations of bump (or droop, negative)"
    )
    parser.add_argument(
        "--roll", type=int, default=0, metavar="STATIONS", help="with --shot of the travel step: stations of roll"
    )
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
    looks: dict[str, tuple[Callable[[str], None], tuple[tuple[str, str, str], ...]]] = {
        "rig": (window.rig.look, RIG_LOOKS),
        "donors": (window.donors.look, DONOR_LOOKS),
        "layout": (window.layout_sheet.look, LAYOUT_LOOKS),
        "travel": (window.travel.look, TRAVEL_LOOKS),
    }
    if args.view in looks and args.look in [key for key, *_ in looks[args.view][1]]:
        looks[args.view][0](args.look)
    window.show_step(args.view)
    if args.donor is not None:
        window.donors.look_at(args.donor)
    window.show()
    app.processEvents()
    if args.pivot:
        window.layout_sheet.views.select((args.pivot[0], args.pivot[1]))
    if args.look == "find":
        _search(app, window)
    if args.view == "travel":
        _cycle(app, window, args.travel, args.roll)
    else:
        window.layout_sheet.travel.step(args.travel)
    for _ in range(3):
        app.processEvents()
    done = window.grab().save(str(args.shot))
    if not done:
        print(f"stout-link-app: {args.shot} cannot be written", file=sys.stderr)
    window.workspace.session.mark_saved()
    window.close()
    return 0 if done else 2


def _cycle(app: QApplication, window: MainWindow, heave: int, roll: int) -> None:
    """Let the travel be worked out, and go somewhere in it, for its picture."""
    sheet = window.travel
    while sheet.working or sheet.curves_working:
        app.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)
    if sheet.travel is not None:
        row, column = sheet.travel.grid.ride
        sheet.go(row + roll, column + heave)


def _search(app: QApplication, window: MainWindow) -> None:
    """Let a search run to its end, for its picture."""
    look = window.layout_sheet.find_look
    look.search()
    while look.part is not None:
        app.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)


def _explain(kind: type[BaseException], value: BaseException, trace: TracebackType | None) -> None:
    """A fault of ours: kept in a log file, one sentence to the user, the project stays open and autosaved."""
    text = "".join(traceback.format_exception(kind, value, trace))
    log.error(text)
    where = platformdirs.user_log_path("stout-link") / "faults.log"
    try:
        where.parent.mkdir(parents=True, exist_ok=True)
        with where.open("a", encoding="utf-8") as out:
            out.write(text + "\n")
    except OSError:
        pass
    window = next((w for w in QApplication.topLevelWidgets() if isinstance(w, MainWindow)), None)
    if window is not None:
        window.workspace.autosave()
        window.say(f"Something went wrong in the program itself; your work is kept. Details: {where}", True)


if __name__ == "__main__":
    sys.exit(main())
