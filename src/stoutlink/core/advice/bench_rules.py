"""What the bench has to say: closed too early, out of its window, loosened, brakes out of balance, driven unsigned."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from msgspec import Struct

from stoutlink.core.advice.bench_words import reading_words, window_words
from stoutlink.core.advice.finding import Finding
from stoutlink.core.analysis.bench.brake_sheet import BrakeSheet
from stoutlink.core.analysis.bench.card import Card
from stoutlink.core.analysis.bench.case_fit import CaseSheet
from stoutlink.core.analysis.bench.fasteners import BoltLine
from stoutlink.core.analysis.bench.first_drive import DriveSheet
from stoutlink.core.analysis.bench.undone import Undone
from stoutlink.core.document.bench import ASSEMBLY_WORDS
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show


class BenchState(Struct, frozen=True):
    """Everything the rules look at."""

    cards: dict[str, Card]
    bolts: tuple[BoltLine, ...]
    cases: tuple[CaseSheet, ...]
    brakes: BrakeSheet
    drive: DriveSheet
    undone: tuple[Undone, ...]
    road_legal: bool
    unit: UnitSystem


def bench_findings(s: BenchState) -> Iterator[Finding]:
    """Findings of the bench."""
    yield from _cards(s)
    yield from _bolts(s.bolts)
    for case in s.cases:
        yield from _case(case, s.unit)
    yield from _brakes(s.brakes, s.road_legal, s.unit)
    yield from _drive(s.drive, s.undone)


def _one(code: str, severity: str, says: str, do: str, subject: str) -> Finding:
    return Finding(code, severity, says, do, "bench", subject)  # type: ignore[arg-type]


def _cards(s: BenchState) -> Iterator[Finding]:
    for card in s.cards.values():
        name = ASSEMBLY_WORDS[card.id].lower()
        for line in card.lines:
            state = "open" if line.work is None else line.work.state
            if line.step.key == "sealed" and state == "done" and line.waits:
                yield _one(
                    "B101",
                    "danger",
                    f"The {name} is down as sealed, and this is not done: {'; '.join(line.waits)}.",
                    "It will be opened again: do it first, or take the tick back.",
                    f"{card.id} sealed",
                )
            if line.standing == "out" and line.judged is not None and line.reading is not None:
                read = reading_words(line.reading.values, line.step, s.unit)
                yield _one(
                    "B102",
                    "warn",
                    f"{ASSEMBLY_WORDS[card.id]}, “{line.step.title}”: {read}, wanted {window_words(line, s.unit)}.",
                    "Put it right and read it again; the reading stays in the card.",
                    f"{card.id} step {line.step.key}",
                )


def _bolts(bolts: Iterable[BoltLine]) -> Iterator[Finding]:
    lines = tuple(bolts)
    out = [b.place.name for b in lines if b.standing == "out"]
    due = [b.place.name for b in lines if b.standing == "again"]
    if out:
        yield _one(
            "B103",
            "warn",
            f"Put down with a torque that is not theirs: {_few(out)}.",
            "Torque them again, or correct the target and its source.",
            "bolts torque",
        )
    if due:
        yield _one(
            "B104", "warn", f"To be torqued again after the first distance: {_few(due)}.", "Bolts settle; U-bolts and wheel nuts most.", "bolts again"
        )  # fmt: skip


def _case(case: CaseSheet, unit: UnitSystem) -> Iterator[Finding]:
    end = case.fit.id
    for room in case.rooms:
        if room.verdict == "goes":
            continue
        left, pm, wanted, off = (
            show(v, "fine_length", unit) for v in (room.room, 2 * room.sigma, room.wanted, room.relieve)
        )
        yield _one(
            "B105",
            "danger" if room.verdict == "touches" else "warn",
            f"The {end} third member at its {room.where}: {left} ± {pm} of room, {wanted} wanted.",
            f"Relieve the housing there by {off}, or another locker; try it in with clay before it is bolted.",
            f"{end} case {room.where}",
        )
    for hole in case.holes:
        if hole.wrong in ("edge", "weld"):
            says = (
                f"its middle is {hole.edges:.1f} diameters from the edge"
                if hole.wrong == "edge"
                else "its thread runs in the edge of a weld"
            )
            yield _one(
                "B106",
                "warn",
                f"Hole {hole.id} of the {end} third member: {says}.",
                "1.5 diameters to the edge at least (common practice), and no thread where weld has run: it tears out.",
                f"{end} case hole {hole.id}",
            )


def _brakes(b: BrakeSheet, road_legal: bool, unit: UnitSystem) -> Iterator[Finding]:
    system = b.system
    if b.lock is not None and len(b.other) > 1:
        yield _one(
            "B107",
            "note",
            f"Which end locks first at a grip of {system.grip:g} cannot be told within the ± of the balance point.",
            "Weigh the rig and measure the height; until then try it as if the rear locked first.",
            "brakes lock",
        )
    elif b.lock is not None and b.lock.end == "rear":
        yield _one(
            "B108",
            "danger",
            f"The rear wheels lock first at a grip of {system.grip:g}, from {b.lock.deceleration:.2f} g on.",
            "A rig whose rear locks turns round. A proportioning valve, smaller rear cylinders or larger front pistons; a licensed hand decides.",
            "brakes lock",
        )
    if b.pedal is not None and b.pedal.runs_out:
        yield _one(
            "B109",
            "danger",
            f"The master cylinder runs out of stroke for the {' and the '.join(b.pedal.runs_out)}.",
            "A larger bore or a longer stroke, smaller pistons, or less running gap.",
            "brakes pedal",
        )
    if b.holds is False and b.hold is not None and system.parking_nm is not None:
        has, wants = (show(v, "torque", unit) for v in (system.parking_nm, b.hold.torque))
        grip = max(b.hold.up, b.hold.down)
        says = (
            f"gives {has} where {wants} are wanted"
            if system.parking_nm < b.hold.torque
            else f"wants a grip of {grip:.2f} of its axle, and {system.grip:g} is counted on"
        )
        yield _one(
            "B110",
            "danger",
            f"On {system.grade:.0%} the parking brake {says}.",
            "Chocks until it holds; local rules name the slope.",
            "brakes parking",
        )
    bad = [f.fitting.name for f in b.fittings if f.wrong and not f.fitting.bridge]
    if bad:
        yield _one(
            "B111",
            "warn",
            f"Brake lines that do not go together: {_few(bad)}.",
            "Another hose, or an adapter made for brake lines; thread tape never.",
            "brakes fittings",
        )
    if system.anti_lock_gone:
        yield _one(
            "B112",
            "danger" if road_legal else "note",
            "The anti-lock system is taken out"
            + ("" if not road_legal else ", and the rig is driven on the road")
            + ("; its valve stays in the line." if system.valve_kept else "."),
            "Taking it out may be unlawful, and leaves the balance to pistons and valve alone: ask before it is driven.",
            "brakes anti-lock",
        )


def _drive(d: DriveSheet, open_: tuple[Undone, ...]) -> Iterator[Finding]:
    if d.first.released and not d.may:
        gates = [g.title for g in d.gates if g.open]
        yield _one(
            "B113",
            "danger",
            f"It was released for driving, and this no longer holds: {_few(gates)}.",
            "Not driven until it is signed again.",
            "first drive",
        )
    if open_ and d.first.driven_m > 0.0:
        yield _one(
            "B114",
            "danger",
            f"It has been driven with {len(open_)} thing{'s' if len(open_) > 1 else ''} left undone: {_few([u.words for u in open_])}.",
            "Finish them before it is driven again.",
            "first drive undone",
        )


def _few(names: list[str]) -> str:
    return ", ".join(names[:4]) + (f" and {len(names) - 4} more" if len(names) > 4 else "")
