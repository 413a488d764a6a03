"""Cards: only the steps an axle has, readings in their windows, gates that shut, what a moved shim reopens, nothing lost."""

from __future__ import annotations

import msgspec
import pytest

from stoutlink.core.advice.bench_words import card_words, line_words, window_words
from stoutlink.core.analysis.bench.card import judge
from stoutlink.core.analysis.bench.card_step import CardStep
from stoutlink.core.document.bench import BenchCard, BenchReading, Stop
from stoutlink.core.document.gear_setup import GearAttempt, GearReading, GearSetup
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.swap import ShelfPart
from stoutlink.core.editing.bench_edits import MarkStep, TakeReading
from stoutlink.core.editing.edits import PutInList, SetChoice
from stoutlink.core.errors import StoutError
from stoutlink.core.study.study import Study
from tests.bench.places import IN, bare, done, keys, limits, read, rear, standing


def test_a_card_has_only_the_steps_its_axle_has(basalt: Project) -> None:
    spool, open_ = rear(basalt, locker="spool"), rear(basalt, locker="open")
    assert "spool_bolts" in keys(spool)
    assert not {"paper", "spool_bolts", "gap", "air_hold", "current"} & set(keys(open_))
    assert [k for k in keys(rear(basalt, locker="drop_in")) if k in ("sides", "engaged", "gap")] == ["sides", "engaged", "gap"]  # fmt: skip
    assert {"air_line", "air_hold", "air_works"} <= set(keys(rear(basalt, locker="air")))
    assert {"current", "stroke", "electric_works"} <= set(keys(rear(basalt, locker="electric")))
    assert "breakaway" in keys(rear(basalt, locker="limited_slip"))
    assert "turns" in keys(rear(basalt, locker="torque_sensing"))
    assert "works" in keys(rear(basalt, locker="selectable"))
    # the gears are on the card when they are set up, not otherwise
    assert "final" not in keys(open_)
    ours = with_parts(open_, gears=(GearSetup(id="rear"),))
    assert keys(ours).index("drag") < keys(ours).index("preload") < keys(ours).index("sleeve") < keys(ours).index("final")  # fmt: skip
    played = with_parts(open_, gears=(GearSetup(id="rear", trainer=3),))
    assert "final" not in keys(played), "a game is no axle"
    # a new carrier opens the gears too; a drop-in one does not
    carrier = with_parts(open_, rear_plan=msgspec.structs.replace(open_.swap.rear_plan, locker="air"))
    assert "final" in keys(carrier)
    lunch = with_parts(open_, rear_plan=msgspec.structs.replace(open_.swap.rear_plan, locker="drop_in"))
    assert "final" not in keys(lunch)


def test_a_solid_spacer_is_not_crushed_and_adapters_have_a_step(basalt: Project) -> None:
    def title(p: Project, key: str) -> str:
        card = Study(p).bench_card("rear")
        assert card is not None
        line = card.line(key)
        assert line is not None
        return line.step.title

    crushed = with_parts(rear(basalt, locker="open"), gears=(GearSetup(id="rear"),))
    solid = with_parts(crushed, gears=(GearSetup(id="rear", spacer="solid"),))
    assert "crushed last" in title(crushed, "sleeve")
    assert "solid spacer" in title(solid, "sleeve")
    assert "trial sleeve" in title(crushed, "drag")
    assert "its spacer" in title(solid, "drag")
    part = ShelfPart(id="ad", name="Adapters", kind="adapter")
    p = with_parts(crushed, shelf=(part,))
    assert "adapters" not in keys(p)
    plan = msgspec.structs.replace(p.swap.rear_plan, fitted=("ad",))
    assert "adapters" in keys(with_parts(p, rear_plan=plan))


def test_what_hangs_on_the_ends_makes_steps(basalt: Project) -> None:
    clips = Study(rear(basalt, c_clips=True)).bench_card("rear")
    assert clips is not None
    line = clips.line("shafts_out")
    assert line is not None
    assert line.step.title.startswith("C-clips")
    assert "leaves" in line.step.caution
    assert "bearings" in keys(rear(basalt, wheel_bearing="spindle"))
    assert "bearings" not in keys(rear(basalt, wheel_bearing="unit"))
    assert "case" in keys(rear(basalt, third_member=True, locker="electric"))
    assert "case" not in keys(rear(basalt, third_member=False, locker="electric"))
    assert "knuckle" in keys(bare(basalt), "front")
    assert "knuckle" not in keys(rear(basalt, knuckle="kingpin")), "the rear does not steer"


@pytest.mark.parametrize(
    ("values", "low", "high", "spread", "least", "says"),
    [
        # common practice: locker gap 0.164 in within 0.145 to 0.175; backlash 0.005 in within 0.004 to 0.008
        ((0.164,), 0.145, 0.175, None, 1, "in"),
        ((0.144,), 0.145, 0.175, None, 1, "low"),
        ((0.176,), 0.145, 0.175, None, 1, "high"),
        ((0.145,), 0.145, 0.175, None, 1, "in"),
        ((0.175,), 0.145, 0.175, None, 1, "in"),
        ((0.005, 0.006, 0.005, 0.005), 0.004, 0.008, 0.002, 4, "in"),
        ((0.005, 0.0075, 0.005, 0.005), 0.004, 0.008, 0.002, 4, "spread"),
        ((0.005, 0.006, 0.005), 0.004, 0.008, None, 4, "few"),
        ((0.005, 0.006, 0.009, 0.005), 0.004, 0.008, None, 4, "high"),
        ((0.005,), None, None, None, 1, "unjudged"),
        ((0.3,), 0.1, None, None, 1, "in"),
    ],
)
def test_a_reading_is_held_against_its_window(values, low, high, spread, least, says) -> None:  # type: ignore[no-untyped-def]
    step = CardStep("x", "p", "X", "", "fine_length", least)
    window = tuple(None if v is None else v * IN for v in (low, high, spread))
    found = judge(BenchReading(values=tuple(v * IN for v in values)), window, step)  # type: ignore[arg-type]
    assert found.says == says


def test_a_reading_nearer_to_its_limit_than_its_own_band_says_so() -> None:
    step = CardStep("x", "p", "X", "", "fine_length")
    window = (0.145 * IN, 0.175 * IN, None)
    assert judge(BenchReading(values=(0.1455 * IN,), sigma=0.0005 * IN), window, step).near
    assert not judge(BenchReading(values=(0.150 * IN,), sigma=0.0005 * IN), window, step).near
    assert not judge(BenchReading(values=(0.145 * IN,)), window, step).near, "no ± was given"


def test_a_gap_with_teeth_on_teeth_does_not_count(basalt: Project) -> None:
    p = done(rear(basalt, locker="drop_in"), "paper", "sides")
    p = limits(read(p, "gap", "fine_length", 0.164 * IN), "gap", "fine_length", 0.145 * IN, 0.175 * IN)
    assert standing(p, "gap") == "shut"
    assert standing(done(p, "engaged"), "gap") == "done"


def test_no_axle_is_closed_with_its_test_open(basalt: Project) -> None:
    p = rear(basalt, locker="air")
    p = done(p, "paper", "air_line", "air_works", "shafts_out", "welded", "shafts_in", "sealed")
    assert standing(p, "sealed") == "shut"
    findings = [f for f in Study(p).findings_so_far if f.code == "B101"]
    assert len(findings) == 1
    assert "Pressure lost" in findings[0].sentence
    assert findings[0].severity == "danger"
    p = limits(read(p, "air_hold", "pressure", 2e4), "air_hold", "pressure", None, 3e4)
    assert standing(p, "air_hold") == "done"
    assert standing(p, "sealed") == "done"
    assert not [f for f in Study(p).findings_so_far if f.code == "B101"]
    p = read(p, "air_hold", "pressure", 9e4)  # it lost more later: everything it held up opens again
    assert standing(p, "air_hold") == "out"
    assert standing(p, "sealed") == "shut"
    words = [f.sentence for f in Study(p).findings_so_far if f.code == "B102"]
    assert words
    assert "wanted at most" in words[0]


def _with_gears(project: Project, *attempts: GearAttempt) -> Project:
    setup = GearSetup(id="rear", low_m=1e-4, high_m=2e-4, attempts=attempts)
    p = with_parts(rear(project, locker="open"), gears=(setup,))
    p = done(p, "shafts_out", "welded", "ring_face")
    for key, kind in (("drag", "small_torque"), ("preload", "fine_length"), ("sleeve", "small_torque")):
        p = limits(p, key, kind, 0.0, 5.0)
    return p


def test_a_change_of_depth_reopens_all_that_follows_and_one_of_the_ring_only_its_own(basalt: Project) -> None:
    flat = GearReading(backlash_m=(1.5e-4,) * 4)
    one = GearAttempt(id="attempt-1", pinion_m=1e-3, toward_m=5e-3, away_m=5e-3, readings=(flat,))
    p = _with_gears(basalt, one)
    p = read(p, "drag", "small_torque", 1.0, at="attempt-1")
    p = read(p, "preload", "fine_length", 1e-4, 1e-4, 1e-4, 1e-4, at="attempt-1")
    ring = msgspec.structs.replace(one, id="attempt-2", toward_m=5.1e-3, away_m=4.9e-3, readings=())
    deep = msgspec.structs.replace(one, id="attempt-2", pinion_m=1.1e-3, readings=())
    same = msgspec.structs.replace(one, id="attempt-2", readings=())
    card = {
        name: Study(with_parts(p, gears=(msgspec.structs.replace(p.bench.gears[0], attempts=(one, two)),)))
        for name, two in (("ring", ring), ("deep", deep), ("same", same))
    }

    def stands(name: str, key: str) -> str:
        found = card[name].bench_card("rear")
        assert found is not None
        line = found.line(key)
        assert line is not None
        return line.standing

    assert stands("ring", "drag") != "reopened"
    assert stands("ring", "preload") == "reopened"
    assert stands("deep", "drag") == "reopened"
    assert stands("deep", "preload") == "reopened"
    assert "reopened" not in (stands("same", "drag"), stands("same", "preload"))
    assert any("to be done again" in u.words for u in card["deep"].undone)


def test_limits_come_before_parts_move(basalt: Project) -> None:
    p = with_parts(rear(basalt, locker="open"), gears=(GearSetup(id="rear", low_m=1e-4, high_m=2e-4),))
    p = done(p, "shafts_out", "welded")
    assert standing(p, "limits") == "open"
    for key, kind in (("drag", "small_torque"), ("preload", "fine_length")):
        p = limits(p, key, kind, 0.0, 5.0)
    assert standing(p, "limits") == "open", "the sleeve's is not typed"
    assert standing(limits(p, "sleeve", "small_torque", 0.0, 5.0), "limits") == "done"


def test_by_feel_goes_on_and_stays_in_the_register(basalt: Project) -> None:
    p = done(bare(basalt), "shafts_out", assembly="front")
    p = MarkStep("front", "knuckle", "small_torque", "by_feel").apply(p)
    assert standing(p, "knuckle", "front") == "feel"
    assert [u.words for u in Study(p).undone if u.source == "card"] == ["Kingpin preload: by feel"]
    p = MarkStep("rear", "sealed", "number", "by_feel").apply(p)
    assert standing(p, "sealed") != "feel", "a cover is not sealed by feel"


def test_nothing_read_is_written_over(basalt: Project) -> None:
    p = read(bare(basalt), "weighed", "mass", 200.0)
    p = read(p, "weighed", "mass", 210.0)
    card = p.card("rear")
    assert card is not None
    work = card.step("weighed")
    assert work is not None
    assert [r.values for r in work.readings] == [(200.0,), (210.0,)]
    other = msgspec.structs.replace(work, readings=(msgspec.structs.replace(work.readings[0], values=(190.0,)),))
    with pytest.raises(StoutError) as why:
        PutInList("cards.rear.steps", other, "change it").apply(p)
    assert why.value.code == "D173"
    gears = GearSetup(id="rear", attempts=(GearAttempt(id="a", pinion_m=1e-3, toward_m=5e-3, away_m=5e-3, readings=(GearReading(),)),))  # fmt: skip
    q = PutInList("gears", gears, "begin").apply(p)
    with pytest.raises(StoutError) as why:
        SetChoice("gears.rear.attempts.a.pinion_m", 1.1e-3, "shims").apply(q)
    assert why.value.code == "D174"


def test_a_window_turned_round_is_refused(basalt: Project) -> None:
    p = limits(done(bare(basalt), "drained"), "gap", "fine_length", 0.004, None)
    with pytest.raises(StoutError) as why:
        SetChoice("cards.rear.steps.gap.high", 0.003, "to").apply(p)
    assert why.value.code == "D172"


def test_ratio_and_weight_read_at_the_bench_reach_the_axle(basalt: Project) -> None:
    axle = basalt.swap.rear_donor
    assert axle is not None
    reading = BenchReading(values=(4.375,))
    p = TakeReading("rear", "ratio", "ratio", reading, "ratio", axle).apply(bare(basalt))
    assert next(i for i in p.swap.inspections if i.id == axle).pinion_turns == 4.375
    before = Study(p).true.swapped
    p = TakeReading("rear", "weighed", "mass", BenchReading(values=(333.0,), sigma=1.0), "weight", axle).apply(p)
    donor = p.donor("rear")
    entry = p.entry(f"donors.{axle}.weight_kg")
    assert donor is not None
    assert donor.weight_kg == 333.0
    assert entry is not None
    assert entry.basis == "measured"
    assert entry.sigma == 1.0
    old = basalt.donor("rear")
    assert old is not None
    assert old.weight_kg is not None
    assert Study(p).true.swapped - before == pytest.approx(333.0 - old.weight_kg), "the rig weighs with it"


def test_where_it_was_left_stands_first_until_it_is_taken_up(basalt: Project) -> None:
    stop = Stop(id="s", step="shafts_out", hand="left shaft", exposed="tube", ordered="seals", by="Ida", when="1 May")
    p = with_parts(bare(basalt), cards=(BenchCard(id="rear", stops=(stop,)),))
    card = Study(p).bench_card("rear")
    assert card is not None
    words = list(card_words(card, "in"))[1]
    for part in ("left shaft", "tube", "seals", "Ida", "1 May", "Shafts out"):
        assert part in words
    assert any(u.words == "Left open: tube" for u in Study(p).undone)
    taken = msgspec.structs.replace(stop, resumed="2 May")
    p = with_parts(p, cards=(BenchCard(id="rear", stops=(taken,)),))
    card = Study(p).bench_card("rear")
    assert card is not None
    assert card.stop is None


def test_words_of_a_step_are_its_own(basalt: Project) -> None:
    p = done(rear(basalt, locker="drop_in"), "paper", "sides", "engaged")
    p = limits(read(p, "gap", "fine_length", 0.18 * IN), "gap", "fine_length", 0.145 * IN, 0.175 * IN)
    card = Study(p).bench_card("rear")
    assert card is not None
    line = card.line("gap")
    assert line is not None
    assert line_words(line, "in") == "Gap between the halves: out of its window, read 0.180″"
    assert window_words(line, "in") == "0.145″ to 0.175″ (paper)"
    assert line_words(line, "mm").endswith("read 4.57 mm")


def test_cards_of_a_project_without_axles_are_none(basalt: Project) -> None:
    p = with_parts(bare(basalt), front_donor=None, rear_donor=None, front_layout=None, rear_layout=None)
    study = Study(p)
    assert study.assemblies == ()
    assert study.bench_card("rear") is None
    assert study.due == ()
    assert study.undone == ()
