"""Where the driveshaft starts and ends: both outputs on one line, the pinion's rise turned with it, portals, narrowing.

Held against plain trigonometry; SAE AE-7 takes the angle between shaft lines in space.
"""

from __future__ import annotations

import math

import msgspec
import numpy as np
import pytest

from stoutlink.core.analysis.cycle.travel import axle_travel
from stoutlink.core.analysis.linkage.wheels import kingpin_of
from stoutlink.core.analysis.swap.fit_up import first_driveshaft, fit_up
from stoutlink.core.analysis.vehicle.pinion_place import pinion_drawn, pinion_offset, pinion_place
from stoutlink.core.document.paths import with_value
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.swap import AxlePlan
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file

INCH = 0.0254


@pytest.fixture(scope="module")
def basalt() -> Project:
    return read_project(demo_file("basalt.stoutlink"))


def _rig(project: Project) -> Rig:
    return Study(project).true.rig


def test_the_rise_of_the_pinion_turns_with_it(basalt: Project) -> None:
    """Snout 13, rise −3, 15° up, worked on paper: ahead 13·cos 15° + 3·sin 15° = 13.3335, up 13·sin 15° − 3·cos 15° =
    0.4669 (in).
    """
    donor = basalt.donor("rear")
    assert donor is not None
    low = msgspec.structs.replace(
        donor, snout_length_m=13 * INCH, pinion_rise_m=-3 * INCH, pinion_offset_m=0.0, hub_drop_m=None
    )
    place = pinion_place(_rig(basalt), low, AxlePlan(), math.radians(15))
    assert place is not None
    ahead, _, up = np.subtract(place.joint, (0.0, 0.0, _rig(basalt).rear.loaded)) / INCH
    assert (ahead, up) == pytest.approx((13.3335, 0.4669), abs=1e-4)
    assert place.axis == pytest.approx((-math.cos(math.radians(15)), 0.0, -math.sin(math.radians(15))))
    # the snout stands square on its root: the root lies a rise away from the tube's axis
    assert math.dist(place.start, (0.0, 0.0, _rig(basalt).rear.loaded)) == pytest.approx(3 * INCH)
    assert math.dist(place.start, place.joint) == pytest.approx(13 * INCH)


def test_both_outputs_lie_on_one_line_until_the_front_has_its_own(basalt: Project) -> None:
    down = math.radians(4.0)
    tilted = with_value(basalt, "rig.drivetrain.output_angle_rad", down)
    assert tilted.rig.drivetrain.output_down("rear") == down
    assert tilted.rig.drivetrain.output_down("front") == -down
    own = with_value(tilted, "rig.drivetrain.front_output_angle_rad", math.radians(-1.5))
    assert own.rig.drivetrain.output_down("front") == math.radians(-1.5)
    for project, angle in ((tilted, -down), (own, math.radians(-1.5))):
        travel = axle_travel(project, _rig(project), "front", touch=False)
        assert travel is not None
        assert travel.shaft is not None
        i, j = travel.grid.ride
        along = travel.shaft.joint[i, j] - np.array(travel.shaft.output)
        line = np.array([math.cos(angle), 0.0, -math.sin(angle)])
        wanted = math.acos(along @ line / np.linalg.norm(along))
        assert travel.shaft.first[i, j] * (2.0 if travel.shaft.shaft.kind == "double_cardan" else 1.0) == pytest.approx(
            wanted, abs=1e-9
        )


@pytest.mark.parametrize("end", ["front", "rear"])
def test_travel_and_fit_up_say_the_same_driveshaft_at_ride(basalt: Project, end: str) -> None:
    """With a portal, a pinion off its middle and a planned width: one place works it out."""
    project = basalt
    donor = project.donor(end)
    assert donor is not None
    assert donor.width_m is not None
    project = with_value(project, f"donors.{donor.id}.hub_drop_m", 0.09)
    project = with_value(project, f"donors.{donor.id}.pinion_rise_m", -0.06)
    project = with_value(project, f"{end}_plan.width_m", donor.width_m - 0.1)
    project = with_value(project, f"{end}_plan.centre_pinion", True)
    study = Study(project)
    travel = axle_travel(project, study.true.rig, end, touch=False)
    moved = project.donor(end)
    assert moved is not None
    fit = fit_up(project, study.true.rig, moved, project.plan(end))
    assert travel is not None
    assert travel.shaft is not None
    assert fit.shaft_length == pytest.approx(travel.shaft.at_ride[3], abs=1e-9)
    halves = 2.0 if travel.shaft.shaft.kind == "double_cardan" else 1.0
    assert fit.shaft_angle == pytest.approx(travel.shaft.at_ride[0] * halves, abs=1e-9)
    offset = pinion_offset(moved, project.plan(end))
    assert end == "rear" or offset != donor.pinion_offset_m
    assert travel.shaft.joint[travel.grid.ride][1] == pytest.approx(offset)


def test_a_portal_lifts_pinion_and_casting(basalt: Project) -> None:
    donor = basalt.donor("rear")
    assert donor is not None
    portal = with_value(basalt, f"donors.{donor.id}.hub_drop_m", 0.1)
    one, two = (axle_travel(p, _rig(p), "rear") for p in (basalt, portal))
    assert one is not None
    assert two is not None
    assert one.shaft is not None
    assert two.shaft is not None
    assert two.shaft.joint[two.grid.ride][2] - one.shaft.joint[one.grid.ride][2] == pytest.approx(0.1)
    assert one.interference.contacts != two.interference.contacts


def test_an_axle_not_known_is_drawn_in_the_middle(basalt: Project) -> None:
    place = pinion_drawn(_rig(basalt), "front", None, AxlePlan(), 0.0)
    assert place.snout_assumed
    assert place.joint[1] == 0.0
    donor = basalt.donor("rear")
    assert donor is not None
    blank = msgspec.structs.replace(donor, pinion_offset_m=None)
    assert pinion_place(_rig(basalt), blank, AxlePlan(), 0.0) is None
    assert first_driveshaft(_rig(basalt), blank, AxlePlan()) is None


def test_kingpins_stand_in_the_width_that_is_planned(basalt: Project) -> None:
    """Without steering entered they stand the inset inside the wheels' faces, which a narrowed axle brings in."""
    donor, layout = basalt.donor("front"), basalt.layout("front")
    assert donor is not None
    assert layout is not None
    assert donor.kingpin_inset_m is not None
    assert donor.width_m is not None
    bare = msgspec.structs.replace(layout, steering=None)
    narrow = with_value(basalt, "front_plan.width_m", donor.width_m - 0.12)
    places = [kingpin_of(_rig(p), bare, donor, 1.0)[0][1] for p in (basalt, narrow)]
    assert places[0] == pytest.approx(0.5 * donor.width_m - donor.kingpin_inset_m, abs=1e-6)
    assert places[0] - places[1] == pytest.approx(0.06)
