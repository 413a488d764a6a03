"""Gears set up: least squares against a general library, bounds against a cut-off normal, shims shared out against every
way there is, verdicts by hand, and games against housings whose constants the advice was not given.
"""

from __future__ import annotations

import itertools
import json
import math

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.stats import norm, truncnorm

from stoutlink.core.advice.gear_words import DOES, attempt_words, verdict_words, wrong_words
from stoutlink.core.analysis.bench.gear_model import (
    BEFORE,
    BEFORE_SURE,
    LEAST,
    NOISE,
    ROUGH,
    SENSE,
    UNSURE,
    Learnt,
    Seen,
    Setting,
    Window,
    _beyond,
    between,
    chance_here,
)
from stoutlink.core.analysis.bench.gear_sheet import Shims, gear_sheet, patch_words, seen_of, setting_of, stacks
from stoutlink.core.document.gear_setup import GearAttempt, GearReading, GearSetup, Patch, ShimStack
from stoutlink.core.editing.edits import PutInList, SetNumber
from stoutlink.core.errors import StoutError
from stoutlink.core.instruments.gear_trainer import _MOVES, GearTrainer
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.gear_game import advised, felt, is_right, trainer_setup, with_attempt, with_reading
from stoutlink.demo import demo_file

MM = 1e-3


def seen(depth: float, ring: float, *values: float) -> Seen:
    v = values or (0.2 * MM, 0.5, 0.5, 0.5, 0.5)
    return Seen(Setting(depth * MM, ring * MM), (v[0], v[1], v[2], v[3], v[4]))


def test_what_is_learnt_against_a_general_least_squares() -> None:
    """The prior as readings of its own, each row over its 1 σ, by numpy's lstsq; covariance from the normal equations."""
    rng = np.random.default_rng(4)
    looks = [
        seen(d, r, 0.2 * MM + rng.normal(0, 1e-5), *rng.uniform(0.2, 0.8, 4))
        for d, r in ((0, 0), (0.1, -0.05), (-0.05, 0.1), (0.15, 0.2))
    ]
    found = Learnt(looks, "hobbed")
    for k in range(5):
        sure = np.array([BEFORE_SURE[k], *np.hypot(UNSURE * np.abs(SENSE["hobbed"][k]), LEAST[k])])
        each = math.hypot(NOISE[k], ROUGH[k])  # every setting was read once
        rows = np.array([[1.0, s.setting.depth, s.setting.ring] for s in looks]) / each
        whole = np.vstack([np.diag(1 / sure), rows])
        right = np.concatenate([np.array([BEFORE[k], *SENSE["hobbed"][k]]) / sure, [s.values[k] / each for s in looks]])
        scale = np.array([1.0, 1e3, 1e3])
        fitted = np.linalg.lstsq(whole * scale, right, rcond=None)[0] * scale
        assert found.mean[k] == pytest.approx(fitted, rel=1e-6)
        cov = np.linalg.inv((whole * scale).T @ (whole * scale)) * np.outer(scale, scale)
        assert found.cov[k] == pytest.approx(cov, rel=1e-5, abs=1e-12)


def test_readings_of_one_setting_share_what_the_line_leaves_out() -> None:
    """A hundred readings of one setting make it no surer than the line itself is there."""
    many = Learnt([seen(0, 0) for _ in range(100)], "milled")
    _, sure = many.at(np.zeros(1), np.zeros(1))
    assert (sure[0] > ROUGH).all()
    assert (sure[0] < 2.1 * ROUGH).all()


@settings(max_examples=25)
@given(st.floats(-1.0, 2.0), st.floats(0.05, 1.0), st.sampled_from([-1, 1]))
def test_a_mark_off_the_edge_is_the_mean_of_what_lies_beyond(mean: float, sure: float, side: int) -> None:
    """SciPy's normal cut off at the edge: the reading that is put in its place leaves the same mean."""
    value, extra = _beyond(mean, sure, side)
    low, high = ((-np.inf, (0.0 - mean) / sure), ((1.0 - mean) / sure, np.inf))[side > 0]
    if norm.cdf(high) - norm.cdf(low) < 1e-6:
        return
    cut = truncnorm(low, high, loc=mean, scale=sure)
    part = sure**2 / (sure**2 + extra)
    assert mean + part * (value - mean) == pytest.approx(cut.mean(), abs=1e-6)
    assert sure**2 * (1 - part) == pytest.approx(max(cut.var(), 1e-6), rel=1e-3, abs=2e-6)


@given(st.floats(-2, 2), st.floats(0.1, 2), st.floats(-2, 0), st.floats(0, 2))
def test_chances_against_scipy(mean: float, sure: float, low: float, high: float) -> None:
    found = between(np.array([mean]), np.array([sure]), low, high)[0]
    assert found == pytest.approx(norm.cdf(high, mean, sure) - norm.cdf(low, mean, sure), abs=1e-9)


def test_the_chance_of_a_setting_by_drawing() -> None:
    window = Window((0.15 * MM, 0.25 * MM))
    learnt = Learnt(
        [seen(0, 0, 0.21 * MM, 0.55, 0.62, 0.45, 0.6), seen(0.1, 0, 0.18 * MM, 0.5, 0.45, 0.52, 0.4)], "milled"
    )
    at = np.array([0.05 * MM]), np.array([0.02 * MM])
    mean, sure = learnt.at(*at)
    drawn = np.random.default_rng(1).normal(mean[0], sure[0], (200_000, 5))
    inside = np.all([(drawn[:, k] >= lo) & (drawn[:, k] <= hi) for k, (lo, hi) in enumerate(window.bounds)], axis=0)
    assert learnt.chance(*at, window)[0] == pytest.approx(inside.mean(), abs=0.005)


def setup(*attempts: GearAttempt, **changes: object) -> GearSetup:
    return GearSetup(id="rear", low_m=0.15 * MM, high_m=0.25 * MM, attempts=attempts, **changes)  # type: ignore[arg-type]


def attempt(
    name: str, pinion: float = 0.8, toward: float = 6.0, away: float = 6.0, *readings: GearReading
) -> GearAttempt:
    return GearAttempt(id=name, pinion_m=pinion * MM, toward_m=toward * MM, away_m=away * MM, readings=readings)


def reading(
    gap: float = 0.2, drive: tuple[float, float] = (0.5, 0.5), coast: tuple[float, float] = (0.5, 0.5)
) -> GearReading:
    one, two = (Patch(place=p, height=h, long=0.2, tall=0.2) for p, h in (drive, coast))
    return GearReading(backlash_m=tuple((gap + d) * MM for d in (0.0, 0.01, 0.0, -0.01)), drive=one, coast=two)


def test_a_shim_swapped_moves_the_ring_by_its_thickness_and_one_added_by_half() -> None:
    first = setup(attempt("a"))
    assert setting_of(first, Shims(0.8 * MM, 6.2 * MM, 5.8 * MM)).ring == pytest.approx(0.2 * MM)
    assert setting_of(first, Shims(0.8 * MM, 6.2 * MM, 6.0 * MM)).ring == pytest.approx(0.1 * MM)
    assert setting_of(first, Shims(0.9 * MM, 6.0 * MM, 6.0 * MM)).depth == pytest.approx(0.1 * MM)
    shallow = msgspec.structs.replace(first, thicker="shallower")
    assert setting_of(shallow, Shims(0.9 * MM, 6.0 * MM, 6.0 * MM)).depth == pytest.approx(-0.1 * MM)


def test_shims_are_shared_out_in_every_way_there_is() -> None:
    """Against every shim going to one side, the other or none, the sum of both kept."""
    owned = (("pinion", 0.75, 1), ("pinion", 0.05, 2), ("ring", 5.9, 2), ("ring", 0.1, 2), ("ring", 0.05, 1))
    shims = tuple(
        ShimStack(id=f"s{k}", place=place, thick_m=t * MM, count=n)  # type: ignore[arg-type]
        for k, (place, t, n) in enumerate(owned)
    )
    found = stacks(setup(attempt("a"), stacks=shims))
    pinion = {0.8, *(round(0.75 * a + 0.05 * b, 6) for a in (0, 1) for b in (0, 1, 2) if a or b)}
    pinion = {p for p in pinion if abs(p - 0.8) <= 0.8}
    ring = set()
    each = [5.9, 5.9, 0.1, 0.1, 0.05]
    for way in itertools.product((0, 1, 2), repeat=5):
        t, a = (round(sum(v for v, w in zip(each, way, strict=True) if w == k), 6) for k in (1, 2))
        if t and a and abs(t + a - 12.0) <= 0.025 and abs(t - 6.0) <= 0.8:
            ring.add((t, a))
    ring.add((6.0, 6.0))
    assert {round(s.pinion / MM, 6) for s in found} == pinion
    assert {(round(s.toward / MM, 6), round(s.away / MM, 6)) for s in found} == ring
    assert len(found) == len(pinion) * len(ring)


@pytest.mark.parametrize(
    ("gap", "drive", "coast", "words"),
    [
        (0.2, (0.5, 0.5), (0.5, 0.5), ()),
        (0.1, (0.5, 0.5), (0.5, 0.5), ("tight",)),
        (0.3, (0.5, 0.5), (0.5, 0.5), ("loose",)),
        (0.2, (0.5, 0.2), (0.5, 0.15), ("too deep",)),
        (0.2, (0.5, 0.8), (0.5, 0.85), ("too shallow",)),
        (0.2, (0.8, 0.5), (0.85, 0.5), ("to the heel",)),
        (0.2, (0.2, 0.5), (0.2, 0.5), ("to the toe",)),
        (0.2, (0.2, 0.5), (0.8, 0.5), ("crossed",)),
        (0.2, (0.5, 0.05), (0.5, 0.5), ("off the edge",)),
    ],
)
def test_a_pattern_is_judged_in_the_trades_words(
    gap: float, drive: tuple[float, float], coast: tuple[float, float], words: tuple[str, ...]
) -> None:
    """Common practice: deep on both flanks, the pinion away; heel on both, backlash down; crossed, depth by the cut."""
    one = setup(attempt("a", 0.8, 6.0, 6.0, *(reading(gap, drive, coast) for _ in range(2))))
    sheet = gear_sheet(one)
    assert sheet.words == words
    assert wrong_words(sheet) == "; ".join(DOES[w] for w in words)
    assert (sheet.verdict == "move") is bool(words)


def test_one_reading_is_not_trusted_and_a_bent_one_does_not_count() -> None:
    good, bent = reading(), reading(0.34)
    assert gear_sheet(setup(attempt("a"))).verdict == "read"
    half = GearReading(backlash_m=(0.2 * MM,), drive=Patch(place=0.5, height=0.5))
    assert gear_sheet(setup(attempt("a", 0.8, 6, 6, half))).verdict == "read"
    assert gear_sheet(setup(attempt("a", 0.8, 6, 6, good))).verdict == "again"
    assert gear_sheet(setup(attempt("a", 0.8, 6, 6, good, bent))).verdict == "again"
    three = setup(attempt("a", 0.8, 6, 6, good, bent, good))
    assert len(seen_of(three, three.attempts[0])) == 2
    means = gear_sheet(three).means
    assert means is not None
    assert means[0] == pytest.approx(0.2 * MM)
    many = setup(attempt("a", 0.8, 6, 6, *(reading() for _ in range(6))))
    assert gear_sheet(many).verdict == "right"


def test_near_an_edge_it_is_read_again_before_it_is_called_right() -> None:
    near = reading(0.2, (0.5, 0.7), (0.5, 0.7))
    one = setup(attempt("a", 0.8, 6, 6, near, near))
    sheet = gear_sheet(one)
    assert sheet.verdict == "look"
    assert 0.35 <= sheet.chance < 0.985
    chance = [
        chance_here(seen_of(one, one.attempts[0]) * n, "milled", Window((0.15 * MM, 0.25 * MM))) for n in (1, 3, 5)
    ]
    assert chance == sorted(chance)


def test_what_is_missing_is_said_first_and_an_uneven_ring_before_any_shim() -> None:
    bare = setup(attempt("a", 0.8, 6, 6, reading(), reading()))
    assert "backlash that is wanted" in gear_sheet(msgspec.structs.replace(bare, low_m=None)).missing
    assert "shims that were in" in gear_sheet(setup(attempt("a", 0.0, 0.0, 0.0))).missing
    uneven = msgspec.structs.replace(bare, spread_m=0.01 * MM)
    sheet = gear_sheet(uneven)
    assert sheet.uneven
    assert sheet.spread == pytest.approx(0.02 * MM)
    assert "burr" in verdict_words(sheet, "mm")
    assert sheet.verdict != "right"  # however good the pattern, a ring that runs out is not closed
    assert gear_sheet(bare).verdict == "right"
    assert not gear_sheet(bare).uneven


def test_the_next_shims_come_from_those_owned_and_were_not_tried() -> None:
    shims = (
        ShimStack(id="a", thick_m=0.7 * MM), ShimStack(id="b", thick_m=0.05 * MM, count=4),
        ShimStack(id="c", place="ring", thick_m=5.9 * MM, count=2), ShimStack(id="d", place="ring", thick_m=0.1 * MM, count=2),
    )  # fmt: skip
    deep = setup(attempt("a", 0.8, 6, 6, *(reading(0.2, (0.5, 0.16), (0.5, 0.16)) for _ in range(2))), stacks=shims)
    sheet = gear_sheet(deep)
    assert sheet.verdict == "move"
    assert sheet.next is not None
    assert sheet.next.shims in stacks(deep)
    assert sheet.next.shims.pinion < 0.8 * MM  # away from the ring
    assert sheet.next.will[2] > 0.16
    assert "Next: pinion" in verdict_words(sheet, "mm")
    alone = msgspec.structs.replace(deep, stacks=())
    assert gear_sheet(alone).next is None
    assert "Add shims" in verdict_words(gear_sheet(alone), "mm")


def test_a_patch_says_where_it_is_and_what_it_runs_off() -> None:
    assert Patch(place=0.5, height=0.5).off == ()
    assert Patch(place=0.1, height=0.9, long=0.3, tall=0.3).off == ("toe", "top")
    assert Patch(place=0.5, height=0.5, long=1.0).off == ()  # over the whole tooth it runs off neither end
    assert patch_words(Patch(place=0.9, height=0.1, long=0.4, tall=0.1)) == "heel, root, runs off at the heel"
    assert patch_words(None) == "not painted"
    assert "not read" in attempt_words(attempt("a"), "mm")


@pytest.mark.parametrize("seeds", [range(8), range(700, 708)])
def test_hard_housings_are_done_in_four_attempts_and_never_falsely(seeds: range) -> None:
    """Crossed hobbed sets, marks off the edge, one reading in twenty bent, coarse shims."""
    games = [advised(seed) for seed in seeds]
    assert all(g.called for g in games)
    assert not any(g.called and not g.right for g in games)
    assert sum(g.attempts <= 4 for g in games) >= 0.98 * len(games)


def test_the_simulated_housing_has_constants_of_its_own() -> None:
    for cut, moves in _MOVES.items():
        ours: list[list[float]] = [list(row) for row in SENSE[cut]]  # type: ignore[index]
        assert not np.isclose(np.array([list(m) for m in moves]), np.array(ours), rtol=0.02).any()
    kinds = {GearTrainer(seed).cut for seed in range(30)}
    assert kinds == {"milled", "milled_reverse", "hobbed"}
    for seed in range(20):
        one = GearTrainer(seed)
        assert not one.right(0.0, 0.0)  # the old shims are never right
    setup_ = trainer_setup("rear", 5)
    assert felt(setup_) == felt(setup_)
    after = with_reading(setup_, felt(setup_))
    assert felt(after) != felt(setup_)
    assert not is_right(after)
    moved = with_attempt(after, Shims(1.0 * MM, 6.0 * MM, 6.0 * MM))
    assert [a.id for a in moved.attempts] == ["attempt-1", "attempt-2"]


def test_it_is_kept_in_the_project_and_a_window_upside_down_is_refused() -> None:
    project = read_project(demo_file("starter.stoutlink"))
    project = PutInList("gears", setup(attempt("a")), "Begin").apply(project)
    with pytest.raises(StoutError, match="first must be less") as why:
        SetNumber("gears.rear.high_m", 0.1 * MM).apply(project)
    assert why.value.code == "D170"
    assert json.loads(msgspec.json.encode(project.bench.gears))[0]["attempts"][0]["pinion_m"] == 0.8 * MM
