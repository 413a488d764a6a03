"""Which knock-on forces which line of the cost and the parts list."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from stoutlink.core.advice.finding import Finding

LINES_OF: dict[str, tuple[str, ...]] = {
    "K102": ("c_clip_conversion",), "K115": ("missing",), "K117": ("repair",), "K119": ("narrow_housing", "widen_housing", "cut_shaft", "respline", "custom_shaft"),
    "K120": ("adapters",), "K131": ("carrier",), "K133": ("speed_correction",), "K140": ("joint_conversion",), "K143": ("brake_lines",), "K144": ("parking_brake",),
    "K146": ("link_brackets",), "K148": ("steering_arms",), "K149": ("adapters",), "K152": ("air_supply",), "K154": ("gear_kit",), "K155": ("wiring",),
    "K158": ("brakes",), "K160": ("spring_pads",), "K171": ("disc_conversion", "brakes"),
}  # fmt: skip
"""By code of the finding the lines, any of which it makes."""


def forced(
    findings: Iterable[Finding], ends: Mapping[str, str], keys: frozenset[str]
) -> dict[str, tuple[Finding, ...]]:
    """By line the findings that force it; ``ends`` gives the end of an axle by its id, ``keys`` are the lines there are."""
    out: dict[str, tuple[Finding, ...]] = {}
    for one in findings:
        names = one.subject.split("/")
        for line in LINES_OF.get(one.code, ()):
            for key in dict.fromkeys([*(f"{line}-{ends[n]}" for n in names if n in ends), line]):
                if key in keys and one not in out.get(key, ()):
                    out[key] = (*out.get(key, ()), one)
    return out
