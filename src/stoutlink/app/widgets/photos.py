"""Photos of what a look shows: chosen or dropped, copied beside the project and shown small, all of it beside the window."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from pathlib import Path

from PyQt6.QtCore import QMimeData, QObject, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QImage, QImageIOHandler, QImageReader, QPainter, QPixmap
from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk import dialogs
from stoutlink.app.desk.background import ASKED, SHOWN, Background
from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.widgets.picture import Hit, Picture, flow, plate
from stoutlink.core.errors import StoutError
from stoutlink.core.storage.photos import SUFFIXES, add_photo, find_photo

Take = Callable[[str], object]
PICTURES = f"Pictures ({' '.join(f'*{one}' for one in SUFFIXES)})"
WIDE, HIGH, GAP = 112.0, 84.0, 8.0
MOST_PIXELS = 400_000_000
"""A picture of more is not unpacked: no camera makes it, and it would fill the memory."""


class Photos(QObject):
    """``aim`` gives what puts the name of a copied photo to the thing that is shown now, and goes on meaning that thing;
    ``None`` where nothing is shown that takes one.
    """

    def __init__(self, look: QWidget, workspace: Workspace, aim: Callable[[], Take | None]) -> None:
        super().__init__(look)
        self._look, self._workspace, self._aim = look, workspace, aim
        self._small: dict[Path, QPixmap | None] = {}
        self._copying: Background[str] = Background(self, ASKED)
        self._waiting: list[tuple[Path, Take]] = []
        self._unpacking: Background[QImage] = Background(self, SHOWN)

    # Taking one in

    def choose(self, title: str) -> None:
        """Have one chosen."""
        path = dialogs.choose_file(self._look, title, str(Path.home()), PICTURES, False)
        if path is not None:
            self.add(path)

    def add(self, *paths: Path) -> None:
        """Copy photos beside the project, one after the other, and put each to what is shown now."""
        take = self._aim()
        if take is None or not paths:
            return
        if self._workspace.file is None:
            self._workspace.said.emit("Save the project first: photos lie beside its file.", True)
            return
        self._waiting += [(path, take) for path in paths]
        if not self._copying.busy:
            self._next()

    def _next(self) -> None:
        file = self._workspace.file
        if not self._waiting or file is None:
            self._waiting = []
            return
        (path, take), session = self._waiting.pop(0), self._workspace.session
        self._workspace.said.emit(f"Copying {path.name}…", False)

        def done(name: str) -> None:
            if self._workspace.session is session:  # another project has come in: it gets nothing of this one
                take(name)
                self._workspace.said.emit(f"{path.name} lies beside the project now", False)
            self._next()

        def failed(why: StoutError) -> None:
            words = why.words
            self._workspace.said.emit(words, True)
            self._next()

        self._copying.start(lambda _: add_photo(file, path), done, lambda _: None, failed)

    def drag(self, event: QDragEnterEvent | None) -> None:
        """Something is dragged over the look."""
        if event is not None and _pictures(event.mimeData()):
            event.acceptProposedAction()

    def drop(self, event: QDropEvent | None) -> None:
        """Something was dropped on it."""
        self.add(*([] if event is None else _pictures(event.mimeData())))

    def stop(self) -> None:
        """Leave off, before the window goes."""
        self._waiting = []
        self._copying.stop()
        self._unpacking.stop()

    # Showing them

    def paint(self, p: QPainter, t: Theme, picture: Picture, names: Iterable[str], left: float, top: float, wide: float) -> float:  # fmt: skip
        """Paint photos small in rows from ``left``, ``top``; returns where the last row ends."""
        x, y, bottom = left, top, top
        for name in names:
            if x > left and x + WIDE > left + wide:
                x, y = left, y + HIGH + GAP
            box = QRectF(x, y, WIDE, HIGH)
            path = find_photo(self._workspace.photo_home, name)
            small = None if path is None else self._small_of(path, picture.devicePixelRatioF())
            if small is not None:
                size = small.deviceIndependentSize()
                p.drawPixmap(box.center() - QPointF(size.width() / 2, size.height() / 2), small)
                tip = "A photo, turned as the camera was held."
            else:
                plate(p, t, box)
                tip = self._instead(path)
                flow(p, box.adjusted(6, 6, -4, -4), tip, t.torch if path not in self._unread() else t.quiet, size=8.5)
            picture.hits.append(Hit(box, tip, None, f"photo {name[:12]}"))
            x, bottom = x + WIDE + GAP, y + HIGH
        return bottom

    def _unread(self) -> set[Path | None]:
        """Those that have not been unpacked yet."""
        return {path for path, small in self._small.items() if small is not None and small.isNull()}

    def _instead(self, path: Path | None) -> str:
        if path is None:
            return "Picture missing: it is not beside the project any more."
        return (
            "Unpacking…" if path in self._unread() else "This picture cannot be shown: it is damaged or far too large."
        )

    def _small_of(self, path: Path, ratio: float) -> QPixmap | None:
        """A photo small; ``None`` while it is not unpacked, or where it cannot be."""
        if path not in self._small:
            self._small[path] = QPixmap()  # asked for
            if not self._unpacking.busy:
                self._unpack(path, ratio)
        found = self._small[path]
        return None if found is None or found.isNull() else found

    def _unpack(self, path: Path, ratio: float) -> None:
        def done(image: QImage) -> None:
            small = QPixmap.fromImage(image)
            small.setDevicePixelRatio(ratio)
            self._small[path] = None if small.isNull() else small
            self._look.update()
            for child in self._look.findChildren(Picture):
                child.update()
            more = next(iter(self._unread()), None)
            if more is not None:
                self._unpack(more, ratio)

        box = QSize(int(WIDE * ratio), int(HIGH * ratio))
        self._unpacking.start(lambda _: unpacked(path, box), done, lambda _: None)


def unpacked(path: Path, box: QSize) -> QImage:
    """A photo turned as the camera was held, no larger than ``box``; a null image for what cannot be."""
    reader = QImageReader(str(path))
    reader.setAutoTransform(True)
    size = reader.size()
    if not size.isValid() or size.width() * size.height() > MOST_PIXELS:
        return QImage()
    quarter = bool(reader.transformation() & QImageIOHandler.Transformation.TransformationRotate90)  # held upright
    fit = size.scaled(box.transposed() if quarter else box, Qt.AspectRatioMode.KeepAspectRatio)
    if fit.width() < size.width():
        reader.setScaledSize(fit)
    return reader.read()


def _pictures(mime: QMimeData | None) -> list[Path]:
    """Files of pictures in what is dragged."""
    urls = [] if mime is None else mime.urls()
    return [Path(u.toLocalFile()) for u in urls if u.toLocalFile().lower().endswith(SUFFIXES)]
