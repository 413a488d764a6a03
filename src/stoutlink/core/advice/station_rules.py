"""What is wrong with the stations of a housing."""

from __future__ import annotations

import math
from collections.abc import Iterator

from stoutlink.core.advice.finding import Finding
from stoutlink.core.analysis.linkage.station_sheet import StationSheet
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show


def station_findings(sheet: StationSheet | None, unit: UnitSystem) -> Iterator[Finding]:
    """Readings that do not close, and a pinion that would not stand where the layout has it."""
    if sheet is None:
        return

    def size(v: float) -> str:
        return show(v, "length", unit, decimals=3 if unit == "in" else 1)

    end = sheet.stations.id
    for one in sheet.closures:
        if one.bad and one.noticed:
            yield Finding(
                "C227",
                "danger",
                f"Stations of the {end} housing, {one.stage}: left, spacing and right miss the span by {size(abs(one.off))}; the readings allow {size(one.two_sigma)}.",
                "One of them is wrong: read all four again before a bead goes on. A pad welded from a wrong one comes off with the grinder.",
                "cut",
                f"{end} stations",
            )
        elif one.noticed:
            yield Finding(
                "C228",
                "warn",
                f"Stations of the {end} housing, {one.stage}: left, spacing and right miss the span by {size(abs(one.off))}, within readings too unsure to tell.",
                "Measure again with something finer than a tape before welding.",
                "cut",
                f"{end} stations",
            )
    latest = {one.side: one for one in sheet.ends}
    for last in latest.values():
        if last.out:
            yield Finding(
                "C231",
                "danger",
                f"The {last.side} end of the {end} housing misses the bar by {size(last.miss)}, {last.stage}: out.",
                "1/8 in is out (common practice). Cut the tacks at the worse end first and read both again; nothing is welded out, no gears go in before it is straight.",
                "cut",
                f"{end} stations",
            )
    for side in sheet.unproved:
        yield Finding(
            "C232",
            "warn",
            f"The {side} end of the {end} housing was welded without a reading while it was tacked.",
            "What the weld did and what was there before cannot be told apart now. Read the other end before its weld.",
            "cut",
            f"{end} stations",
        )
    if sheet.crooked:
        assert sheet.pinion is not None
        assert sheet.pinion_wanted is not None
        then, wanted = (f"{math.degrees(v):.1f}°".replace("-", "−") for v in (sheet.pinion, sheet.pinion_wanted))
        yield Finding(
            "C229",
            "warn",
            f"With these pads the {end} pinion stands {then} up at ride, the layout has it at {wanted}.",
            "Relation, pads and shim together make the pinion: turn the pads before they are welded, or take another shim.",
            "cut",
            f"{end} stations",
        )
