"""Photos laid true under the flat views: worked out beside the window from the marks in them."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from PyQt6.QtCore import QObject, QRectF, QSize, pyqtSignal
from PyQt6.QtGui import QImage, QPainter

from stoutlink.app.canvas.painting import Frame
from stoutlink.app.desk.background import SHOWN, Background, Progress
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.widgets.photos import unpacked
from stoutlink.core.analysis.survey.traced import PictureFit
from stoutlink.core.drawing.picture_plane import LaidTrue, laid_true
from stoutlink.core.drawing.shapes import SIGN, ViewName
from stoutlink.core.storage.photos import find_photo

MOST_WIDE = 2400
"""Pixels a side a photo is unpacked to before it is laid true."""
STRENGTH = 0.35
"""How strongly it is drawn."""


class PhotoUnder(QObject):
    """``ready`` when another one is there to be drawn."""

    ready = pyqtSignal()

    def __init__(self, workspace: Workspace, parent: QObject) -> None:
        super().__init__(parent)
        self._workspace = workspace
        self._work: Background[tuple[PictureFit, QImage | None, LaidTrue | None]] = Background(self, SHOWN)
        self._laid: dict[str, tuple[PictureFit, QImage | None, LaidTrue | None]] = {}

    def stamp(self) -> tuple[int, ...]:
        """Tells what would be drawn now from what would have been; has what is missing worked out."""
        wanted = self._wanted()
        self._laid = {key: kept for key, kept in self._laid.items() if key in wanted}
        if not self._work.busy:
            more = next((f for key, f in wanted.items() if self._laid.get(key, (None,))[0] is not f), None)
            if more is not None:
                self._begin(more)
        return tuple(id(kept[1]) for kept in self._laid.values() if kept[1] is not None)

    def _wanted(self) -> Mapping[str, PictureFit]:
        study, out = self._workspace.study, {}
        for one in self._workspace.project.tape.photos:
            found = study.picture(one.id) if one.shown else None
            if found is not None and found.fit is not None:
                out[one.id] = found
        return out

    def _begin(self, found: PictureFit) -> None:
        path = find_photo(self._workspace.photo_home, found.picture.photo)
        if path is None:
            self._laid[found.picture.id] = (found, None, None)
            return

        def work(tell: Progress) -> tuple[PictureFit, QImage | None, LaidTrue | None] | None:
            photo = unpacked(path, QSize(MOST_WIDE, MOST_WIDE)).convertToFormat(QImage.Format.Format_RGBA8888)
            bits = photo.constBits()
            if not tell(0.4):
                return None
            if photo.isNull() or bits is None:
                return found, None, None
            flat = np.frombuffer(bits.asstring(photo.sizeInBytes()), dtype=np.uint8)
            rows = flat.reshape(photo.height(), photo.bytesPerLine())[:, : 4 * photo.width()]
            laid = laid_true(found, rows.reshape(photo.height(), photo.width(), 4))
            if laid is None:
                return found, None, None
            high, wide = laid.rgba.shape[:2]
            image = QImage(laid.rgba.tobytes(), wide, high, 4 * wide, QImage.Format.Format_RGBA8888).copy()
            if SIGN[found.picture.view] < 0.0:
                image = image.mirrored(True, False)
            return found, image, laid

        self._work.start(work, self._done, lambda part: None)

    def _done(self, got: tuple[PictureFit, QImage | None, LaidTrue | None]) -> None:
        self._laid[got[0].picture.id] = got
        self.ready.emit()

    def paint(self, p: QPainter, frame: Frame, view: ViewName) -> None:
        """Paint those of a view into it."""
        p.save()
        p.setOpacity(p.opacity() * STRENGTH)
        p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        for _, image, laid in self._laid.values():
            if image is not None and laid is not None and laid.picture.view == view:
                sign = SIGN[view]
                left, right = sorted((sign * laid.low[0], sign * laid.high[0]))
                p.drawImage(QRectF(frame.at((left, laid.high[1])), frame.at((right, laid.low[1]))), image)
        p.restore()

    @property
    def busy(self) -> bool:
        """Whether one is being worked out."""
        return self._work.busy

    def stop(self) -> None:
        """Leave off, before the window goes."""
        self._work.stop()
