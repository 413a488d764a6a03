"""What hangs between frame and axle and must reach: a hose, a cable, a breather, a wire."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from stoutlink.core.document.quantities import Frozen, Identifier, Name, Point

RidesOn = Literal["axle", "left_knuckle", "right_knuckle"]


def _n(title: str, low: float, high: float, text: str) -> Meta:
    return Meta(title=title, description=text, ge=low, le=high, extra={"kind": "length"})


class FlexLine(Frozen, frozen=True, kw_only=True):
    """A hose, cable or wire from a point of the frame to one of the axle, or of a front knuckle that turns with its
    wheel; both at ride height, wheels straight.
    """

    id: Identifier
    name: Name
    frame_m: Point
    far_m: Point
    rides_on: RidesOn = "axle"
    slack_m: Annotated[
        float,
        _n("Slack", 0.0, 1.0, "Added to the longest distance: ends that bend, a loop round a clip; yours to say."),
    ] = 0.05
    own_m: (
        Annotated[float, _n("Length at hand", 0.02, 6.0, "Free length of the one you have, fitting to fitting.")] | None
    ) = None
