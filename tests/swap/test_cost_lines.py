"""What the cost list charges, once and for what it is; every number added up by hand from the estimates that ship."""

from __future__ import annotations

import msgspec
import pytest

from stoutlink.core.analysis.swap.cost_to_ready import Cost, cost_to_ready
from stoutlink.core.analysis.swap.fit_up import fit_up
from stoutlink.core.analysis.swap.pick import rank_pairs
from stoutlink.core.analysis.vehicle.effective_vehicle import effective_vehicle
from stoutlink.core.catalogue.donor import ToothPair
from stoutlink.core.catalogue.prices import BY_ID
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.price_text import PriceText, money_words, read_price
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.swap import AxlePlan, Inspection, InspectionCheck, OwnCost, Price, ShelfPart
from stoutlink.core.errors import StoutError
from stoutlink.core.mechanics.slopes import rigid_tip
from stoutlink.core.reports.results import results
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file
from tests.swap.rigs import plain_axle, plain_front, plain_project
from tests.swap.test_choice import sets

INCH = 0.0254


def bill(project: Project) -> Cost:
    return cost_to_ready(project, project.rig, project.donor("front"), project.donor("rear"))


def count(cost: Cost, name: str) -> list[str]:
    return [x.end for x in cost.lines if x.id == name]


def test_one_compressor_for_the_rig() -> None:
    air = AxlePlan(locker="air")
    both = bill(plain_project(plain_front(), plain_axle(), front_plan=air, rear_plan=air))
    assert count(both, "air_supply") == ["both"]
    assert count(both, "locker_air") == ["front", "rear"]
    one = bill(plain_project(plain_front(), plain_axle(), rear_plan=air))
    assert both.total - one.total == pytest.approx(
        sum(BY_ID[n].amount for n in ("locker_air", "gear_kit", "gear_setup"))
    )


def test_a_drop_in_still_wants_the_other_carrier() -> None:
    """It goes inside the carrier that is there; gears past the break need the other one."""
    gears = ToothPair(ring=41, pinion=9)
    for locker, wanted in (("drop_in", ["front"]), (None, ["front"]), ("automatic", [])):
        plan = AxlePlan(gears=gears, locker=locker)  # type: ignore[arg-type]
        project = plain_project(
            plain_front(carrier_break_ratio=4.2, ratios=sets("40/10", "41/9")), plain_axle(), front_plan=plan
        )
        assert count(bill(project), "carrier") == wanted, locker


def test_oil_once() -> None:
    looked = Inspection(
        id=plain_axle().id, checks=(InspectionCheck(id="oil", state="worn"), InspectionCheck(id="seals", state="bad"))
    )
    axle = plain_axle()
    project = with_parts(plain_project(plain_front(), axle), inspections=(looked,))
    cost = cost_to_ready(project, project.rig, plain_front(), axle)
    repair = next(x for x in cost.lines if x.id == "repair")
    assert repair.amount == 60
    assert "Oil" not in repair.why
    assert count(cost, "fluids") == ["front", "rear"]


@pytest.mark.parametrize(
    ("wanted", "lines"),
    [
        (1.6 - 0.010, {"narrow_housing", "cut_shaft"}),
        (1.6 - 0.10, {"narrow_housing", "custom_shaft"}),
        (1.6 - 0.25, {"narrow_housing", "respline"}),
        (1.6 + 0.05, {"widen_housing", "custom_shaft"}),
    ],
)
def test_a_width_is_billed_for_what_is_done(wanted: float, lines: set[str]) -> None:
    axle = plain_axle(
        width_m=1.6, spline_length_m=0.05, spline_engaged_m=0.04, neck_length_m=0.06, body_diameter_m=0.05
    )
    cost = bill(plain_project(plain_front(), axle, rear_plan=AxlePlan(width_m=wanted)))
    all_width = {"narrow_housing", "widen_housing", "cut_shaft", "respline", "custom_shaft"}
    assert {x.id for x in cost.lines} & all_width == lines


def test_a_price_for_one_end_and_hours_of_ones_own() -> None:
    project = plain_project(plain_front(), plain_axle())
    before = bill(project)
    ours = (Price(id="driveshaft", amount=400.0), Price(id="driveshaft-front", amount=510.64, hours=2.5))
    after = bill(with_parts(project, prices=ours))
    assert after.total - before.total == pytest.approx(400 + 510.64 - 2 * 380)
    assert after.hours - before.hours == pytest.approx(2.5 - 1.0)


def test_own_lines_credits_and_what_is_bought_besides() -> None:
    project = plain_project(plain_front(), plain_axle())
    own = (
        OwnCost(id="a", title="Old axle sold", amount=-350.5),
        OwnCost(id="b", title="Press, hired", amount=40.0, hours=1.5, group="tool"),
    )
    buys = msgspec.structs.replace(project.swap.choosing, buys=("wheels", "tyres"))
    before, after = bill(project), bill(with_parts(project, own_costs=own, choosing=buys))
    assert after.total - before.total == pytest.approx(640 + 1180 - 350.5)
    assert after.tools - before.tools == pytest.approx(40)
    assert after.hours - before.hours == pytest.approx(2 + 1.5 + 1.5)
    extras = AxlePlan(extras=("disc_conversion", "housing_work", "cleaning"))
    more = bill(plain_project(plain_front(), plain_axle(), rear_plan=extras))
    assert more.total - before.total == pytest.approx(295 + 85 + 70)


def test_already_under_it_and_gears_that_stay() -> None:
    axle = plain_axle(price=900.0, brake="none")
    there = bill(plain_project(plain_front(), axle, rear_plan=AxlePlan(in_place=True)))
    assert not [x.id for x in there.lines if x.end == "rear" and x.amount]
    front = plain_front(ring_teeth=41, pinion_teeth=9, ratios=sets("40/10", "41/9"))
    free = bill(plain_project(front, plain_axle(ratios=sets("40/10", "41/9"))))
    assert len(count(free, "gear_set")) == 1
    keep = AxlePlan(keep_gears=True)
    kept = bill(plain_project(front, plain_axle(ratios=sets("40/10", "41/9")), front_plan=keep, rear_plan=keep))
    assert count(kept, "gear_set") == []
    only = bill(plain_project(front, plain_axle(ratios=sets("40/10", "41/9")), front_plan=keep))
    assert count(only, "gear_set") == ["rear"]


@pytest.mark.parametrize(("dear", "cheap"), [("front", "rear"), ("rear", "front")])
def test_the_cheaper_end_is_geared_anew(dear: str, cheap: str) -> None:
    """Both ends have the other's set: whichever costs less to set up is opened, in the cost list and in the pick."""
    front = plain_front(ring_teeth=41, pinion_teeth=9, ratios=sets("40/10", "41/9"))
    rear = plain_axle(ratios=sets("40/10", "41/9"))
    project = plain_project(front, rear)
    project = with_parts(project, prices=(Price(id=f"gear_set-{dear}", amount=900.0),))
    assert count(bill(project), "gear_set") == [cheap]
    (best,) = rank_pairs(project, project.rig, [front], [rear]).best
    bought = [
        e for e, axle, pair in zip(("front", "rear"), (front, rear), best.gears, strict=True) if pair != axle.pair
    ]
    assert bought == [cheap]
    assert best.numbers["cost"] == pytest.approx(bill(project).total)


def test_leaves_are_billed_as_leaves() -> None:
    project = read_project(demo_file("tamarack.stoutlink"))
    donor = next(d for d in project.swap.donors if d.end == "rear" and d.link_brackets is not True)
    chosen = with_parts(project, rear_donor=donor.id)
    layout = chosen.layout("rear")
    assert isinstance(layout, Layout)
    assert layout.leaf is not None
    assert "link_brackets" not in {x.id for x in bill(chosen).lines if x.end == "rear"}
    assert not {f.code for f in Study(chosen).findings_so_far if f.subject == donor.id} & {"K147", "K146"}


def test_an_adapter_on_the_shelf_closes_its_knock_on() -> None:
    project = read_project(demo_file("basalt.stoutlink"))
    front, rear = project.donor("front"), project.donor("rear")
    assert front is not None
    assert rear is not None
    bare = with_parts(project, shelf=())
    assert "K120" in {f.code for f in Study(bare).findings_so_far}
    pair = ShelfPart(
        id="ad",
        name="Adapter pair",
        kind="adapter",
        bolt_count=front.bolt_count,
        bolt_circle_m=front.bolt_circle_m,
        other_bolt_count=rear.bolt_count,
        other_bolt_circle_m=rear.bolt_circle_m,
    )
    with_it = with_parts(bare, shelf=(pair,))
    assert "K120" not in {f.code for f in Study(with_it).findings_so_far}
    wrong = msgspec.structs.replace(pair, other_bolt_count=(rear.bolt_count or 0) + 1)
    assert "K120" in {f.code for f in Study(with_parts(bare, shelf=(wrong,))).findings_so_far}


def test_the_track_follows_axle_wheel_and_adapter() -> None:
    project = plain_project(plain_front(width_m=1.6), plain_axle(width_m=1.62))
    wheels = msgspec.structs.replace(project.rig.rear, wheel_offset_m=-0.02, adapter_m=0.03, track_m=1.5)
    project = msgspec.structs.replace(project, rig=msgspec.structs.replace(project.rig, rear=wheels))
    rig = effective_vehicle(project).rig
    assert rig.rear.track_m == pytest.approx(1.62 + 2 * (0.03 + 0.02))
    narrow = with_parts(project, rear_plan=AxlePlan(width_m=1.52))
    assert effective_vehicle(narrow).rig.rear.track_m == pytest.approx(1.52 + 0.1)
    kept = msgspec.structs.replace(wheels, track_from="measured")
    measured = msgspec.structs.replace(project, rig=msgspec.structs.replace(project.rig, rear=kept))
    assert effective_vehicle(measured).rig.rear.track_m == 1.5
    behaves = [Study(p).behaviour().tip[0] for p in (project, measured)]
    wide = effective_vehicle(project).rig
    part = wide.cg_ahead_of_rear_m / wide.wheelbase_m
    across = rig.rear.track_m + part * (wide.front.track_m - rig.rear.track_m)
    assert behaves[0] == pytest.approx(rigid_tip(across, wide.cg_height_m))
    assert behaves[1] < behaves[0]


def test_width_to_even_out_counts_the_adapters_there_are() -> None:
    front, rear = plain_front(width_m=1.60), plain_axle(width_m=1.70)
    project = plain_project(front, rear)
    wheels = msgspec.structs.replace(project.rig.front, adapter_m=0.03)
    with_it = msgspec.structs.replace(project, rig=msgspec.structs.replace(project.rig, front=wheels))
    assert fit_up(project, project.rig, front, AxlePlan()).spacer_to_match == pytest.approx(0.05)
    assert fit_up(with_it, with_it.rig, front, AxlePlan()).spacer_to_match == pytest.approx(0.02)


def test_prices_are_read_as_typed() -> None:
    said = read_price("1510.64, 6 h both", "in")
    assert (said.amount, said.hours, said.both) == (1510.64, 6.0, True)
    assert read_price("12 hours", "mm").hours == 12.0
    assert read_price("-350", "in").amount == -350.0
    with pytest.raises(StoutError, match="dear"):
        read_price("dear", "in")
    assert [money_words(v) for v in (1510.64, 722.10, 40.0, -3.5)] == ["1510.64", "722.10", "40", "−3.50"]


def test_a_cable_goes_by_its_end_where_that_is_known() -> None:
    def codes(have: str, takes: str, kind: str) -> tuple[set[str], list[str]]:
        axle = plain_axle(parking_brake="in_hat_cable", parking_cable_end=takes)
        project = plain_project(plain_front(), axle)
        fittings = msgspec.structs.replace(project.rig.fittings, parking_brake=kind, parking_cable_end=have)
        project = msgspec.structs.replace(project, rig=msgspec.structs.replace(project.rig, fittings=fittings))
        return {f.code for f in Study(project).findings_so_far}, count(bill(project), "parking_brake")

    for have, takes, kind, off in (
        ("Ball 8", "ball 8", "drum_cable", False),
        ("ball 8", "hook 10", "in_hat_cable", True),
        ("", "", "drum_cable", True),
        ("", "hook 10", "in_hat_cable", False),
    ):
        said, billed = codes(have, takes, kind)
        assert ("K144" in said, bool(billed)) == (off, off), (have, takes, kind)


def test_what_is_paid_and_what_is_left_to_pay() -> None:
    """An axle in the shop is paid for; of a line what is said to be; paid alone is all of it. The total stays."""
    assert read_price("240, 6 h, paid 80", "in") == PriceText(240.0, 6.0, False, 80.0)
    assert read_price("240 paid both", "in") == PriceText(240.0, None, True, 240.0)
    assert read_price("paid 30", "in") == PriceText(None, None, False, 30.0)
    project = plain_project(plain_front(price=500.0), plain_axle(price=800.0))
    assert bill(project).paid == 0.0
    after = with_parts(
        project, rear_plan=AxlePlan(bought=True), prices=(Price(id="driveshaft-front", amount=310.0, paid=120.0),)
    )
    found = bill(after)
    assert found.paid == pytest.approx(800.0 + 120.0)
    amounts = sum(x.amount or 0.0 for x in found.lines)
    assert found.to_pay == pytest.approx(amounts - 920.0)
    (axle,) = [x for x in found.lines if x.id == "axle" and x.end == "rear"]
    assert (axle.why, axle.paid, axle.amount) == ("in the shop", 800.0, 800.0)
    (shaft,) = [x for x in found.lines if x.id == "driveshaft" and x.end == "front"]
    assert (shaft.amount, shaft.paid) == (310.0, 120.0)
    (other,) = [x for x in found.lines if x.id == "driveshaft" and x.end == "rear"]
    assert other.paid == 0.0
    assert results(Study(after))["cost_to_ready"]["to_pay"] == pytest.approx(found.to_pay)
