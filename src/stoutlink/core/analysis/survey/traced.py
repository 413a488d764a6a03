"""What a photograph of a plane says: the fit to its marks, and places of what is traced, with their ±."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from stoutlink.core.document.default_sigma import sigma_of
from stoutlink.core.document.plane_picture import PlanePicture, Traced
from stoutlink.core.document.project import Entry
from stoutlink.core.mechanics.photo_plane import (
    PlanePhoto,
    PlaneRefused,
    Refusal,
    fit_plane,
    place_of,
    place_off,
)

ALONG = {"side": -1.0, "plan": 1.0, "rear": 1.0}
"""Across × up of the two coordinates of a view, against the vehicle axis across it: x × z looks to the right."""
ACROSS = {"side": 1, "plan": 2, "rear": 0}
"""The vehicle axis across a view."""
IN_PLANE = 1e-4
"""What stands less than this off the plane, m, is in it."""


@dataclass(frozen=True, eq=False)
class PictureFit:
    """The fit of one picture; ``why`` there is none. ``odd`` names the marks that cannot be right."""

    picture: PlanePicture
    fit: PlanePhoto | None
    why: Refusal | None = None


@dataclass(frozen=True)
class Place:
    """A place in the plane's two coordinates, m, with 1 σ of each; ``why`` it cannot be had. ``beyond``: outside the marks, where errors
    grow (they are in the ±)."""

    at: tuple[float, float]
    sigma: tuple[float, float]
    why: Refusal | None = None
    beyond: bool = False


@dataclass(frozen=True)
class TracedPlaces:
    """The corners of what is traced."""

    traced: Traced
    places: tuple[Place, ...]

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
    plane = np.array([m.at_m for m in picture.marks], dtype=float).reshape(-1, 2)
    pixels = np.array([m.pixel for m in picture.marks], dtype=float).reshape(-1, 2)
    sigma = np.array(
        [
            [sigma_of(f"photos.{picture.id}.marks.{m.id}.at_m.{k}", m.at_m[k], kept) for k in range(2)]
            for m in picture.marks
        ],
        dtype=float,
    ).reshape(-1, 2)
    size = (picture.wide_px, picture.high_px)
    try:
        fit = fit_plane(plane, sigma, pixels, picture.click_px, size, straight=picture.straight)
    except (PlaneRefused, np.linalg.LinAlgError) as why:
        return PictureFit(picture, None, why.why if isinstance(why, PlaneRefused) else "no_fit")
    return PictureFit(picture, fit)


def place_at(found: PictureFit, pixel: tuple[float, float], off: float = 0.0, off_sigma: float = 0.0) -> Place:
    """Where a pixel lies when it stands ``off`` the plane, m, 1 σ ``off_sigma``, along the vehicle axis across the view."""
    picture, fit = found.picture, found.fit
    if fit is None:
        return Place((0.0, 0.0), (0.0, 0.0), found.why)
    try:
        if abs(off) < IN_PLANE:
            at, covariance = place_of(fit, pixel, picture.click_px)
        else:
            at, covariance = place_off(
                fit, pixel, picture.click_px, ALONG[picture.view] * off, off_sigma, picture.focal_mm
            )
    except (PlaneRefused, np.linalg.LinAlgError) as why:
        return Place((0.0, 0.0), (0.0, 0.0), why.why if isinstance(why, PlaneRefused) else "no_fit")
    sigma = np.sqrt(np.maximum(np.diag(covariance), 0.0))
    if not (np.isfinite(at).all() and np.isfinite(sigma).all()):
        return Place((0.0, 0.0), (0.0, 0.0), "no_fit")
    marks = np.array([m.at_m for m in picture.marks])
    low, high = marks.min(axis=0), marks.max(axis=0)
    beyond = bool(((at < low - 0.1 * (high - low)) | (at > high + 0.1 * (high - low))).any())
    return Place((float(at[0]), float(at[1])), (float(sigma[0]), float(sigma[1])), None, beyond)


def trace(found: PictureFit, entries: Iterable[Entry]) -> tuple[TracedPlaces, ...]:
    """Everything traced from a picture."""
    kept = tuple(entries)
    picture, out = found.picture, []
    for one in picture.traced:
        path = f"photos.{picture.id}.traced.{one.id}.off_m"
        off_sigma = 0.0 if abs(one.off_m) < IN_PLANE else sigma_of(path, one.off_m, kept)
        out.append(TracedPlaces(one, tuple(place_at(found, px, one.off_m, off_sigma) for px in one.pixels)))
    return tuple(out)
