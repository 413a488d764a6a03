"""Does the bar set hold the axle, and how hard sideways?

Source: rank of the constraint Jacobian.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from stoutlink.core.errors import GeometryError
from stoutlink.core.quantity.shown import show_both

Array = NDArray[np.float64]

FREE = 1e-6
"""Smallest singular value below this: a motion is free."""
WEAK = 0.05
"""Below this: a motion is barely held; warn."""
ARM = 0.5
"""Moments are divided by this length, m, before singular values are compared."""


def smallest_singular(rows: Array) -> Array:
    """Smallest singular value of the unit-bar Jacobian at each pose.

    ``rows`` on (v_x, v_y, ω_z, ω_yb), shape ``(..., n, 4)``, moments in m; they are divided by 0.5 m. Fewer than
    four bars give 0. Not-a-number rows give nan.

    >>> float(smallest_singular(np.diag([1.0, 1.0, 0.5, 0.5])))
    1.0
    """
    if rows.shape[-2] < 4:
        return np.zeros(rows.shape[:-2])
    scaled = rows / np.array([1.0, 1.0, ARM, ARM])
    gone = np.asarray(~np.isfinite(scaled).all(axis=(-1, -2)))
    scaled = np.where(gone[..., None, None], 0.0, scaled)
    values = np.linalg.svd(scaled, compute_uv=False)[..., -1]
    return np.where(gone, np.nan, values)


def free_motion(rows: Array) -> str | None:
    """Say in words what nothing holds, or ``None`` when the bars hold the axle. ``rows`` is ``(n, 4)`` at one pose.

    The motion is named from the null vector of the Jacobian (v_x, v_y, ω_z, ω_y; moments divided by 0.5 m).

    >>> free_motion(np.array([[1.0, 0.0, 0.0, 0.3], [1.0, 0.0, 0.0, -0.2], [1.0, 0.0, 0.5, 0.0], [1.0, 0.0, -0.5, 0.0]]))
    'nothing holds the axle sideways'
    """
    scaled = rows / np.array([1.0, 1.0, ARM, ARM])
    full = np.zeros((max(4, len(scaled)), 4))
    full[: len(scaled)] = scaled
    _, values, vectors = np.linalg.svd(full)
    if values[3] >= FREE:
        return None
    loose = int((values < FREE).sum())
    v_x, v_y, yaw, pitch = vectors[3]
    if len(rows) < 4:
        return f"{len(rows)} bars cannot hold an axle, which needs at least four"
    if loose > 1:
        return f"{loose} motions of the axle are free"
    if abs(pitch) >= max(abs(v_y), abs(yaw)):
        return "nothing stops the axle housing from turning about its tube"
    if abs(v_x) > max(abs(v_y), abs(yaw)):
        return "nothing holds the axle fore and aft"
    if abs(yaw) > 0.05 * abs(v_y):
        ahead = -(v_y / yaw) * ARM
        where = f"{show_both(abs(ahead), 'length')} {'ahead of' if ahead > 0 else 'behind'}"
        return f"nothing stops the axle from steering about a point {where} its centre"
    return "nothing holds the axle sideways"


def require_held(rows: Array, what: str = "The layout") -> None:
    """Raise :class:`GeometryError` naming the free motion when bars at a pose (``(n, 4)``) leave one.

    ``rows`` as above; ``what`` begins the sentence.

    >>> require_held(np.diag([1.0, 1.0, 0.5, 0.5]))
    """
    words = free_motion(rows)
    if words is not None:
        raise GeometryError(
            "G110",
            f"{what} does not hold the axle: {words}.",
            "Change a pivot or add a bar; nothing is computed meanwhile.",
        )


def side_force(rows: Array, stiffness: Array) -> tuple[Array, Array]:
    """Bar forces for a unit side force at the axle centre, and the side movement per newton.

    ``rows`` ``(..., n, 4)``, ``stiffness`` ``(n,)`` N/m. Heave is held by a vertical force and roll by a moment at C.
    Returns forces ``(..., n)`` (tension +, N/N) and Σ n²/k ``(...)`` in m/N. Four bars: statics alone; more: shared by
    stiffness (least work). Source: statics and Castigliano's theorem, any text.

    >>> forces, give = side_force(np.diag([1.0, 1.0, 0.5, 0.5]), np.full(4, 1e6))
    >>> float(give)
    1e-06
    """
    weighted = rows * stiffness[..., :, None]
    normal = np.swapaxes(rows, -1, -2) @ weighted
    gone = np.asarray(~np.isfinite(normal).all(axis=(-1, -2)))
    normal = np.where(gone[..., None, None], np.eye(4), normal)
    side = np.zeros((*normal.shape[:-1], 1))
    side[..., 1, 0] = 1.0
    moved = np.linalg.solve(normal, side)
    forces = np.where(gone[..., None], np.nan, (weighted @ moved)[..., 0])
    with np.errstate(invalid="ignore"):
        give = (forces**2 / stiffness).sum(axis=-1)
    return forces, give
