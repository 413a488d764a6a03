"""An axle as it was built: fitted to every reading of it, with what each reading is worth, held against the plan."""

from __future__ import annotations

import math
from typing import Literal

import msgspec
import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.linkage.leaf_axle import LeafAxle, leaf_axle
from stoutlink.core.analysis.linkage.uncertainty import cases_of, headlines
from stoutlink.core.analysis.log.built_model import PINION, USUAL, BuiltPoints, Observation, model_of
from stoutlink.core.analysis.log.built_readings import built_observations
from stoutlink.core.analysis.vehicle.rig_readings import rig_cases
from stoutlink.core.document.headline import DEGREE
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.leaf_eyes import LEAF_POINTS, leaf_with
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.mechanics.adjustment import Snooped, noticed, snooped

Array = NDArray[np.float64]
Standing = Literal["wrong", "doubtful", "unchecked", "hardly", "agrees"]
HARDLY = 0.1
"""Redundancy below which a reading is hardly checked: an error of it shows by less than a tenth."""
UNCHECKED = 0.01
"""Redundancy below which nothing checks a reading."""
LINK_NUMBERS = ("drive", "brake", "roll_centre", "inclination", "steer", "hold")


class Judged(Struct, frozen=True):
    """One reading against the rest: fitted less read, redundancy, w (``None`` where not checked), the error it shows and its 1 σ when it is
    ``wrong``, the least error that would be found, and readings it cannot be told from: ``doubtful`` is one of several of which one cannot be
    right; none of these counts."""

    one: Observation
    standing: Standing
    residual: float
    redundancy: float
    w: float | None
    error: float | None
    error_sigma: float | None
    least: float
    either: tuple[str, ...] = ()


class BuiltPlace(Struct, frozen=True):
    """A coordinate, or the pinion's angle: planned and as built, with 1 σ; ``None`` where nothing was read that settles it."""

    point: str
    name: str
    axis: int
    planned: float
    built: float
    sigma: float | None


class BuiltNumber(Struct, frozen=True):
    """A number planned and as built, in its own unit, each with 1 σ; ``rests`` is the part of the as-built variance that is not read
    but taken as well placed as planned."""

    id: str
    planned: float
    built: float
    sigma: float
    rests: float


class BuiltAxle(Struct, frozen=True):
    """An axle as built. ``covariance`` of all unknowns ``(n, n)``, what is read and what is only placed together."""

    end: str
    points: BuiltPoints
    observations: tuple[Observation, ...]
    found: Snooped
    judged: tuple[Judged, ...]
    places: tuple[BuiltPlace, ...]
    numbers: tuple[BuiltNumber, ...]
    lengths: tuple[BuiltNumber, ...]
    layout: Layout
    rig: Rig
    covariance: Array
    slopes: dict[str, Array]
    """How each number moves with every unknown ``(n,)``."""

    @property
    def wrong(self) -> tuple[Judged, ...]:
        """Readings that cannot be right."""
        return tuple(j for j in self.judged if j.standing == "wrong")

    @property
    def suspects(self) -> tuple[Judged, ...]:
        """Readings that cannot be right, and those of which one cannot be, while nothing says which."""
        return self.wrong + tuple(j for j in self.judged if j.standing == "doubtful")

    @property
    def unchecked(self) -> tuple[Judged, ...]:
        """Readings nothing checks."""
        return tuple(j for j in self.judged if j.standing == "unchecked")


def as_built(project: Project, rig: Rig, layout: Layout) -> BuiltAxle | None:
    """Fit an axle to its readings; ``None`` without any. ``rig`` is the rig in force. Source: weighted least squares with data snooping
    (Baarda 1968) over the equations of :mod:`built_model`."""
    points = BuiltPoints(rig, layout)
    stations = next((s for s in project.fabrication.stations if s.id == layout.end), None)
    shafts, down = project.card("driveline"), rig.drivetrain.output_down(layout.end)
    observations = built_observations(points, layout, project.log.built, stations, shafts, down)
    if not observations:
        return None
    read = np.array([o.value for o in observations])
    sigma = np.array([o.sigma for o in observations])
    scale = np.full(len(points.free), USUAL)
    found = snooped(model_of(points, observations), points.start, read, sigma, scale)
    x = found.fit.unknowns
    placed = project.log.built.placed_m / USUAL
    covariance = found.fit.covariance + placed**2 * found.fit.free @ found.fit.free.T
    built = built_layout(points, layout, x)
    axle_rig = built_rig(points, rig, x)
    values, slopes = number_slopes(project, rig, points, x)
    numbers = _numbers(project, rig, points, found, covariance, values, slopes)
    return BuiltAxle(
        layout.end,
        points,
        observations,
        found,
        _judge(observations, found),
        _places(points, found),
        numbers,
        _lengths(points, layout, x, found, covariance),
        built,
        axle_rig,
        covariance,
        slopes,
    )


def _judge(observations: tuple[Observation, ...], found: Snooped) -> tuple[Judged, ...]:
    fit, out = found.fit, []
    row = {int(k): i for i, k in enumerate(np.flatnonzero(found.used))}
    together = {k: group for n, k in enumerate(found.left_out) if found.either[n] for group in ((k, *found.either[n]),)}
    doubts = {k: group for group in together.values() for k in group}
    for k, one in enumerate(observations):
        others = tuple(observations[i].name for i in doubts.get(k, ()) if i != k)
        if k not in row and k not in found.left_out:
            out.append(Judged(one, "doubtful", math.nan, 0.0, None, None, None, math.inf, others))
            continue
        if k not in row:
            n = found.left_out.index(k)
            out.append(
                Judged(one, "doubtful" if others else "wrong", -found.errors[n], 1.0, found.errors[n] / found.error_sigmas[n], found.errors[n], found.error_sigmas[n], noticed(one.sigma, 1.0), others)
            )  # fmt: skip
            continue
        i = row[k]
        r = float(fit.redundancy[i])
        standing: Standing = "unchecked" if r < UNCHECKED else "hardly" if r < HARDLY else "agrees"
        w = float(fit.w[i])
        out.append(
            Judged(one, standing, float(fit.residual[i]), r, None if math.isnan(w) or r < UNCHECKED else w, None, None, noticed(one.sigma, r))
        )  # fmt: skip
    return tuple(out)


def _places(points: BuiltPoints, found: Snooped) -> tuple[BuiltPlace, ...]:
    fit, out = found.fit, []
    loose = np.abs(fit.free).max(axis=1, initial=0.0) > 1e-6 * USUAL
    for i, (name, axis) in enumerate(points.free):
        known = not loose[i]
        out.append(
            BuiltPlace(
                name,
                "Pinion" if name == PINION else points.names[name],
                axis,
                float(points.start[i]),
                float(fit.unknowns[i]),
                math.sqrt(max(0.0, float(fit.covariance[i, i]))) if known else None,
            )
        )
    return tuple(out)


def built_layout(points: BuiltPoints, layout: Layout, x: Array) -> Layout:
    """A layout like any other, its bolts where they were found; left and right each where it is. Leaf springs as the mean of both sides."""

    def at(name: str) -> tuple[float, float, float]:
        p = points.place(name, x)
        return float(p[0]), float(p[1]), float(p[2])

    links = tuple(
        msgspec.structs.replace(one, frame_pivot_m=at(f"{one.id}:frame"), axle_pivot_m=at(f"{one.id}:axle"))
        for one in layout.links
    )
    pinion = float(x[points.index[PINION, 0]]) - layout.pinion_up + layout.pinion_up_rad
    built = msgspec.structs.replace(
        layout, id=f"{layout.id[:40]}-built", name=f"{layout.name}, as built"[:120], mirrored=False, links=links, anchors=(), pinion_up_rad=pinion
    )  # fmt: skip
    for which in LEAF_POINTS if layout.leaf is not None else ():
        mean = 0.5 * (points.place(f"{which}:left", x) + points.place(f"{which}:right", x) * np.array([1.0, -1.0, 1.0]))
        leaf = leaf_with(built, which, (float(mean[0]), float(mean[1]), float(mean[2])), points.x0)
        built = msgspec.structs.replace(built, leaf=leaf)
    return built


def built_rig(points: BuiltPoints, rig: Rig, x: Array) -> Rig:
    """The rig with this axle's hubs as high as they were read."""
    high = float(np.mean([points.place(name, x)[2] for name in ("hub:left", "hub:right")]))
    end = msgspec.structs.replace(rig.end(points.end), loaded_radius_m=high)
    return msgspec.structs.replace(rig, **{points.end: end})


def _lengths(
    points: BuiltPoints, layout: Layout, x: Array, found: Snooped, covariance: Array
) -> tuple[BuiltNumber, ...]:
    out = []
    links = tuple(Observation("", "", "apart", f"{k.id}:frame", f"{k.id}:axle", 0.0, 1.0) for k in layout.links)
    if not links:
        return ()
    model = model_of(points, links)
    said, slope = model(x)
    planned, _ = model(points.start)
    for k, link in enumerate(layout.links):
        whole = float(slope[k] @ covariance @ slope[k])
        read = float(slope[k] @ found.fit.covariance @ slope[k])
        out.append(BuiltNumber(link.id, float(planned[k]), float(said[k]), math.sqrt(max(0.0, whole)), 1.0 - read / whole if whole > 0 else 0.0))  # fmt: skip
    return tuple(out)


def number_slopes(
    project: Project, rig: Rig, points: BuiltPoints, x: Array
) -> tuple[dict[str, float], dict[str, Array]]:
    """Headline numbers at ride, in their own units, and how each moves with every unknown ``(n,)``, by central differences."""
    n, step = len(x), 1e-5
    rows = np.repeat(x[None], 2 * n + 1, axis=0)
    rows[np.arange(n), np.arange(n)] += step
    rows[n + np.arange(n), np.arange(n)] -= step
    values = _many(project, rig, points, rows)
    return (
        {name: float(v[-1]) for name, v in values.items()},
        {name: (v[:n] - v[n : 2 * n]) / (2.0 * step) for name, v in values.items()},
    )


def _many(project: Project, rig: Rig, points: BuiltPoints, rows: Array) -> dict[str, Array]:
    layout, s = points.layout, project.settings
    pinion = rows[:, points.index[PINION, 0]] / DEGREE
    if layout.leaf is not None:
        found = [leaf_axle(project, built_rig(points, rig, x), built_layout(points, layout, x)) for x in rows]
        return {**_leaf_numbers(project, [one for one in found if one is not None]), "pinion_up": pinion}
    frame, axle = (
        np.stack([np.stack([points.place(f"{k.id}:{which}", x) for k in layout.links]) for x in rows])
        for which in ("frame", "axle")
    )
    cases = cases_of(
        [built_rig(points, rig, x) for x in rows], layout.end, frame, axle, s.thrust_school, s.height_school
    )
    found_numbers = headlines(layout.end, layout, project.linkage.joints, cases)
    out = {name: found_numbers[name] for name in LINK_NUMBERS}
    out["inclination"] = out["inclination"] / DEGREE
    return {**out, "pinion_up": pinion}


def _leaf_numbers(project: Project, found: list[LeafAxle]) -> dict[str, Array]:
    s = project.settings
    rows = [
        (
            one.drive_percent[s.thrust_school][s.height_school],
            one.brake_percent[s.height_school],
            one.roll_centre_line / one.rig.cg_height_m,
            one.roll_steer,
            one.wrap / DEGREE,
        )
        for one in found
    ]
    return dict(zip(("drive", "brake", "roll_centre", "steer", "wrap"), np.array(rows).T, strict=True))


def _numbers(
    project: Project,
    rig: Rig,
    points: BuiltPoints,
    found: Snooped,
    covariance: Array,
    values: dict[str, float],
    slopes: dict[str, Array],
) -> tuple[BuiltNumber, ...]:
    planned = {k: float(v[0]) for k, v in _many(project, rig, points, points.start[None]).items()}
    other = _rig_variance(project, rig, points, found.fit.unknowns)
    out = []
    for name, value in values.items():
        g = slopes[name]
        whole, read = float(g @ covariance @ g), float(g @ found.fit.covariance @ g)
        total = whole + other.get(name, 0.0)
        out.append(BuiltNumber(name, planned[name], value, math.sqrt(max(0.0, total)), (whole - read) / total if total > 0 else 0.0))  # fmt: skip
    return tuple(out)


def _rig_variance(project: Project, rig: Rig, points: BuiltPoints, x: Array) -> dict[str, float]:
    """What the rig's own readings (weight, balance point, wheelbase) add to the variance of each number; the loaded radius counts
    only where no hub was read."""
    if points.layout.leaf is not None:
        return {}
    cases = [c for c in rig_cases(project) if not c.path.startswith(f"rig.{points.end}.")]
    if not cases:
        return {}
    layout, s = points.layout, project.settings
    end = built_rig(points, rig, x).end(points.end)
    rigs = [msgspec.structs.replace(r, **{points.end: end}) for c in cases for r in (c.up, c.down)]
    frame, axle = (
        np.repeat(np.stack([points.place(f"{k.id}:{which}", x) for k in layout.links])[None], len(rigs), axis=0)
        for which in ("frame", "axle")
    )
    if points.end == "front":  # the axle's centre and its bolts move together with the wheelbase
        along = np.array([r.wheelbase_m - rig.wheelbase_m for r in rigs])
        frame, axle = frame + along[:, None, None] * [1.0, 0.0, 0.0], axle + along[:, None, None] * [1.0, 0.0, 0.0]
    found = headlines(layout.end, layout, project.linkage.joints, cases_of(rigs, layout.end, frame, axle, s.thrust_school, s.height_school))  # fmt: skip
    out = {name: float((((found[name][0::2] - found[name][1::2]) / 2.0) ** 2).sum()) for name in LINK_NUMBERS}
    out["inclination"] /= DEGREE**2
    return out
