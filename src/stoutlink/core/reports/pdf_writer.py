"""Shapes on paper: white, black, at a true scale, tiled over as many pages as it takes, with a bar to check each by."""

from __future__ import annotations

import io
import math
from collections.abc import Callable, Iterable, Sequence
from importlib.resources import as_file, files
from typing import TYPE_CHECKING, Literal

from msgspec import Struct

from stoutlink.core.drawing.shapes import Arc, Flat, Line, Oval, Plain, Role, Shape, extent_of, plain
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.reports.dxf_writer import tube_outline

if TYPE_CHECKING:
    from reportlab.pdfgen.canvas import Canvas

Paper = Literal["A4", "Letter"]
PAPERS: dict[Paper, tuple[float, float]] = {"A4": (0.210, 0.297), "Letter": (0.2159, 0.2794)}
"""Width and height upright, m (ISO 216; ANSI/ASME Y14.1 size A)."""
POINT = 0.0254 / 72.0
"""A point of the page, m."""
LETTERS = 0.0025
"""Height of words on paper, m (ISO 3098)."""
MARGIN, HEAD, OVERLAP = 0.010, 0.014, 0.010
"""Edge left white, title block, and what neighbouring pages share, m."""
PENS: dict[Role, tuple[float, tuple[float, ...]]] = {
    "cut": (0.6, ()), "mark": (0.3, ()), "bend": (0.4, (8.0, 2.0, 2.0, 2.0)), "dimension": (0.25, ()), "construction": (0.3, (4.0, 3.0)),
    "centreline": (0.25, (10.0, 3.0, 2.0, 3.0)), "ghost": (0.3, (3.0, 3.0)), "compared": (0.5, (6.0, 2.0, 1.5, 2.0)), "ground": (0.9, ()),
    "rail": (0.8, ()), "rail_far": (0.5, (5.0, 2.0)), "room": (0.3, (2.0, 2.0)), "neutral": (0.3, (1.0, 2.0)), "roll_axis": (0.4, (8.0, 2.0, 2.0, 2.0)),
    "drag_link": (0.5, (5.0, 2.0)), "lock": (0.25, (1.0, 2.0)),
}  # fmt: skip
"""Width and dashes of each role, points: told apart without colour."""
SCALES = (1, 2, 2.5, 4, 5, 8, 10, 15, 20, 25, 40, 50, 100)
"""1 to how much a drawing is made small, when it shall fit one page."""


class Title(Struct, frozen=True):
    """What stands over every page."""

    title: str
    file: str
    date: str


def scale_to_fit(shapes: Iterable[Shape], paper: Paper, *, landscape: bool = True) -> float:
    """The largest usual scale (1 : n, n is returned) at which the shapes fit one page; the smallest where none does."""
    extent = extent_of(shapes)
    if extent is None:
        return 1.0
    wide, high = _room(paper, landscape)
    need = max((extent[1][0] - extent[0][0]) / wide, (extent[1][1] - extent[0][1]) / high)
    return float(next((n for n in SCALES if n >= need), SCALES[-1]))


def _room(paper: Paper, landscape: bool) -> tuple[float, float]:
    """Drawing area of a page, m on paper."""
    wide, high = PAPERS[paper]
    if landscape:
        wide, high = high, wide
    return wide - 2 * MARGIN, high - 2 * MARGIN - 2 * HEAD


def pdf_bytes(
    shapes: Iterable[Shape], title: Title, paper: Paper, scale: float, unit: UnitSystem, *, landscape: bool = True
) -> bytes:
    """Shapes in metres at 1 : ``scale``; what one page does not hold goes on over more, row by row from the top left,
    with marks where they meet. 1 m on the drawing is ``1000 / scale`` mm on paper, exactly.
    """
    return pages_bytes([(shapes, title)], paper, scale, unit, landscape=landscape)


def pages_bytes(
    sheets: Sequence[tuple[Iterable[Shape], Title]],
    paper: Paper,
    scale: float,
    unit: UnitSystem,
    *,
    landscape: bool = True,
) -> bytes:
    """Several drawings in one file, each from a new page, as :func:`pdf_bytes` draws one."""
    from reportlab.pdfgen.canvas import Canvas  # noqa: PLC0415 - slow to load and only wanted for paper

    wide, high = PAPERS[paper]
    if landscape:
        wide, high = high, wide
    out = io.BytesIO()
    page = Canvas(out, pagesize=(wide / POINT, high / POINT), pageCompression=1, invariant=1)
    page.setTitle(sheets[0][1].title if sheets else "")
    page.setCreator("Stout Link")
    load_fonts()
    for shapes, title in sheets:
        draw_sheet(page, shapes, title, paper, scale, unit, landscape=landscape)
    page.save()
    return out.getvalue()


def draw_sheet(
    page: Canvas,
    shapes: Iterable[Shape],
    title: Title,
    paper: Paper,
    scale: float,
    unit: UnitSystem,
    *,
    landscape: bool = True,
) -> None:
    """One drawing onto new pages of a canvas, of the size they ask for."""
    wide, high = PAPERS[paper]
    if landscape:
        wide, high = high, wide
    page.setPageSize((wide / POINT, high / POINT))
    _sheet(page, list(plain(shapes)), title, (wide, high), _room(paper, landscape), scale, unit)


def _sheet(
    page: Canvas,
    drawn: list[Plain],
    title: Title,
    size_of_page: tuple[float, float],
    room: tuple[float, float],
    scale: float,
    unit: UnitSystem,
) -> None:
    """One drawing over as many pages as it takes."""
    extent = extent_of(drawn) or ((0.0, 0.0), (0.1, 0.1))
    step = (room[0] - OVERLAP, room[1] - OVERLAP)
    size = ((extent[1][0] - extent[0][0]) / scale, (extent[1][1] - extent[0][1]) / scale)
    count = tuple(1 if s <= r else 1 + math.ceil((s - r) / t - 1e-9) for s, r, t in zip(size, room, step, strict=True))
    number, most = 0, count[0] * count[1]
    spare = [0.5 * max(0.0, r - s) * scale if n == 1 else 0.0 for r, s, n in zip(room, size, count, strict=True)]
    for row in range(count[1]):
        for column in range(count[0]):
            number += 1
            origin = (
                extent[0][0] + column * step[0] * scale - spare[0],
                extent[1][1] - (row * step[1] + (size[1] if count[1] == 1 else room[1])) * scale - spare[1],
            )
            draw_shapes(page, drawn, origin, scale, room)
            _crosses(page, room, column, row, count)
            _block(page, title, size_of_page, scale, unit, number, most)
            page.showPage()


def one_page(
    draw: Callable[[float], list[Shape]], title: Title, paper: Paper, unit: UnitSystem, *, full_size: bool = False
) -> bytes:
    """A drawing whose words come out 2.5 mm high on paper, on one page at the largest usual scale that fits; at 1:1 over
    as many pages as it takes with ``full_size``. ``draw`` gets the height of its words, m on the rig."""
    if full_size:
        return pdf_bytes(draw(LETTERS), title, paper, 1.0, unit)
    scale = scale_to_fit(draw(LETTERS * 10), paper)
    scale = max(scale, scale_to_fit(draw(LETTERS * scale), paper))
    return pdf_bytes(draw(LETTERS * scale), title, paper, scale, unit)


def load_fonts() -> None:
    """Make the shipped letters known to the writer."""
    from reportlab.pdfbase import pdfmetrics  # noqa: PLC0415
    from reportlab.pdfbase.ttfonts import TTFont  # noqa: PLC0415

    for name, file in (("House", "DejaVuSans.ttf"), ("House-Bold", "DejaVuSans-Bold.ttf")):
        if name not in pdfmetrics.getRegisteredFontNames():
            with as_file(files("stoutlink").joinpath("fonts", file)) as path:
                pdfmetrics.registerFont(TTFont(name, str(path)))


def draw_shapes(
    page: Canvas,
    drawn: list[Plain],
    origin: Flat,
    scale: float,
    room: tuple[float, float],
) -> None:
    """Shapes at 1 : ``scale`` into the drawing area of a page (``room``, m on paper), ``origin`` in its lower left."""
    page.saveState()
    left, low = MARGIN / POINT, (MARGIN + HEAD) / POINT
    clip = page.beginPath()
    clip.rect(left, low, room[0] / POINT, room[1] / POINT)
    page.clipPath(clip, stroke=0, fill=0)
    page.setLineCap(0)
    page.setLineJoin(1)

    def at(point: Flat) -> Flat:
        return left + (point[0] - origin[0]) / scale / POINT, low + (point[1] - origin[1]) / scale / POINT

    for one in drawn:
        width, dash = PENS.get(one.role, (0.4, ()))
        page.setLineWidth(width)
        page.setDash(list(dash))
        if isinstance(one, Line):
            tube = one.width > 0 and len(one.points) == 2
            path = page.beginPath()
            points = [at(p) for p in (tube_outline(one) if tube else one.points)]
            path.moveTo(*points[0])
            for point in points[1:]:
                path.lineTo(*point)
            if one.closed or tube:
                path.close()
            page.drawPath(path)
        elif isinstance(one, Oval):
            (x, y), (a, b) = at(one.centre), (r / scale / POINT for r in one.radius)
            page.ellipse(x - a, y - b, x + a, y + b)
        elif isinstance(one, Arc):
            (x, y), r = at(one.centre), one.radius / scale / POINT
            span = math.degrees((one.end - one.start) % (2 * math.pi)) or 360.0
            page.arc(x - r, y - r, x + r, y + r, math.degrees(one.start), span)
        else:
            _words(page, one, at(one.at), scale)
    page.restoreState()


def _words(page: Canvas, one: object, at: Flat, scale: float) -> None:
    text, turn = str(getattr(one, "text", "")), float(getattr(one, "turn", 0.0))
    own = getattr(one, "height", None)
    size = max(5.0, 1.37 * own / scale / POINT) if own else 7.0
    page.saveState()
    page.translate(*at)
    page.rotate(math.degrees(turn))
    page.setFont("House", size)
    draw = {"left": page.drawString, "centre": page.drawCentredString, "right": page.drawRightString}
    draw[getattr(one, "align", "left")](0, 0, text)
    page.restoreState()


def _crosses(page: Canvas, room: tuple[float, float], column: int, row: int, count: tuple[int, ...]) -> None:
    """Marks on the edges this page shares with its neighbours: lay cross upon cross."""
    if count[0] * count[1] == 1:
        return
    page.setLineWidth(0.3)
    page.setDash([])
    left, low = MARGIN, MARGIN + HEAD
    half, arm = OVERLAP / 2, 0.003
    xs = [x for x, there in ((left + half, column > 0), (left + room[0] - half, column + 1 < count[0])) if there]
    ys = [y for y, there in ((low + room[1] - half, row > 0), (low + half, row + 1 < count[1])) if there]
    spots = [(x, low + room[1] * t) for x in xs for t in (0.2, 0.8)] + [
        (left + room[0] * t, y) for y in ys for t in (0.2, 0.8)
    ]
    for x, y in spots:
        page.line((x - arm) / POINT, y / POINT, (x + arm) / POINT, y / POINT)
        page.line(x / POINT, (y - arm) / POINT, x / POINT, (y + arm) / POINT)


def _block(
    page: Canvas, title: Title, sheet: tuple[float, float], scale: float, unit: UnitSystem, number: int, most: int
) -> None:
    """Title, file, date, scale and page over the drawing; the bar to check under it."""
    left, right, top = MARGIN / POINT, (sheet[0] - MARGIN) / POINT, (sheet[1] - MARGIN) / POINT
    page.setDash([])
    page.setFont("House-Bold", 11)
    page.drawString(left, top - 11, title.title[:90])
    page.setFont("House", 8)
    ratio = "1 : 1" if scale == 1 else f"1 : {scale:g}"
    page.drawRightString(right, top - 11, f"scale {ratio}, page {number} of {most}")
    page.drawString(left, top - 24, f"{title.file}  {title.date}"[:120])
    long, words = (0.1016, "4 in") if unit == "in" else (0.1, "100 mm")
    low = (MARGIN + 0.004) / POINT
    page.setLineWidth(0.5)
    page.line(left, low, left + long / POINT, low)
    for x in (left, left + long / POINT):
        page.line(x, low - 4, x, low + 4)
    page.drawString(left + long / POINT + 6, low - 3, f"measures {words} when printed at actual size")
