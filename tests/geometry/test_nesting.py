"""Parts on plates, by shapely: nothing overlaps, every distance is kept, what lies there is the part."""

from __future__ import annotations

import itertools
import random
from pathlib import Path

import pyogrio
import pytest
import shapely
import shapely.affinity

from stoutlink.core.document.link_work import PlateCutting
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.geometry.nesting import box_of, laid_out, nest
from stoutlink.core.geometry.pattern import Hole, Pattern, extent, hull_of_discs, points
from stoutlink.core.reports.part_files import plates_dxf
from stoutlink.core.study.study import Study


def some(rng: random.Random) -> Pattern:
    """A tab of any size."""
    long, edge = rng.uniform(0.03, 0.25), rng.uniform(0.015, 0.03)
    loop = hull_of_discs(((-0.04, 0.0, 0.0), (0.05, 0.0, 0.0), (rng.uniform(-0.02, 0.02), long, edge)))
    return Pattern(loop, (Hole(0.0, long, 0.5 * edge),))


def polygon(pattern: Pattern) -> shapely.Polygon:
    return shapely.Polygon(points(pattern.outline, 1e-6))


@pytest.mark.parametrize("seed", range(25))
def test_nothing_overlaps_and_every_distance_is_kept(seed: int) -> None:
    rng = random.Random(seed)
    patterns = tuple(some(rng) for _ in range(rng.randint(1, 30)))
    plate = rng.choice([(0.6, 0.3), (1.2, 0.6), (0.3, 0.35)])
    spacing, border = rng.choice([0.0, 0.004, 0.01]), rng.choice([0.0, 0.012])
    found = nest(patterns, plate, spacing, border)
    assert found.too_large == ()
    assert sorted(x.which for x in found.laid) == list(range(len(patterns)))
    for number in range(found.plates):
        here = [polygon(laid_out(patterns[x.which], x.at, x.turned)) for x in found.laid if x.plate == number]
        assert here
        room = shapely.box(border - 1e-9, border - 1e-9, plate[0] - border + 1e-9, plate[1] - border + 1e-9)
        assert all(room.covers(one) for one in here)
        for a, b in itertools.combinations(here, 2):
            assert a.intersection(b).area < 1e-12
            assert a.distance(b) >= spacing - 1e-9


def test_turning_keeps_the_shape_and_its_hand() -> None:
    one = some(random.Random(3))
    turned = laid_out(one, (0.2, 0.1), True)
    wanted = shapely.affinity.rotate(polygon(one), 90, origin=(0, 0))
    (x0, y0), _ = extent(turned.outline)
    assert (x0, y0) == pytest.approx((0.2, 0.1))
    moved = shapely.affinity.translate(wanted, 0.2 - wanted.bounds[0], 0.1 - wanted.bounds[1])
    assert polygon(turned).symmetric_difference(moved).area < 1e-6
    assert polygon(turned).contains(shapely.Point(turned.holes[0].x, turned.holes[0].y))
    assert box_of(one, True) == pytest.approx(tuple(reversed(box_of(one, False))))


def test_what_is_larger_than_the_plate_is_named_and_the_rest_is_laid() -> None:
    patterns = tuple(some(random.Random(k)) for k in range(4))
    tall = max(range(4), key=lambda i: max(box_of(patterns[i], False)))
    limit = sorted(max(box_of(p, False)) for p in patterns)[2] + 1e-4
    found = nest(patterns, (limit, limit), 0.0, 0.0)
    assert found.too_large == (tall,)
    assert len(found.laid) == 3


def test_a_few_fill_a_plate_as_a_hand_would_lay_them() -> None:
    """Twelve squares of 100 mm, 10 mm apart, on 450 × 340 mm: four in a row, three rows, one plate."""
    square = Pattern(((0.0, 0.0, 0.0), (0.1, 0.0, 0.0), (0.1, 0.1, 0.0), (0.0, 0.1, 0.0)))
    found = nest((square,) * 12, (0.45, 0.34), 0.01, 0.01)
    assert found.plates == 1
    assert {tuple(round(v, 9) for v in x.at) for x in found.laid} == {
        (round(0.01 + 0.11 * i, 9), round(0.01 + 0.11 * j, 9)) for i in range(4) for j in range(3)
    }
    assert nest((square,) * 13, (0.45, 0.34), 0.01, 0.01).plates == 2


def test_both_axles_parts_lie_on_plates_of_their_thickness(basalt: Project, tmp_path: Path) -> None:
    project = with_parts(basalt, cut_parts=(), plate=PlateCutting(length_m=0.6, width_m=0.4))
    study = Study(project)
    parts = [p for end in ("rear", "front") for p in study.parts(end)]
    plans = study.plate_plan()
    assert sum(len(plan.pieces) for plan in plans) == sum(p.count for p in parts)
    assert [plan.thickness for plan in plans] == sorted({p.thickness for p in parts})
    one = parts[0]
    cut = with_parts(project, cut_parts=basalt.fabrication.cut_parts)
    left = Study(cut).plate_plan()
    gone = {c.id for c in basalt.fabrication.cut_parts}
    assert sum(len(p.pieces) for p in left) == sum(p.count for p in parts if p.id not in gone)
    assert one is not None
    file = tmp_path / "plates.dxf"
    file.write_bytes(plates_dxf(plans, project.fabrication.plate, "mm"))
    meta, _, geometry, fields = pyogrio.raw.read(file, columns=["Layer"])
    layers = list(fields[list(meta["fields"]).index("Layer")])
    cuts = [
        shapely.Polygon(shapely.from_wkb(g).coords) for g, layer in zip(geometry, layers, strict=True) if layer == "CUT"
    ]
    outlines = [c for c in cuts if not any(o is not c and o.contains(c) for o in cuts)]
    assert len(outlines) >= sum(p.count for p in parts) - 4  # a hole that breaks its outline is not inside it
    for a, b in itertools.combinations([o for o in outlines if o.area > 1500], 2):
        assert a.intersection(b).area < 1e-3
