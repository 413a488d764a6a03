"""Parts of one thickness on plates, as many of each as are wanted."""

from __future__ import annotations

from msgspec import Struct

from stoutlink.core.analysis.linkage.part import Part
from stoutlink.core.document.link_work import PlateCutting
from stoutlink.core.geometry.nesting import Nested, laid_out, nest
from stoutlink.core.geometry.pattern import Pattern, area

SAME = 1e-4


class PlatePlan(Struct, frozen=True):
    """Parts of one thickness: ``pieces`` one for each that is cut, and how they lie; ``used`` how much of the plates they
    are."""

    thickness: float
    pieces: tuple[Part, ...]
    nested: Nested
    used: float

    def on(self, plate: int) -> tuple[tuple[Part, Pattern], ...]:
        """What lies on a plate, where it lies."""
        return tuple(
            (self.pieces[x.which], laid_out(self.pieces[x.which].pattern, x.at, x.turned))
            for x in self.nested.laid
            if x.plate == plate
        )


def plate_plan(parts: tuple[Part, ...], cut: frozenset[str], plate: PlateCutting) -> tuple[PlatePlan, ...]:
    """A plan for every thickness, thinnest first; parts that are ``cut`` already (by id) are left out."""
    wanted = [one for one in parts if one.id not in cut]
    kinds: list[float] = []
    for one in sorted(wanted, key=lambda p: p.thickness):
        if not kinds or one.thickness - kinds[-1] > SAME:
            kinds.append(one.thickness)
    out = []
    for thick in kinds:
        pieces = tuple(one for one in wanted if abs(one.thickness - thick) <= SAME for _ in range(one.count))
        patterns = tuple(one.pattern for one in pieces)
        nested = nest(patterns, (plate.length_m, plate.width_m), plate.spacing_m, plate.border_m)
        covered = sum(area(pieces[x.which].pattern.outline) for x in nested.laid)
        whole = nested.plates * plate.length_m * plate.width_m
        out.append(PlatePlan(thick, pieces, nested, covered / whole if whole else 0.0))
    return tuple(out)
