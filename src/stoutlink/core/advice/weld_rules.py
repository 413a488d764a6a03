"""What welding a housing has to say: what holds it, what it does to the ends, what its steel asks for."""

from __future__ import annotations

from collections.abc import Iterator

from stoutlink.core.advice.finding import Finding
from stoutlink.core.analysis.linkage.station_sheet import STRAIGHT
from stoutlink.core.analysis.linkage.weld_plan import WeldBase
from stoutlink.core.document.stations import Stations
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show

CAUTION = "Welding on axle, steering and suspension is work for a qualified welder with a procedure, and is inspected."


def weld_findings(base: WeldBase | None, stations: Stations | None, unit: UnitSystem) -> Iterator[Finding]:
    """Holds and gates of welding on one housing."""
    if base is None:
        return
    end = base.plan.id

    def one(code: str, severity: str, says: str, do: str) -> Finding:
        return Finding(code, severity, says, do, "cut", f"{end} welding")  # type: ignore[arg-type]

    if base.beads and unread(base, stations):
        yield one(
            "C233",
            "danger" if any(t.state in ("welded", "inspected") for t in base.plan.ticks) else "warn",
            f"The {end} housing is being welded, and its {' and '.join(unread(base, stations))} was not read against the bar while tacked.",
            "No bead is laid out before both ends are read and in: what the weld did cannot be told afterwards.",
        )
    second = [b for b in base.beads if b.seam.kind == "pad" and b.at < 0 and laid(base, b.id)]
    first = [b for b in base.beads if b.seam.kind == "pad" and b.at > 0 and not laid(base, b.id)]
    relation = stations is not None and stations.relation_rad is not None
    if second and (first or not relation):
        why = "the left one is not done" if first else "the pinion's angle to the pads is not recorded"
        yield one(
            "C234",
            "danger",
            f"The right pad of the {end} housing is begun while {why}.",
            "The second pad goes on when both angles are recorded and the first pad is done; else they end up twisted against each other.",
        )
    if base.steel in ("preheat", "outside") and base.equivalent is not None:
        range_ = ", outside the range the rule is made for" if base.steel == "outside" else ""
        yield one(
            "C235",
            "warn",
            f"The steel welded to the {end} housing has a carbon equivalent of {base.equivalent:.2f}{range_}.",
            "Preheat, and a procedure from a qualified welder (EN 1011-2).",
        )
    if base.gone:
        yield one(
            "C236",
            "warn",
            f"{len(base.gone)} bead{'s' if len(base.gone) > 1 else ''} ticked off on the {end} housing {'belong' if len(base.gone) > 1 else 'belongs'} to seams that are no longer there.",
            "The layout has moved since, or the seam was left out. Look at what is welded there.",
        )
    if base.farthest >= STRAIGHT:
        far, sure = (show(v, "fine_length", unit) for v in (base.farthest, base.pull_sure * base.farthest))
        yield one(
            "C237",
            "warn",
            f"All welds together may pull an end of the {end} housing by {far} ± {sure}; 1/8 in is out.",
            "Shorter or smaller welds, or as much on the other side of the tube; whatever the order, the sum stays. Read it tacked and welded, and allow for straightening.",
        )
    if base.on_casting:
        yield one(
            "C238",
            "note",
            f"Something is welded to the casting of the {end} housing.",
            "Cast centres crack beside the weld: preheat, filler and slow cooling from a qualified welder's procedure.",
        )


def laid(base: WeldBase, bead: str) -> bool:
    """Whether a bead is laid."""
    return base.state(bead) in ("welded", "inspected")


def unread(base: WeldBase, stations: Stations | None) -> list[str]:
    """Ends nobody read while tacked, once anything is tacked."""
    if not any(t.state in ("tacked", "welded", "inspected") for t in base.plan.ticks):
        return []
    read = set() if stations is None else {r.side for r in stations.straight if r.stage == "tacked"}
    return [f"{side} end" for side in ("left", "right") if side not in read]


def before_first_bead(base: WeldBase) -> tuple[str, ...]:
    """What is done before the first bead, in its order (common practice)."""
    kinds = {s.kind for s in base.seams}
    out = [
        "Battery and control units off the vehicle's wiring. Level the housing, oil out, tubes plugged, seals and rubber off or wet-ragged; the clamp of the welder on the part itself, never across a bearing."
    ]
    if "truss" in kinds or "guard" in kinds:
        out.append("Bolt the cover on: it keeps the casting's mouth from closing.")
    out.append(
        "Tack the whole rear side first, then the front"
        + (", every 3 in along the truss." if "truss" in kinds else ".")
    )
    out.append(
        "Read both ends against the bar and every station again. Worse end first: cut its tacks, read both anew."
    )
    return tuple(out)


AFTER_LAST_BEAD = (
    "Let it cool covered, out of the wind, then read both ends and every station again before anything is called done."
)


def paint_words(base: WeldBase) -> str:
    """Whether the housing may be painted: not while a bead on it is open."""
    open_ = sum(base.state(b.id) != "inspected" for b in base.beads)
    if not open_:
        return "Paint: every bead is inspected; paint once nothing more is drilled or cut on it either."
    return f"Paint waits: {open_} of {len(base.beads)} beads are not inspected yet."
