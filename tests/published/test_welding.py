"""Heat and pull of welding against closed solutions of heat conduction, a solver of its own and handbook formulas."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import cumulative_trapezoid, quad, solve_ivp
from scipy.sparse import diags_array, eye_array

from stoutlink.core.mechanics.carbon import carbon_equivalent, says
from stoutlink.core.mechanics.weld_bow import FACTOR, arc_arm, bend, fillet_section, miss_at, tube_section
from stoutlink.core.mechanics.weld_heat import K_STEEL, RHO_C, Fin, cool_for, heat_input

OD, WALL = 0.0762, 0.00635
AREA, SECOND = tube_section(OD, WALL)
ROUND = math.pi * OD


def nothing(fin: Fin) -> np.ndarray:
    return np.zeros_like(fin.decay)


def test_a_source_that_lasts_against_the_infinite_fin() -> None:
    """Incropera & DeWitt, Fundamentals of Heat and Mass Transfer, ch. 3 (fin of infinite length): half of the heat flows
    to either side, θ = (P/2)/(k·A·m)·exp(−m·x), m² = h·P/(k·A).
    """
    fin = Fin(4.0, AREA, ROUND, 200.0, "insulated", 1200)
    state = fin.welded(nothing(fin), 1.999, 2.001, 100.0, 1e5)
    m = math.sqrt(200.0 * ROUND / (K_STEEL * AREA))
    for off in (0.02, 0.05, 0.1):
        assert float(fin.at(2.0 + off) @ state) == pytest.approx(
            50.0 / (K_STEEL * AREA * m) * math.exp(-m * off), rel=2e-3
        )


def test_a_flash_against_the_instantaneous_plane_source() -> None:
    """Carslaw & Jaeger, Conduction of Heat in Solids (instantaneous plane source in an infinite rod): θ =
    Q/(ρcA·√(4πat))·exp(−x²/4at), while no end is felt.
    """
    fin = Fin(1.0, AREA, ROUND, 0.0, "casting", 900)
    state = fin.later(fin.welded(nothing(fin), 0.4999, 0.5001, 3e7, 1e-3), 60.0)
    a = K_STEEL / RHO_C
    for off in (0.0, 0.03, 0.06):
        there = 3e4 / (RHO_C * AREA * math.sqrt(4 * math.pi * a * 60)) * math.exp(-(off**2) / (4 * a * 60))
        assert float(fin.at(0.5 + off) @ state) == pytest.approx(there, rel=1e-3)


@pytest.mark.parametrize("inner", ["insulated", "casting"])
def test_beads_against_a_solver_on_a_grid(inner: str) -> None:
    """Two beads with a pause between them, against finite volumes integrated by SciPy: the same heat, another way."""
    length, n, h = 0.5, 400, 15.0
    fin = Fin(length, AREA, ROUND, h, inner)  # type: ignore[arg-type]
    state = fin.welded(nothing(fin), 0.10, 0.15, 2800.0, 8.0)
    state = fin.later(state, 60.0)
    state = fin.welded(state, 0.30, 0.35, 2800.0, 8.0)
    dx = length / n
    x = (np.arange(n, dtype=np.float64) + 0.5) * dx
    a = K_STEEL / RHO_C
    middle = np.full(n, -2.0)
    middle[0] = -3.0 if inner == "casting" else -1.0
    middle[-1] = -1.0
    beside = np.ones(n - 1)
    matrix = a / dx**2 * diags_array([beside, middle, beside], offsets=[-1, 0, 1])
    matrix = (matrix - h * ROUND / (RHO_C * AREA) * eye_array(n)).tocsc()

    def slope(t: float, temperature: np.ndarray, where: tuple[float, float] | None) -> np.ndarray:
        out = matrix @ temperature
        if where is not None:
            out = out + np.where((x > where[0]) & (x < where[1]), 2800.0 / 0.05 / (RHO_C * AREA), 0.0)
        return np.asarray(out)

    warm = np.zeros(n)
    for seconds, where in ((8.0, (0.10, 0.15)), (60.0, None), (8.0, (0.30, 0.35))):
        done = solve_ivp(slope, (0.0, seconds), warm, method="BDF", args=(where,), jac=matrix, rtol=1e-6, atol=1e-6)
        warm = done.y[:, -1]
    assert np.abs(fin.at(x) @ state - warm).max() < 0.004 * warm.max()


@given(
    st.sampled_from(["insulated", "casting"]),
    st.floats(0.05, 0.4),
    st.floats(5.0, 30.0),
    st.floats(5.0, 60.0),
    st.floats(0.0, 600.0),
)
def test_heat_in_is_heat_there_and_heat_gone(inner: str, begins: float, h: float, burns: float, later: float) -> None:
    """Energy: what was welded in is still in the tube, went to the air, or into the casting."""
    fin = Fin(0.5, AREA, ROUND, h, inner)  # type: ignore[arg-type]
    state = fin.welded(nothing(fin), begins, begins + 0.05, 2500.0, burns)
    start = fin.energy(state)
    steps = np.linspace(0.0, later, 4001)
    states = np.exp(-np.outer(steps, fin.decay)) * state
    mean = states @ fin.over(0.0, 0.5)
    air = np.trapezoid(h * ROUND * 0.5 * mean, steps)
    waves = (np.arange(len(state)) + 0.5) * math.pi / 0.5
    casting = np.trapezoid(K_STEEL * AREA * (states @ waves), steps) if inner == "casting" else 0.0
    assert start <= 2500.0 * burns * (1 + 1e-9)
    assert fin.energy(fin.later(state, later)) + air + casting == pytest.approx(start, rel=5e-3)
    still = Fin(0.5, AREA, ROUND, 0.0, "insulated")
    assert still.energy(still.welded(nothing(still), begins, begins + 0.05, 2500.0, burns)) == pytest.approx(
        2500.0 * burns
    )


def test_one_pad_bead_on_a_three_inch_tube() -> None:
    """Common practice: one bead of a pad lifts a 3 × 1/4 in tube to about 120 °C at its place."""
    fin = Fin(0.5, AREA, ROUND, 15.0)
    per_metre = heat_input("wire", 22.0, 170.0, 0.006)
    state = fin.welded(nothing(fin), 0.30, 0.345, per_metre * 0.006, 0.045 / 0.006)
    assert 100.0 < 20.0 + float(fin.at(0.3225) @ state) < 140.0


def test_heat_input_of_the_standard() -> None:
    """EN 1011-1: k·U·I/v·10⁻³ kJ/mm with v in mm/s; k = 0.8 for gas-shielded wire, 0.6 for TIG (from memory)."""
    assert heat_input("wire", 24.0, 220.0, 0.0065) / 1e6 == pytest.approx(0.8 * 24 * 220 / 6.5 * 1e-3)
    assert heat_input("tig", 12.0, 150.0, 0.002) / heat_input("stick", 12.0, 150.0, 0.002) == pytest.approx(0.75)


@given(st.floats(10.0, 150.0), st.floats(0.2, 0.45))
def test_waiting_ends_when_the_place_is_cool(limit: float, at: float) -> None:
    fin = Fin(0.5, AREA, ROUND, 15.0)
    state = fin.welded(nothing(fin), 0.30, 0.345, 3000.0, 7.5)
    shape = fin.over(at, at + 0.04)
    wait = cool_for(fin, state, shape, limit)
    assert float(shape @ fin.later(state, wait)) <= limit * (1 + 1e-6)
    if wait > 0:
        assert float(shape @ fin.later(state, 0.999 * wait)) > limit


def test_a_weld_along_a_member_gives_the_handbook_bow() -> None:
    """Blodgett, Design of Weldments (bending of a member by a longitudinal weld, from memory): 0.005·A_w·d·L²/I in the
    middle, which is an even curvature κ = 8δ/L².
    """
    leg, length = 0.006, 1.2
    kappa = bend(fillet_section(leg), 0.5 * OD, SECOND)
    assert kappa * length**2 / 8 == pytest.approx(0.005 * fillet_section(leg) * 0.5 * OD * length**2 / SECOND)
    assert pytest.approx(8 * 0.005) == FACTOR


def three(low: float, high: float) -> st.SearchStrategy[np.ndarray]:
    return st.lists(st.floats(low, high), min_size=3, max_size=3).map(np.array)


@given(three(0.01, 0.3), three(0.01, 0.15), three(-0.01, 0.01))
def test_moved_places_are_the_curvature_integrated_twice(
    begins: np.ndarray, wide: np.ndarray, turns: np.ndarray
) -> None:
    x = np.linspace(0.0, 0.6, 60001)
    kappa = sum(np.where((x >= b) & (x < b + w), t / w, 0.0) for b, w, t in zip(begins, wide, turns, strict=True))
    slope = cumulative_trapezoid(kappa, x, initial=0.0)
    off = cumulative_trapezoid(slope, x, initial=0.0)
    found = miss_at(x[::6000], turns, begins, begins + wide).sum(axis=1)
    edges = 2.0 * float(x[1]) * float(np.abs(turns / wide).sum())  # slope by which the grid misses both ends of a bead
    assert found == pytest.approx(off[::6000], abs=0.6 * edges + 1e-9)


@given(st.floats(0.01, 0.1), st.floats(0.001, 1.0))
def test_the_arm_of_an_arc_is_its_centre(radius: float, share: float) -> None:
    half = share * math.pi
    mean = quad(lambda v: radius * math.cos(v), -half, half)[0] / (2 * half)
    assert arc_arm(radius, 2 * half * radius) == pytest.approx(mean, rel=1e-9, abs=1e-12)


@pytest.mark.parametrize(
    ("what", "contents", "equivalent", "words"),
    [
        ("plain plate", (0.18, 1.2, 0.0, 0.0, 0.0, 0.0, 0.0), 0.38, "plain"),
        ("high strength plate", (0.20, 1.5, 0.0, 0.0, 0.05, 0.0, 0.15), 0.47, "preheat"),
        ("chromium molybdenum tube", (0.30, 0.50, 0.95, 0.20, 0.0, 0.0, 0.0), 0.6133, "outside"),
    ],
)
def test_carbon_equivalent(what: str, contents: tuple[float, ...], equivalent: float, words: str) -> None:
    """EN 1011-2: CE = C + Mn/6 + (Cr + Mo + V)/5 + (Ni + Cu)/15, by hand; carbon over 0.25 % is outside its range."""
    assert carbon_equivalent(*contents) == pytest.approx(equivalent, abs=1e-4), what
    assert says(contents[0], equivalent) == words
