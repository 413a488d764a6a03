"""Brakes as parts, how they share, and what a rig on the road must keep.

Checked by hand: a disc gripped from both sides by pistons of one side makes 2·µ·p·A·r (any textbook of brakes; here with
r under the pistons' middle, common practice).
"""

from __future__ import annotations

import math
from typing import Any

import msgspec
import pytest

from stoutlink.core.advice.swap_rules.findings import swap_findings
from stoutlink.core.analysis.swap.braking import brake_share, disc_pull, road_keeps
from stoutlink.core.analysis.swap.cost_to_ready import cost_to_ready
from stoutlink.core.analysis.swap.fitted import fitted_set
from stoutlink.core.analysis.vehicle.effective_vehicle import effective_vehicle
from stoutlink.core.document.fitted_axle import as_fitted
from stoutlink.core.document.fittings import Fittings
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.rig import Body
from stoutlink.core.document.swap import AxlePlan, ShelfPart
from stoutlink.core.editing.swap_edits import FitPart
from stoutlink.core.study.study import Study
from tests.swap.rigs import plain_axle, plain_front, plain_project, plain_rig

DISCS = ShelfPart(id="discs", name="Discs", kind="brakes", brake="disc", rotor_m=0.30, piston_m=0.05, piston_count=1, parking_brake="in_hat_cable", thread="M10x1.0", weight_kg=30.0, bolt_count=6, bolt_circle_m=0.14, least_wheel_m=0.4, price=250.0)  # fmt: skip


def with_discs(**axle: Any) -> Project:
    rear = plain_axle(**{"brake": "drum", "parking_brake": "drum_cable", "brakes_kg": 36.0, **axle})
    return FitPart("discs", "rear").apply(plain_project(rear=rear, shelf=(DISCS,)))


def test_a_disc_by_hand() -> None:
    """300 mm disc, one 50 mm piston a side: 1963.5 mm² at 125 mm; two discs gripped on both faces, tyre of 450 mm."""
    axle = plain_axle(brake="disc", rotor_m=0.30, piston_m=0.05, piston_count=1)
    assert disc_pull(axle, 0.45) == pytest.approx(2 * 2 * 1963.495e-6 * 0.125 / 0.45, rel=1e-6)
    assert disc_pull(msgspec.structs.replace(axle, piston_count=2), 0.45) == pytest.approx(4 * math.pi * 0.025**2 * 2 * 0.125 / 0.45)  # fmt: skip
    assert disc_pull(msgspec.structs.replace(axle, brake="drum"), 0.45) is None
    assert disc_pull(msgspec.structs.replace(axle, piston_m=None), 0.45) is None


def test_the_share_goes_by_area_radius_and_tyre() -> None:
    front = plain_front(brake="disc", rotor_m=0.34, piston_m=0.06, piston_count=1)
    rear = plain_axle(brake="disc", rotor_m=0.30, piston_m=0.05, piston_count=1)
    pulls = 0.06**2 * 0.140, 0.05**2 * 0.125  # alike tyres: area × radius, common factors out
    assert brake_share(plain_rig(), front, rear) == pytest.approx(pulls[0] / sum(pulls))
    low = msgspec.structs.replace(plain_rig().rear, loaded_radius_m=0.225)
    assert brake_share(plain_rig(rear=low), front, rear) == pytest.approx(pulls[0] / (pulls[0] + 2 * pulls[1]))


def test_a_share_other_than_the_rigs_is_said() -> None:
    front = plain_front(brake="disc", rotor_m=0.34, piston_m=0.06, piston_count=1)
    rear = plain_axle(brake="disc", rotor_m=0.30, piston_m=0.05, piston_count=1)
    share = 0.06**2 * 0.140 / (0.06**2 * 0.140 + 0.05**2 * 0.125)
    for said, speaks in ((share + 0.04, False), (share + 0.06, True), (share - 0.06, True)):
        project = plain_project(front, rear, plain_rig(brake_front_share=said))
        found = [f.sentence for f in swap_findings(project, project.rig) if f.code == "K170"]
        assert bool(found) is speaks
        if found:
            assert f"{share:.0%}" in found[0]
            assert f"{said:.0%}" in found[0]


def test_discs_off_the_shelf_go_on_and_the_drums_come_off() -> None:
    project = with_discs()
    rear = project.donor("rear")
    assert rear is not None
    now = as_fitted(project, rear)
    assert (now.brake, now.rotor_m, now.parking_brake, now.weight_kg) == (
        "disc",
        0.30,
        "in_hat_cable",
        120.0 - 36.0 + 30.0,
    )
    found = fitted_set(project, project.rig, rear, None)
    assert [(m.title, m.fits) for m in found.mates][:1] == [("Discs over the studs", True)]
    off = found.freed[0].part
    assert (off.kind, off.brake, off.parking_brake, off.weight_kg) == ("brakes", "drum", "drum_cable", 36.0)
    assert {"K171"} <= {f.code for f in swap_findings(project, project.rig)}
    drums = plain_project(rear=rear)
    before, after = (effective_vehicle(p).rig.rear.unsprung for p in (stated(drums), stated(project)))
    assert after == pytest.approx(before - 6.0)  # all of it unsprung


def stated(project: Project) -> Project:
    """Unsprung weight from the parts."""
    rear = msgspec.structs.replace(project.rig.rear, unsprung_mass_kg=None)
    return msgspec.structs.replace(project, rig=msgspec.structs.replace(project.rig, rear=rear))


def test_what_does_not_go_on() -> None:
    rig = plain_rig(fittings=Fittings(brake_thread="3/8-24"))
    rear = msgspec.structs.replace(rig.rear, tyre_text="31x10.50R15")
    project = msgspec.structs.replace(with_discs(bolt_count=5), rig=msgspec.structs.replace(rig, rear=rear))
    axle = project.donor("rear")
    assert axle is not None
    mates = {m.title: m for m in fitted_set(project, project.rig, axle, None).mates}
    assert mates["Discs over the studs"].fits is False
    assert mates["the wheel over Discs"].fits is False  # 15 in is 381 mm, 400 are wanted
    assert (mates["the line into Discs"].fits, mates["the line into Discs"].why) == (False, "M10x1.0 against 3/8-24")


def test_brakes_from_the_shelf_are_not_charged() -> None:
    plan = AxlePlan(extras=("disc_conversion",), fitted=("discs",))
    project = with_parts(with_discs(), rear_plan=plan)
    line = next(
        x for x in cost_to_ready(project, project.rig, None, project.donor("rear")).lines if x.id == "disc_conversion"
    )
    assert line.amount == 0.0
    bare = with_parts(project, rear_plan=AxlePlan(extras=("disc_conversion",)))
    line = next(x for x in cost_to_ready(bare, bare.rig, None, bare.donor("rear")).lines if x.id == "disc_conversion")
    assert (line.amount or 0.0) > 0.0


def keeps(project: Project) -> dict[str, str]:
    return {k.what: k.state for k in road_keeps(project, project.rig)}


def road(front: Any = None, rear: Any = None, **fittings: Any) -> Project:
    body = Body(fender_front_m=1.99, fender_rear_m=1.99)
    rig = plain_rig(road_legal=True, body=body, fittings=Fittings(**{"parking_brake": "in_hat_cable", **fittings}))
    return plain_project(front or plain_front(), rear or plain_axle(), rig)


def test_what_the_road_wants_kept() -> None:
    assert keeps(plain_project()) == {}
    whole = keeps(road(anti_lock="fitted"))
    assert whole == {
        "front service brakes": "kept", "rear service brakes": "kept", "parking brake": "kept", "anti-lock, front": "kept", "anti-lock, rear": "kept",
        "front tread covered": "kept", "rear tread covered": "kept", "weight rating": "kept",
    }  # fmt: skip
    assert keeps(road(rear=plain_axle(brake="none")))["rear service brakes"] == "lost"
    assert keeps(road(rear=plain_axle(brake=None)))["rear service brakes"] == "look"
    none = plain_front(parking_brake="none")
    assert keeps(road(front=none, rear=plain_axle(parking_brake="none")))["parking brake"] == "lost"
    assert keeps(road(rear=plain_axle(parking_brake="none")))["parking brake"] == "look"  # the front's is not known
    assert keeps(road(rear=plain_axle(parking_brake="drum_cable")))["parking brake"] == "look"
    assert keeps(road(rear=plain_axle(abs_sensor="none"), anti_lock="fitted"))["anti-lock, rear"] == "lost"
    assert keeps(road(rear=plain_axle(width_m=1.9)))["rear tread covered"] == "lost"
    assert keeps(road(rear=plain_axle(width_m=None)))["rear tread covered"] == "look"


@pytest.mark.parametrize(
    ("old", "state"), [(4.0, "kept"), (3.93, "kept"), (3.9, "look"), (3.5, "look"), (None, "look")]
)
def test_the_speedometer(old: float | None, state: str) -> None:
    """Driveshaft pick-up, tyres as before: 4.00 now reads 4.00 / old."""
    project = road(speed_pickup="driveshaft", old_ratio=old, old_rolling_radius_m=0.465)
    assert keeps(project)["speedometer"] == state


def test_planned_brakes_count_for_the_road() -> None:
    project = road(rear=plain_axle(brake="drum", parking_brake="none"), front=plain_front(parking_brake="none"))
    assert keeps(project)["parking brake"] == "lost"
    project = FitPart("discs", "rear").apply(with_parts(project, shelf=(DISCS,)))
    assert keeps(project)["parking brake"] == "kept"
    assert {k.what: k.state for k in Study(project).road_keeps()} == keeps(project)
