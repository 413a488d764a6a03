"""An axle brought to another width: what comes off each side, how the shafts get there, whether the jig takes it."""

from __future__ import annotations

from msgspec import Struct

from stoutlink.core.analysis.swap.capacities import spline_of
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.project import Project
from stoutlink.core.mechanics.narrowing import ShaftCut, ShaftRegions, narrow_sides, shaft_regions, shorten
from stoutlink.core.mechanics.spline import spline_size

RIGHT_WIDTH = 0.0127
"""An axle within this of a wanted width, m, needs no narrowing (half an inch, a spacer's worth)."""
SEATS_NEAR = 0.25
"""Spring seats within this of the wheel faces, both sides together, m, sit against the wheels (estimate)."""


class Narrowing(Struct, frozen=True):
    """A wanted width: what comes off each side (negative: it gets wider), the regions of its shaft and how each shaft
    gets there, where the pinion ends up, whether the jig takes it, and axles of the catalogue that have the width
    already.
    """

    total: float
    left: float
    right: float
    regions: ShaftRegions
    left_shaft: ShaftCut
    right_shaft: ShaftCut
    left_length: float | None
    right_length: float | None
    """Shafts to cut or order, m: as they are less what comes off; None while they are not measured."""
    pinion_offset: float
    jig: str
    tube: str
    alternatives: tuple[DonorAxle, ...]

    @property
    def wider(self) -> bool:
        """Whether it gets wider, which no jig and no saw does."""
        return self.total < -1e-9

    @property
    def shafts_splined(self) -> int:
        """Shafts that are splined anew."""
        return sum(1 for cut in (self.left_shaft, self.right_shaft) if cut.how == "respline")

    @property
    def shafts_ordered(self) -> int:
        """Shafts that have to be ordered."""
        return sum(1 for cut in (self.left_shaft, self.right_shaft) if cut.how == "custom")


def narrowing(project: Project, donor: DonorAxle, wanted: float, *, centre_pinion: bool) -> Narrowing | None:
    """How to bring an axle to a width; None when its own is not known."""
    if donor.width_m is None:
        return None
    left, right, offset = narrow_sides(donor.width_m, wanted, donor.pinion_offset_m or 0.0, centre_pinion=centre_pinion)
    regions = regions_of(donor)
    same = tuple(
        d
        for d in project.swap.donors
        if d.end == donor.end and d.id != donor.id and d.width_m is not None and abs(d.width_m - wanted) <= RIGHT_WIDTH
    )
    return Narrowing(
        left + right,
        left,
        right,
        regions,
        shorten(left, regions),
        shorten(right, regions),
        None if donor.shaft_left_m is None else donor.shaft_left_m - left,
        None if donor.shaft_right_m is None else donor.shaft_right_m - right,
        offset,
        _jig(donor),
        _tube(donor, wanted, max(left, right)),
        tuple(sorted(same, key=lambda d: (abs((d.width_m or 0) - wanted), d.id))[:4]),
    )


def regions_of(donor: DonorAxle) -> ShaftRegions:
    """The regions at the inner end of an axle's shafts."""
    spline, major = spline_of(donor), donor.spline_major_diameter_m
    if major is None and spline is not None:
        major = spline_size(spline.teeth, spline.pitch, spline.root).major
    return shaft_regions(
        donor.spline_length_m,
        donor.spline_engaged_m,
        donor.neck_length_m,
        donor.body_diameter_m,
        major,
        donor.spline_form or "",
    )


def _jig(donor: DonorAxle) -> str:
    """What speaks for and against the jig: its length, tubes of one diameter from end to end, pucks for the bores."""
    missing = []
    if donor.jig_length_m is None:
        missing.append("how long a housing the jig takes")
    elif donor.width_m is not None and donor.width_m > donor.jig_length_m:
        return "longer than the jig takes"
    if donor.tube_form == "stepped":
        return "not for the jig: its tubes change diameter, cut where they are straight and turn the sleeves to suit"
    if donor.jig_pucks is False:
        return "not for the jig yet: pucks for its bearing bores have to be turned"
    if donor.tube_form is None:
        missing.append("whether its tubes keep one diameter")
    if donor.jig_pucks is None:
        missing.append("whether there are pucks for its bores")
    return "fits the jig" if not missing else f"for the jig say {', and '.join(missing)}"


def _tube(donor: DonorAxle, wanted: float, most: float) -> str:
    if most <= 0:
        return "nothing to cut"
    if donor.seat_spacing_m is not None and wanted - donor.seat_spacing_m < SEATS_NEAR:
        return "spring seats would sit against the wheels"
    return "new ends sleeved on, welded by a qualified welder, checked with the bar before and after"
