"""Flat patterns against a general geometry library (shapely), and read back from files by others (GDAL, svgelements)."""

from __future__ import annotations

import io
import random
from pathlib import Path

import pyogrio
import pytest
import shapely
from svgelements import SVG, Circle
from svgelements import Path as SvgPath

from stoutlink.core.geometry.pattern import Hole, Loop, Pattern, area, extent, hull_of_discs, perimeter, points
from stoutlink.core.reports.part_files import pattern_dxf, pattern_svg

FINE = 2e-7


def polygon(loop: Loop) -> shapely.Polygon:
    return shapely.Polygon(points(loop, FINE))


@pytest.mark.parametrize("seed", range(40))
def test_the_line_round_discs(seed: int) -> None:
    rng = random.Random(seed)
    more = [
        (round(rng.uniform(-0.1, 0.1), 3), round(rng.uniform(-0.1, 0.1), 3), rng.choice([0.0, 0.0, 0.01, 0.02, 0.031]))
        for _ in range(rng.randint(2, 7))
    ]
    discs = ((0.01, 0.02, 0.017), *more)
    loop = hull_of_discs(discs)
    rounds = [shapely.Point(x, y).buffer(max(r, 1e-9), quad_segs=400) for x, y, r in discs]
    wanted = shapely.unary_union(rounds).convex_hull
    found = polygon(loop)
    assert found.is_valid
    assert found.exterior.is_ccw
    assert found.symmetric_difference(wanted).area < 4e-5 * wanted.area + 1e-9
    assert found.hausdorff_distance(wanted) < 2e-6


ROUNDED: Loop = ((-0.05, 0.0, -0.2), (0.05, 0.0, 0.0), (0.03, 0.06, 0.9), (-0.03, 0.06, 0.0))


def test_sizes_of_an_outline_with_arcs_both_ways() -> None:
    wanted = polygon(ROUNDED)
    assert area(ROUNDED) == pytest.approx(wanted.area, rel=1e-5)
    assert perimeter(ROUNDED) == pytest.approx(wanted.exterior.length, rel=1e-5)
    (x0, y0), (x1, y1) = extent(ROUNDED)
    assert (x0, y0, x1, y1) == pytest.approx(wanted.bounds, abs=1e-6)


PATTERN = Pattern(
    ROUNDED,
    (Hole(0.0, 0.05, 0.0163), Hole(0.012, 0.02, 0.008)),
    (((-0.04, 0.01), (0.04, 0.01)),),
    (((0.0, 0.0), (0.0, 0.05)),),
)


@pytest.mark.parametrize(("unit", "to_m"), [("mm", 1e-3), ("in", 0.0254)])
def test_a_drawing_read_by_gdal(tmp_path: Path, unit: str, to_m: float) -> None:
    """Two parts side by side: closed outlines on their layer, holes and lengths within 0.01 mm, nothing else on CUT."""
    file = tmp_path / "parts.dxf"
    file.write_bytes(pattern_dxf([(PATTERN, (0.0, 0.0), "One"), (PATTERN, (0.2, 0.1), "Two")], unit))  # type: ignore[arg-type]
    meta, _, geometry, fields = pyogrio.raw.read(file, columns=["Layer"])
    layers = list(fields[list(meta["fields"]).index("Layer")])
    shapes = [shapely.from_wkb(g) for g in geometry]
    cut = [s for s, layer in zip(shapes, layers, strict=True) if layer == "CUT"]
    assert sorted({*layers}) == ["BEND", "CUT", "MARK", "NOTE"]
    assert len(cut) == 2 * (1 + len(PATTERN.holes))
    closed = [shapely.Polygon(s.coords) for s in cut if s.is_closed]
    assert len(closed) == len(cut)
    outlines = sorted((p for p in closed if p.area * to_m**2 > 1e-3), key=lambda p: p.bounds[0])
    (x0, y0), (x1, y1) = extent(ROUNDED)
    for found, (dx, dy) in zip(outlines, ((0.0, 0.0), (0.2, 0.1)), strict=True):
        bounds = [v * to_m for v in found.bounds]
        assert bounds == pytest.approx([x0 + dx, y0 + dy, x1 + dx, y1 + dy], abs=2e-5)  # GDAL's own steps along an arc
    holes = sorted((p for p in closed if p not in outlines), key=lambda p: (p.centroid.x, p.area))
    wanted = sorted(
        ((h.x + dx, h.y + dy, h.diameter) for h in PATTERN.holes for dx, dy in ((0, 0), (0.2, 0.1))), key=lambda v: v[0]
    )
    for found, (x, y, d) in zip(holes, wanted, strict=True):
        left, low, right, top = (v * to_m for v in found.bounds)
        assert (0.5 * (left + right), 0.5 * (low + top)) == pytest.approx((x, y), abs=1e-5)
        assert right - left == pytest.approx(d, abs=1e-5)
    bend = next(s for s, layer in zip(shapes, layers, strict=True) if layer == "BEND")
    assert bend.length * to_m == pytest.approx(0.08, abs=1e-8)


def test_an_svg_read_by_another() -> None:
    svg = SVG.parse(io.BytesIO(pattern_svg([(PATTERN, (0.0, 0.0), "One & <two>")])), ppi=25.4)
    circles = sorted((e for e in svg.elements() if isinstance(e, Circle)), key=lambda c: c.cx)
    across = [2 * float(c.rx) for c in circles]
    assert across == pytest.approx([1000 * h.diameter for h in PATTERN.holes], abs=1e-3)
    apart = circles[1].cx - circles[0].cx, circles[0].cy - circles[1].cy
    assert apart == pytest.approx((12.0, -30.0), abs=1e-3)
    outline = next(e for e in svg.elements() if isinstance(e, SvgPath) and len(e) > 4)
    assert outline.length() == pytest.approx(1000 * perimeter(ROUNDED), abs=1e-2)
    box = outline.bbox()
    (x0, y0), (x1, y1) = extent(ROUNDED)
    assert (box[2] - box[0], box[3] - box[1]) == pytest.approx((1000 * (x1 - x0), 1000 * (y1 - y0)), abs=1e-2)
    assert float(svg.width) == pytest.approx(1000 * (x1 - x0) + 10, abs=1e-2)  # a millimetre of the file is one
