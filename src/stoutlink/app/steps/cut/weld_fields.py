"""The fields of a weld plan, in groups of what they are about."""

from __future__ import annotations

from stoutlink.app.widgets.path_drawer import Entry
from stoutlink.core.analysis.linkage.weld_plan import WeldBase
from stoutlink.core.document.welding import ORDER_WORDS, PROCESS_WORDS, RUNS_WORDS, SEAM_KINDS, SEAM_WORDS

GROUPS = (
    ("seam", "Seam", "The seam of the bead picked."),
    ("arc", "Welding", "How it is welded, who welds, how long to pause."),
    ("housing", "Housing", "What the tube is like, for warmth and bow."),
    ("steel", "Steel", "What the steel is made of, from its mill sheet."),
)
_ARC = (
    ("process", "process"),
    ("volts", "volts"),
    ("amps", "amps"),
    ("travel_m_s", "travel"),
    ("order", "order"),
    ("most_c", "warm at most"),
    ("between_s", "between beads"),
    ("turn_s", "turning"),
    ("by", "welded by"),
)
_HOUSING = (
    ("tube_od_m", "tube"),
    ("tube_wall_m", "wall"),
    ("span_m", "end to end"),
    ("casting_m", "casting"),
    ("offset_m", "casting left by"),
    ("pad_long_m", "pad along"),
    ("pad_leg_m", "pad's leg"),
    ("inner", "inner end"),
    ("air_c", "air"),
    ("loss", "loss to the air"),
    ("factor", "shrinkage"),
)
_STEEL = ("carbon", "manganese", "chromium", "molybdenum", "vanadium", "nickel", "copper")
_CHOICES: dict[str, tuple[tuple[str, str], ...]] = {
    "process": tuple(PROCESS_WORDS.items()),
    "order": tuple(ORDER_WORDS.items()),
    "inner": (("casting", "at casting"), ("insulated", "insulated")),
}


def group_of(path: str) -> str:
    """The group a field is in, by its path."""
    key = path.split(".")[2] if path.count(".") > 1 else ""
    if key in dict(_ARC):
        return "arc"
    if key == "steel":
        return "steel"
    return "housing" if key in dict(_HOUSING) else "seam"


def _entry(at: str, key: str, word: str) -> Entry:
    if key in _CHOICES:
        return Entry(f"{at}.{key}", word, "choice", _CHOICES[key])
    return Entry(f"{at}.{key}", word, "text" if key == "by" else "number")


def group_entries(base: WeldBase | None, group: str, seam: str) -> list[Entry]:
    """The entries of a group; of the seam picked in the first."""
    if base is None:
        return []
    at = f"welding.{base.plan.id}"
    if group in ("arc", "housing"):
        return [_entry(at, key, word) for key, word in (_ARC if group == "arc" else _HOUSING)]
    if group == "steel":
        return [Entry(f"{at}.steel.{k}", f"{k}, %") for k in _STEEL]
    one = next((s for s in base.seams if s.id == seam), None)
    if one is None:
        return []
    if not seam.startswith("own-"):
        return [Entry(one.path, "weld leg" if one.path.endswith("weld_m") else "pad along")]
    here = f"{at}.seams.{seam.removeprefix('own-')}"
    return [
        Entry(f"{here}.name", "name", "text"),
        Entry(f"{here}.kind", "kind", "choice", tuple((k, SEAM_WORDS[k]) for k in SEAM_KINDS)),
        Entry(f"{here}.runs", "runs", "choice", tuple(RUNS_WORDS.items())),
        Entry(f"{here}.at_m", "station, left +"),
        Entry(f"{here}.around_rad", "around, 0° top"),
        Entry(f"{here}.length_m", "length"),
        Entry(f"{here}.leg_m", "weld leg"),
    ]


def stands_for(base: WeldBase | None) -> dict[str, float]:
    """What empty fields of the housing stand for: the axle's, as read, or proposed."""
    if base is None or base.housing is None:
        return {}
    h, at = base.housing, f"welding.{base.plan.id}"
    out = {
        f"{at}.tube_od_m": h.od,
        f"{at}.tube_wall_m": h.wall,
        f"{at}.span_m": h.left - h.right,
        f"{at}.casting_m": h.inner_left - h.inner_right,
        f"{at}.offset_m": 0.5 * (h.inner_left + h.inner_right),
    }
    pads = [s for s in base.seams if s.id.startswith("pad-")]
    if pads:
        out |= {f"{at}.pad_long_m": pads[0].length, f"{at}.pad_leg_m": pads[0].leg}
    for one in base.seams:
        if one.path.endswith("weld_m"):
            out[one.path] = one.leg
    return out
