"""A plane seen in a photograph: from marks whose places in the plane are known to places of anything else in that plane.

A camera without lens errors takes a plane to the picture by a homography (eight numbers); its lens then moves each point along
the line from the middle of the picture by a factor ``1 + k1 r² + k2 r⁴``. Both are fitted to the marks together with the true
places of the marks, since the tape errs as well as the hand that clicks.

Source: R. Hartley and A. Zisserman, Multiple View Geometry in Computer Vision, 2nd ed.: normalised direct linear transformation
(ch. 4.4), errors in both images (ch. 4.2), radial distortion (ch. 7.4), a camera from a plane's homography (ch. 8);
D. C. Brown, Close-range camera calibration (1971).
"""

from __future__ import annotations

from typing import Literal

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

Array = NDArray[np.float64]
FEWEST = 4
"""Marks that settle a homography, no three of them in line."""
STRAIGHT_K = 0.003
"""1 σ of k1 and k2 of a lens taken as straight: what a telephone's own correction leaves at the corner (estimate)."""
LOOSE_K = 1.0
"""1 σ of a lens term that is left to the marks."""
BORNE = (0.12, 0.04)
"""1 σ to which marks must settle k1, and k2, before they are left to them."""
SPARE = (3.0, 8.0)
"""Readings more than it takes that must be left for k1, and for k2."""
FULL_FRAME_DIAGONAL_MM = 43.2666
"""Of the 24 × 36 mm frame that stated focal lengths are told for."""
FOCAL_SIGMA = 0.05
"""1 σ of a stated focal length, a part of it (estimate: rounded, and for the lens at infinity)."""
FOCAL_GUESS = 0.2
"""A focal length worked out of the picture itself is worth nothing beyond this part of it, 1 σ."""
ODD = 3.72
"""A good mark is off by more of its 1 σ once in a thousand (χ², two degrees of freedom)."""
CHECKED = 1e-3
"""Part of a mark's error that must show in what is left over, for anything to be said of it."""
STEEP = 0.05
"""Where the picture moves less than this part of what the plane does, the lens's fitted bending turns back."""
NEAREST = 0.9
"""What stands off the plane by more than this part of the way to the camera cannot be meant."""
IN_LINE = 0.02
"""Marks whose spread across their best line is less than this part of that along it are in line."""

Refusal = Literal["few", "in_line", "no_fit", "horizon", "lens", "no_camera", "behind", "no_depth"]


class PlaneRefused(ValueError):
    """What cannot be had from this picture, and why, as a word of :data:`Refusal`."""

    def __init__(self, why: Refusal) -> None:
        super().__init__(why)
        self.why: Refusal = why


class PlanePhoto(Struct, frozen=True, eq=False):
    """A fit. ``theta`` ``(10,)``: the homography's first eight numbers over its ninth, k1, k2, between ``plane`` (middle and size
    of the marks, m) and ``picture`` (middle of the picture and half its diagonal, px); their ``covariance`` ``(10, 10)``.
    By mark: ``residual`` ``(n, 2)`` px, as clicked less as fitted for the place it was given, and ``w``, how far off that is in
    its own 1 σ (beyond :data:`ODD` once in a thousand; ``nan`` where nothing checks it). ``lens``: how many terms of the lens the marks settle. ``spare``: readings more
    than it takes; ``unit_sigma``: about 1 when marks fit as well as their ± say, ``None`` with nothing to spare.
    """

    theta: Array
    covariance: Array
    plane: tuple[Array, float]
    picture: tuple[Array, float]
    residual: Array
    w: Array
    lens: int
    spare: float
    unit_sigma: float | None


class Camera(Struct, frozen=True):
    """Where the picture was taken from: ``(across, up, off the plane)`` m, off growing to the side the plane's normal points
    (across × up), and 1 σ of each with the fit's; ``focal`` in half diagonals."""

    at: tuple[float, float, float]
    sigma: tuple[float, float, float]
    focal: float


def homography(plane: Array, picture: Array) -> Array:
    """The 3 × 3 homography that takes ``plane`` ``(n, 2)`` to ``picture`` ``(n, 2)``, four points or more, in whatever unit each is in (m, px): the
    normalised direct linear transformation, scaled so that its last number is 1. Raises :class:`PlaneRefused` with fewer, or where they are in line.
    Source: Hartley and Zisserman, algorithm 4.2.

    >>> square = np.array([[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]])
    >>> (np.round(homography(square, 2.0 * square + 1.0), 9) + 0.0).tolist()
    [[2.0, 0.0, 1.0], [0.0, 2.0, 1.0], [0.0, 0.0, 1.0]]
    """
    if len(plane) < FEWEST:
        raise PlaneRefused("few")
    (a, ta), (b, tb) = _normalised(plane), _normalised(picture)
    one, none = np.ones(len(a)), np.zeros((len(a), 3))
    p = np.column_stack([a, one])
    top = np.hstack([p, none, -b[:, :1] * p])
    low = np.hstack([none, p, -b[:, 1:] * p])
    _, size, vt = np.linalg.svd(np.vstack([top, low]))
    if size[7] < 1e-9 * size[0]:
        raise PlaneRefused("in_line")
    h = np.linalg.solve(tb, vt[8].reshape(3, 3) @ ta)
    if abs(h[2, 2]) < 1e-12 * np.abs(h).max():
        raise PlaneRefused("in_line")
    return np.asarray(h / h[2, 2])


def _normalised(points: Array) -> tuple[Array, Array]:
    middle = points.mean(axis=0)
    size = max(float(np.sqrt(((points - middle) ** 2).sum(axis=1)).mean()), 1e-300) / np.sqrt(2.0)
    t = np.array([[1.0 / size, 0.0, -middle[0] / size], [0.0, 1.0 / size, -middle[1] / size], [0.0, 0.0, 1.0]])
    return (points - middle) / size, t


def _seen(theta: Array, points: Array) -> tuple[Array, Array, Array]:
    """Where points ``(n, 2)`` of the plane fall in the picture ``(n, 2)``, both in the fit's own units; how that moves with ``theta``
    ``(n, 2, 10)`` and with the points ``(n, 2, 2)``."""
    h = np.append(theta[:8], 1.0).reshape(3, 3)
    k1, k2 = theta[8], theta[9]
    full = np.column_stack([points, np.ones(len(points))])
    a, b, c = (full @ h.T).T
    x, y = a / c, b / c
    r2 = x * x + y * y
    factor = 1.0 + k1 * r2 + k2 * r2 * r2
    out = np.column_stack([x * factor, y * factor])
    # what the lens makes of a change of the straight place
    grow = 2.0 * (k1 + 2.0 * k2 * r2)
    lens = np.empty((len(points), 2, 2))
    lens[:, 0, 0], lens[:, 0, 1] = factor + grow * x * x, grow * x * y
    lens[:, 1, 0], lens[:, 1, 1] = grow * x * y, factor + grow * y * y
    straight = np.zeros((len(points), 2, 8))
    straight[:, 0, 0:3] = full / c[:, None]
    straight[:, 1, 3:6] = full / c[:, None]
    straight[:, 0, 6:8] = -x[:, None] * points / c[:, None]
    straight[:, 1, 6:8] = -y[:, None] * points / c[:, None]
    by_theta = np.empty((len(points), 2, 10))
    by_theta[:, :, :8] = lens @ straight
    by_theta[:, 0, 8], by_theta[:, 1, 8] = x * r2, y * r2
    by_theta[:, 0, 9], by_theta[:, 1, 9] = x * r2 * r2, y * r2 * r2
    by_point = np.empty((len(points), 2, 2))
    by_point[:, 0] = (h[0, :2] - x[:, None] * h[2, :2]) / c[:, None]
    by_point[:, 1] = (h[1, :2] - y[:, None] * h[2, :2]) / c[:, None]
    return out, by_theta, lens @ by_point


def fit_plane(
    plane: Array,
    plane_sigma: Array,
    pixels: Array,
    pixel_sigma: float,
    size: tuple[int, int],
    *,
    straight: bool = False,
) -> PlanePhoto:
    """Fit the picture of a plane: ``plane`` ``(n, 2)`` where marks are, m, with 1 σ ``plane_sigma`` ``(n, 2)``; ``pixels`` ``(n, 2)`` where they
    are seen (right, down), with 1 σ ``pixel_sigma`` px; ``size`` of the upright picture, px. k1, then k2 is fitted where the marks
    settle it (:data:`BORNE`, :data:`SPARE`) and the lens is not said to be ``straight``; else it is 0 ± :data:`STRAIGHT_K`. Raises
    :class:`PlaneRefused`: too few, in line, no fit. Source: maximum likelihood with errors in both (Hartley and Zisserman, ch. 4.2.6).

    >>> at = np.array([[0.0, 0.0], [2.0, 0.0], [2.0, 1.0], [0.0, 1.0]])
    >>> fit = fit_plane(at, np.full((4, 2), 0.003), at * [300.0, -300.0] + [200.0, 500.0], 1.0, (1000, 600))
    >>> place, sigma = place_of(fit, (500.0, 350.0), 1.0)
    >>> [round(float(v), 6) for v in place], fit.lens, fit.unit_sigma is None
    ([1.0, 0.5], 0, True)
    """
    if len(plane) < FEWEST:
        raise PlaneRefused("few")
    for points in (plane, pixels):
        spread = np.linalg.svd(points - points.mean(axis=0), compute_uv=False)
        if spread[1] < IN_LINE * max(spread[0], 1e-300):
            raise PlaneRefused("in_line")
    middle, scale = plane.mean(axis=0), float(np.sqrt(((plane - plane.mean(axis=0)) ** 2).sum(axis=1).mean()))
    centre, half = 0.5 * np.array(size, dtype=float), 0.5 * float(np.hypot(*size))
    told, told_sigma = (plane - middle) / scale, plane_sigma / scale
    clicked = (pixels - centre) / half
    start = homography(told, clicked)
    if not _in_front(start.ravel(), told):
        raise PlaneRefused("no_fit")
    begin = np.append(start.ravel()[:8], [0.0, 0.0])
    best, terms = _fitted(begin, told, told_sigma, clicked, pixel_sigma / half, 0), 0
    for more in (1, 2):
        if straight or 2 * len(told) - 8 - more < SPARE[more - 1]:
            break
        tried = _fitted(best.theta, told, told_sigma, clicked, pixel_sigma / half, more)
        if not np.sqrt(tried.covariance[7 + more, 7 + more]) <= BORNE[more - 1]:
            break
        best, terms = tried, more
    if not np.isfinite(best.theta).all() or not _in_front(best.theta, told):
        raise PlaneRefused("no_fit")
    spare = float(2 * len(told) - 8 - terms)
    unit = None if spare < 0.5 else float(np.sqrt(best.square / spare))
    return PlanePhoto(
        best.theta, best.covariance, (middle, scale), (centre, half), best.off * half, best.w, terms, spare, unit
    )


def _in_front(h: Array, points: Array) -> bool:
    """Whether all points are on the camera's side of the horizon."""
    return bool((points @ h[6:8] + 1.0 > 0.0).all())


class _Fit(Struct, frozen=True, eq=False):
    theta: Array
    covariance: Array
    off: Array
    w: Array
    square: float


def _fitted(begin: Array, told: Array, told_sigma: Array, clicked: Array, click: float, terms: int) -> _Fit:
    """Gauss-Newton for the ten numbers and the true places of the marks at once; the places are eliminated mark by mark: what is
    seen is off by its own error and by the tape's carried into the picture."""
    lens = np.array([LOOSE_K if k < terms else STRAIGHT_K for k in range(2)])
    prior = np.diag(np.append(np.zeros(8), lens**-2))
    tape = np.einsum("ij,jk->ijk", np.maximum(told_sigma, 1e-9) ** 2, np.eye(2))
    theta, true = begin.copy(), told.copy()
    for _ in range(40):
        seen, by_theta, by_point = _seen(theta, true)
        off = clicked - seen - np.einsum("nij,nj->ni", by_point, told - true)
        spread = max(click, 1e-9) ** 2 * np.eye(2) + by_point @ tape @ by_point.swapaxes(1, 2)
        weight = np.linalg.inv(spread)
        normal = np.einsum("nia,nij,njb->ab", by_theta, weight, by_theta) + prior
        step = np.linalg.solve(normal, np.einsum("nia,nij,nj->a", by_theta, weight, off) - prior @ theta)
        left = off - by_theta @ step
        theta = theta + step
        true = told + np.einsum("nij,nkj,nkl,nl->ni", tape, by_point, weight, left)
        if np.abs(step).max() < 1e-11 or not np.isfinite(theta).all():
            break
    covariance = np.linalg.inv(normal)
    covariance = 0.5 * (covariance + covariance.T)
    root = np.linalg.inv(np.linalg.cholesky(spread))
    white, slope = np.einsum("nij,nj->ni", root, left), root @ by_theta
    w = np.full(len(told), np.nan)
    for k, one in enumerate(np.eye(2) - slope @ covariance @ slope.swapaxes(1, 2)):
        size, ways = np.linalg.eigh(one)
        checked = size > CHECKED
        if checked.any():
            w[k] = float(np.sqrt((((ways.T @ white[k]) ** 2)[checked] / size[checked]).sum()))
    return _Fit(theta, covariance, left, w, float((white**2).sum()))


def _straight(theta: Array, pixels: Array) -> tuple[Array, NDArray[np.bool_]]:
    """The places pixels ``(n, 2)`` in the fit's units would have without the lens's bending, and where it has turned back ``(n,)``."""
    k1, k2 = theta[8], theta[9]
    r = np.hypot(pixels[:, 0], pixels[:, 1])
    at, lost = r.copy(), np.zeros(len(r), dtype=bool)
    for _ in range(60):
        slope = 1.0 + 3.0 * k1 * at**2 + 5.0 * k2 * at**4
        lost |= slope <= STEEP
        step = np.where(lost, 0.0, (at * (1.0 + k1 * at**2 + k2 * at**4) - r) / np.where(lost, 1.0, slope))
        at = at - step
        if np.abs(step).max(initial=0.0) < 1e-13:
            break
    lost |= (np.abs(step) > 1e-9) | (at < 0.0) | (1.0 + 3.0 * k1 * at**2 + 5.0 * k2 * at**4 <= STEEP)
    return pixels * np.where(r > 0.0, at / np.maximum(r, 1e-300), 1.0)[:, None], lost


def _back(theta: Array, pixels: Array) -> tuple[Array, list[Refusal | None]]:
    """The places in the plane ``(n, 2)`` of pixels ``(n, 2)``, both in the fit's units, and why one cannot be had."""
    x, lost = _straight(theta, pixels)
    h = np.append(theta[:8], 1.0).reshape(3, 3)
    p = np.linalg.solve(h, np.column_stack([x, np.ones(len(x))]).T).T
    # nothing of the plane in front of the camera is seen at or above its horizon
    above = p[:, 2] <= 1e-9 * np.abs(p).max(axis=1)
    why: list[Refusal | None] = ["lens" if a else "horizon" if b else None for a, b in zip(lost, above, strict=True)]
    return np.where((lost | above)[:, None], 0.0, p[:, :2] / np.where(above, 1.0, p[:, 2])[:, None]), why


def places_of(
    fit: PlanePhoto,
    pixels: Array,
    pixel_sigma: float,
    off: float = 0.0,
    off_sigma: float = 0.0,
    focal_35mm: float | None = None,
) -> tuple[Array, Array, tuple[Refusal | None, ...]]:
    """Where ``pixels`` ``(n, 2)`` (right, down, px, 1 σ ``pixel_sigma``) of the ``fit`` lie when what is seen there stands ``off`` the plane, m, 1 σ ``off_sigma``
    (along across × up): ``(n, 2)`` m, covariances ``(n, 2, 2)`` m², and why one cannot be had ``(n,)``, at or above the plane's horizon or where the lens's
    bending turns back. Off the plane the line of sight is followed from where the camera was (``focal_35mm`` mm as for :func:`camera_of`, which may raise
    :class:`PlaneRefused`). Source: as :func:`fit_plane`; similar triangles along the line of sight; errors by first order.

    >>> at = np.array([[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]])
    >>> fit = fit_plane(at, np.full((4, 2), 1e-6), at * 100.0 + 50.0, 1.0, (200, 200))
    >>> (np.round(places_of(fit, np.array([[150.0, 50.0], [50.0, 100.0]]), 1.0)[0], 3) + 0.0).tolist()
    [[1.0, 0.0], [0.0, 0.5]]
    """
    (middle, scale), (centre, half) = fit.plane, fit.picture
    p, why = _back(fit.theta, (np.asarray(pixels, dtype=float) - centre) / half)
    _, by_theta, by_point = _seen(fit.theta, p)
    inverse = np.linalg.inv(by_point)
    click = (pixel_sigma / half) ** 2 * (inverse @ inverse.swapaxes(1, 2))
    flat = -inverse @ by_theta
    if off == 0.0:
        return middle + scale * p, scale**2 * (flat @ fit.covariance @ flat.swapaxes(1, 2) + click), tuple(why)
    _, eye, move = _camera(fit, focal_35mm)
    part = off / scale / eye[2]
    if part >= NEAREST:
        raise PlaneRefused("behind")
    way = eye[:2] - p
    whole = np.zeros((len(p), 2, 11))
    whole[:, :, :10] = (1.0 - part) * flat
    whole += part * (move[:2] - way[:, :, None] * move[2] / eye[2])
    spread = whole @ _errors(fit) @ whole.swapaxes(1, 2) + (1.0 - part) ** 2 * click
    spread += way[:, :, None] * way[:, None, :] * (off_sigma / scale / eye[2]) ** 2
    return middle + scale * (p + part * way), scale**2 * spread, tuple(why)


def place_of(fit: PlanePhoto, pixel: tuple[float, float], pixel_sigma: float) -> tuple[Array, Array]:
    """Where in the plane a ``pixel`` (right, down, px, 1 σ ``pixel_sigma``) of the ``fit`` lies: ``(2,)`` m, and its covariance ``(2, 2)`` m². Raises
    :class:`PlaneRefused`: at or above the plane's horizon, or where the lens's bending turns back. Source: as :func:`fit_plane`; errors by first order.

    >>> at = np.array([[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]])
    >>> fit = fit_plane(at, np.full((4, 2), 1e-6), at * 100.0 + 50.0, 1.0, (200, 200))
    >>> place, covariance = place_of(fit, (150.0, 50.0), 1.0)
    >>> [round(float(v), 3) for v in place], round(float(np.sqrt(covariance[0, 0])), 4)
    ([1.0, 0.0], 0.0141)
    """
    at, covariance, why = places_of(fit, np.array([pixel]), pixel_sigma)
    if why[0] is not None:
        raise PlaneRefused(why[0])
    return at[0], covariance[0]


def pixel_of(fit: PlanePhoto, place: Array) -> Array:
    """Where each ``place`` ``(n, 2)`` m of the plane of a ``fit`` is seen: ``(n, 2)`` px right and down; ``nan`` for those beyond its horizon. Source: as :func:`fit_plane`.

    >>> at = np.array([[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]])
    >>> fit = fit_plane(at, np.full((4, 2), 1e-3), at * 100.0 + 50.0, 1.0, (200, 200))
    >>> np.round(pixel_of(fit, np.array([[0.5, 0.25]])), 6).tolist()
    [[100.0, 75.0]]
    """
    (middle, scale), (centre, half) = fit.plane, fit.picture
    p = (np.asarray(place, dtype=float) - middle) / scale
    beyond = np.column_stack([p, np.ones(len(p))]) @ np.append(fit.theta[6:8], 1.0) <= 1e-6
    seen, _, _ = _seen(fit.theta, np.where(beyond[:, None], 0.0, p))
    return np.where(beyond[:, None], np.nan, centre + half * seen)


def _focal(theta: Array) -> float | None:
    """The focal length, in half diagonals, that makes the plane's two axes square and of one length; ``None`` where the
    picture does not say."""
    h = np.append(theta[:8], 1.0).reshape(3, 3)
    a = np.array([h[0, 0] * h[0, 1] + h[1, 0] * h[1, 1], h[0, 0] ** 2 + h[1, 0] ** 2 - h[0, 1] ** 2 - h[1, 1] ** 2])
    b = np.array([h[2, 0] * h[2, 1], h[2, 0] ** 2 - h[2, 1] ** 2])
    inverse = -float(a @ b) / max(float(a @ a), 1e-300)
    return 1.0 / np.sqrt(inverse) if inverse > 0.0 else None


def _eye(theta: Array, focal: float) -> Array:
    """Where the camera is, ``(3,)`` in the plane's own units: across, up, off."""
    h = np.append(theta[:8], 1.0).reshape(3, 3)
    b = h / np.array([[focal], [focal], [1.0]])
    b = b * (2.0 / (np.linalg.norm(b[:, 0]) + np.linalg.norm(b[:, 1])))
    if b[2, 2] < 0.0:
        b = -b
    u, _, vt = np.linalg.svd(np.column_stack([b[:, 0], b[:, 1], np.cross(b[:, 0], b[:, 1])]))
    turn = u @ np.diag([1.0, 1.0, np.sign(np.linalg.det(u @ vt))]) @ vt
    return np.asarray(-turn.T @ b[:, 2])


def _slopes(theta: Array, focal: float) -> Array:
    """How the camera's place moves with ``theta`` and with the focal length: ``(3, 11)``."""
    out = np.zeros((3, 11))
    for k in range(8):
        step = np.zeros(10)
        step[k] = 1e-6
        out[:, k] = (_eye(theta + step, focal) - _eye(theta - step, focal)) / 2e-6
    out[:, 10] = (_eye(theta, focal + 1e-6) - _eye(theta, focal - 1e-6)) / 2e-6
    return out


def _focal_known(fit: PlanePhoto, focal_35mm: float | None) -> tuple[float, Array]:
    """The focal length and how it moves with ``theta`` and an error of its own ``(11,)``; the own error in the last, times its σ."""
    if focal_35mm is not None:
        focal = 2.0 * focal_35mm / FULL_FRAME_DIAGONAL_MM
        slope = np.zeros(11)
        slope[10] = FOCAL_SIGMA * focal
        return focal, slope
    found = _focal(fit.theta)
    if found is None:
        raise PlaneRefused("no_camera")
    slope = np.zeros(11)
    for k in range(8):
        step = np.zeros(10)
        step[k] = 1e-6
        up, down = _focal(fit.theta + step), _focal(fit.theta - step)
        if up is None or down is None:
            raise PlaneRefused("no_camera")
        slope[k] = (up - down) / 2e-6
    sigma = float(np.sqrt(slope[:10] @ fit.covariance @ slope[:10]))
    if sigma > FOCAL_GUESS * found:
        raise PlaneRefused("no_camera")
    return found, slope


def _camera(fit: PlanePhoto, focal_35mm: float | None) -> tuple[float, Array, Array]:
    """Focal length, the camera's place ``(3,)`` in the fit's units and how it moves with theta and the focal length's own error ``(3, 11)``."""
    focal, by = _focal_known(fit, focal_35mm)
    slopes = _slopes(fit.theta, focal)
    move = slopes.copy()
    move[:, 10] = 0.0
    move += slopes[:, 10:11] * by[None, :]
    return focal, _eye(fit.theta, focal), move


def _errors(fit: PlanePhoto) -> Array:
    out = np.zeros((11, 11))
    out[:10, :10] = fit.covariance
    out[10, 10] = 1.0
    return out


def camera_of(fit: PlanePhoto, focal_35mm: float | None = None) -> Camera:
    """Where the picture of a ``fit`` was taken from, m, for a lens of ``focal_35mm`` mm (told for the 24 × 36 mm frame), or as the
    picture itself says. Pixels are square and the middle of the picture is the lens's. Raises :class:`PlaneRefused` where the picture does not say:
    taken square to the plane it cannot. Source: Hartley and Zisserman, ch. 8.1.1 and example 8.18.

    >>> at = np.array([[-1.0, -1.0], [1.0, -1.0], [1.0, 1.0], [-1.0, 1.0]])
    >>> fit = fit_plane(at, np.full((4, 2), 1e-4), at * 100.0 + 200.0, 0.1, (400, 400))
    >>> [round(v, 2) + 0.0 for v in camera_of(fit, 21.6333).at]
    [0.0, 0.0, -2.83]
    """
    (middle, scale), _ = fit.plane, fit.picture
    focal, eye, move = _camera(fit, focal_35mm)
    sigma = scale * np.sqrt(np.diag(move @ _errors(fit) @ move.T))
    return Camera(
        (float(middle[0] + scale * eye[0]), float(middle[1] + scale * eye[1]), float(scale * eye[2])),
        (float(sigma[0]), float(sigma[1]), float(sigma[2])),
        focal,
    )


def place_off(
    fit: PlanePhoto,
    pixel: tuple[float, float],
    pixel_sigma: float,
    off: float,
    off_sigma: float,
    focal_35mm: float | None = None,
) -> tuple[Array, Array]:
    """Where a ``pixel`` (px, 1 σ ``pixel_sigma``) of the ``fit`` lies when what is seen there stands ``off`` the plane, m, 1 σ ``off_sigma`` (along across × up):
    ``(2,)`` m and covariance ``(2, 2)`` m². The line of sight through the plane's place is followed to there, from where the camera was
    (``focal_35mm`` mm as for :func:`camera_of`). Raises :class:`PlaneRefused` as :func:`place_of` and :func:`camera_of`, and for what would lie behind the camera.
    Source: similar triangles along the line of sight.

    >>> at = np.array([[-1.0, -1.0], [1.0, -1.0], [1.0, 1.0], [-1.0, 1.0]])
    >>> fit = fit_plane(at, np.full((4, 2), 1e-4), at * 100.0 + 200.0, 0.1, (400, 400))
    >>> [round(float(v), 3) for v in place_off(fit, (300.0, 200.0), 0.1, -1.0, 0.0, 21.6333)[0]]
    [0.646, 0.0]
    """
    at, covariance, why = places_of(fit, np.array([pixel]), pixel_sigma, off, off_sigma, focal_35mm)
    if why[0] is not None:
        raise PlaneRefused(why[0])
    return at[0], covariance[0]
