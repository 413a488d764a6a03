"""Edits of welding: tick a bead off, take the last tick back, leave a seam out or weld it after all."""

from __future__ import annotations

from typing import Literal

import msgspec

from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.welding import BEAD_STATES, BeadState, BeadTick, WeldPlan
from stoutlink.core.editing.edits import Edit
from stoutlink.core.errors import ValueOutOfRange

STATE_WORDS: dict[BeadState, str] = {
    "fitted": "fitted", "tacked": "tacked", "welded": "welded", "inspected": "inspected",
}  # fmt: skip


def _with(project: Project, plan: WeldPlan) -> Project:
    return with_parts(project, welding=tuple(plan if one.id == plan.id else one for one in project.fabrication.welding))


def find_plan(project: Project, end: str) -> WeldPlan:
    """The plan of an end; raises :class:`ValueOutOfRange` where there is none."""
    plan = next((one for one in project.fabrication.welding if one.id == end), None)
    if plan is None:
        raise ValueOutOfRange("D167", f"There is no weld plan of the {end} housing.")
    return plan


class TickBeads(Edit, frozen=True):
    """Write down that beads have come to a state."""

    end: Literal["front", "rear"]
    beads: tuple[str, ...]
    state: BeadState
    when: str = ""
    who: str = ""

    @property
    def label(self) -> str:
        return f"Bead{'s' if len(self.beads) > 1 else ''} {STATE_WORDS[self.state]}"

    def change(self, project: Project) -> Project:
        plan = find_plan(project, self.end)
        if self.state == "inspected":
            early = [b for b in self.beads if plan.state(b) not in ("welded", "inspected")]
            if early:
                raise ValueOutOfRange("D168", "A bead that is not welded cannot be inspected.")
        at = BEAD_STATES.index(self.state)
        new = tuple(
            BeadTick(bead=b, state=self.state, when=self.when, who=self.who)
            for b in self.beads
            if (now := plan.state(b)) is None or BEAD_STATES.index(now) < at
        )
        return _with(project, msgspec.structs.replace(plan, ticks=(*plan.ticks, *new)))


class TakeTickBack(Edit, frozen=True):
    """Take the last tick of a bead back."""

    end: Literal["front", "rear"]
    bead: str

    @property
    def label(self) -> str:
        return "Take a tick back"

    def change(self, project: Project) -> Project:
        plan = find_plan(project, self.end)
        mine = [i for i, t in enumerate(plan.ticks) if t.bead == self.bead]
        if not mine:
            raise ValueOutOfRange("D169", "That bead has no tick to take back.")
        ticks = tuple(t for i, t in enumerate(plan.ticks) if i != mine[-1])
        return _with(project, msgspec.structs.replace(plan, ticks=ticks))


class LeaveSeamOut(Edit, frozen=True):
    """Leave a seam the layout makes out of the plan, or weld it after all."""

    end: Literal["front", "rear"]
    seam: str
    out: bool

    @property
    def label(self) -> str:
        return "Leave a seam out" if self.out else "Weld a seam after all"

    def change(self, project: Project) -> Project:
        plan = find_plan(project, self.end)
        rest = tuple(s for s in plan.left_out if s != self.seam)
        return _with(project, msgspec.structs.replace(plan, left_out=(*rest, self.seam) if self.out else rest))
