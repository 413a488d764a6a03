"""The hand constructions of one layout, and where they part from the true motion."""

from __future__ import annotations

from msgspec import Struct

from stoutlink.core.document.layout import Layout, Link
from stoutlink.core.mechanics.linkage import construction as board


class PairAngles(Struct, frozen=True):
    """Plan-view angles of one pair, rad: each link to the centreline, and between the two."""

    role: str
    left: float
    right: float
    included: float


class Constructions(Struct, frozen=True):
    """Drawing-board points, m and rad; ``None`` where the lines are parallel or the layout has no such pair."""

    projected_centre: tuple[float, float] | None
    upper_apex: board.Triple | None
    lower_apex: board.Triple | None
    roll_axis: tuple[board.Triple, float] | None
    panhard_on_centreline: tuple[float, float] | None
    plan_angles: dict[str, float]
    pairs: tuple[PairAngles, ...]
    triangulation: float
    """Sum of the included angles of all pairs, rad (the trade's measure; it does not see pairs that oppose each
    other).
    """


def constructions(layout: Layout) -> Constructions:
    """Draw what can be drawn for this layout with a straight edge."""
    upper, lower = _pair(layout, "upper"), _pair(layout, "lower") or _pair(layout, "arm")
    singles = [one for one in layout.links if one.role == "upper"]
    top = board.mean_bar(*upper) if upper else (_bar(singles[0]) if len(singles) == 1 else None)
    bottom = board.mean_bar(*lower) if lower else None
    panhard = next((_bar(one) for one in layout.links if one.role == "panhard"), None)
    pairs = []
    for role, pair in (("upper", upper), ("lower", lower)):
        if pair:
            pairs.append(
                PairAngles(role, board.plan_angle(pair[0]), board.plan_angle(pair[1]), board.included_angle(*pair))
            )
    return Constructions(
        projected_centre=board.projected_centre(top, bottom) if top and bottom and not _upright(top, bottom) else None,
        upper_apex=board.plan_apex(*upper) if upper and _plan(upper) else None,
        lower_apex=board.plan_apex(*lower) if lower and _plan(lower) else None,
        roll_axis=board.roll_axis_of_pairs(upper, lower)
        if upper and lower and _plan(upper) and _plan(lower) and not panhard
        else None,
        panhard_on_centreline=board.centreline_height(panhard) if panhard else None,
        plan_angles={one.id: board.plan_angle(_bar(one)) for one in layout.links},
        pairs=tuple(pairs),
        triangulation=sum(p.included for p in pairs),
    )


def _bar(link: Link) -> board.Bar:
    return link.frame_pivot_m, link.axle_pivot_m


def _pair(layout: Layout, role: str) -> tuple[board.Bar, board.Bar] | None:
    left = [one for one in layout.links if one.role == role and one.side == "left"]
    right = [one for one in layout.links if one.role == role and one.side == "right"]
    return (_bar(left[0]), _bar(right[0])) if len(left) == 1 and len(right) == 1 else None


def _upright(*bars: board.Bar) -> bool:
    """A bar seen end-on from the side has no line there."""
    return any(abs(a[0] - b[0]) + abs(a[2] - b[2]) < 1e-9 for a, b in bars)


def _plan(pair: tuple[board.Bar, board.Bar]) -> bool:
    return all(abs(a[0] - b[0]) > 1e-9 for a, b in pair)
