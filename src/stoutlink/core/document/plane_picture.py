"""A photograph of something flat on the rig: marks whose places are known, and what is traced from it.

Pixels are of the picture held upright (as the camera says it was held), to the right and down from its upper left corner. Places are
the two vehicle coordinates that lie in the plane: x and z of a side view, x and y of a plan, y and z of a rear view.
"""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from stoutlink.core.document.bench import PhotoName
from stoutlink.core.document.quantities import Coordinate, Frozen, Identifier, Name
from stoutlink.core.document.survey import SolidKind

PictureView = Literal["side", "plan", "rear"]
TracedKind = Literal["point", "line", "outline"]
Pixel = Annotated[float, Meta(title="Pixel", ge=-20_000.0, le=80_000.0, extra={"kind": "number"})]
Pixels = Annotated[int, Meta(ge=16, le=60_000, title="Pixels", extra={"kind": "number"})]
CLICK = 3.0
"""1 σ of where a mark is clicked, px (estimate: a chalk mark in a telephone's picture)."""


class PictureMark(Frozen, frozen=True, kw_only=True):
    """A mark whose place is known: a wheel centre, a tape mark, an end of a level. ``across_m`` and ``up_m`` are the two coordinates in
    the plane; it counts once both are said."""

    id: Identifier
    name: Annotated[str, Meta(max_length=80)] = ""
    pixel: tuple[Pixel, Pixel]
    across_m: Coordinate | None = None
    up_m: Coordinate | None = None

    @property
    def place(self) -> tuple[float, float] | None:
        """Where it is in the plane, once that is said."""
        return None if self.across_m is None or self.up_m is None else (self.across_m, self.up_m)


class Traced(Frozen, frozen=True, kw_only=True):
    """What is traced: a point, a line (an edge of a rail) or an outline (a tank's side), by its corners in the picture. ``off_m``: how far it
    stands off the marked plane, along the vehicle axis across the view."""

    id: Identifier
    name: Annotated[str, Meta(max_length=80)] = ""
    kind: TracedKind = "point"
    pixels: Annotated[tuple[tuple[Pixel, Pixel], ...], Meta(min_length=1, max_length=400)]
    off_m: Annotated[
        float,
        Meta(
            title="Off the plane",
            description="How far it stands off the marked plane, to the left, up or ahead.",
            ge=-3.0,
            le=3.0,
            extra={"kind": "length"},
        ),
    ] = 0.0
    solid: SolidKind = "other"


class PlanePicture(Frozen, frozen=True, kw_only=True):
    """A photograph of a plane. ``photo`` is its name beside the project, ``wide_px`` × ``high_px`` its size held upright; ``depth_m`` where the plane
    lies across its view, once that is said; ``click_px`` 1 σ of a click; ``straight``: the lens is taken as straight whatever the marks say; ``focal_mm`` as the
    camera states it for the 24 × 36 mm frame; ``shown``: laid under the views."""

    id: Identifier
    name: Name
    photo: PhotoName
    wide_px: Pixels
    high_px: Pixels
    view: PictureView = "side"
    depth_m: Coordinate | None = None
    click_px: Annotated[
        float,
        Meta(
            title="A click, plus or minus",
            description="How surely a mark is hit, in pixels of the picture, 1 σ.",
            ge=0.1,
            le=200.0,
            extra={"kind": "number"},
        ),
    ] = CLICK
    straight: bool = False
    focal_mm: (
        Annotated[
            float,
            Meta(
                title="Focal length as stated",
                description="In mm for the 24 × 36 mm frame; a camera writes it into its pictures.",
                ge=5.0,
                le=1000.0,
                extra={"kind": "number"},
            ),
        ]
        | None
    ) = None
    shown: bool = True
    marks: Annotated[tuple[PictureMark, ...], Meta(max_length=60)] = ()
    traced: Annotated[tuple[Traced, ...], Meta(max_length=200)] = ()

    @property
    def placed(self) -> tuple[PictureMark, ...]:
        """The marks that count."""
        return tuple(m for m in self.marks if m.place is not None)
