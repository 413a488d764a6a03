"""A coil spring as it is listed."""

from __future__ import annotations

from typing import Annotated

import msgspec
from msgspec import Meta


def _n(title: str, kind: str, low: float, high: float, text: str) -> Meta:
    return Meta(title=title, description=text, ge=low, le=high, extra={"kind": kind})


class SpringOffer(msgspec.Struct, frozen=True, forbid_unknown_fields=True, kw_only=True):
    """A coil spring as it is listed: rate, free length, length at coil bind."""

    id: Annotated[str, Meta(pattern="^[a-z0-9][a-z0-9_-]{0,47}$")]
    name: Annotated[str, Meta(min_length=1, max_length=120)]
    rate_n_per_m: Annotated[float, _n("Spring rate", "spring_rate", 2e3, 1e6, "From its list.")]
    free_m: Annotated[float, _n("Free length", "length", 0.05, 1.5, "Without load.")]
    solid_m: Annotated[float, _n("Coil bind", "length", 0.01, 1.2, "Length at which its coils touch.")] | None = None
    inside_m: Annotated[float, _n("Inside", "length", 0.02, 0.3, "Inside diameter.")] | None = None
    notes: Annotated[str, Meta(max_length=4000)] = ""
