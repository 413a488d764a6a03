"""How sure a donor's numbers in this rig are: the rig's readings carried through gears, grip and shaft demand."""

from __future__ import annotations

import math

from stoutlink.core.analysis.swap.donor_in_rig import donor_in_rig
from stoutlink.core.analysis.vehicle.rig_readings import rig_cases
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.project import Project

NUMBERS = ("rpm_at_road_speed", "crawl_speed", "demand_level", "demand_one_wheel", "ground_clearance")


def donor_sure(project: Project, donor: DonorAxle) -> dict[str, float]:
    """1 σ of a donor's numbers (SI, names of :class:`~stoutlink.core.analysis.swap.donor_in_rig.DonorInRig`), first
    order over the rig's readings.

    The estimates behind a demand (grip, shock factor) are choices and not in it; tooth counts are exact.
    """
    squares = dict.fromkeys(NUMBERS, 0.0)
    for case in rig_cases(project):
        plan, choosing = project.plan(donor.end), project.swap.choosing
        up, down = donor_in_rig(case.up, donor, plan, choosing), donor_in_rig(case.down, donor, plan, choosing)
        for name in NUMBERS:
            if getattr(up, name) is not None:
                squares[name] += ((getattr(up, name) - getattr(down, name)) / 2.0) ** 2
    return {name: math.sqrt(v) for name, v in squares.items()}
