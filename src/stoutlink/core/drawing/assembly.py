"""The rig put together in the round for a project at poses: what did not change since the last time is taken over."""

from __future__ import annotations

from collections.abc import Sequence

from stoutlink.core.analysis.cycle.posed import Posed
from stoutlink.core.document.placed_solids import placed_solids
from stoutlink.core.drawing.round_view import Scene
from stoutlink.core.drawing.solids import Hung, Thing, axle_things, part_things, rig_things, weld_things
from stoutlink.core.study.question import same_parts
from stoutlink.core.study.study import Study
from stoutlink.core.study.vehicle import ENDS

Groups = tuple[tuple[str, tuple[Thing, ...]], ...]


class Assembly:
    """Makes scenes one after the other."""

    def __init__(self) -> None:
        self._rig: tuple[tuple[object, ...], tuple[Thing, ...]] = ((), ())
        self._hung: dict[str, tuple[tuple[object, ...], tuple[Hung, ...]]] = {}

    def groups(self, study: Study, posed: Sequence[Posed], *, parts: bool = True, welds: bool = True) -> Groups:
        """All there is: the rig (``"Rig"``), then each axle with what is on it; nothing empty."""
        out = [("Rig", self._still(study, posed))]
        for one in posed:
            end = one.grid.layout.end
            hung = tuple(h.at(one) for h in self._on(study, end, parts, welds))
            out.append((f"{end.capitalize()} axle", axle_things(one) + hung))
        return tuple((name, tuple(t for t in things if len(t.mesh.triangles))) for name, things in out)

    def scene(self, study: Study, posed: Sequence[Posed], *, parts: bool = True, welds: bool = True) -> Scene:
        """The same as one scene."""
        groups = self.groups(study, posed, parts=parts, welds=welds)
        return Scene(tuple(t for _, things in groups for t in things))

    def _still(self, study: Study, posed: Sequence[Posed]) -> tuple[Thing, ...]:
        project = study.project
        rig = posed[0].rig if posed else None
        key = (placed_solids(project), project.tape.surveys, rig)
        if not same_parts(key, self._rig[0]):
            self._rig = (key, rig_things(project, rig))
        return self._rig[1]

    def _on(self, study: Study, end: str, parts: bool, welds: bool) -> tuple[Hung, ...]:
        known = study.parts(end) if parts and not study.needed("stance", "weight") else None
        base = study.weld_base(end) if welds else None
        key = (known, base)
        if end not in self._hung or not same_parts(key, self._hung[end][0]):
            made = () if known is None else part_things(study, end)
            self._hung[end] = (key, made + (() if base is None else weld_things(study, end)))
        return self._hung[end][1]


def at_ride(study: Study) -> tuple[Posed, ...]:
    """Both axles at ride height; none while nobody has entered where they stand, no independent front that stays."""
    return tuple(one for end in ENDS if (one := study.posed_at(end)) is not None)
