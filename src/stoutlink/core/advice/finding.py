"""A finding: a number, one sentence, what to do. The same list serves window, command line and report."""

from __future__ import annotations

from typing import Literal

from msgspec import Struct

Severity = Literal["note", "warn", "danger"]
Step = Literal["rig", "donors", "tape", "layout", "travel", "cut", "bench", "log"]


class Finding(Struct, frozen=True):
    """One thing the user should know.

    ``code`` letter and three digits; ``subject`` what it is about (with the code it identifies the finding, so that
    it can be accepted); ``why`` the reason in a sentence; ``step`` where to deal with it.
    """

    code: str
    severity: Severity
    sentence: str
    why: str
    step: Step
    subject: str = ""

    @property
    def can_be_accepted(self) -> bool:
        """Whether a reason folds it away; numbers that nobody entered stay missing whatever is said of them."""
        return self.code != "R130"

    @property
    def key(self) -> str:
        """Identity for accepting: code and subject."""
        return f"{self.code} {self.subject}".strip()


RANK: dict[Severity, int] = {"danger": 0, "warn": 1, "note": 2}
"""Order in which findings are listed."""
