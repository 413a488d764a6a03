"""What the bench says: each finding on one side of its threshold and not on the other."""

from __future__ import annotations

import msgspec
import pytest

from stoutlink.core.advice.finding import Finding
from stoutlink.core.document.bench import CaseFit, CaseHole, DriveGate, Fastener, FirstDrive, LooseEnd, Tightened
from stoutlink.core.document.brakes import BrakeSystem, Fitting, WheelBrake
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.study.study import Study
from tests.bench.places import bare

DISC = WheelBrake(piston_m=0.05, effective_m=0.13)


def found(project: Project, code: str) -> list[Finding]:
    return [f for f in Study(project).findings_so_far if f.code == code]


def braked(project: Project, **changes: object) -> Project:
    base = BrakeSystem(pedal_ratio=5.0, boost=3.0, master_m=0.0254, front=DISC, rear=DISC)
    entries = tuple(e for e in project.entries if not e.field.startswith("rig."))
    return with_parts(bare(project), brakes=msgspec.structs.replace(base, **changes), entries=entries)


@pytest.mark.parametrize(("driven", "due"), [(79e3, False), (80e3, True)])
def test_bolts_are_due_after_their_distance(basalt: Project, driven: float, due: bool) -> None:
    bolt = Fastener(id="own-1", name="U-bolts", count=1, again_m=80e3, tight=(Tightened(count=1),))
    p = with_parts(bare(basalt), fasteners=(bolt,), first_drive=FirstDrive(driven_m=driven))
    assert [f.sentence for f in found(p, "B104")] == (["To be torqued again after the first distance: U-bolts."] if due else [])  # fmt: skip


@pytest.mark.parametrize(("cap", "severity"), [(0.09, ""), (0.0985, "warn"), (0.1, "danger")])
def test_a_third_member_without_room(basalt: Project, cap: float, severity: str) -> None:
    fit = CaseFit(id="rear", left_cap_m=cap, left_open_m=0.1, right_cap_m=0.05, right_open_m=0.1)
    said = found(with_parts(bare(basalt), cases=(fit,)), "B105")
    assert [f.severity for f in said] == ([severity] if severity else [])
    assert all("left cap" in f.sentence for f in said)


@pytest.mark.parametrize(("edge", "said"), [(0.015, False), (0.0149, True)])
def test_a_hole_at_the_edge(basalt: Project, edge: float, said: bool) -> None:
    fit = CaseFit(id="rear", holes=(CaseHole(id="h", diameter_m=0.01, edge_m=edge),))
    assert bool(found(with_parts(bare(basalt), cases=(fit,)), "B106")) == said


def test_which_end_locks_first(basalt: Project) -> None:
    weak = msgspec.structs.replace(DISC, piston_m=0.02)
    rear_first = braked(basalt, front=weak)
    assert [f.severity for f in found(rear_first, "B108")] == ["danger"]
    front_first = braked(basalt, rear=weak)
    assert not found(front_first, "B108")
    assert not found(with_parts(bare(basalt), brakes=BrakeSystem(rear=WheelBrake())), "B108"), "not known is not rear"  # fmt: skip


def test_when_it_cannot_be_told(basalt: Project) -> None:
    p = braked(basalt)
    rig = Study(p).true.rig
    ideal = rig.cg_ahead_of_rear_m / rig.wheelbase_m + 0.8 * rig.cg_height_m / rig.wheelbase_m
    size = 0.05 * ((1 - ideal) / ideal * rig.rear.loaded / rig.front.loaded) ** 0.5
    p = braked(basalt, rear=msgspec.structs.replace(DISC, piston_m=size))
    assert found(p, "B107")
    assert not found(p, "B108")
    far = braked(basalt, rear=msgspec.structs.replace(DISC, piston_m=0.02))
    assert not found(far, "B107")


@pytest.mark.parametrize(("stroke", "said"), [(0.006, False), (0.003, True)])
def test_a_pedal_that_runs_out(basalt: Project, stroke: float, said: bool) -> None:
    # two pistons of 50 mm, half a millimetre each, over a 25.4 mm bore: 3.9 mm
    assert bool(found(braked(basalt, stroke_front_m=stroke), "B109")) == said


@pytest.mark.parametrize(
    ("torque", "grip", "says"), [(9000.0, 0.9, ""), (100.0, 0.9, "are wanted"), (9000.0, 0.2, "grip")]
)
def test_a_parking_brake_that_does_not_hold(basalt: Project, torque: float, grip: float, says: str) -> None:
    said = found(braked(basalt, parking_nm=torque, grip=grip), "B110")
    assert bool(said) == bool(says)
    assert all(says in f.sentence for f in said)


@pytest.mark.parametrize(("other", "bridge", "said"), [("M10x1", "", False), ("3/8-24", "", True), ("3/8-24", "adapter", False)])  # fmt: skip
def test_lines_that_do_not_go_together(basalt: Project, other: str, bridge: str, said: bool) -> None:
    joint = Fitting(id="a", name="Rear hose", thread="M10x1", other_thread=other, bridge=bridge)
    assert bool(found(braked(basalt, fittings=(joint,)), "B111")) == said


@pytest.mark.parametrize(
    ("gone", "road", "severity"), [(False, True, ""), (True, True, "danger"), (True, False, "note")]
)
def test_anti_lock_taken_out(basalt: Project, gone: bool, road: bool, severity: str) -> None:
    p = braked(basalt, anti_lock_gone=gone, valve_kept=True)
    p = msgspec.structs.replace(p, rig=msgspec.structs.replace(p.rig, road_legal=road))
    said = found(p, "B112")
    assert [f.severity for f in said] == ([severity] if severity else [])
    assert all("valve stays" in f.sentence for f in said)


def test_released_and_no_longer_right(basalt: Project) -> None:
    p = bare(basalt)
    gates = tuple(DriveGate(id=g.key, by="Ida", reason="to the scales") for g in Study(p).drive_sheet.gates)
    p = with_parts(p, first_drive=FirstDrive(gates=gates, released="1 May"))
    assert not found(p, "B113")
    p = with_parts(p, first_drive=FirstDrive(gates=gates[1:], released="1 May"))
    assert len(found(p, "B113")) == 1
    assert not found(with_parts(p, first_drive=FirstDrive(gates=gates[1:])), "B113"), "not released"


@pytest.mark.parametrize(("driven", "closed", "said"), [(0.0, "", False), (10.0, "", True), (10.0, "1 May", False)])
def test_driven_with_things_undone(basalt: Project, driven: float, closed: str, said: bool) -> None:
    end = LooseEnd(id="a", name="Breather", closed=closed)
    p = with_parts(bare(basalt), loose_ends=(end,), first_drive=FirstDrive(driven_m=driven))
    assert bool(found(p, "B114")) == said
