"""What an axle record says that cannot be: one sentence, or nothing."""

from __future__ import annotations

from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.quantity.constants import INCH

_LESS = {"45_flat": 1.0, "30_flat": 1.35, "37_fillet": 1.3}
_PLACES = (("spline", "inner"), ("outer_spline", "outer"), ("stub_spline", "stub"))


def donor_trouble(donor: DonorAxle) -> tuple[str, str] | None:
    """The field and a sentence part for the first thing in a record that cannot be, or ``None``.

    >>> donor_trouble(DonorAxle(id="a", name="a", end="rear", tube_od_m=0.07, tube_wall_m=0.04))
    ('tube_wall_m', '40.0 mm is more than half the tube, 70.0 mm outside')
    """
    for stem, _ in _PLACES:
        teeth, pitch, major = (getattr(donor, f"{stem}_{key}") for key in ("teeth", "pitch_per_in", "major_diameter_m"))
        if teeth is None or pitch is None or major is None:
            continue
        root = getattr(donor, f"{stem}_root") or "45_flat"
        less = _LESS.get(root, 1.8 if pitch <= 12 else 2.0)
        minor = (teeth - less) / pitch * INCH
        if minor >= major:
            return (
                f"{stem}_major_diameter_m",
                f"{teeth} teeth of {pitch:g} pitch have a root of {minor * 1e3:.2f} mm, not less than the {major * 1e3:.2f} mm over the teeth",
            )
    if donor.tube_od_m is not None and donor.tube_wall_m is not None and 2 * donor.tube_wall_m > donor.tube_od_m:
        return (
            "tube_wall_m",
            f"{donor.tube_wall_m * 1e3:.1f} mm is more than half the tube, {donor.tube_od_m * 1e3:.1f} mm outside",
        )
    smallest = min((d for d in (donor.neck_diameter_m, donor.spline_major_diameter_m) if d is not None), default=None)
    if donor.shaft_bore_m and smallest is not None and donor.shaft_bore_m >= smallest:
        return (
            "shaft_bore_m",
            f"a bore of {donor.shaft_bore_m * 1e3:.1f} mm does not fit a shaft of {smallest * 1e3:.1f} mm",
        )
    if (
        donor.spline_length_m is not None
        and donor.spline_engaged_m is not None
        and donor.spline_engaged_m > donor.spline_length_m
    ):
        return (
            "spline_engaged_m",
            f"{donor.spline_engaged_m * 1e3:.1f} mm engaged is more than the spline's {donor.spline_length_m * 1e3:.1f} mm",
        )
    if donor.ring_teeth is not None and donor.pinion_teeth is not None and donor.pinion_teeth >= donor.ring_teeth:
        return (
            "pinion_teeth",
            f"{donor.pinion_teeth} pinion teeth are not fewer than the ring gear's {donor.ring_teeth}",
        )
    if donor.seat_spacing_m is not None and donor.width_m is not None and donor.seat_spacing_m >= donor.width_m:
        return (
            "seat_spacing_m",
            f"seats {donor.seat_spacing_m * 1e3:.0f} mm apart do not fit between wheel faces {donor.width_m * 1e3:.0f} mm apart",
        )
    if (
        donor.pinion_offset_m is not None
        and donor.width_m is not None
        and abs(donor.pinion_offset_m) >= donor.width_m / 2
    ):
        return "pinion_offset_m", f"{abs(donor.pinion_offset_m) * 1e3:.0f} mm is outside the wheel faces"
    return None
