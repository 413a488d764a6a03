"""A link from plan to steel: what is cut, what is kept, what a moved pivot asks for then, and what it may not come to."""

from __future__ import annotations

import math
import statistics
from typing import Any

import msgspec
import pytest

from stoutlink.core.analysis.linkage.cut_list import LinkCut
from stoutlink.core.document.layout import Link
from stoutlink.core.document.link_work import LinkReading, LinkStage, mean_length
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.editing.edits import MovePivot, SetNumber
from stoutlink.core.editing.link_edits import ReadLength, SetLinkStage, TakeReadingBack
from stoutlink.core.errors import StoutError
from stoutlink.core.reports.cut_list_csv import cut_list_csv, cut_list_text
from stoutlink.core.study.study import Study


def cut_of(project: Project, link: str = "lower_left") -> LinkCut:
    return next(c for c in Study(project).cuts if c.layout.id == "rear-a" and c.link.id == link)


def link_of(project: Project, link: str = "lower_left") -> Link:
    layout = project.layout("rear")
    assert layout is not None
    found = layout.link(link)
    assert found is not None
    return found


def stage(project: Project, to: LinkStage, link: str = "lower_left") -> Project:
    return SetLinkStage("rear-a", link, to, cut_of(project, link).cut.centre_to_centre).apply(project)


def read(project: Project, *values: float, link: str = "lower_left", sigma: float | None = None) -> Project:
    for value in values:
        project = ReadLength("rear-a", link, LinkReading(value_m=value, sigma_m=sigma)).apply(project)
    return project


@pytest.fixture
def rig(basalt: Project) -> Project:
    """The demo with inserts that need no bore measured."""
    layout = basalt.layout("rear")
    assert layout is not None

    def bare(link: Link) -> Link:
        ends = (msgspec.structs.replace(e, insert_od_m=None, bore_m=None) for e in (link.frame_end, link.axle_end))
        frame, axle = ends
        return msgspec.structs.replace(link, frame_end=frame, axle_end=axle, stage="planned", readings=(), made_m=None)

    changed = msgspec.structs.replace(layout, links=tuple(bare(x) for x in layout.links))
    return with_parts(basalt, layouts=tuple(changed if x.id == layout.id else x for x in basalt.linkage.layouts))


def moved(project: Project, by: float) -> Project:
    """The frame pivot moved along the link, so that it asks for ``by`` m more."""
    link = link_of(project)
    a, b = link.frame_pivot_m, link.axle_pivot_m
    k = by / math.dist(a, b)
    to = tuple(p + k * (p - q) for p, q in zip(a, b, strict=True))
    return MovePivot("rear-a", "lower_left", "frame", (to[0], to[1], to[2])).apply(project)


def test_the_tube_is_cut_to_what_was_measured(rig: Project) -> None:
    planned = cut_of(rig)
    after = read(rig, planned.cut.centre_to_centre + 0.002, planned.cut.centre_to_centre + 0.004)
    assert link_of(after).stage == "measured"
    now = cut_of(after)
    assert now.cut.tube == pytest.approx(planned.cut.tube + 0.003)
    assert not now.there
    back = TakeReadingBack("rear-a", "lower_left").apply(after)
    assert cut_of(back).cut.tube == pytest.approx(planned.cut.tube + 0.002)
    back = TakeReadingBack("rear-a", "lower_left").apply(back)
    assert link_of(back).stage == "planned"
    assert cut_of(back).cut.tube == pytest.approx(planned.cut.tube)


def test_once_cut_a_moved_pivot_takes_turns_not_steel(rig: Project) -> None:
    """The tube stays; 6 mm more between the pivots are 6 mm over two pitches of turn."""
    tube, before = cut_of(rig).cut.tube, cut_of(rig).cut
    after = moved(stage(rig, "cut"), 0.006)
    now = cut_of(after)
    assert now.cut.tube == pytest.approx(tube)
    assert (now.made, now.there, now.at_hand) == (True, True, False)
    assert now.turns.change == pytest.approx(0.006)
    assert now.turns.turns == pytest.approx(0.006 / before.per_turn)
    assert (now.now.longer, now.now.shorter) == pytest.approx((before.longer - 0.006, before.shorter + 0.006))
    for then, was in zip(now.now.ends, before.ends, strict=True):  # one pitch at both ends: half of it each
        assert then is not None
        assert was is not None
        assert then.engaged == pytest.approx(was.engaged - 0.003)
    assert now.turns.reaches
    far = moved(after, before.longer)
    assert not cut_of(far).turns.reaches
    found = [f for f in Study(far).findings if f.code == "C206" and "as cut" in f.sentence]
    assert found
    uncut = moved(rig, 0.006)
    assert cut_of(uncut).cut.tube == pytest.approx(tube + 0.006)


def test_what_is_read_of_it_as_it_is_counts_from_then_on(rig: Project) -> None:
    after = stage(rig, "cut")
    made = link_of(after).made_m
    assert made is not None
    after = read(stage(after, "welded"), made - 0.001, made - 0.003)
    link = link_of(after)
    assert [r.stage for r in link.readings] == ["welded", "welded"]
    assert link.as_made == pytest.approx(made - 0.002)
    assert link.made_m == made  # what it was cut for is not written over
    assert cut_of(after).turns.change == pytest.approx(0.002)
    again = stage(after, "planned")
    assert link_of(again).made_m is None
    assert cut_of(again).cut.centre_to_centre == pytest.approx(made)


def test_readings_before_the_cut_say_nothing_of_the_link_after_it(rig: Project) -> None:
    planned = cut_of(rig).cut.centre_to_centre
    after = stage(read(rig, planned + 0.01), "cut")
    link = link_of(after)
    assert link.made_m == pytest.approx(planned + 0.01)
    assert link.read is None
    assert link.as_made == pytest.approx(planned + 0.01)


@pytest.mark.parametrize(
    ("values", "sigmas"),
    [
        ((1.0,), (None,)),
        ((1.0, 1.002), (None, None)),
        ((1.0, 1.0001, 0.9999), (0.002, 0.002, 0.002)),
        ((1.0, 1.01, 0.99, 1.004), (None,) * 4),
    ],
)
def test_a_mean_and_how_sure_it_is(values: tuple[float, ...], sigmas: tuple[float | None, ...]) -> None:
    """By the standard library's mean and deviation; never surer than the readings' own ± let it be."""
    found = mean_length(tuple(LinkReading(value_m=v, sigma_m=s) for v, s in zip(values, sigmas, strict=True)))
    assert found is not None
    assert found[0] == pytest.approx(statistics.fmean(values))
    n = len(values)
    own = math.sqrt(sum((0.0004 if s is None else s) ** 2 for s in sigmas)) / n
    spread = statistics.stdev(values) / math.sqrt(n) if n > 1 else 0.0
    assert found[1] == pytest.approx(max(own, spread))
    assert mean_length(()) is None


def test_no_insert_goes_into_a_bore_nobody_measured(rig: Project) -> None:
    at = "layouts.rear-a.links.lower_left.frame_end"
    with_insert = SetNumber(f"{at}.insert_od_m", 0.034).apply(rig)
    cut = stage(with_insert, "cut")
    with pytest.raises(StoutError, match=r"D163 .*measure the bore at the frame end"):
        stage(cut, "tacked")
    tight = SetNumber(f"{at}.bore_m", 0.0338).apply(cut)
    with pytest.raises(StoutError, match=r"D164 .*smaller than the insert; ream it"):
        stage(tight, "welded")
    assert any("larger than the bore" in str(f) for f in Study(tight).fit("rear"))
    good = SetNumber(f"{at}.bore_m", 0.0342).apply(cut)
    assert link_of(stage(good, "final")).stage == "final"
    with pytest.raises(StoutError, match=r"D161 .*not measured yet"):
        stage(rig, "measured")
    with pytest.raises(StoutError, match="D160"):
        TakeReadingBack("rear-a", "lower_left").apply(rig)
    with pytest.raises(StoutError, match="D159"):
        SetLinkStage("rear-a", "nothing", "cut", 1.0).apply(rig)


def test_measured_otherwise_than_laid_out_is_said(rig: Project) -> None:
    planned = cut_of(rig).cut.centre_to_centre

    def says(project: Project) -> bool:
        return "C207" in codes(project)

    assert not says(read(rig, planned + 0.003))
    assert says(read(rig, planned + 0.0035))
    assert not says(read(rig, planned + 0.0035, sigma=0.002))  # within its own ±


def codes(project: Project) -> set[str]:
    return {f.code for f in Study(project).findings_so_far}


@pytest.mark.parametrize(
    ("changes", "word"),
    [({"tube_wall_m": 0.0095}, "tube"), ({"material": "steel_4130"}, "tube"), ({"stage": "cut", "made_m": 1.0}, "")],
)
def test_a_pair_that_parts_says_so(rig: Project, changes: dict[str, Any], word: str) -> None:
    assert "C208" not in codes(rig)
    layout = rig.layout("rear")
    assert layout is not None
    links = tuple(msgspec.structs.replace(x, **changes) if x.id == "lower_right" else x for x in layout.links)
    after = with_parts(
        rig,
        layouts=tuple(msgspec.structs.replace(x, links=links) if x.id == layout.id else x for x in rig.linkage.layouts),
    )
    found = [f.sentence for f in Study(after).findings_so_far if f.code == "C208"]
    assert bool(found) is bool(word)
    if word:
        assert word in found[0]


def test_a_pair_cut_to_other_lengths_says_so(rig: Project) -> None:
    after = stage(stage(rig, "cut"), "cut", "lower_right")
    assert "C208" not in codes(after)
    made = link_of(after, "lower_right").as_made
    assert made is not None
    assert "C208" in codes(read(after, made + 0.002, link="lower_right"))


def test_lists_leave_out_what_is_cut(rig: Project) -> None:
    after = moved(stage(rig, "cut"), 0.006)
    study = Study(after)
    rows = cut_list_csv(study.cuts, ()).splitlines()
    assert not any("Left lower" in row and ",rear," in f",{row}" for row in rows)
    assert "cut, 0.24″ longer: " in cut_list_text(study.cuts, (), "in")
    assert all((p.layout, p.link) != ("rear-a", "lower_left") for plan in study.stock_plan() for p in plan.pieces)


def test_a_bar_with_more_wall_than_tube_is_refused(basalt: Project) -> None:
    with pytest.raises(StoutError, match=r"D162 .*more than half of"):
        SetNumber(f"stock.{basalt.fabrication.stock[0].id}.wall_m", 0.03).apply(basalt)
