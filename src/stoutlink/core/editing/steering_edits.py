"""Edits of the steering that are more than one value."""

from __future__ import annotations

from stoutlink.core.document.hole_points import bolted
from stoutlink.core.document.paths import with_value
from stoutlink.core.document.project import Project
from stoutlink.core.editing.edits import Edit
from stoutlink.core.editing.layout_edits import FitHoles
from stoutlink.core.editing.notes import without_notes
from stoutlink.core.errors import ValueOutOfRange


class FitSteeringHoles(Edit, frozen=True):
    """Bolt the drag link into other holes of its arms, and pivots of brackets (the panhard's) with them."""

    layout: str
    pitman: int
    knuckle: int
    brackets: tuple[tuple[str, int], ...] = ()

    @property
    def label(self) -> str:
        return "Fit other steering holes"

    def change(self, project: Project) -> Project:
        after = FitHoles(self.layout, self.brackets).change(project) if self.brackets else project
        layout = next((one for one in after.linkage.layouts if one.id == self.layout), None)
        if layout is None or layout.steering is None:
            raise ValueOutOfRange("D154", f"layouts.{self.layout} has no steering to bolt.")
        s = layout.steering
        new = bolted(s, self.pitman, self.knuckle)
        gone = {
            f"layouts.{layout.id}.steering.{n}_m.2"
            for n, a, b in (("pitman", s.pitman_m, new.pitman_m), ("knuckle", s.knuckle_m, new.knuckle_m))
            if a != b
        }
        after = with_value(after, f"layouts.{layout.id}.steering", new)
        return without_notes(after, gone.__contains__)
