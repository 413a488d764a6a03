"""A photo as pixels, unpacked beside the window: held upright, no larger than is of use on a screen."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QObject, QSize, pyqtSignal
from PyQt6.QtGui import QImage

from stoutlink.app.desk.background import SHOWN, Background
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.widgets.photos import unpacked
from stoutlink.core.document.plane_picture import PlanePicture
from stoutlink.core.storage.photos import find_photo

MOST_WIDE = 3000
"""Pixels a side that are kept to look at."""


class PhotoFile(QObject):
    """The last photo asked for; ``ready`` when it is there or cannot be had."""

    ready = pyqtSignal()

    def __init__(self, workspace: Workspace, parent: QObject) -> None:
        super().__init__(parent)
        self._workspace = workspace
        self._work: Background[QImage] = Background(self, SHOWN)
        self._asked: Path | None = None
        self._image: QImage | None = None

    def of(self, picture: PlanePicture) -> tuple[QImage | None, str]:
        """Its pixels, or what to say meanwhile."""
        path = find_photo(self._workspace.photo_home, picture.photo)
        if path is None:
            self._asked, self._image = None, None
            return None, "The picture is missing: it is not beside the project any more. What was traced stays."
        if path != self._asked:
            self._asked, self._image = path, None
            self._work.start(lambda _: unpacked(path, QSize(MOST_WIDE, MOST_WIDE)), self._done, lambda part: None)
        if self._image is None:
            return None, "Unpacking…"
        if self._image.isNull():
            return None, "This picture cannot be shown: it is damaged or far too large."
        return self._image, ""

    def _done(self, image: QImage) -> None:
        self._image = image
        self.ready.emit()

    @property
    def busy(self) -> bool:
        """Whether it is being unpacked."""
        return self._work.busy

    def stop(self) -> None:
        """Leave off, before the window goes."""
        self._work.stop()
