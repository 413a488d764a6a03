"""``stout-link as-built``, ``log``, ``tune``, ``hill``, ``hand-over``: what is known of a rig once it stands."""

from __future__ import annotations

import argparse
import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

import msgspec

from stoutlink.cli.parts_list import today_of
from stoutlink.core.document.log import FELT, HILL_WORDS
from stoutlink.core.errors import FileError
from stoutlink.core.reports.hand_over import hand_over_archive, hand_over_pdf
from stoutlink.core.reports.log_results import (
    built_json,
    built_text,
    built_wrong,
    due_json,
    due_text,
    hill_json,
    hill_text,
    log_json,
    log_text,
    runs_csv,
    tune_json,
    tune_text,
)
from stoutlink.core.reports.pdf_writer import PAPERS
from stoutlink.core.storage.disk import write_bytes
from stoutlink.core.study.study import Study

Opens = Callable[[Path], Study]


def add_log(commands: Any, open_study: Opens) -> None:
    """The commands and their arguments."""
    one = commands.add_parser("as-built", help="both axles fitted to their readings, held against the plan; exit code 1 when a reading cannot be right")  # fmt: skip
    one.add_argument("file", type=Path)
    one.add_argument("--json", action="store_true", help="as JSON, SI")
    one.set_defaults(run=lambda args: _as_built(args, open_study))
    one = commands.add_parser("log", help="runs, bands of your own, care, what broke, spares")
    one.add_argument("file", type=Path)
    one.add_argument("--json", action="store_true", help="as JSON, SI")
    one.add_argument(
        "--due", action="store_true", help="only care that is due or soon; exit code 1 when anything is due"
    )
    one.add_argument("--today", metavar="YYYY-MM-DD", help="count days up to this one")
    one.add_argument("--csv", type=Path, metavar="OUT.csv", help="runs as a table")
    one.set_defaults(run=lambda args: _log(args, open_study))
    one = commands.add_parser(
        "tune", help="what bears on what was felt, and every way to bolt it ranked by what it costs"
    )
    one.add_argument("file", type=Path)
    one.add_argument("--felt", choices=FELT, required=True, help="what was felt or seen")
    one.add_argument("--end", choices=("front", "rear"), help="only this axle")
    one.add_argument("--json", action="store_true", help="as JSON")
    one.set_defaults(run=lambda args: _tune(args, open_study))
    one = commands.add_parser("hill", help="the rig over the test hill, slowly; exit code 1 when it does not go over")
    one.add_argument("file", type=Path)
    one.add_argument("--kind", choices=tuple(HILL_WORDS), help="another profile than the project's")
    one.add_argument("--json", action="store_true", help="as JSON, SI")
    one.set_defaults(run=lambda args: _hill(args, open_study))
    one = commands.add_parser("hand-over", help="the owner's file: everything in one archive, or the paper alone")
    one.add_argument("file", type=Path)
    one.add_argument("out", type=Path, metavar="FILE.zip", help="the archive, or a .pdf for the paper alone")
    one.add_argument("--paper", choices=PAPERS, default="A4", help="paper of what is printed")
    one.set_defaults(run=lambda args: _hand_over(args, open_study))


def _as_built(args: argparse.Namespace, open_study: Opens) -> int:
    study = open_study(args.file)
    print(json.dumps(built_json(study), indent=1) if args.json else built_text(study))
    return 1 if built_wrong(study) else 0


def _log(args: argparse.Namespace, open_study: Opens) -> int:
    study, today = open_study(args.file), today_of(args)
    if args.csv is not None:
        write_bytes(runs_csv(study).encode(), args.csv)
        print(f"{args.csv} written")
        return 0
    if args.due:
        print(json.dumps(due_json(study, today), indent=1) if args.json else due_text(study, today))
        again = any(b.standing == "again" for b in study.fasteners)
        return 1 if again or any(d.due for d in study.care(today)) else 0
    print(json.dumps(log_json(study, today), indent=1) if args.json else log_text(study, today))
    return 0


def _tune(args: argparse.Namespace, open_study: Opens) -> int:
    study = open_study(args.file)
    print(
        json.dumps(tune_json(study, args.felt, args.end), indent=1)
        if args.json
        else tune_text(study, args.felt, args.end)
    )
    return 0


def _hill(args: argparse.Namespace, open_study: Opens) -> int:
    study = open_study(args.file)
    if args.kind is not None and args.kind != study.project.log.hill.kind:
        log = study.project.log
        hill = msgspec.structs.replace(log.hill, kind=args.kind)
        study = Study(msgspec.structs.replace(study.project, log=msgspec.structs.replace(log, hill=hill)), study)
    found = study.hill()
    print(json.dumps(hill_json(found), indent=1) if args.json else hill_text(study, found))
    return 0 if not isinstance(found, str) and found.over else 1


def _hand_over(args: argparse.Namespace, open_study: Opens) -> int:
    suffix = args.out.suffix.lower()
    if suffix not in (".zip", ".pdf"):
        raise FileError(
            "F160",
            f"The owner's file is not written as “{args.out.name}”; accepted endings are .zip (everything) and .pdf (the paper alone).",
        )
    study = open_study(args.file)
    study.cycle()
    paper = suffix == ".pdf"
    data = (
        hand_over_pdf(study, args.file.name, args.paper) if paper else hand_over_archive(study, args.file, args.paper)
    )
    write_bytes(data, args.out)
    print(f"{args.out} written")
    return 0
