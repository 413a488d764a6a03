"""Numbers and words that belong to a place on a drawing: laid beside it, never over one another, over a handle, or out of the
pane; those there is no room for are left out, the least important first.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence

from msgspec import Struct
from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from stoutlink.app.canvas.painting import Frame, note_look
from stoutlink.app.desk.theme import Theme, font
from stoutlink.core.drawing.shapes import Note

NEAR, FAR = 7.0, 24.0
"""How far from its place a tag stands at first, and where there is no room, pixels."""
PAD = QSizeF(8.0, 3.0)
WAYS = ((1, -1), (1, 1), (-1, -1), (-1, 1), (0, -1), (0, 1), (1, 0), (-1, 0))
"""Which side of its place a tag is tried on, the first first."""
WEIGHTS = {"load_push": 3, "load_pull": 3, "force": 2, "cg": 2, "dimension": 2}
"""What matters more is placed first; all else weighs 1."""


class Tag(Struct, frozen=True):
    """Words at a pixel; ``weight`` says which goes first."""

    at: QPointF
    text: str
    colour: QColor
    weight: int = 1
    bold: bool = False


class Laid(Struct, frozen=True):
    """A tag and where it stands."""

    tag: Tag
    box: QRectF


def lay_out(
    tags: Sequence[Tag], pane: QRectF, taken: Iterable[QRectF], size: Callable[[Tag], QSizeF]
) -> tuple[Laid, ...]:
    """Places for tags within a pane, clear of what is ``taken`` and of each other; ``size`` of a tag's words."""
    full = list(taken)
    out: list[Laid] = []
    for tag in sorted(tags, key=lambda one: -one.weight):
        if not pane.contains(tag.at) or any(_same(tag, one.tag) for one in out):
            continue
        words = size(tag) + PAD
        box = next(
            (b for b in _places(tag.at, words) if pane.contains(b) and not any(b.intersects(f) for f in full)), None
        )
        if box is not None:
            full.append(box)
            out.append(Laid(tag, box))
    return tuple(out)


def _same(one: Tag, other: Tag) -> bool:
    """The same said of nearly the same place, as of a left and a right part seen from the side."""
    return one.text == other.text and (one.at - other.at).manhattanLength() < FAR


def _places(at: QPointF, words: QSizeF) -> Iterable[QRectF]:
    """Where a tag may stand, the best first."""
    for off in (NEAR, FAR):
        for across, down in WAYS:
            x = at.x() + across * off - (words.width() if across < 0 else 0.5 * words.width() if across == 0 else 0.0)
            y = at.y() + down * off - (words.height() if down < 0 else 0.5 * words.height() if down == 0 else 0.0)
            yield QRectF(QPointF(x, y), words)


def notes_as_tags(notes: Iterable[Note], frame: Frame, t: Theme) -> list[Tag]:
    """The words of shapes, as tags."""
    out = []
    for one in notes:
        colour, bold = note_look(one.role, t)
        out.append(Tag(frame.at(one.at), one.text, colour, WEIGHTS.get(one.role, 1), bold))
    return out


def gap_tag(p: QPainter, t: Theme, a: QPointF, b: QPointF, gap: float, words: str, place: int) -> Tag:
    """The line of a least distance, painted, and its number, to be laid out; ``place``: 0 for the worst pair."""
    colour = t.oxide if gap <= 0 else t.torch
    p.setPen(QPen(colour, 2))
    p.setBrush(t.sheet)
    p.drawLine(a, b)
    for end in (a, b):
        p.drawEllipse(end, 3.0, 3.0)
    return Tag((a + b) / 2, words, colour, 9 - place, True)


def paint_tags(
    p: QPainter, t: Theme, tags: Sequence[Tag], pane: QRectF, taken: Iterable[QRectF] = ()
) -> tuple[Laid, ...]:
    """Lay tags out and paint them over everything: words on a plate of their own, and a thread to a place they stand off."""

    def size(tag: Tag) -> QSizeF:
        p.setFont(font(8.5, bold=tag.bold))
        return QSizeF(p.fontMetrics().horizontalAdvance(tag.text), p.fontMetrics().height())

    laid = lay_out(tags, pane, taken, size)
    plate = QColor(t.sheet)
    plate.setAlpha(225)
    for one in laid:
        foot = QPointF(
            min(max(one.tag.at.x(), one.box.left()), one.box.right()),
            min(max(one.tag.at.y(), one.box.top()), one.box.bottom()),
        )
        off = foot - one.tag.at
        if off.manhattanLength() > 1.8 * NEAR:
            p.setPen(QPen(one.tag.colour, 0.8))
            p.drawLine(one.tag.at, foot)
        p.fillRect(one.box, plate)
        p.setFont(font(8.5, bold=one.tag.bold))
        p.setPen(one.tag.colour)
        p.drawText(one.box, int(Qt.AlignmentFlag.AlignCenter), one.tag.text)
    return laid
