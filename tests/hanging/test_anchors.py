"""A pivot put on a surveyed rail stays known to be on it: when the rail's reading moves, that is said and can be followed."""

from __future__ import annotations

import msgspec
import pytest

from stoutlink.core.analysis.survey.rail_anchors import left_behind, rail_place
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.survey import SurveyPoint
from stoutlink.core.drawing.snapping import snap
from stoutlink.core.editing.edits import MovePivot, SetNumber
from stoutlink.core.editing.history import Session
from stoutlink.core.editing.layout_edits import FollowRails
from stoutlink.core.storage.decode import decode_project, encode_project
from stoutlink.core.study.study import Study

LEFT = ("upper_left", "frame")


def rear(project: Project) -> Layout:
    found = project.layout("rear")
    assert found is not None
    return found


def put(project: Project, view: str, up_to: tuple[float, float]) -> tuple[Project, str]:
    """Drag the left upper's frame pivot near a place in a view, as the window does."""
    layout = rear(project)
    found = snap(project, Study(project).true.rig, layout, LEFT, view, up_to, 400.0)  # type: ignore[arg-type]
    link = layout.link("upper_left")
    assert link is not None
    to = list(link.frame_pivot_m)
    for axis, value in zip({"side": (0, 2), "plan": (0, 1)}[view], found.at, strict=True):
        to[axis] = value
    edit = MovePivot(layout.id, *LEFT, (to[0], to[1], to[2]), "drag", across=found.across, up=found.up)  # type: ignore[arg-type]
    return edit.apply(project), found.word


@pytest.fixture
def on_rail(basalt: Project) -> Project:
    """The demo with its left upper on the outside and top of the left rail."""
    place = rail_place(basalt.tape.surveys, basalt.rig, 1.0, 0.95)
    assert place is not None
    assert place.half_width is not None
    assert place.half_height is not None
    project, word = put(basalt, "plan", (0.95, place.y + place.half_width))
    assert word == "outside of the rail"
    project, word = put(project, "side", (0.95, place.z + place.half_height))
    assert word == "top of the rail"
    return project


def test_where_the_rail_is_by_hand(basalt: Project) -> None:
    """Straight between two points: the mean half-way."""
    from_survey = [p for p in Study(basalt).placed("as-built") if p.point.kind == "rail" and p.z is not None]
    a, b = sorted(from_survey, key=lambda p: p.x)[:2]
    assert a.z is not None
    assert b.z is not None
    middle = rail_place(basalt.tape.surveys[:1], basalt.rig, 1.0, 0.5 * (a.x + b.x))
    assert middle is not None
    left = [next(y for y in p.sides if y > 0) for p in (a, b)]
    assert (middle.y, middle.z) == pytest.approx((0.5 * sum(left), 0.5 * (a.z + b.z)))
    assert rail_place(basalt.tape.surveys, basalt.rig, 1.0, 11.0) is None


def test_both_faces_of_a_pair_are_kept(on_rail: Project) -> None:
    anchors = {a.id: a for a in rear(on_rail).anchors}
    assert set(anchors) == {"upper_left:frame", "upper_right:frame"}
    assert (anchors["upper_left:frame"].rail, anchors["upper_right:frame"].rail) == ("left", "right")
    assert all((a.across, a.up) == ("outside", "top") for a in anchors.values())
    assert Study(on_rail).left_behind("rear") == ()
    assert decode_project(encode_project(on_rail)) == on_rail


def _raised(point: SurveyPoint, by: float) -> SurveyPoint:
    if point.kind != "rail":
        return point
    heights = tuple(msgspec.structs.replace(r, value_m=r.value_m + by) for r in point.height)
    return msgspec.structs.replace(point, height=heights)


def test_a_rail_that_moves_says_so_and_can_be_followed(on_rail: Project) -> None:
    """Every height of the frame read 20 mm higher: the rail's top goes up by as much, and the pivot with it."""
    surveys = tuple(
        msgspec.structs.replace(survey, points=tuple(_raised(p, 0.020) for p in survey.points))
        for survey in on_rail.tape.surveys
    )
    moved = with_parts(on_rail, surveys=surveys)
    study = Study(moved)
    left = study.left_behind("rear")
    assert [one.link.id for one in left] == ["upper_left", "upper_right"]
    assert left[0].off == pytest.approx((0.0, 0.0, 0.020), abs=1e-9)
    found = [f for f in study.axle_findings("rear") if f.code == "G207"]
    assert len(found) == 2
    assert "outside and top of the left rail, which now lies 0.79″ higher." in found[0].sentence
    session = Session(moved)
    after = session.do(FollowRails("rear-a", tuple((one.link.id, one.wanted) for one in left if one.wanted)))
    before, now = (rear(p).link("upper_left") for p in (moved, after))
    assert before is not None
    assert now is not None
    assert now.frame_pivot_m[2] - before.frame_pivot_m[2] == pytest.approx(0.020)
    assert now.frame_pivot_m[:2] == before.frame_pivot_m[:2]
    assert Study(after).left_behind("rear") == ()
    assert not [f for f in Study(after).axle_findings("rear") if f.code == "G207"]
    assert session.undo() is moved


@pytest.mark.parametrize(("wider", "word"), [(0.010, "farther out"), (-0.010, "farther in")])
def test_which_way_the_rail_went(on_rail: Project, wider: float, word: str) -> None:
    body = msgspec.structs.replace(on_rail.rig.body, rail_width_m=(on_rail.rig.body.rail_width_m or 0.05) + 2 * wider)
    survey = on_rail.tape.surveys[0]
    points = tuple(
        msgspec.structs.replace(p, diameter_m=None if p.diameter_m is None else p.diameter_m + 2 * wider)
        for p in survey.points
    )
    moved = with_parts(
        on_rail,
        rig=msgspec.structs.replace(on_rail.rig, body=body),
        surveys=(msgspec.structs.replace(survey, points=points), *on_rail.tape.surveys[1:]),
    )
    found = [f for f in Study(moved).axle_findings("rear") if f.code == "G207"]
    assert found
    assert all(f.sentence.endswith(f"0.39″ {word}.") for f in found)


def test_a_pivot_moved_by_hand_lets_go(on_rail: Project) -> None:
    link = rear(on_rail).link("upper_left")
    assert link is not None
    x, y, z = link.frame_pivot_m
    off = MovePivot("rear-a", *LEFT, (x, y + 0.01, z)).apply(on_rail)  # type: ignore[arg-type]
    assert {(a.across, a.up) for a in rear(off).anchors} == {(None, "top")}
    free = MovePivot("rear-a", *LEFT, (x, y + 0.01, z + 0.01)).apply(off)  # type: ignore[arg-type]
    assert rear(free).anchors == ()


def test_a_rail_that_is_not_surveyed_there_any_more(on_rail: Project) -> None:
    gone = with_parts(on_rail, surveys=())
    left = left_behind(rear(gone), gone.tape.surveys, gone.rig)
    assert {one.wanted for one in left} == {None}
    found = [f for f in Study(gone).axle_findings("rear") if f.code == "G207"]
    assert all("not surveyed there any more" in f.sentence for f in found)
    assert len(found) == 2


def test_a_typed_station_along_the_rail_keeps_the_faces(on_rail: Project) -> None:
    moved = SetNumber("layouts.rear-a.links.lower_left.tube_od_m", 0.05).apply(on_rail)
    assert rear(moved).anchors is rear(on_rail).anchors
