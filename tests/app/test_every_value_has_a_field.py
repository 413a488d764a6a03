"""Every number and choice of the document can be set in the window: found by walking the real one, both demos, both
ends, every look, everything picked; what is set by other hands than a field is listed with its hand.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import get_args

import msgspec
import pytest
from PyQt6.QtWidgets import QApplication, QWidget
from pytestqt.qtbot import QtBot

from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.bench.sheet import BenchSheet
from stoutlink.app.steps.cut.sheet import CutSheet
from stoutlink.app.steps.donors.sheet import LOOKS as DONOR_LOOKS
from stoutlink.app.steps.donors.sheet import DonorSheet
from stoutlink.app.steps.layout.sheet import LayoutSheet
from stoutlink.app.steps.log.sheet import LogSheet
from stoutlink.app.steps.plan.sheet import PlanSheetView
from stoutlink.app.steps.rig.sheet import RigSheet
from stoutlink.app.steps.tape.sheet import TapeSheet
from stoutlink.app.steps.travel.sheet import TravelSheet
from stoutlink.core.analysis.bench.fasteners import BoltLine
from stoutlink.core.document.log import HILL_WORDS
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.springing import Driveshaft, SlipShaft
from stoutlink.core.document.swap import PartKind, ShelfPart
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.storage.files import read_project
from stoutlink.demo import demo_file
from tests.entries_that_count import places

NAMES = ("id", "name", "notes", "format", "version", "example")
OTHER_HANDS = {
    # menus
    "Settings.units": "View menu", "Settings.thrust_school": "Schools menu", "Settings.height_school": "Schools menu", "Settings.anti_target": "Schools menu",
    "Settings.roll_centre_target": "Schools menu", "Choosing.buys": "Cost, Also buy", "AxlePlan.keep_gears": "Cost, axle menu", "AxlePlan.in_place": "Cost, axle menu", "AxlePlan.bought": "Cost, axle menu",
    "AxlePlan.extras": "Cost, axle menu", "AxlePlan.fitted": "Match, where a part goes", "Linkage.load_cases": "Cases, add", "LoadCase.items": "Cases, add an item", "LoadCase.fill_x_m": "Cases, up to the rating",
    "LoadCase.fill_z_m": "Cases, up to the rating",
    # boxes and buttons of a look
    "Rig.road_legal": "Drivetrain, box", "WheelEnd.track_from": "Fit-up, box", "Drivetrain.coupling": "Drivetrain, box", "Drivetrain.transfer_case": "Drivetrain, box",
    "Drivetrain.output_side": "Drivetrain, box", "Drivetrain.front_axle": "Drivetrain, box", "Swap.made": "Made, begin", "Link.stage": "Links, bench", "Link.readings": "Links, read a length", "Fabrication.stock": "Stock, add", "Fabrication.copes": "Copes, add", "Fabrication.stations": "Stations, begin", "Stations.readings": "Stations, a cell", "Stations.straight": "Stations, an end", **{f"StraightReading.{n}": "Stations, an end" for n in ("side", "stage", "miss_m", "clock", "when")}, **{f"StationReading.{n}": "Stations, a cell" for n in ("of", "stage", "value_m", "sigma_m", "when")}, "Bench.gears": "Gears, begin", "GearSetup.stacks": "Gears, add a shim", "GearSetup.attempts": "Gears, shims in", "GearSetup.trainer": "Gears, practise", "GearAttempt.readings": "Gears, read", **{f"GearReading.{n}": "Gears, line and flanks" for n in ("backlash_m", "drive", "coast", "when")}, **{f"Patch.{n}": "Gears, a flank" for n in ("place", "height", "long", "tall")}, "Fabrication.welding": "Welds, begin", "WeldPlan.seams": "Welds, add", "WeldPlan.left_out": "Welds, leave out", "WeldPlan.ticks": "Welds, ticks", **{f"BeadTick.{n}": "Welds, ticks" for n in ("bead", "state", "when", "who")}, "Fabrication.made_parts": "Parts, add", "MadePart.end": "Parts, add", "Fabrication.cut_parts": "Parts, mark as cut", "CutPart.when": "Parts, mark as cut", "CutPart.sizes": "Parts, mark as cut", "KeptSize.key": "Parts, mark as cut", "KeptSize.value_m": "Parts, mark as cut", "LinkReading.value_m": "Links, read a length", "LinkReading.sigma_m": "Links, read a length", "LinkReading.stage": "Links, bench", "MadeAxle.housing": "Made, boxes", "MadeAxle.gears": "Made, boxes", "MadeAxle.shafts": "Made, boxes", "MadeAxle.outers": "Made, boxes", "Drivetrain.torque_curve": "Drivetrain, + point", "WeightBook.mass_from": "Weight, box", "WeightBook.along_from": "Weight, box",
    "WeightBook.height_from": "Weight, box", "Tilt.raised": "Weight, box", "AxlePlan.gears": "Gears, a ray", "AxlePlan.centre_pinion": "Fit-up, box", "AxlePlan.shaved": "Fit-up, box",
    "AxlePlan.upgrades": "Ladder, a step", "Datum.direction": "Tape, box", "Datum.stood": "Tape, box", "Bracket.hole": "Holes, map and buttons", "Link.length_locked": "Pivots, lock",
    "Layout.mirrored": "Layout, mirror", "CarrySpring.kind": "Springs, coils or coilovers",
    # tables and drawings typed or picked in place
    "WeightItem.mass_kg": "Weight, items", "WeightItem.x_m": "Weight, items", "WeightItem.y_m": "Weight, items", "WeightItem.z_m": "Weight, items", "WeightItem.on": "Weight, items",
    "WeightItem.weighed": "Weight, items", "WeightBook.items": "Weight, items", "Reading.value_m": "Tape, strip", "Reading.text": "Tape, strip", "SurveyPoint.side": "Tape, strip",
    "SurveyPoint.kind": "Tape, drawer", "SurveyPoint.across": "Tape, drawer", "SurveyPoint.station_edge": "Tape, drawer", "SurveyPoint.height_edge": "Tape, drawer",
    "SurveyPoint.side_edge": "Tape, drawer", "BoxSolid.kind": "Tape, drawer", "TubeSolid.kind": "Tape, drawer", "OutlineSolid.kind": "Tape, drawer", "TubeSolid.path_m": "Tape, drawer",
    **{f"PlanePicture.{n}": "Photo, put in" for n in ("photo", "wide_px", "high_px")}, "PictureMark.pixel": "Photo, a mark", "Traced.kind": "Photo, hands", "Traced.pixels": "Photo, hands", "Tape.photos": "Photo, put in",
    "OutlineSolid.outline_m": "Tape, from a drawing file", "OutlineSolid.view": "Tape, from a drawing file", "ToothPair.ring": "Axle, gear sets", "ToothPair.pinion": "Axle, gear sets",
    "Inspection.when": "Inspect", "InspectionCheck.state": "Inspect, signs", "InspectionCheck.note": "Inspect", "InspectionCheck.cost": "Inspect", "Swap.inspections": "Inspect",
    "Price.hours": "Cost, a line", "Swap.prices": "Cost, a line", "Swap.own_costs": "Cost, Own line", "Swap.shelf": "Match, add", "Swap.seen": "Seen, add",
    # whole things put in and taken out
    "Swap.front_donor": "Donors, choose", "Swap.rear_donor": "Donors, choose", "Layout.end": "Layout, start", "Layout.kind": "Layout, start", "Link.role": "Layout, start",
    "Link.side": "Layout, start", "Layout.links": "Layout, start", "Bracket.link": "Holes, row here", "Bracket.end": "Holes, row here", "Layout.brackets": "Holes, row here",
    "Layout.anchors": "Layout, a pivot put on a rail", "Layout.leaf": "Layout, start", "Layout.steering": "Steering, add", "Layout.shock": "Springs, add", "Layout.spring": "Springs, add",
    "Layout.air": "Springs, add", "Layout.anti_roll_bar": "Springs, add", "Layout.driveshaft": "Driveline, describe", "Driveshaft.carrier_m": "Driveline, place", "Driveshaft.in_hand": "Driveline, one at hand", "Layout.lines": "Lines, add",
    "CarrySpring.frame_m": "Springs, coils", "CarrySpring.axle_m": "Springs, coils", "Steering.pitman_holes": "Steering, holes in the arms", "Steering.knuckle_holes": "Steering, holes in the arms",
    "Steering.tie_rod": "Steering, add a tie rod",
    "SpringOffer.rate_n_per_m": "Springs, list", "SpringOffer.free_m": "Springs, list", "SpringOffer.solid_m": "Springs, list", "SpringOffer.inside_m": "Springs, list", "Linkage.springs": "Springs, list",
    "Linkage.targets": "Verdict, a band", "OwnTarget.low": "Verdict, a band", "OwnTarget.high": "Verdict, a band", "OwnTarget.why": "Verdict, a band", "Linkage.searches": "Find",
    "Linkage.front_layout": "Layout, the list", "Linkage.rear_layout": "Layout, the list", "Linkage.front_compare": "Layout, compare", "Linkage.rear_compare": "Layout, compare",
    "Project.accepted": "Knock-ons, accept", "Accepted.code": "Knock-ons, accept", "Accepted.when": "Knock-ons, accept", "Accepted.why": "Knock-ons, accept",
    # the bench: buttons, pictures, lines
    "Bench.cards": "Card, begin", "BenchCard.steps": "Card, begin", "BenchCard.stops": "Card, stop here", "BenchCard.parts": "Parts, list", "Stop.step": "Card, stop here", "Stop.by": "Card, stop here", "Stop.when": "Card, stop here",
    "Stop.resumed": "Card, go on", **{f"StepWork.{n}": "Card, buttons" for n in ("kind", "state", "by", "when", "at")}, "StepWork.readings": "Card, the line", "StepWork.photos": "Card, photo",
    **{f"BenchReading.{n}": "Card, the line" for n in ("values", "sigma", "when", "by", "tool", "at")}, "MarkedPart.mark": "Parts, mark it", "MarkedPart.history": "Parts, to the other axle",
    "Bench.fasteners": "Bolts, put down", "Fastener.tight": "Bolts, all tight", "Fastener.undone": "Bolts, loosened", "Fastener.void": "Bolts, loosened", **{f"Tightened.{n}": "Bolts, put down" for n in ("count", "torque_nm", "wrench", "when", "by", "driven_m")},
    "Bench.cases": "Fit, measure", "CaseFit.holes": "Fit, add hole", "BrakeSystem.fittings": "Brakes, add joint", "Bench.loose_ends": "First drive, add", **{f"LooseEnd.{n}": "First drive, add and finish" for n in ("when", "by", "closed", "closed_by")},
    "FirstDrive.gates": "First drive, sign", "FirstDrive.released": "First drive, release", **{f"DriveGate.{n}": "First drive, sign" for n in ("by", "when", "reason")},
    # the log
    "AsBuilt.readings": "As built, the line", **{f"BuiltReading.{n}": "As built, boxes and line" for n in ("end", "of", "a", "b", "value", "sigma", "when")},
    "Log.runs": "Runs, new", **{f"Run.{n}": "Runs, new" for n in ("ends", "numbers")}, **{f"RunEnd.{n}": "Runs, new" for n in ("layout", "bars", "holes")},
    **{f"RunBar.{n}": "Runs, new" for n in ("frame_pivot_m", "axle_pivot_m")}, "RunHole.hole": "Runs, new", "RunNumber.value": "Runs, new", "RunNumber.sigma": "Runs, new",
    "Run.felt": "Runs, what was felt", "Felt.much": "Runs, what was felt", "Run.photos": "Runs, photo", "Run.trial": "Tune, a try", **{f"Trial.{n}": "Tune, a try" for n in ("after", "felt", "change", "promise")},
    "Log.care": "Care, add", "Log.broken": "Care, add", "Log.spares": "Care, add", "CareItem.done": "Care, done today", **{f"CareDone.{n}": "Care, done today" for n in ("when", "driven_m", "by")},
    "Broken.part": "Care, a rung", "Broken.margin": "Care, a rung", "Hill.points": "Test hill, one more point",
    # the plan
    "BuildPlan.hours": "Plan, add hours", "BuildPlan.closed": "Plan, add closed days", "BuildPlan.people": "Plan, add person", "BuildPlan.changes": "Plan, a task", "BuildPlan.own": "Plan, add task", "BuildPlan.arrivals": "Parts list, a line", "BuildPlan.trips": "Day, plan work elsewhere", "BuildPlan.closes": "Day, close the day", "PartRecord.state": "Parts list, buttons",
    **{f"DayClose.{n}": "Day, close the day" for n in ("day", "left", "who")}, "OwnTask.knock_ons": "Knock-ons, to plan",
    "BuildPlan.seen": "Plan, seen", "TaskChange.state": "Plan, buttons", "TaskChange.when": "Plan, buttons", "OwnTask.people": "Plan, its change", "OwnTask.likely_h": "Plan, its change",
    # how a number came in: right-click on it
    **{f"Entry.{name}": "a number's menu" for name in ("field", "text", "basis", "sigma", "readings", "spread")},
}  # fmt: skip
"""What no field holds, and the hand that sets it."""


def _paths(widget: QWidget) -> set[str]:
    out = set()
    for one in widget.findChildren(QWidget):
        path = getattr(one, "path", None)
        path = path() if callable(path) else path
        if isinstance(path, str) and "." in path:
            out.add(path)
    return out


def _walk(window: MainWindow, project: Project) -> set[str]:
    """Paths of every field of every look of one project, both ends, with something of each kind picked."""
    seen: set[str] = set()

    def take(sheet: QWidget) -> None:
        QApplication.processEvents()
        seen.update(_paths(sheet))

    window.show_step("rig")
    for look in ("stance", "weight", "tyres", "cases", "drivetrain"):
        window.sheet(RigSheet).look(look)
        take(window.sheet(RigSheet))
    window.show_step("tape")
    tape = window.sheet(TapeSheet)
    for survey in project.tape.surveys:
        tape.show_survey(survey.id)
        for point in survey.points[:2]:
            tape._picked(point.id)
            take(tape)
    for solid in project.tape.solids:
        tape.pick_solid(solid.id)
        take(tape)
    tape.look("photo")
    for picture in project.tape.photos:
        tape.photo.show_path(f"photos.{picture.id}")
        take(tape)
        for where in (*(f"marks.{m.id}" for m in picture.marks[:1]), *(f"traced.{t.id}" for t in picture.traced)):
            tape.photo.show_path(f"photos.{picture.id}.{where}")
            take(tape)
    for end in ("front", "rear"):
        window.workspace.set_end(end)
        window.show_step("donors")
        for key, *_ in DONOR_LOOKS:
            window.sheet(DonorSheet).look(key)
            take(window.sheet(DonorSheet))
        match = window.sheet(DonorSheet).looks["match"]
        for part in ("vehicle", *(s.id for s in project.swap.shelf)):
            match.part = part  # type: ignore[attr-defined]
            match.prepare()
            take(match)
        window.show_step("layout")
        sheet, layout = window.sheet(LayoutSheet), project.layout(end)
        assert layout is not None
        for key in list(sheet.looks):
            sheet.look(key)
            sheet.views.select(None)
            take(sheet)
            for link in layout.links[:2]:
                for which in ("frame", "axle"):
                    sheet.views.select((link.id, which))
                    take(sheet)
        window.show_step("travel")
        for key in window.sheet(TravelSheet).looks:
            window.sheet(TravelSheet).look(key)
            take(window.sheet(TravelSheet))
        window.show_step("cut")
        cut = window.sheet(CutSheet)
        cut.look("links")
        for link in layout.links:
            cut.links.pick(link.id)
            take(cut)
        cut.look("parts")
        for piece in window.workspace.study.parts(end):
            cut.parts.pick(piece.id)
            take(cut)
        cut.look("stations")
        take(cut)
        cut.look("welds")
        for group in ("arc", "housing", "steel"):
            cut.welds.show_group(group)
            take(cut)
        base = window.workspace.study.weld_base(end)
        for bead in (
            () if base is None else [b for b in base.beads if b.number == 1 and b.seam.id[:3] in ("own", "par")][-3:]
        ):
            cut.welds.pick(bead.id)
            take(cut)
        cut.look("plate")
        take(cut)
        cut.look("copes")
        for cope in project.fabrication.copes:
            cut.copes.pick(cope.id)
            take(cut)
        cut.look("stock")
        for bar in project.fabrication.stock:
            cut.stock.pick(bar.id)
            take(cut)
    window.show_step("bench")
    _bench(window.sheet(BenchSheet), window.workspace.study.fasteners, project, take)
    window.show_step("log")
    _log(window.sheet(LogSheet), project, take)
    window.workspace.study.day_sheet(window.workspace.today())
    window.show_step("plan")
    plan = window.sheet(PlanSheetView)
    for group in ("days", "hours", "closed", "people"):
        plan.plan.show_group(group)
        take(plan)
    for change in project.build.changes[-3:]:
        plan.show_field(f"build.changes.{change.id}.likely_h")
        take(plan)
    _listed(window, project, take)
    window.show_step("log")
    _log(window.sheet(LogSheet), project, take)
    return seen


def _listed(window: MainWindow, project: Project, take: Callable[[QWidget], None]) -> None:
    """The parts list and the day, with lines, trips and things picked."""
    view, study = window.sheet(PlanSheetView), window.workspace.study
    today = window.workspace.today()
    study.day_sheet(today)
    view.look("parts_list")
    for key in ("gear_set-rear", *(o.id for o in project.swap.own_costs)):
        view.parts.open_line(key)
        for group in ("order", "money", "own", "whole"):
            view.parts.show_group(group)
            take(view.parts)
    view.look("day")
    for trip in project.build.trips:
        for path in (f"build.trips.{trip.id}.where", *(f"build.trips.{trip.id}.items.{i.id}.name" for i in trip.items)):
            view.day.show_path(path)
            take(view.day)


def _log(sheet: LogSheet, project: Project, take: Callable[[QWidget], None]) -> None:
    """Every look of the log with everything picked."""
    log = project.log
    paths = ["log.built.placed_m", *(f"log.built.readings.{r.id}.set_aside" for r in log.built.readings[:1])]
    paths += [
        f"log.runs.{r.id}.{key}"
        for r in log.runs
        for key in ("name", "load", "front_bump_clicks", "felt.x.speed_m_per_s", "trial.verdict")
    ]
    paths += [f"log.{part}.{one.id}.name" for part in ("care", "broken", "spares") for one in getattr(log, part)]
    paths += ["log.hand_over.owner", "log.hand_over.changed"]
    for path in paths:
        sheet.show_field(path)
        take(sheet)
    for kind in HILL_WORDS:
        sheet.hill.workspace.do(SetChoice("log.hill.kind", kind, "profile"))
        sheet.show_field("log.hill.kind")
        take(sheet)
    sheet.hill.workspace.do(SetChoice("log.hill.kind", log.hill.kind, "profile"))
    sheet.show_field("log.hill.points.x.along_m")
    take(sheet)


def _bench(sheet: BenchSheet, bolts: tuple[BoltLine, ...], project: Project, take: Callable[[QWidget], None]) -> None:
    """Every look of the bench with everything picked."""
    sheet.look("gears")
    for group in ("attempt", "sheet", "shims"):
        sheet.gears.show_group(group)
        take(sheet)
    sheet.look("card")
    for card in project.bench.cards:
        sheet.card.open_card(card.id)
        for group in ("stop", "who"):
            sheet.card.show_group(group)
            take(sheet.card)
        sheet.card.group = "limits"
        for step in [one for one in card.steps if one.kind != "number"][:3]:
            sheet.card.pick(step.id)
            take(sheet.card)
        sheet.look("parts")
        for part in [one for one in card.parts if one.mark is not None][:2] if card.id in ("front", "rear") else ():
            for group in ("mark", "part"):
                sheet.parts.group = group
                sheet.parts.pick(part.id)
                take(sheet.parts)
        sheet.look("card")
    sheet.look("bolts")
    for bolt in [one for one in bolts if one.work is not None][-2:]:
        for group in ("torque", "thread"):
            sheet.bolts.group = group
            sheet.bolts.pick(bolt.place.key)
            take(sheet.bolts)
    sheet.look("fit")
    for group in ("caps", "actuator", "holes", "tries"):
        sheet.fit_.show_group(group)
        take(sheet)
    sheet.look("brakes")
    for group in ("pedal", "front", "rear", "park", "joints"):
        sheet.brakes.show_group(group)
        take(sheet)
    sheet.look("drive")
    for group in ("drive", "loose"):
        sheet.drive.show_group(group)
        take(sheet)
    for gate in project.bench.first_drive.gates:
        sheet.drive.pick(gate.id)
        take(sheet)


@pytest.mark.timeout(600)  # both demos, every look with everything picked
def test_every_value_has_a_field(qtbot: QtBot, window: MainWindow) -> None:
    window.setUpdatesEnabled(False)  # fields are looked for, pictures are not
    window.knock_ons.hide()
    found: set[str] = set()
    fields: set[str] = set()
    for name in ("basalt", "tamarack"):
        project = read_project(demo_file(f"{name}.stoutlink"))
        rear = next(d for d in project.swap.donors if d.end == "rear")
        kinds = (ShelfPart(id=f"any-{kind}", name=kind, kind=kind) for kind in get_args(PartKind))
        project = with_parts(project, rear_donor=project.swap.rear_donor or rear.id, shelf=tuple(kinds))
        if name == "tamarack":  # a shaft to be made in front, one at hand behind
            hand = SlipShaft(spline_m=0.1, shown_at="taped")
            shafts = {"front": Driveshaft(), "rear": Driveshaft(in_hand=hand)}
            project = with_parts(
                project,
                layouts=tuple(msgspec.structs.replace(x, driveshaft=shafts[x.end]) for x in project.linkage.layouts),
            )
        first = project.linkage.layouts[0]
        links = tuple(msgspec.structs.replace(x, stage="cut", made_m=1.0) for x in first.links)
        layouts = (msgspec.structs.replace(first, links=links), *project.linkage.layouts[1:])
        window.workspace.take(with_parts(project, layouts=layouts), None)
        project = window.workspace.project
        qtbot.waitUntil(lambda: window.workspace.cycling.known, timeout=60_000)
        table = {path: f"{struct}.{field}" for (struct, field), path, *_ in places(project)}
        fields |= set(table.values())
        seen = _walk(window, project)
        found |= {table[p] for one in seen for p in (one, re.sub(r"\.\d+$", "", one)) if p in table}
        window.workspace.session.mark_saved()
    wanted = {f for f in fields if f.rpartition(".")[2] not in NAMES}
    missing = wanted - found - set(OTHER_HANDS)
    assert not missing, f"no field for {sorted(missing)}"
    stale = {f for f in OTHER_HANDS if f in found and f in fields}
    assert not stale, f"these have a field now: {sorted(stale)}"


def test_the_list_names_fields_there_are() -> None:
    """Nothing stands in the list that the document does not have."""
    known: set[str] = set()

    def walk(kind: object) -> None:
        if isinstance(kind, type) and issubclass(kind, msgspec.Struct):
            for field in msgspec.structs.fields(kind):
                key = f"{kind.__name__}.{field.name}"
                if key not in known:
                    known.add(key)
                    walk(field.type)
        for part in getattr(kind, "__args__", ()) or ():
            walk(part)

    walk(Project)
    assert set(OTHER_HANDS) <= known, set(OTHER_HANDS) - known
