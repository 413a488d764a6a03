"""Runs frozen and put back, bands of one's own, advice over every hole combination, care and what is due."""

from __future__ import annotations

import datetime
import math
import statistics

import msgspec
import numpy as np
import pytest

from stoutlink.core.advice.log_words import band_words, bearing_words, care_words, hit_words, run_lines, tuning_lines
from stoutlink.core.analysis.linkage.hole_map import combinations
from stoutlink.core.analysis.log.bearings import BEARINGS, ELSEWHERE, wanted_change
from stoutlink.core.analysis.log.care import care_due
from stoutlink.core.analysis.log.runs import hit_rate, own_bands, then
from stoutlink.core.analysis.log.tuning import schools_of
from stoutlink.core.document.headline import MAPPED
from stoutlink.core.document.hole_points import with_holes
from stoutlink.core.document.log import (
    FELT,
    FELT_WORDS,
    CareDone,
    CareItem,
    Felt,
    Log,
    Run,
    RunNumber,
    RunVerdict,
    Trial,
    TrialVerdict,
)
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.editing.edits import PutInList
from stoutlink.core.editing.layout_edits import FitHoles
from stoutlink.core.editing.log_edits import CareWasDone, MarkFelt, PutBack
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file


def basalt() -> Project:
    return msgspec.structs.replace(read_project(demo_file("basalt.stoutlink")), log=Log())


def driven(project: Project, name: str = "First") -> tuple[Project, Run]:
    run = Study(project).run_now("run-1", name, "2026-10-01")
    return PutInList("log.runs", run, "x").apply(project), run


def test_a_run_freezes_its_numbers() -> None:
    project, run = driven(basalt())
    gauges = {f"{end}-{g.id}": g.value for end in ("front", "rear") for g in Study(project).gauges(end)}
    assert {n.id: n.value for n in run.numbers} == pytest.approx(gauges)
    layout = project.layout("rear")
    assert layout is not None
    moved = FitHoles(layout.id, ((layout.brackets[2].id, 1),)).apply(project)
    assert moved.log.runs[0].number("rear-drive") == run.number("rear-drive")
    now = Study(moved).run_now("run-2", "x", "")
    assert now.number("rear-drive") != run.number("rear-drive")
    assert any("set:" in line for line in run_lines(run, "in"))


def test_a_run_is_put_back_to_the_bolt_and_says_its_turns() -> None:
    project, run = driven(basalt())
    layout = project.layout("rear")
    assert layout is not None
    moved = FitHoles(layout.id, tuple((b.id, 1 if b.hole != 1 else 2) for b in layout.brackets)).apply(project)
    turned = {b.name: b for b in Study(moved).bars_back(run)}
    back = PutBack(then(moved, run), run.name).apply(moved)
    assert back.layout("rear") == project.layout("rear")
    assert not Study(back).bars_back(run)
    for link in layout.links:
        other = moved.layout("rear")
        assert other is not None
        was = other.link(link.id)
        assert was is not None
        change = math.dist(link.frame_pivot_m, link.axle_pivot_m) - math.dist(was.frame_pivot_m, was.axle_pivot_m)
        if abs(change) > 1e-4:
            one = turned[link.name]
            assert one.change == pytest.approx(change)
            joints = [j for j in project.linkage.joints if j.id in (link.frame_end.joint, link.axle_end.joint)]
            per_turn = sum(j.thread_pitch_m or 0.0 for j in joints)  # one right-hand, one left-hand end
            assert one.turns.turns == pytest.approx(change / per_turn)
    pressed = msgspec.structs.replace(run, front_pressure_pa=123_000.0)
    assert PutBack(then(moved, pressed), "x").apply(moved).rig.front.trail_pressure_pa == 123_000.0
    gone = with_parts(project, layouts=tuple(x for x in project.linkage.layouts if x.id != layout.id), rear_layout=None)
    with pytest.raises(LookupError, match="gone"):
        then(gone, run)


def test_felt_goes_round_and_leaves() -> None:
    project, _ = driven(basalt())
    for much in (1, 2, 3):
        project = MarkFelt("run-1", "hops", much).apply(project)
        assert project.log.runs[0].felt == (Felt(id="hops", much=much),)
    assert MarkFelt("run-1", "hops", 0).apply(project).log.runs[0].felt == ()


def runs_with(values: list[tuple[float, RunVerdict]]) -> tuple[Run, ...]:
    return tuple(
        Run(
            id=f"r-{k}",
            name="x",
            numbers=(RunNumber(id="rear-drive", value=v), RunNumber(id="rear-hold", value=1.0)),
            verdict=said,
        )
        for k, (v, said) in enumerate(values)
    )


def test_bands_of_ones_own_are_those_of_good_runs() -> None:
    """Mean and spread by the statistics module; two are too few, and a number that never changed makes none."""
    assert own_bands(runs_with([(90.0, "good"), (100.0, "good"), (300.0, "bad")])) == ()
    (band,) = own_bands(runs_with([(90.0, "good"), (100.0, "good"), (104.0, "good"), (300.0, "bad"), (10.0, "")]))
    assert (band.id, band.count) == ("rear-drive", 3)
    assert band.mean == pytest.approx(98.0)
    assert band.spread == pytest.approx(statistics.stdev([90.0, 100.0, 104.0]))
    assert band.low == pytest.approx(min(90.0, 98.0 - band.spread))
    assert band.high == pytest.approx(max(104.0, 98.0 + band.spread))
    assert "3 good runs" in band_words(band, "in")


def test_the_hit_rate_is_counted_and_says_when_it_is_few() -> None:
    def tried(verdict: TrialVerdict) -> Run:
        return Run(
            id=f"t-{verdict or 'open'}", name="x", trial=Trial(after="r", felt="hops", change="c", verdict=verdict)
        )

    rate = hit_rate([tried("better"), tried("worse"), tried("same"), tried(""), Run(id="z", name="z")])
    assert (rate.judged, rate.better, rate.worse, rate.open) == (3, 1, 1, 1)
    assert "too few" in hit_words(rate)
    assert "No advice" in hit_words(hit_rate([]))


def test_everything_felt_has_a_number_a_reason_or_another_place_to_look() -> None:
    for word in FELT:
        assert BEARINGS[word] or ELSEWHERE.get(word), word
        assert FELT_WORDS[word]
        for bearing in BEARINGS[word]:
            assert bearing.number in MAPPED
            assert bearing.why in bearing_words(bearing)
    assert schools_of("unloads", "rear") == (
        "let the rear squat",
        "keep it level",
    )  # practitioners disagree: both are there


@pytest.mark.parametrize(
    ("felt", "end"),
    [
        ("hops", "rear"),
        ("squats", "rear"),
        ("lifts", "rear"),
        ("leans", "rear"),
        ("wanders", "rear"),
        ("leans", "front"),
    ],
)
def test_every_way_moves_its_numbers_and_says_what_it_costs(felt: str, end: str) -> None:
    """Each way is laid out anew, hole by hole: its numbers are those it promised, and they went the way wanted."""
    study = Study(basalt())
    for school in schools_of(felt, end):  # type: ignore[arg-type]
        found = study.tuning(end, felt, school)  # type: ignore[arg-type]
        assert found is not None
        layout = study.project.layout(end)
        assert layout is not None
        assert len(found.gain) == combinations(layout)
        assert found.gain[found.current] == pytest.approx(0.0)
        assert found.cost[found.current] == pytest.approx(0.0)
        for way in found.ways:
            assert way.gain > 0
            after = FitHoles(layout.id, tuple((b.id, b.hole) for b in way.layout.brackets)).apply(study.project)
            gauges = {g.id: g.value for g in Study(after).gauges(end)}
            for bearing, _, promised in way.moved:
                tol = 0.25 if bearing.number == "pinion" else 1e-6  # the map looks at 21 stations of the travel
                assert gauges[bearing.number] == pytest.approx(promised, abs=tol, rel=1e-6)
            total = sum(wanted_change(b, x, y) > 0 for b, x, y in way.moved)
            assert total > 0
            assert len(way.moved) > 1 or all(wanted_change(b, x, y) >= -1e-9 for b, x, y in way.moved)
            assert {"clearance", "bind", "travel"} <= {e.number for e in way.elsewhere}
            for name, turns, reaches in way.turned:
                old = next(k for k in layout.links if k.name == name)
                new = way.layout.link(old.id)
                assert new is not None
                was = old.settled_m or math.dist(
                    old.frame_pivot_m, old.axle_pivot_m
                )  # one measured for is turned from there
                change = math.dist(new.frame_pivot_m, new.axle_pivot_m) - was
                ends = [j for j in study.project.linkage.joints if j.id in (old.frame_end.joint, old.axle_end.joint)]
                assert turns == pytest.approx(
                    change / sum(j.thread_pitch_m or 0.0 for j in ends)
                )  # a right- and a left-hand end
                assert reaches or turns
        ranked = [w.worth for w in found.ways if w.reaches]
        assert ranked == sorted(ranked, reverse=True)
        assert any("Gain" in line for line in tuning_lines(found, felt, "in")) or not found.ways


def test_no_way_left_out_is_better_by_holes_alone() -> None:
    """Every combination weighed one by one: none that is not shown beats the worst shown before room, give and steering are looked at."""
    study = Study(basalt())
    found = study.tuning("rear", "squats", "")
    layout = study.project.layout("rear")
    assert found is not None
    assert layout is not None
    holes = study.hole_map("rear")
    assert holes is not None
    worth = np.where(found.gain >= 0.15, np.minimum(found.gain, 2.5) - found.cost, -np.inf)
    looked = set(np.argsort(-worth, kind="stable")[:24].tolist())
    assert {w.row for w in found.ways} <= looked
    for way in found.ways:  # room, give and steering only add to what holes cost
        assert way.worth <= worth[way.row] + 1e-9
    for k in (0, 7, len(found.gain) - 1):
        other = with_holes(layout, [(b.id, int(h)) for b, h in zip(layout.brackets, holes.holes[k], strict=True)])
        q = with_parts(
            study.project, layouts=tuple(other if x.id == other.id else x for x in study.project.linkage.layouts)
        )
        drive = next(g.value for g in Study(q).gauges("rear") if g.id == "drive")
        here = next(g.value for g in study.gauges("rear") if g.id == "drive")
        assert found.gain[k] == pytest.approx((drive - here) / 10.0, abs=1e-6)


def test_what_no_hole_bears_on_says_where_to_look() -> None:
    study = Study(basalt())
    assert study.tuning("rear", "rubs", "") is None
    assert any("No hole" in line for line in tuning_lines(None, "rubs", "in"))
    assert Study(read_project(demo_file("tamarack.stoutlink"))).tuning("rear", "squats", "") is None


def item(**more: object) -> CareItem:
    return CareItem(id="oil", name="Oil", **more)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("one", "driven", "due", "soon"),
    [
        (item(every_m=1000e3), 999e3, False, True),
        (item(every_m=1000e3), 1000e3, True, False),
        (item(every_m=1000e3, done=(CareDone(when="2026-01-01", driven_m=900e3),)), 1500e3, False, False),
        (item(every_days=30, since="2026-10-15"), 0.0, True, False),
        (item(every_days=30, since="2026-10-20"), 0.0, False, False),
        (item(every_days=30, since="2026-10-17"), 0.0, False, True),
        (item(every_m=1000e3, every_days=30, since="2026-10-20"), 1200e3, True, False),
        (item(), 1e6, False, False),
    ],
)
def test_care_is_due_by_distance_or_date_whichever_comes_first(
    one: CareItem, driven: float, due: bool, soon: bool
) -> None:
    (found,) = care_due(Log(care=(one,)), driven, datetime.date(2026, 11, 14))
    assert (found.due, found.soon) == (due, soon)
    assert one.name in care_words(found, "in")


def test_care_done_counts_from_then_and_is_a_finding_while_over() -> None:
    project = msgspec.structs.replace(basalt(), log=Log(care=(item(every_m=100e3),)))
    project = with_parts(project, first_drive=msgspec.structs.replace(project.bench.first_drive, driven_m=150e3))
    assert "V104" in {f.code for f in Study(project).findings_so_far}
    after = CareWasDone("oil", CareDone(when="2026-11-14", driven_m=150e3)).apply(project)
    assert "V104" not in {f.code for f in Study(after).findings_so_far}
    assert care_due(after.log, 150e3, datetime.date(2026, 11, 14))[0].left_m == pytest.approx(100e3)


def test_rungs_are_those_of_the_ladder() -> None:
    study = Study(basalt())
    axle = study.project.donor("rear")
    assert axle is not None
    assert [(k, m) for k, _, m in study.rungs("rear")] == [(r.part, r.margin) for r in study.ladder(axle).rungs]
