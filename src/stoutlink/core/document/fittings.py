"""What the vehicle brings along that an axle has to go with."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from stoutlink.core.catalogue.joint_size import JointSize
from stoutlink.core.document.quantities import Frozen


class Fittings(Frozen, frozen=True, kw_only=True):
    """What the vehicle brings along that an axle has to go with; unknown until said."""

    brake_thread: Annotated[str, Meta(max_length=24)] = ""
    parking_brake: Literal["drum_cable", "caliper_cable", "in_hat_cable", "none"] | None = None
    parking_cable_end: Annotated[str, Meta(max_length=24)] = ""
    anti_lock: Literal["fitted", "removed", "never"] | None = None
    air_supply: bool | None = None
    spare_circuit: bool | None = None
    front_joint_series: Annotated[str, Meta(max_length=24)] = ""
    rear_joint_series: Annotated[str, Meta(max_length=24)] = ""
    front_joint_cap_m: (
        Annotated[
            float,
            Meta(
                title="Front shaft's caps",
                ge=0.01,
                le=0.1,
                extra={"kind": "length"},
                description="Diameter of a bearing cap of the driveshaft's joint at the axle, with the caliper.",
            ),
        ]
        | None
    ) = None
    front_joint_span_m: (
        Annotated[
            float,
            Meta(
                title="Front shaft's span",
                ge=0.03,
                le=0.3,
                extra={"kind": "length"},
                description="Over the ends of two caps that face each other, joint seated.",
            ),
        ]
        | None
    ) = None
    rear_joint_cap_m: (
        Annotated[
            float,
            Meta(
                title="Rear shaft's caps",
                ge=0.01,
                le=0.1,
                extra={"kind": "length"},
                description="Diameter of a bearing cap of the driveshaft's joint at the axle, with the caliper.",
            ),
        ]
        | None
    ) = None
    rear_joint_span_m: (
        Annotated[
            float,
            Meta(
                title="Rear shaft's span",
                ge=0.03,
                le=0.3,
                extra={"kind": "length"},
                description="Over the ends of two caps that face each other, joint seated.",
            ),
        ]
        | None
    ) = None
    wheel_bolt_count: (
        Annotated[
            int,
            Meta(
                title="Wheel bolts", ge=3, le=12, extra={"kind": "count"}, description="Holes in the wheels you have."
            ),
        ]
        | None
    ) = None
    wheel_bolt_circle_m: (
        Annotated[
            float,
            Meta(
                title="Wheels' bolt circle",
                ge=0.06,
                le=0.5,
                extra={"kind": "length"},
                description="Bolt circle of the wheels you have.",
            ),
        ]
        | None
    ) = None
    speed_pickup: Literal["driveshaft", "wheel"] | None = None
    old_ratio: (
        Annotated[
            float,
            Meta(
                title="Old axle ratio",
                ge=0.5,
                le=15.0,
                extra={"kind": "ratio"},
                description="Ratio of the axle that comes out.",
            ),
        ]
        | None
    ) = None
    old_rolling_radius_m: (
        Annotated[
            float,
            Meta(
                title="Old rolling radius",
                ge=0.15,
                le=1.2,
                extra={"kind": "length"},
                description="Of the tyres it ran on with the old ratio.",
            ),
        ]
        | None
    ) = None
    output_rating_nm: (
        Annotated[
            float,
            Meta(
                title="Transfer case output rating",
                ge=50.0,
                le=200000.0,
                extra={"kind": "torque"},
                description="Peak torque at one output, from its record.",
            ),
        ]
        | None
    ) = None

    def joint(self, end: str) -> JointSize:
        """Joint of the driveshaft at an end of the vehicle."""
        if end == "front":
            return JointSize(self.front_joint_series, self.front_joint_cap_m, self.front_joint_span_m)
        return JointSize(self.rear_joint_series, self.rear_joint_cap_m, self.rear_joint_span_m)
