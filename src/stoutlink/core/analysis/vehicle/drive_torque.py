"""What engine, gearbox and low range send to an axle."""

from __future__ import annotations

from stoutlink.core.document.rig import Rig


def drive_torque(rig: Rig, *, reverse: bool = False) -> float:
    """Torque the gearbox and low range send to one output, N·m: a locked case may send all of it, an open centre
    half.
    """
    train = rig.drivetrain
    gear = train.first_ratio if not reverse else (train.reverse_ratio or train.first_ratio)
    total = train.peak_torque * train.stall * gear * train.transfer_low_ratio
    return total if train.transfer_case == "locked" else total / 2
