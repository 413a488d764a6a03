"""Commands that hold things beside each other: load cases, two rigs, every layout of an axle."""

from __future__ import annotations

import argparse
import json
import math
from pathlib import Path
from typing import Any

from stoutlink.core.errors import FileError
from stoutlink.core.reports.laden_table import laden_results, laden_rows
from stoutlink.core.reports.option_table import option_results, option_rows
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.beside import before_swap, beside, headlines
from stoutlink.core.study.options import options
from stoutlink.core.study.study import Study


def add_side_by_side(commands: Any) -> None:
    """Put the commands into the parser's ``commands``."""
    one = commands.add_parser("laden", help="the rig as it stands and under its load cases: sag, level, rates, numbers")
    one.add_argument("file", type=Path)
    one.add_argument("--json", action="store_true", help="as JSON, keys with units")
    one.set_defaults(run=_laden)
    one = commands.add_parser(
        "compare", help="two files, or a rig before the swap and with it, on all headline numbers"
    )
    one.add_argument("file", type=Path)
    one.add_argument("other", type=Path, nargs="?", help="another project; left out: the rig before the swap")
    one.add_argument("--json", action="store_true", help="as JSON, SI")
    one.set_defaults(run=_compare)
    one = commands.add_parser("options", help="every layout of an axle beside each other: numbers, room, cost, hours")
    one.add_argument("file", type=Path)
    one.add_argument("--end", choices=("rear", "front"), default="rear")
    one.add_argument("--json", action="store_true", help="as JSON, keys with units")
    one.set_defaults(run=_options)


def _laden(args: argparse.Namespace) -> int:
    study = Study(read_project(args.file))
    found = study.laden()
    if args.json:
        print(json.dumps(laden_results(found), indent=1, allow_nan=False))
        return 0
    print("\t".join(["", *(one.case.name for one in found)]))
    for word, _, cells in laden_rows(study.project, found):
        print("\t".join([word, *(f"{'! ' if bad else ''}{cell}" for cell, bad in cells)]))
    for one in found:
        if one.why:
            print(f"{one.case.name}: {one.why}")
    return 0


def _compare(args: argparse.Namespace) -> int:
    project = read_project(args.file)
    mine, unit = headlines(Study(project)), project.settings.units
    other = before_swap(project) if args.other is None else read_project(args.other)
    theirs = headlines(Study(other))
    names = ("before the swap", "with it") if args.other is None else (project.name, other.name)
    first, second = (theirs, mine) if args.other is None else (mine, theirs)
    if args.json:
        data = {
            name: {h.id: h.value if h.value is None or math.isfinite(h.value) else None for h in one}
            for name, one in zip(("first", "second"), (first, second), strict=True)
        }
        print(json.dumps({"names": list(names), **data}, indent=1, allow_nan=False))
        return 0
    for row in [("", *names, "difference"), *beside(first, second, unit)]:
        print("\t".join(row))
    return 0


def _options(args: argparse.Namespace) -> int:
    study = Study(read_project(args.file))
    found = options(study, args.end)
    if not found:
        raise FileError("F147", f"{args.file.name} has no {args.end} layout yet, so there is nothing to compare.")
    if args.json:
        print(json.dumps(option_results(found), indent=1, allow_nan=False))
        return 0
    rows = [("", [(one.layout.name, False) for one in found]), *option_rows(study.project, found)]
    print("\n".join("\t".join([word, *(cell for cell, _ in cells)]) for word, cells in rows))
    return 0
