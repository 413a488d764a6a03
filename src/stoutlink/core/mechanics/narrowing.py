"""Shortening an axle shaft: what length it can be cut and splined again to. Never cut and welded in the middle.

Source: common practice.
"""

from __future__ import annotations

from msgspec import Struct


class ShaftCut(Struct, frozen=True):
    """Whether a shaft can be shortened by an amount: ``how`` is ``none``, ``spline`` (cut inside the unused teeth),
    ``respline`` (cut back to full body and spline anew), ``custom`` (order one), ``unknown``; with a sentence."""

    how: str
    why: str


class ShaftRegions(Struct, frozen=True):
    """The inner end of a shaft from its tip, m: teeth nobody uses, and where the full body begins (spline and neck);
    ``None`` where it is not measured. ``takes_spline``: whether the full body has metal for the teeth, ``None`` while
    not known.
    """

    unused: float | None
    body_from: float | None
    takes_spline: bool | None


def shaft_regions(
    spline: float | None, engaged: float | None, neck: float | None, body: float | None, major: float | None, form: str
) -> ShaftRegions:
    """The three regions of a shaft's inner end (common practice).

    ``spline`` length of the teeth, ``engaged`` how much of it sits in the side gear, ``neck`` length of the thin part
    behind it, ``body`` diameter behind that and ``major`` over the teeth, all m; ``form`` is ``cut``, ``formed`` or
    empty. Full body begins after spline *and* neck. New teeth are cut out of the bar, so it must be as thick as the
    teeth are tall; formed teeth were raised above their bar, which is then thinner than they are, unless measured
    otherwise.

    >>> inch = 0.0254
    >>> r = shaft_regions(1.85 * inch, 1.50 * inch, 1.60 * inch, 1.5 * inch, 1.5 * inch, "cut")
    >>> round(r.unused / inch, 2), round(r.body_from / inch, 2), r.takes_spline
    (0.35, 3.45, True)
    """
    unused = None if spline is None or engaged is None else max(0.0, spline - engaged)
    start = None if spline is None or neck is None else spline + neck
    thick = body >= major - 1e-4 if body is not None and major is not None else False if form == "formed" else None
    return ShaftRegions(unused, start, thick)


def shorten(amount: float, at: ShaftRegions) -> ShaftCut:
    """How a shaft gets shorter by ``amount`` m: up to the unused spline it is just cut; from full body on it can be
    splined again when the bar is thick enough; between the two there is no metal for teeth: another shaft.

    >>> at = ShaftRegions(0.006, 0.12, True)
    >>> shorten(0.004, at).how, shorten(0.09, at).how, shorten(0.12, at).how
    ('spline', 'custom', 'respline')
    """
    if amount <= 1e-9:
        return (
            ShaftCut("none", "no change")
            if amount > -1e-9
            else ShaftCut("custom", "a shaft cannot be made longer: order one")
        )
    if at.unused is not None and amount <= at.unused + 1e-9:
        return ShaftCut("spline", "inside the unused spline: cut it off and bevel the end")
    if at.unused is None:
        return ShaftCut("unknown", "measure spline, engagement and neck, or order a shaft")
    if at.body_from is None:
        return ShaftCut("unknown", "past the unused spline; measure how far the neck runs")
    if amount < at.body_from - 1e-9:
        return ShaftCut("custom", "between the unused spline and full body there is no metal for teeth: order one")
    if at.takes_spline is None:
        return ShaftCut("unknown", "in the full body: measure it, it must be as thick as the spline")
    if not at.takes_spline:
        return ShaftCut("custom", "in the full body, but that is thinner than the teeth are tall: order one")
    return ShaftCut("respline", "in the full body: it can be splined again and hardened anew")


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
