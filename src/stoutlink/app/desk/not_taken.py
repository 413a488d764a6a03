"""Text that was typed and is no value: it stays where it was typed, marked, until the user removes it."""

from __future__ import annotations

from msgspec import Struct

from stoutlink.core.document.paths import get_value
from stoutlink.core.document.project import Project
from stoutlink.core.editing.edits import Edit
from stoutlink.core.text import one_line

NEW = "+"
"""Stands in a place for what is not in the project yet, such as a new station."""


class NotTaken(Struct, frozen=True):
    """What was typed where (a path of the project), what the place is called, and why it was not taken.

    ``edit`` is what it asks for, where it is a value that only does not go with another: it waits, and is taken as soon
    as the other has changed.
    """

    place: str
    title: str
    text: str
    why: str
    edit: Edit | None = None

    @property
    def words(self) -> str:
        """For a sentence: the place and the text."""
        return f"{self.title} “{one_line(self.text, 40)}”"


class NotTakenTexts:
    """All such texts of a window, by place."""

    def __init__(self) -> None:
        self._texts: dict[str, NotTaken] = {}

    def keep(self, one: NotTaken) -> None:
        """Keep a text; it replaces the one that was kept at its place."""
        self._texts[one.place] = one

    def at(self, place: str) -> NotTaken | None:
        """The text kept at a place."""
        return self._texts.get(place)

    def remove(self, place: str) -> None:
        """The user has taken a text away, or made a value of it."""
        self._texts.pop(place, None)

    def clear(self) -> None:
        """Another project has come in."""
        self._texts.clear()

    def of(self, project: Project) -> tuple[NotTaken, ...]:
        """Those whose place is in the project (what stood on something that is gone went with it)."""
        return tuple(one for one in self._texts.values() if _there(project, one.place))


def _there(project: Project, place: str) -> bool:
    try:
        get_value(project, place.split(f".{NEW}", maxsplit=1)[0])
    except KeyError:
        return False
    return True


def not_taken_words(texts: tuple[NotTaken, ...]) -> str:
    """A sentence that names them; "" for none."""
    if not texts:
        return ""
    more = f" and {len(texts) - 3} more" if len(texts) > 3 else ""
    return f"Not taken: {', '.join(one.words for one in texts[:3])}{more}."
