"""What the painters are given: sizes in metres, views that agree, axles carried with their pose."""

from __future__ import annotations

import math

import numpy as np
import pytest

from stoutlink.core.analysis.linkage.axle_motion import axle_motion
from stoutlink.core.analysis.swap.donor_in_rig import donor_in_rig
from stoutlink.core.document.project import Project
from stoutlink.core.drawing.axle_views import (
    axle_shapes,
    balance_shapes,
    construction_shapes,
    link_shapes,
    pose_at_station,
    ride_pose_of,
)
from stoutlink.core.drawing.donor_view import axle_front, spline_section
from stoutlink.core.drawing.rig_views import rig_plan, rig_side
from stoutlink.core.drawing.shapes import VIEWS, Line, Oval, ViewName, flatten
from tests.layouts import JOINT, THREE, layout, rig


@pytest.mark.parametrize("view", VIEWS)
def test_links_are_drawn_from_pivot_to_pivot(view: ViewName) -> None:
    one = layout(THREE)
    pose = ride_pose_of(rig(), "rear")
    for line, link in zip(link_shapes(one, view, pose, pose.centre), one.links, strict=True):
        assert line.points[0] == pytest.approx(flatten(link.frame_pivot_m, view))
        assert line.points[1] == pytest.approx(flatten(link.axle_pivot_m, view))
        assert line.width == link.tube_od_m


def test_links_keep_their_drawn_length_over_travel() -> None:
    one = layout(THREE)
    motion = axle_motion(rig(), one, (JOINT,))
    ride = ride_pose_of(rig(), "rear")
    for station in (0, 30, 120):
        pose = pose_at_station(motion, station)
        assert pose is not None
        for link in one.links:
            moved = pose.carry(link.axle_pivot_m, ride.centre)
            assert math.dist(moved, link.frame_pivot_m) == pytest.approx(
                math.dist(link.axle_pivot_m, link.frame_pivot_m), abs=1e-9
            )


def test_tyres_touch_the_ground_as_much_as_they_sag() -> None:
    the_rig = rig()
    tyres = [s for s in rig_side(the_rig) if isinstance(s, Oval) and s.role == "tyre"]
    low = min(s.centre[1] - s.radius[1] for s in tyres)
    assert low == pytest.approx(the_rig.rear.loaded - the_rig.rear.free)
    span = [p[1] for s in rig_plan(the_rig) if isinstance(s, Line) and s.role == "tyre" for p in s.points]
    assert (max(span) + min(span)) == pytest.approx(0.0)
    middles = (max(span) - min(span)) - 0.32
    assert middles == pytest.approx(the_rig.rear.track_m)


def test_force_line_has_the_support_slope() -> None:
    motion = axle_motion(rig(), layout(THREE), (JOINT,))
    force = next(s for s in construction_shapes(rig(), motion, "side") if isinstance(s, Line) and s.role == "force")
    (x1, z1), (x2, z2) = force.points
    assert (z2 - z1) / (x2 - x1) == pytest.approx(motion.ride.slope)
    neutral = next(s for s in construction_shapes(rig(), motion, "side") if isinstance(s, Line) and s.role == "neutral")
    assert neutral.points[1] == (rig().wheelbase_m, rig().cg_height_m)


def test_balance_point_shows_two_sigma() -> None:
    band = next(s for s in balance_shapes(rig(), "side", 0.04) if isinstance(s, Oval) and s.role == "cg_band")
    assert band.radius[1] == pytest.approx(0.08)
    assert band.centre == (rig().cg_ahead_of_rear_m, rig().cg_height_m)


def test_axle_housing_spans_the_track_in_every_view() -> None:
    pose = ride_pose_of(rig(), "rear")
    for view in ("plan", "rear"):
        tube = next(
            s for s in axle_shapes(rig(), layout(THREE), view, pose) if isinstance(s, Line) and s.role == "housing"
        )
        assert math.dist(tube.points[0], tube.points[1]) == pytest.approx(1.6 - 0.32)


def test_a_spline_has_its_teeth(basalt: Project) -> None:
    donor = basalt.donor("rear")
    assert donor is not None
    it = donor_in_rig(basalt.rig, donor)
    assert it.major is not None
    assert it.root is not None
    assert donor.spline_teeth is not None
    section = spline_section(it)[0]
    assert isinstance(section, Line)
    radii = np.array([math.hypot(*p) for p in section.points])
    assert radii.max() == pytest.approx(it.major / 2)
    assert radii.min() == pytest.approx(it.root / 2)
    tops = (radii > (it.major + it.root) / 4).astype(int)
    assert np.abs(np.diff(np.append(tops, tops[0]))).sum() == 2 * donor.spline_teeth


def test_a_donor_is_as_wide_as_its_record(basalt: Project) -> None:
    for donor in basalt.swap.donors:
        tube = next(
            s
            for s in axle_front(donor, basalt.rig.end(donor.end).loaded)
            if isinstance(s, Line) and s.role == "housing"
        )
        assert math.dist(tube.points[0], tube.points[1]) == pytest.approx(donor.width_m)
        ring = [s for s in axle_front(donor, basalt.rig.end(donor.end).loaded) if isinstance(s, Oval)]
        assert donor.ring_diameter_m is not None
        assert max(s.radius[0] for s in ring) > donor.ring_diameter_m / 2
