"""Stations of a housing by hand: offsets, marks, closures with their ±, what moved, and the pinion as a relation."""

from __future__ import annotations

import itertools
import math
import random

import msgspec
import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from stoutlink.core.analysis.linkage.station_sheet import StationSheet, station_sheet
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.stations import StationOf, StationReading, Stations, StationStage, StraightReading
from stoutlink.core.editing.link_edits import ReadStation, ReadStraight, TakeStationBack
from stoutlink.core.errors import StoutError
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file

INCH = 0.0254


def reading(of: StationOf, inches: float, stage: StationStage = "marked", sigma: float | None = 0.01) -> StationReading:
    return StationReading(of=of, stage=stage, value_m=inches * INCH, sigma_m=None if sigma is None else sigma * INCH)


def sheet(*readings: StationReading, wanted: float | None = None, unit: str = "in") -> StationSheet:
    one = Stations(id="rear", readings=readings, wanted_m=None if wanted is None else wanted * INCH)
    return station_sheet(one, None, unit)


def test_offset_is_exact_and_only_the_first_mark_is_rounded() -> None:
    """54 1/16 over the flanges, pads 38 1/2 apart: 7.78125 in each; 7 25/32 is marked. At 54.05 it is 7.775: the left
    goes to 7 25/32, the right stands 7.76875 from its own flange, not rounded as well.
    """
    found = sheet(reading("span", 54.0625), wanted=38.5)
    assert found.offset == pytest.approx(7.78125 * INCH)
    assert found.mark == pytest.approx(7.78125 * INCH)
    assert found.right_then == pytest.approx(7.78125 * INCH)
    found = sheet(reading("span", 54.05), wanted=38.5)
    assert found.offset == pytest.approx(7.775 * INCH)
    assert found.mark == pytest.approx((7 + 25 / 32) * INCH)
    assert found.right_then == pytest.approx((54.05 - 38.5 - 7 - 25 / 32) * INCH)
    assert abs(found.mark - found.right_then) <= INCH / 32 + 1e-12  # type: ignore[operator]
    metric = sheet(reading("span", 54.05), wanted=38.5, unit="mm")
    assert metric.mark == pytest.approx(round(7.775 * 25.4 / 0.5) * 0.0005)


@pytest.mark.parametrize(
    ("right", "bad", "noticed"),
    [(7.76, False, False), (7.72, False, False), (7.67, True, True), (7.88, True, True), (7.81, False, False)],
)
def test_a_closure_is_judged_by_its_own_readings(right: float, bad: bool, noticed: bool) -> None:
    """Four readings of ± 0.02 (2 σ): the sum is sure to ± 0.04."""
    found = sheet(reading("span", 54.02), reading("left", 7.75), reading("spacing", 38.51), reading("right", right))
    (one,) = found.closures
    assert one.off == pytest.approx((54.02 - 7.75 - 38.51 - right) * INCH)
    assert one.two_sigma == pytest.approx(2 * math.sqrt(4) * 0.01 * INCH)
    assert one.bad is (abs(one.off) > one.two_sigma)
    assert (one.bad and one.noticed) is (bad and noticed)
    assert not one.blunt


def test_how_sure_a_sum_is_against_readings_drawn() -> None:
    """Readings drawn a few thousand times with their ± scatter as much as the closure says."""
    rng = random.Random(4)
    one = sheet(reading("span", 54.0, sigma=0.02), reading("left", 7.75, sigma=0.01), reading("spacing", 38.5, sigma=0.03), reading("right", 7.75, sigma=0.005)).closures[0]  # fmt: skip
    drawn = [rng.gauss(0, 0.02) - rng.gauss(0, 0.01) - rng.gauss(0, 0.03) - rng.gauss(0, 0.005) for _ in range(20000)]
    spread = math.sqrt(sum(v * v for v in drawn) / len(drawn)) * INCH
    assert one.two_sigma == pytest.approx(2 * spread, rel=0.03)


def test_a_tape_is_too_blunt_for_a_sixteenth_and_says_so() -> None:
    parts: tuple[tuple[StationOf, float], ...] = (("span", 54.0), ("left", 7.7), ("spacing", 38.5), ("right", 7.7))
    found = sheet(*(reading(of, v, sigma=0.05) for of, v in parts))
    (one,) = found.closures
    assert one.blunt
    assert one.noticed
    assert not one.bad


def test_more_readings_are_surer_and_a_wild_one_is_not_hidden() -> None:
    calm = sheet(*(reading("span", 54.0, sigma=0.02) for _ in range(4))).read["span", "marked"]
    assert calm.sigma == pytest.approx(0.01 * INCH)
    wild = sheet(*(reading("span", v, sigma=0.02) for v in (54.0, 54.0, 54.0, 54.4))).read["span", "marked"]
    assert wild.value == pytest.approx(54.1 * INCH)
    assert wild.sigma == pytest.approx(0.1 * INCH)


def test_stages_stand_side_by_side_and_movement_is_said() -> None:
    found = sheet(
        reading("span", 54.0, "before"), reading("left", 7.75, "tacked"), reading("spacing", 38.5, "tacked"), reading("right", 7.75, "tacked"),
        reading("left", 7.73, "welded"), reading("right", 7.78, "welded"), wanted=38.5,
    )  # fmt: skip
    assert [c.stage for c in found.closures] == ["tacked"]  # with the span of the stage before
    assert found.moved["welded"] == pytest.approx((-0.02 * INCH, 0.03 * INCH))
    assert found.moved["tacked"] == (None, None)


def leaves() -> Project:
    return with_parts(read_project(demo_file("tamarack.stoutlink")), stations=())


def test_spacing_comes_from_the_springs_and_the_pinion_from_relation_pads_and_shim() -> None:
    project = leaves()
    layout = project.layout("rear")
    assert layout is not None
    assert layout.leaf is not None
    wanted = layout.pinion_up
    one = Stations(
        id="rear", readings=(reading("span", 54.0),), relation_rad=wanted - 0.03, pad_rad=0.01, shim_rad=0.02
    )
    after = with_parts(project, stations=(one,))
    found = Study(after).station_sheet("rear")
    assert found is not None
    assert found.wanted == layout.leaf.spacing_m
    assert found.pinion == pytest.approx(wanted)
    assert not found.crooked
    assert "C229" not in {f.code for f in Study(after).findings_so_far}
    bent = with_parts(after, stations=(msgspec.structs.replace(one, shim_rad=0.0),))
    said = [f.sentence for f in Study(bent).findings_so_far if f.code == "C229"]
    assert len(said) == 1
    assert f"{math.degrees(wanted - 0.02):.1f}°" in said[0]
    assert f"{math.degrees(wanted):.1f}°" in said[0]


@pytest.mark.parametrize(("right", "sigma", "code"), [(7.66, 0.01, "C227"), (7.66, 0.06, "C228"), (7.75, 0.01, None)])
def test_what_does_not_close_is_a_finding(right: float, sigma: float, code: str | None) -> None:
    project = leaves()
    for one in (reading("span", 54.0, sigma=sigma), reading("left", 7.75, sigma=sigma), reading("spacing", 38.5, sigma=sigma), reading("right", right, sigma=sigma)):  # fmt: skip
        project = ReadStation("rear", one).apply(project)
    found = {f.code for f in Study(project).findings_so_far} & {"C227", "C228"}
    assert found == ({code} if code else set())


def test_readings_are_kept_and_taken_back_one_by_one() -> None:
    project = leaves()
    for value in (54.0, 54.1):
        project = ReadStation("rear", reading("span", value)).apply(project)
    project = ReadStation("rear", reading("left", 7.7)).apply(project)
    back = TakeStationBack("rear", "span", "marked").apply(project)
    assert [(r.of, round(r.value_m / INCH, 3)) for r in back.fabrication.stations[0].readings] == [
        ("span", 54.0),
        ("left", 7.7),
    ]
    with pytest.raises(StoutError, match="D165 Nothing was read of right pad to right datum"):
        TakeStationBack("rear", "right", "marked").apply(project)
    assert len(list(itertools.chain.from_iterable(s.readings for s in back.fabrication.stations))) == 2


def housing(*ends: StraightReading, puck: float | None = 0.6) -> StationSheet:
    return station_sheet(Stations(id="rear", straight=ends, puck_m=puck), None, "mm")


@pytest.mark.parametrize("side", ["left", "right"])
@pytest.mark.parametrize("clock", [0.0, 1.5, 3.0, 4.5, 7.0, 9.0, 11.0])
def test_which_way_a_wheel_then_stands(side: str, clock: float) -> None:
    """The tube turned by a rotation that carries its end to where the clock says; the wheel's plane turned with it."""
    miss, far = 0.004, 0.6
    one = housing(StraightReading(side=side, stage="tacked", miss_m=miss, clock=clock)).ends[0]  # type: ignore[arg-type]
    out = np.array([0.0, 1.0 if side == "left" else -1.0, 0.0])
    look = -out  # from the end inward
    right = np.cross(look, [0.0, 0.0, 1.0])
    turn = math.radians(30 * clock)
    off = miss * (math.sin(turn) * right + math.cos(turn) * np.array([0.0, 0.0, 1.0]))
    bent = far * out + off
    carried, _ = Rotation.align_vectors([bent / np.linalg.norm(bent)], [out])
    front, top = carried.apply([1.0, 0.0, 0.0]), carried.apply([0.0, 0.0, 1.0])
    toe_in, camber = -math.asin(float(front @ out)), math.asin(float(top @ out))
    assert one.toe == pytest.approx(toe_in, abs=2e-7)
    assert one.camber == pytest.approx(camber, abs=2e-7)


def test_the_limit_itself_is_out_and_movement_is_a_vector() -> None:
    found = housing(
        StraightReading(side="left", stage="tacked", miss_m=INCH / 8 - 1e-5, clock=3.0),
        StraightReading(side="left", stage="welded", miss_m=INCH / 8, clock=9.0),
        StraightReading(side="right", stage="welded", miss_m=0.001),
    )
    left = [e for e in found.ends if e.side == "left"]
    assert [e.out for e in left] == [False, True]
    assert left[1].moved == pytest.approx(INCH / 4 - 1e-5)  # from one side to the other, each within
    assert found.unproved == ("right",)
    bare = found.ends[-1]
    assert (bare.toe, bare.camber, bare.moved) == (None, None, None)
    project = leaves()
    project = ReadStraight("rear", StraightReading(side="left", stage="welded", miss_m=INCH / 8)).apply(project)
    assert {f.code for f in Study(project).findings_so_far} >= {"C231", "C232"}
    straight = ReadStraight("rear", StraightReading(side="left", stage="welded", miss_m=0.001)).apply(project)
    assert "C231" not in {f.code for f in Study(straight).findings_so_far}
