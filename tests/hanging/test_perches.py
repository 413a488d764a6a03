"""Clamp, arch, stack, shackle and hangers of a leaf axle: each entry has its effect, by hand and by geometry."""

from __future__ import annotations

import math

import msgspec
import numpy as np
import pytest
from scipy.optimize import brentq

from stoutlink.core.analysis.cycle.travel import axle_travel
from stoutlink.core.analysis.linkage.leaf_axle import LeafAxle, halves_of, leaf_axle
from stoutlink.core.analysis.linkage.perch import seat_by_stack
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.leaf import Leaf, LeafSpring
from stoutlink.core.document.paths import with_value
from stoutlink.core.document.project import Project
from stoutlink.core.mechanics.leaf_spring import across, end_rate, section
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file

INCH = 0.0254


@pytest.fixture(scope="module")
def tamarack() -> Project:
    """The pickup with leaves behind."""
    project = read_project(demo_file("tamarack.stoutlink"))
    found = next(
        d for d in project.swap.donors if d.end == "rear" and d.tube_od_m is not None and d.pinion_offset_m is not None
    )
    return with_value(project, "rear_donor", found.id)


def rear(project: Project) -> Layout:
    found = project.layout("rear")
    assert found is not None
    return found


def axle(project: Project) -> LeafAxle:
    found = leaf_axle(project, Study(project).true.rig, rear(project))
    assert found is not None
    return found


def changed(project: Project, **fields: object) -> Project:
    for name, value in fields.items():
        project = with_value(project, f"layouts.{rear(project).id}.leaf.{name}", value)
    return project


def test_where_an_eye_stands_follows_from_length_and_arch() -> None:
    """A half of 26 along with 8 1/4 of arch is about 24 across; the circle solved again by Brent's method."""
    along, arch = 26 * INCH, 8.25 * INCH
    radius = brentq(lambda r: r * (1 - math.cos(along / r)) - arch, along / (0.5 * math.pi), 100.0)
    assert across(along, arch) == pytest.approx(radius * math.sin(along / radius), abs=1e-9)
    assert across(along, arch) / INCH == pytest.approx(24.16, abs=0.01)
    assert across(along, -arch) == across(along, arch)
    assert across(along, 0.0) == along
    assert across(along, arch, 0.1) < across(along, arch) + 1e-12  # the arch has less leaf to rise on
    assert across(0.6, 0.1, 1.3) == 0.6  # clamped all along
    assert across(0.5, 0.5) == pytest.approx(0.5 * 2 / math.pi)


def test_what_is_clamped_stiffens_but_stays_lever(tamarack: Project) -> None:
    """Two cantilevers that bend from the clamp's edges, forces at the eyes: tilt by a couple, by plain statics."""
    leaf = rear(tamarack).leaf
    assert leaf is not None
    clamped = msgspec.structs.replace(leaf, clamp_m=0.12, measured_rate_n_per_m=None)
    halves = halves_of(clamped)
    pack = section(leaf.width_m, [(one.thickness_m, one.count) for one in leaf.leaves])
    front, back = (end_rate(v - 0.06, pack, leaf.shape_factor) for v in (leaf.front_m, leaf.rear_m))
    # a couple on the seat is a pair of equal forces at the eyes; each eye moves F/k and the seat turns by their sum
    couple = 100.0
    force = couple / (leaf.front_m + leaf.rear_m)
    turn = (force / front + force / back) / (leaf.front_m + leaf.rear_m)
    assert halves.wind_up_rate == pytest.approx(couple / turn)
    plain = halves_of(msgspec.structs.replace(clamped, clamp_m=0.0))
    assert (halves.a, halves.b) == (plain.a, plain.b)
    assert halves.wind_up_rate > plain.wind_up_rate
    assert halves.heave_rate > plain.heave_rate


def test_places_come_from_the_arch(tamarack: Project) -> None:
    found = axle(changed(tamarack, pin_offset_m=0.0))
    leaf = found.leaf
    ahead = across(leaf.front_m, leaf.front_eye_z_m - leaf.seat_z_m, leaf.clamp_m)
    assert ahead < leaf.front_m
    assert found.shape.fixed_eye == pytest.approx((ahead, leaf.front_eye_z_m))
    assert found.perch.fixed == pytest.approx((ahead, leaf.front_eye_z_m))
    assert found.slope_eye == pytest.approx(leaf.front_eye_z_m / ahead)
    assert found.pose(0.0).eye == pytest.approx(found.shape.moving_eye)
    pivot, eye = found.perch.pivot, found.shape.moving_eye
    assert math.dist(pivot, eye) == pytest.approx(leaf.shackle_m)


def test_the_centre_pin_moves_hangers_and_the_axle_on_them(tamarack: Project) -> None:
    plain, moved = axle(changed(tamarack, pin_offset_m=0.0)), axle(changed(tamarack, pin_offset_m=0.04))
    assert moved.perch.fixed[0] - plain.perch.fixed[0] == pytest.approx(-0.04)
    assert moved.perch.pivot[0] - plain.perch.pivot[0] == pytest.approx(-0.04)
    assert moved.slope_eye == pytest.approx(moved.leaf.front_eye_z_m / (moved.shape.front_x - 0.04))
    here = plain.perch.fixed[0]
    found = axle(changed(tamarack, pin_offset_m=0.0, hanger_x_m=here + 0.03)).perch
    assert found.axle_off == pytest.approx(0.03)
    assert found.longer_wheelbase == pytest.approx(-0.03)  # the rear axle comes forward
    even = axle(changed(tamarack, hanger_x_m=here + 0.03, pin_offset_m=-0.03)).perch
    assert even.axle_off == pytest.approx(0.0, abs=1e-12)
    assert plain.perch.axle_off is None


def test_the_stack_puts_the_leaf_where_it_says() -> None:
    """Added up on paper: hub 15, tube 3, pad 3/8, block 2, four leaves of 0.28 (in)."""
    leaf = LeafSpring(
        spacing_m=1.0,
        front_m=0.6,
        rear_m=0.7,
        width_m=0.0635,
        leaves=(Leaf(thickness_m=0.28 * INCH, count=4),),
        front_eye_z_m=0.5,
        rear_eye_z_m=0.5,
        seat_z_m=0.45,
        block_m=2 * INCH,
        pad_m=0.375 * INCH,
    )
    hub, tube = 15 * INCH, 3 * INCH
    assert seat_by_stack(leaf, hub, tube, "over") / INCH == pytest.approx(15 + 1.5 + 0.375 + 2 + 4 * 0.28 - 0.14)
    assert seat_by_stack(leaf, hub, tube, "under") / INCH == pytest.approx(15 - 1.5 - 0.375 - 2 - 0.14)


def test_block_and_side_of_the_tube_lift_and_the_shim_turns(tamarack: Project) -> None:
    one = axle(changed(tamarack, block_m=0.0)).perch
    two = axle(changed(tamarack, block_m=0.05)).perch
    assert one.lift is not None
    assert two.lift is not None
    assert two.lift - one.lift == pytest.approx(0.05)
    over, under = (axle(changed(tamarack, seat=seat)).perch for seat in ("over", "under"))
    assert over.seat is not None
    assert under.seat is not None
    assert over.other_lift == pytest.approx(under.seat - over.seat)
    assert under.other_lift == pytest.approx(over.seat - under.seat)
    straight = rear(changed(tamarack, block_nose_up_rad=0.0)).pinion_up
    turned = changed(tamarack, block_nose_up_rad=math.radians(5))
    assert rear(turned).pinion_up - straight == pytest.approx(math.radians(5))
    shafts = [
        axle_travel(p, Study(p).true.rig, "rear", touch=False)
        for p in (changed(tamarack, block_nose_up_rad=0.0), turned)
    ]
    for found in shafts:
        assert found is not None
        assert found.shaft is not None
    assert shafts[1].shaft.pinion_now - shafts[0].shaft.pinion_now == pytest.approx(math.radians(5))  # type: ignore[union-attr]


def test_another_shackle_by_geometry(tamarack: Project) -> None:
    """Common practice: half of what a rear shackle grows, about, goes into lift, and the pinion turns by the growth
    over the spring's length.
    """
    found = axle(changed(tamarack, planned_shackle_m=rear(tamarack).leaf.shackle_m + 0.03))  # type: ignore[union-attr]
    longer, leaf = found.perch.longer, found.leaf
    assert longer is not None
    grown = 0.03 * math.cos(leaf.shackle_rad) * (-1.0 if leaf.flipped_shackle else 1.0)
    assert longer.lift == pytest.approx(grown * leaf.front_m / (leaf.front_m + leaf.rear_m))
    # the rear eye further down turns a rear pinion up, by a line through both eyes
    assert longer.turn == pytest.approx(grown / (leaf.front_m + leaf.rear_m), rel=1e-9)
    flip = found.perch.flipped
    assert flip.lift == pytest.approx(longer.lift * -2 * leaf.shackle_m / 0.03)
    assert flip.turn == pytest.approx(longer.turn * -2 * leaf.shackle_m / 0.03)
    assert axle(tamarack).perch.longer is None


def test_two_u_bolts(tamarack: Project) -> None:
    plain = axle(tamarack)
    assert plain.u_bolt_casting is None
    found = axle(changed(tamarack, casting_width_m=0.11, casting_height_m=0.13))
    assert found.u_bolt == plain.u_bolt
    assert found.u_bolt is not None
    assert found.u_bolt_casting is not None
    donor = tamarack.donor("rear")
    assert donor is not None
    assert donor.tube_od_m is not None
    assert found.u_bolt[0] == donor.tube_od_m
    assert found.u_bolt_casting[0] == 0.11
    assert found.u_bolt_casting[1] - found.u_bolt[1] == pytest.approx(0.13 - donor.tube_od_m)


def test_one_allowance_for_wrap(tamarack: Project) -> None:
    wide = changed(tamarack, pinion_allowance_rad=math.radians(4))
    assert rear(wide).wrap_allowed == math.radians(4)
    one, two = (axle_travel(p, Study(p).true.rig, "rear", touch=False) for p in (tamarack, wide))
    assert one is not None
    assert two is not None
    assert one.shaft is not None
    assert two.shaft is not None
    before = rear(tamarack).wrap_allowed
    assert one.shaft.pinion_wanted - two.shaft.pinion_wanted == pytest.approx(math.radians(4) - before)


def test_each_axle_has_its_own_travel(tamarack: Project) -> None:
    """Fourteen inches of travel at one end, the other as it was."""
    far = with_value(with_value(tamarack, "layouts.rear-a.bump_m", 6 * INCH), "layouts.rear-a.droop_m", 8 * INCH)
    study = Study(far)
    rear_travel, front_travel = study.travel("rear"), study.travel("front")
    assert rear_travel is not None
    assert front_travel is not None
    assert (rear_travel.grid.heave[0], rear_travel.grid.heave[-1]) == pytest.approx((-8 * INCH, 6 * INCH))
    assert (front_travel.grid.heave[0], front_travel.grid.heave[-1]) == pytest.approx((-0.13, 0.11))


@pytest.mark.parametrize("backward", [False, True])
def test_many_heaves_are_each_one(tamarack: Project, *, backward: bool) -> None:
    """Seats of many poses worked out together are those of one at a time, where it ends included."""
    leaf = rear(tamarack).leaf
    assert leaf is not None
    shape = axle(
        changed(tamarack, reversed_shackle=backward, shackle_rad=-leaf.shackle_rad if backward else leaf.shackle_rad)
    ).shape
    heave = np.linspace(-0.35, 0.35, 57)
    tilt = 0.3 * heave
    one = [shape.at(float(h), float(t)) for h, t in zip(heave, tilt, strict=True)]
    wanted = [p.forward if math.isfinite(p.shackle) else math.nan for p in one]
    assert shape.forward(heave, tilt) == pytest.approx(wanted, abs=1e-12, nan_ok=True)
    assert 0 < np.isfinite(wanted).sum() < len(wanted)
