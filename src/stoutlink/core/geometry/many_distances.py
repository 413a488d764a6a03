"""Least distances between many straight pieces and solids at once. Arrays broadcast over their leading dimensions;
points are ``(..., 3)``, m.

Source: C. Ericson, Real-Time Collision Detection, ch. 5.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
STEPS = 40
"""Golden-section steps: the place along a piece is found to 0.618⁴⁰ of its length, a few nanometres."""
_GOLDEN = (np.sqrt(5.0) - 1.0) / 2.0


def segments_apart(p1: Array, p2: Array, q1: Array, q2: Array) -> Array:
    """Distance ``(...)`` between straight pieces p1–p2 and q1–q2 ``(..., 3)``, m; points, parallel and crossing pieces included. See
    :func:`pieces_apart`.

    >>> float(segments_apart(np.zeros(3), np.array([2., 0, 0]), np.array([1., 1, 3]), np.array([1., -1, 3])))
    3.0
    """
    return pieces_apart(*(np.moveaxis(v, -1, 0) for v in np.broadcast_arrays(p1, p2, q1, q2)))


def pieces_apart(p1: Array, p2: Array, q1: Array, q2: Array) -> Array:
    """The same with the components first, ``(3, ...)``.

    Source: clamped closest points of two lines (C. Ericson, Real-Time Collision Detection, 5.1.9). ``p1`` to ``p2``
    are pieces of one kind, ``q1`` to ``q2`` of the other, m; returns ``(...)`` m.

    >>> pieces_apart(*np.array([[[0.0], [0.0], [0.0]], [[1.0], [0.0], [0.0]], [[0.5], [1.0], [0.3]], [[0.5], [-1.0], [0.3]]])).tolist()
    [0.3]
    """
    d1, d2, r = p2 - p1, q2 - q1, p1 - q1
    a, e, b, c, f = _dot(d1, d1), _dot(d2, d2), _dot(d1, d2), _dot(d1, r), _dot(d2, r)
    with np.errstate(divide="ignore", invalid="ignore"):
        square = a * e - b * b
        s = np.where(square > 1e-15 * a * e, np.clip((b * f - c * e) / square, 0.0, 1.0), 0.0)
        s = np.where(a <= 1e-18, 0.0, s)
        t = np.where(e > 1e-18, (b * s + f) / e, 0.0)
        low, high = t < 0.0, t > 1.0
        s = np.where(low & (a > 1e-18), np.clip(-c / a, 0.0, 1.0), s)
        s = np.where(high & (a > 1e-18), np.clip((b - c) / a, 0.0, 1.0), s)
        s = np.where((e <= 1e-18) & (a > 1e-18), np.clip(-c / a, 0.0, 1.0), s)
    t = np.clip(t, 0.0, 1.0)
    gap = r + s * d1 - t * d2
    return np.asarray(np.sqrt(_dot(gap, gap)))


def pieces_to_bar(p: Array, q: Array, half: Array) -> Array:
    """Distance ``(n,)`` m of straight pieces ``p`` to ``q`` ``(3, n)`` from a bar of half sizes ``half`` ``(3,)`` about
    the origin, along the axes; 0 where they run through it.

    Along a piece the square of the distance is convex and quadratic between the places where it passes the bar's
    faces: its slope is straight there, so the place where that vanishes follows from the slopes at those places.
    Source: derived; C. Ericson, Real-Time Collision Detection, 5.1.10 for point and box.

    >>> pieces_to_bar(np.array([[2.0], [-1.0], [0.0]]), np.array([[2.0], [1.0], [0.0]]), np.ones(3)).tolist()
    [1.0]
    """
    d, h = q - p, half[:, None]
    steep = np.where(np.abs(d) < 1e-12, 1e-12, d)
    stops = np.concatenate([(-h - p) / steep, (h - p) / steep, np.zeros((1, p.shape[1])), np.ones((1, p.shape[1]))])
    np.clip(stops, 0.0, 1.0, out=stops)
    stops.sort(axis=0)

    def over(t: Array) -> Array:
        x = p + t * d
        return np.asarray(x - np.clip(x, -h, h))

    slopes = np.stack([_dot(over(t), d) for t in stops])
    k = np.argmax(slopes >= 0.0, axis=0)  # the first place past the least one
    none, rows = ~(slopes >= 0.0).any(axis=0), np.arange(p.shape[1])
    j = np.maximum(k - 1, 0)
    low, high, a, b = stops[j, rows], stops[k, rows], slopes[j, rows], slopes[k, rows]
    rise = b - a
    t = np.where(rise > 0, low - a * (high - low) / np.where(rise > 0, rise, 1.0), high)
    t = np.where(none, 1.0, np.clip(t, low, high))
    gap = over(t)
    return np.asarray(np.sqrt(_dot(gap, gap)))


def _dot(a: Array, b: Array) -> Array:
    return np.asarray(a[0] * b[0] + a[1] * b[1] + a[2] * b[2])


def least_along(at: Callable[[Array], Array], shape: tuple[int, ...], steps: int) -> Array:
    """Least value on 0…1 of functions convex there, all at once: ``at`` takes and gives arrays of ``shape``; golden
    section in ``steps``, and both ends.

    >>> round(float(least_along(lambda t: (t - 0.3) ** 2 + 1, (), 30)), 9)
    1.0
    """
    a, b = np.zeros(shape), np.ones(shape)
    c, e = b - _GOLDEN, a + _GOLDEN
    fc, fe = at(c), at(e)
    for _ in range(steps):
        left = fc <= fe
        b, a = np.where(left, e, b), np.where(left, a, c)
        new = np.where(left, b - _GOLDEN * (b - a), a + _GOLDEN * (b - a))
        value = at(new)
        c, e, fc, fe = (
            np.where(left, new, e),
            np.where(left, c, new),
            np.where(left, value, fe),
            np.where(left, fc, value),
        )
    return np.asarray(np.minimum.reduce([fc, fe, at(np.zeros(shape)), at(np.ones(shape))]))


def segments_to_box(p1: Array, p2: Array, low: Array, high: Array, steps: int = STEPS) -> Array:
    """Signed distance between straight pieces and upright boxes: negative where one runs through, then its greatest
    depth.

    The signed distance to a convex body is convex along a line: golden section in ``steps`` finds its least value.
    ``p1`` to ``p2`` are the pieces, ``low`` and ``high`` opposite corners of the boxes, m; returns ``(...)`` m.

    >>> segments_to_box(np.zeros(3), np.array([0.0, 0.0, 1.0]), np.array([0.5, -1.0, 0.0]), np.array([1.0, 1.0, 1.0])).round(6).tolist()
    0.5
    """
    d = p2 - p1

    def at(t: Array) -> Array:
        point = p1 + t[..., None] * d
        over = np.maximum(low - point, point - high)
        deepest = over.max(axis=-1)
        outside = np.maximum(over, 0.0)
        return np.asarray(np.where(deepest <= 0, deepest, np.sqrt((outside * outside).sum(axis=-1))))

    shape = np.broadcast_shapes(p1.shape, p2.shape, low.shape)[:-1]
    return least_along(at, shape, steps)
