"""Weighing, tilting, tyre sizes and ground angles against printed relations and plain statics."""

from __future__ import annotations

import math

import pytest

from stoutlink.core.mechanics.ground_angles import approach_angle, breakover_angle, tangent_angle
from stoutlink.core.mechanics.tyre_size import parse_tyre_size
from stoutlink.core.mechanics.weighing import height_by_tilting, level_scales, sprung_place

INCH = 0.0254


def loads(
    cg: tuple[float, float], wheelbase: float, radii: tuple[float, float], mass: float, nose_up: float
) -> tuple[float, float]:
    """Axle loads of a stiff vehicle turned nose up, by moments about the rear axle centre: every point is turned,
    none is approximated.
    """
    c, s = math.cos(nose_up), math.sin(nose_up)
    hub_front, hub_rear = (wheelbase, radii[0]), (0.0, radii[1])
    x = [p[0] * c - p[1] * s for p in (hub_front, hub_rear, cg)]
    front = mass * (x[2] - x[1]) / (x[0] - x[1])
    return front, mass - front


@pytest.mark.parametrize("radii", [(0.45, 0.45), (0.41, 0.50), (0.52, 0.44)])
@pytest.mark.parametrize("raised", ["front", "rear"])
@pytest.mark.parametrize("degrees", [10.0, 17.0, 31.0])
def test_tilting_gives_back_the_height_it_was_made_from(
    radii: tuple[float, float], raised: str, degrees: float
) -> None:
    """ISO 10392's procedure on a virtual vehicle, unequal radii included."""
    cg, wheelbase, mass = (1.24, 0.83), 2.6, 1900.0
    angle = math.radians(degrees)
    level = loads(cg, wheelbase, radii, mass, 0.0)
    tilted = loads(cg, wheelbase, radii, mass, angle if raised == "front" else -angle)
    found = height_by_tilting(level, tilted, angle, wheelbase, radii, raised)  # type: ignore[arg-type]
    assert found.height == pytest.approx(cg[1], abs=1e-12)
    assert found.along == pytest.approx(cg[0], abs=1e-12)


def test_equal_radii_are_the_printed_relation() -> None:
    """ISO 10392: h = r + ΔW·L/(W·tan θ)."""
    found = height_by_tilting((1000.0, 900.0), (925.0, 975.0), math.radians(15.0), 2.7, (0.46, 0.46), "front")
    assert found.height == pytest.approx(0.46 + 75.0 * 2.7 / (1900.0 * math.tan(math.radians(15.0))))


def test_a_kilogram_and_a_tenth_of_a_degree_move_the_height() -> None:
    """How touchy it is on a typical rig (design paper: 1 kg is about 6 mm, 0.1° about 3 mm)."""
    cg, wheelbase, radii, mass, angle = (1.3, 0.87), 2.66, (0.47, 0.47), 1990.0, math.radians(12.0)
    level, tilted = loads(cg, wheelbase, radii, mass, 0.0), loads(cg, wheelbase, radii, mass, angle)
    a_kilogram = height_by_tilting(level, (tilted[0] - 1.0, tilted[1] + 1.0), angle, wheelbase, radii).height - cg[1]
    a_tenth = height_by_tilting(level, tilted, angle + math.radians(0.1), wheelbase, radii).height - cg[1]
    assert a_kilogram == pytest.approx(0.006, abs=0.001)
    assert abs(a_tenth) == pytest.approx(0.003, abs=0.001)


def test_impossible_tilts_say_why() -> None:
    for angle, tilted in ((0.0, (900.0, 1000.0)), (math.pi / 2, (900.0, 1000.0)), (0.2, (0.0, 1900.0))):
        with pytest.raises(ValueError, match=r"tilted|positive"):
            height_by_tilting((1000.0, 900.0), tilted, angle, 2.7, (0.46, 0.46))


def test_scales_by_moments() -> None:
    """Moments about the rear axle and about the centreline."""
    mass, x, y = level_scales((520.0, 500.0, 470.0, 490.0), 2.6, (1.7, 1.6))
    assert mass == 1980.0
    assert mass * x == pytest.approx(2.6 * 1020.0)
    assert mass * y == pytest.approx(0.85 * 20.0 - 0.8 * 20.0)
    assert sprung_place(2000.0, 1.4, ((250.0, 2.6), (250.0, 0.0))) == pytest.approx((2000 * 1.4 - 250 * 2.6) / 1500)


@pytest.mark.parametrize(
    ("text", "diameter_in", "width_mm"),
    [
        ("37x12.50R17", 37.0, 317.5), ("37X12.50-17 LT", 37.0, 317.5), ("35×12.50R15", 35.0, 317.5), ("40x13.5 R17LT", 40.0, 342.9),
        ("315/70R17", (17 * 25.4 + 2 * 315 * 0.70) / 25.4, 315.0), ("LT285/75R16", (16 * 25.4 + 2 * 285 * 0.75) / 25.4, 285.0), ("P265/70 R17", (17 * 25.4 + 2 * 265 * 0.70) / 25.4, 265.0),
    ],
)  # fmt: skip
def test_printed_sizes(text: str, diameter_in: float, width_mm: float) -> None:
    """Common practice of the tyre and rim associations: metric D = rim + 2·width·aspect; flotation prints D itself."""
    size = parse_tyre_size(text)
    assert size is not None
    assert size.diameter / INCH == pytest.approx(diameter_in, abs=1e-9)
    assert size.width * 1000 == pytest.approx(width_mm, abs=1e-9)


@pytest.mark.parametrize(
    "text", ["", "39 in on 17 in wheel", "37", "x12R17", "315/70", "999/70R17", "37x12.50R40", "12x12.50R17", "big"]
)
def test_what_is_no_size_is_not_guessed(text: str) -> None:
    assert parse_tyre_size(text) is None


def test_ground_angles_of_simple_shapes() -> None:
    """Limits that can be seen: a wheel small against all else gives atan; a point at the height of the hub, a radius
    ahead, gives 90°.
    """
    assert approach_angle(2.5, 1e-9, [(3.5, 1.0)]) == pytest.approx(math.pi / 4)
    assert tangent_angle(2.5, 0.45, (2.95, 0.45)) == pytest.approx(math.pi / 2)
    assert breakover_angle(2.6, (1e-9, 1e-9), [(1.3, 0.5)]) == pytest.approx(2 * math.atan(2 * 0.5 / 2.6))
    assert breakover_angle(2.6, (0.45, 0.45), [(3.0, 0.5)]) is None
    assert approach_angle(2.5, 0.5, [(2.7, 0.5)]) is None  # behind the tyre


def test_the_tangent_plane_touches_the_tyre_and_passes_the_point() -> None:
    """A second way: the distance of the axle centre from the plane is the radius."""
    point, axle, radius = (3.21, 0.61), 2.6, 0.46
    slope = tangent_angle(axle, radius, point)
    distance = abs((axle - point[0]) * math.sin(slope) - (radius - point[1]) * math.cos(slope))
    assert distance == pytest.approx(radius)
    assert slope > math.atan2(point[1], point[0] - axle)
