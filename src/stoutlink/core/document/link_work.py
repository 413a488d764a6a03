"""How far a link has come, from planned to final, and what was read off it on the way; and what it is cut from."""

from __future__ import annotations

import math
from typing import Annotated, Literal

from msgspec import Meta

from stoutlink.core.document.quantities import Frozen, Identifier, Name, TapeDeviation

LinkStage = Literal["planned", "measured", "cut", "tacked", "welded", "final"]
LINK_STAGES: tuple[LinkStage, ...] = ("planned", "measured", "cut", "tacked", "welded", "final")
"""In the order of the work; from ``cut`` on the tube is as long as it is."""


def _n(title: str, kind: str, low: float, high: float, text: str) -> Meta:
    return Meta(title=title, description=text, ge=low, le=high, extra={"kind": kind})


def is_cut(stage: LinkStage) -> bool:
    """Whether a link of this stage has its tube cut."""
    return LINK_STAGES.index(stage) >= LINK_STAGES.index("cut")


class LinkReading(Frozen, frozen=True, kw_only=True):
    """A length read pin to pin: on the vehicle before the cut, on the link itself after it. Nothing that was read is
    written over; of one stage all readings count, of several the latest stage's."""

    value_m: Annotated[float, _n("Pin to pin", "length", 0.05, 4.0, "Between the bolts' centres, as read.")]
    stage: LinkStage = "measured"
    sigma_m: TapeDeviation | None = None
    when: Annotated[str, Meta(max_length=40)] = ""
    who: Annotated[str, Meta(max_length=60)] = ""
    note: Annotated[str, Meta(max_length=200)] = ""


def mean_length(readings: tuple[LinkReading, ...]) -> tuple[float, float] | None:
    """Mean of readings, m, and its 1 σ: the greater of what their spread and what their own ± say; ``None`` for no
    reading. One reading without a ± of its own is taken as ± 1/32 in (1 σ 0.4 mm, common practice for a tape).
    """
    if not readings:
        return None
    n = len(readings)
    mean = sum(r.value_m for r in readings) / n
    own = math.sqrt(sum((TAPE if r.sigma_m is None else r.sigma_m) ** 2 for r in readings)) / n
    spread = math.sqrt(sum((r.value_m - mean) ** 2 for r in readings) / (n - 1) / n) if n > 1 else 0.0
    return mean, max(own, spread)


TAPE = 0.0004
"""1 σ of one reading with the tape, m."""


class StockBar(Frozen, frozen=True, kw_only=True):
    """Tube to cut from: bought in bars of one length, or an offcut that lies on the shelf and costs nothing more."""

    id: Identifier
    name: Name
    od_m: Annotated[float, _n("Outside", "length", 0.005, 0.3, "Outside of the tube.")]
    wall_m: Annotated[float, _n("Wall", "fine_length", 0.0005, 0.1, "Wall of the tube; half the outside for a bar.")]
    material: Literal["steel", "steel_4130", "aluminium"] = "steel"
    length_m: Annotated[float, _n("Bar length", "length", 0.02, 20.0, "As it lies there.")]
    offcut: bool = False
    count: Annotated[int, _n("How many", "count", 1, 200, "Of an offcut: how many of this length lie there.")] = 1
    price: Annotated[float, _n("Price", "money", 0.0, 1e6, "Of one bar.")] | None = None


class Sawing(Frozen, frozen=True, kw_only=True):
    """How tube is cut up."""

    kerf_m: Annotated[float, _n("Kerf", "fine_length", 0.0, 0.02, "What one cut of the saw takes away.")] = 0.0025
    keep_m: Annotated[
        float, _n("Worth keeping", "length", 0.0, 5.0, "The smallest offcut that goes back to the shelf.")
    ] = 0.25


class KeptSize(Frozen, frozen=True, kw_only=True):
    """A size of a part as it was cut."""

    key: Annotated[str, Meta(min_length=1, max_length=24)]
    value_m: Annotated[float, _n("As cut", "length", -5.0, 5.0, "The size when the part was cut.")]


class CutPart(Frozen, frozen=True, kw_only=True):
    """A part of plate that is cut: its sizes then, its holes' places among them."""

    id: Annotated[str, Meta(min_length=1, max_length=160)]
    when: Annotated[str, Meta(max_length=40)] = ""
    sizes: Annotated[tuple[KeptSize, ...], Meta(max_length=60)] = ()


class TubeCope(Frozen, frozen=True, kw_only=True):
    """An end of a tube cut to sit on another tube, or on a plate."""

    id: Identifier
    name: Name
    od_m: Annotated[float, _n("Outside", "length", 0.005, 0.3, "Outside of the tube that is cut.")]
    wall_m: Annotated[float, _n("Wall", "fine_length", 0.0005, 0.1, "Its wall.")]
    other_m: (
        Annotated[float, _n("Other tube", "length", 0.005, 1.0, "Outside of the tube it sits on; empty: a flat plate.")]
        | None
    ) = None
    angle_rad: Annotated[
        float,
        _n(
            "Angle between",
            "angle",
            0.2617993877991494,
            1.5707963267948966,
            "Between both tubes, or tube and plate, 15° to 90°.",
        ),
    ] = 1.5707963267948966
    offset_m: Annotated[
        float,
        _n(
            "Offset",
            "length",
            -0.3,
            0.3,
            "The other tube's middle to the right of this one's, seen from this tube's free end with the heel below.",
        ),
    ] = 0.0
    length_m: (
        Annotated[
            float,
            _n("Tube", "length", 0.02, 6.0, "Of a brace or cross-member, heel to heel; empty: only its end is wanted."),
        ]
        | None
    ) = None
    count: Annotated[int, _n("How many", "count", 1, 40, "Tubes of this length that are cut from the bars.")] = 1


class PlateCutting(Frozen, frozen=True, kw_only=True):
    """Plate that parts are cut from, and how it is laid out."""

    length_m: Annotated[float, _n("Plate length", "length", 0.05, 12.0, "Of one plate.")] = 1.2192
    width_m: Annotated[float, _n("Plate width", "length", 0.05, 6.0, "Of one plate.")] = 0.6096
    spacing_m: Annotated[
        float, _n("Between parts", "length", 0.0, 0.1, "Least plate between two parts, kerf in it.")
    ] = 0.008
    border_m: Annotated[
        float, _n("Off the edge", "length", 0.0, 0.2, "Least plate between a part and the plate's edge.")
    ] = 0.012
    amps: Annotated[float, _n("Torch", "number", 5.0, 1000.0, "Amps of the plasma torch, for the time it takes.")] = (
        45.0
    )
