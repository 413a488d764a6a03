"""``stout-link``: analyze, export, import, check, new. Exit 0 fine, 1 open findings (check) or rows left out (import), 2 the input cannot be used."""

from __future__ import annotations

import argparse
import json
import math
import os
import sys
from collections.abc import Sequence
from pathlib import Path

import msgspec

from stoutlink import __version__
from stoutlink.core.advice.review import Review, review
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.project import Project
from stoutlink.core.editing.edits import PutInList
from stoutlink.core.errors import FileError, StoutError
from stoutlink.core.reports.analysis_text import analysis_text
from stoutlink.core.reports.cut_list_csv import cut_list_csv
from stoutlink.core.reports.results import results
from stoutlink.core.storage.files import read_project, write_bytes, write_project
from stoutlink.core.storage.survey_table import read_survey_file, write_survey
from stoutlink.demo import demo_file


def main(argv: Sequence[str] | None = None) -> int:
    """Run one command; every explained failure is one line on standard error and exit code 2."""
    args = _parser().parse_args(argv)
    try:
        code: int = args.run(args)
        sys.stdout.flush()
        return code
    except StoutError as why:
        print(f"stout-link: {why}" + (f" {why.hint}" if why.hint else ""), file=sys.stderr)
        return 2
    except BrokenPipeError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return 0


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="stout-link", description="Plan a solid axle swap without a display.")
    parser.add_argument("--version", action="version", version=f"stout-link {__version__}")
    commands = parser.add_subparsers(required=True, metavar="COMMAND")
    one = commands.add_parser("analyze", help="compute everything about a project file")
    one.add_argument("file", type=Path)
    one.add_argument("--json", action="store_true", help="all results as JSON, keys with units")
    one.add_argument(
        "--pose", nargs=2, type=_finite, action="append", default=[], metavar=("HEAVE_MM", "ROLL_DEG"), help="also solve this pose (repeatable)"
    )
    one.set_defaults(run=_analyze)
    one = commands.add_parser("export", help="write files for the shop")
    one.add_argument("file", type=Path)
    one.add_argument("--cutlist", type=Path, metavar="OUT.csv", help="the cut list as CSV")
    one.add_argument("--survey", nargs=2, action="append", default=[], metavar=("ID", "OUT.csv"), help="a tape survey as CSV (repeatable)")
    one.set_defaults(run=_export)
    one = commands.add_parser("import", help="take files into a project")
    one.add_argument("file", type=Path)
    one.add_argument("--survey", type=Path, required=True, metavar="IN.csv", help="a tape survey; bad rows are named on standard error and left out")
    one.set_defaults(run=_import)
    one = commands.add_parser("check", help="list findings; exit 1 when there are any open ones")
    one.add_argument("file", type=Path)
    one.set_defaults(run=_check)
    one = commands.add_parser("new", help="write a starter project")
    one.add_argument("file", type=Path)
    one.add_argument("--name", default="New swap")
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


def _reviewed(path: Path) -> Review:
    """Open and review; a layout in use that cannot be analysed is an error here."""
    found = review(read_project(path))
    for axle in found.axles.values():
        if axle.problem is not None:
            raise axle.problem
    return found


def _analyze(args: argparse.Namespace) -> int:
    for heave, roll in args.pose:
        if abs(heave) > 1000 or abs(roll) > 60:
            raise FileError("F130", f"--pose {heave:g} {roll:g} is out of range; accepted is heave within ±1000 mm and roll within ±60°.")
    found = _reviewed(args.file)
    poses = tuple((heave / 1000.0, math.radians(roll)) for heave, roll in args.pose)
    data = results(found, poses)
    print(json.dumps(data, indent=1, allow_nan=False) if args.json else analysis_text(found, data))
    return 0


def _export(args: argparse.Namespace) -> int:
    if args.cutlist is None and not args.survey:
        raise FileError("F131", "export was not told what to write; accepted are --cutlist OUT.csv and --survey ID OUT.csv.")
    found = _reviewed(args.file)
    for survey_id, out in args.survey:
        survey = found.project.survey(survey_id)
        if survey is None:
            known = ", ".join(s.id for s in found.project.surveys) or "none"
            raise FileError("F132", f"There is no survey “{survey_id}” in {args.file.name}.", f"Known: {known}.")
        write_bytes(write_survey(survey, found.project.settings.units).encode(), Path(out))
        print(f"{len(survey.points)} stations written to {out}")
    if args.cutlist is not None:
        write_bytes(cut_list_csv(found.cuts).encode(), args.cutlist)
        print(f"{len(found.cuts)} links written to {args.cutlist}")
    return 0


def _import(args: argparse.Namespace) -> int:
    project = read_project(args.file)
    new = free_id("survey-", (s.id for s in project.surveys))
    table = read_survey_file(args.survey, project.settings.units, new)
    for problem in table.problems:
        print(f"stout-link: {problem}", file=sys.stderr)
    write_project(PutInList("surveys", table.survey, "Import survey").apply(project), args.file)
    print(f"{len(table.survey.points)} stations taken in as {new}, {len(table.problems)} rows left out")
    return 1 if table.problems else 0


def _check(args: argparse.Namespace) -> int:
    found = _reviewed(args.file)
    for one in found.open:
        print(f"{one.code} {one.severity}: {one.sentence} {one.why}")
    print(f"{len(found.open)} open, {len(found.findings) - len(found.open)} accepted")
    return 1 if found.open else 0


def _new(args: argparse.Namespace) -> int:
    if args.file.exists() and not args.force:
        raise FileError("F131", f"{args.file} is already there.", "Give another name, or --force.")
    starter = read_project(demo_file("starter.stoutlink"))
    try:
        project = msgspec.convert(
            msgspec.to_builtins(
                msgspec.structs.replace(starter, name=args.name, settings=msgspec.structs.replace(starter.settings, units=args.units))
            ),
            Project,
        )
    except msgspec.ValidationError:
        raise FileError("F132", f"--name “{args.name[:40]}” cannot be used; 1 to 120 characters are accepted.") from None
    write_project(project, args.file)
    print(f"{args.file} written: a starter to measure over")
    return 0


if __name__ == "__main__":
    sys.exit(main())
