"""``stout-link``: analyze, travel, options, export, import, rank, find, bench, plan, parts-list, as-built, log, tune, hill, hand-over, check, new. Exit 0 fine, 1 open findings (check) or
rows left out (import), 2 the input cannot be used.
"""

from __future__ import annotations

import argparse
import codecs
import contextlib
import datetime
import io
import json
import math
import os
import sys
from collections.abc import Sequence
from functools import partial
from pathlib import Path

import msgspec

from stoutlink import __version__
from stoutlink.cli.bench import add_bench
from stoutlink.cli.log import add_log
from stoutlink.cli.make import add_make
from stoutlink.cli.model import add_model, travel_of
from stoutlink.cli.parts import add_parts, write_packet, write_parts
from stoutlink.cli.parts_list import add_parts_list
from stoutlink.cli.plan import add_plan
from stoutlink.cli.side_by_side import add_side_by_side
from stoutlink.core.advice.search_words import free_words
from stoutlink.core.analysis.search.defaults import default_search
from stoutlink.core.document.donor_marks import donor_marks
from stoutlink.core.document.headline import headline_words
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.project import UNNAMED, Project, with_parts
from stoutlink.core.drawing.layout_sheet import TITLES as DRAWN
from stoutlink.core.drawing.layout_sheet import layout_drawing
from stoutlink.core.drawing.shapes import VIEWS
from stoutlink.core.editing.edits import PutInList
from stoutlink.core.editing.layout_edits import PutLayout
from stoutlink.core.editing.plan_edits import TakeParts
from stoutlink.core.editing.swap_edits import ImportDonors
from stoutlink.core.errors import FileError, StoutError
from stoutlink.core.reports.analysis_text import analysis_text
from stoutlink.core.reports.behaviour_results import behaviour_results
from stoutlink.core.reports.bump_sheet import bump_csv, bump_results
from stoutlink.core.reports.cut_list_csv import cut_list_csv
from stoutlink.core.reports.dxf_writer import dxf_bytes
from stoutlink.core.reports.layout_results import found_results
from stoutlink.core.reports.pdf_writer import PAPERS, Title, one_page
from stoutlink.core.reports.ranking import ranking_results, ranking_text
from stoutlink.core.reports.results import results
from stoutlink.core.reports.travel_csv import travel_csv
from stoutlink.core.reports.travel_results import travel_results, travel_text
from stoutlink.core.storage.disk import reason, write_bytes
from stoutlink.core.storage.donor_table import read_donor_file, write_donors
from stoutlink.core.storage.files import Stamp, read_project, read_stamped, stamp_of, write_project
from stoutlink.core.storage.parts_table import read_parts
from stoutlink.core.storage.survey_table import read_survey_file, write_survey
from stoutlink.core.storage.table_file import read_table_text
from stoutlink.core.study.find_free import find_free
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file


def main(argv: Sequence[str] | None = None) -> int:
    """Run one command; every explained failure is one line on standard error and exit code 2."""
    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, io.TextIOWrapper):  # a terminal that has no such sign gets the nearest it has
            stream.reconfigure(errors="plainer")
    args = _parser().parse_args(argv)
    try:
        code: int = args.run(args)
        sys.stdout.flush()
        return code
    except StoutError as why:
        print(f"stout-link: {why}" + (f" {why.hint}" if why.hint else ""), file=sys.stderr)
        return 2
    except BrokenPipeError:
        _hush()
        return 0
    except KeyboardInterrupt:
        print("stout-link: given up; nothing was written.", file=sys.stderr)
        return 130
    except OSError as why:  # files are written by the disk's own room, so this is where the words go
        _hush()
        with contextlib.suppress(OSError):
            print(f"stout-link: The answer cannot be written: {reason(why)}.", file=sys.stderr)
        return 2


def _hush() -> None:
    """What is still to be printed goes nowhere, so that the end of the program does not fail on it again."""
    os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())


_NEAREST = {
    "°": " deg", "″": '"', "′": "'", "−": "-", "–": "-", "±": "+/-", "“": '"', "”": '"', "×": "x", "·": "-", "≈": "~", "³": "3", "²": "2",
    "…": "...", "½": "1/2", "▲": "!", "✗": "x", "’": "'", "→": "->", "≤": "<=", "≥": ">=", "µ": "u", "σ": "sigma",
}  # fmt: skip


def _plainer(why: UnicodeError) -> tuple[str, int]:
    """The nearest ASCII has for signs that a terminal cannot show."""
    if not isinstance(why, UnicodeEncodeError):
        raise why
    return "".join(_NEAREST.get(c, "?") for c in why.object[why.start : why.end]), why.end


codecs.register_error("plainer", _plainer)


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="stout-link", description="Plan a solid axle swap without a display.")
    parser.add_argument("--version", action="version", version=f"stout-link {__version__}")
    commands = parser.add_subparsers(required=True, metavar="COMMAND")
    one = commands.add_parser("analyze", help="compute everything about a project file")
    one.add_argument("file", type=Path)
    one.add_argument("--json", action="store_true", help="all results as JSON, keys with units")
    one.add_argument(
        "--pose",
        nargs=2,
        type=_finite,
        action="append",
        default=[],
        metavar=("HEAVE_MM", "ROLL_DEG"),
        help="also solve this pose (repeatable)",
    )
    one.set_defaults(run=_analyze)
    one = commands.add_parser("export", help="write files for the shop")
    one.add_argument("file", type=Path)
    one.add_argument("--cutlist", type=Path, metavar="OUT.csv", help="the cut list as CSV")
    one.add_argument(
        "--survey",
        nargs=2,
        action="append",
        default=[],
        metavar=("ID", "OUT.csv"),
        help="a tape survey as CSV (repeatable)",
    )
    one.add_argument("--donors", type=Path, metavar="OUT.csv", help="the donor catalogue as CSV")
    one.add_argument(
        "--drawing",
        nargs=3,
        action="append",
        default=[],
        metavar=("END", "VIEW", "OUT"),
        help="the layout in use as a drawing with dimensions: rear or front; side, plan or rear; .pdf or .dxf (repeatable)",
    )
    add_parts(one)
    one.add_argument("--paper", choices=tuple(PAPERS), default="A4", help="of drawings as PDF")
    one.add_argument(
        "--full-size", action="store_true", help="drawings as PDF at 1:1, over as many pages as it takes; else one page"
    )
    one.set_defaults(run=_export)
    one = commands.add_parser("import", help="take files into a project")
    one.add_argument("file", type=Path)
    one.add_argument(
        "--survey", type=Path, metavar="IN.csv", help="a tape survey; bad rows are named on standard error and left out"
    )
    one.add_argument(
        "--donors", type=Path, metavar="IN.csv", help="donor axles; bad rows are named on standard error and left out"
    )
    one.add_argument(
        "--parts", type=Path, metavar="IN.csv", help="the parts list as a table; bad rows are named and left out"
    )
    one.add_argument(
        "--known",
        choices=("merge", "replace", "mine"),
        default="merge",
        help="what happens to donor axles that are there already",
    )
    one.set_defaults(run=_import)
    one = commands.add_parser("rank", help="rank pairs of donor axles by the project's weights")
    one.add_argument("file", type=Path)
    one.add_argument("--top", type=_top, default=10, metavar="N", help="how many pairs, 1 to 1000")
    one.add_argument("--json", action="store_true", help="as JSON, keys with units")
    one.set_defaults(run=_rank)
    one = commands.add_parser(
        "find", help="search for layouts of an axle that meet the project's bands; exit 1 when there are none"
    )
    one.add_argument("file", type=Path)
    one.add_argument("--end", choices=("rear", "front"), default="rear")
    one.add_argument("--json", action="store_true", help="as JSON, keys with units")
    one.add_argument("--take", action="store_true", help="write the answers into the project as layouts of their own")
    one.set_defaults(run=_find)
    one = commands.add_parser(
        "travel", help="cycle an axle: what touches or runs out, driveline, springs; exit 1 when anything does"
    )
    one.add_argument("file", type=Path)
    one.add_argument("--end", choices=("rear", "front"), default="rear")
    one.add_argument("--json", action="store_true", help="as JSON, keys with units")
    one.add_argument("--csv", type=Path, metavar="OUT.csv", help="every curve over heave and roll as a table")
    one.add_argument(
        "--bump-sheet", type=Path, metavar="OUT.csv", help="what to measure at ride, at the stops and crossed"
    )
    one.set_defaults(run=_travel)
    one = commands.add_parser(
        "from-bump", help="take pivots that were measured with the axle tacked at bump to ride height, in the project"
    )
    one.add_argument("file", type=Path)
    one.add_argument("--end", choices=("rear", "front"), default="rear")
    one.add_argument(
        "--up", type=_finite, required=True, metavar="MM", help="axle above ride when measured; below 0: droop"
    )
    one.set_defaults(run=_from_bump)
    add_side_by_side(commands)
    add_make(commands, _write_back)
    add_plan(commands, lambda path: Study(read_project(path)))
    add_parts_list(commands, lambda path: Study(read_project(path)))
    add_log(commands, lambda path: Study(read_project(path)))
    add_bench(commands, lambda path: Study(read_project(path)))
    add_model(commands, lambda path: Study(read_project(path)))
    one = commands.add_parser("check", help="list findings; exit 1 when there are any open ones")
    one.add_argument("file", type=Path)
    one.set_defaults(run=_check)
    one = commands.add_parser("new", help="write an empty project")
    one.add_argument("file", type=Path)
    one.add_argument("--name", default=UNNAMED)
    one.add_argument("--units", choices=("in", "mm"), default="in")
    one.add_argument("--force", action="store_true", help="replace a file that is already there")
    one.set_defaults(run=_new)
    return parser


def _finite(text: str) -> float:
    try:
        value = float(text)
    except ValueError:
        value = math.nan
    if not math.isfinite(value):
        raise argparse.ArgumentTypeError(f"“{text}” is not a finite number")
    return value


def _top(text: str) -> int:
    if not text.isdigit() or not 1 <= int(text) <= 1000:
        raise argparse.ArgumentTypeError(f"“{text}” is not a whole number from 1 to 1000")
    return int(text)


def _analyze(args: argparse.Namespace) -> int:
    for heave, roll in args.pose:
        if abs(heave) > 1000 or abs(roll) > 60:
            raise FileError(
                "F130",
                f"--pose {heave:g} {roll:g} is out of range; accepted is heave within ±1000 mm and roll within ±60°.",
            )
    found = Study(read_project(args.file))
    poses = tuple((heave / 1000.0, math.radians(roll)) for heave, roll in args.pose)
    data = results(found, poses)
    print(json.dumps(data, indent=1, allow_nan=False) if args.json else analysis_text(found, data))
    return 0


def _export(args: argparse.Namespace) -> int:
    other = (args.cutlist, args.survey, args.drawing, args.parts, args.packet)
    if args.donors is None and not any(other):
        raise FileError(
            "F131",
            "export was not told what to write; accepted are --cutlist OUT.csv, --survey ID OUT.csv, --donors OUT.csv, --drawing END VIEW OUT.pdf, --parts FOLDER and --packet OUT.pdf.",
        )
    if args.donors is not None:
        project = read_project(args.file)
        write_bytes(write_donors(project.swap.donors, donor_marks(project)).encode(), args.donors)
        print(f"{len(project.swap.donors)} axles written to {args.donors}")
    if not any(other):
        return 0
    found = Study(read_project(args.file))
    if args.parts is not None:
        write_parts(found, args)
    if args.packet is not None:
        write_packet(found, args)
    for end, view, out in args.drawing:
        _draw(found, end, view, Path(out), args)
    for survey_id, out in args.survey:
        survey = found.project.survey(survey_id)
        if survey is None:
            known = ", ".join(s.id for s in found.project.tape.surveys) or "none"
            raise FileError("F132", f"There is no survey “{survey_id}” in {args.file.name}.", f"Known: {known}.")
        write_bytes(write_survey(survey, found.project.settings.units).encode(), Path(out))
        print(f"{len(survey.points)} stations written to {out}")
    if args.cutlist is not None:
        for axle in found.axles.values():
            if axle.problem is not None:
                print(f"stout-link: left out of the cut list: {axle.problem.sentence}", file=sys.stderr)
        write_bytes(cut_list_csv(found.cuts, found.cut_waits).encode(), args.cutlist)
        print(f"{len(found.cuts)} links written to {args.cutlist}")
    return 0


def _draw(study: Study, end: str, view: str, out: Path, args: argparse.Namespace) -> None:
    """One drawing of a layout in use, as PDF or DXF by its suffix."""
    layout = study.project.layout(end) if end in ("rear", "front") else None
    if layout is None:
        raise FileError("F139", f"There is no “{end}” layout in use in {args.file.name}; accepted are rear and front.")
    if view not in VIEWS or out.suffix.lower() not in (".pdf", ".dxf"):
        raise FileError(
            "F145",
            f"--drawing {end} {view} {out.name} is not known; views are {', '.join(VIEWS)}, files .pdf and .dxf.",
        )
    unit = study.project.settings.units
    if out.suffix.lower() == ".dxf":
        write_bytes(dxf_bytes(layout_drawing(study, layout, view), unit), out)
    else:
        title = Title(f"{layout.name}: {DRAWN[view]}", args.file.name, datetime.date.today().isoformat())
        drawn = partial(layout_drawing, study, layout, view)
        write_bytes(one_page(drawn, title, args.paper, unit, full_size=args.full_size), out)
    print(f"{out} written")


def _write_back(project: Project, path: Path, stamp: Stamp) -> Stamp:
    """Write a project where it was read, unless somebody else has written there since."""
    now = stamp_of(path)
    if now is None or now.digest != stamp.digest:
        raise FileError(
            "F126", f"{path.name} was changed by somebody else meanwhile; nothing was written.", "Run it again."
        )
    return write_project(project, path)


def _import(args: argparse.Namespace) -> int:
    project, stamp = read_stamped(args.file)
    if args.survey is None and args.donors is None and args.parts is None:
        raise FileError(
            "F136",
            "import was not told what to take in; accepted are --survey IN.csv, --donors IN.csv and --parts IN.csv.",
        )
    left_out = 0
    if args.parts is not None:
        listed = read_parts(read_table_text(args.parts), Study(project).part_states)
        for problem in listed.problems:
            print(f"stout-link: {problem}", file=sys.stderr)
        project = TakeParts(tuple((r.line, r.item, r.values) for r in listed.rows)).apply(project)
        stamp = _write_back(project, args.file, stamp)
        print(f"{len(listed.rows)} parts taken in, {len(listed.problems)} rows left out")
        left_out = len(listed.problems)
    if args.donors is not None:
        donors = read_donor_file(args.donors)
        for problem in donors.problems:
            print(f"stout-link: {problem}", file=sys.stderr)
        marks = tuple((one, name, basis) for (one, name), basis in donors.marks.items())
        project = ImportDonors(donors.axles, marks, args.known).apply(project)
        stamp = _write_back(project, args.file, stamp)
        print(f"{len(donors.axles)} axles taken in, {len(donors.problems)} rows left out")
        left_out += len(donors.problems)
    if args.survey is None:
        return 1 if left_out else 0
    new = free_id("survey-", (s.id for s in project.tape.surveys))
    table = read_survey_file(args.survey, project.settings.units, new)
    for problem in table.problems:
        print(f"stout-link: {problem}", file=sys.stderr)
    _write_back(PutInList("surveys", table.survey, "Import survey").apply(project), args.file, stamp)
    print(f"{len(table.survey.points)} stations taken in as {new}, {len(table.problems)} rows left out")
    return 1 if table.problems or left_out else 0


def _rank(args: argparse.Namespace) -> int:
    project = read_project(args.file)
    fronts, rears = ([d for d in project.swap.donors if d.end == end] for end in ("front", "rear"))
    if not fronts and not rears:
        raise FileError(
            "F133", f"{args.file.name} has no donor axles to rank.", "Take some in with import --donors IN.csv."
        )
    data = ranking_results(project, Study(project).ranking(tuple(fronts), tuple(rears), args.top))
    print(json.dumps(data, indent=1, allow_nan=False) if args.json else ranking_text(project, data))
    return 0


def _links_in_use(project: Project, args: argparse.Namespace) -> Layout:
    layout = project.layout(args.end)
    if layout is None or layout.leaf is not None:
        raise FileError("F134", f"{args.file.name} has no {args.end} layout of links in use, so it has no pivots.")
    return layout


def _find(args: argparse.Namespace) -> int:
    project, stamp = read_stamped(args.file)
    layout = _links_in_use(project, args)
    search = project.search(args.end) or default_search(project, layout)
    found = find_free(Study(project), args.end, search)
    unit = project.settings.units
    if args.json:
        print(json.dumps(found_results(found), indent=1, allow_nan=False))
    else:
        for i, one in enumerate(found.answers):
            print(
                f"{i + 1}  "
                + ", ".join(headline_words(name, value, unit) for name, value in one.values.items() if name != "travel")
                + f"; {free_words(one, unit)}"
            )
        if not found.answers and not found.relax:
            print("no layout within these boxes meets the bands, and widening one band alone would not do")
        for relax in found.relax:
            print(
                f"relax {relax.want.id}: {headline_words(relax.want.id, relax.low, unit)} to {headline_words(relax.want.id, relax.high, unit)} would do"
            )
    if args.take and found.answers:
        for i, one in enumerate(found.answers):
            new = free_id(f"{args.end}-", (x.id for x in project.linkage.layouts))
            project = PutLayout(
                msgspec.structs.replace(one.layout, id=new, name=f"{layout.name[:100]}, found {i + 1}"), (), "Take it"
            ).apply(project)
        project = with_parts(project, **{f"{args.end}_layout": layout.id, f"{args.end}_compare": None})
        _write_back(project, args.file, stamp)
        print(f"{len(found.answers)} layouts taken in", file=sys.stderr)
    return 0 if found.answers else 1


def _travel(args: argparse.Namespace) -> int:
    found = Study(read_project(args.file))
    travel = travel_of(found, args.end)
    data = travel_results(travel)
    if args.json:
        data["behaviour"] = behaviour_results(found.behaviour())
        data["bump_sheet"] = bump_results(found.bump_sheet(travel))
    print(json.dumps(data, indent=1, allow_nan=False) if args.json else travel_text(data))
    if args.bump_sheet is not None:
        write_bytes(bump_csv(found.project, travel, found.bump_sheet(travel)).encode(), args.bump_sheet)
        print(f"{args.bump_sheet} written", file=sys.stderr)
    if args.csv is not None:
        write_bytes(travel_csv(travel, found.curve_sure(travel)).encode(), args.csv)
        print(f"{args.csv} written", file=sys.stderr)
    return 1 if data["poses"]["touches"] or data["poses"]["runs_out"] else 0


def _from_bump(args: argparse.Namespace) -> int:
    project, stamp = read_stamped(args.file)
    layout = _links_in_use(project, args)
    if abs(args.up) > 600:
        raise FileError("F148", f"--up {args.up:g} is out of range; accepted is within ±600 mm.")
    found = Study(project).from_bump(layout, args.up / 1000.0)
    _write_back(PutLayout(found.layout, (), "Take pivots from bump to ride").apply(project), args.file, stamp)
    print(
        f"taken to ride: the axle stood {found.ahead_at_bump * 1000:+.1f} mm ahead, the pinion turns {math.degrees(found.turned):+.2f}°"
    )
    for name, change in found.changes.items():
        print(f"{name} {change * 1000:+.2f} mm against bump")
    return 0


def _check(args: argparse.Namespace) -> int:
    found = Study(read_project(args.file))
    for one in found.open:
        print(f"{one.code} {one.severity}: {one.sentence} {one.why}")
    print(f"{len(found.open)} open, {len(found.findings) - len(found.open)} accepted")
    return 1 if found.open else 0


def _new(args: argparse.Namespace) -> int:
    if args.file.exists() and not args.force:
        raise FileError("F137", f"{args.file} is already there.", "Give another name, or --force.")
    starter = read_project(demo_file("starter.stoutlink"))
    try:
        project = msgspec.convert(
            msgspec.to_builtins(
                msgspec.structs.replace(
                    starter, name=args.name, settings=msgspec.structs.replace(starter.settings, units=args.units)
                )
            ),
            Project,
        )
    except msgspec.ValidationError:
        raise FileError(
            "F138", f"--name “{args.name[:40]}” cannot be used; 1 to 120 characters are accepted."
        ) from None
    write_project(project, args.file)
    print(f"{args.file} written: an empty project, ready to measure into")
    return 0


if __name__ == "__main__":
    sys.exit(main())
