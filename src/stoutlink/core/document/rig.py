"""The rig: what the vehicle is and what it has to do."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from stoutlink.core.document.quantities import (
    CgAhead,
    CgHeight,
    EndMass,
    EngineSpeed,
    EngineTorque,
    FreeRadius,
    Frozen,
    GearRatio,
    LoadedRadius,
    Mass,
    Name,
    RoadSpeed,
    RollingRadius,
    Share,
    StallRatio,
    Text,
    Track,
    Wheelbase,
)  # fmt: skip

Use = Literal["rock", "trail", "road", "tow"]
TransferCase = Literal["locked", "open"]

LOADED_PART, LOADED_SIGMA = 0.95, 0.02
"""Loaded radius as a part of the free radius, and its 1 σ (common practice)."""
ROLLING_PART, ROLLING_SIGMA = 0.97, 0.01
"""Rolling radius as a part of the free radius, and its 1 σ (from memory)."""


class WheelEnd(Frozen, frozen=True, kw_only=True):
    """One end of the rig: its track, tyres and unsprung mass."""

    track_m: Track
    tyre_text: Annotated[str, Meta(max_length=40)] = ""
    tyre_free_radius_m: FreeRadius
    loaded_radius_m: LoadedRadius | None = None
    rolling_radius_m: RollingRadius | None = None
    unsprung_mass_kg: EndMass

    @property
    def loaded(self) -> float:
        """Loaded radius, m: measured, else estimated from the free radius."""
        return self.loaded_radius_m if self.loaded_radius_m is not None else LOADED_PART * self.tyre_free_radius_m

    @property
    def rolling(self) -> float:
        """Rolling radius, m: from a roll-out, else estimated from the free radius."""
        return self.rolling_radius_m if self.rolling_radius_m is not None else ROLLING_PART * self.tyre_free_radius_m


class Drivetrain(Frozen, frozen=True, kw_only=True):
    """Engine, gearbox and transfer case, as far as the axle feels them."""

    engine_torque_nm: EngineTorque
    idle_rpm: EngineSpeed = 750.0
    first_ratio: GearRatio
    top_ratio: GearRatio
    transfer_high_ratio: GearRatio = 1.0
    transfer_low_ratio: GearRatio
    converter_stall_ratio: StallRatio = 1.0
    transfer_case: TransferCase = "locked"


class Rig(Frozen, frozen=True, kw_only=True):
    """The vehicle at ride height, in SI; see docs/project-file.md."""

    name: Name
    notes: Text = ""
    use: Use = "rock"
    wheelbase_m: Wheelbase
    mass_kg: Mass
    cg_height_m: CgHeight
    cg_ahead_of_rear_m: CgAhead
    brake_front_share: Share = 0.7
    road_speed_m_per_s: RoadSpeed = 24.6
    front: WheelEnd
    rear: WheelEnd
    drivetrain: Drivetrain

    def end(self, end: str) -> WheelEnd:
        """The wheel end named ``front`` or ``rear``."""
        return self.front if end == "front" else self.rear
