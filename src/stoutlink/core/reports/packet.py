"""The shop packet: everything the bench needs as one file of paper, from links to the last weld."""

from __future__ import annotations

import io
import math
from collections.abc import Callable, Iterator

from stoutlink.core.advice.station_words import size, station_words
from stoutlink.core.advice.weld_rules import AFTER_LAST_BEAD, before_first_bead, paint_words
from stoutlink.core.advice.weld_rules import CAUTION as WELD_CAUTION
from stoutlink.core.advice.weld_words import base_words, bead_words, clock_words, ends_words, run_words
from stoutlink.core.analysis.linkage.cut_list import LinkCut
from stoutlink.core.analysis.linkage.weld_plan import WeldSheet
from stoutlink.core.analysis.vehicle.lacking import NotEntered
from stoutlink.core.document.stations import STATION_STAGES, STATION_WORDS, StationOf
from stoutlink.core.drawing.axle_views import axle_shapes, link_shapes, ride_pose_of
from stoutlink.core.drawing.layout_sheet import TITLES, layout_drawing
from stoutlink.core.drawing.part_views import cope_sheet, part_sheet
from stoutlink.core.drawing.rig_views import rig_side
from stoutlink.core.drawing.shapes import VIEWS, Note, Shape
from stoutlink.core.drawing.weld_views import skin_sheet
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show
from stoutlink.core.reports.bench_paper import bolt_page
from stoutlink.core.reports.bump_sheet import NOTE as BUMP_NOTE
from stoutlink.core.reports.bump_sheet import bump_rows
from stoutlink.core.reports.cut_list_csv import turn_words
from stoutlink.core.reports.packet_pages import BOX, Drawn, Sheet, Written, draw_written
from stoutlink.core.reports.pdf_writer import LETTERS, Paper, Title, draw_sheet, load_fonts, scale_to_fit
from stoutlink.core.reports.shaft_sheet import TO_MEASURE, shaft_rows
from stoutlink.core.reports.stock_text import plan_words
from stoutlink.core.study.study import Study

ENDS = ("rear", "front")
CAUTIONS = (
    "Numbers here are worked out from what was entered: what the tape says counts. Measure twice, cut once.",
    "Stands and chains under the rig, springs out only with the axle held; nobody under it while it moves.",
    WELD_CAUTION,
    "Local rules decide what may be changed on a road vehicle and who has to approve it; steering, brakes and axles need a licensed hand where they say so.",
)
Tell = Callable[[float], bool]


def packet_pdf(study: Study, file: str, date: str, paper: Paper, tell: Tell = lambda _: True) -> bytes | None:
    """The packet; ``tell`` hears how far it is, and where it says no, ``None`` comes back."""
    from reportlab.pdfgen.canvas import Canvas  # noqa: PLC0415 - slow to load and only wanted for paper

    out = io.BytesIO()
    page = Canvas(out, pageCompression=1, invariant=1)
    page.setTitle(f"Shop packet, {study.project.name}")
    page.setCreator("Stout Link")
    load_fonts()
    unit = study.project.settings.units
    for part, one in packet_sheets(study, file, date):
        if not tell(part):
            return None
        title = Title(one.title, file, date)
        if isinstance(one, Written):
            draw_written(page, one, title, paper)
            continue
        scale = one.scale or scale_to_fit(one.shapes, paper)
        draw_sheet(page, one.shapes, title, paper, scale, unit)
    page.save()
    return out.getvalue()


def packet_sheets(study: Study, file: str, date: str) -> Iterator[tuple[float, Sheet]]:
    """Every sheet with how far the packet is by then, 0 to 1; a drawing whose scale is 0 is made to fit its page."""
    yield 0.0, _cover(study, file, date)
    if study.needed("stance", "weight"):
        return
    for end in ENDS:
        layout = study.project.layout(end)
        if layout is not None and study.axles[end].problem is None:
            for view in VIEWS:
                letters = LETTERS * scale_to_fit(layout_drawing(study, layout, view, 10 * LETTERS), "Letter")
                shapes = tuple(layout_drawing(study, layout, view, letters))
                yield 0.1, Drawn(f"{end.capitalize()}: {layout.name}. {TITLES[view]}", shapes, 0.0)
    unit = study.project.settings.units
    if study.cuts:
        yield 0.2, _links(study)
    plans = study.stock_plan()
    if plans:
        yield 0.25, _stock(study)
    parts = tuple(one for end in ENDS for one in study.parts(end))
    if parts:
        yield 0.3, _part_list(study)
    for one in parts:
        name = f"{one.name}, {one.count} off, {show(one.thickness, 'fine_length', unit)} plate"
        yield 0.4, Drawn(name, tuple(part_sheet(one, unit)), 1.0)
    for cut in study.project.fabrication.copes:
        line = study.cope(cut)
        if not isinstance(line, str):
            yield 0.5, Drawn(f"Wrap: {cut.name}", tuple(cope_sheet(line, cut.name, unit)), 1.0)
    for end in ENDS:
        yield from ((0.6, one) for one in _housing(study, end))
    if study.fasteners:
        yield 0.7, bolt_page(study.fasteners, unit)
    for end in ENDS:
        yield from ((0.8, one) for one in _travel(study, end))
    yield 1.0, Written("Before anything is cut, welded or driven", cautions=CAUTIONS)


def _cover(study: Study, file: str, date: str) -> Written:
    """What rig this is, what it hangs on, and what is still open."""
    project = study.project
    words = [f"{project.rig.name}. {file}, {date}."]
    rows: list[tuple[str, ...]] = []
    for end in ENDS:
        donor, layout = project.donor(end), project.layout(end)
        axle = "no axle chosen" if donor is None else donor.name
        hung = "no layout" if layout is None else layout.name
        rows.append((end.capitalize(), axle, hung))
    if study.needs:
        words.append(NotEntered(study.needs).sentence)
    else:
        open_ = study.open
        dangers = [f for f in open_ if f.severity == "danger"]
        words.append(
            f"Open: {len(open_)} knock-ons, {len(dangers)} of them dangers"
            + (": " + " ".join(f"{f.code} {f.sentence}" for f in dangers[:12]) if dangers else ".")
        )
        words += [f"The cut list is not settled: {', '.join(study.cut_waits)}."] if study.cut_waits else []
    head = ("Axle", "Donor", "Layout")
    return Written(f"Shop packet: {project.name}", tuple(words), head, tuple(rows), (1, 4, 4), CAUTIONS, _rig(study))


def _rig(study: Study) -> tuple[Shape, ...]:
    """The rig from the side with both axles as they are laid out."""
    if study.needed("stance", "weight"):
        return ()
    out = list(rig_side(study.true.rig))
    for end in ENDS:
        layout = study.project.layout(end)
        if layout is not None:
            pose = ride_pose_of(study.true.rig, end)
            out += axle_shapes(study.true.rig, layout, "side", pose, study.project.donor(end), study.project.plan(end))
            out += link_shapes(layout, "side", pose, pose.centre)
    return tuple(one for one in out if not isinstance(one, Note))


def _links(study: Study) -> Written:
    unit = study.project.settings.units
    return Written(
        "Links",
        (
            "Pin to pin between the bolts' middles; cut is the tube alone; take-ups at the frame and at the axle as set; read is the link itself, pin to pin.",
        ),
        ("Link", "Pin to pin", "Cut", "Tube", "Take-ups", "Read", "Cut", "Tack", "Weld"),
        tuple(_link(one, unit) for one in study.cuts),
        (3.2, 2.1, 2.1, 2.2, 2.0, 2.2, 0.95, 1.15, 1.2),
    )


def _link(one: LinkCut, unit: UnitSystem) -> tuple[str, ...]:
    link, cut = one.link, one.cut

    def say(v: float) -> str:
        return size(v, unit)

    tube = "at hand" if one.at_hand else say(cut.tube) if cut.tube > 0 else "no tube left"
    if one.there:
        tube = f"{tube}, {turn_words(one, unit)}"
    walls = f"{show(link.tube_od_m, 'length', unit)} × {show(link.tube_wall_m, 'fine_length', unit)}"
    ends = f"{say(link.frame_end.take_up_m)}, {say(link.axle_end.take_up_m)}"
    name = f"{one.layout.end.capitalize()}: {link.name}"
    boxes = ("", "", "") if one.at_hand else (BOX, BOX, BOX)
    return name, say(cut.centre_to_centre), tube, walls, ends, "", *boxes


def _stock(study: Study) -> Written:
    project, rows = study.project, []
    unit = project.settings.units
    words = []
    for plan in study.stock_plan():
        words += [w for w, _ in plan_words(plan, unit, project.swap.choosing.currency)]
        for used in plan.plan.bars:
            pieces = [plan.pieces[i] for i in used.pieces]
            cuts = "; ".join(f"{p.name} {p.axle} {size(p.length, unit)}" for p in pieces)
            rows.append((plan.bar_of(used).name, cuts, size(used.left, unit), BOX))
    return Written(
        "Bars to cut up", tuple(words), ("Bar", "In this order", "Left", "Done"), tuple(rows), (3, 7, 1.6, 1)
    )


def _part_list(study: Study) -> Written:
    unit = study.project.settings.units
    rows = []
    for end in ENDS:
        for one in study.parts(end):
            short = [f"{c.what} {size(c.value, unit)}, {size(c.wanted, unit)} wanted" for c in one.checks if not c.good]
            rows.append(
                (
                    one.name,
                    str(one.count),
                    show(one.thickness, "fine_length", unit),
                    show(one.mass * one.count, "mass", unit, decimals=1),
                    "; ".join(short),
                    BOX,
                )
            )
    return Written(
        "Parts of plate",
        ("Templates follow at 1:1. Print them at actual size and lay a rule on the bar at each foot first.",),
        ("Part", "Off", "Plate", "Weight", "Too little of", "Cut"),
        tuple(rows),
        (4, 0.8, 1.4, 1.4, 4, 0.8),
    )


def _housing(study: Study, end: str) -> Iterator[Sheet]:
    """Stations and welds of one housing."""
    unit, sheet = study.project.settings.units, study.station_sheet(end)
    if sheet is not None:
        order: tuple[StationOf, ...] = ("span", "left", "spacing", "right")
        rows = []
        for of in order:
            cells = []
            for stage in STATION_STAGES:
                read = sheet.read.get((of, stage))
                cells.append("" if read is None else f"{size(read.value, unit)} ± {size(2 * read.sigma, unit)}")
            rows.append((STATION_WORDS[of], *cells))
        for side in ("left", "right"):
            ends = {e.stage: size(e.miss, unit) for e in sheet.ends if e.side == side}
            rows.append((f"{side} end misses the bar, at the clock", *(ends.get(s, "") for s in STATION_STAGES)))
        rows.append(("pinion less pads, nose up +", "", "", "", ""))
        words = tuple(w for w, _ in station_words(sheet, unit))
        yield Written(
            f"Stations of the {end} housing",
            words,
            ("", *STATION_STAGES),
            tuple(rows),
            (3, 2, 2, 2, 2),
            (WELD_CAUTION,),
        )
    places = study.set_out(end)
    if places:
        rows = [
            (
                one.name,
                "" if one.left is None else size(one.left, unit),
                "" if one.right is None else size(one.right, unit),
                f"{math.degrees(one.around):.0f}°",
                BOX,
                BOX,
            )
            for one in places
        ]
        yield Written(
            f"Set out on the {end} housing",
            ("Middle of each plate, from the datums of the stations; round the tube from the top over the front.",),
            ("", "From left", "From right", "Round", "Marked", "Tacked"),
            tuple(rows),
            (4, 2, 2, 1.2, 1.2, 1.2),
        )
    weld = study.weld_sheet(end)
    if weld is not None:
        yield from _weld(study, weld)


def _weld(study: Study, weld: WeldSheet) -> Iterator[Sheet]:
    base, unit = weld.base, study.project.settings.units
    assert base.housing is not None
    end = base.plan.id
    high = 0.5 * (base.housing.left - base.housing.right)
    shapes = tuple(skin_sheet(weld.run, base.housing, high))
    yield Drawn(f"Welds of the {end} housing, unrolled, seen from behind; numbers in their order", shapes, 0.0)
    rows = []
    for k, step in enumerate(weld.run.steps, 1):
        state = base.state(step.bead.id)
        before = [f"wait {clock_words(step.waited)}"] if step.waited >= 1 else []
        before += ["turn"] if step.turned else []
        boxes = ("done", "done") if state == "inspected" else ("done", BOX) if state == "welded" else (BOX, BOX)
        rows.append((str(k), bead_words(step.bead, base.housing, unit), ", ".join(before), *boxes, ""))
    words = [*base_words(base, unit), run_words(base.plan.order, weld.run, unit)]
    words.append(f"All together, whatever the order: {ends_words(base.pull, unit, base.pull_sure)}.")
    words += [f"{k}. {one}" for k, one in enumerate(before_first_bead(base), 1)]
    yield Written(
        f"Weld order of the {end} housing",
        (*words, AFTER_LAST_BEAD, paint_words(base)),
        ("", "Bead", "First", "Laid", "Looked at", "By"),
        tuple(rows),
        (0.7, 6.5, 1.9, 1, 1.3, 1.2),
        (WELD_CAUTION,),
    )


def _travel(study: Study, end: str) -> Iterator[Sheet]:
    """Full bump and driveshaft, where the axle can be cycled."""
    if study.project.layout(end) is None or study.axles[end].problem is not None or study.needs:
        return
    travel = study.travel(end)
    if travel is None:
        return
    project = study.project
    rows = bump_rows(project, travel, study.bump_sheet(travel))
    poses = len(rows[0][2:]) // 2
    for k in range(0, poses, 2):
        columns = [0, 1, *range(2 + 2 * k, min(2 + 2 * k + 4, len(rows[0])))]
        cut = [tuple(row[c] for c in columns) for row in rows]
        yield Written(
            f"{end.capitalize()} axle at its stops" + ("" if k == 0 else ", crossed" if k > 1 else ""),
            (BUMP_NOTE,),
            cut[0],
            tuple(cut[1:]),
            (2.6, 3.4, *[1.45, 1.75] * ((len(columns) - 2) // 2)),
        )
    lines = shaft_rows(project, travel)
    if lines:
        yield Written(
            f"{end.capitalize()} driveshaft, to order by",
            ("Lengths between joint centres. Measured with the weight on, at ride height, before ordering.",),
            ("", "Worked out", "Measured"),
            tuple((*row, "") for row in lines) + tuple((word, "", "") for word in TO_MEASURE),
            (4.5, 4, 2.5),
        )
