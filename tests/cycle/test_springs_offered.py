"""Air springs, anti-roll bars, springs on offer and two-piece shafts, each a second way."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.integrate import quad

from stoutlink.core.analysis.cycle.behaviour import roll_stiffness
from stoutlink.core.analysis.cycle.spring_choice import rank_springs
from stoutlink.core.analysis.cycle.travel import axle_travel
from stoutlink.core.analysis.vehicle.effective_vehicle import effective_vehicle
from stoutlink.core.document.project import Project
from stoutlink.core.document.springing import AirSpring, AntiRollBar, Driveshaft
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.errors import CatalogueError, ValueOutOfRange
from stoutlink.core.mechanics.driveline import equivalent_angle, equivalent_of_three
from stoutlink.core.mechanics.springing import air_force, bar_roll_rate
from stoutlink.core.storage.spring_table import read_springs


@pytest.mark.parametrize("growth", [0.0, 0.3, -0.2])
def test_air_by_its_gas_law(growth: float) -> None:
    """Volume by quadrature of the area, p·Vⁿ = constant, and the slope n·p_abs·A²/V + p_gauge·dA/dz."""
    d, v0, p0, n = 0.14, 0.0042, 4.1e5, 1.4

    def area(s: float) -> float:
        return 0.25 * math.pi * (d + growth * s) ** 2

    for s in (-0.06, 0.0, 0.08):
        volume = v0 - quad(area, 0.0, s)[0]
        absolute = (p0 + 101325.0) * (v0 / volume) ** n
        assert air_force(d, growth, v0, p0, np.array(s), n) == pytest.approx((absolute - 101325.0) * area(s), rel=1e-9)
        h = 1e-6
        slope = (
            air_force(d, growth, v0, p0, np.array(s + h), n) - air_force(d, growth, v0, p0, np.array(s - h), n)
        ) / (2 * h)
        rate = n * absolute * area(s) ** 2 / volume + (absolute - 101325.0) * 0.5 * math.pi * (d + growth * s) * growth
        assert slope == pytest.approx(rate, rel=1e-5)
    assert np.isnan(air_force(d, 0.0, 0.001, p0, np.array(0.2), n))  # no air left


def test_a_bar_by_energy() -> None:
    """Castigliano: the work of equal and opposite forces at its ends is the energy of twist and of both arms'
    bending, integrated along them.
    """
    od, bore, length, arm, spread, high, thick = 0.032, 0.02, 0.9, 0.28, 1.1, 0.05, 0.012
    stiff, rate = bar_roll_rate(od, bore, length, arm, spread, (high, thick))
    force = 1000.0
    polar, second = math.pi * (od**4 - bore**4) / 32, thick * high**3 / 12
    energy = quad(lambda _: (force * arm) ** 2 / (2 * 79.3e9 * polar), 0, length)[0]
    energy += 2 * quad(lambda x: (force * x) ** 2 / (2 * 207e9 * second), 0, arm)[0]
    apart = 2 * energy / force  # work = ½·F·(travel of one end against the other)
    assert rate == pytest.approx(force / apart)
    assert stiff == pytest.approx(rate * spread**2)
    rigid, _ = bar_roll_rate(od, bore, length, arm, spread)
    assert rigid == pytest.approx(79.3e9 * polar / length * (spread / arm) ** 2)
    assert rigid > stiff
    with pytest.raises(ValueError, match="bore"):
        bar_roll_rate(0.02, 0.02, 1.0, 0.2, 1.0)


def _with(project: Project, path: str, value: object) -> Project:
    return SetChoice(path, value, "x").apply(project)


def test_an_air_spring_carries_the_rig(basalt: Project) -> None:
    rear = basalt.layout("rear")
    assert rear is not None
    assert rear.shock is not None
    low = rear.shock.axle_m
    air = AirSpring(frame_m=(low[0], low[1], low[2] + 0.35), axle_m=low, diameter_m=0.13, volume_m3=0.004, growth=0.1)
    p = _with(
        _with(_with(basalt, "layouts.rear-a.spring", None), "layouts.rear-a.air", air),
        "layouts.rear-a.anti_roll_bar",
        None,
    )
    found = axle_travel(p, effective_vehicle(p).rig, "rear", touch=False)
    assert found is not None
    s = found.springs
    assert s.pressure is not None
    assert s.ratio is not None
    assert s.force is not None
    assert s.wheel_rate is not None
    j = found.grid.ride[1]
    assert s.pressure * 0.25 * math.pi * 0.13**2 * s.ratio[j] == pytest.approx(s.seat_load)
    assert s.force[j] * s.ratio[j] == pytest.approx(s.seat_load)
    assert s.frequency is not None
    assert s.pressures is not None
    assert s.pressures[0] < s.pressure < s.pressures[1]
    with pytest.raises(ValueOutOfRange, match="both spring and air"):
        _with(basalt, "layouts.rear-a.air", air)
    bar = AntiRollBar(od_m=0.03, length_m=0.9, arm_m=0.3, spread_m=1.0)
    barred = _with(p, "layouts.rear-a.anti_roll_bar", bar)
    with_bar = axle_travel(barred, effective_vehicle(barred).rig, "rear", touch=False)
    one, two = roll_stiffness(with_bar), roll_stiffness(found)
    assert one is not None
    assert two is not None
    assert one - two == pytest.approx(bar_roll_rate(0.03, 0.0, 0.9, 0.3, 1.0)[0])


def test_springs_on_offer(basalt: Project) -> None:
    """Hand-worked for one: load through the motion ratio, length at ride, what is left at bump and droop; ranked by
    frequency, what does not fit last.
    """
    table = read_springs(
        "name;rate_n_per_mm;free_mm;bind_mm;notes\nSoft one;14,0;480;150;\nMiddle;21;430;140;winter\nStiff;60;300;;\nShort;18;250;200;\nBad;x;300;100;\nNo rate;;300;100;\nHuge;9999;300;100;\nTight;20;200;300;\n"
    )
    assert [s.name for s in table.springs] == ["Soft one", "Middle", "Stiff", "Short"]
    assert len(table.problems) == 4
    assert "Line 6, column rate_n_per_mm: “x” is not a number." in table.problems
    assert "Line 7, the rate is empty." in table.problems
    assert table.springs[0].rate_n_per_m == pytest.approx(14000.0)
    found = axle_travel(basalt, effective_vehicle(basalt).rig, "rear", touch=False)
    assert found is not None
    s = found.springs
    assert s.ratio is not None
    assert s.spring is not None
    ranked = rank_springs(s, table.springs, found.grid.limits)
    troubles = [bool(o.trouble) for o in ranked]
    assert troubles == sorted(troubles)
    i, j = s.ride
    load = s.seat_load / float(s.ratio[j])
    one = next(o for o in ranked if o.offer.name == "Middle")
    assert one.at_ride == pytest.approx(0.43 - load / 21000)
    assert one.frequency == pytest.approx(
        math.sqrt(21000 * float(s.ratio[j]) ** 2 / (s.seat_load / 9.80665)) / (2 * math.pi)
    )
    low, high = found.grid.limits
    inside = (s.heave >= low - 1e-9) & (s.heave <= high + 1e-9)
    row = s.spring[0, i][inside]
    assert one.at_droop == pytest.approx(load / 21000 - (row.max() - s.spring[0, i, j]))
    assert one.to_bind == pytest.approx(0.43 - load / 21000 - (s.spring[0, i, j] - row.min()) - 0.14)
    fits = [abs(o.frequency - found.layout.wanted_hz) for o in ranked if not o.trouble]
    assert fits == sorted(fits)
    assert rank_springs(s, (), (low, high)) == ()


@pytest.mark.parametrize(("text", "words"), [
    ("rate_lb_per_in,free_in\n1,2\n", "name"), ("name,rate_lb_per_in,rate_n_per_mm,free_in\n", "rate"), ("name,rate_lb_per_in,free_in,colour\n", "colour"), ("", "rate"),
])  # fmt: skip
def test_a_list_that_is_none(text: str, words: str) -> None:
    with pytest.raises(CatalogueError, match=words):
        read_springs(text)


def test_three_joints_by_their_exact_wave() -> None:
    """Exact cardan relation (tan θ_out = tan θ_in·cos β) joint by joint, each yoke where the planes and the build put
    it; the largest departure from even turning against β²/4, which one joint of the equivalent angle makes (SAE AE-7,
    small angles)."""
    turn = np.linspace(0, 2 * np.pi, 721)
    for b1, b2, b3, p12, p23 in (
        (0.05, 0.10, 0.08, 0.4, -0.7),
        (0.0, 0.1, 0.1, 0.0, 0.0),
        (0.06, 0.09, 0.12, 1.2, 0.5),
    ):

        def through(angle: np.ndarray, beta: float) -> np.ndarray:
            return np.unwrap(np.arctan2(np.sin(angle) * math.cos(beta), np.cos(angle)))

        one = through(turn, b1)  # input yoke from the normal of its plane; the driven one stands 90° on
        two = through(one + np.pi / 2 - p12, b2) - np.pi / 2 + p12
        three = through(two + np.pi - p12 - p23, b3) - np.pi + p12 + p23
        off = three - turn
        off -= off.mean()
        beta = float(equivalent_of_three(np.array(b1), np.array(b2), np.array(b3), (np.array(p12), np.array(p23)), 0.0))
        assert np.abs(off).max() == pytest.approx(beta**2 / 4, abs=2e-5)
    two_joints = equivalent_of_three(np.array(0.0), np.array(0.08), np.array(0.05), (np.array(0.3), np.array(0.9)), 0.2)
    assert two_joints == pytest.approx(float(equivalent_angle(np.array(0.08), np.array(0.05), np.array(0.9), 0.2)))


def test_a_two_piece_shaft(basalt: Project) -> None:
    """Angles and lengths from plain vectors; the front piece stands still."""
    rig = effective_vehicle(basalt).rig
    out = rig.drivetrain.output("rear")
    assert out is not None
    carrier = (out[0] - 0.5, out[1], out[2] - 0.03)
    p = _with(basalt, "layouts.rear-a.driveshaft", Driveshaft(kind="two_piece", carrier_m=carrier))
    found = axle_travel(p, rig, "rear", touch=False)
    assert found is not None
    s = found.shaft
    assert s is not None
    assert s.middle is not None
    assert not s.carrier_assumed
    assert s.front_length == pytest.approx(math.hypot(0.5, 0.03))
    i, j = found.grid.ride
    for row, column in ((i, j), (i, j + 20), (i + 3, j)):
        rear = s.joint[row, column] - np.array(carrier)
        assert s.length[row, column] == pytest.approx(np.linalg.norm(rear))
        front = np.array([-0.5, 0.0, -0.03])
        assert math.cos(s.middle[row, column]) == pytest.approx(
            rear @ front / np.linalg.norm(rear) / np.linalg.norm(front)
        )
    down = rig.drivetrain.output_angle_rad
    assert s.first[i, j] == pytest.approx(abs(math.atan2(0.03, 0.5) - down), abs=1e-9)
    assert s.pinion_wanted == pytest.approx(math.atan2(0.03, 0.5) - s.shaft.wrap_rad)
    half = _with(basalt, "layouts.rear-a.driveshaft", Driveshaft(kind="two_piece"))
    assumed = axle_travel(half, rig, "rear", touch=False)
    assert assumed is not None
    assert assumed.shaft is not None
    assert assumed.shaft.carrier_assumed
    assert assumed.shaft.front_length == pytest.approx(assumed.shaft.at_ride[3])
    fraction = read_springs("name,rate_lb_per_in,free_in\nOdd,150,14 1/4\nWorse,150,14 1/\n")
    assert fraction.springs[0].free_m == pytest.approx(14.25 * 0.0254)
    assert fraction.problems == ("Line 3, column free_in: “14 1/” is not a length.",)
