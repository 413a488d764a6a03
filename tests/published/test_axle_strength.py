"""Splines, torsion, bolts, tubes and gears against published tables, standards and first principles."""

from __future__ import annotations

import math
from fractions import Fraction

import msgspec
import pytest
from msgspec.structs import replace

from stoutlink.core.advice.shaft_words import regions_words
from stoutlink.core.analysis.swap.bolt_circles import same_circle
from stoutlink.core.analysis.swap.capacities import capacities
from stoutlink.core.analysis.swap.gear_choice import neighbours
from stoutlink.core.analysis.swap.ladder import axle_load
from stoutlink.core.catalogue.donor import DonorAxle, ToothPair
from stoutlink.core.catalogue.donor_check import donor_trouble
from stoutlink.core.document.project import Project
from stoutlink.core.document.swap import AxlePlan
from stoutlink.core.mechanics.axle_torque import LOCKED, OPEN, ring_capacity, seat_moment, side_torques
from stoutlink.core.mechanics.gearing import counted_ratio, engine_rpm, mismatch, same_feel_ratio, speedometer
from stoutlink.core.mechanics.narrowing import ShaftRegions, narrow_sides, shaft_regions, shorten
from stoutlink.core.mechanics.shaft import (
    SHEAR,
    flange_bolts,
    torque_beside_bending,
    tube_section_modulus,
    yield_torque,
)
from stoutlink.core.mechanics.spline import RootForm, pitch_from_major, spline_size, tooth_torque
from stoutlink.core.mechanics.wheel_fit import at_lock, backspacing, driveshaft
from tests.swap.rigs import plain_axle

INCH = 0.0254


@pytest.mark.parametrize(
    ("teeth", "pitch", "root", "major"),
    [
        (21, 16, "30_fillet", 1.375),
        (20, 12, "30_fillet", 1.750),
        (35, 24, "45_flat", 1.500),
        (40, 24, "45_flat", 1.708),
        (27, 24, "45_flat", 1.167),
    ],
)
def test_major_diameters_as_printed(teeth: int, pitch: float, root: RootForm, major: float) -> None:
    """ISO 500-1 power take-off shafts type 2 (1 3/8 in, 21 teeth) and type 3 (1 3/4 in, 20 teeth); ANSI B92.1 axle
    sizes (35 and 40 teeth: from memory).
    """
    size = spline_size(teeth, pitch, root)
    assert size.major / INCH == pytest.approx(major, abs=0.0005)
    assert size.pitch_diameter / INCH == pytest.approx(teeth / pitch)
    assert size.minor < size.pitch_diameter < size.major


@pytest.mark.parametrize(
    ("root", "pitch", "less"),
    [
        ("45_flat", 24, 1.0),
        ("30_flat", 10, 1.35),
        ("30_fillet", 10, 1.8),
        ("30_fillet", 16, 2.0),
        ("37_fillet", 16, 1.3),
    ],
)
def test_root_diameters(root: RootForm, pitch: float, less: float) -> None:
    """ANSI B92.1 table of external minor diameters (from memory)."""
    assert spline_size(32, pitch, root).minor / INCH == pytest.approx((32 - less) / pitch)


@pytest.mark.parametrize("root", ["45_flat", "30_flat", "30_fillet", "37_fillet"])
@pytest.mark.parametrize("pitch", [10.0, 12.0, 16.0, 24.0])
def test_a_record_is_refused_just_where_its_root_reaches_the_measured_major(root: RootForm, pitch: float) -> None:
    """The catalogue's check and the spline formula say the same, on both sides of the edge."""
    minor = spline_size(30, pitch, root).minor
    for major, bad in ((minor * 0.9999, True), (minor * 1.0001, False)):
        axle = DonorAxle(
            id="a",
            name="A",
            end="rear",
            spline_teeth=30,
            spline_pitch_per_in=pitch,
            spline_root=root,
            spline_major_diameter_m=major,
        )
        assert (donor_trouble(axle) is not None) == bad


def test_pitch_of_a_measured_shaft() -> None:
    assert pitch_from_major(35, 1.5 * INCH) == 24
    assert pitch_from_major(30, 1.292 * INCH) == 24
    assert pitch_from_major(21, 1.375 * INCH) == 16
    assert pitch_from_major(30, 1.17 * INCH) is None


def test_torsion_is_sixteen_over_pi() -> None:
    """Shigley: τ = 16·T/(π·d³); a 1 in shaft under 1000 lbf·in carries 5.093 ksi."""
    lbf_in, psi = 4.4482216152605 * INCH, 4.4482216152605 / INCH**2
    torque = 1000 * lbf_in
    assert yield_torque(INCH, 5093.0 * psi / SHEAR) == pytest.approx(torque, rel=1e-4)
    hollow = yield_torque(0.05, 400e6, 0.03)
    assert hollow == pytest.approx(SHEAR * 400e6 * math.pi / 32 * (0.05**4 - 0.03**4) / 0.025)


def test_bending_uses_up_torque() -> None:
    """Distortion energy: at the bending moment that yields alone nothing is left; without one τ_y = S_y/√3."""
    d, sy = 0.035, 700e6
    alone = sy * math.pi * d**3 / 32
    assert torque_beside_bending(d, sy, alone * 1.0001) == 0.0
    half = torque_beside_bending(d, sy, alone / 2)
    sigma, tau = 32 * (alone / 2) / (math.pi * d**3), 16 * half / (math.pi * d**3)
    assert math.hypot(sigma, math.sqrt(3) * tau) == pytest.approx(sy)


@pytest.mark.parametrize(("od", "wall", "modulus"), [(3.500, 0.216, 1.72), (4.000, 0.226, 2.39), (2.875, 0.203, 1.06)])
def test_tube_section_modulus(od: float, wall: float, modulus: float) -> None:
    """AISC Manual of Steel Construction, standard pipe 3, 3 1/2 and 2 1/2 in, elastic section modulus in cubic
    inches.
    """
    assert tube_section_modulus(od * INCH, wall * INCH) / INCH**3 == pytest.approx(modulus, abs=0.006)


def test_flange_bolts_against_a_proof_load_table() -> None:
    """ISO 898-1: an M12 coarse bolt of class 8.8 has a proof load of 50.6 kN; three quarters of it clamp (Shigley), μ
    = 0.15 (from memory).
    """
    friction, shear = flange_bolts(8, 0.012, 0.13)
    assert friction == pytest.approx(8 * 0.75 * 50.6e3 * 0.15 * 0.065, rel=0.01)
    assert shear > 3 * friction
    # the same table: M12 of class 10.9 has 70.0 kN, of 12.9 81.8 kN
    for grade, proof in (("10.9", 70.0e3), ("12.9", 81.8e3)):
        friction, _ = flange_bolts(8, 0.012, 0.13, grade)
        assert friction == pytest.approx(8 * 0.75 * proof * 0.15 * 0.065, rel=0.01)


def test_flange_details_count() -> None:
    """A class of bolts, fitted dowels where they carry more than friction, a rating over both."""
    plain = plain_axle(flange_bolt_count=8, flange_bolt_diameter_m=0.011, flange_bolt_circle_m=0.12)

    def carries(**change: object) -> tuple[float, str]:
        found = capacities(msgspec.structs.replace(plain, **change), AxlePlan())["flange_bolts"]
        assert found.value is not None
        return found.value, found.why

    assert carries()[0] == pytest.approx(flange_bolts(8, 0.011, 0.12)[0])
    assert "8.8 bolts (taken)" in carries()[1]
    assert carries(flange_bolt_class="12.9")[0] == pytest.approx(carries()[0] * 970 / 600)
    few, many = (carries(flange_dowel_count=n, flange_dowel_diameter_m=0.006)[0] for n in (1, 6))
    assert few == pytest.approx(carries()[0])
    assert many == pytest.approx(6 * math.pi / 4 * 0.006**2 * 0.577 * 650e6 * 0.06)
    assert carries(flange_rating_nm=5000.0) == (5000.0, "rated by its record")


def test_spline_teeth_by_plain_areas() -> None:
    """Half the teeth, each π/(2P) thick at the pitch circle: shear area times arm (Shigley's key formula carried
    over).
    """
    shear, crush = tooth_torque(30, 24, 0.05, 800e6)
    arm = 30 / 24 * INCH / 2
    assert shear == pytest.approx(0.577 * 800e6 * 15 * math.pi / 48 * INCH * 0.05 * arm, rel=1e-3)
    assert crush == pytest.approx(800e6 * 15 * (0.8 / 24 * INCH) * 0.05 * arm)


def test_ring_gear_estimate() -> None:
    """8.8 in about 5 kN·m up to 4.10 (estimate); above it falls with the root of the ratio."""
    assert float(ring_capacity(8.8 * INCH, 3.55)) == pytest.approx(5000, rel=0.01)
    assert float(ring_capacity(0.25, 4.10 * 4)) == pytest.approx(float(ring_capacity(0.25, 4.10)) / 2)


def test_an_open_differential_is_a_locked_one_on_even_ground() -> None:
    """Limit that must come out: tyre-limited with like grip the two load the shafts alike."""
    open_, locked = (side_torques(tie, 9000.0, 2000.0, 2000.0) for tie in (OPEN, LOCKED))
    assert float(open_.high) == float(locked.high) == 2000.0
    assert float(open_.ring) == float(locked.ring) == 4000.0


def test_an_axle_on_a_grade_carries_no_less_than_nothing(basalt: Project) -> None:
    """Gillespie ch. 1, moments about the rear contact of a vehicle drawn on its slope; past the slope that lifts the
    front all that is left stands on the rear.
    """
    rig = basalt.rig
    for degrees in (0.0, 12.0, 30.0, 60.0):
        alpha = math.radians(degrees)
        choosing = replace(basalt.swap.choosing, grade_rad=alpha)
        across, down = (f(alpha) * rig.mass_kg * 9.80665 for f in (math.cos, math.sin))
        front = max(0.0, (across * rig.cg_ahead_of_rear_m - down * rig.cg_height_m) / rig.wheelbase_m)
        assert axle_load(rig, "front", "grade", choosing) == pytest.approx(front)
        assert axle_load(rig, "rear", "grade", choosing) == pytest.approx(across - front)


def test_seat_moment() -> None:
    """A beam on two seats: the load outside a seat times its distance."""
    assert float(seat_moment(10_000.0, 1.6, 1.0)) == pytest.approx(10_000.0 * 0.3)
    assert float(seat_moment(10_000.0, 1.6, 1.0, 2000.0, 0.45)) == pytest.approx(3000.0 + 900.0)


def test_gear_arithmetic_of_the_trade() -> None:
    """Common practice: 3.73 on 31.87 in wants 4.33 on 37 in; 4.10 is −5.3 %, 4.56 +5.3 %, 4.88 +12.7 %, 5.13 +18.5 %;
    4.10 → 3.73 is 0.910.
    """
    wanted = same_feel_ratio(3.73, 31.87, 37.0)
    assert wanted == pytest.approx(4.33, abs=0.005)
    for ratio, change in ((4.10, -0.053), (4.56, 0.053), (4.88, 0.127), (5.13, 0.185)):
        assert ratio / wanted - 1 == pytest.approx(change, abs=0.0006)
    slower = [engine_rpm(25.0, 0.4, ratio) for ratio in (3.73, 4.10)]
    assert slower[0] / slower[1] == pytest.approx(0.910, abs=0.0005)
    assert engine_rpm(60 * 0.44704, 14.9 * INCH, 4.1) == pytest.approx(336.135 * 60 * 4.1 / 29.8, rel=1e-4)
    sets = tuple(ToothPair(ring=r, pinion=p) for r, p in ((41, 10), (41, 9), (39, 8), (41, 8)))
    assert [str(s) for s in neighbours(sets, wanted)[0]] == ["41/10", "41/9"]
    assert mismatch(37 / 9, 0.45, 41 / 10, 0.45) == pytest.approx(0.0027, abs=5e-5)


def test_counted_turns_are_the_differential_equation() -> None:
    """First principles: carrier speed is the mean of both sides; pinion = carrier × ring/pinion."""
    for left, right in ((1.0, 1.0), (2.0, 0.0)):
        pinion = Fraction(43, 10) * Fraction(left + right) / 2
        held = right == 0.0
        assert counted_ratio(float(pinion), left, one_wheel_held=held) == pytest.approx(4.3)


def test_speedometer_from_turns_counted() -> None:
    """Drive a known road: turns at the pick-up before and after, per metre, from the wheel up."""
    road = 1000.0
    turns = [road / (2 * math.pi * r) for r in (0.37, 0.46)]
    assert speedometer(3.5, 4.3, 0.37, 0.46, "wheel") == pytest.approx(turns[1] / turns[0])
    assert speedometer(3.5, 4.3, 0.37, 0.46, "driveshaft") == pytest.approx(turns[1] * 4.3 / (turns[0] * 3.5))


def test_three_regions_of_a_shaft() -> None:
    """Common practice: at most the unused spline (1/4 in), at least what is necked (3 1/2 in from the tip: 1.9 of spline
    and 1.6 of neck), nothing between."""
    at = shaft_regions(1.9 * INCH, 1.65 * INCH, 1.6 * INCH, 1.5 * INCH, 1.5 * INCH, "cut")
    assert at.unused == pytest.approx(0.25 * INCH)
    assert at.body_from == pytest.approx(3.5 * INCH)
    assert [shorten(v * INCH, at).how for v in (0.2, 0.25, 0.3, 2.0, 3.49, 3.5, 5.0)] == [
        "spline",
        "spline",
        "custom",
        "custom",
        "custom",
        "respline",
        "respline",
    ]
    thin = shaft_regions(1.9 * INCH, 1.65 * INCH, 1.6 * INCH, 1.44 * INCH, 1.5 * INCH, "formed")
    assert shorten(4 * INCH, thin).how == "custom"
    # teeth raised above the bar: without a measurement there is no metal; teeth cut into it: measure it
    for form, how in (("formed", "custom"), ("cut", "unknown"), ("", "unknown")):
        assert shorten(4 * INCH, shaft_regions(0.05, 0.04, 0.04, None, 0.038, form)).how == how
    assert shorten(1 * INCH, ShaftRegions(0.25 * INCH, None, None)).how == "unknown"
    assert shorten(4 * INCH, ShaftRegions(None, 3.5 * INCH, True)).how == "unknown"
    nothing = ShaftRegions(None, None, None)
    assert shorten(0.0, nothing).how == "none"
    assert shorten(-0.01, nothing).how == "custom"


def test_what_a_shaft_takes_is_said_outright() -> None:
    """Spline 1.85 of which 1.50 is engaged, neck 1.60 (in): 0.35 by cutting, then full body from 3.45."""
    at = shaft_regions(1.85 * INCH, 1.5 * INCH, 1.6 * INCH, 1.5 * INCH, 1.5 * INCH, "cut")
    assert shorten(2.0 * INCH, at).how == "custom"
    assert regions_words(at, "in") == "up to 0.35″ a side by cutting, then nothing until 3.45″, in the full body"
    assert "8.9 mm" in regions_words(at, "mm")
    assert "87.6 mm" in regions_words(at, "mm")
    thin = ShaftRegions(at.unused, at.body_from, False)
    assert "then nothing: the body is thinner" in regions_words(thin, "in")
    assert "if the body is as thick" in regions_words(ShaftRegions(at.unused, at.body_from, None), "in")
    assert "how far the neck runs is not measured" in regions_words(ShaftRegions(at.unused, None, None), "in")


def test_narrowing_moves_the_pinion_by_half_the_difference() -> None:
    """Drawn out: faces at ±w/2, cut both, take the new middle."""
    for centre in (False, True):
        left, right, offset = narrow_sides(1.7, 1.55, 0.04, centre_pinion=centre)
        faces = (1.7 / 2 - left, -1.7 / 2 + right)
        assert faces[0] - faces[1] == pytest.approx(1.55)
        assert offset == pytest.approx(0.04 - sum(faces) / 2)
    assert narrow_sides(1.7, 1.55, 0.04, centre_pinion=True)[2] == pytest.approx(0.0)
    assert narrow_sides(1.7, 1.65, 0.20, centre_pinion=True)[:2] == (0.0, 0.05)


def test_wheel_arithmetic() -> None:
    """Common practice: a 9 in rim with no offset has 5 in of backspacing; 8 on 6.5 in is 165.1 mm."""
    assert backspacing(9 * INCH, 0.0) / INCH == pytest.approx(5.0)
    assert backspacing(9 * INCH, -1.5 * INCH) / INCH == pytest.approx(3.5)
    eight = DonorAxle(id="a", name="A", end="front", bolt_count=8, bolt_circle_m=6.5 * INCH)
    assert same_circle(eight, (8, 0.1651))
    assert not same_circle(eight, (8, 0.170))


def test_a_tyre_at_lock_is_a_turned_rectangle() -> None:
    """The innermost corner of the tyre's plan outline, every corner turned about the steering axis."""
    axis, out, wide, r, lock = 0.72, 0.11, 0.32, 0.48, math.radians(31)
    corners = [(x, out + y) for x in (-r, r) for y in (-wide / 2, wide / 2)]
    turned = [axis + y * math.cos(s * lock) + x * math.sin(s * lock) for x, y in corners for s in (-1, 1)]
    assert at_lock(axis, out, wide, r, lock) == pytest.approx(min(turned))
    assert at_lock(axis, out, wide, r, lock, 0.3) > at_lock(axis, out, wide, r, lock)


def test_driveshaft_angle_is_the_angle_between_two_lines() -> None:
    length, angle, plan = driveshaft((1.2, -0.1, 0.6), (0.3, 0.05, 0.45), math.radians(3))
    d = (-0.9, 0.15, -0.15)
    axis = (-math.cos(math.radians(3)), 0.0, -math.sin(math.radians(3)))
    cosine = sum(a * b for a, b in zip(d, axis, strict=True)) / math.hypot(*d)
    assert length == pytest.approx(math.hypot(*d))
    assert angle == pytest.approx(math.acos(cosine))
    assert plan == pytest.approx(math.atan(0.15 / 0.9))
