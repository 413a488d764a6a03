"""Layouts side by side: copying, taking away, and what is said of the difference."""

from __future__ import annotations

import math

import msgspec
import pytest

from stoutlink.core.advice.comparison import differences
from stoutlink.core.advice.verdict import gauge_values, target_id
from stoutlink.core.document.groups import OwnTarget
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.editing.edits import MovePivot, PutInList, SetChoice, SetNumber, TakeFromList
from stoutlink.core.editing.history import Session
from stoutlink.core.editing.layout_edits import CopyLayout, TakeLayout, UseLayout
from stoutlink.core.errors import ValueOutOfRange
from stoutlink.core.study.study import Study


def two(basalt: Project) -> Project:
    """The demo with a second rear layout whose upper frame pivots stand 60 mm lower and 50 mm further out."""
    copied = CopyLayout("rear-a", "rear-b", "Lower uppers").apply(basalt)
    point = copied.linkage.layouts[-1].link("upper_left")
    assert point is not None
    x, y, z = point.frame_pivot_m
    return MovePivot("rear-b", "upper_left", "frame", (x, y + 0.05, z - 0.06)).apply(copied)


def test_a_copy_is_worked_on_and_held_against_the_original(basalt: Project) -> None:
    noted = SetNumber("layouts.rear-a.links.upper_left.frame_pivot_m.0", 0.9, "35 7/16", "measured").apply(basalt)
    copied = CopyLayout("rear-a", "rear-b", "Second cut").apply(noted)
    assert (copied.linkage.rear_layout, copied.linkage.rear_compare) == ("rear-b", "rear-a")
    note = copied.entry("layouts.rear-b.links.upper_left.frame_pivot_m.0")
    assert note is not None
    assert note.text == "35 7/16"
    held = Study(copied).axles["rear"].compared
    assert held is not None
    assert held.words == ("Nothing between them that is worth a word.",)
    with pytest.raises(ValueOutOfRange):
        CopyLayout("rear-a", "rear-b", "Again").apply(copied)


def test_taking_away_never_leaves_a_name_without_its_layout(basalt: Project) -> None:
    project = two(basalt)
    back = TakeLayout("rear-b").apply(project)
    assert (back.linkage.rear_layout, back.linkage.rear_compare) == ("rear-a", None)
    assert not [e for e in back.entries if e.field.startswith("layouts.rear-b.")]
    other = TakeLayout("rear-a").apply(project)
    assert (other.linkage.rear_layout, other.linkage.rear_compare) == ("rear-b", None)
    none = TakeLayout("rear-b").apply(other)
    assert none.linkage.rear_layout is None
    with pytest.raises(ValueOutOfRange):
        UseLayout("gone", None).apply(project)
    with pytest.raises(ValueOutOfRange):
        SetChoice("rear_compare", "front-a").apply(project)


def test_the_words_name_both_numbers_and_turn_round(basalt: Project) -> None:
    project = two(basalt)
    mine, other = Study(project).axles["rear"], Study(UseLayout("rear-a", "rear-b").apply(project)).axles["rear"]
    assert mine.motion is not None
    assert other.motion is not None
    assert mine.compared is not None
    assert other.compared is not None
    a, b = (gauge_values(project.settings, m.motion) for m in (mine, other) if m.motion is not None)
    assert mine.compared.values == pytest.approx(b)
    assert a["drive"] > b["drive"]
    assert f"Squats less: {a['drive']:.0f} % against {b['drive']:.0f} %." in mine.compared.words
    assert f"Squats more: {b['drive']:.0f} % against {a['drive']:.0f} %." in other.compared.words
    spread = [math.degrees(m.drawn.triangulation) for m in (mine.motion, other.motion)]
    assert any(f"{abs(spread[0] - spread[1]):.0f}° more" in w for w in mine.compared.words) == (spread[0] > spread[1])
    assert len(mine.compared.words) == len(other.compared.words)
    longer = [w for w in mine.compared.words if w.startswith("Left upper is")]
    assert len(longer) == 1


def test_a_compared_layout_that_cannot_close_is_said(basalt: Project) -> None:
    project = two(basalt)
    free = [one.id for one in project.linkage.layouts[-1].links if one.role == "upper"]
    broken = project.linkage.layouts[-1]
    broken = msgspec.structs.replace(
        broken, id="free", name="No uppers", links=tuple(x for x in broken.links if x.id not in free)
    )
    held = with_parts(project, layouts=(*project.linkage.layouts, broken), rear_compare="free")
    found = Study(held).axles["rear"]
    assert found.motion is not None
    assert found.compared is not None
    assert found.compared.motion is None
    assert "No uppers cannot be compared" in found.compared.words[0]


def test_a_drag_keeps_the_compared_answer(basalt: Project) -> None:
    project = two(basalt)
    session = Session(project)
    first = Study(session.project)
    session.do(MovePivot("rear-b", "upper_left", "frame", (0.95, 0.42, 0.78)))
    second = Study(session.project, first)
    assert second.axles["rear"].compared is not None
    assert first.axles["rear"].compared is not None
    assert second.axles["rear"].compared.motion is first.axles["rear"].compared.motion
    assert first.axles["front"].motion is second.axles["front"].motion
    assert first.axles["front"].gauges is second.axles["front"].gauges
    assert differences(
        project.settings, *(m for m in (first.axles["rear"].motion, first.axles["rear"].motion) if m is not None)
    ) == ("Nothing between them that is worth a word.",)


def test_a_band_of_ones_own_judges_the_number(basalt: Project) -> None:
    before = next(g for g in Study(basalt).axles["rear"].gauges if g.id == "drive")
    assert before.standing == "edge"
    own = OwnTarget(id=target_id("rear", "drive"), low=60.0, high=90.0, why="long wheelbase, daily driven")
    wanted = PutInList("targets", own, "Want another band").apply(basalt)
    gauge = next(g for g in Study(wanted, Study(basalt)).axles["rear"].gauges if g.id == "drive")
    assert gauge.own
    assert gauge.standing == "out"
    assert gauge.value == before.value
    assert gauge.target is not None
    assert "daily driven" in gauge.target.reason
    front = next(g for g in Study(wanted).axles["front"].gauges if g.id == "drive")
    assert not front.own
    wide = PutInList("targets", msgspec.structs.replace(own, high=400.0), "Wider").apply(wanted)
    assert next(g for g in Study(wide).axles["rear"].gauges if g.id == "drive").standing == "in"
    with pytest.raises(ValueOutOfRange, match="less than the second"):
        PutInList("targets", msgspec.structs.replace(own, high=50.0), "Backwards").apply(basalt)
    assert TakeFromList("targets", (own.id,), "School").apply(wanted).linkage.targets == ()
