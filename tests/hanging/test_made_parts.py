"""Parts of plate of every other kind: by hand and by shapely, where they stand on the rig, what each size changes, and the
welds they put on a housing.
"""

from __future__ import annotations

import math

import msgspec
import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import quad

from stoutlink.core.analysis.linkage.made_parts import MAKE, made_parts
from stoutlink.core.analysis.linkage.part import Part, numbers_of, on_rig
from stoutlink.core.analysis.linkage.weld_seam import Seam
from stoutlink.core.document.hole_points import hole_point
from stoutlink.core.document.made_part import PART_KINDS, MadePart, PartKind
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.welding import WeldPlan
from stoutlink.core.editing.edits import PutInList, SetNumber
from stoutlink.core.geometry.pattern import extent, points
from stoutlink.core.mechanics.bending import bend_allowance, box_modulus, flat_of, setback
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file

INCH = 0.0254
PLATE = 0.25 * INCH


def demo(name: str = "basalt") -> Project:
    return with_parts(read_project(demo_file(f"{name}.stoutlink")), made_parts=(), welding=())


def with_part(project: Project, one: MadePart) -> tuple[Project, Part]:
    after = PutInList("made_parts", one, "Add").apply(project)
    layout = after.layout(one.end)
    return after, made_parts(after, Study(after).true.rig, layout, one.end)[0]


def part(kind: PartKind, project: Project | None = None, **sizes: object) -> Part:
    whole = demo() if project is None else project
    return with_part(whole, MadePart(id="p", name="P", kind=kind, end="rear", **sizes))[1]  # type: ignore[arg-type]


def shape(one: Part) -> shapely.Polygon:
    rim = shapely.Polygon(points(one.pattern.outline))
    return rim.difference(
        shapely.union_all([shapely.Point(h.x, h.y).buffer(h.diameter / 2, 64) for h in one.pattern.holes])
    )


@pytest.mark.parametrize("kind", PART_KINDS)
@pytest.mark.parametrize("name", ["basalt", "tamarack"])
def test_every_kind_is_a_closed_part_with_its_holes_in_it(kind: PartKind, name: str) -> None:
    project = demo(name)
    new = Study(project).new_part(kind, "p", "rear")
    one = with_part(project, new)[1]
    rim = shapely.Polygon(points(one.pattern.outline))
    assert rim.is_valid
    assert rim.exterior.is_ccw
    for hole in one.pattern.holes:
        assert rim.buffer(1e-6).contains(shapely.Point(hole.x, hole.y).buffer(hole.diameter / 2))
    assert all(c.good for c in one.checks), [(c.what, c.value, c.wanted) for c in one.checks if not c.good]
    assert one.mass == pytest.approx(shape(one).area * one.thickness * 7850, rel=1e-3)
    assert all(s.why for s in one.sizes if s.path is not None)  # nobody typed anything
    assert one.count == new.count * (2 if new.mirrored else 1)
    assert set(MAKE) == set(PART_KINDS)


@pytest.mark.parametrize("kind", PART_KINDS)
def test_every_size_typed_changes_the_part(kind: PartKind) -> None:
    """An entry that changes nothing would be a lie: each size moves the pattern, the plate, a check or the weld."""
    project, one = with_part(demo(), MadePart(id="p", name="P", kind=kind, end="rear", plane="rear"))

    def told(p: Part) -> object:
        return numbers_of(p), p.pattern, p.thickness, [(c.key, c.value, c.wanted) for c in p.checks], p.seam

    for size in one.sizes:
        if size.path is None:
            continue
        after = SetNumber(size.path, 0.9 * size.value).apply(project)
        changed = made_parts(after, Study(after).true.rig, after.layout("rear"), "rear")[0]
        assert changed.size(size.key) == pytest.approx(0.9 * size.value)
        assert next(s for s in changed.sizes if s.key == size.key).why == ""
        if size.key == "weld":  # laid after the cut: what it changes is the weld plan
            continue
        assert told(changed) != told(one), size.key


def test_a_gusset_by_hand() -> None:
    """Legs 100 and 80, corner clipped by 12, tips of 1/4 in: the area of the hexagon by its triangles."""
    one = part("gusset", length_m=0.1, height_m=0.08, clip_m=0.012, thick_m=PLATE)
    corners = [(12, 0), (100, 0), (100, 6.35), (6.35, 80), (0, 80), (0, 12)]
    assert shape(one).area * 1e6 == pytest.approx(shapely.Polygon(corners).area)
    assert one.seam == pytest.approx(0.088)


@given(st.floats(0.2, 2.0), st.floats(0.002, 0.02), st.floats(0.002, 0.012))
def test_a_bend_takes_the_length_of_its_neutral_line(angle: float, radius: float, thick: float) -> None:
    """Machinery's Handbook: the neutral line lies K·t from the inside. Its arc integrated, and the straight parts that
    the outside sizes leave."""
    arc = quad(lambda _: radius + 0.38 * thick, 0.0, angle)[0]
    assert bend_allowance(angle, radius, thick) == pytest.approx(arc)
    back = setback(angle, radius, thick)
    outside = np.array([[0.0, 0.0], [0.3, 0.0]])
    # where a circle of r + t touches both outsides: at the setback from their corner
    middle = np.array([0.3 - back, radius + thick])
    way = np.array([math.cos(angle), math.sin(angle)])
    foot = outside[1] + back * way
    assert np.hypot(*(foot - middle)) == pytest.approx(radius + thick)
    assert (foot - middle) @ way == pytest.approx(0.0, abs=1e-9)
    flat = flat_of(0.3, 0.2, angle, radius, thick)
    assert flat == pytest.approx((0.3 - 2 * back) + 2 * (0.2 - back) + 2 * arc)


def test_a_perch_is_as_long_flat_as_its_bends_ask() -> None:
    one = part("perch", demo("tamarack"), length_m=0.08, height_m=0.07, flange_m=0.03, thick_m=0.006, radius_m=0.006)
    (x0, y0), (x1, y1) = extent(one.pattern.outline)
    assert x1 - x0 == pytest.approx(flat_of(0.07, 0.03, math.pi / 2, 0.006, 0.006))
    assert y1 - y0 == pytest.approx(0.08)
    lines = sorted(b[0][0] for b in one.pattern.bends)
    arc = bend_allowance(math.pi / 2, 0.006, 0.006)
    assert lines[1] - lines[0] == pytest.approx(0.07 - 2 * 0.012 + arc)  # middles of both bends
    short = part("perch", demo("tamarack"), flange_m=0.01, thick_m=0.006, radius_m=0.006)
    assert {c.key for c in short.checks if not c.good} == {"flange", "bend"}


def test_a_shackle_has_the_layouts_length() -> None:
    project = demo("tamarack")
    layout = project.layout("rear")
    assert layout is not None
    assert layout.leaf is not None
    one = part("shackle", project)
    a, b = one.pattern.holes
    assert math.hypot(b.x - a.x, b.y - a.y) == pytest.approx(layout.leaf.shackle_m)
    assert shape(one).area > 0


def test_a_notch_says_what_is_left_of_the_rail() -> None:
    """Chord 200 and depth 30: the arc by integration; a rail of 100 × 50 × 4 less 30 by b·h³ hollow."""
    rig = demo().rig
    body = msgspec.structs.replace(rig.body, rail_height_m=0.1, rail_width_m=0.05, rail_wall_m=0.004)
    project = msgspec.structs.replace(demo(), rig=msgspec.structs.replace(rig, body=body))
    one = part("frame_notch", project, notch_m=0.2, depth_m=0.03)
    radius = (0.1**2 + 0.03**2) / (2 * 0.03)
    half = math.asin(0.1 / radius)
    arc = quad(lambda x: math.hypot(1.0, x / math.sqrt(radius**2 - x**2)), -0.1, 0.1)[0]
    assert one.size("flat") == pytest.approx(arc, rel=1e-6)
    assert arc == pytest.approx(2 * radius * half, rel=1e-6)

    def modulus(h: float) -> float:
        inside = quad(lambda y: 0.042 * y * y, -(h / 2 - 0.004), h / 2 - 0.004)[0]
        return float((quad(lambda y: 0.05 * y * y, -h / 2, h / 2)[0] - inside) / (h / 2))

    assert box_modulus(0.05, 0.1, 0.004) == pytest.approx(modulus(0.1))
    assert f"{modulus(0.07) / modulus(0.1):.0%} of the rail's section modulus" in one.notes[0]
    assert all(c.good for c in one.checks)
    deep = part("frame_notch", project, notch_m=0.2, depth_m=0.05)
    assert {c.key for c in deep.checks if not c.good} == {"rail"}


def test_tabs_stand_on_the_rig_where_their_holes_are() -> None:
    """Every hole of every bracket's tabs, put on the rig, lies on its hole point, both tabs a gap apart."""
    project = demo()
    study = Study(project)
    for end in ("rear", "front"):
        layout = project.layout(end)
        assert layout is not None
        for bracket in layout.brackets:
            one = next(p for p in study.parts(end) if p.id == f"{layout.id}-{bracket.id}-tab")
            assert len(one.places) == one.count
            for hole, number in zip(one.pattern.holes, range(1, bracket.holes + 1), strict=True):
                at = hole_point(layout, bracket, number)
                spots = [place.put((hole.x, hole.y)) for place in one.places]
                k = 1 if bracket.plane == "side" else 0
                flat = [[v for i, v in enumerate(s) if i != k] for s in spots]
                want = [v for i, v in enumerate(at) if i != k]
                if bracket.plane == "side":
                    assert np.allclose(flat, want)
                    assert np.mean([s[1] for s in spots[:2]]) == pytest.approx(at[1])
                    gap = abs(spots[0][1] - spots[1][1])
                    assert gap == pytest.approx((bracket.gap_m or 0.0) + one.thickness)
                    assert sum(s[1] for s in spots) == pytest.approx(0.0 if len(spots) == 4 else 2 * at[1])
                else:
                    assert np.allclose(flat[0], want)
    rims = on_rig(study.parts("rear")[0])
    assert len(rims) == 4


def test_a_part_turned_and_mirrored_stands_as_it_says() -> None:
    one = part("gusset", at_m=(0.2, 0.4, 0.5), turn_rad=math.pi / 2, mirrored=True, length_m=0.1, clip_m=0.01)
    left, right = one.places
    assert left.put((0.1, 0.0)) == pytest.approx((0.2, 0.4, 0.6))  # across stands up now
    assert right.put((0.1, 0.0)) == pytest.approx((0.2, -0.4, 0.6))
    flat = part("coil_seat", plane="plan", at_m=(0.2, 0.4, 0.5))
    assert {round(p[2], 9) for rim in on_rig(flat) for p in rim} == {0.5}


@pytest.mark.parametrize(
    ("kind", "sizes", "code", "severity"),
    [
        ("perch", {"flange_m": 0.02, "thick_m": 0.006}, "C239", "warn"),
        ("perch", {"flange_m": 0.008, "thick_m": 0.006, "radius_m": 0.01}, "C240", "danger"),
        ("gusset", {"length_m": 0.05, "clip_m": 0.045}, "C241", "warn"),
        ("truss", {"height_m": 0.1, "depth_m": 0.09}, "C242", "warn"),
        ("frame_notch", {"depth_m": 0.09}, "C243", "danger"),
        ("shock_mount", {"edge_m": 0.01}, "C221", "warn"),
    ],
)
def test_what_there_is_too_little_of(kind: PartKind, sizes: dict[str, float], code: str, severity: str) -> None:
    one = MadePart(id="p", name="Mine", kind=kind, end="rear", **sizes)  # type: ignore[arg-type]
    project, _ = with_part(demo(), one)
    said = [f for f in Study(project).findings_so_far if f.code == code and f.sentence.startswith("Mine")]
    assert [f.severity for f in said] == [severity]
    assert said[0].subject == "rear part p"


def test_parts_of_an_axle_without_a_layout_are_made_too() -> None:
    bare = with_parts(demo(), rear_layout=None)
    project, _ = with_part(bare, MadePart(id="p", name="P", kind="gusset", end="rear"))
    assert [p.id for p in Study(project).parts("rear")] == ["p"]
    assert Study(project).parts("front")[-1].id != "p"


def test_their_welds_come_into_the_plan() -> None:
    """A truss plate welds left and right of its arch, a perch along both its edges, a tab across the tube on both sides."""
    project = PutInList("welding", WeldPlan(id="rear"), "Begin").apply(demo())
    cz, od = project.rig.rear.loaded, project.donor("rear").tube_od_m  # type: ignore[union-attr]
    assert od is not None
    known = {s.id for s in Study(project).weld_base("rear").seams}  # type: ignore[union-attr]

    def seams(one: MadePart) -> list[Seam]:
        after = PutInList("made_parts", one, "Add").apply(project)
        base = Study(after).weld_base("rear")
        assert base is not None
        return [s for s in base.seams if s.id not in known]

    truss = MadePart(id="t", name="T", kind="truss", end="rear", plane="rear", at_m=(0.0, 0.0, cz + od / 2), length_m=0.6, notch_m=0.2)  # fmt: skip
    found = seams(truss)
    assert sorted(s.at for s in found) == pytest.approx([-0.2, 0.2])
    assert [s.length for s in found] == pytest.approx([0.2, 0.2])
    assert {(s.kind, s.runs, s.around) for s in found} == {("truss", "along", 0.0)}
    perch = MadePart(id="q", name="Q", kind="perch", end="rear", plane="plan", at_m=(0.0, 0.5, cz + od / 2), length_m=0.08, height_m=0.9 * od, mirrored=True)  # fmt: skip
    found = seams(perch)
    assert sorted(round(s.at, 9) for s in found) == [-0.5, -0.5, 0.5, 0.5]
    assert {round(math.sin(s.around), 6) for s in found} == {0.9, -0.9}
    mount = MadePart(id="m", name="M", kind="shock_mount", end="rear", at_m=(od / 2, 0.4, cz), length_m=0.06, weld_m=0.004)  # fmt: skip
    found = seams(mount)
    assert {(s.runs, round(s.around, 6), s.leg, s.length) for s in found} == {
        ("across", round(math.pi / 2, 6), 0.004, 0.06)
    }
    assert [round(s.at, 6) for s in found] == pytest.approx([0.4 + PLATE / 2, 0.4 - PLATE / 2])
    assert seams(msgspec.structs.replace(mount, seat="frame")) == []


def test_perches_that_are_made_take_the_place_of_the_springs_pads() -> None:
    project = with_parts(demo("tamarack"), welding=(WeldPlan(id="rear", tube_od_m=0.0889, tube_wall_m=0.0095),))
    pads = [s.id for s in Study(project).weld_base("rear").seams]  # type: ignore[union-attr]
    assert all(name.startswith("pad-") for name in pads)
    new = Study(project).new_part("perch", "p", "rear")
    made = [s.id for s in Study(with_part(project, new)[0]).weld_base("rear").seams]  # type: ignore[union-attr]
    assert len(made) == len(pads) == 4
    assert all(name.startswith("part-p") for name in made)


def test_everything_on_the_housing_is_set_out_from_its_datums() -> None:
    """The lower tabs of the demo: 22 in and half a gap and plate from the middle, span between the datums as read; how far
    round the tube by the pivot. Stations from left and right make up the span."""
    project = demo()
    study = Study(project)
    sheet = study.station_sheet("rear")
    assert sheet is not None
    assert sheet.span is not None
    rows = study.set_out("rear")
    assert {r.part for r in rows} == {"rear-a-lower-axle-tab"}
    layout = project.layout("rear")
    assert layout is not None
    bracket = next(b for b in layout.brackets if b.id == "lower-axle")
    y = layout.link("lower_left").axle_pivot_m[1]  # type: ignore[union-attr]
    off = ((bracket.gap_m or 0.0) + (bracket.tab_m or 0.0)) / 2
    assert [r.at for r in rows] == pytest.approx([y + off, y - off, -y + off, -y - off])
    for r in rows:
        assert r.left is not None
        assert r.right is not None
        assert r.left + r.right == pytest.approx(sheet.span)
        assert r.left == pytest.approx(sheet.span / 2 - r.at)
    middles = [hole_point(layout, bracket, k) for k in range(1, bracket.holes + 1)]
    ahead = sum(m[0] for m in middles) / len(middles)
    up = sum(m[2] for m in middles) / len(middles) - project.rig.rear.loaded
    assert rows[0].around == pytest.approx(math.atan2(ahead, up))
    gusset = MadePart(id="p", name="P", kind="gusset", end="rear", at_m=(-0.04, 0.3, project.rig.rear.loaded))
    more = Study(with_part(project, gusset)[0]).set_out("rear")
    assert next(r.around for r in more if r.part == "p") == pytest.approx(1.5 * math.pi)
    framed = msgspec.structs.replace(gusset, seat="frame")
    assert all(r.part != "p" for r in Study(with_part(project, framed)[0]).set_out("rear"))
    unread = with_parts(project, stations=())
    assert all(r.left is None for r in Study(unread).set_out("rear"))
