"""What a photograph of a plane says: the fit to its marks, and places of what is traced, with their ±."""

from __future__ import annotations

import math
from collections.abc import Iterable

import numpy as np
from msgspec import Struct

from stoutlink.core.analysis.survey.survey_points import Placed
from stoutlink.core.document.default_sigma import TAPE, sigma_of
from stoutlink.core.document.plane_picture import PictureMark, PlanePicture, Traced
from stoutlink.core.document.project import Entry, Project
from stoutlink.core.mechanics.photo_plane import (
    PlanePhoto,
    PlaneRefused,
    Refusal,
    fit_plane,
    places_of,
)
from stoutlink.core.quantity.shown import show

ALONG = {"side": -1.0, "plan": 1.0, "rear": 1.0}
"""Across × up of the two coordinates of a view, against the vehicle axis across it: x × z looks to the right."""
ACROSS = {"side": 1, "plan": 2, "rear": 0}
"""The vehicle axis across a view."""
AXES = {"side": (0, 2), "plan": (0, 1), "rear": (1, 2)}
"""The vehicle axes in a view's plane."""
NEAR_PLANE = 0.03
"""What is known within this of the plane, m, may be a mark of it."""
LEAST = 0.001
"""No place is known better than this, m, 1 σ."""
IN_PLANE = 1e-4
"""What stands less than this off the plane, m, is in it."""


class PictureFit(Struct, frozen=True, eq=False):
    """The fit of one picture to its marks, those that count; ``why`` there is none."""

    picture: PlanePicture
    marks: tuple[PictureMark, ...]
    fit: PlanePhoto | None
    why: Refusal | None = None


class Place(Struct, frozen=True):
    """A place in the plane's two coordinates, m, with 1 σ of each; ``why`` it cannot be had. ``beyond``: outside the marks, where errors
    grow (they are in the ±)."""

    at: tuple[float, float]
    sigma: tuple[float, float]
    why: Refusal | None = None
    beyond: bool = False


class TracedPlaces(Struct, frozen=True):
    """The corners of what is traced, and how far across the view it stands, m, with 1 σ; ``None`` while nobody has said where the plane lies."""

    traced: Traced
    places: tuple[Place, ...]
    across: float | None
    across_sigma: float

    @property
    def why(self) -> Refusal | None:
        """The first reason why it cannot be had."""
        return next((p.why for p in self.places if p.why is not None), None)

    @property
    def worst(self) -> float:
        """The largest 1 σ of all its coordinates, m."""
        return max((s for p in self.places for s in p.sigma), default=0.0)


def picture_notes(entries: Iterable[Entry], picture_id: str) -> tuple[Entry, ...]:
    """The notes on a picture's numbers."""
    head = f"photos.{picture_id}."
    return tuple(e for e in entries if e.field.startswith(head))


def fit_picture(picture: PlanePicture, entries: Iterable[Entry]) -> PictureFit:
    """Fit a picture to its marks; ``entries`` hold the ± of their places."""
    kept = tuple(entries)
    marks = picture.placed
    plane = np.array([m.place for m in marks], dtype=float).reshape(-1, 2)
    pixels = np.array([m.pixel for m in marks], dtype=float).reshape(-1, 2)
    sigma = np.array([_mark_sigma(picture, m, kept) for m in marks], dtype=float).reshape(-1, 2)
    size = (picture.wide_px, picture.high_px)
    try:
        fit = fit_plane(plane, sigma, pixels, picture.click_px, size, straight=picture.straight)
    except (PlaneRefused, np.linalg.LinAlgError) as why:
        return PictureFit(picture, marks, None, why.why if isinstance(why, PlaneRefused) else "no_fit")
    return PictureFit(picture, marks, fit)


def _mark_sigma(picture: PlanePicture, mark: PictureMark, entries: tuple[Entry, ...]) -> tuple[float, float]:
    head = f"photos.{picture.id}.marks.{mark.id}"
    return sigma_of(f"{head}.across_m", mark.across_m or 0.0, entries), sigma_of(
        f"{head}.up_m", mark.up_m or 0.0, entries
    )


def places_at(
    found: PictureFit, pixels: tuple[tuple[float, float], ...], off: float = 0.0, off_sigma: float = 0.0
) -> tuple[Place, ...]:
    """Where pixels lie when they stand ``off`` the plane, m, 1 σ ``off_sigma``, along the vehicle axis across the view."""
    picture, fit = found.picture, found.fit
    if fit is None:
        return (_none(found.why),) * len(pixels)
    away = 0.0 if abs(off) < IN_PLANE else ALONG[picture.view] * off
    try:
        at, covariance, why = places_of(fit, np.array(pixels), picture.click_px, away, off_sigma, picture.focal_mm)
    except (PlaneRefused, np.linalg.LinAlgError) as refused:
        return (_none(refused.why if isinstance(refused, PlaneRefused) else "no_fit"),) * len(pixels)
    sigma = np.sqrt(np.maximum(np.diagonal(covariance, axis1=1, axis2=2), 0.0))
    marks = np.array([m.place for m in found.marks])
    low, high = marks.min(axis=0), marks.max(axis=0)
    beyond = ((at < low - 0.1 * (high - low)) | (at > high + 0.1 * (high - low))).any(axis=1)
    sure = np.isfinite(np.hstack([at, sigma])).all(axis=1)
    return tuple(
        _none(no)
        if no is not None
        else Place((float(a[0]), float(a[1])), (float(s[0]), float(s[1])), None, bool(out))
        if fine
        else _none("no_fit")
        for a, s, no, out, fine in zip(at, sigma, why, beyond, sure, strict=True)
    )


def _none(why: Refusal | None) -> Place:
    return Place((0.0, 0.0), (0.0, 0.0), why)


def trace(found: PictureFit, entries: Iterable[Entry]) -> tuple[TracedPlaces, ...]:
    """Everything traced from a picture."""
    kept = tuple(entries)
    picture, out = found.picture, []
    depth = picture.depth_m
    depth_sigma = 0.0 if depth is None else sigma_of(f"photos.{picture.id}.depth_m", depth, kept)
    for one in picture.traced:
        path = f"photos.{picture.id}.traced.{one.id}.off_m"
        off_sigma = 0.0 if abs(one.off_m) < IN_PLANE else sigma_of(path, one.off_m, kept)
        places = places_at(found, one.pixels, one.off_m, off_sigma)
        out.append(
            TracedPlaces(one, places, None if depth is None else depth + one.off_m, math.hypot(depth_sigma, off_sigma))
        )
    return tuple(out)


class Known(Struct, frozen=True):
    """A place of the rig that is known and lies near a picture's plane: what a mark may stand on."""

    name: str
    at: tuple[float, float]
    sigma: tuple[float, float]


def known_places(
    project: Project, picture: PlanePicture, placed: Iterable[Placed], *, wheels: bool = True
) -> tuple[Known, ...]:
    """Wheel centres and surveyed points within :data:`NEAR_PLANE` of a picture's plane, in its two coordinates; ``placed`` are the surveys' points,
    ``wheels``: somebody has said where they stand."""
    if picture.depth_m is None:
        return ()
    depth, across, axes = picture.depth_m, ACROSS[picture.view], AXES[picture.view]
    rig, out = project.rig, []
    base = sigma_of("rig.wheelbase_m", rig.wheelbase_m, project.entries)
    stand = () if not wheels else (("rear", 0.0, 0.0, rig.rear), ("front", rig.wheelbase_m, base, rig.front))
    for name, x, sx, end in stand:
        half = 0.5 * end.track_m
        for side, y in (("left", half), ("right", -half)):
            out.append((f"{name} wheel centre, {side}", (x, y, end.loaded), (sx, TAPE, TAPE)))
    for one in placed:
        if one.z is None:
            continue
        for y in one.sides:
            side = "" if abs(y) < NEAR_PLANE else ", left" if y > 0.0 else ", right"
            name = one.point.name.strip() or f"{show(one.x, 'length', project.settings.units)} ahead of the axle"
            out.append((name + side, (one.x, y, one.z), one.sigma))
    return tuple(
        Known(name, (at[axes[0]], at[axes[1]]), (max(sigma[axes[0]], LEAST), max(sigma[axes[1]], LEAST)))
        for name, at, sigma in out
        if abs(at[across] - depth) <= NEAR_PLANE
    )
