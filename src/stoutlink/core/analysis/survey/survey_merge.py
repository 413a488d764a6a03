"""A second survey laid onto the first by the points both have."""

from __future__ import annotations

import math

import msgspec
import numpy as np
from msgspec import Struct

from stoutlink.core.analysis.survey.survey_points import Placed, place_survey, read_point
from stoutlink.core.document.survey import Datum, Survey
from stoutlink.core.errors import GeometryError
from stoutlink.core.geometry.planar_fit import planar_fit
from stoutlink.core.mechanics.tape import datum_of_motion


class Residual(Struct, frozen=True):
    """What is left at one shared point, m, first survey minus second after the fit; ``worth`` is its size over its
    own σ.
    """

    name: str
    along: float
    up: float
    across: float | None
    worth: float


class Merge(Struct, frozen=True):
    """The second survey's transform after fitting, and how well it fits.

    ``rms`` m over all shared points, along and up. ``rake_fixed`` is False when the shared points could not fix the
    rake (one point).
    """

    datum: Datum
    residuals: tuple[Residual, ...]
    rms: float
    rake_fixed: bool

    @property
    def worst(self) -> Residual:
        """The shared point that fits worst."""
        return max(self.residuals, key=lambda r: r.worth)


def merge_survey(first: tuple[Placed, ...], second: Survey, wheelbase: float) -> Merge:
    """Fit ``second`` onto points already placed, by shared names, least squares weighted with 1/σ².

    The side view's rigid motion (along, up, rake) becomes the datum's zero and rises; offsets of single sides fit the
    centreline. Only frame points count (axle points do not ride with the frame), and only those with station and
    height. Raises :class:`GeometryError` when no such point is shared, or when a name stands for several places.
    """
    known = _by_name(first)
    taken = _by_name(place_survey(second, wheelbase))
    shared = [name for name in taken if name in known]
    if not shared:
        raise GeometryError(
            "S140",
            f"{second.name} shares no named frame point with the survey it should join.",
            "Give one point the same name in both.",
        )
    sign = 1.0 if second.datum.direction == "forward" else -1.0
    raw, goal, weight = [], [], []
    for name in shared:
        mine, other = read_point(taken[name].point), read_point(known[name].point)
        assert mine.station is not None
        assert mine.height is not None
        assert other.station is not None
        assert other.height is not None
        raw.append((sign * mine.station.centre, mine.height.centre))
        goal.append((known[name].x, known[name].z))
        weight.append(1.0 / math.fsum(v.sigma**2 for v in (mine.station, mine.height, other.station, other.height)))
    fit = planar_fit(np.array(raw), np.array(goal), np.array(weight))
    zero, front, rear = datum_of_motion(fit.rotation, fit.shift, wheelbase)
    centre = _centreline(shared, known, taken)
    datum = msgspec.structs.replace(
        second.datum,
        zero_x_m=zero,
        front_rise_m=front,
        rear_rise_m=rear,
        centre_offset_m=second.datum.centre_offset_m + centre,
    )
    residuals = []
    for i, name in enumerate(shared):
        along, up = (float(v) for v in fit.residual[i])
        across = _side_gap(known[name], taken[name])
        residuals.append(
            Residual(
                taken[name].point.name,
                along,
                up,
                None if across is None else across - centre,
                math.hypot(along, up) * math.sqrt(weight[i]),
            )
        )
    rms = float(np.sqrt((fit.residual**2).sum(axis=1).mean()))
    return Merge(datum, tuple(residuals), rms, fit.turned)


def _by_name(points: tuple[Placed, ...]) -> dict[str, Placed]:
    out: dict[str, Placed] = {}
    for one in points:
        name = one.point.name.strip().casefold()
        if not name or one.z is None or one.point.kind == "axle":
            continue
        if one.point.across in ("left", "right"):
            name = f"{name} · {one.point.across}"
        if name in out:
            raise GeometryError(
                "S141",
                f"“{one.point.name}” names more than one place, so it cannot join two surveys.",
                "Give each place its own name.",
            )
        out[name] = one
    return out


def _side_gap(first: Placed, second: Placed) -> float | None:
    if len(first.sides) == 1 and len(second.sides) == 1:
        return first.sides[0] - second.sides[0]
    return None


def _centreline(shared: list[str], known: dict[str, Placed], taken: dict[str, Placed]) -> float:
    gaps = [
        gap
        for name in shared
        if (gap := _side_gap(known[name], taken[name])) is not None and known[name].point.across != "middle"
    ]
    return math.fsum(gaps) / len(gaps) if gaps else 0.0
