"""The rig: what the vehicle is and what it has to do."""

from __future__ import annotations

import math
from typing import Annotated, Literal

from msgspec import Meta

from stoutlink.core.document.fittings import Fittings
from stoutlink.core.document.quantities import (
    CgAhead,
    CgHeight,
    EndMass,
    EngineSpeed,
    EngineTorque,
    FreeRadius,
    FrontOutputAngle,
    Frozen,
    GearRatio,
    Height,
    LoadedRadius,
    Mass,
    Name,
    OutputAngle,
    Overhang,
    Point,
    Pressure,
    RideHeight,
    RoadSpeed,
    RollingRadius,
    RollOut,
    RollTurns,
    Share,
    StallRatio,
    Text,
    Track,
    UseShare,
    Wheelbase,
    WheelMass,
)  # fmt: skip
from stoutlink.core.document.weight import AxleWeight, WeightBook
from stoutlink.core.mechanics.tyre_size import TyreSize, parse_tyre_size

Use = Literal["rock", "trail", "road", "tow"]
USES: tuple[Use, ...] = ("rock", "trail", "road", "tow")
TransferCase = Literal["locked", "open"]

LOADED_PART, LOADED_SIGMA = 0.95, 0.02
"""Loaded radius as a part of the free radius, and its 1 σ (common practice)."""
ROLLING_PART, ROLLING_SIGMA = 0.97, 0.01
"""Rolling radius as a part of the free radius, and its 1 σ (from memory)."""
PRINTED_SIGMA = 0.0095
"""1 σ of a free radius taken from the printed size, m: a printed diameter may be off by up to 1 1/2 in (common
practice).
"""
AXLE_GUESS, WHEEL_GUESS = 160.0, 42.0
"""An axle not chosen yet, and one wheel with tyre, kg (estimates)."""


class WheelEnd(Frozen, frozen=True, kw_only=True):
    """One end of the rig: its track, tyres and unsprung mass."""

    track_m: Track
    track_from: Literal["axle", "measured"] = "axle"
    tyre_text: Annotated[str, Meta(max_length=40)] = ""
    tyre_free_radius_m: FreeRadius | None = None
    loaded_radius_m: LoadedRadius | None = None
    loaded_radius_road_m: LoadedRadius | None = None
    trail_pressure_pa: Pressure | None = None
    road_pressure_pa: Pressure | None = None
    rolling_radius_m: RollingRadius | None = None
    roll_out_m: RollOut | None = None
    roll_out_turns: RollTurns = 3.0
    unsprung_mass_kg: EndMass | None = None
    wheel_mass_kg: WheelMass | None = None
    rim_width_m: (
        Annotated[
            float,
            Meta(
                title="Rim width",
                ge=0.1,
                le=0.6,
                extra={"kind": "length"},
                description="Between the bead seats, as stamped on the wheel.",
            ),
        ]
        | None
    ) = None
    wheel_offset_m: (
        Annotated[
            float,
            Meta(
                title="Wheel offset",
                ge=-0.2,
                le=0.2,
                extra={"kind": "length"},
                description="Mounting face outboard of the rim's middle is +; deep-dish wheels are negative.",
            ),
        ]
        | None
    ) = None
    adapter_m: Annotated[
        float,
        Meta(
            title="Adapter a side",
            ge=0.0,
            le=0.2,
            extra={"kind": "length"},
            description="Thickness of a spacer or bolt-circle adapter on each wheel.",
        ),
    ] = 0.0
    old_axle_mass_kg: AxleWeight | None = None
    dual_m: (
        Annotated[
            float,
            Meta(
                title="Dual spacing",
                ge=0.15,
                le=0.6,
                extra={"kind": "length"},
                description="Two wheels a side at the rear: between the tyres' middles; the track is then between the middles of the pairs. Empty: one a side.",
            ),
        ]
        | None
    ) = None

    @property
    def wheels(self) -> int:
        """Wheels of this end."""
        return 2 if self.dual_m is None else 4

    @property
    def abreast(self) -> tuple[float, ...]:
        """Middles of the tyres of one side from the middle between them, outward +, m."""
        return (0.0,) if self.dual_m is None else (-0.5 * self.dual_m, 0.5 * self.dual_m)

    @property
    def outer_track_m(self) -> float:
        """Between the middles of the outermost tyres, m: what it tips over."""
        return self.track_m + (self.dual_m or 0.0)

    @property
    def across(self) -> float:
        """Width of the tyres of one side together, m."""
        return self.tread + (self.dual_m or 0.0)

    @property
    def printed(self) -> TyreSize | None:
        """The printed size, if its text is one."""
        return parse_tyre_size(self.tyre_text)

    @property
    def free(self) -> float:
        """Free radius, m: measured, else half the printed diameter."""
        if self.tyre_free_radius_m is not None:
            return self.tyre_free_radius_m
        printed = self.printed
        return 0.5 * printed.diameter if printed is not None else math.nan

    @property
    def loaded(self) -> float:
        """Loaded radius at trail pressure, m: measured, else estimated from the free radius."""
        return self.loaded_radius_m if self.loaded_radius_m is not None else LOADED_PART * self.free

    @property
    def loaded_road(self) -> float:
        """Loaded radius at road pressure, m: measured, else the trail one."""
        return self.loaded_radius_road_m if self.loaded_radius_road_m is not None else self.loaded

    @property
    def rolled(self) -> float | None:
        """Rolling radius from the roll-out, distance over turns over 2π, m."""
        return None if self.roll_out_m is None else self.roll_out_m / (2.0 * math.pi * self.roll_out_turns)

    @property
    def rolling(self) -> float:
        """Rolling radius, m: from the roll-out, else typed, else estimated from the free radius."""
        rolled = self.rolled
        if rolled is not None:
            return rolled
        return self.rolling_radius_m if self.rolling_radius_m is not None else ROLLING_PART * self.free

    @property
    def tread(self) -> float:
        """Width drawn for the tyre, m: the printed section width, else a drawing convention."""
        printed = self.printed
        return printed.width if printed is not None else 0.32

    @property
    def unsprung(self) -> float:
        """Unsprung mass as stated, else a guess from its parts, kg (analysis puts the chosen axle in)."""
        if self.unsprung_mass_kg is not None:
            return self.unsprung_mass_kg
        return AXLE_GUESS + self.wheels * (self.wheel_mass_kg or WHEEL_GUESS)


class TorquePoint(Frozen, frozen=True, kw_only=True):
    """One point of the engine's torque curve at full throttle."""

    rpm: EngineSpeed
    torque_nm: EngineTorque


class Drivetrain(Frozen, frozen=True, kw_only=True):
    """Engine, gearbox and transfer case, as far as the axle feels them. Gears from first to top."""

    engine_torque_nm: EngineTorque
    torque_curve: Annotated[tuple[TorquePoint, ...], Meta(max_length=24)] = ()
    idle_rpm: EngineSpeed = 750.0
    gear_ratios: Annotated[tuple[GearRatio, ...], Meta(min_length=1, max_length=18)]
    reverse_ratio: GearRatio | None = None
    transfer_high_ratio: GearRatio = 1.0
    transfer_low_ratio: GearRatio
    front_axle: Literal["solid", "independent"] = "solid"
    """An independent front that stays: nothing is hung there, its gears and locker are chosen like any other's."""
    coupling: Literal["converter", "clutch"] = "converter"
    converter_stall_ratio: StallRatio = 1.0
    transfer_case: TransferCase = "locked"
    output_side: Literal["left", "right", "centre"] = "centre"
    output_m: Point | None = None
    front_output_m: Point | None = None
    output_angle_rad: OutputAngle = 0.0
    front_output_angle_rad: FrontOutputAngle | None = None

    def output(self, end: str) -> Point | None:
        """Where the transfer case's output toward an end is, m; one place stands for both until the front's own is
        given.
        """
        return self.front_output_m if end == "front" and self.front_output_m is not None else self.output_m

    def output_down(self, end: str) -> float:
        """How far the output toward an end points down on its way to the axle, rad. Both outputs lie on one line, so
        what falls to the rear rises to the front, unless the front's own angle is given.
        """
        if end == "rear":
            return self.output_angle_rad
        return -self.output_angle_rad if self.front_output_angle_rad is None else self.front_output_angle_rad

    @property
    def first_ratio(self) -> float:
        """First gear."""
        return self.gear_ratios[0]

    @property
    def top_ratio(self) -> float:
        """Top gear."""
        return self.gear_ratios[-1]

    @property
    def peak_torque(self) -> float:
        """The most the engine gives, N·m: the curve's highest point, else the stated number."""
        return max((p.torque_nm for p in self.torque_curve), default=self.engine_torque_nm)

    @property
    def stall(self) -> float:
        """Torque multiplication before the gearbox: 1 with a clutch."""
        return self.converter_stall_ratio if self.coupling == "converter" else 1.0


class UseShares(Frozen, frozen=True, kw_only=True):
    """What the rig is for, in shares of its life; shown as parts of their sum."""

    rock: UseShare = 0.0
    trail: UseShare = 0.0
    road: UseShare = 0.0
    tow: UseShare = 0.0

    @property
    def total(self) -> float:
        """Sum of all shares."""
        return self.rock + self.trail + self.road + self.tow

    def part(self, use: Use) -> float:
        """Share of one use as a part of all."""
        return float(getattr(self, use)) / self.total if self.total > 0 else 0.0


class Stance(Frozen, frozen=True, kw_only=True):
    """How it stands: what hangs lowest ahead of the front axle, between the axles and behind the rear one (station
    and height).

    ``measured_on_front_m`` and ``measured_on_rear_m`` are the loaded radii of the tyres it stood on when measured; with
    them, other tyres lift or lower the points. ``ride_front_m`` and ``ride_rear_m``: ride height, frame over axle
    centre.
    """

    front_low_x_m: Overhang | None = None
    front_low_z_m: Height | None = None
    belly_x_m: Overhang | None = None
    belly_z_m: Height | None = None
    rear_low_x_m: Overhang | None = None
    rear_low_z_m: Height | None = None
    belly_wanted_m: Height | None = None
    ride_front_m: RideHeight | None = None
    ride_rear_m: RideHeight | None = None
    measured_on_front_m: LoadedRadius | None = None
    measured_on_rear_m: LoadedRadius | None = None

    def low_point(self, place: str) -> tuple[float, float] | None:
        """Station and height as measured of ``front_low``, ``belly`` or ``rear_low``; ``None`` unless both are known."""
        x, z = getattr(self, f"{place}_x_m"), getattr(self, f"{place}_z_m")
        return None if x is None or z is None else (x, z)


class Body(Frozen, frozen=True, kw_only=True):
    """What the wheels must stay clear of, and what covers them: widths across the vehicle, m."""

    fender_front_m: (
        Annotated[
            float,
            Meta(
                title="Over the front fenders",
                ge=0.8,
                le=3.5,
                extra={"kind": "length"},
                description="Outside to outside of what covers the front tyres.",
            ),
        ]
        | None
    ) = None
    fender_rear_m: (
        Annotated[
            float,
            Meta(
                title="Over the rear fenders",
                ge=0.8,
                le=3.5,
                extra={"kind": "length"},
                description="Outside to outside of what covers the rear tyres.",
            ),
        ]
        | None
    ) = None
    frame_front_m: (
        Annotated[
            float,
            Meta(
                title="Frame or springs, front",
                ge=0.2,
                le=2.5,
                extra={"kind": "length"},
                description="Outside to outside of frame or springs where the front tyres turn.",
            ),
        ]
        | None
    ) = None
    frame_rear_m: (
        Annotated[
            float,
            Meta(
                title="Frame or springs, rear",
                ge=0.2,
                le=2.5,
                extra={"kind": "length"},
                description="Outside to outside of frame or springs beside the rear tyres.",
            ),
        ]
        | None
    ) = None

    rail_width_m: (
        Annotated[
            float,
            Meta(
                title="Rail width",
                ge=0.01,
                le=0.3,
                extra={"kind": "length"},
                description="Frame rail across, outside to outside.",
            ),
        ]
        | None
    ) = None
    rail_height_m: (
        Annotated[
            float,
            Meta(
                title="Rail height", ge=0.01, le=0.4, extra={"kind": "length"}, description="Frame rail, top to bottom."
            ),
        ]
        | None
    ) = None
    rail_shape: Literal["rectangle", "tube"] = "rectangle"
    rail_wall_m: (
        Annotated[
            float,
            Meta(
                title="Rail wall",
                ge=0.0005,
                le=0.05,
                extra={"kind": "fine_length"},
                description="Thickness of the frame rail's wall.",
            ),
        ]
        | None
    ) = None

    def fender(self, end: str) -> float | None:
        """Width over the fenders of an end."""
        return self.fender_front_m if end == "front" else self.fender_rear_m

    def frame(self, end: str) -> float | None:
        """Width over frame or springs at an end."""
        return self.frame_front_m if end == "front" else self.frame_rear_m


class Rig(Frozen, frozen=True, kw_only=True):
    """The vehicle at ride height, in SI; see docs/project-file.md.

    ``mass_kg``, ``cg_height_m`` and ``cg_ahead_of_rear_m`` are the stated numbers; ``weight`` says whether they count
    or scales, a tilt or the itemised masses do.
    """

    name: Name
    notes: Text = ""
    uses: UseShares = UseShares(rock=1.0)
    road_legal: bool = False
    wheelbase_m: Wheelbase
    mass_kg: Mass
    cg_height_m: CgHeight
    cg_ahead_of_rear_m: CgAhead
    brake_front_share: Share = 0.7
    road_speed_m_per_s: RoadSpeed = 24.6
    front: WheelEnd
    rear: WheelEnd
    drivetrain: Drivetrain
    weight: WeightBook = WeightBook()
    stance: Stance = Stance()
    body: Body = Body()
    fittings: Fittings = Fittings()

    def end(self, end: str) -> WheelEnd:
        """The wheel end named ``front`` or ``rear``."""
        return self.front if end == "front" else self.rear
