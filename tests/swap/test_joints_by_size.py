"""Driveshaft joints told apart by the caliper: caps and span before names, in every place that asks."""

from __future__ import annotations

from typing import Any

import pytest

from stoutlink.core.advice.swap_rules.findings import swap_findings
from stoutlink.core.analysis.swap.cost_to_ready import conversion_joint, cost_to_ready
from stoutlink.core.analysis.swap.match_matrix import match_matrix
from stoutlink.core.catalogue.joint_size import JointSize, same_joint
from stoutlink.core.document.fittings import Fittings
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.swap import ShelfPart
from tests.swap.rigs import plain_axle, plain_project, plain_rig

SMALL, LARGE = (0.0270, 0.0818), (0.0302, 0.0921)


@pytest.mark.parametrize(
    ("one", "two", "same"),
    [
        (("A", *SMALL), ("B", *SMALL), True),  # two makers' names for one size
        (("A", *SMALL), ("A", *LARGE), False),  # one name for two sizes
        (("", 0.0270, None), ("", 0.0271, None), None),  # caps alike, span not measured
        (("A", 0.0270, None), ("a", 0.0271, None), True),
        (("A", 0.0270, 0.0818), ("A", 0.0270, 0.0826), False),  # span 0.8 mm apart
        (("A", None, None), ("a", *SMALL), True),
        (("", None, None), ("A", *SMALL), None),
    ],
)
def test_size_before_name(one: Any, two: Any, same: bool | None) -> None:
    assert same_joint(JointSize(*one), JointSize(*two)) is same
    assert same_joint(JointSize(*two), JointSize(*one)) is same


def rig_with(**fittings: Any) -> Project:
    rear = plain_axle(pinion_joint_series="P1", pinion_joint_cap_m=SMALL[0], pinion_joint_span_m=SMALL[1])
    return plain_project(rear=rear, rig=plain_rig(fittings=Fittings(**fittings)))


def asks(project: Project) -> tuple[bool, bool, str]:
    """Whether cost and findings ask for a conversion, and what the matrix says: three ways to one answer."""
    front, rear = project.donor("front"), project.donor("rear")
    matrix = match_matrix(project, project.rig, front, rear)
    cell = next(
        c for c in matrix.cells if c.part == "vehicle" and c.place.kind == "driveshaft" and c.place.end == "rear"
    )
    line = next(
        (
            x
            for x in cost_to_ready(project, project.rig, front, rear).lines
            if x.id == "joint_conversion" and x.end == "rear"
        ),
        None,
    )
    return line is not None, any(f.code == "K140" for f in swap_findings(project, project.rig)), cell.state


def test_every_place_gives_one_answer() -> None:
    assert asks(rig_with(rear_joint_series="P1")) == (False, False, "fits")
    assert asks(rig_with(rear_joint_series="P1", rear_joint_cap_m=LARGE[0])) == (True, True, "bridged")
    assert asks(rig_with(rear_joint_series="Q7", rear_joint_cap_m=SMALL[0], rear_joint_span_m=SMALL[1])) == (
        False,
        False,
        "fits",
    )
    assert asks(rig_with()) == (False, False, "unknown")


def test_a_conversion_joint_is_found_by_its_sizes() -> None:
    joint = ShelfPart(id="j", name="Conversion joint", kind="joint", cap_m=LARGE[0], span_m=LARGE[1], other_cap_m=SMALL[0], other_span_m=SMALL[1])  # fmt: skip
    project = with_parts(rig_with(rear_joint_cap_m=LARGE[0], rear_joint_span_m=LARGE[1]), shelf=(joint,))
    rear = project.donor("rear")
    assert rear is not None
    assert conversion_joint(project, rear.pinion_joint, project.rig.fittings.joint("rear")) is joint
    line = next(x for x in cost_to_ready(project, project.rig, None, rear).lines if x.id == "joint_conversion")
    assert line.amount == 0.0
    assert not any(f.code == "K140" for f in swap_findings(project, project.rig))
    matrix = match_matrix(project, project.rig, None, rear)
    cell = next(c for c in matrix.cells if c.part == "shelf j")
    assert cell.state == "fits"
    assert cell.why == (
        "1.06″ (27 mm) caps and 3.22″ (81.8 mm) span at the pinion, 1.19″ (30.2 mm) caps and 3.63″ (92.1 mm) span at the shaft"
    )
