"""Brakes against the textbook's equations and against free bodies solved by a general root finder."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.optimize import brentq

from stoutlink.core.mechanics.brake_balance import (
    G,
    Gain,
    disc_torque,
    drum_torque,
    first_lock,
    fluid,
    front_load_share,
    hold_on_slope,
    line_pressure,
    rear_pressure,
)

RIGS = [(2000.0, 1.4, 0.8, 2.8), (2600.0, 1.2, 1.05, 2.6), (1500.0, 1.7, 0.6, 2.9)]
GAINS = [(2e-3, 1e-3), (2e-3, 0.4e-3), (1e-3, 1e-3), (3e-3, 0.1e-3)]


@pytest.mark.parametrize(("mass", "ahead", "height", "length"), RIGS)
@pytest.mark.parametrize(("front", "rear"), GAINS)
@pytest.mark.parametrize("grip", [0.3, 0.8, 1.1])
def test_where_an_end_locks_is_the_textbooks_line(mass, ahead, height, length, front, rear, grip) -> None:  # type: ignore[no-untyped-def]
    """Gillespie, Fundamentals of Vehicle Dynamics, ch. 3: front and rear lock boundaries F_f = µ(W_fs + h/L·F_r)/(1 − µh/L)
    and F_r = µ(W_rs − h/L·F_f)/(1 + µh/L); equations from memory."""
    found = first_lock(Gain(front, rear), mass, ahead, height, length, grip)
    assert found is not None
    one, two = front * found.pressure, rear * found.pressure
    weight, x = mass * G, height / length
    front_at_most = grip * (weight * ahead / length + x * two) / (1 - grip * x)
    rear_at_most = grip * (weight * (1 - ahead / length) - x * one) / (1 + grip * x)
    at_limit = {"front": one / front_at_most, "rear": two / rear_at_most}
    assert at_limit[found.end] == pytest.approx(1.0, rel=1e-9)
    assert max(at_limit.values()) == pytest.approx(1.0, rel=1e-9), "the other end has not locked before"
    assert found.deceleration == pytest.approx((one + two) / weight)


@pytest.mark.parametrize("knee", [0.0, 1e6, 3e6, 9e6])
@pytest.mark.parametrize("slope", [0.0, 0.4, 1.0])
@pytest.mark.parametrize("grip", [0.4, 0.9])
def test_a_valve_moves_the_lock_as_a_free_body_does(knee: float, slope: float, grip: float) -> None:
    mass, ahead, height, length = 2000.0, 1.35, 0.95, 2.7
    gain = Gain(1.6e-3, 1.1e-3, knee, slope)

    def spare(pressure: float, end: str) -> float:
        """Friction left at an end: what its load bears less what its brakes give, from the moments about the other end."""
        one = gain.front * pressure
        two = gain.rear * (pressure if pressure <= knee else knee + slope * (pressure - knee))
        pull = one + two
        load = (mass * G * (ahead if end == "front" else length - ahead) + (pull if end == "front" else -pull) * height) / length  # fmt: skip
        return grip * load - (one if end == "front" else two)

    grid = np.linspace(1e3, 6e7, 4000)
    roots = []
    for end in ("front", "rear"):
        values = [spare(p, end) for p in grid]
        k = next((k for k in range(1, len(grid)) if values[k - 1] > 0 >= values[k]), None)
        if k is not None:
            roots.append((brentq(spare, grid[k - 1], grid[k], args=(end,), xtol=1e-6), end))
    pressure, end = min(roots)
    found = first_lock(gain, mass, ahead, height, length, grip)
    assert found is not None
    assert found.end == end
    assert found.pressure == pytest.approx(pressure, rel=1e-9)


def test_at_the_ideal_share_both_ends_lock_together() -> None:
    mass, ahead, height, length, grip = 1800.0, 1.5, 0.9, 2.75, 0.7
    share = front_load_share(ahead, height, length, grip)
    found = first_lock(Gain(share * 1e-3, (1 - share) * 1e-3), mass, ahead, height, length, grip)
    assert found is not None
    assert found.end == "both"
    assert found.deceleration == pytest.approx(grip)


def test_nothing_that_brakes_locks_nothing() -> None:
    assert first_lock(Gain(0.0, 0.0), 1800.0, 1.5, 0.9, 2.75, 0.7) is None


def test_ideal_share_is_the_load_of_a_free_body() -> None:
    """Moments about the rear contact: N_f·L = W·c + W·z·h."""
    weight, c, h, length, z = 2000.0 * G, 1.3, 0.95, 2.6, 0.55
    assert front_load_share(c, h, length, z) == pytest.approx((weight * c + weight * z * h) / length / weight)


def test_pressure_torque_and_fluid_by_hand() -> None:
    # 25.4 mm bore, 300 N at 5 to 1 and no booster: 1500 N over 506.7 mm²
    assert line_pressure(300.0, 5.0, 1.0, 0.0254) == pytest.approx(1500.0 / (math.pi / 4 * 0.0254**2))
    # two pads, each pressed by one side's pistons
    force = 5e6 * 2 * math.pi / 4 * 0.042**2
    assert disc_torque(5e6, 0.042, 2, 0.13, 0.38) == pytest.approx(2 * 0.38 * force * 0.13)
    assert drum_torque(5e6, 0.0222, 2.2, 0.127) == pytest.approx(2.2 * 5e6 * math.pi / 4 * 0.0222**2 * 0.127)
    # a fixed caliper fills both sides, a floating one only its own
    assert fluid(0.042, 2, True, 5e-4) == pytest.approx(2 * fluid(0.042, 2, False, 5e-4))
    assert rear_pressure(2e6, 3e6, 0.4) == 2e6
    assert rear_pressure(5e6, 3e6, 0.4) == pytest.approx(3.8e6)


@pytest.mark.parametrize("front", [False, True])
@pytest.mark.parametrize("grade", [0.05, 0.2, 0.6])
def test_holding_a_slope_is_a_free_body(front: bool, grade: float) -> None:
    """Forces and moments of the standing rig solved as a linear system; 20 % is the slope of FMVSS 135 (from memory)."""
    mass, ahead, height, length, radius = 2100.0, 1.3, 0.95, 2.7, 0.46
    alpha = math.atan(grade)
    found = hold_on_slope(mass, ahead, height, length, radius, grade, front)
    for up, wanted in ((True, found.up), (False, found.down)):
        pull = mass * G * math.sin(alpha) * (-1.0 if up else 1.0)  # along the vehicle, forward +
        # unknowns: N_front, N_rear, friction F at the braked axle; forward, upward, moment about the rear contact
        system = np.array([[0.0, 0.0, 1.0], [1.0, 1.0, 0.0], [length, 0.0, 0.0]])
        down = mass * G * math.cos(alpha)
        loads = np.array([-pull, down, down * ahead + pull * height])
        n_front, n_rear, friction = np.linalg.solve(system, loads)
        assert wanted == pytest.approx(abs(friction) / (n_front if front else n_rear), rel=1e-9)
        assert found.torque == pytest.approx(abs(friction) * radius)


def test_an_axle_that_lifts_holds_nothing() -> None:
    found = hold_on_slope(2000.0, 0.3, 1.4, 2.5, 0.45, 0.9, True)
    assert math.isinf(found.up)
    assert math.isfinite(found.down)
