"""The cut list as CSV: one row a link, lengths in m and in inches, with the fraction to mark out."""

from __future__ import annotations

import math

from stoutlink.core.analysis.linkage.cut_list import LinkCut
from stoutlink.core.quantity.constants import INCH
from stoutlink.core.quantity.length_text import UnitSystem, format_fraction
from stoutlink.core.quantity.shown import show
from stoutlink.core.tables import table_text

COLUMNS = (
    "axle", "layout", "link", "centre_to_centre_m", "tube_cut_m", "tube_cut_in", "tube_cut_in_sixteenths", "tube_od_m", "tube_wall_m", "tube_bore_m",
    "material", "frame_joint", "frame_take_up_m", "frame_thread_engaged_m", "frame_thread_needed_m",
    "axle_joint", "axle_take_up_m", "axle_thread_engaged_m", "axle_thread_needed_m",
    "adjust_longer_m", "adjust_shorter_m", "length_per_turn_m", "turn", "pinion_per_turn_deg", "remark",
)  # fmt: skip
_TURN = {
    "tube": "turn the tube",
    "one_end": "half turns of the joint, bolt out",
    "unbolt": "half turns of either joint, bolt out",
    "none": "fixed",
}


def cut_list_csv(cuts: tuple[LinkCut, ...], waits: tuple[str, ...]) -> str:
    """Write the cut list, links at hand left out; an empty one has the heading only. Lengths to 0.01 mm. ``waits`` is why it is not settled."""
    return table_text(cut_list_rows(cuts, waits))


def cut_list_rows(cuts: tuple[LinkCut, ...], waits: tuple[str, ...]) -> list[tuple[str, ...]]:
    """The cut list as rows of cells, the heading first; each row says so while the list is not settled."""
    out: list[tuple[str, ...]] = [COLUMNS]
    for one in cuts:
        if one.there:
            continue
        cut, link = one.cut, one.link
        ends: list[str] = []
        for fit, joint, end in (
            (cut.ends[0], one.frame_joint, link.frame_end),
            (cut.ends[1], one.axle_joint, link.axle_end),
        ):
            ends += [
                joint.name if joint else end.joint,
                _m(end.take_up_m),
                _m(fit.engaged) if fit else "",
                _m(fit.needed) if fit else "",
            ]
        remark = "no tube to cut: take-up is longer than the link" if cut.tube <= 0 else ""
        if not remark and min(cut.longer, cut.shorter) < 0:
            remark = "thread runs out as set"
        remark = "; ".join([*([remark] if remark else []), *([f"not settled: {', '.join(waits)}"] if waits else [])])
        out.append(
            (
                one.layout.end,
                one.layout.name,
                link.name,
                _m(cut.centre_to_centre),
                _m(cut.tube),
                f"{cut.tube / INCH:.4f}",
                format_fraction(cut.tube, 16).rstrip("″").removeprefix("≈ "),
                _m(link.tube_od_m),
                _m(link.tube_wall_m),
                _m(cut.bore),
                link.material,
                *ends,
                _m(cut.longer),
                _m(cut.shorter),
                f"{cut.per_turn:.6f}",
                _TURN[cut.how],
                "" if one.pinion_per_turn is None else f"{math.degrees(one.pinion_per_turn):.3f}",
                remark,
            )
        )
    return out


def cut_list_text(cuts: tuple[LinkCut, ...], waits: tuple[str, ...], unit: UnitSystem) -> str:
    """The cut list in words for the clipboard and the printer, in the project's unit: columns apart by tabs, which no
    cell holds. Whether it is settled stands first.
    """
    rows: list[tuple[str, ...]] = [(f"Not settled: {', '.join(waits)}" if waits else "Settled",)]
    rows.append(
        ("axle", "link", "between centres", "cut", "tube", "frame joint", "take-up", "axle joint", "take-up", "adjusts")
    )
    for one in cuts:
        cut, link = one.cut, one.link
        length = (
            f"at hand, {turn_words(one, unit)}"
            if one.at_hand
            else f"{link.stage}, {turn_words(one, unit)}"
            if one.made
            else "no tube left"
            if cut.tube <= 0
            else _exact(cut.tube, unit)
        )
        ways = "fixed" if cut.how == "none" else f"+{_short(cut.longer, unit)} −{_short(abs(cut.shorter), unit)}"
        rows.append(
            (
                one.layout.end,
                link.name,
                _exact(cut.centre_to_centre, unit),
                length,
                f"{show(link.tube_od_m, 'length', unit)} × {show(link.tube_wall_m, 'fine_length', unit)} {link.material}",
                one.frame_joint.name if one.frame_joint else "?",
                show(link.frame_end.take_up_m, "length", unit),
                one.axle_joint.name if one.axle_joint else "?",
                show(link.axle_end.take_up_m, "length", unit),
                "thread runs out" if min(cut.longer, cut.shorter) < 0 else ways,
            )
        )
    return "\n".join("\t".join(cell.replace("\t", " ") for cell in row) for row in rows)


def turn_words(one: LinkCut, unit: UnitSystem) -> str:
    """What takes a link at hand to the layout's length, in words."""
    turns = one.turns
    if abs(turns.change) < 5e-5:
        return "as long as the layout asks"
    way = f"{_short(abs(turns.change), unit)} {'longer' if turns.change > 0 else 'shorter'}"
    if one.cut.how == "none":
        return f"{way} wanted, welded ends" + ("" if turns.reaches else ": does not fit")
    what = f"{abs(turns.turns):.1f} turns"
    return f"{way}: {what}" + ("" if turns.reaches else ", which its threads do not reach")


def _exact(value: float, unit: UnitSystem) -> str:
    """To a thousandth of an inch with the sixteenth to mark out, or to a tenth of a millimetre."""
    if unit == "mm":
        return f"{value * 1000:.1f} mm"
    return f"{value / INCH:.3f}″ ({format_fraction(value, 16)})"


def _short(value: float, unit: UnitSystem) -> str:
    return show(value, "length", unit, decimals=2 if unit == "in" else 1)


def _m(value: float) -> str:
    return f"{value:.5f}"
