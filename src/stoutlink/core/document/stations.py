"""Where pads and brackets go on a housing: a datum, what was read at each stage, and how the pinion stands to the pads."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from stoutlink.core.document.quantities import Frozen, TapeDeviation

Datum = Literal["flange", "backing_plate", "tube_end"]
DATUM_WORDS: dict[Datum, str] = {
    "flange": "inner face of the end flange", "backing_plate": "backing plate's face", "tube_end": "end of the tube",
}  # fmt: skip
StationStage = Literal["before", "marked", "tacked", "welded"]
STATION_STAGES: tuple[StationStage, ...] = ("before", "marked", "tacked", "welded")
StationOf = Literal["span", "spacing", "left", "right"]
STATION_WORDS: dict[StationOf, str] = {
    "span": "datum to datum", "left": "left datum to left pad", "spacing": "pad to pad", "right": "right pad to right datum",
}  # fmt: skip


def _n(title: str, kind: str, low: float, high: float, text: str) -> Meta:
    return Meta(title=title, description=text, ge=low, le=high, extra={"kind": kind})


class StationReading(Frozen, frozen=True, kw_only=True):
    """One length read along the housing, middles of pads."""

    of: StationOf
    stage: StationStage
    value_m: Annotated[float, _n("As read", "length", 0.0, 4.0, "Along the housing, to the middle of a pad.")]
    sigma_m: TapeDeviation | None = None
    when: Annotated[str, Meta(max_length=40)] = ""


class StraightReading(Frozen, frozen=True, kw_only=True):
    """How far the bar through the carrier's pucks misses the middle of an end's puck: the tube against the bar. ``clock``
    is which way the tube is off, hours seen from the end, 12 up; without it only how far is known."""

    side: Literal["left", "right"]
    stage: StationStage
    miss_m: Annotated[float, _n("Miss", "fine_length", 0.0, 0.1, "Bar to the middle of the end's puck.")]
    clock: Annotated[float, Meta(ge=0.0, le=12.0)] | None = None
    when: Annotated[str, Meta(max_length=40)] = ""


class Stations(Frozen, frozen=True, kw_only=True):
    """The stations of one housing; ``id`` is its end.

    ``relation_rad``: the pinion's angle less the pads', both nose up +, as the housing is or shall be.
    """

    id: Literal["front", "rear"]
    datum: Datum = "flange"
    readings: Annotated[tuple[StationReading, ...], Meta(max_length=200)] = ()
    straight: Annotated[tuple[StraightReading, ...], Meta(max_length=60)] = ()
    puck_m: (
        Annotated[
            float, _n("Last puck to end", "length", 0.1, 1.5, "From the last true puck to where the end is read.")
        ]
        | None
    ) = None
    wanted_m: (
        Annotated[
            float, _n("Spacing wanted", "length", 0.2, 2.5, "Between the middles of the pads; empty: as the springs.")
        ]
        | None
    ) = None
    relation_rad: (
        Annotated[
            float, _n("Pinion to pads", "angle", -0.8, 0.8, "Pinion's angle less the pads', nose up +, on one level.")
        ]
        | None
    ) = None
    pad_rad: Annotated[
        float, _n("Pads at ride", "angle", -0.6, 0.6, "How the springs hold the pads at ride height, nose up +.")
    ] = 0.0
    shim_rad: Annotated[float, _n("Shim", "angle", -0.3, 0.3, "What a shim adds, nose up +.")] = 0.0
