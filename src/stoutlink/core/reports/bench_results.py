"""The bench as plain data and as text: cards, bolts, fits, brakes, what is undone and due, the first-drive sheet."""

from __future__ import annotations

import math
from typing import Any

from stoutlink.core.advice.bench_words import (
    bolt_words,
    brake_words,
    card_words,
    case_words,
    drive_words,
    line_words,
)
from stoutlink.core.advice.gear_words import verdict_words
from stoutlink.core.analysis.bench.brake_sheet import BrakeSheet
from stoutlink.core.analysis.bench.card import Card, CardLine
from stoutlink.core.analysis.bench.case_fit import CaseSheet
from stoutlink.core.analysis.bench.fasteners import BoltLine
from stoutlink.core.analysis.bench.first_drive import DriveSheet
from stoutlink.core.document.bench import ASSEMBLY_WORDS
from stoutlink.core.document.bench_checks import mark_words
from stoutlink.core.reports.part_results import gear_results
from stoutlink.core.study.study import Study

ENDS = ("rear", "front")


def bench_json(study: Study) -> dict[str, Any]:
    """Everything the bench knows, SI."""
    brakes = study.brake_sheet
    return {
        "cards": [_card(one, study) for one in study.cards.values()],
        "gears": [gear_results(g) for end in ENDS if (g := study.gear_sheet(end)) is not None],
        "fasteners": [_bolt(b) for b in study.fasteners],
        "cases": [_case(c) for end in ENDS if (c := study.case_sheet(end)) is not None],
        "brakes": _brakes(brakes, study),
        "undone": [{"assembly": u.assembly, "source": u.source, "what": u.words, "why": u.why} for u in study.undone],
        "due": [{"kind": d.kind, "assembly": d.assembly, "what": d.words} for d in study.due],
        "first_drive": _drive(study.drive_sheet),
    }


def _card(card: Card, study: Study) -> dict[str, Any]:
    work = study.project.card(card.id)
    following = card.next
    return {
        "assembly": card.id,
        "done": card.done,
        "of": len(card.lines),
        "next": None if following is None else following.step.key,
        "left_at": None if card.stop is None else card.stop.step,
        "lacking": list(card.lacking),
        "steps": [_line(one) for one in card.lines],
        "parts": []
        if work is None
        else [
            {
                "id": p.id,
                "name": p.name,
                "side": p.side,
                "state": p.state,
                "out_as": p.order or None,
                "mark": None if p.mark is None else mark_words(p.mark),
                "tray": p.tray,
            }
            for p in work.parts
        ],
    }


def _line(one: CardLine) -> dict[str, Any]:
    low, high, spread = one.window
    return {
        "key": one.step.key,
        "title": one.step.title,
        "standing": one.standing,
        "waits_for": list(one.waits),
        "kind": one.step.kind,
        "low": low,
        "high": high,
        "spread": spread,
        "source": one.source,
        "readings": [] if one.work is None else [list(r.values) for r in one.work.readings],
        "judged": None if one.judged is None else one.judged.says,
        "photos": [] if one.work is None else list(one.work.photos),
    }


def _bolt(b: BoltLine) -> dict[str, Any]:
    return {
        "id": b.place.key,
        "name": b.place.name,
        "assembly": b.place.assembly,
        "count": b.count,
        "thread": None if b.thread is None else b.thread.name,
        "grade": b.grade,
        "torque_nm": b.target,
        "estimated": b.estimated,
        "source": b.source,
        "tight": b.done,
        "standing": b.standing,
    }


def _case(c: CaseSheet) -> dict[str, Any]:
    return {
        "end": c.fit.id,
        "goes": c.goes,
        "missing": list(c.missing),
        "rooms": [
            {"where": r.where, "room_m": r.room, "sigma_m": r.sigma, "verdict": r.verdict, "relieve_m": r.relieve}
            for r in c.rooms
        ],
        "holes": [{"id": h.id, "kind": h.kind, "diameters": h.edges, "wrong": h.wrong} for h in c.holes],
    }


def _brakes(b: BrakeSheet, study: Study) -> dict[str, Any]:
    hoses = study.hoses
    return {
        "lacks": list(b.lacks),
        "pressure_pa": b.pressure,
        "deceleration_at_foot_g": b.at_foot,
        "locks_first": None if b.lock is None else b.lock.end,
        "locks_at_g": None if b.lock is None else b.lock.deceleration,
        "locks_at_sigma_g": b.sure,
        "may_lock_first": list(b.other),
        "front_share_there": b.share,
        "pedal_m": None if b.pedal is None else b.pedal.way,
        "holds_slope": b.holds,
        "torque_to_hold_nm": None if b.hold is None else b.hold.torque,
        "grip_to_hold": None if b.hold is None else [v if math.isfinite(v) else None for v in (b.hold.up, b.hold.down)],
        "joints": [
            {
                "name": f.fitting.name,
                "goes": f.goes,
                "wrong": list(f.wrong),
                "unknown": list(f.unknown),
                "hose_needed_m": None if (h := hoses.get(f.fitting.id)) is None else h.needed,
                "hose_shortest_m": None if h is None else h.shortest.length,
            }
            for f in b.fittings
        ],
    }


def _drive(d: DriveSheet) -> dict[str, Any]:
    return {
        "may": d.may,
        "released": d.first.released or None,
        "gates": [
            {
                "key": g.key,
                "title": g.title,
                "holds": g.holds,
                "why_not": g.why,
                "standing": g.standing,
                "by": "" if g.signed is None else g.signed.by,
                "reason": "" if g.signed is None else g.signed.reason,
            }
            for g in d.gates
        ],
        "driven_m": d.first.driven_m,
        "again": list(d.again),
    }


def bench_text(study: Study) -> str:
    """The bench in words."""
    unit = study.project.settings.units
    out: list[str] = []
    for card in study.cards.values():
        out += [*card_words(card, unit), ""]
    for end in ENDS:
        gears = study.gear_sheet(end)
        if gears is not None and gears.setup.trainer is None:
            out += [f"{end.capitalize()} gears: {verdict_words(gears, unit)}", ""]
        case = study.case_sheet(end)
        if case is not None:
            out += [f"{end.capitalize()} third member:", *case_words(case, unit), ""]
    out += [*(bolt_words(b, unit) for b in study.fasteners), ""]
    out += [*brake_words(study.brake_sheet, unit, study.hoses), ""]
    out += [*drive_words(study.drive_sheet, unit), ""]
    open_ = study.undone
    out += [f"Left undone: {len(open_)}."] + [f"  {ASSEMBLY_WORDS[u.assembly]}: {u.words}" for u in open_]
    return "\n".join(out)


def due_text(study: Study) -> str:
    """What is due now, a line each."""
    lines = [f"{ASSEMBLY_WORDS[d.assembly]}: {d.words}" for d in study.due]
    return "\n".join(lines) if lines else "Nothing is due."


def bench_rows(study: Study) -> list[tuple[str, ...]]:
    """Every step of every card and every bolt as rows of a table, the heading first."""
    unit = study.project.settings.units
    out: list[tuple[str, ...]] = [("assembly", "what", "standing", "wanted_or_torque", "read", "by", "when", "words")]
    for card in study.cards.values():
        for one in card.lines:
            low, high, _ = one.window
            read = "" if one.reading is None else " ".join(f"{v:.9g}" for v in one.reading.values)
            wanted = "" if low is None and high is None else f"{'' if low is None else f'{low:.9g}'}..{'' if high is None else f'{high:.9g}'}"  # fmt: skip
            who = one.reading.by if one.reading is not None else "" if one.work is None else one.work.by
            when = one.reading.when if one.reading is not None else "" if one.work is None else one.work.when
            out.append((card.id, one.step.title, one.standing, wanted, read, who, when, line_words(one, unit)))
    for b in study.fasteners:
        last = b.work.tight[-1] if b.work is not None and b.work.tight else None
        torque = "" if b.target is None else f"{b.target:.6g}"
        read = "" if b.read is None else f"{b.read:.6g}"
        who, when = ("", "") if last is None else (last.by, last.when)
        out.append((b.place.assembly, b.place.name, b.standing, torque, read, who, when, bolt_words(b, unit)))
    return out
