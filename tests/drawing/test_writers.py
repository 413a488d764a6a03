"""Drawings that leave the program, measured by other means: DXF by its group codes, PDF by another library."""

from __future__ import annotations

import io
import itertools
import math
import re
import shutil
import subprocess
from pathlib import Path

import pytest
from pypdf import PdfReader
from pypdf.generic import ContentStream

from stoutlink.core.document.project import Project
from stoutlink.core.drawing.layout_sheet import layout_drawing
from stoutlink.core.drawing.shapes import Arc, Dimension, Line, Oval, Shape, Text, extent_of, plain
from stoutlink.core.quantity.constants import INCH
from stoutlink.core.reports.dxf_writer import dxf_bytes
from stoutlink.core.reports.pdf_writer import Paper, Title, pdf_bytes, scale_to_fit
from stoutlink.core.study.study import Study

PLATE: list[Shape] = [
    Line(((0.0, 0.0), (0.12, 0.0), (0.12, 0.08), (0.0, 0.08)), "cut", closed=True),
    Oval((0.03, 0.04), (0.008, 0.008), "cut"),
    Oval((0.09, 0.04), (0.012, 0.006), "cut"),
    Arc((0.06, 0.04), 0.02, 0.0, math.pi / 2, "mark"),
    Line(((0.0, 0.06), (0.12, 0.06)), "bend"),
    Dimension((0.0, 0.0), (0.12, 0.0), "120", -0.01, 0.003, "across"),
    Text((0.01, 0.07), "LEFT", 0.005, "mark"),
]
"""A plate with a round hole, a slot's oval, a marked arc, a bend line and a dimension."""
TITLE = Title("Plate", "plate.stoutlink", "2026-11-28")
poppler = pytest.mark.skipif(shutil.which("pdftotext") is None, reason="no other PDF reader on this machine")


def groups(data: bytes) -> list[tuple[str, dict[int, list[str]]]]:
    """Entities of a DXF file by plain reading: (name, group code to values)."""
    lines = [x.strip() for x in data.decode().splitlines()]
    pairs = list(zip((int(x) for x in lines[0::2]), lines[1::2], strict=False))
    start = next(i for i, (c, v) in enumerate(pairs) if (c, v) == (2, "ENTITIES"))
    out: list[tuple[str, dict[int, list[str]]]] = []
    for code, value in pairs[start + 1 :]:
        if code == 0:
            if value == "ENDSEC":
                break
            out.append((value, {}))
        elif out:
            out[-1][1].setdefault(code, []).append(value)
    return out


@pytest.mark.parametrize(("unit", "per_metre", "insunits"), [("mm", 1000.0, "4"), ("in", 1.0 / INCH, "1")])
def test_a_dxf_holds_what_was_drawn(unit: str, per_metre: float, insunits: str) -> None:
    """Group codes of the published DXF reference (from memory): 10/20 points, 40 radius, 70 closed."""
    data = dxf_bytes(PLATE, unit)  # type: ignore[arg-type]
    assert re.search(rf"\$INSUNITS\s+70\s+{insunits}\s", data.decode())
    found = groups(data)
    plate = next(g for name, g in found if name == "LWPOLYLINE" and g[8] == ["CUT"])
    assert int(plate[70][0]) & 1  # closed
    points = list(zip(map(float, plate[10]), map(float, plate[20]), strict=True))
    assert points == [
        pytest.approx((x * per_metre, y * per_metre), abs=1e-9) for x, y in ((0, 0), (0.12, 0), (0.12, 0.08), (0, 0.08))
    ]
    hole = next(g for name, g in found if name == "CIRCLE")
    assert [float(hole[c][0]) / per_metre for c in (10, 20, 40)] == pytest.approx([0.03, 0.04, 0.008], abs=1e-12)
    slot = next(g for name, g in found if name == "ELLIPSE")
    assert float(slot[11][0]) / per_metre == pytest.approx(0.012)
    assert float(slot[40][0]) == pytest.approx(0.5)
    arc = next(g for name, g in found if name == "ARC")
    assert (arc[8], [float(arc[c][0]) for c in (50, 51)]) == (["MARK"], [0.0, 90.0])
    layers = {g[8][0] for _, g in found if 8 in g}
    assert {"CUT", "MARK", "BEND", "DIMENSION"} <= layers
    words = {g[1][0]: float(g[40][0]) / per_metre for name, g in found if name == "TEXT"}
    assert words == pytest.approx({"120": 0.003, "LEFT": 0.005})


def paths(data: bytes, page: int = 1) -> list[list[tuple[float, float]]]:
    """Straight paths of a page, m from its lower left, read by another library; what transforms are in force is
    followed (operators of ISO 32000: q Q cm m l h S)."""
    reader = PdfReader(io.BytesIO(data))
    content = ContentStream(reader.pages[page - 1].get_contents(), reader)
    out: list[list[tuple[float, float]]] = []
    stack: list[tuple[float, float, float, float, float, float]] = []
    now, line = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0), list[tuple[float, float]]()
    for values, operator in content.operations:
        numbers = [float(v) for v in values] if operator in (b"cm", b"m", b"l") else []
        if operator == b"q":
            stack.append(now)
        elif operator == b"Q":
            now = stack.pop()
        elif operator == b"cm":
            a, b, c, d, e, f = numbers
            p, q, r, s, t, u = now
            now = (a * p + b * r, a * q + b * s, c * p + d * r, c * q + d * s, e * p + f * r + t, e * q + f * s + u)
        elif operator in (b"m", b"l"):
            x, y = numbers
            p, q, r, s, t, u = now
            line = ([] if operator == b"m" else line) + [
                ((p * x + r * y + t) * INCH / 72, (q * x + s * y + u) * INCH / 72)
            ]
        elif operator == b"h":
            line = [*line, line[0]]
        elif operator in (b"S", b"s"):
            out.append(line)
    return out


@pytest.mark.parametrize("paper", ["A4", "Letter"])
def test_a_pdf_is_true_to_scale(paper: Paper) -> None:
    data = pdf_bytes(PLATE, TITLE, paper, 1.0, "mm")
    found = paths(data)
    sides = [sorted(math.dist(a, b) for a, b in itertools.pairwise(p)) for p in found if len(p) >= 4]
    assert any(s[-1] == pytest.approx(0.12, abs=1e-5) and s[0] == pytest.approx(0.08, abs=1e-5) for s in sides)
    bars = [math.dist(p[0], p[1]) for p in found if len(p) == 2]
    assert any(v == pytest.approx(0.1, abs=1e-5) for v in bars)  # the bar to check by
    half = paths(pdf_bytes(PLATE, TITLE, paper, 2.0, "in"))
    assert any(
        max(math.dist(a, b) for a, b in itertools.pairwise(p)) == pytest.approx(0.06, abs=1e-5)
        for p in half
        if len(p) >= 4
    )
    assert any(math.dist(p[0], p[1]) == pytest.approx(4 * INCH, abs=1e-5) for p in half if len(p) == 2)


@pytest.mark.parametrize("scale", [1.0, 2.0, 5.0])
def test_what_one_page_holds_stands_in_its_middle(scale: float) -> None:
    """A4 across is 297 mm wide (ISO 216): the plate's middle is at 148.5 mm whatever the scale."""
    found = paths(pdf_bytes(PLATE[:1], TITLE, "A4", scale, "mm"))
    plate = next(
        p
        for p in found
        if len(p) >= 4
        and max(math.dist(a, b) for a, b in itertools.pairwise(p)) < 0.121 / scale
        and max(math.dist(a, b) for a, b in itertools.pairwise(p)) > 0.119 / scale
    )
    assert (min(x for x, _ in plate) + max(x for x, _ in plate)) / 2 == pytest.approx(0.1485, abs=1e-5)


@poppler
def test_what_one_page_does_not_hold_goes_on_over_more_and_nothing_is_lost(tmp_path: Path) -> None:
    """A line of 600 mm at 1:1 over A4 across: each page shows its part, neighbours share the overlap, and the parts put
    together are the whole."""
    posts: list[Shape] = [Line(((0.05 * i, 0.0), (0.05 * i, 0.02)), "cut") for i in range(13)]
    data = pdf_bytes(posts, TITLE, "A4", 1.0, "mm")
    (tmp_path / "n.pdf").write_bytes(data)
    told = subprocess.run(["pdfinfo", str(tmp_path / "n.pdf")], capture_output=True, text=True, check=True).stdout
    assert re.search(r"Pages:\s+3\s", told)  # 277 + 2 x 267 mm
    text = subprocess.run(
        ["pdftotext", str(tmp_path / "n.pdf"), "-"], capture_output=True, text=True, check=True
    ).stdout
    for words in ("page 1 of 3", "page 3 of 3", "scale 1 : 1", "measures 100 mm", "plate.stoutlink", "2026-11-28"):
        assert words in text
    seen: set[int] = set()
    for page in (1, 2, 3):
        found = [p for p in paths(data, page) if len(p) == 2 and p[0][0] == p[1][0]]
        whole = [p for p in found if math.dist(*p) == pytest.approx(0.02, abs=1e-5) and 0.01 <= p[0][0] <= 0.287]
        for post in whole:
            place = (post[0][0] - 0.010 + (page - 1) * 0.267) / 0.05
            assert place == pytest.approx(round(place), abs=3e-4)
            seen.add(round(place))
    assert seen == set(range(13))


def test_crosses_of_neighbouring_pages_lie_on_one_another() -> None:
    """Where two pages meet, the marks of both stand at the same place of the drawing, in the middle of what both show,
    and what is drawn stays within the page's own window."""
    shapes: list[Shape] = [Line(((0.0, 0.0), (0.6, 0.0)), "cut"), Line(((0.272, 0.0), (0.272, 0.02)), "cut")]
    data = pdf_bytes(shapes, TITLE, "A4", 1.0, "mm")
    centres: list[set[float]] = []
    posts: list[float] = []
    for page in (1, 2, 3):
        found = [p for p in paths(data, page) if len(p) == 2]
        level = [p for p in found if p[0][1] == p[1][1] and math.dist(*p) == pytest.approx(0.006, abs=1e-5)]
        upright = [p for p in found if p[0][0] == p[1][0] and math.dist(*p) == pytest.approx(0.006, abs=1e-5)]
        assert len(level) == len(upright) == (4 if page == 2 else 2)
        middles = {(round(0.5 * (p[0][0] + p[1][0]), 5), round(0.5 * (p[0][1] + p[1][1]), 5)) for p in level}
        assert middles == {(round(p[0][0], 5), round(0.5 * (p[0][1] + p[1][1]), 5)) for p in upright}
        centres.append({x for x, _ in middles})
        posts += [p[0][0] for p in found if p[0][0] == p[1][0] and math.dist(*p) == pytest.approx(0.02, abs=1e-5)][:1]
    assert posts[0] - posts[1] == pytest.approx(0.267, abs=1e-5)  # 277 mm of room less 10 mm that both show
    assert max(centres[0]) - min(centres[1]) == pytest.approx(0.267, abs=1e-5)
    assert max(centres[1]) - min(centres[2]) == pytest.approx(0.267, abs=1e-5)
    assert max(centres[0]) == pytest.approx(0.010 + 0.277 - 0.005, abs=1e-5)


def test_the_scale_that_fits() -> None:
    assert scale_to_fit(PLATE, "A4") == 1
    assert scale_to_fit([Line(((0.0, 0.0), (2.7, 0.0)), "cut")], "A4") == 10
    assert scale_to_fit([], "Letter") == 1
    assert scale_to_fit([Line(((0.0, 0.0), (500.0, 0.0)), "cut")], "A4") == 100


def test_a_dimension_measures_what_it_says() -> None:
    lines = [x for x in Dimension((0.0, 0.0), (0.3, 0.4), "500", 0.05, 0.01).parts() if isinstance(x, Line)]
    (a, b) = lines[0].points
    assert math.dist(a, b) == pytest.approx(0.5)
    assert (b[0] - a[0]) * 0.4 == pytest.approx((b[1] - a[1]) * 0.3)
    across = Dimension((0.0, 0.1), (0.3, 0.4), "300", -0.05, 0.01, "across").parts()[0]
    up = Dimension((0.0, 0.1), (0.3, 0.4), "300", 0.05, 0.01, "up").parts()[0]
    assert isinstance(across, Line)
    assert isinstance(up, Line)
    assert [p[1] for p in across.points] == pytest.approx([0.05, 0.05])
    assert [p[0] for p in up.points] == pytest.approx([-0.05, -0.05])
    for turn, one in (
        (d, Dimension((0.0, 0.0), (math.cos(d), math.sin(d)), "1", 0.1, 0.1)) for d in (0.1, 1.5, 2.0, 3.1, -2.0)
    ):
        words = next(x for x in one.parts() if isinstance(x, Text))
        assert math.cos(words.turn) > -1e-9, turn  # never upside down


def test_the_extent_of_an_arc_and_a_tube() -> None:
    found = extent_of([Arc((0.0, 0.0), 1.0, 0.0, math.pi, "cut")])
    assert found is not None
    assert [*found[0], *found[1]] == pytest.approx([-1.0, 0.0, 1.0, 1.0])
    assert extent_of([Line(((0.0, 0.0), (1.0, 0.0)), "cut", width=0.2)]) == ((-0.1, -0.1), (1.1, 0.1))
    assert extent_of([]) is None


@pytest.mark.parametrize("view", ["side", "plan", "rear"])
def test_a_layout_drawing_says_the_layouts_numbers(basalt: Project, view: str) -> None:
    study = Study(basalt)
    layout = basalt.layout("rear")
    assert layout is not None
    drawn = layout_drawing(study, layout, view)  # type: ignore[arg-type]
    said = {x.text for x in drawn if isinstance(x, Dimension)}
    link = layout.link("lower_left")
    assert link is not None
    x, y, z = (v / INCH for v in link.frame_pivot_m)
    wanted = {"side": (x, z), "plan": (x, abs(y)), "rear": (abs(y), z)}[view]
    for value in wanted:
        whole, part = divmod(round(value * 64), 64)
        assert any(t.startswith(str(whole)) for t in said), (value, part, said)
    assert sum(isinstance(x, Line) and x.role in ("link_lower", "link_upper") for x in plain(drawn)) == len(
        layout.links
    )
