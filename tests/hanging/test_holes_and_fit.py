"""Holes against the same holes bolted one by one; fit checks with trade arithmetic; what a kept length and a fixed
bolt do.
"""

from __future__ import annotations

import itertools
import math
from typing import Any

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from stoutlink.core.advice.verdict import gauge_values
from stoutlink.core.analysis.linkage.axle_motion import axle_motion
from stoutlink.core.analysis.linkage.hole_map import MOST, combinations, hole_map
from stoutlink.core.analysis.linkage.uncertainty import pivot_readings
from stoutlink.core.analysis.linkage.will_it_fit import will_it_fit
from stoutlink.core.analysis.vehicle.effective_vehicle import effective_vehicle
from stoutlink.core.document.bracket import Bracket
from stoutlink.core.document.hole_points import hole_point
from stoutlink.core.document.paths import get_value
from stoutlink.core.document.project import Project
from stoutlink.core.document.survey import BoxSolid
from stoutlink.core.editing.edits import MovePivot, PutInList, SetChoice, SetNumber, TakeFromList
from stoutlink.core.editing.layout_edits import FitHoles, LockLength, PutLayout
from stoutlink.core.errors import ValueOutOfRange
from stoutlink.core.mechanics.holes import hole_offset
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file
from tests.layouts import RADIUS, layout

INCH = 0.0254


def test_every_combination_is_what_bolting_it_gives(basalt: Project) -> None:
    """A handful of rows of the map against the layout with those holes fitted, analysed afresh."""
    rear, rig = basalt.layout("rear"), effective_vehicle(basalt).rig
    assert rear is not None
    found = hole_map(rig, rear, basalt.linkage.joints, basalt.settings)
    assert len(found.holes) == combinations(rear) == math.prod(b.holes for b in rear.brackets)
    assert [tuple(h) for h in found.holes] == list(itertools.product(*(range(1, b.holes + 1) for b in rear.brackets)))
    s = basalt.settings
    for row in (0, 17, found.current, len(found.holes) - 1):
        fitted = FitHoles(
            rear.id, tuple((b.id, int(h)) for b, h in zip(rear.brackets, found.holes[row], strict=True))
        ).apply(basalt)
        values = gauge_values(
            s, axle_motion(rig, fitted.layout("rear"), basalt.linkage.joints, rear.droop_m, rear.bump_m)
        )
        for name in ("drive", "brake", "roll_centre", "steer", "hold"):
            assert found.values[name][row] == pytest.approx(values[name], rel=1e-9), name
        assert found.values["pinion"][row] == pytest.approx(values["pinion"], abs=0.01)
    back = FitHoles(rear.id, tuple((b.id, b.hole) for b in rear.brackets)).apply(basalt)
    assert back.layout("rear") == rear


def test_holes_stand_where_a_tape_would_find_them() -> None:
    assert hole_offset(4, 0.03, 0.0) == pytest.approx((0.09, 0.0))
    one = np.array([hole_offset(i, 0.03, 0.4, 0.2) for i in range(1, 6)])
    middle = 0.2 * np.array([-math.sin(0.4), math.cos(0.4)])  # left of the tangent at hole 1
    assert np.hypot(*(one - middle).T) == pytest.approx(np.full(5, 0.2))
    assert np.hypot(*np.diff(one, axis=0).T) == pytest.approx(np.full(4, 0.4 * math.sin(0.075)))  # chord of a 30 mm arc


def test_a_fan_bends_toward_the_other_pivot_and_moves_both_sides(basalt: Project) -> None:
    rear = basalt.layout("rear")
    assert rear is not None
    fan = next(b for b in rear.brackets if b.pattern == "fan")
    link = rear.link(fan.link)
    assert link is not None
    far = link.pivot("frame" if fan.end == "axle" else "axle")
    straight = msgspec.structs.replace(fan, pattern="row")
    ends = [hole_point(rear, b, fan.holes)[0] for b in (fan, straight)]
    assert (ends[0] - ends[1]) * (far[0] - link.pivot(fan.end)[0]) > 0
    fitted = FitHoles(rear.id, ((fan.id, 3),)).apply(basalt).layout("rear")
    assert fitted is not None
    left, right = fitted.link("upper_left"), fitted.link("upper_right")
    assert left is not None
    assert right is not None
    assert right.axle_pivot_m == (left.axle_pivot_m[0], -left.axle_pivot_m[1], left.axle_pivot_m[2])
    assert left.axle_pivot_m != link.axle_pivot_m


def test_too_many_and_none(basalt: Project) -> None:
    rear, rig = basalt.layout("rear"), effective_vehicle(basalt).rig
    assert rear is not None
    with pytest.raises(ValueOutOfRange, match="No pivot"):
        hole_map(rig, msgspec.structs.replace(rear, brackets=()), basalt.linkage.joints, basalt.settings)
    free = msgspec.structs.replace(
        rear,
        mirrored=False,
        brackets=tuple(
            Bracket(id=f"b{i}", name="b", link=link.id, end=end, holes=12)  # type: ignore[arg-type]
            for i, (link, end) in enumerate(itertools.product(rear.links, ("frame", "axle")))
        ),
    )
    assert combinations(free) == 12**8 > MOST
    with pytest.raises(ValueOutOfRange, match="more than the 1,000,000"):
        hole_map(rig, free, basalt.linkage.joints, basalt.settings)
    big = msgspec.structs.replace(rear, brackets=tuple(msgspec.structs.replace(b, holes=12) for b in rear.brackets))
    found = hole_map(rig, big, basalt.linkage.joints, basalt.settings)
    assert len(found.holes) == 12**4
    assert np.isfinite(found.values["drive"]).all()
    assert np.isnan(found.values["pinion"]).all()


@pytest.mark.parametrize(
    ("bracket", "why"),
    [
        ({"link": "gone"}, "not among the links"), ({"hole": 3, "holes": 2}, "it has 2 holes"), ({"pattern": "fan"}, "needs a radius"),
        ({"link": "upper_right"}, "second bracket"), ({"pattern": "fan", "radius_m": 0.02, "holes": 9}, "needs a radius of at least"),
    ],
)  # fmt: skip
def test_brackets_that_cannot_be(basalt: Project, bracket: dict[str, Any], why: str) -> None:
    one = Bracket(**({"id": "new", "name": "new", "link": "upper_left", "end": "frame"} | bracket))
    start = (
        basalt
        if why == "second bracket"
        else TakeFromList("layouts.rear-a.brackets", ("upper-frame",), "x").apply(basalt)
    )
    with pytest.raises(ValueOutOfRange, match=why):
        PutInList("layouts.rear-a.brackets", one, "x").apply(start)
    for holes in ((("upper-frame", 9),), (("gone", 1),)):
        with pytest.raises(ValueOutOfRange):
            FitHoles("rear-a", holes).apply(basalt)


def fits(project: Project, end: str = "rear") -> dict[str, tuple[str, float | None]]:
    found = project.layout(end)
    assert found is not None
    return {f"{f.link.id} {f.end} {f.what}": (f.how, f.by) for f in will_it_fit(project, found)}


@pytest.mark.parametrize(
    ("path", "value", "line", "standing", "by"),
    [
        # common practice: an insert of nominal 1.000 in in a nominal bore of 1.500 − 2 × 0.250 = 1.000 in is no slip
        # fit
        ("layouts.rear-a.links.upper_left.frame_end.insert_od_m", 1.25 * INCH, "upper_left frame insert", "tight", 0.00013),
        ("layouts.rear-a.links.upper_left.frame_end.insert_od_m", 1.26 * INCH, "upper_left frame insert", "misfit", 0.01 * INCH),
        ("layouts.rear-a.links.upper_left.frame_end.insert_od_m", 1.20 * INCH, "upper_left frame insert", "misfit", 0.05 * INCH),
        ("layouts.rear-a.brackets.upper-frame.gap_m", 2.1 * INCH, "upper_left frame joint in gap", "misfit", 0.15 * INCH),
        ("layouts.rear-a.brackets.upper-frame.gap_m", 2.5 * INCH, "upper_left frame joint in gap", "tight", 0.25 * INCH),
        ("layouts.rear-a.brackets.upper-frame.bolt_hole_m", 0.5625 * INCH, "upper_left frame bolt hole", "misfit", 0.0625 * INCH),
        ("layouts.rear-a.brackets.upper-frame.reach_m", 0.9 * INCH, "upper_left frame wrench room", "misfit", (1.03125 - 0.9) * INCH),
        ("layouts.rear-a.brackets.upper-frame.foot_m", 4.5 * INCH, "upper_left frame foot on rail", "misfit", 0.5 * INCH),
        ("layouts.rear-a.brackets.lower-frame.nut_plate_m", 3.75 * INCH, "lower_left frame nut plate", "misfit", (3.75 - (4.0 - 2 * 0.1875)) * INCH),
        ("layouts.rear-a.brackets.lower-axle.saddle_m", 3.5 * INCH, "lower_left axle on the tube", "fits", None),
        ("layouts.rear-a.brackets.upper-frame.bolt_length_m", 3.0 * INCH, "upper_left frame bolt length", "misfit", 2.25 * INCH + 0.5 * INCH + 0.005 + 0.625 * INCH + 0.006 - 3.0 * INCH),
        ("layouts.rear-a.brackets.upper-frame.bolt_grip_m", 2.0 * INCH, "upper_left frame bolt grip", "misfit", 2.25 * INCH + 0.25 * INCH + 0.0025 - 2.0 * INCH),
        ("layouts.rear-a.brackets.upper-frame.bolt_grip_m", 3.5 * INCH, "upper_left frame bolt grip", "misfit", 3.5 * INCH - (2.25 * INCH + 0.5 * INCH + 0.005)),
        ("joints.rod-100-r.body_width_m", 2.4 * INCH, "upper_left frame body in gap", "misfit", 0.15 * INCH),
    ],
)  # fmt: skip
def test_by_how_much_it_does_not_fit(
    basalt: Project, path: str, value: float, line: str, standing: str, by: float | None
) -> None:
    found = fits(SetNumber(path, value).apply(basalt))
    assert found[line][0] == standing
    assert found[line][1] == (None if by is None else pytest.approx(by, abs=1e-6))


def test_room_kept_for_other_parts_and_what_is_not_known(basalt: Project) -> None:
    x, y, z = basalt.layout("rear").link("upper_left").frame_pivot_m  # type: ignore[union-attr]
    room = BoxSolid(
        id="tower",
        name="Shock tower",
        kind="room_kept",
        low_m=(x + 0.01, y - 0.1, z - 0.1),
        high_m=(x + 0.2, y + 0.1, z + 0.1),
    )
    found = fits(PutInList("solids", room, "x").apply(basalt))
    assert found["upper_left frame room"][0] == "misfit"
    assert found["upper_left frame room"][1] == pytest.approx(2.0625 / 2 * INCH - 0.01)
    bare = SetNumber("joints.rod-100-r.bolt_m", None).apply(
        TakeFromList("layouts.rear-a.brackets", ("upper-axle",), "x").apply(basalt)
    )
    assert fits(bare)["upper_left axle bracket"][0] == "unknown"
    assert fits(bare)["upper_left frame bolt"][0] == "unknown"
    tall = SetNumber("layouts.front-a.brackets.panhard-frame.foot_m", 4.25 * INCH).apply(basalt)
    said = {f.subject for f in Study(tall).findings if f.code == "G220"}
    assert any("foot on rail" in s for s in said)
    mended = SetNumber("layouts.front-a.brackets.panhard-frame.foot_m", 3.5 * INCH).apply(basalt)
    assert not any("foot on rail" in f.subject for f in Study(mended).findings if f.code == "G220")


@given(st.floats(-0.15, 0.15), st.floats(-0.15, 0.15), st.floats(-0.1, 0.1))
@settings(max_examples=30)
def test_a_kept_length_stays(dx: float, dy: float, dz: float) -> None:
    basalt = read_project(demo_file("basalt.stoutlink"))
    project = LockLength("rear-a", "lower_left", True).apply(basalt)
    link = basalt.layout("rear").link("lower_left")  # type: ignore[union-attr]
    assert link is not None
    x, y, z = link.frame_pivot_m
    moved = MovePivot("rear-a", "lower_left", "frame", (x + dx, y + dy, z + dz)).apply(project).layout("rear")
    assert moved is not None
    for side in ("left", "right"):
        one = moved.link(f"lower_{side}")
        assert one is not None
        assert math.dist(one.frame_pivot_m, one.axle_pivot_m) == pytest.approx(
            math.dist(link.frame_pivot_m, link.axle_pivot_m), abs=1e-9
        )


def test_a_typed_coordinate_stays_as_typed_when_the_length_is_kept(basalt: Project) -> None:
    project = LockLength("rear-a", "lower_left", True).apply(basalt)
    x, y, _ = project.layout("rear").link("lower_left").frame_pivot_m  # type: ignore[union-attr]
    moved = MovePivot("rear-a", "lower_left", "frame", (x, y, 0.60), texts=("", "", "23 5/8")).apply(project)
    point = get_value(moved, "layouts.rear-a.links.lower_left.frame_pivot_m")
    assert point[2] == 0.60
    assert point[:2] != (x, y)
    with pytest.raises(ValueOutOfRange, match="does not reach"):
        MovePivot("rear-a", "lower_left", "frame", (x, y, 3.5), texts=("", "", "137 3/4")).apply(project)


def test_what_sits_on_one_bolt_moves_and_is_measured_together() -> None:
    arms = layout(RADIUS, kind="radius_arms_panhard")
    links = list(arms.links)
    names = ("arm_left_near", "arm_right_near", "arm_left_far", "arm_right_far", "panhard")
    links = [
        msgspec.structs.replace(x, id=n, role="panhard" if n == "panhard" else "arm")
        for x, n in zip(links, names, strict=True)
    ]
    arms = msgspec.structs.replace(arms, links=tuple(links))
    assert dict(arms.moved_with(links[0], "frame")) == {
        "arm_left_near": 1.0,
        "arm_left_far": 1.0,
        "arm_right_near": -1.0,
        "arm_right_far": -1.0,
    }
    assert dict(arms.moved_with(links[0], "axle")) == {"arm_left_near": 1.0, "arm_right_near": -1.0}
    heights = [r for r in pivot_readings(arms, {}) if r.what.endswith("frame height")]
    assert len(heights) == 2  # the arms' shared bolt, and the panhard's


def test_taking_in_a_layout_drops_notes_that_went_stale(basalt: Project) -> None:
    noted = MovePivot("rear-a", "upper_left", "frame", (0.9, 0.42, 0.82), texts=("35 7/16", "", "")).apply(basalt)
    path = "layouts.rear-a.links.upper_left.frame_pivot_m.0"
    assert noted.entry(path) is not None
    rear = noted.layout("rear")
    assert rear is not None
    other = msgspec.structs.replace(
        rear,
        links=tuple(
            msgspec.structs.replace(x, frame_pivot_m=(x.frame_pivot_m[0] + 0.01, *x.frame_pivot_m[1:]))
            for x in rear.links
        ),
    )
    assert PutLayout(other, (), "x").apply(noted).entry(path) is None
    assert PutLayout(rear, (), "x").apply(noted).entry(path) is not None
    beside = PutLayout(msgspec.structs.replace(other, id="new"), (), "x").apply(noted)
    assert (beside.linkage.rear_layout, beside.linkage.rear_compare) == ("new", "rear-a")
    with pytest.raises(ValueOutOfRange, match="names"):
        SetChoice("rear_layout", "gone").apply(noted)
