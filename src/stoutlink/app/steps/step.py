"""What a step of the route is: registered once, in its own folder, and everything the window does with it follows.

The window's menus, keys, command box, route, pictures from the command line, help, and where *Go* leads are made from these.
"""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Protocol, TypeVar

from msgspec import Struct
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QWidget

from stoutlink.app.canvas.view_geometry import Large
from stoutlink.app.desk.actions import Command
from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.panels.instrument_desk import InstrumentDesk
from stoutlink.app.widgets.kept_line import KeptLine
from stoutlink.app.widgets.look_bar import Looks
from stoutlink.core.advice.finding import Finding
from stoutlink.core.study.route_state import StepState
from stoutlink.core.study.study import Study


class Sheet(QWidget):
    """A step's sheet. What it does not need it leaves as it is here."""

    def refresh(self, theme: Theme) -> None:
        """Show the current project."""
        raise NotImplementedError

    def look(self, key: str) -> None:
        """Put one of its looks up."""

    def go(self, finding: Finding) -> None:
        """Go to what a finding is about: the look, the part, the pose, the field."""

    def open(self, subject: str) -> None:
        """Have an end or an assembly in work."""

    def show_field(self, path: str) -> bool:
        """Put the field of a path in view and into the keys; ``False`` where there is none."""
        return focus_field(self, path)

    def in_view(self, path: str) -> bool:
        """Whether what a path is about is to be seen as it is."""
        return True

    def end_changed(self) -> None:
        """The other axle is in work."""

    def project_taken(self) -> None:
        """Another project has come into the window."""

    def stop(self) -> None:
        """Leave off work beside the window, before it goes."""

    def as_text(self) -> str:
        """What it shows, in words."""
        return ""

    def fit(self) -> None:
        """Bring everything drawn into view."""

    def zoom(self, factor: float) -> None:
        """Draw larger or smaller."""

    def arrange(self, large: Large | None = None) -> None:
        """Have one of the linked views large, or all as the window remembers it."""

    def look_from(self, turn: float, tilt: float) -> None:
        """Have the round view seen from a side, for a picture: turn and tilt, °."""

    def fold(self) -> None:
        """Put the results beside the drawing away, or bring them back."""

    def move_axle(self, stations: int) -> None:
        """Move the axle by steps of heave."""

    def to_ride(self) -> None:
        """Put the axle back at ride height."""

    def ready(self) -> bool:
        """Whether what is in view has been worked out: a picture of it waits for that."""
        return True

    def pose(self, heave: int, roll: int) -> None:
        """Go to a pose, for a picture: stations from ride."""
        self.move_axle(heave)

    def pick(self, subject: str, part: str) -> None:
        """Pick a part of a thing (a pivot of a link), for a picture."""


def focus_field(owner: QWidget, path: str) -> bool:
    """Give the keys to the field of a path among those in view below ``owner``."""
    for field in owner.findChildren(KeptLine):
        if field.place == path and field.isVisibleTo(owner):
            field.setFocus(Qt.FocusReason.OtherFocusReason)
            return True
    return False


S = TypeVar("S", bound=Sheet)


class Shell(Protocol):
    """What the window lends its steps."""

    workspace: Workspace
    instruments: InstrumentDesk
    step: str

    def say(self, text: str, problem: bool = False) -> None:
        """One sentence in the status line."""

    def show_step(self, step: str) -> None:
        """Put a step's sheet up."""

    def open_at(self, step: str, look: str, subject: str) -> None:
        """Put a step's sheet up with one of its looks, at an end or an assembly."""

    def sheet(self, kind: type[S]) -> S:
        """The sheet of this class."""

    def to_clipboard(self, text: str, what: str) -> None:
        """Copy text, saying what it is."""

    def ask(self, title: str, text: str, answers: tuple[str, ...]) -> str:
        """Ask; closing the box is the last answer."""

    def choose(self, title: str, pattern: str) -> Path | None:
        """Have a file chosen to be read."""

    def write(self, title: str, name: str, pattern: str, data: bytes) -> None:
        """Have a file named and write it, saying so or why not."""

    def write_as(self, title: str, name: str, pattern: str, make: Callable[[str], bytes]) -> None:
        """The same, with what is written made for the suffix that was chosen."""


class Intake(Struct, frozen=True):
    """A kind of file a step takes in: its suffix, whether a table with this heading is meant (``""`` for other files),
    and what is done with it."""

    suffix: str
    meant: Callable[[str], bool]
    take: Callable[[Path], None]


def _none(shell: Shell) -> list[Command]:
    return []


def _nothing(shell: Shell) -> list[Intake]:
    return []


class Step(Struct, frozen=True):
    """A step: its names, its sheet, its state on the route, its looks, its commands and the files it takes in."""

    id: str
    title: str
    help_text: str
    make: Callable[[Shell], Sheet]
    kind: type[Sheet]
    """The class of its sheet."""
    state: Callable[[Study], StepState]
    looks: Looks = ()
    commands: Callable[[Shell], list[Command]] = _none
    intakes: Callable[[Shell], list[Intake]] = _nothing
    owns: tuple[str, ...] = ()
    """Parts of a project whose fields are on its sheet, by the first word of their path."""
