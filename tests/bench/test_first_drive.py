"""The first-drive sheet: what holds, who signed, what lapses, and that nothing passes it but a reason with a name."""

from __future__ import annotations

import msgspec
import pytest

from stoutlink.core.advice.bench_words import drive_words, gate_words
from stoutlink.core.analysis.bench.first_drive import DriveSheet, Gate
from stoutlink.core.document.bench import DriveGate, Fastener, FirstDrive, LooseEnd, Tightened
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.editing.bench_edits import Loosen, MarkStep, SignGate, Tighten
from stoutlink.core.editing.edits import PutInList, SetNumber
from stoutlink.core.study.route_state import bench_state
from stoutlink.core.study.study import Study
from tests.bench.places import bare, done, limits, read

SIGN = DriveGate(id="torques", by="Ida", when="1 May")


def drive(project: Project) -> DriveSheet:
    return Study(project).drive_sheet


def gate(project: Project, key: str) -> Gate:
    found = drive(project).gate(key)
    assert found is not None
    return found


def all_tight(project: Project) -> Project:
    for b in Study(project).fasteners:
        bolt = b.work or Fastener(id=b.place.key, assembly=b.place.assembly)
        if b.count is None:
            bolt = msgspec.structs.replace(bolt, count=4)
        project = Tighten(bolt, Tightened(count=b.count or 4, torque_nm=b.target)).apply(project)
    return project


def test_every_bolt_of_every_place_holds_the_first_gate(basalt: Project) -> None:
    p = all_tight(bare(basalt))
    assert gate(p, "torques").holds
    one = next(b for b in Study(p).fasteners if b.place.key == "rear-caps")
    assert one.work is not None
    p = Loosen(one.work).apply(p)
    assert not gate(p, "torques").holds
    assert "Rear: bearing caps" in gate(p, "torques").why


def test_a_signature_lapses_when_its_gate_opens_again(basalt: Project) -> None:
    p = all_tight(bare(basalt))
    assert gate(p, "torques").standing == "to sign"
    p = SignGate(SIGN).apply(p)
    assert gate(p, "torques").standing == "signed"
    one = next(b for b in Study(p).fasteners if b.place.key == "rear-caps")
    assert one.work is not None
    p = Loosen(one.work).apply(p)
    assert gate(p, "torques").standing == "lapsed"
    assert gate(p, "torques").open
    assert "no longer holds" in gate_words(gate(p, "torques"))


@pytest.mark.parametrize(
    ("by", "reason", "standing"),
    [("", "", "shut"), ("Ida", "", "lapsed"), ("", "to the scales", "shut"), (" ", "to the scales", "shut"), ("Ida", "  ", "lapsed"), ("Ida", "to the scales", "let through")],
)  # fmt: skip
def test_only_a_reason_with_a_name_lets_through(basalt: Project, by: str, reason: str, standing: str) -> None:
    first = FirstDrive(gates=(DriveGate(id="torques", by=by, reason=reason),))
    assert gate(with_parts(bare(basalt), first_drive=first), "torques").standing == standing


def test_it_may_be_driven_only_when_no_gate_is_open(basalt: Project) -> None:
    p = bare(basalt)
    keys = [g.key for g in drive(p).gates]
    for key in keys[:-1]:
        p = SignGate(DriveGate(id=key, by="Ida", reason="to the scales and back")).apply(p)
    assert not drive(p).may
    p = SignGate(DriveGate(id=keys[-1], by="Ida", reason="x")).apply(p)
    assert drive(p).may
    assert next(iter(drive_words(drive(p), "in"))).startswith("Every gate is signed")
    p = SignGate(DriveGate(id=keys[0])).apply(p)  # a signature taken back
    assert not drive(p).may


def test_the_register_alone_holds_it(basalt: Project) -> None:
    p = bare(basalt)
    assert gate(p, "undone").holds
    p = PutInList("loose_ends", LooseEnd(id="a", name="Breather", kind="loose"), "x").apply(p)
    assert not gate(p, "undone").holds
    assert "Breather: taken loose" in gate(p, "undone").why
    closed = LooseEnd(id="a", name="Breather", kind="loose", closed="1 May", closed_by="Bo")
    assert gate(PutInList("loose_ends", closed, "x").apply(p), "undone").holds
    tacked = PutInList("loose_ends", LooseEnd(id="a", name="Shock tab", kind="tacked"), "x").apply(p)
    assert not gate(tacked, "tack").holds
    assert gate(p, "tack").holds


def test_brakes_shafts_sweep_and_lockers_hold_their_gates(basalt: Project) -> None:
    p = bare(basalt)
    assert not gate(p, "bled").holds
    assert "Bled until" in gate(p, "bled").why
    assert not gate(p, "slip").holds
    assert not gate(p, "sweep").holds
    assert not gate(p, "parking").holds
    assert not gate(p, "lockers").holds
    assert "rear: Flange bolts" in gate(p, "lockers").why
    p = done(p, "paper", "spool_bolts")
    assert gate(p, "lockers").holds
    for end in ("front", "rear"):
        for way in ("droop", "bump"):
            p = read(p, f"{end}-{way}", "length", 0.05, assembly="driveline")
            p = limits(p, f"{end}-{way}", "length", 0.02, None, assembly="driveline")
    assert gate(p, "slip").holds
    p = limits(read(p, "rear-bump", "length", 0.001, assembly="driveline"), "rear-bump", "length", 0.02, None, assembly="driveline")  # fmt: skip
    assert not gate(p, "slip").holds
    p = done(p, "box", "lock", assembly="steering")
    assert not gate(p, "sweep").holds, "toe comes first"
    p = limits(read(p, "toe", "length", 0.001, assembly="steering"), "toe", "length", 0.0, 0.003, assembly="steering")
    assert gate(p, "sweep").holds


def test_the_distance_of_the_first_retorque_is_typed(basalt: Project) -> None:
    p = bare(basalt)
    assert not gate(p, "again").holds
    assert gate(SetNumber("first_drive.again_m", 80e3).apply(p), "again").holds


def test_the_route_tells_the_bench(basalt: Project) -> None:
    p = with_parts(bare(basalt), brakes=type(basalt.bench.brakes)())
    assert bench_state(Study(p)) == ("untouched", "not begun")
    p = done(p, "drained")
    assert bench_state(Study(p))[0] == "work"
    gates = tuple(DriveGate(id=g.key, by="Ida", reason="x") for g in drive(p).gates)
    p = with_parts(p, first_drive=FirstDrive(gates=gates, released="1 May"))
    assert bench_state(Study(p))[0] == "settled"
    p = with_parts(p, first_drive=FirstDrive(gates=gates[1:], released="1 May"))
    assert bench_state(Study(p))[0] == "open"


def test_a_test_cannot_be_said_away(basalt: Project) -> None:
    """Only a reason with a name gets past a gate, never “not here”."""
    p = MarkStep("rear", "spool_bolts", "number", "not_here").apply(bare(basalt))
    assert not gate(p, "lockers").holds
    card = Study(p).bench_card("rear")
    assert card is not None
    sealed = card.line("sealed")
    assert sealed is not None
    assert any("Flange bolts" in w for w in sealed.waits)
    p = MarkStep("driveline", "rear-bump", "length", "not_here").apply(p)
    assert not gate(p, "slip").holds
