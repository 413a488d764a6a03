"""A driveshaft that is at hand, by hand; the carrier bearing's place against places thrown at random."""

from __future__ import annotations

import math
from typing import Any

import msgspec
import numpy as np
import pytest
from msgspec.structs import replace

from stoutlink.core.analysis.cycle.carrier_search import ASIDE, UPWARD, carrier_search
from stoutlink.core.analysis.cycle.shaft import ShaftTravel, shaft_travel
from stoutlink.core.analysis.cycle.travel import AxleTravel, axle_travel
from stoutlink.core.analysis.cycle.travel_map import travel_map
from stoutlink.core.document.paths import with_value
from stoutlink.core.document.project import Project
from stoutlink.core.document.springing import Driveshaft, SlipShaft
from stoutlink.core.reports.shaft_sheet import shaft_sheet
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file


def held(shaft: Driveshaft, name: str = "basalt", end: str = "rear") -> tuple[Project, AxleTravel, ShaftTravel]:
    project = read_project(demo_file(f"{name}.stoutlink"))
    layout = project.layout(end)
    assert layout is not None
    project = with_value(project, f"layouts.{layout.id}.driveshaft", shaft)
    travel = axle_travel(project, Study(project).true.rig, end, touch=False)
    assert travel is not None
    assert travel.shaft is not None
    return project, travel, travel.shaft


def test_a_slip_shaft_by_its_closed_length() -> None:
    """Common practice: engaged = spline length − showing; 3 1/2 less 3/4 showing leaves 2 3/4."""
    _, _, bare = held(Driveshaft())
    ride = bare.at_ride[3]
    closed = ride - 0.01905  # 3/4 in shows at ride
    _, travel, shaft = held(Driveshaft(in_hand=SlipShaft(spline_m=0.0889, closed_m=closed), spline_diameter_m=0.04))
    assert shaft.engaged_at_ride == pytest.approx(0.06985)  # 2 3/4 in
    assert shaft.inward_at_ride == pytest.approx(0.01905)
    out = {word for word, _ in travel_map(travel).runs_out}
    longest, shortest = (f(shaft.length[travel.grid.within]) for f in (np.nanmax, np.nanmin))
    assert ("the slip spline has less than its diameter engaged" in out) == (0.0889 - (longest - closed) < 0.04)
    assert ("the slip joint bottoms" in out) == (shortest < closed)


@pytest.mark.parametrize("pose", ["taped", "ride", "bump", "droop"])
def test_the_closed_length_from_what_shows(pose: Any) -> None:
    _, _, bare = held(Driveshaft())
    i = bare.ride[0]
    level = bare.length[i][np.isfinite(bare.length[i])]
    at = {"taped": 1.234, "ride": bare.at_ride[3], "bump": level[-1], "droop": level[0]}[pose]
    hand = SlipShaft(spline_m=0.12, showing_m=0.03, shown_at=pose, taped_m=1.234)
    _, _, shaft = held(Driveshaft(in_hand=hand))
    assert shaft.closed == pytest.approx(at - 0.03)
    assert shaft.engaged_at_ride == pytest.approx(0.12 - (bare.at_ride[3] - (at - 0.03)))
    # with nothing to go by nothing is said
    _, _, empty = held(Driveshaft(in_hand=SlipShaft(spline_m=0.12)))
    assert empty.closed is empty.engaged_at_ride is empty.inward_at_ride is None


def test_the_sheet_says_what_is_at_hand() -> None:
    _, _, bare = held(Driveshaft())
    project, travel, _ = held(Driveshaft(in_hand=SlipShaft(spline_m=0.1, closed_m=bare.at_ride[3] - 0.02)))
    assert "At hand, spline in mesh at the longest" in shaft_sheet(project, travel)


@pytest.mark.parametrize(("name", "end"), [("basalt", "rear"), ("tamarack", "front")])
def test_no_place_thrown_at_random_is_better(name: str, end: str) -> None:
    project, travel, shaft = held(Driveshaft(kind="two_piece", joint_limit_rad=0.35), name, end)
    rig, donor, plan = Study(project).true.rig, project.donor(end), project.plan(end)
    found = carrier_search(rig, travel, donor, plan)
    assert found is not None
    i, j = shaft.ride
    out, joint = np.array(shaft.output), shaft.joint[i, j]

    def judged(at: tuple[float, float, float]) -> tuple[float, float]:
        """The travel's own answer with the carrier there: worst joint within the stops, equivalent angle at ride."""
        layout = msgspec.structs.replace(
            travel.layout, driveshaft=Driveshaft(kind="two_piece", carrier_m=at, joint_limit_rad=0.35)
        )
        again = shaft_travel(rig, replace(travel.grid, layout=layout), donor, plan)
        assert again is not None
        assert again.middle is not None
        worst = max(float(np.nanmax(v[travel.grid.within])) for v in (again.first, again.middle, again.second))
        return worst, again.at_ride[2]

    worst, wave = judged(found.at)
    assert worst == pytest.approx(max(found.worst))
    assert wave == pytest.approx(found.equivalent)
    assert found.within == (worst <= 0.35)
    rng = np.random.default_rng(7)
    for _ in range(60):
        at = out + rng.uniform(0.2, 0.8) * (joint - out) + np.array([0.0, *rng.uniform(-1, 1, 2) * (ASIDE, UPWARD)])
        w, e = judged((float(at[0]), float(at[1]), float(at[2])))
        if found.within:
            assert w > 0.35 or e >= wave - math.radians(0.3)
        else:
            assert w >= worst - math.radians(0.5)


def test_one_piece_has_no_carrier() -> None:
    project, travel, _ = held(Driveshaft())
    assert carrier_search(Study(project).true.rig, travel, project.donor("rear"), project.plan("rear")) is None
