"""Labels whose words are shown as they are: names are the user's, and nothing in them is markup."""

from __future__ import annotations

import html

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QWidget


class Label(QLabel):
    """Plain words."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(text, parent)
        self.setTextFormat(Qt.TextFormat.PlainText)

    def setToolTip(self, text: str | None) -> None:
        super().setToolTip(plain_tip(text or ""))


class MarkedLabel(QLabel):
    """Words with markup of our own; whoever writes it escapes what is the user's (:func:`html.escape`)."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(text, parent)
        self.setTextFormat(Qt.TextFormat.RichText)


def plain_tip(text: str) -> str:
    """A hover text in which nothing is taken for markup."""
    return f"<qt>{html.escape(text)}</qt>" if Qt.mightBeRichText(text) else text  # type: ignore[attr-defined]
