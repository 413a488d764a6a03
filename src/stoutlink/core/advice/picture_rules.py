"""What a photograph of a plane has to say of itself: why nothing can be had of it, a mark that cannot be right, marks that do not
fit one another."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from stoutlink.core.advice.finding import Finding
from stoutlink.core.analysis.survey.traced import PictureFit, TracedPlaces
from stoutlink.core.document.plane_picture import PictureMark, PlanePicture
from stoutlink.core.mechanics.photo_plane import FEWEST, ODD, Refusal
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show

WHY: dict[Refusal, str] = {
    "few": f"It takes {FEWEST} marks whose places are known, no three of them in line; more of them check one another.",
    "in_line": "The marks stand in line: have one well off the line of the others.",
    "no_fit": "No camera sees the marks like this: two of them are likely exchanged, or a place is typed wrong.",
    "horizon": "It lies at or above the horizon of the marked plane, so it is not in it.",
    "lens": "It lies where the fitted lens turns back: marks nearer to it would say how the lens bends there.",
    "no_camera": (
        "It stands off the marked plane, and the picture does not say from where it was taken: type the focal length "
        "the camera states, take it more from the side, or mark the plane it is in."
    ),
    "no_depth": "Nobody has said where the marked plane lies across the view: type it under Photo.",
    "behind": "So far off the plane it would be at the camera or behind it.",
}
"""Why something cannot be had of a picture, and what would help."""
RARE = 3.09
"""Normal deviate that is passed once in a thousand."""


def worst_usual(spare: float) -> float:
    """By how many times what their ± say marks miss at most, but once in a thousand, with so many readings to spare. Source: χ² by
    E. B. Wilson and M. M. Hilferty, The distribution of chi-square (1931).

    >>> round(worst_usual(12.0), 2)
    1.66
    """
    part = 2.0 / (9.0 * spare)
    return float((1.0 - part + RARE * part**0.5) ** 1.5)


def mark_name(picture: PlanePicture, mark: PictureMark) -> str:
    """A mark as it is called in a sentence."""
    number = 1 + [m.id for m in picture.marks].index(mark.id)
    return f"“{mark.name.strip()}”" if mark.name.strip() else f"mark {number}"


def odd_marks(found: PictureFit) -> tuple[PictureMark, ...]:
    """Marks that cannot be right, the worst first: only it, where leaving it out settles the others."""
    if found.fit is None:
        return ()
    order = np.argsort(-np.nan_to_num(found.fit.w))
    return tuple(found.marks[k] for k in order[:1] if np.nan_to_num(found.fit.w)[k] > ODD)


def lens_words(found: PictureFit) -> str:
    """How the lens was taken."""
    if found.fit is None:
        return ""
    if found.fit.lens:
        bend = 100.0 * float(found.fit.theta[8] + (found.fit.theta[9] if found.fit.lens > 1 else 0.0))
        terms = "one term" if found.fit.lens == 1 else "two terms"
        return f"lens fitted ({terms}, {abs(bend):.1f} % {'in' if bend < 0 else 'out'} at the corner)"
    why = "as you said" if found.picture.straight else "too few marks to fit it"
    return f"lens taken as straight, ± 0.3 % at the corner ({why})"


def fit_words(found: PictureFit) -> str:
    """The fit in a line: marks, how well they agree, the lens."""
    if found.fit is None:
        return WHY[found.why or "no_fit"]
    fit = found.fit
    agree = (
        f"{len(found.marks)} marks, none to spare: nothing checks them"
        if fit.unit_sigma is None
        else f"{len(found.marks)} marks agree as their ± say"
        if fit.unit_sigma <= worst_usual(fit.spare)
        else f"{len(found.marks)} marks miss by {fit.unit_sigma:.1f} times what their ± say"
    )
    return f"{agree}; {lens_words(found)}"


def traced_words(places: TracedPlaces, picture: PlanePicture, unit: UnitSystem) -> str:
    """Where something traced lies, with ± (2 σ), or why that cannot be said."""
    if places.why is not None:
        return WHY[places.why]
    names = {"side": ("x", "z"), "plan": ("x", "y"), "rear": ("y", "z")}[picture.view]
    decimals = 2 if unit == "in" else 0
    if len(places.places) == 1:
        one = places.places[0]
        said = ", ".join(
            f"{name} {show(at, 'length', unit, decimals=decimals)} ± {show(2.0 * sigma, 'length', unit, decimals=decimals)}"
            for name, at, sigma in zip(names, one.at, one.sigma, strict=True)
        )
    else:
        said = f"{len(places.places)} corners, ± {show(2.0 * places.worst, 'length', unit, decimals=decimals)} at most"
    return said + (", beyond the marks" if any(p.beyond for p in places.places) else "")


def across_words(places: TracedPlaces, picture: PlanePicture, unit: UnitSystem) -> str:
    """How far across the view it stands, as somebody said, or that nobody has."""
    if places.across is None:
        return "where its plane lies nobody has said"
    name, decimals = {"side": "y", "plan": "z", "rear": "x"}[picture.view], 2 if unit == "in" else 0
    at, wide = (show(value, "length", unit, decimals=decimals) for value in (places.across, 2.0 * places.across_sigma))
    return f"{name} {at} ± {wide} as said"


def picture_findings(found: PictureFit, traced: tuple[TracedPlaces, ...], unit: UnitSystem) -> Iterator[Finding]:
    """What is wrong with a picture and its tracing."""
    picture, fit = found.picture, found.fit
    if fit is not None:
        for mark in odd_marks(found):
            off = float(np.hypot(*fit.residual[found.marks.index(mark)]))
            yield Finding(
                "S120",
                "warn",
                f"{picture.name}: {mark_name(picture, mark)} lies {off:.0f} pixels from where the other marks have it.",
                "A place typed wrong, a click on something else, or it does not lie in the plane of the others.",
                "tape",
                f"photo:{picture.id}/{mark.id}",
            )
        if fit.unit_sigma is not None and fit.unit_sigma > worst_usual(fit.spare) and not odd_marks(found):
            yield Finding(
                "S121",
                "warn",
                f"{picture.name}: the marks miss by {fit.unit_sigma:.1f} times what their ± say.",
                "They do not lie in one plane, the lens bends, or they were taped less surely than said: what is traced is less sure too.",
                "tape",
                f"photo:{picture.id}",
            )
    for one in traced:
        if fit is not None and one.why is not None:
            what = one.traced.name.strip() or one.traced.id
            yield Finding(
                "S122",
                "note",
                f"{picture.name}: where {what} lies cannot be said.",
                WHY[one.why],
                "tape",
                f"photo:{picture.id}/{one.traced.id}",
            )
