"""The places of a painted picture as widgets of their own, so that a screen reader finds them: role, name, value.

They are seen by nobody else: nothing is painted, the mouse and the Tab key pass through to the picture.
"""

from __future__ import annotations

from collections.abc import Callable

from msgspec import Struct
from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPaintEvent
from PyQt6.QtWidgets import QAbstractButton, QWidget

MOST = 120
"""Places told of one picture."""


class Told(Struct, frozen=True):
    """A place: where, its name, what is to be said of it, and what pressing it does."""

    box: QRectF
    name: str
    words: str
    act: Callable[[], object] | None


class Place(QAbstractButton):
    """One place."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.told: Told | None = None
        self.clicked.connect(self._press)

    def show_told(self, told: Told) -> None:
        """Be this place."""
        self.told = told
        self.setObjectName(f"place_{told.name}")
        self.setAccessibleName(told.name or told.words)
        self.setAccessibleDescription(told.words)
        self.setEnabled(told.act is not None)
        self.setGeometry(told.box.toAlignedRect())

    def _press(self) -> None:
        if self.told is not None and self.told.act is not None:
            self.told.act()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """It is only told."""


class Places:
    """The places of one picture; widgets are kept and used again."""

    def __init__(self, picture: QWidget) -> None:
        self._picture = picture
        self._widgets: list[Place] = []

    def tell(self, told: list[Told]) -> None:
        """These and no others."""
        wanted = told[:MOST]
        while len(self._widgets) < len(wanted):
            self._widgets.append(Place(self._picture))
        for place, one in zip(self._widgets, wanted, strict=False):
            place.show_told(one)
        for i, place in enumerate(self._widgets):
            place.setVisible(i < len(wanted))
