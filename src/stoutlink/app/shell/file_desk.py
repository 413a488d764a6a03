"""Opening, saving, importing and exporting, with every question asked and every refusal said."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QApplication, QLineEdit

from stoutlink.app.desk import dialogs
from stoutlink.app.shell.print_out import sheet_to_pdf
from stoutlink.core.catalogue.donor_table import read_donor_file, write_donors
from stoutlink.core.catalogue.spring_table import read_springs
from stoutlink.core.document.donor_marks import donor_marks
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.project import Project
from stoutlink.core.document.survey import OutlineSolid
from stoutlink.core.editing.edits import PutInList, ReplaceList
from stoutlink.core.editing.swap_edits import ImportDonors, Known
from stoutlink.core.errors import StoutError
from stoutlink.core.reports.cut_list_csv import cut_list_csv
from stoutlink.core.reports.shaft_sheet import shaft_sheet
from stoutlink.core.reports.travel_csv import travel_csv
from stoutlink.core.storage.files import SUFFIX, read_project, write_bytes
from stoutlink.core.storage.survey_table import read_survey_file, write_survey
from stoutlink.demo import demo_file

if TYPE_CHECKING:
    from stoutlink.app.shell.window import MainWindow

PROJECTS = f"Stout Link projects (*{SUFFIX} *.json)"
TABLES = "Tables (*.csv)"
MOST_OUTLINES = 40


def leave_field() -> None:
    """Let a field being typed in hand over its value."""
    field = QApplication.focusWidget()
    if isinstance(field, QLineEdit):
        field.clearFocus()


class FileDesk:
    """What a window does with files."""

    def __init__(self, window: MainWindow) -> None:
        self._window = window
        self._workspace = window.workspace

    def may_drop(self) -> bool:
        """Ask about unsaved changes; ``True`` when the project may be replaced."""
        if not self._workspace.session.changed:
            return True
        answer = dialogs.ask(
            self._window,
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
            self._take(read_project(demo_file("starter.stoutlink")), None)
            self._window.show_step("rig")

    def open_demo(self, name: str = "basalt") -> None:
        """Open a demo rig."""
        if self.may_drop():
            self._take(read_project(demo_file(f"{name}.stoutlink")), None)

    def _take(self, project: Project, file: Path | None) -> None:
        self._window.layout_sheet.views.select(None)
        self._window.donors.end_changed()
        self._workspace.take(project, file)
        self._window.layout_sheet.end_changed()

    def open(self) -> None:
        """Choose and open a file."""
        path = dialogs.choose_file(self._window, "Open project", self._folder(), PROJECTS, False)
        if path is not None:
            self.open_path(path)

    def open_path(self, path: Path) -> None:
        """Open a file; a bad one is a message and the open project stays."""
        if not self.may_drop():
            return
        self._window.layout_sheet.views.select(None)
        try:
            self._workspace.open(path)
        except StoutError as why:
            self._window.say(f"{why.sentence} {why.hint}".strip(), True)
            dialogs.ask(
                self._window,
                "Cannot open",
                f"{why.sentence}\n\n{why.hint}\n\nThe project that was open is untouched.",
                ("OK",),
            )
            return
        self._window.donors.end_changed()
        self._window.layout_sheet.end_changed()
        self._window.refresh()
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
            self._window, "Save project", str(Path(self._folder()) / f"{stem}{SUFFIX}"), PROJECTS, True
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
            dialogs.ask(self._window, "Not saved", f"{why.sentence}\n\n{why.hint}", ("OK",))
            return False
        self._window.say(f"Saved {path}")
        return True

    def _folder(self) -> str:
        return str(self._workspace.file.parent if self._workspace.file else Path.home())

    def import_donors(self) -> None:
        """Choose a catalogue and merge it."""
        path = dialogs.choose_file(self._window, "Import donor catalogue", self._folder(), TABLES, False)
        if path is not None:
            self.import_donors_from(path)

    def import_table_from(self, path: Path) -> None:
        """Take in a dropped table: a survey when its heading has stations, springs when it has free lengths, else a
        donor catalogue.
        """
        try:
            lines = path.read_text(encoding="utf-8-sig", errors="replace").splitlines()
        except OSError:
            lines = []
        heading = next((line for line in lines if line.strip() and not line.lstrip('"').startswith("#")), "")
        if "station" in heading.casefold():
            self.import_survey_from(path)
        elif "free_in" in heading.casefold() or "free_mm" in heading.casefold():
            self.import_springs_from(path)
        else:
            self.import_donors_from(path)

    def import_donors_from(self, path: Path) -> None:
        """Merge a catalogue; bad rows are named and the others taken."""
        try:
            table = read_donor_file(path)
        except StoutError as why:
            self._window.say(f"{why.sentence} {why.hint}", True)
            return
        have = {d.id: d for d in self._workspace.project.donors}
        known: Known = "merge"
        same = [d for d in table.axles if d.id in have and have[d.id] != d]
        if same:
            names = ", ".join(d.name for d in same[:4]) + (" …" if len(same) > 4 else "")
            answer = dialogs.ask(
                self._window,
                "Axles that are here already",
                f"{len(same)} of {len(table.axles)} axles are in the project with other numbers: {names}.\n\nMerge keeps what is known and the more trusted number "
                "(measured, sheet, claim, estimate); Replace takes the table's records whole.",
                ("Merge", "Replace", "Keep mine", "Cancel"),
            )
            if answer == "Cancel":
                return
            known = {"Merge": "merge", "Replace": "replace", "Keep mine": "mine"}[answer]  # type: ignore[assignment]
        marks = tuple((one, name, basis) for (one, name), basis in table.marks.items())
        if table.axles and not self._workspace.do(ImportDonors(table.axles, marks, known)):
            return
        if table.problems:
            dialogs.ask(
                self._window,
                "Some rows were left out",
                f"{len(table.axles)} axles taken. Left out:\n\n" + "\n".join(table.problems[:12]),
                ("OK",),
            )
        self._window.say(
            f"{len(table.axles)} axles taken from {path.name}, {len(table.problems)} rows left out",
            bool(table.problems),
        )

    def import_survey(self) -> None:
        """Choose a survey table and take it in."""
        path = dialogs.choose_file(self._window, "Import survey", self._folder(), TABLES, False)
        if path is not None:
            self.import_survey_from(path)

    def import_survey_from(self, path: Path) -> None:
        """Take in a survey table as a survey of its own; bad rows are named and the others offered."""
        new = free_id("survey-", (s.id for s in self._workspace.project.surveys))
        try:
            table = read_survey_file(path, self._workspace.unit, new)
        except StoutError as why:
            self._window.say(f"{why.sentence} {why.hint}", True)
            return
        points = len(table.survey.points)
        if table.problems:
            answer = dialogs.ask(
                self._window,
                "Some rows cannot be read",
                f"{points} stations can be taken. Not understood:\n\n" + "\n".join(table.problems[:12]),
                ("Take the others", "Cancel"),
            )
            if answer == "Cancel":
                return
        if self._workspace.do(PutInList("surveys", table.survey, f"Import {table.survey.name}")):
            self._window.show_step("tape")
            self._window.tape.show_survey(new)
            self._window.say(
                f"{points} stations taken from {path.name}, {len(table.problems)} rows left out", bool(table.problems)
            )

    def export_survey(self) -> None:
        """Write the survey being worked on."""
        survey = self._workspace.project.survey(self._window.tape.survey_id or "")
        if survey is None:
            self._window.say("There is no survey yet: start one in Tape.", True)
            return
        self._write("Export survey", f"{survey.id}.csv", TABLES, write_survey(survey, self._workspace.unit).encode())

    def import_outline(self) -> None:
        """Choose a DXF drawing and take in its outlines."""
        path = dialogs.choose_file(self._window, "Import outline", self._folder(), "DXF drawings (*.dxf)", False)
        if path is not None:
            self.import_outline_from(path)

    def import_outline_from(self, path: Path) -> None:
        """Take the closed outlines of a drawing in as flat solids in the view the user names."""
        from stoutlink.core.storage.dxf_outline import read_outlines  # noqa: PLC0415 - the DXF library is slow to load and rarely wanted

        try:
            outlines = read_outlines(path, self._workspace.unit)
        except StoutError as why:
            self._window.say(f"{why.sentence} {why.hint}", True)
            return
        answer = dialogs.ask(
            self._window,
            "Outline",
            f"{path.name} holds {len(outlines)} closed outlines. In which view are they drawn?",
            ("Side", "Plan", "Rear", "Cancel"),
        )
        if answer == "Cancel":
            return
        high = max(self._workspace.rig.front.loaded, self._workspace.rig.rear.loaded)
        low, top = {"Side": (-0.05, 0.05), "Plan": (high, high + 0.1), "Rear": (0.0, 0.1)}[answer]
        new, taken = None, 0
        for n, outline in enumerate(outlines, 1):
            one = free_id("outline-", (s.id for s in self._workspace.project.solids))
            name = path.stem[:100] if len(outlines) == 1 else f"{path.stem[:100]} {n}"
            solid = OutlineSolid(
                id=one,
                name=name,
                kind="other",
                view=answer.lower(),  # type: ignore[arg-type]
                outline_m=outline,
                low_m=low,
                high_m=top,
            )
            if taken < MOST_OUTLINES and self._workspace.do(PutInList("solids", solid, f"Import outline {name}")):
                new, taken = one, taken + 1
        if new is None:
            return
        self._window.show_step("tape")
        self._window.tape.pick_solid(new)
        left = len(outlines) - taken
        self._window.say(f"{taken} outlines taken from {path.name}, the largest first, {left} left out", bool(left))

    def export_donors(self) -> None:
        """Write the catalogue."""
        self._write(
            "Export donor catalogue",
            "donors.csv",
            TABLES,
            write_donors(self._workspace.project.donors, donor_marks(self._workspace.project)).encode(),
        )

    def export_cuts(self) -> None:
        """Write the cut list."""
        cuts = self._workspace.study.cuts
        if not cuts:
            self._window.say("There is no cut list: no layout that works yet.", True)
            return
        self._write("Export cut list", "cut-list.csv", TABLES, cut_list_csv(cuts).encode())

    def export_travel(self) -> None:
        """Write the travel of the axle in work."""
        travel = self._window.travel.travel
        if travel is None:
            self._window.say("The travel is not worked out yet: look at Travel first.", True)
            return
        self._write(
            "Export travel table",
            f"travel-{travel.layout.end}.csv",
            TABLES,
            travel_csv(travel, self._window.travel.bands).encode(),
        )

    def export_shaft_sheet(self) -> None:
        """Write the sheet to order the driveshaft of the axle in work by."""
        travel = self._window.travel.travel
        words = "" if travel is None else shaft_sheet(self._workspace.project, travel)
        if travel is None or not words:
            self._window.say(
                "There is no driveshaft to order yet: it needs the output's place in Rig and the axle's pinion in Donors.",
                True,
            )
            return
        self._write("Sheet for the shaft shop", f"driveshaft-{travel.layout.end}.txt", "Text (*.txt)", words.encode())

    def import_springs(self) -> None:
        """Choose a list of springs and take it in."""
        path = dialogs.choose_file(self._window, "Read a list of springs", self._folder(), TABLES, False)
        if path is not None:
            self.import_springs_from(path)

    def import_springs_from(self, path: Path) -> None:
        """Take a list of springs in place of the one that is there; bad rows are named and the others taken."""
        try:
            table = read_springs(path.read_text(encoding="utf-8-sig", errors="replace"))
        except OSError as why:
            self._window.say(f"{path.name} cannot be read: {why.strerror}.", True)
            return
        except StoutError as why:
            self._window.say(f"{why.sentence} {why.hint}", True)
            return
        if table.springs and not self._workspace.do(ReplaceList("springs", table.springs, "Read a list of springs")):
            return
        if table.problems:
            dialogs.ask(
                self._window,
                "Some rows were left out",
                f"{len(table.springs)} springs taken. Left out:\n\n" + "\n".join(table.problems[:12]),
                ("OK",),
            )
        self._window.say(
            f"{len(table.springs)} springs taken from {path.name}, {len(table.problems)} rows left out",
            bool(table.problems),
        )

    def _write(self, title: str, name: str, pattern: str, data: bytes) -> None:
        path = dialogs.choose_file(self._window, title, str(Path(self._folder()) / name), pattern, True)
        if path is None:
            return
        try:
            write_bytes(data, path if path.suffix else path.with_suffix(Path(name).suffix))
        except StoutError as why:
            self._window.say(f"{why.sentence} {why.hint}", True)
            return
        self._window.say(f"Written: {path}")

    def print_sheet(self) -> None:
        """Write the sheet in view as PDF."""
        path = dialogs.choose_file(
            self._window, "Print to PDF", str(Path(self._folder()) / f"{self._window.step}.pdf"), "PDF (*.pdf)", True
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
                self._window,
                "Unsaved work found",
                f"An earlier run ended with unsaved work{where}: {left.project.name}.",
                ("Bring it back", "Throw it away", "Later"),
            )
            if answer == "Bring it back" and self.may_drop():
                self._take(left.project, left.file)
                self._workspace.session.saved = None
                self._workspace.autosave()
                self._workspace.recovery.forget(left.kept)
                self._window.refresh()
                return
            if answer == "Throw it away":
                self._workspace.recovery.forget(left.kept)
