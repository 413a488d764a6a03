"""Opening, saving, importing and exporting, with every question asked and every refusal said."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from stoutlink.app.desk import dialogs
from stoutlink.app.desk.files import PROJECTS, heading_of, leave_field, write_beside
from stoutlink.app.shell.hands import Hands
from stoutlink.app.shell.print_out import sheet_to_pdf
from stoutlink.app.steps import registry
from stoutlink.core.errors import StoutError
from stoutlink.core.storage.files import SUFFIX, read_project
from stoutlink.demo import demo_file


class FileDesk:
    """What a window does with files."""

    def __init__(self, window: Hands) -> None:
        self._window = window
        self._workspace = window.workspace

    def may_drop(self) -> bool:
        """Ask about unsaved changes; ``True`` when the project may be replaced."""
        if not self._workspace.session.changed:
            return True
        answer = dialogs.ask(
            self._window.widget,
            "Unsaved changes",
            f"{self._workspace.project.name} has unsaved changes.",
            ("Save", "Throw away", "Cancel"),
        )
        if answer == "Save":
            return self.save()
        if answer == "Throw away":
            self._workspace.discard()
            return True
        return False

    def new(self) -> None:
        """Start over from the starter."""
        if self.may_drop():
            self._window.take(read_project(demo_file("starter.stoutlink")), None)
            self._window.show_step("rig")

    def open_demo(self, name: str = "basalt") -> None:
        """Open a demo rig."""
        if self.may_drop():
            self._window.take(read_project(demo_file(f"{name}.stoutlink")), None)

    def open(self) -> None:
        """Choose and open a file."""
        path = dialogs.choose_file(self._window.widget, "Open project", self._folder(), PROJECTS, False)
        if path is not None:
            self.open_path(path)

    def open_path(self, path: Path) -> None:
        """Open a file; a bad one is a message and the open project stays."""
        if not self.may_drop():
            return
        try:
            self._workspace.open(path)
        except StoutError as why:
            self._window.say(f"{why.sentence} {why.hint}".strip(), True)
            dialogs.ask(
                self._window.widget,
                "Cannot open",
                f"{why.sentence}\n\n{why.hint}\n\nThe project that was open is untouched.",
                ("OK",),
            )
            return
        self._window.project_taken()
        self._window.say(f"Opened {path}")

    def save(self) -> bool:
        """Save; ``False`` when it did not happen."""
        return self._save_to(self._workspace.file) if self._workspace.file is not None else self.save_as()

    def save_as(self) -> bool:
        """Save under a chosen name."""
        stem = (
            "".join(c if c.isalnum() or c in " -_" else "-" for c in self._workspace.project.name).strip() or "project"
        )
        path = dialogs.choose_file(
            self._window.widget, "Save project", str(Path(self._folder()) / f"{stem}{SUFFIX}"), PROJECTS, True
        )
        if path is None:
            return False
        return self._save_to(path if path.suffix else path.with_suffix(SUFFIX))

    def _save_to(self, path: Path) -> bool:
        leave_field()
        try:
            self._workspace.save(path)
        except StoutError as why:
            self._window.say(f"{why.sentence} {why.hint}", True)
            dialogs.ask(self._window.widget, "Not saved", f"{why.sentence}\n\n{why.hint}", ("OK",))
            return False
        self._window.say(f"Saved {path}")
        return True

    def _folder(self) -> str:
        return str(self._workspace.file.parent if self._workspace.file else Path.home())

    def take(self, path: Path) -> None:
        """A file that was dropped: taken in by the step that wants its kind, else opened as a project. Of the steps
        that want a table, those that know its heading come before those that take any."""
        heading = heading_of(path) if path.suffix.lower() == ".csv" else ""
        wanted = [i for step in registry.STEPS for i in step.intakes(self._window) if i.suffix == path.suffix.lower()]
        wanted = [i for i in wanted if i.meant(heading)]
        if wanted:
            min(wanted, key=lambda i: i.meant("")).take(path)
        else:
            self.open_path(path)

    def choose(self, title: str, pattern: str) -> Path | None:
        """Have a file chosen to be read."""
        return dialogs.choose_file(self._window.widget, title, self._folder(), pattern, False)

    def write(self, title: str, name: str, pattern: str, make: Callable[[str], bytes]) -> None:
        """Have a file named and write it, saying so or why not."""
        path = dialogs.choose_file(self._window.widget, title, str(Path(self._folder()) / name), pattern, True)
        if path is None:
            return
        try:
            suffix = path.suffix or Path(name).suffix
            write_beside(make(suffix.lower()), path, suffix)
        except StoutError as why:
            self._window.say(f"{why.sentence} {why.hint}", True)
            return
        self._window.say(f"Written: {path}")

    def print_sheet(self) -> None:
        """Write the sheet in view as PDF."""
        path = dialogs.choose_file(
            self._window.widget,
            "Print to PDF",
            str(Path(self._folder()) / f"{self._window.step}.pdf"),
            "PDF (*.pdf)",
            True,
        )
        if path is not None:
            self._window.say(
                f"Written: {path}" if sheet_to_pdf(self._window, path) else f"{path} cannot be written.", False
            )

    def offer_recovery(self) -> None:
        """Offer what an earlier run left unsaved."""
        for left in self._workspace.recovery.leftovers():
            where = f" of {left.file.name}" if left.file else ""
            answer = dialogs.ask(
                self._window.widget,
                "Unsaved work found",
                f"An earlier run ended with unsaved work{where}: {left.project.name}.",
                ("Bring it back", "Throw it away", "Later"),
            )
            if answer == "Bring it back" and self.may_drop():
                self._window.take(left.project, left.file)
                self._workspace.session.saved = None
                self._workspace.autosave()
                self._workspace.recovery.forget(left.kept)
                self._window.refresh()
                return
            if answer == "Throw it away":
                self._workspace.recovery.forget(left.kept)
