"""Every knock-on rule: a case in which it speaks, and the plain pair in which it is silent."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import msgspec
import pytest

from stoutlink.core.advice.swap_rules.findings import AXLE_RULES, PAIR_RULES, swap_findings
from stoutlink.core.catalogue.donor import DonorAxle, ToothPair
from stoutlink.core.codes import codes as registry
from stoutlink.core.document.bench import CaseFit
from stoutlink.core.document.fittings import Fittings
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.rig import Body, Rig, TorquePoint, UseShares
from stoutlink.core.document.swap import AxlePlan, Choosing, Inspection, InspectionCheck, ShelfPart
from stoutlink.core.editing.edits import ChooseDonor, SetChoice, SetNumber
from stoutlink.core.editing.swap_edits import MakeOf, StartMade
from stoutlink.core.study.study import Study
from tests.swap.rigs import plain_axle, plain_front, plain_project, plain_rig

STRONG: dict[str, Any] = {
    "spline_teeth": 60, "neck_diameter_m": None, "ring_rating_nm": 90_000.0, "pinion_joint_rating_nm": 90_000.0, "tube_yield_pa": 2e9, "link_brackets": True, "ratios": (),
}  # fmt: skip


def rear(**changes: Any) -> DonorAxle:
    return plain_axle(**{**STRONG, "locker": "open", "pinion_spline_teeth": 40, **changes})


def front(**changes: Any) -> DonorAxle:
    strong = {
        **STRONG,
        "outer_joint_rating_nm": 90_000.0,
        "stub_spline_teeth": 60,
        "lockout_rating_nm": 90_000.0,
        "pinion_spline_teeth": 40,
    }
    return plain_front(**{**strong, **changes})


def rig(**changes: Any) -> Rig:
    base = plain_rig(
        uses=UseShares(rock=0.2, trail=0.4, road=0.4),
        fittings=Fittings(brake_thread="M10x1.0", parking_brake="in_hat_cable", spare_circuit=True, air_supply=True),
    )
    return msgspec.structs.replace(base, **changes)


def fitted(**changes: Any) -> Rig:
    return rig(fittings=msgspec.structs.replace(rig().fittings, **changes))


def quiet(one: DonorAxle | None = None, two: DonorAxle | None = None, on: Rig | None = None, **changes: Any) -> Project:
    return plain_project(one or front(), two or rear(), on or rig(), **changes)


def made_of_two(**ends: Any) -> Project:
    """A rear axle with the ends of another."""
    project = quiet(donors=(front(), rear(), rear(id="other", **ends)))
    project = MakeOf("new", "outers", "other").apply(StartMade("new", "plain").apply(project))
    return with_parts(project, rear_donor="new")


CURVE = tuple(TorquePoint(rpm=r, torque_nm=t) for r, t in ((2500.0, 200.0), (3500.0, 400.0), (4500.0, 390.0)))
SPEAKS: dict[str, Callable[[], Project]] = {
    "K101": lambda: quiet(two=rear(spline_teeth=20)),
    "K163": lambda: quiet(two=rear(ring_teeth=41, pinion_teeth=None)),
    "K102": lambda: quiet(two=rear(c_clips=True)),
    "K103": lambda: quiet(two=rear(locker="automatic")),
    "K104": lambda: quiet(on=rig(road_speed_m_per_s=50.0)),
    "K105": lambda: quiet(two=rear(cut="reverse", pinion_height="high")),
    "K106": lambda: quiet(two=rear(spline_pitch_per_in=None, spline_major_diameter_m=0.0735)),
    "K107": lambda: quiet(one=front(cut="standard", pinion_height="high")),
    "K108": lambda: quiet(two=DonorAxle(id="plain", name="Bare", end="rear")),
    "K109": lambda: quiet(two=rear(floating="semi"), on=rig(uses=UseShares(tow=1.0))),
    "K110": lambda: quiet(one=front(spline_teeth=28, locker="spool")),
    "K111": lambda: quiet(one=front(wheel_bearing="unit")),
    "K112": lambda: quiet(two=rear(locker="spool", spline_teeth=24)),
    "K113": lambda: quiet(two=rear(locker="spool")),
    "K114": lambda: quiet(two=rear(hub_ratio=1.4)),
    "K115": lambda: quiet(two=rear(missing="one shaft")),
    "K116": lambda: quiet(two=rear(basis="claim")),
    "K117": lambda: quiet(inspections=(Inspection(id="plain", checks=(InspectionCheck(id="tubes", state="bad"),)),)),
    "K118": lambda: quiet(inspections=(Inspection(id="plain", pinion_turns=4.5, wheel_turns=1.0),)),
    "K119": lambda: quiet(rear_plan=AxlePlan(width_m=1.5)),
    "K120": lambda: quiet(two=rear(bolt_circle_m=0.17)),
    "K121": lambda: quiet(two=rear(pinion_teeth=9)),
    "K122": lambda: quiet(two=rear(width_m=1.7)),
    "K123": lambda: quiet(front(locker="spool"), rear(locker="automatic")),
    "K124": lambda: quiet(two=rear(hub_ratio=1.4)),
    "K125": lambda: quiet(two=rear(brake="drum")),
    "K126": lambda: quiet(two=rear(spline_teeth=61)),
    "K127": lambda: quiet(two=rear(pinion_teeth=7)),
    "K128": lambda: quiet(two=rear(spline_teeth=26, locker="spool"), one=front(locker="spool")),
    "K129": lambda: quiet(choosing=Choosing(budget=10.0)),
    "K130": lambda: quiet(
        two=rear(ratios=(ToothPair(ring=41, pinion=10),)), rear_plan=AxlePlan(gears=ToothPair(ring=47, pinion=10))
    ),
    "K131": lambda: quiet(
        two=rear(carrier_break_ratio=4.2, ratios=(ToothPair(ring=45, pinion=10),)),
        rear_plan=AxlePlan(gears=ToothPair(ring=45, pinion=10)),
    ),
    "K132": lambda: quiet(on=rig(drivetrain=msgspec.structs.replace(plain_rig().drivetrain, torque_curve=CURVE))),
    "K133": lambda: quiet(on=fitted(old_ratio=3.0, old_rolling_radius_m=0.46, speed_pickup="driveshaft")),
    "K134": lambda: quiet(on=rig(rear=msgspec.structs.replace(plain_rig().rear, old_axle_mass_kg=60.0))),
    "K135": lambda: quiet(two=rear(ring_diameter_m=0.35)),
    "K136": lambda: quiet(on=rig(body=Body(fender_rear_m=1.6))),
    "K137": lambda: quiet(on=rig(body=Body(frame_front_m=1.2))),
    "K138": lambda: quiet(on=rig(body=Body(frame_rear_m=1.9))),
    "K139": lambda: quiet(
        one=front(pinion_offset_m=0.2),
        on=rig(drivetrain=msgspec.structs.replace(plain_rig().drivetrain, output_side="right")),
    ),
    "K140": lambda: quiet(on=fitted(rear_joint_series="P9")),
    "K141": lambda: quiet(on=rig(drivetrain=msgspec.structs.replace(plain_rig().drivetrain, output_m=(0.6, 0.0, 0.6)))),
    "K142": lambda: quiet(rear_plan=AxlePlan(width_m=1.5), donors=(front(), rear(), rear(id="other", width_m=1.5))),
    "K143": lambda: quiet(on=fitted(brake_thread="3/8-24")),
    "K144": lambda: quiet(two=rear(parking_brake="none")),
    "K145": lambda: quiet(two=rear(abs_sensor="none"), on=fitted(anti_lock="fitted")),
    "K148": lambda: quiet(one=front(steering_arms="none")),
    "K149": lambda: quiet(on=fitted(wheel_bolt_count=5, wheel_bolt_circle_m=0.12)),
    "K150": lambda: quiet(on=rig(rear=msgspec.structs.replace(plain_rig().rear, adapter_m=0.03))),
    "K151": lambda: quiet(one=front(lockouts="none")),
    "K152": lambda: quiet(two=rear(locker="air"), on=fitted(air_supply=False)),
    "K153": lambda: quiet(two=rear(locker="electric", third_member=True)),
    "K154": lambda: quiet(
        two=rear(ratios=(ToothPair(ring=41, pinion=9),)),
        rear_plan=AxlePlan(locker="air", gears=ToothPair(ring=41, pinion=9)),
    ),
    "K155": lambda: quiet(two=rear(locker="electric"), on=fitted(spare_circuit=None)),
    "K156": lambda: quiet(
        rear_plan=AxlePlan(locker="air"), shelf=(ShelfPart(id="a", name="Locker", kind="locker", spline_teeth=33),)
    ),
    "K157": lambda: quiet(two=rear(locker="spool"), rear_plan=AxlePlan(locker="drop_in")),
    "K158": lambda: quiet(two=rear(brake="none")),
    "K159": lambda: quiet(on=fitted(old_rolling_radius_m=0.36)),
    "K160": lambda: quiet(two=rear(spring_pads="none")),
    "K162": lambda: quiet(on=rig(rear=msgspec.structs.replace(plain_rig().rear, wheel_offset_m=-0.03))),
    "K164": lambda: quiet(
        two=rear(stud_thread="M14x1.5", pilot_m=0.11), one=front(stud_thread="M12x1.5", pilot_m=0.11)
    ),
    "K161": lambda: quiet(two=rear(pinion_joint_series="P2")),
    "K166": lambda: made_of_two(tube_od_m=0.1),
    "K167": lambda: made_of_two(),
    "K168": lambda: quiet(two=rear(dual_wheels=True)),
    "K169": lambda: quiet(on=rig(drivetrain=msgspec.structs.replace(plain_rig().drivetrain, front_axle="independent"))),
    "K170": lambda: quiet(
        one=front(rotor_m=0.34, piston_m=0.09, piston_count=1), two=rear(rotor_m=0.3, piston_m=0.04, piston_count=1)
    ),
    "K171": lambda: quiet(
        two=rear(brake="drum"),
        shelf=(ShelfPart(id="d", name="Discs", kind="brakes", brake="disc", parking_brake="in_hat_cable"),),
        rear_plan=AxlePlan(fitted=("d",)),
    ),
}
LINKED = {"K146", "K147"}
"""Rules that need a layout: tried on the demo below."""


def codes(project: Project) -> set[str]:
    return {f.code for f in swap_findings(project, project.rig)}


def test_the_plain_pair_forces_nothing() -> None:
    assert codes(quiet()) == set()


@pytest.mark.parametrize("code", sorted(SPEAKS))
def test_a_rule_speaks_where_it_should(code: str) -> None:
    project = SPEAKS[code]()
    found = [f for f in swap_findings(project, project.rig) if f.code == code]
    assert found, code
    for one in found:
        assert one.sentence.endswith((".", "?"))
        assert one.why.endswith(".")
        assert one.subject
        assert "None" not in one.sentence + one.why
        assert "nan" not in (one.sentence + one.why).split()


def test_no_rule_is_without_a_case() -> None:
    every = [r.code for r in AXLE_RULES] + [r.code for r in PAIR_RULES]
    assert len(every) == len(set(every)) >= 30
    assert set(every) == set(SPEAKS) | LINKED
    assert set(every) <= set(registry())


def test_links_ask_for_brackets_and_do_away_with_pads(basalt: Project) -> None:
    donor = basalt.donor("front")
    assert donor is not None
    bare = msgspec.structs.replace(donor, link_brackets=False, spring_pads="over")
    project = with_parts(basalt, donors=tuple(bare if d.id == bare.id else d for d in basalt.swap.donors))
    assert {f.code for f in Study(project).findings if f.subject == bare.id} >= LINKED
    ready = msgspec.structs.replace(donor, link_brackets=True, spring_pads="none")
    project = with_parts(basalt, donors=tuple(ready if d.id == ready.id else d for d in basalt.swap.donors))
    assert not LINKED & {f.code for f in Study(project).findings if f.subject == ready.id}


def test_knock_ons_follow_every_change_and_are_kept_for_the_same_inputs(basalt: Project) -> None:
    first = Study(basalt)
    named = SetChoice("name", "Another name").apply(basalt)
    assert [a is b for a, b in zip(Study(named, first).findings, first.findings, strict=True)].count(False) == 0
    thicker = SetNumber("donors.gs-30f.spline_teeth", 36.0).apply(basalt)
    assert thicker.donor("front").spline_teeth == 36  # type: ignore[union-attr]
    assert isinstance(thicker.donor("front").spline_teeth, int)  # type: ignore[union-attr]
    assert {f.sentence for f in Study(thicker).findings} != {f.sentence for f in first.findings}
    matched = ChooseDonor("front", next(d for d in basalt.swap.donors if d.id == "vh-33f")).apply(basalt)
    assert not {"K120", "K121"} & {f.code for f in Study(matched).findings}


def test_an_actuator_that_was_measured_and_goes_is_asked_no_more() -> None:
    fit = CaseFit(id="rear", left_cap_m=0.08, left_open_m=0.1, right_cap_m=0.08, right_open_m=0.1, actuator="left", reach_in_m=0.05, reach_out_m=0.06, space_m=0.1)  # fmt: skip
    p = quiet(two=rear(locker="electric", third_member=True))

    def asked(cases: tuple[CaseFit, ...]) -> bool:
        return any(f.code == "K153" for f in Study(with_parts(p, cases=cases)).findings_so_far)

    assert asked(())
    assert asked((msgspec.structs.replace(fit, actuator="none"),)), "the actuator was not measured"
    assert asked((msgspec.structs.replace(fit, reach_out_m=0.0999),))
    assert not asked((fit,))
