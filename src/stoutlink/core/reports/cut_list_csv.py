"""The cut list as CSV: one row a link, lengths in m and in inches, with the fraction to mark out."""

from __future__ import annotations

import math

from stoutlink.core.analysis.linkage.cut_list import LinkCut
from stoutlink.core.quantity.constants import INCH
from stoutlink.core.quantity.length_text import format_fraction
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


def cut_list_csv(cuts: tuple[LinkCut, ...]) -> str:
    """Write the cut list; an empty one has the heading only. Lengths to 0.01 mm."""
    return table_text(cut_list_rows(cuts))


def cut_list_rows(cuts: tuple[LinkCut, ...]) -> list[tuple[str, ...]]:
    """The cut list as rows of cells, the heading first."""
    out: list[tuple[str, ...]] = [COLUMNS]
    for one in cuts:
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


def _m(value: float) -> str:
    return f"{value:.5f}"
