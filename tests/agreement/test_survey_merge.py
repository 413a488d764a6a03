"""Joining two surveys against a known rigid motion, and the plane fit against a general library."""

from __future__ import annotations

import math

import msgspec
import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from stoutlink.core.analysis.survey.survey_merge import merge_survey
from stoutlink.core.analysis.survey.survey_points import place_survey
from stoutlink.core.document.survey import Datum, Reading, Survey, SurveyPoint
from stoutlink.core.errors import GeometryError
from stoutlink.core.geometry.planar_fit import planar_fit
from stoutlink.core.mechanics.tape import datum_of_motion, tape_to_vehicle

WHEELBASE = 2.7
FRAME = [(-0.4, 0.72), (0.3, 0.75), (0.9, 0.61), (1.4, 0.58), (1.9, 0.60), (2.4, 0.70), (3.0, 0.74), (0.1, 1.12)]


def survey(points: list[tuple[float, float]], datum: Datum, name: str = "s") -> Survey:
    """Points given in vehicle axes, turned back into what the tape would read under ``datum``."""
    lean = math.asin((datum.front_rise_m - datum.rear_rise_m) / WHEELBASE)
    out = []
    for i, (x, z) in enumerate(points):
        up = z - datum.rear_rise_m
        along = x * math.cos(lean) + up * math.sin(lean)
        height = -x * math.sin(lean) + up * math.cos(lean)
        station = (along - datum.zero_x_m) * (1 if datum.direction == "forward" else -1)
        out.append(
            SurveyPoint(
                id=f"p{i}", name=f"point {i}", station=(Reading(value_m=station),), height=(Reading(value_m=height),)
            )
        )
    return Survey(id=name, name=name, datum=datum, points=tuple(out))


@pytest.mark.parametrize("direction", ["forward", "rearward"])
def test_a_known_motion_is_found_exactly(direction: str) -> None:
    true = Datum(zero_x_m=3.31, direction=direction, stood="stands", front_rise_m=-0.21, rear_rise_m=-0.06)
    first, second = survey(FRAME, Datum(zero_x_m=-0.5), "one"), survey(FRAME[1:6], true, "two")
    guess = msgspec.structs.replace(
        second, datum=msgspec.structs.replace(true, zero_x_m=0.0, front_rise_m=0.0, rear_rise_m=0.0)
    )
    renamed = msgspec.structs.replace(
        guess, points=tuple(msgspec.structs.replace(p, name=f"Point {i + 1} ") for i, p in enumerate(guess.points))
    )
    found = merge_survey(place_survey(first, WHEELBASE), renamed, WHEELBASE)
    assert found.datum.zero_x_m == pytest.approx(true.zero_x_m, abs=1e-9)
    assert found.datum.front_rise_m == pytest.approx(true.front_rise_m, abs=1e-9)
    assert found.datum.rear_rise_m == pytest.approx(true.rear_rise_m, abs=1e-9)
    assert found.rms < 1e-9
    again = place_survey(msgspec.structs.replace(renamed, datum=found.datum), WHEELBASE)
    assert [(round(p.x, 9), round(p.z or 0, 9)) for p in again] == [(round(x, 9), round(z, 9)) for x, z in FRAME[1:6]]


def test_noise_leaves_residuals_of_its_own_size_and_a_slip_stands_out() -> None:
    rng = np.random.default_rng(3)
    first = survey(FRAME, Datum(), "one")
    rms, zero = [], []
    for _ in range(200):
        noisy = [(x + rng.normal(0, 0.005), z + rng.normal(0, 0.003)) for x, z in FRAME]
        found = merge_survey(place_survey(first, WHEELBASE), survey(noisy, Datum(zero_x_m=1.0), "two"), WHEELBASE)
        rms.append(found.rms**2)
        zero.append(found.datum.zero_x_m - 1.0)
    n = len(FRAME)
    assert math.sqrt(float(np.mean(rms))) == pytest.approx(
        math.hypot(0.005, 0.003) * math.sqrt((2 * n - 3) / (2 * n)), rel=0.06
    )
    assert abs(float(np.mean(zero))) < 3 * float(np.std(zero)) / math.sqrt(200)
    slipped = [(x, z + (0.05 if i == 4 else 0.0)) for i, (x, z) in enumerate(FRAME)]
    found = merge_survey(place_survey(first, WHEELBASE), survey(slipped, Datum(), "two"), WHEELBASE)
    assert found.worst.name == "point 4"
    assert found.worst.worth > 4


def test_what_cannot_join_says_so() -> None:
    first = place_survey(survey(FRAME, Datum(), "one"), WHEELBASE)
    alien = survey([(0.0, 0.5)], Datum(), "two")
    with pytest.raises(GeometryError, match="shares no named"):
        merge_survey(
            first,
            msgspec.structs.replace(alien, points=(msgspec.structs.replace(alien.points[0], name="elsewhere"),)),
            WHEELBASE,
        )
    twice = survey(FRAME[:2], Datum(), "two")
    with pytest.raises(GeometryError, match="more than one place"):
        merge_survey(
            first,
            msgspec.structs.replace(
                twice, points=tuple(msgspec.structs.replace(p, name="point 1") for p in twice.points)
            ),
            WHEELBASE,
        )
    one = merge_survey(first, survey(FRAME[:1], Datum(zero_x_m=0.7), "two"), WHEELBASE)
    assert not one.rake_fixed
    assert one.datum.zero_x_m == pytest.approx(0.7)


def test_plane_fit_against_a_general_rotation_library() -> None:
    """scipy's Kabsch/Wahba solver in three dimensions, restricted to the plane."""
    rng = np.random.default_rng(8)
    p, w = rng.uniform(-1, 3, (9, 2)), rng.uniform(0.2, 3.0, 9)
    c, s = math.cos(0.31), math.sin(0.31)
    q = p @ np.array([[c, s], [-s, c]]) + np.array([0.4, -0.2]) + rng.normal(0, 0.02, (9, 2))
    fit = planar_fit(p, q, w)
    p0, q0 = (np.average(v, axis=0, weights=w) for v in (p, q))
    flat = [np.column_stack([v, np.zeros(9)]) for v in (q - q0, p - p0)]
    up = np.array([[0.0, 0.0, 1.0]])
    other, _ = Rotation.align_vectors(np.vstack([flat[0], up * 1e3]), np.vstack([flat[1], up * 1e3]), np.append(w, 1.0))
    assert fit.rotation == pytest.approx(float(other.as_rotvec()[2]), abs=1e-9)
    assert fit.move(p) == pytest.approx(q - fit.residual)


def test_transform_and_its_inverse() -> None:
    x, z = tape_to_vehicle(np.array([0.0, 1.0]), np.array([0.5, 0.6]), 2.9, False, -0.2, -0.05, WHEELBASE)
    lean = math.asin((-0.2 + 0.05) / WHEELBASE)
    shift = (2.9 * math.cos(lean), 2.9 * math.sin(lean) - 0.05)
    assert datum_of_motion(lean, shift, WHEELBASE) == pytest.approx((2.9, -0.2, -0.05))
    by_hand = np.array([[math.cos(lean), -math.sin(lean)], [math.sin(lean), math.cos(lean)]]) @ np.array(
        [[-0.0, -1.0], [0.5, 0.6]]
    )
    assert np.stack([x, z]) == pytest.approx(by_hand + np.array(shift)[:, None])
    over_front = tape_to_vehicle(0.0, 0.0, WHEELBASE, True, -0.2, -0.05, WHEELBASE)
    assert float(over_front[1]) == pytest.approx(-0.2)
