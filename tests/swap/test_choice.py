"""Gears, lockers, match, fit, inspection, cost and the pick, on rigs a hand can follow."""

from __future__ import annotations

import math

import msgspec
import numpy as np
import pytest

from stoutlink.core.analysis.swap.cost_to_ready import cost_to_ready
from stoutlink.core.analysis.swap.fit_up import fit_up
from stoutlink.core.analysis.swap.gear_choice import gear_choice, usable_band
from stoutlink.core.analysis.swap.inspection import LOOKS, judge
from stoutlink.core.analysis.swap.locker_advice import locker_advice
from stoutlink.core.analysis.swap.match_matrix import match_matrix
from stoutlink.core.analysis.swap.narrowed import narrowing
from stoutlink.core.analysis.swap.pick import CRITERIA, rank_pairs, why_ahead
from stoutlink.core.catalogue.donor import DonorAxle, ToothPair
from stoutlink.core.catalogue.donor_merge import merge_donor
from stoutlink.core.catalogue.prices import BY_ID
from stoutlink.core.document.fittings import Fittings
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.rig import Body, TorquePoint
from stoutlink.core.document.swap import AxlePlan, Choosing, Inspection, InspectionCheck, Price, ShelfPart
from stoutlink.core.editing.edits import SetNumber
from stoutlink.core.editing.swap_edits import ImportDonors
from stoutlink.core.mechanics.pareto import front_of
from stoutlink.core.storage.files import read_project
from stoutlink.demo import demo_file
from tests.swap.rigs import plain_axle, plain_front, plain_project, plain_rig


def sets(*words: str) -> tuple[ToothPair, ...]:
    return tuple(ToothPair(ring=int(a), pinion=int(b)) for a, b in (w.split("/") for w in words))


def test_gears_of_both_ends_are_matched_with_their_tyres() -> None:
    front = plain_front(ring_teeth=37, pinion_teeth=9, ratios=sets("37/9", "41/9"))
    rear = plain_axle(ring_teeth=41, pinion_teeth=10, ratios=sets("41/10", "41/9", "43/8"))
    project = plain_project(front, rear)
    found = gear_choice(project, project.rig, rear, front)
    partners = {str(o.pair): o.partner and str(o.partner) for o in found.offers}
    assert partners == {"41/10": "37/9", "41/9": "41/9", "43/8": None}
    taller = msgspec.structs.replace(project.rig.front, rolling_radius_m=0.465 * 1.02)
    apart = gear_choice(project, plain_rig(front=taller), rear, front)
    assert all(o.partner is None for o in apart.offers)
    assert "ruled out" in apart.ruled_out


def test_old_feel_and_speedometer() -> None:
    rig = plain_rig(fittings=Fittings(old_ratio=3.5, old_rolling_radius_m=0.38, speed_pickup="driveshaft"))
    axle = plain_axle(ratios=sets("40/10", "41/9", "43/8"))
    found = gear_choice(plain_project(rig=rig), rig, axle, None)
    assert found.same_feel == pytest.approx(3.5 * 0.465 / 0.38)
    assert [str(p) for p in found.neighbours] == ["40/10", "41/9"]
    offer = found.offers[0]
    assert offer.change == pytest.approx(4.0 / (3.5 * 0.465 / 0.38) - 1)
    assert offer.indicated == pytest.approx(4.0 / 3.5 * 0.38 / 0.465)
    tall = gear_choice(plain_project(rig=rig), rig, plain_axle(ratios=sets("40/10")), None)
    assert tall.off_list
    assert [str(p) for p in tall.neighbours] == ["40/10"]


def test_usable_band_is_read_off_the_curve() -> None:
    """Straight between points: 240 N·m (80 % of 300) lies half way from 180 to 300 and two thirds of the way from 300
    to 210.
    """
    curve = tuple(TorquePoint(rpm=r, torque_nm=t) for r, t in ((1000.0, 180.0), (2000.0, 300.0), (3500.0, 210.0)))
    train = msgspec.structs.replace(plain_rig().drivetrain, torque_curve=curve)
    assert usable_band(train) == pytest.approx((1500.0, 3000.0))
    assert usable_band(msgspec.structs.replace(train, torque_curve=())) is None


def test_lockers_know_both_schools_and_what_they_need() -> None:
    rig = plain_rig(fittings=Fittings(air_supply=False, spare_circuit=True))
    project = plain_project(rig=rig)
    advice = {a.kind.id: a for a in locker_advice(project, rig, plain_axle(locker="spool"))}
    assert all(a.kind.school_for and a.kind.school_against for a in advice.values())
    assert advice["drop_in"].word == "no"
    assert any("compressor" in n for n in advice["air"].needs)
    assert any("is there" in n for n in advice["electric"].needs)
    small = {a.kind.id: a for a in locker_advice(project, rig, plain_front(spline_teeth=27))}
    assert small["spool"].grade < small["electric"].grade
    wet = msgspec.structs.replace(rig, uses=msgspec.structs.replace(rig.uses, rock=0.1, road=0.9), road_legal=True)
    road = [a.kind.id for a in locker_advice(project, wet, plain_axle(locker="open"))]
    assert road.index("open") < road.index("spool")
    assert road.index("air") < road.index("automatic")


def test_match_matrix_tells_what_fits_and_what_bridges() -> None:
    front = plain_front(spline_teeth=30, bolt_count=8, bolt_circle_m=0.1651, brake_thread="M12x1.0")
    rear = plain_axle(spline_teeth=33, carrier_break_ratio=4.2, ring_diameter_m=0.23)
    shelf = (
        ShelfPart(id="a", name="Locker", kind="locker", spline_teeth=33, lowest_ratio=4.3),
        ShelfPart(id="b", name="Set", kind="gear_set", gears=ToothPair(ring=43, pinion=8)),
        ShelfPart(
            id="c",
            name="Adapters",
            kind="adapter",
            bolt_count=6,
            bolt_circle_m=0.14,
            other_bolt_count=8,
            other_bolt_circle_m=0.1651,
        ),
    )
    project = plain_project(front, rear, shelf=shelf)
    found = match_matrix(project, project.rig, front, rear)
    state = {(c.place.end, c.place.kind, c.part): c for c in found.cells}
    assert state["rear", "inner", "front axle"].state == "bridged"
    assert state["rear", "inner", "front axle"].why == "30 teeth against 33"
    assert state["rear", "inner", "rear axle"].state == "fits"
    assert state["rear", "inner", "shelf a"].state == "fits"
    assert state["front", "inner", "shelf a"].state == "bridged"
    assert state["rear", "carrier", "shelf a"].state == "no"
    assert state["rear", "carrier", "shelf b"].why == "43/8 is not made for this ring gear"
    assert state["rear", "carrier", "front axle"].state == "no"
    assert state["rear", "wheel", "shelf c"].state == "fits"
    assert state["front", "wheel", "shelf c"].state == "no"
    assert state["front", "brakes", "rear axle"].state == "bridged"
    assert state["front", "wheel", "vehicle"].state == "unknown"
    assert match_matrix(project, project.rig, None, None).places == ()


def test_fit_up_by_hand() -> None:
    """Common practice: a kit 3 1/2 in a side wider over a fender 2 in wider stands out 1 1/2 in a side; widths 6 in
    apart, 2 1/2 in adapters leave 1/2 in a side.
    """
    inch = 0.0254
    wheel = msgspec.structs.replace(
        plain_rig().rear, wheel_offset_m=0.0, rim_width_m=9 * inch, tyre_text="", tyre_free_radius_m=0.48
    )
    fender = 1.6 + wheel.tread + 2 * 2 * inch
    rig = plain_rig(rear=wheel, body=Body(fender_rear_m=fender, frame_rear_m=0.9))
    wide = plain_axle(width_m=1.6 + 7 * inch)
    project = plain_project(rear=wide, rig=rig)
    found = fit_up(project, rig, wide, AxlePlan())
    assert found.poke == pytest.approx(1.5 * inch)
    assert found.backspacing == pytest.approx(5 * inch)
    assert found.tyre_middle == pytest.approx(wide.width_m / 2 if wide.width_m else 0)
    assert found.room_straight == pytest.approx((1.6 + 7 * inch) / 2 - wheel.tread / 2 - 0.45)
    assert found.under_housing == pytest.approx(0.45 - 0.11 - 0.032)
    narrow = plain_front(width_m=1.6 + inch)
    other = fit_up(plain_project(narrow, wide, rig), rig, narrow, AxlePlan())
    assert other.wider_than_other == pytest.approx(-6 * inch)
    assert other.spacer_to_match == pytest.approx(3 * inch)
    assert other.spacer_to_match is not None
    assert other.spacer_to_match - 2.5 * inch == pytest.approx(0.5 * inch)
    shaved = fit_up(project, rig, plain_axle(shave_m=0.02), AxlePlan(shaved=True))
    assert shaved.under_housing == pytest.approx(found.under_housing + 0.02 if found.under_housing else 0)


def test_a_longer_snout_makes_the_driveshaft_shorter_by_as_much() -> None:
    """Common practice: 2 in longer from centre to joint, about 2 in shorter shaft."""
    rig = plain_rig(drivetrain=msgspec.structs.replace(plain_rig().drivetrain, output_m=(1.2, 0.0, 0.45)))
    lengths = [
        fit_up(plain_project(rig=rig), rig, plain_axle(snout_length_m=s), AxlePlan()).shaft_length
        for s in (0.30, 0.3508)
    ]
    assert None not in lengths
    assert lengths[0] == pytest.approx((lengths[1] or 0) + 0.0508, abs=1e-6)


def test_narrowing_offers_axles_that_have_the_width() -> None:
    right = plain_axle(id="right", name="Right width", width_m=1.505)
    donor = plain_axle(
        spline_length_m=0.064, spline_engaged_m=0.058, neck_length_m=0.09, body_diameter_m=0.036, jig_length_m=1.8
    )
    project = plain_project(rear=donor, donors=(plain_front(), donor, right))
    found = narrowing(project, donor, 1.5, centre_pinion=False)
    assert found is not None
    assert (found.left, found.right) == pytest.approx((0.05, 0.05))
    assert found.left_shaft.how == "custom"
    assert (found.left_length, found.right_length) == (None, None)
    both = narrowing(
        project, msgspec.structs.replace(donor, shaft_left_m=0.7, shaft_right_m=0.9), 1.5, centre_pinion=False
    )
    assert both is not None
    assert (both.left_length, both.right_length) == pytest.approx((0.65, 0.85))
    assert [a.id for a in found.alternatives] == ["right"]
    assert found.jig == "for the jig say whether its tubes keep one diameter, and whether there are pucks for its bores"
    known = plain_axle(jig_length_m=1.8, tube_form="constant", jig_pucks=True)
    assert narrowing(project, known, 1.5, centre_pinion=False).jig == "fits the jig"  # type: ignore[union-attr]
    for change, word in (
        ({"jig_length_m": 1.4}, "longer than the jig takes"),
        ({"tube_form": "stepped"}, "its tubes change diameter"),
        ({"jig_pucks": False}, "pucks for its bearing bores have to be turned"),
    ):
        assert word in narrowing(project, msgspec.structs.replace(known, **change), 1.5, centre_pinion=False).jig  # type: ignore[union-attr]
    assert narrowing(project, plain_axle(width_m=None), 1.5, centre_pinion=False) is None


def test_inspection_ends_in_a_word() -> None:
    donor = plain_axle(price=500.0)
    looks = [one.id for one in LOOKS if "rear" in one.ends]

    def sheet(**states: str) -> Inspection:
        return Inspection(id="plain", checks=tuple(InspectionCheck(id=n, state=states.get(n, "good")) for n in looks))  # type: ignore[arg-type]

    assert judge(donor, None).verdict == "unfinished"
    assert judge(donor, Inspection(id="plain")).verdict == "unfinished"
    assert judge(donor, sheet()).verdict == "keep"
    worn = judge(donor, sheet(oil="worn", seals="bad"))
    assert (worn.verdict, worn.cost) == ("repair", 25 + 60)
    assert judge(donor, sheet(tubes="bad")).verdict == "walk away"
    assert judge(donor, sheet(teeth="bad", bearings="bad")).verdict == "walk away"
    off = msgspec.structs.replace(sheet(), pinion_turns=41.0, wheel_turns=9.0)
    assert judge(donor, off).counted == pytest.approx(41 / 9)
    assert "the record says 4.00" in judge(donor, off).ratio_trouble


def test_cost_to_ready_adds_up_line_by_line() -> None:
    """Common practice: 2232.74 − 1510.64 = 722.10 and 200 + 2 × 100 = 400: whole builds are compared, not bare axles."""
    whole = [cost_to_ready(plain_project(), plain_rig(), None, plain_axle(price=p)).total for p in (2232.74, 1510.64)]
    assert whole[0] - whole[1] == pytest.approx(722.10)
    prices = tuple(Price(id=n, amount=0.0, hours=0.0) for n in BY_ID if n not in ("adapters", "gear_set"))
    prices = (*prices, Price(id="adapters", amount=200.0, hours=1.0), Price(id="gear_set", amount=100.0, hours=0.0))
    front = plain_front(price=300.0, bolt_count=8, bolt_circle_m=0.1651, ratios=sets("40/10", "41/9"))
    rear = plain_axle(price=500.0, ratios=sets("40/10", "41/9"))
    project = plain_project(front, rear, prices=prices, choosing=Choosing(budget=1000.0, hour_price=10.0))
    nine = ToothPair(ring=41, pinion=9)
    cost = cost_to_ready(project, project.rig, front, rear, {"front": nine, "rear": nine})
    assert cost.total == pytest.approx(300 + 500 + 200 + 2 * 100 + 1.0 * 10)
    assert cost.left == pytest.approx(1000 - cost.total)
    no_price = cost_to_ready(project, project.rig, msgspec.structs.replace(front, price=None), rear)
    assert no_price.unknown == ("Plain front, front",)


def test_cost_makes_both_ends_match_and_sees_every_drag() -> None:
    front = plain_front(ring_teeth=41, pinion_teeth=9, ratios=sets("40/10", "41/9"))
    rear = plain_axle(brake="none", c_clips=True, missing="a hub", parking_brake="none")
    project = plain_project(
        front, rear, rear_plan=AxlePlan(locker="air", upgrades=("shafts",), width_m=1.5, shaved=True)
    )
    ids = {(x.id, x.end) for x in cost_to_ready(project, project.rig, front, rear).lines}
    regeared = [end for end in ("front", "rear") if ("gear_set", end) in ids]
    assert len(regeared) == 1
    for name in (
        "brakes",
        "c_clip_conversion",
        "missing",
        "parking_brake",
        "locker_air",
        "shafts",
        "narrow_housing",
        "shave",
        "fluids",
        "driveshaft",
    ):
        assert (name, "rear") in ids, name
    assert ("air_supply", "both") in ids
    assert {("tool_setup", "both"), ("tool_hub", "both"), ("tool_bar", "both")} <= ids
    crossing = plain_project(
        plain_front(carrier_break_ratio=4.2), rear, front_plan=AxlePlan(gears=ToothPair(ring=41, pinion=9))
    )
    assert ("carrier", "front") in {
        (x.id, x.end) for x in cost_to_ready(crossing, crossing.rig, crossing.swap.donors[0], rear).lines
    }


def test_the_pick_agrees_with_the_cost_list(basalt: Project) -> None:
    fronts, rears = ([d for d in basalt.swap.donors if d.end == e] for e in ("front", "rear"))
    found = rank_pairs(basalt, basalt.rig, fronts, rears, most=25)
    for one in found.best:
        cost = cost_to_ready(basalt, basalt.rig, one.front, one.rear, {"front": one.gears[0], "rear": one.gears[1]})
        assert one.numbers["cost"] == pytest.approx(cost.total)  # one word, one total; tools stand apart in both
        assert one.numbers["hours"] == pytest.approx(cost.hours)
        auto = cost_to_ready(basalt, basalt.rig, one.front, one.rear)
        assert auto.total == pytest.approx(cost.total)


def test_the_ranking_does_not_care_for_units_or_currency(basalt: Project) -> None:
    basalt = with_parts(basalt, prices=(), own_costs=())
    fronts, rears = ([d for d in basalt.swap.donors if d.end == e] for e in ("front", "rear"))

    def names(project: Project) -> list[str]:
        own = {e: [d for d in project.swap.donors if d.end == e] for e in ("front", "rear")}
        return [one.name for one in rank_pairs(project, project.rig, own["front"], own["rear"]).best]

    metric = msgspec.structs.replace(basalt, settings=msgspec.structs.replace(basalt.settings, units="mm"))
    assert names(metric) == names(basalt)
    dear = tuple(
        msgspec.structs.replace(d, price=None if d.price is None else 7.3 * d.price) for d in basalt.swap.donors
    )
    prices = tuple(Price(id=n, amount=7.3 * line.amount) for n, line in BY_ID.items())
    inspections = tuple(
        msgspec.structs.replace(
            i,
            checks=tuple(
                msgspec.structs.replace(c, cost=7.3 * (c.cost or next(o.worn for o in LOOKS if o.id == c.id)))
                for c in i.checks
            ),
        )
        for i in basalt.swap.inspections
    )
    assert names(with_parts(basalt, donors=dear, prices=prices, inspections=inspections)) == names(basalt)
    assert len(fronts) * len(rears) == rank_pairs(basalt, basalt.rig, fronts, rears).considered


def test_weights_decide_and_words_follow() -> None:
    cheap = plain_axle(
        id="cheap",
        name="Cheap",
        price=100.0,
        ring_diameter_m=0.24,
        spline_teeth=33,
        neck_diameter_m=None,
        seat_spacing_m=1.3,
    )
    strong = msgspec.structs.replace(
        cheap, id="strong", name="Strong", price=5000.0, ring_diameter_m=0.30, spline_teeth=38, tube_wall_m=0.016
    )

    def best(**weights: float) -> str:
        zero: dict[str, float] = dict.fromkeys(CRITERIA, 0.0)
        project = plain_project(
            rear=cheap,
            donors=(plain_front(), cheap, strong),
            choosing=msgspec.structs.replace(Choosing(least_margin=0.0), **{**zero, **weights}),
        )
        return rank_pairs(project, project.rig, [None], [cheap, strong]).best[0].name

    assert best(cost=1.0) == "Cheap"
    assert best(strength=1.0) == "Strong"
    project = plain_project(choosing=Choosing(least_margin=0.0), rear=cheap)
    pair = rank_pairs(project, project.rig, [None], [cheap, strong]).best
    words = why_ahead(pair[0], pair[1], dict.fromkeys(CRITERIA, 1.0), dict.fromkeys(CRITERIA, ("A", "B")))
    assert "A against B" in words


def test_a_planned_set_counts_only_where_it_is_made() -> None:
    nine = ToothPair(ring=41, pinion=9)
    has, has_not = plain_axle(ratios=sets("41/9")), plain_axle(id="other", ratios=sets("43/10"))
    listless = plain_axle(id="listless", ratios=())
    plan = AxlePlan(gears=nine)
    assert [plan.gears_for(a) for a in (has, has_not, listless)] == [nine, None, nine]
    project = plain_project(plain_front(), has, donors=(plain_front(), has, has_not, listless), rear_plan=plan)
    used = {
        one.rear.id: one.gears[1]
        for one in rank_pairs(project, project.rig, [None], [has, has_not, listless]).best
        if one.rear is not None
    }
    assert used["plain"] == nine
    assert used["listless"] == nine
    assert used["other"] in sets("40/10", "43/10")


def test_pairs_whose_gears_never_meet_are_ruled_out() -> None:
    front = plain_front(ring_teeth=37, pinion_teeth=11, ratios=())
    rear = plain_axle(ring_teeth=43, pinion_teeth=8, ratios=())
    project = plain_project(front, rear)
    found = rank_pairs(project, project.rig, [front], [rear])
    assert (found.ruled_out, found.best) == (1, ())
    blank = plain_axle(id="blank", ring_teeth=None, pinion_teeth=None, ratios=())
    assert rank_pairs(project, project.rig, [front], [blank]).best[0].unknown == ("Plain rear: gears",)


def test_the_front_of_many_against_brute_force() -> None:
    rng = np.random.default_rng(5)
    for columns in (2, 4):
        table = rng.integers(0, 12, (80, columns)).astype(float)
        brute = [not any((b >= a).all() and (b > a).any() for b in table) for a in table]
        assert front_of(table).tolist() == brute
    assert front_of(np.zeros((0, 2))).tolist() == []


def test_merging_keeps_what_is_known_and_trusts_the_better() -> None:
    mine = DonorAxle(id="x", name="X", end="rear", width_m=1.60, ring_teeth=41, pinion_teeth=10, basis="claim")
    theirs = DonorAxle(
        id="x", name="X again", end="rear", width_m=1.58, ring_teeth=43, pinion_teeth=10, tube_od_m=0.08, basis="sheet"
    )
    merged = merge_donor(mine, theirs, {("x", "width_m"): "measured"}, {})
    assert merged.axle.width_m == 1.60
    assert merged.marks["x", "width_m"] == "measured"
    assert str(merged.axle.pair) == "43/10"
    assert merged.axle.tube_od_m == 0.08
    assert merged.axle.basis == "sheet"
    assert {d[0] for d in merged.differed} == {"width_m", "ring_teeth"}


def test_a_merge_keeps_typed_text_and_its_plus_minus() -> None:
    project = plain_project()
    typed = SetNumber("donors.plain.width_m", 1.61, "63 3/8", "measured", sigma=0.001).apply(project)
    same = msgspec.structs.replace(typed.swap.donors[1], price=333.0)
    after = ImportDonors((same,)).apply(typed)
    entry = after.entry("donors.plain.width_m")
    assert entry is not None
    assert (entry.text, entry.sigma) == ("63 3/8", 0.001)
    assert after.swap.donors[1].price == 333.0
    other = msgspec.structs.replace(same, width_m=1.58)
    gone = ImportDonors((other,)).apply(typed)
    assert gone.swap.donors[1].width_m == 1.58
    assert gone.entry("donors.plain.width_m") is None
    mine = ImportDonors((other,), known="mine").apply(typed)
    assert mine.swap.donors[1].width_m == 1.61


def test_every_number_of_the_demo_is_finite_or_said(basalt: Project) -> None:
    for donor in basalt.swap.donors:
        found = fit_up(basalt, basalt.rig, donor, AxlePlan())
        assert (
            fit_up(
                plain_project(),
                plain_rig(rear=msgspec.structs.replace(plain_rig().rear, wheel_offset_m=None)),
                plain_axle(),
                AxlePlan(),
            ).poke
            is None
        )
        for name in ("width", "tyre_outside", "under_housing", "shaft_length", "shaft_angle"):
            value = getattr(found, name)
            assert value is not None, (donor.id, name)
            assert math.isfinite(value)


def test_brackets_are_bought_for_links_and_pads_for_leaves(basalt: Project) -> None:
    """A layout of leaves asks for no link brackets, one of links for no pads; without any layout pads are asked for."""
    tamarack = read_project(demo_file("tamarack.stoutlink"))
    rear = plain_axle(link_brackets=False, spring_pads="none")

    def hung_on(project: Project) -> set[str]:
        lines = cost_to_ready(project, project.rig, None, rear).lines
        return {x.id for x in lines} & {"link_brackets", "spring_pads"}

    assert (layout := tamarack.layout("rear")) is not None
    assert layout.leaf is not None
    assert hung_on(tamarack) == {"spring_pads"}
    assert hung_on(basalt) == {"link_brackets"}
    assert hung_on(with_parts(basalt, rear_layout=None, layouts=())) == {"spring_pads"}
    ready = msgspec.structs.replace(rear, link_brackets=True, spring_pads="over")
    for project in (tamarack, basalt):
        ids = {x.id for x in cost_to_ready(project, project.rig, None, ready).lines}
        assert not ids & {"link_brackets", "spring_pads"}
