"""Joints, shafts, springs and slopes against published relations, simulation by hand, and free bodies."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from stoutlink.core.mechanics.driveline import (
    equivalent_angle,
    excitation,
    joint_angle,
    plane_angle,
    whirl_speed,
)
from stoutlink.core.mechanics.springing import dual_rate, frequency, motion_ratio, roll_rate

G = 9.80665


def output_turn(turn: np.ndarray, angle: float) -> np.ndarray:
    """Turn of the driven yoke of a cardan joint, rad (SAE AE-7): tan θ_out = tan θ_in·cos β, θ = 0 where the input yoke
    is square to the plane of the shafts.
    """
    return np.asarray(np.arctan2(np.sin(turn) * math.cos(angle), np.cos(turn)))


def test_a_cardan_joint_from_its_cross() -> None:
    """SAE AE-7: the cross's two arms stay square to each other; the driven turn found from that alone, with vectors
    in space.
    """
    beta = 0.4
    turn = np.linspace(0, 2 * math.pi, 73)
    arm = np.stack(
        [np.cos(turn), np.sin(turn), np.zeros_like(turn)], axis=-1
    )  # input about z; θ = 0: the yoke's arm square to the shafts' plane (x)
    for theta, a in zip(turn, arm, strict=True):
        out = float(output_turn(np.array(theta), beta))
        # the driven arm starts along the plane, turned by β about x, and turns about the driven shaft
        shaft = np.array([0.0, -math.sin(beta), math.cos(beta)])
        driven = Rotation.from_rotvec(out * shaft).apply(np.cross(shaft, [1.0, 0.0, 0.0]))
        assert float(a @ driven) == pytest.approx(0.0, abs=1e-9)
    rates = np.gradient(np.unwrap(output_turn(np.linspace(0, 2 * math.pi, 20001), beta)), 2 * math.pi / 20000)
    assert rates.min() == pytest.approx(math.cos(beta), rel=1e-5)
    assert rates.max() == pytest.approx(1 / math.cos(beta), rel=1e-5)


@given(st.floats(0.02, 0.15), st.floats(0.02, 0.15), st.floats(-1.5, 1.5))
@settings(max_examples=30)
def test_two_joints_make_the_wave_of_one(first: float, second: float, planes: float) -> None:
    """The turn of two cardans in a row, the second's plane turned by ``planes``, has the second harmonic of one joint
    at the equivalent angle.
    """
    turn = np.linspace(0, 2 * math.pi, 4096, endpoint=False)
    middle = np.unwrap(output_turn(turn, first))
    # usual build: the second joint's driving yoke lies in the plane of the first's driven one; its own zero is a
    # quarter turn on
    out = np.unwrap(output_turn(middle - math.pi / 2 - planes, second)) + math.pi / 2 + planes
    wave = out - turn
    second_harmonic = abs(np.fft.rfft(wave)[2]) / len(turn) * 2
    one = float(equivalent_angle(np.array(first), np.array(second), np.array(planes), 0.0))
    assert second_harmonic == pytest.approx(one**2 / 4, abs=2e-4)  # a joint's wave is β²/4 · sin 2θ for small β


def test_in_one_plane_and_in_phase() -> None:
    a, b = np.array(0.14), np.array(0.09)
    assert equivalent_angle(a, b, np.array(0.0), 0.0) == pytest.approx(math.sqrt(0.14**2 - 0.09**2))
    assert equivalent_angle(a, b, np.array(math.pi), 0.0) == pytest.approx(math.sqrt(0.14**2 - 0.09**2))
    assert equivalent_angle(a, a, np.array(math.pi / 2), 0.0) == pytest.approx((4 * 0.14**4) ** 0.25)
    assert excitation(np.array(0.05), 300.0) == pytest.approx(300.0**2 * 0.05**2)
    u, v, w = np.array([-1.0, 0, 0]), np.array([-1.0, 0, -0.2]), np.array([-1.0, 0.0, 0.0])
    assert joint_angle(u, v) == pytest.approx(math.atan(0.2))
    assert abs(plane_angle(u, v, w)) == pytest.approx(math.pi)
    # u × v points right, v × w up: a quarter turn right-handed about the shaft, which points rearward
    assert plane_angle(u, v, np.array([-1.0, -0.196, -0.2])) == pytest.approx(math.pi / 2, abs=1e-12)


def test_whirl_of_a_tube() -> None:
    """Euler–Bernoulli: first mode of a simply supported beam against finite differences of the same beam (150
    pieces).
    """
    length, outside, wall, e, rho = 1.3, 0.0762, 0.0021, 207e9, 7850.0
    inside = outside - 2 * wall
    inertia, area = math.pi / 64 * (outside**4 - inside**4), math.pi / 4 * (outside**2 - inside**2)
    n = 150
    h = length / n
    second = (np.diag(-2 * np.ones(n - 1)) + np.diag(np.ones(n - 2), 1) + np.diag(np.ones(n - 2), -1)) / h**2
    omega = math.sqrt(np.linalg.eigvalsh(e * inertia * second @ second)[0] / (rho * area))
    assert whirl_speed(length, outside, wall) == pytest.approx(omega, rel=2e-4)
    with pytest.raises(ValueError, match="positive"):
        whirl_speed(1.0, 0.05, 0.03)


def test_springs_by_hand() -> None:
    """Series springs until the slider; ½·k·b²; a leaning spring's motion ratio by lever and cosine."""
    rates = dual_rate(30e3, 20e3, 0.05, np.array([0.01, 0.0832, 0.0834, 0.2]))
    assert rates == pytest.approx(
        [12e3, 12e3, 30e3, 30e3]
    )  # the tender is 50 mm shorter when both are 50·(30 + 20)/30 = 83.3 mm shorter
    assert roll_rate(40e3, 1.0) == pytest.approx(20e3)
    assert frequency(25e3, 400.0) == pytest.approx(math.sqrt(62.5) / (2 * math.pi))
    heave = np.linspace(-0.1, 0.1, 201)
    lean = math.radians(20)
    length = np.hypot(0.5 * math.sin(lean), 0.5 * math.cos(lean) - heave)
    assert motion_ratio(length, heave)[100] == pytest.approx(math.cos(lean), rel=1e-4)
