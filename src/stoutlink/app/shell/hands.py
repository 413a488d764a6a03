"""What commands, files and printing may ask of the window; the window itself stands above them."""

from __future__ import annotations

from pathlib import Path
from typing import Protocol

from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk.memory import LightOrDark, Memory
from stoutlink.app.desk.theme import Theme
from stoutlink.app.shell.sheets import Sheets
from stoutlink.app.steps.step import Shell
from stoutlink.core.advice.finding import Finding
from stoutlink.core.document.project import Project


class Files(Protocol):
    """What is done with whole projects, and printing."""

    def new(self) -> None:
        """Start a project."""

    def open(self) -> None:
        """Choose and open a project."""

    def open_demo(self, name: str = "basalt") -> None:
        """Open a demo rig."""

    def save(self) -> bool:
        """Save; ``False`` when it did not happen."""

    def save_as(self) -> bool:
        """Save under a chosen name."""

    @property
    def folder(self) -> str:
        """Where files are looked for."""

    def reopen(self) -> None:
        """Open the last project."""

    def rename(self) -> bool:
        """Give the project another name."""

    def print_sheet(self) -> None:
        """Write the sheet in view as PDF."""

    def print_preview(self) -> None:
        """Show the sheet in view as it prints."""


class Hands(Shell, Protocol):
    """The window as its own parts see it."""

    theme: Theme
    sheets: Sheets

    @property
    def widget(self) -> QWidget:
        """What questions stand over."""

    @property
    def files(self) -> Files:
        """What is done with files."""

    def close(self) -> bool:
        """Close the window."""

    def sheet_title(self) -> str:
        """What the sheet in view is called on paper."""

    def go_to_field(self, path: str) -> None:
        """To the field of a path."""

    def go_to_finding(self, finding: Finding) -> None:
        """To the thing a finding is about."""

    def read_paper(self, name: str) -> None:
        """Read one of the papers that ship with the program."""

    def refresh(self) -> None:
        """Show the current project everywhere it is in view."""

    def take(self, project: Project, file: Path | None, lent: Path | None = None) -> None:
        """Put another project into the window."""

    def project_taken(self) -> None:
        """Another project has come in."""

    memory: Memory

    def choose_theme(self, name: LightOrDark) -> None:
        """Light or dark from now on, or as the system has it."""

    def set_theme(self, name: str) -> None:
        """Change the theme."""

    def undo(self) -> None:
        """Take back the last change."""

    def redo(self) -> None:
        """Bring back what was undone."""

    def copy_numbers(self) -> None:
        """The whole analysis as text."""

    def rescale(self, factor: float) -> None:
        """Everything larger or smaller from the next start on."""

    def switch_units(self) -> None:
        """Inches or millimetres."""

    def show_box(self) -> None:
        """The command box."""

    def show_keys(self) -> None:
        """Keys and gestures."""

    def about(self) -> None:
        """What this is."""
