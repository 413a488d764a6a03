"""The brakes of a rig: what is counted, what is asked for, how sure, the pedal, the slope, the joints of the lines."""

from __future__ import annotations

import math

import msgspec
import pytest

from stoutlink.core.advice.bench_words import brake_words
from stoutlink.core.analysis.bench.brake_sheet import BrakeSheet, brake_sheet, counted, fitting_found
from stoutlink.core.document.brakes import BrakeSystem, Fitting, WheelBrake
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.editing.edits import PutInList, SetNumber
from stoutlink.core.errors import StoutError
from stoutlink.core.quantity.constants import INCH
from stoutlink.core.study.study import Study

FRONT = WheelBrake(piston_m=0.05, effective_m=0.13, friction=0.4)
REAR = WheelBrake(piston_m=0.04, effective_m=0.12, friction=0.4)
SYSTEM = BrakeSystem(pedal_ratio=5.0, boost=3.0, master_m=INCH, front=FRONT, rear=REAR, foot_n=300.0)


def sheet(project: Project, system: BrakeSystem = SYSTEM, sigma: tuple[float, float] = (0.0, 0.0)) -> BrakeSheet:
    return brake_sheet(system, project.rig, {"front": None, "rear": None}, sigma)


def test_share_and_lock_follow_pistons_and_radii(basalt: Project) -> None:
    found = sheet(basalt)
    r = basalt.rig
    one = 2 * 2 * 0.4 * math.pi / 4 * 0.05**2 * 0.13 / r.front.loaded
    two = 2 * 2 * 0.4 * math.pi / 4 * 0.04**2 * 0.12 / r.rear.loaded
    assert found.gain is not None
    assert found.lock is not None
    assert found.gain.front == pytest.approx(one)
    assert found.gain.rear == pytest.approx(two)
    assert found.share == pytest.approx(one / (one + two))
    assert found.real[10] == pytest.approx(one / (one + two))
    assert len(found.real) == len(found.ideal) == len(found.z)
    first = "front" if one / (one + two) > r.cg_ahead_of_rear_m / r.wheelbase_m + 0.8 * r.cg_height_m / r.wheelbase_m else "rear"  # fmt: skip
    assert found.lock.end == first
    assert found.pressure == pytest.approx(300 * 5 * 3 / (math.pi / 4 * INCH**2))
    assert found.pressure is not None
    assert found.at_foot == pytest.approx((one + two) * found.pressure / (r.mass_kg * 9.80665))


def test_a_drum_counts_by_its_factor(basalt: Project) -> None:
    drum = WheelBrake(kind="drum", piston_m=0.022, effective_m=0.127, factor=2.5)
    found = sheet(basalt, msgspec.structs.replace(SYSTEM, rear=drum))
    assert found.gain is not None
    assert found.gain.rear == pytest.approx(2 * 2.5 * math.pi / 4 * 0.022**2 * 0.127 / basalt.rig.rear.loaded)


def test_what_is_not_typed_is_asked_for_and_no_balance_is_shown(basalt: Project) -> None:
    found = sheet(basalt, msgspec.structs.replace(SYSTEM, rear=WheelBrake()))
    assert found.lacks == ("rear piston or cylinder", "rear effective radius")
    assert found.gain is None
    assert found.lock is None
    assert found.real == ()
    assert found.share is None
    words = list(brake_words(found, "mm"))
    assert words[0].startswith("No balance yet")
    assert not any("lock first" in w for w in words)
    nobody = brake_sheet(SYSTEM, None, {"front": None, "rear": None})
    assert nobody.lock is None
    assert nobody.hold is None
    assert "the rig's weight and balance point" in nobody.lacks


def test_the_axles_own_piston_stands_in_only_for_its_own_kind(basalt: Project) -> None:
    axle = basalt.donor("rear")
    assert axle is not None
    axle = msgspec.structs.replace(axle, brake="disc", piston_m=0.045, piston_count=2, rotor_m=0.33)
    own = counted(WheelBrake(), axle)
    assert (own.piston_m, own.pistons) == (0.045, 2)
    assert own.effective_m == pytest.approx(0.5 * (0.33 - 0.045))
    typed = counted(WheelBrake(piston_m=0.05, effective_m=0.1), axle)
    assert (typed.piston_m, typed.effective_m) == (0.05, 0.1)
    assert counted(WheelBrake(kind="drum"), axle).piston_m is None
    drum = msgspec.structs.replace(axle, brake="drum", rotor_m=0.28)
    assert counted(WheelBrake(kind="drum"), drum).effective_m == pytest.approx(0.14)


def test_the_balance_point_says_how_sure_the_first_lock_is(basalt: Project) -> None:
    rig = basalt.rig
    plain, sure = sheet(basalt), sheet(basalt, sigma=(0.02, 0.03))
    assert plain.sure == 0.0
    assert sure.sure > 0.0
    # by hand: half the difference over ± one σ of each, added in squares
    parts = []
    for dc, dh in ((0.02, 0.0), (0.0, 0.03)):
        two = []
        for sign in (-1, 1):
            other = msgspec.structs.replace(rig, cg_ahead_of_rear_m=rig.cg_ahead_of_rear_m + sign * dc, cg_height_m=rig.cg_height_m + sign * dh)  # fmt: skip
            lock = brake_sheet(SYSTEM, other, {"front": None, "rear": None}).lock
            assert lock is not None
            two.append(lock.deceleration)
        parts.append((two[1] - two[0]) / 2)
    assert sure.sure == pytest.approx(math.hypot(*parts), rel=0.1)
    # a share just at the ideal cannot be told once the balance point is not sure
    ideal = rig.cg_ahead_of_rear_m / rig.wheelbase_m + 0.8 * rig.cg_height_m / rig.wheelbase_m
    at = math.sqrt(ideal / (1 - ideal) * rig.front.loaded / rig.rear.loaded * 0.04**2 * 0.12 / 0.13)
    near = msgspec.structs.replace(SYSTEM, front=msgspec.structs.replace(FRONT, piston_m=at))
    assert {"front", "rear"} <= set(sheet(basalt, near, (0.02, 0.03)).other)
    assert len(sheet(basalt, near).other) == 1, "with no ± there is one answer"


def test_the_pedal_adds_a_tandems_strokes(basalt: Project) -> None:
    found = sheet(basalt, msgspec.structs.replace(SYSTEM, stroke_front_m=0.002, stroke_rear_m=0.004))
    assert found.pedal is not None
    one = 2 * 0.05**2 / INCH**2 * 0.0005  # two wheels, one piston a side each, half a millimetre
    two = 2 * 0.04**2 / INCH**2 * 0.0005
    assert found.pedal.front == pytest.approx(one)
    assert found.pedal.rear == pytest.approx(two)
    assert found.pedal.way == pytest.approx((one + two) * 5.0)
    assert found.pedal.runs_out == ("front",), f"{one:.4f} m are more than 2 mm"
    both = msgspec.structs.replace(SYSTEM, front=msgspec.structs.replace(FRONT, both_sides=True))
    fixed = sheet(basalt, both).pedal
    assert fixed is not None
    assert fixed.front == pytest.approx(2 * one), "volume counts both sides"
    assert sheet(basalt, both).gain == found.gain, "torque counts one"
    drum = sheet(
        basalt, msgspec.structs.replace(SYSTEM, rear=WheelBrake(kind="drum", piston_m=0.04, effective_m=0.12))
    ).pedal
    assert drum is not None
    assert drum.rear == pytest.approx(2 * two), "a wheel cylinder has two pistons"


def test_the_parking_brake_wants_torque_and_grip(basalt: Project) -> None:
    hold = sheet(basalt).hold
    assert hold is not None
    assert sheet(basalt).holds is None
    for torque, grip, holds in ((1.01, 0.9, True), (0.99, 0.9, False), (1.01, 0.1, False)):
        system = msgspec.structs.replace(SYSTEM, parking_nm=torque * hold.torque, grip=grip)
        assert sheet(basalt, system).holds is holds


@pytest.mark.parametrize(
    ("changes", "wrong", "unknown"),
    [
        ({}, 0, 0),
        ({"other_thread": "3/8-24"}, 1, 0),
        ({"other_thread": "M10 × 1"}, 0, 0),
        ({"other_thread": ""}, 0, 1),
        ({"other_flare": "double"}, 1, 0),
        ({"flare": "unknown"}, 0, 1),
        ({"gender": None}, 0, 1),
        ({"condition": "unknown"}, 0, 1),
    ],
)
def test_a_joint_goes_together_only_when_all_of_it_is_known(
    changes: dict[str, object], wrong: int, unknown: int
) -> None:
    good = Fitting(id="a", name="A", thread="M10x1", other_thread="m10x1", gender="male", flare="bubble", other_flare="bubble", condition="good")  # fmt: skip
    found = fitting_found(msgspec.structs.replace(good, **changes))
    assert (len(found.wrong), len(found.unknown)) == (wrong, unknown)
    assert found.goes == (not wrong and not unknown)
    if wrong:
        assert fitting_found(msgspec.structs.replace(good, **changes, bridge="adapter")).goes


def test_joints_open_the_gate_of_the_brake_card(basalt: Project) -> None:
    def stands(p: Project) -> str:
        card = Study(p).bench_card("brakes")
        assert card is not None
        line = card.line("fittings")
        assert line is not None
        return line.standing

    none = with_parts(basalt, brakes=BrakeSystem())
    assert stands(none) == "open", "no joint known is not every joint known"
    good = Fitting(id="a", name="A", thread="M10x1", other_thread="M10x1", gender="male", flare="bubble", other_flare="bubble", condition="good")  # fmt: skip
    p = PutInList("brakes.fittings", good, "add").apply(none)
    assert stands(p) == "done"
    assert stands(PutInList("brakes.fittings", Fitting(id="b", name="B"), "add").apply(p)) == "open"


def test_a_radius_within_the_piston_is_refused(basalt: Project) -> None:
    wide = msgspec.structs.replace(SYSTEM, front=msgspec.structs.replace(FRONT, piston_m=0.07))
    p = with_parts(basalt, brakes=wide)
    with pytest.raises(StoutError) as why:
        SetNumber("brakes.front.effective_m", 0.035).apply(p)
    assert why.value.code == "D176"
    SetNumber("brakes.front.effective_m", 0.036).apply(p)
