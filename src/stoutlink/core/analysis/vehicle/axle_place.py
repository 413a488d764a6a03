"""Where an axle stands at ride height."""

from __future__ import annotations

from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.rig import Rig, WheelEnd
from stoutlink.core.document.swap import AxlePlan

BELOW = 0.032
"""Housing metal below the ring gear of an unmeasured housing, m (estimate)."""


def axle_centre(rig: Rig, end: str) -> tuple[float, float, float]:
    """Middle between the hubs of an end at ride height, m: over the wheel prints, at the loaded radius."""
    return (rig.wheelbase_m if end == "front" else 0.0, 0.0, rig.end(end).loaded)


def axle_track(wheel: WheelEnd, donor: DonorAxle, plan: AxlePlan) -> float | None:
    """Track an axle gives with the wheels at hand, m: over the faces, adapters on, less twice the wheel offset; None
    unless both are known. Two wheels a side stand back to back, so that the middle of the pair is in the wheel face.
    """
    width = plan.width_m if plan.width_m is not None and donor.width_m is not None else donor.width_m
    if wheel.dual_m is not None:
        return None if width is None else width + 2 * wheel.adapter_m
    if width is None or wheel.wheel_offset_m is None:
        return None
    return width + 2 * (wheel.adapter_m - wheel.wheel_offset_m)


def track_with(wheel: WheelEnd, donor: DonorAxle | None, plan: AxlePlan) -> float:
    """The track that counts with an axle, m: the axle's own where it is known and the user lets it count, else as
    entered.
    """
    if donor is None or wheel.track_from == "measured":
        return wheel.track_m
    return axle_track(wheel, donor, plan) or wheel.track_m
