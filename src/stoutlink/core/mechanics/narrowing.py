"""Shortening an axle shaft: what length it can be cut and splined again to. Never cut and welded in the middle.

Source: common practice.
"""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class ShaftCut:
    """Whether a shaft can be shortened by an amount: ``how`` is ``none``, ``spline`` (cut inside the unused teeth),
    ``respline`` (cut back to full body and spline anew), ``custom`` (order one), ``unknown``; with a sentence."""

    how: str
    why: str


def shorten(amount: float, unused: float | None, necked: float | None, body_takes_spline: bool | None) -> ShaftCut:
    """How a shaft gets shorter by ``amount`` m. ``unused`` spline m beyond what is engaged, ``necked`` length m
    behind the spline.

    Three regions (common practice): up to the unused spline it is just cut; from the necked length on, full body is
    reached and can be splined again when the body is thick enough; between the two there is no metal for teeth:
    another shaft. ``body_takes_spline``: whether the bar is thick enough behind the neck, ``None`` when not known.

    >>> shorten(0.004, 0.006, 0.09, True).how, shorten(0.05, 0.006, 0.09, True).how, shorten(0.10, 0.006, 0.09, True).how
    ('spline', 'custom', 'respline')
    """
    if amount <= 1e-9:
        return (
            ShaftCut("none", "no change")
            if amount > -1e-9
            else ShaftCut("custom", "a shaft cannot be made longer: order one")
        )
    if unused is None and necked is None:
        return ShaftCut("unknown", "measure spline, engagement and neck, or order a shaft")
    if unused is not None and amount <= unused + 1e-9:
        return ShaftCut("spline", "inside the unused spline: cut it off and bevel the end")
    if necked is not None and amount >= necked - 1e-9:
        if body_takes_spline is False:
            return ShaftCut("custom", "beyond the neck, but the body is too thin for the spline: order one")
        if body_takes_spline is None:
            return ShaftCut("unknown", "beyond the neck: measure the body, it must be as thick as the spline")
        return ShaftCut("respline", "beyond the neck: the full body can be splined again and hardened anew")
    if necked is None:
        return ShaftCut("unknown", "past the unused spline; measure how far the neck runs")
    return ShaftCut(
        "custom", "between the unused spline and the end of the neck there is no metal for teeth: order one"
    )


def narrow_sides(
    width: float, wanted: float, pinion_offset: float, *, centre_pinion: bool
) -> tuple[float, float, float]:
    """How much comes off left and right, and where the pinion then is, all m: half each, or so that the pinion comes
    to the middle.

    ``pinion_offset`` left + of the middle between the wheel faces. The middle moves by (right − left)/2, so the new
    offset is p + (left − right)/2; it is 0 with left = total/2 − p, as far as neither side would have to grow.
    ``width`` as it is and ``wanted``, m.

    >>> narrow_sides(1.6, 1.5, 0.02, centre_pinion=False), narrow_sides(1.6, 1.5, 0.02, centre_pinion=True)
    ((0.05, 0.05, 0.02), (0.03, 0.07, 0.0))
    """
    total = round(width - wanted, 12)
    left = total / 2
    if centre_pinion:
        left = min(max(left - pinion_offset, min(0.0, total)), max(0.0, total))
    right = total - left
    return round(left, 12), round(right, 12), round(pinion_offset + (left - right) / 2, 12) + 0.0
