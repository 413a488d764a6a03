"""The steel of an axle in three views with its parts on it: a click picks one."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter, QPen, QPolygonF

from stoutlink.app.canvas.painting import Frame, paint
from stoutlink.app.desk.theme import Theme
from stoutlink.app.widgets.picture import Hit, Picture, text
from stoutlink.core.analysis.linkage.part import Part, on_rig
from stoutlink.core.drawing.parts_on_rig import part_outlines, steel_shapes
from stoutlink.core.drawing.shapes import ViewName
from stoutlink.core.study.study import Study

VIEWS: tuple[tuple[ViewName, str], ...] = (("side", "side"), ("plan", "plan"), ("rear", "from behind"))
AROUND = 0.25
"""Of the axle's surroundings shown beside its parts and links, m."""


def paint_steel(
    p: QPainter, t: Theme, picture: Picture, study: Study, end: str, picked: str, pick: Callable[[str], None]
) -> None:
    """Three panes side by side, each to the same scale; narrow pictures have side and rear over the plan."""
    w, h = float(picture.width()), float(picture.height())
    low, high = _room(study, end)
    gap = 8.0
    boxes = [
        QRectF(4, 4, 0.56 * w - 4, 0.5 * h - 6),
        QRectF(4, 0.5 * h + 2, 0.56 * w - 4, 0.5 * h - 6),
        QRectF(0.56 * w + gap, 4, 0.44 * w - gap - 4, h - 8),
    ]
    spans = {"side": (0, 2), "plan": (0, 1), "rear": (1, 2)}
    scale = min(
        min(
            (box.width() - 16) / (high[a] - low[a]),
            (box.height() - 34) / (high[b] - low[b]),
        )
        for box, (a, b) in zip(boxes, spans.values(), strict=True)
    )
    for (view, word), box in zip(VIEWS, boxes, strict=True):
        a, b = spans[view]
        across, up = 0.5 * (low[a] + high[a]), 0.5 * (low[b] + high[b])
        middle = (-across if view == "rear" else across, up)
        origin = QPointF(box.center().x() - middle[0] * scale, box.center().y() + 8 + middle[1] * scale)
        frame = Frame(origin, scale)
        p.save()
        p.setClipRect(box)
        paint(p, steel_shapes(study, end, view, picked), frame, t)
        p.restore()
        p.setPen(QPen(t.edge, 1))
        p.drawRect(box)
        text(p, box.adjusted(6, 2, 0, -(box.height() - 16)), word, t.quiet, size=8.5)
        for part in study.parts(end):
            _hits(picture, part, view, frame, box, pick)


def _hits(picture: Picture, part: Part, view: ViewName, frame: Frame, box: QRectF, pick: Callable[[str], None]) -> None:
    for k, rim in enumerate(part_outlines(part, view)):
        place = QPolygonF([frame.at(q) for q in rim]).boundingRect().adjusted(-3, -3, 3, 3).intersected(box)
        if not place.isEmpty():
            name = f"steel {view} {part.id} {k + 1}"
            picture.hits.append(Hit(place, f"{part.name}. Click to see it large.", lambda: pick(part.id), name))


def _room(study: Study, end: str) -> tuple[list[float], list[float]]:
    """The corners of the box round an axle's parts and links, m."""
    rig, layout = study.true.rig, study.project.layout(end)
    middle = (rig.wheelbase_m if end == "front" else 0.0, 0.0, rig.end(end).loaded)
    spots = [middle]
    for part in study.parts(end):
        spots += [q for rim in on_rig(part) for q in rim]
    if layout is not None:
        spots += [pivot for link in layout.links for pivot in (link.frame_pivot_m, link.axle_pivot_m)]
    low = [min(s[k] for s in spots) - AROUND for k in range(3)]
    high = [max(s[k] for s in spots) + AROUND for k in range(3)]
    return low, high
