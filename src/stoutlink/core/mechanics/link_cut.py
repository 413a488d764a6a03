"""Cutting a link: tube length from the joints' take-up, thread engagement, and the adjustment left.

Engagement wanted: 1.5 diameters in steel, 2.0 in aluminium (common practice).

Source: statics of threads by common practice.
"""

from __future__ import annotations

from typing import Literal

from msgspec import Struct

Material = Literal["steel", "aluminium"]
Hand = Literal["right", "left"]
Turning = Literal["tube", "one_end", "unbolt", "none"]
ENGAGE = {"steel": 1.5, "aluminium": 2.0}


class EndSet(Struct, frozen=True):
    """One end as set, m. A plain (welded) end has no thread: ``diameter`` and ``pitch`` are None.

    ``neck``: joint centre to where the thread starts; ``shank``: joint centre to the end of the thread; ``shoulder``:
    how far the insert's collar stands out of the tube, threaded as it is.
    """

    take_up: float
    diameter: float | None = None
    pitch: float | None = None
    hand: Hand = "right"
    neck: float = 0.0
    shank: float = 0.0
    jam_nut: float = 0.0
    shoulder: float = 0.0


class EndFit(Struct, frozen=True):
    """Thread at one end, m: engaged now, needed, and how far it may come out (``longer``) or go in (``shorter``)."""

    engaged: float
    needed: float
    longer: float
    shorter: float


class Cut(Struct, frozen=True):
    """A link ready to cut, m. ``per_turn`` is length change for a full turn, ``how`` says what is turned.

    ``longer``/``shorter``: adjustment left either way. Negative values mean it does not go together as set.
    """

    centre_to_centre: float
    tube: float
    bore: float
    ends: tuple[EndFit | None, EndFit | None]
    longer: float
    shorter: float
    per_turn: float
    how: Turning


def cut_link(centre_to_centre: float, od: float, wall: float, material: Material, ends: tuple[EndSet, EndSet]) -> Cut:
    """Work out one link. Lengths in m.

    tube = centre-to-centre − both take-ups; engaged = shank − (take-up − shoulder); longer by engaged − needed; shorter
    by take-up − shoulder − (neck + jam nut). A right- and left-hand pair moves both ends as the tube turns, p₁ + p₂ a turn, until the first
    end runs out. One threaded end, or two of one hand, go in half turns of a joint with its bolt out.
    ``centre_to_centre`` of the link, ``od`` and ``wall`` of its tube in m, ``material`` of the thread.

    >>> c = cut_link(1.0541, 0.0508, 0.00635, "steel", (EndSet(take_up=0.09525), EndSet(take_up=0.09525)))
    >>> round(c.tube / 0.0254, 9)
    34.0
    """
    fits = tuple(_fit(one, material) for one in ends)
    tube = centre_to_centre - sum(one.take_up for one in ends)
    bore = od - 2 * wall
    first, second = fits
    threaded = [(e, f) for e, f in zip(ends, fits, strict=True) if f is not None]
    if len(threaded) == 2 and ends[0].hand != ends[1].hand:
        per_turn = sum(e.pitch or 0.0 for e, _ in threaded)
        longer = min(f.longer / (e.pitch or 1.0) for e, f in threaded) * per_turn
        shorter = min(f.shorter / (e.pitch or 1.0) for e, f in threaded) * per_turn
        how: Turning = "tube"
    elif threaded:
        per_turn = threaded[0][0].pitch or 0.0
        longer = sum(_half_turns(f.longer, e.pitch or 1.0) for e, f in threaded)
        shorter = sum(_half_turns(f.shorter, e.pitch or 1.0) for e, f in threaded)
        how = "one_end" if len(threaded) == 1 else "unbolt"
    else:
        per_turn, longer, shorter, how = 0.0, 0.0, 0.0, "none"
    return Cut(centre_to_centre, tube, bore, (first, second), longer, shorter, per_turn, how)


class Turns(Struct, frozen=True):
    """How a link gets from its length to another: ``change`` m (longer +), ``turns`` of what is turned (longer +),
    ``left`` m that steps of half a turn leave over, and whether the threads reach."""

    change: float
    turns: float
    left: float
    reaches: bool


CLOSE = 5e-4
"""A link without threads fits within this, m."""


def turns_for(cut: Cut, change: float) -> Turns:
    """Turns that make a link ``change`` m longer (shorter below 0) than ``cut`` has it. A tube between a right- and a
    left-hand thread turns as far as wanted; a joint only in half turns, its bolt out. Source: pitch times turns.
    ``cut`` as of :func:`cut_link`. Degenerate: without threads only within half a millimetre.

    >>> two = (EndSet(0.08, 0.025, 0.002, "right", 0.03, 0.15), EndSet(0.08, 0.025, 0.002, "left", 0.03, 0.15))
    >>> turns_for(cut_link(1.0, 0.05, 0.006, "steel", two), 0.006).turns
    1.5
    """
    if cut.how == "none" or cut.per_turn <= 0.0:
        return Turns(change, 0.0, change, abs(change) <= CLOSE)
    if cut.how == "tube":
        turns, left = change / cut.per_turn, 0.0
    else:
        turns = round(change / (0.5 * cut.per_turn)) / 2.0
        left = change - turns * cut.per_turn
    taken = turns * cut.per_turn
    return Turns(change, turns, left, -cut.shorter - 1e-9 <= taken <= cut.longer + 1e-9)


def _fit(one: EndSet, material: Material) -> EndFit | None:
    if one.diameter is None or one.pitch is None:
        return None
    face = one.take_up - one.shoulder  # from the joint's centre to where thread is taken
    engaged = one.shank - face
    needed = ENGAGE[material] * one.diameter
    return EndFit(engaged, needed, engaged - needed, face - (one.neck + one.jam_nut))


def _half_turns(room: float, pitch: float) -> float:
    """Room rounded down to half turns; a shortage stays as it is."""
    if room < 0:
        return room
    return int(room / (pitch / 2) + 1e-9) * pitch / 2
