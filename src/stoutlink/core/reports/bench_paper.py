"""The bench on paper and as a table: cards to be ticked at the axle, bolts with their torque, the first-drive sheet."""

from __future__ import annotations

from collections.abc import Iterator

from stoutlink.core.advice.bench_words import (
    CAUTION,
    PRESS_CAUTION,
    STANDING_WORDS,
    brake_words,
    case_words,
    gate_stands,
    reading_words,
    stop_words,
    window_words,
)
from stoutlink.core.analysis.bench.card import Card
from stoutlink.core.analysis.bench.fasteners import BoltLine
from stoutlink.core.document.bench import ASSEMBLY_WORDS
from stoutlink.core.document.bench_checks import mark_words
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show
from stoutlink.core.reports.bench_results import ENDS, bench_rows
from stoutlink.core.reports.packet_pages import BOX, Written
from stoutlink.core.reports.pdf_writer import Paper
from stoutlink.core.reports.written_pdf import written_pdf
from stoutlink.core.study.study import Study
from stoutlink.core.tables import table_text


def bench_csv(study: Study) -> str:
    """Steps and bolts as CSV, SI."""
    return table_text(bench_rows(study))


def bench_pdf(study: Study, file: str, paper: Paper) -> bytes:
    """Every card, the bolts, the fits, brakes and the first-drive sheet as one PDF."""
    return written_pdf(bench_pages(study), "Bench", study.project.name, file, paper)


def bench_pages(study: Study) -> Iterator[Written]:
    """The pages."""
    unit = study.project.settings.units
    for card in study.cards.values():
        yield card_page(card, unit)
        work = study.project.card(card.id)
        parts = () if work is None else work.parts
        if parts:
            yield Written(
                f"Parts of the {ASSEMBLY_WORDS[card.id].lower()}",
                ("In the order they came out; back the other way round. Caps and matched pairs stay together.",),
                ("Out", "Part", "Mark", "Faces", "Tray", "Held by", "Back"),
                tuple(
                    (str(p.order or ""), p.name, "" if p.mark is None else mark_words(p.mark), p.facing, p.tray, f"{p.fastener} {p.socket}".strip(), BOX)
                    for p in sorted(parts, key=lambda p: (p.order == 0, p.order))
                ),
                (0.8, 3.4, 2.6, 1.8, 1.4, 2.2, 0.9),
                (PRESS_CAUTION,),
            )  # fmt: skip
    bolts = study.fasteners
    if bolts:
        yield bolt_page(bolts, unit)
    for end in ENDS:
        case = study.case_sheet(end)
        if case is not None:
            yield Written(f"Third member of the {end} axle", tuple(case_words(case, unit)))
    yield Written("Brakes", tuple(brake_words(study.brake_sheet, unit, study.hoses)), cautions=(CAUTION,))
    sheet = study.drive_sheet
    yield Written(
        "First drive",
        ("Signed gate by gate by who has seen it. What does not hold is let through by a reason and a name, or it stays in the shop.",),
        ("Gate", "How it stands", "Read", "Signed, date"),
        tuple((g.title, gate_stands(g), "", "") for g in sheet.gates),
        (4, 5, 2, 2.4),
        (CAUTION,),
    )  # fmt: skip
    open_ = study.undone
    if open_:
        yield Written(
            "Left undone", (), ("Belongs to", "What", "Done"),
            tuple((ASSEMBLY_WORDS[u.assembly], f"{u.words}{f' ({u.why})' if u.why else ''}", BOX) for u in open_), (2.5, 8, 1),
        )  # fmt: skip


def card_page(card: Card, unit: UnitSystem) -> Written:
    """One card to be ticked off."""
    words = [f"{card.done} of {len(card.lines)} steps done."]
    words += [stop_words(card.stop, card)] if card.stop is not None else []
    words += [f"Not there: {', '.join(card.lacking)}."] if card.lacking else []
    rows = []
    for k, one in enumerate(card.lines, 1):
        wanted = window_words(one, unit) if one.step.kind is not None and one.step.wants_window else ""
        read = "" if one.reading is None else reading_words(one.reading.values, one.step, unit)
        box = "done" if one.standing == "done" else STANDING_WORDS[one.standing] if one.passed else BOX
        rows.append((str(k), one.step.title, wanted, read, box, ""))
    cautions = tuple(dict.fromkeys(one.step.caution for one in card.lines if one.step.caution))
    return Written(
        ASSEMBLY_WORDS[card.id],
        tuple(words),
        ("", "Step", "Wanted", "Read", "Done", "By, date"),
        tuple(rows),
        (0.7, 5, 3.4, 1.8, 1.2, 1.6),
        (*cautions, CAUTION),
    )


def bolt_page(bolts: tuple[BoltLine, ...], unit: UnitSystem) -> Written:
    """Every bolt with its torque: an estimate where nobody gave one."""
    rows = []
    for b in bolts:
        torque = (
            "from the record" if b.target is None else f"{'≈ ' if b.estimated else ''}{show(b.target, 'torque', unit)}"
        )
        rows.append(
            (b.place.name, "" if b.count is None else str(b.count), "" if b.thread is None else b.thread.name, b.grade, torque, b.source, "done" if b.passed else "")
        )  # fmt: skip
    return Written(
        "Bolts and torque",
        (
            "≈ is an estimate for the thread named: K·F·d with F 75 % of proof load, K 0.20 dry and 0.16 oiled. The maker of the joint or bolt has the last word. Mark each when it is done.",
        ),
        ("Bolt", "How many", "Thread", "Grade", "Torque", "Whose number", "By, date"),
        tuple(rows),
        (3.6, 0.9, 1.5, 1.2, 1.6, 2.2, 1.5),
    )
