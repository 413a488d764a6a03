"""Axles as built: against a general library, against readings drawn at random, and what is said of what nothing checks."""

from __future__ import annotations

import math
from functools import cache

import msgspec
import numpy as np
import pytest
from scipy.optimize import least_squares

from stoutlink.core.advice.log_words import built_lines, judged_words, next_words, rig_lines
from stoutlink.core.analysis.log.as_built import BuiltAxle
from stoutlink.core.analysis.log.built_readings import SIGMA
from stoutlink.core.document.bench import BenchCard, BenchReading, StepWork
from stoutlink.core.document.link_work import LinkReading
from stoutlink.core.document.log import BUILT_WORDS, AsBuilt, BuiltOf, BuiltReading, Log
from stoutlink.core.document.paths import with_value
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.stations import StationReading, Stations, StraightReading
from stoutlink.core.document.weight import Scales
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.editing.log_edits import TakeAsBuilt, TakeBuilt
from stoutlink.core.errors import ValueOutOfRange
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file

Reading = tuple[BuiltOf, str, str]
LINKS = ("upper_left", "upper_right", "lower_left", "lower_right")
BOLTS = tuple(f"{k}:{which}" for k in LINKS for which in ("frame", "axle"))
WELL: tuple[Reading, ...] = (
    *(("apart", f"{k}:frame", f"{k}:axle") for k in LINKS),
    *((of, bolt, "") for bolt in BOLTS for of in ("up", "along", "across")),
    *(("apart", f"{a}:frame", f"{b}:axle") for a in LINKS for b in LINKS if a != b),
    *(("apart", f"{a}:{which}", f"{b}:{which}") for which in ("frame", "axle") for a, b in (LINKS[:2], LINKS[2:], LINKS[::2], LINKS[1::2])),
    *(("slope", k, "") for k in LINKS),
    ("pinion", "", ""), ("to_pinion", "lower_left:axle", "upper_left:axle"), ("to_pinion", "lower_right:axle", "upper_right:axle"),
)  # fmt: skip


@cache
def basalt() -> Project:
    """The demo with a four-link, nothing read of it."""
    return msgspec.structs.replace(read_project(demo_file("basalt.stoutlink")), log=Log())


def planned(name: str, project: Project) -> np.ndarray:
    layout = project.layout("rear")
    assert layout is not None
    link, _, which = name.partition(":")
    found = layout.link(link)
    assert found is not None
    return np.array(found.frame_pivot_m if which == "frame" else found.axle_pivot_m)


def truth(seed: int, project: Project, off: float = 0.005) -> tuple[dict[str, np.ndarray], float]:
    """Where the bolts are and how the pinion stands, drawn about the plan."""
    rng = np.random.default_rng(seed)
    layout = project.layout("rear")
    assert layout is not None
    return {b: planned(b, project) + rng.normal(0.0, off, 3) for b in BOLTS}, layout.pinion_up + rng.normal(0.0, 0.01)


def says(one: Reading, at: dict[str, np.ndarray], pinion: float, project: Project) -> float:
    """What a reading says of bolts that are there: written down a second time, from the words of its help."""
    of, a, b = one
    if of == "apart":
        return float(np.linalg.norm(at[a] - at[b]))
    if of == "pinion":
        return pinion
    if of == "slope":
        rise = at[f"{a}:frame"] - at[f"{a}:axle"]
        return math.atan2(rise[2], abs(rise[0]))
    if of == "to_pinion":
        up = at[b] - at[a]
        return math.atan2(up[2], up[0]) - pinion
    axis = {"along": 0, "across": 1, "up": 2}[of]
    gap = at[a][axis] - (at[b][axis] if b else 0.0)
    plan = planned(a, project)[axis] - (planned(b, project)[axis] if b else 0.0)
    return float(gap if plan >= 0 else -gap)


def read(which: tuple[Reading, ...], seed: int, project: Project, wrong: int | None = None, by: float = 0.0) -> Project:
    """The project with these readings taken, each with an error of its size; one of them wrong."""
    at, pinion = truth(seed, project)
    rng = np.random.default_rng(seed + 1)
    out = []
    for k, one in enumerate(which):
        value = says(one, at, pinion, project) + rng.normal(0.0, SIGMA[one[0]]) + (by if k == wrong else 0.0)
        out.append(BuiltReading(id=f"read-{k + 1}", end="rear", of=one[0], a=one[1], b=one[2], value=value))
    return msgspec.structs.replace(project, log=Log(built=AsBuilt(readings=tuple(out))))


def built(project: Project, end: str = "rear") -> BuiltAxle:
    found = Study(project).as_built(end)
    assert found is not None
    return found


def test_the_fit_against_a_general_library() -> None:
    """SciPy's least_squares over the same readings, their equations written a second time."""
    project = basalt()
    taken = read(WELL, 3, project)
    found = built(taken)
    assert not found.wrong

    def misfit(x: np.ndarray) -> np.ndarray:
        at = {b: x[3 * k : 3 * k + 3] for k, b in enumerate(BOLTS)}
        return np.array(
            [
                (says(r, at, x[-1], project) - o.value) / SIGMA[r[0]]
                for r, o in zip(WELL, taken.log.built.readings, strict=True)
            ]
        )

    layout = project.layout("rear")
    assert layout is not None
    start = np.concatenate([*(planned(b, project) for b in BOLTS), [layout.pinion_up]])
    other = least_squares(misfit, start, xtol=1e-14, ftol=1e-14, gtol=1e-14)
    mine = np.concatenate(
        [*(found.points.place(b, found.found.fit.unknowns) for b in BOLTS), [found.found.fit.unknowns[-1]]]
    )
    assert mine == pytest.approx(other.x, abs=2e-7)
    sigma = np.sqrt(np.diag(np.linalg.inv(other.jac.T @ other.jac)))
    told = {(p.point, p.axis): p.sigma for p in found.places}
    for k, bolt in enumerate(BOLTS):
        assert [told[bolt, axis] for axis in range(3)] == pytest.approx(sigma[3 * k : 3 * k + 3], rel=1e-4)


def test_planted_faults_are_named() -> None:
    """A well-checked four-link, one reading off by eight σ: named in 92 of a hundred or more."""
    project = basalt()
    named = wrong = 0
    seeds = range(60)
    for seed in seeds:
        rng = np.random.default_rng(seed)
        k = int(rng.integers(len(WELL)))
        taken = read(WELL, seed, project, k, 8.0 * SIGMA[WELL[k][0]] * float(rng.choice([-1.0, 1.0])))
        keys = [j.one.key for j in built(taken).wrong]
        mine = f"log.built.readings.read-{k + 1}"
        named += mine in keys
        wrong += any(key != mine for key in keys)
    assert named >= 0.88 * len(seeds)
    assert wrong <= 0.12 * len(seeds)


def test_its_numbers_scatter_as_their_plus_minus_says() -> None:
    """Readings drawn 120 times: as built less true, over its σ, is about one; CG and wheelbase are the same in all of them."""
    project = basalt()
    at, pinion = truth(5, project)
    layout = project.layout("rear")
    assert layout is not None
    links = tuple(
        msgspec.structs.replace(k, frame_pivot_m=tuple(at[f"{k.id}:frame"]), axle_pivot_m=tuple(at[f"{k.id}:axle"]))
        for k in layout.links
    )
    real = msgspec.structs.replace(layout, links=links, mirrored=False, pinion_up_rad=pinion)
    true_project = with_parts(project, layouts=tuple(real if x.id == real.id else x for x in project.linkage.layouts))
    motion = Study(true_project).motion("rear")
    assert motion is not None
    truths = {"drive": motion.ride.drive_percent[project.settings.thrust_school][project.settings.height_school], "steer": motion.ride.roll_steer, "roll_centre": motion.ride.roll_centre_height / motion.rig.cg_height_m}  # fmt: skip
    scores: dict[str, list[float]] = {k: [] for k in truths}
    for seed in range(120):
        rng = np.random.default_rng(1000 + seed)
        readings = tuple(
            BuiltReading(
                id=f"r-{k}",
                end="rear",
                of=r[0],
                a=r[1],
                b=r[2],
                value=says(r, at, pinion, project) + rng.normal(0.0, SIGMA[r[0]]),
            )
            for k, r in enumerate(WELL)
        )
        found = built(msgspec.structs.replace(project, log=Log(built=AsBuilt(readings=readings))))
        for name, true in truths.items():
            value = next(n.built for n in found.numbers if n.id == name)
            slope = found.slopes[name]
            scores[name].append((value - true) / math.sqrt(slope @ found.found.fit.covariance @ slope))
    for values in scores.values():
        assert 0.8 < float(np.std(values)) < 1.25
        assert abs(float(np.mean(values))) < 0.35


def test_what_nothing_checks_is_never_said_to_agree() -> None:
    lone = read((("up", "upper_left:frame", ""), ("up", "lower_left:frame", "")), 1, basalt())
    found = built(lone)
    assert {j.standing for j in found.judged} == {"unchecked"}
    for one in found.judged:
        assert "unchecked" in judged_words(one, "in")
        assert "agrees" not in judged_words(one, "in")
    assert any("called wrong by chance" in line for line in built_lines(found, (), "in"))


def test_of_readings_that_cannot_be_told_apart_none_is_named() -> None:
    """Every bolt read once each way and pin to pin: an error shows, but all readings of that link could be it."""
    few = tuple(
        r
        for r in WELL
        if r[0] in ("up", "along", "across") or (r[0] == "apart" and r[1].partition(":")[0] == r[2].partition(":")[0])
    )
    k = few.index(("apart", "lower_left:frame", "lower_left:axle"))
    found = built(read(few, 5, basalt(), k, 0.06))
    assert not found.wrong
    names = {j.one.a.partition(":")[0] for j in found.suspects}
    assert names == {"lower_left"}
    assert len(found.suspects) == 7
    assert {j.one.key for j in found.suspects} >= {f"log.built.readings.read-{k + 1}"}
    for place in found.places:  # none of them counts: its bolts are as planned, and that is said
        if place.point.startswith("lower_left"):
            assert place.sigma is None
            assert place.built == pytest.approx(place.planned, abs=1e-9)
    for one in found.suspects:
        words = judged_words(one, "mm")
        assert "told from it" in words or "nothing says which" in words
    assert "V101" in {f.code for f in Study(read(few, 5, basalt(), k, 0.06)).findings}


def test_the_pinion_is_checked_only_by_brackets_read_against_it() -> None:
    project = basalt()
    alone = tuple(r for r in WELL if r[0] != "to_pinion")
    judged = {j.one.of: j for j in built(read(alone, 4, project)).judged}
    assert judged["pinion"].standing == "unchecked"
    both = {j.one.of: j for j in built(read(WELL, 4, project)).judged}
    assert both["pinion"].standing in ("agrees", "hardly")
    off = read(WELL, 4, project, WELL.index(("pinion", "", "")), math.radians(3.0))
    assert [j.one.of for j in built(off).wrong] == ["pinion"]


def test_what_nobody_read_stays_as_planned_and_says_so() -> None:
    found = built(read((("up", "upper_left:frame", ""),), 2, basalt()))
    place = {(p.point, p.axis): p for p in found.places}
    assert place["upper_left:frame", 2].sigma == pytest.approx(SIGMA["up"])
    assert place["upper_left:frame", 0].sigma is None
    assert place["upper_left:frame", 0].built == place["upper_left:frame", 0].planned
    drive = next(n for n in found.numbers if n.id == "drive")
    assert drive.rests > 0.1
    looser = msgspec.structs.replace(
        basalt(), log=msgspec.structs.replace(read((("up", "upper_left:frame", ""),), 2, basalt()).log)
    )
    looser = msgspec.structs.replace(
        looser, log=msgspec.structs.replace(looser.log, built=msgspec.structs.replace(looser.log.built, placed_m=0.012))
    )
    assert next(n for n in built(looser).numbers if n.id == "drive").sigma > drive.sigma


def test_what_to_read_next_gains_what_it_says() -> None:
    """The reading proposed first is taken: σ of its number falls to what was said, and what it was to check is checked."""
    few = tuple(
        r
        for r in WELL
        if r[0] in ("up", "across") or (r[0] == "apart" and r[1].partition(":")[0] == r[2].partition(":")[0])
    )
    project = basalt()
    taken = read(few, 6, project)
    study = Study(taken)
    before, following = study.as_built("rear"), study.next_readings("rear")
    assert before is not None
    assert following
    first = following[0]
    assert (first.one.of, first.one.a, first.one.b) not in few
    assert next_words(first, "rear", "in")
    more = TakeBuilt(
        BuiltReading(id="x", end="rear", of=first.one.of, a=first.one.a, b=first.one.b, value=first.one.value)
    ).apply(taken)
    after = built(more)
    slope = after.slopes[first.number]
    assert math.sqrt(slope @ after.covariance @ slope) == pytest.approx(first.after, rel=0.03)
    lone = {j.one.name for j in after.unchecked}
    assert first.after < first.before
    assert not lone & set(first.checks)


def test_readings_of_links_and_stations_count_too() -> None:
    """Pin to pin written on a link's card, and pad to pad of a leaf axle, are readings like any other."""
    project = basalt()
    layout = project.layout("rear")
    assert layout is not None
    long = math.dist(layout.links[0].frame_pivot_m, layout.links[0].axle_pivot_m)
    link = msgspec.structs.replace(
        layout.links[0],
        stage="welded",
        readings=(
            LinkReading(value_m=long + 0.004, stage="welded"),
            LinkReading(value_m=long + 0.003, stage="measured"),
        ),
    )
    changed = msgspec.structs.replace(layout, links=(link, *layout.links[1:]))
    found = built(
        with_parts(project, layouts=tuple(changed if x.id == layout.id else x for x in project.linkage.layouts))
    )
    assert [(j.one.of, j.one.value, j.one.source) for j in found.judged] == [("apart", long + 0.004, "Cut and weld")]
    assert next(n.built for n in found.lengths if n.id == link.id) == pytest.approx(long + 0.004)

    leaf = msgspec.structs.replace(read_project(demo_file("tamarack.stoutlink")), log=Log())
    springs = leaf.layout("rear")
    assert springs is not None
    assert springs.leaf is not None
    wide = springs.leaf.spacing_m + 0.006
    marked = (
        StationReading(of="spacing", stage="marked", value_m=2.0),
        StationReading(of="spacing", stage="welded", value_m=wide),
    )
    found = built(with_parts(leaf, stations=(Stations(id="rear", readings=marked),)))
    assert [(j.one.of, j.one.value) for j in found.judged] == [("across", wide)]
    assert found.layout.leaf is not None
    assert found.layout.leaf.spacing_m == pytest.approx(wide, abs=1e-6)


def test_the_layout_as_built_is_a_layout_like_any_other() -> None:
    taken = read(WELL, 7, basalt())
    found = built(taken)
    after = TakeAsBuilt(found.layout).apply(taken)
    assert after.linkage.rear_compare == found.layout.id
    used = with_parts(after, rear_layout=found.layout.id, rear_compare=None)
    gauge = {g.id: g.value for g in Study(used).gauges("rear")}
    assert gauge["drive"] == pytest.approx(next(n.built for n in found.numbers if n.id == "drive"), abs=0.02)
    assert gauge["steer"] == pytest.approx(next(n.built for n in found.numbers if n.id == "steer"), abs=1e-5)
    assert TakeAsBuilt(found.layout).apply(after).linkage.layouts == after.linkage.layouts


def test_nothing_read_is_written_over_and_what_is_set_aside_does_not_count() -> None:
    project = read(WELL, 8, basalt(), 6, 0.2)
    key = "log.built.readings.read-7"
    assert [j.one.key for j in built(project).wrong] == [key]
    with pytest.raises(ValueOutOfRange, match="stays as it was read"):  # V111
        SetChoice(f"{key}.value", 0.5, "x").apply(project)
    aside = SetChoice(f"{key}.set_aside", "tape was twisted", "x").apply(project)
    found = built(aside)
    assert not found.wrong
    assert all(j.one.key != key for j in found.judged)
    for bad in (
        BuiltReading(id="n", end="rear", of="apart", a="upper_left:frame", b="", value=1.0),
        BuiltReading(id="n", end="rear", of="up", value=1.0),
    ):
        with pytest.raises(ValueOutOfRange, match=r"point|two"):  # V110
            TakeBuilt(bad).apply(project)


def test_findings_say_what_cannot_be_right_unchecked_or_gone() -> None:
    project = read(WELL, 9, basalt(), 6, 0.2)
    study = Study(project)
    codes = {f.code for f in study.findings}
    assert "V101" in codes
    assert "V102" not in codes
    lone = Study(read((("up", "upper_left:frame", ""),), 1, basalt()))
    assert "V102" in {f.code for f in lone.findings}
    gone = BuiltReading(id="g", end="rear", of="up", a="not_there:frame", value=0.5)
    assert "V105" in {
        f.code for f in Study(msgspec.structs.replace(basalt(), log=Log(built=AsBuilt(readings=(gone,))))).findings
    }
    far: list[Reading] = [("up", "upper_left:frame", ""), ("up", "upper_right:frame", "")]
    at, pinion = truth(1, basalt(), 0.0)
    readings = tuple(
        BuiltReading(id=f"f-{k}", end="rear", of=r[0], a=r[1], b=r[2], value=says(r, at, pinion, basalt()) + 0.06)
        for k, r in enumerate(far)
    )
    assert "V103" in {
        f.code for f in Study(msgspec.structs.replace(basalt(), log=Log(built=AsBuilt(readings=readings)))).findings
    }


def test_every_kind_of_reading_has_its_words() -> None:
    assert set(BUILT_WORDS) == {r[0] for r in WELL} == set(SIGMA)


@pytest.mark.parametrize(("name", "ends"), [("basalt", ("rear",)), ("tamarack", ("front",))])
def test_both_demos_have_one_reading_that_cannot_be_right(name: str, ends: tuple[str, ...]) -> None:
    study = Study(read_project(demo_file(f"{name}.stoutlink")))
    wrong = {end: len(found.wrong) for end in ("rear", "front") if (found := study.as_built(end)) is not None}
    assert {end for end, n in wrong.items() if n} == set(ends)
    assert sum(wrong.values()) == 1
    assert len(study.project.log.runs) == 6
    assert study.project.log.care


def test_the_pinion_read_against_the_output_counts_as_a_reading_of_it() -> None:
    """The driveline's card holds the difference of both; it lies above or below the output as the plan does."""
    project = read((("pinion", "", ""),), 3, basalt())
    layout = project.layout("rear")
    assert layout is not None
    down = Study(project).true.rig.drivetrain.output_down("rear")
    apart = layout.pinion_up - down + 0.01
    work = StepWork(
        id="rear-angle",
        kind="angle",
        readings=(BenchReading(values=(abs(apart) + 0.2,)), BenchReading(values=(abs(apart),), sigma=0.004)),
    )
    cards = (*(c for c in project.bench.cards if c.id != "driveline"), BenchCard(id="driveline", steps=(work,)))
    found = built(with_parts(project, cards=cards))
    (one,) = [j for j in found.judged if j.one.source == "Bench"]
    assert one.one.value == pytest.approx(layout.pinion_up + math.copysign(0.01, apart))
    assert one.one.sigma == 0.004
    assert one.standing in ("agrees", "hardly")


def test_the_rig_by_its_scales_and_the_wheels_by_their_housing() -> None:
    """By hand: W = F + R, a = L·F/W; first-order σ; wheels against their axle as a whole."""
    scales = Scales(front_left_kg=500.0, front_right_kg=520.0, front_kg=1100.0, rear_kg=900.0)
    project = with_value(basalt(), "rig.weight.scales", scales)
    project = msgspec.structs.replace(project, entries=())
    rows, misses, _ = Study(project).rig_built
    rows_by = {r.id: r for r in rows}
    assert rows_by["mass"].read == pytest.approx(1920.0)
    assert rows_by["mass"].sigma == pytest.approx(math.hypot(5.0, 5.2, 9.0))
    base = project.rig.wheelbase_m
    assert rows_by["ahead"].read == pytest.approx(base * 1020 / 1920)
    by_front, by_rear = base * 900 / 1920**2 * math.hypot(5.0, 5.2), base * 1020 / 1920**2 * 9.0
    assert rows_by["ahead"].sigma == pytest.approx(math.hypot(by_front, by_rear, 0.005 * 1020 / 1920))
    (miss,) = misses
    assert miss.end == "front"
    assert miss.off == pytest.approx(-80.0)
    assert miss.wrong  # 80 kg against 3.29 × hypot(5, 5.2, 11)
    assert any("weigh again" in line for line in rig_lines(rows, misses, (), "in"))
    bent = Stations(
        id="rear",
        puck_m=0.5,
        straight=(
            StraightReading(side="left", stage="tacked", miss_m=0.004, clock=3.0),
            StraightReading(side="left", stage="welded", miss_m=0.002, clock=3.0),
        ),
    )
    wheels = Study(with_parts(project, stations=(bent,))).rig_built[2]
    assert [(w.side, w.stage) for w in wheels] == [("left", "welded")]
    assert math.hypot(wheels[0].toe, wheels[0].camber) == pytest.approx(0.002 / 0.5, rel=1e-3)
