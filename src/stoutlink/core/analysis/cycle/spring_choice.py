"""Springs on offer, ranked for one axle: each carries the rig at ride, and what then is left of it at bump and droop."""

from __future__ import annotations

from msgspec import Struct

from stoutlink.core.analysis.cycle.springs import SpringTravel
from stoutlink.core.catalogue.spring import SpringOffer
from stoutlink.core.mechanics.springing import frequency
from stoutlink.core.quantity.constants import GRAVITY

LOOSE = 0.003
"""A spring with less than this left at full droop counts as loose there, m."""


class Offered(Struct, frozen=True):
    """One spring on this axle: its length at ride under its load, frequency Hz, room to coil bind at full bump (None:
    bind not known) and what is left of its compression at full droop, m; ``longer`` how much longer it is at ride
    than the room between the pivots or seats (+: it does not fit between)."""

    offer: SpringOffer
    at_ride: float
    frequency: float
    to_bind: float | None
    at_droop: float
    longer: float

    @property
    def trouble(self) -> str:
        """What rules it out, in words; empty when nothing does."""
        if self.longer > 0:
            return "longer at ride than the room for it"
        if self.to_bind is not None and self.to_bind < 0:
            return "binds before full bump"
        return "loose at full droop" if self.at_droop < LOOSE else ""


def rank_springs(
    found: SpringTravel, offers: tuple[SpringOffer, ...], limits: tuple[float, float]
) -> tuple[Offered, ...]:
    """Single springs in place of the one fitted, what fits first, then nearest to the frequency wanted. ``limits``:
    droop (−) and bump of one side, m.

    The spring seat is taken as set so that the rig stands at ride. Empty while the motion ratio is not known (no
    shock or seats placed).
    """
    if found.ratio is None or found.spring is None or found.seat_load <= 0:
        return ()
    i, j = found.ride
    ratio = float(found.ratio[j])
    if not ratio > 0.05:
        return ()
    row = found.spring[0, i]
    load, here = found.seat_load / ratio, float(row[j])
    reach = row[(found.heave >= limits[0] - 1e-9) & (found.heave <= limits[1] + 1e-9)]
    shortens, lengthens = here - float(reach.min()), float(reach.max()) - here
    out = []
    for one in offers:
        short = load / one.rate_n_per_m
        at_ride = one.free_m - short
        bind = None if one.solid_m is None else at_ride - shortens - one.solid_m
        out.append(
            Offered(
                one,
                at_ride,
                frequency(one.rate_n_per_m * ratio**2, found.seat_load / GRAVITY),
                bind,
                short - lengthens,
                at_ride - here,
            )
        )
    wanted = found.layout.wanted_hz
    return tuple(sorted(out, key=lambda o: (bool(o.trouble), abs(o.frequency - wanted), o.offer.name)))
