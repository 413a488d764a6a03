"""Parts of the shelf planned into an axle: matched with one another, not with what comes out; what comes out serves the
other end; ladder, cost and ranking see the same axle."""

from __future__ import annotations

from typing import Any

import msgspec
import pytest

from stoutlink.core.analysis.swap.cost_to_ready import cost_to_ready
from stoutlink.core.analysis.swap.fitted import fitted_set
from stoutlink.core.analysis.swap.match_matrix import match_matrix
from stoutlink.core.analysis.swap.pick import rank_pairs
from stoutlink.core.catalogue.donor import ToothPair
from stoutlink.core.document.fitted_axle import as_fitted
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.swap import AxlePlan, ShelfPart
from stoutlink.core.editing.swap_edits import FitPart
from stoutlink.core.study.study import Study
from tests.swap.rigs import plain_axle, plain_front, plain_project

SHAFTS = ShelfPart(
    id="shafts",
    name="35-tooth shafts",
    kind="inner_shaft",
    spline_teeth=35,
    spline_pitch_per_in=24.0,
    spline_root="45_flat",
)
GEARS = ShelfPart(
    id="gears",
    name="35-tooth side gears",
    kind="side_gears",
    spline_teeth=35,
    spline_pitch_per_in=24.0,
    spline_root="45_flat",
)
SET = ShelfPart(id="set", name="41/9 set", kind="gear_set", gears=ToothPair(ring=41, pinion=9))


def with_shelf(
    shelf: tuple[ShelfPart, ...], rear: tuple[str, ...] = (), front: tuple[str, ...] = (), **plan: Any
) -> Project:
    project = plain_project(plain_front(), plain_axle())
    return with_parts(project, shelf=shelf, rear_plan=AxlePlan(fitted=rear, **plan), front_plan=AxlePlan(fitted=front))


def _mates(project: Project, end: str = "rear") -> dict[str, bool | None]:
    axle = project.donor(end)
    assert axle is not None
    return {m.title: m.fits for m in fitted_set(project, project.rig, axle, None).mates}


def test_shafts_alone_do_not_go_in_and_with_their_gears_they_do() -> None:
    assert _mates(with_shelf((SHAFTS, GEARS), ("shafts",))) == {"35-tooth shafts in its own side gears": False}
    assert _mates(with_shelf((SHAFTS, GEARS), ("gears",))) == {"its own shafts in 35-tooth side gears": False}
    assert _mates(with_shelf((SHAFTS, GEARS), ("shafts", "gears"))) == {"35-tooth shafts in 35-tooth side gears": True}
    unknown = ShelfPart(id="shafts", name="Shafts", kind="inner_shaft")
    assert _mates(with_shelf((unknown,), ("shafts",))) == {"Shafts in its own side gears": None}


def test_the_matrix_holds_a_part_against_what_it_will_meet() -> None:
    """35-tooth shafts do not fit an axle of 30, but fit it once side gears of 35 are planned into it."""

    def state(project: Project, part: str, end: str) -> str:
        found = match_matrix(project, project.rig, project.donor("front"), project.donor("rear"))
        place = next(p for p in found.places if p.end == end and p.kind == "inner")
        cell = found.cell(place, f"shelf {part}")
        assert cell is not None
        return cell.state

    assert state(with_shelf((SHAFTS, GEARS)), "shafts", "rear") == "bridged"
    both = with_shelf((SHAFTS, GEARS), ("gears",))
    assert state(both, "shafts", "rear") == "fits"
    own = match_matrix(both, both.rig, both.donor("front"), both.donor("rear"))
    place = next(p for p in own.places if p.end == "rear" and p.kind == "inner")
    assert own.cell(place, "rear axle").state == "bridged"  # type: ignore[union-attr]
    assert state(both, "shafts", "front") == "bridged"  # the other end keeps its own
    assert state(both, "gears", "rear") == "bridged"  # against the shafts still in it
    assert state(with_shelf((SHAFTS, GEARS), ("gears", "shafts")), "gears", "rear") == "fits"


def test_what_does_not_go_together_is_a_danger_until_it_does() -> None:
    def codes(project: Project) -> list[str]:
        return [f.severity for f in Study(project).findings_so_far if f.code == "K165"]

    assert codes(with_shelf((SHAFTS, GEARS))) == []
    assert codes(with_shelf((SHAFTS, GEARS), ("shafts",))) == ["danger"]
    assert codes(with_shelf((SHAFTS, GEARS), ("shafts", "gears"))) == []


def test_what_comes_out_is_said_and_serves_the_other_end() -> None:
    project = with_shelf((SHAFTS, GEARS), ("shafts", "gears"))
    rear, front = project.donor("rear"), project.donor("front")
    assert rear is not None
    assert front is not None
    assert front.spline_teeth == rear.spline_teeth == 30
    freed = {f.part.kind: f for f in fitted_set(project, project.rig, rear, front).freed}
    assert set(freed) == {"inner_shaft", "side_gears"}
    assert freed["inner_shaft"].part.spline_teeth == 30
    assert freed["inner_shaft"].serves == "would go into the front axle"
    other = msgspec.structs.replace(front, spline_teeth=27)
    assert all(f.serves == "" for f in fitted_set(project, project.rig, rear, other).freed)


def test_the_ladder_has_the_shafts_that_go_in() -> None:
    """As if its record had had them: 35 teeth, neck and material not known."""
    project = with_shelf((SHAFTS, GEARS), ("shafts", "gears"))
    rear = project.donor("rear")
    assert rear is not None
    after = as_fitted(project, rear)
    assert (after.spline_teeth, after.neck_diameter_m, after.shaft_yield_pa) == (
        35,
        None,
        None,
    )  # of its neck nothing is known
    study = Study(project)
    bare = dict.fromkeys(("neck_diameter_m", "shaft_yield_pa"))
    record = msgspec.structs.replace(plain_axle(), spline_teeth=35, **bare)  # an axle that has them by its record
    by_record = Study(plain_project(plain_front(), record)).ladder(record)
    found = study.ladder(rear)
    assert found.rungs == by_record.rungs
    rung = found.rung("inner_spline")
    plain = Study(with_shelf((SHAFTS, GEARS))).ladder(rear).rung("inner_spline")
    assert rung is not None
    assert plain is not None
    assert rung.carries != plain.carries
    assert study.in_rig_planned(rear).major != Study(with_shelf((SHAFTS, GEARS))).in_rig_planned(rear).major
    front = project.donor("front")
    assert front is not None
    assert (
        study.ladder(front).rungs == Study(with_shelf((SHAFTS, GEARS))).ladder(front).rungs
    )  # the other end keeps its own


@pytest.mark.parametrize(
    ("shelf", "fitted", "plan", "line"),
    [
        ((SHAFTS,), ("shafts",), {"upgrades": ("shafts",)}, "shafts"),
        ((SET,), ("set",), {"gears": ToothPair(ring=41, pinion=9)}, "gear_set"),
        (
            (ShelfPart(id="l", name="Locker", kind="locker", spline_teeth=30),),
            ("l",),
            {"locker": "spool"},
            "locker_spool",
        ),
    ],
)
def test_what_is_on_the_shelf_is_not_bought(
    shelf: tuple[ShelfPart, ...], fitted: tuple[str, ...], plan: dict[str, Any], line: str
) -> None:
    bought, had = with_shelf(shelf, (), **plan), with_shelf(shelf, fitted, **plan)
    if line == "locker_spool":
        open_axle = plain_axle(locker="open")
        bought, had = (
            with_parts(p, donors=tuple(open_axle if d.end == "rear" else d for d in p.swap.donors))
            for p in (bought, had)
        )
    bills = []
    for project in (bought, had):
        front, rear = project.donor("front"), project.donor("rear")
        bill = cost_to_ready(project, project.rig, front, rear)
        (one,) = [x for x in bill.lines if x.id == line and x.end == "rear"]
        bills.append((bill, one))
        best = rank_pairs(project, project.rig, [front], [rear]).best[0]
        assert best.numbers["cost"] == pytest.approx(bill.total)  # the pick says the same
    assert bills[1][1].amount == 0.0
    assert bills[1][1].why.startswith("from the shelf: ")
    assert bills[0][0].total - bills[1][0].total == pytest.approx(bills[0][1].amount)
    assert bills[0][1].hours == bills[1][1].hours


def test_one_of_a_kind_goes_in_and_an_undo_takes_it_out() -> None:
    more = msgspec.structs.replace(SHAFTS, id="more", name="Other shafts")
    project = with_shelf((SHAFTS, GEARS, more))
    one = FitPart("shafts", "rear").apply(project)
    two = FitPart("more", "rear").apply(FitPart("gears", "rear").apply(one))
    assert set(two.swap.rear_plan.fitted) == {"gears", "more"}
    moved = FitPart("more", "front").apply(two)
    assert (moved.swap.rear_plan.fitted, moved.swap.front_plan.fitted) == (("gears",), ("more",))
    assert FitPart("more", None).apply(moved).swap.front_plan.fitted == ()


@pytest.mark.parametrize(
    ("sides", "bridges"),
    [(("S 30", "s44"), True), (("s44", "S30"), True), (("s30", "s52"), False), (("s30", ""), False)],
)
def test_a_conversion_joint_on_the_shelf_bridges_two_series(sides: tuple[str, str], bridges: bool) -> None:
    """The shaft at the case has S30 caps, the pinion S44: the joint that takes both is neither bought nor asked for."""
    joint = ShelfPart(id="joint", name="Two-cap joint", kind="joint", series=sides[0], other_series=sides[1])
    project = with_shelf((joint,))
    fittings = msgspec.structs.replace(project.rig.fittings, rear_joint_series="S30")
    rear = plain_axle(pinion_joint_series="S44")
    project = with_parts(
        project,
        rig=msgspec.structs.replace(project.rig, fittings=fittings),
        donors=tuple(rear if d.end == "rear" else d for d in project.swap.donors),
    )
    bill = cost_to_ready(project, project.rig, project.donor("front"), rear)
    (line,) = [x for x in bill.lines if x.id == "joint_conversion"]
    assert (line.amount == 0.0) is bridges
    assert ("from the shelf" in line.why) is bridges
    asked = [f for f in Study(project).findings_so_far if f.code == "K140"]
    assert bool(asked) is not bridges
    found = match_matrix(project, project.rig, None, rear)
    place = next(p for p in found.places if p.kind == "driveshaft")
    cell = found.cell(place, "shelf joint")
    assert cell is not None
    assert (cell.state == "fits") is bridges
    assert rank_pairs(project, project.rig, [project.donor("front")], [rear]).best[0].numbers["cost"] == pytest.approx(
        bill.total
    )
