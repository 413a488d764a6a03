"""One base for every failure the program can explain, and its family.

Each error carries a number (``code``) and one sentence for the user that names the field, the value
found and what would be accepted. ``hint`` says what to do next. Nothing here is ever shown as a traceback.
"""

from __future__ import annotations

from stoutlink.core.text import one_line


class StoutError(Exception):
    """Base of all explained failures.

    Parameters: ``code`` (letter and three digits), ``sentence`` (one clear sentence), ``hint`` (what to do, may be
    empty). Whatever text they quote, each is one line of at most 300 characters.
    """

    def __init__(self, code: str, sentence: str, hint: str = "") -> None:
        self.code = code
        self.sentence = one_line(sentence)
        self.hint = one_line(hint)
        super().__init__(f"{code} {self.sentence}")

    @property
    def words(self) -> str:
        """All that is said to a user: the sentence, and what to do."""
        return f"{self.sentence} {self.hint}".strip()


class TextError(StoutError):
    """Typed text that is not a quantity; the old value stays."""


class ValueOutOfRange(StoutError):
    """A number that is finite but cannot be meant (negative tyre, 40 m wheelbase)."""


class GeometryError(StoutError):
    """Points that coincide, bars without length, links that hold nothing."""


class FileError(StoutError):
    """A file that cannot be read, decoded, or written."""


class CatalogueError(StoutError):
    """A row of a bought-parts table that cannot be used."""
