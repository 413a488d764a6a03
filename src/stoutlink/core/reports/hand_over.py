"""The owner's file: what was changed, what was not tested, torque, brakes, care; on paper, and everything in one archive."""

from __future__ import annotations

import datetime
import hashlib
import io
import json
import zipfile
from collections.abc import Callable, Iterator
from pathlib import Path

from stoutlink.core.advice.bench_words import CAUTION, brake_words, gate_stands
from stoutlink.core.advice.log_words import CARE_CAUTION, apart_words, band_words, hit_words, judged_words, run_lines
from stoutlink.core.analysis.log.runs import hit_rate, own_bands
from stoutlink.core.document.bench import ASSEMBLY_WORDS
from stoutlink.core.document.link_work import LINK_STAGES
from stoutlink.core.document.log import CARE_WORDS
from stoutlink.core.document.swap import planned_gears
from stoutlink.core.errors import StoutError
from stoutlink.core.quantity.shown import show
from stoutlink.core.reports.bench_paper import bolt_page
from stoutlink.core.reports.cut_list_csv import cut_list_csv
from stoutlink.core.reports.log_results import broken_words, built_json, log_json, runs_csv
from stoutlink.core.reports.packet import packet_pdf
from stoutlink.core.reports.packet_pages import Written
from stoutlink.core.reports.part_files import pattern_dxf
from stoutlink.core.reports.pdf_writer import Paper
from stoutlink.core.reports.written_pdf import written_pdf
from stoutlink.core.storage.decode import encode_project
from stoutlink.core.storage.disk import read_bytes
from stoutlink.core.storage.photos import LARGEST_PHOTO, find_photo, is_whole
from stoutlink.core.study.study import Study
from stoutlink.core.study.vehicle import ENDS

Tell = Callable[[float], bool]
NO_APPROVAL = "Height, track, tyres, brakes, steering or axles other than the maker's may need the approval of an inspector or engineer where it is driven: ask before it goes on a road."
RATING = "The weight rating stays the vehicle's: no axle, spring or brake raises it."
OWNER_CAUTIONS = (NO_APPROVAL, CAUTION, CARE_CAUTION)


def untested(study: Study) -> tuple[str, ...]:
    """What was not tested, is undone, or was let through: what stands on the first page."""
    p, out = study.project, []
    if p.log.hand_over.untested:
        out.append(p.log.hand_over.untested)
    sheet = study.drive_sheet
    out += [f"{g.title}: {gate_stands(g)}" for g in sheet.gates if g.open]
    out += [
        f"{g.title}: let through by {g.signed.by}, {g.signed.reason}"
        for g in sheet.gates
        if g.signed is not None and g.signed.reason
    ]
    out += [f"{ASSEMBLY_WORDS[u.assembly]}: {u.words}" for u in study.undone]
    out += [f"{f.code} {f.sentence}" for f in study.open if f.severity == "danger"]
    for end in ENDS:
        layout = p.layout(end)
        if layout is None:
            continue
        found = study.as_built_known(end)
        if found is None:
            out.append(f"The {end} axle was not measured as built: its numbers are those of the plan.")
        else:
            out += [judged_words(j, p.settings.units) for j in found.suspects if j.error is not None]
        half = [k.name for k in layout.links if k.stage in LINK_STAGES[:4] and k.in_hand_m is None]
        if half:
            out.append(f"Not welded as far as is written down, {end}: {', '.join(half)}.")
    return tuple(out)


def approvals(study: Study) -> tuple[str, ...]:
    """What may need approval."""
    typed = study.project.log.hand_over.approval
    return ((typed,) if typed else ()) + (NO_APPROVAL,)


def owner_pages(study: Study, lost: tuple[str, ...] = ()) -> Iterator[Written]:
    """The pages of the owner's file; ``lost`` are photos that are missing."""
    p, unit = study.project, study.project.settings.units
    said = p.log.hand_over
    who = [
        w
        for w in (
            f"For {said.owner}" if said.owner else "",
            f"built by {said.builder}" if said.builder else "",
            said.when,
        )
        if w
    ]
    open_ = untested(study)
    words = [
        ", ".join(who) + "." if who else "",
        f"{p.rig.name}. Driven since the swap: {show(p.bench.first_drive.driven_m, 'distance', unit)}.",
        "Not tested, not done, or let through:",
    ]
    words += [f"– {w}" for w in open_] or ["– nothing that is written down."]
    words += ["May need approval:", *(f"– {w}" for w in approvals(study))]
    if lost:
        words.append(f"{len(lost)} photos are missing beside the project.")
    yield Written(f"Owner's file: {p.name}", tuple(w for w in words if w), cautions=OWNER_CAUTIONS)
    yield _changed(study)
    yield _weights(study)
    if study.fasteners:
        yield bolt_page(study.fasteners, unit)
    align = [said.alignment] if said.alignment else ["No alignment is written down."]
    yield Written(
        "Alignment and brakes", (*align, *brake_words(study.brake_sheet, unit, study.hoses)), cautions=(CAUTION,)
    )
    built = [f for end in ENDS if (f := study.as_built_known(end)) is not None]
    if built:
        yield Written(
            "As built", tuple(f"{f.end.capitalize()}: {apart_words(n, f.end, unit)}" for f in built for n in f.numbers)
        )
    yield from _log_pages(study)


def _changed(study: Study) -> Written:
    p, unit = study.project, study.project.settings.units
    rows: list[tuple[str, ...]] = []
    for end in ENDS:
        donor, layout, plan = p.donor(end), p.layout(end), p.plan(end)
        teeth = None if donor is None else planned_gears(donor, plan)
        ratio = "" if teeth is None else f"{teeth.ring}/{teeth.pinion}"
        made = next((m for m in p.swap.made if donor is not None and m.id == donor.id), None)
        name = "as it was" if donor is None else donor.name + (" (made of several)" if made is not None else "")
        wheel = p.rig.end(end)
        tyre = wheel.tyre_text or show(wheel.free, "length", unit)
        rows.append(
            (
                end.capitalize(),
                name,
                ratio,
                study.locker_of(end).replace("_", " "),
                tyre,
                "as it was" if layout is None else layout.name,
            )
        )
    words = (
        (p.log.hand_over.changed,) if p.log.hand_over.changed else ("What was changed besides is not written down.",)
    )
    return Written(
        "What was changed",
        words,
        ("End", "Axle", "Teeth", "Locker", "Tyre", "Hung by"),
        tuple(rows),
        (1, 4, 1.3, 2, 2.2, 3.5),
    )


def _weights(study: Study) -> Written:
    p, unit = study.project, study.project.settings.units
    rig, rows = study.true.rig, []
    for end in ENDS:
        layout = p.layout(end)
        if layout is None:
            continue
        if layout.leaf is not None:
            measured = layout.leaf.measured_rate_n_per_m is not None
            what = "leaf springs, rate " + ("measured" if measured else "worked out from the leaves, not measured")
        elif layout.air is not None:
            what = "air springs"
        elif layout.spring is not None:
            what = (
                f"springs, {show(layout.spring.rate_n_per_m, 'spring_rate', unit)} as typed"
                if layout.spring.rate_n_per_m
                else "springs, rate not typed"
            )
        else:
            what = "springs not written down"
        rows.append((end.capitalize(), what, f"{layout.wanted_hz:.2f} Hz wanted"))
    rating = "" if p.rig.weight.gvwr_kg is None else f" It is {show(p.rig.weight.gvwr_kg, 'mass', unit)}."
    words = [RATING + rating]
    if not study.needed("weight"):
        words.append(
            f"Weight as it stands {show(rig.mass_kg, 'mass', unit)} ({p.rig.weight.mass_from}), balance point {show(rig.cg_height_m, 'length', unit)} high ({p.rig.weight.height_from})."
        )
    return Written(
        "Weight and springs",
        tuple(words),
        ("End", "Springs, and what they are taken as", "Chosen for"),
        tuple(rows),
        (1, 6, 3),
    )


def _log_pages(study: Study) -> Iterator[Written]:
    p, unit = study.project, study.project.settings.units
    log = p.log
    if log.care:
        rows = []
        for item in log.care:
            every = [show(item.every_m, "distance", unit)] if item.every_m is not None else []
            every += [f"{item.every_days} days"] if item.every_days is not None else []
            last = item.done[-1] if item.done else None
            rows.append(
                (
                    item.name,
                    CARE_WORDS[item.kind],
                    " or ".join(every),
                    "never" if last is None else f"{last.when}, {show(last.driven_m, 'distance', unit)}",
                    item.source,
                )
            )
        yield Written(
            "Care",
            (),
            ("What", "Kind", "Every", "Last done", "Whose interval"),
            tuple(rows),
            (4, 2, 3, 3, 3),
            (CARE_CAUTION,),
        )
    if log.runs:
        good = [r for r in log.runs if r.verdict == "good"] or list(log.runs)
        words = [line for r in good[-3:] for line in run_lines(r, unit)]
        words += [band_words(b, unit) for b in own_bands(log.runs)]
        yield Written("How it drove", (*words, hit_words(hit_rate(log.runs))))
    if log.broken or log.spares:
        lines = [broken_words(study, b.id) for b in log.broken]
        lines += [
            f"Spare: {s.name}, {s.count} there, {s.wanted} wanted{', ' + s.place if s.place else ''}"
            for s in log.spares
        ]
        yield Written("Broken and spare", tuple(lines))


def hand_over_pdf(study: Study, file: str, paper: Paper, lost: tuple[str, ...] = ()) -> bytes:
    """The owner's file on paper."""
    return written_pdf(owner_pages(study, lost), "Owner's file", study.project.name, file, paper)


def hand_over_archive(study: Study, file: Path | None, paper: Paper, tell: Tell = lambda _: True) -> bytes:
    """Everything in one archive: the project that opens again, its photos beside it, papers, patterns, tables, and a list of what is in it
    with its SHA-256. ``tell`` hears the part done, 0 to 1; a false answer gives up with :class:`InterruptedError`."""
    stem = "project" if file is None else file.stem
    name = f"{stem}.stoutlink"
    today = datetime.date.today()
    inside: dict[str, bytes] = {name: encode_project(study.project)}
    lost = []
    for photo in study.project.photo_names():
        there = find_photo(file, photo)
        if there is None or not is_whole(there):
            lost.append(photo)
        else:
            inside[f"{stem}.photos/{photo}"] = read_bytes(there, LARGEST_PHOTO)
    study.cycle(lambda part: tell(0.4 * part))
    inside["owners-file.pdf"] = hand_over_pdf(study, name, paper, tuple(lost))
    if not tell(0.5):
        raise InterruptedError
    packet = packet_pdf(study, name, today.isoformat(), paper, lambda part: tell(0.5 + 0.4 * part))
    if packet is None:
        raise InterruptedError
    inside["shop-packet.pdf"] = packet
    for end in ENDS:
        try:
            parts = study.parts(end)
        except StoutError:
            continue
        for part in parts:
            inside[f"parts/{end}-{part.id}.dxf"] = pattern_dxf(
                [(part.pattern, (0.0, 0.0), part.name)], study.project.settings.units
            )
    inside["cut-list.csv"] = cut_list_csv(study.cuts, study.cut_waits).encode()
    inside["runs.csv"] = runs_csv(study).encode()
    data = {"as_built": built_json(study), "log": log_json(study, today)}
    inside["log.json"] = json.dumps(data, indent=1).encode()
    rows = [f"{hashlib.sha256(one).hexdigest()}  {key}" for key, one in inside.items()]
    rows += [f"missing or damaged: {stem}.photos/{photo}" for photo in lost]
    inside["contents.txt"] = ("\n".join(rows) + "\n").encode()
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for key, one in inside.items():
            stamp = zipfile.ZipInfo(f"{stem}-hand-over/{key}", (today.year, today.month, today.day, 0, 0, 0))
            stamp.compress_type = zipfile.ZIP_DEFLATED
            stamp.external_attr = 0o644 << 16
            archive.writestr(stamp, one)
    return out.getvalue()
