"""Bolts: which places a build has, what they are tightened to and whose number that is, how far they are."""

from __future__ import annotations

import math

import pytest

from stoutlink.core.advice.bench_words import bolt_words
from stoutlink.core.analysis.bench.fasteners import BoltLine, bolt_lines, places_of
from stoutlink.core.document.bench import Fastener, FirstDrive, Tightened
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.editing.bench_edits import Loosen, Tighten
from stoutlink.core.editing.edits import PutInList
from stoutlink.core.errors import StoutError
from stoutlink.core.mechanics.bolt_torque import coarse_thread
from stoutlink.core.mechanics.thread_text import thread_of
from stoutlink.core.study.study import Study
from tests.bench.places import bare

LBFT = 1.3558179483


def line(project: Project, key: str) -> BoltLine:
    return next(b for b in Study(project).fasteners if b.place.key == key)


def test_places_come_from_axles_and_layouts(basalt: Project, tamarack: Project) -> None:
    both = {b.place.key for b in Study(bare(basalt)).fasteners}
    assert {"rear-caps", "rear-flange", "rear-lower_left-axle", "front-panhard-frame", "steering-drag"} <= both
    assert "rear-u-bolts" not in both
    assert "rear-u-bolts" in {b.place.key for b in Study(bare(tamarack)).fasteners}
    assert places_of({"front": None, "rear": None}, {"front": None, "rear": None}, ()) == ()
    assert line(bare(basalt), "rear-wheels").count == 16, "eight studs a side"


def test_an_estimate_is_the_formula_and_a_record_comes_before_it(basalt: Project) -> None:
    p = bare(basalt)
    one = line(p, "rear-lower_left-axle")
    # K·F·d by hand: 3/4-10, grade 8, 120 ksi proof, K 0.20 (Shigley ch. 8; tensile area ASME B1.1)
    area = math.pi / 4 * (0.75 - 0.9743 / 10) ** 2
    by_hand = 0.20 * 0.75 * 120e3 * area * 0.75 / 12 * LBFT
    assert one.target == pytest.approx(by_hand, rel=1e-3)
    assert one.estimated
    assert "estimate" in one.source
    assert "assumed" in one.source
    own = Fastener(id=one.place.key, target_nm=200.0, source="joint's sheet")
    p = PutInList("fasteners", own, "type it").apply(p)
    one = line(p, "rear-lower_left-axle")
    assert (one.target, one.estimated, one.source) == (200.0, False, "joint's sheet")
    oiled = PutInList("fasteners", Fastener(id=one.place.key, oiled=True), "oil").apply(bare(basalt))
    assert line(oiled, one.place.key).target == pytest.approx(by_hand * 0.16 / 0.20, rel=1e-3)


def test_no_estimate_where_the_formula_says_nothing(basalt: Project) -> None:
    p = bare(basalt)
    assert line(p, "steering-tie").target is None, "a tapered stud is not K·F·d"
    assert line(p, "rear-caps").target is None, "its thread is not known"
    odd = Fastener(id="rear-caps", diameter_m=0.0127, grade="8.8")
    assert line(PutInList("fasteners", odd, "x").apply(p), "rear-caps").target is None, (
        "a metric class on an inch thread"
    )
    good = Fastener(id="rear-caps", diameter_m=0.0127, grade="grade 5")
    assert line(PutInList("fasteners", good, "x").apply(p), "rear-caps").target is not None


def test_tight_is_counted_and_a_second_round_answers_the_distance(basalt: Project) -> None:
    p = with_parts(bare(basalt), first_drive=FirstDrive(again_m=80e3))
    f = Fastener(id="own-1", name="Plate", count=4, target_nm=100.0)
    p = Tighten(f, Tightened(count=2, torque_nm=100.0)).apply(p)
    assert (line(p, "own-1").standing, line(p, "own-1").done) == ("part", 2)
    p = Tighten(f, Tightened(count=2, torque_nm=101.0)).apply(p)
    assert line(p, "own-1").standing == "done"
    driven = with_parts(p, first_drive=FirstDrive(again_m=80e3, driven_m=79.9e3))
    assert line(driven, "own-1").standing == "done"
    driven = with_parts(p, first_drive=FirstDrive(again_m=80e3, driven_m=80e3))
    assert line(driven, "own-1").standing == "again"
    again = Tighten(f, Tightened(count=4, torque_nm=100.0, driven_m=80e3)).apply(driven)
    assert line(again, "own-1").standing == "done"
    assert [t.count for t in next(x for x in again.bench.fasteners if x.id == "own-1").tight] == [2, 2, 4], (
        "nothing is lost"
    )


def test_loosened_bolts_are_open_and_what_was_put_down_stays(basalt: Project) -> None:
    f = Fastener(id="own-1", count=2, target_nm=50.0)
    p = Tighten(f, Tightened(count=2, torque_nm=50.0)).apply(bare(basalt))
    p = Loosen(f).apply(p)
    assert line(p, "own-1").standing == "undone"
    assert [u.words for u in Study(p).undone if u.source == "bolts"] == ["own-1: loosened"]
    p = Tighten(f, Tightened(count=1, torque_nm=50.0)).apply(p)
    assert (line(p, "own-1").standing, line(p, "own-1").done) == ("part", 1), "the first round no longer counts"
    p = Tighten(f, Tightened(count=1, torque_nm=50.0)).apply(p)
    assert line(p, "own-1").standing == "done"


@pytest.mark.parametrize(("torque", "standing"), [(85.0, "done"), (97.5, "done"), (98.0, "out"), (72.3, "done"), (72.0, "out")])  # fmt: skip
def test_a_torque_that_is_not_theirs_is_told(basalt: Project, torque: float, standing: str) -> None:
    f = Fastener(id="own-1", name="Caps", count=1, target_nm=85.0 * LBFT)  # common practice: cap torque 85 lb·ft
    p = Tighten(f, Tightened(count=1, torque_nm=torque * LBFT)).apply(bare(basalt))
    assert line(p, "own-1").standing == standing
    assert bool([x for x in Study(p).findings_so_far if x.code == "B103"]) == (standing == "out")


def test_one_wrong_bolt_of_a_round_is_not_hidden_by_the_last(basalt: Project) -> None:
    f = Fastener(id="own-1", count=2, target_nm=100.0)
    p = Tighten(f, Tightened(count=1, torque_nm=60.0)).apply(bare(basalt))
    p = Tighten(f, Tightened(count=1, torque_nm=100.0)).apply(p)
    assert line(p, "own-1").standing == "out"


def test_what_was_put_down_is_not_changed(basalt: Project) -> None:
    p = Tighten(Fastener(id="own-1", count=1), Tightened(count=1, torque_nm=60.0)).apply(bare(basalt))
    with pytest.raises(StoutError) as why:
        PutInList("fasteners", Fastener(id="own-1", count=1, tight=(Tightened(count=1, torque_nm=61.0),)), "x").apply(p)
    assert why.value.code == "D179"
    with pytest.raises(StoutError) as why:
        PutInList("fasteners", Fastener(id="own-2", diameter_m=0.01, pitch_m=0.005), "x").apply(p)
    assert why.value.code == "D175"


@pytest.mark.parametrize(
    ("text", "size", "pitch"),
    [("M14x1.5", 14e-3, 1.5e-3), ("m12 × 1.25", 12e-3, 1.25e-3), ("9/16-18", 0.5625 * 0.0254, 0.0254 / 18), ("0.5-20", 0.0127, 0.0254 / 20)],
)  # fmt: skip
def test_threads_as_they_are_written(text: str, size: float, pitch: float) -> None:
    found = thread_of(text)
    assert found is not None
    assert found.diameter == pytest.approx(size)
    assert found.pitch == pytest.approx(pitch)


@pytest.mark.parametrize("text", ["", "stud", "M14", "M14x9", "3-20", "1/2-2", "9/16"])
def test_what_is_no_thread_is_none(text: str) -> None:
    assert thread_of(text) is None


def test_words_of_a_line(basalt: Project) -> None:
    lines = bolt_lines(
        (), (Fastener(id="own-1", name="Skid", count=6, diameter_m=0.0127, grade="grade 5"),), FirstDrive()
    )
    thread = coarse_thread(0.0127)
    assert thread is not None
    words = bolt_words(lines[0], "in")
    assert words.startswith("Skid: 6 off, 1/2-13 grade 5, 75 lb·ft (estimate, dry)")
    assert words.endswith("; open")
