"""Weight that is true: sources, swaps, tyres and stance, each by hand."""

from __future__ import annotations

import math

import msgspec
import pytest

from stoutlink.core.analysis.vehicle.effective_vehicle import effective_vehicle
from stoutlink.core.analysis.vehicle.rig_numbers import rig_numbers, tyre_numbers
from stoutlink.core.analysis.vehicle.stance import low_points, surveyed_ride
from stoutlink.core.analysis.vehicle.tyre_effects import tyre_effects
from stoutlink.core.document.paths import with_value
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Stance
from stoutlink.core.document.weight import Scales, Tilt, WeightBook, WeightItem
from stoutlink.core.editing.edits import ChooseDonor
from stoutlink.core.study.study import Study
from tests.layouts import rig

SCALES = Scales(front_left_kg=500.0, front_right_kg=480.0, rear_left_kg=510.0, rear_right_kg=490.0)


def project(book: WeightBook, **changes: object) -> Project:
    return Project(name="p", rig=msgspec.structs.replace(rig(), weight=book, **changes))


def codes(p: Project) -> set[str]:
    return {f.code for f in Study(p).findings}


def test_scales_with_what_comes_on_later() -> None:
    items = (
        WeightItem(id="a", name="later", mass_kg=60.0, x_m=2.8, z_m=1.0),
        WeightItem(id="b", name="off", mass_kg=-20.0, x_m=0.0, z_m=0.5),
        WeightItem(id="c", name="weighed", mass_kg=90.0, x_m=1.0, z_m=1.0, weighed=True),
    )
    true = effective_vehicle(project(WeightBook(mass_from="scales", along_from="scales", scales=SCALES, items=items)))
    assert true.rig.mass_kg == pytest.approx(1980 + 60 - 20)
    assert true.rig.cg_ahead_of_rear_m == pytest.approx((980 * 2.8 + 60 * 2.8) / 2020)
    assert true.side_offset == pytest.approx(0.8 * (20 + 20) / 2020)
    assert true.rig.cg_height_m == rig().cg_height_m


def test_axles_weighed_as_a_whole() -> None:
    """Both ways of weighing say the same but for the side, which a whole axle cannot tell."""
    apart = effective_vehicle(project(WeightBook(mass_from="scales", along_from="scales", scales=SCALES)))
    whole = effective_vehicle(
        project(WeightBook(mass_from="scales", along_from="scales", scales=Scales(front_kg=980.0, rear_kg=1000.0)))
    )
    assert (whole.rig.mass_kg, whole.rig.cg_ahead_of_rear_m) == (apart.rig.mass_kg, apart.rig.cg_ahead_of_rear_m)
    assert whole.side_offset is None
    assert apart.side_offset is not None
    mixed = msgspec.structs.replace(SCALES, front_kg=1.0e3, rear_right_kg=None, rear_kg=1000.0)
    assert effective_vehicle(project(WeightBook(mass_from="scales", scales=mixed))).rig.mass_kg == pytest.approx(1980.0)
    sure = rig_numbers(project(WeightBook(mass_from="scales", scales=Scales(front_kg=980.0, rear_kg=1000.0))))["mass"]
    assert sure.sigma == pytest.approx(math.hypot(9.8, 10.0))


def test_ride_height_is_read_off_the_survey(basalt: Project) -> None:
    """Rear: the rail point stands over the axle. Front: between 118 and 129 in, where the wheelbase ends at 128 3/4
    in of tape.
    """
    inch = 0.0254
    assert surveyed_ride(basalt, "rear") == pytest.approx((28.5 - 18.625) * inch)
    part = (128.75 - 118) / 11
    assert surveyed_ride(basalt, "front") == pytest.approx(
        (27.875 + part * (28.75 - 27.875)) * inch - basalt.rig.front.loaded
    )
    assert surveyed_ride(project(WeightBook()), "rear") is None
    assert codes(with_value(basalt, "rig.stance.ride_rear_m", 0.25)) == codes(basalt)
    assert codes(with_value(basalt, "rig.stance.ride_rear_m", 0.29)) - codes(basalt) == {"R102"}


def test_curb_and_items() -> None:
    items = (
        WeightItem(id="a", name="armour", mass_kg=100.0, x_m=1.4, z_m=0.5),
        WeightItem(id="b", name="camper", mass_kg=200.0, x_m=0.4, z_m=1.6, weighed=True),
    )
    book = WeightBook(
        mass_from="items",
        along_from="items",
        height_from="items",
        curb_mass_kg=1700.0,
        curb_cg_ahead_m=1.5,
        curb_cg_height_m=0.7,
        items=items,
    )
    true = effective_vehicle(project(book)).rig
    assert true.mass_kg == pytest.approx(2000)
    assert true.cg_ahead_of_rear_m == pytest.approx((1700 * 1.5 + 100 * 1.4 + 200 * 0.4) / 2000)
    assert true.cg_height_m == pytest.approx((1700 * 0.7 + 100 * 0.5 + 200 * 1.6) / 2000)


def test_tilting_and_the_bell_housing() -> None:
    """Equal radii 0.44 m: h = r + ΔW·L/(W·tan θ)."""
    angle = math.radians(15)
    book = WeightBook(
        height_from="tilt", scales=SCALES, tilt=Tilt(raised="front", angle_rad=angle, front_kg=900.0, rear_kg=1080.0)
    )
    assert effective_vehicle(project(book)).rig.cg_height_m == pytest.approx(0.44 + 80 * 2.8 / (1980 * math.tan(angle)))
    bell = WeightBook(height_from="bell_housing", bell_housing_m=0.91)
    assert effective_vehicle(project(bell)).rig.cg_height_m == 0.91
    assert rig_numbers(project(bell))["cg_height"].sigma == pytest.approx(0.05)
    small = msgspec.structs.replace(book, tilt=Tilt(angle_rad=math.radians(5), front_kg=950.0, rear_kg=1030.0))
    assert "W120" in codes(project(small))


@pytest.mark.parametrize(
    ("book", "code"),
    [
        (WeightBook(mass_from="scales"), "W111"), (WeightBook(height_from="tilt", scales=SCALES), "W111"), (WeightBook(height_from="bell_housing"), "W111"),
        (WeightBook(mass_from="items"), "W111"), (WeightBook(along_from="items", curb_mass_kg=1500.0), "W111"), (WeightBook(height_from="items", curb_mass_kg=1500.0), "W111"),
        (WeightBook(height_from="tilt", scales=SCALES, tilt=Tilt(angle_rad=0.0, front_kg=900.0, rear_kg=1080.0)), "W112"),
        (WeightBook(height_from="tilt", scales=SCALES, tilt=Tilt(angle_rad=0.3, front_kg=200.0, rear_kg=1780.0)), "W114"),
    ],
)  # fmt: skip
def test_a_source_that_cannot_be_used_is_named_and_the_stated_number_stands_in(book: WeightBook, code: str) -> None:
    true = effective_vehicle(project(book))
    assert code in {p.code for p in true.problems}
    assert (true.rig.mass_kg, true.rig.cg_height_m) == (rig().mass_kg, rig().cg_height_m)
    assert code in codes(project(book))


@pytest.mark.parametrize(
    ("items", "code"),
    [
        ((WeightItem(id="off", name="Everything off", mass_kg=-1980.0),), "W110"),
        ((WeightItem(id="bed", name="Far behind", mass_kg=1400.0, x_m=-5.0),), "W113"),
    ],
)
def test_items_that_leave_no_vehicle(items: tuple[WeightItem, ...], code: str) -> None:
    """1980 kg less 1980 kg is nothing; 1980 kg at 1.386 m and 1400 kg at −5 m balance 1.26 m behind the rear axle."""
    book = WeightBook(mass_from="scales", along_from="scales", scales=SCALES, items=items)
    true = effective_vehicle(project(book))
    assert [p.code for p in true.problems] == [code]
    assert true.rig.mass_kg == rig().mass_kg
    assert code in codes(project(book))


@pytest.mark.parametrize(("stated", "speaks"), [(1980 / 1.041, True), (1980 / 1.039, False), (1980 / 0.959, True)])
def test_a_stated_weight_that_the_scales_do_not_bear_out(stated: float, speaks: bool) -> None:
    """Four in a hundred apart; only where the scales are what counts."""
    book = WeightBook(mass_from="scales", along_from="scales", scales=SCALES)
    assert ("W102" in codes(project(book, mass_kg=stated))) is speaks
    assert "W102" not in codes(project(msgspec.structs.replace(book, mass_from="stated"), mass_kg=stated))


def test_a_stated_cg_height_that_the_bell_housing_does_not_bear_out() -> None:
    """One is good to 0.04 m, the other to 0.05 m (estimates): 3·√(0.04² + 0.05²) = 0.192 m is too far apart."""
    for apart, speaks in ((0.194, True), (0.190, False), (-0.194, True)):
        book = WeightBook(height_from="bell_housing", bell_housing_m=0.7 + apart)
        assert ("W103" in codes(project(book, cg_height_m=0.7))) is speaks


def test_the_chosen_donor_flows_in(basalt: Project) -> None:
    """Weight, balance point and unsprung mass follow the donor; the weight rating does not."""
    heavy = next(d for d in basalt.swap.donors if d.id == "vh-38r")
    before, after = effective_vehicle(basalt).rig, effective_vehicle(ChooseDonor("rear", heavy).apply(basalt)).rig
    now = basalt.donor("rear")
    assert now is not None
    assert heavy.weight_kg is not None
    assert now.weight_kg is not None
    assert after.mass_kg - before.mass_kg == pytest.approx(heavy.weight_kg - now.weight_kg)
    assert after.rear.unsprung - before.rear.unsprung == pytest.approx(heavy.weight_kg - now.weight_kg)
    assert after.cg_ahead_of_rear_m < before.cg_ahead_of_rear_m
    assert after.weight.gvwr_kg == before.weight.gvwr_kg
    motions = [Study(p).axles["rear"].motion for p in (basalt, ChooseDonor("rear", heavy).apply(basalt))]
    assert motions[0] is not None
    assert motions[1] is not None
    assert motions[0].ride.drive_percent["shared_locked"] != motions[1].ride.drive_percent["shared_locked"]


def test_weight_rating_is_a_limit() -> None:
    """Trade arithmetic (common practice): 5800 − 4300 lb leaves 1500 lb."""
    pound = 0.45359237
    p = project(WeightBook(gvwr_kg=5800 * pound), mass_kg=4300 * pound)
    assert rig_numbers(p)["gvwr_left"].value == pytest.approx(1500 * pound)
    assert "W101" not in codes(p)
    assert "W101" in codes(project(WeightBook(gvwr_kg=1900.0)))


def test_radii_are_kept_apart(basalt: Project) -> None:
    rear = basalt.rig.rear
    assert rear.rolling == pytest.approx(356.5 * 0.0254 / (2 * math.pi * 3))
    known = tyre_numbers(basalt, "rear")
    assert known["rolling"][1] == "roll-out"
    assert known["rolling"][2] == pytest.approx(0.005 / (2 * math.pi * 3))
    assert tyre_numbers(basalt, "front")["loaded"][1] == "estimated from the free radius"
    effects = {e.what: e for e in tyre_effects(basalt, effective_vehicle(basalt).rig, "rear")}
    assert effects["Engine at road speed"].radius == rear.rolling
    assert effects["Torque the tyres can hold"].radius == rear.loaded
    assert effects["Engine at road speed"].off == pytest.approx(rear.rolling / (39 * 0.0254 / 2) - 1)


def test_a_printed_size_stands_in_for_a_measured_radius() -> None:
    base = rig()
    plain = msgspec.structs.replace(base.front, tyre_free_radius_m=None, tyre_text="315/70R17", loaded_radius_m=None)
    assert plain.free == pytest.approx(0.8728 / 2)
    assert plain.tread == pytest.approx(0.315)
    assert (
        tyre_numbers(Project(name="p", rig=msgspec.structs.replace(base, front=plain)), "front")["free"][1]
        == "printed size"
    )


@pytest.mark.parametrize(
    ("path", "value", "code"),
    [("rig.front.tyre_text", "33x12.50R15", "T101"), ("rig.rear.roll_out_m", 9.6, "T102"), ("rig.rear.rolling_radius_m", 0.46, "T103"), ("rig.rear.loaded_radius_road_m", 0.46, "T104"),
     ("rig.stance.belly_wanted_m", 0.6, "R101"), ("rig.drivetrain.output_side", "left", "R110"), ("rig.road_legal", True, "R111"), ("rig.cg_height_m", 0.5, "")],
)  # fmt: skip
def test_findings_of_the_rig(basalt: Project, path: str, value: object, code: str) -> None:
    before, after = codes(basalt), codes(with_value(basalt, path, value))
    assert after - before == ({code} if code else set())


def test_low_points_ride_on_the_chosen_tyres() -> None:
    """Taller tyres in front lift the front point by all of it, the belly in the middle by half."""
    stance = Stance(
        front_low_x_m=3.5,
        front_low_z_m=0.7,
        belly_x_m=1.4,
        belly_z_m=0.5,
        rear_low_x_m=-0.6,
        rear_low_z_m=0.7,
        measured_on_front_m=0.40,
        measured_on_rear_m=0.44,
    )
    at = low_points(msgspec.structs.replace(rig(), stance=stance))
    assert at.belly == pytest.approx((1.4, 0.52))
    assert at.front is not None
    assert at.front[1] == pytest.approx(0.7 + 0.04 * 3.5 / 2.8)
    assert at.rear is not None
    assert at.rear[1] == pytest.approx(0.7 - 0.04 * 0.6 / 2.8)
    assert low_points(rig()).approach is None


def test_axles_heavier_than_the_rig_are_said_and_nothing_falls_over() -> None:
    """Wheels and axle that leave no sprung mass: a finding, and every number still there."""
    base = rig()
    heavy = msgspec.structs.replace(base.rear, unsprung_mass_kg=None, wheel_mass_kg=290.0, old_axle_mass_kg=1400.0)
    p = Project(name="p", rig=msgspec.structs.replace(base, mass_kg=1900.0, rear=heavy))
    assert "W115" in codes(p)
    numbers = rig_numbers(p)
    assert numbers["sprung_mass"].value is not None
    assert numbers["sprung_mass"].value > 0
    assert numbers["sprung_cg_height"].value is not None
