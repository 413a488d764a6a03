"""Weight as it is found out: stated, by scales, by tilting, or item by item."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from stoutlink.core.document.quantities import (
    AxleLoad,
    AxleMass,
    CgAhead,
    CgHeight,
    Coordinate,
    CurbMass,
    Frozen,
    Identifier,
    ItemMass,
    Name,
    TiltAngle,
    WeightLimit,
    WheelLoad,
)  # fmt: skip

AxleWeight = AxleMass
MassSource = Literal["stated", "scales", "items"]
AlongSource = Literal["stated", "scales", "items"]
HeightSource = Literal["stated", "bell_housing", "tilt", "items"]
Carried = Literal["frame", "front_axle", "rear_axle"]


class WeightItem(Frozen, frozen=True, kw_only=True):
    """Something that comes on or off: mass (negative when it comes off) and where it sits.

    ``weighed`` says that it was on the vehicle when the scales were read. ``on`` an axle makes it unsprung.
    """

    id: Identifier
    name: Name
    mass_kg: ItemMass
    x_m: Coordinate = 0.0
    y_m: Coordinate = 0.0
    z_m: Coordinate = 0.6
    on: Carried = "frame"
    weighed: bool = False


class LoadItem(Frozen, frozen=True, kw_only=True):
    """Something that a load case puts on, or takes off with a weight below 0, and where it sits. ``on`` an axle it is
    unsprung and counts at the hubs."""

    id: Identifier
    name: Name
    mass_kg: ItemMass
    x_m: Coordinate = 0.0
    z_m: Coordinate = 0.9
    on: Carried = "frame"


class LoadCase(Frozen, frozen=True, kw_only=True):
    """The rig as it is driven at another time: what comes on and off, and whether it is then loaded up to its weight
    rating, with what is left put at ``fill_x_m``, ``fill_z_m`` (None: nobody has said where)."""

    id: Identifier
    name: Name
    items: Annotated[tuple[LoadItem, ...], Meta(max_length=60)] = ()
    to_rating: bool = False
    fill_x_m: Coordinate | None = None
    fill_z_m: Coordinate | None = None


class Scales(Frozen, frozen=True, kw_only=True):
    """Readings of the scales, standing level: both wheels of an axle apart, or the axle as a whole (wheels apart
    win).
    """

    front_left_kg: WheelLoad | None = None
    front_right_kg: WheelLoad | None = None
    rear_left_kg: WheelLoad | None = None
    rear_right_kg: WheelLoad | None = None
    front_kg: AxleLoad | None = None
    rear_kg: AxleLoad | None = None


class Tilt(Frozen, frozen=True, kw_only=True):
    """Weighing again with one end raised: the angle, and both axles' scales while tilted."""

    raised: Literal["front", "rear"] = "front"
    angle_rad: TiltAngle | None = None
    front_kg: (
        Annotated[
            float,
            Meta(
                title="Front axle while tilted",
                ge=10.0,
                le=12000.0,
                extra={"kind": "mass"},
                description="Both front tyres' scales together, vehicle tilted, wheels free to roll.",
            ),
        ]
        | None
    ) = None
    rear_kg: (
        Annotated[
            float,
            Meta(
                title="Rear axle while tilted",
                ge=10.0,
                le=12000.0,
                extra={"kind": "mass"},
                description="Both rear tyres' scales together, vehicle tilted, wheels free to roll.",
            ),
        ]
        | None
    ) = None


class WeightBook(Frozen, frozen=True, kw_only=True):
    """All that is known of the weight, and which of it counts."""

    mass_from: MassSource = "stated"
    along_from: AlongSource = "stated"
    height_from: HeightSource = "stated"
    gvwr_kg: WeightLimit | None = None
    curb_mass_kg: CurbMass | None = None
    curb_cg_ahead_m: CgAhead | None = None
    curb_cg_height_m: CgHeight | None = None
    bell_housing_m: CgHeight | None = None
    scales: Scales = Scales()
    tilt: Tilt = Tilt()
    items: Annotated[tuple[WeightItem, ...], Meta(max_length=200)] = ()
