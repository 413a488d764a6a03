"""Every reading there is of a finished axle, from wherever it was written down: Log, the links' cards, the housing's stations."""

from __future__ import annotations

import math
from collections.abc import Iterator

from stoutlink.core.analysis.log.built_model import BuiltPoints, Observation
from stoutlink.core.document.bench import BenchCard
from stoutlink.core.document.layout import Layout, Link
from stoutlink.core.document.link_work import LINK_STAGES, LinkReading, is_cut
from stoutlink.core.document.link_work import TAPE as PIN_TO_PIN
from stoutlink.core.document.log import BUILT_WORDS, AsBuilt, BuiltOf, BuiltReading
from stoutlink.core.document.stations import STATION_STAGES, Stations

SIGMA: dict[BuiltOf, float] = {
    "apart": 0.0015, "along": 0.005, "across": 0.003, "up": 0.003,
    "slope": math.radians(0.1), "pinion": math.radians(0.1), "to_pinion": math.radians(0.2),
}  # fmt: skip
"""1 σ of a reading that has no ± of its own, m or rad (common practice)."""


def built_observations(
    points: BuiltPoints,
    layout: Layout,
    built: AsBuilt,
    stations: Stations | None,
    shafts: BenchCard | None = None,
    output_down: float = 0.0,
) -> tuple[Observation, ...]:
    """Readings of this axle that count, those of Log first; one that names a point that is gone, or was set aside, does not."""
    out = [
        _of_log(points, r) for r in built.readings if r.end == layout.end and not r.set_aside and readable(points, r)
    ]
    for link in layout.links:
        out += _of_link(layout, link)
    out += _of_stations(points, layout, stations)
    out += _of_shafts(layout, shafts, output_down)
    return tuple(out)


def readable(points: BuiltPoints, one: BuiltReading) -> bool:
    """Whether the points a reading names are there."""
    if one.of == "pinion":
        return True
    if one.of == "slope":
        return points.known(f"{one.a}:frame")
    return points.known(one.a) and (not one.b or points.known(one.b))


def reading_name(points: BuiltPoints, of: BuiltOf, a: str, b: str) -> str:
    """A reading in words."""
    if of == "pinion":
        return "Pinion's angle"
    if of == "slope":
        link = points.layout.link(a)
        return f"{a if link is None else link.name}: slope"
    first = points.names.get(a, a)
    link = points.layout.link(a.partition(":")[0])
    if of == "apart" and link is not None and a.partition(":")[0] == b.partition(":")[0]:
        return f"{link.name}: {BUILT_WORDS[of]}"
    if not b:
        return f"{first}: {BUILT_WORDS[of]}"
    return f"{first} to {points.names.get(b, b)}: {BUILT_WORDS[of]}"


def _of_shafts(layout: Layout, card: BenchCard | None, output_down: float) -> Iterator[Observation]:
    """The pinion by its angle against the output, read at ride height on the driveline's card: the last reading of it."""
    work = None if card is None else card.step(f"{layout.end}-angle")
    if work is None or not work.readings:
        return
    last = work.readings[-1]
    way = 1.0 if layout.pinion_up >= output_down else -1.0  # a difference has no sign: the plan says which is up
    yield Observation(
        f"cards.driveline.steps.{layout.end}-angle.readings.{len(work.readings) - 1}",
        "Pinion against the output",
        "pinion",
        "",
        "",
        output_down + way * abs(last.values[0]),
        last.sigma or math.hypot(SIGMA["pinion"], SIGMA["pinion"]),
        "Bench",
    )


def _of_log(points: BuiltPoints, r: BuiltReading) -> Observation:
    sigma = r.sigma if r.sigma else SIGMA[r.of]
    return Observation(
        f"log.built.readings.{r.id}", reading_name(points, r.of, r.a, r.b), r.of, r.a, r.b, r.value, sigma, "Log"
    )


def _of_link(layout: Layout, link: Link) -> Iterator[Observation]:
    """What was read pin to pin at the latest stage the link has come to that was read at: what its length rests on."""
    if link.in_hand_m is not None:
        return
    for stage in reversed(LINK_STAGES[: LINK_STAGES.index(link.stage) + 1]):
        if is_cut(link.stage) and not is_cut(stage):
            return
        here: list[tuple[int, LinkReading]] = [(k, r) for k, r in enumerate(link.readings) if r.stage == stage]
        for number, (k, r) in enumerate(here, 1):
            which = f", {number}" if len(here) > 1 else ""
            yield Observation(
                f"layouts.{layout.id}.links.{link.id}.readings.{k}",
                f"{link.name}: pin to pin, {stage}{which}",
                "apart",
                f"{link.id}:frame",
                f"{link.id}:axle",
                r.value_m,
                PIN_TO_PIN if r.sigma_m is None else r.sigma_m,
                "Cut and weld",
            )
        if here:
            return


def _of_stations(points: BuiltPoints, layout: Layout, stations: Stations | None) -> Iterator[Observation]:
    """Pad to pad of a leaf axle, at the latest stage it was read at after marking."""
    if stations is None or layout.leaf is None:
        return
    for stage in reversed(STATION_STAGES[2:]):
        here = [(k, r) for k, r in enumerate(stations.readings) if r.stage == stage and r.of == "spacing"]
        for k, r in here:
            yield Observation(
                f"stations.{stations.id}.readings.{k}",
                f"Pad to pad, {stage}",
                "across",
                "seat:left",
                "seat:right",
                r.value_m,
                PIN_TO_PIN if r.sigma_m is None else r.sigma_m,
                "Cut and weld",
            )
        if here:
            return
