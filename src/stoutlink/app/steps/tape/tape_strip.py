"""The strip of stations along the tape: typed with a numeric keypad alone, one column a station.

Enter goes on: station, height, width, next station. ``+`` between readings keeps them all (33-1/2+33-7/16), ``*``
says full width, left, right or middle. Only what is seen is painted, so a long survey types as fast as a short one.
"""

from __future__ import annotations

import math
from collections.abc import Callable

import msgspec
from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QGuiApplication, QKeyEvent, QKeySequence, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QAbstractScrollArea, QLineEdit, QWidget

from stoutlink.app.desk.not_taken import NEW, NotTaken
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.reading_text import parse_readings, pasted, readings_text
from stoutlink.core.document.survey import Reading, Survey, SurveyPoint
from stoutlink.core.editing.edits import PutInList, ReplaceList, TakeFromList
from stoutlink.core.errors import StoutError
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show
from stoutlink.core.text import whole

ROWS = ("station", "height", "side", "name")
TITLES = {"station": "Station", "height": "Height", "side": "Width", "name": "Name"}
ACROSS = ("full", "left", "right", "middle")
ACROSS_WORDS = {"full": "full width", "left": "left of middle", "right": "right of middle", "middle": "on the middle"}
COLUMN, ROW, HEAD = 96, 27, 74


class TapeStrip(QAbstractScrollArea):
    """``typing`` carries the point as it would be, ``moved`` the point the cursor is on (or an empty id on the new
    column).
    """

    typing = pyqtSignal(object)
    moved = pyqtSignal(str)

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("tape_strip")
        self.setAccessibleName("Stations along the tape")
        self.setFixedHeight(HEAD // 2 + 4 * ROW + 26)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        self._workspace = workspace
        self._theme: Theme | None = None
        self.survey_id: str | None = None
        self.suspects: set[tuple[str, str]] = set()
        self.column, self.row = 0, 0
        self._started, self._shown = "", ""
        self.make_survey: Callable[[], str | None] = lambda: None
        self.editor = _Editor(self)
        self.editor.setObjectName("tape_editor")
        self.editor.setFrame(False)
        self.editor.setFont(font(10.5))
        self.editor.textEdited.connect(self._typed)
        bar = self.horizontalScrollBar()
        if bar is not None:
            bar.valueChanged.connect(self._scrolled)

    # What it holds

    def survey(self) -> Survey | None:
        """The survey being worked on."""
        return self._workspace.project.survey(self.survey_id) if self.survey_id else None

    def points(self) -> tuple[SurveyPoint, ...]:
        """Its points in the order they were taken."""
        survey = self.survey()
        return survey.points if survey is not None else ()

    def here(self) -> SurveyPoint | None:
        """The point of the column in hand; ``None`` on the new column."""
        points = self.points()
        return points[self.column] if self.column < len(points) else None

    def refresh(self, theme: Theme) -> None:
        """Show the current project."""
        self._theme = theme
        self.column = min(self.column, len(self.points()))
        self._range()
        if self.editor.isModified() and self._shown != self._place_name:  # its cell has moved away from under it
            title = f"{TITLES[self._shown.rsplit('.', 1)[-1]]} of a station"
            self._workspace.not_taken.keep(NotTaken(self._shown, title, self.editor.text(), "It was not entered yet."))
            self.editor.setModified(False)
        if not self.editor.isModified():
            self._offer()
        self._place()
        self._view().update()

    def _view(self) -> QWidget:
        view = self.viewport()
        assert view is not None
        return view

    def _range(self) -> None:
        bar = self.horizontalScrollBar()
        if bar is not None:
            wide = HEAD + (len(self.points()) + 1) * COLUMN
            bar.setRange(0, max(0, wide - self._view().width()))
            bar.setPageStep(self._view().width())
            bar.setSingleStep(COLUMN)

    def _offset(self) -> int:
        bar = self.horizontalScrollBar()
        return bar.value() if bar is not None else 0

    # Moving

    def go(self, column: int, row: int, *, focus: bool = True) -> None:
        """Put the cursor on a cell; the text being typed must have been taken."""
        self.column = max(0, min(column, len(self.points())))
        self.row = max(0, min(row, len(ROWS) - 1))
        bar = self.horizontalScrollBar()
        if bar is not None:
            left = self.column * COLUMN
            room = self._view().width() - HEAD - COLUMN
            bar.setValue(max(left - room, min(bar.value(), left)))
        self._offer()
        self._place()
        if focus:
            self.editor.setFocus()
        point = self.here()
        self.typing.emit(None)
        self.moved.emit(point.id if point is not None else "")
        self._view().update()

    def go_to(self, point_id: str) -> None:
        """Put the cursor on a point."""
        for i, point in enumerate(self.points()):
            if point.id == point_id:
                if self.take():
                    self.go(i, self.row, focus=False)
                return

    def step(self, by: int) -> None:
        """The next (or the one before) of station, height, width; then the next column."""
        row = self.row if self.row < 3 else 2
        at = self.column * 3 + row + by
        if at >= 0:
            self.go(at // 3, at % 3)

    # Editing

    @property
    def _place_name(self) -> str:
        """Where the text of the cell in hand belongs."""
        point = self.here()
        return f"surveys.{self.survey_id}.points.{point.id if point else NEW}.{ROWS[self.row]}"

    def _offer(self) -> None:
        """Put the cell's text into the editor: what was typed there and could not be taken, else what the survey has."""
        self._offer_read()
        self._shown = self._place_name
        kept = self._workspace.not_taken.at(self._place_name)
        if kept is not None:
            self.editor.setText(kept.text)
            self.editor.setModified(True)
            self.mark(wrong=True)

    def _offer_read(self) -> None:
        point = self.here()
        key = ROWS[self.row]
        if point is None:
            text = ""
        elif key == "name":
            text = point.name
        else:
            text = readings_text(getattr(point, key), self._workspace.unit)
        self._started = text
        self.editor.setText(text)
        self.editor.setModified(False)
        self.editor.selectAll()
        self.mark(wrong=False)
        self.editor.setAccessibleName(f"{TITLES[key]} {self.column + 1}, {text or 'empty'}")

    def mark(self, *, wrong: bool) -> None:
        """Mark the editor's text as not understood."""
        if bool(self.editor.property("wrong")) != wrong:
            self.editor.setProperty("wrong", wrong)
            style = self.editor.style()
            if style is not None:
                style.unpolish(self.editor)
                style.polish(self.editor)

    def _changed(self, text: str) -> SurveyPoint:
        """The point with the cell's text in it; raises when the text is no reading."""
        point = self.here() or self._new_point()
        key = ROWS[self.row]
        if key == "name":
            return msgspec.structs.replace(point, name=text.strip()[:80])
        return msgspec.structs.replace(point, **{key: parse_readings(text, self._workspace.unit)})

    def _new_point(self) -> SurveyPoint:
        points = self.points()
        return SurveyPoint(id=free_id("p", (p.id for p in points)), across=points[-1].across if points else "full")

    def _typed(self, text: str) -> None:
        try:
            self.typing.emit(self._changed(text))
        except StoutError:
            self.typing.emit(None)

    def take(self) -> bool:
        """Use the typed text; ``False`` when it is no reading (it stays, marked, and nothing is changed)."""
        text = whole(self.editor.text().strip())
        if not self.editor.isModified() or text == self._started:
            self.forget_text()
            return True
        title = f"{TITLES[ROWS[self.row]]} {self.column + 1}"
        try:
            point = self._changed(text)
            if self.survey_id is None:
                self.survey_id = self.make_survey()
            place = self._place_name
            self.editor.setModified(False)
            self._workspace.not_taken.remove(place)
            self._workspace.attempt(
                PutInList(
                    f"surveys.{self.survey_id}.points",
                    point,
                    f"Set {TITLES[ROWS[self.row]].lower()} of station {self.column + 1}",
                )
            )
        except StoutError as why:
            sentence = why.words
            self._workspace.not_taken.keep(NotTaken(self._place_name, title, text, sentence))
            self.editor.setText(text)
            self.editor.setModified(True)
            self.mark(wrong=True)
            self._workspace.said.emit(f"{title}: {sentence}", True)
            self._workspace.texts_changed.emit()
            return False
        self._started = text
        self.forget_text()
        return True

    def forget_text(self) -> None:
        """The cell in hand has no text that is not taken."""
        self.editor.setModified(False)
        self.mark(wrong=False)
        if self._workspace.not_taken.at(self._place_name) is not None:
            self._workspace.not_taken.remove(self._place_name)
        self._workspace.texts_changed.emit()

    def paste_rows(self) -> bool:
        """Take rows from the clipboard; ``False`` when it holds no more than one cell."""
        board = QGuiApplication.clipboard()
        text = board.text() if board is not None else ""
        if "\t" not in text and "\n" not in text.strip():
            return False
        self.paste(text)
        return True

    def paste(self, text: str) -> None:
        """Lay rows of a spreadsheet over the stations from the cell in hand on, as one change."""
        self.forget_text()
        try:
            after = pasted(text, self.points(), self.column, self.row, self._workspace.unit)
            if self.survey_id is None:
                self.survey_id = self.make_survey()
            lines = sum(1 for line in text.splitlines() if line.strip())
            self._workspace.attempt(ReplaceList(f"surveys.{self.survey_id}.points", after, f"Paste {lines} rows"))
        except StoutError as why:
            self._workspace.said.emit(f"Nothing was pasted. {why.words}".strip(), True)
            return
        self._workspace.said.emit(f"{lines} rows pasted", False)
        self.go(self.column, self.row)

    def cycle_across(self) -> None:
        """Full width, left, right, middle."""
        point = self.here()
        if point is None or self.survey_id is None:
            return
        following = ACROSS[(ACROSS.index(point.across) + 1) % len(ACROSS)]
        self._workspace.do(
            PutInList(
                f"surveys.{self.survey_id}.points",
                msgspec.structs.replace(point, across=following),
                f"Read as {ACROSS_WORDS[following]}",
            )
        )

    def remove_here(self) -> None:
        """Take the column out."""
        point = self.here()
        if point is not None and self.survey_id is not None:
            self.forget_text()
            self._workspace.do(
                TakeFromList(f"surveys.{self.survey_id}.points", (point.id,), f"Remove station {self.column + 1}")
            )
            self.go(self.column, self.row)

    def insert_here(self) -> None:
        """Put a new column behind this one."""
        point = self.here()
        if point is not None and self.survey_id is not None and self.take():
            self._workspace.do(
                PutInList(f"surveys.{self.survey_id}.points", self._new_point(), "Insert a station", point.id)
            )
            self.go(self.column + 1, 0)

    # Places and painting

    def _cell(self, column: int, row: int) -> QRectF:
        return QRectF(HEAD + column * COLUMN - self._offset(), 20 + row * ROW, COLUMN, ROW)

    def _place(self) -> None:
        cell = self._cell(self.column, self.row)
        self.editor.setGeometry(int(cell.x()) + 2, int(cell.y()) + 2, COLUMN - 4, ROW - 4)
        self.editor.setVisible(cell.right() > HEAD + 4)

    def _scrolled(self) -> None:
        self._place()
        self._view().update()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._range()
        self._place()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        column = int((event.position().x() - HEAD + self._offset()) // COLUMN)
        row = int((event.position().y() - 20) // ROW)
        if event.position().x() > HEAD and 0 <= column <= len(self.points()) and self.take():
            self.go(column, max(0, min(row, 3)))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        t = self._theme
        if t is None:
            return
        view = self._view()
        with QPainter(view) as p:
            p.fillRect(view.rect(), t.sheet)
            points = self.points()
            first = max(0, self._offset() // COLUMN)
            last = min(len(points), (self._offset() + view.width() - HEAD) // COLUMN + 1)
            unit = self._workspace.unit
            p.setFont(font(9.5))
            for i in range(first, last + 1):
                left = HEAD + i * COLUMN - self._offset()
                point = points[i] if i < len(points) else None
                if i == self.column:
                    p.fillRect(QRectF(left, 0, COLUMN, view.height()), t.raised)
                bad = point is not None and (self.survey_id or "", point.id) in self.suspects
                p.setPen(t.torch if bad else t.quiet)
                p.setFont(font(8))
                number = f"{'▲ ' if bad else ''}{i + 1}" if point is not None else "new"
                p.drawText(QRectF(left, 2, COLUMN, 16), Qt.AlignmentFlag.AlignCenter, number)
                p.setPen(QPen(t.edge, 1))
                p.drawLine(int(left), 0, int(left), view.height())
                if point is not None:
                    self._column(p, t, point, left, unit)
            p.fillRect(QRectF(0, 0, HEAD, view.height()), t.plate)
            p.setFont(font(8.5))
            for row, key in enumerate(ROWS):
                y = 20 + row * ROW
                p.setPen(QPen(t.edge, 1))
                p.drawLine(0, y, view.width(), y)
                p.setPen(t.quiet)
                p.drawText(
                    QRectF(6, y, HEAD - 10, ROW),
                    Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft,
                    TITLES[key] + (", mm" if unit == "mm" and key != "name" else ""),
                )

    def _column(self, p: QPainter, t: Theme, point: SurveyPoint, left: float, unit: UnitSystem) -> None:
        for row, key in enumerate(ROWS):
            box = QRectF(left + 4, 20 + row * ROW, COLUMN - 8, ROW)
            if key == "name":
                p.setFont(font(8.5))
                p.setPen(t.text)
                p.drawText(
                    box,
                    Qt.AlignmentFlag.AlignCenter,
                    p.fontMetrics().elidedText(point.name, Qt.TextElideMode.ElideRight, COLUMN - 8),
                )
                continue
            readings: tuple[Reading, ...] = getattr(point, key)
            p.setFont(font(9.5, bold=True))
            p.setPen(t.brass)
            if readings:
                mean = math.fsum(r.value_m for r in readings) / len(readings)
                text = _bare(mean, unit)
                more = f" ×{len(readings)}" if len(readings) > 1 else ""
                edge = {"station": point.station_edge, "height": point.height_edge, "side": point.side_edge}[key]
                mark = "" if edge == "centre" else "⌐"
                p.drawText(box, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignHCenter, f"{mark}{text}{more}")
            if key == "side":
                p.setFont(font(7))
                p.setPen(t.quiet)
                short = {"full": "↔ full", "left": "L half", "right": "R half", "middle": "middle"}[point.across]
                if readings or point.across == "middle":
                    p.drawText(
                        QRectF(left, 20 + row * ROW + ROW - 11, COLUMN - 3, 10), Qt.AlignmentFlag.AlignRight, short
                    )


def _bare(value: float, unit: UnitSystem) -> str:
    """A length without its unit, which stands at the head of the row."""
    return show(value, "length", unit).removesuffix(" mm")


class _Editor(QLineEdit):
    """The one editor of the strip; keys that move it on."""

    def __init__(self, strip: TapeStrip) -> None:
        super().__init__(strip.viewport())
        self._strip = strip
        self.setAlignment(Qt.AlignmentFlag.AlignCenter)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        s, key, mods = self._strip, event.key(), event.modifiers()
        shift = bool(mods & Qt.KeyboardModifier.ShiftModifier)
        control = bool(mods & Qt.KeyboardModifier.ControlModifier)
        still = not self.isModified()
        if event.matches(QKeySequence.StandardKey.Paste) and s.paste_rows():
            return
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if s.take():
                if s.row == 3 and not shift:
                    s.go(s.column + 1, 0)
                elif not (s.here() is None and not shift):  # an empty new column has nothing to go on to
                    s.step(-1 if shift else 1)
        elif key == Qt.Key.Key_Asterisk:
            if s.take():
                s.cycle_across()
        elif key == Qt.Key.Key_Escape:
            s.forget_text()
            s.go(s.column, s.row)
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            if s.take():
                s.go(s.column, s.row + (1 if key == Qt.Key.Key_Down else -1))
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right) and still:
            s.go(s.column + (1 if key == Qt.Key.Key_Right else -1), s.row)
        elif key == Qt.Key.Key_Delete and control:
            s.remove_here()
        elif key == Qt.Key.Key_Insert:
            s.insert_here()
        elif key == Qt.Key.Key_Home and control:
            if s.take():
                s.go(0, 0)
        elif key == Qt.Key.Key_End and control:
            if s.take():
                s.go(len(s.points()), 0)
        else:
            super().keyPressEvent(event)

    def focusNextPrevChild(self, forward: bool) -> bool:
        """Tab walks all four cells of a column, then leaves the strip at its ends."""
        s = self._strip
        if not s.take():
            return True
        at = s.column * len(ROWS) + s.row + (1 if forward else -1)
        if at < 0 or (forward and s.here() is None):
            return super().focusNextPrevChild(forward)
        s.go(at // len(ROWS), at % len(ROWS))
        return True

    def focusOutEvent(self, event: object) -> None:
        super().focusOutEvent(event)  # type: ignore[arg-type]
        if self.isModified():
            self._strip.take()
