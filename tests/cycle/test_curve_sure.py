"""± along the curves against readings drawn at random, and against the verdict's own; the best holes against a layout
fitted and cycled afresh.
"""

from __future__ import annotations

import msgspec
import numpy as np
import pytest

from stoutlink.core.advice.travel_rules import travel_findings
from stoutlink.core.analysis.cycle.curve_sure import _cases, curve_sure
from stoutlink.core.analysis.cycle.steer_holes import best_holes, steering_holes
from stoutlink.core.analysis.cycle.travel import axle_travel, curves_of
from stoutlink.core.analysis.cycle.travel_map import travel_map
from stoutlink.core.analysis.linkage.axle_motion import axle_motion
from stoutlink.core.analysis.linkage.steering_geometry import bump_steer
from stoutlink.core.analysis.linkage.uncertainty import how_sure, pivot_readings, zero_sigma
from stoutlink.core.analysis.vehicle.effective_vehicle import effective_vehicle
from stoutlink.core.document.project import Project
from stoutlink.core.document.springing import AirSpring, Driveshaft
from stoutlink.core.document.steering import Holes
from stoutlink.core.editing.edits import SetChoice, SetNumber
from stoutlink.core.editing.steering_edits import FitSteeringHoles
from stoutlink.core.errors import ValueOutOfRange
from stoutlink.core.reports.shaft_sheet import shaft_rows, shaft_sheet


def test_the_band_at_ride_is_the_verdicts(basalt: Project) -> None:
    rig = effective_vehicle(basalt).rig
    found = axle_travel(basalt, rig, "front", touch=False)
    assert found is not None
    assert found.motion is not None
    bands = curve_sure(basalt, rig, found)
    sure = how_sure(basalt, found.motion)
    i, j = found.grid.ride
    for curve, name in (
        ("drive", "drive"),
        ("brake", "brake"),
        ("roll_centre", "roll_centre_height"),
        ("roll_steer", "steer"),
    ):
        assert bands[curve][0][j] == pytest.approx(sure[name].sigma, rel=0.05)
        assert bands[curve][1][i] == pytest.approx(sure[name].sigma, rel=0.05)
    assert set(bands) == {c.id for c in found.curves}
    assert curve_sure(basalt, rig, found, lambda part: False) == {}


def test_the_band_off_ride_against_readings_drawn(basalt: Project) -> None:
    """Monte Carlo of the pivot readings alone, 200 draws, at full droop and bump."""
    rig = effective_vehicle(basalt).rig
    layout = basalt.layout("rear")
    assert layout is not None
    readings = pivot_readings(layout, {}, zero_sigma(basalt))
    base = {c.id: c for c in curves_of(basalt, rig, layout, 5, 3)[1]}
    first = np.zeros(5)
    for _, moved, _ in list(_cases(basalt, rig, layout))[: len(readings)]:
        first += (
            {c.id: c for c in curves_of(basalt, rig, moved, 5, 3)[1]}["pinion_up"].heave - base["pinion_up"].heave
        ) ** 2
    rng = np.random.default_rng(5)
    drawn = []
    for _ in range(200):
        links = list(layout.links)
        for reading in readings:
            z = rng.normal(0.0, reading.sigma)
            for which, bar, axis, factor in reading.moves:
                at = list(links[bar].frame_pivot_m if which == "frame" else links[bar].axle_pivot_m)
                at[axis] += factor * z
                links[bar] = msgspec.structs.replace(links[bar], **{f"{which}_pivot_m": tuple(at)})
        one = msgspec.structs.replace(layout, links=tuple(links))
        drawn.append({c.id: c for c in curves_of(basalt, rig, one, 5, 3)[1]}["pinion_up"].heave)
    spread = np.std(drawn, axis=0)
    for k in (0, 4):
        assert np.sqrt(first[k]) == pytest.approx(spread[k], rel=0.15)


def test_best_holes_are_what_they_are_said_to_be(basalt: Project) -> None:
    rig = effective_vehicle(basalt).rig
    front = basalt.layout("front")
    assert front is not None
    assert front.steering is not None
    assert steering_holes(front) == 9
    found = best_holes(rig, front, basalt.linkage.joints, front.droop_m, front.bump_m)
    sizes = [abs(c.largest) for c in found]
    assert sizes == sorted(sizes)
    for pick in (found[0], found[-1]):
        fitted = FitSteeringHoles("front-a", pick.pitman, pick.knuckle, pick.brackets).apply(basalt)
        layout = fitted.layout("front")
        assert layout is not None
        motion = axle_motion(rig, layout, basalt.linkage.joints, layout.droop_m, layout.bump_m)
        steer = bump_steer(motion)
        assert steer is not None
        assert steer.largest == pytest.approx(pick.largest, rel=0.02)
        assert steer.heading_per_step == pytest.approx(pick.per_step, abs=2e-4)
        assert float(np.ptp(motion.heave.lateral)) == pytest.approx(pick.side_shift, rel=1e-3)
    many = msgspec.structs.replace(front.steering, pitman_holes=Holes(holes=8), knuckle_holes=Holes(holes=8))
    brackets = tuple(msgspec.structs.replace(b, holes=12, hole=1) for b in front.brackets)
    more = msgspec.structs.replace(
        front,
        steering=many,
        brackets=(
            *brackets,
            msgspec.structs.replace(brackets[0], id="b2", end="axle", holes=12),
        ),
    )
    assert steering_holes(more) == 8 * 8 * 12 * 12
    huge = msgspec.structs.replace(more, brackets=(*more.brackets, *more.brackets))
    with pytest.raises(ValueOutOfRange, match="more than the 20,000"):
        best_holes(rig, huge, basalt.linkage.joints, huge.droop_m, huge.bump_m)
    bare = SetChoice("layouts.front-a.steering", None).apply(basalt)
    with pytest.raises(ValueOutOfRange, match="no steering"):
        FitSteeringHoles("front-a", 1, 1).apply(bare)


def test_findings_of_the_travel(basalt: Project) -> None:
    """Each fault put in by hand is named once, and nothing is said without one."""

    def codes(project: Project, end: str, *, touch: bool = False) -> set[str]:
        found = axle_travel(project, effective_vehicle(project).rig, end, touch=touch)
        assert found is not None
        return {f.code for f in travel_findings(found, travel_map(found), "mm")}

    clean = codes(basalt, "rear")
    assert "T304" not in clean
    assert "T312" not in clean
    assert {"T301", "T302"} <= codes(basalt, "front", touch=True)
    short = SetNumber("layouts.rear-a.shock.extended_m", 0.70).apply(basalt)
    assert "T304" in codes(short, "rear")
    thin = SetChoice("layouts.rear-a.driveshaft", Driveshaft(tube_od_m=0.021, tube_wall_m=0.001)).apply(basalt)
    fast = msgspec.structs.replace(thin, rig=msgspec.structs.replace(thin.rig, road_speed_m_per_s=36.0))
    assert "T312" in codes(fast, "rear")
    off = SetNumber("layouts.rear-a.pinion_up_rad", -0.1).apply(basalt)
    assert "T310" in codes(off, "rear")
    rear = basalt.layout("rear")
    assert rear is not None
    assert rear.shock is not None
    low = rear.shock.axle_m
    air = AirSpring(frame_m=(low[0], low[1], low[2] + 0.3), axle_m=low, diameter_m=0.10, volume_m3=0.0035, most_pa=2e5)
    blown = SetChoice("layouts.rear-a.air", air).apply(SetChoice("layouts.rear-a.spring", None).apply(basalt))
    assert "T330" in codes(blown, "rear")
    assert not {"T310", "T312", "T330"} & clean


def test_the_sheet_for_the_shaft_shop(basalt: Project) -> None:
    found = axle_travel(basalt, effective_vehicle(basalt).rig, "rear", touch=False)
    assert found is not None
    assert found.shaft is not None
    rows = dict(shaft_rows(basalt, found))
    assert rows["Shaft"].startswith("one piece, double cardan")
    assert float(rows["Length at ride, joint centre to joint centre"].rstrip("″")) == pytest.approx(
        found.shaft.at_ride[3] / 0.0254, abs=6e-4
    )
    inside = found.grid.within
    slip = float(np.ptp(found.shaft.length[inside]))
    assert float(rows["Slip it must have, without reserve"].rstrip("″")) == pytest.approx(slip / 0.0254, abs=6e-4)
    text = shaft_sheet(basalt, found)
    assert "what is measured counts" in text
    assert all(len(line) < 200 for line in text.splitlines())
    none = SetChoice("rear_donor", None).apply(basalt)
    bare = axle_travel(none, effective_vehicle(none).rig, "rear", touch=False)
    assert bare is not None
    assert shaft_sheet(none, bare) == ""
