"""What an axle record says that cannot be: one sentence, or nothing."""

from __future__ import annotations

from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.quantity.constants import INCH
from stoutlink.core.quantity.shown import show_both

_LESS = {"45_flat": 1.0, "30_flat": 1.35, "37_fillet": 1.3}
_PLACES = (("spline", "inner"), ("outer_spline", "outer"), ("stub_spline", "stub"))


def donor_trouble(donor: DonorAxle) -> tuple[str, str] | None:
    """The field and a sentence part for the first thing in a record that cannot be, or ``None``.

    >>> donor_trouble(DonorAxle(id="a", name="a", end="rear", tube_od_m=0.07, tube_wall_m=0.04))
    ('tube_wall_m', '1.575″ (40.00 mm) is more than half the tube, 2.76″ (70 mm) outside')
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
                f"{teeth} teeth of {pitch:g} pitch have a root of {show_both(minor, 'length')}, not less than the {show_both(major, 'length')} over the teeth",
            )
    if donor.tube_od_m is not None and donor.tube_wall_m is not None and 2 * donor.tube_wall_m > donor.tube_od_m:
        return (
            "tube_wall_m",
            f"{show_both(donor.tube_wall_m, 'fine_length')} is more than half the tube, {show_both(donor.tube_od_m, 'length')} outside",
        )
    smallest = min((d for d in (donor.neck_diameter_m, donor.spline_major_diameter_m) if d is not None), default=None)
    if donor.shaft_bore_m and smallest is not None and donor.shaft_bore_m >= smallest:
        return (
            "shaft_bore_m",
            f"a bore of {show_both(donor.shaft_bore_m, 'length')} does not fit a shaft of {show_both(smallest, 'length')}",
        )
    if (
        donor.spline_length_m is not None
        and donor.spline_engaged_m is not None
        and donor.spline_engaged_m > donor.spline_length_m
    ):
        return (
            "spline_engaged_m",
            f"{show_both(donor.spline_engaged_m, 'length')} engaged is more than the spline's {show_both(donor.spline_length_m, 'length')}",
        )
    if donor.ring_teeth is not None and donor.pinion_teeth is not None and donor.pinion_teeth >= donor.ring_teeth:
        return (
            "pinion_teeth",
            f"{donor.pinion_teeth} pinion teeth are not fewer than the ring gear's {donor.ring_teeth}",
        )
    if donor.seat_spacing_m is not None and donor.width_m is not None and donor.seat_spacing_m >= donor.width_m:
        return (
            "seat_spacing_m",
            f"seats {show_both(donor.seat_spacing_m, 'length')} apart do not fit between wheel faces {show_both(donor.width_m, 'length')} apart",
        )
    if (
        donor.pinion_offset_m is not None
        and donor.width_m is not None
        and abs(donor.pinion_offset_m) >= donor.width_m / 2
    ):
        return "pinion_offset_m", f"{show_both(abs(donor.pinion_offset_m), 'length')} is outside the wheel faces"
    return None
