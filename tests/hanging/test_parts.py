"""Parts of plate against hands, shapely and poppler: where holes lie, what is proposed, what is missing, what changed."""

from __future__ import annotations

import itertools
import math
import re
import shutil
import subprocess
from pathlib import Path
from typing import Any

import msgspec
import pytest
import shapely
from scipy.optimize import brentq

from stoutlink.cli.main import main
from stoutlink.core.analysis.linkage.part import Part, as_cut, part_changes
from stoutlink.core.analysis.linkage.parts import layout_parts
from stoutlink.core.document.bracket import Bracket
from stoutlink.core.document.layout import Joint, Layout
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.drawing.part_views import cope_loop
from stoutlink.core.editing.edits import MovePivot, PutInList, SetNumber
from stoutlink.core.geometry.pattern import extent, points
from stoutlink.core.mechanics.cope import cope, cope_line
from stoutlink.core.reports.part_paper import cope_pdf, parts_pdf
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file


def with_bracket(project: Project, **changes: Any) -> tuple[Project, Layout]:
    """The demo's rear with one bracket alone, round numbers."""
    layout = project.layout("rear")
    assert layout is not None
    base: dict[str, Any] = {
        "id": "b", "name": "Tab", "link": "lower_left", "end": "frame", "holes": 3, "hole": 1, "pitch_m": 0.03, "angle_rad": math.pi / 2,
        "bolt_hole_m": 0.02, "edge_m": 0.03, "tab_m": 0.008, "reach_m": 0.05, "foot_m": 0.1, "weld_m": 0.006, "mounted_on": "free",
    }  # fmt: skip
    changed = msgspec.structs.replace(layout, brackets=(Bracket(**{**base, **changes}),))
    return (
        with_parts(project, layouts=tuple(changed if x.id == layout.id else x for x in project.linkage.layouts)),
        changed,
    )


def tab(project: Project, **changes: Any) -> Part:
    project, layout = with_bracket(project, **changes)
    return layout_parts(project, Study(project).true.rig, layout)[0]


def test_a_tab_on_a_face_by_hand(basalt: Project) -> None:
    """A row up a frame bracket hangs down from its face: the first hole is the farthest, 50 + 2 × 30 mm."""
    part = tab(basalt)
    ys = sorted(h.y for h in part.pattern.holes)
    assert ys == pytest.approx([0.05, 0.08, 0.11])
    assert {round(h.x, 9) for h in part.pattern.holes} == {0.0}
    (x0, y0), (x1, y1) = extent(part.pattern.outline)
    assert (x0, y0, x1, y1) == pytest.approx((-0.05, 0.0, 0.05, 0.14))  # foot 100 wide, last hole and its edge
    assert part.count == 4  # two tabs, both sides
    assert all(not s.why for s in part.sizes)
    assert all(c.good for c in part.checks)
    wanted = shapely.unary_union([shapely.Point(0, y).buffer(0.03, quad_segs=500) for y in ys] + [shapely.LineString([(-0.05, 0), (0.05, 0)])]).convex_hull  # fmt: skip
    plate = wanted.area - 3 * math.pi * 0.01**2
    assert part.mass == pytest.approx(plate * 0.008 * 7850, rel=1e-4)


def test_what_nobody_typed_is_proposed_with_its_reason(basalt: Project) -> None:
    joint = basalt.joint(basalt.layout("rear").link("lower_left").frame_end.joint)  # type: ignore[union-attr]
    assert isinstance(joint, Joint)
    part = tab(basalt, bolt_hole_m=None, edge_m=None, tab_m=None, reach_m=None, foot_m=None)
    why = {s.key: s.why for s in part.sizes}
    assert all(why[key] for key in ("hole", "edge", "thick", "reach", "foot"))
    hole = part.size("hole")
    assert hole == pytest.approx((joint.bolt_m or 0.0159) + 0.0004)
    assert part.size("edge") == pytest.approx(1.5 * hole)
    assert part.size("reach") == pytest.approx(max(1.5 * hole, 0.5 * (joint.body_od_m or 0.0) + 0.00635))
    assert all(c.good for c in part.checks if c.key in ("edge", "hole"))
    assert {s.path for s in part.sizes if s.key == "edge"} == {"layouts.rear-a.brackets.b.edge_m"}


def test_a_tab_on_the_axle_tube_stands_where_the_pivot_stands(basalt: Project) -> None:
    """Reach and holes follow from pivot and tube; the foot is the tube's own circle."""
    project, layout = with_bracket(basalt, end="axle", mounted_on="axle_tube", holes=1, saddle_m=0.09, foot_m=0.07)
    study = Study(project)
    part = layout_parts(project, study.true.rig, layout)[0]
    link = layout.link("lower_left")
    assert link is not None
    x, _, z = link.axle_pivot_m
    far = math.hypot(x - 0.0, z - study.true.rig.rear.loaded)
    assert part.size("reach") == pytest.approx(far - 0.045)
    hole = part.pattern.holes[0]
    assert (hole.x, hole.y) == pytest.approx((0.0, far), abs=1e-9)
    on_tube = [p for p in points(part.pattern.outline) if math.hypot(*p) < 0.0451]
    assert len(on_tube) > 20
    assert all(math.hypot(*p) == pytest.approx(0.045, abs=3e-6) for p in on_tube)
    outline = shapely.Polygon(points(part.pattern.outline))
    assert outline.is_valid
    assert not outline.intersects(shapely.Point(0, 0).buffer(0.0449, quad_segs=200))


@pytest.mark.parametrize(
    ("changes", "code", "severity"),
    [
        ({"edge_m": 0.0299}, "C221", "warn"),
        ({"pitch_m": 0.0299}, "C222", "warn"),
        ({"tab_m": 0.0201}, "C223", "warn"),
        ({"reach_m": 0.012}, "C224", "warn"),
        ({"end": "axle", "mounted_on": "axle_tube", "holes": 1, "saddle_m": 0.088}, "C225", "danger"),
    ],
)
def test_too_little_is_said_with_both_numbers(
    basalt: Project, changes: dict[str, Any], code: str, severity: str
) -> None:
    good, _ = with_bracket(basalt)
    assert not {f.code for f in Study(good).findings_so_far if "rear-a-b-" in f.subject}
    bad, layout = with_bracket(basalt, **changes)
    if code == "C225":  # the pivot 50 mm off the tube's middle: 50 − 44 − 10
        x, y, z = 0.05, 0.5, Study(bad).true.rig.rear.loaded
        bad = MovePivot(layout.id, "lower_left", "axle", (x, y, z)).apply(bad)
    found = [f for f in Study(bad).findings_so_far if f.code == code and "rear-a-b-" in f.subject]
    assert [f.severity for f in found] == [severity]
    assert "is wanted" in found[0].sentence


def test_a_cut_part_is_held_to_what_it_was(basalt: Project) -> None:
    project, layout = with_bracket(basalt)
    part = layout_parts(project, Study(project).true.rig, layout)[0]
    assert part_changes(part, project.fabrication.cut_parts) is None
    project = PutInList("cut_parts", as_cut(part, "2026-11-28"), "Mark a part as cut").apply(project)
    same = Study(project).part_changes(part)
    assert same is not None
    assert same.sizes == ()
    assert "C226" not in {f.code for f in Study(project).findings_so_far}
    moved = SetNumber("layouts.rear-a.brackets.b.reach_m", 0.06).apply(project)
    now = Study(moved).parts("rear")[0]
    changed = Study(moved).part_changes(now)
    assert changed is not None
    assert {t for t, _, _ in changed.sizes} == {"reach", "hole 1 up", "hole 2 up", "hole 3 up"}
    assert ("reach", 0.05, 0.06) in changed.sizes
    said = next(f.sentence for f in Study(moved).findings_so_far if f.code == "C226")
    assert "reach 1.97″ then, 2.36″ now" in said
    fewer = SetNumber("layouts.rear-a.brackets.b.holes", 2).apply(project)
    assert "holes" in {t for t, _, _ in Study(fewer).part_changes(Study(fewer).parts("rear")[0]).sizes}  # type: ignore[union-attr]


def test_u_bolt_plates_of_leaves_by_hand() -> None:
    project = with_parts(read_project(demo_file("tamarack.stoutlink")), made_parts=())
    layout = next(x for x in project.linkage.layouts if x.leaf is not None and x.end == "rear")
    leaf = msgspec.structs.replace(layout.leaf, u_bolt_m=0.014, width_m=0.0635, plate_m=0.012, casting_width_m=None)  # type: ignore[type-var]
    changed = msgspec.structs.replace(layout, leaf=leaf)
    donor = next(d for d in project.swap.donors if d.end == "rear" and d.tube_od_m is not None)
    project = with_parts(project, rear_donor=donor.id, layouts=(changed,), rear_layout=changed.id, front_layout=None)
    (part,) = Study(project).parts("rear")
    assert part.count == 2
    along, across = (donor.tube_od_m or 0) + 0.014, 0.0635 + 0.0004 + 0.014
    corners = sorted((h.x, h.y) for h in part.pattern.holes[:4])
    wanted = sorted((sx * along / 2, sy * across / 2) for sx in (-1, 1) for sy in (-1, 1))
    assert all(a == pytest.approx(b) for a, b in zip(corners, wanted, strict=True))
    assert all(h.diameter == pytest.approx(0.0144) for h in part.pattern.holes[:4])
    (x0, y0), (x1, y1) = extent(part.pattern.outline)
    assert (x1 - x0, y1 - y0) == pytest.approx((along + 3 * 0.0144, across + 3 * 0.0144))


def ruled(data: bytes, folder: Path, page: int) -> tuple[list[list[tuple[float, float]]], str]:
    """Every line of a page as poppler draws it, in mm; and its words."""
    (folder / "in.pdf").write_bytes(data)
    one = ["-f", str(page), "-l", str(page)]
    subprocess.run(
        ["pdftocairo", "-svg", "-noshrink", "-origpagesizes", *one, str(folder / "in.pdf"), str(folder / "out.svg")],
        check=True,
        capture_output=True,
    )
    text = (folder / "out.svg").read_text()
    words = subprocess.run(
        ["pdftotext", *one, str(folder / "in.pdf"), "-"], check=True, capture_output=True, text=True
    ).stdout
    out = []
    drawn = r'<path style="[^"]*stroke:rgb[^"]*" d="([^"]*)"(?: transform="matrix\(([^)]*)\)")?'
    for way, matrix in re.findall(drawn, text):
        a, b, c, d, e, f = [float(v) for v in matrix.split(",")] if matrix else (1, 0, 0, 1, 0, 0)
        nums = [float(v) for v in re.findall(r"-?\d+\.?\d*", way)]
        pairs = list(zip(nums[::2], nums[1::2], strict=False))
        out.append([((a * x + c * y + e) * 25.4 / 72, (b * x + d * y + f) * 25.4 / 72) for x, y in pairs])
    return out, words


def test_on_paper_a_millimetre_is_one(basalt: Project, tmp_path: Path) -> None:
    """Drawn by poppler: the check bar is 100.00 mm, the foot 100 mm, the holes where they are."""
    project, layout = with_bracket(basalt)
    part = layout_parts(project, Study(project).true.rig, layout)[0]
    for paper in ("A4", "Letter"):
        lines, words = ruled(parts_pdf((part, part), "rig", "2026-11-28", paper, "mm"), tmp_path, 2)
        assert "Tab, tab, 4 off" in words
        level = [abs(w[1][0] - w[0][0]) for w in lines if len(w) == 2 and abs(w[1][1] - w[0][1]) < 1e-6]
        assert sum(abs(v - 100.0) < 0.01 for v in level) >= 2  # the bar and the foot
        rounds = [w for w in lines if len(w) > 8]
        across = [max(p[0] for p in w) - min(p[0] for p in w) for w in rounds]
        assert sum(abs(v - 20.0) < 0.01 for v in across) == 3
        middles = sorted(
            0.5 * (max(p[1] for p in w) + min(p[1] for p in w))
            for w, v in zip(rounds, across, strict=True)
            if abs(v - 20.0) < 0.01
        )
        assert [b - a for a, b in itertools.pairwise(middles)] == pytest.approx([30.0, 30.0], abs=0.01)


@pytest.mark.parametrize("theta", [math.radians(v) for v in (20, 45, 70, 90)])
@pytest.mark.parametrize(
    ("r", "big", "offset"), [(0.02, 0.03, 0.0), (0.02, 0.03, 0.009), (0.02, 0.03, -0.009), (0.025, 0.025, 0.0)]
)
def test_the_line_of_a_cope_where_the_tubes_meet(r: float, big: float, offset: float, theta: float) -> None:
    """Every generator of the branch followed to where its distance from the other's axis is R, in space."""
    out = np_unit(math.cos(theta), 0.0, math.sin(theta))
    side, down = (0.0, 1.0, 0.0), (math.sin(theta), 0.0, -math.cos(theta))
    for k in range(24):
        phi = 2 * math.pi * k / 24 + 1e-3
        foot = [r * (math.cos(phi) * d + math.sin(phi) * s) for d, s in zip(down, side, strict=True)]

        def gap(z: float, foot: list[float] = foot) -> float:
            y, h = foot[1] + z * out[1] - offset, foot[2] + z * out[2]
            return math.hypot(y, h) - big

        low = (0.0 - foot[2]) / out[2]  # where it passes the other's axis in height: inside or touching
        wanted = brentq(gap, low, low + 2.0, xtol=1e-13) if gap(low) < 0 else low
        assert cope_line(r, big, theta, offset, phi) == pytest.approx(wanted, abs=1e-6)


def np_unit(x: float, y: float, z: float) -> tuple[float, float, float]:
    n = math.sqrt(x * x + y * y + z * z)
    return x / n, y / n, z / n


def test_the_bore_stands_proud_where_the_inner_line_is_higher() -> None:
    found = cope(0.025, 0.003, 0.030, math.radians(60), 0.004)
    differs = [b - a for a, b in zip(found.outer, found.inner, strict=True)]
    assert found.proud == pytest.approx(max(differs))
    assert differs[round(found.proud_at / (2 * math.pi) * 720)] == pytest.approx(found.proud)
    assert cope(0.025, 0.003, None, math.pi / 2, 0.0).proud < 1e-12  # square on a plate
    tilted = cope(0.025, 0.003, None, math.radians(45), 0.0)
    assert tilted.depth == pytest.approx(0.05)
    assert tilted.proud == pytest.approx(0.003)  # at the toe, where the wall leans in


@pytest.mark.parametrize(
    ("values", "words"),
    [
        ((0.02, 0.021, 0.03, 1.0, 0.0), "its wall is more"),
        ((0.02, 0.002, 0.03, 0.2, 0.0), "from 15° to 90°"),
        ((0.02, 0.002, 0.019, 1.0, 0.0), "stands past the side"),
        ((0.02, 0.002, 0.03, 1.0, 0.011), "stands past the side"),
    ],
)
def test_a_cope_that_cannot_be_says_why(values: tuple[float, ...], words: str) -> None:
    with pytest.raises(ValueError, match=words):
        cope(*values)  # type: ignore[arg-type]


def test_a_wrap_is_as_wide_as_the_tube_is_round(tmp_path: Path) -> None:
    found = cope(0.022225, 0.003, 0.03, math.radians(50), 0.0)
    (x0, _), (x1, _) = extent(cope_loop(found, 0.02))
    assert x1 - x0 == pytest.approx(2 * math.pi * 0.022225)
    lines, words = ruled(cope_pdf(found, "Brace", "rig", "2026-11-28", "A4", "mm"), tmp_path, 1)
    assert "Brace" in words
    line = max(lines, key=len)
    assert len(line) > 600
    assert max(p[0] for p in line) - min(p[0] for p in line) == pytest.approx(1000 * 2 * math.pi * 0.022225, abs=0.01)


def test_with_nothing_laid_out_it_says_what_comes_first(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["export", str(demo_file("starter.stoutlink")), "--parts", str(tmp_path)]) == 0
    assert "lay out links or leaves first" in capsys.readouterr().err


def test_from_the_command_line(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file = Path(shutil.copy(demo_file("basalt.stoutlink"), tmp_path / "rig.stoutlink"))
    folder = tmp_path / "to" / "out"
    assert main(["export", str(file), "--parts", str(file)]) == 2
    assert "F149" in capsys.readouterr().err
    assert main(["export", str(file), "--parts", str(folder)]) == 0
    study = Study(read_project(file))
    parts = [p for end in ("rear", "front") for p in study.parts(end)]
    assert {f.stem for f in folder.glob("*.svg")} == {p.id for p in parts}
    assert {f.stem for f in folder.glob("*.dxf")} >= {p.id for p in parts} | {
        c.id for c in study.project.fabrication.copes
    }
    assert (folder / "parts.pdf").read_bytes().startswith(b"%PDF")


def test_u_bolt_plates_take_the_tube_that_was_typed_for_welding() -> None:
    """The leaf demo names no rear axle; its tube stands in the weld plan."""
    project = read_project(demo_file("tamarack.stoutlink"))
    (part,) = (p for p in Study(project).parts("rear") if "u-bolt-tube" in p.id)
    leaf = project.layout("rear").leaf  # type: ignore[union-attr]
    assert leaf is not None
    assert part.size("along") == pytest.approx(project.fabrication.welding[0].tube_od_m + leaf.u_bolt_m)  # type: ignore[operator]
    bare = with_parts(project, welding=())
    assert not [p for p in Study(bare).parts("rear") if "u-bolt-tube" in p.id]
