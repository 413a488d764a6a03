"""Fitting a spring from the list: more than one value at once."""

from __future__ import annotations

import msgspec

from stoutlink.core.document.paths import with_value
from stoutlink.core.document.project import Project
from stoutlink.core.editing.edits import Edit
from stoutlink.core.editing.notes import without_notes
from stoutlink.core.errors import ValueOutOfRange


class TakeOffer(Edit, frozen=True):
    """Fit a listed spring, alone, in place of the one a layout has."""

    layout: str
    offer: str

    @property
    def label(self) -> str:
        return "Fit a listed spring"

    def change(self, project: Project) -> Project:
        layout = next((one for one in project.linkage.layouts if one.id == self.layout), None)
        offer = next((one for one in project.linkage.springs if one.id == self.offer), None)
        if layout is None or layout.spring is None or offer is None:
            raise ValueOutOfRange("D150", f"layouts.{self.layout} has no spring to be replaced by “{self.offer}”.")
        new = msgspec.structs.replace(
            layout.spring, rate_n_per_m=offer.rate_n_per_m, second_n_per_m=None, slider_m=None, solid_m=offer.solid_m
        )
        after = with_value(project, f"layouts.{layout.id}.spring", new)
        gone = f"layouts.{layout.id}.spring."
        return without_notes(after, lambda path: path.startswith(gone))
