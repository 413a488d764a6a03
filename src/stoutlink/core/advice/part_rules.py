"""What is wrong with parts of plate."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from msgspec import Struct

from stoutlink.core.advice.finding import Finding
from stoutlink.core.analysis.linkage.part import Check, Part, PartChanges
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show


class Want(Struct, frozen=True):
    """What is wanted of a part: the code it goes by, the check, and why with what to do."""

    code: str
    key: str
    why: str


WANTS = (
    Want(
        "C221",
        "edge",
        "One and a half hole diameters from the middle of a hole to the edge (common practice): a hole nearer tears out. A larger edge in Parts.",
    ),
    Want("C222", "ligament", "Half a hole of metal between two (common practice). Holes farther apart, or fewer."),
    Want(
        "C223",
        "hole",
        "A plasma torch blows out a hole smaller than its plate is thick: drill it, or take thinner plate.",
    ),
    Want(
        "C224",
        "socket",
        "A socket on the bolt would meet the face the tab is welded to. More reach, or a nut welded on.",
    ),
    Want(
        "C225",
        "saddle",
        "The hole breaks into the notch for the tube, or nearly. The pivot farther off the tube, or another hole.",
    ),
    Want(
        "C239",
        "flange",
        "A brake's die wants a flange of about four plates (common practice). A longer flange, or thinner plate.",
    ),
    Want(
        "C240",
        "bend",
        "The bend takes more than the flange has: it cannot be bent so. A longer flange, a tighter radius or less bend.",
    ),
    Want("C241", "clip", "What is cut off leaves too little of the plate. A smaller clip or shorter points."),
    Want("C242", "left", "The arch leaves too little plate over it. A higher plate, or a lower arch."),
    Want(
        "C243",
        "rail",
        "The notch takes too much of the rail. Less depth, or plates that carry past it; whoever approves the frame decides.",
    ),
)


def part_findings(
    parts: tuple[Part, ...], changes: Mapping[str, PartChanges | None], unit: UnitSystem
) -> Iterator[Finding]:
    """One finding for each thing of a part there is too little of, and one for a cut part that the layout has left."""
    for part in parts:
        changed = changes.get(part.id)
        if changed is not None and changed.sizes:
            title, was, now = changed.sizes[0]
            words = [show(v, "length", unit, decimals=2 if unit == "in" else 1) for v in (was, now)]
            yield Finding(
                "C226",
                "warn",
                f"{part.name} is cut, and the layout has changed since: {title} {words[0]} then, {words[1]} now.",
                "Make it anew, bring the layout back, or see whether it still serves; it is not redrawn in silence.",
                "cut",
                f"{part.subject} {part.id}",
            )
        for check in part.checks:
            if not check.good:
                yield _finding(part, check, unit)


def _finding(part: Part, check: Check, unit: UnitSystem) -> Finding:
    want = next(one for one in WANTS if one.key == check.key)
    there, wanted = (
        show(max(0.0, v), "length", unit, decimals=2 if unit == "in" else 1) for v in (check.value, check.wanted)
    )
    return Finding(
        want.code,
        "danger" if check.key in ("bend", "rail") or (check.key == "saddle" and check.value < 0) else "warn",
        f"{part.name}: {check.what} is {there}, {wanted} is wanted.",
        want.why,
        "cut",
        f"{part.subject} {part.id}",
    )
