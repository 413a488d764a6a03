"""A field for the teeth of a gear, where the whole pair may be typed: 41/8, 41:8, or the ratio of a pair that is sold."""

from __future__ import annotations

import re

import msgspec

from stoutlink.app.desk import dialogs
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.core.catalogue.donor import DonorAxle, pairs_near
from stoutlink.core.document.paths import get_value
from stoutlink.core.editing.edits import Edit, PutInList
from stoutlink.core.errors import TextError


class TeethField(QuantityField):
    """Ring or pinion teeth of a donor. One alone may stand; a pair or a ratio puts both in."""

    def _edit(self, text: str) -> Edit | None:
        if not re.search(r"[/:.,-]", text.strip("-")):
            return super()._edit(text)
        donor: DonorAxle = get_value(self._workspace.project, self.path.rsplit(".", 1)[0])
        found = pairs_near(text, donor.offers)
        pair = found[0] if len(found) == 1 else None
        words = [f"{p} ({p.ratio:.3f})" for p in found]
        if len(found) > 1:
            said = dialogs.ask(self.window() or self, "Which gear set?", f"{text} may be:", (*words, "Cancel"))
            pair = found[words.index(said)] if said in words else None
        if pair is None:
            have = [f"{p.ratio:.2f} ({p})" for p in donor.offers]
            why = f"may be {' or '.join(words)}" if words else "is no gear set"
            tail = f" of those made for it: {', '.join(have)}" if have and not words else ""
            raise TextError("Q109", f"“{text}” {why}{tail}.", "Type teeth such as 41/8, or a ratio that is made.")
        new = msgspec.structs.replace(donor, ring_teeth=pair.ring, pinion_teeth=pair.pinion)
        return PutInList("donors", new, "Set gear teeth")
