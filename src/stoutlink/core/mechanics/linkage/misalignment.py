"""How far the joints of a link lean in their brackets over travel.

Source: spatial trigonometry.
"""

from __future__ import annotations

import numpy as np
from msgspec import Struct
from numpy.typing import ArrayLike, NDArray

Array = NDArray[np.float64]


class Misalignment(Struct, frozen=True):
    """Angle between bolt and joint bore at frame and axle end, rad, ``(stations,)`` each; ``twist`` what is left for
    bushings, rad.
    """

    frame: Array
    axle: Array
    twist: Array


def joint_misalignment(
    along: Array,
    frame_bolt: Array,
    axle_bolt: Array,
    clocked: ArrayLike,
    frame_bushing: ArrayLike = False,
    axle_bushing: ArrayLike = False,
) -> Misalignment:
    """Misalignment of both ends of links at poses.

    ``along`` from frame to axle, ``frame_bolt`` and ``axle_bolt`` unit bolt axes as they stand, ``(..., 3)``;
    ``clocked`` how far the axle joint's bore is turned about the link against the frame joint's, rad; which ends are
    bushings; these broadcast to ``(...)``. A bore stands square to its link. With bolts at angles α about the link
    and c = their part across it, the lean at a spin φ is acos(c·|cos(φ − α)|): spin is free, and the one is taken
    that makes the larger of both ends smallest. An end with a bushing holds the spin, so the other takes all the
    turn. Degenerate: a bolt along the link leans 90° whatever the spin. ``frame_bushing`` and ``axle_bushing`` say
    which ends are bushings.

    >>> link, up = np.array([1.0, 0.0, 0.0]), np.array([0.0, 0.0, 1.0])
    >>> tilted = np.array([0.1, 0.0, 1.0]) / np.hypot(0.1, 1.0)
    >>> joint_misalignment(link, tilted, up, 0.0).frame.round(4).tolist()
    0.0997
    """
    u = along / np.linalg.norm(along, axis=-1, keepdims=True)
    e1, e2 = _across(u)
    (c_f, a_f), (c_a, a_a) = _split(frame_bolt, e1, e2), _split(axle_bolt, e1, e2)
    d = a_a - np.asarray(clocked) - a_f
    d = (d + np.pi / 2) % np.pi - np.pi / 2  # a bolt has no head and tail
    with np.errstate(divide="ignore", invalid="ignore"):
        x = np.arctan((c_f - c_a * np.cos(d)) / (c_a * np.sin(d)))
    low, high = np.minimum(0.0, d), np.maximum(0.0, d)
    # the lean at the frame grows away from 0, at the axle away from d: the best lies where both are alike, or at the
    # end that is worse anyway
    at_zero = np.arccos(np.clip(c_f, -1, 1)) >= np.arccos(np.clip(c_a * np.cos(d), -1, 1))
    at_d = np.arccos(np.clip(c_a, -1, 1)) >= np.arccos(np.clip(c_f * np.cos(d), -1, 1))
    x = np.where(np.isfinite(x), np.clip(x, low, high), 0.5 * d)
    x = np.where(at_zero, 0.0, np.where(at_d, d, x))
    held_f, held_a = np.asarray(frame_bushing, bool), np.asarray(axle_bushing, bool)
    x = np.where(held_f & held_a, 0.5 * d, np.where(held_f, 0.0, np.where(held_a, d, x)))
    frame = np.arccos(np.clip(c_f * np.cos(x), -1.0, 1.0))
    axle = np.arccos(np.clip(c_a * np.cos(d - x), -1.0, 1.0))
    return Misalignment(frame, axle, np.where(held_f & held_a, np.abs(d), 0.0))


SPINS = 181
"""Spins looked at about a link whose joints have a built-in angle, and again around the best of them."""


def set_joint_misalignment(
    along: Array,
    frame_bolt: Array,
    axle_bolt: Array,
    clocked: float,
    built: tuple[float, float],
    bushings: tuple[bool, bool] = (False, False),
) -> Misalignment:
    """As :func:`joint_misalignment` for one link whose bores are not square to it: ``built`` rad at the frame and the
    axle end, the bore tipped along the link toward its axle end (+).

    A bore at spin φ is cos δ·n(φ) + sin δ·u with n square to the link u; the lean is acos |bolt · bore|. Spin is free
    and searched for the smallest of the larger lean (181 spins, then again around the best, and once more: within a
    hundredth of a degree); a bushing holds it. ``along``, ``frame_bolt``, ``axle_bolt`` ``(stations, 3)``, ``clocked``
    rad, ``bushings`` which ends are. Source: spatial trigonometry. Degenerate: with no built-in angle it is the other
    function's answer.

    >>> link, bolt = np.array([[1.0, 0.0, 0.0]]), np.array([[0.0, 1.0, 0.0]])
    >>> set_joint_misalignment(link, bolt, bolt, 0.0, (0.2, 0.0)).frame.round(4).tolist()
    [0.2]
    """
    u = along / np.linalg.norm(along, axis=-1, keepdims=True)
    e1, e2 = _across(u)

    def lean(bolt: Array, spin: Array, delta: float) -> Array:
        across = (bolt * e1).sum(-1)[:, None] * np.cos(spin) + (bolt * e2).sum(-1)[:, None] * np.sin(spin)
        on = np.cos(delta) * across + np.sin(delta) * (bolt * u).sum(-1)[:, None]
        return np.asarray(np.arccos(np.clip(np.abs(on), -1.0, 1.0)))

    (_, a_f), (_, a_a) = _split(frame_bolt, e1, e2), _split(axle_bolt, e1, e2)
    start, half = np.zeros(len(u)), np.pi
    if bushings[0]:
        start, half = a_f, 0.0
    elif bushings[1]:
        start, half = a_a - clocked, 0.0
    for _ in range(3 if half else 1):
        spins = start[:, None] + np.linspace(-half, half, SPINS if half else 1)
        both = lean(frame_bolt, spins, built[0]), lean(axle_bolt, spins + clocked, built[1])
        best = np.argmin(np.maximum(*both), axis=1)[:, None]
        start, half = np.take_along_axis(spins, best, axis=1)[:, 0], half / 60.0
    frame, axle = (np.take_along_axis(b, best, axis=1)[:, 0] for b in both)
    if bushings[0] and bushings[1]:
        turned = (a_a - clocked - a_f + np.pi / 2) % np.pi - np.pi / 2
        return Misalignment(frame, axle, np.abs(turned))
    return Misalignment(frame, axle, np.zeros(len(u)))


def best_clock(along: Array, frame_bolt: Array, axle_bolt: Array) -> Array:
    """The turn between both joints, rad ``(...)``, that leaves no spin to share at one pose (ride height); each
    argument ``(..., 3)``.

    ``along`` the links, ``frame_bolt`` and ``axle_bolt`` unit axes.

    >>> best_clock(np.array([1.0, 0.0, 0.0]), np.array([0.0, 1.0, 0.0]), np.array([0.0, 0.0, 1.0])).round(4).tolist()
    1.5708
    """
    e1, e2 = _across(along / np.linalg.norm(along, axis=-1, keepdims=True))
    (_, a_f), (_, a_a) = _split(frame_bolt, e1, e2), _split(axle_bolt, e1, e2)
    return np.asarray(a_a - a_f)


def _split(bolt: Array, e1: Array, e2: Array) -> tuple[Array, Array]:
    p, q = (bolt * e1).sum(-1), (bolt * e2).sum(-1)
    return np.hypot(p, q), np.arctan2(q, p)


def _across(u: Array) -> tuple[Array, Array]:
    """Two directions across the link that turn with it smoothly: away from straight up."""
    up = np.where(np.abs(u[..., 2:3]) < 0.9, np.array([0.0, 0.0, 1.0]), np.array([1.0, 0.0, 0.0]))
    e1 = _cross(up, u)
    e1 /= np.linalg.norm(e1, axis=-1, keepdims=True)
    return e1, _cross(u, e1)


def _cross(a: Array, b: Array) -> Array:
    """Cross product without numpy's bookkeeping, which costs more than the arithmetic here."""
    ax, ay, az, bx, by, bz = a[..., 0], a[..., 1], a[..., 2], b[..., 0], b[..., 1], b[..., 2]
    return np.stack([ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx], axis=-1)
