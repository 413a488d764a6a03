"""One seam on a housing."""

from __future__ import annotations

from msgspec import Struct

from stoutlink.core.document.welding import Runs, SeamKind


class Seam(Struct, frozen=True):
    """One seam: ``at`` its middle from the axle's middle, left +, m; ``around`` the tube from the top over the front, rad;
    ``path`` of the thing it follows from, to change it."""

    id: str
    name: str
    kind: SeamKind
    runs: Runs
    at: float
    around: float
    length: float
    leg: float
    path: str
