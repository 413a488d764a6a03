"""Weight and its heights: the two schools of centre of gravity, and the shares of thrust.

Source: common practice and Gillespie ch. 1.
"""

from __future__ import annotations


def sprung_height(mass: float, height: float, unsprung: tuple[tuple[float, float], ...]) -> float:
    """Height of the sprung mass's centre of gravity, m: h_s = (W·h − Σ w_u·r_u)/(W − Σ w_u).

    ``mass`` in kg, ``height`` of the whole rig in m, ``unsprung`` pairs of mass (kg) and height (m).
    Raises ``ValueError`` when nothing is sprung. Source: statics.

    >>> round(sprung_height(2000, 0.8, ((250, 0.45), (250, 0.45))), 4)
    0.9167
    """
    rest = mass - sum(m for m, _ in unsprung)
    if rest <= 0:
        raise ValueError("the unsprung masses are heavier than the rig")
    return (mass * height - sum(m * r for m, r in unsprung)) / rest


def thrust_share(school: str, own_load_share: float) -> float:
    """Part of the whole thrust that one axle makes, 0 to 1.

    ``full_thrust``: each axle judged as if it made all of it (common practice). ``shared_locked``: one speed and like
    slip, so in proportion to load. ``shared_open``: an open centre, half each. Raises ``ValueError`` for another
    name. ``school`` is one of these, ``own_load_share`` the part of the weight on this axle.

    >>> thrust_share("shared_locked", 0.45)
    0.45
    """
    if school == "full_thrust":
        return 1.0
    if school == "shared_locked":
        return own_load_share
    if school == "shared_open":
        return 0.5
    raise ValueError(school)
