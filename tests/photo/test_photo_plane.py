"""The plane of a photograph, against a camera of known place and lens written apart, and against SciPy's least squares."""

from __future__ import annotations

import numpy as np
import pytest
from numpy.typing import NDArray
from scipy.optimize import least_squares

from stoutlink.core.mechanics.photo_plane import (
    ODD,
    PlanePhoto,
    PlaneRefused,
    camera_of,
    fit_plane,
    homography,
    pixel_of,
    place_of,
    place_off,
)
from tests.photo.camera import KnownCamera, on_side

Array = NDArray[np.float64]
FOUR = np.array([[0.0, 0.42], [2.6, 0.42], [2.6, 1.1], [0.0, 1.05]])
EIGHT = np.vstack([FOUR, [[1.3, 0.3], [1.3, 1.2], [-0.3, 0.8], [2.9, 0.8]]])
SIXTEEN = np.array([[x, z] for x in (-0.3, 0.8, 1.8, 2.9) for z in (0.1, 0.5, 0.9, 1.3)])
TRUE = np.array([[1.2, 0.6], [0.6, 0.45], [2.0, 0.75]])
SEEDS, FEWEST_IN, MOST_IN = 200, 183, 199
CASES: dict[str, tuple[Array, KnownCamera, int]] = {
    "four marks, straight": (FOUR, KnownCamera((1.3, -4.5, 1.2)), 0),
    "four marks, from the side": (FOUR, KnownCamera((3.2, -4.0, 1.6), roll=0.1), 0),
    "eight marks, barrel": (EIGHT, KnownCamera((1.0, -4.0, 1.0), focal=3000.0, k1=-0.1), 1),
    "sixteen marks, two terms": (SIXTEEN, KnownCamera((1.4, -3.4, 1.0), focal=2400.0, k1=-0.2, k2=0.04), 1),
}


def read(marks: Array, camera: KnownCamera, tape: float, click: float, seed: int | None, **how: bool) -> PlanePhoto:
    """Marks taped and clicked, with errors of a seed."""
    pixels = camera.shoot(on_side(marks))
    made = np.random.default_rng(seed)
    off = (0.0, 0.0) if seed is None else (made.normal(0, tape, marks.shape), made.normal(0, click, marks.shape))
    return fit_plane(marks + off[0], np.full(marks.shape, tape), pixels + off[1], click, camera.size, **how)


@pytest.mark.parametrize("case", CASES)
def test_places_lie_within_what_is_said_of_them(case: str) -> None:
    """Of 200 drawn pictures at least 183 have each coordinate within 2 σ (95.4 % by the normal distribution), and not all."""
    marks, camera, terms = CASES[case]
    tape, click = 0.003, 3.0
    seen = camera.shoot(on_side(TRUE))
    inside = np.zeros((len(TRUE), 2), dtype=int)
    for seed in range(1000, 1000 + SEEDS):
        fit = read(marks, camera, tape, click, seed)
        assert fit.lens == terms
        hand = np.random.default_rng(seed + 5000).normal(0, click, seen.shape)
        for k, pixel in enumerate(seen + hand):
            place, covariance = place_of(fit, (pixel[0], pixel[1]), click)
            inside[k] += np.abs(place - TRUE[k]) <= 2.0 * np.sqrt(np.diag(covariance))
    assert inside.min() >= FEWEST_IN, inside
    assert inside.mean() <= MOST_IN, inside


@pytest.mark.parametrize("stated", [True, False])
def test_places_off_the_plane_follow_the_line_of_sight(stated: bool) -> None:
    """What stands nearer than the plane is carried to where it is, and its ± holds; taken as in the plane it is wrong by far."""
    camera = KnownCamera((3.4, -3.2, 1.7), focal=3000.0, target=(1.3, -0.45, 0.5))
    off, off_sigma, click = 0.15, 0.005, 2.0
    wrong, inside = 0, np.zeros((len(TRUE), 2), dtype=int)
    focal = camera.focal_35mm if stated else None
    for seed in range(SEEDS):
        made = np.random.default_rng(seed + 300)
        fit = read(SIXTEEN, camera, 0.002, click, seed)
        seen = camera.shoot(on_side(TRUE, -0.45 - off - made.normal(0, off_sigma)))
        for k, pixel in enumerate(seen + made.normal(0, click, seen.shape)):
            # across × up of the side view's plane points away from the camera's side: x × z = −y, to the right
            place, covariance = place_off(fit, (pixel[0], pixel[1]), click, off, off_sigma, focal)
            inside[k] += np.abs(place - TRUE[k]) <= 2.0 * np.sqrt(np.diag(covariance))
            flat, sigma = place_of(fit, (pixel[0], pixel[1]), click)
            wrong += bool((np.abs(flat - TRUE[k]) > 5.0 * np.sqrt(np.diag(sigma))).any())
    assert inside.min() >= FEWEST_IN, inside
    assert wrong > 0.9 * SEEDS * len(TRUE)


def test_fit_is_the_least_of_all_by_another_solver() -> None:
    """SciPy's least squares over homography, lens and the true places of all marks at once finds the same picture."""
    camera = KnownCamera((1.0, -4.0, 1.0), focal=3000.0, k1=-0.12)
    tape, click = 0.004, 2.0
    made = np.random.default_rng(4)
    pixels = camera.shoot(on_side(EIGHT)) + made.normal(0, click, EIGHT.shape)
    told = EIGHT + made.normal(0, tape, EIGHT.shape)
    fit = fit_plane(told, np.full(told.shape, tape), pixels, click, camera.size)
    half, middle = 0.5 * np.hypot(*camera.size), 0.5 * np.array(camera.size)

    def off(x: Array) -> Array:
        h, k1, true = np.append(x[:8], 1.0).reshape(3, 3), x[8], x[9:].reshape(-1, 2)
        a = np.column_stack([true, np.ones(len(true))]) @ h.T
        straight = a[:, :2] / a[:, 2:]
        bent = straight * (1.0 + k1 * (straight**2).sum(axis=1, keepdims=True))
        return np.concatenate([((middle + half * bent - pixels) / click).ravel(), ((true - told) / tape).ravel()])

    start = homography(told, (pixels - middle) / half).ravel()[:8]
    best = least_squares(off, np.concatenate([start, [0.0], told.ravel()]), x_scale="jac", xtol=1e-14, ftol=1e-14)
    x = best.x
    h = np.append(x[:8], 1.0).reshape(3, 3)
    for place in TRUE:
        a = h @ np.append(place, 1.0)
        straight = a[:2] / a[2]
        expected = middle + half * straight * (1.0 + x[8] * (straight @ straight))
        assert pixel_of(fit, place[None])[0] == pytest.approx(expected, abs=0.05)
    assert fit.unit_sigma is not None
    assert fit.unit_sigma**2 * fit.spare == pytest.approx(2.0 * best.cost, rel=0.02)


def test_there_and_back() -> None:
    camera = KnownCamera((1.4, -3.4, 1.0), focal=2400.0, k1=-0.2, roll=-0.2)
    fit = read(SIXTEEN, camera, 1e-5, 0.01, None)
    for pixel in pixel_of(fit, TRUE):
        place, _ = place_of(fit, (pixel[0], pixel[1]), 1.0)
        assert pixel_of(fit, place[None])[0] == pytest.approx(pixel, abs=1e-6)
    assert place_of(fit, tuple(camera.shoot(on_side(TRUE))[0]), 1.0)[0] == pytest.approx(TRUE[0], abs=2e-4)


def test_the_lens_is_fitted_only_where_marks_bear_it() -> None:
    camera = KnownCamera((1.0, -4.0, 1.0), focal=3000.0, k1=-0.1)
    assert read(FOUR, camera, 0.003, 2.0, 1).lens == 0
    assert read(EIGHT, camera, 0.003, 2.0, 1).lens == 1
    assert read(EIGHT, camera, 0.003, 2.0, 1, straight=True).lens == 0
    assert read(EIGHT, camera, 0.08, 40.0, 1).lens == 0  # marks too poor to say anything of it
    assert read(SIXTEEN, KnownCamera((1.4, -2.4, 0.8), focal=1700.0, k1=-0.2, k2=0.05), 0.001, 1.0, 1).lens == 2
    straight = read(EIGHT, camera, 0.0003, 0.3, 1, straight=True)
    assert straight.unit_sigma is not None
    assert straight.unit_sigma > 2.0  # and the marks say that it is not straight


def test_a_mark_that_cannot_be_right_is_named() -> None:
    camera = KnownCamera((1.0, -4.0, 1.2))
    for wrong in range(len(EIGHT)):
        marks = EIGHT.copy()
        marks[wrong] += (0.04, 0.03)
        pixels = camera.shoot(on_side(EIGHT))
        fit = fit_plane(marks, np.full(marks.shape, 0.002), pixels, 1.0, camera.size, straight=True)
        assert int(np.nanargmax(fit.w)) == wrong
        assert fit.w[wrong] > ODD
    good = read(EIGHT, camera, 0.002, 1.0, None, straight=True)
    assert np.nanmax(good.w) < 0.01
    assert np.isnan(read(FOUR, camera, 0.002, 1.0, 3).w).all()  # four say nothing of one another


def test_odd_marks_come_once_in_a_thousand() -> None:
    camera = KnownCamera((1.0, -4.0, 1.2))
    every = np.concatenate([read(EIGHT, camera, 0.003, 2.0, seed, straight=True).w for seed in range(250)])
    assert (every > ODD).sum() <= 8  # of 2,000: 2 expected
    assert np.mean(every > 2.146) == pytest.approx(0.1, abs=0.03)  # χ² table, two degrees of freedom, 10 %: 4.605


@pytest.mark.parametrize(
    ("marks", "why"),
    [
        (FOUR[:3], "few"),
        (np.array([[0.0, 0.5], [1.0, 0.5], [2.0, 0.5], [2.6, 0.5]]), "in_line"),
        (np.array([[0.0, 0.4], [2.6, 0.42], [2.6, 1.1], [0.0, 1.05]])[[0, 2, 1, 3]], "no_fit"),
    ],
)
def test_marks_that_settle_nothing(marks: Array, why: str) -> None:
    camera = KnownCamera((1.3, -4.5, 1.2))
    pixels = camera.shoot(on_side(FOUR if why == "no_fit" else marks))
    with pytest.raises(PlaneRefused) as refused:
        fit_plane(marks, np.full(marks.shape, 0.003), pixels, 2.0, camera.size)
    assert refused.value.why == why


def test_above_the_horizon_there_is_nothing_of_the_plane() -> None:
    ground = np.array([[0.0, 0.0], [2.0, 0.0], [2.0, 1.0], [0.0, 1.0]])
    camera = KnownCamera((1.0, -4.0, 1.5), target=(1.0, 0.5, 1.0), focal=2500.0)
    pixels = camera.shoot(np.column_stack([ground, np.zeros(4)]))
    fit = fit_plane(ground, np.full(ground.shape, 0.003), pixels, 2.0, camera.size)
    below, _ = place_of(fit, (2000.0, 2500.0), 2.0)
    assert np.isfinite(below).all()
    with pytest.raises(PlaneRefused) as refused:
        place_of(fit, (2000.0, 100.0), 2.0)
    assert refused.value.why == "horizon"
    assert np.isnan(pixel_of(fit, np.array([[1.0, -40.0]]))).all()  # behind the camera


def test_where_the_picture_was_taken_from() -> None:
    """Known by the focal length that is stated, or from the picture where the plane is seen at a slant; never square to it."""
    slant = KnownCamera((3.4, -3.2, 1.7), focal=3000.0, target=(1.3, -0.45, 0.5))
    fit = read(SIXTEEN, slant, 1e-5, 0.05, None)
    for focal in (None, slant.focal_35mm):
        eye = camera_of(fit, focal)
        assert eye.at == pytest.approx((3.4, 1.7, 2.75), abs=0.01)  # 3.2 − 0.45 off the plane, on its right
    assert eye.focal == pytest.approx(3000.0 / 2500.0, rel=1e-6)
    square = read(SIXTEEN, KnownCamera((1.3, -4.0, 0.6)), 0.002, 1.0, 2)
    with pytest.raises(PlaneRefused) as refused:
        camera_of(square)
    assert refused.value.why == "no_camera"
    assert camera_of(square, KnownCamera((0, 0, 0)).focal_35mm).at[2] == pytest.approx(3.55, abs=0.25)


def test_a_published_homography() -> None:
    """The normalised transformation gives back a homography it was made with whatever the units are (Hartley and Zisserman,
    4.4.4: the result does not depend on how points are scaled and placed)."""
    h = np.array([[320.0, -20.0, 500.0], [10.0, -300.0, 900.0], [1e-2, -3e-2, 1.0]])
    points = np.array([[0.0, 0.0], [3.0, 0.2], [2.5, 1.4], [0.1, 1.1], [1.4, 0.7]])
    seen = np.column_stack([points, np.ones(5)]) @ h.T
    pixels = seen[:, :2] / seen[:, 2:]
    assert homography(points, pixels) == pytest.approx(h, rel=1e-9)
    in_mm = homography(1000.0 * points + 7.0, pixels)
    a = in_mm @ np.array([1400.0 + 7.0, 700.0 + 7.0, 1.0])
    assert a[:2] / a[2] == pytest.approx(pixels[4], rel=1e-9)
