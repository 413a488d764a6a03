"""Opening, saving, importing and exporting, with every question asked and every refusal said."""

from __future__ import annotations

import datetime
import os
from collections.abc import Callable
from pathlib import Path

import msgspec

from stoutlink.app.desk import dialogs
from stoutlink.app.desk.files import PROJECTS, choose_to_write, heading_of, leave_field
from stoutlink.app.desk.not_taken import not_taken_words
from stoutlink.app.shell.hands import Hands
from stoutlink.app.steps import registry
from stoutlink.core.document.project import UNNAMED
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.errors import StoutError
from stoutlink.core.storage.disk import fitting, previous_of, write_bytes
from stoutlink.core.storage.files import SUFFIX, read_project, write_project
from stoutlink.core.storage.lock import holder_of
from stoutlink.core.storage.process import this_process
from stoutlink.demo import demo_file


class FileDesk:
    """What a window does with files."""

    def __init__(self, window: Hands) -> None:
        self._window = window
        self._workspace = window.workspace

    def may_drop(self) -> bool:
        """Ask about unsaved changes and what was typed and not taken; ``True`` when the project may be replaced."""
        left = not_taken_words(self._workspace.not_taken.of(self._workspace.project))
        if not self._workspace.session.changed:
            if not left:
                return True
            answer = dialogs.ask(self._window.widget, "Typed, but not taken", left, ("Go on without it", "Cancel"))
            return answer == "Go on without it"
        answer = dialogs.ask(
            self._window.widget,
            "Unsaved changes",
            f"{self._workspace.project.name} has unsaved changes.{' ' if left else ''}{left}",
            ("Save", "Throw away", "Cancel"),
        )
        if answer == "Save":
            return self.save()
        return answer == "Throw away"

    def new(self) -> None:
        """Start over from the starter."""
        if self.may_drop():
            starter = read_project(demo_file("starter.stoutlink"))
            settings = msgspec.structs.replace(starter.settings, units=self._window.memory.units)
            self._window.take(msgspec.structs.replace(starter, settings=settings), None)
            self._window.show_step("rig")

    def open_demo(self, name: str = "basalt") -> None:
        """Open a demo rig."""
        if self.may_drop():
            path = demo_file(f"{name}.stoutlink")
            self._window.take(read_project(path), None, path)

    def open(self) -> None:
        """Choose and open a file."""
        path = self.choose("Open project", PROJECTS)
        if path is not None:
            self.open_path(path)

    def open_path(self, path: Path) -> None:
        """Open a file; a bad one is a message and the open project stays."""
        if not self.may_drop():
            return
        answer = self._ask_holder(path, "Open it all the same", "Open a copy")
        if answer == "Cancel":
            return
        try:
            if answer == "Open a copy":
                self._workspace.take(read_project(path), None, saved=False)
            else:
                self._workspace.open(path, over=answer == "Open it all the same")
        except StoutError as why:
            self._window.say(why.words, True)
            dialogs.ask(
                self._window.widget,
                "Cannot open",
                f"{why.sentence}\n\n{why.hint}\n\nThe project that was open is untouched.",
                ("OK",),
            )
            return
        self._window.project_taken()
        self._window.say(f"Opened {path}")

    def _ask_holder(self, path: Path, go_on: str, instead: str) -> str:
        """Ask when somebody else has a file open; "" when nobody has."""
        other = holder_of(path)
        if other is None:
            return ""
        here = "" if other.owner.host == this_process().host else f" on {other.owner.host}"
        words = f"{path.name} is open in another window, by {other.who}{here} since {_when(other.since)}."
        tail = "What is saved here and there would replace one another."
        return dialogs.ask(self._window.widget, "Open elsewhere", f"{words}\n\n{tail}", (go_on, instead, "Cancel"))

    def save(self) -> bool:
        """Save; ``False`` when it did not happen."""
        return self._save_to(self._workspace.file) if self._workspace.file is not None else self.save_as()

    def save_as(self) -> bool:
        """Save under a chosen name."""
        if self._workspace.project.name == UNNAMED and not self.rename("A name for this project, as it titles prints:"):
            return False
        name = "".join(c if c.isalnum() or c in " -_" else "-" for c in self._workspace.project.name)
        start = Path(self.folder) / f"{name.strip()[:80] or 'project'}{SUFFIX}"
        path = choose_to_write(self._window.widget, "Save project", start, PROJECTS)
        if path is None:
            return False
        self._seen(path)
        return self._save_to(path)

    def rename(self, prompt: str = "Another name for this project:") -> bool:
        """Ask for the project's name; ``False`` when it was given up."""
        leave_field()
        project = self._workspace.project
        start = project.name if project.name != UNNAMED else ""
        name = dialogs.ask_text(self._window.widget, "Name of the project", prompt, start)
        if name is None or not name.strip():
            return False
        return self._workspace.do(SetChoice("name", name.strip(), "name of the project"))

    def _save_to(self, path: Path) -> bool:
        leave_field()
        answer = self._ask_foreign(path)
        if answer == "Save mine under another name":
            return self.save_as()
        if answer == "Open theirs":
            self._open_theirs(path)
            return False
        if answer == "Cancel":
            return False
        try:
            self._workspace.save(path)
        except StoutError as why:
            self._window.say(why.words, True)
            dialogs.ask(self._window.widget, "Not saved", f"{why.sentence}\n\n{why.hint}", ("OK",))
            return False
        left = not_taken_words(self._workspace.not_taken.of(self._workspace.project))
        self._window.say(f"Saved {path}{'. ' if left else ''}{left}", bool(left))
        return True

    def _ask_foreign(self, path: Path) -> str:
        """Ask before what somebody else has written, or has open, is written over; "" when there is nothing to ask."""
        here = self._workspace.file
        own = here is not None and os.path.lexists(path) and os.path.realpath(path) == os.path.realpath(here)
        changed = self._workspace.changed_on_disk() if own else None
        if changed is not None:
            return dialogs.ask(
                self._window.widget,
                "Changed on disk",
                f"{path.name} was changed by another program or window {_when(changed)}, after it was opened here."
                f"\n\nSaving over it keeps that version as {previous_of(path).name}.",
                ("Save over it", "Save mine under another name", "Open theirs", "Cancel"),
            )
        if here == path and self._workspace.gone_from_disk():
            return dialogs.ask(
                self._window.widget,
                "Gone from disk",
                f"{path.name} is no longer in {path.parent}: it was removed, renamed, or its disk is not there."
                "\n\nWhat is in this window is whole.",
                ("Save it there again", "Save mine under another name", "Cancel"),
            )
        return self._ask_holder(path, "Save all the same", "Save mine under another name")

    def _open_theirs(self, path: Path) -> None:
        """Take what is on disk in place of what is here; what is here goes to a file of its own first."""
        aside = path.with_name(fitting(path, ".mine" + SUFFIX))
        try:
            write_project(self._workspace.project, aside)
            self._workspace.open(path)
        except StoutError as why:
            self._window.say(why.words, True)
            return
        self._window.project_taken()
        self._window.say(f"Opened {path} as it is on disk; yours is in {aside.name}")

    @property
    def folder(self) -> str:
        """Where files are looked for: beside the project, else where they were last."""
        if self._workspace.file is not None:
            return str(self._workspace.file.parent)
        last = self._window.memory.folder
        return last if last and Path(last).is_dir() else str(Path.home())

    def _seen(self, path: Path) -> None:
        """Remember where a file was chosen."""
        self._window.memory = msgspec.structs.replace(self._window.memory, folder=str(path.parent))

    def reopen(self) -> None:
        """Open the project that was open last."""
        last = next(iter(self._workspace.recent()), None)
        if last is None:
            self._window.say("No project was open before")
        else:
            self.open_path(last)

    def take_all(self, paths: list[Path]) -> None:
        """Files that were dropped together: one project first, then what goes into it; what cannot be taken is named."""
        kinds = {i.suffix for step in registry.STEPS for i in step.intakes(self._window)}
        projects = [p for p in paths if p.suffix.lower() not in kinds]
        if len(paths) == 1:
            self.take(paths[0])
            return
        mine = [p for p in projects if p.suffix.lower() == SUFFIX]
        if mine:
            self.open_path(mine[0])
        others = [p for p in paths if p not in projects]
        for path in others:
            self.take(path)
        left = [p.name for p in projects if p not in mine[:1]]
        if left:
            why = "one project at a time is open" if len(mine) > 1 else "no project, table or drawing"
            taken = len(paths) - len(left)
            self._window.say(f"{taken} of {len(paths)} files taken. Not taken: {', '.join(left)} ({why}).", True)

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
        path = dialogs.choose_file(self._window.widget, title, self.folder, pattern, False)
        if path is not None:
            self._seen(path)
        return path

    def write(self, title: str, name: str, pattern: str, make: Callable[[str], bytes]) -> None:
        """Have a file named and write it, saying so or why not."""
        path = choose_to_write(self._window.widget, title, Path(self.folder) / name, pattern)
        if path is None:
            return
        try:
            write_bytes(make(path.suffix.lower()), path)
        except StoutError as why:
            self._window.say(why.words, True)
            return
        self._window.say(f"Written: {path}")

    def print_preview(self) -> None:
        """Show the sheet in view as it prints, to a printer or into a PDF file."""
        from stoutlink.app.shell import print_out  # noqa: PLC0415 - loaded when somebody prints

        leave_field()
        printer = print_out.printer_for(self._window, print_out.paper_here())
        dialogs.preview(self._window.widget, printer, lambda on: print_out.print_sheet(self._window, on))

    def print_sheet(self) -> None:
        """Write the sheet in view as PDF."""
        from stoutlink.app.shell import print_out  # noqa: PLC0415

        def make(suffix: str) -> bytes:
            return print_out.sheet_as_pdf(self._window, print_out.paper_here())

        self.write("Print to PDF", f"{self._window.step}.pdf", "PDF (*.pdf)", make)

    def offer_recovery(self) -> None:
        """Offer what an earlier run left unsaved, and name what of it cannot be read."""
        recovery = self._workspace.recovery
        for left in recovery.leftovers():
            where = f" of {left.file.name}" if left.file else ""
            later = ""
            if left.file is not None and left.file_newer is not None:
                later = f"\n\n{left.file.name} was saved after that, {_when(left.file_newer)}; it stays as it is until you save over it."
            answer = dialogs.ask(
                self._window.widget,
                "Unsaved work found",
                f"An earlier run ended with unsaved work{where}: {left.project.name}, kept {_when(left.when)}.{later}",
                ("Bring it back", "Throw it away", "Later"),
            )
            if answer == "Bring it back" and self.may_drop():
                kept = self._workspace.bring_back(left)
                self._window.project_taken()
                if kept:
                    self._window.say(f"Brought back{where}; it is not saved yet")
                return
            if answer == "Throw it away":
                recovery.forget(left.kept)
        for path, why in recovery.unreadable():
            self._window.say(f"Unsaved work of an earlier run cannot be read: {why.sentence} It stays at {path}.", True)


def _when(seconds: float) -> str:
    """A moment in words: the time of today, else the day with it."""
    then, now = datetime.datetime.fromtimestamp(seconds), datetime.datetime.now()
    if then.date() == now.date():
        return f"today at {then:%H:%M:%S}"
    return f"on {then:%Y-%m-%d} at {then:%H:%M}"
