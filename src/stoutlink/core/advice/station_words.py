"""The stations of a housing in words: where to mark, whether it closes, how it moved, how straight it is."""

from __future__ import annotations

import math

from stoutlink.core.analysis.linkage.set_out import SetOut
from stoutlink.core.analysis.linkage.station_sheet import End, StationSheet
from stoutlink.core.quantity.length_text import UnitSystem, format_fraction
from stoutlink.core.quantity.shown import show


def size(value: float, unit: UnitSystem) -> str:
    """A length as fine as a caliper reads it."""
    return show(value, "length", unit, decimals=3 if unit == "in" else 1)


def station_words(sheet: StationSheet, unit: UnitSystem) -> list[tuple[str, bool]]:
    """Where to mark, whether it closes, how it moved, how the pinion will stand."""
    out: list[tuple[str, bool]] = []
    if sheet.offset is None or sheet.mark is None or sheet.wanted is None or sheet.right_then is None:
        missing = "the span" if not any(of == "span" for of, _ in sheet.read) else "the spacing wanted"
        out.append((f"Read or type {missing} first: offset = (span − spacing) / 2.", False))
    else:
        fraction = f" ({format_fraction(sheet.mark, 32)})" if unit == "in" else ""
        out.append(
            (
                f"Each middle stands {size(sheet.offset, unit)} in. Mark the left at {size(sheet.mark, unit)}{fraction}, then the right {size(sheet.wanted, unit)} from that mark ({sheet.wanted_from}): it stands {size(sheet.right_then, unit)} from its own datum.",
                False,
            )
        )
    for one in sheet.closures:
        words = f"{one.stage.capitalize()}: left + spacing + right miss the span by {size(abs(one.off), unit)}; the readings allow {size(one.two_sigma, unit)}"
        if one.bad and one.noticed:
            out.append((f"{words}. One of them is wrong; no bead before it closes.", True))
        elif one.blunt:
            out.append((f"{words}, too unsure to judge 1/16 in: measure again with something finer.", True))
        else:
            out.append((f"{words}.", one.noticed))
    for stage, (a, b) in sheet.moved.items():
        told = [
            f"{side} {size(abs(v), unit)} {'in' if v > 0 else 'out'}"
            for side, v in (("left", a), ("right", b))
            if v is not None
        ]
        if told:
            out.append((f"Moved until {stage}: {', '.join(told)}.", False))
    for end in sheet.ends:
        out.append((end_words(end, unit), end.out))
    if sheet.pinion is not None:
        then = f"{math.degrees(sheet.pinion):.1f}°".replace("-", "−")
        wanted = (
            ""
            if sheet.pinion_wanted is None
            else f", the layout has {math.degrees(sheet.pinion_wanted):.1f}°".replace("-", "−")
        )
        out.append((f"Pinion at ride: relation + pads + shim = {then} up{wanted}.", sheet.crooked))
    return out


def end_words(one: End, unit: UnitSystem) -> str:
    """How straight an end is, and how its wheel stands by it."""
    words = f"{one.side.capitalize()} end, {one.stage}: misses the bar by {size(one.miss, unit)}{', out' if one.out else ''}"
    if one.moved is not None:
        words += f", moved {size(one.moved, unit)}"
    if one.toe is None or one.camber is None:
        return f"{words}. Which way and how far from the last puck would say toe and camber."
    toe, camber = math.degrees(abs(one.toe)), math.degrees(abs(one.camber))
    ways = "in" if one.toe >= 0 else "out", "out" if one.camber >= 0 else "in"
    return f"{words}: toe {toe:.2f}° {ways[0]}, top {camber:.2f}° {ways[1]} for a kink at the puck, twice that for an even bow."


def set_out_words(one: SetOut, unit: UnitSystem) -> str:
    """Where a plate goes on the housing."""
    turn = f"{math.degrees(one.around):.0f}° round"
    if one.left is None or one.right is None:
        side = "left" if one.at > 0 else "right"
        return f"{one.name}: {size(abs(one.at), unit)} {side} of the axle's middle, {turn}"
    return f"{one.name}: {size(one.left, unit)} from the left datum, {size(one.right, unit)} from the right, {turn}"
